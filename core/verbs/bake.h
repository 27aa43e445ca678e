// Bake and Fit box: take a placement into the mesh; make a part's own box fit its geometry. Nothing moves.
#pragma once

#include "core/verbs/reshape.h"

namespace tack {

/// Takes parts of a placement into the mesh, so that they read 0, 0 and 1 afterwards.
struct Bake {
  std::vector<PartId> what;
  bool position = false;  ///< the pivot comes to the parent's origin
  bool rotation = false;
  bool scale = false;  ///< factors and skew
  Copies copies = Copies::Separate;

  friend bool operator==(const Bake&, const Bake&) = default;
};

/// Vertices stay in the world within 1e-12 × (extent + distance from the origin); winding and normals stay right under
/// a mirror; what hangs below keeps its place. Fails when nothing is named, for a locked part and for a mesh that a
/// skeleton deforms.
Result<Scene> apply(const Bake& bake, const Scene& scene);
const Table<Bake>& table_of(const Bake*);

/// Turns a part's own axes so that its box agrees with its geometry.
struct FitBox {
  std::vector<PartId> what;
  /// Empty: the tightest box of each part. One tack: an edge (x along it) or a face (z along its normal, x along its
  /// longest edge). Three tacks: x from the first towards the second, the third in the plane of x and y.
  std::vector<std::optional<TackAddress>> to;
  Copies copies = Copies::Separate;

  friend bool operator==(const FitBox&, const FitBox&) = default;
};

/// Nothing moves; see with_own_axes in reshape.h. Fails for two or more than three tacks, for three in one line, for a
/// group, and as Bake does.
Result<Scene> apply(const FitBox& fit, const Scene& scene);
const Table<FitBox>& table_of(const FitBox*);

}  // namespace tack
