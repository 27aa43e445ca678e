// What a document is put together from, and what is held against it after it was written.
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <random>

#include "core/files/import.h"
#include "core/files/outline.h"
#include "core/files/save_document.h"
#include "demo/heron_hall.h"
#include "tests/files/document_checks.h"
#include "tests/sheet.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("runs of bytes are the same bytes as one list, however they came in and are cut", "[runs]") {
  std::mt19937 random(7);
  for (int turn = 0; turn < 40; ++turn) {
    ByteRuns runs;
    Bytes plain;
    const auto any = [&](std::size_t most) { return std::uniform_int_distribution<std::size_t>(0, most)(random); };
    for (int i = 0; i < 60; ++i) {
      Bytes bytes(any(i % 7 == 0 ? 300000 : 2000));
      for (std::uint8_t& b : bytes) b = static_cast<std::uint8_t>(random());
      plain.insert(plain.end(), bytes.begin(), bytes.end());
      if (i % 3 == 0)
        runs.copy(bytes);
      else
        runs.hold(Blob(std::move(bytes)));
      const std::size_t step = 1 + any(15);
      runs.pad(step);
      plain.resize((plain.size() + step - 1) / step * step, 0);
      // A copy keeps what it has while the one that it was made of grows.
      if (i == 30) {
        const ByteRuns copy = runs;
        runs.copy(Bytes(100, 9));
        CHECK(bytes_of(copy) == plain);
        plain.resize(plain.size() + 100, 9);
      }
    }
    REQUIRE(runs.size() == plain.size());
    CHECK(bytes_of(runs) == plain);
    for (int i = 0; i < 50; ++i) {
      const std::size_t at = any(plain.size() - 1), length = any(plain.size() - at);
      const Blob slice = runs.slice(at, length);
      CHECK(std::equal(slice.view().begin(), slice.view().end(), plain.begin() + static_cast<std::ptrdiff_t>(at),
                       plain.begin() + static_cast<std::ptrdiff_t>(at + length)));
    }
    ByteRuns both;
    both.copy(Bytes(3, 1));
    both.hold(runs);
    CHECK(both.whole().size() == plain.size() + 3);
  }
  const ByteRuns none;
  CHECK(none.whole().empty());
  CHECK(none.slice(0, 0).empty());
}

TEST_CASE("writing a document holds meshes where they lie, and what was carried along", "[runs]") {
  const Scene scene = sheet(400);
  const MeshPtr mesh = scene.part(scene.roots().front()).mesh;
  const auto is_held = [&](const ByteRuns& runs, const void* at, std::size_t size) {
    bool held = false;
    runs.each([&](ByteView run) {
      held |= run.data() == at && run.size() == size;
      return true;
    });
    return held;
  };
  const auto runs = document_runs(scene, {});
  REQUIRE(runs);
  CHECK(is_held(*runs, mesh->positions().data(), mesh->positions().size_bytes()));
  CHECK(is_held(*runs, mesh->normals().data(), mesh->normals().size_bytes()));
  CHECK(is_held(*runs, mesh->triangles().data(), mesh->triangles().size_bytes()));
  CHECK(bytes_of(*runs) == *write_document(scene, {}));
  // Opened and written again, all of the buffer is what came with the file.
  const Document back = read_back(bytes_of(*runs));
  const ByteView carried = back.scene.carried()->binary;
  const auto again = document_runs(back.scene, back.settings);
  REQUIRE(again);
  CHECK(is_held(*again, carried.data(), carried.size()));
  CHECK(bytes_of(*again) == bytes_of(*runs));
}

TEST_CASE("the outline of a document says what is in it, and damaged ones are refused", "[runs]") {
  const Scene hall = *demo::heron_hall(source("demo"));
  const Outline outline = outline_of(hall);
  CHECK(outline.parts.size() == hall.size());
  CHECK(outline.parts.front().name == hall.part(hall.in_tree_order().front()).name);
  const Bytes packed = pack(outline);
  const auto unpacked = unpack_outline(packed);
  REQUIRE(unpacked);
  CHECK(difference_between(hall, *unpacked).empty());
  CHECK(pack(*unpacked) == packed);
  // Cut short, too long, counts beyond measure, or any byte another one: a sentence or another outline, never more.
  for (std::size_t size = 0; size < packed.size(); size += 13)
    CHECK_FALSE(unpack_outline(ByteView(packed).first(size)));
  Bytes longer = packed;
  longer.push_back(0);
  CHECK_FALSE(unpack_outline(longer));
  std::mt19937 random(3);
  for (int i = 0; i < 3000; ++i) {
    Bytes damaged = packed;
    damaged[random() % damaged.size()] = static_cast<std::uint8_t>(random());
    if (const auto read = unpack_outline(damaged)) (void)difference_between(hall, *read);
  }
}

TEST_CASE("the helper opens a document all the way, or says what is wrong with it", "[runs]") {
  const Folder folder;
  const Scene hall = *demo::heron_hall(source("demo"));
  const std::string path = folder / "hall.glb";
  REQUIRE(save_document(path, hall, {}));
  const auto outline = outline_of_file(path);
  REQUIRE(outline);
  CHECK(difference_between(hall, *outline).empty());
  const auto here = document_of(*import_file(path, {}));
  REQUIRE(here);
  CHECK(pack(outline_of(here->scene)) == pack(*outline));
  // So it does with what is large enough to be computed in parallel, and with every file of the demo.
  const Scene large = sheet(900);
  REQUIRE(save_document(folder / "large.glb", large, {}));
  CHECK(difference_between(large, *outline_of_file(folder / "large.glb")).empty());
  int opened_in_both = 0;
  for (const auto& entry : std::filesystem::directory_iterator(source("demo"))) {
    const auto delivery = import_file(entry.path(), {});
    if (!delivery) continue;
    INFO(entry.path().filename().string());
    const auto there = outline_of_file(entry.path());
    REQUIRE(there);
    CHECK(pack(outline_of(document_of(*delivery)->scene)) == pack(*there));
    ++opened_in_both;
  }
  CHECK(opened_in_both >= 3);
  // Each thing that another scene has otherwise is told.
  const auto told = [&](const std::function<void(Scene&)>& change) {
    Scene other = hall;
    change(other);
    return difference_between(other, *outline);
  };
  const PartId first = hall.roots().front();
  const auto as = [&](const std::function<void(Part&)>& change) {
    return told([&](Scene& s) {
      Part part = s.part(first);
      change(part);
      s.replace(first, std::move(part));
    });
  };
  CHECK(as([](Part& p) { p.see_through = !p.see_through; }).find("looking otherwise") != std::string::npos);
  CHECK(told([&](Scene& s) { s.set_ground_grid({12.5, 2, 0}); }).find("grid") != std::string::npos);
  CHECK(told([&](Scene& s) { s.set_views({{"Kitchen", {1, 2, 3}}}); }).find("views") != std::string::npos);
  for (const PartId id : hall.in_tree_order())
    if (hall.part(id).mesh) {
      Scene other = hall;
      Part part = other.part(id);
      part.mesh = nullptr;
      other.replace(id, std::move(part));
      CHECK(difference_between(other, *outline).find("the mesh of") != std::string::npos);
      break;
    }
  // What cannot be opened is refused with the reason, as it is when it is opened.
  Bytes bytes = *read_file(path);
  bytes.resize(bytes.size() / 2);
  REQUIRE(save_atomically(folder / "cut.glb", bytes));
  const auto cut = outline_of_file(folder / "cut.glb");
  const auto opened = import_file(folder / "cut.glb", {});
  REQUIRE_FALSE(cut);
  REQUIRE_FALSE(opened);
  CHECK(cut.error().what == opened.error().what);
  // A place beyond all measure gets through reading, and no further.
  const std::string far = "v 1e13 0 0\nv 0 1 0\nv 0 0 1\nf 1 2 3\n";
  REQUIRE(save_atomically(folder / "far.obj", bytes_in(far)));
  const auto read = import_file(folder / "far.obj", {});
  REQUIRE(read);
  const auto beyond = document_of(*read);
  const auto told_of = outline_of_file(folder / "far.obj");
  REQUIRE_FALSE(beyond);
  REQUIRE_FALSE(told_of);
  CHECK(told_of.error().what == beyond.error().what);
}
