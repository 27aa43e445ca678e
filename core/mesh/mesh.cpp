#include "core/mesh/mesh.h"

#include <atomic>

#include <fmt/format.h>
#include <tbb/blocked_range.h>
#include <tbb/parallel_reduce.h>

#include "core/mesh/elements.h"
#include "core/mesh/features.h"
#include "core/mesh/mass.h"
#include "core/mesh/mesh_index.h"
#include "core/mesh/stretch.h"

namespace tack {

namespace {
std::atomic<std::uint64_t> meshes_made{0};
}

Mesh::Mesh(MeshSpans arrays, const Box& box)
    : arrays_(std::move(arrays)),
      box_(box),
      number_(++meshes_made),
      neighbours_(std::make_shared<Lazy<Neighbours>>()) {}

Mesh::~Mesh() = default;

const MeshIndex& Mesh::index() const {
  return index_.get([this] { return build_mesh_index(*this); });
}

const Features& Mesh::features() const {
  return features_.get([this] { return find_features(*this); });
}

const MassCentre& Mesh::mass() const {
  return mass_.get([this] { return mass_centre(*this); });
}

const EvidentBands& Mesh::evident_bands() const {
  return evident_bands_.get([this] { return find_evident_bands(*this); });
}

const Neighbours& Mesh::neighbours() const {
  return neighbours_->get([this] { return find_neighbours(*this); });
}

namespace {

constexpr double kLargest = 1e12;
constexpr std::size_t kNone = static_cast<std::size_t>(-1), kGrain = 1 << 15;

bool is_usable(const Vec3& p) { return largest_component(p) < kLargest && is_finite(p); }

struct Looked {
  Box box;
  std::size_t bad = kNone;  // the first that cannot be used
};

Looked look_at(std::span<const Vec3> positions) {
  return tbb::parallel_reduce(
      tbb::blocked_range<std::size_t>(0, positions.size(), kGrain), Looked{},
      [&](const auto& range, Looked looked) {
        for (std::size_t i = range.begin(); i < range.end(); ++i) {
          if (!is_usable(positions[i])) looked.bad = std::min(looked.bad, i);
          looked.box.include(positions[i]);
        }
        return looked;
      },
      [](Looked a, const Looked& b) {
        a.bad = std::min(a.bad, b.bad);
        a.box.include(b.box);
        return a;
      });
}

// The first triangle that names a vertex beyond `count`; kNone when none does.
std::size_t first_beyond(std::span<const Triangle> triangles, std::size_t count) {
  return tbb::parallel_reduce(
      tbb::blocked_range<std::size_t>(0, triangles.size(), kGrain), kNone,
      [&](const auto& range, std::size_t bad) {
        std::uint32_t most = 0;
        for (std::size_t i = range.begin(); i < range.end(); ++i)
          most = std::max(most, std::max(triangles[i][0], std::max(triangles[i][1], triangles[i][2])));
        if (most < count) return bad;
        for (std::size_t i = range.begin(); i < range.end(); ++i)
          for (const std::uint32_t v : triangles[i])
            if (v >= count) return std::min(bad, i);
        return bad;
      },
      [](std::size_t a, std::size_t b) { return std::min(a, b); });
}

}  // namespace

Result<MeshPtr> mesh_over(MeshSpans m) {
  const std::size_t count = m.positions.size();
  if (count == 0) return fail("The mesh has no vertices.");
  if (count > 0xFFFFFFF0u || m.triangles.size() > 0xFFFFFFF0u)
    return fail("The mesh is too large: more than four thousand million vertices or triangles.");
  const Looked looked = look_at(m.positions);
  if (looked.bad != kNone)
    return fail(fmt::format("Vertex {} has a coordinate that is not a usable number.", looked.bad));
  if (const std::size_t bad = first_beyond(m.triangles, count); bad != kNone)
    for (const std::uint32_t v : m.triangles[bad])
      if (v >= count)
        return fail(fmt::format("Triangle {} names vertex {}, but there are only {} vertices.", bad, v, count));
  if (!m.normals.empty() && m.normals.size() != count)
    return fail(fmt::format("There are {} normals for {} vertices.", m.normals.size(), count));
  if (m.primitives.empty())
    m.primitives.push_back({0, static_cast<std::uint32_t>(count), 0, static_cast<std::uint32_t>(m.triangles.size())});
  std::uint64_t vertices = 0, triangles = 0;
  for (const Primitive& p : m.primitives) {
    if (p.first_vertex != vertices || p.first_triangle != triangles)
      return fail("The mesh's primitives do not follow one another.");
    vertices += p.vertex_count;
    triangles += p.triangle_count;
  }
  if (vertices != count || triangles != m.triangles.size())
    return fail("The mesh's primitives do not cover all of it.");
  return MeshPtr(new Mesh(std::move(m), looked.box));
}

Result<MeshPtr> with_places(const Mesh& mesh, std::vector<Vec3> positions, std::vector<std::array<float, 3>> normals) {
  const Looked looked = look_at(positions);
  if (looked.bad != kNone)
    return fail(fmt::format("Vertex {} would have a coordinate that is not a usable number.", looked.bad));
  struct Kept {
    std::vector<Vec3> positions;
    std::vector<std::array<float, 3>> normals;
  };
  const auto kept = std::make_shared<const Kept>(Kept{std::move(positions), std::move(normals)});
  MeshSpans arrays{kept->positions, mesh.triangles(), kept->normals, mesh.arrays_.primitives, kept, {}};
  std::shared_ptr<Mesh> moved(new Mesh(std::move(arrays), looked.box));
  moved->triangles_kept_ = mesh.triangles_kept_ ? mesh.triangles_kept_ : mesh.arrays_.keep;
  moved->neighbours_ = mesh.neighbours_;
  return MeshPtr(std::move(moved));
}

MeshSpans spans_of(MeshData data) {
  const auto own = std::make_shared<const MeshData>(std::move(data));
  return {own->positions, own->triangles, own->normals, own->primitives, own, own->known};
}

Result<MeshPtr> make_mesh(MeshData data) {
  data.positions.shrink_to_fit();
  data.triangles.shrink_to_fit();
  return mesh_over(spans_of(std::move(data)));
}

}  // namespace tack
