#include "core/verbs/align.h"

#include <fmt/format.h>

#include "core/math/split.h"
#include "core/verbs/meet_motion.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"

namespace tack {
namespace {

using At = AlignSide::At;

constexpr Choice kAs[] = {{"each", "each"}, {"as one block", "block"}};
constexpr std::string_view kSideKeys[] = {"low", "middle", "high", "pivot"};
constexpr const char* kAxisKeys[] = {"x", "y", "z"};
constexpr std::size_t kListed = 12;  // picked parts that the list of targets names

// --- boxes

Vec3 pivot_in(const Scene& scene, PartId part, const Mat3& frame) {
  return transpose(frame) * (pivot_in_world(scene, part));
}

double on_side(const Box& box, At at, int axis) {
  return at == At::Low ? box.low[axis] : at == At::High ? box.high[axis] : box.centre()[axis];
}

Result<Box> target_box_without(const Align& a, const Scene& scene, const Mat3& frame,
                               const std::vector<PartId>& movers) {
  Box box;
  if (a.with_all) {
    for (const PartId id : topmost(scene, a.what))
      if (const auto part = box_to_line_up(scene, id, frame)) box.include(*part);
    if (box.empty()) return fail("What is picked has no box.");
    return box;
  }
  if (a.with_place) {
    const auto tack = find_tack(scene, *a.with_place);
    if (!tack) return tl::unexpected(tack.error());
    box.include(transpose(frame) * tack->point);
    return box;
  }
  if (!scene.contains(a.with)) return fail("The part to align with has been deleted.", "with");
  // A part may be aligned with one that it belongs to: what is meant is the rest of that.
  std::vector<PartId> inside;
  for (const PartId id : movers)
    if (moves_with(scene, {a.with}, id)) inside.push_back(id);
  std::sort(inside.begin(), inside.end());
  return box_to_line_up(scene, a.with, frame, inside);
}

// What is aligned: the topmost of `what`, without the target where that is one of them.
std::vector<PartId> movers_of(const Align& a, const Scene& scene) {
  std::vector<PartId> what = a.what;
  std::erase(what, a.with);
  return topmost(scene, what);
}

// A place of one part on another that is like it. Fails where they are not alike.
Result<TackAddress> place_on(const Scene& scene, const TackAddress& place, PartId part) {
  if (place.part == part) return place;
  const Part &is = scene.part(part), *was = scene.find(place.part);
  if (!was || (is.mesh != was->mesh && place.kind != TackKind::Pivot && place.kind != TackKind::BoxPoint))
    return fail(fmt::format("\"{}\" has no {} like that of \"{}\".", is.name, kind_words(place),
                            was ? was->name : "a part that is gone"),
                {}, "Align them as one block, or one after another.");
  TackAddress there = place;
  there.part = part;
  return there;
}

// Where the side that is brought level is now, along an axis of the frame.
Result<double> mine_at(const Align& a, const Scene& scene, const std::vector<PartId>& movers, PartId part,
                       const Mat3& frame, int axis) {
  const AlignSide& side = a.sides[static_cast<std::size_t>(axis)].mine;
  const bool block = a.as == Align::As::Block;
  if (side.at == At::Place) {
    const bool below = moves_with(scene, movers, side.place->part);
    if (!below) return fail(fmt::format("The {} is not on what is aligned.", tack_words(scene, *side.place)));
    const bool carried = !block && movers.size() > 1;
    const auto place = carried ? place_on(scene, *side.place, part) : Result<TackAddress>(*side.place);
    if (!place) return tl::unexpected(place.error());
    const auto tack = find_tack(scene, *place);
    if (!tack) return tl::unexpected(tack.error());
    return dot(frame.column[static_cast<std::size_t>(axis)], tack->point);
  }
  if (side.at == At::Pivot) {
    if (block && movers.size() > 1)
      return fail("A block of several parts has several pivots.", {}, "Click the one that counts.");
    return pivot_in(scene, part, frame)[axis];
  }
  if (block) {
    const Box box = moving_box(a, scene, frame);
    if (box.empty()) return fail("What is picked has no box.");
    return on_side(box, side.at, axis);
  }
  const auto box = box_to_line_up(scene, part, frame);
  if (!box) return tl::unexpected(box.error());
  return on_side(*box, side.at, axis);
}

// A plane has one height along its normal and none across it, so along axes that are neither it is level with nothing.
Result<void> check_plane(const Align& a, const Scene& scene, const Vec3& axis) {
  if (a.with == kNoPart || scene.part(a.with).guide != GuideKind::Plane) return {};
  const double along = std::abs(dot(own_axes(scene, a.with).column[2], axis));
  constexpr double kSquare = 1e-9;
  if (along < kSquare || along > 1 - kSquare) return {};
  return fail(fmt::format("\"{}\" is not square to these axes.", scene.part(a.with).name), {},
              "Align along the plane's own axes.");
}

Result<double> theirs_at(const Align& a, const Scene& scene, const Box& target, const Mat3& frame, int axis) {
  const AlignSide& side = a.sides[static_cast<std::size_t>(axis)].theirs;
  const Vec3& column = frame.column[static_cast<std::size_t>(axis)];
  if (side.at == At::Place) {
    const auto tack = find_tack(scene, *side.place);
    if (!tack) return tl::unexpected(tack.error());
    return dot(column, tack->point);
  }
  if (side.at == At::Pivot) {
    if (a.with == kNoPart) return fail("All that is picked has no pivot of its own.", {}, "Click the one that counts.");
    return pivot_in(scene, a.with, frame)[axis];
  }
  if (const auto ok = check_plane(a, scene, column); !ok) return tl::unexpected(ok.error());
  return on_side(target, side.at, axis);
}

// Which way a gap goes: away from the target's middle; level with the middle itself, the way that leaves room for the
// side that is brought there.
double gap_sign(const Align::Axis& along, double theirs, double middle, double extent) {
  if (along.theirs.at == At::Low) return -1;
  if (along.theirs.at == At::High) return 1;
  if (along.theirs.at != At::Middle && std::abs(theirs - middle) > 1e-9 * (1 + extent)) return theirs < middle ? -1 : 1;
  return along.mine.at == At::High ? -1 : 1;
}

Result<std::vector<PartId>> checked_movers(const Align& a, const Scene& scene) {
  if (!a.has_target()) return fail("There is nothing yet to align with.", "with", "Click a part or a place.");
  auto movers = movers_of(a, scene);
  if (movers.empty())
    return fail(a.what.empty() ? "Nothing is picked." : "The target is all that is picked: nothing is left to align.");
  if (const auto ok = movable(scene, movers); !ok) return tl::unexpected(ok.error());
  if (a.with != kNoPart) {
    if (!scene.contains(a.with)) return fail("The part to align with has been deleted.", "with");
    if (const PartId carrier = carrier_of(scene, movers, a.with); carrier != kNoPart)
      return fail(fmt::format("\"{}\" moves with \"{}\": it cannot stay where it is.", scene.part(a.with).name,
                              scene.part(carrier).name),
                  "with");
  }
  if (a.with_place)
    if (const auto ok = check_to_stays(scene, movers, *a.with_place); !ok) return tl::unexpected(ok.error());
  for (const Align::Axis& along : a.sides)
    if (along.given && along.theirs.at == At::Place && !a.with_all)
      if (const auto ok = check_to_stays(scene, movers, *along.theirs.place); !ok) return tl::unexpected(ok.error());
  return movers;
}

// How far along each axis of the frame the part (the block) has to go; zero along those that are not given.
Result<Vec3> way_of(const Align& a, const Scene& before, const Scene& now, const std::vector<PartId>& movers,
                    PartId part, const Mat3& frame, const Box& target) {
  Vec3 way;
  for (int axis = 0; axis < 3; ++axis) {
    const Align::Axis& along = a.sides[static_cast<std::size_t>(axis)];
    if (!along.given) continue;
    const auto theirs = theirs_at(a, before, target, frame, axis);
    if (!theirs) return tl::unexpected(theirs.error());
    const auto gap = evaluate(along.gap, EntryKind::Length, 0, Reading{before, a.axes, part});
    if (!gap) return tl::unexpected(gap.error());
    const auto mine = mine_at(a, now, movers, part, frame, axis);
    if (!mine) return tl::unexpected(mine.error());
    way[axis] = *theirs + gap_sign(along, *theirs, target.centre()[axis], target.extent()) * *gap - *mine;
  }
  if (!is_finite(way)) return fail("The lengths to move by are not finite.");
  return way;
}

Mat3 frame_of_part(const Align& a, const Scene& scene, PartId part) {
  return squared_up(axes_frame(scene, part, a.axes).linear);
}
bool own_frames(const Align& a) { return a.axes.kind == AxesKind::Local || a.axes.kind == AxesKind::Parent; }

// --- the table

Align::Axis& axis_in(Align& a, std::size_t i) { return a.sides[i % 3]; }

// "low", "pivot", "vertex of Hub".
std::string side_text(const AlignSide& side, const Scene& scene, PartId own) {
  if (side.at != At::Place) return std::string(kSideKeys[static_cast<std::size_t>(side.at)]);
  return side.place ? place_words(scene, *side.place, own) : "a place";
}

// A point of a box in words: "low x side", "corner".
std::string point_words(const Vec3& f) {
  const AxisSet axes = axes_of_point(f);
  if (count_of(axes) == 3 && f == Vec3{0.5, 0.5, 0.5}) return "middle";
  std::string words;
  for (int i = 0; i < 3; ++i)
    if (axes[static_cast<std::size_t>(i)])
      words += fmt::format("{}{} {}", words.empty() ? "" : ", ", f[i] < 0.5 ? "low" : "high", "xyz"[i]);
  return words + (count_of(axes) == 1 ? " side" : count_of(axes) == 2 ? " edge" : " corner");
}

std::vector<Option> side_options(bool mine) {
  return {{mine ? "as it is" : "nothing: leave this axis alone"},
          {"low side"},
          {"middle"},
          {"high side"},
          {"pivot"},
          {mine ? "a place on it (click it)" : "a place (click it)", Click::Place}};
}

// 0: leave the axis alone; 1 to 4: a side. The other end of an axis that was not given is the same side.
void choose_side(Align& a, std::size_t i, std::size_t option, bool mine) {
  Align::Axis& along = axis_in(a, i);
  if (option == 0 && a.last == static_cast<int>(i % 3)) a.last = -1;
  if (option == 0) along = {};
  if (option == 0 || option > 4) return;
  const AlignSide side{static_cast<At>(option - 1), std::nullopt};
  if (!along.given) along = {true, side, side, {}};
  (mine ? along.mine : along.theirs) = side;
  a.last = static_cast<int>(i % 3);
}

void place_side(Align& a, std::size_t i, const TackAddress& place, bool mine) {
  Align::Axis& along = axis_in(a, i);
  if (!along.given) along = {true, {}, {}, {}};
  (mine ? along.mine : along.theirs) = {At::Place, place};
  a.last = static_cast<int>(i % 3);
}

// The slot of a side is its place: what a click fills, and what goes when its part is deleted.
Slot mine_slot(Align& a, std::size_t i) { return &axis_in(a, i).mine.place; }
Slot theirs_slot(Align& a, std::size_t i) { return axis_in(a, i).given ? Slot(&axis_in(a, i).theirs.place) : Slot(); }
Slot gap_slot(Align& a, std::size_t i) { return axis_in(a, i).given ? Slot(&axis_in(a, i).gap) : Slot(); }

void set_target(Align& a, PartId part, const std::optional<TackAddress>& place, bool all) {
  a.with = part;
  a.with_place = place;
  a.with_all = all;
}

std::vector<Option> target_options(const Align& a, const Scene& scene, std::size_t) {
  std::vector<Option> options{{"a part (click it)", Click::Part}, {"a place (click it)", Click::Place}};
  if (a.what.size() < 2) return options;
  options.push_back({"the box of all picked"});
  for (std::size_t i = 0; i < a.what.size() && i < kListed; ++i)
    options.push_back({fmt::format("{}, which stays", name_of(scene, a.what[i]))});
  return options;
}
void choose_target(Align& a, std::size_t, std::size_t option, const ChoiceContext&) {
  if (option == 2) set_target(a, kNoPart, std::nullopt, true);
  if (option > 2 && option - 3 < a.what.size()) set_target(a, a.what[option - 3], std::nullopt, false);
}

std::string target_words(const Align& a, const Scene& scene) {
  if (a.with_all) return "all picked";
  if (a.with_place) return place_words(scene, *a.with_place);
  return name_of(scene, a.with);
}

Json target_to_json(const Align& a, const Scene& scene) {
  if (a.with_all) return "selection";
  if (a.with_place) return address_text(scene, *a.with_place);
  if (a.with == kNoPart || !scene.contains(a.with)) return nullptr;
  if (scene.part(a.with).guide == GuideKind::Plane) return Json{{"plane", path_of(scene, a.with)}};
  return path_of(scene, a.with);
}
Result<void> target_from_json(Align& a, const Json& json, const Scene& scene) {
  constexpr const char* kForms =
      "Write a part's path, \"selection\", {\"plane\": \"Ramp\"}, or an address such as \"\\\"Hub\\\" pivot\".";
  if (json.is_object() && json.size() == 1 && json.contains("plane")) {
    if (json["plane"] == "World") {
      set_target(a, kNoPart, TackAddress{TackKind::PlanePoint, kNoPart, 0, {}}, false);
      return {};
    }
    const auto plane = part_from_json(json["plane"], "with", scene);
    if (!plane) return tl::unexpected(plane.error());
    if (scene.part(*plane).guide != GuideKind::Plane)
      return fail(fmt::format("\"{}\" is not a plane.", scene.part(*plane).name), "with");
    set_target(a, *plane, std::nullopt, false);
    a.axes = axes_of(*plane);  // what is level with a plane is so along its own axes, unless others are named
    return {};
  }
  if (!json.is_string()) return fail("This should name what to align with.", "with", kForms);
  const auto& text = json.get_ref<const std::string&>();
  if (text == "selection") {
    set_target(a, kNoPart, std::nullopt, true);
    return {};
  }
  const bool address = text.starts_with('"') || text.starts_with("point ") || text.starts_with("plane ");
  if (address) {
    const auto place = place_from_json(json, "with", scene);
    if (!place) return tl::unexpected(place.error());
    set_target(a, kNoPart, *place, false);
    return {};
  }
  const auto part = part_from_json(json, "with", scene);
  if (!part) return fail(part.error().what, "with", part.error().remedy.empty() ? kForms : part.error().remedy);
  set_target(a, *part, std::nullopt, false);
  return {};
}

Result<AlignSide> side_from_json(const Json& json, const std::string& where, const Scene& scene) {
  for (std::size_t i = 0; i < std::size(kSideKeys); ++i)
    if (json == std::string(kSideKeys[i])) return AlignSide{static_cast<At>(i), std::nullopt};
  const auto place = place_from_json(json, where, scene);
  if (!place)
    return fail(fmt::format("{} is no side and no place.", json.dump().substr(0, 60)), where,
                "Write low, middle, high, pivot, or the address of a place.");
  return AlignSide{At::Place, *place};
}
template <std::size_t kAxis>
Result<void> axis_from_json(Align& a, const Json& json, const Scene& scene) {
  const std::string key = kAxisKeys[kAxis];
  if (json.is_null()) return {};
  if (!json.is_array() || json.size() != 2)
    return fail("This should be two sides: of what moves, and of the target.", key, "Write [\"low\", \"high\"].");
  Align::Axis& along = a.sides[kAxis];
  along.given = true;
  a.last = kAxis;
  if (auto ok = into(along.mine, side_from_json(json[0], key, scene)); !ok) return ok;
  return into(along.theirs, side_from_json(json[1], key, scene));
}
Json side_to_json(const AlignSide& side, const Scene& scene) {
  if (side.at != At::Place) return std::string(kSideKeys[static_cast<std::size_t>(side.at)]);
  return side.place ? Json(address_text(scene, *side.place)) : Json(nullptr);
}
template <std::size_t kAxis>
Json axis_to_json(const Align& a, const Scene& scene) {
  const Align::Axis& along = a.sides[kAxis];
  if (!along.given) return nullptr;
  return Json::array({side_to_json(along.mine, scene), side_to_json(along.theirs, scene)});
}

template <std::size_t kAxis>
Row<Align> file_row() {
  return {.key = kAxisKeys[kAxis],
          .name = kAxisKeys[kAxis],
          .write = axis_to_json<kAxis>,
          .read = axis_from_json<kAxis>,
          .value = "two of `low`, `middle`, `high`, `pivot` or a place; or `null`",
          .doc = kAxis == 0 ? "along x: what of the parts comes level with what of the target"
                            : "the same along this axis"};
}

bool any_axis(const Align& a) { return a.sides[0].given || a.sides[1].given || a.sides[2].given; }
bool half_given(const Align& a) { return a.pair_from.given() != a.pair_to.given(); }

Result<void> check(const Align& a) {
  if (!a.has_target()) return fail("Align needs something to align \"with\".", "with", "Click a part or a place.");
  if (half_given(a)) return fail("The pair lacks its other end.", "x", "Click it, or press Esc.");
  if (!any_axis(a)) return fail("Align needs sides along x, y or z.", "x", "Write [\"low\", \"high\"].");
  for (std::size_t i = 0; i < 3; ++i) {
    const Align::Axis& along = a.sides[i];
    if (!along.given && is_said(along.gap))
      return fail(fmt::format("Nothing is aligned along {}: a gap there means nothing.", kAxisKeys[i]), "gap");
    for (const AlignSide* side : {&along.mine, &along.theirs})
      if (along.given && side->at == At::Place && !side->place)
        return fail(fmt::format("A place along {} is missing.", kAxisKeys[i]), kAxisKeys[i]);
  }
  return {};
}

BlankId waits_for(const Align& a) {
  if (a.what.empty()) return {};
  return blank_of<Align>(a.pair_from.given() && !a.pair_to.given() ? ".to" : ".from");
}

Align next_after(const Align& a) {
  Align next;
  next.axes = a.axes;
  next.as = a.as;
  return next;
}

bool take_back(Align& a) {
  if (!a.pair_from.given() && !a.pair_to.given()) return false;
  a.pair_from = a.pair_to = {};
  return true;
}

// A place on what stays makes its part the target, where none has been chosen yet.
void give_end(Align& a, const TackAddress& place, bool mine) {
  (mine ? a.pair_from : a.pair_to) = {place, std::nullopt};
  if (!mine && !any_axis(a) && !a.with_all)
    set_target(a, place.part, is_on_part(place) ? std::nullopt : std::optional(place), false);
  a = with_pair_settled(std::move(a));
}

void offer_part(Align& a, PartId part) {
  const bool free = !any_axis(a) && !a.with_all && !a.with_place && !a.pair_to.given();
  const bool picked = std::find(a.what.begin(), a.what.end(), part) != a.what.end();
  if (free && !picked) a.with = part;
}

std::string left_of(const Align& a, const Scene& before, const Scene& after, const LengthUnit& unit) {
  const auto movers = movers_of(a, before);
  Mat3 frame;
  Result<Box> target = fail({});
  const auto nested = [&](PartId id) { return before.contains(id) && before.part(id).parent != kNoPart; };
  double worst = 0;
  PartId furthest = kNoPart;
  for (const PartId id : movers) {
    if (!nested(id) || !after.contains(id)) continue;
    if (!target || own_frames(a)) {
      frame = frame_of_part(a, before, own_frames(a) ? id : movers.front());
      target = target_box_without(a, before, frame, movers);
    }
    const auto way = target ? way_of(a, before, after, movers, id, frame, *target) : Result<Vec3>(Vec3{});
    if (!way) continue;
    const double off = length(*way), reach = length(pivot_in(after, id, frame)) + target->extent() + 1;
    if (off > 1e-9 * reach && off > worst) worst = off, furthest = id;
    if (a.as == Align::As::Block) break;
  }
  return furthest == kNoPart ? std::string() : strayed_sentence(name_of(before, furthest), worst, unit);
}

BlankId leading_gap(const Align& a) {
  return a.last < 0 ? BlankId{} : blank_of<Align>("gap", static_cast<std::size_t>(a.last));
}

void sentence(Phrase& s, const Align& a) {
  s.say("Aligned ", "Align ").blank("what").say(" with ");
  s.blank("with", 0, a.has_target() ? target_words(a, s.scene()) : "a part or a place", !a.has_target()).say(": ");
  const PartId own = a.what.size() == 1 ? a.what.front() : kNoPart;
  for (std::size_t i = 0; i < 3; ++i) {
    const Align::Axis& along = a.sides[i];
    s.say(std::string(kAxisKeys[i]) + " ");
    if (!along.given) {
      s.blank(".mine", i, "as it is").say(", ");
      continue;
    }
    s.blank(".mine", i, side_text(along.mine, s.scene(), own)).say(" to ");
    s.blank(".theirs", i, side_text(along.theirs, s.scene(), kNoPart));
    // Between middles nothing is apart unless that is asked for.
    const bool middles = along.mine.at == At::Middle && along.theirs.at == At::Middle;
    if (!middles || is_said(along.gap) || a.last == static_cast<int>(i)) s.say(" ").blank("gap", i).say(" apart");
    s.say(", ");
  }
  s.say("along ").blank("axes").say(" axes");
  if (a.what.size() > 1) s.say(", ").blank("as");
  if (half_given(a)) {
    const auto end = [&](const char* key, const AlignEnd& e, const char* waits) {
      const std::string words = e.place   ? place_words(s.scene(), *e.place, own)
                                : e.point ? point_words(*e.point)
                                          : std::string(waits);
      s.blank(key, 0, words, !e.given());
    };
    s.say("; now from ");
    end(".from", a.pair_from, "a side or place of it");
    s.say(" to ");
    end(".to", a.pair_to, "a side or place of the other");
  }
  s.say(".");
}

}  // namespace

Mat3 align_frame(const Align& a, const Scene& scene) {
  const auto movers = movers_of(a, scene);
  return movers.empty() ? Mat3{} : frame_of_part(a, scene, movers.front());
}

Box moving_box(const Align& a, const Scene& scene, const Mat3& frame) {
  Box all;
  for (const PartId id : movers_of(a, scene))
    if (const auto box = box_to_line_up(scene, id, frame)) all.include(*box);
  return all;
}

Result<Box> target_box(const Align& a, const Scene& scene, const Mat3& frame) {
  return target_box_without(a, scene, frame, movers_of(a, scene));
}

AxisSet axes_of_point(const Vec3& fraction) {
  AxisSet axes{fraction.x != 0.5, fraction.y != 0.5, fraction.z != 0.5};
  return axes == kNoAxes ? kAllAxes : axes;
}

Align with_pair_settled(Align a) {
  if (!a.pair_from.given() || !a.pair_to.given()) return a;
  const AxisSet mine = a.pair_from.point ? axes_of_point(*a.pair_from.point) : kAllAxes;
  const AxisSet theirs = a.pair_to.point ? axes_of_point(*a.pair_to.point) : kAllAxes;
  const bool meet = (mine[0] && theirs[0]) || (mine[1] && theirs[1]) || (mine[2] && theirs[2]);
  const auto side = [](const AlignEnd& end, std::size_t i) {
    if (end.place) return AlignSide{At::Place, end.place};
    const double f = (*end.point)[static_cast<int>(i)];
    return AlignSide{f == 0 ? At::Low : f == 1 ? At::High : At::Middle, std::nullopt};
  };
  for (std::size_t i = 0; i < 3; ++i)
    if (mine[i] && (theirs[i] || !meet)) {
      a.sides[i] = {true, side(a.pair_from, i), side(a.pair_to, i), {}};
      a.last = static_cast<int>(i);
    }
  a.pair_from = a.pair_to = {};
  return a;
}

void carry_places(Align& a, PartId was, PartId is) {
  for (Align::Axis& along : a.sides)
    if (along.mine.place && along.mine.place->part == was) along.mine.place->part = is;
}

Result<Scene> apply(const Align& a, const Scene& scene) {
  const auto movers = checked_movers(a, scene);
  if (!movers) return tl::unexpected(movers.error());
  Scene result = scene;
  const bool block = a.as == Align::As::Block;
  Mat3 frame = frame_of_part(a, scene, movers->front());
  auto target = target_box_without(a, scene, frame, *movers);
  if (!target) return tl::unexpected(target.error());
  const auto shift = [&](PartId id, const Vec3& way) -> Result<void> {
    Vec3 by;
    // Along World's axes what is not given stays as it is to the last bit.
    for (int i = 0; i < 3; ++i) by += frame.column[static_cast<std::size_t>(i)] * way[i];
    const Vec3 pivot = pivot_in_world(scene, id);
    return put_pivot(result, id, pivot + by);
  };
  for (const PartId id : *movers) {
    if (own_frames(a) && !block) {
      frame = frame_of_part(a, scene, id);
      target = target_box_without(a, scene, frame, *movers);
      if (!target) return tl::unexpected(target.error());
    }
    const auto way = way_of(a, scene, scene, *movers, id, frame, *target);
    if (!way) return tl::unexpected(way.error());
    const std::vector<PartId> alike = block ? *movers : std::vector<PartId>{id};
    for (const PartId each : alike)
      if (const auto ok = shift(each, *way); !ok) return tl::unexpected(ok.error());
    // Below other parts, and far from the origin, the stored digits may be put right by what is measured.
    const auto missing = [&](const Scene& now) -> std::optional<Vec3> {
      const auto left = way_of(a, scene, now, *movers, id, frame, *target);
      if (!left) return std::nullopt;
      return frame * *left;
    };
    if (scene.part(id).parent != kNoPart)
      if (const auto ok = settle(result, alike, id, missing); !ok) return tl::unexpected(ok.error());
    if (block) break;
  }
  return result;
}

// clang-format off
const Table<Align>& table_of(const Align*) {
  static const Table<Align> table{.key = "align",
      .does = "Brings sides, middles, pivots or places of parts level with those of a part, a place or all that is "
          "picked, along one, two or three axes.", .on_patches = true,
      .check = check, .waits = waits_for, .next = next_after, .left = left_of, .take_back = take_back,
      .offered = offer_part, .goes_on = true, .either_first = true,
      .leads = leading_gap, .axis = ".mine", .answer = "with",
      .hints = {.nothing = "Click the part to align.",
      .ready = "Click a square or a place of it, then one of what it is to be level with.",
      .done = "Done. Click the next pair of squares, type the gap, or correct a blank. Esc ends it."},
      .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Align::what>, .ask = "Click the part to align instead.",
     .needed = true, .always = true, .doc = "the parts that are aligned; only their positions change"},
    {.key = "with", .name = "With", .at = slot<&Align::with>, .ask = "Click the part to align with.",
     .needed = true, .options = target_options, .choose = choose_target,
     .place = [](Align& a, std::size_t, const TackAddress& place) { set_target(a, kNoPart, place, false); },
     .part = [](Align& a, std::size_t, PartId part) { set_target(a, part, std::nullopt, false); },
     .write = target_to_json, .read = target_from_json,
     .value = "a part's path, `\"selection\"`, `{\"plane\": name}`, or a place",
     .doc = "what they come level with: the box of a part and all below it, of all of `what`, a guide plane, a place; "
            "a part that is in `what` stays"},
    {.key = "axes", .name = "Axes", .at = slot<&Align::axes>, .ask = "Click the part whose own axes to use.",
     .doc = "left out: `world`, or those of the plane"},
    file_row<0>(), file_row<1>(), file_row<2>(),
    {.key = "gap", .name = "Gap along", .at = gap_slot, .three = true,
     .doc = "along each axis that is given, away from the target's middle"},
    {.key = "as", .name = "Each or as one block", .at = slot<&Align::as>, .choices = kAs,
     .doc = "`each` comes level by itself, or all go the same way as one `block`"},
    {.key = ".mine", .name = "Its side along", .at = mine_slot, .ask = "Click the place on it.", .acts = true,
     .three = true,
     .options = [](const Align&, const Scene&, std::size_t) { return side_options(true); },
     .choose = [](Align& a, std::size_t i, std::size_t o, const ChoiceContext&) { choose_side(a, i, o, true); },
     .place = [](Align& a, std::size_t i, const TackAddress& place) { place_side(a, i, place, true); }},
    {.key = ".theirs", .name = "Level with, along", .at = theirs_slot, .ask = "Click the place to be level with.",
     .acts = true, .three = true,
     .options = [](const Align&, const Scene&, std::size_t) { return side_options(false); },
     .choose = [](Align& a, std::size_t i, std::size_t o, const ChoiceContext&) { choose_side(a, i, o, false); },
     .place = [](Align& a, std::size_t i, const TackAddress& place) { place_side(a, i, place, false); }},
    {.key = ".from", .name = "From", .at = [](Align& a, std::size_t) -> Slot { return &a.pair_from.place; },
     .ask = "Click a square or a place of it, then one of what it is to be level with.", .role = Role::From,
     .place = [](Align& a, std::size_t, const TackAddress& place) { give_end(a, place, true); }},
    {.key = ".to", .name = "To", .at = [](Align& a, std::size_t) -> Slot { return &a.pair_to.place; },
     .ask = "Click a square or a place of what it is to be level with.", .role = Role::To,
     .place = [](Align& a, std::size_t, const TackAddress& place) { give_end(a, place, false); }},
  }};
  return table;
}
// clang-format on

}  // namespace tack
