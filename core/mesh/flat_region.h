// Flat regions: the triangles that a person sees as one face.
#pragma once

#include "core/mesh/mesh.h"

namespace tack {

struct FlatRegion {
  std::vector<std::uint32_t> triangles;  ///< sorted
  Vec3 normal;                           ///< unit, of the first triangle of the growth
  Vec3 centroid;                         ///< of its area
  double area = 0;
  /// The ends of its longest border edge (welded vertex numbers, low first); among edges equal within 1e-6 the one with
  /// the lowest pair of numbers.
  std::uint32_t longest_a = 0, longest_b = 0;
};

/// The flat region around a triangle: grown over shared edges from it, then once more from the largest triangle found,
/// while normals stay within 0.1° of the first one and vertices within 1e-5 × extent of its plane. A triangle without
/// area is a region by itself, with a zero normal. O(triangles log triangles): the neighbours are found anew.
FlatRegion flat_region(const Mesh& mesh, std::uint32_t triangle);

}  // namespace tack
