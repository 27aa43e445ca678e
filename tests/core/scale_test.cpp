#include <catch2/catch.hpp>

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/fit/measure.h"
#include "core/math/split.h"
#include "core/mesh/extent.h"
#include "core/mesh/mesh_index.h"
#include "core/verbs/journal.h"
#include "demo/heron_hall.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {

Scale size(double value, std::size_t axis, Axes axes = AxesKind::Local) {
  Scale s;
  s.what = {1};
  s.axes = axes;
  s.size[axis] = Amount{value};
  return s;
}

// Sizes along the axes of a frame by looking at every vertex.
Vec3 scanned(const Scene& scene, PartId id, const Mat3& frame) {
  Box box;
  for (const Vec3& p : scene.part(id).mesh->positions()) box.include(transpose(frame) * (world_of(scene, id) * p));
  return box.size();
}

}  // namespace

TEST_CASE("300 mm along its own Z holding the bottom: all four base corners hold") {
  Placement p;
  p.position = {120, -40, 18};
  p.rotation = {30, 0, 0};
  const Scene s = one_part(p);
  const Scene t = done(size(300, 2), s);
  CHECK(own_size(t, 1) == Vec3{20, 20, 300});
  CHECK(t.part(1).placement.skew == Vec3{});
  CHECK(t.part(1).placement.rotation == p.rotation);
  for (int corner = 0; corner < 4; ++corner) {
    const Vec3 base{20.0 * (corner & 1), 20.0 * (corner >> 1), 0};
    CHECK(distance(world_of(s, 1) * base, world_of(t, 1) * base) <= 1e-9 * (300 + 130));
  }
  CHECK(remark(size(300, 2), s, t).empty());
}

TEST_CASE("the same along World Z skews, and says so with the ways out") {
  Placement p;
  p.rotation = {30, 0, 0};
  Scene s = one_part(p);
  Journal journal(s);
  const Scale scale = size(300, 2, AxesKind::World);
  REQUIRE(journal.add(scale));
  const Scene& t = journal.scene();
  CHECK(scanned(t, 1, {}).z == Approx(300).epsilon(1e-13));
  CHECK(largest_component(t.part(1).placement.skew) > 0.1);
  const std::string said = journal.record().steps.back()->remark;
  CHECK(said.find("Post is skewed by it") != std::string::npos);
  CHECK(said.find("own axes") != std::string::npos);
  CHECK(said.find("evenly") != std::string::npos);
  CHECK(said.find("bake") != std::string::npos);
  // Evenly makes none.
  Scale evenly = scale;
  evenly.evenly = true;
  const Scene e = done(evenly, s);
  CHECK(e.part(1).placement.skew == Vec3{});
  CHECK(scanned(e, 1, {}).z == Approx(300).epsilon(1e-13));
}

TEST_CASE("the held point stays and the size is met: every hold, nested, skewed, mirrored") {
  Chance chance(311);
  double worst_hold = 0, worst_size = 0;
  for (int i = 0; i < 2000; ++i) {
    Scene s;
    const PartId top = s.add(part_of("Lift", nullptr, chance.placement(200)));
    const MeshPtr mesh = blob(chance, 30);
    const PartId id = s.add(part_of("Scoop", mesh, chance.placement(200), top));
    Scale scale;
    scale.what = {id};
    scale.axes = i % 2 ? Axes(AxesKind::Local) : Axes(AxesKind::World);
    const auto axis = static_cast<std::size_t>(chance.whole(0, 2));
    const double wanted = chance.between(5, 500);
    scale.size[axis] = Amount{wanted};
    const TackAddress vertex{TackKind::Vertex, id, static_cast<std::uint32_t>(chance.whole(0, 29)), {}};
    Vec3 before;
    switch (i % 4) {
      case 0: scale.hold = about_place(vertex); break;
      case 1: scale.hold.kind = About::Kind::Own; break;  // its pivot
      case 2: scale.hold.fraction = {double(chance.whole(0, 2)) / 2, 0, 1}; break;
      default: scale.hold = about_place({TackKind::Point, kNoPart, 0, chance.point(300)}); break;
    }
    const auto still = still_point(scale.hold, s, id, {id}, scale.axes);
    REQUIRE(still);
    before = *inverse(world_of(s, id)) * *still;
    const auto t = tack::apply(scale, s);
    REQUIRE(t);
    const double reach = world_box_of(*mesh, world_of(*t, id)).extent() + length(*still);
    worst_hold = std::max(worst_hold, distance(world_of(*t, id) * before, *still) / reach);
    const double is = scale.axes.kind == AxesKind::Local ? own_size(*t, id)[static_cast<int>(axis)]
                                                         : scanned(*t, id, {})[static_cast<int>(axis)];
    worst_size = std::max(worst_size, std::abs(is - wanted) / reach);
  }
  note_number(fmt::format(
      "scale: held points moved by at most {:.2e}, sizes off by at most {:.2e} of extent and distance (2000)",
      worst_hold, worst_size));
  CHECK(worst_hold < 1e-9);
  CHECK(worst_size < 1e-9);
}

TEST_CASE("factors, percent, a mirror; what is flat, zero or twice given is refused with its name") {
  const Scene s = one_part({});
  Scale scale;
  scale.what = {1};
  scale.factor[0] = Amount{-1};
  scale.hold.kind = About::Kind::Own;
  const Scene mirrored = done(scale, s);
  CHECK(mirrored.part(1).placement.scale == Vec3{-1, 1, 1});
  CHECK(mirrored.part(1).placement.position == Vec3{});
  const auto percent = verb_from_json(
      Json::parse(R"({"verb":"scale","what":["Post"],"factor":["150%",null,"it / 2"],"hold":"pivot"})"), s);
  REQUIRE(percent);
  CHECK(done(*percent, s).part(1).placement.scale == Vec3{1.5, 1, 0.5});

  MeshData flat;
  flat.positions = {{0, 0, 0}, {10, 0, 0}, {0, 10, 0}};
  flat.triangles = {{0, 1, 2}};
  Scene plate;
  plate.add(part_of("Channel 2", *make_mesh(flat)));
  const auto refused = tack::apply(size(40, 2), plate);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().what == "\"Channel 2\" cannot be made 40 mm high: it is flat along Z.");
  CHECK_FALSE(tack::apply(size(0, 0), s));
  CHECK_FALSE(tack::apply(size(-5, 0), s));
  scale.factor[0] = Amount{0};
  CHECK_FALSE(tack::apply(scale, s));
  Scale both = size(10, 0);
  both.factor[0] = Amount{2};
  CHECK_FALSE(tack::apply(Verb(both), s));
  Scale two = size(10, 0);
  two.size[1] = Amount{20};
  two.evenly = true;
  CHECK_FALSE(tack::apply(Verb(two), s));
  Scene empty;
  empty.add(part_of("Group", nullptr));
  CHECK_FALSE(tack::apply(size(10, 0), empty));
}

TEST_CASE("size of a turned part is that of its true vertices: a plain scan over a million says the same") {
  const Scene big = demo::big_scene(1, 2000000);
  const Mesh& mesh = *big.part(1).mesh;
  REQUIRE(mesh.positions().size() > 900000);
  mesh.index();
  Chance chance(312);
  for (int i = 0; i < 5; ++i) {
    Affine frame;
    frame.linear = squared_up({{chance.direction(), chance.direction(), chance.direction()}});
    frame.translation = chance.point(1000);
    Box scan;
    for (const Vec3& p : mesh.positions()) scan.include(frame * p);
    CHECK(box_in_frame(mesh, frame) == scan);
  }
}

TEST_CASE("the furthest vertex is found with and without the index, the lowest number among equals") {
  Chance chance(313);
  for (int i = 0; i < 50; ++i) {
    const MeshPtr with = blob(chance, 400);
    const Vec3 direction = chance.direction();
    const std::uint32_t scanned_one = furthest_vertex(*with, direction);
    with->index();
    CHECK(furthest_vertex(*with, direction) == scanned_one);
  }
  const MeshPtr box = cube(10);
  CHECK(furthest_vertex(*box, {1, 0, 0}) == [&] {
    for (std::uint32_t v = 0; v < 8; ++v)
      if (box->positions()[v].x == 10) return v;
    return 8u;
  }());
}

TEST_CASE("several parts: each its own size, or all together about one point") {
  Scene s;
  Placement b;
  b.position = {100, 0, 0};
  b.scale = {2, 2, 2};
  s.add(part_of("A", cube(10)));
  s.add(part_of("B", cube(10), b));
  Scale scale = size(30, 0);
  scale.what = {1, 2};
  const Scene own = done(scale, s);
  CHECK(own_size(own, 1).x == 30);
  CHECK(own_size(own, 2).x == 30);
  // Together they reach from 0 to 120 along World X; 240 doubles that about the middle, 60.
  scale.axes = AxesKind::World;
  scale.size[0] = Amount{240};
  scale.hold = middle_of_all();
  const Scene all = done(scale, s);
  CHECK(all.part(1).placement.position == Vec3{-60, 0, 0});
  CHECK(all.part(2).placement.position == Vec3{140, 0, 0});
  CHECK(box_along(all, {1, 2}, {}).size().x == Approx(240).epsilon(1e-14));
}

TEST_CASE("as big as another part, along some axes or evenly within it") {
  Scene s;
  Placement big;
  big.scale = {4, 3, 2};
  s.add(part_of("A", cube(10)));
  s.add(part_of("B", cube(10), big));
  Scale scale;
  scale.what = {1};
  scale.like = 2;
  scale.along = {true, false, true};
  CHECK(own_size(done(scale, s), 1) == Vec3{40, 10, 20});
  scale.along = {true, true, true};
  scale.evenly = true;
  CHECK(own_size(done(scale, s), 1) == Vec3{20, 20, 20});
  scale.like = 1;
  CHECK_FALSE(tack::apply(scale, s));
}

TEST_CASE("every verb reads back what it writes") {
  Scene s;
  s.add(part_of("Post \"4\"", cube(20)));
  Placement p;
  p.position = {1, 2, 3};
  const PartId lift = s.add(part_of("Lift", cube(5), p));
  s.add(part_of("Scoop", cube(5), p, lift));
  for (
      const char* text :
      {R"({"verb":"rotate","what":["Lift"],"axes":"world","round":"z","angle":37.5,"about":"\"Scoop\" pivot"})",
       R"({"verb":"rotate","what":["Lift"],"axes":{"of":"Scoop"},"round":[1,2,3],"angle":"1/8 turn","about":"middle"})",
       R"({"verb":"rotate","what":["Scoop"],"round":"\"Lift\" edge 0-1","angle":5})",
       R"({"verb":"rotate","what":["Scoop"],"like":"Post \"4\"","in":"z","other-way":true,"about":"mass"})",
       R"({"verb":"scale","what":["Lift"],"axes":"local","size":[300,null,"2 ft"],"hold":"box 0,0.5,0"})",
       R"({"verb":"scale","what":["Lift"],"axes":{"view":[[1,0,0],[0,0,1],[0,-1,0]]},"factor":[2,null,null],"hold":"all 0,0,0"})",
       R"({"verb":"scale","what":["Scoop"],"like":"Lift","along":"xz","hold":"pivot","evenly":true})",
       R"({"verb":"pivot","what":["Lift"],"at":"\"Scoop\" vertex 3","turned":"world"})",
       R"({"verb":"pivot","what":["Lift"],"at":[1,null,"it + 2"],"axes":"parent"})",
       R"({"verb":"pivot","what":["Lift","Scoop"],"at":"tree-box 0,0,1","turned":{"like":"Scoop"},"copies":"instances"})",
       R"({"verb":"bake","what":["Scoop"],"rotation":true,"scale":true})",
       R"({"verb":"fit-box","what":["Scoop"],"to":["\"Scoop\" vertex 0","\"Scoop\" vertex 1","\"Scoop\" vertex 2"]})",
       R"({"verb":"fit-box","what":["Scoop"],"to":"\"Scoop\" face 3"})",
       R"({"verb":"group","what":["Lift","Post \"4\""],"name":"Pair","at":"bottom"})",
       R"({"verb":"copy","what":["Lift"],"instance":true,"by":["3 cm",0,0]})",
       R"({"verb":"colour","what":["Lift"],"colour":"#C87A5A"})",
       R"({"verb":"place","what":["Scoop"],"axes":{"of":"Lift"},"position":[5,0,0],"skew":[0.1,0,0]})"}) {
    INFO(text);
    const auto verb = verb_from_json(Json::parse(text), s);
    INFO((verb ? std::string() : sentence(verb.error())));
    REQUIRE(verb);
    const auto again = verb_from_json(to_json(*verb, s), s);
    REQUIRE(again);
    CHECK(*again == *verb);
    const auto applied = tack::apply(*verb, s);
    INFO((applied ? std::string() : sentence(applied.error())));
    CHECK(applied);
    for (const Tense tense : {Tense::Present, Tense::Past}) CHECK(plain_text(sentence(*verb, s, tense)).ends_with("."));
  }
}
