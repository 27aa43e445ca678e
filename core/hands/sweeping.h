// An arc over parts that stand round an axis: what Distribute and Repeat have in common on the stage.
#pragma once

#include "core/hands/increments.h"
#include "core/view/manipulators.h"

namespace tack {

/// From the first of them round to the last.
struct Sweep {
  Arcs arcs;      ///< their centre, and the axes, of which one is gone round
  int axis = 0;   ///< which
  Vec3 arm;       ///< from the centre to the first, square to the axis, mm; not zero
  int count = 2;  ///< of parts, at least 2
  double over = 360;

  /// Where the last one stands, in degrees on from the first: a whole turn has as many gaps as parts.
  double last() const;
};

/// A short arc at the last one, to be dragged round (Kind::Arc).
Handle sweep_handle(const Sweep& sweep, const View& view);
/// The angle that parts are then spread over: the last one goes with the pointer. Nullopt where it comes to lie on the
/// first without a whole turn.
std::optional<double> swept(const Sweep& sweep, const Pull& pull, const Increments& increments, bool steps);
/// The arc as it is drawn, with `text` at its end.
Gauges::Arc sweep_arc(const Sweep& sweep, std::string text);

}  // namespace tack
