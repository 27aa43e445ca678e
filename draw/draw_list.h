// What is drawn of a scene, kept from one picture to the next: after a change only what changed is looked at again.
#pragma once

#include <functional>
#include <span>

#include "draw/renderer.h"

namespace tack {

class DrawList {
 public:
  /// Makes the list that of `scene`: every mesh that is not hidden, in tree order, those of `picked` and below marked;
  /// ghosts are dropped. Worlds have the same bits as each_shown() gives. O(what changed since the last call, with
  /// everything below it, + parts / 64); O(parts) when the tree, what is hidden or what is picked changed.
  void show(const Scene& scene, const std::vector<PartId>& picked);
  /// Parts whose mesh is not there yet (`ready`) are drawn with the one that they were drawn with last, where there is
  /// one. Call it after every show(). Returns the parts that are; O(parts).
  std::vector<PartId> stand_in(const std::function<bool(const Mesh&)>& ready);
  /// From now on that is what a part was drawn with last.
  void drawn_with(PartId id, const MeshPtr& mesh);
  /// The scenes to come are of another document.
  void forget() { last_.clear(); }
  /// Adds parts of `scene` as ghosts, each where its world is; parts that are gone or have no mesh are left out.
  void add_ghosts(const Scene& scene, std::span<const std::pair<PartId, Affine>> ghosts);

  /// Valid until the next call of show or add_ghosts; what the items point at lives as long.
  const std::vector<DrawItem>& items() const { return items_; }

 private:
  bool can_update(const std::vector<PartId>& changed, const Scene& scene) const;
  void update(PartId id, const Affine& world);

  static constexpr std::uint32_t kNotDrawn = ~std::uint32_t{0};

  Scene scene_, ghosts_of_;  // they keep the colours that the items point at
  std::vector<PartId> picked_;
  std::vector<DrawItem> items_;
  std::vector<PartId> parts_;            // whose each item is; ghosts have none
  std::vector<std::uint32_t> position_;  // by id: where its item is
  std::vector<MeshPtr> last_;            // by id: what it was drawn with last
  std::vector<PartId> stood_in_;         // whose items have that in place of their own
};

}  // namespace tack
