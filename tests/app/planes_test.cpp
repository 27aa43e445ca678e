// Work planes, grids, guides, elevations and views, in the real window.
#include <QAction>
#include <QMenu>
#include <QToolButton>
#include <catch2/catch.hpp>

#include "core/catch/guide_law.h"
#include "core/fit/measure.h"
#include "core/verbs/place.h"
#include "core/view/handles.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

// A corner of the ramp's top in its own coordinates.
TackAddress ramp_corner(Desk& desk, const Vec3& own) {
  const PartId ramp = desk.part("Ramp");
  const auto positions = desk.scene().part(ramp).mesh->positions();
  for (std::uint32_t i = 0; i < positions.size(); ++i)
    if (distance(positions[i], own) < 1e-9) return vertex(ramp, i);
  FAIL("the ramp has no such corner");
  return {};
}

PartId only_plane(Desk& desk) {
  const auto planes = planes_in(desk.scene());
  REQUIRE(planes.size() == 1);
  return planes.front();
}

// The ramp seen from above, large enough that its corners are easy to click.
void look_at_ramp(Desk& desk) {
  desk.store().pick({desk.part("Ramp")});
  desk.stage().frame_picked();
  desk.store().pick({});
  desk.settle();
}

// What a menu has in it may depend on the scene.
void fill_menus(Desk& desk) {
  for (QMenu* menu : desk.window().findChildren<QMenu*>()) emit menu->aboutToShow();
}

// Types a value or a name into a blank of the sentence.
void retype(Desk& desk, const QString& blank, const QString& text) {
  desk.click_widget("blank " + blank);
  desk.type(text);
  desk.key(Qt::Key_Return);
}

// Everything but the ramp and what is named is out of the way.
void alone(Desk& desk, std::vector<PartId> parts) {
  std::vector<PartId> hide;
  for (const PartId id : desk.scene().roots())
    if (std::find(parts.begin(), parts.end(), id) == parts.end()) hide.push_back(id);
  REQUIRE(desk.store().perform(Show{hide, false}));
  desk.settle();
}

// A plane on the ramp's top, through three of its corners, by clicks.
PartId lay_ramp_plane(Desk& desk) {
  desk.key(Qt::Key_N);
  for (const Vec3& own : {Vec3{0, -70, 0}, {230, -70, 0}, {0, 70, 0}}) desk.click(desk.at(ramp_corner(desk, own)));
  return only_plane(desk);
}

}  // namespace

TEST_CASE("a plane is laid by three clicks, is the floor at once, and W is World and back", "[plane]") {
  Desk desk;
  alone(desk, {desk.part("Ramp")});
  look_at_ramp(desk);
  const std::size_t before = steps(desk);
  desk.key(Qt::Key_N);
  CHECK(desk.sentence().startsWith("Lay a plane through its origin, x towards a place, flat through a place"));
  CHECK(desk.message().contains("Click the plane's origin"));
  const TackAddress a = ramp_corner(desk, {0, -70, 0}), b = ramp_corner(desk, {230, -70, 0}),
                    c = ramp_corner(desk, {0, 70, 0});
  desk.click(desk.at(a));
  CHECK(desk.message().contains("x points to"));
  desk.click(desk.at(b));
  // While the third is hovered over the plane is shown.
  desk.move_to(desk.at(c));
  REQUIRE(desk.window().bench().marks().guides.size() == 1);
  CHECK(steps(desk) == before);
  desk.click(desk.at(c));
  CHECK(steps(desk) == before + 1);
  const PartId plane = only_plane(desk);
  CHECK(desk.scene().plane() == plane);
  const Affine frame = plane_frame(desk.scene(), plane);
  CHECK(distance(frame.translation, desk.point(a)) < 1e-9);
  CHECK(distance(frame.linear.column[0], normalized(desk.point(b) - desk.point(a))) < 1e-12);
  CHECK(std::abs(dot(frame.linear.column[2], desk.point(c) - desk.point(a))) < 1e-9);
  CHECK(desk.sentence().contains("in use at once"));
  auto* button = static_cast<QToolButton*>(desk.widget("Plane"));
  CHECK(button->text() == "Plane  Plane");
  // A typed name changes the same step.
  retype(desk, "Name", "Ramp deck");
  CHECK(desk.scene().part(plane).name == "Ramp deck");
  CHECK(steps(desk) == before + 1);
  CHECK(button->text() == "Plane  Ramp deck");
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_W);
  CHECK(desk.scene().plane() == kNoPart);
  CHECK(button->text() == "Plane  World");
  desk.key(Qt::Key_W);
  CHECK(desk.scene().plane() == plane);
  // Back and forth is one step.
  CHECK(steps(desk) == before + 2);
  // World is one click away, too.
  desk.click_widget("Back to World");
  CHECK(desk.scene().plane() == kNoPart);
  CHECK_FALSE(desk.window().findChild<QWidget*>("Back to World")->isVisible());
  desk.key(Qt::Key_W);
  CHECK(desk.scene().plane() == plane);
  // Square onto it: the view says so.
  desk.take_menu("Square onto the plane in use");
  const View view = desk.stage().view();
  CHECK(distance(view.back(), frame.linear.column[2]) < 1e-9);
  CHECK(distance(view.right(), frame.linear.column[0]) < 1e-9);
  // Undo takes all of it back.
  for (int i = 0; i < 9; ++i) desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(planes_in(desk.scene()).empty());
  CHECK(desk.scene().plane() == kNoPart);
}

TEST_CASE("planes by keys alone: beside World, turned, by numbers; places in one line are refused", "[plane]") {
  Desk desk;
  desk.stage().setFocus();
  desk.key(Qt::Key_N);
  desk.choose("How it is laid", "beside");
  desk.type("25 mm");
  desk.key(Qt::Key_Return);
  const PartId plane = only_plane(desk);
  CHECK(plane_frame(desk.scene(), plane).translation == Vec3{0, 0, 25});
  CHECK(desk.sentence().contains("beside World, across its Z by 25 mm"));
  retype(desk, "Turned by", "7.5");
  CHECK(desk.scene().part(plane).placement.rotation.x == Approx(7.5).epsilon(1e-12));
  desk.key(Qt::Key_Escape);
  // Three places typed, in one line.
  desk.choose("How it is laid", "through");
  for (const char* place : {"0, 0, 0", "10, 0, 0", "20, 0, 0"}) {
    desk.type("=");
    desk.type(place);
    desk.key(Qt::Key_Return);
  }
  CHECK(planes_in(desk.scene()).size() == 1);
  CHECK(desk.message().contains("lie in one line, within 0°"));
}

TEST_CASE("a plane is a part: picked by its border, moved by a typed number, turned, nested, followed", "[plane]") {
  Desk desk;
  alone(desk, {desk.part("Ramp")});
  look_at_ramp(desk);
  const PartId plane = lay_ramp_plane(desk);
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_P);
  // Its sheet reaches beyond the ramp: a click on the border picks it.
  const Sheet sheet = sheet_of(desk.scene(), plane);
  const Affine frame = plane_frame(desk.scene(), plane);
  desk.click(desk.at(frame * Vec3{sheet.right, (sheet.bottom + sheet.top) / 2, 0}));
  CHECK(desk.store().picked() == std::vector<PartId>{plane});
  desk.key(Qt::Key_M);
  desk.key(Qt::Key_Z);
  desk.type("16");
  desk.key(Qt::Key_Return);
  CHECK(plane_frame(desk.scene(), plane).translation.z == Approx(frame.translation.z + 16).epsilon(1e-12));
  // Another beside it follows it.
  desk.key(Qt::Key_N);
  desk.choose("How it is laid", "beside");
  desk.choose("Beside", "Plane");
  desk.type("10");
  desk.key(Qt::Key_Return);
  const auto both = planes_in(desk.scene());
  REQUIRE(both.size() == 2);
  CHECK(desk.sentence().contains("following it"));
  desk.store().pick({plane});
  desk.key(Qt::Key_O);
  desk.type("5");
  desk.key(Qt::Key_Return);
  const Affine one = plane_frame(desk.scene(), both[0]), two = plane_frame(desk.scene(), both[1]);
  CHECK(distance(two.translation, one * Vec3{0, 0, 10}) < 1e-9);
}

TEST_CASE("Plane axes follow the plane in use: typed, in the sentence, in Placement", "[plane]") {
  Desk desk;
  alone(desk, {desk.part("Ramp"), desk.part("Marble 4")});
  look_at_ramp(desk);
  const PartId plane = lay_ramp_plane(desk), marble = desk.part("Marble 4");
  desk.key(Qt::Key_Escape);
  desk.store().pick({marble});
  fill_menus(desk);
  desk.take_from_button("Axes", "Plane Plane");
  CHECK(static_cast<QToolButton*>(desk.widget("Axes"))->text().contains("plane Plane's"));
  desk.type_into("position x", "40");
  desk.type_into("position y", "1 in");
  desk.type_into("position z", "8");
  const Vec3 on = transpose(plane_frame(desk.scene(), plane).linear) *
                  (desk.point({TackKind::Pivot, marble, 0, {}}) - plane_frame(desk.scene(), plane).translation);
  CHECK(distance(on, Vec3{40, 25.4, 8}) < 1e-9);
  CHECK(numbers_in(desk.scene(), marble, axes_of_plane(plane)).position == Vec3{40, 25.4, 8});
  desk.key(Qt::Key_M);
  CHECK(desk.sentence().contains("plane Plane's axes"));
  desk.stage().setFocus();
  desk.key(Qt::Key_W);
  CHECK(desk.store().axes() == axes_of_plane(kNoPart));
}

TEST_CASE("the grid of a plane: spacing typed, shown, said, its nodes caught", "[plane]") {
  Desk desk;
  alone(desk, {desk.part("Ramp")});
  look_at_ramp(desk);
  const PartId plane = lay_ramp_plane(desk);
  desk.key(Qt::Key_Escape);
  fill_menus(desk);
  desk.take_from_button("Plane", "Its grid …");
  CHECK(desk.sentence().contains("as the zoom asks for"));
  desk.type("1/2 in");
  desk.key(Qt::Key_Return);
  REQUIRE(desk.scene().part(plane).grid);
  CHECK(desk.scene().part(plane).grid->spacing == 12.7);
  retype(desk, "Divided in", "2");
  CHECK(desk.scene().part(plane).grid->parts == 2);
  retype(desk, "Spacing", "0");
  INFO(desk.message().toStdString());
  CHECK(desk.message().contains("at least 0.000001 mm"));
  CHECK(desk.scene().part(plane).grid->spacing == 12.7);
  desk.key(Qt::Key_Escape);
  // A node on the grid is measured to: 3 squares and a half along x, 4 along y.
  alone(desk, {});
  const Vec3 node = plane_frame(desk.scene(), plane) * Vec3{3.5 * 12.7, 4 * 12.7, 0};
  desk.key(Qt::Key_U);
  QTest::keyPress(desk.window().windowHandle(), Qt::Key_C);
  desk.key(Qt::Key_G);
  QTest::keyRelease(desk.window().windowHandle(), Qt::Key_C);
  desk.move_to(desk.at(node));
  REQUIRE(desk.window().bench().draft().look().caught);
  const Caught caught = *desk.window().bench().draft().look().caught;
  CHECK(caught.address.part == plane);
  CHECK(distance(caught.point, node) < 1e-9);
}

TEST_CASE("a free drag goes along the plane, and lifts off it while E is held", "[plane]") {
  Desk desk;
  const PartId marble = desk.part("Marble 4");
  Place near_ramp;
  near_ramp.what = {marble};
  near_ramp.position = {Amount{320}, Amount{160}, Amount{150}};
  REQUIRE(desk.store().perform(near_ramp));
  alone(desk, {desk.part("Ramp"), desk.part("Marbles")});
  look_at_ramp(desk);
  const PartId plane = lay_ramp_plane(desk);
  desk.key(Qt::Key_Escape);
  desk.store().pick({marble});
  desk.key(Qt::Key_M);
  desk.take_menu("Drag along the plane in use");
  CHECK(static_cast<QToolButton*>(desk.widget("Drags"))->text() == "Drags  along Plane");
  const auto height = [&] {
    const Affine frame = plane_frame(desk.scene(), plane);
    return dot(frame.linear.column[2], desk.point({TackKind::Pivot, marble, 0, {}}) - frame.translation);
  };
  const double before = height();
  // By the ring about the pivot: a place would be carried to another place.
  const QPoint ring = desk.at({TackKind::Pivot, marble, 0, {}}) + QPoint(static_cast<int>(kRingPixels), 0);
  desk.drag(ring, ring + QPoint(46, 18));
  CHECK(height() == Approx(before).margin(1e-9));
  CHECK(desk.sentence().startsWith("Moved Marble 4"));
  CHECK(desk.sentence().contains("plane Plane's"));
  // With E held it goes up and down alone.
  const Vec3 stood = transpose(plane_frame(desk.scene(), plane).linear) * desk.point({TackKind::Pivot, marble, 0, {}});
  const QPoint again = desk.at({TackKind::Pivot, marble, 0, {}}) + QPoint(static_cast<int>(kRingPixels), 0);
  auto* window = desk.window().windowHandle();
  desk.move_to(again);
  QTest::mousePress(window, Qt::LeftButton, {}, again);
  QTest::mouseMove(window, again + QPoint(0, -6));
  desk.settle();
  QTest::keyPress(window, Qt::Key_E);
  for (int i = 2; i <= 8; ++i) QTest::mouseMove(window, again + QPoint(0, -6 * i)), desk.settle();
  QTest::keyRelease(window, Qt::Key_E);
  QTest::mouseRelease(window, Qt::LeftButton, {}, again + QPoint(0, -48));
  desk.settle();
  const Vec3 lifted = transpose(plane_frame(desk.scene(), plane).linear) * desk.point({TackKind::Pivot, marble, 0, {}});
  CHECK(lifted.z > stood.z + 5);
  CHECK(std::hypot(lifted.x - stood.x, lifted.y - stood.y) < 25);
}

TEST_CASE("elevations: a drawing is dragged in two axes, caught, and turned by the arc at its corner", "[elevation]") {
  Desk desk;
  const PartId marble = desk.part("Marble 4"), post = desk.part("Posts/Post 4");
  desk.take_menu("Both, and none again");
  REQUIRE(desk.stage().shows(Elevation::Front));
  REQUIRE(desk.stage().shows(Elevation::Side));
  const int front = Stage::pane_of(Elevation::Front), side = Stage::pane_of(Elevation::Side);
  const QRect main = desk.stage().pane_rect(0), strip = desk.stage().pane_rect(front);
  CHECK(main.bottom() < strip.top() + 1);
  CHECK(desk.stage().pane_rect(side).left() > main.right() - 1);
  const auto in = [&](int pane, const Vec3& world) {
    const auto px = desk.stage().pixel_in(pane, world);
    REQUIRE(px);
    return desk.stage().mapTo(&desk.window(), px->toPoint());
  };
  desk.store().pick({marble});
  const Vec3 was = desk.point({TackKind::Pivot, marble, 0, {}});
  const QPoint at = in(front, was);
  desk.drag(at, at + QPoint(30, -20));
  Vec3 is = desk.point({TackKind::Pivot, marble, 0, {}});
  CHECK(is.x > was.x);
  CHECK(is.z > was.z);
  CHECK(is.y == was.y);
  CHECK(desk.sentence().startsWith("Moved Marble 4"));
  const QPoint beside = in(side, is);
  desk.drag(beside, beside + QPoint(14, 9));
  const Vec3 then = desk.point({TackKind::Pivot, marble, 0, {}});
  CHECK(then.y > is.y);
  CHECK(then.z < is.z);
  CHECK(then.x == is.x);
  // Let go over a place of another part: level with it along the strip's two axes, the third untouched.
  const QPoint held = in(front, then), corner = in(front, desk.point(box_point(desk.part("Base board"), {0, 0, 1})));
  desk.drag(held, corner);
  const auto& last = desk.store().journal().record().steps.back()->verb;
  REQUIRE(std::holds_alternative<Move>(last));
  const Move& move = std::get<Move>(last);
  REQUIRE((move.from && move.to));
  CHECK(move.along == AxisSet{true, false, true});
  const Vec3 off = desk.point(*move.to) - desk.point(*move.from);
  CHECK(std::hypot(off.x, off.z) < 1e-9);
  CHECK(desk.point({TackKind::Pivot, marble, 0, {}}).y == then.y);
  CHECK(desk.sentence().contains("along x and z"));
  // What is not picked is picked by the drag.
  desk.store().pick({});
  const Vec3 stood = desk.point({TackKind::Pivot, post, 0, {}});
  const QPoint on = in(front, stood + Vec3{0, 0, 60});
  desk.drag(on, on + QPoint(0, -15));
  CHECK(desk.store().picked().size() == 1);
  // The arc at the corner.
  desk.store().pick({marble});
  desk.settle();
  const View view = desk.stage().view();
  (void)view;
  const auto handles =
      elevation_handles(desk.scene(), {marble}, desk.store().about(), desk.store().axes(), Mat3{}, Elevation::Front,
                        view_of(elevation_camera(desk.stage().camera(), main.height(), Mat3{}, Elevation::Front,
                                                 strip.width(), strip.height(), world_box_of(desk.scene())),
                                strip.width(), strip.height()));
  REQUIRE(handles.size() == 1);
  const QPoint middle = in(front, handles[0].line[handles[0].line.size() / 2]);
  desk.drag(middle, middle + QPoint(22, 26));
  CHECK(desk.scene().part(marble).placement.rotation.y != 0);
  CHECK(desk.sentence().startsWith("Rotated Marble 4"));
  // Undo, and the strips can go again.
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.scene().part(marble).placement.rotation == Vec3{});
  desk.take_menu("Both, and none again");
  CHECK(desk.stage().panes().size() == 1);
}

TEST_CASE("the edge of an elevation is dragged, and arrangements come back as they were left", "[elevation]") {
  Desk desk;
  desk.stage().show_elevation(Elevation::Front, true);
  desk.settle();
  const QRect strip = desk.stage().pane_rect(Stage::pane_of(Elevation::Front));
  const QPoint edge = desk.stage().mapTo(&desk.window(), QPoint(strip.center().x(), strip.top()));
  desk.drag(edge, edge - QPoint(0, 40));
  CHECK(desk.stage().pane_rect(Stage::pane_of(Elevation::Front)).height() == Approx(strip.height() + 40).margin(3));
  desk.stage().show_elevation(Elevation::Front, false);
  // Four views, one of them turned; back to one, and to four again.
  const Camera one = desk.stage().camera();
  desk.stage().show_views(4);
  desk.settle();
  Camera turned = desk.stage().camera();
  turned.turn += 33;
  desk.stage().set_camera(turned);
  desk.stage().show_views(1);
  CHECK(desk.stage().camera().turn == one.turn);
  desk.stage().show_views(4);
  CHECK(desk.stage().camera().turn == turned.turn);
  // In step: what one zooms, all do.
  desk.stage().keep_in_step(true);
  desk.wheel(desk.stage().mapTo(&desk.window(), desk.stage().pane_rect(1).center()), 3);
  const View first = desk.stage().view();
  const QPoint other = desk.stage().mapTo(&desk.window(), desk.stage().pane_rect(0).center());
  desk.move_to(other);
  CHECK(desk.stage().camera().distance == Approx(turned.distance * std::pow(0.86, 3)));
  CHECK(desk.stage().view().pixels_per_unit == Approx(first.pixels_per_unit));
}

TEST_CASE("guides are laid beside an edge and through places by clicks; they cross; all hide together",
          "[plane][guide]") {
  Desk desk;
  const PartId ramp = desk.part("Ramp");
  alone(desk, {ramp});
  look_at_ramp(desk);
  const Vec3 a = desk.point(ramp_corner(desk, {0, -70, 0})), b = desk.point(ramp_corner(desk, {230, -70, 0})),
             c = desk.point(ramp_corner(desk, {0, 70, 0}));
  const Vec3 x = normalized(b - a), y = normalized(c - a);
  desk.take_menu("Line beside an edge");
  CHECK(desk.message().contains("Click the edge"));
  desk.click(desk.at(a + x * 80));
  CHECK(desk.message().contains("side"));
  desk.click(desk.at(a + x * 100 + y * 60));
  CHECK(desk.sentence().startsWith("Laid a guide line beside"));
  desk.type("24");
  desk.key(Qt::Key_Return);
  PartId guide = desk.scene().roots().back();
  CHECK(length(cross(plane_frame(desk.scene(), guide).translation - (a + y * 24), x)) < 1e-9);
  REQUIRE(desk.scene().part(guide).law);
  desk.key(Qt::Key_Escape);
  desk.take_menu("Line from a place to a place");
  desk.click(desk.at(a));
  desk.click(desk.at(desk.point(ramp_corner(desk, {230, 70, 0}))));
  // They cross: caught as a place.
  const Vec3 crossing = a + y * 24 + x * (230.0 * 24 / 140);
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_U);
  desk.move_to(desk.at(crossing));
  REQUIRE(desk.window().bench().draft().look().caught);
  CHECK(distance(desk.window().bench().draft().look().caught->point, crossing) < 1e-6);
  CHECK(desk.window().bench().marks().from->name.startsWith("crossing of guides"));
  // It follows the ramp.
  desk.key(Qt::Key_P);
  Move move;
  move.what = {ramp};
  move.by[2] = Amount{12};
  REQUIRE(desk.store().perform(move));
  CHECK(length(cross(plane_frame(desk.scene(), guide).translation - (a + y * 24 + Vec3{0, 0, 12}), x)) < 1e-9);
  desk.take_menu("Hide all guides");
  CHECK(desk.scene().part(guide).hidden);
  desk.take_menu("Hide all guides");
  CHECK_FALSE(desk.scene().part(guide).hidden);
}

TEST_CASE("a guide beside an edge by keys alone, and at an angle", "[plane][guide]") {
  Desk desk;
  desk.stage().setFocus();
  const auto give = [&](const char* place) {
    desk.type("=");
    desk.type(place);
    desk.key(Qt::Key_Return);
  };
  desk.key(Qt::Key_J, Qt::ControlModifier | Qt::ShiftModifier);
  give("\"Ramp\" edge 3-7 at 0.5");
  give("\"Ramp\" vertex 2");
  desk.type("24");
  desk.key(Qt::Key_Return);
  const PartId guide = desk.scene().roots().back();
  const Vec3 edge = desk.point({TackKind::Edge, desk.part("Ramp"), 3, {0.5, 0, 0}, 7});
  CHECK(distance(plane_frame(desk.scene(), guide).translation, edge) == Approx(24).epsilon(1e-12));
  CHECK(desk.sentence().contains("24 mm away towards vertex of Ramp, following it"));
  // Negative: on the other side, the same step.
  retype(desk, "Distance", "-5");
  CHECK(desk.scene().roots().back() == guide);
  CHECK(distance(plane_frame(desk.scene(), guide).translation, edge) == Approx(5).epsilon(1e-12));
  desk.key(Qt::Key_Escape);
  desk.take_menu("Line at an angle to an edge");
  give("\"Ramp\" edge 3-7 at 0.5");
  give("\"Ramp\" vertex 3");
  desk.type("30");
  desk.key(Qt::Key_Return);
  const PartId slanted = desk.scene().roots().back();
  REQUIRE(slanted != guide);
  CHECK(angle_between(plane_frame(desk.scene(), slanted).linear.column[2],
                      plane_frame(desk.scene(), guide).linear.column[2]) == Approx(30).epsilon(1e-12));
}

TEST_CASE("views are kept by name in the document", "[plane]") {
  Desk desk;
  desk.stage().turn_to(Side::Front);
  const Camera was = desk.stage().camera();
  fill_menus(desk);
  desk.take_menu("Keep this view");
  desk.settle();
  desk.type("Head on");
  desk.key(Qt::Key_Return);
  REQUIRE(desk.scene().views().size() == 1);
  CHECK(desk.scene().views().front().name == "Head on");
  desk.stage().turn_to(Side::Top);
  fill_menus(desk);
  desk.take_menu("Head on");
  CHECK(desk.stage().camera().tilt == was.tilt);
  CHECK(desk.stage().camera().turn == was.turn);
}
