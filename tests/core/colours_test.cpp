#include <catch2/catch.hpp>

#include <nlohmann/json.hpp>

#include "core/catch/catch_scene.h"
#include "core/verbs/journal.h"
#include "tests/core/doing.h"

using namespace tack;
using namespace tack::test;

namespace {

constexpr Colour kBeech{0.8f, 0.6f, 0.4f, 1}, kOlive{0.4f, 0.5f, 0.2f, 1};

// A group of two boards, and a post beside it.
Scene two_boards() {
  Scene s;
  Part group;
  group.name = "Boards";
  const PartId parent = s.add(group);
  for (int i = 1; i <= 2; ++i) {
    Placement p;
    p.position = {100.0 * i, 0, 0};
    Part board = part_of("Board " + std::to_string(i), cube(20), p);
    board.parent = parent;
    s.add(std::move(board));
  }
  s.add(part_of("Post", cube(20), {}));
  return s;
}

Paint give_colour(PartId part, const std::string& name) {
  Paint paint;
  paint.what = {part};
  paint.named = name;
  return paint;
}

std::string name_of_colour(const Scene& s, PartId id) {
  const auto& names = s.part(id).colour_names;
  return names ? names->front() : std::string();
}

std::string refused_colour(const Verb& verb, const Scene& scene) {
  const auto result = tack::apply(verb, scene);
  REQUIRE_FALSE(result);
  return sentence(result.error());
}

}  // namespace

TEST_CASE("a named colour is given, and changing it changes every part that has it") {
  Scene s = done(NameColour{"Beech", kBeech, {1}}, two_boards());
  CHECK(s.colours().size() == 1);
  // A group's colour is that of what is in it.
  for (const PartId id : {2u, 3u}) {
    CHECK(name_of_colour(s, id) == "Beech");
    CHECK(s.part(id).colours.front() == kBeech);
  }
  CHECK(name_of_colour(s, 4).empty());
  s = done(NameColour{"Olive", kOlive, {}}, s);
  s = done(give_colour(4, "Olive"), s);
  s = done(EditColour{"Beech", EditColour::Do::Change, {0.1f, 0.2f, 0.3f, 1}, {}}, s);
  CHECK(s.part(2).colours.front() == Colour{0.1f, 0.2f, 0.3f, 1});
  CHECK(s.part(3).colours.front() == Colour{0.1f, 0.2f, 0.3f, 1});
  CHECK(s.part(4).colours.front() == kOlive);
  CHECK(s.colour("Beech")->colour == Colour{0.1f, 0.2f, 0.3f, 1});
  // A part that gets a colour of its own no longer follows.
  s = done(Paint{{2}, kOlive, {}}, s);
  CHECK(s.part(2).colour_names == nullptr);
  s = done(EditColour{"Beech", EditColour::Do::Change, kBeech, {}}, s);
  CHECK(s.part(2).colours.front() == kOlive);
  CHECK(s.part(3).colours.front() == kBeech);
  CHECK(parts_with(s, "Beech") == std::vector<PartId>{3});
}

TEST_CASE("a colour is renamed with all that has it, and taken off the list without a change to be seen") {
  Scene s = done(NameColour{"Beech", kBeech, {1, 4}}, two_boards());
  s = done(EditColour{"Beech", EditColour::Do::Rename, {}, "Ash"}, s);
  CHECK(s.colour("Beech") == nullptr);
  CHECK(parts_with(s, "Ash") == std::vector<PartId>{2, 3, 4});
  const Scene before = s;
  s = done(EditColour{"Ash", EditColour::Do::Forget, {}, {}}, s);
  CHECK(s.colours().empty());
  for (const PartId id : {2u, 3u, 4u}) {
    CHECK(s.part(id).colour_names == nullptr);
    CHECK(s.part(id).colours == before.part(id).colours);
  }
}

TEST_CASE("what has no surface is neither coloured nor seen through, and that is said") {
  Scene s = two_boards();
  Part guide;
  guide.name = "Edge";
  guide.guide = GuideKind::Line;
  const PartId id = s.add(guide);
  s = done(NameColour{"Beech", kBeech, {}}, s);
  CHECK(refused_colour(give_colour(id, "Beech"), s).find("Edge has no surface to be coloured.") != std::string::npos);
  CHECK(refused_colour(SeeThrough{{id}, true}, s).find("Edge has no surface to see through.") != std::string::npos);
}

TEST_CASE("names of colours: none twice, none empty, none that is not there") {
  const Scene s = done(NameColour{"Olive", kOlive, {}}, done(NameColour{"Beech", kBeech, {}}, two_boards()));
  CHECK(refused_colour(NameColour{"Beech", kOlive, {}}, s).find("Another colour is named \"Beech\"") !=
        std::string::npos);
  CHECK(refused_colour(NameColour{"", kOlive, {}}, s).find("name") != std::string::npos);
  CHECK(refused_colour(EditColour{"Beech", EditColour::Do::Rename, {}, "Olive"}, s).find("Olive") != std::string::npos);
  CHECK(refused_colour(give_colour(4, "Oak"), s) ==
        "named: There is no colour \"Oak\" on the list. There are: Beech, Olive.");
  CHECK(refused_colour(EditColour{"Oak", EditColour::Do::Forget, {}, {}}, s).find("Oak") != std::string::npos);
  // Its own name again is no clash.
  CHECK(tack::apply(EditColour{"Beech", EditColour::Do::Rename, {}, "Beech"}, s));
}

TEST_CASE("a file may say a colour or the name of one, not both and not neither") {
  const Scene s = done(NameColour{"Beech", kBeech, {}}, two_boards());
  const auto read = [&](const char* text) { return verb_from_json(Json::parse(text), s); };
  CHECK(read(R"({"verb": "colour", "what": ["Post"], "named": "Beech"})"));
  CHECK(read(R"({"verb": "colour", "what": ["Post"], "colour": "#112233"})"));
  CHECK_FALSE(read(R"({"verb": "colour", "what": ["Post"]})"));
  const auto both = read(R"({"verb": "colour", "what": ["Post"], "named": "Beech", "colour": "#112233"})");
  REQUIRE_FALSE(both);
  CHECK(sentence(both.error()).find("the colour is that of the list") != std::string::npos);
  CHECK_FALSE(read(R"({"verb": "edit-colour", "named": "Beech", "do": "change"})"));
  CHECK_FALSE(read(R"({"verb": "edit-colour", "named": "Beech", "do": "change", "colour": "#112233", "name": "x"})"));
  CHECK_FALSE(read(R"({"verb": "edit-colour", "named": "Oak", "do": "forget"})"));
}

TEST_CASE("the sentences about colours say how many parts are changed") {
  const Scene s = done(NameColour{"Beech", kBeech, {1}}, two_boards());
  const auto says = [&](const Verb& verb) { return plain_text(sentence(verb, s, Tense::Past)); };
  CHECK(says(give_colour(4, "Beech")) == "Coloured Post Beech.");
  CHECK(says(EditColour{"Beech", EditColour::Do::Change, {0.2f, 0.4f, 0.6f, 1}, {}}) ==
        "Changed the colour Beech to #336699, on 2 parts.");
  CHECK(says(EditColour{"Beech", EditColour::Do::Forget, {}, {}}) ==
        "Took the colour Beech off the list: 2 parts keep how they look.");
  CHECK(says(NameColour{"Slate", {0.2f, 0.4f, 0.6f, 1}, {4}}) ==
        "Put #336699 on the list of colours as Slate, and gave it to Post.");
}

TEST_CASE("a hostile name of a colour reaches no sentence raw") {
  Scene s = two_boards();
  s.set_colours({{"\x1b[31mRed", kBeech, {}, {}, {}}});
  s = done(give_colour(4, "\x1b[31mRed"), s);
  for (const Verb& verb :
       {Verb(give_colour(4, "\x1b[31mRed")), Verb(EditColour{"\x1b[31mRed", EditColour::Do::Forget, {}, {}}),
        Verb(EditColour{"\x1b[31mRed", EditColour::Do::Change, kOlive, {}})})
    CHECK(plain_text(sentence(verb, s, Tense::Past)).find('\x1b') == std::string::npos);
}

TEST_CASE("a thousand steps of colours, undone and done again, leave what they left") {
  Chance chance(2611);
  Journal journal(two_boards());
  const std::string names[] = {"Beech", "Olive", "Slate", "Felt"};
  const auto name = [&] { return names[chance.whole(0, 3)]; };
  const auto colour = [&] {
    return Colour{float(chance.whole(0, 255)) / 255, float(chance.whole(0, 255)) / 255, 0.5f, 1};
  };
  int taken = 0;
  for (int i = 0; i < 1000; ++i) {
    Verb verb = NameColour{name(), colour(), {}};
    switch (chance.whole(0, 5)) {
      case 0: verb = give_colour(static_cast<PartId>(chance.whole(1, 4)), name()); break;
      case 1: verb = EditColour{name(), EditColour::Do::Change, colour(), {}}; break;
      case 2: verb = EditColour{name(), EditColour::Do::Rename, {}, name()}; break;
      case 3:
        if (chance.whole(0, 3) == 0) verb = EditColour{name(), EditColour::Do::Forget, {}, {}};
        break;
      case 4: verb = Paint{{static_cast<PartId>(chance.whole(1, 4))}, colour(), {}}; break;
      default: break;
    }
    taken += journal.add(verb).has_value();
    // Whatever has a name has that colour, and every name is on the list.
    for (const PartId id : {2u, 3u, 4u}) {
      const std::string has = name_of_colour(journal.scene(), id);
      if (has.empty()) continue;
      const NamedColour* on_list = journal.scene().colour(has);
      REQUIRE(on_list);
      REQUIRE(journal.scene().part(id).colours.front() == on_list->colour);
    }
  }
  CHECK(taken > 300);
  const Scene last = journal.scene();
  for (int i = 0; i < 200; ++i) journal.undo();
  for (int i = 0; i < 200; ++i) journal.redo();
  CHECK(journal.scene().colours() == last.colours());
  for (const PartId id : {2u, 3u, 4u}) CHECK(journal.scene().part(id).colours == last.part(id).colours);
}

TEST_CASE("what is behind a see-through part is struck and caught, and the part itself where nothing is behind it") {
  Scene s;
  Placement near, far;
  near.position = {-50, -200, -50};
  far.position = {-20, 0, -20};
  s.add(part_of("Pane", cube(100), near));
  s.add(part_of("Block", cube(40), far));
  // From the front, one pixel a millimetre.
  Camera camera;
  camera.target = {0, 0, 0};
  camera.turn = camera.tilt = 0;
  camera.perspective = false;
  View view = view_of(camera, 800, 600);
  view.pixels_per_unit = 1;
  const auto struck = [&](const Scene& scene, double x) {
    const auto hit = strike(make_catch_scene(scene), view, 400 + x, 300);
    return hit ? scene.part(hit->part).name : std::string();
  };
  const auto caught = [&](const Scene& scene, double x, double y) {
    CatchOptions options;
    options.kinds = CatchKinds::only(CatchKind::Vertex);
    const auto best = best_tack(make_catch_scene(scene), view, 400 + x, 300 - y, options);
    return best ? scene.part(best->address.part).name : std::string();
  };
  CHECK(struck(s, 0) == "Pane");
  CHECK(caught(s, 20, 20).empty());
  const Scene clear = done(SeeThrough{{1}, true}, s);
  CHECK(struck(clear, 0) == "Block");
  CHECK(caught(clear, 20, 20) == "Block");
  CHECK(struck(clear, 40) == "Pane");      // beside the block there is only the pane
  CHECK(caught(clear, 50, 50) == "Pane");  // its own places are caught as before
  const Scene again = done(SeeThrough{{1}, false}, clear);
  CHECK(struck(again, 0) == "Pane");
  CHECK(caught(again, 20, 20).empty());
}

TEST_CASE("see-through of a group is that of all that is in it") {
  Scene s = done(SeeThrough{{1}, true}, two_boards());
  CHECK_FALSE(s.part(1).see_through);
  CHECK(s.part(2).see_through);
  CHECK(s.part(3).see_through);
  CHECK_FALSE(s.part(4).see_through);
}
