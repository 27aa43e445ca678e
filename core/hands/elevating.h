// What a hand does in an elevation: the arc at the corner of what is picked. Moving it there is Move limited to two
// axes.
#pragma once

#include "core/verbs/about.h"
#include "core/view/elevation.h"
#include "core/view/handles.h"

namespace tack {

/// The box of parts along the columns of a frame, from true vertices; where they have none, about their pivots.
Box elevation_box(const Scene& scene, const std::vector<PartId>& parts, const Mat3& frame);

/// The arc that turns them about the axis that the elevation looks along, at the corner of their box that is high along
/// both of its axes; its middle is what they turn about. Empty where that cannot be found, or lies behind the eye.
std::vector<Handle> elevation_handles(const Scene& scene, const std::vector<PartId>& parts, const About& about,
                                      const Axes& axes, const Mat3& frame, Elevation elevation, const View& view);

}  // namespace tack
