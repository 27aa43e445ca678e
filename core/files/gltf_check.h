// What is settled about a glTF before anything of it is read: that it can be, and which of its scenes is meant.
#pragma once

#include "core/files/delivery.h"

namespace tack {

/// Fails in words for every version but 2.0. This comes first: other versions have the rest otherwise.
Result<void> check_version(const Json& json);

/// Fails in words where the file needs an extension that is not known here, where a list of the standard is none, or
/// where a node has members that cannot be meant as they stand: nothing in a node is passed over.
Result<void> check_gltf(const Json& json);

struct ChosenScene {
  Json scene = Json::object();  ///< empty for a file without scenes
  std::vector<int> roots;       ///< its nodes at the top; without scenes, all nodes that are below none
  Json others = Json::array();
};

/// The scene that `options` name, else the one that the file opens with, else the first; `notes` says so where there
/// were others to choose from. Fails in words for a scene that is not there or is damaged.
Result<ChosenScene> choose_scene(const Json& json, const ImportOptions& options, std::vector<std::string>& notes);

}  // namespace tack
