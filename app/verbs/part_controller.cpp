#include "app/verbs/part_controller.h"

#include <QApplication>
#include <QColorDialog>

#include "core/verbs/blanks.h"

namespace tack {
namespace {

Blank fit_blank(std::size_t place) {
  return static_cast<Blank>(static_cast<int>(Blank::Fit1) + static_cast<int>(place));
}

bool is_fit(Blank blank) { return blank >= Blank::Fit1 && blank <= Blank::Fit3; }

}  // namespace

void PartController::begin(const Verb& verb, int places) {
  end_sentence();
  draft_ = verb;
  if (std::holds_alternative<FitBox>(verb))
    collect(places);
  else
    asked_ = Blank::At;
  emit changed();
}

void PartController::collect(int places) {
  wanted_ = places;
  collected_.clear();
  asked_ = Blank::Fit1;
}

Sentence PartController::sentence() const {
  if (wanted_ > 0) {
    // The places clicked so far, and those still to come.
    const std::optional<Verb>& verb = done_ ? done_ : draft_;
    const Scene& scene = store_.scene();
    Sentence s{{"Make the box of "}, {names_of(scene, std::get<FitBox>(*verb).what), Blank::What}, {" fit to "}};
    constexpr const char* kWaiting[] = {"a place", "x towards a place", "a third place in the plane"};
    for (std::size_t i = 0; i < static_cast<std::size_t>(wanted_); ++i) {
      if (i > 0) s.push_back({", "});
      std::optional<TackAddress> place;
      if (i < collected_.size()) place = collected_[i];
      if (i == collected_.size() && hovered_) place = hovered_->address;
      s.push_back(tack_word(scene, place, fit_blank(i), wanted_ == 1 ? "an edge or face" : kWaiting[i]));
    }
    s.push_back({"."});
    return s;
  }
  if (draft_ && asked_ == Blank::At) {
    Verb verb = *draft_;
    if (auto* group = std::get_if<Group>(&verb); group && hovered_) group->at = about_place(hovered_->address);
    if (auto* keep = std::get_if<Keep>(&verb); keep && hovered_) keep->at = hovered_->address;
    if (auto* guide = std::get_if<AddGuide>(&verb); guide && hovered_) guide->at = hovered_->address;
    return tack::sentence(verb, store_.scene(), Tense::Present, store_.unit());
  }
  return ActController::sentence();
}

QString PartController::hint() const {
  if (asked_ == Blank::Axes) return tr("Click the part whose own axes shall be used.");
  if (asked_ == Blank::What) return tr("Click the part that this step shall be about instead.");
  if (asked_ == Blank::Parent) return tr("Click the part that shall be the parent.");
  const std::optional<Verb>& verb = done_ ? done_ : draft_;
  if (asked_ == Blank::At && verb && std::holds_alternative<Keep>(*verb))
    return tr("Click the place that shall be kept on its part, by a name. B: what lies behind.");
  if (asked_ == Blank::At && verb && std::holds_alternative<AddGuide>(*verb))
    return tr("Click the place that the guide goes through: a line along its direction, a plane across it.");
  if (asked_ == Blank::At) return tr("Click the place where the group's pivot shall stand. B: what lies behind.");
  if (wanted_ == 1) return tr("Click an edge or a face: the box is turned along it.");
  if (asked_ == Blank::Fit1) return tr("Click the first place: the box is measured from it.");
  if (asked_ == Blank::Fit2) return tr("Click the place that its x points to.");
  if (asked_ == Blank::Fit3) return tr("Click a third place: the three give the plane of x and y.");
  if (done_) return tr("Done. Click a blank to correct it.");
  return {};
}

QStringList PartController::choices(Blank blank) const {
  if (!done_) return {};
  if (blank == Blank::Axes) return axes_choices();
  if (blank == Blank::At && std::holds_alternative<Group>(*done_)) return about_choices().mid(1);
  if (blank == Blank::Parent) return {tr("at the top of the tree"), tr("under a part (click it)")};
  if (blank == Blank::Fit1)
    return {tr("the tightest there is"), tr("an edge or face (click it)"), tr("three places (click them)")};
  QStringList list;
  for (const std::string& words : choices_in(*done_, blank)) list << QString::fromStdString(words);
  return list;
}

void PartController::choose(Blank blank, int index) {
  if (!done_ || index < 0) return;
  if (blank == Blank::Axes) return use_axes(index);
  if (blank == Blank::At) {
    if (index + 1 >= kAboutPlace) return ActController::wait_for(Blank::At);
    Group group = std::get<Group>(*done_);
    group.at = about_choice(index + 1);
    return correct(group);
  }
  if (blank == Blank::Parent) {
    if (index == 1) return ActController::wait_for(Blank::Parent);
    Reparent reparent = std::get<Reparent>(*done_);
    reparent.to = kNoPart;
    return correct(reparent);
  }
  if (is_fit(blank)) {
    FitBox fit = std::get<FitBox>(*done_);
    fit.to.clear();
    if (index == 0) return correct(fit);
    collect(index == 1 ? 1 : 3);
    emit changed();
    return;
  }
  if (const auto verb = with_choice(*done_, blank, static_cast<std::size_t>(index))) correct(*verb);
}

void PartController::wait_for(Blank blank) {
  if (blank == Blank::Colour) return ask_colour();
  if (blank == Blank::What && !done_) return;  // a draft is about what is picked
  ActController::wait_for(blank);
}

void PartController::ask_colour() {
  Paint paint = std::get<Paint>(*done_);
  const QColor chosen = QColorDialog::getColor(QColor::fromRgbF(paint.colour.r, paint.colour.g, paint.colour.b),
                                               QApplication::activeWindow(), tr("Colour"));
  if (!chosen.isValid() || !done_) return;
  paint.colour = {float(chosen.redF()), float(chosen.greenF()), float(chosen.blueF()), 1};
  correct(paint);
}

std::optional<EntryError> PartController::check_words(Blank blank, const QString& text) const {
  if (blank != Blank::Name) return ActController::check_words(blank, text);
  if (!text.trimmed().isEmpty()) return std::nullopt;
  return EntryError{0, 1, tr("A name is needed.").toStdString()};
}

bool PartController::enter(Blank blank, const QString& text, double value) {
  if (blank != Blank::Name) return ActController::enter(blank, text, value);
  const auto verb = done_ ? with_text(*done_, blank, text.toStdString()) : std::nullopt;
  if (!verb) return false;
  begin_correction();
  return act(*verb, false);
}

bool PartController::step_back() {
  if (!collected_.empty()) {
    collected_.pop_back();
    asked_ = fit_blank(collected_.size());
    emit changed();
    return true;
  }
  if (draft_ || wanted_ > 0) {
    if (done_)
      wanted_ = 0, asked_.reset();
    else
      end_sentence();
    emit changed();
    return true;
  }
  return ActController::step_back();
}

void PartController::end_sentence() {
  draft_.reset();
  collected_.clear();
  wanted_ = 0;
  ActController::end_sentence();
}

std::vector<PartId> PartController::moving() const {
  return done_ ? parts_of(*done_, store_.scene()) : store_.picked();
}

void PartController::finish(const Verb& verb) {
  if (done_) return correct(verb);
  draft_.reset();
  act(verb, true);
}

void PartController::take_place(Blank blank, const TackAddress& place) {
  const std::optional<Verb> verb = done_ ? done_ : draft_;
  if (!verb) return;
  if (const auto* keep = std::get_if<Keep>(&*verb); keep && blank == Blank::At) {
    Keep kept = *keep;
    kept.at = place;
    // A place of space is kept on the part that is picked.
    if (!is_on_part(place) && store_.picked().size() == 1) kept.part = store_.picked().front();
    const bool fresh = !done_;
    finish(kept);
    if (fresh && done_) emit name_wanted();
    return;
  }
  if (const auto* guide = std::get_if<AddGuide>(&*verb); guide && blank == Blank::At) {
    AddGuide laid = *guide;
    laid.at = place;
    return finish(laid);
  }
  if (blank == Blank::At) {
    Group group = std::get<Group>(*verb);
    group.at = about_place(place);
    return finish(group);
  }
  if (!is_fit(blank)) return;
  FitBox fit = std::get<FitBox>(*verb);
  if (wanted_ == 0) {
    fit.to[static_cast<std::size_t>(blank) - static_cast<std::size_t>(Blank::Fit1)] = place;
    return finish(fit);
  }
  collected_.push_back(place);
  if (collected_.size() < static_cast<std::size_t>(wanted_)) {
    asked_ = fit_blank(collected_.size());
    return;
  }
  fit.to = std::exchange(collected_, {});
  wanted_ = 0;
  finish(fit);
}

void PartController::take_like(PartId part) {
  asked_.reset();
  if (!done_ || !std::holds_alternative<Reparent>(*done_)) return;
  Reparent reparent = std::get<Reparent>(*done_);
  reparent.to = part;
  correct(reparent);
}

}  // namespace tack
