// How parts, places and amounts are said in sentences.
#pragma once

#include "core/catch/tack.h"
#include "core/verbs/amount.h"
#include "core/verbs/sentence.h"

namespace tack {

/// "Post 1", "Post 1 and Post 2", "Post 1, Post 2 and 3 more".
std::string names_of(const Scene& scene, const std::vector<PartId>& parts);

/// A part's name; "a part that is gone".
std::string name_of(const Scene& scene, PartId part);

/// A place in words: "vertex of Post 4", or "its vertex" on `own`, the only part the sentence is about.
std::string place_words(const Scene& scene, const TackAddress& place, PartId own = kNoPart);

/// An amount as it is shown in a sentence: its text when it was typed with a unit or as a sum, else its value in `unit`
/// or degrees.
std::string shown(const Amount& amount, EntryKind kind, const LengthUnit& unit = kMillimetres);

/// Refuses names that are empty (“`what` needs a name.”), longer than 200 characters, or not fit to be shown as they
/// are: with line breaks, control characters, marks that turn the direction of writing, or bytes that are no UTF-8.
Result<void> check_name(const std::string& name, std::string_view what);

/// A name for a copy: the number at the end counted on until it is free. "Post 4" is followed by the first free of
/// "Post 5", "Post 6", …
std::string next_name(FreeNames& names, const std::string& name);

}  // namespace tack
