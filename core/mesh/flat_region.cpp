#include "core/mesh/flat_region.h"

#include <algorithm>

#include "core/math/degrees.h"
#include "core/mesh/feature_edges.h"

namespace tack {
namespace {

struct Side {
  std::uint64_t edge;  // both welded ends, the lower first
  std::uint32_t triangle;
};

std::uint64_t edge_between(std::uint32_t a, std::uint32_t b) {
  return a < b ? std::uint64_t{a} << 32 | b : std::uint64_t{b} << 32 | a;
}

Vec3 area_vector(const Mesh& mesh, std::uint32_t t) {
  const auto c = mesh.corners(t);
  return cross(c[1] - c[0], c[2] - c[0]) * 0.5;
}

std::vector<std::uint32_t> grow(const Mesh& mesh, const std::vector<std::uint32_t>& welded,
                                const std::vector<Side>& sides, std::uint32_t start) {
  const Vec3 normal = normalized(area_vector(mesh, start));
  const double least_cosine = sin_cos_degrees(0.1).cos, most_off = 1e-5 * mesh.box().extent();
  const Vec3 origin = mesh.corners(start)[0];
  std::vector<bool> taken(mesh.triangles().size(), false);
  std::vector<std::uint32_t> region{start}, pending{start};
  taken[start] = true;
  const auto fits = [&](std::uint32_t t) {
    if (dot(normalized(area_vector(mesh, t)), normal) < least_cosine) return false;
    const auto corners = mesh.corners(t);
    return std::all_of(corners.begin(), corners.end(),
                       [&](const Vec3& p) { return std::abs(dot(p - origin, normal)) <= most_off; });
  };
  while (!pending.empty()) {
    const Triangle& t = mesh.triangles()[pending.back()];
    pending.pop_back();
    for (std::size_t i = 0; i < 3; ++i) {
      const std::uint64_t edge = edge_between(welded[t[i]], welded[t[(i + 1) % 3]]);
      auto at =
          std::lower_bound(sides.begin(), sides.end(), edge, [](const Side& s, std::uint64_t e) { return s.edge < e; });
      for (; at != sides.end() && at->edge == edge; ++at)
        if (!taken[at->triangle] && fits(at->triangle)) {
          taken[at->triangle] = true;
          region.push_back(at->triangle);
          pending.push_back(at->triangle);
        }
    }
  }
  std::sort(region.begin(), region.end());
  return region;
}

}  // namespace

FlatRegion flat_region(const Mesh& mesh, std::uint32_t triangle) {
  FlatRegion result;
  const std::vector<std::uint32_t> welded = weld(mesh);
  std::vector<Side> sides;
  sides.reserve(mesh.triangles().size() * 3);
  for (std::uint32_t t = 0; t < mesh.triangles().size(); ++t)
    for (std::size_t i = 0; i < 3; ++i)
      sides.push_back({edge_between(welded[mesh.triangles()[t][i]], welded[mesh.triangles()[t][(i + 1) % 3]]), t});
  std::sort(sides.begin(), sides.end(),
            [](const Side& a, const Side& b) { return a.edge != b.edge ? a.edge < b.edge : a.triangle < b.triangle; });
  const auto larger = [&](std::uint32_t a, std::uint32_t b) {
    const double one = length(area_vector(mesh, a)), two = length(area_vector(mesh, b));
    return std::abs(one - two) > 1e-6 * (one + two) ? one < two : a > b;
  };
  result.triangles = grow(mesh, welded, sides, triangle);
  const std::uint32_t largest = *std::max_element(result.triangles.begin(), result.triangles.end(), larger);
  if (largest != triangle) {
    auto again = grow(mesh, welded, sides, largest);
    if (std::binary_search(again.begin(), again.end(), triangle)) result.triangles = std::move(again);
  }
  result.normal = normalized(area_vector(mesh, largest));
  // Borders are edges that the region uses once.
  std::vector<std::uint64_t> edges;
  Vec3 sum;
  for (const std::uint32_t t : result.triangles) {
    const auto c = mesh.corners(t);
    const double area = length(area_vector(mesh, t));
    result.area += area;
    sum += (c[0] + c[1] + c[2]) * (area / 3);
    for (std::size_t i = 0; i < 3; ++i)
      edges.push_back(edge_between(welded[mesh.triangles()[t][i]], welded[mesh.triangles()[t][(i + 1) % 3]]));
  }
  result.centroid = result.area > 0 ? sum / result.area : mesh.corners(triangle)[0];
  std::sort(edges.begin(), edges.end());
  double longest = -1;
  for (std::size_t i = 0; i < edges.size();) {
    std::size_t j = i + 1;
    while (j < edges.size() && edges[j] == edges[i]) ++j;
    const auto a = static_cast<std::uint32_t>(edges[i] >> 32), b = static_cast<std::uint32_t>(edges[i]);
    const double len = distance(mesh.positions()[a], mesh.positions()[b]);
    if (j - i == 1 && len > longest * (1 + 1e-6)) {
      longest = len;
      result.longest_a = a;
      result.longest_b = b;
    }
    i = j;
  }
  return result;
}

}  // namespace tack
