// What covers what. For the search alone; catch_scene.h is what others use.
#pragma once

#include "core/catch/catch_scene.h"

namespace tack {

/// Casts rays from the eye through a scene. It remembers the triangles that covered the last places asked for:
/// neighbours are mostly hidden by the same ones, and testing them first saves most of the searches.
class Sight {
 public:
  Sight(const CatchScene& scene, const View& view, const CatchOptions& options);

  /// Whether a surface lies before `point` (world) by more than the touch tolerance.
  bool hidden(const Vec3& point);
  /// How many boxes rays have looked at beyond what an ordinary ray needs: what grazing dense surfaces has cost so far.
  std::size_t grazing() const { return grazing_; }
  /// Whether a whole box, in the coordinates of a mesh that stands in the world at `world`, is hidden by one of the
  /// triangles remembered. False when that cannot be said.
  bool surely_hidden(const FloatBox& box, const Affine& world) const;

 private:
  /// A triangle that covered something: the planes through the eye and its sides, and its own, seen from the eye. A
  /// point p is hidden where dot(normal, p) exceeds `offset` for all four.
  struct Cover {
    const CatchPart* part;
    std::uint32_t triangle;
    std::array<Vec3, 4> normal;
    std::array<double, 4> offset;
  };

  bool covered(const Ray& ray, double limit);
  bool covered_by(const CatchPart& part, const Ray& ray, double limit);
  void remember(const CatchPart& part, std::uint32_t triangle);

  const CatchScene& scene_;
  const View& view_;
  const CatchOptions& options_;
  std::vector<Cover> covers_;                // the latest first
  std::array<const CatchPart*, 4> parts_{};  // the latest that covered something, the very latest first
  double front_ = 0;                         // of a parallel view: where everything is further back
  std::size_t grazing_ = 0;
};

/// Whether a ray meets a box before `limit`.
bool meets(const FloatBox& box, const Ray& ray, double limit);

/// Calls visit(part) for every part with a mesh whose box a ray meets before `limit` (which may shrink meanwhile), in
/// no particular order, until it returns false.
template <typename Visit>
void parts_along(const CatchScene& scene, const Ray& ray, const double& limit, Visit&& visit) {
  if (scene.tree.nodes.empty()) return;
  std::array<std::uint32_t, kTreeStack> stack;
  int size = 0;
  stack[size++] = 0;
  while (size > 0) {
    const std::uint32_t at = stack[--size];
    const BoxNode& node = scene.tree.nodes[at];
    if (!meets(node.box, ray, limit)) continue;
    if (!node.leaf()) {
      stack[size++] = at + 1;
      stack[size++] = node.first;
      continue;
    }
    for (std::uint32_t i = 0; i < node.count; ++i) {
      const CatchPart& part = scene.parts[scene.tree.items[node.first + i]];
      if (part.mesh && !visit(part)) return;
    }
  }
}

inline Ray to_mesh(const Ray& ray, const CatchPart& part) {
  return {part.to_mesh * ray.origin, part.to_mesh.linear * ray.direction};
}

}  // namespace tack
