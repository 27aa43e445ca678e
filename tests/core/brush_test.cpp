// Smoothing by brushing: what a stroke reaches, held against plain distances; what it does to meshes and scenes.
#include <catch2/catch.hpp>

#include "core/math/nearest.h"
#include "core/verbs/verb.h"
#include "tests/core/elements.h"

using namespace tack;
using namespace tack::test;

namespace {

// Worked out plainly: the least distance from a way through places, and the share that gives.
double share_from_way(const std::vector<Vec3>& way, const Vec3& p, double reach) {
  double best = std::numeric_limits<double>::infinity();
  for (std::size_t i = 0; i < way.size(); ++i) {
    const Vec3 a = way[i == 0 ? 0 : i - 1], along = way[i] - a;
    for (int k = 0; k <= 2000; ++k) best = std::min(best, distance(a + along * (k / 2000.0), p));
  }
  const double u = best / reach;
  return u < 1 ? (1 - u * u) * (1 - u * u) : 0;
}

std::uint32_t triangle_at(const Mesh& mesh, const Vec3& at) {
  std::uint32_t best = 0;
  for (std::uint32_t t = 1; t < mesh.triangles().size(); ++t)
    if (distance(nearest_on_triangle(mesh.corners(t), at), at) <
        distance(nearest_on_triangle(mesh.corners(best), at), at))
      best = t;
  return best;
}

std::vector<StrokePlace> stroke_over(const Mesh& mesh, const std::vector<Vec3>& places) {
  std::vector<StrokePlace> stroke;
  for (const Vec3& p : places) {
    const std::uint32_t t = triangle_at(mesh, p);
    stroke.push_back({t, nearest_on_triangle(mesh.corners(t), p)});
  }
  return stroke;
}

Brush brush_over(const Scene& scene, PartId part, const std::vector<Vec3>& places, double width) {
  Brush brush;
  brush.part = part;
  brush.stroke.places = std::make_shared<const std::vector<StrokePlace>>(stroke_over(*scene.part(part).mesh, places));
  brush.width = Amount{width};
  return brush;
}

double share_in(const Shares& shares, std::uint32_t v) {
  const auto at = std::lower_bound(shares.vertices.begin(), shares.vertices.end(), v);
  return at == shares.vertices.end() || *at != v
             ? 0
             : shares.shares[static_cast<std::size_t>(at - shares.vertices.begin())];
}

// How far neighbours stand from each other's height: what smoothing takes off.
double roughness(const Mesh& mesh, const std::function<bool(const Vec3&)>& counts) {
  double sum = 0;
  for (const Triangle& t : mesh.triangles())
    for (std::size_t i = 0; i < 3; ++i)
      if (counts(mesh.positions()[t[i]]))
        sum += std::abs(mesh.positions()[t[i]].z - mesh.positions()[t[(i + 1) % 3]].z);
  return sum;
}

}  // namespace

TEST_CASE("the nearest point of a triangle is nearer than any other of it", "[brush]") {
  Chance chance(41);
  for (int round = 0; round < 500; ++round) {
    std::array<Vec3, 3> c{chance.point(10), chance.point(10), chance.point(10)};
    if (round % 5 == 0) c[2] = c[0] + (c[1] - c[0]) * chance.between(-1, 2);  // in one line
    if (round % 7 == 0) c[1] = c[2];
    const Vec3 p = chance.point(15), on = nearest_on_triangle(c, p);
    double least = std::numeric_limits<double>::infinity();
    constexpr int kFine = 60;
    for (int i = 0; i <= kFine; ++i)
      for (int j = 0; i + j <= kFine; ++j) {
        const Vec3 q = c[0] + (c[1] - c[0]) * (double(i) / kFine) + (c[2] - c[0]) * (double(j) / kFine);
        least = std::min(least, distance(q, p));
      }
    CHECK(distance(on, p) <= least + 1e-9);
    CHECK(distance(on, p) >= least - 1.0);  // it lies on the triangle: no nearer than the finest of these
    CHECK(distance(nearest_on_triangle(c, on), on) <= 1e-9);
  }
}

TEST_CASE("a stroke reaches what lies within its width, each by its share", "[brush]") {
  const MeshPtr flat = sheet(40, 1);
  const std::vector<Vec3> way{{5.3, 5.1, 0}, {22.7, 8.4, 0}, {24, 30, 0}};
  for (const double reach : {1.7, 4.0, 9.0}) {
    const Shares shares = shares_of_stroke(*flat, stroke_over(*flat, way), {}, reach);
    for (std::uint32_t v = 0; v < flat->positions().size(); ++v)
      CHECK(share_in(shares, v) == Approx(share_from_way(way, flat->positions()[v], reach)).margin(1.1e-3));
  }
  // In the world's millimetres, whatever the part's own are; mirrored as well.
  const Mat3 wide = Mat3::diagonal({-3, 1, 1});
  std::vector<Vec3> carried;
  for (const Vec3& p : way) carried.push_back(wide * p);
  const Shares shares = shares_of_stroke(*flat, stroke_over(*flat, way), wide, 6);
  for (std::uint32_t v = 0; v < flat->positions().size(); ++v)
    CHECK(share_in(shares, v) == Approx(share_from_way(carried, wide * flat->positions()[v], 6)).margin(1.1e-3));
  // Lifted between two far places: nothing between them.
  const Shares lifted = shares_of_stroke(*flat, stroke_over(*flat, {{2, 2, 0}, {38, 38, 0}}), {}, 1.5);
  CHECK(share_in(lifted, 2 * 41 + 2) == Approx(1));
  CHECK(share_in(lifted, 20 * 41 + 20) == 0);
  // On one place, and nowhere.
  CHECK(shares_of_stroke(*flat, stroke_over(*flat, {{20.5, 20.3, 0}}), {}, 0.1).vertices.empty());
  CHECK(shares_of_stroke(*flat, {}, {}, 5).vertices.empty());
}

TEST_CASE("a brush does not reach through a thin wall", "[brush]") {
  // Two sheets half a millimetre apart, not connected; then a plate whose border connects them.
  MeshData two = sheet_data(30, 1);
  const auto first = static_cast<std::uint32_t>(two.positions.size());
  MeshData below = sheet_data(30, 1, [](double, double) { return -0.5; });
  two.positions.insert(two.positions.end(), below.positions.begin(), below.positions.end());
  for (const Triangle& t : below.triangles) two.triangles.push_back({first + t[0], first + t[2], first + t[1]});
  const auto border = [](std::uint32_t i, std::uint32_t side) {
    return side == 0 ? i : side == 1 ? i * 31 + 30 : side == 2 ? 31 * 31 - 1 - i : (30 - i) * 31;
  };
  MeshData plate = two;
  for (std::uint32_t side = 0; side < 4; ++side)
    for (std::uint32_t i = 0; i < 30; ++i) {
      const std::uint32_t a = border(i, side), b = border(i + 1, side);
      plate.triangles.push_back({first + a, first + b, b});
      plate.triangles.push_back({first + a, b, a});
    }
  for (const MeshData& data : {two, plate}) {
    const MeshPtr mesh = *make_mesh(MeshData(data));
    const Shares shares = shares_of_stroke(*mesh, stroke_over(*mesh, {{15, 15, 0.2}, {18, 15, 0.2}}), {}, 4);
    CHECK(share_in(shares, 15 * 31 + 16) == Approx(1));
    for (std::uint32_t v = first; v < mesh->positions().size(); ++v) CHECK(share_in(shares, v) == 0);
  }
  // At its border it goes round.
  const MeshPtr mesh = *make_mesh(std::move(plate));
  const Shares shares = shares_of_stroke(*mesh, stroke_over(*mesh, {{15, 0, 0.1}}), {}, 4);
  CHECK(share_in(shares, first + 15) > 0.9);
}

TEST_CASE("brushing takes roughness off where it goes and touches nothing else", "[brush]") {
  Chance chance(43);
  Scene s;
  const PartId part = s.add(part_of("Rough", sheet(40, 1, [&](double, double) { return chance.between(-0.3, 0.3); }),
                                    {{50, 20, 0}, {0, 0, 30}, {1, 1, 1}, {}, {}}));
  Brush brush = brush_over(s, part, {{10, 20, 0}, {30, 20, 0}}, 12);
  const auto after = tack::apply(Verb(brush), s);
  REQUIRE(after);
  const Mesh &was = *s.part(part).mesh, &is = *after->part(part).mesh;
  const auto middle = [](const Vec3& p) { return p.x > 12 && p.x < 28 && std::abs(p.y - 20) < 2.5; };
  CHECK(roughness(is, middle) < 0.35 * roughness(was, middle));
  for (std::size_t v = 0; v < was.positions().size(); ++v)
    if (const Vec3& p = was.positions()[v]; std::abs(p.y - 20) > 6 || p.x < 4 || p.x > 36)
      CHECK(is.positions()[v] == p);
  // Again, it goes on; dents fill up where the volume need not be kept.
  const auto twice = tack::apply(Verb(brush_over(*after, part, {{10, 20, 0}, {30, 20, 0}}, 12)), *after);
  CHECK(roughness(*twice->part(part).mesh, middle) < roughness(is, middle));
  // Written, read and done again: the same bits.
  const Json json = to_json(Verb(brush), s);
  const auto read = verb_from_json(json, s);
  REQUIRE(read);
  CHECK(std::get<Brush>(*read) == brush);
  const auto again = tack::apply(*read, s);
  CHECK(std::equal(is.positions().begin(), is.positions().end(), again->part(part).mesh->positions().begin()));
  // On the same surface with other numbers it is found by its places.
  MeshData turned{{was.positions().begin(), was.positions().end()}, {}, {}, {}};
  for (auto t = was.triangles().rbegin(); t != was.triangles().rend(); ++t) turned.triangles.push_back(*t);
  Scene other = s;
  Part replaced = other.part(part);
  replaced.mesh = *make_mesh(std::move(turned));
  other.replace(part, replaced);
  const auto found = tack::apply(Verb(brush), other);
  REQUIRE(found);
  for (std::size_t v = 0; v < was.positions().size(); ++v)
    CHECK(distance(found->part(part).mesh->positions()[v], is.positions()[v]) < 1e-9);
}

TEST_CASE("a closed mesh keeps its volume under the brush, and a seam stays closed", "[brush]") {
  Chance chance(47);
  const MeshPtr rough = ball(20, 30, [&](const Vec3&) { return chance.between(-0.4, 0.4); });
  const MeshPtr own = *make_mesh(with_own_corners({{rough->positions().begin(), rough->positions().end()},
                                                   {rough->triangles().begin(), rough->triangles().end()},
                                                   {},
                                                   {}}));
  for (const MeshPtr& mesh : {rough, own}) {
    Scene s;
    const PartId part = s.add(part_of("Ball", mesh));
    const auto after = tack::apply(Verb(brush_over(s, part, {{0, 0, 30}, {15, 0, 26}, {30, 0, 0}}, 24)), s);
    REQUIRE(after);
    const Mesh& is = *after->part(part).mesh;
    CHECK(volume(is) == Approx(volume(*mesh)).epsilon(0.01));
    std::map<std::array<double, 3>, Vec3> at;
    for (std::size_t v = 0; v < mesh->positions().size(); ++v) {
      const Vec3& p = mesh->positions()[v];
      const auto [known, is_new] = at.try_emplace({p.x, p.y, p.z}, is.positions()[v]);
      CHECK((is_new || known->second == is.positions()[v]));
    }
  }
}

TEST_CASE("instances follow the brush or not; what cannot be brushed is said", "[brush]") {
  Chance chance(53);
  Scene s;
  const MeshPtr mesh = sheet(20, 1, [&](double, double) { return chance.between(-0.3, 0.3); });
  const PartId a = s.add(part_of("A", mesh)), b = s.add(part_of("B", mesh));
  Brush brush = brush_over(s, a, {{10, 10, 0}}, 8);
  auto after = tack::apply(Verb(brush), s);
  CHECK(after->part(a).mesh == after->part(b).mesh);
  brush.copies = Copies::Separate;
  after = tack::apply(Verb(brush), s);
  CHECK(after->part(b).mesh == mesh);
  CHECK(after->part(a).mesh != mesh);
  const auto refused = [&](const Brush& asked, const Scene& scene, const std::string& why) {
    const auto done = tack::apply(Verb(asked), scene);
    REQUIRE_FALSE(done);
    CHECK(sentence(done.error()).find(why) != std::string::npos);
  };
  Brush other = brush;
  other.width = Amount{0};
  refused(other, s, "A brush is more than 0 wide.");
  other = brush;
  other.width = Amount{1e-6};
  refused(other, s, "The brush went over no vertex of \"A\".");
  other = brush;
  other.passes = Amount{2.5};
  refused(other, s, "whole number");
  other = brush;
  other.strength = Amount{0.9};
  refused(other, s, "does not settle");
  other = brush;
  other.stroke = {};
  refused(other, s, "no longer on \"A\"");
  other = brush;
  other.stroke.places =
      std::make_shared<const std::vector<StrokePlace>>(std::vector<StrokePlace>{{0xFFFFFFF0u, {500, 500, 500}}});
  refused(other, s, "no longer on \"A\"");
  Scene locked = s;
  Part part = locked.part(a);
  part.locked = true;
  locked.replace(a, part);
  refused(brush, locked, "locked");
  Scene gone = s;
  gone.remove(a);
  refused(brush, gone, "no longer there");
  Scene guides = s;
  Part guide = part_of("Line", nullptr);
  guide.guide = GuideKind::Line;
  other = brush;
  other.part = guides.add(guide);
  refused(other, guides, "no surface");
  for (const char* stroke : {"[]", "3", "[[0,0,0]]", "[[-1,0,0,0]]", "[[0,0,0,null]]", "[[0.5,0,0,0]]"}) {
    INFO(stroke);
    Json json = to_json(Verb(brush), s);
    json["stroke"] = Json::parse(stroke);
    CHECK_FALSE(verb_from_json(json, s));
  }
}
