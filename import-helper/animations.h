// The animations that the Assimp library delivers, as those of a glTF.
#pragma once

#include <map>

#include "core/files/gltf_make.h"
#include "import-helper/assimp_library.h"

namespace tack {

/// What can be moved: the nodes of the glTF by their names in the library's scene, and of those whose meshes have
/// shapes how much of each there is at rest.
struct AnimatedNodes {
  std::map<std::string, int> numbers;
  std::map<int, Json> shapes;
};

/// What was left out: channels of shapes that no part has, and channels that put other meshes in a part's place.
struct AnimationsLeft {
  std::size_t shapes = 0, meshes = 0;
};

/// Adds the animations of `scene` to `json`, their numbers to `arrays`: places, turns, sizes and shapes of nodes, times
/// in seconds. Of keys that are at one time, before time 0 or not finite the later ones are left out. Between keys glTF
/// goes on as the library does, in proportion.
AnimationsLeft add_animations(const aiScene& scene, const AnimatedNodes& nodes, Json& json, GltfArrays& arrays);

}  // namespace tack
