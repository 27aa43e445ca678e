#include "core/verbs/readdress.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

#include "core/mesh/features.h"

namespace tack {
namespace {

constexpr std::uint32_t kLost = 0xFFFFFFFEu;

// Barycentric coordinates of the point of a triangle that is nearest to a place in its plane, and how far that is.
std::pair<Vec3, double> in_triangle(const std::array<Vec3, 3>& c, const Vec3& place) {
  const Vec3 e1 = c[1] - c[0], e2 = c[2] - c[0], d = place - c[0];
  const double a = length_squared(e1), b = dot(e1, e2), e = length_squared(e2), bottom = a * e - b * b;
  if (!(bottom > 0)) return {{}, distance(c[0], place)};
  const double p = dot(d, e1), q = dot(d, e2);
  const double u = std::clamp((e * p - b * q) / bottom, 0.0, 1.0);
  const double v = std::clamp((a * q - b * p) / bottom, 0.0, 1.0 - u);
  return {{u, v, 0}, distance(c[0] + e1 * u + e2 * v, place)};
}

// The feature of the address's kind that is at a place of the mesh; nullopt where there is none.
std::optional<TackAddress> feature_at(const Mesh& mesh, const TackAddress& was, const Vec3& place) {
  const double near = 1e-6 * mesh.box().extent() + 1e-12;
  const Features& features = mesh.features();
  TackAddress is = was;
  double best = near;
  bool found = false;
  const auto nearer = [&](double off) {
    if (!(off <= best)) return false;
    best = off;
    return found = true;
  };
  switch (was.kind) {
    case TackKind::Vertex:
      for (std::uint32_t v = 0; v < mesh.positions().size(); ++v)
        if (distance(mesh.positions()[v], place) < best || (!found && distance(mesh.positions()[v], place) <= best))
          if (nearer(distance(mesh.positions()[v], place))) is.index = v;
      break;
    case TackKind::Edge:
    case TackKind::Crossing:
      for (const FeatureEdge& edge : features.edges) {
        const Vec3 a = mesh.positions()[edge.a], way = mesh.positions()[edge.b] - a;
        const double size = length_squared(way);
        if (!(size > 0)) continue;
        const double t = std::clamp(dot(place - a, way) / size, 0.0, 1.0);
        if (!nearer(distance(a + way * t, place))) continue;
        is.index = edge.a;
        is.second = edge.b;
        is.parameter.x = t;
      }
      break;
    case TackKind::Face:
      for (std::uint32_t t = 0; t < mesh.triangles().size(); ++t) {
        const auto [at, off] = in_triangle(mesh.corners(t), place);
        if (!nearer(off)) continue;
        is.index = t;
        is.parameter = at;
      }
      break;
    case TackKind::FaceCentre:
      for (const MeshFace& face : features.faces)
        if (face.kind == MeshFace::Kind::Flat || face.kind == MeshFace::Kind::Ball)
          if (nearer(distance(face.centre, place))) is.index = face.triangle;
      break;
    case TackKind::Axis:
      for (const MeshFace& face : features.faces) {
        if (face.kind != MeshFace::Kind::Round) continue;
        const double along = dot(place - face.centre, face.direction);
        if (!nearer(distance(face.centre + face.direction * along, place))) continue;
        is.index = face.triangle;
        is.parameter.x = face.half_length > 0 ? (along / face.half_length + 1) / 2 : 0.5;
      }
      break;
    case TackKind::RoundCentre:
      for (const RoundEdge& round : features.rounds)
        if (nearer(distance(round.centre, place))) is.index = round.vertex;
      break;
    default: return was;
  }
  return found ? std::optional(is) : std::nullopt;
}

}  // namespace

void readdress(Scene& scene, const Scene& before, PartId id, const MeshMap& map) {
  const Part &was = before.part(id), &is = scene.part(id);
  if (!was.mesh || !is.mesh || was.mesh == is.mesh ||
      (was.mesh->positions().size() == is.mesh->positions().size() &&
       was.mesh->triangles().size() == is.mesh->triangles().size()))
    return;
  const auto to_mesh = inverse(world_of(before, id));
  const auto moved = [&](TackAddress& address) {
    if (address.part != id || address.index == kLost) return false;
    const auto tack = find_tack(before, address);
    const auto found =
        tack && to_mesh ? feature_at(*is.mesh, address, map(*to_mesh * tack->point)) : std::optional<TackAddress>();
    if (found && *found == address) return false;
    if (found)
      address = *found;
    else
      address.index = kLost;
    return true;
  };
  std::vector<Tie> ties = scene.ties();
  bool any = false;
  for (Tie& tie : ties)
    for (TackPair& pair : tie.pairs) {
      any |= moved(pair.from);
      any |= moved(pair.to);
    }
  if (any) scene.set_ties(std::move(ties));
  for (const PartId follower : std::vector<PartId>(scene.followers())) {
    const Part* guide = scene.find(follower);
    if (!guide || !guide->law) continue;
    GuideLaw law = *guide->law;
    bool changed = false;
    for (TackAddress& place : law.places) changed |= moved(place);
    if (!changed) continue;
    Part next = *guide;
    next.law = std::make_shared<const GuideLaw>(std::move(law));
    scene.replace(follower, std::move(next));
  }
}

std::vector<std::string> lost_places(const Scene& before, const Scene& after) {
  const auto all_stand = [](const Scene& scene, const Tie& tie) {
    return std::all_of(tie.pairs.begin(), tie.pairs.end(), [&](const TackPair& pair) {
      return find_tack(scene, pair.from).has_value() && find_tack(scene, pair.to).has_value();
    });
  };
  const auto places_stand = [](const Scene& scene, const Part* guide) {
    return guide && guide->law && std::all_of(guide->law->places.begin(), guide->law->places.end(), [&](const auto& p) {
             return find_tack(scene, p).has_value();
           });
  };
  std::vector<std::string> lost;
  for (const Tie& tie : after.ties()) {
    const auto was = std::find_if(before.ties().begin(), before.ties().end(),
                                  [&](const Tie& other) { return other.name == tie.name; });
    if (was == before.ties().end() || all_stand(after, tie)) continue;
    if (all_stand(before, *was)) lost.push_back(tie.name);
  }
  for (const PartId follower : after.followers()) {
    const Part *was = before.find(follower), *is = after.find(follower);
    if (!was || !is || places_stand(after, is)) continue;
    if (places_stand(before, was)) lost.push_back(is->name);
  }
  return lost;
}

std::string lost_words(const Scene& before, const Scene& after) {
  const std::vector<std::string> lost = lost_places(before, after);
  if (lost.empty()) return {};
  std::vector<std::string> names;
  names.reserve(lost.size());
  for (const std::string& name : lost) names.push_back('"' + printable(name) + '"');
  return fmt::format("{} {} lost a place that {} named: it is no longer there.", fmt::join(names, ", "),
                     lost.size() == 1 ? "has" : "have", lost.size() == 1 ? "it" : "they");
}

}  // namespace tack
