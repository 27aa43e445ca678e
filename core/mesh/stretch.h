// Bands: making a mesh longer between two planes, so that what lies beyond them keeps its shape.
#pragma once

#include <optional>
#include <string>

#include "core/math/matrix.h"
#include "core/mesh/mesh.h"

namespace tack {

/// Two parallel planes and a direction, in the coordinates of a mesh. What lies before the near plane stays, what lies
/// beyond the far one is shifted, what is between goes along in proportion.
struct StretchBand {
  Vec3 normal;  ///< a place p is at height dot(normal, p)
  Vec3 along;   ///< the way of the shift, with dot(normal, along) = 1: heights grow by what it is shifted by
  double low = 0, high = 0;  ///< the heights of the near and the far plane; low < high

  friend bool operator==(const StretchBand&, const StretchBand&) = default;
};

/// A band across an axis of the mesh, 0 to 2.
StretchBand band_across(int axis, double low, double high);

/// A band with the change of height between its planes, negative to make it shorter; above −(high − low).
struct Lengthening {
  StretchBand band;
  double by = 0;

  friend bool operator==(const Lengthening&, const Lengthening&) = default;
};

/// A band that a part keeps by name.
struct KeptBand {
  std::string name;  ///< no two of a part have the same
  StretchBand band;

  friend bool operator==(const KeptBand&, const KeptBand&) = default;
};
using KeptBands = std::vector<KeptBand>;

/// What part of the shift a height gets: 0 up to the near plane, 1 from the far plane on. A place within `slack` of a
/// plane belongs to the rigid side.
double share_of(const StretchBand& band, double height, double slack);

/// Where a place goes. Places on the rigid sides are kept, or shifted by the very same vector.
Vec3 lengthened(const Lengthening& lengthening, const Vec3& place, double slack = 0);

/// What has become of a direction at a place, as a normal: it stays on the rigid sides, and between the planes turns as
/// a face there does. Unit.
Vec3 lengthened_normal(const Lengthening& lengthening, const Vec3& place, const Vec3& normal);

/// How near to a plane a vertex counts as on it: 1e-9 of the mesh's extent, so that what a file rounds off is not torn.
double band_slack(const Mesh& mesh);

/// The mesh with its vertices taken through the lengthening. Numbers of vertices and triangles stay. A stored normal
/// turns as the faces around its vertex do. Fails where the band is none, or would be closed (by ≤ −(high − low)).
Result<MeshPtr> lengthened(const Mesh& mesh, const Lengthening& lengthening);

/// The same band after the mesh's coordinates have been changed by `change` (not singular).
StretchBand carried_along(const StretchBand& band, const Affine& change);
/// The band's heights after another lengthening; a band across another direction stays as it is.
StretchBand carried_along(const StretchBand& band, const Lengthening& lengthening);

/// The evident band across each axis of a mesh: the longest stretch along it without vertices in which every face is
/// along the axis, so that the outline is the same; of a prism all of it. nullopt where that is less than a fifth of
/// the extent, or where another stretch is more than three quarters as long.
struct EvidentBands {
  std::array<std::optional<StretchBand>, 3> across;
};
/// O(vertices + triangles). Mesh::evident_bands() finds them once.
EvidentBands find_evident_bands(const Mesh& mesh);
/// The one across an axis, 0 to 2.
inline const std::optional<StretchBand>& evident_band(const Mesh& mesh, int axis) {
  return mesh.evident_bands().across[static_cast<std::size_t>(axis)];
}

/// How many triangles cross a plane of the band without a vertex there and are not along it: their slope changes beyond
/// the plane as well.
std::size_t crossing_slopes(const Mesh& mesh, const StretchBand& band);

/// Where a part's mesh comes from when it is a linked copy with a length of its own.
struct StretchedFrom {
  MeshPtr base;                      ///< shared with the others
  std::vector<Lengthening> lengths;  ///< in turn; each in the coordinates that the ones before it left
  /// Which mesh of the carried document the base came from, before verbs changed it, and whether it stands there in
  /// metres; −1 for none.
  int carried_mesh = -1;
  bool in_metres = false;
  bool longer = false;  ///< the base itself has been lengthened since
};
/// The mesh that it makes of the base.
Result<MeshPtr> stretched(const StretchedFrom& from);

}  // namespace tack
