#include "core/view/elevation.h"

#include <algorithm>

namespace tack {
namespace {

constexpr double kFills = 0.86;  // of the room in a strip, at most
// Pixels at a strip's upper and lower edge, and at its left, where words and ticks stand.
constexpr double kTop = 22, kBottom = 18, kLeft = 34;

// The pixels to a millimetre of a parallel view with this camera.
double scale_of(const Camera& camera, double height) {
  Camera parallel = camera;
  parallel.perspective = false;
  return view_of(parallel, 1, height).pixels_per_unit;
}

// A box (world) in the frame's coordinates, from the frame's directions.
Box along(const Box& box, const Mat3& frame) {
  Box result;
  if (box.empty()) return result;
  for (const Vec3& corner : box.corners()) result.include(transpose(frame) * corner);
  return result;
}

}  // namespace

Camera elevation_camera(const Camera& main, double main_height, const Mat3& frame, Elevation elevation, double width,
                        double height, const Box& all) {
  const ElevationAxes axes = elevation_axes(elevation);
  const double main_scale = scale_of(main, std::max(1.0, main_height));
  double scale = main_scale;
  Vec3 at = transpose(frame) * main.target;
  if (const Box box = along(all, frame); !box.empty()) {
    // What the view shows there, and a little around it.
    const double seen = std::max(1.0, main_height) / main_scale * 0.75;
    const auto shown = [&](std::size_t axis) {
      const int i = static_cast<int>(axis);
      const double low = std::max(box.low[i], at[i] - seen), high = std::min(box.high[i], at[i] + seen);
      return low < high ? std::pair{low, high} : std::pair{at[i], at[i]};
    };
    const auto [low, high] = shown(axes.up);
    const auto [left, right] = shown(axes.along);
    if (high > low) {
      if (elevation == Elevation::Front)
        scale = std::min(scale, std::max(20.0, height - kTop - kBottom) * kFills / (high - low));
      at[static_cast<int>(axes.up)] = (low + high) / 2 + (kTop - kBottom) / 2 / scale;
    }
    if (elevation == Elevation::Side && right > left) {
      scale = std::min(scale, std::max(20.0, width - kLeft) * kFills / (right - left));
      at[static_cast<int>(axes.along)] = (left + right) / 2 - kLeft / 2 / scale;
    }
  }
  Camera camera = squared_onto(main, frame, elevation == Elevation::Front ? Side::Front : Side::Right);
  camera.target = frame * at;
  // A parallel camera's scale goes with its distance.
  camera.distance *= scale_of(camera, height) / scale;
  return camera;
}

std::vector<ElevationDimension> elevation_dimensions(const Box& box, const Mat3& frame, Elevation elevation) {
  if (box.empty()) return {};
  const ElevationAxes axes = elevation_axes(elevation);
  // The front is at low y, the right side at high x.
  const int across = static_cast<int>(axes.across), along = static_cast<int>(axes.along),
            up = static_cast<int>(axes.up);
  Vec3 low = box.low;
  low[across] = elevation == Elevation::Front ? box.low[across] : box.high[across];
  Vec3 end = low, top = low;
  end[along] = box.high[along];
  top[up] = box.high[up];
  return {{frame * low, frame * end, box.size()[along]}, {frame * low, frame * top, box.size()[up]}};
}

}  // namespace tack
