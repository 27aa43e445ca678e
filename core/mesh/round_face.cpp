#include <Eigen/Eigenvalues>
#include <Eigen/QR>

#include "core/mesh/feature_edges.h"

namespace tack {

bool fit_round_face(const Mesh& mesh, std::span<const std::uint32_t> triangles, MeshFace& face) {
  constexpr double kFits = 1e-3;
  // The tips of the unit normals of a cylinder or a cone lie in a plane across the axis.
  Vec3 mean;
  double area = 0;
  for (const std::uint32_t t : triangles) {
    const Vec3 n = area_vector(mesh, t);
    mean += n;
    area += length(n);
  }
  if (!(area > 0)) return false;
  mean = mean / area;
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
  for (const std::uint32_t t : triangles) {
    const Vec3 n = area_vector(mesh, t);
    const double weight = length(n);
    if (!(weight > 0)) continue;
    const Vec3 d = n / weight - mean;
    const Eigen::Vector3d v(d.x, d.y, d.z);
    spread += v * v.transpose() * (weight / area);
  }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> eigen(spread);
  const Eigen::Vector3d& values = eigen.eigenvalues();  // rising
  // Not in a plane: curved two ways. Hardly spread within it: no axis to speak of.
  if (!(values[0] < kFits * kFits) || !(values[1] > 1e-6) || !(values[1] > 100 * values[0])) return false;
  const Eigen::Vector3d a = eigen.eigenvectors().col(0);
  Vec3 axis = normalized(Vec3{a[0], a[1], a[2]});
  // The axis points along the greatest of its coordinates, so that it does not depend on the solver's sign.
  int greatest = 0;
  for (int i = 1; i < 3; ++i)
    if (std::abs(axis[i]) > std::abs(axis[greatest]) + 1e-9) greatest = i;
  if (axis[greatest] < 0) axis = -axis;

  const Vec3 x = normalized(cross(least_axis(axis), axis)), y = cross(axis, x);
  std::vector<std::uint32_t> vertices;
  vertices.reserve(triangles.size() * 3);
  for (const std::uint32_t t : triangles)
    for (const std::uint32_t v : mesh.triangles()[t]) vertices.push_back(v);
  std::sort(vertices.begin(), vertices.end());
  vertices.erase(std::unique(vertices.begin(), vertices.end()), vertices.end());
  if (vertices.size() < 4) return false;
  Vec3 origin;
  for (const std::uint32_t v : vertices) origin += mesh.positions()[v] / static_cast<double>(vertices.size());
  double size = 0;
  for (const std::uint32_t v : vertices) size = std::max(size, distance(mesh.positions()[v], origin));
  // u² + v² = 2 u cx + 2 v cy + A + B h + C h²: a circular cone about the axis through (cx, cy); C is 0 for a cylinder.
  const auto local = [&](std::uint32_t v) {
    const Vec3 d = mesh.positions()[v] - origin;
    return Vec3{dot(d, x), dot(d, y), dot(d, axis)} / size;
  };
  Eigen::Matrix<double, 5, 5> normal = Eigen::Matrix<double, 5, 5>::Zero();
  Eigen::Matrix<double, 5, 1> right = Eigen::Matrix<double, 5, 1>::Zero();
  for (const std::uint32_t v : vertices) {
    const Vec3 p = local(v);
    Eigen::Matrix<double, 5, 1> row;
    row << 2 * p.x, 2 * p.y, 1, p.z, p.z * p.z;
    normal += row * row.transpose();
    right += row * (p.x * p.x + p.y * p.y);
  }
  // Two rings of vertices leave h² undetermined beside 1 and h: the least solution is as good as any.
  const Eigen::Matrix<double, 5, 1> found =
      Eigen::CompleteOrthogonalDecomposition<Eigen::Matrix<double, 5, 5>>(normal).solve(right);
  const double cx = found[0], cy = found[1];
  if (!std::isfinite(cx) || !std::isfinite(cy)) return false;
  // The radius as a line over the height, and how far the vertices are from it.
  double n = 0, sum_h = 0, sum_hh = 0, sum_r = 0, sum_hr = 0, low = 1e300, high = -1e300;
  for (const std::uint32_t v : vertices) {
    const Vec3 p = local(v);
    const double r = std::hypot(p.x - cx, p.y - cy);
    n += 1, sum_h += p.z, sum_hh += p.z * p.z, sum_r += r, sum_hr += p.z * r;
    low = std::min(low, p.z);
    high = std::max(high, p.z);
  }
  const double bottom = n * sum_hh - sum_h * sum_h;
  const double slope = bottom > 1e-12 * n * n ? (n * sum_hr - sum_h * sum_r) / bottom : 0;
  const double at_zero = (sum_r - slope * sum_h) / n;
  const double greatest_radius = std::max(at_zero + slope * low, at_zero + slope * high);
  for (const std::uint32_t v : vertices) {
    const Vec3 p = local(v);
    if (std::abs(std::hypot(p.x - cx, p.y - cy) - (at_zero + slope * p.z)) > kFits * greatest_radius) return false;
  }
  const double middle = (low + high) / 2;
  face.kind = MeshFace::Kind::Round;
  face.direction = axis;
  face.centre = origin + (x * cx + y * cy + axis * middle) * size;
  face.half_length = (high - low) / 2 * size;
  face.radius = (at_zero + slope * middle) * size;
  return true;
}

}  // namespace tack
