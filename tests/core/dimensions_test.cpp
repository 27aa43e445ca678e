// Dimension lines: where they stand on the picture, and what a drag of them means, by arithmetic of its own.
#include <catch2/catch.hpp>

#include "core/hands/hand.h"
#include "core/math/degrees.h"
#include "core/view/view_words.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

struct Flat {
  double x, y;
};

Flat on(const View& view, const Vec3& p) {
  const auto pixel = view.project(p);
  REQUIRE(pixel);
  return {pixel->x, pixel->y};
}

// Whether a point of the picture is well inside the outline of a box: on the same side of all edges of the convex hull
// of its corners, found by trying all pairs.
bool inside_outline(const View& view, const Affine& box, Flat at, double margin) {
  std::vector<Flat> corners;
  for (int n = 0; n < 8; ++n)
    corners.push_back(on(view, box * Vec3{double(n & 1), double(n >> 1 & 1), double(n >> 2)}));
  for (const Flat& a : corners)
    for (const Flat& b : corners) {
      const double length = std::hypot(b.x - a.x, b.y - a.y);
      if (length < 1) continue;
      const auto side = [&](Flat p) { return ((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)) / length; };
      const bool edge = std::all_of(corners.begin(), corners.end(), [&](Flat c) { return side(c) > -1e-6; });
      if (edge && side(at) < margin) return false;
    }
  return true;
}

View view_at(Chance& chance, const Vec3& target, bool perspective) {
  Camera camera;
  camera.target = target;
  camera.turn = chance.between(-180, 180);
  camera.tilt = chance.between(-80, 80);
  camera.distance = chance.between(600, 3000);
  camera.perspective = perspective;
  return view_of(camera, 1280, 800);
}

Scene scene_with(const Placement& placement, PartId& id, double size = 100) {
  Scene scene;
  id = scene.add(part_of("Block", cube(size), placement));
  return scene;
}

Grip pulled(const Handle& handle, const View& view, const Vec3& from, const Vec3& to) {
  const Flat a = on(view, from), b = on(view, to);
  Grip grip;
  grip.pull = {handle, view, a.x, a.y, b.x, b.y, 0};
  return grip;
}

Placement turned_anyhow(Chance& chance, double reach) {
  Placement placement;
  placement.position = chance.point(reach);
  placement.rotation = {chance.between(-180, 180), chance.between(-80, 80), chance.between(-180, 180)};
  return placement;
}

const Handle* find(const std::vector<Handle>& handles, Handle::Kind kind, const Vec3& fraction) {
  for (const Handle& h : handles)
    if (h.kind == kind && h.fraction == fraction) return &h;
  return nullptr;
}

}  // namespace

TEST_CASE("dimension lines stand off from the outline, parallel to their edges, and are as long as they") {
  Chance chance(811);
  int lines = 0, corners = 0;
  for (int i = 0; i < 400; ++i) {
    const Mat3 frame = rotation_about(chance.direction(), chance.between(-180, 180));
    const Pads box{{frame * Mat3::diagonal({chance.between(60, 300), chance.between(60, 300), chance.between(60, 300)}),
                    chance.point(100)},
                   {}};
    const View view = view_at(chance, box.from_fractions * Vec3{0.5, 0.5, 0.5}, i % 2);
    const DimensionPlaces places = dimension_places(box, view);
    // Of a box that the picture cuts off an edge inside it may be the better place.
    bool whole = true;
    for (int n = 0; n < 8; ++n) {
      const Flat c = on(view, box.from_fractions * Vec3{double(n & 1), double(n >> 1 & 1), double(n >> 2)});
      whole = whole && c.x > 24 && c.y > 24 && c.x < view.width - 24 && c.y < view.height - 24;
    }
    for (const DimensionLine& line : dimension_lines(box, places, view)) {
      ++lines;
      const Vec3 side = box.from_fractions.linear.column[line.axis];
      CHECK(distance(line.to - line.from, side) < 1e-9 * length(side));
      CHECK(distance(line.edge_to - line.edge_from, side) < 1e-9 * length(side));
      // In the plane of a face of the box: square to the edge.
      CHECK(std::abs(dot(line.from - line.edge_from, side)) < 1e-6 * length(side));
      if (whole) CHECK_FALSE(inside_outline(view, box.from_fractions, on(view, line.middle()), 8));
    }
    for (const Handle& h : dimension_handles(box, places, view)) corners += h.kind == Handle::Kind::Corner;
  }
  CHECK(lines > 1000);
  CHECK(corners > 700);
}

TEST_CASE("a flat box has no dimension across itself, and one seen end on none along the line of sight") {
  const View front = view_of(turned_to({}, Side::Front), 1280, 800);
  const Pads box{{Mat3::diagonal({100, 100, 100}), {}}, {}};
  const DimensionPlaces places = dimension_places(box, front);
  CHECK(places.axes[0].shown);
  CHECK_FALSE(places.axes[1].shown);
  CHECK(places.axes[2].shown);
  Pads sheet{{Mat3::diagonal({100, 0, 100}), {}}, {false, true, false}};
  const DimensionPlaces flat = dimension_places(sheet, front);
  CHECK(flat.axes[0].shown);
  CHECK_FALSE(flat.axes[1].shown);
  for (const Handle& h : dimension_handles(sheet, flat, front)) CHECK_FALSE(h.axes[1]);
  // A point, and a box that reaches behind the eye, have none at all.
  const Pads point{{Mat3::diagonal({0, 0, 0}), {}}, {true, true, true}};
  CHECK(dimension_handles(point, dimension_places(point, front), front).empty());
  Camera near;
  near.distance = 50;
  const View inside = view_of(near, 1280, 800);
  const Pads around{{Mat3::diagonal({1000, 1000, 1000}), {-500, -500, -500}}, {}};
  CHECK(dimension_lines(around, dimension_places(around, inside), inside).empty());
}

TEST_CASE("an end that is dragged moves its side, and the opposite one holds") {
  Chance chance(812);
  for (int i = 0; i < 200; ++i) {
    Placement placement = turned_anyhow(chance, 200);
    placement.scale = {chance.between(0.5, 2), chance.between(0.5, 2), chance.between(0.5, 2)};
    PartId id = kNoPart;
    const Scene scene = scene_with(placement, id);
    const auto box = pads_of(scene, {id});
    REQUIRE(box);
    const View view = view_at(chance, box->from_fractions * Vec3{0.5, 0.5, 0.5}, i % 2);
    Scale draft;
    draft.what = {id};
    for (const Handle& h : handles_of(Verb(draft), scene, view)) {
      if (h.kind != Handle::Kind::End) continue;
      const int axis = h.axes[0] ? 0 : h.axes[1] ? 1 : 2;
      const Vec3 out = normalized(box->from_fractions.linear.column[static_cast<std::size_t>(axis)]) *
                       (h.fraction[axis] > 0.5 ? 1.0 : -1.0);
      const double by = chance.between(-20, 40);
      const auto verb = dragged(Verb(draft), scene, pulled(h, view, h.at, h.at + out * by));
      REQUIRE(verb);
      const Scene after = *tack::apply(*verb, scene);
      const auto now = pads_of(after, {id});
      Vec3 opposite = h.fraction;
      opposite[axis] = 1 - h.fraction[axis];
      CHECK(distance(now->from_fractions * opposite, box->from_fractions * opposite) < 1e-6);
      CHECK(distance(now->from_fractions * h.fraction, box->from_fractions * h.fraction + out * by) < 1e-5);
    }
  }
}

TEST_CASE("what the sentence holds still, holds, whichever end is dragged") {
  PartId id = kNoPart;
  const Scene scene = scene_with({}, id);  // a cube of 100 about the origin
  const auto box = pads_of(scene, {id});
  Scale draft;
  draft.what = {id};
  draft.hold = about_place({TackKind::Point, kNoPart, 0, box->from_fractions * Vec3{0.25, 0, 0}});
  Camera camera;
  camera.turn = 30, camera.tilt = 25, camera.distance = 1200;
  const View view = view_of(camera, 1280, 800);
  const auto handles = handles_of(Verb(draft), scene, view);
  const Handle* high = find(handles, Handle::Kind::End, {1, 0.5, 0.5});
  REQUIRE(high);
  const auto verb = dragged(Verb(draft), scene, pulled(*high, view, high->at, high->at + Vec3{30, 0, 0}));
  REQUIRE(verb);
  // 75 mm lie between what holds and the end; 30 more make it 105 of 75: the whole is 140.
  CHECK(std::get<Scale>(*verb).size[0]->value == Approx(140).margin(1e-6));
  const Scene after = *tack::apply(*verb, scene);
  const auto now = pads_of(after, {id});
  CHECK((now->from_fractions * Vec3{0.25, 0, 0}).x == Approx((box->from_fractions * Vec3{0.25, 0, 0}).x).margin(1e-9));
  // An end that is level with it cannot be dragged.
  draft.hold = about_place({TackKind::Point, kNoPart, 0, box->from_fractions * Vec3{1, 0, 0}});
  CHECK_FALSE(dragged(Verb(draft), scene, pulled(*high, view, high->at, high->at + Vec3{30, 0, 0})));
}

TEST_CASE("the bracket sizes two, the ring and an end with E held all three alike") {
  PartId id = kNoPart;
  const Scene scene = scene_with({}, id);
  Scale draft;
  draft.what = {id};
  Camera camera;
  camera.turn = 30, camera.tilt = 25, camera.distance = 1200;
  const View view = view_of(camera, 1280, 800);
  int brackets = 0, rings = 0;
  for (const Handle& h : handles_of(Verb(draft), scene, view)) {
    Vec3 out;
    for (int i = 0; i < 3; ++i) out[i] = h.axes[static_cast<std::size_t>(i)] ? (h.fraction[i] > 0.5 ? 20 : -20) : 0;
    Grip grip = pulled(h, view, h.at, h.at + out);
    if (h.kind == Handle::Kind::Corner) {
      ++brackets;
      const Scale scale = std::get<Scale>(*dragged(Verb(draft), scene, grip));
      for (std::size_t i = 0; i < 3; ++i) {
        CHECK(scale.size[i].has_value() == h.axes[i]);
        if (scale.size[i]) CHECK(scale.size[i]->value == Approx(120).margin(1e-4));
      }
    } else if (h.kind == Handle::Kind::Ring) {
      ++rings;
      CHECK(std::get<Scale>(*dragged(Verb(draft), scene, grip)).evenly);
    } else if (h.kind == Handle::Kind::End) {
      grip.evenly = true;
      const auto verb = dragged(Verb(draft), scene, grip);
      const auto now = pads_of(*tack::apply(*verb, scene), {id});
      for (const Vec3& side : now->from_fractions.linear.column) CHECK(length(side) == Approx(120).margin(1e-4));
    } else {
      CHECK(h.kind == Handle::Kind::Value);
      CHECK_FALSE(dragged(Verb(draft), scene, grip));
    }
  }
  CHECK(brackets >= 2);
  CHECK(rings == 1);
}

TEST_CASE("handles over a place of another part stop level with it, an arc in line with it, to the bound") {
  Chance chance(813);
  for (int i = 0; i < 150; ++i) {
    const Placement placement = turned_anyhow(chance, 300);
    PartId id = kNoPart;
    Scene scene = scene_with(placement, id, 80);
    const PartId other = scene.add(part_of("Other", cube(40), {.position = chance.point(400)}));
    const TackAddress place{TackKind::Vertex, other, static_cast<std::uint32_t>(chance.whole(0, 7)), {}};
    const Vec3 there = find_tack(scene, place)->point;
    const View view = view_at(chance, placement.position, i % 2);
    Move move;
    move.what = {id};
    Rotate rotate;
    rotate.what = {id};
    rotate.axes = AxesKind::Local;
    Scale scale;
    scale.what = {id};
    for (const Verb& draft : {Verb(move), Verb(rotate), Verb(scale)})
      for (const Handle& h : handles_of(draft, scene, view)) {
        Grip grip = pulled(h, view, h.at, h.at);
        grip.over = place;
        const auto axis = only_axis(h.axes);
        if (!axis || h.kind == Handle::Kind::Value) continue;
        const auto verb = stopped(draft, scene, grip);
        if (!verb) continue;
        CHECK(dragged(draft, scene, grip) == verb);
        const auto done = tack::apply(*verb, scene);
        if (!done) continue;
        const Mat3 own = true_axes(*done, id, AxesKind::Local);
        if (h.kind == Handle::Kind::Ruler) {
          const Vec3 pivot = world_of(*done, id) * done->part(id).placement.pivot;
          CHECK(pivot[static_cast<int>(*axis)] == Approx(there[static_cast<int>(*axis)]).margin(1e-9));
        } else if (h.kind == Handle::Kind::Arc) {
          // One of its other two axes points at the place, seen along the arc's.
          const Vec3 way = there - world_of(*done, id) * done->part(id).placement.pivot;
          const double x = dot(way, own.column[(*axis + 1) % 3]), y = dot(way, own.column[(*axis + 2) % 3]);
          CHECK(std::min(std::abs(x), std::abs(y)) < 1e-9 * (1 + length(way)));
        } else {
          const auto box = pads_of(*done, {id});
          const Vec3 end = box->from_fractions * h.fraction;
          CHECK(std::abs(dot(end - there, own.column[*axis])) < 1e-9 * (1 + length(there) + length(end)));
        }
      }
  }
}

TEST_CASE("views say where they look from") {
  CHECK(view_words(turned_to({}, Side::Top)) == "from above");
  CHECK(view_words(turned_to({}, Side::Bottom)) == "from below");
  CHECK(view_words(turned_to({}, Side::Front)) == "from the front");
  CHECK(view_words(turned_to({}, Side::Right)) == "from the right");
  CHECK(view_words(turned_to({}, Side::Back)) == "from the back");
  CHECK(view_words(turned_to({}, Side::Left)) == "from the left");
  Camera camera;
  camera.turn = 40, camera.tilt = 30;
  CHECK(view_words(camera) == "front right, above");
  camera.turn = -140, camera.tilt = -30;
  CHECK(view_words(camera) == "back left, below");
  camera.turn = 5, camera.tilt = 4;
  CHECK(view_words(camera) == "front");
  camera = turned_to({}, Side::Top);
  camera.roll = 20;
  CHECK(view_words(camera) == "from above, rolled");
}
