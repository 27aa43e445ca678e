// Guide: a point, line or plane that exists only to be measured from or caught on.
#pragma once

#include "core/verbs/blank_row.h"

namespace tack {

struct AddGuide {
  GuideKind kind = GuideKind::Line;
  std::optional<TackAddress> at;  ///< where it goes through; a line goes along its direction, a plane lies across it
  std::string name;               ///< empty: "Guide", made free by a number
  friend bool operator==(const AddGuide&, const AddGuide&) = default;
};

/// Adds the guide at the top of the tree; its z is the place's direction (the world's where that has none), its x the
/// place's roll. It is a part like any other: it can be moved, turned, met, hidden, locked. Fails without a place or a
/// kind.
Result<Scene> apply(const AddGuide& guide, const Scene& scene);
const Table<AddGuide>& table_of(const AddGuide*);

}  // namespace tack
