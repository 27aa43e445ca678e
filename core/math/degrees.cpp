#include "core/math/degrees.h"

#include <numbers>

namespace tack {
namespace {

constexpr double kRadians = std::numbers::pi / 180;

// Sine and cosine for |degrees| <= 45, with the one value there that has a short exact result.
SinCos small_sin_cos(double degrees) {
  const double radians = degrees * kRadians;
  SinCos r{std::sin(radians), std::cos(radians)};
  if (degrees == 30) r.sin = 0.5;
  if (degrees == -30) r.sin = -0.5;
  // The library's two values differ in the last bit.
  if (std::abs(degrees) == 45) r = {std::copysign(std::numbers::sqrt2 / 2, degrees), std::numbers::sqrt2 / 2};
  return r;
}

}  // namespace

SinCos sin_cos_degrees(double degrees) {
  // fmod and the subtraction of a multiple of 90 are exact, so nothing is lost before the sine itself.
  const double turn = std::fmod(degrees, 360.0);
  if (!std::isfinite(turn)) return {turn, turn};
  const double quarter = std::nearbyint(turn / 90);
  const SinCos s = small_sin_cos(turn - 90 * quarter);
  SinCos r;
  switch ((static_cast<int>(quarter) % 4 + 4) % 4) {
    case 0: r = s; break;
    case 1: r = {s.cos, -s.sin}; break;
    case 2: r = {-s.sin, -s.cos}; break;
    default: r = {-s.cos, s.sin}; break;
  }
  // Adding zero turns −0 into +0, so that a whole turn is the same bits as none.
  return {r.sin + 0.0, r.cos + 0.0};
}

double atan2_degrees(double y, double x) {
  const double ax = std::abs(x), ay = std::abs(y);
  if (ax == 0 && ay == 0) return 0;
  double a = ay == ax ? 45 : (ay < ax ? std::atan(ay / ax) / kRadians : 90 - std::atan(ax / ay) / kRadians);
  if (x < 0) a = 180 - a;
  if (a == 180) return 180;
  return y < 0 ? -a : a;
}

double wrap_degrees(double degrees) {
  double r = std::fmod(degrees, 360.0);
  if (r > 180) r -= 360;
  if (r <= -180) r += 360;
  return r + 0.0;
}

Mat3 rotation_from_degrees(const Vec3& degrees) {
  const SinCos x = sin_cos_degrees(degrees.x), y = sin_cos_degrees(degrees.y), z = sin_cos_degrees(degrees.z);
  Mat3 r;
  r.column[0] = {z.cos * y.cos, z.sin * y.cos, -y.sin};
  r.column[1] = {z.cos * y.sin * x.sin - z.sin * x.cos, z.sin * y.sin * x.sin + z.cos * x.cos, y.cos * x.sin};
  r.column[2] = {z.cos * y.sin * x.cos + z.sin * x.sin, z.sin * y.sin * x.cos - z.cos * x.sin, y.cos * x.cos};
  for (Vec3& c : r.column) c = c + Vec3{};  // no negative zeros
  return r;
}

Vec3 degrees_from_rotation(const Mat3& m) {
  constexpr double kPole = 1e-12, kNear = 1e-4;
  const double cos_y = std::hypot(m(0, 0), m(1, 0));
  Vec3 a;
  a.y = atan2_degrees(-m(2, 0), cos_y);
  if (cos_y > kPole) a.x = atan2_degrees(m(2, 1), m(2, 2));
  if (cos_y > kNear) {
    a.z = atan2_degrees(m(1, 0), m(0, 0));
  } else {
    // Near a pole the entries that tell x are small and their digits few. Whatever x has come out as, z is read from
    // what is left when it is taken off, R·Rx(−x), whose second column is (−sin z, cos z, 0): an error of the one is
    // made up for by the other.
    const SinCos x = sin_cos_degrees(a.x);
    const Vec3 second = m.column[1] * x.cos - m.column[2] * x.sin;
    a.z = atan2_degrees(-second.x, second.y);
  }
  return a + Vec3{};
}

Mat3 rotation_about(const Vec3& axis, double degrees) {
  const SinCos a = sin_cos_degrees(degrees);
  const double t = 1 - a.cos;
  Mat3 r;
  for (int row = 0; row < 3; ++row)
    for (int col = 0; col < 3; ++col) r(row, col) = t * axis[row] * axis[col] + (row == col ? a.cos : 0);
  r(2, 1) += a.sin * axis.x;
  r(1, 2) -= a.sin * axis.x;
  r(0, 2) += a.sin * axis.y;
  r(2, 0) -= a.sin * axis.y;
  r(1, 0) += a.sin * axis.z;
  r(0, 1) -= a.sin * axis.z;
  return r;
}

}  // namespace tack
