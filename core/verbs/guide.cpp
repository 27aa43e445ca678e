#include "core/verbs/guide.h"

#include "core/catch/guide_law.h"
#include "core/verbs/phrase.h"

namespace tack {
namespace {

using GWay = AddGuide::Way;

constexpr Choice kGuideKinds[] = {{"point", "point"}, {"line", "line"}, {"plane", "plane"}};
constexpr Choice kGuideWays[] = {{"through", ""}, {"from", ""}, {"beside", ""}, {"at an angle", ""}};

// The first kind is none, which no list offers.
Slot kind_slot(AddGuide& guide, std::size_t) {
  return EnumSlot{&guide.kind, [](const void* at) { return int(*static_cast<const GuideKind*>(at)) - 1; },
                  [](void* at, int value) { *static_cast<GuideKind*>(at) = static_cast<GuideKind>(value + 1); }};
}

GuideHolding holding_of(const AddGuide& g) {
  return g.holds.value_or(g.way == GWay::Beside || g.way == GWay::Angle ? GuideHolding::Follows : GuideHolding::Stays);
}

GuideLaw law_of(const AddGuide& g, double distance, double angle) {
  GuideLaw law;
  const auto add = [&](const std::optional<TackAddress>& place) {
    if (place) law.places.push_back(*place);
  };
  switch (g.way) {
    case GWay::At: add(g.at); break;
    case GWay::Through:
      law.kind = GuideLaw::Kind::Points;
      add(g.from);
      add(g.to);
      break;
    case GWay::Beside:
      law.kind = GuideLaw::Kind::Beside;
      law.offset = distance;
      add(g.edge);
      add(g.in);
      break;
    case GWay::Angle:
      law.kind = GuideLaw::Kind::Angle;
      law.angle = angle;
      add(g.edge);
      add(g.about);
      add(g.in);
      break;
  }
  return law;
}

Result<void> check(const AddGuide& g) {
  if (g.kind == GuideKind::None) return fail("A guide is a point, a line or a plane.", "kind");
  if (g.way != GWay::At && g.kind != GuideKind::Line)
    return fail("Only a line lies beside an edge, at an angle, or through two places.", "kind", "Make it a line.");
  switch (g.way) {
    case GWay::At:
      if (!g.at) return fail("There is no place for the guide yet.", {}, "Click the place.");
      break;
    case GWay::Through:
      if (!g.from || !g.to) return fail("A line through two places needs both.", "through", "Click them.");
      break;
    case GWay::Beside:
    case GWay::Angle:
      if (!g.edge) return fail("There is no edge yet to lie beside.", "beside", "Click it.");
      if (g.way == GWay::Angle && !g.about) return fail("There is no place yet to go through.", "about", "Click it.");
      break;
  }
  if (g.kind == GuideKind::Plane && g.name == kWorldPlane)
    return fail("World is the name of the ground.", "name", "Give the plane another name.");
  return g.name.empty() ? Result<void>() : check_name(g.name, "A guide");
}

BlankId waits_for(const AddGuide& g) {
  switch (g.way) {
    case GWay::At: return g.at ? BlankId{} : blank_of<AddGuide>("at");
    case GWay::Through: return !g.from ? blank_of<AddGuide>(".from") : !g.to ? blank_of<AddGuide>(".to") : BlankId{};
    case GWay::Beside: return !g.edge ? blank_of<AddGuide>("beside") : !g.in ? blank_of<AddGuide>("in") : BlankId{};
    case GWay::Angle: break;
  }
  return !g.edge ? blank_of<AddGuide>("beside") : !g.about ? blank_of<AddGuide>("about") : BlankId{};
}

bool is_done(const AddGuide& g) { return check(g) && !waits_for(g); }

bool take_back(AddGuide& g) {
  for (auto* place : {&g.in, &g.about, &g.edge, &g.to, &g.from, &g.at})
    if (*place) return place->reset(), true;
  return false;
}

void set_way(AddGuide& g, GWay way) {
  g.way = way;
  if (way != GWay::At) g.kind = GuideKind::Line;
}

std::vector<Option> way_options(const AddGuide&, const Scene&, std::size_t) {
  return {{"through a place, along its direction"},
          {"from a place to a place"},
          {"beside an edge"},
          {"at an angle to an edge"}};
}
void choose_way(AddGuide& g, std::size_t, std::size_t option, const ChoiceContext&) {
  set_way(g, static_cast<GWay>(option));
}

Json through_to_json(const AddGuide& g, const Scene& scene) {
  if (g.way != GWay::Through || !g.from || !g.to) return nullptr;
  return Json::array({address_text(scene, *g.from), address_text(scene, *g.to)});
}
Result<void> through_from_json(AddGuide& g, const Json& json, const Scene& scene) {
  if (!json.is_array() || json.size() != 2) return fail("This should be two places.", "through");
  g.way = GWay::Through;
  if (auto ok = into(g.from, place_from_json(json[0], "through", scene)); !ok) return ok;
  return into(g.to, place_from_json(json[1], "through", scene));
}

Json beside_to_json(const AddGuide& g, const Scene& scene) {
  const bool by_edge = g.way == GWay::Beside || g.way == GWay::Angle;
  return by_edge && g.edge ? Json(address_text(scene, *g.edge)) : Json(nullptr);
}
Result<void> beside_from_json(AddGuide& g, const Json& json, const Scene& scene) {
  if (g.way == GWay::Through) return fail("A line through two places lies beside nothing.", "beside");
  g.way = GWay::Beside;
  return into(g.edge, place_from_json(json, "beside", scene));
}

Json about_to_json(const AddGuide& g, const Scene& scene) {
  return g.way == GWay::Angle && g.about ? Json(address_text(scene, *g.about)) : Json(nullptr);
}
Result<void> about_from_json_of(AddGuide& g, const Json& json, const Scene& scene) {
  if (g.way != GWay::Beside) return fail("\"about\" goes with \"beside\" and \"angle\".", "about");
  g.way = GWay::Angle;
  return into(g.about, place_from_json(json, "about", scene));
}

std::string_view only_at(const AddGuide& g) {
  return g.way == GWay::At ? std::string_view() : "the line is said in another way";
}
std::string_view only_beside(const AddGuide& g) {
  return g.way == GWay::Beside ? std::string_view() : "it goes with \"beside\" alone";
}
std::string_view only_angle(const AddGuide& g) {
  return g.way == GWay::Angle ? std::string_view() : "it goes with \"about\" alone";
}
std::string_view only_by_edge(const AddGuide& g) {
  return g.way == GWay::Beside || g.way == GWay::Angle ? std::string_view() : "it goes with \"beside\" alone";
}
bool needs_place(const AddGuide& g) { return g.way == GWay::At; }

BlankId leads(const AddGuide& g) {
  if (g.way == GWay::Beside) return blank_of<AddGuide>("distance");
  return g.way == GWay::Angle ? blank_of<AddGuide>("angle") : BlankId{};
}

void sentence(Phrase& s, const AddGuide& guide) {
  s.say("Laid a guide ", "Lay a guide ").blank("kind").say(" ");
  s.blank(".way", 0, std::string(kGuideWays[static_cast<std::size_t>(guide.way)].words));
  switch (guide.way) {
    case GWay::At: {
      s.say(" ").blank("at");
      const auto tack = guide.at ? find_tack(s.scene(), *guide.at) : Result<Tack>(fail({}));
      if (tack && !tack->direction && !tack->roll && guide.kind != GuideKind::Point)
        s.say(guide.kind == GuideKind::Line ? " along World Z" : " across World Z")
            .say(", as the place has no direction of its own");
      break;
    }
    case GWay::Through: s.say(" ").blank(".from").say(" to ").blank(".to"); break;
    case GWay::Beside: s.say(" ").blank("beside").say(", ").blank("distance").say(" away towards ").blank("in"); break;
    case GWay::Angle:
      s.say(" of ").blank("angle").say(" to ").blank("beside").say(" through ").blank("about").say(", in ");
      s.blank("in", 0, guide.in ? place_words(s.scene(), *guide.in) : "the edge's own plane");
      break;
  }
  const bool follows = holding_of(guide) == GuideHolding::Follows;
  if (follows) s.say(", ").blank("holds", 0, std::string(kGuideHoldings[1].words));
  s.say(", named ");
  s.blank("name", 0, guide.name.empty() ? free_name(s.scene(), kNoPart, "Guide") : guide.name).say(".");
  if (!follows) s.offer("holds", 0, "let it follow");
}

}  // namespace

Json holding_to_json(const std::optional<GuideHolding>& holds) {
  return holds ? Json(std::string(kGuideHoldings[static_cast<std::size_t>(*holds)].key)) : Json(nullptr);
}

Result<Scene> apply(const AddGuide& guide, const Scene& scene) {
  const auto distance = evaluate(guide.distance, EntryKind::Length, 0, Reading(scene));
  if (!distance) return tl::unexpected(distance.error());
  const auto angle = evaluate(guide.angle, EntryKind::Angle, 0, Reading(scene));
  if (!angle) return tl::unexpected(angle.error());
  const GuideLaw law = law_of(guide, *distance, *angle);
  const auto frame = frame_of_law(law, guide.kind, scene);
  if (!frame) return tl::unexpected(frame.error());
  Part part;
  part.guide = guide.kind;
  part.name = free_name(scene, kNoPart, guide.name.empty() ? "Guide" : guide.name);
  const auto placement = placement_in(scene, kNoPart, *frame);
  if (!placement) return tl::unexpected(placement.error());
  part.placement = *placement;
  if (holding_of(guide) == GuideHolding::Follows) part.law = std::make_shared<const GuideLaw>(law);
  Scene result = scene;
  result.add(std::move(part));
  return result;
}

// clang-format off
const Table<AddGuide>& table_of(const AddGuide*) {
  static const Table<AddGuide> table{.key = "guide", .does = "Lays a point, line or plane to be caught on.",
      .check = check, .ready = is_done, .waits = waits_for, .take_back = take_back, .leads = leads,
      .hints = {.nothing = "", .ready = "Type the distance or the angle, or click a blank.",
      .done = "Done. Type a value, or click a blank to change it."},
      .sentence = sentence, .rows = {
    {.key = "kind", .name = "Kind of guide", .at = kind_slot, .choices = kGuideKinds, .needed = true, .always = true,
     .given = [](AddGuide& g, std::size_t) { if (g.kind != GuideKind::Line) g.way = GWay::At; }, .doc = "what it is"},
    {.key = ".way", .name = "How it is laid", .at = slot<&AddGuide::way>, .choices = kGuideWays,
     .options = way_options, .choose = choose_way},
    {.key = "through", .name = "Two places", .write = through_to_json, .read = through_from_json,
     .value = "two places", .doc = "a line from the first to the second"},
    {.key = ".from", .name = "From", .at = slot<&AddGuide::from>, .ask = "Click the first place the line goes through.",
     .waiting = "a place"},
    {.key = ".to", .name = "To", .at = slot<&AddGuide::to>, .ask = "Click the second place the line goes through.",
     .waiting = "a place"},
    {.key = "beside", .name = "Edge", .at = slot<&AddGuide::edge>, .ask = "Click the edge, line or axis to lie beside.",
     .waiting = "an edge", .write = beside_to_json, .read = beside_from_json, .value = "a place on an edge, a line, an axis",
     .doc = "what it lies beside"},
    {.key = "at", .name = "At", .at = slot<&AddGuide::at>,
     .ask = "Click the place the guide goes through: a line along its direction, a plane across it.",
     .waiting = "a place", .needed_if = needs_place, .barred = only_at,
     .doc = "the place it goes through: a line along its direction, a plane across it"},
    {.key = "about", .name = "Through", .at = slot<&AddGuide::about>, .ask = "Click the place that the line goes through.",
     .waiting = "a place", .write = about_to_json, .read = about_from_json_of, .value = "a place",
     .doc = "at an angle: the place that it goes through"},
    {.key = "distance", .name = "Distance", .at = slot<&AddGuide::distance>, .barred = only_beside,
     .doc = "from the edge; left out: 10 mm; negative: on the other side"},
    {.key = "in", .name = "Side", .at = slot<&AddGuide::in>,
     .asks = [](const AddGuide& g, std::size_t) -> std::string_view {
           return g.way == GWay::Angle ? "Click a place on the face to turn in." : "Click a place on the side where it is to lie.";
         },
     .waiting = "a side", .barred = only_by_edge,
     .doc = "beside: a place on the side where it lies; at an angle: a place on the face to turn in; left out: by the edge's own normal"},
    {.key = "angle", .name = "Angle", .at = slot<&AddGuide::angle>, .kind = EntryKind::Angle, .barred = only_angle,
     .doc = "to the edge, right-handed about the face's normal; left out: 90°"},
    {.key = "holds", .name = "Stays or follows", .at = slot<&AddGuide::holds>, .choices = kGuideHoldings,
     .write = [](const AddGuide& g, const Scene&) { return holding_to_json(g.holds); },
     .doc = "whether it goes where its places go; left out: beside an edge and at an angle it follows, else it stays"},
    {.key = "name", .name = "Name", .at = slot<&AddGuide::name>, .doc = "left out: `Guide`, with a number"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
