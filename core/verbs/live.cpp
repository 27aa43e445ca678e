#include "core/verbs/live.h"

#include <fmt/format.h>

#include "core/verbs/readdress.h"
#include "core/verbs/shape.h"

namespace tack {
namespace {

MeshMap map_between(const LiveShape& from, const LiveShape& to) {
  return [from, to](const Vec3& p) { return carried(from, to, p); };
}

std::shared_ptr<const KeptTacks> carried_tacks(const std::shared_ptr<const KeptTacks>& kept, const LiveShape& from,
                                               const LiveShape& to) {
  if (!kept) return kept;
  const Mat3 back = transpose(from.frame.linear);
  const MeshMap map = map_between(from, to);
  auto next = std::make_shared<KeptTacks>(*kept);
  for (KeptTack& tack : *next) {
    tack.point = map(tack.point);
    if (tack.direction)
      tack.direction = to.frame.linear * carried_direction(from.shape, to.shape, back * *tack.direction);
  }
  return next;
}

}  // namespace

Vec3 carried(const LiveShape& from, const LiveShape& to, const Vec3& place) {
  if (from.frame == Affine{} && to.frame == Affine{}) return carried(from.shape, to.shape, place);
  const Affine back = inverse(from.frame).value_or(Affine{});
  return to.frame * carried(from.shape, to.shape, back * place);
}

Result<Scene> with_dimensions(const Scene& scene, PartId id, const LiveShape& next, Copies copies) {
  if (auto ok = check(next.shape); !ok) return tl::unexpected(ok.error());
  auto mesh = make_mesh(mesh_data_of(next.shape, next.frame));
  if (!mesh) return fail(mesh.error().what, scene.part(id).name);
  std::vector<PartId> all{id};
  if (copies == Copies::All)
    for (const PartId other : instances_of(scene, id)) all.push_back(other);
  Scene result = scene;
  const auto live = std::make_shared<const LiveShape>(next);
  for (const PartId one : all) {
    Part part = scene.part(one);
    for (const Part* p = &part; p; p = scene.find(p->parent))
      if (p->locked && one != id)
        return fail(fmt::format("\"{}\" is an instance of it, and is locked.", part.name), {},
                    "Unlock it in Parts, or change this one only.");
    if (!part.shape) return fail(fmt::format("\"{}\" has no dimensions: it is a mesh.", part.name));
    const LiveShape was = *part.shape;
    const MeshMap map = map_between(was, next);
    // The pivot goes with its feature, and the frame stays where it was.
    const Vec3 pivot = map(part.placement.pivot);
    if (pivot != part.placement.pivot) {
      part.placement.position = part.local * pivot;
      part.placement.pivot = pivot;
    }
    part.kept = carried_tacks(part.kept, was, next);
    part.bands = nullptr;  // a shape has none: its dimensions say how long it is
    part.stretched = nullptr;
    part.mesh = *mesh;
    part.shape = live;
    part.source.change().carried_mesh = -1;
    result.replace(one, std::move(part));
    readdress(result, scene, one, map);
  }
  return result;
}

Scene with_sizes_as_dimensions(const Scene& before, Scene after, const std::vector<PartId>& parts) {
  for (const PartId id : parts) {
    const Part *was = before.find(id), *is = after.find(id);
    if (!is || !is->shape || !was || was->placement.scale == is->placement.scale ||
        was->placement.skew != is->placement.skew)
      continue;
    Placement wanted = is->placement;
    for (int i = 0; i < 3; ++i) wanted.scale[i] = std::copysign(was->placement.scale[i], is->placement.scale[i]);
    const auto back = inverse(linear_of(wanted));
    if (!back) continue;
    const Mat3 change = *back * linear_of(is->placement);
    if (!taken_through(*is->shape, {change, {}})) continue;
    // The mesh grows about the shape's own place, so that the pivot is all that has to be found again.
    wanted.pivot = change * is->placement.pivot;
    if (auto taken = with_placement(after, id, wanted, Copies::Separate)) after = std::move(*taken);
  }
  return after;
}

// Declared in shape.h.
std::string dimensions_words(const Shape& shape, const LengthUnit& unit) {
  const auto say = [&](Dimension d) { return show_length(shape[d], unit, 4).text; };
  using enum Dimension;
  switch (shape.kind) {
    case ShapeKind::Box:
    case ShapeKind::Plate: {
      std::string words = fmt::format("{} × {} × {}", say(Width), say(Depth), say(Height));
      if (shape[Corner] > 0) words += fmt::format(", corners {}", say(Corner));
      return words;
    }
    case ShapeKind::Cylinder: return fmt::format("{} across, {} high", say(Diameter), say(Height));
    case ShapeKind::Cone: return fmt::format("{} across, {} at its top, {} high", say(Diameter), say(Top), say(Height));
    case ShapeKind::Sphere: return fmt::format("{} across", say(Diameter));
    case ShapeKind::Torus: return fmt::format("{} across, {} thick", say(Diameter), say(Thickness));
    case ShapeKind::Tube:
      return fmt::format("{} across, {} of wall, {} high", say(Diameter), say(Thickness), say(Height));
    case ShapeKind::Line: return fmt::format("{} long", say(Width));
  }
  return {};
}

}  // namespace tack
