// Meshes on their way into a glTF document.
#pragma once

#include <map>

#include "core/files/gltf_data.h"
#include "core/files/gltf_make.h"
#include "core/scene/scene.h"

namespace tack {

/// Whether verbs have changed the mesh since it was read.
bool is_changed(const Part& part);
/// Whether the part's geometry is written below a node that turns metres, Y up into ours. A mesh that has been changed
/// is written in our own units, unless something else of its node (a camera, a light) needs the other frame.
bool is_written_in_metres(const Part& part);

/// Adds meshes to a document that is being written: to its `meshes`, `accessors`, `bufferViews`, `materials` and its
/// one buffer. Instances share accessors; meshes that came along are only written anew where a verb changed them.
class MeshWriter {
 public:
  MeshWriter(Json& json, ByteRuns& binary, const std::vector<NamedColour>& colours, NarrowPlaces& narrow)
      : json_(json),
        binary_(binary),
        arrays_(json, binary, &narrow),
        colours_(colours),
        material_named_(colours.size(), -1) {}

  /// The number of the mesh that shows the part's geometry in the part's colours; written when it is not there yet. The
  /// part has a mesh.
  int number_of(const Part& part) { return part.source->carried_mesh >= 0 ? carried_mesh(part) : new_mesh(part); }

  /// The list of named colours as the layout has it; those that no part has are written as materials, too.
  Json list_of_colours();

 private:
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
  Json write_geometry(const MeshPtr& held);
  int mapped_accessor(const Json& number, int components, const Mat3& map, bool unit, bool bounds);
  int mapped_offsets(const Json& primitive, const char* name, int components, const Json& number, const Mat3& map);
  int lengthened_offsets(const Part& part, const Json& primitive, const Json& number, bool back_to_metres);
  int tangents_square_to_normals(int tangents, const Json& primitive);
  int mapped_directions(const Json& primitive, const char* name, const Mat3& map);
  int unpacked_accessor(const Json& primitive, const std::string& name);
  std::optional<MeshPtr> without_morphs(const Mesh& mesh, const std::vector<Json>& targets,
                                        const std::vector<double>& weights);
  int material_of(const Colour& colour);
  std::optional<int> material_of(const std::string& name);

  Json& json_;
  ByteRuns& binary_;
  GltfArrays arrays_;
  const std::vector<NamedColour>& colours_;
  std::vector<int> material_named_;  // for each of them its material, once it has one here
  std::map<std::array<int, 4>, int> materials_;
  std::map<const Mesh*, Json> geometry_;
  std::vector<NewMesh> new_meshes_;
  // Which of the meshes that came from a carried one, in its own units or converted and with these weights of its morph
  // targets, is written as it came.
  std::map<std::tuple<int, bool, std::string>, const Mesh*> carried_owner_;
};

}  // namespace tack
