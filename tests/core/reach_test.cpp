// Verbs that go from a place to a place as far as they may: about one that stays, sliding, in line, by size.
#include "core/fit/measure.h"
#include "core/hands/hand.h"
#include "core/math/degrees.h"
#include "core/verbs/meet_motion.h"
#include "core/view/handles.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {}  // namespace

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
  const Scene limited = done(move, s);
  CHECK(plain_text(sentence(Verb(move), s, Tense::Past, kMillimetres, &limited)).find("It is apart by") !=
        std::string::npos);
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
  CHECK(plain_text(sentence(Verb(scale), s, Tense::Past, kMillimetres, &high)).find("It is apart by") !=
        std::string::npos);
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
  CHECK(tack::apply(Verb(scale), s).error().what.find("has the same Z as the point held still") != std::string::npos);
}

TEST_CASE("a place that is not on what turns or grows is refused", "[move]") {
  Scene s;
  const PartId post = s.add(part_of("Post", cube(20)));
  Placement aside;
  aside.position = {100, 0, 0};
  const PartId board = s.add(part_of("Board", cube(50), aside));
  Move move;
  move.what = {post};
  move.from = vertex(board, 0);
  move.to = point({5, 5, 5});
  move.along = {true, true, false};
  // Move takes the part that From is on instead, as Meet does.
  const Scene moved = done(move, s);
  CHECK(at(moved, vertex(board, 0)).x == 5);
  CHECK(moved.shares(s, post));
  Rotate rotate;
  rotate.what = {post};
  rotate.from = vertex(board, 0);
  rotate.to = point({5, 5, 5});
  const auto refused = tack::apply(Verb(rotate), s);
  REQUIRE_FALSE(refused);
  CHECK(refused.error().what == "The vertex · Board does not move.");
  Scale scale;
  scale.what = {post};
  scale.from = vertex(board, 0);
  scale.to = point({5, 5, 5});
  CHECK_FALSE(tack::apply(Verb(scale), s));
  // To on what moves, and a From alone, neither.
  move.from = vertex(post, 0);
  move.to = vertex(post, 1);
  const auto itself = tack::apply(Verb(move), s);
  REQUIRE_FALSE(itself);
  CHECK(itself.error().remedy == "To must be on a part that stays.");
  CHECK_FALSE(verb_from_json(Json{{"verb", "rotate"}, {"what", {"Post"}}, {"from", "\"Post\" pivot"}}, s));
  CHECK_FALSE(verb_from_json(Json{{"verb", "scale"}, {"what", {"Post"}}, {"from", 5}, {"to", "point 1,2,3"}}, s));
}

TEST_CASE("dragged, a place that slides is where the pixel meets its line or plane", "[move]") {
  Chance chance(417);
  for (int i = 0; i < 200; ++i) {
    const Scene s = one_part(chance.placement(60, false), cube(40));
    const View view =
        view_of(Camera{{0, 0, 0}, chance.between(-180, 180), chance.between(-60, 60), 800, i % 2 == 0}, 1000, 800);
    Move move;
    move.what = {1};
    move.from = TackAddress{TackKind::Edge, 1, 0, {0.5, 0, 0}, 1};
    const auto from = find_tack(s, *move.from);
    REQUIRE(from);
    const double x = chance.between(200, 800), y = chance.between(200, 600);
    Grip grip;
    grip.pull = {grip_handle(move, s, from->point), view, 500, 400, x, y, 0};
    grip.place = move.from;
    // Where the drag would bring the place.
    const auto in = [&](Slide::Kind kind) -> std::optional<Vec3> {
      move.slide.kind = kind;
      const auto verb = dragged(Verb(move), s, grip);
      return verb ? std::optional(find_tack(s, *std::get<Move>(*verb).to)->point) : std::nullopt;
    };
    // Freely it goes across the line of sight, as far as the pointer went.
    const auto free = dragged(Verb(move), s, grip);
    REQUIRE(free);
    const auto& freely = std::get<Move>(*free).by;
    CHECK(std::abs(dot(Vec3{freely[0].value, freely[1].value, freely[2].value}, view.back())) < 1e-8);
    if (const auto along = in(Slide::Kind::Edge)) {
      CHECK(length(cross(*along - from->point, *from->roll)) < 1e-8);
      // No other place of the line is nearer to the line of sight.
      const Ray ray = view.ray(x, y);
      const auto off = [&](const Vec3& p) { return length(cross(p - ray.origin, ray.direction)); };
      for (const double by : {-0.5, 0.5}) CHECK(off(*along + *from->roll * by) >= off(*along) - 1e-9);
    }
    if (const auto in_face = in(Slide::Kind::Face)) {
      CHECK(std::abs(dot(*in_face - from->point, *from->direction)) < 1e-7);
      const auto there = view.project(*in_face);
      CHECK(std::hypot(there->x - x, there->y - y) < 1e-4);
    }
    if (const auto up = in(Slide::Kind::Normal)) CHECK(length(cross(*up - from->point, *from->direction)) < 1e-8);
  }
  // A corner has no edge to slide along.
  const Scene s = one_part({});
  Move move;
  move.what = {1};
  move.from = vertex(1, 0);
  move.slide.kind = Slide::Kind::Edge;
  Grip grip;
  grip.pull = {grip_handle(move, s, {}), view_of(Camera{}, 1000, 800), 500, 400, 520, 400, 0};
  grip.place = move.from;
  CHECK_FALSE(dragged(Verb(move), s, grip));
}

TEST_CASE("a drag round a point in the air, and a size in other axes, land where they should", "[rotate][scale]") {
  Chance chance(418);
  for (int i = 0; i < 200; ++i) {
    Scene s;
    const PartId parent = s.add(part_of("Lift", nullptr, chance.placement(100, false)));
    Placement own = chance.placement(100, false);
    own.skew = {};
    const PartId id = s.add(part_of("Scoop", cube(30), own, parent));
    Rotate rotate;
    rotate.what = {parent};
    rotate.round.axis = i % 3;
    rotate.about = about_place(point(chance.point(50)));
    rotate.from = vertex(id, 6);
    rotate.to = point(chance.point(300));
    const Scene turned = done(rotate, s);
    const Vec3 centre = rotate.about.place.parameter;
    Vec3 axis;
    axis[i % 3] = 1;
    const auto across = [&](const Vec3& p) { return p - centre - axis * dot(p - centre, axis); };
    CHECK(angle_between(across(at(turned, *rotate.from)), across(rotate.to->parameter)) < 1e-9);
    // Along World axes: held where it is, exactly there.
    Scale scale;
    scale.what = {parent};
    scale.axes = AxesKind::World;
    scale.hold = about_place(point(chance.point(50)));
    scale.from = vertex(id, 6);
    scale.to = point(chance.point(300));
    const auto grown = tack::apply(Verb(scale), s);
    if (!grown) continue;  // a place nearly level with what stays
    CHECK(distance(at(*grown, *scale.from), scale.to->parameter) < 1e-7);
  }
}
