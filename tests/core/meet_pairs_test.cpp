// Meetings of several pairs, shared errors, limits, and what is left of each.
#include <fmt/format.h>

#include <catch2/catch.hpp>

#include "core/fit/measure.h"
#include "core/math/degrees.h"
#include "core/math/fit_rigid.h"
#include "core/math/split.h"
#include "core/mesh/features.h"
#include "core/verbs/meet_motion.h"
#include "core/verbs/rigid.h"
#include "core/verbs/verb.h"
#include "demo/shapes.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {

Meet of_pairs(const std::vector<std::pair<TackAddress, TackAddress>>& pairs) {
  Meet meet;
  meet.from = pairs[0].first;
  meet.to = pairs[0].second;
  for (std::size_t i = 1; i < pairs.size(); ++i) meet.more.push_back({pairs[i].first, pairs[i].second});
  return meet;
}

double sum_of_squares(std::span<const std::pair<Vec3, Vec3>> pairs, const Mat3& r, double factor, const Vec3& from,
                      const Vec3& to) {
  double sum = 0;
  for (const auto& [a, b] : pairs) sum += length_squared(r * (a - from) * factor + to - b);
  return sum;
}

// The best rotation by a quaternion, as the greatest eigenvector of Horn's matrix found by power iteration: a second
// method that has no singular values in it.
Mat3 by_quaternion(std::span<const std::pair<Vec3, Vec3>> pairs, const Vec3& from, const Vec3& to) {
  double s[3][3] = {};
  for (const auto& [a, b] : pairs)
    for (int i = 0; i < 3; ++i)
      for (int j = 0; j < 3; ++j) s[i][j] += (a - from)[i] * (b - to)[j];
  const double n[4][4] = {{s[0][0] + s[1][1] + s[2][2], s[1][2] - s[2][1], s[2][0] - s[0][2], s[0][1] - s[1][0]},
                          {s[1][2] - s[2][1], s[0][0] - s[1][1] - s[2][2], s[0][1] + s[1][0], s[2][0] + s[0][2]},
                          {s[2][0] - s[0][2], s[0][1] + s[1][0], -s[0][0] + s[1][1] - s[2][2], s[1][2] + s[2][1]},
                          {s[0][1] - s[1][0], s[2][0] + s[0][2], s[1][2] + s[2][1], -s[0][0] - s[1][1] + s[2][2]}};
  double shift = 0;
  for (const auto& row : n)
    for (const double x : row) shift += std::abs(x);
  double q[4] = {0.6, 0.4, -0.3, 0.5};
  for (int step = 0; step < 20000; ++step) {
    double next[4] = {}, size = 0;
    for (int i = 0; i < 4; ++i) {
      for (int j = 0; j < 4; ++j) next[i] += n[i][j] * q[j];
      next[i] += shift / 4 * q[i];
      size += next[i] * next[i];
    }
    for (int i = 0; i < 4; ++i) q[i] = next[i] / std::sqrt(size);
  }
  const double w = q[0], x = q[1], y = q[2], z = q[3];
  Mat3 r;
  r.column[0] = {w * w + x * x - y * y - z * z, 2 * (x * y + w * z), 2 * (x * z - w * y)};
  r.column[1] = {2 * (x * y - w * z), w * w - x * x + y * y - z * z, 2 * (y * z + w * x)};
  r.column[2] = {2 * (x * z + w * y), 2 * (y * z - w * x), w * w - x * x - y * y + z * z};
  return r;
}

}  // namespace

TEST_CASE("the least-squares motion agrees with a second method", "[numbers]") {
  Chance chance(91);
  double worst = 0;
  for (int i = 0; i < 200; ++i) {
    std::vector<std::pair<Vec3, Vec3>> pairs;
    const Mat3 turn = rotation_about(chance.direction(), chance.between(-180, 180));
    const Vec3 shift = chance.point(500);
    for (int k = 0; k < 3 + i % 6; ++k) {
      const Vec3 p = chance.point(100);
      pairs.emplace_back(p, turn * p + shift + chance.point(i % 2 == 0 ? 0 : 4));
    }
    const RigidFit fit = fit_rigid(pairs, false);
    REQUIRE(fit.open == RigidFit::Open::Nothing);
    CHECK(determinant(fit.rotation) == Approx(1).epsilon(1e-12));
    const Mat3 other = by_quaternion(pairs, fit.from, fit.to);
    const double mine = sum_of_squares(pairs, fit.rotation, 1, fit.from, fit.to);
    const double theirs = sum_of_squares(pairs, other, 1, fit.from, fit.to);
    double spread = 0;
    for (const auto& [a, b] : pairs) spread += length_squared(a - fit.from);
    worst = std::max(worst, std::abs(mine - theirs) / spread);
  }
  note_number(fmt::format("Least-squares motion, 200 seeded cases: {:.2g} relative from the quaternion method", worst));
  CHECK(worst < 1e-12);
}

TEST_CASE("a factor is found with the motion, and a mirror is never taken for a turn") {
  Chance chance(92);
  std::vector<std::pair<Vec3, Vec3>> pairs, mirrored;
  const Mat3 turn = rotation_about(chance.direction(), 77);
  for (int k = 0; k < 6; ++k) {
    const Vec3 p = chance.point(50);
    pairs.emplace_back(p, turn * p * 1.75 + Vec3{1, 2, 3});
    mirrored.emplace_back(p, Vec3{-p.x, p.y, p.z});
  }
  const RigidFit fit = fit_rigid(pairs, true);
  CHECK(fit.factor == Approx(1.75).epsilon(1e-13));
  CHECK(sum_of_squares(pairs, fit.rotation, fit.factor, fit.from, fit.to) < 1e-20);
  const RigidFit other = fit_rigid(mirrored, false);
  CHECK(determinant(other.rotation) == Approx(1).epsilon(1e-12));
  CHECK(sum_of_squares(mirrored, other.rotation, 1, other.from, other.to) > 100);
}

TEST_CASE("points in a line or in one place are recognised, and the smallest turn is taken") {
  std::vector<std::pair<Vec3, Vec3>> line;
  for (int k = 0; k < 4; ++k) line.emplace_back(Vec3{10.0 * k, 0, 0}, Vec3{5, 10.0 * k, 0});
  const RigidFit fit = fit_rigid(line, true);
  CHECK(fit.open == RigidFit::Open::AboutLine);
  CHECK(fit.factor == Approx(1).epsilon(1e-14));
  CHECK(distance(fit.rotation * Vec3{1, 0, 0}, {0, 1, 0}) < 1e-14);
  CHECK(distance(fit.rotation * Vec3{0, 0, 1}, {0, 0, 1}) < 1e-14);  // the smallest: about Z
  // A triangle onto a line: nothing turns it about that line, whatever the triangle is.
  const std::vector<std::pair<Vec3, Vec3>> flattened{
      {{0, 0, 0}, {0, 0, 0}}, {{10, 0, 0}, {0, 0, 10}}, {{5, 5, 0}, {0, 0, 5}}};
  CHECK(fit_rigid(flattened, false).open == RigidFit::Open::AboutLine);
  const std::vector<std::pair<Vec3, Vec3>> one{{{1, 2, 3}, {4, 5, 6}}, {{1, 2, 3}, {4, 5, 6}}};
  const RigidFit same = fit_rigid(one, true);
  CHECK(same.open == RigidFit::Open::All);
  CHECK(same.rotation == Mat3{});
  CHECK(same.factor == 1);
}

TEST_CASE("of several pairs the one that is not exact is told, under its own number") {
  Scene s;
  s.add(part_of("Hall", cube(100000)));
  s.add(part_of("Peg", cube(1)));
  // Of the hall 1e-4 mm is still exact, its bound being 1e-9 of its size; of the peg half of that is not.
  const Vec3 hall = at(s, vertex(1, 7)), peg = at(s, vertex(2, 7));
  REQUIRE(exact_bound(s, vertex(1, 7), point(hall)) > 1e-4);
  REQUIRE(exact_bound(s, vertex(2, 7), point(peg)) < 5e-5);
  Meet meet = of_pairs({{vertex(1, 7), point(hall + Vec3{1e-4, 0, 0})}, {vertex(2, 7), point(peg + Vec3{5e-5, 0, 0})}});
  meet.what = {1, 2};
  meet.shared = true;
  CHECK(remaining_words(meet, s, kMillimetres) == "pair 2 within 0.01 mm");
  // A pair that is not there any more does not count the others down.
  meet.from = vertex(9, 0);
  CHECK(remaining_words(meet, s, kMillimetres) == "pair 2 within 0.01 mm");
}

TEST_CASE("two pairs: the first exact, the second in direction, and exact where the size may change") {
  Scene s;
  s.add(part_of("Rail", cube(10)));
  Meet meet = of_pairs({{vertex(1, 0), point({100, 0, 0})}, {vertex(1, 1), point({100, 30, 40})}});
  const Vec3 along = at(s, vertex(1, 1)) - at(s, vertex(1, 0));
  REQUIRE(length(along) > 0);
  const auto kept = apply(meet, s);
  REQUIRE(kept);
  CHECK(distance(at(*kept, vertex(1, 0)), {100, 0, 0}) < 1e-11);
  const Vec3 direction = normalized(at(*kept, vertex(1, 1)) - at(*kept, vertex(1, 0)));
  CHECK(distance(direction, {0, 0.6, 0.8}) < 1e-14);
  CHECK(remaining_of(meet, *kept)[1].gap == Approx(50 - length(along)).epsilon(1e-12));
  CHECK(remaining_words(meet, *kept, kMillimetres) ==
        "pair 2 apart by " + show_length(50 - length(along), kMillimetres, 3).text);
  CHECK(plain_text(sentence(Verb(meet), s, Tense::Past, kMillimetres, &*kept)).find("Pair 2 is apart by") !=
        std::string::npos);
  meet.sized = true;
  const auto sized = apply(meet, s);
  REQUIRE(sized);
  CHECK(distance(at(*sized, vertex(1, 1)), {100, 30, 40}) < 1e-11);
  CHECK(remaining_words(meet, *sized, kMillimetres) == "exact");
  CHECK(sized->part(1).placement.scale.x == Approx(50 / length(along)).epsilon(1e-14));
  CHECK(sized->part(1).placement.scale.x == sized->part(1).placement.scale.z);
  CHECK(sized->part(1).placement.skew == Vec3{});
}

TEST_CASE("two pairs that face: the roll left over brings the first directions together") {
  // A plate's two top corners of the box, onto two places of a wall's face, facing it.
  Scene s;
  s.add(part_of("Plate", *make_mesh(demo::box({0, 0, 0}, {40, 20, 5}))));
  Placement far;
  far.position = {200, 100, 50};
  far.rotation = {20, 30, 40};
  s.add(part_of("Wall", *make_mesh(demo::box({0, 0, 0}, {100, 100, 10})), far));
  const auto face_up = [&](PartId part) {
    const Features& f = s.part(part).mesh->features();
    for (const MeshFace& face : f.faces)
      if (face.direction.z > 0.5) return face.triangle;
    return 0u;
  };
  const std::uint32_t plate = face_up(1), wall = face_up(2);
  Meet meet = of_pairs({{{TackKind::FaceCentre, 1, plate, {}}, {TackKind::FaceCentre, 2, wall, {}}},
                        {{TackKind::BoxPoint, 1, 0, {1, 0.5, 1}}, {TackKind::BoxPoint, 2, 0, {0.5, 1, 1}}}});
  meet.facing = Facing::Facing;
  const auto done = apply(meet, s);
  REQUIRE(done);
  const auto from = find_tack(*done, *meet.from), to = find_tack(*done, *meet.to);
  CHECK(distance(from->point, to->point) < 1e-9);
  CHECK(angle_between(*from->direction, -*to->direction) < 1e-9);
  const Vec3 a = at(*done, *meet.more[0].from) - from->point, b = at(*done, *meet.more[0].to) - to->point;
  CHECK(angle_between(a, b) < 1e-9);
}

TEST_CASE(
    "three pairs: first exact, second direction, third roll; places in line say that the roll is not determined") {
  Chance chance(93);
  for (int i = 0; i < 200; ++i) {
    Scene s;
    s.add(part_of("Part", cube(30), chance.placement(100)));
    // Where the same three corners would be after a known motion.
    const Mat3 turn = rotation_about(chance.direction(), chance.between(-180, 180));
    const Vec3 shift = chance.point(300);
    Meet meet = of_pairs({{vertex(1, 0), point(turn * at(s, vertex(1, 0)) + shift)},
                          {vertex(1, 3), point(turn * at(s, vertex(1, 3)) + shift)},
                          {vertex(1, 6), point(turn * at(s, vertex(1, 6)) + shift)}});
    for (const bool shared : {false, true}) {
      meet.shared = shared;
      const auto done = apply(meet, s);
      REQUIRE(done);
      for (std::uint32_t v = 0; v < 8; ++v)
        CHECK(distance(at(*done, vertex(1, v)), turn * at(s, vertex(1, v)) + shift) < 1e-9);
      CHECK(remaining_words(meet, *done, kMillimetres) == "exact");
      CHECK(remark(Verb(meet), s, *done).empty());
    }
  }
  Scene s;
  s.add(part_of("Part", cube(30)));
  const Meet line = of_pairs({{{TackKind::BoxPoint, 1, 0, {0, 0, 0}}, point({0, 0, 0})},
                              {{TackKind::BoxPoint, 1, 0, {1, 0, 0}}, point({0, 30, 0})},
                              {{TackKind::BoxPoint, 1, 0, {0.5, 0, 0}}, point({0, 15, 0})}});
  const auto done = apply(line, s);
  REQUIRE(done);
  CHECK(remark(Verb(line), s, *done).find("lie on one line") != std::string::npos);
  CHECK(distance(at(*done, {TackKind::BoxPoint, 1, 0, {0, 0, 1}}), {0, 0, 30}) < 1e-12);  // the smallest turn: about Z
}

TEST_CASE("sharing the error leaves the least squares, and names the worst pair") {
  Scene s;
  s.add(part_of("Part", cube(30)));
  // A square of corners that should go to a square of which one corner is 1 mm off.
  Meet meet = of_pairs({{{TackKind::BoxPoint, 1, 0, {0, 0, 0}}, point({100, 0, 0})},
                        {{TackKind::BoxPoint, 1, 0, {1, 0, 0}}, point({130, 0, 0})},
                        {{TackKind::BoxPoint, 1, 0, {1, 1, 0}}, point({130, 30, 0})},
                        {{TackKind::BoxPoint, 1, 0, {0, 1, 0}}, point({100, 31, 0})}});
  meet.shared = true;
  const auto done = apply(meet, s);
  REQUIRE(done);
  const auto left = remaining_of(meet, *done);
  REQUIRE(left.size() == 4);
  double sum = 0;
  Vec3 mean;
  for (const Remaining& r : left) sum += r.gap * r.gap, mean += r.off / 4;
  CHECK(length(mean) < 1e-12);  // the middles coincide
  CHECK(remaining_words(meet, *done, kMillimetres).starts_with("pair 4 apart by"));
  // No small motion does better.
  for (const auto& [turn, shift] :
       {std::pair{0.01, Vec3{}}, {-0.01, Vec3{}}, {0.0, Vec3{0.01, 0, 0}}, {0.0, Vec3{0, -0.01, 0}}}) {
    const auto moved =
        moved_rigidly(*done, {1}, rotation_about({0, 0, 1}, turn), at(*done, {TackKind::BoxPoint, 1, 0, {0.5, 0.5, 0}}),
                      at(*done, {TackKind::BoxPoint, 1, 0, {0.5, 0.5, 0}}) + shift);
    double other = 0;
    for (const Remaining& r : remaining_of(meet, *moved)) other += r.gap * r.gap;
    CHECK(other > sum);
  }
  meet.shared = false;
  const auto first = apply(meet, s);
  CHECK(remaining_of(meet, *first)[0].exact());
}

TEST_CASE("limited to axes: it meets in those, and says what remains along the others") {
  Scene s;
  s.add(part_of("Near", cube(10)));
  Placement deep;
  deep.position = {0, 12.4, 0};
  s.add(part_of("Deep", cube(10), deep));
  Placement off;
  off.position = {3, -2.4, 5};
  s.add(part_of("Third", cube(10), off));
  // Seen from the front x and z are across, y is depth.
  Meet meet;
  meet.from = vertex(3, 0);
  meet.to = vertex(2, 0);
  meet.along = {true, false, true};
  const auto done = apply(meet, s);
  REQUIRE(done);
  CHECK(done->part(3).placement.position == Vec3{0, -2.4, 0});
  CHECK(remaining_words(meet, *done, kMillimetres) == "meets in x, z · 14.8 mm apart along y");
  CHECK(plain_text(sentence(Verb(meet), s, Tense::Past, kMillimetres, &*done))
            .ends_with("It meets in x, z · 14.8 mm apart along y."));
  meet.along = {false, true, false};
  CHECK(remaining_words(meet, *apply(meet, s), kMillimetres) == "meets in y · 3 mm apart along x, 5 mm apart along z");
  meet.along = {true, true, true};
  CHECK(remaining_words(meet, *apply(meet, s), kMillimetres) == "exact");
  // Along the axes of a turned part.
  Placement turned;
  turned.rotation = {0, 0, 30};
  const PartId guide = s.add(part_of("Guide", cube(10), turned));
  meet.along = {true, false, false};
  meet.axes = axes_of(guide);
  const auto along = apply(meet, s);
  const SinCos a = sin_cos_degrees(30);
  const Vec3 moved = at(*along, vertex(3, 0)) - at(s, vertex(3, 0));
  CHECK(length(cross(moved, {a.cos, a.sin, 0})) < 1e-12);
}

TEST_CASE("roll on roll: the part's rolls coincide, and an angle turns on from there") {
  Scene s;
  s.add(part_of("Peg", *make_mesh(demo::lathe({{5, 0}, {5, 20}}, 32))));
  Placement far;
  far.position = {100, 50, 20};
  far.rotation = {10, 70, 33};
  s.add(part_of("Sleeve", *make_mesh(demo::lathe({{5, 0}, {5, 20}}, 32)), far));
  const Features& f = s.part(1).mesh->features();
  Meet meet;
  meet.from = TackAddress{TackKind::RoundCentre, 1, f.rounds[0].vertex, {}};
  meet.to = TackAddress{TackKind::RoundCentre, 2, f.rounds[1].vertex, {}};
  CHECK(default_facing(s, *meet.from, *meet.to) == Facing::Facing);
  meet.matched = true;
  for (const double roll : {0.0, 25.0}) {
    meet.roll = roll;
    const auto done = apply(meet, s);
    REQUIRE(done);
    const auto from = find_tack(*done, *meet.from), to = find_tack(*done, *meet.to);
    CHECK(distance(from->point, to->point) < 1e-9);
    CHECK(angle_between(*from->direction, -*to->direction) < 1e-9);
    CHECK(distance(*from->roll, rotation_about(*to->direction, roll) * *to->roll) < 1e-12);
  }
}

TEST_CASE("meetings of several pairs are refused with a reason where they cannot be") {
  Scene s;
  s.add(part_of("A", cube(10)));
  s.add(part_of("B", cube(10)));
  const auto why = [&](const Meet& meet) {
    const auto done = apply(meet, s);
    return done ? std::string() : done.error().what;
  };
  CHECK(why(of_pairs({{vertex(1, 0), vertex(2, 0)}, {vertex(1, 0), vertex(2, 1)}})).find("give no direction") !=
        std::string::npos);
  CHECK(why(of_pairs({{vertex(1, 0), vertex(2, 0)}, {vertex(2, 1), vertex(2, 2)}})).find("does not move") !=
        std::string::npos);
  CHECK(why(of_pairs({{vertex(1, 0), vertex(2, 0)}, {vertex(1, 1), vertex(1, 2)}})).find("moves as well") !=
        std::string::npos);
  Meet missing = of_pairs({{vertex(1, 0), vertex(2, 0)}});
  missing.more.push_back({vertex(1, 1), std::nullopt});
  CHECK(why(missing).find("To is missing") != std::string::npos);
}

TEST_CASE("a meeting of several pairs is written and read back whole") {
  Scene s;
  s.add(part_of("A", cube(10)));
  s.add(part_of("B", cube(10)));
  Meet meet = of_pairs({{vertex(1, 0), vertex(2, 0)}, {vertex(1, 1), vertex(2, 1)}, {vertex(1, 4), point({1, 2, 3})}});
  meet.what = {1};
  meet.shared = meet.sized = true;
  Meet limited = of_pairs({{vertex(1, 0), vertex(2, 0)}});
  limited.what = {1};
  limited.along = {true, false, true};
  limited.matched = true;
  limited.facing = Facing::Same;
  limited.axes = AxesKind::Local;
  for (const Meet& m : {meet, limited}) {
    const auto read = verb_from_json(to_json(Verb(m), s), s);
    REQUIRE(read);
    const auto* back = std::get_if<Meet>(&*read);
    CHECK(back->more == m.more);
    CHECK(back->shared == m.shared);
    CHECK(back->sized == m.sized);
    CHECK(back->matched == m.matched);
    CHECK(back->along == m.along);
    if (m.along != kAllAxes) CHECK(back->axes == m.axes);
  }
  CHECK(plain_text(sentence(meet, s, Tense::Past)) ==
        "Brought A from its vertex to vertex of B, and its vertex to vertex of B, and its vertex to point 1, 2, 3, "
        "sharing the error, sized evenly to fit.");
}

TEST_CASE("more pairs than a sentence has blanks for are done, counted, and read back") {
  Scene s;
  s.add(part_of("A", cube(10)));
  std::vector<std::pair<TackAddress, TackAddress>> pairs;
  for (std::uint32_t v = 0; v < 8; ++v) pairs.emplace_back(vertex(1, v), point(at(s, vertex(1, v)) + Vec3{5, 6, 7}));
  Meet meet = of_pairs(pairs);
  meet.shared = true;
  const auto done = apply(meet, s);
  REQUIRE(done);
  CHECK(meets_within(meet, *done, 0));
  CHECK_FALSE(meets_within(meet, s, 1));
  CHECK(meets_within(meet, s, 11));
  const Sentence words = sentence(meet, s, Tense::Past);
  CHECK(plain_text(words).find(", and 2 more pairs, sharing the error") != std::string::npos);
  const auto said = [&](BlankId blank) {
    return std::count_if(words.begin(), words.end(), [&](const Word& w) { return w.blank == blank; });
  };
  CHECK(said(blank_of(meet, "from")) == 1);
  CHECK(said(blank_of(meet, "to", 5)) == 1);
  CHECK(said(blank_of(meet, "to", 6)) == 0);
  CHECK(said(blank_of(meet, "from", 8)) == 0);  // no further pair is offered
  CHECK(std::get<Meet>(*verb_from_json(to_json(Verb(meet), s), s)).more.size() == 7);
}

TEST_CASE("20,000 meetings of all kinds end exactly, near and far from the origin", "[numbers]") {
  Chance chance(94);
  const MeshPtr box = cube(40), peg = *make_mesh(demo::lathe({{8, 0}, {8, 30}}, 24));
  for (const MeshPtr& mesh : {box, peg}) mesh->index(), mesh->features();
  double worst_gap = 0, worst_angle = 0, worst_far = 0;
  int done_count = 0;
  const auto some_tack = [&](PartId part, const MeshPtr& mesh) -> TackAddress {
    const Features& f = mesh->features();
    const auto pick = [&](std::size_t count) {
      return static_cast<std::size_t>(chance.whole(0, static_cast<int>(count) - 1));
    };
    switch (chance.whole(0, 9)) {
      case 0:
      case 1: {
        const FeatureEdge& e = f.edges[pick(f.edges.size())];
        return {TackKind::Edge, part, e.a, {chance.whole(0, 1) ? 0.5 : chance.between(0, 1), 0, 0}, e.b};
      }
      case 2: return {TackKind::Face, part, static_cast<std::uint32_t>(pick(mesh->triangles().size())), {0.3, 0.4, 0}};
      case 3:
        for (const MeshFace& face : f.faces)
          if (face.kind == MeshFace::Kind::Flat) return {TackKind::FaceCentre, part, face.triangle, {}};
        [[fallthrough]];
      case 4:
        if (!f.rounds.empty()) return {TackKind::RoundCentre, part, f.rounds[pick(f.rounds.size())].vertex, {}};
        [[fallthrough]];
      case 5:
        for (const MeshFace& face : f.faces)
          if (face.kind == MeshFace::Kind::Round)
            return {TackKind::Axis, part, face.triangle, {chance.between(0, 1), 0, 0}};
        [[fallthrough]];
      case 6:
        return {TackKind::BoxPoint,
                part,
                0,
                {0.5 * chance.whole(0, 2), 0.5 * chance.whole(0, 2), 0.5 * chance.whole(0, 2)}};
      case 7: return {TackKind::Pivot, part, 0, {}};
      case 8: return kept_tack(part, "joint");
      default: return vertex(part, static_cast<std::uint32_t>(pick(mesh->positions().size())));
    }
  };
  for (int i = 0; i < 20000; ++i) {
    Scene s;
    const bool far = i % 4 == 3;
    const auto hang = [&](const std::string& name, const MeshPtr& mesh) {
      PartId parent = kNoPart;
      for (int k = 0; k < i % 4; ++k)
        parent = s.add(part_of(name + " parent", nullptr, chance.placement(100, false), parent));
      Placement own = chance.placement(far && parent == kNoPart ? 1e6 : 100);
      if (i % 5 == 0) own.scale.x = -own.scale.x;
      Part part = part_of(name, mesh, own, parent);
      const Vec3 out = chance.direction();
      part.kept = std::make_shared<const KeptTacks>(KeptTacks{
          {"joint", chance.point(40), out, i % 3 == 0 ? std::optional(cross(out, chance.direction())) : std::nullopt}});
      return s.add(std::move(part));
    };
    const MeshPtr &mine = i % 2 == 0 ? box : peg, &theirs = i % 3 == 0 ? box : peg;
    const PartId moving = hang("Moving", mine), still = hang("Still", theirs);
    Meet meet;
    meet.from = some_tack(moving, mine);
    meet.to = some_tack(still, theirs);
    const auto from = find_tack(s, *meet.from), to = find_tack(s, *meet.to);
    REQUIRE((from && to));
    if (to->direction && i % 3 == 0) meet.gap = chance.between(-20, 20);
    if (from->direction && to->direction && i % 2 == 0) {
      meet.facing = i % 4 == 0 ? Facing::Facing : Facing::Same;
      if (i % 6 == 0) meet.roll = chance.between(-180, 180);
      meet.matched = from->roll && to->roll && i % 5 == 1;
    } else {
      meet.facing = Facing::AsIs;
    }
    const auto done = apply(meet, s);
    REQUIRE(done);
    ++done_count;
    const auto left = remaining_of(meet, *done);
    REQUIRE(left.size() == 1);
    const double of_bound = left[0].gap / exact_bound(*done, *meet.from, *meet.to);
    (far ? worst_far : worst_gap) = std::max(far ? worst_far : worst_gap, of_bound);
    // An unevenly scaled parent bends directions after the turn: there only places are promised.
    if (meet.facing != Facing::AsIs && i % 4 == 0) {
      const auto now = find_tack(*done, *meet.from);
      const Vec3 wanted = meet.facing == Facing::Facing ? -*to->direction : *to->direction;
      worst_angle = std::max(worst_angle, angle_between(*now->direction, wanted));
    }
  }
  note_number(
      fmt::format("Meet of all kinds of place, {} seeded cases: worst gap {:.3g} of the bound, {:.3g} of it far out, "
                  "worst angle {:.3g}°",
                  done_count, worst_gap, worst_far, worst_angle));
  CHECK(done_count > 19000);
  CHECK(worst_gap <= 1);
  CHECK(worst_far <= 1);
  CHECK(worst_angle < 1e-6);
}
