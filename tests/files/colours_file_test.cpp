// The document's list of named colours in files: what came along stays as it came, what was changed is changed in
// place.
#include <catch2/catch.hpp>
#include <fstream>

#include "core/files/document.h"
#include "core/files/export.h"
#include "core/files/glb.h"
#include "core/verbs/verb.h"
#include "tests/files/document_checks.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

Scene carried_out(const Verb& verb, const Scene& scene) {
  auto result = tack::apply(verb, scene);
  INFO((result ? std::string() : sentence(result.error())));
  REQUIRE(result);
  return std::move(*result);
}

Paint give_colour(PartId part, const std::string& name) {
  Paint paint;
  paint.what = {part};
  paint.named = name;
  return paint;
}

Delivery delivered_text(const std::string& text, const char* name) {
  const auto delivery =
      read_delivery(ByteView(reinterpret_cast<const std::uint8_t*>(text.data()), text.size()), name, {});
  INFO((delivery ? std::string() : sentence(delivery.error())));
  REQUIRE(delivery);
  return *delivery;
}

// Two triangles that share their numbers, in two materials with textures of their own; one material has no name, one
// no part has.
Json two_tiles() {
  Json json = Json::parse(R"({
    "asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0, 1]}],
    "nodes": [{"name": "Tile", "mesh": 0}, {"name": "Rim", "mesh": 1}],
    "meshes": [{"primitives": [{"attributes": {"POSITION": 0}, "material": 0}]},
               {"primitives": [{"attributes": {"POSITION": 0}, "material": 1}]}],
    "materials": [
      {"name": "Glaze", "doubleSided": true, "extras": {"kiln": 3},
       "pbrMetallicRoughness": {"baseColorFactor": [0.2, 0.4, 0.6, 1], "roughnessFactor": 0.31}},
      {"pbrMetallicRoughness": {"baseColorFactor": [0.9, 0.1, 0.1, 1], "metallicFactor": 0.7}},
      {"name": "Spare"}],
    "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3", "min": [0, 0, 0], "max": [1, 1, 0]}],
    "bufferViews": [{"buffer": 0, "byteOffset": 0, "byteLength": 36}]
  })");
  json["buffers"] = Json::array({{{"byteLength", 36},
                                  {"uri",
                                   "data:application/octet-stream;base64,"
                                   "AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA"}}});
  return json;
}

Document tiles_document() {
  auto document = document_of(delivered_text(two_tiles().dump(), "tiles.gltf"));
  REQUIRE(document);
  return *document;
}

std::vector<std::string> names_on_list(const Scene& scene) {
  std::vector<std::string> all;
  for (const NamedColour& c : scene.colours()) all.push_back(c.name);
  return all;
}

Json written_json(const Scene& scene, const DocumentSettings& settings, Document* again = nullptr) {
  const auto bytes = write_document(scene, settings);
  INFO((bytes ? std::string() : sentence(bytes.error())));
  REQUIRE(bytes);
  check_valid(*bytes);
  const Document back = read_back(*bytes);
  CHECK(*write_document(back.scene, back.settings) == *bytes);
  CHECK(names_on_list(back.scene) == names_on_list(scene));
  for (std::size_t i = 0; i < scene.colours().size(); ++i) {
    const Colour &a = scene.colours()[i].colour, &b = back.scene.colours()[i].colour;
    CHECK(std::abs(a.r - b.r) + std::abs(a.g - b.g) + std::abs(a.b - b.b) < 1e-6f);
  }
  if (again) *again = back;
  return read_glb(*bytes)->json;
}

}  // namespace

TEST_CASE("imported materials stand on the list and are written as they came") {
  const Document d = tiles_document();
  CHECK(names_on_list(d.scene) == std::vector<std::string>{"Glaze", "Material 2", "Spare"});
  CHECK(d.scene.part(1).colour_names->front() == "Glaze");
  CHECK(d.scene.part(2).colour_names->front() == "Material 2");
  const Json json = written_json(d.scene, d.settings);
  CHECK(json["materials"] == two_tiles()["materials"]);
}

TEST_CASE("an imported material that is changed is changed in place, and nothing else of it") {
  Document d = tiles_document(), again;
  const Scene s = carried_out(EditColour{"Glaze", EditColour::Do::Change, {1, 0, 0, 1}, {}}, d.scene);
  Json expected = two_tiles()["materials"];
  expected[0]["pbrMetallicRoughness"]["baseColorFactor"] = Json::array({1.0, 0.0, 0.0, 1});
  const Json json = written_json(s, d.settings, &again);
  CHECK(json["materials"] == expected);
  CHECK(json["meshes"].size() == 2);  // no mesh was written anew for it
  CHECK(again.scene.part(1).colours.front().r == 1);
  // Back to what it was: the same bytes as if nothing had been done.
  const Scene back = carried_out(EditColour{"Glaze", EditColour::Do::Change, d.scene.colour("Glaze")->colour, {}}, s);
  CHECK(written_json(back, d.settings)["materials"] == two_tiles()["materials"]);
}

TEST_CASE("a renamed material keeps everything else, and one without a name keeps none until it gets one") {
  const Document d = tiles_document();
  Scene s = carried_out(EditColour{"Glaze", EditColour::Do::Rename, {}, "Enamel"}, d.scene);
  Json expected = two_tiles()["materials"];
  expected[0]["name"] = "Enamel";
  CHECK(written_json(s, d.settings)["materials"] == expected);
  s = carried_out(EditColour{"Material 2", EditColour::Do::Rename, {}, "Clay"}, s);
  expected[1]["name"] = "Clay";
  CHECK(written_json(s, d.settings)["materials"] == expected);
}

TEST_CASE("a part that gets a colour of the list shows that material and no copy of it") {
  Document d = tiles_document(), again;
  Scene s = carried_out(give_colour(2, "Glaze"), d.scene);
  Json json = written_json(s, d.settings, &again);
  CHECK(json["materials"] == two_tiles()["materials"]);
  CHECK(again.scene.part(2).colour_names->front() == "Glaze");
  // A colour that was named here becomes one material, whoever has it.
  s = carried_out(NameColour{"Slate", {0.3f, 0.35f, 0.4f, 1}, {1, 2}}, s);
  json = written_json(s, d.settings, &again);
  REQUIRE(json["materials"].size() == 4);
  CHECK(json["materials"][3]["name"] == "Slate");
  CHECK(parts_with(again.scene, "Slate") == std::vector<PartId>{1, 2});
  // Changed after it was read back it stays one.
  s = carried_out(EditColour{"Slate", EditColour::Do::Change, {0, 1, 0, 1}, {}}, again.scene);
  json = written_json(s, again.settings, &again);
  CHECK(json["materials"].size() == 4);
  CHECK(again.scene.part(1).colours.front().g == Approx(1));
}

TEST_CASE("a colour off the list does not come back, and its parts look as before") {
  Document d = tiles_document(), again;
  Scene s = carried_out(EditColour{"Glaze", EditColour::Do::Change, {0, 0, 1, 1}, {}}, d.scene);
  s = carried_out(EditColour{"Glaze", EditColour::Do::Forget, {}, {}}, s);
  s = carried_out(EditColour{"Spare", EditColour::Do::Forget, {}, {}}, s);
  written_json(s, d.settings, &again);
  CHECK(names_on_list(again.scene) == std::vector<std::string>{"Material 2"});
  CHECK(again.scene.part(1).colours.front().b == Approx(1));
  CHECK(again.scene.part(1).colour_names == nullptr);
  // With nothing left on it the list stays empty.
  s = carried_out(EditColour{"Material 2", EditColour::Do::Forget, {}, {}}, again.scene);
  written_json(s, again.settings, &again);
  CHECK(again.scene.colours().empty());
}

TEST_CASE("of two materials with one name each keeps its own, whatever becomes of the other") {
  Json json = two_tiles();
  json["materials"][1]["name"] = "Glaze";
  auto d = document_of(delivered_text(json.dump(), "tiles.gltf"));
  REQUIRE(d);
  CHECK(names_on_list(d->scene) == std::vector<std::string>{"Glaze", "Glaze 2", "Spare"});
  Document again;
  const Scene s = carried_out(EditColour{"Glaze", EditColour::Do::Forget, {}, {}}, d->scene);
  const Json out = written_json(s, d->settings, &again);
  CHECK(out["materials"] == json["materials"]);
  CHECK(again.scene.part(2).colour_names->front() == "Glaze 2");
  // Another program renames the material: its name counts.
  const auto bytes = write_document(s, d->settings);
  Json renamed = read_glb(*bytes)->json;
  renamed["materials"][1]["name"] = "Slip";
  const auto read = read_delivery(*write_glb(renamed, read_glb(*bytes)->binary), "tiles.glb", {});
  REQUIRE(read);
  CHECK(read->colours.front().name == "Slip");
}

TEST_CASE("ten thousand materials of one name are told apart, read and brought in a second time") {
  Json json = two_tiles();
  json["materials"] = Json::array();
  for (int i = 0; i < 10000; ++i) json["materials"].push_back({{"name", "Glaze"}});
  const auto d = document_of(delivered_text(json.dump(), "tiles.gltf"));
  REQUIRE(d);
  REQUIRE(d->scene.colours().size() == 10000);
  CHECK(d->scene.colours().back().name == "Glaze 10000");
  const auto twice = bring_of(delivered_text(json.dump(), "tiles.gltf"), "tiles.gltf", d->scene);
  REQUIRE(twice);
  CHECK(carried_out(*twice, d->scene).colours().size() == 10000);
}

TEST_CASE("colours without a name are on no list, however often the document is read") {
  Scene s;
  s.add(part_of("Post", cube(20), {}));
  s = carried_out(Paint{{1}, {0.2f, 0.4f, 0.6f, 1}, {}}, s);
  Document again;
  written_json(s, {}, &again);
  CHECK(again.scene.colours().empty());
  // As a file of another program: its extensions are gone, its materials are not.
  auto bytes = write_document(s, {});
  Json json = read_glb(*bytes)->json;
  json["scenes"][0].erase("extensions");
  const auto foreign = read_delivery(*write_glb(json, read_glb(*bytes)->binary), "post.glb", {});
  REQUIRE(foreign);
  CHECK(foreign->colours.empty());
}

TEST_CASE("a part that is see-through is so again after it has been read") {
  Scene s;
  s.add(part_of("Pane", cube(20), {}));
  s = carried_out(SeeThrough{{1}, true}, s);
  Document again;
  written_json(s, {}, &again);
  CHECK(again.scene.part(1).see_through);
  Delivery delivery;
  const auto read = read_delivery(*write_document(s, {}), "pane.glb", {});
  REQUIRE(read);
  const auto handed = unpack(pack(*read));  // through the import helper
  REQUIRE(handed);
  CHECK(handed->parts[0].see_through);
}

TEST_CASE("bringing in: a colour that looks the same is the same, another gets a number") {
  const Document d = tiles_document();
  // The same file again: nothing twice on the list, and both parts change together.
  const auto twice = bring_of(delivered_text(two_tiles().dump(), "tiles.gltf"), "tiles.gltf", d.scene);
  REQUIRE(twice);
  Scene s = carried_out(*twice, d.scene);
  CHECK(names_on_list(s) == std::vector<std::string>{"Glaze", "Material 2", "Spare"});
  CHECK(parts_with(s, "Glaze").size() == 2);
  s = carried_out(EditColour{"Glaze", EditColour::Do::Change, {1, 1, 0, 1}, {}}, s);
  Document again;
  const Json json = written_json(s, d.settings, &again);
  CHECK(json["materials"].size() == 6);
  CHECK(json["materials"][0]["pbrMetallicRoughness"]["baseColorFactor"] ==
        json["materials"][3]["pbrMetallicRoughness"]["baseColorFactor"]);
  CHECK(parts_with(again.scene, "Glaze").size() == 2);
  // One that looks otherwise: both stay, under two names.
  Json other = two_tiles();
  other["materials"][0]["pbrMetallicRoughness"]["baseColorFactor"][0] = 0.8;
  const auto unlike = bring_of(delivered_text(other.dump(), "tiles.gltf"), "tiles.gltf", d.scene);
  REQUIRE(unlike);
  s = carried_out(*unlike, d.scene);
  CHECK(parts_with(s, "Spare").empty());
  CHECK(names_on_list(s) == std::vector<std::string>{"Glaze", "Material 2", "Spare", "Glaze 2"});
  CHECK(parts_with(s, "Glaze 2").size() == 1);
  written_json(s, d.settings);
  // Into an empty scene only what a part has comes along.
  const auto alone = bring_of(delivered_text(two_tiles().dump(), "tiles.gltf"), "tiles.gltf", Scene{});
  REQUIRE(alone);
  CHECK(names_on_list(carried_out(*alone, Scene{})) == std::vector<std::string>{"Glaze", "Material 2"});
  // Under one base colour pictures may differ: such materials stay apart.
  Json pictured = two_tiles();
  pictured["materials"][0]["normalTexture"] = {{"index", 0}};
  pictured["textures"] = Json::array({Json::object()});
  const auto pictures = bring_of(delivered_text(pictured.dump(), "tiles.gltf"), "tiles.gltf", d.scene);
  REQUIRE(pictures);
  s = carried_out(*pictures, d.scene);
  CHECK(s.colour("Glaze 2")->textured);
}

TEST_CASE("the materials of an OBJ stand on the list by their names") {
  const Folder folder;
  const auto put = [](const std::string& path, const char* text) { std::ofstream(path) << text; };
  put(folder / "wall.mtl", "newmtl Brick\nKd 0.7 0.3 0.2\nnewmtl Mortar\nKd 0.6 0.6 0.6\n");
  put(folder / "wall.obj",
      "mtllib wall.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nusemtl Brick\nf 1 2 3\nusemtl Mortar\nf 2 4 3\n");
  const auto delivery = read_delivery(folder / "wall.obj", {});
  REQUIRE(delivery);
  auto document = document_of(*delivery);
  REQUIRE(document);
  CHECK(names_on_list(document->scene) == std::vector<std::string>{"Brick", "Mortar"});
  CHECK(*document->scene.part(1).colour_names == std::vector<std::string>{"Brick", "Mortar"});
  // One of the two changes, the other does not.
  const Scene s = carried_out(EditColour{"Mortar", EditColour::Do::Change, {0, 0, 0, 1}, {}}, document->scene);
  Document again;
  written_json(s, {}, &again);
  CHECK(again.scene.part(1).colours[0].r == Approx(0.7f).margin(1e-6));
  CHECK(again.scene.part(1).colours[1].r == 0);
}

TEST_CASE("a damaged list of colours is passed over, not believed") {
  Scene s;
  s.add(part_of("Post", cube(20), {}));
  s = carried_out(NameColour{"Beech", {0.8f, 0.6f, 0.4f, 1}, {1}}, s);
  const auto bytes = write_document(s, {});
  const auto glb = read_glb(*bytes);
  for (const char* list :
       {"7", "[7]", "[{}]", R"([{"name": 3, "materials": [0]}])", R"([{"name": "x", "materials": [99]}])",
        R"([{"name": "x", "materials": [-1, 0.5, "a", null]}])",
        R"([{"name": "x", "materials": [0, 0]}, {"name": "y", "materials": [0]}])"}) {
    INFO(list);
    Json json = glb->json;
    json["scenes"][0]["extensions"]["TACKPOINT_layout"]["colours"] = Json::parse(list);
    const auto delivery = read_delivery(*write_glb(json, glb->binary), "post.glb", {});
    REQUIRE(delivery);
    auto document = document_of(*delivery);
    REQUIRE(document);
    CHECK(document->scene.colours().size() <= 1);
    CHECK(write_document(document->scene, {}));
  }
}
