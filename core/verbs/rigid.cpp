#include "core/verbs/rigid.h"

#include <fmt/format.h>

#include "core/verbs/turn.h"

namespace tack {
namespace {

// More corrections than this have never made anything better: what is left is the last bit of the stored numbers.
constexpr int kMostCorrections = 12;

Affine world_about(const Scene& scene, PartId id) {
  return world_of(scene, id) * translation(scene.part(id).placement.pivot);
}

// How far a part's own box, or a group's pivot, lies from where `motion` takes it; 0 within the bound.
double strayed(const Scene& before, const Scene& after, PartId id, const Affine& motion) {
  const Part *was = before.find(id), *is = after.find(id);
  if (!was || !is) return 0;
  const Affine from = motion * world_about(before, id), to = world_about(after, id);
  double off = distance(from.translation, to.translation), reach = length(to.translation) + 1;
  if (is->mesh && is->mesh == was->mesh) {
    Box box;
    for (const Vec3& corner : is->mesh->box().corners()) {
      const Vec3 there = to * (corner - is->placement.pivot);
      off = std::max(off, distance(from * (corner - was->placement.pivot), there));
      box.include(there);
    }
    reach += box.extent();
  }
  return off <= 1e-9 * reach ? 0 : off;
}

}  // namespace

Vec3 pivot_in_world(const Scene& scene, PartId id) {
  const Placement& placement = scene.part(id).placement;
  return scene.part(id).parent == kNoPart ? placement.position : world_of(scene, id) * placement.pivot;
}

Result<void> put_pivot(Scene& scene, PartId id, const Vec3& target) {
  if (!is_finite(target)) return fail("The place to move to is not a finite number.");
  const Affine parent = parent_world_of(scene, id);
  Placement placement = scene.part(id).placement;
  if (parent == Affine{}) {
    placement.position = target;
  } else {
    const auto to_parent = inverse(parent);
    if (!to_parent)
      return fail(fmt::format("\"{}\" cannot be moved: the part it belongs to is flattened.", scene.part(id).name));
    placement.position = *to_parent * target;
    for (int pass = 0; pass < kMostCorrections; ++pass) {
      const Vec3 off = target - parent * placement.position;
      const Vec3 better = placement.position + to_parent->linear * off;
      if (distance(parent * better, target) >= length(off)) break;
      placement.position = better;
    }
  }
  if (!is_finite(placement.position)) return fail("The place to move to is out of reach of double numbers.");
  scene.place(id, placement);
  return {};
}

Result<Scene> moved_rigidly(const Scene& scene, const std::vector<PartId>& parts, const Mat3& rotation,
                            const Vec3& from, const Vec3& to) {
  Scene result = scene;
  const bool turns = rotation != Mat3{};
  for (const PartId id : parts) {
    const Vec3 pivot = pivot_in_world(scene, id);
    if (turns) {
      auto part = turned(result, id, {rotation, 0});
      if (!part) return tl::unexpected(part.error());
      result.place(id, part->placement, part->quarters);
    }
    // Without a turn the shift alone is added: no round trip through from and to that would cost a bit.
    const Vec3 target = turns ? rotation * (pivot - from) + to : add_decimals(pivot, to - from);
    if (const auto ok = put_pivot(result, id, target); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

Result<Scene> moved_alike(const Scene& scene, const std::vector<PartId>& parts, const Mat3& rotation, double factor,
                          const Vec3& from, const Vec3& to) {
  auto result = moved_rigidly(scene, parts, rotation, from, to);
  if (!result || factor == 1) return result;
  if (!(factor > 0) || !std::isfinite(factor)) return fail("The part would be flattened.");
  for (const PartId id : parts) {
    // The pivot lies where the turn alone has put it; from there it goes out or in along the line from `to`.
    const Vec3 pivot = world_of(*result, id) * result->part(id).placement.pivot;
    Placement placement = result->part(id).placement;
    placement.scale = placement.scale * factor;
    result->place(id, placement);
    if (const auto ok = put_pivot(*result, id, to + (pivot - to) * factor); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

Result<void> settle(Scene& scene, std::span<const PartId> parts, PartId leading, const Missing& missing) {
  if (!scene.contains(leading)) return {};
  const auto pivot = [&](PartId id) { return world_of(scene, id) * scene.part(id).placement.pivot; };
  const Vec3 before = pivot(leading);
  auto left = missing(scene);
  for (int pass = 0; pass < kMostCorrections && left && *left != Vec3{}; ++pass) {
    const Placement kept = scene.part(leading).placement;
    const bool moved = put_pivot(scene, leading, add_decimals(pivot(leading), *left)).has_value();
    const auto then = moved ? missing(scene) : std::nullopt;
    if (!then || length(*then) >= length(*left)) {
      scene.place(leading, kept);
      break;
    }
    left = then;
  }
  const Vec3 shift = pivot(leading) - before;
  if (shift == Vec3{}) return {};
  for (const PartId id : parts)
    if (id != leading)
      if (auto ok = put_pivot(scene, id, add_decimals(pivot(id), shift)); !ok) return ok;
  return {};
}

std::string strayed_words(const Scene& before, const Scene& after, const std::vector<PartId>& what,
                          const std::function<std::optional<Affine>(PartId)>& motion, const LengthUnit& unit) {
  const auto nested = [&](PartId id) {
    const Part* part = before.find(id);
    return part && part->parent != kNoPart;
  };
  if (std::none_of(what.begin(), what.end(), nested)) return {};
  double worst = 0;
  PartId furthest = kNoPart;
  for (const PartId id : topmost(before, what)) {
    if (!nested(id)) continue;
    const auto wanted = motion(id);
    const double off = wanted ? strayed(before, after, id, *wanted) : 0;
    if (off > worst) worst = off, furthest = id;
  }
  if (furthest == kNoPart) return {};
  return strayed_sentence(before.part(furthest).name, worst, unit);
}

std::string strayed_sentence(const std::string& name, double off, const LengthUnit& unit) {
  return fmt::format("The numbers it is stored in cannot hold that exactly: \"{}\" is off by {}.", printable(name),
                     show_length(off, LengthUnit{unit.name, unit.millimetres}, 9).text);
}

}  // namespace tack
