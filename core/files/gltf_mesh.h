// The meshes of a glTF document.
#pragma once

#include "core/files/delivery.h"
#include "core/files/gltf_data.h"

namespace tack {

/// Reads mesh `number` in its own coordinates (nothing converted), with one colour for each primitive from the base
/// colour of its material. Strips and fans become triangles; points and lines give vertices only. Draco, meshopt and
/// quantised data are decoded. Where TACKPOINT_mesh has the positions in double and their hash still fits, those are
/// taken.
struct GltfMesh {
  MeshData data;
  std::vector<Colour> colours;
  std::vector<int> materials;  ///< the number of each primitive's, −1 for none
};
Result<GltfMesh> read_gltf_mesh(const Json& json, GltfData& data, std::size_t number);

/// An attribute of a Draco-compressed primitive that Tack Point does not read itself (texture coordinates, colours), as
/// plain numbers. Fails when it is not there.
struct PlainAttribute {
  int components = 0;
  std::vector<float> numbers;
};
Result<PlainAttribute> draco_attribute(const Json& primitive, const std::string& name, GltfData& data);

/// "Mesh 3" or its name, for messages.
std::string mesh_name(const Json& json, std::size_t number);

}  // namespace tack
