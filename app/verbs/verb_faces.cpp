#include "app/verbs/verb_faces.h"

#include <algorithm>

namespace tack {

const std::vector<VerbFace>& verb_faces() {
  static const std::vector<VerbFace> faces{
      {Verb(Pick()), "Pick", "Pick parts: click, Ctrl-click, or draw a rectangle", "pick", Qt::Key_P},
      {Verb(Move()), "Move", "Move by typed lengths, or from a place to a place", "move", Qt::Key_M},
      {Verb(Rotate()), "Rotate", "Turn parts by an angle about a point, or like another part", "rotate", Qt::Key_O,
       false},
      {Verb(Scale()), "Scale", "Give parts a size, with a side that stays still", "scale", Qt::Key_A, false},
      {Verb(Meet()), "Meet", "Bring a place of one part to a place of another", "meet", Qt::Key_T, true, true},
      {Verb(Align()), "Align", "Bring sides, middles or places level with those of another part", "align", Qt::Key_L,
       false},
      {Verb(Distribute()), "Distribute", "Space parts evenly, touching, or by a typed gap", "distribute", Qt::Key_D,
       false},
      {Verb(Repeat()), "Repeat", "More of the same: in a row, round an axis, in a grid, mirrored", "repeat", Qt::Key_E,
       false},
      {Verb(Stretch()), "Stretch", "Make parts longer; what lies beyond the band keeps its shape", "stretch",
       Qt::Key_G},
      {Verb(Pivot()), "Pivot", "Put the pivot anywhere; nothing else moves", "pivot", Qt::Key_V, false},
      {Verb(LayPlane{.use = true}), "Plane", "Lay a work plane: a floor of its own, as slanted as you like", "plane",
       Qt::Key_N, false},
      {Verb(MakeShape{.start = MakeShape::Start::Corner}), "Shape", "Make a box, a plate, a pin … of exact size",
       "shape", Qt::Key_S, false},
      {Verb(Measure()), "Measure", "Measure between two places", "measure", Qt::Key_U, true, true},
  };
  return faces;
}

const VerbFace* face_of(VerbId id) {
  const auto& faces = verb_faces();
  const auto found = std::find_if(faces.begin(), faces.end(), [&](const VerbFace& f) { return f.id() == id; });
  return found == faces.end() ? nullptr : &*found;
}

}  // namespace tack
