// Close-ups, as the loupe shows them: exact, and no slower for what is hidden or out of them.
#include "draw/sliced_picture.h"
#include "tests/app/drawing.h"
#include "tests/meshes.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("a close-up of a heavy mesh draws what may be in it, and nothing else is missing", "[levels]") {
  const Easel easel;
  Renderer& renderer = *easel.renderer;
  Chance chance(88);
  for (const MeshPtr& mesh : {shape_mesh(ShapeKind::Torus, 200), shape_mesh(ShapeKind::Tube, 3'000)}) {
    MeshArrays arrays = make_mesh_arrays(*mesh), whole = arrays;
    REQUIRE(arrays.runs.size() > 20);
    std::size_t indices = 0;
    for (const MeshArrays::Run& run : arrays.runs) indices += run.count;
    CHECK(indices == mesh->triangles().size() * 3);
    whole.runs.clear(), whole.edge_runs.clear();
    Drawing d;
    DrawItem item;
    item.mesh = mesh;
    item.colours = &d.colours;
    std::size_t left_out = 0, runs = 0;
    for (int round = 0; round < 24; ++round) {
      Placement placement = chance.placement(1000);
      if (round % 3 == 1) placement.scale = {1, 3, -0.5};
      item.world = matrix_of(placement);
      item.picked = round % 4 == 3, item.ghost = round % 4 == 2;
      d.items = {item};
      d.frame.items = d.items;
      d.frame.theme = day_theme();
      d.frame.grid.shown = false;
      d.frame.off = 0;
      d.frame.cut_at_eye = round % 2 == 1;
      // Nearer and nearer to a vertex, from anywhere; the last within a hundredth of the mesh.
      Camera camera;
      const auto v = static_cast<std::size_t>(chance.whole(0, static_cast<int>(mesh->positions().size()) - 1));
      camera.target = item.world * mesh->positions()[v];
      camera.turn = chance.between(-180, 180), camera.tilt = chance.between(-80, 80);
      camera.perspective = round % 2 == 0;
      camera.distance = 200 / std::pow(1.35, round);
      d.frame.view = view_of(camera, kWidth, kHeight);
      renderer.upload(mesh, arrays);
      const auto some = renderer.draw_to_memory(d.frame);
      renderer.upload(mesh, whole);
      const auto all = renderer.draw_to_memory(d.frame);
      INFO("round " << round);
      CHECK(some == all);
      const KnownMesh known{arrays.origin, arrays.half, arrays.radius, arrays.solid, arrays.levels, {}, {}};
      const FramePlan plan = plan_frame(d.frame, [&](const Mesh&) { return &known; });
      REQUIRE(plan.parts.size() == 1);
      runs += arrays.runs.size();
      for (const MeshArrays::Run& run : arrays.runs) left_out += !may_show(d.frame, eye_box_of(plan.parts[0], run));
    }
    CHECK(left_out * 3 > runs);  // else it would not be worth it
  }
}

// Runs that are hidden, or seen from behind, are found by the card and by cones of normals; the other picture knows of
// no runs and draws everything.
TEST_CASE("a close-up of many heavy meshes leaves out what is hidden, and shows the same", "[levels]") {
  const Easel easel;
  Renderer& renderer = *easel.renderer;
  Chance chance(16);
  const std::vector<MeshPtr> all{shape_mesh(ShapeKind::Torus, 120), shape_mesh(ShapeKind::Tube, 2'000),
                                 shape_mesh(ShapeKind::Sphere, 130), shape_mesh(ShapeKind::Cylinder, 4'000)};
  std::vector<MeshArrays> arrays;
  for (const MeshPtr& mesh : all) arrays.push_back(make_mesh_arrays(*mesh));
  const auto upload = [&](bool runs) {
    for (std::size_t i = 0; i < all.size(); ++i) {
      MeshArrays a = arrays[i];
      REQUIRE(a.runs.size() > 10);
      if (!runs) a.runs.clear(), a.edge_runs.clear();
      renderer.upload(all[i], a);
    }
  };
  std::size_t few = 0, many = 0, edges_few = 0, edges_many = 0;
  for (int round = 0; round < 32; ++round) {
    Drawing d;
    const std::vector<Colour> other{{0.8f, 0.4f, 0.3f, 1}};
    for (int i = 0; i < 27; ++i) {
      DrawItem item;
      item.mesh = all[static_cast<std::size_t>(i) % all.size()];
      Placement placement = chance.placement(1);
      placement.position = {90.0 * (i % 3), 90.0 * (i / 3 % 3), 90.0 * (i / 9)};
      placement.scale = {1, 1, 1};
      if (round % 4 == 1) placement.scale = {1.4, -0.7, 1};
      if (round % 4 == 2) placement.scale = {1, 1, i % 2 ? 1e-4 : 0};
      item.world = matrix_of(placement);
      // Skewed as well, as a part below a turned and stretched one is.
      if (round % 4 == 3)
        item.world.linear = Mat3{{Vec3{1, 0.6, 0}, Vec3{0, 1, -0.4}, Vec3{0.2, 0, 1}}} * item.world.linear;
      item.colours = i % 2 ? &other : &d.colours;
      item.picked = i % 7 == 3, item.ghost = i % 11 == 5, item.see_through = i % 13 == 4;
      d.items.push_back(item);
    }
    d.frame.items = d.items;
    d.frame.theme = day_theme();
    d.frame.grid.shown = false;
    d.frame.off = 0;
    d.frame.cut_at_eye = true;
    d.frame.samples = round % 2 ? 4 : 0;
    d.frame.style = round % 5 == 4 ? DrawStyle::Facing : DrawStyle::Shaded;
    // As the loupe looks, from outside and from among them, and as the stage does.
    const Vec3 back = normalized(chance.point(1)), at = chance.point(120) + Vec3{90, 90, 90};
    d.frame.view = close_up(at, back, {0, 0, 1}, std::pow(1.2, round), 120, 120);
    if (round % 3 == 0) d.frame.view.eye = d.frame.view.eye + back * 300;
    if (round % 8 == 7) {
      Camera camera;
      camera.target = at;
      camera.distance = 500;
      d.frame.view = view_of(camera, 120, 120);
      d.frame.cut_at_eye = false;
    }
    INFO("round " << round);
    upload(true);
    SlicedPicture picture(renderer);
    picture.begin({&d.frame, 1}, 120, 120);
    while (!picture.go_on(1)) {
    }
    const auto some = picture.to_memory();
    CHECK(renderer.draw_to_memory(d.frame) == some);
    if (d.frame.cut_at_eye) few += renderer.drawn().triangles, edges_few += renderer.drawn().edges;
    upload(false);
    CHECK(renderer.draw_to_memory(d.frame) == some);
    if (d.frame.cut_at_eye) many += renderer.drawn().triangles, edges_many += renderer.drawn().edges;
  }
  INFO("triangles " << few << " of " << many << ", edges " << edges_few << " of " << edges_many);
  CHECK(few * 2 < many);
  CHECK(edges_few * 2 < edges_many);
}

TEST_CASE("warming up ends, and changes no picture", "[levels]") {
  const Easel cold, warm;
  const MeshPtr mesh = shape_mesh(ShapeKind::Torus, 60);
  int pieces = 0;
  std::array<std::vector<unsigned char>, 2> pictures;
  for (const Easel* easel : {&cold, &warm}) {
    easel->renderer->upload(mesh, arrays_of(mesh));
    Drawing d;
    lattice(d, {mesh}, 3, 100, true);
    d.items[1].picked = d.items[2].ghost = true;
    d.frame.items = d.items;
    SlicedPicture before(*easel->renderer);
    before.begin({&d.frame, 1}, kWidth, kHeight);
    while (!before.go_on(1)) {
    }
    while (easel == &warm && easel->renderer->warm_up()) REQUIRE(++pieces < 1000);
    CHECK(before.done());  // it drops none
    pictures[easel == &warm] = easel->renderer->draw_to_memory(d.frame);
  }
  CHECK(pieces > 4);
  CHECK_FALSE(warm.renderer->warm_up());
  CHECK(pictures[0] == pictures[1]);
}
