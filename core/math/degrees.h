// Trigonometry in degrees, exact where an artist expects it, and rotations from typed angles.
#pragma once

#include "core/math/matrix.h"

namespace tack {

struct SinCos {
  double sin = 0, cos = 1;
};

/// Sine and cosine of an angle in degrees. Exactly 0, ±1/2 or ±1 where the true value is (multiples of 30° and 90°),
/// symmetric (sin(−a) == −sin(a), cos(−a) == cos(a), sin(90 − a) == cos(a) for exact 90 − a), periodic to the bit in
/// 360°. Elsewhere within 1 ulp of the library's sine of the reduced angle. NaN for angles that are not finite.
SinCos sin_cos_degrees(double degrees);

/// The angle of the point (x, y) from +x, in degrees in (−180, 180]; exact at multiples of 45°. atan2(0, 0) is 0.
double atan2_degrees(double y, double x);

/// The same direction as `degrees`, in (−180, 180]. Exact.
double wrap_degrees(double degrees);

/// The rotation Rz(z)·Ry(y)·Rx(x): turned about the fixed X axis first, then Y, then Z, each right-handed. Angles in
/// degrees; multiples of 90° give a matrix of exact zeros and ones.
Mat3 rotation_from_degrees(const Vec3& degrees);

/// The inverse of rotation_from_degrees for a proper rotation: y in [−90, 90], x and z in (−180, 180]. At the poles
/// (|y| = 90 within 1e-12 rad) x is 0. The rotation made from the result differs by at most 1e-12 in any entry.
Vec3 degrees_from_rotation(const Mat3& rotation);

/// Rotation about a unit `axis` by `degrees`, right-handed (Rodrigues). Exact for multiples of 90° about a world axis.
Mat3 rotation_about(const Vec3& axis, double degrees);

}  // namespace tack
