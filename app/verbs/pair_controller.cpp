#include "app/verbs/pair_controller.h"

namespace tack {

PairController::PairController(Store& store) : Controller(store) {
  connect(&store, &Store::started, this, [this] {
    from_.reset(), to_.reset(), hovered_.reset(), asked_.reset(), preview_.reset();
    finished_ = dragging_ = false;
  });
  connect(&store, &Store::record_moved, this, [this] { end_sentence(); });
  connect(&store, &Store::scene_changed, this, [this] {
    // Places whose part is gone are no places any more.
    for (auto* place : {&from_, &to_})
      if (*place && (*place)->kind != TackKind::Point && !store_.scene().contains((*place)->part)) place->reset();
    hovered_.reset();
    preview_.reset();
  });
}

std::optional<Blank> PairController::waiting() const {
  if (asked_) return asked_;
  if (finished_) return std::nullopt;
  if (from_ && !to_) return Blank::To;
  if (!from_ && waits_by_itself()) return Blank::From;
  return std::nullopt;
}

bool PairController::moves_along(PartId id) const {
  const std::vector<PartId> parts = moving();
  return std::any_of(parts.begin(), parts.end(), [&](PartId p) { return is_within(store_.scene(), id, p); });
}

bool PairController::leaves_out(PartId id) const { return (waiting() == Blank::To || dragging_) && moves_along(id); }

void PairController::hover(const std::optional<Caught>& caught) {
  const bool same = hovered_.has_value() == caught.has_value() && (!caught || hovered_->address == caught->address);
  hovered_ = caught;
  if (same) return;
  preview_.reset();
  if (caught && waiting() == Blank::To && from_) preview_ = with(caught->address);
  emit changed();
}

bool PairController::press(const std::optional<Caught>& caught, Qt::KeyboardModifiers) {
  if (finished_ && !asked_) end_sentence();
  if (!caught || !waiting()) return false;
  dragging_ = waiting() == Blank::From;
  return take(*caught);
}

void PairController::release(const std::optional<Caught>& caught) {
  dragging_ = false;
  // Let go on another tack: from here to there in one gesture. Let go in the open: To still waits.
  if (caught && waiting() == Blank::To && from_ && caught->address != *from_)
    take(*caught);
  else
    emit changed();
}

bool PairController::take(const Caught& caught) {
  const Blank blank = *waiting();
  (blank == Blank::From ? from_ : to_) = caught.address;
  asked_.reset();
  hovered_.reset();
  preview_.reset();
  if (from_ && to_ && !finish()) {
    // It could not be done: the place just clicked is the one to give again.
    (blank == Blank::From ? from_ : to_).reset();
    finished_ = false;
  }
  emit changed();
  return true;
}

void PairController::wait_for(Blank blank) {
  asked_ = asked_ == blank ? std::nullopt : std::optional(blank);
  hovered_.reset();
  preview_.reset();
  emit changed();
}

bool PairController::step_back() {
  if (asked_) {
    asked_.reset();
  } else if (finished_) {
    end_sentence();
    return true;
  } else if (to_) {
    to_.reset();
  } else if (from_) {
    from_.reset();
  } else {
    return false;
  }
  hovered_.reset();
  preview_.reset();
  emit changed();
  return true;
}

void PairController::end_sentence() {
  if (finished_) from_.reset(), to_.reset();
  finished_ = by_mouse_ = false;
  asked_.reset();
  hovered_.reset();
  preview_.reset();
  emit changed();
}

void PairController::set_finished(bool finished, bool by_mouse) {
  finished_ = finished;
  by_mouse_ = by_mouse;
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
  constexpr double kTouch = 0.01;
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
  Marks marks;
  const Scene& scene = store_.scene();
  const auto place = [&](const TackAddress& address) -> std::optional<Marks::Place> {
    const auto tack = find_tack(scene, address);
    if (!tack) return std::nullopt;
    return Marks::Place{tack->point, QString::fromStdString(tack_words(scene, address))};
  };
  const auto from = from_                                  ? from_
                    : hovered_ && waiting() == Blank::From ? std::optional(hovered_->address)
                                                           : std::nullopt;
  const auto to = hovered_ && waiting() == Blank::To ? std::optional(hovered_->address) : to_;
  if (from) marks.from = place(*from);
  if (to) marks.to = place(*to);
  if (hovered_ && hovered_->behind) {
    auto& shown = waiting() == Blank::To ? marks.to : marks.from;
    if (shown) shown->name += tr(" · behind");
  }
  if (marks.from && marks.to) {
    const double apart = distance(marks.from->point, marks.to->point);
    marks.joined = apart > 1e-6;
    marks.distance = QString::fromStdString(show_length(apart, store_.unit(), 3).text);
    marks.meeting = meeting_between(preview_ ? *preview_ : scene, *from, *to);
  }
  if (preview_) {
    for (const PartId id : preview_->in_tree_order())
      if (preview_->part(id).mesh && moves_along(id)) marks.ghosts.emplace_back(id, world_of(*preview_, id));
  }
  return marks;
}

}  // namespace tack
