// Parts round an axis: what Distribute and Repeat share.
#pragma once

#include <cmath>

#include "core/verbs/blank_row.h"

namespace tack {

inline constexpr Choice kTurnedAlong[] = {{"keeping their direction", ""}, {"turning along", ""}};

/// How many gaps `count` parts have over an angle in degrees: one for each where it is a whole number of turns, which
/// brings the last next to the first, else one fewer. At least 1.
inline int gaps_round(double over, int count) {
  return std::max(1, std::fmod(std::abs(over), 360) == 0 ? count : count - 1);
}

/// The angle that parts are spread over, in degrees, signed. Fails for 0 and what is not finite.
inline Result<double> angle_over(const Amount& over, const Reading& reading) {
  auto angle = evaluate(over, EntryKind::Angle, 360, reading);
  if (angle && (!std::isfinite(*angle) || *angle == 0))
    return fail("They cannot be spaced over an angle of 0.", "over");
  return angle;
}

/// The row of that angle.
template <class V>
constexpr Row<V> over_row(std::string_view (*barred)(const V&)) {
  return {.key = "over",
          .name = "Over",
          .at = slot<&V::over>,
          .kind = EntryKind::Angle,
          .always = true,
          .barred = barred,
          .now = [](const V& v, const Scene&, std::size_t) { return std::optional(v.over.value); },
          .doc = "how far round; a whole turn has as many gaps as parts, anything less one fewer"};
}

}  // namespace tack
