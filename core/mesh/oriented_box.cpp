#include "core/mesh/oriented_box.h"

#include <algorithm>
#include <numbers>
#include <random>
#include <vector>

#include "core/math/box.h"
#include "core/math/degrees.h"
#include "core/math/split.h"

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

// The number of directions in which the points that lie furthest out are looked for first.
constexpr int kDirections = 512;
// How many turns spread over all are tried, and how many of the best of them are gone on from.
constexpr int kTurns = 1500;
constexpr std::size_t kStarts = 24;

// Those of the points that lie furthest out in one of many directions spread evenly over the sphere (a spiral of equal
// steps in height; Swinbank & Purser 2006).
std::vector<Vec3> outermost(std::span<const Vec3> points) {
  if (points.size() <= 64) return {points.begin(), points.end()};
  std::vector<std::size_t> furthest;
  for (int i = 0; i < kDirections; ++i) {
    const double z = 1 - (2.0 * i + 1) / kDirections, across = std::sqrt(1 - z * z), turn = i * 2.399963229728653;
    const Vec3 direction{across * std::cos(turn), across * std::sin(turn), z};
    std::size_t best = 0;
    double most = -std::numeric_limits<double>::infinity();
    for (std::size_t k = 0; k < points.size(); ++k)
      if (const double far = dot(points[k], direction); far > most) most = far, best = k;
    furthest.push_back(best);
  }
  std::sort(furthest.begin(), furthest.end());
  furthest.erase(std::unique(furthest.begin(), furthest.end()), furthest.end());
  std::vector<Vec3> outer;
  outer.reserve(furthest.size());
  for (const std::size_t k : furthest) outer.push_back(points[k]);
  return outer;
}

double volume_along(std::span<const Vec3> points, const Mat3& axes) {
  const Vec3 size = size_along(points, axes);
  return size.x * size.y * size.z;
}

Mat3 turned_by(const Mat3& axes, const Vec3& by) {
  const double angle = length(by);
  return angle > 0 ? rotation_about(by / angle, angle * 180 / std::numbers::pi) * axes : axes;
}

// Goes downhill from `axes` by the simplex method of Nelder and Mead (1965) over the three angles of a small turn.
Mat3 downhill(std::span<const Vec3> points, const Mat3& axes, double step) {
  struct Corner {
    Vec3 by;
    double volume;
  };
  const auto at = [&](const Vec3& by) { return Corner{by, volume_along(points, turned_by(axes, by))}; };
  std::array<Corner, 4> simplex{at({}), at({step, 0, 0}), at({0, step, 0}), at({0, 0, step})};
  for (int pass = 0; pass < 150; ++pass) {
    std::sort(simplex.begin(), simplex.end(), [](const Corner& a, const Corner& b) { return a.volume < b.volume; });
    if (simplex[3].volume - simplex[0].volume <= 1e-15 * simplex[0].volume) break;
    const Vec3 middle = (simplex[0].by + simplex[1].by + simplex[2].by) / 3, out = middle - simplex[3].by;
    const Corner over = at(middle + out);
    if (over.volume < simplex[0].volume) {
      const Corner beyond = at(middle + out * 2);
      simplex[3] = beyond.volume < over.volume ? beyond : over;
    } else if (over.volume < simplex[2].volume) {
      simplex[3] = over;
    } else {
      const Corner nearer = at(over.volume < simplex[3].volume ? middle + out * 0.5 : middle - out * 0.5);
      if (nearer.volume < std::min(over.volume, simplex[3].volume)) {
        simplex[3] = nearer;
        continue;
      }
      for (std::size_t i = 1; i < 4; ++i) simplex[i] = at((simplex[i].by + simplex[0].by) / 2);
    }
  }
  return turned_by(axes, std::min_element(simplex.begin(), simplex.end(), [](const Corner& a, const Corner& b) {
                           return a.volume < b.volume;
                         })->by);
}

// Directions that a side of the least box may well have exactly: square to two edges between points that lie, but for
// what the search has left, on the sides of the box along `axes` now.
std::vector<Vec3> flush_directions(std::span<const Vec3> points, const Mat3& axes) {
  constexpr std::size_t kMostEdges = 12;
  std::vector<Vec3> directions;
  for (const Vec3& axis : axes.column) {
    double low = std::numeric_limits<double>::infinity(), high = -low;
    for (const Vec3& p : points) low = std::min(low, dot(p, axis)), high = std::max(high, dot(p, axis));
    const double near = 1e-3 * (high - low);
    std::vector<Vec3> edges;
    for (const double side : {low, high}) {
      std::vector<Vec3> on;
      for (const Vec3& p : points)
        if (std::abs(dot(p, axis) - side) <= near) on.push_back(p);
      const std::size_t enough = edges.size() + kMostEdges;
      for (std::size_t i = 0; i < on.size(); ++i)
        for (std::size_t j = i + 1; j < on.size() && edges.size() < enough; ++j) edges.push_back(on[i] - on[j]);
    }
    for (std::size_t i = 0; i < edges.size(); ++i)
      for (std::size_t j = i + 1; j < edges.size(); ++j) {
        const Vec3 normal = cross(edges[i], edges[j]);
        if (length(normal) > 1e-6 * length(edges[i]) * length(edges[j])) directions.push_back(normal);
      }
  }
  return directions;
}

}  // namespace

Mat3 tightest_axes(std::span<const Vec3> points, std::span<const Vec3> hints) {
  std::vector<Vec3> outer = outermost(points);
  Candidate best;
  const auto consider = [&](const Vec3& direction, double least_gain = 1e-9) {
    if (!(length(direction) > 0)) return false;
    const Candidate c = best_along(outer, direction);
    const bool better = c.volume < best.volume * (1 - least_gain) ||
                        (c.volume <= best.volume * (1 + 1e-12) && c.half_area < best.half_area * (1 - 1e-9));
    if (better) best = c;
    return better;
  };
  const auto settle_axes = [&] {
    for (int pass = 0; pass < 8; ++pass) {
      bool better = false;
      const Mat3 before = best.axes;
      for (const Vec3& axis : before.column) better = consider(axis) || better;
      // What the search leaves is little, and wanted all the same: flush is flush to the last digits.
      for (const Vec3& direction : flush_directions(outer, best.axes)) better = consider(direction, 1e-14) || better;
      if (!better) break;
    }
  };
  for (const Vec3& axis : Mat3{}.column) consider(axis);
  for (const Vec3& hint : hints) consider(hint);
  settle_axes();
  const double across = length(size_along(outer, Mat3{}));
  if (best.volume > 1e-12 * across * across * across) {
    // Turns spread over all: a random sequence that is the same for the same points every time.
    std::vector<std::pair<double, Mat3>> starts;
    std::mt19937 random(1);
    const auto unit = [&] { return static_cast<double>(random()) / 4294967296.0; };
    starts.reserve(kTurns + hints.size());
    for (int i = 0; i < kTurns; ++i) {
      // Shoemake 1992: three numbers to a turn, all turns alike.
      const double u = unit(), v = 2 * std::numbers::pi * unit(), w = 2 * std::numbers::pi * unit();
      const Mat3 turn = rotation_from_quaternion({std::sqrt(1 - u) * std::sin(v), std::sqrt(1 - u) * std::cos(v),
                                                  std::sqrt(u) * std::sin(w), std::sqrt(u) * std::cos(w)});
      starts.emplace_back(volume_along(outer, turn), turn);
    }
    for (const Vec3& hint : hints) {
      const Candidate c = best_along(outer, hint);
      starts.emplace_back(c.volume, c.axes);
    }
    const std::size_t count = std::min(kStarts, starts.size());
    std::partial_sort(starts.begin(), starts.begin() + static_cast<std::ptrdiff_t>(count), starts.end(),
                      [](const auto& a, const auto& b) { return a.first < b.first; });
    for (std::size_t i = 0; i < count; ++i) {
      const Mat3 axes = downhill(outer, starts[i].second, 0.1);
      const double volume = volume_along(outer, axes);
      if (volume < best.volume * (1 - 1e-9)) {
        const Vec3 size = size_along(outer, axes);
        best = {axes, volume, size.x * size.y + size.y * size.z + size.z * size.x};
      }
      // Near enough to be the same valley, or a deeper one once its sides lie flush.
      if (volume < best.volume * 1.05)
        for (const Vec3& direction : flush_directions(outer, axes)) consider(direction);
    }
    settle_axes();
    // A least box need not lie flush with two edges on any side: then the last digits are gone downhill as well.
    for (const double step : {1e-3, 1e-5, 1e-7}) {
      const Mat3 axes = downhill(outer, best.axes, step);
      if (const double volume = volume_along(outer, axes); volume < best.volume) best = {axes, volume, best.half_area};
    }
    settle_axes();
    // Points that lie further out along the axes found than any that was looked at.
    for (int pass = 0; pass < 8 && outer.size() < points.size(); ++pass) {
      const std::size_t before = outer.size();
      for (const Vec3& axis : best.axes.column)
        for (const double sign : {1.0, -1.0}) {
          const auto less = [&](const Vec3& a, const Vec3& b) { return sign * dot(a, axis) < sign * dot(b, axis); };
          const Vec3 all = *std::max_element(points.begin(), points.end(), less);
          if (less(*std::max_element(outer.begin(), outer.end(), less), all)) outer.push_back(all);
        }
      if (outer.size() == before) break;
      best.volume = volume_along(outer, best.axes);
      const Mat3 axes = downhill(outer, best.axes, 0.01);
      if (const double volume = volume_along(outer, axes); volume < best.volume) best = {axes, volume, best.half_area};
      settle_axes();
    }
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
