#include "app/verbs/act_controller.h"

#include "core/catch/typed_place.h"
#include "core/verbs/blanks.h"

namespace tack {

ActController::ActController(Store& store) : Controller(store) {
  connect(&store, &Store::started, this, [this] {
    drag_.reset();
    shown_.reset();
    end_sentence();
  });
  const auto end = [this] {
    if (!picking_ && !acting_ && !outlasts_changes()) end_sentence();
  };
  connect(&store, &Store::record_moved, this, end);
  connect(&store, &Store::picked_changed, this, end);
  connect(&store, &Store::axes_changed, this, end);
  connect(&store, &Store::settings_changed, this, &Controller::changed);
}

std::size_t ActController::done_step() const {
  const std::size_t count = store_.journal().record().steps.size();
  return reopened_ && *reopened_ < count ? *reopened_ : count - 1;
}

const Scene& ActController::scene_before() const {
  const Record& record = store_.journal().record();
  return corrects() && !record.steps.empty() ? record.before(done_step()) : store_.scene();
}

bool ActController::takes(const Verb& verb) const {
  const auto mine = pending();
  return mine && mine->index() == verb.index();
}

bool ActController::reopen(std::size_t step, const Verb& verb) {
  if (!takes(verb)) return false;
  end_sentence();
  done_ = verb;
  reopened_ = step;
  correcting_ = true;
  took(verb);
  emit changed();
  return true;
}

std::optional<Verb> ActController::with_value(const Verb& base, Blank blank, const Amount& amount) const {
  return tack::with_value(base, blank, amount);
}

double ActController::value_now(Blank blank) const {
  const auto verb = corrects() ? done_ : pending();
  return verb ? value_in(*verb, blank).value_or(0) : 0;
}

EntryContext ActController::context(Blank blank) const {
  // In a finished sentence `it` is what stands there, else what the scene says.
  const auto given = corrects() ? value_in(*done_, blank) : std::nullopt;
  return {kind_of(blank).value_or(EntryKind::Length), store_.unit(), given.value_or(value_now(blank)),
          reader_of(store_.scene())};
}

namespace {

bool names_part(Blank blank) {
  return blank == Blank::Like || blank == Blank::What || blank == Blank::Parent || blank == Blank::Axes;
}

// The axes in which a typed place is read: those in use.
tl::expected<TackAddress, EntryError> read_place(const Store& store, const QString& text) {
  const Scene& scene = store.scene();
  const PartId part = store.picked().empty() ? kNoPart : store.picked().front();
  const Axes axes = part == kNoPart && store.axes().kind != AxesKind::View ? Axes(AxesKind::World) : store.axes();
  return typed_place(scene, text.toStdString(), {EntryKind::Length, store.unit(), std::nullopt, reader_of(scene)},
                     axes_frame(scene, part, axes));
}

}  // namespace

std::optional<EntryError> ActController::check_words(Blank blank, const QString& text) const {
  if (names_part(blank)) {
    const auto part = typed_part(store_.scene(), text.toStdString());
    return part ? std::nullopt : std::optional(part.error());
  }
  const auto place = read_place(store_, text);
  return place ? std::nullopt : std::optional(place.error());
}

Sentence ActController::sentence() const {
  if (drag_ && drag_->verb) return tack::sentence(*drag_->verb, store_.scene(), Tense::Present, store_.unit());
  if (done_) {
    const Record& record = store_.journal().record();
    const Scene& before = record.steps.empty() ? record.start : record.before(done_step());
    Sentence s = tack::sentence(*done_, before, Tense::Past, store_.unit());
    // The ways out of what the step did beside what was asked stand in the sentence itself.
    const char* before_remedy = "  Or ";
    for (const QString& remedy : remedies()) {
      s.push_back({std::exchange(before_remedy, " · ")});
      s.push_back({remedy.toStdString(), Blank::Remedy});
    }
    return s;
  }
  const auto verb = pending();
  return verb ? tack::sentence(*verb, store_.scene(), Tense::Present, store_.unit()) : Sentence{};
}

QStringList ActController::remedies() const {
  QStringList words;
  const Record& record = store_.journal().record();
  if (!done_ || record.steps.empty()) return words;
  const std::size_t step = done_step();
  for (const Remedy& r : remedies_of(*done_, record.before(step), record.steps[step]->after))
    words << QString::fromStdString(r.words);
  return words;
}

void ActController::remedy(const QString& words) {
  const Record& record = store_.journal().record();
  if (!done_ || record.steps.empty()) return;
  const std::size_t step = done_step();
  for (const Remedy& r : remedies_of(*done_, record.before(step), record.steps[step]->after)) {
    if (QString::fromStdString(r.words) != words) continue;
    if (r.instead) return correct(*r.instead);
    end_sentence();
    if (r.then) store_.perform(*r.then);
    return;
  }
}

void ActController::hover(const std::optional<Caught>& caught) {
  const bool same = hovered_.has_value() == caught.has_value() && (!caught || hovered_->address == caught->address);
  hovered_ = caught;
  if (!same) emit changed();
}

bool ActController::press(const std::optional<Caught>& caught, Qt::KeyboardModifiers) {
  if (!asked_) {
    if (done_) end_sentence();
    return false;
  }
  if (!caught) return false;
  const Blank blank = *asked_;
  asked_.reset();
  hovered_.reset();
  take_place(blank, caught->address);
  emit changed();
  return true;
}

void ActController::take_part(PartId part) {
  if (asked_ == Blank::Axes) {
    asked_.reset();
    take_axes(axes_of(part));
    emit changed();
    return;
  }
  if (asked_ != Blank::What) return take_like(part);
  asked_.reset();
  if (!done_) return;
  // The same step about another part.
  picking_ = true;
  store_.pick({part});
  picking_ = false;
  correct(with_parts(*done_, {part}));
  took(*done_);
}

void ActController::wait_for(Blank blank) {
  asked_ = asked_ == blank ? std::nullopt : std::optional(blank);
  hovered_.reset();
  preview_.reset();
  emit changed();
}

bool ActController::step_back() {
  if (drag_) {
    cancel_drag();
    return true;
  }
  if (asked_) {
    asked_.reset();
    hovered_.reset();
    preview_.reset();
    emit changed();
    return true;
  }
  if (!done_) return false;
  end_sentence();
  return true;
}

void ActController::end_sentence() {
  done_.reset();
  reopened_.reset();
  by_mouse_ = correcting_ = false;
  asked_.reset();
  hovered_.reset();
  preview_.reset();
  emit changed();
}

bool ActController::act(const Verb& verb, bool by_mouse) {
  const std::optional<std::size_t> reopened = corrects() ? reopened_ : std::nullopt;
  acting_ = true;
  const bool done = reopened     ? store_.amend_step(*reopened, verb)
                    : corrects() ? store_.amend(verb)
                                 : store_.perform(verb);
  acting_ = false;
  preview_.reset();
  shown_.reset();
  if (done) {
    done_ = verb;
    by_mouse_ = by_mouse;
    reopened_ = reopened;
    correcting_ = reopened.has_value();
    took(verb);
    const std::string& remark = store_.journal().record().steps[done_step()]->remark;
    emit changed();
    if (!remark.empty()) store_.say(QString::fromStdString(remark));
    return true;
  }
  emit changed();
  return false;
}

void ActController::correct(const Verb& verb) {
  correcting_ = true;
  act(verb, true);
}

QStringList ActController::axes_choices() const { return store_.axes_words() << tr("of a part (click it)"); }

void ActController::use_axes(int index) {
  if (index >= store_.axes_words().size()) return wait_for(Blank::Axes);
  if (const auto axes = store_.axes_for(index)) take_axes(*axes);
}

void ActController::take_axes(const Axes& axes) {
  if (done_) {
    Verb verb = *done_;
    std::visit(
        [&](auto& v) {
          if constexpr (requires { v.axes; }) v.axes = axes;
        },
        verb);
    correct(verb);
    return;
  }
  set_axes(axes);
  emit changed();
}

QStringList ActController::about_choices() {
  return {tr("its own pivot"),         tr("the middle of all"),  tr("the bottom of its box"),
          tr("the middle of its box"), tr("the top of its box"), tr("the low corner of its box"),
          tr("a place (click it)")};
}

About ActController::about_choice(int index) {
  constexpr Vec3 kFractions[] = {{0.5, 0.5, 0}, {0.5, 0.5, 0.5}, {0.5, 0.5, 1}, {0, 0, 0}};
  if (index == 1) return middle_of_all();
  if (index < 2 || index >= kAboutPlace) return {};
  About about = bottom();
  about.fraction = kFractions[index - 2];
  return about;
}

void ActController::preview(Blank blank, std::optional<double> value) {
  preview_.reset();
  const auto base = corrects() ? done_ : pending();
  if (value && base)
    if (const auto verb = with_value(*base, blank, Amount{*value}))
      if (auto scene = tack::apply(*verb, scene_before())) preview_ = std::move(*scene);
  emit changed();
}

bool ActController::enter(Blank blank, const QString& text, double value) {
  if (asked_ == blank && names_part(blank)) {
    if (const auto part = typed_part(store_.scene(), text.toStdString())) take_part(*part);
    return true;
  }
  if (asked_ == blank) {
    const auto place = read_place(store_, text);
    const auto tack = place ? find_tack(store_.scene(), *place) : Result<Tack>(Tack{});
    if (place && tack) {
      Caught typed;
      typed.address = *place;
      typed.point = tack->point;
      press(typed, {});
      release(std::nullopt, {});
    }
    return true;
  }
  Amount amount{value, text.toStdString(), store_.unit()};
  // What `it` meant was the value in the blank; the step itself would take it for the one before the step.
  if (corrects() && value_in(*done_, blank) && uses_it(amount)) amount.text.clear();
  // Typed before the drag was let go: the drag ends with exactly this.
  const bool in_drag = drag_ && drag_->started;
  const auto base = in_drag && drag_->verb ? drag_->verb : corrects() ? done_ : pending();
  const auto verb = base ? with_value(*base, blank, amount) : std::nullopt;
  drag_.reset();
  if (!verb) return false;
  if (!done_ && keep(*verb)) {
    emit changed();
    return true;
  }
  return act(*verb, in_drag);
}

bool ActController::begin_drag(const Handle& handle, const View& view, QPointF at) {
  if (store_.picked().empty()) return false;
  end_sentence();
  drag_ = Drag{handle, at, at, view, false, false, {}, {}, {}};
  return true;
}

void ActController::drag_to(const View& view, QPointF at, bool steps) {
  if (!drag_) return;
  drag_->view = view;
  drag_->at = at;
  drag_->steps = steps;
  drag_->started = true;
  shown_.reset();
  drag_->verb = drag_->grip && drag_->to ? gripped(*drag_) : dragged(*drag_);
  if (drag_->verb)
    if (auto scene = tack::apply(*drag_->verb, store_.scene()))
      shown_ = std::make_shared<const Scene>(std::move(*scene));
  emit changed();
}

void ActController::end_drag(bool leave_copy) {
  if (!drag_) return;
  auto verb = std::move(drag_->verb);
  drag_.reset();
  shown_.reset();
  if (!verb) {
    emit changed();
    return;
  }
  std::visit(
      [&](auto& v) {
        if constexpr (requires { v.leave_copy; }) v.leave_copy = leave_copy;
      },
      *verb);
  act(*verb, true);
}

void ActController::cancel_drag() {
  drag_.reset();
  shown_.reset();
  emit changed();
}

Marks ActController::marks() const {
  Marks marks;
  const Scene& scene = store_.scene();
  if (waiting() && hovered_) {
    QString name = QString::fromStdString(tack_words(scene, hovered_->address));
    if (hovered_->behind) name += tr(" · behind");
    marks.to = Marks::Place{hovered_->point, name};
  }
  if (drag_ && drag_->started) {
    marks.shown = shown_;
    add_gauges(*drag_, marks);
  }
  const Scene* other = preview_ ? &*preview_ : marks.shown ? &scene : nullptr;
  if (!other) return marks;
  const std::vector<bool> moves = marked_within(*other, moving());
  const std::vector<Affine> worlds = worlds_of(*other);
  for (const PartId id : other->in_tree_order())
    if (moves[id] && other->part(id).mesh) marks.ghosts.emplace_back(id, worlds[id]);
  return marks;
}

}  // namespace tack
