#include "app/verbs/verb_faces.h"

#include <algorithm>

namespace tack {

const std::vector<VerbFace>& verb_faces() {
  static const std::vector<VerbFace> faces{
      {id_of<Pick>, "Pick", "Pick parts: click, Ctrl-click, or draw a rectangle", "pick", Qt::Key_P},
      {id_of<Move>, "Move", "Move by typed lengths, or from a place to a place", "move", Qt::Key_M},
      {id_of<Rotate>, "Rotate", "Turn parts by an angle about a point, or like another part", "rotate", Qt::Key_O,
       false},
      {id_of<Scale>, "Scale", "Give parts a size, with a side that stays still", "scale", Qt::Key_A, false},
      {id_of<Meet>, "Meet", "Bring a place of one part to a place of another", "meet", Qt::Key_T, true, true},
      {id_of<Pivot>, "Pivot", "Put the pivot anywhere; nothing else moves", "pivot", Qt::Key_V},
      {id_of<Measure>, "Measure", "Measure between two places", "measure", Qt::Key_U, true, true},
  };
  return faces;
}

const VerbFace* face_of(VerbId id) {
  const auto& faces = verb_faces();
  const auto found = std::find_if(faces.begin(), faces.end(), [&](const VerbFace& f) { return f.id == id; });
  return found == faces.end() ? nullptr : &*found;
}

Verb blank_verb(VerbId id) {
  if (id == id_of<Move>) return Move{};
  if (id == id_of<Rotate>) return Rotate{};
  if (id == id_of<Scale>) return Scale{};
  if (id == id_of<Meet>) return Meet{};
  if (id == id_of<Pivot>) return Pivot{};
  if (id == id_of<Measure>) return Measure{};
  return Pick{};
}

}  // namespace tack
