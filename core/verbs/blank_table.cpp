#include "core/verbs/blank_table.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

namespace tack {
namespace {

// For reading a value: rows of axes and of what the verb is about stand before those that need them.
RowFacts facts_for_reading(const AnyRow& row, VerbRef verb) {
  RowFacts facts = row.facts();
  if (verb.table->axes) facts.axes = *verb.table->axes(verb.verb);
  if (verb.table->what)
    if (const auto& what = *verb.table->what(verb.verb); !what.empty()) facts.part = what.front();
  return facts;
}

std::string_view barred(const AnyRow& row, VerbRef verb) {
  return row.barred ? row.barred(row.of, verb.verb) : std::string_view();
}

bool is_in_files(const AnyRow& row) { return row.key.front() != '.'; }

// The objects of a list, each with a member for every row that stands in it.
Result<void> read_list(VerbRef verb, const AnyRow& first, const Json& json, const Scene& scene) {
  std::vector<std::string_view> keys;
  for (const AnyRow& row : verb.table->rows)
    if (row.in == first.in) keys.push_back(row.key);
  const std::string list(first.in);
  if (!json.is_array() || json.empty())
    return fail(fmt::format("This should be a list of objects with {}.", fmt::join(keys, " and ")), list);
  first.resize(first.of, verb.verb, json.size());
  for (std::size_t i = 0; i < json.size(); ++i) {
    if (!json[i].is_object()) return fail("This should be an object.", fmt::format("{}, {}", list, i + 1));
    if (auto ok = check_keys(json[i], keys); !ok) return ok;
    for (const AnyRow& row : verb.table->rows) {
      if (row.in != first.in) continue;
      const std::string key(row.key), where = fmt::format("{}, {}, {}", list, i + 1, key);
      if (!json[i].contains(key)) return fail(fmt::format("Number {} has no \"{}\".", i + 1, key), where);
      if (auto ok = read_slot(slot_of(row, verb, i), facts_for_reading(row, verb), json[i][key], where, scene); !ok)
        return ok;
    }
  }
  return {};
}

Result<void> read_row(VerbRef verb, const AnyRow& row, const Json& json, const Scene& scene) {
  const std::string key(row.key);
  if (row.read) return row.read(row.of, verb.verb, json, scene);
  if (!row.three) return read_slot(slot_of(row, verb, 0), facts_for_reading(row, verb), json, key, scene);
  if (json.is_null()) return {};
  if (!json.is_array() || json.size() != 3) return fail("This should be three values, like [120, null, 18].", key);
  for (std::size_t i = 0; i < 3; ++i)
    if (!json[i].is_null())
      if (auto ok = read_slot(slot_of(row, verb, i), facts_for_reading(row, verb), json[i], key, scene); !ok) return ok;
  return {};
}

bool any_given_in(const AnyRow& row, VerbRef verb) {
  for (std::size_t i = 0; i < count_in(row, verb); ++i)
    if (is_given(slot_of(row, verb, i))) return true;
  return false;
}

// Whether something stands in it that is not there when the key is left out: a first choice where another is the
// default, a 0 where that is not.
bool is_another(const AnyRow& row, VerbRef verb, const Scene& scene) {
  if (row.three || !barred(row, verb).empty()) return false;
  const std::shared_ptr<void> fresh = verb.table->fresh();
  const VerbRef plain{fresh.get(), verb.table};
  if (count_in(row, verb) != count_in(row, plain)) return false;
  for (std::size_t i = 0; i < count_in(row, verb); ++i)
    if (write_slot(slot_of(row, verb, i), row.facts(), scene) != write_slot(slot_of(row, plain, i), row.facts(), scene))
      return true;
  return false;
}

Json list_of(const AnyRow& first, VerbRef verb, const Scene& scene) {
  Json list = Json::array();
  for (std::size_t i = 0; i < count_in(first, verb); ++i) {
    Json object = Json::object();
    for (const AnyRow& member : verb.table->rows)
      if (member.in == first.in)
        if (Json value = write_slot(slot_of(member, verb, i), member.facts(), scene); !value.is_null())
          object[std::string(member.key)] = std::move(value);
    list.push_back(std::move(object));
  }
  return list;
}

// What every change ends with: what it excludes gives way; where the blank still means nothing, the change is refused.
bool after_giving(VerbRef verb, const AnyRow& row, std::size_t index) {
  if (row.given) row.given(row.of, verb.verb, index);
  return barred(row, verb).empty();
}

}  // namespace

BlankId AnyTable::blank(std::string_view row_key, std::size_t index) const {
  const auto row = std::find_if(rows.begin(), rows.end(), [&](const AnyRow& r) { return r.key == row_key; });
  return {row == rows.end() ? BlankId::kNone : static_cast<std::uint8_t>(row - rows.begin()),
          static_cast<std::uint8_t>(index)};
}

Result<void> check_blanks(VerbRef verb) {
  return verb.table->check ? verb.table->check(verb.table->of, verb.verb) : Result<void>();
}

std::size_t count_in(const AnyRow& row, VerbRef verb) {
  return row.count ? row.count(row.of, verb.verb) : row.three ? 3 : 1;
}

Slot slot_of(const AnyRow& row, VerbRef verb, std::size_t index) { return row.at(row.of, verb.verb, index); }

Slot slot_at(VerbRef verb, BlankId blank) {
  const AnyRow* row = verb.table->row(blank);
  if (!row || !row->at || blank.index >= count_in(*row, verb)) return std::monostate{};
  return slot_of(*row, verb, blank.index);
}

std::string name_of_blank(VerbRef verb, BlankId blank) {
  const AnyRow* row = verb.table->row(blank);
  if (!row) return {};
  if (row->three) return std::string(row->name) + " " + "XYZ"[blank.index % 3];
  constexpr std::string_view kOrdinals[] = {"", "Second ", "Third ", "Fourth ", "Fifth ", "Sixth "};
  if (blank.index == 0) return std::string(row->name);
  return blank.index < std::size(kOrdinals) ? std::string(kOrdinals[blank.index]) + std::string(row->name)
                                            : fmt::format("{} {}", row->name, blank.index + 1);
}

std::vector<std::string_view> keys_of(const AnyTable& table) {
  std::vector<std::string_view> keys{"verb"};
  for (const AnyRow& row : table.rows) {
    const std::string_view key = row.in.empty() ? row.key : row.in;
    if (key.front() != '.' && std::find(keys.begin(), keys.end(), key) == keys.end()) keys.push_back(key);
  }
  return keys;
}

Result<void> read_verb(VerbRef verb, const Json& json, const Scene& scene) {
  const AnyTable& table = *verb.table;
  if (auto ok = check_keys(json, keys_of(table)); !ok) return ok;
  std::vector<std::string_view> lists;
  for (const AnyRow& row : table.rows) {
    if (!is_in_files(row)) continue;
    const std::string key(row.in.empty() ? row.key : row.in);
    if (!row.in.empty() && std::find(lists.begin(), lists.end(), row.in) != lists.end()) continue;
    if (!row.in.empty()) lists.push_back(row.in);
    if (!json.contains(key)) {
      if (row.needed) return fail(fmt::format("\"{}\" needs \"{}\": {}.", table.key, key, row.doc), key);
      continue;
    }
    auto ok = row.in.empty() ? read_row(verb, row, json[key], scene) : read_list(verb, row, json[key], scene);
    if (!ok) return ok;
  }
  for (const AnyRow& row : table.rows)
    if (row.needed_if && !json.contains(std::string(row.key)) && row.needed_if(row.of, verb.verb))
      return fail(fmt::format("\"{}\" needs \"{}\": {}.", table.key, row.key, row.doc), std::string(row.key));
  for (const AnyRow& row : table.rows)
    if (row.at && is_in_files(row) && json.contains(std::string(row.key)) && any_given_in(row, verb))
      if (const std::string_view why = barred(row, verb); !why.empty())
        return fail(fmt::format("\"{}\" means nothing here: {}.", row.key, why), std::string(row.key),
                    "Leave it out, or say it otherwise.");
  // Of two keys that say different things the second would win in silence.
  for (const AnyRow& row : table.rows)
    if (const std::string key(row.key); row.read && row.write && !row.at && json.contains(key) && !json[key].is_null())
      if (row.write(row.of, verb.verb, scene).is_null())
        return fail(fmt::format("\"{}\" does not go with the other keys.", row.key), key, "Leave one of them out.");
  if (auto ok = check_blanks(verb); !ok) return ok;
  return table.check_in ? table.check_in(table.of, verb.verb, scene) : Result<void>();
}

Json write_verb(VerbRef verb, const Scene& scene) {
  const AnyTable& table = *verb.table;
  Json json{{"verb", std::string(table.key)}};
  std::vector<std::string_view> lists;
  for (const AnyRow& row : table.rows) {
    if (!is_in_files(row) || (!row.write && (!row.at || !barred(row, verb).empty()))) continue;
    if (!row.in.empty()) {
      if (std::find(lists.begin(), lists.end(), row.in) != lists.end()) continue;
      lists.push_back(row.in);
      json[std::string(row.in)] = list_of(row, verb, scene);
      continue;
    }
    const std::string key(row.key);
    if (row.write) {
      if (Json value = row.write(row.of, verb.verb, scene); !value.is_null()) json[key] = std::move(value);
      continue;
    }
    if (!row.always && !any_given_in(row, verb) && !is_another(row, verb, scene)) continue;
    if (!row.three) {
      json[key] = write_slot(slot_of(row, verb, 0), row.facts(), scene);
      continue;
    }
    Json list = Json::array();
    for (std::size_t i = 0; i < 3; ++i) list.push_back(write_slot(slot_of(row, verb, i), row.facts(), scene));
    json[key] = std::move(list);
  }
  return json;
}

std::string key_table(const AnyTable& table) {
  std::string text = "| key | value | what it says |\n| --- | --- | --- |\n";
  const std::shared_ptr<void> fresh = table.fresh();
  const VerbRef sample{fresh.get(), &table};
  for (const AnyRow& row : table.rows) {
    if (!is_in_files(row)) continue;
    if (row.resize) row.resize(row.of, sample.verb, 1);
    const std::string value =
        row.value.empty() ? value_words(slot_of(row, sample, 0), row.facts(), row.three) : std::string(row.value);
    const std::string key = row.in.empty() ? std::string(row.key) : fmt::format("{}: {}", row.in, row.key);
    text += fmt::format("| `{}`{} | {} | {} |\n", key, row.needed ? " (needed)" : "", value, row.doc);
  }
  return text;
}

bool put_in(VerbRef verb, BlankId blank, const Amount& amount) {
  return put_amount(slot_at(verb, blank), amount) && after_giving(verb, *verb.table->row(blank), blank.index);
}

bool put_in(VerbRef verb, BlankId blank, const std::string& text) {
  return put_text(slot_at(verb, blank), text) && after_giving(verb, *verb.table->row(blank), blank.index);
}

bool put_in(VerbRef verb, BlankId blank, const TackAddress& place) {
  const AnyRow* row = verb.table->row(blank);
  if (!row) return false;
  // One more than there are: another pair.
  if (row->resize && blank.index == count_in(*row, verb)) row->resize(row->of, verb.verb, blank.index + 1u);
  if (row->place)
    row->place(row->of, verb.verb, blank.index, place);
  else if (!put_place(slot_at(verb, blank), place))
    return false;
  return after_giving(verb, *row, blank.index);
}

bool put_in(VerbRef verb, BlankId blank, PartId part) {
  const AnyRow* row = verb.table->row(blank);
  if (!row) return false;
  if (row->part)
    row->part(row->of, verb.verb, blank.index, part);
  else if (!put_part(slot_at(verb, blank), part))
    return false;
  return after_giving(verb, *row, blank.index);
}

std::vector<Option> options_of(VerbRef verb, BlankId blank, const Scene& scene, const ChoiceContext& context) {
  const AnyRow* row = verb.table->row(blank);
  if (!row) return {};
  if (row->options) return row->options(row->of, verb.verb, scene, blank.index);
  return options_in(slot_at(verb, blank), row->facts(), scene, context);
}

bool choose_in(VerbRef verb, BlankId blank, std::size_t option, const Scene& scene, const ChoiceContext& context) {
  const AnyRow* row = verb.table->row(blank);
  if (!row || option >= options_of(verb, blank, scene, context).size()) return false;
  if (row->choose)
    row->choose(row->of, verb.verb, blank.index, option, context);
  else if (!choose_in(slot_at(verb, blank), row->facts(), option, scene, context))
    return false;
  return after_giving(verb, *row, blank.index);
}

double it_in(VerbRef verb, BlankId blank, const Scene& scene) {
  const AnyRow* row = verb.table->row(blank);
  return row && row->now ? row->now(row->of, verb.verb, scene, blank.index).value_or(0) : 0;
}

}  // namespace tack
