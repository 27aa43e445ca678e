#include <catch2/catch.hpp>

#include "core/view/view.h"
#include "tests/support.h"

using namespace tack;
using tack::test::Chance;

TEST_CASE("the front view looks along +y with x to the right and z up") {
  Camera camera;
  camera.distance = 1000;
  for (const bool perspective : {true, false}) {
    camera.perspective = perspective;
    const View v = view_of(camera, 800, 600);
    const auto middle = v.project({0, 0, 0}), right = v.project({10, 0, 0}), up = v.project({0, 0, 10}),
               far = v.project({0, 10, 0});
    REQUIRE((middle && right && up && far));
    CHECK(middle->x == Approx(400));
    CHECK(middle->y == Approx(300));
    CHECK(right->x > 400);
    CHECK(up->y < 300);
    CHECK(far->depth > middle->depth);
  }
}

TEST_CASE("a ray goes through the point its pixel came from") {
  Chance chance(41);
  for (int i = 0; i < 500; ++i) {
    Camera camera{chance.point(100), chance.between(-180, 180), chance.between(-90, 90), chance.between(10, 5000),
                  i % 2 == 0};
    const View v = view_of(camera, 1000, 700);
    const Vec3 p = camera.target + chance.point(camera.distance / 4);
    const auto px = v.project(p);
    if (!px) continue;
    const Ray ray = v.ray(px->x, px->y);
    const Vec3 d = normalized(ray.direction);
    const Vec3 off = (p - ray.origin) - d * dot(p - ray.origin, d);
    CHECK(length(off) < 1e-8 * (camera.distance + 1000));
  }
}

TEST_CASE("orbiting, zooming and panning hold what they hold") {
  Chance chance(42);
  for (int i = 0; i < 300; ++i) {
    const Camera camera{chance.point(50), chance.between(-180, 180), chance.between(-80, 80), chance.between(200, 900),
                        i % 2 == 0};
    const View v = view_of(camera, 1000, 700);
    const Vec3 p = camera.target + chance.point(40);
    const auto at = v.project(p);
    REQUIRE(at);
    const auto orbit = view_of(orbited(camera, 20, -5, p), 1000, 700).project(p);
    CHECK(orbit->x == Approx(at->x).margin(1e-6));
    CHECK(orbit->y == Approx(at->y).margin(1e-6));
    const auto zoom = view_of(zoomed(camera, 0.7, p), 1000, 700).project(p);
    CHECK(zoom->x == Approx(at->x).margin(1e-6));
    CHECK(zoom->y == Approx(at->y).margin(1e-6));
    const auto pan = view_of(panned(camera, v, p, 30, -12), 1000, 700).project(p);
    CHECK(pan->x == Approx(at->x + 30).margin(1e-6));
    CHECK(pan->y == Approx(at->y - 12).margin(1e-6));
  }
}

TEST_CASE("a framed box is all in the picture and fills it") {
  Chance chance(43);
  for (int i = 0; i < 200; ++i) {
    Box box;
    box.include(chance.point(1000));
    box.include(box.low + Vec3{chance.between(1, 500), chance.between(1, 500), chance.between(0, 500)});
    Camera camera{{}, chance.between(-180, 180), chance.between(-90, 90), 100, i % 2 == 0};
    const View v = view_of(framed(camera, box, 900, 600), 900, 600);
    double widest = 0;
    for (int c = 0; c < 8; ++c) {
      const auto px = v.project(box.at({double(c & 1), double(c >> 1 & 1), double(c >> 2)}));
      REQUIRE(px);
      CHECK(px->x >= 0);
      CHECK(px->x <= 900);
      CHECK(px->y >= 0);
      CHECK(px->y <= 600);
      widest = std::max({widest, std::abs(px->x - 450) / 450, std::abs(px->y - 300) / 300});
    }
    CHECK(widest > 0.7);
  }
}

TEST_CASE("tilt stops at the poles and sides are exact") {
  Camera camera;
  CHECK(orbited(camera, 0, 500, {}).tilt == 90);
  const View top = view_of(turned_to(camera, Side::Top), 100, 100);
  CHECK(top.back() == Vec3{0, 0, 1});
  CHECK(top.right() == Vec3{1, 0, 0});
  CHECK(view_of(turned_to(camera, Side::Right), 100, 100).back() == Vec3{1, 0, 0});
  CHECK(view_of(turned_to(camera, Side::Left), 100, 100).back() == Vec3{-1, 0, 0});
  CHECK(view_of(turned_to(camera, Side::Back), 100, 100).back() == Vec3{0, 1, 0});
}

TEST_CASE("a close-up shows its span about its centre") {
  const View v = close_up({10, 20, 30}, {0, 0, 1}, {0, 1, 0}, 50, 100, 100);
  CHECK(v.project({10, 20, 30})->x == Approx(50));
  CHECK(v.project({35, 20, 30})->x == Approx(100));
  CHECK(v.project({10, 45, 30})->y == Approx(0).margin(1e-9));
  // Looking along "up" itself must not fail.
  CHECK(is_finite(close_up({}, {0, 0, 1}, {0, 0, 1}, 50, 100, 100).to_eye));
}
