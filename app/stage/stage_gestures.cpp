// What the mouse does on the stage; declared in stage.h.
#include <QDragEnterEvent>
#include <QGuiApplication>
#include <QMimeData>
#include <QMouseEvent>
#include <QPolygonF>
#include <QUrl>

#include "app/panels/colours_panel.h"
#include "app/panels/shelf_panel.h"
#include "app/stage/overlay.h"
#include "app/stage/stage.h"
#include "app/text.h"

namespace tack {
namespace {

constexpr double kDragPixels = 4;
// A hand that wanders by so little after B still means what the list has chosen.
constexpr double kSamePlacePixels = 8;
constexpr double kDegreesPerPixel = 0.35;

}  // namespace

// A handle stops level with points, not with whatever edge or surface the pointer happens to pass over. Increments that
// were asked for with Shift are what is wanted then.
std::optional<Caught> Stage::caught_by_drag(QPointF position, Qt::KeyboardModifiers modifiers) {
  const Drafting& draft = bench_.draft();
  if (bench_.catches_nothing()) return std::nullopt;
  if (draft.grips_place()) return caught_at(position);
  if (!draft.handle_catches() || (steps_now(modifiers) && modifiers & Qt::ShiftModifier)) return std::nullopt;
  CatchOptions options = catch_options();
  for (const CatchKind kind : {CatchKind::Edge, CatchKind::Face, CatchKind::Axis, CatchKind::Grid})
    options.kinds.set(kind, false);
  ++catches_;
  const auto caught = best_tack(catch_scene(), view(), position.x(), position.y(), options);
  // The middle of a large face is caught from anywhere on it: here only what is under the pointer itself is meant.
  const auto at = caught ? view().project(caught->point) : std::nullopt;
  const bool near = at && std::hypot(at->x - position.x(), at->y - position.y()) <= options.radius;
  return near ? caught : std::nullopt;
}

void Stage::drag_on(QPointF at, Qt::KeyboardModifiers modifiers) {
  bench_.draft().drag_to(view(), at, caught_by_drag(at, modifiers), steps_now(modifiers), bench_.sizes_evenly(),
                         modifiers & Qt::ControlModifier);
}

// Where one kind of place alone is wanted the points of boxes give way to it.
std::vector<Handle> Stage::handles_offered(const View& view, int pane) const {
  if (const auto elevation = elevation_of(pane)) return elevation_handles(*elevation, view);
  std::vector<Handle> handles = bench_.draft().handles(view);
  if (bench_.only() && bench_.draft().takes_points())
    std::erase_if(handles, [](const Handle& h) { return h.kind == Handle::Kind::Pad; });
  return handles;
}

void Stage::hover_at(QPointF position) {
  Drafting& draft = bench_.draft();
  if (draft.brushes()) {
    last_at_ = position;
    return (void)brushed_at(position);
  }
  const int letter = hides_aids_ || elevation_of(active_) ? -1 : Overlay::axis_letter_at(view(), position);
  if (letter != hovered_letter_) {
    hovered_letter_ = letter;
    setCursor(letter >= 0 ? Qt::PointingHandCursor : picks() ? Qt::ArrowCursor : Qt::CrossCursor);
    overlay_->update();
  }
  handles_ = handles_offered(view(), active_);
  const int handle = handle_at(view(), handles_, position.x(), position.y());
  if (handle != hovered_handle_) {
    hovered_handle_ = handle;
    overlay_->update();
  }
  if (handle >= 0 && !cycling_) {
    last_at_ = position;
    return draft.hover_point(handles_[static_cast<std::size_t>(handle)]) ? void() : draft.hover(std::nullopt);
  }
  if (cycling_ && QLineF(position, last_at_).length() > kSamePlacePixels) cycling_ = false;
  if (cycling_) return;
  last_at_ = position;
  // On the way to a point of the box that is shown, what lies before or behind it does not take its place.
  constexpr double kAround = 12, kAway = 24;
  QPolygonF points;
  for (const Handle& h : handles_)
    if (const auto px = h.kind == Handle::Kind::Pad && h.box == 1 ? view().project(h.at) : std::nullopt)
      points << QPointF(px->x, px->y);
  const bool inside = points.boundingRect().adjusted(-kAround, -kAround, kAround, kAround).contains(position);
  // And what lies behind a point that has just been clicked was not pointed at.
  const bool away = QLineF(position, pressed_at_).length() > kAway;
  hover_element(position);
  draft.hover(draft.catches() || bench_.asks_place() ? caught_at(position) : std::nullopt,
              points.isEmpty() || (!inside && away));
}

Vec3 Stage::point_under(QPointF position) const {
  const View now = view();
  const CatchScene& scene = const_cast<Stage*>(this)->catch_scene();
  // Beside a part by a few pixels still means the part; in the open the picture moves as far away as its middle.
  constexpr double kNear = 6;
  for (const auto& [x, y] : {std::pair{0.0, 0.0}, {kNear, 0.0}, {-kNear, 0.0}, {0.0, kNear}, {0.0, -kNear}})
    if (const auto struck = strike(scene, now, position.x() + x, position.y() + y))
      return now.point_level_with(struck->point, position.x(), position.y());
  return now.point_level_with(camera_.target, position.x(), position.y());
}

void Stage::mousePressEvent(QMouseEvent* event) {
  if (gesture_ != Gesture::None) return;
  if (const auto divider = divider_at(event->position()); divider && event->button() == Qt::LeftButton) {
    gesture_ = Gesture::Divide;
    divided_ = *divider;
    button_ = event->button();
    return;
  }
  pressed_at_ = into_pane(event->position());
  dragged_ = false;
  button_ = event->button();
  Drafting& draft = bench_.draft();
  if (event->button() == Qt::LeftButton) {
    const bool letters = !hides_aids_ && !elevation_of(active_);
    if (const int letter = letters ? Overlay::axis_letter_at(view(), pressed_at_) : -1; letter >= 0) {
      // Along the axis; when it is looked along already, from the other side.
      constexpr Side kAlong[] = {Side::Right, Side::Front, Side::Top}, kBack[] = {Side::Left, Side::Back, Side::Bottom};
      const Camera along = turned_to(camera_, kAlong[letter]);
      const bool there = along.turn == camera_.turn && along.tilt == camera_.tilt && camera_.roll == 0;
      last_at_ = pressed_at_;
      return turn_to(there ? kBack[letter] : kAlong[letter]);
    }
    bench_.note_use();
    bench_.leave_entry();
    if (bench_.asks_place()) {
      const auto caught = caught_at(pressed_at_);
      gesture_ = Gesture::Tack;
      last_at_ = pressed_at_;
      if (!caught) return store_.say("There is no place to catch there.", Tone::Wrong);
      return bench_.give_place(*caught);
    }
    if (draft.wants_part()) {
      if (const PartId part = part_at(pressed_at_); part != kNoPart)
        draft.take_part(part);
      else
        store_.say("There is no part there.", Tone::Wrong);
      gesture_ = Gesture::Tack;
      last_at_ = pressed_at_;
      return;
    }
    if (draft.brushes()) {
      gesture_ = Gesture::Stroke;
      last_at_ = pressed_at_;
      const auto struck = brushed_at(pressed_at_);
      if (!struck) return store_.say("There is no surface to brush there.", Tone::Wrong);
      return draft.begin_stroke(*struck);
    }
    handles_ = handles_offered(view(), active_);
    if (overlay_->handle_letter_at(active_, pressed_at_)) {
      // Own axes and World change places: the letters at the ends of rulers and arcs say whose they are.
      last_at_ = pressed_at_;
      const bool world = store_.axes().kind == AxesKind::World;
      store_.set_axes(world ? AxesKind::Local : AxesKind::World);
      return store_.say(world ? "Along the part's own axes." : "Along World's axes.");
    }
    if (const int number = handle_at(view(), handles_, pressed_at_.x(), pressed_at_.y()); number >= 0) {
      // A copy: what the verb says when a drag begins may offer handles anew.
      const Handle handle = handles_[static_cast<std::size_t>(number)];
      if (handle.kind == Handle::Kind::Value && !draft.drags_values()) {
        last_at_ = pressed_at_;
        const std::size_t axis = handle.axes[0] ? 0 : handle.axes[1] ? 1 : 2;
        return draft.nudges() ? bench_.type_size(axis) : bench_.type_along(axis);
      }
      if (draft.press_point(handle)) {
        gesture_ = Gesture::Tack;
        last_at_ = pressed_at_;
        return;
      }
      const auto as = elevation_of(active_) ? std::optional(draft.begins(id_of<Rotate>)) : std::nullopt;
      if (draft.begin_drag(handle, view(), pressed_at_, as)) {
        gesture_ = Gesture::Handle;
        held_handle_ = handle;
        last_at_ = pressed_at_;
        return;
      }
    }
    if (press_in_elevation()) return;
    std::optional<Caught> caught;
    if (cycling_ && under_index_ < under_.size() && QLineF(pressed_at_, last_at_).length() <= kSamePlacePixels)
      caught = under_[under_index_];
    else if (draft.catches() || !picks())
      caught = caught_at(pressed_at_);
    cycling_ = false;
    last_at_ = pressed_at_;
    const bool grips = caught && draft.offers_grips();
    const bool names = bench_.names_still() && draft.waiting() == draft.still();
    still_.reset();
    if (draft.press(caught, event->modifiers())) {
      gesture_ = Gesture::Tack;
      if (names && caught) still_ = caught->point;
    } else {
      // A click picks; a drag from a place of what is picked takes hold of that place.
      gesture_ = grips ? Gesture::Grip : Gesture::Pick;
      gripped_ = caught;
    }
  } else if (event->button() == Qt::RightButton) {
    gesture_ = Gesture::Orbit;
    grabbed_ = point_under(pressed_at_);
  } else if (event->button() == Qt::MiddleButton) {
    gesture_ = Gesture::Pan;
    grabbed_ = point_under(pressed_at_);
  }
  last_at_ = pressed_at_;
}

void Stage::mouseMoveEvent(QMouseEvent* event) {
  if (gesture_ == Gesture::Divide) {
    const bool below = divided_ == Elevation::Front;
    return set_strip_width(divided_,
                           qRound(below ? height() - event->position().y() : width() - event->position().x()));
  }
  if (gesture_ == Gesture::None)
    if (const auto divider = divider_at(event->position())) {
      setCursor(*divider == Elevation::Front ? Qt::SplitVCursor : Qt::SplitHCursor);
      hovered_letter_ = -2;  // the cursor is looked at again once the pointer is off the edge
      return;
    }
  const QPointF at = into_pane(event->position()), by = at - last_at_;
  if (gesture_ == Gesture::None) return hover_at(at);
  if (QLineF(at, pressed_at_).length() > kDragPixels) dragged_ = true;
  Drafting& draft = bench_.draft();
  switch (gesture_) {
    case Gesture::Orbit:
      if (!dragged_) break;              // a hand that trembles does not turn the view, and the short list still opens
      if (elevation_of(active_)) break;  // flat it stays
      set_camera(orbited(camera_, -by.x() * kDegreesPerPixel, by.y() * kDegreesPerPixel, grabbed_));
      break;
    case Gesture::Pan: set_camera(panned(camera_, view(), grabbed_, by.x(), by.y())); break;
    case Gesture::Grip:
      // Taken hold of once: after Esc nothing moves until the next press.
      if (dragged_ && gripped_) draft.begin_grip(*std::exchange(gripped_, std::nullopt), view(), pressed_at_);
      [[fallthrough]];
    case Gesture::Elevate:
      if (dragged_ && gesture_ == Gesture::Elevate && held_part_ != kNoPart) elevate();
      [[fallthrough]];
    case Gesture::Handle:
      if (dragged_ && draft.dragging()) drag_on(at, event->modifiers());
      break;
    case Gesture::Tack:
      if (still_ && bench_.names_still()) {
        // An angle means something only once the pointer is off the place itself.
        constexpr double kOff = 14;
        if (QLineF(at, pressed_at_).length() > kOff &&
            draft.begin_about(*std::exchange(still_, std::nullopt), view(), at))
          gesture_ = Gesture::Handle;
        break;
      }
      if (dragged_) hover_at(at);
      break;
    case Gesture::Stroke:
      if (draft.dragging()) draft.stroke_on(brushed_at(at));
      break;
    case Gesture::Pick:
      if (dragged_ && picks()) gesture_ = Gesture::Rectangle;
      break;
    default: break;
  }
  last_at_ = at;
  if (gesture_ == Gesture::Rectangle) overlay_->update();
}

// Only the button that began a gesture ends it: another one that is tapped meanwhile means nothing.
void Stage::mouseReleaseEvent(QMouseEvent* event) {
  if (gesture_ == Gesture::None || event->button() != button_) return;
  const QPointF at = into_pane(event->position());  // while the gesture still holds its pane
  end_gesture(at, event->modifiers());
  last_at_ = at;
  overlay_->update();
}

void Stage::end_gesture(QPointF at, Qt::KeyboardModifiers modifiers) {
  const Gesture gesture = std::exchange(gesture_, Gesture::None);
  const bool add = modifiers & Qt::ControlModifier;
  Drafting& draft = bench_.draft();
  if (gesture == Gesture::Divide) return;
  if (gesture == Gesture::Stroke) {
    if (draft.dragging()) draft.end_drag(false);
    return hover_at(at);
  }
  if (gesture == Gesture::Elevate && !dragged_) {
    pick_at(at, add);
    return hover_at(at);
  }
  if (gesture == Gesture::Handle || gesture == Gesture::Elevate || (gesture == Gesture::Grip && dragged_)) {
    // A value that was only clicked is typed.
    if (gesture == Gesture::Handle && !dragged_ && held_handle_.kind == Handle::Kind::Value && draft.dragging()) {
      draft.cancel_drag();
      if (const BlankId blank = draft.value_blank(held_handle_)) bench_.open_entry(blank);
      return;
    }
    // While picking a click picks, also where a handle lies over the part that is meant.
    if (gesture == Gesture::Handle && !dragged_ && picks() && draft.dragging()) {
      draft.cancel_drag();
      pick_at(at, add);
      return hover_at(at);
    }
    // A press without a drag takes a pad as it is; for rulers and arcs it means nothing.
    if (draft.dragging() && (dragged_ || draft.presses_count())) drag_on(at, modifiers);
    if (draft.dragging()) draft.end_drag(add);
    hover_at(at);
  } else if (gesture == Gesture::Tack) {
    // Let go over a point of a box: as if it had been clicked, too.
    handles_ = handles_offered(view(), active_);
    const int number = dragged_ ? handle_at(view(), handles_, at.x(), at.y()) : -1;
    if (number >= 0 && draft.press_point(Handle(handles_[static_cast<std::size_t>(number)]))) return hover_at(at);
    if (dragged_)
      draft.release(caught_at(at), modifiers);
    else
      hover_at(at);
  } else if ((gesture == Gesture::Pick || gesture == Gesture::Grip) && !dragged_) {
    pick_at(at, add);
  } else if (gesture == Gesture::Rectangle && draft.pick_of() != PickOf::Parts) {
    take_in(QRectF(pressed_at_, at).normalized(), modifiers);
  } else if (gesture == Gesture::Rectangle) {
    const QRectF r = QRectF(pressed_at_, at).normalized();
    auto parts = parts_in_rectangle(catch_scene(), view(), r.left(), r.top(), r.right(), r.bottom(),
                                    modifiers & Qt::ShiftModifier);
    if (add) parts.insert(parts.begin(), store_.picked().begin(), store_.picked().end());
    store_.pick(std::move(parts));
  } else if (gesture == Gesture::Orbit && !dragged_) {
    emit list_asked(at + pane_rect(active_).topLeft());
  }
}

void Stage::pick_at(QPointF at, bool add) {
  if (bench_.draft().pick_of() != PickOf::Parts) {
    const auto element = element_under(at);
    return bench_.draft().take(element ? std::vector{*element} : std::vector<ElementsOf>{},
                               add ? Drafting::Taking::Toggle : Drafting::Taking::Anew);
  }
  const PartId part = part_at(at);
  if (part != kNoPart || !add) store_.pick_one(part, add);
}

PartId Stage::part_at(QPointF at) {
  const auto struck = strike(catch_scene(), view(), at.x(), at.y());
  PartId part = struck ? struck->part : kNoPart;
  // A guide has no surface: one that is near and seen is meant before what lies behind it.
  CatchOptions guides;
  guides.kinds = CatchKinds::only(CatchKind::Guide);
  guides.radius = 5;
  if (const auto guide = best_tack(catch_scene(), view(), at.x(), at.y(), guides); guide && guide->score < kFaceScore)
    part = guide->address.part;
  return part;
}

void Stage::wheelEvent(QWheelEvent* event) {
  const double steps = event->angleDelta().y() / 120.0;
  if (steps == 0) return;
  set_camera(zoomed(camera_, std::pow(0.86, steps), point_under(into_pane(event->position()))));
}

void Stage::leaveEvent(QEvent*) {
  if (gesture_ != Gesture::None || cycling_) return;
  bench_.draft().hover(std::nullopt);
}

void Stage::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls() || !dragged_colour(*event->mimeData()).empty()) event->acceptProposedAction();
}

void Stage::dragMoveEvent(QDragMoveEvent* event) {
  const std::string colour = dragged_colour(*event->mimeData());
  if (colour.empty()) {
    offer_landing(landing_at(event->position()));
    return event->acceptProposedAction();
  }
  const QPointF at = into_pane(event->position());
  const auto struck = strike(catch_scene(), view(), at.x(), at.y());
  offer_colour(colour, struck ? struck->part : kNoPart);
  event->setAccepted(struck.has_value());
}

void Stage::dragLeaveEvent(QDragLeaveEvent*) {
  offer_colour({}, kNoPart);
  if (landing_) store_.say(QString());
  offer_landing(std::nullopt);
}

void Stage::drop_files(const QStringList& files, QPointF position, bool from_shelf) {
  const Landing landing = landing_at(position);
  offer_landing(std::nullopt);
  emit dropped(files, landing.on, landing.at, from_shelf);
}

Stage::Landing Stage::landing_at(QPointF stage_point) {
  const QPointF at = into_pane(stage_point);
  if (const auto caught = caught_at(at))
    return {caught->address, caught->point, label_of(tack_words(store_.scene(), caught->address))};
  const Affine frame = plane_frame(store_.scene(), store_.scene().plane());
  const auto point = on_plane(view(), frame.translation, frame.linear.column[2], at.x(), at.y());
  return {std::nullopt, point ? *point : camera().target, "the plane in use"};
}

// The place is ringed, and named where it becomes another one.
void Stage::offer_landing(std::optional<Landing> landing) {
  if (landing && (!landing_ || landing_->words != landing->words))
    store_.say(QString("Let go: it stands on %1.").arg(landing->words));
  landing_ = std::move(landing);
  overlay_->update();
}

// The part that would get the colour is outlined and named.
void Stage::offer_colour(const std::string& colour, PartId part) {
  if (part == dropped_on_) return;
  dropped_on_ = part;
  items_known_ = false;
  moved();
  if (const Part* on = store_.scene().find(part))
    store_.say(QString("Let go: %1 gets the colour %2.").arg(label_of(on->name), label_of(colour)));
}

void Stage::dropEvent(QDropEvent* event) {
  if (const std::string colour = dragged_colour(*event->mimeData()); !colour.empty()) {
    const PartId part = dropped_on_;
    offer_colour({}, kNoPart);
    event->acceptProposedAction();
    Paint paint;
    paint.what = {part};
    paint.named = colour;
    if (store_.scene().contains(part)) store_.perform(paint);
    return;
  }
  QStringList files;
  for (const QUrl& url : event->mimeData()->urls())
    if (url.isLocalFile()) files << url.toLocalFile();
  event->acceptProposedAction();
  if (files.isEmpty())
    store_.say("What was dropped is not a file on this machine.", Tone::Wrong);
  else
    drop_files(files, event->position(), is_from_shelf(*event->mimeData()));
}

}  // namespace tack
