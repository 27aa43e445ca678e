#include "core/math/fit_rigid.h"

#include <Eigen/Eigenvalues>
#include <Eigen/LU>
#include <Eigen/SVD>

#include "core/math/degrees.h"
#include "core/math/split.h"

namespace tack {
namespace {

using Points = Eigen::MatrixX3d;  // offsets from their mean, one a row

Vec3 vec_of(const Eigen::Vector3d& v) { return {v[0], v[1], v[2]}; }

// The line that points lie in, when they do; `nothing` is what rounding may leave of an offset.
std::optional<Eigen::Vector3d> line_of(const Points& points, double nothing) {
  constexpr double kFlat = 1e-9;
  // From the points, not from their squares, of which half the digits are gone.
  const Eigen::JacobiSVD<Points> svd(points, Eigen::ComputeFullV);
  const auto& spread = svd.singularValues();
  if (points.rows() > 1 && spread[1] > kFlat * spread[0] && spread[1] > nothing) return std::nullopt;
  return Eigen::Vector3d(svd.matrixV().col(0));
}

// Of the turns that make the sum of products largest, the one nearest to none: Horn's quaternion matrix has them as its
// top eigenspace, and no turn is the quaternion 1, 0, 0, 0.
Mat3 nearest_of_best(const Eigen::Matrix3d& s, double slack) {
  // s(i, j) is the sum over the pairs of second point's i times first point's j.
  Eigen::Matrix4d n;
  n << s(0, 0) + s(1, 1) + s(2, 2), s(2, 1) - s(1, 2), s(0, 2) - s(2, 0), s(1, 0) - s(0, 1),  //
      0, s(0, 0) - s(1, 1) - s(2, 2), s(0, 1) + s(1, 0), s(0, 2) + s(2, 0),                   //
      0, 0, s(1, 1) - s(0, 0) - s(2, 2), s(1, 2) + s(2, 1),                                   //
      0, 0, 0, s(2, 2) - s(0, 0) - s(1, 1);
  n.triangularView<Eigen::StrictlyLower>() = n.transpose();
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix4d> solver(n);
  Eigen::Vector4d q = Eigen::Vector4d::Zero();
  for (int i = 0; i < 4; ++i)
    if (solver.eigenvalues()[i] >= solver.eigenvalues()[3] - slack)
      q += solver.eigenvectors().col(i) * solver.eigenvectors()(0, i);
  if (!(q.norm() > 1e-9)) q = solver.eigenvectors().col(3);
  return rotation_from_quaternion({q[1], q[2], q[3], q[0]});
}

}  // namespace

Mat3 smallest_turn(const Vec3& a, const Vec3& b, const std::optional<Vec3>& half_turn_axis) {
  const Vec3 axis = cross(a, b);
  const double sine = length(axis), cosine = dot(a, b);
  if (sine < 1e-12) {
    if (cosine > 0) return {};
    Vec3 about = half_turn_axis.value_or(least_axis(a));
    about = about - a * dot(about, a);
    if (!(length(about) > 1e-9)) about = least_axis(a) - a * dot(least_axis(a), a);
    return rotation_about(normalized(about), 180);
  }
  // Near half a turn the cross product is short, and what rounding leaves of it along `a` would count twice.
  const Vec3 about = axis / sine;
  return rotation_about(normalized(about - a * dot(about, a)), atan2_degrees(sine, cosine));
}

RigidFit fit_rigid(std::span<const std::pair<Vec3, Vec3>> pairs, bool sized) {
  RigidFit fit;
  const auto count = static_cast<double>(pairs.size());
  for (const auto& [a, b] : pairs) {
    fit.from += a / count;
    fit.to += b / count;
  }
  double spread_from = 0, spread_to = 0, magnitude = 0;
  Points own(pairs.size(), 3), theirs(pairs.size(), 3);
  Eigen::Index row = 0;
  for (const auto& [a, b] : pairs) {
    const Vec3 p = a - fit.from, q = b - fit.to;
    own.row(row) = Eigen::RowVector3d(p.x, p.y, p.z);
    theirs.row(row++) = Eigen::RowVector3d(q.x, q.y, q.z);
    spread_from += length_squared(p);
    spread_to += length_squared(q);
    magnitude = std::max({magnitude, largest_component(a), largest_component(b)});
  }
  const double nothing = 1e-13 * magnitude;
  fit.open = RigidFit::Open::All;
  if (!(spread_from > nothing * nothing) || !(spread_to > nothing * nothing)) return fit;
  const Eigen::Matrix3d across = theirs.transpose() * own;
  const double most = std::sqrt(spread_from) * std::sqrt(spread_to);
  const auto own_line = line_of(own, nothing), their_line = line_of(theirs, nothing);
  if (own_line || their_line) {
    const Eigen::Vector3d a = own_line ? *own_line : Eigen::Vector3d(own.transpose() * (theirs * *their_line));
    const Eigen::Vector3d b = own_line ? Eigen::Vector3d(theirs.transpose() * (own * *own_line)) : *their_line;
    // Offsets that cancel out favour no direction over another.
    if (!(a.norm() * b.norm() > 1e-12 * most)) return fit;
    fit.open = RigidFit::Open::AboutLine;
    fit.rotation = smallest_turn(normalized(vec_of(a)), normalized(vec_of(b)), std::nullopt);
  } else {
    const Eigen::JacobiSVD<Eigen::Matrix3d> svd(across, Eigen::ComputeFullU | Eigen::ComputeFullV);
    const Eigen::Vector3d& s = svd.singularValues();
    const bool mirrored = (svd.matrixU() * svd.matrixV().transpose()).determinant() < 0;
    // Mirror images that are alike along two directions, or offsets that cancel out across the main one.
    constexpr double kEqual = 1e-9, kCancelled = 1e-13;
    if (!(s[0] > 1e-12 * most)) return fit;
    if ((mirrored && s[1] - s[2] <= kEqual * s[1]) || s[1] <= kCancelled * s[0]) {
      fit.open = RigidFit::Open::Several;
      fit.rotation = nearest_of_best(across, 4 * kEqual * s[0]);
    } else {
      fit.open = RigidFit::Open::Nothing;
      Eigen::Matrix3d sign = Eigen::Matrix3d::Identity();
      if (mirrored) sign(2, 2) = -1;
      const Eigen::Matrix3d r = svd.matrixU() * sign * svd.matrixV().transpose();
      for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j) fit.rotation(i, j) = r(i, j);
    }
  }
  if (sized) {
    double along = 0;
    for (const auto& [a, b] : pairs) along += dot(fit.rotation * (a - fit.from), b - fit.to);
    if (along > 0) fit.factor = along / spread_from;
  }
  return fit;
}

}  // namespace tack
