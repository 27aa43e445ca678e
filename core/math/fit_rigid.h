// The motion that brings points to other points best.
#pragma once

#include <span>
#include <utility>

#include "core/math/matrix.h"

namespace tack {

/// p goes to rotation · (p − from) · factor + to.
struct RigidFit {
  /// What the points leave open of the turn. Of all turns that are equally good the smallest is taken.
  enum class Open {
    Nothing,
    AboutLine,  ///< on one of the sides they lie in a line: any turn about it is as good
    Several,    ///< mirror images that are alike along two directions, or offsets that cancel out across one
    All,        ///< on one of the sides they coincide, or their offsets cancel out: nothing is turned
  };

  Mat3 rotation;
  double factor = 1;
  Vec3 from, to;  ///< the means of the two sets
  Open open = Open::Nothing;
};

/// The least-squares motion of the first points of `pairs` onto the second ones, without a mirror, with an even factor
/// when `sized`: by singular values of the sum of products (Kabsch 1978, with the factor Umeyama 1991). Where the first
/// or the second points lie within 1e-9 of their spread in a line, that line is brought onto the direction of the sum
/// of the others, each times its way along the line: the same optimum, of which the singular values know only half the
/// digits. Where mirror images leave several turns equally good, it is the one of the best turns that is nearest to
/// none (the top eigenspace of Horn's matrix, 1987). Sums of squares are within 1e-12 of the least. `pairs` is not
/// empty.
RigidFit fit_rigid(std::span<const std::pair<Vec3, Vec3>> pairs, bool sized);

/// The smallest rotation that takes the unit vector `a` onto the unit vector `b`; for opposite ones a half turn about
/// `half_turn_axis` made square to `a`, else about the world axis least along `a`.
Mat3 smallest_turn(const Vec3& a, const Vec3& b, const std::optional<Vec3>& half_turn_axis);

}  // namespace tack
