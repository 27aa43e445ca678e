// Live shapes and Stretch in the real window: by mouse, by keys and numbers, and as jobs of the demo.
#include <fmt/format.h>

#include <QLabel>
#include <QLineEdit>
#include <catch2/catch.hpp>

#include "core/fit/ties.h"
#include "core/math/degrees.h"
#include "core/verbs/about.h"
#include "tests/app/handles.h"

using namespace tack;
using namespace tack::test;

namespace {

void perform(Desk& desk, const Json& json) {
  const auto verb = verb_from_json(json, desk.scene());
  INFO(json.dump() << (verb ? std::string() : sentence(verb.error())));
  REQUIRE(verb);
  REQUIRE(desk.store().perform(*verb));
  desk.settle();
}

void bring_rail(Desk& desk) {
  ImportOptions options;
  options.unit = 10;
  desk.window().files().bring(source("demo/hook-rail.stl"), options, {});
  desk.wait([&] { return find_by_path(desk.scene(), "hook-rail").has_value(); });
  desk.window().stage().frame_all();
  desk.settle();
}

const Shape& shape_of(Desk& desk, const std::string& part) {
  const Part& p = desk.scene().part(desk.part(part));
  REQUIRE(p.shape);
  return p.shape->shape;
}

}  // namespace

TEST_CASE("a block from corner to corner, its height by the pointer, and Pick is back", "[shape]") {
  Desk desk;
  desk.key(Qt::Key_S);
  CHECK(desk.sentence().startsWith("Make a box of"));
  // On the board, from node to node of the ground's grid seen from above.
  desk.stage().turn_to(Side::Top);
  desk.settle();
  const TackAddress a{TackKind::PlanePoint, kNoPart, 0, {-300, -480, 0}},
      b{TackKind::PlanePoint, kNoPart, 0, {-200, -420, 0}};
  desk.move_to(desk.at(a));
  CHECK_FALSE(desk.window().bench().marks().ghosts.empty());  // it is shown before anything is clicked
  desk.click(desk.at(a));
  CHECK(steps(desk) == 0);
  desk.move_to(desk.at(b));
  desk.click(desk.at(b));
  REQUIRE(steps(desk) == 0);
  CHECK(desk.message().contains("how high"));
  desk.type("35");
  desk.key(Qt::Key_Return);
  REQUIRE(steps(desk) == 1);
  const Box box = world_box(desk, "Box");
  CHECK(std::abs(box.size().x - 100) < 15);  // where exactly it is caught depends on the zoom
  CHECK(std::abs(box.size().y - 60) < 15);
  CHECK(box.low.z == 0);
  CHECK(box.size().z == Approx(35).epsilon(1e-14));
  CHECK(desk.store().picked() == std::vector<PartId>{desk.part("Box")});
  CHECK(desk.window().bench().draft().row() == id_of<Pick>);
  CHECK(desk.sentence().startsWith("Made a box of"));
  // The size is typed in Placement for as long as it is there.
  desk.type_into("dimension width", "4 in");
  CHECK(shape_of(desk, "Box")[Dimension::Width] == 101.6);
  CHECK(steps(desk) == 2);
  CHECK(desk.sentence().startsWith("Gave Box 4 in"));
  // Ctrl+Z goes the way back.
  desk.stage().setFocus();
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK_FALSE(find_by_path(desk.scene(), "Box"));
}

TEST_CASE("numbers before the clicks, Enter takes what stands, Ctrl goes on", "[shape]") {
  Desk desk;
  desk.key(Qt::Key_S);
  desk.choose("Kind of shape", "cylinder");
  CHECK(desk.sentence().startsWith("Make a cylinder of"));
  // Typed before anything is clicked: then one click is all.
  desk.type("6");
  desk.key(Qt::Key_Tab);
  desk.type("40");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 0);
  const QPoint corner = desk.at(desk.visible_vertex(desk.part("Base board")));
  desk.click(corner, Qt::ControlModifier);
  REQUIRE(steps(desk) == 1);
  CHECK(shape_of(desk, "Cylinder")[Dimension::Diameter] == 6);
  CHECK(shape_of(desk, "Cylinder")[Dimension::Height] == 40);
  CHECK(desk.window().bench().draft().row() == id_of<MakeShape>);
  // The next one: a click and Enter.
  desk.click(desk.at(desk.visible_vertex(desk.part("Catch basin"))));
  CHECK(steps(desk) == 1);
  desk.key(Qt::Key_Return);
  REQUIRE(steps(desk) == 2);
  CHECK(shape_of(desk, "Cylinder 2").sizes == usual_shape(ShapeKind::Cylinder).sizes);
  CHECK(desk.window().bench().draft().row() == id_of<Pick>);
  // Esc takes back a click, then leaves.
  desk.key(Qt::Key_S);
  desk.click(corner);
  desk.key(Qt::Key_Escape);
  CHECK(desk.message().contains("Click where it stands"));
  desk.key(Qt::Key_Escape);
  CHECK(desk.window().bench().draft().row() == id_of<Pick>);
  CHECK(steps(desk) == 2);
}

TEST_CASE("a strip between two guides, by their crossings", "[shape][job]") {
  Desk desk;
  desk.stage().turn_to(Side::Top);
  for (const auto& [name, x] : {std::pair{"Left line", -400.0}, {"Right line", -150.0}})
    perform(desk, {{"verb", "guide"},
                   {"kind", "line"},
                   {"name", name},
                   {"through", {fmt::format("point {},-600,0", x), fmt::format("point {},-300,0", x)}}});
  for (const auto& [name, y] : {std::pair{"Low line", -500.0}, {"High line", -440.0}})
    perform(desk, {{"verb", "guide"},
                   {"kind", "line"},
                   {"name", name},
                   {"through", {fmt::format("point -600,{},0", y), fmt::format("point 0,{},0", y)}}});
  desk.store().pick({});
  desk.key(Qt::Key_S);
  desk.choose("Kind of shape", "plate");
  desk.click(desk.at(Vec3{-400, -500, 0}));
  desk.click(desk.at(Vec3{-150, -440, 0}));
  desk.type("3/8 in");
  desk.key(Qt::Key_Return);
  if (steps(desk) == 4) desk.key(Qt::Key_Return);
  REQUIRE(steps(desk) == 5);
  const Box strip = world_box(desk, "Plate");
  CHECK(distance(strip.low, Vec3{-400, -500, 0}) < 1e-9);
  CHECK(distance(strip.high, Vec3{-150, -440, 9.525}) < 1e-9);
}

TEST_CASE("a pin keeps its pivot and its meeting when its diameter changes", "[shape][job]") {
  Desk desk;
  perform(desk, {{"verb", "shape"},
                 {"kind", "cylinder"},
                 {"name", "Pin"},
                 {"at", "point 0,-420,0"},
                 {"diameter", 6},
                 {"height", 40}});
  perform(desk, {{"verb", "pivot"}, {"what", {"Pin"}}, {"at", "box 0.5,0.5,1"}});
  perform(desk, {{"verb", "meet"},
                 {"pairs", {{{"from", "\"Pin\" round 0"}, {"to", "\"Landing\" box 0.5,0.5,1"}}}},
                 {"tie", "Pin"}});
  pick_these(desk, {"Pin"});
  const Vec3 stood = world_of(desk.scene(), desk.part("Pin")) * Vec3{0, 0, 0};
  desk.type_into("dimension diameter", "1/4 in");
  const Part& pin = desk.scene().part(desk.part("Pin"));
  CHECK(pin.shape->shape[Dimension::Diameter] == 6.35);
  CHECK(pin.placement.pivot == Vec3{0, 0, 40});
  CHECK(distance(world_of(desk.scene(), desk.part("Pin")) * Vec3{0, 0, 0}, stood) < 1e-12);
  CHECK(std::abs(state_of(desk.scene().ties().front(), desk.scene()).gap) < 1e-9);
}

TEST_CASE("the rail 60 mm longer with both hooks unchanged, by keys and by mouse", "[stretch][job]") {
  Desk desk;
  bring_rail(desk);
  pick_these(desk, {"hook-rail"});
  const Part was = desk.scene().part(desk.part("hook-rail"));
  desk.key(Qt::Key_G);
  INFO(desk.sentence().toStdString());
  CHECK(desk.sentence().contains("(found: its outline is the same there)"));
  desk.type("660");
  desk.key(Qt::Key_Return);
  REQUIRE(steps(desk) == 2);
  const auto check_hooks = [&](double longer) {
    const Part& is = desk.scene().part(desk.part("hook-rail"));
    for (std::size_t v = 0; v < was.mesh->positions().size(); ++v) {
      const Vec3 p = was.mesh->positions()[v];
      if (p.x < -273) CHECK(is.mesh->positions()[v] == p);
      if (p.x > 273) CHECK(is.mesh->positions()[v] == Vec3{p.x + longer, p.y, p.z});
    }
  };
  check_hooks(60);
  CHECK(world_box(desk, "hook-rail").size().x == Approx(660).epsilon(1e-14));
  // Corrected in place: the value is that of the same step.
  CHECK(desk.sentence().startsWith("Stretched hook-rail along X"));
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  // By mouse: the high end is dragged; the low one holds. What is typed right after is the length.
  pick_these(desk, {"hook-rail"});
  const auto end = [&] {
    return handle_pixel(
        desk, [](const Handle& h) { return h.kind == Handle::Kind::End && h.fraction.x == 1; }, 0);
  };
  const QPoint from = end(), middle = handle_pixel(desk, [](const Handle&h) { return h.kind == Handle::Kind::Value; });
  desk.drag(from, from + (from - middle) / 4);
  REQUIRE(steps(desk) == 2);
  CHECK(world_box(desk, "hook-rail").size().x > 620);
  CHECK(world_box(desk, "hook-rail").low.x == Approx(-300).margin(1e-9));
  desk.type("660");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 2);
  check_hooks(60);
  // Shorter than its hooks it is refused, and says the least.
  desk.key(Qt::Key_Escape);
  desk.type("50");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 2);
  CHECK(desk.message().contains("the ends that keep their shape are 54 mm"));
}

TEST_CASE("the planes of the band are dragged before there is a length", "[stretch]") {
  Desk desk;
  bring_rail(desk);
  desk.stage().turn_to(Side::Front);
  pick_these(desk, {"hook-rail"});
  desk.window().stage().frame_picked();
  desk.key(Qt::Key_G);
  desk.settle();
  const auto near = [&] {
    return handle_pixel(desk, [](const Handle& h) { return h.kind == Handle::Kind::Corner && h.box == 0; });
  };
  const QPoint from = near();
  desk.drag(from, from + QPoint(120, 0));
  CHECK(steps(desk) == 1);  // the rail was brought in
  CHECK(near().x() - from.x() > 90);
  CHECK_FALSE(desk.sentence().contains("found"));
  desk.type("700");
  desk.key(Qt::Key_Return);
  REQUIRE(steps(desk) == 2);
  const auto& stretch = std::get<Stretch>(desk.store().journal().record().steps.back()->verb);
  REQUIRE(stretch.ways.front().near_plane);
  CHECK(stretch.ways.front().near_plane->value > 40);
  CHECK(world_box(desk, "hook-rail").size().x == Approx(700).epsilon(1e-14));
}

TEST_CASE("the baffle fills its opening with 1.5 mm on each side in two directions", "[stretch][job]") {
  Desk desk;
  pick_these(desk, {"Baffle"});
  desk.key(Qt::Key_G);
  desk.give("Filling from", "\"Bearing front\" box 1,0.5,0.5");  // an offer of the sentence
  desk.give("Filling to", "\"Wheel post front\" box 0,0.5,0.5");
  REQUIRE(steps(desk) == 1);
  desk.choose("Second direction", "along Z");
  CHECK(desk.sentence().contains("; along Z"));
  desk.give("Second Filling from", "\"Base board\" box 0.5,0.5,1");
  desk.give("Second Filling to", "\"Bearing front\" box 0.5,0.5,1");
  INFO(desk.sentence().toStdString() << desk.message().toStdString());
  REQUIRE(steps(desk) == 1);
  for (const char* blank : {"Gap at its start", "Gap at its end", "Second Gap at its start", "Second Gap at its end"}) {
    desk.click_widget(QString("blank ") + blank);
    desk.type("1.5");
    desk.key(Qt::Key_Return);
  }
  CHECK(steps(desk) == 1);
  const Box box = world_box(desk, "Baffle"), bearing = world_box(desk, "Bearing front"),
            post = world_box(desk, "Wheel post front");
  CHECK(box.low.x - bearing.high.x == Approx(1.5).margin(1e-9));
  CHECK(post.low.x - box.high.x == Approx(1.5).margin(1e-9));
  CHECK(box.low.z - world_box(desk, "Base board").high.z == Approx(1.5).margin(1e-9));
  CHECK(bearing.high.z - box.high.z == Approx(1.5).margin(1e-9));
  // The plate and its lip are as thick as before: from the stored vertices.
  std::set<double> depths;
  for (const Vec3& p : desk.scene().part(desk.part("Baffle")).mesh->positions()) depths.insert(p.y);
  CHECK(depths == std::set<double>{-12, 0, 4});
  double lip = 0;
  for (const Vec3& p : desk.scene().part(desk.part("Baffle")).mesh->positions())
    if (p.y == -12) lip = std::max(lip, desk.scene().part(desk.part("Baffle")).mesh->box().high.z - p.z);
  CHECK(lip == Approx(4).epsilon(1e-12));
}

TEST_CASE("the tray 600, then 450 mm long by one sentence", "[stretch][job]") {
  Desk desk;
  pick_these(desk, {"Marble tray"});
  desk.key(Qt::Key_G);
  for (const double length : {600.0, 450.0}) {
    desk.type(QString::number(length));
    desk.key(Qt::Key_Return);
    const auto size = [&](const std::string& part) { return world_box(desk, "Marble tray/" + part).size(); };
    CHECK(world_box(desk, "Marble tray").size().x == Approx(length).epsilon(1e-13));
    CHECK(std::abs(size("Left wall").x - 6) < 1e-9);
    CHECK(std::abs(size("Right wall").x - 6) < 1e-9);
    CHECK(std::abs(size("Front wall").y - 6) < 1e-9);
    std::vector<double> middles{world_box(desk, "Marble tray/Left wall").high.x + 0};
    for (int i = 1; i <= 5; ++i) {
      CHECK(std::abs(size(fmt::format("Divider {}", i)).x - 4) < 1e-9);
      middles.push_back(world_box(desk, fmt::format("Marble tray/Divider {}", i)).centre().x);
    }
    middles.push_back(world_box(desk, "Marble tray/Right wall").low.x);
    for (std::size_t i = 2; i < middles.size(); ++i)
      CHECK(middles[i] - middles[i - 1] == Approx(middles[1] - middles[0]).epsilon(1e-12));
  }
  CHECK(steps(desk) == 2);
}

TEST_CASE("a kept band in the Part menu, and Scale keeps the profile by its dimension line", "[stretch]") {
  Desk desk;
  bring_rail(desk);
  pick_these(desk, {"hook-rail"});
  desk.take_menu("Keep a band");
  CHECK(desk.sentence().startsWith("Keep a band on hook-rail along X"));
  desk.key(Qt::Key_Return);
  REQUIRE(steps(desk) == 2);
  REQUIRE(bands_of(desk.scene(), desk.part("hook-rail")).size() == 1);
  pick_these(desk, {"hook-rail"});
  desk.type_into("own size x", "700");
  CHECK(desk.sentence().contains("keeping its profile"));
  CHECK(desk.scene().part(desk.part("hook-rail")).placement.scale == Vec3{1, 1, 1});
  CHECK(world_box(desk, "hook-rail").size().x == Approx(700).epsilon(1e-13));
  CHECK(desk.sentence().contains("that is × 1 · 1 · 1"));
  desk.choose("Profile", "in proportion");
  CHECK(desk.scene().part(desk.part("hook-rail")).placement.scale.x == Approx(700.0 / 600));
  CHECK(steps(desk) == 3);
}

TEST_CASE("a shape made a plain mesh loses its dimensions, and has them back when that is undone", "[shape]") {
  Desk desk;
  perform(desk, {{"verb", "shape"},
                 {"kind", "tube"},
                 {"at", "point 0,-420,0"},
                 {"diameter", 24},
                 {"thickness", 3},
                 {"height", 40}});
  pick_these(desk, {"Tube"});
  CHECK(desk.widget("dimensions")->isVisible());
  desk.take_menu("Make it a plain mesh");
  CHECK_FALSE(desk.window().findChild<QWidget*>("dimensions")->isVisible());
  CHECK(desk.sentence().contains("it has no dimensions any more"));
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  pick_these(desk, {"Tube"});
  CHECK(desk.widget("dimensions")->isVisible());
  // Bad entries are refused in words, and nothing changes.
  desk.type_into("dimension wall", "13");
  CHECK(desk.message().contains("thinner than 12 mm"));
  CHECK(shape_of(desk, "Tube")[Dimension::Thickness] == 3);
}
