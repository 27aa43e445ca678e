// The motion that brings points to other points best.
#pragma once

#include <span>
#include <utility>

#include "core/math/matrix.h"

namespace tack {

/// p goes to rotation · (p − from) · factor + to.
struct RigidFit {
  Mat3 rotation;
  double factor = 1;
  Vec3 from, to;  ///< the means of the two sets
  /// How far the points determine the turn: 2 wholly; 1 they lie in line, and the turn about that line is the smallest;
  /// 0 they coincide, and nothing is turned.
  int rank = 0;
};

/// The least-squares motion of the first points of `pairs` onto the second ones, without a mirror, with an even factor
/// when `sized` (Umeyama 1991, by singular values; Kabsch 1978 without the factor). Points that lie within 1e-9 of
/// their spread in a line, or in one place, on either side are told by `rank`; then the smallest turn that does is
/// taken. Error about 1e-15 of the spread. `pairs` is not empty.
RigidFit fit_rigid(std::span<const std::pair<Vec3, Vec3>> pairs, bool sized);

/// The smallest rotation that takes the unit vector `a` onto the unit vector `b`; for opposite ones a half turn about
/// `half_turn_axis` made square to `a`, else about the world axis least along `a`.
Mat3 smallest_turn(const Vec3& a, const Vec3& b, const std::optional<Vec3>& half_turn_axis);

}  // namespace tack
