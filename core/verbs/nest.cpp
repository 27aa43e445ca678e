#include "core/verbs/nest.h"

#include <fmt/format.h>

#include <map>

#include "core/mesh/transform.h"
#include "core/printable.h"
#include "core/verbs/colours.h"
#include "core/verbs/outline.h"
#include "core/verbs/parts.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"

namespace tack {
namespace {

// The nearest part above all of `parts`; kNoPart: the top of the tree.
PartId common_parent(const Scene& scene, const std::vector<PartId>& parts) {
  for (PartId up = scene.part(parts.front()).parent; up != kNoPart; up = scene.part(up).parent)
    if (std::all_of(parts.begin(), parts.end(), [&](PartId id) { return id != up && is_within(scene, id, up); }))
      return up;
  return kNoPart;
}

constexpr Choice kMeshes[] = {{"with a mesh of its own", ""}, {"as an instance", ""}};

std::vector<Option> group_places(const Group&, const Scene&, std::size_t) {
  std::vector<Option> options = about_options();
  options.erase(options.begin());  // the group has no pivot of its own yet
  return options;
}
void choose_group_place(Group& group, std::size_t, std::size_t option, const ChoiceContext&) {
  if (const auto about = about_option(option + 1)) group.at = *about;
}

Result<void> check(const Group& group) {
  return group.name.empty() ? Result<void>() : check_name(group.name, "A group");
}

void sentence(Phrase& s, const Group& group) {
  s.about({});  // its pivot is that of none of the parts
  s.say("Put ").blank("what").say(" into ").blank("name", 0, group.name.empty() ? "a group" : group.name);
  s.say(", at ").blank("at").say(".");
}

void sentence(Phrase& s, const Ungroup&) { s.say("Ungrouped ", "Ungroup ").blank("what").say("."); }

void sentence(Phrase& s, const Copy&) {
  s.say("Copied ", "Copy ").blank("what").say(" ").blank("instance").say(", offset ").three("by").say(".");
}

void sentence(Phrase& s, const Separate& separate) {
  s.say("Gave ", "Give ").blank("what").say(separate.what.size() > 1 ? " meshes of their own." : " a mesh of its own.");
}

// A colour is that of the list or one of the part's own, never both.
std::string_view own_only(const Paint& paint) { return paint.named.empty() ? "" : "the colour is that of the list"; }

void sentence(Phrase& s, const Paint& paint) {
  s.say("Coloured ", "Colour ").blank("what").say(" ");
  if (paint.named.empty())
    s.blank("colour");
  else
    s.blank("named", 0, printable(paint.named));
  s.say(".");
}

}  // namespace

Result<Scene> apply(const Group& group, const Scene& scene) {
  const auto parts = movable(scene, group.what);
  if (!parts) return tl::unexpected(parts.error());
  auto at = still_point(group.at, scene, parts->front(), *parts, AxesKind::World);
  // Groups of nothing but empty groups have no box: the group stands where the first of them does.
  if (!at && group.at == middle_of_all())
    at = world_of(scene, parts->front()) * scene.part(parts->front()).placement.pivot;
  if (!at) return tl::unexpected(at.error());
  Scene result = scene;
  Part part;
  part.parent = common_parent(scene, *parts);
  part.name = free_name(scene, part.parent, group.name.empty() ? "Group" : group.name);
  const PartId id = result.add(std::move(part));
  if (const auto ok = put_pivot(result, id, *at); !ok) return tl::unexpected(ok.error());
  return apply(Reparent{*parts, id, Reparent::Keeps::Place}, result);
}

Result<Scene> apply(const Ungroup& ungroup, const Scene& scene) {
  const auto parts = movable(scene, ungroup.what);
  if (!parts) return tl::unexpected(parts.error());
  Scene result = scene;
  for (const PartId id : *parts) {
    const Part part = result.part(id);
    if (part.children.empty()) return fail(fmt::format("\"{}\" has no parts below it.", part.name));
    auto released = apply(Reparent{part.children, part.parent, Reparent::Keeps::Place}, result);
    if (!released) return released;
    result = std::move(*released);
    if (!part.mesh) result.remove(id);
  }
  return result;
}

Result<Scene> apply(const Copy& copy, const Scene& scene) {
  if (copy.what.empty()) return fail("Nothing is picked.", {}, "Pick a part first.");
  for (const PartId id : copy.what)
    if (!scene.contains(id)) return fail("A part that this step copies is no longer there.");
  const Vec3 by{copy.by[0].value, copy.by[1].value, copy.by[2].value};
  Scene result = scene;
  std::map<const Mesh*, MeshPtr> own;
  std::map<PartId, FreeNames> names;
  for (const PartId id : topmost(scene, copy.what)) {
    const PartId parent = scene.part(id).parent;
    FreeNames& free = names.try_emplace(parent, scene, parent).first->second;
    const PartId added = add_copy(result, scene, id, copy.instance, free, own);
    if (by == Vec3{}) continue;
    const Vec3 pivot = world_of(result, added) * result.part(added).placement.pivot;
    if (const auto ok = put_pivot(result, added, add_decimals(pivot, by)); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

Result<Scene> apply(const Separate& separate, const Scene& scene) {
  const auto parts = movable(scene, separate.what);
  if (!parts) return tl::unexpected(parts.error());
  std::map<const Mesh*, int> users;
  for (const PartId id : scene.in_tree_order())
    if (const MeshPtr& mesh = shared_mesh(scene.part(id))) ++users[mesh.get()];
  Scene result = scene;
  bool any = false;
  for (const PartId id : separate.what) {
    Part part = result.part(id);
    if (!part.mesh || users[shared_mesh(part).get()]-- < 2) continue;
    if (!std::exchange(part.stretched, nullptr)) part.mesh = duplicated(*part.mesh);
    result.replace(id, std::move(part));
    any = true;
  }
  if (!any) return fail(fmt::format("{} shares no mesh with another part.", names_of(scene, separate.what)));
  return result;
}

Result<Scene> apply(const Paint& paint, const Scene& scene) {
  if (paint.what.empty()) return fail("Nothing is picked.", {}, "Pick a part first.");
  const NamedColour* named = nullptr;
  if (!paint.named.empty()) {
    const auto found = find_colour(scene, paint.named);
    if (!found) return tl::unexpected(found.error());
    named = *found;
  }
  std::vector<bool> coloured(scene.id_limit(), false), groups(scene.id_limit(), false);
  for (const PartId id : paint.what) {
    if (!scene.contains(id)) return fail("A part that this step colours is no longer there.");
    (scene.part(id).mesh ? coloured : groups)[id] = true;
  }
  Scene result = scene;
  bool any = false;
  for (const PartId id : scene.in_tree_order()) {
    const Part& old = scene.part(id);
    // A group's colour is that of what is in it.
    if (old.parent != kNoPart && groups[old.parent]) groups[id] = coloured[id] = true;
    if (!coloured[id] || !old.mesh) continue;
    Part part = old;
    for (Colour& c : part.colours)
      c = named ? named->colour : Colour{paint.colour.r, paint.colour.g, paint.colour.b, c.a};
    part.colour_names =
        named ? std::make_shared<const std::vector<std::string>>(part.colours.size(), named->name) : nullptr;
    part.source.change().recoloured = true;
    result.replace(id, std::move(part));
    any = true;
  }
  if (!any) return fail(fmt::format("{} has no surface to be coloured.", names_of(scene, paint.what)), "what");
  return result;
}

// clang-format off
const Table<Group>& table_of(const Group*) {
  static const Table<Group> table{.key = "group", .does = "Puts parts under a new group.", .check = check,
      .sentence = sentence, .rows = {
    what_row<Group>("Click the part to group instead.", "the parts that go under it, where they are"),
    {.key = "name", .name = "Name", .at = slot<&Group::name>, .doc = "left out: `Group`, with a number"},
    {.key = "at", .name = "At", .at = slot<&Group::at>, .ask = "Click the place for the group's pivot.", .always = true,
     .options = group_places, .choose = choose_group_place, .doc = "where its pivot stands; left out: `middle`"},
  }};
  return table;
}
const Table<Ungroup>& table_of(const Ungroup*) {
  static const Table<Ungroup> table{.key = "ungroup", .does = "Takes groups apart; their parts stay where they are.",
      .sentence = sentence, .rows = {
    what_row<Ungroup>("Click the group to take apart instead.", "the groups that are taken apart"),
  }};
  return table;
}
const Table<Copy>& table_of(const Copy*) {
  static const Table<Copy> table{.key = "copy", .does = "Copies parts.", .sentence = sentence, .rows = {
    what_row<Copy>("Click the part to copy instead.", "the parts that are copied, with everything below them"),
    {.key = "instance", .name = "Instance or not", .at = slot<&Copy::instance>, .choices = kMeshes, .always = true,
     .doc = "the copies share the mesh; left out: each has one of its own"},
    {.key = "by", .name = "Along", .at = slot<&Copy::by>, .always = true, .three = true,
     .doc = "how far from the parts the copies stand, along world x, y and z"},
  }};
  return table;
}
const Table<Separate>& table_of(const Separate*) {
  static const Table<Separate> table{.key = "separate", .does = "Gives instances meshes of their own.",
      .sentence = sentence, .rows = {
    what_row<Separate>("Click the part to make separate instead.", "instances that get meshes of their own"),
  }};
  return table;
}
const Table<Paint>& table_of(const Paint*) {
  static const Table<Paint> table{.key = "colour", .does = "Colours parts.", .sentence = sentence, .rows = {
    what_row<Paint>("Click the part to colour instead.", "the parts that are coloured; of a group, all that is in it"),
    {.key = "colour", .name = "Colour", .at = slot<&Paint::colour>,
     .needed_if = [](const Paint& p) { return p.named.empty(); }, .always = true, .barred = own_only,
     .doc = "for all faces, when `named` is left out"},
    {.key = "named", .name = "Colour of the list", .at = slot<&Paint::named>,
     .doc = "a colour of the document's list, by its name"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
