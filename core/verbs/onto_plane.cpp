#include "core/verbs/onto_plane.h"

#include <fmt/format.h>

#include "core/catch/guide_law.h"
#include "core/verbs/parts.h"
#include "core/verbs/phrase.h"
#include "core/verbs/plane.h"
#include "core/verbs/rigid.h"

namespace tack {
namespace {

constexpr Choice kLeavesCopy[] = {{"itself", ""}, {"a copy of", ""}};
constexpr std::size_t kMostKnown = 16;  // planes that a part remembers having had its numbers on

// From where something is on one plane to where it is on the other.
Affine between_planes(const Affine& from, const Affine& to) {
  const Mat3 turn = to.linear * transpose(from.linear);
  return {turn, to.translation - turn * from.translation};
}

Result<void> check_stays(const Scene& scene, const std::vector<PartId>& parts, PartId plane, std::string_view key) {
  if (auto ok = check_plane(scene, plane, key); !ok) return ok;
  if (plane == kNoPart || !moves_with(scene, parts, plane)) return {};
  return fail(fmt::format("\"{}\" moves, too.", scene.part(plane).name), std::string(key),
              "Choose a plane that stays where it is.");
}

// Where the part stood with these numbers: on the plane it comes from as it is now, and on those before as long as
// nothing has touched it since.
std::vector<SameNumbers::At> known_places(const Part& part, const Affine& plane, const Affine& parent) {
  const SameNumbers::At here{plane, parent, part.placement};
  if (part.had && std::find(part.had->known.begin(), part.had->known.end(), here) != part.had->known.end())
    return part.had->known;
  return {here};
}

// A group of typed numbers that says the same on another plane.
TypedGroup on_plane(const TypedGroup& typed, const OntoPlane& o, bool at_top) {
  const bool world = typed.axes == AxesKind::World || (typed.axes == AxesKind::Parent && at_top);
  const bool is_from = (world && o.from == kNoPart) || (typed.axes == AxesKind::Plane && typed.of == o.from);
  if (!is_from) return {};
  TypedGroup there = typed;
  there.axes = o.to == kNoPart ? AxesKind::World : AxesKind::Plane;
  there.of = o.to;
  return there;
}

Result<void> bring(const OntoPlane& o, const Scene& start, Scene& scene, PartId id) {
  const Affine from = plane_frame(start, o.from), to = plane_frame(start, o.to), parent = parent_world_of(start, id);
  Part part = start.part(id);
  std::vector<SameNumbers::At> known = known_places(part, from, parent);
  const auto had = std::find_if(known.begin(), known.end(),
                                [&](const SameNumbers::At& at) { return at.plane == to && at.parent == parent; });
  if (had != known.end()) {
    scene.place(id, had->placement);
  } else {
    const Mat3 turn = between_planes(from, to).linear;
    auto moved = moved_rigidly(scene, {id}, turn, from.translation, to.translation);
    if (!moved) return tl::unexpected(moved.error());
    scene = *std::move(moved);
    if (known.size() == kMostKnown) known.erase(known.begin());
    known.push_back({to, parent, scene.part(id).placement});
  }
  const TypedNumbers& typed = typed_numbers(part.typed);
  const bool at_top = part.parent == kNoPart;
  TypedNumbers there{on_plane(typed.position, o, at_top), on_plane(typed.rotation, o, at_top),
                     on_plane(typed.scale, o, at_top)};
  part = scene.part(id);
  part.typed = std::make_shared<const TypedNumbers>(std::move(there));
  part.had = std::make_shared<const SameNumbers>(SameNumbers{std::move(known)});
  scene.replace(id, std::move(part));
  return {};
}

std::string left_of(const OntoPlane& o, const Scene& before, const Scene& after, const LengthUnit& unit) {
  const Affine motion = between_planes(plane_frame(before, o.from), plane_frame(before, o.to));
  return strayed_words(
      before, after, o.what, [&](PartId) { return std::optional(motion); }, unit);
}

template <class V>
V next_after(const V& v) {
  V next = v;
  next.what.clear();
  next.leave_copy = false;
  if constexpr (requires { next.places; }) next.places = {};
  return next;
}

// A row for a plane, by its member.
template <class V, auto kMember>
constexpr Row<V> plane_row(std::string_view key, std::string_view name, std::string_view doc) {
  return {.key = key,
          .name = name,
          .at = slot<kMember>,
          .ask = "Click the plane in Parts.",
          .always = true,
          .options = [](const V&, const Scene& scene, std::size_t) { return plane_options(scene); },
          .choose =
              [](V& v, std::size_t, std::size_t option, const ChoiceContext& context) {
                if (const auto plane = plane_chosen(option, context)) v.*kMember = *plane;
              },
          .write = [](const V& v, const Scene& scene) { return plane_to_json(v.*kMember, scene); },
          .read = [](V& v, const Json& json,
                     const Scene& scene) { return into(v.*kMember, plane_from_json(json, "plane", scene)); },
          .value = "a plane's path, or `World`",
          .doc = doc};
}

Result<void> check(const OntoPlane& o) {
  return o.from == o.to ? fail("The two planes are one: there is nothing to bring.", "to", "Choose another plane.")
                        : Result<void>();
}

void sentence(Phrase& s, const OntoPlane& o) {
  s.say("Brought ", "Bring ");
  if (o.leave_copy) s.blank("copy").say(" ");
  s.blank("what").say(" from ").blank("from", 0, plane_words(s.scene(), o.from));
  s.say(" onto ").blank("to", 0, plane_words(s.scene(), o.to)).say(", keeping its numbers.");
  if (!o.leave_copy) s.offer("copy", 0, "leave a copy");
}

// --- lay

constexpr std::string_view kPlaceKeys[] = {".origin", ".second", ".third"};

template <std::size_t kNumber>
Slot place_slot(Lay& l, std::size_t) {
  return &l.places[kNumber];
}

Json on_to_json(const Lay& l, const Scene& scene) { return Json{{"plane", plane_to_json(l.on, scene)}}; }
Result<void> on_from_json(Lay& l, const Json& json, const Scene& scene) {
  if (!json.is_object() || json.size() != 1 || !json.contains("plane"))
    return fail("This should say which plane.", "on", "Write {\"plane\": \"Ramp\"}, or {\"plane\": \"World\"}.");
  return into(l.on, plane_from_json(json["plane"], "on", scene));
}

Json places_to_json(const Lay& l, const Scene& scene) {
  Json list = Json::array();
  for (const auto& place : l.places) list.push_back(place ? Json(address_text(scene, *place)) : Json(nullptr));
  return list;
}
Result<void> places_from_json(Lay& l, const Json& json, const Scene& scene) {
  if (!json.is_array() || json.size() != 3)
    return fail("This should be three places: for the origin, for x, and one to lie flat by.", "places");
  for (std::size_t i = 0; i < 3; ++i)
    if (auto ok = into(l.places[i], place_from_json(json[i], "places", scene)); !ok) return ok;
  return {};
}

Result<void> check(const Lay& l) {
  for (const auto& place : l.places)
    if (!place) return fail("A part is laid by three of its places.", "places", "Click them.");
  return {};
}

BlankId waits_for(const Lay& l) {
  if (l.what.empty()) return {};
  for (std::size_t i = 0; i < 3; ++i)
    if (!l.places[i]) return blank_of<Lay>(kPlaceKeys[i]);
  return {};
}

bool take_back(Lay& l) {
  for (std::size_t i = 3; i-- > 0;)
    if (l.places[i]) return l.places[i].reset(), true;
  return false;
}

Result<std::array<Vec3, 3>> points_of(const Lay& l, const Scene& scene) {
  std::array<Vec3, 3> points;
  for (std::size_t i = 0; i < 3; ++i) {
    const auto tack = l.places[i] ? find_tack(scene, *l.places[i]) : Result<Tack>(fail("A place is missing."));
    if (!tack) return tl::unexpected(tack.error());
    points[i] = tack->point;
  }
  return points;
}

// What is left of the three: the first off the origin, the second off x, the third off the plane.
std::string left_of(const Lay& l, const Scene&, const Scene& after, const LengthUnit& unit) {
  const auto points = points_of(l, after);
  const auto back = inverse(plane_frame(after, l.on));
  if (!points || !back) return {};
  const Vec3 a = *back * (*points)[0], b = *back * (*points)[1], c = *back * (*points)[2];
  const double off[] = {length(a), std::hypot(b.y, b.z), std::abs(c.z)};
  const double bound =
      1e-9 * (1 + length((*points)[0]) + distance((*points)[0], (*points)[1]) + distance((*points)[0], (*points)[2]));
  constexpr std::string_view kWords[] = {"The first place is {} off the origin.", "The second place is {} off x.",
                                         "The third place is {} off the plane."};
  for (std::size_t i = 0; i < 3; ++i)
    if (off[i] > bound) return fmt::format(fmt::runtime(kWords[i]), show_length(off[i], unit, 9).text);
  return {};
}

void sentence(Phrase& s, const Lay& l) {
  s.say("Laid ", "Lay ");
  if (l.leave_copy) s.blank("copy").say(" ");
  s.blank("what").say(" on ").blank("on", 0, plane_words(s.scene(), l.on)).say(" by ").blank(".origin");
  s.say(" on its origin, ").blank(".second").say(" on its x, ").blank(".third").say(" flat.");
  if (!l.leave_copy) s.offer("copy", 0, "leave a copy");
}

}  // namespace

Result<Scene> apply(const OntoPlane& o, const Scene& scene) {
  const auto parts = movable(scene, o.what);
  if (!parts) return tl::unexpected(parts.error());
  for (const auto& [plane, key] : {std::pair{o.from, "from"}, {o.to, "to"}})
    if (const auto ok = check_stays(scene, *parts, plane, key); !ok) return tl::unexpected(ok.error());
  Scene result = o.leave_copy ? with_copies_left(scene, *parts) : scene;
  for (const PartId id : *parts)
    if (const auto ok = bring(o, scene, result, id); !ok) return tl::unexpected(ok.error());
  return result;
}

Result<Scene> apply(const Lay& l, const Scene& scene) {
  const auto parts = movable(scene, l.what);
  if (!parts) return tl::unexpected(parts.error());
  if (const auto ok = check_stays(scene, *parts, l.on, "on"); !ok) return tl::unexpected(ok.error());
  for (const auto& place : l.places) {
    if (!is_on_part(*place)) return fail("A part is laid by places that are on it.", "places", "Click a place on it.");
    if (const auto ok = check_from_moves(scene, *parts, *place); !ok) return tl::unexpected(ok.error());
  }
  const auto points = points_of(l, scene);
  if (!points) return tl::unexpected(points.error());
  const auto own = frame_through((*points)[0], (*points)[1], (*points)[2]);
  if (!own) return tl::unexpected(own.error());
  const Affine plane = plane_frame(scene, l.on);
  auto result = moved_rigidly(l.leave_copy ? with_copies_left(scene, *parts) : scene, *parts,
                              plane.linear * transpose(own->linear), own->translation, plane.translation);
  if (!result) return result;
  const PartId leading = carrier_of(scene, *parts, l.places[0]->part);
  const auto missing = [&](const Scene& now) -> std::optional<Vec3> {
    const auto tack = find_tack(now, *l.places[0]);
    return tack ? std::optional(plane.translation - tack->point) : std::nullopt;
  };
  if (const auto ok = settle(*result, *parts, leading, missing); !ok) return tl::unexpected(ok.error());
  return result;
}

// clang-format off
const Table<OntoPlane>& table_of(const OntoPlane*) {
  static const Table<OntoPlane> table{.key = "onto-plane",
      .does = "Brings parts from one plane onto another, keeping their numbers.", .check = check,
      .next = next_after<OntoPlane>, .left = left_of, .at_once = true,
      .hints = {.nothing = "Pick the parts to bring.", .ready = "Enter, or Do it, brings them as shown.",
      .done = "Done. Click a blank to change it."}, .sentence = sentence, .rows = {
    what_row<OntoPlane>("Click the part to bring instead.", "the parts that are brought"),
    plane_row<OntoPlane, &OntoPlane::from>("from", "From", "the plane on which they have these numbers"),
    plane_row<OntoPlane, &OntoPlane::to>("to", "Onto", "the plane on which they get them"),
    {.key = "copy", .name = "A copy stays", .at = slot<&OntoPlane::leave_copy>, .choices = kLeavesCopy, .doc = "whether a copy stays behind"},
  }};
  return table;
}
const Table<Lay>& table_of(const Lay*) {
  static const Table<Lay> table{.key = "lay", .does = "Lays parts on a plane by three of their places.", .check = check,
      .waits = waits_for, .next = next_after<Lay>, .left = left_of, .take_back = take_back,
      .hints = {.nothing = "Pick the parts to lay.", .ready = "Click three places on them.",
      .done = "Done. Click a blank to change it."}, .sentence = sentence, .rows = {
    what_row<Lay>("Click the part to lay instead.", "the parts that are laid, as one body"),
    {.key = "on", .name = "On", .at = slot<&Lay::on>, .ask = "Click the plane in Parts.", .always = true,
     .options = [](const Lay&, const Scene& scene, std::size_t) { return plane_options(scene); },
     .choose = [](Lay& l, std::size_t, std::size_t option, const ChoiceContext& context) {
           if (const auto plane = plane_chosen(option, context)) l.on = *plane;
         },
     .write = on_to_json, .read = on_from_json, .value = "`{\"plane\": name}`", .doc = "the plane; left out: World"},
    {.key = "places", .name = "Three places", .needed = true, .write = places_to_json, .read = places_from_json,
     .value = "three places", .doc = "on what is laid: for the origin, for x, and one to lie flat by"},
    {.key = ".origin", .name = "Place for the origin", .at = place_slot<0>,
     .ask = "Click the place on the part that goes to the plane's origin.", .waiting = "a place", .role = Role::From},
    {.key = ".second", .name = "Place for x", .at = place_slot<1>,
     .ask = "Click a second place on it: it comes to lie on the plane's x.", .waiting = "a second", .role = Role::From},
    {.key = ".third", .name = "Place to lie flat by", .at = place_slot<2>,
     .ask = "Click a third place on it: it comes to lie on the plane.", .waiting = "a third", .role = Role::From},
    {.key = "copy", .name = "A copy stays", .at = slot<&Lay::leave_copy>, .choices = kLeavesCopy, .doc = "whether a copy stays behind"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
