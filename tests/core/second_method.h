// A second way to compute where things are, which shares no code with the core: placements taken apart and put together
// in long double, from the stored numbers alone. And scenes that are not the happy case: nested, turned, uneven,
// mirrored, skewed, far out, with moved pivots.
#pragma once

#include <fmt/format.h>

#include <catch2/catch.hpp>

#include "core/verbs/verb.h"
#include "tests/core/doing.h"

namespace tack::test {

using Real = long double;

/// How many cases: as many as are said, or a tenth where every memory access is checked.
#if defined(__SANITIZE_ADDRESS__)
#define TACK_CHECKED 1
#elif defined(__has_feature)
#if __has_feature(address_sanitizer)
#define TACK_CHECKED 1
#endif
#endif
inline constexpr int cases(int count) {
#ifdef TACK_CHECKED
  return count / 10;
#else
  return count;
#endif
}

struct LongVec {
  Real x = 0, y = 0, z = 0;
};
inline LongVec longer(const Vec3& v) { return {v.x, v.y, v.z}; }
inline LongVec operator+(const LongVec& a, const LongVec& b) { return {a.x + b.x, a.y + b.y, a.z + b.z}; }
inline LongVec operator-(const LongVec& a, const LongVec& b) { return {a.x - b.x, a.y - b.y, a.z - b.z}; }
inline LongVec operator*(const LongVec& a, Real f) { return {a.x * f, a.y * f, a.z * f}; }
inline Real dot(const LongVec& a, const LongVec& b) { return a.x * b.x + a.y * b.y + a.z * b.z; }
inline LongVec cross(const LongVec& a, const LongVec& b) {
  return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
inline Real length(const LongVec& a) { return std::sqrt(dot(a, a)); }
inline LongVec unit(const LongVec& a) { return a * (1 / length(a)); }

/// Three columns and a shift.
struct LongAffine {
  LongVec x{1, 0, 0}, y{0, 1, 0}, z{0, 0, 1}, shift;
  LongVec turned(const LongVec& v) const { return x * v.x + y * v.y + z * v.z; }
  LongVec operator*(const LongVec& p) const { return turned(p) + shift; }
  LongAffine operator*(const LongAffine& b) const { return {turned(b.x), turned(b.y), turned(b.z), *this * b.shift}; }
};

/// Sine and cosine of degrees: whole quarters are taken off first, so that the rest is small.
inline std::pair<Real, Real> long_sin_cos(Real degrees) {
  const Real quarters = std::nearbyint(degrees / 90);
  const Real rest = (degrees - quarters * 90) * (3.14159265358979323846264338327950288L / 180);
  const Real s = std::sin(rest), c = std::cos(rest);
  switch (static_cast<int>(std::fmod(std::fmod(quarters, Real(4)) + 4, Real(4)))) {
    case 1: return {c, -s};
    case 2: return {-s, -c};
    case 3: return {-c, s};
    default: return {s, c};
  }
}

/// A turn about a unit axis.
inline LongAffine long_turn(const LongVec& axis, Real degrees) {
  const auto [s, c] = long_sin_cos(degrees);
  const auto turned = [&, s = s, c = c](const LongVec& v) {
    return v * c + cross(axis, v) * s + axis * (dot(axis, v) * (1 - c));
  };
  return {turned({1, 0, 0}), turned({0, 1, 0}), turned({0, 0, 1}), {}};
}

/// x first, then y, then z, about fixed axes.
inline LongAffine long_rotation(const Vec3& degrees) {
  return long_turn({0, 0, 1}, degrees.z) * long_turn({0, 1, 0}, degrees.y) * long_turn({1, 0, 0}, degrees.x);
}

inline LongAffine long_local(const Placement& p) {
  LongAffine linear = long_rotation(p.rotation) * LongAffine{{1, 0, 0}, {p.skew.x, 1, 0}, {p.skew.y, p.skew.z, 1}, {}} *
                      LongAffine{{p.scale.x, 0, 0}, {0, p.scale.y, 0}, {0, 0, p.scale.z}, {}};
  linear.shift = longer(p.position) - linear.turned(longer(p.pivot));
  return linear;
}

inline LongAffine long_world(const Scene& scene, PartId id) {
  const Part& part = scene.part(id);
  const LongAffine local = long_local(part.placement);
  return part.parent == kNoPart ? local : long_world(scene, part.parent) * local;
}

inline LongVec long_vertex(const Scene& scene, PartId id, std::size_t index) {
  return long_world(scene, id) * longer(scene.part(id).mesh->positions()[index]);
}
inline LongVec long_pivot(const Scene& scene, PartId id) {
  return long_world(scene, id) * longer(scene.part(id).placement.pivot);
}

/// The least and the greatest of a part's vertices, and of those below it, along a direction.
struct LongReach {
  Real low = 1e300L, high = -1e300L;
  Real middle() const { return (low + high) / 2; }
};
inline void long_reach(const Scene& scene, PartId id, const LongVec& axis, LongReach& reach) {
  if (const MeshPtr& mesh = scene.part(id).mesh)
    for (std::size_t i = 0; i < mesh->positions().size(); ++i) {
      const Real at = dot(axis, long_vertex(scene, id, i));
      reach.low = std::min(reach.low, at);
      reach.high = std::max(reach.high, at);
    }
  for (const PartId child : scene.part(id).children) long_reach(scene, child, axis, reach);
}
/// A column of axes squared up from x, then y.
inline LongVec long_squared(const LongAffine& columns, int axis) {
  const LongVec x = unit(columns.x), y = unit(columns.y - x * dot(x, columns.y));
  return axis == 0 ? x : axis == 1 ? y : cross(x, y);
}

/// The inverse of the linear part, by cross products.
inline LongVec long_solved(const LongAffine& a, const LongVec& v) {
  const Real det = dot(a.x, cross(a.y, a.z));
  return LongVec{dot(v, cross(a.y, a.z)), dot(v, cross(a.z, a.x)), dot(v, cross(a.x, a.y))} * (1 / det);
}

/// A part's own axes as page and documentation have them: its world columns with the signs of its factors taken out,
/// squared up from x, then y, right-handed.
inline LongAffine long_own_axes(const Scene& scene, PartId id) {
  const LongAffine w = long_world(scene, id);
  const Vec3 f = scene.part(id).placement.scale;
  const bool mirrored = dot(w.x, cross(w.y, w.z)) < 0;
  Real sx = f.x < 0 ? -1 : 1, sy = f.y < 0 ? -1 : 1;
  const Real sz = f.z < 0 ? -1 : 1;
  if ((sx * sy * sz < 0) != mirrored) sx = mirrored ? -1 : 1, sy = 1;
  const LongVec x = unit(w.x * sx);
  const LongVec y = unit(w.y * sy - x * dot(x, w.y * sy));
  return {x, y, cross(x, y), {}};
}

/// The axes of a verb as columns (world), with their origin for place; Parent as it is.
inline LongAffine long_axes(const Scene& scene, PartId id, const Axes& axes) {
  switch (axes.kind) {
    case AxesKind::Parent: {
      const PartId parent = scene.part(id).parent;
      return parent == kNoPart ? LongAffine{} : long_world(scene, parent);
    }
    case AxesKind::Local: return long_own_axes(scene, id);
    case AxesKind::View:
      return {longer(axes.view.column[0]), longer(axes.view.column[1]), longer(axes.view.column[2]), {}};
    case AxesKind::Part: {
      LongAffine own = long_own_axes(scene, axes.part);
      own.shift = long_pivot(scene, axes.part);
      return own;
    }
    default: return {};
  }
}

/// How far a point is from where it should be, as a share of 1e-9 × (extent of the part + its distance from the
/// origin).
inline double share_of_bound(const Scene& scene, PartId id, const LongVec& is, const LongVec& should) {
  const LongAffine w = long_world(scene, id);
  const Vec3 size = scene.part(id).mesh ? scene.part(id).mesh->box().size() : Vec3{};
  const Real extent = length(w.x) * size.x + length(w.y) * size.y + length(w.z) * size.z;
  return static_cast<double>(length(is - should) / (1e-9L * (extent + length(should) + 1)));
}

/// The worst over all vertices of a part of how far each is from where `motion` takes it.
inline double worst_vertex(const Scene& before, const Scene& after, PartId id,
                           const std::function<LongVec(const LongVec&)>& motion) {
  double worst = 0;
  for (std::size_t i = 0; i < before.part(id).mesh->positions().size(); ++i)
    worst = std::max(worst, share_of_bound(after, id, long_vertex(after, id, i), motion(long_vertex(before, id, i))));
  return worst;
}

/// A scene of two chains of parents with a mesh at the end of each, and a third mesh at the top: what cases are made
/// of.
struct Odd {
  Scene scene;
  PartId moving = kNoPart, still = kNoPart, third = kNoPart;
};

inline Placement odd_placement(Chance& chance, double reach) {
  Placement p = chance.placement(reach);
  if (chance.whole(0, 3) == 0) p.skew = {chance.between(-0.8, 0.8), 0, chance.between(-0.8, 0.8)};
  if (chance.whole(0, 2) == 0) p.pivot = chance.point(30);
  if (chance.whole(0, 4) == 0) p.rotation = {90.0 * chance.whole(-2, 2), 0, 90.0 * chance.whole(-2, 2)};
  if (chance.whole(0, 5) == 0) p.rotation.y = chance.whole(0, 1) == 0 ? 90 : -90;
  return p;
}

/// `depth` parents at most; now and then a million millimetres out, or parts of a hundredth or of a million.
inline Odd odd_scene(Chance& chance, int depth) {
  Odd odd;
  const int kind = chance.whole(0, 9);
  const double reach = kind == 0 ? 1e6 : 200, side = kind == 1 ? 0.01 : kind == 2 ? 1e6 : chance.between(5, 60);
  const MeshPtr mesh = cube(side);
  const auto chain = [&](const std::string& name, int parents) {
    PartId parent = kNoPart;
    for (int i = 0; i < parents; ++i)
      parent = odd.scene.add(part_of(fmt::format("{} {}", name, i), nullptr, odd_placement(chance, reach), parent));
    return odd.scene.add(part_of(name, mesh, odd_placement(chance, reach), parent));
  };
  odd.moving = chain("Moving", chance.whole(0, depth));
  odd.still = chain("Still", chance.whole(0, depth));
  odd.third = chain("Third", 0);
  return odd;
}

inline Axes odd_axes(Chance& chance, PartId other, int kind) {
  switch (kind) {
    case 0: return AxesKind::World;
    case 1: return AxesKind::Parent;
    case 2: return AxesKind::Local;
    case 3: return axes_of(other);
    default: {
      const Vec3 z = chance.direction();
      const Vec3 x = normalized(cross(z, least_axis(z)));
      return axes_of_view({{x, cross(z, x), z}});
    }
  }
}

/// The largest share of the bound of a row of cases, printed when the row ends.
class Cases {
 public:
  explicit Cases(std::string name) : name_(std::move(name)) {}
  ~Cases() { note_number(fmt::format("{:<58} {:>6} cases, worst {:.1e} of the bound", name_, cases_, worst_)); }
  Cases(const Cases&) = delete;
  Cases& operator=(const Cases&) = delete;

  void add(double share) {
    ++cases_;
    worst_ = std::max(worst_, share);
    if (!(share <= 1)) FAIL_CHECK(name_ << ", case " << cases_ << ": " << share << " of the bound");
  }

 private:
  std::string name_;
  int cases_ = 0;
  double worst_ = 0;
};

}  // namespace tack::test
