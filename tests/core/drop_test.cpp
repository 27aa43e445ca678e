// Drop: where parts come to lie, worked out by hand and held against a second method.
#include "core/fit/standing.h"
#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

namespace {

Scene board() {
  Scene s;
  Placement wide;
  wide.scale = {20, 20, 1};
  s.add(part_of("Board", cube(10), wide));  // 200 × 200 × 10
  return s;
}

// A four-sided pyramid, its tip down at the origin, 20 wide at 20 high.
MeshPtr spike() {
  MeshData m;
  m.positions = {{0, 0, 0}, {-10, -10, 20}, {10, -10, 20}, {10, 10, 20}, {-10, 10, 20}};
  m.triangles = {{0, 2, 1}, {0, 3, 2}, {0, 4, 3}, {0, 1, 4}, {1, 2, 3}, {1, 3, 4}};
  return *make_mesh(m);
}

Drop drop_of(PartId id) {
  Drop d;
  d.what = {id};
  return d;
}

double z_of(const Scene& s, PartId id) { return s.part(id).placement.position.z; }

}  // namespace

TEST_CASE("a part falls onto what is below, rises where it has sunk in, and keeps its gap", "[drop]") {
  Scene s = board();
  const PartId block = s.add(part_of("Block", cube(20), {{50, 50, 33}, {}, {1, 1, 1}, {}, {}}));
  Scene after = done(drop_of(block), s);
  CHECK(z_of(after, block) == 10);
  CHECK(after.part(block).placement.position.x == 50);
  CHECK(remark(Verb(drop_of(block)), s, after) == "Block fell 23 mm onto Board.");
  Drop gap = drop_of(block);
  gap.gap = Amount{1.5};
  CHECK(z_of(done(gap, s), block) == 11.5);
  s.place(block, {{50, 50, 4}, {}, {1, 1, 1}, {}, {}});
  after = done(drop_of(block), s);
  CHECK(z_of(after, block) == 10);
  CHECK(remark(Verb(drop_of(block)), s, after) == "Block rose 6 mm onto Board.");
  // Beside the board it falls to the ground.
  s.place(block, {{500, 0, 33}, {}, {1, 1, 1}, {}, {}});
  CHECK(z_of(done(drop_of(block), s), block) == 0);
  // Flush with its side it only grazes it.
  s.place(block, {{200, 0, 33}, {}, {1, 1, 1}, {}, {}});
  CHECK(z_of(done(drop_of(block), s), block) == 0);
  // A ceiling stops nothing.
  s.place(block, {{50, 50, 33}, {}, {1, 1, 1}, {}, {}});
  s.add(part_of("Lid", cube(10), {{0, 0, 48}, {}, {20, 20, 1}, {}, {}}));
  CHECK(z_of(done(drop_of(block), s), block) == 10);
}

TEST_CASE("surfaces touch, not boxes: tips, edges across edges, slopes, sheets", "[drop]") {
  // The tip of a spike beside the middle of a turned block's upper edge.
  Scene s;
  s.add(part_of("Roof", cube(20), {{0, 0, 0}, {45, 0, 0}, {1, 1, 1}, {}, {}}));  // its edge along x at z = 20√2
  const PartId tip = s.add(part_of("Spike", spike(), {{10, 5, 90}, {}, {1, 1, 1}, {}, {}}));
  CHECK(z_of(done(drop_of(tip), s), tip) == Approx(20 * std::sqrt(2.0) - 5).epsilon(1e-14));
  // An edge along y over that edge along x: they cross.
  const PartId beam =
      s.add(part_of("Beam", cube(30), {{10 - 30 / std::sqrt(2.0), -15, 200}, {0, 45, 0}, {1, 1, 1}, {}, {}}));
  Scene only = s;
  only.remove(tip);
  const Scene crossed = done(drop_of(beam), only);
  // Turned by 45° about y its lowest edge is that through (30, ·, 0): 30/√2 below its pivot's height.
  CHECK(z_of(crossed, beam) == Approx(20 * std::sqrt(2.0) + 30 / std::sqrt(2.0)).epsilon(1e-14));
  // A sheet on edge, exactly over the seam of two triangles.
  MeshData sheet;
  sheet.positions = {{0, 0, 0}, {20, 20, 0}, {20, 20, 30}, {0, 0, 30}};
  sheet.triangles = {{0, 1, 2}, {0, 2, 3}};
  Scene flat;
  flat.add(part_of("Block", cube(20)));
  const PartId upright = flat.add(part_of("Sheet", *make_mesh(sheet), {{0, 0, 70}, {}, {1, 1, 1}, {}, {}}));
  CHECK(z_of(done(drop_of(upright), flat), upright) == 20);
  // A ring falls over a post, down to the board.
  MeshData ring;
  for (const double z : {0.0, 10.0})
    for (const double r : {20.0, 40.0})
      for (const auto& [x, y] : {std::pair{1, 1}, {-1, 1}, {-1, -1}, {1, -1}})
        ring.positions.push_back({x * r, y * r, z});
  for (std::uint32_t i = 0; i < 4; ++i) {
    const std::uint32_t k = (i + 1) % 4;
    const auto quad = [&](std::uint32_t a, std::uint32_t b, std::uint32_t c, std::uint32_t d) {
      ring.triangles.push_back({a, b, c});
      ring.triangles.push_back({a, c, d});
    };
    quad(4 + i, i, k, 4 + k);            // below
    quad(8 + i, 12 + i, 12 + k, 8 + k);  // above
    quad(i, 8 + i, 8 + k, k);            // inside
    quad(4 + k, 12 + k, 12 + i, 4 + i);  // outside
  }
  Scene run = board();
  run.add(part_of("Post", cube(30), {{85, 85, 10}, {}, {1, 1, 4}, {}, {}}));
  const PartId washer = run.add(part_of("Washer", *make_mesh(ring), {{100, 100, 300}, {}, {1, 1, 1}, {}, {}}));
  CHECK(z_of(done(drop_of(washer), run), washer) == 10);
}

TEST_CASE("many each, many as one, onto a part and onto a plane", "[drop]") {
  Scene s = board();
  const PartId low = s.add(part_of("Low", cube(20), {{50, 50, 40}, {}, {1, 1, 1}, {}, {}}));
  const PartId high = s.add(part_of("High", cube(20), {{60, 60, 90}, {}, {1, 1, 1}, {}, {}}));
  Drop d;
  d.what = {high, low};
  const Scene each = done(d, s);
  CHECK(z_of(each, low) == 10);
  CHECK(z_of(each, high) == 30);  // onto the one that fell before
  CHECK(remark(Verb(d), s, each) == "High fell 60 mm onto Low; Low fell 30 mm onto Board.");
  d.as = Drop::As::Block;
  const Scene block = done(d, s);
  CHECK(z_of(block, low) == 10);
  CHECK(z_of(block, high) == 60);
  Drop onto = drop_of(high);
  onto.onto = Drop::Onto::Part;
  onto.target = 1;
  CHECK(z_of(done(onto, s), high) == 10);  // through what is between
  s.place(high, {{500, 60, 90}, {}, {1, 1, 1}, {}, {}});
  const auto refused = tack::apply(Verb(onto), s);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().what == "\"High\" is not above \"Board\".");
  Part plane;
  plane.name = "Ramp";
  plane.guide = GuideKind::Plane;
  plane.placement = {{0, 0, 50}, {0, 30, 0}, {1, 1, 1}, {}, {}};
  onto.target = s.add(plane);
  onto.onto = Drop::Onto::Plane;
  const Scene on_plane = done(onto, s);
  const Vec3 normal{0.5, 0, std::sqrt(3.0) / 2};
  double lowest = 1e9;
  for (const Vec3& v : on_plane.part(high).mesh->positions())
    lowest = std::min(lowest, dot(normal, world_of(on_plane, high) * v - Vec3{0, 0, 50}));
  CHECK(std::abs(lowest) < 1e-11);
  // A group, and what is hidden.
  const PartId group = s.add(part_of("Crates", nullptr));
  s.add(part_of("Crate", cube(10), {{20, 20, 200}, {}, {1, 1, 1}, {}, {}}, group));
  const Scene crates = done(drop_of(group), s);
  CHECK(z_of(crates, group) == -190);
  Part hidden = s.part(1);
  hidden.hidden = true;
  s.replace(1, hidden);
  CHECK(z_of(done(drop_of(group), s), group) == -200);
}

namespace {

// The second method: the height of one triangle over another at a point, by solving for the plane in long double; asked
// at every corner of the one over the other, and at every crossing of their sides.
std::optional<Real> height(const std::array<LongVec, 3>& t, Real x, Real y) {
  const LongVec a = t[1] - t[0], b = t[2] - t[0];
  const Real det = a.x * b.y - a.y * b.x;
  if (std::abs(det) < 1e-12L) return std::nullopt;
  const Real u = ((x - t[0].x) * b.y - (y - t[0].y) * b.x) / det, v = (a.x * (y - t[0].y) - a.y * (x - t[0].x)) / det;
  constexpr Real kIn = -1e-13L;
  if (u < kIn || v < kIn || u + v > 1 - kIn) return std::nullopt;
  return t[0].z + a.z * u + b.z * v;
}

Real least_fall(const Scene& s, PartId falls, PartId stands) {
  const auto triangles = [&](PartId id) {
    std::vector<std::array<LongVec, 3>> all;
    for (const Triangle& t : s.part(id).mesh->triangles())
      all.push_back({long_vertex(s, id, t[0]), long_vertex(s, id, t[1]), long_vertex(s, id, t[2])});
    return all;
  };
  const auto over = triangles(falls), under = triangles(stands);
  Real middle_low = 1e300L, middle_high = -1e300L;
  for (const auto& t : over)
    for (const LongVec& p : t) middle_low = std::min(middle_low, p.z), middle_high = std::max(middle_high, p.z);
  const Real ceiling = (middle_low + middle_high) / 2;
  Real least = 1e300L;
  const auto try_at = [&](Real z_over, Real z_under) {
    if (z_under <= ceiling || z_over - z_under > -1e-6L) least = std::min(least, z_over - z_under);
  };
  for (const auto& a : over)
    for (const auto& b : under) {
      for (const LongVec& p : a)
        if (const auto z = height(b, p.x, p.y)) try_at(p.z, *z);
      for (const LongVec& p : b)
        if (const auto z = height(a, p.x, p.y)) try_at(*z, p.z);
      for (int i = 0; i < 3; ++i)
        for (int k = 0; k < 3; ++k) {
          const LongVec &p = a[i], &q = a[(i + 1) % 3], &r = b[k], &t = b[(k + 1) % 3];
          const LongVec d = q - p, e = t - r;
          const Real det = d.x * e.y - d.y * e.x;
          if (std::abs(det) < 1e-12L) continue;
          const Real u = ((r.x - p.x) * e.y - (r.y - p.y) * e.x) / det,
                     v = ((r.x - p.x) * d.y - (r.y - p.y) * d.x) / det;
          if (u >= 0 && u <= 1 && v >= 0 && v <= 1) try_at(p.z + d.z * u, r.z + e.z * v);
        }
    }
  return least;
}

}  // namespace

TEST_CASE("drop of 1,000 odd pairs lands where a second method says, and none is left inside another",
          "[drop][sweep]") {
  Chance chance(4242);
  Cases row("drop: contact of two bodies");
  int landed = 0;
  const int count = cases(1000);
  for (int i = 0; i < count; ++i) {
    Scene s;
    const auto body = [&](const char* name, double z) {
      const MeshPtr mesh = chance.whole(0, 2) == 0 ? spike() : cube(chance.between(5, 40));
      Placement p = chance.placement(20);
      p.scale = {chance.between(0.4, 2), chance.between(0.4, 2), chance.between(0.4, 2)};
      p.position.z = z;
      return s.add(part_of(name, mesh, p));
    };
    const PartId under = body("Under", 0), over = body("Over", 150);
    const Real should = least_fall(s, over, under);
    const Scene after = done(drop_of(over), s);
    const double fell = z_of(s, over) - z_of(after, over);
    // What lies does not move again.
    row.add(std::abs(z_of(done(drop_of(over), after), over) - z_of(after, over)) / (1e-9 * 400));
    if (should > 1e200L) continue;  // not above each other: it fell to the ground
    ++landed;
    row.add(static_cast<double>(std::abs(fell - should) / (1e-9L * 400)));
    // What touches is not inside: nothing more of a fall is left, and nothing less.
    row.add(static_cast<double>(std::abs(least_fall(after, over, under)) / (1e-9L * 400)));
  }
  CHECK(landed > count / 2);
}

TEST_CASE("what floats or has sunk in is found, the worst first", "[drop]") {
  Scene s = board();
  const PartId lies = s.add(part_of("Lies", cube(20), {{10, 10, 10}, {}, {1, 1, 1}, {}, {}}));
  const PartId on_top = s.add(part_of("On top", cube(10), {{12, 12, 30}, {}, {1, 1, 1}, {}, {}}));
  const PartId floats = s.add(part_of("Floats", cube(20), {{60, 10, 13.5}, {}, {1, 1, 1}, {}, {}}));
  const PartId sunk = s.add(part_of("Sunk", cube(20), {{100, 10, 9.6}, {}, {1, 1, 1}, {}, {}}));
  const PartId over_nothing = s.add(part_of("Away", cube(20), {{500, 10, 7}, {}, {1, 1, 1}, {}, {}}));
  const auto found = unsupported(s, {}, 0.01);
  REQUIRE(found.size() == 3);
  CHECK((found[0].part == over_nothing && found[0].way == 7));
  CHECK((found[1].part == floats && found[1].way == Approx(3.5) && found[1].on == 1));
  CHECK((found[2].part == sunk && found[2].way == Approx(-0.4)));
  CHECK(unsupported_words(s, found[1], kMillimetres) == "floats 3.5 mm above Board");
  CHECK(unsupported_words(s, found[2], kMillimetres) == "has sunk 0.4 mm into Board");
  CHECK(unsupported(s, {lies, on_top}, 0.01).empty());
  CHECK(unsupported(s, {}, 5).size() == 1);
  const std::atomic<bool> stop{true};
  CHECK(unsupported(s, {}, 0.01, &stop).empty());
}

TEST_CASE("drops are read, written and refused", "[drop]") {
  Scene s = board();
  s.add(part_of("Block", cube(20), {{50, 50, 33}, {}, {1, 1, 1}, {}, {}}));
  s.add(part_of("Crates", nullptr));
  for (const char* text : {R"({"verb":"drop","what":["Block"],"onto":"below","gap":0.5})",
                           R"({"verb":"drop","what":["Block"],"onto":{"plane":"World"}})",
                           R"({"verb":"drop","what":["Block"],"onto":"Board","as":"block"})"}) {
    const auto verb = verb_from_json(Json::parse(text), s);
    REQUIRE(verb);
    const auto back = verb_from_json(to_json(*verb, s), s);
    REQUIRE(back);
    CHECK(*back == *verb);
    CHECK(tack::apply(*verb, s));
  }
  const auto why = [&](const Drop& d) {
    const auto result = tack::apply(Verb(d), s);
    REQUIRE_FALSE(result);
    return result.error().what;
  };
  CHECK(why(drop_of(3)) == "\"Crates\" has no surface that is shown: it cannot touch anything.");
  Drop self = drop_of(2);
  self.onto = Drop::Onto::Part;
  self.target = 2;
  CHECK(why(self) == "\"Block\" falls, too.");
  CHECK_FALSE(verb_from_json(Json::parse(R"({"verb":"drop","what":["Block"],"onto":{"plane":"Board"}})"), s)
                  .and_then([&](const Verb& verb) { return tack::apply(verb, s); }));
}
