// Drags: of handles, and of places that are taken hold of; declared in drafting.h.
#include "app/verbs/drafting.h"

#include "core/hands/nudging.h"
#include "core/hands/reaching.h"

namespace tack {

std::vector<Handle> Drafting::handles(const View& view) const {
  if (store_.picked().empty() || dragging() || draft_.asked) return {};
  // Round what was taken last and has not been used yet.
  if (row_ == id_of<Pick> && (std::holds_alternative<Take>(draft_.verb) || !is_over()) && last_take() &&
      store_.picked().size() == 1)
    if (auto ring = reach_handle(store_.scene(), store_.picked().front(), view)) return {std::move(*ring)};
  if (nudges())
    return nudge_handles(std::get<Move>(fresh(id_of<Move>)), std::get<Rotate>(fresh(id_of<Rotate>)),
                         std::get<Scale>(fresh(id_of<Scale>)), store_.scene(), view);
  const Verb& verb = in_hand();
  if (waiting() && !has_handles_while_waiting(verb)) return {};
  return handles_of(verb, is_done() && at_once(verb) ? scene_before() : store_.scene(), view);
}

bool Drafting::nudges() const {
  return store_.preferences().nudges && row_ == id_of<Pick> && !dragging() && !draft_.asked &&
         std::holds_alternative<Pick>(in_hand()) && !store_.picked().empty();
}

QString Drafting::handle_text(const Handle& handle) const {
  if (handle.kind == Handle::Kind::Ring && handle.box == kReachRing) {
    const auto ids = picked_patches();
    const double reach = ids.empty() ? 0 : store_.scene().part(ids.front()).patch->reach;
    return reach > 0 ? "reach " + QString::fromStdString(show_length(reach, store_.unit(), 3).text) : QString("reach");
  }
  if (nudges()) {
    // Beside the letters of rulers that of what an arc turns round has a sign of its own.
    const std::string words = handle_words(fresh(verb_of_nudge(handle)), store_.scene(), handle, store_.unit());
    return QString::fromStdString(words) + (handle.kind == Handle::Kind::Arc ? QStringLiteral("°") : QString());
  }
  return QString::fromStdString(handle_words(in_hand(), store_.scene(), handle, store_.unit()));
}

bool Drafting::begin_drag(const Handle& handle, const View& view, QPointF at, const std::optional<Verb>& as) {
  if (store_.picked().empty()) return false;
  const auto nudge = as ? as : nudges() ? std::optional(fresh(verb_of_nudge(handle))) : std::nullopt;
  if (handle.kind == Handle::Kind::Ring && handle.box == kReachRing) {
    const auto step = last_take();
    if (!step) return false;
    set({Draft::State::Correcting, store_.journal().record().steps[*step]->verb, *step});
    draft_.amends = true;
  } else if (at_once(draft_.verb)) {
    // The handles of what is shown as it stands go on from there: of a step that is done, they change that step.
    draft_.amends = is_done();
  } else {
    // What was chosen for it beforehand holds: axes, a way to slide.
    if (draft_.state == Draft::State::Filling && !is_over()) at_hand_[row_] = draft_.verb;
    end();
  }
  if (nudge) draft_.verb = *nudge;
  look_ = {};
  grip_ = {};
  grip_.pull = {handle, view, at.x(), at.y(), at.x(), at.y(), 0};
  grip_.increments = store_.increments();
  if (store_.preferences().along_plane) grip_.plane = store_.scene().plane();
  draft_.state = Draft::State::Dragging;
  return true;
}

bool Drafting::begin_elevated(const std::optional<Caught>& held, const AxisSet& along, const View& view, QPointF at) {
  if (store_.picked().empty()) return false;
  Move move = std::get<Move>(fresh(id_of<Move>));
  move.along = along;
  const bool by_place = held && moves_with(store_.scene(), store_.picked(), held->address.part);
  const auto pivot = find_tack(store_.scene(), {TackKind::Pivot, store_.picked().front(), 0, {}});
  if (!by_place && !pivot) return false;
  if (!begin_drag(ring_handle(view, by_place ? held->point : pivot->point), view, at, Verb(move))) return false;
  if (by_place) grip_.place = held->address;
  return true;
}

bool Drafting::begin_about(const Vec3& still, const View& view, QPointF at) {
  const auto* rotate = std::get_if<Rotate>(&draft_.verb);
  const bool grows = std::holds_alternative<Scale>(draft_.verb);
  if (!rotate && !grows) return false;
  Handle handle{grows ? Handle::Kind::Ring : Handle::Kind::Arc, {}, still, {}, {}};
  if (rotate) handle.axes[static_cast<std::size_t>(rotate->round.axis)] = true;
  if (!begin_drag(handle, view, at)) return false;
  grip_.grows = grows;
  return true;
}

bool Drafting::begin_grip(const Caught& caught, const View& view, QPointF at) {
  if (!offers_grips() || !moving_mask()[caught.address.part]) return false;
  if (!begin_drag(grip_handle(fresh(row_), store_.scene(), caught.point), view, at)) return false;
  grip_.place = caught.address;
  return true;
}

std::vector<DimensionLine> Drafting::dimensions(const View& view) const {
  if (store_.picked().empty() || draft_.asked) return {};
  const std::optional<Verb> sizes = nudges() ? std::optional(fresh(id_of<Scale>)) : std::nullopt;
  const Verb& verb = sizes ? *sizes : in_hand();
  if (waiting() && !has_handles_while_waiting(verb)) return {};
  const LengthUnit unit = store_.unit();
  // A row's lines stand as it will be: they are of the verb as the pointer would have it. What is done and goes on is
  // of the scene before it, what comes next of the one that is there.
  if (tack::drags_values(verb)) {
    const Scene& of = is_done() && !at_once(verb) ? store_.scene() : scene_before();
    return dimensions_of(dragging() && look_.verb ? *look_.verb : verb, of, of, view, unit);
  }
  const Scene& scene = store_.scene();
  return dimensions_of(verb, scene, dragging() && look_.after ? *look_.after : scene, view, unit);
}

void Drafting::drag_to(const View& view, QPointF at, const std::optional<Caught>& over, bool steps, bool evenly,
                       bool alone) {
  if (!dragging()) return;
  const Scene& scene = scene_before();
  grip_.pull.view = view;
  pull_on(draft_.verb, scene, grip_.pull, at.x(), at.y());
  grip_.steps = steps;
  // E lifts what goes along a plane off it, for as long as it is held.
  const bool lifts = !grip_.turns.empty() && grip_.turns.back().lifts;
  if (grip_.plane && std::holds_alternative<Move>(draft_.verb) && evenly != lifts)
    grip_.turns.push_back({at.x(), at.y(), evenly});
  grip_.evenly = evenly;
  grip_.alone = alone;
  grip_.over = over ? std::optional(over->address) : std::nullopt;
  auto verb = stopped(draft_.verb, scene, grip_);
  const bool stops = verb.has_value();
  if (!verb) {
    grip_.over = grip_.place ? grip_.over : std::nullopt;
    verb = dragged(draft_.verb, scene, grip_);
  }
  look_at(std::move(verb), stops || grip_.place ? over : std::nullopt, false);
  if (stops) look_.stopped = QString::fromStdString(stopped_words(scene, grip_));
}

void Drafting::end_drag(bool leave_copy) {
  if (!dragging()) return;
  if (std::holds_alternative<Brush>(draft_.verb)) return end_stroke();
  auto verb = std::move(look_.verb);
  const QString stopped = look_.stopped;
  const bool amends = std::exchange(draft_.amends, false);
  draft_.state = amends ? Draft::State::Correcting : Draft::State::Filling;
  if (!verb) return amends ? set(draft_) : end();
  // Planes of a band may be dragged before there is a length.
  if (!amends && !is_ready(*verb) && what_in(*verb)) return set({Draft::State::Filling, *verb});
  if (bool* copy = copy_in(*verb)) *copy = leave_copy;
  if (!act(*verb, true) && !amends) return end();
  if (!stopped.isEmpty()) store_.say("It is " + stopped + ".", Tone::Good);
}

void Drafting::cancel_drag() {
  if (!dragging()) return;
  if (std::holds_alternative<Brush>(draft_.verb)) return take_brush();
  if (!at_once(draft_.verb)) return end();
  Draft back = draft_;
  back.state = std::exchange(back.amends, false) ? Draft::State::Correcting : Draft::State::Filling;
  set(std::move(back));
}

bool Drafting::presses_count() const {
  return dragging() && grip_.pull.handle.kind == Handle::Kind::Pad && tack::presses_count(draft_.verb);
}

}  // namespace tack
