#include "core/verbs/bake.h"

#include <fmt/format.h>

#include <map>

#include "core/math/split.h"
#include "core/mesh/oriented_box.h"
#include "core/verbs/phrase.h"
#include "core/verbs/pivot.h"

namespace tack {
namespace {

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
    // The largest triangle's own normal, not a mean: an average would match no face exactly.
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
  if (fit.to.size() == 1) return wanted_axes({Turned::Kind::Tack, kNoPart, fit.to.front()}, scene, id);
  std::array<Vec3, 3> p;
  for (std::size_t i = 0; i < 3; ++i) {
    const auto tack = find_tack(scene, *fit.to[i]);
    if (!tack) return tl::unexpected(tack.error());
    p[i] = tack->point;
  }
  const Vec3 x = p[1] - p[0], in_plane = p[2] - p[0], z = cross(x, in_plane);
  if (!(length(z) > 1e-9 * length(x) * length(in_plane)))
    return fail("The three tacks lie in one line, so they give no plane.", "to");
  return squared_up(Mat3{{x, cross(z, x), z}});
}

// Whether the groups that were baked read 0, 0 and 1, but for what rounding leaves.
bool reads_baked(const Bake& bake, const Placement& p) {
  constexpr double kLeft = 1e-9;
  if (bake.rotation && largest_component(p.rotation) > kLeft) return false;
  return !bake.scale || (largest_component(p.scale - Vec3{1, 1, 1}) <= kLeft && largest_component(p.skew) <= kLeft);
}

constexpr std::array<std::array<bool, 3>, 5> kBaked{
    {{true, false, false}, {false, true, false}, {false, false, true}, {false, true, true}, {true, true, true}}};

std::string baked_words(const std::array<bool, 3>& groups) {
  std::string words;
  int left = int(groups[0]) + int(groups[1]) + int(groups[2]);
  for (std::size_t i = 0; i < 3; ++i) {
    constexpr const char* kNames[] = {"position", "rotation", "scale"};
    if (groups[i]) words += std::string(kNames[i]) + (--left > 1 ? ", " : left == 1 ? " and " : "");
  }
  return words;
}

Json fit_to_json(const FitBox& fit, const Scene& scene) {
  if (fit.to.empty()) return "tightest";
  Json list = Json::array();
  for (const auto& place : fit.to) list.push_back(place ? Json(address_text(scene, *place)) : Json(nullptr));
  return fit.to.size() == 1 ? list.front() : list;
}
Result<void> fit_from_json(FitBox& fit, const Json& json, const Scene& scene) {
  if (json == "tightest") return {};
  for (const Json& entry : json.is_array() ? json : Json::array({json})) {
    const auto place = place_from_json(entry, "to", scene);
    if (!place) return tl::unexpected(place.error());
    fit.to.emplace_back(*place);
  }
  return {};
}

BlankId waits_for(const FitBox& f) {
  for (std::size_t i = 0; i < f.to.size(); ++i)
    if (!f.to[i]) return {1, static_cast<std::uint8_t>(i)};
  return {};
}

Result<void> check(const Bake& b) {
  if (b.position || b.rotation || b.scale) return {};
  return fail("Nothing is named to bake.", {}, "Name position, rotation or scale.");
}
Result<void> check(const FitBox& f) {
  if (f.to.size() > 3 || f.to.size() == 2)
    return fail("The box fits to an edge, a face, three tacks, or is the tightest.", "to");
  if (waits_for(f)) return fail("A place to fit the box to is missing.", "to");
  return {};
}

void sentence(Phrase& s, const Bake& b) {
  s.say("Baked the ", "Bake the ").blank(".baked", 0, baked_words({b.position, b.rotation, b.scale})).say(" of ");
  const bool groups = std::all_of(b.what.begin(), b.what.end(), [&](PartId id) {
    const Part* part = s.scene().find(id);
    return part && !part->mesh;
  });
  s.blank("what").say(!groups || b.what.empty() ? " into the mesh" : " into what is in it");
  if (b.copies == Copies::All || shares_mesh(s.scene(), b.what)) s.say(", ").blank("copies");
  s.say(".");
}

void sentence(Phrase& s, const FitBox& f) {
  s.about({});  // places are named with their parts
  s.say("Made the box of ", "Make the box of ").blank("what");
  if (f.to.empty()) s.say(" ").blank("to", 0, "the tightest that can be found");
  constexpr const char* kWaiting[] = {"a place", "x towards a place", "a third place in the plane"};
  for (std::size_t i = 0; i < f.to.size(); ++i) {
    s.say(i == 0 ? " fit to " : ", ");
    if (f.to[i])
      s.blank("to", i);
    else
      s.blank("to", i, f.to.size() == 1 ? "an edge or face" : kWaiting[i], true);
  }
  if (f.copies == Copies::All || shares_mesh(s.scene(), f.what)) s.say(", ").blank("copies");
  s.say(".");
}

// What came of it, measured: how big the box is now, and whether it could be made square.
std::string fitted_remark(const FitBox& fit, const Scene&, const Scene& after) {
  if (fit.what.size() != 1 || !after.contains(fit.what.front())) return {};
  const PartId id = fit.what.front();
  const Vec3 size = own_size(after, id);
  const auto side = [](double mm) { return show_number(mm, 4).text; };
  std::string words = fmt::format("It is {} × {} × {} mm.", side(size.x), side(size.y), side(size.z));
  const Mat3 world = world_of(after, id).linear;
  const auto& [x, y, z] = world.column;
  const double lean =
      std::max({std::abs(dot(x, y)) / (length(x) * length(y)), std::abs(dot(y, z)) / (length(y) * length(z)),
                std::abs(dot(x, z)) / (length(x) * length(z))});
  if (lean > 1e-9) words += " Its sides are not square to each other, because an unevenly scaled part stands above.";
  return words;
}

}  // namespace

Result<Scene> apply(const Bake& bake, const Scene& scene) {
  const auto movable_parts = movable(scene, bake.what);
  if (!movable_parts) return tl::unexpected(movable_parts.error());
  Scene result = scene;
  for (const PartId id : in_tree_order(scene, bake.what)) {
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
  // Baking one instance with all others changes those: what two of them need may not be to be had at once.
  if (bake.copies == Copies::All)
    for (const PartId id : bake.what)
      if (!reads_baked(bake, result.part(id).placement))
        return fail(fmt::format("\"{}\" shares its mesh with another of the parts and is not placed like it: both "
                                "cannot be baked with their instances.",
                                result.part(id).name),
                    "copies", "Bake one of them, or this one only.");
  return result;
}

Result<Scene> apply(const FitBox& fit, const Scene& scene) {
  const auto movable_parts = movable(scene, fit.what);
  if (!movable_parts) return tl::unexpected(movable_parts.error());
  Scene result = scene;
  for (const PartId id : in_tree_order(scene, fit.what)) {
    const auto axes = axes_for(fit, scene, id);
    if (!axes) return tl::unexpected(axes.error());
    auto fitted = with_own_axes(result, id, *axes, fit.copies);
    if (!fitted) return fitted;
    result = std::move(*fitted);
  }
  return result;
}

// clang-format off
// clang-format off
const Table<Bake>& table_of(const Bake*) {
  static const Table<Bake> table{.key = "bake", .does = "Takes parts of a placement into the mesh; nothing moves.",
      .check = check, .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Bake::what>, .ask = "Click the part to bake instead.", .needed = true,
     .always = true, .doc = "the parts whose meshes take it in"},
    {.key = "position", .name = "Position", .at = slot<&Bake::position>, .always = true,
     .doc = "the pivot comes to the parent's origin"},
    {.key = "rotation", .name = "Rotation", .at = slot<&Bake::rotation>, .always = true, .doc = "angles become 0"},
    {.key = "scale", .name = "Scale", .at = slot<&Bake::scale>, .always = true, .doc = "factors become 1, skew 0"},
    {.key = "copies", .name = "Instances", .at = slot<&Bake::copies>, .choices = kCopiesChoices, .always = true,
     .doc = "whether instances take the changed mesh, staying where they are, or keep the old one"},
    {.key = ".baked", .name = "What is baked",
     .options = [](const Bake&, const Scene&, std::size_t) {
           std::vector<Option> options;
           options.reserve(kBaked.size());
           for (const auto& groups : kBaked) options.push_back({baked_words(groups)});
           return options;
         },
     .choose = [](Bake& b, std::size_t, std::size_t option, const ChoiceContext&) {
           b.position = kBaked[option][0];
           b.rotation = kBaked[option][1];
           b.scale = kBaked[option][2];
         }},
  }};
  return table;
}
const Table<FitBox>& table_of(const FitBox*) {
  static const Table<FitBox> table{.key = "fit-box",
      .does = "Turns a part's own axes so that its box fits its geometry; nothing moves.", .check = check,
      .waits = waits_for, .remark = fitted_remark, .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&FitBox::what>, .ask = "Click the part whose box to fit instead.",
     .needed = true, .always = true, .doc = "the parts whose own axes turn"},
    {.key = "to", .name = "Fit to",
     .at = [](FitBox& f, std::size_t i) { return i < f.to.size() ? Slot(&f.to[i]) : Slot(); },
     .asks = [](const FitBox& f, std::size_t i) -> std::string_view {
           constexpr std::string_view kOfThree[] = {"Click the place where x begins.", "Click the place x points to.",
                                                    "Click a third place, in the plane of x and y."};
           return f.to.size() < 2 ? "Click an edge or a face." : kOfThree[i % 3];
         },
     .waiting = "a place",
     .count = [](const FitBox& f) { return std::max<std::size_t>(1, f.to.size()); },
     .options = [](const FitBox&, const Scene&, std::size_t i) {
           // The second and third of three places are only clicked anew.
           if (i > 0) return std::vector<Option>();
           return std::vector<Option>{{"the tightest that can be found"},
                                      {"an edge or face (click it)", Click::Place},
                                      {"three places (click them)", Click::Place}};
         },
     .choose = [](FitBox& f, std::size_t, std::size_t option, const ChoiceContext&) {
           f.to.assign(option == 0 ? 0 : option == 1 ? 1 : 3, std::nullopt);
         },
     .write = fit_to_json, .read = fit_from_json, .value = "`tightest`, a place, or a list of three places",
     .doc = "an edge (x along it), a face (z along its normal), or three places: x from the first towards the "
            "second, the third in the plane of x and y"},
    {.key = "copies", .name = "Instances", .at = slot<&FitBox::copies>, .choices = kCopiesChoices, .always = true,
     .doc = "whether instances take the turned mesh too"},
  }};
  return table;
}
// clang-format on
// clang-format on

}  // namespace tack
