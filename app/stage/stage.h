// The stage: the scene drawn and steered, and the pointer's way to tacks and parts.
#pragma once

#include <QElapsedTimer>
#include <QOpenGLWidget>
#include <QTimer>
#include <deque>
#include <map>
#include <set>

#include "app/stage/close_up.h"
#include "app/stage/labels.h"
#include "app/stage/mesh_works.h"
#include "app/workbench.h"
#include "core/catch/catch_scene.h"
#include "core/hands/elevating.h"
#include "draw/draw_list.h"
#include "draw/kept_picture.h"
#include "draw/plane_grid.h"

namespace tack {

class Overlay;

/// Samples for each pixel of what does not move.
inline constexpr int kStageSamples = 4;
/// Triangles of a mesh that is made ready to be drawn within a frame.
inline constexpr std::size_t kSmallMesh = 20'000;

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
  /// Square onto the plane in use, from the side of its normal; x to the right.
  void square_onto_plane();
  void turn_to_nearest();
  /// What one view frames, pans and zooms, all do.
  void keep_in_step(bool on);
  bool keeps_in_step() const { return in_step_; }
  /// One view, two side by side, or four: top, front, right and the one that was there. Each arrangement is as it was
  /// left when it comes back.
  void show_views(int count);
  int view_count() const { return count_; }
  /// The pane under a point of the stage becomes the one that keys and menus mean.
  int active_pane() const { return active_; }
  QRect pane_rect(int pane) const;
  /// The panes that are shown: the views from 0, then the elevations.
  std::vector<int> panes() const;
  /// A strip along the lower edge (front) or the right edge (side) that shows the scene flat, in step with the view.
  void show_elevation(Elevation elevation, bool on);
  bool shows(Elevation elevation) const { return strip_of(elevation).on; }
  void set_strip_width(Elevation elevation, int pixels);
  int strip_width(Elevation elevation) const { return strip_of(elevation).wide; }
  static int pane_of(Elevation elevation) { return elevation == Elevation::Front ? 4 : 5; }
  static std::optional<Elevation> elevation_of(int pane);
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
  /// A close look of its own, such as one of the loupe's; it lives as long as the stage.
  CloseUp& make_close_up();

  /// Where a world point is on the stage, for tests and marks; nullopt behind the eye.
  std::optional<QPointF> pixel_of(const Vec3& world) const { return pixel_in(active_, world); }
  std::optional<QPointF> pixel_in(int pane, const Vec3& world) const;
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
  /// Whether all meshes have been given to the card.
  bool is_shown() const { return works_.waiting() == 0 && !works_.has_ready() && uploads_.empty(); }
  /// The same, with their coarser levels, and whether they can be caught on in every way.
  bool is_settled() const { return is_shown() && works_.refining() == 0 && works_.indexing() == 0; }
  /// Whether the picture is the finished one.
  bool is_still() const { return !moving_ && is_shown(); }
  /// The same, and those of all close-ups.
  bool is_finished() const { return is_still() && !unfinished_close_up(); }
  /// What is still to come, or is not drawn as it is for want of memory; a line each, shown in a corner of the view.
  QStringList notices() const;
  /// What the last picture was drawn from, for benchmarks.
  const Renderer::Drawn& drawn_last() const { return finished_.done() ? finished_.drawn() : renderer_.drawn(); }
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
  /// Files were let go over the stage, on the place that is caught there, or in the open on the plane in use; from the
  /// shelf or from elsewhere.
  void dropped(const QStringList& files, const std::optional<TackAddress>& on, const Vec3& at, bool from_shelf);
  void list_asked(QPointF stage_point);  ///< a right click that did not move

 protected:
  void initializeGL() override;
  void paintGL() override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
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
  friend class CloseUp;
  friend class Overlay;
  friend class StageProbe;  // benchmarks move the pointer without events
  enum class Gesture { None, Tack, Handle, Grip, Pick, Rectangle, Orbit, Pan, Elevate, Divide, Stroke };
  void end_gesture(QPointF at, Qt::KeyboardModifiers modifiers);
  void pick_at(QPointF at, bool add);
  std::optional<ElementsOf> element_under(QPointF at);
  void take_in(const QRectF& rectangle, Qt::KeyboardModifiers modifiers);
  void hover_element(QPointF at);
  /// The surface under the pointer that a brush goes over; also kept for drawing the brush there.
  std::optional<Struck> brushed_at(QPointF at);
  void compare(bool on);
  /// The part under a point: a guide that is near and seen before what lies behind it; kNoPart for none.
  PartId part_at(QPointF at);
  void offer_colour(const std::string& colour, PartId part);

  void scene_changed();
  void want_meshes();
  void upload_ready();
  void upload_small(std::span<const DrawItem> items);
  // How much is drawn with what memory is left: everything; without smoothing; nothing at all.
  enum class Memory { Plenty, Little, None };
  Memory memory_ = Memory::Plenty;
  bool look_for_memory();  // whether that has changed
  void tidy();
  std::set<const Mesh*> boxed_;   // meshes that are drawn as boxes, for want of memory
  QElapsedTimer since_uploaded_;  // when a picture was last asked for because of what had become ready
  bool uploads_show_ = false;     // something of them is not what the picture has
  QElapsedTimer since_wanted_;    // when meshes were wanted last
  // The picture changes: coarse now, fine when still. `everywhere`: not in one view alone.
  void moved(bool everywhere = true);
  /// What is drawn, made once for each change and shared by the panes and the close-ups.
  const std::vector<DrawItem>& items() const;
  void want_passing();
  mutable std::vector<PartId> unready_;  // whose meshes could not be drawn when the list was made
  mutable DrawList items_;
  mutable bool items_known_ = false;
  bool picks() const { return bench_.draft().row() == id_of<Pick>; }
  std::vector<Handle> handles_offered(const View& view, int pane) const;
  /// The grid of the plane in use; its sheet is found once for each scene.
  PlaneGridLook grid_look(const Scene& scene, const View& view, const Vec3& target) const;
  void hover_at(QPointF position);
  Camera camera_of(int pane) const;
  View view_of_pane(int pane) const;
  void activate(int pane);
  /// A point of the stage in the pane it is in, which becomes the active one unless a gesture holds another.
  QPointF into_pane(QPointF stage_point);
  bool steps_now(Qt::KeyboardModifiers modifiers) const;
  /// What is caught anywhere; and of that what the verb in hand wants.
  CatchOptions all_options() const;
  CatchOptions catch_options() const;
  QImage drawn(const DrawFrame& frame);
  // Of what a renderer gives: rows from the top, 4 bytes a pixel.
  static QImage image_of(const std::vector<unsigned char>& pixels, int width, int height);
  std::optional<Caught> caught_at(QPointF position);
  /// Where something that is let go comes to stand.
  struct Landing {
    std::optional<TackAddress> on;  // what is caught there; none: the plane in use
    Vec3 at;
    QString words;
  };
  Landing landing_at(QPointF stage_point);
  void offer_landing(std::optional<Landing> landing);
  void drop_files(const QStringList& files, QPointF position, bool from_shelf);
  std::optional<Caught> caught_by_drag(QPointF position, Qt::KeyboardModifiers modifiers);
  void drag_on(QPointF at, Qt::KeyboardModifiers modifiers);
  Vec3 point_under(QPointF position) const;
  const CatchScene& catch_scene();

  Store& store_;
  Workbench& bench_;
  MeshWorks works_;
  std::deque<MeshWorks::Ready> uploads_;  // what the card is still to be given
  Renderer renderer_;
  SlicedPicture finished_{renderer_};
  std::vector<std::unique_ptr<CloseUp>> close_ups_;
  bool created_ = false;
  Overlay* overlay_;
  // The camera of the view that was active last; those of the others wait in cameras_, those of elevations follow it.
  Camera camera_;
  std::array<Camera, 4> cameras_;
  int count_ = 1, main_ = 0, active_ = 0;
  struct Strip {
    bool on = false;
    int wide = 150;  // pixels
  };
  std::array<Strip, 2> strips_{{{false, 150}, {false, 190}}};
  // What was last drawn of each elevation: shown again, shifted, while the view moves.
  struct StripPicture {
    KeptPicture picture;
    std::size_t items = 0;    // of which it is
    double milliseconds = 0;  // that it took
  };
  std::array<StripPicture, 2> pictures_;
  mutable std::size_t items_made_ = 0;
  void paint_strip(Elevation elevation, const DrawFrame& frame);
  const Strip& strip_of(Elevation elevation) const { return strips_[static_cast<std::size_t>(elevation)]; }
  /// The axes that elevations are square to: those in use, of what is picked; World's where nothing is.
  Mat3 elevation_frame() const;
  std::vector<Handle> elevation_handles(Elevation elevation, const View& view) const;
  /// The edge between the views and a strip, which is dragged.
  std::optional<Elevation> divider_at(QPointF stage_point) const;
  bool press_in_elevation();
  void elevate();
  const Box& shown_box() const;
  mutable std::optional<Box> shown_box_;  // of every mesh that is shown, in the world
  bool in_step_ = false;
  // The cameras of one, two and four views as they were left, and which of them was active.
  struct Left {
    std::array<Camera, 4> cameras;
    int active;
  };
  std::map<int, Left> left_;
  DrawStyle style_ = DrawStyle::Shaded;
  std::optional<CatchScene> catch_scene_;
  mutable std::optional<Sheet> sheet_;  // of the plane in use
  QTimer rest_;
  QTimer finishing_;     // finished pictures are drawn, a slice each time
  QTimer tidy_;          // what is not needed any more is given back
  bool moving_ = false;  // what is shown is coarse
  std::vector<DrawFrame> frames_of_panes(bool finished);
  // What a pane shows. What the finished picture has of a pane is shown again while only others change.
  struct PaneLook {
    Camera camera;
    QRect rect;
    QSize stage;
    double ratio = 1;  // device pixels
    bool smooth = false;
    std::size_t changes = 0;
    friend bool operator==(const PaneLook&, const PaneLook&) = default;
  };
  PaneLook look_of(int pane) const;
  bool is_kept(int pane) const { return kept_[static_cast<std::size_t>(pane)] == look_of(pane); }
  std::array<std::optional<PaneLook>, 6> kept_;
  std::vector<int> finished_panes_;  // of the finished picture that is being drawn
  std::size_t changes_ = 0;          // how often the picture has changed everywhere
  // What is not as it should be yet will be finished when things rest.
  void finish_soon();
  void finish_on();
  CloseUp* unfinished_close_up() const;
  // A slice of the view's finished picture; true when that is done.
  bool finish_view(double milliseconds);

  Gesture gesture_ = Gesture::None;
  Qt::MouseButton button_ = Qt::NoButton;  // the one that holds the gesture
  QPointF pressed_at_, last_at_;
  Vec3 grabbed_;
  Handle held_handle_;
  Elevation divided_ = Elevation::Front;
  PartId held_part_ = kNoPart;     // in an elevation
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
  std::optional<ElementsOf> hovered_element_;
  std::optional<Vec3> brush_at_;           // where the brush would go over a surface (world)
  std::shared_ptr<const Scene> compared_;  // shown in place of the scene while it is held against it
  PartId dropped_on_ = kNoPart;            // what a colour that is dragged would be given to
  std::optional<Landing> landing_;         // where a file that is dragged would come to stand
};

}  // namespace tack
