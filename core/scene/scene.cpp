#include "core/scene/scene.h"

#include <algorithm>
#include <atomic>
#include <utility>

namespace tack {
namespace {

// Brings a part's matrix up to date. What only shifts keeps the linear part of its old one: trigonometry is most of the
// cost of moving a thousand parts.
void update_matrix(Part& part, const Placement& before, const Mat3& linear_before) {
  const Placement& now = part.placement;
  const bool shifts = before.rotation == now.rotation && before.scale == now.scale && before.skew == now.skew;
  part.local = shifts ? matrix_with_linear(now, linear_before) : matrix_of(now);
}

// Whether no other version of the scene has a hold of this. The count alone says that another thread has let go, not
// that what it did is seen here: the fence does (it pairs with the release of the last decrement).
template <typename T>
bool only_ours(const std::shared_ptr<T>& shared) {
  if (shared.use_count() != 1) return false;
  std::atomic_thread_fence(std::memory_order_acquire);
  return true;
}

}  // namespace

const TypedNumbers& typed_numbers(const TypedNumbersPtr& typed) {
  static const TypedNumbers kNone;
  return typed ? *typed : kNone;
}

const Part* Scene::find(PartId id) const {
  const std::size_t chunk = id / kChunk;
  if (id == kNoPart || chunk >= chunks_.size()) return nullptr;
  return (*chunks_[chunk])[id % kChunk].get();
}

std::vector<PartId> Scene::unlike(const Scene& other) const {
  static const auto kEmpty = std::make_shared<Chunk>();
  std::vector<PartId> changed;
  const auto chunk_of = [](const Scene& scene, std::size_t i) -> const std::shared_ptr<Chunk>& {
    return i < scene.chunks_.size() ? scene.chunks_[i] : kEmpty;
  };
  for (std::size_t i = 0; i < std::max(chunks_.size(), other.chunks_.size()); ++i) {
    const auto &mine = chunk_of(*this, i), &theirs = chunk_of(other, i);
    for (std::size_t k = 0; mine != theirs && k < kChunk; ++k)
      if ((*mine)[k] != (*theirs)[k]) changed.push_back(static_cast<PartId>(i * kChunk + k));
  }
  return changed;
}

Scene::Chunk& Scene::own_chunk(std::size_t number) {
  while (chunks_.size() <= number) chunks_.push_back(std::make_shared<Chunk>());
  if (!only_ours(chunks_[number])) chunks_[number] = std::make_shared<Chunk>(*chunks_[number]);
  return *chunks_[number];
}

// The part to be changed: a verb that changes it twice copies it once.
Part& Scene::own_part(PartId id) {
  std::shared_ptr<Part>& slot = own_chunk(id / kChunk)[id % kChunk];
  if (!only_ours(slot)) slot = std::make_shared<Part>(*slot);
  return *slot;
}

std::vector<PartId>& Scene::own_children(PartId parent) {
  if (parent != kNoPart) return own_part(parent).children;
  if (!only_ours(roots_)) roots_ = std::make_shared<std::vector<PartId>>(*roots_);
  return *roots_;
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
  const bool follows = part.law != nullptr, bends = part.skin != nullptr, takes = part.patch != nullptr;
  part.children.clear();
  part.local = matrix_of(part.placement);
  own_chunk(id / kChunk)[id % kChunk] = std::make_shared<Part>(std::move(part));
  own_children(parent).push_back(id);
  ++size_;
  if (follows) note(followers_, id);
  if (bends) note(skinned_, id);
  if (takes) note(patches_, id);
  return id;
}

void Scene::replace(PartId id, Part part) {
  const Part& old = this->part(id);
  part.parent = old.parent;
  part.children = old.children;
  update_matrix(part, old.placement, old.local.linear);
  if (part.law && !old.law) note(followers_, id);
  if (part.skin && !old.skin) note(skinned_, id);
  if (part.patch && !old.patch) note(patches_, id);
  own_chunk(id / kChunk)[id % kChunk] = std::make_shared<Part>(std::move(part));
}

void Scene::note(std::shared_ptr<std::vector<PartId>>& list, PartId id) {
  const auto at = std::lower_bound(list->begin(), list->end(), id) - list->begin();
  if (static_cast<std::size_t>(at) < list->size() && (*list)[static_cast<std::size_t>(at)] == id) return;
  if (!only_ours(list)) list = std::make_shared<std::vector<PartId>>(*list);
  list->insert(list->begin() + at, id);
}

void Scene::set_views(std::vector<NamedView> views) {
  views_ = std::make_shared<const std::vector<NamedView>>(std::move(views));
}

void Scene::place(PartId id, const Placement& placement) {
  Part& changed = own_part(id);
  const Placement before = std::exchange(changed.placement, Placement(placement));
  update_matrix(changed, before, changed.local.linear);
}

void Scene::place(PartId id, const Placement& placement, QuarterTurnsPtr quarters) {
  own_part(id).quarters = std::move(quarters);
  place(id, placement);
}

const Tie* Scene::tie(std::string_view name) const {
  const auto found = std::find_if(ties_->begin(), ties_->end(), [&](const Tie& t) { return t.name == name; });
  return found == ties_->end() ? nullptr : &*found;
}

const NamedColour* Scene::colour(std::string_view name) const {
  const auto found = std::find_if(colours_->begin(), colours_->end(), [&](const auto& c) { return c.name == name; });
  return found == colours_->end() ? nullptr : &*found;
}

void Scene::set_colours(std::vector<NamedColour> colours) {
  colours_ = std::make_shared<const std::vector<NamedColour>>(std::move(colours));
}

void Scene::set_ties(std::vector<Tie> ties) { ties_ = std::make_shared<const std::vector<Tie>>(std::move(ties)); }

void Scene::reparent(PartId id, PartId parent) {
  const Part* moved = find(id);
  if (!moved || is_within(*this, parent, id) || (parent != kNoPart && !find(parent))) return;
  std::erase(own_children(moved->parent), id);
  own_part(id).parent = parent;
  own_children(parent).push_back(id);
}

void Scene::remove(const std::vector<PartId>& ids) {
  std::vector<bool> going(next_, false);
  std::vector<PartId> parents;
  for (const PartId id : ids) {
    const Part* gone = find(id);
    if (!gone || going[id]) continue;
    parents.push_back(gone->parent);
    std::vector<PartId> pending{id};
    while (!pending.empty()) {
      const PartId next = pending.back();
      pending.pop_back();
      if (going[next]) continue;
      going[next] = true;
      pending.insert(pending.end(), part(next).children.begin(), part(next).children.end());
    }
  }
  if (parents.empty()) return;
  std::sort(parents.begin(), parents.end());
  parents.erase(std::unique(parents.begin(), parents.end()), parents.end());
  for (const PartId parent : parents)
    if (parent == kNoPart || !going[parent]) std::erase_if(own_children(parent), [&](PartId id) { return going[id]; });
  for (PartId id = 1; id < going.size(); ++id)
    if (going[id]) own_chunk(id / kChunk)[id % kChunk] = nullptr, --size_;
  const auto gone = [&](PartId part) { return part < going.size() && going[part]; };
  if (gone(plane_)) plane_ = kNoPart;
  const auto holds_on_gone = [&](const Tie& tie) {
    return std::any_of(tie.pairs.begin(), tie.pairs.end(),
                       [&](const TackPair& pair) { return gone(pair.from.part) || gone(pair.to.part); });
  };
  const auto names_gone = [&](const Tie& tie) { return std::any_of(tie.what.begin(), tie.what.end(), gone); };
  if (std::none_of(ties_->begin(), ties_->end(), [&](const Tie& t) { return holds_on_gone(t) || names_gone(t); }))
    return;
  std::vector<Tie> left = *ties_;
  std::erase_if(left, holds_on_gone);
  for (Tie& tie : left) std::erase_if(tie.what, gone);
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

// Products go from the top down, as worlds_of() makes them: the same bits.
Affine world_of(const Scene& scene, PartId id) {
  constexpr std::size_t kUsual = 24;
  std::array<const Part*, kUsual> chain;
  std::size_t depth = 0;
  const Part* p = scene.find(id);
  for (; p && depth < kUsual; p = scene.find(p->parent)) chain[depth++] = p;
  Affine world;
  if (p) {
    std::vector<const Part*> above;
    for (; p; p = scene.find(p->parent)) above.push_back(p);
    world = above.back()->local;
    for (std::size_t i = above.size() - 1; i-- > 0;) world = world * above[i]->local;
  }
  while (depth-- > 0) world = chain[depth]->parent == kNoPart ? chain[depth]->local : world * chain[depth]->local;
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

const KeptBands& bands_of(const Scene& scene, PartId id) {
  static const KeptBands none;
  const Part* part = scene.find(id);
  return part && part->bands ? *part->bands : none;
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
  Box box;
  each_shown(scene, [&](PartId id, const Affine& world) {
    if (const MeshPtr& mesh = scene.part(id).mesh) box.include(world_box_of(*mesh, world));
  });
  return box;
}

Affine plane_frame(const Scene& scene, PartId plane) {
  const Part* part = scene.find(plane);
  return part ? Affine{own_axes(scene, plane), world_of(scene, plane) * part->placement.pivot} : Affine{};
}

PlaneGrid grid_of(const Scene& scene, PartId plane) {
  if (plane == kNoPart) return scene.ground_grid();
  const Part* part = scene.find(plane);
  return part && part->grid ? *part->grid : PlaneGrid{};
}

Sheet sheet_of(const Scene& scene, PartId plane) {
  constexpr double kOn = 0.01, kMargin = 0.04;
  const auto to_plane = inverse(plane_frame(scene, plane));
  const Part* self = scene.find(plane);
  if (!to_plane || !self) return {};
  Box all;
  const auto include = [&](PartId id, const Affine& world) {
    const MeshPtr& mesh = scene.part(id).mesh;
    if (!mesh) return;
    const Affine own = *to_plane * world;
    Box box;
    for (const Vec3& corner : mesh->box().corners()) box.include(own * corner);
    // What stands on it or lies flush with it, and what it belongs to; not what it merely cuts through.
    const bool lies = std::abs(box.low.z) <= kOn || std::abs(box.high.z) <= kOn;
    if (!lies && id != self->parent) return;
    all.include(box.low);
    all.include(box.high);
  };
  if (scene.plane() == plane)
    each_shown(scene, include);
  else if (self->parent != kNoPart)
    include(self->parent, world_of(scene, self->parent));
  if (all.empty()) return {};
  // The origin, where its x and y are drawn, is on it.
  all.include(Vec3{});
  const double margin = kMargin * std::max(all.size().x, all.size().y) + 2;
  return {all.low.x - margin, all.low.y - margin, all.high.x + margin, all.high.y + margin};
}

bool is_within(const Scene& scene, PartId id, PartId ancestor) {
  for (const Part* p = scene.find(id); p; id = p->parent, p = scene.find(id))
    if (id == ancestor) return true;
  return false;
}

std::vector<bool> marked_within(const Scene& scene, const std::vector<PartId>& ids) {
  std::vector<bool> marked(scene.id_limit(), false);
  std::vector<PartId> pending;
  for (const PartId id : ids)
    if (scene.contains(id)) pending.push_back(id);
  while (!pending.empty()) {
    const PartId id = pending.back();
    pending.pop_back();
    if (marked[id]) continue;
    marked[id] = true;
    const std::vector<PartId>& children = scene.part(id).children;
    pending.insert(pending.end(), children.begin(), children.end());
  }
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
