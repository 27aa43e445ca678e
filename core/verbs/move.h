// Move: shift parts by typed lengths along axes, or from one place to another.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

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

/// The blanks of Move. Either From and To are both given, or the lengths count.
struct Move {
  std::vector<PartId> what;
  Axes axes;
  std::array<Amount, 3> by;  ///< mm along x, y, z of the axes (of the parent's own units for Parent)
  std::optional<TackAddress> from, to;
  AxisSet along = kAllAxes;  ///< From to To: only along these of the axes
  Slide slide;               ///< From to To: how
  bool leave_copy = false;   ///< an instance stays where the part was
  bool tied = false;         ///< what is tied to it comes along, as one body (core/verbs/tied.h)

  friend bool operator==(const Move&, const Move&) = default;
};

/// Several parts move as one body along World axes, those of the view or of a part; along Parent or Local axes each
/// moves along its own. A parent and a child picked together move once. Lengths along an unscaled parent's axes are
/// added in decimal. Same bound as Meet for From to To where nothing limits it; what remains otherwise is measured and
/// said (remark() in verb.h). Fails when nothing is picked or a part is locked, gone or under a flattened parent.
Result<Scene> apply(const Move& move, const Scene& scene);
const Table<Move>& table_of(const Move*);

/// What a place slides along: the unit vector of a line, or the normal of a plane. Fails where the place that it slides
/// on gives none.
struct SlideWay {
  Vec3 unit;
  bool plane = false;
};
Result<SlideWay> slide_way(const Move& move, const Scene& scene);

}  // namespace tack
