// Stretch where it is left half said, fills, takes others along, or cannot be honoured.
#include <catch2/catch.hpp>

#include "core/verbs/journal.h"
#include "tests/core/rail.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("X, Y and Z choose the axis of a stretch, and take back what belonged to the other") {
  const Scene scene = one_part({}, rail(), "Rail");
  const auto verb = verb_from_json(stretch({{"to", 360}, {"band", {60, 240}}}), scene);
  REQUIRE(verb);
  const auto across = with_axis(*verb, 2);
  REQUIRE(across);
  const Json json = to_json(*across, scene);
  CHECK(json["along"] == "z");
  CHECK_FALSE(json.contains("band"));
  // It stays, whatever is longest.
  CHECK(std::get<Stretch>(*across).chosen);
  CHECK(to_json(*with_axis(*verb, 0), scene)["along"] == "x");
}

TEST_CASE("one plane of the band alone leaves the other where it was found") {
  const Scene scene = one_part({}, rail(), "Rail");
  // Found between 24 and 276.
  const Scene near_only = stepped(scene, stretch({{"to", 360}, {"band", {60, nullptr}}}));
  const Scene far_only = stepped(scene, stretch({{"to", 360}, {"band", {nullptr, 200}}}));
  for (const Scene* s : {&near_only, &far_only}) CHECK(box_of(*s, 1).size().x == 360);
  for (const Json& band : {Json{60, nullptr}, Json{nullptr, 200}}) {
    const auto verb = verb_from_json(stretch({{"to", 360}, {"band", band}}), scene);
    REQUIRE(verb);
    CHECK(to_json(*verb, scene)["band"] == band);
    const std::string words = plain_text(sentence(*verb, scene, Tense::Present));
    CHECK(words.find(band[0].is_null() ? "between 24 mm and 200 mm" : "between 60 mm and 276 mm") != std::string::npos);
  }
  // Where there is no evident band, the other plane is missing, and that is said.
  MeshData wedge = data_of(*cube(100));
  for (Vec3& p : wedge.positions)
    if (p.x > 50 && p.z > 50) p.z = 40, p.y *= 0.5;
  const Scene odd = one_part({}, *make_mesh(wedge), "Rail");
  CHECK(step_refused(odd, stretch({{"to", 200}, {"band", {20, nullptr}}})) != "done");
}

TEST_CASE("a thickness is given to either side, or to both") {
  MeshData plate;
  plate.positions = {{0, 0, 7}, {40, 0, 7}, {40, 30, 7}, {0, 30, 7}};
  plate.triangles = {{0, 1, 2}, {0, 2, 3}};
  const Scene scene = one_part({}, *make_mesh(plate), "Rail");
  const auto reach = [&](const char* hold) {
    const Box box = box_of(stepped(scene, stretch({{"along", "z"}, {"to", 4}, {"hold", hold}})), 1);
    return std::pair{box.low.z, box.high.z};
  };
  CHECK(reach("low") == std::pair{7.0, 11.0});
  CHECK(reach("high") == std::pair{3.0, 7.0});
  CHECK(reach("middle") == std::pair{5.0, 9.0});
}

TEST_CASE("a group is lengthened by the bands of its parts, and a name that none keeps is refused") {
  Scene scene;
  Part group;
  group.name = "Rack";
  scene.add(group);
  scene.add(part_of("Upper", rail(), {{0, 0, 50}, {}, {1, 1, 1}, {}, {}}, 1));
  scene.add(part_of("Lower", rail(), {}, 1));
  scene = stepped(scene, {{"verb", "band"}, {"what", {"Rack/Upper"}}, {"along", "x"}, {"name", "Shaft"}});
  Json step{{"verb", "stretch"}, {"what", {"Rack"}}, {"along", "x"}, {"to", 500}, {"band", {60, 240}}};
  for (const PartId id : {2u, 3u}) CHECK(box_of(stepped(scene, step), id).size().x == 500);
  step["band"] = "Shank";
  CHECK(step_refused(scene, step).find("Shank") != std::string::npos);
}

TEST_CASE("filling leaves the gaps that were typed, at places that lean as well") {
  Scene scene = one_part({{5, 0, 0}, {0, 0, 0}, {1, 1, 1}, {}, {}}, rail(), "Rail");
  scene.add(part_of("Left", cube(10), {{-40, 0, 0}, {0, 0, 10}, {1, 1, 1}, {}, {}}));
  scene.add(part_of("Right", cube(10), {{400, 0, 0}, {0, 0, -20}, {1, 1, 1}, {}, {}}));
  const Json step =
      stretch({{"between", {"\"Left\" vertex 6", "\"Right\" vertex 0"}}, {"gap", {1.5, 2.25}}, {"axes", "world"}});
  const Scene after = stepped(scene, step);
  const double left = at(scene, {TackKind::Vertex, 2, 6, {}}).x, right = at(scene, {TackKind::Vertex, 3, 0, {}}).x;
  CHECK(box_of(after, 1).low.x == Approx(left + 1.5).epsilon(1e-13));
  CHECK(box_of(after, 1).high.x == Approx(right - 2.25).epsilon(1e-13));
}

TEST_CASE("Scale by a band takes along what hangs below, and leaves From its own rule") {
  Scene scene = one_part({}, rail(), "Rail");
  scene.add(part_of("End", cube(4), {{290, 0, 3}, {}, {1, 1, 1}, {}, {}}, 1));
  scene.add(part_of("Start", cube(4), {{2, 0, 3}, {}, {1, 1, 1}, {}, {}}, 1));
  scene = stepped(scene, {{"verb", "band"}, {"what", {"Rail"}}, {"along", "x"}, {"name", "Shaft"}});
  const Scene after =
      stepped(scene, {{"verb", "scale"}, {"what", {"Rail"}}, {"size", {360, nullptr, nullptr}}, {"hold", "box 0,0,0"}});
  CHECK(box_of(after, 1).size().x == 360);
  CHECK(box_of(after, 2).low == Vec3{350, 0, 3});
  CHECK(box_of(after, 2).size() == Vec3{4, 4, 4});
  CHECK(box_of(after, 3).low == Vec3{2, 0, 3});
  // From one place until it reaches another: a place beside the band would not get there.
  const auto reached = verb_from_json({{"verb", "scale"},
                                       {"what", {"Rail"}},
                                       {"from", "\"Rail\" box 0.5,0,0"},
                                       {"to", "point 300,0,0"},
                                       {"along", "x"},
                                       {"hold", "box 0,0,0"}},
                                      scene);
  REQUIRE(reached);
  CHECK(at(done(*reached, scene), {TackKind::BoxPoint, 1, 0, {0.5, 0, 0}}).x == Approx(300));
}

TEST_CASE("a band is kept on linked copies where their own lengths have taken it") {
  Scene scene = one_part({}, rail(), "Rail");
  scene = stepped(scene, {{"verb", "copy"}, {"what", {"Rail"}}, {"instance", true}, {"by", {0, 100, 0}}});
  const PartId copy = scene.in_tree_order().back();
  REQUIRE(copy != 1);
  scene = stepped(
      scene, {{"verb", "stretch"}, {"what", {path_of(scene, copy)}}, {"along", "x"}, {"to", 400}, {"band", {24, 276}}});
  REQUIRE(scene.part(copy).stretched);
  scene =
      stepped(scene, {{"verb", "band"}, {"what", {"Rail"}}, {"along", "x"}, {"between", {24, 276}}, {"name", "Shaft"}});
  REQUIRE(bands_of(scene, copy).size() == 1);
  const StretchBand theirs = bands_of(scene, copy)[0].band, ours = bands_of(scene, 1)[0].band;
  CHECK(theirs.high - theirs.low == Approx(352));
  CHECK(ours.high - ours.low == Approx(252));
}

TEST_CASE("a tie whose place a change of dimensions takes away is named") {
  Scene scene = stepped({}, {{"verb", "shape"},
                             {"kind", "cylinder"},
                             {"name", "Pin"},
                             {"at", "point 0,0,0"},
                             {"diameter", 6},
                             {"height", 40},
                             {"sides", 48}});
  scene.add(part_of("Post", cube(10), {{100, 0, 0}, {}, {1, 1, 1}, {}, {}}));
  // A vertex that a round of fewer sides has not.
  scene = stepped(scene, {{"verb", "meet"},
                          {"pairs", {{{"from", "\"Pin\" vertex 1"}, {"to", "\"Post\" vertex 0"}}}},
                          {"tie", "Pin at post"}});
  const auto verb = verb_from_json({{"verb", "dimensions"}, {"what", {"Pin"}}, {"sides", 7}}, scene);
  REQUIRE(verb);
  const std::string said = remark(*verb, scene, done(*verb, scene));
  CHECK(said.find("\"Pin at post\" has lost a place") != std::string::npos);
}
