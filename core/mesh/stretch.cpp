#include "core/mesh/stretch.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

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

Vec3 lengthened_normal(const Lengthening& l, const Vec3& place, const Vec3& normal) {
  const double height = dot(l.band.normal, place), width = l.band.high - l.band.low;
  if (height <= l.band.low || height >= l.band.high) return normal;
  // The map is I + by/width · along·normalᵀ; its inverse transpose by Sherman and Morrison.
  const double grows = l.by / width;
  return normalized(normal - l.band.normal * (dot(l.band.along, normal) * grows / (1 + grows)));
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

namespace {

struct Gap {
  double low, high;
  bool slanted = false;  // a face that is not along the axis lies across it: the outline changes there
};

// The stretches along an axis without vertices that are long enough to matter. All of them are found between the least
// and the greatest heights of a few buckets, without sorting.
std::vector<Gap> long_gaps(std::span<const Vec3> positions, int axis, double low, double extent) {
  constexpr std::size_t kBuckets = 32;
  constexpr double kShortest = 0.15;  // three quarters of a fifth: what may stand beside the longest
  std::array<std::pair<double, double>, kBuckets> buckets;
  buckets.fill({1e300, -1e300});
  for (const Vec3& p : positions) {
    const double h = p[axis];
    auto& [least, most] = buckets[std::min(kBuckets - 1, static_cast<std::size_t>((h - low) / extent * kBuckets))];
    least = std::min(least, h);
    most = std::max(most, h);
  }
  std::vector<Gap> gaps;
  double reached = low;
  for (const auto& [least, most] : buckets) {
    if (least > most) continue;
    if (least - reached >= kShortest * extent) gaps.push_back({reached, least});
    reached = most;
  }
  return gaps;
}

}  // namespace

EvidentBands find_evident_bands(const Mesh& mesh) {
  EvidentBands bands;
  if (mesh.triangles().empty()) return bands;
  const auto positions = mesh.positions();
  const Vec3 extent = mesh.box().size();
  std::array<std::vector<Gap>, 3> gaps;
  for (int axis = 0; axis < 3; ++axis)
    if (extent[axis] > 0)
      gaps[static_cast<std::size_t>(axis)] = long_gaps(positions, axis, mesh.box().low[axis], extent[axis]);
  for (const Triangle& t : mesh.triangles()) {
    const Vec3 area = doubled_area(positions, t);
    const double along = 1e-6 * length(area);
    for (int axis = 0; axis < 3; ++axis) {
      if (std::abs(area[axis]) <= along) continue;
      const auto [low, high] = std::minmax({positions[t[0]][axis], positions[t[1]][axis], positions[t[2]][axis]});
      for (Gap& gap : gaps[static_cast<std::size_t>(axis)]) gap.slanted |= low <= gap.low && high >= gap.high;
    }
  }
  for (int axis = 0; axis < 3; ++axis) {
    double longest = 0, second = 0;
    const Gap* best = nullptr;
    for (const Gap& gap : gaps[static_cast<std::size_t>(axis)]) {
      if (gap.slanted) continue;
      const double run = gap.high - gap.low;
      second = std::max(second, std::min(run, longest));
      if (run > longest) longest = run, best = &gap;
    }
    if (best && longest >= extent[axis] / 5 && second <= 0.75 * longest)
      bands.across[static_cast<std::size_t>(axis)] = band_across(axis, best->low, best->high);
  }
  return bands;
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
