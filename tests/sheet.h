// A scene of one large mesh.
#pragma once

#include "core/scene/scene.h"

namespace tack::test {

// One part of side × side vertices, a tenth of a millimetre apart, with a normal each.
inline Scene sheet(std::uint32_t side) {
  MeshData data;
  for (std::uint32_t y = 0; y < side; ++y)
    for (std::uint32_t x = 0; x < side; ++x) data.positions.push_back({0.1 * x, 0.1 * y, 0.3});
  for (std::uint32_t y = 0; y + 1 < side; ++y)
    for (std::uint32_t x = 0; x + 1 < side; ++x) {
      const std::uint32_t a = y * side + x;
      data.triangles.push_back({a, a + 1, a + side});
    }
  data.normals.assign(data.positions.size(), {0, 0, 1});
  Scene scene;
  Part part;
  part.name = "Sheet";
  part.mesh = *make_mesh(std::move(data));
  scene.add(part);
  return scene;
}

}  // namespace tack::test
