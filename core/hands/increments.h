// Multiples that drags land on.
#pragma once

#include "core/view/handles.h"

namespace tack {

struct Increments {
  bool on = false;         ///< Shift turns them on for the moment, or off when they are on
  bool from_zero = false;  ///< the result is a multiple; else the change is
  double length = 10;      ///< mm
  double angle = 15;       ///< degrees
  double factor = 0.1;

  friend bool operator==(const Increments&, const Increments&) = default;

  /// `free`, or what it lands on: a change from `now` by a multiple of `step`, or to one.
  double landed(double now, double free, double step) const {
    return from_zero ? stepped(now + free, step) - now : stepped(free, step);
  }
};

}  // namespace tack
