// Meet: bring From to To.
#pragma once

#include "core/verbs/common.h"

namespace tack {

enum class Facing {
  AsIs,    ///< as it stands: nothing is turned
  Facing,  ///< From's direction is turned onto the opposite of To's
  Same,    ///< From's direction is turned onto To's
};

/// The blanks of Meet. What moves goes as one rigid body, so that From lands on To + gap × To's direction.
struct Meet {
  std::vector<PartId> what;         ///< empty: the part that From is on
  std::optional<TackAddress> from;  ///< on what moves
  std::optional<TackAddress> to;    ///< on what stays
  std::optional<Facing> facing;     ///< not said: default_facing
  Amount gap;                       ///< mm along To's direction
  Amount roll;                      ///< degrees, right-handed about To's direction, on top of the smallest turn

  friend bool operator==(const Meet&, const Meet&) = default;
};

/// What happens when facing is not said: box face centres are brought facing each other, everything else as it stands
/// (turning a part by the diagonal of its box, or upside down by its pivot, is never what is meant).
Facing default_facing(const TackAddress& from, const TackAddress& to);

/// The parts that will move: `what` when From is on one of them (or below one), else From's part.
std::vector<PartId> moves(const Meet& meet, const Scene& scene);

/// Ends with |target − From| <= 1e-9 × (extent of both parts + their distance from the origin), measured from the
/// stored numbers, through ten nested parents with factors from 0.2 to 5. The turn of Facing is the smallest one about
/// From; for opposite directions its axis is From's roll, else the world axis least along the direction. Fails when a
/// blank is missing, To is on what moves, a gap or facing is asked of a tack without direction, or a part is locked.
Result<Scene> apply(const Meet& meet, const Scene& scene);
Sentence sentence(const Meet& meet, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres);
Json to_json(const Meet& meet, const Scene& scene);
Result<Meet> meet_from_json(const Json& json, const Scene& scene);
inline std::string_view key_of(const Meet&) { return "meet"; }

/// The words of the sentence: "as it stands", "facing it", "facing the same way".
std::string_view words_for(Facing facing);

/// The smallest rotation that takes the unit vector `a` onto the unit vector `b`; for opposite ones a half turn about
/// `half_turn_axis` made square to `a`, else about the world axis least along `a`.
Mat3 smallest_turn(const Vec3& a, const Vec3& b, const std::optional<Vec3>& half_turn_axis);

}  // namespace tack
