#include "core/math/fit_circle.h"

#include "core/math/matrix.h"

namespace tack {

std::optional<Circle> fit_circle(std::span<const Vec3> points) {
  const std::size_t count = points.size();
  if (count < 3) return std::nullopt;
  Vec3 mean;
  for (const Vec3& p : points) mean += p / static_cast<double>(count);
  Vec3 normal;
  double size = 0;
  for (std::size_t i = 0; i < count; ++i) {
    const Vec3 a = points[i] - mean, b = points[(i + 1) % count] - mean;
    normal += cross(a, b);
    size = std::max(size, length(a));
  }
  Circle circle;
  circle.axis = normalized(normal);
  if (!(length(normal) > 1e-12 * size * size)) return std::nullopt;
  const Vec3 x = normalized(cross(least_axis(circle.axis), circle.axis)), y = cross(circle.axis, x);

  // Kåsa: 2 u cx + 2 v cy + c = u² + v² over the points, as three normal equations about the mean.
  Mat3 m = Mat3::diagonal({0, 0, 0});
  Vec3 right;
  const auto in_plane = [&](const Vec3& p) { return Vec3{dot(p - mean, x) / size, dot(p - mean, y) / size, 0}; };
  for (const Vec3& p : points) {
    const Vec3 q = in_plane(p), row{q.x, q.y, 1};
    const double square = q.x * q.x + q.y * q.y;
    for (int r = 0; r < 3; ++r)
      for (int c = 0; c < 3; ++c) m(r, c) += row[r] * row[c];
    right += row * square;
  }
  const auto solve = inverse(m);
  if (!solve) return std::nullopt;
  const Vec3 found = *solve * right;
  double u = found.x / 2, v = found.y / 2;
  double radius = std::sqrt(std::max(0.0, found.z + u * u + v * v));
  // Gauss–Newton on the distances to the circle.
  for (int step = 0; step < 3; ++step) {
    Mat3 normal_matrix = Mat3::diagonal({0, 0, 0});
    Vec3 gradient;
    for (const Vec3& p : points) {
      const Vec3 q = in_plane(p);
      const double du = q.x - u, dv = q.y - v, away = std::hypot(du, dv);
      if (!(away > 0)) continue;
      const Vec3 row{du / away, dv / away, 1};
      for (int r = 0; r < 3; ++r)
        for (int c = 0; c < 3; ++c) normal_matrix(r, c) += row[r] * row[c];
      gradient += row * (away - radius);
    }
    const auto back = inverse(normal_matrix);
    if (!back) break;
    const Vec3 by = *back * gradient;
    if (!is_finite(by)) break;
    u += by.x;
    v += by.y;
    radius += by.z;
  }
  circle.centre = mean + (x * u + y * v) * size;
  circle.radius = radius * size;
  if (!is_finite(circle.centre) || !std::isfinite(circle.radius)) return std::nullopt;
  for (const Vec3& p : points) {
    const Vec3 from = p - circle.centre;
    const double across = dot(from, circle.axis);
    circle.worst = std::max(circle.worst, std::hypot(across, length(from - circle.axis * across) - circle.radius));
  }
  return circle;
}

}  // namespace tack
