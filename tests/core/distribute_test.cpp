// Distribute: numbers worked out by hand, and over many odd scenes held against a second method in long double.
#include <algorithm>

#include "core/math/degrees.h"
#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

namespace {

using Spacing = Distribute::Spacing;
using Hold = Distribute::Hold;

// Five blocks of widths 20, 10, 30, 10, 20 whose low sides stand at 0, 35, 40, 90, 200 along x; the third laps over the
// second.
Scene five() {
  Scene s;
  const double sides[] = {20, 10, 30, 10, 20}, at[] = {0, 35, 40, 90, 200};
  for (int i = 0; i < 5; ++i)
    s.add(part_of(fmt::format("Block {}", i + 1), cube(sides[i]), {{at[i], 7.0 * i, 3}, {}, {1, 1, 1}, {}, {}}));
  return s;
}

Distribute all_five() {
  Distribute d;
  d.what = {1, 2, 3, 4, 5};
  return d;
}

std::vector<double> xs(const Scene& s) {
  std::vector<double> x;
  for (PartId id = 1; id <= 5; ++id) x.push_back(s.part(id).placement.position.x);
  return x;
}

}  // namespace

TEST_CASE("even gaps between boxes, whatever their widths and where they began", "[distribute]") {
  const Scene s = five();
  // From 0 to 220 there are 90 of blocks, so 130 of room: four gaps of 32.5.
  const Scene after = done(all_five(), s);
  CHECK(xs(after) == std::vector<double>{0, 52.5, 95, 157.5, 200});
  // Nothing but x, and the ends not by a bit.
  for (PartId id = 1; id <= 5; ++id) {
    CHECK(after.part(id).placement.position.y == s.part(id).placement.position.y);
    CHECK(after.part(id).placement.position.z == 3);
  }
  CHECK(after.part(1).placement == s.part(1).placement);
  CHECK(after.part(5).placement == s.part(5).placement);
  // Picked in another order it is the same.
  Distribute d = all_five();
  d.what = {4, 1, 5, 2, 3};
  CHECK(xs(done(d, s)) == xs(after));
}

TEST_CASE("touching, typed gaps, and what is held", "[distribute]") {
  const Scene s = five();
  Distribute d = all_five();
  d.spacing = Spacing::Touching;
  d.hold = Hold::First;
  CHECK(xs(done(d, s)) == std::vector<double>{0, 20, 30, 60, 70});
  d.hold = Hold::Last;
  CHECK(xs(done(d, s)) == std::vector<double>{130, 150, 160, 190, 200});
  d.hold = Hold::Middle;  // the middle of 0 … 220 stays: 110 − 45
  CHECK(xs(done(d, s)) == std::vector<double>{65, 85, 95, 125, 135});
  d.spacing = Spacing::Given;
  d.gap = Amount{5};
  d.hold = Hold::First;
  CHECK(xs(done(d, s)) == std::vector<double>{0, 25, 40, 75, 90});
  d.gap = Amount{-2};
  CHECK(xs(done(d, s)) == std::vector<double>{0, 18, 26, 54, 62});
  d.spacing = Spacing::Single;
  d.gaps = {Amount{1}, std::nullopt, Amount{3}, Amount{4}};  // the second stays as it is: 40 − 45
  CHECK(xs(done(d, s)) == std::vector<double>{0, 21, 26, 59, 73});
}

TEST_CASE("by pivots, and to a whole length", "[distribute]") {
  const Scene s = five();
  Distribute d = all_five();
  d.by = Distribute::By::Pivots;
  CHECK(xs(done(d, s)) == std::vector<double>{0, 50, 100, 150, 200});
  d.spacing = Spacing::Given;
  d.hold = Hold::First;
  d.gap = Amount{12.5};
  CHECK(xs(done(d, s)) == std::vector<double>{0, 12.5, 25, 37.5, 50});
  d = all_five();
  d.span = Amount{290};
  d.hold = Hold::First;
  CHECK(xs(done(d, s)) == std::vector<double>{0, 70, 130, 210, 270});
  d.hold = Hold::Last;
  CHECK(xs(done(d, s)) == std::vector<double>{-70, 0, 60, 140, 200});
}

TEST_CASE("on a line between two places, and round an axis", "[distribute]") {
  const Scene s = five();
  Distribute d = all_five();
  d.way = Distribute::Way::Line;
  d.by = Distribute::By::Pivots;
  d.from = point({0, 0, 0});
  d.to = point({400, 200, 100});
  const Scene line = done(d, s);
  CHECK(line.part(1).placement.position == Vec3{0, 0, 0});
  CHECK(line.part(3).placement.position == Vec3{200, 100, 50});
  CHECK(line.part(5).placement.position == Vec3{400, 200, 100});
  // Four parts round the origin, where their angles are 0, 10, 100 and 350: a quarter turn each, the first stays.
  Scene ring;
  for (const double angle : {0.0, 350.0, 10.0, 100.0}) {
    const SinCos a = sin_cos_degrees(angle);
    ring.add(part_of(fmt::format("Stud {}", angle), cube(2), {{50 * a.cos, 50 * a.sin, 0}, {}, {1, 1, 1}, {}, {}}));
  }
  Distribute round;
  round.what = {1, 2, 3, 4};
  round.way = Distribute::Way::Round;
  round.axis = 2;
  round.about = about_place(point({0, 0, 0}));
  const Scene turned = done(round, ring);
  const auto near = [&](PartId id, const Vec3& at, double z) {
    CHECK(distance(turned.part(id).placement.position, at) < 1e-12);
    CHECK(turned.part(id).placement.rotation.z == Approx(z).margin(1e-12));
  };
  near(1, {50, 0, 0}, 0);
  near(3, {0, 50, 0}, 80);
  near(4, {-50, 0, 0}, 80);
  near(2, {0, -50, 0}, -80);
  // Over a quarter there are three gaps of 30°, and parts may keep their direction.
  round.over = Amount{90};
  round.turned = false;
  const Scene quarter = done(round, ring);
  const SinCos thirty = sin_cos_degrees(30);
  CHECK(distance(quarter.part(3).placement.position, Vec3{50 * thirty.cos, 50 * thirty.sin, 0}) < 1e-12);
  CHECK(distance(quarter.part(2).placement.position, Vec3{0, 50, 0}) < 1e-12);
  CHECK(quarter.part(2).placement.rotation == Vec3{});
}

TEST_CASE("what cannot be spaced is refused, and what laps over is said", "[distribute]") {
  const Scene s = five();
  Distribute d = all_five();
  d.what = {1};
  CHECK(refusal(d, s).starts_with("It takes two parts or more to be spaced."));
  d = all_five();
  d.spacing = Spacing::Given;
  CHECK(refusal(d, s).starts_with("Both ends cannot hold while the gaps are given."));
  d.hold = Hold::First;
  d.by = Distribute::By::Pivots;
  d.spacing = Spacing::Touching;
  CHECK(refusal(d, s).starts_with("Pivots cannot touch: parts do."));
  d.spacing = Spacing::Single;
  d.gaps = {Amount{1}};
  CHECK(refusal(d, s).starts_with("5 parts have 4 gaps between them; the list gives 1."));
  Distribute round = all_five();
  round.way = Distribute::Way::Round;
  round.axis = 2;
  round.about = about_place({TackKind::Pivot, 3, 0, {}});
  CHECK(refusal(round, s).starts_with("The pivot of \"Block 3\" lies on the axis: it has no direction round it."));
  Distribute tight = all_five();
  tight.span = Amount{50};
  tight.hold = Hold::First;
  const Scene after = done(tight, s);
  CHECK(remark(Verb(tight), s, after) == "They do not fit beside each other there: each laps over the next by 10 mm.");
  // In files.
  const auto read = [&](const char* text) { return verb_from_json(Json::parse(text), s); };
  CHECK_FALSE(read(R"({"verb":"distribute","what":["Block 1","Block 2"],"along":"x","spacing":5,"hold":"ends"})"));
  CHECK_FALSE(read(R"({"verb":"distribute","what":["Block 1","Block 2"],"along":["plane 0,0"]})"));
  CHECK_FALSE(read(R"({"verb":"distribute","what":["Block 1","Block 2"],"round":"x","over":90,"span":5})"));
  const auto refused = [&](const char* text) { return sentence(read(text).error()); };
  CHECK(refused(R"({"verb":"distribute","what":["Block 1","Block 2"],"along":"x","round":"z"})") ==
        "along: \"along\" does not go with the other keys. Leave one of them out.");
  for (const char* spacing : {"5", "\"touching\"", "[5]"})
    for (const char* way : {R"("round":"z")", R"("along":["\"Block 1\" pivot","\"Block 3\" pivot"])"})
      CHECK(refused(fmt::format(R"({{"verb":"distribute","what":["Block 1","Block 2"],{},"spacing":{}}})", way, spacing)
                        .c_str())
                .starts_with("spacing: Between two places, and round an axis, parts are spaced evenly."));
  // Another way, chosen in the sentence, is even again.
  Distribute touching = all_five();
  touching.spacing = Distribute::Spacing::Touching;
  touching.hold = Hold::First;
  for (const auto way : {Distribute::Way::Line, Distribute::Way::Round}) {
    const auto chosen =
        with_option(Verb(touching), blank_of(Verb(touching), ".way"), static_cast<std::size_t>(way), s, {});
    REQUIRE(chosen);
    CHECK(std::get<Distribute>(*chosen).spacing == Distribute::Spacing::Even);
  }
  const auto list =
      read(R"({"verb":"distribute","what":["Block 1","Block 2","Block 3"],"along":"x","spacing":[1,null]})");
  REQUIRE(list);
  CHECK(
      to_json(*list, s).dump() ==
      R"({"verb":"distribute","what":["Block 1","Block 2","Block 3"],"along":"x","spacing":[1.0,null],"hold":"first"})");
}

TEST_CASE("distribute over 10,000 odd scenes spaces as a second method says", "[distribute][sweep]") {
  Chance chance(7741);
  Cases row("distribute: gaps and pivots, even, touching, given, to a length");
  int refused = 0;
  const int count = cases(10000);
  for (int i = 0; i < count; ++i) {
    Odd odd = odd_scene(chance, 4);
    Scene& s = odd.scene;
    s.add(part_of("Cap", cube(chance.between(1, 30)), odd_placement(chance, 40), odd.moving));
    Distribute d;
    d.what = {odd.moving, odd.still, odd.third};
    for (int k = chance.whole(0, 3); k > 0; --k)
      d.what.push_back(
          s.add(part_of(fmt::format("Extra {}", k), cube(chance.between(1, 50)), odd_placement(chance, 300))));
    d.axes = odd_axes(chance, odd.third, chance.whole(0, 4));
    d.axis = chance.whole(0, 2);
    d.by = chance.whole(0, 1) == 0 ? Distribute::By::Gaps : Distribute::By::Pivots;
    d.spacing = static_cast<Spacing>(chance.whole(0, 2));
    if (d.spacing == Spacing::Touching) d.by = Distribute::By::Gaps;
    d.hold = d.spacing == Spacing::Even ? Hold::Ends : static_cast<Hold>(chance.whole(1, 3));
    d.gap = Amount{chance.between(-10, 40)};
    if (d.spacing == Spacing::Even && chance.whole(0, 2) == 0) {
      d.span = Amount{chance.between(10, 900)};
      d.hold = static_cast<Hold>(chance.whole(1, 3));
    }
    const auto after = tack::apply(Verb(d), s);
    if (!after) {
      ++refused;
      continue;
    }
    const LongAffine columns = long_axes(s, d.what.front(), d.axes);
    const LongVec axis = long_squared(columns, d.axis);
    struct One {
      PartId id;
      Real low, high, middle, now_low;
    };
    std::vector<One> all;
    Real reach = 1;
    for (const PartId id : d.what) {
      LongReach was, is;
      long_reach(s, id, axis, was);
      long_reach(*after, id, axis, is);
      One one{id, was.low, was.high, (was.low + was.high) / 2, is.low};
      if (d.by == Distribute::By::Pivots)
        one.low = one.high = dot(axis, long_pivot(s, id)), one.now_low = dot(axis, long_pivot(*after, id));
      all.push_back(one);
      reach += std::abs(was.low) + std::abs(was.high) + std::abs(is.low) + length(long_pivot(s, id));
    }
    std::stable_sort(all.begin(), all.end(), [](const One& p, const One& q) { return p.middle < q.middle; });
    // Middles nearer than rounding may come in either order.
    bool tied = false;
    for (std::size_t k = 1; k < all.size(); ++k) tied |= all[k].middle - all[k - 1].middle < 1e-9L * reach;
    if (tied) continue;
    Real sizes = 0;
    for (const One& one : all) sizes += one.high - one.low;
    const Real was = all.back().high - all.front().low;
    const auto gaps = static_cast<Real>(all.size() - 1);
    Real gap = d.spacing == Spacing::Touching ? 0 : Real(d.gap.value);
    if (d.spacing == Spacing::Even) gap = ((d.span ? Real(d.span->value) : was) - sizes) / gaps;
    const Real whole = sizes + gap * gaps;
    Real at = d.hold == Hold::Last     ? all.back().high - whole
              : d.hold == Hold::Middle ? all.front().low + (was - whole) / 2
                                       : all.front().low;
    for (const One& one : all) {
      row.add(static_cast<double>(std::abs(one.now_low - at) / (1e-9L * reach)));
      at += one.high - one.low + gap;
      // Across the row nothing moves.
      const LongVec went = long_pivot(*after, one.id) - long_pivot(s, one.id);
      row.add(static_cast<double>(length(went - axis * dot(axis, went)) / (1e-9L * reach)));
    }
  }
  INFO(refused << " of " << count << " refused");
  CHECK(refused < count / 10);
}
