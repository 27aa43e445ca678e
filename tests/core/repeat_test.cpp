// Repeat: copies stand to the last bit where Move and Rotate would have brought one; mirror images.
#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/verbs/mirror.h"
#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

namespace {

Scene post_and_hub() {
  Scene s;
  s.add(part_of("Post 1", cube(30), {{10.1, 20.2, 0}, {}, {1, 1, 1}, {}, {}}));
  s.add(part_of("Hub", cube(10), {{200, 100, 50}, {0, 0, 30}, {1, 1, 1}, {}, {}}));
  return s;
}

PartId part_named(const Scene& s, const std::string& name) {
  const auto id = find_by_path(s, name);
  REQUIRE(id);
  return *id;
}

Vec3 at_vertex(const Scene& s, PartId id, std::size_t v) { return world_of(s, id) * s.part(id).mesh->positions()[v]; }

std::string why_not(const Verb& verb, const Scene& s) {
  const auto result = tack::apply(verb, s);
  REQUIRE_FALSE(result);
  return result.error().what;
}

}  // namespace

TEST_CASE("a row stands where Move would have brought each, by every times i and not by adding", "[repeat]") {
  const Scene s = post_and_hub();
  Repeat r;
  r.what = {1};
  r.measured = Repeat::Measured::Pivots;
  r.every = Amount{0.1};
  r.count = 8;
  const Scene after = done(r, s);
  CHECK(after.size() == 9);
  for (int i = 1; i < 8; ++i) {
    Move move;
    move.what = {1};
    move.by[0] = Amount{0.1 * i};
    const PartId copy = part_named(after, fmt::format("Post {}", i + 1));
    CHECK(after.part(copy).placement == done(move, s).part(1).placement);
    CHECK(after.part(copy).mesh == s.part(1).mesh);
  }
  CHECK(after.part(1).placement == s.part(1).placement);
  // From box to box, backwards too.
  r.measured = Repeat::Measured::Boxes;
  r.every = Amount{5};
  r.count = 3;
  CHECK(done(r, s).part(part_named(done(r, s), "Post 3")).placement.position == Vec3{80.1, 20.2, 0});
  r.every = Amount{-5};
  CHECK(done(r, s).part(part_named(done(r, s), "Post 2")).placement.position.x == Approx(10.1 - 35));
}

TEST_CASE("up to a place, in a grid, as separate parts", "[repeat]") {
  const Scene s = post_and_hub();
  Repeat r;
  r.what = {1};
  r.way = Repeat::Way::UpTo;
  r.from = TackAddress{TackKind::Pivot, 1, 0, {}};
  r.to = TackAddress{TackKind::Pivot, 2, 0, {}};
  r.count = 4;
  const Scene up = done(r, s);
  CHECK(up.part(part_named(up, "Post 4")).placement.position == Vec3{200, 100, 50});
  CHECK(distance(up.part(part_named(up, "Post 2")).placement.position, Vec3{10.1 + 189.9 / 3, 20.2 + 79.8 / 3, 50.0 / 3}) <
        1e-12);
  r = {};
  r.what = {1};
  r.way = Repeat::Way::Grid;
  r.measured = Repeat::Measured::Pivots;
  r.counts = {4, 3, 1};
  r.steps = {Amount{40}, Amount{50}, Amount{}};
  r.instances = false;
  const Scene grid = done(r, s);
  CHECK(grid.size() == 13);
  CHECK(grid.part(part_named(grid, "Post 12")).placement.position == Vec3{130.1, 120.2, 0});
  CHECK(grid.part(part_named(grid, "Post 12")).mesh != s.part(1).mesh);
  CHECK(grid.part(part_named(grid, "Post 12")).mesh != grid.part(part_named(grid, "Post 11")).mesh);
}

TEST_CASE("seven paddles stand to the bit where typed angles would turn them, and the ring closes", "[repeat]") {
  Scene s = post_and_hub();
  Repeat r;
  r.what = {1};
  r.way = Repeat::Way::Round;
  r.axis = 2;
  r.axes = AxesKind::World;
  r.about = TackAddress{TackKind::Pivot, 2, 0, {}};
  r.count = 7;
  const Scene after = done(r, s);
  std::vector<Vec3> arms;
  for (int i = 0; i < 7; ++i) {
    Rotate rotate;
    rotate.what = {1};
    rotate.axes = AxesKind::World;
    rotate.round.axis = 2;
    rotate.about = about_place(*r.about);
    rotate.angle = Amount{360.0 * i / 7};
    const Scene turned = i == 0 ? s : done(rotate, s);
    const PartId paddle = part_named(after, fmt::format("Post {}", i + 1));
    CHECK(after.part(paddle).placement == turned.part(1).placement);
    arms.push_back(after.part(paddle).placement.position - Vec3{200, 100, 50});
  }
  // The last gap is like the first, and all of them make one turn.
  const auto gap = [&](std::size_t i) {
    const Vec3 &a = arms[i], &b = arms[(i + 1) % 7];
    return atan2_degrees(a.x * b.y - a.y * b.x, a.x * b.x + a.y * b.y);
  };
  CHECK(std::abs(gap(6) - gap(0)) < 1e-12);
  double sum = 0;
  for (std::size_t i = 0; i < 7; ++i) sum += gap(i);
  CHECK(std::abs(sum - 360) < 1e-12);
  // A smaller arc has one gap fewer; kept in their direction only the places go round.
  r.over = Amount{-90};
  r.count = 4;
  r.turned = false;
  const Scene arc = done(r, s);
  const Vec3 start = s.part(1).placement.position - Vec3{200, 100, 50};
  CHECK(distance(arc.part(part_named(arc, "Post 4")).placement.position - Vec3{200, 100, 50},
                 Vec3{start.y, -start.x, start.z}) < 1e-12);
  CHECK(arc.part(part_named(arc, "Post 4")).placement.rotation == Vec3{});
}

TEST_CASE("a mirror image has one negative factor, and mirroring twice gives the same bits", "[repeat]") {
  Chance chance(31);
  for (int i = 0; i < 2000; ++i) {
    Placement p;
    const auto decimal = [&](double reach) { return std::nearbyint(chance.between(-reach, reach) * 1000) / 1000; };
    p.position = {decimal(900), decimal(900), decimal(900)};
    p.rotation = {decimal(180), decimal(90), decimal(180)};
    p.scale = {chance.between(0.2, 4), chance.between(0.2, 4), chance.between(0.2, 4)};
    if (i % 3 == 0) p.skew = {chance.between(-0.5, 0.5), chance.between(-0.5, 0.5), chance.between(-0.5, 0.5)};
    if (i % 4 == 0) p.pivot = chance.point(20);
    Scene s;
    s.add(part_of("Curve", cube(20), p));
    const int axis = i % 3;
    Vec3 n;
    n[axis] = 1;
    const Vec3 at{decimal(500), decimal(500), decimal(500)};
    const auto once = mirrored(s, 1, at, n);
    REQUIRE(once);
    CHECK((once->scale.x < 0) == (p.scale.x > 0));
    CHECK(std::abs(once->scale.x) == p.scale.x);
    Scene image = s;
    image.place(1, *once);
    // Every vertex is the mirror image of what it was.
    for (std::size_t v = 0; v < 8; ++v) {
      const Vec3 was = at_vertex(s, 1, v), is = at_vertex(image, 1, v);
      Vec3 should = was;
      should[axis] = 2 * at[axis] - was[axis];
      CHECK(distance(is, should) < 1e-9 * (100 + length(was)));
    }
    const auto twice = mirrored(image, 1, at, n);
    REQUIRE(twice);
    CHECK(twice->position == p.position);
    CHECK(twice->scale == p.scale);
    CHECK(twice->skew == p.skew);
    CHECK(twice->pivot == p.pivot);
    // Across x the angles only change signs; across y and z they come back with the fewest decimals.
    CHECK(twice->rotation == p.rotation);
  }
}

TEST_CASE("mirror images of nested, turned, skewed parts lie where a second method says", "[repeat][sweep]") {
  Chance chance(99);
  Cases row("mirror images, in planes of any direction, nested");
  int refused = 0;
  const int count = cases(3000);
  for (int i = 0; i < count; ++i) {
    const Odd odd = odd_scene(chance, 4);
    const Vec3 n = chance.direction(), at = chance.point(200);
    const auto placement = mirrored(odd.scene, odd.moving, at, n);
    if (!placement) {
      ++refused;
      continue;
    }
    Scene image = odd.scene;
    image.place(odd.moving, *placement);
    row.add(worst_vertex(odd.scene, image, odd.moving, [&](const LongVec& p) {
      const LongVec normal = unit(longer(n));
      return p - normal * (2 * dot(normal, p - longer(at)));
    }));
  }
  CHECK(refused < count / 20);
}

TEST_CASE("what cannot be repeated is refused in words; steps files say it all", "[repeat]") {
  Scene s = post_and_hub();
  Repeat r;
  r.what = {1};
  r.measured = Repeat::Measured::Pivots;
  CHECK(why_not(r, s) == "They would all stand in one place along x.");
  r.every = Amount{10};
  r.count = 1;
  CHECK(why_not(r, s) == "There is one already: say how many there are to be, 2 or more.");
  r.count = 20000;
  CHECK(why_not(r, s) == "20000 are too many at once; 10000 is the most.");
  r = {};
  r.what = {1};
  r.way = Repeat::Way::Round;
  CHECK(why_not(r, s) == "Round what? A point of the axis is missing.");
  const auto survives = [&](const char* text) {
    const auto verb = verb_from_json(Json::parse(text), s);
    INFO(text << (verb ? std::string() : sentence(verb.error())));
    REQUIRE(verb);
    const Json json = to_json(*verb, s);
    const auto back = verb_from_json(json, s);
    REQUIRE(back);
    CHECK(to_json(*back, s) == json);
    CHECK(tack::apply(*verb, s));
  };
  survives(R"({"verb":"repeat","what":["Post 1"],"row":{"along":"x","every":90},"count":5,"copies":"instances"})");
  survives(R"({"verb":"repeat","what":["Post 1"],"row":{"along":"y","gap":"2 mm"},"count":3})");
  survives(R"({"verb":"repeat","what":["Post 1"],"row":{"from":"\"Post 1\" pivot","to":"\"Hub\" pivot"},"count":4})");
  survives(
      R"({"verb":"repeat","what":["Post 1"],"round":"z","axes":"local","about":"\"Hub\" pivot","over":360,"count":7,"turned":true})");
  survives(R"({"verb":"repeat","what":["Post 1"],"grid":{"x":[4,30],"y":[3,30]}})");
  survives(R"({"verb":"repeat","what":["Post 1"],"mirror":{"across":"x","at":"\"Hub\" pivot"},"copies":"separate"})");
  for (const char* bad :
       {R"({"verb":"repeat","what":["Post 1"],"row":{"along":"x"},"count":5})",
        R"({"verb":"repeat","what":["Post 1"],"row":{"along":"x","every":5,"gap":5}})",
        R"({"verb":"repeat","what":["Post 1"],"grid":{"x":[4.5,30]}})",
        R"({"verb":"repeat","what":["Post 1"],"mirror":{"plane":"Hub"}})",
        R"({"verb":"repeat","what":["Post 1"],"mirror":{"across":"x","at":"\"Hub\" pivot"},"count":3})",
        R"({"verb":"repeat","what":["Post 1"],"round":"w","about":"\"Hub\" pivot"})"})
    CHECK_FALSE(verb_from_json(Json::parse(bad), s));
}
