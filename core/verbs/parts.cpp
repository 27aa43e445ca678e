#include "core/verbs/parts.h"

#include <fmt/format.h>

#include "core/mesh/transform.h"
#include "core/verbs/words.h"

namespace tack {

Result<std::vector<PartId>> movable(const Scene& scene, const std::vector<PartId>& what) {
  if (what.empty()) return fail("Nothing is picked.", {}, "Pick a part first.");
  for (const PartId id : what)
    if (!scene.contains(id)) return fail("A part that this step moves is no longer there.");
  const std::vector<PartId> parts = topmost(scene, what);
  for (const PartId id : parts)
    for (const Part* p = scene.find(id); p; p = scene.find(p->parent))
      if (p->locked) return fail(fmt::format("\"{}\" is locked.", p->name), {}, "Unlock it in Parts to move it.");
  return parts;
}

std::vector<PartId> in_tree_order(const Scene& scene, const std::vector<PartId>& what) {
  if (what.size() == 1) return scene.contains(what.front()) ? what : std::vector<PartId>{};
  std::vector<bool> wanted(scene.id_limit(), false);
  for (const PartId id : what)
    if (id < wanted.size()) wanted[id] = true;
  std::vector<PartId> order;
  for (const PartId id : scene.in_tree_order())
    if (wanted[id]) order.push_back(id);
  return order;
}

bool moves_with(const Scene& scene, const std::vector<PartId>& parts, PartId part) {
  return carrier_of(scene, parts, part) != kNoPart;
}

PartId carrier_of(const Scene& scene, const std::vector<PartId>& parts, PartId part) {
  const auto found = std::find_if(parts.begin(), parts.end(), [&](PartId id) { return is_within(scene, part, id); });
  return found == parts.end() ? kNoPart : *found;
}

Result<void> check_from_moves(const Scene& scene, const std::vector<PartId>& parts, const TackAddress& from) {
  if (!is_on_part(from) || moves_with(scene, parts, from.part)) return {};
  return fail(fmt::format("The {} does not move.", tack_words(scene, from)), {}, "From must be on a part that moves.");
}

Result<void> check_to_stays(const Scene& scene, const std::vector<PartId>& parts, const TackAddress& to) {
  if (!is_on_part(to) || !moves_with(scene, parts, to.part)) return {};
  return fail(fmt::format("The {} moves as well.", tack_words(scene, to)), {}, "To must be on a part that stays.");
}

std::vector<PartId> skewed_between(const Scene& before, const Scene& after) {
  std::vector<PartId> skewed = after.unlike(before);
  std::erase_if(skewed, [&](PartId id) {
    const Part *then = before.find(id), *now = after.find(id);
    return !then || !now || largest_component(then->placement.skew) >= 1e-9 ||
           largest_component(now->placement.skew) < 1e-9;
  });
  return skewed;
}

std::vector<PartId> instances_of(const Scene& scene, PartId id) {
  std::vector<PartId> others;
  const MeshPtr mesh = shared_mesh(scene.part(id));
  if (!mesh) return others;
  for (const PartId other : scene.in_tree_order())
    if (other != id && shared_mesh(scene.part(other)) == mesh) others.push_back(other);
  return others;
}

bool shares_mesh(const Scene& scene, const std::vector<PartId>& parts) {
  std::map<const Mesh*, int> users;
  for (const PartId id : parts)
    if (const Part* part = scene.find(id); part && part->mesh) users[shared_mesh(*part).get()] = 0;
  if (users.empty()) return false;
  bool shared = false;
  for (const PartId id : scene.in_tree_order())
    if (const auto user = users.find(shared_mesh(scene.part(id)).get()); user != users.end())
      shared |= ++user->second > 1;
  return shared;
}

namespace {

PartId add_tree(Scene& scene, const Scene& from, PartId id, PartId parent, bool instance, OwnMeshes& own,
                std::map<PartId, PartId>& made) {
  Part part = from.part(id);
  part.parent = parent;
  if (part.mesh && !instance) {
    MeshPtr& mesh = own[part.mesh.get()];
    if (!mesh) mesh = duplicated(*part.mesh);
    part.mesh = mesh;
    part.stretched = nullptr;
  }
  const PartId copy = scene.add(std::move(part));
  made[id] = copy;
  for (const PartId child : from.part(id).children) add_tree(scene, from, child, copy, instance, own, made);
  return copy;
}

// Adds an instance of `id` and everything below it; says which part each has become.
PartId add_instance(Scene& scene, const Scene& from, PartId id, PartId parent, FreeNames& names,
                    std::map<PartId, PartId>& made) {
  Part part = from.part(id);
  part.parent = parent;
  if (made.empty()) part.name = next_name(names, part.name);
  const PartId instance = scene.add(std::move(part));
  made[id] = instance;
  for (const PartId child : from.part(id).children) add_instance(scene, from, child, instance, names, made);
  return instance;
}

}  // namespace

void follow_copies(Scene& scene, const std::map<PartId, PartId>& made) {
  for (const auto& [original, copy] : made) {
    if (scene.part(copy).skin) {
      // A figure that was copied whole is bent by its own joints; a mesh alone goes on being bent by the old ones.
      Part bent = scene.part(copy);
      auto skin = std::make_shared<Skin>(*bent.skin);
      for (PartId& joint : skin->joints)
        if (const auto found = made.find(joint); found != made.end()) joint = found->second;
      bent.skin = std::move(skin);
      scene.replace(copy, std::move(bent));
    }
    const Part& part = scene.part(copy);
    if (!part.law) continue;
    GuideLaw law = *part.law;
    for (TackAddress& place : law.places)
      if (const auto found = made.find(place.part); found != made.end()) place.part = found->second;
    if (law == *part.law) continue;
    Part follows = part;
    follows.law = std::make_shared<const GuideLaw>(std::move(law));
    scene.replace(copy, std::move(follows));
  }
}

PartId add_copy(Scene& scene, const Scene& from, PartId id, bool instance, FreeNames& names, OwnMeshes& own) {
  std::map<PartId, PartId> made;
  const PartId added = add_tree(scene, from, id, from.part(id).parent, instance, own, made);
  follow_copies(scene, made);
  Part part = scene.part(added);
  part.name = next_name(names, from.part(id).name);
  part.locked = false;
  scene.replace(added, std::move(part));
  return added;
}

Scene with_instance(const Scene& scene, PartId part, PartId& made) {
  Scene result = scene;
  std::map<PartId, PartId> all;
  FreeNames names(scene, scene.part(part).parent);
  made = add_instance(result, scene, part, scene.part(part).parent, names, all);
  follow_copies(result, all);
  return result;
}

Scene with_copies_left(const Scene& scene, const std::vector<PartId>& parts) {
  Scene result = scene;
  std::vector<Tie> ties = scene.ties();
  std::map<PartId, FreeNames> names;
  for (const PartId id : parts) {
    std::map<PartId, PartId> made;
    const PartId parent = scene.part(id).parent;
    add_instance(result, scene, id, parent, names.try_emplace(parent, scene, parent).first->second, made);
    follow_copies(result, made);
    const auto hand_over = [&](PartId& part) {
      if (const auto copy = made.find(part); copy != made.end()) part = copy->second;
    };
    for (Tie& tie : ties) {
      for (TackPair& pair : tie.pairs) hand_over(pair.from.part), hand_over(pair.to.part);
      for (PartId& part : tie.what) hand_over(part);
    }
  }
  if (ties != scene.ties()) result.set_ties(std::move(ties));
  return result;
}

}  // namespace tack
