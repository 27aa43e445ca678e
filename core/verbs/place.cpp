#include "core/verbs/place.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"

namespace tack {
namespace {

constexpr double kAngleHolds = 1e-9;  // degrees
constexpr double kFactorHolds = 1e-9;

// The linear part of a part's world matrix as expressed in the axes, and the way back to its own placement.
struct Expressed {
  Mat3 to_axes;      // world directions to axes coordinates
  Mat3 from_axes;    // and back
  bool own = false;  // the axes see the stored numbers as they are: nothing needs to be split
};

Result<Expressed> express(const Scene& scene, PartId id, const Axes& axes) {
  const Affine parent = parent_world_of(scene, id);
  if (axes.kind == AxesKind::Parent) {
    const auto back = inverse(parent.linear);
    if (!back) return fail(fmt::format("\"{}\" belongs to a part that is flattened.", scene.part(id).name));
    return Expressed{*back, parent.linear, true};
  }
  const Mat3 frame = axes_frame(scene, id, axes).linear;
  return Expressed{transpose(frame), frame, axes.kind == AxesKind::World && parent.linear == Mat3{}};
}

double position_holds(const Scene& scene, PartId id) {
  const Part& part = scene.part(id);
  const double extent = part.mesh ? part.mesh->box().extent() : 0;
  return 1e-9 * (extent + length(world_of(scene, id) * part.placement.pivot) + 1);
}

void restore(const TypedGroup& typed, const Axes& axes, double tolerance, Vec3& values,
             std::array<std::string, 3>& text) {
  if (axes.kind != typed.axes || axes.kind == AxesKind::View || axes.kind == AxesKind::Part) return;
  if (axes.kind == AxesKind::Plane && axes.part != typed.of) return;
  for (int i = 0; i < 3; ++i)
    if (typed.values[i] && std::abs(*typed.values[i] - values[i]) <= tolerance) {
      values[i] = *typed.values[i];
      text[i] = typed.text[i];
    }
}

// Works a group of amounts out for one part; returns whether any was given. `it` has what the values were before the
// step: of a part and its child the child's is not read from where the parent has taken it.
Result<bool> fill(const Amounts& amounts, EntryKind kind, const Reading& reading, const Vec3& it, Vec3& values) {
  bool any = false;
  for (int i = 0; i < 3; ++i) {
    if (!amounts[i]) continue;
    const auto value = evaluate(*amounts[i], kind, it[i], reading);
    if (!value) return tl::unexpected(value.error());
    if (!std::isfinite(*value)) return fail("This number is not finite.");
    values[i] = *value;
    any = true;
  }
  return any;
}

void remember(const Amounts& amounts, const Vec3& values, const Axes& axes, TypedGroup& typed) {
  if (typed.axes != axes.kind || typed.of != axes.part) typed = {};
  typed.axes = axes.kind;
  typed.of = axes.part;
  for (int i = 0; i < 3; ++i)
    if (amounts[i]) {
      typed.values[i] = values[i];
      typed.text[i] = uses_it(*amounts[i]) ? std::string{} : amounts[i]->text;
    }
}

Result<Placement> replaced(const Scene& scene, PartId id, const Axes& axes, const Vec3& rotation, const Vec3& scale,
                           const Vec3& skew) {
  Placement placement = scene.part(id).placement;
  const auto expressed = express(scene, id, axes);
  if (!expressed) return tl::unexpected(expressed.error());
  if (expressed->own) {
    placement.rotation = rotation;
    placement.scale = scale;
    placement.skew = skew;
    return placement;
  }
  const auto to_parent = inverse(parent_world_of(scene, id).linear);
  if (!to_parent) return fail(fmt::format("\"{}\" belongs to a part that is flattened.", scene.part(id).name));
  const Mat3 linear = compose_linear({rotation_from_degrees(rotation), scale, skew});
  return with_linear(placement, solved(parent_world_of(scene, id).linear, *to_parent, expressed->from_axes * linear));
}

// Shifts the part so that its place has these coordinates; those that are nullopt stay. Corrected by what is measured,
// for the parents may cost digits.
Result<void> put_place(const Place& place, Scene& scene, PartId id, const Affine& frame,
                       const std::array<std::optional<double>, 3>& wanted) {
  const auto back = inverse(frame);
  if (!back) return fail(fmt::format("\"{}\" belongs to a part that is flattened.", scene.part(id).name));
  constexpr int kTimes = 4;
  for (int time = 0; time < kTimes; ++time) {
    const auto at = still_point(*place.of, scene, id, {id}, place.axes);
    if (!at) return tl::unexpected(at.error());
    const Vec3 now = *back * *at;
    Vec3 off;
    for (std::size_t i = 0; i < 3; ++i)
      if (wanted[i]) off[static_cast<int>(i)] = *wanted[i] - now[static_cast<int>(i)];
    if (off == Vec3{}) break;
    const Vec3 pivot = world_of(scene, id) * scene.part(id).placement.pivot;
    if (auto ok = put_pivot(scene, id, pivot + frame.linear * off); !ok) return ok;
  }
  return {};
}

Result<void> place_one(const Place& place, const Scene& start, Scene& scene, PartId id) {
  const PlacedNumbers before = numbers_in(start, id, place.axes);
  const Reading reading{start, place.axes, id};
  PlacedNumbers now = numbers_in(scene, id, place.axes);
  const auto rotated = fill(place.rotation, EntryKind::Angle, reading, before.rotation, now.rotation);
  if (!rotated) return tl::unexpected(rotated.error());
  const auto scaled = fill(place.scale, EntryKind::Factor, reading, before.scale, now.scale);
  if (!scaled) return tl::unexpected(scaled.error());
  const auto skewed = fill(place.skew, EntryKind::Factor, reading, before.skew, now.skew);
  if (!skewed) return tl::unexpected(skewed.error());
  Vec3 was_at = before.position, at = now.position;
  if (place.of && any_given(place.position)) {
    const auto stood = position_of(start, id, place.axes, place.of);
    if (!stood) return tl::unexpected(stood.error());
    was_at = at = *stood;
  }
  const auto moved = fill(place.position, EntryKind::Length, reading, was_at, at);
  if (!moved) return tl::unexpected(moved.error());
  now.position = at;
  for (int i = 0; i < 3; ++i)
    if (now.scale[i] == 0)
      return fail(fmt::format("\"{}\" cannot have a factor of 0 along {}.", scene.part(id).name, "XYZ"[i]));
  // Local axes are those before the turn, also for the position typed together with it.
  const Affine frame = axes_frame(scene, id, place.axes);
  if (*rotated || *scaled || *skewed) {
    const auto placement = replaced(scene, id, place.axes, now.rotation, now.scale, now.skew);
    if (!placement) return tl::unexpected(placement.error());
    scene.place(id, *placement);
  }
  if (*moved && place.of) {
    std::array<std::optional<double>, 3> wanted;
    for (std::size_t i = 0; i < 3; ++i)
      if (place.position[i]) wanted[i] = at[static_cast<int>(i)];
    if (auto ok = put_place(place, scene, id, frame, wanted); !ok) return ok;
  } else if (*moved) {
    if (place.axes.kind == AxesKind::Parent) {
      Placement placement = scene.part(id).placement;
      placement.position = now.position;
      scene.place(id, placement);
    } else {
      // Along components that were left alone the part does not move at all: start from where it really is.
      const Vec3 target = place.axes.kind == AxesKind::World ? now.position : frame * now.position;
      if (auto ok = put_pivot(scene, id, target); !ok) return ok;
    }
  }
  Part part = scene.part(id);
  // Only in World and Parent axes, and in those of a plane, do numbers stay true: local ones describe the turn they are
  // typed for, others depend on what else moves.
  if (place.axes.kind == AxesKind::World || place.axes.kind == AxesKind::Parent || place.axes.kind == AxesKind::Plane) {
    TypedNumbers typed = typed_numbers(part.typed);
    // What was typed for another place is no number of the pivot's.
    if (*moved && place.of) typed.position = {};
    if (*moved && !place.of) remember(place.position, now.position, place.axes, typed.position);
    if (*rotated) remember(place.rotation, now.rotation, place.axes, typed.rotation);
    if (*scaled) remember(place.scale, now.scale, place.axes, typed.scale);
    part.typed = std::make_shared<const TypedNumbers>(std::move(typed));
  }
  scene.replace(id, std::move(part));
  return {};
}

template <Vec3 PlacedNumbers::*kGroup>
std::optional<double> placed_now(const Place& p, const Scene& scene, std::size_t i) {
  if (p.what.empty() || !scene.contains(p.what.front())) return std::nullopt;
  return (numbers_in(scene, p.what.front(), p.axes).*kGroup)[static_cast<int>(i)];
}

std::optional<double> position_now(const Place& p, const Scene& scene, std::size_t i) {
  if (!p.of) return placed_now<&PlacedNumbers::position>(p, scene, i);
  if (p.what.empty() || !scene.contains(p.what.front())) return std::nullopt;
  const auto at = position_of(scene, p.what.front(), p.axes, p.of);
  return at ? std::optional((*at)[static_cast<int>(i)]) : std::nullopt;
}

Result<void> check(const Place& p) {
  if (p.of && !any_given(p.position))
    return fail("\"of\" says whose position is given; here none is.", "of",
                "Give a position as well, or leave it out.");
  if (p.of && p.of->kind == About::Kind::AllBox)
    return fail("The position is that of a place of each part, not of all together.", "of");
  if (any_given(p.position) || any_given(p.rotation) || any_given(p.scale) || any_given(p.skew)) return {};
  return fail("Place needs a position, a rotation, a scale or a skew.");
}

WaysOut<Place> ways_out(const Place& p) {
  if (p.axes.kind == AxesKind::Parent) return {};
  Place parent = p;
  parent.axes = AxesKind::Parent;
  return {{"the same numbers in its parent's axes instead", parent}};
}

// Where the numbers that were typed are not what the part has now: below parents that cost digits.
std::string left_of(const Place& p, const Scene& before, const Scene& after, const LengthUnit& unit) {
  double worst = 0;
  PartId furthest = kNoPart;
  for (const PartId id : p.what) {
    if (!after.contains(id) || after.part(id).parent == kNoPart || p.axes.kind == AxesKind::Parent) continue;
    // Local axes are those before the turn.
    const Axes axes = p.axes.kind == AxesKind::Local ? axes_of_view(axes_frame(before, id, p.axes).linear) : p.axes;
    const auto is_at = position_of(after, id, axes, p.of), was_at = position_of(before, id, p.axes, p.of);
    if (!is_at || !was_at) continue;
    const Vec3 now = *is_at, was = *was_at;
    for (int i = 0; i < 3; ++i) {
      const auto& amount = p.position[static_cast<std::size_t>(i)];
      const auto wanted =
          amount ? evaluate(*amount, EntryKind::Length, was[i], Reading{before, p.axes, id}) : Result<double>(fail({}));
      const double off = wanted ? std::abs(now[i] - *wanted) : 0;
      if (off > position_holds(after, id) && off > worst) worst = off, furthest = id;
    }
  }
  if (furthest == kNoPart) return {};
  return strayed_sentence(before.part(furthest).name, worst, unit);
}

void sentence(Phrase& s, const Place& p) {
  s.say("Placed ", "Place ");
  if (p.of) s.blank("of").say(" of ");
  s.blank("what");
  const char* before = " at ";
  for (const auto& [key, name, group] : {std::tuple{"position", "position", &p.position},
                                         {"rotation", "rotation", &p.rotation},
                                         {"scale", "factor", &p.scale},
                                         {"skew", "skew", &p.skew}}) {
    if (!any_given(*group)) continue;
    s.say(std::string(std::exchange(before, ", ")) + name);
    for (std::size_t i = 0; i < 3; ++i)
      if ((*group)[i]) s.say(fmt::format(" {} ", "xyz"[i])).blank(key, i);
  }
  s.say(" in ").blank("axes").say(" axes.");
}

}  // namespace

Result<Vec3> position_of(const Scene& scene, PartId id, const Axes& axes, const std::optional<About>& of) {
  if (!of) return numbers_in(scene, id, axes).position;
  if (of->kind == About::Kind::Place && of->place.part != id)
    return fail(fmt::format("The {} is no place of \"{}\".", tack_words(scene, of->place), scene.part(id).name), "of");
  const auto at = still_point(*of, scene, id, {id}, axes);
  if (!at) return tl::unexpected(at.error());
  const auto back = inverse(axes_frame(scene, id, axes));
  if (!back) return fail(fmt::format("\"{}\" belongs to a part that is flattened.", scene.part(id).name));
  return *back * *at;
}

PlacedNumbers numbers_in(const Scene& scene, PartId id, const Axes& axes) {
  const Part& part = scene.part(id);
  const Placement& p = part.placement;
  PlacedNumbers n{p.position, p.rotation, p.scale, p.skew, {}, {}, {}};
  if (const auto expressed = express(scene, id, axes)) {
    const Affine world = world_of(scene, id);
    if (axes.kind != AxesKind::Parent)
      n.position = expressed->to_axes * (world * p.pivot - axes_frame(scene, id, axes).translation);
    if (!expressed->own) {
      if (const auto split = split_linear(expressed->to_axes * world.linear, signs_of(p.scale))) {
        n.rotation = degrees_from_rotation(split->rotation);
        n.scale = split->scale;
        n.skew = split->skew;
      }
    } else if (axes.kind == AxesKind::World) {
      n.position = parent_world_of(scene, id).translation + p.position;
    }
  }
  const TypedNumbers& typed = typed_numbers(part.typed);
  restore(typed.position, axes, position_holds(scene, id), n.position, n.position_text);
  restore(typed.rotation, axes, kAngleHolds, n.rotation, n.rotation_text);
  restore(typed.scale, axes, kFactorHolds, n.scale, n.scale_text);
  return n;
}

Result<Scene> apply(const Place& place, const Scene& scene) {
  const auto movable_parts = movable(scene, place.what);
  if (!movable_parts) return tl::unexpected(movable_parts.error());
  // Typed numbers are for every part that is picked, a child of a picked part included: parents first.
  Scene result = scene;
  for (const PartId id : in_tree_order(scene, place.what))
    if (const auto ok = place_one(place, scene, result, id); !ok) return tl::unexpected(ok.error());
  return result;
}

// clang-format off
const Table<Place>& table_of(const Place*) {
  static const Table<Place> table{.key = "place", .does = "Puts parts where typed numbers say.", .on_patches = true, .check = check,
      .left = left_of, .ways_out = ways_out, .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Place::what>, .ask = "Click the part to place instead.", .needed = true,
     .always = true, .doc = "the parts that are placed"},
    {.key = "axes", .name = "Axes", .at = slot<&Place::axes>, .ask = "Click the part whose own axes to use.",
     .always = true, .doc = "in which axes the numbers are"},
    {.key = "position", .name = "Along", .at = slot<&Place::position>, .three = true,
     .now = position_now, .doc = "of the pivot, or of what `of` names, mm"},
    {.key = "of", .name = "Place whose position it is", .at = slot<&Place::of>, .ask = "Click a place of the part.",
     .value = "a place on the part", .doc = "whose position is given: `pivot`, `box 0,0,0`, `kept in`, `axes-box 0,0,0`"},
    {.key = "rotation", .name = "Rotation about", .at = slot<&Place::rotation>, .kind = EntryKind::Angle, .three = true,
     .now = placed_now<&PlacedNumbers::rotation>, .doc = "about the fixed axes, x first, then y, then z"},
    {.key = "scale", .name = "Factor along", .at = slot<&Place::scale>, .kind = EntryKind::Factor, .three = true,
     .now = placed_now<&PlacedNumbers::scale>, .doc = "never 0"},
    {.key = "skew", .name = "Skew along", .at = slot<&Place::skew>, .kind = EntryKind::Factor, .three = true,
     .now = placed_now<&PlacedNumbers::skew>, .doc = "of y along x, of z along x, of z along y"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
