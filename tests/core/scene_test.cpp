#include <catch2/catch.hpp>

#include "core/scene/scene.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

Scene lift() {
  Scene s;
  const PartId tower = s.add(part_of("Lift", cube(10)));
  const PartId carriage = s.add(part_of("Carriage", cube(5), {}, tower));
  s.add(part_of("Scoop", cube(2), {}, carriage));
  s.add(part_of("Scoop", cube(2), {}, carriage));
  s.add(part_of("Post", cube(3)));
  s.add(part_of("a/b #1", cube(3)));
  return s;
}

}  // namespace

TEST_CASE("a scene is a value: a copy does not see later changes") {
  const Scene before = lift();
  Scene after = before;
  Placement p;
  p.position = {1, 2, 3};
  after.place(1, p);
  after.remove(2);
  CHECK(before.part(1).placement.position == Vec3{});
  CHECK(before.contains(3));
  CHECK_FALSE(after.contains(3));
  CHECK(after.size() == 3);
  CHECK(before.shares(after, 5));
  CHECK_FALSE(before.shares(after, 1));
  CHECK(after.unlike(before) == std::vector<PartId>{1, 2, 3, 4});
  CHECK(before.unlike(after) == std::vector<PartId>{1, 2, 3, 4});
  CHECK(before.unlike(before).empty());
  CHECK(before.unlike(Scene{}) == std::vector<PartId>{1, 2, 3, 4, 5, 6});
}

TEST_CASE("other looks leave a part where it stands and hangs, and the scene that they were made of alone") {
  const Scene before = lift();
  Scene after = before;
  const PartId below = before.part(1).children.front();
  for (int i = 0; i < 2; ++i)
    after.dress(1, [&](Part& part) {
      part.name = "Another";
      part.hidden = i == 1;
    });
  CHECK(before.part(1).name != "Another");
  CHECK_FALSE(before.part(1).hidden);
  CHECK(after.part(1).name == "Another");
  CHECK(after.part(1).hidden);
  CHECK(after.part(1).children == before.part(1).children);
  CHECK(after.part(1).local == before.part(1).local);
  CHECK(world_of(after, below) == world_of(before, below));
  CHECK(after.unlike(before) == std::vector<PartId>{1});
}

TEST_CASE("what few parts have is shared by copies until it is changed, and takes little room") {
  Part part = part_of("Scoop", cube(2));
  CHECK(part.source->carried_mesh == -1);
  CHECK(part.source->baked == Affine{});
  const Part before = part;
  CHECK(&*before.source == &*part.source);
  part.source.change().carried_mesh = 3;
  const Part copy = part;
  CHECK(before.source->carried_mesh == -1);
  CHECK(copy.source->carried_mesh == 3);
  CHECK(&*copy.source == &*part.source);
  part.source.change().edited = true;
  CHECK_FALSE(copy.source->edited);
  CHECK(part.source->carried_mesh == 3);
  // Ten thousand of them are copied by a step that moves all.
  CHECK(sizeof(Part) <= 576);
}

TEST_CASE("parts are found by path, by the end of a path, and not by a guess") {
  const Scene s = lift();
  CHECK(path_of(s, 3) == "Lift/Carriage/Scoop");
  CHECK(path_of(s, 4) == "Lift/Carriage/Scoop#2");
  CHECK(path_of(s, 6) == "a\\/b \\#1");
  for (const PartId id : s.in_tree_order()) CHECK(find_by_path(s, path_of(s, id)) == id);
  CHECK(find_by_path(s, "Carriage") == PartId{2});
  CHECK(find_by_path(s, "Carriage/Scoop#2") == PartId{4});
  CHECK(find_by_path(s, "a/b #1") == PartId{6});
  const auto wrong = find_by_path(s, "Carrige");
  REQUIRE_FALSE(wrong);
  CHECK(wrong.error().remedy.find("Lift/Carriage") != std::string::npos);
}

TEST_CASE("two parts of one name under different parents need their path") {
  Scene s;
  const PartId a = s.add(part_of("A", nullptr)), b = s.add(part_of("B", nullptr));
  s.add(part_of("Pin", cube(1), {}, a));
  s.add(part_of("Pin", cube(1), {}, b));
  CHECK_FALSE(find_by_path(s, "Pin"));
  CHECK(find_by_path(s, "B/Pin") == PartId{4});
}

TEST_CASE("hanging a part below itself is passed over") {
  Scene s = lift();
  s.reparent(1, 3);
  CHECK(s.part(1).parent == kNoPart);
  s.reparent(3, kNoPart);
  CHECK(path_of(s, 3) == "Scoop");
  CHECK(s.part(2).children == std::vector<PartId>{4});
}

TEST_CASE("a parent and its child picked together count once") {
  const Scene s = lift();
  CHECK(topmost(s, {3, 1, 5, 3}) == std::vector<PartId>{1, 5});
  CHECK(topmost(s, {99}).empty());
}

TEST_CASE("world matrices of all parts agree with those of each") {
  Chance chance(31);
  Scene s;
  PartId parent = kNoPart;
  for (int i = 0; i < 200; ++i) {
    const PartId id = s.add(part_of("P", nullptr, chance.placement(10), parent));
    parent = chance.whole(0, 3) == 0 ? kNoPart : id;
    if (i % 12 == 0) parent = kNoPart;
  }
  const auto worlds = worlds_of(s);
  for (const PartId id : s.in_tree_order()) {
    // To the last bit: ghosts are drawn with the one and results come of the other.
    CHECK(worlds[id] == world_of(s, id));
    // And as the local matrices say when they are multiplied from the top down, column by column.
    std::vector<PartId> line{id};
    while (s.part(line.back()).parent != kNoPart) line.push_back(s.part(line.back()).parent);
    Vec3 p{1, 2, 3};
    for (const PartId up : line) p = s.part(up).local * p;
    const double reach = length(worlds[id].translation) + 4 * std::abs(determinant(worlds[id].linear)) + 4;
    CHECK(distance(worlds[id] * Vec3{1, 2, 3}, p) <= 1e-12 * static_cast<double>(line.size()) * reach);
  }
}

TEST_CASE("a free name counts on") {
  Scene s;
  s.add(part_of("Post", nullptr));
  s.add(part_of("Post 2", nullptr));
  CHECK(free_name(s, kNoPart, "Post") == "Post 3");
  CHECK(free_name(s, kNoPart, "Leg") == "Leg");
}

TEST_CASE("a change shares the 9,999 parts that it does not touch") {
  Scene s;
  const MeshPtr mesh = cube(1);
  for (int i = 0; i < 10000; ++i) s.add(part_of("P" + std::to_string(i), mesh));
  Scene changed = s;
  changed.place(5000, {});
  int shared = 0;
  for (const PartId id : s.in_tree_order()) shared += s.shares(changed, id);
  CHECK(shared == 9999);
}
