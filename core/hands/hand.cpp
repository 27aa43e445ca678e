#include "core/hands/hand.h"

#include <fmt/format.h>

#include "core/hands/gliding.h"
#include "core/hands/hand_table.h"
#include "core/hands/pivoting.h"
#include "core/hands/reaching.h"
#include "core/hands/stretching.h"
#include "core/math/degrees.h"
#include "core/verbs/place.h"
#include "core/verbs/words.h"

namespace tack {

std::array<Amount, 3> lengths_for(const Move& move, const Scene& scene, const Vec3& shift, const AxisSet& along,
                                  const Increments& increments, bool steps) {
  std::array<Amount, 3> by;
  if (move.what.empty() || !scene.contains(move.what.front())) return by;
  const PartId id = move.what.front();
  const Affine frame = axes_frame(scene, id, move.axes);
  const auto back = inverse(frame);
  if (!back) return by;
  const Vec3 lengths = back->linear * shift, now = *back * (world_of(scene, id) * scene.part(id).placement.pivot);
  for (int i = 0; i < 3; ++i)
    if (along[static_cast<std::size_t>(i)]) {
      const double free = lengths[i];
      by[static_cast<std::size_t>(i)] = Amount{steps ? increments.length.landed(now[i], free) : free};
    }
  return by;
}

namespace {

std::string letter_of(const Handle& handle) {
  const auto axis = only_axis(handle.axes);
  return axis ? std::string(1, "XYZ"[*axis]) : std::string();
}

std::optional<Affine> box_of(const Scene& scene, const std::vector<PartId>& what) {
  const auto pads = pads_of(scene, what);
  return pads ? std::optional(pads->from_fractions) : std::nullopt;
}

TackAddress open_place(const Vec3& at) { return {TackKind::Point, kNoPart, 0, at}; }
Handle held_place(const Vec3& at) { return {Handle::Kind::Ring, {}, at, {}, {}}; }

// From the place that a handle is over to what has come level or in line with it.
std::optional<std::array<Vec3, 2>> level_line(const Scene& before, const Grip& grip, const Vec3& at) {
  if (!grip.over || grip.place) return std::nullopt;
  const auto to = find_tack(before, *grip.over);
  return to ? std::optional(std::array<Vec3, 2>{to->point, at}) : std::nullopt;
}

// --- Move

std::optional<Rulers> rulers_of(const Move& move, const Scene& scene) {
  if (move.what.empty()) return std::nullopt;
  const About at = move.what.size() == 1 ? About{} : middle_of_all();
  const auto origin = still_point(at, scene, move.what.front(), move.what, AxesKind::World);
  if (!origin) return std::nullopt;
  return Rulers{*origin, true_axes(scene, move.what.front(), move.axes)};
}

// A place that slides follows the pointer along its edge, in its face, along its normal.
std::optional<Move> slid_by_hand(Move move, const Scene& scene, const Grip& grip) {
  move.from = grip.place;
  const auto way = slide_way(move, scene);
  if (!way) return std::nullopt;
  const Pull& p = grip.pull;
  if (way->plane) {
    if (const auto at = on_plane(p.view, p.handle.at, way->unit, p.x, p.y)) move.to = open_place(*at);
  } else if (const auto along = along_axis(p.view, p.handle.at, way->unit, p.x, p.y)) {
    move.to = open_place(p.handle.at + way->unit * *along);
  }
  return move.to ? std::optional(move) : std::nullopt;
}

std::optional<Move> moved_by_hand(const Move& draft, const Scene& scene, const Grip& grip) {
  if (draft.what.empty()) return std::nullopt;
  Move move = draft;
  move.by = {};
  move.from.reset();
  move.to.reset();
  if (grip.place && move.slide.kind != Slide::Kind::Free) return slid_by_hand(move, scene, grip);
  const bool free = grip.pull.handle.kind == Handle::Kind::Ring;
  const AxisSet axes = move.along != kAllAxes ? move.along : free ? kAllAxes : grip.pull.handle.axes;
  if (free && grip.plane && axes == kAllAxes)
    if (const auto shift = shift_on_plane(grip, plane_frame(scene, *grip.plane))) {
      move.along = kAllAxes;
      move.slide = {};
      move.axes = axes_of_plane(*grip.plane);
      move.by = lengths_for(move, scene, *shift, axes, grip.increments, grip.steps);
      // What has not been lifted stays on the plane, to the last bit.
      if (grip.turns.empty()) move.by[2] = Amount{};
      return move;
    }
  const Rulers rulers{grip.pull.handle.at, true_axes(scene, move.what.front(), move.axes)};
  const auto shift = shift_of(rulers, grip.pull, axes);
  if (!shift) return std::nullopt;
  move.along = kAllAxes;
  move.slide = {};
  move.by = lengths_for(move, scene, *shift, axes, grip.increments, grip.steps);
  return move;
}

// What the rulers stand at comes level with the place along the ruler's axes.
std::optional<Move> moved_level(const Move& draft, const Scene& scene, const Grip& grip) {
  const auto to = find_tack(scene, *grip.over);
  if (grip.pull.handle.kind == Handle::Kind::Ring || !to) return std::nullopt;
  Move move = draft;
  move.from.reset();
  move.to.reset();
  const AxisSet axes = move.along != kAllAxes ? move.along : grip.pull.handle.axes;
  move.along = kAllAxes;
  move.slide = {};
  move.by = lengths_for(move, scene, to->point - grip.pull.handle.at, axes, {}, false);
  return move;
}

// The ruler grows from where the drag began, one stretch for each axis in turn.
Gauges move_gauges(const Move& move, const Scene& before, const Scene&, const Grip& grip, const LengthUnit& unit) {
  Gauges gauges;
  if (move.what.empty()) return gauges;
  const Mat3 frame = true_axes(before, move.what.front(), move.axes);
  Vec3 at = grip.pull.handle.at;
  for (int i = 0; i < 3; ++i) {
    const double by = move.by[static_cast<std::size_t>(i)].value;
    if (by == 0) continue;
    const Vec3 to = at + frame.column[static_cast<std::size_t>(i)] * by;
    gauges.rulers.push_back({at, to, i, grip.steps ? grip.increments.length.step : 0, show_length(by, unit, 3).text});
    at = to;
  }
  gauges.level = level_line(before, grip, at);
  return gauges;
}

// --- Rotate

std::optional<Arcs> arcs_of(const Rotate& rotate, const Scene& scene) {
  if (rotate.what.empty()) return std::nullopt;
  const auto still = still_point(rotate.about, scene, rotate.what.front(), rotate.what, rotate.axes);
  if (!still) return std::nullopt;
  return Arcs{*still, true_axes(scene, rotate.what.front(), rotate.axes)};
}

std::optional<Rotate> turned_by_hand(const Rotate& draft, const Scene& scene, const Grip& grip) {
  if (draft.what.empty()) return std::nullopt;
  Rotate rotate = draft;
  rotate.like = {};
  rotate.from.reset();
  rotate.to.reset();
  const Pull& pull = grip.pull;
  const Increment& increment = grip.increments.angle;
  const double step = increment.step;
  if (pull.handle.kind == Handle::Kind::Ring) {
    const Rolled roll = rolled(pull.view, pull.from_x, pull.from_y, pull.x, pull.y);
    if (roll.degrees == 0) return std::nullopt;
    rotate.axes = AxesKind::World;
    rotate.round = {2, roll.axis, std::nullopt};
    rotate.angle = Amount{grip.steps ? stepped(roll.degrees, step) : roll.degrees};
    return rotate;
  }
  rotate.round = {};
  const auto axis = only_axis(pull.handle.axes);
  if (axis)
    rotate.round.axis = int(*axis);
  else
    rotate.axes = axes_of_view(view_frame(pull.view));
  double angle = pull.turned;
  if (grip.steps && axis) {
    // The angle that is shown is what lands, whichever of the three it is.
    const Vec3 now = numbers_in(scene, rotate.what.front(), rotate.axes).rotation;
    angle = increment.from == LandsFrom::Zero ? turned_onto(now, rotate.round.axis, angle, step) : stepped(angle, step);
  } else if (grip.steps) {
    angle = stepped(angle, step);
  }
  rotate.angle = Amount{angle};
  return rotate;
}

// In line with a place: the nearest of the four ways across the arc's axis looks at it.
std::optional<Rotate> turned_in_line(const Rotate& draft, const Scene& scene, const Grip& grip) {
  const auto axis = only_axis(grip.pull.handle.axes);
  const auto arcs = arcs_of(draft, scene);
  const auto to = find_tack(scene, *grip.over);
  if (grip.pull.handle.kind != Handle::Kind::Arc || !axis || !arcs || !to) return std::nullopt;
  const Vec3 x = arcs->frame.column[(*axis + 1) % 3], y = arcs->frame.column[(*axis + 2) % 3],
             way = to->point - arcs->centre;
  const double across = dot(way, x), up = dot(way, y);
  if (!(std::hypot(across, up) > 1e-9 * (1 + length(way)))) return std::nullopt;  // it lies on the axis
  const double direct = atan2_degrees(up, across);
  Rotate rotate = draft;
  rotate.like = {};
  rotate.from.reset();
  rotate.to.reset();
  rotate.round = {static_cast<int>(*axis), std::nullopt, std::nullopt};
  rotate.angle = Amount{direct + 90 * std::nearbyint((grip.pull.turned - direct) / 90)};
  return rotate;
}

Gauges rotate_gauges(const Rotate& rotate, const Scene& before, const Scene&, const Grip& grip, const LengthUnit&) {
  Gauges gauges;
  if (grip.pull.handle.kind != Handle::Kind::Arc || rotate.what.empty()) return gauges;
  const double angle = rotate.from ? angle_towards(rotate, before).value_or(0) : rotate.angle.value;
  gauges.arc = grown_arc({grip.pull.handle.at, true_axes(before, rotate.what.front(), rotate.axes)}, grip.pull, angle);
  if (gauges.arc) gauges.arc->text = show_angle(angle, 2).text;
  gauges.level = level_line(before, grip, grip.pull.handle.at);
  return gauges;
}

// A place that is taken hold of turns about the still point like the arc of the chosen axis.
Handle held_in_line(const Rotate& rotate, const Scene& scene, const Vec3& at) {
  Handle handle = held_place(at);
  handle.kind = Handle::Kind::Arc;
  if (const auto arcs = arcs_of(rotate, scene)) handle.at = arcs->centre;
  handle.axes[static_cast<std::size_t>(rotate.round.axis)] = true;
  return handle;
}

// --- Scale

// From zero the part's own factor is the multiple, from here the one it grows by.
double factor_landed(const Increment& increment, double now, double free) {
  return increment.from == LandsFrom::Zero && now != 0 ? stepped(now * free, increment.step) / now
                                                       : stepped(free, increment.step);
}

// A place held in the open grows towards the pointer, by a plain factor.
std::optional<Scale> sized_freely(const Scale& draft, const Scene& scene, const Grip& grip) {
  Scale scale = draft;
  scale.size = scale.factor = {};
  scale.like = kNoPart;
  scale.from = grip.place;
  scale.to = open_place(carried(grip.pull));
  scale.evenly = scale.along == kAllAxes;
  const auto parts = topmost(scene, scale.what);
  const auto factors = parts.empty() ? Result<Vec3>(Vec3{}) : factors_for(scale, scene, parts.front(), parts);
  if (parts.empty() || !factors) return std::nullopt;
  scale.from.reset();
  scale.to.reset();
  for (std::size_t i = 0; i < 3; ++i) {
    if (!scale.along[i]) continue;
    const double free = (*factors)[static_cast<int>(i)];
    const double now = numbers_in(scene, parts.front(), scale.axes).scale[static_cast<int>(i)];
    const double factor = grip.steps ? factor_landed(grip.increments.factor, now, free) : free;
    if (factor == 0) return std::nullopt;
    scale.factor[i] = Amount{factor};
    if (scale.evenly) break;
  }
  scale.along = kAllAxes;
  return scale;
}

// A drag that began at what stays still has no end to pull: right and up it grows, twice as large for 150 pixels.
std::optional<Scale> grown_about(const Scale& draft, const Scene& scene, const Grip& grip) {
  constexpr double kDoubled = 150;
  const auto parts = topmost(scene, draft.what);
  if (parts.empty()) return std::nullopt;
  const Pull& pull = grip.pull;
  const double free = std::exp2((pull.x - pull.from_x - (pull.y - pull.from_y)) / kDoubled);
  const double now = numbers_in(scene, parts.front(), draft.axes).scale.x;
  const double factor = grip.steps ? factor_landed(grip.increments.factor, now, free) : free;
  if (factor == 0) return std::nullopt;
  Scale scale;
  scale.what = draft.what;
  scale.axes = draft.axes;
  scale.hold = draft.hold;
  scale.evenly = true;
  scale.factor[0] = Amount{factor};
  return scale;
}

std::optional<Scale> sized_by_grip(const Scale& draft, const Scene& scene, const Grip& grip) {
  if (grip.grows) return grown_about(draft, scene, grip);
  if (grip.place) return sized_freely(draft, scene, grip);
  const Handle& handle = grip.pull.handle;
  const auto box = pads_of(scene, draft.what);
  const auto shift = box ? shift_of_dimension(*box, grip.pull) : std::nullopt;
  if (!shift || handle.kind == Handle::Kind::Value) return std::nullopt;
  const bool evenly = draft.evenly || grip.evenly || handle.kind == Handle::Kind::Ring;
  auto scale = sized_by_hand(draft, scene, handle.fraction, *shift, evenly, grip.increments, grip.steps);
  return scale ? std::optional(std::move(*scale)) : std::nullopt;
}

std::optional<Scale> sized_level(const Scale& draft, const Scene& scene, const Grip& grip) {
  const auto to = find_tack(scene, *grip.over);
  if (draft.evenly || grip.evenly || grip.pull.handle.kind != Handle::Kind::End || !to) return std::nullopt;
  return sized_up_to(draft, scene, grip.pull.handle, to->point);
}

Gauges scale_gauges(const Scale& scale, const Scene& before, const Scene& shown, const Grip& grip, const LengthUnit&) {
  Gauges gauges;
  const auto box = pads_of(shown, scale.what);
  if (grip.grows && scale.factor[0]) {
    // From the place that stays to the pointer, with the factor at its end.
    gauges.still = grip.pull.handle.at;
    gauges.rulers.push_back(
        {grip.pull.handle.at, carried(grip.pull), -1, 0, "× " + show_factor(scale.factor[0]->value).text});
    return gauges;
  }
  if (box) gauges.level = level_line(before, grip, box->from_fractions * grip.pull.handle.fraction);
  return gauges;
}

std::vector<Handle> scale_handles_of(const Scale& scale, const Scene& scene, const View& view) {
  const auto box = pads_of(scene, scale.what);
  return box ? dimension_handles(*box, dimension_places(*box, view), view) : std::vector<Handle>{};
}

template <class M>
std::vector<Handle> handles_of(const std::optional<M>& manipulator, const View& view) {
  return manipulator ? handles(*manipulator, view) : std::vector<Handle>{};
}

constexpr Hand<Move> kMoveHand{
    .handles = [](const Move& m, const Scene& s, const View& view) { return handles_of(rulers_of(m, s), view); },
    .dragged = moved_by_hand,
    .gauges = move_gauges,
    .words = [](const Move&, const Scene&, const Handle& h,
                const LengthUnit&) { return h.kind == Handle::Kind::Ruler ? letter_of(h) : std::string(); },
    .grip = [](const Move&, const Scene&, const Vec3& at) { return held_place(at); },
    .level = moved_level,
};
constexpr Hand<Rotate> kRotateHand{
    .handles = [](const Rotate& r, const Scene& s, const View& view) { return handles_of(arcs_of(r, s), view); },
    .dragged = turned_by_hand,
    .gauges = rotate_gauges,
    .words = [](const Rotate&, const Scene&, const Handle& h,
                const LengthUnit&) { return h.kind == Handle::Kind::Arc ? letter_of(h) : std::string(); },
    .grip = held_in_line,
    .arcs = arcs_of,
    .level = turned_in_line,
};
constexpr Hand<Scale> kScaleHand{
    .handles = scale_handles_of,
    .dragged = sized_by_grip,
    .gauges = scale_gauges,
    .grip = [](const Scale&, const Scene&, const Vec3& at) { return held_place(at); },
    .level = sized_level,
    .dimensions = [](const Scale& s, const Scene& scene) { return pads_of(scene, s.what); },
};
constexpr Hand<Pivot> kPivotHand{
    .handles = pivot_handles,
    .dragged = [](const Pivot& p, const Scene& scene, const Grip& g) { return pivot_by_hand(p, scene, g.pull); },
    .gauges = [](const Pivot& p, const Scene&, const Scene& shown, const Grip&,
                 const LengthUnit&) { return pivot_gauges(p, shown); },
    .box = [](const Pivot& p, const Scene& scene) { return box_of(scene, p.what); },
    .while_waiting = true,
    .presses = true,
};

constexpr Hand<Align> kAlignHand{
    .handles = align_handles,
    .box = [](const Align& a, const Scene& scene) -> std::optional<Affine> {
      const auto pads = moving_pads(a, scene);
      return pads ? std::optional(pads->from_fractions) : std::nullopt;
    },
    .target_box = [](const Align& a, const Scene& scene) -> std::optional<Affine> {
      const auto pads = target_pads(a, scene);
      return pads ? std::optional(pads->from_fractions) : std::nullopt;
    },
    .pointed = with_point,
    .standing =
        [](const Align& a, const Scene& before, const Scene& after, const LengthUnit& unit) {
          Gauges gauges;
          gauges.agreements = agreements_of(a, before, after, unit);
          const auto mine = a.pair_from.point ? moving_pads(a, after) : std::nullopt;
          const auto theirs = a.pair_to.point ? target_pads(a, after) : std::nullopt;
          if (mine) gauges.chosen_mine = mine->from_fractions * *a.pair_from.point;
          if (theirs) gauges.chosen_theirs = theirs->from_fractions * *a.pair_to.point;
          return gauges;
        },
    .while_waiting = true,
};
constexpr Hand<Stretch> kStretchHand{
    .handles = stretch_handles,
    .dragged = [](const Stretch& s, const Scene& scene,
                  const Grip& g) { return stretched_by_hand(s, scene, g.pull, g.increments, g.steps); },
    .gauges =
        [](const Stretch& s, const Scene& before, const Scene&, const Grip& grip, const LengthUnit&) {
          Gauges gauges = stretch_gauges(s, before);
          gauges.level = level_line(before, grip, grip.pull.handle.at);
          return gauges;
        },
    .standing = [](const Stretch& s, const Scene& before, const Scene&,
                   const LengthUnit&) { return stretch_gauges(s, before); },
    .lines = stretch_lines,
    .level = [](const Stretch& s, const Scene& scene, const Grip& grip) -> std::optional<Stretch> {
      const auto to = find_tack(scene, *grip.over);
      return to ? stretched_level(s, scene, grip.pull.handle, to->point) : std::nullopt;
    },
    .value_blank = stretch_value_blank,
};
// What goes round an axis counts the degrees of a drag about it.
template <class V>
std::optional<Arcs> arcs_in(const V& verb, const Scene& scene) {
  const auto sweep = sweep_of(verb, scene);
  return sweep ? std::optional(sweep->arcs) : std::nullopt;
}

constexpr Hand<Distribute> kDistributeHand{
    .handles = spacing_handles,
    .dragged = [](const Distribute& d, const Scene& scene,
                  const Grip& g) { return spaced_by_hand(d, scene, g.pull, g.alone, g.increments, g.steps); },
    .gauges = [](const Distribute& d, const Scene& before, const Scene&, const Grip&,
                 const LengthUnit& unit) { return spacing_gauges(d, before, unit); },
    .standing = [](const Distribute& d, const Scene& before, const Scene&,
                   const LengthUnit& unit) { return spacing_gauges(d, before, unit); },
    .lines = spacing_lines,
    .arcs = arcs_in<Distribute>,
    .value_blank = value_blank_of,
};
constexpr Hand<Repeat> kRepeatHand{
    .handles = repeat_handles,
    .dragged = [](const Repeat& r, const Scene& scene,
                  const Grip& g) { return repeated_by_hand(r, scene, g.pull, g.increments, g.steps); },
    .gauges = [](const Repeat& r, const Scene& before, const Scene&, const Grip&,
                 const LengthUnit& unit) { return repeat_gauges(r, before, unit); },
    .pointed = with_stepper,
    .standing = [](const Repeat& r, const Scene& before, const Scene&,
                   const LengthUnit& unit) { return repeat_gauges(r, before, unit); },
    .arcs = arcs_in<Repeat>,
    .while_waiting = true,
};

// The ring stands round what was taken (Drafting::handles), not round what would be.
constexpr Hand<Take> kTakeHand{
    .handles = [](const Take&, const Scene&, const View&) { return std::vector<Handle>(); },
    .dragged = [](const Take& t, const Scene&,
                  const Grip& g) { return reached_by_hand(t, g.pull, g.increments, g.steps); },
    .gauges = [](const Take& t, const Scene&, const Scene&, const Grip& grip,
                 const LengthUnit& unit) { return reach_gauges(t, grip.pull, unit); },
};

// The hand of a verb; null for one that has none.
template <class V>
constexpr const Hand<V>* kHandOf = nullptr;
template <>
constexpr const Hand<Move>* kHandOf<Move> = &kMoveHand;
template <>
constexpr const Hand<Rotate>* kHandOf<Rotate> = &kRotateHand;
template <>
constexpr const Hand<Scale>* kHandOf<Scale> = &kScaleHand;
template <>
constexpr const Hand<Align>* kHandOf<Align> = &kAlignHand;
template <>
constexpr const Hand<Distribute>* kHandOf<Distribute> = &kDistributeHand;
template <>
constexpr const Hand<Repeat>* kHandOf<Repeat> = &kRepeatHand;
template <>
constexpr const Hand<Pivot>* kHandOf<Pivot> = &kPivotHand;
template <>
constexpr const Hand<Stretch>* kHandOf<Stretch> = &kStretchHand;
template <>
constexpr const Hand<Take>* kHandOf<Take> = &kTakeHand;

// f(verb, its hand).
template <class R, class F>
R with_hand(const Verb& verb, R none, F&& f) {
  return std::visit(
      [&](const auto& v) -> R {
        const auto* hand = kHandOf<std::decay_t<decltype(v)>>;
        return hand ? f(v, *hand) : none;
      },
      verb);
}

}  // namespace

std::vector<Handle> handles_of(const Verb& draft, const Scene& scene, const View& view) {
  return with_hand(draft, std::vector<Handle>(),
                   [&](const auto& v, const auto& hand) { return hand.handles(v, scene, view); });
}
std::string handle_words(const Verb& draft, const Scene& scene, const Handle& handle, const LengthUnit& unit) {
  return with_hand(draft, std::string(), [&](const auto& v, const auto& hand) {
    return hand.words ? hand.words(v, scene, handle, unit) : std::string();
  });
}

std::optional<Verb> dragged(const Verb& draft, const Scene& scene, const Grip& grip) {
  if (auto verb = stopped(draft, scene, grip)) return verb;
  return with_hand(draft, std::optional<Verb>(), [&](const auto& v, const auto& hand) -> std::optional<Verb> {
    if constexpr (requires { v.from->part, v.to->part; })
      if (grip.place && grip.over) {
        auto between = v;
        between.from = grip.place;
        const auto reaches = with_place(between, blank_of(between, "to"), *grip.over);
        return reaches ? std::optional(made_whole(*reaches, scene)) : std::nullopt;
      }
    if (!hand.dragged) return std::nullopt;
    auto verb = hand.dragged(v, scene, grip);
    return verb ? std::optional<Verb>(std::move(*verb)) : std::nullopt;
  });
}

Gauges gauges_of(const Verb& dragged, const Scene& before, const Scene& shown, const Grip& grip,
                 const LengthUnit& unit) {
  return with_hand(dragged, Gauges(), [&](const auto& v, const auto& hand) {
    return hand.gauges ? hand.gauges(v, before, shown, grip, unit) : Gauges();
  });
}
std::optional<Verb> stopped(const Verb& draft, const Scene& scene, const Grip& grip) {
  if (!grip.over || grip.place) return std::nullopt;
  return with_hand(draft, std::optional<Verb>(), [&](const auto& v, const auto& hand) -> std::optional<Verb> {
    auto verb = hand.level ? hand.level(v, scene, grip) : std::nullopt;
    return verb ? std::optional<Verb>(std::move(*verb)) : std::nullopt;
  });
}
std::string stopped_words(const Scene& scene, const Grip& grip) {
  if (!grip.over) return {};
  return fmt::format("{} with {}", grip.pull.handle.kind == Handle::Kind::Arc ? "in line" : "level",
                     place_words(scene, *grip.over));
}

std::vector<DimensionLine> dimensions_of(const Verb& draft, const Scene& before, const Scene& shown, const View& view,
                                         const LengthUnit& unit) {
  return with_hand(draft, std::vector<DimensionLine>(), [&](const auto& v, const auto& hand) {
    if (hand.lines) return hand.lines(v, shown, view, unit);
    if (!hand.dimensions) return std::vector<DimensionLine>();
    const auto was = hand.dimensions(v, before), is = hand.dimensions(v, shown);
    return was && is ? dimension_lines(*is, dimension_places(*was, view), view) : std::vector<DimensionLine>();
  });
}

bool drags_values(const Verb& draft) {
  return with_hand(draft, false, [](const auto&, const auto& hand) { return hand.lines != nullptr; });
}

BlankId value_blank(const Verb& draft, const Handle& value) {
  return with_hand(draft, BlankId(), [&](const auto& v, const auto& hand) {
    return hand.value_blank ? hand.value_blank(v, value) : BlankId();
  });
}

std::optional<Affine> pad_box_of(const Verb& draft, const Scene& scene) {
  return with_hand(draft, std::optional<Affine>(),
                   [&](const auto& v, const auto& hand) { return hand.box ? hand.box(v, scene) : std::nullopt; });
}
std::optional<Affine> target_box_of(const Verb& draft, const Scene& scene) {
  return with_hand(draft, std::optional<Affine>(), [&](const auto& v, const auto& hand) {
    return hand.target_box ? hand.target_box(v, scene) : std::nullopt;
  });
}
std::optional<Verb> pointed(const Verb& draft, const Handle& point) {
  return with_hand(draft, std::optional<Verb>(), [&](const auto& v, const auto& hand) {
    return hand.pointed ? std::optional<Verb>(hand.pointed(v, point)) : std::nullopt;
  });
}
Gauges standing_gauges(const Verb& verb, const Scene& before, const Scene& after, const LengthUnit& unit) {
  return with_hand(verb, Gauges(), [&](const auto& v, const auto& hand) {
    return hand.standing ? hand.standing(v, before, after, unit) : Gauges();
  });
}
bool offers_grips(const Verb& verb) {
  return with_hand(verb, false, [](const auto&, const auto& hand) { return hand.grip != nullptr; });
}
Handle grip_handle(const Verb& draft, const Scene& scene, const Vec3& at) {
  return with_hand(draft, Handle(),
                   [&](const auto& v, const auto& hand) { return hand.grip ? hand.grip(v, scene, at) : Handle(); });
}
void pull_on(const Verb& draft, const Scene& scene, Pull& pull, double x, double y) {
  const auto arcs = with_hand(draft, std::optional<Arcs>(), [&](const auto& v, const auto& hand) {
    return hand.arcs ? hand.arcs(v, scene) : std::nullopt;
  });
  pull_to(pull, arcs.value_or(Arcs{}), x, y);
}
bool has_handles_while_waiting(const Verb& verb) {
  return with_hand(verb, false, [](const auto&, const auto& hand) { return hand.while_waiting; });
}
bool presses_count(const Verb& verb) {
  return with_hand(verb, false, [](const auto&, const auto& hand) { return hand.presses; });
}

}  // namespace tack
