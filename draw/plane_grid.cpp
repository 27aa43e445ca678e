#include "draw/plane_grid.h"

namespace tack {

PlaneGridLook plane_grid_look(const Scene& scene, const View& view, const Vec3& target,
                              const std::optional<Sheet>& sheet) {
  const PartId plane = scene.plane();
  const PlaneGrid grid = grid_of(scene, plane);
  PlaneGridLook result;
  DrawGrid& drawn = result.drawn;
  drawn.frame = plane_frame(scene, plane);
  const Vec3& normal = drawn.frame.linear.column[2];
  drawn.centre = target - normal * dot(target - drawn.frame.translation, normal);
  if (grid.extent > 0)
    drawn.sheet = Sheet{-grid.extent, -grid.extent, grid.extent, grid.extent};
  else if (plane != kNoPart)
    drawn.sheet = sheet ? sheet : sheet_of(scene, plane);
  drawn.border = plane != kNoPart;
  result.look = grid_look(grid.spacing, grid.parts, view, drawn.centre);
  drawn.step = result.look.step;
  drawn.strong = result.look.strong;
  return result;
}

}  // namespace tack
