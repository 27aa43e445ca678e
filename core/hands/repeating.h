// Repeat on the stage: the ruler or the arc over its copies, the steppers that add and take away one, and what dragging
// the ruler's end means.
#pragma once

#include "core/hands/increments.h"
#include "core/hands/sweeping.h"
#include "core/verbs/repeat.h"
#include "core/view/manipulators.h"

namespace tack {

/// The end of each ruler (Kind::End, `box` the axis of the grid, 0 for a row), round an axis the arc at the last copy
/// (Kind::Arc), and beside the last copy the steppers
/// (Kind::More, Kind::Less, `box` in the same way). None for a mirror image, and where nothing can be repeated yet.
std::vector<Handle> repeat_handles(const Repeat& repeat, const Scene& scene, const View& view);
/// One more or one fewer, never fewer than two (along an axis of a grid: one).
Repeat with_stepper(Repeat repeat, const Handle& stepper);
/// The distance that comes of dragging a ruler's end, round an axis the angle that comes of dragging the last copy;
/// nullopt for a handle that is not dragged.
std::optional<Repeat> repeated_by_hand(const Repeat& draft, const Scene& scene, const Pull& pull,
                                       const Increments& increments, bool steps);
/// The arc over the copies round an axis; nullopt for any other way, and where they have no direction round it.
std::optional<Sweep> sweep_of(const Repeat& repeat, const Scene& scene);
/// Rulers over rows and grids with a tick for each copy, the arc, the outline of the plane of a mirror image.
Gauges repeat_gauges(const Repeat& repeat, const Scene& scene, const LengthUnit& unit);

}  // namespace tack
