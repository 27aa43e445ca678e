// Elevations: strips that show the scene flat, square from the front and from the side of some axes, in step with a
// view.
#pragma once

#include <vector>

#include "core/view/view.h"

namespace tack {

/// Which strip: the one below the view looks along y, the one beside it along x.
enum class Elevation : std::uint8_t { Front, Side };

/// The axis that a strip runs along, the one that is its height, and the one it looks along: 0, 1, 2 of the frame.
struct ElevationAxes {
  std::size_t along, up, across;
};
inline constexpr ElevationAxes elevation_axes(Elevation elevation) {
  return elevation == Elevation::Front ? ElevationAxes{0, 2, 1} : ElevationAxes{1, 2, 0};
}

/// The camera of a strip of `width` × `height` pixels beside a view that is `main_height` pixels high: parallel, square
/// to the columns of `frame` (unit, square to each other). It looks at what the view looks at, at the view's scale, or
/// smaller where what the view shows of `all` (world) would not fit the strip: along the front strip only its height
/// counts, along the side strip its width. With `all` empty: at the view's scale.
Camera elevation_camera(const Camera& main, double main_height, const Mat3& frame, Elevation elevation, double width,
                        double height, const Box& all);

/// A dimension of what is picked, as it stands in a strip: from and to in the world, and how long it is (mm).
struct ElevationDimension {
  Vec3 from, to;
  double length = 0;
};
/// Of a box in the frame's coordinates (from the world's origin along its columns): along the strip below the box, and
/// its height beside it; at the side of the box that is nearest to the viewer. Empty for an empty box.
std::vector<ElevationDimension> elevation_dimensions(const Box& box, const Mat3& frame, Elevation elevation);

}  // namespace tack
