// What a verb says about each of its blanks, once: a row of a table. Reading and writing steps files, refusing unknown
// keys, correcting values and choices, hints, accessible names and the key tables of the documentation all come from
// these rows (blank_table.h); sentences name blanks by them.
#pragma once

#include <span>
#include <variant>

#include "core/verbs/about.h"
#include "core/verbs/amount.h"
#include "core/verbs/axis_set.h"
#include "core/verbs/sentence.h"

namespace tack {

/// One entry of a blank that is chosen from a list: as the sentence says it, and as a steps file does.
struct Choice {
  std::string_view words, key;
};

/// A value of an enumeration inside a verb, told by its number; −1 while it is not given.
struct EnumSlot {
  void* at;
  int (*get)(const void*);
  void (*set)(void*, int);
};

/// Where the value of a blank stands inside a verb. monostate: the verb has no such blank as it stands.
using Slot = std::variant<std::monostate, Amount*, std::optional<Amount>*, double*, int*, bool*, std::string*, Colour*,
                          PartId*, std::vector<PartId>*, std::optional<TackAddress>*, About*, std::optional<About>*,
                          Axes*, AxisSet*, EnumSlot>;

/// What a blank waits for after an entry of its list was taken: nothing, a click on a place, a click on a part.
enum class Click : std::uint8_t { None, Place, Part };

/// An entry of the list that a blank opens.
struct Option {
  std::string words;
  Click click = Click::None;
};

/// What the window knows beside the scene when a list is opened.
struct ChoiceContext {
  Mat3 view;                        ///< the view's frame: right, up, towards the viewer
  PartId picked = kNoPart;          ///< whose axes "Of …" means
  std::vector<PartId> planes = {};  ///< the planes that lists of planes offer, in their order
};

/// All but `key`, `name` and `at` may be left out.
template <class V>
struct Row {
  std::string_view key;   ///< in a steps file; one that begins with '.' names a blank that only sentences have
  std::string_view name;  ///< for tooltips, screen readers and tests: "Gap"
  Slot (*at)(V&, std::size_t) = nullptr;                      ///< not given: it is nothing that the verb keeps
  EntryKind kind = EntryKind::Length;                         ///< of an amount
  std::span<const Choice> choices = {};                       ///< in the order of the values (false, true for a flag)
  std::string_view ask = {};                                  ///< what the message line says while a click is wanted
  std::string_view (*asks)(const V&, std::size_t) = nullptr;  ///< the same, where it is not alike for all its values
  std::string_view waiting = {};  ///< what stands in the sentence while it is empty: "a place on it"
  Role role = Role::None;
  bool needed = false;                             ///< a steps file must have it
  bool (*needed_if)(const V&) = nullptr;           ///< the same, beside what else is given
  bool always = false;                             ///< it is written even where it says nothing new
  bool acts = false;                               ///< giving it does the verb, whatever else is still as it was
  bool three = false;                              ///< three values, for x, y and z: a list of three in a steps file
  std::string_view in = {};                        ///< a member of the objects of this list: "pairs"
  std::size_t (*count)(const V&) = nullptr;        ///< how many values; 1 (or 3) when not given
  void (*resize)(V&, std::size_t) = nullptr;       ///< makes room for so many
  std::string_view (*barred)(const V&) = nullptr;  ///< why it means nothing beside the rest; empty: it does
  void (*given)(V&, std::size_t) = nullptr;        ///< what giving it sets aside
  /// What `it` means in it: the value now, before the verb. Not given: 0, for blanks that hold a change.
  std::optional<double> (*now)(const V&, const Scene&, std::size_t) = nullptr;
  /// For what no slot can say: the list it opens and what an entry of it means, what a click on a place or a part does,
  /// how it stands in a steps file.
  std::vector<Option> (*options)(const V&, const Scene&, std::size_t) = nullptr;
  void (*choose)(V&, std::size_t, std::size_t, const ChoiceContext&) = nullptr;
  void (*place)(V&, std::size_t, const TackAddress&) = nullptr;
  void (*part)(V&, std::size_t, PartId) = nullptr;
  Json (*write)(const V&, const Scene&) = nullptr;  ///< null JSON: not written
  Result<void> (*read)(V&, const Json&, const Scene&) = nullptr;
  std::string_view value = {};  ///< for the documentation: what may stand there, where the slot does not tell
  std::string_view doc = {};    ///< for the documentation: what it says
};

/// What the message line says, by what is going on.
struct Hints {
  std::string_view nothing;   ///< no part is picked yet
  std::string_view ready;     ///< it can be typed, dragged, chosen
  std::string_view done;      ///< the step has been made and can be corrected
  std::string_view dragging;  ///< a handle is dragged
  std::string_view gripping;  ///< a place is dragged
};

/// Other ways to do what a verb did, each in words: see ways_out() of a verb.
template <class V>
using WaysOut = std::vector<std::pair<std::string, V>>;

class Phrase;  // core/verbs/phrase.h

/// Everything the program knows of a verb but what it does: its name in steps files, what goes beyond single blanks,
/// its sentence, and its blanks in the order in which they are written. All between `does` and `sentence` may be left
/// out.
template <class V>
struct Table {
  std::string_view key, does;  ///< `does` in a sentence, for the documentation
  bool in_files = true;        ///< whether a steps file may have it
  bool on_patches = false;     ///< it can be done to what was taken from meshes: it places things, or works on elements
  Result<void> (*check)(const V&) = nullptr;                   ///< whether what is given goes together
  Result<void> (*check_in)(const V&, const Scene&) = nullptr;  ///< what a steps file may not say of its scene
  bool (*ready)(const V&) = nullptr;                           ///< nothing is missing; else: what check() says
  BlankId (*waits)(const V&) = nullptr;                        ///< the blank that needs a click next
  V (*whole)(V, const Scene&) = nullptr;                       ///< what the places that were given settle besides
  V (*next)(const V&) = nullptr;                               ///< what the next one takes over from one that is done
  /// What Enter makes of one that still waits for a place: as it stands. nullopt: it cannot be done so.
  std::optional<V> (*stands)(const V&, const Scene&) = nullptr;
  V (*begun)(V, const Scene&) = nullptr;                           ///< what is picked settles before anything is said
  std::vector<PartId> (*parts)(const V&, const Scene&) = nullptr;  ///< what it is about, where that is not `what`
  /// What it has not reached, measured in `after`, as a sentence that stands behind its own; empty when it has.
  std::string (*left)(const V&, const Scene& before, const Scene& after, const LengthUnit&) = nullptr;
  std::string (*remark)(const V&, const Scene& before, const Scene& after) = nullptr;  ///< to be said beside it
  WaysOut<V> (*ways_out)(const V&) = nullptr;                                          ///< ways that make no skew
  bool (*take_back)(V&) = nullptr;        ///< Esc: takes back half of what was being given; false: nothing was
  void (*offered)(V&, PartId) = nullptr;  ///< a part that stays is pointed at: what is shown of it, before any click
  void (*to_axis)(V&, std::size_t) = nullptr;       ///< what X, Y and Z choose, where they open no blank
  bool at_once = false;                             ///< it is offered to be done as it stands, without a value
  bool (*heavy)(const V&, const Scene&) = nullptr;  ///< at_once: so much that it is not shown unasked
  bool goes_on = false;                             ///< done, it waits for more of the same step
  bool either_first = false;             ///< a place on what moves is From, any other To, whichever comes first
  std::string_view leading, still;       ///< keys: the blank where a digit typed on the stage goes, and K's
  BlankId (*leads)(const V&) = nullptr;  ///< the same as `leading`, where it is not always the same blank
  std::string_view axis = {};            ///< key: the blank that X, Y and Z open; else the leading one
  std::string_view answer = {};          ///< key: the blank that a click in Parts fills when none was asked for
  Hints hints = {};
  std::string (*notice)(const V& done, const Scene& before) = nullptr;  ///< in place of hints.done; may be empty
  void (*sentence)(Phrase&, const V&) = nullptr;                        ///< what it is about to do, or has done
  std::vector<Row<V>> rows;
};

namespace detail {

template <class T>
struct MemberOf;
template <class V, class T>
struct MemberOf<T V::*> {
  using Verb = V;
};

template <class T>
requires(!std::is_enum_v<T>) Slot slot_in(T& t, std::size_t) { return &t; }
template <class T>
Slot slot_in(std::array<T, 3>& a, std::size_t i) {
  return &a[i];
}
inline Slot slot_in(AxisSet& a, std::size_t) { return &a; }
template <class E>
requires std::is_enum_v<E> Slot slot_in(E& e, std::size_t) {
  return EnumSlot{&e, [](const void* at) { return int(*static_cast<const E*>(at)); },
                  [](void* at, int value) { *static_cast<E*>(at) = static_cast<E>(value); }};
}
template <class E>
requires std::is_enum_v<E> Slot slot_in(std::optional<E>& e, std::size_t) {
  return EnumSlot{&e,
                  [](const void* at) {
                    const auto& value = *static_cast<const std::optional<E>*>(at);
                    return value ? int(*value) : -1;
                  },
                  [](void* at, int value) { *static_cast<std::optional<E>*>(at) = static_cast<E>(value); }};
}

}  // namespace detail

/// The slot of a member of the verb; of an array of three, that of the axis.
template <auto kMember>
inline constexpr auto slot = +[](typename detail::MemberOf<decltype(kMember)>::Verb& verb, std::size_t i) {
  return detail::slot_in(verb.*kMember, i);
};

/// The slot of the number of an axis, 0 to 2, chosen from a list.
inline Slot axis_number(int& axis) {
  return EnumSlot{&axis, [](const void* at) { return *static_cast<const int*>(at); },
                  [](void* at, int value) { *static_cast<int*>(at) = value; }};
}
inline constexpr Choice kAxisLetters[] = {{"X", "x"}, {"Y", "y"}, {"Z", "z"}};
/// The axis that a steps file writes as "x", "y" or "z"; nullopt for anything else.
std::optional<int> axis_named(const Json& json);
std::string axis_letter(int axis);

/// The row of what a verb is about.
template <class V>
constexpr Row<V> what_row(std::string_view ask, std::string_view doc) {
  return {.key = "what", .name = "What", .at = slot<&V::what>, .ask = ask, .needed = true, .always = true, .doc = doc};
}

}  // namespace tack
