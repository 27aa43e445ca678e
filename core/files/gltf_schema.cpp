#include "core/files/gltf_schema.h"

#include <array>
#include <string_view>

namespace tack {
namespace {

struct RefPlace {
  std::string_view path;  // members and elements from the document, or from a node, down; * is any of them
  Ref kind;
};

// clang-format off
constexpr RefPlace kInDocument[] = {
    {"accessors/*/bufferView", Ref::BufferView},
    {"accessors/*/sparse/indices/bufferView", Ref::BufferView},
    {"accessors/*/sparse/values/bufferView", Ref::BufferView},
    {"animations/*/samplers/*/input", Ref::Accessor},
    {"animations/*/samplers/*/output", Ref::Accessor},
    {"animations/*/channels/*/target/node", Ref::Node},
    {"animations/*/channels/*/target/extensions/KHR_animation_pointer/pointer", Ref::Pointer},
    {"bufferViews/*/buffer", Ref::Buffer},
    {"bufferViews/*/extensions/EXT_meshopt_compression/buffer", Ref::Buffer},
    {"images/*/bufferView", Ref::BufferView},
    {"meshes/*/primitives/*/attributes/*", Ref::Accessor},
    {"meshes/*/primitives/*/indices", Ref::Accessor},
    {"meshes/*/primitives/*/material", Ref::Material},
    {"meshes/*/primitives/*/targets/*/*", Ref::Accessor},
    {"meshes/*/primitives/*/extensions/KHR_draco_mesh_compression/bufferView", Ref::BufferView},
    {"meshes/*/primitives/*/extensions/KHR_materials_variants/mappings/*/material", Ref::Material},
    {"meshes/*/primitives/*/extensions/KHR_materials_variants/mappings/*/variants/*", Ref::Variant},
    {"meshes/*/extensions/TACKPOINT_mesh/positions/*", Ref::BufferView},
    {"skins/*/inverseBindMatrices", Ref::Accessor},
    {"skins/*/skeleton", Ref::Node},
    {"skins/*/joints/*", Ref::Node},
    {"textures/*/source", Ref::Image},
    {"textures/*/sampler", Ref::Sampler},
    {"textures/*/extensions/*/source", Ref::Image},
    {"materials/*/extensions/MSFT_lod/ids/*", Ref::Material},
    {"scenes/*/nodes/*", Ref::Node},
    {"scenes/*/extensions/EXT_lights_image_based/light", Ref::ImageLight},
    {"extensions/EXT_lights_image_based/lights/*/specularImages/*/*", Ref::Image},
    {"extensions/KHR_physics_rigid_bodies/physicsJoints/*/node", Ref::Node},
    {"extensions/VRM/humanoid/humanBones/*/node", Ref::Node},
    {"extensions/VRM/meta/texture", Ref::Texture},
    {"extensions/VRM/firstPerson/firstPersonBone", Ref::Node},
    {"extensions/VRM/firstPerson/meshAnnotations/*/mesh", Ref::Mesh},
    {"extensions/VRM/blendShapeMaster/blendShapeGroups/*/binds/*/mesh", Ref::Mesh},
    {"extensions/VRM/secondaryAnimation/boneGroups/*/bones/*", Ref::Node},
    {"extensions/VRM/secondaryAnimation/boneGroups/*/center", Ref::Node},
    {"extensions/VRM/secondaryAnimation/colliderGroups/*/node", Ref::Node},
    {"extensions/VRMC_vrm/meta/thumbnailImage", Ref::Image},
    {"extensions/VRMC_vrm/humanoid/humanBones/*/node", Ref::Node},
    {"extensions/VRMC_vrm/firstPerson/meshAnnotations/*/node", Ref::Node},
    {"extensions/VRMC_vrm/expressions/*/*/morphTargetBinds/*/node", Ref::Node},
    {"extensions/VRMC_vrm/expressions/*/*/materialColorBinds/*/material", Ref::Material},
    {"extensions/VRMC_vrm/expressions/*/*/textureTransformBinds/*/material", Ref::Material},
    {"extensions/VRMC_springBone/colliders/*/node", Ref::Node},
    {"extensions/VRMC_springBone/springs/*/joints/*/node", Ref::Node},
    {"extensions/VRMC_springBone/springs/*/center", Ref::Node},
    {"extensions/VRMC_vrm_animation/humanoid/humanBones/*/node", Ref::Node},
    {"extensions/VRMC_vrm_animation/expressions/*/*/node", Ref::Node},
    {"extensions/VRMC_vrm_animation/lookAt/node", Ref::Node},
};
constexpr RefPlace kInNode[] = {
    {"mesh", Ref::Mesh},
    {"camera", Ref::Camera},
    {"skin", Ref::Skin},
    {"children/*", Ref::Node},
    {"extensions/KHR_lights_punctual/light", Ref::Light},
    {"extensions/EXT_mesh_gpu_instancing/attributes/*", Ref::Accessor},
    {"extensions/MSFT_lod/ids/*", Ref::Node},
    {"extensions/VRMC_node_constraint/constraint/*/source", Ref::Node},
    {"extensions/KHR_physics_rigid_bodies/collider/geometry/node", Ref::Node},
    {"extensions/KHR_physics_rigid_bodies/collider/geometry/mesh", Ref::Mesh},
    {"extensions/KHR_physics_rigid_bodies/collider/geometry/shape", Ref::Shape},
    {"extensions/KHR_physics_rigid_bodies/collider/physicsMaterial", Ref::PhysicsMaterial},
    {"extensions/KHR_physics_rigid_bodies/collider/collisionFilter", Ref::CollisionFilter},
    {"extensions/KHR_physics_rigid_bodies/trigger/geometry/node", Ref::Node},
    {"extensions/KHR_physics_rigid_bodies/trigger/geometry/mesh", Ref::Mesh},
    {"extensions/KHR_physics_rigid_bodies/trigger/geometry/shape", Ref::Shape},
    {"extensions/KHR_physics_rigid_bodies/trigger/collisionFilter", Ref::CollisionFilter},
    {"extensions/KHR_physics_rigid_bodies/trigger/nodes/*", Ref::Node},
    {"extensions/KHR_physics_rigid_bodies/joint/connectedNode", Ref::Node},
    {"extensions/KHR_physics_rigid_bodies/joint/joint", Ref::PhysicsJoint},
};
// Every object may have these.
constexpr std::string_view kPacketOwner = "KHR_xmp_json_ld";

// Extensions without numbers that name something, and those whose numbers stand above.
constexpr std::string_view kKnown[] = {
    "KHR_draco_mesh_compression", "EXT_meshopt_compression", "KHR_mesh_quantization", "KHR_lights_punctual",
    "KHR_animation_pointer", "KHR_xmp_json_ld", "KHR_node_visibility", "KHR_node_selectability",
    "KHR_node_hoverability", "KHR_implicit_shapes", "KHR_physics_rigid_bodies", "EXT_mesh_gpu_instancing",
    "EXT_lights_image_based", "MSFT_lod", "VRM", "VRMC_vrm", "VRMC_springBone", "VRMC_node_constraint",
    "VRMC_materials_mtoon", "VRMC_vrm_animation", "EXT_texture_webp", "EXT_texture_avif", "MSFT_texture_dds",
    "MSFT_packing_normalRoughnessMetallic", "MSFT_packing_occlusionRoughnessMetallic"};
constexpr std::string_view kKnownPrefixes[] = {"KHR_materials_", "KHR_texture_", "TACKPOINT_"};
// clang-format on

void walk(Json& at, std::string_view path, Ref kind, const OnReference& f) {
  if (path.empty()) {
    if (at.is_number_integer() || (kind == Ref::Pointer && at.is_string())) f(kind, at);
    return;
  }
  const std::size_t slash = path.find('/');
  const std::string_view step = path.substr(0, slash), rest = slash == path.npos ? "" : path.substr(slash + 1);
  if (step == "*") {
    if (at.is_array() || at.is_object())
      for (Json& v : at) walk(v, rest, kind, f);
  } else if (at.is_object()) {
    if (const auto found = at.find(step); found != at.end()) walk(*found, rest, kind, f);
  }
}

// Texture references, wherever a material or one of its extensions has them: objects under a key that ends in "exture".
void walk_textures(Json& json, const OnReference& f) {
  if (json.is_array())
    for (Json& v : json) walk_textures(v, f);
  if (!json.is_object()) return;
  for (auto& [key, value] : json.items()) {
    if (key.ends_with("exture") && value.is_object()) walk(value, "index", Ref::Texture, f);
    if (key != "extras") walk_textures(value, f);
  }
}

void walk_packets(Json& json, const OnReference& f) {
  if (json.is_object()) walk(json, "extensions/KHR_xmp_json_ld/packet", Ref::Packet, f);
}

bool has_integer(const Json& json) {
  if (json.is_number_integer()) return true;
  if (json.is_array() || json.is_object())
    for (const auto& [key, value] : json.items())
      if (key != "extras" && has_integer(value)) return true;
  return false;
}

// Calls f(owner, name, extension) for every extension below, but not for those inside one.
void each_extension(const Json& json, const std::function<void(const std::string&, const Json&)>& f) {
  if (!json.is_array() && !json.is_object()) return;
  for (const auto& [key, value] : json.items()) {
    if (key == "extras" && json.is_object()) continue;
    if (key == "extensions" && json.is_object() && value.is_object()) {
      for (const auto& [name, extension] : value.items()) f(name, extension);
      continue;
    }
    each_extension(value, f);
  }
}

struct ListOf {
  Ref kind;
  Counted counted;
};
constexpr ListOf kLists[] = {{Ref::Node, {nullptr, "nodes"}},
                             {Ref::Mesh, {nullptr, "meshes"}},
                             {Ref::Accessor, {nullptr, "accessors"}},
                             {Ref::BufferView, {nullptr, "bufferViews"}},
                             {Ref::Buffer, {nullptr, "buffers"}},
                             {Ref::Material, {nullptr, "materials"}},
                             {Ref::Texture, {nullptr, "textures"}},
                             {Ref::Image, {nullptr, "images"}},
                             {Ref::Sampler, {nullptr, "samplers"}},
                             {Ref::Skin, {nullptr, "skins"}},
                             {Ref::Camera, {nullptr, "cameras"}},
                             {Ref::Animation, {nullptr, "animations"}},
                             {Ref::Light, {"KHR_lights_punctual", "lights"}},
                             {Ref::Variant, {"KHR_materials_variants", "variants"}},
                             {Ref::Packet, {"KHR_xmp_json_ld", "packets"}},
                             {Ref::Shape, {"KHR_implicit_shapes", "shapes"}},
                             {Ref::PhysicsMaterial, {"KHR_physics_rigid_bodies", "physicsMaterials"}},
                             {Ref::CollisionFilter, {"KHR_physics_rigid_bodies", "collisionFilters"}},
                             {Ref::PhysicsJoint, {"KHR_physics_rigid_bodies", "physicsJoints"}},
                             {Ref::ImageLight, {"EXT_lights_image_based", "lights"}}};

// A pointer as the list it begins with, the number in that, and the rest; nullopt when it is of no kind known.
struct PointerParts {
  ListOf list;
  std::size_t number_at, number_end;
  int number;
};
std::optional<PointerParts> parts_of_pointer(const std::string& pointer) {
  for (const ListOf& list : kLists) {
    const std::string start = list.counted.extension
                                  ? std::string("/extensions/") + list.counted.extension + "/" + list.counted.list + "/"
                                  : std::string("/") + list.counted.list + "/";
    if (!pointer.starts_with(start)) continue;
    std::size_t end = start.size();
    while (end < pointer.size() && pointer[end] >= '0' && pointer[end] <= '9') ++end;
    if (end == start.size() || end - start.size() > 9 || (end < pointer.size() && pointer[end] != '/'))
      return std::nullopt;
    return PointerParts{list, start.size(), end, std::stoi(pointer.substr(start.size(), end - start.size()))};
  }
  return std::nullopt;
}

}  // namespace

void each_reference_of_node(Json& node, const OnReference& f) {
  for (const RefPlace& place : kInNode) walk(node, place.path, place.kind, f);
  walk_packets(node, f);
}

void each_reference(Json& document, const OnReference& f) {
  for (const RefPlace& place : kInDocument) walk(document, place.path, place.kind, f);
  if (document.contains("materials")) walk_textures(document["materials"], f);
  if (document.contains("nodes") && document["nodes"].is_array())
    for (Json& node : document["nodes"]) each_reference_of_node(node, f);
  for (const char* list : {"animations", "images", "materials", "meshes", "scenes"})
    if (document.contains(list) && document[list].is_array())
      for (Json& owner : document[list]) walk_packets(owner, f);
  if (document.contains("asset")) walk_packets(document["asset"], f);
}

Counted counted_in(Ref kind) {
  for (const ListOf& list : kLists)
    if (list.kind == kind) return list.counted;
  return {nullptr, ""};
}

int count_of(const Json& document, Ref kind) {
  const auto [extension, list] = counted_in(kind);
  const Json* in = &document;
  if (extension) {
    if (!document.contains("extensions") || !document["extensions"].is_object() ||
        !document["extensions"].contains(extension))
      return 0;
    in = &document["extensions"][extension];
  }
  return in->is_object() && in->contains(list) && (*in)[list].is_array() ? static_cast<int>((*in)[list].size()) : 0;
}

int node_of_pointer(const std::string& pointer) {
  const auto parts = parts_of_pointer(pointer);
  return parts && parts->list.kind == Ref::Node ? parts->number : -1;
}

std::string pointer_with(const std::string& pointer, const std::function<int(Ref, int)>& change) {
  const auto parts = parts_of_pointer(pointer);
  if (!parts) return pointer;
  return pointer.substr(0, parts->number_at) + std::to_string(change(parts->list.kind, parts->number)) +
         pointer.substr(parts->number_end);
}

bool numbers_are_known(const std::string& name) {
  for (const std::string_view known : kKnown)
    if (name == known) return true;
  for (const std::string_view prefix : kKnownPrefixes)
    if (name.starts_with(prefix)) return true;
  return false;
}

std::set<std::string> unknown_with_numbers_in_node(const Json& node) {
  std::set<std::string> names;
  each_extension(node, [&](const std::string& name, const Json& extension) {
    if (!numbers_are_known(name) && has_integer(extension)) names.insert(name);
  });
  return names;
}

std::set<std::string> unknown_with_numbers(const Json& document) { return unknown_with_numbers_in_node(document); }

void leave_out(Json& json, const std::set<std::string>& names) {
  if (!json.is_array() && !json.is_object()) return;
  if (json.is_object() && json.contains("extensions") && json["extensions"].is_object()) {
    for (const std::string& name : names) json["extensions"].erase(name);
    if (json["extensions"].empty()) json.erase("extensions");
  }
  for (auto& [key, value] : json.items())
    if (key != "extras") leave_out(value, names);
}

}  // namespace tack
