// Which parts a verb moves, and what must hold of them.
#pragma once

#include <map>

#include "core/catch/tack.h"

namespace tack {

/// The parts that a verb moves: `what` without what is below another of them. Fails when there is none, when one is
/// gone, and when one (or a part above it) is locked. O(parts named × depth).
Result<std::vector<PartId>> movable(const Scene& scene, const std::vector<PartId>& what);

/// `what` in tree order, parents before children, each once; parts that are gone are left out. O(parts of the scene).
std::vector<PartId> in_tree_order(const Scene& scene, const std::vector<PartId>& what);

/// Whether a part is one of `parts` or below one of them: it moves when they do. O(parts named × depth): for many
/// questions make a mask, marked_within().
bool moves_with(const Scene& scene, const std::vector<PartId>& parts, PartId part);
/// The one of `parts` that it is, or is below; kNoPart when it moves with none.
PartId carrier_of(const Scene& scene, const std::vector<PartId>& parts, PartId part);
/// Fails when From is on a part that is not among what moves (`parts`, or below them), naming it. Places of space are
/// no part's.
Result<void> check_from_moves(const Scene& scene, const std::vector<PartId>& parts, const TackAddress& from);
/// Fails when To is on what moves (`parts`, or below them), naming it.
Result<void> check_to_stays(const Scene& scene, const std::vector<PartId>& parts, const TackAddress& to);

/// The parts, of all, that are skewed in `after` and were there and not skewed in `before`, beyond 1e-9; by id.
/// O(parts / 64 + changed).
std::vector<PartId> skewed_between(const Scene& before, const Scene& after);

/// The other parts that share the part's mesh, linked copies with lengths of their own among them. O(parts of the
/// scene).
std::vector<PartId> instances_of(const Scene& scene, PartId part);
/// Whether any of the parts shares its mesh with another. O(parts of the scene).
bool shares_mesh(const Scene& scene, const std::vector<PartId>& parts);

/// Meshes that copies have been given in place of others: copies of instances share one new mesh.
using OwnMeshes = std::map<const Mesh*, MeshPtr>;
/// Adds a copy of a part of `from`, with everything below it, beside it in the tree and where it is; its name counts on
/// and it is not locked. As an instance it shares the meshes, else it gets meshes of its own.
PartId add_copy(Scene& scene, const Scene& from, PartId part, bool instance, FreeNames& names, OwnMeshes& own);

/// Copies of guides that follow parts which have been copied with them follow the copies, and copies of meshes whose
/// joints were copied with them are bent by those; `made` says what each part has become.
void follow_copies(Scene& scene, const std::map<PartId, PartId>& made);

/// An instance of a part, with everything below it, beside it and where it is; its name counts on. `made` is its id.
Scene with_instance(const Scene& scene, PartId part, PartId& made);
/// An instance of each part, left where it is: what "leave a copy" does before a verb moves the part itself. The ties
/// of the part are the copy's from now on: it stands where they hold.
Scene with_copies_left(const Scene& scene, const std::vector<PartId>& parts);

}  // namespace tack
