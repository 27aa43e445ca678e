// A compact binary tree of boxes over numbered items: the one search structure of Tack Point.
#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include "core/math/box.h"

namespace tack {

/// A box in float that contains the double box it was made from: low rounded down, high rounded up.
struct FloatBox {
  std::array<float, 3> low, high;
};
FloatBox outward(const Box& box);

/// A node: a leaf holds `count` items from BoxTree::items[first]; an inner node (count 0) has its left child right
/// behind it and its right child at `first`.
struct BoxNode {
  FloatBox box;
  std::uint32_t first = 0;
  std::uint32_t count = 0;

  bool leaf() const { return count != 0; }
};
static_assert(sizeof(BoxNode) == 32);

struct BoxTree {
  std::vector<BoxNode> nodes;        ///< root first; empty when there are no items
  std::vector<std::uint32_t> items;  ///< item numbers, in leaf order

  std::size_t bytes() const { return nodes.capacity() * sizeof(BoxNode) + items.capacity() * sizeof(std::uint32_t); }
};

/// Below this depth items are split in halves, whatever their boxes: a tree over 2^32 items is then at most 64 + 32
/// deep, and a walk that keeps the nodes still to be seen never holds more than one for each level, and the last.
inline constexpr int kDeepestBySurface = 64;
inline constexpr int kTreeStack = 128;

/// Builds a tree over items 0 … boxes.size() − 1 by binned surface-area splits (Wald 2007), leaves of at most
/// `leaf_size` items, using all cores for large inputs. The result does not depend on the number of cores.
/// O(n log n) time; about 2 · 32 / leaf_size + 4 bytes an item.
BoxTree build_box_tree(std::span<const FloatBox> boxes, std::uint32_t leaf_size);

/// How far a point is from a box; 0 inside.
double distance_to(const FloatBox& box, const Vec3& p);

/// The item that is nearest to `p` among those nearer than `best`, which becomes its distance; kNoItem for none. `from`
/// says how far an item is; it must not lie outside its box.
inline constexpr std::uint32_t kNoItem = 0xFFFFFFFFu;
template <typename From>
std::uint32_t nearest_item(const BoxTree& tree, const Vec3& p, double& best, From&& from) {
  std::uint32_t found = kNoItem;
  if (tree.nodes.empty()) return found;
  std::array<std::uint32_t, kTreeStack> stack;
  int size = 0;
  stack[size++] = 0;
  while (size > 0) {
    const std::uint32_t at = stack[static_cast<std::size_t>(--size)];
    const BoxNode& node = tree.nodes[at];
    if (distance_to(node.box, p) >= best) continue;
    if (node.leaf()) {
      for (std::uint32_t i = node.first; i < node.first + node.count; ++i)
        if (const double d = from(tree.items[i]); d < best) best = d, found = tree.items[i];
      continue;
    }
    // The nearer child last, so that it is looked at first.
    const std::uint32_t left = at + 1, right = node.first;
    const bool left_first = distance_to(tree.nodes[left].box, p) <= distance_to(tree.nodes[right].box, p);
    stack[static_cast<std::size_t>(size++)] = left_first ? right : left;
    stack[static_cast<std::size_t>(size++)] = left_first ? left : right;
  }
  return found;
}

}  // namespace tack
