#include "core/verbs/outline.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

namespace tack {
namespace {

// Changes each part of `what` by `change(Part&)`.
template <typename Change>
Result<Scene> changed(const Scene& scene, const std::vector<PartId>& what, Change&& change) {
  if (what.empty()) return fail("Nothing is picked.", {}, "Pick a part first.");
  Scene result = scene;
  for (const PartId id : what) {
    const Part* old = result.find(id);
    if (!old) return fail("A part that this step changes is no longer there.");
    Part part = *old;
    change(part);
    result.replace(id, std::move(part));
  }
  return result;
}

// The verb's word is itself the blank: it has an opposite.
Sentence flagged(std::string word, const Scene& scene, const std::vector<PartId>& what) {
  return {{std::move(word), Blank::Shown}, {" "}, {names_of(scene, what), Blank::What, what.empty()}, {"."}};
}

// The parts of "what", and a yes or no under `key` (yes when it is not there).
Result<std::pair<std::vector<PartId>, bool>> what_and_flag(const Json& json, const Scene& scene, std::string_view key) {
  if (const auto ok = check_keys(json, {"verb", "what", key}); !ok) return tl::unexpected(ok.error());
  if (!json.contains("what")) return fail("This verb needs \"what\": the parts it is about.", "what");
  auto what = parts_from_json(json["what"], scene);
  if (!what) return tl::unexpected(what.error());
  const std::string name(key);
  if (json.contains(name) && !json[name].is_boolean()) return fail("This should be true or false.", name);
  return std::pair{std::move(*what), !json.contains(name) || json[name].get<bool>()};
}

}  // namespace

Result<Scene> apply(const Show& show, const Scene& scene) {
  return changed(scene, show.what, [&](Part& part) { part.hidden = !show.shown; });
}

Result<Scene> apply(const Lock& lock, const Scene& scene) {
  return changed(scene, lock.what, [&](Part& part) { part.locked = lock.locked; });
}

Result<Scene> apply(const Rename& rename, const Scene& scene) {
  if (const auto ok = check_name(rename.name, "A part"); !ok) return tl::unexpected(ok.error());
  return changed(scene, {rename.part}, [&](Part& part) { part.name = rename.name; });
}

Result<Scene> apply(const Delete& remove, const Scene& scene) {
  const auto parts = movable(scene, remove.what);
  if (!parts) return tl::unexpected(parts.error());
  Scene result = scene;
  for (const PartId id : *parts) result.remove(id);
  return result;
}

Result<Scene> apply(const Reparent& reparent, const Scene& scene) {
  const auto parts = movable(scene, reparent.what);
  if (!parts) return tl::unexpected(parts.error());
  if (reparent.to != kNoPart && !scene.contains(reparent.to)) return fail("The new parent is no longer there.");
  Scene result = scene;
  const Affine new_parent = reparent.to == kNoPart ? Affine{} : world_of(scene, reparent.to);
  for (const PartId id : *parts) {
    const Part& part = scene.part(id);
    if (is_within(scene, reparent.to, id))
      return fail(fmt::format("\"{}\" cannot belong to itself or to a part below it.", part.name));
    Placement placement = part.placement;
    const Affine old_parent = parent_world_of(scene, id);
    const Vec3 pivot = old_parent * placement.position;
    if (reparent.keep_place && old_parent.linear != new_parent.linear) {
      const auto back = inverse(new_parent.linear);
      if (!back)
        return fail(fmt::format("\"{}\" is flattened: nothing can be put under it.", scene.part(reparent.to).name));
      const auto kept = with_linear(placement, *back * (old_parent.linear * linear_of(placement)));
      if (!kept) return tl::unexpected(kept.error());
      placement = *kept;
    }
    result.reparent(id, reparent.to);
    result.place(id, placement);
    if (!reparent.keep_place) continue;
    auto placed = moved_pivot_to(result, id, pivot);
    if (!placed) return placed;
    result = std::move(*placed);
  }
  return result;
}

Sentence sentence(const Show& show, const Scene& scene, Tense tense, const LengthUnit&) {
  const bool past = tense == Tense::Past;
  return flagged(show.shown ? (past ? "Showed" : "Show") : (past ? "Hid" : "Hide"), scene, show.what);
}
Sentence sentence(const Lock& lock, const Scene& scene, Tense tense, const LengthUnit&) {
  const bool past = tense == Tense::Past;
  return flagged(lock.locked ? (past ? "Locked" : "Lock") : (past ? "Unlocked" : "Unlock"), scene, lock.what);
}
Sentence sentence(const Rename& rename, const Scene& scene, Tense tense, const LengthUnit&) {
  return {{tense == Tense::Past ? "Renamed " : "Rename "},
          {names_of(scene, {rename.part}), Blank::What},
          {" to "},
          {rename.name, Blank::Name},
          {"."}};
}
Sentence sentence(const Delete& remove, const Scene& scene, Tense tense, const LengthUnit&) {
  return {{tense == Tense::Past ? "Deleted " : "Delete "},
          {names_of(scene, remove.what), Blank::What, remove.what.empty()},
          {"."}};
}
Sentence sentence(const Reparent& reparent, const Scene& scene, Tense tense, const LengthUnit&) {
  const Part* to = scene.find(reparent.to);
  return {{tense == Tense::Past ? "Put " : "Bring "},
          {names_of(scene, reparent.what), Blank::What, reparent.what.empty()},
          {" "},
          {to ? "under " + to->name : std::string("at the top of the tree"), Blank::Parent},
          {", keeping "},
          {reparent.keep_place ? "the place" : "the numbers", Blank::Keep},
          {"."}};
}

Json to_json(const Show& show, const Scene& scene) {
  return {{"verb", "show"}, {"what", parts_to_json(show.what, scene)}, {"shown", show.shown}};
}
Json to_json(const Lock& lock, const Scene& scene) {
  return {{"verb", "lock"}, {"what", parts_to_json(lock.what, scene)}, {"locked", lock.locked}};
}
Json to_json(const Rename& rename, const Scene& scene) {
  return {{"verb", "rename"}, {"what", parts_to_json({rename.part}, scene)}, {"name", rename.name}};
}
Json to_json(const Delete& remove, const Scene& scene) {
  return {{"verb", "delete"}, {"what", parts_to_json(remove.what, scene)}};
}
Json to_json(const Reparent& reparent, const Scene& scene) {
  return {{"verb", "parent"},
          {"what", parts_to_json(reparent.what, scene)},
          {"to", reparent.to == kNoPart ? Json(nullptr) : Json(path_of(scene, reparent.to))},
          {"keep", reparent.keep_place ? "place" : "numbers"}};
}

Result<Show> show_from_json(const Json& json, const Scene& scene) {
  auto read = what_and_flag(json, scene, "shown");
  if (!read) return tl::unexpected(read.error());
  return Show{std::move(read->first), read->second};
}
Result<Lock> lock_from_json(const Json& json, const Scene& scene) {
  auto read = what_and_flag(json, scene, "locked");
  if (!read) return tl::unexpected(read.error());
  return Lock{std::move(read->first), read->second};
}
Result<Rename> rename_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "name"}); !ok) return tl::unexpected(ok.error());
  if (!json.contains("what") || !json.contains("name") || !json["name"].is_string())
    return fail("Rename needs \"what\" (one part) and \"name\".");
  auto what = parts_from_json(json["what"], scene);
  if (!what) return tl::unexpected(what.error());
  if (what->size() != 1) return fail("Rename is for one part at a time.", "what");
  return Rename{what->front(), json["name"].get<std::string>()};
}
Result<Delete> delete_from_json(const Json& json, const Scene& scene) {
  if (!json.contains("what")) return fail("Delete needs \"what\": the parts to delete.", "what");
  if (const auto ok = check_keys(json, {"verb", "what"}); !ok) return tl::unexpected(ok.error());
  auto what = parts_from_json(json["what"], scene);
  if (!what) return tl::unexpected(what.error());
  return Delete{std::move(*what)};
}
Result<Reparent> reparent_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "to", "keep"}); !ok) return tl::unexpected(ok.error());
  Reparent reparent;
  if (!json.contains("what") || !json.contains("to")) return fail("Parent needs \"what\" and \"to\".");
  auto what = parts_from_json(json["what"], scene);
  if (!what) return tl::unexpected(what.error());
  reparent.what = std::move(*what);
  if (!json["to"].is_null()) {
    if (!json["to"].is_string()) return fail("This should name a part, or be null for the top of the tree.", "to");
    const auto to = find_by_path(scene, json["to"].get_ref<const std::string&>());
    if (!to) return tl::unexpected(to.error());
    reparent.to = *to;
  }
  if (json.contains("keep")) {
    if (json["keep"] != "place" && json["keep"] != "numbers")
      return fail(fmt::format("{} cannot be kept.", json["keep"].dump()), "keep", "Write place or numbers.");
    reparent.keep_place = json["keep"] == "place";
  }
  return reparent;
}

}  // namespace tack
