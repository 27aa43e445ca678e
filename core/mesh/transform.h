// Meshes made from other meshes.
#pragma once

#include "core/math/matrix.h"
#include "core/mesh/mesh.h"

namespace tack {

/// The mesh with every position taken through `map`: numbers of vertices and triangles stay. Normals go through the
/// inverse transpose; under a mirror triangles are turned round so that they still face outwards. Fails when `map` is
/// singular or leads out of the range a mesh may have.
Result<MeshPtr> transformed(const Mesh& mesh, const Affine& map);

/// The arrays of a mesh, to be changed; what is known of a live shape is left out.
MeshData data_of(const Mesh& mesh);

/// A mesh of its own with the same numbers: no longer shared with anybody.
MeshPtr duplicated(const Mesh& mesh);

}  // namespace tack
