#include "core/mesh/stroke.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_map>
#include <unordered_set>

#include "core/math/nearest.h"
#include "core/mesh/mesh_index.h"

namespace tack {
namespace {

// One stroke over one mesh, in a space whose lengths are millimetres.
class Brushed {
 public:
  Brushed(const Mesh& mesh, const Mat3& to_space, double reach)
      : mesh_(mesh), n_(mesh.neighbours()), to_space_(to_space), reach_(reach) {}

  // The brush is put down on a triangle.
  void put_down(std::uint32_t triangle, const Vec3& at) {
    under_ = {triangle};
    go_over(at, at);
  }
  // It goes straight on; false where it leaves the surface on the way.
  bool go_on(const Vec3& from, const Vec3& to) {
    const double way = distance(from, to);
    if (way > kFarthest * reach_) return false;
    // A quarter of a radius at a time: what is under the brush is then next to what was, and at the rim nothing is
    // missed that would count by a thousandth.
    const int steps = static_cast<int>(std::ceil(way / (0.25 * reach_)));
    Vec3 before = from;
    for (int k = 1; k <= steps; ++k) {
      const Vec3 at = from + (to - from) * (static_cast<double>(k) / steps);
      go_over(before, at);
      if (under_.empty()) return false;
      before = at;
    }
    return true;
  }

  Shares shares() const {
    std::vector<std::pair<std::uint32_t, double>> all;
    for (const auto& [welded, d] : nearest_)
      for (const std::uint32_t v : n_.twins_of(welded))
        if (const double share = share_at(d, reach_); share > 0) all.emplace_back(v, share);
    std::sort(all.begin(), all.end());
    std::vector<std::uint32_t> vertices;
    std::vector<double> shares;
    for (const auto& [v, share] : all) {
      vertices.push_back(v);
      shares.push_back(share);
    }
    return shares_with(mesh_, std::move(vertices), std::move(shares));
  }

 private:
  static constexpr double kFarthest = 20;  // radii from place to place: beyond, the brush was lifted

  std::array<Vec3, 3> corners(std::uint32_t t) const {
    auto c = mesh_.corners(t);
    for (Vec3& p : c) p = to_space_ * p;
    return c;
  }

  // From the triangles that were under the brush on to all that it touches now, having come straight from `before`.
  void go_over(const Vec3& before, const Vec3& at) {
    std::vector<std::uint32_t> pending;
    std::unordered_set<std::uint32_t> seen;
    const auto look = [&](std::uint32_t t) {
      if (seen.insert(t).second && distance(nearest_on_triangle(corners(t), at), at) <= reach_) pending.push_back(t);
    };
    for (const std::uint32_t t : under_) look(t);
    under_.clear();
    while (!pending.empty()) {
      const std::uint32_t t = pending.back();
      pending.pop_back();
      under_.push_back(t);
      for (const std::uint32_t corner : mesh_.triangles()[t]) {
        const std::uint32_t v = n_.topology.welded[corner];
        const Vec3 p = to_space_ * mesh_.positions()[v];
        const double d = distance(nearest_on_segment(before, at, p), p);
        if (d >= reach_) continue;
        const auto [known, is_new] = nearest_.try_emplace(v, d);
        if (!is_new) known->second = std::min(known->second, d);
      }
      for (const std::uint32_t e : n_.topology.edge_of[t]) {
        if (e == Topology::kNoEdge) continue;
        const MeshEdge& edge = n_.topology.edges[e];
        for (std::uint32_t s = 0; s < edge.count; ++s) look(n_.topology.sides[edge.first + s].triangle);
      }
    }
  }

  const Mesh& mesh_;
  const Neighbours& n_;
  const Mat3& to_space_;
  double reach_;
  std::vector<std::uint32_t> under_;                   // triangles
  std::unordered_map<std::uint32_t, double> nearest_;  // of each welded vertex how near the brush came
};

}  // namespace

std::vector<StrokePlace> found_on(const Mesh& mesh, std::span<const StrokePlace> stroke, const Mat3& to_space,
                                  double reach) {
  const double near = 1e-6 * mesh.box().extent();
  const auto off = [&](std::uint32_t t, const Vec3& p) { return distance(nearest_on_triangle(mesh.corners(t), p), p); };
  std::vector<StrokePlace> found;
  for (const StrokePlace& place : stroke) {
    if (place.triangle < mesh.triangles().size() && off(place.triangle, place.at) <= near) {
      found.push_back(place);
      continue;
    }
    double best = std::numeric_limits<double>::infinity();
    const std::uint32_t t =
        nearest_item(mesh.index().triangles, place.at, best, [&](std::uint32_t i) { return off(i, place.at); });
    if (t == kNoItem) continue;
    const Vec3 on = nearest_on_triangle(mesh.corners(t), place.at);
    if (length(to_space * (on - place.at)) < reach) found.push_back({t, on});
  }
  return found;
}

Shares shares_of_stroke(const Mesh& mesh, std::span<const StrokePlace> stroke, const Mat3& to_space, double reach) {
  Brushed brushed(mesh, to_space, reach);
  for (std::size_t i = 0; i < stroke.size(); ++i) {
    const Vec3 at = to_space * stroke[i].at;
    if (i == 0 || !brushed.go_on(to_space * stroke[i - 1].at, at)) brushed.put_down(stroke[i].triangle, at);
  }
  return brushed.shares();
}

}  // namespace tack
