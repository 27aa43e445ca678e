#include "draw/mesh_arrays.h"

#include <numbers>
#include <numeric>

#include "core/mesh/features.h"
#include "core/mesh/topology.h"

namespace tack {

MeshArrays::Vertex vertex_of(const Vec3& p, const Vec3& normal) {
  const auto pack = [](double v) { return static_cast<std::int8_t>(std::lround(std::clamp(v, -1.0, 1.0) * 127)); };
  return {static_cast<float>(p.x),
          static_cast<float>(p.y),
          static_cast<float>(p.z),
          pack(normal.x),
          pack(normal.y),
          pack(normal.z),
          0};
}

namespace {

// One vertex for each place and each distinct normal there: corners whose faces fold less than 30° share theirs.
void smooth(const Mesh& mesh, MeshArrays& arrays) {
  constexpr double kSmooth = 0.8660254037844387;  // cos 30°
  const auto triangles = mesh.triangles();
  const std::vector<std::uint32_t> welded = weld(mesh);
  std::vector<Vec3> normals(triangles.size());  // with the area as length
  for (std::uint32_t t = 0; t < triangles.size(); ++t) {
    const auto c = mesh.corners(t);
    normals[t] = cross(c[1] - c[0], c[2] - c[0]);
  }
  // The corners around each welded vertex, as one list with starts.
  std::vector<std::uint32_t> start(welded.size() + 1, 0);
  for (const Triangle& t : triangles)
    for (const std::uint32_t v : t) ++start[welded[v] + 1];
  std::partial_sum(start.begin(), start.end(), start.begin());
  std::vector<std::uint32_t> corners(triangles.size() * 3), fill(start.begin(), start.end() - 1);
  for (std::uint32_t c = 0; c < corners.size(); ++c) corners[fill[welded[triangles[c / 3][c % 3]]]++] = c;

  arrays.indices.resize(corners.size());
  std::vector<std::pair<MeshArrays::Vertex, std::uint32_t>> made;
  for (std::uint32_t v = 0; v < welded.size(); ++v) {
    if (start[v] == start[v + 1]) continue;
    made.clear();
    const Vec3 place = mesh.positions()[v] - arrays.origin;
    for (std::uint32_t i = start[v]; i < start[v + 1]; ++i) {
      const Vec3 own = normalized(normals[corners[i] / 3]);
      Vec3 sum;
      // Around a fan of hundreds of triangles (the tip of a cone) the face's own normal is as good and not quadratic.
      if (start[v + 1] - start[v] <= 64) {
        for (std::uint32_t j = start[v]; j < start[v + 1]; ++j)
          if (const Vec3& n = normals[corners[j] / 3]; dot(own, normalized(n)) >= kSmooth) sum += n;
      } else {
        sum = own;
      }
      const MeshArrays::Vertex vertex = vertex_of(place, normalized(sum));
      const auto same = std::find_if(made.begin(), made.end(), [&](const auto& m) {
        return m.first.nx == vertex.nx && m.first.ny == vertex.ny && m.first.nz == vertex.nz;
      });
      if (same != made.end()) {
        arrays.indices[corners[i]] = same->second;
      } else {
        const auto number = static_cast<std::uint32_t>(arrays.vertices.size());
        made.emplace_back(vertex, number);
        arrays.vertices.push_back(vertex);
        arrays.indices[corners[i]] = number;
      }
    }
  }
}

}  // namespace

std::size_t MeshArrays::Level::triangles() const {
  std::size_t count = 0;
  for (const auto& p : primitives) count += p[1] / 3;
  return count;
}

std::size_t MeshArrays::bytes() const {
  constexpr std::size_t kEdgeOnCard = 32;
  return vertices.size() * sizeof vertices[0] + indices.size() * sizeof indices[0] + edges.size() * kEdgeOnCard;
}

MeshArrays box_arrays(const Mesh& mesh) {
  MeshArrays arrays;
  arrays.origin = mesh.box().centre();
  arrays.radius = static_cast<float>(mesh.box().extent() / 2);
  arrays.half = mesh.box().empty() ? Vec3{} : mesh.box().size() * 0.5;
  return arrays;
}

namespace {

// Vertices, normals, and edges between vertices of the mesh.
MeshArrays arrays_with_edges(const Mesh& mesh, const std::vector<FeatureEdge>& edges) {
  MeshArrays arrays = box_arrays(mesh);
  if (!mesh.normals().empty()) {
    arrays.vertices.reserve(mesh.positions().size());
    for (std::size_t v = 0; v < mesh.positions().size(); ++v) {
      const auto& n = mesh.normals()[v];
      arrays.vertices.push_back(vertex_of(mesh.positions()[v] - arrays.origin, normalized({n[0], n[1], n[2]})));
    }
    arrays.indices.reserve(mesh.triangles().size() * 3);
    for (const Triangle& t : mesh.triangles()) arrays.indices.insert(arrays.indices.end(), t.begin(), t.end());
  } else {
    smooth(mesh, arrays);
  }
  for (const FeatureEdge& e : edges) {
    const Vec3 a = mesh.positions()[e.a] - arrays.origin, b = mesh.positions()[e.b] - arrays.origin;
    arrays.edges.push_back({static_cast<float>(a.x), static_cast<float>(a.y), static_cast<float>(a.z),
                            static_cast<float>(b.x), static_cast<float>(b.y), static_cast<float>(b.z)});
  }
  MeshArrays::Level whole;
  for (const Primitive& p : mesh.primitives()) whole.primitives.push_back({p.first_triangle * 3, p.triangle_count * 3});
  whole.edge_count = static_cast<std::uint32_t>(arrays.edges.size());
  arrays.levels.push_back(std::move(whole));
  return arrays;
}

}  // namespace

double edge_density_of(const Mesh& mesh) {
  const auto& places = mesh.positions();
  double area = 0, edges = 0;
  for (const Triangle& t : mesh.triangles())
    area += length(cross(places[t[1]] - places[t[0]], places[t[2]] - places[t[0]])) / 2;
  for (const FeatureEdge& e : mesh.features().edges) edges += distance(places[e.a], places[e.b]);
  return area > 0 ? std::numbers::pi / 2 * edges / area : 0;
}

MeshArrays make_mesh_arrays(const Mesh& mesh) {
  MeshArrays arrays = arrays_with_edges(mesh, mesh.features().edges);
  arrays.solid = is_solid(mesh);
  arrays.edge_density = edge_density_of(mesh);
  make_runs(arrays);
  return arrays;
}

MeshArrays make_passing_arrays(const Mesh& mesh, const Mesh& base) {
  const bool alike = mesh.positions().size() == base.positions().size();
  return arrays_with_edges(mesh, alike ? base.features().edges : std::vector<FeatureEdge>{});
}

}  // namespace tack
