// Where text stands on the stage: no label over another. The less important one steps aside, or is left out.
#pragma once

#include <QColor>
#include <QFont>
#include <QList>
#include <QPainter>
#include <QRectF>
#include <QString>

namespace tack {

/// What gives way to what: the first stays where it wants to be.
enum class LabelRank { Place, Distance, Measured, Dimension, Letter, Drifted, Kept, Height };

struct Label {
  enum class Look {
    Framed,  ///< on a card with a line about it
    Pill,    ///< the same, with round ends
    Bare,    ///< on a card that lets the picture through a little
  };
  QString text;
  QPointF at;  ///< what it belongs to, in pixels of the pane
  LabelRank rank = LabelRank::Measured;
  QColor ink;
  QFont font;
  Look look = Look::Framed;
  bool centred = false;  ///< on `at`; else beside it
  double away = 12;      ///< pixels from `at`
  bool above = true;     ///< beside it, above rather than below
  bool needed = false;   ///< moved until there is room, never left out
  double pad = 6;        ///< pixels left and right of the text
};

/// The labels of one pane, gathered while it is painted and drawn at its end.
class Labels {
 public:
  void clear();
  /// Nothing is written here.
  void keep_clear(const QRectF& rect) { kept_clear_ << rect; }
  void keep_clear(QPointF from, QPointF to);
  void add(const Label& label) { labels_ << label; }
  /// Places and draws them within `bounds`.
  void paint(QPainter& p, const QRectF& bounds);

  struct Placed {
    QRectF box;
    QString text;
  };
  /// Those drawn last, in the order of their rank.
  const QList<Placed>& placed() const { return placed_; }

 private:
  bool is_free(const QRectF& box, bool lines_too) const;
  std::optional<QRectF> place(const Label& label, const QSizeF& size, const QRectF& bounds) const;

  QList<Label> labels_;
  QList<QRectF> kept_clear_, lines_;
  QList<Placed> placed_;
};

}  // namespace tack
