// Meshes that stand where their joints put them.
#pragma once

#include <memory>
#include <optional>
#include <vector>

#include "core/math/matrix.h"
#include "core/problem.h"
#include "core/scene/axes.h"

namespace tack {

class Scene;

/// A mesh as it is before its joints bend it, and how much each joint has of each vertex. Shared by all copies.
struct BoundShape {
  struct Influence {
    std::uint32_t joint = 0;  ///< into the list of joints
    float weight = 0;         ///< no unit; those of a vertex should add up to 1, and are taken as they are
  };
  std::vector<Vec3> positions;                ///< in the coordinates that inverse_bind starts from
  std::vector<std::array<float, 3>> normals;  ///< one for each position, or empty
  std::vector<std::uint32_t> first;           ///< influences of vertex v: first[v] up to first[v + 1]
  std::vector<Influence> influences;
  std::vector<Affine> inverse_bind;  ///< for each joint from the shape's coordinates to the joint's
};

/// The joints of one part's mesh. glTF's own rule (2.0, 3.7.3.3): a vertex stands at Σ weight · joint · inverse bind,
/// and the place of the node that has the mesh counts for nothing.
struct Skin {
  std::shared_ptr<const BoundShape> shape;
  std::vector<PartId> joints;
  std::vector<Affine> pose;  ///< with which the part's mesh was made: from the shape to the part's frame by each joint
  int carried = -1;          ///< its number among the skins of the carried document
};
using SkinPtr = std::shared_ptr<const Skin>;

/// From the shape to the frame of `part` by each of its joints, as they stand; nullopt when a joint is gone or what
/// stands between the part and its joints is flattened. Where the joints are below the part, moving it changes no bit.
std::optional<std::vector<Affine>> pose_of(const Scene& scene, PartId part);

/// Bends the meshes of `after` whose joints have moved since `before` (or since they were made). Fails in words where a
/// joint of a part that stays is gone, and where a part was moved that stands where its joints put it, and those
/// stayed. O(joints × depth), and O(vertices) of what is bent.
Result<void> settle_skins(const Scene& before, Scene& after);

/// What stands above the joints of `part` and carries them, itself where it does; kNoPart for a part without joints.
PartId carrier_of_joints(const Scene& scene, PartId part);

}  // namespace tack
