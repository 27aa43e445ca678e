#include "core/mesh/elements.h"

#include <algorithm>
#include <numeric>

#include "core/math/degrees.h"
#include "core/mesh/features.h"

namespace tack {
namespace {

constexpr double kOnePlane = 0.1;  // degrees between the two triangles of a four-sided face
constexpr double kOnward = 60;     // degrees that a run of folds may turn by at a vertex
constexpr double kFold = 20;       // degrees: core/mesh/features.h

ElementEdge in_order(std::uint32_t a, std::uint32_t b) { return a < b ? ElementEdge{a, b} : ElementEdge{b, a}; }

// The numbers of items by their places: counted, then laid out one behind the other.
template <class Each>
void lay_out(std::size_t places, std::vector<std::uint32_t>& first, std::vector<std::uint32_t>& items, Each&& each) {
  first.assign(places + 1, 0);
  each([&](std::uint32_t place, std::uint32_t) { ++first[place + 1]; });
  std::partial_sum(first.begin(), first.end(), first.begin());
  items.resize(first.back());
  std::vector<std::uint32_t> next(first.begin(), first.end() - 1);
  each([&](std::uint32_t place, std::uint32_t item) { items[next[place]++] = item; });
}

Vec3 normal_of(const Mesh& mesh, std::uint32_t triangle) { return normalized(area_vector(mesh, triangle)); }

double degrees_between(const Vec3& a, const Vec3& b) { return atan2_degrees(length(cross(a, b)), dot(a, b)); }

double side_length(const Mesh& mesh, std::uint32_t triangle, std::size_t corner) {
  const auto c = mesh.corners(triangle);
  return distance(c[corner], c[(corner + 1) % 3]);
}

bool divides_a_face(const Mesh& mesh, const Topology& t, const MeshEdge& edge) {
  if (edge.count != 2) return false;
  const TriangleSide a = t.sides[edge.first], b = t.sides[edge.first + 1];
  for (const TriangleSide s : {a, b})
    for (std::size_t i = 1; i < 3; ++i)
      if (!(side_length(mesh, s.triangle, s.corner) > side_length(mesh, s.triangle, (s.corner + i) % 3) * (1 + 1e-6)))
        return false;
  return degrees_between(normal_of(mesh, a.triangle), normal_of(mesh, b.triangle)) <= kOnePlane;
}

// Marks of a set, by number.
std::vector<bool> marks(std::size_t count, const std::vector<std::uint32_t>& numbers) {
  std::vector<bool> marked(count);
  for (const std::uint32_t n : numbers) marked[n] = true;
  return marked;
}

// The elements of a kind that have all their vertices, or any of them, among those marked.
Elements with_vertices(const Mesh& mesh, ElementKind kind, const std::vector<bool>& marked, bool all) {
  const Neighbours& n = mesh.neighbours();
  const auto counts = [&](auto vertices) {
    std::size_t in = 0;
    for (const std::uint32_t v : vertices) in += marked[v];
    return all ? in == vertices.size() : in > 0;
  };
  Elements found{kind, {}, {}};
  if (kind == ElementKind::Vertices) {
    for (std::uint32_t v = 0; v < marked.size(); ++v)
      if (marked[v] && n.topology.welded[v] == v) found.numbers.push_back(v);
  } else if (kind == ElementKind::Edges) {
    for (std::size_t e = 0; e < n.topology.edges.size(); ++e) {
      const MeshEdge& edge = n.topology.edges[e];
      if (!n.divides[e] && counts(ElementEdge{edge.low, edge.high})) found.edges.push_back({edge.low, edge.high});
    }
  } else {
    for (std::uint32_t t = 0; t < mesh.triangles().size(); ++t) {
      Triangle corners = mesh.triangles()[t];
      for (std::uint32_t& v : corners) v = n.topology.welded[v];
      if (counts(corners)) found.numbers.push_back(t);
    }
  }
  return found;
}

bool is_fold(const Mesh& mesh, const Topology& t, const MeshEdge& edge) {
  if (edge.count != 2) return true;
  return degrees_between(normal_of(mesh, t.sides[edge.first].triangle),
                         normal_of(mesh, t.sides[edge.first + 1].triangle)) > kFold;
}

std::uint32_t other_end(const MeshEdge& edge, std::uint32_t v) { return edge.low == v ? edge.high : edge.low; }

// The one edge on which a run that comes along `edge` goes on from a vertex; kNoEdge where there is not just one.
std::uint32_t onward(const Mesh& mesh, std::uint32_t edge, std::uint32_t at) {
  const Neighbours& n = mesh.neighbours();
  const Topology& t = n.topology;
  const auto turn = [&](std::uint32_t next) {
    const Vec3 here = mesh.positions()[at];
    return degrees_between(here - mesh.positions()[other_end(t.edges[edge], at)],
                           mesh.positions()[other_end(t.edges[next], at)] - here);
  };
  const bool border = t.edges[edge].count == 1, fold = is_fold(mesh, t, t.edges[edge]);
  std::vector<std::uint32_t> ways, sides;
  for (const std::uint32_t next : n.edges_of(at)) {
    if (next == edge || n.divides[next]) continue;
    sides.push_back(next);
    if (border ? t.edges[next].count == 1 : fold && is_fold(mesh, t, t.edges[next]) && turn(next) <= kOnward)
      ways.push_back(next);
  }
  if (border || fold) {
    if (ways.size() == 1) return ways.front();
    if (border || !ways.empty()) return Topology::kNoEdge;
  }
  // Between four faces: across from where it comes.
  if (sides.size() != 3) return Topology::kNoEdge;
  const auto shares_a_face = [&](std::uint32_t a, std::uint32_t b) {
    // Triangles of a face that is divided count as one.
    const auto faces = [&](std::uint32_t e) {
      std::vector<std::uint32_t> all;
      for (std::uint32_t i = 0; i < t.edges[e].count; ++i)
        for (const std::uint32_t f : facet_of(mesh, t.sides[t.edges[e].first + i].triangle).numbers) all.push_back(f);
      return all;
    };
    const auto fa = faces(a), fb = faces(b);
    return std::any_of(fa.begin(), fa.end(),
                       [&](std::uint32_t f) { return std::find(fb.begin(), fb.end(), f) != fb.end(); });
  };
  std::uint32_t across = Topology::kNoEdge;
  for (const std::uint32_t next : sides) {
    if (shares_a_face(edge, next)) continue;
    if (across != Topology::kNoEdge) return Topology::kNoEdge;
    across = next;
  }
  return across;
}

}  // namespace

Elements in_order(Elements e) {
  std::sort(e.numbers.begin(), e.numbers.end());
  e.numbers.erase(std::unique(e.numbers.begin(), e.numbers.end()), e.numbers.end());
  std::sort(e.edges.begin(), e.edges.end());
  e.edges.erase(std::unique(e.edges.begin(), e.edges.end()), e.edges.end());
  return e;
}

Elements with(const Elements& a, const Elements& b) {
  Elements both{a.kind, {}, {}};
  std::set_union(a.numbers.begin(), a.numbers.end(), b.numbers.begin(), b.numbers.end(),
                 std::back_inserter(both.numbers));
  std::set_union(a.edges.begin(), a.edges.end(), b.edges.begin(), b.edges.end(), std::back_inserter(both.edges));
  return both;
}

Elements toggled(const Elements& a, const Elements& b) {
  // What is all there goes, else it comes.
  const bool there = std::includes(a.numbers.begin(), a.numbers.end(), b.numbers.begin(), b.numbers.end()) &&
                     std::includes(a.edges.begin(), a.edges.end(), b.edges.begin(), b.edges.end());
  if (!there) return with(a, b);
  Elements rest{a.kind, {}, {}};
  std::set_difference(a.numbers.begin(), a.numbers.end(), b.numbers.begin(), b.numbers.end(),
                      std::back_inserter(rest.numbers));
  std::set_difference(a.edges.begin(), a.edges.end(), b.edges.begin(), b.edges.end(), std::back_inserter(rest.edges));
  return rest;
}

std::uint32_t Neighbours::edge_between(std::uint32_t a, std::uint32_t b) const {
  if (a >= topology.welded.size() || b >= topology.welded.size()) return Topology::kNoEdge;
  const std::uint32_t from = topology.welded[a], to = topology.welded[b];
  for (const std::uint32_t e : edges_of(from))
    if (topology.edges[e].low == std::min(from, to) && topology.edges[e].high == std::max(from, to)) return e;
  return Topology::kNoEdge;
}

Neighbours find_neighbours(const Mesh& mesh) {
  Neighbours n;
  n.topology = topology_of(mesh);
  const Topology& t = n.topology;
  const std::size_t count = mesh.positions().size();
  lay_out(count, n.first_edge, n.edges_at, [&](auto&& put) {
    for (std::uint32_t e = 0; e < t.edges.size(); ++e) put(t.edges[e].low, e), put(t.edges[e].high, e);
  });
  lay_out(count, n.first_triangle, n.triangles_at, [&](auto&& put) {
    for (std::uint32_t i = 0; i < mesh.triangles().size(); ++i) {
      const Triangle& v = mesh.triangles()[i];
      const std::uint32_t a = t.welded[v[0]], b = t.welded[v[1]], c = t.welded[v[2]];
      put(a, i);
      if (b != a) put(b, i);
      if (c != a && c != b) put(c, i);
    }
  });
  lay_out(count, n.first_twin, n.twins, [&](auto&& put) {
    for (std::uint32_t v = 0; v < count; ++v) put(t.welded[v], v);
  });
  n.divides.resize(t.edges.size());
  for (std::size_t e = 0; e < t.edges.size(); ++e) n.divides[e] = divides_a_face(mesh, t, t.edges[e]);
  return n;
}

std::vector<std::uint32_t> welded_vertices(const Mesh& mesh, const Elements& elements) {
  const auto& welded = mesh.neighbours().topology.welded;
  std::vector<std::uint32_t> vertices;
  if (elements.kind == ElementKind::Vertices)
    for (const std::uint32_t v : elements.numbers) vertices.push_back(welded[v]);
  if (elements.kind == ElementKind::Faces)
    for (const std::uint32_t t : elements.numbers)
      for (const std::uint32_t v : mesh.triangles()[t]) vertices.push_back(welded[v]);
  for (const ElementEdge& e : elements.edges)
    for (const std::uint32_t v : e) vertices.push_back(welded[v]);
  std::sort(vertices.begin(), vertices.end());
  vertices.erase(std::unique(vertices.begin(), vertices.end()), vertices.end());
  return vertices;
}

std::vector<std::uint32_t> with_twins(const Mesh& mesh, const std::vector<std::uint32_t>& welded) {
  const Neighbours& n = mesh.neighbours();
  std::vector<std::uint32_t> all;
  for (const std::uint32_t v : welded)
    for (const std::uint32_t twin : n.twins_of(v)) all.push_back(twin);
  std::sort(all.begin(), all.end());
  return all;
}

Elements facet_of(const Mesh& mesh, std::uint32_t triangle) {
  const Neighbours& n = mesh.neighbours();
  Elements facet{ElementKind::Faces, {triangle}, {}};
  if (n.topology.edge_of.empty()) return facet;
  for (const std::uint32_t e : n.topology.edge_of[triangle])
    if (e != Topology::kNoEdge && n.divides[e])
      for (std::uint32_t i = 0; i < n.topology.edges[e].count; ++i)
        facet.numbers.push_back(n.topology.sides[n.topology.edges[e].first + i].triangle);
  return in_order(std::move(facet));
}

Elements region_of(const Mesh& mesh, std::uint32_t triangle) {
  const Features& features = mesh.features();
  if (features.face_of.empty()) return facet_of(mesh, triangle);
  Elements region{ElementKind::Faces, {}, {}};
  for (std::uint32_t t = 0; t < features.face_of.size(); ++t)
    if (features.face_of[t] == features.face_of[triangle]) region.numbers.push_back(t);
  return region;
}

Elements run_of(const Mesh& mesh, const ElementEdge& start) {
  const Neighbours& n = mesh.neighbours();
  const std::uint32_t first = n.edge_between(start[0], start[1]);
  Elements run{ElementKind::Edges, {}, {in_order(start[0], start[1])}};
  if (first == Topology::kNoEdge) return run;
  std::vector<std::uint32_t> taken{first};
  std::vector<bool> seen(n.topology.edges.size());
  seen[first] = true;
  for (const std::uint32_t end : {n.topology.edges[first].low, n.topology.edges[first].high}) {
    std::uint32_t edge = first, at = end;
    while (true) {
      const std::uint32_t next = onward(mesh, edge, at);
      if (next == Topology::kNoEdge || seen[next]) break;
      seen[next] = true;
      taken.push_back(next);
      at = other_end(n.topology.edges[next], at);
      edge = next;
    }
  }
  for (const std::uint32_t e : taken) run.edges.push_back({n.topology.edges[e].low, n.topology.edges[e].high});
  return in_order(std::move(run));
}

Elements connected(const Mesh& mesh, const Elements& elements) {
  const Neighbours& n = mesh.neighbours();
  std::vector<bool> reached(mesh.positions().size());
  std::vector<std::uint32_t> pending = welded_vertices(mesh, elements);
  for (const std::uint32_t v : pending) reached[v] = true;
  while (!pending.empty()) {
    const std::uint32_t v = pending.back();
    pending.pop_back();
    for (const std::uint32_t e : n.edges_of(v)) {
      const std::uint32_t next = other_end(n.topology.edges[e], v);
      if (reached[next]) continue;
      reached[next] = true;
      pending.push_back(next);
    }
  }
  return with_vertices(mesh, elements.kind, reached, true);
}

Elements grown(const Mesh& mesh, const Elements& elements) {
  const Neighbours& n = mesh.neighbours();
  const std::vector<std::uint32_t> vertices = welded_vertices(mesh, elements);
  std::vector<bool> reached = marks(mesh.positions().size(), vertices);
  if (elements.kind != ElementKind::Vertices) return with(elements, with_vertices(mesh, elements.kind, reached, false));
  for (const std::uint32_t v : vertices)
    for (const std::uint32_t e : n.edges_of(v))
      if (!n.divides[e]) reached[other_end(n.topology.edges[e], v)] = true;
  return with_vertices(mesh, elements.kind, reached, true);
}

Elements shrunk(const Mesh& mesh, const Elements& elements) {
  const Neighbours& n = mesh.neighbours();
  if (elements.kind == ElementKind::Vertices) {
    const std::vector<bool> in = marks(mesh.positions().size(), welded_vertices(mesh, elements));
    Elements left{elements.kind, {}, {}};
    for (const std::uint32_t v : elements.numbers) {
      const auto edges = n.edges_of(v);
      if (std::all_of(edges.begin(), edges.end(),
                      [&](std::uint32_t e) { return n.divides[e] || in[other_end(n.topology.edges[e], v)]; }))
        left.numbers.push_back(v);
    }
    return left;
  }
  // Vertices that others of the kind have, too.
  std::vector<bool> shared(mesh.positions().size());
  const Elements rest = inverted(mesh, elements);
  for (const std::uint32_t v : welded_vertices(mesh, rest)) shared[v] = true;
  const Elements touched = with_vertices(mesh, elements.kind, shared, false);
  Elements left{elements.kind, {}, {}};
  std::set_difference(elements.numbers.begin(), elements.numbers.end(), touched.numbers.begin(), touched.numbers.end(),
                      std::back_inserter(left.numbers));
  std::set_difference(elements.edges.begin(), elements.edges.end(), touched.edges.begin(), touched.edges.end(),
                      std::back_inserter(left.edges));
  return left;
}

Elements all_of(const Mesh& mesh, ElementKind kind) {
  return with_vertices(mesh, kind, std::vector<bool>(mesh.positions().size(), true), true);
}

Elements inverted(const Mesh& mesh, const Elements& elements) {
  const Elements all = all_of(mesh, elements.kind);
  Elements rest{elements.kind, {}, {}};
  std::set_difference(all.numbers.begin(), all.numbers.end(), elements.numbers.begin(), elements.numbers.end(),
                      std::back_inserter(rest.numbers));
  std::set_difference(all.edges.begin(), all.edges.end(), elements.edges.begin(), elements.edges.end(),
                      std::back_inserter(rest.edges));
  return rest;
}

}  // namespace tack
