// Reading glTF 2.0, our own documents among them. The layout of our documents is in docs/format.md.
#include <fmt/format.h>

#include <set>

#include "core/files/delivery.h"
#include "core/files/gltf_colours.h"
#include "core/files/gltf_mesh.h"
#include "core/files/gltf_node.h"
#include "core/files/part_extension.h"
#include "core/files/plane_json.h"

namespace tack {
namespace {

constexpr int kDeepest = 1000;
constexpr std::size_t kLongestName = 200;  // bytes

bool extension_is_harmless(const std::string& name) {
  for (const char* prefix : {"KHR_materials_", "KHR_texture_", "EXT_texture_", "TACKPOINT_"})
    if (name.starts_with(prefix)) return true;
  for (const char* known : {"KHR_draco_mesh_compression", "EXT_meshopt_compression", "KHR_mesh_quantization",
                            "KHR_lights_punctual", "KHR_animation_pointer", "KHR_xmp_json_ld"})
    if (name == known) return true;
  return false;
}

class GltfReader {
 public:
  GltfReader(Json json, Bytes binary) : json_(std::move(json)), binary_(std::move(binary)), data_(json_, binary_) {}

  Result<Delivery> read(const std::filesystem::path& path, const ImportOptions& options) {
    if (auto ok = check_header(); !ok) return tl::unexpected(ok.error());
    if (auto ok = choose_scene(options); !ok) return tl::unexpected(ok.error());
    find_animated();
    read_colours();
    if (auto ok = read_meshes(); !ok) return tl::unexpected(ok.error());
    if (auto ok = read_tree(path); !ok) return tl::unexpected(ok.error());
    carry();
    drop_unused_meshes();
    return std::move(delivery_);
  }

 private:
  const Json& node(int number) const { return json_["nodes"][static_cast<std::size_t>(number)]; }
  int node_count() const {
    return json_.contains("nodes") && json_["nodes"].is_array() ? static_cast<int>(json_["nodes"].size()) : 0;
  }

  // The node numbers in a list of them; damaged entries fail.
  Result<std::vector<int>> node_list(const Json& owner, const char* key) const {
    std::vector<int> list;
    if (!owner.contains(key)) return list;
    if (!owner[key].is_array()) return fail("A list of nodes is damaged.");
    for (const Json& v : owner[key]) {
      if (!v.is_number_integer() || v.get<std::int64_t>() < 0 || v.get<std::int64_t>() >= node_count())
        return fail(fmt::format("Node {} is named, but there are {}.", v.dump(), node_count()));
      list.push_back(v.get<int>());
    }
    return list;
  }

  Result<void> check_header() {
    if (!json_.contains("asset") || !json_["asset"].is_object()) return fail("The file does not say that it is glTF.");
    const std::string version = json_["asset"].value("version", std::string{});
    if (!version.starts_with("2."))
      return fail(fmt::format("This is glTF version \"{}\"; only version 2 can be read.", version));
    if (json_.contains("extensionsRequired"))
      for (const Json& name : json_["extensionsRequired"])
        if (!name.is_string() || !extension_is_harmless(name.get<std::string>()))
          return fail(fmt::format("The file needs the extension {}, which is not known here.", name.dump()));
    return check_lists();
  }

  // The lists of the standard hold objects, whether they are read here or only carried along: a document that cannot be
  // written again must not be opened.
  Result<void> check_lists() const {
    for (const char* key : {"accessors", "animations", "bufferViews", "buffers", "cameras", "images", "materials",
                            "meshes", "nodes", "samplers", "scenes", "skins", "textures"}) {
      if (!json_.contains(key)) continue;
      if (!json_[key].is_array()) return fail(fmt::format("The file is damaged: \"{}\" is not a list.", key));
      for (std::size_t i = 0; i < json_[key].size(); ++i)
        if (!json_[key][i].is_object())
          return fail(fmt::format("The file is damaged: number {} of \"{}\" is not an object.", i, key));
    }
    for (const char* key : {"extensionsUsed", "extensionsRequired"}) {
      if (!json_.contains(key)) continue;
      const Json& names = json_[key];
      if (!names.is_array() || !std::all_of(names.begin(), names.end(), [](const Json& n) { return n.is_string(); }))
        return fail(fmt::format("The file is damaged: \"{}\" is not a list of names.", key));
    }
    if (json_.contains("extensions") && !json_["extensions"].is_object())
      return fail("The file is damaged: its \"extensions\" are not an object.");
    return {};
  }

  Result<void> choose_scene(const ImportOptions& options) {
    const std::size_t scenes = json_.contains("scenes") && json_["scenes"].is_array() ? json_["scenes"].size() : 0;
    if (scenes == 0) {
      // No scene: everything that has no parent.
      std::set<int> children;
      for (int i = 0; i < node_count(); ++i) {
        const auto list = node_list(node(i), "children");
        if (!list) return tl::unexpected(list.error());
        children.insert(list->begin(), list->end());
      }
      for (int i = 0; i < node_count(); ++i)
        if (!children.contains(i)) roots_.push_back(i);
      if (roots_.empty() && node_count() > 0) return fail("Every node is below another one: they form a circle.");
      return {};
    }
    if (options.scene && *options.scene < 0) return fail("Scenes are numbered from 0.");
    const auto chosen = options.scene ? std::optional<std::uint64_t>(*options.scene) : unsigned_at(json_, "scene", 0);
    if (!chosen || *chosen >= scenes)
      return fail(fmt::format("There is no scene {}: the file has {}.", chosen.value_or(0), scenes));
    scene_ = json_["scenes"][*chosen];
    if (!scene_.is_object()) return fail("The scene is damaged.");
    if (scenes > 1 && !options.scene)
      delivery_.notes.push_back(
          fmt::format("The file has {} scenes; scene {} was opened and the others are kept.", scenes, *chosen));
    auto roots = node_list(scene_, "nodes");
    if (!roots) return tl::unexpected(roots.error());
    roots_ = std::move(*roots);
    for (std::size_t i = 0; i < scenes; ++i)
      if (i != *chosen) other_scenes_.push_back(json_["scenes"][i]);
    return {};
  }

  void find_animated() {
    const auto note = [&](const Json& v) {
      if (v.is_number_integer()) animated_.insert(v.get<std::int64_t>());
    };
    if (json_.contains("animations") && json_["animations"].is_array())
      for (const Json& a : json_["animations"])
        if (a.is_object() && a.contains("channels"))
          for (const Json& c : a["channels"])
            if (c.is_object() && c.contains("target") && c["target"].is_object() && c["target"].contains("node"))
              note(c["target"]["node"]);
    if (json_.contains("skins") && json_["skins"].is_array())
      for (const Json& s : json_["skins"])
        if (s.is_object() && s.contains("joints"))
          for (const Json& j : s["joints"]) note(j);
    for (int i = 0; i < node_count(); ++i)
      if (node(i).contains("skin")) animated_.insert(i);
  }

  const Json* layout() const {
    if (!scene_.contains("extensions") || !scene_["extensions"].is_object()) return nullptr;
    const Json& e = scene_["extensions"];
    return e.contains("TACKPOINT_layout") && e["TACKPOINT_layout"].is_object() ? &e["TACKPOINT_layout"] : nullptr;
  }

  void read_colours() {
    delivery_.colours = colours_from(json_, layout());
    colour_of_.assign(json_.contains("materials") ? json_["materials"].size() : 0, -1);
    for (std::size_t i = 0; i < delivery_.colours.size(); ++i)
      for (const int m : delivery_.colours[i].materials) colour_of_[static_cast<std::size_t>(m)] = static_cast<int>(i);
  }

  Result<void> read_meshes() {
    const std::size_t count = json_.contains("meshes") && json_["meshes"].is_array() ? json_["meshes"].size() : 0;
    // Meshes that share all their accessors are one mesh with other materials: instances.
    std::unordered_map<std::string, int> by_geometry;
    for (std::size_t i = 0; i < count; ++i) {
      auto mesh = read_gltf_mesh(json_, data_, i);
      if (!mesh) return tl::unexpected(mesh.error());
      colours_.push_back(std::move(mesh->colours));
      for (int& m : mesh->materials)
        m = m >= 0 && static_cast<std::size_t>(m) < colour_of_.size() ? colour_of_[static_cast<std::size_t>(m)] : -1;
      named_.push_back(std::move(mesh->materials));
      Json geometry = json_["meshes"][i]["primitives"];
      for (Json& p : geometry)
        if (p.is_object()) p.erase("material");
      const auto [known, fresh] = by_geometry.try_emplace(geometry.dump(), static_cast<int>(delivery_.meshes.size()));
      mesh_of_.push_back(mesh->data.positions.empty() ? -1 : known->second);
      if (fresh) delivery_.meshes.push_back(std::move(mesh->data));
    }
    converted_.assign(delivery_.meshes.size(), -1);
    return {};
  }

  Result<void> read_tree(const std::filesystem::path& path) {
    visited_.assign(static_cast<std::size_t>(node_count()), false);
    if (const Json* ours = layout()) {
      const std::string version = ours->value("version", std::string("1.0"));
      if (!version.starts_with("1."))
        return fail(
            version.starts_with("0.")
                ? fmt::format("This document is of format {}, which no version of Tack Point has written.", version)
                : fmt::format("This document was written by a newer Tack Point (format {}).", version),
            {}, "Open it with the version that wrote it.");
      const auto root = unsigned_at(*ours, "root", 0);
      if (root && *root < static_cast<std::uint64_t>(node_count()))
        return read_document(*ours, static_cast<int>(*root));
      delivery_.notes.emplace_back(
          "This was a Tack Point document, but what it says of itself is damaged: it was read like any other glTF "
          "file.");
    }
    for (const int root : roots_)
      if (auto ok = read_foreign_root(root, 0, path); !ok) return ok;
    return {};
  }

  // Our own document: one root converts, everything below it is a part; what other programs put beside it is imported.
  Result<void> read_document(const Json& layout, int root) {
    delivery_.is_document = true;
    delivery_.settings.unit = layout.value("unit", std::string("mm"));
    if (layout.contains("view")) delivery_.settings.view = layout["view"];
    if (layout.contains("ties")) delivery_.ties = layout["ties"];
    for (const char* member : kPlaneMembers)
      if (layout.contains(member)) delivery_.planes[member] = layout[member];
    layout_ = layout;
    for (const auto* known : {"version", "root", "unit", "view", "ties", "colours"}) layout_.erase(known);
    for (const auto* known : kPlaneMembers) layout_.erase(known);
    visited_[static_cast<std::size_t>(root)] = true;
    const auto children = node_list(node(root), "children");
    if (!children) return tl::unexpected(children.error());
    for (const int child : *children)
      if (auto ok = read_own(child, 0, 1); !ok) return ok;
    for (const int other : roots_) {
      if (other == root || visited_[static_cast<std::size_t>(other)]) continue;
      if (auto ok = read_foreign_root(other, 0, {}); !ok) return ok;
    }
    return {};
  }

  Result<void> visit(int number, int depth) {
    if (depth > kDeepest) return fail(fmt::format("The nodes are nested more than {} deep.", kDeepest));
    if (visited_[static_cast<std::size_t>(number)])
      return fail(fmt::format("Node {} has two parents, or is its own.", number));
    visited_[static_cast<std::size_t>(number)] = true;
    return {};
  }

  std::string name_of(int number, const char* otherwise) const {
    std::string name = node(number).value("name", std::string{});
    if (name.empty() && node(number).contains("mesh")) {
      const auto mesh = unsigned_at(node(number), "mesh", ~0ull >> 1);
      if (mesh && *mesh < mesh_of_.size()) name = mesh_name(json_, *mesh);
    }
    if (name.empty()) name = fmt::format("{} {}", otherwise, number);
    return shortened(name, kLongestName);
  }

  std::uint32_t add(DeliveredPart part) {
    delivery_.parts.push_back(std::move(part));
    return static_cast<std::uint32_t>(delivery_.parts.size());
  }

  void set_mesh(DeliveredPart& part, const Json& from, bool in_metres) {
    const auto mesh = unsigned_at(from, "mesh", ~0ull >> 1);
    if (!mesh || *mesh >= mesh_of_.size() || mesh_of_[*mesh] < 0) return;
    part.carried_mesh = static_cast<int>(*mesh);
    part.geometry_in_metres = in_metres;
    part.colours = colours_[*mesh];
    part.named = named_[*mesh];
    part.mesh = in_metres ? converted_mesh(mesh_of_[*mesh]) : mesh_of_[*mesh];
    used_.insert(part.mesh);
  }

  // The mesh with its positions in mm, Z up; each mesh is converted once.
  int converted_mesh(int mesh) {
    const auto at = static_cast<std::size_t>(mesh);
    if (converted_[at] >= 0) return converted_[at];
    MeshData data = delivery_.meshes[at];
    for (Vec3& p : data.positions) p = to_millimetres(p);
    for (auto& n : data.normals) n = {n[0], -n[2], n[1]};
    converted_[at] = static_cast<int>(delivery_.meshes.size());
    delivery_.meshes.push_back(std::move(data));
    return converted_[at];
  }

  static Json members(const Json& from, std::initializer_list<const char*> leave) {
    Json rest = from;
    for (const char* key : leave) rest.erase(key);
    return rest;
  }

  CarriedNode carried(int number, bool raw) const {
    CarriedNode c;
    c.original = number;
    Json rest = members(node(number), {"name", "children", "mesh", "translation", "rotation", "scale", "matrix"});
    if (rest.contains("extensions")) {
      rest["extensions"].erase("TACKPOINT_part");
      if (rest["extensions"].empty()) rest.erase("extensions");
    }
    c.head = Json::object();
    c.content = std::move(rest);
    if (c.content.contains("extras") && !raw) {
      c.head["extras"] = c.content["extras"];
      c.content.erase("extras");
    }
    return c;
  }

  static void keep_if_any(DeliveredPart& part, CarriedNode c) {
    if (!c.head.empty() || !c.content.empty() || c.animated) part.carried = std::move(c);
  }

  bool tree_is_animated(int root) const {
    std::vector<bool> seen(static_cast<std::size_t>(node_count()), false);
    std::vector<int> pending{root};
    while (!pending.empty()) {
      const int next = pending.back();
      pending.pop_back();
      if (seen[static_cast<std::size_t>(next)]) continue;
      seen[static_cast<std::size_t>(next)] = true;
      if (animated_.contains(next)) return true;
      if (const auto list = node_list(node(next), "children"))
        pending.insert(pending.end(), list->begin(), list->end());
    }
    return false;
  }

  // A tree of another program: conjugated into mm, Z up when it stands still; kept raw below one conversion group when
  // something in it moves.
  Result<void> read_foreign_root(int root, std::uint32_t parent, const std::filesystem::path& path) {
    if (!tree_is_animated(root)) return read_foreign(root, parent, false, 1);
    DeliveredPart group;
    group.name = path.empty() ? name_of(root, "Group") : path.stem().string();
    group.parent = parent;
    group.placement.rotation = {90, 0, 0};
    group.placement.scale = {1000, 1000, 1000};
    return read_foreign(root, add(std::move(group)), true, 1);
  }

  Result<void> read_foreign(int number, std::uint32_t parent, bool raw, int depth) {
    if (auto ok = visit(number, depth); !ok) return ok;
    const Json& n = node(number);
    DeliveredPart part;
    part.name = name_of(number, "Group");
    part.parent = parent;
    bool flattened = false;
    Result<Placement> placement = node_placement(n, flattened);
    if (placement && !raw) {
      if (has_matrix(n)) {
        const Affine c = metres_to_millimetres();
        placement = placement_from(c * node_matrix(n) * *inverse(c));
      } else {
        placement = conjugated(*placement, n);
      }
    }
    if (!placement) {
      placement = Placement{};
      flattened = true;
    }
    if (flattened) {
      delivery_.notes.push_back(fmt::format("\"{}\" was flattened by a factor of 0; it is hidden.", part.name));
      part.hidden = true;
    }
    part.placement = *placement;
    set_mesh(part, n, !raw);
    if (!raw) part.geometry_in_metres = true;
    CarriedNode c = carried(number, raw);
    if (raw && animated_.contains(number)) {
      c.animated = true;
      c.rest = Json::object();
      for (const char* key : {"translation", "rotation", "scale", "matrix"})
        if (n.contains(key)) c.rest[key] = n[key];
    }
    keep_if_any(part, std::move(c));
    const std::uint32_t self = add(std::move(part));
    const auto children = node_list(n, "children");
    if (!children) return tl::unexpected(children.error());
    for (const int child : *children)
      if (auto ok = read_foreign(child, self, raw, depth + 1); !ok) return ok;
    return {};
  }

  // Translation, rotation and scale in metres, Y up, as they read in millimetres, Z up: exact but for the factor 1000.
  static Result<Placement> conjugated(Placement p, const Json& n) {
    const Mat3 r = node_matrix({{"rotation", n.contains("rotation") ? n["rotation"] : Json(nullptr)}}).linear;
    const auto map = [](const Vec3& v) { return Vec3{v.x, -v.z, v.y}; };
    // C·R·C⁻¹: the columns of the result are the images of R's columns for x, −z, y.
    const Mat3 turned{{map(r.column[0]), -map(r.column[2]), map(r.column[1])}};
    p.position = to_millimetres(p.position);
    p.scale = {p.scale.x, p.scale.z, p.scale.y};
    Placement result;
    auto rotated = with_linear(result, turned);
    if (!rotated) return rotated;
    p.rotation = rotated->rotation;
    return p;
  }

  Result<void> read_own(int number, std::uint32_t parent, int depth) {
    const Json& n = node(number);
    const auto extension = part_extension(n);
    if (!extension) return read_foreign_in_document(number, parent, depth);
    if (auto ok = visit(number, depth); !ok) return ok;
    DeliveredPart part;
    part.name = shortened(n.value("name", std::string{}), kLongestName);
    if (part.name.empty()) part.name = name_of(number, "Part");
    part.parent = parent;
    read_part_extension(*extension, part, delivery_.notes);
    part.carried = carried(number, true);
    CarriedNode& c = *part.carried;
    // The chain of nodes that make up one part: head, then inner (skew), moved (animated) and geometry nodes.
    int body = number, skew_node = -1;
    const Json* content = nullptr;
    std::vector<int> children;
    for (;;) {
      const auto list = node_list(node(body), "children");
      if (!list) return tl::unexpected(list.error());
      children = *list;
      const auto with_role = [&](std::string_view role) {
        const auto at = std::find_if(children.begin(), children.end(), [&](int k) { return role_of(node(k)) == role; });
        return at == children.end() ? -1 : *at;
      };
      const int inner = with_role("skew"), moved = with_role("animated"), geometry = with_role("geometry");
      const int next = inner >= 0 ? inner : moved;
      if (next >= 0) {
        if (auto ok = visit(next, depth); !ok) return ok;
        if (moved >= 0 && inner < 0) content = &node(moved), c.original = moved;
        if (inner >= 0) skew_node = inner;
        body = next;
        continue;
      }
      if (geometry >= 0) {
        if (auto ok = visit(geometry, depth); !ok) return ok;
        content = &node(geometry);
        std::erase(children, geometry);
        const CarriedNode below = carried(geometry, true);
        c.head = c.content;
        c.content = below.content;
        set_mesh(part, *content, true);
      } else {
        if (content) c.content = carried(c.original, true).content;
        set_mesh(part, node(body), false);
      }
      break;
    }
    if (extension->value("animated", false)) {
      c.animated = true;
      c.rest = Json::object();
      for (const char* key : {"translation", "rotation", "scale", "matrix"})
        if (node(c.original).contains(key)) c.rest[key] = node(c.original)[key];
    }
    if (extension->value("metres", false)) part.geometry_in_metres = true;
    reconcile(number, skew_node, part);
    CarriedNode keep = std::move(c);
    part.carried.reset();
    keep_if_any(part, std::move(keep));
    const std::uint32_t self = add(std::move(part));
    for (const int child : children)
      if (auto ok = read_own(child, self, depth + 1); !ok) return ok;
    // Skinned meshes stand at the scene's root in the file, and know where they belong.
    for (const int root : roots_)
      if (const auto e = part_extension(node(root)); e && e->contains("under") && (*e)["under"] == number)
        if (auto ok = read_own(root, self, depth + 1); !ok) return ok;
    return {};
  }

  // A node's own numbers win over ours where another program changed them.
  void reconcile(int number, int inner, DeliveredPart& part) {
    const CarriedNode& c = *part.carried;
    const bool wrapped = c.animated && c.original != number;
    const Affine rest = wrapped ? node_matrix(c.rest) : Affine{};
    const Affine local = matrix_of(part.placement);
    Affine expected = local;
    if (wrapped) {
      const auto back = inverse(rest);
      if (!back) return;
      expected = local * *back;
    }
    const Affine found = inner >= 0 ? node_matrix(node(number)) * node_matrix(node(inner)) : node_matrix(node(number));
    double off = distance(expected.translation, found.translation) / (1 + length(expected.translation));
    for (int i = 0; i < 3; ++i)
      off = std::max(off,
                     distance(expected.linear.column[i], found.linear.column[i]) / length(expected.linear.column[i]));
    if (off <= 1e-9) return;
    if (auto placement = placement_from(wrapped ? found * rest : found, part.placement.pivot)) {
      part.placement = *placement;
      part.typed = nullptr;
      delivery_.notes.push_back(fmt::format("Another program placed \"{}\" anew; its numbers were taken.", part.name));
    }
  }

  Result<void> read_foreign_in_document(int number, std::uint32_t parent, int depth) {
    // A node another program added below ours lives in mm, Z up already: its geometry too.
    return read_foreign(number, parent, true, depth);
  }

  void carry() {
    auto document = std::make_shared<CarriedDocument>();
    document->json = json_;
    for (const char* key : {"nodes", "scenes", "scene"}) document->json.erase(key);
    document->other_scenes = other_scenes_;
    document->node_limit = node_count();
    // Nodes of other scenes stay as they are; nodes that are shared with ours are kept a second time for them.
    std::set<int> others;
    std::vector<int> pending;
    for (const Json& scene : other_scenes_)
      if (const auto list = node_list(scene, "nodes")) pending.insert(pending.end(), list->begin(), list->end());
    for (int i = 0; i < node_count(); ++i)
      if (!visited_[static_cast<std::size_t>(i)]) pending.push_back(i);
    while (!pending.empty()) {
      const int next = pending.back();
      pending.pop_back();
      if (!others.insert(next).second) continue;
      if (const auto list = node_list(node(next), "children"))
        pending.insert(pending.end(), list->begin(), list->end());
    }
    for (const int i : others) document->other_nodes[i] = node(i);
    // What a newer version wrote into the layout is kept, and so is everything else that the scene itself had.
    if (scene_.is_object()) {
      scene_.erase("nodes");
      if (scene_.contains("extensions")) {
        scene_["extensions"].erase("TACKPOINT_layout");
        if (!layout_.empty()) scene_["extensions"]["TACKPOINT_layout"] = layout_;
        if (scene_["extensions"].empty()) scene_.erase("extensions");
      }
      if (!scene_.empty()) document->json["TACKPOINT_scene"] = scene_;
    }
    document->binary = std::make_shared<const Bytes>(std::move(binary_));
    delivery_.carried = std::move(document);
  }

  // Meshes that no part shows are carried in the file, not in memory.
  void drop_unused_meshes() {
    std::vector<int> renumbered(delivery_.meshes.size(), -1);
    std::vector<MeshData> kept;
    for (const int mesh : used_) {
      renumbered[static_cast<std::size_t>(mesh)] = static_cast<int>(kept.size());
      kept.push_back(std::move(delivery_.meshes[static_cast<std::size_t>(mesh)]));
    }
    for (DeliveredPart& part : delivery_.parts)
      if (part.mesh >= 0) part.mesh = renumbered[static_cast<std::size_t>(part.mesh)];
    delivery_.meshes = std::move(kept);
  }

  Json json_;
  Bytes binary_;
  GltfData data_;
  Delivery delivery_;
  Json scene_ = Json::object(), layout_ = Json::object(), other_scenes_ = Json::array();
  std::vector<int> roots_;
  std::set<std::int64_t> animated_;
  std::vector<int> mesh_of_;    // glTF mesh to delivered mesh, −1 for none
  std::vector<int> converted_;  // delivered mesh to its converted twin
  std::set<int> used_;
  std::vector<std::vector<Colour>> colours_;
  std::vector<std::vector<int>> named_;  // for each primitive of each mesh the number of its named colour
  std::vector<int> colour_of_;           // material to named colour, −1 for none
  std::vector<bool> visited_;
};

}  // namespace

Result<Delivery> read_gltf(ByteView bytes, const std::filesystem::path& path, const ImportOptions& options) {
  Glb glb;
  if (is_glb(bytes)) {
    auto read = read_glb(bytes);
    if (!read) return tl::unexpected(read.error());
    glb = std::move(*read);
  } else {
    auto json = parse_json({reinterpret_cast<const char*>(bytes.data()), bytes.size()});
    if (!json) return tl::unexpected(json.error());
    glb.json = std::move(*json);
  }
  auto binary = gather_buffers(glb.json, std::move(glb.binary), path.parent_path());
  if (!binary) return tl::unexpected(binary.error());
  return GltfReader(std::move(glb.json), std::move(*binary)).read(path, options);
}

}  // namespace tack
