// How Meet moves what it brings: the one motion that several pairs of places call for, and what it leaves.
#pragma once

#include "core/fit/closeness.h"
#include "core/verbs/meet.h"

namespace tack {

/// How many pairs of places a sentence has blanks for; those of a longer meeting are only counted.
inline constexpr std::size_t kMostPairs = 6;

/// p goes to turn · (p − from) · factor + to, in the world (mm).
struct MeetMotion {
  Mat3 turn;
  double factor = 1;
  Vec3 from, to;
  /// What the pairs do not determine, as a sentence; empty when they determine everything.
  std::string undetermined;
};

/// The motion of Meet in the scene as it is. One pair: translation by To − From, then the gap along To's direction,
/// both only along the axes that are allowed; the turn that facing and roll ask for goes about From. Two pairs: the
/// first exact, the second exact in direction (and in distance where the size may change); the roll left over brings
/// the first pair's directions as near as they can come to facing, or is the smallest. Three or more: the third takes
/// the roll, the rest are only measured; or all share the error by least squares (fit_rigid). Fails where a blank is
/// missing or two places of a pair that must give a direction coincide.
Result<MeetMotion> motion_of(const Meet& meet, const Scene& scene);

/// What is left of a pair, measured from the stored numbers.
struct Remaining {
  std::size_t pair = 0;  ///< its number, from 0
  Vec3 off;              ///< from where From is to where it should be (world, mm)
  double gap = 0;        ///< the length of `off`
  double bound = 0;  ///< mm: what still counts as exact, 1e-9 × (extent of the two parts + distance from the origin)
  bool exact() const { return gap <= bound; }
};

/// For each pair of a Meet that has been done what remains in `after`. Should be: To, for the first pair with the gap
/// along To's direction. Pairs whose parts are gone are left out.
std::vector<Remaining> remaining_of(const Meet& meet, const Scene& after);

/// Whether a meeting may leave something, which is then said.
bool may_remain(const Meet& meet);
/// Whether every pair ends exactly, or with a gap of at most `touch` (mm; 0: exactly).
bool meets_within(const Meet& meet, const Scene& after, double touch);

/// In words: "exact", "within 0.01 mm", "apart by 0.4 mm", or for one pair limited to axes "meets in x, y · 12.4 mm
/// apart along z"; of several pairs the worst is named: "pair 2 apart by 0.4 mm". `touch` is the tolerance of touching
/// (mm).
std::string remaining_words(const Meet& meet, const Scene& after, const LengthUnit& unit, double touch = kTouch);
/// The same as a sentence of its own: "It is exact.", "Pair 2 is apart by 0.4 mm.", "It meets in x, y · 12.4 mm apart
/// along z."
std::string remaining_sentence(const Meet& meet, const Scene& after, const LengthUnit& unit, double touch = kTouch);

/// The same of a meeting that has come less far than was asked; empty when every pair is exact.
std::string shortfall_sentence(const Meet& meet, const Scene& after, const LengthUnit& unit);

/// What is left between two places that a verb brings together as far as it may, as such a sentence; empty when they
/// meet exactly.
std::string left_between(const std::optional<TackAddress>& from, const std::optional<TackAddress>& to,
                         const Scene& after, const LengthUnit& unit);

}  // namespace tack
