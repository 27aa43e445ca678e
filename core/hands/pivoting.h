// Pivot on the stage: the points of the box and the ring at the pivot, and what dragging one means.
#pragma once

#include "core/verbs/pivot.h"
#include "core/view/manipulators.h"

namespace tack {

/// The points of the box of what is picked and, of one part, the ring at its pivot. None where nothing is picked.
std::vector<Handle> pivot_handles(const Pivot& pivot, const Scene& scene, const View& view);
/// The pivot where the pointer puts it: at the point of the box that is pressed or within 12 pixels, else level with
/// where the handle was (world, mm). Nullopt where that cannot be seen.
std::optional<Pivot> pivot_by_hand(const Pivot& draft, const Scene& scene, const Pull& pull);
/// Where the pivot of the first part stands in `shown`; nothing where there is none.
Gauges pivot_gauges(const Pivot& pivot, const Scene& shown);

}  // namespace tack
