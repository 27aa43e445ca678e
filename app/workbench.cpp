#include "app/workbench.h"

#include <QMenu>

namespace tack {

namespace {
constexpr int kHoldMilliseconds = 300;
}

Workbench::Workbench(Store& store, SentenceBar& bar, QObject* parent) : QObject(parent), store_(store), bar_(bar) {
  verbs_ = {new PickController(store),   new MoveController(store), new RotateController(store),
            new ScaleController(store),  new MeetController(store), new PivotController(store),
            new MeasureController(store)};
  for (Controller* v : verbs_) {
    v->setParent(this);
    connect(v, &Controller::changed, this, [this, v] {
      if (v == verb_) refresh();
    });
  }
  verb_ = verbs_.front();
  bar_.context = [this](Blank blank) { return verb_->context(blank); };
  connect(&bar_, &SentenceBar::blank_clicked, this, &Workbench::blank_clicked);
  connect(&bar_, &SentenceBar::remedy_clicked, this, [this](const QString& words) { verb_->remedy(words); });
  connect(&bar_, &SentenceBar::entered, this, &Workbench::entered);
  connect(&bar_, &SentenceBar::entry_changed, this,
          [this](Blank blank, std::optional<double> value) { verb_->preview(blank, value); });
  connect(&bar_, &SentenceBar::entry_left, this, [this] {
    verb_->preview(Blank::None, std::nullopt);
    refresh();
  });
  connect(&bar_, &SentenceBar::entry_wrong, this, [this](const QString& why) {
    store_.say(why.isEmpty() ? verb_->hint() : why, why.isEmpty() ? Tone::Hint : Tone::Wrong);
  });
  connect(&bar_, &SentenceBar::back_asked, this, &Workbench::step_back);
  connect(&store_, &Store::scene_changed, this, &Workbench::refresh);
  connect(&store_, &Store::document_changed, this, &Workbench::refresh);
}

void Workbench::use(Controller* verb) {
  if (verb == verb_) return;
  bar_.close_entry();
  verb_->hover(std::nullopt);
  verb_->end_sentence();
  still_asked_ = false;
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
  for (Controller* v : verbs_) {
    if (v == verb_ ? !v->reopen(step, verb) : false) continue;
    if (v != verb_) {
      Controller* before = verb_;
      use(v);
      if (!v->reopen(step, verb)) {
        use(before);
        continue;
      }
    }
    store_.say(tr("Step %1 is open: click a blank to change it. The later steps follow.").arg(step + 1));
    return;
  }
  store_.say(tr("Step %1 has no blanks to change. Untick it to leave it out, or remove it.").arg(step + 1));
}

void Workbench::repeat_last() {
  const Record& record = store_.journal().record();
  if (record.steps.empty()) return store_.say(tr("There is no step to repeat."), Tone::Wrong);
  if (store_.picked().empty()) return store_.say(tr("Nothing is picked. Pick a part first."), Tone::Wrong);
  Verb verb = record.steps.back()->verb;
  std::visit(
      [&](auto& v) {
        if constexpr (requires { v.what; }) v.what = store_.picked();
        // From is the same place of the part that moves now.
        if constexpr (requires { v.from; })
          if (v.from && v.from->part != kNoPart) v.from->part = store_.picked().front();
      },
      verb);
  if (std::holds_alternative<Rename>(verb) || std::holds_alternative<Bring>(verb))
    return store_.say(tr("This step is not one that can be repeated on something else."), Tone::Wrong);
  if (store_.perform(verb))
    store_.say(
        tr("Repeated: %1").arg(QString::fromStdString(plain_text(store_.journal().record().steps.back()->words))));
}

void Workbench::refresh() {
  bar_.show_sentence(verb_->sentence(), verb_->waiting());
  store_.say(verb_->hint());
  emit marks_changed();
}

void Workbench::blank_clicked(Blank blank) {
  note_use();
  if (blank == Blank::Remedy) return;
  if (is_value(blank)) {
    verb_->begin_correction();
    bar_.open_entry(blank);
    return;
  }
  const QStringList choices = verb_->choices(blank);
  if (!choices.isEmpty()) {
    QMenu menu;
    menu.setObjectName("blank menu");
    for (const QString& choice : choices) menu.addAction(choice);
    const QAction* chosen = menu.exec(bar_.place_below(blank));
    if (chosen) verb_->choose(blank, static_cast<int>(menu.actions().indexOf(const_cast<QAction*>(chosen))));
    return;
  }
  if (blank == Blank::From || blank == Blank::To || blank == Blank::Like) verb_->wait_for(blank);
  if (blank == Blank::What) store_.say(tr("What is picked: click parts on the stage or in Parts to change it."));
}

void Workbench::entered(Blank blank, const QString& text, double value, bool by_tab) {
  note_use();
  if (!verb_->enter(blank, text, value)) return;
  if (by_tab) {
    if (const auto next = verb_->next_value(blank)) {
      verb_->begin_correction();
      bar_.open_entry(*next);
      return;
    }
  }
  if (auto* window = bar_.window()->findChild<QWidget*>("stage")) window->setFocus();
}

bool Workbench::key_press(const QKeyEvent& event) {
  if (event.isAutoRepeat() && event.key() != Qt::Key_B && (event.key() < Qt::Key_Left || event.key() > Qt::Key_Down))
    return held_key_ == event.key();
  const bool plain = (event.modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == 0;
  if (!plain) return false;
  const bool shift = event.modifiers() & Qt::ShiftModifier;
  // A digit, sign or point opens the entry in the verb's leading value; = does too, without being typed itself.
  const QString text = event.text();
  if (text.size() == 1 && QStringLiteral("0123456789-.=").contains(text)) {
    const auto leading = verb_->leading();
    if (!leading) return false;
    note_use();
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
      if (!verb_->has_still()) return false;
      still_asked_ = true;
      store_.say(tr("Click the place that stays still."));
      emit marks_changed();
      return true;
    case Qt::Key_X: verb_->choose_axis(0); return true;
    case Qt::Key_Y: verb_->choose_axis(1); return true;
    case Qt::Key_Z: verb_->choose_axis(2); return true;
    case Qt::Key_Tab:
    case Qt::Key_Return:
    case Qt::Key_Enter:
      if (const auto leading = verb_->leading()) {
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
  if (event.key() == Qt::Key_K && !event.isAutoRepeat() && still_asked_) {
    // A tap leaves the question open until a place is clicked; Esc takes it back.
    return true;
  }
  if (event.isAutoRepeat() || event.key() != held_key_ || held_key_ == 0) return false;
  let_go();
  return true;
}

void Workbench::note_use() { used_ = true; }

bool Workbench::take_still(const std::optional<Caught>& caught) {
  if (!still_asked_) return false;
  if (!caught) {
    store_.say(tr("There is no place to catch there. Click one, or press Esc."), Tone::Wrong);
    return true;
  }
  still_asked_ = false;
  note_use();
  verb_->set_still(caught->address);
  return true;
}

void Workbench::let_go() {
  if (held_key_ == 0) return;
  held_key_ = 0;
  // Held for a while, or used while it was down: only for the moment. Otherwise it was a tap, and the verb stays.
  Controller* back = before_;
  before_ = nullptr;
  if (back && (used_ || held_.elapsed() >= kHoldMilliseconds)) use(back);
}

void Workbench::step_back() {
  if (bar_.entry_is_open()) {
    bar_.close_entry();
    verb_->preview(Blank::None, std::nullopt);
    return;
  }
  if (still_asked_) {
    still_asked_ = false;
    refresh();
    return;
  }
  if (verb_->step_back()) return;
  if (verb_ != verbs_.front()) return use(verbs_.front());
  store_.pick({});
}

}  // namespace tack
