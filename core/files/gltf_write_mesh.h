// Meshes on their way into a glTF document.
#pragma once

#include <map>

#include "core/files/gltf_data.h"
#include "core/scene/scene.h"

namespace tack {

/// Whether the part's geometry is written below a node that turns metres, Y up into ours. A mesh that has been changed
/// is written in our own units, unless something else of its node (a camera, a light) needs the other frame.
bool is_written_in_metres(const Part& part);

/// Adds meshes to a document that is being written: to its `meshes`, `accessors`, `bufferViews`, `materials` and its
/// one buffer. Instances share accessors; meshes that came along are only written anew where a verb changed them.
class MeshWriter {
 public:
  MeshWriter(Json& json, Bytes& binary, const std::vector<NamedColour>& colours)
      : json_(json), binary_(binary), colours_(colours), material_named_(colours.size(), -1) {}

  /// The number of the mesh that shows the part's geometry in the part's colours; written when it is not there yet. The
  /// part has a mesh.
  int number_of(const Part& part) { return part.carried_mesh >= 0 ? carried_mesh(part) : new_mesh(part); }

  /// The list of named colours as the layout has it; those that no part has are written as materials, too.
  Json list_of_colours();

 private:
  // The accessors of one primitive's vertices: positions in float, in double beside them where float does not hold
  // them.
  struct Written {
    int position = -1, normal = -1, indices = -1;
    int doubles = -1;
    std::string hash;
  };
  struct NewMesh {
    const Mesh* mesh;
    std::vector<Colour> colours;
    ColourNames names;
    int number;
    int carried = -1;
    bool shows(const Part& part) const {
      return mesh == part.mesh.get() && colours == part.colours &&
             (names == part.colour_names || (names && part.colour_names && *names == *part.colour_names));
    }
  };

  int carried_mesh(const Part& part);
  int new_mesh(const Part& part);
  void recolour(Json& primitive, const Colour& colour);
  void colour_primitives(Json& mesh, const Part& part, bool keep_materials);
  Json twin_geometry(const Json& mesh);
  Json changed_geometry(const Part& part, const Json& carried);
  Json write_geometry(const Mesh& mesh);
  Written write_primitive(const Mesh& mesh, const Primitive& p);
  int write_indices(const Mesh& mesh, const Primitive& p, std::uint32_t first_vertex);
  int float_accessor(const std::vector<float>& numbers, int components);
  int mapped_accessor(const Json& number, int components, const Mat3& map, bool unit, bool bounds);
  int material_of(const Colour& colour);
  std::optional<int> material_of(const std::string& name);
  int add_view(const void* data, std::size_t size, int target);
  int add_accessor(Json accessor);

  Json& json_;
  Bytes& binary_;
  const std::vector<NamedColour>& colours_;
  std::vector<int> material_named_;  // for each of them its material, once it has one here
  std::map<std::array<int, 4>, int> materials_;
  std::map<const Mesh*, Json> geometry_;
  std::vector<NewMesh> new_meshes_;
  std::map<int, const Mesh*> carried_owner_;  // which of the meshes that came from a carried one is written as it came
};

}  // namespace tack
