// Ten thousand parts of one name, side by side: opening and bringing the file, and deleting, painting, grouping, hiding
// and copying them all.
#include <benchmark/benchmark.h>

#include <filesystem>

#include "core/files/document.h"
#include "core/files/glb.h"
#include "core/files/import.h"
#include "core/files/save.h"
#include "core/verbs/journal.h"

namespace {

using namespace tack;

constexpr int kParts = 10000;

// A glTF of somebody else's: one mesh, and ten thousand nodes called M6 that use it.
std::string flat_file() {
  const auto path = std::filesystem::temp_directory_path() / "tackpoint-bench-flat.glb";
  Bytes binary;
  for (const float v : {0.0f, 0.0f, 0.0f, 1.0f, 0.0f, 0.0f, 0.0f, 1.0f, 0.0f}) append(binary, v);
  Json nodes = Json::array(), roots = Json::array();
  for (int i = 0; i < kParts; ++i) {
    nodes.push_back({{"name", "M6"}, {"mesh", 0}, {"translation", {i % 100 * 0.02, 0, i / 100 * 0.02}}});
    roots.push_back(i);
  }
  const Json json{{"asset", {{"version", "2.0"}}},
                  {"scene", 0},
                  {"scenes", Json::array({{{"nodes", roots}}})},
                  {"nodes", nodes},
                  {"meshes", Json::array({{{"primitives", Json::array({{{"attributes", {{"POSITION", 0}}}}})}}})},
                  {"accessors", Json::array({{{"bufferView", 0},
                                              {"componentType", 5126},
                                              {"count", 3},
                                              {"type", "VEC3"},
                                              {"min", {0, 0, 0}},
                                              {"max", {1, 1, 0}}}})},
                  {"bufferViews", Json::array({{{"buffer", 0}, {"byteLength", 36}}})},
                  {"buffers", Json::array({{{"byteLength", 36}}})}};
  const auto bytes = write_glb(json, binary);
  if (bytes) (void)save_atomically(path, *bytes);
  return path.string();
}

const Scene& flat_scene() {
  static const Scene scene = [] {
    const auto delivery = import_file(flat_file(), {});
    auto document = delivery ? document_of(*delivery) : Result<Document>(tl::unexpected(delivery.error()));
    return document ? std::move(document->scene) : Scene();
  }();
  return scene;
}

void open_flat(benchmark::State& state) {
  const std::string file = flat_file();
  for (auto _ : state) {
    const auto delivery = import_file(file, {});
    if (!delivery) return state.SkipWithError(sentence(delivery.error()).c_str());
    const auto document = document_of(*delivery);
    if (!document || document->scene.size() != kParts) return state.SkipWithError("not all parts are there");
  }
}

void bring_flat(benchmark::State& state) {
  const std::string file = flat_file();
  for (auto _ : state) {
    const auto delivery = import_file(file, {});
    if (!delivery) return state.SkipWithError(sentence(delivery.error()).c_str());
    const auto bring = bring_of(*delivery, file, flat_scene());
    Journal journal(flat_scene());
    if (!bring || !journal.add(*bring) || journal.scene().size() != 2 * kParts)
      return state.SkipWithError("they were not brought in");
  }
}

// The step as the window makes it: done, put into words, with what has to be said beside it.
template <class V>
void do_to_all(benchmark::State& state, V verb) {
  verb.what = flat_scene().in_tree_order();
  if (verb.what.size() != kParts) return state.SkipWithError("the scene is not there");
  for (auto _ : state) {
    Journal journal(flat_scene());
    const auto done = journal.add(verb);
    if (!done) return state.SkipWithError(sentence(done.error()).c_str());
    benchmark::DoNotOptimize(journal.scene().size());
  }
}

void delete_all(benchmark::State& state) { do_to_all(state, Delete{}); }
void paint_all(benchmark::State& state) { do_to_all(state, Paint{}); }
void group_all(benchmark::State& state) { do_to_all(state, Group{}); }
void hide_all(benchmark::State& state) { do_to_all(state, Show{{}, false}); }
void copy_all(benchmark::State& state) { do_to_all(state, Copy{}); }
void move_all(benchmark::State& state) {
  Move move;
  move.by[0] = Amount{5};
  do_to_all(state, move);
}

}  // namespace

BENCHMARK(open_flat)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(bring_flat)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(delete_all)->Unit(benchmark::kMillisecond);
BENCHMARK(paint_all)->Unit(benchmark::kMillisecond);
BENCHMARK(group_all)->Unit(benchmark::kMillisecond);
BENCHMARK(hide_all)->Unit(benchmark::kMillisecond);
BENCHMARK(copy_all)->Unit(benchmark::kMillisecond);
BENCHMARK(move_all)->Unit(benchmark::kMillisecond);
BENCHMARK_MAIN();
