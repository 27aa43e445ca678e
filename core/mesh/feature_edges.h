// The pieces that features are made of; features.h is what the rest of the core uses.
#pragma once

#include "core/mesh/features.h"
#include "core/mesh/topology.h"

namespace tack {

/// Whether each edge of the topology is a feature edge, as find_features() defines it.
std::vector<bool> mark_feature_edges(const Mesh& mesh, const Topology& topology);

/// The feature edges as chains of vertices: each goes on where exactly two pieces meet, or, where more do, along the
/// one that turns least; it ends where a turn would be over 50°. A closed chain repeats its first vertex at the end.
using EdgeChain = std::vector<std::uint32_t>;
std::vector<EdgeChain> chain_edges(const Mesh& mesh, const Topology& topology, const std::vector<bool>& is_feature);

/// The straight runs of the marked edges, sorted.
std::vector<FeatureEdge> straight_runs(const Mesh& mesh, const Topology& topology, const std::vector<bool>& is_feature);

/// The round edges along the chains, and for each piece of one, as (lower vertex, higher vertex), which it belongs to.
struct RoundPiece {
  std::uint32_t a, b, round;
};
std::vector<RoundEdge> find_round_edges(const Mesh& mesh, const std::vector<EdgeChain>& chains,
                                        std::vector<RoundPiece>& pieces);

/// Fits a circular cylinder or cone to triangles: the axis by the plane that the normals' tips lie in (the least
/// eigenvector of their covariance), then the axis' place by linear least squares on the squared distances. Sets what a
/// Round face has; false, with `face` unchanged, when none fits within 1e-3 of the radius.
bool fit_round_face(const Mesh& mesh, std::span<const std::uint32_t> triangles, MeshFace& face);

}  // namespace tack
