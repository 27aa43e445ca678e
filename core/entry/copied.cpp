#include "core/entry/copied.h"

#include <fmt/format.h>

namespace tack {

std::string copied_text(const std::array<double, 3>& values, EntryKind kind, const LengthUnit& unit) {
  std::string text;
  for (const double value : values) {
    if (!text.empty()) text += '\t';
    const double in_unit = kind == EntryKind::Length ? value / unit.millimetres : value;
    // Whether it comes back is for the reader to say: it works units out in fractions.
    const bool exact = kind != EntryKind::Length || parse_entry(full_digits(in_unit), {kind, unit, {}, {}}) == value;
    text += exact ? full_digits(in_unit) : full_digits(value) + " mm";
  }
  return text;
}

tl::expected<std::array<std::optional<double>, 3>, std::string> pasted_numbers(std::string_view text,
                                                                               const EntryContext& context) {
  while (!text.empty() && (text.back() == '\n' || text.back() == '\r')) text.remove_suffix(1);
  std::vector<std::string> entries{""};
  for (const char c : text) {
    if (c == '\r') continue;
    if (c == '\t' || c == ';' || c == '\n')
      entries.emplace_back();
    else
      entries.back() += c;
  }
  if (entries.size() != 3)
    return tl::unexpected(fmt::format("The clipboard holds {} values; three are wanted, with tabs between them.",
                                      text.empty() ? 0 : entries.size()));
  std::array<std::optional<double>, 3> values;
  for (std::size_t i = 0; i < 3; ++i) {
    if (entries[i].find_first_not_of(' ') == std::string::npos) continue;
    const auto value = parse_entry(entries[i], context);
    if (!value)
      return tl::unexpected(fmt::format("The clipboard's value {} cannot be read: {}", i + 1, value.error().why));
    values[i] = *value;
  }
  return values;
}

}  // namespace tack
