#include "core/fit/closeness.h"

#include <algorithm>

namespace tack {

Closeness closeness_of(double gap, double exact, double touch) {
  using Kind = Closeness::Kind;
  return {gap <= exact ? Kind::Exact : gap <= touch ? Kind::Within : Kind::Apart, gap, std::nullopt, touch};
}

namespace {

// What was measured is never shown as nothing: with more decimals than are liked where it would read 0.
std::string shown_length(double length, const LengthUnit& unit) {
  const LengthUnit full{unit.name, unit.millimetres};
  for (int decimals = std::min(3, unit.decimals);; ++decimals) {
    std::string text = show_length(length, full, decimals).text;
    if (decimals >= 12 || length == 0 || text != show_length(0, full, decimals).text) return text;
  }
}

}  // namespace

std::string closeness_words(const Closeness& c, const LengthUnit& unit) {
  if (c.kind == Closeness::Kind::Exact) return "exact";
  if (c.kind == Closeness::Kind::Within)
    return "within " + show_length(c.touch, LengthUnit{unit.name, unit.millimetres}, 9).text;
  std::string words;
  if (c.gap > c.touch) words = "apart by " + shown_length(c.gap, unit);
  const bool turned = c.angle && *c.angle * 0.017453292519943295 > kExactTurn;
  if (turned && (words.empty() || *c.angle >= 0.0005))
    words += (words.empty() ? "" : ", ") + show_angle(*c.angle, 3).text + " off";
  return words.empty() ? "apart by " + shown_length(c.gap, unit) : words;
}

}  // namespace tack
