#include "core/verbs/thicken.h"

#include <fmt/format.h>

#include <map>

#include "core/mesh/transform.h"

namespace tack {

Result<MeshPtr> thickened(const Mesh& mesh, const Vec3& shift) {
  const MeshData flat = data_of(mesh);
  const auto count = static_cast<std::uint32_t>(flat.positions.size());
  if (flat.triangles.empty()) return fail("It has no faces that a thickness could stand on.");
  MeshData thick;
  thick.positions = flat.positions;
  for (const Vec3& p : flat.positions) thick.positions.push_back(p + shift);
  std::map<std::array<std::uint32_t, 2>, int> sides;
  std::vector<Triangle> backs;
  for (const Triangle& t : flat.triangles) {
    const Vec3 area = cross(flat.positions[t[1]] - flat.positions[t[0]], flat.positions[t[2]] - flat.positions[t[0]]);
    // What looks along the shift is carried to the far side, and its back stays; the other way about otherwise.
    const std::uint32_t own = dot(area, shift) > 0 ? count : 0, back = count - own;
    thick.triangles.push_back({t[0] + own, t[1] + own, t[2] + own});
    backs.push_back({t[0] + back, t[2] + back, t[1] + back});
    // Each side as it runs seen against the shift, with the face on its left.
    for (std::size_t i = 0; i < 3; ++i) {
      const std::uint32_t a = t[i], b = t[(i + 1) % 3];
      ++sides[own > 0 ? std::array{a, b} : std::array{b, a}];
    }
  }
  thick.triangles.insert(thick.triangles.end(), backs.begin(), backs.end());
  // A side that no other face runs the other way is a border: a wall stands there.
  for (const auto& [side, times] : sides) {
    const auto [a, b] = side;
    const auto other = sides.find({b, a});
    for (int i = other == sides.end() ? 0 : other->second; i < times; ++i) {
      thick.triangles.push_back({a, b, b + count});
      thick.triangles.push_back({a, b + count, a + count});
    }
  }
  return make_mesh(std::move(thick));
}

Result<Scene> thickened_part(const Scene& scene, PartId id, const Vec3& direction, double by, double held,
                             MeshLinks links) {
  const Part& part = scene.part(id);
  if (part.skin || part.source->frame_used)
    return fail(fmt::format("\"{}\" has joints, a camera or a light that go with its mesh, so it cannot be changed.",
                            part.name));
  if (!(by > 0) || !std::isfinite(by)) return fail("A thickness is more than 0 mm.", "to");
  const auto back = inverse(world_of(scene, id).linear);
  if (!back) return fail(fmt::format("\"{}\" is flattened.", part.name));
  // All of it to one side: that one keeps its vertices to the bit.
  auto mesh = thickened(*part.mesh, *back * direction * (held == 1 ? -by : by));
  if (!mesh) return fail(mesh.error().what, part.name);
  if (held != 0 && held != 1) mesh = transformed(**mesh, Affine{Mat3{}, *back * direction * (-by * held)});
  if (!mesh) return fail(mesh.error().what, part.name);
  std::vector<PartId> all{id};
  if (links == MeshLinks::All)
    for (const PartId other : instances_of(scene, id)) all.push_back(other);
  Scene result = scene;
  for (const PartId one : all) {
    Part thick = scene.part(one);
    for (const Part* p = &thick; p; p = scene.find(p->parent))
      if (p->locked) return fail(fmt::format("\"{}\" is locked.", p->name), {}, "Unlock it in Parts.");
    thick.mesh = *mesh;
    thick.shape = nullptr;
    thick.stretched = nullptr;
    PartSource& source = thick.source.change();
    source.lengthened = nullptr;
    source.carried_mesh = -1;
    source.geometry_in_metres = false;
    // One mesh again: the colour of most of it.
    if (thick.colours.size() > 1) thick.colours.resize(1);
    if (thick.colour_names && thick.colour_names->size() > 1)
      thick.colour_names = std::make_shared<const std::vector<std::string>>(1, thick.colour_names->front());
    result.replace(one, std::move(thick));
  }
  return result;
}

}  // namespace tack
