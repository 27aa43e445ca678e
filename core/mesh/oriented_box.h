// The tightest box around points, standing in any direction.
#pragma once

#include <span>

#include "core/math/matrix.h"

namespace tack {

/// Axes of the box of least volume found around `points` (at least one): orthonormal, right-handed, the longest side
/// along x, then y, then z. `hints` are directions worth trying first, such as the normals of large faces. For each
/// direction the points are seen along it and the smallest rectangle around their outline is found by rotating calipers
/// (Toussaint 1983; exact, one of its sides lies on the outline); the sides found are tried as directions in turn until
/// nothing shrinks. Exact for boxes and for anything with one pair of parallel faces on the tightest box; otherwise
/// within a few per cent of the least. Flat and straight sets of points give a box without thickness.
Mat3 tightest_axes(std::span<const Vec3> points, std::span<const Vec3> hints);

}  // namespace tack
