// What comes of a verb's table: reading and writing it, giving its blanks other values, and the words for all that. One
// definition for every verb; core/verbs/verb.h has the same for the verb that is meant.
#pragma once

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/verbs/blank_codec.h"

namespace tack {

template <class V>
const Table<V>& table() {
  return table_of(static_cast<const V*>(nullptr));
}

/// Whether what is given goes together, whatever the scene: one rule for files and for the window.
template <class V>
Result<void> check_blanks(const V& verb) {
  return table<V>().check ? table<V>().check(verb) : Result<void>();
}

template <class V>
const Row<V>* row_of(BlankId blank) {
  const auto& rows = table<V>().rows;
  return blank.row < rows.size() ? &rows[blank.row] : nullptr;
}

template <class V>
BlankId blank_of(std::string_view key, std::size_t index = 0) {
  return {row_number(table<V>().rows, key), static_cast<std::uint8_t>(index)};
}

template <class V>
RowFacts facts_of(const Row<V>& row) {
  return {row.key, row.kind, row.choices, row.waiting, row.now ? 1.0 : 0.0, {}, kNoPart};
}
/// The same for reading a value: rows of axes and of what the verb is about stand before those that need them.
template <class V>
RowFacts facts_for_reading(const Row<V>& row, const V& verb) {
  RowFacts facts = facts_of(row);
  if constexpr (requires { verb.axes; }) facts.axes = verb.axes;
  if constexpr (requires { verb.what.front(); })
    if (!verb.what.empty()) facts.part = verb.what.front();
  return facts;
}

/// How many values the row has in this verb.
template <class V>
std::size_t count_in(const Row<V>& row, const V& verb) {
  return row.count ? row.count(verb) : row.three ? 3 : 1;
}

/// Where the value stands; for reading alone where the verb is const.
template <class V>
Slot slot_at(const V& verb, BlankId blank) {
  const Row<V>* row = row_of<V>(blank);
  if (!row || !row->at || blank.index >= count_in(*row, verb)) return std::monostate{};
  return row->at(const_cast<V&>(verb), blank.index);
}

/// What a blank is called: "Size along X", "Second From".
template <class V>
std::string name_of_blank(const V&, BlankId blank) {
  const Row<V>* row = row_of<V>(blank);
  if (!row) return {};
  if (row->three) return std::string(row->name) + " " + "XYZ"[blank.index % 3];
  constexpr std::string_view kOrdinals[] = {"", "Second ", "Third ", "Fourth ", "Fifth ", "Sixth "};
  if (blank.index == 0) return std::string(row->name);
  return blank.index < std::size(kOrdinals) ? std::string(kOrdinals[blank.index]) + std::string(row->name)
                                            : fmt::format("{} {}", row->name, blank.index + 1);
}

// --- steps files

template <class V>
std::vector<std::string_view> keys_of(const Table<V>& table) {
  std::vector<std::string_view> keys{"verb"};
  for (const Row<V>& row : table.rows) {
    const std::string_view key = row.in.empty() ? row.key : row.in;
    if (key.front() != '.' && std::find(keys.begin(), keys.end(), key) == keys.end()) keys.push_back(key);
  }
  return keys;
}

namespace detail {

// The objects of a list, each with a member for every row that stands in it.
template <class V>
Result<void> read_list(V& verb, const Table<V>& table, const Row<V>& first, const Json& json, const Scene& scene) {
  std::vector<std::string_view> keys;
  for (const Row<V>& row : table.rows)
    if (row.in == first.in) keys.push_back(row.key);
  const std::string list(first.in);
  if (!json.is_array() || json.empty())
    return fail(fmt::format("This should be a list of objects with {}.", fmt::join(keys, " and ")), list);
  first.resize(verb, json.size());
  for (std::size_t i = 0; i < json.size(); ++i) {
    if (!json[i].is_object()) return fail("This should be an object.", fmt::format("{}, {}", list, i + 1));
    if (auto ok = check_keys(json[i], keys); !ok) return tl::unexpected(ok.error());
    for (const Row<V>& row : table.rows) {
      if (row.in != first.in) continue;
      const std::string key(row.key), where = fmt::format("{}, {}, {}", list, i + 1, key);
      if (!json[i].contains(key)) return fail(fmt::format("Number {} has no \"{}\".", i + 1, key), where);
      if (auto ok = read_slot(row.at(verb, i), facts_for_reading(row, verb), json[i][key], where, scene); !ok)
        return ok;
    }
  }
  return {};
}

template <class V>
Result<void> read_row(V& verb, const Row<V>& row, const Json& json, const Scene& scene) {
  const std::string key(row.key);
  if (row.read) return row.read(verb, json, scene);
  if (!row.three) return read_slot(row.at(verb, 0), facts_for_reading(row, verb), json, key, scene);
  if (json.is_null()) return {};
  if (!json.is_array() || json.size() != 3) return fail("This should be three values, like [120, null, 18].", key);
  for (std::size_t i = 0; i < 3; ++i)
    if (!json[i].is_null())
      if (auto ok = read_slot(row.at(verb, i), facts_for_reading(row, verb), json[i], key, scene); !ok) return ok;
  return {};
}

template <class V>
bool any_given_in(const Row<V>& row, const V& verb) {
  for (std::size_t i = 0; i < count_in(row, verb); ++i)
    if (is_given(row.at(const_cast<V&>(verb), i))) return true;
  return false;
}

// Whether something stands in it that is not there when the key is left out: a first choice where another is the
// default, a 0 where that is not.
template <class V>
bool is_another(const Row<V>& row, const V& verb, const Scene& scene) {
  if (row.three || (row.barred && !row.barred(verb).empty())) return false;
  V plain;
  if (count_in(row, verb) != count_in(row, plain)) return false;
  for (std::size_t i = 0; i < count_in(row, verb); ++i)
    if (write_slot(row.at(const_cast<V&>(verb), i), facts_of(row), scene) !=
        write_slot(row.at(plain, i), facts_of(row), scene))
      return true;
  return false;
}

}  // namespace detail

/// Reads one entry of a steps file. Refuses unknown keys, values of another kind, a key that means nothing beside the
/// others, and what check() refuses.
template <class V>
Result<V> read_verb(const Json& json, const Scene& scene) {
  const Table<V>& table = tack::table<V>();
  if (auto ok = check_keys(json, keys_of(table)); !ok) return tl::unexpected(ok.error());
  V verb;
  std::vector<std::string_view> lists;
  for (const Row<V>& row : table.rows) {
    if (row.key.front() == '.') continue;
    const std::string key(row.in.empty() ? row.key : row.in);
    if (!row.in.empty() && std::find(lists.begin(), lists.end(), row.in) != lists.end()) continue;
    if (!row.in.empty()) lists.push_back(row.in);
    if (!json.contains(key)) {
      if (row.needed) return fail(fmt::format("\"{}\" needs \"{}\": {}.", table.key, key, row.doc), key);
      continue;
    }
    const auto ok = row.in.empty() ? detail::read_row(verb, row, json[key], scene)
                                   : detail::read_list(verb, table, row, json[key], scene);
    if (!ok) return tl::unexpected(ok.error());
  }
  for (const Row<V>& row : table.rows)
    if (row.needed_if && !json.contains(std::string(row.key)) && row.needed_if(verb))
      return fail(fmt::format("\"{}\" needs \"{}\": {}.", table.key, row.key, row.doc), std::string(row.key));
  for (const Row<V>& row : table.rows)
    if (row.barred && row.at && row.key.front() != '.' && json.contains(std::string(row.key)) &&
        detail::any_given_in(row, verb))
      if (const std::string_view why = row.barred(verb); !why.empty())
        return fail(fmt::format("\"{}\" means nothing here: {}.", row.key, why), std::string(row.key),
                    "Leave it out, or say it otherwise.");
  // Of two keys that say different things the second would win in silence.
  for (const Row<V>& row : table.rows)
    if (const std::string key(row.key); row.read && row.write && !row.at && json.contains(key) && !json[key].is_null())
      if (row.write(verb, scene).is_null())
        return fail(fmt::format("\"{}\" does not go with the other keys.", row.key), key, "Leave one of them out.");
  if (auto ok = check_blanks(verb); !ok) return tl::unexpected(ok.error());
  if (table.check_in)
    if (auto ok = table.check_in(verb, scene); !ok) return tl::unexpected(ok.error());
  return verb;
}

/// The entry of a steps file, as read_verb reads it. Keys stand in the order of the table.
template <class V>
Json write_verb(const V& verb, const Scene& scene) {
  const Table<V>& table = tack::table<V>();
  Json json{{"verb", std::string(table.key)}};
  std::vector<std::string_view> lists;
  for (const Row<V>& row : table.rows) {
    if (row.key.front() == '.' || (!row.write && (!row.at || (row.barred && !row.barred(verb).empty())))) continue;
    if (!row.in.empty()) {
      if (std::find(lists.begin(), lists.end(), row.in) != lists.end()) continue;
      lists.push_back(row.in);
      Json list = Json::array();
      for (std::size_t i = 0; i < count_in(row, verb); ++i) {
        Json object = Json::object();
        for (const Row<V>& member : table.rows)
          if (member.in == row.in)
            if (Json value = write_slot(member.at(const_cast<V&>(verb), i), facts_of(member), scene); !value.is_null())
              object[std::string(member.key)] = std::move(value);
        list.push_back(std::move(object));
      }
      json[std::string(row.in)] = std::move(list);
      continue;
    }
    const std::string key(row.key);
    if (row.write) {
      if (Json value = row.write(verb, scene); !value.is_null()) json[key] = std::move(value);
      continue;
    }
    if (!row.always && !detail::any_given_in(row, verb) && !detail::is_another(row, verb, scene)) continue;
    if (!row.three) {
      json[key] = write_slot(row.at(const_cast<V&>(verb), 0), facts_of(row), scene);
      continue;
    }
    Json list = Json::array();
    for (std::size_t i = 0; i < 3; ++i)
      list.push_back(write_slot(row.at(const_cast<V&>(verb), i), facts_of(row), scene));
    json[key] = std::move(list);
  }
  return json;
}

// --- corrections

namespace detail {

// What every change ends with: what it excludes gives way; where the blank still means nothing, the change is none.
template <class V>
std::optional<V> after_giving(V verb, const Row<V>& row, std::size_t index) {
  if (row.given) row.given(verb, index);
  if (row.barred && !row.barred(verb).empty()) return std::nullopt;
  return verb;
}

}  // namespace detail

/// The verb with what put(slot) puts into the blank; nullopt when that is refused.
template <class V, class Put>
std::optional<V> with_put(const V& verb, BlankId blank, Put&& put) {
  V changed = verb;
  if (!put(slot_at(changed, blank))) return std::nullopt;
  return detail::after_giving(std::move(changed), *row_of<V>(blank), blank.index);
}

template <class V>
std::optional<V> with_place_in(const V& verb, BlankId blank, const TackAddress& place) {
  const Row<V>* row = row_of<V>(blank);
  if (!row) return std::nullopt;
  V changed = verb;
  // One more than there are: another pair.
  if (row->resize && blank.index == count_in(*row, changed)) row->resize(changed, blank.index + 1u);
  if (row->place)
    row->place(changed, blank.index, place);
  else if (!put_place(slot_at(changed, blank), place))
    return std::nullopt;
  return detail::after_giving(std::move(changed), *row, blank.index);
}

template <class V>
std::optional<V> with_part_in(const V& verb, BlankId blank, PartId part) {
  const Row<V>* row = row_of<V>(blank);
  if (!row) return std::nullopt;
  V changed = verb;
  if (row->part)
    row->part(changed, blank.index, part);
  else if (!put_part(slot_at(changed, blank), part))
    return std::nullopt;
  return detail::after_giving(std::move(changed), *row, blank.index);
}

/// The list that a blank opens; empty for what is typed or clicked, and for what means nothing now.
template <class V>
std::vector<Option> options_of(const V& verb, BlankId blank, const Scene& scene, const ChoiceContext& context) {
  const Row<V>* row = row_of<V>(blank);
  if (!row) return {};
  if (row->options) return row->options(verb, scene, blank.index);
  return options_in(slot_at(verb, blank), facts_of(*row), scene, context);
}

/// The verb with an entry of that list. nullopt when there is none such, and for one that changes nothing, such as one
/// that only asks for a click.
template <class V>
std::optional<V> with_option(const V& verb, BlankId blank, std::size_t option, const Scene& scene,
                             const ChoiceContext& context) {
  const Row<V>* row = row_of<V>(blank);
  if (!row || option >= options_of(verb, blank, scene, context).size()) return std::nullopt;
  V changed = verb;
  if (row->choose)
    row->choose(changed, blank.index, option, context);
  else if (!choose_in(slot_at(changed, blank), facts_of(*row), option, scene, context))
    return std::nullopt;
  return detail::after_giving(std::move(changed), *row, blank.index);
}

/// What `it` means in a value blank: the value now, or 0 in a blank for a change.
template <class V>
double it_in(const V& verb, BlankId blank, const Scene& scene) {
  const Row<V>* row = row_of<V>(blank);
  return row && row->now ? row->now(verb, scene, blank.index).value_or(0) : 0;
}

// --- the documentation

/// The key table of the verb, as docs/steps.md has it.
template <class V>
std::string key_table(const Table<V>& table) {
  std::string text = "| key | value | what it says |\n| --- | --- | --- |\n";
  V sample;
  for (const Row<V>& row : table.rows) {
    if (row.key.front() == '.') continue;
    if (row.resize) row.resize(sample, 1);
    const std::string value =
        row.value.empty() ? value_words(row.at(sample, 0), facts_of(row), row.three) : std::string(row.value);
    const std::string key = row.in.empty() ? std::string(row.key) : fmt::format("{}: {}", row.in, row.key);
    text += fmt::format("| `{}`{} | {} | {} |\n", key, row.needed ? " (needed)" : "", value, row.doc);
  }
  return text;
}

}  // namespace tack
