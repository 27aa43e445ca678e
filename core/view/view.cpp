#include "core/view/view.h"

#include "core/math/degrees.h"

namespace tack {
namespace {

// World directions to eye directions for a turn about Z, a tilt, and a roll about the line of sight.
Mat3 orientation(double turn, double tilt, double roll = 0) {
  const SinCos a = sin_cos_degrees(turn), b = sin_cos_degrees(tilt);
  const Vec3 level{a.cos, a.sin, 0};
  const Vec3 back{a.sin * b.cos, -a.cos * b.cos, b.sin};
  const Vec3 upright = cross(back, level);
  const SinCos r = sin_cos_degrees(roll);
  const Vec3 right = roll == 0 ? level : level * r.cos + upright * r.sin;
  const Vec3 up = roll == 0 ? upright : upright * r.cos - level * r.sin;
  Mat3 m;
  for (int i = 0; i < 3; ++i) {
    m(0, i) = right[i];
    m(1, i) = up[i];
    m(2, i) = back[i];
  }
  return m;
}

double focal_pixels(double height) { return height / 2 / std::tan(Camera::kFieldOfView / 2 * 0.017453292519943295); }

}  // namespace

std::optional<View::Pixel> View::project(const Vec3& world) const {
  const Vec3 e = to_eye * (world - eye);
  const double depth = -e.z;
  if (!perspective) return Pixel{width / 2 + e.x * pixels_per_unit, height / 2 - e.y * pixels_per_unit, depth};
  if (!(depth > 0)) return std::nullopt;
  return Pixel{width / 2 + e.x * pixels_per_unit / depth, height / 2 - e.y * pixels_per_unit / depth, depth};
}

std::optional<std::array<View::Pixel, 2>> View::project(const Vec3& a, const Vec3& b) const {
  constexpr double kNear = 1e-3;  // mm in front of a perspective eye
  std::array<Vec3, 2> ends{a, b};
  if (perspective) {
    const double depth_a = dot(eye - a, back()), depth_b = dot(eye - b, back());
    if (depth_a < kNear && depth_b < kNear) return std::nullopt;
    if (depth_a < kNear) ends[0] = a + (b - a) * ((kNear - depth_a) / (depth_b - depth_a));
    if (depth_b < kNear) ends[1] = b + (a - b) * ((kNear - depth_b) / (depth_a - depth_b));
  }
  const auto first = project(ends[0]), second = project(ends[1]);
  if (!first || !second) return std::nullopt;
  return std::array{*first, *second};
}

Ray View::ray(double x, double y) const {
  const double ex = (x - width / 2) / pixels_per_unit, ey = (height / 2 - y) / pixels_per_unit;
  if (perspective) return {eye, normalized(right() * ex + up() * ey - back())};
  return {eye + right() * ex + up() * ey, -back()};
}

Vec3 View::point_level_with(const Vec3& level, double x, double y) const {
  const Ray sight = ray(x, y);
  // Along a line of sight the depth grows by the share of it that goes straight away from the viewer.
  const double ahead = -dot(sight.direction, back());
  return sight.origin + sight.direction * (dot(sight.origin - level, back()) / ahead);
}

double View::pixels_per_mm(const Vec3& world) const {
  if (!perspective) return pixels_per_unit;
  const double depth = dot(eye - world, back());
  return depth > 0 ? pixels_per_unit / depth : 0;
}

View view_of(const Camera& camera, double width, double height) {
  View view;
  view.to_eye = orientation(camera.turn, camera.tilt, camera.roll);
  view.perspective = camera.perspective;
  view.width = width;
  view.height = height;
  const double focal = focal_pixels(height);
  view.pixels_per_unit = camera.perspective ? focal : focal / camera.distance;
  // A parallel eye stands far enough back that nothing an artist looks at is behind it.
  const double back = camera.perspective ? camera.distance : camera.distance * 50 + 1e5;
  view.eye = camera.target + view.back() * back;
  return view;
}

Camera turned_to(const Camera& camera, Side side) {
  Camera c = camera;
  c.perspective = side == Side::Iso;
  c.roll = 0;
  switch (side) {
    case Side::Front: c.turn = 0, c.tilt = 0; break;
    case Side::Back: c.turn = 180, c.tilt = 0; break;
    case Side::Left: c.turn = -90, c.tilt = 0; break;
    case Side::Right: c.turn = 90, c.tilt = 0; break;
    case Side::Top: c.turn = 0, c.tilt = 90; break;
    case Side::Bottom: c.turn = 0, c.tilt = -90; break;
    case Side::Iso: c.turn = 30, c.tilt = 30; break;
  }
  return c;
}

Camera squared_onto(const Camera& camera, const Mat3& frame, Side side) {
  const Vec3 &x = frame.column[0], &y = frame.column[1], &z = frame.column[2];
  Vec3 back = -y, up = z;
  switch (side) {
    case Side::Back: back = y; break;
    case Side::Left: back = -x; break;
    case Side::Right: back = x; break;
    case Side::Top: back = z, up = y; break;
    case Side::Bottom: back = -z, up = -y; break;
    default: break;
  }
  Camera c = camera;
  c.perspective = false;
  const double level = std::hypot(back.x, back.y);
  c.tilt = atan2_degrees(back.z, level);
  c.turn = level > 1e-9 ? atan2_degrees(back.x, -back.y) : 0;
  const Mat3 upright = orientation(c.turn, c.tilt);
  const Vec3 seen = upright * cross(up, back);  // where right is, with no roll yet
  c.roll = atan2_degrees(seen.y, seen.x);
  return c;
}

Camera turned_to_nearest(const Camera& camera) {
  Camera c = camera;
  c.perspective = false;
  c.roll = 0;
  c.tilt = std::abs(camera.tilt) > 45 ? std::copysign(90, camera.tilt) : 0;
  c.turn = wrap_degrees(90 * std::nearbyint(camera.turn / 90));
  return c;
}

Camera orbited(const Camera& camera, double turn, double tilt, const Vec3& centre) {
  Camera c = camera;
  c.turn = wrap_degrees(camera.turn + turn);
  c.tilt = std::clamp(camera.tilt + tilt, -90.0, 90.0);
  // The target keeps its place relative to `centre` in eye coordinates.
  c.roll = 0;
  const Vec3 in_eye = orientation(camera.turn, camera.tilt) * (camera.target - centre);
  c.target = centre + transpose(orientation(c.turn, c.tilt)) * in_eye;
  return c;
}

Camera panned(const Camera& camera, const View& view, const Vec3& grabbed, double dx, double dy) {
  double scale = view.pixels_per_mm(grabbed);
  if (!(scale > 0)) scale = view.pixels_per_mm(camera.target);
  Camera c = camera;
  c.target += (view.up() * dy - view.right() * dx) / scale;
  return c;
}

Camera zoomed(const Camera& camera, double factor, const Vec3& anchor) {
  Camera c = camera;
  c.distance = std::clamp(camera.distance * factor, 0.01, 1e9);
  const double applied = c.distance / camera.distance;
  // Shrinking the whole picture about the anchor leaves the anchor's own place in it alone, in both projections.
  const Vec3 along = anchor - camera.target;
  c.target = anchor - along * applied;
  return c;
}

Camera framed(const Camera& camera, const Box& box, double width, double height) {
  if (box.empty()) return camera;
  constexpr double kMargin = 11.0 / 12;
  Box shown = box;
  if (shown.extent() < 10) {
    shown.include(box.centre() + Vec3{5, 5, 5});
    shown.include(box.centre() - Vec3{5, 5, 5});
  }
  Camera c = camera;
  c.target = shown.centre();
  const Mat3 to_eye = orientation(c.turn, c.tilt, c.roll);
  const double focal = focal_pixels(height);
  const double half_x = width / 2 / focal * kMargin, half_y = height / 2 / focal * kMargin;
  // Slide the target across the view until the corners' outline sits in the middle, backing off as far as they need.
  for (int pass = 0; pass < 6; ++pass) {
    double needed = 1e-3, low_x = 1e300, high_x = -1e300, low_y = 1e300, high_y = -1e300;
    for (const Vec3& corner : shown.corners()) {
      const Vec3 e = to_eye * (corner - c.target);
      needed =
          std::max(needed, std::max(std::abs(e.x) / half_x, std::abs(e.y) / half_y) + (camera.perspective ? e.z : 0));
    }
    c.distance = std::max(needed, 0.01);
    for (const Vec3& corner : shown.corners()) {
      const Vec3 e = to_eye * (corner - c.target);
      const double depth = camera.perspective ? c.distance - e.z : c.distance;
      low_x = std::min(low_x, e.x / depth), high_x = std::max(high_x, e.x / depth);
      low_y = std::min(low_y, e.y / depth), high_y = std::max(high_y, e.y / depth);
    }
    const Vec3 shift{(low_x + high_x) / 2 * c.distance, (low_y + high_y) / 2 * c.distance, 0};
    c.target += transpose(to_eye) * shift;
  }
  return c;
}

View close_up(const Vec3& centre, const Vec3& back, const Vec3& up, double span, double width, double height) {
  Vec3 upward = up - back * dot(up, back);
  if (!(length(upward) > 1e-9)) upward = least_axis(back) - back * dot(least_axis(back), back);
  upward = normalized(upward);
  const Vec3 right = cross(upward, back);
  View view;
  view.perspective = false;
  view.width = width;
  view.height = height;
  view.pixels_per_unit = std::min(width, height) / std::max(span, 1e-6);
  view.eye = centre + back * span;
  for (int i = 0; i < 3; ++i) {
    view.to_eye(0, i) = right[i];
    view.to_eye(1, i) = upward[i];
    view.to_eye(2, i) = back[i];
  }
  return view;
}

}  // namespace tack
