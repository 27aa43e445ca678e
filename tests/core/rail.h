// A strip with a hook at each end: what Stretch is tried on.
#pragma once

#include "core/mesh/transform.h"
#include "tests/core/doing.h"
#include "tests/meshes.h"

namespace tack::test {

/// Drawn along x: 300 mm long, its hooks 24 mm deep.
inline MeshPtr rail() {
  MeshData data;
  add_box(data, {0, 0, 0}, {300, 8, 3});
  add_box(data, {0, 0, 3}, {24, 8, 20});
  add_box(data, {276, 0, 3}, {300, 8, 20});
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
