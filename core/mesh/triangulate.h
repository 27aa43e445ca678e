// Polygons into triangles.
#pragma once

#include <span>
#include <vector>

#include "core/mesh/mesh.h"

namespace tack {

/// Cuts the polygon over `corners` (numbers into `positions`, in order) into triangles with the same winding and
/// appends them. Concave polygons are cut by ears (Meisters 1975) in the plane of Newell's normal; what is left of a
/// polygon that crosses itself is cut as a fan. corners.size() − 2 triangles, O(n²).
void triangulate(std::span<const Vec3> positions, std::span<const std::uint32_t> corners,
                 std::vector<Triangle>& triangles);

}  // namespace tack
