#include "draw/grid_lines.h"

#include <algorithm>
#include <cmath>

namespace tack {

std::vector<GridLine> grid_lines(const DrawFrame& frame) {
  constexpr int kLines = 60;
  const DrawGrid& grid = frame.grid;
  const double step = grid.step > 0 ? grid.step : grid_spacing_for(frame.view, grid.centre);
  const int strong = grid.step > 0 ? grid.strong : 10;
  const Vec3& eye = frame.view.eye;
  const Vec3 centre = transpose(grid.frame.linear) * (grid.centre - grid.frame.translation);
  const double reach = step * kLines;
  const double cx = std::round(centre.x / step), cy = std::round(centre.y / step);
  std::vector<GridLine> lines;
  const auto piece = [&](const Vec3& a, const Vec3& b, const Colour& c, double alpha) {
    const Vec3 p = frame.view.to_eye * (grid.frame * a - eye), q = frame.view.to_eye * (grid.frame * b - eye);
    lines.push_back(
        {{float(p.x), float(p.y), float(p.z)}, {float(q.x), float(q.y), float(q.z)}, {c.r, c.g, c.b, float(alpha)}});
  };
  const bool sheet = grid.sheet.has_value();
  // Along x, or with `across` along y, at the height `at`; cut into pieces so that it can fade along its length.
  const auto add = [&](bool across, double at, double middle, const Colour& c, double fade) {
    double from = middle - reach, to = middle + reach;
    if (sheet) {
      const double low = across ? grid.sheet->left : grid.sheet->bottom,
                   high = across ? grid.sheet->right : grid.sheet->top;
      if (at < low || at > high) return;
      from = std::max(from, across ? grid.sheet->bottom : grid.sheet->left);
      to = std::min(to, across ? grid.sheet->top : grid.sheet->right);
      if (!(to > from)) return;
    }
    constexpr int kPieces = 8;
    for (int i = 0; i < kPieces; ++i) {
      const double s = from + (to - from) * i / kPieces, t = from + (to - from) * (i + 1) / kPieces;
      const double along = std::abs((s + t) / 2 - middle) / reach;
      const double alpha = c.a * fade * std::clamp(1.15 - along, 0.0, 1.0);
      if (alpha < 0.01) continue;
      if (across)
        piece({at, s, 0}, {at, t, 0}, c, alpha);
      else
        piece({s, at, 0}, {t, at, 0}, c, alpha);
    }
  };
  for (int k = -kLines; k <= kLines; ++k) {
    const double fade = std::clamp(1.15 - std::abs(double(k)) / kLines, 0.0, 1.0);
    const bool strong_x = std::fmod(std::abs(cx + k), strong) == 0, strong_y = std::fmod(std::abs(cy + k), strong) == 0;
    add(true, (cx + k) * step, cy * step, strong_x ? frame.theme.grid_strong : frame.theme.grid, fade);
    add(false, (cy + k) * step, cx * step, strong_y ? frame.theme.grid_strong : frame.theme.grid, fade);
  }
  if (!sheet || !grid.border) return lines;
  const Sheet& s = *grid.sheet;
  const auto corners = s.corners();
  const double scale = frame.view.pixels_per_mm(grid.centre);
  constexpr double kApart = 11, kLong = 7;  // pixels
  const double longer = std::max(s.right - s.left, s.top - s.bottom);
  const double apart = std::max(kApart * frame.pixel_ratio / (scale > 0 ? scale : 1), longer / 400),
               size = apart * kLong / kApart;
  const Vec3 slanted = Vec3{1, 1, 0} * (size / std::sqrt(2.0));
  for (std::size_t i = 0; i < 4; ++i) {
    const Vec3 &a = corners[i], &b = corners[(i + 1) % 4];
    piece(a, b, frame.theme.sheet, frame.theme.sheet.a);
    // Short strokes, all slanted alike, inside the border.
    const double whole = distance(a, b);
    const bool outward = i == 1 || i == 2;  // at the right and the top they reach back from the border
    for (double at = apart / 2; at < whole; at += apart) {
      const Vec3 p = a + (b - a) * (at / whole);
      piece(outward ? p - slanted : p, outward ? p : p + slanted, frame.theme.sheet, frame.theme.sheet.a * 0.7);
    }
  }
  return lines;
}

}  // namespace tack
