// The tightest box around points, standing in any direction.
#pragma once

#include <span>

#include "core/math/matrix.h"

namespace tack {

/// Axes of the box of least volume found around `points` (at least one): orthonormal, right-handed, the longest side
/// along x, then y, then z. `hints` are directions worth trying first, such as the normals of large faces. The points
/// furthest out are searched from 1,500 turns spread over all, the best of them downhill (Nelder & Mead 1965); the
/// sides found are then laid flush with the edges they nearly touch, and the rectangle around the outline seen along
/// each side is made the smallest (one of its sides lies on the outline; Toussaint 1983), until nothing shrinks. Exact
/// for boxes and regular solids; otherwise within 0.1 % of the best that a dense search finds. The same for the same
/// points every time. Flat and straight sets of points give a box without thickness.
Mat3 tightest_axes(std::span<const Vec3> points, std::span<const Vec3> hints);

}  // namespace tack
