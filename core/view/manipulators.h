// Manipulators: what a hand takes hold of on the stage, as small values that verbs put together. Each says where its
// handles lie in a view and what a drag of one means; all are pure functions of numbers.
#pragma once

#include "core/view/handles.h"

namespace tack {

/// A drag: a handle, where the pointer was pressed and where it is now, in pixels of the view.
struct Pull {
  Handle handle;
  View view;
  double from_x = 0, from_y = 0;
  double x = 0, y = 0;
  double turned = 0;  ///< of an arc: degrees so far, counted on beyond half a turn by pull_to()
};

/// Three rulers along the columns of a frame (unit, world), brackets between them, and a ring across the view.
struct Rulers {
  Vec3 origin;
  Mat3 frame;
};
std::vector<Handle> handles(const Rulers& rulers, const View& view);
/// How far the drag goes (world, mm): along the one axis named, in the plane of two, or across the line of sight for
/// all three. Nullopt where the axis or the plane is seen end on.
std::optional<Vec3> shift_of(const Rulers& rulers, const Pull& pull, const std::array<bool, 3>& axes);

/// An arc round each column of a frame and one round the line of sight, and a ring that turns freely.
struct Arcs {
  Vec3 centre;
  Mat3 frame;
};
std::vector<Handle> handles(const Arcs& arcs, const View& view);
/// The unit direction (world) that the arc in hand turns round: a column of the frame, or towards the viewer.
Vec3 axis_of(const Arcs& arcs, const Pull& pull);
/// The pointer goes on to a pixel. With an arc in hand the degrees are counted, so that several turns count as such.
void pull_to(Pull& pull, const Arcs& arcs, double x, double y);

/// The points of a box, given by the map from fractions (0 … 1) to the world: its corners, edge middles and face
/// centres. Along axes in which it is flat there is only the middle.
struct Pads {
  Affine from_fractions;
  std::array<bool, 3> flat{};
};
/// Those that stand at least 14 pixels apart: faces first, then corners, then edge middles.
std::vector<Handle> handles(const Pads& pads, const View& view);
/// How far the pad is dragged (world, mm): along the one axis in which it is not in the middle, else across the view.
std::optional<Vec3> shift_of(const Pads& pads, const Pull& pull);
/// The one of the 27 points (its fractions) that is nearest to a pixel, within `reach` pixels; nullopt when none is.
std::optional<Vec3> fraction_near(const Pads& pads, const View& view, double x, double y, double reach);

/// Where a place that is carried freely is: level with where it was taken hold of, under the pointer (world, mm).
Vec3 carried(const Pull& pull);

/// A ruler that grows in a drag, with words at its tip; the same bent into an arc.
struct Gauges {
  struct Ruler {
    Vec3 from, to;
    int axis = -1;    ///< whose hue it has; −1: none
    double tick = 0;  ///< mm; 0: as the view asks for
    std::string text;
  };
  struct Arc {
    Vec3 centre, axis, start;  ///< `start`: from the centre to where the drag began
    double degrees = 0;
    int hue = -1;
    std::string text;
  };
  /// Two places that are level along an axis, or a gap apart: a line runs from each, and both end in one tick.
  struct Agreement {
    Vec3 mine, theirs;          ///< what moves, and what it is level with
    Vec3 mine_end, theirs_end;  ///< where their lines end
    int axis = 0;
    std::string text;  ///< the gap; empty where there is none
  };
  std::vector<Ruler> rulers;
  std::vector<Agreement> agreements;
  /// Points of boxes that were clicked, while the other end of their pair is missing: of what moves, of what stays.
  std::optional<Vec3> chosen_mine, chosen_theirs;
  std::optional<Arc> arc;
  std::vector<std::array<Vec3, 2>> outline;  ///< hairlines: the sheet of a plane
  /// From a place of another part to what the drag has stopped level or in line with it.
  std::optional<std::array<Vec3, 2>> level;
  std::optional<Vec3> still;  ///< a point that stays still, or the pivot while it is being put somewhere
};
/// The arc that a drag has grown, from the ray it began on; nullopt seen edge on.
std::optional<Gauges::Arc> grown_arc(const Arcs& arcs, const Pull& pull, double degrees);

}  // namespace tack
