#include "app/verbs/verbs.h"

namespace tack {
namespace {

constexpr AxesKind kAxes[] = {AxesKind::World, AxesKind::Parent, AxesKind::Local};

int axis_of(Blank blank) { return static_cast<int>(blank) - static_cast<int>(Blank::X); }
Blank blank_of(int axis) { return static_cast<Blank>(static_cast<int>(Blank::X) + axis); }

}  // namespace

MoveController::MoveController(Store& store) : PairController(store) {
  connect(&store, &Store::picked_changed, this, [this] { end_sentence(); });
  connect(&store, &Store::axes_changed, this, [this] { end_sentence(); });
}

Sentence MoveController::sentence() const {
  if (finished_) return tack::sentence(done_, store_.scene(), Tense::Past, store_.unit());
  Move move;
  move.what = store_.picked();
  move.axes = store_.axes();
  move.from = from_;
  move.to = to_;
  if (hovered_ && waiting() == Blank::From) move.from = hovered_->address;
  if (hovered_ && waiting() == Blank::To) move.to = hovered_->address;
  // A To that is only hovered over leaves the lengths in the sentence: nothing is decided yet.
  return tack::sentence(move, store_.scene(), Tense::Present, store_.unit());
}

QString MoveController::hint() const {
  if (store_.picked().empty()) return tr("Click the part to move.");
  if (waiting() == Blank::From) return tr("Click the place to move from.");
  if (waiting() == Blank::To) return tr("Click the place to move to. B: what lies behind.");
  if (finished_) return tr("Done. Type again to move on; click a blank to correct it.");
  if (axis_) return tr("Type a length along %1.").arg("XYZ"[*axis_]);
  return tr("Type a length (X, Y, Z choose the axis), or click From.");
}

std::optional<Blank> MoveController::leading() const { return blank_of(axis_.value_or(0)); }

std::vector<PartId> MoveController::moving() const {
  if (!store_.picked().empty() || !from_ || from_->kind == TackKind::Point) return store_.picked();
  return {from_->part};
}

std::optional<Scene> MoveController::with(const TackAddress& to) const {
  Move move;
  move.what = moving();
  move.from = from_;
  move.to = to;
  auto scene = apply(move, store_.scene());
  return scene ? std::optional(std::move(*scene)) : std::nullopt;
}

bool MoveController::finish() {
  Move move;
  move.what = finished_ ? done_.what : moving();
  move.from = from_;
  move.to = to_;
  if (!(finished_ ? store_.amend(move) : store_.perform(move))) return false;
  done_ = move;
  set_finished(true, true);
  return true;
}

QStringList MoveController::choices(Blank blank) const {
  QStringList list;
  if (blank == Blank::Axes)
    for (const AxesKind a : kAxes) list << QString::fromUtf8(word_for(a).data(), static_cast<int>(word_for(a).size()));
  return list;
}

void MoveController::choose(Blank blank, int index) {
  if (blank != Blank::Axes || index < 0 || index > 2) return;
  if (finished_ && !(done_.from && done_.to)) {
    Move move = done_;
    move.axes = kAxes[index];
    if (store_.amend(move)) done_ = move;
    emit changed();
    return;
  }
  store_.set_axes(kAxes[index]);
}

Move MoveController::typed_with(Blank blank, const Amount& amount) const {
  Move move;
  if ((correcting_ || by_mouse_) && finished_) {
    move = done_;
    move.from.reset();
    move.to.reset();
  } else {
    move.what = store_.picked();
    move.axes = store_.axes();
  }
  move.by[static_cast<std::size_t>(axis_of(blank))] = amount;
  return move;
}

EntryContext MoveController::context(Blank blank) const {
  const double now = finished_ ? done_.by[static_cast<std::size_t>(axis_of(blank))].value : 0;
  return {EntryKind::Length, store_.unit(), now, reader_of(store_.scene())};
}

bool MoveController::enter(Blank blank, const QString& text, double value) {
  // Clicking a blank of the finished sentence corrects it, and so does typing right after a mouse gesture; any other
  // typed value is a new step, so that "12 Enter 12 Enter" moves twice.
  const Move move = typed_with(blank, {value, text.toStdString(), store_.unit()});
  const bool corrects = finished_ && (correcting_ || by_mouse_);
  if (!(corrects ? store_.amend(move) : store_.perform(move))) {
    preview_.reset();
    emit changed();
    return false;
  }
  done_ = move;
  from_.reset(), to_.reset();
  set_finished(true, false);
  correcting_ = false;
  emit changed();
  return true;
}

void MoveController::preview(Blank blank, std::optional<double> value) {
  preview_.reset();
  if (value) {
    const Record& record = store_.journal().record();
    const bool corrects = (correcting_ || by_mouse_) && finished_ && !record.steps.empty();
    if (auto scene =
            apply(typed_with(blank, {*value, {}}), corrects ? record.before(record.steps.size() - 1) : store_.scene()))
      preview_ = std::move(*scene);
  }
  emit changed();
}

std::optional<Blank> MoveController::next_value(Blank blank) const {
  return axis_of(blank) < 2 ? std::optional(blank_of(axis_of(blank) + 1)) : std::nullopt;
}

void MoveController::begin_correction() { correcting_ = finished_; }

void MoveController::choose_axis(int axis) {
  axis_ = axis_ == axis ? std::nullopt : std::optional(axis);
  emit changed();
}

void MoveController::end_sentence() {
  correcting_ = false;
  PairController::end_sentence();
}

}  // namespace tack
