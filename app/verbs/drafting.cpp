#include "app/verbs/drafting.h"

#include "core/verbs/meet_motion.h"

namespace tack {
namespace {

using State = Draft::State;

QString text_of(std::string_view text) { return QString::fromUtf8(text.data(), static_cast<int>(text.size())); }

bool same_place(const std::optional<Caught>& a, const std::optional<Caught>& b) {
  return a.has_value() == b.has_value() && (!a || a->address == b->address);
}

// Whether the axes and what turns are about are those of the window: Scale and Stretch have their own, and Meet's only
// limit it.
bool shares_axes(const Verb& verb) {
  return !std::holds_alternative<Scale>(verb) && !std::holds_alternative<Stretch>(verb) &&
         !std::holds_alternative<Meet>(verb);
}

// As it is drawn before it is done: meshes of their own would first have to be made.
Verb as_shown(Verb verb) {
  if (auto* repeat = std::get_if<Repeat>(&verb)) repeat->instances = true;
  return verb;
}

}  // namespace

Drafting::Drafting(Store& store, QObject* parent) : QObject(parent), store_(store) {
  connect(&store, &Store::started, this, [this] {
    at_hand_.clear();
    would_be_.reset();
    end();
  });
  // A measure goes on showing what is there now; every other finished sentence, and every drag, ends.
  const auto ends = [this] {
    if (draft_.state == State::Doing) return;
    if (std::holds_alternative<Measure>(draft_.verb)) return refill();
    // The brush stays in the hand when a stroke is undone.
    if (brushes()) return take_brush();
    if (draft_.state == State::Filling && !is_over())
      refill();
    else
      end();
  };
  connect(&store, &Store::record_moved, this, ends);
  connect(&store, &Store::picked_changed, this, ends);
  connect(&store, &Store::axes_changed, this, ends);
  const auto follows = [this] {
    if (draft_.state != State::Doing) refill();
  };
  connect(&store, &Store::settings_changed, this, follows);
  connect(&store, &Store::scene_changed, this, follows);
}

// --- which verb

Verb Drafting::fresh(VerbId verb) const {
  const auto known = at_hand_.find(verb);
  Verb next = without_gone(known == at_hand_.end() ? face_of(verb)->blank : known->second, store_.scene());
  if (auto* what = what_in(next)) *what = store_.picked();
  if (Axes* axes = axes_in(next); axes && shares_axes(next)) *axes = store_.axes();
  if (auto* lay = std::get_if<LayPlane>(&next); lay && store_.view_frame) lay->view = store_.view_frame();
  if (auto* rotate = std::get_if<Rotate>(&next)) rotate->about = store_.about();
  next = begun(next, store_.scene());
  if (auto* meet = std::get_if<Meet>(&next))
    meet->tie = !meet->hold && (meet->tie || store_.remembers()) && picked_patches().empty();
  if (auto* pick = std::get_if<Pick>(&next)) pick->of = pick_of_;
  return next;
}

const Verb& Drafting::in_hand() const {
  const bool serves = draft_.state == State::Filling || dragging() || draft_.asked || waits_for(draft_.verb) ||
                      (is_done() && at_once(draft_.verb));
  if (serves) return draft_.verb;
  if (!next_) next_ = fresh(row_);
  return *next_;
}

void Drafting::set(Draft draft) {
  draft_ = std::move(draft);
  if (const auto* pick = std::get_if<Pick>(&draft_.verb)) pick_of_ = pick->of;
  look_ = {};
  next_.reset();
  marks_.reset();
  preview_.reset();
  emit changed();
}

// What is picked, the axes or the scene are others now: what is being filled in follows.
void Drafting::refill() {
  if (draft_.state == State::Filling && !is_over()) {
    at_hand_[row_] = draft_.verb;
    draft_.verb = fresh(row_);
  }
  if (std::holds_alternative<Measure>(draft_.verb)) draft_.verb = without_gone(draft_.verb, store_.scene());
  look_ = {};
  next_.reset();
  marks_.reset();
  preview_.reset();
  emit changed();
}

void Drafting::use(VerbId verb) {
  if (verb == row_) return;
  if (draft_.state == State::Filling && !is_over()) at_hand_[row_] = draft_.verb;
  row_ = verb;
  set({State::Filling, fresh(verb)});
  emit row_changed();
}

QString news_of(const Step& step) {
  std::string news;
  for (const Word& word : step.words)
    if (!word.blank && !word.offer && word.text.starts_with("  ")) news += word.text.substr(2) + " ";
  return QString::fromStdString(news + step.remark).trimmed();
}

void Drafting::end() { set({State::Filling, fresh(row_)}); }

void Drafting::begin(const Verb& verb, BlankId asked) {
  const Click click = asked ? click_of(verb, asked) : Click::None;
  set({State::Filling, verb, 0, false, asked, click == Click::None ? Click::Place : click});
}

bool Drafting::reopen(std::size_t step) {
  const Record& record = store_.journal().record();
  if (step >= record.steps.size() || std::holds_alternative<Bring>(record.steps[step]->verb)) return false;
  set({State::Correcting, record.steps[step]->verb, step});
  return true;
}

const Scene& Drafting::scene_before() const {
  const Record& record = store_.journal().record();
  const bool has_step = is_done() || (dragging() && draft_.amends);
  return has_step && makes_step(draft_.verb) && draft_.step < record.steps.size() ? record.before(draft_.step)
                                                                                  : store_.scene();
}

// What is typed behind a finished step is the next one, not that step's correction.
const Scene& Drafting::looked_from() const {
  return look_.typed && draft_.state == State::Done ? store_.scene() : scene_before();
}

const Scene& Drafting::scene_after() const {
  const Record& record = store_.journal().record();
  return is_done() && makes_step(draft_.verb) && draft_.step < record.steps.size() ? record.steps[draft_.step]->after
                                                                                   : store_.scene();
}

// --- what is said

Sentence Drafting::sentence() const {
  ++counts_.sentences;
  const Scene& scene = scene_before();
  const LengthUnit unit = store_.unit();
  const bool shown = look_.verb && !look_.typed;
  const Verb& verb = shown ? *look_.verb : draft_.verb;
  const Scene* after = look_.typed ? nullptr : look_.after ? look_.after.get() : is_done() ? &scene_after() : nullptr;
  // What the places do not reach is said, never left to be found out; what may be added comes behind it.
  Sentence s = tack::sentence(verb, scene, is_done() ? Tense::Past : Tense::Present, unit, after);
  const auto* meet = std::get_if<Meet>(&verb);
  if (meet && may_remain(*meet) && after && meets_within(*meet, *after, 0)) {
    Word words;
    words.text = "  It is exact.";
    s.insert(std::find_if(s.begin(), s.end(), [](const Word& w) { return w.offer; }), words);
  }
  if (dragging()) {
    if (!look_.stopped.isEmpty()) {
      Word words;
      words.text = "  It is " + look_.stopped.toStdString() + ".";
      s.push_back(words);
    }
    return s;
  }
  if (shown) return s;
  // The ways out of what the step did beside what was asked stand in the sentence itself.
  const bool skewed = makes_step(verb);
  std::uint8_t number = 0;
  for (const Remedy& remedy : remedies()) {
    Word gap, way;
    gap.text = number > 0 ? " · " : skewed ? "  Or " : "  ";
    way.text = way.name = remedy.words;
    way.blank = {BlankId::kRemedy, number++};
    gap.offer = way.offer = !skewed;
    s.push_back(gap);
    s.push_back(way);
  }
  return s;
}

QString Drafting::hint() const {
  // What is done and goes on says so, rather than asking for more.
  const bool rests = is_done() && !draft_.asked && is_ready(draft_.verb);
  const BlankId waits = rests ? BlankId{} : waiting();
  const auto* meet = std::get_if<Meet>(&draft_.verb);
  if (meet && meet->leave_copy && meet->from && draft_.state == State::Filling)
    return QStringLiteral("A row: each click leaves a copy and goes on to the next place. Esc ends it.");
  if (waits && waits.row != BlankId::kNone) {
    if (const std::string_view ask = ask_of(draft_.asked ? draft_.verb : in_hand(), waits); !ask.empty())
      return text_of(ask) + (wants_part() ? QString() : QStringLiteral(" B: next place under the pointer."));
  }
  if (row_ == id_of<Pick> && pick_of_ != PickOf::Parts && draft_.state == State::Filling && !is_over())
    return QStringLiteral("Double-click: run or region. Ctrl: more; in a rectangle also what is behind.");
  const Hints& hints = hints_of(is_done() || dragging() ? draft_.verb : in_hand());
  if (dragging()) return text_of(grip_.place ? hints.gripping : hints.dragging);
  if (is_done()) {
    if (const std::string notice = notice_of(draft_.verb, scene_before()); !notice.empty())
      return QString::fromStdString(notice);
    return hints.done.empty() ? QStringLiteral("Done. Click a blank to correct it.") : text_of(hints.done);
  }
  return text_of(store_.picked().empty() ? hints.nothing : hints.ready);
}

bool Drafting::shows_kept() const {
  const VerbFace* face = face_of(row_);
  return (face && face->shows_kept) || (draft_.state == State::Filling && std::holds_alternative<Keep>(draft_.verb));
}

std::vector<Remedy> Drafting::remedies() const {
  if (!is_done()) return {};
  std::vector<Remedy> ways;
  if (const auto* measure = std::get_if<Measure>(&draft_.verb)) {
    for (auto& [words, meet] : closings(*measure, store_.scene())) ways.push_back({words, std::nullopt, Verb(meet)});
    return ways;
  }
  const Record& record = store_.journal().record();
  if (draft_.step >= record.steps.size() || record.steps[draft_.step]->problem) return {};
  return remedies_of(draft_.verb, record.before(draft_.step), record.steps[draft_.step]->after);
}

void Drafting::remedy(std::size_t number) {
  const std::vector<Remedy> ways = remedies();
  if (number >= ways.size()) return;
  if (ways[number].instead) return (void)act(*ways[number].instead, true);
  if (!std::holds_alternative<Measure>(draft_.verb)) end();
  if (ways[number].then) store_.perform(*ways[number].then);
}

// --- what is caught

BlankId Drafting::waiting() const {
  if (dragging()) return {};
  if (draft_.asked) return draft_.asked;
  if (is_done() && is_ready(draft_.verb) && !goes_on(draft_.verb)) return {};
  return waits_for(draft_.verb);
}

BlankId Drafting::waiting_for(const std::optional<Caught>& caught) const {
  const BlankId waits = waiting();
  if (!waits || !caught || draft_.asked || role_of(draft_.verb, waits) == Role::None || !either_first(draft_.verb))
    return waits;
  const PartId part = caught->address.part;
  const bool moves = part != kNoPart && moving_mask()[part];
  return blank_of(draft_.verb, moves ? ".from" : ".to");
}

bool Drafting::catches() const { return grips_place() || offers_grips() || (waiting() && !wants_part()); }

bool Drafting::offers_grips() const {
  return !dragging() && !waiting() && !store_.picked().empty() && tack::offers_grips(in_hand());
}

CatchOn Drafting::catches_on() const {
  if (dragging()) return CatchOn::WhatStays;
  if (offers_grips()) return CatchOn::WhatMoves;
  const BlankId waits = waiting();
  if (!draft_.asked && either_first(draft_.verb)) return CatchOn::All;
  const Role role = waits ? role_of(draft_.verb, waits) : Role::None;
  if (role == Role::To) return std::holds_alternative<Measure>(draft_.verb) ? CatchOn::All : CatchOn::WhatStays;
  return role == Role::From && (waits.index > 0 || !picked_patches().empty()) ? CatchOn::WhatMoves : CatchOn::All;
}

std::vector<PartId> Drafting::moving() const {
  const Verb& verb = look_.verb ? *look_.verb : in_hand();
  std::vector<PartId> parts = parts_of(verb, store_.scene());
  return parts.empty() ? store_.picked() : parts;
}

const std::vector<bool>& Drafting::moving_mask() const {
  // The same parts in the same scene have the same mask, wherever the pointer goes.
  std::pair<std::vector<PartId>, std::size_t> now{parts_of(in_hand(), store_.scene()), store_.journal().position()};
  if (now.first.empty()) now.first = store_.picked();
  if (mask_.size() != store_.scene().id_limit() || now != mask_of_) {
    mask_ = marked_within(store_.scene(), now.first);
    mask_of_ = std::move(now);
  }
  return mask_;
}

void Drafting::look_at(std::optional<Verb> verb, std::optional<Caught> caught, bool typed) {
  look_ = {std::move(caught), std::move(verb), nullptr, typed};
  would_be_.reset();
  marks_.reset();
  const Scene& on = looked_from();
  const std::optional<Verb> whole = !look_.verb || !makes_step(*look_.verb) ? std::nullopt
                                    : is_ready(*look_.verb)                 ? look_.verb
                                                                            : as_it_stands(*look_.verb, on);
  if (whole) {
    ++counts_.scenes;
    Verb shown = as_shown(*whole);
    if (auto scene = tack::apply(shown, on)) look_.after = std::make_shared<const Scene>(std::move(*scene));
    if (look_.after && &on == &store_.scene()) would_be_ = {std::move(shown), look_.after, store_.journal().position()};
  }
  emit changed();
}

void Drafting::hover(const std::optional<Caught>& caught, bool offers) {
  if (dragging() || (same_place(look_.caught, caught) && !(caught && look_.typed))) return;
  const BlankId waits = waiting_for(caught);
  std::optional<Verb> verb;
  if (offers && caught && waits && !wants_part() && draft_.state == State::Filling && is_on_part(caught->address) &&
      !moving_mask()[caught->address.part])
    draft_.verb = with_offered(draft_.verb, caught->address.part);
  if (caught && waits && !wants_part()) verb = with_place(draft_.verb, waits, caught->address);
  if (verb && draft_.state == State::Filling && is_ready(*verb)) verb = made_whole(*verb, store_.scene());
  look_at(std::move(verb), caught, false);
}

namespace {

bool is_clicked(const Handle& handle) {
  return handle.kind == Handle::Kind::Pad || handle.kind == Handle::Kind::More || handle.kind == Handle::Kind::Less;
}

}  // namespace

bool Drafting::hover_point(const Handle& handle) {
  if (dragging() || draft_.asked) return false;
  auto verb = is_clicked(handle) ? pointed(in_hand(), handle) : std::nullopt;
  if (!verb) return false;
  if (!look_.verb || *look_.verb != *verb) look_at(std::move(verb), std::nullopt, false);
  return true;
}

// --- clicks

bool Drafting::press_point(const Handle& handle) {
  const auto verb = is_clicked(handle) && !draft_.asked ? pointed(in_hand(), handle) : std::nullopt;
  if (!verb) return false;
  // A stepper of what is only shown yet changes what is shown.
  if (draft_.state == State::Filling && at_once(*verb)) {
    Draft next = draft_;
    next.verb = *verb;
    set(std::move(next));
  } else {
    edit(*verb, waiting(), true);
  }
  return true;
}

bool Drafting::may_do() const {
  if (draft_.state != State::Filling || draft_.asked) return false;
  if (as_it_stands(draft_.verb, store_.scene())) return true;
  return at_once(draft_.verb) && !store_.picked().empty() && is_ready(draft_.verb);
}

bool Drafting::do_it() {
  if (!may_do()) return false;
  // As the pointer has it, if it has something.
  const Verb& shown = look_.verb && !look_.typed ? *look_.verb : draft_.verb;
  const auto stands = as_it_stands(shown, store_.scene());
  return act(stands ? *stands : draft_.verb, true);
}

std::optional<Caught> Drafting::free_place(const View& view, QPointF at, bool steps) const {
  if (dragging() || !waiting() || wants_part()) return std::nullopt;
  const auto place = tack::free_place(draft_.verb, store_.scene(), view, at.x(), at.y(), store_.increments(), steps);
  const auto tack = place ? find_tack(store_.scene(), *place) : Result<Tack>(Tack{});
  if (!place || !tack) return std::nullopt;
  Caught caught;
  caught.address = *place;
  caught.point = tack->point;
  return caught;
}

// What has been made is picked, and Pick is back, unless more of the same are wanted.
void Drafting::made_shape(bool another) {
  const Scene& scene = store_.scene();
  PartId made = kNoPart;
  for (const PartId id : scene.roots()) made = std::max(made, id);
  if (made != kNoPart) store_.pick({made});
  if (!another) row_ = id_of<Pick>;
}

std::shared_ptr<const Scene> Drafting::previewed() const {
  if (!may_do()) return nullptr;
  if (!preview_) {
    preview_ = nullptr;
    const Verb whole = as_it_stands(draft_.verb, store_.scene()).value_or(draft_.verb);
    if (!heavy(whole, store_.scene()))
      if (auto scene = tack::apply(as_shown(whole), store_.scene()))
        preview_ = std::make_shared<const Scene>(std::move(*scene));
  }
  return *preview_;
}

bool Drafting::press(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) {
  if (!draft_.asked && is_done() && is_ready(draft_.verb) && !(caught && goes_on(draft_.verb))) end();
  if (!draft_.asked && is_over() && !waiting()) end();
  if (!caught) return false;
  // With something picked, Shift-click is a To at once: the part's own base is its From.
  auto* meet = std::get_if<Meet>(&draft_.verb);
  if (meet && !draft_.asked && !meet->from && modifiers & Qt::ShiftModifier && !moving_mask()[caught->address.part])
    if (const auto base = base_of(*meet, store_.scene())) meet->from = base;
  const BlankId waits = waiting_for(caught);
  if (!waits || wants_part()) return false;
  give_place(waits, *caught, modifiers);
  return true;
}

void Drafting::release(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) {
  // Let go on another tack: from here to there in one gesture. Let go in the open: To still waits.
  const BlankId waits = waiting_for(caught);
  if (caught && waits && either_first(draft_.verb) && !is_ready(draft_.verb)) {
    // Let go on the other one of the two: the pair is complete.
    const auto verb = with_place(draft_.verb, waits, caught->address);
    if (verb && is_ready(*verb)) return give_place(waits, *caught, modifiers);
  } else if (caught && waits && !draft_.asked && role_of(draft_.verb, waits) == Role::To) {
    const TackAddress* from = place_in(draft_.verb, blank_of(draft_.verb, "from", waits.index));
    if (from && caught->address != *from) return give_place(waits, *caught, modifiers);
  }
  emit changed();
}

void Drafting::give_place(BlankId blank, const Caught& caught, Qt::KeyboardModifiers modifiers) {
  const Draft before = draft_;
  auto verb = with_place(draft_.verb, blank, caught.address);
  if (!verb) return store_.say("This blank takes no such place.", Tone::Wrong);
  draft_.asked = {};
  if (auto* meet = std::get_if<Meet>(&*verb); meet && draft_.state == State::Filling && meet->to) {
    if (modifiers & Qt::ShiftModifier) *meet = stood_on_base(*meet, store_.scene());
    if (modifiers & Qt::ControlModifier) meet->leave_copy = true;
  }
  // A place of space is kept on the part that is picked.
  if (auto* keep = std::get_if<Keep>(&*verb); keep && !is_on_part(caught.address) && store_.picked().size() == 1)
    keep->part = store_.picked().front();
  makes_more_ = bool(modifiers & Qt::ControlModifier);
  edit(*verb, blank, true);
  makes_more_ = false;
  // When it could not be done, the place just clicked is the one to give again.
  if (draft_.state == State::Filling && draft_.verb == *verb && is_ready(*verb)) set(before);
}

bool Drafting::answer_with(PartId part) {
  const BlankId blank = draft_.asked ? BlankId{} : answer_blank(in_hand());
  if (!blank || store_.picked().empty() || moving_mask()[part]) return false;
  if (is_done() && !is_ready(draft_.verb)) return false;
  draft_.asked = blank;
  draft_.click = Click::Part;
  take_part(part);
  return true;
}

void Drafting::take_part(PartId part) {
  const BlankId blank = std::exchange(draft_.asked, BlankId{});
  const auto verb = with_part(draft_.verb, blank, part);
  if (!verb) return;
  if (what_in(draft_.verb) && is_done() && key_of_blank(draft_.verb, blank) == "what") {
    // The same step about another part.
    draft_.state = State::Doing;
    store_.pick({part});
    draft_.state = State::Correcting;
  }
  edit(*verb, blank, true);
}

// Every edit comes through here. What is ready is done; what still lacks something waits for it.
void Drafting::edit(Verb verb, BlankId blank, bool by_mouse) {
  const bool filling = draft_.state == State::Filling;
  if (is_ready(verb) && (!filling || by_mouse || acts(verb, blank))) return (void)act(verb, by_mouse);
  if (filling) share_settings(draft_.verb, verb);
  Draft next = draft_;
  next.verb = std::move(verb);
  if (is_done()) next.state = State::Correcting;
  set(std::move(next));
}

void Drafting::share_settings(const Verb& was, const Verb& is) {
  const auto doing = std::exchange(draft_.state, State::Doing);
  if (const Axes* a = axes_in(was), *b = axes_in(is); a && b && *a != *b && shares_axes(is)) store_.set_axes(*b);
  const auto *a = std::get_if<Rotate>(&was), *b = std::get_if<Rotate>(&is);
  if (a && b && a->about != b->about) store_.set_about(b->about);
  draft_.state = doing;
}

// Does the verb, as a new step or in place of the one that the draft is.
bool Drafting::act(const Verb& asked, bool by_mouse) {
  const Draft before = draft_;
  const bool again = is_done();
  const Verb verb = again ? asked : made_whole(asked, store_.scene());
  draft_.state = State::Doing;
  const std::size_t count = store_.journal().record().steps.size();
  const bool last = before.step + 1 == count;
  // Mostly it has just been shown, and is not worked out again.
  const auto known = std::exchange(would_be_, {});
  const bool same = known && known->position == store_.journal().position() && known->verb == verb;
  const bool done = !makes_step(verb) || (again ? last ? store_.amend(verb) : store_.amend_step(before.step, verb)
                                                : store_.perform(verb, same ? known->after.get() : nullptr));
  if (!done) {
    // A refused correction leaves the sentence as it was.
    Draft back = before;
    if (!again) back.verb = verb;
    back.asked = {};
    set(std::move(back));
    return false;
  }
  at_hand_[id(verb)] = next_after(verb);
  const bool shaped = std::holds_alternative<MakeShape>(verb) && !again;
  if (std::holds_alternative<Take>(verb)) {
    const auto& made = store_.journal().record().steps[again ? before.step : count]->made;
    if (!made.empty()) store_.pick(made);
  }
  if (shaped) made_shape(std::exchange(makes_more_, false));
  // The axes that X, Y and Z have chosen hold until they choose others; a meeting's are its own.
  if (const AxisSet* chosen = limits_in(before.verb);
      chosen && before.state == State::Filling && id(before.verb) == id(verb) && !std::holds_alternative<Meet>(verb))
    *limits_in(at_hand_[id(verb)]) = *chosen;
  Draft next{State::Done, verb, again ? before.step : count};
  // After a gesture, in a step of the record that was opened, and where the next one would first need a click, a typed
  // value corrects.
  Verb following = next_after(verb);
  if (auto* what = what_in(following)) *what = store_.picked();
  if (by_mouse || (again && !last) || waits_for(following)) next.state = State::Correcting;
  if (const auto* meet = std::get_if<Meet>(&verb); meet && meet->leave_copy && !again) {
    // A row: each further click leaves a copy and goes on.
    next = {State::Filling, next_in_row(*meet)};
  }
  set(std::move(next));
  if (shaped) emit row_changed();
  if (!makes_step(verb)) return true;
  const auto& steps = store_.journal().record().steps;
  const std::size_t number = again ? before.step : count;
  const QString news = number < steps.size() ? news_of(*steps[number]) : QString();
  if (!news.isEmpty()) store_.say(news);
  if (std::holds_alternative<Keep>(verb) && !again) emit name_wanted(blank_of(verb, "name"));
  return true;
}

}  // namespace tack
