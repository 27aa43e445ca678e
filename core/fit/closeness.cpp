#include "core/fit/closeness.h"

namespace tack {

Closeness closeness_of(double gap, double exact, double touch) {
  using Kind = Closeness::Kind;
  return {gap <= exact ? Kind::Exact : gap <= touch ? Kind::Within : Kind::Apart, gap, std::nullopt, touch};
}

std::string closeness_words(const Closeness& c, const LengthUnit& unit) {
  if (c.kind == Closeness::Kind::Exact) return "exact";
  if (c.kind == Closeness::Kind::Within) return "within " + show_length(c.touch, unit, 3).text;
  std::string words;
  if (c.gap > c.touch) words = "apart by " + show_length(c.gap, unit, 3).text;
  const bool turned = c.angle && *c.angle * 0.017453292519943295 > kExactTurn;
  if (turned && (words.empty() || *c.angle >= 0.0005))
    words += (words.empty() ? "" : ", ") + show_angle(*c.angle, 3).text + " off";
  return words.empty() ? "apart by " + show_length(c.gap, unit, 6).text : words;
}

}  // namespace tack
