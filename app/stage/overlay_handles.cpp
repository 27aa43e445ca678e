// Rulers, arcs, dimension lines and what grows in a drag, as the overlay paints them; declared in overlay.h.
#include <QPainter>

#include "app/stage/overlay.h"
#include "app/stage/stage.h"
#include "app/theme.h"

namespace tack {
namespace {

QColor hue_of(int axis) { return axis >= 0 && axis < 3 ? theme().axis[axis] : theme().ink; }

int axis_of(const Handle& handle) {
  int axis = -1, count = 0;
  for (int i = 0; i < 3; ++i)
    if (handle.axes[static_cast<std::size_t>(i)]) axis = i, ++count;
  return count == 1 ? axis : -1;
}

}  // namespace

// A thin ruler: a line with ticks across it, a little longer at every fifth.
void Overlay::paint_ruler(QPainter& p, const Vec3& from, const Vec3& to, const QColor& hue, double tick, double width) {
  const View& view = view_;
  const auto a = pixel(from), b = pixel(to);
  if (!a || !b) return;
  const QLineF line(*a, *b);
  now().keep_clear(*a, *b);
  p.setPen(QPen(theme().card, width + 2.4));
  p.drawLine(line);
  p.setPen(QPen(hue, width, Qt::SolidLine, Qt::FlatCap));
  p.drawLine(line);
  const double length_mm = distance(from, to);
  if (!(tick > 0)) tick = tick_spacing(view.pixels_per_mm(from), 7);
  if (!(length_mm > 0) || length_mm / tick > 400 || line.length() < 8) return;
  const QPointF side = QPointF(-line.dy(), line.dx()) / line.length();
  p.setPen(QPen(hue, 1));
  for (int k = 1; k * tick <= length_mm * (1 + 1e-9); ++k) {
    const auto at = pixel(from + (to - from) * (k * tick / length_mm));
    if (at) p.drawLine(*at, *at + side * (k % 5 == 0 ? 7.0 : 4.0));
  }
}

void Overlay::paint_polyline(QPainter& p, const std::vector<Vec3>& points, const QColor& hue, double width,
                             Qt::PenStyle style) const {
  QPolygonF line;
  for (const Vec3& point : points)
    if (const auto at = pixel(point)) line << *at;
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme().card, width + 2.4));
  p.drawPolyline(line);
  p.setPen(QPen(hue, width, style));
  p.drawPolyline(line);
}

// The ruler bent into an arc, graduated every 5°, a longer stroke every 15°.
void Overlay::paint_arc(QPainter& p, const Vec3& centre, const std::vector<Vec3>& points, const QColor& hue,
                        double width) const {
  paint_polyline(p, points, hue, width, Qt::SolidLine);
  const auto middle = pixel(centre);
  if (!middle || points.size() < 2) return;
  p.setPen(QPen(hue, 1));
  for (std::size_t i = 0; i < points.size(); ++i) {
    const auto at = pixel(points[i]);
    if (!at) continue;
    const QLineF out(*middle, *at);
    if (out.length() < 1) continue;
    const double reach = i % 6 == 0 ? 7.0 : i % 2 == 0 ? 4.0 : 0;
    if (reach > 0) p.drawLine(*at, *at + (*at - *middle) / out.length() * reach);
  }
}

void Overlay::paint_handles(QPainter& p) {
  const Drafting& draft = stage_.bench_.draft();
  const bool active = pane_ == stage_.active_pane();
  const std::vector<Handle> handles = draft.dragging() ? std::vector<Handle>() : stage_.handles_offered(view_, pane_);
  const int hovered = active ? stage_.hovered_handle_ : -1;
  letters_[static_cast<std::size_t>(pane_)].clear();
  // What was hovered over may not be there any more.
  const bool there = hovered >= 0 && static_cast<std::size_t>(hovered) < handles.size();
  // An elevation has its own.
  if (!Stage::elevation_of(pane_)) paint_dimensions(p, there ? &handles[static_cast<std::size_t>(hovered)] : nullptr);
  for (std::size_t i = 0; i < handles.size(); ++i) {
    const Handle& h = handles[i];
    const bool hot = static_cast<int>(i) == hovered;
    const QColor hue = hue_of(axis_of(h));
    const double width = hot ? 2.6 : 1.5;
    const QString text =
        h.kind == Handle::Kind::Ruler || h.kind == Handle::Kind::Arc ? draft.handle_text(h) : QString();
    switch (h.kind) {
      case Handle::Kind::Ruler: paint_ruler(p, h.line.front(), h.line.back(), hue, 0, width); break;
      case Handle::Kind::Corner: paint_polyline(p, h.line, theme().ink, width, Qt::SolidLine); break;
      case Handle::Kind::Ring:
        // That of a reach is dashed, and says how far it goes.
        if (h.box == 0) {
          paint_polyline(p, h.line, theme().ink, width, Qt::SolidLine);
          break;
        }
        paint_polyline(p, h.line, theme().from, width, Qt::DashLine);
        if (const auto at = pixel(h.line.front())) add_measured(*at, draft.handle_text(h).toStdString(), theme().from);
        break;
      case Handle::Kind::Arc: paint_arc(p, h.at, h.line, hue, width); break;
      case Handle::Kind::Pad: {
        const auto at = pixel(h.at);
        if (!at) break;
        const double r = hot ? 5.5 : 3.6;
        // Of two boxes that of what moves has the colour of From, the other that of To.
        const bool pairs = draft.takes_points();
        const QColor ink = !pairs ? theme().ink : h.box == 0 ? theme().from : theme().to;
        p.setPen(QPen(ink, pairs ? 1.6 : 1.2));
        p.setBrush(hot ? ink : theme().card);
        p.drawRect(QRectF(*at - QPointF(r, r), QSizeF(2 * r, 2 * r)));
        break;
      }
      case Handle::Kind::More:
      case Handle::Kind::Less: {
        const auto at = pixel(h.at);
        if (!at) break;
        p.setPen(QPen(theme().ink, hot ? 1.8 : 1.2));
        p.setBrush(theme().card);
        p.drawEllipse(*at, 9, 9);
        now().keep_clear(QRectF(*at - QPointF(10, 10), QSizeF(20, 20)));
        p.setPen(QPen(theme().ink, hot ? 2.2 : 1.6));
        p.drawLine(*at - QPointF(4.5, 0), *at + QPointF(4.5, 0));
        if (h.kind == Handle::Kind::More) p.drawLine(*at - QPointF(0, 4.5), *at + QPointF(0, 4.5));
        break;
      }
      case Handle::Kind::End:
        // Those of dimension lines are drawn with them; the end of a ruler over copies is drawn firmly.
        if (draft.has_rulers_to_drag()) paint_polyline(p, h.line, hue, hot ? 5 : 3.4, Qt::SolidLine);
        break;
      case Handle::Kind::Value: break;  // with their dimension line
    }
    if (h.line.empty() || text.isEmpty()) continue;
    // Letters stand at the ends.
    const auto tip = pixel(h.line.back()),
               foot = pixel(h.kind == Handle::Kind::Arc ? h.line[h.line.size() - 3] : h.line.front());
    if (!tip || !foot) continue;
    const QLineF out(*foot, *tip);
    const QPointF at = out.length() > 1 ? *tip + (*tip - *foot) / out.length() * 11 : *tip;
    const QRectF box(at.x() - 10, at.y() - 9, 20, 18);
    letters_[static_cast<std::size_t>(pane_)] << box;
    now().keep_clear(box);
    p.setFont(ui_font(1, QFont::DemiBold));
    p.setPen(hue);
    p.drawText(box, Qt::AlignCenter, text);
  }
}

// As on a drawing: extension lines from the edge, the line with an arrow at each end, the length at its middle.
void Overlay::paint_dimensions(QPainter& p, const Handle* hot) {
  const Drafting& draft = stage_.bench_.draft();
  const std::vector<DimensionLine> lines = draft.dimensions(view_);
  for (const DimensionLine& line : lines) {
    const auto from = pixel(line.from), to = pixel(line.to), edge_from = pixel(line.edge_from),
               edge_to = pixel(line.edge_to);
    if (!from || !to || !edge_from || !edge_to) continue;
    const QColor hue = hue_of(static_cast<int>(line.axis));
    QColor thin = theme().ink;
    thin.setAlphaF(0.55f);
    // They begin a little off the edge and reach a little over the line.
    for (const auto& [edge, end] : {std::pair{*edge_from, *from}, std::pair{*edge_to, *to}}) {
      const QLineF out(edge, end);
      if (out.length() < 8) continue;
      const QPointF way = (end - edge) / out.length();
      p.setPen(QPen(thin, 1));
      p.drawLine(edge + way * 4, end + way * 5);
    }
    const QLineF whole(*from, *to);
    if (whole.length() < 1) continue;
    now().keep_clear(*from, *to);
    const QPointF way = (*to - *from) / whole.length(), side(-way.y(), way.x());
    const auto is_hot = [&](bool high) {
      return hot && hot->kind == Handle::Kind::End && distance(hot->at, high ? line.to : line.from) < 1e-9;
    };
    for (const auto& [width, ink] : {std::pair{4.0, theme().card}, {1.5, hue}}) {
      p.setPen(QPen(ink, width, Qt::SolidLine, Qt::FlatCap));
      p.drawLine(*from, *to);
    }
    for (const bool high : {false, true}) {
      const QPointF tip = high ? *to : *from, back = high ? -way : way;
      const double size = is_hot(high) ? 15 : 10;
      p.setPen(QPen(theme().card, 1));
      p.setBrush(hue);
      p.drawPolygon(
          QPolygonF{{tip, tip + back * size + side * (size * 0.32), tip + back * size - side * (size * 0.32)}});
    }
    const bool value_hot = hot && hot->kind == Handle::Kind::Value && distance(hot->at, line.middle()) < 1e-9;
    const QString text =
        !line.text.empty()
            ? QString::fromStdString(line.text)
            : QString("%1  %2").arg(
                  QString("XYZ").mid(static_cast<int>(line.axis), 1),
                  QString::fromStdString(
                      show_length(distance(line.edge_from, line.edge_to), stage_.store_.unit(), 3).text));
    Label label{text, (*from + *to) / 2, LabelRank::Dimension, hue, number_font(1)};
    label.centred = true;
    label.needed = true;
    label.look = value_hot ? Label::Look::Framed : Label::Look::Bare;
    now().add(label);
  }
}

// The ghost of the box whose points the pads are.
void Overlay::paint_box(QPainter& p, const Marks& marks) const {
  const bool pairs = stage_.bench_.draft().takes_points();
  const auto edges = [&](const std::vector<std::array<Vec3, 2>>& box, QColor ink) {
    ink.setAlphaF(pairs ? 0.7f : 0.45f);
    p.setPen(QPen(ink, 1, Qt::DashLine));
    for (const auto& [a, b] : box)
      if (const auto from = pixel(a), to = pixel(b); from && to) p.drawLine(*from, *to);
  };
  edges(marks.target_box, theme().to);
  edges(marks.box, pairs ? theme().from : theme().ink);
}

void Overlay::paint_gauges(QPainter& p, const Marks& marks) {
  for (const Gauges::Ruler& r : marks.gauges.rulers) {
    paint_ruler(p, r.from, r.to, hue_of(r.axis), r.tick, 2.2);
    if (const auto tip = pixel(r.to)) add_measured(*tip, r.text, hue_of(r.axis));
  }
  if (marks.gauges.arc) {
    const Gauges::Arc& arc = *marks.gauges.arc;
    const std::vector<Vec3> points = arc_points(arc.centre, arc.axis, arc.start, arc.degrees);
    paint_arc(p, arc.centre, points, hue_of(arc.hue), 2.2);
    paint_polyline(p, {arc.centre, points.front()}, theme().soft, 1.1, Qt::DashLine);
    paint_polyline(p, {arc.centre, points.back()}, hue_of(arc.hue), 1.5, Qt::SolidLine);
    if (const auto tip = pixel(points.back())) add_measured(*tip, arc.text, hue_of(arc.hue));
  }
  // Hairlines, without the light edge that keeps single lines apart from what they cross.
  p.setPen(QPen(theme().ink, 1));
  for (const auto& [a, b] : marks.gauges.outline)
    if (const auto from = pixel(a), to = pixel(b); from && to) p.drawLine(*from, *to);
  paint_agreements(p, marks);
  // The extension line of a handle that has stopped level with a place.
  if (marks.gauges.level)
    paint_polyline(p, {(*marks.gauges.level)[0], (*marks.gauges.level)[1]}, theme().to, 1.3, Qt::DashLine);
  if (marks.gauges.still)
    if (const auto at = pixel(*marks.gauges.still)) {
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(theme().ink, 1.6));
      p.drawEllipse(*at, 6, 6);
      p.drawLine(*at - QPointF(10, 0), *at + QPointF(10, 0));
      p.drawLine(*at - QPointF(0, 10), *at + QPointF(0, 10));
    }
}

// As a draughtsman draws it: a line from each of the two, and a tick across both where they agree.
void Overlay::paint_agreements(QPainter& p, const Marks& marks) {
  for (const auto& [chosen, ink] :
       {std::pair{marks.gauges.chosen_mine, theme().from}, {marks.gauges.chosen_theirs, theme().to}})
    if (const auto at = chosen ? pixel(*chosen) : std::nullopt) {
      p.setPen(QPen(theme().card, 1.5));
      p.setBrush(ink);
      p.drawRect(QRectF(*at - QPointF(6, 6), QSizeF(12, 12)));
    }
  for (const Gauges::Agreement& level : marks.gauges.agreements) {
    const auto mine = pixel(level.mine), theirs = pixel(level.theirs), mine_end = pixel(level.mine_end),
               theirs_end = pixel(level.theirs_end);
    if (!mine || !theirs || !mine_end || !theirs_end) continue;
    paint_polyline(p, {level.mine, level.mine_end}, theme().from, 1.4, Qt::SolidLine);
    paint_polyline(p, {level.theirs, level.theirs_end}, theme().to, 1.4, Qt::SolidLine);
    // The tick stands along the axis that is agreed on.
    const QColor hue = hue_of(level.axis);
    const Vec3 axis = level.mine_end == level.theirs_end ? Vec3{} : level.mine_end - level.theirs_end;
    if (!level.text.empty() && axis != Vec3{}) {
      paint_ruler(p, level.theirs_end, level.mine_end, hue, 0, 2);
      add_measured((*mine_end + *theirs_end) / 2, level.text, hue);
      continue;
    }
    const QLineF line(*mine, *theirs);
    const QPointF side = line.length() > 1 ? QPointF(-line.dy(), line.dx()) / line.length() : QPointF(0, 1);
    for (const auto& [width, ink] : {std::pair{5.0, theme().card}, {2.4, hue}}) {
      p.setPen(QPen(ink, width, Qt::SolidLine, Qt::FlatCap));
      p.drawLine(*mine_end - side * 8, *mine_end + side * 8);
    }
  }
}

}  // namespace tack
