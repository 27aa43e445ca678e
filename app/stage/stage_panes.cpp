// The panes of the stage: one, two or four views, and the elevations along its edges; declared in stage.h.
#include <QElapsedTimer>
#include <QOpenGLContext>
#include <QOpenGLFunctions>
#include <numeric>

#include "app/stage/overlay.h"
#include "app/stage/stage.h"
#include "core/verbs/about.h"

namespace tack {
namespace {

constexpr int kLeastStrip = 70;  // pixels, and never more than half of the stage

}  // namespace

View Stage::view() const { return view_of_pane(active_); }

View Stage::view_of_pane(int pane) const {
  const QRect rect = pane_rect(pane);
  return view_of(camera_of(pane), std::max(1, rect.width()), std::max(1, rect.height()));
}

std::vector<int> Stage::panes() const {
  std::vector<int> panes(static_cast<std::size_t>(count_));
  std::iota(panes.begin(), panes.end(), 0);
  for (const Elevation strip : {Elevation::Front, Elevation::Side})
    if (shows(strip)) panes.push_back(pane_of(strip));
  return panes;
}

std::optional<Elevation> Stage::elevation_of(int pane) {
  if (pane == pane_of(Elevation::Front)) return Elevation::Front;
  return pane == pane_of(Elevation::Side) ? std::optional(Elevation::Side) : std::nullopt;
}

QRect Stage::pane_rect(int pane) const {
  const int below = shows(Elevation::Front)
                        ? std::clamp(strip_of(Elevation::Front).wide, kLeastStrip, std::max(kLeastStrip, height() / 2))
                        : 0;
  const int beside = shows(Elevation::Side)
                         ? std::clamp(strip_of(Elevation::Side).wide, kLeastStrip, std::max(kLeastStrip, width() / 2))
                         : 0;
  const int main_width = std::max(1, width() - beside), main_height = std::max(1, height() - below);
  if (pane == pane_of(Elevation::Front)) return {0, main_height, main_width, below};
  if (pane == pane_of(Elevation::Side)) return {main_width, 0, beside, height()};
  const int half_width = main_width / 2, half_height = main_height / 2;
  if (count_ == 1) return {0, 0, main_width, main_height};
  if (count_ == 2)
    return pane == 0 ? QRect(0, 0, half_width, main_height)
                     : QRect(half_width, 0, main_width - half_width, main_height);
  const int column = pane % 2, row = pane / 2;
  return {column * half_width, row * half_height, column ? main_width - half_width : half_width,
          row ? main_height - half_height : half_height};
}

Camera Stage::camera_of(int pane) const {
  if (const auto elevation = elevation_of(pane)) {
    const QRect rect = pane_rect(pane), main = pane_rect(main_);
    return elevation_camera(camera_, main.height(), elevation_frame(), *elevation, rect.width(), rect.height(),
                            shown_box());
  }
  return pane == main_ ? camera_ : cameras_[static_cast<std::size_t>(pane)];
}

const Box& Stage::shown_box() const {
  if (!shown_box_) {
    shown_box_ = Box{};
    for (const CatchPart& part : const_cast<Stage*>(this)->catch_scene().parts)
      if (part.mesh)
        for (const Vec3& corner : part.mesh->box().corners()) shown_box_->include(part.world * corner);
  }
  return *shown_box_;
}

void Stage::activate(int pane) {
  if (pane == active_) return;
  const bool strip = elevation_of(pane).has_value();
  if (!strip && pane >= count_) return;
  if (!strip && pane != main_) {
    cameras_[static_cast<std::size_t>(main_)] = camera_;
    main_ = pane;
    camera_ = cameras_[static_cast<std::size_t>(pane)];
  }
  active_ = pane;
  cycling_ = false;
  hovered_handle_ = -1;
  overlay_->update();
  emit camera_changed();
}

QPointF Stage::into_pane(QPointF point) {
  if (gesture_ == Gesture::None)
    for (const int pane : panes())
      if (QRectF(pane_rect(pane)).contains(point)) activate(pane);
  return point - pane_rect(active_).topLeft();
}

void Stage::show_views(int count) {
  if (count == count_) return;
  const Camera was = camera_;
  const Box all = world_box_of(store_.scene());
  // Each arrangement is as it was when it comes back.
  cameras_[static_cast<std::size_t>(main_)] = camera_;
  left_[count_] = {cameras_, main_};
  count_ = count;
  main_ = active_ = 0;
  if (const auto left = left_.find(count); left != left_.end()) {
    cameras_ = left->second.cameras;
    main_ = active_ = left->second.active;
    camera_ = cameras_[static_cast<std::size_t>(main_)];
  } else if (count > 1) {
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
  if (in_step_) set_camera(camera_);
  moved();
  overlay_->update();
  emit camera_changed();
}

// --- elevations

void Stage::show_elevation(Elevation elevation, bool on) {
  Strip& strip = strips_[static_cast<std::size_t>(elevation)];
  if (strip.on == on) return;
  // What the hand holds goes on in the view where it began; the menu's tick is put back.
  if (gesture_ != Gesture::None) return emit camera_changed();
  strip.on = on;
  active_ = main_;
  hovered_handle_ = -1;
  moved();
  overlay_->update();
  emit camera_changed();
}

void Stage::set_strip_width(Elevation elevation, int pixels) {
  strips_[static_cast<std::size_t>(elevation)].wide = pixels;
  moved();
  overlay_->update();
}

Mat3 Stage::elevation_frame() const {
  const auto& picked = store_.picked();
  const PartId part = picked.empty() ? kNoPart : picked.front();
  const Scene& scene = store_.scene();
  if (part == kNoPart && store_.axes().kind != AxesKind::View && store_.axes().kind != AxesKind::Plane) return {};
  return true_axes(scene, part, store_.axes());
}

// An elevation whose drawing takes long is shown as it was last drawn, shifted, until the view rests; the one in which
// something is dragged is drawn all the same.
void Stage::paint_strip(Elevation elevation, const DrawFrame& frame) {
  constexpr double kLong = 4;  // milliseconds
  StripPicture& strip = pictures_[static_cast<std::size_t>(elevation)];
  const bool same = strip.items == items_made_ && strip.picture.is_of(frame.view);
  const bool dragged_here = gesture_ != Gesture::None && active_ == pane_of(elevation) && strip.items != items_made_;
  const bool later =
      moving_ && strip.items != 0 && strip.milliseconds > kLong && !dragged_here && strip.picture.fits(frame.view);
  if (!same && !later) {
    QElapsedTimer timer;
    timer.start();
    strip.picture.draw(renderer_, frame);
    context()->functions()->glFinish();
    strip.milliseconds = static_cast<double>(timer.nsecsElapsed()) / 1e6;
    strip.items = items_made_;
  }
  strip.picture.show(frame.view, frame.theme.mist_bottom, frame.left, frame.bottom, defaultFramebufferObject());
}

std::vector<Handle> Stage::elevation_handles(Elevation elevation, const View& view) const {
  const Drafting& draft = bench_.draft();
  if (store_.picked().empty() || draft.dragging() || draft.waiting()) return {};
  return tack::elevation_handles(store_.scene(), store_.picked(), store_.about(), store_.axes(), elevation_frame(),
                                 elevation, view);
}

// In an elevation a drag of a drawing moves its part, whatever verb is chosen; what is picked comes before what stands
// in front of it. A place that is waited for is caught there like anywhere.
bool Stage::press_in_elevation() {
  if (!elevation_of(active_)) return false;
  const Drafting& draft = bench_.draft();
  if (draft.waiting() && draft.catches()) return false;
  const std::vector<bool> moves = marked_within(store_.scene(), store_.picked());
  const auto stays = [&](PartId id) { return id >= moves.size() || !moves[id]; };
  const auto struck = strike(catch_scene(), view(), pressed_at_.x(), pressed_at_.y(), stays);
  held_part_ = struck ? struck->part : part_at(pressed_at_);
  gripped_.reset();
  if (!bench_.catches_nothing()) {
    CatchOptions options = all_options();
    const std::vector<bool> held = marked_within(store_.scene(), {held_part_});
    const bool picked = !stays(held_part_);
    options.leave_out = [&](PartId id) { return picked ? stays(id) : id >= held.size() || !held[id]; };
    options.see_through = options.leave_out;
    gripped_ = best_tack(catch_scene(), view(), pressed_at_.x(), pressed_at_.y(), options);
  }
  gesture_ = Gesture::Elevate;
  last_at_ = pressed_at_;
  return true;
}

void Stage::elevate() {
  const PartId part = std::exchange(held_part_, kNoPart);
  const auto elevation = elevation_of(active_);
  if (!elevation || part == kNoPart) return;
  if (!moves_with(store_.scene(), store_.picked(), part)) store_.pick({part});
  AxisSet along{true, true, true};
  along[elevation_axes(*elevation).across] = false;
  bench_.note_use();
  bench_.draft().begin_elevated(gripped_, along, view(), pressed_at_);
}

std::optional<Elevation> Stage::divider_at(QPointF at) const {
  constexpr double kReach = 4;
  const QRect front = pane_rect(pane_of(Elevation::Front)), side = pane_rect(pane_of(Elevation::Side));
  if (shows(Elevation::Front) && std::abs(at.y() - front.top()) <= kReach && at.x() < front.right())
    return Elevation::Front;
  if (shows(Elevation::Side) && std::abs(at.x() - side.left()) <= kReach) return Elevation::Side;
  return std::nullopt;
}

}  // namespace tack
