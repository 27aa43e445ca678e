// Moving vertices of a mesh of a million triangles, with a falloff along its surface: what is found once, when they are
// taken, and what every move of the pointer costs; and smoothing.
#include <benchmark/benchmark.h>

#include <cmath>

#include "core/mesh/shares.h"
#include "core/verbs/verb.h"
#include "tests/meshes.h"

namespace {

using namespace tack;

MeshPtr sheet(std::uint32_t n, bool normals) {
  MeshData data =
      test::sheet_data(n, 1, [](double x, double y) { return 3 * std::sin(x * 0.05) * std::cos(y * 0.03); });
  if (normals) data.normals.assign(data.positions.size(), {0, 0, 1});
  return *make_mesh(std::move(data));
}

constexpr std::uint32_t kSide = 707;  // squares: a million triangles

Scene scene_of(bool normals) {
  Scene scene;
  Part part;
  part.name = "Cloth";
  part.mesh = sheet(kSide, normals);
  part.colours.resize(1);
  scene.add(std::move(part));
  scene.part(1).mesh->neighbours();
  return scene;
}

const Scene& scene_with(bool normals) {
  static const Scene with = scene_of(true), without = scene_of(false);
  return normals ? with : without;
}

Take take_middle(const Scene& scene, double reach, bool surface) {
  Take take;
  Elements middle{ElementKind::Vertices, {kSide / 2 * (kSide + 1) + kSide / 2}, {}};
  take.of.list = std::make_shared<const std::vector<Taken>>(1, taken(scene, 1, middle));
  take.reach = Amount(reach);
  take.surface = surface;
  return take;
}

void BM_Take(benchmark::State& state) {
  const Scene& scene = scene_with(true);
  const Take take = take_middle(scene, static_cast<double>(state.range(0)), state.range(1) == 1);
  for (auto _ : state) benchmark::DoNotOptimize(tack::apply(Verb(take), scene));
}
BENCHMARK(BM_Take)->ArgsProduct({{100, 1000}, {0, 1}})->ArgNames({"reach", "surface"})->Unit(benchmark::kMillisecond);

void BM_Move(benchmark::State& state) {
  const Scene& start = scene_with(state.range(1) == 1);
  const auto scene = tack::apply(Verb(take_middle(start, static_cast<double>(state.range(0)), true)), start);
  Move move;
  move.what = {2};
  move.by[2] = Amount(5);
  double z = 5;
  for (auto _ : state) {
    move.by[2] = Amount(z += 0.01);
    benchmark::DoNotOptimize(tack::apply(Verb(move), *scene));
  }
  state.counters["vertices"] = static_cast<double>(scene->part(2).patch->of[0].shares->vertices.size());
}
BENCHMARK(BM_Move)
    ->ArgsProduct({{10, 100, 250, 1000}, {0, 1}})
    ->ArgNames({"reach", "normals"})
    ->Unit(benchmark::kMillisecond)
    ->MeasureProcessCPUTime()
    ->UseRealTime();

void BM_Smooth(benchmark::State& state) {
  const Scene& start = scene_with(true);
  const auto scene = tack::apply(Verb(take_middle(start, static_cast<double>(state.range(0)), true)), start);
  Smooth smooth;
  smooth.what = {2};
  for (auto _ : state) benchmark::DoNotOptimize(tack::apply(Verb(smooth), *scene));
}
BENCHMARK(BM_Smooth)->Arg(100)->Arg(1000)->Unit(benchmark::kMillisecond);

// A stroke of 200 mm over the middle of the sheet.
void BM_Brush(benchmark::State& state) {
  const Scene& scene = scene_with(true);
  const Mesh& mesh = *scene.part(1).mesh;
  std::vector<StrokePlace> places;
  for (std::uint32_t i = 0; i <= 20; ++i) {
    const std::uint32_t square = kSide / 2 * kSide + kSide / 2 + i * kSide / 200;
    places.push_back({2 * square, mesh.corners(2 * square)[0]});
  }
  Brush brush;
  brush.part = 1;
  brush.stroke.places = std::make_shared<const std::vector<StrokePlace>>(std::move(places));
  brush.width = Amount{static_cast<double>(state.range(0))};
  for (auto _ : state) benchmark::DoNotOptimize(tack::apply(Verb(brush), scene));
}
BENCHMARK(BM_Brush)->Arg(20)->Arg(100)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
