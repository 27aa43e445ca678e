// The edges of a mesh that a person sees as edges: folds, borders and hard seams.
#pragma once

#include <array>
#include <cstdint>
#include <vector>

namespace tack {

class Mesh;

/// A feature edge between two vertices (numbers before welding; the lower-numbered twin of each welded place).
struct FeatureEdge {
  std::uint32_t a = 0, b = 0;
};

struct FeatureEdges {
  std::vector<FeatureEdge> edges;  ///< sorted by (a, b)
};

/// Folds of more than 20°, borders (one triangle), edges shared by three or more triangles, and seams where stored
/// normals on the two sides differ by more than 20°. Vertices closer than 1e-7 of the extent count as one; the mesh is
/// not touched. Triangles without area are passed over. O(n log n); about 0.7 s for a million triangles.
FeatureEdges find_feature_edges(const Mesh& mesh);

/// For each vertex the lowest vertex number at the same place, within 1e-7 of the mesh's extent. Clusters are found on
/// a grid of that spacing and its neighbours, so two vertices just closer than the tolerance are always joined.
std::vector<std::uint32_t> weld(const Mesh& mesh);

}  // namespace tack
