#include "core/catch/sight.h"

namespace tack {
namespace {
constexpr std::size_t kMostCovers = 8;
// So many boxes of a mesh an ordinary ray may look at; one that grazes a dense surface looks at thousands.
constexpr std::size_t kOrdinary = 300;
}  // namespace

bool meets(const FloatBox& box, const Ray& ray, double limit) {
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

Sight::Sight(const CatchScene& scene, const View& view, const CatchOptions& options)
    : scene_(scene), view_(view), options_(options) {
  if (view.perspective || scene.tree.nodes.empty()) return;
  // A parallel view is looked at from in front of everything, wherever its eye stands.
  const FloatBox& all = scene.tree.nodes[0].box;
  const Vec3 back = view.back();
  if (options.cut_at_eye) {
    front_ = dot(view.eye, back);
    return;
  }
  front_ = 1;
  for (int i = 0; i < 3; ++i) front_ += std::max(double(all.low[i]) * back[i], double(all.high[i]) * back[i]);
}

bool Sight::hidden(const Vec3& point) {
  Ray ray;
  double reach = 0;
  if (view_.perspective) {
    ray = {view_.eye, point - view_.eye};
    reach = length(ray.direction);
  } else {
    const Vec3 back = view_.back();
    reach = front_ - dot(point, back);
    ray = {point + back * reach, -back * reach};
  }
  if (!(reach > 0)) return true;
  // Along runs from 0 at the eye to 1 at the point.
  const double limit = 1 - options_.touch / reach - 1e-9;
  for (std::size_t i = 0; i < covers_.size(); ++i) {
    const Cover& cover = covers_[i];
    const auto hit = ray_triangle(to_mesh(ray, *cover.part), cover.part->mesh->corners(cover.triangle));
    if (!hit || *hit >= limit) continue;
    if (i > 0)
      std::rotate(covers_.begin(), covers_.begin() + static_cast<std::ptrdiff_t>(i),
                  covers_.begin() + static_cast<std::ptrdiff_t>(i + 1));
    return true;
  }
  // Then the parts that covered something before.
  for (const CatchPart* part : parts_)
    if (part && covered_by(*part, ray, limit)) return true;
  return covered(ray, limit);
}

bool Sight::covered_by(const CatchPart& part, const Ray& ray, double limit) {
  std::size_t looked = 0;
  const auto hit = any_hit(*part.mesh, to_mesh(ray, part), limit, &looked);
  if (looked > kOrdinary) grazing_ += looked - kOrdinary;
  if (hit) remember(part, hit->triangle);
  return hit.has_value();
}

bool Sight::covered(const Ray& ray, double limit) {
  bool found = false;
  parts_along(scene_, ray, limit, [&](const CatchPart& part) {
    const bool asked = std::find(parts_.begin(), parts_.end(), &part) != parts_.end();
    if (!asked && !part.see_through && !(options_.see_through && options_.see_through(part.id)))
      found = covered_by(part, ray, limit);
    return !found;
  });
  return found;
}

void Sight::remember(const CatchPart& part, std::uint32_t triangle) {
  auto known = std::find(parts_.begin(), parts_.end(), &part);
  if (known == parts_.end()) *--known = &part;
  std::rotate(parts_.begin(), known, known + 1);
  auto c = part.mesh->corners(triangle);
  for (Vec3& p : c) p = part.world * p;
  const Vec3 back = view_.back();
  const auto eye_to = [&](const Vec3& p) { return view_.perspective ? p - view_.eye : -back; };
  Cover cover{&part, triangle, {}, {}};
  const Vec3 middle = (c[0] + c[1] + c[2]) / 3;
  for (std::size_t i = 0; i < 3; ++i) {
    const Vec3 &a = c[i], &b = c[(i + 1) % 3];
    Vec3 n = normalized(cross(eye_to(a), b - a));
    if (dot(n, middle - a) < 0) n = -n;
    cover.normal[i] = n;
    // A hair inside, so that rounding never hides what a ray past the edge would see.
    cover.offset[i] = dot(n, a) + 1e-9 * (1 + length(eye_to(a))) + 1e-13 * largest_component(a);
  }
  Vec3 n = normalized(cross(c[1] - c[0], c[2] - c[0]));
  if (dot(n, eye_to(middle)) < 0) n = -n;
  cover.normal[3] = n;
  // Behind its plane by the tolerance is behind it along the line of sight by no less.
  cover.offset[3] = dot(n, c[0]) + options_.touch + 1e-8 * length(eye_to(middle)) + 1e-13 * largest_component(middle);
  if (covers_.size() == kMostCovers) covers_.pop_back();
  covers_.insert(covers_.begin(), cover);
}

bool Sight::surely_hidden(const FloatBox& box, const Affine& world) const {
  const Vec3 centre{0.5 * (double(box.low[0]) + box.high[0]), 0.5 * (double(box.low[1]) + box.high[1]),
                    0.5 * (double(box.low[2]) + box.high[2])};
  const Vec3 half{0.5 * (double(box.high[0]) - box.low[0]), 0.5 * (double(box.high[1]) - box.low[1]),
                  0.5 * (double(box.high[2]) - box.low[2])};
  const Vec3 middle = world * centre;
  return std::any_of(covers_.begin(), covers_.end(), [&](const Cover& cover) {
    for (std::size_t i = 0; i < 4; ++i) {
      const Vec3& n = cover.normal[i];
      const double reach = std::abs(dot(n, world.linear.column[0])) * half.x +
                           std::abs(dot(n, world.linear.column[1])) * half.y +
                           std::abs(dot(n, world.linear.column[2])) * half.z;
      if (!(dot(n, middle) - reach > cover.offset[i])) return false;
    }
    return true;
  });
}

}  // namespace tack
