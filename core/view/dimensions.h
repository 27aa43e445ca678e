// Dimension lines, as on a drawing: length, width and height of a box set off its edges, and what can be taken hold of
// on them.
#pragma once

#include "core/view/manipulators.h"

namespace tack {

/// One dimension of a box. All points in the world, mm.
struct DimensionLine {
  std::size_t axis = 0;     ///< of the box, 0 to 2
  Vec3 from, to;            ///< the line itself, from the low side to the high one
  Vec3 edge_from, edge_to;  ///< the ends of the edge it stands off from: where its extension lines begin
  std::string text = {};    ///< in place of its letter and its length

  Vec3 middle() const { return (from + to) * 0.5; }
};

/// Which of the four edges along each axis the dimension stands at, told by the fractions of the other two axes, and
/// the way it stands off: along which axis of the box, outward.
struct DimensionPlaces {
  struct Place {
    bool shown = false;  ///< not for an axis along which the box is flat, nor for one seen end on
    Vec3 edge;           ///< fractions; 0.5 along the axis itself
    std::size_t off = 0;
  };
  std::array<Place, 3> axes;
};

/// How far dimension lines stand off from their edges, in pixels across them.
inline constexpr double kStandOffPixels = 24;

/// Where the dimensions of a box are best seen: on its outline, meeting each other in as many corners as can be, low on
/// the picture and near the eye, in this order.
DimensionPlaces dimension_places(const Pads& box, const View& view);

/// The lines at these places, of the box as it is now. Those behind the eye are left out.
std::vector<DimensionLine> dimension_lines(const Pads& box, const DimensionPlaces& places, const View& view);

/// The line of a stretch of the box along one axis, between two fractions of it (not clamped); `rank` 1 stands a line
/// further out than 0. Nullopt where that axis has no line, and behind the eye.
std::optional<DimensionLine> dimension_stretch(const Pads& box, const DimensionPlaces& places, std::size_t axis,
                                               double from, double to, int rank, const View& view);

/// What can be taken hold of: both ends of every line (Kind::End, with the fraction of that side's middle), its value
/// (Kind::Value), the bracket where two lines meet (Kind::Corner, with the fraction of that corner), and beside the
/// first bracket the ring (Kind::Ring), which sizes all three alike. Where only one line is seen it has no ring.
std::vector<Handle> dimension_handles(const Pads& box, const DimensionPlaces& places, const View& view);

/// How far such a handle is dragged (world, mm): along its one axis, in the plane of its two, or across the view.
/// Nullopt where that is seen end on.
std::optional<Vec3> shift_of_dimension(const Pads& box, const Pull& pull);

}  // namespace tack
