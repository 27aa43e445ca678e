// Multiples that drags land on.
#pragma once

#include "core/math/vec.h"
#include "core/view/handles.h"

namespace tack {

/// What is a multiple: the change, or what it comes to.
enum class LandsFrom { Here, Zero };

struct Increment {
  double step = 1;
  LandsFrom from = LandsFrom::Here;

  /// The change that a free one lands on, from what is `now`.
  double landed(double now, double free) const {
    return from == LandsFrom::Zero ? stepped(now + free, step) - now : stepped(free, step);
  }

  friend bool operator==(const Increment&, const Increment&) = default;
};

/// Lengths, angles and factors each have their own.
struct Increments {
  bool on = false;  ///< Shift turns them on for the moment, or off when they are on
  Increment length{10};
  Increment angle{15};
  Increment factor{0.1};

  friend bool operator==(const Increments&, const Increments&) = default;
};

/// The turn (degrees) about the axis with this number after which the angle that is shown for it is a multiple of
/// `step`: the one nearest to `free`. `shown` are the three angles before (degrees, about the fixed axes: x first, then
/// y, then z), in the axes it turns about. About z the angle shown grows with the turn; about x and y it is what the
/// split makes of it (degrees_from_rotation), and of y not every multiple can be reached: then the nearest that can. A
/// multiple of the turn itself where none can be.
double turned_onto(const Vec3& shown, int axis, double free, double step);

}  // namespace tack
