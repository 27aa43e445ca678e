// How a grid is shown in a view: which of its lines, and how far.
#pragma once

#include "core/view/view.h"

namespace tack {

/// The spacing (1, 2 or 5 times a power of ten, mm) at which grid lines near `centre` stand 12 to 40 pixels apart.
double grid_spacing_for(const View& view, const Vec3& centre);

/// Lines `step` apart (mm), of which every `strong`th is a strong one.
struct GridLook {
  double step = 10;
  int strong = 10;
  double square = 10;  ///< mm: what one square is, as it is said: from strong line to strong line where squares are
                       ///< divided, else from line to line
  double node = 10;    ///< mm from node to node: what is caught, whatever is shown
};
/// Of a grid with this spacing (mm; 0: as the zoom asks for) whose squares are divided in `parts`. Lines that would
/// stand nearer than 4 pixels are left out: first those that divide, then all but every tenth, hundredth …
GridLook grid_look(double spacing, int parts, const View& view, const Vec3& centre);

}  // namespace tack
