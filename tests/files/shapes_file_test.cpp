// Live shapes, bands and linked copies in documents: written, read again, changed by others, replayed.
#include <catch2/catch.hpp>

#include "core/files/document.h"
#include "core/files/glb.h"
#include "core/files/gltf_data.h"
#include "core/files/gltf_mesh.h"
#include "core/files/import.h"
#include "core/mesh/features.h"
#include "core/verbs/journal.h"
#include "tests/core/doing.h"
#include "tests/files/document_checks.h"
#include "tests/meshes.h"

using namespace tack;
using namespace tack::test;

namespace {

Document again(const Scene& scene) {
  const auto bytes = write_document(scene, {});
  REQUIRE(bytes);
  const auto delivery = read_delivery(*bytes, "again.glb", {});
  INFO((delivery ? std::string() : sentence(delivery.error())));
  REQUIRE(delivery);
  auto document = document_of(*delivery);
  REQUIRE(document);
  // The same bytes, once more.
  CHECK(*write_document(document->scene, {}) == *bytes);
  return *document;
}

Scene all_kinds() {
  Scene scene;
  const char* at = "point 0,0,0";
  for (Json json : {Json{{"kind", "box"}, {"size", {60, "1 in", 30.1}}},
                    Json{{"kind", "plate"}, {"size", {120, 80, 6}}, {"corner", 10}},
                    Json{{"kind", "cylinder"}, {"diameter", "1/4 in"}, {"height", 40}},
                    Json{{"kind", "cone"}, {"diameter", 40}, {"height", 41}},
                    Json{{"kind", "cone"}, {"diameter", 40}, {"top", 7}, {"height", 41}},
                    Json{{"kind", "sphere"}, {"diameter", 16}, {"sides", 20}},
                    Json{{"kind", "torus"}, {"diameter", 60}, {"thickness", 10}},
                    Json{{"kind", "tube"}, {"diameter", 24}, {"thickness", 3}, {"height", 40}, {"sides", 7}},
                    Json{{"kind", "line"}, {"length", 123.4}}}) {
    json["verb"] = "shape";
    json["at"] = at;
    scene = stepped(scene, json);
  }
  return scene;
}

}  // namespace

TEST_CASE("shapes of every kind come back with their dimensions, as typed, and go on being changed") {
  Scene scene = all_kinds();
  scene = stepped(scene, {{"verb", "rotate"}, {"what", {"Tube"}}, {"round", "x"}, {"angle", 30}});
  scene = stepped(scene, {{"verb", "bake"}, {"what", {"Tube"}}, {"rotation", true}});
  scene = stepped(scene, {{"verb", "copy"}, {"instance", true}, {"what", {"Cylinder"}}, {"by", {100, 0, 0}}});
  const Document document = again(scene);
  CHECK(document.notes.empty());
  REQUIRE(document.scene.size() == scene.size());
  for (const PartId id : scene.in_tree_order()) {
    INFO(scene.part(id).name);
    REQUIRE(document.scene.part(id).shape);
    CHECK(*document.scene.part(id).shape == *scene.part(id).shape);
    CHECK(document.scene.part(id).mesh->known() != nullptr);
    CHECK(document.scene.part(id).mesh->features().rounds.size() == scene.part(id).mesh->features().rounds.size());
  }
  CHECK(document.scene.part(3).mesh == document.scene.part(10).mesh);
  const Scene thicker = stepped(document.scene, {{"verb", "dimensions"}, {"what", {"Cylinder"}}, {"diameter", 9}});
  CHECK(thicker.part(10).shape->shape[Dimension::Diameter] == 9);
  const Document once_more = again(thicker);
  CHECK(once_more.scene.part(10).shape->shape[Dimension::Diameter] == 9);
  // A line is one in the file too.
  const auto glb = read_glb(*write_document(scene, {}));
  const Json& line = glb->json["meshes"].back();
  CHECK(line["primitives"][0]["mode"] == 1);
}

TEST_CASE("where another program has changed the mesh or the numbers are damaged, the mesh counts") {
  const Scene scene = all_kinds();
  const auto glb = read_glb(*write_document(scene, {}));
  const auto read = [&](const Json& json) {
    const auto delivery = read_delivery(*write_glb(json, glb->binary), "changed.glb", {});
    INFO((delivery ? std::string() : sentence(delivery.error())));
    REQUIRE(delivery);
    auto document = document_of(*delivery);
    REQUIRE(document);
    return *document;
  };
  const auto node_of = [&](Json& json, const std::string& name) -> Json& {
    for (Json& node : json["nodes"])
      if (node.value("name", "") == name) return node;
    FAIL("no node");
    return json;
  };
  const auto extension = [&](Json& json, const std::string& name) -> Json& {
    return node_of(json, name)["extensions"]["TACKPOINT_part"]["shape"];
  };
  Json json = glb->json;
  extension(json, "Cylinder")["height"] = 41;
  const Document changed = read(json);
  CHECK_FALSE(changed.scene.part(3).shape);
  CHECK(changed.scene.part(3).mesh->box().size().z == 40);
  REQUIRE(changed.notes.size() == 1);
  CHECK(changed.notes[0].find("\"Cylinder\" is a mesh now: another program changed it") == 0);
  for (const auto& [key, value] : std::vector<std::pair<std::string, Json>>{{"height", "40"},
                                                                            {"height", -3},
                                                                            {"sides", 1e9},
                                                                            {"sides", 2.5},
                                                                            {"kind", "egg"},
                                                                            {"kind", 3},
                                                                            {"frame", Json::array({1, 2})},
                                                                            {"diameter", nullptr}}) {
    INFO(key << " " << value.dump());
    json = glb->json;
    extension(json, "Cylinder")[key] = value;
    CHECK_FALSE(read(json).scene.part(3).shape);
  }
  // A frame that leads elsewhere, and one that is not rigid.
  json = glb->json;
  extension(json, "Cylinder")["frame"] = Json::array({2, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1});
  CHECK_FALSE(read(json).scene.part(3).shape);
  json = glb->json;
  extension(json, "Cylinder")["frame"] = Json::array({1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 1e-3, 1});
  CHECK_FALSE(read(json).scene.part(3).shape);
}

TEST_CASE("bands and linked copies of different lengths come back linked") {
  MeshData data = mesh_data_of({ShapeKind::Box, {300, 8, 20}});
  data.known = nullptr;
  Scene scene = one_part({}, *make_mesh(data), "Rail");
  scene =
      stepped(scene, {{"verb", "band"}, {"what", {"Rail"}}, {"along", "x"}, {"between", {20, 280}}, {"name", "Strip"}});
  for (int i = 1; i < 4; ++i)
    scene = stepped(scene, {{"verb", "copy"}, {"instance", true}, {"what", {"Rail"}}, {"by", {0, 40.0 * i, 0}}});
  scene = stepped(scene, {{"verb", "stretch"}, {"what", {"Rail"}}, {"along", "x"}, {"to", 360}});
  scene = stepped(scene, {{"verb", "stretch"}, {"what", {"Rail 2"}}, {"along", "x"}, {"to", 123.456}});
  scene = stepped(scene, {{"verb", "stretch"}, {"what", {"Rail 2"}}, {"along", "x"}, {"by", 1.1}});
  const Document document = again(scene);
  const Scene& back = document.scene;
  CHECK(bands_of(back, 1) == bands_of(scene, 1));
  CHECK(bands_of(back, 2) == bands_of(scene, 2));
  REQUIRE(back.part(1).stretched);
  REQUIRE(back.part(2).stretched);
  CHECK(back.part(1).stretched->base == back.part(3).mesh);
  CHECK(back.part(2).stretched->lengths == scene.part(2).stretched->lengths);
  CHECK(back.part(3).mesh == back.part(4).mesh);
  // They still follow.
  const Scene longer =
      stepped(back, {{"verb", "stretch"}, {"what", {"Rail 3"}}, {"along", "x"}, {"by", 10}, {"copies", "instances"}});
  CHECK(longer.part(1).mesh->box().size().x == Approx(370).epsilon(1e-14));
  (void)again(longer);
  // Without anybody to share it with, the link is not written.
  Scene alone = stepped(scene, {{"verb", "delete"}, {"what", {"Rail 2", "Rail 3", "Rail 4"}}});
  CHECK_FALSE(again(alone).scene.part(1).stretched);
  // Damaged lengths leave the mesh as it is.
  auto glb = read_glb(*write_document(scene, {}));
  for (Json& node : glb->json["nodes"])
    if (node.value("name", "") == "Rail") node["extensions"]["TACKPOINT_part"]["stretch"]["lengths"][0]["by"] = 61;
  const auto delivery = read_delivery(*write_glb(glb->json, glb->binary), "changed.glb", {});
  REQUIRE(delivery);
  const auto changed = document_of(*delivery);
  REQUIRE(changed);
  CHECK_FALSE(changed->scene.part(1).stretched);
  CHECK(changed->scene.part(1).mesh->box().size().x == 360);
}

TEST_CASE("a file that claims thousands of lengths for each of many copies opens, and says what was left") {
  Scene scene = one_part({}, *make_mesh([] {
                           Shape ball{ShapeKind::Sphere, {}};
                           ball[Dimension::Diameter] = 300;
                           ball[Dimension::Sides] = 48;
                           MeshData data = mesh_data_of(ball);
                           data.known = nullptr;
                           return data;
                         }()),
                         "Rail");
  scene = stepped(scene, {{"verb", "copy"}, {"what", {"Rail"}}, {"instance", true}, {"by", {0, 400, 0}}});
  const PartId copy = scene.in_tree_order().back();
  scene = stepped(
      scene, {{"verb", "stretch"}, {"what", {path_of(scene, copy)}}, {"along", "x"}, {"to", 400}, {"band", {50, 250}}});
  REQUIRE(scene.part(copy).stretched);
  const auto delivery = read_delivery(*write_document(scene, {}), "copies.glb", {});
  REQUIRE(delivery);
  Delivery hostile = *delivery;
  for (DeliveredPart& d : hostile.parts)
    if (d.base >= 0) d.lengths.assign(10'000'000, d.lengths.front());
  const auto document = document_of(hostile);
  REQUIRE(document);
  CHECK_FALSE(document->scene.part(copy).stretched);
  REQUIRE_FALSE(document->notes.empty());
  CHECK(document->notes.back().find("too many copies") != std::string::npos);
}

TEST_CASE("imported colours, places in pictures, tangents and morph targets go along with a stretch") {
  // A strip with two targets: one lifts its middle, one pulls its end; texture places in proportion along it.
  std::vector<float> positions, normals, tangents, places, lift, pull;
  const float xs[] = {0.0f, 0.1f, 0.2f, 0.3f};
  std::vector<std::uint32_t> corners;
  for (const float x : xs)
    for (const float z : {0.0f, 0.02f}) {
      positions.insert(positions.end(), {x, z, 0.0f});
      normals.insert(normals.end(), {0.0f, 0.0f, 1.0f});
      tangents.insert(tangents.end(), {1.0f, 0.0f, 0.0f, -1.0f});
      places.insert(places.end(), {x / 0.3f, z / 0.02f});
      lift.insert(lift.end(), {0.0f, x > 0.05f && x < 0.25f ? 0.03f : 0.0f, 0.0f});
      pull.insert(pull.end(), {x > 0.25f ? 0.05f : 0.0f, 0.0f, 0.0f});
    }
  for (std::uint32_t i = 0; i < 3; ++i)
    corners.insert(corners.end(), {2 * i, 2 * i + 2, 2 * i + 3, 2 * i, 2 * i + 3, 2 * i + 1});
  Json json{{"asset", {{"version", "2.0"}}}, {"scene", 0}, {"scenes", {{{"nodes", {0}}}}}};
  Bytes binary;
  const auto add = [&](const void* from, std::size_t bytes, int type, const char* kind, std::size_t count) {
    const std::size_t at = binary.size();
    const auto* b = static_cast<const std::uint8_t*>(from);
    binary.insert(binary.end(), b, b + bytes);
    json["bufferViews"].push_back({{"buffer", 0}, {"byteOffset", at}, {"byteLength", bytes}});
    json["accessors"].push_back(
        {{"bufferView", json["bufferViews"].size() - 1}, {"componentType", type}, {"count", count}, {"type", kind}});
    return json["accessors"].size() - 1;
  };
  const auto floats = [&](const std::vector<float>& v, const char* kind, std::size_t width) {
    return add(v.data(), v.size() * 4, 5126, kind, v.size() / width);
  };
  const auto p = floats(positions, "VEC3", 3), n = floats(normals, "VEC3", 3), t = floats(tangents, "VEC4", 4),
             u = floats(places, "VEC2", 2), l = floats(lift, "VEC3", 3), q = floats(pull, "VEC3", 3),
             i = add(corners.data(), corners.size() * 4, 5125, "SCALAR", corners.size());
  json["accessors"][p]["min"] = {0, 0, 0};
  json["accessors"][p]["max"] = {0.3f, 0.02f, 0};
  for (const auto a : {l, q}) json["accessors"][a]["min"] = {0, 0, 0}, json["accessors"][a]["max"] = {0.05, 0.03, 0};
  json["materials"] = {{{"name", "Cloth"}}};
  json["meshes"] = {{{"primitives",
                      {{{"attributes", {{"POSITION", p}, {"NORMAL", n}, {"TANGENT", t}, {"TEXCOORD_0", u}}},
                        {"indices", i},
                        {"material", 0},
                        {"targets", {{{"POSITION", l}}, {{"POSITION", q}}}}}}},
                     {"weights", {0.0, 0.0}}}};
  json["nodes"] = {{{"name", "Strip"}, {"mesh", 0}}};
  json["buffers"] = {{{"byteLength", binary.size()}}};
  const auto delivery = read_delivery(*write_glb(json, binary), "strip.glb", {});
  INFO((delivery ? std::string() : sentence(delivery.error())));
  REQUIRE(delivery);
  const auto document = document_of(*delivery);
  REQUIRE(document);
  // From 300 to 500 mm between 50 and 250: the lengthening is half of it again at the first third, and so on.
  const Scene after = stepped(
      document->scene, {{"verb", "stretch"}, {"what", {"Strip"}}, {"along", "x"}, {"to", 500}, {"band", {50, 250}}});
  const auto glb = read_glb(*write_document(after, {}));
  REQUIRE(glb);
  const int mesh = [&] {
    for (const Json& node : glb->json["nodes"])
      if (node.contains("mesh")) return node["mesh"].get<int>();
    return -1;
  }();
  const Json primitive = glb->json["meshes"][static_cast<std::size_t>(mesh)]["primitives"][0];
  CHECK(primitive["material"] == 0);
  CHECK(primitive["attributes"]["TEXCOORD_0"] == u);
  Json copy = glb->json;
  Bytes bytes(glb->binary.view().begin(), glb->binary.view().end());
  GltfData data(copy, bytes);
  const auto numbers = [&](const Json& number, int width) { return *data.numbers(number.get<std::uint64_t>(), width); };
  // Where each x goes, and where it goes with the target: worked out by hand, in mm.
  const auto goes = [](double x) { return x <= 50 ? x : x >= 250 ? x + 200 : x + 200 * (x - 50) / 200; };
  const auto pulled = numbers(primitive["targets"][1]["POSITION"], 3),
             lifted = numbers(primitive["targets"][0]["POSITION"], 3);
  const double scale = std::abs(pulled[6 * 3]) > 1 ? 1 : 1000;  // as it was written, in mm or in metres
  for (std::size_t v = 0; v < 8; ++v) {
    const double x = xs[v / 2] * 1000, by = x > 250 ? 50 : 0;
    CHECK(pulled[v * 3] * scale == Approx(goes(x + by) - goes(x)).margin(1e-3));
    CHECK(std::hypot(lifted[v * 3 + 1], lifted[v * 3 + 2]) * scale == Approx(x > 50 && x < 250 ? 30 : 0).margin(1e-3));
  }
  const auto hands = numbers(primitive["attributes"]["TANGENT"], 4);
  for (std::size_t v = 0; v < 8; ++v) {
    CHECK(hands[v * 4] == Approx(1).margin(1e-6));
    CHECK(hands[v * 4 + 3] == -1);
  }
  CHECK(again(after).scene.part(1).mesh->box().size().x == Approx(500).epsilon(1e-6));
}

TEST_CASE("steps with shapes and stretches are saved as steps and do the same again") {
  Scene start = one_part({}, *make_mesh([] {
                           MeshData data = mesh_data_of({ShapeKind::Box, {300, 8, 20}});
                           data.known = nullptr;
                           return data;
                         }()),
                         "Rail");
  Journal journal(start);
  const auto add = [&](const Json& json) {
    const auto verb = verb_from_json(json, journal.scene());
    INFO(json.dump() << (verb ? std::string() : sentence(verb.error())));
    REQUIRE(verb);
    REQUIRE(journal.add(*verb));
  };
  add({{"verb", "shape"},
       {"kind", "cylinder"},
       {"name", "Pin"},
       {"at", "\"Rail\" vertex 6"},
       {"diameter", "1/4 in"},
       {"height", 40}});
  add({{"verb", "dimensions"}, {"what", {"Pin"}}, {"height", "it + 5"}});
  add({{"verb", "band"}, {"what", {"Rail"}}, {"along", "x"}, {"between", {20, 280}}, {"name", "Strip"}});
  add({{"verb", "stretch"}, {"what", {"Rail"}}, {"along", "x"}, {"to", "1 ft 6 in"}});
  add({{"verb", "as-mesh"}, {"what", {"Pin"}}});
  const Bytes wanted = *write_document(journal.scene(), {});
  // Each entry, written and read in its own scene, is the same step.
  Scene scene = start;
  for (const auto& step : journal.record().steps) {
    const Json json = to_json(step->verb, scene);
    const auto verb = verb_from_json(json, scene);
    INFO(json.dump());
    REQUIRE(verb);
    CHECK(*verb == step->verb);
    scene = done(*verb, scene);
  }
  CHECK(*write_document(scene, {}) == wanted);
  // An earlier step changed goes through to the later ones.
  const auto thicker =
      verb_from_json({{"verb", "dimensions"}, {"what", {"Pin"}}, {"height", 100}}, journal.record().before(1));
  REQUIRE(thicker);
  REQUIRE(journal.amend(1, *thicker));
  const Part& pin = journal.scene().part(*find_by_path(journal.scene(), "Pin"));
  CHECK(pin.mesh->box().size().z == 100);
  CHECK_FALSE(pin.shape);
}

TEST_CASE("moved vertices are written for the part, its instances and copies with lengths of their own") {
  MeshData data;
  add_box(data, {0, 0, 0}, {300, 8, 20});
  Scene scene = one_part({}, *make_mesh(data), "Rail");
  for (const double y : {100.0, 200.0})
    scene = stepped(scene, {{"verb", "copy"}, {"what", {"Rail"}}, {"instance", true}, {"by", {0, y, 0}}});
  const PartId same = 2, longer = 3;
  scene = stepped(
      scene,
      {{"verb", "stretch"}, {"what", {path_of(scene, longer)}}, {"along", "x"}, {"to", 400}, {"band", {50, 250}}});
  REQUIRE(scene.part(longer).stretched);
  scene = stepped(scene, {{"verb", "take"}, {"of", {{{"part", "Rail"}, {"vertices", "0,6"}}}}, {"name", "Taken"}});
  scene = stepped(scene, {{"verb", "move"}, {"what", {"Taken"}}, {"by", {1, 2, 3}}});
  CHECK(scene.part(same).mesh == scene.part(1).mesh);
  REQUIRE(scene.part(longer).stretched);
  const Document read = again(scene);
  CHECK(read.notes.empty());
  REQUIRE(read.scene.size() == 3);
  for (const PartId id : {1u, same, longer}) {
    const auto was = scene.part(id).mesh->positions(), is = read.scene.part(id).mesh->positions();
    REQUIRE(was.size() == is.size());
    for (std::size_t v = 0; v < was.size(); ++v) CHECK(distance(was[v], is[v]) < 1e-9);
  }
  // The copy is still linked: it follows what the shared mesh becomes.
  REQUIRE(read.scene.part(longer).stretched);
  CHECK(read.scene.part(longer).stretched->base == read.scene.part(1).mesh);
  CHECK(*write_document(scene, {}) == *write_document(scene, {}));
}
