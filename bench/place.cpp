// Placing: the size of a turned mesh by the index against a plain scan, and what a drag of a thousand parts costs.
#include <benchmark/benchmark.h>

#include "core/hands/hand.h"
#include "core/math/split.h"
#include "core/mesh/extent.h"
#include "core/verbs/verb.h"
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

}  // namespace

BENCHMARK(size_by_index)->Arg(10)->Arg(100)->Arg(1000)->Arg(2000)->Unit(benchmark::kMicrosecond);
BENCHMARK(size_by_scan)->Arg(10)->Arg(100)->Arg(1000)->Arg(2000)->Unit(benchmark::kMicrosecond);
BENCHMARK(drag_move)->Arg(10)->Arg(100)->Arg(1000)->Unit(benchmark::kMicrosecond);
BENCHMARK(drag_rotate)->Arg(10)->Arg(100)->Arg(1000)->Unit(benchmark::kMicrosecond);
BENCHMARK(drag_scale)->Arg(10)->Arg(100)->Arg(1000)->Unit(benchmark::kMicrosecond);
BENCHMARK_MAIN();
