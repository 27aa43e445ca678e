// Elements where it goes wrong easily: other verbs' meshes, mirrored runs, planes that hardly meet, what hangs on them.
#include <catch2/catch.hpp>

#include <numbers>

#include "core/mesh/features.h"
#include "core/mesh/shares.h"
#include "core/verbs/patch.h"
#include "tests/core/elements.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("a verb that gives the part another mesh moves no elements", "[elements]") {
  Placement placed{{5, 6, 7}, {10, 20, 30}, {2, 1, 0.5}, {}, {}};
  Scene bare = one_part(placed, rail(), "Post");
  bare = stepped(bare, {{"verb", "band"}, {"what", {"Post"}}, {"along", "x"}, {"name", "Shaft"}});
  for (const Json& step : std::vector<Json>{
           {{"verb", "bake"}, {"what", {"Post"}}, {"scale", true}},
           {{"verb", "bake"}, {"what", {"Post"}}, {"position", true}, {"rotation", true}, {"scale", true}},
           {{"verb", "fit-box"}, {"what", {"Post"}}, {"to", "tightest"}},
           {{"verb", "pivot"}, {"what", {"Post"}}, {"at", "box 0,0,0"}, {"turned", "world"}},
           {{"verb", "stretch"}, {"what", {"Post"}}, {"along", "x"}, {"by", 30}},
           {{"verb", "scale"}, {"what", {"Post"}}, {"size", {700, nullptr, nullptr}}},
           {{"verb", "rotate"}, {"what", {"Post"}}, {"round", "z"}, {"angle", 12}}}) {
    INFO(step.dump());
    const auto verb = verb_from_json(step, bare);
    INFO((verb ? std::string() : sentence(verb.error())));
    REQUIRE(verb);
    const Scene without = done(*verb, bare);
    for (const double reach : {0.0, 40.0}) {
      const Scene took = stepped(bare, take("Post", "faces", "0-3,20", {{"reach", reach}}));
      const Scene after = stepped(took, step);
      const auto is = after.part(1).mesh->positions(), as = without.part(1).mesh->positions();
      REQUIRE(is.size() == as.size());
      for (std::size_t v = 0; v < is.size(); ++v) CHECK(is[v] == as[v]);
      // It shows the part as it is now.
      const PartId patch = *find_by_path(after, "Taken");
      const Box mine = world_box_of(*after.part(patch).mesh, world_of(after, patch));
      Box theirs;
      for (const std::uint32_t t : after.part(patch).patch->of[0].elements.numbers)
        for (const Vec3& c : after.part(1).mesh->corners(t)) theirs.include(world_of(after, 1) * c);
      CHECK(distance(mine.low, theirs.low) < 1e-9);
      CHECK(distance(mine.high, theirs.high) < 1e-9);
    }
  }
}

TEST_CASE("kept tacks turn with the face that they are on, and a tie that loses its rim is named", "[elements]") {
  Scene scene = one_part({}, cube(20), "Post");
  std::string top;
  for (std::uint32_t t = 0; t < 12; ++t)
    if (area_vector(*scene.part(1).mesh, t).z > 1) top += (top.empty() ? "" : ",") + std::to_string(t);
  scene = stepped(scene,
                  {{"verb", "keep"}, {"at", "\"Post\" face-centre " + top.substr(0, top.find(','))}, {"name", "lid"}});
  scene = stepped(scene, take("Post", "faces", top));
  const Scene after = stepped(scene, on_taken("rotate", {{"round", "x"}, {"angle", 25}, {"axes", "world"}}));
  const KeptTack& lid = *find_kept(after, 1, "lid");
  REQUIRE(lid.direction);
  const Vec3 up = normalized(*lid.direction);
  const double turned_by = 25 * std::numbers::pi / 180;
  CHECK(up.y == Approx(-std::sin(turned_by)));
  CHECK(up.z == Approx(std::cos(turned_by)));
  CHECK(distance(lid.point, {10, 10, 20}) < 1e-9);
  // The centre of a rim is there no longer once one of its vertices is pulled out.
  Scene pin = stepped({}, {{"verb", "shape"},
                           {"kind", "cylinder"},
                           {"name", "Post"},
                           {"at", "point 0,0,0"},
                           {"diameter", 60},
                           {"height", 40},
                           {"sides", 16}});
  pin.add(part_of("Block", cube(10), {{100, 0, 0}, {}, {1, 1, 1}, {}, {}}));
  const auto& rounds = pin.part(1).mesh->features().rounds;
  REQUIRE_FALSE(rounds.empty());
  pin = stepped(
      pin, {{"verb", "meet"},
            {"pairs", {{{"from", fmt::format("\"Post\" round {}", rounds[0].vertex)}, {"to", "\"Block\" vertex 0"}}}},
            {"tie", "Rim"}});
  pin = stepped(pin, take("Post", "vertices", std::to_string(rounds[0].vertex)));
  const auto pull = verb_from_json(on_taken("move", {{"by", {9, 7, 5}}}), pin);
  REQUIRE(pull);
  CHECK(remark(*pull, pin, done(*pull, pin)).find("\"Rim\" has lost a place") != std::string::npos);
}

TEST_CASE("pushed out, no corner runs away from planes that nearly share a line", "[elements]") {
  const auto rough = [](const Vec3& way) { return 0.8 * std::sin(60 * way.x) * std::cos(70 * way.y + 50 * way.z); };
  for (const MeshPtr& mesh : {ball(20, 50, rough), ball(7, 50), sheet(15, 4, [](double x, double y) {
                                return 5 * std::sin(x / 7) + 0.05 * std::cos(y);
                              })}) {
    const Elements all = all_of(*mesh, ElementKind::Faces);
    const Shares shares = shares_of(*mesh, all, Mat3{}, 0, true);
    for (const double by : {1.0, -0.5}) {
      const auto places = pushed(*mesh, all, shares, Affine{}, by, Outward::Faces);
      REQUIRE(places);
      double farthest = 0;
      for (std::size_t i = 0; i < places->size(); ++i)
        farthest = std::max(farthest, distance((*places)[i], mesh->positions()[shares.vertices[i]]));
      CHECK(farthest < 4 * std::abs(by));
      CHECK(farthest >= std::abs(by) * 0.99);
    }
  }
}

TEST_CASE("elements are dropped until they touch, and their own part does not stop them", "[elements]") {
  Scene scene = one_part({{0, 0, 50}, {}, {1, 1, 1}, {}, {}}, cube(20), "Post");
  scene.add(part_of("Board", cube(200), {{-90, -90, -200}, {}, {1, 1, 1}, {}, {}}));
  const auto lowest = [](const Scene& s) { return world_box_of(*s.part(1).mesh, world_of(s, 1)).low.z; };
  std::string bottom;
  for (std::uint32_t t = 0; t < 12; ++t)
    if (area_vector(*scene.part(1).mesh, t).z < -1) bottom += (bottom.empty() ? "" : ",") + std::to_string(t);
  for (const auto& [kind, what] : std::vector<std::pair<std::string, Json>>{
           {"faces", bottom}, {"vertices", "0"}, {"edges", Json::array({"0-1"})}}) {
    INFO(kind);
    const Scene took = stepped(scene, take("Post", kind, what));
    const Scene after = stepped(took, on_taken("drop", Json::object()));
    CHECK(lowest(after) == Approx(0).margin(1e-9));
    CHECK(world_box_of(*after.part(1).mesh, world_of(after, 1)).high.z == Approx(70));
  }
}

TEST_CASE("a run of a mirrored part slides to the left as it is seen", "[elements]") {
  Json edges = Json::array();
  for (int i = 0; i < 10; ++i) edges.push_back(fmt::format("{}-{}", 55 + i, 56 + i));
  for (const double mirror : {1.0, -1.0}) {
    Scene scene = one_part({{}, {}, {mirror, 1, 1}, {}, {}}, sheet(10), "Cloth");
    scene = stepped(scene, take("Cloth", "edges", edges));
    const Scene after = stepped(scene, on_taken("slide", {{"share", 0.25}}));
    // Along +x left is +y; mirrored the run goes along −x, and left is −y.
    CHECK(after.part(1).mesh->positions()[60].y == Approx(50 + 2.5 * mirror));
  }
}
