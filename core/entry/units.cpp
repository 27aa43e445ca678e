#include "core/entry/units.h"

#include <algorithm>

#include <array>
#include <charconv>
#include <cmath>
#include <limits>

namespace tack {

std::optional<LengthUnit> length_unit(std::string_view name) {
  struct Spelling {
    std::string_view text;
    double millimetres;
  };
  static constexpr Spelling kSpellings[] = {
      {"mm", 1},       {"millimetre", 1}, {"millimetres", 1}, {"cm", 10},       {"centimetre", 10}, {"centimetres", 10},
      {"dm", 100},     {"m", 1000},       {"metre", 1000},    {"metres", 1000}, {"km", 1e6},        {"um", 1e-3},
      {"µm", 1e-3},    {"in", 25.4},      {"inch", 25.4},     {"inches", 25.4}, {"\"", 25.4},       {"ft", 304.8},
      {"foot", 304.8}, {"feet", 304.8},   {"'", 304.8},       {"yd", 914.4},
  };
  for (const Spelling& s : kSpellings)
    if (s.text == name) return LengthUnit{s.text, s.millimetres};
  return std::nullopt;
}

std::string full_digits(double value) {
  std::array<char, 64> text{};
  const auto end = std::to_chars(text.data(), text.data() + text.size(), value + 0.0).ptr;
  return {text.data(), end};
}

Shown show_number(double value, int decimals) {
  if (!std::isfinite(value)) return {"–", false};
  if (std::abs(value) >= 1e15) return {full_digits(value), true};
  std::array<char, 64> buffer{};
  const auto end =
      std::to_chars(buffer.data(), buffer.data() + buffer.size(), value, std::chars_format::fixed, decimals).ptr;
  std::string text(buffer.data(), end);
  if (text.find('.') != std::string::npos) {
    while (text.back() == '0') text.pop_back();
    if (text.back() == '.') text.pop_back();
  }
  if (text == "-0") text = "0";
  double back = 0;
  std::from_chars(text.data(), text.data() + text.size(), back);
  const double ulps = 4 * std::numeric_limits<double>::epsilon() * std::abs(value);
  return {std::move(text), std::abs(back - value) <= ulps};
}

Shown show_factor(double factor) {
  int decimals = 6;
  for (double size = std::abs(factor); size < 1e-2 && size > 0 && decimals < 24; size *= 10) ++decimals;
  return show_number(factor, decimals);
}

Shown show_length(double millimetres, const LengthUnit& unit, int decimals) {
  Shown shown = show_number(millimetres / unit.millimetres, std::min(decimals, unit.decimals));
  shown.text += ' ';
  shown.text += unit.name;
  return shown;
}

Shown show_angle(double degrees, int decimals) {
  Shown shown = show_number(degrees, decimals);
  shown.text += "°";
  return shown;
}

}  // namespace tack
