#include "core/mesh/feature_edges.h"

#include "core/math/degrees.h"

namespace tack {
namespace {

constexpr double kMostTurn = 50;        // degrees between the pieces of a chain
constexpr double kStraightTurn = 0.01;  // degrees between pieces that are one edge

// Whether the stored normals at the two ends differ between two triangles by more than the fold angle.
bool hard_seam(const Mesh& mesh, const MeshEdge& edge, const TriangleSide& a, const TriangleSide& b,
               const std::vector<std::uint32_t>& welded, double least_cosine) {
  if (mesh.normals().empty()) return false;
  for (const std::uint32_t end : {edge.low, edge.high}) {
    std::array<std::array<float, 3>, 2> n{};
    for (int side = 0; side < 2; ++side)
      for (const std::uint32_t v : mesh.triangles()[side == 0 ? a.triangle : b.triangle])
        if (welded[v] == end) n[side] = mesh.normals()[v];
    const Vec3 first = normalized({n[0][0], n[0][1], n[0][2]}), second = normalized({n[1][0], n[1][1], n[1][2]});
    if (dot(first, second) < least_cosine) return true;
  }
  return false;
}

// Which feature edges end at each vertex.
class Spokes {
 public:
  Spokes(const Mesh& mesh, const Topology& topology, const std::vector<bool>& is_feature) : topology_(topology) {
    first_.assign(mesh.positions().size() + 1, 0);
    const auto each = [&](auto&& visit) {
      for (std::uint32_t e = 0; e < topology.edges.size(); ++e)
        if (is_feature[e]) visit(topology.edges[e].low, e), visit(topology.edges[e].high, e);
    };
    each([&](std::uint32_t v, std::uint32_t) { ++first_[v + 1]; });
    for (std::size_t i = 1; i < first_.size(); ++i) first_[i] += first_[i - 1];
    edges_.resize(first_.back());
    std::vector<std::uint32_t> next(first_.begin(), first_.end() - 1);
    each([&](std::uint32_t v, std::uint32_t e) { edges_[next[v]++] = e; });
  }

  std::span<const std::uint32_t> at(std::uint32_t vertex) const {
    return {edges_.data() + first_[vertex], edges_.data() + first_[vertex + 1]};
  }
  std::uint32_t other_end(std::uint32_t edge, std::uint32_t vertex) const {
    const MeshEdge& e = topology_.edges[edge];
    return e.low == vertex ? e.high : e.low;
  }

 private:
  const Topology& topology_;
  std::vector<std::uint32_t> first_, edges_;
};

// Takes pieces into chains. `onward(chain, used)` gives the edge, not used yet, along which a chain goes on.
template <typename Onward>
std::vector<EdgeChain> chains_of(const Topology& topology, const std::vector<bool>& is_feature, const Spokes& spokes,
                                 Onward&& onward) {
  std::vector<EdgeChain> chains;
  std::vector<bool> used(topology.edges.size(), false);
  const auto extend = [&](EdgeChain& chain) {
    while (chain.size() < 2 || chain.front() != chain.back()) {
      const auto next = onward(chain, used);
      if (!next) return;
      used[*next] = true;
      chain.push_back(spokes.other_end(*next, chain.back()));
    }
  };
  for (std::uint32_t e = 0; e < topology.edges.size(); ++e) {
    if (!is_feature[e] || used[e]) continue;
    used[e] = true;
    EdgeChain chain{topology.edges[e].low, topology.edges[e].high};
    extend(chain);
    if (chain.front() != chain.back()) {
      std::reverse(chain.begin(), chain.end());
      extend(chain);
    }
    chains.push_back(std::move(chain));
  }
  return chains;
}

// The turn from one piece to the next, in degrees.
double turn_at(const Mesh& mesh, std::uint32_t from, std::uint32_t at, std::uint32_t to) {
  const auto p = mesh.positions();
  const Vec3 a = p[at] - p[from], b = p[to] - p[at];
  return atan2_degrees(length(cross(a, b)), dot(a, b));
}

}  // namespace

std::vector<bool> mark_feature_edges(const Mesh& mesh, const Topology& topology) {
  const double least_cosine = sin_cos_degrees(20).cos;
  std::vector<bool> result(topology.edges.size(), false);
  for (std::size_t e = 0; e < topology.edges.size(); ++e) {
    const MeshEdge& edge = topology.edges[e];
    if (edge.count != 2) {
      result[e] = true;
      continue;
    }
    const TriangleSide &a = topology.sides[edge.first], &b = topology.sides[edge.first + 1];
    const auto runs_from = [&](const TriangleSide& s) {
      return topology.welded[mesh.triangles()[s.triangle][s.corner]];
    };
    const Vec3 one = area_vector(mesh, a.triangle), two = area_vector(mesh, b.triangle);
    // Two triangles wound against each other still fold by the angle between their surfaces.
    const double along = runs_from(a) == runs_from(b) ? -dot(one, two) : dot(one, two);
    result[e] = along < least_cosine * std::sqrt(length_squared(one) * length_squared(two)) ||
                hard_seam(mesh, edge, a, b, topology.welded, least_cosine);
  }
  return result;
}

std::vector<EdgeChain> chain_edges(const Mesh& mesh, const Topology& topology, const std::vector<bool>& is_feature) {
  const Spokes spokes(mesh, topology, is_feature);
  return chains_of(topology, is_feature, spokes, [&](const EdgeChain& chain, const std::vector<bool>& used) {
    const std::uint32_t from = chain[chain.size() - 2], at = chain.back();
    std::optional<std::uint32_t> best;
    double least = kMostTurn;
    for (const std::uint32_t e : spokes.at(at)) {
      if (used[e]) continue;
      const double turn = turn_at(mesh, from, at, spokes.other_end(e, at));
      if (turn < least - 1e-9) {
        least = turn;
        best = e;
      }
    }
    return best;
  });
}

std::vector<FeatureEdge> straight_runs(const Mesh& mesh, const Topology& topology,
                                       const std::vector<bool>& is_feature) {
  const Spokes spokes(mesh, topology, is_feature);
  const auto chains =
      chains_of(topology, is_feature, spokes,
                [&](const EdgeChain& chain, const std::vector<bool>& used) -> std::optional<std::uint32_t> {
                  // An edge ends where a third one begins: that place is a corner.
                  const std::uint32_t at = chain.back();
                  const auto here = spokes.at(at);
                  if (here.size() != 2) return std::nullopt;
                  const std::uint32_t e = used[here[0]] ? here[1] : here[0];
                  // Against the whole run, so that a very fine curve is not taken for straight piece by piece.
                  if (used[e] || turn_at(mesh, chain.front(), at, spokes.other_end(e, at)) > kStraightTurn)
                    return std::nullopt;
                  return e;
                });
  std::vector<FeatureEdge> result;
  result.reserve(chains.size());
  for (const EdgeChain& c : chains)
    if (c.front() != c.back()) result.push_back({std::min(c.front(), c.back()), std::max(c.front(), c.back())});
  std::sort(result.begin(), result.end(),
            [](const FeatureEdge& x, const FeatureEdge& y) { return x.a != y.a ? x.a < y.a : x.b < y.b; });
  result.erase(std::unique(result.begin(), result.end(),
                           [](const FeatureEdge& x, const FeatureEdge& y) { return x.a == y.a && x.b == y.b; }),
               result.end());
  return result;
}

}  // namespace tack
