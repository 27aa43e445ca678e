// Elevations, gliding along a plane, and how a grid is shown.
#include "core/hands/elevating.h"
#include "core/hands/gliding.h"
#include "core/math/degrees.h"
#include "core/view/grid_look.h"
#include "tests/core/planes.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("an elevation is square to its axes, in step with the view, and shows what the view shows", "[elevation]") {
  Chance chance(1401);
  for (int i = 0; i < 500; ++i) {
    const Mat3 frame = i % 4 == 0 ? Mat3{} : rotation_from_degrees(chance.point(180));
    Camera main{chance.point(300), chance.between(-180, 180), chance.between(-80, 80), chance.between(200, 3000),
                i % 2 == 0};
    Box all;
    for (int k = 0; k < 3; ++k) all.include(main.target + chance.point(400));
    const Elevation elevation = i % 3 == 0 ? Elevation::Side : Elevation::Front;
    const double width = elevation == Elevation::Front ? 900 : 160, height = elevation == Elevation::Front ? 140 : 700;
    const Camera camera = elevation_camera(main, 620, frame, elevation, width, height, all);
    CHECK_FALSE(camera.perspective);
    const View view = view_of(camera, width, height);
    const ElevationAxes axes = elevation_axes(elevation);
    CHECK(distance(view.right(), frame.column[axes.along]) < 1e-12);
    CHECK(distance(view.up(), frame.column[axes.up]) < 1e-12);
    // Never larger than the view itself.
    Camera parallel = main;
    parallel.perspective = false;
    const double main_scale = view_of(parallel, 1, 620).pixels_per_unit;
    CHECK(view.pixels_per_unit <= main_scale * (1 + 1e-12));
    // What the view looks at is in the middle along the strip.
    const auto target = view.project(main.target);
    REQUIRE(target);
    if (elevation == Elevation::Front) CHECK(target->x == Approx(width / 2).margin(1e-6));
    if (elevation == Elevation::Side) CHECK(target->y == Approx(height / 2).margin(height));
  }
  // With room enough the scale is the view's.
  const Camera main{{0, 0, 0}, 30, 20, 1000, true};
  Box small;
  small.include(Vec3{-20, -20, -20});
  small.include(Vec3{20, 20, 20});
  Camera parallel = main;
  parallel.perspective = false;
  const Camera strip = elevation_camera(main, 700, Mat3{}, Elevation::Front, 800, 140, small);
  CHECK(view_of(strip, 800, 140).pixels_per_unit == Approx(view_of(parallel, 800, 700).pixels_per_unit));
  // Nothing there: the same.
  CHECK(view_of(elevation_camera(main, 700, Mat3{}, Elevation::Side, 150, 700, Box{}), 150, 700).pixels_per_unit ==
        Approx(view_of(parallel, 150, 700).pixels_per_unit));
}

TEST_CASE("the extent of what is picked, and the arc at its corner", "[elevation]") {
  Placement p;
  p.position = {90, 40, 20};
  const Scene s = one_part(p);  // a cube of 20, from there on
  const Box box = elevation_box(s, {1}, Mat3{});
  const auto front = elevation_dimensions(box, Mat3{}, Elevation::Front);
  REQUIRE(front.size() == 2);
  CHECK(front[0].length == 20);
  CHECK(front[0].from == Vec3{90, 40, 20});
  CHECK(front[0].to == Vec3{110, 40, 20});
  CHECK(front[1].to == Vec3{90, 40, 40});
  const auto side = elevation_dimensions(box, Mat3{}, Elevation::Side);
  CHECK(side[0].from == Vec3{110, 40, 20});
  CHECK(side[0].to == Vec3{110, 60, 20});
  CHECK(elevation_dimensions(Box{}, Mat3{}, Elevation::Front).empty());
  const Camera camera =
      elevation_camera({{100, 50, 30}, 0, 0, 500, true}, 600, Mat3{}, Elevation::Front, 800, 150, box);
  const View view = view_of(camera, 800, 150);
  const auto arcs = elevation_handles(s, {1}, {}, {}, Mat3{}, Elevation::Front, view);
  REQUIRE(arcs.size() == 1);
  CHECK(arcs[0].kind == Handle::Kind::Arc);
  CHECK(arcs[0].axes == std::array<bool, 3>{false, true, false});
  CHECK(arcs[0].at == Vec3{90, 40, 20});
  // All of it lies as far from the middle as its own middle, up and to the right.
  const double radius = distance(arcs[0].line.front(), arcs[0].at);
  for (const Vec3& point : arcs[0].line) CHECK(distance(point, arcs[0].at) == Approx(radius));
  const Vec3 middle = arcs[0].line[arcs[0].line.size() / 2] - arcs[0].at;
  CHECK(middle.x > 0);
  CHECK(middle.z > 0);
  // A group without a mesh, a guide: about their pivots; nothing: nothing.
  CHECK_FALSE(elevation_box(with_ramp(s), {2}, Mat3{}).empty());
  CHECK(elevation_handles(s, {}, {}, {}, Mat3{}, Elevation::Front, view).empty());
}

TEST_CASE("what is dragged along a plane stays on it, and lifts along its normal", "[plane]") {
  Placement p;
  p.position = {100, 20, 30};
  const Scene s = with_ramp(one_part(p));
  const PartId ramp = last_of(s);
  const Affine plane = plane_frame(s, ramp);
  Chance chance(1402);
  int dragged_times = 0;
  for (int i = 0; i < 300; ++i) {
    Move move;
    move.what = {1};
    const View view =
        view_of(Camera{{100, 20, 30}, chance.between(-180, 180), chance.between(10, 80), 800, i % 2 == 0}, 1000, 800);
    const Vec3 start = at(s, {TackKind::Pivot, 1, 0, {}});
    const auto px = view.project(start);
    REQUIRE(px);
    Grip grip;
    grip.plane = ramp;
    grip.pull = {ring_handle(view, start),        view, px->x, px->y, px->x + chance.between(-80, 80),
                 px->y + chance.between(-80, 80), 0};
    const auto along = dragged(Verb(move), s, grip);
    if (!along) continue;
    ++dragged_times;
    const Scene after = done(*along, s);
    const Vec3 on = transpose(plane.linear) * (at(after, {TackKind::Pivot, 1, 0, {}}) - plane.translation);
    const Vec3 was = transpose(plane.linear) * (start - plane.translation);
    CHECK(on.z == Approx(was.z).margin(1e-12));
    CHECK(std::get<Move>(*along).by[2].value == 0);
    // It is under the pointer.
    const auto there = view.project(at(after, {TackKind::Pivot, 1, 0, {}}));
    REQUIRE(there);
    CHECK(there->x == Approx(grip.pull.x).margin(1e-6));
    CHECK(there->y == Approx(grip.pull.y).margin(1e-6));
    // Lifted from there: x and y stay.
    grip.turns.push_back({grip.pull.x, grip.pull.y, true});
    grip.pull.y -= 40;
    const auto up = dragged(Verb(move), s, grip);
    REQUIRE(up);
    const Vec3 lifted = transpose(plane.linear) * (at(done(*up, s), {TackKind::Pivot, 1, 0, {}}) - plane.translation);
    CHECK(lifted.x == Approx(on.x).margin(1e-9));
    CHECK(lifted.y == Approx(on.y).margin(1e-9));
    CHECK(lifted.z > on.z);
    // Let go of E: along the plane again, at that height.
    grip.turns.push_back({grip.pull.x, grip.pull.y, false});
    grip.pull.x += 25;
    const auto further = dragged(Verb(move), s, grip);
    REQUIRE(further);
    const Vec3 last =
        transpose(plane.linear) * (at(done(*further, s), {TackKind::Pivot, 1, 0, {}}) - plane.translation);
    CHECK(last.z == Approx(lifted.z).margin(1e-9));
  }
  CHECK(dragged_times > 250);
}

TEST_CASE("increments from zero along a plane land on its grid", "[plane]") {
  Placement p;
  p.position = {103, 22, 31};
  const Scene s = with_ramp(one_part(p));
  const PartId ramp = last_of(s);
  Move move;
  move.what = {1};
  const View view = view_of(Camera{{100, 20, 30}, 30, 40, 800, true}, 1000, 800);
  const Vec3 start = at(s, {TackKind::Pivot, 1, 0, {}});
  const auto px = view.project(start);
  REQUIRE(px);
  Grip grip;
  grip.plane = ramp;
  grip.steps = true;
  grip.increments.length = {5, LandsFrom::Zero};
  grip.pull = {ring_handle(view, start), view, px->x, px->y, px->x + 37, px->y - 21, 0};
  const auto along = dragged(Verb(move), s, grip);
  REQUIRE(along);
  const Affine plane = plane_frame(s, ramp);
  const Vec3 on = transpose(plane.linear) * (at(done(*along, s), {TackKind::Pivot, 1, 0, {}}) - plane.translation);
  CHECK(on.x == Approx(5 * std::round(on.x / 5)).margin(1e-9));
  CHECK(on.y == Approx(5 * std::round(on.y / 5)).margin(1e-9));
}

TEST_CASE("lines of a grid that would run together are left out", "[plane]") {
  const View near = view_of(Camera{{}, 0, 90, 300, false}, 1000, 800),
             far = view_of(Camera{{}, 0, 90, 300000, false}, 1000, 800);
  const GridLook close = grid_look(10, 4, near, {});
  CHECK(close.step == 2.5);
  CHECK(close.strong == 4);
  CHECK(close.square == 10);
  CHECK(close.node == 2.5);
  const GridLook wide = grid_look(10, 4, far, {});
  CHECK(wide.step * far.pixels_per_mm({}) >= 4);
  CHECK(wide.node == 2.5);
  CHECK(std::log10(wide.step / 10) == Approx(std::round(std::log10(wide.step / 10))));
  const GridLook zoomed = grid_look(0, 1, near, {});
  CHECK(zoomed.step == grid_spacing_for(near, {}));
  CHECK(zoomed.node == zoomed.step);
}
