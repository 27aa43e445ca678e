// Bring: parts from a file come into the scene.
#pragma once

#include "core/verbs/meet.h"

namespace tack {

struct Delivery;  // what a reader made of a file; known only to core/files

/// What a file delivered. `parts` are in tree order; Part::parent is 0 for a part at the top, else one more than the
/// number of its parent in this list. `carried` replaces the scene's: it holds what was carried before and what came
/// along.
struct Bring {
  std::string file;  ///< its name, for the sentence
  std::string path;  ///< where it was read from, for the steps file
  /// As what it was read, as the steps file has it; empty where the file says it itself, or its kind does.
  std::string unit, up;
  std::optional<int> scene;  ///< which of several
  std::shared_ptr<const std::vector<Part>> parts;
  std::shared_ptr<const Delivery>
      source;  ///< what they were made of, for keeping the step in the document; may be null
  std::shared_ptr<const CarriedDocument> carried;
  std::vector<NamedColour> colours;  ///< those that its parts name
  std::vector<std::string> notes;    ///< sentences about what was decided while it was read and put together
  std::string instance_of;           ///< the part of the scene that it is an instance of; empty: of none
  std::vector<Tie> ties;             ///< between its parts, which they name by one more than their number in the list
  /// World, mm: where the middle of the bottom of what comes in is put. Not given: everything stands as the file has
  /// it.
  std::optional<Vec3> at;
  /// The place on which they are stood (landing_on). Not given: none.
  std::optional<TackAddress> on;

  friend bool operator==(const Bring&, const Bring&) = default;
};

/// Adds the parts, their ties and their colours; names at the top, and of ties, are made free by a number. A colour
/// that looks like the scene's one of its name, both without pictures, is that one, another gets a number behind its
/// name. Fails when there are none.
Result<Scene> apply(const Bring& bring, const Scene& scene);
/// What stands parts that came in on the place they were dropped on: their kept tack "in", where one of them has it,
/// else the middle of their own base, comes to it, facing it where a meeting of the two would.
Meet landing_on(const Scene& scene, const std::vector<PartId>& parts, const TackAddress& place);
/// Its rows are those of the steps file, where core/files/steps.h reads it: it needs files.
const Table<Bring>& table_of(const Bring*);

}  // namespace tack
