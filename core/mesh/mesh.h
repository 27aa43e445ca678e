// Meshes: immutable arrays in double, in the mesh's own coordinates, with what is derived from them made on demand.
#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <span>
#include <vector>

#include "core/math/box.h"
#include "core/mesh/lazy.h"
#include "core/problem.h"

namespace tack {

using Triangle = std::array<std::uint32_t, 3>;

/// A run of a mesh's vertices and triangles that shares one material.
struct Primitive {
  std::uint32_t first_vertex = 0, vertex_count = 0;
  std::uint32_t first_triangle = 0, triangle_count = 0;

  friend bool operator==(const Primitive&, const Primitive&) = default;
};

/// What is known of a mesh by how it was made, where it would otherwise be found from its vertices.
struct KnownFeatures {
  /// A circle, or a part of one, by the vertices along it in turn.
  struct Round {
    std::vector<std::uint32_t> vertices;
    bool closed = true;
    Vec3 centre, axis;  ///< axis: unit, out of the matter
    double radius = 0;
  };
  /// Triangles that are one curved face: about an axis, or, with half_length 0, a ball about its centre.
  struct Face {
    std::uint32_t first_triangle = 0, triangle_count = 0;
    Vec3 centre, axis;  ///< of a ball the axis is zero
    double half_length = 0, radius = 0;
  };
  std::vector<Round> rounds;
  std::vector<Face> faces;
  /// Segments that are edges although no triangle has them: what a line is made of.
  std::vector<std::array<std::uint32_t, 2>> lines;
};

/// What a mesh is made from. Positions are in millimetres, Z up, in the mesh's own axes.
struct MeshData {
  std::vector<Vec3> positions;
  std::vector<Triangle> triangles;             ///< counter-clockwise seen from outside
  std::vector<std::array<float, 3>> normals;   ///< one for each position, or empty
  std::vector<Primitive> primitives;           ///< cover all vertices and triangles in order; empty means one
  std::shared_ptr<const KnownFeatures> known;  ///< of a live shape; null: features are found
};

/// The same where it lies already, in memory that `keep` holds as long as the mesh lives and nobody writes to.
struct MeshSpans {
  std::span<const Vec3> positions;
  std::span<const Triangle> triangles;
  std::span<const std::array<float, 3>> normals;
  std::vector<Primitive> primitives;
  std::shared_ptr<const void> keep;
  std::shared_ptr<const KnownFeatures> known = {};
};

/// The arrays of `data`, which they keep.
MeshSpans spans_of(MeshData data);

struct MeshIndex;
struct Features;
struct MassCentre;
struct EvidentBands;
struct Neighbours;

class Mesh {
 public:
  std::span<const Vec3> positions() const { return arrays_.positions; }
  std::span<const Triangle> triangles() const { return arrays_.triangles; }
  std::span<const std::array<float, 3>> normals() const { return arrays_.normals; }
  std::span<const Primitive> primitives() const { return arrays_.primitives; }
  /// Null unless it is the mesh of a live shape.
  const std::shared_ptr<const KnownFeatures>& known() const { return arrays_.known; }
  const Box& box() const { return box_; }
  /// Tells meshes apart: no two meshes of a run have the same number, also when one is gone.
  std::uint64_t number() const { return number_; }

  /// The three corners of a triangle.
  std::array<Vec3, 3> corners(std::uint32_t triangle) const {
    const Triangle& t = arrays_.triangles[triangle];
    return {arrays_.positions[t[0]], arrays_.positions[t[1]], arrays_.positions[t[2]]};
  }

  /// The search index (core/mesh/mesh_index.h); made by the first caller, on its thread.
  const MeshIndex& index() const;
  /// The search index if it has been made, else nullptr: then the caller scans.
  const MeshIndex* index_if_ready() const { return index_.peek(); }

  /// The edges, faces and round edges (core/mesh/features.h); found by the first caller, on its thread.
  const Features& features() const;
  const Features* features_if_ready() const { return features_.peek(); }

  /// The centre of mass (core/mesh/mass.h); found by the first caller, on its thread.
  const MassCentre& mass() const;
  const MassCentre* mass_if_ready() const { return mass_.peek(); }

  /// Where it could be made longer (core/mesh/stretch.h); found by the first caller, on its thread.
  const EvidentBands& evident_bands() const;

  /// What is next to what (core/mesh/elements.h); found by the first caller, on its thread.
  const Neighbours& neighbours() const;

  Mesh(const Mesh&) = delete;
  Mesh& operator=(const Mesh&) = delete;
  ~Mesh();

 private:
  Mesh(MeshSpans arrays, const Box& box);
  friend Result<std::shared_ptr<const Mesh>> mesh_over(MeshSpans arrays);
  friend Result<std::shared_ptr<const Mesh>> with_places(const Mesh& mesh, std::vector<Vec3> positions,
                                                         std::vector<std::array<float, 3>> normals);

  MeshSpans arrays_;
  std::shared_ptr<const void> triangles_kept_;  // where the triangles are in other memory than the rest
  Box box_;
  std::uint64_t number_;
  Lazy<MeshIndex> index_;
  Lazy<Features> features_;
  Lazy<MassCentre> mass_;
  Lazy<EvidentBands> evident_bands_;
  // Meshes of the same triangles share it: what belongs together goes on belonging together wherever vertices go.
  std::shared_ptr<Lazy<Neighbours>> neighbours_;
};

using MeshPtr = std::shared_ptr<const Mesh>;

/// Checks `data` and makes a mesh of it: every coordinate finite and below 1e12 mm, every index in range, normals one
/// for each position or none, primitives covering everything in order. Says what is wrong otherwise. A mesh without
/// triangles (points, lines) is allowed; one without vertices is not.
Result<MeshPtr> make_mesh(MeshData data);
/// The same of arrays that stay where they are. The checks run on all cores, at the speed of memory.
Result<MeshPtr> mesh_over(MeshSpans arrays);
/// The mesh with its vertices elsewhere, and other normals or none: it shares the triangles and neighbours(), and what
/// is known of a live shape is left out. As many of either as there were. Fails for a coordinate that cannot be used.
Result<MeshPtr> with_places(const Mesh& mesh, std::vector<Vec3> positions, std::vector<std::array<float, 3>> normals);

}  // namespace tack
