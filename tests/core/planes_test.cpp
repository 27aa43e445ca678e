// Work planes: how they are laid, and moving between them. What should be is worked out in long double by
// second_method.h, or by hand.
#include "tests/core/planes.h"
#include "core/catch/catch_scene.h"
#include "core/verbs/brief.h"
#include "core/verbs/journal.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("a plane through three places has its origin, its x and its flat where they are", "[plane]") {
  Cases cases_row("plane through three places");
  Chance chance(1301);
  for (int i = 0; i < cases(10000); ++i) {
    Odd odd = odd_scene(chance, 3);
    LayPlane lay;
    const auto random_vertex = [&](PartId id) { return vertex(id, static_cast<std::uint32_t>(chance.whole(0, 7))); };
    lay.through = {random_vertex(odd.moving), random_vertex(odd.still), random_vertex(odd.third)};
    const auto made = tack::apply(Verb(lay), odd.scene);
    if (!made) {
      CHECK(sentence(made.error()).find("they give no plane") != std::string::npos);
      continue;
    }
    const LongAffine frame = long_frame(*made, last_of(*made));
    std::array<LongVec, 3> at;
    Real far = 1;
    for (std::size_t k = 0; k < 3; ++k) {
      const TackAddress& a = *lay.through[k];
      const LongVec p = long_vertex(odd.scene, a.part, a.index);
      far = std::max(far, length(p));
      at[k] = in_frame(frame, p);
    }
    const Real bound = 1e-9L * far;
    double worst = static_cast<double>(length(at[0]) / bound);
    worst = std::max(worst, static_cast<double>(std::hypot(at[1].y, at[1].z) / bound));
    worst = std::max(worst, static_cast<double>(std::abs(at[2].z) / bound));
    CHECK(at[1].x > 0);
    CHECK(at[2].y > 0);
    cases_row.add(worst);
  }
}

TEST_CASE("places in one line, or in one place, give no plane, and their angle is said", "[plane]") {
  const Scene s = one_part({});
  const auto lay = [&](const Vec3& a, const Vec3& b, const Vec3& c) {
    LayPlane plane;
    plane.through = {space(a), space(b), space(c)};
    return tack::apply(Verb(plane), s);
  };
  const auto refused = [&](const Vec3& a, const Vec3& b, const Vec3& c) {
    const auto made = lay(a, b, c);
    REQUIRE_FALSE(made);
    return sentence(made.error());
  };
  CHECK(refused({0, 0, 0}, {10, 0, 0}, {20, 0, 0}).find("lie in one line, within 0°") != std::string::npos);
  CHECK(refused({0, 0, 0}, {10, 0, 0}, {-20, 0, 0}).find("lie in one line") != std::string::npos);
  // 1e-6 of 20 mm off: 0.0000029°.
  CHECK(refused({0, 0, 0}, {10, 0, 0}, {20, 1e-6, 0}).find("within 2.9e-06°") != std::string::npos);
  CHECK(refused({5, 5, 5}, {5, 5, 5}, {20, 0, 0}).find("first and the second place coincide") != std::string::npos);
  CHECK(refused({5, 5, 5}, {0, 0, 0}, {5, 5, 5}).find("first and the third place coincide") != std::string::npos);
  CHECK(refused({0, 0, 0}, {5, 5, 5}, {5, 5, 5}).find("second and the third place coincide") != std::string::npos);
  CHECK(lay({0, 0, 0}, {10, 0, 0}, {20, 1e-3, 0}));
}

TEST_CASE("a plane on a face, beside another, by a part's axes, square to a view, by numbers", "[plane]") {
  Placement p;
  p.position = {10, 20, 30};
  p.rotation = {0, 0, 30};
  Scene s = one_part(p);
  // The cube's top has its normal up.
  std::uint32_t top = 0;
  for (std::uint32_t t = 0; t < 12; ++t)
    if (find_tack(s, {TackKind::FaceCentre, 1, t, {}})->direction->z > 0.9) top = t;
  const Scene face =
      done(step_from(fmt::format(R"({{"verb":"plane","name":"Face","at":"\"Post\" face-centre {}"}})", top), s), s);
  const Affine on = plane_frame(face, last_of(face));
  CHECK(distance(on.translation, at(s, {TackKind::FaceCentre, 1, top, {}})) < 1e-12);
  CHECK(on.linear.column[2].z == Approx(1).margin(1e-15));

  const Scene ramp = with_ramp(s);
  const PartId id = last_of(ramp);
  const Part& part = ramp.part(id);
  CHECK(part.placement.position == Vec3{100, 20, 30});
  CHECK(part.placement.rotation == Vec3{0, 7.5, 0});
  CHECK(typed_numbers(part.typed).rotation.values[1] == 7.5);

  const Scene beside =
      done(step_from(R"({"verb":"plane","name":"Ramp + 16","of":"Ramp","offset":16,"turned":{"round":"x","angle":0}})",
                     ramp),
           ramp);
  const Affine a = plane_frame(ramp, id), b = plane_frame(beside, last_of(beside));
  CHECK(distance(b.translation, a * Vec3{0, 0, 16}) < 1e-12);
  for (std::size_t i = 0; i < 3; ++i) CHECK(distance(a.linear.column[i], b.linear.column[i]) < 1e-15);
  // Turned about its own x by 90: what was its y is now its normal's way.
  const Scene up =
      done(step_from(R"({"verb":"plane","of":"Ramp","turned":{"round":"x","angle":"1/4 turn"}})", ramp), ramp);
  const Affine c = plane_frame(up, last_of(up));
  CHECK(distance(c.linear.column[1], a.linear.column[2]) < 1e-15);
  CHECK(distance(c.linear.column[2], -a.linear.column[1]) < 1e-15);

  // The post's own axes, across its x.
  const Scene axes = done(step_from(R"({"verb":"plane","of":"Post","across":"x"})", s), s);
  const Affine d = plane_frame(axes, last_of(axes));
  CHECK(distance(d.linear.column[2], Vec3{std::cos(M_PI / 6), std::sin(M_PI / 6), 0}) < 1e-15);
  CHECK(distance(d.linear.column[0], Vec3{-std::sin(M_PI / 6), std::cos(M_PI / 6), 0}) < 1e-15);
  CHECK(distance(d.translation, Vec3{10, 20, 30}) < 1e-12);

  const Scene world = done(step_from(R"({"verb":"plane","of":"World","offset":"1 in"})", s), s);
  CHECK(plane_frame(world, last_of(world)).translation == Vec3{0, 0, 25.4});
  CHECK_FALSE(world.part(last_of(world)).law);

  const Scene view = done(step_from(R"({"verb":"plane","view":[[1,0,0],[0,0,1],[0,-1,0]],"at":"point 1,2,3"})", s), s);
  const Affine e = plane_frame(view, last_of(view));
  CHECK(e.linear.column[2] == Vec3{0, -1, 0});
  CHECK(e.translation == Vec3{1, 2, 3});

  // A plane that belongs to a part moves with it.
  const Scene owned = done(step_from(R"({"verb":"plane","name":"Deck","at":"point 5,5,5","in":"Post"})", s), s);
  CHECK(owned.part(last_of(owned)).parent == 1);
  CHECK(distance(plane_frame(owned, last_of(owned)).translation, Vec3{5, 5, 5}) < 1e-12);
  Move move;
  move.what = {1};
  move.by[0] = Amount{7};
  CHECK(distance(plane_frame(done(move, owned), last_of(owned)).translation, Vec3{12, 5, 5}) < 1e-12);
}

TEST_CASE("what does not go together in a plane is refused in words", "[plane]") {
  const Scene s = with_ramp(one_part({}));
  CHECK(refused_step(R"({"verb":"plane","of":"Ramp","at":"point 0,0,0"})", s).find("said in one way") !=
        std::string::npos);
  CHECK(refused_step(R"({"verb":"plane","at":"point 0,0,0","position":[0,0,1]})", s).find("said in one way") !=
        std::string::npos);
  CHECK(refused_step(R"({"verb":"plane","position":[0,0,1],"offset":3})", s).find("\"offset\" means nothing here") !=
        std::string::npos);
  CHECK(refused_step(R"({"verb":"plane","through":["point 0,0,0"]})", s).find("three places") != std::string::npos);
  CHECK(refused_step(R"({"verb":"plane","of":"Nowhere"})", s).find("Nowhere") != std::string::npos);
  CHECK(refused_step(R"({"verb":"plane","of":"World","name":"World"})", s).find("World is the name of the ground") !=
        std::string::npos);
  CHECK(refused_step(R"({"verb":"plane","of":"World","turned":{"round":"q","angle":3}})", s).find("x, y or z") !=
        std::string::npos);
  CHECK(refused_step(R"({"verb":"use-plane","plane":"Post"})", s).find("\"Post\" is not a plane.") !=
        std::string::npos);
  CHECK(refused_step(R"({"verb":"onto-plane","what":["Post"],"from":"Ramp","to":"Ramp"})", s)
            .find("two planes are one") != std::string::npos);
  CHECK(
      refused_step(
          R"({"verb":"lay","what":["Post"],"on":{"plane":"Post"},"places":["\"Post\" vertex 0","\"Post\" vertex 1","\"Post\" vertex 2"]})",
          s)
          .find("not a plane") != std::string::npos);
  CHECK(refused_step(R"({"verb":"grid","plane":"World","spacing":0})", s).find("at least 0.000001 mm") !=
        std::string::npos);
  CHECK(refused_step(R"({"verb":"grid","plane":"World","spacing":5,"parts":1000})", s).find("divided in 1 to 100") !=
        std::string::npos);
  CHECK(refusal(step_from(R"({"verb":"grid","plane":"World","spacing":5,"extent":3})", s), s)
            .find("less far than its first line") != std::string::npos);
}

TEST_CASE("no plane is called what the ground is called", "[plane]") {
  const Scene s = with_ramp(one_part({}));
  CHECK(refusal(Rename{last_of(s), "World"}, s).find("World is the name of the ground") != std::string::npos);
  CHECK(done(Rename{1, "World"}, s).part(1).name == "World");
  CHECK(refused_step(R"({"verb":"guide","kind":"plane","at":"point 0,0,0","name":"World"})", s)
            .find("World is the name of the ground") != std::string::npos);
}

TEST_CASE("every verb of planes reads what it writes", "[plane]") {
  Scene s = with_ramp(one_part({}));
  for (
      const char* text :
      {R"({"verb":"plane","name":"A","through":["\"Post\" vertex 3","\"Post\" vertex 1","\"Post\" vertex 0"],"holds":"follow","use":true})",
       R"({"verb":"plane","name":"A","of":"Ramp","across":"y","offset":"3/8 in","turned":{"round":"z","angle":"1/8 turn"},"in":"Post"})",
       R"({"verb":"plane","at":"\"Post\" vertex 2","offset":-4})",
       R"({"verb":"plane","view":[[1,0,0],[0,0,1],[0,-1,0]],"at":"point 1,2,3"})",
       R"({"verb":"plane","position":[0,0,"2 cm"],"rotation":[null,7.5,null]})",
       R"({"verb":"use-plane","plane":"Ramp"})", R"({"verb":"use-plane","plane":"World"})",
       R"({"verb":"grid","plane":"Ramp","spacing":"1/2 in","parts":4,"extent":300})",
       R"({"verb":"grid","plane":"World"})",
       R"({"verb":"onto-plane","what":["Post"],"from":"World","to":"Ramp","copy":true})",
       R"({"verb":"lay","what":["Post"],"on":{"plane":"Ramp"},"places":["\"Post\" vertex 0","\"Post\" vertex 1","\"Post\" vertex 2"]})",
       R"({"verb":"guide","kind":"line","beside":"\"Post\" edge 0-1 at 0.5","distance":24,"in":"\"Post\" face-centre 4","name":"Post line"})",
       R"({"verb":"guide","kind":"line","beside":"\"Post\" edge 0-1 at 0.5","about":"\"Post\" vertex 0","angle":30})",
       R"({"verb":"guide","kind":"line","through":["\"Post\" vertex 0","\"Post\" vertex 6"],"holds":"follow"})",
       R"({"verb":"keep-view","name":"Gap","camera":{"target":[1,2,3],"turn":30,"tilt":20,"roll":0,"distance":500,"perspective":false}})",
       R"({"verb":"forget-view","name":"Gap"})",
       R"({"verb":"place","what":["Post"],"axes":{"plane":"Ramp"},"position":[10,20,0]})"}) {
    INFO(text);
    const Verb verb = step_from(text, s);
    const Json written = to_json(verb, s);
    CHECK(step_from(written.dump(), s) == verb);
    const Json wanted = Json::parse(text);
    for (const auto& [key, value] : wanted.items()) {
      INFO(key);
      CHECK(written.value(key, Json()) == value);
    }
    // Nothing is said before it is laid that cannot be said.
    CHECK_FALSE(plain_text(sentence(verb, s, Tense::Present)).empty());
    CHECK_FALSE(plain_text(sentence(verb, s, Tense::Past)).empty());
  }
}

TEST_CASE("the plane in use is what \"plane\" means when a step is read, and stays that in the step", "[plane]") {
  Scene s = with_ramp(one_part({}), true);
  const PartId ramp = last_of(s);
  CHECK(s.plane() == ramp);
  const Verb place = step_from(R"({"verb":"place","what":["Post"],"axes":"plane","position":[10,20,5]})", s);
  CHECK(to_json(place, s)["axes"] == Json{{"plane", "Ramp"}});
  Scene placed = done(place, s);
  const Vec3 wanted = plane_frame(s, ramp) * Vec3{10, 20, 5};
  CHECK(distance(at(placed, {TackKind::Pivot, 1, 0, {}}), wanted) < 1e-12);
  const PlacedNumbers numbers = numbers_in(placed, 1, axes_of_plane(ramp));
  CHECK(numbers.position == Vec3{10, 20, 5});

  const auto grid = parse_address(s, "plane 10,20");
  REQUIRE(grid);
  CHECK(grid->part == ramp);
  CHECK(address_text(s, *grid) == "\"Ramp\" plane 10,20");
  CHECK(distance(at(s, *grid), plane_frame(s, ramp) * Vec3{10, 20, 0}) == 0);
  CHECK(tack_words(s, *grid) == "grid point 10, 20 · Ramp");
  // The ground is still to be had by name.
  const auto ground = parse_address(s, "\"World\" plane 10,20");
  REQUIRE(ground);
  CHECK(ground->part == kNoPart);
  CHECK(at(s, *ground) == Vec3{10, 20, 0});
  CHECK(address_text(s, *ground) == "\"World\" plane 10,20");
  CHECK_FALSE(parse_address(s, "\"World\" vertex 3"));
  CHECK_FALSE(find_tack(s, {TackKind::PlanePoint, 1, 0, {1, 2, 0}}));

  Delete gone;
  gone.what = {ramp};
  const Scene without = done(gone, s);
  CHECK(without.plane() == kNoPart);
  CHECK(remark(gone, s, without) == "World is the plane in use again.");
}

TEST_CASE("numbers kept from plane to plane and back are the same bits", "[plane]") {
  Cases cases_row("brought from plane to plane: every vertex");
  Chance chance(1302);
  for (int i = 0; i < cases(10000); ++i) {
    Odd odd = odd_scene(chance, 4);
    const PartId first = chance.whole(0, 2) == 0 ? kNoPart : odd_plane(chance, odd.scene, odd.still);
    const PartId second = odd_plane(chance, odd.scene, odd.still), third = odd_plane(chance, odd.scene, odd.still);
    const Scene there = done(onto(odd.moving, first, second), odd.scene);
    const LongAffine from = long_frame(odd.scene, first), to = long_frame(odd.scene, second);
    cases_row.add(worst_vertex(odd.scene, there, odd.moving, [&](const LongVec& p) { return to * in_frame(from, p); }));
    // Straight back, and the long way round.
    CHECK(done(onto(odd.moving, second, first), there).part(odd.moving).placement ==
          odd.scene.part(odd.moving).placement);
    const Scene round = done(onto(odd.moving, second, third), there);
    CHECK(done(onto(odd.moving, third, first), round).part(odd.moving).placement ==
          odd.scene.part(odd.moving).placement);
    CHECK(done(onto(odd.moving, third, second), round).part(odd.moving).placement == there.part(odd.moving).placement);
  }
}

TEST_CASE("what was moved on the plane comes back moved", "[plane]") {
  Placement p;
  p.position = {10, 20, 0};
  Scene s = with_ramp(one_part(p));
  const PartId ramp = last_of(s);
  // Typed numbers are those of the plane from then on.
  s = done(step_from(R"({"verb":"place","what":["Post"],"axes":"world","position":["3/8 in",20,0]})", s), s);
  Scene there = done(onto(1, kNoPart, ramp), s);
  const PlacedNumbers on = numbers_in(there, 1, axes_of_plane(ramp));
  CHECK(on.position == Vec3{9.525, 20, 0});
  CHECK(on.position_text[0] == "3/8 in");
  const Verb move = step_from(R"({"verb":"move","what":["Post"],"by":[40,null,null],"axes":{"plane":"Ramp"}})", there);
  there = done(move, there);
  CHECK(distance(numbers_in(there, 1, axes_of_plane(ramp)).position, Vec3{49.525, 20, 0}) < 1e-12);
  const Scene back = done(onto(1, ramp, kNoPart), there);
  CHECK(distance(back.part(1).placement.position, Vec3{49.525, 20, 0}) < 1e-12);
  CHECK(distance(back.part(1).placement.rotation, Vec3{}) < 1e-12);
  // A plane that has moved meanwhile is another.
  Move shift;
  shift.what = {ramp};
  shift.by[2] = Amount{5};
  const Scene moved = done(shift, done(onto(1, kNoPart, ramp), s));
  const Scene down = done(onto(1, ramp, kNoPart), moved);
  CHECK(down.part(1).placement.position.z == Approx(-5 * std::cos(7.5 * M_PI / 180)).margin(1e-12));
}

TEST_CASE("several parts, groups and copies come onto a plane; what may not is refused", "[plane]") {
  Scene s;
  Part group;
  group.name = "Signs";
  const PartId signs = s.add(group);
  for (int i = 0; i < 3; ++i) {
    Placement p;
    p.position = {30.0 * i, 0, 0};
    s.add(part_of(fmt::format("Plate {}", i + 1), cube(10), p, signs));
  }
  s = with_ramp(s);
  const PartId ramp = last_of(s);
  OntoPlane o = onto(signs, kNoPart, ramp);
  o.leave_copy = true;
  const Scene there = done(o, s);
  CHECK(there.size() == s.size() + 4);
  for (PartId id = 2; id <= 4; ++id)
    CHECK(distance(at(there, {TackKind::Pivot, id, 0, {}}),
                   plane_frame(s, ramp) * at(s, {TackKind::Pivot, id, 0, {}})) < 1e-12);
  CHECK(plain_text(sentence(o, s, Tense::Past)) ==
        "Brought a copy of Signs from World onto Ramp, keeping its numbers.");
  CHECK(refusal(onto(ramp, kNoPart, ramp), s).find("\"Ramp\" moves, too.") != std::string::npos);
  CHECK(refusal(onto(signs, 2, ramp), s).find("\"Plate 1\" is not a plane.") != std::string::npos);
  Lock lock;
  lock.what = {2};
  CHECK(refusal(onto(2, kNoPart, ramp), done(lock, s)).find("locked") != std::string::npos);
}

TEST_CASE("laying by three places", "[plane]") {
  Cases cases_row("laid on a plane by three places");
  Chance chance(1303);
  for (int i = 0; i < cases(5000); ++i) {
    Odd odd = odd_scene(chance, 4);
    const PartId plane = chance.whole(0, 3) == 0 ? kNoPart : odd_plane(chance, odd.scene, odd.still);
    Lay lay;
    lay.what = {odd.moving};
    lay.on = plane;
    // Corners of a cube, no three of which lie in one line unless they are the same.
    for (auto& place : lay.places) place = vertex(odd.moving, static_cast<std::uint32_t>(chance.whole(0, 7)));
    const auto result = tack::apply(Verb(lay), odd.scene);
    if (!result) {
      CHECK(sentence(result.error()).find("coincide") != std::string::npos);
      continue;
    }
    const LongAffine frame = long_frame(*result, plane);
    const LongAffine world = long_world(*result, odd.moving);
    std::array<LongVec, 3> at;
    for (std::size_t k = 0; k < 3; ++k) at[k] = in_frame(frame, long_vertex(*result, odd.moving, lay.places[k]->index));
    (void)world;
    const auto share = [&](const LongVec& off) {
      return share_of_bound(*result, odd.moving, frame.shift + off, frame.shift);
    };
    cases_row.add(share(at[0]));
    cases_row.add(share({0, at[1].y, at[1].z}));
    cases_row.add(share({0, 0, at[2].z}));
    CHECK(at[1].x > 0);
    CHECK(at[2].y > 0);
  }
}

TEST_CASE("places to lay by are on what is laid, and not in one line", "[plane]") {
  Scene s = with_ramp(one_part({}));
  s.add(part_of("Other", cube(10), {}));
  const auto laid = [&](const std::string& places) {
    return step_from(R"({"verb":"lay","what":["Post"],"on":{"plane":"Ramp"},"places":)" + places + "}", s);
  };
  CHECK(refusal(laid(R"(["\"Post\" vertex 0","\"Post\" vertex 0","\"Post\" vertex 2"])"), s).find("coincide") !=
        std::string::npos);
  CHECK(refusal(laid(R"(["\"Post\" edge 0-1 at 0","\"Post\" edge 0-1 at 0.5","\"Post\" edge 0-1 at 1"])"), s)
            .find("lie in one line") != std::string::npos);
  CHECK(refusal(laid(R"(["\"Other\" vertex 0","\"Post\" vertex 1","\"Post\" vertex 2"])"), s).find("Other") !=
        std::string::npos);
  CHECK(refusal(laid(R"(["point 0,0,0","\"Post\" vertex 1","\"Post\" vertex 2"])"), s).find("places that are on it") !=
        std::string::npos);
}

TEST_CASE("nodes of a plane's grid are exact and caught", "[plane]") {
  Scene s = with_ramp(one_part({}), true);
  const PartId ramp = last_of(s);
  s = done(step_from(R"({"verb":"grid","plane":"Ramp","spacing":"1/2 in","parts":4,"extent":300})", s), s);
  const PlaneGrid grid = grid_of(s, ramp);
  CHECK(grid == PlaneGrid{12.7, 4, 300});
  const Affine frame = plane_frame(s, ramp);
  Chance chance(1305);
  int caught_nodes = 0;
  const CatchScene scene = make_catch_scene(s);
  for (int i = 0; i < 400; ++i) {
    const View view =
        view_of(Camera{{100, 20, 30}, chance.between(-180, 180), chance.between(15, 80), 500, i % 2 == 0}, 1000, 800);
    const int column = chance.whole(-110, 110), row = chance.whole(-110, 110);
    const double step = 12.7 / 4;
    const Vec3 node = frame * Vec3{column * step, row * step, 0};
    const auto pixel = view.project(node);
    if (!pixel) continue;
    CatchOptions options;
    options.kinds = CatchKinds::only(CatchKind::Grid);
    options.grid = CatchGrid{frame, step, ramp, Sheet{-300, -300, 300, 300}};
    const auto caught = best_tack(scene, view, pixel->x + 0.5, pixel->y, options);
    const bool within = std::abs(column * step) <= 300 && std::abs(row * step) <= 300;
    if (!within) {
      CHECK((!caught || distance(caught->point, node) > 1e-9));
      continue;
    }
    if (!caught) continue;  // the post stands before it, or the nodes lie too near to each other on the picture
    ++caught_nodes;
    CHECK(caught->address.kind == TackKind::PlanePoint);
    CHECK(caught->address.part == ramp);
    CHECK(at(s, caught->address) == caught->point);
    const Vec3& on = caught->address.parameter;
    CHECK(on.x == std::round(on.x / step) * step);
    CHECK(on.y == std::round(on.y / step) * step);
  }
  CHECK(caught_nodes > 100);
  // Without a spacing it follows the zoom again.
  s = done(step_from(R"({"verb":"grid","plane":"Ramp"})", s), s);
  CHECK_FALSE(s.part(ramp).grid);
}

TEST_CASE("the sheet of the plane in use is as large as what lies on it", "[plane]") {
  Scene s = one_part({});  // from 0 to 20: it stands on the plane of World
  LayPlane lay;
  lay.way = LayPlane::Way::Beside;
  lay.name = "Level";
  s = done(lay, s);
  const PartId level = last_of(s);
  CHECK(sheet_of(s, level) == Sheet{});
  s.use_plane(level);
  const Sheet sheet = sheet_of(s, level);
  CHECK(sheet.right == Approx(22.8));
  CHECK(sheet.left == Approx(-2.8));
  // What stands on it counts, what floats above it does not.
  Move move;
  move.what = {1};
  move.by[0] = Amount{100};
  CHECK(sheet_of(done(move, s), level).right > 120);
  move.by[2] = Amount{1};
  CHECK(sheet_of(done(move, s), level) == Sheet{});
}

TEST_CASE("dropping goes to the plane in use, along its normal", "[plane]") {
  Placement p;
  p.position = {100, 20, 200};
  Scene s = with_ramp(one_part(p), true);
  const PartId ramp = last_of(s);
  Drop drop;
  drop.what = {1};
  const Scene fell = done(drop, s);
  const auto to_plane = inverse(plane_frame(s, ramp));
  REQUIRE(to_plane);
  double low = 1e9;
  for (const Vec3& v : s.part(1).mesh->positions()) low = std::min(low, (*to_plane * (world_of(fell, 1) * v)).z);
  CHECK(low == Approx(0).margin(1e-9));
  const Vec3 way = at(fell, {TackKind::Pivot, 1, 0, {}}) - at(s, {TackKind::Pivot, 1, 0, {}});
  CHECK(length(cross(normalized(way), plane_frame(s, ramp).linear.column[2])) < 1e-12);
  CHECK(plain_text(sentence(drop, s, Tense::Present)).find("along the normal of Ramp") != std::string::npos);
}

TEST_CASE("steps of planes in one line", "[plane]") {
  Journal journal(one_part({}));
  const auto add = [&](const char* text) {
    const auto verb = step_from(text, journal.scene());
    REQUIRE(journal.add(verb));
    const auto& steps = journal.record().steps;
    return brief_of(*steps.back(), journal.record().before(steps.size() - 1)).line();
  };
  CHECK(add(R"({"verb":"plane","of":"World","offset":5,"name":"Deck"})") == "Deck");
  CHECK(add(R"({"verb":"use-plane","plane":"Deck"})") == "Deck in use");
  CHECK(add(R"({"verb":"use-plane","plane":"World"})") == "World in use");
  CHECK(add(R"({"verb":"onto-plane","what":["Post"],"from":"World","to":"Deck"})") == "Post → Deck");
  CHECK(add(R"({"verb":"guide","kind":"line","through":["point 0,0,0","point 1,0,0"],"name":"Line"})") == "Line");
}

TEST_CASE("views are kept and forgotten by name", "[plane]") {
  Scene s = one_part({});
  const Verb keep = step_from(
      R"({"verb":"keep-view","name":"Gap","camera":{"target":[1,2,3],"turn":30,"tilt":20,"distance":500}})", s);
  s = done(keep, s);
  REQUIRE(s.views().size() == 1);
  CHECK(s.views().front().turn == 30);
  s = done(step_from(R"({"verb":"keep-view","name":"Gap","camera":{"target":[1,2,3],"turn":60}})", s), s);
  REQUIRE(s.views().size() == 1);
  CHECK(s.views().front().turn == 60);
  CHECK(refusal(step_from(R"({"verb":"forget-view","name":"Cap"})", s), s).find("There are: Gap.") !=
        std::string::npos);
  CHECK(done(step_from(R"({"verb":"forget-view","name":"Gap"})", s), s).views().empty());
  CHECK_FALSE(
      verb_from_json(Json::parse(R"({"verb":"keep-view","name":"Gap","camera":{"target":[1,2,3],"tilt":120}})"), s));
  CHECK_FALSE(verb_from_json(Json::parse(R"({"verb":"keep-view","name":"Gap","camera":{"target":[1,2]}})"), s));
  CHECK_FALSE(
      verb_from_json(Json::parse(R"({"verb":"keep-view","name":"Gap","camera":{"target":[1,2,3],"distance":0}})"), s));
}
