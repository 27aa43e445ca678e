// Chains, ties, rings and groups over many odd scenes, held against a second method in long double.
#include "core/entry/quoted.h"
#include "core/fit/ties.h"
#include "core/verbs/tie_steps.h"
#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

namespace {

// A part with a joint at each end, placed anyhow.
Part joined(Chance& chance, const std::string& name, PartId parent) {
  Part part = part_of(name, cube(20), odd_placement(chance, 200), parent);
  part.kept = std::make_shared<const KeptTacks>(
      KeptTacks{{"in", chance.point(15), chance.direction(), {}}, {"out", chance.point(15), chance.direction(), {}}});
  return part;
}

LongVec long_kept(const Scene& scene, PartId id, const std::string& name) {
  return long_world(scene, id) * longer(find_kept(scene, id, name)->point);
}

Meet tied(const TackAddress& from, const TackAddress& to, const std::string& name) {
  Meet meet;
  meet.from = from;
  meet.to = to;
  meet.facing = Facing::AsIs;
  meet.tie = true;
  meet.tie_name = name;
  return meet;
}

}  // namespace

TEST_CASE("a chain of meetings: every joint closed, each on the one before", "[sweep]") {
  Chance chance(1401);
  Cases joints("chains of joints");
  for (int i = 0; i < 60; ++i) {
    Scene scene;
    std::vector<PartId> parts;
    for (int k = 0; k < 6; ++k) {
      const PartId above = k % 2 == 0 ? kNoPart : scene.add(part_of("Up", nullptr, odd_placement(chance, 100)));
      parts.push_back(scene.add(joined(chance, fmt::format("Link {}", k), above)));
    }
    for (std::size_t k = 1; k < parts.size(); ++k) {
      Meet meet = tied(kept_tack(parts[k], "in"), kept_tack(parts[k - 1], "out"), fmt::format("joint {}", k));
      meet.facing = i % 2 == 0 ? Facing::Facing : Facing::AsIs;
      scene = done(meet, scene);
    }
    for (std::size_t k = 1; k < parts.size(); ++k) {
      joints.add(
          share_of_bound(scene, parts[k], long_kept(scene, parts[k], "in"), long_kept(scene, parts[k - 1], "out")));
      CHECK(state_of(scene.ties()[k - 1], scene).kind == TieState::Kind::Exact);
    }
  }
}

TEST_CASE("a group is moved by a place of a part inside it, as one body", "[sweep]") {
  Chance chance(1402);
  Cases place("a group moved by a place of its child"), body("and nothing in it bends");
  for (int i = 0; i < 150; ++i) {
    Odd odd = odd_scene(chance, 4);
    if (odd.scene.part(odd.moving).parent == kNoPart) continue;
    PartId top = odd.moving;
    while (odd.scene.part(top).parent != kNoPart) top = odd.scene.part(top).parent;
    Meet meet;
    meet.what = {top};
    meet.from = vertex(odd.moving, 5);
    meet.to = vertex(odd.still, 2);
    meet.facing = Facing::AsIs;
    const LongVec way = long_vertex(odd.scene, odd.still, 2) - long_vertex(odd.scene, odd.moving, 5);
    const Scene after = done(meet, odd.scene);
    place.add(
        share_of_bound(after, odd.moving, long_vertex(after, odd.moving, 5), long_vertex(odd.scene, odd.still, 2)));
    body.add(worst_vertex(odd.scene, after, odd.moving, [&](const LongVec& p) { return p + way; }));
  }
}

TEST_CASE("ties tell their gap to the bound, and each state when it is so", "[sweep]") {
  Chance chance(1403);
  Cases gaps("ties: the gap that is measured");
  for (int i = 0; i < 1200; ++i) {
    const Odd odd = odd_scene(chance, 3);
    Scene scene = done(tied(vertex(odd.moving, 1), vertex(odd.still, 2), "t"), odd.scene);
    REQUIRE(state_of(*scene.tie("t"), scene).kind == TieState::Kind::Exact);
    const double far = i % 4 == 0 ? 0.004 : i % 4 == 1 ? 0.5 : chance.between(1, 100);
    Move move;
    move.what = {odd.moving};
    move.by[static_cast<std::size_t>(i % 3)] = Amount{far};
    scene = done(move, scene);
    const TieState state = state_of(*scene.tie("t"), scene);
    const LongVec from = long_vertex(scene, odd.moving, 1), to = long_vertex(scene, odd.still, 2);
    gaps.add(share_of_bound(scene, odd.moving, from + LongVec{static_cast<Real>(state.gap), 0, 0},
                            from + LongVec{length(to - from), 0, 0}));
    // A million millimetres out the bound itself may be more than the shift.
    const double bound = exact_bound(scene, vertex(odd.moving, 1), vertex(odd.still, 2));
    const double gap = static_cast<double>(length(to - from));
    if (gap > 2 * bound && gap < 0.009) CHECK(state.kind == TieState::Kind::Touching);
    if (gap > 2 * bound && gap > 0.011) CHECK(state.kind == TieState::Kind::Apart);
    if (gap > 2 * bound) CHECK(state_of(*scene.tie("t"), scene, 200).kind == TieState::Kind::Touching);
    const Scene closed = done(CloseTie{"t", i % 2 == 0 ? CloseTie::Moves::Brought : CloseTie::Moves::Met}, scene);
    CHECK(state_of(*closed.tie("t"), closed).kind == TieState::Kind::Exact);
    const Scene idle = done(EditTie{"t", EditTie::Do::Suspend, {}}, scene);
    CHECK(state_of(*idle.tie("t"), idle).kind == TieState::Kind::Suspended);
  }
}

TEST_CASE("rings of three to seven: what remains is what the gaps add up to, and is shared evenly", "[sweep]") {
  Chance chance(1404);
  Cases sums("rings: the closing error"), shares("rings: each tie's share");
  for (int i = 0; i < 100; ++i) {
    const int count = 3 + i % 5;
    Scene scene;
    std::vector<PartId> parts;
    for (int k = 0; k < count; ++k) parts.push_back(scene.add(joined(chance, fmt::format("Link {}", k), kNoPart)));
    for (int k = 1; k < count; ++k)
      scene = done(tied(kept_tack(parts[k], "in"), kept_tack(parts[k - 1], "out"), fmt::format("joint {}", k)), scene);
    // The last one is remembered where it happens to be: its meeting done, and undone by moving back.
    const Placement was = scene.part(parts[0]).placement;
    scene = done(tied(kept_tack(parts[0], "in"), kept_tack(parts[static_cast<std::size_t>(count) - 1], "out"), "last"),
                 scene);
    scene.place(parts[0], was);
    LongVec sum;
    for (int k = 0; k < count; ++k) {
      const auto before = static_cast<std::size_t>((k + count - 1) % count);
      sum = sum + (long_kept(scene, parts[before], "out") - long_kept(scene, parts[static_cast<std::size_t>(k)], "in"));
    }
    const auto closing = closing_error(scene, "last");
    REQUIRE(closing);
    sums.add(share_of_bound(scene, parts[0], longer(closing->error), sum));
    const Scene shared = done(ShareError{"last"}, scene);
    for (int k = 0; k < count; ++k) {
      const auto before = static_cast<std::size_t>((k + count - 1) % count);
      const LongVec gap =
          long_kept(shared, parts[before], "out") - long_kept(shared, parts[static_cast<std::size_t>(k)], "in");
      shares.add(share_of_bound(shared, parts[static_cast<std::size_t>(k)], gap, sum * (Real(1) / count)));
    }
  }
}

TEST_CASE("odd names go through paths, addresses and ties and come back", "[sweep]") {
  const char* const names[] = {"a/b",     "#2",           "a#2",    "back\\slash", "quote \" in",
                               "\\\"",    "  blanks  ",   "point",  "vertex 3",    "\"",
                               "ä ö – ü", "日本",         "a\\/b",  "/",           "#",
                               "\\",      "of \"A\"",     "it",     "Hub pivot",   "plane 1,2",
                               "world",   "x of \"Hub\"", "a\\\\b", "ends in \\",  "a \"q\" b \"r\""};
  Scene scene;
  std::vector<PartId> ids;
  for (const char* name : names) ids.push_back(scene.add(part_of(name, cube(10))));
  // The same names again below a part of such a name, and twice.
  for (int twice = 0; twice < 2; ++twice)
    for (const char* name : names) ids.push_back(scene.add(part_of(name, cube(10), {}, ids[4])));
  for (const PartId id : ids) {
    const auto found = find_by_path(scene, path_of(scene, id));
    REQUIRE(found);
    CHECK(*found == id);
    const TackAddress address = vertex(id, 3);
    const auto read = parse_address(scene, address_text(scene, address));
    INFO(address_text(scene, address));
    REQUIRE(read);
    CHECK(*read == address);
    // The same in a typed value.
    const auto width = parse_entry("width of " + in_quotes(path_of(scene, id)),
                                   {EntryKind::Length, kMillimetres, std::nullopt, reader_of({scene, {}, kNoPart})});
    REQUIRE(width);
    CHECK(*width > 0);
    const Verb meet = tied(address, vertex(ids[0] == id ? ids[1] : ids[0], 2), "t");
    const auto back = verb_from_json(to_json(meet, scene), scene);
    REQUIRE(back);
    CHECK(std::get<Meet>(*back).from == address);
  }
}
