// Coarser levels of meshes, for drawing them from far away; declared in mesh_arrays.h.
#include <meshoptimizer.h>

#include <algorithm>
#include <numeric>
#include <optional>
#include <span>
#include <unordered_map>
#include <utility>

#include "core/math/nearest.h"
#include "core/mesh/features.h"
#include "draw/mesh_arrays.h"

namespace tack {
namespace {

// The size in pixels from which down a level is meant, and how much of a pixel it may be off there.
constexpr double kSizes[] = {1200, 600, 300, 150, 80, 45, 25, 14, 8, 4};
constexpr double kOff = 0.5;
constexpr std::size_t kFewest = 12;    // triangles: no coarser level follows
constexpr std::size_t kFewEdges = 40;  // likewise
constexpr double kMostOff = 2.5;       // a vertex may miss a level by so many times what it was made for

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

// How far a vertex of the mesh is from what is left of the faces: the farthest of a sample that misses it by more than
// `error`, else 0. Quadrics are a mean over the faces around: where few triangles are left a place may be much farther
// off than they say, as on a ring that is as thin as the error. 0 where many are left: there it is the mean that shows.
double farthest(const MeshArrays& arrays, std::size_t own, std::span<const std::uint32_t> indices, double error) {
  constexpr std::size_t kFewTriangles = 200, kSamples = 64;
  if (indices.size() > 3 * kFewTriangles) return 0;
  const auto place = [&](std::size_t v) { return place_of(arrays.vertices[v]); };
  double worst = 0;
  for (std::size_t v = 0; v < own; v += std::max<std::size_t>(1, own / kSamples)) {
    double nearest = 1e30;
    for (std::size_t i = 0; i + 2 < indices.size() && nearest > error; i += 3)
      nearest = std::min(
          nearest,
          distance(nearest_on_triangle({place(indices[i]), place(indices[i + 1]), place(indices[i + 2])}, place(v)),
                   place(v)));
    if (nearest > error) worst = std::max(worst, nearest);
  }
  return worst;
}

// Leaves triangles out. A place has a corner for each normal there, as at a sharp edge; by the corners it can go along
// that edge alone, and where every edge is sharp nowhere. By the places all can go, and corners are found for what is
// left.
class Thinner {
 public:
  explicit Thinner(MeshArrays& arrays) : arrays_(arrays), own_(arrays.vertices.size()), place_(own_) {
    const meshopt_Stream stream{&arrays.vertices.front().x, kPlace, sizeof(MeshArrays::Vertex)};
    corners_.resize(meshopt_generateVertexRemapMulti(place_.data(), arrays.indices.data(), arrays.indices.size(), own_,
                                                     &stream, 1));
    // A vertex that no triangle has is at no place.
    for (const std::uint32_t p : place_)
      if (p < corners_.size()) ++corners_[p], ++all_corners_;
    local_.assign(own_, kNone);
    used_.assign(corners_.size(), 0);
  }

  /// Vertices of the mesh itself; what comes behind them was made for levels.
  std::size_t own() const { return own_; }
  bool has_seams() const { return corners_.size() < all_corners_; }
  /// Whether most edges are seams, so that there is nothing to be had by the corners.
  bool is_faceted() const { return 2 * all_corners_ > 5 * corners_.size(); }

  enum class By : std::uint8_t { Corners, Places };
  /// What is left of the triangles where faces may be off by `error` mm; by the places with any of a place's corners,
  /// see find_corners(). It looks at their vertices alone: a mesh may have hundreds of primitives.
  std::vector<std::uint32_t> fewer(std::span<const std::uint32_t> from, double error, By by) {
    if (from.empty()) return {};
    std::vector<std::uint32_t> indices, vertices;
    std::vector<std::array<float, 3>> places;
    const auto add = [&](std::uint32_t v) {
      places.push_back({arrays_.vertices[v].x, arrays_.vertices[v].y, arrays_.vertices[v].z});
      vertices.push_back(v);
    };
    indices.reserve(from.size());
    for (const std::uint32_t v : from) {
      std::uint32_t& number = local_[by == By::Places ? place_[v] : v];
      if (number == kNone) {
        number = static_cast<std::uint32_t>(places.size());
        add(v);
      }
      indices.push_back(number);
    }
    for (const std::uint32_t v : vertices) local_[by == By::Places ? place_[v] : v] = kNone;
    if (by == By::Corners) {
      // A place whose other corners belong to other primitives stays: it gets one more, that no triangle has.
      const std::size_t count = vertices.size();
      for (std::size_t i = 0; i < count; ++i) ++used_[place_[vertices[i]]];
      for (std::size_t i = 0; i < count; ++i) {
        const std::uint32_t v = vertices[i];
        if (const std::uint32_t used = std::exchange(used_[place_[v]], 0); used > 0 && used < corners_[place_[v]])
          add(v);
      }
    }
    const double scale = meshopt_simplifyScale(places.front().data(), places.size(), kPlace);
    std::vector<std::uint32_t> left(indices.size());
    left.resize(scale > 0 ? meshopt_simplify(left.data(), indices.data(), indices.size(), places.front().data(),
                                             places.size(), kPlace, 0, static_cast<float>(error / scale), 0, nullptr)
                          : 0);
    // Where it would be gone altogether others do not cover what is behind it.
    if (left.empty()) return {from.begin(), from.end()};
    for (std::uint32_t& i : left) i = vertices[i];
    return left;
  }

  /// Of triangles that were found by their places: gives each the corners there that are lit most like its face, and
  /// makes one where all of them lean away from it.
  void find_corners(std::span<std::uint32_t> indices) {
    constexpr double kAlike = 0.866;    // cos 30°, as where corners are made
    constexpr std::uint32_t kFan = 64;  // corners of a place, likewise: the face's own normal is as good
    if (of_place_.empty()) list_corners();
    for (std::size_t i = 0; i + 2 < indices.size(); i += 3) {
      std::array<Vec3, 3> at;
      for (std::size_t c = 0; c < 3; ++c) at[c] = place_of(arrays_.vertices[indices[i + c]]);
      const Vec3 face = normalized(cross(at[1] - at[0], at[2] - at[0]));
      for (std::size_t c = 0; c < 3; ++c) {
        const std::uint32_t place = place_[indices[i + c]];
        double best = kAlike;
        std::optional<std::uint32_t> found;
        const std::uint32_t end = first_[place + 1] - first_[place] <= kFan ? first_[place + 1] : first_[place];
        for (std::uint32_t k = first_[place]; k < end; ++k) {
          const MeshArrays::Vertex& v = arrays_.vertices[of_place_[k]];
          const double alike = dot(face, normalized({double(v.nx), double(v.ny), double(v.nz)}));
          if (alike > best) best = alike, found = of_place_[k];
        }
        if (!found) {
          found = static_cast<std::uint32_t>(arrays_.vertices.size());
          arrays_.vertices.push_back(vertex_of(at[c], face));
          place_.push_back(place);
          local_.push_back(kNone);
        }
        indices[i + c] = *found;
      }
    }
  }

 private:
  void list_corners() {
    first_.assign(corners_.size() + 1, 0);
    std::partial_sum(corners_.begin(), corners_.end(), first_.begin() + 1);
    of_place_.resize(all_corners_);
    std::vector<std::uint32_t> fill(first_.begin(), first_.end() - 1);
    for (std::uint32_t v = 0; v < own_; ++v)
      if (place_[v] < corners_.size()) of_place_[fill[place_[v]]++] = v;
  }

  static constexpr std::size_t kPlace = 3 * sizeof(float);
  static constexpr std::uint32_t kNone = 0xFFFFFFFF;

  MeshArrays& arrays_;
  std::size_t own_, all_corners_ = 0;
  std::vector<std::uint32_t> place_, corners_;   // of each vertex its place; of each place how many corners it has
  std::vector<std::uint32_t> local_, used_;      // by corner or place, and by place; for one call
  std::vector<std::uint32_t> of_place_, first_;  // the corners of each place, one place behind another
};

}  // namespace

void add_levels(const Mesh& mesh, MeshArrays& arrays) {
  const double extent = mesh.box().empty() ? 0 : mesh.box().extent();
  if (!(extent > 0) || arrays.levels.size() != 1 || arrays.vertices.empty()) return;
  const std::size_t edges = arrays.levels.front().edge_count;
  if (arrays.levels.front().triangles() < kFewest && edges < kFewEdges) return;
  const std::vector<std::vector<Vec3>> chains = edges > 0 ? chains_of(mesh, arrays) : std::vector<std::vector<Vec3>>{};
  const auto is_less = [](std::size_t now, std::size_t before) { return 3 * now <= 2 * before; };
  Thinner thinner(arrays);
  using By = Thinner::By;
  By by = thinner.is_faceted() ? By::Places : By::Corners;
  double faces_off = 0;  // of the last level; its edges may be coarser
  for (const double size : kSizes) {
    const MeshArrays::Level& finer = arrays.levels.back();
    MeshArrays::Level level;
    level.error = extent * kOff / size;
    if (level.error <= finer.error) continue;
    std::vector<std::uint32_t> indices;
    const auto thin = [&](By way) {
      indices.clear();
      level.primitives.clear();
      for (const auto& [first, count] : finer.primitives) {
        // It counts from the faces before, which are off themselves.
        const std::vector<std::uint32_t> left =
            thinner.fewer({arrays.indices.data() + first, count}, level.error - faces_off, way);
        level.primitives.push_back({static_cast<std::uint32_t>(arrays.indices.size() + indices.size()),
                                    static_cast<std::uint32_t>(left.size())});
        indices.insert(indices.end(), left.begin(), left.end());
      }
      return finer.triangles() > 0 && is_less(indices.size() / 3, finer.triangles());
    };
    By way = by;
    bool fewer = thin(way);
    if (!fewer && way == By::Corners && thinner.has_seams()) fewer = thin(way = By::Places);
    const double off = fewer ? farthest(arrays, thinner.own(), indices, level.error) : 0;
    fewer = fewer && off <= kMostOff * level.error;
    std::vector<MeshArrays::Edge> lines;
    for (const auto& chain : chains) {
      const std::vector<Vec3> left = thinned(chain, level.error);
      for (std::size_t i = 1; i < left.size(); ++i)
        lines.push_back({static_cast<float>(left[i - 1].x), static_cast<float>(left[i - 1].y),
                         static_cast<float>(left[i - 1].z), static_cast<float>(left[i].x),
                         static_cast<float>(left[i].y), static_cast<float>(left[i].z)});
    }
    const std::size_t triangles = fewer ? indices.size() / 3 : finer.triangles();
    if (!fewer && !is_less(triangles + lines.size(), finer.triangles() + finer.edge_count)) continue;
    if (fewer) {
      by = way;  // seams that were given up do not come back
      if (by == By::Places) thinner.find_corners(indices);
      arrays.indices.insert(arrays.indices.end(), indices.begin(), indices.end());
      level.error = faces_off = std::max(level.error, off);
    } else {
      level.primitives = finer.primitives;
    }
    level.edge_count = static_cast<std::uint32_t>(lines.size());
    if (level.edge_count == finer.edge_count) {
      level.first_edge = finer.first_edge;
    } else {
      level.first_edge = static_cast<std::uint32_t>(arrays.edges.size());
      arrays.edges.insert(arrays.edges.end(), lines.begin(), lines.end());
    }
    arrays.levels.push_back(std::move(level));
    if (triangles < kFewest && lines.size() < kFewEdges) break;
  }
}

namespace {

// Whether a triangle looks to where the normals at its corners point.
bool looks_along_normals(const MeshArrays& arrays, const std::uint32_t* triangle) {
  Vec3 normals;
  std::array<Vec3, 3> places;
  for (std::size_t i = 0; i < 3; ++i) {
    const MeshArrays::Vertex& v = arrays.vertices[triangle[i]];
    normals += Vec3{double(v.nx), double(v.ny), double(v.nz)};
    places[i] = place_of(v);
  }
  return dot(cross(places[1] - places[0], places[2] - places[0]), normals) >= 0;
}

}  // namespace

void add_rough_level(MeshArrays& arrays) {
  constexpr std::size_t kHeavy = 250'000, kLeft = 60'000;  // triangles
  if (arrays.levels.size() != 1 || arrays.levels.front().triangles() <= kHeavy) return;
  const double share = static_cast<double>(kLeft) / static_cast<double>(arrays.levels.front().triangles());
  const float* places = &arrays.vertices.front().x;
  const double scale = meshopt_simplifyScale(places, arrays.vertices.size(), sizeof(MeshArrays::Vertex));
  MeshArrays::Level rough = arrays.levels.front();
  std::vector<std::uint32_t> left;
  for (auto& [first, count] : rough.primitives) {
    left.resize(count);
    float off = 0;
    left.resize(meshopt_simplifySloppy(left.data(), arrays.indices.data() + first, count, places,
                                       arrays.vertices.size(), sizeof(MeshArrays::Vertex),
                                       static_cast<std::size_t>(count * share / 3) * 3, 1, &off));
    // Of a few triangles nothing may be left: they are drawn as they are.
    if (left.empty()) continue;
    first = static_cast<std::uint32_t>(arrays.indices.size());
    count = static_cast<std::uint32_t>(left.size());
    // Some have been turned over, and would be dark dots.
    for (std::size_t i = 0; i < left.size(); i += 3)
      if (!looks_along_normals(arrays, &left[i])) std::swap(left[i], left[i + 1]);
    arrays.indices.insert(arrays.indices.end(), left.begin(), left.end());
    rough.error = std::max(rough.error, off * scale);
  }
  arrays.levels.push_back(std::move(rough));
}

}  // namespace tack
