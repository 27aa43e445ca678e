#include "core/verbs/keep.h"

#include <fmt/format.h>

#include "core/verbs/phrase.h"

namespace tack {
namespace {

// Each step that keeps one more holds them all: with a limit, a thousand steps cost a thousand times a thousand at
// most.
constexpr std::size_t kMostKept = 1000;

// The part itself and, where all instances take part, those that share its mesh.
std::vector<PartId> sharing(const Scene& scene, PartId id, bool instances) {
  std::vector<PartId> parts{id};
  if (!instances) return parts;
  const std::vector<PartId> others = instances_of(scene, id);
  parts.insert(parts.end(), others.begin(), others.end());
  return parts;
}

void set_kept(Scene& scene, PartId id, KeptTacks kept) {
  Part part = scene.part(id);
  part.kept = kept.empty() ? nullptr : std::make_shared<const KeptTacks>(std::move(kept));
  scene.replace(id, std::move(part));
}

std::string name_for(const Keep& keep, const Scene& scene, PartId part) {
  if (!keep.name.empty()) return keep.name;
  return first_free("Tack", [&](const std::string& name) { return find_kept(scene, part, name) != nullptr; });
}

Result<void> check(const Keep& keep) {
  if (!keep.at) return fail("There is no place to keep yet.", {}, "Click the place.");
  if (keep.name.empty()) return {};
  if (auto ok = check_name(keep.name, "A kept tack"); !ok) return ok;
  // Addresses could not be told apart.
  if (keep.name.front() == ' ' || keep.name.back() == ' ')
    return fail("The name of a kept tack does not begin or end with a blank.", "name");
  return {};
}

std::vector<PartId> parts_of(const Keep& keep, const Scene&) {
  return keeper(keep) == kNoPart ? std::vector<PartId>{} : std::vector<PartId>{keeper(keep)};
}

void sentence(Phrase& s, const Keep& keep) {
  const PartId id = keeper(keep);
  s.say("Kept the ", "Keep the ");
  if (keep.at && keep.at->part == id)
    s.blank("at", 0, kind_words(*keep.at));
  else
    s.blank("at");
  s.say(" on ").blank("what", 0, id == kNoPart ? "a part" : name_of(s.scene(), id), id == kNoPart).say(" as ");
  s.blank("name", 0, id == kNoPart && keep.name.empty() ? "Tack" : name_for(keep, s.scene(), id));
  if (id != kNoPart && shares_mesh(s.scene(), {id})) s.say(", ").blank("copies");
  s.say(".");
}

void sentence(Phrase& s, const Forget& forget) {
  s.say("Took the kept tack ", "Take the kept tack ").say(forget.name).say(" off ").blank("what");
  if (shares_mesh(s.scene(), forget.what)) s.say(", ").blank("copies");
  s.say(".");
}

}  // namespace

PartId keeper(const Keep& keep) { return keep.part != kNoPart ? keep.part : keep.at ? keep.at->part : kNoPart; }

Result<Scene> apply(const Keep& keep, const Scene& scene) {
  const PartId id = keeper(keep);
  if (id == kNoPart) return fail("A point of space is not on a part.", {}, "Pick the part that is to keep it.");
  if (!scene.contains(id)) return fail("The part that was to keep it has been deleted.");
  const auto tack = find_tack(scene, *keep.at);
  if (!tack) return tl::unexpected(tack.error());
  const Affine world = world_of(scene, id);
  const auto back = inverse(world);
  if (!back) return fail(fmt::format("\"{}\" is flattened: nothing can be kept on it.", scene.part(id).name));
  KeptTack kept{name_for(keep, scene, id), *back * tack->point, {}, {}};
  if (tack->direction) kept.direction = normalized(normal_map(back->linear) * *tack->direction);
  if (tack->roll) kept.roll = normalized(back->linear * *tack->roll);
  Scene result = scene;
  for (const PartId each : sharing(scene, id, keep.copies == Copies::All)) {
    KeptTacks all = kept_of(result, each);
    const auto same = std::find_if(all.begin(), all.end(), [&](const KeptTack& k) { return k.name == kept.name; });
    if (same == all.end() && all.size() >= kMostKept)
      return fail(
          fmt::format("\"{}\" has {} kept tacks, which is the most a part can have.", scene.part(each).name, kMostKept),
          {}, "Take one off first.");
    if (same == all.end())
      all.push_back(kept);
    else
      *same = kept;
    set_kept(result, each, std::move(all));
  }
  return result;
}

Result<Scene> apply(const Forget& forget, const Scene& scene) {
  if (forget.what.empty()) return fail("Nothing is picked.", {}, "Pick a part first.");
  Scene result = scene;
  bool any = false;
  for (const PartId id : forget.what) {
    if (!scene.contains(id)) return fail("A part that this step changes is no longer there.");
    for (const PartId each : sharing(scene, id, forget.copies == Copies::All)) {
      KeptTacks kept = kept_of(result, each);
      if (std::erase_if(kept, [&](const KeptTack& k) { return k.name == forget.name; }) == 0) continue;
      any = true;
      for (const Tie& tie : scene.ties())
        for (const TackPair& pair : tie.pairs)
          for (const TackAddress* a : {&pair.from, &pair.to})
            if (a->kind == TackKind::Kept && a->part == each && a->name == forget.name)
              return fail(
                  fmt::format("The tie \"{}\" holds on \"{}\" of {}.", tie.name, forget.name, scene.part(each).name),
                  {}, "Delete the tie first.");
      set_kept(result, each, std::move(kept));
    }
  }
  if (!any) return fail(fmt::format("{} has no kept tack \"{}\".", names_of(scene, forget.what), forget.name), "name");
  return result;
}

// clang-format off
const Table<Keep>& table_of(const Keep*) {
  static const Table<Keep> table{.key = "keep", .does = "Saves a place on a part by name.", .check = check,
      .waits = [](const Keep& k) { return k.at ? BlankId{} : blank_of<Keep>("at"); }, .parts = parts_of,
      .sentence = sentence, .rows = {
    {.key = "name", .name = "Name", .at = slot<&Keep::name>,
     .write = [](const Keep& k, const Scene& scene) { return Json(name_for(k, scene, keeper(k))); },
     .doc = "by which it is kept; left out: `Tack`, with a number"},
    {.key = "copies", .name = "Instances", .at = slot<&Keep::copies>, .choices = kCopiesChoices, .always = true,
     .doc = "left out: all that share its mesh take part"},
    {.key = "what", .name = "What", .at = slot<&Keep::part>, .ask = "Click the part that is to keep it.",
     .write = [](const Keep& k, const Scene& scene) {
           return k.part == kNoPart ? Json(nullptr) : parts_to_json({k.part}, scene);
         },
     .read = [](Keep& k, const Json& json, const Scene& scene) {
           return into(k.part, only_part_from_json(json, "A tack is kept on one part at a time.", scene));
         },
     .value = "list of one part", .doc = "left out: the part that the place is on"},
    {.key = "at", .name = "At", .at = slot<&Keep::at>, .ask = "Click the place to keep on its part, by a name.",
     .waiting = "place", .needed = true, .doc = "the place to keep"},
  }};
  return table;
}
const Table<Forget>& table_of(const Forget*) {
  static const Table<Forget> table{.key = "forget", .does = "Takes a kept tack off parts.", .sentence = sentence,
      .rows = {
    what_row<Forget>("", "the parts it is taken off"),
    {.key = "name", .name = "Name", .at = slot<&Forget::name>, .needed = true, .always = true,
     .doc = "of the kept tack"},
    {.key = "copies", .name = "Instances", .at = slot<&Forget::copies>, .choices = kCopiesChoices, .always = true,
     .doc = "left out: all that share its mesh take part"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
