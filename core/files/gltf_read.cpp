// Reading glTF 2.0, our own documents among them. The layout of our documents is in docs/format.md.
#include <fmt/format.h>

#include <map>

#include "core/files/delivery.h"
#include "core/files/gltf_check.h"
#include "core/files/gltf_colours.h"
#include "core/files/gltf_figures.h"
#include "core/files/gltf_node.h"
#include "core/files/gltf_shown.h"
#include "core/files/part_extension.h"
#include "core/files/plane_json.h"
#include "core/math/degrees.h"
#include "core/math/split.h"

namespace tack {
namespace {

class GltfReader {
 public:
  GltfReader(Json json, Blob binary, const Around& around)
      : json_(std::move(json)),
        binary_(std::move(binary)),
        data_(json_, binary_.view(), around.passed),
        shown_(json_, data_, around, delivery_.meshes) {}

  Result<Delivery> read(const std::filesystem::path& path, const ImportOptions& options,
                        std::vector<std::string> notes) {
    delivery_.notes = std::move(notes);
    if (auto ok = check_gltf(json_); !ok) return tl::unexpected(ok.error());
    auto chosen = choose_scene(json_, options, delivery_.notes);
    if (!chosen) return tl::unexpected(chosen.error());
    scene_ = std::move(chosen->scene);
    roots_ = std::move(chosen->roots);
    other_scenes_ = std::move(chosen->others);
    if (auto ok = part_scenes(json_, roots_, other_scenes_); !ok) return tl::unexpected(ok.error());
    delivery_.colours = colours_from(json_, layout());
    shown_.name_materials(delivery_.colours);
    if (auto ok = read_tree(path); !ok) return tl::unexpected(ok.error());
    if (auto ok = join_skins(); !ok) return tl::unexpected(ok.error());
    carry();
    return std::move(delivery_);
  }

 private:
  const Json& node(int number) const { return json_["nodes"][static_cast<std::size_t>(number)]; }
  int node_count() const { return count_of(json_, Ref::Node); }
  Result<std::vector<int>> children_of(int number) const { return node_list(json_, node(number), "children"); }

  const Json* layout() const {
    if (!scene_.contains("extensions") || !scene_["extensions"].is_object()) return nullptr;
    const Json& e = scene_["extensions"];
    return e.contains("TACKPOINT_layout") && e["TACKPOINT_layout"].is_object() ? &e["TACKPOINT_layout"] : nullptr;
  }

  Result<void> read_tree(const std::filesystem::path& path) {
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
    limit_ = node_count();
    return read_foreign_trees(roots_, path);
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
    for (const auto* known : {"version", "root", "unit", "view", "ties", "colours", "imported", "record"})
      layout_.erase(known);
    for (const auto* known : kPlaneMembers) layout_.erase(known);
    const Json& imported = layout.contains("imported") ? layout["imported"] : Json();
    // Before format 1.1 all nodes were numbered anew: where something may name them, they keep what they have now.
    const bool may_be_named =
        json_.contains("animations") || json_.contains("skins") || !unknown_with_numbers(json_).empty();
    limit_ = imported.is_number_integer() ? std::clamp(imported.get<int>(), 0, node_count())
             : may_be_named               ? node_count()
                                          : 0;
    visited_.assign(static_cast<std::size_t>(node_count()), false);
    leave_ = nodes_to_leave(json_);
    std::vector<int> beside;
    for (const int other : roots_) {
      if (other == root) continue;
      const Json* e = any_part_extension(node(other));
      if (e && e->contains("of") && role_of(node(other)) == "skinned") {
        const auto head = unsigned_at(*e, "of", kNoNumber);
        if (head && *head < static_cast<std::uint64_t>(node_count())) skinned_of_[static_cast<int>(*head)] = other;
        visited_[static_cast<std::size_t>(other)] = true;
      } else if (e && e->contains("under")) {
        const auto under = unsigned_at(*e, "under", kNoNumber);
        if (under && *under < static_cast<std::uint64_t>(node_count()))
          stands_under_[static_cast<int>(*under)].push_back(other);
      } else {
        beside.push_back(other);
      }
    }
    // Checks the whole tree before anything of it is believed.
    if (const auto tree = tree_below(json_, roots_); !tree) return tl::unexpected(tree.error());
    visited_[static_cast<std::size_t>(root)] = true;
    const auto children = children_of(root);
    for (const int child : *children)
      if (auto ok = read_own(child, 0); !ok) return ok;
    std::erase_if(beside, [&](int other) { return visited_[static_cast<std::size_t>(other)]; });
    if (beside.empty()) return {};
    limit_ = std::max(limit_, *std::max_element(beside.begin(), beside.end()) + 1);
    return read_foreign_trees(beside, {});
  }

  std::string name_of(int number, const char* otherwise) const {
    std::string name = node(number).value("name", std::string{});
    if (name.empty() && node(number).contains("mesh")) name = mesh_name(json_, *unsigned_at(node(number), "mesh", 0));
    if (name.empty()) name = fmt::format("{} {}", otherwise, number);
    return name;
  }

  std::uint32_t add(DeliveredPart part) {
    delivery_.parts.push_back(std::move(part));
    return static_cast<std::uint32_t>(delivery_.parts.size());
  }

  Result<void> set_mesh(DeliveredPart& part, const Json& from, bool in_metres, bool bends = false) {
    if (!from.contains("mesh")) return {};
    const auto shown = shown_.of(from, in_metres, bends);
    if (!shown) return tl::unexpected(shown.error());
    if ((*shown)->mesh < 0) return {};
    part.carried_mesh = static_cast<int>(*unsigned_at(from, "mesh", 0));
    part.geometry_in_metres = in_metres;
    part.colours = (*shown)->colours;
    part.named = (*shown)->named;
    part.mesh = (*shown)->mesh;
    return {};
  }

  // The mesh that a linked copy comes from. What is damaged of it is left out: the copy's own mesh is there.
  Result<void> set_base(DeliveredPart& part, const Json& stretch) {
    if (!stretch.is_object() || !stretch.contains("lengths")) return {};
    const auto number = unsigned_at(stretch, "of", kNoNumber);
    if (!number || *number >= static_cast<std::uint64_t>(count_of(json_, Ref::Mesh))) return {};
    const auto shown = shown_.of(Json{{"mesh", *number}}, stretch.value("metres", false), false);
    if (!shown) return tl::unexpected(shown.error());
    part.base = (*shown)->mesh;
    part.base_carried = static_cast<int>(*number);
    part.base_in_metres = stretch.value("metres", false);
    part.lengths = lengths_from(stretch["lengths"]);
    return {};
  }

  // The mesh of a node that joints bend; which parts those are is settled when all of them are there.
  Result<void> set_bent_mesh(DeliveredPart& part, int number) {
    if (auto ok = set_mesh(part, node(number), false, true); !ok) return ok;
    if (part.mesh < 0 || !node(number).contains("skin")) return {};
    const GltfMesh& bound = *(*shown_.of(node(number), false, true))->bound;
    if (bound.influences.empty()) return {};
    auto skin = read_skin(json_, data_, *unsigned_at(node(number), "skin", 0), bound);
    if (!skin) return fail(skin.error().what, part.name);
    part.skin = std::move(*skin);
    return {};
  }

  // Joints are named by their nodes until all parts are there.
  Result<void> join_skins() {
    for (DeliveredPart& part : delivery_.parts) {
      if (!part.skin) continue;
      for (std::size_t j = 0; j < part.skin->joints.size(); ++j) {
        const auto found = part_of_node_.find(static_cast<int>(part.skin->joints[j]));
        if (found == part_of_node_.end())
          return fail(fmt::format("Joint {} of \"{}\" is not in the scene.", part.skin->joints[j], part.name));
        part.skin->joints[j] = found->second;
        if (const auto& node = delivery_.parts[found->second - 1].carried)
          part.skin->inverse_bind[j] = node->taken * part.skin->inverse_bind[j];
      }
    }
    return {};
  }

  static Json members(const Json& from, std::initializer_list<const char*> leave) {
    Json rest = from;
    for (const char* key : leave) rest.erase(key);
    return rest;
  }

  CarriedNode carried(int number, bool raw) const {
    CarriedNode c;
    c.original = number < limit_ ? number : -1;
    Json rest = members(node(number), {"name", "children", "translation", "rotation", "scale", "matrix", "skin"});
    // A mesh that shows nothing is not ours to write again.
    if (rest.contains("mesh") && shown_.shows(node(number))) rest.erase("mesh");
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
  static Json place_of(const Json& n) {
    Json place = Json::object();
    for (const char* key : {"translation", "rotation", "scale", "matrix"})
      if (n.contains(key)) place[key] = n[key];
    return place;
  }

  static void keep_if_any(DeliveredPart& part, CarriedNode c) {
    if (!c.head.empty() || !c.content.empty() || c.animated || c.original >= 0 || c.taken != Affine{})
      part.carried = std::move(c);
  }

  // Trees of another program: conjugated into mm, Z up; kept raw below one conversion group when something in them
  // moves. Trees that the joints of one mesh are spread over go below the same group.
  Result<void> read_foreign_trees(std::vector<int> roots, const std::filesystem::path& path) {
    auto figures = take_figures_out(json_, roots, delivery_.notes);
    if (!figures) return tl::unexpected(figures.error());
    limit_ = node_count();
    figures_ = std::move(*figures);
    for (std::size_t i = 0; i < figures_.size(); ++i)
      if (figures_[i].tops.size() == 1) figures_at_.emplace(figures_[i].tops.front(), i);
    leave_ = nodes_to_leave(json_);
    visited_.resize(static_cast<std::size_t>(node_count()), false);
    const auto tree = tree_below(json_, roots);
    if (!tree) return tl::unexpected(tree.error());
    // Whether anything below is to be left: children stand behind their parents.
    std::vector<bool> leave = leave_;
    for (const Figure& figure : figures_)
      for (const int top : figure.tops) leave[static_cast<std::size_t>(top)] = true;
    for (auto n = tree->order.rbegin(); n != tree->order.rend(); ++n) {
      const int parent = tree->parent[static_cast<std::size_t>(*n)];
      if (parent >= 0 && leave[static_cast<std::size_t>(*n)]) leave[static_cast<std::size_t>(parent)] = true;
    }
    const Figure* spread = !figures_.empty() && figures_.front().below < 0 && figures_.front().tops.size() > 1
                               ? &figures_.front()
                               : nullptr;
    std::uint32_t spread_group = 0;
    for (const int root : roots) {
      if (!leave[static_cast<std::size_t>(root)]) {
        if (auto ok = read_foreign(root, 0, false); !ok) return ok;
        continue;
      }
      const bool in_spread = spread && std::find(spread->tops.begin(), spread->tops.end(), root) != spread->tops.end();
      if (!in_spread || spread_group == 0) {
        DeliveredPart group;
        group.name = path.empty() ? name_of(root, "Group") : path.stem().string();
        group.placement.rotation = {90, 0, 0};
        group.placement.scale = {1000, 1000, 1000};
        const std::uint32_t made = add(std::move(group));
        if (in_spread) {
          const auto wrapper = add_wrapper(*spread, made);
          if (!wrapper) return tl::unexpected(wrapper.error());
          spread_group = *wrapper;
        } else {
          if (auto ok = read_foreign(root, made, true); !ok) return ok;
          continue;
        }
      }
      if (auto ok = read_foreign(root, spread_group, true); !ok) return ok;
    }
    return {};
  }

  // What stands above the joints of a figure and carries them: the part of its mesh, or with several meshes a group.
  Result<std::uint32_t> add_wrapper(const Figure& figure, std::uint32_t parent) {
    const auto bent = [&](int number, std::uint32_t below) -> Result<std::uint32_t> {
      DeliveredPart part;
      part.name = name_of(number, "Mesh");
      part.parent = below;
      if (auto ok = set_bent_mesh(part, number); !ok) return tl::unexpected(ok.error());
      keep_if_any(part, carried(number, true));
      visited_[static_cast<std::size_t>(number)] = true;
      return add(std::move(part));
    };
    if (figure.meshes.size() == 1) return bent(figure.meshes.front(), parent);
    DeliveredPart group;
    const Json& skin = json_["skins"][static_cast<std::size_t>(*unsigned_at(node(figure.meshes.front()), "skin", 0))];
    group.name = skin.contains("name") && skin["name"].is_string() ? skin["name"].get<std::string>() : "Figure";
    group.parent = parent;
    const std::uint32_t made = add(std::move(group));
    for (const int number : figure.meshes)
      if (auto ok = bent(number, made); !ok) return ok;
    return made;
  }

  Result<void> read_foreign(int number, std::uint32_t parent, bool raw) {
    if (raw)
      for (auto [at, end] = figures_at_.equal_range(number); at != end; ++at) {
        const auto wrapper = add_wrapper(figures_[at->second], parent);
        if (!wrapper) return tl::unexpected(wrapper.error());
        parent = *wrapper;
      }
    visited_[static_cast<std::size_t>(number)] = true;
    const Json& n = node(number);
    DeliveredPart part;
    part.name = name_of(number, "Group");
    part.parent = parent;
    const bool moves = raw && leave_[static_cast<std::size_t>(number)];
    Result<Placement> placement = node_placement(n);
    if (placement && !raw) {
      if (has_matrix(n)) {
        const Affine c = metres_to_millimetres();
        placement = placement_from(c * node_matrix(n) * *inverse(c));
      } else {
        placement = conjugated(*placement, n);
      }
    }
    if (!placement) {
      if (raw) return fail("Its matrix flattens it askew, which cannot be placed together with what moves.", part.name);
      // Flattened askew, as by a shadow's projection: two parts do what one cannot.
      const Affine c = metres_to_millimetres();
      const Affine matrix = c * node_matrix(n) * *inverse(c);
      const TurnStretchTurn split = split_by_singular_values(matrix.linear);
      DeliveredPart outer;
      outer.name = part.name;
      outer.parent = parent;
      outer.placement.position = matrix.translation;
      outer.placement.rotation = degrees_from_rotation(split.turn);
      outer.placement.scale = split.stretch;
      for (int i = 0; i < 3; ++i)
        if (std::abs(split.stretch[i]) <= 1e-12 * largest_component(split.stretch)) outer.placement.scale[i] = 0;
      part.parent = add(std::move(outer));
      Placement inner;
      inner.rotation = degrees_from_rotation(split.first_turn);
      placement = inner;
    }
    part.placement = *placement;
    if (auto ok = set_mesh(part, n, !raw); !ok) return ok;
    if (!raw) part.geometry_in_metres = true;
    CarriedNode c = carried(number, raw);
    if (n.contains("skin")) c.content["skin"] = n["skin"];  // put here by another program; kept
    if (moves) {
      c.animated = true;
      c.rest = place_of(n);
    }
    keep_if_any(part, std::move(c));
    const std::uint32_t self = add(std::move(part));
    part_of_node_[number] = self;
    const auto children = children_of(number);
    for (const int child : *children)
      if (auto ok = read_foreign(child, self, raw); !ok) return ok;
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

  Result<void> read_own(int number, std::uint32_t parent) {
    const Json& n = node(number);
    const auto extension = part_extension(n);
    if (!extension) return read_foreign_in_document(number, parent);
    visited_[static_cast<std::size_t>(number)] = true;
    DeliveredPart part;
    part.name = n.value("name", std::string{});
    if (part.name.empty()) part.name = name_of(number, "Part");
    part.parent = parent;
    read_part_extension(*extension, part, delivery_.notes);
    CarriedNode c = carried(number, true);
    if (extension->contains("taken"))
      if (const auto taken = affine_from((*extension)["taken"]); taken && inverse(*taken)) c.taken = *taken;
    // The chain of nodes that make up one part: head, skew, then what is animated, what undoes what verbs have taken
    // in, and last what is in metres. Children hang in the last but that.
    std::vector<int> chain{number};
    int body = number, skew_node = -1, moved = -1, geometry = -1;
    std::vector<int> children;
    for (;;) {
      children = *children_of(body);
      const auto with_role = [&](std::string_view role) {
        const auto at = std::find_if(children.begin(), children.end(), [&](int k) { return role_of(node(k)) == role; });
        return at == children.end() ? -1 : *at;
      };
      int next = -1;
      if (const int skew = with_role("skew"); skew >= 0) next = skew_node = skew;
      if (const int found = with_role("animated"); next < 0 && found >= 0) next = moved = found;
      if (const int undone = with_role("undone"); next < 0 && undone >= 0) next = undone;
      if (next < 0) {
        geometry = with_role("geometry");
        break;
      }
      chain.push_back(next);
      body = next;
    }
    std::erase(children, geometry);
    const auto below = skinned_of_.find(number);
    const bool stands_alone = below == skinned_of_.end() && n.contains("skin") && n.contains("mesh");
    const int bent = below != skinned_of_.end() ? below->second : stands_alone ? number : -1;
    int content = number;
    if (bent >= 0) {
      content = bent;
      if (auto ok = set_bent_mesh(part, bent); !ok) return ok;
    } else if (geometry >= 0) {
      content = geometry;
      chain.push_back(geometry);
      if (auto ok = set_mesh(part, node(geometry), true); !ok) return ok;
    } else {
      if (moved >= 0)
        content = moved;
      else if (skew_node >= 0)
        content = skew_node;
      if (auto ok = set_mesh(part, node(body), false); !ok) return ok;
    }
    for (const int link : chain) {
      visited_[static_cast<std::size_t>(link)] = true;
      if (link < limit_) c.original = std::max(c.original, link);
    }
    if (content != number) {
      const CarriedNode inside = carried(content, true);
      c.head = c.content;
      c.content = inside.content;
      if (content < limit_) c.original = content;
    }
    // Weights stand with the mesh, which may hang below what undoes a bake.
    if (body != content && geometry < 0 && node(body).contains("weights")) c.content["weights"] = node(body)["weights"];
    if (body != content && bent < 0 && geometry < 0 && node(body).contains("mesh") && !shown_.shows(node(body)))
      c.content["mesh"] = node(body)["mesh"];
    if (extension->value("animated", false)) {
      c.animated = true;
      const int mover = moved >= 0 ? moved : number;
      c.rest = place_of(node(mover));
      if (mover < limit_) c.original = mover;
      meant_by_[body] = mover;
    }
    if (extension->value("metres", false)) part.geometry_in_metres = true;
    if (extension->contains("stretch"))
      if (auto ok = set_base(part, (*extension)["stretch"]); !ok) return ok;
    reconcile(number, skew_node, moved >= 0, c, part);
    keep_if_any(part, std::move(c));
    const std::uint32_t self = add(std::move(part));
    for (const int link : chain) part_of_node_[link] = self;
    for (const int child : children)
      if (auto ok = read_own(child, self); !ok) return ok;
    // Before format 1.1 bent meshes stood at the scene's root, and knew where they belong.
    if (const auto found = stands_under_.find(number); found != stands_under_.end())
      for (const int child : found->second)
        if (auto ok = read_own(child, self); !ok) return ok;
    return {};
  }

  // A node's own numbers win over ours where another program changed them.
  void reconcile(int number, int inner, bool wrapped, const CarriedNode& c, DeliveredPart& part) {
    Affine back, expected = matrix_of(part.placement) * c.taken;
    if (wrapped) {
      const auto rest = node_placement(c.rest);
      if (!rest) return;
      back = matrix_of(unflattened(*rest));
      const auto away = inverse(back);
      if (!away) return;
      expected = matrix_of(unflattened(part.placement)) * c.taken * *away;
    }
    const Affine found = inner >= 0 ? node_matrix(node(number)) * node_matrix(node(inner)) : node_matrix(node(number));
    double off = distance(expected.translation, found.translation) / (1 + length(expected.translation));
    for (int i = 0; i < 3; ++i)
      off = std::max(off,
                     distance(expected.linear.column[i], found.linear.column[i]) / length(expected.linear.column[i]));
    if (off <= 1e-9) return;
    const auto taken_back = inverse(c.taken);
    if (!taken_back) return;
    if (auto placement = placement_from((wrapped ? found * back : found) * *taken_back, part.placement.pivot)) {
      for (int i = 0; i < 3; ++i)
        if (wrapped && part.placement.scale[i] == 0) placement->scale[i] = 0;
      part.placement = *placement;
      part.typed = nullptr;
      delivery_.notes.push_back(fmt::format("Another program placed \"{}\" anew; its numbers were taken.", part.name));
    }
  }

  Result<void> read_foreign_in_document(int number, std::uint32_t parent) {
    // A node another program added below ours lives in mm, Z up already: its geometry too.
    limit_ = std::max(limit_, number + 1);
    return read_foreign(number, parent, true);
  }

  void carry() {
    auto document = std::make_shared<CarriedDocument>();
    document->other_scenes = other_scenes_;
    document->node_limit = limit_;
    // What is in no part stays as it is, under its number. Nodes of ours that nothing leads to any more go.
    std::vector<int> pending;
    for (const Json& scene : other_scenes_)
      if (const auto list = node_list(json_, scene, "nodes")) pending.insert(pending.end(), list->begin(), list->end());
    for (int i = 0; i < limit_; ++i)
      if (!visited_[static_cast<std::size_t>(i)]) pending.push_back(i);
    while (!pending.empty()) {
      const int next = pending.back();
      pending.pop_back();
      if (visited_[static_cast<std::size_t>(next)]) continue;
      visited_[static_cast<std::size_t>(next)] = true;
      document->other_nodes[next] = node(next);
      document->node_limit = std::max(document->node_limit, next + 1);
      if (const auto list = children_of(next)) pending.insert(pending.end(), list->begin(), list->end());
    }
    // Nothing is read from it any more.
    document->json = std::move(json_);
    for (const char* key : {"nodes", "scenes", "scene"}) document->json.erase(key);
    // Weights that are animated mean the node that has the mesh; here that is the one whose number stays.
    if (document->json.contains("animations"))
      for (Json& animation : document->json["animations"]) {
        if (!animation.contains("channels") || !animation["channels"].is_array()) continue;
        for (Json& channel : animation["channels"]) {
          if (!channel.is_object() || !channel.contains("target") || !channel["target"].is_object()) continue;
          const auto meant = meant_by_.find(channel["target"].value("node", -1));
          if (meant != meant_by_.end()) channel["target"]["node"] = meant->second;
        }
      }
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
    document->binary = binary_;
    delivery_.carried = std::move(document);
  }

  Json json_;
  Blob binary_;
  GltfData data_;
  Delivery delivery_;
  ShownMeshes shown_;
  Json scene_ = Json::object(), layout_ = Json::object(), other_scenes_ = Json::array();
  std::vector<int> roots_;
  std::vector<bool> leave_;    // nodes that stay as they are
  std::vector<bool> visited_;  // nodes that are in a part
  int limit_ = 0;              // numbers below stay
  std::vector<Figure> figures_;
  std::multimap<int, std::size_t> figures_at_;  // the node that has all joints of a figure to that figure
  std::map<int, std::uint32_t> part_of_node_;
  std::map<int, int> skinned_of_;  // head to the node with its bent mesh
  std::map<int, std::vector<int>> stands_under_;
  std::map<int, int> meant_by_;  // the node with an animated part's mesh to the one that moves
};

}  // namespace

Result<Delivery> read_gltf(Glb glb, const std::filesystem::path& path, const ImportOptions& options,
                           const Around& around) {
  if (auto ok = check_version(glb.json); !ok) return tl::unexpected(ok.error());
  std::vector<std::string> notes;
  auto binary = gather_buffers(glb.json, std::move(glb.binary), around.beside, notes);
  if (!binary) return tl::unexpected(binary.error());
  return GltfReader(std::move(glb.json), std::move(*binary), around).read(path, options, std::move(notes));
}

}  // namespace tack
