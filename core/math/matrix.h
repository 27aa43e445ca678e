// 3×3 matrices and affine maps in double. Column vectors: a point p goes to M * p.
#pragma once

#include <array>
#include <optional>

#include "core/math/vec.h"

namespace tack {

/// A 3×3 matrix kept as its three columns; a default one is the identity.
struct Mat3 {
  std::array<Vec3, 3> column{Vec3{1, 0, 0}, Vec3{0, 1, 0}, Vec3{0, 0, 1}};

  double operator()(int row, int col) const { return column[col][row]; }
  double& operator()(int row, int col) { return column[col][row]; }

  static Mat3 diagonal(const Vec3& d) { return {{Vec3{d.x, 0, 0}, Vec3{0, d.y, 0}, Vec3{0, 0, d.z}}}; }

  friend bool operator==(const Mat3&, const Mat3&) = default;
};

inline Vec3 operator*(const Mat3& m, const Vec3& v) {
  return m.column[0] * v.x + m.column[1] * v.y + m.column[2] * v.z;
}
inline Mat3 operator*(const Mat3& a, const Mat3& b) { return {{a * b.column[0], a * b.column[1], a * b.column[2]}}; }

inline Mat3 transpose(const Mat3& m) {
  Mat3 t;
  for (int r = 0; r < 3; ++r)
    for (int c = 0; c < 3; ++c) t(r, c) = m(c, r);
  return t;
}

inline double determinant(const Mat3& m) { return dot(m.column[0], cross(m.column[1], m.column[2])); }

/// The inverse by cofactors, put right by residuals in long double where the matrix is so ill-conditioned that they are
/// off by more than 1e-12: then within a few units of the last place times the condition number, not its square.
/// nullopt when the determinant is zero or not finite.
std::optional<Mat3> inverse(const Mat3& m);

/// x with a · x = b, given the inverse of `a`. Where the product is off by more than 1e-13 of the largest entry it is
/// put right by its residual in long double until it cannot be bettered.
Mat3 solved(const Mat3& a, const Mat3& inverse_of_a, const Mat3& b);

/// The matrix of cofactors, det(m) · (m⁻¹)ᵀ: it carries the cross product of two vectors to that of their images. Needs
/// no inverse, so it exists for singular matrices too.
inline Mat3 cofactor(const Mat3& m) {
  return {{cross(m.column[1], m.column[2]), cross(m.column[2], m.column[0]), cross(m.column[0], m.column[1])}};
}

/// The matrix that carries outward normals where `m` carries points (their lengths change): cofactors, with the sign
/// that keeps normals pointing out of the matter under a mirror.
inline Mat3 normal_map(const Mat3& m) {
  const Mat3 c = cofactor(m);
  if (determinant(m) >= 0) return c;
  return {{-c.column[0], -c.column[1], -c.column[2]}};
}

/// An affine map: p goes to linear * p + translation.
struct Affine {
  Mat3 linear;
  Vec3 translation;

  friend bool operator==(const Affine&, const Affine&) = default;
};

inline Vec3 operator*(const Affine& a, const Vec3& p) { return a.linear * p + a.translation; }
inline Affine operator*(const Affine& a, const Affine& b) { return {a.linear * b.linear, a * b.translation}; }
inline Affine translation(const Vec3& t) { return {{}, t}; }

/// The inverse map; nullopt when the linear part cannot be inverted.
std::optional<Affine> inverse(const Affine& a);

inline bool is_finite(const Mat3& m) {
  return is_finite(m.column[0]) && is_finite(m.column[1]) && is_finite(m.column[2]);
}
inline bool is_finite(const Affine& a) { return is_finite(a.linear) && is_finite(a.translation); }

}  // namespace tack
