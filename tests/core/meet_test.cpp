#include <fmt/format.h>
#include <catch2/catch.hpp>

#include "core/fit/measure.h"
#include "core/math/fit_rigid.h"
#include "core/math/split.h"
#include "core/verbs/verb.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

// A part at the end of a chain of `depth` turned, unevenly scaled parents.
PartId deep_part(Scene& s, Chance& chance, const std::string& name, const MeshPtr& mesh, int depth) {
  PartId parent = kNoPart;
  for (int i = 0; i < depth; ++i)
    parent = s.add(part_of(name + " parent", nullptr, chance.placement(100, false), parent));
  return s.add(part_of(name, mesh, chance.placement(100), parent));
}

double gap_after(const Scene& s, const Meet& meet) {
  const auto from = find_tack(s, *meet.from), to = find_tack(s, *meet.to);
  REQUIRE((from && to));
  const Vec3 target = meet.gap.value == 0 ? to->point : to->point + *to->direction * meet.gap.value;
  return distance(from->point, target);
}

}  // namespace

TEST_CASE("after Meet the gap is zero, ten parents deep", "[numbers]") {
  Chance chance(71);
  const MeshPtr mesh = cube(40);
  double worst_of_bound = 0, worst_gap = 0;
  for (int i = 0; i < 10000; ++i) {
    Scene s;
    const PartId moving = deep_part(s, chance, "Moving", mesh, 10), still = deep_part(s, chance, "Still", mesh, i % 11);
    Meet meet;
    meet.from = vertex(moving, static_cast<std::uint32_t>(chance.whole(0, 7)));
    meet.to = vertex(still, static_cast<std::uint32_t>(chance.whole(0, 7)));
    if (i % 3 == 1) meet.gap = chance.between(-20, 20);
    const auto done = apply(meet, s);
    REQUIRE(done);
    const double gap = gap_after(*done, meet), bound = exact_bound(*done, *meet.from, *meet.to);
    if (gap / bound > worst_of_bound) {
      worst_of_bound = gap / bound;
      worst_gap = gap;
    }
  }
  note_number(fmt::format(
      "Meet, 10,000 seeded cases ten parents deep: worst gap {:.3g} mm, {:.3g} of the bound (1e-9 × extent)", worst_gap,
      worst_of_bound));
  CHECK(worst_of_bound <= 1);
}

TEST_CASE("Meet turns nothing when it goes as it stands, and only the part's position changes") {
  Chance chance(72);
  Scene s;
  const PartId a = deep_part(s, chance, "A", cube(10), 3), b = deep_part(s, chance, "B", cube(10), 2);
  Meet meet;
  meet.from = vertex(a, 2);
  meet.to = vertex(b, 5);
  const auto done = apply(meet, s);
  REQUIRE(done);
  Placement before = s.part(a).placement, after = done->part(a).placement;
  CHECK(before.position != after.position);
  before.position = after.position;
  CHECK(before == after);
  for (const PartId id : s.in_tree_order())
    if (id != a) CHECK(s.shares(*done, id));
}

TEST_CASE("facing turns From's direction onto the opposite of To's", "[numbers]") {
  Chance chance(73);
  double worst_gap = 0, worst_angle = 0;
  for (int i = 0; i < 1000; ++i) {
    Scene s;
    const PartId a = deep_part(s, chance, "A", cube(10), i % 4), b = deep_part(s, chance, "B", cube(10), i % 3);
    Meet meet;
    meet.from = vertex(a, static_cast<std::uint32_t>(chance.whole(0, 7)));
    meet.to = vertex(b, static_cast<std::uint32_t>(chance.whole(0, 7)));
    meet.facing = i % 2 == 0 ? Facing::Facing : Facing::Same;
    meet.gap = i % 5;
    meet.roll = i % 7 * 30.0;
    const auto was = find_tack(s, *meet.from);
    const auto done = apply(meet, s);
    REQUIRE(done);
    worst_gap = std::max(worst_gap, gap_after(*done, meet) / exact_bound(*done, *meet.from, *meet.to));
    const auto from = find_tack(*done, *meet.from), to = find_tack(*done, *meet.to);
    const double off =
        angle_between(*from->direction, meet.facing == Facing::Facing ? -*to->direction : *to->direction);
    worst_angle = std::max(worst_angle, off);
  }
  note_number(fmt::format("Meet facing, 1,000 seeded cases: worst gap {:.3g} of the bound, worst angle {:.3g}°",
                          worst_gap, worst_angle));
  CHECK(worst_gap <= 1);
  CHECK(worst_angle < 1e-6);
}

TEST_CASE("opposite directions turn about From's roll, or the world axis least along them") {
  const Mat3 about_roll = smallest_turn({0, 0, 1}, {0, 0, -1}, Vec3{0, 1, 0});
  CHECK(about_roll * Vec3{0, 1, 0} == Vec3{0, 1, 0});
  CHECK(distance(about_roll * Vec3{0, 0, 1}, {0, 0, -1}) < 1e-15);
  const Mat3 about_x = smallest_turn({0, 0, 1}, {0, 0, -1}, std::nullopt);
  CHECK(about_x * Vec3{1, 0, 0} == Vec3{1, 0, 0});
  CHECK(smallest_turn({0, 1, 0}, {0, 1, 0}, std::nullopt) == Mat3{});
  // A roll along the direction itself is no axis.
  CHECK(distance(smallest_turn({0, 0, 1}, {0, 0, -1}, Vec3{0, 0, 1}) * Vec3{0, 0, 1}, {0, 0, -1}) < 1e-15);
}

TEST_CASE("standing a box on another by their face centres turns nothing") {
  Scene s;
  s.add(part_of("Board", cube(100)));
  Placement p;
  p.position = {300, 40, 7};
  s.add(part_of("Post", cube(10), p));
  Meet meet;
  meet.from = TackAddress{TackKind::BoxPoint, 2, 0, {0.5, 0.5, 0}};
  meet.to = TackAddress{TackKind::BoxPoint, 1, 0, {0.5, 0.5, 1}};
  const auto done = apply(meet, s);
  REQUIRE(done);
  CHECK(done->part(2).placement.position == Vec3{45, 45, 100});
  CHECK(done->part(2).placement.rotation == Vec3{});
}

TEST_CASE("several parts move as one body, a parent and its child once") {
  Scene s;
  Placement p;
  p.position = {10, 0, 0};
  const PartId tower = s.add(part_of("Tower", cube(10), p));
  const PartId child = s.add(part_of("Child", cube(5), p, tower));
  const PartId other = s.add(part_of("Other", cube(5)));
  Meet meet;
  meet.what = {tower, child, other};
  meet.from = TackAddress{TackKind::Pivot, child, 0, {}};
  meet.to = TackAddress{TackKind::Point, kNoPart, 0, {100, 0, 0}};
  const auto done = apply(meet, s);
  REQUIRE(done);
  CHECK(done->part(tower).placement.position == Vec3{90, 0, 0});
  CHECK(done->part(child).placement.position == Vec3{10, 0, 0});
  CHECK(done->part(other).placement.position == Vec3{80, 0, 0});
}

TEST_CASE("what cannot be met says why") {
  Scene s;
  const PartId a = s.add(part_of("A", cube(10)));
  const PartId child = s.add(part_of("Child", cube(5), {}, a));
  Part locked = part_of("Locked", cube(10));
  locked.locked = true;
  const PartId l = s.add(locked);
  const auto problem = [&](const Meet& m) {
    const auto done = apply(m, s);
    REQUIRE_FALSE(done);
    return sentence(done.error());
  };
  Meet m;
  CHECK(problem(m).find("From is missing") != std::string::npos);
  m.from = vertex(a, 0);
  CHECK(problem(m).find("To is missing") != std::string::npos);
  m.to = vertex(child, 0);
  CHECK(problem(m).find("moves as well") != std::string::npos);
  m.to = TackAddress{TackKind::Point, kNoPart, 0, {}};
  m.gap = 3;
  CHECK(problem(m).find("needs a direction") != std::string::npos);
  m.gap = 0;
  m.facing = Facing::Facing;
  CHECK(problem(m).find("needs a direction") != std::string::npos);
  m.facing.reset();
  m.from = vertex(l, 0);
  CHECK(problem(m).find("locked") != std::string::npos);
  m.from = vertex(a, 800);
  CHECK(problem(m).find("no vertex 800") != std::string::npos);
}

TEST_CASE("the sentence says what Meet will do and has done") {
  Scene s;
  s.add(part_of("Channel 3", cube(10)));
  s.add(part_of("Post 4", cube(10)));
  Meet m;
  CHECK(plain_text(sentence(m, s, Tense::Present)) ==
        "Bring a part from a place on it to a place to go, as it stands, 0 mm apart.");
  m.from = vertex(1, 3);
  m.to = vertex(2, 4);
  m.gap = {9.525, "3/8 in"};
  CHECK(plain_text(sentence(m, s, Tense::Past)) ==
        "Brought Channel 3 from its vertex to vertex of Post 4, as it stands, 3/8 in apart.");
  m.facing = Facing::Facing;
  CHECK(plain_text(sentence(m, s, Tense::Present)).find("facing it, 3/8 in apart, rolled 0° from the smallest turn.") !=
        std::string::npos);
}
