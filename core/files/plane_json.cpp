#include "core/files/plane_json.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>
#include <set>

#include "core/catch/guide_law.h"
#include "core/files/gltf_node.h"
#include "core/printable.h"
#include "core/verbs/plane.h"
#include "core/verbs/views.h"

namespace tack {
namespace {

constexpr std::pair<const char*, GuideLaw::Kind> kLaws[] = {{"at", GuideLaw::Kind::At},
                                                            {"points", GuideLaw::Kind::Points},
                                                            {"beside", GuideLaw::Kind::Beside},
                                                            {"angle", GuideLaw::Kind::Angle}};

Json law_to_json(const Scene& scene, PartId guide, const GuideLaw& law) {
  Json places = Json::array();
  for (const TackAddress& place : law.places) places.push_back(address_text(scene, place));
  Json json{{"guide", path_of(scene, guide)}, {"places", places}};
  for (const auto& [word, kind] : kLaws)
    if (kind == law.kind) json["by"] = word;
  if (law.offset != 0) json["offset"] = law.offset;
  if (law.angle != 0) json["angle"] = law.angle, json["round"] = law.round;
  if (law.across != 2) json["across"] = law.across;
  return json;
}

std::optional<int> axis_in(const Json& json, const char* key, int otherwise) {
  if (!json.contains(key)) return otherwise;
  if (!json[key].is_number_integer()) return std::nullopt;
  const auto axis = json[key].get<double>();
  return axis >= 0 && axis <= 2 ? std::optional(static_cast<int>(axis)) : std::nullopt;
}

Result<std::pair<PartId, GuideLaw>> law_from_json(const Json& json, const Scene& scene) {
  const auto bad = [] { return fail("what it says cannot be read"); };
  if (!json.is_object() || !json.contains("guide") || !json["guide"].is_string() || !json.contains("places") ||
      !json["places"].is_array() || json["places"].empty() || json["places"].size() > 3)
    return bad();
  const auto guide = find_by_path(scene, json["guide"].get_ref<const std::string&>());
  if (!guide) return tl::unexpected(guide.error());
  if (scene.part(*guide).guide == GuideKind::None) return bad();
  GuideLaw law;
  for (const Json& place : json["places"]) {
    if (!place.is_string()) return bad();
    const auto address = parse_address(scene, place.get_ref<const std::string&>());
    if (!address) return tl::unexpected(address.error());
    if (address->part == *guide) return fail("it would follow itself");
    law.places.push_back(*address);
  }
  bool known = false;
  for (const auto& [word, kind] : kLaws)
    if (json.contains("by") && json["by"] == word) law.kind = kind, known = true;
  for (const auto& [key, into] : {std::pair{"offset", &law.offset}, {"angle", &law.angle}})
    if (json.contains(key)) {
      if (!json[key].is_number() || !(std::abs(json[key].get<double>()) <= kFurthest)) return bad();
      *into = json[key].get<double>();
    }
  const auto round = axis_in(json, "round", 0), across = axis_in(json, "across", 2);
  if (!known || !round || !across) return bad();
  law.round = *round;
  law.across = *across;
  return std::pair{*guide, law};
}

void read_follows(const Json& list, Scene& scene, std::vector<std::string>& notes) {
  if (!list.is_array() || list.size() > scene.size()) {
    notes.emplace_back("What guides follow is not a list in the file, so they stay where they are.");
    return;
  }
  for (const Json& json : list) {
    auto law = law_from_json(json, scene);
    if (!law) {
      notes.push_back(fmt::format("A guide does not follow what it did: {}", sentence(law.error())));
      continue;
    }
    Part part = scene.part(law->first);
    part.law = std::make_shared<const GuideLaw>(std::move(law->second));
    scene.replace(law->first, std::move(part));
  }
}

void read_views(const Json& list, Scene& scene, std::vector<std::string>& notes) {
  constexpr std::size_t kMostViews = 1000;
  std::vector<NamedView> views;
  std::set<std::string> names;
  if (list.is_array())
    for (const Json& json : list) {
      if (views.size() == kMostViews || !json.is_object() || !json.contains("name") || !json["name"].is_string() ||
          !json.contains("camera"))
        continue;
      auto view = view_from_json(json["camera"]);
      if (!view) continue;
      view->name = printable(shortened(json["name"].get<std::string>(), 200));
      if (view->name.empty() || !names.insert(view->name).second) continue;
      views.push_back(std::move(*view));
    }
  if (!list.is_array() || views.size() != list.size())
    notes.emplace_back("Some views in the file cannot be read; they were left out.");
  scene.set_views(std::move(views));
}

}  // namespace

Json grid_to_json(const PlaneGrid& grid) {
  Json json = Json::object();
  if (grid.spacing != 0) json["spacing"] = grid.spacing;
  if (grid.parts != 1) json["parts"] = grid.parts;
  if (grid.extent != 0) json["extent"] = grid.extent;
  return json;
}

PlaneGrid grid_from_json(const Json& json) {
  PlaneGrid grid;
  if (!json.is_object()) return grid;
  const auto number = [&](const char* key, double least, double otherwise) {
    if (!json.contains(key) || !json[key].is_number()) return otherwise;
    const double n = json[key].get<double>();
    return n >= least && n <= kFurthest ? n : otherwise;
  };
  grid.spacing = number("spacing", 1e-6, 0);
  grid.parts = static_cast<int>(std::min<double>(number("parts", 1, 1), SetGrid::kMostParts));
  grid.extent = number("extent", grid.spacing, 0);
  return grid;
}

void write_planes(Json& layout, const Scene& scene) {
  if (scene.plane() != kNoPart) layout["plane"] = path_of(scene, scene.plane());
  if (scene.ground_grid() != PlaneGrid{}) layout["grid"] = grid_to_json(scene.ground_grid());
  if (!scene.views().empty()) {
    Json views = Json::array();
    for (const NamedView& view : scene.views()) views.push_back({{"name", view.name}, {"camera", view_to_json(view)}});
    layout["views"] = std::move(views);
  }
  Json follows = Json::array();
  for (const PartId id : scene.followers())
    if (const Part* part = scene.find(id); part && part->law) follows.push_back(law_to_json(scene, id, *part->law));
  if (!follows.empty()) layout["follows"] = std::move(follows);
}

void read_planes(const Json& layout, Scene& scene, std::vector<std::string>& notes) {
  if (!layout.is_object()) return;
  if (layout.contains("grid")) scene.set_ground_grid(grid_from_json(layout["grid"]));
  if (layout.contains("views")) read_views(layout["views"], scene, notes);
  if (layout.contains("follows")) read_follows(layout["follows"], scene, notes);
  if (!layout.contains("plane")) return;
  const auto plane = layout["plane"].is_string() ? find_by_path(scene, layout["plane"].get_ref<const std::string&>())
                                                 : Result<PartId>(fail("it is not named"));
  if (plane && scene.part(*plane).guide == GuideKind::Plane) return scene.use_plane(*plane);
  notes.emplace_back("The plane in use is not in the file any more; World is in use.");
}

}  // namespace tack
