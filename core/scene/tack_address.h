// The names of places: what stays valid while parts move, and what files and ties keep.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

#include "core/math/vec.h"

namespace tack {

/// Names a part across all versions of a scene. 0 names none.
using PartId = std::uint32_t;
inline constexpr PartId kNoPart = 0;

enum class TackKind {
  Vertex,
  Edge,
  Face,
  FaceCentre,
  BoxPoint,
  WorldBoxPoint,
  TreeBoxPoint,
  Pivot,
  Mass,
  Point,
  RoundCentre,  ///< the centre of a round edge
  Axis,         ///< a point of the axis of a round face
  Crossing,     ///< a point of an edge, where another edge or a face crossed it when it was caught
  PlanePoint,   ///< a point of a plane: of a guide plane, or of the ground
  Kept,         ///< a place saved on its part by name
  Guide,        ///< a place of a guide
};

/// Names a tack so that it can be found again after its part moved. Its text form is the same everywhere:
/// `"Post 4" vertex 17` · `"Post 4" edge 12-13 at 0.5` · `"Post 4" face 5 at
/// 0.2,0.3` · `"Post 4" face-centre 5` · `"Post 4" box 0.5,0.5,1` · `"Post 4" world-box 0,0,0` ·
/// `"Lift" tree-box 0,0,0` · `"Post 4" pivot` · `"Post 4" mass` · `"Post 4" round 40` · `"Post 4" axis 5 at 0.5` ·
/// `"Post 4" crossing 12-13 at 0.3` · `"Channel 2" kept out` · `"Centre line" guide 12.5` · `"Ramp" plane 10,20` ·
/// `plane 10,20` on the plane in use · `point 1,2,3`.
struct TackAddress {
  TackKind kind = TackKind::Point;
  PartId part = kNoPart;  ///< kNoPart for Point, and for PlanePoint on the ground
  /// Vertex, Edge, Crossing: the mesh's own vertex number, from 0, before any welding. RoundCentre: the vertex that
  /// names the round edge. Face, FaceCentre, Axis: a triangle's number.
  std::uint32_t index = 0;
  /// Fractions of a box. Edge, Crossing: x is the fraction of the way. Axis: x is the fraction of the way from the
  /// face's one end along its axis to the other. Face: x, y are the ways from the triangle's first corner to its second
  /// and third. Guide: x along a line, x and y on a plane, in its own coordinates. PlanePoint: x, y on the plane, mm.
  /// Point: the position in the world, mm.
  Vec3 parameter;
  std::uint32_t second = 0;  ///< Edge, Crossing: the vertex at the other end
  std::string name;          ///< Kept: the name it was saved by

  friend bool operator==(const TackAddress&, const TackAddress&) = default;
};

/// What steps files call the ground among planes.
inline constexpr std::string_view kWorldPlane = "World";

/// The `index` of a place of a guide line where another guide crosses it: it is said, and kept in no file.
inline constexpr std::uint32_t kGuideCrossing = 1;

/// Whether a place is on a part: not a point of space or of the ground.
inline bool is_on_part(const TackAddress& address) { return address.part != kNoPart; }

}  // namespace tack
