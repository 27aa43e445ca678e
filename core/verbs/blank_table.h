// What comes of a verb's table: reading and writing it, giving its blanks other values, and the words for all that. One
// definition for every verb; core/verbs/verb.h has the same for the verb that is meant.
#pragma once

#include "core/verbs/any_table.h"

namespace tack {

/// Whether what is given goes together, whatever the scene: one rule for files and for the window.
Result<void> check_blanks(VerbRef verb);

template <class V>
BlankId blank_of(std::string_view key, std::size_t index = 0) {
  return any_table<V>().blank(key, index);
}

/// How many values the row has in this verb.
std::size_t count_in(const AnyRow& row, VerbRef verb);
/// Where the value of a row of the verb's table stands.
Slot slot_of(const AnyRow& row, VerbRef verb, std::size_t index);
/// The same for a blank; monostate where the verb has no such as it stands.
Slot slot_at(VerbRef verb, BlankId blank);

/// What a blank is called: "Size along X", "Second From".
std::string name_of_blank(VerbRef verb, BlankId blank);

/// The keys that an entry of a steps file may have.
std::vector<std::string_view> keys_of(const AnyTable& table);
/// Reads one entry of a steps file into a verb with nothing given. Refuses unknown keys, values of another kind, a key
/// that means nothing beside the others, and what check() refuses.
Result<void> read_verb(VerbRef verb, const Json& json, const Scene& scene);
/// The entry of a steps file, as read_verb reads it. Keys stand in the order of the table.
Json write_verb(VerbRef verb, const Scene& scene);
/// The key table of the verb, as docs/steps.md has it.
std::string key_table(const AnyTable& table);

/// Something put into a blank of the verb itself: a value, words, a place, a part. False when that is refused: then the
/// verb is in no state to be used.
bool put_in(VerbRef verb, BlankId blank, const Amount& amount);
bool put_in(VerbRef verb, BlankId blank, const std::string& text);
bool put_in(VerbRef verb, BlankId blank, const TackAddress& place);
bool put_in(VerbRef verb, BlankId blank, PartId part);

/// The list that a blank opens; empty for what is typed or clicked, and for what means nothing now.
std::vector<Option> options_of(VerbRef verb, BlankId blank, const Scene& scene, const ChoiceContext& context);
/// Takes an entry of that list; false as above, when there is none such, and for one that changes nothing, such as one
/// that only asks for a click.
bool choose_in(VerbRef verb, BlankId blank, std::size_t option, const Scene& scene, const ChoiceContext& context);

/// What `it` means in a value blank: the value now, or 0 in a blank for a change.
double it_in(VerbRef verb, BlankId blank, const Scene& scene);

}  // namespace tack
