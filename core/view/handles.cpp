#include "core/view/handles.h"

#include <charconv>

#include "core/math/degrees.h"

namespace tack {
namespace {

constexpr int kArcSteps = 24;

std::array<bool, 3> only(std::size_t axis) {
  std::array<bool, 3> axes{};
  axes[axis] = true;
  return axes;
}

Vec3 sight_at(const View& view, const Vec3& point) {
  return view.perspective ? normalized(point - view.eye) : -view.back();
}

// The distance of a pixel from a line on the picture, and the depth there.
std::optional<std::pair<double, double>> distance_to(const View& view, const std::vector<Vec3>& line, double x,
                                                     double y) {
  std::optional<std::pair<double, double>> best;
  const auto consider = [&](double d, double depth) {
    if (!best || d < best->first) best = {d, depth};
  };
  std::optional<View::Pixel> before;
  for (const Vec3& p : line) {
    const auto now = view.project(p);
    if (now && before) {
      const double ux = now->x - before->x, uy = now->y - before->y, len = ux * ux + uy * uy;
      const double t = len > 0 ? std::clamp(((x - before->x) * ux + (y - before->y) * uy) / len, 0.0, 1.0) : 0;
      consider(std::hypot(x - before->x - t * ux, y - before->y - t * uy), now->depth);
    } else if (now) {
      consider(std::hypot(x - now->x, y - now->y), now->depth);
    }
    before = now;
  }
  return best;
}

}  // namespace

Handle ring_handle(const View& view, const Vec3& origin) {
  Handle ring{Handle::Kind::Ring, {}, origin, {}, {}};
  const double scale = view.pixels_per_mm(origin);
  if (!(scale > 0)) return ring;
  for (int k = 0; k <= kArcSteps; ++k) {
    const SinCos a = sin_cos_degrees(360.0 * k / kArcSteps);
    ring.line.push_back(origin + (view.right() * a.cos + view.up() * a.sin) * (kRingPixels / scale));
  }
  return ring;
}

std::vector<Handle> move_handles(const View& view, const Vec3& origin, const Mat3& frame) {
  std::vector<Handle> handles;
  const double scale = view.pixels_per_mm(origin);
  if (!(scale > 0)) return handles;
  const double length_mm = kRulerPixels / scale;
  const Vec3 sight = sight_at(view, origin);
  const double most = sin_cos_degrees(78).sin;
  for (std::size_t i = 0; i < 3; ++i)
    if (std::abs(dot(frame.column[i], sight)) < most)
      handles.push_back({Handle::Kind::Ruler, only(i), origin, {origin, origin + frame.column[i] * length_mm}, {}});
  for (std::size_t i = 0; i < 3; ++i) {
    const Vec3 &a = frame.column[(i + 1) % 3], &b = frame.column[(i + 2) % 3];
    if (std::abs(dot(cross(a, b), sight)) < 0.2) continue;
    // An open bracket: two short strokes that meet off the rulers.
    const double out = 0.40 * length_mm, in = 0.26 * length_mm;
    std::array<bool, 3> axes{true, true, true};
    axes[i] = false;
    handles.push_back({Handle::Kind::Corner,
                       axes,
                       origin,
                       {origin + a * out + b * in, origin + a * out + b * out, origin + a * in + b * out},
                       {}});
  }
  handles.push_back(ring_handle(view, origin));
  return handles;
}

std::vector<Handle> rotate_handles(const View& view, const Vec3& origin, const Mat3& frame) {
  std::vector<Handle> handles;
  const double scale = view.pixels_per_mm(origin);
  if (!(scale > 0)) return handles;
  const double radius = kArcPixels / scale;
  const Vec3 sight = sight_at(view, origin);
  for (std::size_t i = 0; i < 3; ++i) {
    if (std::abs(dot(frame.column[i], sight)) < sin_cos_degrees(8).sin) continue;
    Handle arc{Handle::Kind::Arc, only(i), origin, {}, {}};
    for (int k = 0; k <= kArcSteps; ++k) {
      const SinCos a = sin_cos_degrees(15 + 60.0 * k / kArcSteps);
      arc.line.push_back(origin + (frame.column[(i + 1) % 3] * a.cos + frame.column[(i + 2) % 3] * a.sin) * radius);
    }
    handles.push_back(std::move(arc));
  }
  // Round the line of sight: a wider arc below, where none of the others is.
  Handle view_arc{Handle::Kind::Arc, {}, origin, {}, {}};
  for (int k = 0; k <= kArcSteps; ++k) {
    const SinCos a = sin_cos_degrees(240 + 60.0 * k / kArcSteps);
    view_arc.line.push_back(origin + (view.right() * a.cos + view.up() * a.sin) * (radius * 1.28));
  }
  handles.push_back(std::move(view_arc));
  handles.push_back(ring_handle(view, origin));
  return handles;
}

std::vector<Handle> scale_handles(const Affine& from_fractions, const std::array<bool, 3>& flat) {
  std::vector<Handle> handles;
  for (int n = 0; n < 27; ++n) {
    const int x = n % 3, y = n / 3 % 3, z = n / 9;
    const Vec3 fraction{x * 0.5, y * 0.5, z * 0.5};
    Handle pad{Handle::Kind::Pad, {}, from_fractions * fraction, {}, fraction};
    bool any = false, possible = true;
    for (int i = 0; i < 3; ++i) {
      pad.axes[static_cast<std::size_t>(i)] = fraction[i] != 0.5;
      any |= fraction[i] != 0.5;
      possible &= fraction[i] == 0.5 || !flat[static_cast<std::size_t>(i)];
    }
    if (!any || !possible) continue;
    pad.line = {pad.at};
    handles.push_back(std::move(pad));
  }
  return handles;
}

std::vector<Handle> thinned(const View& view, std::vector<Handle> handles, double pixels) {
  const auto rank = [](const Handle& h) {
    if (h.kind != Handle::Kind::Pad) return -1;
    const int axes = int(h.axes[0]) + int(h.axes[1]) + int(h.axes[2]);
    return axes == 1 ? 0 : axes == 3 ? 1 : 2;
  };
  std::stable_sort(handles.begin(), handles.end(), [&](const Handle& a, const Handle& b) { return rank(a) < rank(b); });
  std::vector<Handle> kept;
  std::vector<View::Pixel> places;
  for (Handle& h : handles) {
    const auto px = view.project(h.at);
    const bool pad = h.kind == Handle::Kind::Pad;
    if (pad && (!px || std::any_of(places.begin(), places.end(), [&](const View::Pixel& p) {
          return std::hypot(p.x - px->x, p.y - px->y) < pixels;
        })))
      continue;
    if (pad) places.push_back(*px);
    kept.push_back(std::move(h));
  }
  return kept;
}

int handle_at(const View& view, const std::vector<Handle>& handles, double x, double y) {
  int best = -1;
  double best_distance = kHandleReach, best_depth = 0;
  for (std::size_t i = 0; i < handles.size(); ++i) {
    const Handle& h = handles[i];
    auto off = distance_to(view, h.line, x, y);
    if (!off) continue;
    // The small ring is a disc to the hand.
    if (h.kind == Handle::Kind::Ring && h.box == 0) {
      const auto centre = view.project(h.at);
      if (centre && std::hypot(x - centre->x, y - centre->y) <= kRingPixels) off->first = 0;
    }
    const double d = off->first;
    const bool equal = best >= 0 && std::abs(d - best_distance) < 0.5;
    // Where an arc crosses a ruler it is meant: the ruler can be had anywhere else along it.
    const auto is_arc = [&](const Handle& handle) { return handle.kind == Handle::Kind::Arc; };
    const bool crosses = equal && is_arc(h) != is_arc(handles[static_cast<std::size_t>(best)]);
    const bool gives_way = crosses ? !is_arc(h) : equal && off->second >= best_depth;
    if (d > kHandleReach || (best >= 0 && !equal && d > best_distance) || gives_way) continue;
    best = static_cast<int>(i);
    best_distance = d;
    best_depth = off->second;
  }
  return best;
}

std::optional<double> along_axis(const View& view, const Vec3& origin, const Vec3& axis, double x, double y) {
  const Ray sight = view.ray(x, y);
  const Vec3 d = normalized(sight.direction);
  // The two lines' common perpendicular (Eberly, "Robust computation of distance between line segments").
  const double b = dot(axis, d), denominator = 1 - b * b;
  if (denominator < 1.2e-3) return std::nullopt;
  const Vec3 w = origin - sight.origin;
  return (b * dot(d, w) - dot(axis, w)) / denominator;
}

std::optional<Vec3> on_plane(const View& view, const Vec3& origin, const Vec3& normal, double x, double y) {
  const Ray sight = view.ray(x, y);
  const double steep = dot(normalized(sight.direction), normal);
  if (std::abs(steep) < 0.0175) return std::nullopt;
  const double along = dot(origin - sight.origin, normal) / dot(sight.direction, normal);
  if (view.perspective && along <= 0) return std::nullopt;
  return sight.origin + sight.direction * along;
}

double angle_between_pixels(const View& view, const Vec3& origin, const Vec3& axis, double x0, double y0, double x,
                            double y) {
  const Vec3 sight = sight_at(view, origin);
  if (std::abs(dot(axis, sight)) >= sin_cos_degrees(8).sin) {
    const auto a = on_plane(view, origin, axis, x0, y0), b = on_plane(view, origin, axis, x, y);
    if (a && b) {
      const Vec3 from = *a - origin, to = *b - origin;
      if (length(from) > 0 && length(to) > 0) return atan2_degrees(dot(axis, cross(from, to)), dot(from, to));
    }
  }
  // Edge-on: the way square to the axis on the screen.
  const Vec3 across = normalized(cross(axis, -sight));
  const double dx = dot(across, view.right()), dy = -dot(across, view.up());
  constexpr double kRadian = 57.295779513082321;
  return ((x - x0) * dx + (y - y0) * dy) / kArcPixels * kRadian;
}

Rolled rolled(const View& view, double x0, double y0, double x, double y) {
  const double dx = x - x0, dy = y - y0, way = std::hypot(dx, dy);
  if (!(way > 0)) return {};
  return {normalized(view.up() * (dx / way) + view.right() * (dy / way)), way * 180 / 220};
}

std::vector<Vec3> arc_points(const Vec3& centre, const Vec3& axis, const Vec3& start, double degrees) {
  constexpr double kEvery = 2.5;
  const double whole = std::clamp(degrees, -360.0, 360.0);
  std::vector<Vec3> points;
  for (int k = 0; k * kEvery < std::abs(whole); ++k)
    points.push_back(centre + rotation_about(axis, std::copysign(k * kEvery, whole)) * start);
  if (points.empty()) points.push_back(centre + start);
  points.push_back(centre + rotation_about(axis, whole) * start);
  return points;
}

double stepped(double value, double step) {
  if (!(step > 0) || !std::isfinite(value)) return value;
  const double count = std::nearbyint(value / step);
  // count × step as the sum of decimals it is: 3 × 0.1 is 0.3.
  std::array<char, 64> text{};
  const auto shortest = std::to_chars(text.data(), text.data() + text.size(), step, std::chars_format::fixed);
  const std::string_view digits(text.data(), static_cast<std::size_t>(shortest.ptr - text.data()));
  const auto point = digits.find('.');
  const int decimals = point == std::string_view::npos ? 0 : static_cast<int>(digits.size() - point - 1);
  std::array<char, 400> product{};
  const auto end =
      std::to_chars(product.data(), product.data() + product.size(), count * step, std::chars_format::fixed, decimals)
          .ptr;
  double result = count * step;
  std::from_chars(product.data(), end, result);
  return result + 0.0;
}

double tick_spacing(double pixels_per_mm, double pixels) {
  if (!(pixels_per_mm > 0)) return 1;
  const double least = pixels / pixels_per_mm, power = std::pow(10, std::floor(std::log10(least)));
  for (const double step : {1.0, 2.0, 5.0})
    if (step * power >= least) return step * power;
  return 10 * power;
}

std::vector<std::array<Vec3, 2>> box_edges(const Affine& from_fractions) {
  std::vector<std::array<Vec3, 2>> edges;
  for (int axis = 0; axis < 3; ++axis)
    for (int n = 0; n < 4; ++n) {
      Vec3 low;
      low[(axis + 1) % 3] = n & 1 ? 1 : 0;
      low[(axis + 2) % 3] = n & 2 ? 1 : 0;
      Vec3 high = low;
      high[axis] = 1;
      edges.push_back({from_fractions * low, from_fractions * high});
    }
  return edges;
}

}  // namespace tack
