#include "core/catch/tack.h"

#include <fmt/format.h>

#include <map>

#include "core/math/split.h"
#include "core/mesh/extent.h"
#include "core/mesh/features.h"
#include "core/mesh/mass.h"
#include "core/mesh/mesh_index.h"

namespace tack {
namespace {

// The part of `v` across the unit vector `direction`, normalised; nullopt when nothing is left.
std::optional<Vec3> across(const Vec3& v, const Vec3& direction) {
  const Vec3 rest = v - direction * dot(v, direction);
  if (!(length(rest) > 1e-9 * length(v))) return std::nullopt;
  return normalized(rest);
}

// The direction and roll of a vertex, from the world positions of the triangles around it.
void orient_vertex(const Mesh& mesh, const Affine& world, std::uint32_t vertex, Tack& tack) {
  struct Spoke {
    Vec3 along;
    std::vector<Vec3> normals;
    std::uint32_t lowest;
  };
  // Spokes by the place of their far end, so that welded twins count as one edge.
  std::vector<Spoke> spokes;
  std::multimap<double, std::size_t> by_x;  // a fan of a thousand must not cost a million comparisons
  const double weld = weld_distance(mesh);
  const Mat3 for_normals = normal_map(world.linear);
  const Vec3 at = mesh.positions()[vertex];
  Vec3 sum;
  std::vector<std::pair<std::uint32_t, int>> around;
  triangles_touching(mesh, at, weld, [&](std::uint32_t t, int corner) { around.emplace_back(t, corner); });
  std::sort(around.begin(), around.end());
  for (const auto& [t, corner] : around) {
    const auto c = mesh.corners(t);
    const Vec3 normal = normalized(for_normals * cross(c[1] - c[0], c[2] - c[0]));
    if (length_squared(normal) == 0) continue;
    const Vec3 one = world.linear * (c[(corner + 1) % 3] - c[corner]);
    const Vec3 two = world.linear * (c[(corner + 2) % 3] - c[corner]);
    sum += normal * std::atan2(length(cross(one, two)), dot(one, two));
    for (const int side : {1, 2}) {
      const Vec3 far = c[(corner + side) % 3];
      const std::uint32_t number = mesh.triangles()[t][(corner + side) % 3];
      const Vec3 along = world.linear * (far - at);
      const double reach = 3e-7 * length(along);
      Spoke* same = nullptr;
      for (auto near = by_x.lower_bound(along.x - reach); near != by_x.end() && near->first <= along.x + reach; ++near)
        if (Spoke& s = spokes[near->second]; distance(s.along, along) <= 1e-7 * (length(along) + length(s.along)))
          if (!same || near->second < static_cast<std::size_t>(same - spokes.data())) same = &s;
      if (same) {
        same->normals.push_back(normal);
        same->lowest = std::min(same->lowest, number);
      } else {
        by_x.emplace(along.x, spokes.size());
        spokes.push_back({along, {normal}, number});
      }
    }
  }
  if (!(length(sum) > 1e-13)) return;  // no faces, or faces that cancel out: a place without a direction
  tack.direction = normalized(sum);
  double best_fold = -2;
  const Spoke* best = nullptr;
  for (const Spoke& s : spokes) {
    // A border folds most of all: there is nothing on its other side.
    const double fold = s.normals.size() < 2 ? 2 : 1 - dot(s.normals[0], s.normals[1]);
    if (!best || fold > best_fold + 1e-6 || (std::abs(fold - best_fold) <= 1e-6 && s.lowest < best->lowest)) {
      best = &s;
      best_fold = std::max(fold, best_fold);
    }
  }
  if (best) tack.roll = across(best->along, *tack.direction);
}

// A point of a box that `linear` carries into the world: it looks out along the normals of the sides it lies towards,
// true ones also where a skew leans the sides over, or a mirror exchanges them.
void orient_box_point(const Vec3& fraction, const Mat3& linear, const Mat3& axes, Tack& tack) {
  const Mat3 normals = normal_map(linear);
  Vec3 out;
  for (int i = 0; i < 3; ++i) out += normalized(normals.column[static_cast<std::size_t>(i)]) * (fraction[i] - 0.5);
  if (!(length(out) > 1e-12)) return;
  tack.direction = normalized(out);
  tack.roll = across(axes.column[0], *tack.direction);
  if (!tack.roll) tack.roll = across(axes.column[1], *tack.direction);
}

// The direction and roll of an edge between two vertices; false when the mesh has no such edge.
bool orient_edge(const Mesh& mesh, const Affine& world, const TackAddress& address, Tack& tack) {
  const Vec3 a = mesh.positions()[address.index], b = mesh.positions()[address.second];
  const Vec3 along = world.linear * (b - a);
  if (!(length(along) > 0)) return true;
  const double weld = weld_distance(mesh);
  const Mat3 for_normals = normal_map(world.linear);
  const Vec3 unit = normalized(b - a);
  Vec3 sum;
  std::vector<std::pair<std::uint32_t, int>> around;
  triangles_touching(mesh, a, weld, [&](std::uint32_t t, int corner) { around.emplace_back(t, corner); });
  std::sort(around.begin(), around.end());  // the index gives them in no order, and sums depend on it
  bool found = around.empty();
  for (const auto& [t, corner] : around) {
    const auto c = mesh.corners(t);
    // A straight edge may be made of several pieces: the faces along its first one count.
    const auto far = [&, first = corner](int i) {
      const Vec3 p = c[static_cast<std::size_t>((first + i) % 3)] - a;
      const double way = dot(p, unit);
      return way > weld && length(p - unit * way) <= weld + 2e-4 * way;
    };
    found = found || far(1) || far(2);
    if (far(1) || far(2)) sum += normalized(for_normals * cross(c[1] - c[0], c[2] - c[0]));
  }
  tack.roll = normalized(along);
  if (const auto out = across(sum, *tack.roll); out && length(sum) > 1e-9) tack.direction = out;
  return found;
}

// The normal of a curved face at a place of one of its triangles: the stored normals of its corners, or, where there
// are none, those of the triangles of the same face around each corner weighted by their angles; interpolated, in the
// world.
Vec3 smooth_normal(const Mesh& mesh, const Features& features, const Affine& world, const TackAddress& address) {
  const Triangle& t = mesh.triangles()[address.index];
  const double weights[] = {1 - address.parameter.x - address.parameter.y, address.parameter.x, address.parameter.y};
  const Mat3 for_normals = normal_map(world.linear);
  Vec3 sum;
  for (std::size_t i = 0; i < 3; ++i) {
    Vec3 normal;
    if (!mesh.normals().empty()) {
      const auto& n = mesh.normals()[t[i]];
      normal = normalized({n[0], n[1], n[2]});
    }
    if (normal == Vec3{}) {
      const std::uint32_t face = features.face_of[address.index];
      std::vector<std::pair<std::uint32_t, int>> around;
      triangles_touching(mesh, mesh.positions()[t[i]], weld_distance(mesh), [&](std::uint32_t other, int corner) {
        if (features.face_of[other] == face) around.emplace_back(other, corner);
      });
      std::sort(around.begin(), around.end());  // the index gives them in no order, and sums depend on it
      for (const auto& [other, corner] : around) {
        const auto c = mesh.corners(other);
        const auto at = static_cast<std::size_t>(corner);
        const Vec3 one = c[(at + 1) % 3] - c[at], two = c[(at + 2) % 3] - c[at];
        normal += normalized(cross(one, two)) * std::atan2(length(cross(one, two)), dot(one, two));
      }
    }
    sum += normalized(for_normals * normal) * weights[i];
  }
  return normalized(sum);
}

// Which round edges there are instead.
std::string rounds_of(const Part& part) {
  constexpr std::size_t kMostNamed = 8;
  if (!part.mesh || part.mesh->features().rounds.empty()) return "It has none.";
  const auto& rounds = part.mesh->features().rounds;
  std::string names;
  for (std::size_t i = 0; i < std::min(rounds.size(), kMostNamed); ++i)
    names += fmt::format("{}{}", i == 0 ? "" : ", ", rounds[i].vertex);
  return fmt::format("It has {}{}.", names, rounds.size() > kMostNamed ? ", …" : "");
}

// A triangle's longest side; among sides equal within 1e-6 the one with the lowest vertex numbers.
Vec3 longest_side(const Mesh& mesh, std::uint32_t triangle) {
  const Triangle& t = mesh.triangles()[triangle];
  std::array<std::pair<std::uint32_t, std::uint32_t>, 3> sides;
  for (std::size_t i = 0; i < 3; ++i) sides[i] = std::minmax(t[i], t[(i + 1) % 3]);
  std::sort(sides.begin(), sides.end());
  Vec3 longest;
  for (const auto& [a, b] : sides) {
    const Vec3 side = mesh.positions()[b] - mesh.positions()[a];
    if (length(side) > length(longest) * (1 + 1e-6)) longest = side;
  }
  return longest;
}

// What a part and everything below it weigh, and where it balances, in the frame of `to_frame` (from the part's own
// coordinates). Volumes when all meshes are closed, else surfaces.
void add_mass(const Scene& scene, PartId id, const Affine& to_frame, bool volumes, double& amount, Vec3& moment) {
  const Part& part = scene.part(id);
  if (part.mesh) {
    const MassCentre& m = part.mesh->mass();
    const double size = std::abs(determinant(to_frame.linear));
    const double share = volumes ? m.amount * size : m.amount * std::cbrt(size * size);
    amount += share;
    moment += to_frame * m.point * share;
  }
  for (const PartId child : part.children)
    add_mass(scene, child, to_frame * scene.part(child).local, volumes, amount, moment);
}

bool all_closed(const Scene& scene, PartId id) {
  const Part& part = scene.part(id);
  if (part.mesh && !part.mesh->mass().closed) return false;
  return std::all_of(part.children.begin(), part.children.end(), [&](PartId c) { return all_closed(scene, c); });
}

void include_tree(const Scene& scene, PartId id, const Affine& to_frame, Box& box) {
  const Part& part = scene.part(id);
  if (part.mesh) box.include(box_in_frame(*part.mesh, to_frame));
  for (const PartId child : part.children) include_tree(scene, child, to_frame * scene.part(child).local, box);
}

// A part's box in world axes, with everything below it when it is a group.
Box subtree_world_box(const Scene& scene, PartId id) {
  Box box;
  std::vector<PartId> pending{id};
  const bool group = !scene.part(id).mesh;
  while (!pending.empty()) {
    const PartId next = pending.back();
    pending.pop_back();
    const Part& part = scene.part(next);
    if (part.mesh) box.include(world_box_of(*part.mesh, world_of(scene, next)));
    if (group) pending.insert(pending.end(), part.children.begin(), part.children.end());
  }
  return box;
}

}  // namespace

Result<Tack> find_tack(const Scene& scene, const TackAddress& address) {
  Tack tack{address, address.parameter, std::nullopt, std::nullopt};
  if (address.kind == TackKind::PlanePoint) {
    if (!is_finite(address.parameter)) return fail("A point of the plane needs two finite numbers.");
    if (address.part != kNoPart && !scene.contains(address.part)) return fail("That plane has been deleted.");
    if (address.part != kNoPart && scene.part(address.part).guide != GuideKind::Plane)
      return fail(fmt::format("\"{}\" is not a plane.", scene.part(address.part).name));
    const Affine frame = plane_frame(scene, address.part);
    tack.point = address.part == kNoPart ? Vec3{address.parameter.x, address.parameter.y, 0}
                                         : frame * Vec3{address.parameter.x, address.parameter.y, 0};
    tack.direction = frame.linear.column[2];
    tack.roll = frame.linear.column[0];
    return tack;
  }
  if (address.kind == TackKind::Point) {
    if (!is_finite(address.parameter)) return fail("A point needs three finite numbers.");
    return tack;
  }
  const Part* part = scene.find(address.part);
  if (!part) return fail("The part this place was caught on is no longer there.");
  const Affine world = world_of(scene, address.part);
  switch (address.kind) {
    case TackKind::Vertex: {
      if (!part->mesh) return fail(fmt::format("\"{}\" has no vertices: it is a group.", part->name));
      const auto positions = part->mesh->positions();
      if (address.index >= positions.size())
        return fail(fmt::format("\"{}\" has no vertex {}.", part->name, address.index), {},
                    fmt::format("Its vertices are 0 to {}.", positions.size() - 1));
      tack.point = world * positions[address.index];
      orient_vertex(*part->mesh, world, address.index, tack);
      return tack;
    }
    case TackKind::Edge:
    case TackKind::Crossing: {
      if (!part->mesh) return fail(fmt::format("\"{}\" has no edges: it is a group.", part->name));
      const auto positions = part->mesh->positions();
      const std::uint32_t most = std::max(address.index, address.second);
      if (most >= positions.size() || address.index == address.second)
        return fail(fmt::format("\"{}\" has no edge {}-{}.", part->name, address.index, address.second), {},
                    fmt::format("Its vertices are 0 to {}.", positions.size() - 1));
      const Vec3 a = positions[address.index], b = positions[address.second];
      tack.point = world * (address.parameter.x == 1 ? b : a + (b - a) * address.parameter.x);
      if (!orient_edge(*part->mesh, world, address, tack))
        return fail(fmt::format("\"{}\" has no edge {}-{}.", part->name, address.index, address.second), {},
                    "No side of a triangle goes from the one vertex towards the other.");
      return tack;
    }
    case TackKind::Face:
    case TackKind::FaceCentre: {
      if (!part->mesh) return fail(fmt::format("\"{}\" has no faces: it is a group.", part->name));
      const std::size_t count = part->mesh->triangles().size();
      if (address.index >= count)
        return fail(fmt::format("\"{}\" has no face {}.", part->name, address.index), {},
                    count > 0 ? fmt::format("Its faces are 0 to {}.", count - 1) : std::string("It has none."));
      const Features& features = part->mesh->features();
      if (features.face_of.empty())
        return fail(fmt::format("\"{}\" has too many faces to tell them apart.", part->name));
      const MeshFace& face = features.face_at(address.index);
      const auto c = part->mesh->corners(address.index);
      const bool flat = face.kind == MeshFace::Kind::Flat;
      if (address.kind == TackKind::FaceCentre && face.kind == MeshFace::Kind::Ball) {
        tack.point = world * face.centre;
        return tack;
      }
      if (address.kind == TackKind::FaceCentre && !flat)
        return fail(fmt::format("Face {} of \"{}\" is curved: it has no centre.", address.index, part->name), {},
                    face.kind == MeshFace::Kind::Round ? fmt::format("Its axis is axis {}.", address.index) : "");
      tack.point = world * (address.kind == TackKind::FaceCentre
                                ? face.centre
                                : c[0] + (c[1] - c[0]) * address.parameter.x + (c[2] - c[0]) * address.parameter.y);
      const Vec3 normal = flat ? normalized(normal_map(world.linear) * face.direction)
                               : smooth_normal(*part->mesh, features, world, address);
      if (normal == Vec3{}) return tack;
      tack.direction = normal;
      const auto positions = part->mesh->positions();
      tack.roll = across(world.linear * (flat ? positions[face.longest_b] - positions[face.longest_a]
                                              : longest_side(*part->mesh, address.index)),
                         normal);
      return tack;
    }
    case TackKind::RoundCentre: {
      const RoundEdge* round = part->mesh ? part->mesh->features().round_at(address.index) : nullptr;
      if (!round)
        return fail(fmt::format("\"{}\" has no round edge {}.", part->name, address.index), {}, rounds_of(*part));
      tack.point = world * round->centre;
      const Vec3 direction = normalized(normal_map(world.linear) * round->axis);
      if (direction == Vec3{}) return tack;
      tack.direction = direction;
      tack.roll = across(world.linear * (part->mesh->positions()[round->vertex] - round->centre), direction);
      return tack;
    }
    case TackKind::Axis: {
      const bool known = part->mesh && address.index < part->mesh->triangles().size();
      const Features* features = known ? &part->mesh->features() : nullptr;
      const MeshFace* face = features && !features->face_of.empty() ? &features->face_at(address.index) : nullptr;
      if (!face || face->kind != MeshFace::Kind::Round)
        return fail(fmt::format("\"{}\" has no round face {}: there is no axis.", part->name, address.index));
      tack.point = world * (face->centre + face->direction * (face->half_length * (2 * address.parameter.x - 1)));
      const Vec3 direction = normalized(world.linear * face->direction);
      if (direction != Vec3{}) tack.direction = direction;
      return tack;
    }
    case TackKind::TreeBoxPoint: {
      Box box;
      include_tree(scene, address.part, {}, box);
      if (box.empty()) return fail(fmt::format("\"{}\" is empty: it has no box.", part->name));
      tack.point = world * box.at(address.parameter);
      orient_box_point(address.parameter, world.linear, own_axes(scene, address.part), tack);
      return tack;
    }
    case TackKind::Mass: {
      if (part->mesh) {
        tack.point = world * part->mesh->mass().point;
        return tack;
      }
      double amount = 0;
      Vec3 moment;
      add_mass(scene, address.part, {}, all_closed(scene, address.part), amount, moment);
      if (!(amount > 0)) return fail(fmt::format("\"{}\" is empty: it has no centre of mass.", part->name));
      tack.point = world * (moment / amount);
      return tack;
    }
    case TackKind::BoxPoint: {
      if (!part->mesh)
        return fail(fmt::format("\"{}\" has no box of its own: it is a group.", part->name), {},
                    "Use world-box for the box of what is in it.");
      tack.point = world * part->mesh->box().at(address.parameter);
      orient_box_point(address.parameter, world.linear, own_axes(scene, address.part), tack);
      return tack;
    }
    case TackKind::WorldBoxPoint: {
      const Box box = subtree_world_box(scene, address.part);
      if (box.empty()) return fail(fmt::format("\"{}\" is empty: it has no box.", part->name));
      tack.point = box.at(address.parameter);
      orient_box_point(address.parameter, {}, {}, tack);
      return tack;
    }
    case TackKind::Kept: {
      const KeptTack* kept = find_kept(scene, address.part, address.name);
      if (!kept) {
        std::string names;
        for (const KeptTack& k : kept_of(scene, address.part)) names += (names.empty() ? "" : ", ") + k.name;
        return fail(fmt::format("\"{}\" has no kept tack \"{}\".", part->name, address.name), {},
                    names.empty() ? std::string("None is kept on it.") : fmt::format("It has: {}.", names));
      }
      tack.point = world * kept->point;
      if (kept->direction) {
        const Vec3 direction = normalized(normal_map(world.linear) * *kept->direction);
        if (direction != Vec3{}) tack.direction = direction;
      }
      if (kept->roll && tack.direction) tack.roll = across(world.linear * *kept->roll, *tack.direction);
      return tack;
    }
    case TackKind::Guide: {
      if (part->guide == GuideKind::None) return fail(fmt::format("\"{}\" is not a guide.", part->name));
      const Vec3& at = address.parameter;
      tack.point = world * (part->guide == GuideKind::Point  ? Vec3{}
                            : part->guide == GuideKind::Line ? Vec3{0, 0, at.x}
                                                             : Vec3{at.x, at.y, 0});
      if (part->guide == GuideKind::Point) return tack;
      // A line's direction goes along with it, a plane's is its normal.
      const Vec3 direction =
          normalized(part->guide == GuideKind::Line ? world.linear.column[2] : normal_map(world.linear).column[2]);
      if (direction == Vec3{}) return tack;
      tack.direction = direction;
      tack.roll = across(world.linear.column[0], direction);
      return tack;
    }
    case TackKind::Pivot: {
      tack.point = world * part->placement.pivot;
      const Mat3 axes = own_axes(scene, address.part);
      tack.direction = axes.column[2];
      tack.roll = axes.column[0];
      return tack;
    }
    default: return tack;
  }
}

namespace {

void include_below(const Scene& scene, PartId id, const Affine& world, Box& box) {
  const Part& part = scene.part(id);
  if (part.mesh)
    for (const Vec3& corner : part.mesh->box().corners()) box.include(world * corner);
  for (const PartId child : part.children) include_below(scene, child, world * scene.part(child).local, box);
}

// Largest extent the part can have, and how far out it lies: from its transformed local box; of a group, from those of
// everything in it; of what has no extent at all, a millimetre.
double reach_of(const Scene& scene, const TackAddress& address) {
  const Part* part = scene.find(address.part);
  if (!part) return length(address.parameter);
  const Affine world = world_of(scene, address.part);
  Box box;
  if (part->mesh)
    for (const Vec3& corner : part->mesh->box().corners()) box.include(world * corner);
  else
    include_below(scene, address.part, world, box);
  if (box.empty()) return 1 + length(world.translation);
  return box.extent() + length(box.centre());
}

}  // namespace

Mat3 frame_of(const Tack& tack) {
  if (!tack.direction && !tack.roll) return {};
  const Vec3 z = tack.direction.value_or(Vec3{});
  Vec3 x = tack.roll.value_or(Vec3{});
  if (!tack.roll) x = least_axis(z) - z * dot(least_axis(z), z);
  if (!tack.direction) return squared_up(Mat3{{x, least_axis(x), cross(x, least_axis(x))}});
  return squared_up(Mat3{{x, cross(z, x), z}});
}

double exact_bound(const Scene& scene, const TackAddress& from, const TackAddress& to) {
  return 1e-9 * (reach_of(scene, from) + reach_of(scene, to));
}

double feature_size(const Scene& scene, const TackAddress& address) {
  constexpr double kLeast = 0.1;
  const Part* part = scene.find(address.part);
  if (!part || !part->mesh) return 10;
  const Affine world = world_of(scene, address.part);
  const Mesh& mesh = *part->mesh;
  double size = 0;
  if (address.kind == TackKind::Vertex && address.index < mesh.positions().size()) {
    const Vec3 at = mesh.positions()[address.index];
    triangles_touching(mesh, at, weld_distance(mesh), [&](std::uint32_t t, int corner) {
      const auto c = mesh.corners(t);
      for (const int other : {1, 2}) {
        const double edge = length(world.linear * (c[static_cast<std::size_t>((corner + other) % 3)] - at));
        if (edge > kLeast && (size == 0 || edge < size)) size = edge;
      }
    });
  }
  if (address.kind == TackKind::Edge || address.kind == TackKind::Crossing)
    if (std::max(address.index, address.second) < mesh.positions().size())
      size = length(world.linear * (mesh.positions()[address.second] - mesh.positions()[address.index])) / 4;
  if (address.kind == TackKind::RoundCentre)
    if (const RoundEdge* round = mesh.features().round_at(address.index))
      size = length(world.linear * (mesh.positions()[round->vertex] - round->centre));
  if (size == 0) size = length(world.linear * mesh.box().size()) / 8;
  return std::max(size, kLeast);
}

}  // namespace tack
