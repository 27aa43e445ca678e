// Sets that are joined one with another.
#pragma once

#include <algorithm>
#include <cstdint>
#include <numeric>
#include <vector>

namespace tack {

/// Begins with the numbers below `count`, each a set by itself; a set is known by its lowest member (union by halving
/// the way: Tarjan & van Leeuwen 1984). Nearly O(1) a call.
class Joined {
 public:
  explicit Joined(std::size_t count) : root_(count) { std::iota(root_.begin(), root_.end(), 0u); }
  /// The lowest member of the set that `i` is in.
  std::uint32_t find(std::uint32_t i) {
    while (root_[i] != i) i = root_[i] = root_[root_[i]];
    return i;
  }
  void join(std::uint32_t a, std::uint32_t b) {
    a = find(a), b = find(b);
    root_[std::max(a, b)] = std::min(a, b);
  }

 private:
  std::vector<std::uint32_t> root_;
};

}  // namespace tack
