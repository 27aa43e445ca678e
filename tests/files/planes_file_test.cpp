// Planes, grids, views and guides that follow, in documents: saved, opened, damaged, brought in, moved by another
// program.
#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/catch/guide_law.h"
#include "core/files/glb.h"
#include "core/files/outline.h"
#include "core/verbs/verb.h"
#include "tests/core/doing.h"
#include "tests/files/document_checks.h"

using namespace tack;
using namespace tack::test;

namespace {

Verb step_of(const Scene& scene, const std::string& text) {
  const auto verb = verb_from_json(Json::parse(text), scene);
  INFO((verb ? std::string() : sentence(verb.error())));
  REQUIRE(verb);
  return *verb;
}

// Two posts, a plane that belongs to one, one beside it that follows, a line beside an edge, grids, views.
Scene planes_scene() {
  Placement p;
  p.position = {100, 20, 0};
  p.rotation = {0, 7.5, 30};
  Scene s = one_part(p);
  s.add(part_of("Board", cube(50), {}));
  for (
      const char* text :
      {R"({"verb":"plane","name":"Deck","through":["\"Post\" vertex 0","\"Post\" vertex 1","\"Post\" vertex 2"],"in":"Post"})",
       R"({"verb":"plane","name":"Deck + 16","of":"Deck","offset":16,"turned":{"round":"y","angle":12.5}})",
       R"({"verb":"guide","kind":"line","beside":"\"Board\" edge 0-1 at 0.25","distance":24,"name":"Post/line"})",
       R"({"verb":"grid","plane":"Deck","spacing":"1/2 in","parts":4,"extent":300})",
       R"({"verb":"grid","plane":"World","spacing":25})",
       R"({"verb":"keep-view","name":"Joint","camera":{"target":[1,2,3],"turn":30.25,"tilt":20,"roll":5,"distance":512,"perspective":false}})",
       R"({"verb":"use-plane","plane":"Deck + 16"})"})
    s = done(step_of(s, text), s);
  return s;
}

PartId at_path(const Scene& scene, const std::string& path) {
  const auto id = find_by_path(scene, path);
  REQUIRE(id);
  return *id;
}

// The document with its layout changed.
Bytes with_layout(const Bytes& bytes, const std::function<void(Json& layout, Json& all)>& change) {
  auto glb = read_glb(bytes);
  REQUIRE(glb);
  for (Json& scene : glb->json["scenes"])
    if (scene.contains("extensions") && scene["extensions"].contains("TACKPOINT_layout"))
      change(scene["extensions"]["TACKPOINT_layout"], glb->json);
  const auto written = write_glb(glb->json, glb->binary);
  REQUIRE(written);
  return *written;
}

}  // namespace

TEST_CASE("a plane survives saving and opening: numbers, grid, use, what it follows, views", "[plane]") {
  const Scene scene = planes_scene();
  const auto bytes = write_document(scene, {});
  REQUIRE(bytes);
  check_valid(*bytes);
  const Document back = read_back(*bytes);
  CHECK(back.notes.empty());
  CHECK(difference_between(scene, back.scene).empty());
  for (const PartId id : scene.in_tree_order()) {
    const PartId there = at_path(back.scene, path_of(scene, id));
    CHECK(back.scene.part(there).placement == scene.part(id).placement);
    CHECK(back.scene.part(there).guide == scene.part(id).guide);
    CHECK(grid_of(back.scene, there) == grid_of(scene, id));
    REQUIRE((back.scene.part(there).law == nullptr) == (scene.part(id).law == nullptr));
    if (!scene.part(id).law) continue;
    GuideLaw was = *scene.part(id).law, is = *back.scene.part(there).law;
    REQUIRE(was.places.size() == is.places.size());
    for (std::size_t i = 0; i < was.places.size(); ++i)
      CHECK(address_text(scene, was.places[i]) == address_text(back.scene, is.places[i]));
    was.places = is.places = {};
    CHECK(was == is);
  }
  CHECK(path_of(back.scene, back.scene.plane()) == "Deck + 16");
  CHECK(back.scene.ground_grid() == PlaneGrid{25, 1, 0});
  CHECK(back.scene.views() == scene.views());
  // They go on following.
  Move move;
  move.what = {at_path(back.scene, "Post")};
  move.by[2] = Amount{9};
  const Scene moved = done(move, back.scene);
  const PartId beside = at_path(moved, "Deck + 16");
  CHECK(distance(plane_frame(moved, beside).translation, plane_frame(back.scene, beside).translation + Vec3{0, 0, 9}) <
        1e-12);
  // Written again it is the same to the byte.
  const auto again = write_document(back.scene, back.settings);
  REQUIRE(again);
  CHECK(*again == *write_document(read_back(*again).scene, back.settings));
}

TEST_CASE("a plane that another program has moved stands where that left it, and that is said", "[plane]") {
  const auto bytes = write_document(planes_scene(), {});
  REQUIRE(bytes);
  const Bytes moved = with_layout(*bytes, [](Json&, Json& all) {
    for (Json& node : all["nodes"])
      if (node.value("name", "") == "Deck + 16") node["translation"] = {1, 2, 3};
  });
  const Document back = read_back(moved);
  CHECK(back.notes.size() == 1);
  CHECK(plane_frame(back.scene, at_path(back.scene, "Deck + 16")).translation == Vec3{1, 2, 3});
}

TEST_CASE("damaged planes, grids and views are left out, each said, and the rest is read", "[plane]") {
  const auto bytes = write_document(planes_scene(), {});
  REQUIRE(bytes);
  const auto read = [&](const std::function<void(Json&)>& change) {
    return read_back(with_layout(*bytes, [&](Json& layout, Json&) { change(layout); }));
  };
  CHECK(read([](Json& l) { l["plane"] = "Gone"; }).scene.plane() == kNoPart);
  CHECK(read([](Json& l) { l["plane"] = "Gone"; }).notes.size() == 1);
  CHECK(read([](Json& l) { l["plane"] = "Post"; }).scene.plane() == kNoPart);
  CHECK(read([](Json& l) { l["plane"] = 3; }).scene.plane() == kNoPart);
  for (const Json& bad :
       {Json(3), Json::array({3}), Json::array({Json::object()}),
        Json::array({{{"guide", "Deck"}, {"places", Json::array()}, {"by", "at"}}}),
        Json::array({{{"guide", "Deck"}, {"places", {"\"Post\" vertex 99"}}, {"by", "round"}}}),
        Json::array({{{"guide", "Deck"}, {"places", {"\"Nobody\" vertex 0"}}, {"by", "at"}}}),
        Json::array({{{"guide", "Post"}, {"places", {"\"Post\" vertex 0"}}, {"by", "at"}}}),
        Json::array({{{"guide", "Deck"}, {"places", {"\"Post/Deck\" guide"}}, {"by", "at"}}}),
        Json::array(
            {{{"guide", "Deck"}, {"places", {"\"Post\" vertex 0"}}, {"by", "at"}, {"round", 7}, {"offset", "x"}}})}) {
    INFO(bad.dump());
    const Document d = read([&](Json& l) { l["follows"] = bad; });
    CHECK_FALSE(d.scene.part(at_path(d.scene, "Post/Deck")).law);
    CHECK(d.notes.size() == 1);
  }
  const Document views = read([](Json& l) {
    l["views"] = Json::array({{{"name", "Good"}, {"camera", {{"target", {0, 0, 0}}}}},
                              {{"name", "Bad"}, {"camera", {{"target", {0, 0}}}}},
                              {{"name", "Good"}, {"camera", {{"target", {1, 0, 0}}}}},
                              {{"name", ""}, {"camera", {{"target", {1, 0, 0}}}}},
                              7});
  });
  CHECK(views.scene.views().size() == 1);
  CHECK(views.notes.size() == 1);
  const Document grid = read([](Json& l) { l["grid"] = {{"spacing", -3}, {"parts", 1e9}, {"extent", "far"}}; });
  CHECK(grid.scene.ground_grid().spacing == 0);
  CHECK(grid.scene.ground_grid().parts <= SetGrid::kMostParts);
}

TEST_CASE("guides that follow each other in a circle come to rest", "[plane]") {
  const auto bytes = write_document(planes_scene(), {});
  REQUIRE(bytes);
  const Document circle = read_back(with_layout(*bytes, [](Json& layout, Json&) {
    layout["follows"] =
        Json::array({{{"guide", "Post/Deck"}, {"places", {"\"Deck + 16\" pivot"}}, {"by", "at"}, {"offset", 5}},
                     {{"guide", "Deck + 16"}, {"places", {"\"Post/Deck\" pivot"}}, {"by", "at"}, {"offset", 5}}});
  }));
  Move move;
  move.what = {at_path(circle.scene, "Post")};
  move.by[0] = Amount{3};
  const Scene moved = done(move, circle.scene);
  CHECK(is_finite(plane_frame(moved, at_path(moved, "Post/Deck"))));
}

TEST_CASE("what is brought in goes on following what came with it", "[plane]") {
  const auto bytes = write_document(planes_scene(), {});
  REQUIRE(bytes);
  const auto delivery = read_delivery(*bytes, "planes.glb", {});
  REQUIRE(delivery);
  const Scene here = one_part({}, cube(10), "Post");
  const auto bring = bring_of(*delivery, "planes.glb", here);
  REQUIRE(bring);
  const Scene both = done(*bring, here);
  // The names at the top may have changed; the laws name what came in.
  const PartId line = at_path(both, "Post\\/line"), board = at_path(both, "Board");
  REQUIRE(both.part(line).law);
  CHECK(both.part(line).law->places.front().part == board);
  Move move;
  move.what = {board};
  move.by[1] = Amount{4};
  const Scene moved = done(move, both);
  CHECK(distance(plane_frame(moved, line).translation, plane_frame(both, line).translation + Vec3{0, 4, 0}) < 1e-12);
  // The plane in use stays that of the document.
  CHECK(both.plane() == kNoPart);
}
