#include "core/mesh/feature_edges.h"

#include <tbb/parallel_sort.h>

#include <numeric>

#include "core/math/degrees.h"
#include "core/mesh/mesh.h"
#include "core/mesh/mesh_index.h"

namespace tack {
namespace {

struct HalfEdge {
  std::uint32_t low, high;  // welded vertices
  std::uint32_t triangle;
  std::uint8_t corner;  // the edge runs from this corner to the next
};

Vec3 normal_of(const std::array<Vec3, 3>& c) { return normalized(cross(c[1] - c[0], c[2] - c[0])); }

// Whether the stored normals at the two ends differ between two triangles by more than the fold angle.
bool hard_seam(const Mesh& mesh, const HalfEdge& a, const HalfEdge& b, const std::vector<std::uint32_t>& welded,
               double least_cosine) {
  if (mesh.normals().empty()) return false;
  for (const std::uint32_t end : {a.low, a.high}) {
    std::array<std::array<float, 3>, 2> n{};
    for (int side = 0; side < 2; ++side)
      for (const std::uint32_t v : mesh.triangles()[side == 0 ? a.triangle : b.triangle])
        if (welded[v] == end) n[side] = mesh.normals()[v];
    const Vec3 first = normalized({n[0][0], n[0][1], n[0][2]}), second = normalized({n[1][0], n[1][1], n[1][2]});
    if (dot(first, second) < least_cosine) return true;
  }
  return false;
}

}  // namespace

std::vector<std::uint32_t> weld(const Mesh& mesh) {
  const auto positions = mesh.positions();
  std::vector<std::uint32_t> order(positions.size()), root(positions.size());
  std::iota(order.begin(), order.end(), 0u);
  std::iota(root.begin(), root.end(), 0u);
  // Sorting along x and looking back over the tolerance finds every close pair without a hash.
  tbb::parallel_sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) {
    const Vec3 &p = positions[a], &q = positions[b];
    if (p.x != q.x) return p.x < q.x;
    if (p.y != q.y) return p.y < q.y;
    if (p.z != q.z) return p.z < q.z;
    return a < b;
  });
  const auto find = [&](std::uint32_t v) {
    while (root[v] != v) v = root[v] = root[root[v]];
    return v;
  };
  const auto join = [&](std::uint32_t a, std::uint32_t b) {
    a = find(a);
    b = find(b);
    if (a != b) root[std::max(a, b)] = std::min(a, b);
  };
  const double tolerance = weld_distance(mesh);
  // Equal places first: they are neighbours in the order, however many vertices share the same x.
  std::vector<std::uint32_t> distinct;
  for (std::size_t i = 0; i < order.size(); ++i)
    if (i > 0 && positions[order[i]] == positions[order[i - 1]])
      join(order[i], order[i - 1]);
    else
      distinct.push_back(order[i]);
  // Then places that differ by rounding. Within a run of nearly equal x, sort by y and compare neighbours in y only.
  std::vector<std::uint32_t> run;
  for (std::size_t begin = 0; begin < distinct.size();) {
    std::size_t end = begin + 1;
    while (end < distinct.size() && positions[distinct[end]].x - positions[distinct[end - 1]].x <= tolerance) ++end;
    run.assign(distinct.begin() + static_cast<std::ptrdiff_t>(begin),
               distinct.begin() + static_cast<std::ptrdiff_t>(end));
    if (run.size() > 1) {
      std::sort(run.begin(), run.end(), [&](std::uint32_t a, std::uint32_t b) {
        return positions[a].y != positions[b].y ? positions[a].y < positions[b].y : positions[a].z < positions[b].z;
      });
      std::vector<std::uint32_t> row;
      for (std::size_t i = 0; i < run.size();) {
        std::size_t j = i + 1;
        while (j < run.size() && positions[run[j]].y - positions[run[j - 1]].y <= tolerance) ++j;
        row.assign(run.begin() + static_cast<std::ptrdiff_t>(i), run.begin() + static_cast<std::ptrdiff_t>(j));
        std::sort(row.begin(), row.end(),
                  [&](std::uint32_t a, std::uint32_t b) { return positions[a].z < positions[b].z; });
        for (std::size_t m = 0; m < row.size(); ++m)
          for (std::size_t k = m + 1; k < row.size() && positions[row[k]].z - positions[row[m]].z <= tolerance; ++k)
            if (distance(positions[row[m]], positions[row[k]]) <= tolerance) join(row[m], row[k]);
        i = j;
      }
    }
    begin = end;
  }
  for (std::uint32_t v = 0; v < root.size(); ++v) root[v] = find(v);
  return root;
}

FeatureEdges find_feature_edges(const Mesh& mesh) {
  const double least_cosine = sin_cos_degrees(20).cos;
  const std::vector<std::uint32_t> welded = weld(mesh);
  const auto triangles = mesh.triangles();
  std::vector<HalfEdge> halves;
  halves.reserve(triangles.size() * 3);
  for (std::uint32_t t = 0; t < triangles.size(); ++t) {
    const auto corners = mesh.corners(t);
    if (length_squared(cross(corners[1] - corners[0], corners[2] - corners[0])) == 0) continue;
    for (std::uint8_t c = 0; c < 3; ++c) {
      const std::uint32_t a = welded[triangles[t][c]], b = welded[triangles[t][(c + 1) % 3]];
      if (a != b) halves.push_back({std::min(a, b), std::max(a, b), t, c});
    }
  }
  tbb::parallel_sort(halves.begin(), halves.end(), [](const HalfEdge& a, const HalfEdge& b) {
    if (a.low != b.low) return a.low < b.low;
    if (a.high != b.high) return a.high < b.high;
    return a.triangle < b.triangle;
  });
  FeatureEdges result;
  for (std::size_t begin = 0; begin < halves.size();) {
    std::size_t end = begin + 1;
    while (end < halves.size() && halves[end].low == halves[begin].low && halves[end].high == halves[begin].high) ++end;
    bool feature = end - begin != 2;
    if (!feature) {
      const HalfEdge &a = halves[begin], &b = halves[begin + 1];
      const bool same_way = welded[triangles[a.triangle][a.corner]] == welded[triangles[b.triangle][b.corner]];
      const double cosine = dot(normal_of(mesh.corners(a.triangle)), normal_of(mesh.corners(b.triangle)));
      // Two triangles wound against each other still fold by the angle between their surfaces.
      feature = (same_way ? -cosine : cosine) < least_cosine || hard_seam(mesh, a, b, welded, least_cosine);
    }
    if (feature) result.edges.push_back({halves[begin].low, halves[begin].high});
    begin = end;
  }
  return result;
}

}  // namespace tack
