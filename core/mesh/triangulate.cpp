#include "core/mesh/triangulate.h"

namespace tack {

void triangulate(std::span<const Vec3> positions, std::span<const std::uint32_t> corners,
                 std::vector<Triangle>& triangles) {
  constexpr std::size_t kFanAbove = 2000;  // cutting ears would take long, and nobody draws such a face by hand
  const std::size_t n = corners.size();
  if (n < 3) return;
  Vec3 normal;
  for (std::size_t i = 0; i < n; ++i) {
    const Vec3 a = positions[corners[i]] - positions[corners[0]],
               b = positions[corners[(i + 1) % n]] - positions[corners[0]];
    normal += cross(a, b);
  }
  std::vector<std::uint32_t> rest(corners.begin(), corners.end());
  const auto turn = [&](std::size_t a, std::size_t b, std::size_t c) {
    return dot(cross(positions[rest[b]] - positions[rest[a]], positions[rest[c]] - positions[rest[b]]), normal);
  };
  const auto inside = [&](const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    return dot(cross(b - a, p - a), normal) >= 0 && dot(cross(c - b, p - b), normal) >= 0 &&
           dot(cross(a - c, p - c), normal) >= 0;
  };
  while (rest.size() > 3 && n <= kFanAbove) {
    const std::size_t m = rest.size();
    std::size_t ear = m;
    for (std::size_t i = 0; i < m && ear == m; ++i) {
      const std::size_t before = (i + m - 1) % m, after = (i + 1) % m;
      if (turn(before, i, after) <= 0) continue;
      bool clear = true;
      for (std::size_t j = 0; j < m && clear; ++j)
        if (j != i && j != before && j != after && rest[j] != rest[before] && rest[j] != rest[after])
          clear = !inside(positions[rest[j]], positions[rest[before]], positions[rest[i]], positions[rest[after]]);
      if (clear) ear = i;
    }
    if (ear == m) break;
    triangles.push_back({rest[(ear + m - 1) % m], rest[ear], rest[(ear + 1) % m]});
    rest.erase(rest.begin() + static_cast<std::ptrdiff_t>(ear));
  }
  for (std::size_t i = 1; i + 1 < rest.size(); ++i) triangles.push_back({rest[0], rest[i], rest[i + 1]});
}

}  // namespace tack
