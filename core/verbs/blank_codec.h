// What the rows of all verbs' tables do with one value: read it from a steps file, write it, give it, say it. Knows the
// kinds of slots, not the verbs.
#pragma once

#include "core/verbs/blank_row.h"

namespace tack {

/// What of a row the functions here need.
struct RowFacts {
  std::string_view key;
  EntryKind kind = EntryKind::Length;
  std::span<const Choice> choices;
  std::string_view waiting;
  double it = 0;  ///< what `it` is read as until it meets a part: 0 in a blank for a change, else 1
  /// What `x of "Post 4"` is read in: the verb's axes, as its first part has them.
  Axes axes = {};
  PartId part = kNoPart;
};

/// Puts what was read where it belongs; says why there is nothing.
template <class T, class R>
Result<void> into(T& target, Result<R> read) {
  if (!read) return tl::unexpected(std::move(read.error()));
  target = *std::move(read);
  return {};
}

/// Reads a value into its slot. Says what is wrong, under `where` (the key, or "pairs, 2, from").
Result<void> read_slot(const Slot& slot, const RowFacts& row, const Json& json, const std::string& where,
                       const Scene& scene);
Json write_slot(const Slot& slot, const RowFacts& row, const Scene& scene);
/// Whether the value says anything: not the empty one, not the first of a list, not 0.
bool is_given(const Slot& slot);

/// Puts a typed value into an amount, a number or a count; false for other slots.
bool put_amount(const Slot& slot, const Amount& amount);
bool put_text(const Slot& slot, const std::string& text);
/// A place that was clicked or typed; false for slots that hold no place.
bool put_place(const Slot& slot, const TackAddress& place);
/// A part: as the part itself, as what the verb is about, as whose axes are used.
bool put_part(const Slot& slot, PartId part);
std::optional<double> number_in(const Slot& slot);
/// The place that stands in the slot.
const TackAddress* place_in(const Slot& slot);
/// Whether a number, or words, are typed into it.
bool is_number(const Slot& slot);
bool is_words(const Slot& slot);

/// The list that a slot opens by itself: its choices, axes, places that stay still. Empty for what is typed or clicked.
std::vector<Option> options_in(const Slot& slot, const RowFacts& row, const Scene& scene, const ChoiceContext& context);
/// Takes an entry of that list; false for one that only asks for a click.
bool choose_in(const Slot& slot, const RowFacts& row, std::size_t option, const Scene& scene,
               const ChoiceContext& context);
/// What a click means that was asked for without a list: on a place, on a part.
Click click_for(const Slot& slot);

/// What a blank says. `own` is the only part the sentence is about: its places are "its vertex".
struct Said {
  const Scene& scene;
  LengthUnit unit = kMillimetres;
  std::vector<PartId> what;
  PartId own = kNoPart;
};
/// The words of a slot; `text` empty and `empty` set where it waits.
Word word_of(const Slot& slot, const RowFacts& row, const Said& said);

/// Refuses a key that is not among `known`, naming the nearest of them.
Result<void> check_keys(const Json& json, const std::vector<std::string_view>& known);

/// For the documentation: what may stand under the key.
std::string value_words(const Slot& slot, const RowFacts& row, bool three);

/// What stays still, as lists offer it: the last one asks for a click.
std::vector<Option> about_options();
std::optional<About> about_option(std::size_t option);

/// In steps files.
Result<std::vector<PartId>> parts_from_json(const Json& json, const Scene& scene);
/// Of a list of one part; `why` there is no more than one.
Result<PartId> only_part_from_json(const Json& json, const char* why, const Scene& scene);
Json parts_to_json(const std::vector<PartId>& parts, const Scene& scene);
Result<TackAddress> place_from_json(const Json& json, const std::string& where, const Scene& scene);
Result<PartId> part_from_json(const Json& json, const std::string& where, const Scene& scene);
Result<Axes> axes_from_json(const Json& json, const Scene& scene);
Json axes_to_json(const Axes& axes, const Scene& scene);
/// A plane's path, or "World" for kNoPart. Fails for a part that is no plane.
Result<PartId> plane_from_json(const Json& json, const std::string& where, const Scene& scene);
Json plane_to_json(PartId plane, const Scene& scene);
std::optional<Vec3> numbers_from_json(const Json& json);
std::string colour_text(const Colour& colour);
/// A list of three values or null, as "by" and "size" have it.
Result<Amounts> amounts_from_json(const Json& json, EntryKind kind, std::string_view key, const Reading& reading,
                                  double it);
Json amounts_to_json(const Amounts& amounts);

}  // namespace tack
