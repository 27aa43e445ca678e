// Move: shift parts by typed lengths along axes, or from one place to another.
#pragma once

#include "core/verbs/common.h"
#include "core/view/view.h"

namespace tack {

/// What a place slides along, instead of going all the way to another.
struct Slide {
  enum class Kind {
    Free,    ///< it goes there
    Edge,    ///< as far along an edge as To is
    Face,    ///< within the plane of a face, to under or over To
    Normal,  ///< along the direction of a place
  };
  Kind kind = Kind::Free;
  std::optional<TackAddress> on;  ///< whose edge, face or normal; not given: From's own

  friend bool operator==(const Slide&, const Slide&) = default;
};
/// "freely", "along the edge", "in the face", "along the normal".
std::string_view words_for(Slide::Kind kind);

/// The blanks of Move. Either From and To are both given, or the lengths count.
struct Move {
  std::vector<PartId> what;
  Axes axes;
  std::array<Amount, 3> by;  ///< mm along x, y, z of the axes (of the parent's own units for Parent)
  std::optional<TackAddress> from, to;
  std::array<bool, 3> along = kAllAxes;  ///< From to To: only along these of the axes
  Slide slide;                           ///< From to To: how
  bool leave_copy = false;               ///< a linked copy stays where the part was

  friend bool operator==(const Move&, const Move&) = default;
};

/// Several parts move as one body along World axes, those of the view or of a part; along Parent or Local axes each
/// moves along its own. A parent and a child picked together move once. Lengths along an unscaled parent's axes are
/// added in decimal. Same bound as Meet for From to To where nothing limits it; what remains otherwise is measured and
/// said (remark() in verb.h). Fails when nothing is picked or a part is locked, gone or under
/// a flattened parent.
Result<Scene> apply(const Move& move, const Scene& scene);
Sentence sentence(const Move& move, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres);
Json to_json(const Move& move, const Scene& scene);
Result<Move> move_from_json(const Json& json, const Scene& scene);
inline std::string_view key_of(const Move&) { return "move"; }

/// Where a place that slides is dragged to: the point of the line it slides along, or of the plane, that the pixel is
/// on; on the plane across the view when it slides freely. `from` is where the place is (world, mm). Nullopt when the
/// line or plane is seen end on, or the verb's place gives no way to slide.
std::optional<Vec3> dragged_along(const Move& move, const Scene& scene, const View& view, const Vec3& from, double x,
                                  double y);

/// How increments work in a drag: `step` 0 is none. From zero the result lands on multiples, else the change is one.
struct Steps {
  double step = 0;
  bool from_zero = false;
};

/// The lengths along the verb's axes that a shift in the world (mm) means for the first part, on increments, only along
/// the axes in `along`.
std::array<Amount, 3> lengths_for(const Move& move, const Scene& scene, const Vec3& shift,
                                  const std::array<bool, 3>& along, const Steps& steps);

}  // namespace tack
