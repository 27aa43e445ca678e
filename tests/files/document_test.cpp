#include <catch2/catch.hpp>

#include <cstdlib>
#include <nlohmann/json.hpp>

#include "core/files/export.h"
#include "core/files/glb.h"
#include "core/files/import.h"
#include "core/files/steps.h"
#include "demo/heron_hall.h"
#include "tests/files/document_checks.h"

using namespace tack;
using namespace tack::test;

namespace {

void check_same(const Scene& a, const Scene& b) {
  const auto ids_a = a.in_tree_order(), ids_b = b.in_tree_order();
  REQUIRE(ids_a.size() == ids_b.size());
  for (std::size_t i = 0; i < ids_a.size(); ++i) {
    const Part &p = a.part(ids_a[i]), &q = b.part(ids_b[i]);
    INFO(p.name);
    CHECK(p.name == q.name);
    CHECK(path_of(a, ids_a[i]) == path_of(b, ids_b[i]));
    CHECK(p.placement == q.placement);
    CHECK(typed_numbers(p.typed).position == typed_numbers(q.typed).position);
    CHECK(typed_numbers(p.typed).rotation == typed_numbers(q.typed).rotation);
    CHECK(typed_numbers(p.typed).scale == typed_numbers(q.typed).scale);
    CHECK(p.hidden == q.hidden);
    CHECK(p.locked == q.locked);
    REQUIRE((p.mesh == nullptr) == (q.mesh == nullptr));
    if (!p.mesh) continue;
    CHECK(std::equal(p.mesh->positions().begin(), p.mesh->positions().end(), q.mesh->positions().begin(),
                     q.mesh->positions().end()));
    CHECK(std::equal(p.mesh->triangles().begin(), p.mesh->triangles().end(), q.mesh->triangles().begin(),
                     q.mesh->triangles().end()));
  }
}

// A glTF as another program writes it: metres, Y up, a material with a picture, an animation, extras, a second scene.
std::string foreign_gltf() {
  // One triangle: positions (float), indices (ushort), times and rotations of an animation.
  Bytes data;
  for (const float f : {0.f, 0.f, 0.f, 1.f, 0.f, 0.f, 0.f, 1.f, 0.f}) append(data, f);
  for (const std::uint16_t i : {std::uint16_t{0}, std::uint16_t{1}, std::uint16_t{2}, std::uint16_t{0}})
    append(data, i);
  for (const float f : {0.f, 1.f}) append(data, f);
  for (const float f : {0.f, 0.f, 0.f, 1.f, 0.f, 0.f, 1.f, 0.f}) append(data, f);
  constexpr std::string_view kLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::string text;
  for (std::size_t i = 0; i < data.size(); i += 3) {
    const std::uint32_t v =
        data[i] << 16 | (i + 1 < data.size() ? data[i + 1] << 8 : 0) | (i + 2 < data.size() ? data[i + 2] : 0);
    for (int k = 0; k < 4; ++k)
      text += i + static_cast<std::size_t>(k) > data.size() ? '=' : kLetters[v >> (18 - 6 * k) & 63];
  }
  return R"({
 "asset": {"version": "2.0", "generator": "another program", "copyright": "Heron Hall"},
 "scene": 0,
 "scenes": [{"nodes": [0, 2], "name": "hall", "extras": {"floor": 2}}, {"nodes": [4]}],
 "nodes": [
  {"name": "Still", "translation": [0.1, 0.2, 0.3], "rotation": [0, 0, 0.70710678118654752, 0.70710678118654752], "scale": [1, 2, 3],
   "mesh": 0, "children": [1], "extras": {"maker": "Ada", "nothing": null, "big": 9007199254740993}},
  {"name": "Lamp", "translation": [0, 1, 0], "extensions": {"KHR_lights_punctual": {"light": 0}}},
  {"name": "Hand", "children": [3]},
  {"name": "Finger", "mesh": 1, "translation": [0.5, 0, 0]},
  {"name": "Elsewhere", "mesh": 0}
 ],
 "meshes": [
  {"name": "Tri", "primitives": [{"attributes": {"POSITION": 0, "TEXCOORD_0": 4}, "indices": 1, "material": 0}]},
  {"name": "Tri red", "primitives": [{"attributes": {"POSITION": 0, "TEXCOORD_0": 4}, "indices": 1, "material": 1}]}
 ],
 "materials": [
  {"name": "Oak", "pbrMetallicRoughness": {"baseColorTexture": {"index": 0}, "baseColorFactor": [1, 0.5, 0.25, 1]}},
  {"name": "Red", "pbrMetallicRoughness": {"baseColorFactor": [1, 0, 0, 1]}}
 ],
 "textures": [{"source": 0, "sampler": 0}],
 "samplers": [{"wrapS": 33071}],
 "images": [{"uri": "data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="}],
 "animations": [{"name": "wave", "channels": [{"sampler": 0, "target": {"node": 3, "path": "rotation"}}],
                 "samplers": [{"input": 2, "output": 3}]}],
 "accessors": [
  {"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3", "min": [0, 0, 0], "max": [1, 1, 0]},
  {"bufferView": 1, "componentType": 5123, "count": 3, "type": "SCALAR"},
  {"bufferView": 2, "componentType": 5126, "count": 2, "type": "SCALAR", "min": [0], "max": [1]},
  {"bufferView": 3, "componentType": 5126, "count": 2, "type": "VEC4"},
  {"bufferView": 4, "componentType": 5126, "count": 3, "type": "VEC2"}
 ],
 "bufferViews": [
  {"buffer": 0, "byteOffset": 0, "byteLength": 36, "target": 34962}, {"buffer": 0, "byteOffset": 36, "byteLength": 6, "target": 34963},
  {"buffer": 0, "byteOffset": 44, "byteLength": 8}, {"buffer": 0, "byteOffset": 52, "byteLength": 32}, {"buffer": 0, "byteOffset": 0, "byteLength": 24, "target": 34962}
 ],
 "buffers": [{"byteLength": 84, "uri": "data:application/octet-stream;base64,)" +
         text + R"("}],
 "extensionsUsed": ["KHR_lights_punctual"],
 "extensions": {"KHR_lights_punctual": {"lights": [{"type": "point", "intensity": 5}]}},
 "extras": {"project": "run"}
})";
}

Document foreign() {
  const std::string text = foreign_gltf();
  const auto delivery =
      read_delivery(ByteView(reinterpret_cast<const std::uint8_t*>(text.data()), text.size()), "hall.gltf", {});
  if (!delivery) FAIL(sentence(delivery.error()));
  return *document_of(*delivery);
}

}  // namespace

TEST_CASE("every number of the demo is the same to the last bit after saving and opening") {
  for (const Scene& scene : {demo::heron_hall_parts(), *demo::heron_hall(source("demo"))}) {
    const auto bytes = write_document(scene, {});
    REQUIRE(bytes);
    const Document back = read_back(*bytes);
    CHECK(back.is_document);
    check_same(scene, back.scene);
    const auto again = write_document(back.scene, back.settings);
    REQUIRE(again);
    CHECK(*again == *bytes);
    check_valid(*bytes);
  }
}

TEST_CASE("awkward placements survive: skew, mirrors, pivots, names, typed text") {
  Chance chance(91);
  Scene s;
  PartId parent = kNoPart;
  for (int i = 0; i < 60; ++i) {
    Placement p = chance.placement(1000);
    if (i % 3 == 0) p.skew = chance.point(0.7);
    Part part = part_of(i % 4 == 0 ? "Same" : "Part \"" + std::to_string(i) + "\" / ü #",
                        i % 5 == 0 ? nullptr : cube(10), p, parent);
    part.hidden = i % 7 == 0;
    part.locked = i % 11 == 0;
    TypedNumbers typed;
    typed.position.values[1] = 1.0 / 3;
    typed.position.text[1] = "1/3";
    part.typed = std::make_shared<const TypedNumbers>(typed);
    const PartId id = s.add(part);
    parent = i % 6 == 5 ? kNoPart : id;
  }
  const auto bytes = write_document(s, {"in", Json{{"turn", 30}}});
  REQUIRE(bytes);
  const Document back = read_back(*bytes);
  check_same(s, back.scene);
  CHECK(back.settings.unit == "in");
  CHECK(*back.settings.view == Json{{"turn", 30}});
  CHECK(*write_document(back.scene, back.settings) == *bytes);
  check_valid(*bytes);
}

TEST_CASE("a mesh whose numbers float cannot hold keeps them in double") {
  MeshData data;
  data.positions = {{0.1, 1.0 / 3, 1e6 + 1e-4}, {1, 0, 0}, {0, 1, 0}};
  data.triangles = {{0, 1, 2}};
  Scene s;
  s.add(part_of("P", *make_mesh(data)));
  const Document back = read_back(*write_document(s, {}));
  CHECK(back.scene.part(1).mesh->positions()[0] == Vec3{0.1, 1.0 / 3, 1e6 + 1e-4});
}

TEST_CASE("what another program writes into the floats wins over our doubles") {
  MeshData data;
  data.positions = {{0.1, 0.2, 0.3}, {1, 0, 0}, {0, 1, 0}};
  data.triangles = {{0, 1, 2}};
  Scene s;
  s.add(part_of("P", *make_mesh(data)));
  auto glb = read_glb(*write_document(s, {}));
  REQUIRE(glb);
  const float changed = 7.5f;
  Bytes binary(glb->binary.view().begin(), glb->binary.view().end());
  std::memcpy(binary.data() + glb->json["bufferViews"][0]["byteOffset"].get<std::size_t>(), &changed, sizeof changed);
  const Document back = read_back(*write_glb(glb->json, binary));
  CHECK(back.scene.part(1).mesh->positions()[0].x == 7.5);
}

TEST_CASE("a node that another program moved wins over our numbers") {
  Scene s;
  Placement p;
  p.position = {1, 2, 3};
  p.rotation = {10, 0, 0};
  s.add(part_of("P", cube(10), p));
  auto glb = read_glb(*write_document(s, {}));
  glb->json["nodes"][1]["translation"] = Json::array({50.0, 2.0, 3.0});
  const Document back = read_back(*write_glb(glb->json, glb->binary));
  CHECK(back.scene.part(1).placement.position == Vec3{50, 2, 3});
  CHECK_FALSE(back.notes.empty());
}

TEST_CASE("instances stay linked, with colours of their own") {
  Scene s;
  const MeshPtr shared = cube(10);
  Part a = part_of("A", shared), b = part_of("B", shared);
  a.colours = {{1, 0, 0, 1}};
  b.colours = {{0, 0, 1, 1}};
  s.add(a);
  s.add(b);
  const Document back = read_back(*write_document(s, {}));
  CHECK(back.scene.part(1).mesh == back.scene.part(2).mesh);
  CHECK(back.scene.part(1).colours[0].r == Approx(1).margin(1e-6));
  CHECK(back.scene.part(2).colours[0].b == Approx(1).margin(1e-6));
}

TEST_CASE("an imported glTF is placed in millimetres, Z up") {
  const Document d = foreign();
  const auto still = find_by_path(d.scene, "Still");
  REQUIRE(still);
  const Part& part = d.scene.part(*still);
  // (0.1, 0.2, 0.3) m, Y up is (100, −300, 200) mm, Z up; a turn about z becomes one about −y.
  CHECK(distance(part.placement.position, {100, -300, 200}) < 1e-12);
  CHECK(distance(part.placement.rotation, {0, -90, 0}) < 1e-9);
  CHECK(part.placement.scale == Vec3{1, 3, 2});
  CHECK(part.mesh->positions()[1] == Vec3{1000, 0, 0});
  CHECK(part.mesh->positions()[2] == Vec3{0, 0, 1000});
  // In the world: the corner (0, 1, 0) m scaled by 2, turned to −x, moved.
  CHECK(distance(world_of(d.scene, *still) * part.mesh->positions()[2], {100 - 2000, -300, 200}) < 1e-9);
  // The animated hand keeps its own numbers under one conversion.
  const auto finger = find_by_path(d.scene, "Finger");
  REQUIRE(finger);
  CHECK(d.scene.part(*finger).placement.position == Vec3{0.5, 0, 0});
  CHECK(distance(world_of(d.scene, *finger).translation, {500, 0, 0}) < 1e-9);
  CHECK_FALSE(find_by_path(d.scene, "Elsewhere"));
}

TEST_CASE("what came along with an imported glTF is still there") {
  Document d = foreign();
  const auto bytes = write_document(d.scene, d.settings);
  REQUIRE(bytes);
  check_valid(*bytes);
  const auto glb = read_glb(*bytes);
  const Json& j = glb->json;
  CHECK(j["materials"].size() == 2);
  CHECK(j["materials"][0]["pbrMetallicRoughness"]["baseColorTexture"]["index"] == 0);
  CHECK(j["textures"][0]["sampler"] == 0);
  CHECK(j["images"][0]["mimeType"] == "image/png");
  const auto picture = j["bufferViews"][j["images"][0]["bufferView"].get<std::size_t>()];
  CHECK(glb->binary.view()[picture["byteOffset"].get<std::size_t>() + 1] == 'P');
  CHECK(j["samplers"][0]["wrapS"] == 33071);
  CHECK(j["extras"]["project"] == "run");
  CHECK(j["asset"]["copyright"] == "Heron Hall");
  CHECK(j["scenes"].size() == 2);
  CHECK(j["scenes"][0]["extras"]["floor"] == 2);
  CHECK(j["extensions"]["KHR_lights_punctual"]["lights"].size() == 1);
  const auto node = [&](const std::string& name) -> const Json& {
    for (const Json& n : j["nodes"])
      if (n.value("name", std::string{}) == name) return n;
    FAIL("no node " << name);
    return j;
  };
  CHECK(node("Still")["extras"]["maker"] == "Ada");
  CHECK(node("Still")["extras"]["nothing"].is_null());
  CHECK(node("Still")["extras"]["big"] == 9007199254740993);
  const int target = j["animations"][0]["channels"][0]["target"]["node"].get<int>();
  CHECK(j["nodes"][static_cast<std::size_t>(target)]["name"] == "Finger");
  bool light = false;
  for (const Json& n : j["nodes"]) light |= n.contains("extensions") && n["extensions"].contains("KHR_lights_punctual");
  CHECK(light);
  const int other = j["scenes"][1]["nodes"][0].get<int>();
  CHECK(j["nodes"][static_cast<std::size_t>(other)]["name"] == "Elsewhere");
  // And once more, to the byte.
  const Document again = read_back(*bytes);
  check_same(d.scene, again.scene);
  CHECK(*write_document(again.scene, again.settings) == *bytes);
}

TEST_CASE("moving an animated part puts a wrapper above it and leaves its animation alone") {
  const Document d = foreign();
  Move move;
  move.what = {*find_by_path(d.scene, "Finger")};
  move.by[2] = 250;
  const auto moved = apply(move, d.scene);
  REQUIRE(moved);
  const auto bytes = write_document(*moved, {});
  check_valid(*bytes);
  const auto glb = read_glb(*bytes);
  const auto target = glb->json["animations"][0]["channels"][0]["target"]["node"].get<std::size_t>();
  CHECK(glb->json["nodes"][target]["translation"] == Json::array({0.5, 0, 0}));
  const Document back = read_back(*bytes);
  const auto finger = find_by_path(back.scene, "Finger");
  CHECK(distance(world_of(back.scene, *finger).translation, {500, 0, 250}) < 1e-9);
  CHECK(*write_document(back.scene, back.settings) == *bytes);
}

TEST_CASE("two imported files come together, each with its own materials") {
  const std::string text = foreign_gltf();
  const auto delivery =
      read_delivery(ByteView(reinterpret_cast<const std::uint8_t*>(text.data()), text.size()), "hall.gltf", {});
  Document first = *document_of(*delivery);
  const auto bring = bring_of(*delivery, "hall.gltf", first.scene);
  REQUIRE(bring);
  const auto both = apply(*bring, first.scene);
  REQUIRE(both);
  const auto bytes = write_document(*both, {});
  check_valid(*bytes);
  const auto glb = read_glb(*bytes);
  CHECK(glb->json["materials"].size() == 4);
  CHECK(glb->json["meshes"][2]["primitives"][0]["material"] == 2);
  CHECK(glb->json["materials"][2]["pbrMetallicRoughness"]["baseColorTexture"]["index"] == 1);
  CHECK(glb->json["animations"].size() == 2);
  CHECK(glb->json["animations"][0]["channels"][0]["target"]["node"] !=
        glb->json["animations"][1]["channels"][0]["target"]["node"]);
  const Document back = read_back(*bytes);
  check_same(*both, back.scene);
  CHECK(*write_document(back.scene, back.settings) == *bytes);
  // The second part's mesh reads the second document's bytes.
  CHECK(back.scene.part(*find_by_path(back.scene, "Still 2")).mesh->positions()[1] == Vec3{1000, 0, 0});
}

TEST_CASE("newer documents: minor ones keep what is unknown, major ones are refused") {
  Scene s;
  s.add(part_of("P", cube(10)));
  auto glb = read_glb(*write_document(s, {}));
  Json& layout = glb->json["scenes"][0]["extensions"]["TACKPOINT_layout"];
  layout["version"] = "1.7";
  layout["holograms"] = {1, 2, 3};
  const Document back = read_back(*write_glb(glb->json, glb->binary));
  const auto again = read_glb(*write_document(back.scene, back.settings));
  CHECK(again->json["scenes"][0]["extensions"]["TACKPOINT_layout"]["holograms"] == Json{1, 2, 3});
  layout["version"] = "2.0";
  const auto refused = read_delivery(*write_glb(glb->json, glb->binary), "new.glb", {});
  REQUIRE_FALSE(refused);
  CHECK(sentence(refused.error()).find("newer Tack Point") != std::string::npos);
}

TEST_CASE("an unknown extension that is required is refused by name") {
  Scene s;
  s.add(part_of("P", cube(10)));
  auto glb = read_glb(*write_document(s, {}));
  glb->json["extensionsRequired"] = Json::array({"HALL_marvels"});
  const auto refused = read_delivery(*write_glb(glb->json, glb->binary), "x.glb", {});
  REQUIRE_FALSE(refused);
  CHECK(sentence(refused.error()).find("HALL_marvels") != std::string::npos);
}

TEST_CASE("a delivery is handed over whole, and a damaged one refused") {
  const auto bytes = write_document(*demo::heron_hall(source("demo")), {});
  const auto delivery = read_delivery(*bytes, "x.glb", {});
  const Bytes packed = pack(*delivery);
  const auto back = unpack(packed);
  REQUIRE(back);
  check_same(document_of(*delivery)->scene, document_of(*back)->scene);
  Chance chance(92);
  // Cut off anywhere it is refused.
  for (int i = 0; i < 100; ++i)
    CHECK_FALSE(
        unpack(ByteView(packed).first(static_cast<std::size_t>(chance.whole(0, static_cast<int>(packed.size()) - 1)))));
  // Numbers that name something that is not there.
  REQUIRE(delivery->carried);
  const auto changed = [&](const auto& change) {
    Delivery wrong = *delivery;
    change(wrong);
    return unpack(pack(wrong));
  };
  CHECK(changed([](Delivery&) {}));
  CHECK_FALSE(changed([](Delivery& d) { d.parts[1].carried_mesh = 1 << 20; }));
  CHECK_FALSE(changed([](Delivery& d) { d.parts[1].carried_mesh = -2; }));
  CHECK_FALSE(changed([](Delivery& d) { d.parts[1].mesh = static_cast<int>(d.meshes.size()); }));
  CHECK_FALSE(changed([](Delivery& d) {
    d.parts[1].carried.emplace();
    d.parts[1].carried->original = d.carried->node_limit;
  }));
  CHECK_FALSE(changed([](Delivery& d) {
    auto document = std::make_shared<CarriedDocument>(*d.carried);
    document->other_nodes[document->node_limit] = Json::object();
    d.carried = document;
  }));
  // Whatever else is in it, what is accepted can be made into a scene and written.
  int accepted = 0;
  for (int i = 0; i < 200; ++i) {
    Bytes damaged = packed;
    for (int k = 0; k < 8; ++k)
      damaged[static_cast<std::size_t>(chance.whole(0, static_cast<int>(std::min<std::size_t>(damaged.size(), 60000)) -
                                                           1))] = static_cast<std::uint8_t>(chance.whole(0, 255));
    const auto result = unpack(damaged);
    const auto document = result ? document_of(*result) : Result<Document>(fail("refused"));
    if (!document) continue;
    ++accepted;
    (void)write_document(document->scene, {});
  }
  INFO(accepted << " of 200 were accepted");
  CHECK(accepted < 60);
}

TEST_CASE("saving is atomic and keeps the old file when it cannot be done") {
  const Folder folder;
  const std::string path = folder / "scene.glb";
  REQUIRE(save_atomically(path, Bytes{1, 2, 3}));
  REQUIRE(save_atomically(path, Bytes{4, 5}));
  CHECK(*read_file(path) == Bytes{4, 5});
  CHECK_FALSE(save_atomically(folder / "no/such/folder.glb", Bytes{1}));
  CHECK_FALSE(save_atomically(folder.path(), Bytes{1}));
  // A full disk.
  CHECK_FALSE(save_atomically("/dev/full", Bytes{1, 2, 3}));
  CHECK(std::distance(std::filesystem::directory_iterator(folder.path()), {}) == 1);
}
