// Meshes that tests, fuzzing and benchmarks are made of.
#pragma once

#include <functional>

#include "core/mesh/mesh.h"
#include "core/mesh/shape.h"

namespace tack::test {

/// A flat sheet of n × n squares of the given size, each of two triangles; its vertices in rows along x. With a height
/// for each place, in mm.
inline MeshData sheet_data(std::uint32_t n, double size, const std::function<double(double, double)>& height = {}) {
  MeshData data;
  for (std::uint32_t j = 0; j <= n; ++j)
    for (std::uint32_t i = 0; i <= n; ++i)
      data.positions.push_back({i * size, j * size, height ? height(i * size, j * size) : 0});
  const auto at = [n](std::uint32_t i, std::uint32_t j) { return j * (n + 1) + i; };
  for (std::uint32_t j = 0; j < n; ++j)
    for (std::uint32_t i = 0; i < n; ++i) {
      data.triangles.push_back({at(i, j), at(i + 1, j), at(i + 1, j + 1)});
      data.triangles.push_back({at(i, j), at(i + 1, j + 1), at(i, j + 1)});
    }
  return data;
}

/// Adds a box from one corner to the opposite one.
inline void add_box(MeshData& data, const Vec3& low, const Vec3& high) {
  Shape box;
  box[Dimension::Width] = high.x - low.x;
  box[Dimension::Depth] = high.y - low.y;
  box[Dimension::Height] = high.z - low.z;
  const Vec3 middle = (low + high) * 0.5;
  const MeshData made = mesh_data_of(box, {{}, {middle.x, middle.y, low.z}});
  const auto first = static_cast<std::uint32_t>(data.positions.size());
  data.positions.insert(data.positions.end(), made.positions.begin(), made.positions.end());
  for (const Triangle& t : made.triangles) data.triangles.push_back({first + t[0], first + t[1], first + t[2]});
}

/// The same with vertices and stored normals of its own for each triangle.
inline MeshData with_own_corners(const MeshData& mesh) {
  MeshData flat;
  for (const Triangle& t : mesh.triangles) {
    const Vec3 a = mesh.positions[t[0]], b = mesh.positions[t[1]], c = mesh.positions[t[2]];
    const Vec3 n = normalized(cross(b - a, c - a));
    const auto first = static_cast<std::uint32_t>(flat.positions.size());
    for (const Vec3& p : {a, b, c}) {
      flat.positions.push_back(p);
      flat.normals.push_back({static_cast<float>(n.x), static_cast<float>(n.y), static_cast<float>(n.z)});
    }
    flat.triangles.push_back({first, first + 1, first + 2});
  }
  return flat;
}

}  // namespace tack::test
