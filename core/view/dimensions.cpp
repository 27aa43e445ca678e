#include "core/view/dimensions.h"

#include <cmath>

namespace tack {
namespace {

constexpr double kLeastPixels = 26;  // a line that is shorter on the picture has no room for its arrows
constexpr double kEndPixels = 16;    // of a line, from its end inward
constexpr double kBracketPixels = 13;
constexpr double kValuePixels = 26;   // to each side of the middle
constexpr double kMostStretched = 3;  // a line that stands off towards the eye is not drawn out further than this

struct Flat {
  double x = 0, y = 0;
  Flat operator-(const Flat& o) const { return {x - o.x, y - o.y}; }
  double length() const { return std::hypot(x, y); }
};
double across(const Flat& a, const Flat& b) { return a.x * b.y - a.y * b.x; }

Flat flat(const View::Pixel& p) { return {p.x, p.y}; }

Vec3 end_of(Vec3 edge, std::size_t axis, double fraction) {
  edge[static_cast<int>(axis)] = fraction;
  return edge;
}

// The way from an edge outward along one axis of the box, in fractions.
Vec3 outward(const Vec3& edge, std::size_t off) {
  Vec3 way;
  way[static_cast<int>(off)] = edge[static_cast<int>(off)] > 0.5 ? 1 : -1;
  return way;
}

// As a unit vector in the world.
Vec3 outward_in(const Pads& box, const Vec3& edge, std::size_t off) {
  return normalized(box.from_fractions.linear * outward(edge, off));
}

// How far to stand off in the world so that it is kStandOffPixels across the line on the picture.
Vec3 stand_off(const Pads& box, const DimensionPlaces::Place& place, std::size_t axis, const View& view) {
  const Vec3 low = box.from_fractions * end_of(place.edge, axis, 0),
             high = box.from_fractions * end_of(place.edge, axis, 1);
  const Vec3 middle = (low + high) * 0.5;
  Vec3 way = outward_in(box, place.edge, place.off);
  const double scale = view.pixels_per_mm(middle);
  if (!(scale > 0)) return {};
  // A box without extent that way has no outward of its own: across the line and the line of sight.
  if (!(length(way) > 0)) way = normalized(cross(high - low, view.back()));
  const double plain = kStandOffPixels / scale;
  const auto a = view.project(low), b = view.project(high), c = view.project(middle),
             d = view.project(middle + way * plain);
  if (!a || !b || !c || !d) return way * plain;
  const Flat along = flat(*b) - flat(*a);
  const double off =
      along.length() > 0 ? std::abs(across(along, flat(*d) - flat(*c))) / along.length() : kStandOffPixels;
  return way * (plain * std::clamp(kStandOffPixels / std::max(1e-9, off), 1.0, kMostStretched));
}

bool faces_eye(const Pads& box, const View& view, std::size_t axis, bool high) {
  Vec3 fraction{0.5, 0.5, 0.5};
  fraction[static_cast<int>(axis)] = high ? 1 : 0;
  const Mat3& sides = box.from_fractions.linear;
  Vec3 normal = cross(sides.column[(axis + 1) % 3], sides.column[(axis + 2) % 3]);
  if (dot(normal, sides.column[axis]) < 0) normal = -normal;
  if (!high) normal = -normal;
  const Vec3 to_eye = view.perspective ? view.eye - box.from_fractions * fraction : view.back();
  return dot(normal, to_eye) > 0;
}

}  // namespace

DimensionPlaces dimension_places(const Pads& box, const View& view) {
  DimensionPlaces places;
  std::array<Flat, 8> corner;
  std::array<double, 8> depth{};
  for (std::size_t n = 0; n < 8; ++n) {
    const auto p = view.project(box.from_fractions * Vec3{double(n & 1), double(n >> 1 & 1), double(n >> 2 & 1)});
    if (!p) return places;  // it reaches behind the eye: nothing that could be read
    corner[n] = flat(*p);
    depth[n] = p->depth;
  }
  std::array<std::array<bool, 2>, 3> faces{};
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (std::size_t high = 0; high < 2; ++high) faces[axis][high] = faces_eye(box, view, axis, high == 1);
  // The edges along each axis, by the two bits of the others: how good each is on its own.
  const auto number = [](std::size_t axis, std::size_t edge, std::size_t end) {
    return end << axis | (edge & 1) << (axis + 1) % 3 | (edge >> 1) << (axis + 2) % 3;
  };
  std::array<std::array<double, 4>, 3> worth{};
  std::array<bool, 3> shown{};
  double low = 1e300, high = -1e300, near = 1e300, far = -1e300;
  for (std::size_t n = 0; n < 8; ++n) {
    low = std::min(low, corner[n].y), high = std::max(high, corner[n].y);
    near = std::min(near, depth[n]), far = std::max(far, depth[n]);
  }
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (std::size_t edge = 0; edge < 4; ++edge) {
      const std::size_t a = number(axis, edge, 0), b = number(axis, edge, 1);
      shown[axis] = shown[axis] || (!box.flat[axis] && (corner[b] - corner[a]).length() >= kLeastPixels);
      const bool outline = faces[(axis + 1) % 3][edge & 1] != faces[(axis + 2) % 3][edge >> 1];
      const double down = high > low ? ((corner[a].y + corner[b].y) / 2 - low) / (high - low) : 0;
      const double ahead = far > near ? (far - (depth[a] + depth[b]) / 2) / (far - near) : 0;
      // What would be cut off at the edge of the picture is of no use.
      const auto is_out = [&](const Flat& c) {
        return c.x < kStandOffPixels || c.y < kStandOffPixels || c.x > view.width - kStandOffPixels ||
               c.y > view.height - kStandOffPixels;
      };
      const int out = int(is_out(corner[a])) + int(is_out(corner[b]));
      worth[axis][edge] = (outline ? 10 : 0) + 1.5 * down + ahead - 6 * out;
    }
  double best = -1e9;
  std::array<std::size_t, 3> chosen{};
  for (std::size_t n = 0; n < 64; ++n) {
    const std::array<std::size_t, 3> edges{n & 3, n >> 2 & 3, n >> 4 & 3};
    double sum = 0;
    for (std::size_t axis = 0; axis < 3; ++axis) {
      if (!shown[axis]) continue;
      sum += worth[axis][edges[axis]];
      // Two edges along different axes meet when they agree about the third.
      const std::size_t other = (axis + 1) % 3;
      if (shown[other] && (edges[axis] >> 1 & 1) == (edges[other] & 1)) sum += 4;
    }
    if (sum > best + 1e-9) best = sum, chosen = edges;
  }
  for (std::size_t axis = 0; axis < 3; ++axis) {
    DimensionPlaces::Place& place = places.axes[axis];
    place.shown = shown[axis];
    const std::size_t j = (axis + 1) % 3, k = (axis + 2) % 3;
    place.edge[static_cast<int>(axis)] = 0.5;
    place.edge[static_cast<int>(j)] = chosen[axis] & 1 ? 1 : 0;
    place.edge[static_cast<int>(k)] = chosen[axis] >> 1 ? 1 : 0;
    // Of the two ways outward the one that leads further away from the edge on the picture.
    const Flat along = corner[number(axis, chosen[axis], 1)] - corner[number(axis, chosen[axis], 0)];
    const auto leads = [&](std::size_t off) {
      const Vec3 from = box.from_fractions * place.edge;
      const double scale = view.pixels_per_mm(from);
      const auto a = view.project(from), b = view.project(from + outward_in(box, place.edge, off) *
                                                                     (kStandOffPixels / std::max(1e-300, scale)));
      return a && b && along.length() > 0 ? std::abs(across(along, flat(*b) - flat(*a))) / along.length() : 0.0;
    };
    place.off = leads(k) > leads(j) + 0.5 ? k : j;
  }
  return places;
}

std::vector<DimensionLine> dimension_lines(const Pads& box, const DimensionPlaces& places, const View& view) {
  std::vector<DimensionLine> lines;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const DimensionPlaces::Place& place = places.axes[axis];
    if (!place.shown) continue;
    const Vec3 low = box.from_fractions * end_of(place.edge, axis, 0),
               high = box.from_fractions * end_of(place.edge, axis, 1);
    const Vec3 off = stand_off(box, place, axis, view);
    if (view.project(low + off) && view.project(high + off)) lines.push_back({axis, low + off, high + off, low, high});
  }
  return lines;
}

std::optional<DimensionLine> dimension_stretch(const Pads& box, const DimensionPlaces& places, std::size_t axis,
                                               double from, double to, int rank, const View& view) {
  const DimensionPlaces::Place& place = places.axes[axis];
  if (!place.shown) return std::nullopt;
  const Vec3 low = box.from_fractions * end_of(place.edge, axis, from),
             high = box.from_fractions * end_of(place.edge, axis, to);
  const Vec3 off = stand_off(box, place, axis, view) * (1.0 + rank);
  if (!view.project(low + off) || !view.project(high + off)) return std::nullopt;
  return DimensionLine{axis, low + off, high + off, low, high};
}

std::vector<Handle> dimension_handles(const Pads& box, const DimensionPlaces& places, const View& view) {
  std::vector<Handle> handles;
  const std::vector<DimensionLine> lines = dimension_lines(box, places, view);
  const auto pixels = [&](const Vec3& at) { return 1 / std::max(1e-300, view.pixels_per_mm(at)); };
  for (const DimensionLine& line : lines) {
    const double whole = distance(line.from, line.to);
    if (!(whole > 0)) continue;
    const Vec3 way = (line.to - line.from) * (1 / whole);
    std::array<bool, 3> axes{};
    axes[line.axis] = true;
    for (const bool high : {false, true}) {
      const Vec3 end = high ? line.to : line.from;
      const double reach = std::min(whole * 0.3, kEndPixels * pixels(end));
      Vec3 fraction{0.5, 0.5, 0.5};
      fraction[static_cast<int>(line.axis)] = high ? 1 : 0;
      handles.push_back({Handle::Kind::End, axes, end, {end, end - way * (high ? reach : -reach)}, fraction});
    }
    const Vec3 middle = line.middle(), side = view.right() * (kValuePixels * pixels(middle));
    handles.push_back({Handle::Kind::Value, axes, middle, {middle - side, middle + side}, {0.5, 0.5, 0.5}});
  }
  bool ring = lines.size() < 2;
  for (std::size_t a = 0; a < lines.size(); ++a)
    for (std::size_t b = a + 1; b < lines.size(); ++b) {
      const std::size_t i = lines[a].axis, j = lines[b].axis, k = 3 - i - j;
      const Vec3 &one = places.axes[i].edge, &other = places.axes[j].edge;
      if (one[static_cast<int>(k)] != other[static_cast<int>(k)]) continue;
      Vec3 fraction = one;
      fraction[static_cast<int>(i)] = other[static_cast<int>(i)];
      // Where the lines, drawn on, come together; the arms of the bracket run along both.
      const Vec3 corner = box.from_fractions * fraction;
      const Vec3 off_a = lines[a].from - lines[a].edge_from, off_b = lines[b].from - lines[b].edge_from;
      const bool alike = places.axes[i].off == places.axes[j].off;
      const Vec3 at = corner + (alike ? (off_a + off_b) * 0.5 : off_a + off_b);
      const double arm = kBracketPixels * pixels(at);
      const auto inward = [&](std::size_t axis) {
        return normalized(box.from_fractions.linear.column[axis]) *
               (fraction[static_cast<int>(axis)] > 0.5 ? -arm : arm);
      };
      Handle bracket{Handle::Kind::Corner, {}, at, {at + inward(i), at, at + inward(j)}, fraction};
      bracket.axes[i] = bracket.axes[j] = true;
      bracket.fraction[static_cast<int>(k)] = 0.5;
      handles.push_back(bracket);
      if (std::exchange(ring, true)) continue;
      // The ring stands a little further out, where all three come from.
      const Vec3 out = normalized(off_a + off_b);
      Handle all = ring_handle(view, at + out * (1.7 * kBracketPixels * pixels(at)));
      for (int n = 0; n < 3; ++n) {
        const auto axis = static_cast<std::size_t>(n);
        all.axes[axis] = !box.flat[axis];
        all.fraction[n] = box.flat[axis] ? 0.5 : fraction[n];
      }
      handles.push_back(all);
    }
  return handles;
}

std::optional<Vec3> shift_of_dimension(const Pads& box, const Pull& pull) {
  const Mat3& sides = box.from_fractions.linear;
  const auto& axes = pull.handle.axes;
  const int count = int(axes[0]) + int(axes[1]) + int(axes[2]);
  Rulers rulers{pull.handle.at, {}};
  for (std::size_t i = 0; i < 3; ++i) rulers.frame.column[i] = normalized(sides.column[i]);
  if (pull.handle.kind == Handle::Kind::Ring) return shift_of(rulers, pull, {true, true, true});
  if (count != 2) return shift_of(rulers, pull, axes);
  // Across both of its axes: sides of a skewed box are not square to its third.
  for (std::size_t i = 0; i < 3; ++i)
    if (!axes[i])
      rulers.frame.column[i] = normalized(cross(rulers.frame.column[(i + 1) % 3], rulers.frame.column[(i + 2) % 3]));
  return shift_of(rulers, pull, axes);
}

}  // namespace tack
