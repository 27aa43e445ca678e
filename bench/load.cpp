// Loading: a file of a million triangles into checked parts, through the import helper, against Assimp on the same
// file.
#include <benchmark/benchmark.h>

#include <assimp/postprocess.h>
#include <assimp/Importer.hpp>
#include <filesystem>

#include "core/files/export.h"
#include "core/files/import.h"
#include "demo/heron_hall.h"

namespace {

using namespace tack;

const char* const kEndings[] = {"glb", "ply", "stl", "obj"};

std::string file_of(std::int64_t format) {
  const auto path = std::filesystem::temp_directory_path() / (std::string("tackpoint-bench.") + kEndings[format]);
  if (!std::filesystem::exists(path)) (void)write_as(path, demo::big_scene(1, 1000000), {}, {});
  return path.string();
}

void through_helper(benchmark::State& state) {
  const std::string file = file_of(state.range(0));
  state.SetLabel(kEndings[state.range(0)]);
  for (auto _ : state) {
    const auto delivery = import_file(file, {});
    if (!delivery)
      state.SkipWithError(sentence(delivery.error()).c_str());
    else
      benchmark::DoNotOptimize(document_of(*delivery));
  }
}

void in_this_process(benchmark::State& state) {
  const std::string file = file_of(state.range(0));
  state.SetLabel(kEndings[state.range(0)]);
  for (auto _ : state) benchmark::DoNotOptimize(read_delivery(std::filesystem::path(file), {}));
}

void by_assimp(benchmark::State& state) {
  const std::string file = file_of(state.range(0));
  state.SetLabel(kEndings[state.range(0)]);
  for (auto _ : state) {
    Assimp::Importer importer;
    benchmark::DoNotOptimize(
        importer.ReadFile(file, aiProcess_Triangulate | aiProcess_JoinIdenticalVertices * (state.range(0) == 2)));
  }
}

}  // namespace

BENCHMARK(through_helper)->DenseRange(0, 3)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(in_this_process)->DenseRange(0, 3)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(by_assimp)->DenseRange(0, 3)->Unit(benchmark::kMillisecond)->UseRealTime()->Iterations(2);
BENCHMARK_MAIN();
