#include "core/mesh/transform.h"

namespace tack {

MeshData data_of(const Mesh& mesh) {
  MeshData data;
  data.positions.assign(mesh.positions().begin(), mesh.positions().end());
  data.triangles.assign(mesh.triangles().begin(), mesh.triangles().end());
  data.normals.assign(mesh.normals().begin(), mesh.normals().end());
  data.primitives.assign(mesh.primitives().begin(), mesh.primitives().end());
  return data;
}

Result<MeshPtr> transformed(const Mesh& mesh, const Affine& map) {
  const double size = determinant(map.linear);
  if (size == 0 || !std::isfinite(size)) return fail("The mesh would be flattened.");
  MeshData data = data_of(mesh);
  for (Vec3& p : data.positions) p = map * p;
  const Mat3 for_normals = normal_map(map.linear);
  for (auto& n : data.normals) {
    const Vec3 turned = normalized(for_normals * Vec3{n[0], n[1], n[2]});
    n = {static_cast<float>(turned.x), static_cast<float>(turned.y), static_cast<float>(turned.z)};
  }
  if (size < 0)
    for (Triangle& t : data.triangles) std::swap(t[1], t[2]);
  return make_mesh(std::move(data));
}

MeshPtr duplicated(const Mesh& mesh) {
  MeshData data = data_of(mesh);
  data.known = mesh.known();
  return *make_mesh(std::move(data));
}

}  // namespace tack
