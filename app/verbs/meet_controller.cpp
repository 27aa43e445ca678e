#include "app/verbs/verbs.h"

namespace tack {
namespace {

constexpr Facing kFacings[] = {Facing::AsIs, Facing::Facing, Facing::Same};

}  // namespace

MeetController::MeetController(Store& store) : PairController(store) {}

std::optional<Verb> MeetController::pending() const {
  Meet meet;
  meet.what = store_.picked();
  meet.from = from_;
  meet.to = to_;
  meet.facing = facing_;
  meet.gap = gap_;
  meet.roll = roll_;
  return meet;
}

Sentence MeetController::sentence() const {
  if (done_) return ActController::sentence();
  Meet meet = std::get<Meet>(*pending());
  meet.from = shown_from();
  meet.to = shown_to();
  return tack::sentence(meet, store_.scene(), Tense::Present, store_.unit());
}

QString MeetController::hint() const {
  if (waiting() == Blank::What) return tr("Click the part that this step shall bring instead.");
  if (done_ && !asked_) return tr("Done. Type a gap, click a blank to correct it, or click the next place.");
  if (waiting() == Blank::From) return tr("Click the place on what moves. B: what lies behind.");
  if (waiting() == Blank::To) return tr("Click where it shall go. B: what lies behind.");
  return {};
}

std::vector<PartId> MeetController::moving() const {
  const auto verb = done_ ? done_ : pending();
  const Meet& meet = std::get<Meet>(*verb);
  return meet.from ? moves(meet, store_.scene()) : store_.picked();
}

std::optional<Verb> MeetController::with_places(const Verb& base, const TackAddress& from,
                                                const TackAddress& to) const {
  Meet meet = std::get<Meet>(base);
  meet.from = from;
  meet.to = to;
  // What moves is settled now: what is picked later does not change this step.
  meet.what = moves(meet, store_.scene());
  return meet;
}

bool MeetController::keep(const Verb& verb) {
  const Meet& meet = std::get<Meet>(verb);
  gap_ = meet.gap;
  roll_ = meet.roll;
  return true;
}

void MeetController::took(const Verb& verb) {
  PairController::took(verb);
  gap_ = roll_ = {};
}

QStringList MeetController::choices(Blank blank) const {
  QStringList list;
  if (blank == Blank::Facing)
    for (const Facing f : kFacings)
      list << QString::fromUtf8(words_for(f).data(), static_cast<int>(words_for(f).size()));
  return list;
}

void MeetController::choose(Blank blank, int index) {
  if (blank != Blank::Facing || index < 0 || index > 2) return;
  if (done_) {
    Meet meet = std::get<Meet>(*done_);
    meet.facing = kFacings[index];
    return correct(meet);
  }
  facing_ = kFacings[index];
  emit changed();
}

void MeetController::end_sentence() {
  if (done_) facing_.reset();
  PairController::end_sentence();
}

}  // namespace tack
