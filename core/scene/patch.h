// Vertices, edges or faces of meshes that are placed together, like a part.
#pragma once

#include <memory>

#include "core/mesh/elements.h"
#include "core/scene/tack_address.h"

namespace tack {

struct Shares;  // core/mesh/shares.h

/// What was taken of one part's mesh.
struct PatchOf {
  PartId part = kNoPart;
  Elements elements;
  std::shared_ptr<const Shares> shares;  ///< of a mesh with these numbers of vertices and triangles
  std::size_t vertices = 0, triangles = 0;
};

/// The part that has one is no part of the model: its mesh shows what was taken, its placement says where that is, and
/// placing it anew moves the vertices of the meshes (core/verbs/patch.h). It is in no file, and nothing is built of it.
struct Patch {
  std::vector<PatchOf> of;
  double reach = 0;       ///< mm in the world: what is nearer goes along by its share; 0: nothing does
  bool surface = true;    ///< measured along the surface, else through space
  bool instances = true;  ///< instances of the parts are changed with them
};
using PatchPtr = std::shared_ptr<const Patch>;

}  // namespace tack
