// Drop: let parts down until they touch what is below, a part, or a plane.
#pragma once

#include "core/fit/fall.h"
#include "core/verbs/blank_row.h"
#include "core/verbs/parts.h"

namespace tack {

struct Drop {
  enum class Onto {
    Below,  ///< whatever is below, as the plane in use has it; where nothing is, that plane
    Part,   ///< one part, with everything below it in the tree
    Plane,  ///< the ground, or a guide plane: along its normal
  };
  enum class As { Each, Block };
  std::vector<PartId> what;
  Onto onto = Onto::Below;
  PartId target = kNoPart;  ///< Part, Plane; kNoPart with Plane: the ground
  Amount gap;               ///< mm that are left below
  As as = As::Each;

  friend bool operator==(const Drop&, const Drop&) = default;
};

/// How far a part went, and onto what.
struct Fallen {
  PartId part = kNoPart;
  double way = 0;       ///< mm down; negative: it rose
  PartId on = kNoPart;  ///< kNoPart: the ground or the plane
};
/// What dropping means for each part, in the order in which they fall: the lowest first, each onto what fell before it,
/// too. Fails when nothing is picked, for a locked part, one without a surface, and one that is not above the part it
/// is to fall onto.
Result<std::vector<Fallen>> falls_of(const Drop& drop, const Scene& scene);

/// Parts go down along the normal of the plane (the one named, else the one in use; onto a part: straight down), until
/// their surfaces touch (core/fit/fall.h) or are a gap apart; what has sunk in by less than half its height rises. Only
/// positions change. What is hidden stops nothing. A part below another picked one goes with it.
Result<Scene> apply(const Drop& drop, const Scene& scene);
const Table<Drop>& table_of(const Drop*);

}  // namespace tack
