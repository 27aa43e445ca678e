#include "demo/shapes.h"

#include "core/math/degrees.h"
#include "core/mesh/triangulate.h"

namespace tack::demo {
namespace {

std::uint32_t count_of(const MeshData& m) { return static_cast<std::uint32_t>(m.positions.size()); }

// Joins two closed loops of n vertices, each beginning at the given number, by quads.
void bridge(MeshData& m, std::uint32_t a, std::uint32_t b, std::uint32_t n) {
  for (std::uint32_t i = 0; i < n; ++i) {
    const std::uint32_t j = (i + 1) % n;
    m.triangles.push_back({a + i, a + j, b + j});
    m.triangles.push_back({a + i, b + j, b + i});
  }
}

void cap(MeshData& m, std::uint32_t first, std::uint32_t n, bool reverse) {
  std::vector<std::uint32_t> loop;
  for (std::uint32_t i = 0; i < n; ++i) loop.push_back(first + (reverse ? n - 1 - i : i));
  triangulate(m.positions, loop, m.triangles);
}

}  // namespace

MeshData box(const Vec3& low, const Vec3& high) {
  MeshData m = extrude({{low.y, low.z}, {high.y, low.z}, {high.y, high.z}, {low.y, high.z}}, high.x - low.x);
  return moved(std::move(m), translation({low.x, 0, 0}));
}

MeshData lathe(const std::vector<Point2>& profile, int segments, bool ring) {
  MeshData m;
  const auto n = static_cast<std::uint32_t>(segments);
  std::vector<std::uint32_t> start;
  for (const Point2& p : profile) {
    start.push_back(count_of(m));
    if (p.x == 0) {
      m.positions.push_back({0, 0, p.y});
      continue;
    }
    for (int i = 0; i < segments; ++i) {
      const SinCos a = sin_cos_degrees(360.0 * i / segments);
      m.positions.push_back({p.x * a.cos, p.x * a.sin, p.y});
    }
  }
  const auto join = [&](std::size_t i, std::size_t k) {
    if (profile[i].x == 0 && profile[k].x == 0) return;
    for (std::uint32_t s = 0; s < n; ++s) {
      const std::uint32_t t = (s + 1) % n;
      if (profile[i].x == 0)
        m.triangles.push_back({start[i], start[k] + t, start[k] + s});
      else if (profile[k].x == 0)
        m.triangles.push_back({start[i] + s, start[i] + t, start[k]});
      else {
        m.triangles.push_back({start[i] + s, start[i] + t, start[k] + t});
        m.triangles.push_back({start[i] + s, start[k] + t, start[k] + s});
      }
    }
  };
  for (std::size_t i = 0; i + 1 < profile.size(); ++i) join(i, i + 1);
  if (ring) {
    join(profile.size() - 1, 0);
    return m;
  }
  if (profile.front().x != 0) cap(m, start.front(), n, true);
  if (profile.back().x != 0) cap(m, start.back(), n, false);
  return m;
}

MeshData extrude(const std::vector<Point2>& polygon, double length) {
  MeshData m;
  const auto n = static_cast<std::uint32_t>(polygon.size());
  for (const double x : {0.0, length})
    for (const Point2& p : polygon) m.positions.push_back({x, p.x, p.y});
  bridge(m, 0, n, n);
  cap(m, 0, n, true);
  cap(m, n, n, false);
  return m;
}

MeshData quarter_curve(const std::vector<Point2>& polygon, double radius, int steps, bool left) {
  MeshData m;
  const auto n = static_cast<std::uint32_t>(polygon.size());
  for (int s = 0; s <= steps; ++s) {
    const SinCos a = sin_cos_degrees(90.0 * s / steps);
    for (const Point2& p : polygon) {
      const double r = radius - p.x;
      m.positions.push_back({r * a.sin, radius - r * a.cos, p.y});
    }
    if (s > 0) bridge(m, static_cast<std::uint32_t>(s - 1) * n, static_cast<std::uint32_t>(s) * n, n);
  }
  cap(m, 0, n, true);
  cap(m, static_cast<std::uint32_t>(steps) * n, n, false);
  if (!left) {
    for (Vec3& p : m.positions) p.y = -p.y;
    for (Triangle& t : m.triangles) std::swap(t[1], t[2]);
  }
  return m;
}

MeshData sphere(double radius, int segments, int rings) {
  std::vector<Point2> profile;
  for (int i = 0; i <= rings; ++i) {
    const SinCos a = sin_cos_degrees(-90.0 + 180.0 * i / rings);
    profile.push_back({i == 0 || i == rings ? 0 : radius * a.cos, radius * a.sin});
  }
  return lathe(profile, segments);
}

void add(MeshData& a, const MeshData& b, const Affine& by) {
  const std::uint32_t first = count_of(a);
  for (const Vec3& p : b.positions) a.positions.push_back(by * p);
  for (const Triangle& t : b.triangles) a.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
}

MeshData moved(MeshData mesh, const Affine& by) {
  for (Vec3& p : mesh.positions) p = by * p;
  return mesh;
}

MeshData letters(const std::string& text, double height, double depth) {
  struct Bar {
    double x0, y0, x1, y1;  // the middle line of a stroke, in a cell 0.6 wide and 1 high
  };
  const auto bars_of = [](char c) -> std::vector<Bar> {
    switch (c) {
      case 'H': return {{0, 0, 0, 1}, {0.6, 0, 0.6, 1}, {0, 0.5, 0.6, 0.5}};
      case 'E': return {{0, 0, 0, 1}, {0, 0, 0.6, 0}, {0, 0.5, 0.5, 0.5}, {0, 1, 0.6, 1}};
      case 'R': return {{0, 0, 0, 1}, {0, 1, 0.6, 1}, {0.6, 1, 0.6, 0.5}, {0, 0.5, 0.6, 0.5}, {0.2, 0.5, 0.6, 0}};
      case 'O': return {{0, 0, 0, 1}, {0.6, 0, 0.6, 1}, {0, 0, 0.6, 0}, {0, 1, 0.6, 1}};
      case 'N': return {{0, 0, 0, 1}, {0.6, 0, 0.6, 1}, {0, 1, 0.6, 0}};
      case 'A': return {{0, 0, 0.3, 1}, {0.6, 0, 0.3, 1}, {0.14, 0.42, 0.46, 0.42}};
      case 'L': return {{0, 0, 0, 1}, {0, 0, 0.6, 0}};
      default: return {};
    }
  };
  MeshData m;
  const double half = 0.07 * height;
  double at = 0;
  for (const char c : text) {
    for (const Bar& bar : bars_of(c)) {
      const Vec3 a{at + bar.x0 * height, bar.y0 * height, 0}, b{at + bar.x1 * height, bar.y1 * height, 0};
      const Vec3 along = normalized(b - a);
      const Affine frame{{{along, Vec3{-along.y, along.x, 0}, Vec3{0, 0, 1}}}, a};
      add(m, box({-half, -half, 0}, {length(b - a) + half, half, depth}), frame);
    }
    at += (c == ' ' ? 0.5 : 0.85) * height;
  }
  return m;
}

}  // namespace tack::demo
