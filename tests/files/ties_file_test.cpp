// Kept tacks and ties in documents; the finished demo, made from the parts by its jobs.
#include <fmt/format.h>

#include <catch2/catch.hpp>

#include "core/files/document.h"
#include "core/files/glb.h"
#include "core/files/import.h"
#include "core/fit/ties.h"
#include "core/verbs/verb.h"
#include "demo/heron_hall.h"
#include "tests/files/document_checks.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

Document opened(const Bytes& bytes) {
  const auto delivery = read_delivery(bytes, "x.glb", {});
  if (!delivery) FAIL(sentence(delivery.error()));
  auto document = document_of(*delivery);
  REQUIRE(document);
  return std::move(*document);
}

Scene finished() {
  const auto scene = demo::heron_hall(source("demo"));
  if (!scene) FAIL(sentence(scene.error()));
  return *scene;
}

// The middle of a marble of 16 mm at one end of a channel, from the mesh's own vertices: 8 mm above the middle between
// the two edges of the groove's floor, which is 3 mm above the underside.
Vec3 marble_at(const Scene& scene, const char* channel, bool out) {
  const PartId id = *find_by_path(scene, channel);
  const Mesh& mesh = *scene.part(id).mesh;
  const Affine world = world_of(scene, id);
  const Vec3 joint = find_kept(scene, id, out ? "out" : "in")->point;
  // The vertices of the end's section lie in its plane.
  const Vec3 direction = *find_kept(scene, id, out ? "out" : "in")->direction;
  std::vector<Vec3> floor;
  for (const Vec3& p : mesh.positions())
    if (std::abs(dot(p - joint, direction)) < 1e-6 && std::abs(p.z - 3) < 1e-9) floor.push_back(p);
  REQUIRE(floor.size() >= 2);
  const Vec3 low = floor.front();
  const Vec3 high = *std::max_element(
      floor.begin(), floor.end(), [&](const Vec3& a, const Vec3& b) { return distance(a, low) < distance(b, low); });
  CHECK(distance(low, high) == Approx(17).epsilon(1e-6));
  const Vec3 up = normalized(world.linear.column[2]);
  return world * ((low + high) * 0.5) + up * 8;
}

}  // namespace

TEST_CASE("kept tacks and ties are the same to the last bit after saving and opening", "[tie]") {
  const Scene scene = finished();
  REQUIRE(scene.ties().size() == 25);
  const auto bytes = write_document(scene, {});
  REQUIRE(bytes);
  const Document back = opened(*bytes);
  CHECK(back.notes.empty());
  REQUIRE(back.scene.ties().size() == scene.ties().size());
  for (std::size_t i = 0; i < scene.ties().size(); ++i) {
    Tie now = back.scene.ties()[i], was = scene.ties()[i];
    // Parts have other numbers in another scene: the texts are what has to agree.
    for (std::size_t p = 0; p < was.pairs.size(); ++p) {
      CHECK(address_text(back.scene, now.pairs[p].from) == address_text(scene, was.pairs[p].from));
      CHECK(address_text(back.scene, now.pairs[p].to) == address_text(scene, was.pairs[p].to));
    }
    now.pairs = was.pairs = {};
    now.what = was.what = {};
    CHECK(now == was);
    CHECK(state_of(back.scene.ties()[i], back.scene).kind == TieState::Kind::Exact);
  }
  for (const PartId id : scene.in_tree_order())
    CHECK(kept_of(back.scene, *find_by_path(back.scene, path_of(scene, id))) == kept_of(scene, id));
  const auto again = write_document(back.scene, back.settings);
  REQUIRE(again);
  CHECK(*again == *bytes);
  check_valid(*bytes);
  // Handed from one process to the other they are the same.
  const auto delivery = read_delivery(*bytes, "x.glb", {});
  CHECK(pack(*unpack(pack(*delivery))) == pack(*delivery));
}

TEST_CASE("ties of every kind, between awkward names, are read back as they were", "[tie]") {
  Scene s;
  const PartId a = s.add(part_of("a \"b\"/c#2", cube(20)));
  Placement aside;
  aside.position = {100, 0, 0};
  const PartId b = s.add(part_of("ä kept out", cube(20), aside));
  std::vector<Tie> ties;
  for (int i = 0; i < 12; ++i) {
    Tie tie;
    tie.name = fmt::format("tie {}", i);
    tie.what = {b};
    tie.pairs = {{vertex(b, 1), vertex(a, 2)}};
    if (i == 3) tie.pairs.push_back({vertex(b, 3), TackAddress{TackKind::Point, kNoPart, 0, {1, 2, 3}}});
    tie.facing = static_cast<Facing>(i % 3);
    tie.gap = i == 4 ? -1.0 / 3 : 0;
    tie.roll = i == 5 ? 12.25 : 0;
    tie.matched = i == 5 && tie.facing != Facing::AsIs;
    tie.shared = i == 3;
    tie.sized = i == 3;
    if (i == 6) tie.along = {true, false, true};
    if (i == 6) tie.axes = axes_of(a);
    tie.suspended = i == 7;
    ties.push_back(tie);
  }
  s.set_ties(ties);
  const Document back = opened(*write_document(s, {}));
  CHECK(back.notes.empty());
  CHECK(back.scene.ties() == ties);
}

TEST_CASE("guides are kept in documents", "[guide]") {
  Scene s;
  for (const GuideKind kind : {GuideKind::Point, GuideKind::Line, GuideKind::Plane}) {
    Part part = part_of("Guide", nullptr);
    part.guide = kind;
    part.placement.position = {1.0 / 3, 2, 3};
    part.placement.rotation = {10, 20, 30};
    s.add(part);
  }
  const auto bytes = write_document(s, {});
  REQUIRE(bytes);
  const Document back = opened(*bytes);
  for (PartId id = 1; id <= 3; ++id) CHECK(back.scene.part(id).guide == s.part(id).guide);
  CHECK(*write_document(back.scene, back.settings) == *bytes);
  check_valid(*bytes);
}

TEST_CASE("damaged kept tacks and ties are left out with a sentence, and the rest is read", "[tie]") {
  Scene s;
  const PartId a = s.add(part_of("A", cube(20)));
  s.add(part_of("B", cube(20)));
  Tie tie;
  tie.name = "good";
  tie.pairs = {{vertex(a, 1), TackAddress{TackKind::Point, kNoPart, 0, {1, 2, 3}}}};
  s.set_ties({tie});
  auto glb = read_glb(*write_document(s, {}));
  REQUIRE(glb);
  Json& layout = glb->json["scenes"][0]["extensions"]["TACKPOINT_layout"];
  const Json good = layout["ties"][0];
  for (const char* wrong :
       {R"({"name":"gone","pairs":[{"from":"\"Z\" vertex 1","to":"\"A\" vertex 1"}]})", R"({"pairs":[]})", "17",
        R"({"name":"x","pairs":"none"})", R"({"name":"y","pairs":[{"from":"\"A\" vertex 1","to":5}]})",
        R"({"name":"z","what":["A"],"pairs":[{"from":"\"A\" vertex 1","to":"point 1,2,3"}],"gap":"wide"})"})
    layout["ties"].push_back(Json::parse(wrong));
  layout["ties"].push_back(good);  // a second one of the name
  layout["ties"].back()["colour"] = "of a newer version";
  for (Json& node : glb->json["nodes"])
    if (node.contains("name") && node["name"] == "A")
      node["extensions"]["TACKPOINT_part"]["kept"] = Json::parse(
          R"([{"name":"in","point":[1,2,3],"direction":[0,0,0]},{"name":"","point":[0,0,0]},{"name":"bad","point":[1,2]},
              {"name":"in","point":[9,9,9]},17])");
  const Document back = opened(*write_glb(glb->json, glb->binary));
  CHECK(back.notes.size() == 6);
  REQUIRE(back.scene.ties().size() == 2);
  CHECK(back.scene.ties()[0].name == "good");
  CHECK(back.scene.ties()[1].name == "good 2");
  const KeptTacks& kept = kept_of(back.scene, *find_by_path(back.scene, "A"));
  REQUIRE(kept.size() == 1);
  CHECK(kept[0].point == Vec3{1, 2, 3});
  CHECK_FALSE(kept[0].direction);
  layout["ties"] = "none";
  CHECK(opened(*write_glb(glb->json, glb->binary)).scene.ties().empty());
}

TEST_CASE("a document brought into another scene brings its ties", "[tie]") {
  const auto bytes = write_document(finished(), {});
  Scene scene = finished();
  const auto bring = bring_of(*read_delivery(*bytes, "x.glb", {}), "run.glb", scene);
  REQUIRE(bring);
  const auto both = tack::apply(Verb(*bring), scene);
  REQUIRE(both);
  REQUIRE(both->ties().size() == 50);
  CHECK(both->tie("Channel 1 to Channel 2"));
  REQUIRE(both->tie("Channel 1 to Channel 2 2"));
  for (const Tie& tie : both->ties()) CHECK(state_of(tie, *both).kind == TieState::Kind::Exact);
  // The second holds on the second's parts.
  CHECK(both->tie("Channel 1 to Channel 2 2")->pairs[0].from.part !=
        both->tie("Channel 1 to Channel 2")->pairs[0].from.part);
}

TEST_CASE("the finished run: all ties exact, and a marble's middle passes every joint without a step", "[tie]") {
  const Scene scene = finished();
  for (const Tie& tie : scene.ties()) {
    INFO(tie.name);
    CHECK(state_of(tie, scene).kind == TieState::Kind::Exact);
  }
  const char* order[] = {"Channel 1", "Channel 2", "Channel 3", "Curve left", "Curve right", "Short channel"};
  double worst = 0;
  for (std::size_t i = 0; i + 1 < std::size(order); ++i) {
    const double step = distance(marble_at(scene, order[i], true), marble_at(scene, order[i + 1], false));
    INFO(order[i] << " to " << order[i + 1]);
    CHECK(step <= 0.05);
    worst = std::max(worst, step);
  }
  note_number(fmt::format("The marble's middle steps by at most {:.1e} mm at a joint of the finished run", worst));
  // It runs downhill all the way, and into the funnel: past the last joint it is over the funnel's mouth.
  double height = 1e9;
  for (const char* channel : order) {
    for (const bool out : {false, true}) {
      const double now = marble_at(scene, channel, out).z;
      CHECK(now <= height + 1e-9);
      height = now;
    }
  }
  const Vec3 end = marble_at(scene, "Short channel", true);
  const PartId funnel = *find_by_path(scene, "Funnel");
  const Vec3 mouth = world_of(scene, funnel) * scene.part(funnel).mesh->box().at({0.5, 0.5, 1});
  CHECK(mouth.z < end.z - 8);
  CHECK(std::hypot(mouth.x - end.x, mouth.y - end.y) < 60);
}

TEST_CASE("as delivered the joints do not meet", "[tie]") {
  const Scene parts = demo::heron_hall_parts();
  CHECK(parts.ties().empty());
  CHECK(distance(marble_at(parts, "Channel 1", true), marble_at(parts, "Channel 2", false)) ==
        Approx(0.4).epsilon(1e-6));
  CHECK(distance(marble_at(parts, "Channel 2", true), marble_at(parts, "Channel 3", false)) > 100);
}
