#include "core/hands/increments.h"

#include "core/math/degrees.h"

namespace tack {
namespace {

constexpr double kWindow = 0.5;  // degrees: no two multiples are passed unseen within it that a step of 1° has
constexpr int kHalvings = 60;

// The angle that is shown after a turn about the axis.
double shown_after(const Mat3& before, int axis, double turn) {
  Vec3 unit;
  unit[axis] = 1;
  return degrees_from_rotation(rotation_about(unit, turn) * before)[axis];
}

}  // namespace

double turned_onto(const Vec3& shown, int axis, double free, double step) {
  if (axis == 2) return stepped(shown.z + free, step) - shown.z;
  const Mat3 before = rotation_from_degrees(shown);
  // How far the angle is from the multiple that it is nearest to; it jumps by a step half way between two of them.
  const auto off = [&](double turn) {
    const double angle = shown_after(before, axis, turn);
    return angle - stepped(angle, step);
  };
  const double window = std::min(kWindow, step / 4);
  // Outwards from where the hand is: the first place where the angle passes a multiple.
  for (double away = 0; away <= 180; away += window)
    for (const double side : {1.0, -1.0}) {
      double low = free + side * away, high = low + side * window;
      double a = off(low), b = off(high);
      if (a == 0) return low;
      if ((a < 0) == (b < 0) || std::abs(a - b) > step / 2) continue;
      for (int i = 0; i < kHalvings; ++i) {
        const double middle = (low + high) / 2, c = off(middle);
        ((a < 0) == (c < 0) ? low : high) = middle;
        if ((a < 0) == (c < 0)) a = c;
      }
      return (low + high) / 2;
    }
  return stepped(free, step);
}

}  // namespace tack
