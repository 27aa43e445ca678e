#include "app/stage/overlay.h"

#include <QPainter>
#include <QPainterPath>

#include "app/stage/stage.h"
#include "app/theme.h"

namespace tack {

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
  if (box.right() > width() - 6) box.moveRight(at.x() - 16);
  if (box.left() < 6) box.moveLeft(6);
  if (box.bottom() > height() - 6) box.moveBottom(at.y() - 12);
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

void Overlay::paint_pill(QPainter& p, QPointF at, const QString& text) const {
  const QFont font = number_font(1);
  const QFontMetricsF metrics(font);
  const QSizeF size(metrics.horizontalAdvance(text) + 22, metrics.height() + 8);
  QRectF box(at - QPointF(size.width() / 2, size.height() / 2), size);
  box.moveLeft(std::clamp(box.left(), 6.0, std::max(6.0, width() - size.width() - 6)));
  box.moveTop(std::clamp(box.top(), 6.0, std::max(6.0, height() - size.height() - 6)));
  p.setPen(QPen(theme().hair, 1));
  p.setBrush(theme().card);
  p.drawRoundedRect(box, size.height() / 2, size.height() / 2);
  p.setPen(theme().ink);
  p.setFont(font);
  p.drawText(box, Qt::AlignCenter, text);
}

void Overlay::paint_corner(QPainter& p) const {
  // Which way the axes run, told by their letters; and what one square of the grid is.
  const View view = stage_.view();
  const QPointF centre(46, height() - 48);
  p.setFont(ui_font(0.92, QFont::DemiBold));
  for (int axis = 0; axis < 3; ++axis) {
    const Vec3 direction{axis == 0 ? 1.0 : 0, axis == 1 ? 1.0 : 0, axis == 2 ? 1.0 : 0};
    const QPointF tip = centre + QPointF(dot(view.right(), direction), -dot(view.up(), direction)) * 24;
    p.setPen(QPen(theme().axis[axis], 1.6));
    p.drawLine(centre, tip);
    const QPointF out = centre + (tip - centre) * 1.36;
    p.drawText(QRectF(out.x() - 10, out.y() - 9, 20, 18), Qt::AlignCenter, QString("XYZ").mid(axis, 1));
  }
  const double spacing = grid_spacing_for(view, stage_.camera().target);
  const Shown shown = show_length(spacing, stage_.store_.unit(), 3);
  p.setPen(theme().soft);
  p.setFont(ui_font(0.94));
  p.drawText(QRectF(92, height() - 30, 260, 20), Qt::AlignLeft | Qt::AlignVCenter,
             tr("one square %1%2").arg(shown.exact ? "" : "≈ ", QString::fromStdString(shown.text)));
}

void Overlay::paint_drop_line(QPainter& p) const {
  const Store& store = stage_.store_;
  if (store.picked().size() != 1 || stage_.bench_.verb().name() == "Pick" || stage_.bench_.verb().name() == "Measure")
    return;
  const Part* part = store.scene().find(store.picked().front());
  if (!part) return;
  const Vec3 pivot = world_of(store.scene(), store.picked().front()) * part->placement.pivot;
  const auto top = stage_.pixel_of(pivot), foot = stage_.pixel_of({pivot.x, pivot.y, 0});
  if (!top || !foot || QLineF(*top, *foot).length() < 4) return;
  p.setPen(QPen(theme().axis[2], 1.1));
  p.drawLine(*top, *foot);
  p.drawLine(*foot + QPointF(-5, 0), *foot + QPointF(5, 0));
  p.setFont(number_font(0.9));
  p.drawText(*foot + QPointF(8, -4), QString::fromStdString(show_length(pivot.z, store.unit(), 2).text));
}

void Overlay::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  taken_.clear();
  paint_corner(p);
  paint_drop_line(p);
  const Marks marks = stage_.bench_.verb().marks();
  const auto from = marks.from ? stage_.pixel_of(marks.from->point) : std::nullopt;
  const auto to = marks.to ? stage_.pixel_of(marks.to->point) : std::nullopt;
  if (from && to && marks.joined) {
    p.setPen(QPen(theme().card, 3));
    p.drawLine(*from, *to);
    p.setPen(QPen(theme().ink, 1.3, Qt::CustomDashLine));
    QPen dashed(theme().ink, 1.3);
    dashed.setDashPattern({4, 4});
    p.setPen(dashed);
    p.drawLine(*from, *to);
  }
  if (to) paint_ring(p, *to);
  if (from) paint_pin(p, *from);
  if (to) paint_tag(p, *to, marks.to->name, theme().to, true);
  if (from) paint_tag(p, *from, marks.from->name, theme().from, false);
  if (from && to && marks.joined && QLineF(*from, *to).length() > 60) paint_pill(p, (*from + *to) / 2, marks.distance);
  if (const QString more = stage_.caught_words(); !more.isEmpty()) {
    p.setFont(ui_font(0.94));
    const QRectF box =
        QFontMetricsF(p.font()).boundingRect(QRectF(0, 0, 300, 400), Qt::AlignLeft, more).adjusted(-8, -5, 8, 5);
    QRectF placed = box.translated(stage_.last_at_ + QPointF(26, 26) - box.topLeft());
    if (placed.right() > width() - 6) placed.moveRight(width() - 6);
    if (placed.bottom() > height() - 6) placed.moveBottom(height() - 6);
    p.setPen(QPen(theme().hair, 1));
    p.setBrush(theme().card);
    p.drawRoundedRect(placed, 3, 3);
    p.setPen(theme().ink);
    p.drawText(placed.adjusted(8, 5, -8, -5), Qt::AlignLeft, more);
  }
  if (stage_.gesture_ == Stage::Gesture::Rectangle) {
    QColor wash = theme().ink;
    wash.setAlphaF(0.07f);
    p.setPen(QPen(theme().ink, 1, Qt::DashLine));
    p.setBrush(wash);
    p.drawRect(QRectF(stage_.pressed_at_, stage_.last_at_).normalized());
  }
}

}  // namespace tack
