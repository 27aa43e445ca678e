#include "core/mesh/features.h"

#include <tbb/parallel_sort.h>

#include <numeric>

#include "core/math/degrees.h"
#include "core/mesh/feature_edges.h"
#include "core/mesh/joined.h"

namespace tack {
namespace {

constexpr std::uint32_t kNobody = 0xFFFFFFFFu;

// The triangles by falling area; areas that are equal as floats by rising number.
std::vector<std::uint32_t> largest_first(const std::vector<double>& area) {
  std::vector<std::uint32_t> order(area.size());
  std::iota(order.begin(), order.end(), 0u);
  tbb::parallel_sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) {
    const auto x = static_cast<float>(area[a]), y = static_cast<float>(area[b]);
    return x != y ? x > y : a < b;
  });
  return order;
}

// Flat regions: for each triangle the number of its region; regions are numbered by falling area of their first
// triangle, which `seeds` names.
std::vector<std::uint32_t> grow_regions(const Mesh& mesh, const Topology& topology, const std::vector<Vec3>& vectors,
                                        const std::vector<double>& area, std::vector<std::uint32_t>& seeds) {
  const double least_cosine = sin_cos_degrees(0.1).cos, most_off = 1e-5 * mesh.box().extent();
  std::vector<std::uint32_t> region(area.size(), kNobody), pending;
  for (const std::uint32_t seed : largest_first(area)) {
    if (region[seed] != kNobody) continue;
    const auto number = static_cast<std::uint32_t>(seeds.size());
    seeds.push_back(seed);
    region[seed] = number;
    if (!(area[seed] > 0)) continue;  // nothing to compare with: a region by itself
    const Vec3 normal = vectors[seed] / area[seed], origin = mesh.corners(seed)[0];
    pending.assign(1, seed);
    while (!pending.empty()) {
      const std::uint32_t t = pending.back();
      pending.pop_back();
      for (const std::uint32_t e : topology.edge_of[t]) {
        if (e == Topology::kNoEdge) continue;
        const MeshEdge& edge = topology.edges[e];
        for (std::uint32_t i = 0; i < edge.count; ++i) {
          const std::uint32_t other = topology.sides[edge.first + i].triangle;
          if (region[other] != kNobody || dot(vectors[other], normal) < least_cosine * area[other]) continue;
          const auto corners = mesh.corners(other);
          if (std::any_of(corners.begin(), corners.end(),
                          [&](const Vec3& p) { return std::abs(dot(p - origin, normal)) > most_off; }))
            continue;
          region[other] = number;
          pending.push_back(other);
        }
      }
    }
  }
  return region;
}

// Joins the regions that are facets of one curved face. Returns for each region the lowest of its face.
std::vector<std::uint32_t> join_facets(const Topology& topology, const std::vector<bool>& is_feature,
                                       const std::vector<std::uint32_t>& region, const std::vector<double>& area) {
  constexpr double kAlike = 4;
  constexpr std::uint32_t kLeastFacets = 4;
  Joined joined(area.size());
  for (std::size_t e = 0; e < topology.edges.size(); ++e) {
    const MeshEdge& edge = topology.edges[e];
    if (is_feature[e] || edge.count != 2) continue;
    const std::uint32_t a = region[topology.sides[edge.first].triangle];
    const std::uint32_t b = region[topology.sides[edge.first + 1].triangle];
    if (a != b && area[a] <= kAlike * area[b] && area[b] <= kAlike * area[a]) joined.join(a, b);
  }
  std::vector<std::uint32_t> members(area.size(), 0), face(area.size());
  for (std::uint32_t r = 0; r < face.size(); ++r) ++members[joined.find(r)];
  for (std::uint32_t r = 0; r < face.size(); ++r)
    face[r] = members[joined.find(r)] >= kLeastFacets ? joined.find(r) : r;
  return face;
}

// The longest border edge of a flat face: among edges equal within 1e-6 the one with the lowest vertex numbers.
void find_longest_border(const Mesh& mesh, const Topology& topology, std::span<const std::uint32_t> triangles,
                         MeshFace& face) {
  std::vector<std::uint32_t> edges;
  edges.reserve(triangles.size() * 3);
  for (const std::uint32_t t : triangles)
    for (const std::uint32_t e : topology.edge_of[t])
      if (e != Topology::kNoEdge) edges.push_back(e);
  std::sort(edges.begin(), edges.end());
  double longest = -1;
  for (std::size_t i = 0; i < edges.size();) {
    std::size_t j = i + 1;
    while (j < edges.size() && edges[j] == edges[i]) ++j;
    const MeshEdge& edge = topology.edges[edges[i]];
    const double len = distance(mesh.positions()[edge.low], mesh.positions()[edge.high]);
    if (j - i == 1 && len > longest * (1 + 1e-6)) {
      longest = len;
      face.longest_a = edge.low;
      face.longest_b = edge.high;
    }
    i = j;
  }
}

void find_faces(const Mesh& mesh, const Topology& topology, const std::vector<bool>& is_feature, Features& features) {
  const auto count = static_cast<std::uint32_t>(mesh.triangles().size());
  std::vector<Vec3> vectors(count);
  std::vector<double> area(count);
  for (std::uint32_t t = 0; t < count; ++t) {
    vectors[t] = area_vector(mesh, t);
    area[t] = std::sqrt(length_squared(vectors[t]));
  }
  if (topology.edge_of.empty() && count > 0) return;  // more triangles than can be numbered here
  std::vector<std::uint32_t> seeds;
  std::vector<std::uint32_t> region = grow_regions(mesh, topology, vectors, area, seeds);
  std::vector<double> region_area(seeds.size(), 0);
  for (std::uint32_t t = 0; t < count; ++t) region_area[region[t]] += area[t];
  std::vector<std::uint32_t> joined = join_facets(topology, is_feature, region, region_area);
  const std::span<const KnownFeatures::Face> known =
      mesh.known() ? std::span(mesh.known()->faces) : std::span<const KnownFeatures::Face>();
  std::vector<std::uint32_t> known_of(known.empty() ? 0 : seeds.size(), kNobody);
  for (std::uint32_t k = 0; k < known.size(); ++k) {
    std::uint32_t lowest = kNobody;
    const auto triangles = [&](auto&& f) {
      for (std::uint32_t t = 0; t < known[k].triangle_count; ++t) f(region[known[k].first_triangle + t]);
    };
    triangles([&](std::uint32_t r) { lowest = std::min(lowest, r); });
    triangles([&](std::uint32_t r) { joined[r] = lowest; });
    if (lowest != kNobody) known_of[lowest] = k;
  }

  // Faces by their largest triangle: the seed of the lowest region, since regions come by falling area of their seeds.
  std::vector<bool> many(seeds.size(), false);
  for (std::uint32_t r = 0; r < seeds.size(); ++r)
    if (joined[r] != r) many[joined[r]] = true;
  std::vector<std::uint32_t> roots;
  for (std::uint32_t r = 0; r < seeds.size(); ++r)
    if (joined[r] == r) roots.push_back(r);
  std::sort(roots.begin(), roots.end(), [&](std::uint32_t a, std::uint32_t b) { return seeds[a] < seeds[b]; });
  std::vector<std::uint32_t> number(seeds.size(), 0);
  for (std::uint32_t i = 0; i < roots.size(); ++i) number[roots[i]] = i;
  features.faces.resize(roots.size());
  features.face_of.resize(count);
  for (std::uint32_t t = 0; t < count; ++t) features.face_of[t] = number[joined[region[t]]];

  // The triangles of each face together, by counting.
  std::vector<std::uint32_t> first(roots.size() + 1, 0), grouped(count);
  for (const std::uint32_t f : features.face_of) ++first[f + 1];
  std::partial_sum(first.begin(), first.end(), first.begin());
  std::vector<std::uint32_t> next(first.begin(), first.end() - 1);
  for (std::uint32_t t = 0; t < count; ++t) grouped[next[features.face_of[t]]++] = t;
  for (std::uint32_t f = 0; f < roots.size(); ++f) {
    MeshFace& face = features.faces[f];
    const std::span<const std::uint32_t> triangles(grouped.data() + first[f], grouped.data() + first[f + 1]);
    face.triangle = seeds[roots[f]];
    Vec3 moment;
    for (const std::uint32_t t : triangles) {
      const auto c = mesh.corners(t);
      face.area += area[t];
      moment += (c[0] + c[1] + c[2]) * (area[t] / 3);
    }
    if (!known_of.empty() && known_of[roots[f]] != kNobody) {
      const KnownFeatures::Face& is = known[known_of[roots[f]]];
      face.kind = is.half_length > 0 ? MeshFace::Kind::Round : MeshFace::Kind::Ball;
      face.centre = is.centre;
      face.direction = is.axis;
      face.half_length = is.half_length;
      face.radius = is.radius;
      continue;
    }
    if (many[roots[f]]) {
      face.kind = MeshFace::Kind::Smooth;
      fit_round_face(mesh, triangles, face);
      continue;
    }
    face.centre = face.area > 0 ? moment / face.area : mesh.corners(face.triangle)[0];
    face.direction = area[face.triangle] > 0 ? vectors[face.triangle] / area[face.triangle] : Vec3{};
    find_longest_border(mesh, topology, triangles, face);
  }
}

// The round edges that are known, by their pieces; each by the lowest vertex that names no other.
std::vector<RoundEdge> known_rounds(const Mesh& mesh, const Topology& topology, std::vector<RoundPiece>& pieces) {
  const auto& known = mesh.known()->rounds;
  std::vector<std::uint32_t> names(known.size(), kNobody), order(known.size());
  std::vector<bool> taken(mesh.positions().size(), false);
  for (std::size_t r = 0; r < known.size(); ++r) {
    for (const std::uint32_t v : known[r].vertices)
      if (!taken[topology.welded[v]]) names[r] = std::min(names[r], topology.welded[v]);
    taken[names[r]] = true;
  }
  std::iota(order.begin(), order.end(), 0u);
  std::sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) { return names[a] < names[b]; });
  std::vector<RoundEdge> rounds;
  for (const std::uint32_t r : order) {
    const KnownFeatures::Round& round = known[r];
    const auto number = static_cast<std::uint32_t>(rounds.size());
    const auto count = static_cast<std::uint32_t>(round.vertices.size());
    const std::uint32_t edges = round.closed ? count : count - 1;
    for (std::uint32_t i = 0; i < edges; ++i) {
      const auto [a, b] =
          std::minmax(topology.welded[round.vertices[i]], topology.welded[round.vertices[(i + 1) % count]]);
      pieces.push_back({a, b, number});
    }
    rounds.push_back({names[r], edges, round.closed, round.centre, round.axis, round.radius});
  }
  return rounds;
}

// Which way the faces along each round edge look: the sum of their normals along the circle's axis. The sides of a
// hole or a peg cancel out, the face that the edge bounds remains.
void point_outward(const Mesh& mesh, const Topology& topology, const std::vector<RoundPiece>& pieces,
                   Features& features) {
  std::vector<double> along(features.rounds.size(), 0);
  for (const RoundPiece& piece : pieces) {
    const auto edge = std::lower_bound(
        topology.edges.begin(), topology.edges.end(), piece,
        [](const MeshEdge& e, const RoundPiece& p) { return e.low != p.a ? e.low < p.a : e.high < p.b; });
    if (edge == topology.edges.end() || edge->low != piece.a || edge->high != piece.b) continue;
    for (std::uint32_t i = 0; i < edge->count; ++i)
      along[piece.round] += dot(normalized(area_vector(mesh, topology.sides[edge->first + i].triangle)),
                                features.rounds[piece.round].axis);
  }
  for (std::size_t i = 0; i < along.size(); ++i)
    if (along[i] < 0) features.rounds[i].axis = -features.rounds[i].axis;
}

FloatBox box_around(std::initializer_list<Vec3> points) {
  Box box;
  for (const Vec3& p : points) box.include(p);
  return outward(box);
}

}  // namespace

Features find_features(const Mesh& mesh) {
  Features result;
  const Topology topology = topology_of(mesh);
  const std::vector<bool> is_feature = mark_feature_edges(mesh, topology);
  result.edges = straight_runs(mesh, topology, is_feature);

  if (mesh.known())
    for (const auto& [a, b] : mesh.known()->lines) result.edges.push_back({std::min(a, b), std::max(a, b)});

  std::vector<RoundPiece> pieces;
  result.rounds = mesh.known() ? known_rounds(mesh, topology, pieces)
                               : find_round_edges(mesh, chain_edges(mesh, topology, is_feature), pieces);
  for (const RoundPiece& piece : pieces) {
    const auto edge =
        std::lower_bound(result.edges.begin(), result.edges.end(), piece,
                         [](const FeatureEdge& e, const RoundPiece& p) { return e.a != p.a ? e.a < p.a : e.b < p.b; });
    if (edge != result.edges.end() && edge->a == piece.a && edge->b == piece.b) edge->round = piece.round;
  }
  if (!mesh.known()) point_outward(mesh, topology, pieces, result);

  std::vector<bool> place_on_edge(mesh.positions().size(), false);
  for (std::size_t e = 0; e < topology.edges.size(); ++e)
    if (is_feature[e]) place_on_edge[topology.edges[e].low] = place_on_edge[topology.edges[e].high] = true;
  result.on_edge.resize(mesh.positions().size());
  if (mesh.known())
    for (const auto& [a, b] : mesh.known()->lines) place_on_edge[a] = place_on_edge[b] = true;
  for (std::size_t v = 0; v < result.on_edge.size(); ++v) result.on_edge[v] = place_on_edge[topology.welded[v]];

  find_faces(mesh, topology, is_feature, result);

  const auto positions = mesh.positions();
  std::vector<FloatBox> boxes;
  boxes.reserve(result.edges.size());
  for (const FeatureEdge& e : result.edges) boxes.push_back(box_around({positions[e.a], positions[e.b]}));
  result.edge_tree = build_box_tree(boxes, 4);
  // Only what has a centre goes into the tree; items keep the numbers of faces, and of round edges behind them.
  std::vector<std::uint32_t> numbers;
  boxes.clear();
  for (std::uint32_t f = 0; f < result.faces.size(); ++f)
    if ((result.faces[f].kind == MeshFace::Kind::Flat || result.faces[f].kind == MeshFace::Kind::Ball) &&
        result.faces[f].area > 0) {
      numbers.push_back(f);
      boxes.push_back(box_around({result.faces[f].centre}));
    }
  for (std::uint32_t r = 0; r < result.rounds.size(); ++r) {
    numbers.push_back(static_cast<std::uint32_t>(result.faces.size()) + r);
    boxes.push_back(box_around({result.rounds[r].centre}));
  }
  result.centre_tree = build_box_tree(boxes, 4);
  for (std::uint32_t& item : result.centre_tree.items) item = numbers[item];
  return result;
}

const RoundEdge* Features::round_at(std::uint32_t vertex) const {
  const auto at = std::lower_bound(rounds.begin(), rounds.end(), vertex,
                                   [](const RoundEdge& r, std::uint32_t v) { return r.vertex < v; });
  if (at != rounds.end() && at->vertex == vertex) return &*at;
  for (const FeatureEdge& edge : edges)
    if (edge.round != FeatureEdge::kNone && (edge.a == vertex || edge.b == vertex)) return &rounds[edge.round];
  return nullptr;
}

std::size_t Features::bytes() const {
  return edges.capacity() * sizeof(FeatureEdge) + on_edge.capacity() / 8 + faces.capacity() * sizeof(MeshFace) +
         face_of.capacity() * sizeof(std::uint32_t) + rounds.capacity() * sizeof(RoundEdge) + edge_tree.bytes() +
         centre_tree.bytes();
}

}  // namespace tack
