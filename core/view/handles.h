// Handles: the rulers, arcs and pads that parts are moved, turned and sized by, and what a pointer means on them.
#pragma once

#include <vector>

#include "core/view/view.h"

namespace tack {

/// Something on the stage that can be taken hold of. `axes` says along which of the frame's axes it works.
struct Handle {
  enum class Kind {
    Ruler,   ///< along one axis
    Corner,  ///< an open bracket between two rulers: along both
    Ring,    ///< across the line of sight
    Arc,     ///< round one axis, or round the line of sight (`axes` all false)
    Pad,     ///< a point of a box: along the axes in which it is not in the middle
    End,     ///< of a dimension line: along its axis
    Value,   ///< what stands at the middle of a dimension line: clicked and typed; of a gap, dragged as well
    More,    ///< a stepper: one more, clicked
    Less,    ///< one fewer
  };
  Kind kind = Kind::Ruler;
  std::array<bool, 3> axes{};
  Vec3 at;                 ///< world: where it begins (rulers), its middle (rings, arcs), itself (pads)
  std::vector<Vec3> line;  ///< world: what is drawn and taken hold of
  Vec3 fraction;           ///< of the box, of what is taken hold of on it: pads, ends and corners of dimensions
  int box = 0;             ///< pads: 0 of what moves, 1 of what stays; else which of several of its kind
};

/// Lengths on the screen, in pixels; the same at every distance.
inline constexpr double kRulerPixels = 96;
inline constexpr double kArcPixels = 84;
inline constexpr double kRingPixels = 9;
inline constexpr double kHandleReach = 7;  ///< how near the pointer has to be

/// Three rulers along the columns of `frame` (unit, world) from `origin`, brackets between them and the ring. Rulers
/// that point at the viewer (within 12°) are left out, and so are brackets seen edge-on. Empty behind the eye.
std::vector<Handle> move_handles(const View& view, const Vec3& origin, const Mat3& frame);

/// The small ring about a point, across the line of sight. Without a line behind the eye.
Handle ring_handle(const View& view, const Vec3& origin);

/// An arc of 60° round each column of `frame`, a wider one round the line of sight, and the ring, which turns freely,
/// about `origin`. Arcs seen edge-on (within 8°) are left out.
std::vector<Handle> rotate_handles(const View& view, const Vec3& origin, const Mat3& frame);

/// Pads at the corners, edge middles and face centres of a box that is given by the map from fractions (0 … 1) to the
/// world. Along axes in which the box is flat there is only the middle.
std::vector<Handle> scale_handles(const Affine& from_fractions, const std::array<bool, 3>& flat);

/// `handles` without the pads that would stand closer than `pixels` to one kept before: faces are kept first, then
/// corners, then edge middles. Others are all kept.
std::vector<Handle> thinned(const View& view, std::vector<Handle> handles, double pixels);

/// The handle nearest to the pixel within kHandleReach, or −1. Pads and rings win over lines; among equals arcs win,
/// then what is nearer the eye.
int handle_at(const View& view, const std::vector<Handle>& handles, double x, double y);

/// How far along `axis` (unit, from `origin`, mm) the pixel is: the point of the axis nearest to the line of sight.
/// Nullopt when the axis points within 2° of the line of sight.
std::optional<double> along_axis(const View& view, const Vec3& origin, const Vec3& axis, double x, double y);

/// Where the line of sight meets the plane through `origin` across `normal`; nullopt when it runs along it (within 1°)
/// or meets it behind the eye.
std::optional<Vec3> on_plane(const View& view, const Vec3& origin, const Vec3& normal, double x, double y);

/// The angle (degrees, right-handed round the unit `axis`) from where the pixel (x0, y0) is seen from `origin` to where
/// (x, y) is, in the plane across the axis; in (−180, 180]. Seen edge-on (within 8°) it is taken from the way across
/// the axis on the screen instead, one radian for the length of an arc's radius.
double angle_between_pixels(const View& view, const Vec3& origin, const Vec3& axis, double x0, double y0, double x,
                            double y);

/// The turn that rolls the picture under the pointer, from (x0, y0) to (x, y), about `origin`: axis (unit, world) and
/// degrees; half a turn for 220 pixels. The zero axis when the pointer has not moved.
struct Rolled {
  Vec3 axis;
  double degrees = 0;
};
Rolled rolled(const View& view, double x0, double y0, double x, double y);

/// Points of the arc from `start` (a vector from `centre`) round the unit `axis` by `degrees`, every 2.5° and at its
/// end; more than a whole turn is drawn as a whole turn.
std::vector<Vec3> arc_points(const Vec3& centre, const Vec3& axis, const Vec3& start, double degrees);

/// `value` on the nearest multiple of `step`, rounded as a decimal so that 0.3 is 0.3; `value` itself for a step of 0.
double stepped(double value, double step);

/// A round spacing for a ruler's ticks, such that they stand at least `pixels` apart: 1, 2 or 5 × a power of ten (mm).
double tick_spacing(double pixels_per_mm, double pixels);

/// The twelve edges of a box, world; `from_fractions` takes (0,0,0) … (1,1,1) to its corners. A side without length
/// gives edges without length.
std::vector<std::array<Vec3, 2>> box_edges(const Affine& from_fractions);

}  // namespace tack
