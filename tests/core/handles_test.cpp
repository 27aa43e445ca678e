#include <catch2/catch.hpp>

#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/view/handles.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

View some_view(Chance& chance, bool perspective) {
  Camera camera;
  camera.target = chance.point(500);
  camera.turn = chance.between(-180, 180);
  camera.tilt = chance.between(-89, 89);
  camera.distance = chance.between(200, 3000);
  camera.perspective = perspective;
  return view_of(camera, 1280, 800);
}

}  // namespace

TEST_CASE("a pixel of a point on an axis gives back how far along it is") {
  Chance chance(401);
  int tried = 0;
  for (int i = 0; i < 2000; ++i) {
    const View view = some_view(chance, i % 2);
    const Vec3 origin = view.eye - view.back() * chance.between(200, 2000) + view.right() * chance.between(-50, 50);
    const Vec3 axis = chance.direction();
    const double t = chance.between(-80, 80);
    const auto px = view.project(origin + axis * t);
    if (!px || std::abs(dot(axis, view.back())) > 0.9) continue;
    const auto along = along_axis(view, origin, axis, px->x, px->y);
    REQUIRE(along);
    CHECK(*along == Approx(t).margin(1e-6));
    const Vec3 normal = normalized(cross(axis, chance.direction()));
    if (std::abs(dot(normal, view.back())) < 0.3) continue;
    const auto on = on_plane(view, origin, normal, px->x, px->y);
    REQUIRE(on);
    CHECK(distance(*on, origin + axis * t) < 1e-6);
    ++tried;
  }
  CHECK(tried > 500);
}

TEST_CASE("an axis that points at the viewer and a plane along the line of sight give nothing") {
  const View view = view_of(turned_to({}, Side::Front), 1280, 800);
  CHECK_FALSE(along_axis(view, {}, {0, 1, 0}, 640, 400));
  CHECK_FALSE(on_plane(view, {}, {0, 0, 1}, 640, 400));
  // Its ruler is not offered either, nor are brackets and arcs seen edge-on.
  for (const Handle& h : move_handles(view, {}, {})) CHECK_FALSE((h.kind == Handle::Kind::Ruler && h.axes[1]));
  int arcs = 0;
  for (const Handle& h : rotate_handles(view, {}, {})) arcs += h.kind == Handle::Kind::Arc;
  CHECK(arcs == 2);  // about Y, which is the line of sight, and the one about the line of sight itself
}

TEST_CASE("the angle between two pixels is the angle between what they point at") {
  const View top = view_of(turned_to({}, Side::Top), 1280, 800);
  const auto at = [&](double degrees, double radius) {
    const SinCos a = sin_cos_degrees(degrees);
    return *top.project({a.cos * radius, a.sin * radius, 0});
  };
  const auto a = at(10, 50), b = at(137.5, 20);
  CHECK(angle_between_pixels(top, {}, {0, 0, 1}, a.x, a.y, b.x, b.y) == Approx(127.5).epsilon(1e-12));
  CHECK(angle_between_pixels(top, {}, {0, 0, -1}, a.x, a.y, b.x, b.y) == Approx(-127.5).epsilon(1e-12));
  // Seen edge-on a way across the axis turns, one along it does not.
  CHECK(angle_between_pixels(top, {}, {1, 0, 0}, 640, 400, 660, 400) == Approx(0).margin(1e-9));
  CHECK(std::abs(angle_between_pixels(top, {}, {1, 0, 0}, 640, 400, 640, 420)) > 5);
}

TEST_CASE("handles are found where they are drawn, and thinned where they would crowd") {
  Chance chance(402);
  for (int i = 0; i < 200; ++i) {
    const View view = some_view(chance, i % 2);
    const Vec3 origin = view.eye - view.back() * 800;
    const Mat3 frame = squared_up({{chance.direction(), chance.direction(), chance.direction()}});
    for (const auto& handles : {move_handles(view, origin, frame), rotate_handles(view, origin, frame)})
      for (std::size_t k = 0; k < handles.size(); ++k) {
        const auto px = view.project(handles[k].line[handles[k].line.size() / 2]);
        REQUIRE(px);
        CHECK(handle_at(view, handles, px->x, px->y) >= 0);
        CHECK(handle_at(view, handles, px->x + 400, px->y + 400) == -1);
      }
    const Affine box{frame * Mat3::diagonal({60, 40, 3}), origin};
    const auto pads = scale_handles(box, {false, false, false});
    CHECK(pads.size() == 26);
    const auto kept = thinned(view, pads, 14);
    for (std::size_t a = 0; a < kept.size(); ++a)
      for (std::size_t b = a + 1; b < kept.size(); ++b) {
        const auto pa = view.project(kept[a].at), pb = view.project(kept[b].at);
        CHECK(std::hypot(pa->x - pb->x, pa->y - pb->y) >= 14);
      }
    CHECK(scale_handles(box, {false, false, true}).size() == 8);
  }
}

TEST_CASE("increments land on decimal multiples") {
  CHECK(stepped(0.31, 0.1) == 0.3);
  CHECK(stepped(-7.4, 5) == -5);
  CHECK(stepped(1234.56, 0.25) == 1234.5);
  CHECK(stepped(7.77, 0) == 7.77);
  CHECK(stepped(22.6, 7.5) == 22.5);
  CHECK(stepped(26.5, 12.7) == 25.4);
  CHECK(tick_spacing(10, 7) == 1);
  CHECK(tick_spacing(1, 7) == 10);
  CHECK(tick_spacing(0.3, 7) == 50);
}

TEST_CASE("an arc's points are on its circle, every 2.5° and at the end") {
  const auto points = arc_points({1, 2, 3}, {0, 0, 1}, {10, 0, 0}, 91);
  CHECK(points.size() == 38);
  for (const Vec3& p : points) CHECK(distance(p, {1, 2, 3}) == Approx(10));
  CHECK(distance(points.back(), {1 + 10 * sin_cos_degrees(91).cos, 2 + 10 * sin_cos_degrees(91).sin, 3}) < 1e-12);
}
