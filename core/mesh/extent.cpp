#include "core/mesh/extent.h"

#include <algorithm>
#include <bit>

#include "core/mesh/mesh_index.h"

namespace tack {
namespace {

// The most that dot(direction, p) can be over a box.
double most_over(const FloatBox& box, const Vec3& direction) {
  double sum = 0;
  for (int i = 0; i < 3; ++i)
    sum += direction[i] *
           double(direction[i] > 0 ? box.high[static_cast<std::size_t>(i)] : box.low[static_cast<std::size_t>(i)]);
  return sum;
}

// Goes through the vertices that may lie as far along as the furthest found so far. `measure` gives a vertex's
// distance along the direction.
template <typename Measure>
std::uint32_t furthest(const Mesh& mesh, const Vec3& direction, Measure&& measure) {
  std::uint32_t best = 0;
  double most = -std::numeric_limits<double>::infinity();
  const auto look_at = [&](std::uint32_t v) {
    const double along = measure(mesh.positions()[v]);
    if (along > most || (along == most && v < best)) {
      most = along;
      best = v;
    }
  };
  const MeshIndex* index = mesh.index_if_ready();
  if (!index || index->vertices.nodes.empty()) {
    for (std::uint32_t v = 0; v < mesh.positions().size(); ++v) look_at(v);
    return best;
  }
  const BoxTree& tree = index->vertices;
  // Bounds of boxes and distances of vertices round differently: this much keeps a box that could still win.
  const double slack = 1e-14 * (std::abs(direction.x) + std::abs(direction.y) + std::abs(direction.z)) *
                       (largest_component(mesh.box().low) + largest_component(mesh.box().high));
  double offset = 0;  // measure() may add a constant to the dot product
  offset = measure({});
  std::array<std::pair<std::uint32_t, double>, kTreeStack> stack;
  int size = 0;
  stack[static_cast<std::size_t>(size++)] = {0, most_over(tree.nodes[0].box, direction)};
  while (size > 0) {
    const auto [at, bound] = stack[static_cast<std::size_t>(--size)];
    if (bound + offset < most - slack - 1e-15 * std::abs(offset)) continue;
    const BoxNode& node = tree.nodes[at];
    if (node.leaf()) {
      for (std::uint32_t i = 0; i < node.count; ++i) look_at(tree.items[node.first + i]);
      continue;
    }
    std::pair<std::uint32_t, double> left{at + 1, most_over(tree.nodes[at + 1].box, direction)};
    std::pair<std::uint32_t, double> right{node.first, most_over(tree.nodes[node.first].box, direction)};
    if (left.second > right.second) std::swap(left, right);
    stack[static_cast<std::size_t>(size++)] = left;
    stack[static_cast<std::size_t>(size++)] = right;  // the one that reaches further goes on top
  }
  return best;
}

}  // namespace

std::uint32_t furthest_vertex(const Mesh& mesh, const Vec3& direction) {
  return furthest(mesh, direction, [&](const Vec3& p) { return dot(direction, p); });
}

namespace {

// The box of the vertices carried by a matrix.
Box box_under(const Mesh& mesh, const Mat3& linear) {
  const Affine frame{linear, {}};
  Box box;
  for (int axis = 0; axis < 3; ++axis) {
    const Vec3 row{frame.linear(axis, 0), frame.linear(axis, 1), frame.linear(axis, 2)};
    const auto coordinate = [&](const Vec3& p) { return (frame * p)[axis]; };
    if (row == Vec3{}) {
      box.low[axis] = box.high[axis] = frame.translation[axis];
      continue;
    }
    const std::uint32_t high = furthest(mesh, row, coordinate);
    const std::uint32_t low = furthest(mesh, -row, [&](const Vec3& p) { return -coordinate(p); });
    box.high[axis] = coordinate(mesh.positions()[high]);
    box.low[axis] = coordinate(mesh.positions()[low]);
  }
  return box;
}

// A box of this mesh under this matrix that was found before. Sentences, handles and drags ask for the same boxes many
// times over, of everything that is picked, while only positions change.
struct Remembered {
  std::uint64_t mesh = 0;  // Mesh::number(); 0: none
  Mat3 linear;
  Box box;
};
constexpr std::size_t kSets = 4096, kWays = 4;  // 2 MB for each thread that asks

std::size_t set_of(std::uint64_t mesh, const Mat3& linear) {
  std::uint64_t hash = mesh * 0x9E3779B97F4A7C15u;
  for (const Vec3& column : linear.column)
    for (int i = 0; i < 3; ++i) {
      hash = (hash ^ std::bit_cast<std::uint64_t>(column[i])) * 0x9E3779B97F4A7C15u;
      hash ^= hash >> 29;  // what a multiplication moves up comes down again
    }
  return hash % kSets;
}

}  // namespace

Box box_in_frame(const Mesh& mesh, const Affine& frame) {
  // Several ways to a set: with one alone a few of a thousand parts would share a place and drive each other out at
  // every move of a drag. The one found longest ago goes.
  struct Set {
    std::array<Remembered, kWays> ways;
    std::uint32_t next = 0;
  };
  thread_local std::vector<Set> remembered(kSets);
  Set& set = remembered[set_of(mesh.number(), frame.linear)];
  const Remembered* entry = std::find_if(set.ways.begin(), set.ways.end(), [&](const Remembered& r) {
    return r.mesh == mesh.number() && r.linear == frame.linear;
  });
  if (entry == set.ways.end()) {
    Remembered& fresh = set.ways[set.next++ % kWays];
    fresh = {mesh.number(), frame.linear, box_under(mesh, frame.linear)};
    entry = &fresh;
  }
  // Rounding keeps order, so adding the shift to the ends gives what adding it to every vertex would.
  return {entry->box.low + frame.translation, entry->box.high + frame.translation};
}

}  // namespace tack
