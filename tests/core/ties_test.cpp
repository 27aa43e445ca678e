// Chains, ties, rings of ties and what closes them.
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

TackAddress face_point(PartId part, const Vec3& fraction) { return box_point(part, fraction); }

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

}  // namespace

TEST_CASE("what a tie holds on is not forgotten", "[kept][tie]") {
  Scene s;
  const PartId a = s.add(quarter("Curve 1")), b = s.add(quarter("Curve 2"));
  s = done(meet_tied(kept_tack(b, "in"), kept_tack(a, "out")), s);
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
  Meet meet = meet_tied(kept_tack(id, "in"), kept_tack(first, "out"));
  CHECK(can_chain(meet, s));
  meet.chain = 2;
  const Scene ring = done(meet, s);
  // Four quarters make a ring: the fourth's out is the first's in, and looks against it.
  REQUIRE(ring.size() == 4);
  CHECK(ring.part(3).name == "Curve 3");
  CHECK(ring.part(4).name == "Curve 4");
  const auto in = find_tack(ring, kept_tack(first, "in")), out = find_tack(ring, kept_tack(4, "out"));
  CHECK(distance(in->point, out->point) <= 1e-9);
  CHECK(angle_between(*in->direction, -*out->direction) < 1e-9);
  CHECK(distance(at(ring, kept_tack(3, "out")), Vec3{0, -90, 0}) <= 1e-9);
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
  CHECK(can_chain(meet, s));  // an instance has the same vertex
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
    meet.matched = i % 4 == 1 && meet.facing != Facing::AsIs;
    if (i % 4 == 1) meet.roll = Amount{chance.between(-180, 180)};
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
    const CloseTie close{"t", i % 2 == 1 ? CloseTie::Moves::Met : CloseTie::Moves::Brought};
    const std::vector<PartId> moving = movers(close, scene);
    CHECK(moving == std::vector<PartId>{close.moves == CloseTie::Moves::Met ? a : b});
    const Scene closed = done(close, scene);
    const TieState state = state_of(*closed.tie("t"), closed);
    CHECK(state.kind == TieState::Kind::Exact);
    worst = std::max(worst, state.gap / exact_bound(closed, meet.from.value(), meet.to.value()));
    // Only what was to move has moved.
    CHECK(closed.shares(scene, close.moves == CloseTie::Moves::Met ? b : a));
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
    TackAddress to = kept_tack(earlier, tie.name);
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

TEST_CASE("sharing leaves the least sum of squares, found another way", "[tie]") {
  Chance chance(416);
  double worst = 0;
  for (int round = 0; round < 60; ++round) {
    // A ring of posts, some of them locked; every tie a random way apart.
    const int count = chance.whole(2, 9);
    Scene s;
    std::vector<PartId> posts;
    for (int i = 0; i < count; ++i) {
      Placement p;
      p.position = chance.point(300);
      posts.push_back(s.add(part_of(fmt::format("Post {}", i), cube(20), p)));
    }
    std::vector<Tie> ties;
    std::vector<Vec3> wanted;  // what post i + 1 would have to be shifted against post i
    for (int i = 0; i < count; ++i) {
      const auto earlier = static_cast<std::size_t>(i), later = static_cast<std::size_t>((i + 1) % count);
      const Vec3 gap = chance.point(1);
      // Either way round: the one that was brought is the later or the earlier.
      const bool forward = i % 2 == 0 || i + 1 == count;
      const PartId moves = posts[forward ? later : earlier], stays = posts[forward ? earlier : later];
      const std::string name = fmt::format("tie {}", i);
      s = done(Keep{stays, point(at(s, vertex(moves, 0)) + gap), name, Copies::Separate}, s);
      Tie tie;
      tie.name = name;
      tie.what = {moves};
      tie.pairs = {{vertex(moves, 0), kept_tack(stays, name)}};
      ties.push_back(tie);
      wanted.push_back(forward ? gap : -gap);
    }
    s.set_ties(ties);
    std::vector<bool> stays(posts.size(), false);
    for (std::size_t i = 0; i < posts.size(); ++i)
      if (i > 0 && chance.whole(0, 3) == 0) stays[i] = true;
    std::vector<PartId> locked;
    for (std::size_t i = 0; i < posts.size(); ++i)
      if (stays[i]) locked.push_back(posts[i]);
    // Nothing locked: the part that the closing tie meets is held, which is the one before the first.
    if (locked.empty())
      stays.back() = true;
    else
      s = done(Lock{locked, true}, s);
    const std::string closing = ties.back().name;
    const Scene shared = done(ShareError{closing}, s);
    // Relaxation: each free post to the middle between what its two ties want, again and again.
    std::vector<Vec3> shift(posts.size());
    for (int step = 0; step < 4000; ++step)
      for (std::size_t i = 0; i < posts.size(); ++i) {
        if (stays[i]) continue;
        const std::size_t before = (i + posts.size() - 1) % posts.size(), after = (i + 1) % posts.size();
        shift[i] = (shift[before] + wanted[before] + shift[after] - wanted[i]) * 0.5;
      }
    for (std::size_t i = 0; i < posts.size(); ++i) {
      const TackAddress pivot{TackKind::Pivot, posts[i], 0, {}};
      worst = std::max(worst, distance(at(shared, pivot), at(s, pivot) + shift[i]));
    }
  }
  CHECK(worst < 1e-9);
}

TEST_CASE("a long ring is found, and so is the shorter of two", "[tie]") {
  Scene s;
  std::vector<Tie> ties;
  constexpr PartId kCount = 3000;
  for (PartId i = 1; i <= kCount; ++i) s.add(part_of(fmt::format("P{}", i), nullptr));
  const auto link = [&](PartId a, PartId b, const std::string& name) {
    Tie tie;
    tie.name = name;
    tie.what = {a};
    tie.pairs = {{{TackKind::Pivot, a, 0, {}}, {TackKind::Pivot, b, 0, {}}}};
    ties.push_back(tie);
  };
  for (PartId i = 2; i <= kCount; ++i) link(i, i - 1, fmt::format("{}", i));
  link(1, kCount, "closing");
  s.set_ties(ties);
  const auto whole = closing_error(s, "closing");
  REQUIRE(whole);
  CHECK(whole->ties.size() == kCount);
  CHECK(whole->parts.size() == kCount);
  CHECK(length(whole->error) == 0);
  link(5, kCount - 5, "short cut");
  s.set_ties(ties);
  CHECK(closing_error(s, "closing")->ties.size() == 11);
}

TEST_CASE("a tie waits for what its meshes still lack, and is measured then", "[tie]") {
  Scene s;
  const PartId a = s.add(part_of("Board", cube(100))), b = s.add(part_of("Post", cube(20)));
  Tie tie;
  tie.name = "t";
  tie.pairs = {{{TackKind::FaceCentre, b, 0, {}}, {TackKind::FaceCentre, a, 0, {}}}};
  CHECK(state_when_ready(tie, s).kind == TieState::Kind::Waiting);
  CHECK(state_words(state_when_ready(tie, s), kMillimetres) == "being measured");
  Tie known = tie;
  known.pairs = {{box_point(b, {0, 0, 0}), kept_tack(a, "none")}};
  CHECK(state_when_ready(known, s).kind == TieState::Kind::Lost);  // needs nothing that is worked out
  s.part(a).mesh->features();
  CHECK(state_when_ready(tie, s).kind == TieState::Kind::Waiting);
  s.part(b).mesh->features();
  CHECK(state_when_ready(tie, s).kind == state_of(tie, s).kind);
  // What waits closes no ring, and is no link of one.
  s.set_ties({tie});
  CHECK_FALSE(TieRings(s, {TieState{}}).closing_error("t"));
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

TEST_CASE("a step says which ties it took away or let go, and nothing of those that were apart before", "[tie]") {
  Scene s;
  const PartId a = s.add(part_of("Board", cube(100)));
  const PartId b = s.add(part_of("Post", cube(20))), c = s.add(part_of("Funnel", cube(20)));
  Scene tied = done(meet_tied(face_point(b, {0.5, 0.5, 0}), face_point(a, {0.2, 0.2, 1}), "one"), s);
  tied = done(meet_tied(face_point(c, {0.5, 0.5, 0}), face_point(a, {0.8, 0.8, 1}), "two"), tied);
  Move move;
  move.what = {a};
  move.by[2] = Amount{-2};
  const Scene moved = done(move, tied);
  CHECK(remark(Verb(move), tied, moved) == "2 ties no longer hold: one, …");
  CHECK(remark(Verb(move), moved, done(move, moved)).empty());
  const CloseTie close{"one", CloseTie::Moves::Brought};
  CHECK(remark(Verb(close), moved, done(close, moved)).empty());
  Delete remove;
  remove.what = {b};
  CHECK(remark(Verb(remove), moved, done(remove, moved)) == "The tie one went with it.");
  // Renamed and deleted on purpose: nothing has to be said.
  const EditTie rename{"two", EditTie::Do::Rename, "three"};
  CHECK(remark(Verb(rename), moved, done(rename, moved)).empty());
  for (const std::string& bad : {std::string(), std::string("a\nb"), std::string(201, 'x')})
    CHECK_FALSE(tack::apply(Verb(EditTie{"two", EditTie::Do::Rename, bad}), moved));
}

TEST_CASE("ties have names of their own, and steps", "[tie]") {
  Scene s;
  const PartId a = s.add(quarter("Curve 1")), b = s.add(quarter("Curve 2"));
  s = done(meet_tied(kept_tack(b, "in"), kept_tack(a, "out")), s);
  s = done(meet_tied(kept_tack(b, "in"), kept_tack(a, "out")), s);
  REQUIRE(s.ties().size() == 2);
  CHECK(s.ties()[1].name == "Curve 2 to Curve 1 2");
  CHECK_FALSE(tack::apply(Verb(EditTie{"Curve 2 to Curve 1", EditTie::Do::Rename, "Curve 2 to Curve 1 2"}), s));
  const Scene named = done(EditTie{"Curve 2 to Curve 1", EditTie::Do::Rename, "joint"}, s);
  CHECK(named.tie("joint"));
  for (const Verb& verb :
       {Verb(EditTie{"joint", EditTie::Do::Rename, "seam"}), Verb(EditTie{"joint", EditTie::Do::Suspend, {}}),
        Verb(CloseTie{"joint", CloseTie::Moves::Met}), Verb(ShareError{"joint"}),
        Verb(keep(b, vertex(b, 1), "mark", false)), Verb(Forget{{b}, "in", Copies::Separate}),
        Verb(meet_tied(kept_tack(b, "in"), kept_tack(a, "out"), "third"))}) {
    const Json json = to_json(verb, named);
    const auto again = verb_from_json(json, named);
    INFO(json.dump());
    REQUIRE(again);
    CHECK(to_json(*again, named) == json);
  }
  CHECK_FALSE(verb_from_json(Json{{"verb", "close"}, {"tie", "none"}}, named));
  CHECK_FALSE(verb_from_json(Json{{"verb", "tie"}, {"tie", "joint"}, {"do", "cut"}}, named));
}
