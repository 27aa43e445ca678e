// How a picture of the scene is taken: the camera an artist steers, and the projection that follows from it.
#pragma once

#include <array>
#include <optional>

#include "core/math/box.h"
#include "core/math/matrix.h"
#include "core/mesh/mesh_index.h"

namespace tack {

/// A projection onto a picture of `width` × `height` pixels; x to the right, y downwards, from the top left corner. Eye
/// coordinates are x right, y up, z towards the viewer. All in double.
struct View {
  Vec3 eye;     ///< world, mm
  Mat3 to_eye;  ///< world directions to eye directions
  bool perspective = true;
  double pixels_per_unit = 1;  ///< perspective: focal length in pixels; parallel: pixels per mm
  double width = 1, height = 1;

  /// A point on the picture and its distance from the eye along the line of sight (mm); nullopt behind a perspective
  /// eye.
  struct Pixel {
    double x = 0, y = 0, depth = 0;
  };
  std::optional<Pixel> project(const Vec3& world) const;

  /// Both ends of a straight piece on the picture, cut off in front of the eye; nullopt when all of it is behind.
  std::optional<std::array<Pixel, 2>> project(const Vec3& a, const Vec3& b) const;

  /// The line of sight through a pixel: from the eye for perspective, from far in front of everything for parallel
  /// views.
  Ray ray(double x, double y) const;

  /// The point on the line of sight through a pixel that is as far from the eye, along the line of sight, as `level`.
  Vec3 point_level_with(const Vec3& level, double x, double y) const;

  /// The pixels that one millimetre across the line of sight covers at `world`; 0 behind the eye.
  double pixels_per_mm(const Vec3& world) const;

  Vec3 right() const { return {to_eye(0, 0), to_eye(0, 1), to_eye(0, 2)}; }
  Vec3 up() const { return {to_eye(1, 0), to_eye(1, 1), to_eye(1, 2)}; }
  /// From the scene towards the viewer.
  Vec3 back() const { return {to_eye(2, 0), to_eye(2, 1), to_eye(2, 2)}; }
};

/// Right, up and towards the viewer, as columns: the axes of a view.
inline Mat3 view_frame(const View& view) { return transpose(view.to_eye); }

/// What the artist steers. The eye looks at `target` from `distance`, turned about world Z by `turn` and raised by
/// `tilt` (degrees): turn 0, tilt 0 is the front view (looking along +Y), tilt 90 the top view.
struct Camera {
  Vec3 target;
  double turn = 0, tilt = 0;
  double distance = 1000;  ///< mm
  bool perspective = true;
  double roll = 0;  ///< degrees about the line of sight, the picture clockwise; orbiting takes it back to 0

  static constexpr double kFieldOfView = 32;  ///< degrees, over the height of the picture

  friend bool operator==(const Camera&, const Camera&) = default;
};

/// The view of a camera. In a parallel view the scale is the one perspective has at the target.
View view_of(const Camera& camera, double width, double height);

enum class Side { Front, Back, Left, Right, Top, Bottom, Iso };
/// Turns the camera onto a side of the world (parallel, but for Iso); target and distance stay.
Camera turned_to(const Camera& camera, Side side);

/// Looks square at a side of a frame (columns unit and square to each other): for World's axes the same as turned_to. A
/// parallel view; target and distance stay.
Camera squared_onto(const Camera& camera, const Mat3& frame, Side side);

/// Turns the camera to the side of the world it is nearest to, upright by the nearest quarter turn; a parallel view.
Camera turned_to_nearest(const Camera& camera);

/// Turns the camera about `centre` (world) by degrees; the picture of `centre` stays where it is. Tilt stays in [−90,
/// 90].
Camera orbited(const Camera& camera, double turn, double tilt, const Vec3& centre);

/// Moves the camera so that the world point `grabbed` follows the pointer by (dx, dy) pixels.
Camera panned(const Camera& camera, const View& view, const Vec3& grabbed, double dx, double dy);

/// Changes the distance by `factor` (< 1 is nearer) holding the world point `anchor` where it is in the picture.
/// Distances stay within [0.01 mm, 1e9 mm].
Camera zoomed(const Camera& camera, double factor, const Vec3& anchor);

/// Looks at `box` from where all of its corners can be seen, with a margin of a twelfth of the picture; unchanged for
/// an empty box. A box without extent is framed as if it were 10 mm.
Camera framed(const Camera& camera, const Box& box, double width, double height);

/// A parallel view that looks at `centre` against the unit vector `back`, with `up` upwards as far as it is across
/// `back`; `span` mm fill the smaller side of the picture. The eye stands `span` in front of the centre.
View close_up(const Vec3& centre, const Vec3& back, const Vec3& up, double span, double width, double height);

}  // namespace tack
