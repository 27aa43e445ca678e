#include "core/view/grid_look.h"

#include <cmath>

namespace tack {

double grid_spacing_for(const View& view, const Vec3& centre) {
  double scale = view.pixels_per_mm(centre);
  if (!(scale > 0)) scale = 1;
  double spacing = std::pow(10.0, std::floor(std::log10(12 / scale)));
  while (spacing * scale < 12) spacing *= spacing * scale < 2.4 ? 10 : spacing * scale < 6 ? 5 : 2;
  // Only 1, 2 and 5 times a power of ten are easy to count with.
  const double power = std::pow(10.0, std::floor(std::log10(spacing) + 1e-9));
  const double leading = spacing / power;
  return power * (leading < 1.5 ? 1 : leading < 3 ? 2 : leading < 7 ? 5 : 10);
}

GridLook grid_look(double spacing, int parts, const View& view, const Vec3& centre) {
  constexpr double kLeastBetween = 4;
  if (!(spacing > 0)) {
    const double step = grid_spacing_for(view, centre);
    return {step, 10, step, step};
  }
  double scale = view.pixels_per_mm(centre);
  if (!(scale > 0)) scale = 1;
  const double node = spacing / parts;
  if (parts > 1 && node * scale >= kLeastBetween) return {node, parts, spacing, node};
  double step = spacing;
  while (step * scale < kLeastBetween) step *= 10;
  return {step, 10, step, node};
}

}  // namespace tack
