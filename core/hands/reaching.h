// The reach of what was taken from meshes, as a ring round it that is dragged.
#pragma once

#include "core/hands/increments.h"
#include "core/verbs/take.h"
#include "core/view/manipulators.h"

namespace tack {

/// What Handle::box of the ring is: the small one that moves things freely has 0.
inline constexpr int kReachRing = 2;
/// The ring, across the line of sight: as far beyond what a patch shows as the patch reaches, at least 22 pixels from
/// its middle. nullopt for what is no patch, and behind the eye. O(1).
std::optional<Handle> reach_handle(const Scene& scene, PartId patch, const View& view);
/// The reach that a drag of it means: so much more as the pointer is farther from the middle than where it was pressed,
/// never below 0.
std::optional<Take> reached_by_hand(const Take& take, const Pull& pull, const Increments& increments, bool steps);
/// The ring as it is dragged, with the reach as a ruler from what was taken.
Gauges reach_gauges(const Take& take, const Pull& pull, const LengthUnit& unit);

}  // namespace tack
