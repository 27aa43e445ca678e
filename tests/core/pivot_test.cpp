#include <catch2/catch.hpp>

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/fit/measure.h"
#include "core/math/split.h"
#include "core/mesh/features.h"
#include "core/mesh/mass.h"
#include "core/mesh/oriented_box.h"
#include "core/mesh/transform.h"
#include "core/verbs/journal.h"
#include "demo/shapes.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {

// Where every vertex of every part is.
std::vector<Vec3> everywhere(const Scene& scene) {
  std::vector<Vec3> points;
  for (const PartId id : scene.in_tree_order())
    if (const MeshPtr& mesh = scene.part(id).mesh)
      for (const Vec3& p : mesh->positions()) points.push_back(world_of(scene, id) * p);
  return points;
}

double furthest_moved(const Scene& a, const Scene& b) {
  const auto before = everywhere(a), after = everywhere(b);
  REQUIRE(before.size() == after.size());
  double worst = 0;
  for (std::size_t i = 0; i < before.size(); ++i)
    worst = std::max(worst, distance(before[i], after[i]) / (100 + length(before[i])));
  return worst;
}

Scene tree(Chance& chance, MeshPtr mesh) {
  Scene s;
  PartId parent = s.add(part_of("Lift", mesh, chance.placement(100)));
  parent = s.add(part_of("Carriage", blob(chance, 12), chance.placement(100), parent));
  s.add(part_of("Scoop", mesh, chance.placement(100), parent));
  s.add(part_of("Copy", mesh, chance.placement(100)));
  return s;
}

}  // namespace

TEST_CASE("a pivot can be put anywhere and nothing moves") {
  Chance chance(321);
  double moved = 0, off = 0;
  for (int i = 0; i < 500; ++i) {
    const Scene s = tree(chance, blob(chance, 15));
    Pivot pivot;
    const PartId id = static_cast<PartId>(chance.whole(1, 4));
    pivot.what = {id};
    const Vec3 target = chance.point(300);
    pivot.at = about_place({TackKind::Point, kNoPart, 0, target});
    const Scene t = done(pivot, s);
    moved = std::max(moved, furthest_moved(s, t));
    off = std::max(off, distance(world_of(t, id) * t.part(id).placement.pivot, target) / (100 + length(target)));
  }
  note_number(
      fmt::format("pivot: put within {:.2e} of its place, vertices moved by at most {:.2e} (500 trees)", off, moved));
  CHECK(moved < 1e-12);
  CHECK(off < 1e-12);
}

TEST_CASE("put on another part's corner and turned about it, the part turns about that corner") {
  Scene s;
  Placement hub;
  hub.position = {200, 50, 10};
  s.add(part_of("Hub", cube(30), hub));
  s.add(part_of("Lever", cube(20)));
  Pivot pivot;
  pivot.what = {2};
  pivot.at = about_place({TackKind::BoxPoint, 1, 0, {0, 0, 1}});
  s = done(pivot, s);
  CHECK(s.part(2).placement.position == Vec3{200, 50, 40});
  Rotate rotate;
  rotate.what = {2};
  rotate.angle = 90;
  s = done(rotate, s);
  // (0, 0, 0) is (−200, −50) from the corner; turned by 90° it is (50, −200).
  CHECK(distance(world_of(s, 2) * Vec3{}, {250, -150, 0}) < 1e-12);
}

TEST_CASE("typed numbers, box points, centre of mass, middle of all") {
  Scene s;
  Placement p;
  p.position = {10, 20, 30};
  s.add(part_of("Post", cube(20), p));
  const auto pivot_after = [&](const char* at) {
    const auto verb = verb_from_json(Json::parse(fmt::format(R"({{"verb":"pivot","what":["Post"],"at":{}}})", at)), s);
    INFO(at);
    REQUIRE(verb);
    return done(*verb, s).part(1).placement.position;
  };
  CHECK(pivot_after("[1, null, \"it + 5\"]") == Vec3{1, 20, 35});
  CHECK(pivot_after("\"box 0.5,0.5,0\"") == Vec3{20, 30, 30});
  CHECK(pivot_after("\"mass\"") == Vec3{20, 30, 40});
  CHECK(pivot_after("\"middle\"") == Vec3{20, 30, 40});
  // Half way from vertex 0 to vertex 1, which are p.position + their own coordinates.
  const auto positions = s.part(1).mesh->positions();
  CHECK(pivot_after("\"\\\"Post\\\" edge 0-1 at 0.5\"") == p.position + (positions[0] + positions[1]) * 0.5);
}

TEST_CASE("centres of mass known by hand") {
  CHECK(mass_centre(*cube(20)).point == Vec3{10, 10, 10});
  CHECK(mass_centre(*cube(20)).closed);
  CHECK(mass_centre(*cube(20)).amount == Approx(8000));
  // A tetrahedron balances at the mean of its corners; open at one face, at the mean of the other faces' by area.
  MeshData d;
  d.positions = {{0, 0, 0}, {12, 0, 0}, {0, 12, 0}, {0, 0, 12}};
  d.triangles = {{0, 2, 1}, {0, 1, 3}, {0, 3, 2}, {1, 2, 3}};
  const MassCentre solid = mass_centre(**make_mesh(d));
  CHECK(solid.closed);
  CHECK(distance(solid.point, {3, 3, 3}) < 1e-14);
  CHECK(solid.amount == Approx(12.0 * 12 * 12 / 6));
  d.triangles.pop_back();
  const MassCentre open = mass_centre(**make_mesh(d));
  CHECK_FALSE(open.closed);
  // Three equal faces with centroids (4, 4, 0), (4, 0, 4), (0, 4, 4).
  CHECK(distance(open.point, {8.0 / 3, 8.0 / 3, 8.0 / 3}) < 1e-14);
  // Far from the origin nothing is lost.
  MeshData far = demo::box({1e7, 1e7, 1e7}, {1e7 + 1, 1e7 + 1, 1e7 + 1});
  CHECK(distance(mass_centre(**make_mesh(far)).point, {1e7 + 0.5, 1e7 + 0.5, 1e7 + 0.5}) < 1e-8);
}

TEST_CASE("baking moves nothing, leaves 0, 0 and 1, and keeps children and copies in place") {
  Chance chance(322);
  double worst = 0;
  for (int i = 0; i < 300; ++i) {
    const Scene s = tree(chance, blob(chance, 15));
    Bake bake;
    bake.what = {static_cast<PartId>(chance.whole(1, 4))};
    bake.rotation = chance.whole(0, 1) == 0;
    bake.scale = chance.whole(0, 1) == 0 || !bake.rotation;
    bake.position = chance.whole(0, 2) == 0;
    bake.copies = chance.whole(0, 1) ? Copies::All : Copies::Separate;
    const Scene t = done(bake, s);
    worst = std::max(worst, furthest_moved(s, t));
    const Placement& p = t.part(bake.what[0]).placement;
    if (bake.rotation) CHECK(p.rotation == Vec3{});
    if (bake.scale) CHECK((p.scale == Vec3{1, 1, 1} && p.skew == Vec3{}));
    if (bake.position) CHECK((p.position == Vec3{} && p.pivot == Vec3{}));
    const bool linked =
        s.part(1).mesh == s.part(4).mesh && t.part(1).mesh == t.part(4).mesh && t.part(3).mesh == t.part(4).mesh;
    if (bake.what[0] != 2) CHECK(linked == (bake.copies == Copies::All));
  }
  note_number(fmt::format("bake: vertices moved by at most {:.2e} of distance (300 trees)", worst));
  CHECK(worst < 1e-11);
}

TEST_CASE("a mirror is baked with faces and normals pointing out") {
  Scene s;
  Placement p;
  p.scale = {-1, 1, 1};
  s.add(part_of("Curve", cube(20), p));
  Bake bake;
  bake.what = {1};
  bake.scale = true;
  const Scene t = done(bake, s);
  const MassCentre m = mass_centre(*t.part(1).mesh);
  CHECK(m.closed);
  double volume = 0;
  for (std::uint32_t i = 0; i < 12; ++i) {
    const auto c = t.part(1).mesh->corners(i);
    volume += dot(c[0], cross(c[1], c[2])) / 6;
  }
  CHECK(volume == Approx(8000));
  Part skinned = s.part(1);
  skinned.skin = std::make_shared<const Skin>();
  s.replace(1, skinned);
  CHECK_FALSE(tack::apply(bake, s));
}

TEST_CASE("the tightest box of a box that stands askew is the box itself") {
  Chance chance(323);
  for (int i = 0; i < 60; ++i) {
    const Vec3 size{chance.between(20, 300), chance.between(5, 100), chance.between(1, 60)};
    const Mat3 askew = squared_up({{chance.direction(), chance.direction(), chance.direction()}});
    const MeshPtr mesh = *transformed(**make_mesh(demo::box({}, size)), {askew, chance.point(100)});
    Scene s;
    Placement p;
    p.rotation = {0, 0, chance.between(-180, 180)};
    p.position = chance.point(100);
    s.add(part_of("Sign", mesh, p));
    const Scene t = done(FitBox{{1}, {}, Copies::Separate}, s);
    CHECK(furthest_moved(s, t) < 1e-12);
    Vec3 found = own_size(t, 1), wanted = size;
    std::sort(&wanted.x, &wanted.x + 3, std::greater<>());
    CHECK(distance(found, wanted) < 1e-9 * length(size));
    CHECK(t.part(1).placement.scale == Vec3{1, 1, 1});
  }
}

TEST_CASE("the box fits to an edge, a face or three tacks") {
  Scene s;
  const Mat3 askew = squared_up({{Vec3{3, 1, 0}, Vec3{-1, 3, 0}, Vec3{0, 0, 1}}});
  s.add(part_of("Sign", *transformed(**make_mesh(demo::box({}, {30, 10, 5})), {askew, {}})));
  const auto own_after = [&](const char* to) {
    const auto verb =
        verb_from_json(Json::parse(fmt::format(R"({{"verb":"fit-box","what":["Sign"],"to":{}}})", to)), s);
    REQUIRE(verb);
    const Scene t = done(*verb, s);
    CHECK(furthest_moved(s, t) < 1e-13);
    return own_size(t, 1);
  };
  const auto corner = [&](const Vec3& p) {
    for (std::uint32_t v = 0; v < 8; ++v)
      if (distance(s.part(1).mesh->positions()[v], askew * p) < 1e-9) return v;
    return 99u;
  };
  const auto a = corner({}), x = corner({30, 0, 0}), y = corner({0, 10, 0});
  CHECK(distance(
            own_after(
                fmt::format(R"(["\"Sign\" vertex {}", "\"Sign\" vertex {}", "\"Sign\" vertex {}"])", a, x, y).c_str()),
            {30, 10, 5}) < 1e-12);
  // An edge lies between two slanted faces: x runs along it, and across it the box is no longer square to the faces.
  CHECK(own_after(fmt::format(R"("\"Sign\" edge {}-{}")", a, x).c_str()).x == Approx(30).epsilon(1e-13));
  // A face: z is its normal, x its longest edge.
  for (std::uint32_t f = 0; f < 12; ++f) {
    Vec3 size = own_after(fmt::format(R"("\"Sign\" face {}")", f).c_str());
    std::sort(&size.x, &size.x + 3, std::greater<>());
    CHECK(distance(size, {30, 10, 5}) < 1e-12);
  }
  FitBox in_line;
  in_line.what = {1};
  for (const double along : {0.0, 1.0, 2.0}) in_line.to.emplace_back(point({along, 0, 0}));
  CHECK_FALSE(tack::apply(in_line, s));
}

TEST_CASE("a pivot turned like the world, a part or its parent makes its axes those, and nothing moves") {
  Chance chance(324);
  for (int i = 0; i < 200; ++i) {
    Scene s;
    const PartId other = s.add(part_of("Ramp", cube(10), chance.placement(100)));
    const PartId id = s.add(part_of("Sign", blob(chance, 12), chance.placement(100)));
    s.add(part_of("Child", cube(5), chance.placement(50), id));
    Pivot pivot;
    pivot.what = {id};
    pivot.turned =
        i % 2 ? Turned{Turned::Kind::Part, other, std::nullopt} : Turned{Turned::Kind::World, kNoPart, std::nullopt};
    const Scene t = done(pivot, s);
    CHECK(furthest_moved(s, t) < 1e-11);
    const Mat3 wanted = i % 2 ? own_axes(s, other) : Mat3{};
    const Mat3 is = own_axes(t, id);
    for (int c = 0; c < 3; ++c) CHECK(distance(is.column[c], wanted.column[c]) < 1e-11);
    CHECK(distance(world_of(t, id) * t.part(id).placement.pivot, world_of(s, id) * s.part(id).placement.pivot) < 1e-9);
  }
}
