#include "app/stage/labels.h"

#include <algorithm>

#include "app/theme.h"

namespace tack {

void Labels::clear() {
  labels_.clear();
  kept_clear_.clear();
  lines_.clear();
  placed_.clear();
}

// A line is kept clear by small squares along it: a box about a slanted one would take far too much.
void Labels::keep_clear(QPointF from, QPointF to) {
  constexpr double kSide = 7;
  const double length = std::hypot(to.x() - from.x(), to.y() - from.y());
  const int count = std::clamp(static_cast<int>(length / kSide), 1, 200);
  for (int i = 0; i <= count; ++i) {
    const QPointF at = from + (to - from) * (static_cast<double>(i) / count);
    lines_ << QRectF(at.x() - kSide / 2, at.y() - kSide / 2, kSide, kSide);
  }
}

bool Labels::is_free(const QRectF& box, bool lines_too) const {
  const auto meets = [&](const QRectF& other) { return other.intersects(box); };
  return std::none_of(kept_clear_.begin(), kept_clear_.end(), meets) &&
         std::none_of(placed_.begin(), placed_.end(), [&](const Placed& p) { return p.box.intersects(box); }) &&
         (!lines_too || std::none_of(lines_.begin(), lines_.end(), meets));
}

std::optional<QRectF> Labels::place(const Label& label, const QSizeF& size, const QRectF& bounds) const {
  const double w = size.width(), h = size.height(), a = label.away;
  QList<QPointF> corners;
  if (label.centred) {
    for (const double down : {0.0, 1.15, -1.15, 2.3, -2.3})
      for (const double right : {0.0, 0.6, -0.6}) corners << label.at + QPointF(-w / 2 + right * w, -h / 2 + down * h);
  } else {
    const double up = label.above ? -h - a / 2 : a / 2, down = label.above ? a / 2 : -h - a / 2;
    for (const double y : {up, down})
      for (const double x : {a, -w - a, -w / 2}) corners << label.at + QPointF(x, y);
    corners << label.at + QPointF(a, -h / 2) << label.at + QPointF(-w - a, -h / 2);
  }
  const auto inside = [&](QPointF corner) {
    QRectF box(corner, size);
    box.moveLeft(std::clamp(box.left(), bounds.left() + 6, std::max(bounds.left() + 6, bounds.right() - w - 6)));
    box.moveTop(std::clamp(box.top(), bounds.top() + 6, std::max(bounds.top() + 6, bounds.bottom() - h - 6)));
    return box;
  };
  // Clear of everything first; over a line rather than far away; then, if it has to be there, wherever there is room.
  const bool minds_lines = !label.centred;
  for (const bool lines_too : {true, false}) {
    if (lines_too && !minds_lines) continue;
    for (const QPointF corner : corners)
      if (const QRectF box = inside(corner); is_free(box, lines_too)) return box;
  }
  if (!label.needed) return std::nullopt;
  for (int step = 1; step < 80; ++step)
    for (const double way : {1.0, -1.0})
      if (const QRectF box = inside(corners.front() + QPointF(0, way * step * h / 2)); is_free(box, false)) return box;
  return std::nullopt;
}

void Labels::paint(QPainter& p, const QRectF& bounds) {
  std::stable_sort(labels_.begin(), labels_.end(), [](const Label& a, const Label& b) { return a.rank < b.rank; });
  for (const Label& label : labels_) {
    if (label.text.isEmpty()) continue;
    const QFontMetricsF metrics(label.font);
    const QSizeF size(metrics.horizontalAdvance(label.text) + 2 * label.pad,
                      metrics.height() + (label.look == Label::Look::Bare ? 2 : 6));
    const auto box = place(label, size, bounds);
    if (!box) continue;
    placed_ << Placed{*box, label.text};
    QColor card = theme().card;
    if (label.look == Label::Look::Bare) card.setAlphaF(0.8f);
    p.setPen(label.look == Label::Look::Bare ? QPen(Qt::NoPen)
                                             : QPen(label.look == Label::Look::Pill ? theme().hair : label.ink, 1));
    p.setBrush(card);
    const double round = label.look == Label::Look::Pill ? size.height() / 2 : 3;
    p.drawRoundedRect(*box, round, round);
    p.setFont(label.font);
    p.setPen(label.ink);
    p.drawText(*box, Qt::AlignCenter, label.text);
  }
}

}  // namespace tack
