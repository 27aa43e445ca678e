// What elements are tried on, and the steps that take and change them.
#pragma once

#include <functional>
#include <map>

#include "core/mesh/elements.h"
#include "tests/core/rail.h"

namespace tack::test {

inline MeshPtr sheet(std::uint32_t n, double size = 10, const std::function<double(double, double)>& height = {}) {
  return *make_mesh(sheet_data(n, size, height));
}

/// A ball of a box's six sides, each divided n × n: closed, every vertex once.
inline MeshPtr ball(int n, double radius, const std::function<double(const Vec3&)>& more = {}) {
  MeshData data;
  std::map<std::array<int, 3>, std::uint32_t> known;
  const auto vertex = [&](std::array<int, 3> at) {
    const auto [place, is_new] = known.try_emplace(at, static_cast<std::uint32_t>(data.positions.size()));
    if (is_new) {
      const Vec3 way = normalized(Vec3{2.0 * at[0] / n - 1, 2.0 * at[1] / n - 1, 2.0 * at[2] / n - 1});
      data.positions.push_back(way * (radius + (more ? more(way) : 0)));
    }
    return place->second;
  };
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (const int side : {0, n})
      for (int i = 0; i < n; ++i)
        for (int j = 0; j < n; ++j) {
          const auto at = [&](int u, int v) {
            std::array<int, 3> p{};
            p[axis] = side, p[(axis + 1) % 3] = u, p[(axis + 2) % 3] = v;
            return vertex(p);
          };
          Triangle a{at(i, j), at(i + 1, j), at(i + 1, j + 1)}, b{at(i, j), at(i + 1, j + 1), at(i, j + 1)};
          if (side == 0) std::swap(a[1], a[2]), std::swap(b[1], b[2]);
          data.triangles.push_back(a), data.triangles.push_back(b);
        }
  return *make_mesh(std::move(data));
}

inline double volume(const Mesh& mesh) {
  double six = 0;
  for (const Triangle& t : mesh.triangles())
    six += dot(mesh.positions()[t[0]], cross(mesh.positions()[t[1]], mesh.positions()[t[2]]));
  return six / 6;
}

inline Elements faces(std::vector<std::uint32_t> numbers) {
  return in_order({ElementKind::Faces, std::move(numbers), {}});
}
inline Elements vertices(std::vector<std::uint32_t> numbers) {
  return in_order({ElementKind::Vertices, std::move(numbers), {}});
}

inline Json take(const std::string& part, const std::string& kind, const Json& what,
                 const Json& more = Json::object()) {
  Json json{{"verb", "take"}, {"of", {{{"part", part}, {kind, what}}}}, {"name", "Taken"}};
  json.update(more);
  return json;
}
inline Json on_taken(const char* verb, const Json& more) {
  Json json{{"verb", verb}, {"what", {"Taken"}}};
  json.update(more);
  return json;
}

}  // namespace tack::test
