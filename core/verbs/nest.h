// Group, ungroup, copy, separate, colour: what the Part menu does to the tree.
#pragma once

#include "core/verbs/blank_row.h"

namespace tack {

/// An empty parent for parts, which keep their place. Its pivot stands at a chosen point.
struct Group {
  std::vector<PartId> what;
  std::string name;            ///< empty: "Group", made free by a number
  About at = middle_of_all();  ///< in World axes
  friend bool operator==(const Group&, const Group&) = default;
};
/// Children go up to the parent's parent and keep their place; a group that is empty then goes.
struct Ungroup {
  std::vector<PartId> what;
  friend bool operator==(const Ungroup&, const Ungroup&) = default;
};
/// A copy of each part, with everything below it, beside it.
struct Copy {
  std::vector<PartId> what;
  bool instance = false;     ///< shares the mesh; else has one of its own
  std::array<Amount, 3> by;  ///< mm in the world by which the copies are shifted
  friend bool operator==(const Copy&, const Copy&) = default;
};
/// Gives parts meshes of their own: no instances any more.
struct Separate {
  std::vector<PartId> what;
  friend bool operator==(const Separate&, const Separate&) = default;
};
/// One colour for all of a part's faces: one of its own, or one of the document's list.
struct Paint {
  std::vector<PartId> what;
  Colour colour;
  std::string named;  ///< its name on the list; empty: `colour`
  friend bool operator==(const Paint&, const Paint&) = default;
};

/// The group comes under the parent that all parts have, or the nearest above all of them. Fails when nothing is
/// picked, a part is locked, or the point is not there.
Result<Scene> apply(const Group& group, const Scene& scene);
/// Fails for parts without children.
Result<Scene> apply(const Ungroup& ungroup, const Scene& scene);
/// Names count on: "Post 4" is followed by the first free of "Post 5", "Post 6", …
Result<Scene> apply(const Copy& copy, const Scene& scene);
/// Fails when none of the parts shares its mesh.
Result<Scene> apply(const Separate& separate, const Scene& scene);
/// A part with a mesh is coloured alone, a group with all that is in it. Fails for a name that is not on the list.
Result<Scene> apply(const Paint& paint, const Scene& scene);

const Table<Group>& table_of(const Group*);
const Table<Ungroup>& table_of(const Ungroup*);
const Table<Copy>& table_of(const Copy*);
const Table<Separate>& table_of(const Separate*);
const Table<Paint>& table_of(const Paint*);

}  // namespace tack
