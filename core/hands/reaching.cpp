#include "core/hands/reaching.h"

#include <algorithm>

namespace tack {
namespace {

constexpr double kLeastRing = 22;  // pixels

// The handle keeps what the drag began with: how far what was taken goes from its middle, and the reach (mm).
Vec3 kept_in(double taken, double reach) { return {taken, reach, 0}; }
double taken_of(const Handle& ring) { return ring.fraction.x; }
double reach_of(const Handle& ring) { return ring.fraction.y; }

std::vector<Vec3> ring_points(const View& view, const Vec3& middle, double radius) {
  return arc_points(middle, view.back(), view.right() * radius, 360);
}

}  // namespace

std::optional<Handle> reach_handle(const Scene& scene, PartId id, const View& view) {
  const Part* part = scene.find(id);
  if (!part || !part->patch || !part->mesh) return std::nullopt;
  const Affine world = world_of(scene, id);
  const Vec3 middle = world.translation;
  const double pixels = view.pixels_per_mm(middle);
  if (!(pixels > 0)) return std::nullopt;
  double taken = 0;
  if (const Box& box = part->mesh->box(); !box.empty())
    for (int n = 0; n < 8; ++n) {
      const Vec3 corner = box.at({n & 1 ? 1.0 : 0.0, n & 2 ? 1.0 : 0.0, n & 4 ? 1.0 : 0.0});
      taken = std::max(taken, distance(world * corner, middle));
    }
  const double radius = std::max(taken + part->patch->reach, kLeastRing / pixels);
  Handle ring{Handle::Kind::Ring, {}, middle, ring_points(view, middle, radius), kept_in(taken, part->patch->reach)};
  ring.box = kReachRing;
  return ring;
}

std::optional<Take> reached_by_hand(const Take& take, const Pull& pull, const Increments& increments, bool steps) {
  const Vec3& middle = pull.handle.at;
  const auto from = on_plane(pull.view, middle, pull.view.back(), pull.from_x, pull.from_y);
  const auto to = on_plane(pull.view, middle, pull.view.back(), pull.x, pull.y);
  if (!from || !to) return std::nullopt;
  const double was = reach_of(pull.handle), free = distance(*to, middle) - distance(*from, middle);
  Take reaching = take;
  reaching.reach = Amount{std::max(0.0, was + (steps ? increments.length.landed(was, free) : free))};
  return reaching;
}

Gauges reach_gauges(const Take& take, const Pull& pull, const LengthUnit& unit) {
  Gauges gauges;
  const Vec3& middle = pull.handle.at;
  const double taken = taken_of(pull.handle), reach = take.reach.value;
  const auto to = on_plane(pull.view, middle, pull.view.back(), pull.x, pull.y);
  Vec3 way = to ? *to - middle : pull.view.right();
  way = length(way) > 0 ? normalized(way) : pull.view.right();
  for (const double radius : {taken, taken + reach}) {
    const std::vector<Vec3> ring = ring_points(pull.view, middle, radius);
    for (std::size_t i = 0; i + 1 < ring.size(); ++i) gauges.outline.push_back({ring[i], ring[i + 1]});
  }
  gauges.rulers.push_back(
      {middle + way * taken, middle + way * (taken + reach), -1, 0, show_length(reach, unit, 3).text});
  return gauges;
}

}  // namespace tack
