// Tidy: put each part's own numbers on the nearest multiples.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

namespace tack {

/// What is not given stays as it is.
struct Tidy {
  std::vector<PartId> what;
  Axes axes;         ///< of position, rotation and factors
  Amounts position;  ///< mm: multiples of so much, from the origin of the axes
  Amounts rotation;  ///< degrees
  Amounts size;      ///< mm, of the part's own size, about its pivot
  Amounts factor;

  friend bool operator==(const Tidy&, const Tidy&) = default;
};

/// Each part by itself, a parent before what is below it, as Place and Scale would set the numbers: a multiple is the
/// double nearest to its decimal. Half way goes to the even multiple. Fails when nothing is picked or given, for steps
/// that are not more than 0, for locked parts, and where a factor or a size would become 0.
Result<Scene> apply(const Tidy& tidy, const Scene& scene);
const Table<Tidy>& table_of(const Tidy*);

}  // namespace tack
