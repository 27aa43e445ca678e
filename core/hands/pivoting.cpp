#include "core/hands/pivoting.h"

#include "core/hands/sizing.h"

namespace tack {

std::vector<Handle> pivot_handles(const Pivot& pivot, const Scene& scene, const View& view) {
  std::vector<Handle> all;
  if (const auto pads = pads_of(scene, pivot.what)) all = handles(*pads, view);
  if (pivot.what.size() != 1) return all;
  if (const auto at = find_tack(scene, {TackKind::Pivot, pivot.what.front(), 0, {}}))
    all.push_back(ring_handle(view, at->point));
  return all;
}

std::optional<Pivot> pivot_by_hand(const Pivot& draft, const Scene& scene, const Pull& pull) {
  constexpr double kHolds = 12;  // pixels
  Pivot pivot = draft;
  pivot.numbers = {};
  const auto pads = pads_of(scene, pivot.what);
  std::optional<Vec3> fraction;
  if (pull.handle.kind == Handle::Kind::Pad)
    fraction = pull.handle.fraction;
  else if (pads)
    fraction = fraction_near(*pads, pull.view, pull.x, pull.y, kHolds);
  if (fraction) {
    // One part: of its own box, or of everything below it; several: of the box of all.
    const bool one = topmost(scene, pivot.what).size() == 1;
    pivot.at = one ? bottom() : middle_of_all();
    pivot.at->fraction = *fraction;
    pivot.axes = one ? AxesKind::Local : AxesKind::World;
    return pivot;
  }
  const auto to = on_plane(pull.view, pull.handle.at, pull.view.back(), pull.x, pull.y);
  if (!to) return std::nullopt;
  pivot.at = about_place({TackKind::Point, kNoPart, 0, *to});
  return pivot;
}

Gauges pivot_gauges(const Pivot& pivot, const Scene& shown) {
  Gauges gauges;
  if (pivot.what.empty()) return gauges;
  if (const auto at = find_tack(shown, {TackKind::Pivot, pivot.what.front(), 0, {}})) gauges.still = at->point;
  return gauges;
}

}  // namespace tack
