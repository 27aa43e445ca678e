// Measure and Pick: what is done with the same sentences, blanks and clicks as a verb, and leaves the scene as it is.
#pragma once

#include "core/verbs/meet.h"

namespace tack {

/// What a click picks.
enum class PickOf { Parts, Vertices, Edges, Faces };
inline std::optional<ElementKind> elements_of(PickOf of) {
  return of == PickOf::Parts ? std::nullopt : std::optional(static_cast<ElementKind>(static_cast<int>(of) - 1));
}

struct Pick {
  std::vector<PartId> what;
  PickOf of = PickOf::Parts;
  friend bool operator==(const Pick&, const Pick&) = default;
};
struct Measure {
  std::optional<TackAddress> from, to;
  friend bool operator==(const Measure&, const Measure&) = default;
};

inline Result<Scene> apply(const Pick&, const Scene& scene) { return scene; }
inline Result<Scene> apply(const Measure&, const Scene& scene) { return scene; }
/// A gap that was measured can be closed from either side: each way in words, with the meeting that does it. None where
/// the places coincide or nothing may move.
std::vector<std::pair<std::string, Meet>> closings(const Measure& measure, const Scene& scene);
/// With both places: the distance, along each axis, and the angle between two directions where both places mean one by
/// themselves.
const Table<Pick>& table_of(const Pick*);
const Table<Measure>& table_of(const Measure*);

}  // namespace tack
