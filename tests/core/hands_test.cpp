// What the arcs over parts round an axis mean when they are dragged, and the handles while picking.
#include "core/hands/hand.h"
#include "core/hands/nudging.h"
#include "core/math/degrees.h"
#include "tests/core/second_method.h"

using namespace tack;
using namespace tack::test;

namespace {

Scene hub_and_paddles(int count) {
  Scene s;
  s.add(part_of("Hub", cube(10), {{200, 100, 50}, {}, {1, 1, 1}, {}, {}}));
  for (int i = 0; i < count; ++i)
    s.add(part_of(fmt::format("Paddle {}", i + 1), cube(6), {{260.0 + i, 100.0 + 3 * i, 50}, {}, {1, 1, 1}, {}, {}}));
  return s;
}

View from_above(bool perspective) { return view_of(Camera{{200, 100, 50}, 20, 65, 900, perspective}, 1000, 800); }

// Pulls the one arc about the axis by degrees, in small moves, as the picture shows them.
Verb swung(const Verb& draft, const Scene& scene, const View& view, double degrees) {
  const std::vector<Handle> handles = handles_of(draft, scene, view);
  const auto arc = std::find_if(handles.begin(), handles.end(),
                                [](const Handle& h) { return h.kind == Handle::Kind::Arc && h.axes[2]; });
  REQUIRE(arc != handles.end());
  const Vec3 start = arc->line[arc->line.size() / 2];
  const auto pixel = [&](double by) {
    const auto px = view.project(arc->at + rotation_about({0, 0, 1}, by) * (start - arc->at));
    REQUIRE(px);
    return *px;
  };
  Grip grip;
  const auto first = pixel(0);
  grip.pull = {*arc, view, first.x, first.y, first.x, first.y, 0};
  const int moves = 1 + static_cast<int>(std::abs(degrees) / 5);
  for (int i = 1; i <= moves; ++i) {
    const auto px = pixel(degrees * i / moves);
    pull_on(draft, scene, grip.pull, px.x, px.y);
  }
  const auto verb = dragged(draft, scene, grip);
  REQUIRE(verb);
  return *verb;
}

double angle_round_hub(const Scene& s, PartId id) {
  const Vec3 at = world_of(s, id) * s.part(id).placement.pivot - Vec3{200, 100, 50};
  return std::atan2(at.y, at.x) * 180 / 3.14159265358979323846;
}

}  // namespace

TEST_CASE("the last copy round an axis goes with the pointer", "[repeat][hands]") {
  const Scene s = hub_and_paddles(1);
  for (const bool perspective : {false, true})
    for (const double over : {90.0, 360.0, -120.0, 720.0}) {
      Repeat r;
      r.what = {2};
      r.way = Repeat::Way::Round;
      r.axis = 2;
      r.about = TackAddress{TackKind::Pivot, 1, 0, {}};
      r.count = 5;
      r.over = Amount{over};
      const bool whole = std::fmod(std::abs(over), 360) == 0;
      const double last = whole ? over * 4 / 5 : over;
      for (const double by : {25.0, -40.0}) {
        INFO(over << " by " << by);
        const auto verb = swung(r, s, from_above(perspective), by);
        CHECK(std::get<Repeat>(verb).over.value == Approx(last + by).margin(1e-6));
        const Scene after = done(verb, s);
        const auto id = find_by_path(after, "Paddle 5");
        REQUIRE(id);
        const double stands = angle_round_hub(after, *id) - angle_round_hub(s, 2);
        CHECK(std::abs(std::remainder(stands - (last + by), 360.0)) < 1e-6);
      }
    }
}

TEST_CASE("the last of parts spaced round an axis goes with the pointer", "[distribute][hands]") {
  const Scene s = hub_and_paddles(4);
  Distribute d;
  d.what = {2, 3, 4, 5};
  d.way = Distribute::Way::Round;
  d.axis = 2;
  d.about = about_place({TackKind::Pivot, 1, 0, {}});
  d.over = Amount{150};
  const auto verb = swung(d, s, from_above(true), -30);
  CHECK(std::get<Distribute>(verb).over.value == Approx(120).margin(1e-6));
  const Scene after = done(verb, s);
  const double first = angle_round_hub(after, 2);
  for (PartId id = 3; id <= 5; ++id)
    CHECK(std::abs(std::remainder(angle_round_hub(after, id) - first - 40.0 * (id - 2), 360.0)) < 1e-6);
  // The first lies on the axis: there is no arc to be had.
  d.about = about_place({TackKind::Pivot, 2, 0, {}});
  CHECK(handles_of(d, s, from_above(true)).empty());
}

TEST_CASE("a line between two places says how far its pivots stand apart", "[distribute][hands]") {
  const Scene s = hub_and_paddles(4);
  Distribute d;
  d.what = {2, 3, 4, 5};
  d.way = Distribute::Way::Line;
  d.by = Distribute::By::Pivots;
  d.from = TackAddress{TackKind::Point, kNoPart, 0, {0, 0, 0}};
  d.to = TackAddress{TackKind::Point, kNoPart, 0, {90, 120, 0}};
  const Gauges gauges = standing_gauges(d, s, s, kMillimetres);
  REQUIRE(gauges.rulers.size() == 1);
  CHECK(gauges.rulers[0].text == "3 × 50 mm");
  CHECK(gauges.rulers[0].tick == Approx(50));
}

TEST_CASE("while picking the arcs stand at their rulers, from every side, for parts however turned", "[hands]") {
  Chance chance(77);
  int arcs = 0, edge_on = 0;
  for (int i = 0; i < 2000; ++i) {
    Scene s;
    Placement p;
    p.position = chance.point(500);
    p.rotation = {chance.between(-180, 180), chance.between(-90, 90), chance.between(-180, 180)};
    p.scale = {chance.between(0.5, 2), chance.whole(0, 1) ? 1.0 : -1.0, chance.between(0.5, 2)};
    s.add(part_of("Post", cube(40), p));
    Move move;
    Rotate rotate;
    Scale scale;
    move.what = rotate.what = scale.what = {1};
    if (chance.whole(0, 1)) move.axes = rotate.axes = AxesKind::Local;
    const View view =
        view_of(Camera{p.position, chance.between(-180, 180), chance.between(-90, 90), 700, chance.whole(0, 1) == 0},
                1000, 800);
    const Mat3 frame = true_axes(s, 1, move.axes);
    const auto handles = nudge_handles(move, rotate, scale, s, view);
    for (const Handle& h : handles) {
      CHECK((verb_of_nudge(h) == id_of<Move>) == (h.kind == Handle::Kind::Ruler));
      if (h.kind != Handle::Kind::Arc) continue;
      ++arcs;
      const std::size_t round = h.axes[0] ? 0 : h.axes[1] ? 1 : 2;
      const Vec3 axis = frame.column[round], along = frame.column[(round + 1) % 3];
      // Its middle lies along its ruler, all of it square to what it turns round and at one distance.
      const Vec3 middle = h.line[h.line.size() / 2] - h.at;
      REQUIRE(length(cross(normalized(middle), along)) < 0.05);
      REQUIRE(dot(middle, along) > 0);
      for (const Vec3& point : h.line) {
        REQUIRE(std::abs(dot(point - h.at, axis)) < 1e-9 * (1 + length(h.at)));
        REQUIRE(length(point - h.at) == Approx(length(middle)).epsilon(1e-9));
      }
      const Vec3 sight = view.perspective ? normalized(view.eye - h.at) : view.back();
      REQUIRE(std::abs(dot(axis, sight)) >= 0.139);
    }
    edge_on +=
        std::count_if(handles.begin(), handles.end(), [](const Handle& h) { return h.kind == Handle::Kind::Arc; }) < 3;
  }
  CHECK(arcs > 4000);
  CHECK(edge_on > 100);
}
