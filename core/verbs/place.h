// Place: put a part where typed numbers say, in the axes that matter now.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

namespace tack {

/// The blanks of Place; components that are nullopt are left alone.
struct Place {
  std::vector<PartId> what;
  Axes axes;
  Amounts position;  ///< mm (the parent's own units for Parent)
  /// Of which place of each part the position is: a point of its box, a kept tack, any place on it. Not given: of its
  /// pivot. It is where the place stands after what else the step changes.
  std::optional<About> of;
  Amounts rotation;  ///< degrees about the fixed axes, X first, then Y, then Z
  Amounts scale;     ///< factors; never zero
  Amounts skew;      ///< xy, xz, yz of the part in the axes; no unit

  friend bool operator==(const Place&, const Place&) = default;
};

/// A part's numbers in some axes.
struct PlacedNumbers {
  Vec3 position;  ///< of the pivot
  Vec3 rotation;  ///< degrees
  Vec3 scale{1, 1, 1};
  Vec3 skew;
  /// What was typed, where it still holds: shown instead of the number.
  std::array<std::string, 3> position_text, rotation_text, scale_text;
};

/// Reads a part's numbers: its matrix is expressed in the axes and split. Components that were typed in these axes and
/// still hold within 1e-9 × (extent + distance from the origin) (position) or 1e-9 (degrees, factors) come back as
/// typed, to the bit. For Parent they are the stored numbers. A matrix that cannot be split gives its stored numbers.
PlacedNumbers numbers_in(const Scene& scene, PartId id, const Axes& axes);

/// Where a place of a part stands in some axes, mm (the parent's own units for Parent): what `position` reads and sets.
/// Fails for a place that is not on the part, and for a box of nothing.
Result<Vec3> position_of(const Scene& scene, PartId id, const Axes& axes, const std::optional<About>& of);

/// Each group given is replaced in the part's matrix as expressed in the axes, which is then put back; a child stays a
/// child. Under unevenly scaled parents that can make skew, which is kept. Fails for a factor of zero, a locked part, a
/// flattened parent.
Result<Scene> apply(const Place& place, const Scene& scene);
const Table<Place>& table_of(const Place*);

}  // namespace tack
