#include "core/verbs/bake.h"

#include <fmt/format.h>

#include <map>
#include <nlohmann/json.hpp>

#include "core/math/split.h"
#include "core/mesh/oriented_box.h"
#include "core/verbs/pivot.h"

namespace tack {
namespace {

std::vector<PartId> in_order(const Scene& scene, const std::vector<PartId>& what) {
  std::vector<PartId> order;
  for (const PartId id : scene.in_tree_order())
    if (std::find(what.begin(), what.end(), id) != what.end()) order.push_back(id);
  return order;
}

// The normals of the largest faces of a mesh, as the world sees them: directions along which its tightest box may well
// stand. Normals within a degree or so count as one.
std::vector<Vec3> main_directions(const Mesh& mesh, const Affine& world) {
  std::map<std::array<int, 3>, std::pair<double, Vec3>> by_direction;
  for (std::uint32_t t = 0; t < mesh.triangles().size(); ++t) {
    const auto c = mesh.corners(t);
    Vec3 area = cross(world.linear * (c[1] - c[0]), world.linear * (c[2] - c[0]));
    const double size = length(area);
    if (!(size > 0)) continue;
    if (area.x < 0 || (area.x == 0 && (area.y < 0 || (area.y == 0 && area.z < 0)))) area = -area;
    const Vec3 n = area / size;
    auto& slot = by_direction[{int(std::lround(n.x * 60)), int(std::lround(n.y * 60)), int(std::lround(n.z * 60))}];
    // The largest triangle's own normal, not a mean: a mean would be exact for nothing.
    if (size > slot.first) slot = {size, n};
  }
  std::vector<std::pair<double, Vec3>> sorted;
  sorted.reserve(by_direction.size());
  for (const auto& [key, entry] : by_direction) sorted.push_back(entry);
  std::sort(sorted.begin(), sorted.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
  std::vector<Vec3> directions;
  directions.reserve(24);
  for (std::size_t i = 0; i < std::min<std::size_t>(sorted.size(), 24); ++i) directions.push_back(sorted[i].second);
  return directions;
}

Result<Mat3> axes_for(const FitBox& fit, const Scene& scene, PartId id) {
  const Part& part = scene.part(id);
  if (fit.to.empty()) {
    if (!part.mesh) return fail(fmt::format("\"{}\" is a group: it has no box of its own.", part.name));
    const Affine world = world_of(scene, id);
    std::vector<Vec3> points;
    points.reserve(part.mesh->positions().size());
    for (const Vec3& p : part.mesh->positions()) points.push_back(world.linear * p);
    return tightest_axes(points, main_directions(*part.mesh, world));
  }
  if (fit.to.size() == 1) {
    const Turned turned{Turned::Kind::Tack, kNoPart, fit.to.front()};
    return wanted_axes(turned, scene, id);
  }
  if (fit.to.size() != 3) return fail("The box fits to an edge, a face, or three tacks.", "to");
  std::array<Vec3, 3> p;
  for (std::size_t i = 0; i < 3; ++i) {
    const auto tack = find_tack(scene, fit.to[i]);
    if (!tack) return tl::unexpected(tack.error());
    p[i] = tack->point;
  }
  const Vec3 x = p[1] - p[0], in_plane = p[2] - p[0], z = cross(x, in_plane);
  if (!(length(z) > 1e-9 * length(x) * length(in_plane)))
    return fail("The three tacks lie in one line, so they give no plane.", "to");
  return squared_up(Mat3{{x, cross(z, x), z}});
}

// Where meshes are shared, whether the copies take part.
void add_copies(Sentence& s, const Scene& scene, const std::vector<PartId>& what, Copies copies) {
  const bool shared = std::any_of(
      what.begin(), what.end(), [&](PartId id) { return scene.contains(id) && !linked_copies_of(scene, id).empty(); });
  if (!shared && copies == Copies::Separate) return;
  s.push_back({", "});
  s.push_back({copies == Copies::All ? "linked copies with it" : "this one only", Blank::Copies});
}

}  // namespace

Result<Scene> apply(const Bake& bake, const Scene& scene) {
  const auto movable_parts = movable(scene, bake.what);
  if (!movable_parts) return tl::unexpected(movable_parts.error());
  if (!bake.position && !bake.rotation && !bake.scale)
    return fail("Nothing is named to bake.", {}, "Name position, rotation or scale.");
  Scene result = scene;
  for (const PartId id : in_order(scene, bake.what)) {
    const Placement& now = result.part(id).placement;
    Placement wanted = now;
    if (bake.rotation) wanted.rotation = {};
    if (bake.scale) {
      wanted.scale = {1, 1, 1};
      wanted.skew = {};
    }
    const auto back = inverse(linear_of(wanted));
    if (!back) return fail(fmt::format("\"{}\" would be flattened.", result.part(id).name));
    wanted.pivot = *back * (linear_of(now) * now.pivot);
    if (bake.position) wanted.position = wanted.pivot = {};
    auto baked = with_placement(result, id, wanted, bake.copies);
    if (!baked) return baked;
    result = std::move(*baked);
  }
  return result;
}

Sentence sentence(const Bake& bake, const Scene& scene, Tense tense, const LengthUnit&) {
  std::string what;
  for (const auto& [on, word] :
       {std::pair{bake.position, "position"}, {bake.rotation, "rotation"}, {bake.scale, "scale"}})
    if (on) what += (what.empty() ? "" : " and ") + std::string(word);
  Sentence s{{tense == Tense::Past ? "Baked the " : "Bake the "},
             {what, Blank::Baked},
             {" of "},
             {names_of(scene, bake.what), Blank::What, bake.what.empty()},
             {" into the mesh"}};
  add_copies(s, scene, bake.what, bake.copies);
  s.push_back({"."});
  return s;
}

Json to_json(const Bake& bake, const Scene& scene) {
  return {{"verb", "bake"},
          {"what", parts_to_json(bake.what, scene)},
          {"position", bake.position},
          {"rotation", bake.rotation},
          {"scale", bake.scale},
          {"copies", copies_to_json(bake.copies)}};
}

Result<Bake> bake_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "position", "rotation", "scale", "copies"}); !ok)
    return tl::unexpected(ok.error());
  Bake bake;
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  bake.what = std::move(*what);
  for (const auto& [key, slot] :
       {std::pair{"position", &bake.position}, {"rotation", &bake.rotation}, {"scale", &bake.scale}}) {
    if (!json.contains(key)) continue;
    if (!json[key].is_boolean()) return fail("This should be true or false.", key);
    *slot = json[key].get<bool>();
  }
  const auto copies = copies_in(json);
  if (!copies) return tl::unexpected(copies.error());
  bake.copies = *copies;
  return bake;
}

Result<Scene> apply(const FitBox& fit, const Scene& scene) {
  const auto movable_parts = movable(scene, fit.what);
  if (!movable_parts) return tl::unexpected(movable_parts.error());
  Scene result = scene;
  for (const PartId id : in_order(scene, fit.what)) {
    const auto axes = axes_for(fit, scene, id);
    if (!axes) return tl::unexpected(axes.error());
    auto fitted = with_own_axes(result, id, *axes, fit.copies);
    if (!fitted) return fitted;
    result = std::move(*fitted);
  }
  return result;
}

Sentence sentence(const FitBox& fit, const Scene& scene, Tense tense, const LengthUnit&) {
  Sentence s{{tense == Tense::Past ? "Made the box of " : "Make the box of "},
             {names_of(scene, fit.what), Blank::What, fit.what.empty()}};
  s.push_back({fit.to.empty() ? " " : " fit to "});
  if (fit.to.empty()) s.push_back({"the tightest there is", Blank::Fit1});
  for (std::size_t i = 0; i < fit.to.size(); ++i) {
    if (i > 0) s.push_back({", "});
    s.push_back(tack_word(scene, fit.to[i], Blank(int(Blank::Fit1) + int(i)), "a place"));
  }
  add_copies(s, scene, fit.what, fit.copies);
  s.push_back({"."});
  return s;
}

Json to_json(const FitBox& fit, const Scene& scene) {
  Json j{{"verb", "fit-box"}, {"what", parts_to_json(fit.what, scene)}};
  if (fit.to.empty()) {
    j["to"] = "tightest";
  } else if (fit.to.size() == 1) {
    j["to"] = address_text(scene, fit.to.front());
  } else {
    j["to"] = Json::array();
    for (const TackAddress& a : fit.to) j["to"].push_back(address_text(scene, a));
  }
  j["copies"] = copies_to_json(fit.copies);
  return j;
}

Result<FitBox> fit_box_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "to", "copies"}); !ok) return tl::unexpected(ok.error());
  FitBox fit;
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  fit.what = std::move(*what);
  const auto copies = copies_in(json);
  if (!copies) return tl::unexpected(copies.error());
  fit.copies = *copies;
  const Json to = json.contains("to") ? json["to"] : Json("tightest");
  if (to == "tightest") return fit;
  const Json list = to.is_array() ? to : Json::array({to});
  if (list.size() != 1 && list.size() != 3)
    return fail("The box fits to an edge, a face, three tacks, or is the tightest.", "to");
  for (const Json& entry : list) {
    if (!entry.is_string()) return fail("This should name a place.", "to");
    const auto address = parse_address(scene, entry.get_ref<const std::string&>());
    if (!address) return fail(address.error().what, "to", address.error().remedy);
    fit.to.push_back(*address);
  }
  return fit;
}

}  // namespace tack
