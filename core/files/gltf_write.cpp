// Writing the document; declared in document.h, laid out in docs/format.md.
#include <fmt/format.h>

#include <map>
#include <set>

#include "core/files/document.h"
#include "core/files/glb.h"
#include "core/files/gltf_colours.h"
#include "core/files/gltf_node.h"
#include "core/files/gltf_write_mesh.h"
#include "core/files/kept_record.h"
#include "core/files/part_extension.h"
#include "core/files/plane_json.h"
#include "core/files/steps.h"
#include "core/files/tie_json.h"
#include "core/verbs/patch.h"

namespace tack {
namespace {

constexpr const char* kGenerator = "Tack Point";

class DocumentWriter {
 public:
  DocumentWriter(const Scene& scene, const DocumentSettings& settings, NarrowPlaces& narrow)
      : scene_(scene), settings_(settings), meshes_(json_, binary_, scene.colours(), narrow) {
    if (scene.carried()) {
      json_ = scene.carried()->json;
      binary_.hold(scene.carried()->binary);
    }
    for (const char* key : {"meshes", "accessors", "bufferViews", "materials"})
      if (!json_.contains(key)) json_[key] = Json::array();
    write_changes(json_, scene.colours());
    for (const PartId id : scene.in_tree_order())
      if (const MeshPtr& mesh = shared_mesh(scene.part(id))) ++shared_[mesh.get()];
  }

  // The document in its two halves; with a record, if that can be kept: what keeps it from being so is put in `note`.
  WrittenGltf write(std::optional<WrittenRecord> record, std::string* note) {
    number_nodes();
    write_nodes();
    drop_what_moved_what_is_gone();
    colours_ = meshes_.list_of_colours();
    if (record) {
      if (auto put = put_record(*record, json_, binary_))
        record_ = std::move(*put);
      else if (note)
        *note = put.error().what;
      record.reset();
    }
    std::vector<std::size_t> cuts = cuts_of(json_, binary_.size());
    std::string text = assemble();
    return {std::move(text), std::move(binary_), std::move(cuts)};
  }

 private:
  // The nodes of one part. `undone` and `undone_too` take back what verbs have taken into the part, for what its file
  // had in the node's own frame; `skinned` stands at the scene's root.
  struct Numbers {
    int head = -1, inner = -1, moved = -1, undone = -1, undone_too = -1, geometry = -1, skinned = -1;
    // Where children hang.
    int body() const {
      for (const int n : {undone_too, undone, moved, inner})
        if (n >= 0) return n;
      return head;
    }
    // What the numbers of the file mean: what moves, or what has the part's mesh and the rest of its content.
    int meant(bool animated) const {
      if (animated) return moved >= 0 ? moved : head;
      return skinned >= 0 ? skinned : geometry >= 0 ? geometry : inner >= 0 ? inner : head;
    }
  };

  // Everything that has been taken into the part since its file was made.
  static Affine taken_into(const Part& part) {
    return part.carried ? part.source->baked * part.carried->taken : part.source->baked;
  }

  static bool is_animated(const Part& part) { return part.carried && part.carried->animated; }

  static Affine rest_of(const Part& part) {
    const auto rest = node_placement(part.carried->rest);
    return matrix_of(rest ? unflattened(*rest) : Placement{});
  }
  // Where the animated node of a part stands at rest.
  static Affine mover_of(const Part& part) { return matrix_of(unflattened(part.placement)) * taken_into(part); }

  static bool is_wrapped(const Part& part) {
    if (!is_animated(part)) return false;
    const Affine rest = rest_of(part), now = mover_of(part);
    double off = distance(rest.translation, now.translation) / (1 + length(rest.translation));
    for (int i = 0; i < 3; ++i)
      off = std::max(off,
                     distance(rest.linear.column[i], now.linear.column[i]) / (1e-12 + length(rest.linear.column[i])));
    return off > 1e-12;
  }

  // The wrapper's matrix: what stands above an animated node so that it comes to rest where it was placed.
  static Affine wrapper_of(const Part& part) {
    const auto back = inverse(rest_of(part));
    return back ? mover_of(part) * *back : Affine{};
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

  // What undoes below an animated node what has been taken into its part; nothing to undo in most.
  static std::optional<HeadNodes> undone_of(const Part& part) {
    if (!is_animated(part) || taken_into(part) == Affine{}) return std::nullopt;
    const auto back = inverse(taken_into(part));
    if (!back) return std::nullopt;
    const auto placement = placement_from(*back);
    return head_nodes(*back, placement ? *placement : Placement{});
  }

  // Nodes that came with a file keep their numbers, because animations, skins and extensions refer to them; ours come
  // behind. Where what had a number is gone, an empty node holds its place.
  void number_nodes() {
    const int limit = scene_.carried() ? scene_.carried()->node_limit : 0;
    nodes_.assign(static_cast<std::size_t>(limit), "{}");
    std::vector<bool> used(static_cast<std::size_t>(limit), false);
    if (scene_.carried())
      for (const auto& [number, other] : scene_.carried()->other_nodes) {
        nodes_[static_cast<std::size_t>(number)] = json_text(other);
        used[static_cast<std::size_t>(number)] = true;
      }
    int next = limit;
    root_ = next++;
    for (const PartId id : scene_.in_tree_order()) {
      const Part& part = scene_.part(id);
      Numbers n;
      const bool wrapped = is_wrapped(part);
      const auto undone = undone_of(part);
      // A copy of a part has the same number: it is the first one's.
      const int own = part.carried ? part.carried->original : -1;
      int* kept = nullptr;
      if (own >= 0 && own < limit && !used[static_cast<std::size_t>(own)])
        kept = is_animated(part)                                   ? (wrapped ? &n.moved : &n.head)
               : part.skin                                         ? &n.skinned
               : (is_written_in_metres(part) && has_content(part)) ? &n.geometry
               : head_of(part).inner                               ? &n.inner
                                                                   : &n.head;
      if (kept) {
        *kept = own;
        used[static_cast<std::size_t>(own)] = true;
      }
      const auto number = [&](int& slot, bool wanted) {
        if (wanted && slot < 0) slot = next++;
      };
      number(n.head, true);
      // An animated node that stands as it came is written as it came, skew and all.
      number(n.inner, head_of(part).inner.has_value() && (wrapped || !is_animated(part)));
      number(n.moved, wrapped);
      number(n.undone, undone.has_value());
      number(n.undone_too, undone && undone->inner);
      number(n.geometry, is_written_in_metres(part) && has_content(part));
      number(n.skinned, part.skin != nullptr);
      numbers_[id] = n;
    }
    nodes_.resize(static_cast<std::size_t>(next), "{}");
    for (std::size_t i = 0; i < used.size(); ++i)
      if (!used[i]) gone_.insert(static_cast<int>(i));
  }

  void put(int number, const Json& node) { nodes_[static_cast<std::size_t>(number)] = json_text(node); }

  void write_nodes() {
    Json root{{"name", "Millimetres, Z up"}};
    root["rotation"] = Json::array({-kHalfRoot, 0.0, 0.0, kHalfRoot});
    root["scale"] = Json::array({0.001, 0.001, 0.001});
    scene_roots_.push_back(root_);
    Json children = Json::array();
    for (const PartId id : scene_.roots()) children.push_back(numbers_.at(id).head);
    if (!children.empty()) root["children"] = children;
    put(root_, root);
    for (const PartId id : scene_.in_tree_order()) write_part(id);
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
  static Json with_role(const char* role) { return {{"extensions", {{"TACKPOINT_part", {{"role", role}}}}}}; }

  void write_part(PartId id) {
    const Part& part = scene_.part(id);
    const Numbers& n = numbers_.at(id);
    const bool animated = is_animated(part);
    const Affine taken = taken_into(part);
    HeadNodes heads = head_of(part);
    Json head{{"name", part.name}};
    Json extension = write_part_extension(part);
    if (part.source->geometry_in_metres && !is_written_in_metres(part)) extension.erase("metres");
    if (animated) extension["animated"] = true;
    if (part.stretched && shared_.at(part.stretched->base.get()) > 1) {
      Part base = part;
      base.mesh = part.stretched->base;
      PartSource& source = base.source.change();
      source.carried_mesh = part.stretched->carried_mesh;
      source.geometry_in_metres = part.stretched->in_metres;
      if (!part.stretched->longer) source.lengthened = nullptr;
      base.stretched = nullptr;
      extension["stretch"] = {{"of", meshes_.number_of(base)}, {"lengths", lengths_json(part.stretched->lengths)}};
      if (is_written_in_metres(base)) extension["stretch"]["metres"] = true;
    }
    if (taken != Affine{} && (animated || (n.geometry >= 0 && !part.mesh))) extension["taken"] = affine_json(taken);
    head["extensions"] = {{"TACKPOINT_part", extension}};
    add_members(head, animated && n.moved < 0 ? part.carried->rest : heads.head);

    Json children = Json::array();
    for (const PartId child : part.children) children.push_back(numbers_.at(child).head);
    if (n.geometry >= 0) children.push_back(n.geometry);

    // The chain from the head down; content goes onto what moves, the mesh and the children onto the last of it.
    std::vector<std::pair<int, Json>> chain;
    chain.emplace_back(n.head, std::move(head));
    const auto link = [&](int number, Json node) {
      chain.back().second["children"] = Json::array({number});
      chain.emplace_back(number, std::move(node));
    };
    if (n.inner >= 0) {
      Json inner = with_role("skew");
      add_members(inner, *heads.inner);
      link(n.inner, std::move(inner));
    }
    if (n.moved >= 0) {
      Json moved = with_role("animated");
      add_members(moved, part.carried->rest);
      moved["name"] = part.name;
      link(n.moved, std::move(moved));
    }
    const std::size_t mover = chain.size() - 1;
    if (n.undone >= 0) {
      const HeadNodes undone = *undone_of(part);
      Json outer = with_role("undone");
      add_members(outer, undone.head);
      link(n.undone, std::move(outer));
      if (n.undone_too >= 0) {
        Json inner = with_role("undone");
        add_members(inner, *undone.inner);
        link(n.undone_too, std::move(inner));
      }
    }
    if (!children.empty()) chain.back().second["children"] = children;
    if (part.carried) add_members(chain.front().second, part.carried->head);
    if (n.skinned >= 0) {
      Json skinned = with_role("skinned");
      skinned["extensions"]["TACKPOINT_part"]["of"] = n.head;
      skinned["name"] = part.name;
      write_content(skinned, skinned, part);
      skinned["skin"] = skin_of(part);
      put(n.skinned, skinned);
      scene_roots_.push_back(n.skinned);
    } else if (n.geometry >= 0) {
      // What has no mesh of its own, a camera or a light, stays as it stood although the part's frame was turned.
      Json geometry = with_role("geometry");
      if (!part.mesh && taken != Affine{}) {
        const auto placement = placement_from(taken * metres_to_millimetres());
        if (placement) add_members(geometry, head_nodes(taken * metres_to_millimetres(), *placement).head);
      } else {
        geometry["rotation"] = Json::array({kHalfRoot, 0.0, 0.0, kHalfRoot});
        geometry["scale"] = Json::array({1000.0, 1000.0, 1000.0});
      }
      write_content(geometry, geometry, part);
      put(n.geometry, geometry);
    } else {
      write_content(chain.back().second, chain[mover].second, part);
    }
    if (animated && n.undone >= 0 && part.mesh) mesh_below_[chain[mover].first] = n.body();
    for (const auto& [number, node] : chain) put(number, node);
  }

  static bool has_targets(const Json& mesh) {
    const auto primitives = mesh.find("primitives");
    return primitives != mesh.end() && std::any_of(primitives->begin(), primitives->end(), [](const Json& p) {
             return p.is_object() && p.contains("targets");
           });
  }

  // The mesh and its weights onto `node`, everything else that came along onto `frame`.
  void write_content(Json& node, Json& frame, const Part& part) {
    if (part.mesh) node["mesh"] = meshes_.number_of(part);
    if (!part.carried) return;
    Json content = part.carried->content;
    const bool is_object = content.is_object();
    if (is_object && content.contains("weights")) {
      // A mesh that was made anew has no targets for them.
      if (!part.mesh || has_targets(json_["meshes"][node["mesh"].get<std::size_t>()]))
        node["weights"] = content["weights"];
      content.erase("weights");
    }
    if (is_object && content.contains("mesh") && !part.mesh) {
      node["mesh"] = content["mesh"];
      content.erase("mesh");
    }
    add_members(frame, content);
  }

  // The number of a skin with the part's joints: the one that it came with as long as those are the same nodes.
  int skin_of(const Part& part) {
    Json joints = Json::array();
    for (const PartId joint : part.skin->joints)
      joints.push_back(numbers_.at(joint).meant(is_animated(scene_.part(joint))));
    Json& skins = json_["skins"];
    const auto number = static_cast<std::size_t>(part.skin->carried);
    skins_used_.insert(part.skin->carried);
    if (skins[number]["joints"] == joints) return part.skin->carried;
    Json skin = skins[number];
    skin["joints"] = joints;
    skin.erase("skeleton");
    const auto same = std::find(skins.begin(), skins.end(), skin);
    const auto at = static_cast<int>(same - skins.begin());
    if (same == skins.end()) skins.push_back(std::move(skin));
    skins_used_.insert(at);
    return at;
  }

  // Channels whose node was deleted go with it; a skin that nothing has any more keeps its number, and joints that are
  // there.
  void drop_what_moved_what_is_gone() {
    const auto is_gone = [&](const Json& owner, const char* key) {
      return owner.is_object() && owner.contains(key) && owner[key].is_number_integer() &&
             gone_.contains(owner[key].get<int>());
    };
    if (json_.contains("animations"))
      for (Json& animation : json_["animations"]) {
        if (!animation.contains("channels") || !animation["channels"].is_array()) continue;
        Json kept = Json::array();
        for (Json& channel : animation["channels"]) {
          if (channel.is_object() && channel.contains("target") && is_gone(channel["target"], "node")) continue;
          if (channel.is_object() && channel.contains("target") && channel["target"].is_object()) {
            // Weights move the node that has the mesh.
            Json& target = channel["target"];
            if (target.value("path", std::string{}) == "weights" && target.contains("node"))
              if (const auto found = mesh_below_.find(target["node"].get<int>()); found != mesh_below_.end())
                target["node"] = found->second;
          }
          kept.push_back(channel);
        }
        // An animation keeps its number, and one without a channel would not be valid: this one moves nothing.
        if (kept.empty() && !animation["channels"].empty()) {
          Json idle = animation["channels"][0];
          idle["target"].erase("node");
          kept.push_back(std::move(idle));
        }
        animation["channels"] = kept;
      }
    if (!json_.contains("skins")) return;
    for (std::size_t s = 0; s < json_["skins"].size(); ++s) {
      Json& skin = json_["skins"][s];
      if (!skin.is_object()) continue;
      if (is_gone(skin, "skeleton")) skin.erase("skeleton");
      if (skins_used_.contains(static_cast<int>(s)) || !skin.contains("joints") || !skin["joints"].is_array()) continue;
      const bool whole = std::none_of(skin["joints"].begin(), skin["joints"].end(), [&](const Json& j) {
        return j.is_number_integer() && gone_.contains(j.get<int>());
      });
      if (whole) continue;
      skin["joints"] = Json::array({root_});
      skin.erase("inverseBindMatrices");
    }
  }

  Json scenes() const {
    Json layout{{"version", "1.3"}, {"root", root_}, {"unit", settings_.unit}};
    if (scene_.carried() && scene_.carried()->node_limit > 0) layout["imported"] = scene_.carried()->node_limit;
    if (settings_.view) layout["view"] = *settings_.view;
    if (!record_.is_null()) layout["record"] = record_;
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
      for (const Json& other : scene_.carried()->other_scenes) all.push_back(other);
    return all;
  }

  void use_extension(const char* name) {
    Json& used = json_["extensionsUsed"];
    if (!used.is_array()) used = Json::array();
    if (std::find(used.begin(), used.end(), name) == used.end()) used.push_back(name);
  }

  // The document in one fixed order of members, so that reading and writing again gives the same bytes. Nodes are text
  // as soon as they are whole: ten thousand of them would be most of what writing takes.
  std::string assemble() {
    use_extension("TACKPOINT_layout");
    if (scene_.size() > 0) use_extension("TACKPOINT_part");
    for (const Json& mesh : json_["meshes"])
      if (mesh.is_object() && mesh.contains("extensions") && mesh["extensions"].contains("TACKPOINT_mesh"))
        use_extension("TACKPOINT_mesh");
    Json all_scenes = scenes();
    Json buffers = Json::array();
    if (!binary_.empty()) {
      Json first = json_.contains("buffers") && !json_["buffers"].empty() ? json_["buffers"][0] : Json::object();
      first["byteLength"] = binary_.size();
      buffers.push_back(std::move(first));
    }
    if (json_.contains("buffers"))
      for (std::size_t i = 1; i < json_["buffers"].size(); ++i) buffers.push_back(std::move(json_["buffers"][i]));
    json_.erase("buffers");
    json_.erase("TACKPOINT_scene");

    Json asset = json_.contains("asset") && json_["asset"].is_object() ? json_["asset"] : Json::object();
    asset["version"] = "2.0";
    asset["generator"] = kGenerator;
    json_.erase("asset");
    std::string out = "{\"asset\":" + json_text(asset);
    const auto member = [&](const std::string& key, const Json& value) {
      out.append(",").append(json_text(key)).append(":").append(json_text(value));
    };
    const auto take = [&](const char* key) {
      if (!json_.contains(key)) return;
      if (!(json_[key].is_array() && json_[key].empty())) member(key, json_[key]);
      json_.erase(key);
    };
    for (const char* key : {"extensionsUsed", "extensionsRequired", "extensions"}) take(key);
    member("scene", 0);
    member("scenes", all_scenes);
    out += ",\"nodes\":[";
    for (const std::string& node : nodes_) out.append(&node == &nodes_.front() ? "" : ",").append(node);
    out += "]";
    for (const char* key : {"meshes", "accessors", "bufferViews"}) take(key);
    if (!buffers.empty()) member("buffers", buffers);
    for (const char* key : {"materials", "textures", "images", "samplers", "skins", "animations", "cameras", "extras"})
      take(key);
    // What came with the file under the names of ours gives way to them.
    for (const char* key : {"scene", "scenes", "nodes", "buffers"}) json_.erase(key);
    for (const auto& [key, value] : json_.items()) member(key, value);
    out += "}";
    return out;
  }

  const Scene& scene_;
  const DocumentSettings& settings_;
  Json json_ = Json::object();
  ByteRuns binary_;
  MeshWriter meshes_;
  Json colours_, record_;
  std::vector<std::string> nodes_;  // each as text
  std::vector<int> scene_roots_;
  int root_ = 0;
  std::map<PartId, Numbers> numbers_;
  std::map<const Mesh*, int> shared_;  // how many parts share a mesh, longer copies among them
  std::set<int> gone_;                 // numbers that nothing has any more
  std::map<int, int> mesh_below_;      // of an animated node, where its mesh stands below what undoes a bake
  std::set<int> skins_used_;
};

}  // namespace

namespace {

WrittenGltf written(const Scene& scene, const DocumentSettings& settings, NarrowPlaces& narrow) {
  return DocumentWriter(without_patches(scene), settings, narrow).write(std::nullopt, nullptr);
}

// The steps with all that doing them again takes. A step that is left out, or fails, is written as it was when it last
// worked: what it is about may not be there now.
WrittenRecord kept(const Record& record, const DocumentSettings& settings, NarrowPlaces& narrow) {
  WrittenRecord all;
  all.scenes.push_back(written(record.start, settings, narrow));
  all.steps = "[";
  std::map<const Delivery*, std::size_t> files;
  for (std::size_t i = 0; i < record.steps.size(); ++i) {
    const Step& step = *record.steps[i];
    Json entry = to_json(step.verb, step.worked_on ? *step.worked_on : record.before(i));
    if (step.left_out) entry[kLeftOut] = true;
    if (const auto* bring = std::get_if<Bring>(&step.verb); bring && bring->source) {
      const auto [file, is_new] = files.try_emplace(bring->source.get(), all.scenes.size());
      if (is_new) {
        const auto document = document_of(*bring->source);
        if (!document) throw std::runtime_error(document.error().what);
        all.scenes.push_back(written(document->scene, document->settings, narrow));
      }
      entry[kKeptScene] = file->second;
      entry["file"] = bring->file;  // where it lay is nobody's business
    }
    all.steps.append(i > 0 ? "," : "").append(json_text(entry));
  }
  all.steps += "]";
  return all;
}

}  // namespace

Result<ByteRuns> document_runs(const Scene& scene, const DocumentSettings& settings, const Record* record,
                               std::string* note) {
  try {
    NarrowPlaces narrow;
    std::optional<WrittenRecord> steps;
    if (record && !record->steps.empty()) steps = kept(*record, settings, narrow);
    const bool with_steps = steps.has_value();
    WrittenGltf document = DocumentWriter(without_patches(scene), settings, narrow).write(std::move(steps), note);
    auto glb = glb_around(std::move(document.json), document.binary);
    if (glb) {
      seal_record(*glb);
      return runs_of(std::move(*glb));
    }
    if (!with_steps) return tl::unexpected(glb.error());
    // Over the most that the container holds: the scene comes before what led to it.
    if (note) *note = "The steps are not kept in the document: it would be over 4 GB with them.";
    return document_runs(scene, settings);
  } catch (const std::exception& error) {
    return fail(fmt::format("The document could not be written: {}.", error.what()));
  }
}

Result<Bytes> write_document(const Scene& scene, const DocumentSettings& settings, const Record* record,
                             std::string* note) {
  const auto runs = document_runs(scene, settings, record, note);
  if (!runs) return tl::unexpected(runs.error());
  try {
    return bytes_of(*runs);
  } catch (const std::bad_alloc&) {
    return fail("The document needs more memory than there is.");
  }
}

}  // namespace tack
