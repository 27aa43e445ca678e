// What several parts have alike of their numbers: what Placement shows of them.
#pragma once

#include "core/verbs/place.h"

namespace tack {

/// One number of several parts: that of the first, and whether the others have it, too, within 1e-9 × (1 + its size).
struct CommonNumber {
  double first = 0;
  bool same = true;
};
using CommonNumbers3 = std::array<CommonNumber, 3>;

struct CommonNumbers {
  CommonNumbers3 position;  ///< mm, of the pivot or of the place that is asked for
  CommonNumbers3 rotation;  ///< degrees
  CommonNumbers3 size;      ///< mm, along the part's own axes
  CommonNumbers3 scale;     ///< factors
  CommonNumbers3 pivot;     ///< in the mesh's own coordinates, mm
  CommonNumbers3 skew;      ///< xy, xz, yz; no unit
  bool skewed = false;      ///< one of them is, by more than 1e-12
};

/// Those of the parts in some axes, as numbers_in() and size_of() have them; the position is that of `of`, where a part
/// has it. Of no parts all are 0 and the same. O(parts), on all processors.
CommonNumbers common_numbers(const Scene& scene, const std::vector<PartId>& parts, const Axes& axes,
                             const std::optional<About>& of);

}  // namespace tack
