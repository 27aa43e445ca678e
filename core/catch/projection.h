// How a part looks from the pointer. For the search alone; catch_scene.h is what others use.
#pragma once

#include "core/math/matrix.h"
#include "core/mesh/box_tree.h"
#include "core/view/view.h"

namespace tack {

/// The projection of one part, centred on the pointer and linear in homogeneous coordinates: for a mesh point p the
/// pixel offset from the pointer is (dot(x, p) + x0, dot(y, p) + y0) / (dot(w, p) + w0).
struct PointerProjection {
  Vec3 x, y, w;
  double x0 = 0, y0 = 0, w0 = 1;

  PointerProjection(const View& view, double px, double py, const Affine& world) {
    const Vec3 t = view.to_eye * (world.translation - view.eye);
    const Mat3 m = view.to_eye * world.linear;
    const auto row = [&](int r) { return Vec3{m(r, 0), m(r, 1), m(r, 2)}; };
    const double cx = view.width / 2 - px, cy = view.height / 2 - py;
    if (view.perspective) {
      w = -row(2);
      w0 = -t.z;
      x = row(0) * view.pixels_per_unit + w * cx;
      x0 = t.x * view.pixels_per_unit + w0 * cx;
      y = row(1) * -view.pixels_per_unit + w * cy;
      y0 = -t.y * view.pixels_per_unit + w0 * cy;
    } else {
      x = row(0) * view.pixels_per_unit;
      x0 = t.x * view.pixels_per_unit + cx;
      y = row(1) * -view.pixels_per_unit;
      y0 = -t.y * view.pixels_per_unit + cy;
      w0 = 1;
    }
  }

  /// Homogeneous picture coordinates about the pointer: pixels are (x, y) / z; z > 0 in front of the eye.
  Vec3 homogeneous(const Vec3& p) const { return {dot(x, p) + x0, dot(y, p) + y0, dot(w, p) + w0}; }

  /// Pixels from the pointer; infinity behind the eye.
  double pixels(const Vec3& p) const {
    const Vec3 h = homogeneous(p);
    return h.z > 0 ? std::sqrt(h.x * h.x + h.y * h.y) / h.z : std::numeric_limits<double>::infinity();
  }

  /// A lower bound of pixels() over a box, by interval arithmetic; 0 when nothing better can be said.
  double least_pixels(const FloatBox& box) const {
    const Vec3 centre{0.5 * (double(box.low[0]) + box.high[0]), 0.5 * (double(box.low[1]) + box.high[1]),
                      0.5 * (double(box.low[2]) + box.high[2])};
    const Vec3 half{0.5 * (double(box.high[0]) - box.low[0]), 0.5 * (double(box.high[1]) - box.low[1]),
                    0.5 * (double(box.high[2]) - box.low[2])};
    const auto radius = [&](const Vec3& v) {
      return std::abs(v.x) * half.x + std::abs(v.y) * half.y + std::abs(v.z) * half.z;
    };
    const double far = dot(w, centre) + w0 + radius(w);
    if (!(far > 0)) return std::numeric_limits<double>::infinity();
    const double dx = std::max(0.0, std::abs(dot(x, centre) + x0) - radius(x));
    const double dy = std::max(0.0, std::abs(dot(y, centre) + y0) - radius(y));
    return std::sqrt(dx * dx + dy * dy) / far * (1 - 1e-12);
  }
};

/// A straight edge on the picture, cut off in front of the eye.
struct EdgeOnPicture {
  double nearest = 0;  ///< the way along the edge, 0 … 1, that lies nearest to the pointer on the picture
  double pixels = 0;   ///< how near
  /// The ways along the edge between which it is within a radius of the pointer.
  double from = 0, to = 0;
};

/// Where the edge from `a` to `b` (mesh coordinates) comes within `radius` pixels of the pointer; nullopt when nowhere.
std::optional<EdgeOnPicture> edge_on_picture(const PointerProjection& projection, const Vec3& a, const Vec3& b,
                                             double radius);

}  // namespace tack
