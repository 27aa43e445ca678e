// Text and marks over the stage, drawn by QPainter on a transparent child.
#pragma once

#include <QWidget>

namespace tack {

class Stage;

class Overlay : public QWidget {
 public:
  explicit Overlay(Stage& stage);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void paint_pin(QPainter& p, QPointF at) const;
  void paint_ring(QPainter& p, QPointF at) const;
  void paint_tag(QPainter& p, QPointF at, const QString& text, const QColor& role, bool above);
  void paint_pill(QPainter& p, QPointF at, const QString& text) const;
  void paint_corner(QPainter& p) const;
  void paint_drop_line(QPainter& p) const;

  Stage& stage_;
  QList<QRectF> taken_;  // where tags already are
};

}  // namespace tack
