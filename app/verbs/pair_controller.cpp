#include "app/verbs/pair_controller.h"

namespace tack {

PairController::PairController(Store& store) : ActController(store) {
  connect(&store, &Store::started, this, [this] {
    from_.reset(), to_.reset();
    pressing_ = false;
  });
  connect(&store, &Store::scene_changed, this, [this] {
    // Places whose part is gone are no places any more.
    for (auto* place : {&from_, &to_})
      if (*place && is_on_part(**place) && !store_.scene().contains((*place)->part)) place->reset();
    hovered_.reset();
    preview_.reset();
  });
}

std::optional<Blank> PairController::waiting() const {
  if (asked_) return asked_;
  if (finished()) return std::nullopt;
  if (from_ && !to_) return Blank::To;
  if (!from_ && waits_by_itself()) return Blank::From;
  return std::nullopt;
}

bool PairController::catches() const {
  return pressing_ || offers_grips() || (drag_ && drag_->grip) || (waiting() && !wants_part());
}

bool PairController::offers_grips() const {
  return !waits_by_itself() && !drag_ && !asked_ && !waiting() && !store_.picked().empty();
}

Handle PairController::grip_handle(const Vec3& at) const {
  Handle handle;
  handle.kind = Handle::Kind::Ring;
  handle.at = at;
  return handle;
}

bool PairController::begin_grip(const Caught& caught, const View& view, QPointF at) {
  if (!offers_grips() || !moves_along(caught.address.part)) return false;
  if (!begin_drag(grip_handle(caught.point), view, at)) return false;
  drag_->grip = caught.address;
  hovered_.reset();
  return true;
}

void PairController::grip_to(const View& view, QPointF at, const std::optional<Caught>& to, bool steps) {
  if (!drag_) return;
  drag_->to = to;
  drag_to(view, at, steps);
}

std::optional<Verb> PairController::gripped(const Drag& drag) const {
  const auto base = pending();
  return base ? with_places(*base, *drag.grip, drag.to->address) : std::nullopt;
}

bool PairController::moves_along(PartId id) const { return moves_with(store_.scene(), moving(), id); }

bool PairController::leaves_out(PartId id) const {
  if (offers_grips()) return !moves_along(id);
  if (drag_ && drag_->grip) return moves_along(id);
  return ((waiting() && is_to(*waiting())) || pressing_) && moves_along(id);
}

std::optional<TackAddress> PairController::shown_from() const {
  return hovered_ && waiting() == Blank::From ? std::optional(hovered_->address) : from_;
}

std::optional<TackAddress> PairController::shown_to() const {
  return hovered_ && waiting() == Blank::To ? std::optional(hovered_->address) : to_;
}

void PairController::hover(const std::optional<Caught>& caught) {
  const bool same = hovered_.has_value() == caught.has_value() && (!caught || hovered_->address == caught->address);
  hovered_ = caught;
  if (same) return;
  preview_.reset();
  if (caught)
    if (const auto verb = with_hovered(*caught))
      if (auto scene = tack::apply(*verb, tried_in())) preview_ = std::move(*scene);
  emit changed();
}

std::optional<Verb> PairController::with_hovered(const Caught&) const {
  const auto from = shown_from(), to = shown_to();
  const auto base = done_ ? done_ : pending();
  return from && to && base ? with_places(*base, *from, *to) : std::nullopt;
}

bool PairController::press(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) {
  if (finished() && !asked_) end_sentence();
  if (!caught || !waiting()) return false;
  note_modifiers(modifiers);
  pressing_ = waiting() == Blank::From && !done_;
  return take(*caught);
}

void PairController::release(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) {
  pressing_ = false;
  note_modifiers(modifiers);
  // Let go on another tack: from here to there in one gesture. Let go in the open: To still waits.
  if (caught && waiting() == Blank::To && from_ && caught->address != *from_)
    take(*caught);
  else
    emit changed();
}

bool PairController::take(const Caught& caught) {
  const Blank blank = *waiting();
  if (blank != Blank::From && blank != Blank::To) return ActController::press(caught, {});
  (blank == Blank::From ? from_ : to_) = caught.address;
  asked_.reset();
  hovered_.reset();
  preview_.reset();
  // When it could not be done, the place just clicked is the one to give again.
  if (from_ && to_ && !finish() && !done_) (blank == Blank::From ? from_ : to_).reset();
  emit changed();
  return true;
}

bool PairController::finish() {
  const auto base = done_ ? done_ : pending();
  const auto verb = base ? with_places(*base, *from_, *to_) : std::nullopt;
  if (!verb) return false;
  if (done_) {
    correct(*verb);
    took(*done_);
    return true;
  }
  return act(*verb, true);
}

void PairController::took(const Verb& verb) {
  from_.reset(), to_.reset();
  if (const auto* meet = std::get_if<Meet>(&verb)) from_ = meet->from, to_ = meet->to;
  if (const auto* move = std::get_if<Move>(&verb)) from_ = move->from, to_ = move->to;
  if (const auto* rotate = std::get_if<Rotate>(&verb)) from_ = rotate->from, to_ = rotate->to;
  if (const auto* scale = std::get_if<Scale>(&verb)) from_ = scale->from, to_ = scale->to;
}

bool PairController::step_back() {
  if (ActController::step_back()) return true;
  if (to_)
    to_.reset();
  else if (from_)
    from_.reset();
  else
    return false;
  hovered_.reset();
  preview_.reset();
  emit changed();
  return true;
}

void PairController::end_sentence() {
  if (finished()) from_.reset(), to_.reset();
  pressing_ = false;
  ActController::end_sentence();
}

Marks::Meeting PairController::meeting_between(const Scene& scene, const TackAddress& from,
                                               const TackAddress& to) const {
  Marks::Meeting meeting;
  const auto a = find_tack(scene, from), b = find_tack(scene, to);
  if (!a || !b) return meeting;
  const Measured m = measure(*a, *b);
  meeting.from = m.from;
  meeting.to = m.to;
  meeting.angle = m.angle;
  meeting.span = 2.6 * std::max(feature_size(scene, from), feature_size(scene, to));
  if (m.distance <= exact_bound(scene, from, to)) {
    meeting.words = tr("exact");
    meeting.tone = Tone::Good;
  } else if (m.distance <= kTouch) {
    meeting.words = tr("within 0.01 mm");
    meeting.tone = Tone::Good;
  } else {
    meeting.words = tr("apart by %1").arg(QString::fromStdString(show_length(m.distance, store_.unit(), 3).text));
  }
  return meeting;
}

Marks PairController::marks() const {
  Marks marks = ActController::marks();
  const auto blank = waiting();
  if (blank && blank != Blank::From && blank != Blank::To) return marks;
  if (drag_) {
    if (drag_->grip && marks.shown) mark_grip(marks);
    return marks;
  }
  const Scene& scene = store_.scene();
  if (offers_grips() && hovered_ && !from_) {
    marks.to.reset();
    marks.from = Marks::Place{hovered_->point, QString::fromStdString(tack_words(scene, hovered_->address))};
    return marks;
  }
  const auto place = [&](const TackAddress& address) -> std::optional<Marks::Place> {
    const auto tack = find_tack(scene, address);
    if (!tack) return std::nullopt;
    return Marks::Place{tack->point, QString::fromStdString(tack_words(scene, address))};
  };
  const auto from = shown_from(), to = shown_to();
  marks.from.reset(), marks.to.reset();
  if (from) marks.from = place(*from);
  if (to) marks.to = place(*to);
  if (hovered_ && hovered_->behind) {
    auto& shown = blank == Blank::To ? marks.to : marks.from;
    if (shown) shown->name += tr(" · behind");
  }
  if (marks.from && marks.to) {
    const double apart = distance(marks.from->point, marks.to->point);
    marks.joined = apart > 1e-6;
    marks.distance = QString::fromStdString(show_length(apart, store_.unit(), 3).text);
    marks.meeting = meeting_between(preview_ ? *preview_ : scene, *from, *to);
    if (!waits_by_itself() && (preview_ || done_)) say_remaining(marks);
  }
  return marks;
}

// A verb that goes from place to place as far as it may: what is left is said on the stage too.
void PairController::say_remaining(Marks& marks) const {
  if (!marks.meeting || marks.meeting->tone == Tone::Good) return;
  marks.meeting->tone = Tone::Apart;
  marks.distance = marks.meeting->words;
  marks.tone = Tone::Apart;
}

// The place that is held, where the drag has brought it, and the one it is over.
void PairController::mark_grip(Marks& marks) const {
  const Scene& scene = *marks.shown;
  const auto from = find_tack(scene, *drag_->grip);
  if (!from) return;
  marks.from = Marks::Place{from->point, QString::fromStdString(tack_words(scene, *drag_->grip))};
  marks.to.reset();
  if (!drag_->to) return;
  QString name = QString::fromStdString(tack_words(scene, drag_->to->address));
  if (drag_->to->behind) name += tr(" · behind");
  marks.to = Marks::Place{drag_->to->point, name};
  marks.joined = distance(from->point, drag_->to->point) > 1e-6;
  marks.meeting = meeting_between(scene, *drag_->grip, drag_->to->address);
  marks.distance = marks.meeting->words;
  say_remaining(marks);
}

}  // namespace tack
