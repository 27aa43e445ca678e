// Measuring: what lies between two tacks, from the stored numbers.
#pragma once

#include "core/catch/tack.h"

namespace tack {

/// Between two places; everything in world axes, mm and degrees.
struct Measured {
  Vec3 from, to;
  Vec3 delta;  ///< to − from
  double distance = 0;
  std::optional<double> angle;  ///< between the two directions, 0 … 180; nullopt when either has none
};

Measured measure(const Tack& from, const Tack& to);

/// Whether a place means a direction by itself: that of a vertex is only a mean of what meets there, that of a box
/// point or a pivot an agreement.
bool means_a_direction(const TackAddress& place);

/// The angle between two directions (any length but zero) in degrees, 0 … 180; within 1e-14 relative also for nearly
/// parallel directions (Kahan's form with atan2).
double angle_between(const Vec3& a, const Vec3& b);

}  // namespace tack
