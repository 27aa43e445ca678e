// What the graphics card is given of a mesh: float arrays, made once per mesh away from the interface thread.
#pragma once

#include <cstdint>
#include <vector>

#include "core/mesh/mesh.h"

namespace tack {

/// Positions are relative to `origin` (the middle of the mesh's box, mm), so that float holds them to 1e-7 of the
/// mesh's own size wherever it stands. Smooth across folds under 30°, hard across the others, unless the mesh brings
/// normals.
struct MeshArrays {
  struct Vertex {
    float x, y, z;
    std::int8_t nx, ny, nz, unused;
  };
  struct Edge {
    float ax, ay, az, bx, by, bz;
  };
  Vec3 origin;
  std::vector<Vertex> vertices;
  std::vector<std::uint32_t> indices;  ///< three for each triangle, in the mesh's order
  std::vector<Edge> edges;             ///< feature edges
  std::vector<Primitive> primitives;   ///< the mesh's own: which triangles have which colour
  float radius = 0;                    ///< of the sphere about `origin` that contains everything, mm
};

/// O(n log n); about a second for a million triangles without normals. Makes the mesh's feature edges on the way.
MeshArrays make_mesh_arrays(const Mesh& mesh);

}  // namespace tack
