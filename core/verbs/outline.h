// What the Parts tree does to a scene: show, lock, rename, delete, parent.
#pragma once

#include "core/verbs/common.h"

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
  std::vector<PartId> what;
  PartId to = kNoPart;
  bool keep_place = true;
  friend bool operator==(const Reparent&, const Reparent&) = default;
};

Result<Scene> apply(const Show& show, const Scene& scene);
Result<Scene> apply(const Lock& lock, const Scene& scene);
/// Fails for an empty name, one over 200 characters, and a name with control characters.
Result<Scene> apply(const Rename& rename, const Scene& scene);
/// Removes the parts and everything below them. Locked parts are refused.
Result<Scene> apply(const Delete& remove, const Scene& scene);
/// Fails when a part would end up below itself, is locked, or the new parent is flattened. A place kept under an
/// unevenly scaled parent may need skew, which is kept.
Result<Scene> apply(const Reparent& reparent, const Scene& scene);

Sentence sentence(const Show& show, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres);
Sentence sentence(const Lock& lock, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres);
Sentence sentence(const Rename& rename, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres);
Sentence sentence(const Delete& remove, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres);
Sentence sentence(const Reparent& reparent, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres);

Json to_json(const Show& show, const Scene& scene);
Json to_json(const Lock& lock, const Scene& scene);
Json to_json(const Rename& rename, const Scene& scene);
Json to_json(const Delete& remove, const Scene& scene);
Json to_json(const Reparent& reparent, const Scene& scene);

Result<Show> show_from_json(const Json& json, const Scene& scene);
Result<Lock> lock_from_json(const Json& json, const Scene& scene);
Result<Rename> rename_from_json(const Json& json, const Scene& scene);
Result<Delete> delete_from_json(const Json& json, const Scene& scene);
Result<Reparent> reparent_from_json(const Json& json, const Scene& scene);

inline std::string_view key_of(const Show&) { return "show"; }
inline std::string_view key_of(const Lock&) { return "lock"; }
inline std::string_view key_of(const Rename&) { return "rename"; }
inline std::string_view key_of(const Delete&) { return "delete"; }
inline std::string_view key_of(const Reparent&) { return "parent"; }

}  // namespace tack
