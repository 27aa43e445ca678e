// The blanks of the draft: what is chosen, typed and asked for in the sentence; declared in drafting.h.
#include "app/verbs/drafting.h"
#include "core/catch/typed_place.h"

namespace tack {
namespace {

using State = Draft::State;

tl::expected<TackAddress, EntryError> read_place(const Store& store, const QString& text) {
  // The axes in which a typed place is read: those in use.
  const Scene& scene = store.scene();
  const PartId part = store.picked().empty() ? kNoPart : store.picked().front();
  const Axes axes = part == kNoPart && store.axes().kind != AxesKind::View ? Axes(AxesKind::World) : store.axes();
  return typed_place(scene, text.toStdString(),
                     {EntryKind::Length, store.unit(), std::nullopt, reader_of({scene, axes, part})},
                     axes_frame(scene, part, axes));
}

}  // namespace

ChoiceContext Drafting::choice_context() const {
  return {store_.view_frame ? store_.view_frame() : Mat3{}, store_.picked().empty() ? kNoPart : store_.picked().front(),
          planes_in(scene_before())};
}

std::vector<Option> Drafting::options(BlankId blank) const {
  return options_of(draft_.verb, blank, scene_before(), choice_context());
}

void Drafting::choose(BlankId blank, std::size_t option) {
  const auto all = options(blank);
  if (option >= all.size()) return;
  const auto verb = with_option(draft_.verb, blank, option, scene_before(), choice_context());
  if (all[option].click == Click::None) {
    if (verb) edit(*verb, blank, acts(*verb, blank) || is_done());
    return;
  }
  // An entry may change the verb and ask for a click besides: three places are wanted, not one.
  if (verb) draft_.verb = *verb;
  if (verb && is_done()) draft_.state = State::Correcting;
  draft_.asked = {};
  wait_for(blank, all[option].click);
}

void Drafting::wait_for(BlankId blank, Click click) {
  Draft next = draft_;
  next.asked = draft_.asked == blank ? BlankId{} : blank;
  next.click = click;
  set(std::move(next));
}

EntryContext Drafting::context(BlankId blank) const {
  const EntryKind kind = number_kind(draft_.verb, blank).value_or(EntryKind::Length);
  // In a blank for a change `it` is 0; in a finished sentence it is what stands there, else what the scene says.
  const bool change = is_change(draft_.verb, blank);
  const auto given = corrects() && !change ? value_in(draft_.verb, blank) : std::nullopt;
  const Scene& scene = scene_before();
  const Axes* axes = axes_in(draft_.verb);
  const std::vector<PartId> parts = parts_of(draft_.verb, scene);
  const Reading reading(scene, axes ? *axes : Axes(), parts.empty() ? kNoPart : parts.front());
  return {kind, store_.unit(), given ? *given : it_in(draft_.verb, blank, scene), reader_of(reading)};
}

std::optional<EntryError> Drafting::check_words(BlankId blank, const QString& text) const {
  if (takes_words(blank)) {
    if (!text.trimmed().isEmpty()) return std::nullopt;
    return EntryError{0, 1, "A name is needed."};
  }
  if (draft_.asked == blank && draft_.click == Click::Part) {
    const auto part = typed_part(store_.scene(), text.toStdString());
    return part ? std::nullopt : std::optional(part.error());
  }
  const auto place = read_place(store_, text);
  return place ? std::nullopt : std::optional(place.error());
}

Amount Drafting::typed_amount(BlankId blank, const QString& text, double value) const {
  Amount amount{value, text.trimmed().toStdString(), store_.typed_unit()};
  // What `it` meant was the value in the blank; the step itself would take it for the one before the step.
  if (corrects() && !is_change(draft_.verb, blank) && value_in(draft_.verb, blank) && uses_it(amount))
    amount.text.clear();
  return amount;
}

bool Drafting::enter(BlankId blank, const QString& text, double value) {
  if (takes_words(blank)) {
    const auto verb = with_text(draft_.verb, blank, text.toStdString());
    return verb && act(*verb, false);
  }
  if (draft_.asked == blank || (waiting() == blank && !takes_number(blank))) {
    if (draft_.asked && draft_.click == Click::Part) {
      if (const auto part = typed_part(store_.scene(), text.toStdString())) take_part(*part);
      return true;
    }
    const auto place = read_place(store_, text);
    const auto tack = place ? find_tack(store_.scene(), *place) : Result<Tack>(Tack{});
    if (place && !tack) store_.say(tack.error());
    if (!place || !tack) return true;
    Caught typed;
    typed.address = *place;
    typed.point = tack->point;
    give_place(blank, typed, {});
    return true;
  }
  const Amount amount = typed_amount(blank, text, value);
  // Typed before the drag was let go: the drag ends with exactly this.
  const bool in_drag = dragging();
  Verb base = in_drag ? look_.verb.value_or(draft_.verb) : draft_.verb;
  if (auto* move = std::get_if<Move>(&base); move && in_drag) move->by = {};
  if (draft_.state == State::Done) end();
  if (!in_drag && draft_.state == State::Filling) base = draft_.verb;
  const auto verb = with_value(base, blank, amount);
  // A drag that changes a step still does.
  if (in_drag) draft_.state = std::exchange(draft_.amends, false) ? State::Correcting : State::Filling;
  if (!verb) return false;
  const Draft before = draft_;
  if (!is_ready(*verb)) {
    // A correction that cannot be is refused in words; one that only lacks a click waits for it.
    if (const auto possible = check(*verb); corrects() && !possible && !waits_for(*verb)) {
      store_.say(possible.error());
      return false;
    }
    edit(*verb, blank, false);
    return true;
  }
  if (act(*verb, in_drag)) return true;
  if (before.state == State::Filling) set(before);
  return false;
}

void Drafting::preview(BlankId blank, const QString& text, std::optional<double> value) {
  if (dragging()) return;
  const Verb& base = draft_.state == State::Done ? in_hand() : draft_.verb;
  look_at(value ? with_value(base, blank, typed_amount(blank, text, *value)) : std::nullopt, std::nullopt, true);
}

void Drafting::begin_correction() {
  if (draft_.state == State::Done) draft_.state = State::Correcting;
}

void Drafting::recolour(const std::string& named, const Colour& colour) {
  Verb verb = draft_.verb;
  if (auto* paint = std::get_if<Paint>(&verb))
    paint->named = named, paint->colour = colour;
  else if (auto* name = std::get_if<NameColour>(&verb))
    name->colour = colour;
  else if (auto* edit = std::get_if<EditColour>(&verb))
    edit->colour = colour;
  else
    return;
  begin_correction();
  act(verb, true);
}

BlankId Drafting::leading() const {
  const Verb& verb = is_done() && corrects() && !row_takes_value() ? draft_.verb : in_hand();
  std::size_t axis = 0;
  if (dragging()) {
    if (const auto only = only_axis(grip_.pull.handle.axes)) axis = *only;
  } else if (const AxisSet* limits = limits_in(verb)) {
    // The first of those that X, Y and Z have chosen.
    axis = static_cast<std::size_t>(std::find(limits->begin(), limits->end(), true) - limits->begin()) % 3;
  }
  return leading_blank(verb, axis);
}

BlankId Drafting::choose_axis(std::size_t axis) {
  Verb verb = draft_.verb;
  if (const auto along = with_axis(verb, axis); along && !dragging()) return edit(*along, {}, is_done()), BlankId{};
  AxisSet* limits = limits_in(verb);
  const bool meets = std::holds_alternative<Meet>(verb);
  // Of a place that is given or dragged; else the value that is typed next is along it, too.
  const bool of_place =
      (meets || dragging() || role_of(verb, waiting()) == Role::To) && (meets || draft_.state != State::Done);
  if (limits && !of_place && draft_.state == State::Done && !is_over()) {
    end();
    verb = draft_.verb;
    limits = limits_in(verb);
  }
  if (auto* rotate = std::get_if<Rotate>(&verb)) {
    if (is_done()) return {};
    rotate->round = {static_cast<int>(axis), std::nullopt, std::nullopt};
    if (dragging() && grip_.pull.handle.kind == Handle::Kind::Arc) {
      grip_.pull.handle.axes = kNoAxes;
      grip_.pull.handle.axes[axis] = true;
    }
    if (!dragging())
      return set(Draft{draft_.state, verb, draft_.step, draft_.amends, draft_.asked, draft_.click}), leading();
  } else if (limits && of_place) {
    auto* meet = std::get_if<Meet>(&verb);
    if (meet && !meet->more.empty()) return store_.say("Several pairs are not limited to axes."), BlankId{};
    *limits = toggled(*limits, axis);
    if (meet) meet->axes = store_.axes();
  } else {
    return axis_blank(is_done() && corrects() ? draft_.verb : in_hand(), axis);
  }
  if (is_done()) return (void)act(verb, true), BlankId{};
  draft_.verb = verb;
  marks_.reset();
  if (dragging())
    drag_to(grip_.pull.view, {grip_.pull.x, grip_.pull.y}, look_.caught, grip_.steps);
  else
    hover(std::exchange(look_, Look{}).caught);
  emit changed();
  return {};
}

bool Drafting::step_back() {
  if (dragging()) return cancel_drag(), true;
  Draft next = draft_;
  next.asked = {};
  if (draft_.asked && !(draft_.state == State::Filling && is_over())) return set(std::move(next)), true;
  if (corrects() && !is_ready(draft_.verb)) {
    // A pair that was being added, or a place that was to be given again.
    next.verb = store_.journal().record().steps[draft_.step]->verb;
    return set(std::move(next)), true;
  }
  if (is_done() || (is_over() && !without_last_place(next.verb))) return end(), true;
  if (is_over()) return next.asked = waits_for(next.verb), set(std::move(next)), true;
  if (pick_of() != PickOf::Parts) return pick_elements(PickOf::Parts), true;
  if (!without_last_place(next.verb)) return false;
  return set(std::move(next)), true;
}

}  // namespace tack
