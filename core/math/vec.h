// Three doubles. Positions and lengths are millimetres unless a declaration says otherwise; axes are right-handed, Z
// up.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>

namespace tack {

struct Vec3 {
  double x = 0, y = 0, z = 0;

  double operator[](int axis) const { return axis == 0 ? x : axis == 1 ? y : z; }
  double& operator[](int axis) { return axis == 0 ? x : axis == 1 ? y : z; }

  friend bool operator==(const Vec3&, const Vec3&) = default;
};

inline Vec3 operator+(const Vec3& a, const Vec3& b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
inline Vec3 operator-(const Vec3& a, const Vec3& b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
inline Vec3 operator-(const Vec3& a) { return {-a.x, -a.y, -a.z}; }
inline Vec3 operator*(const Vec3& a, double factor) { return {a.x * factor, a.y * factor, a.z * factor}; }
inline Vec3 operator*(double factor, const Vec3& a) { return a * factor; }
inline Vec3 operator/(const Vec3& a, double divisor) { return {a.x / divisor, a.y / divisor, a.z / divisor}; }
inline Vec3& operator+=(Vec3& a, const Vec3& b) { return a = a + b; }
inline Vec3& operator-=(Vec3& a, const Vec3& b) { return a = a - b; }

inline double dot(const Vec3& a, const Vec3& b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
inline Vec3 cross(const Vec3& a, const Vec3& b) {
  return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
/// Euclidean length; overflow-safe.
inline double length(const Vec3& a) { return std::hypot(a.x, a.y, a.z); }
inline double length_squared(const Vec3& a) { return dot(a, a); }
inline double distance(const Vec3& a, const Vec3& b) { return length(a - b); }

/// `a` scaled to length 1; the zero vector stays the zero vector.
inline Vec3 normalized(const Vec3& a) {
  const double len = length(a);
  return len > 0 ? a / len : Vec3{};
}

inline Vec3 min(const Vec3& a, const Vec3& b) { return {std::min(a.x, b.x), std::min(a.y, b.y), std::min(a.z, b.z)}; }
inline Vec3 max(const Vec3& a, const Vec3& b) { return {std::max(a.x, b.x), std::max(a.y, b.y), std::max(a.z, b.z)}; }
inline bool is_finite(const Vec3& a) { return std::isfinite(a.x) && std::isfinite(a.y) && std::isfinite(a.z); }
inline double largest_component(const Vec3& a) { return std::max({std::abs(a.x), std::abs(a.y), std::abs(a.z)}); }

/// The world axis (unit vector) along which `direction` is least; ties go to X, then Y, then Z.
inline Vec3 least_axis(const Vec3& direction) {
  const double ax = std::abs(direction.x), ay = std::abs(direction.y), az = std::abs(direction.z);
  if (ax <= ay && ax <= az) return {1, 0, 0};
  return ay <= az ? Vec3{0, 1, 0} : Vec3{0, 0, 1};
}

}  // namespace tack
