// What an imported glTF brought along and Tack Point does not edit: kept as it came, written out again.
#pragma once

#include <map>
#include <nlohmann/json.hpp>

#include "core/files/bytes.h"
#include "core/files/gltf_schema.h"
#include "core/scene/scene.h"
#include "core/verbs/json.h"

namespace tack {

/// The members of a node that are not its name, place, children or mesh.
struct CarriedNode {
  Json head;              ///< extras and whatever else belongs to the node that has the name
  Json content;           ///< camera, weights, extensions: what is in the node's own frame
  int original = -1;      ///< the node's number, which it keeps; what animations, skins and extensions refer to
  bool animated = false;  ///< an animation or a skin moves it: its own numbers stay as they came
  Json rest;              ///< for animated nodes: translation, rotation, scale or matrix as they came
  /// From the node's own frame to the part's: what verbs had taken into the part before the document was written.
  /// Below the node it is undone, so that what the node brought along stays where it was.
  Affine taken;
};

/// Everything else of the document. All its buffers have become one, but for those without data that compressed buffer
/// views fall back to.
struct CarriedDocument {
  Json json;                        ///< the document without nodes and scenes
  std::map<int, Json> other_nodes;  ///< nodes of other scenes and of none, by number; they keep it
  Json other_scenes = Json::array();
  int node_limit = 0;  ///< numbers below are those of imported nodes, there or gone; our own nodes come behind them
  Blob binary;
};

/// `first` with everything of `second` behind it; `second`'s numbers are shifted wherever they are known to stand
/// (gltf_schema.h), and in its nodes by shifted(). Extensions in `left_out` are dropped from `second`, and so are
/// extensions of the whole document that both have and that cannot be put together, which `notes` says.
struct MergedDocuments {
  std::shared_ptr<const CarriedDocument> document;
  std::map<Ref, int> offset;
  std::vector<std::string> notes;
  /// A number of the second document's as it is now.
  int shifted(Ref kind, int number) const;
};
MergedDocuments merge(const CarriedDocument& first, const CarriedDocument& second,
                      const std::set<std::string>& left_out = {});

/// What a node brought along, with the numbers in it shifted as merge() says.
Json shifted_content(Json content, const MergedDocuments& merged);

}  // namespace tack
