#include "app/panels/rows.h"

#include <QAbstractItemView>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include "app/theme.h"

namespace tack {
namespace {

constexpr int kRowEdgePixels = 8, kTick = 14, kRowIcon = 15, kRowGap = 5;

int row_height(const QFontMetrics& metrics) { return metrics.height() + 7; }

// The first line of a row: what is below it takes no part in ticking.
QStyleOptionViewItem first_line(const QStyleOptionViewItem& option) {
  QStyleOptionViewItem line = option;
  line.rect.setHeight(row_height(option.fontMetrics));
  return line;
}

QRect box_in(const QRect& line) {
  return {line.left() + kRowEdgePixels, line.top() + (line.height() - kTick) / 2, kTick, kTick};
}

}  // namespace

QString step_line(const StepRow& row, const QFontMetrics& metrics, int width) {
  const QString dot = row.value.isEmpty() ? QString() : QStringLiteral(" · "),
                arrow = row.to.isEmpty() ? QString() : QStringLiteral(" → ");
  const auto wide = [&](const QString& text) { return metrics.horizontalAdvance(text); };
  QString whole = row.what + arrow + row.to + dot + row.value;
  if (wide(whole) <= width) return whole;
  const QString value =
      metrics.elidedText(row.value, Qt::ElideRight, std::max(width / 2, width - wide(row.what + arrow + row.to + dot)));
  const int room = width - wide(arrow + dot + value);
  // Each has half; what one does not need the other takes.
  const int to_room = row.to.isEmpty() ? 0 : std::max(room / 2, room - wide(row.what));
  const int to_wide = std::min(wide(row.to), to_room);
  return metrics.elidedText(row.what, Qt::ElideMiddle, room - to_wide) + arrow +
         metrics.elidedText(row.to, Qt::ElideMiddle, to_wide + 1) + dot + value;
}

StepRows::StepRows(std::function<StepRow(int)> row, std::function<StepBelow(int)> below, QAbstractItemView* view)
    : QStyledItemDelegate(view), row_(std::move(row)), below_(std::move(below)), view_(view) {}

QSize StepRows::sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const {
  QStyleOptionViewItem own = option;
  initStyleOption(&own, index);
  int height = row_height(own.fontMetrics);
  const StepBelow below = below_(index.row());
  if (!below.text.isEmpty()) {
    const int width = view_->viewport()->width() - 2 * kRowEdgePixels - kTick - kRowGap;
    height += own.fontMetrics.boundingRect(QRect(0, 0, width, 10000), Qt::TextWordWrap, below.text).height() + 6;
  }
  return {60, height};
}

void StepRows::paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const {
  QStyleOptionViewItem own = option;
  initStyleOption(&own, index);
  const StepRow row = row_(index.row());
  p->save();
  if (row.open || (option.state & QStyle::State_HasFocus)) {
    QColor wash = theme().ink;
    wash.setAlphaF(row.open ? 0.10f : 0.05f);
    p->fillRect(option.rect, wash);
  } else if (option.state & QStyle::State_MouseOver) {
    QColor wash = theme().ink;
    wash.setAlphaF(0.05f);
    p->fillRect(option.rect, wash);
  }
  const QRect line = first_line(own).rect;
  if (row.number.isEmpty()) {
    // Nothing to be ticked: words for an empty list.
    p->setFont(own.font);
    p->setPen(row.ink);
    p->drawText(line.adjusted(kRowEdgePixels + 6, 0, -kRowEdgePixels, 0), Qt::AlignVCenter | Qt::AlignLeft, row.what);
    return p->restore();
  }
  // The tick: an open square, with a stroke in it when the step counts.
  const QRect box = box_in(line).adjusted(1, 1, -1, -1);
  p->setRenderHint(QPainter::Antialiasing);
  p->setPen(QPen(theme().soft, 1));
  p->setBrush(Qt::NoBrush);
  p->drawRoundedRect(QRectF(box).adjusted(0.5, 0.5, -0.5, -0.5), 2, 2);
  if (own.checkState == Qt::Checked) {
    p->setPen(QPen(theme().ink, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p->drawPolyline(QPolygonF{
        {box.left() + 3.0, box.top() + 6.5}, {box.left() + 5.5, box.top() + 9.0}, {box.left() + 9.5, box.top() + 3.5}});
  }
  int x = box.right() + 1 + kRowGap;
  p->setFont(number_font(0.84));
  p->setPen(theme().soft);
  const int number = std::max(14, QFontMetrics(p->font()).horizontalAdvance(row.number));
  p->drawText(QRect(x, line.top(), number, line.height()), Qt::AlignVCenter | Qt::AlignRight, row.number);
  x += number + kRowGap;
  line_icon(row.icon, row.ink, kRowIcon)
      .paint(p, QRect(x, line.top() + (line.height() - kRowIcon) / 2, kRowIcon, kRowIcon));
  x += kRowIcon + kRowGap;
  p->setFont(own.font);
  p->setPen(row.ink);
  const int width = option.rect.right() - kRowEdgePixels - x;
  p->drawText(QRect(x, line.top(), width + 2, line.height()), Qt::AlignVCenter | Qt::AlignLeft,
              step_line(row, own.fontMetrics, width));
  if (const StepBelow below = below_(index.row()); !below.text.isEmpty()) {
    p->setPen(below.ink);
    p->drawText(QRect(option.rect.left() + kRowEdgePixels + kTick + kRowGap, line.bottom() + 1,
                      option.rect.width() - 2 * kRowEdgePixels - kTick - kRowGap, option.rect.bottom() - line.bottom()),
                Qt::TextWordWrap, below.text);
  }
  p->restore();
}

bool StepRows::editorEvent(QEvent* event, QAbstractItemModel* model, const QStyleOptionViewItem& option,
                           const QModelIndex& index) {
  // A click on the tick's square, or a space: as every list that ticks has it.
  if (event->type() == QEvent::MouseButtonRelease || event->type() == QEvent::MouseButtonPress ||
      event->type() == QEvent::MouseButtonDblClick) {
    const auto* mouse = static_cast<QMouseEvent*>(event);
    const QRect box = box_in(first_line(option).rect).adjusted(-4, -3, 3, 3);
    if (mouse->button() != Qt::LeftButton || !box.contains(mouse->position().toPoint())) return false;
    if (event->type() != QEvent::MouseButtonRelease) return true;
  } else if (event->type() != QEvent::KeyPress || static_cast<QKeyEvent*>(event)->key() != Qt::Key_Space) {
    return false;
  }
  if (!(index.flags() & Qt::ItemIsUserCheckable)) return false;
  const bool on = index.data(Qt::CheckStateRole).toInt() == Qt::Checked;
  return model->setData(index, on ? Qt::Unchecked : Qt::Checked, Qt::CheckStateRole);
}

QSize TieRows::sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const {
  QStyleOptionViewItem own = option;
  initStyleOption(&own, index);
  return {60, 2 * own.fontMetrics.height() + 9};
}

void TieRows::paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const {
  QStyleOptionViewItem own = option;
  initStyleOption(&own, index);
  p->save();
  QColor wash = theme().ink;
  const bool chosen = option.state & QStyle::State_Selected;
  wash.setAlphaF(chosen ? 0.13f : 0.07f);
  if (chosen || (option.state & QStyle::State_MouseOver)) p->fillRect(option.rect, wash);
  const QModelIndex second = index.siblingAtColumn(1), third = index.siblingAtColumn(2);
  const QRect text = option.rect.adjusted(26, 3, -6, -3);
  const int half = text.height() / 2;
  own.icon.paint(p, QRect(option.rect.left() + 6, text.top() + (half - 14) / 2, 14, 14));
  p->setFont(own.font);
  p->setPen(theme().ink);
  p->drawText(QRect(text.left(), text.top(), text.width(), half), Qt::AlignVCenter | Qt::AlignLeft,
              own.fontMetrics.elidedText(own.text, Qt::ElideMiddle, text.width()));
  const QRect below(text.left(), text.top() + half, text.width(), half);
  const QVariant tone = second.data(Qt::ForegroundRole);
  // Piece by piece, as many as there is room for: none is cut to a stub but the first, which says the most.
  QStringList pieces = second.data().toString().split(" · ");
  const auto measured = pieces.size();
  if (const QString quiet = third.data().toString(); !quiet.isEmpty()) pieces << quiet;
  int taken = 0;
  for (qsizetype i = 0; i < pieces.size(); ++i) {
    const QString piece = (i == 0 ? "" : " · ") + pieces[i];
    const int wide = own.fontMetrics.horizontalAdvance(piece);
    if (i > 0 && taken + wide > below.width()) break;
    p->setPen(i < measured && tone.canConvert<QBrush>() ? tone.value<QBrush>().color() : theme().soft);
    p->drawText(below.adjusted(taken, 0, 0, 0), Qt::AlignVCenter | Qt::AlignLeft,
                own.fontMetrics.elidedText(piece, Qt::ElideRight, below.width() - taken));
    taken += wide;
  }
  if (option.state & QStyle::State_HasFocus) {
    p->setPen(QPen(theme().ink, 1));
    p->drawRect(option.rect.adjusted(0, 0, -1, -1));
  }
  p->restore();
}

}  // namespace tack
