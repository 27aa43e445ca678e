// The lines that a grid and a sheet are drawn with.
#pragma once

#include <vector>

#include "draw/renderer.h"

namespace tack {

/// A piece of a line in eye coordinates (mm), as the card takes it.
struct GridLine {
  float a[3], b[3];
  float colour[4];
};
/// The lines of the frame's grid about its centre, fading out towards the rim, or as far as its sheet; and the sheet's
/// border, hatched along its edges.
std::vector<GridLine> grid_lines(const DrawFrame& frame);

}  // namespace tack
