#include "app/verbs/verbs.h"
#include "core/verbs/blanks.h"
#include "core/verbs/meet_motion.h"

namespace tack {

namespace {
// Whether a meeting may leave something, which is then said.
bool may_remain(const Meet& meet) { return !meet.more.empty() || meet.hold || meet.along != kAllAxes; }

// What is left belongs to what was done; what may be added comes behind it.
void add_before_offers(Sentence& sentence, const std::string& words) {
  const auto offer = std::find_if(sentence.begin(), sentence.end(), [](const Word& w) { return w.offer; });
  sentence.insert(offer, {"  " + words});
}
}  // namespace

MeetController::MeetController(Store& store) : PairController(store) {}

std::optional<Verb> MeetController::pending() const {
  Meet meet = next_;
  meet.tie = !meet.hold && ties_.value_or(store_.remembers());
  meet.what = store_.picked();
  meet.from = from_;
  meet.to = to_;
  return meet;
}

const Scene& MeetController::tried_in() const { return row_ ? store_.scene() : PairController::tried_in(); }

void MeetController::note_modifiers(Qt::KeyboardModifiers modifiers) {
  copies_ = modifiers & Qt::ControlModifier;
  stands_ = modifiers & Qt::ShiftModifier;
}

std::optional<TackAddress> MeetController::base() const {
  const std::vector<PartId> what = moving();
  if (what.empty()) return std::nullopt;
  const bool mesh = store_.scene().part(what.front()).mesh != nullptr;
  return TackAddress{mesh ? TackKind::BoxPoint : TackKind::TreeBoxPoint, what.front(), 0, {0.5, 0.5, 0}};
}

bool MeetController::press(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) {
  if (row_ && asked_ == Blank::To && caught) return next_of_row(caught->address);
  // With something picked, Shift-click is a To at once: the part's own base is its From.
  const bool picked_stands = (modifiers & Qt::ShiftModifier) && caught && !asked_ && !from_ && !done_ && base() &&
                             !moves_along(caught->address.part);
  if (picked_stands) from_ = base();
  return PairController::press(caught, modifiers);
}

bool MeetController::finish() {
  if (stands_ && !done_ && base()) {
    from_ = base();
    next_.facing =
        find_tack(store_.scene(), *to_).map([](const Tack& t) { return t.direction.has_value(); }).value_or(false)
            ? Facing::Facing
            : Facing::AsIs;
  }
  if (!done_) next_.leave_copy = copies_;
  stands_ = false;
  if (!PairController::finish()) {
    next_.leave_copy = copies_ = false;
    return false;
  }
  row_ = std::exchange(copies_, false);
  if (row_) asked_ = Blank::To;
  return true;
}

bool MeetController::next_of_row(const TackAddress& to) {
  Meet meet = *done_meet();
  meet.to = to;
  meet.leave_copy = true;
  hovered_.reset();
  // A step of its own, not a correction of the last one.
  done_.reset();
  if (act(meet, true)) {
    row_ = true;
    asked_ = Blank::To;
  }
  emit changed();
  return true;
}

const Scene* MeetController::scene_after() const {
  if (preview_) return &*preview_;
  return done_ ? &store_.scene() : nullptr;
}

Sentence MeetController::sentence() const {
  if (!done_) {
    Meet meet = std::get<Meet>(*pending());
    meet.from = shown_from();
    meet.to = shown_to();
    if (meet.from && meet.to) meet = std::get<Meet>(*with_places(meet, *meet.from, *meet.to));
    Sentence s = tack::sentence(meet, store_.scene(), Tense::Present, store_.unit());
    if (preview_ && may_remain(meet)) add_before_offers(s, remaining_sentence(meet, *preview_, store_.unit()));
    return s;
  }
  const Meet* meet = done_meet();
  if (meet && asked_ && pair_of(*asked_).value_or(0) > 0) {
    // With the pair that is being given, as far as it is there.
    Meet shown = *meet;
    const std::size_t number = *pair_of(*asked_) - 1;
    if (number >= shown.more.size()) shown.more.push_back({from_of_new_, std::nullopt});
    MeetPair& pair = shown.more[number];
    if (hovered_) (is_from(*asked_) ? pair.from : pair.to) = hovered_->address;
    Sentence s = tack::sentence(shown, scene_before(), Tense::Past, store_.unit());
    if (preview_) add_before_offers(s, remaining_sentence(shown, *preview_, store_.unit()));
    return s;
  }
  Sentence s = ActController::sentence();
  // What the places do not reach is said, never left to be found out.
  if (meet && !meet->hold && meet->more.size() + 1 < kMostPairs) {
    s.push_back({" · ", Blank::None, false, true});
    s.push_back({"add another pair", Blank::Another, false, true});
  }
  if (meet && may_remain(*meet) && scene_after())
    add_before_offers(s, remaining_sentence(*meet, *scene_after(), store_.unit()));
  return s;
}

QString MeetController::hint() const {
  if (asked_ == Blank::Axes) return tr("Click the part whose own axes shall be used.");
  if (asked_ == Blank::Hold) return tr("Click the place that stays: what moves turns about it until From looks at To.");
  if (waiting() == Blank::What) return tr("Click the part that this step shall bring instead.");
  if (asked_ && asked_ != Blank::From && is_from(*asked_))
    return tr("Click another place on what moves, for pair %1.").arg(*pair_of(*asked_) + 1);
  if (asked_ && asked_ != Blank::To && is_to(*asked_))
    return tr("Click where that place shall go, for pair %1.").arg(*pair_of(*asked_) + 1);
  if (done_ && !asked_)
    return tr("Done. Type a gap, click a blank to correct it, add another pair, or click the next place.");
  if (row_) return tr("Click the next place of the row: each leaves a linked copy. Esc ends it.");
  if (waiting() == Blank::From)
    return base() ? tr("Click the place on what moves. Shift: stand it on a place by its own base.")
                  : tr("Click the place on what moves. B: what lies behind.");
  if (waiting() == Blank::To)
    return tr("Click where it shall go. X, Y, Z: along these only. Shift: by its own base. Ctrl: leave a copy.");
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
  if (!done_ && !meet.facing && default_matched(store_.scene(), from, to)) meet.matched = true;
  // What moves is settled now: what is picked later does not change this step.
  meet.what = moves(meet, store_.scene());
  return meet;
}

std::optional<Meet> MeetController::with_end(Blank blank, const TackAddress& place) const {
  const auto pair = pair_of(blank);
  if (!done_meet() || !pair || *pair == 0) return std::nullopt;
  Meet meet = *done_meet();
  const std::size_t number = *pair - 1;
  if (number < meet.more.size()) {
    (is_from(blank) ? meet.more[number].from : meet.more[number].to) = place;
    return meet;
  }
  if (is_from(blank) || !from_of_new_) return std::nullopt;
  meet.more.push_back({from_of_new_, place});
  return meet;
}

std::optional<Verb> MeetController::with_hovered(const Caught& caught) const {
  if (!asked_ || asked_ == Blank::From || asked_ == Blank::To || !pair_of(*asked_))
    return PairController::with_hovered(caught);
  const auto meet = with_end(*asked_, caught.address);
  return meet ? std::optional<Verb>(*meet) : std::nullopt;
}

void MeetController::take_place(Blank blank, const TackAddress& place) {
  if (blank == Blank::Hold) {
    Meet meet = done_meet() ? *done_meet() : next_;
    meet.hold = place;
    if (done_) return correct(meet);
    next_ = meet;
    return;
  }
  if (!pair_of(blank)) return;
  if (const auto meet = with_end(blank, place)) {
    from_of_new_.reset();
    return correct(*meet);
  }
  // The From of a new pair: now its To waits.
  from_of_new_ = place;
  asked_ = to_blank(*pair_of(blank));
}

void MeetController::wait_for(Blank blank) {
  from_of_new_.reset();
  if (blank == Blank::Another) {
    if (!done_meet()) return;
    blank = from_blank(done_meet()->more.size() + 1);
  }
  PairController::wait_for(blank);
}

bool MeetController::step_back() {
  from_of_new_.reset();
  row_ = false;
  return PairController::step_back();
}

bool MeetController::leaves_out(PartId id) const {
  // A further From lies on what moves.
  if (asked_ && asked_ != Blank::From && is_from(*asked_)) return !moves_along(id);
  return PairController::leaves_out(id);
}

Marks MeetController::marks() const {
  Marks marks = PairController::marks();
  const Scene& scene = preview_ ? *preview_ : store_.scene();
  const auto place = [&](const TackAddress& address) -> std::optional<Marks::Place> {
    const auto tack = find_tack(store_.scene(), address);
    if (!tack) return std::nullopt;
    return Marks::Place{tack->point, QString::fromStdString(tack_words(store_.scene(), address))};
  };
  // While a further pair is given, that pair is what is marked.
  const bool adds = asked_ && pair_of(*asked_) && *pair_of(*asked_) > 0;
  if (adds) {
    const bool from = is_from(*asked_);
    marks.from = from && hovered_ ? place(hovered_->address) : from_of_new_ ? place(*from_of_new_) : std::nullopt;
    marks.to = !from && hovered_ ? place(hovered_->address) : std::nullopt;
  }
  const auto verb = adds && hovered_ ? with_hovered(*hovered_) : std::nullopt;
  Meet meet = verb ? std::get<Meet>(*verb) : done_ ? *done_meet() : std::get<Meet>(*pending());
  if (!done_) meet.from = shown_from(), meet.to = shown_to();
  if (!meet.from || !meet.to || !may_remain(meet)) return marks;
  for (const MeetPair& pair : adds || !done_ ? std::vector<MeetPair>{} : meet.more) {
    const auto from = find_tack(scene, *pair.from), to = find_tack(scene, *pair.to);
    if (from && to) marks.pairs.push_back({from->point, to->point});
  }
  // Before anything is hovered over or done, nothing is known of what will remain.
  if (!preview_ && !done_) return marks;
  const QString words = QString::fromStdString(remaining_words(meet, scene, store_.unit()));
  const bool good = meets_within(meet, scene, kTouch);
  if (marks.meeting) {
    marks.meeting->words = words;
    marks.meeting->tone = good ? Tone::Good : Tone::Apart;
  }
  if (!good) {
    marks.distance = words;
    marks.tone = Tone::Apart;
  }
  return marks;
}

bool MeetController::keep(const Verb& verb) {
  next_ = std::get<Meet>(verb);
  return true;
}

void MeetController::took(const Verb& verb) {
  PairController::took(verb);
  next_ = {};
  ties_.reset();
}

QStringList MeetController::choices(Blank blank) const {
  if (blank == Blank::Axes) return axes_choices();
  QStringList list;
  for (const std::string& choice : choices_in(Meet{}, blank)) list << QString::fromStdString(choice);
  if (done_meet() && pair_of(blank).value_or(0) > 0)
    list = QStringList{tr("another place (click it)"), tr("without this pair")};
  return list;
}

void MeetController::choose(Blank blank, int index) {
  if (blank == Blank::Axes) return use_axes(index);
  if (const auto pair = pair_of(blank).value_or(0); done_meet() && pair > 0) {
    if (index == 0) return wait_for(blank);
    Meet meet = *done_meet();
    if (pair <= meet.more.size()) meet.more.erase(meet.more.begin() + static_cast<std::ptrdiff_t>(pair) - 1);
    return correct(meet);
  }
  if (index < 0) return;
  const auto verb = with_choice(done_meet() ? *done_meet() : next_, blank, static_cast<std::size_t>(index));
  if (!verb) return;
  if (done_) return correct(*verb);
  next_ = std::get<Meet>(*verb);
  if (blank == Blank::Tied) ties_ = next_.tie;
  emit changed();
}

void MeetController::choose_axis(int axis) {
  Meet meet = done_meet() ? *done_meet() : next_;
  if (!meet.more.empty()) return store_.say(tr("Several pairs are not limited to axes."));
  // None chosen is all of them: one alone leaves that axis, a second adds, the same again takes out.
  std::array<bool, 3> chosen = meet.along == kAllAxes ? std::array<bool, 3>{} : meet.along;
  const auto at = static_cast<std::size_t>(axis);
  chosen[at] = !chosen[at];
  meet.along = chosen == std::array<bool, 3>{} ? kAllAxes : chosen;
  meet.axes = store_.axes();
  if (done_) return correct(meet);
  next_ = meet;
  preview_.reset();
  if (hovered_) {
    const auto again = std::exchange(hovered_, std::nullopt);
    hover(again);
  }
  emit changed();
}

void MeetController::end_sentence() {
  if (done_) next_ = {}, ties_.reset();
  from_of_new_.reset();
  row_ = copies_ = stands_ = false;
  PairController::end_sentence();
}

}  // namespace tack
