#include "core/mesh/oriented_box.h"

#include <algorithm>
#include <vector>

#include "core/math/box.h"

namespace tack {
namespace {

struct Flat {
  double x, y;
};

double turn_of(const Flat& a, const Flat& b, const Flat& c) {
  return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
}

// Convex outline, counter-clockwise (Andrew's monotone chain).
std::vector<Flat> outline(std::vector<Flat> points) {
  std::sort(points.begin(), points.end(),
            [](const Flat& a, const Flat& b) { return a.x != b.x ? a.x < b.x : a.y < b.y; });
  points.erase(
      std::unique(points.begin(), points.end(), [](const Flat& a, const Flat& b) { return a.x == b.x && a.y == b.y; }),
      points.end());
  if (points.size() < 3) return points;
  std::vector<Flat> hull(2 * points.size());
  std::size_t n = 0;
  const auto add = [&](const Flat& p, std::size_t floor) {
    while (n >= floor && turn_of(hull[n - 2], hull[n - 1], p) <= 0) --n;
    hull[n++] = p;
  };
  for (const Flat& p : points) add(p, 2);
  const std::size_t lower = n + 1;
  for (std::size_t i = points.size() - 1; i-- > 0;) add(points[i], lower);
  hull.resize(n - 1);
  return hull;
}

struct Candidate {
  Mat3 axes;
  double volume = std::numeric_limits<double>::infinity();
  double half_area = std::numeric_limits<double>::infinity();  // decides between boxes without thickness
};

Vec3 size_along(std::span<const Vec3> points, const Mat3& axes) {
  Box box;
  for (const Vec3& p : points) box.include(transpose(axes) * p);
  return box.size();
}

// The smallest box with one axis along `direction`.
Candidate best_along(std::span<const Vec3> points, const Vec3& direction) {
  const Vec3 z = normalized(direction);
  const Vec3 x = normalized(cross(least_axis(z), z)), y = cross(z, x);
  std::vector<Flat> flat;
  flat.reserve(points.size());
  double low = std::numeric_limits<double>::infinity(), high = -low;
  for (const Vec3& p : points) {
    flat.push_back({dot(p, x), dot(p, y)});
    low = std::min(low, dot(p, z));
    high = std::max(high, dot(p, z));
  }
  const std::vector<Flat> hull = outline(std::move(flat));
  Candidate best;
  const std::size_t count = std::max<std::size_t>(hull.size(), 1);
  for (std::size_t i = 0; i < count; ++i) {
    Vec3 along = x;
    if (hull.size() > 1) {
      const Flat a = hull[i], b = hull[(i + 1) % hull.size()];
      along = normalized(x * (b.x - a.x) + y * (b.y - a.y));
      if (along == Vec3{}) continue;
    }
    const Vec3 across = cross(z, along);
    double u0 = std::numeric_limits<double>::infinity(), u1 = -u0, v0 = u0, v1 = -u0;
    for (const Flat& p : hull) {
      const double u = p.x * dot(x, along) + p.y * dot(y, along), v = p.x * dot(x, across) + p.y * dot(y, across);
      u0 = std::min(u0, u), u1 = std::max(u1, u), v0 = std::min(v0, v), v1 = std::max(v1, v);
    }
    const double a = u1 - u0, b = v1 - v0, c = high - low;
    const double volume = a * b * c, half_area = a * b + b * c + c * a;
    if (volume < best.volume * (1 - 1e-12) || (volume <= best.volume && half_area < best.half_area))
      best = {Mat3{{along, across, z}}, volume, half_area};
  }
  return best;
}

}  // namespace

Mat3 tightest_axes(std::span<const Vec3> points, std::span<const Vec3> hints) {
  Candidate best;
  const auto consider = [&](const Vec3& direction) {
    if (!(length(direction) > 0)) return;
    const Candidate c = best_along(points, direction);
    if (c.volume < best.volume * (1 - 1e-9) ||
        (c.volume <= best.volume * (1 + 1e-12) && c.half_area < best.half_area * (1 - 1e-9)))
      best = c;
  };
  for (const Vec3& axis : Mat3{}.column) consider(axis);
  for (const Vec3& hint : hints) consider(hint);
  for (int pass = 0; pass < 8; ++pass) {
    const Candidate before = best;
    for (const Vec3& axis : before.axes.column) consider(axis);
    if (best.volume >= before.volume * (1 - 1e-9)) break;
  }
  // The longest side along x, then y; each axis points the way of the world axis it is nearest to.
  const Vec3 size = size_along(points, best.axes);
  std::array<int, 3> order{0, 1, 2};
  std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return size[a] > size[b] * (1 + 1e-9); });
  Mat3 axes;
  for (std::size_t i = 0; i < 2; ++i) {
    Vec3 axis = best.axes.column[static_cast<std::size_t>(order[i])];
    const int most = std::abs(axis.x) >= std::abs(axis.y) && std::abs(axis.x) >= std::abs(axis.z) ? 0
                     : std::abs(axis.y) >= std::abs(axis.z)                                       ? 1
                                                                                                  : 2;
    axes.column[i] = axis[most] < 0 ? -axis : axis;
  }
  axes.column[2] = cross(axes.column[0], axes.column[1]);
  return axes;
}

}  // namespace tack
