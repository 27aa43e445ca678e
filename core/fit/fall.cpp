#include "core/fit/fall.h"

#include <algorithm>
#include <array>

#include "core/math/split.h"
#include "core/mesh/mass.h"
#include "core/mesh/mesh_index.h"

namespace tack {
namespace {

// A convex polygon in the frame of the fall: at most the seven corners that two triangles can leave.
struct Polygon {
  std::array<Vec3, 10> at;
  int count = 0;
  void add(const Vec3& p) {
    if (count < static_cast<int>(at.size())) at[static_cast<std::size_t>(count++)] = p;
  }
  const Vec3& operator[](int i) const { return at[static_cast<std::size_t>(i)]; }
};

double cross_2d(const Vec3& a, const Vec3& b, const Vec3& c) {
  return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
}

// The part of a polygon on the side where f is not negative; points in between are found along its edges.
template <class F>
Polygon cut(const Polygon& p, F&& f) {
  Polygon kept;
  for (int i = 0; i < p.count; ++i) {
    const Vec3 &a = p[i], &b = p[(i + 1) % p.count];
    const double at_a = f(a), at_b = f(b);
    if (at_a >= 0) kept.add(a);
    if ((at_a > 0 && at_b < 0) || (at_a < 0 && at_b > 0)) kept.add(a + (b - a) * (at_a / (at_a - at_b)));
  }
  return kept;
}

double area_2d(const Polygon& p) {
  double twice = 0;
  for (int i = 1; i + 1 < p.count; ++i) twice += cross_2d(p[0], p[i], p[i + 1]);
  return std::abs(twice) / 2;
}

double width_2d(const Polygon& p) {
  double low_x = 1e300, high_x = -1e300, low_y = 1e300, high_y = -1e300;
  for (int i = 0; i < p.count; ++i) {
    low_x = std::min(low_x, p[i].x), high_x = std::max(high_x, p[i].x);
    low_y = std::min(low_y, p[i].y), high_y = std::max(high_y, p[i].y);
  }
  return std::hypot(high_x - low_x, high_y - low_y);
}

// Which of a triangle's edges is longest on the plane: what is left of one that stands on edge.
std::array<Vec3, 2> longest_side(const std::array<Vec3, 3>& t) {
  std::array<Vec3, 2> best{t[0], t[1]};
  double longest = -1;
  for (std::size_t i = 0; i < 3; ++i) {
    const Vec3 &a = t[i], &b = t[(i + 1) % 3];
    const double length = std::hypot(b.x - a.x, b.y - a.y);
    if (length > longest) longest = length, best = {a, b};
  }
  return best;
}

// The height of a triangle's plane over a point, kept within the triangle's own heights.
double height_at(const std::array<Vec3, 3>& t, const Vec3& p) {
  const double whole = cross_2d(t[0], t[1], t[2]);
  const double u = cross_2d(p, t[1], t[2]) / whole, v = cross_2d(p, t[2], t[0]) / whole;
  const double z = t[2].z + (t[0].z - t[2].z) * u + (t[1].z - t[2].z) * v;
  return std::clamp(z, std::min({t[0].z, t[1].z, t[2].z}), std::max({t[0].z, t[1].z, t[2].z}));
}

struct Touch {
  double way = 1e300;
  Vec3 at;  // of what stands
};

// What counts as below what falls.
struct Below {
  double grain = 0;    // lengths that are nothing
  double ceiling = 0;  // the middle height of what falls
  // A point of what stands, under a point of what falls.
  bool holds(double falls, double stands) const { return falls - stands >= -grain || stands <= ceiling; }
};

void touch_at(double falls, const Vec3& stands, const Below& below, Touch& best) {
  if (below.holds(falls, stands.z) && falls - stands.z < best.way) best = {falls - stands.z, stands};
}

bool on_edge(const std::array<Vec3, 3>& t, double grain) {
  const auto side = longest_side(t);
  const double length = std::hypot(side[1].x - side[0].x, side[1].y - side[0].y);
  return std::abs(cross_2d(t[0], t[1], t[2])) <= grain * length;
}

// A segment over a triangle: the piece of it that lies on it.
void segment_over(const std::array<Vec3, 2>& s, const std::array<Vec3, 3>& t, bool falls, const Below& below,
                  Touch& best) {
  const double turn = cross_2d(t[0], t[1], t[2]) > 0 ? 1 : -1, grain = below.grain;
  double from = 0, to = 1;
  for (std::size_t i = 0; i < 3; ++i) {
    const Vec3 &a = t[i], &b = t[(i + 1) % 3];
    const double length = std::hypot(b.x - a.x, b.y - a.y);
    if (!(length > 0)) return;
    // On an edge it lies on the triangle: there may be no other that it lies on.
    const double p = turn * cross_2d(a, b, s[0]) / length + grain, q = turn * cross_2d(a, b, s[1]) / length + grain;
    if (p < 0 && q < 0) return;
    if (p < 0) from = std::max(from, p / (p - q));
    if (q < 0) to = std::min(to, p / (p - q));
  }
  const double length = std::hypot(s[1].x - s[0].x, s[1].y - s[0].y);
  if (!((to - from) * length > grain)) return;
  for (const double share : {from, to}) {
    const Vec3 p = s[0] + (s[1] - s[0]) * share;
    const double z = height_at(t, p);
    touch_at(falls ? p.z : z, {p.x, p.y, falls ? z : p.z}, below, best);
  }
}

// Two segments that cross.
void segments_over(const std::array<Vec3, 2>& a, const std::array<Vec3, 2>& b, const Below& below, Touch& best) {
  const double a0 = cross_2d(b[0], b[1], a[0]), a1 = cross_2d(b[0], b[1], a[1]);
  const double b0 = cross_2d(a[0], a[1], b[0]), b1 = cross_2d(a[0], a[1], b[1]);
  const double la = std::hypot(a[1].x - a[0].x, a[1].y - a[0].y), lb = std::hypot(b[1].x - b[0].x, b[1].y - b[0].y);
  if (a0 * a1 >= 0 || b0 * b1 >= 0 || std::min(std::abs(a0), std::abs(a1)) <= below.grain * lb ||
      std::min(std::abs(b0), std::abs(b1)) <= below.grain * la)
    return;
  const Vec3 p = a[0] + (a[1] - a[0]) * (a0 / (a0 - a1)), q = b[0] + (b[1] - b[0]) * (b0 / (b0 - b1));
  touch_at(p.z, q, below, best);
}

// How high the triangle `a` is over `b` where they are above each other. Of a solid the triangles that stand on edge
// say nothing that their neighbours do not; of a sheet they are all there is.
void triangle_over(const std::array<Vec3, 3>& a, const std::array<Vec3, 3>& b, const std::array<bool, 2>& solid,
                   const Below& below, Touch& best) {
  const bool a_edge = on_edge(a, below.grain), b_edge = on_edge(b, below.grain);
  if ((a_edge && solid[0]) || (b_edge && solid[1])) return;
  if (a_edge && b_edge) return segments_over(longest_side(a), longest_side(b), below, best);
  if (a_edge) {
    for (std::size_t i = 0; i < 3; ++i) segment_over({a[i], a[(i + 1) % 3]}, b, true, below, best);
    return;
  }
  if (b_edge) {
    for (std::size_t i = 0; i < 3; ++i) segment_over({b[i], b[(i + 1) % 3]}, a, false, below, best);
    return;
  }
  Polygon over;
  for (const Vec3& p : a) over.add(p);
  const double turn = cross_2d(b[0], b[1], b[2]) > 0 ? 1 : -1;
  for (std::size_t i = 0; i < 3 && over.count > 0; ++i) {
    const Vec3 &p = b[i], &q = b[(i + 1) % 3];
    over = cut(over, [&](const Vec3& r) { return turn * cross_2d(p, q, r); });
  }
  const auto look_at = [&](const Polygon& part) {
    // What only grazes is as wide as rounding.
    if (part.count < 3 || area_2d(part) <= below.grain * width_2d(part)) return;
    for (int i = 0; i < part.count; ++i) {
      const double stands = height_at(b, part[i]), way = part[i].z - stands;
      if (way < best.way) best = {way, {part[i].x, part[i].y, stands}};
    }
  };
  const double highest = std::max({b[0].z, b[1].z, b[2].z});
  if (highest <= below.ceiling) return look_at(over);
  // Only what is below: not above the surface over it, or not above the middle of what falls.
  look_at(cut(over, [&](const Vec3& p) { return p.z - height_at(b, p) + below.grain; }));
  look_at(cut(over, [&](const Vec3& p) { return below.ceiling - height_at(b, p); }));
}

bool above_each_other(const Box& a, const Box& b) {
  return a.low.x <= b.high.x && b.low.x <= a.high.x && a.low.y <= b.high.y && b.low.y <= a.high.y;
}

// The box of a box in another frame.
Box box_under(const Affine& m, const FloatBox& box) {
  const Vec3 low{box.low[0], box.low[1], box.low[2]}, high{box.high[0], box.high[1], box.high[2]};
  const Vec3 middle = m * ((low + high) * 0.5), half = (high - low) * 0.5;
  Vec3 reach;
  for (int i = 0; i < 3; ++i)
    reach[i] =
        std::abs(m.linear(i, 0)) * half.x + std::abs(m.linear(i, 1)) * half.y + std::abs(m.linear(i, 2)) * half.z;
  // Rounding must not make it smaller than what is in it.
  reach += Vec3{1, 1, 1} * (1e-15 * (largest_component(middle) + largest_component(reach)));
  Box whole;
  whole.low = middle - reach;
  whole.high = middle + reach;
  return whole;
}

}  // namespace

// A mesh in the frame of the fall.
struct FallSearch::Body {
  const Mesh* mesh = nullptr;
  Affine to_frame;
  const BoxTree* tree = nullptr;
  std::vector<Box> boxes;  // of the tree's nodes
  double shift = 0;        // up, since
  bool solid = false;      // closed: it has an inside
  bool mirrored = false;   // its triangles run the other way round

  // Whether a triangle of a solid looks away from the other body, and so never touches it first.
  bool looks_away(const std::array<Vec3, 3>& t, bool falls) const {
    const double up = cross_2d(t[0], t[1], t[2]) * (mirrored ? -1 : 1);
    return solid && (falls ? up > 0 : up < 0);
  }

  Box box(std::uint32_t node) const {
    Box b = boxes[node];
    b.low.z += shift;
    b.high.z += shift;
    return b;
  }
  std::array<Vec3, 3> corners(std::uint32_t triangle) const {
    auto c = mesh->corners(triangle);
    for (Vec3& p : c) p = to_frame * p, p.z += shift;
    return c;
  }
};

FallSearch::FallSearch(const Scene& scene, const Vec3& up) : scene_(scene) {
  const Vec3 x = normalized(cross(up, least_axis(up)));
  // Straight down the frame is the world itself, to the bit.
  to_frame_ = up == Vec3{0, 0, 1} ? Mat3{} : transpose(Mat3{{x, cross(up, x), up}});
}
FallSearch::~FallSearch() = default;

FallSearch::Body& FallSearch::body_of(PartId id) {
  auto& body = bodies_[id];
  if (!body) {
    body = std::make_unique<Body>();
    body->mesh = scene_.part(id).mesh.get();
    body->to_frame = Affine{to_frame_, {}} * world_of(scene_, id);
    body->tree = &body->mesh->index().triangles;
    body->solid = body->mesh->mass().closed && body->mesh->mass().amount > 0;
    body->mirrored = determinant(body->to_frame.linear) < 0;
    body->boxes.reserve(body->tree->nodes.size());
    for (const BoxNode& node : body->tree->nodes) body->boxes.push_back(box_under(body->to_frame, node.box));
  }
  return *body;
}

void FallSearch::shift(PartId part, double by) { body_of(part).shift += by; }

double FallSearch::lowest(const std::vector<PartId>& parts) {
  double low = std::numeric_limits<double>::infinity();
  for (const PartId id : parts) {
    const Body& body = body_of(id);
    for (const Vec3& p : body.mesh->positions()) low = std::min(low, (body.to_frame * p).z + body.shift);
  }
  return low;
}

double FallSearch::highest(const std::vector<PartId>& parts) {
  double high = -std::numeric_limits<double>::infinity();
  for (const PartId id : parts) {
    const Body& body = body_of(id);
    for (const Vec3& p : body.mesh->positions()) high = std::max(high, (body.to_frame * p).z + body.shift);
  }
  return high;
}

std::optional<Landing> FallSearch::landing(const std::vector<PartId>& falling, const std::vector<PartId>& standing,
                                           double most) {
  Landing best;
  best.way = most;
  bool found = false;
  Box whole;
  for (const PartId id : falling)
    if (const Body& body = body_of(id); !body.boxes.empty()) whole.include(body.box(0));
  if (whole.empty()) return std::nullopt;
  const double ceiling = (lowest(falling) + highest(falling)) / 2;
  for (const PartId on : standing) {
    const Body& stands = body_of(on);
    if (stands.boxes.empty() || !above_each_other(whole, stands.box(0))) continue;
    for (const PartId id : falling) {
      const Body& falls = body_of(id);
      if (falls.boxes.empty()) continue;
      struct Pair {
        std::uint32_t falls, stands;
        double least;
      };
      const auto least = [&](std::uint32_t a, std::uint32_t b) { return falls.box(a).low.z - stands.box(b).high.z; };
      const Below below{1e-9 * (whole.extent() + stands.box(0).extent()), ceiling};
      std::vector<Pair> pending{{0, 0, least(0, 0)}};
      while (!pending.empty()) {
        const Pair pair = pending.back();
        pending.pop_back();
        const Box a = falls.box(pair.falls), b = stands.box(pair.stands);
        if (pair.least >= best.way || !above_each_other(a, b)) continue;
        if (b.low.z > ceiling && a.high.z - b.low.z < -below.grain) continue;  // all of it is above
        const BoxNode &p = falls.tree->nodes[pair.falls], &q = stands.tree->nodes[pair.stands];
        if (p.leaf() && q.leaf()) {
          for (std::uint32_t i = 0; i < p.count; ++i) {
            const auto over = falls.corners(falls.tree->items[p.first + i]);
            if (falls.looks_away(over, true)) continue;
            for (std::uint32_t k = 0; k < q.count; ++k) {
              const auto under = stands.corners(stands.tree->items[q.first + k]);
              if (stands.looks_away(under, false)) continue;
              Touch touch;
              touch.way = best.way;
              triangle_over(over, under, {falls.solid, stands.solid}, below, touch);
              if (touch.way < best.way) best = {touch.way, id, on, touch.at}, found = true;
            }
          }
          continue;
        }
        // The larger of the two is opened; of its halves the one that is nearer comes first.
        const bool open_falls = q.leaf() || (!p.leaf() && a.extent() >= b.extent());
        Pair left = pair, right = pair;
        if (open_falls)
          left.falls = pair.falls + 1, right.falls = p.first;
        else
          left.stands = pair.stands + 1, right.stands = q.first;
        left.least = least(left.falls, left.stands);
        right.least = least(right.falls, right.stands);
        if (left.least < right.least) std::swap(left, right);
        pending.push_back(left);
        pending.push_back(right);
      }
    }
  }
  if (!found) return std::nullopt;
  best.at = transpose(to_frame_) * best.at;
  return best;
}

std::vector<PartId> meshes_within(const Scene& scene, const std::vector<PartId>& parts) {
  std::vector<PartId> meshes;
  std::vector<PartId> pending(parts.rbegin(), parts.rend());
  while (!pending.empty()) {
    const PartId id = pending.back();
    pending.pop_back();
    const Part* part = scene.find(id);
    if (!part || part->hidden) continue;
    if (is_model(*part) && !part->mesh->triangles().empty()) meshes.push_back(id);
    pending.insert(pending.end(), part->children.rbegin(), part->children.rend());
  }
  return meshes;
}

}  // namespace tack
