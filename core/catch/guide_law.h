// Where a guide or a plane stands that is said by other things: through places, beside an edge, off another plane.
#pragma once

#include <optional>

#include "core/catch/tack.h"

namespace tack {

/// Places nearer to one line than this (degrees) give no plane.
inline constexpr double kLeastAngle = 1e-4;
/// An edge that leaves a face by more than this (degrees) does not lie along it.
inline constexpr double kAlongFace = 1e-3;

/// The frame (to the world, columns unit and square to each other) with its origin at `origin`, x towards `second` and
/// y on the side of `third`. Error about 1e-16 of the coordinates ÷ the distances. Fails, with the angle, for places
/// within kLeastAngle of one line, and for places that coincide.
Result<Affine> frame_through(const Vec3& origin, const Vec3& second, const Vec3& third);

/// The direction (unit) of an edge, a line, an axis: along an edge, else the place's direction. Fails for a place that
/// lies along nothing.
Result<Vec3> line_direction(const Scene& scene, const TackAddress& address);

/// The frame of a guide under its law in the scene as it is: a line's z is its direction, a plane's z its normal.
/// At: z along the place's direction, x along its roll (those that frame_of() gives where it has none); `across` makes
/// another of its axes the normal, the others following in turn; then the offset along the normal, then the turn about
/// the plane's own axis. Points: see above; a line's x lies across it as near as can be to the first place's direction.
/// Beside: along the edge, at the distance from it towards the second place, in the plane of both (without one: square
/// to the edge's own normal, to the left of its direction); a negative distance lies on the other side. Angle: the
/// edge's direction turned about the third place's direction (without one the edge's own normal), through the second
/// place; the edge has to lie along that face within kAlongFace. Fails where a place is gone, where a side or a face
/// cannot be told, and as frame_through().
Result<Affine> frame_of_law(const GuideLaw& law, GuideKind kind, const Scene& scene);

/// The placement with which a part below `parent` stands in this frame; its factors are 1 unless the parent's need
/// others. `like` is what rounding may leave as it is. Fails under a flattened parent.
Result<Placement> placement_in(const Scene& scene, PartId parent, const Affine& frame, const Placement& like = {});

/// Guides whose law says otherwise since `before` are put where it says, in `after` itself. A guide that was itself
/// moved away from where its law has it does not follow any longer, and one does not whose places are gone, nor a copy
/// that stands elsewhere. O(guides that follow × what they follow).
void settle_guides(const Scene& before, Scene& after);

}  // namespace tack
