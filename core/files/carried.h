// What an imported glTF brought along and Tack Point does not edit: kept as it came, written out again.
#pragma once

#include <map>
#include <nlohmann/json.hpp>

#include "core/files/bytes.h"
#include "core/scene/scene.h"
#include "core/verbs/json.h"

namespace tack {

/// The members of a node that are not its name, place, children or mesh.
struct CarriedNode {
  Json head;              ///< extras and whatever else belongs to the node that has the name
  Json content;           ///< camera, skin, weights, extensions: what is drawn in the node's own frame
  int original = -1;      ///< the node's number in the carried document; what animations and skins refer to
  bool animated = false;  ///< an animation or a skin moves it: its own numbers stay as they came
  Json rest;              ///< for animated nodes: translation, rotation, scale or matrix as they came
};

/// Everything else of the document. All its buffers have become one.
struct CarriedDocument {
  Json json;                        ///< the document without nodes and scenes
  std::map<int, Json> other_nodes;  ///< nodes of other scenes and of none, by original number
  Json other_scenes = Json::array();
  int node_limit = 0;  ///< one more than the largest original node number
  std::shared_ptr<const Bytes> binary = std::make_shared<const Bytes>();
};

/// `first` with everything of `second` behind it; `second`'s numbers are shifted in all places that glTF 2.0 and the
/// ratified extensions define, and in its nodes through the returned offsets.
struct MergedDocuments {
  std::shared_ptr<const CarriedDocument> document;
  int node_offset = 0, mesh_offset = 0, material_offset = 0, camera_offset = 0, skin_offset = 0, light_offset = 0;
};
MergedDocuments merge(const CarriedDocument& first, const CarriedDocument& second);

/// A node's content with camera, skin and light numbers shifted as merge() says.
Json shifted_content(Json content, const MergedDocuments& merged);

}  // namespace tack
