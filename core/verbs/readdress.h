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
/// feature that does not exist, and it is shown so.
void readdress(Scene& scene, const Scene& before, PartId part, const MeshMap& map);

/// The ties and guides, by name, that have all their places in one scene and not in another that was made of it.
std::vector<std::string> lost_places(const Scene& before, const Scene& after);
/// The same in words, for a step to say; empty where none is lost.
std::string lost_words(const Scene& before, const Scene& after);

}  // namespace tack
