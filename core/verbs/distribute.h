// Distribute: space parts along an axis, along a line between two places, or round an axis.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

namespace tack {

struct Distribute {
  enum class Way {
    Axis,   ///< along an axis of the axes
    Line,   ///< on the line between two places, both of which have a part
    Round,  ///< round an axis through a point
  };
  enum class By { Gaps, Pivots };
  enum class Spacing {
    Even,      ///< what room there is is shared alike
    Touching,  ///< without gaps
    Given,     ///< the same typed gap (of pivots: distance) everywhere
    Single,    ///< a gap for each, in `gaps`; one that is not given stays as it is
  };
  enum class Hold { Ends, First, Last, Middle };
  std::vector<PartId> what;
  Axes axes;
  Way way = Way::Axis;
  int axis = 0;         ///< Axis, Round: x, y or z of the axes
  bool chosen = false;  ///< the axis was chosen; else it is the one along which what is picked reaches furthest
  std::optional<TackAddress> from, to;  ///< Line
  About about = middle_of_all();        ///< Round
  Amount over{360};                     ///< Round: degrees, right-handed; a whole turn has as many gaps as parts
  bool turned = true;                   ///< Round: parts turn along; else only their pivots move
  By by = By::Gaps;
  Spacing spacing = Spacing::Even;
  Amount gap;                               ///< Given
  std::vector<std::optional<Amount>> gaps;  ///< Single: one fewer than parts
  std::optional<Amount>
      span;  ///< Even: from the first's low side to the last's high side (of pivots: from pivot to pivot)
  Hold hold = Hold::Ends;

  friend bool operator==(const Distribute&, const Distribute&) = default;
};

/// A part in the row: its box along the axis, or its pivot as a box without length (mm from the world's origin).
struct InRow {
  PartId part = kNoPart;
  double low = 0, high = 0;
};

/// The parts in their order along the axis: by the middle of the box, then its low side, then as they stand in the
/// tree; boxes are those of true vertices along the axes of the first part, of each part and everything below it. `by`
/// Pivots: low and high are both the pivot. Fails for a part without a box.
Result<std::vector<InRow>> row_of_parts(const Distribute& distribute, const Scene& scene);
/// The unit direction of the row, world.
Result<Vec3> row_direction(const Distribute& distribute, const Scene& scene);

/// Where each part of a row along an axis comes to lie.
struct RowPlan {
  std::vector<InRow> row;   ///< as they stand now
  std::vector<double> low;  ///< where the low side of each (its pivot) comes to
  std::vector<double> gap;  ///< one fewer than parts
  double span = 0;          ///< from the first's low side to the last's high side, then
};
/// Fails as apply() does.
Result<RowPlan> plan_of(const Distribute& distribute, const Scene& scene);
/// The directions of the axes for a row: its columns, world.
Mat3 row_frame(const Distribute& distribute, const Scene& scene);

/// Only positions change, and round an axis rotations; along the other axes parts stay as they are (on a line their
/// pivots come onto it). Each place is computed from the whole, not by adding; what is held does not move by a bit.
/// What is spaced is so within 1e-9 × (extent + distance from the origin). A part below another picked one moves with
/// it. Round an axis the first of `what` stays, the others follow in the order in which they stand round it. Fails for
/// fewer than two parts, for ends that are held while the gap is given, for locked parts, for a pivot on the axis it is
/// to go round, and where the two ends of a line coincide.
Result<Scene> apply(const Distribute& distribute, const Scene& scene);
const Table<Distribute>& table_of(const Distribute*);

}  // namespace tack
