// Coarser levels of meshes, for drawing them from far away; declared in mesh_arrays.h.
#include <meshoptimizer.h>

#include <algorithm>
#include <numeric>
#include <unordered_map>

#include "core/math/nearest.h"
#include "core/mesh/features.h"
#include "draw/mesh_arrays.h"

namespace tack {
namespace {

// The size in pixels from which down a level is meant, and how much of a pixel it may be off there.
constexpr double kSizes[] = {1200, 600, 300, 150, 80, 45, 25, 14, 8, 4};
constexpr double kOff = 0.5;
constexpr std::size_t kFewest = 40;  // triangles and edges: no coarser level follows, and none of so few triangles

// Chains of edges from one place where they branch or end to the next, each as its places in turn.
std::vector<std::vector<Vec3>> chains_of(const Mesh& mesh, const MeshArrays& arrays) {
  const auto& edges = mesh.features().edges;
  std::unordered_map<std::uint32_t, std::vector<std::uint32_t>> around;
  for (std::uint32_t i = 0; i < edges.size(); ++i) {
    around[edges[i].a].push_back(i);
    around[edges[i].b].push_back(i);
  }
  std::vector<bool> used(edges.size());
  std::vector<std::vector<Vec3>> chains;
  const auto follow = [&](std::uint32_t from, std::uint32_t edge) {
    std::vector<Vec3> chain{mesh.positions()[from] - arrays.origin};
    std::uint32_t here = from;
    while (true) {
      used[edge] = true;
      here = edges[edge].a == here ? edges[edge].b : edges[edge].a;
      chain.push_back(mesh.positions()[here] - arrays.origin);
      const auto& next = around[here];
      if (next.size() != 2 || here == from) break;
      const std::uint32_t other = next[0] == edge ? next[1] : next[0];
      if (used[other]) break;
      edge = other;
    }
    chains.push_back(std::move(chain));
  };
  for (std::uint32_t i = 0; i < edges.size(); ++i)
    for (const std::uint32_t end : {edges[i].a, edges[i].b})
      if (!used[i] && around[end].size() != 2) follow(end, i);
  for (std::uint32_t i = 0; i < edges.size(); ++i)
    if (!used[i]) follow(edges[i].a, i);  // closed ones
  return chains;
}

// The chain with the fewest places, greedily, such that what is left out lies within `error` of what stands for it;
// none when all of it lies within the error of its start.
std::vector<Vec3> thinned(const std::vector<Vec3>& chain, double error) {
  const auto fits = [&](std::size_t from, std::size_t to) {
    for (std::size_t k = from + 1; k < to; ++k)
      if (distance(nearest_on_segment(chain[from], chain[to], chain[k]), chain[k]) > error) return false;
    return true;
  };
  std::vector<Vec3> left{chain.front()};
  const std::size_t last = chain.size() - 1;
  for (std::size_t from = 0; from < last;) {
    // Farther and farther, and from where that does not fit in smaller steps: circles have thousands of places.
    std::size_t to = from + 1, step = 1;
    for (bool grows = true; step > 0;) {
      const std::size_t next = std::min(to + step, last);
      const bool fit = next > to && fits(from, next);
      if (fit) to = next;
      grows = grows && fit;
      step = grows ? step * 2 : step / 2;
    }
    left.push_back(chain[to]);
    from = to;
  }
  if (std::all_of(chain.begin(), chain.end(), [&](const Vec3& p) { return distance(p, chain.front()) <= error; }))
    left.clear();
  return left;
}

// Whether what is left of the faces stands for the mesh. Quadrics are a mean over the faces around: where few triangles
// are left a place may be much farther off than they say, as on a ring that is as thin as the error.
bool stands_for(const MeshArrays& arrays, std::span<const std::uint32_t> indices, double error) {
  constexpr std::size_t kFewTriangles = 200, kSamples = 64;
  if (indices.size() > 3 * kFewTriangles) return true;
  const auto place = [&](std::size_t v) {
    return Vec3{arrays.vertices[v].x, arrays.vertices[v].y, arrays.vertices[v].z};
  };
  const std::size_t step = std::max<std::size_t>(1, arrays.vertices.size() / kSamples);
  for (std::size_t v = 0; v < arrays.vertices.size(); v += step) {
    double nearest = 1e30;
    for (std::size_t i = 0; i + 2 < indices.size() && nearest > error; i += 3)
      nearest = std::min(
          nearest,
          distance(nearest_on_triangle({place(indices[i]), place(indices[i + 1]), place(indices[i + 2])}, place(v)),
                   place(v)));
    if (nearest > 2.5 * error) return false;
  }
  return true;
}

}  // namespace

void add_levels(const Mesh& mesh, MeshArrays& arrays) {
  const double extent = mesh.box().empty() ? 0 : mesh.box().extent();
  if (!(extent > 0) || arrays.levels.size() != 1 || arrays.vertices.empty()) return;
  const std::size_t edges = arrays.levels.front().edge_count;
  if (arrays.levels.front().triangles() < kFewest && edges < kFewest) return;
  const auto* positions = &arrays.vertices.front().x;
  constexpr std::size_t kStride = sizeof(MeshArrays::Vertex);
  const double scale = meshopt_simplifyScale(positions, arrays.vertices.size(), kStride);
  const std::vector<std::vector<Vec3>> chains = edges > 0 ? chains_of(mesh, arrays) : std::vector<std::vector<Vec3>>{};
  for (const double size : kSizes) {
    const MeshArrays::Level& finer = arrays.levels.back();
    MeshArrays::Level level;
    level.error = extent * kOff / size;
    std::vector<std::uint32_t> indices;
    for (const auto& [first, count] : finer.primitives) {
      std::vector<std::uint32_t> thinned(count);
      const std::span<const std::uint32_t> from(arrays.indices.data() + first, count);
      // It counts from the level before, whose own error comes on top.
      const double left = level.error - finer.error;
      const std::size_t kept = meshopt_simplify(thinned.data(), from.data(), count, positions, arrays.vertices.size(),
                                                kStride, 0, static_cast<float>(left / scale), 0, nullptr);
      level.primitives.push_back(
          {static_cast<std::uint32_t>(arrays.indices.size() + indices.size()), static_cast<std::uint32_t>(kept)});
      indices.insert(indices.end(), thinned.begin(), thinned.begin() + static_cast<std::ptrdiff_t>(kept));
    }
    if (finer.triangles() > 0 && !stands_for(arrays, indices, level.error)) continue;
    std::vector<MeshArrays::Edge> lines;
    for (const auto& chain : chains) {
      const std::vector<Vec3> left = thinned(chain, level.error);
      for (std::size_t i = 1; i < left.size(); ++i)
        lines.push_back({static_cast<float>(left[i - 1].x), static_cast<float>(left[i - 1].y),
                         static_cast<float>(left[i - 1].z), static_cast<float>(left[i].x),
                         static_cast<float>(left[i].y), static_cast<float>(left[i].z)});
    }
    const std::size_t before = finer.triangles() + finer.edge_count, now = indices.size() / 3 + lines.size();
    if (3 * now > 2 * before) continue;
    level.first_edge = static_cast<std::uint32_t>(arrays.edges.size());
    level.edge_count = static_cast<std::uint32_t>(lines.size());
    arrays.indices.insert(arrays.indices.end(), indices.begin(), indices.end());
    arrays.edges.insert(arrays.edges.end(), lines.begin(), lines.end());
    arrays.levels.push_back(std::move(level));
    if (now < kFewest) break;
  }
}

}  // namespace tack
