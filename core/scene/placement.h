// Where a part stands in its parent: position, rotation, scale, skew and pivot.
#pragma once

#include <string>

#include "core/math/matrix.h"
#include "core/problem.h"

namespace tack {

/// A placement. The local matrix is T(position) · R · K · S · T(−pivot): `position` is where the pivot is, in the
/// parent. Children hang in the mesh's frame, so moving a pivot moves nothing.
struct Placement {
  Vec3 position;        ///< of the pivot, in the parent's units (mm under an unscaled parent)
  Vec3 rotation;        ///< degrees about the fixed parent axes, X first, then Y, then Z
  Vec3 scale{1, 1, 1};  ///< factors; negative ones mirror; zero only where a file says so: no verb makes one
  Vec3 skew;            ///< xy, xz, yz of the unit upper triangular K; no unit
  Vec3 pivot;           ///< in the mesh's own coordinates (mm)

  friend bool operator==(const Placement&, const Placement&) = default;
};

/// How far from its parent's origin a part may stand (mm), and how small and large a factor may be. Far beyond any
/// scene; within them nothing that is computed from a placement overflows.
inline constexpr double kFurthest = 1e12, kLeastFactor = 1e-9, kMostFactor = 1e9;
/// What of a placement lies beyond these, in words for a sentence about the part: "would stand 1e+300 mm away"; empty
/// when nothing does.
std::string beyond_limits(const Placement& placement);

/// R·K·S of a placement. Exact zeros and ones for quarter turns.
Mat3 linear_of(const Placement& placement);

/// The local matrix, from the mesh's frame to the parent's.
Affine matrix_of(const Placement& placement);
/// The same when linear_of(placement) is already known.
Affine matrix_with_linear(const Placement& placement, const Mat3& linear);

/// `placement` with its rotation, scale and skew replaced by those of `linear`; position and pivot stay. Typed angles
/// are kept to the bit when the rotation did not change by more than 1e-13. Fails when a factor would become zero;
/// where it is zero already, and its column still is, it stays, and the axis without a length is turned along with the
/// others.
Result<Placement> with_linear(const Placement& placement, const Mat3& linear);

/// `placement` with factors of 1 in place of zeros: what it would be if it were not flattened.
Placement unflattened(Placement placement);

/// The placement with the given pivot whose matrix is `matrix`. Columns that are exactly zero become factors of zero;
/// fails where it is flattened otherwise.
Result<Placement> placement_from(const Affine& matrix, const Vec3& pivot = {});

/// a + b as the sum of the decimals they are written as, so that 24.1 + 48.2 is 72.3: the double nearest to it. The
/// plain sum when either has more than 9 decimals (6 from 4e6 on, 3 from 4e9 on, none from 4e12 on).
double add_decimals(double a, double b);
Vec3 add_decimals(const Vec3& a, const Vec3& b);

}  // namespace tack
