#include "core/mesh/triangulate.h"

#include <algorithm>
#include <cmath>

namespace tack {
namespace {

struct Spot {
  double x = 0, y = 0;
  friend bool operator==(const Spot&, const Spot&) = default;
};

// Which way c lies from the line a → b: 1 to its left, −1 to its right, 0 on it as far as the products can tell
// (Shewchuk 1997, the bound of his first stage).
int side(const Spot& a, const Spot& b, const Spot& c) {
  const double left = (b.x - a.x) * (c.y - a.y), right = (b.y - a.y) * (c.x - a.x);
  const double det = left - right, bound = 3.4e-16 * (std::abs(left) + std::abs(right));
  return det > bound ? 1 : det < -bound ? -1 : 0;
}

// The corners along the axis that the polygon is seen best from, counter-clockwise.
std::vector<Spot> flattened(std::span<const Vec3> positions, std::span<const std::uint32_t> corners) {
  const std::size_t n = corners.size();
  const Vec3& origin = positions[corners[0]];
  Vec3 normal;
  for (std::size_t i = 0; i < n; ++i)
    normal += cross(positions[corners[i]] - origin, positions[corners[(i + 1) % n]] - origin);
  int axis = 2;
  for (const int other : {1, 0})
    if (std::abs(normal[other]) > std::abs(normal[axis])) axis = other;
  const int u = (axis + 1) % 3, v = (axis + 2) % 3;
  std::vector<Spot> flat;
  flat.reserve(n);
  for (const std::uint32_t c : corners) {
    const Vec3& p = positions[c];
    flat.push_back(normal[axis] >= 0 ? Spot{p[u], p[v]} : Spot{p[v], p[u]});
  }
  return flat;
}

// The corners that can be in the way of an ear, by where they are.
class Grid {
 public:
  Grid(const std::vector<Spot>& at, const std::vector<std::uint32_t>& which) {
    if (which.empty()) return;
    low_ = high_ = at[which[0]];
    for (const std::uint32_t i : which) {
      low_ = {std::min(low_.x, at[i].x), std::min(low_.y, at[i].y)};
      high_ = {std::max(high_.x, at[i].x), std::max(high_.y, at[i].y)};
    }
    side_ = static_cast<std::size_t>(std::clamp(std::sqrt(static_cast<double>(which.size())), 1.0, 1000.0));
    first_.assign(side_ * side_ + 1, 0);
    std::vector<std::size_t> cell;
    cell.reserve(which.size());
    for (const std::uint32_t i : which) {
      cell.push_back(row(at[i].y) * side_ + column(at[i].x));
      ++first_[cell.back() + 1];
    }
    for (std::size_t c = 0; c < side_ * side_; ++c) first_[c + 1] += first_[c];
    items_.resize(which.size());
    std::vector<std::size_t> next(first_.begin(), first_.end() - 1);
    for (std::size_t k = 0; k < which.size(); ++k) items_[next[cell[k]]++] = which[k];
  }

  // Whether f(corner) holds for any of those in the cells that the box touches.
  template <typename F>
  bool any(const Spot& low, const Spot& high, F&& f) const {
    if (items_.empty()) return false;
    if (high.x < low_.x || high.y < low_.y || low.x > high_.x || low.y > high_.y) return false;
    const std::size_t left = column(low.x), right = column(high.x), top = row(high.y);
    for (std::size_t r = row(low.y); r <= top; ++r)
      for (std::size_t k = first_[r * side_ + left]; k < first_[r * side_ + right + 1]; ++k)
        if (f(items_[k])) return true;
    return false;
  }

 private:
  std::size_t cell_of(double value, double low, double high) const {
    if (!(high > low)) return 0;
    const double share = std::clamp((value - low) / (high - low), 0.0, 1.0);
    return std::min(side_ - 1, static_cast<std::size_t>(share * static_cast<double>(side_)));
  }
  std::size_t column(double x) const { return cell_of(x, low_.x, high_.x); }
  std::size_t row(double y) const { return cell_of(y, low_.y, high_.y); }

  Spot low_, high_;
  std::size_t side_ = 0;
  std::vector<std::size_t> first_;
  std::vector<std::uint32_t> items_;
};

class EarCutter {
 public:
  EarCutter(std::vector<Spot> at, std::vector<Triangle>& out)
      : at_(std::move(at)), out_(out), left_(static_cast<std::uint32_t>(at_.size())) {
    next_.resize(left_);
    before_.resize(left_);
    for (std::uint32_t i = 0; i < left_; ++i) {
      next_[i] = i + 1 == left_ ? 0 : i + 1;
      before_[i] = i == 0 ? left_ - 1 : i - 1;
    }
    gone_.assign(left_, false);
    // A convex corner stays so while ears beside it are cut, and where one lies in a triangle a blunt one does, too:
    // only blunt ones need be looked at, and those at whose place another one stands (the ends of bridges).
    std::vector<std::uint32_t> order(left_), in_the_way;
    for (std::uint32_t i = 0; i < left_; ++i) order[i] = i;
    std::sort(order.begin(), order.end(), [&](std::uint32_t a, std::uint32_t b) {
      return std::pair(at_[a].x, at_[a].y) < std::pair(at_[b].x, at_[b].y);
    });
    for (std::size_t k = 0; k < order.size(); ++k) {
      const bool twice =
          (k > 0 && at_[order[k - 1]] == at_[order[k]]) || (k + 1 < order.size() && at_[order[k + 1]] == at_[order[k]]);
      if (twice || turn(order[k]) <= 0) in_the_way.push_back(order[k]);
    }
    grid_ = Grid(at_, in_the_way);
  }

  void cut() {
    // Few corners: always the first ear, so that the cuts are those one would expect. Many: on round the border.
    constexpr std::uint32_t kFew = 64;
    for (const bool strict : {true, false}) {
      bool found = true;
      while (left_ > 3 && found) {
        found = false;
        std::uint32_t at = first_left();
        for (std::uint32_t looked = left_; looked > 0 && left_ > 3; --looked) {
          const std::uint32_t next = next_[at];
          if (is_ear(at, strict)) {
            cut_off(at);
            found = true;
            if (at_.size() <= kFew) break;
          }
          at = next;
        }
      }
    }
    // Three corners, or what crosses itself.
    const std::uint32_t first = first_left();
    for (std::uint32_t i = next_[first]; next_[i] != first; i = next_[i]) add(first, i, next_[i]);
  }

 private:
  std::uint32_t first_left() const {
    std::uint32_t i = start_;
    while (gone_[i]) ++i;
    return start_ = i;
  }
  int turn(std::uint32_t i) const { return side(at_[before_[i]], at_[i], at_[next_[i]]); }
  void add(std::uint32_t a, std::uint32_t b, std::uint32_t c) { out_.push_back({a, b, c}); }
  void cut_off(std::uint32_t i) {
    add(before_[i], i, next_[i]);
    next_[before_[i]] = next_[i];
    before_[next_[i]] = before_[i];
    gone_[i] = true;
    --left_;
  }

  // Whether the border leaves `q`, which stands on the corner `at` of a triangle, into that triangle.
  bool enters(std::uint32_t q, const Spot& at, const Spot& after, const Spot& before) const {
    for (const Spot& to : {at_[next_[q]], at_[before_[q]]})
      if (side(at, after, to) > 0 && side(at, to, before) > 0) return true;
    return false;
  }

  bool is_ear(std::uint32_t i, bool strict) const {
    if (turn(i) <= 0) return false;
    const std::uint32_t first = before_[i], last = next_[i];
    const Spot &a = at_[first], &b = at_[i], &c = at_[last];
    const Spot low{std::min({a.x, b.x, c.x}), std::min({a.y, b.y, c.y})},
        high{std::max({a.x, b.x, c.x}), std::max({a.y, b.y, c.y})};
    return !grid_.any(low, high, [&](std::uint32_t q) {
      if (gone_[q] || q == i || q == first || q == last) return false;
      const Spot& p = at_[q];
      if (p == a) return enters(q, a, b, c);
      if (p == b) return enters(q, b, c, a);
      if (p == c) return enters(q, c, a, b);
      const int least = std::min({side(a, b, p), side(b, c, p), side(c, a, p)});
      return strict ? least >= 0 : least > 0;
    });
  }

  std::vector<Spot> at_;
  std::vector<Triangle>& out_;
  std::vector<std::uint32_t> next_, before_;
  std::vector<bool> gone_;
  std::uint32_t left_;
  mutable std::uint32_t start_ = 0;
  Grid grid_{{}, {}};
};

}  // namespace

void triangulate_places(std::span<const Vec3> positions, std::span<const std::uint32_t> corners,
                        std::vector<Triangle>& triangles) {
  if (corners.size() < 3) return;
  if (corners.size() == 3)
    triangles.push_back({0, 1, 2});
  else
    EarCutter(flattened(positions, corners), triangles).cut();
}

void triangulate(std::span<const Vec3> positions, std::span<const std::uint32_t> corners,
                 std::vector<Triangle>& triangles) {
  const std::size_t first = triangles.size();
  triangulate_places(positions, corners, triangles);
  for (std::size_t t = first; t < triangles.size(); ++t)
    for (std::uint32_t& place : triangles[t]) place = corners[place];
}

}  // namespace tack
