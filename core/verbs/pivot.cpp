#include "core/verbs/pivot.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/math/split.h"

namespace tack {
namespace {

Result<Vec3> target_of(const Pivot& pivot, const Scene& scene, PartId id, const std::vector<PartId>& parts) {
  const Vec3 now = world_of(scene, id) * scene.part(id).placement.pivot;
  if (pivot.at) return still_point(*pivot.at, scene, id, parts, pivot.axes);
  if (!any_given(pivot.numbers)) return now;
  const Affine frame = pivot.in_mesh ? world_of(scene, id) : axes_frame(scene, id, pivot.axes);
  const auto back = inverse(frame);
  if (!back) return fail(fmt::format("\"{}\" belongs to a part that is flattened.", scene.part(id).name));
  Vec3 at = *back * now;
  for (int i = 0; i < 3; ++i) {
    const auto& amount = pivot.numbers[static_cast<std::size_t>(i)];
    if (!amount) continue;
    const auto value = evaluate(*amount, EntryKind::Length, at[i], scene);
    if (!value) return tl::unexpected(value.error());
    at[i] = *value;
  }
  return frame * at;
}

// Moves the pivot to `target` (world) and nothing else.
Result<Scene> pivot_moved(const Scene& scene, PartId id, const Vec3& target) {
  if (!is_finite(target)) return fail("The place for the pivot is not a finite number.");
  const Affine world = world_of(scene, id);
  const auto to_mesh = inverse(world);
  const auto to_parent = inverse(parent_world_of(scene, id));
  if (!to_mesh || !to_parent)
    return fail(fmt::format("\"{}\" is flattened: its pivot has no place of its own.", scene.part(id).name));
  Placement placement = scene.part(id).placement;
  const Affine before = matrix_of(placement);
  placement.pivot = *to_mesh * target;
  // What rounding leaves is measured and put right once.
  placement.pivot += to_mesh->linear * (target - world * placement.pivot);
  placement.position = before * placement.pivot;
  Scene result = scene;
  Part part = scene.part(id);
  part.placement = placement;
  part.typed_position = {};
  result.replace(id, std::move(part));
  return result;
}

}  // namespace

Result<Mat3> wanted_axes(const Turned& turned, const Scene& scene, PartId id) {
  switch (turned.kind) {
    case Turned::Kind::World: return Mat3{};
    case Turned::Kind::Parent: return squared_up(parent_world_of(scene, id).linear);
    case Turned::Kind::Part:
      if (!scene.contains(turned.part)) return fail("The part to be turned like is no longer there.", "turned");
      return squared_up(world_of(scene, turned.part).linear);
    case Turned::Kind::Tack: {
      if (!turned.tack) return fail("There is no place to be turned like.", "turned");
      const auto tack = find_tack(scene, *turned.tack);
      if (!tack) return tl::unexpected(tack.error());
      const std::string words = tack_words(scene, *turned.tack);
      if (!tack->direction && !tack->roll) return fail(fmt::format("The {} has no direction.", words), "turned");
      const Vec3 z = tack->direction.value_or(Vec3{});
      Vec3 x = tack->roll.value_or(Vec3{});
      if (!tack->roll) x = least_axis(z) - z * dot(least_axis(z), z);
      if (!tack->direction) return squared_up(Mat3{{x, least_axis(x), cross(x, least_axis(x))}});
      return squared_up(Mat3{{x, cross(z, x), z}});
    }
    default: return squared_up(world_of(scene, id).linear);
  }
}

Result<Scene> apply(const Pivot& pivot, const Scene& scene) {
  const auto parts = movable(scene, pivot.what);
  if (!parts) return tl::unexpected(parts.error());
  if (!pivot.at && !any_given(pivot.numbers) && pivot.turned.kind == Turned::Kind::AsItIs)
    return fail("No place is given for the pivot.", {}, "Click one, or type its numbers.");
  Scene result = scene;
  // A child picked together with its parent has a pivot of its own all the same.
  for (const PartId id : scene.in_tree_order()) {
    if (std::find(pivot.what.begin(), pivot.what.end(), id) == pivot.what.end()) continue;
    const auto target = target_of(pivot, scene, id, pivot.what);
    if (!target) return tl::unexpected(target.error());
    const auto axes = wanted_axes(pivot.turned, scene, id);
    if (!axes) return tl::unexpected(axes.error());
    auto moved = pivot_moved(result, id, *target);
    if (!moved) return moved;
    if (pivot.turned.kind != Turned::Kind::AsItIs) moved = with_own_axes(*moved, id, *axes, pivot.copies);
    if (!moved) return moved;
    result = std::move(*moved);
  }
  return result;
}

Sentence sentence(const Pivot& pivot, const Scene& scene, Tense tense, const LengthUnit& unit) {
  Sentence s;
  s.push_back({"Put the pivot of "});
  s.push_back({pivot.what.empty() ? "a part" : names_of(scene, pivot.what), Blank::What, pivot.what.empty()});
  s.push_back({" at "});
  if (pivot.at) {
    const bool mine = pivot.at->kind == About::Kind::Own || pivot.at->kind == About::Kind::OwnBox;
    std::string words = about_words(*pivot.at, scene, pivot.what);
    if (mine && pivot.at->kind == About::Kind::OwnBox) words += " of its box";
    s.push_back({words, Blank::At});
    if (pivot.at->kind == About::Kind::OwnBox || pivot.at->kind == About::Kind::AllBox) {
      s.push_back({", that is "});
      for (int i = 0; i < 3; ++i) {
        s.push_back({show_number(pivot.at->fraction[i], 4).text, Blank(int(Blank::BoxX) + i)});
        s.push_back({i < 2 ? " · " : " of it"});
      }
    }
  } else {
    if (tense == Tense::Present && !any_given(pivot.numbers)) s.push_back({"a place", Blank::At, true});
    if (tense == Tense::Present && !any_given(pivot.numbers)) s.push_back({", that is "});
    for (std::size_t i = 0; i < 3; ++i) {
      std::string text = "as it is";
      if (pivot.numbers[i]) {
        text = shown(*pivot.numbers[i], EntryKind::Length, unit);
      } else if (pivot.what.size() == 1 && scene.contains(pivot.what.front())) {
        const PartId id = pivot.what.front();
        if (const auto back = inverse(pivot.in_mesh ? world_of(scene, id) : axes_frame(scene, id, pivot.axes)))
          text = show_length((*back * (world_of(scene, id) * scene.part(id).placement.pivot))[static_cast<int>(i)],
                             unit, 4)
                     .text;
      }
      s.push_back({text, Blank(int(Blank::X) + int(i))});
      s.push_back({i < 2 ? " · " : " of "});
    }
    if (pivot.in_mesh) {
      s.push_back({"its mesh"});
    } else {
      s.push_back({axes_words(pivot.axes, scene), Blank::Axes});
      s.push_back({" axes"});
    }
  }
  s.push_back({", turned "});
  std::string turned = "as it is";
  if (pivot.turned.kind == Turned::Kind::World) turned = "like the world";
  if (pivot.turned.kind == Turned::Kind::Parent) turned = "like its parent";
  if (pivot.turned.kind == Turned::Kind::Part) {
    const Part* part = scene.find(pivot.turned.part);
    turned = "like " + (part ? part->name : std::string("a part that is gone"));
  }
  if (pivot.turned.kind == Turned::Kind::Tack && pivot.turned.tack)
    turned = "like the " + tack_words(scene, *pivot.turned.tack);
  s.push_back({turned, Blank::Turned});
  s.push_back({"."});
  return s;
}

Json to_json(const Pivot& pivot, const Scene& scene) {
  Json j{{"verb", "pivot"}, {"what", parts_to_json(pivot.what, scene)}};
  const bool boxes = pivot.at && (pivot.at->kind == About::Kind::OwnBox || pivot.at->kind == About::Kind::AllBox);
  if (pivot.in_mesh)
    j["axes"] = "mesh";
  else if (any_given(pivot.numbers) || boxes)
    j["axes"] = axes_to_json(pivot.axes, scene);
  if (pivot.at)
    j["at"] = about_to_json(*pivot.at, scene);
  else if (any_given(pivot.numbers))
    j["at"] = amounts_to_json(pivot.numbers);
  switch (pivot.turned.kind) {
    case Turned::Kind::World: j["turned"] = "world"; break;
    case Turned::Kind::Parent: j["turned"] = "parent"; break;
    case Turned::Kind::Part: j["turned"] = Json{{"like", path_of(scene, pivot.turned.part)}}; break;
    case Turned::Kind::Tack:
      if (pivot.turned.tack) j["turned"] = address_text(scene, *pivot.turned.tack);
      break;
    default: break;
  }
  if (pivot.turned.kind != Turned::Kind::AsItIs) j["copies"] = copies_to_json(pivot.copies);
  return j;
}

Result<Pivot> pivot_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "at", "axes", "turned", "copies"}); !ok)
    return tl::unexpected(ok.error());
  Pivot pivot;
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  pivot.what = std::move(*what);
  pivot.in_mesh = json.contains("axes") && json["axes"] == "mesh";
  if (!pivot.in_mesh) {
    const auto axes = axes_in(json, scene);
    if (!axes) return tl::unexpected(axes.error());
    pivot.axes = *axes;
  }
  const auto copies = copies_in(json);
  if (!copies) return tl::unexpected(copies.error());
  pivot.copies = *copies;
  if (json.contains("at") && json["at"].is_array()) {
    auto numbers = amounts_from_json(json["at"], EntryKind::Length, "at", scene);
    if (!numbers) return tl::unexpected(numbers.error());
    pivot.numbers = std::move(*numbers);
  } else if (json.contains("at")) {
    const auto at = about_from_json(json["at"], "at", scene);
    if (!at) return tl::unexpected(at.error());
    pivot.at = *at;
  }
  if (json.contains("turned")) {
    const Json& t = json["turned"];
    if (t == "world") {
      pivot.turned.kind = Turned::Kind::World;
    } else if (t == "parent") {
      pivot.turned.kind = Turned::Kind::Parent;
    } else if (t == "as-is") {
      pivot.turned = {};
    } else if (t.is_object() && t.size() == 1 && t.contains("like") && t["like"].is_string()) {
      const auto part = find_by_path(scene, t["like"].get_ref<const std::string&>());
      if (!part) return tl::unexpected(part.error());
      pivot.turned = {Turned::Kind::Part, *part, std::nullopt};
    } else if (t.is_string()) {
      const auto tack = parse_address(scene, t.get_ref<const std::string&>());
      if (!tack)
        return fail(tack.error().what, "turned", "Use as-is, world, parent, {\"like\": \"Hub\"} or an address.");
      pivot.turned = {Turned::Kind::Tack, kNoPart, *tack};
    } else {
      return fail("This should be as-is, world, parent, {\"like\": \"Hub\"} or an address.", "turned");
    }
  }
  if (!pivot.at && !any_given(pivot.numbers) && pivot.turned.kind == Turned::Kind::AsItIs)
    return fail("Pivot needs \"at\" or \"turned\".", "at");
  return pivot;
}

}  // namespace tack
