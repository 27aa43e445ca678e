// Ties: meetings that are remembered and watched. They do not pull; core/fit/ties.h says how they hold.
#pragma once

#include <array>
#include <vector>

#include "core/scene/axes.h"
#include "core/scene/tack_address.h"

namespace tack {

/// How what is brought turns towards what it meets.
enum class Facing {
  AsIs,    ///< as it stands: nothing is turned
  Facing,  ///< From's direction is turned onto the opposite of To's
  Same,    ///< From's direction is turned onto To's
};

inline constexpr std::array<bool, 3> kAllAxes{true, true, true};

/// Two places that belong together: on what moves, and on what stays.
struct TackPair {
  TackAddress from, to;

  friend bool operator==(const TackPair&, const TackPair&) = default;
};

/// What a meeting asked for, with nothing left to be looked up: where its pairs belong and how it is turned.
struct Tie {
  std::string name;             ///< no two ties of a scene have the same
  std::vector<PartId> what;     ///< what was brought, and moves when it is closed again
  std::vector<TackPair> pairs;  ///< at least one
  Facing facing = Facing::AsIs;
  double gap = 0;                        ///< mm along To's direction; of several pairs of the first
  double roll = 0;                       ///< degrees about To's direction; watched where `matched`
  bool matched = false;                  ///< From's roll lies on To's, but for `roll`
  bool shared = false;                   ///< the pairs share the error, instead of the first being exact
  bool sized = false;                    ///< meeting again may change the size
  std::array<bool, 3> along = kAllAxes;  ///< one pair: it is watched along these of the axes only
  Axes axes;
  bool suspended = false;  ///< not watched for now

  friend bool operator==(const Tie&, const Tie&) = default;
};

/// Calls f(PartId&) for every part that a tie names, kNoPart among them.
template <typename F>
void each_part(Tie& tie, F&& f) {
  for (PartId& part : tie.what) f(part);
  for (TackPair& pair : tie.pairs)
    for (TackAddress* a : {&pair.from, &pair.to}) f(a->part);
  f(tie.axes.part);
}

}  // namespace tack
