#include "app/verbs/act_controller.h"

namespace tack {

ActController::ActController(Store& store) : Controller(store) {
  connect(&store, &Store::started, this, [this] {
    drag_.reset();
    shown_.reset();
    end_sentence();
  });
  connect(&store, &Store::record_moved, this, [this] { end_sentence(); });
  connect(&store, &Store::picked_changed, this, [this] { end_sentence(); });
  connect(&store, &Store::axes_changed, this, [this] { end_sentence(); });
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

bool ActController::reopen(std::size_t step, const Verb& verb) {
  if (verb.index() != pending().index()) return false;
  end_sentence();
  done_ = verb;
  reopened_ = step;
  correcting_ = true;
  emit changed();
  return true;
}

Sentence ActController::sentence() const {
  if (drag_ && drag_->started)
    if (const auto verb = dragged(*drag_)) return tack::sentence(*verb, scene_before(), Tense::Present, store_.unit());
  if (done_) {
    const Record& record = store_.journal().record();
    const Scene& before = record.steps.empty() ? record.start : record.before(done_step());
    Sentence s = tack::sentence(*done_, before, Tense::Past, store_.unit());
    // What the step did beside what was asked, and the ways out, stand in the sentence itself.
    if (!record.steps.empty() && !record.steps[done_step()]->remark.empty())
      for (const QString& remedy : remedies()) s.push_back({" "}), s.push_back({remedy.toStdString(), Blank::Remedy});
    return s;
  }
  return tack::sentence(pending(), store_.scene(), Tense::Present, store_.unit());
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

void ActController::wait_for(Blank blank) {
  asked_ = asked_ == blank ? std::nullopt : std::optional(blank);
  hovered_.reset();
  emit changed();
}

bool ActController::step_back() {
  if (drag_) {
    cancel_drag();
    return true;
  }
  if (asked_) {
    asked_.reset();
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
  const bool done = reopened     ? store_.amend_step(*reopened, verb)
                    : corrects() ? store_.amend(verb)
                                 : store_.perform(verb);
  preview_.reset();
  shown_.reset();
  if (done) {
    done_ = verb;
    by_mouse_ = by_mouse;
    reopened_ = reopened;
    correcting_ = reopened.has_value();
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

QStringList ActController::axes_choices() const { return store_.axes_words(); }

std::optional<Axes> ActController::axes_choice(int index) { return store_.axes_for(index); }

void ActController::use_axes(int index) {
  const auto axes = axes_choice(index);
  if (!axes) return;
  if (done_) {
    Verb verb = *done_;
    std::visit(
        [&](auto& v) {
          if constexpr (requires { v.axes; }) v.axes = *axes;
        },
        verb);
    correct(verb);
    return;
  }
  store_.set_axes(*axes);
}

QStringList ActController::about_choices() {
  return {tr("its own pivot"),         tr("the middle of all"),  tr("the bottom of its box"),
          tr("the middle of its box"), tr("the top of its box"), tr("the low corner of its box"),
          tr("a place (click it)")};
}

About ActController::about_choice(int index) {
  constexpr Vec3 kFractions[] = {{0.5, 0.5, 0}, {0.5, 0.5, 0.5}, {0.5, 0.5, 1}, {0, 0, 0}};
  if (index == 1) return middle_of_all();
  if (index < 2 || index > 5) return {};
  About about = bottom();
  about.fraction = kFractions[index - 2];
  return about;
}

void ActController::preview(Blank blank, std::optional<double> value) {
  preview_.reset();
  if (value)
    if (const auto verb = with_value(corrects() ? *done_ : pending(), blank, Amount{*value}))
      if (auto scene = apply(*verb, scene_before())) preview_ = std::move(*scene);
  emit changed();
}

bool ActController::enter(Blank blank, const QString& text, double value) {
  const Amount amount{value, text.toStdString(), store_.unit()};
  // Typed before the drag was let go: the drag ends with exactly this.
  const bool in_drag = drag_ && drag_->started;
  const Verb base = in_drag && dragged(*drag_) ? *dragged(*drag_) : corrects() ? *done_ : pending();
  const auto verb = with_value(base, blank, amount);
  drag_.reset();
  if (!verb) return false;
  return act(*verb, in_drag);
}

bool ActController::begin_drag(const Handle& handle, const View& view, QPointF at) {
  if (store_.picked().empty()) return false;
  end_sentence();
  drag_ = Drag{handle, at, at, view, false, false};
  return true;
}

void ActController::drag_to(const View& view, QPointF at, bool steps) {
  if (!drag_) return;
  drag_->view = view;
  drag_->at = at;
  drag_->steps = steps;
  drag_->started = true;
  shown_.reset();
  if (const auto verb = dragged(*drag_))
    if (auto scene = apply(*verb, store_.scene())) shown_ = std::make_shared<const Scene>(std::move(*scene));
  emit changed();
}

void ActController::end_drag(bool leave_copy) {
  if (!drag_) return;
  const auto verb = drag_->started ? dragged(*drag_) : std::nullopt;
  drag_.reset();
  shown_.reset();
  if (verb)
    act(leave_copy ? with_copy(*verb) : *verb, true);
  else
    emit changed();
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
  if (other)
    for (const PartId id : other->in_tree_order())
      if (other->part(id).mesh && std::any_of(store_.picked().begin(), store_.picked().end(),
                                              [&](PartId p) { return is_within(*other, id, p); }))
        marks.ghosts.emplace_back(id, world_of(*other, id));
  return marks;
}

}  // namespace tack
