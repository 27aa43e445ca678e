// Places, directions, measures and typed numbers over many odd scenes, held against a second method in long double.
#include "core/entry/rational.h"
#include "core/fit/measure.h"
#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/mesh/oriented_box.h"
#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

namespace {

// An L of two arms, 40 × 10 and 10 × 30, extruded by 20: its flat faces have known middles.
MeshPtr ell() {
  const std::vector<Vec3> outline{{0, 0, 0}, {40, 0, 0}, {40, 10, 0}, {10, 10, 0}, {10, 40, 0}, {0, 40, 0}};
  MeshData m;
  m.positions = outline;
  for (const Vec3& p : outline) m.positions.push_back(p + Vec3{0, 0, 20});
  m.triangles = {{0, 2, 1}, {0, 3, 2}, {0, 4, 3}, {0, 5, 4}, {6, 7, 8}, {6, 8, 9}, {6, 9, 10}, {6, 10, 11}};
  for (std::uint32_t i = 0; i < 6; ++i) {
    const std::uint32_t k = (i + 1) % 6;
    m.triangles.push_back({i, k, k + 6});
    m.triangles.push_back({i, k + 6, i + 6});
  }
  return *make_mesh(m);
}

// A cylinder of 24 sides, radius 15, from z = 0 to 40.
MeshPtr drum() {
  constexpr std::uint32_t kSides = 24;
  MeshData m;
  for (const double z : {0.0, 40.0})
    for (std::uint32_t i = 0; i < kSides; ++i) {
      const auto [s, c] = long_sin_cos(360.0L * i / kSides);
      m.positions.push_back({static_cast<double>(15 * c), static_cast<double>(15 * s), z});
    }
  for (std::uint32_t i = 0; i < kSides; ++i) {
    const std::uint32_t k = (i + 1) % kSides;
    m.triangles.push_back({i, k, k + kSides});
    m.triangles.push_back({i, k + kSides, i + kSides});
    if (i > 0 && i + 1 < kSides) {
      m.triangles.push_back({0, i + 1, i});
      m.triangles.push_back({kSides, kSides + i, kSides + i + 1});
    }
  }
  return *make_mesh(m);
}

Odd with_mesh(Chance& chance, const MeshPtr& mesh, int depth) {
  Odd odd = odd_scene(chance, depth);
  Part part = odd.scene.part(odd.moving);
  part.mesh = mesh;
  part.colours.resize(1);
  odd.scene.replace(odd.moving, part);
  return odd;
}

// A normal in the world: across the images of two directions of the face, out of the matter also under a mirror.
LongVec long_normal(const LongAffine& w, const LongVec& u, const LongVec& v) {
  const LongVec n = cross(w.turned(u), w.turned(v));
  const Real mirror = dot(w.x, cross(w.y, w.z)) < 0 ? -1 : 1;
  return unit(n * mirror);
}

double off_direction(const std::optional<Vec3>& is, const LongVec& should) {
  return is ? static_cast<double>(length(longer(*is) - should) / 1e-9L) : 1e9;
}

}  // namespace

TEST_CASE("addresses: vertices, edges, faces, boxes, pivots lie where the numbers say", "[sweep]") {
  Chance chance(1201);
  Cases row("addresses: vertex, edge, face, box, world box, pivot");
  for (int i = 0; i < 1000; ++i) {
    const Odd odd = odd_scene(chance, 6);
    const LongAffine w = long_world(odd.scene, odd.moving);
    const auto positions = odd.scene.part(odd.moving).mesh->positions();
    const double u = chance.between(0, 1), v = chance.between(0, 1 - u);
    const auto add = [&](const TackAddress& a, const LongVec& should) {
      row.add(share_of_bound(odd.scene, odd.moving, longer(at(odd.scene, a)), should));
    };
    add(vertex(odd.moving, i % 8), w * longer(positions[i % 8]));
    TackAddress edge{TackKind::Edge, odd.moving, 0, {u, 0, 0}};
    edge.second = 1;
    add(edge, w * (longer(positions[0]) + (longer(positions[1]) - longer(positions[0])) * u));
    const Triangle& t = odd.scene.part(odd.moving).mesh->triangles()[i % 12];
    const LongVec a = longer(positions[t[0]]), b = longer(positions[t[1]]), c = longer(positions[t[2]]);
    add({TackKind::Face, odd.moving, static_cast<std::uint32_t>(i % 12), {u, v, 0}},
        w * (a + (b - a) * u + (c - a) * v));
    const Vec3 side = odd.scene.part(odd.moving).mesh->box().size();
    add(box_point(odd.moving, {u, v, 1}), w * LongVec{side.x * u, side.y * v, side.z});
    add({TackKind::Pivot, odd.moving, 0, {}}, long_pivot(odd.scene, odd.moving));
    LongVec low{1e300L, 1e300L, 1e300L};
    for (const Vec3& p : positions) {
      const LongVec q = w * longer(p);
      low = {std::min(low.x, q.x), std::min(low.y, q.y), std::min(low.z, q.z)};
    }
    add({TackKind::WorldBoxPoint, odd.moving, 0, {0, 0, 0}}, low);
  }
}

TEST_CASE("middles of flat faces and of round edges, and where they look", "[sweep]") {
  Chance chance(1202);
  Cases face("face centres of an L"), looks("directions of faces, edges, boxes, round edges"),
      round("centres of round edges"), mass("centres of mass");
  const MeshPtr bent = ell(), cylinder = drum();
  // Two arms: 400 and 300 mm² with their middles.
  const LongVec middle{(400.0L * 20 + 300 * 5) / 700, (400.0L * 5 + 300 * 25) / 700, 0};
  for (int i = 0; i < 500; ++i) {
    const Odd odd = with_mesh(chance, i % 2 == 0 ? bent : cylinder, 4);
    const LongAffine w = long_world(odd.scene, odd.moving);
    const auto found = [&](const TackAddress& a) {
      const auto tack = find_tack(odd.scene, a);
      REQUIRE(tack);
      return *tack;
    };
    const auto add = [&](Cases& row, const Tack& tack, const LongVec& should) {
      row.add(share_of_bound(odd.scene, odd.moving, longer(tack.point), should));
    };
    if (i % 2 == 0) {
      const Tack top = found({TackKind::FaceCentre, odd.moving, 4, {}});
      add(face, top, w * (middle + LongVec{0, 0, 20}));
      looks.add(off_direction(top.direction, long_normal(w, {1, 0, 0}, {0, 1, 0})));
      add(face, found({TackKind::FaceCentre, odd.moving, 0, {}}), w * middle);
      TackAddress edge{TackKind::Edge, odd.moving, 0, {0.5, 0, 0}};
      edge.second = 1;
      const Tack between = found(edge);
      looks.add(off_direction(between.roll, unit(w.x)));
      // Box points look out of the box, also leaned over and mirrored.
      for (int axis = 0; axis < 3; ++axis) {
        Vec3 fraction{0.5, 0.5, 0.5};
        fraction[axis] = i / 2 % 2;
        const LongVec &u = axis == 0   ? LongVec{0, 1, 0}
                           : axis == 1 ? LongVec{0, 0, 1}
                                       : LongVec{1, 0, 0},
                      &v = axis == 0   ? LongVec{0, 0, 1}
                           : axis == 1 ? LongVec{1, 0, 0}
                                       : LongVec{0, 1, 0};
        looks.add(off_direction(found(box_point(odd.moving, fraction)).direction,
                                long_normal(w, u, v) * (i / 2 % 2 == 0 ? -1 : 1)));
      }
      const LongVec weighed{(400.0L * 20 + 300 * 5) / 700, (400.0L * 5 + 300 * 25) / 700, 10};
      add(mass, found({TackKind::Mass, odd.moving, 0, {}}), w * weighed);
    } else {
      const Tack rim = found({TackKind::RoundCentre, odd.moving, 24, {}});
      add(round, rim, w * LongVec{0, 0, 40});
      looks.add(off_direction(rim.direction, long_normal(w, {1, 0, 0}, {0, 1, 0})));
      // Any vertex of the ring names it.
      add(round, found({TackKind::RoundCentre, odd.moving, static_cast<std::uint32_t>(25 + i % 20), {}}),
          w * LongVec{0, 0, 40});
    }
  }
}

TEST_CASE("measured distances, components and angles", "[sweep]") {
  Chance chance(1203);
  Cases far("measure: distance and components");
  double worst = 0;
  for (int i = 0; i < 500; ++i) {
    const Odd odd = odd_scene(chance, 5);
    const auto a = find_tack(odd.scene, {TackKind::FaceCentre, odd.moving, static_cast<std::uint32_t>(i % 12), {}});
    const auto b = find_tack(odd.scene, {TackKind::FaceCentre, odd.still, static_cast<std::uint32_t>(i / 2 % 12), {}});
    REQUIRE((a && b));
    const Measured m = measure(*a, *b);
    const LongVec way = longer(b->point) - longer(a->point);
    far.add(share_of_bound(odd.scene, odd.moving, longer(a->point) + LongVec{m.distance, 0, 0},
                           longer(a->point) + LongVec{length(way), 0, 0}));
    REQUIRE(m.angle);
    const LongVec u = longer(*a->direction), v = longer(*b->direction);
    const Real angle = std::atan2(length(cross(u, v)), dot(u, v)) * (180 / 3.14159265358979323846264338327950288L);
    worst = std::max(worst, static_cast<double>(std::abs(angle - *m.angle)));
  }
  note_number(fmt::format("measure: angles of 500 pairs of faces within {:.1e}°", worst));
  CHECK(worst < 1e-12);
}

TEST_CASE("kept tacks and guides stay on their parts through pivots, bakes, turned axes and parents", "[sweep]") {
  Chance chance(1204);
  Cases kept("kept tacks through what moves nothing"), guide("guides through places");
  for (int i = 0; i < 400; ++i) {
    const Odd odd = odd_scene(chance, 3);
    Scene scene = done(keep(odd.moving, vertex(odd.moving, 6), "k"), odd.scene);
    const LongVec where = long_vertex(odd.scene, odd.moving, 6);
    Pivot pivot;
    pivot.what = {odd.moving};
    if (i % 2 == 0) pivot.at = about_place(point(chance.point(100)));
    if (i % 2 == 1) pivot.turned.kind = Turned::Kind::World;
    Bake bake;
    bake.what = {odd.moving};
    bake.scale = bake.rotation = true;
    const Verb verbs[] = {pivot, bake, Reparent{{odd.moving}, odd.third, Reparent::Keeps::Place},
                          FitBox{{odd.moving}, {}, Copies::Separate}};
    scene = done(verbs[i % 4], scene);
    kept.add(share_of_bound(scene, odd.moving, longer(at(scene, kept_tack(odd.moving, "k"))), where));
  }
  for (int i = 0; i < 160; ++i) {
    const Odd odd = odd_scene(chance, 3);
    AddGuide line;
    line.kind = i % 2 == 0 ? GuideKind::Line : GuideKind::Plane;
    line.at = TackAddress{TackKind::FaceCentre, odd.moving, static_cast<std::uint32_t>(i % 12), {}};
    const Scene scene = done(line, odd.scene);
    const auto through = find_tack(odd.scene, *line.at);
    const PartId id = scene.roots().back();
    const Vec3 off = i % 2 == 0 ? Vec3{12.5, 0, 0} : Vec3{3, 4, 0};
    const auto place = find_tack(scene, {TackKind::Guide, id, 0, off});
    REQUIRE(place);
    const LongVec way = longer(place->point) - longer(through->point), n = longer(*through->direction);
    // A line goes along the direction, a plane across it.
    const LongVec wanted = i % 2 == 0 ? n * 12.5L : way - n * dot(way, n);
    guide.add(share_of_bound(odd.scene, odd.moving, longer(through->point) + way, longer(through->point) + wanted));
  }
}

TEST_CASE("a typed length is the double nearest to its exact value, and so is a fraction of a turn", "[sweep][entry]") {
  // The exact value n / d is nearest to the double x when no neighbour of x is nearer: |x·d − n|, exact in long double.
  const auto nearest = [](double x, long double n, long double d) {
    const auto off = [&](double y) { return std::abs(std::fma(static_cast<long double>(y), d, -n)); };
    return off(x) <= off(std::nextafter(x, 1e300)) && off(x) <= off(std::nextafter(x, -1e300));
  };
  Chance chance(1205);
  int cases = 0;
  for (int i = 0; i < 4000; ++i) {
    const int whole = chance.whole(0, 999), top = chance.whole(1, 63), bottom = chance.whole(1, 64),
              tenths = chance.whole(0, 99999);
    struct Case {
      std::string text;
      EntryKind kind;
      long double n, d;
    };
    const long double t = tenths;
    const Case all[] = {
        {fmt::format("{}/{} in", top, bottom), EntryKind::Length, 127.0L * top, 5.0L * bottom},
        {fmt::format("{} {}/{} in", whole, top, bottom), EntryKind::Length, 127.0L * (whole * bottom + top),
         5.0L * bottom},
        {fmt::format("{} ft {} in", whole, top), EntryKind::Length, 127.0L * (12 * whole + top), 5},
        {fmt::format("{}.{:05} in", whole, tenths), EntryKind::Length, 127.0L * (whole * 100000.0L + t), 500000},
        {fmt::format("{}.{:05} m", whole, tenths), EntryKind::Length, whole * 100000.0L + t, 100},
        {fmt::format("{}.{:05} + 0.1", whole, tenths), EntryKind::Length, whole * 100000.0L + t + 10000, 100000},
        {fmt::format("0.{:05} turn", tenths), EntryKind::Angle, 360.0L * t, 100000},
        {fmt::format("{}/{} turn", top, bottom), EntryKind::Angle, 360.0L * top, bottom * 1.0L},
        {fmt::format("{}.{:05} %", whole, tenths), EntryKind::Factor, whole * 100000.0L + t, 10000000},
        {fmt::format("({} - 0.{:05}) * 3 / 7", whole, tenths), EntryKind::Length, 3 * (whole * 100000.0L - t), 700000},
    };
    for (const Case& c : all) {
      const auto value = parse_entry(c.text, {c.kind, kMillimetres, std::nullopt, {}});
      REQUIRE(value);
      INFO(c.text << " came to " << full_digits(*value));
      CHECK(nearest(*value, c.n, c.d));
      ++cases;
    }
  }
  CHECK(*parse_entry("3/8 in", {}) == 9.525);
  CHECK(*parse_entry("6 in", {}) == 152.4);
  CHECK(*parse_entry("3 ft", {}) == 914.4);
  CHECK(*parse_entry("0.7 turn", {EntryKind::Angle, kMillimetres, {}, {}}) == 252);
  note_number(fmt::format("typed numbers: {} texts, each the double nearest to its exact value", cases));
}

TEST_CASE("fractions add, multiply and divide exactly, and give up where they grow too large", "[entry]") {
  const auto r = [](long long n, long long d) { return *Rational::of(n, d); };
  CHECK((r(1, 3) + r(1, 6))->nearest() == 0.5);
  CHECK((r(1, 3) - r(1, 3))->nearest() == 0);
  CHECK((r(-2, 3) * r(3, 4))->nearest() == -0.5);
  CHECK((r(1, 2) / r(-1, 4))->nearest() == -2);
  CHECK_FALSE(r(1, 2) / r(0, 1));
  CHECK_FALSE(Rational::of(1, 0));
  CHECK(Rational::from_decimal("0.1")->nearest() == 0.1);
  CHECK(Rational::from_decimal("9007199254740993")->nearest() == 9007199254740992.0);  // a tie: to the even one
  CHECK(Rational::from_decimal("9007199254740993.0000001")->nearest() == 9007199254740994.0);
  CHECK(Rational::from_decimal("1e-30")->nearest() == 1e-30);
  CHECK_FALSE(Rational::from_decimal("1e40"));
  CHECK_FALSE(Rational::from_decimal("1.2.3"));
  CHECK_FALSE(Rational::from_decimal("."));
  CHECK(Rational::meant_by(25.4)->nearest() == 25.4);
  CHECK(Rational::meant_by(-304.8)->nearest() == -304.8);
  std::optional<Rational> big = r(3, 1);
  for (int i = 0; i < 10 && big; ++i) big = *big * *big;
  CHECK_FALSE(big);  // 3 to the power of 1024 has no place
}

TEST_CASE("the tightest box is within a thousandth of the best that a dense search finds, and exact for regular solids",
          "[sweep]") {
  Chance chance(1206);
  const auto volume = [](const std::vector<Vec3>& points, const Mat3& axes) {
    Box box;
    for (const Vec3& p : points) box.include(transpose(axes) * p);
    return box.size().x * box.size().y * box.size().z;
  };
  // By other means: 1,500 turns at random, the best 20 of them climbed down by random steps that get smaller.
  const auto random_turn = [&] { return rotation_about(chance.direction(), chance.between(-180, 180)); };
  const auto dense = [&](const std::vector<Vec3>& points) {
    std::vector<std::pair<double, Mat3>> starts;
    for (int i = 0; i < 1500; ++i) {
      const Mat3 turn = random_turn();
      starts.emplace_back(volume(points, turn), turn);
    }
    std::sort(starts.begin(), starts.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    double best = starts.front().first;
    for (std::size_t i = 0; i < 20; ++i) {
      auto [least, axes] = starts[i];
      double step = 10;
      for (int failed = 0; step > 1e-3;) {
        const Mat3 next = rotation_about(chance.direction(), step * chance.between(0, 1)) * axes;
        if (const double v = volume(points, next); v < least)
          least = v, axes = next, failed = 0;
        else if (++failed > 12)
          step /= 2, failed = 0;
      }
      best = std::min(best, least);
    }
    return best;
  };
  double worst = 0;
  for (int i = 0; i < cases(1000); ++i) {
    std::vector<Vec3> points;
    const int count = i % 5 == 0 ? 4 : chance.whole(5, 30);
    for (int k = 0; k < count; ++k) {
      const Vec3 p = chance.point(50);
      points.push_back({p.x * (1 + i % 3), p.y, p.z * (i % 7 == 0 ? 0.1 : 1)});
    }
    worst = std::max(worst, volume(points, tightest_axes(points, {})) / dense(points) - 1);
  }
  note_number(
      fmt::format("the tightest box: {} hulls, at most {:.4f} % over a dense search", cases(1000), 100 * worst));
  CHECK(worst < 1e-3);
  const double f = (1 + std::sqrt(5)) / 2;
  std::vector<Vec3> ico, dodeca;
  for (const double a : {-1.0, 1.0})
    for (const double b : {-1.0, 1.0}) {
      for (const Vec3& p : {Vec3{0, a, b * f}, {a, b * f, 0}, {b * f, 0, a}}) ico.push_back(p);
      for (const Vec3& p : {Vec3{0, a / f, b * f}, {a / f, b * f, 0}, {b * f, 0, a / f}, {a, b, 1}, {a, b, -1}})
        dodeca.push_back(p);
    }
  const std::pair<std::vector<Vec3>, double> solids[] = {
      {{{1, 1, 1}, {1, -1, -1}, {-1, 1, -1}, {-1, -1, 1}}, 8},  // the cube around a tetrahedron
      {{{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}}, 64.0 / 27},
      {ico, 33.8885438199983},
      {dodeca, 30.3108350559987},
      {{{0, 0, 0}, {3, 0, 0}, {0, 2, 0}, {3, 2, 0}, {0, 0, 1}, {3, 0, 1}, {0, 2, 1}, {3, 2, 1}}, 6}};
  for (const auto& [solid, least] : solids)
    for (int i = 0; i < 20; ++i) {
      const Mat3 turn = random_turn();
      std::vector<Vec3> points;
      for (const Vec3& p : solid) points.push_back(turn * p);
      CHECK(volume(points, tightest_axes(points, {})) == Approx(least).epsilon(1e-12));
    }
}
