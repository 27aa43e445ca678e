#include "core/mesh/stretch.h"

#include <fmt/format.h>

#include <algorithm>
#include <numeric>

#include "core/mesh/features.h"
#include "core/mesh/transform.h"

namespace tack {
namespace {

Vec3 doubled_area(std::span<const Vec3> p, const Triangle& t) { return cross(p[t[1]] - p[t[0]], p[t[2]] - p[t[0]]); }

// The turn that takes one unit vector to another, about the axis square to both (Rodrigues).
Vec3 turned_from_to(const Vec3& from, const Vec3& to, const Vec3& v) {
  const Vec3 axis = cross(from, to);
  const double cosine = dot(from, to);
  if (!(cosine > -1 + 1e-12)) return -v;
  return v * cosine + cross(axis, v) + axis * (dot(axis, v) / (1 + cosine));
}

// Stored normals follow the faces around them: each turns by what the sum of those has turned.
void turn_normals(MeshData& data, std::span<const Vec3> before) {
  if (data.normals.empty()) return;
  std::vector<Vec3> was(before.size()), is(before.size());
  for (const Triangle& t : data.triangles) {
    const Vec3 a = doubled_area(before, t), b = doubled_area(data.positions, t);
    for (const std::uint32_t v : t) was[v] += a, is[v] += b;
  }
  for (std::size_t v = 0; v < was.size(); ++v) {
    const Vec3 from = normalized(was[v]), to = normalized(is[v]);
    if (!(length(from) > 0) || !(length(to) > 0) || distance(from, to) < 1e-12) continue;
    auto& n = data.normals[v];
    const Vec3 turned = turned_from_to(from, to, {n[0], n[1], n[2]});
    n = {static_cast<float>(turned.x), static_cast<float>(turned.y), static_cast<float>(turned.z)};
  }
}

}  // namespace

StretchBand band_across(int axis, double low, double high) {
  StretchBand band{{}, {}, low, high};
  band.normal[axis] = band.along[axis] = 1;
  return band;
}

double share_of(const StretchBand& band, double height, double slack) {
  if (height <= band.low + slack) return 0;
  if (height >= band.high - slack) return 1;
  return (height - band.low) / (band.high - band.low);
}

Vec3 lengthened(const Lengthening& l, const Vec3& place, double slack) {
  const double share = share_of(l.band, dot(l.band.normal, place), slack);
  return share == 0 ? place : place + l.band.along * (share == 1 ? l.by : l.by * share);
}

double band_slack(const Mesh& mesh) { return 1e-9 * mesh.box().extent(); }

Result<MeshPtr> lengthened(const Mesh& mesh, const Lengthening& l) {
  const double width = l.band.high - l.band.low;
  if (!(width > 0) || !std::isfinite(l.by)) return fail("The far plane of a band lies beyond the near one.");
  if (!(l.by > -width)) return fail("The band would be closed.");
  MeshData data = data_of(mesh);
  const double slack = std::min(band_slack(mesh), width / 4);
  for (Vec3& p : data.positions) p = lengthened(l, p, slack);
  turn_normals(data, mesh.positions());
  return make_mesh(std::move(data));
}

StretchBand carried_along(const StretchBand& band, const Affine& change) {
  // dot(n, p) = h becomes dot(n', M p + t) = h + dot(n', t) with n' = M⁻ᵀ n.
  const auto back = inverse(change.linear);
  if (!back) return band;
  StretchBand next;
  next.normal = transpose(*back) * band.normal;
  next.along = change.linear * band.along;
  // Heights are kept in mm along a unit normal, so that they can be said.
  const double size = length(next.normal);
  next.normal = next.normal / size;
  next.along = next.along * size;
  const double shift = dot(next.normal, change.translation);
  next.low = band.low / size + shift;
  next.high = band.high / size + shift;
  return next;
}

StretchBand carried_along(const StretchBand& band, const Lengthening& l) {
  if (!(length(band.normal - l.band.normal) <= 1e-9)) return band;
  StretchBand next = band;
  const auto height = [&](double h) { return h + l.by * share_of(l.band, h, 0); };
  next.low = height(band.low);
  next.high = height(band.high);
  return next;
}

std::optional<StretchBand> evident_band(const Mesh& mesh, int axis) {
  if (mesh.triangles().empty()) return std::nullopt;
  const double extent = mesh.box().size()[axis];
  if (!(extent > 0)) return std::nullopt;
  const auto positions = mesh.positions();
  std::vector<double> heights;
  heights.reserve(positions.size());
  for (const Vec3& p : positions) heights.push_back(p[axis]);
  std::sort(heights.begin(), heights.end());
  // One height for all that are equal but for rounding.
  const double weld = 1e-7 * mesh.box().extent();
  std::vector<double> levels;
  for (const double h : heights)
    if (levels.empty() || h - levels.back() > weld) levels.push_back(h);
  if (levels.size() < 2) return std::nullopt;
  // Between which levels some face is not along the axis: there the outline changes. Counted by where it begins and
  // ends.
  std::vector<int> slants(levels.size(), 0);
  const auto level = [&](double h) {
    return static_cast<std::size_t>(std::upper_bound(levels.begin(), levels.end(), h + weld / 2) - levels.begin()) - 1;
  };
  for (const Triangle& t : mesh.triangles()) {
    const Vec3 area = doubled_area(positions, t);
    if (std::abs(area[axis]) <= 1e-6 * length(area)) continue;
    const auto [low, high] = std::minmax({positions[t[0]][axis], positions[t[1]][axis], positions[t[2]][axis]});
    ++slants[level(low)];
    --slants[level(high)];
  }
  double longest = 0, second = 0;
  std::size_t at = 0;
  int slanted = 0;
  for (std::size_t i = 0; i + 1 < levels.size(); ++i) {
    slanted += slants[i];
    if (slanted > 0) continue;
    const double run = levels[i + 1] - levels[i];
    if (run > longest) {
      second = longest;
      longest = run;
      at = i;
    } else {
      second = std::max(second, run);
    }
  }
  if (longest < extent / 5 || second > 0.75 * longest) return std::nullopt;
  return band_across(axis, levels[at], levels[at + 1]);
}

std::size_t crossing_slopes(const Mesh& mesh, const StretchBand& band) {
  const double slack = band_slack(mesh);
  std::size_t count = 0;
  for (const Triangle& t : mesh.triangles()) {
    double low = 1e300, high = -1e300;
    for (const std::uint32_t v : t) {
      const double h = dot(band.normal, mesh.positions()[v]);
      low = std::min(low, h);
      high = std::max(high, h);
    }
    const auto crosses = [&](double plane) { return low < plane - slack && high > plane + slack; };
    if (!crosses(band.low) && !crosses(band.high)) continue;
    const Vec3 area = doubled_area(mesh.positions(), t);
    if (std::abs(dot(area, band.along)) > 1e-6 * length(area) * length(band.along)) ++count;
  }
  return count;
}

Result<MeshPtr> stretched(const StretchedFrom& from) {
  MeshPtr mesh = from.base;
  for (const Lengthening& l : from.lengths) {
    auto next = lengthened(*mesh, l);
    if (!next) return next;
    mesh = std::move(*next);
  }
  return mesh;
}

}  // namespace tack
