#include "core/mesh/shares.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

#include <Eigen/Eigenvalues>
#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/math/degrees.h"

namespace tack {
namespace {

std::uint32_t place_in(const std::vector<std::uint32_t>& sorted, std::uint32_t number) {
  const auto at = std::lower_bound(sorted.begin(), sorted.end(), number);
  return at != sorted.end() && *at == number ? static_cast<std::uint32_t>(at - sorted.begin()) : Shares::kNone;
}

void sort_once(std::vector<std::uint32_t>& numbers) {
  std::sort(numbers.begin(), numbers.end());
  numbers.erase(std::unique(numbers.begin(), numbers.end()), numbers.end());
}

// Turned by the least rotation that brings `from` (unit) to where `to` points, however long that is. There are half a
// million of them: it takes one root and one division.
inline Vec3 turned(const Vec3& v, const Vec3& from, const Vec3& to) {
  const double size = std::sqrt(dot(to, to)), rest = size + dot(from, to);
  if (rest < 1e-12 * size) return v * -1.0;  // right round
  const Vec3 between = from * size + to;
  const double scale = 1 / (size * rest);
  return v - between * (dot(between, v) * scale) + to * (2 * dot(from, v) * rest * scale);
}

using Normals = std::vector<std::array<float, 3>>;

// f(i, sum) for every vertex of shares.around: the area vectors of the faces around it, added up.
template <class F>
void each_sum(const Mesh& mesh, const Shares& shares, std::span<const Vec3> positions, F&& f) {
  // Kept from call to call: for a million triangles the system takes as long to hand out the memory as this to fill it.
  // As floats, like the normals that come of it: what is moved through memory is what it costs.
  static thread_local std::vector<std::array<float, 3>> scratch;
  std::vector<std::array<float, 3>>& areas = scratch;
  areas.resize(shares.triangles.size());
  tbb::parallel_for(tbb::blocked_range<std::size_t>(0, areas.size(), 1 << 13), [&](const auto& range) {
    for (std::size_t i = range.begin(); i < range.end(); ++i) {
      const Triangle& t = mesh.triangles()[shares.triangles[i]];
      const Vec3 area = cross(positions[t[1]] - positions[t[0]], positions[t[2]] - positions[t[0]]);
      areas[i] = {static_cast<float>(area.x), static_cast<float>(area.y), static_cast<float>(area.z)};
    }
  });
  tbb::parallel_for(tbb::blocked_range<std::size_t>(0, shares.around.size(), 1 << 13), [&](const auto& range) {
    for (std::size_t i = range.begin(); i < range.end(); ++i) {
      Vec3 sum;
      for (std::uint32_t k = shares.first_triangle[i]; k < shares.first_triangle[i + 1]; ++k) {
        const auto& area = areas[shares.triangle_at[k]];
        sum = sum + Vec3{area[0], area[1], area[2]};
      }
      f(i, sum);
    }
  });
}

// A normal, which keeps its length, turned like that. By less than a float can say it stays as it is to the last bit.
void turn(std::array<float, 3>& normal, const Vec3& from, const Vec3& to) {
  const double square = dot(to, to);
  if (!(square > 0) || dot(from, to) >= std::sqrt(square) * (1 - 1e-15)) return;
  const Vec3 next = turned({normal[0], normal[1], normal[2]}, from, to);
  normal = {static_cast<float>(next.x), static_cast<float>(next.y), static_cast<float>(next.z)};
}

void turn(Normals& normals, const Mesh& mesh, const Shares& shares, const std::vector<Vec3>& positions) {
  if (normals.empty() || !shares.before) return;
  const auto was = shares.before->of(mesh, [&] {
    std::vector<Vec3> directions(shares.around.size());
    each_sum(mesh, shares, mesh.positions(), [&](std::size_t i, const Vec3& sum) {
      const double square = dot(sum, sum);
      directions[i] = square > 0 ? sum * (1 / std::sqrt(square)) : Vec3{};
    });
    return directions;
  });
  each_sum(mesh, shares, positions, [&](std::size_t i, const Vec3& is) {
    if (const Vec3& before = (*was)[i]; before != Vec3{}) turn(normals[shares.around[i]], before, is);
  });
}

std::vector<Vec3> positions_of(const Mesh& mesh) { return {mesh.positions().begin(), mesh.positions().end()}; }

// The mesh with the positions that move(positions) leaves.
template <class F>
Result<MeshPtr> with_moved(const Mesh& mesh, const Shares& shares, F&& move) {
  std::vector<Vec3> positions;
  Normals normals;
  tbb::parallel_invoke([&] { positions.assign(mesh.positions().begin(), mesh.positions().end()); },
                       [&] { normals.assign(mesh.normals().begin(), mesh.normals().end()); });
  move(positions);
  turn(normals, mesh, shares, positions);
  return with_places(mesh, std::move(positions), std::move(normals));
}

// The angle of a triangle at one of its corners, in radians.
double angle_at(const std::array<Vec3, 3>& c, std::size_t i) {
  const Vec3 a = c[(i + 1) % 3] - c[i], b = c[(i + 2) % 3] - c[i];
  return std::atan2(length(cross(a, b)), dot(a, b));
}

// In the space, with the mirror of the way there taken back: normals look outwards.
struct InSpace {
  const Mesh& mesh;
  const Affine& to_space;
  double side;
  std::array<Vec3, 3> corners(std::uint32_t t) const {
    auto c = mesh.corners(t);
    for (Vec3& p : c) p = to_space * p;
    return c;
  }
  Vec3 normal(std::uint32_t t) const {
    const auto c = corners(t);
    const Vec3 n = cross(c[1] - c[0], c[2] - c[0]);
    return length(n) > 0 ? normalized(n) * side : Vec3{};
  }
};

// The shift that takes every plane with one of these normals out by `by`; the shortest where that leaves any. Least
// squares for more than two; along directions in which the planes say next to nothing (an eigenvalue below 1 % of their
// number) it does not go: a corner would run away. nullopt where a plane would hardly go out.
std::optional<Vec3> offset(const std::vector<Vec3>& normals, double by) {
  if (normals.size() == 1) return normals[0] * by;
  if (normals.size() == 2) {
    const double c = dot(normals[0], normals[1]);
    if (c < -0.999) return std::nullopt;
    return (normals[0] + normals[1]) * (by / (1 + c));
  }
  Eigen::Matrix3d square = Eigen::Matrix3d::Zero();
  Eigen::Vector3d sum = Eigen::Vector3d::Zero();
  for (const Vec3& n : normals) {
    const Eigen::Vector3d e(n.x, n.y, n.z);
    square += e * e.transpose();
    sum += e;
  }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> parts(square);
  Eigen::Vector3d shift = Eigen::Vector3d::Zero();
  for (int i = 0; i < 3; ++i)
    if (parts.eigenvalues()[i] > 0.01 * static_cast<double>(normals.size()))
      shift += parts.eigenvectors().col(i) * (parts.eigenvectors().col(i).dot(sum) / parts.eigenvalues()[i]);
  const Vec3 goes{shift.x(), shift.y(), shift.z()};
  if (std::any_of(normals.begin(), normals.end(), [&](const Vec3& n) { return dot(n, goes) < 0.1; }))
    return std::nullopt;
  return goes * by;
}

}  // namespace

Shares shares_of(const Mesh& mesh, const Elements& elements, const Mat3& to_space, double reach, bool surface) {
  Shares s;
  if (reach > 0) {
    const Reached reached =
        surface ? along_surface(mesh, elements, to_space, reach) : within_space(mesh, elements, to_space, reach);
    for (std::size_t i = 0; i < reached.vertices.size(); ++i)
      if (const double share = share_at(reached.distances[i], reach); share > 0) {
        s.vertices.push_back(reached.vertices[i]);
        s.shares.push_back(share);
      }
  } else {
    s.vertices = with_twins(mesh, welded_vertices(mesh, elements));
    s.shares.assign(s.vertices.size(), 1);
  }
  return shares_with(mesh, std::move(s.vertices), std::move(s.shares));
}

Shares shares_with(const Mesh& mesh, std::vector<std::uint32_t> vertices, std::vector<double> shares) {
  Shares s;
  s.vertices = std::move(vertices);
  s.shares = std::move(shares);
  const Neighbours& n = mesh.neighbours();
  const auto& welded = n.topology.welded;
  for (const std::uint32_t v : s.vertices) s.lowest.push_back(place_in(s.vertices, welded[v]));
  if (mesh.normals().empty()) return s;
  std::vector<bool> is_around(mesh.positions().size()), taken(mesh.triangles().size());
  for (const std::uint32_t v : s.vertices)
    for (const std::uint32_t t : n.triangles_of(welded[v]))
      for (const std::uint32_t c : mesh.triangles()[t]) is_around[c] = true;
  std::vector<std::uint32_t> slot(mesh.positions().size(), Shares::kNone);
  for (std::uint32_t v = 0; v < is_around.size(); ++v)
    if (is_around[v]) slot[v] = static_cast<std::uint32_t>(s.around.size()), s.around.push_back(v);
  for (const std::uint32_t v : s.around)
    for (const std::uint32_t t : n.triangles_of(welded[v])) taken[t] = true;
  for (std::uint32_t t = 0; t < taken.size(); ++t)
    if (taken[t]) s.triangles.push_back(t);
  // By its corners' own numbers, not by places: what a seam parts has normals of its own on each side.
  s.first_triangle.assign(s.around.size() + 1, 0);
  for (const bool counts : {true, false}) {
    std::vector<std::uint32_t> next(s.first_triangle);
    if (!counts) s.triangle_at.resize(s.first_triangle.back());
    for (std::uint32_t i = 0; i < s.triangles.size(); ++i)
      for (const std::uint32_t c : mesh.triangles()[s.triangles[i]]) {
        if (slot[c] == Shares::kNone) continue;
        if (counts)
          ++s.first_triangle[slot[c] + 1];
        else
          s.triangle_at[next[slot[c]]++] = i;
      }
    if (counts) std::partial_sum(s.first_triangle.begin(), s.first_triangle.end(), s.first_triangle.begin());
  }
  s.before = std::make_shared<AreaSums>();
  return s;
}

Result<MeshPtr> moved(const Mesh& mesh, const Shares& shares, std::span<const Vec3> places) {
  return with_moved(mesh, shares, [&](std::vector<Vec3>& positions) {
    for (std::size_t i = 0; i < shares.vertices.size(); ++i) positions[shares.vertices[i]] = places[i];
  });
}

Result<MeshPtr> moved(const Mesh& mesh, const Shares& shares, const Affine& change) {
  return with_moved(mesh, shares, [&](std::vector<Vec3>& positions) {
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, shares.vertices.size(), 1 << 14), [&](const auto& range) {
      for (std::size_t i = range.begin(); i < range.end(); ++i) {
        Vec3& p = positions[shares.vertices[i]];
        const Vec3 whole = change * p;
        p = shares.shares[i] == 1 ? whole : p + (whole - p) * shares.shares[i];
      }
    });
  });
}

GoneAlong gone_along(const Mesh& before, const Mesh& after, const Shares& shares, const Vec3& place) {
  const Neighbours& n = before.neighbours();
  double best = 1e-6 * before.box().extent();
  GoneAlong gone{place, {}};
  for (const std::uint32_t v : shares.vertices)
    for (const std::uint32_t t : n.triangles_of(n.topology.welded[v])) {
      const auto c = before.corners(t);
      const Vec3 e1 = c[1] - c[0], e2 = c[2] - c[0], d = place - c[0];
      const Vec3 normal = cross(e1, e2);
      const double square = dot(normal, normal);
      if (!(square > 0)) continue;
      const double u = dot(cross(d, e2), normal) / square, w = dot(cross(e1, d), normal) / square;
      const double off = std::abs(dot(d, normal)) / std::sqrt(square);
      constexpr double kOut = 1e-6;
      if (u < -kOut || w < -kOut || u + w > 1 + kOut || off > best) continue;
      best = off;
      const auto to = after.corners(t);
      const Vec3 rest = place - (c[0] + e1 * u + e2 * w);
      gone.place = to[0] + (to[1] - to[0]) * u + (to[2] - to[0]) * w + rest;
      const Vec3 is = area_vector(after, t);
      if (length(is) > 0)
        for (std::size_t i = 0; i < 3; ++i) {
          Vec3 axis;
          axis[static_cast<int>(i)] = 1;
          gone.turn.column[i] = turned(axis, normalized(normal), normalized(is));
        }
    }
  return gone;
}

namespace {

// Whether all of a mesh without borders takes part wholly.
bool is_whole_and_closed(const Mesh& mesh, const Shares& shares) {
  const auto& edges = mesh.neighbours().topology.edges;
  return shares.vertices.size() == mesh.positions().size() && !edges.empty() &&
         std::all_of(shares.shares.begin(), shares.shares.end(), [](double s) { return s == 1; }) &&
         std::all_of(edges.begin(), edges.end(), [](const MeshEdge& e) { return e.count == 2; });
}

// Brings the volume back to the mesh's by a shift of the whole surface along its normals: four steps of Newton's
// method.
void keep_volume(const Mesh& mesh, const std::vector<std::uint32_t>& own, const Shares& shares, std::vector<Vec3>& at) {
  const auto& welded = mesh.neighbours().topology.welded;
  const Vec3 middle = mesh.box().centre();
  const auto volume_and_slopes = [&](const auto& positions, std::vector<Vec3>* slopes) {
    double six = 0;
    for (const Triangle& t : mesh.triangles()) {
      const std::array<std::uint32_t, 3> v{welded[t[0]], welded[t[1]], welded[t[2]]};
      const Vec3 a = positions[v[0]] - middle, b = positions[v[1]] - middle, c = positions[v[2]] - middle;
      six += dot(a, cross(b, c));
      if (!slopes) continue;
      (*slopes)[v[0]] = (*slopes)[v[0]] + cross(b, c);
      (*slopes)[v[1]] = (*slopes)[v[1]] + cross(c, a);
      (*slopes)[v[2]] = (*slopes)[v[2]] + cross(a, b);
    }
    return six;
  };
  const double wanted = volume_and_slopes(mesh.positions(), nullptr);
  for (int step = 0; step < 4; ++step) {
    std::vector<Vec3> slopes(at.size());
    const double now = volume_and_slopes(at, &slopes);
    double sum = 0;
    for (const std::uint32_t i : own) sum += length(slopes[shares.vertices[i]]);
    if (!(sum > 0)) return;
    const double by = (wanted - now) / sum;
    for (const std::uint32_t i : own) {
      const std::uint32_t v = shares.vertices[i];
      if (length(slopes[v]) > 0) at[v] = at[v] + normalized(slopes[v]) * by;
    }
  }
}

}  // namespace

std::vector<Vec3> smoothed(const Mesh& mesh, const Shares& shares, int passes, double strength, bool keeps_volume) {
  const Neighbours& n = mesh.neighbours();
  const auto& t = n.topology;
  // Those that stand for themselves and their twins, with their neighbours.
  std::vector<std::uint32_t> own;
  for (std::size_t i = 0; i < shares.vertices.size(); ++i)
    if (shares.lowest[i] == i) own.push_back(static_cast<std::uint32_t>(i));
  std::vector<Vec3> at = positions_of(mesh), next(own.size());
  const auto is_corner = [&](std::uint32_t v) {
    constexpr double kTurn = 45;
    std::vector<Vec3> ways;
    for (const std::uint32_t e : n.edges_of(v))
      if (t.edges[e].count == 1)
        ways.push_back(mesh.positions()[t.edges[e].low == v ? t.edges[e].high : t.edges[e].low] - mesh.positions()[v]);
    return ways.size() == 2 && atan2_degrees(length(cross(ways[0], ways[1])), -dot(ways[0], ways[1])) > kTurn;
  };
  const auto mean_of_neighbours = [&](std::uint32_t v) {
    Vec3 sum, border;
    int count = 0, borders = 0;
    for (const std::uint32_t e : n.edges_of(v)) {
      const Vec3& p = at[t.edges[e].low == v ? t.edges[e].high : t.edges[e].low];
      sum = sum + p, ++count;
      if (t.edges[e].count == 1) border = border + p, ++borders;
    }
    // Corners of a border, and where borders meet, stay.
    if (borders > 0) return borders == 2 && !is_corner(v) ? border * 0.5 : at[v];
    return count > 0 ? sum * (1.0 / count) : at[v];
  };
  // Taubin's pass band of 0.1.
  const double away = 1 / (0.1 - 1 / strength);
  const auto pass = [&](double by) {
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, own.size(), 4096), [&](const auto& range) {
      for (std::size_t i = range.begin(); i < range.end(); ++i) {
        const std::uint32_t v = shares.vertices[own[i]];
        next[i] = at[v] + (mean_of_neighbours(v) - at[v]) * (by * shares.shares[own[i]]);
      }
    });
    for (std::size_t i = 0; i < own.size(); ++i) at[shares.vertices[own[i]]] = next[i];
  };
  for (int i = 0; i < passes; ++i) {
    pass(strength);
    if (keeps_volume) pass(away);
  }
  if (keeps_volume && is_whole_and_closed(mesh, shares)) keep_volume(mesh, own, shares, at);
  std::vector<Vec3> places;
  places.reserve(shares.vertices.size());
  for (std::size_t i = 0; i < shares.vertices.size(); ++i) places.push_back(at[shares.vertices[shares.lowest[i]]]);
  return places;
}

Result<std::vector<Vec3>> pushed(const Mesh& mesh, const Elements& elements, const Shares& shares,
                                 const Affine& to_space, double by, Outward way) {
  const auto back = inverse(to_space);
  if (!back) return fail("The part is flattened.");
  const Neighbours& n = mesh.neighbours();
  const InSpace space{mesh, to_space, determinant(to_space.linear) < 0 ? -1.0 : 1.0};
  std::vector<bool> taken;
  if (elements.kind == ElementKind::Faces) {
    taken.resize(mesh.triangles().size());
    for (const std::uint32_t f : elements.numbers) taken[f] = true;
  }
  std::vector<Vec3> places(shares.vertices.size());
  for (std::size_t i = 0; i < shares.vertices.size(); ++i) {
    const std::uint32_t v = shares.vertices[i];
    if (shares.lowest[i] != i) {
      places[i] = places[shares.lowest[i]];
      continue;
    }
    // Of what was taken the taken faces alone; of what is near all.
    const auto around = n.triangles_of(v);
    const bool is_own =
        !taken.empty() && std::any_of(around.begin(), around.end(), [&](std::uint32_t t) { return taken[t]; });
    std::vector<Vec3> planes;
    Vec3 mean;
    for (const std::uint32_t t : around) {
      if (is_own && !taken[t]) continue;
      const Vec3 normal = space.normal(t);
      if (normal == Vec3{}) continue;
      Triangle c = mesh.triangles()[t];
      for (std::size_t k = 0; k < 3; ++k)
        if (n.topology.welded[c[k]] == v) mean = mean + normal * angle_at(space.corners(t), k);
      constexpr double kSame = 1.5e-6;  // 0.1°, as one less its cosine
      if (std::none_of(planes.begin(), planes.end(), [&](const Vec3& p) { return 1 - dot(p, normal) < kSame; }))
        planes.push_back(normal);
    }
    const bool by_planes = way == Outward::Faces && is_own;
    if (planes.empty() || (!by_planes && !(length(mean) > 0)))
      return fail("There is no face that says which way is out.");
    std::optional<Vec3> shift;
    if (by_planes)
      shift = offset(planes, by);
    else
      shift = planes.size() == 1 ? planes.front() * by : normalized(mean) * by;
    if (!shift) return fail("The faces fold back onto each other: pushed out, their planes do not meet.");
    places[i] = *back * (to_space * mesh.positions()[v] + *shift * shares.shares[i]);
  }
  return places;
}

namespace {

// The runs that edges form: each a list of vertices in turn. Empty where edges branch.
std::vector<std::vector<std::uint32_t>> runs_of(const std::vector<ElementEdge>& edges) {
  std::vector<std::pair<std::uint32_t, std::uint32_t>> at;
  for (const ElementEdge& e : edges) at.emplace_back(e[0], e[1]), at.emplace_back(e[1], e[0]);
  std::sort(at.begin(), at.end());
  const auto others = [&](std::uint32_t v) {
    std::vector<std::uint32_t> ends;
    for (auto i = std::lower_bound(at.begin(), at.end(), std::pair{v, 0u}); i != at.end() && i->first == v; ++i)
      ends.push_back(i->second);
    return ends;
  };
  std::vector<std::uint32_t> vertices;
  vertices.reserve(at.size());
  for (const auto& [v, w] : at) vertices.push_back(v);
  sort_once(vertices);
  std::vector<std::uint32_t> starts;
  for (const std::uint32_t v : vertices) {
    const std::size_t count = others(v).size();
    if (count > 2) return {};
    if (count == 1) starts.push_back(v);
  }
  starts.insert(starts.end(), vertices.begin(), vertices.end());  // rings begin anywhere
  std::vector<bool> seen(vertices.size());
  const auto number = [&](std::uint32_t v) { return place_in(vertices, v); };
  std::vector<std::vector<std::uint32_t>> runs;
  for (const std::uint32_t start : starts) {
    if (seen[number(start)]) continue;
    std::vector<std::uint32_t> run{start};
    seen[number(start)] = true;
    for (bool on = true; on;) {
      on = false;
      for (const std::uint32_t next : others(run.back()))
        if (!seen[number(next)]) {
          seen[number(next)] = true;
          run.push_back(next);
          on = true;
          break;
        }
    }
    const auto last = others(run.back());
    if (run.size() > 2 && std::find(last.begin(), last.end(), start) != last.end()) run.push_back(start);
    runs.push_back(std::move(run));
  }
  return runs;
}

}  // namespace

Result<std::vector<Vec3>> slid(const Mesh& mesh, const Elements& elements, const Shares& shares, double share) {
  if (elements.kind != ElementKind::Edges) return fail("Edges slide, not vertices or faces.");
  const Neighbours& n = mesh.neighbours();
  const auto& t = n.topology;
  const auto runs = runs_of(elements.edges);
  if (runs.empty()) return fail("The edges branch: a run has two ends, or none.");
  std::vector<Vec3> goes = positions_of(mesh);
  const std::vector<std::uint32_t> all = welded_vertices(mesh, elements);
  // The triangle in which a side runs from a to b, and the corner behind it.
  const auto beside = [&](std::uint32_t a, std::uint32_t b) -> std::optional<std::pair<std::uint32_t, std::uint32_t>> {
    const std::uint32_t e = n.edge_between(a, b);
    if (e == Topology::kNoEdge) return std::nullopt;
    for (std::uint32_t i = 0; i < t.edges[e].count; ++i) {
      const TriangleSide side = t.sides[t.edges[e].first + i];
      const Triangle& c = mesh.triangles()[side.triangle];
      if (t.welded[c[side.corner]] == a)
        return std::pair{static_cast<std::uint32_t>(side.triangle), t.welded[c[(side.corner + 2) % 3]]};
    }
    return std::nullopt;
  };
  for (const auto& run : runs) {
    const bool ring = run.front() == run.back();
    for (std::size_t i = 0; i + (ring ? 1 : 0) < run.size(); ++i) {
      const std::uint32_t v = run[i];
      // On the left a fan goes round v from the edge onwards to the edge behind; on the right the other way round.
      const bool has_next = i + 1 < run.size(), has_last = i > 0 || ring;
      const std::uint32_t last = i > 0 ? run[i - 1] : ring ? run[run.size() - 2] : 0;
      std::vector<std::uint32_t> fan;
      std::uint32_t from = has_next ? run[i + 1] : last;
      const bool left = share >= 0;
      // Left of the direction: triangles with the side v → next. At the far end the fan is walked from the edge behind.
      const bool forward = has_next ? left : !left;
      for (std::size_t guard = 0; guard < 64; ++guard) {
        const auto next = forward ? beside(v, from) : beside(from, v);
        if (!next) break;
        const std::uint32_t to = next->second;
        if (has_last && has_next && to == last) break;
        if (std::binary_search(all.begin(), all.end(), to)) break;
        const std::uint32_t e = n.edge_between(v, to);
        if (e != Topology::kNoEdge && !n.divides[e]) fan.push_back(to);
        from = to;
        // At an end of the run the first edge is the one beside it.
        if (!(has_last && has_next) && !fan.empty()) break;
      }
      if (fan.empty()) return fail("There is no edge on that side along which it could slide.");
      // Of several the one in the middle.
      const Vec3 to = mesh.positions()[fan[fan.size() / 2]];
      goes[v] = mesh.positions()[v] + (to - mesh.positions()[v]) * std::abs(share);
    }
  }
  std::vector<Vec3> places;
  for (std::size_t i = 0; i < shares.vertices.size(); ++i) {
    const std::uint32_t v = shares.vertices[shares.lowest[i]];
    places.push_back(mesh.positions()[v] + (goes[v] - mesh.positions()[v]) * shares.shares[i]);
  }
  return places;
}

}  // namespace tack
