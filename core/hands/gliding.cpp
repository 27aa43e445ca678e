#include "core/hands/gliding.h"

namespace tack {

std::optional<Vec3> shift_on_plane(const Grip& grip, const Affine& plane) {
  const Pull& pull = grip.pull;
  const Vec3& normal = plane.linear.column[2];
  Vec3 at = pull.handle.at;
  double x = pull.from_x, y = pull.from_y;
  bool lifts = false;
  const auto go = [&](double to_x, double to_y) {
    if (lifts) {
      const auto from = along_axis(pull.view, at, normal, x, y), to = along_axis(pull.view, at, normal, to_x, to_y);
      if (!from || !to) return false;
      at = at + normal * (*to - *from);
    } else {
      const auto from = on_plane(pull.view, at, normal, x, y), to = on_plane(pull.view, at, normal, to_x, to_y);
      if (!from || !to) return false;
      at = at + (*to - *from);
    }
    x = to_x;
    y = to_y;
    return true;
  };
  for (const Grip::Turn& turn : grip.turns) {
    if (!go(turn.x, turn.y)) return std::nullopt;
    lifts = turn.lifts;
  }
  return go(pull.x, pull.y) ? std::optional(at - pull.handle.at) : std::nullopt;
}

}  // namespace tack
