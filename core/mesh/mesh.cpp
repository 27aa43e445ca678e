#include "core/mesh/mesh.h"

#include <atomic>

#include <fmt/format.h>

#include "core/mesh/features.h"
#include "core/mesh/mass.h"
#include "core/mesh/mesh_index.h"

namespace tack {

namespace {
std::atomic<std::uint64_t> meshes_made{0};
}

Mesh::Mesh(MeshData data) : data_(std::move(data)), number_(++meshes_made) {
  for (const Vec3& p : data_.positions) box_.include(p);
}

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

Result<MeshPtr> make_mesh(MeshData data) {
  constexpr double kLargest = 1e12;
  const std::size_t count = data.positions.size();
  if (count == 0) return fail("The mesh has no vertices.");
  if (count > 0xFFFFFFF0u || data.triangles.size() > 0xFFFFFFF0u)
    return fail("The mesh is too large: more than four thousand million vertices or triangles.");
  for (std::size_t i = 0; i < count; ++i)
    if (!(largest_component(data.positions[i]) < kLargest) || !is_finite(data.positions[i]))
      return fail(fmt::format("Vertex {} has a coordinate that is not a usable number.", i));
  for (std::size_t i = 0; i < data.triangles.size(); ++i)
    for (const std::uint32_t v : data.triangles[i])
      if (v >= count)
        return fail(fmt::format("Triangle {} names vertex {}, but there are only {} vertices.", i, v, count));
  if (!data.normals.empty() && data.normals.size() != count)
    return fail(fmt::format("There are {} normals for {} vertices.", data.normals.size(), count));
  if (data.primitives.empty())
    data.primitives.push_back(
        {0, static_cast<std::uint32_t>(count), 0, static_cast<std::uint32_t>(data.triangles.size())});
  std::uint64_t vertices = 0, triangles = 0;
  for (const Primitive& p : data.primitives) {
    if (p.first_vertex != vertices || p.first_triangle != triangles)
      return fail("The mesh's primitives do not follow one another.");
    vertices += p.vertex_count;
    triangles += p.triangle_count;
  }
  if (vertices != count || triangles != data.triangles.size())
    return fail("The mesh's primitives do not cover all of it.");
  data.positions.shrink_to_fit();
  data.triangles.shrink_to_fit();
  return MeshPtr(new Mesh(std::move(data)));
}

}  // namespace tack
