#include "core/verbs/plane.h"

#include <fmt/format.h>

#include "core/catch/guide_law.h"
#include "core/math/degrees.h"
#include "core/verbs/phrase.h"

namespace tack {
namespace {

using PlaneWay = LayPlane::Way;

constexpr Choice kPlaneWays[] = {
    {"through", ""}, {"on", ""}, {"beside", ""}, {"square to the view", ""}, {"by numbers", ""}};
constexpr Choice kPlaneUse[] = {{"not in use yet", ""}, {"in use at once", ""}};

PlaneWay way_of(const LayPlane& p) { return p.way.value_or(PlaneWay::Through); }
GuideHolding holding_of(const LayPlane& p) {
  return p.holds.value_or(way_of(p) == PlaneWay::Beside ? GuideHolding::Follows : GuideHolding::Stays);
}
bool is_turned_off(const LayPlane& p) { return way_of(p) == PlaneWay::On || way_of(p) == PlaneWay::Beside; }

// Whether what it is laid by can move: World and a view do not, and numbers are none.
bool may_follow(const LayPlane& p) {
  return way_of(p) == PlaneWay::Through || way_of(p) == PlaneWay::On ||
         (way_of(p) == PlaneWay::Beside && p.of != kNoPart);
}

// What a plane through places, on one or beside another is laid by.
Result<GuideLaw> law_of(const LayPlane& p, const Scene& scene) {
  GuideLaw law;
  if (way_of(p) == PlaneWay::Through) {
    law.kind = GuideLaw::Kind::Points;
    for (const auto& place : p.through) law.places.push_back(place.value_or(TackAddress{}));
    return law;
  }
  if (way_of(p) == PlaneWay::On)
    law.places = {p.at.value_or(TackAddress{})};
  else
    law.places = {p.of == kNoPart ? TackAddress{TackKind::PlanePoint, kNoPart, 0, {}}
                                  : TackAddress{TackKind::Pivot, p.of, 0, {}}};
  const auto offset = evaluate(p.offset, EntryKind::Length, 0, Reading(scene));
  if (!offset) return tl::unexpected(offset.error());
  const auto angle = evaluate(p.angle, EntryKind::Angle, 0, Reading(scene));
  if (!angle) return tl::unexpected(angle.error());
  law.offset = *offset;
  law.angle = *angle;
  law.round = p.round;
  law.across = p.across;
  return law;
}

// Three typed values; what is left out is 0.
Result<Vec3> values_of(const Amounts& amounts, EntryKind kind, const Scene& scene) {
  Vec3 values;
  for (std::size_t i = 0; i < 3; ++i) {
    if (!amounts[i]) continue;
    const auto value = evaluate(*amounts[i], kind, 0, Reading(scene));
    if (!value) return tl::unexpected(value.error());
    values[static_cast<int>(i)] = *value;
  }
  return values;
}

TypedGroup typed_as(const Amounts& amounts, const Vec3& values) {
  TypedGroup typed;
  for (std::size_t i = 0; i < 3; ++i) {
    if (!amounts[i]) continue;
    typed.values[i] = values[static_cast<int>(i)];
    if (!uses_it(*amounts[i])) typed.text[i] = amounts[i]->text;
  }
  return typed;
}

Slot way_slot(LayPlane& p, std::size_t i) { return detail::slot_in(p.way, i); }
Slot round_slot(LayPlane& p, std::size_t) { return axis_number(p.round); }
Slot across_slot(LayPlane& p, std::size_t) { return axis_number(p.across); }
template <std::size_t kNumber>
Slot through_slot(LayPlane& p, std::size_t) {
  return &p.through[kNumber];
}

// Giving one way sets the others aside.
void given_way(LayPlane& p, PlaneWay way) {
  if (p.way != way) p.holds.reset();
  p.way = way;
}

// A file says it in one way.
Result<void> say_way(LayPlane& p, PlaneWay way, const char* key) {
  if (p.way && *p.way != way)
    return fail(fmt::format("\"{}\" does not go with the other keys: a plane is said in one way.", key), key,
                "Use through, at, of, view, or position and rotation.");
  p.way = way;
  return {};
}

Json through_to_json(const LayPlane& p, const Scene& scene) {
  if (way_of(p) != PlaneWay::Through) return nullptr;
  Json list = Json::array();
  for (const auto& place : p.through) list.push_back(place ? Json(address_text(scene, *place)) : Json(nullptr));
  return list;
}
Result<void> through_from_json(LayPlane& p, const Json& json, const Scene& scene) {
  if (!json.is_array() || json.size() != 3)
    return fail("This should be three places: its origin, one that x points to, and one that it is flat through.",
                "through");
  for (std::size_t i = 0; i < 3; ++i)
    if (auto ok = into(p.through[i], place_from_json(json[i], "through", scene)); !ok) return ok;
  return say_way(p, PlaneWay::Through, "through");
}

Json view_to_json(const LayPlane& p, const Scene&) {
  if (way_of(p) != PlaneWay::View) return nullptr;
  Json columns = Json::array();
  for (const Vec3& c : p.view.column) columns.push_back(Json::array({c.x, c.y, c.z}));
  return columns;
}
Result<void> view_from_json(LayPlane& p, const Json& json, const Scene& scene) {
  const auto axes = axes_from_json(Json{{"view", json}}, scene);
  if (!axes) return fail(axes.error().what, "view", axes.error().remedy);
  p.view = axes->view;
  return say_way(p, PlaneWay::View, "view");
}

Json at_to_json(const LayPlane& p, const Scene& scene) {
  const bool said = (way_of(p) == PlaneWay::On || way_of(p) == PlaneWay::View) && p.at;
  return said ? Json(address_text(scene, *p.at)) : Json(nullptr);
}
Result<void> at_from_json(LayPlane& p, const Json& json, const Scene& scene) {
  if (auto ok = into(p.at, place_from_json(json, "at", scene)); !ok) return ok;
  return p.way == PlaneWay::View ? Result<void>() : say_way(p, PlaneWay::On, "at");
}

Json of_to_json(const LayPlane& p, const Scene& scene) {
  return way_of(p) == PlaneWay::Beside ? plane_to_json(p.of, scene) : Json(nullptr);
}
Result<void> of_from_json(LayPlane& p, const Json& json, const Scene& scene) {
  if (json != std::string(kWorldPlane))
    if (auto ok = into(p.of, part_from_json(json, "of", scene)); !ok) return ok;
  return say_way(p, PlaneWay::Beside, "of");
}

Json turned_to_json(const LayPlane& p, const Scene&) {
  if (!is_turned_off(p) || !is_said(p.angle)) return nullptr;
  return Json{{"round", axis_letter(p.round)}, {"angle", amount_to_json(p.angle)}};
}
Result<void> turned_from_json(LayPlane& p, const Json& json, const Scene& scene) {
  constexpr const char* kForm = "Write {\"round\": \"x\", \"angle\": 7.5}.";
  if (!json.is_object() || !json.contains("round") || !json.contains("angle"))
    return fail("This should be an axis and an angle.", "turned", kForm);
  if (auto ok = check_keys(json, {"round", "angle"}); !ok) return ok;
  const auto axis = axis_named(json["round"]);
  if (!axis) return fail("An axis is x, y or z.", "turned", kForm);
  p.round = *axis;
  if (!is_turned_off(p)) return fail("It is turned off a place, a plane or a part's axes: say which.", "turned", kForm);
  return into(p.angle, amount_from_json(json["angle"], EntryKind::Angle, "turned", Reading(scene), 0));
}

std::string_view only_off(const LayPlane& p) {
  return is_turned_off(p) ? std::string_view() : "it goes with \"at\" and \"of\" alone";
}
std::string_view only_movable(const LayPlane& p) {
  return may_follow(p) ? std::string_view() : "World, a view and numbers do not move";
}
// What was chosen before the plane was laid off World or a view says nothing now, and would not be read.
Json holds_to_json(const LayPlane& p, const Scene&) { return holding_to_json(may_follow(p) ? p.holds : std::nullopt); }
std::string_view only_numbers(const LayPlane& p) {
  return way_of(p) == PlaneWay::Numbers ? std::string_view() : "the plane is said in another way";
}

void give_numbers(LayPlane& p, std::size_t) { given_way(p, PlaneWay::Numbers); }
Result<void> check(const LayPlane& p) {
  switch (way_of(p)) {
    case PlaneWay::Through:
      for (const auto& place : p.through)
        if (!place) return fail("A plane through places needs three of them.", "through", "Click them.");
      break;
    case PlaneWay::On:
    case PlaneWay::View:
      if (!p.at) return fail("There is no place for the plane yet.", "at", "Click it.");
      break;
    case PlaneWay::Numbers:
      if (!any_given(p.position) && !any_given(p.rotation))
        return fail("The plane needs a position or a rotation.", "position");
      break;
    case PlaneWay::Beside: break;
  }
  if (p.name == kWorldPlane) return fail("World is the name of the ground.", "name", "Give the plane another name.");
  return p.name.empty() ? Result<void>() : check_name(p.name, "A plane");
}

BlankId waits_for(const LayPlane& p) {
  if (way_of(p) == PlaneWay::Through)
    for (std::size_t i = 0; i < 3; ++i)
      if (constexpr std::string_view kKeys[] = {".origin", ".second", ".third"}; !p.through[i])
        return blank_of<LayPlane>(kKeys[i]);
  const bool place = way_of(p) == PlaneWay::On || way_of(p) == PlaneWay::View;
  return place && !p.at ? blank_of<LayPlane>("at") : BlankId{};
}

LayPlane next_after(const LayPlane& p) {
  LayPlane next;
  next.way = p.way;
  next.use = p.use;
  return next;
}

bool take_back(LayPlane& p) {
  if (way_of(p) != PlaneWay::Through) return std::exchange(p.at, std::nullopt).has_value();
  for (std::size_t i = 3; i-- > 0;)
    if (p.through[i]) return p.through[i].reset(), true;
  return false;
}

void choose_way(LayPlane& p, std::size_t, std::size_t option, const ChoiceContext& context) {
  given_way(p, static_cast<PlaneWay>(option));
  if (p.way == PlaneWay::View) p.view = context.view;
  if (p.way == PlaneWay::Numbers && !any_given(p.position)) p.position = {Amount{}, Amount{}, Amount{}};
}

std::vector<Option> of_options(const LayPlane&, const Scene& scene, std::size_t) {
  auto options = plane_options(scene);
  options.back().words = "a plane, or a part for its axes (click it in Parts)";
  return options;
}
void choose_of(LayPlane& p, std::size_t, std::size_t option, const ChoiceContext& context) {
  if (const auto plane = plane_chosen(option, context)) p.of = *plane;
}
std::vector<Option> in_options(const LayPlane&, const Scene&, std::size_t) {
  return {{"nothing"}, {"a part (click it)", Click::Part}};
}
void choose_in(LayPlane& p, std::size_t, std::size_t option, const ChoiceContext&) {
  if (option == 0) p.in = kNoPart;
}

bool leans_on_part(const LayPlane& p, const Scene& scene) {
  return p.of != kNoPart && scene.contains(p.of) && scene.part(p.of).guide != GuideKind::Plane;
}

BlankId leads(const LayPlane& p) {
  if (way_of(p) == PlaneWay::Numbers) return blank_of<LayPlane>("position");
  return is_turned_off(p) ? blank_of<LayPlane>("offset") : BlankId{};
}

void sentence(Phrase& s, const LayPlane& p) {
  const Scene& scene = s.scene();
  s.say("Laid a plane ", "Lay a plane ")
      .blank(".way", 0, std::string(kPlaneWays[static_cast<std::size_t>(way_of(p))].words));
  s.say(" ");
  switch (way_of(p)) {
    case PlaneWay::Through:
      s.blank(".origin").say(", x towards ").blank(".second").say(", flat through ").blank(".third");
      break;
    case PlaneWay::On: s.blank("at"); break;
    case PlaneWay::Beside: {
      const bool axes = leans_on_part(p, scene);
      s.blank("of", 0, axes ? "the axes of " + name_of(scene, p.of) : plane_words(scene, p.of));
      break;
    }
    case PlaneWay::View: s.say("through ").blank("at"); break;
    case PlaneWay::Numbers: s.say("at ").three("position").say(", turned ").three("rotation"); break;
  }
  if (is_turned_off(p)) {
    s.say(", across its ").blank("across").say(" by ").blank("offset");
    s.say(", turned ").blank(".angle").say(" round ").blank(".round");
  }
  s.say(", named ").blank("name", 0, p.name.empty() ? free_name(scene, p.in, "Plane") : p.name);
  if (p.in != kNoPart) s.say(", belonging to ").blank("in", 0, name_of(scene, p.in));
  const bool follows = may_follow(p) && holding_of(p) == GuideHolding::Follows;
  if (follows) s.say(", ").blank("holds", 0, std::string(kGuideHoldings[1].words));
  if (p.use) s.say(", ").blank("use");
  s.say(".");
  if (may_follow(p) && !follows) s.offer("holds", 0, "let it follow");
  if (p.in == kNoPart) s.offer("in", 0, "let it belong to a part");
  if (!p.use) s.offer("use", 0, "take it into use");
}

// --- the plane in use, and grids

void sentence(Phrase& s, const UsePlane& u) {
  s.say("Took ", "Take ").blank("plane", 0, plane_words(s.scene(), u.plane)).say(" into use.");
}

std::vector<Option> spacing_options(const SetGrid&, const Scene&, std::size_t) { return {{"as the zoom asks for"}}; }

Result<void> check(const SetGrid& g) {
  if (g.spacing && !uses_it(*g.spacing) && !(g.spacing->value >= 1e-6))
    return fail("The lines of a grid are at least 0.000001 mm apart.", "spacing", "Give a length above 0.");
  if (g.parts < 1 || g.parts > SetGrid::kMostParts)
    return fail(fmt::format("A square is divided in 1 to {}.", SetGrid::kMostParts), "parts");
  if (!(g.extent.value >= 0)) return fail("A grid reaches 0 mm or further.", "extent");
  return {};
}

std::string spacing_words(const SetGrid& g, const LengthUnit& unit) {
  return g.spacing ? shown(*g.spacing, EntryKind::Length, unit) : "as the zoom asks for";
}

void sentence(Phrase& s, const SetGrid& g) {
  s.say("Gave ", "Give ").blank("plane", 0, plane_words(s.scene(), g.plane)).say(" a grid: lines ");
  s.blank("spacing", 0, spacing_words(g, s.unit())).say(g.spacing ? " apart" : "");
  if (g.spacing) s.say(", each square in ").blank("parts");
  s.say(", reaching ");
  s.blank("extent", 0, is_said(g.extent) ? shown(g.extent, EntryKind::Length, s.unit()) : "as far as the view");
  s.say(".");
}

template <class V>
void choose_plane(V& v, std::size_t, std::size_t option, const ChoiceContext& context) {
  if (const auto plane = plane_chosen(option, context)) v.plane = *plane;
}
template <class V>
constexpr Row<V> plane_row(std::string_view doc) {
  return {.key = "plane",
          .name = "Plane",
          .at = slot<&V::plane>,
          .ask = "Click the plane in Parts.",
          .always = true,
          .options = [](const V&, const Scene& scene, std::size_t) { return plane_options(scene); },
          .choose = choose_plane<V>,
          .write = [](const V& v, const Scene& scene) { return plane_to_json(v.plane, scene); },
          .read = [](V& v, const Json& json,
                     const Scene& scene) { return into(v.plane, plane_from_json(json, "plane", scene)); },
          .value = "a plane's path, or `World`",
          .doc = doc};
}

}  // namespace

std::vector<PartId> planes_in(const Scene& scene, std::size_t most) {
  std::vector<PartId> planes;
  for (const PartId id : scene.in_tree_order()) {
    if (planes.size() == most) break;
    if (scene.part(id).guide == GuideKind::Plane) planes.push_back(id);
  }
  return planes;
}

std::vector<Option> plane_options(const Scene& scene) {
  std::vector<Option> options{{std::string(kWorldPlane)}};
  for (const PartId plane : planes_in(scene)) options.push_back({printable(scene.part(plane).name)});
  options.push_back({"another (click it in Parts)", Click::Part});
  return options;
}

std::optional<PartId> plane_chosen(std::size_t option, const ChoiceContext& context) {
  if (option == 0) return kNoPart;
  return option <= context.planes.size() ? std::optional(context.planes[option - 1]) : std::nullopt;
}

std::string plane_words(const Scene& scene, PartId plane) {
  return plane == kNoPart ? std::string(kWorldPlane) : name_of(scene, plane);
}

Result<void> check_plane(const Scene& scene, PartId plane, std::string_view key) {
  if (plane == kNoPart) return {};
  if (!scene.contains(plane)) return fail("That plane has been deleted.", std::string(key));
  if (scene.part(plane).guide == GuideKind::Plane) return {};
  return fail(fmt::format("\"{}\" is not a plane.", scene.part(plane).name), std::string(key),
              "Choose World or a work plane.");
}

Result<Affine> frame_of(const LayPlane& p, const Scene& scene) {
  if (way_of(p) == PlaneWay::View) {
    const auto at = p.at ? find_tack(scene, *p.at) : Result<Tack>(fail("There is no place for the plane yet."));
    if (!at) return tl::unexpected(at.error());
    return Affine{p.view, at->point};
  }
  if (way_of(p) == PlaneWay::Numbers) {
    const auto position = values_of(p.position, EntryKind::Length, scene);
    if (!position) return tl::unexpected(position.error());
    const auto rotation = values_of(p.rotation, EntryKind::Angle, scene);
    if (!rotation) return tl::unexpected(rotation.error());
    return Affine{rotation_from_degrees(*rotation), *position};
  }
  const auto law = law_of(p, scene);
  if (!law) return tl::unexpected(law.error());
  return frame_of_law(*law, GuideKind::Plane, scene);
}

Result<Scene> apply(const LayPlane& p, const Scene& scene) {
  if (p.in != kNoPart && !scene.contains(p.in))
    return fail("The part that it should belong to has been deleted.", "in");
  if (way_of(p) == PlaneWay::Beside && p.of != kNoPart && !scene.contains(p.of))
    return fail("What it lies beside has been deleted.", "of");
  const auto frame = frame_of(p, scene);
  if (!frame) return tl::unexpected(frame.error());
  Part part;
  part.guide = GuideKind::Plane;
  part.parent = p.in;
  part.name = free_name(scene, p.in, p.name.empty() ? "Plane" : p.name);
  auto placement = placement_in(scene, p.in, *frame);
  if (!placement) return tl::unexpected(placement.error());
  part.placement = *placement;
  if (way_of(p) == PlaneWay::Numbers && p.in == kNoPart) {
    // Typed numbers are kept as they are; they have been read for the frame already.
    part.placement.position = frame->translation;
    part.placement.rotation = values_of(p.rotation, EntryKind::Angle, scene).value_or(Vec3{});
    part.typed = std::make_shared<const TypedNumbers>(
        TypedNumbers{typed_as(p.position, part.placement.position), typed_as(p.rotation, part.placement.rotation), {}});
  }
  if (may_follow(p) && holding_of(p) == GuideHolding::Follows)
    if (const auto law = law_of(p, scene)) part.law = std::make_shared<const GuideLaw>(*law);
  Scene result = scene;
  const PartId id = result.add(std::move(part));
  if (p.use) result.use_plane(id);
  return result;
}

Result<Scene> apply(const UsePlane& u, const Scene& scene) {
  if (const auto ok = check_plane(scene, u.plane, "plane"); !ok) return tl::unexpected(ok.error());
  Scene result = scene;
  result.use_plane(u.plane);
  return result;
}

Result<Scene> apply(const SetGrid& g, const Scene& scene) {
  if (const auto ok = check_plane(scene, g.plane, "plane"); !ok) return tl::unexpected(ok.error());
  const PlaneGrid was = grid_of(scene, g.plane);
  PlaneGrid grid;
  if (g.spacing) {
    const auto spacing = evaluate(*g.spacing, EntryKind::Length, was.spacing, Reading(scene));
    if (!spacing) return tl::unexpected(spacing.error());
    if (!(*spacing >= 1e-6) || !std::isfinite(*spacing))
      return fail("The lines of a grid are at least 0.000001 mm apart.", "spacing");
    grid.spacing = *spacing;
    grid.parts = g.parts;
  }
  const auto extent = evaluate(g.extent, EntryKind::Length, was.extent, Reading(scene));
  if (!extent) return tl::unexpected(extent.error());
  if (!(*extent >= 0) || *extent > kFurthest) return fail("A grid reaches 0 mm or further.", "extent");
  if (*extent > 0 && *extent < grid.spacing)
    return fail("The grid would reach less far than its first line.", "extent", "Make it reach further.");
  grid.extent = *extent;
  Scene result = scene;
  if (g.plane == kNoPart) {
    result.set_ground_grid(grid);
    return result;
  }
  Part part = scene.part(g.plane);
  part.grid = grid == PlaneGrid{} ? nullptr : std::make_shared<const PlaneGrid>(grid);
  result.replace(g.plane, std::move(part));
  return result;
}

// clang-format off
const Table<LayPlane>& table_of(const LayPlane*) {
  constexpr const char* kPlace = "Click the place that the plane goes through.";
  static const Table<LayPlane> table{.key = "plane", .does = "Lays a work plane: a floor with its own x and y.",
      .check = check, .waits = waits_for, .next = next_after, .take_back = take_back, .leads = leads,
      .hints = {.nothing = kPlace, .ready = "Enter, or Do it, lays the plane. Type how far off, or click a blank.",
      .done = "Done. Click a blank to change it."},
      .sentence = sentence, .rows = {
    {.key = ".way", .name = "How it is laid", .at = way_slot, .choices = kPlaneWays, .choose = choose_way},
    {.key = "through", .name = "Three places", .write = through_to_json, .read = through_from_json,
     .value = "three places", .doc = "its origin, a place that x points to, and one that it is flat through"},
    {.key = ".origin", .name = "Origin", .at = through_slot<0>, .ask = "Click the plane's origin.",
     .waiting = "its origin", .given = [](LayPlane& p, std::size_t) { given_way(p, PlaneWay::Through); }},
    {.key = ".second", .name = "Towards", .at = through_slot<1>, .ask = "Click a place that the plane's x points to.",
     .waiting = "a place", .given = [](LayPlane& p, std::size_t) { given_way(p, PlaneWay::Through); }},
    {.key = ".third", .name = "Flat through", .at = through_slot<2>, .ask = "Click a third place that lies on the plane.",
     .waiting = "a place", .given = [](LayPlane& p, std::size_t) { given_way(p, PlaneWay::Through); }},
    {.key = "view", .name = "View", .write = view_to_json, .read = view_from_json,
     .value = "three directions: right, up, towards the viewer", .doc = "square to this view, through `at`"},
    {.key = "at", .name = "Place", .at = slot<&LayPlane::at>, .ask = kPlace, .waiting = "a place",
     .given = [](LayPlane& p, std::size_t) { if (way_of(p) != PlaneWay::View) given_way(p, PlaneWay::On); },
     .write = at_to_json, .read = at_from_json, .value = "a place",
     .doc = "the place it lies on: across its direction, x along its roll"},
    {.key = "of", .name = "Beside", .at = slot<&LayPlane::of>, .ask = "Click the plane, or a part whose axes to use.",
     .given = [](LayPlane& p, std::size_t) { given_way(p, PlaneWay::Beside); },
     .options = of_options, .choose = choose_of, .write = of_to_json, .read = of_from_json,
     .value = "a plane's or a part's path, or `World`",
     .doc = "the plane it lies beside, or the part whose own axes it takes, through the pivot"},
    {.key = "across", .name = "Across", .at = across_slot, .choices = kAxisLetters, .barred = only_off,
     .doc = "which of those axes becomes the normal; left out: z"},
    {.key = "offset", .name = "Offset", .at = slot<&LayPlane::offset>, .barred = only_off,
     .doc = "how far off, along the normal"},
    {.key = "turned", .name = "Turned", .at = slot<&LayPlane::angle>, .kind = EntryKind::Angle, .write = turned_to_json, .read = turned_from_json,
     .value = "`{\"round\": \"x\", \"angle\": 7.5}`", .doc = "then turned about its own x, y or z"},
    {.key = ".angle", .name = "Turned by", .at = slot<&LayPlane::angle>, .kind = EntryKind::Angle},
    {.key = ".round", .name = "Round", .at = round_slot, .choices = kAxisLetters},
    {.key = "position", .name = "Position along", .at = slot<&LayPlane::position>, .three = true,
     .barred = only_numbers, .given = give_numbers, .read = [](LayPlane& p, const Json& json, const Scene& scene) {
           if (auto ok = into(p.position, amounts_from_json(json, EntryKind::Length, "position", Reading(scene), 0)); !ok) return ok;
           return say_way(p, PlaneWay::Numbers, "position");
         }, .value = "three lengths", .doc = "its origin in World axes; what is left out is 0"},
    {.key = "rotation", .name = "Rotation about", .at = slot<&LayPlane::rotation>, .kind = EntryKind::Angle, .three = true,
     .barred = only_numbers, .given = give_numbers, .read = [](LayPlane& p, const Json& json, const Scene& scene) {
           if (auto ok = into(p.rotation, amounts_from_json(json, EntryKind::Angle, "rotation", Reading(scene), 0)); !ok) return ok;
           return say_way(p, PlaneWay::Numbers, "rotation");
         }, .value = "three angles", .doc = "about World X, then Y, then Z"},
    {.key = "name", .name = "Name", .at = slot<&LayPlane::name>, .doc = "left out: `Plane`, with a number"},
    {.key = "in", .name = "Belonging to", .at = slot<&LayPlane::in>, .ask = "Click the part that the plane belongs to.",
     .options = in_options, .choose = choose_in, .doc = "the part that it moves with"},
    {.key = "holds", .name = "Stays or follows", .at = slot<&LayPlane::holds>, .choices = kGuideHoldings,
     .barred = only_movable, .write = holds_to_json,
     .doc = "whether it goes where its places or the other plane go; left out: beside a plane it follows, else it stays"},
    {.key = "use", .name = "Used at once", .at = slot<&LayPlane::use>, .choices = kPlaneUse,
     .doc = "whether it is the plane in use from then on"},
  }};
  return table;
}
const Table<UsePlane>& table_of(const UsePlane*) {
  static const Table<UsePlane> table{.key = "use-plane", .does = "Takes a plane as the floor of everything.",
      .sentence = sentence, .rows = {plane_row<UsePlane>("the plane that is used from then on")}};
  return table;
}
const Table<SetGrid>& table_of(const SetGrid*) {
  static const Table<SetGrid> table{.key = "grid", .does = "Gives a plane its grid.", .check = check,
      .at_once = true, .leading = "spacing",
      .hints = {.nothing = "", .ready = "Type how far apart its lines are, or click a blank. Enter does it.",
      .done = "Done. Click a blank to change it."},
      .sentence = sentence, .rows = {
    plane_row<SetGrid>("whose grid it is"),
    {.key = "spacing", .name = "Spacing", .at = slot<&SetGrid::spacing>,
     .now = [](const SetGrid& g, const Scene& scene, std::size_t) { return std::optional(grid_of(scene, g.plane).spacing); },
     .options = spacing_options,
     .choose = [](SetGrid& g, std::size_t, std::size_t, const ChoiceContext&) { g.spacing.reset(); },
     .doc = "from line to line; left out: as the zoom asks for"},
    {.key = "parts", .name = "Divided in", .at = slot<&SetGrid::parts>, .kind = EntryKind::Factor,
     .doc = "into how many each square is divided; left out: 1"},
    {.key = "extent", .name = "Reaching", .at = slot<&SetGrid::extent>,
     .now = [](const SetGrid& g, const Scene& scene, std::size_t) { return std::optional(grid_of(scene, g.plane).extent); },
     .doc = "from the origin to each side; 0: as far as the view shows"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
