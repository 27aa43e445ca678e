#include "core/hands/aligning.h"

namespace tack {
namespace {

Pads pads_from(const Box& box, const Mat3& frame) {
  const Vec3 size = box.size();
  Pads pads;
  pads.from_fractions = {frame * Mat3::diagonal(size), frame * box.low};
  for (int i = 0; i < 3; ++i) pads.flat[static_cast<std::size_t>(i)] = !(size[i] > 0);
  return pads;
}

// Where a side is on a box, or the place itself.
std::optional<Vec3> point_on(const AlignSide& side, const Scene& scene, const Pads& box, PartId part,
                             std::size_t axis) {
  if (side.at == AlignSide::At::Place) {
    const auto tack = side.place ? find_tack(scene, *side.place) : Result<Tack>(fail({}));
    return tack ? std::optional(tack->point) : std::nullopt;
  }
  if (side.at == AlignSide::At::Pivot) {
    const auto tack = find_tack(scene, {TackKind::Pivot, part, 0, {}});
    return tack ? std::optional(tack->point) : std::nullopt;
  }
  Vec3 fraction{0.5, 0.5, 0.5};
  fraction[static_cast<int>(axis)] = side.at == AlignSide::At::Low ? 0 : side.at == AlignSide::At::High ? 1 : 0.5;
  return box.from_fractions * fraction;
}

}  // namespace

std::optional<Pads> moving_pads(const Align& a, const Scene& scene) {
  const Mat3 frame = align_frame(a, scene);
  const Box box = moving_box(a, scene, frame);
  return box.empty() ? std::nullopt : std::optional(pads_from(box, frame));
}

std::optional<Pads> target_pads(const Align& a, const Scene& scene) {
  if (a.with_place || !a.has_target()) return std::nullopt;
  const Mat3 frame = align_frame(a, scene);
  const auto box = target_box(a, scene, frame);
  return box ? std::optional(pads_from(*box, frame)) : std::nullopt;
}

std::vector<Handle> align_handles(const Align& a, const Scene& scene, const View& view) {
  std::vector<Handle> all;
  const auto add = [&](const std::optional<Pads>& pads, int box) {
    if (!pads) return;
    for (Handle& point : handles(*pads, view)) {
      point.box = box;
      all.push_back(std::move(point));
    }
  };
  // All that is picked as its own target: there is one box, and it is the target.
  if (!a.pair_from.given() && !a.with_all) add(moving_pads(a, scene), 0);
  if (!a.pair_to.given()) add(target_pads(a, scene), 1);
  return all;
}

Align with_point(Align a, const Handle& point) {
  (point.box == 0 ? a.pair_from : a.pair_to) = {std::nullopt, point.fraction};
  if (point.box == 1 && a.with_all) a.pair_from.point = point.fraction;
  if (point.box == 0 && a.with_place) a.pair_to = {a.with_place, std::nullopt};
  return with_pair_settled(std::move(a));
}

std::vector<Gauges::Agreement> agreements_of(const Align& a, const Scene& before, const Scene& after,
                                             const LengthUnit& unit) {
  std::vector<Gauges::Agreement> all;
  const auto mine = moving_pads(a, after), target = target_pads(a, before);
  const Mat3 frame = align_frame(a, before);
  for (std::size_t i = 0; i < 3; ++i) {
    const Align::Axis& along = a.sides[i];
    if (!along.given || !mine || a.what.empty()) continue;
    const auto from = point_on(along.mine, after, *mine, a.what.front(), i);
    std::optional<Vec3> to;
    if (target)
      to = point_on(along.theirs, before, *target, a.with, i);
    else if (a.with_place)
      if (const auto tack = find_tack(before, *a.with_place)) to = tack->point;
    if (!from || !to) continue;
    // Both lines run level: each keeps its own height along the axis, and they end halfway between the two.
    const Vec3& axis = frame.column[i];
    const Vec3 middle = (*from + *to) * 0.5;
    const auto level = [&](const Vec3& p) { return middle + axis * dot(axis, p - middle); };
    Gauges::Agreement agreement{*from, *to, level(*from), level(*to), static_cast<int>(i), {}};
    const double gap = std::abs(dot(axis, *from - *to));
    if (is_said(along.gap)) agreement.text = show_length(gap, unit, 3).text;
    all.push_back(std::move(agreement));
  }
  return all;
}

}  // namespace tack
