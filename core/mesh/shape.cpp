#include "core/mesh/shape.h"

#include <fmt/format.h>

#include <cmath>
#include <cstdlib>

#include "core/math/degrees.h"

namespace tack {
namespace {

using enum Dimension;

constexpr Dimension kBoxHas[] = {Width, Depth, Height};
constexpr Dimension kPlateHas[] = {Width, Depth, Height, Corner, Sides};
constexpr Dimension kCylinderHas[] = {Diameter, Height, Sides};
constexpr Dimension kConeHas[] = {Diameter, Top, Height, Sides};
constexpr Dimension kSphereHas[] = {Diameter, Sides};
constexpr Dimension kTorusHas[] = {Diameter, Thickness, Sides};
constexpr Dimension kTubeHas[] = {Diameter, Thickness, Height, Sides};
constexpr Dimension kLineHas[] = {Width};

struct KindFacts {
  std::string_view word;
  std::span<const Dimension> has;
  Shape usual;
};

const std::array<KindFacts, kShapeKinds>& kinds() {
  static const std::array<KindFacts, kShapeKinds> all{{
      {"box", kBoxHas, {ShapeKind::Box, {60, 40, 30}}},
      {"plate", kPlateHas, {ShapeKind::Plate, {120, 80, 6, 0, 0, 0, 10, 48}}},
      {"cylinder", kCylinderHas, {ShapeKind::Cylinder, {0, 0, 40, 20, 0, 0, 0, 48}}},
      {"cone", kConeHas, {ShapeKind::Cone, {0, 0, 40, 40, 0, 0, 0, 48}}},
      {"sphere", kSphereHas, {ShapeKind::Sphere, {0, 0, 0, 16, 0, 0, 0, 48}}},
      {"torus", kTorusHas, {ShapeKind::Torus, {0, 0, 0, 60, 0, 10, 0, 48}}},
      {"tube", kTubeHas, {ShapeKind::Tube, {0, 0, 40, 24, 0, 3, 0, 48}}},
      {"line", kLineHas, {ShapeKind::Line, {100}}},
  }};
  return all;
}

const KindFacts& facts(ShapeKind kind) { return kinds()[static_cast<std::size_t>(kind)]; }

std::uint32_t number(std::size_t n) { return static_cast<std::uint32_t>(n); }
std::size_t sides_of(const Shape& s) { return static_cast<std::size_t>(s[Sides]); }

// A mesh that is being put together, and what is known of it.
struct Making {
  MeshData data;
  KnownFeatures known;

  std::uint32_t vertex(const Vec3& p) {
    data.positions.push_back(p);
    return number(data.positions.size() - 1);
  }
  /// Vertices on a circle about z, from +x on towards +y.
  std::uint32_t ring(double radius, double z, std::size_t sides) {
    const std::uint32_t first = number(data.positions.size());
    for (std::size_t i = 0; i < sides; ++i) {
      const SinCos a = sin_cos_degrees(360.0 * static_cast<double>(i) / static_cast<double>(sides));
      vertex({radius * a.cos, radius * a.sin, z});
    }
    return first;
  }
  void quad(std::uint32_t a, std::uint32_t b, std::uint32_t c, std::uint32_t d) {
    data.triangles.push_back({a, b, c});
    data.triangles.push_back({a, c, d});
  }
  /// Between two rings of the same number of vertices, looking out when `above` is above `below`.
  void band(std::uint32_t below, std::uint32_t above, std::uint32_t sides) {
    for (std::uint32_t i = 0; i < sides; ++i) {
      const std::uint32_t j = (i + 1) % sides;
      quad(below + i, below + j, above + j, above + i);
    }
  }
  /// A convex outline, counter-clockwise seen from the side it looks to, filled from side to side.
  void fill(const std::vector<std::uint32_t>& outline) {
    std::size_t low = 0, high = outline.size() - 1;
    while (low + 1 < high) {
      data.triangles.push_back({outline[low], outline[low + 1], outline[high]});
      if (++low + 1 < high) {
        data.triangles.push_back({outline[low], outline[high - 1], outline[high]});
        --high;
      }
    }
  }
  void disc(std::uint32_t first, std::uint32_t sides, bool up) {
    std::vector<std::uint32_t> outline(sides);
    for (std::uint32_t i = 0; i < sides; ++i) outline[i] = first + (up ? i : sides - 1 - i);
    fill(outline);
  }
  void round(std::uint32_t first, std::uint32_t sides, double radius, double z, bool up) {
    KnownFeatures::Round r;
    for (std::uint32_t i = 0; i < sides; ++i) r.vertices.push_back(first + i);
    r.centre = {0, 0, z};
    r.axis = {0, 0, up ? 1.0 : -1.0};
    r.radius = radius;
    known.rounds.push_back(std::move(r));
  }
  /// The triangles from `first` on as one face about z between two heights. A prism of few sides is seen as its flats.
  void round_face(std::size_t first, std::size_t sides, double low, double high, double radius) {
    constexpr std::size_t kSeenAsRound = 18;  // folds of 20° and less
    if (sides < kSeenAsRound) return;
    known.faces.push_back({number(first),
                           number(data.triangles.size() - first),
                           {0, 0, (low + high) / 2},
                           {0, 0, 1},
                           (high - low) / 2,
                           radius});
  }
};

void make_box(Making& m, const Shape& s) {
  const double x = s[Width] / 2, y = s[Depth] / 2, z = s[Height];
  for (const double h : {0.0, z})
    for (const auto& [u, v] : {std::pair{-x, -y}, {x, -y}, {x, y}, {-x, y}}) m.vertex({u, v, h});
  m.quad(3, 2, 1, 0);
  m.quad(4, 5, 6, 7);
  m.band(0, 4, 4);
}

void make_plate(Making& m, const Shape& s) {
  if (s[Corner] == 0) return make_box(m, s);
  const double x = s[Width] / 2, y = s[Depth] / 2, r = s[Corner];
  const std::size_t quarter = sides_of(s) / 4;
  std::vector<Vec3> outline;
  std::array<std::pair<std::size_t, std::size_t>, 4> arcs;  // where in the outline each corner begins and ends
  // From the corner at +x, +y on, counter-clockwise; where the straight sides have no length corners share a vertex.
  const std::array<std::array<double, 2>, 4> towards{{{1, 1}, {-1, 1}, {-1, -1}, {1, -1}}};
  for (std::size_t c = 0; c < 4; ++c) {
    const Vec3 centre{towards[c][0] * (x - r), towards[c][1] * (y - r), 0};
    for (std::size_t i = 0; i <= quarter; ++i) {
      const SinCos a =
          sin_cos_degrees(90.0 * static_cast<double>(c) + 90.0 * static_cast<double>(i) / static_cast<double>(quarter));
      Vec3 p = centre + Vec3{a.cos, a.sin, 0} * r;
      // The ends of an arc are on the sides, to the bit.
      if (a.cos == 0) p.y = towards[c][1] * y;
      if (a.sin == 0) p.x = towards[c][0] * x;
      const bool again = !outline.empty() && distance(outline.back(), p) < 1e-12 * (x + y);
      if (i == 0) arcs[c].first = outline.size() - (again ? 1 : 0);
      if (!again) outline.push_back(p);
    }
    arcs[c].second = outline.size() - 1;
  }
  if (distance(outline.back(), outline.front()) < 1e-12 * (x + y)) {
    outline.pop_back();
    arcs[3].second = 0;
  }
  const auto n = number(outline.size());
  for (const double h : {0.0, s[Height]})
    for (const Vec3& p : outline) m.vertex({p.x, p.y, h});
  m.disc(0, n, false);
  m.disc(n, n, true);
  const std::size_t first = m.data.triangles.size();
  m.band(0, n, n);
  for (std::size_t c = 0; c < 4; ++c) {
    const Vec3 centre{towards[c][0] * (x - r), towards[c][1] * (y - r), 0};
    const std::size_t steps = (arcs[c].second + n - arcs[c].first) % n;
    for (const bool top : {false, true}) {
      KnownFeatures::Round round;
      for (std::size_t i = 0; i <= steps; ++i)
        round.vertices.push_back(number((arcs[c].first + i) % n + (top ? n : 0)));
      round.closed = false;
      round.centre = {centre.x, centre.y, top ? s[Height] : 0};
      round.axis = {0, 0, top ? 1.0 : -1.0};
      round.radius = r;
      m.known.rounds.push_back(std::move(round));
    }
    if (sides_of(s) >= 20)
      m.known.faces.push_back({number(first + arcs[c].first * 2),
                               number(steps * 2),
                               {centre.x, centre.y, s[Height] / 2},
                               {0, 0, 1},
                               s[Height] / 2,
                               r});
  }
}

void make_cone(Making& m, const Shape& s, double low, double high) {
  const auto sides = number(sides_of(s));
  const double z = s[Height];
  const std::uint32_t bottom = m.ring(low, 0, sides);
  m.disc(bottom, sides, false);
  m.round(bottom, sides, low, 0, false);
  if (high > 0) {
    const std::uint32_t top = m.ring(high, z, sides);
    m.disc(top, sides, true);
    m.round(top, sides, high, z, true);
    const std::size_t first = m.data.triangles.size();
    m.band(bottom, top, sides);
    return m.round_face(first, sides, 0, z, (low + high) / 2);
  }
  const std::uint32_t tip = m.vertex({0, 0, z});
  const std::size_t first = m.data.triangles.size();
  for (std::uint32_t i = 0; i < sides; ++i) m.data.triangles.push_back({bottom + i, bottom + (i + 1) % sides, tip});
  m.round_face(first, sides, 0, z, low / 2);
}

void make_sphere(Making& m, const Shape& s) {
  const auto sides = number(sides_of(s)), levels = std::max(2u, sides / 2);
  const double r = s[Diameter] / 2;
  const std::uint32_t south = m.vertex({0, 0, -r});
  for (std::uint32_t k = 1; k < levels; ++k) {
    const SinCos a = sin_cos_degrees(-90 + 180.0 * k / levels);
    m.ring(r * a.cos, r * a.sin, sides);
  }
  const std::uint32_t north = m.vertex({0, 0, r}), last = north - sides;
  for (std::uint32_t i = 0; i < sides; ++i) {
    const std::uint32_t j = (i + 1) % sides;
    m.data.triangles.push_back({south, 1 + j, 1 + i});
    m.data.triangles.push_back({north, last + i, last + j});
  }
  for (std::uint32_t k = 1; k + 1 < levels; ++k) m.band(1 + (k - 1) * sides, 1 + k * sides, sides);
  m.known.faces.push_back({0, number(m.data.triangles.size()), {}, {}, 0, r});
}

void make_torus(Making& m, const Shape& s) {
  const auto sides = number(sides_of(s)), round = std::max(4u, sides / 2);
  const double r = s[Thickness] / 2, middle = s[Diameter] / 2 - r;
  for (std::uint32_t k = 0; k < round; ++k) {
    const SinCos a = sin_cos_degrees(360.0 * k / round);
    m.ring(middle + r * a.cos, r * a.sin, sides);
  }
  for (std::uint32_t k = 0; k < round; ++k) m.band(k * sides, (k + 1) % round * sides, sides);
  m.known.faces.push_back({0, number(m.data.triangles.size()), {}, {0, 0, 1}, r, s[Diameter] / 2});
}

void make_tube(Making& m, const Shape& s) {
  const auto sides = number(sides_of(s));
  const double outer = s[Diameter] / 2, inner = outer - s[Thickness], z = s[Height];
  const std::uint32_t out_low = m.ring(outer, 0, sides), out_high = m.ring(outer, z, sides),
                      in_low = m.ring(inner, 0, sides), in_high = m.ring(inner, z, sides);
  m.band(in_low, out_low, sides);
  m.band(out_high, in_high, sides);
  for (const auto& [first, radius, height, up] : {std::tuple{out_low, outer, 0.0, false},
                                                  {out_high, outer, z, true},
                                                  {in_low, inner, 0.0, false},
                                                  {in_high, inner, z, true}})
    m.round(first, sides, radius, height, up);
  std::size_t first = m.data.triangles.size();
  m.band(out_low, out_high, sides);
  m.round_face(first, sides, 0, z, outer);
  first = m.data.triangles.size();
  m.band(in_high, in_low, sides);
  m.round_face(first, sides, 0, z, inner);
}

// A value that a product has missed by a rounding or two, as it was meant.
double tidied(double value) {
  const double short_one = std::strtod(fmt::format("{:.15g}", value).c_str(), nullptr);
  const double unit = std::nextafter(std::abs(value), 1e300) - std::abs(value);
  return std::abs(short_one - value) <= 2 * unit ? short_one : value;
}

std::string small(std::string_view name) {
  std::string word(name);
  word.front() = static_cast<char>(std::tolower(static_cast<unsigned char>(word.front())));
  return word;
}

double ratio(double value, double from, double to) { return from == to ? value : value / from * to; }

// The place at another distance from the axis; on the axis it stays.
Vec3 at_radius(const Vec3& p, double radius) {
  const double now = std::hypot(p.x, p.y);
  return now == radius || !(now > 0) ? p : Vec3{p.x / now * radius, p.y / now * radius, p.z};
}

double radius_at(const Shape& cone, double share) {
  return (cone[Diameter] + (cone[Top] - cone[Diameter]) * share) / 2;
}

}  // namespace

std::span<const Dimension> dimensions_of(ShapeKind kind) { return facts(kind).has; }

bool has(ShapeKind kind, Dimension dimension) {
  const auto all = dimensions_of(kind);
  return std::find(all.begin(), all.end(), dimension) != all.end();
}

std::string_view word_of(ShapeKind kind) { return facts(kind).word; }

std::optional<ShapeKind> shape_kind(std::string_view word) {
  for (std::size_t i = 0; i < kShapeKinds; ++i)
    if (kinds()[i].word == word) return static_cast<ShapeKind>(i);
  return std::nullopt;
}

std::string_view name_of(ShapeKind kind, Dimension dimension) {
  if (kind == ShapeKind::Line) return "Length";
  if (kind == ShapeKind::Plate && dimension == Height) return "Thickness";
  if (kind == ShapeKind::Tube && dimension == Thickness) return "Wall";
  if (kind == ShapeKind::Torus && dimension == Thickness) return "Ring";
  constexpr std::string_view kNames[] = {"Width", "Depth", "Height", "Diameter", "Top", "Thickness", "Corner", "Sides"};
  return kNames[static_cast<std::size_t>(dimension)];
}

std::string_view key_of(ShapeKind kind, Dimension dimension) {
  if (kind == ShapeKind::Line) return "length";
  if (dimension <= Height && (kind == ShapeKind::Box || kind == ShapeKind::Plate)) return "size";
  constexpr std::string_view kKeys[] = {"width", "depth", "height", "diameter", "top", "thickness", "corner", "sides"};
  return kKeys[static_cast<std::size_t>(dimension)];
}

Shape usual_shape(ShapeKind kind) { return facts(kind).usual; }

Result<void> check(const Shape& s) {
  for (std::size_t i = 0; i < kDimensions; ++i) {
    const auto d = static_cast<Dimension>(i);
    if (!has(s.kind, d)) continue;
    const std::string name(name_of(s.kind, d));
    const double least_is_open = d == Top || d == Corner ? -1 : 0;
    if (d == Sides) {
      const double least = s.kind == ShapeKind::Torus || s.kind == ShapeKind::Plate ? 4 : kLeastSides;
      if (!(s[d] >= least && s[d] <= kMostSides) || s[d] != std::floor(s[d]))
        return fail(fmt::format("A {} has {} to {} sides, a whole number.", word_of(s.kind), least, kMostSides),
                    "sides");
      if (s.kind == ShapeKind::Plate && std::fmod(s[d], 4) != 0)
        return fail("The four corners of a plate have the same number of sides: 4, 8, 12 …", "sides");
      continue;
    }
    if (!std::isfinite(s[d]) || !(s[d] > least_is_open) || (least_is_open < 0 && s[d] < 0))
      return fail(fmt::format("The {} of a {} is {}; it was {} mm.", small(name), word_of(s.kind),
                              least_is_open < 0 ? "0 mm or more" : "more than 0 mm", s[d]),
                  std::string(key_of(s.kind, d)));
    if (s[d] > kLargestShape)
      return fail(fmt::format("The {} of a {} is at most {} mm.", small(name), word_of(s.kind), kLargestShape),
                  std::string(key_of(s.kind, d)));
  }
  if ((s.kind == ShapeKind::Tube || s.kind == ShapeKind::Torus) && !(s[Thickness] * 2 < s[Diameter]))
    return fail(fmt::format("The {} of a {} {} mm across is thinner than {} mm.",
                            s.kind == ShapeKind::Tube ? "wall" : "ring", word_of(s.kind), s[Diameter], s[Diameter] / 2),
                "thickness");
  if (s.kind == ShapeKind::Plate && s[Corner] * 2 > std::min(s[Width], s[Depth]))
    return fail(
        fmt::format("The corners of this plate have a radius of at most {} mm.", std::min(s[Width], s[Depth]) / 2),
        "corner");
  return {};
}

MeshData mesh_data_of(const Shape& shape, const Affine& frame) {
  Making m;
  switch (shape.kind) {
    case ShapeKind::Box: make_box(m, shape); break;
    case ShapeKind::Plate: make_plate(m, shape); break;
    case ShapeKind::Cylinder: make_cone(m, shape, shape[Diameter] / 2, shape[Diameter] / 2); break;
    case ShapeKind::Cone: make_cone(m, shape, shape[Diameter] / 2, shape[Top] / 2); break;
    case ShapeKind::Sphere: make_sphere(m, shape); break;
    case ShapeKind::Torus: make_torus(m, shape); break;
    case ShapeKind::Tube: make_tube(m, shape); break;
    case ShapeKind::Line:
      m.vertex({});
      m.vertex({shape[Width], 0, 0});
      m.known.lines.push_back({0, 1});
      break;
  }
  if (frame != Affine{}) {
    for (Vec3& p : m.data.positions) p = frame * p;
    for (auto& r : m.known.rounds) r.centre = frame * r.centre, r.axis = frame.linear * r.axis;
    for (auto& f : m.known.faces) f.centre = frame * f.centre, f.axis = frame.linear * f.axis;
  }
  m.data.known = std::make_shared<const KnownFeatures>(std::move(m.known));
  return std::move(m.data);
}

std::size_t vertex_count(const Shape& s) {
  const std::size_t sides = sides_of(s);
  switch (s.kind) {
    case ShapeKind::Box: return 8;
    case ShapeKind::Plate: {
      if (s[Corner] == 0) return 8;
      // Four corners; where a side has no length two of them share a vertex.
      const auto gone = [&](Dimension d) {
        return s[d] / 2 - s[Corner] < 0.5e-12 * (s[Width] / 2 + s[Depth] / 2) ? std::size_t{2} : std::size_t{0};
      };
      return 2 * (4 * (sides / 4 + 1) - gone(Width) - gone(Depth));
    }
    case ShapeKind::Cylinder: return 2 * sides;
    case ShapeKind::Cone: return s[Top] > 0 ? 2 * sides : sides + 1;
    case ShapeKind::Sphere: return 2 + (std::max<std::size_t>(2, sides / 2) - 1) * sides;
    case ShapeKind::Torus: return sides * std::max<std::size_t>(4, sides / 2);
    case ShapeKind::Tube: return 4 * sides;
    case ShapeKind::Line: return 2;
  }
  return 0;
}

double inside_by(const Shape& s) {
  double radius = std::max(s[Diameter], s[Top]) / 2;
  if (s.kind == ShapeKind::Plate) radius = s[Corner];
  return has(s.kind, Sides) ? radius * (1 - sin_cos_degrees(180 / s[Sides]).cos) : 0;
}

Vec3 carried(const Shape& from, const Shape& to, const Vec3& p) {
  switch (from.kind) {
    case ShapeKind::Box:
    case ShapeKind::Plate:
      return {ratio(p.x, from[Width], to[Width]), ratio(p.y, from[Depth], to[Depth]),
              ratio(p.z, from[Height], to[Height])};
    case ShapeKind::Line: return {ratio(p.x, from[Width], to[Width]), p.y, p.z};
    case ShapeKind::Sphere: {
      const auto grow = [&](double v) { return ratio(v, from[Diameter], to[Diameter]); };
      return {grow(p.x), grow(p.y), grow(p.z)};
    }
    case ShapeKind::Cylinder:
      return {ratio(p.x, from[Diameter], to[Diameter]), ratio(p.y, from[Diameter], to[Diameter]),
              ratio(p.z, from[Height], to[Height])};
    case ShapeKind::Cone: {
      const double share = std::clamp(p.z / from[Height], 0.0, 1.0);
      const double was = radius_at(from, share), is = radius_at(to, share);
      const double z = ratio(p.z, from[Height], to[Height]);
      if (was == is) return {p.x, p.y, z};
      if (!(was > 0)) return {ratio(p.x, from[Diameter], to[Diameter]), ratio(p.y, from[Diameter], to[Diameter]), z};
      return {p.x / was * is, p.y / was * is, z};
    }
    case ShapeKind::Tube: {
      const double r = std::hypot(p.x, p.y), outer = from[Diameter] / 2, inner = outer - from[Thickness],
                   new_outer = to[Diameter] / 2, new_inner = new_outer - to[Thickness];
      const double z = ratio(p.z, from[Height], to[Height]);
      double radius = r;
      if (r >= outer)
        radius = ratio(r, outer, new_outer);
      else if (r <= inner)
        radius = ratio(r, inner, new_inner);
      else
        radius = new_inner + (r - inner) / (outer - inner) * (new_outer - new_inner);
      const Vec3 moved = at_radius(p, radius);
      return {moved.x, moved.y, z};
    }
    case ShapeKind::Torus: {
      const double was = from[Thickness] / 2, is = to[Thickness] / 2;
      const double middle = from[Diameter] / 2 - was, new_middle = to[Diameter] / 2 - is;
      const double r = std::hypot(p.x, p.y), hole = middle - was, new_hole = new_middle - is;
      double radius = r;
      if (r < hole)
        radius = ratio(r, hole, new_hole);
      else if (r > middle + was)
        radius = ratio(r, from[Diameter], to[Diameter]);
      else
        radius = new_middle + (r - middle) / was * is;
      const Vec3 moved = at_radius(p, radius);
      return {moved.x, moved.y, ratio(p.z, was, is)};
    }
  }
  return p;
}

Vec3 carried_direction(const Shape& from, const Shape& to, const Vec3& n) {
  const double across = std::hypot(n.x, n.y);
  if (from.kind == ShapeKind::Cone && across > 0) {
    // The slant looks along (h, r0 − r1), radius first.
    const double slope = (from[Diameter] - from[Top]) / (2 * from[Height]);
    const double next = (to[Diameter] - to[Top]) / (2 * to[Height]);
    if (std::abs(n.z / across - slope) < 1e-6 * (1 + std::abs(slope))) return {n.x, n.y, across * next};
  }
  Vec3 grow{1, 1, 1};
  if (has(from.kind, Diameter)) grow.x = grow.y = to[Diameter] / from[Diameter];
  if (has(from.kind, Width)) grow.x = to[Width] / from[Width];
  if (has(from.kind, Depth)) grow.y = to[Depth] / from[Depth];
  if (has(from.kind, Height)) grow.z = to[Height] / from[Height];
  if (from.kind == ShapeKind::Sphere || from.kind == ShapeKind::Torus) grow.z = grow.x;
  const Vec3 next{n.x / grow.x, n.y / grow.y, n.z / grow.z};
  // Along one axis only it is the same direction.
  const int parts = int(n.x != 0) + int(n.y != 0) + int(n.z != 0);
  return parts <= 1 || grow == Vec3{1, 1, 1} ? n : next;
}

std::optional<Shape> grown(const Shape& shape, const Vec3& factor) {
  if (!(factor.x > 0 && factor.y > 0 && factor.z > 0)) return std::nullopt;
  const auto alike = [](double a, double b) { return std::abs(a - b) <= 1e-12 * a; };
  const bool round = alike(factor.x, factor.y), even = round && alike(factor.x, factor.z);
  Shape next = shape;
  const auto grow = [&](Dimension d, double f) {
    if (has(shape.kind, d)) next[d] = tidied(shape[d] * f);
  };
  switch (shape.kind) {
    case ShapeKind::Sphere:
    case ShapeKind::Torus:
      if (!even) return std::nullopt;
      break;
    case ShapeKind::Tube:
    case ShapeKind::Cylinder:
    case ShapeKind::Cone:
      if (!round) return std::nullopt;
      break;
    case ShapeKind::Plate:
      // Corners that are not round any more are no plate's.
      if (shape[Corner] > 0 && !round) return std::nullopt;
      break;
    case ShapeKind::Box:
    case ShapeKind::Line: break;
  }
  grow(Width, factor.x);
  grow(Depth, factor.y);
  grow(Height, factor.z);
  for (const Dimension d : {Diameter, Top, Thickness, Corner}) grow(d, factor.x);
  return check(next) ? std::optional(next) : std::nullopt;
}

std::optional<LiveShape> taken_through(const LiveShape& live, const Affine& change) {
  const Mat3 m = change.linear * live.frame.linear;
  Vec3 factor;
  LiveShape next = live;
  for (int c = 0; c < 3; ++c) {
    factor[c] = length(m.column[c]);
    if (!(factor[c] > 0)) return std::nullopt;
    next.frame.linear.column[c] = m.column[c] / factor[c];
  }
  const auto& axes = next.frame.linear.column;
  for (const auto& [a, b] : {std::pair{0, 1}, {1, 2}, {0, 2}})
    if (std::abs(dot(axes[static_cast<std::size_t>(a)], axes[static_cast<std::size_t>(b)])) > 1e-9) return std::nullopt;
  if (determinant(next.frame.linear) < 0) return std::nullopt;
  next.frame.translation = change * live.frame.translation;
  bool same = true;
  for (int c = 0; c < 3; ++c) {
    if (std::abs(factor[c] - 1) <= 1e-12) factor[c] = 1;
    same = same && factor[c] == 1;
  }
  if (same) return next;
  const auto shape = grown(live.shape, factor);
  if (!shape) return std::nullopt;
  for (std::size_t d = 0; d < kDimensions; ++d)
    if (shape->sizes[d] != live.shape.sizes[d]) next.typed[d].clear();
  next.shape = *shape;
  return next;
}

}  // namespace tack
