// How ties hold: what they leave now, measured from the stored numbers, and what a ring of them leaves where it closes.
#pragma once

#include <map>
#include <set>

#include "core/catch/tack.h"
#include "core/entry/units.h"

namespace tack {

struct TieState {
  enum class Kind {
    Exact,      ///< within 1e-9 × (extent of the two parts + their distance from the origin), and 1e-9 rad
    Touching,   ///< within the tolerance of touching; the angle, seen at the far end of what From is on, too
    Apart,      ///< it has drifted, or was never reached
    Suspended,  ///< not watched for now; gap and angle are measured all the same
    Lost,       ///< a place it holds on is not there any more
    Waiting,    ///< not measured yet: see state_when_ready()
  };
  Kind kind = Kind::Waiting;
  std::size_t pair = 0;         ///< the worst one, from 0: what follows is about it
  Vec3 from;                    ///< where From is (world, mm)
  Vec3 target;                  ///< where it should be: To, of the first pair with the gap along To's direction
  Vec3 off;                     ///< target − from, of a limited tie only along the axes it is watched along
  double gap = 0;               ///< the length of `off`, mm
  Vec3 beyond;                  ///< of a limited tie: what remains along the other axes, along those axes (mm)
  std::optional<double> angle;  ///< degrees by which From is turned away from what was asked; nullopt: nothing was
  Problem problem;              ///< Lost: why
};

/// Measures a tie. `touch` is the tolerance of touching (mm). The angle is that between From's direction and the one it
/// should have and, where roll was to lie on roll, that of the rolls, whichever is larger; it is watched for a single
/// pair that faces. Errors of `gap` are a few units in the last place of the coordinates for each level of nesting.
TieState state_of(const Tie& tie, const Scene& scene, double touch = kTouch);

/// The same, but Waiting while what it needs of its meshes (features, index, centre of mass) is still to be worked out:
/// measured now it would take a second for a million triangles.
TieState state_when_ready(const Tie& tie, const Scene& scene, double touch = kTouch);

/// How large a picture of the two places of a pair has to be (mm): the extent of the smaller of the two parts; of the
/// one there is where the other place is no part's; 10 for none.
double surroundings_of(const Scene& scene, const TackPair& pair);

/// Whether it holds: exact or touching. A suspended or lost tie does not.
inline bool holds(const TieState& state) {
  return state.kind == TieState::Kind::Exact || state.kind == TieState::Kind::Touching;
}

/// Whether nothing that the tie is measured from differs between two scenes (the parts it names and all above them are
/// shared): then its state is the same. False when in doubt.
bool unchanged(const Tie& tie, const Scene& before, const Scene& after);

/// "exact", "within 0.01 mm", "apart by 0.4 mm", "0.3° off", "apart by 0.4 mm, 0.3° off", "suspended", "lost", "being
/// measured"; of a limited tie that leaves something along the axes it does not watch, with that: "exact · 12.4 mm
/// apart along y".
std::string state_words(const TieState& state, const LengthUnit& unit, double touch = kTouch);
/// Of a tie, what it watches first: "holds along z", "0.4 mm apart along z"; of one that watches all, as state_words().
std::string watched_words(const Tie& tie, const TieState& state, const LengthUnit& unit, double touch = kTouch);
/// And what it does not: "560 mm apart along x, 3 mm along y". Empty where nothing remains there.
std::string unwatched_words(const TieState& state, const LengthUnit& unit, double touch = kTouch);
/// In few words along which axes a tie is not watched: "free along x, y". Empty for one that watches all, and where
/// nothing remains along the others.
std::string free_words(const Tie& tie, const TieState& state, double touch = kTouch);
/// Both: "holds along z; not watched: 560 mm apart along x".
std::string tie_words(const Tie& tie, const TieState& state, const LengthUnit& unit, double touch = kTouch);
/// The key of reports: "exact", "touching", "apart", "suspended", "lost", "waiting".
std::string_view key_for(TieState::Kind kind);

/// A name that no tie of the scene has yet: "Channel 3 to Channel 2", then with 2, 3 … behind it.
std::string free_tie_name(const Scene& scene, const std::vector<TackPair>& pairs);

/// One part of a ring of ties, and how far it would be shifted.
struct RingShift {
  PartId part = kNoPart;  ///< kNoPart: the ground, or a point of space
  Vec3 shift;             ///< world, mm
  bool stays = false;     ///< locked, the ground, or the one that is held so that the ring does not float
};

/// What remains where a ring of ties closes, and how it would be shared.
struct ClosingError {
  std::vector<std::string> ties;  ///< once round, the closing one last
  std::vector<RingShift> parts;   ///< the parts between them, beginning with To of the closing tie
  /// What all gaps of the ring add up to (world, mm), as the shift of what From of the closing tie is on; shifting
  /// parts cannot change it.
  Vec3 error;
  double worst = 0;             ///< mm: the largest gap when it is shared
  std::optional<double> angle;  ///< degrees that remain at the closing tie; shifting does not change them
};

/// The ties of a scene as links between parts. What was brought as a whole is one part of a ring, whatever of it a tie
/// holds on. Looks at the scene as long as it lives.
class TieRings {
 public:
  /// `states` are those of the scene's ties, in their order. O(ties · log ties).
  TieRings(const Scene& scene, const std::vector<TieState>& states);

  /// The shortest ring that the tie closes, by ties that are neither suspended nor lost nor waiting. Shared evenly:
  /// every tie between two parts that stay takes the same share of the gaps between those two, so that the sum of their
  /// squares is least. Fails when the tie is not there or not measured, when it closes no ring, or when none of its
  /// parts may move. Breadth first: O(ties) for the longest ring.
  Result<ClosingError> closing_error(std::string_view tie) const;

 private:
  struct Link {
    const Tie* tie;
    PartId a, b;  // From's part and To's
    Vec3 off;     // what From's part would have to be shifted by
  };
  PartId body_of(PartId part) const;

  const Scene& scene_;
  const std::vector<TieState>& states_;
  std::set<PartId> wholes_;  // brought as a whole
  std::vector<Link> links_;
  std::map<PartId, std::vector<std::size_t>> links_at_;  // by part, in the order of the ties
};

/// The same for one tie, with all of them measured for it.
Result<ClosingError> closing_error(const Scene& scene, std::string_view tie);

}  // namespace tack
