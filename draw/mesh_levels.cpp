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
constexpr std::size_t kFewest = 12;     // triangles: no coarser level follows
constexpr std::size_t kFewEdges = 40;   // likewise
constexpr std::size_t kMostFlat = 400;  // triangles of a level from which one by the places is made

Vec3 place_of(const MeshArrays::Vertex& v) { return {v.x, v.y, v.z}; }

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
  const auto place = [&](std::size_t v) { return place_of(arrays.vertices[v]); };
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

// How a level gets fewer triangles. Where a place has several corners, one for each normal as at a sharp edge, it can
// go along that edge alone; where every edge is sharp that leaves none. Then the places alone count.
enum class By : std::uint8_t { Corners, Places };

// The triangles of `from` that are left where faces may be off by `error` mm.
std::vector<std::uint32_t> fewer(const MeshArrays& arrays, std::span<const std::uint32_t> from, double error, By by) {
  constexpr std::size_t kStride = sizeof(MeshArrays::Vertex), kPlace = 3 * sizeof(float);
  const auto simplified = [&](std::span<const std::uint32_t> indices, const float* places, std::size_t count,
                              std::size_t stride) {
    std::vector<std::uint32_t> left(indices.size());
    // It takes the error as a share of the size.
    const double share = error / std::max(1e-30f, meshopt_simplifyScale(places, count, stride));
    left.resize(meshopt_simplify(left.data(), indices.data(), indices.size(), places, count, stride, 0,
                                 static_cast<float>(share), 0, nullptr));
    return left;
  };
  const float* all = &arrays.vertices.front().x;
  if (from.empty()) return {};
  if (by == By::Corners) return simplified(from, all, arrays.vertices.size(), kStride);
  // A vertex for each place, of those alone that are in use: others at the same place would count as a seam.
  std::vector<std::uint32_t> indices(from.size()), vertices, number(arrays.vertices.size());
  meshopt_generateShadowIndexBuffer(indices.data(), from.data(), from.size(), all, arrays.vertices.size(), kPlace,
                                    kStride);
  std::vector<bool> seen(arrays.vertices.size());
  std::vector<std::array<float, 3>> places;
  for (std::uint32_t& i : indices) {
    if (!seen[i]) {
      seen[i] = true;
      number[i] = static_cast<std::uint32_t>(places.size());
      places.push_back({arrays.vertices[i].x, arrays.vertices[i].y, arrays.vertices[i].z});
      vertices.push_back(i);
    }
    i = number[i];
  }
  std::vector<std::uint32_t> left = simplified(indices, places.front().data(), places.size(), kPlace);
  for (std::uint32_t& i : left) i = vertices[i];
  return left;
}

// Corners of triangles found by their places have no normal that is theirs: each gets a vertex with that of its face.
void make_flat(MeshArrays& arrays, std::span<std::uint32_t> indices) {
  for (std::size_t i = 0; i + 2 < indices.size(); i += 3) {
    std::array<Vec3, 3> corners;
    for (std::size_t c = 0; c < 3; ++c) corners[c] = place_of(arrays.vertices[indices[i + c]]);
    const Vec3 normal = normalized(cross(corners[1] - corners[0], corners[2] - corners[0]));
    for (std::size_t c = 0; c < 3; ++c) {
      indices[i + c] = static_cast<std::uint32_t>(arrays.vertices.size());
      arrays.vertices.push_back(vertex_of(corners[c], normal));
    }
  }
}

}  // namespace

void add_levels(const Mesh& mesh, MeshArrays& arrays) {
  const double extent = mesh.box().empty() ? 0 : mesh.box().extent();
  if (!(extent > 0) || arrays.levels.size() != 1 || arrays.vertices.empty()) return;
  const std::size_t edges = arrays.levels.front().edge_count;
  if (arrays.levels.front().triangles() < kFewest && edges < kFewEdges) return;
  const std::vector<std::vector<Vec3>> chains = edges > 0 ? chains_of(mesh, arrays) : std::vector<std::vector<Vec3>>{};
  for (const double size : kSizes) {
    const MeshArrays::Level& finer = arrays.levels.back();
    MeshArrays::Level level;
    level.error = extent * kOff / size;
    std::vector<std::uint32_t> indices;
    const auto simplify = [&](By by) {
      indices.clear();
      level.primitives.clear();
      for (const auto& [first, count] : finer.primitives) {
        // It counts from the level before, whose own error comes on top.
        const std::vector<std::uint32_t> left =
            fewer(arrays, {arrays.indices.data() + first, count}, level.error - finer.error, by);
        level.primitives.push_back({static_cast<std::uint32_t>(arrays.indices.size() + indices.size()),
                                    static_cast<std::uint32_t>(left.size())});
        indices.insert(indices.end(), left.begin(), left.end());
      }
    };
    const auto is_less = [](std::size_t now, std::size_t before) { return 3 * now <= 2 * before; };
    simplify(By::Corners);
    bool flat = false;
    if (!is_less(indices.size() / 3, finer.triangles()) && finer.triangles() <= kMostFlat) {
      simplify(By::Places);
      flat = is_less(indices.size() / 3, finer.triangles());
      if (!flat) simplify(By::Corners);
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
    if (!is_less(now, before) && !is_less(indices.size() / 3, finer.triangles())) continue;
    if (flat) make_flat(arrays, indices);
    level.edge_count = static_cast<std::uint32_t>(lines.size());
    if (level.edge_count == finer.edge_count) {
      level.first_edge = finer.first_edge;
    } else {
      level.first_edge = static_cast<std::uint32_t>(arrays.edges.size());
      arrays.edges.insert(arrays.edges.end(), lines.begin(), lines.end());
    }
    arrays.indices.insert(arrays.indices.end(), indices.begin(), indices.end());
    arrays.levels.push_back(std::move(level));
    if (indices.size() / 3 < kFewest && lines.size() < kFewEdges) break;
  }
}

}  // namespace tack
