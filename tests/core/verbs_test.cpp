#include <catch2/catch.hpp>

#include <nlohmann/json.hpp>

#include "core/math/degrees.h"
#include "core/verbs/journal.h"
#include "tests/core/doing.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

Scene nested() {
  Scene s;
  Placement tower, carriage, scoop;
  tower.position = {-520, 190, 40};
  carriage.position = {0, 0, 150};
  carriage.scale = {1.2, 0.8, 1};
  scoop.position = {0, 0, 16};
  scoop.rotation = {0, 0, 30};
  const PartId t = s.add(part_of("Lift", cube(70), tower));
  const PartId c = s.add(part_of("Carriage", cube(40), carriage, t));
  s.add(part_of("Scoop", cube(20), scoop, c));
  return s;
}

Amounts xyz(std::optional<double> x, std::optional<double> y, std::optional<double> z) {
  Amounts a;
  if (x) a[0] = Amount{*x};
  if (y) a[1] = Amount{*y};
  if (z) a[2] = Amount{*z};
  return a;
}

// Along x, the first part.
Move moved_by(double x) {
  Move move;
  move.what = {1};
  move.by[0] = x;
  return move;
}

}  // namespace

TEST_CASE("world numbers typed for a nested part are met and read back as typed") {
  const Scene s = nested();
  Place place;
  place.what = {3};
  place.position = xyz(120.3, std::nullopt, 18.7);
  place.rotation = xyz(std::nullopt, std::nullopt, 90);
  const auto done = apply(place, s);
  REQUIRE(done);
  const PlacedNumbers n = numbers_in(*done, 3, AxesKind::World);
  CHECK(n.position.x == 120.3);
  CHECK(n.position.y == Approx(190));
  CHECK(n.position.z == 18.7);
  CHECK(n.rotation.z == 90);
  CHECK(done->part(3).parent == 2);
  // Under the unevenly scaled carriage a turn makes skew, which is kept, not dropped.
  const Affine world = world_of(*done, 3);
  CHECK(distance(normalized(world.linear.column[0]), {0, 1, 0}) < 1e-12);
}

TEST_CASE("a world position under ten turned, scaled parents reads back") {
  Chance chance(81);
  double worst = 0;
  for (int i = 0; i < 500; ++i) {
    Scene s;
    PartId parent = kNoPart;
    for (int d = 0; d < 10; ++d) parent = s.add(part_of("P", nullptr, chance.placement(100, false), parent));
    const PartId id = s.add(part_of("Q", cube(10), chance.placement(100), parent));
    Place place;
    place.what = {id};
    const Vec3 wanted = chance.point(500);
    place.position = xyz(wanted.x, wanted.y, wanted.z);
    const auto done = apply(place, s);
    REQUIRE(done);
    const Vec3 is = world_of(*done, id) * done->part(id).placement.pivot;
    const Box box = world_box_of(*cube(10), world_of(*done, id));
    worst = std::max(worst, distance(is, wanted) / (box.extent() + length(wanted)));
  }
  CHECK(worst < 1e-9);
}

TEST_CASE("typing in Parent axes stores exactly what was typed") {
  const Scene s = nested();
  Place place;
  place.what = {3};
  place.axes = AxesKind::Parent;
  place.position = xyz(0.1, 0.2, 0.3);
  place.rotation = xyz(24.1, 89.9, -33.3);
  place.scale = xyz(1.1, std::nullopt, -2);
  const auto done = apply(place, s);
  REQUIRE(done);
  const Placement& p = done->part(3).placement;
  CHECK(p.position == Vec3{0.1, 0.2, 0.3});
  CHECK(p.rotation == Vec3{24.1, 89.9, -33.3});
  CHECK(p.scale == Vec3{1.1, 1, -2});
}

TEST_CASE("replacing one group of numbers leaves the others") {
  Chance chance(82);
  for (int i = 0; i < 200; ++i) {
    Scene s;
    const PartId parent = s.add(part_of("P", nullptr, chance.placement(50, false)));
    const PartId id = s.add(part_of("Q", cube(10), chance.placement(50), parent));
    Place place;
    place.what = {id};
    place.rotation = xyz(10, 20, 30);
    const auto done = apply(place, s);
    REQUIRE(done);
    const PlacedNumbers before = numbers_in(s, id, AxesKind::World), after = numbers_in(*done, id, AxesKind::World);
    CHECK(distance(before.position, after.position) < 1e-9 * (1 + length(before.position)));
    CHECK(distance(after.rotation, {10, 20, 30}) < 1e-9);
    for (int a = 0; a < 3; ++a) CHECK(std::abs(after.scale[a]) == Approx(std::abs(before.scale[a])).epsilon(1e-9));
    CHECK(distance(after.skew, before.skew) < 1e-9 * (1 + length(before.skew)));
  }
}

TEST_CASE("it shifts each of several parts, equal typing sets all") {
  Scene s;
  for (const double x : {1.0, 2.0, 3.0}) {
    Placement p;
    p.position = {x, 0, 0};
    s.add(part_of("P", cube(1), p));
  }
  Place place;
  place.what = {1, 2, 3};
  place.position[0] = Amount{0, "it + 10"};
  const auto done = apply(place, s);
  REQUIRE(done);
  CHECK(done->part(1).placement.position.x == 11);
  CHECK(done->part(3).placement.position.x == 13);
}

TEST_CASE("Move goes along world, parent and local axes") {
  const Scene s = nested();
  Move move;
  move.what = {3};
  move.by[0] = 12;
  const Vec3 before = world_of(s, 3) * Vec3{};
  const auto world = apply(move, s);
  REQUIRE(world);
  CHECK(distance(world_of(*world, 3) * Vec3{} - before, {12, 0, 0}) < 1e-12 * 1000);
  move.axes = AxesKind::Parent;
  const auto parent = apply(move, s);
  CHECK(distance(world_of(*parent, 3) * Vec3{} - before, {14.4, 0, 0}) < 1e-12 * 1000);
  move.axes = AxesKind::Local;
  const auto local = apply(move, s);
  const Vec3 x = normalized(world_of(s, 3).linear.column[0]);
  CHECK(distance(world_of(*local, 3) * Vec3{} - before, x * 12) < 1e-12 * 1000);
}

TEST_CASE("24.1 mm three times are 72.3 mm to the bit: typed decimals add up in decimal") {
  Scene s;
  s.add(part_of("P", cube(1)));
  Move move;
  move.what = {1};
  move.by[0] = 24.1;
  for (int i = 0; i < 3; ++i) s = *apply(move, s);
  CHECK(s.part(1).placement.position.x == 72.3);
}

TEST_CASE("reparenting keeps the place or the numbers") {
  Chance chance(83);
  for (int i = 0; i < 200; ++i) {
    Scene s;
    const PartId a = s.add(part_of("A", nullptr, chance.placement(50)));
    const PartId b = s.add(part_of("B", cube(10), chance.placement(50)));
    const auto placed = apply(Reparent{{b}, a, Reparent::Keeps::Place}, s);
    REQUIRE(placed);
    CHECK(placed->part(b).parent == a);
    for (std::uint32_t v = 0; v < 8; ++v) {
      const Vec3 p = s.part(b).mesh->positions()[v];
      CHECK(distance(world_of(s, b) * p, world_of(*placed, b) * p) < 1e-9 * (100 + length(world_of(s, b) * p)));
    }
    const auto numbers = apply(Reparent{{b}, a, Reparent::Keeps::Numbers}, s);
    CHECK(numbers->part(b).placement == s.part(b).placement);
  }
  const Scene s = nested();
  CHECK_FALSE(apply(Reparent{{1}, 3, Reparent::Keeps::Place}, s));
}

TEST_CASE("names, locks and deletions are checked") {
  Scene s = nested();
  CHECK_FALSE(tack::apply(Verb(Rename{1, ""}), s));
  CHECK_FALSE(tack::apply(Verb(Rename{1, "a\nb"}), s));
  CHECK_FALSE(apply(Rename{9, "x"}, s));
  CHECK(apply(Rename{1, "Tower"}, s)->part(1).name == "Tower");
  s = *apply(Lock{{1}, true}, s);
  Move move;
  move.what = {3};
  move.by[0] = 1;
  CHECK_FALSE(apply(move, s));
  CHECK_FALSE(apply(Delete{{3}}, s));
  s = *apply(Lock{{1}, false}, s);
  CHECK(apply(Delete{{2, 3}}, s)->size() == 1);
  CHECK_FALSE(apply(Delete{{}}, s));
}

TEST_CASE("undo and redo give back the same bits") {
  Chance chance(84);
  Scene start;
  for (int i = 0; i < 20; ++i)
    start.add(
        part_of("P" + std::to_string(i), cube(10), chance.placement(50), i > 3 && i % 2 ? PartId(i - 2) : kNoPart));
  Journal journal(start);
  std::vector<Scene> seen{start};
  for (int i = 0; i < 50; ++i) {
    Meet meet;
    meet.from = TackAddress{TackKind::Vertex, static_cast<PartId>(chance.whole(1, 10)), 3, {}};
    meet.to = TackAddress{TackKind::Vertex, static_cast<PartId>(chance.whole(11, 20)), 5, {}};
    if (journal.add(meet)) seen.push_back(journal.scene());
  }
  const auto same = [](const Scene& a, const Scene& b) {
    for (const PartId id : a.in_tree_order())
      if (!(a.part(id).placement == b.part(id).placement)) return false;
    return a.size() == b.size();
  };
  for (std::size_t i = seen.size() - 1; i-- > 0;) {
    journal.undo();
    CHECK(same(journal.scene(), seen[i]));
  }
  CHECK_FALSE(journal.can_undo());
  for (std::size_t i = 1; i < seen.size(); ++i) {
    journal.redo();
    CHECK(same(journal.scene(), seen[i]));
  }
  CHECK_FALSE(journal.can_redo());
}

TEST_CASE("a step whose scene is known already is the same step") {
  const Scene start = nested();
  Journal done(start), known(start);
  // An id that was given away and taken back is never given again.
  for (Journal* j : {&done, &known}) {
    REQUIRE(j->add(Copy{{1}, true, {}}));
    j->undo();
  }
  const auto add_both = [&](const Verb& verb) {
    const auto would_be = tack::apply(verb, known.scene());
    REQUIRE(would_be);
    REQUIRE(done.add(verb));
    REQUIRE(known.add(verb, &*would_be));
    CHECK(known.scene().id_limit() == done.scene().id_limit());
    CHECK(known.scene().in_tree_order() == done.scene().in_tree_order());
    for (const PartId id : done.scene().in_tree_order()) {
      CHECK(known.scene().part(id).placement == done.scene().part(id).placement);
      CHECK(known.scene().part(id).local == done.scene().part(id).local);
    }
    const Step &a = *done.record().steps.back(), &b = *known.record().steps.back();
    CHECK(plain_text(a.words) == plain_text(b.words));
    CHECK(a.remark == b.remark);
    CHECK(a.made == b.made);
    return a.made;
  };
  Move by_text = moved_by(0);
  by_text.by[0] = {24.1, "24.1"};
  for (int i = 0; i < 3; ++i) CHECK(add_both(by_text).empty());
  CHECK(known.scene().part(1).placement.position.x == -520 + 72.3);
  // Parts that it adds get ids that no step ever had, also where the known scene has others.
  const PartId limit = known.record().start.id_limit();
  const auto made = add_both(Copy{{1}, true, {}});
  REQUIRE(made.size() == 3);
  for (const PartId id : made) CHECK(id >= limit + 3);
  // Something beside it goes: that is known, too.
  CHECK(add_both(Delete{{made[0]}}).empty());
  known.undo();
  CHECK(known.scene().contains(made[0]));
  known.redo();
  CHECK_FALSE(known.scene().contains(made[0]));
}

TEST_CASE("a changed step replaces the last one, and undo takes back the change") {
  Journal journal(one_part({}));
  REQUIRE(journal.add(moved_by(10)));
  Move move = moved_by(25);
  REQUIRE(journal.amend_last(move));
  CHECK(journal.record().steps.size() == 1);
  CHECK(journal.scene().part(1).placement.position.x == 25);
  journal.undo();
  CHECK(journal.scene().part(1).placement.position.x == 10);
  const std::size_t here = journal.position();
  move.what = {9};
  CHECK_FALSE(journal.amend_last(move));
  CHECK(journal.position() == here);
  journal.undo();
  CHECK(journal.record().steps.empty());
}

TEST_CASE("no two states of records have the same number, whether copied, begun anew or gone back to") {
  const Scene s = one_part({});
  Journal journal(s), other(s);
  CHECK(journal.position() != other.position());
  Journal copy = journal;
  const std::size_t begin = journal.position();
  CHECK(copy.position() == begin);
  REQUIRE(journal.add(moved_by(10)));
  REQUIRE(copy.add(moved_by(20)));
  CHECK(journal.position() != copy.position());
  const std::size_t moved = journal.position();
  journal.undo();
  CHECK(journal.position() == begin);
  journal.redo();
  CHECK(journal.position() == moved);
  journal.settle(s);
  CHECK(journal.position() != moved);
  CHECK(journal.position() != begin);
}

TEST_CASE("every verb goes to JSON and back") {
  const Scene s = nested();
  Meet meet;
  meet.what = {3};
  meet.from = TackAddress{TackKind::Vertex, 3, 2, {}};
  meet.to = TackAddress{TackKind::BoxPoint, 1, 0, {0.5, 0.5, 1}};
  meet.facing = Facing::Same;
  meet.gap = {9.525, "3/8 in"};
  meet.roll = 12.5;
  Move move;
  move.what = {2};
  move.axes = AxesKind::Local;
  move.by = {Amount{1.5}, Amount{}, Amount{9.525, "3/8 in"}};
  Move places;
  places.what = {3};
  places.from = meet.from;
  places.to = meet.to;
  Place place;
  place.what = {1, 3};
  place.axes = AxesKind::Parent;
  place.position = xyz(1, std::nullopt, 3);
  place.scale[1] = Amount{1.1, "110 %"};
  for (const Verb& verb :
       {Verb(meet), Verb(move), Verb(places), Verb(place), Verb(Show{{1}, false}), Verb(Lock{{2}, true}),
        Verb(Rename{3, "Ladle"}), Verb(Delete{{2}}), Verb(Reparent{{3}, 1, Reparent::Keeps::Place}),
        Verb(Reparent{{3}, kNoPart, Reparent::Keeps::Numbers})}) {
    const Json json = to_json(verb, s);
    INFO(json.dump());
    const auto back = verb_from_json(json, s);
    REQUIRE(back);
    CHECK(*back == verb);
    CHECK(json["verb"] == key_of(verb));
  }
}

TEST_CASE("steps that are written wrongly say what is wrong") {
  const Scene s = nested();
  const std::pair<const char*, const char*> wrong[] = {
      {R"({})", "verb"},
      {R"({"verb": "fly"})", "fly"},
      {R"({"verb": "move"})", "what"},
      {R"({"verb": "move", "what": ["Scoop"]})", "by"},
      {R"({"verb": "move", "what": ["Scoop"], "by": [1, 2]})", "three values"},
      {R"({"verb": "move", "what": ["Scoop"], "by": [1, 2, "3 elephants"]})", "elephants"},
      {R"({"verb": "move", "what": ["Scop"], "by": [1, 2, 3]})", "Did you mean"},
      {R"({"verb": "move", "what": ["Scoop"], "by": [1, 2, 3], "axis": "local"})", "axis"},
      {R"({"verb": "move", "what": ["Scoop"], "by": [1, 2, 3], "axes": "sideways"})", "sideways"},
      {R"({"verb": "move", "what": 7, "by": [1, 2, 3]})", "list"},
      {R"({"verb": "place", "what": ["Scoop"]})", "position"},
      {R"({"verb": "place", "what": ["Scoop"], "position": "left"})", "three values"},
      {R"({"verb": "meet", "what": ["Scoop"]})", "pairs"},
      {R"({"verb": "meet", "pairs": [{"from": "\"Scoop\" vertex 1"}]})", "to"},
      {R"({"verb": "meet", "what": ["Carriage"], "pairs": [{"from": "\"Lift\" vertex 1", "to": "\"Scoop\" vertex 1"}]})",
       "not among"},
      {R"({"verb": "meet", "pairs": [{"from": "\"Scoop\" vertex 1", "to": "point 0,0,0"}], "facing": "away"})", "away"},
      {R"({"verb": "parent", "what": ["Scoop"]})", "to"},
      {R"({"verb": "parent", "what": ["Scoop"], "to": "Lift", "keep": "all"})", "place or numbers"},
      {R"({"verb": "show", "what": ["Scoop"], "shown": 3})", "true or false"},
  };
  for (const auto& [text, part] : wrong) {
    INFO(text);
    const auto verb = verb_from_json(Json::parse(text), s);
    REQUIRE_FALSE(verb);
    CHECK(sentence(verb.error()).find(part) != std::string::npos);
  }
}
