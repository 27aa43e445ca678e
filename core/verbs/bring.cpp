#include "core/verbs/bring.h"

#include <fmt/format.h>

#include <map>
#include <set>

#include "core/verbs/about.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"

namespace tack {
namespace {

// The ties between parts that came in, holding on what those are called here.
void add_ties(const Bring& bring, const std::vector<PartId>& ids, Scene& scene) {
  if (bring.ties.empty()) return;
  const auto here = [&](PartId part) { return part == kNoPart || part > ids.size() ? kNoPart : ids[part - 1]; };
  std::vector<Tie> ties = scene.ties();
  std::set<std::string> names;
  for (const Tie& tie : ties) names.insert(tie.name);
  for (Tie tie : bring.ties) {
    each_part(tie, [&](PartId& part) { part = here(part); });
    tie.name = first_free(tie.name, [&](const std::string& name) { return names.contains(name); });
    names.insert(tie.name);
    ties.push_back(std::move(tie));
  }
  scene.set_ties(std::move(ties));
}

// Puts those of the file's colours that a part has on the scene's list; what each of them is called here.
std::map<std::string, std::string> add_colours(const Bring& bring, Scene& scene) {
  std::map<std::string, std::string> here;
  std::set<std::string> used;
  for (const Part& part : *bring.parts)
    if (part.colour_names) used.insert(part.colour_names->begin(), part.colour_names->end());
  if (used.empty()) return here;
  std::vector<NamedColour> list = scene.colours();
  std::map<std::string, std::size_t> at;
  FreeNames names(Scene{}, kNoPart);
  for (std::size_t i = 0; i < list.size(); ++i) at[names.take(list[i].name)] = i;
  for (NamedColour colour : bring.colours) {
    const std::string name = colour.name;
    if (!used.contains(name)) continue;
    // One that looks the same and is called the same is the same: what it stands for in both files changes together.
    // A colour that was changed here has left the material it came with, and pictures may differ under one base colour.
    if (const auto known = at.find(name); known != at.end()) {
      NamedColour& mine = list[known->second];
      const bool as_it_came =
          mine.materials.empty() || (mine.colour == mine.colour_then && mine.name == mine.name_then);
      if (mine.colour == colour.colour && as_it_came && !mine.textured && !colour.textured) {
        if (mine.materials.empty()) mine.name_then = mine.name, mine.colour_then = mine.colour;
        mine.materials.insert(mine.materials.end(), colour.materials.begin(), colour.materials.end());
        here[name] = name;
        continue;
      }
    }
    colour.name = names.take(name);
    at[colour.name] = list.size();
    here[name] = colour.name;
    list.push_back(std::move(colour));
  }
  scene.set_colours(std::move(list));
  return here;
}

// What guides that came in follow, and the joints of meshes, by the ids they have here.
void follow_here(const std::vector<PartId>& ids, Scene& scene) {
  std::map<PartId, PartId> made;
  for (std::size_t i = 0; i < ids.size(); ++i) made[static_cast<PartId>(i + 1)] = ids[i];
  for (const PartId id : ids) {
    if (scene.part(id).skin) {
      Part bent = scene.part(id);
      auto skin = std::make_shared<Skin>(*bent.skin);
      for (PartId& joint : skin->joints) joint = made[joint];
      bent.skin = std::move(skin);
      scene.replace(id, std::move(bent));
    }
    const Part& came = scene.part(id);
    if (!came.law) continue;
    GuideLaw law = *came.law;
    for (TackAddress& place : law.places)
      if (place.part != kNoPart) place.part = made[place.part];
    Part part = came;
    part.law = std::make_shared<const GuideLaw>(std::move(law));
    scene.replace(id, std::move(part));
  }
}

ColourNames named_anew(const ColourNames& names, const std::map<std::string, std::string>& here) {
  if (!names) return nullptr;
  std::vector<std::string> anew = *names;
  for (std::string& name : anew)
    if (const auto found = here.find(name); found != here.end())
      name = found->second;
    else
      name.clear();
  return std::make_shared<const std::vector<std::string>>(std::move(anew));
}

Json text_or_null(const std::string& text) { return text.empty() ? Json(nullptr) : Json(text); }

void sentence(Phrase& s, const Bring& bring) {
  const std::size_t count = bring.parts ? bring.parts->size() : 0;
  std::string words = fmt::format("{} {} from {}", count, count == 1 ? "part" : "parts", printable(bring.file));
  if (!bring.instance_of.empty()) words += ", as an instance of " + printable(bring.instance_of);
  if (bring.on) words += ", onto " + tack_words(s.scene(), *bring.on);
  s.say("Brought in ", "Bring in ").say(words + ".");
}

}  // namespace

Result<Scene> apply(const Bring& bring, const Scene& scene) {
  if (!bring.parts || bring.parts->empty()) return fail(fmt::format("\"{}\" has no parts in it.", bring.file));
  Scene result = scene;
  std::vector<PartId> ids;
  ids.reserve(bring.parts->size());
  FreeNames names(scene, kNoPart);
  const bool instance = !bring.instance_of.empty();
  const std::map<std::string, std::string> colours =
      instance ? std::map<std::string, std::string>{} : add_colours(bring, result);
  for (Part part : *bring.parts) {
    if (!instance) part.colour_names = named_anew(part.colour_names, colours);
    if (part.parent > ids.size()) return fail(fmt::format("The parts of \"{}\" are out of order.", bring.file));
    part.parent = part.parent == kNoPart ? kNoPart : ids[part.parent - 1];
    if (part.parent == kNoPart) part.name = names.take(part.name);
    ids.push_back(result.add(std::move(part)));
  }
  if (bring.carried) result.set_carried(bring.carried);
  add_ties(bring, ids, result);
  follow_here(ids, result);
  std::vector<PartId> tops;
  for (std::size_t i = 0; i < ids.size(); ++i)
    if ((*bring.parts)[i].parent == kNoPart) tops.push_back(ids[i]);
  const Box box = box_along(result, tops, Mat3{});
  if (bring.at && !box.empty()) {
    auto moved = moved_rigidly(result, tops, {}, box.at({0.5, 0.5, 0}), *bring.at);
    if (!moved) return moved;
    result = std::move(*moved);
  }
  if (!bring.on) return result;
  const Meet meet = landing_on(result, tops, *bring.on);
  return meet.from ? apply(meet, result) : result;
}

Meet landing_on(const Scene& scene, const std::vector<PartId>& parts, const TackAddress& place) {
  Meet meet;
  meet.what = parts;
  meet.to = place;
  const std::vector<bool> within = marked_within(scene, parts);
  for (const PartId id : scene.in_tree_order()) {
    if (!within[id] || !find_kept(scene, id, "in")) continue;
    TackAddress in;
    in.kind = TackKind::Kept;
    in.part = id;
    in.name = "in";
    meet.from = in;
    return meet;
  }
  meet = stood_on_base(meet, scene);
  if (meet.from) meet.facing = default_facing(scene, *meet.from, place);
  return meet;
}

// clang-format off
const Table<Bring>& table_of(const Bring*) {
  static const Table<Bring> table{.key = "bring", .does = "Brings the parts of a file in.", .sentence = sentence,
      .rows = {
    {.key = "file", .name = "File", .at = slot<&Bring::path>, .needed = true, .always = true,
     .doc = "what is read, relative to the steps file"},
    {.key = "unit", .name = "Unit", .write = [](const Bring& b, const Scene&) { return text_or_null(b.unit); }, .value = "`mm`, `cm`, `m`, `in`, `ft`",
     .doc = "what one unit of the file means, where the format does not say"},
    {.key = "up", .name = "Up", .write = [](const Bring& b, const Scene&) { return text_or_null(b.up); }, .value = "`y`, `z`", .doc = "which axis points up, where the format does not say"},
    {.key = "scene", .name = "Scene",
     .write = [](const Bring& b, const Scene&) { return b.scene ? Json(*b.scene) : Json(nullptr); }, .value = "whole number", .doc = "which of several scenes, from 0"},
    {.key = "instance", .name = "Instance or not",
     .write = [](const Bring& b, const Scene&) { return b.instance_of.empty() ? Json(nullptr) : Json(true); }, .value = "`true`, `false`",
     .doc = "where the scene has the same part already it comes in as an instance of that; left out: `false`"},
    {.key = "unknown", .name = "Unknown extensions", .value = "`keep`, `leave-out`",
     .doc = "what becomes of extensions that may name things by number and are not known; left out: `keep`"},
    {.key = "at", .name = "At",
     .write = [](const Bring& b, const Scene&) {
           return b.at ? Json::array({b.at->x, b.at->y, b.at->z}) : Json(nullptr);
         },
     .value = "three lengths", .doc = "where the middle of its bottom is put; left out: as the file has it"},
    {.key = "on", .name = "On",
     .write = [](const Bring& b, const Scene& scene) {
           return b.on ? Json(address_text(scene, *b.on)) : Json(nullptr);
         },
     .value = "place", .doc = "the place it is stood on, by its kept tack `in` or else by its base; left out: on none"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
