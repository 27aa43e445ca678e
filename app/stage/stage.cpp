#include "app/stage/stage.h"

#include <QDragEnterEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QOpenGLContext>
#include <QUrl>

#include "app/stage/overlay.h"
#include "app/theme.h"
#include "draw/offscreen.h"

namespace tack {
namespace {

constexpr double kDragPixels = 4;
// A hand that wanders by so little after B still means what the list has chosen.
constexpr double kSamePlacePixels = 8;
constexpr double kDegreesPerPixel = 0.35;
constexpr int kStillMilliseconds = 220;
constexpr int kSamples = 4;

}  // namespace

Stage::Stage(Store& store, Workbench& bench, QWidget* parent)
    : QOpenGLWidget(parent), store_(store), bench_(bench), works_(this), overlay_(new Overlay(*this)) {
  setObjectName("stage");
  setAccessibleName("Stage");
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAcceptDrops(true);
  camera_ = turned_to(camera_, Side::Iso);
  store_.view_frame = [this] { return tack::view_frame(view()); };
  rest_.setSingleShot(true);
  rest_.setInterval(kStillMilliseconds);
  connect(&rest_, &QTimer::timeout, this, [this] {
    moving_ = false;
    update();
  });
  connect(&store_, &Store::scene_changed, this, &Stage::scene_changed);
  connect(&store_, &Store::picked_changed, this, [this] {
    items_known_ = false;
    update();
  });
  connect(&store_, &Store::look_changed, this, [this] {
    moved();
    overlay_->update();
  });
  connect(&works_, &MeshWorks::ready, this, &Stage::upload_ready);
  connect(&works_, &MeshWorks::settled, &bench_, &Workbench::measure_waiting);
  connect(&bench_, &Workbench::marks_changed, this, [this, had_ghosts = false]() mutable {
    overlay_->update();
    // The picture itself changes only with ghosts and drags.
    const Marks& marks = bench_.marks();
    const bool ghosts = !marks.ghosts.empty() || marks.shown;
    if (gesture_ == Gesture::None && hovered_handle_ >= 0) {
      // What was under the pointer may have moved away from it.
      handles_ = bench_.draft().handles(view());
      hovered_handle_ = handle_at(view(), handles_, last_at_.x(), last_at_.y());
    }
    if (!ghosts && !had_ghosts) return;
    items_known_ = false;
    moved();
    had_ghosts = ghosts;
  });
  connect(&bench_, &Workbench::verb_changed, this, [this] {
    cycling_ = false;
    under_.clear();
    setCursor(picks() ? Qt::ArrowCursor : Qt::CrossCursor);
    hovered_handle_ = -1;
    hover_at(last_at_);
  });
  connect(&bench_, &Workbench::next_tack_asked, this, [this](int by) {
    if (!bench_.draft().catches()) return;
    if (!cycling_) {
      under_ = all_tacks(catch_scene(), view(), last_at_.x(), last_at_.y(), catch_options(), 12);
      under_index_ = 0;
      cycling_ = true;
    }
    if (under_.empty()) return store_.say("There is no place to catch under the pointer.");
    const auto count = static_cast<int>(under_.size());
    under_index_ = static_cast<std::size_t>((static_cast<int>(under_index_) + by + count) % count);
    bench_.draft().hover(under_[under_index_]);
    overlay_->update();
  });
  connect(&bench_, &Workbench::kinds_changed, this, [this] {
    cycling_ = false;
    overlay_->update();
    // In a drag Q lets go of what was caught, and E takes the other two sizes along, at once.
    if (bench_.draft().dragging() && dragged_)
      drag_on(last_at_, QGuiApplication::keyboardModifiers());
    else if (underMouse())
      hover_at(last_at_);
  });
  connect(&bench_, &Workbench::frame_asked, this, [this](bool all) { all ? frame_all() : frame_picked(); });
  connect(&bench_, &Workbench::orbit_asked, this, [this](int right, int up) {
    // In exact 15° steps: onto the next multiple first.
    const auto step = [](double now, int by) {
      if (by == 0) return now;
      const double steps = now / 15;
      return 15 * (by > 0 ? std::floor(steps + 1e-9) + 1 : std::ceil(steps - 1e-9) - 1);
    };
    set_camera(orbited(camera_, step(camera_.turn, right) - camera_.turn, step(camera_.tilt, up) - camera_.tilt,
                       camera_.target));
  });
}

Stage::~Stage() {
  if (!created_) return;
  disconnect(&works_, nullptr, this, nullptr);
  makeCurrent();
  renderer_.release();
  doneCurrent();
}

View Stage::view() const { return view_of_pane(active_); }

View Stage::view_of_pane(int pane) const {
  const QRect rect = pane_rect(pane);
  return view_of(camera_of(pane), std::max(1, rect.width()), std::max(1, rect.height()));
}

QRect Stage::pane_rect(int pane) const {
  const int half_width = width() / 2, half_height = height() / 2;
  if (count_ == 1) return rect();
  if (count_ == 2)
    return pane == 0 ? QRect(0, 0, half_width, height()) : QRect(half_width, 0, width() - half_width, height());
  const int column = pane % 2, row = pane / 2;
  return {column * half_width, row * half_height, column ? width() - half_width : half_width,
          row ? height() - half_height : half_height};
}

void Stage::activate(int pane) {
  if (pane == active_ || pane >= count_) return;
  cameras_[static_cast<std::size_t>(active_)] = camera_;
  active_ = pane;
  camera_ = cameras_[static_cast<std::size_t>(pane)];
  cycling_ = false;
  hovered_handle_ = -1;
  overlay_->update();
  emit camera_changed();
}

QPointF Stage::into_pane(QPointF point) {
  if (gesture_ == Gesture::None)
    for (int pane = 0; pane < count_; ++pane)
      if (QRectF(pane_rect(pane)).contains(point)) activate(pane);
  return point - pane_rect(active_).topLeft();
}

void Stage::show_views(int count) {
  if (count == count_) return;
  const Camera was = camera_;
  const Box all = world_box_of(store_.scene());
  count_ = count;
  active_ = 0;
  if (count > 1) {
    // The view that was there stays, in the last pane; the others look square at the scene.
    const Side sides[] = {Side::Top, Side::Front, Side::Right};
    for (int pane = 0; pane < count - 1; ++pane) {
      const QRect rect = pane_rect(pane);
      cameras_[static_cast<std::size_t>(pane)] = framed(turned_to(was, sides[pane]), all, rect.width(), rect.height());
    }
    cameras_[static_cast<std::size_t>(count - 1)] = was;
    camera_ = cameras_[0];
    activate(count - 1);
  } else {
    camera_ = was;
  }
  moved();
  overlay_->update();
  emit camera_changed();
}

void Stage::square_onto(Side side) {
  const auto& picked = store_.picked();
  if (picked.empty()) return turn_to(side);
  const Axes axes = store_.axes().kind == AxesKind::World ? Axes(AxesKind::Local) : store_.axes();
  set_camera(squared_onto(camera_, true_axes(store_.scene(), picked.front(), axes), side));
}

void Stage::turn_to_nearest() { set_camera(turned_to_nearest(camera_)); }

void Stage::set_camera(const Camera& camera) {
  camera_ = camera;
  cycling_ = false;
  moved();
  overlay_->update();
  emit camera_changed();
}

void Stage::turn_to(Side side) { set_camera(turned_to(camera_, side)); }

void Stage::set_perspective(bool perspective) {
  Camera c = camera_;
  c.perspective = perspective;
  set_camera(c);
}

void Stage::hide_aids(bool hide) {
  hides_aids_ = hide;
  update();
  overlay_->update();
}

void Stage::point_out(const std::vector<TackAddress>& places) {
  pointed_out_ = places;
  overlay_->update();
}

const QList<Labels::Placed>& Stage::labels() const { return overlay_->labels(active_); }

Stage::Under Stage::under(QPointF stage_point) {
  const QPointF at = into_pane(stage_point);
  Under under;
  CatchOptions options;
  options.kinds = bench_.kinds();
  options.edge_parts = bench_.edge_parts();
  options.radius = store_.preferences().catch_radius;
  options.grid = CatchGrid{{}, grid_spacing_for(view(), camera_.target)};
  under.place = best_tack(catch_scene(), view(), at.x(), at.y(), options);
  if (const auto struck = strike(catch_scene(), view(), at.x(), at.y())) under.part = struck->part;
  return under;
}

void Stage::set_style(DrawStyle style) {
  style_ = style;
  update();
}

void Stage::frame_all() {
  const QRect rect = pane_rect(active_);
  set_camera(framed(camera_, world_box_of(store_.scene()), rect.width(), rect.height()));
}

void Stage::look_at(const Vec3& a, const Vec3& b, double around) {
  Box box;
  const double reach = std::max(around * 0.6, distance(a, b));
  for (const Vec3& p : {a, b})
    for (const double side : {-reach, reach}) box.include(p + Vec3{side, side, side});
  const QRect rect = pane_rect(active_);
  set_camera(framed(camera_, box, rect.width(), rect.height()));
}

void Stage::frame_picked() {
  if (store_.picked().empty()) return frame_all();
  Box box;
  const Scene& scene = store_.scene();
  const std::vector<bool> picked = marked_within(scene, store_.picked());
  for (const PartId id : scene.in_tree_order())
    if (picked[id] && scene.part(id).mesh) box.include(world_box_of(*scene.part(id).mesh, world_of(scene, id)));
  const QRect rect = pane_rect(active_);
  set_camera(framed(camera_, box, rect.width(), rect.height()));
}

void Stage::moved() {
  moving_ = true;
  rest_.start();
  update();
}

void Stage::scene_changed() {
  catch_scene_.reset();
  items_known_ = false;
  cycling_ = false;
  works_.want(store_.scene());
  moved();
  overlay_->update();
}

const CatchScene& Stage::catch_scene() {
  if (!catch_scene_) catch_scene_ = make_catch_scene(store_.scene());
  return *catch_scene_;
}

void Stage::upload_ready() {
  if (!created_) return;
  auto ready = works_.take();
  if (ready.empty()) return;
  makeCurrent();
  for (const MeshWorks::Ready& r : ready) renderer_.upload(r.mesh, r.arrays);
  renderer_.drop_gone();
  doneCurrent();
  moved();
}

void Stage::initializeGL() {
  if (created_) renderer_.release();
  const std::string error = renderer_.create();
  created_ = error.empty();
  if (!created_) {
    store_.say(QString::fromStdString(error), Tone::Wrong);
    return;
  }
  for (const MeshWorks::Ready& r : works_.take()) renderer_.upload(r.mesh, r.arrays);
}

const std::vector<DrawItem>& Stage::items() const {
  if (!items_known_) {
    // In a drag what is drawn is the scene as it would be.
    const Marks& marks = bench_.marks();
    items_.show(marks.shown ? *marks.shown : store_.scene(), store_.picked());
    items_.add_ghosts(store_.scene(), marks.ghosts);
    items_known_ = true;
  }
  return items_.items();
}

void Stage::paintGL() {
  if (!created_) return;
  const double ratio = devicePixelRatioF();
  DrawFrame frame;
  frame.items = items();
  frame.theme = theme().draw;
  frame.style = style_;
  frame.pixel_ratio = ratio;
  frame.samples = moving_ ? 0 : kSamples;
  for (int pane = 0; pane < count_; ++pane) {
    const QRect rect = pane_rect(pane);
    const Camera& camera = camera_of(pane);
    frame.view = view_of(camera, std::round(rect.width() * ratio), std::round(rect.height() * ratio));
    frame.grid = grid_is_shown();
    frame.grid_centre = {camera.target.x, camera.target.y, 0};
    frame.grid_spacing = grid_spacing_for(view_of_pane(pane), camera.target);
    frame.left = static_cast<int>(std::round(rect.left() * ratio));
    frame.bottom = static_cast<int>(std::round((height() - rect.bottom() - 1) * ratio));
    renderer_.draw(frame, defaultFramebufferObject());
  }
  emit painted();
}

QImage Stage::picture_of(const Scene& scene, const QSize& size) {
  constexpr std::size_t kMost = 500000;  // triangles: about a tenth of a second to prepare
  std::size_t triangles = 0;
  for (const PartId id : scene.in_tree_order())
    if (scene.part(id).mesh) triangles += scene.part(id).mesh->triangles().size();
  if (!created_ || triangles == 0 || triangles > kMost) return {};
  DrawList list;
  list.show(scene, {});
  DrawFrame frame;
  frame.view = view_of(framed(turned_to({}, Side::Iso), world_box_of(scene), size.width(), size.height()), size.width(),
                       size.height());
  frame.items = list.items();
  frame.theme = theme().draw;
  frame.samples = kSamples;
  frame.grid = false;
  makeCurrent();
  for (const PartId id : scene.in_tree_order())
    if (const MeshPtr& mesh = scene.part(id).mesh; mesh && !renderer_.has(*mesh))
      renderer_.upload(mesh, make_mesh_arrays(*mesh));
  const auto pixels = renderer_.draw_to_memory(frame);
  doneCurrent();
  const QImage image(pixels.data(), size.width(), size.height(), size.width() * 4, QImage::Format_RGBA8888);
  return image.copy();
}

QImage Stage::picture(const QSize& size) {
  if (!created_) return {};
  DrawFrame frame;
  frame.view = view_of(camera_, size.width(), size.height());
  frame.items = items();
  frame.theme = theme().draw;
  frame.samples = kSamples;
  frame.grid_centre = {camera_.target.x, camera_.target.y, 0};
  frame.grid_spacing = grid_spacing_for(frame.view, camera_.target);
  makeCurrent();
  const auto pixels = renderer_.draw_to_memory(frame);
  doneCurrent();
  const QImage image(pixels.data(), size.width(), size.height(), size.width() * 4, QImage::Format_RGBA8888);
  return image.copy();
}

QImage Stage::close_up_image(const View& view, int size) {
  if (!created_) return {};
  DrawFrame frame;
  frame.view = view;
  frame.items = items();
  frame.theme = theme().draw;
  frame.grid = false;
  frame.cut_at_eye = true;
  frame.pixel_ratio = devicePixelRatioF();
  frame.samples = moving_ ? 0 : kSamples;
  makeCurrent();
  const auto pixels = renderer_.draw_to_memory(frame);
  doneCurrent();
  const QImage image(pixels.data(), size, size, size * 4, QImage::Format_RGBA8888);
  return image.copy();
}

std::optional<QPointF> Stage::pixel_of(const Vec3& world) const {
  const auto pixel = view().project(world);
  return pixel ? std::optional(QPointF(pixel->x, pixel->y) + pane_rect(active_).topLeft()) : std::nullopt;
}

Stage::ShortList Stage::short_list() const {
  ShortList list;
  if (bench_.shows_kinds()) {
    for (std::size_t i = 0; i < kCatchKindCount; ++i)
      list.rows << QString(QLatin1Char(kCatchKindKeys[i])) + "   " +
                       QString::fromUtf8(kCatchKindWords[i].data(), static_cast<int>(kCatchKindWords[i].size()));
    list.rows << "0   all";
    list.seen = static_cast<int>(list.rows.size());
    list.chosen = bench_.only() ? static_cast<int>(*bench_.only()) : static_cast<int>(list.rows.size()) - 1;
  } else if (cycling_ && under_.size() > 1) {
    for (const Caught& caught : under_) {
      list.seen += !caught.behind;
      list.rows << QString::fromStdString(tack_words(store_.scene(), caught.address)) +
                       (caught.behind ? " · behind" : QString());
    }
    list.chosen = static_cast<int>(under_index_);
  }
  return list;
}

void Stage::resizeEvent(QResizeEvent* event) {
  QOpenGLWidget::resizeEvent(event);
  overlay_->setGeometry(rect());
}

CatchOptions Stage::catch_options() const {
  CatchOptions options;
  options.kinds = bench_.kinds();
  options.edge_parts = bench_.edge_parts();
  options.radius = store_.preferences().catch_radius;
  options.hidden_too = bench_.only().has_value();
  options.grid = CatchGrid{{}, grid_spacing_for(view(), camera_.target)};
  const CatchOn on = bench_.draft().catches_on();
  if (on == CatchOn::All) return options;
  const std::vector<bool>* moves = &bench_.draft().moving_mask();
  options.leave_out = [moves, moving = on == CatchOn::WhatStays](PartId id) {
    return id < moves->size() && (*moves)[id] == moving;
  };
  // What moves is looked through; what merely cannot be taken hold of hides what is behind it.
  if (on == CatchOn::WhatStays) options.see_through = options.leave_out;
  return options;
}

std::optional<Caught> Stage::caught_in(const View& view, QPointF at) {
  if (!bench_.draft().catches()) return std::nullopt;
  CatchOptions options = catch_options();
  options.cut_at_eye = true;
  return best_tack(catch_scene(), view, at.x(), at.y(), options);
}

// A handle stops level with points, not with whatever edge or surface the pointer happens to pass over. Increments that
// were asked for with Shift are what is wanted then.
std::optional<Caught> Stage::caught_by_drag(QPointF position, Qt::KeyboardModifiers modifiers) {
  const Drafting& draft = bench_.draft();
  if (bench_.catches_nothing()) return std::nullopt;
  if (draft.grips_place()) return caught_at(position);
  if (!draft.handle_catches() || (steps_now(modifiers) && modifiers & Qt::ShiftModifier)) return std::nullopt;
  CatchOptions options = catch_options();
  for (const CatchKind kind : {CatchKind::Edge, CatchKind::Face, CatchKind::Axis, CatchKind::Grid})
    options.kinds.set(kind, false);
  ++catches_;
  const auto caught = best_tack(catch_scene(), view(), position.x(), position.y(), options);
  // The middle of a large face is caught from anywhere on it: here only what is under the pointer itself is meant.
  const auto at = caught ? view().project(caught->point) : std::nullopt;
  const bool near = at && std::hypot(at->x - position.x(), at->y - position.y()) <= options.radius;
  return near ? caught : std::nullopt;
}

void Stage::drag_on(QPointF at, Qt::KeyboardModifiers modifiers) {
  bench_.draft().drag_to(view(), at, caught_by_drag(at, modifiers), steps_now(modifiers), bench_.sizes_evenly());
}

std::optional<Caught> Stage::caught_at(QPointF position) {
  if (bench_.catches_nothing()) return std::nullopt;
  ++catches_;
  return best_tack(catch_scene(), view(), position.x(), position.y(), catch_options());
}

bool Stage::steps_now(Qt::KeyboardModifiers modifiers) const {
  return store_.increments().on != bool(modifiers & Qt::ShiftModifier);
}

void Stage::hover_at(QPointF position) {
  Drafting& draft = bench_.draft();
  const int letter = hides_aids_ ? -1 : Overlay::axis_letter_at(view(), position);
  if (letter != hovered_letter_) {
    hovered_letter_ = letter;
    setCursor(letter >= 0 ? Qt::PointingHandCursor : picks() ? Qt::ArrowCursor : Qt::CrossCursor);
    overlay_->update();
  }
  handles_ = draft.handles(view());
  const int handle = handle_at(view(), handles_, position.x(), position.y());
  if (handle != hovered_handle_) {
    hovered_handle_ = handle;
    overlay_->update();
  }
  if (handle >= 0 && !cycling_) {
    last_at_ = position;
    return draft.hover(std::nullopt);
  }
  if (cycling_ && QLineF(position, last_at_).length() > kSamePlacePixels) cycling_ = false;
  if (cycling_) return;
  last_at_ = position;
  draft.hover(draft.catches() || bench_.asks_place() ? caught_at(position) : std::nullopt);
}

Vec3 Stage::point_under(QPointF position) const {
  const View now = view();
  const CatchScene& scene = const_cast<Stage*>(this)->catch_scene();
  // Beside a part by a few pixels still means the part; in the open the picture moves as far away as its middle.
  constexpr double kNear = 6;
  for (const auto& [x, y] : {std::pair{0.0, 0.0}, {kNear, 0.0}, {-kNear, 0.0}, {0.0, kNear}, {0.0, -kNear}})
    if (const auto struck = strike(scene, now, position.x() + x, position.y() + y))
      return now.point_level_with(struck->point, position.x(), position.y());
  return now.point_level_with(camera_.target, position.x(), position.y());
}

void Stage::mousePressEvent(QMouseEvent* event) {
  if (gesture_ != Gesture::None) return;
  pressed_at_ = into_pane(event->position());
  dragged_ = false;
  button_ = event->button();
  Drafting& draft = bench_.draft();
  if (event->button() == Qt::LeftButton) {
    if (const int letter = hides_aids_ ? -1 : Overlay::axis_letter_at(view(), pressed_at_); letter >= 0) {
      // Along the axis; when it is looked along already, from the other side.
      constexpr Side kAlong[] = {Side::Right, Side::Front, Side::Top}, kBack[] = {Side::Left, Side::Back, Side::Bottom};
      const Camera along = turned_to(camera_, kAlong[letter]);
      const bool there = along.turn == camera_.turn && along.tilt == camera_.tilt && camera_.roll == 0;
      last_at_ = pressed_at_;
      return turn_to(there ? kBack[letter] : kAlong[letter]);
    }
    bench_.note_use();
    bench_.leave_entry();
    if (bench_.asks_place()) {
      const auto caught = caught_at(pressed_at_);
      gesture_ = Gesture::Tack;
      last_at_ = pressed_at_;
      if (!caught) return store_.say("There is no place to catch there.", Tone::Wrong);
      return bench_.give_place(*caught);
    }
    if (draft.wants_part()) {
      if (const auto struck = strike(catch_scene(), view(), pressed_at_.x(), pressed_at_.y()))
        draft.take_part(struck->part);
      else
        store_.say("There is no part there.", Tone::Wrong);
      gesture_ = Gesture::Tack;
      last_at_ = pressed_at_;
      return;
    }
    handles_ = draft.handles(view());
    if (overlay_->handle_letter_at(active_, pressed_at_)) {
      // Own axes and World change places: the letters at the ends of rulers and arcs say whose they are.
      last_at_ = pressed_at_;
      const bool world = store_.axes().kind == AxesKind::World;
      store_.set_axes(world ? AxesKind::Local : AxesKind::World);
      return store_.say(world ? "Along the part's own axes." : "Along World's axes.");
    }
    if (const int number = handle_at(view(), handles_, pressed_at_.x(), pressed_at_.y()); number >= 0) {
      // A copy: what the verb says when a drag begins may offer handles anew.
      const Handle handle = handles_[static_cast<std::size_t>(number)];
      if (handle.kind == Handle::Kind::Value) {
        last_at_ = pressed_at_;
        return bench_.type_along(static_cast<std::size_t>(handle.axes[0] ? 0 : handle.axes[1] ? 1 : 2));
      }
      if (draft.begin_drag(handle, view(), pressed_at_)) {
        gesture_ = Gesture::Handle;
        last_at_ = pressed_at_;
        return;
      }
    }
    std::optional<Caught> caught;
    if (cycling_ && under_index_ < under_.size() && QLineF(pressed_at_, last_at_).length() <= kSamePlacePixels)
      caught = under_[under_index_];
    else if (draft.catches() || !picks())
      caught = caught_at(pressed_at_);
    cycling_ = false;
    last_at_ = pressed_at_;
    const bool grips = caught && draft.offers_grips();
    const bool names = bench_.names_still() && draft.waiting() == draft.still();
    still_.reset();
    if (draft.press(caught, event->modifiers())) {
      gesture_ = Gesture::Tack;
      if (names && caught) still_ = caught->point;
    } else {
      // A click picks; a drag from a place of what is picked takes hold of that place.
      gesture_ = grips ? Gesture::Grip : Gesture::Pick;
      gripped_ = caught;
    }
  } else if (event->button() == Qt::RightButton) {
    gesture_ = Gesture::Orbit;
    grabbed_ = point_under(pressed_at_);
  } else if (event->button() == Qt::MiddleButton) {
    gesture_ = Gesture::Pan;
    grabbed_ = point_under(pressed_at_);
  }
  last_at_ = pressed_at_;
}

void Stage::mouseMoveEvent(QMouseEvent* event) {
  const QPointF at = into_pane(event->position()), by = at - last_at_;
  if (gesture_ == Gesture::None) return hover_at(at);
  if (QLineF(at, pressed_at_).length() > kDragPixels) dragged_ = true;
  Drafting& draft = bench_.draft();
  switch (gesture_) {
    case Gesture::Orbit:
      if (!dragged_) break;  // a hand that trembles does not turn the view, and the short list still opens
      set_camera(orbited(camera_, -by.x() * kDegreesPerPixel, by.y() * kDegreesPerPixel, grabbed_));
      break;
    case Gesture::Pan: set_camera(panned(camera_, view(), grabbed_, by.x(), by.y())); break;
    case Gesture::Grip:
      // Taken hold of once: after Esc nothing moves until the next press.
      if (dragged_ && gripped_) draft.begin_grip(*std::exchange(gripped_, std::nullopt), view(), pressed_at_);
      [[fallthrough]];
    case Gesture::Handle:
      if (dragged_ && draft.dragging()) drag_on(at, event->modifiers());
      break;
    case Gesture::Tack:
      if (still_ && bench_.names_still()) {
        // An angle means something only once the pointer is off the place itself.
        constexpr double kOff = 14;
        if (QLineF(at, pressed_at_).length() > kOff &&
            draft.begin_about(*std::exchange(still_, std::nullopt), view(), at))
          gesture_ = Gesture::Handle;
        break;
      }
      if (dragged_) hover_at(at);
      break;
    case Gesture::Pick:
      if (dragged_ && picks()) gesture_ = Gesture::Rectangle;
      break;
    default: break;
  }
  last_at_ = at;
  if (gesture_ == Gesture::Rectangle) overlay_->update();
}

// Only the button that began a gesture ends it: another one that is tapped meanwhile means nothing.
void Stage::mouseReleaseEvent(QMouseEvent* event) {
  if (gesture_ == Gesture::None || event->button() != button_) return;
  const QPointF at = into_pane(event->position());  // while the gesture still holds its pane
  end_gesture(at, event->modifiers());
  last_at_ = at;
  overlay_->update();
}

void Stage::end_gesture(QPointF at, Qt::KeyboardModifiers modifiers) {
  const Gesture gesture = std::exchange(gesture_, Gesture::None);
  const bool add = modifiers & Qt::ControlModifier;
  Drafting& draft = bench_.draft();
  if (gesture == Gesture::Handle || (gesture == Gesture::Grip && dragged_)) {
    // A press without a drag takes a pad as it is; for rulers and arcs it means nothing.
    if (draft.dragging() && (dragged_ || draft.presses_count())) drag_on(at, modifiers);
    if (draft.dragging()) draft.end_drag(add);
    hover_at(at);
  } else if (gesture == Gesture::Tack) {
    if (dragged_)
      draft.release(caught_at(at), modifiers);
    else
      hover_at(at);
  } else if ((gesture == Gesture::Pick || gesture == Gesture::Grip) && !dragged_) {
    pick_at(at, add);
  } else if (gesture == Gesture::Rectangle) {
    const QRectF r = QRectF(pressed_at_, at).normalized();
    auto parts = parts_in_rectangle(catch_scene(), view(), r.left(), r.top(), r.right(), r.bottom(),
                                    modifiers & Qt::ShiftModifier);
    if (add) parts.insert(parts.begin(), store_.picked().begin(), store_.picked().end());
    store_.pick(std::move(parts));
  } else if (gesture == Gesture::Orbit && !dragged_) {
    emit list_asked(at + pane_rect(active_).topLeft());
  }
}

void Stage::pick_at(QPointF at, bool add) {
  const auto struck = strike(catch_scene(), view(), at.x(), at.y());
  PartId part = struck ? struck->part : kNoPart;
  // A guide has no surface: one that is near and seen is meant before what lies behind it.
  CatchOptions guides;
  guides.kinds = CatchKinds::only(CatchKind::Guide);
  guides.radius = 5;
  if (const auto guide = best_tack(catch_scene(), view(), at.x(), at.y(), guides); guide && guide->score < kFaceScore)
    part = guide->address.part;
  if (part != kNoPart || !add) store_.pick_one(part, add);
}

void Stage::wheelEvent(QWheelEvent* event) {
  const double steps = event->angleDelta().y() / 120.0;
  if (steps == 0) return;
  set_camera(zoomed(camera_, std::pow(0.86, steps), point_under(into_pane(event->position()))));
}

void Stage::leaveEvent(QEvent*) {
  if (gesture_ != Gesture::None || cycling_) return;
  bench_.draft().hover(std::nullopt);
}

bool Stage::event(QEvent* event) {
  // Tab belongs to the sentence while the stage has the focus.
  if (event->type() == QEvent::KeyPress) {
    auto* key = static_cast<QKeyEvent*>(event);
    if ((key->key() == Qt::Key_Tab || key->key() == Qt::Key_Backtab) && bench_.key_press(*key)) return true;
  }
  return QOpenGLWidget::event(event);
}

void Stage::keyPressEvent(QKeyEvent* event) {
  if (!bench_.key_press(*event)) QOpenGLWidget::keyPressEvent(event);
}

void Stage::keyReleaseEvent(QKeyEvent* event) {
  if (!bench_.key_release(*event)) QOpenGLWidget::keyReleaseEvent(event);
}

void Stage::focusOutEvent(QFocusEvent* event) {
  // An entry that opens while a verb's key is down takes the focus, and is its use, not its end.
  if (event->reason() == Qt::ActiveWindowFocusReason) {
    bench_.let_go();
    // A drag whose window went away is taken back: nobody will let go of it here.
    if (bench_.draft().dragging()) {
      bench_.draft().cancel_drag();
      gesture_ = Gesture::None;
    }
  }
  QOpenGLWidget::focusOutEvent(event);
}

void Stage::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void Stage::dropEvent(QDropEvent* event) {
  QStringList files;
  for (const QUrl& url : event->mimeData()->urls())
    if (url.isLocalFile()) files << url.toLocalFile();
  event->acceptProposedAction();
  if (files.isEmpty())
    store_.say("What was dropped is not a file on this machine.", Tone::Wrong);
  else
    emit dropped(files);
}

}  // namespace tack
