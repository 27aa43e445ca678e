#include "core/verbs/outline.h"

#include <fmt/format.h>

#include "core/math/split.h"
#include "core/verbs/parts.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"

namespace tack {
namespace {

// Changes how each part of `what` is called or looks.
Result<Scene> changed(const Scene& scene, const std::vector<PartId>& what, const std::function<void(Part&)>& change) {
  if (what.empty()) return fail("Nothing is picked.", {}, "Pick a part first.");
  Scene result = scene;
  for (const PartId id : what) {
    if (!result.contains(id)) return fail("A part that this step changes is no longer there.");
    result.dress(id, change);
  }
  return result;
}

// The parts that are there, and of those without a mesh all that is in them: a group has nothing to be seen through.
std::vector<PartId> with_groups(const Scene& scene, const std::vector<PartId>& parts) {
  std::vector<PartId> all;
  std::vector<bool> groups(scene.id_limit(), false);
  for (const PartId id : parts) {
    if (!scene.contains(id)) continue;
    all.push_back(id);
    groups[id] = !scene.part(id).mesh;
  }
  for (const PartId id : scene.in_tree_order()) {
    const PartId parent = scene.part(id).parent;
    if (parent == kNoPart || !groups[parent]) continue;
    groups[id] = true;
    all.push_back(id);
  }
  return all;
}

// The verb's word is itself the blank: it has an opposite.
constexpr Choice kShown[] = {{"hidden", ""}, {"shown", ""}};
constexpr Choice kLocked[] = {{"unlocked", ""}, {"locked", ""}};
constexpr Choice kSeeThrough[] = {{"solid", ""}, {"see-through", ""}};
constexpr Choice kKeeps[] = {{"the place", "place"}, {"the numbers", "numbers"}};

Result<void> check(const Rename& rename) { return check_name(rename.name, "A part"); }

WaysOut<Reparent> ways_out(const Reparent& reparent) {
  Reparent numbers = reparent;
  numbers.keeps = Reparent::Keeps::Numbers;
  return {{"keep the numbers instead", numbers}};
}

void sentence(Phrase& s, const Show& show) {
  s.blank("shown", 0, show.shown ? (s.past() ? "Showed" : "Show") : (s.past() ? "Hid" : "Hide"));
  s.say(" ").blank("what").say(".");
}

void sentence(Phrase& s, const Lock& lock) {
  s.blank("locked", 0, lock.locked ? (s.past() ? "Locked" : "Lock") : (s.past() ? "Unlocked" : "Unlock"));
  s.say(" ").blank("what").say(".");
}

void sentence(Phrase& s, const SeeThrough& clear) {
  s.say("Made ", "Make ").blank("what").say(" ").blank("on", 0, clear.on ? "see-through" : "solid again").say(".");
}

void sentence(Phrase& s, const Rename&) {
  s.say("Renamed ", "Rename ").blank("what").say(" to ").blank("name").say(".");
}

void sentence(Phrase& s, const Delete&) { s.say("Deleted ", "Delete ").blank("what").say("."); }

void sentence(Phrase& s, const Reparent& reparent) {
  s.say("Put ", "Bring ").blank("what").say(" ");
  s.blank("to", 0,
          s.scene().contains(reparent.to) ? "under " + name_of(s.scene(), reparent.to) : "at the top of the tree");
  s.say(", keeping ").blank("keep").say(".");
}

}  // namespace

Result<Scene> apply(const Show& show, const Scene& scene) {
  return changed(scene, show.what, [&](Part& part) { part.hidden = !show.shown; });
}
Result<Scene> apply(const Lock& lock, const Scene& scene) {
  return changed(scene, lock.what, [&](Part& part) { part.locked = lock.locked; });
}
bool all_see_through(const Scene& scene, const std::vector<PartId>& parts) {
  const std::vector<PartId> all = with_groups(scene, parts);
  const auto solid = [&](PartId id) { return scene.part(id).mesh && !scene.part(id).see_through; };
  const auto clear = [&](PartId id) { return scene.part(id).see_through; };
  return std::none_of(all.begin(), all.end(), solid) && std::any_of(all.begin(), all.end(), clear);
}
Result<Scene> apply(const SeeThrough& clear, const Scene& scene) {
  for (const PartId id : clear.what)
    if (!scene.contains(id)) return changed(scene, clear.what, [](Part&) {});  // says so
  const std::vector<PartId> all = with_groups(scene, clear.what);
  if (std::none_of(all.begin(), all.end(), [&](PartId id) { return scene.part(id).mesh != nullptr; }) && !all.empty())
    return fail(fmt::format("{} has no surface to see through.", names_of(scene, clear.what)), "what");
  return changed(scene, all, [&](Part& part) {
    if (part.mesh) part.see_through = clear.on;
  });
}
Result<Scene> apply(const Rename& rename, const Scene& scene) {
  if (const Part* part = scene.find(rename.part); part && part->guide == GuideKind::Plane && rename.name == kWorldPlane)
    return fail("World is the name of the ground.", "name", "Give the plane another name.");
  return changed(scene, {rename.part}, [&](Part& part) { part.name = rename.name; });
}

Result<Scene> apply(const Delete& remove, const Scene& scene) {
  const auto parts = movable(scene, remove.what);
  if (!parts) return tl::unexpected(parts.error());
  Scene result = scene;
  result.remove(*parts);
  return result;
}

Result<Scene> apply(const Reparent& reparent, const Scene& scene) {
  const auto parts = movable(scene, reparent.what);
  if (!parts) return tl::unexpected(parts.error());
  if (reparent.to != kNoPart && !scene.contains(reparent.to)) return fail("The new parent is no longer there.");
  Scene result = scene;
  const bool keeps_place = reparent.keeps == Reparent::Keeps::Place;
  const Affine new_parent = reparent.to == kNoPart ? Affine{} : world_of(scene, reparent.to);
  for (const PartId id : *parts) {
    const Part& part = scene.part(id);
    if (is_within(scene, reparent.to, id))
      return fail(fmt::format("\"{}\" cannot belong to itself or to a part below it.", part.name));
    Placement placement = part.placement;
    const Affine old_parent = parent_world_of(scene, id);
    const Vec3 pivot = old_parent * placement.position;
    if (keeps_place && old_parent.linear != new_parent.linear) {
      const auto back = inverse(new_parent.linear);
      if (!back)
        return fail(fmt::format("\"{}\" is flattened: nothing can be put under it.", scene.part(reparent.to).name));
      const auto kept = with_linear(placement, *back * (old_parent.linear * linear_of(placement)));
      if (!kept) return tl::unexpected(kept.error());
      placement = *kept;
    }
    result.reparent(id, reparent.to);
    result.place(id, placement);
    if (!keeps_place) continue;
    if (const auto ok = put_pivot(result, id, pivot); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

// clang-format off
const Table<Show>& table_of(const Show*) {
  static const Table<Show> table{.key = "show", .does = "Shows or hides parts.", .on_patches = true, .sentence = sentence, .rows = {
    what_row<Show>("Click the part to show or hide instead.", "the parts that are shown or hidden"),
    {.key = "shown", .name = "This or the opposite", .at = slot<&Show::shown>, .choices = kShown, .always = true,
     .doc = "left out: `true`"},
  }};
  return table;
}
const Table<Lock>& table_of(const Lock*) {
  static const Table<Lock> table{.key = "lock", .does = "Locks or unlocks parts.", .on_patches = true, .sentence = sentence, .rows = {
    what_row<Lock>("Click the part to lock or unlock instead.", "the parts that are locked or unlocked"),
    {.key = "locked", .name = "This or the opposite", .at = slot<&Lock::locked>, .choices = kLocked, .always = true,
     .doc = "left out: `true`"},
  }};
  return table;
}
const Table<SeeThrough>& table_of(const SeeThrough*) {
  static const Table<SeeThrough> table{.key = "see-through", .does = "Makes parts see-through, or solid again.",
      .sentence = sentence, .rows = {
    what_row<SeeThrough>("Click the part to see through instead.",
                         "the parts that are seen through; of a group, all that is in it"),
    {.key = "on", .name = "This or the opposite", .at = slot<&SeeThrough::on>, .choices = kSeeThrough, .always = true,
     .doc = "left out: `true`"},
  }};
  return table;
}
const Table<Rename>& table_of(const Rename*) {
  static const Table<Rename> table{.key = "rename", .does = "Gives a part another name.", .on_patches = true, .check = check,
      .parts = [](const Rename& r, const Scene&) { return std::vector<PartId>{r.part}; }, .sentence = sentence,
      .rows = {
    {.key = "what", .name = "What", .at = slot<&Rename::part>, .ask = "Click the part to rename instead.",
     .needed = true, .write = [](const Rename& r, const Scene& scene) { return parts_to_json({r.part}, scene); },
     .read = [](Rename& r, const Json& json, const Scene& scene) {
           return into(r.part, only_part_from_json(json, "Rename is for one part at a time.", scene));
         },
     .value = "list of one part", .doc = "the part"},
    {.key = "name", .name = "Name", .at = slot<&Rename::name>, .needed = true, .always = true, .doc = "its new name"},
  }};
  return table;
}
const Table<Delete>& table_of(const Delete*) {
  static const Table<Delete> table{.key = "delete", .does = "Deletes parts with everything below them.", .on_patches = true,
      .sentence = sentence, .rows = {
    what_row<Delete>("Click the part to delete instead.", "the parts that go, with everything below them"),
  }};
  return table;
}
const Table<Reparent>& table_of(const Reparent*) {
  static const Table<Reparent> table{.key = "parent", .does = "Gives parts another parent.", .ways_out = ways_out,
      .sentence = sentence, .rows = {
    what_row<Reparent>("Click the part to bring there instead.", "the parts that get another parent"),
    {.key = "to", .name = "Parent", .at = slot<&Reparent::to>, .ask = "Click the part that becomes the parent.",
     .needed = true, .always = true,
     .options = [](const Reparent&, const Scene&, std::size_t) {
           return std::vector<Option>{{"at the top of the tree"}, {"under a part (click it)", Click::Part}};
         },
     .choose = [](Reparent& r, std::size_t, std::size_t option, const ChoiceContext&) {
           if (option == 0) r.to = kNoPart;
         },
     .read = [](Reparent& r, const Json& json, const Scene& scene) -> Result<void> {
           if (json.is_null()) return {};
           const auto part = part_from_json(json, "to", scene);
           if (!part) return fail(part.error().what, "to", "Name a part, or write null for the top of the tree.");
           return r.to = *part, Result<void>();
         },
     .value = "part, or `null`", .doc = "the new parent; `null`: the top of the tree"},
    {.key = "keep", .name = "What is kept", .at = slot<&Reparent::keeps>, .choices = kKeeps, .always = true,
     .doc = "what stays: the place in the world, or the numbers"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
