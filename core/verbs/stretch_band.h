// Where a stretch makes things longer, by how much, and where they are then.
#pragma once

#include "core/verbs/stretch.h"

namespace tack {

/// Whether a way says its length by the two places between which it fills the room.
inline bool fills(const StretchWay& way) { return way.start && way.end; }

/// Whether what is stretched is one part without a thickness along the direction of the band.
bool is_flat(const Scene& scene, const std::vector<PartId>& tops, const BandInPlace& band);

/// The band of a way as it will be used. A plane that is not typed is that of the band that the part keeps, or of the
/// one that is found (see apply()). Of something flat it has no width. Fails where there is none, saying what is
/// missing.
Result<BandInPlace> band_of(const Stretch& stretch, const Scene& scene, std::size_t way);
/// By how much longer it becomes, mm; 0 while nothing says it.
Result<double> growth_of(const Stretch& stretch, const Scene& scene, std::size_t way, const BandInPlace& band);
/// How far its low side is shifted along the direction (mm) when it is `by` longer: into the room that it fills, or so
/// that what is held stays.
Result<double> offset_of(const Stretch& stretch, const Scene& scene, std::size_t way, const BandInPlace& band,
                         double by);

}  // namespace tack
