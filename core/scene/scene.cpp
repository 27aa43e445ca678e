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

void Scene::place(PartId id, const Placement& placement) {
  if (const std::size_t chunk = id / kChunk; chunks_[chunk].use_count() == 1) {
    const auto& slot = (*chunks_[chunk])[id % kChunk];
    if (slot.use_count() == 1) {
      // Nobody else has this part: a verb that changes it twice copies it once.
      Part& mine = const_cast<Part&>(*slot);
      const Placement before = std::exchange(mine.placement, Placement(placement));
      settle(mine, before, mine.local.linear);
      return;
    }
  }
  Part changed = part(id);
  changed.placement = placement;
  settle(changed, part(id).placement, changed.local.linear);
  store(id, std::make_shared<const Part>(std::move(changed)));
}

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
