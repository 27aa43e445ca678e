// Pivot: put the pivot anywhere, and turn a part's own axes, without moving anything.
#pragma once

#include "core/verbs/about.h"
#include "core/verbs/reshape.h"

namespace tack {

/// Which way the part's own axes point.
struct Turned {
  enum class Kind { AsItIs, World, Parent, Part, Tack };
  Kind kind = Kind::AsItIs;
  PartId part = kNoPart;            ///< Part: like this one's
  std::optional<TackAddress> tack;  ///< Tack: z along its direction, x along its roll; an edge: x along the edge

  friend bool operator==(const Turned&, const Turned&) = default;
};

/// The blanks of Pivot.
struct Pivot {
  std::vector<PartId> what;
  std::optional<About> at;  ///< a box point, a tack, centre of mass, the middle of all; not given: by `numbers`
  Axes axes;                ///< of `numbers` and of boxes
  Amounts numbers;          ///< mm in the axes; what is not given stays. `it` is the value now
  bool in_mesh = false;     ///< `numbers` are in the mesh's own coordinates instead
  Turned turned;
  Copies copies = Copies::Separate;  ///< only read when the axes turn

  friend bool operator==(const Pivot&, const Pivot&) = default;
};

/// Moves pivots: neither parts nor children nor meshes move, only position and pivot of the placement change together.
/// The pivot ends within 1e-9 × (extent + distance from the origin) of its place. Turning the own axes changes the
/// mesh's coordinates (reshape.h) and moves nothing either. Fails when nothing is asked for, a part is locked or
/// flattened, or a place is gone.
Result<Scene> apply(const Pivot& pivot, const Scene& scene);
const Table<Pivot>& table_of(const Pivot*);

/// The frame (columns orthonormal, right-handed, world) that `turned` names for a part. AsItIs: its own, squared up.
Result<Mat3> wanted_axes(const Turned& turned, const Scene& scene, PartId part);

}  // namespace tack
