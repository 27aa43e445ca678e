#include "app/workbench.h"

#include <QMenu>

#include "core/verbs/blanks.h"

namespace tack {

namespace {
constexpr int kHoldMilliseconds = 300;
}

Workbench::Workbench(Store& store, SentenceBar& bar, QObject* parent) : QObject(parent), store_(store), bar_(bar) {
  verbs_ = {new PickController(store),   new MoveController(store), new RotateController(store),
            new ScaleController(store),  new MeetController(store), new PivotController(store),
            new MeasureController(store)};
  part_ = new PartController(store);
  connect(part_, &PartController::name_wanted, this, [this] { open_entry(Blank::Name); });
  std::vector<Controller*> all = verbs_;
  all.push_back(part_);
  for (Controller* v : all) {
    v->setParent(this);
    connect(v, &Controller::changed, this, [this, v] {
      if (v == verb_ || v == overlay_) refresh();
    });
  }
  verb_ = verbs_.front();
  bar_.context = [this](Blank blank) { return speaker().context(blank); };
  bar_.check = [this](Blank blank, const QString& text) { return speaker().check_words(blank, text); };
  connect(&bar_, &SentenceBar::blank_clicked, this, &Workbench::blank_clicked);
  connect(&bar_, &SentenceBar::remedy_clicked, this, [this](const QString& words) { speaker().remedy(words); });
  connect(&bar_, &SentenceBar::entered, this, &Workbench::entered);
  connect(&bar_, &SentenceBar::passed, this, &Workbench::go_on);
  connect(&bar_, &SentenceBar::entry_changed, this,
          [this](Blank blank, std::optional<double> value) { speaker().preview(blank, value); });
  connect(&bar_, &SentenceBar::entry_left, this, [this] {
    speaker().preview(Blank::None, std::nullopt);
    refresh();
    focus_stage();
  });
  connect(&bar_, &SentenceBar::entry_wrong, this, [this](const QString& why) {
    told_ = false;
    store_.say(why.isEmpty() ? speaker().hint() : why, why.isEmpty() ? Tone::Hint : Tone::Wrong);
  });
  connect(&bar_, &SentenceBar::back_asked, this, &Workbench::step_back);
  // Another document begins with the position the last one began with.
  connect(&store_, &Store::started, this, [this] {
    ties_at_.reset();
    ties_measured_ = {};
    tie_states_.clear();
    looked_at_.clear();
  });
  connect(&store_, &Store::scene_changed, this, &Workbench::refresh);
  connect(&store_, &Store::document_changed, this, &Workbench::refresh);
  connect(&store_, &Store::said, this, [this](const QString&, Tone tone) { told_ = tone != Tone::Hint; });
  connect(&store_, &Store::record_moved, this, [this] { told_ = false; });
  connect(&store_, &Store::picked_changed, this, [this] { told_ = false; });
  connect(&store_, &Store::stepped, this, [this] {
    told_ = false;
    if (!speaker().acting() && !verb_->acting()) tell_last_step();
  });
}

void Workbench::use(Controller* verb) {
  if (verb == verb_) return;
  told_ = false;
  bar_.close_entry();
  end_overlay();
  verb_->hover(std::nullopt);
  verb_->end_sentence();
  verb_ = verb;
  emit verb_changed();
  refresh();
}

void Workbench::reopen(std::size_t step) {
  const Record& record = store_.journal().record();
  if (step >= record.steps.size()) return;
  const Verb verb = record.steps[step]->verb;
  const std::vector<PartId> parts = parts_of(verb, record.before(step));
  store_.pick(parts);
  end_overlay();
  bool open = false;
  for (Controller* v : verbs_) {
    open = v->reopen(step, verb);
    if (!open) continue;
    use(v);
    break;
  }
  open = open || reopen_in(part_, step, verb);
  store_.say(open ? tr("Step %1 is open: click a blank to change it. The later steps follow.").arg(step + 1)
                  : tr("Step %1 has no blanks to change. Untick it to leave it out, or remove it.").arg(step + 1));
}

Controller& Workbench::speaker() const { return overlay_ && overlay_->is_open() ? *overlay_ : *verb_; }

Controller& Workbench::stage_verb() const {
  Controller& says = speaker();
  return &says != verb_ && (says.waiting() || bar_.entry_is_open()) ? says : *verb_;
}

const Marks& Workbench::marks() const {
  if (!marks_) {
    marks_ = stage_verb().marks();
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
    states.push_back(known ? tie_states_[i] : state_when_ready(ties[i], scene));
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
  refresh();
}

void Workbench::look_at_tie(const std::string& name) {
  if (looked_at_ == name) return;
  looked_at_ = name;
  refresh();
  emit ties_changed();
}

// The tie that was clicked in Fit: shown as long as the verb has nothing of its own to show.
void Workbench::add_looked_at(Marks& marks) const {
  const Scene& scene = store_.scene();
  const Tie* tie = looked_at_.empty() ? nullptr : scene.tie(looked_at_);
  if (!tie || marks.meeting || marks.from || marks.to) return;
  const TieState state = state_when_ready(*tie, marks.shown ? *marks.shown : scene);
  if (state.kind == TieState::Kind::Lost || state.kind == TieState::Kind::Waiting) return;
  const TackPair& pair = tie->pairs[state.pair];
  const auto words = [&](const TackAddress& a) { return QString::fromStdString(tack_words(scene, a)); };
  marks.from = Marks::Place{state.from, words(pair.from)};
  marks.to = Marks::Place{state.target, words(pair.to)};
  marks.joined = state.gap > kTouch;
  marks.distance = QString::fromStdString(state_words(state, store_.unit()));
  marks.tone = state.kind == TieState::Kind::Apart ? Tone::Apart : Tone::Hint;
  Marks::Meeting meeting;
  meeting.from = state.from;
  meeting.to = state.target;
  meeting.span = 2.6 * std::max(feature_size(scene, pair.from), feature_size(scene, pair.to));
  meeting.angle = state.angle;
  meeting.words = marks.distance;
  meeting.tone = holds(state) ? Tone::Good : state.kind == TieState::Kind::Apart ? Tone::Apart : Tone::Hint;
  marks.meeting = meeting;
}

void Workbench::open_entry(Blank blank) {
  speaker().begin_correction();
  bar_.open_entry(blank);
}

bool Workbench::reopen_in(Controller* controller, std::size_t step, const Verb& verb) {
  end_overlay();
  if (!controller->reopen(step, verb)) return false;
  overlay_ = controller == verb_ ? nullptr : controller;
  refresh();
  return true;
}

void Workbench::tell_last_step() {
  const Record& record = store_.journal().record();
  if (record.steps.empty()) return;
  const std::size_t step = record.steps.size() - 1;
  const Verb verb = record.steps[step]->verb;
  const std::string remark = record.steps[step]->remark;
  bool open = false;
  for (Controller* v : verbs_) open = open || reopen_in(v, step, verb);
  if (open || reopen_in(part_, step, verb))
    if (!remark.empty()) store_.say(QString::fromStdString(remark));
}

void Workbench::begin(const Verb& verb, int places) {
  told_ = false;
  bar_.close_entry();
  end_overlay();
  part_->begin(verb, places);
  overlay_ = part_;
  refresh();
}

void Workbench::end_overlay() {
  if (!overlay_) return;
  Controller* over = std::exchange(overlay_, nullptr);
  bar_.close_entry();
  over->end_sentence();
  refresh();
}

void Workbench::repeat_last() {
  const Record& record = store_.journal().record();
  if (record.steps.empty()) return store_.say(tr("There is no step to repeat."), Tone::Wrong);
  if (store_.picked().empty()) return store_.say(tr("Nothing is picked. Pick a part first."), Tone::Wrong);
  const Verb verb = with_parts(record.steps.back()->verb, store_.picked());
  if (std::holds_alternative<Rename>(verb) || std::holds_alternative<Bring>(verb))
    return store_.say(tr("This step is not one that can be repeated on something else."), Tone::Wrong);
  if (store_.perform(verb))
    store_.say(
        tr("Repeated: %1").arg(QString::fromStdString(plain_text(store_.journal().record().steps.back()->words))));
}

void Workbench::refresh() {
  marks_.reset();
  if (!looked_at_.empty() && !store_.scene().tie(looked_at_)) looked_at_.clear();
  if (overlay_ && !overlay_->is_open()) overlay_ = nullptr;
  Controller& says = speaker();
  bar_.show_sentence(says.sentence(), says.waiting());
  if (!told_) store_.say(says.hint(), Tone::Hint);
  emit marks_changed();
  // Hovering changes the marks at every move of the pointer, the ties hardly ever.
  const auto was = std::pair(ties_at_, ties_in_);
  tie_states();
  if (was != std::pair(ties_at_, ties_in_)) emit ties_changed();
}

void Workbench::blank_clicked(Blank blank) {
  note_use();
  if (blank == Blank::Remedy) return;
  Controller& says = speaker();
  // What is offered is taken by the click: of two choices the one that is not in force.
  if (bar_.is_offer(blank) && says.choices(blank).size() == 2) return says.choose(blank, 1);
  if (is_value(blank)) {
    says.begin_correction();
    bar_.open_entry(blank);
    return;
  }
  const QStringList choices = says.choices(blank);
  if (!choices.isEmpty()) {
    QMenu menu;
    menu.setObjectName("blank menu");
    for (const QString& choice : choices) menu.addAction(choice);
    const QAction* chosen = menu.exec(bar_.place_below(blank));
    if (chosen) says.choose(blank, static_cast<int>(menu.actions().indexOf(const_cast<QAction*>(chosen))));
    if (says.waiting()) focus_stage();  // where the place is clicked, or typed
    return;
  }
  if (blank == Blank::What && !says.is_open())
    return store_.say(tr("What is picked: click parts on the stage or in Parts to change it."));
  says.wait_for(blank);
  focus_stage();
}

void Workbench::entered(Blank blank, const QString& text, double value, bool by_tab) {
  note_use();
  Controller& says = speaker();
  if (!says.enter(blank, text, value)) return;
  if (by_tab)
    go_on(blank, bar_.entry()->goes_back());
  else
    focus_stage();
}

void Workbench::focus_stage() {
  if (auto* stage = bar_.window()->findChild<QWidget*>("stage")) stage->setFocus();
}

void Workbench::go_on(Blank blank, bool back) {
  const auto next = bar_.blank_beside(blank, back);
  if (!next) return focus_stage();
  if (!is_value(*next)) return bar_.focus_blank(*next);
  speaker().begin_correction();
  bar_.open_entry(*next);
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

bool Workbench::key_press(const QKeyEvent& event) {
  told_ = false;
  // C held, then a digit: catch on one kind only; 0 takes all again. Hidden places count then, too.
  if (event.key() == Qt::Key_C && (event.modifiers() & ~Qt::ShiftModifier) == 0) {
    if (!event.isAutoRepeat()) {
      c_held_ = true;
      emit kinds_changed();
    }
    return true;
  }
  if (c_held_ && event.key() >= Qt::Key_0 && event.key() <= Qt::Key_Z) {
    const auto kind = kCatchKindKeys.find(static_cast<char>(event.key()));
    if (kind == std::string_view::npos && event.key() != Qt::Key_0) return true;
    narrow_to(event.key() == Qt::Key_0 ? std::nullopt : std::optional(static_cast<CatchKind>(kind)));
    return true;
  }
  if (event.isAutoRepeat() && event.key() != Qt::Key_B && (event.key() < Qt::Key_Left || event.key() > Qt::Key_Down))
    return held_key_ == event.key();
  const bool plain = (event.modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == 0;
  if (!plain) return false;
  const bool shift = event.modifiers() & Qt::ShiftModifier;
  // A digit, sign or point opens the entry in the verb's leading value; = does too, without being typed itself.
  const QString text = event.text();
  if (text.size() == 1 && QStringLiteral("0123456789-.=").contains(text)) {
    // Where a place or a part was asked for, it can be typed instead of clicked.
    if (const auto asked = speaker().typed_blank()) {
      note_use();
      bar_.open_entry(*asked, text == "=" ? QStringLiteral(" ") : text);
      return true;
    }
    const auto leading = verb_->leading();
    if (!leading) return false;
    note_use();
    end_overlay();
    bar_.open_entry(*leading, text);
    return true;
  }
  switch (event.key()) {
    case Qt::Key_Escape: step_back(); return true;
    case Qt::Key_B: emit next_tack_asked(shift ? -1 : 1); return true;
    case Qt::Key_F: emit frame_asked(shift); return true;
    case Qt::Key_Left: emit orbit_asked(-1, 0); return true;
    case Qt::Key_Right: emit orbit_asked(1, 0); return true;
    case Qt::Key_Up: emit orbit_asked(0, 1); return true;
    case Qt::Key_Down: emit orbit_asked(0, -1); return true;
    case Qt::Key_K:
      if (!verb_->still_blank()) return false;
      end_overlay();
      if (verb_->waiting() != verb_->still_blank()) verb_->wait_for(*verb_->still_blank());
      return true;
    case Qt::Key_X: verb_->choose_axis(0); return true;
    case Qt::Key_Y: verb_->choose_axis(1); return true;
    case Qt::Key_Z: verb_->choose_axis(2); return true;
    case Qt::Key_Backtab: go_on(Blank::None, false); return true;
    case Qt::Key_Tab:
      if (overlay_ || !verb_->leading()) {
        go_on(Blank::None, false);
        return true;
      }
      [[fallthrough]];
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (const auto leading = verb_->leading()) {
        end_overlay();
        verb_->begin_correction();
        bar_.open_entry(*leading);
        return true;
      }
      return false;
    default: break;
  }
  if (shift) return false;
  for (Controller* v : verbs_) {
    if (v->key() != event.key()) continue;
    if (v == verb_) return true;
    before_ = verb_;
    held_key_ = event.key();
    used_ = false;
    held_.start();
    use(v);
    return true;
  }
  return false;
}

bool Workbench::key_release(const QKeyEvent& event) {
  if (event.key() == Qt::Key_C && !event.isAutoRepeat() && std::exchange(c_held_, false)) {
    emit kinds_changed();
    return true;
  }
  if (event.isAutoRepeat() || event.key() != held_key_ || held_key_ == 0) return false;
  let_go();
  return true;
}

void Workbench::note_use() {
  used_ = true;
  told_ = false;
}

void Workbench::let_go() {
  if (std::exchange(c_held_, false)) emit kinds_changed();
  if (held_key_ == 0) return;
  held_key_ = 0;
  // Held for a while, or used while it was down: only for the moment. Otherwise it was a tap, and the verb stays.
  Controller* back = before_;
  before_ = nullptr;
  if (back && (used_ || held_.elapsed() >= kHoldMilliseconds)) use(back);
}

void Workbench::step_back() {
  if (bar_.entry_is_open()) {
    Controller& says = speaker();
    bar_.close_entry();
    says.preview(Blank::None, std::nullopt);
    return;
  }
  if (speaker().step_back() || verb_->step_back()) return;
  if (verb_ != verbs_.front()) return use(verbs_.front());
  store_.pick({});
}

}  // namespace tack
