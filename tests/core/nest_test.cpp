#include <catch2/catch.hpp>

#include <nlohmann/json.hpp>

#include "core/verbs/journal.h"
#include "core/verbs/words.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

Scene posts() {
  Scene s;
  const MeshPtr mesh = cube(20);
  Placement p;
  for (int i = 1; i <= 3; ++i) {
    p.position = {100.0 * i, 0, 18};
    s.add(part_of("Post " + std::to_string(i), mesh, p));
  }
  return s;
}

Move move_by(PartId id, double x) {
  Move m;
  m.what = {id};
  m.by[0] = Amount{x};
  return m;
}

double x_of(const Journal& j, PartId id) { return j.scene().part(id).placement.position.x; }

}  // namespace

TEST_CASE("a group keeps places, stands where asked, and can be taken apart again") {
  const Scene s = posts();
  Group group;
  group.what = {1, 3};
  group.name = "Posts";
  group.at = bottom();
  const auto grouped = tack::apply(group, s);
  REQUIRE(grouped);
  const PartId id = grouped->roots().back();
  CHECK(grouped->part(id).name == "Posts");
  CHECK(grouped->part(id).children == std::vector<PartId>{1, 3});
  for (const PartId p : {1u, 3u}) CHECK(world_of(*grouped, p) == world_of(s, p));
  const auto apart = tack::apply(Ungroup{{id}}, *grouped);
  REQUIRE(apart);
  CHECK_FALSE(apart->contains(id));
  for (const PartId p : {1u, 3u}) CHECK(world_of(*apart, p) == world_of(s, p));
  CHECK_FALSE(tack::apply(Ungroup{{1}}, s));
}

TEST_CASE("copies are instances or not, with everything below, and names count on") {
  Scene s = posts();
  s.add(part_of("Collar", cube(5), {}, 2));
  Copy copy;
  copy.what = {2};
  copy.instance = true;
  copy.by[1] = Amount{50};
  const auto linked = tack::apply(copy, s);
  REQUIRE(linked);
  const PartId id = linked->roots().back();
  CHECK(linked->part(id).name == "Post 4");
  CHECK(linked->part(id).mesh == s.part(2).mesh);
  CHECK(linked->part(id).placement.position == Vec3{200, 50, 18});
  REQUIRE(linked->part(id).children.size() == 1);
  copy.instance = false;
  const auto apart = tack::apply(copy, s);
  REQUIRE(apart);
  CHECK(apart->part(apart->roots().back()).mesh != s.part(2).mesh);
  // Made separate: only those that shared.
  const auto separate = tack::apply(Separate{{1, 2}}, s);
  REQUIRE(separate);
  CHECK(separate->part(1).mesh != separate->part(3).mesh);
  CHECK(separate->part(1).mesh != separate->part(2).mesh);
  CHECK_FALSE(tack::apply(Separate{{4}}, s));
  FreeNames names(s, kNoPart);
  CHECK(next_name(names, "Post 3") == "Post 4");
  CHECK(next_name(names, "Post 3") == "Post 5");
  CHECK(next_name(names, "Hub") == "Hub 2");
}

TEST_CASE("an earlier step is changed and the later ones follow") {
  Journal j(posts());
  REQUIRE(j.add(move_by(1, 10)));
  REQUIRE(j.add(move_by(1, 5)));
  REQUIRE(j.add(Copy{{1}, true, {}}));
  const PartId copy = j.scene().roots().back();
  REQUIRE(j.add(move_by(copy, 7)));
  CHECK(x_of(j, copy) == 122);
  REQUIRE(j.amend(0, move_by(1, 20)));
  CHECK(x_of(j, 1) == 125);
  CHECK(x_of(j, copy) == 132);
  CHECK(j.record().steps.size() == 4);
  // Leaving the second out, and taking it in again.
  j.leave_out(1, true);
  CHECK(x_of(j, copy) == 127);
  CHECK(j.record().steps[1]->left_out);
  j.leave_out(1, false);
  CHECK(x_of(j, copy) == 132);
  // Without the copy its move no longer works, and says why; back with it, it works again.
  j.leave_out(2, true);
  REQUIRE(j.record().steps[3]->problem);
  CHECK(j.problems() == 1);
  CHECK_FALSE(j.scene().contains(copy));
  j.leave_out(2, false);
  CHECK(j.problems() == 0);
  CHECK(x_of(j, copy) == 132);
  // Each of these is one edit that undo takes back.
  j.undo();
  CHECK(j.problems() == 1);
  j.redo();
  j.remove(3);
  CHECK(j.record().steps.size() == 3);
  CHECK(x_of(j, copy) == 125);
}

TEST_CASE("parts that later steps add keep their ids when an earlier one adds more or fewer") {
  Journal j(posts());
  REQUIRE(j.add(Copy{{1}, true, {}}));
  REQUIRE(j.add(Copy{{2}, true, {}}));
  const PartId second = j.scene().roots().back();
  REQUIRE(j.add(move_by(second, 3)));
  const double x = x_of(j, second);
  REQUIRE(j.amend(0, Copy{{1, 2, 3}, true, {}}));
  CHECK(j.problems() == 0);
  CHECK(x_of(j, second) == x);
  j.leave_out(0, true);
  CHECK(x_of(j, second) == x);
  // A change that cannot be done changes nothing.
  const std::size_t before = j.position();
  CHECK_FALSE(j.amend(1, Copy{{}, true, {}}));
  CHECK(j.position() == before);
  CHECK_FALSE(j.amend(9, move_by(1, 1)));
  j.remove(9);
  j.leave_out(9, true);
  CHECK(j.position() == before);
}

TEST_CASE("colouring a group colours what is in it") {
  Scene s = posts();
  const auto grouped = tack::apply(Group{{1, 2}, "Posts", middle_of_all()}, s);
  REQUIRE(grouped);
  const auto painted = tack::apply(Paint{{grouped->roots().back()}, {1, 0, 0, 1}}, *grouped);
  REQUIRE(painted);
  CHECK(painted->part(1).colours.front() == Colour{1, 0, 0, 1});
  CHECK(painted->part(3).colours.front() != Colour{1, 0, 0, 1});
}
