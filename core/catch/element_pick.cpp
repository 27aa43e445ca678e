#include "core/catch/element_pick.h"

#include <cmath>

#include "core/catch/sight.h"

namespace tack {
namespace {

bool has_elements(const CatchPart& part) { return part.mesh && !part.patch && part.guide == GuideKind::None; }

const CatchPart* part_in(const CatchScene& scene, PartId id) {
  const auto at = std::find_if(scene.parts.begin(), scene.parts.end(), [&](const CatchPart& p) { return p.id == id; });
  return at == scene.parts.end() || !has_elements(*at) ? nullptr : &*at;
}

// How far a pixel is from the picture of an edge; infinite where an end is behind the eye.
double pixels_from(const View& view, const Vec3& a, const Vec3& b, double x, double y) {
  const auto p = view.project(a), q = view.project(b);
  if (!p || !q) return std::numeric_limits<double>::infinity();
  const double ux = q->x - p->x, uy = q->y - p->y, square = ux * ux + uy * uy;
  const double t = square > 0 ? std::clamp(((x - p->x) * ux + (y - p->y) * uy) / square, 0.0, 1.0) : 0;
  return std::hypot(x - p->x - ux * t, y - p->y - uy * t);
}

}  // namespace

std::optional<ElementsOf> element_at(const CatchScene& scene, const View& view, double x, double y, ElementKind kind,
                                     const std::function<bool(const MeshPtr&)>& known, double radius) {
  const auto is_known = [&](const CatchPart& part) { return !known || known(part.mesh); };
  const auto no_patch = [&](PartId id) { return part_in(scene, id) == nullptr; };
  CatchOptions options;
  options.radius = radius;
  options.leave_out = no_patch;
  if (kind == ElementKind::Vertices) {
    options.kinds = CatchKinds::only(CatchKind::Vertex);
    const auto caught = best_tack(scene, view, x, y, options);
    if (!caught || caught->address.kind != TackKind::Vertex) return std::nullopt;
    const CatchPart& of = *part_in(scene, caught->address.part);
    if (!is_known(of)) return std::nullopt;
    const Mesh& mesh = *of.mesh;
    return ElementsOf{caught->address.part, {kind, {mesh.neighbours().topology.welded[caught->address.index]}, {}}};
  }
  const auto struck = strike(scene, view, x, y, no_patch);
  const CatchPart* part = struck ? part_in(scene, struck->part) : nullptr;
  if (part && !is_known(*part)) return std::nullopt;
  if (kind == ElementKind::Faces) {
    if (!part) return std::nullopt;
    return ElementsOf{part->id, facet_of(*part->mesh, struck->triangle)};
  }
  std::optional<ElementsOf> best;
  double nearest = radius;
  if (part) {
    const Neighbours& n = part->mesh->neighbours();
    for (const std::uint32_t t : facet_of(*part->mesh, struck->triangle).numbers)
      for (const std::uint32_t e : n.topology.edge_of[t]) {
        if (e == Topology::kNoEdge || n.divides[e]) continue;
        const MeshEdge& edge = n.topology.edges[e];
        const double off = pixels_from(view, part->world * part->mesh->positions()[edge.low],
                                       part->world * part->mesh->positions()[edge.high], x, y);
        if (off >= nearest) continue;
        nearest = off;
        best = ElementsOf{part->id, {kind, {}, {{edge.low, edge.high}}}};
      }
  }
  if (best) return best;
  // Beside the outline: an edge that is seen as one.
  options.kinds = CatchKinds::only(CatchKind::Edge);
  const auto caught = best_tack(scene, view, x, y, options);
  const CatchPart* of =
      caught && caught->address.kind == TackKind::Edge ? part_in(scene, caught->address.part) : nullptr;
  if (!of || !is_known(*of)) return std::nullopt;
  const Neighbours& n = of->mesh->neighbours();
  // A feature edge may go over several of the mesh: the nearest of those at the pointer.
  double least = radius;
  for (const std::uint32_t v : {caught->address.index, caught->address.second})
    for (const std::uint32_t e : n.edges_of(n.topology.welded[v])) {
      if (n.divides[e]) continue;
      const MeshEdge& edge = n.topology.edges[e];
      const double off = pixels_from(view, of->world * of->mesh->positions()[edge.low],
                                     of->world * of->mesh->positions()[edge.high], x, y);
      if (off >= least) continue;
      least = off;
      best = ElementsOf{of->id, {kind, {}, {{edge.low, edge.high}}}};
    }
  return best;
}

std::vector<ElementsOf> elements_in_rectangle(const CatchScene& scene, const View& view, double left, double top,
                                              double right, double bottom, ElementKind kind, bool through) {
  std::vector<ElementsOf> found;
  const CatchOptions options;
  Sight sight(scene, view, options);
  for (const CatchPart& part : scene.parts) {
    if (!has_elements(part)) continue;
    // None of the eight corners on a side of the rectangle: nothing of it is in it.
    int beyond[4] = {0, 0, 0, 0}, before = 0;
    for (const Vec3& corner : part.mesh->box().corners())
      if (const auto p = view.project(part.world * corner)) {
        ++before;
        beyond[0] += p->x<left, beyond[1] += p->x> right, beyond[2] += p->y<top, beyond[3] += p->y> bottom;
      }
    if (before == 8 && (beyond[0] == 8 || beyond[1] == 8 || beyond[2] == 8 || beyond[3] == 8)) continue;
    const Mesh& mesh = *part.mesh;
    const Neighbours& n = mesh.neighbours();
    std::vector<bool> inside(mesh.positions().size());
    bool any = false;
    for (std::uint32_t v = 0; v < inside.size(); ++v) {
      if (n.topology.welded[v] != v) continue;
      const auto p = view.project(part.world * mesh.positions()[v]);
      inside[v] = p && p->x >= left && p->x <= right && p->y >= top && p->y <= bottom;
      any = any || inside[v];
    }
    if (!any) continue;
    const auto seen = [&](const Vec3& place) { return through || !sight.hidden(part.world * place); };
    Elements elements{kind, {}, {}};
    if (kind == ElementKind::Vertices) {
      for (std::uint32_t v = 0; v < inside.size(); ++v)
        if (inside[v] && seen(mesh.positions()[v])) elements.numbers.push_back(v);
    } else if (kind == ElementKind::Edges) {
      for (std::size_t e = 0; e < n.topology.edges.size(); ++e) {
        const MeshEdge& edge = n.topology.edges[e];
        if (n.divides[e] || !inside[edge.low] || !inside[edge.high]) continue;
        if (seen((mesh.positions()[edge.low] + mesh.positions()[edge.high]) * 0.5))
          elements.edges.push_back({edge.low, edge.high});
      }
    } else {
      for (std::uint32_t t = 0; t < mesh.triangles().size(); ++t) {
        const Triangle& c = mesh.triangles()[t];
        if (!std::all_of(c.begin(), c.end(), [&](std::uint32_t v) { return inside[n.topology.welded[v]]; })) continue;
        const auto corners = mesh.corners(t);
        if (seen((corners[0] + corners[1] + corners[2]) * (1.0 / 3))) elements.numbers.push_back(t);
      }
    }
    if (!elements.empty()) found.push_back({part.id, in_order(std::move(elements))});
  }
  return found;
}

}  // namespace tack
