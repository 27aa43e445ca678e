#include "core/files/carried.h"

namespace tack {
namespace {

int size_of(const Json& json, const char* key) {
  return json.contains(key) && json[key].is_array() ? static_cast<int>(json[key].size()) : 0;
}

void shift(Json& object, const char* key, int offset) {
  if (object.is_object() && object.contains(key) && object[key].is_number_integer())
    object[key] = object[key].get<std::int64_t>() + offset;
}

void shift_all(Json& values, int offset) {
  if (values.is_array() || values.is_object())
    for (auto& v : values)
      if (v.is_number_integer()) v = v.get<std::int64_t>() + offset;
}

// Texture references, wherever a material or one of its extensions has them: objects under a key that ends in "exture".
void shift_textures(Json& json, int offset) {
  if (json.is_array())
    for (Json& v : json) shift_textures(v, offset);
  if (!json.is_object()) return;
  for (auto& [key, value] : json.items()) {
    if (key.ends_with("exture") && value.is_object()) shift(value, "index", offset);
    if (key != "extras") shift_textures(value, offset);
  }
}

struct Offsets {
  int buffer_views, accessors, meshes, materials, textures, images, samplers, skins, cameras, lights, nodes, variants;
  std::size_t bytes;
};

void shift_buffer_view(Json& view, const Offsets& o) {
  const auto move = [&](Json& v) {
    // Buffer 0 is the one both documents have; fallback buffers without data follow it and need no place.
    if (v.value("buffer", 0) == 0) v["byteOffset"] = v.value("byteOffset", std::uint64_t{0}) + o.bytes;
  };
  if (!view.is_object()) return;
  if (view.value("buffer", 0) == 0) move(view);
  if (view.contains("extensions") && view["extensions"].contains("EXT_meshopt_compression"))
    move(view["extensions"]["EXT_meshopt_compression"]);
}

void shift_mesh(Json& mesh, const Offsets& o) {
  if (!mesh.is_object() || !mesh.contains("primitives")) return;
  for (Json& p : mesh["primitives"]) {
    if (!p.is_object()) continue;
    if (p.contains("attributes")) shift_all(p["attributes"], o.accessors);
    shift(p, "indices", o.accessors);
    shift(p, "material", o.materials);
    if (p.contains("targets"))
      for (Json& target : p["targets"]) shift_all(target, o.accessors);
    if (!p.contains("extensions")) continue;
    Json& e = p["extensions"];
    if (e.contains("KHR_draco_mesh_compression")) shift(e["KHR_draco_mesh_compression"], "bufferView", o.buffer_views);
    if (e.contains("KHR_materials_variants") && e["KHR_materials_variants"].contains("mappings"))
      for (Json& m : e["KHR_materials_variants"]["mappings"]) {
        shift(m, "material", o.materials);
        if (m.contains("variants")) shift_all(m["variants"], o.variants);
      }
  }
  if (mesh.contains("extensions") && mesh["extensions"].contains("TACKPOINT_mesh") &&
      mesh["extensions"]["TACKPOINT_mesh"].contains("positions"))
    shift_all(mesh["extensions"]["TACKPOINT_mesh"]["positions"], o.buffer_views);
}

void shift_document(Json& json, const Offsets& o) {
  const auto each = [&](const char* key, auto&& change) {
    if (json.contains(key) && json[key].is_array())
      for (Json& v : json[key])
        if (v.is_object()) change(v);
  };
  each("bufferViews", [&](Json& v) { shift_buffer_view(v, o); });
  each("accessors", [&](Json& v) {
    shift(v, "bufferView", o.buffer_views);
    if (!v.contains("sparse")) return;
    for (const char* key : {"indices", "values"})
      if (v["sparse"].contains(key)) shift(v["sparse"][key], "bufferView", o.buffer_views);
  });
  each("meshes", [&](Json& v) { shift_mesh(v, o); });
  each("materials", [&](Json& v) { shift_textures(v, o.textures); });
  each("textures", [&](Json& v) {
    shift(v, "source", o.images);
    shift(v, "sampler", o.samplers);
    if (v.contains("extensions"))
      for (Json& e : v["extensions"]) shift(e, "source", o.images);
  });
  each("images", [&](Json& v) { shift(v, "bufferView", o.buffer_views); });
  each("skins", [&](Json& v) {
    shift(v, "inverseBindMatrices", o.accessors);
    shift(v, "skeleton", o.nodes);
    if (v.contains("joints")) shift_all(v["joints"], o.nodes);
  });
  each("animations", [&](Json& v) {
    if (v.contains("samplers"))
      for (Json& s : v["samplers"]) {
        shift(s, "input", o.accessors);
        shift(s, "output", o.accessors);
      }
    if (v.contains("channels"))
      for (Json& c : v["channels"])
        if (c.contains("target")) shift(c["target"], "node", o.nodes);
  });
}

// Arrays inside document extensions that numbers elsewhere refer to.
int extension_array_size(const Json& json, const char* extension, const char* key) {
  if (!json.contains("extensions") || !json["extensions"].contains(extension)) return 0;
  return size_of(json["extensions"][extension], key);
}

void append_arrays(Json& into, const Json& from) {
  for (const auto& [key, value] : from.items()) {
    if (key == "buffers" || key == "asset") continue;
    if (!into.contains(key)) {
      into[key] = value;
    } else if (value.is_array() && into[key].is_array()) {
      for (const Json& v : value)
        if (!v.is_string() || std::find(into[key].begin(), into[key].end(), v) == into[key].end())
          into[key].push_back(v);
    } else if (key == "extensions" && value.is_object()) {
      for (const auto& [name, extension] : value.items()) {
        if (into[key].contains(name) && extension.is_object())
          append_arrays(into[key][name], extension);
        else
          into[key][name] = extension;
      }
    }
  }
}

}  // namespace

MergedDocuments merge(const CarriedDocument& first, const CarriedDocument& second) {
  const Json& a = first.json;
  const std::size_t bytes = (first.binary->size() + 7) / 8 * 8;
  const Offsets o{size_of(a, "bufferViews"),
                  size_of(a, "accessors"),
                  size_of(a, "meshes"),
                  size_of(a, "materials"),
                  size_of(a, "textures"),
                  size_of(a, "images"),
                  size_of(a, "samplers"),
                  size_of(a, "skins"),
                  size_of(a, "cameras"),
                  extension_array_size(a, "KHR_lights_punctual", "lights"),
                  first.node_limit,
                  extension_array_size(a, "KHR_materials_variants", "variants"),
                  bytes};
  auto document = std::make_shared<CarriedDocument>(first);
  Json shifted = second.json;
  shift_document(shifted, o);
  append_arrays(document->json, shifted);
  auto binary = std::make_shared<Bytes>(*first.binary);
  binary->resize(bytes, 0);
  binary->insert(binary->end(), second.binary->begin(), second.binary->end());
  document->binary = std::move(binary);
  MergedDocuments merged{nullptr, o.nodes, o.meshes, o.materials, o.cameras, o.skins, o.lights};
  for (const auto& [number, node] : second.other_nodes) {
    Json copy = shifted_content(node, merged);
    shift(copy, "mesh", o.meshes);
    if (copy.contains("children")) shift_all(copy["children"], o.nodes);
    document->other_nodes[number + o.nodes] = std::move(copy);
  }
  for (Json scene : second.other_scenes) {
    if (scene.contains("nodes")) shift_all(scene["nodes"], o.nodes);
    document->other_scenes.push_back(std::move(scene));
  }
  document->node_limit = first.node_limit + second.node_limit;
  merged.document = std::move(document);
  return merged;
}

Json shifted_content(Json content, const MergedDocuments& merged) {
  shift(content, "camera", merged.camera_offset);
  shift(content, "skin", merged.skin_offset);
  if (content.is_object() && content.contains("extensions") && content["extensions"].contains("KHR_lights_punctual"))
    shift(content["extensions"]["KHR_lights_punctual"], "light", merged.light_offset);
  return content;
}

}  // namespace tack
