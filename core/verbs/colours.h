// The document's list of named colours: what parts are made of. Changing one changes every part that has it.
#pragma once

#include "core/verbs/blank_row.h"

namespace tack {

/// Puts a colour on the list, and gives it to parts at once where some are named.
struct NameColour {
  std::string name;
  Colour colour;
  std::vector<PartId> what;
  friend bool operator==(const NameColour&, const NameColour&) = default;
};
/// Changes a colour of the list, gives it another name, or takes it off the list; then its parts keep how they look.
struct EditColour {
  enum class Do { Change, Rename, Forget };
  std::string named;
  Do what_to_do = Do::Change;
  Colour colour;     ///< Change: its new one; how much shows through it stays
  std::string name;  ///< Rename: its new name
  friend bool operator==(const EditColour&, const EditColour&) = default;
};

/// Fails for a name that another colour has, an empty or overlong one, and where Paint fails. O(parts).
Result<Scene> apply(const NameColour& name, const Scene& scene);
/// Fails for a colour that is not on the list, naming those that are, and for a new name that another has. O(parts).
Result<Scene> apply(const EditColour& edit, const Scene& scene);

/// The colour of the list with this name; fails, naming those there are.
Result<const NamedColour*> find_colour(const Scene& scene, const std::string& name);
/// The parts that have the colour on any of their faces, in tree order. O(parts).
std::vector<PartId> parts_with(const Scene& scene, std::string_view colour);

const Table<NameColour>& table_of(const NameColour*);
const Table<EditColour>& table_of(const EditColour*);

}  // namespace tack
