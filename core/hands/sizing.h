// What a dimension line that is dragged means: the sizes that come of it, and what stays still.
#pragma once

#include "core/hands/increments.h"
#include "core/verbs/scale.h"
#include "core/view/dimensions.h"

namespace tack {

/// The box that dimensions and pads stand on: of one part its own box (of a group, of everything in it), of several the
/// box of all along the world's axes. Nullopt for nothing.
std::optional<Pads> pads_of(const Scene& scene, const std::vector<PartId>& what);

/// Whether the draft names what stays still: anything but the bottom, which is what it begins with.
bool names_still(const Scale& draft);

/// The verb that a dimension dragged by `shift` (world, mm) means: sizes along the axes in which `fraction` is not in
/// the middle. Where the draft names what stays still, that does; else the opposite side or corner. An end that is
/// dragged through to the other side mirrors. One part is sized along its own axes, several as one along the world's.
/// `evenly`: by one factor for all. With `steps` sizes land on increments. Fails for a size of 0, and where the end
/// that is dragged is level with what stays still.
Result<Scale> sized_by_hand(const Scale& draft, const Scene& scene, const Vec3& fraction, const Vec3& shift,
                            bool evenly, const Increments& increments, bool steps);

/// The same where the end of one axis is to stop level with a place (world, mm): as far along its side of the box as
/// the place lies. Nullopt for a handle with more axes, and where it cannot be done.
std::optional<Scale> sized_up_to(const Scale& draft, const Scene& scene, const Handle& end, const Vec3& place);

}  // namespace tack
