// Moving some vertices of a mesh, and what is near them by a share.
#pragma once

#include <mutex>

#include "core/mesh/elements.h"

namespace tack {

/// Where the faces around vertices looked on the mesh that was changed last: a drag changes the same one again and
/// again.
class AreaSums {
 public:
  using Sums = std::shared_ptr<const std::vector<Vec3>>;
  template <class Make>
  Sums of(const Mesh& mesh, Make&& make) {
    const std::lock_guard lock(mutex_);
    if (!sums_ || number_ != mesh.number()) {
      sums_ = std::make_shared<const std::vector<Vec3>>(make());
      number_ = mesh.number();
    }
    return sums_;
  }

 private:
  std::mutex mutex_;
  std::uint64_t number_ = 0;
  Sums sums_;
};

/// The vertices of a mesh that a change reaches, and by how much. Found once for what is taken, used by every move.
struct Shares {
  std::vector<std::uint32_t> vertices;  ///< sorted; all those of a seam
  std::vector<double> shares;           ///< of each: 1 for the elements themselves, above 0 for what is near
  /// Where the mesh has normals: the vertices whose normals may turn, sorted; the triangles around them; and which of
  /// those each has (CSR by `around`, into `triangles`).
  std::vector<std::uint32_t> around, triangles, first_triangle, triangle_at;
  std::shared_ptr<AreaSums> before;  ///< null where the mesh has no normals
  /// The lowest vertices at their places, of `vertices`: the place in `vertices` of each, by its own.
  std::vector<std::uint32_t> lowest;

  static constexpr std::uint32_t kNone = 0xFFFFFFFFu;
};

/// With a reach of 0 the elements alone; else those within it, by share_at(), along the surface or through space.
/// `to_space` carries the mesh into a space in millimetres.
Shares shares_of(const Mesh& mesh, const Elements& elements, const Mat3& to_space, double reach, bool surface);

/// The same for vertices that are known with their shares: sorted, all those of a seam.
Shares shares_with(const Mesh& mesh, std::vector<std::uint32_t> vertices, std::vector<double> shares);

/// The mesh with its vertices elsewhere, one place for each of shares.vertices. Stored normals turn as the faces around
/// them do on average, so that soft and hard edges stay what they are; by areas in float, so that they are off by up to
/// 1e-6 of their length, divided by the sine of the angle where that is more than a right one. Fails for places that
/// cannot be used.
Result<MeshPtr> moved(const Mesh& mesh, const Shares& shares, std::span<const Vec3> places);
/// Each by its share of the way to where `change` takes it; those with a share of 1 exactly there.
Result<MeshPtr> moved(const Mesh& mesh, const Shares& shares, const Affine& change);

/// Where a place of the mesh goes with its vertices, and how a direction there turns: in a triangle of which one moves,
/// with its corners and with its normal; elsewhere, and farther off the surface than 1e-6 of the mesh's extent, it
/// stays.
struct GoneAlong {
  Vec3 place;
  Mat3 turn;
};
GoneAlong gone_along(const Mesh& before, const Mesh& after, const Shares& shares, const Vec3& place);

/// Places for shares.vertices after passes of smoothing, each towards the mean of the neighbours by `strength` (above
/// 0, at most 0.65: more does not settle). With `keeps_volume` each pass goes away from it again, by Taubin (1995), so
/// that fine roughness goes and large shapes stay; a closed mesh that takes part as a whole gets its volume back to
/// within 1e-6. Without, a dent fills up and a bump goes, to the surface that what stays spans. Borders keep to
/// their line and their corners stay. Neighbours that have no share stay and are smoothed towards.
std::vector<Vec3> smoothed(const Mesh& mesh, const Shares& shares, int passes, double strength, bool keeps_volume);

/// How vertices are pushed out.
enum class Outward {
  Faces,   ///< every taken face by the whole distance: walls keep their thickness (the offset planes' meeting point)
  Normals  ///< every vertex by the distance along the angle-weighted mean of the normals around it
};
/// Places for shares.vertices, pushed out of the surface by `by` mm of the space that `to_space` leads to; what is near
/// is pushed along its own normal by its share. Where more than two taken planes meet it is least squares, so exact
/// where they meet in a point that is not far off; planes that nearly share a line count as if they did. Fails where
/// taken faces fold back onto each other, so that their offset planes do not meet, and for vertices without a face.
Result<std::vector<Vec3>> pushed(const Mesh& mesh, const Elements& elements, const Shares& shares,
                                 const Affine& to_space, double by, Outward way);

/// Places for shares.vertices after sliding a run of edges along the edges beside it: by a share of each of these (−1
/// to 1), to the left of the run for positive ones, as seen from outside with the run going on from its lowest-numbered
/// end (in the mesh's own coordinates: where it stands mirrored, left and right change places). Fails for edges that
/// are not runs, and where there is no edge on that side.
Result<std::vector<Vec3>> slid(const Mesh& mesh, const Elements& elements, const Shares& shares, double share);

}  // namespace tack
