#include "core/scene/scene.h"

#include <algorithm>
#include <utility>

namespace tack {
namespace {

// Brings a part's matrix up to date. What only shifts keeps the linear part of its old one: trigonometry is most of the
// cost of moving a thousand parts.
void settle(Part& part, const Placement& before, const Mat3& linear_before) {
  const Placement& now = part.placement;
  const bool shifts = before.rotation == now.rotation && before.scale == now.scale && before.skew == now.skew;
  part.local = shifts ? matrix_with_linear(now, linear_before) : matrix_of(now);
}

}  // namespace

const Part* Scene::find(PartId id) const {
  const std::size_t chunk = id / kChunk;
  if (id == kNoPart || chunk >= chunks_.size()) return nullptr;
  return (*chunks_[chunk])[id % kChunk].get();
}

void Scene::store(PartId id, std::shared_ptr<const Part> part) {
  const std::size_t chunk = id / kChunk;
  while (chunks_.size() <= chunk) chunks_.push_back(std::make_shared<Chunk>());
  if (chunks_[chunk].use_count() == 1) {
    // No other version shares this chunk, so nobody can be reading it: a loop over many parts copies each chunk once.
    const_cast<Chunk&>(*chunks_[chunk])[id % kChunk] = std::move(part);
    return;
  }
  auto changed = std::make_shared<Chunk>(*chunks_[chunk]);
  (*changed)[id % kChunk] = std::move(part);
  chunks_[chunk] = std::move(changed);
}

void Scene::set_children(PartId parent, std::vector<PartId> children) {
  if (parent == kNoPart) {
    roots_ = std::make_shared<const std::vector<PartId>>(std::move(children));
    return;
  }
  Part changed = part(parent);
  changed.children = std::move(children);
  store(parent, std::make_shared<const Part>(std::move(changed)));
}

void Scene::expect_ids(std::vector<PartId> ids, PartId floor) {
  std::reverse(ids.begin(), ids.end());
  expected_ = std::move(ids);
  next_ = std::max(next_, floor);
}

PartId Scene::add(Part part) {
  PartId id = kNoPart;
  while (!expected_.empty() && (id == kNoPart || contains(id))) {
    id = expected_.back();
    expected_.pop_back();
  }
  if (id == kNoPart || contains(id)) id = next_;
  next_ = std::max(next_, id + 1);
  const PartId parent = part.parent;
  part.children.clear();
  part.local = matrix_of(part.placement);
  store(id, std::make_shared<const Part>(std::move(part)));
  std::vector<PartId> siblings = parent == kNoPart ? *roots_ : this->part(parent).children;
  siblings.push_back(id);
  set_children(parent, std::move(siblings));
  ++size_;
  return id;
}

void Scene::replace(PartId id, Part part) {
  const Part& old = this->part(id);
  part.parent = old.parent;
  part.children = old.children;
  settle(part, old.placement, old.local.linear);
  store(id, std::make_shared<const Part>(std::move(part)));
}

// The part to be changed: the one that is there when no other version has it (a verb that changes it twice copies it
// once), else a copy of it, put in its place.
Part* Scene::mine(PartId id) {
  const std::size_t chunk = id / kChunk;
  if (chunks_[chunk].use_count() == 1)
    if (const auto& slot = (*chunks_[chunk])[id % kChunk]; slot.use_count() == 1) return const_cast<Part*>(slot.get());
  auto copy = std::make_shared<Part>(part(id));
  Part* part = copy.get();
  store(id, std::move(copy));
  return part;
}

void Scene::place(PartId id, const Placement& placement) {
  Part& changed = *mine(id);
  const Placement before = std::exchange(changed.placement, Placement(placement));
  settle(changed, before, changed.local.linear);
}

void Scene::place(PartId id, const Placement& placement, const std::optional<QuarterTurns>& quarters) {
  mine(id)->quarters = quarters;
  place(id, placement);
}

const Tie* Scene::tie(std::string_view name) const {
  const auto found = std::find_if(ties_->begin(), ties_->end(), [&](const Tie& t) { return t.name == name; });
  return found == ties_->end() ? nullptr : &*found;
}

void Scene::set_ties(std::vector<Tie> ties) { ties_ = std::make_shared<const std::vector<Tie>>(std::move(ties)); }

void Scene::reparent(PartId id, PartId parent) {
  const Part* moved = find(id);
  if (!moved || is_within(*this, parent, id) || (parent != kNoPart && !find(parent))) return;
  const PartId old_parent = moved->parent;
  std::vector<PartId> siblings = old_parent == kNoPart ? *roots_ : part(old_parent).children;
  std::erase(siblings, id);
  set_children(old_parent, std::move(siblings));
  Part changed = part(id);
  changed.parent = parent;
  store(id, std::make_shared<const Part>(std::move(changed)));
  std::vector<PartId> joined = parent == kNoPart ? *roots_ : part(parent).children;
  joined.push_back(id);
  set_children(parent, std::move(joined));
}

void Scene::remove(PartId id) {
  const Part* gone = find(id);
  if (!gone) return;
  const PartId parent = gone->parent;
  std::vector<PartId> siblings = parent == kNoPart ? *roots_ : part(parent).children;
  std::erase(siblings, id);
  set_children(parent, std::move(siblings));
  std::vector<PartId> pending{id};
  while (!pending.empty()) {
    const PartId next = pending.back();
    pending.pop_back();
    pending.insert(pending.end(), part(next).children.begin(), part(next).children.end());
    store(next, nullptr);
    --size_;
  }
  const auto holds_on_gone = [&](const Tie& tie) {
    return std::any_of(tie.pairs.begin(), tie.pairs.end(), [&](const TackPair& pair) {
      return (is_on_part(pair.from) && !contains(pair.from.part)) || (is_on_part(pair.to) && !contains(pair.to.part));
    });
  };
  const auto names_gone = [&](const Tie& tie) {
    return std::any_of(tie.what.begin(), tie.what.end(), [&](PartId part) { return !contains(part); });
  };
  if (std::none_of(ties_->begin(), ties_->end(), [&](const Tie& t) { return holds_on_gone(t) || names_gone(t); }))
    return;
  std::vector<Tie> left = *ties_;
  std::erase_if(left, holds_on_gone);
  for (Tie& tie : left) std::erase_if(tie.what, [&](PartId part) { return !contains(part); });
  set_ties(std::move(left));
}

std::vector<PartId> Scene::in_tree_order() const {
  std::vector<PartId> order, pending(roots_->rbegin(), roots_->rend());
  order.reserve(size_);
  while (!pending.empty()) {
    const PartId id = pending.back();
    pending.pop_back();
    order.push_back(id);
    const auto& children = part(id).children;
    pending.insert(pending.end(), children.rbegin(), children.rend());
  }
  return order;
}

Affine world_of(const Scene& scene, PartId id) {
  Affine world;
  for (const Part* p = scene.find(id); p; p = scene.find(p->parent)) world = p->local * world;
  return world;
}

Affine parent_world_of(const Scene& scene, PartId id) {
  const Part* p = scene.find(id);
  return p ? world_of(scene, p->parent) : Affine{};
}

std::vector<Affine> worlds_of(const Scene& scene) {
  std::vector<Affine> worlds(scene.id_limit());
  for (const PartId id : scene.in_tree_order()) {
    const Part& p = scene.part(id);
    worlds[id] = p.parent == kNoPart ? p.local : worlds[p.parent] * p.local;
  }
  return worlds;
}

const KeptTacks& kept_of(const Scene& scene, PartId id) {
  static const KeptTacks kNone;
  const Part* part = scene.find(id);
  return part && part->kept ? *part->kept : kNone;
}

const KeptTack* find_kept(const Scene& scene, PartId id, std::string_view name) {
  const KeptTacks& kept = kept_of(scene, id);
  const auto found = std::find_if(kept.begin(), kept.end(), [&](const KeptTack& k) { return k.name == name; });
  return found == kept.end() ? nullptr : &*found;
}

std::shared_ptr<const KeptTacks> carried_along(const std::shared_ptr<const KeptTacks>& kept, const Affine& change) {
  if (!kept) return kept;
  KeptTacks changed = *kept;
  const Mat3 for_normals = normal_map(change.linear);
  for (KeptTack& k : changed) {
    k.point = change * k.point;
    if (k.direction) k.direction = normalized(for_normals * *k.direction);
    if (k.roll) k.roll = normalized(change.linear * *k.roll);
  }
  return std::make_shared<const KeptTacks>(std::move(changed));
}

Box world_box_of(const Mesh& mesh, const Affine& world) {
  Box box;
  for (const Vec3& p : mesh.positions()) box.include(world * p);
  return box;
}

Vec3 own_size(const Scene& scene, PartId id) {
  const Part* part = scene.find(id);
  if (!part || !part->mesh) return {};
  const Mat3 linear = world_of(scene, id).linear;
  const Vec3 size = part->mesh->box().size();
  return {size.x * length(linear.column[0]), size.y * length(linear.column[1]), size.z * length(linear.column[2])};
}

Box world_box_of(const Scene& scene) {
  const std::vector<Affine> worlds = worlds_of(scene);
  Box box;
  for (const PartId id : scene.in_tree_order())
    if (const Part& p = scene.part(id); p.mesh && !is_hidden(scene, id)) box.include(world_box_of(*p.mesh, worlds[id]));
  return box;
}

bool is_within(const Scene& scene, PartId id, PartId ancestor) {
  for (const Part* p = scene.find(id); p; id = p->parent, p = scene.find(id))
    if (id == ancestor) return true;
  return false;
}

std::vector<bool> marked_within(const Scene& scene, const std::vector<PartId>& ids) {
  std::vector<bool> marked(scene.id_limit(), false);
  for (const PartId id : ids)
    if (scene.contains(id)) marked[id] = true;
  for (const PartId id : scene.in_tree_order())
    if (const PartId parent = scene.part(id).parent; parent != kNoPart && marked[parent]) marked[id] = true;
  return marked;
}

bool is_hidden(const Scene& scene, PartId id) {
  for (const Part* p = scene.find(id); p; p = scene.find(p->parent))
    if (p->hidden) return true;
  return false;
}

std::vector<PartId> topmost(const Scene& scene, const std::vector<PartId>& ids) {
  std::vector<bool> chosen(scene.id_limit(), false);
  for (const PartId id : ids)
    if (scene.contains(id)) chosen[id] = true;
  std::vector<bool> taken(scene.id_limit(), false);
  std::vector<PartId> result;
  for (const PartId id : ids) {
    if (!scene.contains(id) || !chosen[id]) continue;
    bool covered = false;
    for (PartId up = scene.part(id).parent; up != kNoPart && !covered; up = scene.part(up).parent) covered = chosen[up];
    if (covered || taken[id]) continue;
    taken[id] = true;
    result.push_back(id);
  }
  return result;
}

}  // namespace tack
