// Units of length and how numbers are shown.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace tack {

/// A unit in which lengths are shown and plain numbers are read, and what else the artist has chosen about that.
struct LengthUnit {
  std::string_view name;   ///< "mm", "cm", "m", "in", "ft"
  double millimetres = 1;  ///< the size of one
  int decimals = 9;        ///< at most so many are shown
  double touch = 0.01;     ///< mm: up to there it is said to touch

  friend bool operator==(const LengthUnit&, const LengthUnit&) = default;
};

inline constexpr LengthUnit kMillimetres{"mm", 1};
/// The units that can be chosen for display.
inline constexpr LengthUnit kLengthUnits[] = {{"mm", 1}, {"cm", 10}, {"m", 1000}, {"in", 25.4}, {"ft", 304.8}};

/// The unit with that name (also "inch", "metre", … in their usual spellings), or nullopt.
std::optional<LengthUnit> length_unit(std::string_view name);

/// A number as it is shown. `exact` is false when digits are hidden: then a small "≈" belongs beside it.
struct Shown {
  std::string text;
  bool exact = true;
};

/// A plain number with as many digits as it needs, up to `decimals` after the point; an exponent only from 1e15 on,
/// never
/// "-0".
/// A value is exact when it differs from what is shown by no more than the rounding of a double (4 units in the last
/// place): 0.1 + 0.2 is shown as an exact 0.3.
Shown show_number(double value, int decimals);

/// A factor: six decimals, and of one that is near 0 as many as show four of its digits, so that it never reads 0.
Shown show_factor(double factor);

/// A length in mm, shown in `unit` with its name ("12.5 mm"); an angle in degrees ("37.5°").
Shown show_length(double millimetres, const LengthUnit& unit, int decimals);
Shown show_angle(double degrees, int decimals);

/// The shortest text that reads back as the same double.
std::string full_digits(double value);

}  // namespace tack
