#include "core/math/split.h"

#include <Eigen/LU>
#include <Eigen/SVD>

namespace tack {

Vec3 signs_of(const Vec3& f) { return {f.x < 0 ? -1.0 : 1.0, f.y < 0 ? -1.0 : 1.0, f.z < 0 ? -1.0 : 1.0}; }

Result<Split> split_linear(const Mat3& linear, const Vec3& previous_signs) {
  std::array<Vec3, 3> q;
  Mat3 u = Mat3::diagonal({0, 0, 0});
  for (int j = 0; j < 3; ++j) {
    Vec3 v = linear.column[j];
    // Two passes of projection: one is not enough when the columns are nearly parallel.
    for (int pass = 0; pass < 2; ++pass)
      for (int i = 0; i < j; ++i) {
        const double along = dot(q[i], v);
        u(i, j) += along;
        v -= q[i] * along;
      }
    const double len = length(v);
    if (!(len > 0) || !std::isfinite(len))
      return fail("The placement would flatten the part: its factor along " + std::string(1, "XYZ"[j]) +
                  " would be 0.");
    u(j, j) = len;
    q[j] = v / len;
  }
  Vec3 signs = signs_of(previous_signs);
  const bool mirrored = dot(q[0], cross(q[1], q[2])) < 0;
  if ((signs.x * signs.y * signs.z < 0) != mirrored) signs = {mirrored ? -1.0 : 1.0, 1, 1};
  Split split;
  for (int i = 0; i < 3; ++i) {
    split.rotation.column[i] = q[i] * signs[i];
    split.scale[i] = u(i, i) * signs[i];
  }
  split.skew = {u(0, 1) * signs.x / split.scale.y, u(0, 2) * signs.x / split.scale.z,
                u(1, 2) * signs.y / split.scale.z};
  // Rounding leaves a skew of some 1e-17 on maps that have none; it would show up as skew forever.
  for (int i = 0; i < 3; ++i)
    if (std::abs(split.skew[i]) < 1e-14) split.skew[i] = 0;
  return split;
}

Mat3 compose_linear(const Split& s) {
  Mat3 k;
  k(0, 1) = s.skew.x;
  k(0, 2) = s.skew.y;
  k(1, 2) = s.skew.z;
  return s.rotation * (k * Mat3::diagonal(s.scale));
}

TurnStretchTurn split_by_singular_values(const Mat3& linear) {
  Eigen::Matrix3d m;
  for (int r = 0; r < 3; ++r)
    for (int c = 0; c < 3; ++c) m(r, c) = linear(r, c);
  const Eigen::JacobiSVD<Eigen::Matrix3d> svd(m, Eigen::ComputeFullU | Eigen::ComputeFullV);
  Eigen::Matrix3d u = svd.matrixU(), v = svd.matrixV();
  Eigen::Vector3d s = svd.singularValues();
  if (u.determinant() < 0) {
    u.col(0) *= -1;
    s(0) *= -1;
  }
  if (v.determinant() < 0) {
    v.col(0) *= -1;
    s(0) *= -1;
  }
  TurnStretchTurn result;
  result.stretch = {s(0), s(1), s(2)};
  for (int r = 0; r < 3; ++r)
    for (int c = 0; c < 3; ++c) {
      result.turn(r, c) = u(r, c);
      result.first_turn(r, c) = v(c, r);
    }
  return result;
}

std::array<double, 4> quaternion_from_rotation(const Mat3& m) {
  const double trace = m(0, 0) + m(1, 1) + m(2, 2);
  std::array<double, 4> q{};
  int largest = 3;
  double best = trace;
  for (int i = 0; i < 3; ++i)
    if (m(i, i) > best) {
      best = m(i, i);
      largest = i;
    }
  if (largest == 3) {
    q = {m(2, 1) - m(1, 2), m(0, 2) - m(2, 0), m(1, 0) - m(0, 1), 1 + trace};
  } else {
    const int i = largest, j = (i + 1) % 3, k = (i + 2) % 3;
    q[i] = 1 + m(i, i) - m(j, j) - m(k, k);
    q[j] = m(j, i) + m(i, j);
    q[k] = m(k, i) + m(i, k);
    q[3] = m(k, j) - m(j, k);
  }
  double len = std::sqrt(q[0] * q[0] + q[1] * q[1] + q[2] * q[2] + q[3] * q[3]);
  if (q[3] < 0) len = -len;
  for (double& c : q) c = c / len + 0.0;
  return q;
}

Mat3 rotation_from_quaternion(const std::array<double, 4>& q) {
  const double n = q[0] * q[0] + q[1] * q[1] + q[2] * q[2] + q[3] * q[3];
  if (!(n > 0) || !std::isfinite(n)) return {};
  const double s = 2 / n;
  const double x = q[0], y = q[1], z = q[2], w = q[3];
  Mat3 r;
  r.column[0] = {1 - s * (y * y + z * z), s * (x * y + w * z), s * (x * z - w * y)};
  r.column[1] = {s * (x * y - w * z), 1 - s * (x * x + z * z), s * (y * z + w * x)};
  r.column[2] = {s * (x * z + w * y), s * (y * z - w * x), 1 - s * (x * x + y * y)};
  // √½ squared and doubled is 1 only to the last bit; entries that close to 0 or ±1 are meant to be it.
  for (Vec3& c : r.column)
    for (int i = 0; i < 3; ++i)
      if (const double whole = std::nearbyint(c[i]); std::abs(c[i] - whole) < 4e-16) c[i] = whole + 0.0;
  return r;
}

Mat3 proper_turn(const Mat3& linear, const Vec3& previous_signs) {
  const auto split = split_linear(linear, previous_signs);
  return split ? split->rotation : squared_up(linear);
}

bool is_similarity(const Mat3& m) {
  const double a = length(m.column[0]), b = length(m.column[1]), c = length(m.column[2]);
  const double tolerance = 1e-12 * a;
  return a > 0 && std::abs(a - b) <= tolerance && std::abs(a - c) <= tolerance &&
         std::abs(dot(m.column[0], m.column[1])) <= tolerance * a &&
         std::abs(dot(m.column[1], m.column[2])) <= tolerance * a &&
         std::abs(dot(m.column[0], m.column[2])) <= tolerance * a;
}

Mat3 squared_up(const Mat3& linear) {
  Vec3 x = normalized(linear.column[0]);
  if (length_squared(x) == 0) x = {1, 0, 0};
  Vec3 y = linear.column[1] - x * dot(x, linear.column[1]);
  if (!(length(y) > 1e-12 * length(linear.column[1]))) {
    const Vec3 other = least_axis(x);
    y = other - x * dot(x, other);
  }
  y = normalized(y);
  return {{x, y, cross(x, y)}};
}

}  // namespace tack
