// Align: bring sides, middles, pivots or places of parts level with those of something else, axis by axis.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

namespace tack {

/// What is brought level, or what it is brought level with, along one axis.
struct AlignSide {
  enum class At {
    Low,     ///< the low side of the box
    Middle,  ///< the middle of the box
    High,    ///< the high side of the box
    Pivot,
    Place,  ///< a caught place
  };
  At at = At::Middle;
  std::optional<TackAddress> place;  ///< Place

  friend bool operator==(const AlignSide&, const AlignSide&) = default;
};

/// One end of a pair that is being given: a place, or one of the 27 points of a box by its fractions.
struct AlignEnd {
  std::optional<TackAddress> place;
  std::optional<Vec3> point;

  bool given() const { return place || point; }
  friend bool operator==(const AlignEnd&, const AlignEnd&) = default;
};

/// The blanks of Align. Along an axis that is not given nothing changes.
struct Align {
  enum class As {
    Each,   ///< every part comes level by itself
    Block,  ///< all go the same way, as one
  };
  struct Axis {
    bool given = false;
    AlignSide mine, theirs;
    Amount gap;  ///< mm, away from the target's middle; where that is what is met, on the free side
    friend bool operator==(const Axis&, const Axis&) = default;
  };
  std::vector<PartId> what;
  // The target: a part with everything below it, a place, or the box of all of `what` as they stand.
  PartId with = kNoPart;
  std::optional<TackAddress> with_place;
  bool with_all = false;
  Axes axes;
  std::array<Axis, 3> sides;
  int last = -1;  ///< the axis that was given last: whose gap is typed
  As as = As::Each;
  AlignEnd pair_from, pair_to;  ///< a pair that is being given; settled into `sides` once both ends are there

  bool has_target() const { return with != kNoPart || with_place || with_all; }
  friend bool operator==(const Align&, const Align&) = default;
};

/// Boxes are those of true vertices along the axes, of a part and everything below it; under Local and Parent axes each
/// part has its own. The target's box leaves out what moves. A guide counts as the point where it stands. A part below
/// another picked one moves with that one; the target itself stays when it is picked too. Only positions change, and
/// only along the axes given. What is level is so within 1e-9 × (extent + distance from the origin); what the stored
/// numbers cannot hold is said (sentence() with the scene after). Fails when nothing is picked, for a box where there
/// is none, for a pivot or place that the parts do not have, when the target moves with what is aligned, and for a
/// guide plane that is not square to the axis.
Result<Scene> apply(const Align& align, const Scene& scene);
const Table<Align>& table_of(const Align*);

/// The box that a side of the target counts from, along the columns of `frame`; a place is a box without size. Fails
/// where there is none.
Result<Box> target_box(const Align& align, const Scene& scene, const Mat3& frame);
/// The box of what moves: of all of it together.
Box moving_box(const Align& align, const Scene& scene, const Mat3& frame);
/// The axes' directions for the first part: what boxes on the stage are drawn along.
Mat3 align_frame(const Align& align, const Scene& scene);

/// Which axes a box point stands for: those in which it is not in the middle; the centre for all three.
AxisSet axes_of_point(const Vec3& fraction);
/// The pair in hand settled: each axis that both ends stand for (where there is none, that From stands for) is given,
/// without a gap. The same verb while an end is missing.
Align with_pair_settled(Align align);

/// What Ctrl+R does to places on the part that is replaced.
void carry_places(Align& align, PartId was, PartId is);

}  // namespace tack
