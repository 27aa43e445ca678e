// Increments from zero: the angle that is shown is the multiple, whichever of the three is turned.
#include <catch2/catch.hpp>

#include "core/hands/hand.h"
#include "core/math/degrees.h"
#include "core/verbs/verb.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("from zero the angle that is shown lands on a multiple, about x, y and z", "[hands]") {
  Chance chance(1301);
  int landed = 0;
  for (int i = 0; i < 600; ++i) {
    const Vec3 shown{chance.between(-180, 180), chance.between(-85, 85), chance.between(-180, 180)};
    const double free = chance.between(-200, 200), step = i % 2 == 0 ? 15 : 7.5;
    const int axis = i % 3;
    const double turn = turned_onto(shown, axis, free, step);
    // By the other way round: the rotation as a whole, split anew.
    Vec3 unit;
    unit[axis] = 1;
    const Vec3 after = degrees_from_rotation(rotation_about(unit, turn) * rotation_from_degrees(shown));
    const double off = std::abs(after[axis] - step * std::round(after[axis] / step));
    INFO("axis " << axis << " shown " << shown.x << ", " << shown.y << ", " << shown.z << " free " << free);
    // About y not every multiple can be reached; where none can, the turn itself is one.
    const bool itself = std::abs(turn - step * std::round(turn / step)) < 1e-9;
    CHECK((off < 1e-9 || itself));
    landed += off < 1e-9;
    if (axis == 2) CHECK(off < 1e-9);
    // It is where the hand is, as near as there is a multiple.
    if (axis == 2) CHECK(std::abs(turn - free) <= step / 2 + 1e-9);
  }
  CHECK(landed > 580);
}

TEST_CASE("each kind of increment counts from zero or from here by itself", "[hands]") {
  const Increment here{10, LandsFrom::Here}, zero{10, LandsFrom::Zero};
  CHECK(here.landed(3, 14) == 10);
  CHECK(zero.landed(3, 14) == 17);  // to 20
  Increments all;
  all.angle.from = LandsFrom::Zero;
  CHECK(all.length.from == LandsFrom::Here);
  CHECK_FALSE(all == Increments{});
}
