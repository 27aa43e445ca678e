// Patches: elements of meshes that are placed like a part. What placing one does to the meshes.
#pragma once

#include "core/mesh/shares.h"
#include "core/verbs/parts.h"

namespace tack {

/// The mesh that a patch shows, in the world: what was taken, with its faces or edges.
Result<MeshPtr> mesh_of_patch(const Scene& scene, const Patch& patch, const Affine& to_patch);

/// Gives a part a mesh with the same vertices and triangles elsewhere, its instances too if `instances`: kept tacks go
/// along with the surface that they are on (`shares`), a live shape becomes a mesh. Fails for what is locked, and for a
/// mesh that joints bend.
Result<void> give_edited_mesh(Scene& scene, PartId part, const MeshPtr& mesh, const Shares& shares, bool instances);

/// What a verb has made of patches: where one stands elsewhere than before, its vertices and what is near them follow,
/// to w · M · p + (1 − w) · p with the share w and the patch's motion M, exactly M · p for what was taken. Where the
/// verb itself has changed the mesh of a part (a bake, a stretch), nothing follows on that. Then each shows its parts
/// as they are. Elements of a mesh that has other numbers now are found again by place, within 1e-6 of its extent;
/// those that are not there any more are left out. Fails where a mesh cannot be changed.
Result<void> settle_patches(const Scene& before, Scene& after);

/// What is to be said of these parts where a step has moved vertices of theirs: as patches_remark().
std::string edited_remark(const Scene& before, const Scene& after, const std::vector<PartId>& parts);

/// What is to be said of a step that has moved elements: flat faces that are flat no longer, live shapes that are
/// meshes now, ties and guides that have lost a place, elements that are gone. Empty when there is nothing.
std::string patches_remark(const Scene& before, const Scene& after);

/// The same elements on a mesh with other numbers: those all of whose vertices are found again, by `places` of
/// welded_vertices(elements) in turn.
Elements found_again(const Elements& elements, const std::vector<std::uint32_t>& vertices,
                     const std::vector<Vec3>& places, const Mesh& mesh);

/// The scene without its patches: what is written to files. Costs nothing where there are none.
Scene without_patches(const Scene& scene);

}  // namespace tack
