#include "core/view/view.h"

#include "core/math/degrees.h"

namespace tack {
namespace {

// World directions to eye directions for a turn about Z and a tilt.
Mat3 orientation(double turn, double tilt) {
  const SinCos a = sin_cos_degrees(turn), b = sin_cos_degrees(tilt);
  const Vec3 right{a.cos, a.sin, 0};
  const Vec3 back{a.sin * b.cos, -a.cos * b.cos, b.sin};
  const Vec3 up = cross(back, right);
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

Ray View::ray(double x, double y) const {
  const double ex = (x - width / 2) / pixels_per_unit, ey = (height / 2 - y) / pixels_per_unit;
  if (perspective) return {eye, normalized(right() * ex + up() * ey - back())};
  return {eye + right() * ex + up() * ey, -back()};
}

double View::pixels_per_mm(const Vec3& world) const {
  if (!perspective) return pixels_per_unit;
  const double depth = dot(eye - world, back());
  return depth > 0 ? pixels_per_unit / depth : 0;
}

View view_of(const Camera& camera, double width, double height) {
  View view;
  view.to_eye = orientation(camera.turn, camera.tilt);
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

Camera orbited(const Camera& camera, double turn, double tilt, const Vec3& centre) {
  Camera c = camera;
  c.turn = wrap_degrees(camera.turn + turn);
  c.tilt = std::clamp(camera.tilt + tilt, -90.0, 90.0);
  // The target keeps its place relative to `centre` in eye coordinates.
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
  Camera c = camera;
  c.target = box.centre();
  const double radius = std::max(box.extent() / 2, 5.0);
  const double focal = focal_pixels(height);
  const double fits = std::max(1.0, std::min(width, height)) / 2 * 0.86;
  // Perspective: the sphere's outline is at asin(radius / distance), which must stay inside the smaller half angle.
  const double half_angle = std::atan(fits / focal);
  c.distance = camera.perspective ? radius / std::sin(half_angle) : radius * focal / fits;
  return c;
}

}  // namespace tack
