// The table of a verb: a sample verb has everything from one file and one registration, and every verb of the program
// keeps what its table promises.
#include <catch2/catch.hpp>

#include <fstream>
#include <sstream>

#include "core/verbs/any_verb.h"
#include "core/verbs/phrase.h"
#include "tests/core/doing.h"

// --- the sample verb: struct, table, check, sentence, apply – all there is of it

namespace sample {

using namespace tack;

struct Stack {
  enum class Order { AsPicked, Tallest };
  std::vector<PartId> what;
  std::optional<TackAddress> on;
  std::array<Amount, 3> lean;
  Amount gap;
  Order order = Order::AsPicked;
  bool flush = false;
  friend bool operator==(const Stack&, const Stack&) = default;
};

constexpr Choice kOrders[] = {{"as picked", "as-picked"}, {"the tallest first", "tallest"}};
constexpr Choice kFlush[] = {{"in the middle", ""}, {"flush at the low side", ""}};

Result<void> check(const Stack& s) {
  if (s.what.size() < 2) return fail("A stack takes two parts or more.", "what");
  return {};
}

void sentence(Phrase& s, const Stack&) {
  s.say("Stacked ", "Stack ").blank("what").say(" on ").blank("on").say(", ").blank("gap").say(" apart, ");
  s.blank("order").say(".");
}

const Table<Stack>& table_of(const Stack*) {
  static const Table<Stack> table{
      .key = "stack",
      .does = "Stacks parts.",
      .check = check,
      .leading = "gap",
      .sentence = sentence,
      .rows = {
          what_row<Stack>("Click the part to stack.", "the parts that are stacked"),
          {.key = "on",
           .name = "On",
           .at = slot<&Stack::on>,
           .ask = "Click the place to stack on.",
           .role = Role::To,
           .needed = true,
           .doc = "the place they stand on"},
          {.key = "gap", .name = "Gap", .at = slot<&Stack::gap>, .always = true, .doc = "between them"},
          {.key = "lean",
           .name = "Lean along",
           .at = slot<&Stack::lean>,
           .three = true,
           .doc = "of each from the one below"},
          {.key = "order", .name = "Order", .at = slot<&Stack::order>, .choices = kOrders, .doc = "which comes first"},
          {.key = "flush",
           .name = "Flush",
           .at = slot<&Stack::flush>,
           .choices = kFlush,
           .barred = [](const Stack& s) -> std::string_view { return s.gap.value < 0 ? "the gap is negative" : ""; },
           .doc = "at the low side instead of in the middle"},
      }};
  return table;
}

Result<Scene> apply(const Stack& s, const Scene& scene) {
  Scene result = scene;
  double height = 0;
  for (const PartId id : s.what) {
    Placement p = scene.part(id).placement;
    p.position.z = height;
    height += own_size(scene, id).z + s.gap.value;
    result.place(id, p);
  }
  return result;
}

}  // namespace sample

// --- its registration

using SampleVerb = std::variant<tack::Move, sample::Stack>;

using namespace tack;
using namespace tack::test;

namespace {

using Sample = VerbSet<SampleVerb>;

Scene boxes() {
  Scene s;
  s.add(part_of("Block", cube(20)));
  s.add(part_of("Post", cube(30), {{50, 0, 0}, {}, {1, 1, 1}, {}, {}}));
  s.add(part_of("Sign", cube(10), {{90, 0, 0}, {0, 0, 30}, {1, 1, 1}, {}, {}}));
  return s;
}

std::string text_of(const std::string& file) {
  std::ifstream in(file);
  std::stringstream text;
  text << in.rdbuf();
  return text.str();
}

}  // namespace

TEST_CASE("a sample verb is read, written, refused, corrected, walked and documented by its table alone", "[table]") {
  const Scene s = boxes();
  const Json json = Json::parse(
      R"({"verb":"stack","what":["Block","Post"],"on":"plane 0,0","gap":2,"lean":[1,0,0],"order":"tallest"})");
  const auto verb = Sample::read(json, s);
  REQUIRE(verb);
  CHECK(
      Sample::write(*verb, s).dump() ==
      R"({"verb":"stack","what":["Block","Post"],"on":"plane 0,0","gap":2.0,"lean":[1.0,0.0,0.0],"order":"tallest"})");
  // Done, and said.
  const auto done = Sample::apply(*verb, s);
  REQUIRE(done);
  CHECK(done->part(2).placement.position.z == 22);
  CHECK(plain_text(Sample::sentence(*verb, s, Tense::Past, kMillimetres)) ==
        "Stacked Block and Post on grid point 0, 0, 2 mm apart, the tallest first.");
  // Refused: another verb, an unknown key with the nearest one named, a wrong value, a missing one, what check() says,
  // and a key that means nothing beside the others.
  const auto why = [&](const char* key, const Json& value) {
    Json bad = json;
    if (value.is_discarded())
      bad.erase(key);
    else
      bad[key] = value;
    const auto read = Sample::read(bad, s);
    REQUIRE_FALSE(read);
    return sentence(read.error());
  };
  CHECK(why("verb", "stak").find("Did you mean \"stack\"?") != std::string::npos);
  CHECK(why("ordr", "tallest").find("Did you mean \"order\"?") != std::string::npos);
  CHECK(why("order", "widest").find("Write as-picked or tallest.") != std::string::npos);
  CHECK(why("on", Json(Json::value_t::discarded)).find("\"stack\" needs \"on\": the place they stand on.") !=
        std::string::npos);
  CHECK(why("what", Json::array({"Block"})).find("two parts or more") != std::string::npos);
  Json low = json;
  low["gap"] = -1;
  low["flush"] = true;
  const auto barred = Sample::read(low, s);
  REQUIRE_FALSE(barred);
  CHECK(sentence(barred.error()).find("\"flush\" means nothing here: the gap is negative.") != std::string::npos);
  // Corrected: a value, a choice, a place.
  const auto corrected = [&](std::string_view key, std::size_t index, auto&& put) {
    sample::Stack stack = std::get<sample::Stack>(*verb);
    REQUIRE(put(ref_of(stack), blank_of<sample::Stack>(key, index)));
    return stack;
  };
  const auto four = [](VerbRef v, BlankId blank) { return put_in(v, blank, Amount{4}); };
  CHECK(corrected("lean", 1, four).lean[1] == Amount{4});
  const auto first = [&](VerbRef v, BlankId blank) { return choose_in(v, blank, 0, s, {}); };
  CHECK(corrected("order", 0, first).order == sample::Stack::Order::AsPicked);
  const auto place = [](VerbRef v, BlankId blank) { return put_in(v, blank, point({1, 2, 3})); };
  CHECK(corrected("on", 0, place).on == point({1, 2, 3}));
  const VerbRef stack = Sample::ref(*verb);
  CHECK(it_in(stack, blank_of<sample::Stack>("gap"), s) == 0);
  // Walked by Tab in the order of the sentence, each blank with its name.
  std::vector<std::string> names;
  for (const Word& word : Sample::sentence(*verb, s, Tense::Past, kMillimetres))
    if (word.blank) names.push_back(word.name);
  CHECK(names == std::vector<std::string>{"What", "On", "Gap", "Order"});
  CHECK(name_of_blank(stack, blank_of<sample::Stack>("lean", 2)) == "Lean along Z");
  // Documented and completed.
  CHECK(Sample::documentation("stack") ==
        "| key | value | what it says |\n| --- | --- | --- |\n"
        "| `what` (needed) | list of parts | the parts that are stacked |\n"
        "| `on` (needed) | place | the place they stand on |\n"
        "| `gap` | length | between them |\n"
        "| `lean` | three lengths | of each from the one below |\n"
        "| `order` | `as-picked`, `tallest` | which comes first |\n"
        "| `flush` | `true`, `false` | at the low side instead of in the middle |\n");
  CHECK(Sample::keys().back().second ==
        std::vector<std::string_view>{"verb", "what", "on", "gap", "lean", "order", "flush"});
  // It stands in two places: its own block of one file, and the variant.
  const std::string here = text_of(source("tests/core/table_test.cpp"));
  const std::size_t end = here.find("}  // namespace sample"), test = here.find("using Sample = VerbSet");
  int places = 0;
  for (std::size_t at = here.find("Stack", end); at < test; at = here.find("Stack", at + 1)) ++places;
  CHECK(places == 1);
}

TEST_CASE("the key tables of docs/steps.md are those of the verbs", "[table]") {
  const std::string page = text_of(source("docs/steps.md"));
  for (const auto& [verb, keys] : all_keys()) {
    INFO("run `tackpoint-cli verbs " << verb << "` and put its table under the heading of the verb:\n"
                                     << key_table_of(verb));
    CHECK(page.find("## " + std::string(verb) + "\n") != std::string::npos);
    CHECK(page.find(key_table_of(verb)) != std::string::npos);
  }
}

namespace {

// One of each verb, filled in as an artist would have it.
std::vector<Verb> one_of_each() {
  const std::vector<PartId> what{1};
  Move move;
  move.by[0] = Amount{5};
  Rotate rotate;
  rotate.angle = Amount{30};
  Scale scale;
  scale.size[2] = Amount{50};
  Meet meet;
  meet.from = vertex(1, 0);
  meet.to = vertex(2, 6);
  Meet pairs = meet;
  pairs.more.push_back({vertex(1, 1), vertex(2, 5)});
  Meet held = meet;
  held.hold = TackAddress{TackKind::Pivot, 1, 0, {}};
  Move between;
  between.from = vertex(1, 0);
  between.to = vertex(2, 0);
  Rotate like;
  like.like.part = 3;
  Rotate in_line;
  in_line.from = vertex(1, 6);
  in_line.to = vertex(2, 6);
  Scale as_big;
  as_big.like = 2;
  Scale reaching;
  reaching.from = vertex(1, 6);
  reaching.to = vertex(2, 6);
  Pivot pivot;
  pivot.at = bottom();
  Pivot numbers;
  numbers.numbers[1] = Amount{3};
  Place place;
  place.position[0] = Amount{1};
  Align align;
  align.with = 2;
  align.sides[0] = {true, {AlignSide::At::Low, {}}, {AlignSide::At::High, {}}, Amount{3}};
  Distribute distribute;
  Distribute between_places;
  between_places.way = Distribute::Way::Line;
  between_places.by = Distribute::By::Pivots;
  between_places.from = point({0, 0, 0});
  between_places.to = vertex(3, 6);
  Distribute round;
  round.way = Distribute::Way::Round;
  round.axis = 2;
  round.about = about_place(point({-40, -40, 0}));
  Repeat repeat;
  repeat.every = Amount{5};
  Repeat ring;
  ring.way = Repeat::Way::Round;
  ring.about = point({-40, -40, 0});
  Repeat mirror;
  mirror.way = Repeat::Way::Mirror;
  mirror.about = point({-40, -40, 0});
  Repeat grid;
  grid.way = Repeat::Way::Grid;
  grid.steps = {Amount{5}, Amount{6}, Amount{7}};
  Drop drop;
  Tidy tidy;
  tidy.position[0] = Amount{10};
  Bake bake;
  bake.scale = true;
  FitBox fit;
  Copy copy;
  Group group;
  Paint paint;
  std::vector<Verb> all{move,  between, rotate, like,    in_line,  scale,     as_big,    reaching, meet,
                        pairs, held,    pivot,  numbers, place,    bake,      fit,       align,    copy,
                        group, paint,   Show{}, Lock{},  Delete{}, Ungroup{}, Separate{}};
  for (Verb& verb : all)
    if (auto* parts = what_in(verb)) *parts = what;
  for (Distribute* spaced : {&distribute, &between_places, &round}) {
    spaced->what = {1, 2, 3};
    all.emplace_back(*spaced);
  }
  drop.what = repeat.what = ring.what = mirror.what = grid.what = tidy.what = what;
  for (const Verb& verb : {Verb(drop), Verb(repeat), Verb(ring), Verb(mirror), Verb(grid), Verb(tidy)})
    all.push_back(verb);
  MakeShape box;
  box.at = point({100, 0, 0});
  MakeShape pin = box;
  pin.kind = ShapeKind::Cylinder;
  pin.across = point({110, 0, 0});
  Stretch longer;
  longer.what = what;
  longer.ways[0].by = Amount{7};
  longer.ways[0].near_plane = Amount{5};
  longer.ways[0].far_plane = Amount{15};
  KeepBand band;
  band.what = what;
  band.near_plane = Amount{5};
  band.far_plane = Amount{15};
  LayPlane beside, on, by_numbers;
  beside.way = LayPlane::Way::Beside;
  beside.of = 3;
  beside.across = 0;
  on.way = LayPlane::Way::On;
  on.at = vertex(2, 3);
  by_numbers.way = LayPlane::Way::Numbers;
  by_numbers.rotation[1] = Amount{30};
  Lay lay;
  lay.what = what;
  lay.places = {vertex(1, 0), vertex(1, 1), vertex(1, 2)};
  Take take;
  take.of.list = std::make_shared<const std::vector<Taken>>(
      std::vector<Taken>{{1, Elements{ElementKind::Faces, {0, 1}}, {}, 0, 0}});
  for (const Verb& verb : {Verb(box), Verb(pin), Verb(longer), Verb(band), Verb(beside), Verb(on), Verb(by_numbers),
                           Verb(lay), Verb(SetGrid{}), Verb(take)})
    all.push_back(verb);
  all.emplace_back(Rename{1, "Stone"});
  all.emplace_back(Reparent{{1}, 2, {}});
  all.emplace_back(Keep{1, vertex(1, 3), "rim", Copies::All});
  all.emplace_back(AddGuide{GuideKind::Line, vertex(1, 3), "edge"});
  return all;
}

}  // namespace

TEST_CASE("whatever is chosen, typed or clicked in any blank of any verb survives writing and reading", "[table]") {
  const Scene s = boxes();
  Mat3 front;
  front.column = {Vec3{0, 1, 0}, Vec3{0, 0, 1}, Vec3{1, 0, 0}};
  const ChoiceContext context{front, 3};
  int edits = 0, taken = 0;
  const auto survives = [&](std::optional<Verb> verb, const std::string& what) {
    ++edits;
    if (verb && is_ready(*verb)) verb = made_whole(*verb, s);
    if (!verb || !is_ready(*verb) || !tack::apply(*verb, s)) return;  // it waits for more, or is refused in words
    ++taken;
    const Json json = to_json(*verb, s);
    const auto back = verb_from_json(json, s);
    INFO(what << "\n" << json.dump() << "\n" << (back ? std::string() : sentence(back.error())));
    REQUIRE(back);
    CHECK(to_json(*back, s).dump() == json.dump());
    // What is read does the same.
    const auto a = tack::apply(*verb, s), b = tack::apply(*back, s);
    REQUIRE(a.has_value() == b.has_value());
    if (!a) return;
    REQUIRE(a->in_tree_order() == b->in_tree_order());
    for (const PartId id : a->in_tree_order()) {
      const Part &p = a->part(id), &q = b->part(id);
      CHECK(p.placement == q.placement);
      if (p.mesh) CHECK(world_box_of(*p.mesh, {}) == world_box_of(*q.mesh, {}));
      CHECK((p.name == q.name && p.locked == q.locked && p.hidden == q.hidden));
      CHECK(bands_of(*a, id) == bands_of(*b, id));
      CHECK(grid_of(*a, id) == grid_of(*b, id));
    }
    CHECK(a->ground_grid() == b->ground_grid());
  };
  for (const Verb& verb : one_of_each()) {
    const std::string key(key_of(verb));
    survives(verb, key);
    for (std::uint8_t row = 0; !name_of_blank(verb, {row, 0}).empty(); ++row)
      for (std::uint8_t i = 0; i < 3; ++i) {
        const BlankId blank{row, i};
        const std::string where = key + ", " + name_of_blank(verb, blank) + ": ";
        const auto options = options_of(verb, blank, s, context);
        for (std::size_t o = 0; o < options.size(); ++o)
          survives(with_option(verb, blank, o, s, context), where + options[o].words);
        const EntryKind kind = number_kind(verb, blank).value_or(EntryKind::Length);
        const Amount typed = kind == EntryKind::Length  ? Amount{25.4, "1 in"}
                             : kind == EntryKind::Angle ? Amount{90, "1/4 turn"}
                                                        : Amount{1.1, "110%"};
        for (const Amount& amount : {Amount{12.5}, typed, Amount{3, "it + 3"}})
          survives(with_value(verb, blank, amount), where + amount.text);
        survives(with_text(verb, blank, "Stone 7"), where + "words");
        survives(with_place(verb, blank, vertex(2, 4)), where + "a place");
        survives(with_part(verb, blank, 3), where + "a part");
      }
  }
  INFO(taken << " of " << edits);
  CHECK(taken > 300);
}

TEST_CASE("every way out of skew that is offered can be done", "[table]") {
  Chance chance(931);
  int offered = 0;
  for (int round = 0; round < 200; ++round) {
    Scene s;
    const PartId parent = s.add(part_of("Wide", cube(10), chance.placement(50)));
    const PartId child = s.add(part_of("Sign", blob(chance, 12), chance.placement(50), parent));
    const PartId other = s.add(part_of("Post", cube(20), chance.placement(50)));
    Scale scale;
    scale.what = {child, other};
    scale.axes = AxesKind::World;
    scale.size[0] = Amount{chance.between(5, 50)};
    if (round % 2) scale.size[1] = Amount{chance.between(5, 50)};
    Place place;
    place.what = {child};
    place.rotation[round % 3] = Amount{chance.between(-80, 80)};
    for (const Verb& verb : {Verb(scale), Verb(place), Verb(Reparent{{other}, parent, {}})}) {
      const auto after = tack::apply(verb, s);
      if (!after) continue;
      for (const Remedy& remedy : remedies_of(verb, s, *after)) {
        ++offered;
        INFO(plain_text(sentence(verb, s, Tense::Past)) << " – " << remedy.words);
        if (remedy.instead) CHECK(tack::apply(*remedy.instead, s));
        if (remedy.then) CHECK(tack::apply(*remedy.then, *after));
      }
    }
  }
  CHECK(offered > 500);
}

TEST_CASE("it is 0 in a blank for a change, in files and in the window", "[table]") {
  const Scene s = boxes();
  const auto move = verb_from_json(Json::parse(R"({"verb":"move","what":["Post"],"by":["it + 10",0,0]})"), s);
  REQUIRE(move);
  CHECK(done(*move, s).part(2).placement.position == Vec3{60, 0, 0});
  CHECK(it_in(*move, blank_of(*move, "by", 0), s) == 0);
  CHECK(is_change(*move, blank_of(*move, "by", 0)));
  const auto meet = verb_from_json(
      Json::parse(
          R"({"verb":"meet","pairs":[{"from":"\"Block\" vertex 0","to":"plane 0,0"}],"facing":"as-is","gap":"it + 7"})"),
      s);
  REQUIRE(meet);
  CHECK(find_tack(done(*meet, s), vertex(1, 0))->point == Vec3{0, 0, 7});
  // In a blank that holds a value it is the value before the step, in each part.
  const auto place =
      verb_from_json(Json::parse(R"({"verb":"place","what":["Block","Post"],"position":["it + 1",null,null]})"), s);
  REQUIRE(place);
  const Scene placed = done(*place, s);
  CHECK(placed.part(1).placement.position.x == 1);
  CHECK(placed.part(2).placement.position.x == 51);
  CHECK(!is_change(*place, blank_of(*place, "position", 0)));
  CHECK(it_in(*place, blank_of(*place, "position", 0), s) == 0);
  const auto scale = verb_from_json(Json::parse(R"({"verb":"scale","what":["Post"],"size":["it / 2",null,null]})"), s);
  REQUIRE(scale);
  CHECK(it_in(*scale, blank_of(*scale, "size", 0), s) == 30);
  CHECK(own_size(done(*scale, s), 2).x == 15);
}

TEST_CASE("every verb that gives a name holds it to the same rule") {
  const auto named = [](const std::string& name) {
    Rename rename{1, name};
    Group group;
    group.what = {1};
    group.name = name;
    Keep keep;
    keep.at = point({1, 2, 3});
    keep.name = name;
    AddGuide guide;
    guide.at = point({1, 2, 3});
    guide.name = name;
    EditTie edit{"joint", EditTie::Do::Rename, name};
    Meet meet;
    meet.from = vertex(1, 0);
    meet.to = point({1, 2, 3});
    meet.tie = true;
    meet.tie_name = name;
    return std::vector<Verb>{rename, group, keep, guide, edit, meet};
  };
  for (const Verb& verb : named("Sill 3")) CHECK(check(verb));
  for (const Verb& verb : named("Sill\n3")) {
    INFO(key_of(verb));
    const auto ok = check(verb);
    REQUIRE_FALSE(ok);
    CHECK(ok.error().what ==
          "A name cannot have line breaks, control characters or marks that turn the direction of writing in it.");
  }
  for (const Verb& verb : named(std::string(201, 'x'))) {
    INFO(key_of(verb));
    const auto ok = check(verb);
    REQUIRE_FALSE(ok);
    CHECK(ok.error().what == "This name is longer than 200 characters.");
  }
}
