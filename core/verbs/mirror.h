// The mirror image of a part in a plane, as a placement with one negative factor.
#pragma once

#include "core/scene/scene.h"

namespace tack {

/// `part`'s placement mirrored in the plane through `at` (world, mm) across the unit `normal`: x's factor changes its
/// sign, the mesh stays as it is, and what hangs below comes along. Across a world axis, for a part at the top, the
/// angles only change their signs and the position is 2 · at − position in decimal: mirroring twice gives the same bits
/// for numbers of up to nine decimals. Elsewhere the angles are found from the matrix and given the fewest decimals
/// that hold it; factors and skew keep their bits unless a parent is scaled unevenly. Points end within 1e-9 × (extent
/// + distance from the origin) of where they belong. Fails below a flattened parent.
Result<Placement> mirrored(const Scene& scene, PartId part, const Vec3& at, const Vec3& normal);

}  // namespace tack
