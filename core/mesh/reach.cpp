// How far vertices are from elements, through space and along the surface; declared in elements.h.
#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <algorithm>
#include <queue>

#include "core/math/nearest.h"
#include "core/mesh/box_tree.h"
#include "core/mesh/elements.h"

namespace tack {
namespace {

constexpr double kFar = std::numeric_limits<double>::infinity();

double to_segment(const Vec3& p, const Vec3& a, const Vec3& b) { return distance(p, nearest_on_segment(a, b, p)); }
double to_triangle(const Vec3& p, const std::array<Vec3, 3>& c) { return distance(p, nearest_on_triangle(c, p)); }

// The elements as what distances are measured from, in space.
struct Sources {
  std::vector<std::array<Vec3, 3>> corners;
  ElementKind kind;

  double from(const Vec3& p, std::size_t i) const {
    const auto& c = corners[i];
    return kind == ElementKind::Vertices ? distance(p, c[0])
           : kind == ElementKind::Edges  ? to_segment(p, c[0], c[1])
                                         : to_triangle(p, c);
  }
};

Sources sources_of(const Mesh& mesh, const Elements& elements, const Mat3& to_space) {
  const auto place = [&](std::uint32_t v) { return to_space * mesh.positions()[v]; };
  Sources sources{{}, elements.kind};
  for (const std::uint32_t n : elements.numbers) {
    if (elements.kind == ElementKind::Vertices) {
      sources.corners.push_back({place(n), place(n), place(n)});
    } else {
      const Triangle& t = mesh.triangles()[n];
      sources.corners.push_back({place(t[0]), place(t[1]), place(t[2])});
    }
  }
  for (const ElementEdge& e : elements.edges) sources.corners.push_back({place(e[0]), place(e[1]), place(e[1])});
  return sources;
}

double nearest(const Sources& sources, const BoxTree& tree, const Vec3& p, double limit) {
  double best = limit;
  nearest_item(tree, p, best, [&](std::uint32_t i) { return sources.from(p, i); });
  return best;
}

// A vertex's distance with the vertex that it is measured from.
struct Front {
  double distance = kFar;
  std::uint32_t from = 0xFFFFFFFFu;
};

// Where a front that has passed a and b reaches c, across the side between them; kFar where it comes from elsewhere.
double across(const Vec3& a, const Vec3& b, const Vec3& c, const Front& fa, const Front& fb) {
  const double side = distance(a, b);
  if (!(side > 0)) return kFar;
  const Vec3 x = (b - a) * (1 / side);
  const double cx = dot(c - a, x), cy = length(cross(c - a, x));
  if (!(cy > 0)) return kFar;
  if (fa.from == fb.from && fa.distance + fb.distance >= side) {
    // Both from one vertex: where it lies when everything is unfolded into the plane.
    const double sx = (fa.distance * fa.distance - fb.distance * fb.distance + side * side) / (2 * side);
    const double sy = -std::sqrt(std::max(0.0, fa.distance * fa.distance - sx * sx));
    const double at = sx + (cx - sx) * (-sy) / (cy - sy);
    return at >= 0 && at <= side ? std::hypot(cx - sx, cy - sy) : kFar;
  }
  const double gx = (fb.distance - fa.distance) / side;
  if (std::abs(gx) >= 1) return kFar;
  const double gy = std::sqrt(1 - gx * gx), at = cx - gx * cy / gy;
  return at >= 0 && at <= side ? fa.distance + gx * cx + gy * cy : kFar;
}

Reached in_number_order(const Mesh& mesh, const std::vector<std::pair<std::uint32_t, double>>& welded) {
  const Neighbours& n = mesh.neighbours();
  std::vector<std::pair<std::uint32_t, double>> all;
  all.reserve(welded.size());
  for (const auto& [v, d] : welded)
    for (const std::uint32_t twin : n.twins_of(v)) all.emplace_back(twin, d);
  std::sort(all.begin(), all.end());
  Reached reached;
  reached.vertices.reserve(all.size());
  reached.distances.reserve(all.size());
  for (const auto& [v, d] : all) reached.vertices.push_back(v), reached.distances.push_back(d);
  return reached;
}

}  // namespace

double share_at(double distance, double reach) {
  if (distance <= 0) return 1;
  if (distance >= reach) return 0;
  const double part = distance / reach, rest = 1 - part * part;
  return rest * rest;
}

Reached within_space(const Mesh& mesh, const Elements& elements, const Mat3& to_space, double reach) {
  const Sources sources = sources_of(mesh, elements, to_space);
  if (sources.corners.empty()) return {};
  std::vector<FloatBox> boxes;
  for (const auto& corners : sources.corners) {
    Box box;
    for (const Vec3& c : corners) box.include(c);
    boxes.push_back(outward(box));
  }
  const BoxTree tree = build_box_tree(boxes, 4);
  const auto& welded = mesh.neighbours().topology.welded;
  std::vector<double> away(welded.size(), kFar);
  tbb::parallel_for(tbb::blocked_range<std::size_t>(0, welded.size(), 1024), [&](const auto& range) {
    for (std::size_t v = range.begin(); v < range.end(); ++v)
      if (welded[v] == v) away[v] = nearest(sources, tree, to_space * mesh.positions()[v], reach);
  });
  // The elements' own vertices are at no distance, whatever rounding says.
  for (const std::uint32_t v : welded_vertices(mesh, elements)) away[v] = 0;
  std::vector<std::pair<std::uint32_t, double>> near;
  for (std::uint32_t v = 0; v < away.size(); ++v)
    if (welded[v] == v && away[v] < reach) near.emplace_back(v, away[v]);
  return in_number_order(mesh, near);
}

Reached along_surface(const Mesh& mesh, const Elements& elements, const Mat3& to_space, double reach) {
  const Neighbours& n = mesh.neighbours();
  const auto& welded = n.topology.welded;
  std::vector<Front> fronts(welded.size());
  std::vector<bool> passed(welded.size());
  using Next = std::pair<double, std::uint32_t>;
  std::priority_queue<Next, std::vector<Next>, std::greater<>> queue;
  for (const std::uint32_t v : welded_vertices(mesh, elements)) {
    fronts[v] = {0, v};
    queue.emplace(0, v);
  }
  const auto place = [&](std::uint32_t v) { return to_space * mesh.positions()[v]; };
  std::vector<std::pair<std::uint32_t, double>> near;
  while (!queue.empty()) {
    const auto [d, v] = queue.top();
    queue.pop();
    if (passed[v]) continue;
    passed[v] = true;
    near.emplace_back(v, d);
    for (const std::uint32_t t : n.triangles_of(v)) {
      Triangle corners = mesh.triangles()[t];
      for (std::uint32_t& c : corners) c = welded[c];
      for (std::size_t i = 0; i < 3; ++i) {
        const std::uint32_t c = corners[i];
        if (c == v || passed[c]) continue;
        const std::uint32_t third = corners[0] ^ corners[1] ^ corners[2] ^ c ^ v;
        Front best{d + distance(place(v), place(c)), fronts[v].from};
        if (third != v && third != c && passed[third]) {
          const double through = across(place(v), place(third), place(c), fronts[v], fronts[third]);
          if (through < best.distance) best.distance = through;
        }
        if (best.distance >= reach || best.distance >= fronts[c].distance) continue;
        fronts[c] = best;
        queue.emplace(best.distance, c);
      }
    }
  }
  return in_number_order(mesh, near);
}

}  // namespace tack
