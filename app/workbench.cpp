#include "app/workbench.h"

#include <QApplication>
#include <QMenu>

#include "app/panels/colours_panel.h"

namespace tack {

namespace {

bool same_states(const std::vector<TieState>& a, const std::vector<TieState>& b) {
  return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const TieState& x, const TieState& y) {
    return x.kind == y.kind && x.gap == y.gap && x.angle == y.angle && x.beyond == y.beyond && x.from == y.from &&
           x.target == y.target;
  });
}

}  // namespace

Workbench::Workbench(Store& store, SentenceBar& bar, Keys& keys, QObject* parent)
    : QObject(parent), store_(store), bar_(bar), keys_(keys), draft_(store) {
  connect(&draft_, &Drafting::name_wanted, this, [this](BlankId blank) {
    if (entering_)
      wanted_ = blank;
    else
      open_entry(blank);
  });
  connect(&draft_, &Drafting::changed, this, &Workbench::show_later);
  connect(&draft_, &Drafting::row_changed, this, &Workbench::verb_changed);
  bar_.context = [this](BlankId blank) { return draft_.context(blank); };
  bar_.check = [this](BlankId blank, const QString& text) { return draft_.check_words(blank, text); };
  bar_.takes_number = [this](BlankId blank) { return draft_.takes_number(blank); };
  connect(&bar_, &SentenceBar::blank_clicked, this, &Workbench::blank_clicked);
  connect(&bar_, &SentenceBar::entered, this, &Workbench::entered);
  connect(&bar_, &SentenceBar::passed, this, &Workbench::go_on);
  connect(
      &bar_, &SentenceBar::entry_changed, this,
      [this](BlankId blank, const QString& text, std::optional<double> value) { draft_.preview(blank, text, value); });
  connect(&bar_, &SentenceBar::entry_left, this, [this] {
    draft_.preview({}, {}, std::nullopt);
    focus_stage();
  });
  connect(&bar_, &SentenceBar::entry_wrong, this, [this](const QString& why) {
    told_ = false;
    store_.say(why.isEmpty() ? draft_.hint() : why, why.isEmpty() ? Tone::Hint : Tone::Wrong);
  });
  connect(&bar_, &SentenceBar::back_asked, this, &Workbench::step_back);
  connect(&bar_, &SentenceBar::doing_asked, this, [this] {
    do_it();
    focus_stage();
  });
  // Another document begins with the position the last one began with.
  connect(&store_, &Store::started, this, [this] {
    ties_at_.reset();
    ties_measured_ = {};
    tie_states_.clear();
    looked_at_.clear();
  });
  connect(&store_, &Store::look_changed, this, [this] {
    ties_at_.reset();
    ties_measured_ = {};
    show_later();
  });
  connect(&store_, &Store::scene_changed, this, &Workbench::show_later);
  connect(&store_, &Store::document_changed, this, &Workbench::show_later);
  connect(&store_, &Store::said, this, [this](const QString&, Tone tone) { told_ = tone != Tone::Hint; });
  connect(&store_, &Store::record_moved, this, [this] { told_ = false; });
  connect(&store_, &Store::picked_changed, this, [this] { told_ = false; });
  connect(&store_, &Store::stepped, this, [this] {
    told_ = false;
    if (draft_.draft().state != Draft::State::Doing) tell_last_step();
  });
}

void Workbench::use(VerbId verb) {
  if (verb == draft_.row()) return;
  told_ = false;
  bar_.close_entry();
  draft_.use(verb);
}

void Workbench::reopen(std::size_t step) {
  const Record& record = store_.journal().record();
  if (step >= record.steps.size()) return;
  const Verb verb = record.steps[step]->verb;
  store_.pick(parts_of(verb, record.before(step)));
  if (face_of(id(verb))) use(id(verb));
  const bool open = draft_.reopen(step);
  store_.say(open ? QString("Step %1 is open: click a blank to change it. The later steps follow.").arg(step + 1)
                  : QString("Step %1 has no blanks to change. Untick it to leave it out, or remove it.").arg(step + 1));
}

const Marks& Workbench::marks() const {
  if (!marks_) {
    marks_ = draft_.marks();
    add_looked_at(*marks_);
  }
  return *marks_;
}

const std::vector<TieState>& Workbench::tie_states() const {
  const auto& shown = marks().shown;
  if (ties_at_ == store_.journal().position() && ties_in_ == shown) return tie_states_;
  ties_at_ = store_.journal().position();
  ties_in_ = shown;
  const Scene& scene = shown ? *shown : store_.scene();
  const std::vector<Tie>&ties = scene.ties(), &had = ties_measured_.ties();
  const bool same_list = &ties == &had;
  std::vector<TieState> states;
  states.reserve(ties.size());
  for (std::size_t i = 0; i < ties.size(); ++i) {
    const bool known = i < had.size() && i < tie_states_.size() && (same_list || had[i] == ties[i]) &&
                       tie_states_[i].kind != TieState::Kind::Waiting && unchanged(ties[i], ties_measured_, scene);
    states.push_back(known ? tie_states_[i] : state_when_ready(ties[i], scene, store_.preferences().touch));
  }
  tie_states_ = std::move(states);
  ties_measured_ = scene;
  return tie_states_;
}

void Workbench::measure_waiting() {
  const bool waits = std::any_of(tie_states_.begin(), tie_states_.end(),
                                 [](const TieState& s) { return s.kind == TieState::Kind::Waiting; });
  if (!waits) return;
  ties_at_.reset();
  show_later();
}

void Workbench::look_at_tie(const std::string& name) {
  if (looked_at_ == name) return;
  looked_at_ = name;
  show_later();
  emit ties_changed();
}

// The tie that was clicked in Fit: shown as long as the verb has nothing of its own to show.
void Workbench::add_looked_at(Marks& marks) const {
  const Scene& scene = store_.scene();
  const Tie* tie = looked_at_.empty() ? nullptr : scene.tie(looked_at_);
  if (!tie || marks.meeting || marks.from || marks.to) return;
  const TieState state = state_when_ready(*tie, marks.shown ? *marks.shown : scene, store_.preferences().touch);
  if (state.kind == TieState::Kind::Lost || state.kind == TieState::Kind::Waiting) return;
  const TackPair& pair = tie->pairs[state.pair];
  marks.from = Marks::Place{state.from, caught_words(scene, pair.from, false)};
  marks.to = Marks::Place{state.target, caught_words(scene, pair.to, false)};
  marks.joined = state.gap > store_.preferences().touch;
  marks.meeting = meeting_of(scene, *tie, state, store_.unit());
  marks.distance = marks.meeting->words;
  marks.tone = state.kind == TieState::Kind::Apart ? Tone::Apart : Tone::Hint;
}

void Workbench::close_all_ties() {
  const auto is_apart = [this](const std::string& name) {
    const Tie* tie = store_.scene().tie(name);
    return tie && state_of(*tie, store_.scene(), store_.preferences().touch).kind == TieState::Kind::Apart;
  };
  std::vector<std::string> names;
  for (const Tie& tie : store_.scene().ties())
    if (is_apart(tie.name)) names.push_back(tie.name);
  if (names.empty()) return store_.say("No tie is apart.");
  int closed = 0;
  for (const std::string& name : names) {
    if (!is_apart(name)) continue;                                          // closing one may have closed another
    if (!store_.perform(CloseTie{name, CloseTie::Moves::Brought})) return;  // the reason has been said
    ++closed;
  }
  const auto left = std::count_if(store_.scene().ties().begin(), store_.scene().ties().end(),
                                  [&](const Tie& tie) { return is_apart(tie.name); });
  store_.say(left == 0 ? QString("%1 ties were closed; all hold.").arg(closed)
                       : QString("%1 ties were closed; %2 are still apart: their parts are tied in a ring, or twice. "
                                 "Fit offers to spread what remains.")
                             .arg(closed)
                             .arg(left),
             left == 0 ? Tone::Good : Tone::Note);
}

void Workbench::open_entry(BlankId blank) {
  draft_.begin_correction();
  show_now();
  bar_.open_entry(blank);
}

void Workbench::leave_entry() {
  if (!bar_.entry_is_open()) return;
  bar_.close_entry();
  draft_.preview({}, {}, std::nullopt);
}

void Workbench::tell_last_step() {
  const Record& record = store_.journal().record();
  if (record.steps.empty()) return;
  const QString news = news_of(*record.steps.back());
  if (draft_.reopen(record.steps.size() - 1) && !news.isEmpty()) store_.say(news);
}

void Workbench::begin(const Verb& verb, std::string_view blank) {
  told_ = false;
  bar_.close_entry();
  draft_.begin(verb, blank_of(verb, blank));
}

void Workbench::offer(const Verb& verb) {
  told_ = false;
  bar_.close_entry();
  draft_.begin(verb, {});
  focus_stage();
}

void Workbench::repeat_last() {
  const Record& record = store_.journal().record();
  if (record.steps.empty()) return store_.say("There is no step to repeat.", Tone::Wrong);
  if (!store_.has_picked()) return;
  const auto verb = with_parts(record.steps.back()->verb, store_.picked());
  if (!verb) return store_.say("This step cannot be repeated on another part.", Tone::Wrong);
  if (store_.perform(*verb))
    store_.say("Repeated: " + QString::fromStdString(plain_text(store_.journal().record().steps.back()->words)));
}

// Several changes in one turn of events are shown once, at its end.
void Workbench::show_later() {
  marks_.reset();
  if (std::exchange(behind_, true)) return;
  QMetaObject::invokeMethod(this, &Workbench::show_now, Qt::QueuedConnection);
}

void Workbench::show_now() {
  if (!std::exchange(behind_, false)) return;
  if (!looked_at_.empty() && !store_.scene().tie(looked_at_)) looked_at_.clear();
  bar_.show_sentence(draft_.sentence(), draft_.waiting());
  bar_.offer_doing(draft_.may_do());
  if (!told_) store_.say(draft_.hint(), Tone::Hint);
  emit marks_changed();
  // Ties are others only where something that they hold on has moved.
  const std::vector<TieState> was = tie_states_;
  if (!same_states(was, tie_states())) emit ties_changed();
}

void Workbench::blank_clicked(BlankId blank) {
  note_use();
  if (blank.is_remedy()) return draft_.remedy(blank.index);
  const auto options = draft_.options(blank);
  // What is offered is taken by the click: of two choices the one that is not in force.
  if (bar_.is_offer(blank) && options.size() == 2 && options[0].click == Click::None && options[1].click == Click::None)
    return draft_.choose(blank, 1);
  const bool colour = key_of_blank(draft_.draft().verb, blank) == "named";
  if (!colour && (draft_.takes_number(blank) || draft_.takes_words(blank))) return open_entry(blank);
  if (!options.empty() && (!bar_.is_offer(blank) || options.size() > 2)) return open_list(blank, options);
  const std::string_view key = key_of_blank(draft_.draft().verb, blank);
  if (key == "colour" || key == "named") return choose_colour(blank);
  if (key == "what" && !draft_.is_open())
    return store_.say("These parts are picked: click others on the stage or in Parts.");
  draft_.wait_for(blank, click_of(draft_.draft().verb, blank));
  focus_stage();
}

void Workbench::choose_colour(BlankId blank) {
  const Verb& verb = draft_.draft().verb;
  const auto given = [this](const std::string& named, const Colour& colour) { draft_.recolour(named, colour); };
  if (const auto* paint = std::get_if<Paint>(&verb)) {
    QMenu menu;
    menu.setObjectName("blank menu");
    add_colours(menu, store_.scene(), paint->colour, given);
    menu.exec(bar_.place_below(blank));
    return;
  }
  const auto* name = std::get_if<NameColour>(&verb);
  const auto* edit = std::get_if<EditColour>(&verb);
  if (const auto colour = ask_colour(name ? name->colour : edit ? edit->colour : Colour{})) given({}, *colour);
}

void Workbench::open_list(BlankId blank, const std::vector<Option>& options) {
  QMenu menu;
  menu.setObjectName("blank menu");
  for (const Option& option : options) menu.addAction(QString::fromStdString(option.words).replace('&', "&&"));
  const QAction* chosen = menu.exec(bar_.place_below(blank));
  if (chosen) draft_.choose(blank, static_cast<std::size_t>(menu.actions().indexOf(const_cast<QAction*>(chosen))));
  if (draft_.waiting()) focus_stage();  // where the place is clicked, or typed
}

void Workbench::entered(BlankId blank, const QString& text, double value, bool by_tab) {
  note_use();
  entering_ = true;
  const bool done = draft_.enter(blank, text, value);
  entering_ = false;
  if (!done) return;
  show_now();
  // What the step asks to be typed next comes before where the keyboard would go.
  if (const BlankId wanted = std::exchange(wanted_, BlankId{})) return open_entry(wanted);
  if (by_tab)
    go_on(blank, bar_.entry()->goes_back());
  else
    focus_stage();
}

void Workbench::focus_stage() {
  if (auto* stage = bar_.window()->findChild<QWidget*>("stage")) stage->setFocus();
}

void Workbench::go_on(BlankId blank, bool back) {
  show_now();
  const BlankId next = bar_.blank_beside(blank, back);
  if (!next) return focus_stage();
  if (!draft_.takes_number(next) && !draft_.takes_words(next)) return bar_.focus_blank(next);
  open_entry(next);
}

void Workbench::switch_kind(CatchKind kind, bool on) {
  only_.reset();
  kinds_.set(kind, on);
  emit kinds_changed();
}

void Workbench::narrow_to(std::optional<CatchKind> kind) {
  only_ = kind;
  emit kinds_changed();
}

void Workbench::set_edge_parts(int parts) {
  edge_parts_ = parts;
  emit kinds_changed();
}

// Keys that count while they are held: C, Q and, in a drag, E.
bool Workbench::held_key(int key, const QKeyEvent& event, bool down) {
  if (down && (event.modifiers() & ~Qt::ShiftModifier)) return false;
  bool* held = key == Qt::Key_C                                     ? &c_held_
               : key == Qt::Key_Q                                   ? &q_held_
               : key == Qt::Key_E && (draft_.dragging() || e_held_) ? &e_held_
                                                                    : nullptr;
  if (!held || (!down && !*held)) return false;
  if (!event.isAutoRepeat() && std::exchange(*held, down) != down) emit kinds_changed();
  return true;
}

// With C held a digit or a letter: catch on one kind only; 0 takes all again. Hidden places count then, too.
bool Workbench::kind_key(int key, const QKeyEvent& event) {
  if (!c_held_ || event.key() < Qt::Key_0 || event.key() > Qt::Key_Z || key == Qt::Key_C) return false;
  const auto kind = kCatchKindKeys.find(static_cast<char>(event.key()));
  if (kind == std::string_view::npos && event.key() != Qt::Key_0) return true;
  narrow_to(event.key() == Qt::Key_0 ? std::nullopt : std::optional(static_cast<CatchKind>(kind)));
  return true;
}

// A digit, sign or point opens the entry in the verb's leading value; = does too, without being typed itself.
bool Workbench::typing_key(const QKeyEvent& event) {
  const QString text = event.text();
  if (text.size() != 1 || !QStringLiteral("0123456789-.=").contains(text)) return false;
  show_now();
  // Where a place or a part was asked for, it can be typed instead of clicked.
  // With = also where a value could be typed: a place or a part begins with words, a value seldom does.
  if (const BlankId asked = text == "=" && draft_.waiting() ? draft_.waiting() : draft_.typed_blank()) {
    note_use();
    // A place that has no word in the sentence yet: then what it is all about is named.
    BlankId blank = asked;
    if (const BlankId answer = answer_blank(draft_.draft().verb); !bar_.has(asked) && answer) {
      draft_.wait_for(answer, Click::Part);
      show_now();
      blank = answer;
    }
    bar_.open_entry(blank, text == "=" ? QStringLiteral(" ") : text);
    return true;
  }
  if (!draft_.waiting() && draft_.row_takes_value()) draft_.end();
  const BlankId leading = draft_.leading();
  if (!leading) return false;
  note_use();
  show_now();
  bar_.open_entry(leading, text == "=" ? QStringLiteral(" ") : text);
  return true;
}

void Workbench::ask_place(const QString& hint, std::function<void(const Caught&)> then) {
  asked_place_ = std::move(then);
  store_.say(hint);
  focus_stage();
}

void Workbench::give_place(const Caught& caught) {
  const auto then = std::exchange(asked_place_, {});
  draft_.hover(std::nullopt);
  if (then) then(caught);
}

bool Workbench::answer_with(PartId part) {
  const BlankId waits = draft_.waiting();
  if (!waits || waits.is_remedy() || !store_.scene().contains(part)) return false;
  leave_entry();
  note_use();
  if (draft_.wants_part()) {
    draft_.take_part(part);
    return true;
  }
  if (draft_.answer_with(part)) return true;
  Caught pivot;
  pivot.address = {TackKind::Pivot, part, 0, {}};
  const auto tack = find_tack(store_.scene(), pivot.address);
  if (!tack) return false;
  pivot.point = tack->point;
  // A part that moves is no To of itself: then the click picks.
  const CatchOn on = draft_.catches_on();
  const std::vector<bool>& moves = draft_.moving_mask();
  if (on != CatchOn::All && part < moves.size() && moves[part] != (on == CatchOn::WhatMoves)) return false;
  if (!draft_.press(pivot, {})) return false;
  draft_.release(std::nullopt, {});
  return true;
}

void Workbench::do_it() {
  leave_entry();
  note_use();
  draft_.do_it();
}

void Workbench::type_along(std::size_t axis) {
  if (draft_.is_over() && !draft_.waiting()) draft_.end();
  const BlankId blank = draft_.choose_axis(axis);
  if (!blank) return;
  note_use();
  if (draft_.takes_number(blank)) return open_entry(blank);
  // Sides are chosen from a list.
  show_now();
  bar_.focus_blank(blank);
  blank_clicked(blank);
}

void Workbench::type_size(std::size_t axis) {
  draft_.offer(id_of<Scale>);
  if (const BlankId blank = draft_.choose_axis(axis)) open_entry(blank);
}

// Keys that lead to a blank: X, Y, Z, K, Tab and Enter.
bool Workbench::blank_key(int key, bool shift) {
  switch (key) {
    case Qt::Key_K: {
      if (draft_.is_over() && !draft_.waiting()) draft_.end();
      const BlankId still = draft_.still();
      if (!still) return false;
      if (draft_.waiting() != still) draft_.wait_for(still, Click::Place);
      k_held_ = true;
      return true;
    }
    case Qt::Key_X:
    case Qt::Key_Y:
    case Qt::Key_Z:
      if (shift) return false;
      type_along(static_cast<std::size_t>(key - Qt::Key_X));
      return true;
    case Qt::Key_Backtab: go_on({}, false); return true;
    case Qt::Key_Tab:
    case Qt::Key_Return:
    case Qt::Key_Enter: {
      if (key != Qt::Key_Tab && draft_.may_do()) return do_it(), true;
      const bool over = draft_.is_over() && !at_once(draft_.draft().verb);
      if (key == Qt::Key_Tab && (over || !draft_.leading())) return go_on({}, false), true;
      if (over) draft_.end();
      const BlankId leading = draft_.leading();
      if (!leading) return false;
      open_entry(leading);
      return true;
    }
    default: return false;
  }
}

bool Workbench::verb_key(int key, const QKeyEvent& event) {
  for (const VerbFace& face : verb_faces()) {
    if (face.key != key) continue;
    if (face.id() == draft_.row()) return true;
    before_ = draft_.row();
    held_key_ = event.key();
    held_since_ = event.timestamp();
    used_ = false;
    use(face.id());
    return true;
  }
  return false;
}

// More and less of what was taken, while that has not been used yet.
bool Workbench::element_key(const QKeyEvent& event) {
  const QString text = event.text();
  const bool takes = !draft_.is_over() || std::holds_alternative<Take>(draft_.draft().verb);
  if (!takes || draft_.pick_of() == PickOf::Parts || (text != "+" && text != "-") || draft_.picked_patches().empty())
    return false;
  draft_.change_taken(text == "+" ? Drafting::Ring::More : Drafting::Ring::Less);
  return true;
}

bool Workbench::view_key(int key, bool shift) {
  switch (key) {
    case Qt::Key_Escape: step_back(); return true;
    case Qt::Key_B: emit next_tack_asked(shift ? -1 : 1); return true;
    case Qt::Key_F: emit frame_asked(shift); return true;
    case Qt::Key_Left: emit orbit_asked(-1, 0); return true;
    case Qt::Key_Right: emit orbit_asked(1, 0); return true;
    case Qt::Key_Up: emit orbit_asked(0, 1); return true;
    case Qt::Key_Down: emit orbit_asked(0, -1); return true;
    case Qt::Key_I: emit isolate_asked(); return true;
    case Qt::Key_H: emit aids_asked(); return true;
    case Qt::Key_J: emit compare_asked(true); return true;
    case Qt::Key_W: store_.switch_plane(); return true;
    case Qt::Key_Slash: emit list_asked(); return true;
    default: return false;
  }
}

bool Workbench::key_press(const QKeyEvent& event) {
  told_ = false;
  const int key = keys_.meant(event.key());
  if (kind_key(key, event) || held_key(key, event, true)) return true;
  if (event.isAutoRepeat() && key != Qt::Key_B && (key < Qt::Key_Left || key > Qt::Key_Down))
    return held_key_ == event.key();
  // A sign may need Shift on some keyboards, or stand on the number pad.
  if (event.modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) return false;
  const bool shift = event.modifiers() & Qt::ShiftModifier;
  if (shift && key == Qt::Key_P)
    return draft_.pick_elements(static_cast<PickOf>((static_cast<int>(draft_.pick_of()) + 1) % 4)), true;
  return element_key(event) || typing_key(event) || view_key(key, shift) || blank_key(key, shift) ||
         (!shift && verb_key(key, event));
}

bool Workbench::key_release(const QKeyEvent& event) {
  const int key = keys_.meant(event.key());
  if (key == Qt::Key_K && !event.isAutoRepeat()) k_held_ = false;
  if (key == Qt::Key_J && !event.isAutoRepeat()) return emit compare_asked(false), true;
  if (held_key(key, event, false)) return true;
  if (event.isAutoRepeat() || event.key() != held_key_ || held_key_ == 0) return false;
  // A tap is told from a hold by the events' own times: a busy machine delivers both late.
  used_ |= event.timestamp() - held_since_ >= hold_milliseconds;
  let_go();
  return true;
}

void Workbench::note_use() {
  used_ = true;
  told_ = false;
}

void Workbench::let_go() {
  const bool held = c_held_ || q_held_ || e_held_;
  c_held_ = q_held_ = e_held_ = k_held_ = false;
  if (held) emit kinds_changed();
  if (held_key_ == 0) return;
  held_key_ = 0;
  // Held for a while, or used while it was down: only for the moment. Otherwise it was a tap, and the verb stays.
  const auto back = std::exchange(before_, std::nullopt);
  if (back && used_) use(*back);
}

void Workbench::step_back() {
  if (asked_place_) {
    asked_place_ = {};
    draft_.hover(std::nullopt);
    return store_.say("Left as it was.");
  }
  if (bar_.entry_is_open()) {
    bar_.close_entry();
    draft_.preview({}, {}, std::nullopt);
    return;
  }
  if (draft_.step_back()) return;
  if (draft_.row() != id_of<Pick>) return use(id_of<Pick>);
  store_.pick({});
}

}  // namespace tack
