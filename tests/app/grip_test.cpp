// Dragging and clicking by places of a part in Move, Rotate, Scale and the loupe.
#include <QLabel>
#include <QLineF>

#include "core/fit/measure.h"
#include "core/mesh/features.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

TEST_CASE("Move goes by a place of the part to a place of another, limited and sliding, and says what is left",
          "[catch]") {
  Desk desk;
  const PartId basin = desk.part("Catch basin"), board = desk.part("Base board");
  desk.store().pick({basin});
  desk.key(Qt::Key_M);
  desk.window().bench().narrow_to(CatchKind::BoxPoint);
  const TackAddress from = box_point(basin, {0.5, 0, 0.5}), to = box_point(board, {1, 0, 1});
  desk.move_to(desk.at(from));
  REQUIRE(desk.window().bench().marks().from);
  CHECK(desk.window().bench().marks().from->name.contains("Catch basin"));
  // A click there still picks; a drag takes hold of the place.
  desk.drag(desk.at(from), desk.at(to));
  INFO(desk.sentence().toStdString());
  REQUIRE(steps(desk) == 1);
  CHECK(distance(desk.point(from), desk.point(to)) < 1e-9);
  CHECK(desk.window().bench().marks().meeting->words == "exact");
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  // Along x only: what remains is said in the message, the loupe and on the stage.
  desk.drag_with_key(desk.at(from), desk.at(to), Qt::Key_X);
  REQUIRE(steps(desk) == 1);
  CHECK(desk.point(from).x == Approx(desk.point(to).x).epsilon(1e-12));
  CHECK(desk.sentence().contains("along x of World axes only"));
  CHECK(desk.message().contains("It is apart by"));
  CHECK(desk.window().bench().marks().tone == Tone::Apart);
  // The same step without the limit.
  desk.choose("Limited to", "x, y and z");
  CHECK(steps(desk) == 1);
  CHECK(distance(desk.point(from), desk.point(to)) < 1e-9);
  desk.choose("Sliding", "along the normal");
  CHECK(desk.sentence().contains("along the normal of From"));
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  // Esc in the drag puts everything back; let go in the open it has moved by plain lengths.
  const Vec3 before = desk.point(from);
  const QPoint hold = desk.at(from);
  desk.move_to(hold);
  QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, {}, hold);
  QTest::mouseMove(desk.window().windowHandle(), hold + QPoint(9, 9));
  QTest::mouseMove(desk.window().windowHandle(), hold + QPoint(30, 30));
  desk.settle();
  CHECK(desk.window().bench().draft().dragging());
  desk.key(Qt::Key_Escape);
  CHECK_FALSE(desk.window().bench().draft().dragging());
  QTest::mouseMove(desk.window().windowHandle(), hold + QPoint(40, 20));
  desk.settle();
  CHECK_FALSE(desk.window().bench().draft().dragging());
  QTest::mouseRelease(desk.window().windowHandle(), Qt::LeftButton, {}, hold + QPoint(30, 30));
  desk.settle();
  CHECK(desk.point(from) == before);
}

TEST_CASE("Rotate brings a place in line with another about the still point; Scale makes it reach one", "[catch]") {
  Desk desk;
  const PartId lever = desk.part("Tipping lever"), board = desk.part("Base board");
  desk.store().pick({lever});
  desk.key(Qt::Key_O);
  desk.window().bench().narrow_to(CatchKind::BoxPoint);
  const TackAddress from = box_point(lever, {1, 0.5, 0.5}), to = box_point(board, {1, 1, 1});
  desk.drag(desk.at(from), desk.at(to));
  INFO(desk.sentence().toStdString());
  REQUIRE(steps(desk) == 1);
  CHECK(desk.sentence().contains("came in line with"));
  const Vec3 about = desk.point({TackKind::Pivot, lever, 0, {}});
  Vec3 a = desk.point(from) - about, b = desk.point(to) - about;
  a.z = b.z = 0;
  CHECK(angle_between(a, b) < 1e-9);
  // The angle can be typed over it.
  desk.type("30");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 1);
  CHECK(desk.sentence().contains("by 30° round Z"));
  // By keys alone: From and To typed.
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  desk.give("From", "\"Tipping lever\" box 1,0.5,0.5");
  desk.give("To", "\"Base board\" box 1,1,1");
  CHECK(desk.sentence().contains("came in line with"));
  desk.key(Qt::Key_Z, Qt::ControlModifier);

  const PartId basin = desk.part("Catch basin");
  desk.store().pick({basin});
  desk.key(Qt::Key_A);
  desk.give("From", "\"Catch basin\" box 0.5,0.5,1");
  desk.key(Qt::Key_Z);
  desk.give("To", "\"Funnel\" box 0.5,0.5,0");
  INFO(desk.sentence().toStdString());
  CHECK(desk.point(box_point(basin, {0.5, 0.5, 1})).z ==
        Approx(desk.point(box_point(desk.part("Funnel"), {0.5, 0.5, 0})).z).epsilon(1e-12));
  CHECK(desk.point(box_point(basin, {0.5, 0.5, 0})).z == Approx(40).margin(1e-9));
  CHECK(desk.sentence().contains("towards box face centre of Funnel along z"));
  CHECK(desk.message().contains("It is apart by"));
}

TEST_CASE("the loupe can be pointed at and caught in like the stage", "[catch]") {
  Desk desk;
  const PartId channel = desk.part("Channel 3"), post = desk.part("Post 4");
  desk.store().pick({channel});
  desk.key(Qt::Key_T);
  desk.window().bench().narrow_to(CatchKind::BoxPoint);
  desk.give("From", "\"Channel 3\" box 0,0,0");
  desk.give("To", "\"Post 4\" box 0.5,0.5,1");
  REQUIRE(steps(desk) == 1);
  // The To is clicked anew, in a close-up: another point of the post's box.
  desk.click_widget("blank To");
  auto views = desk.loupe_views();
  REQUIRE(views.size() == 2);
  REQUIRE(views[0]->view());
  const TackAddress wanted = box_point(post, {0.5, 0, 1});
  const auto px = views[0]->view()->project(desk.point(wanted));
  REQUIRE(px);
  const QPoint at = views[0]->mapTo(&desk.window(), QPoint(qRound(px->x), qRound(px->y)));
  desk.move_to(at);
  REQUIRE(desk.window().bench().marks().to);
  CHECK(desk.window().bench().marks().to->name.contains("Post 4"));
  desk.click(at);
  CHECK(steps(desk) == 1);
  const Meet meet = std::get<Meet>(desk.store().journal().record().steps[0]->verb);
  CHECK(meet.to->part == post);
  CHECK(meet.to != std::optional(box_point(post, {0.5, 0.5, 1})));
  CHECK(distance(desk.point(*meet.from), desk.point(*meet.to)) < 1e-9);
}

namespace {

// Presses on a place, drags by so many pixels and stays there with the button down.
void take_hold(Desk& desk, QPoint at, QPoint by, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
  desk.move_to(at);
  QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, modifiers, at);
  for (int i = 1; i <= 6; ++i) QTest::mouseMove(desk.window().windowHandle(), at + by * i / 6), QTest::qWait(8);
  desk.settle();
}

void let_go_at(Desk& desk, QPoint at, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
  QTest::mouseRelease(desk.window().windowHandle(), Qt::LeftButton, modifiers, at);
  desk.settle();
}

}  // namespace

TEST_CASE("a place that slides follows the pointer along its normal; freely it goes across the view", "[catch]") {
  Desk desk;
  const PartId basin = desk.part("Catch basin");
  desk.store().pick({basin});
  desk.key(Qt::Key_F);
  desk.stage().set_camera(zoomed(desk.stage().camera(), 3, desk.stage().camera().target));
  // Only box points are caught, so that nothing but the basin's own is near. This one stands away from the rulers.
  desk.window().bench().narrow_to(CatchKind::BoxPoint);
  const TackAddress front = box_point(basin, {0.5, 0, 0.5});
  desk.key(Qt::Key_M);
  desk.choose("Sliding", "along the normal");
  CHECK(desk.sentence().contains("along the normal of From"));
  const Vec3 before = desk.point(front);
  const QPoint at = desk.at(front), by(25, -70);
  take_hold(desk, at, by);
  REQUIRE(desk.window().bench().draft().grips_place());
  let_go_at(desk, at + by);
  INFO(desk.sentence().toStdString());
  REQUIRE(steps(desk) == 1);
  // The front's normal is −y: along it alone, and as far as brings it nearest to the pointer.
  const Vec3 after = desk.point(front);
  CHECK(after.x == Approx(before.x).margin(1e-9));
  CHECK(after.z == Approx(before.z).margin(1e-9));
  CHECK(std::abs(after.y - before.y) > 5);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.point(front) == before);
  desk.choose("Sliding", "freely");
  take_hold(desk, at, by);
  let_go_at(desk, at + by);
  REQUIRE(steps(desk) == 1);
  CHECK(QLineF(desk.at(front), at + by).length() < 3);
  CHECK(desk.sentence().contains("along World axes"));
}

TEST_CASE("a place held in the open turns and sizes by plain values, on increments with Shift, Ctrl leaves a copy",
          "[catch]") {
  Desk desk;
  const PartId lever = desk.part("Tipping lever");
  desk.store().pick({lever});
  desk.key(Qt::Key_F);
  desk.stage().set_camera(zoomed(desk.stage().camera(), 3, desk.stage().camera().target));
  desk.window().bench().narrow_to(CatchKind::BoxPoint);
  const TackAddress end = box_point(lever, {1, 0.5, 1});
  desk.key(Qt::Key_O);
  const QPoint at = desk.at(end);
  take_hold(desk, at, QPoint(-40, -60), Qt::ShiftModifier);
  REQUIRE(desk.window().bench().draft().dragging());
  // Nothing is caught there: only the place itself is marked.
  CHECK_FALSE(desk.window().bench().marks().to);
  let_go_at(desk, at + QPoint(-40, -60), Qt::ShiftModifier);
  REQUIRE(steps(desk) == 1);
  const double angle = std::get<Rotate>(desk.store().journal().record().steps[0]->verb).angle.value;
  CHECK(angle != 0);
  CHECK(std::abs(std::remainder(angle, 15)) < 1e-9);
  CHECK(desk.sentence().startsWith("Rotated Tipping lever by"));
  desk.key(Qt::Key_Z, Qt::ControlModifier);

  desk.key(Qt::Key_A);
  desk.key(Qt::Key_X);
  const std::size_t parts = desk.scene().size();
  take_hold(desk, at, QPoint(50, 20));
  let_go_at(desk, at + QPoint(50, 20), Qt::ControlModifier);
  REQUIRE(steps(desk) == 1);
  const Scale scale = std::get<Scale>(desk.store().journal().record().steps[0]->verb);
  INFO(desk.sentence().toStdString());
  REQUIRE(scale.factor[0]);
  CHECK_FALSE(scale.factor[1]);
  CHECK_FALSE(scale.factor[2]);
  CHECK(scale.factor[0]->value > 1);
  CHECK(desk.scene().size() == parts + 1);
  CHECK(desk.sentence().startsWith("Made a copy of Tipping lever"));
}
