// Elements: which belong together, how far others are, and what placing them does to a mesh, against plain
// computations.
#include <catch2/catch.hpp>

#include <map>
#include <set>

#include "core/math/degrees.h"
#include "core/mesh/shares.h"
#include "core/mesh/transform.h"
#include "core/verbs/journal.h"
#include "core/verbs/patch.h"
#include "tests/core/elements.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("what a click, a double click, more and less take", "[elements]") {
  const MeshPtr mesh = sheet(10);
  // A square is two triangles; the region is the sheet.
  CHECK(facet_of(*mesh, 0).numbers == std::vector<std::uint32_t>{0, 1});
  CHECK(facet_of(*mesh, 1).numbers == std::vector<std::uint32_t>{0, 1});
  CHECK(region_of(*mesh, 57).numbers.size() == 200);
  // Runs: across the middle, and along the border up to the corners, where there is one way on all round.
  CHECK(run_of(*mesh, {11 * 5, 11 * 5 + 1}).edges.size() == 10);
  CHECK(run_of(*mesh, {5, 16}).edges.size() == 10);
  CHECK(run_of(*mesh, {0, 1}).edges.size() == 40);
  // One ring more and one less is where it was.
  const Elements one = vertices({60});
  CHECK(grown(*mesh, one).numbers == std::vector<std::uint32_t>{49, 59, 60, 61, 71});
  CHECK(shrunk(*mesh, grown(*mesh, one)) == one);
  const Elements square = facet_of(*mesh, 2 * 44);
  CHECK(grown(*mesh, square).numbers.size() >= 16);
  CHECK(shrunk(*mesh, grown(*mesh, square)) == square);
  CHECK(inverted(*mesh, inverted(*mesh, square)) == square);
  CHECK(inverted(*mesh, square).numbers.size() == 198);
  CHECK(connected(*mesh, one).numbers.size() == 121);
  CHECK(toggled(toggled(one, vertices({3})), vertices({60})) == vertices({3}));
  // A box: folds run round a side only where there is one way on.
  const MeshPtr box = cube(20);
  CHECK(region_of(*box, 0).numbers.size() == 2);
  CHECK(all_of(*box, ElementKind::Edges).edges.size() == 12);
  CHECK(run_of(*box, {0, 1}).edges.size() == 1);
  // Two cubes in one mesh: connected is one of them; nothing taken is nothing.
  MeshData two = data_of(*box);
  two.primitives.clear();
  for (const Vec3& p : box->positions()) two.positions.push_back(p + Vec3{100, 0, 0});
  for (const Triangle& t : box->triangles()) two.triangles.push_back({t[0] + 8, t[1] + 8, t[2] + 8});
  const MeshPtr pair = *make_mesh(two);
  CHECK(connected(*pair, faces({0})).numbers.size() == 12);
  CHECK(grown(*pair, Elements{}).empty());
}

TEST_CASE("distances along a flat surface are those of the plane, and never shorter than through space", "[elements]") {
  const MeshPtr flat = sheet(40, 2.5);
  const Elements middle = vertices({41 * 20 + 20});
  const Vec3 from = flat->positions()[41 * 20 + 20];
  double worst = 0;
  const Reached reached = along_surface(*flat, middle, Mat3{}, 40);
  CHECK(reached.vertices.size() > 700);
  for (std::size_t i = 0; i < reached.vertices.size(); ++i)
    worst = std::max(worst, std::abs(reached.distances[i] - distance(flat->positions()[reached.vertices[i]], from)));
  CHECK(worst < 1e-9);
  // From an edge: straight across from it, to the bit of rounding; by faces nothing inside is away.
  Elements row{ElementKind::Edges, {}, {}};
  for (std::uint32_t i = 0; i < 40; ++i) row.edges.push_back({41 * 20 + i, 41 * 20 + i + 1});
  const Reached across = along_surface(*flat, row, Mat3{}, 30);
  for (std::size_t i = 0; i < across.vertices.size(); ++i)
    CHECK(across.distances[i] == Approx(std::abs(flat->positions()[across.vertices[i]].y - from.y)).margin(1e-9));
  // Through space against every pair; of a sheet that folds over the way along it is longer.
  const MeshPtr hill = sheet(30, 3, [](double x, double y) { return 12 * std::sin(x / 9) * std::cos(y / 13); });
  const Elements some = vertices({5, 300, 717});
  const Reached space = within_space(*hill, some, Mat3{}, 25), surface = along_surface(*hill, some, Mat3{}, 25);
  std::map<std::uint32_t, double> near;
  for (std::size_t i = 0; i < space.vertices.size(); ++i) near[space.vertices[i]] = space.distances[i];
  std::size_t within = 0;
  for (std::uint32_t v = 0; v < hill->positions().size(); ++v) {
    double least = 1e300;
    for (const std::uint32_t s : some.numbers)
      least = std::min(least, distance(hill->positions()[v], hill->positions()[s]));
    CHECK(near.count(v) == (least < 25));
    if (least >= 25) continue;
    ++within;
    CHECK(near[v] == Approx(least).margin(1e-12));
  }
  CHECK(within == space.vertices.size());
  for (std::size_t i = 0; i < surface.vertices.size(); ++i)
    CHECK(surface.distances[i] >= near[surface.vertices[i]] - 1e-9);
  // A ball: along great circles, within 2 %.
  const MeshPtr round = ball(24, 50);
  const Vec3 pole = round->positions()[0];
  const Reached far = along_surface(*round, vertices({0}), Mat3{}, 100);
  double off = 0;
  for (std::size_t i = 0; i < far.vertices.size(); ++i) {
    const Vec3& p = round->positions()[far.vertices[i]];
    const double arc = 50 * std::atan2(length(cross(p, pole)), dot(p, pole));
    if (arc > 5) off = std::max(off, std::abs(far.distances[i] / arc - 1));
  }
  CHECK(off < 0.05);
  // Other millimetres: the part's factors count.
  const Reached twice = along_surface(*flat, middle, Mat3::diagonal({2, 2, 2}), 40);
  CHECK(twice.vertices.size() < reached.vertices.size());
  CHECK(share_at(0, 0) == 1);
  CHECK(share_at(5, 10) == Approx(0.5625));
  CHECK(share_at(10, 10) == 0);
}

TEST_CASE("taken elements are moved like a part, with what is near by its share", "[elements]") {
  Scene scene = one_part({{100, 50, 20}, {0, 0, 90}, {2, 2, 2}, {}, {}}, sheet(20), "Cloth");
  scene = stepped(scene, take("Cloth", "vertices", "220", {{"reach", 60}}));
  const PartId patch = *find_by_path(scene, "Taken");
  CHECK(scene.part(patch).parent == kNoPart);
  CHECK(distance(at(scene, {TackKind::Pivot, patch, 0, {}}), at(scene, {TackKind::Vertex, 1, 220, {}})) < 1e-12);
  const Scene after = stepped(scene, on_taken("move", {{"by", {0, 0, 12.5}}}));
  const Affine world = world_of(scene, 1);
  const Vec3 from = world * scene.part(1).mesh->positions()[220];
  std::size_t moved_along = 0;
  for (std::uint32_t v = 0; v < after.part(1).mesh->positions().size(); ++v) {
    const Vec3 was = world * scene.part(1).mesh->positions()[v],
               is = world_of(after, 1) * after.part(1).mesh->positions()[v];
    const double d = distance(was, from);
    const double share = d < 60 ? std::pow(1 - d * d / 3600, 2) : 0;
    CHECK(distance(is, was + Vec3{0, 0, 12.5 * share}) < 1e-9);
    moved_along += share > 0;
  }
  CHECK(moved_along > 20);
  // What was not reached has its very numbers, and the part stands where it stood.
  CHECK(after.part(1).mesh->positions()[0] == scene.part(1).mesh->positions()[0]);
  CHECK(after.part(1).placement == scene.part(1).placement);
  CHECK(distance(at(after, {TackKind::Vertex, patch, 0, {}}), at(after, {TackKind::Vertex, 1, 220, {}})) < 1e-9);
  // Triangles are shared; two moves are one; back again it is as it was but for rounding.
  CHECK(after.part(1).mesh->triangles().data() == scene.part(1).mesh->triangles().data());
  const Scene back = stepped(after, on_taken("move", {{"by", {0, 0, -12.5}}}));
  for (std::uint32_t v = 0; v < 441; ++v)
    CHECK(distance(back.part(1).mesh->positions()[v], scene.part(1).mesh->positions()[v]) < 1e-10);
  // Moving the part does nothing to its mesh, and takes the patch along.
  const Scene carried = stepped(after, {{"verb", "rotate"}, {"what", {"Cloth"}}, {"round", "x"}, {"angle", 33}});
  CHECK(carried.part(1).mesh == after.part(1).mesh);
  CHECK(distance(at(carried, {TackKind::Vertex, patch, 0, {}}), at(carried, {TackKind::Vertex, 1, 220, {}})) < 1e-9);
}

TEST_CASE("a face is turned, sized to a taper, pushed out; its z is its normal", "[elements]") {
  Scene scene = one_part({{5, 6, 7}, {}, {1, 1, 1}, {}, {}}, cube(20), "Post");
  const Box box = scene.part(1).mesh->box();
  // The top, by its triangles.
  std::vector<std::uint32_t> top;
  for (std::uint32_t t = 0; t < 12; ++t)
    if (area_vector(*scene.part(1).mesh, t).z > 1) top.push_back(t);
  REQUIRE(top.size() == 2);
  scene = stepped(scene, take("Post", "faces", fmt::format("{},{}", top[0], top[1])));
  const auto height = [&](const Scene& s, bool at_top) {
    std::set<double> z;
    for (const Vec3& p : s.part(1).mesh->positions()) z.insert(p.z);
    return at_top ? *z.rbegin() : *z.begin();
  };
  const Scene taper = stepped(scene, on_taken("scale", {{"factor", {0.5, 0.5, 1}}, {"hold", "pivot"}}));
  for (const Vec3& p : taper.part(1).mesh->positions()) {
    const double half = p.z > 0.5 * (box.low.z + box.high.z) ? 5 : 10;
    CHECK(std::abs(p.x - 0.5 * (box.low.x + box.high.x)) == Approx(half));
    CHECK(std::abs(p.y - 0.5 * (box.low.y + box.high.y)) == Approx(half));
  }
  // A square pyramid stump.
  CHECK(volume(*taper.part(1).mesh) == Approx(20.0 / 3 * (400 + 100 + 200)));
  const Scene sized = stepped(scene, on_taken("scale", {{"size", {8, 4, nullptr}}}));
  CHECK(volume(*sized.part(1).mesh) == Approx(20.0 / 6 * (20 * 20 * 2 + 8 * 4 * 2 + 20 * 4 + 8 * 20)));
  for (const double by : {3.25, -4.0}) {
    const Scene out = stepped(scene, on_taken("push", {{"by", by}}));
    CHECK(height(out, true) == Approx(box.high.z + by).epsilon(1e-14));
    CHECK(height(out, false) == box.low.z);
    // A side's own z looks out.
    const Scene moved_out = stepped(scene, on_taken("move", {{"by", {0, 0, by}}, {"axes", "local"}}));
    CHECK(height(moved_out, true) == Approx(box.high.z + by).epsilon(1e-14));
  }
  // All faces of a mirrored, unevenly scaled box out by 2 mm: 4 mm larger in the world, whatever its factors.
  Scene mirrored = one_part({{1, 2, 3}, {10, 20, 30}, {-2, 1, 0.5}, {}, {}}, cube(20), "Post");
  mirrored = stepped(mirrored, take("Post", "faces", "0-11"));
  const Scene larger = stepped(mirrored, on_taken("push", {{"by", 2}}));
  CHECK(own_size(larger, 1).x == Approx(44));
  CHECK(own_size(larger, 1).y == Approx(24));
  CHECK(own_size(larger, 1).z == Approx(14));
  const auto said = verb_from_json(on_taken("rotate", {{"round", "z"}, {"angle", 30}, {"axes", "local"}}), scene);
  REQUIRE(said);
  const std::string words = remark(*said, scene, done(*said, scene));
  CHECK(words.find("no longer flat") != std::string::npos);
}

TEST_CASE("a corner is brought to another part's vertex without moving the rest", "[elements]") {
  Scene scene = one_part({{0, 0, 0}, {0, 0, 20}, {1, 1, 1}, {}, {}}, cube(20), "Post");
  scene.add(part_of("Block", cube(10), {{60, 5, 3}, {15, 0, 40}, {1, 2, 1}, {}, {}}));
  scene = stepped(scene, take("Post", "vertices", "6"));
  const Scene after = stepped(scene, {{"verb", "meet"},
                                      {"what", {"Taken"}},
                                      {"pairs", {{{"from", "\"Taken\" vertex 0"}, {"to", "\"Block\" vertex 0"}}}}});
  CHECK(distance(at(after, {TackKind::Vertex, 1, 6, {}}), at(scene, {TackKind::Vertex, 2, 0, {}})) < 1e-12);
  for (std::uint32_t v = 0; v < 8; ++v)
    if (v != 6) CHECK(after.part(1).mesh->positions()[v] == scene.part(1).mesh->positions()[v]);
  CHECK(step_refused(scene, {{"verb", "meet"},
                             {"what", {"Taken"}},
                             {"pairs", {{{"from", "\"Taken\" vertex 0"}, {"to", "\"Block\" vertex 0"}}}},
                             {"tie", "T"}})
            .find("tie cannot hold") != std::string::npos);
}

TEST_CASE("instances change together or not, locked and bent meshes refuse, shapes become meshes and say so",
          "[elements]") {
  Scene scene = one_part({}, cube(20), "Post");
  scene = stepped(scene, {{"verb", "copy"}, {"what", {"Post"}}, {"instance", true}, {"by", {0, 100, 0}}});
  const PartId copy = scene.in_tree_order().back();
  for (const bool all : {true, false}) {
    Scene s = stepped(scene, take("Post", "vertices", "0,1", {{"copies", all ? "instances" : "separate"}}));
    CHECK(s.part(copy).children.empty());
    s = stepped(s, on_taken("move", {{"by", {0, 0, -3}}}));
    CHECK((s.part(copy).mesh == s.part(1).mesh) == all);
    CHECK(s.part(copy).placement == scene.part(copy).placement);
  }
  Scene locked = stepped(scene, take("Post", "vertices", "0,1"));
  locked = stepped(locked, {{"verb", "lock"}, {"what", {path_of(locked, copy)}}, {"locked", true}});
  CHECK(step_refused(locked, on_taken("move", {{"by", {0, 0, 3}}})).find("locked") != std::string::npos);
  Scene shape = stepped({}, {{"verb", "shape"},
                             {"kind", "cylinder"},
                             {"name", "Pin"},
                             {"at", "point 0,0,0"},
                             {"diameter", 6},
                             {"height", 40}});
  shape = stepped(shape, {{"verb", "keep"}, {"at", "\"Pin\" vertex 0"}, {"name", "rim"}});
  shape = stepped(shape, take("Pin", "vertices", "0-3"));
  const auto verb = verb_from_json(on_taken("move", {{"by", {0, 0, 2}}}), shape);
  REQUIRE(verb);
  const Scene moved_shape = done(*verb, shape);
  CHECK_FALSE(moved_shape.part(1).shape);
  CHECK(remark(*verb, shape, moved_shape).find("Pin is a mesh now") != std::string::npos);
  CHECK(find_kept(moved_shape, 1, "rim")->point == moved_shape.part(1).mesh->positions()[0]);
  // Verbs that build or keep something refuse it; it goes with its part; it is in no file and no copy.
  for (const Json& step : std::vector<Json>{{{"verb", "copy"}, {"what", {"Taken"}}},
                                            {{"verb", "group"}, {"what", {"Taken"}}},
                                            {{"verb", "bake"}, {"what", {"Taken"}}},
                                            {{"verb", "stretch"}, {"what", {"Taken"}}, {"to", 3}},
                                            {{"verb", "move"}, {"what", {"Taken"}}, {"by", {1, 0, 0}}, {"copy", true}}})
    CHECK(step_refused(shape, step) != "done");
  const Scene without = stepped(shape, {{"verb", "delete"}, {"what", {"Pin"}}});
  CHECK(without.in_tree_order().empty());
  CHECK(step_refused(shape, take("Pin", "vertices", "4000")).find("no vertex 4000") != std::string::npos);
  CHECK(step_refused(shape, take("Pin", "edges", Json::array({"0-77"}))).find("no edge") != std::string::npos);
  CHECK(step_refused(shape, take("Pin", "faces", "3-1")).find("no list of numbers") != std::string::npos);
  CHECK(step_refused(shape, take("Pin", "vertices", "0", {{"reach", -1}})) != "done");
  CHECK(step_refused(shape, {{"verb", "push"}, {"what", {"Pin"}}, {"by", 3}}).find("is a part") != std::string::npos);
}

TEST_CASE("smoothing takes a dent out and keeps the volume of what is closed", "[elements]") {
  // A ball with a rough skin: 50 passes leave its volume, and most of the roughness is gone.
  const auto rough = [](const Vec3& way) { return 0.8 * std::sin(60 * way.x) * std::cos(70 * way.y + 50 * way.z); };
  const MeshPtr mesh = ball(20, 50, rough);
  const Elements all = all_of(*mesh, ElementKind::Vertices);
  const Shares shares = shares_of(*mesh, all, Mat3{}, 0, true);
  const MeshPtr smooth = *moved(*mesh, shares, smoothed(*mesh, shares, 50, 0.5, true));
  CHECK(std::abs(volume(*smooth) / volume(*mesh) - 1) < 1e-6);
  const auto roughness = [](const Mesh& m) {
    double sum = 0;
    for (const Vec3& p : m.positions()) sum += std::pow(length(p) - 50, 2);
    return std::sqrt(sum / static_cast<double>(m.positions().size()));
  };
  CHECK(roughness(*smooth) < 0.7 * roughness(*mesh));
  for (const int sides : {6, 12})
    for (const double strength : {0.3, 0.5, 0.65}) {
      const MeshPtr box = ball(sides, 30);
      const Shares of = shares_of(*box, all_of(*box, ElementKind::Faces), Mat3{}, 0, true);
      const MeshPtr next = *moved(*box, of, smoothed(*box, of, 50, strength, true));
      CHECK(std::abs(volume(*next) / volume(*box) - 1) < 1e-6);
    }
  // A dent in a flat sheet.
  const MeshPtr dented = sheet(20, 5, [](double x, double y) { return x == 50 && y == 50 ? -4.0 : 0.0; });
  const Shares near = shares_of(*dented, vertices({21 * 10 + 10}), Mat3{}, 40, true);
  const MeshPtr flat = *moved(*dented, near, smoothed(*dented, near, 100, 0.6, true));
  CHECK(std::abs(flat->positions()[21 * 10 + 10].z) < 1);
  CHECK(flat->positions()[0] == dented->positions()[0]);
  // A wide dent, which keeping the volume would leave, fills up to what spans it.
  const MeshPtr wide = sheet(20, 5, [](double x, double y) { return -4 * share_at(std::hypot(x - 50, y - 50), 25); });
  const Shares around = shares_of(*wide, vertices({21 * 10 + 10}), Mat3{}, 60, true);
  const MeshPtr filled = *moved(*wide, around, smoothed(*wide, around, 300, 0.6, false));
  const MeshPtr kept = *moved(*wide, around, smoothed(*wide, around, 300, 0.6, true));
  CHECK(std::abs(filled->positions()[21 * 10 + 10].z) < 0.5);
  CHECK(std::abs(kept->positions()[21 * 10 + 10].z) > 2);
  // Borders keep to their line.
  const MeshPtr plain = sheet(8);
  const Shares whole = shares_of(*plain, all_of(*plain, ElementKind::Vertices), Mat3{}, 0, true);
  const auto places = smoothed(*plain, whole, 10, 0.5, true);
  for (std::size_t i = 1; i < 8; ++i) CHECK(std::abs(places[i].y) < 1e-12);
}

TEST_CASE("a row of edges slides along its neighbours and stays on the surface", "[elements]") {
  Scene scene = one_part({}, sheet(10), "Cloth");
  Json edges = Json::array();
  for (int i = 0; i < 10; ++i) edges.push_back(fmt::format("{}-{}", 55 + i, 56 + i));
  scene = stepped(scene, take("Cloth", "edges", edges));
  for (const double share : {0.25, -0.5, 1.0, 0.0}) {
    const Scene after = stepped(scene, on_taken("slide", {{"share", share}}));
    for (std::uint32_t v = 55; v <= 65; ++v) {
      const Vec3 was = scene.part(1).mesh->positions()[v], is = after.part(1).mesh->positions()[v];
      CHECK(is.x == Approx(was.x).margin(1e-12));
      CHECK(is.y == Approx(was.y + 10 * share).margin(1e-12));
      CHECK(is.z == 0);
    }
  }
  CHECK(step_refused(scene, on_taken("slide", {{"share", 1.5}})) != "done");
  // The border has no edge on its outer side; a ring round a tube slides as one.
  const Scene border = stepped(one_part({}, sheet(10), "Cloth"), take("Cloth", "edges", {"0-1", "1-2"}));
  const bool left = step_refused(border, on_taken("slide", {{"share", 0.5}})) == "done";
  const bool right = step_refused(border, on_taken("slide", {{"share", -0.5}})) == "done";
  CHECK(left != right);
  const Scene branched = stepped(one_part({}, sheet(10), "Cloth"), take("Cloth", "edges", {"60-61", "59-60", "60-71"}));
  CHECK(step_refused(branched, on_taken("slide", {{"share", 0.5}})).find("branch") != std::string::npos);
}

TEST_CASE("steps with elements are written, read and done again; on another mesh they are found by place",
          "[elements]") {
  Journal journal(Scene{});
  const auto add = [&](const Json& json) {
    const auto verb = verb_from_json(json, journal.scene());
    INFO(json.dump() << (verb ? std::string() : sentence(verb.error())));
    REQUIRE(verb);
    REQUIRE(journal.add(*verb));
  };
  add({{"verb", "shape"}, {"kind", "box"}, {"name", "Crate"}, {"at", "point 0,0,0"}, {"size", {60, 40, 30}}});
  add(take("Crate", "vertices", "0,1,2,3"));
  add(on_taken("move", {{"by", {0, 0, 5}}}));
  add(on_taken("rotate", {{"round", "z"}, {"angle", 10}}));
  const Scene& end = journal.scene();
  Scene scene{};
  for (const auto& step : journal.record().steps) {
    const Json json = to_json(step->verb, scene);
    const auto verb = verb_from_json(json, scene);
    INFO(json.dump() << (verb ? std::string() : sentence(verb.error())));
    REQUIRE(verb);
    CHECK(*verb == step->verb);
    scene = done(*verb, scene);
  }
  for (std::size_t v = 0; v < end.part(1).mesh->positions().size(); ++v)
    CHECK(scene.part(1).mesh->positions()[v] == end.part(1).mesh->positions()[v]);
  // What is not as it is when it is left out is written, too.
  for (const Json& step :
       std::vector<Json>{take("Crate", "vertices", "0", {{"copies", "separate"}}),
                         take("Crate", "faces", "0", {{"surface", false}, {"reach", "1 in"}}),
                         on_taken("smooth", {{"volume", false}, {"passes", 3}, {"strength", 0.25}}),
                         on_taken("push", {{"by", -2}, {"along", "normals"}}),
                         on_taken("push", {{"by", 2}, {"along", "faces"}}), on_taken("slide", {{"share", -0.5}})}) {
    const auto verb = verb_from_json(step, scene);
    INFO(step.dump());
    REQUIRE(verb);
    const auto again = verb_from_json(to_json(*verb, scene), scene);
    REQUIRE(again);
    CHECK(*again == *verb);
  }
  // An earlier value changed goes through to the later steps.
  const Vec3 was = end.part(1).mesh->positions()[0];
  REQUIRE(journal.amend(2, *verb_from_json(on_taken("move", {{"by", {0, 0, 8}}}), journal.record().before(2))));
  CHECK(journal.scene().part(1).mesh->positions()[0].z == Approx(was.z + 3));
  journal.undo();
  CHECK(journal.scene().part(1).mesh->positions()[0] == was);
  // The same places on a mesh with other numbers.
  const MeshPtr one = sheet(4);
  MeshData turned = data_of(*one);
  std::reverse(turned.positions.begin(), turned.positions.end());
  for (Triangle& t : turned.triangles)
    for (std::uint32_t& v : t) v = 24 - v;
  turned.positions.push_back({-50, -50, 0});
  turned.primitives.clear();
  const Scene first = one_part({}, one, "Cloth"), other = one_part({}, *make_mesh(turned), "Cloth");
  Take by_place;
  by_place.of.list = std::make_shared<const std::vector<Taken>>(1, taken(first, 1, vertices({3, 8})));
  by_place.name = "Taken";
  const Scene again = done(by_place, other);
  const PartId patch = *find_by_path(again, "Taken");
  CHECK(again.part(patch).patch->of[0].elements == vertices({16, 21}));
  by_place.of.list = std::make_shared<const std::vector<Taken>>(1, taken(first, 1, faces({0, 1})));
  CHECK(done(by_place, other).part(patch).patch->of[0].elements == faces({0, 1}));
  Scene away = one_part({}, cube(7), "Cloth");
  CHECK(refusal(by_place, away).find("where it was") != std::string::npos);
}

TEST_CASE("several parts at once, nested, mirrored and skewed, ten thousand times as far", "[elements]") {
  for (const double far : {0.0, 1e4, 1e7}) {
    Scene scene = one_part({{far, 0, 0}, {30, 20, 10}, {1, 2, 3}, {}, {}}, cube(20), "A");
    scene.add(part_of("B", cube(10), {{5, 5, 5}, {0, 45, 0}, {-1, 1, 2}, {}, {0.3, 0.1, 0}}, 1));
    const Json step{{"verb", "take"},
                    {"of", {{{"part", "A"}, {"vertices", "1"}}, {{"part", "A/B"}, {"vertices", "2,3"}}}},
                    {"name", "Taken"}};
    scene = stepped(scene, step);
    CHECK(scene.part(*find_by_path(scene, "Taken")).parent == kNoPart);
    const Scene after = stepped(scene, on_taken("rotate", {{"round", "z"}, {"angle", 90}, {"about", "point 1,2,3"}}));
    for (const auto& [part, v] : {std::pair{1u, 1u}, {2u, 2u}, {2u, 3u}}) {
      const Vec3 p = at(scene, {TackKind::Vertex, part, v, {}}) - Vec3{1, 2, 3};
      const Vec3 expected = Vec3{-p.y, p.x, p.z} + Vec3{1, 2, 3};
      CHECK(distance(at(after, {TackKind::Vertex, part, v, {}}), expected) < 1e-9 + 1e-14 * far);
    }
    CHECK(distance(at(after, {TackKind::Vertex, 2, 0, {}}), at(scene, {TackKind::Vertex, 2, 0, {}})) == 0);
    // One of the parts moved alone: the patch shows where its vertices are now.
    const Scene apart = stepped(scene, {{"verb", "move"}, {"what", {"A/B"}}, {"by", {0, 0, 7}}});
    CHECK(apart.part(1).mesh == scene.part(1).mesh);
    const PartId patch = *find_by_path(apart, "Taken");
    CHECK(distance(at(apart, {TackKind::Vertex, patch, 1, {}}), at(apart, {TackKind::Vertex, 2, 2, {}})) <
          1e-9 + 1e-14 * far);
  }
}

TEST_CASE("faces that would be mirrored are refused, and so is a fold", "[elements]") {
  Scene scene = one_part({}, cube(20), "Post");
  scene = stepped(scene, take("Post", "faces", "0-11"));
  CHECK(step_refused(scene, on_taken("scale", {{"factor", {-1, 1, 1}}})).find("look inwards") != std::string::npos);
  // A sheet of two sides: both out by 1 mm cannot be where they meet.
  MeshData leaf;
  leaf.positions = {{0, 0, 0}, {10, 0, 0}, {0, 10, 0}};
  leaf.triangles = {{0, 1, 2}, {0, 2, 1}};
  Scene thin = one_part({}, *make_mesh(leaf), "Post");
  thin = stepped(thin, take("Post", "faces", "0,1"));
  CHECK(step_refused(thin, on_taken("push", {{"by", 1}})).find("fold back") != std::string::npos);
  // Vertices without any face have no way out.
  MeshData points;
  points.positions = {{0, 0, 0}, {1, 2, 3}};
  Scene cloud = one_part({}, *make_mesh(points), "Post");
  cloud = stepped(cloud, take("Post", "vertices", "0-1"));
  CHECK(step_refused(cloud, on_taken("push", {{"by", 1}})).find("which way is out") != std::string::npos);
  const Scene shifted = stepped(cloud, on_taken("move", {{"by", {1, 0, 0}}}));
  CHECK(shifted.part(1).mesh->positions()[1] == Vec3{2, 2, 3});
}

TEST_CASE("stored normals turn with their face, however far, and keep their length", "[elements]") {
  Chance chance(1511);
  double off = 0;
  for (int round = 0; round < 3000; ++round) {
    MeshData data;
    const double size = std::pow(10, chance.between(-3, 5));
    for (int i = 0; i < 3; ++i) data.positions.push_back(chance.point(1) * size);
    data.triangles = {{0, 1, 2}};
    const Vec3 face = cross(data.positions[1] - data.positions[0], data.positions[2] - data.positions[0]);
    if (length(face) < 1e-2 * size * size) continue;
    // One normal is the face's own, one leans, one is half as long as it should be.
    const Vec3 own = normalized(face), leans = normalized(own + chance.point(0.7));
    for (const Vec3& n : {own, leans, leans * 0.5})
      data.normals.push_back({static_cast<float>(n.x), static_cast<float>(n.y), static_cast<float>(n.z)});
    const MeshPtr mesh = *make_mesh(std::move(data));
    const Shares shares = shares_with(*mesh, {0, 1, 2}, {1, 1, 1});
    std::vector<Vec3> places(mesh->positions().begin(), mesh->positions().end());
    // Turned right round, or anywhere.
    if (round % 3 == 0)
      std::swap(places[1], places[2]);
    else
      places[static_cast<std::size_t>(round) % 3] = chance.point(1) * size;
    const Vec3 now = cross(places[1] - places[0], places[2] - places[0]);
    if (length(now) < 1e-2 * size * size) continue;
    const MeshPtr after = *moved(*mesh, shares, places);
    // By the angle between the two directions, about the axis across both (Rodrigues).
    const Vec3 to = normalized(now), axis = cross(own, to);
    const double sine = length(axis), angle = std::atan2(sine, dot(own, to));
    for (std::size_t i = 0; i < 3; ++i) {
      const auto &was = mesh->normals()[i], &is = after->normals()[i];
      const Vec3 v{was[0], was[1], was[2]};
      Vec3 want = v * -1.0;
      if (sine > 1e-5) {
        const Vec3 k = axis * (1 / sine);
        want = v * std::cos(angle) + cross(k, v) * std::sin(angle) + k * (dot(k, v) * (1 - std::cos(angle)));
      }
      // Close to right round the axis is known the less, the closer: directions come of areas that are floats.
      const double known = dot(own, to) < 0 && sine > 1e-5 ? sine : 1;
      off = std::max(off, distance(want, Vec3{is[0], is[1], is[2]}) * known);
    }
    // What does not turn stays to the last bit.
    for (Vec3& p : places) p = p + Vec3{size, 0, 0};
    const MeshPtr shifted = *moved(*after, shares_with(*after, {0, 1, 2}, {1, 1, 1}), places);
    CHECK(std::equal(shifted->normals().begin(), shifted->normals().end(), after->normals().begin()));
  }
  INFO("off by at most " << off);
  CHECK(off < 1e-6);
}

TEST_CASE("soft and hard edges stay what they are when faces turn", "[elements]") {
  // Each side with vertices of its own: its normals turn with it alone.
  Scene scene = one_part({}, *make_mesh(with_own_corners(data_of(*cube(20)))), "Post");
  std::string top;
  for (std::uint32_t t = 0; t < 12; ++t)
    if (area_vector(*scene.part(1).mesh, t).z > 1) top += (top.empty() ? "" : ",") + std::to_string(t);
  scene = stepped(scene, take("Post", "faces", top));
  const Scene after = stepped(scene, on_taken("rotate", {{"round", "x"}, {"angle", 25}, {"axes", "local"}}));
  const Mesh& mesh = *after.part(1).mesh;
  std::size_t turned = 0;
  for (std::uint32_t t = 0; t < 12; ++t) {
    const Vec3 n = normalized(area_vector(mesh, t));
    for (const std::uint32_t v : mesh.triangles()[t]) {
      const auto& stored = mesh.normals()[v];
      CHECK(distance(n, Vec3{stored[0], stored[1], stored[2]}) < 1e-6);
      turned += stored != scene.part(1).mesh->normals()[v];
    }
  }
  CHECK(turned > 0);
  // The seams have not opened.
  CHECK(mesh.neighbours().topology.edges.size() == 18);
  std::set<std::array<double, 3>> places;
  for (const Vec3& p : mesh.positions()) places.insert({p.x, p.y, p.z});
  CHECK(places.size() == 8);
}
