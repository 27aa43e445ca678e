// Align on the stage: the two boxes with their points, what a click on one means, and the lines along which they agree.
#pragma once

#include "core/verbs/align.h"
#include "core/view/manipulators.h"

namespace tack {

/// The box of what moves and that of the target, along the axes of the verb; nullopt where there is none, and for a
/// target that is a place.
std::optional<Pads> moving_pads(const Align& align, const Scene& scene);
std::optional<Pads> target_pads(const Align& align, const Scene& scene);

/// The points of both boxes (Kind::Pad): those of what moves with `box` 0, those of the target with 1. While one end of
/// a pair is given, only the points that can be the other.
std::vector<Handle> align_handles(const Align& align, const Scene& scene, const View& view);
/// The verb with a point given as the end of its pair; settled where that was the last one missing. All that is picked
/// as its own target, and a place, need only one click.
Align with_point(Align align, const Handle& point);

/// Along every axis that is given, the two extension lines that end in a tick where both agree. `after` is the scene in
/// which they do.
std::vector<Gauges::Agreement> agreements_of(const Align& align, const Scene& before, const Scene& after,
                                             const LengthUnit& unit);

}  // namespace tack
