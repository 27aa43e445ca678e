// The meshes that the nodes of a glTF show.
#pragma once

#include <map>

#include "core/files/gltf_mesh.h"

namespace tack {

/// Reads meshes as nodes ask for them, each once: a mesh as a node shows it is that mesh with its morph weights, in the
/// node's units or converted, bent by joints or not. Meshes that have all their accessors in common are one mesh with
/// other materials: instances.
class ShownMeshes {
 public:
  struct Shown {
    int mesh = -1;  ///< into the list of meshes; −1 for one that shows nothing
    std::vector<Colour> colours;
    std::vector<int> named;                 ///< for each colour its number in the list of named ones, −1 for none
    std::shared_ptr<const GltfMesh> bound;  ///< what joints have of it, where it bends; the mesh itself is in the list
  };

  /// Reads from `json` and `data`, and puts meshes into `meshes`.
  ShownMeshes(const Json& json, GltfData& data, const Around& around, std::vector<MeshSpans>& meshes)
      : json_(json), data_(data), around_(around), meshes_(meshes) {}

  /// Which named colour each material is; before the first mesh is asked for.
  void name_materials(const std::vector<NamedColour>& colours);

  /// What a node shows that has a mesh, by a number that check_gltf() has passed. With `in_metres` positions are turned
  /// from metres, Y up, into millimetres, Z up. Fails in words where the mesh is damaged.
  Result<const Shown*> of(const Json& node, bool in_metres, bool bends);

  /// Whether the node's mesh has anything that can be shown: points and lines without positions do not count.
  bool shows(const Json& node) const;

 private:
  const Json& json_;
  GltfData& data_;
  const Around& around_;
  std::vector<MeshSpans>& meshes_;
  std::map<std::pair<std::size_t, std::string>, Shown> shown_;  // by number and the way it is shown
  std::unordered_map<std::string, int> by_geometry_;
  std::vector<int> colour_of_;  // material to named colour, −1 for none
};

/// The joints of a skin, named by their nodes, with the matrices that take a mesh to each of them at rest, and what
/// they have of `bound`. Fails in words where the skin is damaged or a vertex names a joint that it has not.
Result<DeliveredSkin> read_skin(const Json& json, GltfData& data, std::size_t number, const GltfMesh& bound);

}  // namespace tack
