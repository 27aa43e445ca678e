#include <catch2/catch.hpp>

#include <nlohmann/json.hpp>

#include "core/catch/typed_place.h"
#include "core/math/degrees.h"
#include "core/mesh/extent.h"
#include "core/mesh/mesh_index.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {

// A post, a hub with a lever below it, and a group that is scaled unevenly with a sign in it.
Scene stand() {
  Scene s;
  s.add(part_of("Post", cube(20)));                                                  // 1
  s.add(part_of("Hub", cube(30), {{100, 0, 0}, {0, 0, 90}, {1, 1, 1}, {}, {}}));     // 2
  s.add(part_of("Lever", cube(10), {{0, 40, 0}, {}, {1, 1, 1}, {}, {}}, 2));         // 3
  s.add(part_of("Wide", nullptr, {{0, 200, 0}, {}, {3, 1, 1}, {}, {}}));             // 4
  s.add(part_of("Sign", cube(10), {{10, 0, 0}, {0, 0, 30}, {1, 1, 1}, {}, {}}, 4));  // 5
  return s;
}

const EntryContext kLengths{EntryKind::Length, kMillimetres, std::nullopt, {}};

template <typename V>
V about(V verb, std::vector<PartId> what) {
  verb.what = std::move(what);
  return verb;
}

// The verb with the entry of the list that has these words.
std::optional<Verb> chosen(const Verb& verb, std::string_view key, std::string_view words, const Scene& s) {
  const BlankId blank = blank_of(verb, key);
  const auto options = options_of(verb, blank, s, {});
  for (std::size_t i = 0; i < options.size(); ++i)
    if (options[i].words == words) return with_option(verb, blank, i, s, {});
  return std::nullopt;
}

}  // namespace

TEST_CASE("every value blank of a sentence takes a value, and says it in the sentence") {
  const Scene s = stand();
  Place place = about(Place{}, {1});
  place.position[0] = Amount{1};
  place.rotation[2] = Amount{30};
  place.scale[1] = Amount{2};
  place.skew[0] = Amount{0.5};
  Scale scale = about(Scale{}, {1});
  scale.size[0] = Amount{5};
  Pivot pivot = about(Pivot{}, {1});
  pivot.at = bottom();
  Meet meet = about(Meet{}, {1});
  meet.facing = Facing::Facing;
  meet.from = TackAddress{TackKind::Pivot, 1, 0, {}};
  meet.to = TackAddress{TackKind::Pivot, 2, 0, {}};
  const Verb verbs[] = {place, scale, pivot, meet, about(Move{}, {1}), about(Rotate{}, {1}), about(Copy{}, {1})};
  int seen = 0;
  for (const Verb& verb : verbs)
    for (const Word& word : sentence(verb, s, Tense::Past)) {
      if (!number_kind(verb, word.blank) || word.offer) continue;
      ++seen;
      INFO(plain_text(sentence(verb, s, Tense::Past)) << " · " << word.text << " · " << word.name);
      CHECK(word.typed);
      CHECK(!word.name.empty());
      const auto changed = with_value(verb, word.blank, Amount{0.25});
      REQUIRE(changed);
      CHECK(value_in(*changed, word.blank) == 0.25);
      bool said = false;
      for (const Word& now : sentence(*changed, s, Tense::Past))
        said |= now.blank == word.blank && now.text.find("0.25") != std::string::npos;
      CHECK(said);
    }
  CHECK(seen == 4 + 6 + 3 + 2 + 3 + 1 + 3);
}

TEST_CASE("a value in a blank puts aside what excludes it") {
  Move move = about(Move{}, {1});
  move.from = TackAddress{TackKind::Pivot, 1, 0, {}};
  move.to = TackAddress{TackKind::Pivot, 2, 0, {}};
  const auto with = [](const Verb& verb, std::string_view key, std::size_t i, double value) {
    return with_value(verb, blank_of(verb, key, i), Amount{value});
  };
  CHECK(!std::get<Move>(*with(move, "by", 1, 4)).from);
  Scale scale = about(Scale{}, {1});
  scale.factor[1] = Amount{3};
  const Scale sized = std::get<Scale>(*with(scale, "size", 1, 40));
  CHECK(!sized.factor[1]);
  CHECK(sized.size[1] == Amount{40});
  scale.like = 2;
  scale.evenly = true;
  const Scale even = std::get<Scale>(*with(scale, "factor", 2, 2));
  CHECK(even.like == kNoPart);
  CHECK(!even.factor[1]);
  Rotate rotate = about(Rotate{}, {1});
  rotate.like = Like{2, {true, true, true}, false};
  CHECK(std::get<Rotate>(*with(rotate, "angle", 0, 4)).like.part == kNoPart);
  Pivot pivot = about(Pivot{}, {1});
  pivot.at = bottom();
  CHECK(!std::get<Pivot>(*with(pivot, ".number", 0, 4)).at);
  CHECK(!with(about(Pivot{}, {1}), ".fraction", 0, 0.5));
  CHECK(!with(move, "angle", 0, 4));
  CHECK(!with(about(Delete{}, {1}), "by", 0, 4));
}

TEST_CASE("the choices of a blank change the verb and the sentence, and nothing else takes them") {
  const Scene s = stand();
  const std::tuple<Verb, const char*, const char*, const char*> cases[] = {
      {about(Copy{}, {1}), "instance", "as an instance", "Copied Post as an instance, offset 0 mm · 0 mm · 0 mm."},
      {Show{{1}, true}, "shown", "hidden", "Hid Post."},
      {Lock{{1}, false}, "locked", "locked", "Locked Post."},
      {Reparent{{3}, kNoPart, Reparent::Keeps::Place}, "keep", "the numbers",
       "Put Lever at the top of the tree, keeping the numbers."},
      {about(Bake{}, {1}), ".baked", "rotation and scale", "Baked the rotation and scale of Post into the mesh."},
      {about(FitBox{}, {1}), "copies", "its instances with it",
       "Made the box of Post the tightest that can be found, its instances with it."}};
  for (const auto& [verb, key, choice, words] : cases) {
    const auto changed = chosen(verb, key, choice, s);
    INFO(words);
    REQUIRE(changed);
    CHECK(plain_text(sentence(*changed, s, Tense::Past)) == words);
    CHECK(!with_option(verb, blank_of(verb, key), 99, s, {}));
    CHECK(!with_option(verb, blank_of(verb, "gap"), 0, s, {}));
  }
  const Verb rename = Rename{1, "Post 9"};
  CHECK(plain_text(sentence(*with_text(rename, blank_of(rename, "name"), "Mast"), s, Tense::Past)) ==
        "Renamed Post to Mast.");
  const Verb group = Group{{1}, {}, {}};
  CHECK(std::get<Group>(*with_text(group, blank_of(group, "name"), "Stand")).name == "Stand");
  CHECK(!with_text(Show{{1}, true}, blank_of(group, "name"), "x"));
}

TEST_CASE("a verb about other parts takes the same feature of the first of them") {
  Meet meet;
  meet.from = TackAddress{TackKind::Vertex, 1, 3, {}};
  meet.to = TackAddress{TackKind::Pivot, 2, 0, {}};
  meet.what = {1};
  const Meet moved = std::get<Meet>(*with_parts(meet, {5, 3}));
  CHECK(moved.what == std::vector<PartId>{5, 3});
  CHECK(moved.from->part == 5);
  CHECK(moved.from->index == 3);
  CHECK(moved.to->part == 2);
  // A verb about nothing else cannot be repeated.
  CHECK(!with_parts(Rename{1, "A"}, {5}));
  CHECK(!with_parts(CloseTie{"joint", {}}, {5}));
}

TEST_CASE("each way out of skew does what it says") {
  const Scene s = stand();
  // A turn in World axes under an unevenly scaled parent, a size along World of a turned part, a parent that distorts.
  Place place = about(Place{}, {5});
  place.rotation[2] = Amount{45};
  Scale scale = about(Scale{}, {5});
  scale.axes = AxesKind::World;
  scale.factor[0] = Amount{2};
  Scene turned = s;
  turned.place(1, {{0, 0, 0}, {0, 0, 30}, {1, 1, 1}, {}, {}});
  const Verb verbs[] = {place, scale, Reparent{{1}, 4, Reparent::Keeps::Place}};
  for (const Verb& verb : verbs) {
    const Scene& before = std::holds_alternative<Reparent>(verb) ? turned : s;
    const Scene after = done(verb, before);
    const auto remedies = remedies_of(verb, before, after);
    INFO(plain_text(sentence(verb, before, Tense::Past)));
    REQUIRE(remedies.size() >= 3);
    CHECK(!remark(verb, before, after).empty());
    for (const Remedy& remedy : remedies) {
      INFO(remedy.words);
      const Scene out = remedy.instead ? done(*remedy.instead, before)
                        : remedy.then  ? done(*remedy.then, after)
                                       : after;
      const PartId part = parts_of(verb, before).front();
      const bool skewed = largest_component(out.part(part).placement.skew) > 1e-9;
      CHECK(skewed == (!remedy.instead && !remedy.then));
      if (!remedy.then) continue;
      // Baked: not a vertex has moved.
      for (std::size_t v = 0; v < out.part(part).mesh->positions().size(); ++v)
        CHECK(distance(world_of(out, part) * out.part(part).mesh->positions()[v],
                       world_of(after, part) * after.part(part).mesh->positions()[v]) < 1e-11);
    }
  }
  CHECK(remedies_of(about(Move{}, {5}), s, s).empty());
}

TEST_CASE("a place is typed as three lengths along axes, or by its address") {
  const Scene s = stand();
  const auto at = [&](std::string_view text, const Affine& frame = {}) {
    const auto place = typed_place(s, text, kLengths, frame);
    INFO(text);
    REQUIRE(place);
    const auto tack = find_tack(s, *place);
    REQUIRE(tack);
    return tack->point;
  };
  CHECK(distance(at("120, 2 cm, -3/8 in"), {120, 20, -9.525}) < 1e-14);
  CHECK(at(" ,, 300") == Vec3{0, 0, 300});
  CHECK(at("=1+1, (2), 2'") == Vec3{2, 2, 609.6});
  CHECK(at("\"Hub\" pivot") == Vec3{100, 0, 0});
  CHECK(at("= \"Lever\" vertex 0") == find_tack(s, {TackKind::Vertex, 3, 0, {}})->point);
  CHECK(at("point 1,2,3", translation({9, 9, 9})) == Vec3{1, 2, 3});
  CHECK(at("10, 0, 0", axes_frame(s, 3, AxesKind::Parent)) == world_of(s, 2) * Vec3{10, 0, 0});
  for (const auto& [text, where] : {std::pair{"1, 2", std::size_t{0}},
                                    {"1, 2, 3, 4", std::size_t{0}},
                                    {"1, nonsense, 3", std::size_t{3}},
                                    {"\"Nobody\" pivot", std::size_t{0}},
                                    {"\"Hub\" vertex 900", std::size_t{0}},
                                    {"", std::size_t{0}}}) {
    const auto place = typed_place(s, text, kLengths, {});
    INFO(text);
    REQUIRE(!place);
    CHECK(place.error().at == where);
    CHECK(!place.error().why.empty());
  }
  CHECK(*typed_part(s, "Lever") == 3);
  CHECK(*typed_part(s, " = \"Hub/Lever\" ") == 3);
  CHECK(!typed_part(s, "Nobody"));
}

TEST_CASE("what is marked is what is named and everything below it") {
  const Scene s = stand();
  CHECK(marked_within(s, {2}) == std::vector<bool>{false, false, true, true, false, false});
  CHECK(marked_within(s, {3, 99}) == std::vector<bool>{false, false, false, true, false, false});
}

TEST_CASE("the matrix a scene keeps for a part is that of its placement, whatever was changed") {
  Chance chance(91);
  Scene s = stand();
  for (int i = 0; i < 2000; ++i) {
    const auto id = static_cast<PartId>(chance.whole(1, 5));
    Placement p = chance.whole(0, 2) == 0 ? chance.placement(100) : s.part(id).placement;
    if (chance.whole(0, 2) == 0) p.position = chance.point(50);
    if (chance.whole(0, 3) == 0) p.pivot = chance.point(5);
    if (chance.whole(0, 1) == 0) {
      s.place(id, p);
    } else {
      Part part = s.part(id);
      part.placement = p;
      s.replace(id, std::move(part));
    }
    CHECK(s.part(id).local == matrix_of(p));
  }
}

TEST_CASE("a box that is remembered is the box that a scan finds, to the bit") {
  Chance chance(92);
  for (int round = 0; round < 40; ++round) {
    const MeshPtr mesh = blob(chance, 300);
    mesh->index();
    const Mat3 linear = rotation_from_degrees(chance.point(180));
    for (int i = 0; i < 3; ++i) {
      const Affine frame{linear, chance.point(i * 1e5)};
      Box scan;
      for (const Vec3& p : mesh->positions()) scan.include(frame * p);
      const Box box = box_in_frame(*mesh, frame);
      CHECK(box.low == scan.low);
      CHECK(box.high == scan.high);
    }
  }
}
