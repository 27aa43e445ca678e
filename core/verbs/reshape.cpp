#include "core/verbs/reshape.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/mesh/transform.h"

namespace tack {
namespace {

bool is_rotation(const Mat3& m) {
  double off = std::abs(determinant(m) - 1);
  for (int c = 0; c < 3; ++c) off = std::max(off, std::abs(length(m.column[c]) - 1));
  return off <= 1e-12 && is_similarity(m);
}

// Takes `change` (from old to new mesh coordinates) into everything that hangs in the part's frame.
Result<void> change_children(Scene& scene, PartId id, const Affine& change) {
  for (const PartId child : scene.part(id).children) {
    Part part = scene.part(child);
    // What an animation has made flat at rest has a size that cannot be seen here: only a turn can be taken in by it.
    const bool flat = unflattened(part.placement) != part.placement;
    if (flat && part.source->animated && !is_rotation(change.linear))
      return fail(
          fmt::format("\"{}\" is flattened by its animation, so what it stands in can take no size in.", part.name));
    const Affine local = change * matrix_of(unflattened(part.placement));
    auto placement = with_linear(unflattened(part.placement), local.linear);
    if (!placement) return tl::unexpected(placement.error());
    for (int i = 0; i < 3; ++i)
      if (part.placement.scale[i] == 0) placement->scale[i] = 0;
    placement->position = local * part.placement.pivot;
    part.placement = *placement;
    part.quarters.reset();
    scene.replace(child, std::move(part));
  }
  return {};
}

// Whether a part's frame can be changed: joints bend some meshes, and some parts have a camera, a light, copies or what
// is not known here standing in their frame; beside a mesh those cannot be turned back, and alone not be unskewed.
Result<void> can_take_in(const Part& part, const Mat3& change) {
  if (part.skin) return fail(fmt::format("\"{}\" is bent by its joints, so its mesh cannot be changed.", part.name));
  if (part.source->frame_used && (part.mesh || !is_similarity(change)))
    return fail(
        fmt::format("\"{}\" has more than its mesh in the mesh's frame (a camera, a light, copies), which would be "
                    "turned with it.",
                    part.name));
  return {};
}

// A part after its mesh has been taken through `change`. `shared` is what has become of the mesh that it shares with
// others, `live` of its dimensions, where it has some.
Result<void> take_in(Part& part, const Affine& change, const MeshPtr& shared, const LiveShapePtr& live) {
  if (part.stretched) {
    auto from = std::make_shared<StretchedFrom>(*part.stretched);
    from->base = shared;
    for (Lengthening& l : from->lengths) {
      // Heights grow by what the change makes of the normal.
      const double before = l.band.high - l.band.low;
      l.band = carried_along(l.band, change);
      l.by *= (l.band.high - l.band.low) / before;
    }
    auto mesh = stretched(*from);
    if (!mesh) return fail(mesh.error().what, part.name);
    part.mesh = std::move(*mesh);
    part.stretched = std::move(from);
  } else {
    part.mesh = shared;
  }
  part.shape = live;
  part.source.change().baked = change * part.source->baked;
  part.kept = carried_along(part.kept, change);
  if (part.bands) {
    auto bands = std::make_shared<KeptBands>(*part.bands);
    for (KeptBand& kept : *bands) kept.band = carried_along(kept.band, change);
    part.bands = std::move(bands);
  }
  part.quarters.reset();
  return {};
}

}  // namespace

Result<Scene> with_placement(const Scene& scene, PartId id, const Placement& wanted, Copies copies) {
  Part part = scene.part(id);
  const Mat3 now = linear_of(part.placement), then = linear_of(wanted);
  const auto back = inverse(then);
  if (!back) return fail(fmt::format("\"{}\" would be flattened.", part.name));
  // p_new = then⁻¹ · now · p, about the pivot, which moves with wanted.pivot when that was set apart.
  Affine change{*back * now, {}};
  if (then == now) change.linear = {};
  if (part.placement.position != wanted.position || then != now)
    change.translation =
        *back * (part.placement.position - wanted.position) + wanted.pivot - change.linear * part.placement.pivot;
  else
    change.translation = wanted.pivot - part.placement.pivot;
  if (const auto ok = can_take_in(part, change.linear); !ok) return tl::unexpected(ok.error());
  Scene result = scene;
  part.placement = wanted;
  if (copies == Copies::Separate) part.stretched = nullptr;
  if (part.mesh) {
    LiveShapePtr live;
    if (part.shape)
      if (auto next = taken_through(*part.shape, change)) live = std::make_shared<const LiveShape>(std::move(*next));
    // What is made from dimensions is made anew: its numbers stay as exact as they are typed.
    auto mesh = live ? make_mesh(mesh_data_of(live->shape, live->frame)) : transformed(*shared_mesh(part), change);
    if (!mesh) return fail(mesh.error().what, part.name);
    if (copies == Copies::All) {
      const auto undo = inverse(change);
      for (const PartId other : instances_of(scene, id)) {
        Part copy = result.part(other);
        for (const Part* p = &copy; p; p = result.find(p->parent))
          if (p->locked)
            return fail(fmt::format("\"{}\" is an instance of it, and is locked.", copy.name), {},
                        "Unlock it in Parts, or change this one only.");
        if (const auto ok = can_take_in(copy, change.linear); !ok) return tl::unexpected(ok.error());
        auto placement = with_linear(copy.placement, linear_of(copy.placement) * undo->linear);
        if (!placement) return tl::unexpected(placement.error());
        // The pivot keeps its place in the world: its coordinates follow the mesh.
        placement->pivot = change * copy.placement.pivot;
        copy.placement = *placement;
        if (auto ok = take_in(copy, change, *mesh, live); !ok) return tl::unexpected(ok.error());
        result.replace(other, std::move(copy));
        if (auto ok = change_children(result, other, change); !ok) return tl::unexpected(ok.error());
      }
    }
    if (auto ok = take_in(part, change, *mesh, live); !ok) return tl::unexpected(ok.error());
  } else {
    part.source.change().baked = change * part.source->baked;
    part.kept = carried_along(part.kept, change);
    part.quarters.reset();
  }
  result.replace(id, std::move(part));
  if (auto ok = change_children(result, id, change); !ok) return tl::unexpected(ok.error());
  return result;
}

Result<Scene> with_own_axes(const Scene& scene, PartId id, const Mat3& axes, Copies copies) {
  const Part& part = scene.part(id);
  const Affine world = world_of(scene, id), parent = parent_world_of(scene, id);
  const auto to_parent = inverse(parent.linear);
  if (!to_parent) return fail(fmt::format("\"{}\" belongs to a part that is flattened.", part.name));
  const Vec3 lengths{length(world.linear.column[0]), length(world.linear.column[1]), length(world.linear.column[2])};
  const double off = 1e-9 * lengths.x;
  const bool even = std::abs(lengths.x - lengths.y) <= off && std::abs(lengths.x - lengths.z) <= off &&
                    determinant(world.linear) > 0 && part.placement.skew == Vec3{};
  // Two negative factors are a half turn, which the new axes take up: what stays is the size.
  const double factor = even ? std::abs(part.placement.scale.x) : 1;
  const auto split = split_linear(*to_parent * axes);
  if (!split) return tl::unexpected(split.error());
  Placement wanted = part.placement;
  wanted.rotation = degrees_from_rotation(split->rotation);
  // Under an unevenly scaled parent the axes cannot be square without skew; the mesh takes up what remains.
  wanted.scale = even ? Vec3{factor, factor, factor} : Vec3{1, 1, 1};
  wanted.skew = {};
  const auto back = inverse(linear_of(wanted));
  if (!back) return fail(fmt::format("\"{}\" would be flattened.", part.name));
  wanted.pivot = *back * (linear_of(part.placement) * part.placement.pivot);
  return with_placement(scene, id, wanted, copies);
}

}  // namespace tack
