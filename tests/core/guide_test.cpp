// Guides: points, lines and planes to be caught on and measured from.
#include "core/catch/catch_scene.h"
#include "core/fit/measure.h"
#include "core/math/degrees.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {

AddGuide guide(GuideKind kind, const TackAddress& at, const std::string& name = {}) { return {kind, at, name}; }

TackAddress on_guide(PartId part, double x = 0, double y = 0) { return {TackKind::Guide, part, 0, {x, y, 0}}; }

}  // namespace

TEST_CASE("a guide goes through its place, along or across its direction", "[guide]") {
  Chance chance(511);
  for (int i = 0; i < 200; ++i) {
    Scene s;
    const PartId post = s.add(part_of("Post", cube(20), chance.placement(200)));
    const TackAddress face{TackKind::Face, post, static_cast<std::uint32_t>(i % 12), {0.25, 0.25, 0}};
    const auto place = find_tack(s, face);
    REQUIRE(place);
    const Scene line = done(guide(GuideKind::Line, face), s);
    const PartId id = line.roots().back();
    CHECK(line.part(id).name == "Guide");
    CHECK(line.part(id).placement.scale == Vec3{1, 1, 1});
    const auto at = find_tack(line, on_guide(id, 30));
    REQUIRE(at);
    CHECK(distance(at->point, place->point + *place->direction * 30) < 1e-9);
    CHECK(angle_between(*at->direction, *place->direction) < 1e-9);
    const Scene plane = done(guide(GuideKind::Plane, face), s);
    const auto off = find_tack(plane, on_guide(id, 12, -7));
    REQUIRE(off);
    CHECK(std::abs(dot(off->point - place->point, *place->direction)) < 1e-9);
    CHECK(distance(off->point, place->point) == Approx(std::hypot(12, 7)).epsilon(1e-12));
    CHECK(angle_between(*off->direction, *place->direction) < 1e-9);
    CHECK(angle_between(*off->roll, *place->roll) < 1e-9);
    const Scene point = done(guide(GuideKind::Point, face), s);
    CHECK(distance(find_tack(point, on_guide(id))->point, place->point) < 1e-9);
    CHECK_FALSE(find_tack(point, on_guide(id))->direction);
  }
}

TEST_CASE("guides have addresses and steps, and are met like anything else", "[guide]") {
  Scene s = one_part({});
  s = done(guide(GuideKind::Line, {TackKind::Point, kNoPart, 0, {100, 50, 0}}, "Centre line"), s);
  const PartId id = s.roots().back();
  CHECK(address_text(s, on_guide(id, 12.5)) == "\"Centre line\" guide 12.5");
  for (const char* text : {"\"Centre line\" guide", "\"Centre line\" guide 12.5", "\"Centre line\" guide 3,-4"}) {
    const auto address = parse_address(s, text);
    REQUIRE(address);
    CHECK(address_text(s, *address) == text);
  }
  CHECK(tack_words(s, on_guide(id)) == "guide · Centre line");
  CHECK_FALSE(find_tack(s, on_guide(1)));
  // The post's corner onto the line, 40 mm up.
  Meet meet;
  meet.from = vertex(1, 0);
  meet.to = on_guide(id, 40);
  const Scene met = done(meet, s);
  CHECK(find_tack(met, vertex(1, 0))->point == Vec3{100, 50, 40});
  // It moves like a part, and has no size.
  Move move;
  move.what = {id};
  move.by[0] = Amount{5};
  CHECK(find_tack(done(move, s), on_guide(id, 40))->point == Vec3{105, 50, 40});
  Scale scale;
  scale.what = {id};
  scale.size[0] = Amount{5};
  CHECK_FALSE(tack::apply(Verb(scale), s));
  const Verb verb = guide(GuideKind::Plane, vertex(1, 3), "Level");
  CHECK(to_json(*verb_from_json(to_json(verb, s), s), s) == to_json(verb, s));
  CHECK(plain_text(sentence(verb, s, Tense::Past)) == "Laid a guide plane through vertex of Post, named Level.");
  CHECK_FALSE(verb_from_json(Json{{"verb", "guide"}, {"kind", "ring"}, {"at", "point 1,2,3"}}, s));
  CHECK_FALSE(tack::apply(Verb(AddGuide{GuideKind::Line, {}, {}}), s));
}

TEST_CASE("a guide line is caught at its place nearest to the pointer, a plane where nothing else is", "[guide]") {
  Scene s;
  s = done(guide(GuideKind::Line, {TackKind::Point, kNoPart, 0, {10, 0, 0}}), s);
  s = done(guide(GuideKind::Plane, {TackKind::Point, kNoPart, 0, {0, 0, -60}}), s);
  const PartId line = s.roots()[0], plane = s.roots()[1];
  Chance chance(512);
  int caught_line = 0, caught_plane = 0;
  for (int i = 0; i < 300; ++i) {
    const View view =
        view_of(Camera{{0, 0, 0}, chance.between(-180, 180), chance.between(10, 70), 700, i % 2 == 0}, 1000, 800);
    const CatchScene prepared = make_catch_scene(s);
    const double x = chance.between(350, 650), y = chance.between(250, 550);
    CatchOptions options;
    options.kinds.set(CatchKind::Pivot, false);
    const auto caught = best_tack(prepared, view, x, y, options);
    // A plain look along the line: the nearest of many places of it.
    double nearest = 1e9;
    for (int k = -20000; k <= 20000; ++k)
      if (const auto px = view.project(Vec3{10, 0, k * 0.02}))
        nearest = std::min(nearest, std::hypot(px->x - x, px->y - y));
    if (nearest < 9.9) {
      REQUIRE(caught);
      if (caught->address.part == line) {
        ++caught_line;
        CHECK(caught->pixels == Approx(nearest).margin(0.02));
        CHECK(distance(find_tack(s, caught->address)->point, caught->point) < 1e-8);
      }
      continue;
    }
    const Ray ray = view.ray(x, y);
    const Vec3 hit = ray.origin + ray.direction * ((-60 - ray.origin.z) / ray.direction.z);
    if (std::abs(hit.x) > 149 || std::abs(hit.y) > 149 || nearest < 10.1) continue;
    REQUIRE(caught);
    CHECK(caught->address.part == plane);
    if (caught->score < kFaceScore) continue;  // near its origin: the origin itself
    ++caught_plane;
    CHECK(distance(caught->point, hit) < 1e-6);
  }
  CHECK(caught_line > 3);
  CHECK(caught_plane > 50);
  // Hidden behind a part it is not caught by itself.
  Placement before;
  before.position = {-100, -220, -100};
  s.add(part_of("Wall", cube(200), before));
  const View front = view_of(Camera{{0, 0, 0}, 0, 0, 700, false}, 1000, 800);
  const auto px = front.project(Vec3{10, 0, 20});
  CatchOptions only;
  only.kinds = CatchKinds::only(CatchKind::Guide);
  CHECK_FALSE(best_tack(make_catch_scene(s), front, px->x, px->y, only));
  only.hidden_too = true;
  const auto behind = best_tack(make_catch_scene(s), front, px->x, px->y, only);
  REQUIRE(behind);
  CHECK(behind->behind);
}

TEST_CASE("an edge is caught where it crosses a guide plane, as far as that is shown", "[guide]") {
  Scene s;
  const MeshPtr mesh = cube(40);
  mesh->index();
  mesh->features();
  s.add(part_of("Post", mesh));
  AddGuide level = guide(GuideKind::Plane, point({0, 0, 13}), "Level");
  s = done(level, s);
  const View view = view_of(Camera{{20, 20, 20}, 30, 25, 400, true}, 1000, 800);
  CatchOptions options;
  options.kinds = CatchKinds::only(CatchKind::EdgePoint);
  options.edge_parts = 5;  // no fraction at 13 of 40
  const Vec3 crossing{0, 0, 13};
  const auto px = view.project(crossing);
  const auto caught = best_tack(make_catch_scene(s), view, px->x, px->y, options);
  REQUIRE(caught);
  CHECK(caught->address.kind == TackKind::Crossing);
  CHECK(distance(caught->point, crossing) < 1e-9);
  CHECK(distance(find_tack(s, caught->address)->point, crossing) < 1e-9);
  // Far to the side the plane is not shown, and crosses nothing.
  Move away;
  away.what = {s.roots().back()};
  away.by[0] = Amount{400};
  const Scene other = done(away, s);
  const auto none = best_tack(make_catch_scene(other), view, px->x, px->y, options);
  CHECK((!none || none->address.kind != TackKind::Crossing));
}

TEST_CASE("a straight piece is cut off in front of the eye", "[guide]") {
  const View view = view_of(Camera{{0, 0, 0}, 0, 0, 100, true}, 1000, 800);
  const auto whole = view.project(Vec3{-10, 0, 0}, Vec3{10, 0, 0});
  REQUIRE(whole);
  CHECK((*whole)[0].x == Approx(view.project(Vec3{-10, 0, 0})->x));
  CHECK_FALSE(view.project(Vec3{0, -200, 0}, Vec3{5, -300, 0}));
  const auto cut = view.project(Vec3{0, 0, 10}, Vec3{0, -200, 10});
  REQUIRE(cut);
  CHECK((*cut)[0].y == Approx(view.project(Vec3{0, 0, 10})->y));
  CHECK((*cut)[1].depth > 0);
}
