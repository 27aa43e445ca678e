// The circle through points that nearly lie on one.
#pragma once

#include <optional>
#include <span>

#include "core/math/vec.h"

namespace tack {

struct Circle {
  Vec3 centre;
  Vec3 axis;  ///< unit; the points run round it right-handed
  double radius = 0;
  double worst = 0;  ///< the largest distance of a point from the circle, in its plane or across it
};

/// The circle that fits best to points given in the order in which they run round it: the plane by the sum of cross
/// products about their mean (Newell), the circle in it by linear least squares (Kåsa 1976) and three Gauss–Newton
/// steps on the distances themselves. For points on a circle the error is about 1e-15 of the radius, over the fraction
/// of the turn that they span squared. Nullopt for fewer than three points, and for points in a line.
std::optional<Circle> fit_circle(std::span<const Vec3> points);

}  // namespace tack
