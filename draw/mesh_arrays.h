// What the graphics card is given of a mesh: float arrays, made once per mesh away from the interface thread.
#pragma once

#include <array>
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
  /// The mesh as it is drawn from so far away that `error` (mm) is not seen.
  struct Level {
    std::vector<std::array<std::uint32_t, 2>> primitives;  ///< of each colour the first index and how many there are
    std::uint32_t first_edge = 0, edge_count = 0;
    double error = 0;
    std::size_t triangles() const;
  };
  /// Triangles, or edges, that lie together: a close-up of a heavy mesh draws those alone that may be in it.
  struct Run {
    std::array<float, 3> centre, half;   ///< of the box round them, mm, relative to `origin`
    std::uint32_t first = 0, count = 0;  ///< indices, or edges
    std::uint32_t primitive = 0;
    /// All its triangles are seen from behind by an eye from which the way to `apex` goes along `axis` (length 1), but
    /// for an angle whose cosine is at least `cutoff`; over 1: by none. Of edges: by none.
    std::array<float, 3> apex{}, axis{};
    float cutoff = 2;
  };
  Vec3 origin;
  std::vector<Vertex> vertices;
  std::vector<std::uint32_t> indices;  ///< three for each triangle; those of coarser levels behind
  std::vector<Edge> edges;             ///< feature edges, and behind them those of coarser levels
  std::vector<Level> levels;           ///< the first is the mesh itself, without error; errors rise
  std::vector<Run> runs, edge_runs;    ///< of the first level, see make_runs(); none: it is always drawn as a whole
  Vec3 half;                           ///< half the sides of the mesh's box, mm
  float radius = 0;                    ///< of the sphere about `origin` that contains everything, mm
  bool solid = false;                  ///< see is_solid()
  double edge_density = 0;             ///< lines side by side on a mm of the mesh, see edge_density_of()
  std::size_t bytes() const;           ///< that the card is given of it
};

/// A place relative to the origin, mm, with a normal of length 1, which is kept to 1/254 of that.
MeshArrays::Vertex vertex_of(const Vec3& place, const Vec3& normal);

/// Whether nothing of the inside of a mesh shows to an eye outside: it is closed – every edge is gone along as often
/// one way as the other –, and each of its pieces looks outwards. Faces that are seen from behind need not be drawn
/// then. False for hollows, whose inner pieces look inwards, for sheets back to back, and without triangles. O(n).
bool is_solid(const Mesh& mesh);

/// Levels for the distances from which a part looks from 1200 down to 4 pixels large, half a pixel off there, as far as
/// each has at most two thirds of the triangles, or of triangles and edges, of the one before. What is caught, measured
/// or picked is never a level. Faces by meshoptimizer (Garland & Heckbert 1997), whose error is a mean over the faces
/// around: single vertices are off by up to four times as much in the tests. Of levels of at most 200 triangles a
/// sample of 64 vertices is measured, and `error` is that of the farthest. Seams of normals and borders of primitives
/// are kept as long as that leaves something to take away; then the places alone count, and each primitive is off by
/// itself. Edges by leaving out of each chain what lies within the error. About a second for a million triangles, in
/// however many primitives.
void add_levels(const Mesh& mesh, MeshArrays& arrays);

/// How many feature edges lie side by side on a mm of a mesh as it is seen, in the mean over all directions: a convex
/// mesh shows a quarter of its faces' area (Cauchy 1832), half of its edges, and of those π/4 of their length. A sheet
/// shows twice as much of both. 0 for a mesh without faces. O(n).
double edge_density_of(const Mesh& mesh);

/// Of a mesh no more than its box: no vertices and no levels.
MeshArrays box_arrays(const Mesh& mesh);

/// Arrays for showing a mesh while a drag moves vertices of `base`: its edges are those of `base` – none where that has
/// other vertices –, and it is not looked whether it is solid. A third of the time of make_mesh_arrays().
MeshArrays make_passing_arrays(const Mesh& mesh, const Mesh& base);

/// Of a mesh of more than 250,000 triangles: one level of some 60,000, made in a seventh of the time that
/// add_levels() takes, for pictures while a drag changes the mesh. Vertices in one cell of a grid become one (Rossignac
/// & Borrel 1993), of each primitive by itself; one of which nothing would be left stays as it is. `error`, in mm, is
/// the largest that their quadrics say; measured on a ball, places are off by up to twice as much. Edges stay. For
/// arrays with one level. O(n).
void add_rough_level(MeshArrays& arrays);

inline constexpr std::uint32_t kRunTogether = 512;  ///< triangles, or edges, of a run; the last has fewer

/// Of a mesh of more than 8,000 triangles: sorts the triangles of each primitive so that neighbours come together, and
/// finds runs of them and of its edges. For arrays with one level. O(n).
void make_runs(MeshArrays& arrays);

/// The arrays of the mesh itself, without coarser levels. O(n log n); about a second for a million triangles without
/// normals. Makes the mesh's feature edges on the way.
MeshArrays make_mesh_arrays(const Mesh& mesh);

}  // namespace tack
