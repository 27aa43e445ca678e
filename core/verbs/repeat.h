// Repeat: more of the same, in a row, round an axis, in a grid, or as a mirror image.
#pragma once

#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

namespace tack {

struct Repeat {
  enum class Way {
    Row,     ///< along an axis, by a distance
    UpTo,    ///< from a place to a place: the last one is as far on as the second place
    Round,   ///< round an axis through a place
    Grid,    ///< along three axes
    Mirror,  ///< one mirror image
  };
  enum class Measured { Pivots, Boxes };  ///< from pivot to pivot, or from box to box
  static constexpr int kMost = 10'000;
  std::vector<PartId> what;
  Axes axes;
  Way way = Way::Row;
  int count = 2;  ///< with the original; Row, UpTo, Round
  int axis = 0;   ///< of Row the direction, of Round the axis, of Mirror the axis across which it is
  Amount every;   ///< Row, mm
  Measured measured = Measured::Boxes;
  std::optional<TackAddress> from, to;  ///< UpTo
  std::optional<TackAddress> about;     ///< Round: a point of the axis; Mirror: a point of the plane
  PartId plane = kNoPart;               ///< Mirror: a guide plane in place of an axis
  Amount over{360};                     ///< Round: degrees; a whole turn has as many gaps as there are parts
  bool turned = true;                   ///< Round: copies turn along
  std::array<int, 3> counts{2, 2, 1};   ///< Grid
  std::array<Amount, 3> steps;          ///< Grid, mm, measured as `measured` says
  bool instances = true;

  friend bool operator==(const Repeat&, const Repeat&) = default;
};

/// Copies stand beside what they are copies of in the tree; names count on. Shift i is i × the distance, angle i is
/// over × i / gaps, never added up: a copy stands to the last bit where Move and Rotate would have brought one by that
/// length or angle. A mirror image has one negative factor (core/verbs/mirror.h). Several parts are repeated as one
/// body. Fails when nothing is picked, for counts below 2 (a grid: 1 in all) and above kMost, for two places that
/// coincide, and an angle of 0.
Result<Scene> apply(const Repeat& repeat, const Scene& scene);
const Table<Repeat>& table_of(const Repeat*);

/// How far the second is from the first (mm, world; of a grid along each of its axes). Fails as apply() does.
Result<std::array<Vec3, 3>> steps_of(const Repeat& repeat, const Scene& scene);
/// The point and the unit direction that a round repeat turns about, or the plane that a mirror image lies across.
struct RepeatAxis {
  Vec3 at, direction;
};
Result<RepeatAxis> axis_of(const Repeat& repeat, const Scene& scene);

}  // namespace tack
