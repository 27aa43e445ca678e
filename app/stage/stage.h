// The stage: the scene drawn and steered, and the pointer's way to tacks and parts.
#pragma once

#include <QOpenGLWidget>
#include <QTimer>

#include "app/stage/labels.h"
#include "app/stage/mesh_works.h"
#include "app/workbench.h"
#include "core/catch/catch_scene.h"
#include "draw/draw_list.h"

namespace tack {

class Overlay;

/// Samples for each pixel of what does not move.
inline constexpr int kStageSamples = 4;

class Stage : public QOpenGLWidget {
  Q_OBJECT

 public:
  Stage(Store& store, Workbench& bench, QWidget* parent = nullptr);
  ~Stage() override;

  const Camera& camera() const { return camera_; }
  void set_camera(const Camera& camera);
  /// The view in logical pixels: what positions of the pointer are in.
  View view() const;
  void turn_to(Side side);
  /// Looks square at a side of the axes in use, or at what is picked in its own.
  void square_onto(Side side);
  void turn_to_nearest();
  /// One view, two side by side, or four: top, front, right and the one that was there.
  void show_views(int count);
  int view_count() const { return count_; }
  /// The pane under a point of the stage becomes the one that keys and menus mean.
  int active_pane() const { return active_; }
  QRect pane_rect(int pane) const;
  void set_perspective(bool perspective);
  void set_style(DrawStyle style);
  DrawStyle style() const { return style_; }
  void frame_picked();
  void frame_all();
  /// Brings two places into the middle of the view; something `around` mm large there fills about half of it.
  void look_at(const Vec3& a, const Vec3& b, double around);

  /// A scene that is not the document's, from a corner: what is about to come in. Null before OpenGL is there, and for
  /// a scene without a vertex. Its meshes are prepared in the call: not for millions of triangles.
  QImage picture_of(const Scene& scene, const QSize& size);
  /// What the active view shows, without marks; null before OpenGL is there.
  QImage picture(const QSize& size);
  /// A close-up for the loupe, `size` device pixels square; null before OpenGL is there.
  QImage close_up_image(const View& view, int size);

  /// Where a world point is on the stage, for tests and marks; nullopt behind the eye.
  std::optional<QPointF> pixel_of(const Vec3& world) const;
  /// Catching in a view of its own, such as a close-up; `at` in its pixels. What stands before the eye is cut away.
  std::optional<Caught> caught_in(const View& view, QPointF at);
  /// Grid, marks, guides and labels are hidden, and shown again.
  void hide_aids(bool hide);
  bool hides_aids() const { return hides_aids_; }
  /// The labels painted last in the active view: their boxes, in its pixels, and texts.
  const QList<Labels::Placed>& labels() const;
  /// Places that the tour speaks of: a broken ring is drawn about each.
  void point_out(const std::vector<TackAddress>& places);
  const std::vector<TackAddress>& pointed_out() const { return pointed_out_; }
  /// What lies under a point of the stage: a place of any kind, and the part that is struck.
  struct Under {
    std::optional<Caught> place;
    PartId part = kNoPart;
  };
  Under under(QPointF stage_point);
  /// Up to how far apart two places touch, mm.
  double touch() const { return store_.preferences().touch; }
  /// Where the pointer was last, in the whole stage.
  QPointF pointer() const { return last_at_ + pane_rect(active_).topLeft(); }
  /// Whether all meshes have been given to the card, and can be caught on in every way.
  bool is_settled() const { return works_.waiting() == 0 && !works_.has_ready() && !works_.indexing(); }
  /// The short list beside the pointer: what lies under it while B goes through that, the kinds of place while C is
  /// held. No rows when there is neither.
  struct ShortList {
    QStringList rows;
    int chosen = -1;
    int seen = 0;  ///< so many of them, the first, are not behind something
  };
  ShortList short_list() const;

  QSize minimumSizeHint() const override { return {320, 240}; }

 signals:
  void painted();
  void camera_changed();
  void dropped(const QStringList& files);
  void list_asked(QPointF stage_point);  ///< a right click that did not move

 protected:
  void initializeGL() override;
  void paintGL() override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  bool event(QEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dragMoveEvent(QDragMoveEvent* event) override;
  void dragLeaveEvent(QDragLeaveEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  friend class Overlay;
  friend class StageProbe;  // benchmarks move the pointer without events
  enum class Gesture { None, Tack, Handle, Grip, Pick, Rectangle, Orbit, Pan };
  void end_gesture(QPointF at, Qt::KeyboardModifiers modifiers);
  void pick_at(QPointF at, bool add);
  void offer_colour(const std::string& colour, PartId part);

  void scene_changed();
  void upload_ready();
  void moved();  // the picture changes: coarse now, fine when still
  /// What is drawn, made once for each change and shared by the panes and the close-ups.
  const std::vector<DrawItem>& items() const;
  mutable DrawList items_;
  mutable bool items_known_ = false;
  bool picks() const { return bench_.draft().row() == id_of<Pick>; }
  std::vector<Handle> handles_offered(const View& view) const;
  void hover_at(QPointF position);
  const Camera& camera_of(int pane) const {
    return pane == active_ ? camera_ : cameras_[static_cast<std::size_t>(pane)];
  }
  View view_of_pane(int pane) const;
  void activate(int pane);
  /// A point of the stage in the pane it is in, which becomes the active one unless a gesture holds another.
  QPointF into_pane(QPointF stage_point);
  bool steps_now(Qt::KeyboardModifiers modifiers) const;
  /// What is caught anywhere; and of that what the verb in hand wants.
  CatchOptions all_options() const;
  CatchOptions catch_options() const;
  QImage drawn(const DrawFrame& frame);
  std::optional<Caught> caught_at(QPointF position);
  std::optional<Caught> caught_by_drag(QPointF position, Qt::KeyboardModifiers modifiers);
  void drag_on(QPointF at, Qt::KeyboardModifiers modifiers);
  Vec3 point_under(QPointF position) const;
  const CatchScene& catch_scene();

  Store& store_;
  Workbench& bench_;
  MeshWorks works_;
  Renderer renderer_;
  bool created_ = false;
  Overlay* overlay_;
  // The camera of the active pane; those of the others wait in cameras_.
  Camera camera_;
  std::array<Camera, 4> cameras_;
  int count_ = 1, active_ = 0;
  DrawStyle style_ = DrawStyle::Shaded;
  std::optional<CatchScene> catch_scene_;
  QTimer rest_;
  bool moving_ = false;

  Gesture gesture_ = Gesture::None;
  Qt::MouseButton button_ = Qt::NoButton;  // the one that holds the gesture
  QPointF pressed_at_, last_at_;
  Vec3 grabbed_;
  Handle held_handle_;
  std::optional<Caught> gripped_;  // what a drag will take hold of
  std::optional<Vec3> still_;      // the place that K named with this press
  bool dragged_ = false;
  std::vector<Caught> under_;  // what B goes through
  std::size_t under_index_ = 0;
  bool cycling_ = false;
  std::size_t catches_ = 0;      // how often the pointer's place was looked for; read by StageProbe
  std::vector<Handle> handles_;  // as last offered
  int hovered_handle_ = -1;
  int hovered_letter_ = -1;  // of the small axes in the corner
  bool hides_aids_ = false;
  std::vector<TackAddress> pointed_out_;
  PartId dropped_on_ = kNoPart;  // what a colour that is dragged would be given to
};

}  // namespace tack
