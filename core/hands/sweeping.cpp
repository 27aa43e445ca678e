#include "core/hands/sweeping.h"

#include <algorithm>
#include <numbers>

#include "core/math/degrees.h"
#include "core/verbs/round_an_axis.h"

namespace tack {
namespace {

constexpr double kSweepPixels = 14;  // of the handle's arc, to either side

}  // namespace

double Sweep::last() const { return over * (count - 1) / gaps_round(over, count); }

Handle sweep_handle(const Sweep& sweep, const View& view) {
  const Vec3 axis = sweep.arcs.frame.column[static_cast<std::size_t>(sweep.axis)];
  const Vec3 end = rotation_about(axis, sweep.last()) * sweep.arm;
  const double pixels = length(end) * view.pixels_per_mm(sweep.arcs.centre + end);
  const double half = std::clamp(pixels > 0 ? kSweepPixels / pixels * (180 / std::numbers::pi) : 0, 0.5, 30.0);
  Handle handle{Handle::Kind::Arc,
                {},
                sweep.arcs.centre,
                arc_points(sweep.arcs.centre, axis, rotation_about(axis, -half) * end, 2 * half),
                {}};
  handle.axes[static_cast<std::size_t>(sweep.axis)] = true;
  return handle;
}

std::optional<double> swept(const Sweep& sweep, const Pull& pull, const Increments& increments, bool steps) {
  const double now = sweep.last();
  const double to = now + (steps ? increments.angle.landed(now, pull.turned) : pull.turned);
  // Over no angle they would all lie on each other.
  constexpr double kNothing = 1e-9;
  return std::abs(to) > kNothing ? std::optional(to) : std::nullopt;
}

Gauges::Arc sweep_arc(const Sweep& sweep, std::string text) {
  return {sweep.arcs.centre, sweep.arcs.frame.column[static_cast<std::size_t>(sweep.axis)],
          sweep.arm,         sweep.over,
          sweep.axis,        std::move(text)};
}

}  // namespace tack
