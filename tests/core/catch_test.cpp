#include <catch2/catch.hpp>

#include "core/catch/catch_scene.h"
#include "core/fit/measure.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

View view_at(const Vec3& target, double turn, double tilt, double distance, bool perspective = true) {
  return view_of(Camera{target, turn, tilt, distance, perspective}, 1000, 800);
}

// What best_tack must find, worked out without any index: every vertex of every part, every ray against every triangle.
std::optional<Caught> scan(const CatchScene& scene, const View& view, double x, double y, const CatchOptions& o) {
  std::optional<Caught> best;
  for (const CatchPart& part : scene.parts) {
    if (o.leave_out && o.leave_out(part.id)) continue;
    const auto offer = [&](const TackAddress& address, const Vec3& local, double handicap) {
      const Vec3 p = part.world * local;
      const auto px = view.project(p);
      if (!px) return;
      const double off = std::hypot(px->x - x, px->y - y);
      if (off > o.radius) return;
      const Caught c{address, p, off, off + handicap, px->depth, false};
      if (best && !ranks_before(c, *best)) return;
      const Vec3 eye = view.perspective ? view.eye : p + view.back() * px->depth;
      for (const CatchPart& other : scene.parts) {
        const Ray ray{other.to_mesh * eye, other.to_mesh.linear * (p - eye)};
        for (std::uint32_t t = 0; t < other.mesh->triangles().size(); ++t)
          if (const auto hit = ray_triangle(ray, other.mesh->corners(t));
              hit && *hit < 1 - o.touch / distance(p, eye) - 1e-9)
            return;
      }
      best = c;
    };
    for (std::uint32_t v = 0; o.vertices && v < part.mesh->positions().size(); ++v)
      offer({TackKind::Vertex, part.id, v, {}}, part.mesh->positions()[v], kVertexHandicap);
    for (int i = 0; o.box_points && i < 27; ++i) {
      const Vec3 f{i % 3 * 0.5, i / 3 % 3 * 0.5, i / 9 * 0.5};
      offer({TackKind::BoxPoint, part.id, 0, f}, part.mesh->box().at(f), kBoxPointHandicap);
    }
    if (o.pivots) offer({TackKind::Pivot, part.id, 0, {}}, part.pivot, kPivotHandicap);
  }
  return best;
}

}  // namespace

TEST_CASE("the best tack is the one a plain scan finds") {
  Chance chance(61);
  int found = 0;
  for (int round = 0; round < 12; ++round) {
    Scene s;
    for (int i = 0; i < 6; ++i) {
      const MeshPtr mesh = i % 2 == 0 ? cube(30) : blob(chance, 60);
      if (round % 3 != 0) mesh->index();
      s.add(part_of("P", mesh, chance.placement(80)));
    }
    const CatchScene prepared = make_catch_scene(s);
    for (int i = 0; i < 60; ++i) {
      const View view = view_at(chance.point(40), chance.between(-180, 180), chance.between(-80, 80),
                                chance.between(300, 900), i % 2 == 0);
      const double x = chance.between(200, 800), y = chance.between(150, 650);
      CatchOptions o;
      o.radius = chance.between(4, 40);
      if (i % 4 == 0) o.leave_out = [](PartId id) { return id % 2 == 0; };
      const auto a = best_tack(prepared, view, x, y, o), b = scan(prepared, view, x, y, o);
      REQUIRE(a.has_value() == b.has_value());
      if (!a) continue;
      ++found;
      CHECK(a->score == Approx(b->score).margin(kScoreTie));
      if (std::abs(a->score - b->score) < 1e-9) CHECK(distance(a->point, b->point) < 1e-6);
    }
  }
  CHECK(found > 100);
}

TEST_CASE("what is covered is caught only when asked for, and marked") {
  Scene s;
  s.add(part_of("Wall", cube(100)));
  Placement behind;
  behind.position = {40, 150, 40};
  s.add(part_of("Pin", cube(20), behind));
  const CatchScene prepared = make_catch_scene(s);
  const View view = view_at({50, 50, 50}, 0, 0, 1000, false);
  const auto px = view.project({40, 150, 40});
  CatchOptions o;
  o.box_points = o.pivots = false;
  CHECK_FALSE(best_tack(prepared, view, px->x, px->y, o));
  const auto all = all_tacks(prepared, view, px->x, px->y, o);
  REQUIRE_FALSE(all.empty());
  CHECK(all.front().behind);
  CHECK(all.front().address.part == 2);
  // Looking through what moves: the wall no longer hides it.
  o.see_through = [](PartId id) { return id == 1; };
  CHECK(best_tack(prepared, view, px->x, px->y, o));
}

TEST_CASE("hidden parts are not there to be caught or struck") {
  Scene s;
  Part box = part_of("Box", cube(50));
  box.hidden = true;
  s.add(box);
  CHECK(make_catch_scene(s).parts.empty());
}

TEST_CASE("a vertex wins over a box point at the same place, the nearer of two over the farther") {
  Caught vertex{{TackKind::Vertex, 2, 5, {}}, {}, 3, 3 + kVertexHandicap, 100, false};
  Caught corner{{TackKind::BoxPoint, 1, 0, {}}, {}, 3, 3 + kBoxPointHandicap, 50, false};
  CHECK(ranks_before(vertex, corner));
  Caught nearer = vertex;
  nearer.depth = 90;
  nearer.score += kScoreTie / 2;
  CHECK(ranks_before(nearer, vertex));
  Caught lower = vertex;
  lower.address.part = 1;
  CHECK(ranks_before(lower, vertex));
}

TEST_CASE("the pointer strikes the nearest surface") {
  Scene s;
  s.add(part_of("Near", cube(10)));
  Placement far;
  far.position = {0, 50, 0};
  s.add(part_of("Far", cube(10), far));
  const CatchScene prepared = make_catch_scene(s);
  const View view = view_at({5, 5, 5}, 0, 0, 500);
  const auto px = view.project({5, 0, 5});
  const auto struck = strike(prepared, view, px->x, px->y);
  REQUIRE(struck);
  CHECK(struck->part == 1);
  CHECK(struck->point.y == Approx(0).margin(1e-9));
  CHECK(strike(prepared, view, px->x, px->y, [](PartId id) { return id == 1; })->part == 2);
  CHECK_FALSE(strike(prepared, view, 3, 3));
}

TEST_CASE("a rectangle picks what it encloses, or what it touches") {
  Scene s;
  s.add(part_of("A", cube(10)));
  Placement right;
  right.position = {20, 0, 0};
  s.add(part_of("B", cube(10), right));
  const CatchScene prepared = make_catch_scene(s);
  const View view = view_at({15, 5, 5}, 0, 0, 200, false);
  const auto low = view.project({-1, 0, -1}), high = view.project({25, 0, 11});
  CHECK(parts_in_rectangle(prepared, view, low->x, high->y, high->x, low->y, false) == std::vector<PartId>{1});
  CHECK(parts_in_rectangle(prepared, view, low->x, high->y, high->x, low->y, true) == std::vector<PartId>{1, 2});
}
