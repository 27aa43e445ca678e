// How near something came to where it should be, and the words for it: one wording for meetings, ties and measures.
#pragma once

#include "core/catch/tack.h"
#include "core/entry/units.h"

namespace tack {

struct Closeness {
  enum class Kind {
    Exact,   ///< within 1e-9 × (extent of the two parts + their distance from the origin), and 1e-9 rad
    Within,  ///< within the tolerance of touching
    Apart,
  };
  Kind kind = Kind::Exact;
  double gap = 0;               ///< mm
  std::optional<double> angle;  ///< degrees turned away from what was asked; nullopt: nothing was
  double touch = kTouch;        ///< the tolerance of touching, mm
};

/// A turn of less than this (radians) counts as none.
inline constexpr double kExactTurn = 1e-9;

/// That of a gap alone. `exact` is the largest gap that is still exact, exact_bound().
Closeness closeness_of(double gap, double exact, double touch = kTouch);

/// "exact", "within 0.01 mm", "apart by 0.4 mm", "0.3° off", "apart by 0.4 mm, 0.3° off".
std::string closeness_words(const Closeness& closeness, const LengthUnit& unit);

}  // namespace tack
