// The points of segments and triangles that are nearest to a point.
#pragma once

#include <array>

#include "core/math/vec.h"

namespace tack {

/// The point of the segment from `a` to `b` that is nearest to `p`; `a` for one without length.
Vec3 nearest_on_segment(const Vec3& a, const Vec3& b, const Vec3& p);

/// The point of a triangle that is nearest to `p` (Ericson 2005, 5.1.5). Within 1e-10 of its longest side; slivers
/// whose corners lie in one line to that are the segments that they look like.
Vec3 nearest_on_triangle(const std::array<Vec3, 3>& corners, const Vec3& p);

}  // namespace tack
