// Turning a part without losing digits.
#pragma once

#include "core/scene/scene.h"

namespace tack {

/// A rotation in the world: `rotation` is proper; `degrees` is the angle it was made from, right-handed, so that it can
/// be added to typed angles as it was typed.
struct Turn {
  Mat3 rotation;
  double degrees = 0;
};

/// A placement, and the quarter turns counted beside its angles.
struct TurnedPlacement {
  Placement placement;
  QuarterTurnsPtr quarters;
};

/// `part`'s placement after the turn about its own pivot; position and pivot are not touched. Scale and skew stay to
/// the bit unless an unevenly scaled parent makes the turn distort. In order of preference: typed angles are added in
/// decimal where the turn is about the parent's axis that is applied last, or the part's own axis that is applied first
/// – 24.1 three times is 72.3; quarter turns are counted beside the angles they started from, so that four of them give
/// the same bits back; else angles are found from the matrix and given the fewest decimals that hold it within 4e-14°
/// over the cosine of the y angle. Fails when the parent is flattened.
Result<TurnedPlacement> turned(const Scene& scene, PartId part, const Turn& turn);

/// `degrees` with the fewest decimals within `slack` of it.
double fewest_decimals(double degrees, double slack);

}  // namespace tack
