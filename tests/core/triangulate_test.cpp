// Polygons into triangles, against the polygon's own area in its own plane.
#include "core/mesh/triangulate.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "core/math/degrees.h"

namespace tack {
namespace {

using Outline = std::vector<std::array<double, 2>>;

double shoelace(const Outline& o) {
  long double sum = 0;
  for (std::size_t i = 0; i < o.size(); ++i) {
    const auto &a = o[i], &b = o[(i + 1) % o.size()];
    sum += static_cast<long double>(a[0] - o[0][0]) * (b[1] - o[0][1]) -
           static_cast<long double>(b[0] - o[0][0]) * (a[1] - o[0][1]);
  }
  return static_cast<double>(sum / 2);
}

struct Cut {
  std::size_t triangles = 0;
  double area = 0;      // of all triangles together, whichever way they face
  double backward = 0;  // of those that face against the outline
};

// The outline laid into a turned plane somewhere, cut there.
Cut cut(const Outline& outline, const Mat3& turn, const Vec3& shift, bool mirrored = false) {
  std::vector<Vec3> positions;
  std::vector<std::uint32_t> corners;
  for (const auto& [x, y] : outline) {
    positions.push_back(turn * Vec3{mirrored ? -x : x, y, 0} + shift);
    corners.push_back(static_cast<std::uint32_t>(corners.size()));
  }
  std::vector<Triangle> triangles;
  triangulate(positions, corners, triangles);
  Cut result{triangles.size(), 0, 0};
  const Vec3 normal = turn.column[2] * (mirrored ? -1.0 : 1.0);
  for (const Triangle& t : triangles) {
    const double part = dot(cross(positions[t[1]] - positions[t[0]], positions[t[2]] - positions[t[0]]), normal) / 2;
    result.area += std::abs(part);
    if (part < 0) result.backward -= part;
  }
  return result;
}

void check(const Outline& outline, const Mat3& turn = {}, const Vec3& shift = {}) {
  const double area = shoelace(outline);
  REQUIRE(area > 0);
  for (const bool mirrored : {false, true}) {
    const Cut c = cut(outline, turn, shift, mirrored);
    CHECK(c.triangles == outline.size() - 2);
    CHECK(std::abs(c.area - area) <= 1e-9 * area);
    CHECK(c.backward <= 1e-9 * area);
  }
}

Outline star(std::size_t corners, double least, double most, std::mt19937& random, double x = 0, double y = 0) {
  std::uniform_real_distribution<double> radius(least, most);
  Outline o;
  for (std::size_t i = 0; i < corners; ++i) {
    const double angle = 2 * M_PI * static_cast<double>(i) / static_cast<double>(corners), r = radius(random);
    o.push_back({x + r * std::cos(angle), y + r * std::sin(angle)});
  }
  return o;
}

// A plate with holes in a row, joined to the border and to each other by bridges that are walked both ways.
Outline plate_with_holes(const std::vector<Outline>& holes, double width, double height) {
  Outline o{{0, -height}, {width, -height}, {width, height}, {0, height}, {0, 0}};
  const auto extreme = [](const Outline& hole, bool right) {
    std::size_t best = 0;
    for (std::size_t i = 1; i < hole.size(); ++i)
      if (right ? hole[i][0] > hole[best][0] : hole[i][0] < hole[best][0]) best = i;
    return best;
  };
  // There along one side of each hole, back along the other; holes are walked clockwise.
  Outline back;
  for (std::size_t h = 0; h < holes.size(); ++h) {
    const Outline& hole = holes[h];
    const std::size_t n = hole.size(), left = extreme(hole, false), right = extreme(hole, true);
    if (h + 1 == holes.size()) {
      for (std::size_t k = 0; k <= n; ++k) o.push_back(hole[(left + n - k % n) % n]);
      break;
    }
    for (std::size_t i = left;; i = (i + n - 1) % n) {
      o.push_back(hole[i]);
      if (i == right) break;
    }
    Outline rest;
    for (std::size_t i = right;; i = (i + n - 1) % n) {
      rest.push_back(hole[i]);
      if (i == left) break;
    }
    back.insert(back.begin(), rest.begin(), rest.end());
  }
  o.insert(o.end(), back.begin(), back.end());
  o.push_back({0, 0});
  return o;
}

}  // namespace

TEST_CASE("a square with a square hole, joined by a bridge, is a frame") {
  const Outline keyhole{{0, 0}, {10, 0}, {10, 10}, {0, 10}, {0, 0}, {3, 3}, {3, 7}, {7, 7}, {7, 3}, {3, 3}};
  CHECK(shoelace(keyhole) == 84);
  check(keyhole);
}

TEST_CASE("stars of up to 20,000 corners, lying anyhow, keep their area") {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> angle(-180, 180), far(-1e5, 1e5);
  for (int i = 0; i < 400; ++i)
    check(star(4 + random() % 60, 1, 20, random), rotation_from_degrees({angle(random), angle(random), angle(random)}),
          {far(random), far(random), far(random)});
  for (const std::size_t n : {2500u, 20000u}) check(star(n, 40, 50, random), rotation_from_degrees({20, 30, 40}));
}

TEST_CASE("combs and spirals are cut without going round all corners for each ear") {
  Outline comb, spiral, way_back;
  constexpr int kTeeth = 10000;
  comb.push_back({0, -1});
  comb.push_back({kTeeth, -1});
  for (double i = kTeeth; i > 0; --i) {
    comb.push_back({i, 50});
    comb.push_back({i - 0.5, 0});
  }
  comb.push_back({0, 50});
  check(comb, rotation_from_degrees({0, 90, 0}));
  for (int i = 0; i < 2000; ++i) {
    const double a = i * 0.05, r = 10 + a;
    spiral.push_back({(r + 3) * std::cos(a), (r + 3) * std::sin(a)});
    way_back.push_back({r * std::cos(a), r * std::sin(a)});
  }
  spiral.insert(spiral.end(), way_back.rbegin(), way_back.rend());
  check(spiral, rotation_from_degrees({33, -71, 12}), {100, 200, 300});
}

TEST_CASE("plates with up to twelve holes in a row keep their area") {
  std::mt19937 random(11);
  std::uniform_real_distribution<double> angle(-180, 180);
  for (int i = 0; i < 300; ++i) {
    const std::size_t count = 1 + random() % 12;
    std::vector<Outline> holes;
    double holes_area = 0;
    for (std::size_t h = 0; h < count; ++h) {
      holes.push_back(star(3 + random() % 20, 2, 9, random, 20 + 20 * static_cast<double>(h), 0));
      holes_area += shoelace(holes.back());
    }
    const double width = 20 + 20 * static_cast<double>(count);
    const Outline plate = plate_with_holes(holes, width, 15);
    REQUIRE(shoelace(plate) == Approx(width * 30 - holes_area));
    check(plate, rotation_from_degrees({angle(random), angle(random), angle(random)}));
  }
}

TEST_CASE("straight corners stay corners, and what crosses itself still ends") {
  const Outline straight{{0, 0}, {1, 0}, {2, 0}, {3, 0}, {3, 1}, {3, 2}, {1.5, 2}, {0, 2}, {0, 1}};
  check(straight);
  const Outline bow{{0, 0}, {4, 4}, {4, 0}, {0, 4}, {0, 3}};
  CHECK(cut(bow, {}, {}).triangles == 3);
  const Outline flat{{0, 0}, {1, 0}, {2, 0}, {3, 0}};
  CHECK(cut(flat, {}, {}).triangles == 2);
  const Outline doubled{{0, 0}, {0, 0}, {2, 0}, {2, 2}, {2, 2}, {0, 2}};
  CHECK(cut(doubled, {}, {}).area == Approx(4));
}

}  // namespace tack
