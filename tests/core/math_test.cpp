#include <catch2/catch.hpp>

#include "core/math/degrees.h"
#include "core/math/split.h"
#include "tests/support.h"

using namespace tack;
using tack::test::Chance;

namespace {

double largest_difference(const Mat3& a, const Mat3& b) {
  double worst = 0;
  for (std::size_t c = 0; c < 3; ++c) worst = std::max(worst, largest_component(a.column[c] - b.column[c]));
  return worst;
}

}  // namespace

TEST_CASE("sine and cosine are exact where an artist expects it") {
  // Quarter turns, from far away too; halves at 30° and 60°.
  for (int turns = -5; turns <= 5; ++turns) {
    const double full = 360.0 * turns;
    CHECK(sin_cos_degrees(full).sin == 0);
    CHECK(sin_cos_degrees(full + 90).sin == 1);
    CHECK(sin_cos_degrees(full + 90).cos == 0);
    CHECK(sin_cos_degrees(full + 180).cos == -1);
    CHECK(sin_cos_degrees(full + 270).sin == -1);
    CHECK(sin_cos_degrees(full + 30).sin == 0.5);
    CHECK(sin_cos_degrees(full + 60).cos == 0.5);
    CHECK(sin_cos_degrees(full + 150).sin == 0.5);
  }
  CHECK_FALSE(std::signbit(sin_cos_degrees(-360).sin));
  CHECK(std::isnan(sin_cos_degrees(INFINITY).sin));
}

TEST_CASE("sine and cosine are symmetric, periodic and right") {
  Chance chance(11);
  for (int i = 0; i < 2000; ++i) {
    const double a = chance.between(-720, 720);
    const SinCos s = sin_cos_degrees(a), m = sin_cos_degrees(-a);
    CHECK(s.sin == -m.sin);
    CHECK(s.cos == m.cos);
    CHECK(s.sin == Approx(std::sin(static_cast<long double>(a) * 3.14159265358979323846L / 180)).margin(1e-15));
    // 1024 keeps a + 360 exact for this a.
    const double exact = std::round(a * 1024) / 1024;
    CHECK(sin_cos_degrees(exact + 360).sin == sin_cos_degrees(exact).sin);
  }
}

TEST_CASE("the angle of a point is exact at eighths of a turn") {
  CHECK(atan2_degrees(0, 1) == 0);
  CHECK(atan2_degrees(1, 1) == 45);
  CHECK(atan2_degrees(2, 0) == 90);
  CHECK(atan2_degrees(3, -3) == 135);
  CHECK(atan2_degrees(0, -1) == 180);
  CHECK(atan2_degrees(-0.0, -1) == 180);
  CHECK(atan2_degrees(-1, -1) == -135);
  CHECK(atan2_degrees(0, 0) == 0);
}

TEST_CASE("90 typed three times in any order is a matrix of zeros and ones") {
  for (const double x : {0.0, 90.0, -90.0, 180.0, 270.0})
    for (const double y : {0.0, 90.0, -90.0})
      for (const double z : {0.0, 90.0, 180.0, 450.0}) {
        const Mat3 r = rotation_from_degrees({x, y, z});
        for (int row = 0; row < 3; ++row)
          for (int col = 0; col < 3; ++col) CHECK((r(row, col) == 0 || std::abs(r(row, col)) == 1));
        CHECK(determinant(r) == 1);
      }
  // Z by 90 takes x to y; the order is X, then Y, then Z about fixed axes.
  CHECK(rotation_from_degrees({0, 0, 90}) * Vec3{1, 0, 0} == Vec3{0, 1, 0});
  CHECK(rotation_from_degrees({90, 0, 90}) * Vec3{0, 1, 0} == Vec3{0, 0, 1});
}

TEST_CASE("angles found from a rotation make the same rotation") {
  Chance chance(12);
  double worst = 0;
  for (int i = 0; i < 5000; ++i) {
    Vec3 typed{chance.between(-180, 180), chance.between(-90, 90), chance.between(-180, 180)};
    if (i % 5 == 0) typed.y = i % 10 == 0 ? 90 : -90;
    const Mat3 r = rotation_from_degrees(typed);
    const Vec3 found = degrees_from_rotation(r);
    CHECK(std::abs(found.y) <= 90);
    if (i % 5 == 0) CHECK(found.x == 0);
    worst = std::max(worst, largest_difference(rotation_from_degrees(found), r));
  }
  CHECK(worst < 1e-12);
}

TEST_CASE("a linear map splits into rotation, skew and scale and goes together again") {
  Chance chance(13);
  double worst = 0;
  for (int i = 0; i < 5000; ++i) {
    Mat3 m;
    for (int r = 0; r < 3; ++r)
      for (int c = 0; c < 3; ++c) m(r, c) = chance.between(-5, 5);
    if (std::abs(determinant(m)) < 0.1) continue;
    const auto split = split_linear(m);
    REQUIRE(split);
    CHECK(determinant(split->rotation) == Approx(1).epsilon(1e-12));
    CHECK((split->scale.x * split->scale.y * split->scale.z < 0) == (determinant(m) < 0));
    CHECK(split->scale.y > 0);
    worst = std::max(worst, largest_difference(compose_linear(*split), m));
  }
  CHECK(worst < 1e-12 * 5);
}

TEST_CASE("signs of the scale stay where their parity fits") {
  const auto kept = split_linear(Mat3::diagonal({2, -3, 4}), {1, -1, 1});
  REQUIRE(kept);
  CHECK(kept->scale == Vec3{2, -3, 4});
  CHECK(kept->rotation == Mat3{});
  const auto flipped = split_linear(Mat3::diagonal({2, -3, 4}), {1, 1, 1});
  REQUIRE(flipped);
  CHECK(flipped->scale.x < 0);
  CHECK_FALSE(split_linear(Mat3::diagonal({2, 0, 4})));
}

TEST_CASE("two turns and a stretch rebuild a skewed map") {
  Chance chance(14);
  for (int i = 0; i < 500; ++i) {
    Mat3 m;
    for (int r = 0; r < 3; ++r)
      for (int c = 0; c < 3; ++c) m(r, c) = chance.between(-3, 3);
    const TurnStretchTurn t = split_by_singular_values(m);
    CHECK(determinant(t.turn) == Approx(1));
    CHECK(determinant(t.first_turn) == Approx(1));
    CHECK(largest_difference(t.turn * (Mat3::diagonal(t.stretch) * t.first_turn), m) < 1e-13);
  }
}

TEST_CASE("quaternions carry rotations both ways") {
  Chance chance(15);
  for (int i = 0; i < 500; ++i) {
    const Mat3 r =
        rotation_from_degrees({chance.between(-180, 180), chance.between(-90, 90), chance.between(-180, 180)});
    const auto q = quaternion_from_rotation(r);
    CHECK(q[0] * q[0] + q[1] * q[1] + q[2] * q[2] + q[3] * q[3] == Approx(1).epsilon(1e-14));
    CHECK(largest_difference(rotation_from_quaternion(q), r) < 1e-15 * 4);
  }
  const double h = 0.70710678118654752440;
  CHECK(rotation_from_quaternion({h, 0, 0, h}) == rotation_from_degrees({90, 0, 0}));
  CHECK(rotation_from_quaternion({0, 0, 0, 0}) == Mat3{});
}

TEST_CASE("an inverse undoes its map, and a flat map has none") {
  Chance chance(16);
  for (int i = 0; i < 200; ++i) {
    const Affine a = matrix_of(chance.placement(100));
    const auto back = inverse(a);
    REQUIRE(back);
    const Vec3 p = chance.point(100);
    CHECK(distance(*back * (a * p), p) < 1e-10);
  }
  CHECK_FALSE(inverse(Mat3::diagonal({1, 0, 1})));
}
