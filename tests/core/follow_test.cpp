// Guides beside edges, through places and at angles, and what follows what.
#include "core/catch/catch_scene.h"
#include "core/verbs/journal.h"
#include "tests/core/planes.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("guides beside an edge, through two places and at an angle", "[plane][guide]") {
  Scene s = one_part({});  // a cube from 0 to 20
  const auto frame_after = [&](const std::string& text) {
    const Scene made = done(step_from(text, s), s);
    return plane_frame(made, last_of(made));
  };
  // An edge of the top along x: beside it on the top, 3 mm in, and 3 mm out.
  std::uint32_t a = 0, b = 0, top = 0;
  const auto corners = s.part(1).mesh->positions();
  for (std::uint32_t i = 0; i < 8; ++i) {
    if (corners[i] == Vec3{0, 0, 20}) a = i;
    if (corners[i] == Vec3{20, 0, 20}) b = i;
  }
  for (std::uint32_t t = 0; t < 12; ++t)
    if (find_tack(s, {TackKind::FaceCentre, 1, t, {}})->direction->z > 0.9) top = t;
  const std::string edge = fmt::format(R"("\"Post\" edge {}-{} at 0.25")", a, b);
  const std::string face = fmt::format(R"("\"Post\" face-centre {}")", top);
  const Affine in =
      frame_after(R"({"verb":"guide","kind":"line","beside":)" + edge + R"(,"distance":3,"in":)" + face + "}");
  CHECK(distance(in.translation, Vec3{5, 3, 20}) < 1e-12);
  CHECK(distance(in.linear.column[2], Vec3{1, 0, 0}) < 1e-15);
  const Affine out =
      frame_after(R"({"verb":"guide","kind":"line","beside":)" + edge + R"(,"distance":-3,"in":)" + face + "}");
  CHECK(distance(out.translation, Vec3{5, -3, 20}) < 1e-12);
  const Affine angle = frame_after(R"({"verb":"guide","kind":"line","beside":)" + edge +
                                   R"(,"angle":30,"about":"point 1,2,20","in":)" + face + "}");
  CHECK(angle.translation == Vec3{1, 2, 20});
  CHECK(distance(angle.linear.column[2], Vec3{std::cos(M_PI / 6), 0.5, 0}) < 1e-15);
  const Affine through = frame_after(R"({"verb":"guide","kind":"line","through":["point 0,0,0","point 3,4,0"]})");
  CHECK(distance(through.linear.column[2], Vec3{0.6, 0.8, 0}) < 1e-15);
  // What has no side, no line or no length.
  CHECK(refusal(step_from(R"({"verb":"guide","kind":"line","through":["point 1,2,3","point 1,2,3"]})", s), s)
            .find("coincide") != std::string::npos);
  CHECK(refusal(step_from(R"({"verb":"guide","kind":"line","beside":"\"Post\" vertex 3","in":)" + face + "}", s), s)
            .find("no line to lie beside") != std::string::npos);
  CHECK(refusal(step_from(R"({"verb":"guide","kind":"line","beside":)" + edge + R"(,"in":)" + edge + "}", s), s)
            .find("lies on the edge's own line") != std::string::npos);
  // Towards any place: straight down from the edge.
  const Affine down =
      frame_after(R"({"verb":"guide","kind":"line","beside":)" + edge + R"(,"distance":4,"in":"point 3,0,-50"})");
  CHECK(distance(down.translation, Vec3{5, 0, 16}) < 1e-12);
  CHECK(refused_step(R"({"verb":"guide","kind":"plane","through":["point 0,0,0","point 3,4,0"]})", s)
            .find("Only a line") != std::string::npos);
  CHECK(
      refused_step(R"({"verb":"guide","kind":"line","at":"point 0,0,0","distance":3})", s).find("means nothing here") !=
      std::string::npos);
}

TEST_CASE("guides and planes follow what they were laid by", "[plane][guide]") {
  Chance chance(1304);
  Cases cases_row("guides that follow stand where they would be laid anew");
  for (int i = 0; i < cases(3000); ++i) {
    Odd odd = odd_scene(chance, 2);
    // A plane through three corners of what moves, one beside that, and a line beside an edge: all follow.
    LayPlane lay;
    lay.through = {vertex(odd.moving, 0), vertex(odd.moving, 1), vertex(odd.moving, 2)};
    lay.holds = GuideHolding::Follows;
    Scene s = odd.scene;
    const auto laid = tack::apply(Verb(lay), s);
    if (!laid) continue;
    s = *laid;
    const PartId through = last_of(s);
    LayPlane beside;
    beside.way = LayPlane::Way::Beside;
    beside.of = through;
    beside.offset = Amount{chance.between(-50, 50)};
    beside.angle = Amount{chance.between(-180, 180)};
    beside.round = chance.whole(0, 2);
    beside.across = chance.whole(0, 2);
    s = done(beside, s);
    const PartId second = last_of(s);
    // What it leans on is moved, turned, and sized unevenly.
    Place place;
    place.what = {odd.moving};
    place.axes = AxesKind::Parent;
    for (std::size_t k = 0; k < 3; ++k) {
      place.position[k] = Amount{chance.between(-300, 300)};
      place.rotation[k] = Amount{chance.between(-180, 180)};
      place.scale[k] = Amount{chance.between(0.3, 3)};
    }
    const auto after = tack::apply(Verb(place), s);
    if (!after) continue;
    REQUIRE(after->part(through).law);
    REQUIRE(after->part(second).law);
    // As if they were laid now.
    const auto anew = tack::apply(Verb(lay), *after);
    if (!anew) continue;
    const Affine wanted = plane_frame(*anew, last_of(*anew)), is = plane_frame(*after, through);
    const Scene again = done(beside, *after);
    const Affine wanted_second = plane_frame(again, last_of(again)), is_second = plane_frame(*after, second);
    const auto share = [](const Affine& a, const Affine& b) {
      double off = distance(a.translation, b.translation) / (1 + length(a.translation));
      for (std::size_t k = 0; k < 3; ++k) off = std::max(off, distance(a.linear.column[k], b.linear.column[k]));
      return off / 1e-9;
    };
    cases_row.add(share(wanted, is));
    cases_row.add(share(wanted_second, is_second));
  }
}

TEST_CASE("a guide that is moved away itself follows no more, and so does one whose place is gone", "[plane][guide]") {
  Scene s = one_part({});
  s = done(
      step_from(R"({"verb":"guide","kind":"line","beside":"\"Post\" edge 0-1","distance":24,"name":"Post line"})", s),
      s);
  const PartId line = last_of(s);
  REQUIRE(s.part(line).law);
  Move post;
  post.what = {1};
  post.by[2] = Amount{15};
  const Vec3 before = plane_frame(s, line).translation;
  const Scene moved = done(post, s);
  CHECK(plane_frame(moved, line).translation == before + Vec3{0, 0, 15});
  CHECK(remark(post, s, moved).empty());
  // Moved with what it follows, it goes on following.
  Move both = post;
  both.what = {1, line};
  const Scene together = done(both, s);
  CHECK(together.part(line).law);
  CHECK(distance(plane_frame(together, line).translation, before + Vec3{0, 0, 15}) < 1e-12);
  Move alone = post;
  alone.what = {line};
  const Scene off = done(alone, s);
  CHECK_FALSE(off.part(line).law);
  CHECK(remark(alone, s, off) == "Post line no longer follows what it was laid by.");
  CHECK(plane_frame(off, line).translation == before + Vec3{0, 0, 15});
  CHECK(plane_frame(done(post, off), line).translation == before + Vec3{0, 0, 15});
  Delete gone;
  gone.what = {1};
  const Scene left = done(gone, s);
  CHECK_FALSE(left.part(line).law);
  CHECK(plane_frame(left, line).translation == before);
  CHECK(remark(gone, s, left) == "Post line stays where it is, as what it followed is gone.");
  // A copy of both follows the copy; undo brings everything back.
  Journal journal(s);
  REQUIRE(journal.add(post));
  journal.undo();
  CHECK(plane_frame(journal.scene(), line).translation == before);
}

TEST_CASE("a copy of a guide that is put elsewhere follows nothing", "[plane][guide]") {
  Scene s = one_part({});
  s = done(step_from(R"({"verb":"plane","name":"Deck","at":"\"Post\" vertex 3","holds":"follow"})", s), s);
  const PartId deck = last_of(s);
  Repeat repeat;
  repeat.what = {deck};
  repeat.count = 3;
  repeat.every = Amount{50};
  repeat.measured = Repeat::Measured::Pivots;
  s = done(repeat, s);
  REQUIRE(planes_in(s).size() == 3);
  for (const PartId id : planes_in(s)) CHECK((s.part(id).law != nullptr) == (id == deck));
  Move move;
  move.what = {1};
  move.by[1] = Amount{9};
  const Scene moved = done(move, s);
  for (const PartId id : planes_in(s)) {
    const Vec3 off = plane_frame(moved, id).translation - plane_frame(s, id).translation;
    CHECK(distance(off, id == deck ? Vec3{0, 9, 0} : Vec3{}) < 1e-12);
  }
}

TEST_CASE("a copied group has guides that follow within it", "[plane][guide]") {
  Scene s;
  Part group;
  group.name = "Station";
  const PartId station = s.add(group);
  const PartId post = s.add(part_of("Post", cube(20), {}, station));
  s = done(step_from(R"({"verb":"plane","name":"Deck","at":"\"Post\" vertex 3","holds":"follow","in":"Station"})", s),
           s);
  const PartId deck = last_of(s);
  Repeat repeat;
  repeat.what = {station};
  repeat.count = 2;
  repeat.every = Amount{100};
  repeat.measured = Repeat::Measured::Pivots;
  s = done(repeat, s);
  const PartId copy = s.roots().back();
  REQUIRE(copy != station);
  PartId copied_deck = kNoPart, copied_post = kNoPart;
  for (const PartId id : s.part(copy).children) (s.part(id).mesh ? copied_post : copied_deck) = id;
  REQUIRE(s.part(copied_deck).law);
  CHECK(s.part(copied_deck).law->places.front().part == copied_post);
  CHECK(distance(plane_frame(s, copied_deck).translation, plane_frame(s, deck).translation + Vec3{100, 0, 0}) < 1e-12);
  Move move;
  move.what = {post};
  move.by[1] = Amount{9};
  const Scene moved = done(move, s);
  CHECK(plane_frame(moved, copied_deck).translation == plane_frame(s, copied_deck).translation);
  CHECK(distance(plane_frame(moved, deck).translation, plane_frame(s, deck).translation + Vec3{0, 9, 0}) < 1e-12);
}

TEST_CASE("a plane on a group's box goes where a part in the group takes the box", "[plane][guide]") {
  Scene s;
  Part group;
  group.name = "Station";
  const PartId station = s.add(group);
  const PartId post = s.add(part_of("Post", cube(20), {}, station));
  s.add(part_of("Stop", cube(20), {}, station));
  s = done(step_from(R"({"verb":"plane","name":"Deck","at":"\"Station\" tree-box 1,1,1","holds":"follow"})", s), s);
  const PartId deck = last_of(s);
  REQUIRE(plane_frame(s, deck).translation == Vec3{20, 20, 20});
  Move move;
  move.what = {post};
  move.by = {Amount{5}, Amount{0}, Amount{7}};
  const Scene moved = done(move, s);
  CHECK(plane_frame(moved, deck).translation == Vec3{25, 20, 27});
  CHECK(moved.part(deck).law);
}

TEST_CASE("staying and following are written as they were said, and refused where nothing can move", "[plane][guide]") {
  Scene s = with_ramp(one_part({}));
  for (
      const char* text :
      {R"({"verb":"plane","of":"Ramp","offset":5,"holds":"stay"})",
       R"({"verb":"plane","of":"Ramp","offset":5,"holds":"follow"})",
       R"({"verb":"plane","at":"\"Post\" vertex 3","holds":"stay"})",
       R"({"verb":"guide","kind":"line","beside":"\"Post\" edge 0-1 at 0.5","distance":3,"in":"point 9,9,99","holds":"stay"})",
       R"({"verb":"guide","kind":"line","beside":"\"Post\" edge 0-1 at 0.5","distance":3,"in":"point 9,9,99","holds":"follow"})"}) {
    INFO(text);
    const Verb verb = step_from(text, s);
    const Json written = to_json(verb, s);
    REQUIRE(written.contains("holds"));
    CHECK(written["holds"] == Json::parse(text)["holds"]);
    CHECK(step_from(written.dump(), s) == verb);
  }
  for (const char* text :
       {R"({"verb":"plane","of":"World","offset":5,"holds":"follow"})",
        R"({"verb":"plane","position":[1,2,3],"holds":"follow"})",
        R"({"verb":"plane","at":"\"Post\" vertex 3","view":[[1,0,0],[0,1,0],[0,0,1]],"holds":"follow"})"}) {
    INFO(text);
    CHECK(refused_step(text, s).find("do not move") != std::string::npos);
  }
  // Chosen before the plane was laid off World: what is written is read again.
  LayPlane chosen;
  chosen.way = LayPlane::Way::Beside;
  chosen.holds = GuideHolding::Follows;
  CHECK_FALSE(to_json(Verb(chosen), s).contains("holds"));
  step_from(to_json(Verb(chosen), s).dump(), s);
}

TEST_CASE("a guide at an angle needs a face along which the edge lies", "[guide]") {
  Scene s = one_part({});  // a cube from 0 to 20
  std::uint32_t a = 0, b = 0, right = 0;
  const auto corners = s.part(1).mesh->positions();
  for (std::uint32_t i = 0; i < 8; ++i) {
    if (corners[i] == Vec3{0, 0, 20}) a = i;
    if (corners[i] == Vec3{20, 0, 20}) b = i;
  }
  for (std::uint32_t t = 0; t < 12; ++t)
    if (find_tack(s, {TackKind::FaceCentre, 1, t, {}})->direction->x > 0.9) right = t;
  const auto at_angle = [&](const std::string& edge, const std::string& in) {
    return step_from(R"({"verb":"guide","kind":"line","beside":)" + edge + R"(,"angle":30,"about":"point 1,2,20")" +
                         (in.empty() ? in : R"(,"in":)" + in) + "}",
                     s);
  };
  const std::string edge = fmt::format(R"("\"Post\" edge {}-{} at 0.25")", a, b);
  const std::string face = fmt::format(R"("\"Post\" face-centre {}")", right);
  CHECK(refusal(at_angle(edge, face), s).find("leaves that face by 90") != std::string::npos);
  // A guide line has no face of its own: the angle would turn it about itself.
  s = done(step_from(R"({"verb":"guide","kind":"line","through":["point 0,0,0","point 20,0,0"],"name":"Rail"})", s), s);
  CHECK(refusal(at_angle(R"("\"Rail\" pivot")", {}), s).find("leaves that face by 90") != std::string::npos);
}

TEST_CASE("a plane belongs to a skewed or mirrored part and stands where it was laid", "[plane]") {
  Chance chance(1305);
  Cases cases_row("plane in a skewed parent");
  for (int i = 0; i < cases(3000); ++i) {
    const Odd odd = odd_scene(chance, 3);
    LayPlane lay;
    lay.through = {vertex(odd.moving, 0), vertex(odd.moving, 1), vertex(odd.moving, 2)};
    const auto free = tack::apply(Verb(lay), odd.scene);
    lay.in = odd.still;
    const auto held = tack::apply(Verb(lay), odd.scene);
    if (!free || !held) continue;
    const auto newest = [&](const Scene& s) {
      PartId id = kNoPart;
      for (const PartId part : s.in_tree_order())
        if (!odd.scene.contains(part)) id = part;
      return id;
    };
    REQUIRE(held->part(newest(*held)).parent == odd.still);
    const LongAffine a = long_frame(*free, newest(*free)), b = long_frame(*held, newest(*held));
    const double off = static_cast<double>(length(a.shift - b.shift) / (1 + length(a.shift)));
    const double turned = static_cast<double>(std::max({length(a.x - b.x), length(a.y - b.y), length(a.z - b.z)}));
    cases_row.add(std::max(off, turned) / 1e-9);
  }
}
