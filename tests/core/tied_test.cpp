// With what is tied to it: chains of ties move as one rigid body, and what is locked stops them.
#include "core/verbs/tied.h"
#include "core/fit/ties.h"
#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

namespace {

// Four blocks in a row, each tied to the one before by a corner; the fourth is only near.
Scene row_of_ties() {
  Scene s;
  for (int i = 0; i < 4; ++i)
    s.add(part_of(fmt::format("Block {}", i + 1), cube(20),
                  {{100.0 * i, 7.0 * i, 0}, {0, 0, 10.0 * i}, {1, 1, 1}, {}, {}}));
  for (PartId id = 2; id <= 4; ++id) {
    Meet meet;
    meet.what = {id};
    meet.from = vertex(id, 0);
    meet.to = vertex(id - 1, 6);
    meet.facing = Facing::AsIs;
    meet.tie = true;
    s = done(meet, s);
  }
  Move away;
  away.what = {4};
  away.by[2] = Amount{3};
  return done(away, s);
}

bool tie_holds(const Scene& s, std::size_t number) { return holds(state_of(s.ties()[number], s)); }

}  // namespace

TEST_CASE("what ties hold together moves together, along any axes", "[tied]") {
  const Scene s = row_of_ties();
  REQUIRE(s.ties().size() == 3);
  CHECK(tie_holds(s, 0));
  CHECK(tie_holds(s, 1));
  CHECK_FALSE(tie_holds(s, 2));
  CHECK(*tied_body(s, {2}) == std::vector<PartId>{2, 1, 3});
  CHECK(*tied_body(s, {4}) == std::vector<PartId>{4});
  CHECK(is_tied(s, {3}));
  CHECK_FALSE(is_tied(s, {4}));
  CHECK_FALSE(is_tied(s, {1, 2, 3}));
  Move move;
  move.what = {3};
  move.axes = AxesKind::Local;  // turned by 20°
  move.by[0] = Amount{50};
  move.tied = true;
  const Scene moved = done(move, s);
  const Vec3 went = moved.part(3).placement.position - s.part(3).placement.position;
  CHECK(length(went) == Approx(50).epsilon(1e-13));
  CHECK(std::atan2(went.y, went.x) * 180 / 3.14159265358979323846 == Approx(20).epsilon(1e-12));
  for (const PartId id : {1u, 2u})
    CHECK(distance(moved.part(id).placement.position - s.part(id).placement.position, went) < 1e-12);
  CHECK(moved.part(4).placement == s.part(4).placement);
  CHECK(tie_holds(moved, 0));
  CHECK(tie_holds(moved, 1));
  // Alone it leaves them.
  move.tied = false;
  CHECK_FALSE(tie_holds(done(move, s), 1));
}

TEST_CASE("what is tied turns about the first part's own point, and meets as one", "[tied]") {
  const Scene s = row_of_ties();
  Rotate rotate;
  rotate.what = {1};
  rotate.round.axis = 0;
  rotate.axes = AxesKind::Local;
  rotate.angle = Amount{33};
  rotate.tied = true;
  const Scene turned = done(rotate, s);
  CHECK(turned.part(1).placement.position == s.part(1).placement.position);
  CHECK(tie_holds(turned, 0));
  CHECK(tie_holds(turned, 1));
  CHECK(turned.part(4).placement == s.part(4).placement);
  Cases row("turned with what is tied: every vertex");
  const LongAffine turn = long_turn({1, 0, 0}, 33);
  for (const PartId id : {1u, 2u, 3u})
    row.add(worst_vertex(s, turned, id, [&](const LongVec& p) {
      const LongVec still = longer(s.part(1).placement.position);
      return still + turn.turned(p - still);
    }));
  Meet meet;
  meet.what = {2};
  meet.from = vertex(2, 3);
  meet.to = vertex(4, 5);
  meet.facing = Facing::AsIs;
  meet.tied = true;
  const Scene met = done(meet, s);
  CHECK(distance(at(met, vertex(2, 3)), at(s, vertex(4, 5))) < 1e-9);
  CHECK(tie_holds(met, 0));
  CHECK(tie_holds(met, 1));
  // To cannot be on what comes along.
  meet.to = vertex(3, 5);
  const auto refused = tack::apply(Verb(meet), s);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().what.find("moves as well") != std::string::npos);
}

TEST_CASE("what is locked stops it and is named; sentences offer it; files have it", "[tied]") {
  Scene s = row_of_ties();
  Move move;
  move.what = {3};
  move.by[0] = Amount{5};
  const auto offers = [&](const Verb& verb) {
    for (const Word& word : sentence(verb, s, Tense::Present))
      if (word.offer && word.text == "with what is tied to it") return true;
    return false;
  };
  CHECK(offers(move));
  move.tied = true;
  CHECK_FALSE(offers(move));
  CHECK(plain_text(sentence(Verb(move), s, Tense::Past)).find("with what is tied to it") != std::string::npos);
  CHECK(parts_of(Verb(move), s) == std::vector<PartId>{3, 2, 1});
  const Json json = to_json(Verb(move), s);
  CHECK(json["with-tied"] == true);
  CHECK(*verb_from_json(json, s) == Verb(move));
  Move alone;
  alone.what = {4};
  alone.by[0] = Amount{5};
  CHECK_FALSE(offers(alone));
  Part locked = s.part(1);
  locked.locked = true;
  s.replace(1, locked);
  const auto refused = tack::apply(Verb(move), s);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().what == "\"Block 1\" is tied to it, and locked.");
  Rotate like;
  like.what = {3};
  like.like.part = 4;
  like.tied = true;
  CHECK_FALSE(check(Verb(like)));
  CHECK_FALSE(verb_from_json(
      Json::parse(
          R"({"verb":"meet","pairs":[{"from":"\"Block 4\" vertex 0","to":"plane 0,0"}],"hold":"\"Block 4\" pivot","with-tied":true})"),
      s));
}
