// Live shapes: solids that are known by their dimensions. Their meshes are made from these, and made anew when one of
// them changes.
#pragma once

#include <memory>
#include <string>

#include "core/math/matrix.h"
#include "core/mesh/mesh.h"

namespace tack {

enum class ShapeKind : std::uint8_t { Box, Plate, Cylinder, Cone, Sphere, Torus, Tube, Line };
inline constexpr std::size_t kShapeKinds = 8;

/// Lengths in mm, but for Sides, which is a number of sides. Not every kind has all of them: see dimensions_of().
enum class Dimension : std::uint8_t {
  Width,      ///< along its x; of a line its length
  Depth,      ///< along its y
  Height,     ///< along its z
  Diameter,   ///< across, outside; of a cone at its bottom
  Top,        ///< of a cone: the diameter at its top, 0 for a point
  Thickness,  ///< of a tube's wall; of the ring that a torus is made of
  Corner,     ///< of a plate: the radius of its four corners, 0 for sharp ones
  Sides,      ///< how many sides stand for a whole round
};
inline constexpr std::size_t kDimensions = 8;

/// In its own coordinates a shape stands on the plane z = 0 with its axis, or middle, on z. A sphere and a torus have
/// their centre at the origin; a line goes from the origin along x.
struct Shape {
  ShapeKind kind = ShapeKind::Box;
  std::array<double, kDimensions> sizes{};  ///< by Dimension; those that the kind does not have are 0

  double& operator[](Dimension d) { return sizes[static_cast<std::size_t>(d)]; }
  double operator[](Dimension d) const { return sizes[static_cast<std::size_t>(d)]; }
  friend bool operator==(const Shape&, const Shape&) = default;
};

/// The dimensions of a kind, in the order in which they are said.
std::span<const Dimension> dimensions_of(ShapeKind kind);
bool has(ShapeKind kind, Dimension dimension);
/// "box", "plate" …, as sentences and steps files say it.
std::string_view word_of(ShapeKind kind);
/// The kind that a word names; nullopt for none.
std::optional<ShapeKind> shape_kind(std::string_view word);
/// "Width", "Diameter" …; of a line "Length", of a plate's height "Thickness", of a tube's thickness "Wall".
std::string_view name_of(ShapeKind kind, Dimension dimension);
/// What steps files call it: "size" for the sides of boxes and plates, else "height", "diameter" …
std::string_view key_of(ShapeKind kind, Dimension dimension);
/// A shape of this kind that is worth looking at: what stands until something is typed.
Shape usual_shape(ShapeKind kind);

inline constexpr int kLeastSides = 3, kMostSides = 1024;
inline constexpr double kLargestShape = 1e9;

/// Whether there is such a shape: lengths above 0 and up to kLargestShape; a top and a corner may be 0; walls and rings
/// thinner than half the diameter; a corner at most half the shorter side; kLeastSides to kMostSides sides, a plate's a
/// multiple of 4, a torus's at least 4. Says which is wrong, and what is possible.
Result<void> check(const Shape& shape);

/// The mesh of a shape that check() accepts, its own coordinates taken through `frame` (a rigid motion). Round shapes
/// are made of flat sides whose edges lie on the true surface, so that they are inside it by up to inside_by(); what is
/// known of them (MeshData::known) is the true circle, axis and centre. Faces look outwards; a line has none. The
/// numbers of vertices and triangles depend on the kind, on the sides, and on whether a top and a corner are 0.
MeshData mesh_data_of(const Shape& shape, const Affine& frame = {});

/// How many vertices that mesh has. O(1).
std::size_t vertex_count(const Shape& shape);

/// How far the flat sides of a round shape are inside the true surface, at most (mm): r · (1 − cos(180° / sides)) for
/// its largest radius. 0 for shapes that are not round.
double inside_by(const Shape& shape);

/// Where a place of `from` is on `to`, a shape of the same kind with other dimensions; both in own coordinates. What is
/// on a face, a rim, an edge or the axis stays on it, in proportion to the dimensions along and across the axis; places
/// outside go on in the same proportion. The same numbers where nothing that matters for it differs.
Vec3 carried(const Shape& from, const Shape& to, const Vec3& place);
/// The same of a direction, as a normal (any length but zero): it stays along the axis or across it, and on the slant
/// of a cone it stays square to it.
Vec3 carried_direction(const Shape& from, const Shape& to, const Vec3& direction);

/// The shape that is `factor` times as big along its own x, y and z (each above 0); nullopt where that is no shape of
/// its kind: a sphere of three widths, a tube whose walls would differ. Results that are within two units in the last
/// place of a number of 15 digits are that number.
std::optional<Shape> grown(const Shape& shape, const Vec3& factor);

/// A shape on a part: where it is in the coordinates of the mesh, and what was typed.
struct LiveShape {
  Shape shape;
  Affine frame;                                ///< from its own coordinates to the mesh's; a rotation and a shift
  std::array<std::string, kDimensions> typed;  ///< by Dimension: "1/4 in"; empty where nothing was typed

  friend bool operator==(const LiveShape&, const LiveShape&) = default;
};
using LiveShapePtr = std::shared_ptr<const LiveShape>;

/// The live shape after its mesh has been taken through `change`: turned, shifted, or grown along its own axes.
/// nullopt where it is none any more: mirrored, skewed, or grown as grown() cannot.
std::optional<LiveShape> taken_through(const LiveShape& live, const Affine& change);

}  // namespace tack
