#include "core/mesh/box_tree.h"

#include <tbb/parallel_invoke.h>

#include <algorithm>
#include <bit>
#include <cmath>

namespace tack {
namespace {

constexpr int kBins = 16;
constexpr std::uint32_t kParallelItems = 1u << 15;

// Four floats at once, so that a box is two of them: building is nothing but minima and maxima of boxes.
using Four = float __attribute__((vector_size(16)));

Four least(Four a, Four b) { return a < b ? a : b; }
Four most(Four a, Four b) { return a > b ? a : b; }

struct FourBox {
  Four low, high;  // the fourth lanes are not looked at
};

FourBox empty_box() {
  constexpr float inf = std::numeric_limits<float>::infinity();
  return {Four{inf, inf, inf, 0}, Four{-inf, -inf, -inf, 0}};
}

void include(FourBox& a, const FourBox& b) {
  a.low = least(a.low, b.low);
  a.high = most(a.high, b.high);
}

FloatBox plain(const FourBox& b) { return {{b.low[0], b.low[1], b.low[2]}, {b.high[0], b.high[1], b.high[2]}}; }

float half_area(const FourBox& b) {
  const Four size = b.high - b.low;
  return size[0] < 0 ? 0 : size[0] * size[1] + size[1] * size[2] + size[2] * size[0];
}

struct Bin {
  FourBox box = empty_box();
  std::uint32_t count = 0;
};

class Builder {
 public:
  // Boxes travel with their numbers: passes over a range then read memory in order.
  // The number stands in the idle fourth lane, moved up to where its bits are an ordinary float: arithmetic on tiny
  // ones is many times slower. Room for 1.8 · 10⁹ boxes.
  static constexpr std::uint32_t kNormal = 0x10000000;
  struct Entry {
    FourBox box;
    std::uint32_t item() const { return std::bit_cast<std::uint32_t>(static_cast<float>(box.low[3])) - kNormal; }
    Four centre() const { return box.low * 0.5f + box.high * 0.5f; }
  };

  Builder(std::span<const FloatBox> boxes, std::uint32_t leaf_size) : leaf_size_(leaf_size) {
    entries_.reserve(boxes.size());
    for (std::uint32_t i = 0; i < boxes.size(); ++i) {
      const FloatBox& b = boxes[i];
      entries_.push_back({{Four{b.low[0], b.low[1], b.low[2], std::bit_cast<float>(i + kNormal)},
                           Four{b.high[0], b.high[1], b.high[2], 0}}});
    }
  }

  void write_items(std::vector<std::uint32_t>& items) const {
    items.reserve(entries_.size());
    for (const Entry& e : entries_) items.push_back(e.item());
  }

  // Builds the subtree of entries_[begin, end) into `nodes`; right-child numbers are relative to the subtree's root.
  void build(std::uint32_t begin, std::uint32_t end, std::vector<BoxNode>& nodes, int depth = 0) {
    FourBox box = empty_box(), centres = empty_box();
    for (std::uint32_t i = begin; i < end; ++i) {
      const Entry& e = entries_[i];
      include(box, e.box);
      const Four middle = e.centre();
      include(centres, {middle, middle});
    }
    const std::size_t self = nodes.size();
    nodes.push_back({plain(box), begin, 0});
    if (end - begin <= leaf_size_) {
      nodes[self].count = end - begin;
      return;
    }
    // Splits by surface may peel one item off at every level.
    const std::uint32_t middle = depth < kDeepestBySurface ? split(begin, end, centres) : begin + (end - begin) / 2;
    if (end - begin >= kParallelItems) {
      std::vector<BoxNode> left, right;
      tbb::parallel_invoke([&] { build(begin, middle, left, depth + 1); },
                           [&] { build(middle, end, right, depth + 1); });
      append(nodes, left);
      nodes[self].first = static_cast<std::uint32_t>(nodes.size());
      append(nodes, right);
    } else {
      build(begin, middle, nodes, depth + 1);
      nodes[self].first = static_cast<std::uint32_t>(nodes.size());
      build(middle, end, nodes, depth + 1);
    }
  }

 private:
  static void append(std::vector<BoxNode>& nodes, const std::vector<BoxNode>& subtree) {
    const auto offset = static_cast<std::uint32_t>(nodes.size());
    nodes.insert(nodes.end(), subtree.begin(), subtree.end());
    for (std::size_t i = offset; i < nodes.size(); ++i)
      if (!nodes[i].leaf()) nodes[i].first += offset;
  }

  // Reorders entries_[begin, end) and returns where the right child starts; always strictly inside.
  std::uint32_t split(std::uint32_t begin, std::uint32_t end, const FourBox& centres) {
    int axis = 0;
    for (int a = 1; a < 3; ++a)
      if (centres.high[a] - centres.low[a] > centres.high[axis] - centres.low[axis]) axis = a;
    const float low = centres.low[axis], width = centres.high[axis] - low;
    const std::uint32_t half = begin + (end - begin) / 2;
    if (!(width > 0) || !std::isfinite(width)) return half;  // all in one place: any split is as good

    const float to_bin = kBins / width;
    if (!std::isfinite(to_bin)) return half;  // closer together than floats can be divided
    const auto bin_of = [&](const Entry& e) {
      return std::clamp(static_cast<int>((e.centre()[axis] - low) * to_bin), 0, kBins - 1);
    };
    std::array<Bin, kBins> bins;
    for (std::uint32_t i = begin; i < end; ++i) {
      Bin& bin = bins[bin_of(entries_[i])];
      include(bin.box, entries_[i].box);
      ++bin.count;
    }
    std::array<float, kBins> right_cost{};
    FourBox sum = empty_box();
    std::uint32_t count = 0;
    for (int i = kBins - 1; i > 0; --i) {
      include(sum, bins[i].box);
      count += bins[i].count;
      right_cost[i] = half_area(sum) * static_cast<float>(count);
    }
    sum = empty_box();
    count = 0;
    int best = -1;
    float best_cost = std::numeric_limits<float>::infinity();
    for (int i = 0; i + 1 < kBins; ++i) {
      include(sum, bins[i].box);
      count += bins[i].count;
      const float cost = half_area(sum) * static_cast<float>(count) + right_cost[i + 1];
      if (count != 0 && count != end - begin && cost < best_cost) {
        best_cost = cost;
        best = i;
      }
    }
    if (best < 0) return half;
    const auto middle = std::partition(entries_.begin() + begin, entries_.begin() + end,
                                       [&](const Entry& e) { return bin_of(e) <= best; });
    const auto at = static_cast<std::uint32_t>(middle - entries_.begin());
    return at == begin || at == end ? half : at;
  }

  std::uint32_t leaf_size_;
  std::vector<Entry> entries_;
};

}  // namespace

FloatBox outward(const Box& box) {
  FloatBox f{};
  constexpr float inf = std::numeric_limits<float>::infinity();
  for (int i = 0; i < 3; ++i) {
    f.low[i] = static_cast<float>(box.low[i]);
    if (f.low[i] > box.low[i]) f.low[i] = std::nextafter(f.low[i], -inf);
    f.high[i] = static_cast<float>(box.high[i]);
    if (f.high[i] < box.high[i]) f.high[i] = std::nextafter(f.high[i], inf);
  }
  return f;
}

BoxTree build_box_tree(std::span<const FloatBox> boxes, std::uint32_t leaf_size) {
  BoxTree tree;
  if (boxes.empty()) return tree;
  tree.nodes.reserve(2 * boxes.size() / std::max(1u, leaf_size) + 8);
  Builder builder(boxes, std::max(1u, leaf_size));
  builder.build(0, static_cast<std::uint32_t>(boxes.size()), tree.nodes);
  builder.write_items(tree.items);
  tree.nodes.shrink_to_fit();
  return tree;
}

double distance_to(const FloatBox& box, const Vec3& p) {
  Vec3 off;
  for (int i = 0; i < 3; ++i) {
    const auto k = static_cast<std::size_t>(i);
    off[i] = std::max({static_cast<double>(box.low[k]) - p[i], p[i] - static_cast<double>(box.high[k]), 0.0});
  }
  return length(off);
}

}  // namespace tack
