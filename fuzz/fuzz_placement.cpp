// Placements as text, as they come from a spreadsheet: three entries of a kind, in a unit, with `it` and without.
#include <cmath>
#include <cstdlib>

#include "core/entry/copied.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size < 2) return 0;
  const auto kind = static_cast<tack::EntryKind>(data[0] % 3);
  const tack::LengthUnit& unit = tack::kLengthUnits[data[0] / 3 % std::size(tack::kLengthUnits)];
  tack::EntryContext context{kind, unit, std::nullopt, {}};
  if (data[0] & 0x80) context.it = 12.5;
  context.read = [](std::string_view what, std::string_view) {
    return what == "width" ? std::optional(40.0) : std::nullopt;
  };
  const auto values =
      tack::pasted_numbers(std::string_view(reinterpret_cast<const char*>(data) + 1, size - 1), context);
  if (!values) return values.error().empty() ? (std::abort(), 0) : 0;
  std::array<double, 3> numbers{};
  for (std::size_t i = 0; i < 3; ++i) numbers[i] = (*values)[i].value_or(0);
  for (const double number : numbers)
    if (!std::isfinite(number)) std::abort();
  // Copied, they come back to the last bit.
  const auto back = tack::pasted_numbers(tack::copied_text(numbers, kind, unit), context);
  if (!back) std::abort();
  for (std::size_t i = 0; i < 3; ++i)
    if (!(*back)[i] || *(*back)[i] != numbers[i]) std::abort();
  return 0;
}
