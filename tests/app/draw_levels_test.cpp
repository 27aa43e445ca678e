// Big scenes are drawn coarser from afar: by how much, and that what is finished looks as the mesh itself does.
#include <map>

#include "core/math/nearest.h"
#include "core/mesh/transform.h"
#include "draw/sliced_picture.h"
#include "tests/app/drawing.h"
#include "tests/meshes.h"

using namespace tack;
using namespace tack::test;

namespace {

Vec3 place(const MeshArrays& arrays, std::uint32_t v) {
  return {arrays.vertices[v].x, arrays.vertices[v].y, arrays.vertices[v].z};
}

double off_level(const MeshArrays& arrays, const MeshArrays::Level& level, const Vec3& p) {
  double best = 1e30;
  for (const auto& [first, count] : level.primitives)
    for (std::uint32_t i = first; i < first + count; i += 3)
      best = std::min(
          best, distance(nearest_on_triangle({place(arrays, arrays.indices[i]), place(arrays, arrays.indices[i + 1]),
                                              place(arrays, arrays.indices[i + 2])},
                                             p),
                         p));
  return best;
}

// A shape cut into primitives, each with vertices of its own; `flat`: each triangle has its own, with its normal. Else
// normals lean by `lean` another way in each second primitive, so that those that meet have none in common.
MeshPtr in_primitives(ShapeKind kind, double sides, int primitives, bool flat, double lean = 0) {
  const MeshPtr whole = shape_mesh(kind, sides);
  const auto triangles = whole->triangles();
  MeshData data;
  for (int i = 0; i < primitives; ++i) {
    Primitive part;
    part.first_triangle = static_cast<std::uint32_t>(data.triangles.size());
    part.first_vertex = static_cast<std::uint32_t>(data.positions.size());
    std::map<std::uint32_t, std::uint32_t> own;
    const auto n = static_cast<int>(triangles.size());
    for (int t = n * i / primitives; t < n * (i + 1) / primitives; ++t) {
      const auto c = whole->corners(static_cast<std::uint32_t>(t));
      const Vec3 face = normalized(cross(c[1] - c[0], c[2] - c[0]));
      if (flat) own.clear();
      Triangle made{};
      for (std::size_t k = 0; k < 3; ++k) {
        const auto [at, is_new] = own.try_emplace(triangles[static_cast<std::size_t>(t)][k],
                                                  static_cast<std::uint32_t>(data.positions.size()));
        made[k] = at->second;
        if (!is_new) continue;
        const Vec3 normal = flat ? face : normalized(normalized(c[k]) + Vec3{0, 0, i % 2 ? lean : -lean});
        data.positions.push_back(c[k]);
        data.normals.push_back(
            {static_cast<float>(normal.x), static_cast<float>(normal.y), static_cast<float>(normal.z)});
      }
      data.triangles.push_back(made);
    }
    part.triangle_count = static_cast<std::uint32_t>(data.triangles.size()) - part.first_triangle;
    part.vertex_count = static_cast<std::uint32_t>(data.positions.size()) - part.first_vertex;
    data.primitives.push_back(part);
  }
  return *make_mesh(std::move(data));
}

// Shapes of few sides, every one of whose edges is a sharp one.
std::vector<MeshPtr> faceted() {
  return {shape_mesh(ShapeKind::Sphere, 10), shape_mesh(ShapeKind::Torus, 10), shape_mesh(ShapeKind::Tube, 10)};
}

}  // namespace

TEST_CASE("coarser levels have fewer triangles and stay within their error", "[levels]") {
  for (const MeshPtr& mesh : meshes()) {
    const MeshArrays arrays = arrays_of(mesh);
    REQUIRE(arrays.levels.size() >= 3);
    CHECK(arrays.levels.front().error == 0);
    CHECK(arrays.levels.front().triangles() == mesh->triangles().size());
    for (std::size_t k = 1; k < arrays.levels.size(); ++k) {
      const MeshArrays::Level &finer = arrays.levels[k - 1], &level = arrays.levels[k];
      CHECK(level.error > finer.error);
      CHECK((level.triangles() + level.edge_count <= (finer.triangles() + finer.edge_count) * 2 / 3 + 1 ||
             level.triangles() <= finer.triangles() * 2 / 3));
      // Every vertex of the mesh lies near what stands for it. The quadrics are a mean over the faces around: what is
      // farthest may miss it by more.
      double worst = 0;
      for (std::uint32_t v = 0; v < arrays.vertices.size(); v += 7)
        worst = std::max(worst, off_level(arrays, level, place(arrays, v)));
      CHECK(worst <= (level.triangles() <= 200 ? 1.5 : 2.5) * level.error);
      for (std::uint32_t e = level.first_edge; e < level.first_edge + level.edge_count; ++e) {
        const auto& edge = arrays.edges[e];
        double least = 1e30;
        const Vec3 middle{(edge.ax + edge.bx) / 2, (edge.ay + edge.by) / 2, (edge.az + edge.bz) / 2};
        for (std::uint32_t f = 0; f < arrays.levels.front().edge_count; ++f) {
          const auto& own = arrays.edges[f];
          const Vec3 on = nearest_on_segment({own.ax, own.ay, own.az}, {own.bx, own.by, own.bz}, middle);
          least = std::min(least, distance(on, middle));
        }
        CHECK(least <= level.error * 1.01 + 1e-6);
      }
    }
  }
}

TEST_CASE("where every edge is sharp there are coarser levels as well, lit as they lie", "[levels]") {
  std::vector<MeshPtr> all = faceted();
  all.push_back(in_primitives(ShapeKind::Sphere, 70, 1, true));
  all.push_back(in_primitives(ShapeKind::Torus, 60, 7, true));
  for (const MeshPtr& mesh : all) {
    const MeshArrays arrays = arrays_of(mesh);
    REQUIRE(arrays.levels.size() >= 2);
    CHECK(arrays.levels.back().triangles() <= (mesh->primitives().size() > 1 ? 160 : 60));
    for (std::size_t k = 1; k < arrays.levels.size(); ++k) {
      const MeshArrays::Level& level = arrays.levels[k];
      INFO(mesh->triangles().size() << " triangles, " << level.triangles() << " of them off by " << level.error);
      CHECK(level.triangles() <= arrays.levels[k - 1].triangles());
      CHECK(level.edge_count <= arrays.levels[k - 1].edge_count);
      CHECK(level.first_edge + level.edge_count <= arrays.edges.size());
      double worst = 0;
      for (const Vec3& p : mesh->positions()) worst = std::max(worst, off_level(arrays, level, p - arrays.origin));
      CHECK(worst <= (level.triangles() <= 200 ? 1.5 : 2.5) * level.error);
      for (const auto& [first, count] : level.primitives)
        for (std::uint32_t i = first; i < first + count; i += 3) {
          const Vec3 a = place(arrays, arrays.indices[i]), b = place(arrays, arrays.indices[i + 1]),
                     c = place(arrays, arrays.indices[i + 2]), face = normalized(cross(b - a, c - a));
          for (std::uint32_t corner = i; corner < i + 3; ++corner) {
            const MeshArrays::Vertex& v = arrays.vertices[arrays.indices[corner]];
            CHECK(dot(face, normalized({double(v.nx), double(v.ny), double(v.nz)})) > 0.86);
          }
        }
    }
  }
}

TEST_CASE("of a mesh of many primitives each keeps to its own place", "[levels]") {
  // In two halves; in strips, all of whose places are at a border.
  for (const int primitives : {2, 40}) {
    const MeshPtr mesh = in_primitives(ShapeKind::Torus, 80, primitives, false, 0.2);
    const MeshArrays arrays = arrays_of(mesh);
    REQUIRE(arrays.levels.size() >= 3);
    CHECK(arrays.levels.back().triangles() < mesh->triangles().size() / 3);
    for (std::size_t k = 1; k < arrays.levels.size(); ++k) {
      INFO(primitives << " primitives, " << arrays.levels[k].triangles() << " triangles");
      REQUIRE(arrays.levels[k].primitives.size() == static_cast<std::size_t>(primitives));
      double apart = 0;
      for (std::size_t p = 0; p < mesh->primitives().size(); ++p) {
        MeshArrays::Level alone = arrays.levels[k];
        alone.primitives = {alone.primitives[p]};
        const Primitive& own = mesh->primitives()[p];
        for (std::uint32_t v = own.first_vertex; v < own.first_vertex + own.vertex_count; v += 3)
          apart = std::max(apart, off_level(arrays, alone, mesh->positions()[v] - arrays.origin));
      }
      CHECK(apart <= (arrays.levels[k].triangles() <= 200 ? 2.5 : 4) * arrays.levels[k].error);
    }
  }
}

TEST_CASE("a circle of very many sides keeps its edges at every level", "[levels]") {
  for (const double sides : {2'000, 25'000}) {
    const MeshPtr mesh = shape_mesh(ShapeKind::Cylinder, sides);
    const MeshArrays arrays = arrays_of(mesh);
    const Vec3 half = arrays.half;
    REQUIRE(arrays.levels.size() >= 4);
    for (const MeshArrays::Level& level : arrays.levels) {
      // Both rims, all round: their lengths are those of circles, but for what corners that are cut cost.
      double above = 0, below = 0;
      for (std::uint32_t e = level.first_edge; e < level.first_edge + level.edge_count; ++e) {
        const auto& edge = arrays.edges[e];
        const double length = distance(Vec3{edge.ax, edge.ay, edge.az}, Vec3{edge.bx, edge.by, edge.bz});
        (edge.az > 0 ? above : below) += length;
      }
      INFO(sides << " sides, off " << level.error << ", " << level.edge_count << " edges");
      const double round = 2 * 3.14159265358979 * half.x;
      for (const double rim : {above, below}) {
        CHECK(rim <= round * 1.0001);
        // A polygon whose sides are off by e has sides of 2 √(2 r e) at most: it is shorter by e ⁄ 3 r.
        CHECK(rim >= round * (1 - level.error / half.x - 1e-5));
      }
    }
  }
}

TEST_CASE("meshes that have nothing to leave out have one level; odd ones do no harm", "[levels]") {
  CHECK(arrays_of(cube(10)).levels.size() == 1);
  Chance chance(71);
  for (int round = 0; round < 20; ++round) {
    const MeshPtr odd = blob(chance, 300);
    const MeshArrays arrays = arrays_of(odd);
    for (const MeshArrays::Level& level : arrays.levels)
      for (const auto& [first, count] : level.primitives) {
        CHECK(first + count <= arrays.indices.size());
        CHECK(count % 3 == 0);
      }
  }
  MeshData flat;
  flat.positions = {{0, 0, 0}, {0, 0, 0}, {0, 0, 0}};
  flat.triangles = {{0, 1, 2}};
  const auto mesh = make_mesh(std::move(flat));
  if (mesh) CHECK(arrays_of(*mesh).levels.size() == 1);
}

TEST_CASE("a frame's plan leaves out what is not in it, and is as coarse as is asked", "[levels]") {
  const std::vector<MeshPtr> all = meshes();
  std::map<const Mesh*, KnownMesh> known;
  for (const MeshPtr& mesh : all) {
    const MeshArrays arrays = arrays_of(mesh);
    known[mesh.get()] = {arrays.origin, arrays.half, arrays.radius, arrays.solid, arrays.levels};
  }
  const auto find = [&](const Mesh& mesh) -> const KnownMesh* {
    const auto at = known.find(&mesh);
    return at == known.end() ? nullptr : &at->second;
  };
  Drawing d;
  lattice(d, all, 9, 20, true);
  const FramePlan plan = plan_frame(d.frame, find);
  CHECK(plan.parts.size() == 81);
  CHECK(plan.off == d.frame.off);
  d.frame.off = 0;
  const FramePlan exact = plan_frame(d.frame, find);
  CHECK(plan.triangles < exact.triangles / 10);
  for (const Batch& batch : exact.batches) CHECK(batch.level == 0);
  std::size_t sum = 0;
  for (const DrawItem& item : d.items) sum += item.mesh->triangles().size();
  CHECK(exact.triangles == sum);
  // A limit is kept by letting more be off.
  d.frame.off = 0.35;
  d.frame.most = plan.triangles / 2;
  const FramePlan limited = plan_frame(d.frame, find);
  CHECK(limited.off > 0.35);
  CHECK((limited.triangles + limited.edges <= d.frame.most || limited.off >= 16));
  // Looked away from.
  d.frame.most = 0;
  d.frame.view.eye = d.frame.view.eye + d.frame.view.back() * 1e5;
  d.frame.view.eye = d.frame.view.eye + d.frame.view.right() * 1e6;
  CHECK(plan_frame(d.frame, find).parts.empty());
  // Meshes that the card does not have are not drawn.
  known.clear();
  Drawing none;
  lattice(none, all, 3, 30, false);
  CHECK(plan_frame(none.frame, find).parts.empty());
}

TEST_CASE("what is hidden is not drawn, and nothing that shows is taken for it", "[levels]") {
  const Easel easel;
  Renderer& renderer = *easel.renderer;
  std::vector<MeshPtr> all = meshes();
  // Lines, which have edges alone, and sheets, of which some are seen from their side.
  MeshData sheet;
  sheet.positions = {{-30, -30, 0}, {30, -30, 0}, {30, 30, 0}, {-30, 30, 0}};
  sheet.triangles = {{0, 1, 2}, {0, 2, 3}};
  all.push_back(*make_mesh(std::move(sheet)));
  Shape line = usual_shape(ShapeKind::Line);
  all.push_back(*make_mesh(mesh_data_of(line, {})));
  for (const MeshPtr& mesh : all) renderer.upload(mesh, arrays_of(mesh));
  for (const bool picks : {false, true}) {
    Drawing d;
    lattice(d, all, 24, 11, true);
    // Sheets square to the eye's way lie edge on.
    for (std::size_t i = 4; i < d.items.size(); i += 12)
      d.items[i].world.linear = Mat3{{d.frame.view.right(), d.frame.view.back(), d.frame.view.up()}};
    // So do solid parts that are squashed as flat as a sheet, or skewed.
    const Vec3 right = d.frame.view.right(), flat = d.frame.view.up() * 1e-4;
    for (std::size_t i = 1; i < d.items.size(); i += 12)
      d.items[i].world.linear = Mat3{{right, d.frame.view.back(), i % 24 == 1 ? flat : right + flat}};
    // A wall before a good part of them, and a line that is picked behind it.
    DrawItem wall;
    wall.mesh = all[4];
    wall.colours = &d.colours;
    const double far = distance(d.frame.view.eye, d.items[0].world.translation);
    wall.world.linear = Mat3{{d.frame.view.right() * 12, d.frame.view.up() * 12, d.frame.view.back()}};
    wall.world.translation = d.frame.view.eye - d.frame.view.back() * (far * 0.6);
    d.items.push_back(wall);
    if (picks)
      for (std::size_t i = 5; i < d.items.size(); i += 30) d.items[i].picked = true;
    d.frame.items = d.items;
    d.frame.off = 0;
    const auto exact = renderer.draw_to_memory(d.frame);
    const std::size_t parts = renderer.drawn().parts;
    d.frame.off = 0.5;
    SlicedPicture finished(renderer);
    finished.begin(std::span(&d.frame, 1), kWidth, kHeight);
    while (!finished.go_on(5)) {
    }
    const auto [other, painted] = compared(finished.to_memory(), exact);
    INFO(finished.drawn().parts << " of " << parts << " parts drawn, " << other << " pixels");
    CHECK(parts > 500);
    CHECK(finished.drawn().parts < parts - 60);
    CHECK(painted > 10'000);
    CHECK(static_cast<double>(other) < 0.002 * kWidth * kHeight);
  }
}

TEST_CASE("solid is what shows nothing of its inside", "[levels]") {
  const auto with = [](MeshData data) { return *make_mesh(std::move(data)); };
  const auto reversed = [](MeshData data) {
    for (Triangle& t : data.triangles) std::swap(t[1], t[2]);
    return data;
  };
  const auto both = [](MeshData a, const MeshData& b, double scale, const Vec3& by) {
    const auto first = static_cast<std::uint32_t>(a.positions.size());
    for (const Vec3& p : b.positions) a.positions.push_back(p * scale + by);
    for (const Triangle& t : b.triangles) a.triangles.push_back({t[0] + first, t[1] + first, t[2] + first});
    a.primitives.clear();
    a.normals.clear();
    return a;
  };
  for (const MeshPtr& mesh : meshes()) CHECK(is_solid(*mesh));
  CHECK(is_solid(*cube(10)));
  // Each side with corners of its own; far away; as a thin plate.
  const MeshData box = with_own_corners(data_of(*cube(10)));
  CHECK(is_solid(*with(box)));
  MeshData plate = box;
  for (Vec3& p : plate.positions) p = Vec3{p.x * 100, p.y * 100, p.z * 0.01} + Vec3{1e6, 2e6, 3e6};
  CHECK(is_solid(*with(plate)));
  CHECK(is_solid(*with(both(box, box, 0.5, {30, 0, 0}))));
  CHECK_FALSE(is_solid(*with(reversed(box))));
  CHECK_FALSE(is_solid(*with(both(box, reversed(box), 0.5, {2, 2, 2}))));
  CHECK_FALSE(is_solid(*with(both(box, reversed(box), 0.5, {30, 0, 0}))));
  MeshData open = box;
  open.triangles.pop_back();
  CHECK_FALSE(is_solid(*with(open)));
  MeshData one_turned = box;
  std::swap(one_turned.triangles[3][0], one_turned.triangles[3][1]);
  CHECK_FALSE(is_solid(*with(one_turned)));
  MeshData leaf;
  leaf.positions = {{0, 0, 0}, {10, 0, 0}, {0, 10, 0}};
  leaf.triangles = {{0, 1, 2}, {0, 2, 1}};
  CHECK_FALSE(is_solid(*with(leaf)));
  Chance chance(88);
  for (int round = 0; round < 20; ++round) (void)is_solid(*blob(chance, 300));
}

TEST_CASE("leaving out what is seen from behind changes no picture", "[levels]") {
  Offscreen context;
  REQUIRE(context.error().empty());
  std::vector<MeshPtr> all = meshes();
  all.push_back(cube(60));
  Renderer culls, draws_all;
  for (Renderer* renderer : {&culls, &draws_all}) {
    REQUIRE(renderer->create().empty());
    for (const MeshPtr& mesh : all) {
      MeshArrays arrays = arrays_of(mesh);
      CHECK(arrays.solid);
      arrays.solid = renderer == &culls;
      renderer->upload(mesh, arrays);
    }
  }
  for (const bool perspective : {true, false})
    for (const bool inside : {false, true})
      for (const DrawStyle style : {DrawStyle::Shaded, DrawStyle::Facing, DrawStyle::SeeThrough}) {
        Drawing d;
        lattice(d, all, 5, 60, perspective);
        // Every third is mirrored, some are ghosts, one is around the eye.
        for (std::size_t i = 0; i < d.items.size(); i += 3)
          d.items[i].world.linear = d.items[i].world.linear * Mat3::diagonal({1, -1.5, 0.7});
        for (std::size_t i = 1; i < d.items.size(); i += 7) d.items[i].ghost = true;
        for (std::size_t i = 2; i < d.items.size(); i += 6) d.items[i].picked = true;
        if (inside) {
          DrawItem room = d.items[4];
          room.mesh = all[4];
          room.world = matrix_of({d.frame.view.eye - Vec3{3000, 3000, 3000}, {}, {100, 100, 100}});
          d.items.push_back(room);
        }
        d.frame.style = style;
        d.frame.items = d.items;
        for (const double off : {0.0, 0.5}) {
          d.frame.off = off;
          const auto a = culls.draw_to_memory(d.frame), b = draws_all.draw_to_memory(d.frame);
          CHECK(culls.drawn().triangles <= draws_all.drawn().triangles);
          // Where faces are seen along their plane front and back are equally far: either may have won.
          const std::size_t other = compared(a, b).other;
          INFO(perspective << inside << static_cast<int>(style) << " " << off << ": " << other << " pixels");
          CHECK(other < 60);
        }
      }
  culls.release();
  draws_all.release();
}

TEST_CASE("edges alone are drawn of small parts as well", "[levels]") {
  std::map<const Mesh*, KnownMesh> known;
  const std::vector<MeshPtr> all = meshes();
  for (const MeshPtr& mesh : all) {
    const MeshArrays arrays = arrays_of(mesh);
    known[mesh.get()] = {arrays.origin, arrays.half, arrays.radius, arrays.solid, arrays.levels};
  }
  Drawing d;
  lattice(d, all, 9, 3, true);
  d.frame.off = 4;
  const auto boxes = [&] {
    std::size_t count = 0;
    for (const Batch& batch : plan_frame(d.frame, [&](const Mesh& m) { return &known.at(&m); }).batches)
      if (!batch.mesh) count += batch.count;
    return count;
  };
  CHECK(boxes() == 81);
  d.frame.style = DrawStyle::EdgesOnly;
  CHECK(boxes() == 0);
}

TEST_CASE("the rough level of a heavy mesh is off by what it says, and turned over nowhere", "[levels]") {
  const MeshPtr mesh = shape_mesh(ShapeKind::Sphere, 560), small = shape_mesh(ShapeKind::Sphere, 300);
  MeshArrays few = make_passing_arrays(*small, *small);
  add_rough_level(few);
  CHECK(few.levels.size() == 1);
  MeshArrays arrays = make_passing_arrays(*mesh, *mesh);
  REQUIRE(arrays.levels.front().triangles() > 250'000);
  add_rough_level(arrays);
  REQUIRE(arrays.levels.size() == 2);
  const MeshArrays::Level& rough = arrays.levels.back();
  CHECK(rough.triangles() > 20'000);
  CHECK(rough.triangles() < 100'000);
  // A ball's faces lie inside it by no more than the error, and look outwards.
  const double radius = mesh->box().size().x / 2;
  REQUIRE(rough.error > 0);
  CHECK(rough.error < 0.03 * radius);
  const auto [first, count] = rough.primitives.front();
  double least = radius;
  std::size_t inwards = 0;
  for (std::uint32_t i = first; i < first + count; i += 3) {
    std::array<Vec3, 3> p;
    for (std::uint32_t k = 0; k < 3; ++k) {
      const MeshArrays::Vertex& v = arrays.vertices[arrays.indices[i + k]];
      p[k] = {v.x, v.y, v.z};
    }
    const Vec3 middle = (p[0] + p[1] + p[2]) * (1.0 / 3), across = cross(p[1] - p[0], p[2] - p[0]);
    least = std::min(least, length(middle));
    inwards += length(across) > 0 && dot(normalized(across), normalized(middle)) < -0.5;
  }
  INFO(least << " of " << radius << ", error " << rough.error);
  CHECK(radius - least < 2 * rough.error);
  CHECK(inwards == 0);
  // A primitive of one triangle beside the others does not vanish.
  MeshArrays two = make_passing_arrays(*mesh, *mesh);
  auto& primitives = two.levels.front().primitives;
  const auto all = primitives.front();
  primitives = {{all[0], all[1] - 3}, {all[0] + all[1] - 3, 3}};
  add_rough_level(two);
  REQUIRE(two.levels.size() == 2);
  CHECK(two.levels.back().primitives[0][1] < 300'000);
  CHECK(two.levels.back().primitives[1] == two.levels.front().primitives[1]);
}

TEST_CASE("a mesh that there is no memory for is drawn as a box until it has levels", "[levels]") {
  const Easel easel;
  Renderer& renderer = *easel.renderer;
  const MeshPtr mesh = shape_mesh(ShapeKind::Sphere, 40);
  renderer.upload(mesh, box_arrays(*mesh));
  REQUIRE(renderer.has(*mesh));
  Drawing d;
  lattice(d, {mesh}, 2, 100, true);
  d.items[0].picked = d.items[1].ghost = d.items[2].see_through = true;
  d.frame.items = d.items;
  for (const DrawStyle style : {DrawStyle::Shaded, DrawStyle::SeeThrough, DrawStyle::EdgesOnly, DrawStyle::Facing}) {
    d.frame.style = style;
    const auto boxes = renderer.draw_to_memory(d.frame);
    CHECK(renderer.drawn().triangles == 4 * 6);
    CHECK(compared(boxes, boxes).painted > 3 * 60 * 60);
  }
  // A finished picture of boxes is not kept when the mesh comes.
  d.frame.style = DrawStyle::Shaded;
  SlicedPicture finished(renderer);
  finished.begin(std::span(&d.frame, 1), kWidth, kHeight);
  while (!finished.go_on(1000)) continue;
  renderer.upload(mesh, make_mesh_arrays(*mesh));
  CHECK_FALSE(finished.done());
  finished.begin(std::span(&d.frame, 1), kWidth, kHeight);
  while (!finished.go_on(1000)) continue;
  CHECK(finished.drawn().triangles > 4 * 6);
  // One of the mesh itself is, when its levels come.
  renderer.upload(mesh, arrays_of(mesh));
  CHECK(finished.done());
}

TEST_CASE("the last vertex that two bytes can name is drawn like those of meshes with more", "[levels]") {
  const Easel easel;
  // A sheet of 65,536 vertices; and the same with one more, which nothing has.
  MeshData data;
  for (int y = 0; y < 256; ++y)
    for (int x = 0; x < 256; ++x) data.positions.push_back({0.3 * x, std::sin(0.05 * x), 0.3 * y});
  for (std::uint32_t y = 0; y < 255; ++y)
    for (std::uint32_t x = 0; x < 255; ++x) {
      const std::uint32_t a = y * 256 + x;
      data.triangles.push_back({a, a + 1, a + 257});
      data.triangles.push_back({a, a + 257, a + 256});
    }
  data.normals.assign(data.positions.size(), {0, -1, 0});
  MeshData more = data;
  more.positions.push_back(more.positions.back());
  more.normals.push_back(more.normals.back());
  std::array<std::vector<unsigned char>, 2> pictures;
  for (std::size_t i = 0; i < 2; ++i) {
    const MeshPtr mesh = *make_mesh(i == 0 ? data : more);
    const MeshArrays arrays = make_mesh_arrays(*mesh);
    REQUIRE(arrays.vertices.size() == 65536 + i);
    easel.renderer->upload(mesh, arrays);
    Drawing drawing;
    lattice(drawing, {mesh}, 1, 300, true);
    pictures[i] = easel.renderer->draw_to_memory(drawing.frame);
  }
  CHECK(compared(pictures[0], pictures[1]).painted > 10000);
  CHECK(pictures[0] == pictures[1]);
}

TEST_CASE("the finished picture is the exact one but for the stated error", "[levels]") {
  const Easel easel;
  Renderer& renderer = *easel.renderer;
  std::vector<MeshPtr> all = meshes();
  for (const MeshPtr& mesh : faceted()) all.push_back(mesh);
  for (const MeshPtr& mesh : all) renderer.upload(mesh, arrays_of(mesh));
  for (const double pixels : {6.0, 20.0, 70.0, 200.0})
    for (const bool perspective : {true, false}) {
      Drawing d;
      lattice(d, all, pixels > 100 ? 3 : 10, pixels, perspective);
      for (std::size_t i = 0; i < d.items.size(); i += 3)
        d.items[i].world.linear.column[0] = -d.items[i].world.linear.column[0];
      for (std::size_t i = 0; i < d.items.size(); i += 5) d.items[i].picked = true;
      d.frame.items = d.items;
      d.frame.off = 0;
      const auto exact = renderer.draw_to_memory(d.frame);
      const std::size_t triangles = renderer.drawn().triangles;
      // Half a pixel; and as far as the limit of what is drawn lets it grow.
      d.frame.off = 0.5;
      for (const std::size_t most : {std::size_t{0}, std::size_t{1}}) {
        d.frame.most = most;
        d.frame.most_off = 1.5;
        const auto finished = renderer.draw_to_memory(d.frame);
        const Renderer::Drawn& drawn = renderer.drawn();
        INFO(pixels << " pixels, off " << drawn.off << ", " << drawn.triangles << " of " << triangles << " triangles");
        CHECK(drawn.off == (most ? 1.5 : 0.5));
        CHECK(drawn.triangles < triangles);
        const auto [other, painted] = compared(finished, exact, static_cast<int>(std::ceil(drawn.off)));
        CHECK(painted > 1000);
        CHECK(static_cast<double>(other) < 0.002 * kWidth * kHeight);
      }
    }
  // In slices it is the same picture, also beside another.
  Drawing left, right;
  lattice(left, all, 8, 25, true);
  lattice(right, all, 3, 200, false);
  for (std::size_t i = 0; i < right.items.size(); i += 2) right.items[i].picked = true;
  left.frame.items = left.items;
  right.frame.items = right.items;
  const auto alone = renderer.draw_to_memory(right.frame);
  right.frame.left = 640;
  const std::array<DrawFrame, 2> both{left.frame, right.frame};
  SlicedPicture sliced(renderer);
  CHECK(sliced.go_on(1));
  CHECK_FALSE(sliced.done());
  sliced.begin(both, 1280, 480);
  int slices = 1;
  for (; !sliced.go_on(0.01); ++slices) CHECK_FALSE(sliced.done());
  CHECK(slices > 2);
  REQUIRE(sliced.done());
  const auto together = sliced.to_memory();
  REQUIRE(together.size() == alone.size() * 2);
  std::size_t unlike = 0;
  for (std::size_t y = 0; y < 480; ++y)
    for (std::size_t i = 0; i < 640 * 4; ++i)
      unlike += std::abs(int(together[y * 1280 * 4 + 640 * 4 + i]) - int(alone[y * 640 * 4 + i])) > 2;
  CHECK(unlike < 60);  // of 1.2 million: where it lies in the framebuffer rounds otherwise
  // What it was begun of is gone: it is begun anew.
  sliced.begin(both, 1280, 480);
  CHECK_FALSE(sliced.go_on(0.01));
  renderer.upload(all[0], arrays_of(all[0]));
  CHECK_FALSE(sliced.begun());
  CHECK(sliced.go_on(1));
}
