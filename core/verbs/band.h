// Bands kept on parts by name: between which planes they grow when they are made longer.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

namespace tack {

/// Keeps a band on a part, by name.
struct KeepBand {
  std::vector<PartId> what;
  int along = 0;                                ///< of the part's own axes
  std::optional<Amount> near_plane, far_plane;  ///< mm from its low side; none: the band that evident_band() finds
  std::string name;                             ///< empty: "Band", made free by a number
  friend bool operator==(const KeepBand&, const KeepBand&) = default;
};
/// The parts keep it in the coordinates of their meshes. Instances keep it too, so that they stay alike; linked copies
/// with a length of their own keep it where that length has taken it, and a band kept on such a copy is its own. A band
/// of that name is replaced. Fails for planes outside the part, or none between them.
Result<Scene> apply(const KeepBand& keep, const Scene& scene);
const Table<KeepBand>& table_of(const KeepBand*);

struct ForgetBand {
  std::vector<PartId> what;
  std::string name;
  friend bool operator==(const ForgetBand&, const ForgetBand&) = default;
};
Result<Scene> apply(const ForgetBand& forget, const Scene& scene);
const Table<ForgetBand>& table_of(const ForgetBand*);

}  // namespace tack
