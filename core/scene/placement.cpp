#include "core/scene/placement.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/split.h"

namespace tack {

std::string beyond_limits(const Placement& p) {
  const double away = largest_component(p.position);
  if (!(away <= kFurthest)) return fmt::format("would stand {:.6g} mm away; {:g} mm is the most", away, kFurthest);
  for (int i = 0; i < 3; ++i) {
    const double size = std::abs(p.scale[i]);
    if (!(size >= kLeastFactor && size <= kMostFactor))
      return fmt::format("would have a factor of {:.6g} along {}; {:g} to {:g} is possible", p.scale[i], "XYZ"[i],
                         kLeastFactor, kMostFactor);
    if (!(std::abs(p.skew[i]) <= kMostFactor))
      return fmt::format("would have a skew of {:.6g}; {:g} is the most", p.skew[i], kMostFactor);
  }
  return {};
}

Mat3 linear_of(const Placement& p) {
  const Mat3 rotation = rotation_from_degrees(p.rotation);
  if (p.skew == Vec3{}) {
    // Without the products by K's zeros: they would only turn exact zeros into signed ones.
    return {{rotation.column[0] * p.scale.x, rotation.column[1] * p.scale.y, rotation.column[2] * p.scale.z}};
  }
  return compose_linear({rotation, p.scale, p.skew});
}

Affine matrix_of(const Placement& p) { return matrix_with_linear(p, linear_of(p)); }

Affine matrix_with_linear(const Placement& p, const Mat3& linear) {
  return {linear, p.pivot == Vec3{} ? p.position : p.position - linear * p.pivot};
}

Result<Placement> with_linear(const Placement& placement, const Mat3& linear) {
  const auto split = split_linear(linear, signs_of(placement.scale));
  if (!split) return tl::unexpected(split.error());
  Placement result = placement;
  const Mat3 before = rotation_from_degrees(placement.rotation);
  double change = 0;
  for (int c = 0; c < 3; ++c)
    change = std::max(change, largest_component(before.column[c] - split->rotation.column[c]));
  if (change > 1e-13) result.rotation = degrees_from_rotation(split->rotation);
  const auto keep = [](const Vec3& old, const Vec3& now, double relative) {
    Vec3 r = now;
    for (int i = 0; i < 3; ++i)
      if (std::abs(now[i] - old[i]) <= relative * std::max(1.0, std::abs(old[i]))) r[i] = old[i];
    return r;
  };
  // Factors and skews that only rounding has touched stay what was typed.
  result.scale = keep(placement.scale, split->scale, 1e-13);
  result.skew = keep(placement.skew, split->skew, 1e-13);
  return result;
}

Result<Placement> placement_from(const Affine& matrix, const Vec3& pivot) {
  if (!is_finite(matrix)) return fail("The placement has numbers that are not finite.");
  Placement start;
  start.pivot = pivot;
  auto result = with_linear(start, matrix.linear);
  if (result) result->position = matrix * pivot;
  return result;
}

double add_decimals(double a, double b) {
  // As whole numbers of the last decimal, whose sum is exact; divided again, each is the nearest double to its decimal.
  constexpr double kMost = 4e15;
  for (const double parts : {1e9, 1e6, 1e3}) {
    const double whole_a = std::nearbyint(a * parts), whole_b = std::nearbyint(b * parts);
    if (!(std::abs(whole_a) < kMost) || !(std::abs(whole_b) < kMost)) continue;
    return whole_a / parts == a && whole_b / parts == b ? (whole_a + whole_b) / parts + 0.0 : a + b;
  }
  return a + b;
}

Vec3 add_decimals(const Vec3& a, const Vec3& b) {
  return {add_decimals(a.x, b.x), add_decimals(a.y, b.y), add_decimals(a.z, b.z)};
}

}  // namespace tack
