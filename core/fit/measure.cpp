#include "core/fit/measure.h"

#include "core/math/degrees.h"

namespace tack {
double angle_between(const Vec3& a, const Vec3& b) {
  const Vec3 u = normalized(a), v = normalized(b);
  return 2 * atan2_degrees(length(u - v), length(u + v));
}

Measured measure(const Tack& from, const Tack& to) {
  Measured m{from.point, to.point, to.point - from.point, distance(from.point, to.point), std::nullopt};
  if (from.direction && to.direction) m.angle = angle_between(*from.direction, *to.direction);
  return m;
}

bool means_a_direction(const TackAddress& place) {
  switch (place.kind) {
    case TackKind::Edge:
    case TackKind::Face:
    case TackKind::FaceCentre:
    case TackKind::RoundCentre:
    case TackKind::Axis:
    case TackKind::Crossing:
    case TackKind::PlanePoint:
    case TackKind::Kept:
    case TackKind::Guide: return true;
    default: return false;
  }
}

}  // namespace tack
