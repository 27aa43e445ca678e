#include "core/verbs/mirror.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/verbs/rigid.h"
#include "core/verbs/turn.h"

namespace tack {
namespace {

// The number of the world axis that a unit vector is; -1 for any other.
int world_axis(const Vec3& n) {
  for (int i = 0; i < 3; ++i)
    if (std::abs(n[i]) == 1) return i;
  return -1;
}

Mat3 reflection(const Vec3& n) {
  Mat3 m;
  for (int r = 0; r < 3; ++r)
    for (int c = 0; c < 3; ++c) m(r, c) = (r == c ? 1 : 0) - 2 * n[r] * n[c];
  return m;
}

}  // namespace

Result<Placement> mirrored(const Scene& scene, PartId id, const Vec3& at, const Vec3& normal) {
  const Affine parent = parent_world_of(scene, id);
  Placement placement = scene.part(id).placement;
  const Vec3 pivot = pivot_in_world(scene, id);
  const int axis = world_axis(normal);
  // With S = diag(−1, 1, 1) and F the reflection: F·R·K·D = (F·R·S)·(S·K·S)·(S·D), each of its kind again.
  const auto flip = [&] {
    placement.scale.x = -placement.scale.x;
    placement.skew.x = 0.0 - placement.skew.x;
    placement.skew.y = 0.0 - placement.skew.y;
  };
  const Mat3 turn = rotation_from_degrees(placement.rotation);
  const auto turned_angles = [&](const Mat3& found) {
    const Vec3 raw = degrees_from_rotation(found);
    const double cos_y = std::max(1e-8, std::hypot(found(0, 0), found(1, 0)));
    constexpr double kNoise = 4e-14;
    for (int i = 0; i < 3; ++i) placement.rotation[i] = fewest_decimals(raw[i], std::min(1e-11, kNoise / cos_y));
  };
  if (parent == Affine{} && axis == 0) {
    // F is S: the turn about x stays, the others go the other way round.
    placement.rotation.y = 0.0 - placement.rotation.y;
    placement.rotation.z = 0.0 - placement.rotation.z;
    flip();
  } else if (is_similarity(parent.linear)) {
    // Turned and evenly scaled, the parent sees the same plane across another normal.
    const Vec3 n = parent.linear == Mat3{} ? normal : normalized(*inverse(parent.linear) * normal);
    turned_angles(reflection(n) * (turn * Mat3::diagonal({-1, 1, 1})));
    flip();
  } else {
    const auto back = inverse(parent.linear);
    if (!back) return fail(fmt::format("\"{}\" belongs to a part that is flattened.", scene.part(id).name));
    Placement wanted = placement;
    wanted.scale.x = -wanted.scale.x;
    const auto split =
        with_linear(wanted, solved(parent.linear, *back, reflection(normal) * world_of(scene, id).linear));
    if (!split) return tl::unexpected(split.error());
    placement = *split;
  }
  Vec3 target = pivot - normal * (2 * dot(normal, pivot - at));
  if (axis >= 0) {
    target = pivot;
    target[axis] = add_decimals(add_decimals(at[axis], at[axis]), 0.0 - pivot[axis]);
  }
  if (parent == Affine{}) {
    placement.position = target;
    return placement;
  }
  Scene there = scene;
  there.place(id, placement);
  if (const auto ok = put_pivot(there, id, target); !ok) return tl::unexpected(ok.error());
  return there.part(id).placement;
}

}  // namespace tack
