// Kept tacks: places saved on a part by name.
#include "core/fit/measure.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {}  // namespace

TEST_CASE("a kept tack goes where its part goes, and so do its direction and roll", "[kept]") {
  Chance chance(411);
  for (int i = 0; i < 200; ++i) {
    Scene s;
    PartId parent = kNoPart;
    for (int level = 0; level < 3; ++level) parent = s.add(part_of("Level", nullptr, chance.placement(200), parent));
    const PartId id = s.add(part_of("Post", cube(20), chance.placement(200), parent));
    const TackAddress corner = vertex(id, 5);
    const Scene with = done(keep(id, corner, "top left"), s);
    const auto now = find_tack(with, corner), saved = find_tack(with, kept_tack(id, "top left"));
    REQUIRE(now);
    REQUIRE(saved);
    const double reach = 1 + length(now->point);
    CHECK(distance(now->point, saved->point) <= 1e-12 * reach);
    CHECK(angle_between(*now->direction, *saved->direction) < 1e-9);
    // Moved, it is where the corner is; the turn is rigid only above what the parents distort, so the place alone.
    Move move;
    move.what = {id};
    move.by = {Amount{12}, Amount{-7}, Amount{3}};
    const Scene moved = done(move, with);
    CHECK(distance(at(moved, corner), at(moved, kept_tack(id, "top left"))) <= 1e-12 * reach);
  }
}

TEST_CASE("a kept tack is carried by instances, those there are and those to come", "[kept]") {
  Scene s;
  const MeshPtr mesh = cube(20);
  const PartId first = s.add(part_of("Channel 1", mesh));
  const PartId second = s.add(part_of("Channel 2", mesh));
  const PartId other = s.add(part_of("Post", cube(20)));
  s = done(keep(first, box_point(first, {1, 0.5, 0.5}), "out"), s);
  CHECK(find_kept(s, second, "out"));
  CHECK_FALSE(find_kept(s, other, "out"));
  Copy copy;
  copy.what = {second};
  copy.instance = true;
  const Scene more = done(copy, s);
  CHECK(find_kept(more, more.roots().back(), "out"));
  // On one alone when that is asked for; and a name that is there takes the new place.
  Scene alone = done(keep(second, box_point(second, {0, 0.5, 0.5}), "in", false), s);
  CHECK_FALSE(find_kept(alone, first, "in"));
  alone = done(keep(second, box_point(second, {0, 0, 0}), "in", false), alone);
  CHECK(kept_of(alone, second).size() == 2);
  CHECK(find_kept(alone, second, "in")->point == Vec3{0, 0, 0});
}

TEST_CASE("a bake leaves kept tacks where they are", "[kept]") {
  Chance chance(412);
  for (int i = 0; i < 100; ++i) {
    Scene s;
    const PartId id = s.add(part_of("Sign", cube(20), chance.placement(100)));
    s = done(keep(id, vertex(id, 3), "peg"), s);
    const auto before = find_tack(s, kept_tack(id, "peg"));
    Bake bake;
    bake.what = {id};
    bake.rotation = bake.scale = true;
    const Scene baked = done(bake, s);
    const auto after = find_tack(baked, kept_tack(id, "peg"));
    CHECK(distance(before->point, after->point) <= 1e-11);
    CHECK(angle_between(*before->direction, *after->direction) < 1e-9);
    CHECK(distance(after->point, at(baked, vertex(id, 3))) <= 1e-11);
  }
}

TEST_CASE("kept tacks have addresses, words, and reasons when they are not there", "[kept]") {
  Scene s = one_part({}, cube(20), "Channel 2");
  s = done(keep(1, vertex(1, 0), "out left"), s);
  const auto address = parse_address(s, "\"Channel 2\" kept out left");
  REQUIRE(address);
  CHECK(*address == kept_tack(1, "out left"));
  CHECK(address_text(s, *address) == "\"Channel 2\" kept out left");
  CHECK(tack_words(s, *address) == "kept out left · Channel 2");
  CHECK(find_tack(s, kept_tack(1, "in")).error().remedy == "It has: out left.");
  CHECK_FALSE(parse_address(s, "\"Channel 2\" kept"));
  // What cannot be kept says why.
  Keep nowhere;
  nowhere.at = point({1, 2, 3});
  CHECK(tack::apply(Verb(nowhere), s).error().what == "A point of space is not on a part.");
  CHECK_FALSE(tack::apply(Verb(keep(1, vertex(1, 0), " out")), s));
  CHECK_FALSE(tack::apply(Verb(keep(1, vertex(1, 0), std::string(201, 'x'))), s));
  // A place of space, kept on a part that is named, goes with the part.
  s = done(keep(1, point({100, 0, 0}), "aside"), s);
  Move move;
  move.what = {1};
  move.by[2] = Amount{5};
  CHECK(at(done(move, s), kept_tack(1, "aside")) == Vec3{100, 0, 5});
  CHECK(plain_text(sentence(Verb(keep(1, vertex(1, 0), "foot")), s, Tense::Past)) ==
        "Kept the vertex on Channel 2 as foot.");
}
