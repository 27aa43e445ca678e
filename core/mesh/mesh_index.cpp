#include "core/mesh/mesh_index.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

namespace tack {
namespace {

constexpr std::uint32_t kTriangleLeaf = 4;
constexpr std::uint32_t kVertexLeaf = 8;

// A ray prepared for the slab test. Along values against float boxes are widened a little so that rounding never loses
// a box that the exact ray touches.
struct Slabs {
  explicit Slabs(const Ray& ray) : origin(ray.origin) {
    for (int i = 0; i < 3; ++i) inverse[i] = 1 / ray.direction[i];
  }

  // Entry distance into the box, or infinity when the ray misses it before `limit`.
  double enter(const FloatBox& box, double limit) const {
    double near = 0, far = limit;
    for (int i = 0; i < 3; ++i) {
      double a = (box.low[i] - origin[i]) * inverse[i], b = (box.high[i] - origin[i]) * inverse[i];
      if (a > b) std::swap(a, b);
      // NaN (0 · ∞: the ray runs inside the slab's face) must not shrink the interval.
      if (a > near) near = a;
      if (b < far) far = b;
    }
    constexpr double kWiden = 1e-12;
    return near <= far * (1 + kWiden) + kWiden ? near : std::numeric_limits<double>::infinity();
  }

  Vec3 origin;
  Vec3 inverse;
};

template <bool kAny>
std::optional<RayHit> trace(const Mesh& mesh, const Ray& ray, double limit, std::size_t* work) {
  std::optional<RayHit> best;
  const auto test = [&](std::uint32_t triangle) {
    const auto along = ray_triangle(ray, mesh.corners(triangle));
    if (along && *along < limit) {
      limit = *along;
      best = RayHit{*along, triangle};
    }
  };
  const MeshIndex* index = mesh.index_if_ready();
  if (!index) {
    const auto count = static_cast<std::uint32_t>(mesh.triangles().size());
    for (std::uint32_t t = 0; t < count && !(kAny && best); ++t) test(t);
    return best;
  }
  const BoxTree& tree = index->triangles;
  if (tree.nodes.empty()) return best;
  const Slabs slabs(ray);
  struct Entry {
    std::uint32_t node;
    double near;
  };
  std::array<Entry, kTreeStack> stack;
  int size = 0;
  if (const double near = slabs.enter(tree.nodes[0].box, limit); std::isfinite(near)) stack[size++] = {0, near};
  while (size > 0) {
    const Entry entry = stack[--size];
    if (kAny && work) ++*work;
    if (entry.near > limit) continue;
    const BoxNode& node = tree.nodes[entry.node];
    if (node.leaf()) {
      for (std::uint32_t i = 0; i < node.count; ++i) test(tree.items[node.first + i]);
      if (kAny && best) return best;
      continue;
    }
    Entry left{entry.node + 1, slabs.enter(tree.nodes[entry.node + 1].box, limit)};
    Entry right{node.first, slabs.enter(tree.nodes[node.first].box, limit)};
    if (left.near < right.near) std::swap(left, right);  // the nearer one goes on top
    if (std::isfinite(left.near)) stack[size++] = left;
    if (std::isfinite(right.near)) stack[size++] = right;
  }
  return best;
}

}  // namespace

double weld_distance(const Mesh& mesh) { return 1e-7 * mesh.box().extent(); }

MeshIndex build_mesh_index(const Mesh& mesh) {
  MeshIndex index;
  tbb::parallel_invoke(
      [&] {
        std::vector<FloatBox> boxes(mesh.triangles().size());
        tbb::parallel_for(std::size_t{0}, boxes.size(), [&](std::size_t i) {
          Box box;
          for (const Vec3& c : mesh.corners(static_cast<std::uint32_t>(i))) box.include(c);
          boxes[i] = outward(box);
        });
        index.triangles = build_box_tree(boxes, kTriangleLeaf);
      },
      [&] {
        std::vector<FloatBox> boxes(mesh.positions().size());
        tbb::parallel_for(std::size_t{0}, boxes.size(), [&](std::size_t i) {
          boxes[i] = outward({mesh.positions()[i], mesh.positions()[i]});
        });
        index.vertices = build_box_tree(boxes, kVertexLeaf);
      });
  return index;
}

std::optional<double> ray_triangle(const Ray& ray, const std::array<Vec3, 3>& c) {
  const Vec3 e1 = c[1] - c[0], e2 = c[2] - c[0];
  const Vec3 p = cross(ray.direction, e2);
  const double det = dot(e1, p);
  if (det == 0) return std::nullopt;
  const Vec3 s = ray.origin - c[0];
  const double u = dot(s, p) / det;
  if (!(u >= 0 && u <= 1)) return std::nullopt;
  const Vec3 q = cross(s, e1);
  const double v = dot(ray.direction, q) / det;
  if (!(v >= 0 && u + v <= 1)) return std::nullopt;
  const double along = dot(e2, q) / det;
  return along >= 0 ? std::optional(along) : std::nullopt;
}

std::optional<RayHit> first_hit(const Mesh& mesh, const Ray& ray, double limit) {
  return trace<false>(mesh, ray, limit, nullptr);
}

std::optional<RayHit> any_hit(const Mesh& mesh, const Ray& ray, double limit, std::size_t* work) {
  return trace<true>(mesh, ray, limit, work);
}

void triangles_touching(const Mesh& mesh, const Vec3& point, double distance,
                        const std::function<void(std::uint32_t, int)>& visit) {
  const auto test = [&](std::uint32_t triangle) {
    const auto corners = mesh.corners(triangle);
    for (int c = 0; c < 3; ++c)
      if (tack::distance(corners[c], point) <= distance) visit(triangle, c);
  };
  const MeshIndex* index = mesh.index_if_ready();
  if (!index) {
    for (std::uint32_t t = 0; t < mesh.triangles().size(); ++t) test(t);
    return;
  }
  if (index->triangles.nodes.empty()) return;
  std::array<std::uint32_t, kTreeStack> stack;
  int size = 0;
  stack[size++] = 0;
  while (size > 0) {
    const std::uint32_t at = stack[--size];
    const BoxNode& node = index->triangles.nodes[at];
    bool apart = false;
    for (int i = 0; i < 3; ++i)
      apart |= point[i] < node.box.low[i] - distance || point[i] > node.box.high[i] + distance;
    if (apart) continue;
    if (node.leaf()) {
      for (std::uint32_t i = 0; i < node.count; ++i) test(index->triangles.items[node.first + i]);
    } else {
      stack[size++] = at + 1;
      stack[size++] = node.first;
    }
  }
}

}  // namespace tack
