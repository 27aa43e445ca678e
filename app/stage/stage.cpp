#include "app/stage/stage.h"

#include <QElapsedTimer>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QOpenGLContext>
#include <QOpenGLFunctions>

#include "app/memory.h"
#include "app/stage/overlay.h"
#include "app/theme.h"
#include "draw/offscreen.h"
#include "draw/plane_grid.h"

namespace tack {
namespace {

constexpr int kStillMilliseconds = 80;
constexpr int kTidyMilliseconds = 2000;  // after the finished picture: an autosave has been written by then, too

// In an elevation what is not picked is drawn quietly.
DrawTheme quiet_theme(DrawTheme theme) {
  theme.edge.a *= 0.45f;
  return theme;
}

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
  connect(&rest_, &QTimer::timeout, this, [this] { finishing_.start(); });
  tidy_.setSingleShot(true);
  tidy_.setInterval(kTidyMilliseconds);
  connect(&tidy_, &QTimer::timeout, this, &Stage::tidy);
  finishing_.setObjectName("finishing");
  finishing_.setInterval(0);
  connect(&finishing_, &QTimer::timeout, this, &Stage::finish_on);
  connect(&store_, &Store::scene_changed, this, &Stage::scene_changed);
  connect(&store_, &Store::started, this, [this] {
    left_.clear();
    items_.forget();
  });
  connect(&store_, &Store::picked_changed, this, [this] {
    items_known_ = false;
    moved();
  });
  connect(&store_, &Store::look_changed, this, [this] {
    for (StripPicture& strip : pictures_) strip.items = 0;
    moved();
    overlay_->update();
  });
  connect(&works_, &MeshWorks::ready, this, &Stage::upload_ready);
  connect(&works_, &MeshWorks::settled, overlay_, qOverload<>(&QWidget::update));
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
  connect(&bench_, &Workbench::compare_asked, this, &Stage::compare);
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
  for (StripPicture& strip : pictures_) strip.picture.release();
  renderer_.release();
  doneCurrent();
}

void Stage::square_onto(Side side) {
  const auto& picked = store_.picked();
  if (picked.empty()) return turn_to(side);
  const Axes axes = store_.axes().kind == AxesKind::World ? Axes(AxesKind::Local) : store_.axes();
  set_camera(squared_onto(camera_, true_axes(store_.scene(), picked.front(), axes), side));
}

void Stage::square_onto_plane() {
  const Affine plane = plane_frame(store_.scene(), store_.scene().plane());
  set_camera(squared_onto(camera_, plane.linear, Side::Top));
}

void Stage::keep_in_step(bool on) {
  in_step_ = on;
  set_camera(camera_);
}

void Stage::turn_to_nearest() { set_camera(turned_to_nearest(camera_)); }

void Stage::set_camera(const Camera& camera) {
  camera_ = camera;
  if (in_step_)
    for (Camera& other : cameras_) {
      other.target = camera.target;
      other.distance = camera.distance;
    }
  cycling_ = false;
  moved(false);
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
  moved();
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
  under.place = best_tack(catch_scene(), view(), at.x(), at.y(), all_options());
  if (const auto struck = strike(catch_scene(), view(), at.x(), at.y())) under.part = struck->part;
  return under;
}

void Stage::set_style(DrawStyle style) {
  style_ = style;
  moved();
  overlay_->update();
}

void Stage::frame_all() {
  const QRect rect = pane_rect(main_);
  set_camera(framed(camera_, world_box_of(store_.scene()), rect.width(), rect.height()));
}

void Stage::look_at(const Vec3& a, const Vec3& b, double around) {
  Box box;
  const double reach = std::max(around * 0.6, distance(a, b));
  for (const Vec3& p : {a, b})
    for (const double side : {-reach, reach}) box.include(p + Vec3{side, side, side});
  const QRect rect = pane_rect(main_);
  set_camera(framed(camera_, box, rect.width(), rect.height()));
}

void Stage::frame_picked() {
  if (store_.picked().empty()) return frame_all();
  Box box;
  const Scene& scene = store_.scene();
  const std::vector<bool> picked = marked_within(scene, store_.picked());
  for (const PartId id : scene.in_tree_order())
    if (picked[id] && scene.part(id).mesh) box.include(world_box_of(*scene.part(id).mesh, world_of(scene, id)));
  const QRect rect = pane_rect(main_);
  set_camera(framed(camera_, box, rect.width(), rect.height()));
}

void Stage::moved(bool everywhere) {
  changes_ += everywhere;
  moving_ = true;
  finishing_.stop();
  tidy_.stop();
  finished_.drop();
  if (everywhere)
    for (const auto& close_up : close_ups_) close_up->outdate();
  rest_.start();
  update();
}

void Stage::finish_soon() {
  if (moving_ && (rest_.isActive() || finishing_.isActive())) return;
  finishing_.stop();
  rest_.start();
}

CloseUp* Stage::unfinished_close_up() const {
  const auto next = std::find_if(close_ups_.begin(), close_ups_.end(), [](const auto& c) { return !c->is_finished(); });
  return next == close_ups_.end() ? nullptr : next->get();
}

// The picture rests: it is drawn as it should be, aside, while the one that is shown stays; and after it what looks
// closely. Whatever happens meanwhile comes between two slices, and moved() ends it.
void Stage::finish_on() {
  constexpr double kSlice = 15;  // milliseconds
  if (!created_ || !isVisible()) return finishing_.stop();
  makeCurrent();
  if (moving_)
    moving_ = !finish_view(kSlice);
  else if (CloseUp* next = unfinished_close_up())
    next->go_on(kSlice);
  const bool rests = !moving_ && !unfinished_close_up();
  const bool warms = rests && memory_ == Memory::Plenty && renderer_.warm_up();
  doneCurrent();
  if (!rests || warms) return;
  finishing_.stop();
  tidy_.start();
}

bool Stage::finish_view(double milliseconds) {
  if (!finished_.begun()) {
    look_for_memory();
    if (memory_ == Memory::None) return true;
    const double ratio = devicePixelRatioF();
    // Of several panes those that have changed.
    const std::vector<int> all = panes();
    finished_panes_ = all;
    std::erase_if(finished_panes_, [this](int pane) { return is_kept(pane); });
    if (finished_panes_.empty()) finished_panes_ = all;
    std::vector<DrawFrame> frames = frames_of_panes(true), changed;
    for (std::size_t i = 0; i < all.size(); ++i)
      if (std::find(finished_panes_.begin(), finished_panes_.end(), all[i]) != finished_panes_.end())
        changed.push_back(frames[i]), kept_[static_cast<std::size_t>(all[i])].reset();
    finished_.begin(changed, static_cast<int>(std::round(width() * ratio)),
                    static_cast<int>(std::round(height() * ratio)));
  }
  if (!finished_.go_on(milliseconds)) return false;
  for (const int pane : finished_panes_) kept_[static_cast<std::size_t>(pane)] = look_of(pane);
  update();
  return true;
}

void Stage::scene_changed() {
  catch_scene_.reset();
  shown_box_.reset();
  sheet_.reset();
  items_known_ = false;
  cycling_ = false;
  want_meshes();
  moved();
  overlay_->update();
}

PlaneGridLook Stage::grid_look(const Scene& scene, const View& view, const Vec3& target) const {
  const PartId plane = scene.plane();
  if (plane != kNoPart && !sheet_) sheet_ = sheet_of(store_.scene(), plane);
  return plane_grid_look(scene, view, target, sheet_);
}

const CatchScene& Stage::catch_scene() {
  if (!catch_scene_) catch_scene_ = make_catch_scene(store_.scene());
  return *catch_scene_;
}

void Stage::initializeGL() {
  const bool again = created_;
  if (again) {
    for (StripPicture& strip : pictures_) strip.picture.release();
    renderer_.release();
  }
  const std::string error = renderer_.create();
  created_ = error.empty();
  if (!created_) {
    store_.say(QString::fromStdString(error), Tone::Wrong);
    return;
  }
  kept_ = {};
  if (again) {
    works_.forget_all();
    want_meshes();
  }
  QTimer::singleShot(0, this, &Stage::upload_ready);
}

const std::vector<DrawItem>& Stage::items() const {
  if (!items_known_) {
    // In a drag what is drawn is the scene as it would be.
    const Marks& marks = bench_.marks();
    std::vector<PartId> outlined = store_.picked();
    if (dropped_on_ != kNoPart) outlined.push_back(dropped_on_);
    items_.show(compared_ ? *compared_ : marks.shown ? *marks.shown : store_.scene(), outlined);
    // A heavy mesh that has only just been made is not ready yet: what was drawn last stays in its place.
    unready_ = items_.stand_in(
        [this](const Mesh& mesh) { return mesh.triangles().size() <= kSmallMesh || renderer_.has(mesh); });
    if (!compared_) items_.add_ghosts(marks.ghost_scene ? *marks.ghost_scene : store_.scene(), marks.ghosts);
    items_known_ = true;
    ++items_made_;
  }
  return items_.items();
}

Stage::PaneLook Stage::look_of(int pane) const {
  return {camera_of(pane), pane_rect(pane), size(), devicePixelRatioF(), memory_ == Memory::Plenty, changes_};
}

// What each pane shows; an elevation is drawn by itself.
std::vector<DrawFrame> Stage::frames_of_panes(bool finished) {
  // What is drawn at most, triangles and edges: while things move some thirtieth of a second for a card that is none,
  // at rest half a second.
  constexpr std::size_t kMostMoving = 120'000, kMostFinished = 400'000;
  constexpr double kOffMoving = 0.7, kMostOffFinished = 1.5, kTonedBelow = 1.5;
  const double ratio = devicePixelRatioF();
  std::vector<DrawFrame> frames;
  const std::vector<int> all = panes();
  for (const int pane : all) {
    DrawFrame frame;
    frame.items = items();
    frame.pixel_ratio = ratio;
    frame.samples = finished && memory_ == Memory::Plenty ? kStageSamples : 0;
    frame.most = (finished ? kMostFinished : kMostMoving) / all.size();
    frame.toned_below = kTonedBelow;
    if (finished)
      frame.most_off = kMostOffFinished;
    else
      frame.off = kOffMoving;
    const QRect rect = pane_rect(pane);
    const Camera camera = camera_of(pane);
    const bool flat = elevation_of(pane).has_value();
    frame.style = flat ? DrawStyle::SeeThrough : style_;
    frame.theme = flat ? quiet_theme(theme().draw) : theme().draw;
    frame.view = view_of(camera, std::round(rect.width() * ratio), std::round(rect.height() * ratio));
    const Marks& marks = bench_.marks();
    frame.grid = grid_look(marks.shown ? *marks.shown : store_.scene(), view_of_pane(pane), camera.target).drawn;
    frame.grid.shown = !hides_aids_ && !flat;
    frame.left = static_cast<int>(std::round(rect.left() * ratio));
    frame.bottom = static_cast<int>(std::round((height() - rect.bottom() - 1) * ratio));
    frames.push_back(frame);
  }
  return frames;
}

void Stage::paintGL() {
  if (!created_) return;
  look_for_memory();
  // The driver ends the process when it finds none for a picture.
  if (memory_ == Memory::None) {
    QOpenGLFunctions& gl = *context()->functions();
    const Colour& ground = theme().draw.mist_bottom;
    gl.glClearColor(ground.r, ground.g, ground.b, 1);
    gl.glClear(GL_COLOR_BUFFER_BIT);
    if (!tidy_.isActive()) tidy_.start();
    return emit painted();
  }
  upload_small(items());
  want_passing();
  if (finished_.done()) {
    finished_.show(defaultFramebufferObject());
    return emit painted();
  }
  const std::vector<int> all = panes();
  const std::vector<DrawFrame> frames = frames_of_panes(false);
  for (std::size_t i = 0; i < all.size(); ++i)
    if (is_kept(all[i]))
      finished_.show_kept(frames[i], defaultFramebufferObject());
    else if (const auto elevation = elevation_of(all[i]))
      paint_strip(*elevation, frames[i]);
    else
      renderer_.draw(frames[i], defaultFramebufferObject());
  // What is shown now is coarse, whatever brought it about.
  if (!rest_.isActive() && !finishing_.isActive()) rest_.start();
  moving_ = true;
  emit painted();
}

std::optional<QPointF> Stage::pixel_in(int pane, const Vec3& world) const {
  const auto pixel = view_of_pane(pane).project(world);
  return pixel ? std::optional(QPointF(pixel->x, pixel->y) + pane_rect(pane).topLeft()) : std::nullopt;
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
  moved();
  overlay_->setGeometry(rect());
}

CatchOptions Stage::all_options() const {
  CatchOptions options;
  options.kinds = bench_.kinds();
  options.edge_parts = bench_.edge_parts();
  options.radius = store_.preferences().catch_radius;
  options.hidden_too = bench_.only().has_value();
  const PlaneGridLook grid = grid_look(store_.scene(), view(), camera_.target);
  const bool ends = grid_of(store_.scene(), store_.scene().plane()).extent > 0;
  options.grid =
      CatchGrid{grid.drawn.frame, grid.look.node, store_.scene().plane(), ends ? grid.drawn.sheet : std::nullopt};
  return options;
}

CatchOptions Stage::catch_options() const {
  CatchOptions options = all_options();
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

std::optional<Caught> Stage::caught_at(QPointF position) {
  if (bench_.catches_nothing()) return std::nullopt;
  ++catches_;
  auto caught = best_tack(catch_scene(), view(), position.x(), position.y(), catch_options());
  // A height is wherever the pointer is, unless a feature is meant: what lies on surfaces and on the grid is not.
  const Drafting& draft = bench_.draft();
  const bool height = key_of_blank(draft.draft().verb, draft.waiting()) == "up";
  const bool found =
      caught && !(height && (caught->address.kind == TackKind::Face || caught->address.kind == TackKind::PlanePoint));
  if (!found)
    if (auto free = draft.free_place(view(), position, steps_now(QGuiApplication::keyboardModifiers()))) return free;
  return caught;
}

bool Stage::steps_now(Qt::KeyboardModifiers modifiers) const {
  return store_.increments().on != bool(modifiers & Qt::ShiftModifier);
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
    if (compared_) compare(false);
    // A drag whose window went away is taken back: nobody will let go of it here.
    if (bench_.draft().dragging()) {
      bench_.draft().cancel_drag();
      gesture_ = Gesture::None;
    }
  }
  QOpenGLWidget::focusOutEvent(event);
}

}  // namespace tack
