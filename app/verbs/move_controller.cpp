#include "app/verbs/verbs.h"
#include "core/verbs/blanks.h"

namespace tack {
namespace {

Blank blank_of(int axis) { return static_cast<Blank>(static_cast<int>(Blank::X) + axis); }

}  // namespace

MoveController::MoveController(Store& store) : PairController(store) {}

std::optional<Verb> MoveController::pending() const {
  Move move;
  move.what = store_.picked();
  move.axes = store_.axes();
  move.slide = slide_;
  if (chosen_ != std::array<bool, 3>{}) move.along = chosen_;
  return move;
}

Sentence MoveController::sentence() const {
  if (done_ || (drag_ && drag_->started)) return ActController::sentence();
  Move move = std::get<Move>(*pending());
  move.from = shown_from();
  move.to = shown_to();
  return tack::sentence(move, store_.scene(), Tense::Present, store_.unit());
}

QString MoveController::hint() const {
  if (asked_ == Blank::Axes) return tr("Click the part whose own axes shall be used.");
  if (waiting() == Blank::What) return tr("Click the part that this step shall move instead.");
  if (store_.picked().empty() && !from_ && !asked_) return tr("Click the part to move.");
  if (asked_ == Blank::SlideOn) return tr("Click the edge or face to slide along. B: what lies behind.");
  if (waiting() == Blank::From) return tr("Click the place to move from.");
  if (waiting() == Blank::To) return tr("Click the place to move to. B: what lies behind.");
  if (done_) return tr("Done. Type again to move on; click a blank to correct it.");
  if (drag_ && drag_->grip)
    return tr("Let go over a place: it goes there. X, Y, Z: only along these. Ctrl: leave a copy.");
  if (drag_) return tr("Type a length, or let go. Shift: increments. Ctrl when letting go: leave a copy.");
  QString axes;
  for (int i = 0; i < 3; ++i)
    if (chosen_[static_cast<std::size_t>(i)]) axes += QString("XYZ").mid(i, 1);
  if (!axes.isEmpty()) return tr("Type a length along %1, or drag.").arg(axes);
  return tr("Drag a ruler, or a place of the part to another; or type a length (X, Y, Z choose the axis).");
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
  if (done_) return std::get<Move>(*done_).what;
  if (!store_.picked().empty() || !from_ || !is_on_part(*from_)) return store_.picked();
  return {from_->part};
}

std::optional<Verb> MoveController::with_value(const Verb& base, Blank blank, const Amount& amount) const {
  Move move = std::get<Move>(base);
  // What is typed in a drag is the whole of it, also when it went along two axes.
  if (drag_ && drag_->started) move.by = {};
  return PairController::with_value(move, blank, amount);
}

std::optional<Verb> MoveController::with_places(const Verb& base, const TackAddress& from,
                                                const TackAddress& to) const {
  Move move = std::get<Move>(base);
  move.from = from;
  move.to = to;
  move.by = {};
  if (move.along != kAllAxes) move.slide = {};
  if (move.what.empty() && is_on_part(from)) move.what = {from.part};
  return move;
}

QStringList MoveController::choices(Blank blank) const {
  if (blank == Blank::Axes) return axes_choices();
  QStringList list;
  for (const std::string& choice : choices_in(Move{}, blank)) list << QString::fromStdString(choice);
  return list;
}

void MoveController::choose(Blank blank, int index) {
  if (index < 0) return;
  if (blank == Blank::Axes) return use_axes(index);
  const auto base = done_ ? done_ : pending();
  const auto verb = base ? with_choice(*base, blank, static_cast<std::size_t>(index)) : std::nullopt;
  if (!verb) return;
  if (done_) return correct(*verb);
  const Move& move = std::get<Move>(*verb);
  slide_ = move.slide;
  chosen_ = move.along == kAllAxes ? std::array<bool, 3>{} : move.along;
  emit changed();
}

void MoveController::take_place(Blank blank, const TackAddress& place) {
  if (blank != Blank::SlideOn) return;
  if (!done_) {
    slide_.on = place;
    return;
  }
  Move move = std::get<Move>(*done_);
  move.slide.on = place;
  correct(move);
}

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

std::optional<Verb> MoveController::dragged(const Drag& drag) const {
  // A place that slides follows the pointer along its edge, in its face, along its normal.
  if (drag.grip && slide_.kind != Slide::Kind::Free && chosen_ == std::array<bool, 3>{}) {
    Move sliding = std::get<Move>(*pending());
    sliding.from = drag.grip;
    const auto to = dragged_along(sliding, store_.scene(), drag.view, drag.handle.at, drag.at.x(), drag.at.y());
    if (!to) return std::nullopt;
    return with_places(sliding, *drag.grip, {TackKind::Point, kNoPart, 0, *to});
  }
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

void MoveController::add_gauges(const Drag& drag, Marks& marks) const {
  const auto& verb = drag.verb;
  if (!verb) return;
  // The ruler grows from where the drag began, one stretch for each axis in turn.
  const Move& move = std::get<Move>(*verb);
  const Mat3 frame = true_axes(store_.scene(), move.what.front(), move.axes);
  Vec3 at = drag.handle.at;
  for (int i = 0; i < 3; ++i) {
    const double by = move.by[static_cast<std::size_t>(i)].value;
    if (by == 0) continue;
    const Vec3 to = at + frame.column[static_cast<std::size_t>(i)] * by;
    marks.rulers.push_back({at, to, i, drag.steps ? store_.increments().length : 0,
                            QString::fromStdString(show_length(by, store_.unit(), 3).text)});
    at = to;
  }
}

}  // namespace tack
