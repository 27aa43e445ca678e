#include <set>

#include "core/math/degrees.h"
#include "core/math/fit_circle.h"
#include "core/mesh/feature_edges.h"

namespace tack {
namespace {

constexpr double kWithin = 1e-3;  // of the radius
constexpr std::size_t kLeastClosed = 8, kLeastOpen = 4;
constexpr double kLeastSpan = 30, kMostTurnOfRound = 50;  // degrees

std::vector<Vec3> places_of(const Mesh& mesh, std::span<const std::uint32_t> vertices) {
  std::vector<Vec3> points;
  points.reserve(vertices.size());
  for (const std::uint32_t v : vertices) points.push_back(mesh.positions()[v]);
  return points;
}

// A first look that costs little: whether five points lie on the circle through the first, third and fifth, all on one
// side of their chord, and turn. Four pieces that do not cannot begin an arc.
bool may_begin_arc(const std::array<Vec3, 5>& p) {
  const Vec3 a = p[2] - p[0], b = p[4] - p[0];
  const Vec3 normal = cross(a, b);
  const double twice = length(normal);
  if (!(twice > 1e-6 * length(a) * length(b))) return false;
  const Vec3 to_centre =
      (cross(normal, a) * length_squared(b) + cross(b, normal) * length_squared(a)) / (2 * twice * twice);
  const Vec3 centre = p[0] + to_centre;
  const double radius = length(to_centre);
  for (const int i : {1, 3}) {
    if (std::abs(distance(p[i], centre) - radius) > 2 * kWithin * radius) return false;
    if (std::abs(dot(p[i] - p[0], normal)) > 2 * kWithin * radius * twice) return false;
  }
  // Every piece turns the same way round.
  for (int i = 0; i < 3; ++i)
    if (!(dot(cross(p[i + 1] - p[i], p[i + 2] - p[i + 1]), normal) > 0)) return false;
  return true;
}

std::optional<Circle> circle_of(const std::vector<Vec3>& points, bool closed) {
  // The repeated first point of a closed chain must not count twice.
  const auto circle = fit_circle(std::span(points).first(points.size() - (closed ? 1 : 0)));
  if (!circle || !(circle->worst <= kWithin * circle->radius)) return std::nullopt;
  return circle;
}

double turn_between(const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 one = b - a, two = c - b;
  return atan2_degrees(length(cross(one, two)), dot(one, two));
}

// The angle that the pieces of an arc turn about its centre.
double span_of(const Circle& circle, std::span<const Vec3> points) {
  double sum = 0;
  for (std::size_t i = 0; i + 1 < points.size(); ++i) {
    const Vec3 a = points[i] - circle.centre, b = points[i + 1] - circle.centre;
    sum += atan2_degrees(length(cross(a, b)), dot(a, b));
  }
  return sum;
}

}  // namespace

std::vector<RoundEdge> find_round_edges(const Mesh& mesh, const std::vector<EdgeChain>& chains,
                                        std::vector<RoundPiece>& pieces) {
  std::vector<RoundEdge> result;
  std::vector<EdgeChain> runs;
  const auto take = [&](const Circle& circle, std::span<const std::uint32_t> run, bool closed) {
    RoundEdge round;
    round.count = static_cast<std::uint32_t>(run.size() - 1);
    round.closed = closed;
    round.centre = circle.centre;
    round.axis = circle.axis;
    round.radius = circle.radius;
    result.push_back(round);
    runs.emplace_back(run.begin(), run.end());
  };
  for (const EdgeChain& chain : chains) {
    std::vector<Vec3> points = places_of(mesh, chain);
    EdgeChain run = chain;
    const bool closed = chain.front() == chain.back();
    if (closed && chain.size() > kLeastClosed) {
      // The chain's own seam may turn by more than its other vertices do.
      const bool soft = turn_between(points[points.size() - 2], points[0], points[1]) <= kMostTurnOfRound;
      if (const auto circle = soft ? circle_of(points, true) : std::nullopt) {
        take(*circle, chain, true);
        continue;
      }
    }
    const std::size_t last = run.size() - 1;  // pieces
    if (closed && last > kLeastOpen) {
      // Begin where no arc goes on, so that none is cut in two by where the chain happens to start.
      std::size_t start = 0;
      for (std::size_t i = 0; i < last && start == 0; ++i) {
        std::array<Vec3, 5> p;
        for (std::size_t k = 0; k < 5; ++k) p[k] = points[(i + k) % last];
        if (!may_begin_arc(p)) start = (i + 2) % last;
      }
      run.pop_back();
      std::rotate(run.begin(), run.begin() + static_cast<std::ptrdiff_t>(start), run.end());
      run.push_back(run.front());
      points = places_of(mesh, run);
    }
    for (std::size_t i = 0; i + kLeastOpen <= last;) {
      if (!may_begin_arc({points[i], points[i + 1], points[i + 2], points[i + 3], points[i + 4]})) {
        ++i;
        continue;
      }
      const std::vector<Vec3> first(points.begin() + static_cast<std::ptrdiff_t>(i),
                                    points.begin() + static_cast<std::ptrdiff_t>(i + 5));
      auto circle = circle_of(first, false);
      std::size_t end = i + kLeastOpen;
      if (circle) {
        // As far as the points stay near what those before say, fitted anew whenever there are twice as many; in the
        // end the fit to all of them decides.
        std::size_t refit = i + 2 * kLeastOpen;
        while (end < last) {
          if (end >= refit) {
            refit = i + 2 * (end - i);
            if (const auto better = circle_of({points.begin() + static_cast<std::ptrdiff_t>(i),
                                               points.begin() + static_cast<std::ptrdiff_t>(end + 1)},
                                              false))
              circle = better;
            else
              break;
          }
          const Vec3 from = points[end + 1] - circle->centre;
          const double across = dot(from, circle->axis);
          const double off = std::hypot(across, length(from - circle->axis * across) - circle->radius);
          if (off > 5 * kWithin * circle->radius ||
              turn_between(points[end - 1], points[end], points[end + 1]) > kMostTurnOfRound)
            break;
          ++end;
        }
        const auto arc = [&] {
          return std::vector<Vec3>(points.begin() + static_cast<std::ptrdiff_t>(i),
                                   points.begin() + static_cast<std::ptrdiff_t>(end + 1));
        };
        circle = circle_of(arc(), false);
        while (!circle && end > i + kLeastOpen) {
          --end;
          circle = circle_of(arc(), false);
        }
        if (circle && span_of(*circle, arc()) >= kLeastSpan - 1e-9) {
          take(*circle, std::span(run).subspan(i, end - i + 1), false);
          i = end;
          continue;
        }
      }
      ++i;
    }
  }

  // Names: each takes its lowest vertex that no other has taken, those with the lowest vertices first.
  std::vector<std::size_t> order(result.size());
  for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
  const auto lowest = [&](std::size_t i) { return *std::min_element(runs[i].begin(), runs[i].end()); };
  std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
    const auto x = lowest(a), y = lowest(b);
    return x != y ? x < y : runs[a] < runs[b];
  });
  std::set<std::uint32_t> taken;
  for (const std::size_t i : order) {
    EdgeChain sorted = runs[i];
    std::sort(sorted.begin(), sorted.end());
    const auto free = std::find_if(sorted.begin(), sorted.end(), [&](std::uint32_t v) { return !taken.contains(v); });
    result[i].vertex = free == sorted.end() ? sorted.front() : *free;
    taken.insert(result[i].vertex);
  }
  std::sort(order.begin(), order.end(),
            [&](std::size_t a, std::size_t b) { return result[a].vertex < result[b].vertex; });
  std::vector<RoundEdge> sorted;
  for (const std::size_t i : order) {
    const auto number = static_cast<std::uint32_t>(sorted.size());
    sorted.push_back(result[i]);
    for (std::size_t k = 0; k + 1 < runs[i].size(); ++k)
      pieces.push_back({std::min(runs[i][k], runs[i][k + 1]), std::max(runs[i][k], runs[i][k + 1]), number});
  }
  return sorted;
}

}  // namespace tack
