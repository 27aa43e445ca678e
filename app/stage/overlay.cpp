#include "app/stage/overlay.h"

#include <QPainter>
#include <QPainterPath>

#include "app/stage/stage.h"
#include "app/text.h"
#include "app/theme.h"

namespace tack {
namespace {

// The piece of a line inside a rectangle (Liang and Barsky, 1984); nullopt when none is.
std::optional<QLineF> clipped(const QLineF& line, const QRectF& rect) {
  double from = 0, to = 1;
  const auto cut = [&](double way, double room) {
    if (way == 0) return room >= 0;
    const double at = room / way;
    if (way < 0)
      from = std::max(from, at);
    else
      to = std::min(to, at);
    return from <= to;
  };
  if (!cut(-line.dx(), line.x1() - rect.left()) || !cut(line.dx(), rect.right() - line.x1()) ||
      !cut(-line.dy(), line.y1() - rect.top()) || !cut(line.dy(), rect.bottom() - line.y1()))
    return std::nullopt;
  return QLineF(line.pointAt(from), line.pointAt(to));
}

}  // namespace

Overlay::Overlay(Stage& stage) : QWidget(&stage), stage_(stage) {
  setAttribute(Qt::WA_TransparentForMouseEvents);
  setAttribute(Qt::WA_NoSystemBackground);
  setFocusPolicy(Qt::NoFocus);
}

void Overlay::paint_pin(QPainter& p, QPointF at) const {
  // A solid pin whose tip is the place itself.
  QPainterPath pin;
  pin.moveTo(0, 0);
  pin.lineTo(-6, -15);
  pin.arcTo(QRectF(-8.5, -29.5, 17, 17), 225, -270);
  pin.closeSubpath();
  p.save();
  p.translate(at);
  p.setPen(QPen(theme().card, 1.5));
  p.setBrush(theme().from);
  p.drawPath(pin);
  p.setPen(Qt::NoPen);
  p.setBrush(theme().card);
  p.drawEllipse(QPointF(0, -21), 2.8, 2.8);
  p.restore();
}

void Overlay::paint_ring(QPainter& p, QPointF at) const {
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme().card, 5.5));
  p.drawEllipse(at, 9, 9);
  p.setPen(QPen(theme().to, 3));
  p.drawEllipse(at, 9, 9);
  p.setPen(Qt::NoPen);
  p.setBrush(theme().to);
  p.drawEllipse(at, 2, 2);
}

void Overlay::paint_tag(QPainter& p, QPointF at, const QString& text, const QColor& role, bool above) {
  const QFont font = ui_font(1, QFont::DemiBold);
  const QFontMetricsF metrics(font);
  const double w = metrics.horizontalAdvance(text) + 16, h = metrics.height() + 7;
  QRectF box(at.x() + 16, above ? at.y() - 15 - h : at.y() + 8, w, h);
  // Inside the stage, and not over another tag.
  if (box.right() > view_.width - 6) box.moveRight(at.x() - 16);
  if (box.left() < 6) box.moveLeft(6);
  if (box.bottom() > view_.height - 6) box.moveBottom(at.y() - 12);
  if (box.top() < 6) box.moveTop(at.y() + 14);
  for (const QRectF& other : taken_)
    if (other.intersects(box)) box.moveTop(other.bottom() + 4);
  taken_ << box;
  p.setPen(QPen(role, 1));
  p.setBrush(theme().card);
  p.drawRoundedRect(box, 3, 3);
  p.setFont(font);
  p.drawText(box, Qt::AlignCenter, text);
}

void Overlay::paint_pill(QPainter& p, QPointF at, const QString& text, const QColor& hue) {
  const QFont font = number_font(1);
  const QFontMetricsF metrics(font);
  const QSizeF size(metrics.horizontalAdvance(text) + 22, metrics.height() + 8);
  QRectF box(at - QPointF(size.width() / 2, size.height() / 2), size);
  box.moveLeft(std::clamp(box.left(), 6.0, std::max(6.0, view_.width - size.width() - 6)));
  box.moveTop(std::clamp(box.top(), 6.0, std::max(6.0, view_.height - size.height() - 6)));
  taken_ << box;
  p.setPen(QPen(theme().hair, 1));
  p.setBrush(theme().card);
  p.drawRoundedRect(box, size.height() / 2, size.height() / 2);
  p.setPen(hue);
  p.setFont(font);
  p.drawText(box, Qt::AlignCenter, text);
}

void Overlay::paint_corner(QPainter& p) const {
  // Which way the axes run, told by their letters; and what one square of the grid is.
  const View& view = view_;
  const QPointF centre(46, view_.height - 48);
  p.setFont(ui_font(0.92, QFont::DemiBold));
  for (int axis = 0; axis < 3; ++axis) {
    const Vec3 direction{axis == 0 ? 1.0 : 0, axis == 1 ? 1.0 : 0, axis == 2 ? 1.0 : 0};
    const QPointF tip = centre + QPointF(dot(view.right(), direction), -dot(view.up(), direction)) * 24;
    p.setPen(QPen(theme().axis[axis], 1.6));
    p.drawLine(centre, tip);
    const QPointF out = centre + (tip - centre) * 1.36;
    p.drawText(QRectF(out.x() - 10, out.y() - 9, 20, 18), Qt::AlignCenter, QString("XYZ").mid(axis, 1));
  }
  const double spacing = grid_spacing_for(view, stage_.camera_of(pane_).target);
  const Shown shown = show_length(spacing, stage_.store_.unit(), 3);
  p.setPen(theme().soft);
  p.setFont(ui_font(0.94));
  p.drawText(QRectF(92, view_.height - 30, 260, 20), Qt::AlignLeft | Qt::AlignVCenter,
             QString("one square %1%2").arg(shown.exact ? "" : "≈ ", QString::fromStdString(shown.text)));
}

void Overlay::paint_drop_line(QPainter& p) const {
  const Store& store = stage_.store_;
  const VerbId verb = stage_.bench_.draft().row();
  if (store.picked().size() != 1 || verb == id_of<Pick> || verb == id_of<Measure>) return;
  const Part* part = store.scene().find(store.picked().front());
  if (!part) return;
  const Vec3 pivot = world_of(store.scene(), store.picked().front()) * part->placement.pivot;
  const auto top = pixel(pivot), foot = pixel({pivot.x, pivot.y, 0});
  if (!top || !foot || QLineF(*top, *foot).length() < 4) return;
  p.setPen(QPen(theme().axis[2], 1.1));
  p.drawLine(*top, *foot);
  p.drawLine(*foot + QPointF(-5, 0), *foot + QPointF(5, 0));
  p.setFont(number_font(0.9));
  p.drawText(*foot + QPointF(8, -4), QString::fromStdString(show_length(pivot.z, store.unit(), 2).text));
}

// Guides as thin chain lines: a cross, a long line, the border of a square with its diagonals' middle.
void Overlay::paint_guides(QPainter& p, const Marks& marks) const {
  const Store& store = stage_.store_;
  const CatchScene& scene = stage_.catch_scene();
  for (const std::uint32_t number : scene.guides) {
    const CatchPart& part = scene.parts[number];
    const Affine world = marks.shown && marks.shown->contains(part.id) ? world_of(*marks.shown, part.id) : part.world;
    QPen pen(theme().ink, store.is_picked(part.id) ? 2.2 : 1.2, Qt::CustomDashLine);
    pen.setDashPattern({10, 3, 2, 3});
    const auto line = [&](const Vec3& a, const Vec3& b) {
      const auto ends = view_.project(world * a, world * b);
      if (!ends) return;
      // What lies far outside the picture is cut off before it is drawn: dashes of kilometres take long.
      QLineF whole(QPointF((*ends)[0].x, (*ends)[0].y), QPointF((*ends)[1].x, (*ends)[1].y));
      const auto shown = clipped(whole, QRectF(-8, -8, view_.width + 16, view_.height + 16));
      if (shown) p.drawLine(*shown);
    };
    p.setPen(pen);
    if (part.guide == GuideKind::Line) line({0, 0, -kGuideLine}, {0, 0, kGuideLine});
    if (part.guide == GuideKind::Plane) {
      const double s = kGuidePlane;
      const Vec3 corners[] = {{-s, -s, 0}, {s, -s, 0}, {s, s, 0}, {-s, s, 0}};
      for (std::size_t i = 0; i < 4; ++i) line(corners[i], corners[(i + 1) % 4]);
    }
    const auto at = pixel(world.translation);
    if (!at) continue;
    p.setPen(QPen(theme().ink, store.is_picked(part.id) ? 2.2 : 1.4));
    p.drawLine(*at - QPointF(5, 5), *at + QPointF(5, 5));
    p.drawLine(*at - QPointF(5, -5), *at + QPointF(5, -5));
  }
}

// Kept tacks as small diamonds, with their names where there are few.
void Overlay::paint_kept(QPainter& p) const {
  if (!stage_.bench_.draft().shows_kept()) return;
  constexpr std::size_t kMost = 3000, kNamed = 24;
  struct Mark {
    QPointF at;
    QString name;
  };
  std::vector<Mark> marks;
  // Joints that have met lie upon each other: one mark with the names of all.
  const auto place = [&](QPointF at, const QString& name) {
    for (Mark& other : marks)
      if (QLineF(other.at, at).length() < 4) {
        if (!other.name.split(" · ").contains(name)) other.name += " · " + name;
        return;
      }
    marks.push_back({at, name});
  };
  const CatchScene& scene = stage_.catch_scene();
  for (const std::uint32_t number : scene.kept) {
    const CatchPart& part = scene.parts[number];
    for (const KeptTack& kept : *part.kept) {
      const auto at = pixel(part.world * kept.point);
      if (!at || at->x() < 0 || at->y() < 0 || at->x() > view_.width || at->y() > view_.height) continue;
      place(*at, label_of(kept.name));
      if (marks.size() == kMost) break;
    }
    if (marks.size() == kMost) break;
  }
  p.setFont(ui_font(0.9));
  QList<QRectF> named;
  for (const Mark& mark : marks) {
    const QPolygonF diamond{
        {mark.at + QPointF(0, -5), mark.at + QPointF(5, 0), mark.at + QPointF(0, 5), mark.at + QPointF(-5, 0)}};
    p.setPen(QPen(theme().ink, 1.3));
    p.setBrush(theme().card);
    p.drawPolygon(diamond);
    if (marks.size() > kNamed) continue;
    const QRectF box(mark.at.x() + 8, mark.at.y() - 20, QFontMetricsF(p.font()).horizontalAdvance(mark.name) + 6, 16);
    // A name that would stand on another is left to the pointer.
    if (std::any_of(named.begin(), named.end(), [&](const QRectF& other) { return other.intersects(box); })) continue;
    named << box;
    QColor card = theme().card;
    card.setAlphaF(0.8f);
    p.fillRect(box, card);
    p.setPen(theme().ink);
    p.drawText(box, Qt::AlignCenter, mark.name);
  }
}

// Ties that are apart: from where From is to where it should be, two bars facing each other across the gap, and how
// far.
void Overlay::paint_drifted(QPainter& p) {
  constexpr int kMost = 200;
  int drawn = 0;
  const auto& states = stage_.bench_.tie_states();
  for (std::size_t i = 0; i < states.size() && drawn < kMost; ++i) {
    const TieState& state = states[i];
    if (state.kind != TieState::Kind::Apart) continue;
    const auto from = pixel(state.from), to = pixel(state.target);
    if (!from || !to) continue;
    ++drawn;
    const QPointF middle = (*from + *to) / 2;
    QPointF along = *to - *from;
    const double apart = std::hypot(along.x(), along.y());
    along = apart > 1 ? along / apart : QPointF(1, 0);
    const QPointF side(-along.y(), along.x());
    for (const auto& [width, hue] : {std::pair{4.5, theme().card}, {2.0, theme().drifting}}) {
      p.setPen(QPen(hue, width, Qt::SolidLine, Qt::RoundCap));
      for (const double way : {-1.0, 1.0}) {
        const QPointF bar = middle + along * (way * std::max(4.0, apart / 2));
        p.drawLine(bar - side * 6, bar + side * 6);
        p.drawLine(bar, bar + along * (way * 6));
      }
    }
    // The one that is looked at has its words in the middle of its dashed line already; others give way to what is
    // written there, and to each other.
    const auto& ties = stage_.store_.scene().ties();
    if (i < ties.size() && ties[i].name == stage_.bench_.looked_at_tie()) continue;
    const QString words =
        QString::fromStdString(state.gap > kTouch ? show_length(state.gap, stage_.store_.unit(), 3).text
                                                  : state_words(state, stage_.store_.unit()));
    const QFontMetricsF metrics(number_font(1));
    const QRectF box(middle.x() + 12, middle.y() + 8, metrics.horizontalAdvance(words) + 12, metrics.height() + 5);
    if (std::any_of(taken_.begin(), taken_.end(), [&](const QRectF& r) { return r.intersects(box); })) continue;
    taken_ << box;
    paint_label(p, {box.left(), box.bottom() - 2}, words, theme().drifting);
  }
}

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
void Overlay::paint_ruler(QPainter& p, const Vec3& from, const Vec3& to, const QColor& hue, double tick,
                          double width) const {
  const View& view = view_;
  const auto a = pixel(from), b = pixel(to);
  if (!a || !b) return;
  const QLineF line(*a, *b);
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

void Overlay::paint_handles(QPainter& p) const {
  const Drafting& draft = stage_.bench_.draft();
  if (draft.dragging()) return;
  const bool active = pane_ == stage_.active_pane();
  const std::vector<Handle> handles = draft.handles(view_);
  for (std::size_t i = 0; i < handles.size(); ++i) {
    const Handle& h = handles[i];
    const bool hot = active && static_cast<int>(i) == stage_.hovered_handle_;
    const QColor hue = hue_of(axis_of(h));
    const double width = hot ? 2.6 : 1.5;
    const QString text = h.kind != Handle::Kind::Pad || hot ? draft.handle_text(h) : QString();
    switch (h.kind) {
      case Handle::Kind::Ruler: paint_ruler(p, h.line.front(), h.line.back(), hue, 0, width); break;
      case Handle::Kind::Corner: paint_polyline(p, h.line, theme().ink, width, Qt::SolidLine); break;
      case Handle::Kind::Ring: paint_polyline(p, h.line, theme().ink, width, Qt::SolidLine); break;
      case Handle::Kind::Arc: paint_arc(p, h.at, h.line, hue, width); break;
      case Handle::Kind::Pad: {
        const auto at = pixel(h.at);
        if (!at) break;
        const double r = hot ? 5.5 : 3.6;
        p.setPen(QPen(theme().ink, 1.2));
        p.setBrush(hot ? theme().ink : theme().card);
        p.drawRect(QRectF(*at - QPointF(r, r), QSizeF(2 * r, 2 * r)));
        if (hot && !text.isEmpty()) paint_label(p, *at + QPointF(10, -10), text, theme().ink);
        break;
      }
    }
    if (h.kind == Handle::Kind::Pad || h.line.empty() || text.isEmpty()) continue;
    // Letters stand at the ends.
    const auto tip = pixel(h.line.back()),
               foot = pixel(h.kind == Handle::Kind::Arc ? h.line[h.line.size() - 3] : h.line.front());
    if (!tip || !foot) continue;
    const QLineF out(*foot, *tip);
    const QPointF at = out.length() > 1 ? *tip + (*tip - *foot) / out.length() * 11 : *tip;
    p.setFont(ui_font(1, QFont::DemiBold));
    p.setPen(hue);
    p.drawText(QRectF(at.x() - 10, at.y() - 9, 20, 18), Qt::AlignCenter, text);
  }
}

// The short list beside the pointer, with the chosen row on a band.
void Overlay::paint_short_list(QPainter& p) const {
  const Stage::ShortList list = stage_.short_list();
  if (list.rows.isEmpty()) return;
  p.setFont(ui_font(0.94));
  const QFontMetricsF metrics(p.font());
  const double line = std::ceil(metrics.height() + 3);
  double width = 60;
  for (const QString& row : list.rows) width = std::max(width, metrics.horizontalAdvance(row));
  QRectF card(stage_.last_at_ + QPointF(24, 24), QSizeF(width + 22, line * static_cast<double>(list.rows.size()) + 10));
  if (card.right() > view_.width - 6) card.moveRight(std::min(view_.width - 6, stage_.last_at_.x() - 24));
  if (card.bottom() > view_.height - 6) card.moveBottom(view_.height - 6);
  p.setPen(QPen(theme().hair, 1));
  p.setBrush(theme().card);
  p.drawRoundedRect(card, 3, 3);
  for (int i = 0; i < list.rows.size(); ++i) {
    const QRectF row(card.left() + 1, card.top() + 5 + line * i, card.width() - 2, line);
    const bool chosen = i == list.chosen;
    if (chosen) p.fillRect(row, theme().ink);
    p.setPen(chosen ? theme().card : i < list.seen ? theme().ink : theme().soft);
    p.drawText(row.adjusted(10, 0, -10, 0), Qt::AlignLeft | Qt::AlignVCenter, list.rows[i]);
  }
}

// The ghost of the box whose points the pads are.
void Overlay::paint_box(QPainter& p, const Marks& marks) const {
  QColor hue = theme().ink;
  hue.setAlphaF(0.45f);
  p.setPen(QPen(hue, 1, Qt::DashLine));
  for (const auto& [a, b] : marks.box)
    if (const auto from = pixel(a), to = pixel(b); from && to) p.drawLine(*from, *to);
}

// Text with a light card behind it.
void Overlay::paint_label(QPainter& p, QPointF at, const QString& text, const QColor& hue) const {
  p.setFont(number_font(1));
  const QFontMetricsF metrics(p.font());
  QRectF box(at.x(), at.y() - metrics.height() - 3, metrics.horizontalAdvance(text) + 12, metrics.height() + 5);
  if (box.right() > view_.width - 6) box.moveRight(view_.width - 6);
  if (box.top() < 6) box.moveTop(6);
  p.setPen(QPen(hue, 1));
  p.setBrush(theme().card);
  p.drawRoundedRect(box, 3, 3);
  p.drawText(box, Qt::AlignCenter, text);
}

void Overlay::paint_gauges(QPainter& p, const Marks& marks) const {
  for (const Gauges::Ruler& r : marks.gauges.rulers) {
    paint_ruler(p, r.from, r.to, hue_of(r.axis), r.tick, 2.2);
    if (const auto tip = pixel(r.to))
      paint_label(p, *tip + QPointF(12, -6), QString::fromStdString(r.text), hue_of(r.axis));
  }
  if (marks.gauges.arc) {
    const Gauges::Arc& arc = *marks.gauges.arc;
    const std::vector<Vec3> points = arc_points(arc.centre, arc.axis, arc.start, arc.degrees);
    paint_arc(p, arc.centre, points, hue_of(arc.hue), 2.2);
    paint_polyline(p, {arc.centre, points.front()}, theme().soft, 1.1, Qt::DashLine);
    paint_polyline(p, {arc.centre, points.back()}, hue_of(arc.hue), 1.5, Qt::SolidLine);
    if (const auto tip = pixel(points.back()))
      paint_label(p, *tip + QPointF(14, -6), QString::fromStdString(arc.text), hue_of(arc.hue));
  }
  if (marks.gauges.still)
    if (const auto at = pixel(*marks.gauges.still)) {
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(theme().ink, 1.6));
      p.drawEllipse(*at, 6, 6);
      p.drawLine(*at - QPointF(10, 0), *at + QPointF(10, 0));
      p.drawLine(*at - QPointF(0, 10), *at + QPointF(0, 10));
    }
}

std::optional<QPointF> Overlay::pixel(const Vec3& world) const {
  const auto px = view_.project(world);
  return px ? std::optional(QPointF(px->x, px->y)) : std::nullopt;
}

void Overlay::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  for (pane_ = 0; pane_ < stage_.view_count(); ++pane_) {
    const QRect rect = stage_.pane_rect(pane_);
    view_ = stage_.view_of_pane(pane_);
    p.save();
    p.setClipRect(rect);
    p.translate(rect.topLeft());
    paint_pane(p);
    p.restore();
    if (stage_.view_count() < 2) continue;
    // The pane that keys and menus mean has a line of ink about it.
    const bool active = pane_ == stage_.active_pane();
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(active ? theme().ink : theme().hair, active ? 1.6 : 1));
    p.drawRect(QRectF(rect).adjusted(0.5, 0.5, -0.5, -0.5));
  }
}

void Overlay::paint_pane(QPainter& p) {
  taken_.clear();
  const bool active = pane_ == stage_.active_pane();
  paint_corner(p);
  paint_drop_line(p);
  const Marks& marks = stage_.bench_.marks();
  paint_guides(p, marks);
  paint_kept(p);
  paint_box(p, marks);
  paint_handles(p);
  paint_gauges(p, marks);
  const auto from = marks.from ? pixel(marks.from->point) : std::nullopt;
  const auto to = marks.to ? pixel(marks.to->point) : std::nullopt;
  if (from && to && marks.joined) {
    p.setPen(QPen(theme().card, 3));
    p.drawLine(*from, *to);
    p.setPen(QPen(theme().ink, 1.3, Qt::CustomDashLine));
    QPen dashed(theme().ink, 1.3);
    dashed.setDashPattern({4, 4});
    p.setPen(dashed);
    p.drawLine(*from, *to);
  }
  for (const auto& [pair_from, pair_to] : marks.pairs) {
    if (const auto at = pixel(pair_to)) paint_ring(p, *at);
    if (const auto at = pixel(pair_from)) paint_pin(p, *at);
  }
  if (to) paint_ring(p, *to);
  if (from) paint_pin(p, *from);
  // The short list names what is hovered over already.
  const bool listed = active && !stage_.short_list().rows.isEmpty();
  if (to && !listed) paint_tag(p, *to, marks.to->name, theme().to, true);
  if (from && !listed) paint_tag(p, *from, marks.from->name, theme().from, false);
  // What is left apart is said even where the two places coincide on the picture: there above all.
  const bool apart = marks.tone == Tone::Apart;
  if (from && to && (apart || (marks.joined && QLineF(*from, *to).length() > 60)))
    paint_pill(p, apart ? *to + QPointF(0, 52) : (*from + *to) / 2, marks.distance,
               apart ? theme().drifting : theme().ink);
  paint_drifted(p);
  if (active) paint_short_list(p);
  if (active && stage_.gesture_ == Stage::Gesture::Rectangle) {
    QColor wash = theme().ink;
    wash.setAlphaF(0.07f);
    p.setPen(QPen(theme().ink, 1, Qt::DashLine));
    p.setBrush(wash);
    p.drawRect(QRectF(stage_.pressed_at_, stage_.last_at_).normalized());
  }
}

}  // namespace tack
