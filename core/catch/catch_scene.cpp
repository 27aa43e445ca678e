#include "core/catch/catch_scene.h"

#include <queue>

namespace tack {
namespace {

constexpr double kInfinity = std::numeric_limits<double>::infinity();
constexpr int kStack = 128;

// The projection of one part, centred on the pointer and linear in homogeneous coordinates: for a mesh point p the
// pixel offset from the pointer is (dot(x, p) + x0, dot(y, p) + y0) / (dot(w, p) + w0).
struct PointerProjection {
  Vec3 x, y, w;
  double x0 = 0, y0 = 0, w0 = 1;

  PointerProjection(const View& view, double px, double py, const Affine& world) {
    const Vec3 t = view.to_eye * (world.translation - view.eye);
    const Mat3 m = view.to_eye * world.linear;
    const auto row = [&](int r) { return Vec3{m(r, 0), m(r, 1), m(r, 2)}; };
    const double cx = view.width / 2 - px, cy = view.height / 2 - py;
    if (view.perspective) {
      w = -row(2);
      w0 = -t.z;
      x = row(0) * view.pixels_per_unit + w * cx;
      x0 = t.x * view.pixels_per_unit + w0 * cx;
      y = row(1) * -view.pixels_per_unit + w * cy;
      y0 = -t.y * view.pixels_per_unit + w0 * cy;
    } else {
      x = row(0) * view.pixels_per_unit;
      x0 = t.x * view.pixels_per_unit + cx;
      y = row(1) * -view.pixels_per_unit;
      y0 = -t.y * view.pixels_per_unit + cy;
      w0 = 1;
    }
  }

  // Pixels from the pointer; infinity behind the eye.
  double pixels(const Vec3& p) const {
    const double h = dot(w, p) + w0;
    return h > 0 ? std::hypot(dot(x, p) + x0, dot(y, p) + y0) / h : kInfinity;
  }

  // A lower bound of pixels() over a box, by interval arithmetic; 0 when nothing better can be said.
  double least_pixels(const FloatBox& box) const {
    const Vec3 centre{0.5 * (double(box.low[0]) + box.high[0]), 0.5 * (double(box.low[1]) + box.high[1]),
                      0.5 * (double(box.low[2]) + box.high[2])};
    const Vec3 half{0.5 * (double(box.high[0]) - box.low[0]), 0.5 * (double(box.high[1]) - box.low[1]),
                    0.5 * (double(box.high[2]) - box.low[2])};
    const auto radius = [&](const Vec3& v) {
      return std::abs(v.x) * half.x + std::abs(v.y) * half.y + std::abs(v.z) * half.z;
    };
    const double far = dot(w, centre) + w0 + radius(w);
    if (!(far > 0)) return kInfinity;
    const double dx = std::max(0.0, std::abs(dot(x, centre) + x0) - radius(x));
    const double dy = std::max(0.0, std::abs(dot(y, centre) + y0) - radius(y));
    return std::hypot(dx, dy) / far * (1 - 1e-12);
  }
};

// Casts rays through the whole scene. Remembers what covered the last place: neighbours are mostly hidden by the same
// triangle, and testing it first saves most of the searches behind a large face.
class Sight {
 public:
  Sight(const CatchScene& scene, const View& view, const CatchOptions& options)
      : scene_(scene), view_(view), options_(options) {}

  bool hidden(const Vec3& point) {
    Ray ray;
    double reach = 0;
    if (view_.perspective) {
      ray = {view_.eye, point - view_.eye};
      reach = length(ray.direction);
    } else {
      const Vec3 back = view_.back();
      reach = dot(view_.eye - point, back);
      ray = {point + back * reach, -back * reach};
    }
    if (!(reach > 0)) return true;
    // Along runs from 0 at the eye to 1 at the point.
    const double limit = 1 - options_.touch / reach - 1e-9;
    if (last_part_) {
      const Ray local = to_mesh(ray, *last_part_);
      if (const auto hit = ray_triangle(local, last_part_->mesh->corners(last_triangle_)); hit && *hit < limit)
        return true;
    }
    return covered(ray, limit);
  }

 private:
  static Ray to_mesh(const Ray& ray, const CatchPart& part) {
    return {part.to_mesh * ray.origin, part.to_mesh.linear * ray.direction};
  }

  bool covered(const Ray& ray, double limit) {
    if (scene_.tree.nodes.empty()) return false;
    std::array<std::uint32_t, kStack> stack;
    int size = 0;
    stack[size++] = 0;
    while (size > 0) {
      const std::uint32_t at = stack[--size];
      const BoxNode& node = scene_.tree.nodes[at];
      if (!meets(node.box, ray, limit)) continue;
      if (!node.leaf()) {
        stack[size++] = at + 1;
        stack[size++] = node.first;
        continue;
      }
      for (std::uint32_t i = 0; i < node.count; ++i) {
        const CatchPart& part = scene_.parts[scene_.tree.items[node.first + i]];
        if (options_.see_through && options_.see_through(part.id)) continue;
        if (const auto hit = any_hit(*part.mesh, to_mesh(ray, part), limit)) {
          last_part_ = &part;
          last_triangle_ = hit->triangle;
          return true;
        }
      }
    }
    return false;
  }

 public:
  static bool meets(const FloatBox& box, const Ray& ray, double limit) {
    double near = 0, far = limit;
    for (int i = 0; i < 3; ++i) {
      const double inverse = 1 / ray.direction[i];
      double a = (box.low[i] - ray.origin[i]) * inverse, b = (box.high[i] - ray.origin[i]) * inverse;
      if (a > b) std::swap(a, b);
      if (a > near) near = a;
      if (b < far) far = b;
    }
    return near <= far * (1 + 1e-12) + 1e-12;
  }

 private:
  const CatchScene& scene_;
  const View& view_;
  const CatchOptions& options_;
  const CatchPart* last_part_ = nullptr;
  std::uint32_t last_triangle_ = 0;
};

Caught caught_at(const TackAddress& address, const Vec3& point, const View& view, double pixels, double handicap) {
  return {address, point, pixels, pixels + handicap, dot(view.eye - point, view.back()), false};
}

// Calls found(Caught) for the box points and the pivot of a part that lie within the radius.
template <typename Found>
void offer_fixed_points(const CatchPart& part, const View& view, const PointerProjection& projection,
                        const CatchOptions& options, Found&& found) {
  if (options.box_points)
    for (int i = 0; i < 27; ++i) {
      const int x = i % 3, y = i / 3 % 3, z = i / 9;
      const Vec3 fraction{x * 0.5, y * 0.5, z * 0.5};
      const Vec3 p = part.mesh->box().at(fraction);
      if (const double px = projection.pixels(p); px <= options.radius)
        found(caught_at({TackKind::BoxPoint, part.id, 0, fraction}, part.world * p, view, px, kBoxPointHandicap));
    }
  if (options.pivots)
    if (const double px = projection.pixels(part.pivot); px <= options.radius)
      found(caught_at({TackKind::Pivot, part.id, 0, {}}, part.world * part.pivot, view, px, kPivotHandicap));
}

// Everything within the radius, outward from the pointer. `visit` is given tacks in order of a lower bound of their
// score (exact for tacks, so they arrive sorted to within the bound) and returns false to end the search.
class OutwardSearch {
 public:
  OutwardSearch(const CatchScene& scene, const View& view, double x, double y, const CatchOptions& options)
      : scene_(scene), view_(view), x_(x), y_(y), options_(options) {}

  template <typename Visit>
  void run(Visit&& visit) {
    start();
    while (!queue_.empty()) {
      const Entry entry = queue_.top();
      queue_.pop();
      if (entry.kind == Entry::FoundTack) {
        if (!visit(found_[entry.index])) return;
      } else {
        expand(entry);
      }
    }
  }

 private:
  struct Entry {
    enum Kind : std::uint8_t { FoundTack, Vertices };
    double bound;
    Kind kind;
    std::uint32_t index;  // of a found tack, or of a vertex-tree node
    std::uint32_t part;   // index into projections_
    bool operator<(const Entry& other) const { return bound > other.bound; }
  };

  void add(const Caught& caught) {
    queue_.push({caught.score, Entry::FoundTack, static_cast<std::uint32_t>(found_.size()), 0});
    found_.push_back(caught);
  }

  void start() {
    if (scene_.tree.nodes.empty()) return;
    const PointerProjection whole(view_, x_, y_, Affine{});
    std::array<std::uint32_t, kStack> stack;
    int size = 0;
    stack[size++] = 0;
    while (size > 0) {
      const std::uint32_t at = stack[--size];
      const BoxNode& node = scene_.tree.nodes[at];
      if (whole.least_pixels(node.box) > options_.radius) continue;
      if (!node.leaf()) {
        stack[size++] = at + 1;
        stack[size++] = node.first;
        continue;
      }
      for (std::uint32_t i = 0; i < node.count; ++i) add_part(scene_.tree.items[node.first + i]);
    }
  }

  void add_part(std::uint32_t number) {
    const CatchPart& part = scene_.parts[number];
    if (options_.leave_out && options_.leave_out(part.id)) return;
    const auto slot = static_cast<std::uint32_t>(projections_.size());
    projections_.emplace_back(number, PointerProjection(view_, x_, y_, part.world));
    const PointerProjection& projection = projections_.back().second;
    offer_fixed_points(part, view_, projection, options_, [this](const Caught& c) { add(c); });
    if (!options_.vertices) return;
    const MeshIndex* index = part.mesh->index_if_ready();
    if (!index) {
      const auto positions = part.mesh->positions();
      for (std::uint32_t v = 0; v < positions.size(); ++v) add_vertex(part, projection, v);
    } else if (!index->vertices.nodes.empty()) {
      push_node(*index, slot, 0);
    }
  }

  void add_vertex(const CatchPart& part, const PointerProjection& projection, std::uint32_t v) {
    const Vec3& p = part.mesh->positions()[v];
    if (const double px = projection.pixels(p); px <= options_.radius)
      add(caught_at({TackKind::Vertex, part.id, v, {}}, part.world * p, view_, px, kVertexHandicap));
  }

  void push_node(const MeshIndex& index, std::uint32_t slot, std::uint32_t node) {
    const double bound = projections_[slot].second.least_pixels(index.vertices.nodes[node].box);
    if (bound <= options_.radius) queue_.push({bound + kVertexHandicap, Entry::Vertices, node, slot});
  }

  void expand(const Entry& entry) {
    const CatchPart& part = scene_.parts[projections_[entry.part].first];
    const MeshIndex& index = *part.mesh->index_if_ready();
    const BoxNode& node = index.vertices.nodes[entry.index];
    if (node.leaf()) {
      for (std::uint32_t i = 0; i < node.count; ++i)
        add_vertex(part, projections_[entry.part].second, index.vertices.items[node.first + i]);
    } else {
      push_node(index, entry.part, entry.index + 1);
      push_node(index, entry.part, node.first);
    }
  }

  const CatchScene& scene_;
  const View& view_;
  double x_, y_;
  const CatchOptions& options_;
  std::vector<std::pair<std::uint32_t, PointerProjection>> projections_;
  std::vector<Caught> found_;
  std::priority_queue<Entry> queue_;
};

}  // namespace

CatchScene make_catch_scene(const Scene& scene) {
  CatchScene result;
  const std::vector<Affine> worlds = worlds_of(scene);
  std::vector<bool> hidden(scene.id_limit(), false);
  std::vector<FloatBox> boxes;
  for (const PartId id : scene.in_tree_order()) {
    const Part& part = scene.part(id);
    hidden[id] = part.hidden || (part.parent != kNoPart && hidden[part.parent]);
    if (hidden[id] || !part.mesh) continue;
    const auto to_mesh = inverse(worlds[id]);
    if (!to_mesh) continue;
    result.parts.push_back({id, part.mesh, worlds[id], *to_mesh, part.placement.pivot});
    Box box;
    for (int corner = 0; corner < 8; ++corner)
      box.include(worlds[id] * part.mesh->box().at({double(corner & 1), double(corner >> 1 & 1), double(corner >> 2)}));
    box.include(worlds[id] * part.placement.pivot);  // a pivot far off its mesh must be found too
    boxes.push_back(outward(box));
  }
  result.tree = build_box_tree(boxes, 2);
  return result;
}

bool ranks_before(const Caught& a, const Caught& b) {
  if (std::abs(a.score - b.score) > kScoreTie) return a.score < b.score;
  if (a.depth != b.depth) return a.depth < b.depth;
  if (a.address.part != b.address.part) return a.address.part < b.address.part;
  return a.address.index < b.address.index;
}

std::optional<Caught> best_tack(const CatchScene& scene, const View& view, double x, double y,
                                const CatchOptions& options) {
  Sight sight(scene, view, options);
  std::optional<Caught> best;
  OutwardSearch(scene, view, x, y, options).run([&](const Caught& c) {
    // Tacks come by rising score: past the tie with the best visible one nothing can win any more.
    if (best && c.score > best->score + kScoreTie) return false;
    if ((!best || ranks_before(c, *best)) && !sight.hidden(c.point)) best = c;
    return true;
  });
  return best;
}

std::vector<Caught> all_tacks(const CatchScene& scene, const View& view, double x, double y,
                              const CatchOptions& options, std::size_t limit) {
  constexpr std::size_t kMostTested = 2000;
  Sight sight(scene, view, options);
  std::vector<Caught> all;
  std::size_t tested = 0;
  OutwardSearch(scene, view, x, y, options).run([&](const Caught& c) {
    const bool known = std::any_of(all.begin(), all.end(), [&](const Caught& other) {
      return other.address.part == c.address.part && distance(other.point, c.point) <= options.touch;
    });
    if (!known) {
      all.push_back(c);
      all.back().behind = sight.hidden(c.point);
    }
    return all.size() < 4 * limit && ++tested < kMostTested;
  });
  std::stable_sort(all.begin(), all.end(), [](const Caught& a, const Caught& b) {
    return a.behind != b.behind ? !a.behind : a.score != b.score ? a.score < b.score : a.depth < b.depth;
  });
  if (all.size() > limit) all.resize(limit);
  return all;
}

std::optional<Struck> strike(const CatchScene& scene, const View& view, double x, double y,
                             const std::function<bool(PartId)>& leave_out) {
  const Ray ray = view.ray(x, y);
  double limit = kInfinity;
  std::optional<Struck> best;
  if (scene.tree.nodes.empty()) return best;
  std::array<std::uint32_t, kStack> stack;
  int size = 0;
  stack[size++] = 0;
  while (size > 0) {
    const std::uint32_t at = stack[--size];
    const BoxNode& node = scene.tree.nodes[at];
    if (!Sight::meets(node.box, ray, limit)) continue;
    if (!node.leaf()) {
      stack[size++] = at + 1;
      stack[size++] = node.first;
      continue;
    }
    for (std::uint32_t i = 0; i < node.count; ++i) {
      const CatchPart& part = scene.parts[scene.tree.items[node.first + i]];
      if (leave_out && leave_out(part.id)) continue;
      const Ray local{part.to_mesh * ray.origin, part.to_mesh.linear * ray.direction};
      if (const auto hit = first_hit(*part.mesh, local, limit)) {
        limit = hit->along;
        best = Struck{part.id, hit->triangle, ray.origin + ray.direction * hit->along};
      }
    }
  }
  return best;
}

std::vector<PartId> parts_in_rectangle(const CatchScene& scene, const View& view, double left, double top, double right,
                                       double bottom, bool touching) {
  std::vector<PartId> result;
  for (const CatchPart& part : scene.parts) {
    bool all = true, any = false;
    for (const Vec3& p : part.mesh->positions()) {
      const auto px = view.project(part.world * p);
      const bool inside = px && px->x >= left && px->x <= right && px->y >= top && px->y <= bottom;
      all &= inside;
      any |= inside;
      if (touching ? any : !all) break;
    }
    if (touching ? any : all) result.push_back(part.id);
  }
  return result;
}

}  // namespace tack
