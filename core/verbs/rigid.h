// Moving parts as one body, and putting right what rounding leaves.
#pragma once

#include <functional>
#include <span>

#include "core/entry/units.h"
#include "core/scene/scene.h"

namespace tack {

/// Where a part's pivot is (world, mm); of a part at the top its position, to the bit.
Vec3 pivot_in_world(const Scene& scene, PartId part);

/// Moves a part's pivot to `target` (world, mm) in `scene` itself, its placement otherwise unchanged. Ends within 1e-9
/// × (extent + distance from the origin): what a chain of parents costs is measured and corrected until it cannot be
/// bettered. Fails, the scene untouched, under a flattened parent and for a target that is not finite.
Result<void> put_pivot(Scene& scene, PartId part, const Vec3& target);

/// Moves parts as one rigid body: p goes to rotation · (p − from) + to, in the world (mm); each pivot as put_pivot has
/// it. With the identity as rotation nothing but positions change. Fails when a parent flattens its children, or when
/// the result would be skewed to zero size.
Result<Scene> moved_rigidly(const Scene& scene, const std::vector<PartId>& parts, const Mat3& rotation,
                            const Vec3& from, const Vec3& to);

/// The same with an even factor: p goes to rotation · (p − from) · factor + to; each part's own scale takes the factor.
Result<Scene> moved_alike(const Scene& scene, const std::vector<PartId>& parts, const Mat3& rotation, double factor,
                          const Vec3& from, const Vec3& to);

/// What is still missing (world, mm), measured from the stored numbers; nullopt when it cannot be measured.
using Missing = std::function<std::optional<Vec3>(const Scene&)>;
/// Shifts the leading part by what is missing, again and again, as long as that gets smaller: the last digits of a
/// result that went through a chain of parents. The other parts then go the same way. Fails under a flattened parent.
Result<void> settle(Scene& scene, std::span<const PartId> parts, PartId leading, const Missing& missing);

/// "The numbers it is stored in cannot hold that exactly: "P0" is off by 0.3 mm." `off` in mm.
std::string strayed_sentence(const std::string& name, double off, const LengthUnit& unit);
/// What a change could not put where it should be, as strayed_sentence() says it of the part that is furthest off: by
/// the corner of its box (a group: its pivot) that lies furthest from where `motion` takes it (world to world). Empty
/// when all of `what`, without what is below another of them, are there within 1e-9 × (extent + distance from the
/// origin). Only parts that stand in another can stray: a thousand others cost no more than to look at.
std::string strayed_words(const Scene& before, const Scene& after, const std::vector<PartId>& what,
                          const std::function<std::optional<Affine>(PartId)>& motion, const LengthUnit& unit);

}  // namespace tack
