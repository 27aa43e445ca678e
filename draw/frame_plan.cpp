#include "draw/frame_plan.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/parallel_reduce.h>
#include <tbb/parallel_sort.h>

#include <numbers>
#include <tuple>
#include <unordered_map>

namespace tack {
namespace {

constexpr double kBoxFrom = 4;    // a part of so many times `off` across is a box
constexpr double kThinFrom = 60;  // pixels across
constexpr std::size_t kBoxTriangles = kCornersOfBox / 2;

// From eye coordinates to clip coordinates; near and far in mm along the line of sight.
std::array<double, 16> projection_of(const View& view, double near, double far) {
  std::array<double, 16> m{};
  const double sx = 2 * view.pixels_per_unit / view.width, sy = 2 * view.pixels_per_unit / view.height;
  m[0] = sx;
  m[5] = sy;
  if (view.perspective) {
    m[10] = -(far + near) / (far - near);
    m[11] = -1;
    m[14] = -2 * far * near / (far - near);
  } else {
    m[10] = -2 / (far - near);
    m[14] = -(far + near) / (far - near);
    m[15] = 1;
  }
  return m;
}

// A map of normals as float. Lengths differ by many powers of ten between metres and millimetres; only the direction
// matters.
std::array<float, 12> directions(const Mat3& normals) {
  const double scale = std::max({1e-300, largest_component(normals.column[0]), largest_component(normals.column[1]),
                                 largest_component(normals.column[2])});
  std::array<float, 12> map{};
  for (std::size_t c = 0; c < 3; ++c)
    for (int r = 0; r < 3; ++r)
      map[c * 4 + static_cast<std::size_t>(r)] = static_cast<float>(normals.column[c][r] / scale);
  return map;
}

// How a part's own colour is changed: a little warmer when picked, the ghost's colour for ghosts; and by its edges,
// where `tone` of its faces is covered by them.
Colour shown_colour(const DrawFrame& frame, const DrawItem& item, std::size_t primitive, double tone) {
  if (item.ghost) return frame.theme.ghost;
  Colour c = item.colours && primitive < item.colours->size() ? (*item.colours)[primitive] : Colour{};
  if (item.picked) c = {std::min(1.0f, c.r * 1.06f + 0.03f), c.g * 0.99f, c.b * 0.90f, c.a};
  if (frame.style == DrawStyle::SeeThrough || item.see_through) c.a *= 0.30f;
  if (tone > 0) {
    const Colour& line = item.picked ? frame.theme.outline : frame.theme.edge;
    const auto share = static_cast<float>(tone) * line.a;
    c = {c.r + (line.r - c.r) * share, c.g + (line.g - c.g) * share, c.b + (line.b - c.b) * share, c.a};
  }
  return c;
}

// A part, and whether it is in the picture.
struct Seen {
  std::uint32_t item = 0;
  const KnownMesh* mesh = nullptr;  // null: not in the picture
  double pixels = 0;                // that a millimetre of the mesh covers where it is nearest to the eye
  double depth = 0;                 // of its middle
  double near = 0, far = 0;         // the depths that it lies between
  double thickness = 0;             // pixels across its box, where that is thinnest
  std::uint32_t mesh_number = 0, level = 0;
  bool box = false;
  bool toned = false;
};

// What a picture shows of the world.
struct Window {
  const View& view;
  double tan_x = view.width / 2 / view.pixels_per_unit, tan_y = view.height / 2 / view.pixels_per_unit;

  Seen look_at(const DrawItem& item, const KnownMesh& mesh) const {
    const Mat3& l = item.world.linear;
    const std::array<double, 3> lengths{length(l.column[0]), length(l.column[1]), length(l.column[2])};
    // A map of lengths grows none by more than the sum of its columns; mostly they are square to each other, and it is
    // by no more than the longest.
    const double most = std::max({lengths[0], lengths[1], lengths[2]});
    const bool square = std::abs(dot(l.column[0], l.column[1])) + std::abs(dot(l.column[1], l.column[2])) +
                            std::abs(dot(l.column[2], l.column[0])) <
                        1e-6 * most * most;
    const double growth = square ? most * 1.000001 : lengths[0] + lengths[1] + lengths[2];
    const double radius = mesh.radius * growth;
    const Vec3 c = view.to_eye * (item.world * mesh.origin - view.eye);
    const double depth = -c.z;
    double pixels = view.pixels_per_unit;
    if (view.perspective) {
      const double outside_x = (std::abs(c.x) - depth * tan_x) / std::sqrt(1 + tan_x * tan_x);
      const double outside_y = (std::abs(c.y) - depth * tan_y) / std::sqrt(1 + tan_y * tan_y);
      if (depth + radius <= 0 || outside_x > radius || outside_y > radius) return {};
      pixels = depth > radius ? view.pixels_per_unit / (depth - radius) : 1e30;
    } else if (std::abs(c.x) > tan_x + radius || std::abs(c.y) > tan_y + radius) {
      return {};
    }
    Seen seen;
    seen.mesh = &mesh;
    seen.pixels = pixels * growth;
    seen.depth = depth;
    seen.near = depth - radius;
    seen.far = depth + radius;
    // Between two sides of the box, however it is skewed: its volume by their area.
    const double volume = std::abs(determinant(l));
    double thinnest = 1e300;
    for (std::size_t i = 0; i < 3; ++i) {
      const double side = length(cross(l.column[(i + 1) % 3], l.column[(i + 2) % 3]));
      thinnest = std::min(thinnest, side > 0 ? 2 * mesh.half[static_cast<int>(i)] * volume / side : 0);
    }
    seen.thickness = thinnest * pixels;
    return seen;
  }

  // Makes the rectangle so large that it has all of a part.
  void include(const DrawItem& item, const Seen& seen, std::array<double, 4>& rectangle) const {
    const Vec3 c = view.to_eye * (item.world * seen.mesh->origin - view.eye);
    const double radius = seen.far - seen.depth;
    const bool clear = !view.perspective || seen.near > 0;
    const double at = !view.perspective ? view.pixels_per_unit : clear ? view.pixels_per_unit / seen.depth : 0;
    const double nearest = !view.perspective ? at : clear ? view.pixels_per_unit / seen.near : 0;
    const double reach = clear ? radius * std::min(nearest, 1e12) : 1e12;
    const double x = view.width / 2 + c.x * at, y = view.height / 2 + c.y * at;
    rectangle = {std::min(rectangle[0], x - reach), std::min(rectangle[1], y - reach),
                 std::max(rectangle[2], x + reach), std::max(rectangle[3], y + reach)};
  }
};

constexpr std::size_t kTogether = 512;  // parts that are gone through at once

// Many at once: each of `count` numbers on its own.
template <typename Each>
void side_by_side(std::size_t count, const Each& each) {
  tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, kTogether), [&](const auto& range) {
    for (std::size_t i = range.begin(); i < range.end(); ++i) each(i);
  });
}

// The coarsest level that is off by so little, or a box; where edges alone are drawn, and of what has nothing else,
// that would be nothing.
void choose(Seen& seen, double off, DrawStyle style) {
  seen.level = 0;
  const auto& levels = seen.mesh->levels;
  seen.box = levels.empty() || (seen.pixels * 2 * seen.mesh->radius < kBoxFrom * off && style != DrawStyle::EdgesOnly &&
                                levels.front().triangles() > 0);
  for (std::uint32_t k = 1; k < levels.size() && levels[k].error * seen.pixels <= off; ++k) seen.level = k;
}

// No box counts for more than what it stands for: the cost falls as `off` grows.
std::size_t cost_of(const Seen& seen) {
  const auto& levels = seen.mesh->levels;
  if (levels.empty()) return kBoxTriangles;
  const MeshArrays::Level& level = seen.box ? levels.back() : levels[seen.level];
  const std::size_t cost = level.triangles() + level.edge_count;
  return seen.box ? std::min(cost, kBoxTriangles) : cost;
}

bool is_thin(const Seen& seen) { return seen.pixels * 2 * seen.mesh->radius < kThinFrom; }

// How much of a part's faces its edges cover: lines of one pixel, as those of small parts are, that lie at random.
double tone_of(const Seen& seen) { return seen.toned ? 1 - std::exp(-seen.mesh->edge_density / seen.pixels) : 0; }

// Boxes have no edges, and so have parts whose edges are too many to be drawn and too close to be told apart. What is
// seen through shows its edges through others, and keeps them.
bool is_toned(const DrawFrame& frame, const Seen& seen, bool crowded) {
  const DrawItem& item = frame.items[seen.item];
  if (item.ghost || item.see_through || !(seen.mesh->edge_density > 0)) return false;
  if (frame.style == DrawStyle::SeeThrough || frame.style == DrawStyle::EdgesOnly) return false;
  return seen.box || (crowded && is_thin(seen) && seen.pixels < seen.mesh->edge_density * frame.toned_below);
}

PartOnCard on_card(const DrawFrame& frame, const DrawItem& item, const Seen& seen) {
  const Vec3& origin = seen.mesh->origin;
  Mat3 linear = frame.view.to_eye * item.world.linear;
  const Vec3 offset = frame.view.to_eye * (item.world * origin - frame.view.eye);
  if (seen.box)
    for (std::size_t c = 0; c < 3; ++c) linear.column[c] = linear.column[c] * seen.mesh->half[static_cast<int>(c)];
  PartOnCard part{};
  for (std::size_t r = 0; r < 3; ++r) {
    const int row = static_cast<int>(r);
    for (std::size_t c = 0; c < 3; ++c) part.rows[4 * r + c] = static_cast<float>(linear.column[c][row]);
    part.rows[4 * r + 3] = static_cast<float>(offset[row]);
  }
  part.normals = directions(normal_map(linear));
  part.colour = shown_colour(frame, item, 0, tone_of(seen));
  return part;
}

// The three sides of a part's box that look at the eye.
void make_box(const DrawFrame& frame, const PartOnCard& part, BoxCorner* corners) {
  const auto column = [&](std::size_t c) { return Vec3{part.rows[c], part.rows[4 + c], part.rows[8 + c]}; };
  const std::array<Vec3, 3> half{column(0), column(1), column(2)};
  const Vec3 middle = column(3);
  const bool mirrored = dot(half[0], cross(half[1], half[2])) < 0;
  const auto share = [](float v) { return static_cast<std::uint8_t>(std::lround(std::clamp(v, 0.0f, 1.0f) * 255)); };
  const Colour& c = part.colour;
  const std::array<std::uint8_t, 4> colour{share(c.r), share(c.g), share(c.b), share(c.a)};
  for (std::size_t i = 0; i < 3; ++i) {
    const Vec3 &u = half[(i + 1) % 3], &v = half[(i + 2) % 3];
    Vec3 normal = cross(u, v) * (mirrored ? -1.0 : 1.0);
    normal = length(normal) > 0 ? normalized(normal) : Vec3{0, 0, 1};
    const bool high = frame.view.perspective ? dot(normal, middle) < 0 : normal.z > 0;
    const double side = high ? 1 : -1;
    const auto pack = [&](double n) { return static_cast<std::int8_t>(std::lround(n * side * 127)); };
    const std::array<std::int8_t, 4> packed{pack(normal.x), pack(normal.y), pack(normal.z), 0};
    const Vec3 centre = middle + half[i] * side;
    const double turn = high != mirrored ? 1 : -1;  // counter-clockwise seen from outside
    for (const auto& [a, b] : {std::pair{-1.0, -1.0}, {1.0, -1.0}, {1.0, 1.0}, {-1.0, 1.0}}) {
      const Vec3 p = centre + u * (a * turn) + v * b;
      *corners++ = {static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z), packed, colour};
    }
  }
}

// What a batch has alike; parts come by it, then what is picked first, then what is nearer: what hides others before
// them, what they are seen through behind.
using Alike = std::tuple<Batch::What, std::uint32_t, std::uint32_t, bool, bool, bool, bool, bool>;
using Place = std::tuple<Alike, bool, double, std::uint32_t>;

Place place_of(const DrawFrame& frame, const Seen& s, double near, std::uint32_t number) {
  const DrawItem& item = frame.items[s.item];
  const Batch::What what = item.ghost                                                 ? Batch::What::Ghost
                           : frame.style == DrawStyle::SeeThrough || item.see_through ? Batch::What::Clear
                                                                                      : Batch::What::Solid;
  // The far side is not left out where the eye is in the part or something of it is cut off: then the inside shows.
  const bool culled = what == Batch::What::Solid && s.mesh->solid && !s.box && s.near >= near;
  return {{what, s.box ? 0 : s.mesh_number, s.box ? 0 : s.level, determinant(item.world.linear) < 0, is_thin(s),
           !item.see_through, culled, s.toned},
          !item.picked,
          what == Batch::What::Solid ? s.depth : -s.depth,
          number};
}

}  // namespace

EyeBox eye_box_of(const PartOnCard& part, const MeshArrays::Run& run) {
  EyeBox box;
  for (int r = 0; r < 3; ++r) {
    const float* row = &part.rows[4 * static_cast<std::size_t>(r)];
    box.centre[r] = row[3];
    for (std::size_t c = 0; c < 3; ++c) {
      box.centre[r] += double{row[c]} * run.centre[c];
      box.half[r] += std::abs(double{row[c]}) * run.half[c];
    }
    // What single numbers round.
    box.half[r] += 1e-6 * (std::abs(box.centre[r]) + std::abs(row[3]));
  }
  return box;
}

bool may_show(const DrawFrame& frame, const EyeBox& box) {
  const View& view = frame.view;
  const double nearest = -box.centre.z - box.half.z, farthest = -box.centre.z + box.half.z;
  if ((view.perspective || frame.cut_at_eye) && farthest < 0) return false;
  // In perspective the picture is widest where the box is farthest.
  const double scale = view.pixels_per_unit / (view.perspective ? std::max(farthest, 1e-300) : 1);
  const double x = view.width / 2 + kLineReach, y = view.height / 2 + kLineReach;
  if (view.perspective && nearest <= 0) return true;
  return (std::abs(box.centre.x) - box.half.x) * scale <= x && (std::abs(box.centre.y) - box.half.y) * scale <= y;
}

EyeOnMesh::EyeOnMesh(const View& view, const PartOnCard& part) : perspective_(view.perspective) {
  const auto& r = part.rows;
  const Mat3 linear{{Vec3{r[0], r[4], r[8]}, Vec3{r[1], r[5], r[9]}, Vec3{r[2], r[6], r[10]}}};
  const double volume = length(linear.column[0]) * length(linear.column[1]) * length(linear.column[2]);
  const auto back = std::abs(determinant(linear)) > 1e-4 * volume ? inverse(linear) : std::nullopt;
  flat_ = !back;
  if (flat_) return;
  if (perspective_)
    eye_ = *back * Vec3{-r[3], -r[7], -r[11]};
  else
    along_ = normalized(*back * Vec3{0, 0, -1});
}

bool EyeOnMesh::sees_behind(const MeshArrays::Run& run) const {
  constexpr double kRounded = 1e-3;  // what single numbers round, and some
  if (flat_ || run.cutoff > 1) return false;
  const Vec3 apex{run.apex[0], run.apex[1], run.apex[2]}, axis{run.axis[0], run.axis[1], run.axis[2]};
  const Vec3 along = perspective_ ? normalized(apex - eye_) : along_;
  return dot(along, axis) >= run.cutoff + kRounded;
}

FramePlan plan_frame(const DrawFrame& frame, const std::function<const KnownMesh*(const Mesh&)>& known,
                     const std::vector<bool>& hidden, FramePlan spent) {
  FramePlan plan = std::move(spent);
  const View& view = frame.view;
  // Each mesh is looked up once, and numbered in the order in which they come, so that batches are in the same order in
  // every run.
  std::vector<Seen> all(frame.items.size());
  std::unordered_map<const Mesh*, std::pair<const KnownMesh*, std::uint32_t>> meshes;
  for (std::uint32_t i = 0; i < all.size(); ++i) {
    if (i < hidden.size() && hidden[i]) continue;
    const auto [place, is_new] = meshes.try_emplace(frame.items[i].mesh.get());
    if (is_new) place->second = {known(*frame.items[i].mesh), static_cast<std::uint32_t>(meshes.size())};
    std::tie(all[i].mesh, all[i].mesh_number) = place->second;
  }
  const Window window{view};
  side_by_side(all.size(), [&](std::size_t i) {
    if (!all[i].mesh) return;
    const std::uint32_t number = all[i].mesh_number;
    all[i] = window.look_at(frame.items[i], *all[i].mesh);
    all[i].item = static_cast<std::uint32_t>(i);
    all[i].mesh_number = number;
  });
  std::erase_if(all, [](const Seen& s) { return !s.mesh; });
  double near = 1e30, far = 1;
  plan.picked = FramePlan().picked;
  for (const Seen& s : all) {
    near = std::min(near, s.near);
    far = std::max(far, s.far);
    const DrawItem& item = frame.items[s.item];
    if (item.picked && !item.ghost) window.include(item, s, plan.picked);
  }
  const double centre_depth = dot(view.eye - frame.grid.centre, view.back());
  far = std::max({far, centre_depth * 8, 10.0});
  near = std::min(near, std::max(centre_depth * 0.02, 0.01));
  if (view.perspective) near = std::max(near, far * 2e-5);
  if (frame.cut_at_eye) near = 0;
  plan.projection = projection_of(view, near, far);

  const auto cost_with = [&](double off) {
    return tbb::parallel_reduce(
        tbb::blocked_range<std::size_t>(0, all.size(), kTogether), std::size_t{0},
        [&](const auto& range, std::size_t sum) {
          for (std::size_t i = range.begin(); i < range.end(); ++i)
            choose(all[i], off, frame.style), sum += cost_of(all[i]);
          return sum;
        },
        std::plus<>());
  };
  plan.off = frame.off;
  std::size_t cost = cost_with(plan.off);
  if (frame.most > 0 && cost > frame.most && plan.off < frame.most_off) {
    // Ten thousand boxes are too many however coarse: that is not found out step by step.
    const bool too_many = cost_with(frame.most_off) > frame.most;
    do {
      plan.off = too_many ? frame.most_off : std::min(frame.most_off, std::max(0.25, plan.off * std::numbers::sqrt2));
      cost = cost_with(plan.off);
    } while (cost > frame.most && plan.off < frame.most_off);
  }
  const bool crowded = frame.most > 0 && cost > frame.most;
  for (Seen& seen : all) seen.toned = is_toned(frame, seen, crowded);

  std::vector<Place> order(all.size());
  side_by_side(all.size(),
               [&](std::size_t i) { order[i] = place_of(frame, all[i], near, static_cast<std::uint32_t>(i)); });
  tbb::parallel_sort(order.begin(), order.end());
  const auto nth = [&](std::size_t i) -> const Seen& { return all[std::get<3>(order[i])]; };
  plan.parts.resize(all.size());
  plan.items.resize(all.size());
  plan.batches.clear();
  plan.triangles = plan.edges = 0;
  std::uint32_t boxes = 0, colours = 0;
  for (std::size_t i = 0; i < order.size();) {
    const Alike& alike = std::get<0>(order[i]);
    const Seen& begin = nth(i);
    Batch batch;
    std::tie(batch.what, std::ignore, batch.level, batch.mirrored, batch.thin, batch.hatched, batch.culled,
             batch.toned) = alike;
    batch.mesh = begin.box ? nullptr : frame.items[begin.item].mesh.get();
    batch.first = static_cast<std::uint32_t>(i);
    batch.first_colour = colours;
    batch.first_corner = boxes * kCornersOfBox;
    std::size_t end = i;
    for (; end < order.size() && std::get<0>(order[end]) == alike; ++end) {
      const Seen& s = nth(end);
      plan.items[end] = s.item;
      batch.picked += frame.items[s.item].picked;
      batch.thickness = std::min(batch.thickness, s.thickness);
      plan.triangles += s.box ? kBoxTriangles : s.mesh->levels[s.level].triangles();
      plan.edges += s.box || s.toned ? 0 : s.mesh->levels[s.level].edge_count;
    }
    batch.count = static_cast<std::uint32_t>(end - i);
    if (begin.box) boxes += batch.count;
    if (batch.mesh) colours += batch.count * static_cast<std::uint32_t>(begin.mesh->levels.front().primitives.size());
    plan.batches.push_back(batch);
    i = end;
  }
  side_by_side(order.size(), [&](std::size_t i) {
    const Seen& s = nth(i);
    plan.parts[i] = on_card(frame, frame.items[s.item], s);
  });
  plan.colours.resize(colours);
  for (const Batch& batch : plan.batches) {
    if (!batch.mesh) continue;
    const std::size_t primitives = nth(batch.first).mesh->levels.front().primitives.size();
    Colour* const first = plan.colours.data() + batch.first_colour;
    side_by_side(batch.count, [&](std::size_t i) {
      const std::size_t part = batch.first + i;
      for (std::size_t p = 0; p < primitives; ++p)
        first[p * batch.count + i] = p == 0 ? plan.parts[part].colour
                                            : shown_colour(frame, frame.items[plan.items[part]], p, tone_of(nth(part)));
    });
  }
  plan.corners.resize(std::size_t{boxes} * kCornersOfBox);
  for (const Batch& batch : plan.batches)
    if (!batch.mesh)
      side_by_side(batch.count, [&](std::size_t i) {
        make_box(frame, plan.parts[batch.first + i], &plan.corners[batch.first_corner + i * kCornersOfBox]);
      });
  return plan;
}

}  // namespace tack
