// Axis-aligned boxes in double.
#pragma once

#include <array>
#include <limits>

#include "core/math/vec.h"

namespace tack {

/// The points p with low <= p <= high on every axis. A default box is empty (low > high).
struct Box {
  Vec3 low{std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity(),
           std::numeric_limits<double>::infinity()};
  Vec3 high{-std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity(),
            -std::numeric_limits<double>::infinity()};

  bool empty() const { return !(low.x <= high.x && low.y <= high.y && low.z <= high.z); }
  void include(const Vec3& p) {
    low = min(low, p);
    high = max(high, p);
  }
  void include(const Box& other) {
    low = min(low, other.low);
    high = max(high, other.high);
  }
  /// The sizes along x, y, z; zero when empty.
  Vec3 size() const { return empty() ? Vec3{} : high - low; }
  Vec3 centre() const { return empty() ? Vec3{} : low + (high - low) * 0.5; }
  /// The length of the diagonal; zero when empty.
  double extent() const { return length(size()); }
  /// The point at the given fractions of the box: 0 is low, 1 is high, exactly; 0.5 the middle. Not clamped.
  Vec3 at(const Vec3& fraction) const {
    Vec3 p;
    for (int i = 0; i < 3; ++i) p[i] = fraction[i] == 1 ? high[i] : low[i] + (high[i] - low[i]) * fraction[i];
    return p;
  }

  /// Its eight corners, x changing fastest: low, low; high, low; … Meaningless when empty.
  std::array<Vec3, 8> corners() const {
    std::array<Vec3, 8> all;
    for (std::size_t i = 0; i < 8; ++i) all[i] = at({double(i & 1), double(i >> 1 & 1), double(i >> 2)});
    return all;
  }

  friend bool operator==(const Box&, const Box&) = default;
};

}  // namespace tack
