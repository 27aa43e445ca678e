// What a person sees on a mesh: its edges, faces and round edges. Found once for each mesh, in the background.
#pragma once

#include <optional>

#include "core/mesh/box_tree.h"
#include "core/mesh/mesh.h"

namespace tack {

/// A straight run of folds, borders and seams between two vertices (the lower-numbered twin of each welded place).
struct FeatureEdge {
  std::uint32_t a = 0, b = 0;         ///< the lower number first
  std::uint32_t round = 0xFFFFFFFFu;  ///< the round edge it is a piece of, into Features::rounds; kNone for none

  static constexpr std::uint32_t kNone = 0xFFFFFFFFu;
};

/// A circle, or a part of one, that a chain of feature edges runs along. In mesh coordinates.
struct RoundEdge {
  std::uint32_t vertex = 0;  ///< its name: the lowest vertex of the chain that names no other round edge
  std::uint32_t count = 0;   ///< how many edges it has
  bool closed = false;       ///< the whole circle
  Vec3 centre;
  Vec3 axis;  ///< unit; the way the faces along it look, out of the matter
  double radius = 0;
};

/// A face as a person sees it.
struct MeshFace {
  enum class Kind : std::uint8_t {
    Flat,
    Round,  ///< a cylinder or a cone, or a part of one: it has an axis
    Ball,   ///< a sphere that is known as one: it has a centre
    Smooth  ///< any other curved surface
  };
  Kind kind = Kind::Flat;
  std::uint32_t triangle = 0;  ///< its name: the largest triangle; among those equal to float the lowest
  double area = 0;             ///< mm²
  Vec3 centre;                 ///< Flat: the centroid of the area. Round: the point of the axis half way along the
                               ///< face. Ball: its centre
  Vec3 direction;              ///< Flat: the normal of the first triangle. Round: the axis. Unit; others: zero
  /// Flat: the ends of its longest border edge, low first; among edges equal within 1e-6 those with the lowest numbers.
  std::uint32_t longest_a = 0, longest_b = 0;
  double half_length = 0;  ///< Round: how far the face reaches along the axis to either side of the centre
  double radius = 0;       ///< Round: half way along; Ball: the radius
};

struct Features {
  std::vector<FeatureEdge> edges;  ///< sorted by (a, b)
  std::vector<bool> on_edge;       ///< for each vertex: whether a feature edge ends at its place, or goes through it
  std::vector<MeshFace> faces;     ///< sorted by triangle
  std::vector<std::uint32_t> face_of;  ///< for each triangle its face
  std::vector<RoundEdge> rounds;       ///< sorted by vertex
  BoxTree edge_tree;                   ///< over edges, leaves of at most 4
  BoxTree centre_tree;  ///< over the centres of flat faces and balls (by face number), then of round edges (after them)

  /// By its name, or by any other vertex of it that ends a feature edge; nullptr when there is none.
  const RoundEdge* round_at(std::uint32_t vertex) const;
  const MeshFace& face_at(std::uint32_t triangle) const { return faces[face_of[triangle]]; }
  std::size_t bytes() const;
};

/// Feature edges are folds of more than 20°, borders (one triangle), edges shared by three triangles or more, and
/// seams where stored normals on the two sides differ by more than 20°. Pieces in line within 0.01° are one edge.
///
/// Round edges are closed chains of at least 8 pieces that turn by at most 50° at each vertex, or open ones of at least
/// 4 that span 30° or more, all within 1e-3 of the radius of one circle.
///
/// A flat face is grown from its largest triangle over shared edges, while normals stay within 0.1° of that triangle's
/// and vertices within 1e-5 × extent of its plane. Four flat regions or more of like size (within four times) that join
/// without a feature edge are facets of one curved face; that is Round when a circular cylinder or cone fits its
/// vertices within 1e-3 of the radius.
///
/// Of a live shape (Mesh::known()) the circles, axes and centres are those it is made from, whatever its sides, and its
/// lines are edges.
///
/// Vertices closer than weld_distance() count as one. O(n log n); about 0.6 s for a million triangles on one core.
Features find_features(const Mesh& mesh);

}  // namespace tack
