#include "draw/draw_list.h"

namespace tack {

// Whether the same parts are drawn in the same order, so that only their items have to be brought up to date.
bool DrawList::can_update(const std::vector<PartId>& changed, const Scene& scene) const {
  if (scene.roots() != scene_.roots()) return false;
  return std::all_of(changed.begin(), changed.end(), [&](PartId id) {
    const Part *now = scene.find(id), *then = scene_.find(id);
    return now && then && now->children == then->children && now->hidden == then->hidden && !now->mesh == !then->mesh;
  });
}

// The items of a part and of everything below it; without recursion, for trees may be deep.
void DrawList::update(PartId top, const Affine& top_world) {
  std::vector<std::pair<PartId, Affine>> pending{{top, top_world}};
  while (!pending.empty()) {
    const auto [id, world] = pending.back();
    pending.pop_back();
    const Part& part = scene_.part(id);
    if (part.hidden) continue;
    if (const std::uint32_t at = position_[id]; at != kNotDrawn) {
      items_[at].mesh = part.mesh;
      items_[at].world = world;
      items_[at].colours = &part.colours;
      items_[at].see_through = part.see_through;
    }
    for (const PartId child : part.children) pending.emplace_back(child, world * scene_.part(child).local);
  }
}

void DrawList::show(const Scene& scene, const std::vector<PartId>& picked) {
  items_.resize(parts_.size());
  ghosts_of_ = {};  // it would keep a document that has been closed
  const std::vector<PartId> changed = scene.unlike(scene_);
  const bool same_parts = can_update(changed, scene);
  scene_ = scene;
  if (same_parts) {
    // Of a part that changed the colours are elsewhere, too.
    for (const PartId id : topmost(scene, changed))
      if (!is_hidden(scene, id)) update(id, world_of(scene, id));
    if (picked == picked_) return;
  } else {
    items_.clear();
    parts_.clear();
    position_.assign(scene.id_limit(), kNotDrawn);
    each_shown(scene, [&](PartId id, const Affine& world) {
      const Part& part = scene.part(id);
      if (!part.mesh) return;
      position_[id] = static_cast<std::uint32_t>(items_.size());
      items_.push_back({part.mesh, world, &part.colours, false, false, part.see_through});
      parts_.push_back(id);
    });
  }
  picked_ = picked;
  const std::vector<bool> marked = marked_within(scene, picked);
  for (std::size_t i = 0; i < parts_.size(); ++i) items_[i].picked = marked[parts_[i]];
}

std::vector<PartId> DrawList::stand_in(const std::function<bool(const Mesh&)>& ready) {
  for (const PartId id : stood_in_)
    if (id < position_.size() && position_[id] != kNotDrawn) items_[position_[id]].mesh = scene_.part(id).mesh;
  stood_in_.clear();
  last_.resize(position_.size());
  for (PartId id = 0; id < last_.size(); ++id)
    if (position_[id] == kNotDrawn) last_[id].reset();  // it would keep the mesh of a part that is gone
  for (std::size_t i = 0; i < parts_.size(); ++i) {
    MeshPtr& last = last_[parts_[i]];
    if (ready(*items_[i].mesh)) {
      if (last != items_[i].mesh) last = items_[i].mesh;
    } else {
      stood_in_.push_back(parts_[i]);
      if (last && ready(*last)) items_[i].mesh = last;
    }
  }
  return stood_in_;
}

void DrawList::drawn_with(PartId id, const MeshPtr& mesh) {
  if (id < last_.size()) last_[id] = mesh;
}

void DrawList::add_ghosts(const Scene& scene, std::span<const std::pair<PartId, Affine>> ghosts) {
  if (ghosts.empty()) return;
  ghosts_of_ = scene;
  for (const auto& [id, world] : ghosts)
    if (const Part* part = ghosts_of_.find(id); part && part->mesh)
      items_.push_back({part->mesh, world, &part->colours, false, true});
}

}  // namespace tack
