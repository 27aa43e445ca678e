#include "core/scene/placement.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/fit_rigid.h"
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

namespace {

// A map with columns that are exactly zero: those get the directions that the part's axes had, turned along with the
// columns that are left, and the factors become zero again afterwards.
Result<Split> split_flattened(const Placement& placement, const Mat3& linear, const Vec3& signs) {
  const Mat3 before = rotation_from_degrees(placement.rotation);
  std::array<bool, 3> zero{};
  int left = 0, kept = 0;
  for (int c = 0; c < 3; ++c) {
    zero[static_cast<std::size_t>(c)] = linear.column[c] == Vec3{};
    if (!zero[static_cast<std::size_t>(c)]) ++left, kept = c;
  }
  Mat3 whole = linear;
  if (left == 2) {
    const int c = zero[0] ? 0 : zero[1] ? 1 : 2;
    const double mirror = signs.x * signs.y * signs.z;
    whole.column[c] = normalized(cross(linear.column[(c + 1) % 3], linear.column[(c + 2) % 3])) * mirror;
  } else if (left == 1) {
    const double sign = signs[kept];
    const Mat3 turn = smallest_turn(before.column[kept], normalized(linear.column[kept]) * sign, {});
    for (int c = 0; c < 3; ++c)
      if (c != kept) whole.column[c] = turn * before.column[c] * signs[c];
  } else {
    whole = before * Mat3::diagonal(signs);
  }
  auto split = split_linear(whole, signs);
  if (!split) return split;
  for (int c = 0; c < 3; ++c)
    if (zero[static_cast<std::size_t>(c)]) split->scale[c] = 0;
  // What a flattened axis is skewed by cannot be seen.
  if (zero[1]) split->skew.x = placement.skew.x;
  if (zero[2]) split->skew.y = placement.skew.y, split->skew.z = placement.skew.z;
  return split;
}

}  // namespace

Placement unflattened(Placement placement) {
  for (int i = 0; i < 3; ++i)
    if (placement.scale[i] == 0) placement.scale[i] = 1;
  return placement;
}

Result<Placement> with_linear(const Placement& placement, const Mat3& linear) {
  bool flattened = false;
  for (int i = 0; i < 3; ++i) flattened |= placement.scale[i] == 0 && linear.column[i] == Vec3{};
  const Vec3 signs = signs_of(placement.scale);
  const auto split = flattened ? split_flattened(placement, linear, signs) : split_linear(linear, signs);
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
  for (int i = 0; i < 3; ++i)
    if (matrix.linear.column[i] == Vec3{}) start.scale[i] = 0;
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
