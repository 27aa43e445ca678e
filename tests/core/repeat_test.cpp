// Repeat: copies stand to the last bit where Move and Rotate would have brought one; mirror images.
#include "core/hands/repeating.h"
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
  CHECK(distance(up.part(part_named(up, "Post 2")).placement.position,
                 Vec3{10.1 + 189.9 / 3, 20.2 + 79.8 / 3, 50.0 / 3}) < 1e-12);
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

TEST_CASE("copies over 10,000 odd scenes stand where a second method says", "[repeat][sweep]") {
  Chance chance(8087);
  Cases row("repeat: rows, grids, up to a place, round an axis");
  int refused = 0;
  const int count = cases(10000);
  for (int i = 0; i < count; ++i) {
    const Odd odd = odd_scene(chance, 3);
    const Scene& s = odd.scene;
    Repeat r;
    r.what = {odd.moving};
    r.axes = odd_axes(chance, odd.still, chance.whole(0, 4));
    r.axis = chance.whole(0, 2);
    r.measured = Repeat::Measured::Pivots;
    r.way = static_cast<Repeat::Way>(chance.whole(0, 3));
    r.count = chance.whole(2, 5);
    r.every = Amount{chance.between(-90, 90)};
    r.from = point(chance.point(90));
    r.to = point(chance.point(90));
    r.about = point(chance.point(90));
    r.over = Amount{chance.whole(0, 1) == 0 ? 360 : chance.between(-300, 300)};
    r.counts = {chance.whole(1, 3), 2, chance.whole(1, 2)};
    r.steps = {Amount{chance.between(5, 60)}, Amount{chance.between(5, 60)}, Amount{chance.between(5, 60)}};
    const auto after = tack::apply(Verb(r), s);
    if (!after) {
      ++refused;
      continue;
    }
    const LongAffine columns = long_axes(s, odd.moving, r.axes);
    const std::array<LongVec, 3> axes{long_squared(columns, 0), long_squared(columns, 1), long_squared(columns, 2)};
    std::vector<std::function<LongVec(const LongVec&)>> motions;
    const auto shifted = [&](const LongVec& by) { motions.push_back([by](const LongVec& p) { return p + by; }); };
    const auto axis = axes[static_cast<std::size_t>(r.axis)];
    for (int k = 1; k < r.count && r.way != Repeat::Way::Grid; ++k) {
      if (r.way == Repeat::Way::Row) shifted(axis * (Real(r.every.value) * k));
      if (r.way == Repeat::Way::UpTo)
        shifted((longer(r.to->parameter) - longer(r.from->parameter)) * (Real(k) / (r.count - 1)));
      if (r.way == Repeat::Way::Round) {
        const bool whole = std::fmod(std::abs(r.over.value), 360) == 0;
        // Round an axis of a skewed parent as it is, as Rotate turns.
        const LongVec raw = unit(r.axis == 0 ? columns.x : r.axis == 1 ? columns.y : columns.z);
        const LongAffine turn = long_turn(r.axes.kind == AxesKind::Parent ? raw : axis,
                                          Real(r.over.value) * k / (whole ? r.count : r.count - 1));
        const LongVec still = longer(r.about->parameter);
        motions.push_back([turn, still](const LongVec& p) { return still + turn.turned(p - still); });
      }
    }
    if (r.way == Repeat::Way::Grid)
      for (int c = 0; c < r.counts[2]; ++c)
        for (int b = 0; b < r.counts[1]; ++b)
          for (int a = 0; a < r.counts[0]; ++a)
            if (a + b + c > 0)
              shifted(axes[0] * (Real(r.steps[0].value) * a) + axes[1] * (Real(r.steps[1].value) * b) +
                      axes[2] * (Real(r.steps[2].value) * c));
    // The copies have the ids that come next, in the order in which they are made.
    PartId copy = s.id_limit();
    for (const auto& motion : motions) {
      REQUIRE(after->contains(copy));
      double worst = 0;
      for (std::size_t v = 0; v < 8; ++v)
        worst = std::max(
            worst, share_of_bound(*after, copy, long_vertex(*after, copy, v), motion(long_vertex(s, odd.moving, v))));
      row.add(worst);
      ++copy;
    }
    if (after->contains(copy)) FAIL_CHECK("a copy too many, case " << i);
    if (!(after->part(odd.moving).placement == s.part(odd.moving).placement)) FAIL_CHECK("the original moved");
  }
  INFO(refused << " of " << count << " refused");
  CHECK(refused < count / 10);
}

TEST_CASE("what cannot be repeated is refused in words; steps files say it all", "[repeat]") {
  Scene s = post_and_hub();
  Repeat r;
  r.what = {1};
  r.measured = Repeat::Measured::Pivots;
  CHECK(refusal(r, s).starts_with("They would all stand in one place along x."));
  r.every = Amount{10};
  r.count = 1;
  CHECK(refusal(r, s).starts_with("There is one already: say how many there are to be, 2 or more."));
  r.count = 20000;
  CHECK(refusal(r, s).starts_with("20000 are too many at once; 10000 is the most."));
  r = {};
  r.what = {1};
  r.way = Repeat::Way::Round;
  CHECK(refusal(r, s).starts_with("Round what? A point of the axis is missing."));
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
  // Two keys that say different things: neither wins in silence.
  const auto refused = [&](const char* text) { return sentence(verb_from_json(Json::parse(text), s).error()); };
  CHECK(refused(R"({"verb":"repeat","what":["Post 1"],"row":{"along":"x","every":20},"grid":{"x":[2,3]}})") ==
        "row: \"row\" does not go with the other keys. Leave one of them out.");
  CHECK(refused(R"({"verb":"repeat","what":["Post 1"],"round":"z","mirror":{"across":"x","at":"\"Hub\" pivot"}})") ==
        "round: \"round\" does not go with the other keys. Leave one of them out.");
  CHECK(
      refused(
          R"({"verb":"repeat","what":["Post 1"],"about":"\"Hub\" pivot","mirror":{"across":"x","at":"\"Hub\" pivot"}})")
          .starts_with("about: A mirror image says in \"mirror\" where it is."));
  CHECK(
      refused(
          R"({"verb":"repeat","what":["Post 1"],"axes":"local","row":{"from":"\"Post 1\" pivot","to":"\"Hub\" pivot"}})")
          .starts_with("axes: \"axes\" means nothing here: the two places say it."));
}

TEST_CASE("steppers keep a grid to two or more and every count within bounds", "[repeat]") {
  Repeat r;
  r.way = Repeat::Way::Grid;
  const auto stepped = [&](Handle::Kind kind, int axis) {
    Handle handle{kind, {}, {}, {}, {}};
    handle.box = axis;
    return with_stepper(r, handle).counts;
  };
  r.counts = {2, 1, 1};
  CHECK(stepped(Handle::Kind::Less, 0) == std::array{2, 1, 1});
  CHECK(stepped(Handle::Kind::More, 2) == std::array{2, 1, 2});
  r.counts = {2, 2, 1};
  CHECK(stepped(Handle::Kind::Less, 0) == std::array{1, 2, 1});
  r.counts = {10000, 10000, 10000};
  CHECK(stepped(Handle::Kind::More, 1) == r.counts);
}
