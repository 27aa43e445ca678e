#include "core/catch/projection.h"

namespace tack {

std::optional<EdgeOnPicture> edge_on_picture(const PointerProjection& projection, const Vec3& a, const Vec3& b,
                                             double radius) {
  const Vec3 h0 = projection.homogeneous(a), h1 = projection.homogeneous(b);
  // Cut off what is behind the eye, or so near it that its picture means nothing.
  const double least = 1e-9 * std::max(std::abs(h0.z), std::abs(h1.z));
  if (!(h0.z > least || h1.z > least)) return std::nullopt;
  double begin = 0, end = 1;
  if (h0.z < least) begin = (least - h0.z) / (h1.z - h0.z);
  if (h1.z < least) end = (least - h0.z) / (h1.z - h0.z);
  const Vec3 p0 = h0 + (h1 - h0) * begin, p1 = end == 1 ? h1 : h0 + (h1 - h0) * end;
  const double ax = p0.x / p0.z, ay = p0.y / p0.z, bx = p1.x / p1.z, by = p1.y / p1.z;
  const double dx = bx - ax, dy = by - ay, squared = dx * dx + dy * dy;
  const double along = squared > 0 ? std::clamp(-(ax * dx + ay * dy) / squared, 0.0, 1.0) : 0.0;
  const double pixels = std::hypot(ax + along * dx, ay + along * dy);
  if (!(pixels <= radius)) return std::nullopt;
  // A way along the picture is another way along the edge: depth is straight in its inverse.
  const auto on_edge = [&](double s) {
    const double t = s * p0.z / (s * p0.z + (1 - s) * p1.z);
    return s <= 0 ? begin : s >= 1 ? end : begin + (end - begin) * t;
  };
  EdgeOnPicture result{on_edge(along), pixels, 0, 1};
  const double half = squared > 0 ? std::sqrt(std::max(0.0, radius * radius - pixels * pixels) / squared) : 0.0;
  result.from = squared > 0 ? on_edge(along - half) : begin;
  result.to = squared > 0 ? on_edge(along + half) : end;
  return result;
}

}  // namespace tack
