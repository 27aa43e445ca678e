// Catching: the best vertex under the pointer, against a plain scan, and what the index costs.
#include <benchmark/benchmark.h>

#include <chrono>
#include <random>

#include "core/catch/catch_scene.h"
#include "core/mesh/features.h"
#include "core/mesh/mass.h"
#include "demo/heron_hall.h"

namespace {

using namespace tack;

struct Prepared {
  Scene scene;
  CatchScene catching;
  std::vector<Vec3> eyes;
};

// Scenes are made once for each size: parts, then thousands of triangles.
const Prepared& prepared(int parts, long long thousands) {
  static std::map<std::pair<int, long long>, Prepared> all;
  auto [at, fresh] = all.try_emplace({parts, thousands});
  if (fresh) {
    at->second.scene = demo::big_scene(parts, thousands * 1000);
    at->second.scene.part(1).mesh->index();
    at->second.scene.part(1).mesh->features();
    at->second.scene.part(1).mesh->mass();
    at->second.catching = make_catch_scene(at->second.scene);
  }
  return at->second;
}

View view_of_all(const Scene& scene, double turn) {
  Camera camera;
  camera.turn = turn;
  camera.tilt = 25;
  return view_of(framed(camera, world_box_of(scene), 1280, 800), 1280, 800);
}

CatchOptions vertices_only() {
  CatchOptions options;
  options.kinds = CatchKinds::only(CatchKind::Vertex);
  return options;
}

// A plain scan: every vertex projected, the nearest within the radius; what any index has to beat.
double scan_nearest(const CatchScene& scene, const View& view, double x, double y) {
  double best = 10;
  for (const CatchPart& part : scene.parts)
    for (const Vec3& p : part.mesh->positions())
      if (const auto px = view.project(part.world * p)) best = std::min(best, std::hypot(px->x - x, px->y - y));
  return best;
}

// 10,000 pointer positions over a picture of everything.
void measure_catching(benchmark::State& state, const CatchOptions& options) {
  const Prepared& p = prepared(static_cast<int>(state.range(0)), state.range(1));
  std::mt19937 chance(5);
  std::vector<double> micros;
  int found = 0;
  const View view = view_of_all(p.scene, 30);
  for (auto _ : state) {
    const double x = 200 + chance() % 880, y = 100 + chance() % 600;
    const auto start = std::chrono::steady_clock::now();
    const auto caught = best_tack(p.catching, view, x, y, options);
    const double t = std::chrono::duration<double, std::micro>(std::chrono::steady_clock::now() - start).count();
    found += caught.has_value();
    micros.push_back(t);
    benchmark::DoNotOptimize(caught);
  }
  std::sort(micros.begin(), micros.end());
  state.counters["median_us"] = micros[micros.size() / 2];
  state.counters["p99_us"] = micros[micros.size() * 99 / 100];
  state.counters["worst_us"] = micros.back();
  state.counters["caught"] = static_cast<double>(found) / static_cast<double>(micros.size());
}

void best_vertex(benchmark::State& state) { measure_catching(state, vertices_only()); }
void best_of_all_kinds(benchmark::State& state) { measure_catching(state, {}); }

void plain_scan(benchmark::State& state) {
  const Prepared& p = prepared(static_cast<int>(state.range(0)), state.range(1));
  const View view = view_of_all(p.scene, 30);
  double x = 300;
  for (auto _ : state) benchmark::DoNotOptimize(scan_nearest(p.catching, view, x += 1, 400));
}

void build_index(benchmark::State& state) {
  const Scene scene = demo::big_scene(1, state.range(0) * 1000);
  const Mesh& mesh = *scene.part(1).mesh;
  std::size_t bytes = 0;
  for (auto _ : state) bytes = build_mesh_index(mesh).bytes();
  state.counters["bytes_per_triangle"] = static_cast<double>(bytes) / static_cast<double>(mesh.triangles().size());
  state.counters["triangles"] = static_cast<double>(mesh.triangles().size());
}

void find_all_features(benchmark::State& state) {
  const Scene scene = demo::big_scene(1, state.range(0) * 1000);
  const Mesh& mesh = *scene.part(1).mesh;
  mesh.index();
  std::size_t bytes = 0;
  for (auto _ : state) bytes = find_features(mesh).bytes();
  state.counters["bytes_per_triangle"] = static_cast<double>(bytes) / static_cast<double>(mesh.triangles().size());
}

void prepare_scene(benchmark::State& state) {
  const Prepared& p = prepared(static_cast<int>(state.range(0)), 1000);
  for (auto _ : state) benchmark::DoNotOptimize(make_catch_scene(p.scene));
}

// Parts, then thousands of triangles; 10,000 pointer positions each.
void over_sizes(benchmark::internal::Benchmark* catching) {
  for (const int thousands : {10, 100, 1000, 10000}) catching->Args({1, thousands});
  catching->Args({10000, 10000})->Iterations(10000)->Unit(benchmark::kMicrosecond);
}

}  // namespace

BENCHMARK(best_vertex)->Apply(over_sizes);
BENCHMARK(best_of_all_kinds)->Apply(over_sizes);
BENCHMARK(plain_scan)
    ->Args({1, 10})
    ->Args({1, 100})
    ->Args({1, 1000})
    ->Args({1, 10000})
    ->Iterations(5)
    ->Unit(benchmark::kMillisecond);
BENCHMARK(build_index)
    ->Arg(10)
    ->Arg(100)
    ->Arg(1000)
    ->Arg(10000)
    ->Iterations(1)
    ->Unit(benchmark::kMillisecond)
    ->MeasureProcessCPUTime();
BENCHMARK(find_all_features)
    ->Arg(10)
    ->Arg(100)
    ->Arg(1000)
    ->Iterations(1)
    ->Unit(benchmark::kMillisecond)
    ->MeasureProcessCPUTime();
BENCHMARK(prepare_scene)->Arg(10000)->Unit(benchmark::kMillisecond);
BENCHMARK_MAIN();
