// Text and marks over the stage, drawn by QPainter on a transparent child.
#pragma once

#include <QWidget>

#include "app/stage/labels.h"
#include "app/verbs/marks.h"
#include "core/catch/element_pick.h"
#include "core/view/elevation.h"
#include "core/view/handles.h"

namespace tack {

class Stage;

class Overlay : public QWidget {
 public:
  explicit Overlay(Stage& stage);

  /// The labels of a pane as they were painted last.
  const QList<Labels::Placed>& labels(int pane) const { return labels_[static_cast<std::size_t>(pane)].placed(); }
  /// Whether a letter at a handle's end is at a point of a pane.
  bool handle_letter_at(int pane, QPointF at) const;
  /// The letter of the small axes at a point of a pane: 0, 1, 2 for X, Y, Z; −1 for none.
  static int axis_letter_at(const View& view, QPointF at);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  /// Where a world point is in the pane that is being painted.
  std::optional<QPointF> pixel(const Vec3& world) const;
  void paint_pane(QPainter& p);
  void paint_pin(QPainter& p, QPointF at) const;
  void paint_ring(QPainter& p, QPointF at) const;
  /// A place in words, beside it.
  void add_tag(QPointF at, const QString& text, const QColor& role, bool above);
  void add_measured(QPointF at, const std::string& text, const QColor& hue);
  /// A few words that are read over whatever stands there; where they have come to stand.
  QRectF paint_quiet(QPainter& p, QPointF at, const QString& text);
  void paint_corner(QPainter& p);
  void paint_notices(QPainter& p);
  void paint_facing(QPainter& p);
  void paint_drop_line(QPainter& p, const Marks& marks);
  void paint_kept(QPainter& p);
  void paint_guides(QPainter& p, const Marks& marks);
  void paint_elevation(QPainter& p, Elevation elevation, const Marks& marks);
  void paint_extent(QPainter& p, Elevation elevation, const Mat3& frame, const Marks& marks);
  void paint_plane_axes(QPainter& p, const Affine& frame);
  void paint_plane_in_use(QPainter& p, const Marks& marks);
  void paint_world_line(QPainter& p, const Vec3& a, const Vec3& b) const;
  void paint_drifted(QPainter& p);
  void paint_short_list(QPainter& p) const;
  void paint_box(QPainter& p, const Marks& marks) const;
  void paint_taken(QPainter& p, const Marks& marks);
  void paint_brush(QPainter& p);
  void paint_elements(QPainter& p, const Scene& scene, const ElementsOf& of, const QColor& ink, double width);
  void paint_shares(QPainter& p, const Scene& scene, const Patch& patch);
  void paint_handles(QPainter& p);
  void paint_dimensions(QPainter& p, const Handle* hot);
  void paint_gauges(QPainter& p, const Marks& marks);
  void paint_agreements(QPainter& p, const Marks& marks);
  void paint_ruler(QPainter& p, const Vec3& from, const Vec3& to, const QColor& hue, double tick, double width);
  void paint_polyline(QPainter& p, const std::vector<Vec3>& points, const QColor& hue, double width,
                      Qt::PenStyle style) const;
  void paint_arc(QPainter& p, const Vec3& centre, const std::vector<Vec3>& points, const QColor& hue,
                 double width) const;

  Stage& stage_;
  int pane_ = 0;  // while painting
  View view_;
  std::array<QList<QRectF>, 6> letters_;  // at the ends of the handles of each pane
  std::array<Labels, 6> labels_;          // of each pane
  Labels& now() { return labels_[static_cast<std::size_t>(pane_)]; }
};

}  // namespace tack
