// A stroke of a brush over the surface of a mesh, and which vertices it reaches.
#pragma once

#include "core/mesh/shares.h"

namespace tack {

/// A place that the brush went over.
struct StrokePlace {
  std::uint32_t triangle = 0;
  Vec3 at;  ///< on it, in the mesh's coordinates

  friend bool operator==(const StrokePlace&, const StrokePlace&) = default;
};

/// The stroke as it lies on a mesh: places whose triangle is another one now, or does not exist, lie on the triangle
/// that is nearest to them in the mesh's coordinates, by the mesh's index; those that are `reach` (mm of the space that
/// `to_space` leads to) or more from it are left out. O(places × log triangles).
std::vector<StrokePlace> found_on(const Mesh& mesh, std::span<const StrokePlace> stroke, const Mat3& to_space,
                                  double reach);

/// The vertices that a round brush of the radius `reach` (mm of the space) goes over, each by share_at() its distance
/// through space from where the middle of the brush came nearest. Only what is connected with the triangle under the
/// brush by triangles that it touches: not the other side of a thin wall. Between two places the brush goes straight,
/// where that stays within its radius of the surface. Vertices at the very rim, whose share is below a thousandth, may
/// be left out. Empty where it goes over no vertex.
Shares shares_of_stroke(const Mesh& mesh, std::span<const StrokePlace> stroke, const Mat3& to_space, double reach);

}  // namespace tack
