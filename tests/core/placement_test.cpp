#include <catch2/catch.hpp>

#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/scene/placement.h"
#include "tests/support.h"

using namespace tack;
using tack::test::Chance;

TEST_CASE("position is where the pivot is") {
  Placement p;
  p.position = {10, 20, 30};
  p.rotation = {0, 0, 90};
  p.scale = {2, 3, 4};
  p.pivot = {1, 1, 1};
  const Affine m = matrix_of(p);
  CHECK(m * p.pivot == p.position);
  // By hand: one along the mesh's x is scaled to 2 and turned onto y.
  CHECK(m * Vec3{2, 1, 1} == Vec3{10, 22, 30});
}

TEST_CASE("moving a pivot with its position moves nothing else") {
  Chance chance(21);
  for (int i = 0; i < 100; ++i) {
    Placement p = chance.placement(100);
    const Affine before = matrix_of(p);
    const Vec3 pivot = chance.point(20);
    p.position = before * pivot;
    p.pivot = pivot;
    CHECK(distance(matrix_of(p).translation, before.translation) < 1e-11);
    CHECK(matrix_of(p).linear == before.linear);
  }
}

TEST_CASE("a placement comes back from its matrix") {
  Chance chance(22);
  for (int i = 0; i < 1000; ++i) {
    Placement p = chance.placement(100);
    p.skew = chance.point(0.5);
    const Affine m = matrix_of(p);
    const auto back = placement_from(m, p.pivot);
    REQUIRE(back);
    const Affine again = matrix_of(*back);
    for (std::size_t c = 0; c < 3; ++c) CHECK(distance(again.linear.column[c], m.linear.column[c]) < 1e-12 * 10);
    CHECK(distance(again.translation, m.translation) < 1e-10);
  }
}

TEST_CASE("typed angles survive a change that does not turn") {
  Placement p;
  p.rotation = {24.1, 33.3, -71.7};
  const auto same = with_linear(p, linear_of(p));
  REQUIRE(same);
  CHECK(same->rotation == p.rotation);
  CHECK(same->scale == p.scale);
  CHECK(same->skew == Vec3{});
}

TEST_CASE("lengths and angles add as the decimals they are written as") {
  double sum = 0;
  for (int i = 0; i < 3; ++i) sum = add_decimals(sum, 24.1);
  CHECK(sum == 72.3);
  CHECK(24.1 + 24.1 + 24.1 != 72.3);
  CHECK(add_decimals(0.1, 0.2) == 0.3);
  CHECK(add_decimals(1e300, 1e300) == 2e300);
  CHECK(add_decimals(1.0 / 3, 1.0 / 3) == Approx(2.0 / 3).epsilon(1e-15));
  CHECK(std::isinf(add_decimals(1.7e308, 1.7e308)));
  CHECK_FALSE(std::signbit(add_decimals(-0.0, -0.0)));
  // As whole numbers of the last decimal, which add without rounding; the nearest double to n / 10^d is what n / 10^d
  // gives.
  Chance chance(62);
  for (int i = 0; i < 20000; ++i) {
    const double power = std::pow(10, chance.whole(0, 8));
    const double a = chance.whole(-1000000000, 1000000000), b = chance.whole(-1000000000, 1000000000);
    INFO(a << " / " << power << " + " << b << " / " << power);
    CHECK(add_decimals(a / power, b / power) == (a + b) / power);
  }
}
