// Lining up: aligning, spacing and undoing thousands of parts; dropping a hundred detailed ones.
#include <fmt/format.h>

#include <benchmark/benchmark.h>

#include "core/math/degrees.h"
#include "core/verbs/journal.h"

namespace {

using namespace tack;

// A bumpy ball of about so many triangles.
MeshPtr ball(int triangles) {
  const int rings = std::max(3, static_cast<int>(std::sqrt(triangles / 4.0))), sides = 2 * rings;
  MeshData m;
  const auto vertex = [&](int ring, int side) {
    return static_cast<std::uint32_t>(1 + (ring - 1) * sides + side % sides);
  };
  m.positions.push_back({0, 0, -10});
  for (int r = 1; r < rings; ++r)
    for (int s = 0; s < sides; ++s) {
      const SinCos t = sin_cos_degrees(180.0 * r / rings), p = sin_cos_degrees(360.0 * s / sides);
      const double radius = 10 + 0.3 * sin_cos_degrees(9 * 360.0 * s / sides).sin * t.sin;
      m.positions.push_back({radius * t.sin * p.cos, radius * t.sin * p.sin, -radius * t.cos});
    }
  m.positions.push_back({0, 0, 10});
  const auto top = static_cast<std::uint32_t>(m.positions.size() - 1);
  for (int s = 0; s < sides; ++s) {
    m.triangles.push_back({0, vertex(1, s + 1), vertex(1, s)});
    m.triangles.push_back({top, vertex(rings - 1, s), vertex(rings - 1, s + 1)});
    for (int r = 1; r + 1 < rings; ++r) {
      m.triangles.push_back({vertex(r, s), vertex(r, s + 1), vertex(r + 1, s + 1)});
      m.triangles.push_back({vertex(r, s), vertex(r + 1, s + 1), vertex(r + 1, s)});
    }
  }
  return *make_mesh(std::move(m));
}

Scene many(int parts, int triangles, double height) {
  Scene scene;
  const MeshPtr mesh = ball(triangles);
  mesh->index();
  mesh->mass();
  for (int i = 0; i < parts; ++i) {
    Part part;
    part.name = fmt::format("Ball {}", i + 1);
    part.mesh = mesh;
    part.colours.resize(1);
    part.placement.position = {25.0 * (i % 50) + 0.3 * (i % 7), 25.0 * (i / 50), height + 3 * (i % 11)};
    part.placement.rotation = {5.0 * (i % 13), 7.0 * (i % 17), 11.0 * (i % 19)};
    scene.add(std::move(part));
  }
  return scene;
}

std::vector<PartId> all_of(const Scene& scene) { return scene.roots(); }

template <class V>
void measure(benchmark::State& state, const Scene& scene, const V& verb) {
  for (auto _ : state) {
    auto after = tack::apply(Verb(verb), scene);
    if (!after) return state.SkipWithError(after.error().what.c_str());
    benchmark::DoNotOptimize(after);
  }
}

void align(benchmark::State& state) {
  const Scene scene = many(static_cast<int>(state.range(0)), 400, 0);
  Align a;
  a.what = all_of(scene);
  a.with_all = true;
  for (std::size_t i = 0; i < 3; ++i) a.sides[i] = {true, {AlignSide::At::Low, {}}, {AlignSide::At::Low, {}}, Amount{}};
  measure(state, scene, a);
}
BENCHMARK(align)->Arg(10)->Arg(100)->Arg(1000)->Arg(5000)->Unit(benchmark::kMillisecond);

void distribute(benchmark::State& state) {
  const Scene scene = many(static_cast<int>(state.range(0)), 400, 0);
  Distribute d;
  d.what = all_of(scene);
  measure(state, scene, d);
}
BENCHMARK(distribute)->Arg(10)->Arg(100)->Arg(1000)->Arg(5000)->Unit(benchmark::kMillisecond);

void repeat(benchmark::State& state) {
  const Scene scene = many(1, 400, 0);
  Repeat r;
  r.what = all_of(scene);
  r.count = static_cast<int>(state.range(0));
  measure(state, scene, r);
}
BENCHMARK(repeat)->Arg(10)->Arg(100)->Arg(1000)->Arg(5000)->Unit(benchmark::kMillisecond);

void undo(benchmark::State& state) {
  Journal journal(many(static_cast<int>(state.range(0)), 400, 0));
  Align a;
  a.what = all_of(journal.scene());
  a.with_all = true;
  a.sides[2] = {true, {AlignSide::At::Low, {}}, {AlignSide::At::Low, {}}, Amount{}};
  if (!journal.add(Verb(a))) return state.SkipWithError("not done");
  for (auto _ : state) {
    journal.undo();
    journal.redo();
  }
}
BENCHMARK(undo)->Arg(10)->Arg(100)->Arg(1000)->Arg(5000)->Unit(benchmark::kMillisecond);

// Each of a number of parts falls onto a floor of the same number.
void drop(benchmark::State& state) {
  const int parts = static_cast<int>(state.range(0)), triangles = static_cast<int>(state.range(1));
  Scene scene = many(parts, triangles, 60);
  const std::vector<PartId> falling = all_of(scene);
  const Scene floor = many(parts, triangles, 0);
  for (const PartId id : floor.roots()) scene.add(floor.part(id));
  Drop d;
  d.what = falling;
  measure(state, scene, d);
}
BENCHMARK(drop)
    ->Args({100, 100})
    ->Args({100, 1000})
    ->Args({100, 10000})
    ->Args({100, 100000})
    ->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
