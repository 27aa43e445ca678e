#include <catch2/catch.hpp>
#include <map>

#include "core/catch/catch_scene.h"
#include "core/fit/measure.h"
#include "core/mesh/features.h"
#include "demo/shapes.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

View view_at(const Vec3& target, double turn, double tilt, double distance, bool perspective = true) {
  return view_of(Camera{target, turn, tilt, distance, perspective}, 1000, 800);
}

// The smallest distance on the picture of a point of the edge a-b from (x, y), and the way along the edge to it. What
// lies on a straight line on the picture comes nearest once, so a search by thirds finds it.
std::pair<double, double> nearest_on_picture(const View& view, const Vec3& a, const Vec3& b, double x, double y) {
  const auto off = [&](double t) {
    const auto px = view.project(a + (b - a) * t);
    return px ? std::hypot(px->x - x, px->y - y) : 1e9;
  };
  double low = 0, high = 1;
  for (int i = 0; i < 100; ++i) {
    const double one = low + (high - low) / 3, two = high - (high - low) / 3;
    (off(one) < off(two) ? high : low) = off(one) < off(two) ? two : one;
  }
  return {off(low), low};
}

// What best_tack must find, worked out without any index: every vertex, edge, centre and fixed point of every part,
// every ray against every triangle.
class Scan {
 public:
  Scan(const CatchScene& scene, const View& view, double x, double y, const CatchOptions& o)
      : scene_(scene), view_(view), x_(x), y_(y), o_(o) {}

  std::optional<Caught> best() {
    count_loose();
    for (const CatchPart& part : scene_.parts)
      if (!o_.leave_out || !o_.leave_out(part.id)) look_at(part);
    return best_;
  }

 private:
  bool hidden(const Vec3& p) const {
    // A parallel view is looked at from in front of everything.
    const Vec3 eye = view_.perspective ? view_.eye : p + view_.back() * 3000.0;
    for (const CatchPart& other : scene_.parts) {
      const Ray ray{other.to_mesh * eye, other.to_mesh.linear * (p - eye)};
      for (std::uint32_t t = 0; t < other.mesh->triangles().size(); ++t)
        if (const auto hit = ray_triangle(ray, other.mesh->corners(t));
            hit && *hit < 1 - o_.touch / distance(p, eye) - 1e-9)
          return true;
    }
    return false;
  }

  void offer(CatchKind kind, const TackAddress& address, const Vec3& p, double handicap) {
    const auto px = view_.project(p);
    if (!px || !o_.kinds.has(kind)) return;
    const double off = std::hypot(px->x - x_, px->y - y_);
    if (off > o_.radius) return;
    const Caught c{address, p, off, off + handicap, px->depth, false};
    if ((!best_ || ranks_before(c, *best_)) && !hidden(p)) best_ = c;
  }

  void count_loose() {
    std::vector<std::pair<PartId, Vec3>> places;
    for (const CatchPart& part : scene_.parts) {
      if (!part.mesh->index_if_ready() || (o_.leave_out && o_.leave_out(part.id))) continue;
      for (std::uint32_t v = 0; v < part.mesh->positions().size(); ++v) {
        const auto px = view_.project(part.world * part.mesh->positions()[v]);
        if (!px || std::hypot(px->x - x_, px->y - y_) > o_.radius || part.mesh->features().on_edge[v]) continue;
        const std::pair place{part.id, part.mesh->positions()[v]};
        if (std::find(places.begin(), places.end(), place) == places.end()) places.push_back(place);
      }
    }
    several_loose_ = places.size() > 1;
  }

  void look_at(const CatchPart& part) {
    const Mesh& mesh = *part.mesh;
    const bool known = mesh.index_if_ready() != nullptr;
    const auto at = [&](std::uint32_t v) { return part.world * mesh.positions()[v]; };
    for (std::uint32_t v = 0; v < mesh.positions().size(); ++v) {
      const bool loose = known && several_loose_ && !mesh.features().on_edge[v];
      offer(CatchKind::Vertex, {TackKind::Vertex, part.id, v, {}}, at(v),
            kVertexHandicap + (loose ? kDenseHandicap : 0));
    }
    for (int i = 0; i < 27; ++i) {
      const Vec3 f{i % 3 * 0.5, i / 3 % 3 * 0.5, i / 9 * 0.5};
      offer(CatchKind::BoxPoint, {TackKind::BoxPoint, part.id, 0, f}, part.world * mesh.box().at(f), kBoxPointHandicap);
    }
    offer(CatchKind::Pivot, {TackKind::Pivot, part.id, 0, {}}, part.world * part.pivot, kPivotHandicap);
    if (part.kept)
      for (const KeptTack& kept : *part.kept)
        offer(CatchKind::Kept, kept_tack(part.id, kept.name), part.world * kept.point, kKeptHandicap);
    if (!known) return;
    for (const FeatureEdge& e : mesh.features().edges) {
      const Vec3 a = at(e.a), b = at(e.b);
      const auto [off, way] = nearest_on_picture(view_, a, b, x_, y_);
      if (off > o_.radius) continue;
      offer(CatchKind::Edge, {TackKind::Edge, part.id, e.a, {way, 0, 0}, e.b}, a + (b - a) * way, kEdgeHandicap);
      if (e.round == FeatureEdge::kNone)
        for (int k = 1; k < o_.edge_parts; ++k) {
          const double t = static_cast<double>(k) / o_.edge_parts;
          offer(CatchKind::EdgePoint, {TackKind::Edge, part.id, e.a, {t, 0, 0}, e.b}, a + (b - a) * t,
                kEdgePointHandicap);
        }
      for (const CatchPart& other : scene_.parts) {
        if (other.id == part.id || (o_.leave_out && o_.leave_out(other.id))) continue;
        for (std::uint32_t t = 0; t < other.mesh->triangles().size(); ++t)
          if (const auto hit =
                  ray_triangle({other.to_mesh * a, other.to_mesh.linear * (b - a)}, other.mesh->corners(t));
              hit && *hit * length(b - a) > o_.touch && (1 - *hit) * length(b - a) > o_.touch)
            offer(CatchKind::EdgePoint, {TackKind::Crossing, part.id, e.a, {*hit, 0, 0}, e.b}, a + (b - a) * *hit,
                  kEdgePointHandicap);
      }
    }
    for (const MeshFace& f : mesh.features().faces)
      if (f.kind == MeshFace::Kind::Flat && f.area > 0)
        offer(CatchKind::FaceCentre, {TackKind::FaceCentre, part.id, f.triangle, {}}, part.world * f.centre,
              kFaceCentreHandicap);
    for (const RoundEdge& r : mesh.features().rounds)
      offer(CatchKind::RoundCentre, {TackKind::RoundCentre, part.id, r.vertex, {}}, part.world * r.centre,
            kRoundCentreHandicap);
  }

  const CatchScene& scene_;
  const View& view_;
  double x_, y_;
  const CatchOptions& o_;
  bool several_loose_ = false;
  std::optional<Caught> best_;
};

}  // namespace

TEST_CASE("the best tack of all kinds is the one a plain scan finds") {
  Chance chance(61);
  int found = 0;
  std::map<TackKind, int> kinds;
  const MeshPtr peg = *make_mesh(demo::lathe({{9, 0}, {9, 30}}, 24)), ball = *make_mesh(demo::sphere(20, 24, 12));
  for (int round = 0; round < 24; ++round) {
    Scene s;
    for (int i = 0; i < 6; ++i) {
      // Meshes of their own: whether an index is there is a property of the mesh.
      const MeshPtr mesh = i % 4 == 0 ? cube(30) : i % 4 == 1 ? peg : i % 4 == 2 ? ball : blob(chance, 60);
      if (round % 4 != 0) mesh->index(), mesh->features();
      Part part = part_of("P", mesh, chance.placement(round % 2 == 0 ? 60 : 25));
      if (round % 3 == 0)
        part.kept = std::make_shared<const KeptTacks>(
            KeptTacks{{"in", chance.point(30), chance.direction(), {}}, {"out", mesh->positions()[0], {}, {}}});
      s.add(std::move(part));
    }
    const CatchScene prepared = make_catch_scene(s);
    for (int i = 0; i < 60; ++i) {
      const View view = view_at(chance.point(40), chance.between(-180, 180), chance.between(-80, 80),
                                chance.between(300, 900), i % 2 == 0);
      double x = chance.between(200, 800), y = chance.between(150, 650);
      if (i % 2 == 0) {
        // Near something that is rarer than vertices and edges.
        const CatchPart& part = prepared.parts[static_cast<std::size_t>(chance.whole(0, 5))];
        const Features& f = part.mesh->features();
        const Vec3 rare = !f.rounds.empty() && i % 4 == 0 ? f.rounds[0].centre
                          : part.kept && i % 4 == 2       ? part.kept->front().point
                          : i % 6 == 0                    ? part.mesh->box().at({0.5, 0.5, 1})
                                                          : f.faces.back().centre;
        if (const auto px = view.project(part.world * rare)) x = px->x + 2, y = px->y - 1;
      }
      CatchOptions o;
      o.radius = chance.between(4, 40);
      o.edge_parts = 2 + i % 3;
      o.kinds.set(CatchKind::Face, false);
      o.kinds.set(CatchKind::Axis, false);
      // Each kind by itself too; and all of them without those that win most often.
      if (i % 3 == 1) o.kinds = CatchKinds::only(static_cast<CatchKind>(i / 3 % 4));
      if (i % 3 == 2) o.kinds.set(CatchKind::Vertex, false);
      if (i % 5 == 2) o.kinds.set(CatchKind::Edge, false), o.kinds.set(CatchKind::EdgePoint, false);
      // Without edges a centre is had by its rim, which the scan does not know.
      if (!o.kinds.has(CatchKind::Edge)) o.kinds.set(CatchKind::RoundCentre, false);
      if (i % 4 == 0) o.leave_out = [](PartId id) { return id % 2 == 0; };
      auto a = best_tack(prepared, view, x, y, o);
      if (a && a->score >= kFaceScore) a.reset();  // what the surface leads to when nothing is near
      const auto b = Scan(prepared, view, x, y, o).best();
      INFO("round " << round << " try " << i << (a ? " " + feature_text(a->address) : " none")
                    << (b ? " " + feature_text(b->address) : " none"));
      REQUIRE(a.has_value() == b.has_value());
      if (!a) continue;
      ++found;
      ++kinds[a->address.kind];
      CHECK(a->score == Approx(b->score).margin(kScoreTie));
      if (std::abs(a->score - b->score) < 1e-9)
        CHECK(distance(a->point, b->point) < 1e-3);  // the search by thirds is no better
      // What is caught is found again by its address, at the same place.
      const auto tack = find_tack(s, a->address);
      REQUIRE(tack);
      CHECK(distance(tack->point, a->point) < 1e-9 * (100 + length(a->point)));
    }
  }
  CHECK(found > 300);
  for (const TackKind kind : {TackKind::Vertex, TackKind::Edge, TackKind::Crossing, TackKind::RoundCentre,
                              TackKind::FaceCentre, TackKind::BoxPoint, TackKind::Kept}) {
    INFO(static_cast<int>(kind));
    CHECK(kinds[kind] > 3);
  }
}

TEST_CASE("what is covered is caught only when asked for, and marked") {
  Scene s;
  s.add(part_of("Wall", cube(100)));
  Placement behind;
  behind.position = {40, 150, 40};
  s.add(part_of("Pin", cube(20), behind));
  const CatchScene prepared = make_catch_scene(s);
  const View view = view_at({50, 50, 50}, 0, 0, 1000, false);
  const auto px = view.project({40, 150, 40});
  CatchOptions o;
  o.kinds = CatchKinds::only(CatchKind::Vertex);
  CHECK_FALSE(best_tack(prepared, view, px->x, px->y, o));
  const auto all = all_tacks(prepared, view, px->x, px->y, o);
  REQUIRE_FALSE(all.empty());
  CHECK(all.front().behind);
  CHECK(all.front().address.part == 2);
  // Looking through what moves: the wall no longer hides it.
  o.see_through = [](PartId id) { return id == 1; };
  CHECK(best_tack(prepared, view, px->x, px->y, o));
}

TEST_CASE("hidden parts are not there to be caught or struck") {
  Scene s;
  Part box = part_of("Box", cube(50));
  box.hidden = true;
  s.add(box);
  CHECK(make_catch_scene(s).parts.empty());
}

TEST_CASE("a vertex wins over a box point at the same place, the nearer of two over the farther") {
  Caught vertex{{TackKind::Vertex, 2, 5, {}}, {}, 3, 3 + kVertexHandicap, 100, false};
  Caught corner{{TackKind::BoxPoint, 1, 0, {}}, {}, 3, 3 + kBoxPointHandicap, 50, false};
  CHECK(ranks_before(vertex, corner));
  Caught nearer = vertex;
  nearer.depth = 90;
  nearer.score += kScoreTie / 2;
  CHECK(ranks_before(nearer, vertex));
  Caught lower = vertex;
  lower.address.part = 1;
  CHECK(ranks_before(lower, vertex));
}

TEST_CASE("the pointer strikes the nearest surface") {
  Scene s;
  s.add(part_of("Near", cube(10)));
  Placement far;
  far.position = {0, 50, 0};
  s.add(part_of("Far", cube(10), far));
  const CatchScene prepared = make_catch_scene(s);
  const View view = view_at({5, 5, 5}, 0, 0, 500);
  const auto px = view.project({5, 0, 5});
  const auto struck = strike(prepared, view, px->x, px->y);
  REQUIRE(struck);
  CHECK(struck->part == 1);
  CHECK(struck->point.y == Approx(0).margin(1e-9));
  CHECK(strike(prepared, view, px->x, px->y, [](PartId id) { return id == 1; })->part == 2);
  CHECK_FALSE(strike(prepared, view, 3, 3));
}

TEST_CASE("a rectangle picks what it encloses, or what it touches") {
  Scene s;
  s.add(part_of("A", cube(10)));
  Placement right;
  right.position = {20, 0, 0};
  s.add(part_of("B", cube(10), right));
  const CatchScene prepared = make_catch_scene(s);
  const View view = view_at({15, 5, 5}, 0, 0, 200, false);
  const auto low = view.project({-1, 0, -1}), high = view.project({25, 0, 11});
  CHECK(parts_in_rectangle(prepared, view, low->x, high->y, high->x, low->y, false) == std::vector<PartId>{1});
  CHECK(parts_in_rectangle(prepared, view, low->x, high->y, high->x, low->y, true) == std::vector<PartId>{1, 2});
}
