// What floats above what is below it, and what has sunk in.
#pragma once

#include <atomic>

#include "core/entry/units.h"
#include "core/fit/fall.h"

namespace tack {

/// A part that does not lie on what is below it.
struct Unsupported {
  PartId part = kNoPart;
  double way = 0;       ///< mm it would fall; negative: it would rise by so much, it has sunk in
  PartId on = kNoPart;  ///< onto what; kNoPart: the ground
};

/// The shown parts with a surface that would fall or rise by more than `touch` (mm) if they were dropped, each by
/// itself with everything else where it is (core/fit/fall.h); those that would go furthest first. What is `among` only;
/// all when it is empty. Stops, with what it has found by then, once `stop` is set. About O(parts × parts that lie over
/// each other).
std::vector<Unsupported> unsupported(const Scene& scene, const std::vector<PartId>& among, double touch,
                                     const std::atomic<bool>* stop = nullptr);

/// "floats 0.6 mm above Base board", "has sunk 0.2 mm into the ground".
std::string unsupported_words(const Scene& scene, const Unsupported& one, const LengthUnit& unit);

}  // namespace tack
