// Placing: the size of a turned mesh by the index against a plain scan, what a drag of a thousand parts costs, and what
// steps hold in memory.
#include <benchmark/benchmark.h>
#include <malloc.h>

#include "core/hands/hand.h"
#include "core/math/split.h"
#include "core/mesh/extent.h"
#include "core/mesh/shape.h"
#include "core/verbs/journal.h"
#include "demo/heron_hall.h"

namespace {

using namespace tack;

const Scene& scene_of(int parts, long long triangles) {
  static std::map<std::pair<int, long long>, Scene> all;
  const auto [at, fresh] = all.try_emplace({parts, triangles});
  if (fresh) {
    at->second = demo::big_scene(parts, triangles);
    for (const PartId id : at->second.in_tree_order())
      if (const MeshPtr& mesh = at->second.part(id).mesh) mesh->index();
  }
  return at->second;
}

Affine frame(double turn) {
  return {squared_up({{Vec3{std::cos(turn), std::sin(turn), 0.3}, Vec3{-std::sin(turn), std::cos(turn), 0.2},
                       Vec3{0.1, 0.2, 1}}}),
          {}};
}

void size_by_index(benchmark::State& state) {
  const Mesh& mesh = *scene_of(1, state.range(0) * 1000).part(1).mesh;
  double turn = 0;
  for (auto _ : state) benchmark::DoNotOptimize(box_in_frame(mesh, frame(turn += 0.01)));
  state.counters["vertices"] = static_cast<double>(mesh.positions().size());
}

void size_by_scan(benchmark::State& state) {
  const Mesh& mesh = *scene_of(1, state.range(0) * 1000).part(1).mesh;
  double turn = 0;
  for (auto _ : state) {
    const Affine f = frame(turn += 0.01);
    Box box;
    for (const Vec3& p : mesh.positions()) box.include(f * p);
    benchmark::DoNotOptimize(box);
  }
}

template <typename V>
void drag(benchmark::State& state, V verb) {
  const Scene& scene = scene_of(static_cast<int>(state.range(0)), 200000);
  for (const PartId id : scene.in_tree_order())
    if (scene.part(id).mesh) verb.what.push_back(id);
  double way = 0;
  for (auto _ : state) {
    way += 0.37;
    if constexpr (std::is_same_v<V, Move>) verb.by[0] = Amount{way};
    if constexpr (std::is_same_v<V, Rotate>) verb.angle = Amount{way};
    // What one mouse move costs in the core: the verb that the drag means, the scene, the sentence.
    if constexpr (std::is_same_v<V, Scale>) {
      const auto sized = sized_by_hand(verb, scene, {0.5, 0.5, 1}, {0, 0, way}, false, {}, false);
      if (!sized) return state.SkipWithError("no size");
      benchmark::DoNotOptimize(tack::apply(*sized, scene));
      benchmark::DoNotOptimize(tack::sentence(*sized, scene, Tense::Present));
    } else {
      benchmark::DoNotOptimize(tack::apply(verb, scene));
      benchmark::DoNotOptimize(tack::sentence(verb, scene, Tense::Present));
    }
  }
}

void drag_move(benchmark::State& state) { drag(state, Move{}); }
void drag_rotate(benchmark::State& state) {
  Rotate rotate;
  rotate.about = middle_of_all();
  drag(state, rotate);
}
void drag_scale(benchmark::State& state) { drag(state, Scale{}); }

// What steps hold in memory: `moved` parts of `parts`, moved again and again, each time others.
void hold_steps(benchmark::State& state) {
  const auto parts = static_cast<std::size_t>(state.range(0)), moved = static_cast<std::size_t>(state.range(1));
  Scene scene;
  const MeshPtr mesh = *make_mesh(mesh_data_of(usual_shape(ShapeKind::Box), {}));
  for (std::size_t i = 0; i < parts; ++i) {
    Part part;
    part.name = "Stud " + std::to_string(i + 1);
    part.mesh = mesh;
    scene.add(std::move(part));
  }
  const std::size_t steps = 10'000 / moved;
  double bytes = 0;
  for (auto _ : state) {
    const std::size_t before = ::mallinfo2().uordblks;
    Journal journal(scene);
    for (std::size_t i = 0; i < steps; ++i) {
      Move move;
      for (std::size_t k = 0; k < moved; ++k) move.what.push_back(static_cast<PartId>((7 * i + k) % parts + 1));
      move.by[0] = Amount{1};
      if (!journal.add(Verb(move))) state.SkipWithError("a step failed");
    }
    bytes = static_cast<double>(::mallinfo2().uordblks - before);
  }
  state.counters["steps"] = static_cast<double>(steps);
  state.counters["bytes_a_step"] = bytes / static_cast<double>(steps);
}
}  // namespace

BENCHMARK(size_by_index)->Arg(10)->Arg(100)->Arg(1000)->Arg(2000)->Unit(benchmark::kMicrosecond);
BENCHMARK(size_by_scan)->Arg(10)->Arg(100)->Arg(1000)->Arg(2000)->Unit(benchmark::kMicrosecond);
BENCHMARK(drag_move)->Arg(10)->Arg(100)->Arg(1000)->Unit(benchmark::kMicrosecond);
BENCHMARK(drag_rotate)->Arg(10)->Arg(100)->Arg(1000)->Unit(benchmark::kMicrosecond);
BENCHMARK(drag_scale)->Arg(10)->Arg(100)->Arg(1000)->Unit(benchmark::kMicrosecond);
BENCHMARK(hold_steps)
    ->Args({100, 1})
    ->Args({10'000, 1})
    ->Args({10'000, 1'000})
    ->ArgNames({"parts", "moved"})
    ->Unit(benchmark::kMillisecond)
    ->Iterations(1);

BENCHMARK_MAIN();
