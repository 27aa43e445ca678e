#include <catch2/catch.hpp>
#include <set>

#include "core/math/degrees.h"
#include "core/mesh/features.h"
#include "core/mesh/mesh_index.h"
#include "core/mesh/topology.h"
#include "core/mesh/triangulate.h"
#include "demo/shapes.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("unsound meshes are refused with a reason") {
  CHECK_FALSE(make_mesh({}));
  CHECK_FALSE(make_mesh({{{0, 0, 0}}, {{0, 0, 1}}, {}, {}}));
  CHECK_FALSE(make_mesh({{{0, 0, NAN}}, {}, {}, {}}));
  CHECK_FALSE(make_mesh({{{0, 0, 1e15}}, {}, {}, {}}));
  CHECK_FALSE(make_mesh({{{0, 0, 0}, {1, 0, 0}}, {}, {{0, 0, 1}}, {}}));
  CHECK_FALSE(make_mesh({{{0, 0, 0}}, {}, {}, {{0, 2, 0, 0}}}));
  CHECK(make_mesh({{{0, 0, 0}}, {}, {}, {}}));
}

TEST_CASE("a box has twelve feature edges, a prism of 40 sides only its two rims") {
  CHECK(cube(10)->features().edges.size() == 12);
  // Sides fold by 9°: below the 20° of a feature edge.
  const MeshPtr round = *make_mesh(demo::lathe({{5, 0}, {5, 10}}, 40));
  CHECK(round->features().edges.size() == 80);
  // Sides fold by 36°: the uprights count as well.
  const MeshPtr coarse = *make_mesh(demo::lathe({{5, 0}, {5, 10}}, 10));
  CHECK(coarse->features().edges.size() == 30);
}

TEST_CASE("borders and split corners are seen through the weld") {
  // Two triangles of one square, without shared vertices: the diagonal is no edge, the four borders are.
  MeshData data;
  data.positions = {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 0, 0}, {1, 1, 0}, {0, 1, 0}};
  data.triangles = {{0, 1, 2}, {3, 4, 5}};
  const MeshPtr square = *make_mesh(data);
  CHECK(square->features().edges.size() == 4);
  // With normals that differ across it the diagonal is a seam.
  data.normals = {{0, 0, 1}, {0, 0, 1}, {0, 0, 1}, {0, 1, 0}, {0, 1, 0}, {0, 1, 0}};
  CHECK((*make_mesh(data))->features().edges.size() == 5);
}

TEST_CASE("welding joins places within the tolerance and no others") {
  Chance chance(51);
  MeshData data;
  for (int i = 0; i < 400; ++i) {
    const Vec3 p = chance.point(100);
    data.positions.push_back(p);
    if (i % 3 == 0) data.positions.push_back(p + chance.direction() * 1e-6);
  }
  const MeshPtr mesh = *make_mesh(std::move(data));
  const auto welded = weld(*mesh);
  for (std::uint32_t a = 0; a < welded.size(); ++a)
    for (std::uint32_t b = a + 1; b < welded.size(); ++b)
      CHECK((welded[a] == welded[b]) == (distance(mesh->positions()[a], mesh->positions()[b]) <= weld_distance(*mesh)));
}

TEST_CASE("the index finds what a scan finds") {
  Chance chance(52);
  for (int round = 0; round < 20; ++round) {
    Chance again(1000 + static_cast<std::uint64_t>(round)), same(1000 + static_cast<std::uint64_t>(round));
    const MeshPtr scanned = blob(again, 300), indexed = blob(same, 300);
    REQUIRE(indexed->index().triangles.items.size() == indexed->triangles().size());
    for (int i = 0; i < 200; ++i) {
      const Ray ray{chance.point(120), chance.direction()};
      const auto a = first_hit(*scanned, ray, 1e9), b = first_hit(*indexed, ray, 1e9);
      REQUIRE(a.has_value() == b.has_value());
      if (a) CHECK(a->along == b->along);
      CHECK(any_hit(*indexed, ray, 50).has_value() == (a && a->along < 50));
    }
    std::set<std::pair<std::uint32_t, int>> x, y;
    const Vec3 at = scanned->positions()[7];
    triangles_touching(*scanned, at, 1e-9, [&](std::uint32_t t, int c) { x.emplace(t, c); });
    triangles_touching(*indexed, at, 1e-9, [&](std::uint32_t t, int c) { y.emplace(t, c); });
    CHECK(x == y);
  }
}

TEST_CASE("rays along axes through corners and edges are not lost") {
  const MeshPtr box = cube(10);
  box->index();
  CHECK(first_hit(*box, {{5, 5, 100}, {0, 0, -1}}, 1e9)->along == 90);
  CHECK(first_hit(*box, {{0, 0, 100}, {0, 0, -1}}, 1e9)->along == 90);
  CHECK(first_hit(*box, {{10, 5, 100}, {0, 0, -1}}, 1e9)->along == 90);
  CHECK_FALSE(first_hit(*box, {{5, 5, 100}, {0, 0, 1}}, 1e9));
}

TEST_CASE("concave polygons are cut into triangles of the same area") {
  const std::vector<Vec3> l{{0, 0, 0}, {4, 0, 0}, {4, 1, 0}, {1, 1, 0}, {1, 4, 0}, {0, 4, 0}};
  std::vector<std::uint32_t> corners{0, 1, 2, 3, 4, 5};
  std::vector<Triangle> triangles;
  triangulate(l, corners, triangles);
  REQUIRE(triangles.size() == 4);
  double area = 0;
  for (const Triangle& t : triangles) {
    const double part = cross(l[t[1]] - l[t[0]], l[t[2]] - l[t[0]]).z / 2;
    CHECK(part > 0);
    area += part;
  }
  CHECK(area == Approx(7));
}

TEST_CASE("the demo's shapes are closed and face outwards") {
  const std::vector<demo::Point2> u{{-14, 0}, {14, 0}, {14, 14}, {8.5, 14}, {8.5, 3}, {-8.5, 3}, {-8.5, 14}, {-14, 14}};
  const double profile = 28 * 14 - 17 * 11;
  const std::pair<MeshData, double> shapes[] = {
      {demo::box({0, 0, 0}, {2, 3, 4}), 24},
      {demo::extrude(u, 240), profile * 240},
      {demo::quarter_curve(u, 90, 90, true), profile * 3.14159265 / 2 * 90},
      {demo::quarter_curve(u, 90, 90, false), profile * 3.14159265 / 2 * 90},
      {demo::lathe({{5, 0}, {5, 10}}, 720), 3.14159265 * 250},
      {demo::lathe({{3, 0}, {5, 0}, {5, 10}, {3, 10}}, 720, true), 3.14159265 * 160},
      {demo::sphere(8, 360, 180), 4.0 / 3 * 3.14159265 * 512}};
  for (const auto& [mesh, volume] : shapes) {
    double sum = 0;
    for (const Triangle& t : mesh.triangles)
      sum += dot(mesh.positions[t[0]], cross(mesh.positions[t[1]], mesh.positions[t[2]])) / 6;
    CHECK(sum == Approx(volume).epsilon(2e-4));
  }
}
