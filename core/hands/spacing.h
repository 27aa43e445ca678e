// Distribute on the stage: the gaps and the whole length of a row as dimension lines, and what dragging one means.
#pragma once

#include "core/hands/increments.h"
#include "core/hands/sweeping.h"
#include "core/verbs/distribute.h"
#include "core/view/dimensions.h"

namespace tack {

/// The most gaps that have a line each; of more parts only the whole length has one.
inline constexpr std::size_t kMostGapLines = 40;

/// The lines as the row will stand: a gap each, then, further out, the whole. Empty where it is not along an axis, and
/// where it cannot be done.
std::vector<DimensionLine> spacing_lines(const Distribute& distribute, const Scene& scene, const View& view,
                                         const LengthUnit& unit);
/// What can be taken hold of: the value of every gap (Kind::Value, `box` its number), both ends and the value of the
/// whole (`box` −1). Round an axis the arc at the last part (Kind::Arc).
std::vector<Handle> spacing_handles(const Distribute& distribute, const Scene& scene, const View& view);
/// The arc over parts round an axis, from the first of them to the last; nullopt for any other way, and where it
/// cannot be done.
std::optional<Sweep> sweep_of(const Distribute& distribute, const Scene& scene);
/// The ruler between two places with a tick for each pivot, the arc round an axis with its angle; nothing along an
/// axis, where the lines say it.
Gauges spacing_gauges(const Distribute& distribute, const Scene& scene, const LengthUnit& unit);
/// The blank that such a value is typed into: the gap, that of one alone where each has its own, the whole length.
BlankId value_blank_of(const Distribute& distribute, const Handle& value);
/// The verb that a drag of such a handle means. A gap's value changes all gaps, so that it stays under the pointer;
/// with `alone` that gap by itself, and what lies beyond moves along. An end changes the whole length, and the other
/// holds. The arc changes the angle: the last part goes with the pointer.
std::optional<Distribute> spaced_by_hand(const Distribute& draft, const Scene& scene, const Pull& pull, bool alone,
                                         const Increments& increments, bool steps);

}  // namespace tack
