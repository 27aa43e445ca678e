// Keep and Forget: tacks saved on a part by name.
#pragma once

#include "core/verbs/reshape.h"

namespace tack {

/// Saves a place on a part by name; a name that is there already is given the new place.
struct Keep {
  PartId part = kNoPart;          ///< kNoPart: the part that the place is on
  std::optional<TackAddress> at;  ///< any place: on the part, on another, in space
  std::string name;               ///< empty: "Tack", made free by a number
  Copies copies = Copies::All;    ///< a joint belongs to the mesh: all that share it keep it too
  friend bool operator==(const Keep&, const Keep&) = default;
};
/// Takes kept tacks of one name off parts.
struct Forget {
  std::vector<PartId> what;
  std::string name;
  Copies copies = Copies::All;
  friend bool operator==(const Forget&, const Forget&) = default;
};

/// The part that keeps it: the one named, else the one the place is on; kNoPart while neither is known.
PartId keeper(const Keep& keep);

/// The place is stored in the mesh's coordinates with its direction and roll as they are now. Fails without a place,
/// for a place of space when no part is named, a name over 200 characters, and on a flattened part.
Result<Scene> apply(const Keep& keep, const Scene& scene);
/// Fails when none of the parts has it, and when a tie holds on it.
Result<Scene> apply(const Forget& forget, const Scene& scene);

const Table<Keep>& table_of(const Keep*);
const Table<Forget>& table_of(const Forget*);

}  // namespace tack
