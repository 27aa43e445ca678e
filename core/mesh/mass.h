// Where a mesh balances.
#pragma once

#include "core/mesh/mesh.h"

namespace tack {

/// The centre of mass of a mesh, in its own coordinates.
struct MassCentre {
  Vec3 point;
  bool closed = false;  ///< of the volume inside; else of the surface, or of the vertices where there is none
  double amount = 0;    ///< mm³ for a volume, mm² for a surface, the number of vertices otherwise
};

/// The volume's centroid when the mesh is closed (every welded edge is used once in each direction and the volume is
/// not zero), by the divergence theorem over its triangles, taken from the middle of the box so that nothing is lost
/// far from the origin; else the surface's centroid; else the mean of the vertices. Error about 1e-15 × extent ×
/// the number of triangles' square root. O(n log n).
MassCentre mass_centre(const Mesh& mesh);

}  // namespace tack
