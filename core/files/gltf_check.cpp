#include "core/files/gltf_check.h"

#include <fmt/format.h>

#include <set>

#include "core/files/gltf_figures.h"
#include "core/files/gltf_node.h"
#include "core/printable.h"

namespace tack {
namespace {

bool extension_is_harmless(const std::string& name) {
  for (const char* prefix : {"KHR_materials_", "KHR_texture_", "EXT_texture_", "TACKPOINT_"})
    if (name.starts_with(prefix)) return true;
  for (const char* known : {"KHR_draco_mesh_compression", "EXT_meshopt_compression", "KHR_mesh_quantization",
                            "KHR_lights_punctual", "KHR_animation_pointer", "KHR_xmp_json_ld", "KHR_node_visibility"})
    if (name == known) return true;
  return false;
}

// The lists of the standard hold objects, whether they are read here or only carried along: a document that cannot be
// written again must not be opened.
Result<void> check_lists(const Json& json) {
  for (const char* key : {"accessors", "animations", "bufferViews", "buffers", "cameras", "images", "materials",
                          "meshes", "nodes", "samplers", "scenes", "skins", "textures"}) {
    if (!json.contains(key)) continue;
    if (!json[key].is_array()) return fail(fmt::format("The file is damaged: \"{}\" is not a list.", key));
    for (std::size_t i = 0; i < json[key].size(); ++i)
      if (!json[key][i].is_object())
        return fail(fmt::format("The file is damaged: number {} of \"{}\" is not an object.", i, key));
  }
  for (const char* key : {"extensionsUsed", "extensionsRequired"}) {
    if (!json.contains(key)) continue;
    const Json& names = json[key];
    if (!names.is_array() || !std::all_of(names.begin(), names.end(), [](const Json& n) { return n.is_string(); }))
      return fail(fmt::format("The file is damaged: \"{}\" is not a list of names.", key));
  }
  if (json.contains("extensions") && !json["extensions"].is_object())
    return fail("The file is damaged: its \"extensions\" are not an object.");
  return {};
}

// Nothing in a node is passed over: what cannot be meant as it stands is refused.
Result<void> check_nodes(const Json& json) {
  for (int i = 0; i < count_of(json, Ref::Node); ++i) {
    const Json& n = json["nodes"][static_cast<std::size_t>(i)];
    const auto bad = [&](const std::string& what) {
      return fail(what, fmt::format("node {}{}", i,
                                    n.contains("name") && n["name"].is_string()
                                        ? fmt::format(" (\"{}\")", printable(n["name"].get<std::string>(), 100))
                                        : std::string{}));
    };
    if (const auto ok = check_node(n); !ok) return bad(ok.error().what);
    for (const auto& [key, kind] : {std::pair{"mesh", Ref::Mesh}, {"skin", Ref::Skin}, {"camera", Ref::Camera}}) {
      const auto number = unsigned_at(n, key, 0);
      if (n.contains(key) && (!number || *number >= static_cast<std::uint64_t>(count_of(json, kind))))
        return bad(fmt::format("It names {} {}, but there are {}.", key, n[key].dump(), count_of(json, kind)));
    }
    if (n.contains("name") && !n["name"].is_string()) return bad("Its name is no text.");
    if (n.contains("extensions") && !n["extensions"].is_object()) return bad("Its extensions are no object.");
    if (const auto list = node_list(json, n, "children"); !list) return bad(list.error().what);
  }
  return {};
}

}  // namespace

Result<void> check_version(const Json& json) {
  const Json asset = json.contains("asset") ? json["asset"] : Json();
  const bool listed_by_name = json.contains("buffers") && json["buffers"].is_object();
  const auto said = [&](const char* key, const char* otherwise) {
    return asset.is_object() && asset.contains(key) && asset[key].is_string() ? asset[key].get<std::string>()
                                                                              : std::string(otherwise);
  };
  const std::string version = said("version", listed_by_name ? "1.0" : "");
  if (version.empty()) return fail("The file does not say which version of glTF it is.");
  if (!version.starts_with("2."))
    return fail(fmt::format("This is glTF version {}; only version 2 can be read.", printable(version, 40)));
  if (const std::string least = said("minVersion", "2.0"); least != "2.0")
    return fail(fmt::format("This file needs glTF {}; 2.0 can be read.", printable(least, 40)));
  return {};
}

Result<void> check_gltf(const Json& json) {
  if (json.contains("extensionsRequired"))
    for (const Json& name : json["extensionsRequired"])
      if (!name.is_string() || !extension_is_harmless(name.get<std::string>()))
        return fail(fmt::format("The file needs the extension {}, which is not known here.", name.dump()));
  if (auto ok = check_lists(json); !ok) return ok;
  return check_nodes(json);
}

Result<ChosenScene> choose_scene(const Json& json, const ImportOptions& options, std::vector<std::string>& notes) {
  ChosenScene result;
  const std::size_t scenes = json.contains("scenes") && json["scenes"].is_array() ? json["scenes"].size() : 0;
  if (scenes == 0) {
    if (options.scene) return fail(fmt::format("There is no scene {}: the file has none.", *options.scene));
    // No scene: everything that has no parent.
    const int nodes = count_of(json, Ref::Node);
    std::set<int> children;
    for (int i = 0; i < nodes; ++i) {
      const auto list = node_list(json, json["nodes"][static_cast<std::size_t>(i)], "children");
      if (!list) return tl::unexpected(list.error());
      children.insert(list->begin(), list->end());
    }
    for (int i = 0; i < nodes; ++i)
      if (!children.contains(i)) result.roots.push_back(i);
    if (result.roots.empty() && nodes > 0) return fail("Every node is below another one: they form a circle.");
    return result;
  }
  if (options.scene && *options.scene < 0) return fail("Scenes are numbered from 0.");
  const auto chosen = options.scene ? std::optional<std::uint64_t>(*options.scene) : unsigned_at(json, "scene", 0);
  if (!chosen || *chosen >= scenes)
    return fail(fmt::format("There is no scene {}: the file has {}.", chosen.value_or(0), scenes));
  result.scene = json["scenes"][*chosen];
  if (!result.scene.is_object()) return fail("The scene is damaged.");
  if (scenes > 1 && !options.scene)
    notes.push_back(
        fmt::format("The file has {} scenes; scene {} was opened and the others are kept.", scenes, *chosen));
  auto roots = node_list(json, result.scene, "nodes");
  if (!roots) return tl::unexpected(roots.error());
  result.roots = std::move(*roots);
  for (std::size_t i = 0; i < scenes; ++i)
    if (i != *chosen) result.others.push_back(json["scenes"][i]);
  return result;
}

}  // namespace tack
