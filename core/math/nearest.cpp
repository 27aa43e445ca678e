#include "core/math/nearest.h"

#include <algorithm>

namespace tack {

Vec3 nearest_on_segment(const Vec3& a, const Vec3& b, const Vec3& p) {
  const Vec3 along = b - a;
  const double square = dot(along, along);
  return square > 0 ? a + along * std::clamp(dot(p - a, along) / square, 0.0, 1.0) : a;
}

Vec3 nearest_on_triangle(const std::array<Vec3, 3>& c, const Vec3& p) {
  const std::array<Vec3, 3> sides{c[1] - c[0], c[2] - c[1], c[0] - c[2]};
  const Vec3 normal = cross(sides[0], c[2] - c[0]);
  const double square = dot(normal, normal);
  const double longest = std::max({dot(sides[0], sides[0]), dot(sides[1], sides[1]), dot(sides[2], sides[2])});
  // In one line the normal is what rounding has left of it, and says nothing.
  constexpr double kLine = 1e-20;  // the square of what is told apart
  bool inside = square > kLine * longest * longest;
  for (std::size_t i = 0; i < 3; ++i) inside = inside && dot(cross(sides[i], p - c[i]), normal) >= 0;
  if (inside) return p - normal * (dot(p - c[0], normal) / square);
  Vec3 best = nearest_on_segment(c[0], c[1], p);
  for (const auto& [a, b] : {std::pair<std::size_t, std::size_t>{1, 2}, {2, 0}})
    if (const Vec3 on = nearest_on_segment(c[a], c[b], p); dot(on - p, on - p) < dot(best - p, best - p)) best = on;
  return best;
}

}  // namespace tack
