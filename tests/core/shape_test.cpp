// Live shapes: their meshes against the formulas of solid geometry, and what hangs on them while dimensions change.
#include <catch2/catch.hpp>

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/fit/ties.h"
#include "core/math/degrees.h"
#include "core/mesh/features.h"
#include "core/mesh/mass.h"
#include "core/verbs/journal.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {

constexpr double kPi = 3.14159265358979323846;

const Shape& shape_in(const Scene& scene, PartId id) {
  REQUIRE(scene.part(id).shape);
  return scene.part(id).shape->shape;
}

// Six times the volume that the triangles enclose, by the divergence theorem; and whether every edge is there once each
// way, so that they enclose one.
double volume(const MeshData& mesh, bool& closed) {
  double six = 0;
  std::map<std::pair<std::uint32_t, std::uint32_t>, int> sides;
  for (const Triangle& t : mesh.triangles) {
    six += dot(mesh.positions[t[0]], cross(mesh.positions[t[1]], mesh.positions[t[2]]));
    for (std::size_t i = 0; i < 3; ++i) ++sides[{t[i], t[(i + 1) % 3]}];
  }
  closed = true;
  for (const auto& [edge, count] : sides) closed = closed && count == 1 && sides.count({edge.second, edge.first}) == 1;
  return six / 6;
}

// The area of a regular polygon inscribed in a circle.
double polygon(double diameter, double sides) {
  return sides / 2 * diameter * diameter / 4 * std::sin(2 * kPi / sides);
}

}  // namespace

TEST_CASE("shapes are closed, look outwards and have the volume of their flat sides") {
  for (const double sides : {3.0, 4.0, 7.0, 8.0, 18.0, 48.0, 121.0}) {
    const auto n = [&](ShapeKind kind, std::initializer_list<double> sizes) {
      Shape s{kind, {}};
      std::copy(sizes.begin(), sizes.end(), s.sizes.begin());
      s[Dimension::Sides] = sides;
      return s;
    };
    struct Case {
      Shape shape;
      double volume;
    };
    std::vector<Case> cases{
        {n(ShapeKind::Cylinder, {0, 0, 40, 6}), polygon(6, sides) * 40},
        {n(ShapeKind::Cone, {0, 0, 30, 20, 0}), polygon(20, sides) * 10},
        {n(ShapeKind::Cone, {0, 0, 30, 20, 8}), 10 * polygon(1, sides) * (400 + 160 + 64)},
        {n(ShapeKind::Cone, {0, 0, 30, 8, 20}), 10 * polygon(1, sides) * (400 + 160 + 64)},
        {n(ShapeKind::Tube, {0, 0, 50, 24, 0, 3}), (polygon(24, sides) - polygon(18, sides)) * 50},
    };
    if (std::fmod(sides, 4) == 0) {
      // A plate less what its corners have rounded away: four quarters of a square less those of the polygon.
      const double corners = 4 * 10 * 10 - polygon(20, sides);
      cases.push_back({n(ShapeKind::Plate, {120, 80, 6, 0, 0, 0, 10}), (120 * 80 - corners) * 6});
      cases.push_back({n(ShapeKind::Plate, {120, 20, 6, 0, 0, 0, 10}), (120 * 20 - corners) * 6});
      cases.push_back({n(ShapeKind::Plate, {20, 20, 6, 0, 0, 0, 10}), polygon(20, sides) * 6});
      cases.push_back({n(ShapeKind::Plate, {120, 80, 6, 0, 0, 0, 0}), 120.0 * 80 * 6});
    }
    cases.push_back({Shape{ShapeKind::Box, {60, 40, 30}}, 72000});
    for (const Case& c : cases) {
      INFO(word_of(c.shape.kind) << ", " << sides << " sides");
      REQUIRE(check(c.shape));
      const MeshData mesh = mesh_data_of(c.shape);
      bool closed = false;
      CHECK(volume(mesh, closed) == Approx(c.volume).epsilon(1e-12));
      CHECK(closed);
      CHECK(mesh.positions.size() == vertex_count(c.shape));
      // The flats are inside the true surface by what is said, at the middle of a side.
      if (has(c.shape.kind, Dimension::Diameter)) {
        const double r = std::max(c.shape[Dimension::Diameter], c.shape[Dimension::Top]) / 2;
        CHECK(inside_by(c.shape) == Approx(r - r * std::cos(kPi / sides)).epsilon(1e-12));
      }
    }
    for (const ShapeKind kind : {ShapeKind::Sphere, ShapeKind::Torus}) {
      if (kind == ShapeKind::Torus && sides < 4) continue;
      Shape s = usual_shape(kind);
      s[Dimension::Sides] = sides;
      INFO(word_of(kind) << ", " << sides << " sides");
      const MeshData mesh = mesh_data_of(s);
      bool closed = false;
      const double inside = volume(mesh, closed);
      CHECK(closed);
      CHECK(inside > 0);
      CHECK(mesh.positions.size() == vertex_count(s));
      for (const Vec3& p : mesh.positions) {
        const double R = 25, r = 5, around = std::hypot(std::hypot(p.x, p.y) - R, p.z);
        CHECK((kind == ShapeKind::Sphere ? length(p) : around) ==
              Approx(kind == ShapeKind::Sphere ? 8 : r).epsilon(1e-14));
      }
      const double whole = kind == ShapeKind::Sphere ? 4 * kPi / 3 * 512 : 2 * kPi * kPi * 25 * 25;
      CHECK(inside < whole);
      if (sides > 100) CHECK(inside == Approx(whole).epsilon(3e-3));
    }
  }
}

TEST_CASE("what is caught on a shape is true whatever its sides") {
  for (const double sides : {3.0, 5.0, 8.0, 48.0}) {
    INFO(sides);
    Scene scene = stepped({}, {{"verb", "shape"},
                               {"kind", "tube"},
                               {"at", "point 10,20,30"},
                               {"diameter", 24},
                               {"thickness", 3},
                               {"height", 50},
                               {"sides", sides}});
    const Features& features = scene.part(1).mesh->features();
    REQUIRE(features.rounds.size() == 4);
    for (const RoundEdge& round : features.rounds) {
      CHECK(round.closed);
      CHECK((round.radius == 12 || round.radius == 9));
      CHECK((round.centre == Vec3{0, 0, 0} || round.centre == Vec3{0, 0, 50}));
      CHECK(round.axis == Vec3{0, 0, round.centre.z > 0 ? 1.0 : -1.0});
      const auto tack = find_tack(scene, {TackKind::RoundCentre, 1, round.vertex, {}});
      REQUIRE(tack);
      CHECK(tack->point == Vec3{10, 20, 30 + round.centre.z});
    }
    // Few sides are flats, many are one round face with its axis.
    const auto round_faces = std::count_if(features.faces.begin(), features.faces.end(),
                                           [](const MeshFace& f) { return f.kind == MeshFace::Kind::Round; });
    CHECK(round_faces == (sides >= 18 ? 2 : 0));
  }
  Scene scene = stepped({}, {{"verb", "shape"}, {"kind", "sphere"}, {"at", "point 1,2,3"}, {"diameter", 16}});
  const auto centre = find_tack(scene, *parse_address(scene, "\"Sphere\" face-centre 0"));
  REQUIRE(centre);
  CHECK(centre->point == Vec3{1, 2, 11});
  CHECK_FALSE(centre->direction);
  (void)scene.part(1).mesh->features();
  CHECK(tack_words(scene, centre->address) == "centre of ball · Sphere");
  scene = stepped(scene,
                  {{"verb", "shape"}, {"kind", "torus"}, {"at", "point 0,0,0"}, {"diameter", 60}, {"thickness", 10}});
  const auto axis = find_tack(scene, *parse_address(scene, "\"Torus\" axis 0 at 0.5"));
  REQUIRE(axis);
  CHECK(axis->point == Vec3{0, 0, 5});
  CHECK(axis->direction == Vec3{0, 0, 1});
  scene = stepped(scene, {{"verb", "shape"}, {"kind", "line"}, {"at", "point 0,0,0"}, {"across", "point 3,4,12"}});
  CHECK(shape_in(scene, 3)[Dimension::Width] == 13);
  const auto middle = find_tack(scene, *parse_address(scene, "\"Line\" edge 0-1 at 0.5"));
  REQUIRE(middle);
  CHECK(distance(middle->point, Vec3{1.5, 2, 6}) < 1e-14);
  CHECK(distance(find_tack(scene, vertex(3, 1))->point, Vec3{3, 4, 12}) < 1e-14);
}

TEST_CASE("shapes stand where places and numbers say, in any mixture") {
  // From corner to corner, towards all four sides, up and down.
  for (const double x : {80.0, -80.0})
    for (const double y : {50.0, -50.0})
      for (const double z : {30.0, -30.0}) {
        const Scene scene = stepped({}, {{"verb", "shape"},
                                         {"kind", "box"},
                                         {"at", "point 5,6,7"},
                                         {"start", "corner"},
                                         {"across", fmt::format("point {},{},99", 5 + x, 6 + y)},
                                         {"up", fmt::format("point 0,0,{}", 7 + z)}});
        const Box box = world_box_of(scene);
        CHECK(box.low == Vec3{std::min(5.0, 5 + x), std::min(6.0, 6 + y), std::min(7.0, 7 + z)});
        CHECK(box.high == Vec3{std::max(5.0, 5 + x), std::max(6.0, 6 + y), std::max(7.0, 7 + z)});
      }
  // The depth typed, the width from the place.
  const Scene mixed = stepped({}, {{"verb", "shape"},
                                   {"kind", "box"},
                                   {"at", "point 0,0,0"},
                                   {"start", "corner"},
                                   {"across", "point -80,1,0"},
                                   {"size", {nullptr, "1 in", 5}}});
  CHECK(world_box_of(mixed).low == Vec3{-80, 0, 0});
  CHECK(world_box_of(mixed).high == Vec3{0, 25.4, 5});
  CHECK(mixed.part(1).shape->typed[1] == "1 in");
  // On a plane that leans, half above it.
  Scene slanted =
      stepped({}, {{"verb", "plane"}, {"name", "Ramp"}, {"position", {10, 0, 5}}, {"rotation", {0, 30, 0}}});
  slanted = stepped(slanted, {{"verb", "shape"},
                              {"kind", "cylinder"},
                              {"name", "Pin"},
                              {"at", "\"Ramp\" plane 20,10"},
                              {"plane", "Ramp"},
                              {"diameter", 6},
                              {"height", 40},
                              {"base", "middle"}});
  const Mat3 turn = rotation_from_degrees({0, 30, 0});
  const auto pin = *find_by_path(slanted, "Pin");
  const Vec3 expected = Vec3{10, 0, 5} + turn * Vec3{20, 10, -20};
  CHECK(distance(world_of(slanted, pin) * Vec3{0, 0, 0}, expected) < 1e-13);
  CHECK(distance(world_of(slanted, pin) * Vec3{0, 0, 40}, expected + turn * Vec3{0, 0, 40}) < 1e-13);
  // Refused in words.
  CHECK(step_refused({}, {{"verb", "shape"}, {"kind", "cylinder"}, {"at", "point 0,0,0"}, {"diameter", 6}})
            .find("needs its height") != std::string::npos);
  CHECK(step_refused({}, {{"verb", "shape"}, {"kind", "cylinder"}, {"at", "point 0,0,0"}, {"size", {1, 2, 3}}})
            .find("size") != std::string::npos);
  CHECK(step_refused({}, {{"verb", "shape"},
                          {"kind", "tube"},
                          {"at", "point 0,0,0"},
                          {"diameter", 6},
                          {"height", 4},
                          {"thickness", 3}})
            .find("thinner than 3 mm") != std::string::npos);
  CHECK(step_refused({}, {{"verb", "shape"}, {"kind", "box"}, {"at", "point 0,0,0"}, {"size", {0, 1, 1}}})
            .find("more than 0 mm") != std::string::npos);
  CHECK(step_refused(
            {}, {{"verb", "shape"}, {"kind", "plate"}, {"at", "point 0,0,0"}, {"size", {10, 40, 1}}, {"corner", 6}})
            .find("at most 5 mm") != std::string::npos);
  CHECK(
      step_refused({}, {{"verb", "shape"}, {"kind", "sphere"}, {"at", "point 0,0,0"}, {"diameter", 6}, {"sides", 2.5}})
          .find("whole number") != std::string::npos);
}

TEST_CASE("a pin keeps its pivot, its meeting and its tacks when its diameter changes") {
  Scene scene;
  scene.add(part_of("Board", cube(100)));
  scene = stepped(scene, {{"verb", "shape"},
                          {"kind", "cylinder"},
                          {"name", "Pin"},
                          {"at", "point 300,0,0"},
                          {"diameter", 6},
                          {"height", 40}});
  const PartId pin = *find_by_path(scene, "Pin");
  // Its pivot to the rim of its top; then it is met by the centre of its bottom, turned over on a side of the board.
  scene = stepped(scene, {{"verb", "pivot"}, {"what", {"Pin"}}, {"at", "vertex 48"}});
  scene = stepped(scene, {{"verb", "keep"}, {"at", "\"Pin\" vertex 60"}, {"name", "rim"}});
  const RoundEdge bottom = *scene.part(pin).mesh->features().round_at(0);
  const std::string round = fmt::format("\"Pin\" round {}", bottom.vertex);
  scene = stepped(scene, {{"verb", "meet"},
                          {"pairs", {{{"from", round}, {"to", "\"Board\" face-centre 2"}}}},
                          {"facing", "facing"},
                          {"tie", "Pin to Board"}});
  const auto gap = [&](const Scene& s) { return state_of(s.ties().front(), s).gap; };
  REQUIRE(scene.ties().size() == 1);
  for (const Json& change : {Json{{"diameter", "1/4 in"}}, Json{{"diameter", 12.5}, {"height", 80}},
                             Json{{"height", "it * 2"}}, Json{{"sides", 20}}, Json{{"sides", 7}}}) {
    INFO(change.dump());
    Json set{{"verb", "dimensions"}, {"what", {"Pin"}}, {"hold", round.substr(6)}};
    set.update(change);
    const Scene after = stepped(scene, set);
    const Shape& shape = shape_in(after, pin);
    // The pivot is where the rim of the top is now, and so is the kept tack a quarter on.
    const Vec3 pivot = after.part(pin).placement.pivot;
    CHECK(pivot.z == shape[Dimension::Height]);
    CHECK(std::hypot(pivot.x, pivot.y) == Approx(shape[Dimension::Diameter] / 2).epsilon(1e-15));
    const KeptTack& rim = *find_kept(after, pin, "rim");
    CHECK(std::hypot(rim.point.x, rim.point.y) == Approx(shape[Dimension::Diameter] / 2).epsilon(1e-15));
    CHECK(std::abs(atan2_degrees(rim.point.y, rim.point.x) - 90) < 1e-12);
    // The middle of the bottom stays in the middle of the board's side.
    CHECK(distance(find_tack(scene, *parse_address(scene, round))->point, world_of(after, pin) * Vec3{0, 0, 0}) <
          1e-12);
    CHECK(std::abs(gap(after)) < 1e-12);
  }
  CHECK(shape_in(stepped(scene, {{"verb", "dimensions"}, {"what", {"Pin"}}, {"diameter", "1/4 in"}}),
                 pin)[Dimension::Diameter] == 6.35);
  // A tie on a vertex of a rim that has other sides now is lost, and says so; the one on the circle is not.
  Scene on_vertex = stepped(scene, {{"verb", "meet"},
                                    {"pairs", {{{"from", "\"Pin\" vertex 1"}, {"to", "\"Board\" vertex 0"}}}},
                                    {"tie", "By a vertex"}});
  on_vertex = stepped(on_vertex, {{"verb", "dimensions"}, {"what", {"Pin"}}, {"sides", 20}});
  CHECK(find_tack(on_vertex, on_vertex.ties()[0].pairs[0].from));
  CHECK_FALSE(find_tack(on_vertex, on_vertex.ties()[1].pairs[0].from));
  // What a kind does not have is refused with what it has.
  CHECK(step_refused(scene, {{"verb", "dimensions"}, {"what", {"Pin"}}, {"thickness", 2}})
            .find("It has: diameter, height, sides") != std::string::npos);
  CHECK(step_refused(scene, {{"verb", "dimensions"}, {"what", {"Board"}}, {"height", 2}}).find("it is a mesh") !=
        std::string::npos);
}

TEST_CASE("sizes become dimensions, turns are taken in, and what cannot be a shape says so") {
  Scene scene = stepped(
      {}, {{"verb", "shape"}, {"kind", "box"}, {"name", "Crate"}, {"at", "point 0,0,18"}, {"size", {60, 40, 30}}});
  // An exact size, held at the bottom: no factor is left.
  Scene sized = stepped(scene, {{"verb", "scale"}, {"what", {"Crate"}}, {"size", {"2 ft 6 in", nullptr, 33.3}}});
  CHECK(shape_in(sized, 1).sizes == Shape{ShapeKind::Box, {762, 40, 33.3}}.sizes);
  CHECK(sized.part(1).placement.scale == Vec3{1, 1, 1});
  CHECK(world_box_of(sized).low == Vec3{-381, -20, 18});
  // A turn that is baked leaves a shape that is turned in its mesh, and can be changed.
  Scene turned = stepped(scene, {{"verb", "rotate"}, {"what", {"Crate"}}, {"round", "z"}, {"angle", 30}});
  const Affine stood = world_of(turned, 1);
  turned = stepped(turned, {{"verb", "bake"}, {"what", {"Crate"}}, {"rotation", true}, {"scale", true}});
  REQUIRE(turned.part(1).shape);
  CHECK(turned.part(1).placement.rotation == Vec3{});
  turned = stepped(turned,
                   {{"verb", "dimensions"}, {"what", {"Crate"}}, {"size", {100, nullptr, nullptr}}, {"hold", "pivot"}});
  CHECK(distance(world_of(turned, 1) * turned.part(1).mesh->positions()[1], stood * Vec3{50, -20, 0}) < 1e-12);
  // A ball scaled unevenly keeps its factors; evenly it grows.
  Scene ball = stepped({}, {{"verb", "shape"}, {"kind", "sphere"}, {"at", "point 0,0,0"}, {"diameter", 16}});
  ball = stepped(ball, {{"verb", "scale"}, {"what", {"Sphere"}}, {"factor", {1, 1, 2}}});
  CHECK(shape_in(ball, 1)[Dimension::Diameter] == 16);
  CHECK(ball.part(1).placement.scale == Vec3{1, 1, 2});
  ball = stepped(ball, {{"verb", "scale"}, {"what", {"Sphere"}}, {"factor", 1.5}});
  CHECK(shape_in(ball, 1)[Dimension::Diameter] == 24);
  CHECK(ball.part(1).placement.scale == Vec3{1, 1, 2});
  // Baked, that is no ball any more.
  const Scene baked = stepped(ball, {{"verb", "bake"}, {"what", {"Sphere"}}, {"scale", true}});
  CHECK_FALSE(baked.part(1).shape);
  CHECK(world_box_of(baked).size().z == Approx(48));
  // Instances go along, or do not, as asked.
  Scene two = stepped(scene, {{"verb", "copy"}, {"instance", true}, {"what", {"Crate"}}, {"by", {100, 0, 0}}});
  const Scene both = stepped(two, {{"verb", "dimensions"}, {"what", {"Crate"}}, {"size", {nullptr, nullptr, 50}}});
  CHECK(shape_in(both, 2)[Dimension::Height] == 50);
  CHECK(both.part(1).mesh == both.part(2).mesh);
  const Scene one = stepped(
      two, {{"verb", "dimensions"}, {"what", {"Crate"}}, {"size", {nullptr, nullptr, 50}}, {"copies", "separate"}});
  CHECK(shape_in(one, 2)[Dimension::Height] == 30);
  // A mesh on request, and back by taking the step back.
  Journal journal(scene);
  const auto verb = verb_from_json({{"verb", "as-mesh"}, {"what", {"Crate"}}}, scene);
  REQUIRE(verb);
  REQUIRE(journal.add(*verb));
  CHECK_FALSE(journal.scene().part(1).shape);
  CHECK_FALSE(journal.scene().part(1).mesh->known());
  journal.undo();
  CHECK(journal.scene().part(1).shape);
}

TEST_CASE("places on a shape go with its faces, rims and axes") {
  Chance chance(41);
  for (int i = 0; i < 400; ++i) {
    const auto kind = static_cast<ShapeKind>(i % static_cast<int>(kShapeKinds));
    Shape from = usual_shape(kind), to = from;
    const double k = chance.between(0.3, 3);
    for (const Dimension d : dimensions_of(kind))
      if (d != Dimension::Sides) to[d] = from[d] * k * chance.between(0.8, 1.2);
    if (kind == ShapeKind::Cone && i % 3 == 0) from[Dimension::Top] = 10, to[Dimension::Top] = chance.between(1, 30);
    if (!check(to)) continue;
    INFO(word_of(kind) << " " << i);
    const MeshData a = mesh_data_of(from), b = mesh_data_of(to);
    REQUIRE(a.positions.size() == b.positions.size());
    const double size = 200;
    // Corners of a plate with round corners go in proportion to its sides; all others to where the new mesh has them.
    if (kind != ShapeKind::Plate)
      for (std::size_t v = 0; v < a.positions.size(); ++v)
        CHECK(distance(carried(from, to, a.positions[v]), b.positions[v]) < 1e-12 * size);
    for (std::size_t r = 0; r < a.known->rounds.size(); ++r)
      if (kind != ShapeKind::Plate)
        CHECK(distance(carried(from, to, a.known->rounds[r].centre), b.known->rounds[r].centre) < 1e-12 * size);
    // The slant of a cone stays square to it.
    if (kind == ShapeKind::Cone) {
      const auto slant = [](const Shape& s) {
        return normalized(Vec3{s[Dimension::Height], 0, (s[Dimension::Diameter] - s[Dimension::Top]) / 2});
      };
      CHECK(distance(normalized(carried_direction(from, to, slant(from))), slant(to)) < 1e-14);
    }
    CHECK(carried_direction(from, to, {0, 0, 1}) == Vec3{0, 0, 1});
    CHECK(carried(from, from, {1.25, -3.5, 7.75}) == Vec3{1.25, -3.5, 7.75});
  }
}
