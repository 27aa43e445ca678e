// Files of many programs: those that Debian's assimp-testmodels has, read as an artist's files are, through the import
// helper. The glTF among them are written again, moved and baked, and looked at by readers that share nothing with this
// program (tests/validator/compare.mjs).
#include <catch2/catch.hpp>
#include <fstream>

#include "core/files/document.h"
#include "core/files/glb.h"
#include "core/files/import.h"
#include "core/files/save.h"
#include "core/verbs/verb.h"
#include "tests/support.h"

namespace tack::test {
namespace {

const std::filesystem::path kModels = "/usr/share/assimp/models";

std::vector<std::filesystem::path> all_models() {
  std::vector<std::filesystem::path> all;
  for (const auto& entry : std::filesystem::recursive_directory_iterator(kModels))
    if (entry.is_regular_file()) all.push_back(entry.path());
  std::sort(all.begin(), all.end());
  return all;
}

std::string short_name(const std::filesystem::path& path) { return std::filesystem::relative(path, kModels).string(); }

Result<Document> opened_model(const std::filesystem::path& path) {
  const auto delivery = import_file(path, {});
  if (!delivery) return tl::unexpected(delivery.error());
  return document_of(*delivery);
}

// Every part moved by itself, each another way. `by`: how far each node that a part carries ended up from where it was,
// for compare.mjs. Where a part cannot be moved, because what it hangs in is flat, that is said.
Scene all_moved(Scene scene, Json& by, std::size_t& count) {
  std::map<PartId, Vec3> moves;
  double k = 0;
  for (const PartId id : scene.in_tree_order()) {
    ++k;
    const Vec3 move{10 + 7 * std::fmod(k, 11), -5.5 * std::fmod(k, 7), 3.25 * std::fmod(k, 5)};
    const auto verb =
        verb_from_json({{"verb", "move"}, {"what", {path_of(scene, id)}}, {"by", {move.x, move.y, move.z}}}, scene);
    REQUIRE(verb);
    auto after = tack::apply(*verb, scene);
    if (!after) {
      CHECK_FALSE(after.error().what.empty());
      continue;
    }
    scene = std::move(*after);
    moves[id] = move;
    ++count;
  }
  for (const PartId id : scene.in_tree_order()) {
    const auto& carried = scene.part(id).carried;
    Vec3 total;
    for (PartId above = id; above != kNoPart; above = scene.part(above).parent)
      if (const auto move = moves.find(above); move != moves.end()) total = total + move->second;
    if (carried && carried->original >= 0) by[std::to_string(carried->original)] = {total.x, total.y, total.z};
  }
  return scene;
}

// Baked as far as its parts allow it; how many did.
Scene baked(Scene scene, std::size_t& count) {
  for (const PartId id : scene.in_tree_order()) {
    const auto verb = verb_from_json(Json{{"verb", "bake"},
                                          {"what", Json::array({path_of(scene, id)})},
                                          {"rotation", true},
                                          {"scale", true},
                                          {"copies", "separate"}},
                                     scene);
    REQUIRE(verb);
    auto after = tack::apply(*verb, scene);
    if (!after) {
      CHECK_FALSE(after.error().what.empty());
      continue;
    }
    scene = std::move(*after);
    ++count;
  }
  return scene;
}

// The jobs for compare.mjs, run all at once: starting the other readers takes longer than what they do.
class Comparison {
 public:
  void add(const std::filesystem::path& source, const Bytes& written, const Json& by, double bound) {
    const std::string path = folder_ / (std::to_string(jobs_.size()) + ".glb");
    REQUIRE(save_atomically(path, written));
    jobs_.push_back({{"source", source.string()}, {"written", path}, {"by", by}, {"bound", bound}});
  }
  /// `unread`: how many of the files the other reader cannot read itself.
  void run(std::size_t unread) {
    std::ofstream(folder_ / "jobs.json") << jobs_.dump();
    const std::string command = "node " + source("tests/validator/compare.mjs") + " " + (folder_ / "jobs.json") +
                                " > " + (folder_ / "out") + " 2>&1";
    const int status = std::system(command.c_str());
    const auto out = read_file(folder_ / "out");
    REQUIRE(out);
    const std::string said(out->begin(), out->end());
    INFO(said);
    CHECK(status == 0);
    std::size_t not_judged = 0;
    for (std::size_t at = said.find("not judged"); at != said.npos; at = said.find("not judged", at + 1)) ++not_judged;
    CHECK(not_judged == unread);
  }

 private:
  Folder folder_;
  Json jobs_ = Json::array();
};

void compare_all(const std::vector<std::filesystem::path>& files, std::size_t unread) {
  Comparison comparison;
  std::size_t baked_parts = 0, moved_parts = 0;
  for (const auto& path : files) {
    INFO(path.string());
    const auto document = opened_model(path);
    if (!document) continue;
    const auto written = write_document(document->scene, document->settings);
    REQUIRE(written);
    // Written twice: the same bytes.
    const auto again = read_delivery(*written, "again.glb", {});
    INFO((again ? std::string() : sentence(again.error())));
    REQUIRE(again);
    const auto read_again = document_of(*again);
    REQUIRE(read_again);
    const bool same = *write_document(read_again->scene, read_again->settings) == *written;
    CHECK(same);
    comparison.add(path, *written, Json::object(), 1e-6);
    if (document->scene.roots().empty()) continue;
    Json by = Json::object();
    const Scene moved = all_moved(document->scene, by, moved_parts);
    comparison.add(path, *write_document(moved, {}), by, 1e-6);
    const Scene all = baked(document->scene, baked_parts);
    comparison.add(path, *write_document(all, {}), Json::object(), 2e-6);
  }
  comparison.run(unread);
  CHECK(baked_parts > files.size());
  CHECK(moved_parts > baked_parts);
}

}  // namespace

TEST_CASE("every model of the corpus is read, or refused with its reason") {
  REQUIRE(std::filesystem::exists(kModels));
  // What is refused, and why: each stands in the list with its sentence, and nothing else is.
  std::map<std::string, std::string> expected;
  std::ifstream list(source("tests/files/corpus_refused.txt"));
  for (std::string name, why; std::getline(list, name) && std::getline(list, why);) expected[name] = why;
  REQUIRE_FALSE(expected.empty());
  std::size_t read = 0;
  std::ofstream now(std::getenv("TACKPOINT_LIST_REFUSED") ? std::getenv("TACKPOINT_LIST_REFUSED") : "/dev/null");
  for (const auto& path : all_models()) {
    const std::string name = short_name(path);
    INFO(name);
    // The checking runtime ends a process that asks for too much, instead of refusing it.
    if (kSanitized && name == "invalid/OutOfMemory.off") continue;
    const auto document = opened_model(path);
    if (document) {
      ++read;
      CHECK(expected.count(name) == 0);
      // Two of them have no scene, or one with nothing in it.
      CHECK((document->scene.size() > 0 || name.starts_with("glTF2/TestNoRootNode/")));
      continue;
    }
    const std::string why = sentence(document.error());
    // Pictures, buffers and texts lie beside models; and some formats the library does not know.
    if (why.find("Files ending in") != why.npos) {
      const std::string ours = ".glb .gltf .obj .stl .ply .fbx .dae .3mf .x3d";
      CHECK((path.extension().empty() || ours.find(path.extension().string()) == std::string::npos));
      continue;
    }
    now << name << "\n" << why << "\n";
    CHECK(expected[name] == why);
    CHECK(why.find(path.filename().string()) != std::string::npos);
  }
  CHECK(read > 250);
}

TEST_CASE("other formats come with units, axes, names, materials, joints and animations") {
  const auto part_of_size = [](const char* name, const Vec3& size, double bound) {
    INFO(name);
    const auto document = opened_model(kModels / name);
    REQUIRE(document);
    const Vec3 is = world_box_of(document->scene).size();
    CHECK(distance(is, size) < bound);
    return *document;
  };
  // Millimetres, Z up; centimetres; metres with Z up; metres.
  const Document box = part_of_size("3MF/box.3mf", {10, 20, 30}, 1e-9);
  REQUIRE(box.scene.size() == 1);
  CHECK(box.scene.part(1).placement == Placement{});
  const Document cube = part_of_size("FBX/phong_cube.fbx", {10, 10, 10}, 1e-5);
  CHECK(cube.scene.part(1).name == "pCube1");
  part_of_size("Collada/cube_triangulate.dae", {1000, 1000, 1000}, 1e-2);
  part_of_size("X3D/HelloX3dTrademark.x3d", {2000, 2000, 2000}, 1e-2);
  const Document names = part_of_size("FBX/cubes_with_names.fbx", {209.3276, 327.7111, 205.1326}, 1e-3);
  CHECK(find_by_path(names.scene, "Cube2/\u041a\u0443\u04311"));
  CHECK(names.scene.colour("Mat_Green"));

  // What is animated or bent is carried like that of any glTF.
  const Document figure = *opened_model(kModels / "FBX/animation_with_skeleton.fbx");
  std::size_t bent = 0;
  for (const PartId id : figure.scene.in_tree_order()) bent += figure.scene.part(id).skin != nullptr;
  CHECK(bent == 1);
  const auto written = read_glb(*write_document(figure.scene, figure.settings));
  REQUIRE(written);
  CHECK(written->json["animations"].size() == 1);
  CHECK(written->json["skins"].size() == 1);

  // Shapes are off at rest, and each follows its own keys, in proportion where it has none: by hand from the file's.
  const Document plate = *opened_model(source("tests/files/odd/shapes.fbx"));
  CHECK(distance(world_box_of(plate.scene).size(), Vec3{100, 0, 100}) < 1e-4);
  const auto swells = read_glb(*write_document(plate.scene, plate.settings));
  REQUIRE(swells);
  const Json& animation = swells->json["animations"][0];
  REQUIRE(animation["channels"].size() == 1);
  CHECK(animation["channels"][0]["target"]["path"] == "weights");
  const auto floats = [&](const char* of) {
    const Json& accessor = swells->json["accessors"][animation["samplers"][0][of].get<std::size_t>()];
    const Json& view = swells->json["bufferViews"][accessor["bufferView"].get<std::size_t>()];
    std::vector<float> numbers(accessor["count"].get<std::size_t>());
    std::memcpy(numbers.data(), swells->binary.view().data() + view.value("byteOffset", 0), numbers.size() * 4);
    return numbers;
  };
  const std::vector<float> times = floats("input"), weights = floats("output");
  const std::vector<float> whens{0, 0.5f, 1, 1.5f, 2}, shares{0, 0.2f, 0.5f, 0.2f, 1, 0.5f, 0.75f, 0.8f, 0.5f, 0.8f};
  REQUIRE(times.size() == whens.size());
  REQUIRE(weights.size() == shares.size());
  for (std::size_t i = 0; i < whens.size(); ++i) CHECK(times[i] == Approx(whens[i]).margin(1e-5));
  for (std::size_t i = 0; i < shares.size(); ++i) CHECK(weights[i] == Approx(shares[i]).margin(1e-5));

  // Unit and axis that are asked for are those that count.
  ImportOptions inches;
  inches.unit = 25.4;
  inches.up = UpAxis::Y;
  const auto delivery = import_file(kModels / "3MF/box.3mf", inches);
  REQUIRE(delivery);
  CHECK(distance(world_box_of(document_of(*delivery)->scene).size(), Vec3{254, 762, 508}) < 1e-6);
}

TEST_CASE("the glTF of the corpus stand where they stood, written, moved and baked") {
  std::vector<std::filesystem::path> files;
  for (const auto& path : all_models())
    if (path.extension() == ".gltf" || path.extension() == ".glb") files.push_back(path);
  REQUIRE(files.size() > 40);
  compare_all(files, 3);
}

TEST_CASE("odd glTF made for this stand where they stood, written, moved and baked") {
  std::vector<std::filesystem::path> files;
  for (const auto& entry : std::filesystem::directory_iterator(source("tests/files/odd")))
    if (entry.path().extension() == ".glb") files.push_back(entry.path());
  std::sort(files.begin(), files.end());
  REQUIRE(files.size() >= 10);
  compare_all(files, 0);
}

}  // namespace tack::test
