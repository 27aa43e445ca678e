// How rows of lists are drawn in the narrow columns: a step in one line, a tie in two.
#pragma once

#include <QStyledItemDelegate>
#include <functional>

class QAbstractItemView;

namespace tack {

/// What stands under the line of a step, whole: the sentence of the one that is open, why one no longer works.
struct StepBelow {
  QString text;  ///< empty: nothing
  QColor ink;
};

/// What a step's row shows.
struct StepRow {
  QString number, icon;     ///< the icon's name in the theme
  QString what, to, value;  ///< in one line: "what → to · value"
  QColor ink;
  bool open = false;
};

/// Draws rows that are asked for by number when they are seen; what stands below is asked for of all of them, for their
/// heights.
class StepRows : public QStyledItemDelegate {
  Q_OBJECT

 public:
  StepRows(std::function<StepRow(int)> row, std::function<StepBelow(int)> below, QAbstractItemView* view);
  QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
  void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
  bool editorEvent(QEvent* event, QAbstractItemModel* model, const QStyleOptionViewItem& option,
                   const QModelIndex& index) override;

 private:
  std::function<StepRow(int)> row_;
  std::function<StepBelow(int)> below_;
  QAbstractItemView* view_;
};

/// The line of a step in a width: what it was about and to what share the room, each shortened in its middle; the value
/// is whole as long as it takes less than half.
QString step_line(const StepRow& row, const QFontMetrics& metrics, int width);

/// Draws a name, and below it what was measured, quieter what is not watched. The item's own text is the name; the text
/// of its second column what was measured, of its third what is not watched; the second's colour is its tone.
class TieRows : public QStyledItemDelegate {
  Q_OBJECT

 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
  void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

}  // namespace tack
