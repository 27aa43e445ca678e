#include <cmath>

#include "app/verbs/verbs.h"

namespace tack {
namespace {

constexpr const char* kRounds[] = {"X", "Y", "Z", "the line of sight"};
constexpr std::array<bool, 3> kLikes[] = {
    {true, true, true}, {true, false, false}, {false, true, false}, {false, false, true}, {true, true, false}};

}  // namespace

RotateController::RotateController(Store& store) : PairController(store) {}

Sentence RotateController::sentence() const {
  if (done_ || (drag_ && drag_->started)) return ActController::sentence();
  Rotate rotate = blank();
  rotate.from = shown_from();
  rotate.to = shown_to();
  return tack::sentence(rotate, store_.scene(), Tense::Present, store_.unit());
}

std::optional<Verb> RotateController::with_places(const Verb& base, const TackAddress& from,
                                                  const TackAddress& to) const {
  Rotate rotate = std::get<Rotate>(base);
  rotate.like.reset();
  rotate.from = from;
  rotate.to = to;
  if (rotate.what.empty() && is_on_part(from)) rotate.what = {from.part};
  return rotate;
}

// A place that is taken hold of turns about the still point like the arc of the chosen axis.
Handle RotateController::grip_handle(const Vec3& at) const {
  Handle handle = PairController::grip_handle(at);
  const auto& picked = store_.picked();
  handle.kind = Handle::Kind::Arc;
  if (const auto still = still_point(store_.about(), store_.scene(), picked.front(), picked, store_.axes()))
    handle.at = *still;
  handle.axes[static_cast<std::size_t>(axis_)] = true;
  return handle;
}

Rotate RotateController::blank() const {
  Rotate rotate;
  rotate.what = store_.picked();
  rotate.axes = store_.axes();
  rotate.round.axis = axis_;
  if (round_edge_) rotate.round.edge = round_edge_;
  rotate.about = store_.about();
  return rotate;
}

std::optional<Verb> RotateController::pending() const { return blank(); }

QString RotateController::hint() const {
  if (asked_ == Blank::Axes) return tr("Click the part whose own axes shall be used.");
  if (asked_ == Blank::About) return tr("Click the place that stays still. B: what lies behind.");
  if (waiting() == Blank::From) return tr("Click the place on it that shall come in line.");
  if (waiting() == Blank::To) return tr("Click the place that it shall come in line with, about the still point.");
  if (drag_ && drag_->grip) return tr("Let go over a place: it comes in line with it. Ctrl: leave a copy.");
  if (asked_ == Blank::Round) return tr("Click an edge to turn round.");
  if (asked_ == Blank::Like) return tr("Click the part to turn like.");
  if (store_.picked().empty()) return tr("Click the part to turn.");
  if (drag_) return tr("Type an angle, or let go. Shift: increments. Ctrl when letting go: leave a copy.");
  if (done_ && comes_out_flipped(std::get<Rotate>(*done_), scene_before()))
    return tr(
        "It came out turned round: the other way is the smaller turn. Click “pointing the same way” to change it.");
  if (done_) return tr("Done. Type an angle to correct it; click a blank to change it.");
  return tr("Type an angle, drag an arc, or a place of the part. X, Y, Z: which axis. K, click: about what.");
}

std::vector<Handle> RotateController::handles(const View& view) const {
  const auto& picked = store_.picked();
  if (picked.empty() || waiting()) return {};
  const auto still = still_point(store_.about(), store_.scene(), picked.front(), picked, store_.axes());
  if (!still) return {};
  return rotate_handles(view, *still, true_axes(store_.scene(), picked.front(), store_.axes()));
}

QString RotateController::handle_text(const Handle& handle) const {
  if (handle.kind != Handle::Kind::Arc) return {};
  for (std::size_t i = 0; i < 3; ++i)
    if (handle.axes[i]) return QString("XYZ").mid(static_cast<int>(i), 1);
  return {};
}

bool RotateController::begin_drag(const Handle& handle, const View& view, QPointF at) {
  turned_ = last_ = 0;
  return ActController::begin_drag(handle, view, at);
}

void RotateController::drag_to(const View& view, QPointF at, bool steps) {
  // Beyond half a turn the angle goes on counting.
  if (drag_ && drag_->handle.kind == Handle::Kind::Arc) {
    const double now = angle_between_pixels(view, drag_->handle.at, drag_axis(*drag_), drag_->pressed.x(),
                                            drag_->pressed.y(), at.x(), at.y());
    turned_ += std::remainder(now - last_, 360.0);
    last_ = now;
  }
  ActController::drag_to(view, at, steps);
}

Vec3 RotateController::drag_axis(const Drag& drag) const {
  for (std::size_t i = 0; i < 3; ++i)
    if (drag.handle.axes[i]) return true_axes(store_.scene(), store_.picked().front(), store_.axes()).column[i];
  return drag.view.back();
}

std::optional<Verb> RotateController::dragged(const Drag& drag) const {
  Rotate rotate = blank();
  const Increments& inc = store_.increments();
  const double step = drag.steps ? inc.angle : 0;
  if (drag.handle.kind == Handle::Kind::Ring) {
    const Rolled roll = rolled(drag.view, drag.pressed.x(), drag.pressed.y(), drag.at.x(), drag.at.y());
    if (roll.degrees == 0) return std::nullopt;
    rotate.axes = AxesKind::World;
    rotate.round.edge.reset();
    rotate.round.direction = roll.axis;
    rotate.angle = Amount{step > 0 ? stepped(roll.degrees, step) : roll.degrees};
    return rotate;
  }
  rotate.round = {};
  const bool sight = !drag.handle.axes[0] && !drag.handle.axes[1] && !drag.handle.axes[2];
  if (sight) {
    rotate.axes = axes_of_view(view_frame(drag.view));
    rotate.round.axis = 2;
  } else {
    rotate.round.axis = drag.handle.axes[0] ? 0 : drag.handle.axes[1] ? 1 : 2;
  }
  double angle = turned_;
  if (step > 0) {
    const double now =
        inc.from_zero && !sight
            ? numbers_in(store_.scene(), store_.picked().front(), rotate.axes).rotation[rotate.round.axis]
            : 0;
    angle = stepped(now + angle, step) - now;
  }
  rotate.angle = Amount{angle};
  return rotate;
}

void RotateController::add_gauges(const Drag& drag, Marks& marks) const {
  const auto& verb = drag.verb;
  if (!verb || drag.handle.kind != Handle::Kind::Arc) return;
  const Vec3 axis = drag_axis(drag);
  const auto start = on_plane(drag.view, drag.handle.at, axis, drag.pressed.x(), drag.pressed.y());
  if (!start) return;
  const auto& rotate = std::get<Rotate>(*verb);
  const double angle = rotate.from ? angle_towards(rotate, store_.scene()).value_or(0) : rotate.angle.value;
  int hue = -1;
  for (int i = 0; i < 3; ++i)
    if (drag.handle.axes[static_cast<std::size_t>(i)]) hue = i;
  marks.arc = Marks::Arc{drag.handle.at, axis, *start - drag.handle.at,
                         angle,          hue,  QString::fromStdString(show_angle(angle, 2).text)};
}

QStringList RotateController::choices(Blank blank) const {
  if (blank == Blank::Round) {
    QStringList list;
    for (const char* name : kRounds) list << tr(name);
    return list << tr("an edge (click it)");
  }
  if (blank == Blank::Axes) return axes_choices();
  if (blank == Blank::About) return about_choices();
  if (blank == Blank::LikeAxes) return {tr("all three axes"), tr("X"), tr("Y"), tr("Z"), tr("X and Y")};
  if (blank == Blank::OtherWay) return {tr("pointing the same way"), tr("pointing the other way")};
  return {};
}

void RotateController::choose(Blank blank, int index) {
  if (index < 0) return;
  if (blank == Blank::Axes) return use_axes(index);
  const auto change = [&](auto&& edit) {
    if (!done_) return false;
    Rotate rotate = std::get<Rotate>(*done_);
    edit(rotate);
    correct(rotate);
    return true;
  };
  if (blank == Blank::About) {
    if (index >= kAboutPlace) return wait_for(Blank::About);
    if (!change([&](Rotate& r) { r.about = about_choice(index); })) store_.set_about(about_choice(index));
  } else if (blank == Blank::Round) {
    if (index == 4) return wait_for(Blank::Round);
    if (index == 3) return store_.ask_view_axes();
    if (!change([&](Rotate& r) { r.round = {index, std::nullopt, std::nullopt}; })) {
      axis_ = index;
      round_edge_.reset();
      emit changed();
    }
  } else if (blank == Blank::LikeAxes && index < 5) {
    change([&](Rotate& r) {
      if (r.like) r.like->axes = kLikes[index], r.like->other_way = r.like->other_way && index > 0;
    });
  } else if (blank == Blank::OtherWay) {
    change([&](Rotate& r) {
      if (r.like) r.like->other_way = index == 1;
    });
  }
}

void RotateController::take_place(Blank blank, const TackAddress& place) {
  if (blank == Blank::Round) {
    round_edge_ = place;
    return;
  }
  if (done_) {
    Rotate rotate = std::get<Rotate>(*done_);
    rotate.about = about_place(place);
    correct(rotate);
    return;
  }
  store_.set_about(about_place(place));
}

void RotateController::take_like(PartId part) {
  asked_.reset();
  Rotate rotate = blank();
  rotate.like = Like{part, {true, true, true}, false};
  act(rotate, true);
}

void RotateController::choose_axis(int axis) {
  axis_ = axis;
  round_edge_.reset();
  if (drag_ && drag_->handle.kind == Handle::Kind::Arc) {
    drag_->handle.axes = {axis == 0, axis == 1, axis == 2};
    if (drag_->started) ActController::drag_to(drag_->view, drag_->at, drag_->steps);
  }
  emit changed();
}

}  // namespace tack
