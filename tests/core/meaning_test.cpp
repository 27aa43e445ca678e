// What the keys of a step mean beside each other, and that sentences say what the stored numbers show.
#include <nlohmann/json.hpp>

#include "core/verbs/journal.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {

// A board at the origin; a post far from it; a drum turned 34° round z; a group, turned and uneven, with a bar in it.
Scene hall() {
  Scene s;
  s.add(part_of("Board", cube(100)));
  s.add(part_of("Post", cube(20), {{500, 0, 0}, {}, {1, 1, 1}, {}, {}}));
  s.add(part_of("Drum", cube(30), {{0, 300, 0}, {0, 0, 34}, {1, 1, 1}, {}, {}}));
  const PartId group = s.add(part_of("Rack", nullptr, {{100, 200, 300}, {0, 0, 30}, {2, 1, 0.5}, {}, {}}));
  s.add(part_of("Bar", cube(10), {{10, 20, 30}, {20, 0, 0}, {1, 1, 1}, {}, {}}, group));
  return s;
}

PartId named(const Scene& scene, const char* path) { return *find_by_path(scene, path); }

std::string refusal(const char* json, const Scene& scene) {
  const auto verb = verb_from_json(Json::parse(json), scene);
  if (!verb) return sentence(verb.error());
  const auto after = tack::apply(*verb, scene);
  return after ? std::string() : sentence(after.error());
}

// The step, done; and what it says.
std::pair<Scene, std::string> told(const char* json, const Scene& scene) {
  const auto verb = verb_from_json(Json::parse(json), scene);
  INFO((verb ? std::string() : sentence(verb.error())));
  REQUIRE(verb);
  Journal journal(scene);
  const auto ok = journal.add(*verb);
  INFO((ok ? std::string() : sentence(ok.error())));
  REQUIRE(ok);
  const Step& step = *journal.record().steps.back();
  return {journal.scene(), plain_text(step.words) + " | " + step.remark};
}

bool says(const std::string& text, const char* words) { return text.find(words) != std::string::npos; }

}  // namespace

TEST_CASE("the axes of a mirrored part are those that its rotation reads, in every verb", "[meaning]") {
  Scene scene = hall();
  const PartId post = named(scene, "Post"), drum = named(scene, "Drum");
  Placement p = scene.part(post).placement;
  p.scale = {-1, 1, 1};
  scene.place(post, p);
  CHECK(told(R"({"verb": "move", "what": ["Post"], "axes": "local", "by": [0, 0, 10]})", scene)
            .first.part(post)
            .placement.position == Vec3{500, 0, 10});
  CHECK(told(R"({"verb": "move", "what": ["Post"], "axes": "local", "by": [7, 0, 0]})", scene)
            .first.part(post)
            .placement.position == Vec3{507, 0, 0});
  CHECK(told(R"({"verb": "place", "what": ["Drum"], "axes": {"of": "Post"}, "position": [0, 0, 150]})", scene)
            .first.part(drum)
            .placement.position == Vec3{500, 0, 150});
  CHECK(told(R"({"verb": "meet", "pairs": [{"from": "\"Drum\" pivot", "to": "\"Post\" pivot"}], "gap": 5})", scene)
            .first.part(drum)
            .placement.position == Vec3{500, 0, 5});
  CHECK(told(R"({"verb": "rotate", "what": ["Drum"], "like": "Post"})", scene).first.part(drum).placement.rotation ==
        Vec3{0, 0, 0});
  CHECK(told(R"({"verb": "place", "what": ["Post"], "axes": "local", "rotation": [0, 0, 0]})", scene)
            .first.part(post)
            .placement == p);
  CHECK(told(R"({"verb": "rotate", "what": ["Post"], "axes": "local", "round": "z", "angle": 30})", scene)
            .first.part(post)
            .placement.rotation == Vec3{0, 0, 30});
  CHECK(told(R"({"verb": "pivot", "what": ["Drum"], "turned": {"like": "Post"}})", scene)
            .first.part(drum)
            .placement.rotation == Vec3{0, 0, 0});
  // Two factors negative, and mirrored along z: as the rotation reads, too.
  for (const Vec3& factors : {Vec3{1, 1, -1}, {-1, -1, 1}, {-1, 1, -1}, {-1, -1, -1}}) {
    p.scale = factors;
    scene.place(post, p);
    CHECK(own_axes(scene, post) == Mat3{});
  }
}

TEST_CASE("a key that means nothing beside the others is refused, and said why", "[meaning]") {
  const Scene scene = hall();
  const std::string two =
      R"("pairs": [{"from": "\"Post\" vertex 0", "to": "\"Board\" vertex 1"}, {"from": "\"Post\" vertex 4", "to": "\"Board\" vertex 5"}])";
  const std::string one = R"("pairs": [{"from": "\"Post\" vertex 0", "to": "\"Board\" vertex 1"}])";
  const auto meet = [&](const std::string& rest) {
    return refusal((R"({"verb": "meet", )" + rest + "}").c_str(), scene);
  };
  CHECK(says(meet(two + R"(, "roll": 30)"), "one pair only"));
  CHECK(says(meet(two + R"(, "from-roll": true)"), "one pair only"));
  CHECK(says(meet(two + R"(, "along": "x")"), "one pair only"));
  CHECK(says(meet(one + R"(, "sized": true)"), "several pairs"));
  CHECK(says(meet(one + R"(, "share": true)"), "several pairs"));
  CHECK(says(meet(one + R"(, "facing": "as-is", "from-roll": true)"), "goes with facing"));
  CHECK(says(meet(one + R"(, "from-roll": true)"), "comes as it stands"));
  const std::string hold = one + R"(, "hold": "\"Post\" vertex 6")";
  CHECK(says(meet(hold + R"(, "gap": 5)"), "left to its size"));
  CHECK(says(meet(hold + R"(, "facing": "facing")"), "leaves no choice"));
  CHECK(says(meet(hold + R"(, "share": true)"), "several pairs"));
  CHECK(meet(hold + R"(, "roll": 30)").empty());
  CHECK(meet(hold + R"(, "sized": true)").empty());
  CHECK(says(meet(R"("pairs": [{"from": "\"Post\" vertex 0", "to": "\"Board\" vertex 1", "x": 1}])"),
             "\"x\" is not a key"));
  CHECK(says(
      refusal(
          R"({"verb": "move", "what": ["Post"], "from": "\"Post\" vertex 0", "to": "point 1,2,3", "slide": "face", "slide-on": "\"Board\" face-centre 0", "along": "x"})",
          scene),
      "not both"));
  CHECK(says(refusal(R"({"verb": "move", "what": ["Post"], "by": [1, 2, 3], "along": "x"})", scene),
             "goes with From and To"));
  CHECK(says(refusal(R"({"verb": "move", "what": ["Post"], "by": [1, 2, 3], "along": 1e308})", scene),
             "does not name axes"));
  CHECK(says(
      refusal(
          R"({"verb": "move", "what": ["Post"], "from": "\"Post\" vertex 0", "to": "point 1,2,3", "slide-on": "\"Board\" face-centre 0"})",
          scene),
      "slides on nothing"));
  CHECK(says(refusal(R"({"verb": "place", "what": ["Post"], "position": [null, null, null]})", scene),
             "needs a position"));
  CHECK(says(refusal(R"({"verb": "place", "what": ["Post", "Post"], "position": [0, 0, 0]})", scene), "named twice"));
  std::string many = R"({"verb": "lock", "what": ["Post")";
  for (int i = 0; i < 10; ++i) many += R"(, "Board")";
  CHECK(says(refusal((many + "]}").c_str(), scene), "named twice"));
}

TEST_CASE("axes of a view are right-handed and square, or they are refused", "[meaning]") {
  const Scene scene = hall();
  const auto by = [&](const char* view) {
    return fmt::format(R"({{"verb": "move", "what": ["Post"], "by": [1, 0, 0], "axes": {{"view": {}}}}})", view);
  };
  for (const char* bad : {"[[1,0,0],[0,1,0],[0,0,-1]]", "[[0,0,0],[0,0,0],[0,0,0]]", "[[1,0,0],[0.01,1,0],[0,0,1]]",
                          "[[2,0,0],[0,2,0],[0,0,2]]", "[[1,0,0],[0,1,0]]"})
    CHECK_FALSE(refusal(by(bad).c_str(), scene).empty());
  CHECK_FALSE(says(told(by("[[0,1,0],[0,0,1],[1,0,0]]").c_str(), scene).second, "squared up"));
  const auto [after, words] = told(by("[[1,0,0],[1e-7,1,0],[0,0,1]]").c_str(), scene);
  CHECK(says(words, "View (squared up by 1e-07) axes"));
  CHECK(after.part(named(scene, "Post")).placement.position == Vec3{501, 0, 0});
}

TEST_CASE("a turn round an edge is about that edge until another point is named, and the sentence says which",
          "[meaning]") {
  Scene scene = hall();
  const PartId drum = named(scene, "Drum");
  Placement aside = scene.part(drum).placement;
  aside.position = {40, 300, 60};
  scene.place(drum, aside);
  const auto [edge, edge_words] =
      told(R"({"verb": "rotate", "what": ["Drum"], "round": "\"Board\" edge 0-1", "angle": 90})", scene);
  CHECK(says(edge_words, "about edge middle of Board"));
  CHECK(edge.part(drum).placement.position != scene.part(drum).placement.position);
  const auto [pivot, pivot_words] = told(
      R"({"verb": "rotate", "what": ["Drum"], "round": "\"Board\" edge 0-1", "angle": 90, "about": "pivot"})", scene);
  CHECK(says(pivot_words, "about its pivot"));
  CHECK(pivot.part(drum).placement.position == scene.part(drum).placement.position);
  // Chosen in the window, and taken back.
  Verb rotate = Rotate{.what = {drum}};
  rotate = *with_place(rotate, blank_of(rotate, "round"), {TackKind::Edge, named(scene, "Board"), 0, {0.5, 0, 0}, 1});
  CHECK(std::get<Rotate>(rotate).about.kind == About::Kind::Place);
  rotate = *with_option(rotate, blank_of(rotate, "round"), 2, scene, {});
  CHECK(std::get<Rotate>(rotate).about == About{});
}

TEST_CASE("`it` is 0 in a blank for a change, and the value before the step for a part and its child alike",
          "[meaning]") {
  const Scene scene = hall();
  const PartId post = named(scene, "Post"), rack = named(scene, "Rack"), bar = named(scene, "Bar");
  CHECK(told(R"({"verb": "move", "what": ["Post"], "by": ["it + 5", "it * 3", 0]})", scene)
            .first.part(post)
            .placement.position == Vec3{505, 0, 0});
  CHECK(told(R"({"verb": "copy", "what": ["Post"], "by": ["it + 5", 0, 0]})", scene).first.part(6).placement.position ==
        Vec3{505, 0, 0});
  const Vec3 to = at(scene, vertex(named(scene, "Board"), 1));
  const Scene gap =
      told(
          R"({"verb": "meet", "pairs": [{"from": "\"Post\" face-centre 2", "to": "\"Board\" face-centre 2"}], "gap": "it + 1", "roll": "it + 2"})",
          scene)
          .first;
  CHECK(distance(at(gap, {TackKind::FaceCentre, post, 2, {}}),
                 at(scene, {TackKind::FaceCentre, named(scene, "Board"), 2, {}})) == Approx(1));
  (void)to;
  const Vec3 was = at(scene, {TackKind::Pivot, bar, 0, {}});
  const Scene both =
      told(R"({"verb": "place", "what": ["Rack", "Rack/Bar"], "position": ["it + 10", null, null]})", scene).first;
  CHECK(both.part(rack).placement.position == Vec3{110, 200, 300});
  CHECK(at(both, {TackKind::Pivot, bar, 0, {}}).x == Approx(was.x + 10).epsilon(1e-14));
}

TEST_CASE("another part's numbers are read in the step's axes, and a length is no angle", "[meaning]") {
  const Scene scene = hall();
  const PartId post = named(scene, "Post");
  CHECK(says(refusal(R"({"verb": "place", "what": ["Post"], "rotation": ["x of \"Drum\"", null, null]})", scene),
             "an angle is needed"));
  CHECK(says(refusal(R"({"verb": "place", "what": ["Post"], "scale": ["width of \"Drum\"", null, null]})", scene),
             "a factor is needed"));
  CHECK(says(refusal(R"({"verb": "place", "what": ["Post"], "rotation": ["90 + x of \"Drum\"", null, null]})", scene),
             "different kinds") == false);
  const Scene ratio =
      told(R"({"verb": "place", "what": ["Post"], "scale": ["height of \"Board\" / height of \"Post\"", null, null]})",
           scene)
          .first;
  CHECK(ratio.part(post).placement.scale == Vec3{5, 1, 1});
  const Scene of =
      told(
          R"({"verb": "place", "what": ["Post"], "axes": {"of": "Drum"}, "position": ["x of \"Drum\"", "y of \"Drum\" + 5", "height of \"Board\""]})",
          scene)
          .first;
  const Mat3 axes = own_axes(scene, named(scene, "Drum"));
  CHECK(distance(of.part(post).placement.position, Vec3{0, 300, 0} + axes * Vec3{0, 5, 100}) < 1e-12);
  // In the parent's own units, for a child.
  const Scene parent =
      told(
          R"({"verb": "place", "what": ["Rack/Bar"], "axes": "parent", "position": ["x of \"Rack/Bar\" + 1", null, null]})",
          scene)
          .first;
  CHECK(parent.part(named(scene, "Bar")).placement.position.x == Approx(11).epsilon(1e-13));
}

TEST_CASE("what is not reached is measured and stands in the sentence", "[meaning]") {
  const Scene scene = hall();
  const auto scaled = told(
      R"({"verb": "scale", "what": ["Post"], "from": "\"Post\" vertex 6", "to": "point 900,300,100", "hold": "\"Post\" vertex 0", "evenly": true})",
      scene);
  CHECK(says(scaled.second, "came towards point 900, 300, 100"));
  CHECK(says(scaled.second, "It is apart by"));
  CHECK_FALSE(says(scaled.second, "reached"));
  const auto along = told(
      R"({"verb": "move", "what": ["Post"], "from": "\"Post\" vertex 0", "to": "\"Board\" vertex 6", "along": "x"})",
      scene);
  CHECK(says(along.second, "towards vertex of Board"));
  const auto exact =
      told(R"({"verb": "move", "what": ["Post"], "from": "\"Post\" vertex 0", "to": "\"Board\" vertex 6"})", scene);
  CHECK(says(exact.second, "to vertex of Board"));
  CHECK_FALSE(says(exact.second, "apart"));
  const auto evenly = told(R"({"verb": "scale", "what": ["Post"], "like": "Board", "evenly": true})", scene);
  CHECK(says(evenly.second, "as big as fits the size of Board"));
  // A skew that comes of a step is said, with a reason that is true.
  CHECK(says(told(R"({"verb": "ungroup", "what": ["Rack"]})", scene).second,
             "because what it stood in is scaled unevenly"));
  CHECK(says(told(R"({"verb": "bake", "what": ["Rack"], "scale": true})", scene).second, "into what is in it"));
  CHECK(says(told(R"({"verb": "pivot", "what": ["Rack"], "turned": "world"})", scene).second, "Bar is skewed"));
  CHECK_FALSE(says(told(R"({"verb": "place", "what": ["Post"], "skew": [1, 0, 0]})", scene).second, "because"));
  CHECK(says(told(R"({"verb": "guide", "kind": "line", "at": "point 1,2,3"})", scene).second, "along World Z"));
  CHECK(says(told(R"({"verb": "guide", "kind": "plane", "at": "\"Board\" mass"})", scene).second, "across World Z"));
  CHECK_FALSE(says(told(R"({"verb": "guide", "kind": "line", "at": "\"Board\" edge 0-1"})", scene).second, "World Z"));
}

TEST_CASE("factors and places beyond all measure are refused where they are made", "[meaning]") {
  const Scene scene = hall();
  CHECK(says(refusal(R"({"verb": "scale", "what": ["Post"], "factor": [1e-12, 1, 1]})", scene), "1e-09 to 1e+09"));
  CHECK_FALSE(refusal(R"({"verb": "scale", "what": ["Post"], "factor": [1e308, 1, 1]})", scene).empty());
  CHECK(says(refusal(R"({"verb": "move", "what": ["Post"], "by": [1e300, 0, 0]})", scene), "1e+300 mm away"));
  const auto small = told(R"({"verb": "scale", "what": ["Post"], "factor": [0.0000012, 1, 1]})", scene);
  CHECK(says(small.second, "0.0000012 · 1 · 1"));
  CHECK(show_factor(1e-9).text == "0.000000001");
  CHECK(show_number(1e300, 4).text == "1e+300");
}

TEST_CASE("an address beside its edge, face or box, and an edge that the mesh has not, are no places", "[meaning]") {
  const Scene scene = hall();
  for (const char* bad : {"edge 0-1 at 1.5", "edge 0-1 at -0.1", "face 0 at 0.9,0.9", "face 0 at -0.1,0.5", "box 2,0,0",
                          "world-box 0,0,-1"})
    CHECK_FALSE(parse_address(scene, fmt::format("\"Board\" {}", bad)));
  const auto diagonal = parse_address(scene, "\"Board\" edge 0-6");
  const auto through = parse_address(scene, "\"Board\" edge 1-7");
  REQUIRE((diagonal && through));
  int none = 0;
  for (const auto& address : {*diagonal, *through}) none += !find_tack(scene, address);
  CHECK(none == 2);  // the two ways through the middle of the cube
  const auto edge = parse_address(scene, "\"Board\" edge 0-1 at 1");
  CHECK((edge && find_tack(scene, *edge)));
  const auto round = parse_address(scene, "\"Board\" round 1");
  REQUIRE(round);
  CHECK(says(sentence(find_tack(scene, *round).error()), "It has none"));
}

TEST_CASE("copies of copies, and tacks kept on one part, have a limit that is said", "[meaning]") {
  Scene scene;
  const PartId root = scene.add(part_of("Root", nullptr));
  for (int i = 0; i < 9999; ++i) scene.add(part_of("Leaf", nullptr, {}, root));
  Result<Scene> more = scene;
  std::string refused;
  for (int i = 0; i < 6 && refused.empty(); ++i) {
    Copy copy;
    copy.what = scene.roots();
    copy.instance = true;
    more = tack::apply(Verb(copy), scene);
    if (more)
      scene = *more;
    else
      refused = sentence(more.error());
  }
  CHECK(says(refused, "250000 is the most"));
  CHECK(scene.size() <= 250000);
  Scene one = hall();
  const PartId post = named(one, "Post");
  for (int i = 0; i < 1000; ++i) one = done(keep(post, vertex(post, 0), fmt::format("k{}", i)), one);
  const auto last = tack::apply(Verb(keep(post, vertex(post, 0), "one more")), one);
  REQUIRE_FALSE(last);
  CHECK(says(sentence(last.error()), "1000 kept tacks"));
  CHECK(tack::apply(Verb(keep(post, vertex(post, 1), "k7")), one));  // in place of one that is there
}
