#include "core/files/part_extension.h"

#include <fmt/format.h>

#include <unordered_set>

#include "core/files/gltf_node.h"
#include "core/files/plane_json.h"
#include "core/math/degrees.h"
#include "core/math/split.h"

namespace tack {
namespace {

constexpr const char* kName = "TACKPOINT_part";
constexpr std::pair<const char*, GuideKind> kGuides[] = {
    {"point", GuideKind::Point}, {"line", GuideKind::Line}, {"plane", GuideKind::Plane}};

Json typed_json(const TypedGroup& typed) {
  Json values = Json::array(), text = Json::array();
  for (int i = 0; i < 3; ++i) {
    values.push_back(typed.values[i] ? Json(*typed.values[i]) : Json(nullptr));
    text.push_back(typed.text[i]);
  }
  return {{"axes", key_for(typed.axes)}, {"values", values}, {"text", text}};
}

TypedGroup typed_from(const Json& json, const char* key) {
  TypedGroup typed;
  if (!json.contains(key) || !json[key].is_object()) return typed;
  const Json& j = json[key];
  const auto axes = axes_from_key(j.value("axes", std::string("world")));
  if (!axes || !j.contains("values") || j["values"].size() != 3 || !j.contains("text") || j["text"].size() != 3)
    return typed;
  typed.axes = *axes;
  for (std::size_t i = 0; i < 3; ++i) {
    if (j["values"][i].is_number() && std::isfinite(j["values"][i].get<double>()))
      typed.values[i] = j["values"][i].get<double>();
    if (j["text"][i].is_string()) typed.text[i] = shortened(j["text"][i].get<std::string>(), 200);
  }
  return typed;
}

Json kept_json(const KeptTacks& kept) {
  Json list = Json::array();
  for (const KeptTack& k : kept) {
    Json j{{"name", k.name}, {"point", vec_json(k.point)}};
    if (k.direction) j["direction"] = vec_json(*k.direction);
    if (k.roll) j["roll"] = vec_json(*k.roll);
    list.push_back(std::move(j));
  }
  return list;
}

// Kept tacks whose numbers cannot be read are left out, and so are second ones of a name.
std::shared_ptr<const KeptTacks> kept_from(const Json& e, const std::string& part, std::vector<std::string>& notes) {
  constexpr std::size_t kMostKept = 10000;
  if (!e.contains("kept") || !e["kept"].is_array()) return nullptr;
  KeptTacks kept;
  std::unordered_set<std::string> names;
  for (const Json& j : e["kept"]) {
    if (kept.size() == kMostKept) {
      notes.push_back(fmt::format("\"{}\" has more than {} kept tacks; the others were left out.", part, kMostKept));
      break;
    }
    if (!j.is_object() || !j.contains("name") || !j["name"].is_string() || !j.contains("point")) continue;
    const auto point = vec_from(j["point"]);
    KeptTack k{shortened(j["name"].get<std::string>(), 200), point.value_or(Vec3{}), {}, {}};
    if (!point || k.name.empty() || !names.insert(k.name).second) continue;
    for (const auto& [key, slot] : {std::pair{"direction", &k.direction}, std::pair{"roll", &k.roll}})
      if (j.contains(key))
        if (const auto v = vec_from(j[key]); v && length(*v) > 0) *slot = *v;
    kept.push_back(std::move(k));
  }
  return kept.empty() ? nullptr : std::make_shared<const KeptTacks>(std::move(kept));
}

}  // namespace

const Json* any_part_extension(const Json& node) {
  if (!node.is_object() || !node.contains("extensions") || !node["extensions"].is_object() ||
      !node["extensions"].contains(kName) || !node["extensions"][kName].is_object())
    return nullptr;
  return &node["extensions"][kName];
}

const Json* part_extension(const Json& node) {
  const Json* e = any_part_extension(node);
  return e && !e->contains("role") ? e : nullptr;
}

std::string role_of(const Json& node) {
  const Json* e = any_part_extension(node);
  return e && e->contains("role") && (*e)["role"].is_string() ? (*e)["role"].get<std::string>() : std::string{};
}

void read_part_extension(const Json& e, DeliveredPart& part, std::vector<std::string>& notes) {
  const auto take = [&](const char* key, Vec3& into) {
    if (!e.contains(key)) return;
    if (const auto v = vec_from(e[key])) into = *v;
  };
  Placement p;
  take("position", p.position);
  take("rotation", p.rotation);
  take("scale", p.scale);
  take("skew", p.skew);
  take("pivot", p.pivot);
  part.placement = p;
  part.hidden = e.contains("hidden") && e["hidden"] == true;
  part.locked = e.contains("locked") && e["locked"] == true;
  part.see_through = e.contains("see_through") && e["see_through"] == true;
  part.kept = kept_from(e, part.name, notes);
  for (const auto& [word, kind] : kGuides)
    if (e.contains("guide") && e["guide"] == word) part.guide = kind;
  if (e.contains("grid") && part.guide == GuideKind::Plane) part.grid = grid_from_json(e["grid"]);
  if (!e.contains("typed") || !e["typed"].is_object()) return;
  const Json& typed = e["typed"];
  part.typed = std::make_shared<const TypedNumbers>(
      TypedNumbers{typed_from(typed, "position"), typed_from(typed, "rotation"), typed_from(typed, "scale")});
}

Json write_part_extension(const Part& part) {
  const Placement& p = part.placement;
  Json e{{"position", vec_json(p.position)}, {"rotation", vec_json(p.rotation)}, {"scale", vec_json(p.scale)}};
  if (p.skew != Vec3{}) e["skew"] = vec_json(p.skew);
  if (p.pivot != Vec3{}) e["pivot"] = vec_json(p.pivot);
  Json typed = Json::object();
  const TypedNumbers& numbers = typed_numbers(part.typed);
  // Numbers typed in the axes of a plane are worked out again when the document is opened.
  const auto kept = [](const TypedGroup& group) { return group != TypedGroup{} && group.axes != AxesKind::Plane; };
  if (kept(numbers.position)) typed["position"] = typed_json(numbers.position);
  if (kept(numbers.rotation)) typed["rotation"] = typed_json(numbers.rotation);
  if (kept(numbers.scale)) typed["scale"] = typed_json(numbers.scale);
  if (!typed.empty()) e["typed"] = typed;
  if (part.kept) e["kept"] = kept_json(*part.kept);
  for (const auto& [word, kind] : kGuides)
    if (part.guide == kind) e["guide"] = word;
  if (part.grid) e["grid"] = grid_to_json(*part.grid);
  if (part.hidden) e["hidden"] = true;
  if (part.locked) e["locked"] = true;
  if (part.see_through) e["see_through"] = true;
  if (part.geometry_in_metres) e["metres"] = true;
  return e;
}

HeadNodes head_nodes(const Affine& local, const Placement& placement) {
  HeadNodes nodes;
  if (placement.skew == Vec3{}) {
    write_transform(nodes.head, local.translation, rotation_from_degrees(placement.rotation), placement.scale);
    return nodes;
  }
  const TurnStretchTurn split = split_by_singular_values(local.linear);
  write_transform(nodes.head, local.translation, split.turn, split.stretch);
  nodes.inner = Json::object();
  write_transform(*nodes.inner, {}, split.first_turn, {1, 1, 1});
  return nodes;
}

}  // namespace tack
