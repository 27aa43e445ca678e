#include "app/verbs/verbs.h"

namespace tack {
namespace {

constexpr Facing kFacings[] = {Facing::AsIs, Facing::Facing, Facing::Same};

}  // namespace

MeetController::MeetController(Store& store) : PairController(store) {
  connect(&store, &Store::picked_changed, this, [this] { end_sentence(); });
}

Meet MeetController::pending() const {
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
  const Scene& scene = store_.scene();
  if (finished_) return tack::sentence(done_, scene, Tense::Past, store_.unit());
  Meet meet = pending();
  if (hovered_ && waiting() == Blank::From) meet.from = hovered_->address;
  if (hovered_ && waiting() == Blank::To) meet.to = hovered_->address;
  return tack::sentence(meet, scene, Tense::Present, store_.unit());
}

QString MeetController::hint() const {
  if (finished_ && !asked_) return tr("Done. Type a gap, click a blank to correct it, or click the next place.");
  if (waiting() == Blank::From) return tr("Click the place on what moves. B: what lies behind.");
  if (waiting() == Blank::To) return tr("Click where it shall go. B: what lies behind.");
  return {};
}

std::vector<PartId> MeetController::moving() const {
  return from_ ? moves(pending(), store_.scene()) : store_.picked();
}

std::optional<Scene> MeetController::with(const TackAddress& to) const {
  Meet meet = pending();
  meet.to = to;
  auto scene = apply(meet, store_.scene());
  return scene ? std::optional(std::move(*scene)) : std::nullopt;
}

bool MeetController::finish() {
  if (finished_) {
    Meet meet = done_;
    meet.from = from_;
    meet.to = to_;
    return redo_with(meet);
  }
  const Meet meet = pending();
  if (!store_.perform(meet)) return false;
  done_ = meet;
  done_.what = moves(meet, store_.scene());
  gap_ = roll_ = {};
  set_finished(true, true);
  return true;
}

bool MeetController::redo_with(const Meet& meet) {
  if (!store_.amend(meet)) {
    from_ = done_.from, to_ = done_.to;
    set_finished(true, by_mouse_);
    emit changed();
    return false;
  }
  done_ = meet;
  emit changed();
  return true;
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
  if (finished_) {
    Meet meet = done_;
    meet.facing = kFacings[index];
    redo_with(meet);
    return;
  }
  facing_ = kFacings[index];
  emit changed();
}

EntryContext MeetController::context(Blank blank) const {
  const Amount& now = blank == Blank::Roll ? (finished_ ? done_.roll : roll_) : (finished_ ? done_.gap : gap_);
  return {blank == Blank::Roll ? EntryKind::Angle : EntryKind::Length, store_.unit(), now.value,
          reader_of(store_.scene())};
}

bool MeetController::enter(Blank blank, const QString& text, double value) {
  const Amount amount{value, text.toStdString(), store_.unit()};
  if (finished_) {
    Meet meet = done_;
    (blank == Blank::Roll ? meet.roll : meet.gap) = amount;
    return redo_with(meet);
  }
  (blank == Blank::Roll ? roll_ : gap_) = amount;
  emit changed();
  return true;
}

void MeetController::preview(Blank blank, std::optional<double> value) {
  preview_.reset();
  if (finished_ && value) {
    Meet meet = done_;
    (blank == Blank::Roll ? meet.roll : meet.gap) = {*value, {}};
    const Record& record = store_.journal().record();
    if (!record.steps.empty())
      if (auto scene = apply(meet, record.before(record.steps.size() - 1))) preview_ = std::move(*scene);
  }
  emit changed();
}

std::optional<Blank> MeetController::next_value(Blank blank) const {
  const Facing facing = finished_ ? done_.facing.value_or(Facing::AsIs) : facing_.value_or(Facing::AsIs);
  if (blank == Blank::Gap && facing != Facing::AsIs) return Blank::Roll;
  return std::nullopt;
}

void MeetController::end_sentence() {
  if (finished_) facing_.reset();
  PairController::end_sentence();
}

}  // namespace tack
