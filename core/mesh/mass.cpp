#include "core/mesh/mass.h"

#include <algorithm>

#include "core/mesh/topology.h"

namespace tack {
namespace {

bool is_closed(const Mesh& mesh) {
  const std::vector<std::uint32_t> same = weld(mesh);
  std::vector<std::pair<std::uint64_t, int>> edges;  // the two ends, and which way the triangle runs along them
  edges.reserve(mesh.triangles().size() * 3);
  for (const Triangle& t : mesh.triangles()) {
    const std::array<std::uint32_t, 3> v{same[t[0]], same[t[1]], same[t[2]]};
    if (v[0] == v[1] || v[1] == v[2] || v[2] == v[0]) continue;
    for (std::size_t i = 0; i < 3; ++i) {
      const std::uint64_t a = v[i], b = v[(i + 1) % 3];
      edges.emplace_back(a < b ? a << 32 | b : b << 32 | a, a < b ? 1 : -1);
    }
  }
  if (edges.empty()) return false;
  std::sort(edges.begin(), edges.end());
  for (std::size_t i = 0; i < edges.size();) {
    int sum = 0;
    std::size_t j = i;
    for (; j < edges.size() && edges[j].first == edges[i].first; ++j) sum += edges[j].second;
    if (sum != 0) return false;
    i = j;
  }
  return true;
}

}  // namespace

MassCentre mass_centre(const Mesh& mesh) {
  const Vec3 middle = mesh.box().centre();
  double volume = 0, area = 0;
  Vec3 by_volume, by_area;
  for (std::uint32_t t = 0; t < mesh.triangles().size(); ++t) {
    const auto c = mesh.corners(t);
    const Vec3 a = c[0] - middle, b = c[1] - middle, d = c[2] - middle;
    const double six = dot(a, cross(b, d)), twice = length(cross(b - a, d - a));
    volume += six / 6;
    by_volume += (a + b + d) * (six / 24);
    area += twice / 2;
    by_area += (a + b + d) * (twice / 6);
  }
  const double extent = mesh.box().extent();
  if (std::abs(volume) > 1e-12 * extent * extent * extent && is_closed(mesh))
    return {middle + by_volume / volume, true, std::abs(volume)};
  if (area > 0) return {middle + by_area / area, false, area};
  Vec3 sum;
  for (const Vec3& p : mesh.positions()) sum += p - middle;
  const auto count = static_cast<double>(mesh.positions().size());
  return {middle + sum / count, false, count};
}

}  // namespace tack
