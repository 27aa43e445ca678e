// Bring: parts from a file come into the scene.
#pragma once

#include "core/verbs/blank_row.h"

namespace tack {

/// What a file delivered. `parts` are in tree order; Part::parent is 0 for a part at the top, else one more than the
/// number of its parent in this list. `carried` replaces the scene's: it holds what was carried before and what came
/// along.
struct Bring {
  std::string file;  ///< its name, for the sentence
  std::string path;  ///< where it was read from, for the steps file
  std::shared_ptr<const std::vector<Part>> parts;
  std::shared_ptr<const CarriedDocument> carried;
  std::vector<NamedColour> colours;  ///< those that its parts name
  std::vector<Tie> ties;             ///< between its parts, which they name by one more than their number in the list
  /// World, mm: where the middle of the bottom of what comes in is put. Not given: everything stands as the file has
  /// it.
  std::optional<Vec3> at;

  friend bool operator==(const Bring&, const Bring&) = default;
};

/// Adds the parts, their ties and their colours; names at the top, and of ties, are made free by a number. A colour
/// that looks like the scene's one of its name, both without pictures, is that one, another gets a number behind its
/// name. Fails when there are none.
Result<Scene> apply(const Bring& bring, const Scene& scene);
/// Its rows are those of the steps file, where core/files/steps.h reads it: it needs files.
const Table<Bring>& table_of(const Bring*);

}  // namespace tack
