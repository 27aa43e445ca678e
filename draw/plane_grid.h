// The grid of the plane in use, as it is drawn and caught in a view.
#pragma once

#include "draw/renderer.h"

namespace tack {

/// The grid and the sheet of a scene's plane in use. `view` is in the pixels that lines are counted in, `target` what
/// it looks at. The ground has no sheet unless its grid has an extent; the sheet of a work plane is as large as what
/// lies on it, or as the grid's extent. `sheet`: what sheet_of() has given for the plane, where it is known.
struct PlaneGridLook {
  DrawGrid drawn;
  GridLook look;
};
PlaneGridLook plane_grid_look(const Scene& scene, const View& view, const Vec3& target,
                              const std::optional<Sheet>& sheet = {});

}  // namespace tack
