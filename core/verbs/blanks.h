// The blanks of a sentence as data: what kind of value each takes, and the verb with another value in it. The window
// corrects finished steps by this.
#pragma once

#include "core/verbs/verb.h"

namespace tack {

/// What a value blank takes; nullopt for blanks that are not typed numbers.
std::optional<EntryKind> kind_of(Blank blank);

/// What stands in a value blank now (mm, degrees, factor); nullopt when the verb has no such blank or nothing in it.
std::optional<double> value_in(const Verb& verb, Blank blank);

/// The verb with a value in a blank; what excludes it gives way (a size takes the place of a factor, lengths that of
/// two places). nullopt when the verb has no such blank.
std::optional<Verb> with_value(const Verb& verb, Blank blank, const Amount& amount);

/// The verb with words in a blank: the name of Rename and Group. nullopt when the verb has no such blank.
std::optional<Verb> with_text(const Verb& verb, Blank blank, const std::string& text);

/// The entries of a blank that is chosen from a list, and the verb with one of them. Only blanks whose choices need
/// nothing but the verb itself; empty, nullopt for all others.
std::vector<std::string> choices_in(const Verb& verb, Blank blank);
std::optional<Verb> with_choice(const Verb& verb, Blank blank, std::size_t choice);

/// A way out of the skew that a step made (see remark()): another verb in its place, or a further one behind it;
/// neither: to leave it as it is.
struct Remedy {
  std::string words;
  std::optional<Verb> instead, then;
};
std::vector<Remedy> remedies_of(const Verb& verb, const Scene& before, const Scene& after);

/// The verb about other parts; a From on the first of its parts becomes the same feature of the first of these. Rename
/// takes the first of them; Bring stays as it is.
Verb with_parts(const Verb& verb, const std::vector<PartId>& parts);

}  // namespace tack
