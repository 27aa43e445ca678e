// A strip with a hook at each end: what Stretch is tried on.
#pragma once

#include "core/mesh/transform.h"
#include "tests/core/doing.h"

namespace tack::test {

/// Drawn along x: 300 mm long, its hooks 24 mm deep.
inline MeshPtr rail() {
  const double xs[] = {0, 24, 276, 300};
  MeshData data;
  const auto add = [&](double x0, double x1, double y0, double y1, double z0, double z1) {
    const auto first = static_cast<std::uint32_t>(data.positions.size());
    for (const double z : {z0, z1})
      for (const auto& [x, y] : {std::pair{x0, y0}, {x1, y0}, {x1, y1}, {x0, y1}}) data.positions.push_back({x, y, z});
    for (const Triangle& t : {Triangle{3, 2, 1},
                              {3, 1, 0},
                              {4, 5, 6},
                              {4, 6, 7},
                              {0, 1, 5},
                              {0, 5, 4},
                              {1, 2, 6},
                              {1, 6, 5},
                              {2, 3, 7},
                              {2, 7, 6},
                              {3, 0, 4},
                              {3, 4, 7}})
      data.triangles.push_back({first + t[0], first + t[1], first + t[2]});
  };
  add(xs[0], xs[3], 0, 8, 0, 3);
  add(xs[0], xs[1], 0, 8, 3, 20);
  add(xs[2], xs[3], 0, 8, 3, 20);
  return *make_mesh(std::move(data));
}

/// A step that stretches "Rail" along x.
inline Json stretch(const Json& more) {
  Json json{{"verb", "stretch"}, {"what", {"Rail"}}, {"along", "x"}};
  json.update(more);
  return json;
}

inline Box box_of(const Scene& scene, PartId id) { return world_box_of(*scene.part(id).mesh, world_of(scene, id)); }

}  // namespace tack::test
