#include "core/verbs/nest.h"

#include <fmt/format.h>

#include <charconv>
#include <map>
#include <nlohmann/json.hpp>

#include "core/mesh/transform.h"
#include "core/verbs/outline.h"

namespace tack {
namespace {

// The nearest part above all of `parts`; kNoPart: the top of the tree.
PartId common_parent(const Scene& scene, const std::vector<PartId>& parts) {
  for (PartId up = scene.part(parts.front()).parent; up != kNoPart; up = scene.part(up).parent)
    if (std::all_of(parts.begin(), parts.end(), [&](PartId id) { return id != up && is_within(scene, id, up); }))
      return up;
  return kNoPart;
}

// Adds a copy of `id` and everything below it under `parent`. Copies of linked copies share one new mesh when they are
// not linked to the old one.
PartId add_copy(Scene& scene, const Scene& from, PartId id, PartId parent, bool linked,
                std::map<const Mesh*, MeshPtr>& own) {
  Part part = from.part(id);
  part.parent = parent;
  if (part.mesh && !linked) {
    MeshPtr& mesh = own[part.mesh.get()];
    if (!mesh) mesh = duplicated(*part.mesh);
    part.mesh = mesh;
  }
  const PartId copy = scene.add(std::move(part));
  for (const PartId child : from.part(id).children) add_copy(scene, from, child, copy, linked, own);
  return copy;
}

std::optional<Colour> colour_from(const std::string& text) {
  if (text.size() != 7 || text[0] != '#') return std::nullopt;
  std::array<float, 3> c{};
  for (std::size_t i = 0; i < 3; ++i) {
    unsigned value = 0;
    const char* begin = text.data() + 1 + 2 * i;
    const auto [end, error] = std::from_chars(begin, begin + 2, value, 16);
    if (error != std::errc{} || end != begin + 2) return std::nullopt;
    c[i] = static_cast<float>(value) / 255;
  }
  return Colour{c[0], c[1], c[2], 1};
}

std::string colour_text(const Colour& c) {
  return fmt::format("#{:02X}{:02X}{:02X}", std::lround(c.r * 255), std::lround(c.g * 255), std::lround(c.b * 255));
}

Sentence about_parts(std::string before, const Scene& scene, const std::vector<PartId>& what, std::string after) {
  return {{std::move(before)}, {names_of(scene, what), Blank::What, what.empty()}, {std::move(after)}};
}

}  // namespace

Result<Scene> apply(const Group& group, const Scene& scene) {
  const auto parts = movable(scene, group.what);
  if (!parts) return tl::unexpected(parts.error());
  auto at = still_point(group.at, scene, parts->front(), *parts, AxesKind::World);
  // Groups of nothing but empty groups have no box: the group stands where the first of them does.
  if (!at && group.at == middle_of_all())
    at = world_of(scene, parts->front()) * scene.part(parts->front()).placement.pivot;
  if (!at) return tl::unexpected(at.error());
  Scene result = scene;
  Part part;
  part.parent = common_parent(scene, *parts);
  part.name = free_name(scene, part.parent, group.name.empty() ? "Group" : group.name);
  const PartId id = result.add(std::move(part));
  auto placed = moved_pivot_to(result, id, *at);
  if (!placed) return placed;
  return apply(Reparent{*parts, id, true}, *placed);
}

Result<Scene> apply(const Ungroup& ungroup, const Scene& scene) {
  const auto parts = movable(scene, ungroup.what);
  if (!parts) return tl::unexpected(parts.error());
  Scene result = scene;
  for (const PartId id : *parts) {
    const Part part = result.part(id);
    if (part.children.empty()) return fail(fmt::format("\"{}\" has no parts below it.", part.name));
    auto released = apply(Reparent{part.children, part.parent, true}, result);
    if (!released) return released;
    result = std::move(*released);
    if (!part.mesh) result.remove(id);
  }
  return result;
}

Result<Scene> apply(const Copy& copy, const Scene& scene) {
  if (copy.what.empty()) return fail("Nothing is picked.", {}, "Pick a part first.");
  for (const PartId id : copy.what)
    if (!scene.contains(id)) return fail("A part that this step copies is no longer there.");
  Vec3 by;
  for (int i = 0; i < 3; ++i) {
    const auto value = evaluate(copy.by[static_cast<std::size_t>(i)], EntryKind::Length, 0.0, scene);
    if (!value) return tl::unexpected(value.error());
    by[i] = *value;
  }
  Scene result = scene;
  std::map<const Mesh*, MeshPtr> own;
  for (const PartId id : topmost(scene, copy.what)) {
    const PartId parent = scene.part(id).parent;
    const std::string name = next_name(result, parent, scene.part(id).name);
    const PartId added = add_copy(result, scene, id, parent, copy.linked, own);
    Part part = result.part(added);
    part.name = name;
    part.locked = false;
    result.replace(added, std::move(part));
    if (by == Vec3{}) continue;
    auto moved = moved_rigidly(result, {added}, {}, {}, by);
    if (!moved) return moved;
    result = std::move(*moved);
  }
  return result;
}

Result<Scene> apply(const Separate& separate, const Scene& scene) {
  const auto parts = movable(scene, separate.what);
  if (!parts) return tl::unexpected(parts.error());
  std::map<const Mesh*, int> users;
  for (const PartId id : scene.in_tree_order())
    if (const MeshPtr& mesh = scene.part(id).mesh) ++users[mesh.get()];
  Scene result = scene;
  bool any = false;
  for (const PartId id : separate.what) {
    Part part = result.part(id);
    if (!part.mesh || users[part.mesh.get()]-- < 2) continue;
    part.mesh = duplicated(*part.mesh);
    result.replace(id, std::move(part));
    any = true;
  }
  if (!any) return fail(fmt::format("{} shares no mesh with another part.", names_of(scene, separate.what)));
  return result;
}

Result<Scene> apply(const Paint& paint, const Scene& scene) {
  if (paint.what.empty()) return fail("Nothing is picked.", {}, "Pick a part first.");
  Scene result = scene;
  for (const PartId top : paint.what) {
    if (!scene.contains(top)) return fail("A part that this step colours is no longer there.");
    // A group's colour is that of what is in it.
    for (const PartId id : scene.in_tree_order()) {
      if (id != top && (scene.part(top).mesh || !is_within(scene, id, top))) continue;
      Part part = result.part(id);
      if (!part.mesh) continue;
      for (Colour& c : part.colours) c = {paint.colour.r, paint.colour.g, paint.colour.b, c.a};
      part.recoloured = true;
      result.replace(id, std::move(part));
    }
  }
  return result;
}

Sentence sentence(const Group& group, const Scene& scene, Tense, const LengthUnit&) {
  return {{"Put "},   {names_of(scene, group.what), Blank::What, group.what.empty()},
          {" into "}, {group.name.empty() ? "a group" : group.name, Blank::Name},
          {", at "},  {about_words(group.at, scene, {}), Blank::At},
          {"."}};
}
Sentence sentence(const Ungroup& ungroup, const Scene& scene, Tense tense, const LengthUnit&) {
  return about_parts(tense == Tense::Past ? "Took what is in " : "Take what is in ", scene, ungroup.what, " out.");
}
Sentence sentence(const Copy& copy, const Scene& scene, Tense tense, const LengthUnit& unit) {
  Sentence s{{tense == Tense::Past ? "Copied " : "Copy "},
             {names_of(scene, copy.what), Blank::What, copy.what.empty()},
             {", "},
             {copy.linked ? "linked" : "with a mesh of its own", Blank::Linked},
             {", "}};
  for (std::size_t i = 0; i < 3; ++i) {
    s.push_back({shown(copy.by[i], EntryKind::Length, unit), Blank(int(Blank::X) + int(i))});
    s.push_back({i < 2 ? " · " : " away."});
  }
  return s;
}
Sentence sentence(const Separate& separate, const Scene& scene, Tense tense, const LengthUnit&) {
  return about_parts(tense == Tense::Past ? "Gave " : "Give ", scene, separate.what,
                     separate.what.size() > 1 ? " meshes of their own." : " a mesh of its own.");
}
Sentence sentence(const Paint& paint, const Scene& scene, Tense tense, const LengthUnit&) {
  return {{tense == Tense::Past ? "Coloured " : "Colour "},
          {names_of(scene, paint.what), Blank::What, paint.what.empty()},
          {" "},
          {colour_text(paint.colour), Blank::Colour},
          {"."}};
}

Json to_json(const Group& group, const Scene& scene) {
  Json j{{"verb", "group"}, {"what", parts_to_json(group.what, scene)}};
  if (!group.name.empty()) j["name"] = group.name;
  j["at"] = about_to_json(group.at, scene);
  return j;
}
Json to_json(const Ungroup& ungroup, const Scene& scene) {
  return {{"verb", "ungroup"}, {"what", parts_to_json(ungroup.what, scene)}};
}
Json to_json(const Copy& copy, const Scene& scene) {
  return {{"verb", "copy"},
          {"what", parts_to_json(copy.what, scene)},
          {"linked", copy.linked},
          {"by", Json::array({amount_to_json(copy.by[0]), amount_to_json(copy.by[1]), amount_to_json(copy.by[2])})}};
}
Json to_json(const Separate& separate, const Scene& scene) {
  return {{"verb", "separate"}, {"what", parts_to_json(separate.what, scene)}};
}
Json to_json(const Paint& paint, const Scene& scene) {
  return {{"verb", "colour"}, {"what", parts_to_json(paint.what, scene)}, {"colour", colour_text(paint.colour)}};
}

Result<Group> group_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "name", "at"}); !ok) return tl::unexpected(ok.error());
  Group group;
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  group.what = std::move(*what);
  if (json.contains("name")) {
    if (!json["name"].is_string()) return fail("This should be a name.", "name");
    group.name = json["name"].get<std::string>();
  }
  if (json.contains("at")) {
    const auto at = about_from_json(json["at"], "at", scene);
    if (!at) return tl::unexpected(at.error());
    group.at = *at;
  }
  return group;
}
Result<Ungroup> ungroup_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what"}); !ok) return tl::unexpected(ok.error());
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  return Ungroup{std::move(*what)};
}
Result<Copy> copy_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "linked", "by"}); !ok) return tl::unexpected(ok.error());
  Copy copy;
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  copy.what = std::move(*what);
  if (json.contains("linked")) {
    if (!json["linked"].is_boolean()) return fail("This should be true or false.", "linked");
    copy.linked = json["linked"].get<bool>();
  }
  if (json.contains("by")) {
    const auto by = amounts_from_json(json["by"], EntryKind::Length, "by", scene);
    if (!by) return tl::unexpected(by.error());
    for (std::size_t i = 0; i < 3; ++i) copy.by[i] = (*by)[i].value_or(Amount{});
  }
  return copy;
}
Result<Separate> separate_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what"}); !ok) return tl::unexpected(ok.error());
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  return Separate{std::move(*what)};
}
Result<Paint> paint_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "colour"}); !ok) return tl::unexpected(ok.error());
  Paint paint;
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  paint.what = std::move(*what);
  const auto colour = json.contains("colour") && json["colour"].is_string()
                          ? colour_from(json["colour"].get<std::string>())
                          : std::nullopt;
  if (!colour) return fail("A colour is written like #C87A5A.", "colour");
  paint.colour = *colour;
  return paint;
}

}  // namespace tack
