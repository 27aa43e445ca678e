#include "app/verbs/verbs.h"

namespace tack {
namespace {

int axis_of(Blank blank) { return static_cast<int>(blank) - static_cast<int>(Blank::X); }
Blank blank_of(int axis) { return static_cast<Blank>(static_cast<int>(Blank::X) + axis); }

}  // namespace

MoveController::MoveController(Store& store) : PairController(store) {
  connect(&store, &Store::picked_changed, this, [this] { end_sentence(); });
  connect(&store, &Store::axes_changed, this, [this] { end_sentence(); });
}

Sentence MoveController::sentence() const {
  if (const auto move = dragged()) return tack::sentence(*move, store_.scene(), Tense::Present, store_.unit());
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
  if (drag_) return tr("Type a length, or let go. Shift: increments. Ctrl when letting go: leave a copy.");
  QString axes;
  for (int i = 0; i < 3; ++i)
    if (chosen_[static_cast<std::size_t>(i)]) axes += QString("XYZ").mid(i, 1);
  if (!axes.isEmpty()) return tr("Type a length along %1, or drag.").arg(axes);
  return tr("Drag a ruler, type a length (X, Y, Z choose the axis), or click From.");
}

std::optional<Blank> MoveController::leading() const {
  int only = 0, count = 0;
  for (int i = 0; i < 3; ++i)
    if (chosen_[static_cast<std::size_t>(i)]) only = i, ++count;
  if (drag_ && drag_->handle.kind == Handle::Kind::Ruler)
    for (int i = 0; i < 3; ++i)
      if (drag_->handle.axes[static_cast<std::size_t>(i)]) return blank_of(i);
  return blank_of(count == 1 ? only : 0);
}

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
  return blank == Blank::Axes ? store_.axes_words() : QStringList{};
}

void MoveController::choose(Blank blank, int index) {
  if (blank != Blank::Axes || index < 0) return;
  const auto axes = store_.axes_for(index);
  if (!axes) return;
  if (finished_ && !(done_.from && done_.to)) {
    Move move = done_;
    move.axes = *axes;
    if (store_.amend(move)) done_ = move;
    emit changed();
    return;
  }
  store_.set_axes(*axes);
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
  if (auto in_drag = dragged()) {
    // Typed before the drag was let go: it ends with exactly this.
    in_drag->by = {};
    in_drag->by[static_cast<std::size_t>(axis_of(blank))] = Amount{value, text.toStdString(), store_.unit()};
    cancel_drag();
    if (!store_.perform(*in_drag)) return false;
    done_ = *in_drag;
    set_finished(true, true);
    emit changed();
    return true;
  }
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
  auto& chosen = chosen_[static_cast<std::size_t>(axis)];
  chosen = !chosen;
  if (drag_) drag_to(drag_->view, drag_->at, drag_->steps);
  emit changed();
}

std::array<bool, 3> MoveController::along(const std::array<bool, 3>& of_handle) const {
  if (chosen_[0] || chosen_[1] || chosen_[2]) return chosen_;
  return of_handle;
}

std::vector<Handle> MoveController::handles(const View& view) const {
  const auto& picked = store_.picked();
  if (picked.empty() || waiting()) return {};
  const About at = picked.size() == 1 ? About{} : middle_of_all();
  const auto origin = still_point(at, store_.scene(), picked.front(), picked, AxesKind::World);
  if (!origin) return {};
  return move_handles(view, *origin, true_axes(store_.scene(), picked.front(), store_.axes()));
}

QString MoveController::handle_text(const Handle& handle) const {
  if (handle.kind != Handle::Kind::Ruler) return {};
  return QString("XYZ").mid(handle.axes[0] ? 0 : handle.axes[1] ? 1 : 2, 1);
}

std::optional<Move> MoveController::dragged() const {
  if (!drag_ || !drag_->started) return std::nullopt;
  const Drag& drag = *drag_;
  Move move;
  move.what = store_.picked();
  move.axes = store_.axes();
  const Mat3 frame = true_axes(store_.scene(), move.what.front(), move.axes);
  const bool free = drag.handle.kind == Handle::Kind::Ring;
  const std::array<bool, 3> axes = along(free ? std::array<bool, 3>{true, true, true} : drag.handle.axes);
  int only = -1, count = 0;
  for (int i = 0; i < 3; ++i)
    if (axes[static_cast<std::size_t>(i)]) only = i, ++count;
  std::optional<Vec3> shift;
  if (count == 1) {
    const Vec3& axis = frame.column[static_cast<std::size_t>(only)];
    const auto from = along_axis(drag.view, drag.handle.at, axis, drag.pressed.x(), drag.pressed.y());
    const auto to = along_axis(drag.view, drag.handle.at, axis, drag.at.x(), drag.at.y());
    if (from && to) shift = axis * (*to - *from);
  } else {
    // Two axes: in their plane. All three: across the view.
    Vec3 normal = drag.view.back();
    if (count == 2)
      for (std::size_t i = 0; i < 3; ++i)
        if (!axes[i]) normal = frame.column[i];
    const auto from = on_plane(drag.view, drag.handle.at, normal, drag.pressed.x(), drag.pressed.y());
    const auto to = on_plane(drag.view, drag.handle.at, normal, drag.at.x(), drag.at.y());
    if (from && to) shift = *to - *from;
  }
  if (!shift) return std::nullopt;
  const Increments& inc = store_.increments();
  move.by = lengths_for(move, store_.scene(), *shift, axes, {drag.steps ? inc.length : 0, inc.from_zero});
  return move;
}

bool MoveController::begin_drag(const Handle& handle, const View& view, QPointF at) {
  if (store_.picked().empty()) return false;
  end_sentence();
  drag_ = Drag{handle, at, at, view, false, false};
  return true;
}

void MoveController::drag_to(const View& view, QPointF at, bool steps) {
  if (!drag_) return;
  drag_->view = view;
  drag_->at = at;
  drag_->steps = steps;
  drag_->started = true;
  shown_.reset();
  if (const auto move = dragged())
    if (auto scene = apply(*move, store_.scene())) shown_ = std::make_shared<const Scene>(std::move(*scene));
  emit changed();
}

void MoveController::end_drag(bool leave_copy) {
  auto move = dragged();
  drag_.reset();
  shown_.reset();
  if (move) {
    move->leave_copy = leave_copy;
    if (store_.perform(*move)) {
      done_ = *move;
      set_finished(true, true);
    }
  }
  emit changed();
}

void MoveController::cancel_drag() {
  drag_.reset();
  shown_.reset();
  emit changed();
}

bool MoveController::step_back() {
  if (!drag_) return PairController::step_back();
  cancel_drag();
  return true;
}

Marks MoveController::marks() const {
  Marks marks = PairController::marks();
  const auto move = dragged();
  if (!move || !shown_) return marks;
  marks.shown = shown_;
  const Scene& before = store_.scene();
  for (const PartId id : before.in_tree_order())
    if (before.part(id).mesh &&
        std::any_of(move->what.begin(), move->what.end(), [&](PartId p) { return is_within(before, id, p); }))
      marks.ghosts.emplace_back(id, world_of(before, id));
  // The ruler grows from where the drag began, one stretch for each axis in turn.
  const Mat3 frame = true_axes(before, move->what.front(), move->axes);
  Vec3 at = drag_->handle.at;
  for (int i = 0; i < 3; ++i) {
    const double by = move->by[static_cast<std::size_t>(i)].value;
    if (by == 0) continue;
    const Vec3 to = at + frame.column[static_cast<std::size_t>(i)] * by;
    marks.rulers.push_back({at, to, i, drag_->steps ? store_.increments().length : 0,
                            QString::fromStdString(show_length(by, store_.unit(), 3).text)});
    at = to;
  }
  return marks;
}

void MoveController::end_sentence() {
  correcting_ = false;
  PairController::end_sentence();
}

}  // namespace tack
