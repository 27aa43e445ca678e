#include "core/catch/outward_search.h"

#include "core/mesh/features.h"
#include "core/mesh/mass.h"

namespace tack {
namespace {

// Crossings are looked for along so many of the edges nearest to the pointer.
constexpr std::size_t kMostCrossing = 160;
constexpr int kMostPasses = 16;

Vec3 between(const Vec3& a, const Vec3& b, double way) { return way == 1 ? b : a + (b - a) * way; }

// The ways along two lines at which they come nearest; nullopt when they are parallel.
std::optional<std::pair<double, double>> nearest_ways(const Vec3& a, const Vec3& along_a, const Vec3& b,
                                                      const Vec3& along_b) {
  const double aa = length_squared(along_a), bb = length_squared(along_b), ab = dot(along_a, along_b);
  const double bottom = aa * bb - ab * ab;
  if (!(bottom > 1e-12 * aa * bb)) return std::nullopt;
  const Vec3 off = b - a;
  const double on_a = dot(along_a, off), on_b = dot(along_b, off);
  return std::pair{(on_a * bb - on_b * ab) / bottom, (on_a * ab - on_b * aa) / bottom};
}

}  // namespace

// Whether `test` holds for an item of a tree in a box that may lie within the radius.
template <typename Test>
bool OutwardSearch::any_item(const BoxTree& tree, const PointerProjection& projection, Test&& test) const {
  std::array<std::uint32_t, kTreeStack> stack;
  int size = 0;
  stack[size++] = 0;
  while (size > 0) {
    const std::uint32_t at = stack[--size];
    const BoxNode& node = tree.nodes[at];
    if (projection.least_pixels(node.box) > options_.radius) continue;
    if (!node.leaf()) {
      stack[size++] = at + 1;
      stack[size++] = node.first;
      continue;
    }
    for (std::uint32_t i = 0; i < node.count; ++i)
      if (test(tree.items[node.first + i])) return true;
  }
  return false;
}

OutwardSearch::OutwardSearch(const CatchScene& scene, const View& view, double x, double y, const CatchOptions& options,
                             const Sight* sight)
    : scene_(scene), view_(view), x_(x), y_(y), options_(options), sight_(sight), whole_(view, x, y, Affine{}) {
  near_.reserve(64);
  found_.reserve(64);
  std::vector<Entry> room;
  room.reserve(512);
  queue_ = std::priority_queue<Entry>(std::less<Entry>(), std::move(room));
}

void OutwardSearch::push_parts(std::uint32_t node) {
  const double bound = whole_.least_pixels(scene_.tree.nodes[node].box);
  const double least = scene_.kept.empty() ? kVertexHandicap : kKeptHandicap;
  if (bound <= options_.radius) queue_.push({bound + least, Entry::Parts, node, 0});
}

void OutwardSearch::add_part(const CatchPart& part) {
  if (options_.leave_out && options_.leave_out(part.id)) return;
  const CatchKinds& kinds = options_.kinds;
  const auto slot = static_cast<std::uint32_t>(near_.size());
  const MeshIndex* index = part.mesh ? part.mesh->index_if_ready() : nullptr;
  near_.push_back(
      {&part, PointerProjection(view_, x_, y_, part.world), index ? part.mesh->features_if_ready() : nullptr});
  // The pivot of a guide's point or plane is what the guide itself offers.
  if (part.guide == GuideKind::None || part.guide == GuideKind::Line)
    offer(CatchKind::Pivot, near_[slot], {TackKind::Pivot, part.id, 0, {}}, part.pivot, kPivotHandicap);
  if (part.kept)
    for (const KeptTack& kept : *part.kept)
      if (const double pixels = near_[slot].projection.pixels(kept.point); pixels <= options_.radius) {
        TackAddress address{TackKind::Kept, part.id, 0, {}};
        address.name = kept.name;
        offer(CatchKind::Kept, near_[slot], address, kept.point, kKeptHandicap);
      }
  if (part.guide != GuideKind::None) add_guide(near_[slot]);
  if (!part.mesh) return;
  if (const MassCentre* mass = part.mesh->mass_if_ready())
    offer(CatchKind::Pivot, near_[slot], {TackKind::Mass, part.id, 0, {}}, mass->point, kPivotHandicap);
  // Vertices, edges and box points lie in the mesh's box; a round edge's centre need not.
  const double bound = near_[slot].projection.least_pixels(outward(part.mesh->box()));
  const bool within = bound <= options_.radius;
  if (within && kinds.has(CatchKind::BoxPoint)) queue_.push({bound + kBoxPointHandicap, Entry::BoxPoints, 0, slot});
  if (within && kinds.has(CatchKind::Vertex)) {
    if (near_[slot].features) {
      if (!several_) several_ = several_loose();
      near_[slot].loose = *several_ ? kDenseHandicap : 0;
    }
    if (!index)
      for (std::uint32_t v = 0; v < part.mesh->positions().size(); ++v) add_vertex(slot, v);
    else
      push_node(Entry::Vertices, slot, 0);
  }
  if (!near_[slot].features) return;
  if (within && (kinds.has(CatchKind::Edge) || kinds.has(CatchKind::EdgePoint) || kinds.has(CatchKind::RoundCentre)))
    push_node(Entry::Edges, slot, 0);
  if (kinds.has(CatchKind::FaceCentre) || kinds.has(CatchKind::RoundCentre)) push_node(Entry::Centres, slot, 0);
}

// A point, a line at its nearest place on the picture, a plane by its origin.
void OutwardSearch::add_guide(const NearPart& near) {
  if (!options_.kinds.has(CatchKind::Guide)) return;
  TackAddress address{TackKind::Guide, near.part->id, 0, {}};
  Vec3 local;
  if (near.part->guide == GuideKind::Line) {
    // A line that passes the eye is cut off a millimetre before it: nearer, its picture runs away so far that the
    // digits of what can be seen are lost.
    Vec3 a{0, 0, -kGuideLine}, b{0, 0, kGuideLine};
    const double depth_a = near.projection.homogeneous(a).z, depth_b = near.projection.homogeneous(b).z;
    if (depth_a < 1 && depth_b < 1) return;
    if (depth_a < 1) a = a + (b - a) * ((1 - depth_a) / (depth_b - depth_a));
    if (depth_b < 1) b = b + (a - b) * ((1 - depth_b) / (depth_a - depth_b));
    const auto picture = edge_on_picture(near.projection, a, b, options_.radius);
    if (!picture) return;
    local.z = a.z + (b.z - a.z) * picture->nearest;
    address.parameter.x = local.z;
    cross_guides(near);
  }
  offer(CatchKind::Guide, near, address, local, kGuideHandicap);
  if (near.part->guide != GuideKind::Plane) return;
  // Of a plane the border of its sheet as well: it is what is seen of it.
  const auto corners = near.part->sheet.corners();
  for (std::size_t i = 0; i < 4; ++i) {
    const Vec3 &a = corners[i], &b = corners[(i + 1) % 4];
    if (near.projection.homogeneous(a).z < 1 || near.projection.homogeneous(b).z < 1) continue;
    const auto picture = edge_on_picture(near.projection, a, b, options_.radius);
    if (!picture) continue;
    address.parameter = between(a, b, picture->nearest);
    offer(CatchKind::Guide, near, address, address.parameter, kGuideHandicap);
  }
}

// Where a line meets other lines (within the touch tolerance) and planes, as far as they are shown: a place of the
// line, and of two lines of the one with the lower number.
void OutwardSearch::cross_guides(const NearPart& near) {
  const Affine& world = near.part->world;
  const Vec3 at = world.translation, along = world.linear.column[2];
  const auto cross = [&](double z) {
    if (!(std::abs(z) <= kGuideLine)) return;
    TackAddress address{TackKind::Guide, near.part->id, kGuideCrossing, {z, 0, 0}};
    offer(CatchKind::Guide, near, address, {0, 0, z}, kEdgePointHandicap);
  };
  for (const std::uint32_t number : scene_.guides) {
    const CatchPart& other = scene_.parts[number];
    if (options_.leave_out && options_.leave_out(other.id)) continue;
    if (other.guide == GuideKind::Line && other.id > near.part->id) {
      const Vec3 other_at = other.world.translation, other_along = other.world.linear.column[2];
      const auto ways = nearest_ways(at, along, other_at, other_along);
      if (!ways || !(std::abs(ways->second) <= kGuideLine)) continue;
      if (distance(at + along * ways->first, other_at + other_along * ways->second) <= options_.touch)
        cross(ways->first);
    } else if (other.guide == GuideKind::Plane) {
      const Vec3 from = other.to_mesh * at, way = other.to_mesh.linear * along;
      const double z = -from.z / way.z;
      if (std::abs(way.z) > 1e-9 * length(way) && other.sheet.holds(from + way * z)) cross(z);
    }
  }
}

// Where a guide line crosses an edge: a place of the edge.
void OutwardSearch::cross_lines(const SeenEdge& edge) {
  const Vec3 along = edge.b - edge.a;
  for (const std::uint32_t number : scene_.guides) {
    const CatchPart& line = scene_.parts[number];
    if (line.guide != GuideKind::Line || (options_.leave_out && options_.leave_out(line.id))) continue;
    const Vec3 at = line.world.translation, way = line.world.linear.column[2];
    const auto ways = nearest_ways(edge.a, along, at, way);
    if (!ways || !(ways->first > 0 && ways->first < 1) || !(std::abs(ways->second) <= kGuideLine)) continue;
    if (distance(edge.a + along * ways->first, at + way * ways->second) <= options_.touch)
      offer_crossing(edge, ways->first);
  }
}

void OutwardSearch::add_box_points(const NearPart& near) {
  for (int i = 0; i < 27; ++i) {
    const int x = i % 3, y = i / 3 % 3, z = i / 9;
    const Vec3 fraction{x * 0.5, y * 0.5, z * 0.5};
    offer(CatchKind::BoxPoint, near, {TackKind::BoxPoint, near.part->id, 0, fraction},
          near.part->mesh->box().at(fraction), kBoxPointHandicap);
  }
}

Caught OutwardSearch::caught_at(const TackAddress& address, const Vec3& point, double pixels, double handicap) const {
  return {address, point, pixels, pixels + handicap, dot(view_.eye - point, view_.back()), false};
}

void OutwardSearch::offer(CatchKind kind, const NearPart& near, const TackAddress& address, const Vec3& local,
                          double handicap) {
  if (!options_.kinds.has(kind)) return;
  const double pixels = near.projection.pixels(local);
  if (!(pixels <= options_.radius)) return;
  const Vec3 point = near.part->world * local;
  push({caught_at(address, point, pixels, handicap), point});
}

void OutwardSearch::push(const Candidate& candidate) {
  queue_.push({candidate.caught.score, Entry::Found, static_cast<std::uint32_t>(found_.size()), 0});
  found_.push_back(candidate);
}

double OutwardSearch::least_handicap(Entry::Kind kind, const NearPart& near) const {
  const CatchKinds& kinds = options_.kinds;
  // A mesh without any edge has no vertex that is a corner.
  if (kind == Entry::Vertices)
    return kVertexHandicap + (near.features && near.features->edges.empty() ? near.loose : 0);
  if (kind == Entry::Centres) return kinds.has(CatchKind::RoundCentre) ? kRoundCentreHandicap : kFaceCentreHandicap;
  if (kinds.has(CatchKind::EdgePoint)) return kEdgePointHandicap;
  return kinds.has(CatchKind::Edge) ? kEdgeHandicap : kRimHandicap;
}

namespace {
const BoxTree& tree_of(const MeshIndex& index, const Features* features, int kind, int vertices, int edges) {
  return kind == vertices ? index.vertices : kind == edges ? features->edge_tree : features->centre_tree;
}
}  // namespace

void OutwardSearch::push_node(Entry::Kind kind, std::uint32_t slot, std::uint32_t node) {
  const NearPart& near = near_[slot];
  const BoxTree& tree = tree_of(*near.part->mesh->index_if_ready(), near.features, kind, Entry::Vertices, Entry::Edges);
  if (tree.nodes.empty()) return;
  const double bound = near.projection.least_pixels(tree.nodes[node].box);
  if (bound <= options_.radius) queue_.push({bound + least_handicap(kind, near), kind, node, slot});
}

void OutwardSearch::expand(const Entry& entry) {
  if (entry.kind == Entry::Parts) {
    const BoxNode& node = scene_.tree.nodes[entry.index];
    if (sight_ && sight_->surely_hidden(node.box, Affine{})) return;
    if (!node.leaf()) {
      push_parts(entry.index + 1);
      push_parts(node.first);
    } else {
      for (std::uint32_t i = 0; i < node.count; ++i) add_part(scene_.parts[scene_.tree.items[node.first + i]]);
    }
    return;
  }
  const NearPart& near = near_[entry.part];
  if (entry.kind == Entry::BoxPoints) return add_box_points(near);
  const BoxTree& tree =
      tree_of(*near.part->mesh->index_if_ready(), near.features, entry.kind, Entry::Vertices, Entry::Edges);
  const BoxNode& node = tree.nodes[entry.index];
  if (sight_ && sight_->surely_hidden(node.box, near.part->world)) return;
  if (!node.leaf()) {
    push_node(entry.kind, entry.part, entry.index + 1);
    push_node(entry.kind, entry.part, node.first);
    return;
  }
  for (std::uint32_t i = 0; i < node.count; ++i) {
    const std::uint32_t item = tree.items[node.first + i];
    if (entry.kind == Entry::Vertices)
      add_vertex(entry.part, item);
    else if (entry.kind == Entry::Edges)
      add_edge(entry.part, item);
    else
      add_centre(entry.part, item);
  }
}

void OutwardSearch::add_vertex(std::uint32_t slot, std::uint32_t vertex) {
  const NearPart& near = near_[slot];
  const double pixels = near.projection.pixels(near.part->mesh->positions()[vertex]);
  if (!(pixels <= options_.radius)) return;
  const bool loose = near.features && !near.features->on_edge[vertex];
  queue_.push({pixels + kVertexHandicap + (loose ? near.loose : 0), Entry::Vertex, vertex, slot});
}

Candidate OutwardSearch::vertex_of(const Entry& entry) const {
  const NearPart& near = near_[entry.part];
  const Vec3& p = near.part->mesh->positions()[entry.index];
  const double pixels = near.projection.pixels(p);
  const Vec3 point = near.part->world * p;
  return {caught_at({TackKind::Vertex, near.part->id, entry.index, {}}, point, pixels, entry.bound - pixels), point};
}

bool OutwardSearch::several_loose() const {
  std::optional<std::pair<PartId, Vec3>> first;
  // Whether a second one lies within the radius, in a part that the search may not have come to yet.
  const auto in_part = [&](const CatchPart& part) {
    const MeshIndex* index = part.mesh ? part.mesh->index_if_ready() : nullptr;
    const Features* features = index ? part.mesh->features_if_ready() : nullptr;
    if (!features || index->vertices.nodes.empty() || (options_.leave_out && options_.leave_out(part.id))) return false;
    const PointerProjection projection(view_, x_, y_, part.world);
    return any_item(index->vertices, projection, [&](std::uint32_t v) {
      const Vec3& p = part.mesh->positions()[v];
      if (features->on_edge[v] || !(projection.pixels(p) <= options_.radius)) return false;
      // Twins at one place are one vertex to a person.
      if (first) return first->first != part.id || distance(first->second, p) > weld_distance(*part.mesh);
      first = {part.id, p};
      return false;
    });
  };
  return any_item(scene_.tree, whole_, [&](std::uint32_t i) { return in_part(scene_.parts[i]); });
}

void OutwardSearch::add_edge(std::uint32_t slot, std::uint32_t number) {
  const NearPart& near = near_[slot];
  const FeatureEdge& edge = near.features->edges[number];
  const Vec3 &a = near.part->mesh->positions()[edge.a], &b = near.part->mesh->positions()[edge.b];
  const auto picture = edge_on_picture(near.projection, a, b, options_.radius);
  if (!picture) return;
  const Vec3 there = near.part->world * between(a, b, picture->nearest);
  if (options_.kinds.has(CatchKind::Edge))
    push({caught_at({TackKind::Edge, near.part->id, edge.a, {picture->nearest, 0, 0}, edge.b}, there, picture->pixels,
                    kEdgeHandicap),
          there});
  if (edge.round != FeatureEdge::kNone && options_.kinds.has(CatchKind::RoundCentre)) {
    const std::pair rim{near.part->id, edge.round};
    if (std::find(rims_.begin(), rims_.end(), rim) == rims_.end()) {
      rims_.push_back(rim);
      const RoundEdge& round = near.features->rounds[edge.round];
      push({caught_at({TackKind::RoundCentre, near.part->id, round.vertex, {}}, near.part->world * round.centre,
                      picture->pixels, kRimHandicap),
            there});
    }
  }
  if (!options_.kinds.has(CatchKind::EdgePoint)) return;
  // The pieces of a round edge have no middles that anybody means.
  if (edge.round == FeatureEdge::kNone)
    for (int k = 1; k < options_.edge_parts; ++k) {
      const double way = static_cast<double>(k) / options_.edge_parts;
      if (way >= picture->from && way <= picture->to)
        offer(CatchKind::EdgePoint, near, {TackKind::Edge, near.part->id, edge.a, {way, 0, 0}, edge.b},
              between(a, b, way), kEdgePointHandicap);
    }
  if (edges_.size() >= kMostCrossing) return;
  const SeenEdge seen{slot, number, *picture, near.part->world * a, near.part->world * b};
  add_crossings(seen);
  cross_faces(seen);
  cross_lines(seen);
  edges_.push_back(seen);
}

void OutwardSearch::add_crossings(const SeenEdge& edge) {
  const auto address_of = [&](const SeenEdge& e, double way) {
    const FeatureEdge& f = near_[e.part].features->edges[e.edge];
    return TackAddress{TackKind::Crossing, near_[e.part].part->id, f.a, {way, 0, 0}, f.b};
  };
  Box near_edge;
  for (const Vec3& end : {edge.a, edge.b}) {
    const Vec3 touch{options_.touch, options_.touch, options_.touch};
    near_edge.include(end - touch);
    near_edge.include(end + touch);
  }
  const auto apart = [&](double a, double b, double low, double high) {
    return std::max(a, b) < low || std::min(a, b) > high;
  };
  for (const SeenEdge& other : edges_) {
    // Most are nowhere near.
    if (apart(other.a.x, other.b.x, near_edge.low.x, near_edge.high.x) ||
        apart(other.a.y, other.b.y, near_edge.low.y, near_edge.high.y) ||
        apart(other.a.z, other.b.z, near_edge.low.z, near_edge.high.z))
      continue;
    const Vec3 along = edge.b - edge.a, other_along = other.b - other.a;
    const auto ways = nearest_ways(edge.a, along, other.a, other_along);
    if (!ways) continue;
    const auto inside = [&](double way, const Vec3& whole) {
      const double margin = options_.touch / length(whole);
      return way > margin && way < 1 - margin;  // at an end it is a vertex
    };
    if (!inside(ways->first, along) || !inside(ways->second, other_along)) continue;
    if (distance(edge.a + along * ways->first, other.a + other_along * ways->second) > options_.touch) continue;
    // On the edge of the lower part, or the lower edge, whichever was met first.
    const auto key = [&](const SeenEdge& e) { return std::pair{near_[e.part].part->id, e.edge}; };
    const bool mine = key(edge) < key(other);
    const SeenEdge& on = mine ? edge : other;
    const TackAddress address = address_of(on, mine ? ways->first : ways->second);
    const NearPart& near = near_[on.part];
    offer(CatchKind::EdgePoint, near, address,
          between(near.part->mesh->positions()[address.index], near.part->mesh->positions()[address.second],
                  address.parameter.x),
          kEdgePointHandicap);
  }
}

// Where something crosses an edge; at its ends there is a vertex instead.
void OutwardSearch::offer_crossing(const SeenEdge& edge, double way) {
  const NearPart& near = near_[edge.part];
  const FeatureEdge& feature = near.features->edges[edge.edge];
  const double whole = distance(edge.a, edge.b);
  if (way * whole <= options_.touch || (1 - way) * whole <= options_.touch) return;
  const auto positions = near.part->mesh->positions();
  offer(CatchKind::EdgePoint, near, {TackKind::Crossing, near.part->id, feature.a, {way, 0, 0}, feature.b},
        between(positions[feature.a], positions[feature.b], way), kEdgePointHandicap);
}

void OutwardSearch::cross_faces(const SeenEdge& edge) {
  const NearPart& near = near_[edge.part];
  const Vec3 along = edge.b - edge.a;
  const double whole = length(along), from = edge.picture.from, to = edge.picture.to;
  if (!(whole > 0) || !(to > from)) return;
  const Ray ray{edge.a + along * from, along * (to - from)};
  // Planes to be caught on are crossed as far as they are shown.
  for (const std::uint32_t number : scene_.guides) {
    const CatchPart& part = scene_.parts[number];
    if (part.guide != GuideKind::Plane || (options_.leave_out && options_.leave_out(part.id))) continue;
    const Ray own = to_mesh(ray, part);
    const double along_ray = -own.origin.z / own.direction.z;
    if (!(along_ray >= 0 && along_ray <= 1)) continue;
    const Vec3 at = own.origin + own.direction * along_ray;
    if (part.sheet.holds(at)) offer_crossing(edge, from + along_ray * (to - from));
  }
  constexpr double kWhole = 1;
  parts_along(scene_, ray, kWhole, [&](const CatchPart& part) {
    if (part.id == near.part->id || (options_.leave_out && options_.leave_out(part.id))) return true;
    // A part may be passed through more than once, near enough to see it all.
    const Ray local = to_mesh(ray, part);
    double after = 0;
    for (int pass = 0; pass < kMostPasses && after < 1; ++pass) {
      const auto hit = first_hit(*part.mesh, {local.origin + local.direction * after, local.direction}, 1 - after);
      if (!hit) break;
      const double way = from + (after + hit->along) * (to - from);
      after += hit->along + options_.touch / (whole * (to - from));
      // An edge that lies in the face does not cross it, and one that ends on it has a vertex there.
      const auto c = part.mesh->corners(hit->triangle);
      const Vec3 normal = normalized(normal_map(part.world.linear) * cross(c[1] - c[0], c[2] - c[0]));
      if (std::abs(dot(normal, along)) < 1e-6 * whole) continue;
      offer_crossing(edge, way);
    }
    return true;
  });
}

void OutwardSearch::add_centre(std::uint32_t slot, std::uint32_t item) {
  const NearPart& near = near_[slot];
  const auto faces = static_cast<std::uint32_t>(near.features->faces.size());
  if (item < faces) {
    const MeshFace& face = near.features->faces[item];
    offer(CatchKind::FaceCentre, near, {TackKind::FaceCentre, near.part->id, face.triangle, {}}, face.centre,
          kFaceCentreHandicap);
  } else {
    const RoundEdge& round = near.features->rounds[item - faces];
    offer(CatchKind::RoundCentre, near, {TackKind::RoundCentre, near.part->id, round.vertex, {}}, round.centre,
          kRoundCentreHandicap);
  }
}

}  // namespace tack
