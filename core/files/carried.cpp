#include "core/files/carried.h"

#include <fmt/format.h>

#include "core/printable.h"

namespace tack {
namespace {

// The lists in extensions of the whole document that go behind each other like those of the document itself.
constexpr std::pair<const char*, const char*> kJoined[] = {{"KHR_lights_punctual", "lights"},
                                                           {"KHR_materials_variants", "variants"},
                                                           {"KHR_xmp_json_ld", "packets"},
                                                           {"KHR_implicit_shapes", "shapes"},
                                                           {"KHR_physics_rigid_bodies", "physicsMaterials"},
                                                           {"KHR_physics_rigid_bodies", "collisionFilters"},
                                                           {"KHR_physics_rigid_bodies", "physicsJoints"},
                                                           {"EXT_lights_image_based", "lights"}};

constexpr Ref kAll[] = {Ref::Mesh,       Ref::Accessor,     Ref::BufferView, Ref::Material,        Ref::Texture,
                        Ref::Image,      Ref::Sampler,      Ref::Skin,       Ref::Camera,          Ref::Light,
                        Ref::Variant,    Ref::Packet,       Ref::Shape,      Ref::PhysicsMaterial, Ref::CollisionFilter,
                        Ref::ImageLight, Ref::PhysicsJoint, Ref::Animation};

void append_list(Json& into, const char* key, const Json& from) {
  if (!from.contains(key) || !from[key].is_array()) return;
  if (!into.contains(key) || !into[key].is_array()) into[key] = Json::array();
  for (const Json& v : from[key]) into[key].push_back(v);
}

void append_names(Json& into, const char* key, const Json& from) {
  if (!from.contains(key) || !from[key].is_array()) return;
  if (!into.contains(key) || !into[key].is_array()) into[key] = Json::array();
  for (const Json& v : from[key])
    if (std::find(into[key].begin(), into[key].end(), v) == into[key].end()) into[key].push_back(v);
}

bool is_joined(const std::string& extension) {
  return std::any_of(std::begin(kJoined), std::end(kJoined), [&](const auto& j) { return extension == j.first; });
}

void append_extensions(Json& into, const Json& from, std::vector<std::string>& notes) {
  if (!from.contains("extensions")) return;
  for (const auto& [name, extension] : from["extensions"].items()) {
    Json& all = into["extensions"];
    if (!all.is_object()) all = Json::object();
    if (!all.contains(name)) {
      all[name] = extension;
    } else if (is_joined(name)) {
      for (const auto& [owner, list] : kJoined)
        if (name == owner) append_list(all[name], list, extension);
    } else if (all[name] != extension) {
      notes.push_back(
          fmt::format("Both documents have {} as a whole; what was brought in lost its own.", printable(name)));
    }
  }
}

// Who made it and under which terms: both are said. Other members of the asset stay those of the first.
void append_asset(Json& into, const Json& from) {
  if (!from.contains("asset") || !from["asset"].is_object()) return;
  const Json& theirs = from["asset"];
  if (!into.contains("asset") || !into["asset"].is_object()) into["asset"] = Json::object();
  Json& asset = into["asset"];
  if (theirs.contains("copyright") && theirs["copyright"].is_string()) {
    const auto text = theirs["copyright"].get<std::string>();
    const std::string ours =
        asset.contains("copyright") && asset["copyright"].is_string() ? asset["copyright"].get<std::string>() : "";
    if (ours.find(text) == std::string::npos) asset["copyright"] = ours.empty() ? text : ours + "; " + text;
  }
  if (theirs.contains("extras") && !asset.contains("extras")) asset["extras"] = theirs["extras"];
}

}  // namespace

int MergedDocuments::shifted(Ref kind, int number) const {
  // Buffer 0 is the one that both have.
  if (kind == Ref::Buffer && number == 0) return 0;
  const auto found = offset.find(kind);
  return found == offset.end() ? number : number + found->second;
}

Json shifted_content(Json content, const MergedDocuments& merged) {
  each_reference_of_node(content, [&](Ref kind, Json& value) {
    if (value.is_number_integer()) value = merged.shifted(kind, value.get<int>());
  });
  return content;
}

MergedDocuments merge(const CarriedDocument& first, const CarriedDocument& second,
                      const std::set<std::string>& left_out) {
  MergedDocuments merged;
  for (const Ref kind : kAll) merged.offset[kind] = count_of(first.json, kind);
  merged.offset[Ref::Node] = first.node_limit;
  merged.offset[Ref::Buffer] = std::max(count_of(first.json, Ref::Buffer), 1) - 1;
  const std::size_t bytes = (first.binary.size() + 7) / 8 * 8;

  Json theirs = second.json;
  if (!left_out.empty()) {
    leave_out(theirs, left_out);
    for (const char* list : {"extensionsUsed", "extensionsRequired"})
      if (theirs.contains(list))
        std::erase_if(theirs[list].get_ref<Json::array_t&>(),
                      [&](const Json& name) { return name.is_string() && left_out.contains(name.get<std::string>()); });
  }
  const auto shift = [&](Ref kind, Json& value) {
    if (value.is_string())
      value = pointer_with(value.get<std::string>(), [&](Ref k, int n) { return merged.shifted(k, n); });
    else
      value = merged.shifted(kind, value.get<int>());
  };
  each_reference(theirs, shift);
  if (theirs.contains("bufferViews"))
    for (Json& view : theirs["bufferViews"]) {
      const auto move = [&](Json& v) {
        if (v.is_object() && v.value("buffer", 0) == 0)
          v["byteOffset"] = v.value("byteOffset", std::uint64_t{0}) + bytes;
      };
      move(view);
      if (view.contains("extensions") && view["extensions"].contains("EXT_meshopt_compression"))
        move(view["extensions"]["EXT_meshopt_compression"]);
    }

  auto document = std::make_shared<CarriedDocument>(first);
  Json& ours = document->json;
  for (const auto& [key, value] : theirs.items()) {
    if (key == "buffers") {
      // The first is the one with the data; those behind it have none, and views count on their being there.
      if (!ours.contains(key) || ours[key].empty()) ours[key] = Json::array({Json{{"byteLength", 0}}});
      for (std::size_t i = 1; i < value.size(); ++i) ours[key].push_back(value[i]);
    } else if (key == "asset") {
      append_asset(ours, theirs);
    } else if (key == "extensions") {
      append_extensions(ours, theirs, merged.notes);
    } else if (key == "extensionsUsed" || key == "extensionsRequired") {
      append_names(ours, key.c_str(), theirs);
    } else if (value.is_array()) {
      append_list(ours, key.c_str(), theirs);
    } else if (key == "TACKPOINT_scene") {
      Json wrapped{{"scenes", Json::array({value})}};
      each_reference(wrapped, shift);
      if (!ours.contains(key)) ours[key] = wrapped["scenes"][0];
    } else if (!ours.contains(key)) {
      ours[key] = value;
    }
  }
  if (first.binary.empty()) {
    document->binary = second.binary;
  } else if (!second.binary.empty()) {
    Bytes binary(first.binary.view().begin(), first.binary.view().end());
    binary.resize(bytes, 0);
    binary.insert(binary.end(), second.binary.view().begin(), second.binary.view().end());
    document->binary = Blob(std::move(binary));
  }
  for (const auto& [number, node] : second.other_nodes) {
    Json copy = node;
    if (!left_out.empty()) leave_out(copy, left_out);
    document->other_nodes[merged.shifted(Ref::Node, number)] = shifted_content(std::move(copy), merged);
  }
  Json scenes{{"scenes", second.other_scenes}};
  each_reference(scenes, shift);
  for (Json& scene : scenes["scenes"]) document->other_scenes.push_back(std::move(scene));
  document->node_limit = first.node_limit + second.node_limit;
  merged.document = std::move(document);
  return merged;
}

}  // namespace tack
