// The meshes of a glTF document.
#pragma once

#include "core/files/delivery.h"
#include "core/files/gltf_data.h"

namespace tack {

struct GltfMesh {
  MeshData data;
  std::vector<Colour> colours;  ///< one for each primitive, from the base colour of its material
  std::vector<int> materials;   ///< the number of each primitive's, −1 for none
  /// What joints have of each vertex, as in BoundShape; empty where a primitive has no joints.
  std::vector<std::uint32_t> first;
  std::vector<BoundShape::Influence> influences;
};

/// Reads mesh `number` in its own coordinates (nothing converted), its morph targets counted in by `weights`, and with
/// what joints have of it when `with_joints` is set. Strips and fans become triangles; points and lines give vertices
/// only. Primitives that follow each other with the same attributes share their vertices. Draco, meshopt and quantised
/// data are decoded. Where TACKPOINT_mesh has the positions in double and their hash still fits, those are taken.
Result<GltfMesh> read_gltf_mesh(const Json& json, GltfData& data, std::size_t number,
                                const std::vector<double>& weights, bool with_joints);

/// The weights of morph targets at rest: the node's, else the mesh's; empty where all are zero.
std::vector<double> morph_weights(const Json& node, const Json& mesh);

/// Whether a primitive has become one of ours: what has no positions was passed over when it was read.
bool has_positions(const Json& primitive);
bool is_draco(const Json& primitive);

/// The numbers of an attribute, compressed or not; empty when the primitive has none of that name.
Result<std::vector<double>> attribute_numbers(const Json& primitive, const char* name, int components, GltfData& data);

/// An attribute of a Draco-compressed primitive as an accessor would hold it: its numbers in the accessor's component
/// type, each element begun at a multiple of 4 bytes. Fails when it is not there.
struct PlainAttribute {
  Bytes bytes;
  std::uint64_t stride = 0, count = 0;
};
Result<PlainAttribute> draco_attribute(const Json& primitive, const std::string& name, const Json& accessor,
                                       GltfData& data);

/// "Mesh 3" or its name, for messages.
std::string mesh_name(const Json& json, std::size_t number);

}  // namespace tack
