// Free drags along a plane: what glides on it, and is lifted off it.
#pragma once

#include "core/hands/hand.h"

namespace tack {

/// How far a free drag has gone along a plane through where it began, and along its normal while it lifts (world, mm):
/// stretch by stretch, as the grip's turns say. Nullopt where the plane, or its normal, is seen end on.
std::optional<Vec3> shift_on_plane(const Grip& grip, const Affine& plane);

}  // namespace tack
