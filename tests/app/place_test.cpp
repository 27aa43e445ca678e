// Moving, turning, sizing and preparing parts in the real window, by mouse alone and by keys alone.
#include <QApplication>
#include <QClipboard>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QTimer>
#include <QToolButton>
#include <catch2/catch.hpp>
#include <numbers>

#include "app/choice_row.h"
#include "app/workbench.h"
#include "core/fit/measure.h"
#include "core/mesh/extent.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

QPoint in_window(Desk& desk, QPointF stage_point) { return desk.stage().mapTo(&desk.window(), stage_point.toPoint()); }

// A handle of the verb in use, by kind and axes; the pixel is the middle of its line.
QPoint handle(Desk& desk, Handle::Kind kind, const std::array<bool, 3>& axes, const Vec3& fraction = {}) {
  const View view = desk.stage().view();
  for (const Handle& h : desk.window().bench().draft().handles(view)) {
    const bool of_box = kind == Handle::Kind::Pad || kind == Handle::Kind::End;
    if (h.kind != kind || h.axes != axes || (of_box && h.fraction != fraction)) continue;
    const Vec3 at = kind == Handle::Kind::Ruler ? h.line.front() + (h.line.back() - h.line.front()) * 0.7
                    : kind == Handle::Kind::End ? h.line.front() + (h.line.back() - h.line.front()) * 0.4
                                                : h.line[h.line.size() / 2];
    const auto px = view.project(at);
    REQUIRE(px);
    const auto all = desk.window().bench().draft().handles(view);
    const int hit = handle_at(view, all, std::round(px->x), std::round(px->y));
    REQUIRE(hit >= 0);
    CHECK(all[static_cast<std::size_t>(hit)].kind == kind);
    CHECK(all[static_cast<std::size_t>(hit)].axes == axes);
    return in_window(desk, {px->x, px->y});
  }
  FAIL("no such handle");
  return {};
}

// How far apart along a line the two pixels are: each means the point of the line that is nearest to what lies behind
// it.
double shift_along(Desk& desk, QPoint from, QPoint to, const Vec3& origin, const Vec3& unit) {
  const auto along = [&](QPoint window_pixel) {
    const QPoint px = desk.stage().mapFrom(&desk.window(), window_pixel);
    const Ray ray = desk.stage().view().ray(px.x(), px.y());
    // Both lines have a common perpendicular; the point of the first where it begins.
    const Vec3 n = cross(ray.direction, cross(unit, ray.direction));
    return dot(ray.origin - origin, n) / dot(unit, n);
  };
  return along(to) - along(from);
}

// The angle between two pixels about the vertical through `centre`, on the level plane there; right-handed, degrees.
double turn_between(Desk& desk, QPoint from, QPoint to, const Vec3& centre) {
  const auto angle = [&](QPoint window_pixel) {
    const QPoint px = desk.stage().mapFrom(&desk.window(), window_pixel);
    const Ray ray = desk.stage().view().ray(px.x(), px.y());
    const Vec3 p = ray.origin + ray.direction * ((centre.z - ray.origin.z) / ray.direction.z) - centre;
    return std::atan2(p.y, p.x) * 180 / std::numbers::pi;
  };
  return std::remainder(angle(to) - angle(from), 360);
}

const Placement& placement(Desk& desk, const std::string& part) { return desk.scene().part(desk.part(part)).placement; }

}  // namespace

TEST_CASE("job 5: a post made 185 mm high keeping its foot on the board: two keys, one click, the value", "[place]") {
  Desk desk;
  const PartId post = desk.part("Post 4");
  const Vec3 foot = desk.point(box_point(post, {0.5, 0.5, 0}));
  desk.click(desk.at(desk.point(box_point(post, {0.5, 0.1, 0.5}))));
  REQUIRE(desk.store().picked() == std::vector<PartId>{post});
  desk.key(Qt::Key_A);
  desk.key(Qt::Key_Z);
  desk.type("185");
  desk.key(Qt::Key_Return);
  CHECK(own_size(desk.scene(), post).z == 185);
  CHECK(distance(desk.point(box_point(post, {0.5, 0.5, 0})), foot) < 1e-9);
  CHECK(desk.sentence().contains("185 mm big"));
  CHECK(desk.sentence().contains("holding the bottom still"));
  // A blank of the finished sentence changes the same step.
  desk.click_widget("blank Size along Z");
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.type("it / 10");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 1);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(own_size(desk.scene(), post).z == 185);
}

TEST_CASE("job 6: 37.5° about another part's corner: two keys, two clicks, the value", "[place]") {
  Desk desk;
  const PartId channel = desk.part("Channel 3"), board = desk.part("Base board");
  const Vec3 start = desk.point({TackKind::Pivot, channel, 0, {}});
  const Vec3 corner = desk.point(box_point(board, {0, 0, 1}));
  desk.click(desk.at(desk.point(box_point(channel, {0.5, 0.15, 1}))));
  REQUIRE(desk.store().picked() == std::vector<PartId>{channel});
  desk.key(Qt::Key_O);
  desk.key(Qt::Key_K);
  desk.click(desk.at(corner));
  CHECK(desk.sentence().contains("about vertex of Base board"));
  CHECK(desk.store().picked() == std::vector<PartId>{channel});
  desk.type("37.5");
  desk.key(Qt::Key_Return);
  // By hand: the pivot's arm from the corner, turned by 37.5°.
  const double a = 37.5 * 3.14159265358979323846 / 180, x = start.x - corner.x, y = start.y - corner.y;
  const Vec3 wanted{corner.x + x * std::cos(a) - y * std::sin(a), corner.y + x * std::sin(a) + y * std::cos(a),
                    start.z};
  CHECK(distance(desk.point({TackKind::Pivot, channel, 0, {}}), wanted) < 1e-9);
  CHECK(placement(desk, "Channel 3").rotation == Vec3{0, 0, 13.5});
  CHECK(desk.scene().part(board).placement == desk.store().journal().record().start.part(board).placement);
}

TEST_CASE("job 7: the sign plate's box made to fit, then 300 mm long without distorting", "[place]") {
  Desk desk;
  desk.drop(source("demo/sign-plate.obj"));
  QDialog* dialog = nullptr;
  desk.wait([&] { return (dialog = desk.window().findChild<QDialog*>("import")) && dialog->isVisible(); });
  auto* unit = dialog->findChild<ChoiceRow*>("unit");
  unit->setFocus();
  QTest::keyClicks(unit, "in");
  QTest::keyClick(dialog, Qt::Key_Return);
  const std::size_t before_parts = desk.scene().size();
  desk.wait([&] { return desk.scene().size() == before_parts + 1; });
  const PartId sign = desk.part("Sign plate");
  const Vec3 before = desk.point({TackKind::Vertex, sign, 5, {}});
  const Vec3 askew = own_size(desk.scene(), sign);
  desk.take_from_button("group own size", "Make the box as tight as it can be");
  CHECK(distance(desk.point({TackKind::Vertex, sign, 5, {}}), before) < 1e-9);
  const Vec3 fitted = own_size(desk.scene(), sign);
  CHECK(fitted.x * fitted.y * fitted.z < 0.8 * askew.x * askew.y * askew.z);
  desk.type_into("own size x", "300");
  CHECK(own_size(desk.scene(), sign).x == Approx(300).epsilon(1e-12));
  CHECK(own_size(desk.scene(), sign).y == Approx(fitted.y).epsilon(1e-12));
  CHECK(placement(desk, "Sign plate").skew == Vec3{});
}

TEST_CASE("job 8: the lever's pivot put on the fulcrum, then turned about it", "[place]") {
  Desk desk;
  const PartId lever = desk.part("Tipping lever"), fulcrum = desk.part("Fulcrum");
  const Vec3 end = desk.point(box_point(lever, {0, 0, 0}));
  desk.store().pick({lever});
  desk.key(Qt::Key_F);
  desk.key(Qt::Key_V);
  CHECK(desk.message().contains("Click the place"));
  const TackAddress tip = box_point(fulcrum, {1, 0, 0.5});
  desk.window().bench().narrow_to(CatchKind::BoxPoint);
  desk.move_to(desk.at(tip));
  REQUIRE(desk.window().bench().marks().to);
  const Vec3 pivot_before = desk.point({TackKind::Pivot, lever, 0, {}});
  desk.click(desk.at(tip));
  CHECK(steps(desk) == 1);
  const Vec3 pivot = desk.point({TackKind::Pivot, lever, 0, {}});
  CHECK(distance(pivot, pivot_before) > 1);
  CHECK(distance(desk.point(box_point(lever, {0, 0, 0})), end) < 1e-9);
  desk.key(Qt::Key_O);
  desk.key(Qt::Key_Y);
  desk.type("-12.5");
  desk.key(Qt::Key_Return);
  CHECK(distance(desk.point({TackKind::Pivot, lever, 0, {}}), pivot) == 0);
  CHECK(distance(desk.point(box_point(lever, {0, 0, 0})), pivot) == Approx(distance(end, pivot)).epsilon(1e-12));
}

TEST_CASE("job 9: by mouse alone: a ruler, an arc and a pad, on increments, with a copy left behind", "[place]") {
  Desk desk;
  const PartId basin = desk.part("Catch basin");
  desk.store().pick({basin});
  desk.key(Qt::Key_F);
  desk.click_widget("verb Move");
  const Vec3 start = placement(desk, "Catch basin").position;
  const QPoint ruler = handle(desk, Handle::Kind::Ruler, {true, false, false});
  desk.drag(ruler, ruler + QPoint(40, 20), Qt::LeftButton, Qt::ShiftModifier);
  const Vec3 moved = placement(desk, "Catch basin").position;
  const double shift = shift_along(desk, ruler, ruler + QPoint(40, 20), start, {1, 0, 0});
  INFO("the pointer went " << shift << " mm along x");
  CHECK(std::abs(shift) > 10);
  CHECK(moved == start + Vec3{std::round(shift / 10) * 10, 0, 0});
  // Typed right after the drag, the same step has exactly that.
  desk.type("12.5");
  desk.key(Qt::Key_Return);
  CHECK(placement(desk, "Catch basin").position == start + Vec3{12.5, 0, 0});
  CHECK(steps(desk) == 1);
  desk.click_widget("verb Rotate");
  const QPoint arc = handle(desk, Handle::Kind::Arc, {false, false, true});
  desk.drag(arc, arc + QPoint(-30, 26), Qt::LeftButton, Qt::ShiftModifier);
  const double turn = turn_between(desk, arc, arc + QPoint(-30, 26), start + Vec3{12.5, 0, 0});
  INFO("the pointer went " << turn << "° round z");
  CHECK(std::abs(turn) > 15);
  CHECK(placement(desk, "Catch basin").rotation == Vec3{0, 0, std::round(turn / 15) * 15});
  CHECK(placement(desk, "Catch basin").position == start + Vec3{12.5, 0, 0});
  desk.click_widget("verb Scale");
  const Vec3 bottom_before = desk.point(box_point(basin, {0.5, 0.5, 0}));
  desk.stage().frame_picked();
  desk.settle();
  const QPoint end = handle(desk, Handle::Kind::End, {false, false, true}, {0.5, 0.5, 1});
  const std::size_t parts = desk.scene().size();
  desk.drag(end, end - QPoint(0, 40), Qt::LeftButton, Qt::ControlModifier);
  CHECK(desk.scene().size() == parts + 1);
  CHECK(desk.sentence().contains("a copy of"));
  CHECK(distance(desk.point(box_point(basin, {0.5, 0.5, 0})), bottom_before) < 1e-9);
  CHECK(own_size(desk.scene(), basin).z > own_size(desk.scene(), desk.part("Catch basin 2")).z + 1);
}

TEST_CASE("Esc in a drag puts everything back, and a value typed in the drag ends it exactly", "[place]") {
  Desk desk;
  const PartId hub = desk.part("Hub");
  desk.store().pick({hub});
  desk.key(Qt::Key_O);
  const Placement before = placement(desk, "Hub");
  const QPoint arc = handle(desk, Handle::Kind::Arc, {false, false, true});
  auto* window = desk.window().windowHandle();
  desk.move_to(arc);
  QTest::mousePress(window, Qt::LeftButton, {}, arc);
  QTest::mouseMove(window, arc + QPoint(20, 10));
  desk.settle();
  QTest::mouseMove(window, arc + QPoint(40, 25));
  desk.settle();
  CHECK(desk.window().bench().marks().shown);
  CHECK(desk.window().bench().marks().gauges.arc);
  desk.key(Qt::Key_Escape);
  CHECK_FALSE(desk.window().bench().draft().dragging());
  QTest::mouseRelease(window, Qt::LeftButton, {}, arc + QPoint(40, 25));
  desk.settle();
  CHECK(placement(desk, "Hub") == before);
  CHECK(steps(desk) == 0);
  // And once more, with 30 typed before letting go.
  desk.drag_and_type(arc, arc + QPoint(80, 50), "30");
  CHECK(steps(desk) == 1);
  CHECK(desk.sentence().contains("30°"));
}

TEST_CASE("what is shown while a value is typed is what Enter makes, also behind a finished step", "[place]") {
  Desk desk;
  const PartId hub = desk.part("Hub");
  desk.store().pick({hub});
  desk.key(Qt::Key_M);
  const double start = placement(desk, "Hub").position.x;
  const auto shown = [&] {
    const auto& after = desk.window().bench().draft().look().after;
    REQUIRE(after);
    return after->part(hub).placement;
  };
  for (int i = 1; i <= 3; ++i) {
    desk.type("24.1");
    const Placement would_be = shown();
    CHECK(would_be.position.x == Approx(start + 24.1 * i));
    desk.key(Qt::Key_Return);
    CHECK(steps(desk) == static_cast<std::size_t>(i));
    CHECK(placement(desk, "Hub") == would_be);
  }
  // Typed, and given up: nothing is left of it, and another value is that value.
  desk.type("7");
  CHECK(shown().position.x == Approx(start + 24.1 * 3 + 7));
  desk.key(Qt::Key_Escape);
  CHECK(steps(desk) == 3);
  desk.type("-24.1");
  desk.key(Qt::Key_Return);
  CHECK(placement(desk, "Hub").position.x == Approx(start + 24.1 * 2));
  // Something else has been done meanwhile: what was shown is not taken for it.
  desk.type("5");
  const double before = placement(desk, "Hub").position.x;
  REQUIRE(desk.store().perform(Place{{hub}, AxesKind::Parent, {Amount{before + 100}}}));
  desk.settle();
  desk.key(Qt::Key_Return);
  CHECK(placement(desk, "Hub").position.x - before != Approx(5));
}

TEST_CASE("size along World Z of a turned part says that skew comes of it, and offers the ways out", "[place]") {
  Desk desk;
  const PartId lever = desk.part("Channel 3");
  desk.store().pick({lever});
  desk.type_into("rotation x", "30");
  desk.stage().setFocus();
  desk.key(Qt::Key_A);
  desk.choose("Axes", "World");
  CHECK(desk.sentence().contains("along World axes"));
  desk.stage().setFocus();
  desk.key(Qt::Key_Z);
  desk.type("300");
  desk.key(Qt::Key_Return);
  CHECK(desk.message().contains("skewed by it"));
  CHECK(desk.sentence().contains("evenly instead"));
  CHECK(largest_component(placement(desk, "Channel 3").skew) > 0.01);
  desk.click_remedy("along its own axes instead");
  CHECK(placement(desk, "Channel 3").skew == Vec3{});
  CHECK(own_size(desk.scene(), lever).z == Approx(300));
  CHECK(steps(desk) == 2);
}

TEST_CASE("groups of numbers go to the clipboard and back to the last bit, and are nudged and reset", "[place]") {
  Desk desk;
  const PartId post = desk.part("Post 4"), basin = desk.part("Catch basin");
  desk.store().pick({post});
  for (const auto& [group, member] : {std::pair{"group position", &Placement::position},
                                      {"group rotation", &Placement::rotation},
                                      {"group factor", &Placement::scale}}) {
    desk.store().pick({post});
    desk.take_from_button(group, "Copy");
    CHECK(QApplication::clipboard()->text().count('\t') == 2);
    desk.store().pick({basin});
    desk.take_from_button(group, "Paste");
    CHECK(desk.scene().part(basin).placement.*member == desk.scene().part(post).placement.*member);
  }
  desk.store().pick({post, basin});
  QWidget* x = desk.widget("position x");
  desk.click(desk.middle_of(x));
  const double before = desk.scene().part(basin).placement.position.x;
  desk.key(Qt::Key_Up);
  CHECK(desk.scene().part(basin).placement.position.x == Approx(before + 10).epsilon(1e-15));
  CHECK(desk.scene().part(post).placement.position.x == Approx(before + 10).epsilon(1e-15));
  QApplication::clipboard()->setText("1\t2");
  desk.take_from_button("group position", "Paste");
  CHECK(desk.message().contains("three are wanted"));
  QApplication::clipboard()->setText("1 in\t\t3");
  desk.take_from_button("group position", "Paste");
  CHECK(desk.scene().part(basin).placement.position.x == 25.4);
  CHECK(desk.scene().part(basin).placement.position.z == 3);
  desk.take_from_button("group rotation", "Reset");
  CHECK(desk.scene().part(post).placement.rotation == Vec3{});
  desk.store().pick({post});
  desk.take_from_button("group factor", "Bake into the mesh");
  CHECK(desk.scene().part(post).placement.scale == Vec3{1, 1, 1});
  CHECK(desk.scene().part(post).mesh != desk.scene().part(desk.part("Post 1")).mesh);
}

TEST_CASE("job 10: an earlier step is opened, changed, left out and repeated on something else", "[place]") {
  Desk desk;
  const PartId basin = desk.part("Catch basin"), funnel = desk.part("Funnel");
  desk.store().pick({basin});
  const Vec3 start = placement(desk, "Catch basin").position;
  desk.key(Qt::Key_O);
  desk.type("10");
  desk.key(Qt::Key_Return);
  desk.key(Qt::Key_M);
  desk.type("7");
  desk.key(Qt::Key_Return);
  auto* list = static_cast<QListWidget*>(desk.widget("steps"));
  REQUIRE(list->count() == 2);
  // Open the first: its sentence comes back, and typing into its blank changes it.
  desk.click(list->viewport()->mapTo(&desk.window(), list->visualItemRect(list->item(0)).center() + QPoint(20, 0)));
  CHECK(desk.sentence().startsWith("Rotated Catch basin by 10°"));
  desk.click_widget("blank Angle");
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.type("25");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 2);
  CHECK(placement(desk, "Catch basin").rotation.z == 25);
  CHECK(placement(desk, "Catch basin").position == start + Vec3{7, 0, 0});
  list->item(0)->setCheckState(Qt::Unchecked);
  desk.settle();
  CHECK(placement(desk, "Catch basin").rotation.z == 0);
  CHECK(placement(desk, "Catch basin").position == start + Vec3{7, 0, 0});
  desk.store().pick({funnel});
  desk.stage().setFocus();
  const Vec3 there = placement(desk, "Funnel").position;
  desk.key(Qt::Key_R, Qt::ControlModifier);
  CHECK(placement(desk, "Funnel").position == there + Vec3{7, 0, 0});
  CHECK(steps(desk) == 3);
}

TEST_CASE("grouping, copying and picking by kinship from the menus' keys", "[place]") {
  Desk desk;
  const PartId one = desk.part("Channel 3"), two = desk.part("Short channel");
  desk.store().pick({one, two});
  desk.stage().setFocus();
  desk.key(Qt::Key_G, Qt::ControlModifier);
  const PartId group = desk.part("Group");
  CHECK(desk.store().picked() == std::vector<PartId>{group});
  CHECK(desk.scene().part(one).parent == group);
  desk.key(Qt::Key_Down, Qt::ControlModifier);
  CHECK(desk.store().picked() == std::vector<PartId>{one, two});
  desk.key(Qt::Key_Up, Qt::ControlModifier);
  CHECK(desk.store().picked() == std::vector<PartId>{group});
  desk.key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK(desk.scene().contains(desk.part("Group 2")));
  desk.store().pick({desk.part("Post 1")});
  desk.key(Qt::Key_M, Qt::ControlModifier);
  CHECK(desk.store().picked().size() == 4);
}
