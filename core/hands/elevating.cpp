#include "core/hands/elevating.h"

#include "core/verbs/rigid.h"

namespace tack {

Box elevation_box(const Scene& scene, const std::vector<PartId>& parts, const Mat3& frame) {
  Box box = box_along(scene, parts, frame);
  if (box.empty())
    for (const PartId id : parts)
      if (scene.contains(id)) box.include(transpose(frame) * pivot_in_world(scene, id));
  return box;
}

std::vector<Handle> elevation_handles(const Scene& scene, const std::vector<PartId>& parts, const About& about,
                                      const Axes& axes, const Mat3& frame, Elevation elevation, const View& view) {
  constexpr double kOut = 9, kLong = 34, kLeastRadius = 14;  // pixels
  const auto still = parts.empty() ? Result<Vec3>(fail({})) : still_point(about, scene, parts.front(), parts, axes);
  const Box box = elevation_box(scene, parts, frame);
  if (!still || box.empty()) return {};
  const ElevationAxes looks = elevation_axes(elevation);
  const double scale = view.pixels_per_mm(*still);
  if (!(scale > 0)) return {};
  const Vec3 axis = frame.column[looks.across];
  Vec3 corner = transpose(frame) * *still;
  corner[static_cast<int>(looks.along)] = box.high[static_cast<int>(looks.along)];
  corner[static_cast<int>(looks.up)] = box.high[static_cast<int>(looks.up)];
  Vec3 out = frame * corner - *still;
  // Of what is turned about its own corner the arc would have no size.
  const double away = std::max(length(out) * scale + kOut, kLeastRadius);
  const Vec3 diagonal = normalized(frame.column[looks.along] + frame.column[looks.up]);
  out = (length(out) > 0 ? normalized(out) : diagonal) * (away / scale);
  const double half = std::min(60.0, kLong / away * 90 / M_PI);
  Handle arc{Handle::Kind::Arc, {}, *still, {}, {}, 0};
  arc.axes[looks.across] = true;
  const std::vector<Vec3> back = arc_points(*still, axis, out, -half);
  arc.line = arc_points(*still, axis, back.back() - *still, 2 * half);
  for (const Vec3& point : arc.line)
    if (!view.project(point)) return {};
  return {arc};
}

}  // namespace tack
