// What verbs do to meshes, written to files and read back: baked, fitted, separated, recoloured parts.
#include <catch2/catch.hpp>

#include <cstdlib>
#include <nlohmann/json.hpp>

#include "core/files/glb.h"
#include "core/files/gltf_data.h"
#include "core/files/steps.h"
#include "demo/heron_hall.h"
#include "tests/core/doing.h"
#include "tests/files/document_checks.h"

using namespace tack;
using namespace tack::test;

namespace {

// A square plate in metres, Y up, with a picture's coordinates, tangents and a morph target, as another program writes
// it.
std::string plate() {
  Bytes data;
  const auto floats = [&](std::initializer_list<float> list) {
    for (const float f : list) append(data, f);
  };
  floats({0, 0, 0, 0.1f, 0, 0, 0.1f, 0, 0.2f, 0, 0, 0.2f});  // positions: 48
  floats({0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1, 0});              // normals: 48
  floats({0, 0, 1, 0, 1, 1, 0, 1});                          // coordinates: 32
  floats({1, 0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1});  // tangents: 64
  floats({0, 0.01f, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0});          // a morph's offsets: 48
  for (const std::uint16_t i : {0, 2, 1, 0, 3, 2}) append(data, static_cast<std::uint16_t>(i));  // 12
  std::string base64;
  const char* letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  for (std::size_t i = 0; i < data.size(); i += 3) {
    const unsigned v =
        data[i] << 16 | (i + 1 < data.size() ? data[i + 1] : 0) << 8 | (i + 2 < data.size() ? data[i + 2] : 0);
    for (int k = 0; k < 4; ++k)
      base64 += i + static_cast<std::size_t>(k) > data.size() ? '=' : letters[v >> (18 - 6 * k) & 63];
  }
  const auto view = [](int offset, int length) {
    return Json{{"buffer", 0}, {"byteOffset", offset}, {"byteLength", length}};
  };
  const auto accessor = [](int view_number, int type, int count, const char* kind) {
    return Json{{"bufferView", view_number}, {"componentType", type}, {"count", count}, {"type", kind}};
  };
  Json position = accessor(0, 5126, 4, "VEC3");
  position["min"] = Json::array({0, 0, 0});
  position["max"] = Json::array({0.10000000149011612, 0, 0.20000000298023224});
  Json offsets = accessor(4, 5126, 4, "VEC3");
  offsets["min"] = Json::array({0, 0, 0});
  offsets["max"] = Json::array({0, 0.009999999776482582, 0});
  const Json mesh{
      {"name", "Plate"},
      {"primitives", Json::array({{{"attributes", {{"POSITION", 0}, {"NORMAL", 1}, {"TEXCOORD_0", 2}, {"TANGENT", 3}}},
                                   {"indices", 5},
                                   {"material", 0},
                                   {"targets", Json::array({{{"POSITION", 4}}})}}})}};
  const Json j{
      {"asset", {{"version", "2.0"}}},
      {"scene", 0},
      {"scenes", Json::array({{{"nodes", Json::array({0, 1})}}})},
      {"nodes", Json::array({{{"name", "Plate"},
                              {"mesh", 0},
                              {"rotation", Json::array({0.0, 0.3826834, 0.0, 0.9238795})},
                              {"scale", Json::array({2, 1, 1})}},
                             {{"name", "Twin"}, {"mesh", 0}, {"translation", Json::array({1, 0, 0})}}})},
      {"meshes", Json::array({mesh})},
      {"materials", Json::array({{{"name", "Paint"},
                                  {"pbrMetallicRoughness", {{"baseColorFactor", Json::array({0.5, 0.2, 0.1, 1})}}}}})},
      {"accessors", Json::array({position, accessor(1, 5126, 4, "VEC3"), accessor(2, 5126, 4, "VEC2"),
                                 accessor(3, 5126, 4, "VEC4"), offsets, accessor(5, 5123, 6, "SCALAR")})},
      {"bufferViews",
       Json::array({view(0, 48), view(48, 48), view(96, 32), view(128, 64), view(192, 48), view(240, 12)})},
      {"buffers", Json::array({{{"byteLength", 252}, {"uri", "data:application/octet-stream;base64," + base64}}})}};
  return j.dump();
}

Document foreign_plate() {
  const std::string text = plate();
  const auto delivery =
      read_delivery(ByteView(reinterpret_cast<const std::uint8_t*>(text.data()), text.size()), "plate.gltf", {});
  INFO((delivery ? std::string() : sentence(delivery.error())));
  REQUIRE(delivery);
  auto document = document_of(*delivery);
  REQUIRE(document);
  return *document;
}

void check_same_places(const Scene& a, const Scene& b, double bound) {
  const auto ids_a = a.in_tree_order(), ids_b = b.in_tree_order();
  REQUIRE(ids_a.size() == ids_b.size());
  for (std::size_t i = 0; i < ids_a.size(); ++i) {
    const Part &p = a.part(ids_a[i]), &q = b.part(ids_b[i]);
    INFO(p.name);
    CHECK(p.placement == q.placement);
    if (!p.mesh) continue;
    REQUIRE(q.mesh);
    REQUIRE(p.mesh->positions().size() == q.mesh->positions().size());
    double off = 0;
    for (std::size_t v = 0; v < p.mesh->positions().size(); ++v)
      off = std::max(off, distance(p.mesh->positions()[v], q.mesh->positions()[v]));
    CHECK(off <= bound);
    CHECK(std::equal(p.mesh->triangles().begin(), p.mesh->triangles().end(), q.mesh->triangles().begin(),
                     q.mesh->triangles().end()));
  }
}

}  // namespace

TEST_CASE("what was baked into a mesh that came along is written with everything else the mesh had") {
  const Document d = foreign_plate();
  Bake bake;
  bake.what = {1};
  bake.rotation = bake.scale = true;
  const Scene baked = done(bake, d.scene);
  const auto bytes = write_document(baked, d.settings);
  REQUIRE(bytes);
  check_valid(*bytes);
  const Document again = read_back(*bytes);
  check_same_places(baked, again.scene, 0);
  CHECK(*write_document(again.scene, again.settings) == *bytes);
  // The twin is no longer linked, and its geometry is untouched.
  CHECK(again.scene.part(1).mesh != again.scene.part(2).mesh);
  CHECK(again.scene.part(2).mesh->positions()[2] == d.scene.part(2).mesh->positions()[2]);
  const auto glb = read_glb(*bytes);
  const Json& plate_mesh = [&]() -> const Json& {
    for (const Json& n : glb->json["nodes"])
      if (n.value("name", std::string()) == "Plate" && n.contains("mesh"))
        return glb->json["meshes"][n["mesh"].get<std::size_t>()];
    FAIL("no mesh below Plate itself");
    return glb->json;
  }();
  const Json& p = plate_mesh["primitives"][0];
  CHECK(p["attributes"].contains("TEXCOORD_0"));
  CHECK(p["material"] == 0);
  // Tangents turn with the plate, still of length 1; the morph still lifts by 10 mm, straight up.
  GltfData data(glb->json, glb->binary.view());
  const auto tangents = data.numbers(p["attributes"]["TANGENT"].get<std::uint64_t>(), 4);
  REQUIRE(tangents);
  CHECK(std::hypot((*tangents)[0], (*tangents)[1], (*tangents)[2]) == Approx(1).epsilon(1e-6));
  CHECK((*tangents)[0] == Approx(std::sqrt(0.5)).epsilon(1e-5));
  CHECK((*tangents)[3] == 1);
  const auto offsets = data.numbers(p["targets"][0]["POSITION"].get<std::uint64_t>(), 3);
  REQUIRE(offsets);
  CHECK((*offsets)[2] == Approx(10).epsilon(1e-6));
}

TEST_CASE("instances that take a bake along stay linked in the file") {
  const Document d = foreign_plate();
  Bake bake;
  bake.what = {1};
  bake.scale = true;
  bake.copies = Copies::All;
  const Scene baked = done(bake, d.scene);
  const auto bytes = write_document(baked, d.settings);
  REQUIRE(bytes);
  check_valid(*bytes);
  const Document again = read_back(*bytes);
  CHECK(again.scene.part(1).mesh == again.scene.part(2).mesh);
  check_same_places(baked, again.scene, 0);
}

TEST_CASE("a separated copy stays separate, a recoloured one keeps its material's other numbers") {
  const Document d = foreign_plate();
  Scene s = done(Separate{{2}}, d.scene);
  s = done(Paint{{2}, {0.2f, 0.4f, 0.6f, 1}}, s);
  const auto bytes = write_document(s, d.settings);
  REQUIRE(bytes);
  check_valid(*bytes);
  const Document again = read_back(*bytes);
  CHECK(again.scene.part(1).mesh != again.scene.part(2).mesh);
  CHECK(again.scene.part(1).colours == d.scene.part(1).colours);
  CHECK(again.scene.part(2).colours[0].b == Approx(0.6f).margin(1e-3));
  const auto glb = read_glb(*bytes);
  REQUIRE(glb->json["materials"].size() == 2);
  CHECK(glb->json["materials"][1]["name"] == "Paint");
  CHECK(*write_document(again.scene, again.settings) == *bytes);
  // An instance with another colour stays linked.
  const auto tinted = write_document(done(Paint{{2}, {1, 1, 0, 1}}, d.scene), d.settings);
  REQUIRE(tinted);
  check_valid(*tinted);
  const Document linked = read_back(*tinted);
  CHECK(linked.scene.part(1).mesh == linked.scene.part(2).mesh);
  CHECK(linked.scene.part(1).colours != linked.scene.part(2).colours);
}

TEST_CASE("the demo after pivots, bakes, fits, groups and copies is valid and the same to the last bit") {
  Journal journal(demo::heron_hall_parts());
  const Json steps = Json::parse(R"([
    {"verb": "pivot", "what": ["Tipping lever"], "at": "\"Hub\" pivot", "turned": "world"},
    {"verb": "rotate", "what": ["Tipping lever"], "angle": 37.5, "round": "y"},
    {"verb": "fit-box", "what": ["Channel 3"], "to": "tightest"},
    {"verb": "bake", "what": ["Carriage"], "scale": true},
    {"verb": "group", "what": ["Channel 3", "Short channel"], "name": "Loose"},
    {"verb": "copy", "what": ["Loose"], "instance": true, "by": [0, 100, 0]},
    {"verb": "copy", "what": ["Funnel"]},
    {"verb": "scale", "what": ["Post 3"], "size": [null, null, 240]},
    {"verb": "colour", "what": ["Drum"], "colour": "#336699"}])");
  for (const StepOutcome& o : run_steps(journal, steps, ".")) {
    INFO(o.verb << ": " << (o.problem ? sentence(*o.problem) : o.words));
    CHECK_FALSE(o.problem);
  }
  const auto bytes = write_document(journal.scene(), {});
  REQUIRE(bytes);
  check_valid(*bytes);
  const Document again = read_back(*bytes);
  check_same_places(journal.scene(), again.scene, 0);
  CHECK(*write_document(again.scene, again.settings) == *bytes);
}
