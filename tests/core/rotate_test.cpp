#include <catch2/catch.hpp>

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/fit/measure.h"
#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/verbs/journal.h"
#include "core/verbs/turn.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {

Rotate turn(PartId id, int axis, double degrees, Axes axes = AxesKind::World) {
  Rotate r;
  r.what = {id};
  r.axes = axes;
  r.round.axis = axis;
  r.angle = degrees;
  return r;
}

bool only_zeros_and_ones(const Mat3& m) {
  for (const Vec3& c : m.column)
    for (int i = 0; i < 3; ++i)
      if (c[i] != 0 && c[i] != 1 && c[i] != -1) return false;
  return true;
}

// The angle between a matrix and a rotation that was worked out another way: Rodrigues' formula written out by hand.
Vec3 rodrigues(const Vec3& k, double degrees, const Vec3& v) {
  const double a = degrees * 3.14159265358979323846 / 180;
  return v * std::cos(a) + cross(k, v) * std::sin(a) + k * (dot(k, v) * (1 - std::cos(a)));
}

}  // namespace

TEST_CASE("typed 90 three times in any order gives exact zeros and ones") {
  for (int order = 0; order < 27; ++order)
    for (const AxesKind axes : {AxesKind::World, AxesKind::Local}) {
      Scene s = one_part({});
      for (const int axis : {order % 3, order / 3 % 3, order / 9}) s = done(turn(1, axis, 90, axes), s);
      INFO(order);
      CHECK(only_zeros_and_ones(world_of(s, 1).linear));
    }
}

TEST_CASE("four quarter turns give back the same rotation bits, about any axis of the world or its own") {
  Chance chance(301);
  for (int i = 0; i < 300; ++i) {
    Placement p;
    p.rotation = {chance.between(-180, 180), chance.between(-90, 90), chance.between(-180, 180)};
    if (i % 3 == 0) p.scale = {2, 0.5, -1};
    const Scene before = one_part(p);
    const int axis = chance.whole(0, 2);
    const Axes axes = i % 2 ? Axes(AxesKind::World) : Axes(AxesKind::Local);
    Scene s = before;
    for (int k = 0; k < 4; ++k) s = done(turn(1, axis, 90, axes), s);
    CHECK(s.part(1).placement == before.part(1).placement);
    // The other way round by mixed quarter turns too.
    for (const double d : {180.0, -90.0, -90.0}) s = done(turn(1, axis, d, axes), s);
    CHECK(s.part(1).placement.rotation == before.part(1).placement.rotation);
  }
}

TEST_CASE("turns about the parent's Z add up in decimal, and so do those about the own X") {
  Scene s = one_part({});
  for (int k = 0; k < 3; ++k) s = done(turn(1, 2, 24.1), s);
  CHECK(s.part(1).placement.rotation == Vec3{0, 0, 72.3});
  for (int k = 0; k < 3; ++k) s = done(turn(1, 0, 0.1, AxesKind::Local), s);
  CHECK(s.part(1).placement.rotation == Vec3{0.3, 0, 72.3});
  // A turn and its opposite leave no dust behind.
  s = done(turn(1, 1, 17.3), s);
  s = done(turn(1, 1, -17.3), s);
  CHECK(s.part(1).placement.rotation == Vec3{0.3, 0, 72.3});
}

TEST_CASE("a turn is the turn of Rodrigues, for any direction, nested, mirrored and far away") {
  Chance chance(302);
  double worst = 0;
  for (int i = 0; i < 2000; ++i) {
    Scene s;
    Placement parent = chance.placement(300), own = chance.placement(200);
    // Even factors above, so that the turn can be rigid.
    parent.scale = Vec3{1, 1, 1} * chance.between(0.2, 5);
    const PartId top = s.add(part_of("Lift", cube(10), parent));
    const PartId id = s.add(part_of("Scoop", cube(20), own, top));
    Rotate r = turn(id, 0, chance.between(-720, 720));
    const Vec3 direction = chance.direction();
    r.round.direction = direction;
    const Vec3 still = chance.point(400);
    r.about = about_place({TackKind::Point, kNoPart, 0, still});
    const Scene t = done(r, s);
    const Affine before = world_of(s, id), after = world_of(t, id);
    const MeshPtr mesh = s.part(id).mesh;
    for (const Vec3& p : mesh->positions()) {
      const Vec3 wanted = still + rodrigues(direction, r.angle.value, before * p - still);
      worst = std::max(worst, distance(after * p, wanted) / (35 + length(wanted)));
    }
    CHECK(distance(t.part(id).placement.scale, own.scale) == 0);
  }
  note_number(
      fmt::format("rotate: worst distance from Rodrigues over 2000 seeded turns {:.2e} of extent and distance", worst));
  CHECK(worst < 1e-9);
}

TEST_CASE("the about point on the part stays where it is, through a nested, unevenly scaled tree") {
  Chance chance(303);
  double worst = 0;
  for (int i = 0; i < 1000; ++i) {
    Scene s;
    PartId parent = kNoPart;
    for (int d = 0; d < 4; ++d) parent = s.add(part_of("P", nullptr, chance.placement(100), parent));
    const PartId id = s.add(part_of("Q", cube(20), chance.placement(100), parent));
    Rotate r = turn(id, chance.whole(0, 2), chance.between(-180, 180));
    const TackAddress corner{TackKind::Vertex, id, static_cast<std::uint32_t>(chance.whole(0, 7)), {}};
    r.about = about_place(corner);
    const auto before = find_tack(s, corner);
    const auto t = tack::apply(r, s);
    REQUIRE(t);
    const auto after = find_tack(*t, corner);
    worst = std::max(worst, distance(before->point, after->point) / exact_bound(s, corner, corner));
  }
  note_number(fmt::format("rotate: the point held moved by at most {:.2e} of what is exact, over 1000 trees", worst));
  CHECK(worst <= 1);
}

TEST_CASE("about its own pivot the position keeps its bits; several turn each about its own or as one body") {
  Scene s;
  Placement a, b;
  a.position = {100.1, 0, 0.3};
  b.position = {-50, 20, 0};
  s.add(part_of("A", cube(10), a));
  s.add(part_of("B", cube(10), b));
  Rotate r = turn(1, 2, 37.5);
  r.what = {1, 2};
  const Scene own = done(r, s);
  CHECK(own.part(1).placement.position == a.position);
  CHECK(own.part(2).placement.position == b.position);
  // The middle of all: boxes reach from −50 to 110.1, 0 to 30, 0 to 10.3.
  r.about = middle_of_all();
  r.angle = 90;
  const Scene body = done(r, s);
  const Vec3 middle{30.05, 15, 5.15};
  CHECK(distance(body.part(1).placement.position, {middle.x - (0 - middle.y), middle.y + (100.1 - middle.x), 0.3}) <
        1e-12);
  CHECK(distance(body.part(1).placement.position, body.part(2).placement.position) ==
        Approx(distance(a.position, b.position)).epsilon(1e-14));
}

TEST_CASE("a parent and its child picked together turn once; a locked part is refused by name") {
  Scene s;
  const PartId hub = s.add(part_of("Hub", cube(10)));
  Placement p;
  p.position = {20, 0, 0};
  const PartId paddle = s.add(part_of("Paddle", cube(5), p, hub));
  Rotate r = turn(hub, 2, 90);
  r.what = {paddle, hub};
  const Scene t = done(r, s);
  CHECK(distance(world_of(t, paddle) * Vec3{}, {0, 20, 0}) < 1e-14);
  Part locked = s.part(hub);
  locked.locked = true;
  s.replace(hub, locked);
  const auto refused = tack::apply(r, s);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().what.find("Hub") != std::string::npos);
}

TEST_CASE("round an edge, the edge itself stays") {
  Placement p;
  p.position = {30, -10, 5};
  p.rotation = {10, 20, 30};
  const Scene s = one_part(p);
  Rotate r = turn(1, 0, 33);
  r.round.edge = TackAddress{TackKind::Edge, 1, 0, {0.5, 0, 0}, 1};
  const Scene t = done(r, s);
  for (const std::uint32_t v : {0u, 1u}) {
    const Vec3 before = world_of(s, 1) * cube(20)->positions()[v], after = world_of(t, 1) * cube(20)->positions()[v];
    CHECK(distance(before, after) < 1e-12);
  }
  CHECK(distance(world_of(s, 1) * Vec3{20, 20, 20}, world_of(t, 1) * Vec3{20, 20, 20}) > 5);
}

TEST_CASE("turned like another part: one axis by the smallest turn, all three, and the other way") {
  Chance chance(304);
  for (int i = 0; i < 300; ++i) {
    Scene s;
    const PartId other = s.add(part_of("Ramp", cube(30), chance.placement(100)));
    const PartId id = s.add(part_of("Sign", cube(20), chance.placement(100)));
    const Mat3 to = own_axes(s, other), from = own_axes(s, id);
    Rotate r;
    r.what = {id};
    r.like = Like{other, {true, true, true}, false};
    Scene t = done(r, s);
    const Mat3 all = own_axes(t, id);
    for (int c = 0; c < 3; ++c) CHECK(distance(all.column[c], to.column[c]) < 1e-12);
    r.like.axes = {false, false, true};
    t = done(r, s);
    const Mat3 z = own_axes(t, id);
    CHECK(distance(z.column[2], to.column[2]) < 1e-12);
    // The smallest turn: no other part of the rotation than the one in the plane of the two directions.
    const Vec3 axis = normalized(cross(from.column[2], to.column[2]));
    CHECK(distance(rodrigues(axis, angle_between(from.column[2], to.column[2]), from.column[0]), z.column[0]) < 1e-9);
    CHECK(comes_out_flipped(r, s) == (dot(from.column[2], to.column[2]) < 0));
    r.like.other_way = true;
    t = done(r, s);
    CHECK(distance(own_axes(t, id).column[2], -to.column[2]) < 1e-12);
  }
}

TEST_CASE("rotate refuses what makes no sense, in a sentence") {
  const Scene s = one_part({});
  Rotate r = turn(1, 2, 10);
  r.what.clear();
  CHECK_FALSE(tack::apply(r, s));
  r = turn(1, 2, std::numeric_limits<double>::infinity());
  CHECK_FALSE(tack::apply(r, s));
  r = turn(1, 2, 10);
  r.round.direction = Vec3{};
  CHECK_FALSE(tack::apply(r, s));
  r = turn(1, 2, 10);
  r.like = Like{1, {true, true, true}, false};
  CHECK_FALSE(tack::apply(r, s));
  for (const char* text :
       {R"({"verb":"rotate","what":["Post"]})", R"({"verb":"rotate","what":["Post"],"angle":"12,5"})",
        R"({"verb":"rotate","what":["Post"],"angle":5,"round":"w"})", R"({"verb":"rotate","what":["Post"],"angel":5})",
        R"({"verb":"rotate","what":["Post"],"angle":5,"axes":"sideways"})",
        R"({"verb":"rotate","what":["Post"],"angle":5,"about":"somewhere"})",
        R"({"verb":"rotate","what":["Post"],"like":"Post","angle":5})"})
    CHECK_FALSE(verb_from_json(Json::parse(text), s));
}

TEST_CASE("fewest decimals within reach") {
  CHECK(fewest_decimals(24.100000000000012, 4e-14) == 24.1);
  CHECK(fewest_decimals(24.100000000000012, 1e-16) == 24.100000000000012);
  CHECK(fewest_decimals(-1e-15, 4e-14) == 0);
  CHECK(std::signbit(fewest_decimals(-1e-15, 4e-14)) == false);
}
