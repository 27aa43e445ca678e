// Which meshes show nothing of their insides; declared in mesh_arrays.h.
#include <meshoptimizer.h>

#include "core/mesh/joined.h"
#include "draw/mesh_arrays.h"

namespace tack {
namespace {

// A number for a directed edge that looks like chance (the finaliser of splitmix64, Steele 2014).
std::uint64_t mark_of(std::uint32_t from, std::uint32_t to) {
  std::uint64_t h = (std::uint64_t{from} << 32 | to) + 0x9E3779B97F4A7C15;
  h = (h ^ (h >> 30)) * 0xBF58476D1CE4E5B9;
  h = (h ^ (h >> 27)) * 0x94D049BB133111EB;
  return h ^ (h >> 31);
}

}  // namespace

bool is_solid(const Mesh& mesh) {
  const auto triangles = mesh.triangles();
  const auto positions = mesh.positions();
  if (triangles.empty()) return false;
  // Vertices at one place are one.
  std::vector<std::uint32_t> number(positions.size());
  const std::size_t places = meshopt_generateVertexRemap(number.data(), triangles.front().data(), triangles.size() * 3,
                                                         positions.data(), positions.size(), sizeof(Vec3));
  // Every edge is gone along as often one way as the other: the sums are the same then, and else but by a chance of
  // one in 2^64.
  std::uint64_t sum = 0;
  Joined pieces(places);
  for (const Triangle& t : triangles) {
    const std::uint32_t a = number[t[0]], b = number[t[1]], c = number[t[2]];
    sum += mark_of(a, b) + mark_of(b, c) + mark_of(c, a) - mark_of(b, a) - mark_of(c, b) - mark_of(a, c);
    pieces.join(a, b), pieces.join(b, c);
  }
  if (sum != 0) return false;
  // Each piece looks outwards and is more than two sheets back to back.
  struct Measure {
    double volume = 0, area = 0;
  };
  std::vector<Measure> measures(places);
  const Vec3 middle = mesh.box().centre();
  for (const Triangle& t : triangles) {
    const Vec3 a = positions[t[0]] - middle, b = positions[t[1]] - middle, c = positions[t[2]] - middle;
    Measure& m = measures[pieces.find(number[t[0]])];
    m.volume += dot(a, cross(b, c)) / 6;
    m.area += length(cross(b - a, c - a)) / 2;
  }
  return std::all_of(measures.begin(), measures.end(),
                     [](const Measure& m) { return m.area == 0 || m.volume > 1e-6 * m.area * std::sqrt(m.area); });
}

}  // namespace tack
