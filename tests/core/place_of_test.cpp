// The position of a place other than the pivot: typed, read, nested, mirrored, several, refused.
#include "core/verbs/place.h"
#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

namespace {

About own(TackKind kind, const Vec3& at) { return {About::Kind::Own, {kind, kNoPart, 0, at}, {0.5, 0.5, 0.5}}; }

}  // namespace

TEST_CASE("the low corner of a box at typed numbers, for parts at the top") {
  Scene scene;
  const PartId id = scene.add(part_of("Post", cube(10), {.position = {100, 50, 7}, .scale = {1, 1, 3}}));
  Place place;
  place.what = {id};
  place.of = own(TackKind::BoxPoint, {0, 0, 0});
  place.position = {Amount{120}, Amount{0}, Amount{18}};
  const Scene after = done(place, scene);
  CHECK(find_tack(after, box_point(id, {0, 0, 0}))->point == Vec3{120, 0, 18});
  CHECK(after.part(id).placement.scale == Vec3{1, 1, 3});
  // `it` is where that place is now.
  Place more = place;
  more.position = {std::nullopt, std::nullopt, Amount{0, "it + 2"}};
  CHECK(find_tack(done(more, after), box_point(id, {0, 0, 0}))->point == Vec3{120, 0, 20});
  CHECK(plain_text(sentence(place, scene, Tense::Present)).find("of Post at position x 120 mm") != std::string::npos);
}

TEST_CASE("a place stands where it was typed, below whatever parents, in any axes, to the bound", "[sweep]") {
  Chance chance(1601);
  Cases row("place a place of the part, 5 kinds of axes");
  for (int i = 0; i < 300; ++i) {
    const Odd odd = odd_scene(chance, 6);
    for (const Axes& axes :
         {Axes(AxesKind::World), Axes(AxesKind::Parent), Axes(AxesKind::Local), axes_of(odd.still)}) {
      Place place;
      place.what = {odd.moving};
      place.axes = axes;
      place.of = own(TackKind::Vertex, {});
      place.of->place.index = 5;
      const double x = chance.between(-100, 100), z = chance.between(-100, 100);
      place.position = {Amount{x}, std::nullopt, Amount{z}};
      const auto was = position_of(odd.scene, odd.moving, axes, place.of);
      REQUIRE(was);
      const Scene after = done(place, odd.scene);
      // Local axes are those before the step; they turn with nothing here.
      const Affine frame = axes_frame(odd.scene, odd.moving, axes);
      const LongVec wanted = longer(frame.translation) + longer(frame.linear.column[0]) * x +
                             longer(frame.linear.column[1]) * was->y + longer(frame.linear.column[2]) * z;
      row.add(share_of_bound(after, odd.moving, long_vertex(after, odd.moving, 5), wanted));
    }
  }
}

TEST_CASE("a position of nothing, of a place elsewhere, and of all together is refused in words") {
  Scene scene;
  const PartId id = scene.add(part_of("Post", cube(10))), other = scene.add(part_of("Board", cube(20)));
  Place place;
  place.what = {id};
  place.rotation = {Amount{10}, std::nullopt, std::nullopt};
  place.of = own(TackKind::BoxPoint, {0, 0, 0});
  CHECK(check(Verb(place)).error().what.find("whose position") != std::string::npos);
  place.position = {Amount{1}, std::nullopt, std::nullopt};
  CHECK(check(Verb(place)));
  place.of = about_place(box_point(other, {0, 0, 0}));
  CHECK(tack::apply(Verb(place), scene).error().what.find("no place of \"Post\"") != std::string::npos);
  place.of = middle_of_all();
  CHECK_FALSE(check(Verb(place)));
  place.of = own(TackKind::Kept, {});
  place.of->place.name = "in";
  CHECK_FALSE(tack::apply(Verb(place), scene));
}

TEST_CASE("a place's position goes through steps files, and what was typed for it is no number of the pivot") {
  Scene scene;
  const PartId id = scene.add(part_of("Post", cube(10)));
  const Json json = Json::parse(
      R"({"verb": "place", "what": ["Post"], "axes": "world", "position": [0, 0, "18 mm"], "of": "box 0,0,0"})");
  const auto verb = verb_from_json(json, scene);
  REQUIRE(verb);
  CHECK(to_json(*verb, scene) == json);
  const Scene after = *tack::apply(*verb, scene);
  CHECK(find_tack(after, box_point(id, {0, 0, 0}))->point.z == 18);
  CHECK(numbers_in(after, id, AxesKind::World).position_text[2].empty());
}
