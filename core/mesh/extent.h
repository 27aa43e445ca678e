// How far a mesh reaches in a direction.
#pragma once

#include "core/math/matrix.h"
#include "core/mesh/mesh.h"

namespace tack {

/// The least and the greatest of something along a direction.
struct Reach {
  double low = std::numeric_limits<double>::infinity();
  double high = -std::numeric_limits<double>::infinity();

  double length() const { return high > low ? high - low : 0; }
  bool empty() const { return low > high; }
};

/// The number of the vertex that lies furthest along `direction` (any length but zero, mesh coordinates); the lowest
/// such number among equals. With the mesh's index ready the vertex tree is searched from the box that reaches
/// furthest (branch and bound; a few hundred vertices of a million are looked at), else every vertex is. The mesh has
/// at least one vertex.
std::uint32_t furthest_vertex(const Mesh& mesh, const Vec3& direction);

/// The box of the true vertices of a mesh in a frame: of frame_from_mesh * p over all vertices p. Each side is the
/// coordinate of one true vertex, so it equals that of a plain scan to the bit. Six searches by furthest_vertex; the
/// boxes of the last few thousand pairs of mesh and matrix are remembered, so a part that was only shifted costs none.
Box box_in_frame(const Mesh& mesh, const Affine& frame_from_mesh);

}  // namespace tack
