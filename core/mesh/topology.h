// Which triangles of a mesh share which edges, with vertices at one place taken as one.
#pragma once

#include "core/mesh/mesh.h"

namespace tack {

/// For each vertex the lowest vertex number at the same place, within weld_distance(): 1e-7 of the mesh's extent, also
/// through a chain of such neighbours. The mesh is not touched. O(n log n).
std::vector<std::uint32_t> weld(const Mesh& mesh);

/// One side of a triangle: the triangle, and the corner from which the side runs to the next corner.
struct TriangleSide {
  std::uint32_t triangle : 30;
  std::uint32_t corner : 2;
};
static_assert(sizeof(TriangleSide) == 4);

/// An edge between two welded vertices, and the sides that lie along it.
struct MeshEdge {
  std::uint32_t low = 0, high = 0;  ///< vertex numbers, the lower one first
  std::uint32_t first = 0;          ///< into Topology::sides
  std::uint32_t count = 0;          ///< 1: a border; 2: an ordinary edge; more: sheets that meet
};

struct Topology {
  std::vector<std::uint32_t> welded;                  ///< as weld() gives it
  std::vector<MeshEdge> edges;                        ///< sorted by (low, high)
  std::vector<TriangleSide> sides;                    ///< those of one edge together, by rising triangle
  std::vector<std::array<std::uint32_t, 3>> edge_of;  ///< for each triangle its sides' edges; kNoEdge where it has none

  static constexpr std::uint32_t kNoEdge = 0xFFFFFFFFu;
};

/// The edges of a mesh of fewer than 2^30 triangles (a larger one has none). Triangles without area, and those whose
/// corners weld together, have no sides. O(n) besides the weld; 60 bytes a triangle while it lives.
Topology topology_of(const Mesh& mesh);

/// A vector along a triangle's normal, as long as its area is large.
inline Vec3 area_vector(const Mesh& mesh, std::uint32_t triangle) {
  const auto c = mesh.corners(triangle);
  return cross(c[1] - c[0], c[2] - c[0]) * 0.5;
}

}  // namespace tack
