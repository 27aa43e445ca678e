// Stretch: thousands of meshes and groups against a plain computation that knows nothing of the verb's.
#include <catch2/catch.hpp>

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/mesh/transform.h"
#include "core/verbs/journal.h"
#include "core/verbs/lengthen.h"
#include "tests/core/rail.h"

using namespace tack;
using namespace tack::test;

namespace {

MeshPtr block(const Vec3& size) {
  MeshData data = data_of(*cube(1));
  for (Vec3& p : data.positions) p = {p.x * size.x, p.y * size.y, p.z * size.z};
  return *make_mesh(std::move(data));
}

}  // namespace

TEST_CASE("a rail grows between its hooks, which stay as they are to the last bit") {
  Scene scene = one_part({}, rail(), "Rail");
  for (const double length : {360.0, 300.0, 100.25, 49.0, 12345.678}) {
    const Scene after = stepped(scene, stretch({{"to", length}}));
    const auto was = scene.part(1).mesh->positions(), is = after.part(1).mesh->positions();
    CHECK(box_of(after, 1).low == Vec3{0, 0, 0});
    CHECK(box_of(after, 1).size().x == Approx(length).epsilon(1e-15));
    for (std::size_t v = 0; v < was.size(); ++v) {
      if (was[v].x <= 24) CHECK(is[v] == was[v]);
      if (was[v].x >= 276) CHECK(is[v] == Vec3{was[v].x + (length - 300), was[v].y, was[v].z});
    }
    CHECK(after.part(1).placement == scene.part(1).placement);
  }
  // The least is said.
  const std::string why = step_refused(scene, stretch({{"to", 48}}));
  CHECK(why.find("the ends that keep their shape are 48 mm") != std::string::npos);
  CHECK(step_refused(scene, stretch({{"by", -252.5}})).find("more than 48 mm") != std::string::npos);
  CHECK(step_refused(scene, stretch({{"to", 400}, {"by", 3}})).find("one of") != std::string::npos);
  CHECK(step_refused(scene, stretch({{"to", 400}, {"band", {60, 320}}})).find("300 mm long") != std::string::npos);
  CHECK(step_refused(scene, stretch({{"to", 400}, {"band", "Middle"}})).find("keeps no band") != std::string::npos);
  CHECK(step_refused(scene, stretch({{"to", 400}, {"gap", 3}})).find("gap") != std::string::npos);
  // Held at its high side, or in its middle.
  CHECK(box_of(stepped(scene, stretch({{"to", 360}, {"hold", "high"}})), 1).low.x == -60);
  CHECK(box_of(stepped(scene, stretch({{"to", 360}, {"hold", "middle"}})), 1).low.x == -30);
  // The sentence says which band was found.
  const auto verb = verb_from_json(stretch({{"to", 360}}), scene);
  const Scene after = done(*verb, scene);
  CHECK(plain_text(sentence(*verb, scene, Tense::Past, kMillimetres, &after)) ==
        "Stretched Rail along X of Local axes to 360 mm, by 60 mm, between 24 mm and 276 mm from its low side (found: "
        "its outline is the same there), holding its low side still.");
}

TEST_CASE("a kept band goes along with the mesh, by name") {
  Scene scene = one_part({{10, 20, 30}, {0, 0, 90}, {1, 1, 1}, {}, {}}, rail(), "Rail");
  scene =
      stepped(scene, {{"verb", "band"}, {"what", {"Rail"}}, {"along", "x"}, {"between", {60, 180}}, {"name", "Shaft"}});
  REQUIRE(bands_of(scene, 1).size() == 1);
  Scene longer = stepped(scene, stretch({{"to", 330}}));
  CHECK(bands_of(longer, 1)[0].band == band_across(0, 60, 210));
  CHECK(box_of(longer, 1).size().y == Approx(330).epsilon(1e-15));
  // After a turn in the mesh, a factor, and again.
  longer = stepped(longer, {{"verb", "bake"}, {"what", {"Rail"}}, {"rotation", true}, {"scale", true}});
  longer = stepped(longer, {{"verb", "stretch"}, {"what", {"Rail"}}, {"along", "y"}, {"band", "Shaft"}, {"by", 10}});
  CHECK(box_of(longer, 1).size().y == Approx(340).epsilon(1e-15));
  const auto is = longer.part(1).mesh->positions(), was = scene.part(1).mesh->positions();
  for (std::size_t v = 0; v < was.size(); ++v)
    CHECK(distance(world_of(longer, 1) * is[v],
                   world_of(scene, 1) * (was[v] + Vec3{was[v].x >= 180 ? 40.0 : 0, 0, 0})) < 1e-12);
  longer = stepped(longer, {{"verb", "forget-band"}, {"what", {"Rail"}}, {"name", "Shaft"}});
  CHECK(bands_of(longer, 1).empty());
  CHECK(step_refused(longer, {{"verb", "forget-band"}, {"what", {"Rail"}}, {"name", "Shaft"}}).find("keeps a band") !=
        std::string::npos);
}

TEST_CASE("a mirrored part has its low side where its axes say, for bands, lengths and planes alike") {
  // The rail mirrored along x: its mesh runs the other way about. A band near the low side in the world.
  Scene scene = one_part({{0, 0, 0}, {}, {-1, 1, 1}, {}, {}}, rail(), "Rail");
  CHECK(box_of(scene, 1).low.x == -300);
  scene =
      stepped(scene, {{"verb", "band"}, {"what", {"Rail"}}, {"along", "x"}, {"between", {30, 40}}, {"name", "Low"}});
  CHECK(bands_of(scene, 1)[0].band == band_across(0, 260, 270));
  for (const Json& more :
       {Json{{"to", 360}}, Json{{"to", 360}, {"band", {30, 40}}}, Json{{"by", 60}, {"band", "Low"}}}) {
    INFO(more.dump());
    const Scene after = stepped(scene, stretch(more));
    CHECK(box_of(after, 1).low.x == -300);
    CHECK(box_of(after, 1).high.x == 60);
    // The hook at the low side is as it was.
    const auto was = scene.part(1).mesh->positions(), is = after.part(1).mesh->positions();
    for (std::size_t v = 0; v < was.size(); ++v)
      CHECK(distance(world_of(after, 1) * is[v], world_of(scene, 1) * was[v] + Vec3{was[v].x >= 270 ? 0.0 : 60, 0, 0}) <
            1e-12);
  }
}

TEST_CASE("with its instances each is lengthened once, in a group too") {
  Scene scene;
  const PartId tray = scene.add(part_of("Tray", nullptr));
  const MeshPtr wall = block({488, 6, 40}), end = block({6, 200, 40});
  const auto add = [&](const std::string& name, const MeshPtr& mesh, const Vec3& at) {
    Placement p;
    p.position = at;
    return scene.add(part_of(name, mesh, p, tray));
  };
  add("End low", end, {0, 0, 0});
  add("End high", end, {494, 0, 0});
  add("Front", wall, {6, 0, 0});
  add("Back", wall, {6, 194, 0});
  for (const char* copies : {"linked", "instances", "separate"}) {
    INFO(copies);
    const Scene after =
        stepped(scene, {{"verb", "stretch"}, {"what", {"Tray"}}, {"along", "x"}, {"to", 600}, {"copies", copies}});
    for (const PartId id : {4u, 5u}) CHECK(std::abs(box_of(after, id).size().x - 588) < 1e-12);
    CHECK((after.part(4).mesh == after.part(5).mesh) == (std::string(copies) == "instances"));
    CHECK(bool(after.part(4).stretched) == (std::string(copies) == "linked"));
  }
}

TEST_CASE("what is found: the one long stretch with one outline, and none where there is doubt") {
  const auto band = evident_band(*rail(), 0);
  REQUIRE(band);
  CHECK(*band == band_across(0, 24, 276));
  CHECK(*evident_band(*rail(), 1) == band_across(1, 0, 8));
  CHECK(*evident_band(*rail(), 2) == band_across(2, 3, 20));
  CHECK(*evident_band(*cube(10), 0) == band_across(0, 0, 10));
  // Two stretches alike, a taper, a blob: none.
  const MeshPtr one = rail();
  MeshData two = data_of(*one);
  two.primitives.clear();
  for (const Vec3& p : one->positions()) two.positions.push_back({p.x + 276, p.y, p.z});
  const auto count = static_cast<std::uint32_t>(one->positions().size());
  for (const Triangle& t : one->triangles()) two.triangles.push_back({t[0] + count, t[1] + count, t[2] + count});
  CHECK_FALSE(evident_band(**make_mesh(two), 0));
  MeshData taper = data_of(*cube(10));
  for (Vec3& p : taper.positions)
    if (p.x > 5) p.y *= 0.5;
  CHECK_FALSE(evident_band(**make_mesh(taper), 0));
  Chance chance(3);
  CHECK_FALSE(evident_band(*blob(chance, 200), 1));
}

TEST_CASE("5,000 meshes and groups stretched as a plain computation has it") {
  Chance chance(2026);
  double worst = 0;
  int refused = 0;
  for (int n = 0; n < 5000; ++n) {
    Scene scene;
    // Up to three parents deep, then a part alone or a group of parts.
    PartId parent = kNoPart;
    for (int depth = chance.whole(0, 2); depth > 0; --depth)
      parent = scene.add(part_of("Parent", nullptr, chance.placement(300), parent));
    const bool group = n % 2 == 1;
    PartId top = parent;
    if (group) {
      top = scene.add(part_of("Rail", nullptr, chance.placement(200), parent));
      for (int i = chance.whole(2, 6); i > 0; --i) {
        Placement p = chance.placement(80, false);
        const PartId child = scene.add(part_of("Wall " + std::to_string(i), blob(chance, 12), p, top));
        if (i % 3 == 0) scene.add(part_of("Knob", blob(chance, 8), chance.placement(30, false), child));
      }
    } else {
      top = scene.add(part_of("Rail", blob(chance, chance.whole(4, 40)), chance.placement(200), parent));
    }
    const int along = chance.whole(0, 2);
    const bool world = chance.whole(0, 1) == 1;
    const Mat3 frame = world ? Mat3{} : squared_up(axes_frame(scene, top, AxesKind::Local).linear);
    const Vec3 w = frame.column[static_cast<std::size_t>(along)];
    // The plain way: every vertex in the world.
    double low = 1e300, high = -1e300;
    const auto each = [&](const Scene& s, auto&& f) {
      for (const PartId id : s.in_tree_order())
        if (s.part(id).mesh && is_within(s, id, top))
          for (std::size_t v = 0; v < s.part(id).mesh->positions().size(); ++v)
            f(id, v, world_of(s, id) * s.part(id).mesh->positions()[v]);
    };
    std::map<PartId, std::pair<double, double>> reach;
    each(scene, [&](PartId id, std::size_t, const Vec3& p) {
      const double h = dot(w, p);
      low = std::min(low, h), high = std::max(high, h);
      auto& r = reach.try_emplace(id, 1e300, -1e300).first->second;
      r.first = std::min(r.first, h), r.second = std::max(r.second, h);
    });
    const double size = high - low, a = low + size * chance.between(0.05, 0.45),
                 b = low + size * chance.between(0.55, 0.95);
    const double by = chance.between(-1.2 * (b - a), 2 * size);
    const char* holds[] = {"low", "middle", "high"};
    const int hold = chance.whole(0, 2);
    Json json = stretch({{"what", {path_of(scene, top)}},
                         {"along", std::string(1, "xyz"[along])},
                         {"by", by},
                         {"band", {a - low, b - low}},
                         {"hold", holds[hold]}});
    if (world) json["axes"] = "world";
    const auto verb = verb_from_json(json, scene);
    REQUIRE(verb);
    const auto after = tack::apply(*verb, scene);
    if (by <= -(b - a)) {
      CHECK_FALSE(after);
      CHECK(sentence(after.error()).find("the ends that keep their shape are") != std::string::npos);
      ++refused;
      continue;
    }
    INFO(n << " " << json.dump());
    INFO((after ? std::string() : sentence(after.error())));
    REQUIRE(after);
    const double back = hold == 0 ? 0 : hold == 1 ? -by / 2 : -by;
    const auto share = [&](double h) { return std::clamp((h - a) / (b - a), 0.0, 1.0); };
    // What lies between the planes alone goes by its middle; for a branch without a mesh of its own by that of all.
    std::map<PartId, std::optional<double>> rigid;
    std::function<std::pair<double, double>(PartId)> tree = [&](PartId id) {
      std::pair<double, double> r{1e300, -1e300};
      if (const auto own = reach.find(id); own != reach.end()) r = own->second;
      for (const PartId child : scene.part(id).children) {
        const auto below = tree(child);
        r.first = std::min(r.first, below.first), r.second = std::max(r.second, below.second);
      }
      return r;
    };
    std::function<void(PartId, std::optional<double>)> plan = [&](PartId id, std::optional<double> whole) {
      const auto [l, h] = tree(id);
      if (!whole && share(l) == share(h)) whole = share(l);
      if (whole) {
        rigid[id] = whole;
      } else if (const auto own = reach.find(id); own != reach.end()) {
        const auto [ol, oh] = own->second;
        if (share(ol) == share(oh))
          rigid[id] = share(ol);
        else if (ol > a && oh < b)
          rigid[id] = share((ol + oh) / 2);
      }
      for (const PartId child : scene.part(id).children) plan(child, whole);
    };
    plan(top, std::nullopt);
    double reach_of_all = size + length(Vec3{largest_component(w * low), 0, 0});
    std::vector<Vec3> expected;
    each(scene, [&](PartId id, std::size_t, const Vec3& p) {
      const auto r = rigid.find(id);
      const double s = r != rigid.end() && r->second ? *r->second : share(dot(w, p));
      expected.push_back(p + w * (by * s + back));
      reach_of_all = std::max(reach_of_all, length(p) + size + std::abs(by));
    });
    std::size_t k = 0;
    double off = 0;
    each(*after, [&](PartId, std::size_t, const Vec3& p) { off = std::max(off, distance(p, expected[k++])); });
    worst = std::max(worst, off / reach_of_all);
    CHECK(off <= 1e-9 * reach_of_all);
    // The mesh of one part: rigid sides to the last bit.
    if (!group) {
      const Part &was = scene.part(top), &is = after->part(top);
      const StretchBand band = band_in_mesh(world_of(scene, top), w, a, b);
      for (std::size_t v = 0; v < was.mesh->positions().size(); ++v) {
        const Vec3 p = was.mesh->positions()[v];
        const double h = dot(band.normal, p);
        const Vec3 moved = band.along * (by / world_per_height(world_of(scene, top), w));
        if (h < band.low) CHECK(is.mesh->positions()[v] == p);
        if (h > band.high) CHECK(distance(is.mesh->positions()[v], p + moved) <= 1e-13 * (length(p) + length(moved)));
      }
    }
  }
  CHECK(refused > 100);
  note_number(fmt::format("Stretch of 5,000 meshes and groups: worst {:.1e} of extent and distance, {} refused", worst,
                          refused));
}

TEST_CASE("a tray gets longer while every wall and divider keeps its thickness") {
  Scene scene;
  const PartId tray = scene.add(part_of("Tray", nullptr));
  const auto add = [&](const std::string& name, const Vec3& at, const Vec3& size) {
    Placement p;
    p.position = at;
    return scene.add(part_of(name, block(size), p, tray));
  };
  add("Bottom", {0, 0, 0}, {500, 200, 6});
  add("Wall low", {0, 0, 6}, {6, 200, 40});
  add("Wall high", {494, 0, 6}, {6, 200, 40});
  add("Wall front", {6, 0, 6}, {488, 6, 40});
  add("Wall back", {6, 194, 6}, {488, 6, 40});
  for (int i = 1; i <= 5; ++i) add(fmt::format("Divider {}", i), {6 + 488.0 * i / 6 - 2, 6, 6}, {4, 188, 40});
  for (const double length : {600.0, 450.0}) {
    scene = stepped(scene, {{"verb", "stretch"}, {"what", {"Tray"}}, {"along", "x"}, {"to", length}});
    const auto box = [&](const char* name) { return box_of(scene, *find_by_path(scene, name)); };
    CHECK(box("Bottom").size().x == Approx(length).epsilon(1e-14));
    CHECK(std::abs(box("Wall low").size().x - 6) < 1e-12);
    CHECK(std::abs(box("Wall high").size().x - 6) < 1e-12);
    CHECK(std::abs(box("Wall high").high.x - length) < 1e-12);
    CHECK(std::abs(box("Wall front").size().x - (length - 12)) < 1e-12);
    CHECK(std::abs(box("Wall front").size().y - 6) < 1e-12);
    for (int i = 1; i <= 5; ++i) {
      const Box divider = box(fmt::format("Divider {}", i).c_str());
      CHECK(std::abs(divider.size().x - 4) < 1e-12);
      CHECK(std::abs(divider.centre().x - (6 + (length - 12) * i / 6)) < 1e-12);
    }
  }
  // A wall with a lip of its own keeps it: its own band counts before the planes.
  scene = stepped(
      scene, {{"verb", "band"}, {"what", {"Wall front"}}, {"along", "x"}, {"between", {100, 120}}, {"name", "Lip"}});
  scene = stepped(scene, {{"verb", "stretch"}, {"what", {"Tray"}}, {"along", "x"}, {"by", 50}});
  CHECK(bands_of(scene, *find_by_path(scene, "Wall front"))[0].band == band_across(0, 100, 170));
  // And what would close it is refused, by name.
  CHECK(step_refused(scene, {{"verb", "stretch"}, {"what", {"Tray"}}, {"along", "x"}, {"by", -80}})
            .find("\"Wall front\" cannot be shorter by 80 mm: its band is 70 mm long") != std::string::npos);
  // A locked part stops it.
  scene = stepped(scene, {{"verb", "lock"}, {"what", {"Divider 3"}}, {"locked", true}});
  CHECK(step_refused(scene, {{"verb", "stretch"}, {"what", {"Tray"}}, {"along", "x"}, {"by", 8}})
            .find("\"Divider 3\" is locked") != std::string::npos);
}

TEST_CASE("a plate fills the room between two places in two directions, with a gap at each end") {
  Chance chance(77);
  for (int n = 0; n < 200; ++n) {
    Scene scene;
    Placement where = chance.placement(500, false);
    where.scale = {1, 1, 1};
    where.skew = {};
    const PartId frame = scene.add(part_of("Frame", nullptr, where));
    const double width = chance.between(60, 900), height = chance.between(40, 900);
    const auto side = [&](const std::string& name, const Vec3& at, const Vec3& size) {
      Placement p;
      p.position = at;
      scene.add(part_of(name, block(size), p, frame));
    };
    side("Left", {-10, 0, 0}, {10, 10, height + 10});
    side("Right", {width, 0, 0}, {10, 10, height + 10});
    side("Sill", {-10, -50, -6}, {width + 20, 100, 6});
    side("Head", {-10, -50, height}, {width + 20, 100, 6});
    Placement p = where;
    p.position = where.position + chance.point(300);
    scene.add(part_of("Rail", rail(), p));
    const double g = chance.between(0, 3), k = chance.between(0, 3);
    // A face of each; which of the two places comes first does not matter.
    const auto face = [&](const char* part, int axis, double at) {
      const PartId id = *find_by_path(scene, part);
      for (std::uint32_t v = 0;; ++v) {
        REQUIRE(v < 8);
        if (std::abs((scene.part(id).local * scene.part(id).mesh->positions()[v])[axis] - at) < 1e-9)
          return fmt::format("\"{}\" vertex {}", part, v);
      }
    };
    Json json = stretch({{"along", "x"},
                         {"between", {face("Right", 0, width), face("Left", 0, 0)}},
                         {"gap", {g, 1.5}},
                         {"also",
                          {{"along", "z"},
                           {"between", {face("Sill", 2, 0), face("Head", 2, height)}},
                           {"gap", {k, "2 mm"}},
                           {"band", {3, 20}}}}});
    const Scene after = stepped(scene, json);
    const Affine back = *inverse(world_of(scene, frame));
    Box box;
    for (const Vec3& v : after.part(*find_by_path(after, "Rail")).mesh->positions())
      box.include(back * (world_of(after, *find_by_path(after, "Rail")) * v));
    const double near = 1e-9 * (1000 + length(where.position));
    INFO(n << " " << json.dump());
    CHECK(std::abs(box.low.x - 1.5) < near);
    CHECK(std::abs(box.high.x - (width - g)) < near);
    CHECK(std::abs(box.low.z - k) < near);
    CHECK(std::abs(box.high.z - (height - 2)) < near);
    CHECK(std::abs(box.size().y - 8) < near);
    // Written and read again it is the same step.
    const auto verb = verb_from_json(json, scene);
    const auto again = verb_from_json(to_json(*verb, scene), scene);
    REQUIRE(again);
    CHECK(*again == *verb);
  }
}

TEST_CASE("linked copies have lengths of their own and follow what the mesh they share goes through") {
  Scene scene = one_part({}, rail(), "Rail");
  for (int i = 0; i < 3; ++i)
    scene = stepped(scene, {{"verb", "copy"}, {"instance", true}, {"what", {"Rail"}}, {"by", {0, 50.0 * (i + 1), 0}}});
  Scene after = stepped(scene, stretch({{"to", 360}}));
  after = stepped(after, {{"verb", "stretch"}, {"what", {"Rail 2"}}, {"along", "x"}, {"to", 200}});
  CHECK(box_of(after, 1).size().x == 360);
  CHECK(box_of(after, 2).size().x == 200);
  CHECK(box_of(after, 3).size().x == 300);
  CHECK(after.part(3).mesh == scene.part(1).mesh);
  CHECK(instances_of(after, 1).size() == 3);
  // A size baked with all its instances goes through all of them.
  after = stepped(after, {{"verb", "scale"}, {"what", {"Rail 3"}}, {"factor", {2, 1, 1}}});
  after = stepped(after, {{"verb", "bake"}, {"what", {"Rail 3"}}, {"scale", true}, {"copies", "instances"}});
  CHECK(box_of(after, 1).size().x == Approx(360).epsilon(1e-14));
  CHECK(box_of(after, 2).size().x == Approx(200).epsilon(1e-14));
  CHECK(box_of(after, 3).size().x == Approx(600).epsilon(1e-14));
  CHECK(after.part(1).stretched->base == after.part(3).mesh);
  CHECK(after.part(4).mesh == after.part(3).mesh);
  // All of them longer at once; those with lengths of their own keep what they have beside it.
  Scene all = stepped(scene, stretch({{"to", 360}}));
  all = stepped(all, {{"verb", "stretch"}, {"what", {"Rail 2"}}, {"along", "x"}, {"by", 10}, {"copies", "instances"}});
  CHECK(box_of(all, 1).size().x == 370);
  CHECK(box_of(all, 2).size().x == 310);
  CHECK(box_of(all, 4).size().x == 310);
  CHECK(step_refused(all, stretch({{"by", 10}, {"copies", "instances"}})).find("a length of its own") !=
        std::string::npos);
  // Separate: nobody's.
  const Scene apart = stepped(all, stretch({{"by", 10}, {"copies", "separate"}}));
  CHECK_FALSE(apart.part(1).stretched);
  CHECK(instances_of(apart, 1).empty());
}

TEST_CASE("what hangs on a part goes along: pivot, kept tacks, children; shapes by their dimension") {
  Scene scene = one_part({}, rail(), "Rail");
  scene = stepped(scene, {{"verb", "pivot"}, {"what", {"Rail"}}, {"at", "box 1,0,0"}});
  scene = stepped(scene, {{"verb", "keep"}, {"at", "\"Rail\" box 0.5,0,0"}, {"name", "middle"}});
  Placement end, start;
  end.position = {290, 0, 3};
  start.position = {2, 0, 3};
  scene.add(part_of("End", cube(4), end, 1));
  scene.add(part_of("Start", cube(4), start, 1));
  const Scene after = stepped(scene, stretch({{"to", 360}, {"band", {24, 276}}}));
  CHECK(after.part(1).placement.pivot == Vec3{360, 0, 0});
  CHECK(at(after, {TackKind::Pivot, 1, 0, {}}) == Vec3{360, 0, 0});
  CHECK(find_kept(after, 1, "middle")->point == Vec3{180, 0, 0});
  CHECK(box_of(after, 2).low == Vec3{350, 0, 3});
  CHECK(box_of(after, 3).low == Vec3{2, 0, 3});
  // A live shape, forwards and turned about, and across its axis.
  Scene pin = stepped({}, {{"verb", "shape"},
                           {"kind", "cylinder"},
                           {"name", "Pin"},
                           {"at", "point 0,0,10"},
                           {"diameter", 6},
                           {"height", 40}});
  const Scene longer =
      stepped(pin, {{"verb", "stretch"}, {"what", {"Pin"}}, {"along", "z"}, {"to", 55.5}, {"hold", "high"}});
  CHECK(longer.part(1).shape->shape[Dimension::Height] == 55.5);
  CHECK(box_of(longer, 1).high.z == 50);
  pin = stepped(pin, {{"verb", "rotate"}, {"what", {"Pin"}}, {"round", "x"}, {"angle", 180}});
  const Scene upside =
      stepped(pin, {{"verb", "stretch"}, {"what", {"Pin"}}, {"along", "z"}, {"axes", "world"}, {"by", 5}});
  CHECK(upside.part(1).shape->shape[Dimension::Height] == 45);
  CHECK(box_of(upside, 1).low.z == box_of(pin, 1).low.z);
  CHECK(step_refused(pin, {{"verb", "stretch"}, {"what", {"Pin"}}, {"along", "x"}, {"by", 5}})
            .find("no dimension along that direction alone") != std::string::npos);
  Scene crate = stepped(
      {}, {{"verb", "shape"}, {"kind", "box"}, {"name", "Crate"}, {"at", "point 0,0,0"}, {"size", {60, 40, 30}}});
  crate = stepped(crate, {{"verb", "stretch"}, {"what", {"Crate"}}, {"along", "x"}, {"to", 100}});
  CHECK(box_of(crate, 1).low.x == -30);
  CHECK(box_of(crate, 1).high.x == 70);
}

TEST_CASE("stored normals turn with the faces, and slopes that are cut are said") {
  // A wedge whose slope runs from end to end.
  MeshData wedge = data_of(*cube(100));
  for (Vec3& p : wedge.positions)
    if (p.x > 50 && p.z > 50) p.z = 40;
  const Scene scene = one_part({}, *make_mesh(with_own_corners(wedge)), "Rail");
  const auto verb = verb_from_json(stretch({{"to", 200}, {"band", {20, 80}}}), scene);
  const Scene after = done(*verb, scene);
  const Mesh& mesh = *after.part(1).mesh;
  for (std::uint32_t t = 0; t < mesh.triangles().size(); ++t) {
    const auto c = mesh.corners(t);
    const Vec3 n = normalized(cross(c[1] - c[0], c[2] - c[0]));
    for (const std::uint32_t v : mesh.triangles()[t]) {
      const auto& stored = mesh.normals()[v];
      CHECK(distance(n, Vec3{stored[0], stored[1], stored[2]}) < 1e-6);
    }
  }
  CHECK(remark(*verb, scene, after).find("2 sloping triangles of Rail") != std::string::npos);
}

TEST_CASE("a flat outline is given a thickness, closed and looking outwards") {
  // A square ring with a hole, of two sides of vertices, facing up and facing down; and a strip that folds over itself.
  for (const bool up : {true, false}) {
    MeshData ring;
    for (const double r : {50.0, 20.0})
      for (const auto& [x, y] : {std::pair{-r, -r}, {r, -r}, {r, r}, {-r, r}}) ring.positions.push_back({x, y, 7});
    for (std::uint32_t i = 0; i < 4; ++i) {
      const std::uint32_t j = (i + 1) % 4;
      for (Triangle t : {Triangle{i, j, 4 + j}, Triangle{i, 4 + j, 4 + i}}) {
        if (!up) std::swap(t[1], t[2]);
        ring.triangles.push_back(t);
      }
    }
    const Scene scene = one_part({{1, 2, 3}, {0, 0, 30}, {2, 2, 2}, {}, {}}, *make_mesh(ring), "Rail");
    const Scene after = stepped(scene, stretch({{"along", "z"}, {"to", "1/4 in"}}));
    const Mesh& mesh = *after.part(1).mesh;
    CHECK(box_of(after, 1).size().z == Approx(6.35).epsilon(1e-14));
    CHECK(box_of(after, 1).low.z == 17);
    std::map<std::pair<std::uint32_t, std::uint32_t>, int> sides;
    double six = 0;
    for (const Triangle& t : mesh.triangles()) {
      const Vec3 &a = mesh.positions()[t[0]], &b = mesh.positions()[t[1]], &c = mesh.positions()[t[2]];
      six += dot(a, cross(b, c));
      for (std::size_t i = 0; i < 3; ++i) ++sides[{t[i], t[(i + 1) % 3]}];
    }
    CHECK(six / 6 == Approx((100.0 * 100 - 40 * 40) * 3.175));
    for (const auto& [side, times] : sides) CHECK((times == 1 && sides.count({side.second, side.first}) == 1));
    CHECK(after.part(1).colours.size() == 1);
    const Scene below = stepped(scene, stretch({{"along", "z"}, {"to", 4}, {"hold", "high"}}));
    CHECK(box_of(below, 1).high.z == 17);
    CHECK(step_refused(scene, stretch({{"along", "z"}, {"to", 0}})).find("0 mm") != std::string::npos);
    // Now it is a plate like any other.
    CHECK(box_of(stepped(after, stretch({{"along", "z"}, {"to", 20}})), 1).size().z == Approx(20).epsilon(1e-13));
  }
}

TEST_CASE("Scale keeps the profile of a part with a band unless told otherwise") {
  Scene scene = one_part({}, rail(), "Rail");
  scene = stepped(scene, {{"verb", "band"}, {"what", {"Rail"}}, {"along", "x"}, {"name", "Shaft"}});
  const Json size{{"verb", "scale"}, {"what", {"Rail"}}, {"size", {360, nullptr, nullptr}}};
  const Scene kept = stepped(scene, size);
  CHECK(kept.part(1).placement.scale == Vec3{1, 1, 1});
  CHECK(box_of(kept, 1).size() == Vec3{360, 8, 20});
  CHECK(bands_of(kept, 1)[0].band == band_across(0, 24, 336));
  // Held at the bottom's middle, both ends move.
  CHECK(box_of(kept, 1).low.x == -30);
  Json evenly = size;
  evenly["profile"] = "proportion";
  CHECK(stepped(scene, evenly).part(1).placement.scale.x == Approx(1.2));
  Json factor{{"verb", "scale"}, {"what", {"Rail"}}, {"factor", {2, 2, 1}}, {"hold", "box 0,0,0"}};
  const Scene mixed = stepped(scene, factor);
  CHECK(box_of(mixed, 1).size() == Vec3{600, 16, 20});
  CHECK(mixed.part(1).placement.scale == Vec3{1, 2, 1});
  CHECK(box_of(mixed, 1).low == Vec3{0, 0, 0});
  const auto verb = verb_from_json(size, scene);
  CHECK(plain_text(sentence(*verb, scene, Tense::Past)).find("keeping its profile") != std::string::npos);
  // Evenly it is larger as it is.
  CHECK(stepped(scene, {{"verb", "scale"}, {"what", {"Rail"}}, {"factor", 2}}).part(1).placement.scale ==
        Vec3{2, 2, 2});
  CHECK(step_refused(scene, {{"verb", "scale"}, {"what", {"Rail"}}, {"size", {40, nullptr, nullptr}}}).find("48 mm") !=
        std::string::npos);
}
