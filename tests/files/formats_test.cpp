#include <catch2/catch.hpp>

#include <fstream>
#include <nlohmann/json.hpp>

#include "core/files/export.h"
#include "core/files/import.h"
#include "core/files/steps.h"
#include "demo/heron_hall.h"
#include "tests/files/document_checks.h"

using namespace tack;
using namespace tack::test;

namespace {

Result<Delivery> read_text(const std::string& text, const std::string& name, const ImportOptions& options = {}) {
  return read_delivery(ByteView(reinterpret_cast<const std::uint8_t*>(text.data()), text.size()), name, options);
}

void write_text(const std::string& path, const std::string& text) { std::ofstream(path, std::ios::binary) << text; }

std::string message(const Result<Delivery>& result) {
  REQUIRE_FALSE(result);
  return sentence(result.error());
}

}  // namespace

TEST_CASE("OBJ: doubles kept, groups as parts, polygons cut, negative numbers, Y up") {
  const auto d = read_text(
      "# made up\nmtllib none.mtl\no Plate\nv 0.1 0.2 0.3\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\n"
      "g Pin\nv 5 5 5\nv 6 5 5\nv 5 6 \\\n 5\nf -3//1 -2/7/1 -1\n",
      "plate.obj");
  REQUIRE(d);
  REQUIRE(d->parts.size() == 2);
  CHECK(d->parts[0].name == "Plate");
  CHECK(d->parts[1].name == "Pin");
  CHECK(d->meshes[0].triangles.size() == 2);
  CHECK(d->meshes[1].positions.size() == 3);
  CHECK(d->meshes[0].positions[0] == Vec3{0.1, -0.3, 0.2});
  CHECK(d->notes.size() == 2);  // the material file, and corners that name normals which are not there
  ImportOptions inches;
  inches.unit = 25.4;
  inches.up = UpAxis::Z;
  CHECK(read_text("v 1 2 3\nv 0 0 0\nv 1 0 0\nf 1 2 3", "a.obj", inches)->meshes[0].positions[0] ==
        Vec3{25.4, 50.8, 3 * 25.4});
}

TEST_CASE("OBJ: materials give colours") {
  const Folder folder;
  write_text(folder / "a.mtl", "newmtl Coral\nKd 0.8 0.4 0.3\nnewmtl Glass\nKd 1 1 1\nd 0.5\n");
  write_text(folder / "a.obj",
             "mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nusemtl Coral\nf 1 2 3\nusemtl Glass\nf 2 4 3\n");
  const auto d = read_delivery(folder / "a.obj", {});
  REQUIRE(d);
  REQUIRE(d->parts[0].colours.size() == 2);
  CHECK(d->parts[0].colours[0].g == Approx(0.4f));
  CHECK(d->parts[0].colours[1].a == Approx(0.5f));
  CHECK(parts_of(*d));
}

TEST_CASE("OBJ: what is wrong is said with its line") {
  CHECK(message(read_text("v 1 2\n", "a.obj")).find("line 1") != std::string::npos);
  CHECK(message(read_text("v 1 2 3\nf 1 2 3\n", "a.obj")).find("line 2") != std::string::npos);
  CHECK(message(read_text("v 1 2 3\nf 1 1\n", "a.obj")).find("three corners") != std::string::npos);
  CHECK(message(read_text("v 1 2 nan\n", "a.obj")).find("numbers") != std::string::npos);
  CHECK(message(read_text("# nothing\n", "a.obj")).find("no vertices") != std::string::npos);
}

TEST_CASE("STL: both kinds, welded, and told apart by their length") {
  const std::string ascii =
      "solid Guard\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\n"
      "facet normal 0 0 1\nouter loop\nvertex 1 0 0\nvertex 1 1 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid\n";
  const auto a = read_text(ascii, "g.stl");
  REQUIRE(a);
  CHECK(a->parts[0].name == "Guard");
  CHECK(a->meshes[0].positions.size() == 4);
  CHECK(a->meshes[0].triangles.size() == 2);
  Scene s;
  s.add(part_of("Box", cube(10)));
  auto binary = *write_stl(s, {});
  std::copy_n("solid ", 6, binary.begin());  // what some programs write into a binary file
  const auto b = read_delivery(binary, "b.stl", {});
  REQUIRE(b);
  CHECK(b->meshes[0].positions.size() == 8);
  CHECK(b->meshes[0].triangles.size() == 12);
}

TEST_CASE("PLY: text and both byte orders, doubles and polygons") {
  const std::string head =
      "element vertex 4\nproperty double x\nproperty double y\nproperty double z\nproperty uchar red\nproperty uchar "
      "green\n"
      "property uchar blue\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n";
  const auto ascii = read_text(
      "ply\nformat ascii 1.0\n" + head + "0.1 0 0 255 0 0\n1 0 0 255 0 0\n1 1 0 255 0 0\n0 1 0 255 0 0\n4 0 1 2 3\n",
      "a.ply");
  REQUIRE(ascii);
  CHECK(ascii->meshes[0].positions[0].x == 0.1);
  CHECK(ascii->meshes[0].triangles.size() == 2);
  CHECK(ascii->parts[0].colours[0].r == Approx(1));
  std::string big = "ply\nformat binary_big_endian 1.0\n" + head;
  for (const Vec3 p : {Vec3{0.1, 0, 0}, Vec3{1, 0, 0}, Vec3{1, 1, 0}, Vec3{0, 1, 0}}) {
    for (int i = 0; i < 3; ++i) {
      std::array<char, 8> bytes{};
      const double v = p[i];
      std::memcpy(bytes.data(), &v, 8);
      big.append(bytes.rbegin(), bytes.rend());
    }
    big += std::string("\xff\0\0", 3);
  }
  big += std::string("\4\0\0\0\0\0\0\0\1\0\0\0\2\0\0\0\3", 17);
  const auto b = read_text(big, "b.ply");
  REQUIRE(b);
  CHECK(std::equal(b->meshes[0].positions.begin(), b->meshes[0].positions.end(), ascii->meshes[0].positions.begin(),
                   ascii->meshes[0].positions.end()));
}

TEST_CASE("exports read back the same, in any unit and with either axis up") {
  const Scene scene = *demo::heron_hall(source("demo"));
  for (const double unit : {1.0, 25.4, 1000.0})
    for (const UpAxis up : {UpAxis::Y, UpAxis::Z}) {
      ImportOptions in;
      in.unit = unit;
      in.up = up;
      const auto obj = read_delivery(*write_obj(scene, {unit, up}), "a.obj", in);
      const auto ply = read_delivery(*write_ply(scene, {unit, up}), "a.ply", in);
      const auto stl = read_delivery(*write_stl(scene, {unit, up}), "a.stl", in);
      REQUIRE((obj && ply && stl));
      const auto box = [](const Delivery& d) {
        Box b;
        for (const MeshSpans& m : d.meshes)
          for (const Vec3& p : m.positions) b.include(p);
        return b;
      };
      const Box truth = world_box_of(scene);
      CHECK(distance(box(*obj).low, truth.low) < 1e-10);
      CHECK(distance(box(*ply).high, truth.high) < 1e-10);
      CHECK(distance(box(*stl).high, truth.high) < 1e-3);
      std::size_t parts = 0;
      for (const PartId id : scene.in_tree_order()) parts += scene.part(id).mesh != nullptr;
      CHECK(obj->parts.size() == parts);
    }
  CHECK_FALSE(write_obj(Scene{}, {}));
}

namespace {

// At least 300 damaged variants: cut off, bytes changed, blocks zeroed, numbers made huge, lines repeated. Each must
// end in a delivery that makes sound parts, or in a sentence.
// `counted`: the format says how long the file is, so that one that is cut off anywhere is refused.
void damage(const Bytes& good, const std::string& name, std::uint64_t seed, bool counted = false) {
  Chance chance(seed);
  int refused = 0;
  for (int i = 0; i < 400; ++i) {
    Bytes bad = good;
    const auto at = [&] { return static_cast<std::size_t>(chance.whole(0, static_cast<int>(bad.size()) - 1)); };
    switch (i % 6) {
      case 0: bad.resize(at()); break;
      case 1:
        for (int k = 0; k < 4; ++k) bad[at()] = static_cast<std::uint8_t>(chance.whole(0, 255));
        break;
      case 2: {
        const std::size_t from = at();
        std::fill(bad.begin() + static_cast<std::ptrdiff_t>(from),
                  bad.begin() + static_cast<std::ptrdiff_t>(std::min(bad.size(), from + 64)), std::uint8_t{0});
        break;
      }
      case 3: {  // a digit becomes nines: counts, indices and offsets beyond all measure
        for (int tries = 0; tries < 2000; ++tries)
          if (const std::size_t k = at(); bad[k] >= '0' && bad[k] <= '9') {
            bad.insert(bad.begin() + static_cast<std::ptrdiff_t>(k), 7, '9');
            break;
          }
        break;
      }
      case 4: {
        const std::size_t from = at(), to = std::min(bad.size(), from + static_cast<std::size_t>(chance.whole(1, 200)));
        bad.erase(bad.begin() + static_cast<std::ptrdiff_t>(from), bad.begin() + static_cast<std::ptrdiff_t>(to));
        break;
      }
      default: {
        // The first kilobyte holds counts and structure: that is where damage is worst.
        for (int k = 0; k < 3; ++k)
          bad[static_cast<std::size_t>(
              chance.whole(0, static_cast<int>(std::min<std::size_t>(bad.size(), 1024)) - 1))] = 0xFF;
        break;
      }
    }
    const auto delivery = read_delivery(bad, name, {});
    if (counted && i % 6 == 0) CHECK_FALSE(delivery);
    if (!delivery) {
      ++refused;
      CHECK_FALSE(delivery.error().what.empty());
      continue;
    }
    const auto document = document_of(*delivery);
    if (!document) {
      ++refused;
      CHECK_FALSE(document.error().what.empty());
      continue;
    }
    // What was accepted can be used and written.
    for (const PartId id : document->scene.in_tree_order())
      if (const Part& part = document->scene.part(id); part.mesh) part.mesh->features();
    write_document(document->scene, document->settings);
  }
  CHECK(refused > 20);
}

}  // namespace

TEST_CASE("damaged GLB files end in a sentence") { damage(*write_document(two_boxes(), {}), "a.glb", 201, true); }
TEST_CASE("damaged glTF text ends in a sentence") {
  const auto bytes = *write_document(two_boxes(), {});
  const auto glb = std::string(bytes.begin() + 20,
                               bytes.begin() + 20 + static_cast<std::ptrdiff_t>(read_at<std::uint32_t>(bytes, 12)));
  damage(Bytes(glb.begin(), glb.end()), "a.gltf", 202);
}
TEST_CASE("damaged OBJ files end in a sentence") { damage(*write_obj(two_boxes(), {}), "a.obj", 203); }
TEST_CASE("damaged binary STL files end in a sentence") { damage(*write_stl(two_boxes(), {}), "a.stl", 204, true); }
TEST_CASE("damaged text STL files end in a sentence") {
  std::string text = "solid a\n";
  for (int i = 0; i < 20; ++i)
    text += "facet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 " + std::to_string(i) +
            "\nendloop\nendfacet\n";
  damage(Bytes(text.begin(), text.end()), "a.stl", 205);
}
TEST_CASE("damaged binary PLY files end in a sentence") { damage(*write_ply(two_boxes(), {}), "a.ply", 206, true); }
TEST_CASE("damaged text PLY files end in a sentence") {
  const std::string text =
      "ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\nelement face 2\n"
      "property list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n1 1 0\n0 1 0\n3 0 1 2\n3 0 2 3\n";
  damage(Bytes(text.begin(), text.end()), "a.ply", 207);
}

TEST_CASE("empty files, folders, wrong endings and bombs are refused") {
  for (const char* name : {"a.glb", "a.gltf", "a.obj", "a.stl", "a.ply"})
    CHECK(message(read_text("", name)).find("empty") != std::string::npos);
  CHECK(message(read_text("hello", "a.txt")).find(".txt") != std::string::npos);
  CHECK_FALSE(read_delivery(std::filesystem::path("/"), {}));
  CHECK_FALSE(read_delivery(std::filesystem::path("/no/such/file.glb"), {}));
  // A header that says the file is shorter than itself, and a JSON chunk longer than the file.
  std::string glb("glTF\x02\0\0\0\0\0\0\0\xe8\x03\0\0JSON", 20);
  CHECK_FALSE(message(read_text(glb, "a.glb")).empty());
  // Counts that promise terabytes.
  std::string stl(84, 'x');
  stl.replace(80, 4, "\xff\xff\xff\xff");
  CHECK(message(read_text(stl, "a.stl")).find("cut off") != std::string::npos);
  CHECK(message(
            read_text("ply\nformat ascii 1.0\nelement vertex 99999999999\nproperty float x\nend_header\n0\n", "a.ply"))
            .find("cut off") != std::string::npos);
  CHECK_FALSE(read_text(
      R"({"asset":{"version":"2.0"},"nodes":[{"mesh":0}],"meshes":[{"primitives":[{"attributes":{"POSITION":0}}]}],)"
      R"("accessors":[{"componentType":5126,"count":999999999,"type":"VEC3"}]})",
      "a.gltf"));
  // Nesting that would run a stack out, and nodes in a circle.
  CHECK_FALSE(read_text(
      "{\"asset\":{\"version\":\"2.0\"},\"extras\":" + std::string(100000, '[') + std::string(100000, ']') + "}",
      "a.gltf"));
  CHECK(
      message(
          read_text(
              R"({"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],"nodes":[{"children":[1]},{"children":[0]}]})",
              "a.gltf"))
          .find("two parents") != std::string::npos);
  CHECK_FALSE(
      read_text(R"({"asset":{"version":"2.0"},"buffers":[{"byteLength":4,"uri":"../../etc/passwd"}]})", "a.gltf"));
  CHECK_FALSE(read_text(R"({"asset":{"version":"1.0"}})", "a.gltf"));
}

TEST_CASE("the import helper gives the same as reading here, and sentences for what is wrong") {
  const Folder folder;
  const std::string path = folder / "hall.glb";
  REQUIRE(write_as(path, *demo::heron_hall(source("demo")), {}, {}));
  const auto helped = import_file(path, {});
  REQUIRE(helped);
  CHECK(pack(*helped) == pack(*read_delivery(std::filesystem::path(path), {})));
  const auto missing = import_file(folder / "none.glb", {});
  REQUIRE_FALSE(missing);
  CHECK(sentence(missing.error()).find("no such file") != std::string::npos);
  write_text(folder / "bad.obj", "v 1 2\n");
  CHECK(sentence(import_file(folder / "bad.obj", {}).error()).find("line 1") != std::string::npos);
}

TEST_CASE("an export names what its format is not given, and nothing that is not there") {
  const Folder folder;
  Scene scene;
  scene.add(part_of("Plain", cube(10)));
  const auto note = [&](const char* file) {
    const auto saved = write_as(folder / file, scene, {}, {});
    REQUIRE(saved);
    return saved->note;
  };
  for (const char* file : {"a.obj", "a.stl", "a.ply", "a.glb"}) CHECK(note(file).empty());
  Part red = part_of("Red", cube(10));
  red.colours = {Colour{1, 0, 0, 1}};
  red.kept = std::make_shared<const KeptTacks>(KeptTacks{{"in", {1, 2, 3}, {}, {}}});
  scene.add(std::move(red));
  Part hidden = part_of("Hidden", cube(10));
  hidden.hidden = true;
  scene.add(std::move(hidden));
  for (const char* file : {"b.obj", "b.stl", "b.ply"})
    CHECK(note(file) == "Left out: colours, kept tacks, 1 hidden part.");
  CHECK(note("b.glb").empty());
}

TEST_CASE("a helper that hangs, dies or is missing costs only its file") {
  const Folder folder;
  write_text(folder / "a.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
  const auto with_helper = [&](const std::string& script) {
    write_text(folder / "helper", "#!/bin/sh\n" + script + "\n");
    std::filesystem::permissions(folder / "helper", std::filesystem::perms::owner_all);
    ::setenv("TACKPOINT_HELPER", (folder / "helper").c_str(), 1);
    ImportLimits limits;
    limits.seconds = 1;
    auto result = import_file(folder / "a.obj", {}, limits);
    ::unsetenv("TACKPOINT_HELPER");
    REQUIRE_FALSE(result);
    return sentence(result.error());
  };
  CHECK(with_helper("exec sleep 60").find("longer than") != std::string::npos);
  CHECK(with_helper("kill -SEGV $$").find("the program that reads it crashed") != std::string::npos);
  CHECK(with_helper("exit 0").find("no answer") != std::string::npos);
  CHECK(with_helper("echo rubbish >&3").find("no proper answer") != std::string::npos);
  ::setenv("TACKPOINT_HELPER", "/no/such/helper", 1);
  CHECK_FALSE(import_file(folder / "a.obj", {}));
  ::unsetenv("TACKPOINT_HELPER");
}

TEST_CASE("the examples in docs/steps.md work") {
  const auto text = read_file(source("docs/steps.md"));
  REQUIRE(text);
  const std::string page(text->begin(), text->end());
  const Folder folder;
  for (const char* file : {"sign-plate.obj", "hook-rail.stl"})
    std::filesystem::copy_file(source(std::string("demo/") + file), folder / file);
  int examples = 0;
  for (std::size_t at = page.find("```json"); at != std::string::npos; at = page.find("```json", at)) {
    const std::size_t begin = page.find('\n', at), end = page.find("```", begin);
    write_text(folder / "steps.json", page.substr(begin, end - begin));
    at = end + 3;
    const auto list = read_steps(folder / "steps.json");
    INFO(page.substr(begin, end - begin));
    REQUIRE(list);
    Journal journal(demo::heron_hall_parts());
    for (const StepOutcome& o : run_steps(journal, *list, folder.path())) {
      INFO((o.problem ? sentence(*o.problem) : o.words));
      CHECK_FALSE(o.problem);
      ++examples;
    }
    // What was done can be written as a steps file that does it again.
    Journal again(demo::heron_hall_parts());
    for (const StepOutcome& o : run_steps(again, steps_to_json(journal.record()), folder.path())) {
      INFO((o.problem ? sentence(*o.problem) : o.words));
      CHECK_FALSE(o.problem);
    }
  }
  CHECK(examples >= 9);
}
