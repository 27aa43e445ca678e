// Meet: bring From to To.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

namespace tack {

/// Two places that come together.
struct MeetPair {
  std::optional<TackAddress> from;  ///< on what moves
  std::optional<TackAddress> to;    ///< on what stays

  friend bool operator==(const MeetPair&, const MeetPair&) = default;
};

/// The blanks of Meet. What moves goes as one body, so that From lands on To + gap × To's direction; further pairs say
/// how it is turned, and how big it is where its size may change.
struct Meet {
  std::vector<PartId> what;         ///< empty: the part that From is on
  std::optional<TackAddress> from;  ///< on what moves
  std::optional<TackAddress> to;    ///< on what stays
  std::optional<Facing> facing;     ///< not said: default_facing
  Amount gap;                       ///< mm along To's direction
  Amount roll;                      ///< degrees, right-handed about To's direction, on top of the smallest turn
  bool matched = false;             ///< the roll counts from where From's roll lies on To's, not from the smallest turn
  std::vector<MeetPair> more;       ///< the second pair, the third, …
  bool shared = false;              ///< several pairs share the error, instead of the first being exact
  bool sized = false;               ///< several pairs, or a place that stays: the size may change, evenly
  AxisSet along = kAllAxes;         ///< one pair: it is moved along these of the axes only
  Axes axes;
  bool leave_copy = false;  ///< an instance stays where what moves was
  bool tied = false;        ///< what is tied to it comes along, as one body (core/verbs/tied.h)
  /// One pair: this place stays where it is, and what moves turns about it until From looks towards To (and reaches it
  /// where the size may change).
  std::optional<TackAddress> hold;
  bool tie = false;      ///< it is remembered
  std::string tie_name;  ///< as what; empty: a name of its own
  /// So many instances follow, each with its own From on To of the one before it: the feature of To, on the part that
  /// moved.
  int chain = 0;

  friend bool operator==(const Meet&, const Meet&) = default;
};

/// The first pair, then the others.
std::vector<MeetPair> pairs_of(const Meet& meet);

/// What happens when facing is not said: faces, centres of faces (of boxes too) and of round edges, axes, and kept
/// tacks that have a direction are brought facing each other, everything else as it stands (turning a part by the
/// diagonal of its box, or upside down by its pivot, is never what is meant).
Facing default_facing(const Scene& scene, const TackAddress& from, const TackAddress& to);

/// The most copies that a chain may have.
inline constexpr int kMostInChain = 1000;
/// Whether the meeting can go on in a chain: one part moves, From is on it, and it has the feature that To is.
bool can_chain(const Meet& meet, const Scene& scene);

/// The parts that will move: `what` when From is on one of them (or below one), else From's part.
std::vector<PartId> moves(const Meet& meet, const Scene& scene);

/// Does what motion_of() says. Of one pair, and of several with the first exact, it ends with |target − From| <= 1e-9 ×
/// (extent of both parts + their distance from the origin) for the first, measured from the stored numbers, through ten
/// nested parents with factors from 0.2 to 5. The turn of Facing is the smallest one about From; for opposite
/// directions its axis is From's roll, else the world axis least along the direction. Fails when a blank is missing, To
/// is on what moves, a From is not, a gap or facing is asked of a tack without direction, or a part is locked.
Result<Scene> apply(const Meet& meet, const Scene& scene);
const Table<Meet>& table_of(const Meet*);

/// What moves, by the middle of the bottom of its own box; nullopt when nothing does.
std::optional<TackAddress> base_of(const Meet& meet, const Scene& scene);
/// The meeting with that as its From, facing To where To has a direction.
Meet stood_on_base(Meet meet, const Scene& scene);
/// After a meeting that left a copy: the same part again, waiting for its next To.
Meet next_in_row(const Meet& done);

/// The turn about the unit vector `axis` that brings the part of `a` across it onto that of `b`; none when either has
/// no such part.
Mat3 smallest_roll(const Vec3& axis, const Vec3& a, const Vec3& b);

}  // namespace tack
