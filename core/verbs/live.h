// Giving a live part other dimensions; everything that hangs on it goes along.
#pragma once

#include "core/verbs/reshape.h"

namespace tack {

/// Gives a live part, or one that becomes one, these dimensions. Its frame stays where it is, so the bottom of a solid
/// and the centre of a ball do not move. Its pivot and kept tacks stay on their faces, rims and axes (carried() in
/// core/mesh/shape.h); addresses of ties and guides too (readdress()). With Copies::All its instances get the same
/// dimensions. `next` has the kind that the part has. Fails for dimensions that check() refuses.
Result<Scene> with_dimensions(const Scene& scene, PartId part, const LiveShape& next, Copies copies);

/// Where a place of a shape is when it has other dimensions; both in the coordinates of the mesh.
Vec3 carried(const LiveShape& from, const LiveShape& to, const Vec3& place);

/// Takes what `after` has given the factors of live parts into their dimensions, where that is a shape of their kind;
/// nothing moves. Parts whose factors cannot be dimensions, as an unevenly scaled ball's, keep them.
Scene with_sizes_as_dimensions(const Scene& before, Scene after, const std::vector<PartId>& parts);

}  // namespace tack
