#include "core/catch/catch_scene.h"

#include <tuple>

#include "core/catch/outward_search.h"
#include "core/mesh/features.h"

namespace tack {
namespace {

// When rays that graze dense surfaces have looked at so many boxes, the search takes the best so far: a millisecond or
// two. Only the outline of a mesh of millions of triangles needs as many; ordinary rays do not count.
constexpr std::size_t kMostGrazing = 6000;
constexpr std::size_t kMostSurfaces = 4;  // that the list of what is under the pointer goes through

struct SurfaceHit {
  const CatchPart* part;
  Struck struck;
  double along;  // of the whole ray
};

// The first surface along a ray whose hit lies beyond `after` (in lengths of the ray's direction).
std::optional<SurfaceHit> strike_any(const CatchScene& scene, const Ray& whole, double after, bool solid,
                                     const std::function<bool(PartId)>& leave_out) {
  const Ray ray{whole.origin + whole.direction * after, whole.direction};
  double limit = std::numeric_limits<double>::infinity();
  std::optional<SurfaceHit> best;
  parts_along(scene, ray, limit, [&](const CatchPart& part) {
    if ((solid && part.see_through) || (leave_out && leave_out(part.id))) return true;
    if (const auto hit = first_hit(*part.mesh, to_mesh(ray, part), limit)) {
      limit = hit->along;
      best = {&part, {part.id, hit->triangle, ray.origin + ray.direction * hit->along}, after + hit->along};
    }
    return true;
  });
  return best;
}

// The same; what is see-through counts only where nothing solid is struck.
std::optional<SurfaceHit> strike_beyond(const CatchScene& scene, const Ray& whole, double after,
                                        const std::function<bool(PartId)>& leave_out) {
  const auto solid = strike_any(scene, whole, after, true, leave_out);
  return solid ? solid : strike_any(scene, whole, after, false, leave_out);
}

// What a surface offers: the place itself, and the centre, the axis or the pivot it leads to.
class Surface {
 public:
  Surface(const CatchPart& part, const Struck& struck, const View& view) : part_(part), struck_(struck), view_(view) {
    const Features* features = part.mesh->features_if_ready();
    if (features && !features->face_of.empty()) face_ = &features->face_at(struck.triangle);
  }

  const MeshFace* face() const { return face_; }

  // Before the mesh's features are known nobody can say where the face points; finding them would hold up the pointer.
  std::optional<Caught> place() const {
    if (!face_) return std::nullopt;
    const auto c = part_.mesh->corners(struck_.triangle);
    const Vec3 e1 = c[1] - c[0], e2 = c[2] - c[0], d = part_.to_mesh * struck_.point - c[0];
    const double a = length_squared(e1), b = dot(e1, e2), e = length_squared(e2), bottom = a * e - b * b;
    const double p = dot(d, e1), q = dot(d, e2);
    double u = bottom > 0 ? (e * p - b * q) / bottom : 1.0 / 3, v = bottom > 0 ? (a * q - b * p) / bottom : 1.0 / 3;
    u = std::clamp(u, 0.0, 1.0);
    v = std::clamp(v, 0.0, 1.0 - u);
    return at({TackKind::Face, part_.id, struck_.triangle, {u, v, 0}}, c[0] + e1 * u + e2 * v);
  }
  std::optional<Caught> centre() const {
    if (!face_ || (face_->kind != MeshFace::Kind::Flat && face_->kind != MeshFace::Kind::Ball)) return std::nullopt;
    return at({TackKind::FaceCentre, part_.id, face_->triangle, {}}, face_->centre);
  }
  std::optional<Caught> axis() const {
    if (!face_ || face_->kind != MeshFace::Kind::Round) return std::nullopt;
    const double along = dot(part_.to_mesh * struck_.point - face_->centre, face_->direction);
    const double way = face_->half_length > 0 ? std::clamp((along / face_->half_length + 1) / 2, 0.0, 1.0) : 0.5;
    return at({TackKind::Axis, part_.id, face_->triangle, {way, 0, 0}},
              face_->centre + face_->direction * (face_->half_length * (2 * way - 1)));
  }
  Caught pivot() const { return at({TackKind::Pivot, part_.id, 0, {}}, part_.pivot); }

 private:
  Caught at(const TackAddress& address, const Vec3& local) const {
    const Vec3 point = part_.world * local;
    return {address, point, 0, kFaceScore, dot(view_.eye - point, view_.back()), false};
  }

  const CatchPart& part_;
  const Struck& struck_;
  const View& view_;
  const MeshFace* face_ = nullptr;
};

// What the surface under the pointer gives when nothing else is near. Where the place on it is not looked for, it
// stands for its centre, its axis or its part's pivot.
std::optional<Caught> surface_tack(const CatchScene& scene, const View& view, double x, double y,
                                   const CatchOptions& options) {
  const CatchKinds& kinds = options.kinds;
  const bool any = kinds.has(CatchKind::Face) || kinds.has(CatchKind::FaceCentre) || kinds.has(CatchKind::Axis) ||
                   kinds.has(CatchKind::Pivot);
  if (!any) return std::nullopt;
  const auto hit = strike_beyond(scene, view.ray(x, y), 0, options.see_through);
  if (!hit || (options.leave_out && options.leave_out(hit->part->id))) return std::nullopt;
  const Surface surface(*hit->part, hit->struck, view);
  if (kinds.has(CatchKind::Face) && surface.place()) return surface.place();
  if (kinds.has(CatchKind::FaceCentre) && surface.centre()) return surface.centre();
  if (kinds.has(CatchKind::Axis) && surface.axis()) return surface.axis();
  if (kinds.has(CatchKind::Pivot)) return surface.pivot();
  return std::nullopt;
}

// The place under the pointer on a plane to be caught on, as far as it is shown: the nearest one.
std::optional<Caught> guide_plane_tack(const CatchScene& scene, const View& view, double x, double y,
                                       const CatchOptions& options, Sight& sight) {
  if (!options.kinds.has(CatchKind::Guide)) return std::nullopt;
  const Ray ray = view.ray(x, y);
  std::optional<Caught> best;
  for (const std::uint32_t number : scene.guides) {
    const CatchPart& part = scene.parts[number];
    if (part.guide != GuideKind::Plane || (options.leave_out && options.leave_out(part.id))) continue;
    const Ray own = to_mesh(ray, part);
    const double along = -own.origin.z / own.direction.z;
    if (!(along > 0) || !std::isfinite(along)) continue;
    const Vec3 at = own.origin + own.direction * along;
    if (!part.sheet.holds(at)) continue;
    const Vec3 place{at.x, at.y, 0}, point = part.world * place;
    const double depth = dot(view.eye - point, view.back());
    if ((best && depth >= best->depth) || sight.hidden(point)) continue;
    best = Caught{{TackKind::Guide, part.id, 0, place}, point, 0, kGuidePlaneScore, depth, false};
  }
  return best;
}

// The node of the grid nearest to where the line of sight meets its plane, when it is near the pointer and nothing
// covers it.
std::optional<Caught> grid_tack(const View& view, double x, double y, const CatchOptions& options, Sight& sight) {
  if (!options.kinds.has(CatchKind::Grid) || !options.grid || !(options.grid->spacing > 0)) return std::nullopt;
  const auto back = inverse(options.grid->frame);
  if (!back) return std::nullopt;
  const Ray ray = view.ray(x, y);
  const Vec3 origin = *back * ray.origin, direction = back->linear * ray.direction;
  const double along = -origin.z / direction.z;
  if (!(along > 0) || !std::isfinite(along)) return std::nullopt;
  const double spacing = options.grid->spacing;
  const Vec3 at = origin + direction * along;
  const Vec3 node{std::round(at.x / spacing) * spacing, std::round(at.y / spacing) * spacing, 0};
  if (options.grid->within && !options.grid->within->holds(node)) return std::nullopt;
  const Vec3 point = options.grid->frame * node;
  const auto pixel = view.project(point);
  if (!pixel || !is_finite(point)) return std::nullopt;
  const double pixels = std::hypot(pixel->x - x, pixel->y - y);
  if (!(pixels <= options.radius) || sight.hidden(point)) return std::nullopt;
  return Caught{{TackKind::PlanePoint, options.grid->plane, 0, node}, point, pixels, kGridScore, pixel->depth, false};
}

}  // namespace

CatchScene make_catch_scene(const Scene& scene) {
  CatchScene result;
  std::vector<FloatBox> boxes;
  const auto add = [&](PartId id, const Affine& world) {
    const Part& part = scene.part(id);
    const auto to_mesh = inverse(world);
    if (!to_mesh) return;
    result.parts.push_back({id,
                            part.mesh,
                            world,
                            *to_mesh,
                            part.placement.pivot,
                            part.kept,
                            part.guide,
                            part.see_through || part.patch,
                            {},
                            part.patch != nullptr});
    Sheet& sheet = result.parts.back().sheet;
    if (part.guide == GuideKind::Plane) sheet = sheet_of(scene, id);
    Box box;
    if (part.mesh)
      for (const Vec3& corner : part.mesh->box().corners()) box.include(world * corner);
    box.include(world * part.placement.pivot);  // a pivot far off its mesh must be found too
    if (part.guide == GuideKind::Line)
      for (const double end : {-kGuideLine, kGuideLine}) box.include(world * Vec3{0, 0, end});
    if (part.guide == GuideKind::Point) box.include(world.translation);
    if (part.guide == GuideKind::Plane)
      for (const Vec3& corner : sheet.corners()) box.include(world * corner);
    const auto number = static_cast<std::uint32_t>(result.parts.size() - 1);
    if (part.guide != GuideKind::None) result.guides.push_back(number);
    if (part.kept) {
      result.kept.push_back(number);
      for (const KeptTack& kept : *part.kept) box.include(world * kept.point);
    }
    boxes.push_back(outward(box));
  };
  each_shown(scene, add);
  for (const PartId id : scene.patches()) {
    const Part* part = scene.find(id);
    if (!part || !part->patch || part->hidden) continue;
    const auto& of = part->patch->of;
    if (std::none_of(of.begin(), of.end(), [&](const PatchOf& one) { return is_hidden(scene, one.part); }))
      add(id, world_of(scene, id));
  }
  result.tree = build_box_tree(boxes, 1);
  return result;
}

bool ranks_before(const Caught& a, const Caught& b) {
  if (std::abs(a.score - b.score) > kScoreTie) return a.score < b.score;
  if (a.depth != b.depth) return a.depth < b.depth;
  const auto order = [](const TackAddress& t) {
    return std::tie(t.part, t.kind, t.index, t.second, t.parameter.x, t.parameter.y, t.parameter.z, t.name);
  };
  return order(a.address) < order(b.address);
}

std::optional<Caught> best_tack(const CatchScene& scene, const View& view, double x, double y,
                                const CatchOptions& options) {
  Sight sight(scene, view, options);
  std::optional<Caught> best;
  OutwardSearch(scene, view, x, y, options, &sight).run([&](const Candidate& c) {
    // Tacks come by rising score: past the tie with the best visible one nothing can win any more.
    if (best && c.caught.score > best->score + kScoreTie) return false;
    if ((!best || ranks_before(c.caught, *best)) && !sight.hidden(c.seen)) best = c.caught;
    return sight.grazing() < kMostGrazing;
  });
  if (!best) best = surface_tack(scene, view, x, y, options);
  if (!best) best = guide_plane_tack(scene, view, x, y, options, sight);
  if (!best) best = grid_tack(view, x, y, options, sight);
  if (best || !options.hidden_too) return best;
  OutwardSearch(scene, view, x, y, options, nullptr).run([&](const Candidate& c) {
    if (best && c.caught.score > best->score + kScoreTie) return false;
    if (!best || ranks_before(c.caught, *best)) best = c.caught;
    return true;
  });
  if (best) best->behind = true;
  return best;
}

std::vector<Caught> all_tacks(const CatchScene& scene, const View& view, double x, double y,
                              const CatchOptions& options, std::size_t limit) {
  constexpr std::size_t kMostTested = 2000;
  Sight sight(scene, view, options);
  std::vector<Caught> all;
  std::size_t tested = 0;
  const auto known = [&](const Caught& c) {
    return std::any_of(all.begin(), all.end(), [&](const Caught& other) {
      return other.address.part == c.address.part && other.address.kind == c.address.kind &&
             distance(other.point, c.point) <= options.touch;
    });
  };
  OutwardSearch(scene, view, x, y, options, nullptr).run([&](const Candidate& c) {
    if (!known(c.caught)) {
      all.push_back(c.caught);
      all.back().behind = sight.hidden(c.seen);
    }
    return all.size() < 4 * limit && ++tested < kMostTested;
  });
  std::stable_sort(all.begin(), all.end(), [](const Caught& a, const Caught& b) {
    return a.behind != b.behind ? !a.behind : a.score != b.score ? a.score < b.score : a.depth < b.depth;
  });

  // The surfaces under the pointer, front to back.
  std::vector<Caught> surfaces;
  const Ray ray = view.ray(x, y);
  const MeshFace* last = nullptr;
  double after = 0;
  bool covered = false;
  for (std::size_t i = 0; i < kMostSurfaces; ++i) {
    const auto hit = strike_any(scene, ray, after, false, options.see_through);
    if (!hit) break;
    const bool behind = covered;
    covered |= !hit->part->see_through;
    after = hit->along * (1 + 1e-12) + options.touch / length(ray.direction);
    if (options.leave_out && options.leave_out(hit->part->id)) continue;
    const Surface surface(*hit->part, hit->struck, view);
    if (surface.face() && surface.face() == last) continue;
    last = surface.face();
    std::vector<Caught> offered;
    if (const auto p = surface.place(); p && options.kinds.has(CatchKind::Face)) offered.push_back(*p);
    if (const auto c = surface.centre(); c && options.kinds.has(CatchKind::FaceCentre)) offered.push_back(*c);
    if (const auto c = surface.axis(); c && options.kinds.has(CatchKind::Axis)) offered.push_back(*c);
    for (Caught& c : offered) {
      c.behind = behind;
      if (!known(c)) surfaces.push_back(c);
    }
  }
  if (surfaces.size() > limit) surfaces.resize(limit);
  if (all.size() > limit - surfaces.size()) all.resize(limit - surfaces.size());
  // What is seen comes before what is behind, surfaces too.
  const auto first_behind = std::find_if(all.begin(), all.end(), [](const Caught& c) { return c.behind; });
  const auto seen = std::stable_partition(surfaces.begin(), surfaces.end(), [](const Caught& c) { return !c.behind; });
  all.insert(first_behind, surfaces.begin(), seen);
  all.insert(all.end(), seen, surfaces.end());
  return all;
}

std::optional<Struck> strike(const CatchScene& scene, const View& view, double x, double y,
                             const std::function<bool(PartId)>& leave_out) {
  const auto hit = strike_beyond(scene, view.ray(x, y), 0, leave_out);
  return hit ? std::optional(hit->struck) : std::nullopt;
}

namespace {

// How much of a mesh is in a rectangle of the picture. A box whose corners all lie before the eye is seen within the
// rectangle round them, so that whole boxes of vertices are decided at once.
class InRectangle {
 public:
  InRectangle(const View& view, double left, double top, double right, double bottom)
      : view_(view), left_(left), top_(top), right_(right), bottom_(bottom) {}

  // Whether any vertex is inside (`touching`), or all are.
  bool holds(const CatchPart& part, bool touching) const {
    const auto positions = part.mesh->positions();
    const auto vertex_ends = [&](std::uint32_t v) { return inside(part.world * positions[v]) == touching; };
    if (const Side side = side_of(part.mesh->box(), part.world); side != Side::Across) return side == Side::Inside;
    const MeshIndex* index = part.mesh->index_if_ready();
    if (!index) {
      for (std::uint32_t v = 0; v < positions.size(); ++v)
        if (vertex_ends(v)) return touching;
      return !touching;
    }
    const auto& [nodes, items] = index->vertices;
    std::array<std::uint32_t, kTreeStack> stack{};
    std::size_t waiting = nodes.empty() ? 0 : 1;
    while (waiting > 0) {
      const std::uint32_t at = stack[--waiting];
      const BoxNode& node = nodes[at];
      const auto& [low, high] = node.box;
      const Side side = side_of(Box{{low[0], low[1], low[2]}, {high[0], high[1], high[2]}}, part.world);
      if (side == (touching ? Side::Inside : Side::Outside)) return touching;
      if (side != Side::Across) continue;
      if (!node.leaf()) {
        stack[waiting++] = node.first;
        stack[waiting++] = at + 1;
        continue;
      }
      for (std::uint32_t i = node.first; i < node.first + node.count; ++i)
        if (vertex_ends(items[i])) return touching;
    }
    return !touching;
  }

 private:
  enum class Side { Inside, Outside, Across };

  bool inside(const Vec3& world) const {
    const auto px = view_.project(world);
    return px && px->x >= left_ && px->x <= right_ && px->y >= top_ && px->y <= bottom_;
  }
  Side side_of(const Box& box, const Affine& world) const {
    if (box.empty()) return Side::Across;
    double low_x = std::numeric_limits<double>::infinity(), low_y = low_x, high_x = -low_x, high_y = -low_x;
    for (int i = 0; i < 8; ++i) {
      const auto px = view_.project(world * box.at({double(i & 1), double(i >> 1 & 1), double(i >> 2)}));
      if (!px) return Side::Across;
      low_x = std::min(low_x, px->x), high_x = std::max(high_x, px->x);
      low_y = std::min(low_y, px->y), high_y = std::max(high_y, px->y);
    }
    constexpr double kRounding = 1e-6;  // pixels: nearer to a side than this each vertex is asked itself
    if (low_x > right_ + kRounding || high_x < left_ - kRounding || low_y > bottom_ + kRounding ||
        high_y < top_ - kRounding)
      return Side::Outside;
    const bool within = low_x >= left_ + kRounding && high_x <= right_ - kRounding && low_y >= top_ + kRounding &&
                        high_y <= bottom_ - kRounding;
    return within ? Side::Inside : Side::Across;
  }

  const View& view_;
  double left_, top_, right_, bottom_;
};

}  // namespace

std::vector<PartId> parts_in_rectangle(const CatchScene& scene, const View& view, double left, double top, double right,
                                       double bottom, bool touching) {
  std::vector<PartId> result;
  const InRectangle rectangle(view, left, top, right, bottom);
  for (const CatchPart& part : scene.parts)
    if (part.mesh && !part.patch && rectangle.holds(part, touching)) result.push_back(part.id);
  return result;
}

}  // namespace tack
