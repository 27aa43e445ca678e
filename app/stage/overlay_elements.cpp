// Vertices, edges and faces that are taken, or would be; declared in overlay.h.
#include <QPainter>

#include "app/stage/overlay.h"
#include "app/stage/stage.h"
#include "app/theme.h"
#include "core/mesh/shares.h"

namespace tack {
namespace {

// Of more than can be told apart every so many are drawn, all over what was taken.
constexpr std::size_t kMostDrawn = 4000;
std::size_t step_through(std::size_t count) { return 1 + count / kMostDrawn; }

}  // namespace

void Overlay::paint_elements(QPainter& p, const Scene& scene, const ElementsOf& of, const QColor& ink, double width) {
  const Part* part = scene.find(of.part);
  if (!part || !part->mesh || is_hidden(scene, of.part)) return;
  const Mesh& mesh = *part->mesh;
  // What was hovered over before a step was taken back may be of a mesh that is gone.
  const std::size_t limit = of.elements.kind == ElementKind::Faces ? mesh.triangles().size() : mesh.positions().size();
  if (!of.elements.numbers.empty() && of.elements.numbers.back() >= limit) return;
  if (std::any_of(of.elements.edges.begin(), of.elements.edges.end(),
                  [&](const ElementEdge& e) { return e[1] >= limit; }))
    return;
  const Affine world = world_of(scene, of.part);
  const auto at = [&](std::uint32_t v) { return pixel(world * mesh.positions()[v]); };
  p.setRenderHint(QPainter::Antialiasing);
  if (of.elements.kind == ElementKind::Vertices) {
    for (std::size_t i = 0; i < of.elements.numbers.size(); i += step_through(of.elements.numbers.size()))
      if (const auto place = at(of.elements.numbers[i])) {
        const double half = 1.4 + width;
        p.setPen(QPen(theme().card, 1.4));
        p.setBrush(ink);
        p.drawRect(QRectF(place->x() - half, place->y() - half, 2 * half, 2 * half));
      }
    return;
  }
  const auto line = [&](std::uint32_t a, std::uint32_t b) {
    const auto from = at(a), to = at(b);
    if (!from || !to) return;
    p.setPen(QPen(theme().card, width + 2));
    p.drawLine(*from, *to);
    p.setPen(QPen(ink, width));
    p.drawLine(*from, *to);
  };
  if (of.elements.kind == ElementKind::Edges) {
    for (std::size_t i = 0; i < of.elements.edges.size(); i += step_through(of.elements.edges.size()))
      line(of.elements.edges[i][0], of.elements.edges[i][1]);
    return;
  }
  // Hatched, not tinted: what stands before them keeps its colour.
  QColor fill = ink;
  fill.setAlphaF(0.55f);
  const QBrush hatching(fill, Qt::BDiagPattern);
  const auto& numbers = of.elements.numbers;
  for (std::size_t i = 0; i < numbers.size(); i += step_through(numbers.size())) {
    QPolygonF face;
    for (const std::uint32_t v : mesh.triangles()[numbers[i]])
      if (const auto place = at(v)) face << *place;
    if (face.size() != 3) continue;
    p.setPen(Qt::NoPen);
    p.setBrush(hatching);
    p.drawPolygon(face);
  }
  // Its outline: edges that only one of the faces has.
  if (numbers.size() > 5 * kMostDrawn) return;
  const Neighbours& n = mesh.neighbours();
  const auto is_taken = [&](std::uint32_t t) { return std::binary_search(numbers.begin(), numbers.end(), t); };
  for (const std::uint32_t t : numbers)
    for (const std::uint32_t e : n.topology.edge_of[t]) {
      if (e == Topology::kNoEdge) continue;
      const MeshEdge& edge = n.topology.edges[e];
      std::uint32_t taken = 0;
      for (std::uint32_t s = 0; s < edge.count; ++s) taken += is_taken(n.topology.sides[edge.first + s].triangle);
      if (taken == 1 || edge.count == 1) line(edge.low, edge.high);
    }
}

// What is near and goes along: the fainter the less.
void Overlay::paint_shares(QPainter& p, const Scene& scene, const Patch& patch) {
  for (const PatchOf& of : patch.of) {
    const Part* part = scene.find(of.part);
    if (!part || !part->mesh || part->mesh->positions().size() != of.vertices) continue;
    const Affine world = world_of(scene, of.part);
    const auto& shares = *of.shares;
    for (std::size_t i = 0; i < shares.vertices.size(); i += step_through(shares.vertices.size())) {
      if (shares.shares[i] == 1) continue;
      const auto at = pixel(world * part->mesh->positions()[shares.vertices[i]]);
      if (!at) continue;
      QColor ink = theme().from;
      ink.setAlphaF(static_cast<float>(0.15 + 0.85 * shares.shares[i]));
      p.setPen(Qt::NoPen);
      p.setBrush(ink);
      p.drawEllipse(*at, 2.6, 2.6);
    }
  }
}

void Overlay::paint_taken(QPainter& p, const Marks& marks) {
  const Scene& scene = stage_.compared_ ? *stage_.compared_ : marks.shown ? *marks.shown : stage_.store_.scene();
  const auto& hovered = stage_.hovered_element_;
  if (hovered && pane_ == stage_.active_pane() && stage_.bench_.draft().pick_of() != PickOf::Parts) {
    // The edges of the part under the pointer, so that one sees what there is.
    const Part* part = scene.find(hovered->part);
    if (part && part->mesh && part->mesh->triangles().size() < kMostDrawn) {
      const Affine world = world_of(scene, hovered->part);
      QColor ink = theme().soft;
      ink.setAlphaF(0.55f);
      p.setPen(QPen(ink, 0.8));
      for (const ElementEdge& e : all_of(*part->mesh, ElementKind::Edges).edges) {
        const auto a = pixel(world * part->mesh->positions()[e[0]]), b = pixel(world * part->mesh->positions()[e[1]]);
        if (a && b) p.drawLine(*a, *b);
      }
    }
    paint_elements(p, scene, *hovered, theme().to, 2);
  }
  for (const PartId id : stage_.store_.picked()) {
    const Part* part = scene.find(id);
    if (!part || !part->patch) continue;
    paint_shares(p, scene, *part->patch);
    for (const PatchOf& of : part->patch->of) paint_elements(p, scene, {of.part, of.elements}, theme().from, 2.4);
  }
}

// The brush as a ring as wide as it is, dotted where it stands, and the way that the stroke has gone so far.
void Overlay::paint_brush(QPainter& p) {
  const Drafting& draft = stage_.bench_.draft();
  if (!draft.brushes()) return;
  p.setRenderHint(QPainter::Antialiasing);
  if (draft.dragging()) {
    const auto& brush = std::get<Brush>(draft.draft().verb);
    const Affine world = world_of(stage_.store_.scene(), brush.part);
    QPolygonF line;
    for (const StrokePlace& place : brush.stroke.items())
      if (const auto at = pixel(world * place.at)) line << *at;
    QColor ink = theme().from;
    ink.setAlphaF(0.5f);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(ink, 2, Qt::DotLine, Qt::RoundCap));
    p.drawPolyline(line);
  }
  if (pane_ != stage_.active_pane() || !stage_.brush_at_) return;
  const auto at = pixel(*stage_.brush_at_);
  const double radius = draft.brush_width() / 2 * view_.pixels_per_mm(*stage_.brush_at_);
  if (!at || !(radius > 0)) return;
  p.setBrush(Qt::NoBrush);
  for (const auto& [width, ink] : {std::pair{3.6, theme().card}, {1.4, theme().from}}) {
    p.setPen(QPen(ink, width));
    p.drawEllipse(*at, radius, radius);
    p.drawLine(*at - QPointF(3, 0), *at + QPointF(3, 0));
    p.drawLine(*at - QPointF(0, 3), *at + QPointF(0, 3));
  }
}

}  // namespace tack
