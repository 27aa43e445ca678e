// How far surfaces can go along a line until they touch others: the true contact of the triangles, not of boxes.
#pragma once

#include <map>
#include <memory>
#include <optional>

#include "core/scene/scene.h"

namespace tack {

/// Where something that falls first touches something that stands.
struct Landing {
  double way = 0;         ///< mm down until then; negative where it has to rise
  PartId part = kNoPart;  ///< what falls
  PartId on = kNoPart;    ///< what it touches
  Vec3 at;                ///< the point of what stands, world
};

/// Finds landings along one direction. Keeps what it has worked out of the meshes, for asking about many parts of the
/// same scene. Looks at the scene as long as it lives.
class FallSearch {
 public:
  /// `up` is of unit length, world: things fall against it.
  FallSearch(const Scene& scene, const Vec3& up);
  ~FallSearch();
  FallSearch(const FallSearch&) = delete;
  FallSearch& operator=(const FallSearch&) = delete;

  /// Parts of this body have moved along `up` by so much since, mm: for what falls after them.
  void shift(PartId part, double by);

  /// How far the meshes `falling` (ids of parts with a mesh) can go down until one of their triangles touches one of
  /// `standing`: the least height of what looks down over what looks up, wherever the two are above each other by more
  /// than a line (surfaces that only graze each other's sides do not stop a fall). What stands counts as below where it
  /// is not above the surface that would come to lie on it, and, for what has sunk in, where it is below the middle
  /// height of what falls: that rises, a ceiling stops nothing, and what lies already does not move. Open surfaces look
  /// both ways. Nothing further than `most` is looked for. Nullopt when nothing is below. The error is about 1e-15 ×
  /// the coordinates × the steepness of the surfaces (tangent of their angle to the plane across `up`), and never takes
  /// the contact outside the two triangles. Boxes are gone through from both sides, nearest first: of two meshes of
  /// 10,000 triangles some hundred pairs of triangles are looked at.
  std::optional<Landing> landing(const std::vector<PartId>& falling, const std::vector<PartId>& standing,
                                 double most = 1e300);

  /// The reach of parts along `up`, from the world's origin, mm; as they stand after shift(). Infinite for none.
  double lowest(const std::vector<PartId>& parts);
  double highest(const std::vector<PartId>& parts);

 private:
  struct Body;
  Body& body_of(PartId part);

  const Scene& scene_;
  Mat3 to_frame_;  // world directions to (x, y, up)
  std::map<PartId, std::unique_ptr<Body>> bodies_;
};

/// The parts with a mesh of the model that are shown, of `parts` and everything below them.
std::vector<PartId> meshes_within(const Scene& scene, const std::vector<PartId>& parts);

}  // namespace tack
