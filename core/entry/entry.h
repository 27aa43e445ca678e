// Typed values: what an artist may write into any number field, and what it means.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <tl/expected.hpp>

#include "core/entry/units.h"

namespace tack {

enum class EntryKind {
  Length,  ///< millimetres come out; a plain number is in EntryContext::unit
  Angle,   ///< degrees come out and are what a plain number means
  Factor,  ///< a plain number; `%` divides by 100
};

/// What an entry may refer to.
struct EntryContext {
  EntryKind kind = EntryKind::Length;
  LengthUnit unit{"mm", 1};
  /// What `it` means: the value now, in mm or degrees; nullopt where there is no such value.
  std::optional<double> it;
  /// Reads `width`, `depth`, `height`, `x`, `y` or `z` of a part, in mm; nullopt when there is no such part or number.
  std::function<std::optional<double>(std::string_view what, std::string_view part)> read;
};

/// Where an entry is bad (in bytes of the text) and why, as a sentence.
struct EntryError {
  std::size_t at = 0, length = 0;
  std::string why;
};

/// The value of an entry. Lengths: `12`, `12.5 mm`, `3/8 in`, `2 ft 6 1/2 in`, `2' 6 1/2"`; angles: `90`, `45 deg`,
/// `1/4 turn`, `0.5 rad`; sums with + - * / ( ), sqrt, sin, cos, tan (of degrees), pi, `it`, and `height of "Post 4"`.
/// A leading = is passed over. A plain number added to a length is taken in the context's unit. As
/// long as numbers and units are fractions of whole numbers below 2^120 (an inch is 127/5 mm, 0.1 is 1/10), all is
/// worked out exactly and the result is the double nearest to it: 3/8 in is 9.525 and 0.1 + 0.2 is 0.3. From a root, a
/// sine, pi, `it` or another part's number on, one operation is one rounding. Refuses, saying where: empty text,
/// decimal commas, units of another kind, division by zero, products that are not of the kind asked for, results that
/// are not finite.
tl::expected<double, EntryError> parse_entry(std::string_view text, const EntryContext& context);

}  // namespace tack
