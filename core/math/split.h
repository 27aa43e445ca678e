// Splitting a linear map into rotation, skew and scale, and back; and into two turns and a stretch for glTF.
#pragma once

#include "core/math/matrix.h"
#include "core/problem.h"

namespace tack {

/// A linear map as R·K·S: scale first, then skew (unit upper triangular K with the entries xy, xz, yz), then rotation.
struct Split {
  Mat3 rotation;
  Vec3 scale{1, 1, 1};
  Vec3 skew;  ///< x is K(0,1), y is K(0,2), z is K(1,2); no unit
};

/// Splits `linear` by QR (modified Gram–Schmidt, orthogonalised twice; Golub & Van Loan, 5.2.8) with R a proper
/// rotation. The signs of the scale are those of `previous_signs` (a vector of ±1) if their product fits the sign of
/// the determinant, else the x factor alone is negative for a mirror and none otherwise. Composing the result again
/// differs by at most 1e-12 of the largest entry. Fails when a factor would be zero or not finite.
Result<Split> split_linear(const Mat3& linear, const Vec3& previous_signs = {1, 1, 1});

/// R·K·S.
Mat3 compose_linear(const Split& split);

/// The signs (±1 each) of a vector of factors; zero counts as positive.
Vec3 signs_of(const Vec3& factors);

/// `linear` = turn · diag(stretch) · first_turn with proper rotations; a mirror puts its sign into stretch.x.
/// Singular value decomposition (Eigen's JacobiSVD), error about 1e-15 of the largest entry.
struct TurnStretchTurn {
  Mat3 turn;
  Vec3 stretch;
  Mat3 first_turn;
};
TurnStretchTurn split_by_singular_values(const Mat3& linear);

/// Unit quaternion (x, y, z, w) of a proper rotation, w >= 0. Shepperd's method; error about 1e-16.
std::array<double, 4> quaternion_from_rotation(const Mat3& rotation);

/// The rotation of a quaternion (x, y, z, w), which need not be exactly of unit length; the zero quaternion gives the
/// identity. Quaternions of quarter turns (components 0, ±√½, ±1, ±½) give exact zeros and ones.
Mat3 rotation_from_quaternion(const std::array<double, 4>& q);

/// The proper turn of the split of `linear`, with the signs of `previous_signs` taken out as split_linear() does it:
/// the axes that a part's rotation reads. For a mirrored part whose rotation reads 0, 0, 0 it is the identity. Where a
/// factor would be zero, squared_up().
Mat3 proper_turn(const Mat3& linear, const Vec3& previous_signs);

/// Whether `linear` only turns and scales evenly, within 1e-12 (a mirror included): turns stay turns under it.
bool is_similarity(const Mat3& linear);

/// The orthonormal right-handed frame of `linear`: its x column normalised, then y squared up against it, then z.
/// Falls back to world axes where a column vanishes or is parallel to the one before.
Mat3 squared_up(const Mat3& linear);

}  // namespace tack
