// What is promised where it is hardest to keep: directions that are nearly opposite, angles near the pole, trees that
// are deep, points that lie in a line, instances that are baked, scenes of one name.
#include "core/catch/catch_scene.h"
#include "core/fit/measure.h"
#include "core/math/degrees.h"
#include "core/math/fit_rigid.h"
#include "core/mesh/extent.h"
#include "core/mesh/features.h"
#include "core/mesh/mesh_index.h"
#include "core/verbs/journal.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("the smallest turn is exact to rounding however nearly opposite the directions are", "[bounds]") {
  Chance chance(401);
  for (const double sine : {1e-3, 1e-6, 1e-8, 1e-9, 1e-10, 1e-11, 1e-13, 1e-16}) {
    double worst = 0, skewed = 0;
    for (int i = 0; i < 2000; ++i) {
      const Vec3 a = chance.direction();
      const Vec3 across = normalized(cross(a, chance.direction()));
      const Vec3 b = normalized(a * -std::sqrt(1 - sine * sine) + across * sine);
      const Mat3 turn = smallest_turn(a, b, std::nullopt);
      worst = std::max(worst, distance(turn * a, b));
      for (int r = 0; r < 3; ++r)
        for (int c = 0; c < 3; ++c)
          skewed = std::max(skewed, std::abs(dot(turn.column[r], turn.column[c]) - (r == c ? 1 : 0)));
    }
    INFO("sine " << sine);
    // Nearer than 1e-12 they count as opposite: the promise is 1e-9.
    CHECK(worst < 1e-14 + (sine < 1e-12 ? sine : 0));
    CHECK(skewed < 1e-14);
  }
}

TEST_CASE("faces of float meshes that are brought facing are within 1e-9 rad", "[bounds]") {
  // Two faces that look the same way but for the noise of float coordinates: the case that turns by nearly 180°.
  Chance chance(402);
  for (int i = 0; i < 50; ++i) {
    Scene s;
    const Vec3 angles{chance.between(-180, 180), chance.between(-90, 90), chance.between(-180, 180)};
    Placement p, q;
    p.rotation = angles;
    q.rotation = angles + Vec3{chance.between(-1e-5, 1e-5), chance.between(-1e-5, 1e-5), 0};
    q.position = chance.point(100);
    s.add(part_of("A", cube(10), p));
    s.add(part_of("B", cube(20), q));
    Meet meet;
    meet.facing = Facing::Facing;
    meet.from = TackAddress{TackKind::FaceCentre, 1, 0, {}};
    meet.to = TackAddress{TackKind::FaceCentre, 2, 0, {}};
    const Scene after = done(meet, s);
    const auto from = find_tack(after, *meet.from), to = find_tack(after, *meet.to);
    CHECK(angle_between(*from->direction, -*to->direction) < 1e-9);
    CHECK(distance(from->point, to->point) <= exact_bound(after, *meet.from, *meet.to));
  }
}

TEST_CASE("angles come back within 1e-12 in every entry, at and near the poles too", "[bounds]") {
  Chance chance(403);
  const auto worst = [](const Vec3& angles) {
    const Mat3 m = rotation_from_degrees(angles), back = rotation_from_degrees(degrees_from_rotation(m));
    double w = 0;
    for (int r = 0; r < 3; ++r)
      for (int c = 0; c < 3; ++c) w = std::max(w, std::abs(m(r, c) - back(r, c)));
    return w;
  };
  for (const double off : {0.0, 1e-13, 1e-11, 1e-9, 1e-7, 5e-7, 1e-6, 1e-5, 1e-3})
    for (const double side : {90.0 - off, off - 90.0})
      for (int i = 0; i < 200; ++i) {
        const Vec3 angles{chance.between(-180, 180), side, chance.between(-180, 180)};
        INFO(angles.x << " " << angles.y << " " << angles.z);
        CHECK(worst(angles) < 1e-12);
      }
  CHECK(worst({30, 89.9999995, 40}) < 1e-12);
  CHECK(worst({30, 89.9999999, 40}) < 1e-12);
}

TEST_CASE("sine and cosine change places at 90° less the angle, at 45° too", "[bounds]") {
  CHECK(sin_cos_degrees(45).sin == sin_cos_degrees(45).cos);
  for (int i = 0; i <= 90 * 8; ++i) {
    const double a = i / 8.0;  // 90 − a is exact
    CHECK(sin_cos_degrees(90 - a).sin == sin_cos_degrees(a).cos);
    CHECK(sin_cos_degrees(a + 360).sin == sin_cos_degrees(a).sin);
    CHECK(sin_cos_degrees(-a).sin == -sin_cos_degrees(a).sin);
  }
}

TEST_CASE("points in a line are told wherever the line lies, and the smallest turn is taken", "[bounds]") {
  Chance chance(404);
  for (int i = 0; i < 500; ++i) {
    const Vec3 a = chance.direction(), b = chance.direction(), o = chance.point(1000), t = chance.point(1000);
    std::vector<std::pair<Vec3, Vec3>> line;
    for (int k = 0; k < 5; ++k) {
      const double along = chance.between(-50, 50);
      line.emplace_back(o + a * along, t + b * along);
    }
    const RigidFit fit = fit_rigid(line, false);
    CHECK(fit.open == RigidFit::Open::AboutLine);
    CHECK(distance(fit.rotation * a, b) < 1e-12);
    // The smallest turn: its axis is square to both.
    const Vec3 axis = normalized(cross(a, b));
    CHECK(distance(fit.rotation * axis, axis) < 1e-9);
    // With one point off the line by a thousandth of a thousandth it is determined.
    line[2].first = line[2].first + normalized(cross(a, chance.direction())) * 1e-3;
    line[2].second = t + fit.rotation * (line[2].first - o);
    CHECK(fit_rigid(line, false).open == RigidFit::Open::Nothing);
  }
}

TEST_CASE("a mesh made to have a deep tree is measured, hit and felt for without running over", "[bounds]") {
  // Vertices that shrink geometrically along all three axes, and thousands on one point: each split peels off one.
  std::vector<Vec3> positions;
  const double axes[] = {0.7, 0.8, 0.9};
  for (int k = 0; k < 120; ++k)
    for (int axis = 0; axis < 3; ++axis) {
      Vec3 p;
      (axis == 0 ? p.x : axis == 1 ? p.y : p.z) = axes[axis] * 1e12 * std::pow(17.5, -k / 3.0);
      positions.push_back(p);
    }
  for (int k = 0; k < 8192; ++k) positions.push_back({});
  MeshData data;
  data.positions = positions;
  for (std::uint32_t i = 0; i + 2 < positions.size(); ++i) data.triangles.push_back({i, i + 1, i + 2});
  const auto made = make_mesh(std::move(data));
  REQUIRE(made);
  const Mesh& mesh = **made;
  const MeshIndex& index = mesh.index();
  // The depth by walking the tree, apart from the code that does.
  const auto depth_of = [](const BoxTree& tree) {
    int deepest = 0;
    std::vector<std::pair<std::uint32_t, int>> left{{0, 1}};
    while (!left.empty()) {
      const auto [node, depth] = left.back();
      left.pop_back();
      deepest = std::max(deepest, depth);
      if (tree.nodes[node].leaf()) continue;
      left.emplace_back(node + 1, depth + 1);
      left.emplace_back(tree.nodes[node].first, depth + 1);
    }
    return deepest;
  };
  CHECK(depth_of(index.vertices) <= 96);
  CHECK(depth_of(index.triangles) <= 96);
  CHECK(depth_of(index.vertices) > 30);  // it is deep: without a bound it would be deeper than 128
  Chance chance(405);
  for (int i = 0; i < 50; ++i) {
    const Mat3 turn = rotation_about(chance.direction(), chance.between(0, 360));
    const Box box = box_in_frame(mesh, {turn, {}});
    Box by_scan;
    for (const Vec3& p : positions) by_scan.include(turn * p);
    CHECK(box.low == by_scan.low);
    CHECK(box.high == by_scan.high);
    (void)first_hit(mesh, {{1e12, 1e12, 1e12}, chance.direction()}, 1e30);
    triangles_touching(mesh, {}, 1, [](std::uint32_t, int) {});
  }
}

TEST_CASE("what an edge points to does not depend on whether the mesh has been indexed", "[bounds]") {
  Chance chance(406);
  for (int i = 0; i < 40; ++i) {
    const MeshPtr plain = blob(chance, 30),
                  indexed = *make_mesh({{plain->positions().begin(), plain->positions().end()},
                                        {plain->triangles().begin(), plain->triangles().end()},
                                        {},
                                        {}});
    indexed->index();
    Scene s;
    const Placement p = chance.placement(10);
    s.add(part_of("A", plain, p));
    s.add(part_of("B", indexed, p));
    for (std::uint32_t v = 0; v + 1 < 20; ++v)
      for (const TackAddress& address : {TackAddress{TackKind::Edge, 1, v, {0.3, 0, 0}, v + 1}, vertex(1, v)}) {
        TackAddress other = address;
        other.part = 2;
        const auto a = find_tack(s, address), b = find_tack(s, other);
        REQUIRE(a.has_value() == b.has_value());
        if (!a) continue;
        CHECK(a->direction == b->direction);
        CHECK(a->roll == b->roll);
      }
  }
}

TEST_CASE("a group's exact bound counts what is in it", "[bounds]") {
  Scene s;
  const PartId group = s.add(part_of("Group", nullptr));
  s.add(part_of("Post", cube(200), {}, group));
  const TackAddress pivot{TackKind::Pivot, group, 0, {}};
  CHECK(exact_bound(s, pivot, point({})) >= 1e-9 * 200);
  CHECK(exact_bound(s, pivot, point({})) <= 1e-9 * 200 * std::sqrt(3.0) * 2);
}

TEST_CASE("instances that are baked together take one mesh, or are refused", "[bounds]") {
  Scene s;
  const MeshPtr mesh = cube(10);
  Placement a, b;
  a.scale = {2, 2, 2};
  b.scale = {3, 3, 3};
  s.add(part_of("A", mesh, a));
  s.add(part_of("B", mesh, b));
  Bake bake;
  bake.what = {1, 2};
  bake.scale = true;
  bake.copies = Copies::All;
  // One mesh cannot be 20 and 30 mm big: it says so, and nothing is left half done.
  const auto refused = apply(bake, s);
  REQUIRE_FALSE(refused);
  CHECK_FALSE(refused.error().what.empty());
  bake.copies = Copies::Separate;
  const Scene apart = done(bake, s);
  for (const PartId id : {1u, 2u}) {
    CHECK(apart.part(id).placement.scale == Vec3{1, 1, 1});
    CHECK(own_size(apart, id).x == (id == 1 ? 20 : 30));
  }
  // Equal ones can share it.
  b.scale = {2, 2, 2};
  Scene alike;
  alike.add(part_of("A", mesh, a));
  alike.add(part_of("B", mesh, b));
  bake.copies = Copies::All;
  const Scene both = done(bake, alike);
  CHECK(both.part(1).mesh == both.part(2).mesh);
  CHECK(both.part(1).placement.scale == Vec3{1, 1, 1});
  CHECK(both.part(2).placement.scale == Vec3{1, 1, 1});
  // A locked instance is not changed behind the artist's back.
  Scene locked = alike;
  locked = done(Lock{{2}, true}, locked);
  bake.what = {1};
  CHECK_FALSE(apply(bake, locked));
}

TEST_CASE("turned own axes of a part mirrored twice point where they were asked to", "[bounds]") {
  Placement p;
  p.scale = {-1, -1, 1};
  p.rotation = {0, 0, 30};
  const Scene s = one_part(p);
  Pivot pivot;
  pivot.what = {1};
  pivot.turned.kind = Turned::Kind::World;
  const Scene after = done(pivot, s);
  const Mat3 axes = world_of(after, 1).linear;
  CHECK(distance(normalized(axes.column[0]), {1, 0, 0}) < 1e-12);
  CHECK(distance(normalized(axes.column[1]), {0, 1, 0}) < 1e-12);
  // And nothing moves.
  for (std::uint32_t v = 0; v < 8; ++v)
    CHECK(distance(find_tack(s, vertex(1, v))->point, find_tack(after, vertex(1, v))->point) < 1e-12 * 100);
}

TEST_CASE("a path that several parts could mean is refused", "[bounds]") {
  Scene s;
  const PartId left = s.add(part_of("Left", nullptr)), right = s.add(part_of("Right", nullptr));
  s.add(part_of("M6/20", cube(1), {}, left));
  CHECK(find_by_path(s, "M6\\/20") == PartId{3});
  s.add(part_of("M6/20", cube(1), {}, right));
  CHECK_FALSE(find_by_path(s, "M6\\/20"));
  CHECK(find_by_path(s, "Right/M6\\/20") == PartId{4});
}

TEST_CASE("a rectangle finds the same parts by the tree as by every vertex", "[bounds]") {
  Chance chance(407);
  int found = 0;
  for (int i = 0; i < 60; ++i) {
    Scene s;
    for (int k = 0; k < 8; ++k) {
      const MeshPtr mesh = blob(chance, 40);
      if (k % 2 == 0) mesh->index();
      s.add(part_of("P", mesh, chance.placement(120)));
    }
    Camera camera;
    camera.target = chance.point(60);
    camera.distance = chance.between(5, 400);  // some parts lie behind the eye
    camera.turn = chance.between(0, 360);
    camera.tilt = chance.between(-80, 80);
    camera.perspective = i % 3 != 0;
    const View view = view_of(camera, 640, 480);
    const CatchScene scene = make_catch_scene(s);
    double x0 = chance.between(0, 640), x1 = chance.between(0, 640), y0 = chance.between(0, 480),
           y1 = chance.between(0, 480);
    if (x0 > x1) std::swap(x0, x1);
    if (y0 > y1) std::swap(y0, y1);
    for (const bool touching : {false, true}) {
      std::vector<PartId> by_hand;
      for (const CatchPart& part : scene.parts) {
        std::size_t in = 0;
        for (const Vec3& p : part.mesh->positions()) {
          const auto px = view.project(part.world * p);
          in += px && px->x >= x0 && px->x <= x1 && px->y >= y0 && px->y <= y1;
        }
        if (touching ? in > 0 : in == part.mesh->positions().size()) by_hand.push_back(part.id);
      }
      CHECK(parts_in_rectangle(scene, view, x0, y0, x1, y1, touching) == by_hand);
      found += static_cast<int>(by_hand.size());
    }
  }
  CHECK(found > 50);
}

TEST_CASE("places on faces wait until the features are known: the pointer never finds them", "[bounds]") {
  Scene s;
  s.add(part_of("Board", cube(100)));
  s.part(1).mesh->index();
  Camera camera;
  camera.target = {50, 50, 100};
  camera.distance = 300;
  camera.tilt = 80;
  const View view = view_of(camera, 640, 480);
  const CatchScene scene = make_catch_scene(s);
  CatchOptions options;
  const auto px = view.project({60, 55, 100});
  REQUIRE(px);
  const auto early = best_tack(scene, view, px->x, px->y, options);
  CHECK((!early || early->address.kind != TackKind::Face));
  CHECK_FALSE(s.part(1).mesh->features_if_ready());
  s.part(1).mesh->features();
  const auto caught = best_tack(scene, view, px->x, px->y, options);
  REQUIRE(caught);
  CHECK(caught->address.kind == TackKind::Face);
  CHECK(distance(find_tack(s, caught->address)->point, {60, 55, 100}) < 1);
}

TEST_CASE("a record of ten thousand edits takes little memory and goes back to its beginning", "[bounds]") {
  Scene s;
  s.add(part_of("Post", cube(1)));
  Journal journal(s);
  Move move;
  move.what = {1};
  move.by[0] = 1;
  for (int i = 0; i < 10000; ++i) REQUIRE(journal.add(move));
  CHECK(journal.scene().part(1).placement.position.x == 10000);
  for (int i = 0; i < 10000; ++i) journal.undo();
  CHECK(journal.scene().part(1).placement.position.x == 0);
  CHECK(journal.record().steps.empty());
}
