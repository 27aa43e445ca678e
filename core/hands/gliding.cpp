#include "core/hands/gliding.h"

#include "core/hands/hand.h"

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

// Declared in hand.h.
std::optional<TackAddress> free_place(const Verb& draft, const Scene& scene, const View& view, double x, double y,
                                      const Increments& increments, bool steps) {
  const auto* make = std::get_if<MakeShape>(&draft);
  if (!make) return std::nullopt;
  const Affine frame = plane_frame(scene, make->plane);
  const Vec3 normal = frame.linear.column[2];
  const auto base = make->at ? find_tack(scene, *make->at) : Result<Tack>(Tack{{}, frame.translation, {}, {}});
  if (!base) return std::nullopt;
  // A hand means no more than a pixel: what is less is rounded off, so that numbers stay short.
  const auto rounded = [&](double value, const Vec3& there) {
    const double pixels = view.pixels_per_mm(there);
    return pixels > 0 ? stepped(value, tick_spacing(pixels, 1)) : value;
  };
  if (make->at && waits_for_height(*make)) {
    // Along the normal from the place that was given last.
    const auto from = find_tack(scene, make->across ? *make->across : *make->at);
    const auto along = from ? along_axis(view, from->point, normal, x, y) : std::nullopt;
    if (!along) return std::nullopt;
    const double height = dot(normal, from->point - base->point);
    const double landed = steps ? increments.length.landed(0, height + *along) : rounded(height + *along, from->point);
    return TackAddress{TackKind::Point, kNoPart, 0, from->point + normal * (landed - height)};
  }
  // On the plane; the second place level with the first.
  const auto at = on_plane(view, base->point, normal, x, y);
  const auto back = inverse(frame);
  if (!at || !back) return std::nullopt;
  Vec3 on = *back * *at;
  for (int i = 0; i < 2; ++i) on[i] = steps ? increments.length.landed(0, on[i]) : rounded(on[i], *at);
  if (make->at) return TackAddress{TackKind::Point, kNoPart, 0, frame * on};
  return TackAddress{TackKind::PlanePoint, make->plane, 0, {on.x, on.y, 0}};
}

}  // namespace tack
