#include "app/verbs/verbs.h"

namespace tack {

ScaleController::ScaleController(Store& store) : PairController(store) {}

Sentence ScaleController::sentence() const {
  if (done_ || (drag_ && drag_->started)) return ActController::sentence();
  Scale scale = blank();
  scale.from = shown_from();
  scale.to = shown_to();
  if (scale.from && scale.to) scale = std::get<Scale>(*with_places(scale, *scale.from, *scale.to));
  return tack::sentence(scale, store_.scene(), Tense::Present, store_.unit());
}

// Along the axes that X, Y and Z have chosen; evenly when none is.
std::optional<Verb> ScaleController::with_places(const Verb& base, const TackAddress& from,
                                                 const TackAddress& to) const {
  Scale scale = std::get<Scale>(base);
  const bool again = scale.from && scale.to;
  scale.size = scale.factor = {};
  scale.like = kNoPart;
  scale.from = from;
  scale.to = to;
  if (scale.what.empty() && is_on_part(from)) scale.what = {from.part};
  if (again) return scale;
  const bool chosen = chosen_ != std::array<bool, 3>{};
  scale.along = chosen ? chosen_ : kAllAxes;
  scale.evenly = !chosen;
  return scale;
}

// Scale is along the part's own axes unless others were chosen for it: so no skew comes of it by surprise.
Scale ScaleController::blank() const {
  Scale scale;
  scale.what = store_.picked();
  scale.axes = axes_;
  scale.hold = hold_;
  scale.evenly = evenly_;
  return scale;
}

std::optional<Verb> ScaleController::pending() const { return blank(); }

QString ScaleController::hint() const {
  if (asked_ == Blank::Axes) return tr("Click the part whose own axes shall be used.");
  if (asked_ == Blank::Hold) return tr("Click the place that stays still. B: what lies behind.");
  if (asked_ == Blank::Like) return tr("Click the part to be as big as.");
  if (waiting() == Blank::From) return tr("Click the place on it that shall reach another.");
  if (waiting() == Blank::To) return tr("Click the place to reach. X, Y, Z: growing along these; else evenly.");
  if (drag_ && drag_->grip) return tr("Let go over a place: it reaches it. X, Y, Z: growing along these; else evenly.");
  if (store_.picked().empty()) return tr("Click the part to size.");
  if (drag_) return tr("Type a size, or let go. Shift: increments. Ctrl when letting go: leave a copy.");
  if (done_) return tr("Done. Click a blank to change it, or type the next size.");
  return tr("Type a size (X, Y, Z: the axis), drag a pad or a place of the part. K, click: what stays still.");
}

std::optional<Blank> ScaleController::leading() const {
  int chosen = -1, count = 0;
  for (int i = 0; i < 3; ++i)
    if (chosen_[static_cast<std::size_t>(i)]) chosen = i, ++count;
  return static_cast<Blank>(static_cast<int>(Blank::SizeX) + (count == 1 ? chosen : 0));
}

std::vector<Handle> ScaleController::handles(const View& view) const {
  if (store_.picked().empty() || waiting()) return {};
  const auto box = pad_box(store_.scene(), store_.picked());
  return box ? thinned(view, scale_handles(box->from_fractions, box->flat), 14) : std::vector<Handle>{};
}

QString ScaleController::handle_text(const Handle& handle) const {
  const auto parts = topmost(store_.scene(), store_.picked());
  if (parts.empty()) return {};
  const bool one = parts.size() == 1;
  const Vec3 size = size_of(store_.scene(), parts.front(), parts, one ? AxesKind::Local : AxesKind::World, !one);
  QStringList text;
  for (int i = 0; i < 3; ++i)
    if (handle.axes[static_cast<std::size_t>(i)])
      text << QString("XYZ").mid(i, 1) + " " + QString::fromStdString(show_length(size[i], store_.unit(), 3).text);
  return text.join(" · ");
}

Marks ScaleController::marks() const {
  Marks marks = PairController::marks();
  if (store_.picked().empty()) return marks;
  if (const auto box = pad_box(marks.shown ? *marks.shown : store_.scene(), store_.picked()))
    marks.box = box_edges(box->from_fractions);
  return marks;
}

// A place held in the open grows towards the pointer, by a plain factor.
std::optional<Verb> ScaleController::dragged_freely(const Drag& drag) const {
  const Vec3 target = drag.view.point_level_with(drag.handle.at, drag.at.x(), drag.at.y());
  Scale scale = std::get<Scale>(*with_places(blank(), *drag.grip, {TackKind::Point, kNoPart, 0, target}));
  const auto parts = topmost(store_.scene(), scale.what);
  const auto factors = parts.empty() ? Result<Vec3>(Vec3{}) : factors_for(scale, store_.scene(), parts.front(), parts);
  if (parts.empty() || !factors) return std::nullopt;
  scale.from.reset();
  scale.to.reset();
  const double step = drag.steps ? store_.increments().factor : 0;
  for (std::size_t i = 0; i < 3; ++i) {
    if (!scale.along[i]) continue;
    const double factor = stepped((*factors)[static_cast<int>(i)], step);
    if (factor == 0) return std::nullopt;
    scale.factor[i] = Amount{factor};
    if (scale.evenly) break;
  }
  return scale;
}

std::optional<Verb> ScaleController::dragged(const Drag& drag) const {
  if (drag.grip) return dragged_freely(drag);
  std::optional<Vec3> shift;
  int only = -1, count = 0;
  for (int i = 0; i < 3; ++i)
    if (drag.handle.axes[static_cast<std::size_t>(i)]) only = i, ++count;
  const auto box = pad_box(store_.scene(), store_.picked());
  if (!box) return std::nullopt;
  if (count == 1) {
    const Vec3 axis = normalized(box->from_fractions.linear.column[static_cast<std::size_t>(only)]);
    const auto from = along_axis(drag.view, drag.handle.at, axis, drag.pressed.x(), drag.pressed.y());
    const auto to = along_axis(drag.view, drag.handle.at, axis, drag.at.x(), drag.at.y());
    if (from && to) shift = axis * (*to - *from);
  } else {
    const auto from = on_plane(drag.view, drag.handle.at, drag.view.back(), drag.pressed.x(), drag.pressed.y());
    const auto to = on_plane(drag.view, drag.handle.at, drag.view.back(), drag.at.x(), drag.at.y());
    if (from && to) shift = *to - *from;
  }
  if (!shift) return std::nullopt;
  const Increments& inc = store_.increments();
  auto scale = sized_by_pad(store_.scene(), store_.picked(), drag.handle.fraction, *shift, evenly_,
                            drag.steps ? inc.length : 0, inc.from_zero);
  if (!scale) return std::nullopt;
  return *scale;
}

void ScaleController::add_gauges(const Drag& drag, Marks& marks) const {
  const auto& verb = drag.verb;
  if (!verb || !marks.shown) return;
  const auto box = pad_box(*marks.shown, store_.picked());
  if (!box) return;
  const Vec3 held = Vec3{1, 1, 1} - drag.handle.fraction;
  for (int i = 0; i < 3; ++i) {
    if (!drag.handle.axes[static_cast<std::size_t>(i)]) continue;
    Vec3 other = drag.handle.fraction;
    other[i] = held[i];
    const Vec3 from = box->from_fractions * other, to = box->from_fractions * drag.handle.fraction;
    marks.rulers.push_back({from, to, i, drag.steps ? store_.increments().length : 0,
                            QString::fromStdString(show_length(distance(from, to), store_.unit(), 3).text)});
  }
}

QStringList ScaleController::choices(Blank blank) const {
  if (blank == Blank::Axes) return axes_choices();
  if (blank == Blank::Hold) return about_choices();
  if (blank == Blank::Evenly) return {tr("freely"), tr("evenly")};
  if (blank == Blank::LikeAxes) return {tr("X, Y and Z"), tr("X"), tr("Y"), tr("Z")};
  return {};
}

void ScaleController::choose(Blank blank, int index) {
  if (index < 0) return;
  const auto change = [&](auto&& edit) {
    if (!done_) return false;
    Scale scale = std::get<Scale>(*done_);
    edit(scale);
    correct(scale);
    return true;
  };
  if (blank == Blank::Axes) {
    return use_axes(index);
  } else if (blank == Blank::Hold) {
    if (index >= kAboutPlace) return wait_for(Blank::Hold);
    if (!change([&](Scale& s) { s.hold = about_choice(index); })) hold_ = about_choice(index);
  } else if (blank == Blank::Evenly) {
    evenly_ = index == 1;
    change([&](Scale& s) {
      s.evenly = evenly_;
      // Evenly takes one value: the last one given.
      int kept = 0;
      for (std::size_t i = 3; i-- > 0 && evenly_;)
        if (s.size[i] || s.factor[i])
          if (++kept > 1) s.size[i].reset(), s.factor[i].reset();
    });
  } else if (blank == Blank::LikeAxes && index < 4) {
    change([&](Scale& s) { s.along = {index == 0 || index == 1, index == 0 || index == 2, index == 0 || index == 3}; });
  }
  emit changed();
}

void ScaleController::take_place(Blank, const TackAddress& place) {
  if (done_) {
    Scale scale = std::get<Scale>(*done_);
    scale.hold = about_place(place);
    correct(scale);
    return;
  }
  hold_ = about_place(place);
  emit changed();
}

void ScaleController::take_like(PartId part) {
  asked_.reset();
  Scale scale = blank();
  scale.like = part;
  act(scale, true);
}

double ScaleController::value_now(Blank blank) const {
  const int axis = static_cast<int>(blank) - static_cast<int>(Blank::SizeX);
  if (axis < 0 || axis > 2) return 1;  // a factor is of what is there now
  const auto parts = topmost(store_.scene(), store_.picked());
  return parts.empty() ? 0 : size_of(scene_before(), parts.front(), parts, axes_, false)[axis];
}

void ScaleController::choose_axis(int axis) {
  auto& chosen = chosen_[static_cast<std::size_t>(axis)];
  chosen = !chosen;
  if (drag_ && drag_->grip) drag_to(drag_->view, drag_->at, drag_->steps);
  emit changed();
}

}  // namespace tack
