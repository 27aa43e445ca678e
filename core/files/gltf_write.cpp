// Writing the document; declared in document.h, laid out in docs/format.md.
#include <fmt/format.h>

#include <map>

#include "core/files/document.h"
#include "core/files/glb.h"
#include "core/files/gltf_colours.h"
#include "core/files/gltf_node.h"
#include "core/files/gltf_write_mesh.h"
#include "core/files/part_extension.h"
#include "core/files/plane_json.h"
#include "core/files/tie_json.h"

namespace tack {
namespace {

constexpr const char* kGenerator = "Tack Point";

class DocumentWriter {
 public:
  DocumentWriter(const Scene& scene, const DocumentSettings& settings) : scene_(scene), settings_(settings) {
    if (scene.carried()) {
      json_ = scene.carried()->json;
      binary_ = *scene.carried()->binary;
    }
    for (const char* key : {"meshes", "accessors", "bufferViews", "materials"})
      if (!json_.contains(key)) json_[key] = Json::array();
    write_changes(json_, scene.colours());
  }

  Result<Bytes> write() {
    number_nodes();
    write_nodes();
    patch_references();
    colours_ = meshes_.list_of_colours();
    return write_glb(assemble(), binary_);
  }

 private:
  struct Numbers {
    int head = -1, inner = -1, moved = -1, geometry = -1;
    int body() const { return moved >= 0 ? moved : inner >= 0 ? inner : head; }
  };

  static bool is_wrapped(const Part& part) {
    if (!part.carried || !part.carried->animated) return false;
    const Affine rest = node_matrix(part.carried->rest), now = part.local;
    double off = distance(rest.translation, now.translation) / (1 + length(rest.translation));
    for (int i = 0; i < 3; ++i)
      off = std::max(off,
                     distance(rest.linear.column[i], now.linear.column[i]) / (1e-12 + length(rest.linear.column[i])));
    return off > 1e-12;
  }

  // The wrapper's matrix: what stands above an animated node so that it comes to rest where it was placed.
  static Affine wrapper_of(const Part& part) {
    const auto back = inverse(node_matrix(part.carried->rest));
    return back ? part.local * *back : Affine{};
  }

  static bool has_content(const Part& part) {
    return part.mesh || (part.carried && part.carried->content.is_object() && !part.carried->content.empty());
  }

  HeadNodes head_of(const Part& part) const {
    if (!is_wrapped(part)) return head_nodes(part.local, part.placement);
    const Affine wrapper = wrapper_of(part);
    const auto placement = placement_from(wrapper);
    return head_nodes(wrapper, placement ? *placement : Placement{});
  }

  // Every node's number is settled before any is written, because animations, skins and children refer to them.
  void number_nodes() {
    int next = 1;  // 0 is the root
    for (const PartId id : scene_.in_tree_order()) {
      const Part& part = scene_.part(id);
      Numbers n;
      n.head = next++;
      if (head_of(part).inner) n.inner = next++;
      if (is_wrapped(part)) n.moved = next++;
      if (is_written_in_metres(part) && has_content(part)) n.geometry = next++;
      numbers_[id] = n;
      // Copies of a part carry the same node; what refers to it means the first.
      if (part.carried && part.carried->original >= 0) new_number_.try_emplace(part.carried->original, n.body());
    }
    if (!scene_.carried()) return;
    for (const auto& [old, node] : scene_.carried()->other_nodes) {
      other_number_[old] = next++;
      new_number_.try_emplace(old, other_number_[old]);
    }
  }

  void write_nodes() {
    Json root{{"name", "Millimetres, Z up"}};
    root["rotation"] = Json::array({-kHalfRoot, 0.0, 0.0, kHalfRoot});
    root["scale"] = Json::array({0.001, 0.001, 0.001});
    scene_roots_.push_back(0);
    Json children = Json::array();
    for (const PartId id : scene_.roots()) place_child(id, children);
    if (!children.empty()) root["children"] = children;
    nodes_.push_back(std::move(root));
    for (const PartId id : scene_.in_tree_order()) write_part(id);
    if (!scene_.carried()) return;
    for (const auto& [old, node] : scene_.carried()->other_nodes) {
      Json copy = node;
      if (copy.contains("children"))
        for (Json& c : copy["children"])
          if (c.is_number_integer() && other_number_.contains(c.get<int>())) c = other_number_.at(c.get<int>());
      nodes_.push_back(std::move(copy));
    }
  }

  // Skinned meshes stand at the scene's root (glTF ignores their own place), everything else below its parent.
  void place_child(PartId id, Json& children) {
    if (is_skinned(scene_.part(id)))
      scene_roots_.push_back(numbers_.at(id).head);
    else
      children.push_back(numbers_.at(id).head);
  }

  static bool is_skinned(const Part& part) {
    return part.carried && part.carried->content.is_object() && part.carried->content.contains("skin");
  }

  static void add_members(Json& node, const Json& members) {
    if (!members.is_object()) return;
    for (const auto& [key, value] : members.items()) {
      if (key == "extensions" && node.contains("extensions")) {
        for (const auto& [name, extension] : value.items()) node["extensions"][name] = extension;
      } else {
        node[key] = value;
      }
    }
  }

  void write_part(PartId id) {
    const Part& part = scene_.part(id);
    const Numbers& n = numbers_.at(id);
    const bool animated = part.carried && part.carried->animated;
    HeadNodes heads = head_of(part);
    Json head{{"name", part.name}};
    Json extension = write_part_extension(part);
    if (part.geometry_in_metres && !is_written_in_metres(part)) extension.erase("metres");
    if (animated) extension["animated"] = true;
    if (is_skinned(part) && part.parent != kNoPart) extension["under"] = numbers_.at(part.parent).head;
    head["extensions"] = {{"TACKPOINT_part", extension}};
    add_members(head, animated && n.moved < 0 ? part.carried->rest : heads.head);

    Json children = Json::array();
    for (const PartId child : part.children) place_child(child, children);
    if (n.geometry >= 0) children.push_back(n.geometry);

    // The chain from the head down; content and children go onto the last of it.
    Json inner, moved;
    Json* body = &head;
    if (n.inner >= 0) {
      head["children"] = Json::array({n.inner});
      inner = *heads.inner;
      inner["extensions"] = {{"TACKPOINT_part", {{"role", "skew"}}}};
      body = &inner;
    }
    if (n.moved >= 0) {
      (*body)["children"] = Json::array({n.moved});
      moved = part.carried->rest;
      moved["name"] = part.name;
      moved["extensions"] = {{"TACKPOINT_part", {{"role", "animated"}}}};
      body = &moved;
    }
    if (!children.empty()) (*body)["children"] = children;
    if (part.carried) add_members(head, part.carried->head);
    if (n.geometry < 0) write_content(*body, part);
    nodes_.push_back(std::move(head));
    if (n.inner >= 0) nodes_.push_back(std::move(inner));
    if (n.moved >= 0) nodes_.push_back(std::move(moved));
    if (n.geometry >= 0) {
      Json geometry{{"extensions", {{"TACKPOINT_part", {{"role", "geometry"}}}}}};
      geometry["rotation"] = Json::array({kHalfRoot, 0.0, 0.0, kHalfRoot});
      geometry["scale"] = Json::array({1000.0, 1000.0, 1000.0});
      write_content(geometry, part);
      nodes_.push_back(std::move(geometry));
    }
  }

  void write_content(Json& node, const Part& part) {
    if (part.mesh) node["mesh"] = meshes_.number_of(part);
    if (part.carried) add_members(node, part.carried->content);
  }

  void renumber(Json& owner, const char* key) {
    if (!owner.is_object() || !owner.contains(key) || !owner[key].is_number_integer()) return;
    const auto at = new_number_.find(owner[key].get<int>());
    if (at != new_number_.end())
      owner[key] = at->second;
    else
      owner.erase(key);
  }

  // Animations and skins name nodes by number: by their new ones from here on. Channels and joints whose part was
  // deleted go with it.
  void patch_references() {
    if (json_.contains("animations")) {
      for (Json& animation : json_["animations"]) {
        if (!animation.is_object() || !animation.contains("channels")) continue;
        Json kept = Json::array();
        for (Json& channel : animation["channels"]) {
          const bool had = channel.is_object() && channel.contains("target") && channel["target"].contains("node");
          if (had) renumber(channel["target"], "node");
          if (!had || channel["target"].contains("node")) kept.push_back(channel);
        }
        animation["channels"] = kept;
      }
      auto& animations = json_["animations"].get_ref<Json::array_t&>();
      std::erase_if(animations,
                    [](const Json& a) { return a.is_object() && a.contains("channels") && a["channels"].empty(); });
      if (animations.empty()) json_.erase("animations");
    }
    if (json_.contains("skins"))
      for (Json& skin : json_["skins"]) {
        renumber(skin, "skeleton");
        if (skin.is_object() && skin.contains("joints"))
          for (Json& joint : skin["joints"])
            if (joint.is_number_integer() && new_number_.contains(joint.get<int>()))
              joint = new_number_.at(joint.get<int>());
      }
  }

  Json scenes() const {
    Json layout{{"version", "1.0"}, {"root", 0}, {"unit", settings_.unit}};
    if (settings_.view) layout["view"] = *settings_.view;
    if (!scene_.ties().empty()) layout["ties"] = ties_to_json(scene_);
    write_planes(layout, scene_);
    // An empty list says that none of the materials is on it.
    if (!json_["materials"].empty()) layout["colours"] = colours_;
    Json scene = json_.contains("TACKPOINT_scene") ? json_["TACKPOINT_scene"] : Json::object();
    if (scene.contains("extensions") && scene["extensions"].contains("TACKPOINT_layout"))
      for (const auto& [key, value] : scene["extensions"]["TACKPOINT_layout"].items())
        if (!layout.contains(key)) layout[key] = value;
    scene["extensions"]["TACKPOINT_layout"] = layout;
    scene["nodes"] = scene_roots_;
    Json all = Json::array({scene});
    if (scene_.carried())
      for (Json other : scene_.carried()->other_scenes) {
        if (other.contains("nodes"))
          for (Json& n : other["nodes"])
            if (n.is_number_integer() && other_number_.contains(n.get<int>())) n = other_number_.at(n.get<int>());
        all.push_back(std::move(other));
      }
    return all;
  }

  void use_extension(const char* name) {
    Json& used = json_["extensionsUsed"];
    if (!used.is_array()) used = Json::array();
    if (std::find(used.begin(), used.end(), name) == used.end()) used.push_back(name);
  }

  // The document in one fixed order of members, so that reading and writing again gives the same bytes.
  Json assemble() {
    use_extension("TACKPOINT_layout");
    if (scene_.size() > 0) use_extension("TACKPOINT_part");
    for (const Json& mesh : json_["meshes"])
      if (mesh.is_object() && mesh.contains("extensions") && mesh["extensions"].contains("TACKPOINT_mesh"))
        use_extension("TACKPOINT_mesh");
    const Json all_scenes = scenes();
    Json buffers = Json::array();
    if (!binary_.empty()) buffers.push_back({{"byteLength", binary_.size()}});
    if (json_.contains("buffers"))
      for (std::size_t i = 1; i < json_["buffers"].size(); ++i) buffers.push_back(json_["buffers"][i]);
    json_.erase("buffers");
    json_.erase("TACKPOINT_scene");

    Json asset = json_.contains("asset") && json_["asset"].is_object() ? json_["asset"] : Json::object();
    asset["version"] = "2.0";
    asset["generator"] = kGenerator;
    Json out{{"asset", asset}};
    const auto take = [&](const char* key) {
      if (json_.contains(key)) {
        if (!(json_[key].is_array() && json_[key].empty())) out[key] = json_[key];
        json_.erase(key);
      }
    };
    json_.erase("asset");
    for (const char* key : {"extensionsUsed", "extensionsRequired", "extensions"}) take(key);
    out["scene"] = 0;
    out["scenes"] = all_scenes;
    out["nodes"] = nodes_;
    for (const char* key : {"meshes", "accessors", "bufferViews"}) take(key);
    if (!buffers.empty()) out["buffers"] = buffers;
    for (const char* key : {"materials", "textures", "images", "samplers", "skins", "animations", "cameras", "extras"})
      take(key);
    for (const auto& [key, value] : json_.items()) out[key] = value;
    return out;
  }

  const Scene& scene_;
  const DocumentSettings& settings_;
  Json json_ = Json::object();
  Bytes binary_;
  MeshWriter meshes_{json_, binary_, scene_.colours()};
  Json colours_;
  Json nodes_ = Json::array();
  std::vector<int> scene_roots_;
  std::map<PartId, Numbers> numbers_;
  std::map<int, int> new_number_;    // original node to written node
  std::map<int, int> other_number_;  // the same for nodes of other scenes
};

}  // namespace

Result<Bytes> write_document(const Scene& scene, const DocumentSettings& settings) {
  try {
    return DocumentWriter(scene, settings).write();
  } catch (const std::exception& error) {
    return fail(fmt::format("The document could not be written: {}.", error.what()));
  }
}

}  // namespace tack
