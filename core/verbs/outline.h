// What the Parts tree does to a scene: show, lock, rename, delete, parent.
#pragma once

#include "core/verbs/blank_row.h"

namespace tack {

struct Show {
  std::vector<PartId> what;
  bool shown = true;
  friend bool operator==(const Show&, const Show&) = default;
};
struct Lock {
  std::vector<PartId> what;
  bool locked = true;
  friend bool operator==(const Lock&, const Lock&) = default;
};
/// Draws parts so that what is behind them shows and can be caught; or solid again.
struct SeeThrough {
  std::vector<PartId> what;
  bool on = true;
  friend bool operator==(const SeeThrough&, const SeeThrough&) = default;
};
struct Rename {
  PartId part = kNoPart;
  std::string name;
  friend bool operator==(const Rename&, const Rename&) = default;
};
struct Delete {
  std::vector<PartId> what;
  friend bool operator==(const Delete&, const Delete&) = default;
};
/// Makes parts children of another part (kNoPart: of none), keeping either their place in the world or their numbers.
struct Reparent {
  enum class Keeps { Place, Numbers };
  std::vector<PartId> what;
  PartId to = kNoPart;
  Keeps keeps = Keeps::Place;
  friend bool operator==(const Reparent&, const Reparent&) = default;
};

Result<Scene> apply(const Show& show, const Scene& scene);
Result<Scene> apply(const Lock& lock, const Scene& scene);
/// Whether all of the parts are, and of groups all that is in them; false where there is no surface.
bool all_see_through(const Scene& scene, const std::vector<PartId>& parts);
/// What hangs below a part with a mesh stays as it is. Of a group: all that is in it. Fails where there is no mesh.
Result<Scene> apply(const SeeThrough& clear, const Scene& scene);
/// Fails for an empty name, one over 200 characters, and a name with control characters.
Result<Scene> apply(const Rename& rename, const Scene& scene);
/// Removes the parts and everything below them. Locked parts are refused.
Result<Scene> apply(const Delete& remove, const Scene& scene);
/// Fails when a part would end up below itself, is locked, or the new parent is flattened. A place kept under an
/// unevenly scaled parent may need skew, which is kept.
Result<Scene> apply(const Reparent& reparent, const Scene& scene);

const Table<Show>& table_of(const Show*);
const Table<Lock>& table_of(const Lock*);
const Table<SeeThrough>& table_of(const SeeThrough*);
const Table<Rename>& table_of(const Rename*);
const Table<Delete>& table_of(const Delete*);
const Table<Reparent>& table_of(const Reparent*);

}  // namespace tack
