#include <catch2/catch.hpp>

#include "core/catch/tack.h"
#include "core/fit/measure.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

std::uint32_t corner_at(const Mesh& mesh, const Vec3& p) {
  for (std::uint32_t i = 0; i < mesh.positions().size(); ++i)
    if (mesh.positions()[i] == p) return i;
  return 0xFFFFFFFF;
}

}  // namespace

TEST_CASE("a cube's corner points along its diagonal, rolled along its first edge") {
  const MeshPtr box = cube(10);
  Scene s;
  s.add(part_of("Box", box));
  for (const Vec3 corner : {Vec3{10, 10, 10}, Vec3{0, 10, 0}, Vec3{0, 0, 0}}) {
    const auto t = find_tack(s, {TackKind::Vertex, 1, corner_at(*box, corner), {}});
    REQUIRE(t);
    CHECK(t->point == corner);
    REQUIRE((t->direction && t->roll));
    const Vec3 out = normalized(corner - Vec3{5, 5, 5});
    CHECK(distance(*t->direction, out) < 1e-12);
    CHECK(dot(*t->roll, *t->direction) == Approx(0).margin(1e-12));
    CHECK(length(*t->roll) == Approx(1));
  }
}

TEST_CASE("directions stay outwards under a mirror and uneven scale") {
  const MeshPtr box = cube(10);
  Scene s;
  Placement p;
  p.scale = {-2, 0.5, 3};
  p.rotation = {10, 20, 30};
  s.add(part_of("Box", box, p));
  const Affine world = world_of(s, 1);
  for (std::uint32_t v = 0; v < 8; ++v) {
    const auto t = find_tack(s, {TackKind::Vertex, 1, v, {}});
    REQUIRE((t && t->direction));
    CHECK(dot(*t->direction, t->point - world * Vec3{5, 5, 5}) > 0);
  }
  const auto top = find_tack(s, {TackKind::BoxPoint, 1, 0, {0.5, 0.5, 1}});
  REQUIRE((top && top->direction));
  CHECK(dot(*top->direction, world.linear * Vec3{0, 0, 1}) > 0);
}

TEST_CASE("box points, pivots and points are where they should be") {
  Scene s;
  Placement p;
  p.position = {100, 0, 0};
  p.rotation = {0, 0, 90};
  p.pivot = {10, 0, 0};
  s.add(part_of("Box", cube(10), p));
  CHECK(find_tack(s, {TackKind::Pivot, 1, 0, {}})->point == Vec3{100, 0, 0});
  CHECK(find_tack(s, {TackKind::BoxPoint, 1, 0, {1, 0, 0}})->point == Vec3{100, 0, 0});
  CHECK(find_tack(s, {TackKind::BoxPoint, 1, 0, {0, 0, 0}})->point == Vec3{100, -10, 0});
  // The world's box of the turned cube: x from 90 to 100, y from −10 to 0.
  CHECK(find_tack(s, {TackKind::WorldBoxPoint, 1, 0, {0, 0, 0}})->point == Vec3{90, -10, 0});
  CHECK(find_tack(s, {TackKind::Point, kNoPart, 0, {1, 2, 3}})->point == Vec3{1, 2, 3});
  CHECK_FALSE(find_tack(s, {TackKind::Point, kNoPart, 0, {1, 2, 3}})->direction);
  CHECK_FALSE(find_tack(s, {TackKind::BoxPoint, 1, 0, {0.5, 0.5, 0.5}})->direction);
  CHECK_FALSE(find_tack(s, {TackKind::Vertex, 1, 8, {}}));
  CHECK_FALSE(find_tack(s, {TackKind::Pivot, 7, 0, {}}));
}

TEST_CASE("addresses are written and read the same way") {
  Scene s;
  const PartId lift = s.add(part_of("Lift", nullptr));
  s.add(part_of("The \"old\" scoop/1", cube(1), {}, lift));
  for (const TackAddress& a :
       {TackAddress{TackKind::Vertex, 2, 5, {}}, TackAddress{TackKind::BoxPoint, 2, 0, {0.5, 0.1, 1}},
        TackAddress{TackKind::WorldBoxPoint, 1, 0, {0, 0, 0}}, TackAddress{TackKind::Pivot, 2, 0, {}},
        TackAddress{TackKind::Point, kNoPart, 0, {1.0 / 3, -2, 1e-7}}}) {
    const std::string text = address_text(s, a);
    INFO(text);
    const auto back = parse_address(s, text);
    REQUIRE(back);
    CHECK(*back == a);
  }
  CHECK(parse_address(s, "  \"Lift\"   pivot ") == TackAddress{TackKind::Pivot, 1, 0, {}});
}

TEST_CASE("addresses that name nothing say so") {
  Scene s;
  s.add(part_of("Post 4", cube(1)));
  for (const char* text :
       {"", "Post 4 vertex 1", "\"Post 4\"", "\"Post 4 vertex 1", "\"Post 4\" vertex", "\"Post 4\" vertex -1",
        "\"Post 4\" vertex 1x", "\"Post 5\" vertex 1", "\"Post 4\" box 1,2", "\"Post 4\" box 1,2,x", "point 1,2",
        "point 1,2,inf", "\"Post 4\" corner 1", "\"Post 4\" pivot 3", "\"Post 4\" vertex 99999999999"}) {
    INFO(text);
    const auto a = parse_address(s, text);
    REQUIRE_FALSE(a);
    CHECK_FALSE(a.error().what.empty());
  }
}

TEST_CASE("measuring gives distance, components and angle") {
  Scene s;
  s.add(part_of("A", cube(10)));
  Placement p;
  p.position = {13, 0, 10};
  s.add(part_of("B", cube(10), p));
  const auto a = find_tack(s, {TackKind::BoxPoint, 1, 0, {1, 0.5, 0.5}}),
             b = find_tack(s, {TackKind::BoxPoint, 2, 0, {0, 0.5, 0}});
  const Measured m = measure(*a, *b);
  CHECK(m.delta == Vec3{3, 0, 5});
  CHECK(m.distance == Approx(std::sqrt(34.0)));
  CHECK(*m.angle == Approx(135));
  CHECK(angle_between({1, 0, 0}, {1, 1e-9, 0}) == Approx(1e-9 * 180 / 3.14159265358979).epsilon(1e-9));
  CHECK(angle_between({1, 0, 0}, {-2, 0, 0}) == 180);
}
