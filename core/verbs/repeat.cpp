#include "core/verbs/repeat.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/verbs/mirror.h"
#include "core/verbs/move.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"
#include "core/verbs/rotate.h"
#include "core/verbs/round_an_axis.h"

namespace tack {
namespace {

using RWay = Repeat::Way;
using Measured = Repeat::Measured;

constexpr Choice kRepeatWays[] = {
    {"in a row along", ""}, {"in a row from", ""}, {"round", ""}, {"in a grid along", ""}, {"mirrored across", ""}};
constexpr Choice kMeasured[] = {{"from pivot to pivot", ""}, {"from box to box", ""}};
constexpr Choice kCopyKinds[] = {{"separate parts", "separate"}, {"instances", "instances"}};

Mat3 repeat_frame(const Repeat& r, const Scene& scene) {
  const auto parts = topmost(scene, r.what);
  return parts.empty() ? Mat3{} : squared_up(axes_frame(scene, parts.front(), r.axes).linear);
}

std::vector<int> counts_of(const Repeat& r) {
  if (r.way == RWay::Grid) return {r.counts[0], r.counts[1], r.counts[2]};
  return {r.way == RWay::Mirror ? 2 : r.count};
}

Result<std::vector<PartId>> originals_of(const Repeat& r, const Scene& scene) {
  if (r.what.empty()) return fail("Nothing is picked.", {}, "Pick a part first.");
  for (const PartId id : r.what)
    if (!scene.contains(id)) return fail("A part that this step repeats is no longer there.");
  return topmost(scene, r.what);
}

// A copy of each original, in their order.
struct Copier {
  const Scene& from;
  const std::vector<PartId>& originals;
  bool instances;
  OwnMeshes own = {};
  std::map<PartId, FreeNames> names = {};
  std::vector<PartId> add(Scene& scene) {
    std::vector<PartId> made;
    for (const PartId id : originals) {
      const PartId parent = from.part(id).parent;
      FreeNames& free = names.try_emplace(parent, from, parent).first->second;
      // Separate parts have a mesh each.
      if (!instances) own.clear();
      made.push_back(add_copy(scene, from, id, instances, free, own));
    }
    return made;
  }
};

Result<void> shift_all(Scene& scene, const std::vector<PartId>& parts, const Vec3& by) {
  for (const PartId id : parts) {
    const Vec3 pivot = pivot_in_world(scene, id);
    if (auto ok = put_pivot(scene, id, add_decimals(pivot, by)); !ok) return ok;
  }
  return {};
}

// `way` times a whole number, along a column of the frame: as Move works a typed length out.
Vec3 times(const Mat3& frame, const std::array<double, 3>& lengths, const std::array<int, 3>& steps) {
  Vec3 by;
  for (std::size_t i = 0; i < 3; ++i) by[static_cast<int>(i)] = lengths[i] * steps[i];
  return frame == Mat3{} ? by : frame * by;
}

Result<std::array<double, 3>> lengths_of(const Repeat& r, const Scene& scene) {
  const auto originals = originals_of(r, scene);
  if (!originals) return tl::unexpected(originals.error());
  std::array<double, 3> lengths{};
  const Mat3 frame = repeat_frame(r, scene);
  Box box;
  if (r.measured == Measured::Boxes) {
    box = box_along(scene, *originals, frame);
    if (box.empty())
      return fail(fmt::format("{} has no box.", names_of(scene, *originals)), "row", "Measure from pivot to pivot.");
  }
  for (std::size_t i = 0; i < 3; ++i) {
    const bool row = r.way == RWay::Row;
    if (row && static_cast<int>(i) != r.axis) continue;
    if (!row && r.counts[i] == 1) continue;
    const auto length =
        evaluate(row ? r.every : r.steps[i], EntryKind::Length, 0, Reading{scene, r.axes, originals->front()});
    if (!length) return tl::unexpected(length.error());
    lengths[i] = *length;
    // Backwards the gap is on the other side.
    if (r.measured == Measured::Boxes)
      lengths[i] = *length < 0 ? *length - box.size()[static_cast<int>(i)] : *length + box.size()[static_cast<int>(i)];
    if (!std::isfinite(lengths[i])) return fail("The distance is not finite.");
    if (lengths[i] == 0)
      return fail(fmt::format("They would all stand in one place along {}.", "xyz"[i]), row ? "row" : "grid",
                  "Give a distance.");
  }
  return lengths;
}

Result<Vec3> up_to(const Repeat& r, const Scene& scene) {
  const auto from = find_tack(scene, *r.from), to = find_tack(scene, *r.to);
  if (!from || !to) return tl::unexpected(from ? to.error() : from.error());
  const Vec3 way = to->point - from->point;
  if (!(length(way) > 1e-9 * (1 + length(from->point)))) return fail("The two places coincide.", "row");
  return way;
}

Result<Scene> in_a_row(const Repeat& r, const Scene& scene, const std::vector<PartId>& originals) {
  Scene result = scene;
  Copier copier{scene, originals, r.instances};
  const Mat3 frame = repeat_frame(r, scene);
  const auto lengths =
      r.way == RWay::UpTo ? Result<std::array<double, 3>>(std::array<double, 3>{}) : lengths_of(r, scene);
  if (!lengths) return tl::unexpected(lengths.error());
  const auto way = r.way == RWay::UpTo ? up_to(r, scene) : Result<Vec3>(Vec3{});
  if (!way) return tl::unexpected(way.error());
  const std::array<int, 3> counts = r.way == RWay::Grid ? r.counts : std::array<int, 3>{r.count, 1, 1};
  for (int k = 0; k < counts[2]; ++k)
    for (int j = 0; j < counts[1]; ++j)
      for (int i = 0; i < counts[0]; ++i) {
        if (i + j + k == 0) continue;
        Vec3 by;
        if (r.way == RWay::UpTo) {
          by = i + 1 == r.count ? *way : *way * (static_cast<double>(i) / (r.count - 1));
        } else if (r.way == RWay::Row) {
          std::array<int, 3> steps{};
          steps[static_cast<std::size_t>(r.axis)] = i;
          by = times(frame, *lengths, steps);
        } else {
          by = times(frame, *lengths, {i, j, k});
        }
        if (auto ok = shift_all(result, copier.add(result), by); !ok) return tl::unexpected(ok.error());
      }
  return result;
}

Result<Scene> round_an_axis(const Repeat& r, const Scene& scene, const std::vector<PartId>& originals) {
  const auto axis = axis_of(r, scene);
  if (!axis) return tl::unexpected(axis.error());
  const auto over = angle_over(r.over, Reading{scene, r.axes, originals.front()});
  if (!over) return tl::unexpected(over.error());
  const int gaps = gaps_round(*over, r.count);
  Scene result = scene;
  Copier copier{scene, originals, r.instances};
  for (int i = 1; i < r.count; ++i) {
    const double angle = *over * i / gaps;
    const std::vector<PartId> made = copier.add(result);
    if (r.turned) {
      // As a typed angle would have turned it, to the last bit.
      Rotate rotate;
      rotate.what = made;
      rotate.axes = r.axes;
      rotate.round.axis = r.axis;
      rotate.about = about_place(*r.about);
      rotate.angle = Amount{angle};
      auto turned = apply(rotate, result);
      if (!turned) return turned;
      result = std::move(*turned);
      continue;
    }
    const Mat3 rotation = rotation_about(axis->direction, angle);
    for (const PartId id : made) {
      const Vec3 pivot = pivot_in_world(result, id);
      if (auto ok = put_pivot(result, id, axis->at + rotation * (pivot - axis->at)); !ok)
        return tl::unexpected(ok.error());
    }
  }
  return result;
}

Result<Scene> mirror_image(const Repeat& r, const Scene& scene, const std::vector<PartId>& originals) {
  const auto across = axis_of(r, scene);
  if (!across) return tl::unexpected(across.error());
  Scene result = scene;
  Copier copier{scene, originals, r.instances};
  for (const PartId id : copier.add(result)) {
    const auto placement = mirrored(result, id, across->at, across->direction);
    if (!placement) return tl::unexpected(placement.error());
    result.place(id, *placement);
  }
  return result;
}

// --- the table

template <RWay... kWays>
std::string_view only_for(const Repeat& r) {
  return ((r.way == kWays) || ...) ? "" : "it is repeated in another way";
}
std::string_view axes_barred(const Repeat& r) {
  if (r.way == RWay::UpTo) return "the two places say it";
  return r.way == RWay::Mirror && r.plane != kNoPart ? "the plane says it" : "";
}
void by_place(Repeat& r, std::size_t, const TackAddress& place) {
  // K and a click in a row: round that place.
  if (r.way != RWay::Mirror) r.way = RWay::Round;
  r.about = place;
  r.plane = kNoPart;
}

Json row_to_json(const Repeat& r, const Scene& scene) {
  if (r.way == RWay::Row)
    return Json{{"along", axis_letter(r.axis)},
                {r.measured == Measured::Boxes ? "gap" : "every", amount_to_json(r.every)}};
  if (r.way == RWay::UpTo && r.from && r.to)
    return Json{{"from", address_text(scene, *r.from)}, {"to", address_text(scene, *r.to)}};
  return nullptr;
}

Result<int> axis_from_json(const Json& json, const char* key) {
  if (const auto axis = axis_named(json)) return *axis;
  return fail("This names no axis.", key, "Write x, y or z.");
}

Result<void> row_from_json(Repeat& r, const Json& json, const Scene& scene) {
  if (!json.is_object())
    return fail("This should be an object.", "row",
                "Write {\"along\": \"x\", \"every\": 90} or {\"from\": …, \"to\": …}.");
  if (auto ok = check_keys(json, {"along", "every", "gap", "from", "to"}); !ok) return ok;
  if (json.contains("from") || json.contains("to")) {
    if (json.size() != 2 || !json.contains("from") || !json.contains("to"))
      return fail("A row between places has \"from\" and \"to\", and nothing else.", "row");
    r.way = RWay::UpTo;
    if (auto ok = into(r.from, place_from_json(json["from"], "row", scene)); !ok) return ok;
    return into(r.to, place_from_json(json["to"], "row", scene));
  }
  if (!json.contains("along") || json.contains("every") == json.contains("gap"))
    return fail("A row has \"along\", and \"every\" or \"gap\".", "row");
  r.way = RWay::Row;
  if (auto ok = into(r.axis, axis_from_json(json["along"], "row")); !ok) return ok;
  r.measured = json.contains("gap") ? Measured::Boxes : Measured::Pivots;
  const Reading reading{scene, r.axes, r.what.empty() ? kNoPart : r.what.front()};
  return into(r.every, amount_from_json(json.contains("gap") ? json["gap"] : json["every"], EntryKind::Length, "row",
                                        reading, 0));
}

Json grid_to_json(const Repeat& r, const Scene&) {
  if (r.way != RWay::Grid) return nullptr;
  Json grid = Json::object();
  for (std::size_t i = 0; i < 3; ++i)
    if (r.counts[i] > 1)
      grid[axis_letter(static_cast<int>(i))] = Json::array({r.counts[i], amount_to_json(r.steps[i])});
  if (r.measured == Measured::Boxes) grid["gaps"] = true;
  return grid;
}
Result<void> grid_from_json(Repeat& r, const Json& json, const Scene& scene) {
  constexpr const char* kForm = "Write {\"x\": [4, 30], \"y\": [3, 30]}: how many, and the distance of pivots.";
  if (!json.is_object()) return fail("This should be an object.", "grid", kForm);
  if (auto ok = check_keys(json, {"x", "y", "z", "gaps"}); !ok) return ok;
  r.way = RWay::Grid;
  r.counts = {1, 1, 1};
  r.measured = Measured::Pivots;
  if (json.contains("gaps")) {
    if (!json["gaps"].is_boolean()) return fail("This should be true or false.", "grid, gaps");
    if (json["gaps"].get<bool>()) r.measured = Measured::Boxes;
  }
  const Reading reading{scene, r.axes, r.what.empty() ? kNoPart : r.what.front()};
  for (std::size_t i = 0; i < 3; ++i) {
    const std::string key = axis_letter(static_cast<int>(i));
    if (!json.contains(key)) continue;
    const Json& pair = json[key];
    if (!pair.is_array() || pair.size() != 2 || !pair[0].is_number_integer() || pair[0].get<double>() < 1 ||
        pair[0].get<double>() > Repeat::kMost)
      return fail("This should be a whole number, and a length.", "grid, " + key, kForm);
    r.counts[i] = pair[0].get<int>();
    if (auto ok = into(r.steps[i], amount_from_json(pair[1], EntryKind::Length, "grid, " + key, reading, 0)); !ok)
      return ok;
  }
  return {};
}

Json mirror_to_json(const Repeat& r, const Scene& scene) {
  if (r.way != RWay::Mirror) return nullptr;
  if (r.plane != kNoPart) return Json{{"plane", path_of(scene, r.plane)}};
  Json json{{"across", axis_letter(r.axis)}};
  if (r.about) json["at"] = address_text(scene, *r.about);
  return json;
}
Result<void> mirror_from_json(Repeat& r, const Json& json, const Scene& scene) {
  constexpr const char* kForm = "Write {\"plane\": \"Middle\"}, or {\"across\": \"x\", \"at\": a place}.";
  if (!json.is_object()) return fail("This should be an object.", "mirror", kForm);
  if (auto ok = check_keys(json, {"plane", "across", "at"}); !ok) return ok;
  r.way = RWay::Mirror;
  if (r.about) return fail("A mirror image says in \"mirror\" where it is.", "about", kForm);
  if (json.contains("plane")) {
    if (json.size() != 1) return fail("In a plane nothing else is to be said.", "mirror", kForm);
    const auto plane = part_from_json(json["plane"], "mirror", scene);
    if (!plane) return tl::unexpected(plane.error());
    if (scene.part(*plane).guide != GuideKind::Plane)
      return fail(fmt::format("\"{}\" is not a plane.", scene.part(*plane).name), "mirror");
    r.plane = *plane;
    return {};
  }
  if (!json.contains("across") || !json.contains("at"))
    return fail("A mirror image lies across an axis at a place.", "mirror", kForm);
  if (auto ok = into(r.axis, axis_from_json(json["across"], "mirror")); !ok) return ok;
  return into(r.about, place_from_json(json["at"], "mirror", scene));
}

Result<void> check(const Repeat& r) {
  if (r.way == RWay::UpTo && (!r.from || !r.to)) return fail("The row needs two places.", "row", "Click them.");
  if (r.way == RWay::Round && !r.about)
    return fail("Round what? A point of the axis is missing.", "about", "Click it.");
  if (r.way == RWay::Mirror && !r.about && r.plane == kNoPart)
    return fail("A mirror image needs a plane, or a place it goes through.", "mirror", "Click it.");
  double all = 1;
  for (const int count : counts_of(r)) {
    if (count < 1) return fail("There is at least the one that is there.", "count");
    all *= count;
  }
  if (all < 2) return fail("There is one already: say how many there are to be, 2 or more.", "count");
  if (all > Repeat::kMost)
    return fail(fmt::format("{:.0f} are too many at once; {} is the most.", all, Repeat::kMost), "count");
  return {};
}

BlankId waits_for(const Repeat& r) {
  if (r.what.empty()) return {};
  if (r.way == RWay::UpTo) return !r.from ? blank_of<Repeat>(".from") : !r.to ? blank_of<Repeat>(".to") : BlankId{};
  const bool lacks = (r.way == RWay::Round && !r.about) || (r.way == RWay::Mirror && !r.about && r.plane == kNoPart);
  return lacks ? blank_of<Repeat>("about") : BlankId{};
}

Repeat next_after(const Repeat& r) {
  Repeat next = r;
  next.what.clear();
  next.from.reset();
  next.to.reset();
  next.about.reset();
  return next;
}

std::vector<Option> about_choices(const Repeat& r, const Scene&, std::size_t) {
  if (r.way != RWay::Mirror) return {};
  return {{"a place (click it)", Click::Place}, {"a guide plane (click it in Parts)", Click::Part}};
}

void along_axis(Repeat& r, std::size_t axis) { r.axis = static_cast<int>(axis); }

bool is_heavy(const Repeat& r, const Scene&) {
  constexpr double kMostShown = 2000;
  double all = static_cast<double>(r.what.size());
  for (const int count : counts_of(r)) all *= count;
  return all > kMostShown;
}

std::string remark_of(const Repeat& r, const Scene&, const Scene&) {
  return r.way == RWay::Mirror ? "The copy is a mirror image: one of its factors is negative." : std::string();
}

void sentence(Phrase& s, const Repeat& r) {
  const bool one = r.way == RWay::Mirror, grid = r.way == RWay::Grid;
  s.say("Repeated ", "Repeat ").blank("what");
  if (!one) s.say(" so that there are ");
  if (grid)
    s.blank(".counts", 0).say(" × ").blank(".counts", 1).say(" × ").blank(".counts", 2);
  else if (!one)
    s.blank("count");
  s.say(one ? " " : ", ").blank(".way").say(" ");
  switch (r.way) {
    case RWay::Row:
      s.blank(".axis").say(" of ").blank("axes").say(" axes, ").blank(".every").say(" ").blank(".measured");
      break;
    case RWay::UpTo: s.blank(".from").say(" to ").blank(".to"); break;
    case RWay::Round:
      s.blank(".axis").say(" of ").blank("axes").say(" axes about ").blank("about").say(", over ").blank("over");
      s.say(", ").blank("turned");
      break;
    case RWay::Grid: s.blank("axes").say(" axes, ").three(".steps").say(" ").blank(".measured"); break;
    case RWay::Mirror:
      if (r.plane != kNoPart) {
        s.blank("about", 0, name_of(s.scene(), r.plane));
      } else {
        s.blank(".axis").say(" of ").blank("axes").say(" axes at ").blank("about");
      }
      break;
  }
  s.say(", as ").blank("copies").say(".");
}

}  // namespace

Result<std::array<Vec3, 3>> steps_of(const Repeat& r, const Scene& scene) {
  std::array<Vec3, 3> steps;
  if (r.way == RWay::UpTo) {
    if (!r.from || !r.to) return fail("The row needs two places.", "row");
    const auto way = up_to(r, scene);
    if (!way) return tl::unexpected(way.error());
    steps[0] = *way / std::max(1, r.count - 1);
    return steps;
  }
  const auto lengths = lengths_of(r, scene);
  if (!lengths) return tl::unexpected(lengths.error());
  const Mat3 frame = repeat_frame(r, scene);
  for (std::size_t i = 0; i < 3; ++i) {
    const std::size_t slot = r.way == RWay::Row ? 0 : i;
    if (r.way == RWay::Row && static_cast<int>(i) != r.axis) continue;
    steps[slot] = frame.column[i] * (*lengths)[i];
  }
  return steps;
}

Result<RepeatAxis> axis_of(const Repeat& r, const Scene& scene) {
  if (r.way == RWay::Mirror && r.plane != kNoPart) {
    if (!scene.contains(r.plane)) return fail("The plane to mirror in has been deleted.", "mirror");
    if (scene.part(r.plane).guide != GuideKind::Plane)
      return fail(fmt::format("\"{}\" is not a plane.", scene.part(r.plane).name), "mirror",
                  "Click a guide plane, or a place.");
    return RepeatAxis{pivot_in_world(scene, r.plane), own_axes(scene, r.plane).column[2]};
  }
  if (!r.about) return fail("A point of the axis is missing.", "about");
  const auto about = find_tack(scene, *r.about);
  if (!about) return tl::unexpected(about.error());
  const auto originals = originals_of(r, scene);
  if (!originals) return tl::unexpected(originals.error());
  if (r.way == RWay::Mirror)
    return RepeatAxis{about->point, repeat_frame(r, scene).column[static_cast<std::size_t>(r.axis)]};
  // The axis that Rotate turns about: of a skewed parent its own, as it is.
  Rotate rotate;
  rotate.axes = r.axes;
  rotate.round.axis = r.axis;
  const auto axis = turning_axis(rotate, scene, originals->front());
  if (!axis) return tl::unexpected(axis.error());
  return RepeatAxis{about->point, *axis};
}

Result<Scene> apply(const Repeat& r, const Scene& scene) {
  const auto originals = originals_of(r, scene);
  if (!originals) return tl::unexpected(originals.error());
  switch (r.way) {
    case RWay::Round: return round_an_axis(r, scene, *originals);
    case RWay::Mirror: return mirror_image(r, scene, *originals);
    default: return in_a_row(r, scene, *originals);
  }
}

// clang-format off
const Table<Repeat>& table_of(const Repeat*) {
  static const Table<Repeat> table{.key = "repeat",
      .does = "Adds more of the same, in a row, round an axis, in a grid, or as a mirror image.",
      .check = check, .waits = waits_for, .next = next_after, .remark = remark_of, .to_axis = along_axis, .at_once = true, .heavy = is_heavy,
      .leading = "count", .still = "about",
      .hints = {.nothing = "Click the part to repeat.",
      .ready = "Enter, or Do it, makes them as shown. Type how many; X, Y, Z: along or round that axis.",
      .done = "Done. Type how many, drag the ruler, or click a blank to change it.",
      .dragging = "Type a distance, or let go."},
      .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Repeat::what>, .ask = "Click the part to repeat instead.",
     .needed = true, .always = true, .doc = "the parts that are repeated, as one body, with everything below them"},
    {.key = "axes", .name = "Axes", .at = slot<&Repeat::axes>, .ask = "Click the part whose own axes to use.",
     .barred = axes_barred, .doc = "those of the first part where each has its own; left out: `world`"},
    {.key = "row", .name = "In a row", .write = row_to_json, .read = row_from_json,
     .value = "`{\"along\": \"x\", \"every\": length}`, `{\"along\": \"x\", \"gap\": length}`, or `{\"from\": place, \"to\": place}`",
     .doc = "`every` is from pivot to pivot, `gap` from box to box; between places the last one is as far on as the second place"},
    {.key = "round", .name = "Round an axis",
     .write = [](const Repeat& r, const Scene&) {
           return r.way == RWay::Round ? Json(axis_letter(r.axis)) : Json(nullptr);
         },
     .read = [](Repeat& r, const Json& json, const Scene&) {
           r.way = RWay::Round;
           return into(r.axis, axis_from_json(json, "round"));
         },
     .value = "`x`, `y`, `z`", .doc = "round this axis"},
    {.key = "about", .name = "About", .at = slot<&Repeat::about>,
     .ask = "Click a point of the axis, or of the plane to mirror in.", .waiting = "a place",
     .barred = only_for<RWay::Round, RWay::Mirror>, .options = about_choices, .place = by_place,
     .part = [](Repeat& r, std::size_t, PartId part) {
           r.plane = part;
           r.about.reset();
         },
     .write = [](const Repeat& r, const Scene& scene) {
           return r.way == RWay::Round && r.about ? Json(address_text(scene, *r.about)) : Json(nullptr);
         },
     .read = [](Repeat& r, const Json& json, const Scene& scene) { return into(r.about, place_from_json(json, "about", scene)); },
     .value = "place", .doc = "a point of the axis; with `round`"},
    over_row<Repeat>(only_for<RWay::Round>),
    {.key = "turned", .name = "Turning along or not", .at = slot<&Repeat::turned>, .choices = kTurnedAlong, .always = true,
     .barred = only_for<RWay::Round>, .doc = "the copies turn along; else only their pivots move"},
    {.key = "grid", .name = "In a grid", .write = grid_to_json, .read = grid_from_json,
     .value = "`{\"x\": [number, length], \"y\": …, \"z\": …}`",
     .doc = "how many along each axis, with the original, and the distance of pivots; with `\"gaps\": true` the gap of boxes"},
    {.key = "mirror", .name = "Mirrored", .write = mirror_to_json, .read = mirror_from_json,
     .value = "`{\"plane\": name}`, or `{\"across\": \"x\", \"at\": place}`",
     .doc = "one mirror image, in a guide plane or across an axis; its placement has one negative factor"},
    {.key = "count", .name = "How many", .at = slot<&Repeat::count>, .kind = EntryKind::Factor,
     .barred = [](const Repeat& r) -> std::string_view {
           return r.way == RWay::Grid ? "a grid says how many along each axis" : r.way == RWay::Mirror ? "there is one mirror image" : "";
         },
     .now = [](const Repeat& r, const Scene&, std::size_t) { return std::optional(double(r.count)); },
     .doc = "how many there are then, with the original"},
    {.key = "copies", .name = "Instances or separate parts", .at = slot<&Repeat::instances>, .choices = kCopyKinds,
     .always = true,
     .write = [](const Repeat& r, const Scene&) { return Json(r.instances ? "instances" : "separate"); },
     .read = [](Repeat& r, const Json& json, const Scene&) -> Result<void> {
           if (json != "instances" && json != "separate")
             return fail("This is not known here.", "copies", "Write instances or separate.");
           r.instances = json == "instances";
           return {};
         },
     .value = "`instances`, `separate`", .doc = "whether they share the mesh; left out: `instances`"},
    {.key = ".way", .name = "How", .at = slot<&Repeat::way>, .choices = kRepeatWays},
    {.key = ".axis", .name = "Axis", .at = [](Repeat& r, std::size_t) { return axis_number(r.axis); },
     .choices = kAxisLetters},
    {.key = ".every", .name = "Distance", .at = slot<&Repeat::every>, .barred = only_for<RWay::Row>},
    {.key = ".measured", .name = "Between pivots or boxes", .at = slot<&Repeat::measured>, .choices = kMeasured,
     .barred = only_for<RWay::Row, RWay::Grid>},
    {.key = ".counts", .name = "How many along", .at = [](Repeat& r, std::size_t i) -> Slot { return &r.counts[i % 3]; },
     .kind = EntryKind::Factor, .three = true, .barred = only_for<RWay::Grid>},
    {.key = ".steps", .name = "Distance along", .at = slot<&Repeat::steps>, .three = true, .barred = only_for<RWay::Grid>},
    {.key = ".from", .name = "From", .at = slot<&Repeat::from>, .ask = "Click the place that the row begins at.",
     .waiting = "a place", .barred = only_for<RWay::UpTo>},
    {.key = ".to", .name = "To", .at = slot<&Repeat::to>, .ask = "Click the place that the last one reaches.",
     .waiting = "another place", .barred = only_for<RWay::UpTo>},
  }};
  return table;
}
// clang-format on

}  // namespace tack
