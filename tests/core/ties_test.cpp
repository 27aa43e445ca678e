// Kept tacks, chains, ties, rings of ties and what closes them.
#include <fmt/format.h>

#include "core/fit/measure.h"
#include "core/fit/ties.h"
#include "core/math/degrees.h"
#include "core/verbs/meet_motion.h"
#include "demo/shapes.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {

TackAddress kept(PartId part, const std::string& name) {
  TackAddress address{TackKind::Kept, part, 0, {}};
  address.name = name;
  return address;
}

TackAddress point(const Vec3& at) { return {TackKind::Point, kNoPart, 0, at}; }
TackAddress face_point(PartId part, const Vec3& fraction) { return box_point(part, fraction); }

Keep keep(PartId part, const TackAddress& at, const std::string& name, bool linked = true) {
  Keep k;
  k.part = part;
  k.at = at;
  k.name = name;
  k.linked = linked;
  return k;
}

Meet meet_tied(const TackAddress& from, const TackAddress& to, const std::string& name = {}) {
  Meet meet;
  meet.from = from;
  meet.to = to;
  meet.tie = true;
  meet.tie_name = name;
  return meet;
}

// A quarter of a ring of radius 90 as a part: a cube stands for the mesh, its joints are what counts. "in" at (90, 0,
// 0) pointing out against y, "out" at (0, 90, 0) pointing out against x.
Part quarter(const std::string& name, const Placement& placement = {}) {
  Part part = part_of(name, cube(20), placement);
  part.kept = std::make_shared<const KeptTacks>(
      KeptTacks{{"in", {90, 0, 0}, Vec3{0, -1, 0}, Vec3{0, 0, 1}}, {"out", {0, 90, 0}, Vec3{-1, 0, 0}, Vec3{0, 0, 1}}});
  return part;
}

Vec3 at(const Scene& s, const TackAddress& a) {
  const auto tack = find_tack(s, a);
  REQUIRE(tack);
  return tack->point;
}

}  // namespace

TEST_CASE("a kept tack goes where its part goes, and so do its direction and roll", "[kept]") {
  Chance chance(411);
  for (int i = 0; i < 200; ++i) {
    Scene s;
    PartId parent = kNoPart;
    for (int level = 0; level < 3; ++level) parent = s.add(part_of("Level", nullptr, chance.placement(200), parent));
    const PartId id = s.add(part_of("Post", cube(20), chance.placement(200), parent));
    const TackAddress corner = vertex(id, 5);
    const Scene with = done(keep(id, corner, "top left"), s);
    const auto now = find_tack(with, corner), saved = find_tack(with, kept(id, "top left"));
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
    CHECK(distance(at(moved, corner), at(moved, kept(id, "top left"))) <= 1e-12 * reach);
  }
}

TEST_CASE("a kept tack is carried by linked copies, those there are and those to come", "[kept]") {
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
  copy.linked = true;
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
    const auto before = find_tack(s, kept(id, "peg"));
    Bake bake;
    bake.what = {id};
    bake.rotation = bake.scale = true;
    const Scene baked = done(bake, s);
    const auto after = find_tack(baked, kept(id, "peg"));
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
  CHECK(*address == kept(1, "out left"));
  CHECK(address_text(s, *address) == "\"Channel 2\" kept out left");
  CHECK(tack_words(s, *address) == "kept out left · Channel 2");
  CHECK(find_tack(s, kept(1, "in")).error().remedy == "It has: out left.");
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
  CHECK(at(done(move, s), kept(1, "aside")) == Vec3{100, 0, 5});
  CHECK(plain_text(sentence(Verb(keep(1, vertex(1, 0), "foot")), s, Tense::Past)) ==
        "Kept the vertex on Channel 2 by the name foot.");
}

TEST_CASE("what a tie holds on is not forgotten", "[kept][tie]") {
  Scene s;
  const PartId a = s.add(quarter("Curve 1")), b = s.add(quarter("Curve 2"));
  s = done(meet_tied(kept(b, "in"), kept(a, "out")), s);
  Forget forget;
  forget.what = {a};
  forget.name = "out";
  const auto refused = tack::apply(Verb(forget), s);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().what == "The tie \"Curve 2 to Curve 1\" holds on \"out\" of Curve 1.");
  EditTie gone{"Curve 2 to Curve 1", EditTie::Do::Delete, {}};
  CHECK_FALSE(find_kept(done(forget, done(gone, s)), a, "out"));
  forget.name = "outt";
  CHECK_FALSE(tack::apply(Verb(forget), s));
}

TEST_CASE("kept tacks meet facing each other, and a chain goes on by itself", "[meet][kept][tie]") {
  Scene s;
  Placement lying;
  lying.position = {300, -40, 12};
  lying.rotation = {0, 0, 33};
  const PartId first = s.add(quarter("Curve 1"));
  const MeshPtr mesh = s.part(first).mesh;
  Part second = quarter("Curve 2", lying);
  second.mesh = mesh;
  const PartId id = s.add(second);
  Meet meet = meet_tied(kept(id, "in"), kept(first, "out"));
  CHECK(can_chain(meet, s));
  meet.chain = 2;
  const Scene ring = done(meet, s);
  // Four quarters make a ring: the fourth's out is the first's in, and looks against it.
  REQUIRE(ring.size() == 4);
  CHECK(ring.part(3).name == "Curve 3");
  CHECK(ring.part(4).name == "Curve 4");
  const auto in = find_tack(ring, kept(first, "in")), out = find_tack(ring, kept(4, "out"));
  CHECK(distance(in->point, out->point) <= 1e-9);
  CHECK(angle_between(*in->direction, -*out->direction) < 1e-9);
  CHECK(distance(at(ring, kept(3, "out")), Vec3{0, -90, 0}) <= 1e-9);
  REQUIRE(ring.ties().size() == 3);
  for (const Tie& tie : ring.ties()) CHECK(state_of(tie, ring).kind == TieState::Kind::Exact);
  CHECK(ring.ties()[2].name == "Curve 4 to Curve 3");
  CHECK(plain_text(sentence(Verb(meet), s, Tense::Past)) ==
        "Brought Curve 2 from its kept in to kept out of Curve 1, facing it, 0 mm apart, rolled 0° from the smallest "
        "turn, remembered as a tie, with 2 more in a chain.");
  // Numbers that make no chain are refused, and so is a chain without a place to go on from.
  meet.chain = -1;
  CHECK_FALSE(tack::apply(Verb(meet), s));
  meet.chain = 2;
  meet.to = vertex(first, 0);
  CHECK(can_chain(meet, s));  // a linked copy has the same vertex
  Scene other_mesh = s;
  Part board = other_mesh.part(first);
  board.mesh = cube(50);
  other_mesh.replace(first, board);
  CHECK_FALSE(can_chain(meet, other_mesh));
  meet.to = point({1, 2, 3});
  CHECK_FALSE(can_chain(meet, s));
  CHECK_FALSE(tack::apply(Verb(meet), s));
}

TEST_CASE("a tie says how it holds", "[tie]") {
  Scene s;
  const PartId a = s.add(part_of("Board", cube(100)));
  Placement aside;
  aside.position = {300, 20, 40};
  const PartId b = s.add(part_of("Post", cube(20), aside));
  Meet meet = meet_tied(face_point(b, {0.5, 0.5, 0}), face_point(a, {0.5, 0.5, 1}));
  const Scene tied = done(meet, s);
  REQUIRE(tied.ties().size() == 1);
  const std::string name = "Post to Board";
  CHECK(tied.ties()[0].name == name);
  const auto state = [&](const Scene& scene) { return state_of(*scene.tie(name), scene); };
  CHECK(state(tied).kind == TieState::Kind::Exact);
  CHECK(state_words(state(tied), kMillimetres) == "exact");
  Move move;
  move.what = {b};
  move.by[0] = Amount{0.005};
  CHECK(state(done(move, tied)).kind == TieState::Kind::Touching);
  move.by[0] = Amount{0.4};
  const Scene apart = done(move, tied);
  CHECK(state(apart).kind == TieState::Kind::Apart);
  CHECK(state(apart).gap == Approx(0.4).epsilon(1e-9));
  CHECK(state_words(state(apart), kMillimetres) == "apart by 0.4 mm");
  CHECK(remark(Verb(move), tied, apart) == "The tie Post to Board no longer holds.");
  CHECK(state_of(*apart.tie(name), apart, 0.5).kind == TieState::Kind::Touching);
  // A turn about the place itself leaves no gap, but the angle counts where it moves the far end by more than touching.
  Rotate rotate;
  rotate.what = {b};
  rotate.round.axis = 0;
  rotate.about = about_place(face_point(a, {0.5, 0.5, 1}));
  rotate.angle = Amount{0.3};
  const Scene leaning = done(rotate, tied);
  CHECK(state(leaning).kind == TieState::Kind::Apart);
  CHECK(*state(leaning).angle == Approx(0.3).epsilon(1e-9));
  CHECK(state_words(state(leaning), kMillimetres) == "0.3° off");
  rotate.angle = Amount{0.01};  // 24.5 mm away: 0.004 mm
  CHECK(state(done(rotate, tied)).kind == TieState::Kind::Touching);
  // Suspended it is measured, and not watched; without its parts it is gone.
  const Scene still = done(EditTie{name, EditTie::Do::Suspend, {}}, apart);
  CHECK(state(still).kind == TieState::Kind::Suspended);
  CHECK(state(still).gap == Approx(0.4));
  CHECK(state(done(EditTie{name, EditTie::Do::Watch, {}}, still)).kind == TieState::Kind::Apart);
  Delete remove;
  remove.what = {a};
  const Scene without = done(remove, tied);
  CHECK(without.ties().empty());
  CHECK(remark(Verb(remove), tied, without) == "The tie Post to Board went with it.");
  // A place that is not there any more: lost, with the reason.
  Scene changed = tied;
  std::vector<Tie> ties = tied.ties();
  ties[0].pairs[0].from = vertex(b, 99);
  changed.set_ties(ties);
  CHECK(state(changed).kind == TieState::Kind::Lost);
  CHECK(state(changed).problem.what == "\"Post\" has no vertex 99.");
}

TEST_CASE("a tie with a gap, a roll and limits is watched as it was made", "[tie]") {
  Scene s;
  const PartId a = s.add(part_of("Board", cube(100)));
  Placement aside;
  aside.position = {300, 20, 40};
  aside.rotation = {10, 20, 30};
  const PartId b = s.add(part_of("Post", cube(20), aside));
  Meet meet = meet_tied(face_point(b, {0.5, 0.5, 0}), face_point(a, {0.5, 0.5, 1}), "post on board");
  meet.gap = Amount{3};
  meet.matched = true;
  meet.roll = Amount{25};
  const Scene tied = done(meet, s);
  CHECK(state_of(*tied.tie("post on board"), tied).kind == TieState::Kind::Exact);
  // A roll that was asked for by angle is watched; one that came of the smallest turn is not.
  Rotate rotate;
  rotate.what = {b};
  rotate.angle = Amount{2};
  rotate.about = about_place(face_point(a, {0.5, 0.5, 1}));
  const Scene rolled = done(rotate, tied);
  const TieState state = state_of(*rolled.tie("post on board"), rolled);
  CHECK(state.gap <= 1e-9);
  CHECK(*state.angle == Approx(2).epsilon(1e-9));
  // Limited to x and y, what lies along z is not looked at.
  Meet limited = meet_tied(vertex(b, 0), vertex(a, 0), "over the corner");
  limited.along = {true, true, false};
  const Scene over = done(limited, s);
  CHECK(state_of(*over.tie("over the corner"), over).kind == TieState::Kind::Exact);
  Move up;
  up.what = {b};
  up.by[2] = Amount{12};
  CHECK(state_of(*over.tie("over the corner"), done(up, over)).kind == TieState::Kind::Exact);
  // What it does not watch is said all the same.
  CHECK(state_words(state_of(*over.tie("over the corner"), done(up, over)), kMillimetres).starts_with("exact · "));
  CHECK(state_words(state_of(*over.tie("over the corner"), done(up, over)), kMillimetres).ends_with("apart along z"));
  up.by = {Amount{1}, Amount{}, Amount{}};
  CHECK(state_of(*over.tie("over the corner"), done(up, over)).gap == Approx(1));
}

TEST_CASE("closing a tie brings either side back, to the bound", "[tie]") {
  Chance chance(413);
  double worst = 0;
  for (int i = 0; i < 600; ++i) {
    Scene s;
    const PartId group = s.add(part_of("Lift", nullptr, chance.placement(300, false)));
    const PartId a = s.add(part_of("Board", cube(100), chance.placement(300, false), group));
    const PartId b = s.add(part_of("Post", cube(20), chance.placement(300, false)));
    Meet meet = meet_tied(face_point(b, {0.5, 0.5, 0}), face_point(a, {0.5, 0.5, 1}), "t");
    meet.facing = static_cast<Facing>(i % 3);
    meet.gap = Amount{i % 2 == 0 ? 0.0 : chance.between(-20, 20)};
    meet.matched = i % 4 == 1;
    if (meet.matched) meet.roll = Amount{chance.between(-180, 180)};
    Scene scene = done(meet, s);
    CHECK(state_of(*scene.tie("t"), scene).kind == TieState::Kind::Exact);
    Move move;
    move.what = {i % 5 == 0 ? group : b};
    move.by = {Amount{chance.between(-9, 9)}, Amount{chance.between(-9, 9)}, Amount{chance.between(-9, 9)}};
    scene = done(move, scene);
    if (meet.facing != Facing::AsIs) {
      Rotate rotate;
      rotate.what = {b};
      rotate.round.axis = i % 3;
      rotate.angle = Amount{chance.between(-40, 40)};
      scene = done(rotate, scene);
    }
    REQUIRE(state_of(*scene.tie("t"), scene).kind == TieState::Kind::Apart);
    const CloseTie close{"t", i % 2 == 1};
    const std::vector<PartId> moving = movers(close, scene);
    CHECK(moving == std::vector<PartId>{close.move_other ? a : b});
    const Scene closed = done(close, scene);
    const TieState state = state_of(*closed.tie("t"), closed);
    CHECK(state.kind == TieState::Kind::Exact);
    worst = std::max(worst, state.gap / exact_bound(closed, meet.from.value(), meet.to.value()));
    // Only what was to move has moved.
    CHECK(closed.shares(scene, close.move_other ? b : a));
  }
  note_number(fmt::format("600 ties closed from either side: worst gap {:.1e} of the bound", worst));
}

TEST_CASE("what a ring of ties leaves is shared evenly", "[tie]") {
  // Four posts in a square; going round, each tie is 0 or a little apart.
  Scene s;
  std::vector<PartId> posts;
  for (int i = 0; i < 4; ++i) {
    Placement p;
    p.position = {i % 2 * 100.0, i / 2 * 100.0, 0};
    posts.push_back(s.add(part_of(fmt::format("Post {}", i + 1), cube(20), p)));
  }
  const Vec3 gaps[] = {{0.1, 0, 0}, {0, 0.2, 0}, {0, 0, -0.3}, {0.3, 0.1, 0.2}};
  std::vector<Tie> ties;
  for (std::size_t i = 0; i < 4; ++i) {
    const PartId later = posts[(i + 1) % 4], earlier = posts[i];
    Tie tie;
    tie.name = fmt::format("tie {}", i + 1);
    // From lies so that the part would have to be shifted by gaps[i].
    const Vec3 here = at(s, vertex(later, 0));
    TackAddress to = kept(earlier, tie.name);
    s = done(keep(earlier, point(here + gaps[i]), tie.name), s);
    tie.pairs = {{vertex(later, 0), to}};
    tie.what = {later};
    ties.push_back(tie);
  }
  s.set_ties(ties);
  const auto closing = closing_error(s, "tie 4");
  REQUIRE(closing);
  CHECK(distance(closing->error, Vec3{0.4, 0.3, -0.1}) <= 1e-12);
  CHECK(closing->ties.back() == "tie 4");
  CHECK(closing->worst == Approx(std::sqrt(0.26) / 4).epsilon(1e-12));
  const Scene shared = done(ShareError{"tie 4"}, s);
  double sum = 0;
  for (const Tie& tie : s.ties()) {
    const TieState state = state_of(tie, shared);
    CHECK(state.gap == Approx(std::sqrt(0.26) / 4).epsilon(1e-9));
    sum += state.gap * state.gap;
  }
  CHECK(shared.shares(s, posts[3]));  // what the closing tie meets stays
  // No other shifts leave less in all: a second way to the same numbers.
  Chance chance(414);
  for (int i = 0; i < 200; ++i) {
    Scene other = shared;
    for (std::size_t k = 0; k < 3; ++k) {
      Move move;
      move.what = {posts[k]};
      const Vec3 by = chance.point(0.05);
      move.by = {Amount{by.x}, Amount{by.y}, Amount{by.z}};
      other = done(move, other);
    }
    double now = 0;
    for (const Tie& tie : other.ties()) now += std::pow(state_of(tie, other).gap, 2);
    CHECK(now >= sum - 1e-12);
  }
  // Locked ones stay; each stretch between them shares its own.
  Lock lock;
  lock.what = {posts[1], posts[3]};
  const Scene locked = done(lock, s);
  const Scene halves = done(ShareError{"tie 4"}, locked);
  CHECK(halves.shares(locked, posts[1]));
  CHECK(halves.shares(locked, posts[3]));
  const Vec3 first = (gaps[1] + gaps[2]) / 2.0, second = (gaps[3] + gaps[0]) / 2.0;
  CHECK(state_of(ties[1], halves).gap == Approx(length(first)).epsilon(1e-9));
  CHECK(state_of(ties[2], halves).gap == Approx(length(first)).epsilon(1e-9));
  CHECK(state_of(ties[3], halves).gap == Approx(length(second)).epsilon(1e-9));
  CHECK(state_of(ties[0], halves).gap == Approx(length(second)).epsilon(1e-9));
  lock.what = posts;
  CHECK(tack::apply(Verb(ShareError{"tie 4"}), done(lock, s)).error().remedy == "Unlock one of them.");
  // A chain that is open closes no ring; nor does one with a suspended link.
  ties.pop_back();
  Scene open = s;
  open.set_ties(ties);
  CHECK_FALSE(closing_error(open, "tie 3"));
  CHECK_FALSE(closing_error(done(EditTie{"tie 2", EditTie::Do::Suspend, {}}, s), "tie 4"));
  CHECK_FALSE(closing_error(s, "tie 9"));
}

TEST_CASE("a copy that is left takes the ties over: it stands where they hold", "[tie]") {
  Scene s;
  const PartId a = s.add(part_of("Board", cube(100)));
  const PartId b = s.add(part_of("Post 1", cube(20)));
  Scene tied = done(meet_tied(face_point(b, {0.5, 0.5, 0}), face_point(a, {0.5, 0.5, 1}), "first"), s);
  Move move;
  move.what = {b};
  move.by[0] = Amount{30};
  move.leave_copy = true;
  const Scene moved = done(move, tied);
  const PartId copy = moved.roots().back();
  CHECK(moved.tie("first")->pairs[0].from.part == copy);
  CHECK(moved.tie("first")->what == std::vector<PartId>{copy});
  CHECK(state_of(*moved.tie("first"), moved).kind == TieState::Kind::Exact);
  CHECK(remark(Verb(move), tied, moved).empty());
  // So does a row of meetings that are all remembered: every one of them holds.
  for (int i = 1; i < 4; ++i) {
    Meet next = meet_tied(face_point(b, {0.5, 0.5, 0}), point({25.0 * i, 10, 100}));
    next.facing = Facing::AsIs;
    next.leave_copy = true;
    tied = done(next, tied);
  }
  REQUIRE(tied.ties().size() == 4);
  for (const Tie& tie : tied.ties()) CHECK(state_of(tie, tied).kind == TieState::Kind::Exact);
}

TEST_CASE("what a tie is measured from is known to be unchanged", "[tie]") {
  Scene s;
  const PartId group = s.add(part_of("Lift", nullptr));
  const PartId a = s.add(part_of("Board", cube(100))), b = s.add(part_of("Post", cube(20), {}, group));
  const PartId other = s.add(part_of("Funnel", cube(30)));
  const Scene tied = done(meet_tied(vertex(b, 0), vertex(a, 0), "t"), s);
  const Tie& tie = *tied.tie("t");
  const auto moved = [&](PartId id) {
    Move move;
    move.what = {id};
    move.by[0] = Amount{1};
    return done(move, tied);
  };
  CHECK(unchanged(tie, tied, tied));
  CHECK(unchanged(tie, tied, moved(other)));
  CHECK_FALSE(unchanged(tie, tied, moved(a)));
  CHECK_FALSE(unchanged(tie, tied, moved(b)));
  CHECK_FALSE(unchanged(tie, tied, moved(group)));
  // A place of everything below a group changes with what is below it.
  Tie tree = tie;
  tree.pairs[0].from = {TackKind::TreeBoxPoint, group, 0, {0, 0, 0}};
  CHECK_FALSE(unchanged(tree, tied, moved(b)));
}

TEST_CASE("ties have names of their own, and steps", "[tie]") {
  Scene s;
  const PartId a = s.add(quarter("Curve 1")), b = s.add(quarter("Curve 2"));
  s = done(meet_tied(kept(b, "in"), kept(a, "out")), s);
  s = done(meet_tied(kept(b, "in"), kept(a, "out")), s);
  REQUIRE(s.ties().size() == 2);
  CHECK(s.ties()[1].name == "Curve 2 to Curve 1 2");
  CHECK_FALSE(tack::apply(Verb(EditTie{"Curve 2 to Curve 1", EditTie::Do::Rename, "Curve 2 to Curve 1 2"}), s));
  const Scene named = done(EditTie{"Curve 2 to Curve 1", EditTie::Do::Rename, "joint"}, s);
  CHECK(named.tie("joint"));
  for (const Verb& verb :
       {Verb(EditTie{"joint", EditTie::Do::Rename, "seam"}), Verb(EditTie{"joint", EditTie::Do::Suspend, {}}),
        Verb(CloseTie{"joint", true}), Verb(ShareError{"joint"}), Verb(keep(b, vertex(b, 1), "mark", false)),
        Verb(Forget{{b}, "in", false}), Verb(meet_tied(kept(b, "in"), kept(a, "out"), "third"))}) {
    const Json json = to_json(verb, named);
    const auto again = verb_from_json(json, named);
    INFO(json.dump());
    REQUIRE(again);
    CHECK(to_json(*again, named) == json);
  }
  CHECK_FALSE(verb_from_json(Json{{"verb", "close"}, {"tie", "none"}}, named));
  CHECK_FALSE(verb_from_json(Json{{"verb", "tie"}, {"tie", "joint"}, {"do", "cut"}}, named));
}

TEST_CASE("a place stays and the part is turned about it until From looks towards To", "[meet]") {
  Chance chance(415);
  for (int i = 0; i < 300; ++i) {
    Scene s;
    const PartId id = s.add(part_of("Lever", cube(40), chance.placement(100, false)));
    Meet meet;
    meet.from = vertex(id, 7);
    meet.to = point(chance.point(200));
    meet.hold = vertex(id, 1);
    const Vec3 held = at(s, *meet.hold);
    const double arm = distance(at(s, *meet.from), held);
    const Scene turned = done(meet, s);
    CHECK(distance(at(turned, *meet.hold), held) <= 1e-10);
    const Vec3 now = at(turned, *meet.from) - held, wanted = meet.to->parameter - held;
    CHECK(angle_between(now, wanted) < 1e-9);
    CHECK(length(now) == Approx(arm).epsilon(1e-12));
    CHECK(remaining_sentence(meet, turned, kMillimetres).starts_with("It is apart by"));
    meet.sized = true;
    const Scene sized = done(meet, s);
    CHECK(distance(at(sized, *meet.from), meet.to->parameter) <= 1e-9);
    CHECK(distance(at(sized, *meet.hold), held) <= 1e-10);
  }
  Scene s = one_part({});
  Meet tied;
  tied.from = vertex(1, 7);
  tied.hold = vertex(1, 0);
  tied.to = point({5, 5, 50});
  tied.tie = true;
  CHECK_FALSE(tack::apply(Verb(tied), s));
  Meet none;
  none.from = none.hold = vertex(1, 0);
  none.to = point({5, 5, 5});
  CHECK_FALSE(tack::apply(Verb(none), s));
}

TEST_CASE("a move by a caught place slides where it is told to", "[move]") {
  Placement turned;
  turned.position = {10, 20, 30};
  turned.rotation = {0, 0, 30};
  Scene s = one_part(turned);
  Move move;
  move.what = {1};
  move.from = TackAddress{TackKind::Edge, 1, 0, {0.5, 0, 0}, 1};
  move.to = point({200, 300, 90});
  const auto from = find_tack(s, *move.from);
  REQUIRE(from);
  const Vec3 all = move.to->parameter - from->point;
  const auto shift = [&](const Move& m) {
    const Scene after = done(m, s);
    return at(after, *m.from) - from->point;
  };
  move.slide.kind = Slide::Kind::Edge;
  CHECK(length(cross(shift(move), *from->roll)) <= 1e-9);
  CHECK(dot(shift(move) - all, *from->roll) == Approx(0).margin(1e-9));
  move.slide.kind = Slide::Kind::Normal;
  CHECK(length(cross(shift(move), *from->direction)) <= 1e-9);
  move.slide.kind = Slide::Kind::Face;
  CHECK(dot(shift(move), *from->direction) == Approx(0).margin(1e-9));
  CHECK(length(cross(shift(move) - all, *from->direction)) <= 1e-9);
  CHECK(remark(Verb(move), s, done(move, s)).starts_with("It is apart by"));
  // Along axes: only those.
  move.slide = {};
  move.along = {false, true, false};
  const Vec3 y = shift(move);
  CHECK(distance(y, Vec3{0, all.y, 0}) <= 1e-9);
  // By something else's edge.
  Scene two = s;
  const PartId board = two.add(part_of("Board", cube(300)));
  move.along = kAllAxes;
  move.slide = {Slide::Kind::Edge, TackAddress{TackKind::Edge, board, 0, {0.5, 0, 0}, 1}};
  const auto rail = find_tack(two, *move.slide.on);
  const Vec3 by = at(done(move, two), *move.from) - from->point;
  CHECK(length(cross(by, *rail->roll)) <= 1e-9);
  move.slide.on = vertex(board, 0);
  CHECK(tack::apply(Verb(move), two).error().remedy == "Click a place on an edge.");
  move.slide.on = TackAddress{TackKind::Edge, board, 0, {0.5, 0, 0}, 1};
  const Json json = to_json(Verb(move), two);
  CHECK(to_json(*verb_from_json(json, two), two) == json);
}

TEST_CASE("a rotation brings a caught place in line with another", "[rotate]") {
  Scene s;
  const PartId id = s.add(part_of("Lever", cube(40)));
  Rotate rotate;
  rotate.what = {id};
  rotate.from = vertex(id, 1);
  rotate.to = point({0, 70, 25});
  // The lever's corner at (40, 0, 0), or where it is: the angle about Z is that between two bearings.
  const Vec3 from = at(s, *rotate.from);
  const double expected = atan2_degrees(70, 0) - atan2_degrees(from.y, from.x);
  CHECK(angle_towards(rotate, s).value() == Approx(expected).epsilon(1e-14));
  const Scene after = done(rotate, s);
  const Vec3 now = at(after, *rotate.from);
  CHECK(now.x == Approx(0).margin(1e-12));
  CHECK(now.y > 0);
  CHECK(at(after, TackAddress{TackKind::Pivot, id, 0, {}}) == Vec3{});
  CHECK(plain_text(sentence(Verb(rotate), s, Tense::Past)).find("came in line with point 0, 70, 25") !=
        std::string::npos);
  const Json json = to_json(Verb(rotate), s);
  CHECK(to_json(*verb_from_json(json, s), s) == json);
  rotate.to = point({0, 0, 25});
  CHECK(tack::apply(Verb(rotate), s).error().what.find("lies on the axis") != std::string::npos);
  rotate.to = vertex(id, 3);
  CHECK_FALSE(tack::apply(Verb(rotate), s));
}

TEST_CASE("a change of size brings a caught place to another", "[scale]") {
  Placement turned;
  turned.position = {10, 20, 30};
  turned.rotation = {0, 0, 30};
  Scene s = one_part(turned);
  Scale scale;
  scale.what = {1};
  scale.from = box_point(1, {1, 1, 1});
  scale.to = point({55, 44, 99});
  const Vec3 foot = at(s, box_point(1, {0.5, 0.5, 0}));
  const Scene free = done(scale, s);
  CHECK(distance(at(free, *scale.from), scale.to->parameter) <= 1e-9);
  CHECK(distance(at(free, box_point(1, {0.5, 0.5, 0})), foot) <= 1e-9);
  CHECK(remark(Verb(scale), s, free).empty());
  // Along z alone it reaches the height, and says what remains.
  scale.along = {false, false, true};
  const Scene high = done(scale, s);
  CHECK(at(high, *scale.from).z == Approx(99).epsilon(1e-12));
  CHECK(remark(Verb(scale), s, high).starts_with("It is apart by"));
  // Evenly it comes as near as it can: what remains is square to the way from the place that stays.
  scale.along = kAllAxes;
  scale.evenly = true;
  const Scene even = done(scale, s);
  const Vec3 way = at(even, *scale.from) - foot;
  CHECK(dot(scale.to->parameter - at(even, *scale.from), way) == Approx(0).margin(1e-9));
  const Json json = to_json(Verb(scale), s);
  CHECK(to_json(*verb_from_json(json, s), s) == json);
  // A place level with what stays cannot be moved so.
  scale.evenly = false;
  scale.from = box_point(1, {1, 1, 0});
  scale.along = {false, false, true};
  CHECK(tack::apply(Verb(scale), s).error().what.find("level with what stays along Z") != std::string::npos);
}
