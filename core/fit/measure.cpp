#include "core/fit/measure.h"

#include "core/math/degrees.h"

namespace tack {
namespace {

// Largest extent the part can have, and how far out it lies: from its transformed local box.
double reach_of(const Scene& scene, const TackAddress& address) {
  const Part* part = scene.find(address.part);
  if (!part) return length(address.parameter);
  const Affine world = world_of(scene, address.part);
  if (!part->mesh) return length(world.translation);
  Box box;
  for (int c = 0; c < 8; ++c)
    box.include(world * part->mesh->box().at({double(c & 1), double(c >> 1 & 1), double(c >> 2)}));
  return box.extent() + length(box.centre());
}

}  // namespace

double angle_between(const Vec3& a, const Vec3& b) {
  const Vec3 u = normalized(a), v = normalized(b);
  return 2 * atan2_degrees(length(u - v), length(u + v));
}

Measured measure(const Tack& from, const Tack& to) {
  Measured m{from.point, to.point, to.point - from.point, distance(from.point, to.point), std::nullopt};
  if (from.direction && to.direction) m.angle = angle_between(*from.direction, *to.direction);
  return m;
}

double exact_bound(const Scene& scene, const TackAddress& from, const TackAddress& to) {
  return 1e-9 * (reach_of(scene, from) + reach_of(scene, to));
}

}  // namespace tack
