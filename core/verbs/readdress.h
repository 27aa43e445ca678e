// What ties and guides name on a part whose mesh has been replaced.
#pragma once

#include <functional>

#include "core/catch/tack.h"

namespace tack {

/// Where a place of the old mesh is on the new one, both in mesh coordinates.
using MeshMap = std::function<Vec3(const Vec3&)>;

/// `scene` is `before` with another mesh for the part. The addresses that ties and guides have on it are kept where the
/// numbers of vertices and triangles are the same; else each becomes that of the feature of its kind that is where
/// `map` takes the old one, within 1e-6 of the extent. Where there is none, the tie is lost: its address names a
/// feature that does not exist, and it is shown so. Returns the names of the ties and guides that have lost a place.
std::vector<std::string> readdress(Scene& scene, const Scene& before, PartId part, const MeshMap& map);

}  // namespace tack
