#include <QLineF>

#include "app/verbs/verbs.h"

namespace tack {

PivotController::PivotController(Store& store) : ActController(store) {}

Pivot PivotController::blank() const {
  Pivot pivot;
  pivot.what = store_.picked();
  pivot.axes = store_.axes();
  return pivot;
}

std::optional<Verb> PivotController::pending() const { return blank(); }

QString PivotController::hint() const {
  if (asked_ == Blank::Axes) return tr("Click the part whose own axes shall be used.");
  if (asked_ == Blank::Turned) return tr("Click an edge, a face or another place to be turned like.");
  if (asked_ == Blank::Like) return tr("Click the part to be turned like.");
  if (store_.picked().empty()) return tr("Click the part whose pivot is to move.");
  if (drag_) return tr("Over a corner, a middle or the centre of the box it holds. Let go to put it there.");
  if (done_) return tr("Done: nothing but the pivot moved. Click another place, or type its numbers.");
  return tr("Click a place, drag the ring over the box, or type X, Y, Z.");
}

std::optional<Blank> PivotController::waiting() const {
  if (asked_) return asked_;
  return store_.picked().empty() || done_ ? std::nullopt : std::optional(Blank::At);
}

bool PivotController::catches() const { return waiting() && !wants_part(); }

bool PivotController::press(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) {
  if (done_ && !asked_) end_sentence();
  // A click on one of the picked parts' places is the pivot's new place; a click beside everything picks.
  if (!asked_ && caught && waiting() == Blank::At) asked_ = Blank::At;
  return ActController::press(caught, modifiers);
}

std::vector<Handle> PivotController::handles(const View& view) const {
  if (store_.picked().empty() || asked_) return {};
  const Scene& scene = store_.scene();
  std::vector<Handle> handles;
  if (const auto box = pad_box(scene, store_.picked()))
    for (Handle& pad : thinned(view, scale_handles(box->from_fractions, box->flat), 14))
      handles.push_back(std::move(pad));
  if (store_.picked().size() > 1) return handles;
  const auto pivot = find_tack(scene, {TackKind::Pivot, store_.picked().front(), 0, {}});
  if (pivot) handles.push_back(ring_handle(view, pivot->point));
  return handles;
}

Marks PivotController::marks() const {
  Marks marks = ActController::marks();
  if (store_.picked().empty()) return marks;
  if (const auto box = pad_box(marks.shown ? *marks.shown : store_.scene(), store_.picked()))
    marks.box = box_edges(box->from_fractions);
  return marks;
}

std::optional<Verb> PivotController::dragged(const Drag& drag) const {
  Pivot pivot = blank();
  // One part: of its own box, or of everything below it; several: of the box of all.
  const bool one = topmost(store_.scene(), store_.picked()).size() == 1;
  const auto at_fraction = [&](const Vec3& fraction) {
    pivot.at = one ? bottom() : middle_of_all();
    pivot.at->fraction = fraction;
    pivot.axes = one ? AxesKind::Local : AxesKind::World;
    return Verb(pivot);
  };
  // A pad that is pressed is a place of its own.
  if (drag.handle.kind == Handle::Kind::Pad) return at_fraction(drag.handle.fraction);
  if (const auto box = pad_box(store_.scene(), store_.picked())) {
    constexpr double kHolds = 12;
    double best = kHolds;
    std::optional<Vec3> fraction;
    for (int n = 0; n < 27; ++n) {
      const int x = n % 3, y = n / 3 % 3, z = n / 9;
      const Vec3 f{x * 0.5, y * 0.5, z * 0.5};
      const auto px = drag.view.project(box->from_fractions * f);
      if (!px) continue;
      if (const double off = QLineF(drag.at, QPointF(px->x, px->y)).length(); off < best) best = off, fraction = f;
    }
    if (fraction) return at_fraction(*fraction);
  }
  const auto to = on_plane(drag.view, drag.handle.at, drag.view.back(), drag.at.x(), drag.at.y());
  if (!to) return std::nullopt;
  pivot.at = about_place({TackKind::Point, kNoPart, 0, *to});
  return pivot;
}

void PivotController::add_gauges(const Drag&, Marks& marks) const {
  if (!marks.shown || store_.picked().empty()) return;
  if (const auto pivot = find_tack(*marks.shown, {TackKind::Pivot, store_.picked().front(), 0, {}}))
    marks.still = Marks::Place{pivot->point, tr("pivot")};
}

QStringList PivotController::choices(Blank blank) const {
  if (blank == Blank::Axes) return axes_choices();
  if (blank == Blank::At) {
    QStringList list = about_choices();
    list[0] = tr("its centre of mass");
    return list << tr("a point of its box, in fractions") << tr("a point of the box of all, in fractions");
  }
  if (blank == Blank::Turned)
    return {tr("as it is"), tr("like the world"), tr("like its parent"), tr("like a part (click it)"),
            tr("like an edge or face (click it)")};
  return {};
}

void PivotController::choose(Blank blank, int index) {
  if (index < 0) return;
  if (blank == Blank::Axes) return use_axes(index);
  Pivot pivot = done_ ? std::get<Pivot>(*done_) : this->blank();
  if (blank == Blank::At) {
    if (index == kAboutPlace) return wait_for(Blank::At);
    if (index > kAboutPlace) {
      // Its middle, until the fractions are typed: they are blanks of the sentence.
      pivot.at = index == kAboutPlace + 1 ? bottom() : middle_of_all();
      pivot.at->fraction = {0.5, 0.5, 0.5};
      pivot.axes = index == kAboutPlace + 1 ? Axes(AxesKind::Local) : store_.axes();
      done_ ? correct(pivot) : void(act(pivot, true));
      return;
    }
    pivot.at = index == 0 ? About{About::Kind::Own, {TackKind::Mass, kNoPart, 0, {}}, {}} : about_choice(index);
  } else if (blank == Blank::Turned) {
    if (index == 3) return wait_for(Blank::Like);
    if (index == 4) return wait_for(Blank::Turned);
    pivot.turned.kind = index == 1 ? Turned::Kind::World : index == 2 ? Turned::Kind::Parent : Turned::Kind::AsItIs;
    if (!done_ && index == 0) return;
  }
  done_ ? correct(pivot) : void(act(pivot, true));
}

void PivotController::take_place(Blank blank, const TackAddress& place) {
  Pivot pivot = done_ ? std::get<Pivot>(*done_) : this->blank();
  if (blank == Blank::Turned)
    pivot.turned = {Turned::Kind::Tack, kNoPart, place};
  else
    pivot.at = about_place(place);
  done_ ? correct(pivot) : void(act(pivot, true));
}

void PivotController::take_like(PartId part) {
  asked_.reset();
  Pivot pivot = done_ ? std::get<Pivot>(*done_) : this->blank();
  pivot.turned = {Turned::Kind::Part, part, std::nullopt};
  done_ ? correct(pivot) : void(act(pivot, true));
}

double PivotController::value_now(Blank blank) const {
  const int axis = static_cast<int>(blank) - static_cast<int>(Blank::X);
  if (store_.picked().empty() || axis < 0 || axis > 2) return ActController::value_now(blank);
  return numbers_in(store_.scene(), store_.picked().front(), store_.axes()).position[axis];
}

void PivotController::choose_axis(int axis) {
  axis_ = axis;
  emit changed();
}

}  // namespace tack
