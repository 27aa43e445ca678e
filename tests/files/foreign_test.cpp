// What other programs write, and what becomes of it: numbers that stay, meshes that joints bend, animations, zeros,
// compressed attributes, and files that go behind others. Positions in the world against independent readers are
// compared in corpus_test.cpp.
#include <catch2/catch.hpp>
#include <thread>

#include "core/files/beside.h"
#include "core/files/document.h"
#include "core/files/export.h"
#include "core/files/glb.h"
#include "core/files/gltf_data.h"
#include "core/files/import.h"
#include "core/verbs/verb.h"
#include "tests/files/document_checks.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

std::filesystem::path odd(const char* name) { return source("tests/files/odd") + "/" + name; }

Document opened(const std::filesystem::path& path) {
  const auto delivery = import_file(path, {});
  INFO((delivery ? std::string() : sentence(delivery.error())));
  REQUIRE(delivery);
  auto document = document_of(*delivery);
  REQUIRE(document);
  return *document;
}

Glb written(const Scene& scene) {
  const auto bytes = write_document(scene, {});
  REQUIRE(bytes);
  return *read_glb(*bytes);
}

Result<Scene> did(const Scene& scene, const Json& step) {
  const auto verb = verb_from_json(step, scene);
  INFO((verb ? std::string() : sentence(verb.error())));
  REQUIRE(verb);
  return tack::apply(*verb, scene);
}

PartId named(const Scene& scene, const std::string& name) {
  for (const PartId id : scene.in_tree_order())
    if (scene.part(id).name == name) return id;
  FAIL("no part " << name);
  return kNoPart;
}

Box world_box(const Scene& scene, PartId id) { return world_box_of(*scene.part(id).mesh, world_of(scene, id)); }

// The number of a node by its name; −1 when there is none.
int node_named(const Json& json, const std::string& name) {
  for (std::size_t i = 0; i < json["nodes"].size(); ++i)
    if (json["nodes"][i].value("name", "") == name && json["nodes"][i].contains("mesh")) return static_cast<int>(i);
  return -1;
}

Json source_json(const char* name) {
  const auto bytes = read_file(odd(name));
  REQUIRE(bytes);
  return read_glb(*bytes)->json;
}

}  // namespace

TEST_CASE("nodes, meshes, accessors and materials keep their numbers") {
  for (const char* name : {"numbers_in_extensions.glb", "pointer.glb", "rich.glb", "variants.glb", "animated.glb"}) {
    INFO(name);
    const Json before = source_json(name);
    Scene scene = opened(odd(name)).scene;
    // Also after something was deleted, and with a part of our own.
    scene.add(part_of("Ours", cube(10)));
    const Json after = written(scene).json;
    for (const char* list : {"meshes", "accessors", "materials", "skins", "animations", "images", "textures"}) {
      if (!before.contains(list)) continue;
      REQUIRE(after[list].size() >= before[list].size());
      for (std::size_t i = 0; i < before[list].size(); ++i) CHECK(after[list][i] == before[list][i]);
    }
    for (std::size_t i = 0; i < before["nodes"].size(); ++i) {
      const Json& node = after["nodes"][i];
      CHECK(node.value("mesh", -1) == before["nodes"][i].value("mesh", -1));
      if (before["nodes"][i].contains("extensions"))
        for (const auto& [key, value] : before["nodes"][i]["extensions"].items())
          CHECK(node["extensions"][key] == value);
    }
    if (before.contains("extensions")) CHECK(after["extensions"] == before["extensions"]);
  }
}

TEST_CASE("a number stays that of what was deleted") {
  const Document document = opened(odd("animated.glb"));
  const auto after = did(document.scene, {{"verb", "delete"}, {"what", {"still"}}});
  REQUIRE(after);
  const Json before = source_json("animated.glb"), json = written(*after).json;
  const auto still = static_cast<std::size_t>(node_named(before, "still"));
  CHECK_FALSE(json["nodes"][still].contains("mesh"));
  CHECK(json["animations"] == before["animations"]);
  check_valid(*write_document(*after, {}));
}

TEST_CASE("a compressed model goes behind any document, and can be opened again") {
  const auto model = import_file(odd("rich.meshmed.glb"), {});
  REQUIRE(model);
  for (const std::filesystem::path& first :
       {std::filesystem::path(source("demo/heron-hall-parts.glb")), odd("rich.meshmed.glb"), odd("variants.glb"),
        odd("rich.draco.glb"), odd("skinned_roots.glb")}) {
    INFO(first.string());
    const Document document = opened(first);
    const auto bring = bring_of(*model, "rich.meshmed.glb", document.scene);
    REQUIRE(bring);
    const auto scene = tack::apply(Verb(*bring), document.scene);
    REQUIRE(scene);
    const auto bytes = write_document(*scene, {});
    REQUIRE(bytes);
    const Document back = read_back(*bytes);
    CHECK(back.scene.size() == scene->size());
    for (const PartId id : scene->in_tree_order())
      if (scene->part(id).mesh) {
        const Box was = world_box(*scene, id),
                  is = world_box(back.scene, find_by_path(back.scene, path_of(*scene, id)).value());
        CHECK(distance(was.low, is.low) + distance(was.high, is.high) < 1e-6 * (1 + was.extent()));
      }
  }
}

TEST_CASE("numbers in extensions are shifted where they are known, and said where not") {
  const Document document = opened(odd("numbers_in_extensions.glb"));
  const auto second = import_file(odd("numbers_in_extensions.glb"), {});
  REQUIRE(second);
  const auto bring = bring_of(*second, "twice.glb", document.scene);
  REQUIRE(bring);
  const Json before = source_json("numbers_in_extensions.glb");
  const Json json = written(*tack::apply(Verb(*bring), document.scene)).json;
  const auto nodes = static_cast<int>(before["nodes"].size()), accessors = static_cast<int>(before["accessors"].size());
  for (int i = 0; i < nodes; ++i) {
    const Json &was = before["nodes"][static_cast<std::size_t>(i)],
               &is = json["nodes"][static_cast<std::size_t>(i + nodes)];
    if (!was.contains("extensions")) continue;
    const Json& e = was["extensions"];
    if (e.contains("MSFT_lod"))
      CHECK(is["extensions"]["MSFT_lod"]["ids"][1] == e["MSFT_lod"]["ids"][1].get<int>() + nodes);
    if (e.contains("EXT_mesh_gpu_instancing"))
      CHECK(is["extensions"]["EXT_mesh_gpu_instancing"]["attributes"]["TRANSLATION"] ==
            e["EXT_mesh_gpu_instancing"]["attributes"]["TRANSLATION"].get<int>() + accessors);
    if (e.contains("KHR_physics_rigid_bodies"))
      CHECK(is["extensions"]["KHR_physics_rigid_bodies"]["joint"]["connectedNode"] ==
            e["KHR_physics_rigid_bodies"]["joint"]["connectedNode"].get<int>() + nodes);
  }
  // What both have for the whole document, and cannot be put together, is said.
  CHECK_FALSE(bring->notes.empty());

  // One that nobody knows: said by name, and left out on request.
  Scene strange;
  strange.add(part_of("Strange", cube(10)));
  auto glb = written(strange);
  glb.json["nodes"][1]["extensions"]["ACME_wiring"] = {{"to", {0, 1}}};
  glb.json["extensionsUsed"].push_back("ACME_wiring");
  const auto unknown = read_delivery(*write_glb(glb.json, glb.binary), "strange.glb", {});
  REQUIRE(unknown);
  CHECK(unknown_numbers_in(*unknown) == std::set<std::string>{"ACME_wiring"});
  const auto kept = bring_of(*unknown, "strange.glb", document.scene);
  REQUIRE(kept);
  CHECK(kept->notes.back().find("ACME_wiring") != std::string::npos);
  const auto dropped = bring_of(*unknown, "strange.glb", document.scene, {UnknownNumbers::LeaveOut, false});
  REQUIRE(dropped);
  CHECK(written(*tack::apply(Verb(*kept), document.scene)).json.dump().find("ACME_wiring") != std::string::npos);
  CHECK(written(*tack::apply(Verb(*dropped), document.scene)).json.dump().find("ACME_wiring") == std::string::npos);
}

TEST_CASE("animation pointers of a second file name what they named") {
  const Document document = opened(odd("rich.glb"));
  const auto second = import_file(odd("pointer.glb"), {});
  REQUIRE(second);
  const Json before = source_json("pointer.glb");
  const auto scene = tack::apply(Verb(*bring_of(*second, "pointer.glb", document.scene)), document.scene);
  REQUIRE(scene);
  const Json json = written(*scene).json;
  const auto pointer_in = [](const Json& animations) {
    for (const Json& animation : animations)
      for (const Json& channel : animation["channels"])
        if (channel["target"].contains("extensions"))
          return channel["target"]["extensions"]["KHR_animation_pointer"]["pointer"].get<std::string>();
    return std::string();
  };
  const std::string was = pointer_in(before["animations"]), is = pointer_in(json["animations"]);
  REQUIRE(was.starts_with("/nodes/"));
  const int node = std::stoi(was.substr(7)), now = std::stoi(is.substr(7));
  CHECK(now == node + static_cast<int>(source_json("rich.glb")["nodes"].size()));
}

TEST_CASE("a mesh that joints bend is moved by what carries them, and nothing else of it can be done") {
  const Document document = opened(odd("skinned_children.glb"));
  const Scene& scene = document.scene;
  PartId body = kNoPart;
  for (const PartId id : scene.in_tree_order())
    if (scene.part(id).skin) body = id;
  REQUIRE(body != kNoPart);
  const Box was = world_box(scene, body);
  const std::string path = path_of(scene, body);
  const auto moved = did(scene, {{"verb", "move"}, {"what", {path}}, {"by", {100, 0, 0}}});
  REQUIRE(moved);
  CHECK(distance(world_box(*moved, body).low, was.low + Vec3{100, 0, 0}) < 1e-9 * was.extent());
  CHECK(moved->part(body).mesh == scene.part(body).mesh);
  const Document back = read_back(*write_document(*moved, {}));
  CHECK(distance(world_box(back.scene, body).low, was.low + Vec3{100, 0, 0}) < 1e-6 * was.extent());

  // A joint that turns bends the mesh.
  const PartId joint = scene.part(body).skin->joints.back();
  const auto bent = did(scene, {{"verb", "rotate"}, {"what", {path_of(scene, joint)}}, {"angle", 40}, {"round", "x"}});
  REQUIRE(bent);
  CHECK(bent->part(body).mesh != scene.part(body).mesh);
  CHECK(bent->part(body).mesh->positions().size() == scene.part(body).mesh->positions().size());

  // A joint whose own axes are turned bends nothing: they are no part of what the file calls the joint.
  const auto axes = did(scene, {{"verb", "pivot"}, {"what", {path_of(scene, joint)}}, {"turned", "world"}});
  INFO((axes ? std::string() : sentence(axes.error())));
  REQUIRE(axes);
  CHECK(distance(world_box(*axes, body).low, was.low) + distance(world_box(*axes, body).high, was.high) <
        1e-9 * was.extent());
  const Document turned = read_back(*write_document(*axes, {}));
  CHECK(turned.notes.empty());
  CHECK(distance(world_box(turned.scene, body).low, was.low) < 1e-6 * was.extent());

  // Refused in words: a bake, and a joint that goes while its mesh stays.
  const auto baked = did(scene, {{"verb", "bake"}, {"what", {path}}, {"scale", true}, {"rotation", true}});
  REQUIRE_FALSE(baked);
  CHECK(baked.error().what.find("joints") != std::string::npos);
  const auto cut = did(scene, {{"verb", "delete"}, {"what", {path_of(scene, joint)}}});
  REQUIRE_FALSE(cut);
  CHECK(cut.error().what.find("joint of") != std::string::npos);
  CHECK(did(scene, {{"verb", "delete"}, {"what", {path}}}));

  // A copy has joints of its own: it stands where it was put, and stays when the first is moved.
  const auto copied = did(scene, {{"verb", "copy"}, {"what", {path}}, {"by", {500, 0, 0}}});
  REQUIRE(copied);
  const Document two = read_back(*write_document(*copied, {}));
  std::vector<PartId> bodies;
  for (const PartId id : two.scene.in_tree_order())
    if (two.scene.part(id).skin) bodies.push_back(id);
  REQUIRE(bodies.size() >= 2);
  CHECK(distance(world_box(two.scene, bodies.back()).low, was.low + Vec3{500, 0, 0}) < 1e-6 * was.extent());
}

TEST_CASE("one of several meshes on the same joints names what carries them") {
  // Two meshes on the joints of skinned_roots.glb.
  const auto bytes = read_file(odd("skinned_roots.glb"));
  auto glb = *read_glb(*bytes);
  std::size_t mesh_node = 0;
  while (!glb.json["nodes"][mesh_node].contains("skin")) ++mesh_node;
  Json twin = glb.json["nodes"][mesh_node];
  twin["name"] = "Coat";
  glb.json["scenes"][0]["nodes"].push_back(glb.json["nodes"].size());
  glb.json["nodes"].push_back(twin);
  const auto delivery = read_delivery(*write_glb(glb.json, glb.binary), "two.glb", {});
  REQUIRE(delivery);
  const Scene scene = document_of(*delivery)->scene;
  const PartId coat = named(scene, "Coat");
  const auto moved = did(scene, {{"verb", "move"}, {"what", {path_of(scene, coat)}}, {"by", {100, 0, 0}}});
  REQUIRE_FALSE(moved);
  const PartId carrier = carrier_of_joints(scene, coat);
  REQUIRE(carrier != kNoPart);
  CHECK(moved.error().remedy.find(scene.part(carrier).name) != std::string::npos);
  const Box was = world_box(scene, coat);
  const auto all = did(scene, {{"verb", "move"}, {"what", {path_of(scene, carrier)}}, {"by", {100, 0, 0}}});
  REQUIRE(all);
  CHECK(distance(world_box(*all, coat).low, was.low + Vec3{100, 0, 0}) < 1e-9 * was.extent());
}

TEST_CASE("a second scene with the same figure keeps joints of its own") {
  const Document document = opened(odd("scenes_skin.glb"));
  const auto bytes = write_document(document.scene, {});
  check_valid(*bytes);
  const Document back = read_back(*bytes);
  CHECK(*write_document(back.scene, {}) == *bytes);
}

TEST_CASE("what an animated part takes in is undone below it") {
  const Document document = opened(odd("animated.glb"));
  const auto baked =
      did(document.scene, {{"verb", "bake"}, {"what", {"animated/pa"}}, {"scale", true}, {"rotation", true}});
  INFO((baked ? std::string() : sentence(baked.error())));
  REQUIRE(baked);
  const Document back = read_back(*write_document(*baked, {}));
  CHECK(back.notes.empty());
  for (const PartId id : baked->in_tree_order()) {
    const Affine was = world_of(*baked, id), is = world_of(back.scene, id);
    CHECK(distance(was.translation, is.translation) < 1e-9 * (1 + length(was.translation)));
  }
  // Again, and further: what is taken in adds up.
  const auto twice = did(back.scene, {{"verb", "rotate"}, {"what", {"animated/pa"}}, {"angle", 30}, {"round", "z"}});
  REQUIRE(twice);
  const auto again = did(*twice, {{"verb", "bake"}, {"what", {"animated/pa"}}, {"rotation", true}});
  REQUIRE(again);
  check_valid(*write_document(*again, {}));
  CHECK(read_back(*write_document(*again, {})).notes.empty());
}

TEST_CASE("a factor of 0 is kept, and what it flattens can be moved") {
  const Document document = opened(odd("flattened.glb"));
  const Json before = source_json("flattened.glb");
  const Scene& scene = document.scene;
  CHECK(scene.part(named(scene, "flat y")).placement.scale.y == 1);
  CHECK(scene.part(named(scene, "flat y")).placement.scale.z == 0);
  for (const PartId id : scene.in_tree_order()) CHECK_FALSE(scene.part(id).hidden);
  CHECK(world_of(scene, named(scene, "flat matrix")).translation == Vec3{9000, -2000, 1000});
  const auto moved = did(scene, {{"verb", "move"}, {"what", {"flat y", "gone", "flat matrix"}}, {"by", {0, 0, 50}}});
  REQUIRE(moved);
  const auto turned = did(*moved, {{"verb", "rotate"}, {"what", {"flat y", "gone"}}, {"angle", 30}, {"round", "x"}});
  REQUIRE(turned);
  CHECK(turned->part(named(*turned, "flat y")).placement.scale.z == 0);
  const Document back = read_back(*write_document(*turned, {}));
  for (const PartId id : turned->in_tree_order()) {
    const Affine was = world_of(*turned, id), is = world_of(back.scene, id);
    CHECK(distance(was.translation, is.translation) < 1e-9 * (1 + length(was.translation)));
    for (int c = 0; c < 3; ++c)
      CHECK(distance(was.linear.column[c], is.linear.column[c]) < 1e-9 * (1 + length(was.linear.column[c])));
  }
  // Its size cannot be had back by a factor, but by one that is typed.
  CHECK(did(scene, {{"verb", "place"}, {"what", {"flat y"}}, {"scale", {nullptr, nullptr, 2}}}));
  // No verb makes a zero.
  CHECK_FALSE(did(scene, {{"verb", "place"}, {"what", {"fine"}}, {"scale", {0, nullptr, nullptr}}}));
}

TEST_CASE("a part that grows from nothing is moved where it grows") {
  const Document document = opened(odd("animated.glb"));
  const PartId part = named(document.scene, "grows from nothing");
  CHECK(document.scene.part(part).placement.scale == Vec3{});
  const auto moved =
      did(document.scene, {{"verb", "move"}, {"what", {path_of(document.scene, part)}}, {"by", {40, 50, 60}}});
  REQUIRE(moved);
  const Document back = read_back(*write_document(*moved, {}));
  CHECK(back.notes.empty());
  CHECK(distance(world_of(back.scene, part).translation,
                 world_of(document.scene, part).translation + Vec3{40, 50, 60}) < 1e-6);
  const auto grown =
      did(document.scene, {{"verb", "place"}, {"what", {path_of(document.scene, part)}}, {"scale", {1, 1, 1}}});
  REQUIRE_FALSE(grown);
  CHECK(grown.error().what.find("animation") != std::string::npos);
}

TEST_CASE("baking leaves the other attributes of a compressed mesh as they were") {
  const Document document = opened(odd("rich.draco.glb"));
  const Json before = source_json("rich.draco.glb");
  Scene scene = document.scene;
  std::size_t count = 0;
  for (const PartId id : scene.in_tree_order()) {
    auto after = did(scene, {{"verb", "bake"}, {"what", {path_of(scene, id)}}, {"scale", true}, {"rotation", true}});
    if (!after) continue;
    scene = std::move(*after);
    ++count;
  }
  REQUIRE(count > 0);
  const auto bytes = write_document(scene, {});
  check_valid(*bytes);
  const auto glb = read_glb(*bytes);
  for (const Json& mesh : glb->json["meshes"])
    for (const Json& primitive : mesh["primitives"]) {
      if (primitive.contains("extensions") && primitive["extensions"].contains("KHR_draco_mesh_compression")) continue;
      for (const auto& [name, number] : primitive["attributes"].items()) {
        const Json& accessor = glb->json["accessors"][number.get<std::size_t>()];
        if (name.starts_with("COLOR") && accessor["componentType"] != 5126) CHECK(accessor["normalized"] == true);
      }
    }
}

TEST_CASE("under a mirror tangents keep their handedness") {
  const Document document = opened(odd("rich.glb"));
  const auto tangents = [](const Scene& scene) {
    std::map<std::string, std::vector<double>> hands;
    const auto glb = written(scene);
    GltfData data(glb.json, glb.binary);
    for (const Json& node : glb.json["nodes"]) {
      if (!node.contains("mesh")) continue;
      const Json& attributes = glb.json["meshes"][node["mesh"].get<std::size_t>()]["primitives"][0]["attributes"];
      if (!attributes.contains("TANGENT")) continue;
      const auto numbers = data.numbers(attributes["TANGENT"].get<std::uint64_t>(), 4);
      for (std::size_t i = 3; i < numbers->size(); i += 4)
        hands[std::to_string(node["mesh"].get<int>())].push_back((*numbers)[i]);
    }
    return hands;
  };
  Scene scene = document.scene;
  const PartId part = named(scene, "parent/with#odd");
  const auto first = tangents(scene);
  REQUIRE_FALSE(first.empty());
  Placement mirrored = scene.part(part).placement;
  mirrored.scale.x = -mirrored.scale.x;
  scene.place(part, mirrored);
  const auto baked = did(scene, {{"verb", "bake"}, {"what", {path_of(scene, part)}}, {"scale", true}});
  REQUIRE(baked);
  std::size_t plus = 0, minus = 0;
  for (const auto& [mesh, hands] : tangents(*baked))
    for (const double hand : hands) (hand > 0 ? plus : minus)++;
  CHECK(plus > 0);
  CHECK(minus > 0);
}

TEST_CASE("line breaks in names reach no format that they would break") {
  const Document document = opened(odd("inject.glb"));
  const auto obj = write_obj(document.scene, {});
  REQUIRE(obj);
  const auto back = read_delivery(*obj, "back.obj", {});
  REQUIRE(back);
  REQUIRE(back->parts.size() == 2);
  const Scene again = document_of(*back)->scene;
  for (const PartId id : document.scene.in_tree_order()) {
    const Box was = world_box(document.scene, id), is = world_box(again, id);
    CHECK(distance(was.low, is.low) + distance(was.high, is.high) < 1e-9);
  }
}

TEST_CASE("damage in nodes is refused, not passed over") {
  Scene scene;
  scene.add(part_of("P", cube(10)));
  const auto glb = written(scene);
  const auto refused = [&](const char* key, const Json& value) {
    Json json = glb.json;
    json["nodes"][1][key] = value;
    const auto read = read_delivery(*write_glb(json, glb.binary), "damaged.glb", {});
    return !read && read.error().where.find("damaged.glb") != std::string::npos;
  };
  CHECK(refused("translation", Json::array({1, 2})));
  CHECK(refused("rotation", "none"));
  CHECK(refused("mesh", 7));
  CHECK(refused("skin", 0));
  CHECK(refused("matrix", Json::array({1, 0, 0, 0.5, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1})));
  Json newer = glb.json;
  newer["asset"]["minVersion"] = "2.9";
  const auto read = read_delivery(*write_glb(newer, glb.binary), "newer.glb", {});
  REQUIRE_FALSE(read);
  CHECK(read.error().what.find("2.9") != std::string::npos);
  const std::string old = R"({"asset":{"version":"1.0"},"buffers":{"b":{"uri":"x.bin"}},"meshes":{}})";
  const auto first =
      read_delivery(ByteView(reinterpret_cast<const std::uint8_t*>(old.data()), old.size()), "old.gltf", {});
  REQUIRE_FALSE(first);
  CHECK(first.error().what == "This is glTF version 1.0; only version 2 can be read.");
}

TEST_CASE("a bent mesh that has lost its joints, or its shape, is a part like others") {
  const Glb glb = written(opened(odd("skinned_children.glb")).scene);
  for (const char* lost : {"skin", "mesh", "names of joints"}) {
    INFO(lost);
    Json json = glb.json;
    json.erase("animations");
    std::size_t found = 0;
    for (Json& node : json["nodes"])
      if (node.contains("skin")) {
        if (std::string(lost) == "names of joints")
          for (Json& primitive : json["meshes"][node["mesh"].get<std::size_t>()]["primitives"])
            primitive["attributes"].erase("JOINTS_0");
        node.erase(lost);
        ++found;
      }
    REQUIRE(found == 1);
    if (std::string(lost) == "skin") json.erase("skins");
    const auto read = read_delivery(*write_glb(json, glb.binary), "lost.glb", {});
    INFO((read ? std::string() : sentence(read.error())));
    REQUIRE(read);
    const auto document = document_of(*read);
    REQUIRE(document);
    for (const PartId id : document->scene.in_tree_order()) CHECK_FALSE(document->scene.part(id).skin);
    CHECK(write_document(document->scene, {}));
  }
}

TEST_CASE("a mesh whose vertices name no joints is shown as it is, and it is said") {
  Json json = source_json("skinned_children.glb");
  for (Json& mesh : json["meshes"])
    for (Json& primitive : mesh["primitives"]) primitive["attributes"].erase("JOINTS_0");
  const auto bytes = read_file(odd("skinned_children.glb"));
  const auto read = read_delivery(*write_glb(json, read_glb(*bytes)->binary), "unnamed.glb", {});
  REQUIRE(read);
  REQUIRE(read->notes.size() == 1);
  CHECK(read->notes[0].find("has joints that its vertices do not name") != std::string::npos);
  for (const DeliveredPart& part : read->parts) CHECK_FALSE(part.skin);
}

TEST_CASE("a scene that is asked for and not there is refused") {
  Json json{{"asset", {{"version", "2.0"}}}, {"nodes", {{{"name", "A"}}}}};
  ImportOptions second;
  second.scene = 1;
  CHECK(read_delivery(*write_glb(json, {}), "none.glb", {}));
  const auto none = read_delivery(*write_glb(json, {}), "none.glb", second);
  REQUIRE_FALSE(none);
  CHECK(none.error().what == "There is no scene 1: the file has none.");
  json["scenes"] = {{{"nodes", {0}}}};
  const auto one = read_delivery(*write_glb(json, {}), "one.glb", second);
  REQUIRE_FALSE(one);
  CHECK(one.error().what == "There is no scene 1: the file has 1.");
}

TEST_CASE("a few bytes that say they are millions of numbers are refused") {
  Json json{{"asset", {{"version", "2.0"}}},
            {"scenes", {{{"nodes", {0}}}}},
            {"nodes", {{{"mesh", 0}}}},
            {"accessors", {{{"componentType", 5126}, {"count", 50000000}, {"type", "VEC3"}}}},
            {"meshes", {{{"primitives", {{{"attributes", {{"POSITION", 0}}}}}}}}}};
  const auto read = [](const Json& j) { return read_delivery(*write_glb(j, {}), "bomb.glb", {}); };
  CHECK_FALSE(read(json));
  json["accessors"][0]["sparse"] = {{"count", 0}, {"indices", Json::object()}, {"values", Json::object()}};
  CHECK_FALSE(read(json));
  // One primitive again and again over one accessor costs what its triangles cost.
  Scene scene;
  scene.add(part_of("P", cube(10)));
  auto glb = written(scene);
  const Json primitive = glb.json["meshes"][0]["primitives"][0];
  for (int i = 0; i < 1000; ++i) glb.json["meshes"][0]["primitives"].push_back(primitive);
  const auto many = read_delivery(*write_glb(glb.json, glb.binary), "many.glb", {});
  REQUIRE(many);
  CHECK(many->meshes[0].positions.size() == scene.part(1).mesh->positions().size());
}

TEST_CASE("files beside a document are read from its folder and from nowhere else") {
  const Folder folder;
  std::filesystem::create_directories(folder / "inside/tex");
  std::filesystem::create_directories(folder / "outside");
  const auto picture = read_file(source("docs/screenshots/align.png"));
  const Bytes png = picture ? *picture : Bytes{0x89, 'P', 'N', 'G', 0, 0, 0, 0};
  REQUIRE(save_atomically(folder / "outside/secret.png", png));
  REQUIRE(save_atomically(folder / "inside/tex/dot..dot.png", png));
  std::filesystem::create_symlink(folder / "outside", folder / "inside/link");
  std::filesystem::create_symlink(folder / "outside/secret.png", folder / "inside/secret.png");
  Json json{{"asset", {{"version", "2.0"}}}, {"scenes", {{{"nodes", {0}}}}}, {"nodes", {{{"name", "empty"}}}}};
  json["images"] = Json::array();
  for (const char* uri : {"tex/dot..dot.png", "tex/../tex/dot..dot.png", "../outside/secret.png", "link/secret.png",
                          "secret.png", "missing.png"})
    json["images"].push_back({{"uri", uri}});
  const std::string text = json.dump();
  REQUIRE(save_atomically(folder / "inside/a.gltf",
                          ByteView(reinterpret_cast<const std::uint8_t*>(text.data()), text.size())));
  const Document document = opened(std::filesystem::path(folder / "inside/a.gltf"));
  const Json images = written(document.scene).json["images"];
  CHECK(images[0].contains("bufferView"));
  CHECK(images[1].contains("bufferView"));
  for (std::size_t i = 2; i < 6; ++i) CHECK(images[i].contains("uri"));
  CHECK(document.notes.size() == 4);

  // Where the system cannot look beneath a folder by itself, step by step: the same, but that no link is followed.
  const auto by_steps = [&](const char* name) -> std::string {
    const auto file = open_beside(folder / "inside", name, true);
    if (!file) return file.error().what;
    const auto bytes = read_descriptor(*file, name);
    return bytes && *bytes == png ? "read" : "not all of it";
  };
  CHECK(by_steps("tex/dot..dot.png") == "read");
  CHECK(by_steps("tex/../tex/dot..dot.png") == "read");
  for (const char* name : {"../outside/secret.png", "tex/../../outside/secret.png", "link/secret.png", "secret.png"}) {
    INFO(name);
    CHECK(by_steps(name).find("is outside the file's folder") != std::string::npos);
  }
  for (const char* name : {"missing.png", "tex/dot..dot.png/more", "nowhere/dot.png"}) {
    INFO(name);
    CHECK(by_steps(name).find("is not there, or cannot be read") != std::string::npos);
  }
}
