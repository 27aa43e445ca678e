// Edges, faces and round edges of meshes whose numbers are known.
#include <catch2/catch.hpp>
#include <numeric>

#include "core/catch/tack.h"
#include "core/math/degrees.h"
#include "core/math/fit_circle.h"
#include "core/mesh/features.h"
#include "core/mesh/topology.h"
#include "demo/shapes.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

MeshPtr made(MeshData data) { return *make_mesh(std::move(data)); }

int count_of(const Features& f, MeshFace::Kind kind) {
  return static_cast<int>(
      std::count_if(f.faces.begin(), f.faces.end(), [&](const MeshFace& face) { return face.kind == kind; }));
}

std::vector<Vec3> arc(const Circle& c, double from, double over, int count) {
  const Vec3 x = normalized(cross(least_axis(c.axis), c.axis)), y = cross(c.axis, x);
  std::vector<Vec3> points;
  for (int i = 0; i < count; ++i) {
    const SinCos a = sin_cos_degrees(from + over * i / (count - 1));
    points.push_back(c.centre + (x * a.cos + y * a.sin) * c.radius);
  }
  return points;
}

}  // namespace

TEST_CASE("a circle is found again from points on it, wherever it lies and however little of it there is") {
  Chance chance(7);
  for (int i = 0; i < 500; ++i) {
    const Circle made{chance.point(1000), chance.direction(), chance.between(0.5, 400), 0};
    const double span = chance.between(30, 350);
    const auto found = fit_circle(arc(made, chance.between(0, 360), span, 5 + i % 40));
    REQUIRE(found);
    // The points themselves are only good to 1e-16 of their coordinates; a short arc makes that larger.
    const double bound = 1e-12 * (1000 + made.radius) * std::max(1.0, std::pow(120 / span, 2));
    CHECK(distance(found->centre, made.centre) < bound);
    CHECK(found->radius == Approx(made.radius).margin(bound));
    CHECK(length(cross(found->axis, made.axis)) < 1e-8);
    CHECK(found->worst < bound);
  }
}

TEST_CASE("the best circle of points that are off it leaves the least squares") {
  // Against a search that knows nothing of circles: no small change of centre or radius makes the sum smaller.
  Chance chance(8);
  for (int i = 0; i < 40; ++i) {
    std::vector<Vec3> points;
    for (int k = 0; k < 30; ++k) {
      const SinCos a = sin_cos_degrees(12.0 * k);
      const double r = 50 + chance.between(-0.4, 0.4);
      points.push_back({r * a.cos + 7, r * a.sin - 3, 0});
    }
    const auto found = fit_circle(points);
    REQUIRE(found);
    const auto squares = [&](double x, double y, double r) {
      double sum = 0;
      for (const Vec3& p : points) sum += std::pow(std::hypot(p.x - x, p.y - y) - r, 2);
      return sum;
    };
    const double least = squares(found->centre.x, found->centre.y, found->radius);
    for (const auto& [dx, dy, dr] :
         {std::array{1e-4, 0.0, 0.0}, {-1e-4, 0, 0}, {0, 1e-4, 0}, {0, -1e-4, 0}, {0, 0, 1e-4}, {0, 0, -1e-4}})
      CHECK(squares(found->centre.x + dx, found->centre.y + dy, found->radius + dr) > least);
  }
  CHECK_FALSE(fit_circle(std::vector<Vec3>{{0, 0, 0}, {1, 1, 1}}));
  CHECK_FALSE(fit_circle(std::vector<Vec3>{{0, 0, 0}, {1, 1, 1}, {2, 2, 2}, {5, 5, 5}}));
}

TEST_CASE("edges of a mesh: each is shared by the triangles along it") {
  const MeshPtr box = cube(10);
  const Topology t = topology_of(*box);
  CHECK(t.edges.size() == 18);  // twelve edges and six diagonals
  for (const MeshEdge& e : t.edges) CHECK(e.count == 2);
  for (std::uint32_t i = 0; i < 12; ++i)
    for (int side = 0; side < 3; ++side) {
      const MeshEdge& e = t.edges[t.edge_of[i][static_cast<std::size_t>(side)]];
      const auto begin = t.sides.begin() + e.first;
      CHECK(std::any_of(begin, begin + e.count,
                        [&](const TriangleSide& s) { return s.triangle == i && int(s.corner) == side; }));
    }
}

TEST_CASE("a box has six flat faces with their centres, and no round edge") {
  const MeshPtr box = cube(20);
  const Features& f = box->features();
  CHECK(f.faces.size() == 6);
  CHECK(count_of(f, MeshFace::Kind::Flat) == 6);
  CHECK(f.rounds.empty());
  CHECK(f.edges.size() == 12);
  for (const MeshFace& face : f.faces) {
    CHECK(face.area == Approx(400));
    CHECK(largest_component(face.direction) == 1);
    // The centre lies where the normal says, half a side from the middle, exactly.
    CHECK(distance(face.centre, Vec3{10, 10, 10} + face.direction * 10) < 1e-14);
    // The longest border is a side, not the diagonal.
    CHECK(face.longest_a < face.longest_b);
  }
  CHECK(std::all_of(f.on_edge.begin(), f.on_edge.end(), [](bool b) { return b; }));
}

TEST_CASE("a straight edge in pieces is one edge, and its vertices are still on an edge") {
  // A strip of four squares side by side: ten vertices, and a rectangle of 40 by 10 to the eye.
  MeshData data;
  for (int i = 0; i <= 4; ++i) data.positions.push_back({10.0 * i, 0, 0}), data.positions.push_back({10.0 * i, 10, 0});
  for (std::uint32_t i = 0; i < 4; ++i) {
    const std::uint32_t a = 2 * i;
    data.triangles.push_back({a, a + 2, a + 3});
    data.triangles.push_back({a, a + 3, a + 1});
  }
  const MeshPtr strip = made(std::move(data));
  const Features& f = strip->features();
  REQUIRE(f.edges.size() == 4);
  CHECK(f.faces.size() == 1);
  CHECK(f.faces[0].area == Approx(400));
  CHECK(distance(f.faces[0].centre, {20, 5, 0}) < 1e-14);
  Scene s;
  s.add(part_of("Strip", strip));
  // Its middle is a tack with a direction, though no piece of the mesh has that middle.
  const auto middle = find_tack(s, {TackKind::Edge, 1, 0, {0.5, 0, 0}, 8});
  REQUIRE(middle);
  CHECK(middle->point == Vec3{20, 0, 0});
  CHECK(*middle->roll == Vec3{1, 0, 0});
  CHECK(distance(*middle->direction, {0, 0, 1}) < 1e-15);
}

TEST_CASE("a peg has two round edges, two flat ends and a round face with its axis") {
  const MeshPtr peg = made(demo::lathe({{5, 2}, {5, 32}}, 48));
  const Features& f = peg->features();
  REQUIRE(f.rounds.size() == 2);
  for (const RoundEdge& r : f.rounds) {
    CHECK(r.closed);
    CHECK(r.count == 48);
    CHECK(r.radius == Approx(5).epsilon(1e-12));
    CHECK(std::hypot(r.centre.x, r.centre.y) < 1e-12);
    // Out of the matter: down at the foot, up at the top.
    CHECK(r.axis.z == Approx(r.centre.z < 10 ? -1 : 1).epsilon(1e-12));
  }
  CHECK(count_of(f, MeshFace::Kind::Flat) == 2);
  REQUIRE(count_of(f, MeshFace::Kind::Round) == 1);
  const auto round =
      std::find_if(f.faces.begin(), f.faces.end(), [](const MeshFace& x) { return x.kind == MeshFace::Kind::Round; });
  CHECK(distance(round->centre, {0, 0, 17}) < 1e-9);
  CHECK(length(cross(round->direction, {0, 0, 1})) < 1e-9);
  CHECK(round->half_length == Approx(15).epsilon(1e-9));
  CHECK(round->radius == Approx(5).epsilon(1e-9));
  Scene s;
  Placement askew;
  askew.position = {100, 20, 5};
  askew.rotation = {90, 0, 0};
  s.add(part_of("Peg", peg, askew));
  const auto end = find_tack(s, {TackKind::Axis, 1, round->triangle, {1, 0, 0}});
  REQUIRE(end);
  CHECK(distance(end->point, {100, 20 - 32, 5}) < 1e-9);
  CHECK(distance(*end->direction, {0, -1, 0}) < 1e-9);
  CHECK_FALSE(find_tack(s, {TackKind::FaceCentre, 1, round->triangle, {}}));
  // The foot's centre, by the name of its loop, looks down: along +y after the turn.
  const RoundEdge& foot = f.rounds[0].axis.z < 0 ? f.rounds[0] : f.rounds[1];
  const auto centre = find_tack(s, {TackKind::RoundCentre, 1, foot.vertex, {}});
  REQUIRE(centre);
  CHECK(distance(centre->point, {100, 20 - 2, 5}) < 1e-12);
  CHECK(distance(*centre->direction, {0, 1, 0}) < 1e-12);
  CHECK(std::abs(dot(*centre->roll, *centre->direction)) < 1e-12);
  CHECK_FALSE(find_tack(s, {TackKind::RoundCentre, 1, 1000000, {}}));
}

TEST_CASE("a funnel's cone is round, a ball is smooth, a prism of ten sides is flat all over") {
  const Features cone = find_features(*made(demo::lathe({{5, 0}, {20, 30}}, 60)));
  REQUIRE(count_of(cone, MeshFace::Kind::Round) == 1);
  const auto round = std::find_if(cone.faces.begin(), cone.faces.end(),
                                  [](const MeshFace& x) { return x.kind == MeshFace::Kind::Round; });
  CHECK(std::hypot(round->centre.x, round->centre.y) < 1e-9);
  CHECK(round->radius == Approx(12.5).epsilon(1e-9));
  const Features ball = find_features(*made(demo::sphere(20, 48, 24)));
  CHECK(count_of(ball, MeshFace::Kind::Smooth) == 1);
  CHECK(ball.faces.size() == 1);
  CHECK(ball.edges.empty());
  CHECK(ball.rounds.empty());
  const Features prism = find_features(*made(demo::lathe({{5, 0}, {5, 10}}, 10)));
  CHECK(count_of(prism, MeshFace::Kind::Flat) == 12);
  CHECK(prism.rounds.size() == 2);  // ten sides turn by 36°: round enough to have a centre
  CHECK(find_features(*made(demo::lathe({{5, 0}, {5, 10}}, 7))).rounds.empty());
}

TEST_CASE("an arc between straight edges has its centre, and only the arc") {
  // A plate with one rounded corner of radius 6 in 10 pieces.
  std::vector<demo::Point2> outline{{0, 0}, {30, 0}};
  for (int i = 0; i <= 10; ++i) {
    const SinCos a = sin_cos_degrees(9.0 * i);
    outline.push_back({24 + 6 * a.cos, 14 + 6 * a.sin});
  }
  outline.push_back({0, 20});
  const MeshPtr plate = made(demo::extrude(outline, 4));
  const Features& f = plate->features();
  REQUIRE(f.rounds.size() == 2);  // above and below
  for (const RoundEdge& r : f.rounds) {
    CHECK_FALSE(r.closed);
    CHECK(r.count == 10);
    CHECK(r.radius == Approx(6).epsilon(1e-9));
    CHECK(distance({0, r.centre.y, r.centre.z}, {0, 24, 14}) < 1e-9);
  }
  // The rounded side is a round face, with the corner's axis.
  REQUIRE(count_of(f, MeshFace::Kind::Round) == 1);
}

TEST_CASE("two panes that meet at a shallow fold are two faces, many in a row are one curve") {
  const auto fan = [](int panes, double degrees) {
    MeshData data;
    Vec3 at{0, 0, 0};
    data.positions = {at, at + Vec3{0, 10, 0}};
    for (int i = 0; i < panes; ++i) {
      const SinCos a = sin_cos_degrees(degrees * i);
      at += Vec3{a.cos, 0, a.sin} * 10.0;
      const auto n = static_cast<std::uint32_t>(data.positions.size());
      data.positions.push_back(at);
      data.positions.push_back(at + Vec3{0, 10, 0});
      data.triangles.push_back({n - 2, n, n + 1});
      data.triangles.push_back({n - 2, n + 1, n - 1});
    }
    return find_features(*made(std::move(data)));
  };
  CHECK(fan(2, 15).faces.size() == 2);
  CHECK(fan(3, 15).faces.size() == 3);
  CHECK(fan(6, 15).faces.size() == 1);
  CHECK(fan(6, 15).faces[0].kind == MeshFace::Kind::Round);
  CHECK(fan(6, 15).faces[0].radius == Approx(10 / (2 * sin_cos_degrees(7.5).sin)).epsilon(1e-9));
  CHECK(fan(6, 25).faces.size() == 6);  // over 20°: folds
}

TEST_CASE("faces cover every triangle once, and a face is named by its largest triangle") {
  Chance chance(9);
  for (int i = 0; i < 20; ++i) {
    const MeshPtr mesh = blob(chance, 80);
    const Features& f = mesh->features();
    REQUIRE(f.face_of.size() == mesh->triangles().size());
    std::vector<double> area(f.faces.size(), 0), largest(f.faces.size(), 0);
    for (std::uint32_t t = 0; t < f.face_of.size(); ++t) {
      const double a = length(area_vector(*mesh, t));
      area[f.face_of[t]] += a;
      largest[f.face_of[t]] = std::max(largest[f.face_of[t]], a);
    }
    for (std::uint32_t k = 0; k < f.faces.size(); ++k) {
      CHECK(f.face_of[f.faces[k].triangle] == k);
      CHECK(f.faces[k].area == Approx(area[k]).epsilon(1e-12));
      CHECK(length(area_vector(*mesh, f.faces[k].triangle)) == Approx(largest[k]).epsilon(1e-6));
    }
  }
}

TEST_CASE("meshes without sound triangles have no features, and nothing breaks on them") {
  CHECK(find_features(*made({{{0, 0, 0}, {1, 0, 0}}, {}, {}, {}})).faces.empty());
  const Features flat = find_features(*made({{{0, 0, 0}, {1, 0, 0}, {2, 0, 0}}, {{0, 1, 2}, {0, 0, 1}}, {}, {}}));
  CHECK(flat.edges.empty());
  CHECK(flat.face_of.size() == 2);
  Scene s;
  s.add(part_of("Line", made({{{0, 0, 0}, {1, 0, 0}, {2, 0, 0}}, {{0, 1, 2}}, {}, {}})));
  const auto tack = find_tack(s, {TackKind::Face, 1, 0, {0.2, 0.2, 0}});
  REQUIRE(tack);
  CHECK_FALSE(tack->direction);
}

TEST_CASE("a curved face's normal goes smoothly from triangle to triangle and stops at its rim") {
  const MeshPtr peg = made(demo::lathe({{10, 0}, {10, 10}}, 36));
  Scene s;
  s.add(part_of("Peg", peg));
  const Features& f = peg->features();
  double worst = 0;
  for (std::uint32_t t = 0; t < peg->triangles().size(); ++t) {
    if (f.face_at(t).kind != MeshFace::Kind::Round) continue;
    for (const auto& [u, v] : {std::pair{0.2, 0.3}, {0.0, 0.0}, {0.5, 0.5}}) {
      const auto tack = find_tack(s, {TackKind::Face, 1, t, {u, v, 0}});
      REQUIRE(tack);
      // Straight out from the axis at corners; between them within a fortieth of the facet's own 10°.
      CHECK(std::abs(tack->direction->z) < 1e-9);
      const Vec3 out = normalized({tack->point.x, tack->point.y, 0});
      worst = std::max(worst, length(cross(out, *tack->direction)));
    }
  }
  CHECK(worst < 0.004);
}

TEST_CASE("the centre of a circle that is scaled unevenly is still its centre, and says that it is an oval") {
  const MeshPtr peg = made(demo::lathe({{10, 0}, {10, 10}}, 36));
  Scene s;
  Placement uneven;
  uneven.scale = {2, 1, 1};
  s.add(part_of("Peg", peg));
  s.add(part_of("Oval", peg, uneven));
  const TackAddress round{TackKind::RoundCentre, 1, peg->features().rounds[0].vertex, {}};
  TackAddress oval = round;
  oval.part = 2;
  CHECK(tack_words(s, round) == "centre of round edge · Peg");
  CHECK(tack_words(s, oval) == "centre of round edge (oval here) · Oval");
  CHECK(distance(find_tack(s, oval)->point, find_tack(s, round)->point) < 1e-13);
}

TEST_CASE("the new kinds of address are read back as they were written") {
  Scene s;
  s.add(part_of("Post 4", made(demo::lathe({{10, 0}, {10, 10}}, 36))));
  for (const TackAddress& a : {TackAddress{TackKind::RoundCentre, 1, 40, {}},
                               {TackKind::Axis, 1, 5, {0.25, 0, 0}},
                               {TackKind::Crossing, 1, 12, {1.0 / 3, 0, 0}, 13},
                               {TackKind::PlanePoint, kNoPart, 0, {10, -20.5, 0}}}) {
    const auto back = parse_address(s, address_text(s, a));
    REQUIRE(back);
    CHECK(*back == a);
  }
  CHECK(parse_address(s, "\"Post 4\" axis 5")->parameter.x == 0.5);
  for (const char* bad : {"\"Post 4\" round", "\"Post 4\" round x", "\"Post 4\" axis", "\"Post 4\" axis 5 at",
                          "plane 10", "plane a,b", "\"Post 4\" crossing 1"})
    CHECK_FALSE(parse_address(s, bad));
  CHECK(kind_words({TackKind::Edge, 1, 0, {2.0 / 3, 0, 0}, 1}) == "edge third");
  CHECK(kind_words({TackKind::Edge, 1, 0, {0.25, 0, 0}, 1}) == "edge quarter");
  CHECK(kind_words({TackKind::Edge, 1, 0, {0.3, 0, 0}, 1}) == "edge");
}
