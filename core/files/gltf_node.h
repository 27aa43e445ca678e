// One glTF node's numbers, and the change between metres, Y up and millimetres, Z up.
#pragma once

#include <nlohmann/json.hpp>

#include "core/scene/placement.h"
#include "core/verbs/json.h"

namespace tack {

/// From metres, Y up to millimetres, Z up: (x, y, z) becomes 1000 · (x, −z, y).
Vec3 to_millimetres(const Vec3& metres);
Affine metres_to_millimetres();

/// The quaternion (x, y, z, w) of the quarter turn about X that leads from Y up to Z up.
inline constexpr double kHalfRoot = 0.70710678118654752440;

/// The matrix of a node: its `matrix`, or its translation, rotation and scale. Damaged members count as absent;
/// check_node() finds them.
Affine node_matrix(const Json& node);
/// Fails in words where translation, rotation, scale or matrix are not the numbers that they should be, or the matrix
/// is a projection.
Result<void> check_node(const Json& node);
/// Twelve numbers, the columns of the linear part and the translation, and back; nullopt for anything else.
Json affine_json(const Affine& affine);
std::optional<Affine> affine_from(const Json& json);
/// Whether the node has a matrix of its own, rather than translation, rotation and scale.
bool has_matrix(const Json& node);
/// The node's translation, rotation and scale as a placement, typed angles found from the quaternion; factors of zero
/// stay. Fails for a matrix that is flattened askew, so that no column of it is zero.
Result<Placement> node_placement(const Json& node);

/// The members `translation`, `rotation`, `scale` for a placement without skew; identities are left out, as glTF likes
/// it.
void write_transform(Json& node, const Vec3& translation, const Mat3& rotation, const Vec3& scale);

Json vec_json(const Vec3& v);
/// Three finite numbers, or nullopt.
std::optional<Vec3> vec_from(const Json& json);

}  // namespace tack
