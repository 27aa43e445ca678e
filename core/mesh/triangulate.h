// Polygons into triangles.
#pragma once

#include <span>
#include <vector>

#include "core/mesh/mesh.h"

namespace tack {

/// Cuts the polygon over `corners` (numbers into `positions`, in order) into corners.size() − 2 triangles of the same
/// winding and appends them; fewer than three corners give none. Ears are cut (Meisters 1975) from its projection along
/// the largest component of Newell's normal, in which orientations below the rounding of their own products count as
/// none. So concave faces, and faces with holes that are joined to the border by a bridge walked both ways, are covered
/// once: the triangles' areas add up to the polygon's. Straight corners are kept, so that neighbours still meet; a run
/// of them may leave triangles without area. What is left of a polygon that crosses itself is cut as a fan. Corners
/// that may be in the way of an ear are looked up in a grid: about O(n · √n), at worst O(n²).
void triangulate(std::span<const Vec3> positions, std::span<const std::uint32_t> corners,
                 std::vector<Triangle>& triangles);

/// The same, but the triangles name places in `corners`, from 0: for corners that have more than a position.
void triangulate_places(std::span<const Vec3> positions, std::span<const std::uint32_t> corners,
                        std::vector<Triangle>& triangles);

}  // namespace tack
