// The search index of one mesh: which triangle a ray meets, which triangles touch a point.
#pragma once

#include <optional>

#include "core/math/matrix.h"
#include "core/mesh/box_tree.h"
#include "core/mesh/mesh.h"

namespace tack {

struct MeshIndex {
  BoxTree triangles;  ///< leaves of at most 4 triangles
  BoxTree vertices;   ///< leaves of at most 8 vertices

  std::size_t bytes() const { return triangles.bytes() + vertices.bytes(); }
};

/// Builds the index; about a third of a second for a million triangles on one core, 30 bytes a triangle.
MeshIndex build_mesh_index(const Mesh& mesh);

/// A half line from `origin` along `direction` (any length but zero), in the mesh's coordinates.
struct Ray {
  Vec3 origin;
  Vec3 direction;
};

struct RayHit {
  double along = 0;  ///< the hit is at origin + along * direction
  std::uint32_t triangle = 0;
};

/// Where a ray meets one triangle, seen from either side, computed in double (Möller & Trumbore 1997). Along is within
/// 1e-15 · |origin − triangle| / |direction| · 10 for triangles that are not slivers; nullopt when it misses, is
/// parallel, or the triangle has no area. Edges and corners count as hit.
std::optional<double> ray_triangle(const Ray& ray, const std::array<Vec3, 3>& corners);

/// The nearest hit with 0 <= along < limit, or nullopt. Uses the index when it is there, else scans.
std::optional<RayHit> first_hit(const Mesh& mesh, const Ray& ray, double limit);

/// Any hit with 0 <= along < limit: cheaper than the nearest one when only "is it hidden" is asked. `work`, when given,
/// counts the boxes looked at: a ray that grazes a dense surface meets thousands.
std::optional<RayHit> any_hit(const Mesh& mesh, const Ray& ray, double limit, std::size_t* work = nullptr);

/// Calls `visit` for every triangle with a corner within `distance` of `point`, in index order when scanning and in no
/// particular order otherwise.
void triangles_touching(const Mesh& mesh, const Vec3& point, double distance,
                        const std::function<void(std::uint32_t triangle, int corner)>& visit);

/// Two vertices closer than this count as one for catching (mm): 1e-7 of the mesh's extent.
double weld_distance(const Mesh& mesh);

}  // namespace tack
