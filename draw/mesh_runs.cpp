// Runs of triangles and edges that lie together; declared in mesh_arrays.h.
#include <meshoptimizer.h>

#include <algorithm>

#include "draw/mesh_arrays.h"

namespace tack {
namespace {

constexpr std::size_t kHeavy = 8'000;  // triangles

struct Bounds {
  std::array<float, 3> low{1e30f, 1e30f, 1e30f}, high{-1e30f, -1e30f, -1e30f};
  void include(float x, float y, float z) {
    const std::array<float, 3> p{x, y, z};
    for (std::size_t i = 0; i < 3; ++i) low[i] = std::min(low[i], p[i]), high[i] = std::max(high[i], p[i]);
  }
};

// A little larger than the bounds, so that rounding leaves nothing out.
MeshArrays::Run run_of(const Bounds& bounds, std::uint32_t first, std::uint32_t count, std::uint32_t primitive) {
  MeshArrays::Run run;
  run.first = first, run.count = count, run.primitive = primitive;
  for (std::size_t i = 0; i < 3; ++i) {
    run.centre[i] = (bounds.low[i] + bounds.high[i]) / 2;
    run.half[i] = (bounds.high[i] - bounds.low[i]) / 2 * 1.00001f + std::abs(run.centre[i]) * 1e-6f;
  }
  return run;
}

// The cone of normals (Shirman & Abi-Ezzi 1993).
void find_cone(const MeshArrays& arrays, MeshArrays::Run& run) {
  const meshopt_Bounds bounds =
      meshopt_computeClusterBounds(arrays.indices.data() + run.first, run.count, &arrays.vertices.front().x,
                                   arrays.vertices.size(), sizeof(MeshArrays::Vertex));
  if (bounds.cone_cutoff >= 1) return;  // they look to too many sides
  std::copy_n(bounds.cone_apex, 3, run.apex.begin());
  std::copy_n(bounds.cone_axis, 3, run.axis.begin());
  run.cutoff = bounds.cone_cutoff;
}

}  // namespace

void make_runs(MeshArrays& arrays) {
  if (arrays.levels.size() != 1 || arrays.levels.front().triangles() < kHeavy) return;
  const auto& primitives = arrays.levels.front().primitives;
  std::vector<std::uint32_t> sorted;
  for (std::uint32_t p = 0; p < primitives.size(); ++p) {
    const auto [first, count] = primitives[p];
    if (count == 0) continue;
    sorted.resize(count);
    meshopt_spatialSortTriangles(sorted.data(), arrays.indices.data() + first, count, &arrays.vertices.front().x,
                                 arrays.vertices.size(), sizeof(MeshArrays::Vertex));
    std::copy(sorted.begin(), sorted.end(), arrays.indices.begin() + first);
    for (std::uint32_t i = 0; i < count; i += 3 * kRunTogether) {
      const std::uint32_t many = std::min(3 * kRunTogether, count - i);
      Bounds bounds;
      for (std::uint32_t k = first + i; k < first + i + many; ++k) {
        const MeshArrays::Vertex& v = arrays.vertices[arrays.indices[k]];
        bounds.include(v.x, v.y, v.z);
      }
      arrays.runs.push_back(run_of(bounds, first + i, many, p));
      find_cone(arrays, arrays.runs.back());
    }
  }
  // Edges stay in their order, by vertices: mostly they lie together, too.
  const auto edges = static_cast<std::uint32_t>(arrays.edges.size());
  for (std::uint32_t i = 0; i < edges; i += kRunTogether) {
    const std::uint32_t many = std::min(kRunTogether, edges - i);
    Bounds bounds;
    for (std::uint32_t k = i; k < i + many; ++k) {
      const MeshArrays::Edge& e = arrays.edges[k];
      bounds.include(e.ax, e.ay, e.az), bounds.include(e.bx, e.by, e.bz);
    }
    arrays.edge_runs.push_back(run_of(bounds, i, many, 0));
  }
}

}  // namespace tack
