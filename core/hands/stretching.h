// Stretch on the stage: the two planes of its band, the far end that is dragged to a length, and the line of that
// length.
#pragma once

#include "core/hands/increments.h"
#include "core/verbs/stretch.h"
#include "core/view/dimensions.h"

namespace tack {

/// For each direction the planes of the band (Kind::Corner with the outline as its line, `box` twice the direction's
/// number, and one more for the far plane), the two ends of the length's line (Kind::End, `fraction` 0 or 1 along it,
/// `box` the direction's number) and its value (Kind::Value). Empty where nothing can be stretched.
std::vector<Handle> stretch_handles(const Stretch& stretch, const Scene& scene, const View& view);
/// What dragging one means: the length, with the other end held; or where the plane stands. nullopt for what is not
/// dragged, and seen end on.
std::optional<Stretch> stretched_by_hand(const Stretch& draft, const Scene& scene, const Pull& pull,
                                         const Increments& increments, bool steps);
/// The same with the handle level with a place.
std::optional<Stretch> stretched_level(const Stretch& draft, const Scene& scene, const Handle& handle, const Vec3& to);
/// Where the value of such a line is typed.
BlankId stretch_value_blank(const Stretch& stretch, const Handle& value);
/// The line of the length, as the verb will have it; `scene` is the one before.
std::vector<DimensionLine> stretch_lines(const Stretch& stretch, const Scene& scene, const View& view,
                                         const LengthUnit& unit);
/// The planes, where they will be, as hairlines round what is stretched, and between them a spring of hatching.
Gauges stretch_gauges(const Stretch& stretch, const Scene& scene);

}  // namespace tack
