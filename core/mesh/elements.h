// Vertices, edges and faces of a mesh: which belong together, and how far others are from them.
#pragma once

#include <limits>

#include "core/math/matrix.h"
#include "core/mesh/topology.h"

namespace tack {

enum class ElementKind : std::uint8_t { Vertices, Edges, Faces };
/// Two vertices, the lower number first.
using ElementEdge = std::array<std::uint32_t, 2>;

/// Some elements of one mesh. Vertices are named by the lowest number at their place (weld()), so that what a seam
/// parts is one; edges by two such; faces by their triangles. Sorted, each once.
struct Elements {
  ElementKind kind = ElementKind::Vertices;
  std::vector<std::uint32_t> numbers;  ///< of vertices, or of triangles
  std::vector<ElementEdge> edges;      ///< of edges

  bool empty() const { return numbers.empty() && edges.empty(); }
  std::size_t size() const { return kind == ElementKind::Edges ? edges.size() : numbers.size(); }
  friend bool operator==(const Elements&, const Elements&) = default;
};
/// Sorted, each once.
Elements in_order(Elements elements);
/// Those of either; those of one or the other, not both. Of the same kind.
Elements with(const Elements& a, const Elements& b);
Elements toggled(const Elements& a, const Elements& b);

/// What is next to what on a mesh. Mesh::neighbours() finds it once.
struct Neighbours {
  Topology topology;
  std::vector<std::uint32_t> first_edge, edges_at;          ///< the edges at each welded vertex: CSR by vertex
  std::vector<std::uint32_t> first_triangle, triangles_at;  ///< the triangles there
  std::vector<std::uint32_t> first_twin, twins;             ///< all vertices of the mesh at its place
  /// Of each edge whether it only divides a four-sided face: the two triangles lie in one plane within 0.1° and it is
  /// the longest side of both.
  std::vector<bool> divides;

  std::span<const std::uint32_t> edges_of(std::uint32_t v) const {
    return std::span(edges_at).subspan(first_edge[v], first_edge[v + 1] - first_edge[v]);
  }
  std::span<const std::uint32_t> triangles_of(std::uint32_t v) const {
    return std::span(triangles_at).subspan(first_triangle[v], first_triangle[v + 1] - first_triangle[v]);
  }
  std::span<const std::uint32_t> twins_of(std::uint32_t v) const {
    return std::span(twins).subspan(first_twin[v], first_twin[v + 1] - first_twin[v]);
  }
  /// The number of the edge between two welded vertices; Topology::kNoEdge when there is none.
  std::uint32_t edge_between(std::uint32_t a, std::uint32_t b) const;
};
/// O(n log n); about a second for a million triangles on one core, 130 bytes a triangle.
Neighbours find_neighbours(const Mesh& mesh);

/// The welded vertices of the elements: ends of edges, corners of faces. Sorted.
std::vector<std::uint32_t> welded_vertices(const Mesh& mesh, const Elements& elements);
/// Every vertex of the mesh at the places of these. Sorted.
std::vector<std::uint32_t> with_twins(const Mesh& mesh, const std::vector<std::uint32_t>& welded);

/// The face that a click means: the triangle, with the one that makes it four-sided.
Elements facet_of(const Mesh& mesh, std::uint32_t triangle);
/// The face as a person sees it: the flat region, or the curved surface up to its edges (core/mesh/features.h).
Elements region_of(const Mesh& mesh, std::uint32_t triangle);
/// The run that an edge belongs to: on from vertex to vertex, through the edge that goes straight on between faces of
/// four sides, along a border, or along folds that turn by at most 60°; until there is no one way on. O(its length).
Elements run_of(const Mesh& mesh, const ElementEdge& edge);
/// All elements of that kind that are connected with these by edges.
Elements connected(const Mesh& mesh, const Elements& elements);
/// One ring more: what shares a vertex with them. One ring less: without those that share a vertex with others.
Elements grown(const Mesh& mesh, const Elements& elements);
Elements shrunk(const Mesh& mesh, const Elements& elements);
/// All the others. Edges that only divide a four-sided face are none.
Elements inverted(const Mesh& mesh, const Elements& elements);
/// Everything of a kind.
Elements all_of(const Mesh& mesh, ElementKind kind);

/// Vertices with their distance from elements, by rising number; those of a seam each.
struct Reached {
  std::vector<std::uint32_t> vertices;
  std::vector<double> distances;  ///< mm of the mesh's own axes mapped by `to_space`
};

/// The vertices nearer than `reach` through space: true distances from points, segments and triangles. `to_space`
/// carries the mesh into a space whose lengths are millimetres. O(n log n) on all cores.
Reached within_space(const Mesh& mesh, const Elements& elements, const Mat3& to_space, double reach);
/// The same along the surface, by fast marching (Kimmel & Sethian 1998) with flat fronts, or round ones where both
/// neighbours have their distance from the same vertex (Novotni & Klein 2002). Exact on flat faces without obtuse
/// triangles as long as nothing stands in the way; elsewhere never shorter than the way through space, and at most a
/// few percent too long on evenly divided surfaces. What no edge connects is not reached.
Reached along_surface(const Mesh& mesh, const Elements& elements, const Mat3& to_space, double reach);

/// How much of a change something at a distance takes part in: (1 − (d / reach)²)² within the reach, 0 beyond; 1 at 0.
double share_at(double distance, double reach);

}  // namespace tack
