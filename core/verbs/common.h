// What several verbs share.
#pragma once

#include "core/catch/tack.h"
#include "core/verbs/amount.h"
#include "core/verbs/sentence.h"

namespace tack {

/// The parts that a verb moves: `what` without what is below another of them. Fails when there is none, when one is
/// gone, and when one (or a part above it) is locked.
Result<std::vector<PartId>> movable(const Scene& scene, const std::vector<PartId>& what);

/// Whether a part is one of `parts` or below one of them: it moves when they do.
bool moves_with(const Scene& scene, const std::vector<PartId>& parts, PartId part);
/// Fails when From is on a part that is not among what moves (`parts`, or below them), naming it. Places of space are
/// no part's.
Result<void> check_from_moves(const Scene& scene, const std::vector<PartId>& parts, const TackAddress& from);
/// Fails when To is on what moves (`parts`, or below them), naming it.
Result<void> check_to_stays(const Scene& scene, const std::vector<PartId>& parts, const TackAddress& to);

/// Moves parts as one rigid body: p goes to rotation · (p − from) + to, in the world (mm). Each part's pivot ends
/// within 1e-9 × (extent + distance from the origin) of where it should be: what a chain of parents costs is measured
/// from the stored numbers and put right once. With the identity as rotation nothing but positions change. Fails when a
/// parent flattens its children, or when the result would be skewed to zero size.
Result<Scene> moved_rigidly(const Scene& scene, const std::vector<PartId>& parts, const Mat3& rotation,
                            const Vec3& from, const Vec3& to);

/// The same with an even factor: p goes to rotation · (p − from) · factor + to; each part's own scale takes the factor.
Result<Scene> moved_alike(const Scene& scene, const std::vector<PartId>& parts, const Mat3& rotation, double factor,
                          const Vec3& from, const Vec3& to);

/// The part of `v` along those of the axes (unit columns, square to each other) that are allowed.
Vec3 along_axes(const Vec3& v, const Mat3& axes, const std::array<bool, 3>& allowed);
/// "x", "x and z": the axes named; and the letters of the steps file, "xz".
std::string axes_named(const std::array<bool, 3>& axes);
std::string axis_letters(const std::array<bool, 3>& axes);

/// From and To of a verb that may have both or neither, in its sentence and in a steps file. Fails when only one is
/// there, or one does not name a place.
Result<void> places_from_json(const Json& json, const Scene& scene, std::optional<TackAddress>& from,
                              std::optional<TackAddress>& to);

/// Moves a part's pivot to `target` (world, mm), its placement otherwise unchanged.
Result<Scene> moved_pivot_to(const Scene& scene, PartId id, const Vec3& target);

/// A linked copy of a part, with everything below it, beside it and where it is; its name counts on. `copy` is its id.
Scene with_linked_copy(const Scene& scene, PartId part, PartId& copy);
/// A linked copy of each part, left where it is: what "leave a copy" does before a verb moves the part itself. The ties
/// of the part are the copy's from now on: it stands where they hold.
Scene with_copies_left(const Scene& scene, const std::vector<PartId>& parts);

/// A name for a copy: the number at the end counted on until it is free among the children of `parent`.
std::string next_name(const Scene& scene, PartId parent, const std::string& name);

/// "Post 1", "Post 1 and Post 2", "Post 1, Post 2 and 3 more".
std::string names_of(const Scene& scene, const std::vector<PartId>& parts);

/// Three plain numbers of a JSON list, or nullopt.
std::optional<Vec3> numbers_from_json(const Json& json);
/// Letters such as "x", "xz" or a list of them: which of the three axes are named. At least one.
Result<std::array<bool, 3>> axis_letters_from_json(const Json& json, std::string_view key);

/// The axes under "axes": "world", "parent", "local", {"of": "Hub"}, or {"view": [right, up, back]} with three numbers
/// each, which are squared up. World when there is no such key.
Result<Axes> axes_in(const Json& json, const Scene& scene);
Json axes_to_json(const Axes& axes, const Scene& scene);

/// A yes or no under `key`; no when it is not there.
Result<bool> flag_in(const Json& json, const char* key);

/// The parts under "what", which must be there.
Result<std::vector<PartId>> what_from_json(const Json& json, const Scene& scene);
/// Parts named in a steps file's "what".
Result<std::vector<PartId>> parts_from_json(const Json& json, const Scene& scene);
Json parts_to_json(const std::vector<PartId>& parts, const Scene& scene);

/// Three amounts of which any may be null: "leave this one alone".
using Amounts = std::array<std::optional<Amount>, 3>;
inline bool any_given(const Amounts& amounts) { return amounts[0] || amounts[1] || amounts[2]; }
Result<Amounts> amounts_from_json(const Json& json, EntryKind kind, std::string_view key, const Scene& scene);
Json amounts_to_json(const Amounts& amounts);

/// Refuses names that are empty (“`what` needs a name.”), longer than 200 characters, or with line breaks
/// or other control characters in them.
Result<void> check_name(const std::string& name, std::string_view what);

/// Refuses keys that the verb does not know, naming the nearest one: a misspelt key must not be passed over.
Result<void> check_keys(const Json& json, std::initializer_list<std::string_view> known);

/// A tack as a blank of a sentence: in words, or `waiting` when it is not there yet. The part is left out of the words
/// when it is `own`, the only part the sentence is about.
Word tack_word(const Scene& scene, const std::optional<TackAddress>& tack, Blank blank, std::string_view waiting,
               PartId own = kNoPart);

/// An amount as it is shown in a sentence: its text when it was typed with a unit or as a sum, else its value in `unit`
/// or degrees.
std::string shown(const Amount& amount, EntryKind kind, const LengthUnit& unit = kMillimetres);

}  // namespace tack
