// Text and marks over the stage, drawn by QPainter on a transparent child.
#pragma once

#include <QWidget>

#include "app/verbs/marks.h"
#include "core/view/handles.h"

namespace tack {

class Stage;

class Overlay : public QWidget {
 public:
  explicit Overlay(Stage& stage);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  /// Where a world point is in the pane that is being painted.
  std::optional<QPointF> pixel(const Vec3& world) const;
  void paint_pane(QPainter& p);
  void paint_pin(QPainter& p, QPointF at) const;
  void paint_ring(QPainter& p, QPointF at) const;
  void paint_tag(QPainter& p, QPointF at, const QString& text, const QColor& role, bool above);
  void paint_pill(QPainter& p, QPointF at, const QString& text, const QColor& hue);
  void paint_corner(QPainter& p) const;
  void paint_drop_line(QPainter& p) const;
  void paint_kept(QPainter& p) const;
  void paint_guides(QPainter& p, const Marks& marks) const;
  void paint_drifted(QPainter& p);
  void paint_short_list(QPainter& p) const;
  void paint_box(QPainter& p, const Marks& marks) const;
  void paint_handles(QPainter& p) const;
  void paint_gauges(QPainter& p, const Marks& marks) const;
  void paint_ruler(QPainter& p, const Vec3& from, const Vec3& to, const QColor& hue, double tick, double width) const;
  void paint_polyline(QPainter& p, const std::vector<Vec3>& points, const QColor& hue, double width,
                      Qt::PenStyle style) const;
  void paint_arc(QPainter& p, const Vec3& centre, const std::vector<Vec3>& points, const QColor& hue,
                 double width) const;
  void paint_label(QPainter& p, QPointF at, const QString& text, const QColor& hue) const;

  Stage& stage_;
  int pane_ = 0;  // while painting
  View view_;
  QList<QRectF> taken_;  // where tags already are
};

}  // namespace tack
