#include "core/hands/sizing.h"

#include "core/verbs/verb.h"

namespace tack {
namespace {

// What stays still for a drag of this point of the box: what the draft names, else the opposite point.
About still_of(const Scale& draft, const Vec3& fraction, bool one) {
  if (names_still(draft)) return draft.hold;
  About still;
  still.kind = one ? About::Kind::OwnBox : About::Kind::AllBox;
  still.fraction = Vec3{1, 1, 1} - fraction;
  return still;
}

}  // namespace

std::optional<Pads> pads_of(const Scene& scene, const std::vector<PartId>& what) {
  const std::vector<PartId> parts = topmost(scene, what);
  if (parts.empty()) return std::nullopt;
  const bool one = parts.size() == 1;
  const Box box = one ? own_box(scene, parts.front()) : box_along(scene, parts, Mat3{});
  if (box.empty()) return std::nullopt;
  const Affine world = one ? world_of(scene, parts.front()) : Affine{};
  const Vec3 size = box.size();
  Pads pads{world * Affine{Mat3::diagonal(size), box.low}, {}};
  for (int i = 0; i < 3; ++i) pads.flat[static_cast<std::size_t>(i)] = !(size[i] > 0);
  return pads;
}

bool names_still(const Scale& draft) { return draft.hold != bottom(); }

Result<Scale> sized_by_hand(const Scale& draft, const Scene& scene, const Vec3& fraction, const Vec3& shift,
                            bool evenly, const Increments& increments, bool steps) {
  const auto pads = pads_of(scene, draft.what);
  if (!pads) return fail("There is nothing to size.");
  const std::vector<PartId> parts = topmost(scene, draft.what);
  const bool one = parts.size() == 1;
  Scale scale;
  scale.what = draft.what;
  scale.axes = one ? AxesKind::Local : AxesKind::World;
  scale.hold = still_of(draft, fraction, one);
  scale.evenly = evenly;
  // Everything is measured in fractions of the box: where the dragged point is, where what stays still is.
  Vec3 still = scale.hold.fraction;
  if (names_still(draft)) {
    const auto at = still_point(scale.hold, scene, parts.front(), parts, scale.axes);
    const auto back = inverse(pads->from_fractions);
    if (!at) return tl::unexpected(at.error());
    if (!back) return fail("What is flat cannot be sized about a place.", {}, "Hold a side of its box still.");
    still = *back * *at;
  }
  const auto landed = [&](double now, double size) {
    if (!steps) return size;
    const Increment& length = increments.length;
    return length.from == LandsFrom::Zero ? stepped(size, length.step) : now + stepped(size - now, length.step);
  };
  const Vec3 diagonal = pads->from_fractions.linear * (fraction - still);
  std::optional<double> share;
  if (evenly) share = 1 + dot(shift, diagonal) / std::max(1e-300, length_squared(diagonal));
  for (int i = 0; i < 3; ++i) {
    if (fraction[i] == 0.5) continue;
    const Vec3 side = pads->from_fractions.linear.column[static_cast<std::size_t>(i)];
    const double now = length(side), reach = fraction[i] - still[i];
    if (!(now > 0)) continue;
    if (!share && !(std::abs(reach) > 1e-6))
      return fail("That end is level with what stays still: drag another, or hold another place still.");
    const double size = landed(now, now * (share ? *share : 1 + dot(shift, side) / (now * now) / reach));
    if (size > 0)
      scale.size[static_cast<std::size_t>(i)] = Amount{size};
    else if (size < 0)
      scale.factor[static_cast<std::size_t>(i)] = Amount{size / now};
    else
      return fail("A size is more than 0.");
    if (evenly) break;
  }
  return scale;
}

std::optional<Scale> sized_up_to(const Scale& draft, const Scene& scene, const Handle& end, const Vec3& place) {
  const auto pads = pads_of(scene, draft.what);
  const auto axis = only_axis(end.axes);
  if (!pads || !axis) return std::nullopt;
  const Vec3 side = pads->from_fractions.linear.column[*axis], way = place - pads->from_fractions * end.fraction;
  // Level is along the other two sides; where there are none, square across this one.
  const auto back = inverse(pads->from_fractions);
  const double along = back ? (back->linear * way)[static_cast<int>(*axis)] : dot(way, side) / length_squared(side);
  auto scale = sized_by_hand(draft, scene, end.fraction, side * along, false, {}, false);
  return scale ? std::optional(std::move(*scale)) : std::nullopt;
}

}  // namespace tack
