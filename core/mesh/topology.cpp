#include "core/mesh/topology.h"

#include <tbb/parallel_sort.h>

#include <numeric>

#include "core/mesh/mesh_index.h"

namespace tack {

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

Topology topology_of(const Mesh& mesh) {
  Topology result;
  result.welded = weld(mesh);
  const auto triangles = mesh.triangles();
  const std::size_t count = triangles.size();
  if (count >= 1u << 30) return result;
  result.edge_of.assign(count, {Topology::kNoEdge, Topology::kNoEdge, Topology::kNoEdge});

  // Sides are put into one drawer for each lower vertex, by counting; drawers hold a handful, so sorting them is quick.
  const auto ends = [&](std::size_t t, int corner) {
    const std::uint32_t a = result.welded[triangles[t][static_cast<std::size_t>(corner)]];
    const std::uint32_t b = result.welded[triangles[t][static_cast<std::size_t>((corner + 1) % 3)]];
    return std::pair{std::min(a, b), std::max(a, b)};
  };
  std::vector<std::uint32_t> drawer(mesh.positions().size() + 1, 0);
  std::vector<bool> sound(count);
  for (std::size_t t = 0; t < count; ++t) {
    const Triangle& v = triangles[t];
    const std::uint32_t a = result.welded[v[0]], b = result.welded[v[1]], c = result.welded[v[2]];
    sound[t] = a != b && b != c && c != a && area_vector(mesh, static_cast<std::uint32_t>(t)) != Vec3{};
    for (int i = 0; sound[t] && i < 3; ++i) ++drawer[ends(t, i).first + 1];
  }
  std::partial_sum(drawer.begin(), drawer.end(), drawer.begin());
  struct Filed {
    std::uint32_t high;
    TriangleSide side;
  };
  std::vector<Filed> filed(drawer.back());
  std::vector<std::uint32_t> next(drawer.begin(), drawer.end() - 1);
  for (std::size_t t = 0; t < count; ++t)
    for (int i = 0; sound[t] && i < 3; ++i) {
      const auto [low, high] = ends(t, i);
      filed[next[low]++] = {high, {static_cast<std::uint32_t>(t), static_cast<std::uint32_t>(i)}};
    }
  result.sides.reserve(filed.size());
  result.edges.reserve(filed.size() / 2 + 16);
  for (std::uint32_t low = 0; low + 1 < drawer.size(); ++low) {
    const auto begin = filed.begin() + drawer[low], end = filed.begin() + drawer[low + 1];
    std::stable_sort(begin, end, [](const Filed& a, const Filed& b) { return a.high < b.high; });
    for (auto at = begin; at != end;) {
      MeshEdge edge{low, at->high, static_cast<std::uint32_t>(result.sides.size()), 0};
      for (; at != end && at->high == edge.high; ++at, ++edge.count) {
        result.sides.push_back(at->side);
        result.edge_of[at->side.triangle][at->side.corner] = static_cast<std::uint32_t>(result.edges.size());
      }
      result.edges.push_back(edge);
    }
  }
  return result;
}

}  // namespace tack
