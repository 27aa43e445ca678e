// Align: numbers worked out by hand, and over many odd scenes held against a second method in long double.
#include <algorithm>

#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

namespace {

using At = AlignSide::At;

Align::Axis sides(At mine, At theirs, double gap = 0) { return {true, {mine, {}}, {theirs, {}}, Amount{gap}}; }

// A block 20 a side at the origin, a post 30 a side whose low corner is at 50, 60, 70, a sign 10 a side turned by 45°.
Scene three() {
  Scene s;
  s.add(part_of("Block", cube(20)));
  s.add(part_of("Post", cube(30), {{50, 60, 70}, {}, {1, 1, 1}, {}, {}}));
  s.add(part_of("Sign", cube(10), {{-40, 0, 0}, {0, 0, 45}, {1, 1, 1}, {}, {}}));
  return s;
}

Align align_block() {
  Align a;
  a.what = {1};
  a.with = 2;
  return a;
}

TackAddress low_corner(PartId part) { return {TackKind::Vertex, part, 0, {}}; }

}  // namespace

TEST_CASE("sides, middles and pivots come level, with a gap away from the target", "[align]") {
  const Scene s = three();
  Align a = align_block();
  a.sides[0] = sides(At::Middle, At::Middle);
  a.sides[2] = sides(At::Low, At::High, 2);
  Scene after = done(a, s);
  CHECK(after.part(1).placement.position == Vec3{55, 0, 102});
  CHECK(after.part(2).placement == s.part(2).placement);
  // Below it the gap goes down.
  a.sides[2] = sides(At::High, At::Low, 2);
  CHECK(done(a, s).part(1).placement.position == Vec3{55, 0, 48});
  // From the middle it leaves room for the side that is brought there.
  a.sides[2] = sides(At::High, At::Middle, 2);
  CHECK(done(a, s).part(1).placement.position.z == 63);
  a.sides[2] = sides(At::Low, At::Middle, 2);
  CHECK(done(a, s).part(1).placement.position.z == 87);
  // Flush on the inside, too.
  a.sides[2] = sides(At::High, At::High);
  CHECK(done(a, s).part(1).placement.position.z == 80);
  a.sides[2] = sides(At::Pivot, At::Pivot, -3);
  CHECK(done(a, s).part(1).placement.position.z == 73);  // the pivot is below the middle: away is down
}

TEST_CASE("the box of a turned part is that of its true vertices; along its own axes it is its own", "[align]") {
  const Scene s = three();
  Align a;
  a.what = {3};
  a.with = 1;
  a.sides[0] = sides(At::Low, At::High);
  // Turned by 45° it reaches from −5√2 to 5√2 about its corner's x.
  const double reach = 5 * std::sqrt(2.0);
  CHECK(done(a, s).part(3).placement.position.x == Approx(20 + reach).epsilon(1e-14));
  // Along the sign's own axes the block reaches from −10√2 … to 10√2 √2: its far corner along (1, 1)/√2 is 20√2.
  a.axes = AxesKind::Local;
  const Vec3 there = done(a, s).part(3).placement.position;
  CHECK(there.x + there.y == Approx(40).epsilon(1e-14));
  CHECK(there.y - there.x == Approx(40).epsilon(1e-14));
}

TEST_CASE("each comes level by itself, a block goes as one, and one of several stays", "[align]") {
  const Scene s = three();
  Align a;
  a.what = {1, 2};
  a.with = 3;
  a.sides[2] = sides(At::Low, At::High, 5);
  const Scene each = done(a, s);
  CHECK(each.part(1).placement.position.z == 15);
  CHECK(each.part(2).placement.position.z == 15);
  a.as = Align::As::Block;
  const Scene block = done(a, s);
  CHECK(block.part(1).placement.position.z == 15);
  CHECK(block.part(2).placement.position.z == 85);
  // The post is picked too, and stays.
  a.as = Align::As::Each;
  a.with = 2;
  const Scene stays = done(a, s);
  CHECK(stays.part(2).placement == s.part(2).placement);
  CHECK(stays.part(1).placement.position.z == 105);
  // With the box of all picked: from 0 to 100 along z.
  a.with = kNoPart;
  a.with_all = true;
  a.sides[2] = sides(At::High, At::High);
  const Scene all = done(a, s);
  CHECK(all.part(1).placement.position.z == 80);
  CHECK(all.part(2).placement.position.z == 70);
}

TEST_CASE("places count on either side; a part may be aligned with the one it belongs to", "[align]") {
  Scene s = three();
  Align a = align_block();
  a.sides[1].given = true;
  a.sides[1].mine = {At::Place, TackAddress{TackKind::Vertex, 1, 6, {}}};  // its far corner
  a.sides[1].theirs = {At::Place, low_corner(2)};
  CHECK(done(a, s).part(1).placement.position == Vec3{0, 40, 0});
  // Each its own corner, where they share a mesh.
  const PartId copy = s.add(part_of("Block 2", s.part(1).mesh, {{7, 300, 0}, {}, {1, 1, 1}, {}, {}}));
  a.what = {1, copy};
  CHECK(done(a, s).part(copy).placement.position == Vec3{7, 40, 0});
  a.what = {1, 3};
  CHECK(refusal(a, s) ==
        "\"Sign\" has no vertex like that of \"Block\". Align them as one block, or one after another.");
  // A place in space as the target.
  a = align_block();
  a.with = kNoPart;
  a.with_place = point({1, 2, 3});
  a.sides[2] = sides(At::High, At::Middle, 4);
  CHECK(done(a, s).part(1).placement.position.z == 3 - 4 - 20);
  // The child of a part: what is level is the rest of that part.
  Scene nested = three();
  const PartId child = nested.add(part_of("Cap", cube(4), {{0, 0, 90}, {}, {1, 1, 1}, {}, {}}, 2));
  Align with_parent;
  with_parent.what = {child};
  with_parent.with = 2;
  with_parent.sides[2] = sides(At::Low, At::High);
  CHECK(done(with_parent, nested).part(child).placement.position == Vec3{0, 0, 30});
}

TEST_CASE("what cannot be aligned is refused in words", "[align]") {
  Scene s = three();
  Align a = align_block();
  CHECK(refusal(a, s).starts_with("Align needs sides along x, y or z."));
  a.sides[0] = sides(At::Low, At::Low);
  Align no_target = a;
  no_target.with = kNoPart;
  CHECK(refusal(no_target, s).starts_with("Align needs something to align \"with\"."));
  Align lone = a;
  lone.with = 1;
  CHECK(refusal(lone, s) == "The target is all that is picked: nothing is left to align.");
  Align gap = a;
  gap.sides[1].gap = Amount{3};
  CHECK(refusal(gap, s) == "Nothing is aligned along y: a gap there means nothing.");
  // The target moves with what is aligned.
  Scene nested = three();
  const PartId child = nested.add(part_of("Cap", cube(4), {}, 1));
  Align with_child = a;
  with_child.with = child;
  CHECK(refusal(with_child, nested).starts_with("\"Cap\" moves with \"Block\""));
  // Nothing to measure.
  const PartId group = s.add(part_of("Crates", nullptr));
  Align with_group = a;
  with_group.with = group;
  CHECK(refusal(with_group, s) == "\"Crates\" is empty: it has no box.");
  Align all_pivot = a;
  all_pivot.what = {1, 2};
  all_pivot.with = kNoPart;
  all_pivot.with_all = true;
  all_pivot.sides[0] = sides(At::Low, At::Pivot);
  CHECK(refusal(all_pivot, s).starts_with("All that is picked has no pivot of its own."));
  all_pivot.as = Align::As::Block;
  all_pivot.sides[0] = sides(At::Pivot, At::Low);
  CHECK(refusal(all_pivot, s).starts_with("A block of several parts has several pivots."));
  Part locked = s.part(1);
  locked.locked = true;
  s.replace(1, locked);
  CHECK(refusal(a, s).find("locked") != std::string::npos);
}

TEST_CASE("a guide plane is level along its own axes, and refused along slanted ones", "[align]") {
  Scene s = three();
  Part plane;
  plane.name = "Ramp";
  plane.guide = GuideKind::Plane;
  plane.placement = {{0, 0, 50}, {0, 30, 0}, {1, 1, 1}, {}, {}};
  const PartId ramp = s.add(plane);
  const auto verb = verb_from_json(
      Json::parse(R"({"verb":"align","what":["Block"],"with":{"plane":"Ramp"},"z":["low","middle"]})"), s);
  REQUIRE(verb);
  CHECK(to_json(*verb, s).dump() ==
        R"({"verb":"align","what":["Block"],"with":{"plane":"Ramp"},"axes":{"of":"Ramp"},"z":["low","middle"]})");
  const Scene after = done(*verb, s);
  // Its lowest vertex along the normal lies in the plane, and it went along the normal alone.
  const Vec3 normal{0.5, 0, std::sqrt(3.0) / 2};
  double lowest = 1e9;
  for (const Vec3& v : after.part(1).mesh->positions())
    lowest = std::min(lowest, dot(normal, world_of(after, 1) * v - Vec3{0, 0, 50}));
  CHECK(std::abs(lowest) < 1e-12);
  CHECK(length(cross(normal, after.part(1).placement.position)) < 1e-12);
  Align slanted = align_block();
  slanted.with = ramp;
  slanted.sides[2] = sides(At::Low, At::Middle);
  CHECK(refusal(slanted, s) == "\"Ramp\" is not square to these axes. Align along the plane's own axes.");
  slanted.sides[2] = {};
  slanted.sides[1] = sides(At::Low, At::Middle);  // its y is World's
  CHECK(done(slanted, s).part(1).placement.position.y == 0);
}

TEST_CASE("a pair of box points settles the axes that both stand for", "[align]") {
  Align a = align_block();
  const auto pair = [&](const Vec3& from, const Vec3& to) {
    Align b = a;
    b.pair_from.point = from;
    b.pair_to.point = to;
    return with_pair_settled(b);
  };
  const Align face = pair({0, 0.5, 0.5}, {1, 0.5, 0.5});
  CHECK(face.sides[0] == sides(At::Low, At::High));
  CHECK_FALSE((face.sides[1].given || face.sides[2].given));
  const Align edge = pair({0, 0.5, 1}, {0, 0.5, 1});
  CHECK((edge.sides[0] == sides(At::Low, At::Low) && edge.sides[2] == sides(At::High, At::High)));
  CHECK_FALSE(edge.sides[1].given);
  const Align corner = pair({0, 0, 0}, {1, 0, 1});
  CHECK((corner.sides[0] == sides(At::Low, At::High) && corner.sides[2] == sides(At::Low, At::High)));
  CHECK(pair({0.5, 0.5, 0.5}, {0.5, 0.5, 0.5}).sides[1] == sides(At::Middle, At::Middle));
  // A face and the other's centre: that face comes to the middle. Faces across each other: the side of what moves.
  CHECK(pair({0.5, 0, 0.5}, {0.5, 0.5, 0.5}).sides[1] == sides(At::Low, At::Middle));
  CHECK(pair({0.5, 0, 0.5}, {0, 0.5, 0.5}).sides[1] == sides(At::Low, At::Middle));
  // Further pairs leave the axes alone that they do not stand for.
  a = face;
  CHECK(pair({0.5, 1, 0.5}, {0.5, 1, 0.5}).sides[0] == sides(At::Low, At::High));
}

TEST_CASE("the sentence says every axis, and what was given last has its gap", "[align]") {
  const Scene s = three();
  Align a = align_block();
  CHECK(plain_text(sentence(Verb(a), s, Tense::Present)) ==
        "Align Block with Post: x as it is, y as it is, z as it is, along World axes.");
  a.sides[0] = sides(At::Middle, At::Middle);
  a.sides[2] = sides(At::Low, At::High);
  a.last = 2;
  CHECK(plain_text(sentence(Verb(a), s, Tense::Past)) ==
        "Aligned Block with Post: x middle to middle, y as it is, z low to high 0 mm apart, along World axes.");
  CHECK(name_of_blank(Verb(a), leading_blank(Verb(a))) == "Gap along Z");
  CHECK(name_of_blank(Verb(a), axis_blank(Verb(a), 1)) == "Its side along Y");
  CHECK(is_ready(Verb(a)));
  Verb half = with_place(Verb(a), blank_of(Verb(a), ".from"), low_corner(1)).value();
  CHECK_FALSE(is_ready(half));
  CHECK(without_last_place(half));
  CHECK(half == Verb(a));
  CHECK_FALSE(without_last_place(half));
}

namespace {

// --- the second method

Real side_of(const Scene& s, const std::vector<PartId>& parts, PartId pivot, const AlignSide& side,
             const LongVec& axis) {
  if (side.at == At::Place && side.place->part == kNoPart) return dot(axis, longer(side.place->parameter));
  if (side.at == At::Place) return dot(axis, long_vertex(s, side.place->part, side.place->index));
  if (side.at == At::Pivot) return dot(axis, long_pivot(s, pivot));
  LongReach r;
  for (const PartId id : parts) long_reach(s, id, axis, r);
  return side.at == At::Low ? r.low : side.at == At::High ? r.high : r.middle();
}

}  // namespace

TEST_CASE("align over 10,000 odd scenes lands where a second method says, and nothing else changes", "[align][sweep]") {
  Chance chance(2212);
  Cases row("align: low, middle, high, pivot, place; each and as a block");
  int refused = 0;
  const int count = cases(10000);
  for (int i = 0; i < count; ++i) {
    Odd odd = odd_scene(chance, 5);
    Scene& s = odd.scene;
    s.add(part_of("Cap", cube(chance.between(1, 30)), odd_placement(chance, 40), odd.moving));
    s.add(part_of("Foot", cube(chance.between(1, 30)), odd_placement(chance, 40), odd.still));
    Align a;
    a.what = {odd.moving};
    if (chance.whole(0, 1) == 0) a.what.push_back(odd.third);
    const int target = chance.whole(0, 4);
    if (target == 0) a.with_all = true;
    if (target == 1) a.with_place = point(chance.point(100));
    if (target >= 2) a.with = odd.still;
    if (target == 4) a.what.push_back(odd.still);  // it is picked, and stays
    a.axes = odd_axes(chance, odd.still, chance.whole(0, 4));
    if (chance.whole(0, 2) == 0) a.as = Align::As::Block;
    for (std::size_t k = 0; k < 3; ++k) {
      if (chance.whole(0, 2) == 0) continue;
      const auto side = [&](bool mine) {
        AlignSide one{static_cast<At>(chance.whole(0, 4)), {}};
        if (one.at == At::Place)
          one.place =
              mine ? vertex(odd.moving, static_cast<std::uint32_t>(chance.whole(0, 7))) : point(chance.point(90));
        return one;
      };
      a.sides[k] = {true, side(true), side(false), Amount{chance.whole(0, 1) == 0 ? 0 : chance.between(-20, 20)}};
    }
    const auto after = tack::apply(Verb(a), s);
    if (!after) {
      ++refused;
      continue;
    }
    std::vector<PartId> movers;
    for (const PartId id : {odd.moving, odd.third})
      if (std::find(a.what.begin(), a.what.end(), id) != a.what.end()) movers.push_back(id);
    if (a.with_all && target == 4) movers.push_back(odd.still);
    for (const PartId id : movers) {
      const PartId whose = a.as == Align::As::Block ? movers.front() : id;
      const bool own = a.axes.kind == AxesKind::Local || a.axes.kind == AxesKind::Parent;
      const LongAffine columns = long_axes(s, own ? whose : movers.front(), a.axes);
      LongVec went = long_pivot(*after, id) - long_pivot(s, id);
      Real reach = length(long_pivot(s, id)) + length(long_pivot(*after, id)) + 1;
      for (int k = 0; k < 3; ++k) {
        const Align::Axis& along = a.sides[static_cast<std::size_t>(k)];
        const LongVec axis = long_squared(columns, k);
        if (!along.given) {
          row.add(static_cast<double>(std::abs(dot(axis, went)) / (1e-9L * reach)));
          continue;
        }
        const std::vector<PartId> mine = a.as == Align::As::Block ? movers : std::vector<PartId>{id};
        const std::vector<PartId> theirs = a.with_all ? a.what : std::vector<PartId>{odd.still};
        LongReach box;
        if (a.with_place)
          box.low = box.high = dot(axis, longer(a.with_place->parameter));
        else
          for (const PartId part : theirs) long_reach(s, part, axis, box);
        const Real wanted = along.theirs.at == At::Low      ? box.low
                            : along.theirs.at == At::High   ? box.high
                            : along.theirs.at == At::Middle ? box.middle()
                                                            : side_of(s, theirs, odd.still, along.theirs, axis);
        Real sign = along.theirs.at == At::Low ? -1 : 1;
        if (along.theirs.at == At::Middle) sign = along.mine.at == At::High ? -1 : 1;
        if (along.theirs.at == At::Pivot || along.theirs.at == At::Place) {
          const Real off = wanted - box.middle();
          // Too near the middle to say which way is away: the bound of the rule itself.
          if (std::abs(off) < 1e-8L * reach) continue;
          sign = off < 0 ? -1 : 1;
        }
        AlignSide at = along.mine;
        if (at.at == At::Place && a.as == Align::As::Each) at.place->part = id;
        const Real is = side_of(*after, mine, id, at, axis);
        for (const PartId part : mine) long_reach(s, part, axis, box);
        reach += std::abs(box.high - box.low) + std::abs(wanted);
        row.add(static_cast<double>(std::abs(is - (wanted + sign * Real(along.gap.value))) / (1e-9L * reach)));
      }
    }
    // Only positions change, and only theirs.
    for (const PartId id : s.in_tree_order()) {
      const Placement &was = s.part(id).placement, &is = after->part(id).placement;
      const bool moved = std::find(movers.begin(), movers.end(), id) != movers.end();
      if (!moved && was != is) FAIL_CHECK("a part that stays has changed, case " << i);
      if (was.rotation != is.rotation || was.scale != is.scale || was.skew != is.skew || was.pivot != is.pivot)
        FAIL_CHECK("more than a position has changed, case " << i);
    }
  }
  INFO(refused << " of " << count << " refused");
  CHECK(refused < count / 3);
}
