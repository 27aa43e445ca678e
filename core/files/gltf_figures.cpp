#include "core/files/gltf_figures.h"

#include <fmt/format.h>

#include <map>
#include <set>

#include "core/files/gltf_mesh.h"
#include "core/files/gltf_schema.h"
#include "core/printable.h"

namespace tack {
namespace {

constexpr int kDeepest = 1000;

int node_count(const Json& json) { return count_of(json, Ref::Node); }

Json& node(Json& json, int number) { return json["nodes"][static_cast<std::size_t>(number)]; }
const Json& node(const Json& json, int number) { return json["nodes"][static_cast<std::size_t>(number)]; }

// A number of something that is there, or −1.
int number_at(const Json& owner, const char* key, int count) {
  const auto number = unsigned_at(owner, key, kNoNumber);
  return number && *number < static_cast<std::uint64_t>(count) ? static_cast<int>(*number) : -1;
}

void each_channel(Json& json, const std::function<void(Json& animation, std::size_t channel)>& f) {
  if (!json.contains("animations")) return;
  for (Json& animation : json["animations"]) {
    if (!animation.contains("channels") || !animation["channels"].is_array()) continue;
    const std::size_t count = animation["channels"].size();
    for (std::size_t c = 0; c < count; ++c)
      if (animation["channels"][c].is_object() && animation["channels"][c].contains("target") &&
          animation["channels"][c]["target"].is_object())
        f(animation, c);
  }
}

std::string pointer_of(const Json& target) {
  if (!target.contains("extensions") || !target["extensions"].is_object() ||
      !target["extensions"].contains("KHR_animation_pointer"))
    return {};
  const Json& e = target["extensions"]["KHR_animation_pointer"];
  return e.is_object() && e.contains("pointer") && e["pointer"].is_string() ? e["pointer"].get<std::string>() : "";
}

const std::vector<std::pair<const char*, const char*>>& places() {
  static const std::vector<std::pair<const char*, const char*>> all{
      {"translation", "/translation"}, {"rotation", "/rotation"}, {"scale", "/scale"}};
  return all;
}

// Channels that move the place of `from` move that of `to` instead.
void move_channels(Json& json, int from, int to) {
  each_channel(json, [&](Json& animation, std::size_t c) {
    Json& target = animation["channels"][c]["target"];
    const std::string pointer = pointer_of(target);
    for (const auto& [path, end] : places()) {
      if (target.value("path", std::string{}) == path && number_at(target, "node", node_count(json)) == from)
        target["node"] = to;
      if (node_of_pointer(pointer) == from && pointer.ends_with(end))
        target["extensions"]["KHR_animation_pointer"]["pointer"] = pointer_with(pointer, [&](Ref, int) { return to; });
    }
  });
}

}  // namespace

Result<std::vector<int>> node_list(const Json& json, const Json& owner, const char* key) {
  std::vector<int> list;
  if (!owner.contains(key)) return list;
  if (!owner[key].is_array()) return fail("A list of nodes is damaged.");
  for (const Json& v : owner[key]) {
    if (!v.is_number_integer() || v.get<std::int64_t>() < 0 || v.get<std::int64_t>() >= node_count(json))
      return fail(fmt::format("Node {} is named, but there are {}.", v.dump(), node_count(json)));
    list.push_back(v.get<int>());
  }
  return list;
}

Result<NodeTree> tree_below(const Json& json, const std::vector<int>& roots) {
  NodeTree tree;
  tree.parent.assign(static_cast<std::size_t>(node_count(json)), -2);
  struct Open {
    int number, parent, depth;
  };
  std::vector<Open> pending;
  for (auto root = roots.rbegin(); root != roots.rend(); ++root) pending.push_back({*root, -1, 1});
  while (!pending.empty()) {
    const Open next = pending.back();
    pending.pop_back();
    int& parent = tree.parent[static_cast<std::size_t>(next.number)];
    if (parent != -2) return fail(fmt::format("Node {} has two parents, or is its own.", next.number));
    if (next.depth > kDeepest) return fail(fmt::format("The nodes are nested more than {} deep.", kDeepest));
    parent = next.parent;
    tree.order.push_back(next.number);
    const auto children = node_list(json, node(json, next.number), "children");
    if (!children) return tl::unexpected(children.error());
    for (auto child = children->rbegin(); child != children->rend(); ++child)
      pending.push_back({*child, next.number, next.depth + 1});
  }
  return tree;
}

Result<void> part_scenes(Json& json, const std::vector<int>& roots, Json& other_scenes) {
  const auto ours = tree_below(json, roots);
  if (!ours) return tl::unexpected(ours.error());
  // What the others reach; several of them may share nodes with each other.
  std::vector<int> pending;
  std::set<int> theirs;
  for (const Json& scene : other_scenes) {
    const auto list = node_list(json, scene, "nodes");
    if (!list) return tl::unexpected(list.error());
    pending.insert(pending.end(), list->begin(), list->end());
  }
  while (!pending.empty()) {
    const int next = pending.back();
    pending.pop_back();
    if (!theirs.insert(next).second) continue;
    const auto list = node_list(json, node(json, next), "children");
    if (!list) return tl::unexpected(list.error());
    pending.insert(pending.end(), list->begin(), list->end());
  }
  std::map<int, int> twin;
  for (const int number : theirs)
    if (ours->parent[static_cast<std::size_t>(number)] != -2) {
      Json copy = node(json, number);
      twin[number] = node_count(json);
      json["nodes"].push_back(std::move(copy));
    }
  if (twin.empty()) return {};
  const auto instead = [&](Json& value) {
    if (!value.is_number_integer()) return;
    if (const auto found = twin.find(value.get<int>()); found != twin.end()) value = found->second;
  };
  std::map<int, int> skin_of;
  const auto of_others = [&](Json& n) {
    if (n.contains("children"))
      for (Json& child : n["children"]) instead(child);
    const int skin = number_at(n, "skin", count_of(json, Ref::Skin));
    if (skin < 0) return;
    const auto [known, fresh] = skin_of.try_emplace(skin, skin);
    if (fresh) {
      Json copy = json["skins"][static_cast<std::size_t>(skin)];
      if (copy.contains("skeleton")) instead(copy["skeleton"]);
      if (copy.contains("joints") && copy["joints"].is_array())
        for (Json& joint : copy["joints"]) instead(joint);
      if (copy != json["skins"][static_cast<std::size_t>(skin)]) {
        known->second = count_of(json, Ref::Skin);
        json["skins"].push_back(std::move(copy));
      }
    }
    n["skin"] = known->second;
  };
  for (const int number : theirs) {
    const auto found = twin.find(number);
    of_others(node(json, found == twin.end() ? number : found->second));
  }
  for (Json& scene : other_scenes)
    if (scene.contains("nodes"))
      for (Json& n : scene["nodes"]) instead(n);
  each_channel(json, [&](Json& animation, std::size_t c) {
    Json copy = animation["channels"][c];
    Json& target = copy["target"];
    const std::string pointer = pointer_of(target);
    if (target.contains("node")) instead(target["node"]);
    if (const auto found = twin.find(node_of_pointer(pointer)); found != twin.end())
      target["extensions"]["KHR_animation_pointer"]["pointer"] =
          pointer_with(pointer, [&](Ref, int) { return found->second; });
    if (copy != animation["channels"][c]) animation["channels"].push_back(std::move(copy));
  });
  return {};
}

namespace {

// Whether every primitive that shows something says which joints bend it.
bool names_joints(const Json& mesh) {
  return mesh.contains("primitives") && mesh["primitives"].is_array() &&
         std::all_of(mesh["primitives"].begin(), mesh["primitives"].end(), [](const Json& primitive) {
           return !has_positions(primitive) || primitive["attributes"].contains("JOINTS_0");
         });
}

}  // namespace

Result<std::vector<Figure>> take_figures_out(Json& json, std::vector<int>& roots, std::vector<std::string>& notes) {
  std::vector<Figure> figures;
  if (count_of(json, Ref::Skin) == 0) return figures;
  auto tree = tree_below(json, roots);
  if (!tree) return tl::unexpected(tree.error());
  const auto there = [&](int number) { return tree->parent[static_cast<std::size_t>(number)] != -2; };
  // Which nodes bend a mesh, and which are joints of one.
  std::vector<std::pair<int, std::vector<int>>> bent;
  std::set<int> joints_of_any;
  for (const int number : tree->order) {
    Json& n = node(json, number);
    if (!n.contains("skin")) continue;
    const int skin = number_at(n, "skin", count_of(json, Ref::Skin));
    if (skin < 0) return fail(fmt::format("Node {} has a skin that is not there.", number));
    const int mesh = number_at(n, "mesh", count_of(json, Ref::Mesh));
    if (mesh < 0) continue;
    const Json& s = json["skins"][static_cast<std::size_t>(skin)];
    const auto joints = node_list(json, s, "joints");
    if (!joints) return tl::unexpected(joints.error());
    const bool known = !joints->empty() && std::all_of(joints->begin(), joints->end(), there);
    if (!known || !names_joints(json["meshes"][static_cast<std::size_t>(mesh)])) {
      notes.push_back(fmt::format(
          "\"{}\" {}: it is shown as it is without them.",
          printable(n.value("name", fmt::format("Node {}", number)), 100),
          known ? "has joints that its vertices do not name" : "is bent by joints that are not in its scene"));
      n.erase("skin");
      continue;
    }
    joints_of_any.insert(joints->begin(), joints->end());
    bent.emplace_back(number, *joints);
  }
  if (bent.empty()) return figures;
  for (const auto& [number, joints] : bent) {
    const bool stays = node(json, number).contains("children") || joints_of_any.contains(number);
    const int parent = tree->parent[static_cast<std::size_t>(number)];
    int place = -1;
    if (stays) {
      place = node_count(json);
      Json holder = Json::object();
      Json& n = node(json, number);
      for (const char* key : {"name", "children", "translation", "rotation", "scale", "matrix"})
        if (n.contains(key)) holder[key] = n[key];
      json["nodes"].push_back(std::move(holder));
      tree->parent.push_back(parent);
      const auto children = node_list(json, node(json, place), "children");
      if (!children) return tl::unexpected(children.error());
      for (const int child : *children) tree->parent[static_cast<std::size_t>(child)] = place;
      move_channels(json, number, place);
      for (Json& skin : json["skins"])
        for (const char* key : {"skeleton", "joints"}) {
          if (!skin.contains(key)) continue;
          if (skin[key].is_array()) {
            for (Json& joint : skin[key])
              if (joint == number) joint = place;
          } else if (skin[key] == number) {
            skin[key] = place;
          }
        }
    }
    for (const char* key : {"children", "translation", "rotation", "scale", "matrix"}) node(json, number).erase(key);
    if (parent < 0) {
      const auto at = std::find(roots.begin(), roots.end(), number);
      if (place >= 0)
        *at = place;
      else
        roots.erase(at);
    } else {
      auto& siblings = node(json, parent)["children"].get_ref<Json::array_t&>();
      const auto at = std::find(siblings.begin(), siblings.end(), Json(number));
      if (place >= 0)
        *at = place;
      else
        siblings.erase(at);
      if (siblings.empty()) node(json, parent).erase("children");
    }
    tree->parent[static_cast<std::size_t>(number)] = -2;
  }
  tree = tree_below(json, roots);
  if (!tree) return tl::unexpected(tree.error());
  // The lowest node with all joints of a mesh in it; −1 where they are in several trees.
  const auto chain = [&](int number) {
    std::vector<int> up;
    for (; number >= 0; number = tree->parent[static_cast<std::size_t>(number)]) up.push_back(number);
    return up;
  };
  std::map<int, std::vector<int>> by_top;
  std::set<int> roots_in_use;
  bool everywhere = false;
  for (const auto& [number, was] : bent) {
    const auto joints = node_list(json, json["skins"][node(json, number)["skin"].get<std::size_t>()], "joints");
    std::vector<int> common = chain(joints->front());
    for (const int joint : *joints) {
      const std::vector<int> up = chain(joint);
      roots_in_use.insert(up.back());
      std::erase_if(common, [&](int n) { return std::find(up.begin(), up.end(), n) == up.end(); });
    }
    everywhere |= common.empty();
    by_top[common.empty() ? -1 : common.front()].push_back(number);
  }
  if (everywhere) {
    Figure all;
    for (const auto& [number, joints] : bent) all.meshes.push_back(number);
    for (const int root : roots)
      if (roots_in_use.contains(root)) all.tops.push_back(root);
    figures.push_back(std::move(all));
    return figures;
  }
  for (const int number : tree->order) {
    const auto found = by_top.find(number);
    if (found == by_top.end()) continue;
    // Below the joints of another figure: they are one.
    const std::vector<int> up = chain(number);
    const auto above = std::find_if(figures.begin(), figures.end(), [&](const Figure& f) {
      return std::find(up.begin(), up.end(), f.tops.front()) != up.end();
    });
    if (above == figures.end())
      figures.push_back({found->second, {number}, tree->parent[static_cast<std::size_t>(number)]});
    else
      above->meshes.insert(above->meshes.end(), found->second.begin(), found->second.end());
  }
  return figures;
}

std::vector<bool> nodes_to_leave(const Json& json) {
  const int count = node_count(json);
  std::vector<bool> leave(static_cast<std::size_t>(count), false);
  const auto mark = [&](int number) {
    if (number >= 0 && number < count) leave[static_cast<std::size_t>(number)] = true;
  };
  if (json.contains("animations"))
    for (const Json& animation : json["animations"])
      if (animation.contains("channels") && animation["channels"].is_array())
        for (const Json& channel : animation["channels"])
          if (channel.is_object() && channel.contains("target") && channel["target"].is_object()) {
            mark(number_at(channel["target"], "node", count));
            mark(node_of_pointer(pointer_of(channel["target"])));
          }
  if (json.contains("skins"))
    for (const Json& skin : json["skins"])
      if (const auto joints = node_list(json, skin, "joints"))
        for (const int joint : *joints) mark(joint);
  constexpr std::string_view kStandStill[] = {"KHR_lights_punctual",   "EXT_mesh_gpu_instancing",
                                              "KHR_node_visibility",   "KHR_node_selectability",
                                              "KHR_node_hoverability", "KHR_xmp_json_ld"};
  if (json.contains("extensions") && json["extensions"].is_object()) {
    // What names nodes from outside the tree.
    bool any = !unknown_with_numbers(Json{{"extensions", json["extensions"]}}).empty();
    for (const auto& [name, extension] : json["extensions"].items()) any |= name.starts_with("VRM");
    if (any) leave.assign(leave.size(), true);
  }
  for (int i = 0; i < count; ++i) {
    const Json& n = node(json, i);
    if (!n.contains("extensions") || !n["extensions"].is_object()) continue;
    for (const auto& [name, extension] : n["extensions"].items())
      if (!name.starts_with("TACKPOINT_") &&
          std::find(std::begin(kStandStill), std::end(kStandStill), name) == std::end(kStandStill))
        mark(i);
  }
  return leave;
}

}  // namespace tack
