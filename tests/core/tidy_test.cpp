// Tidy: each part's own numbers on the nearest multiples.
#include "core/verbs/place.h"
#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("positions, angles, sizes and factors land on multiples, each part by itself", "[tidy]") {
  Scene s;
  s.add(part_of("Post 1", cube(20), {{12.3, -7.6, 0.04}, {0, 0, 89.7}, {1, 1, 1.52}, {}, {}}));
  s.add(part_of("Post 2", cube(20), {{104.9, 15, 3}, {1.2, 0, 44}, {1, 1, 1}, {}, {}}));
  Tidy t;
  t.what = {1, 2};
  t.position = {Amount{10}, Amount{10}, std::nullopt};
  t.rotation = {Amount{15}, Amount{15}, Amount{15}};
  const Scene after = done(t, s);
  CHECK(after.part(1).placement.position == Vec3{10, -10, 0.04});
  CHECK(after.part(1).placement.rotation == Vec3{0, 0, 90});
  CHECK(after.part(2).placement.position == Vec3{100, 20, 3});  // half way: the even multiple
  CHECK(after.part(2).placement.rotation == Vec3{0, 0, 45});
  CHECK(remark(Verb(t), s, after) == "2 of 2 changed, at most moved by 5 mm, turned by 1.2°.");
  CHECK(remark(Verb(t), after, done(t, after)) == "All were on the multiples already.");
  Tidy sizes;
  sizes.what = {1};
  sizes.size = {std::nullopt, std::nullopt, Amount{5}};
  const Scene sized = done(sizes, s);
  CHECK(own_size(sized, 1).z == Approx(30).epsilon(1e-15));
  CHECK(sized.part(1).placement.position == s.part(1).placement.position);
  Tidy factors;
  factors.what = {1};
  factors.axes = AxesKind::Parent;
  factors.factor = {std::nullopt, std::nullopt, Amount{0.1}};
  CHECK(done(factors, s).part(1).placement.scale == Vec3{1, 1, 1.5});
  // 0.1 three times is 0.3.
  Tidy tenths;
  tenths.what = {1};
  tenths.position = {Amount{0.1}, std::nullopt, std::nullopt};
  s.place(1, {{0.31, 0, 0}, {}, {1, 1, 1}, {}, {}});
  CHECK(done(tenths, s).part(1).placement.position.x == 0.3);
}

TEST_CASE("tidy refuses what makes no sense, and is read and written", "[tidy]") {
  Scene s;
  s.add(part_of("Post 1", cube(20), {{12.3, 0, 0}, {}, {1, 1, 1}, {}, {}}));
  Tidy t;
  t.what = {1};
  CHECK_FALSE(tack::apply(Verb(t), s));
  t.position[0] = Amount{0};
  CHECK(tack::apply(Verb(t), s).error().what == "The multiples are of more than 0.");
  t.position[0].reset();
  t.factor[0] = Amount{10};
  CHECK_FALSE(tack::apply(Verb(t), s));  // a factor of 0
  t.factor[0] = Amount{0.5};
  t.size[1] = Amount{5};
  CHECK(tack::apply(Verb(t), s));
  t.size[0] = Amount{5};
  CHECK(tack::apply(Verb(t), s).error().what ==
        "A size is the factor times the mesh: along x only one of them can be on a multiple.");
  const auto read = verb_from_json(
      Json::parse(
          R"({"verb":"tidy","what":["Post 1"],"axes":"world","position":[10,"1/2 in",null],"rotation":[15,15,15]})"),
      s);
  REQUIRE(read);
  CHECK(*verb_from_json(to_json(*read, s), s) == *read);
}

TEST_CASE("over 2,000 odd scenes every number asked for is a multiple, and no other changes", "[tidy][sweep]") {
  Chance chance(615);
  Cases row("tidy: positions and angles in World, Parent and own axes");
  int refused = 0;
  const int count = cases(2000);
  for (int i = 0; i < count; ++i) {
    const Odd odd = odd_scene(chance, 3);
    Tidy t;
    t.what = {odd.moving};
    t.axes = chance.whole(0, 1) == 0 ? AxesKind::World : AxesKind::Parent;
    for (std::size_t k = 0; k < 3; ++k) {
      if (chance.whole(0, 1) == 0) t.position[k] = Amount{chance.between(0.1, 20)};
      if (chance.whole(0, 1) == 0 && odd.scene.part(odd.moving).parent == kNoPart)
        t.rotation[k] = Amount{chance.between(0.5, 30)};
    }
    const auto after = tack::apply(Verb(t), odd.scene);
    if (!after) {
      ++refused;
      continue;
    }
    const PlacedNumbers was = numbers_in(odd.scene, odd.moving, t.axes), is = numbers_in(*after, odd.moving, t.axes);
    for (int k = 0; k < 3; ++k) {
      const auto& step = t.position[static_cast<std::size_t>(k)];
      const double reach = std::abs(was.position[k]) + length(world_of(odd.scene, odd.moving).translation) + 100;
      const double off = step ? std::abs(is.position[k] - std::nearbyint(is.position[k] / step->value) * step->value)
                              : std::abs(is.position[k] - was.position[k]);
      row.add(off / (1e-9 * reach));
      if (step) CHECK(std::abs(is.position[k] - was.position[k]) <= step->value / 2 * (1 + 1e-6) + 1e-9 * reach);
    }
  }
  CHECK(refused < count / 4);
}
