#include "core/math/fit_rigid.h"

#include <Eigen/LU>
#include <Eigen/SVD>

#include "core/math/degrees.h"

namespace tack {
namespace {

// The direction along which points spread most, from their mean: that of the farthest of them.
Vec3 main_direction(std::span<const std::pair<Vec3, Vec3>> pairs, const Vec3& mean, bool first) {
  Vec3 farthest;
  for (const auto& [a, b] : pairs) {
    const Vec3 off = (first ? a : b) - mean;
    if (length_squared(off) > length_squared(farthest) * (1 + 1e-9)) farthest = off;
  }
  return normalized(farthest);
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
  constexpr double kFlat = 1e-9;
  RigidFit fit;
  const auto count = static_cast<double>(pairs.size());
  for (const auto& [a, b] : pairs) {
    fit.from += a / count;
    fit.to += b / count;
  }
  double spread_from = 0, spread_to = 0, magnitude = 0;
  Eigen::Matrix3d across = Eigen::Matrix3d::Zero();
  Eigen::MatrixX3d own(pairs.size(), 3), theirs(pairs.size(), 3);
  Eigen::Index row = 0;
  for (const auto& [a, b] : pairs) {
    const Vec3 p = a - fit.from, q = b - fit.to;
    const Eigen::Vector3d u(p.x, p.y, p.z), v(q.x, q.y, q.z);
    across += v * u.transpose();
    own.row(row) = u;
    theirs.row(row++) = v;
    spread_from += length_squared(p);
    spread_to += length_squared(q);
    magnitude = std::max({magnitude, largest_component(a), largest_component(b)});
  }
  const double nothing = std::pow(1e-13 * magnitude, 2);
  if (!(spread_from > nothing) || !(spread_to > nothing)) return fit;
  // Flatness is told by each set itself: the product of both may be small only because one of them is; and by the
  // points, not by their squares, of which half the digits are gone.
  const auto in_line = [&](const Eigen::MatrixX3d& m) {
    if (m.rows() < 3) return true;
    const auto s = Eigen::JacobiSVD<Eigen::MatrixX3d>(m).singularValues();
    return s[1] <= kFlat * s[0] || s[1] <= std::sqrt(nothing);
  };
  if (in_line(own) || in_line(theirs)) {
    fit.rank = 1;
    Vec3 from = main_direction(pairs, fit.from, true), to = main_direction(pairs, fit.to, false);
    // The farthest points of the two sets need not be partners: the sum over all pairs tells which way round.
    double along = 0;
    for (const auto& [a, b] : pairs) along += dot(a - fit.from, from) * dot(b - fit.to, to);
    if (along < 0) to = -to;
    fit.rotation = smallest_turn(from, to, std::nullopt);
  } else {
    fit.rank = 2;
    const Eigen::JacobiSVD<Eigen::Matrix3d> svd(across, Eigen::ComputeFullU | Eigen::ComputeFullV);
    Eigen::Matrix3d sign = Eigen::Matrix3d::Identity();
    if ((svd.matrixU() * svd.matrixV().transpose()).determinant() < 0) sign(2, 2) = -1;
    const Eigen::Matrix3d r = svd.matrixU() * sign * svd.matrixV().transpose();
    for (int i = 0; i < 3; ++i)
      for (int j = 0; j < 3; ++j) fit.rotation(i, j) = r(i, j);
  }
  if (sized) {
    double along = 0;
    for (const auto& [a, b] : pairs) along += dot(fit.rotation * (a - fit.from), b - fit.to);
    if (along > 0) fit.factor = along / spread_from;
  }
  return fit;
}

}  // namespace tack
