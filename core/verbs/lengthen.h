// Making parts longer along a direction: what Stretch and Scale do once they know by how much.
#pragma once

#include "core/mesh/extent.h"
#include "core/verbs/parts.h"

namespace tack {

/// What becomes of the other parts that share the mesh of one that is made longer.
enum class MeshLinks {
  Own,       ///< it stays linked to them, with a length of its own
  All,       ///< they become as long
  Separate,  ///< it gets a mesh of its own
};

/// How far the true vertices of a part's own mesh reach along a direction (unit, world), in mm of the world; those of
/// parts with everything below them. Empty where there are no vertices. Found by box_in_frame(), which remembers.
Reach own_reach(const Scene& scene, PartId part, const Vec3& direction);
Reach reach_of(const Scene& scene, const std::vector<PartId>& parts, const Vec3& direction);

/// A band in its place: heights along the direction, in the world (mm).
struct BandInPlace {
  Vec3 direction;            ///< unit, world
  double low = 0, high = 0;  ///< the extent of what is stretched
  double near = 0, far = 0;  ///< the planes
  enum class From { Typed, Own, Found } from = From::Typed;
  std::string name;  ///< Own: of the band that is kept
};

/// Whether two directions are the same line within 1e-9 (sine of the angle).
bool same_way(const Vec3& a, const Vec3& b);
/// A band of the world, between two heights along a unit direction, in the coordinates of a mesh.
StretchBand band_in_mesh(const Affine& world, const Vec3& direction, double near, double far);
/// How much higher in the world (mm) a step of one along the band's normal is.
double world_per_height(const Affine& world, const Vec3& direction);
/// The band that a part keeps across a direction, looking along it: of that name, or, with an empty one, the only one.
/// nullopt where there is none, or several without a name.
std::optional<StretchBand> own_band(const Part& part, const Affine& world, const Vec3& direction,
                                    const std::string& name);

/// Lengthens the mesh of one part; its frame, and what hangs below it, stay. Its pivot, kept tacks and bands go along.
/// `lengthening` is in the coordinates of its mesh.
Result<void> lengthen_part(Scene& scene, PartId part, const Lengthening& lengthening, MeshLinks links);

/// `tops`, with everything below them, made longer by `by` (mm, world) as core/verbs/stretch.h says of each part, and
/// then shifted by `offset` along the direction.
Result<Scene> stretched_along(const Scene& scene, const std::vector<PartId>& tops, const BandInPlace& band, double by,
                              double offset, MeshLinks links);

}  // namespace tack
