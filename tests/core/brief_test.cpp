// Steps in one line, and since when a tie is apart.
#include <catch2/catch.hpp>

#include "core/fit/closeness.h"
#include "core/fit/ties.h"
#include "core/verbs/brief.h"
#include "core/verbs/tie_history.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

Scene two_parts() {
  Scene scene;
  scene.add(part_of("Curve left", cube(20)));
  scene.add(part_of("Base board", cube(50), {.position = {200, 0, 0}}));
  return scene;
}

Meet met(double gap) {
  Meet meet;
  meet.what = {1};
  meet.from = TackAddress{TackKind::Vertex, 1, 0, {}};
  meet.to = TackAddress{TackKind::Vertex, 2, 3, {}};
  meet.facing = Facing::AsIs;
  if (gap != 0) meet.gap = Amount{gap};
  return meet;
}

std::string line_of(Journal& journal, const Verb& verb) {
  REQUIRE(journal.add(verb));
  const Record& record = journal.record();
  return brief_of(*record.steps.back(), record.before(record.steps.size() - 1)).line();
}

}  // namespace

TEST_CASE("a step in one line: what, to what, the value that matters") {
  Journal journal(two_parts());
  CHECK(line_of(journal, met(0)) == "Curve left → Base board");
  Move move;
  move.what = {1};
  move.by[0] = Amount{12};
  move.by[2] = Amount{-3.5};
  CHECK(line_of(journal, move) == "Curve left · X 12 mm · Z -3.5 mm");
  Rotate rotate;
  rotate.what = {1, 2};
  rotate.angle = Amount{37.5};
  CHECK(line_of(journal, rotate) == "Curve left and Base board · 37.5°");
  Scale scale;
  scale.what = {2};
  scale.size[2] = Amount{80};
  CHECK(line_of(journal, scale) == "Base board · Z 80 mm");
  CHECK(line_of(journal, Rename{2, "Board"}) == "Base board · Board");
  CHECK(line_of(journal, Show{{1}, false}) == "Curve left");
  Move to;
  to.what = {1};
  to.from = TackAddress{TackKind::Vertex, 1, 0, {}};
  to.to = TackAddress{TackKind::Point, kNoPart, 0, {1, 2, 3}};
  CHECK(line_of(journal, to).starts_with("Curve left → point"));
}

TEST_CASE("a tie tells since which step it is apart") {
  Journal journal(two_parts());
  // Nothing waits for meshes that are still being worked on; the window has them worked on beside it.
  for (const PartId id : journal.scene().in_tree_order()) {
    (void)journal.scene().part(id).mesh->features();
    (void)journal.scene().part(id).mesh->index();
  }
  Meet meet = met(0);
  meet.tie = true;
  meet.tie_name = "joint";
  REQUIRE(journal.add(meet));
  CHECK_FALSE(apart_since(journal.record(), "joint"));
  Move away;
  away.what = {1};
  away.by[0] = Amount{5};
  REQUIRE(journal.add(Show{{2}, false}));
  REQUIRE(journal.add(away));
  REQUIRE(journal.add(Show{{2}, true}));
  CHECK(apart_since(journal.record(), "joint") == 2u);
  // Brought together again and apart again: the last time counts.
  away.by[0] = Amount{-5};
  REQUIRE(journal.add(away));
  CHECK_FALSE(apart_since(journal.record(), "joint"));
  away.by[0] = Amount{7};
  REQUIRE(journal.add(away));
  CHECK(apart_since(journal.record(), "joint") == 5u);
  CHECK_FALSE(apart_since(journal.record(), "joint", kTouch, 0));
  CHECK_FALSE(apart_since(journal.record(), "no such tie"));
}

TEST_CASE("a limited tie says first what it watches") {
  Journal journal(two_parts());
  Meet meet = met(0);
  meet.along = {false, false, true};
  meet.tie = true;
  meet.tie_name = "level";
  REQUIRE(journal.add(meet));
  const Scene& scene = journal.scene();
  const Tie& tie = *scene.tie("level");
  const TieState state = state_of(tie, scene);
  CHECK(watched_words(tie, state, kMillimetres) == "holds along z");
  const std::string beside = unwatched_words(state, kMillimetres);
  CHECK(beside.find(" mm apart along x") != std::string::npos);
  CHECK(tie_words(tie, state, kMillimetres) == "holds along z; not watched: " + beside);
}

TEST_CASE("what was measured is never shown as nothing, however few decimals are liked") {
  LengthUnit unit = kMillimetres;
  unit.decimals = 1;
  CHECK(closeness_words({Closeness::Kind::Apart, 0.0004, std::nullopt, 0.0001}, unit) == "apart by 0.0004 mm");
  CHECK(closeness_words({Closeness::Kind::Within, 0.0004, std::nullopt, 0.0005}, unit) == "within 0.0005 mm");
  CHECK(closeness_words({Closeness::Kind::Apart, 12.44, std::nullopt, 0.01}, unit) == "apart by 12.4 mm");
}
