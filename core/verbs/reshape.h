// Changing the coordinates a part's mesh is written in, while everything stays where it is.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

namespace tack {

/// What happens to the other parts that share the mesh.
enum class Copies {
  Separate,  ///< they keep the mesh as it was; this part gets one of its own
  All,       ///< they share the changed mesh; their placements take the change back, so that they stay where they are
};

/// Gives `part` the placement `wanted` (position and pivot too) and changes its mesh so that neither it nor anything
/// below it moves: the mesh takes up what the placement lost. For a group the parts below it take it up. Fails for a
/// mesh that is deformed by a skeleton, a flattened placement, and with Copies::All for an instance that is locked.
Result<Scene> with_placement(const Scene& scene, PartId part, const Placement& wanted, Copies copies);

/// Gives the part's own axes the directions of `axes` (columns orthonormal, world). Where its factors are even they
/// stay; otherwise the mesh takes factors and skew in, and they become 1 and 0.
Result<Scene> with_own_axes(const Scene& scene, PartId part, const Mat3& axes, Copies copies);

/// As lists and steps files say it.
inline constexpr Choice kCopiesChoices[] = {{"this one only", "separate"}, {"its instances with it", "instances"}};

}  // namespace tack
