// Moving between planes: bring parts from one plane onto another with their numbers, or lay them by three places.
#pragma once

#include "core/verbs/blank_row.h"

namespace tack {

/// Brings parts from one plane onto another: what they are in the axes of the one they become in those of the other.
struct OntoPlane {
  std::vector<PartId> what;
  PartId from = kNoPart, to = kNoPart;  ///< kNoPart: World
  bool leave_copy = false;
  friend bool operator==(const OntoPlane&, const OntoPlane&) = default;
};
/// The matrix of each part relative to `from` becomes the same relative to `to`, for flat and solid parts and groups,
/// within 1e-9 × (extent + distance from the origin). A part that is brought back to a plane on which it has had these
/// numbers, and has not been touched since, gets the same bits again. Numbers typed in World axes, or in those of a
/// plane, stay as typed. Fails for a plane that is gone or moves itself, and for locked parts.
Result<Scene> apply(const OntoPlane& onto, const Scene& scene);
const Table<OntoPlane>& table_of(const OntoPlane*);

/// Lays parts, as one body, on a plane by three places on them: the first on its origin, the second on its x, the third
/// on the plane, on the side of y.
struct Lay {
  std::vector<PartId> what;
  PartId on = kNoPart;  ///< kNoPart: World
  std::array<std::optional<TackAddress>, 3> places;
  bool leave_copy = false;
  friend bool operator==(const Lay&, const Lay&) = default;
};
/// Like a meeting of three pairs, the first exact within 1e-9 × (extent + distance from the origin). Fails for places
/// in one line (with their angle) or in one point, for a place on a part that does not move, a plane that does, and for
/// locked parts.
Result<Scene> apply(const Lay& lay, const Scene& scene);
const Table<Lay>& table_of(const Lay*);

}  // namespace tack
