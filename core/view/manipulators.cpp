#include "core/view/manipulators.h"

#include <cmath>

namespace tack {
namespace {

int hue_of(const std::array<bool, 3>& axes) { return axes[0] ? 0 : axes[1] ? 1 : axes[2] ? 2 : -1; }

std::optional<Vec3> shift_in_plane(const Pull& pull, const Vec3& normal) {
  const auto from = on_plane(pull.view, pull.handle.at, normal, pull.from_x, pull.from_y);
  const auto to = on_plane(pull.view, pull.handle.at, normal, pull.x, pull.y);
  return from && to ? std::optional(*to - *from) : std::nullopt;
}

std::optional<Vec3> shift_along(const Pull& pull, const Vec3& axis) {
  const auto from = along_axis(pull.view, pull.handle.at, axis, pull.from_x, pull.from_y);
  const auto to = along_axis(pull.view, pull.handle.at, axis, pull.x, pull.y);
  return from && to ? std::optional(axis * (*to - *from)) : std::nullopt;
}

}  // namespace

std::vector<Handle> handles(const Rulers& rulers, const View& view) {
  return move_handles(view, rulers.origin, rulers.frame);
}

std::optional<Vec3> shift_of(const Rulers& rulers, const Pull& pull, const std::array<bool, 3>& axes) {
  const int count = int(axes[0]) + int(axes[1]) + int(axes[2]);
  if (count == 1) return shift_along(pull, rulers.frame.column[static_cast<std::size_t>(hue_of(axes))]);
  Vec3 normal = pull.view.back();
  if (count == 2)
    for (std::size_t i = 0; i < 3; ++i)
      if (!axes[i]) normal = rulers.frame.column[i];
  return shift_in_plane(pull, normal);
}

std::vector<Handle> handles(const Arcs& arcs, const View& view) {
  return rotate_handles(view, arcs.centre, arcs.frame);
}

Vec3 axis_of(const Arcs& arcs, const Pull& pull) {
  const int axis = hue_of(pull.handle.axes);
  return axis < 0 ? pull.view.back() : arcs.frame.column[static_cast<std::size_t>(axis)];
}

void pull_to(Pull& pull, const Arcs& arcs, double x, double y) {
  if (pull.handle.kind == Handle::Kind::Arc) {
    const auto angle = [&](double px, double py) {
      return angle_between_pixels(pull.view, pull.handle.at, axis_of(arcs, pull), pull.from_x, pull.from_y, px, py);
    };
    pull.turned += std::remainder(angle(x, y) - angle(pull.x, pull.y), 360.0);
  }
  pull.x = x;
  pull.y = y;
}

std::vector<Handle> handles(const Pads& pads, const View& view) {
  constexpr double kApart = 14;
  return thinned(view, scale_handles(pads.from_fractions, pads.flat), kApart);
}

std::optional<Vec3> shift_of(const Pads& pads, const Pull& pull) {
  const auto& axes = pull.handle.axes;
  if (int(axes[0]) + int(axes[1]) + int(axes[2]) != 1) return shift_in_plane(pull, pull.view.back());
  return shift_along(pull, normalized(pads.from_fractions.linear.column[static_cast<std::size_t>(hue_of(axes))]));
}

std::optional<Vec3> fraction_near(const Pads& pads, const View& view, double x, double y, double reach) {
  std::optional<Vec3> nearest;
  for (int n = 0; n < 27; ++n) {
    const int column = n % 3, row = n / 3 % 3, layer = n / 9;
    const Vec3 fraction{column * 0.5, row * 0.5, layer * 0.5};
    const auto pixel = view.project(pads.from_fractions * fraction);
    if (!pixel) continue;
    if (const double off = std::hypot(x - pixel->x, y - pixel->y); off < reach) reach = off, nearest = fraction;
  }
  return nearest;
}

Vec3 carried(const Pull& pull) { return pull.view.point_level_with(pull.handle.at, pull.x, pull.y); }

std::optional<Gauges::Arc> grown_arc(const Arcs& arcs, const Pull& pull, double degrees) {
  const Vec3 axis = axis_of(arcs, pull);
  const auto start = on_plane(pull.view, pull.handle.at, axis, pull.from_x, pull.from_y);
  if (!start) return std::nullopt;
  return Gauges::Arc{pull.handle.at, axis, *start - pull.handle.at, degrees, hue_of(pull.handle.axes), {}};
}

}  // namespace tack
