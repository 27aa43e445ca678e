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

constexpr const char* kDimensionKeys[] = {"width", "depth",     "height", "diameter",
                                          "top",   "thickness", "corner", "sides"};

Json shape_json(const LiveShape& live) {
  Json j{{"kind", word_of(live.shape.kind)}};
  Json typed = Json::object();
  for (const Dimension d : dimensions_of(live.shape.kind)) {
    const auto i = static_cast<std::size_t>(d);
    j[kDimensionKeys[i]] = live.shape[d];
    if (!live.typed[i].empty()) typed[kDimensionKeys[i]] = live.typed[i];
  }
  if (live.frame != Affine{}) j["frame"] = affine_json(live.frame);
  if (!typed.empty()) j["typed"] = typed;
  return j;
}

bool is_rigid(const Mat3& m) {
  const Mat3 square = transpose(m) * m;
  double off = 0;
  for (int i = 0; i < 3; ++i)
    off = std::max(off, largest_component(square.column[static_cast<std::size_t>(i)] -
                                          Mat3{}.column[static_cast<std::size_t>(i)]));
  return off <= 1e-9 && determinant(m) > 0;
}

// Null for what is no shape; whether the mesh is that of the shape is found out where both are known.
LiveShapePtr shape_from(const Json& j) {
  if (!j.is_object() || !j.contains("kind") || !j["kind"].is_string()) return nullptr;
  const auto kind = shape_kind(j["kind"].get<std::string>());
  if (!kind) return nullptr;
  LiveShape live;
  live.shape.kind = *kind;
  for (const Dimension d : dimensions_of(*kind)) {
    const auto i = static_cast<std::size_t>(d);
    const char* key = kDimensionKeys[i];
    if (!j.contains(key) || !j[key].is_number()) return nullptr;
    live.shape[d] = j[key].get<double>();
    if (j.contains("typed") && j["typed"].is_object() && j["typed"].contains(key) && j["typed"][key].is_string())
      live.typed[i] = shortened(j["typed"][key].get<std::string>(), 200);
  }
  if (!check(live.shape)) return nullptr;
  if (j.contains("frame")) {
    const auto frame = affine_from(j["frame"]);
    if (!frame || !is_rigid(frame->linear)) return nullptr;
    live.frame = *frame;
  }
  return std::make_shared<const LiveShape>(std::move(live));
}

Json band_json(const StretchBand& band) {
  return {{"normal", vec_json(band.normal)}, {"along", vec_json(band.along)}, {"low", band.low}, {"high", band.high}};
}

std::optional<StretchBand> band_from(const Json& j) {
  if (!j.is_object()) return std::nullopt;
  for (const char* key : {"normal", "along", "low", "high"})
    if (!j.contains(key)) return std::nullopt;
  const auto normal = vec_from(j["normal"]), along = vec_from(j["along"]);
  if (!normal || !along || !j["low"].is_number() || !j["high"].is_number()) return std::nullopt;
  const StretchBand band{*normal, *along, j["low"].get<double>(), j["high"].get<double>()};
  const bool usable = std::abs(length(band.normal) - 1) < 1e-9 && std::abs(dot(band.normal, band.along) - 1) < 1e-9 &&
                      std::isfinite(band.low) && std::isfinite(band.high) && band.low < band.high;
  return usable ? std::optional(band) : std::nullopt;
}

constexpr std::size_t kMostBands = 1000;

Json bands_json(const KeptBands& bands) {
  Json list = Json::array();
  for (const KeptBand& kept : bands) {
    Json j = band_json(kept.band);
    j["name"] = kept.name;
    list.push_back(std::move(j));
  }
  return list;
}

// Those that cannot be read are left out, and so are second ones of a name.
std::shared_ptr<const KeptBands> bands_from(const Json& json) {
  if (!json.is_array()) return nullptr;
  KeptBands bands;
  std::unordered_set<std::string> names;
  for (const Json& j : json) {
    if (bands.size() == kMostBands) break;
    const auto band = band_from(j);
    if (!band || !j.contains("name") || !j["name"].is_string()) continue;
    std::string name = shortened(j["name"].get<std::string>(), 200);
    if (!name.empty() && names.insert(name).second) bands.push_back({std::move(name), *band});
  }
  return bands.empty() ? nullptr : std::make_shared<const KeptBands>(std::move(bands));
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

Json lengths_json(const std::vector<Lengthening>& lengths) {
  Json list = Json::array();
  for (const Lengthening& l : lengths) {
    Json j = band_json(l.band);
    j["by"] = l.by;
    list.push_back(std::move(j));
  }
  return list;
}

std::vector<Lengthening> lengths_from(const Json& json) {
  std::vector<Lengthening> lengths;
  if (!json.is_array() || json.size() > kMostBands) return {};
  for (const Json& j : json) {
    const auto band = band_from(j);
    if (!band || !j.contains("by") || !j["by"].is_number() || !(j["by"].get<double>() > band->low - band->high))
      return {};
    lengths.push_back({*band, j["by"].get<double>()});
  }
  return lengths;
}

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
  if (e.contains("shape")) part.shape = shape_from(e["shape"]);
  if (e.contains("bands")) part.bands = bands_from(e["bands"]);
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
  if (part.shape) e["shape"] = shape_json(*part.shape);
  if (part.bands) e["bands"] = bands_json(*part.bands);
  for (const auto& [word, kind] : kGuides)
    if (part.guide == kind) e["guide"] = word;
  if (part.grid) e["grid"] = grid_to_json(*part.grid);
  if (part.hidden) e["hidden"] = true;
  if (part.locked) e["locked"] = true;
  if (part.see_through) e["see_through"] = true;
  if (part.source->geometry_in_metres) e["metres"] = true;
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
