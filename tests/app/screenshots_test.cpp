// Makes the pictures in docs/screenshots; hidden among the tests because it writes into the repository. Run by
// scripts/screenshots, and by scripts/contact-sheet in other sizes, at night, with larger text.
#include <QApplication>
#include <QDialog>
#include <QDockWidget>
#include <QScreen>
#include <QTreeWidget>
#include <catch2/catch.hpp>

#include "app/choice_row.h"
#include "app/panels/loupe.h"
#include "app/panels/shelf_panel.h"
#include "core/mesh/features.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

// Where the pictures go, and how the window is to be: TACK_PICTURES=FOLDER TACK_LOOK="1440x900 150 night".
QString folder() { return qEnvironmentVariable("TACK_PICTURES", QString::fromStdString(source("docs/screenshots"))); }
struct Looks {
  Looks() {
    const QStringList words = qEnvironmentVariable("TACK_LOOK").split(' ', Qt::SkipEmptyParts);
    for (const QString& word : words) {
      const QStringList sides = word.split('x');
      if (word == "night") Desk::night = true;
      if (sides.size() == 2) Desk::size = {sides[0].toInt(), sides[1].toInt()};
      if (sides.size() == 1 && word.toInt() > 0) Desk::text_percent = word.toInt();
    }
  }
};

void take(Desk& desk, const char* name) {
  QTest::qWait(600);
  // Until the picture is refined, and a loupe that has nothing to show has given its room to Placement.
  desk.wait([&] {
    for (const LoupeView* view : desk.loupe_views())
      if (view->isVisible() && !view->view()) return false;
    return desk.stage().is_finished();
  });
  desk.settle();
  QApplication::primaryScreen()->grabWindow(0).save(folder() + "/" + name + ".png");
}

// Takes hold of a handle of the verb in use and drags it, without letting go.
void hold(Desk& desk, Handle::Kind kind, const std::array<bool, 3>& axes, QPoint by) {
  const View view = desk.stage().view();
  for (const Handle& h : desk.window().bench().draft().handles(view)) {
    if (h.kind != kind || h.axes != axes) continue;
    if (kind == Handle::Kind::End && h.fraction.z != 1) continue;
    const auto px = view.project(kind == Handle::Kind::End ? h.line.front() : h.line[h.line.size() / 2]);
    const QPoint at = desk.stage().mapTo(&desk.window(), QPointF(px->x, px->y).toPoint());
    desk.move_to(at);
    QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, {}, at);
    for (int i = 1; i <= 6; ++i) QTest::mouseMove(desk.window().windowHandle(), at + by * i / 6), QTest::qWait(15);
    desk.settle();
    return;
  }
  FAIL("no such handle");
}

void let_go(Desk& desk) {
  desk.key(Qt::Key_Escape);
  QTest::mouseRelease(desk.window().windowHandle(), Qt::LeftButton, {}, desk.window().rect().center());
  desk.settle();
}

TackAddress corner(PartId part, const Vec3& fraction) { return {TackKind::BoxPoint, part, 0, fraction}; }

}  // namespace

namespace {

// The far end of the line of a stretch, dragged outwards and held there.
void hold_end(Desk& desk) {
  const View view = desk.stage().view();
  for (const Handle& h : desk.window().bench().draft().handles(view)) {
    if (h.kind != Handle::Kind::End || h.fraction.x < 0.5) continue;
    const auto px = view.project(h.at), back = view.project(h.line.back());
    if (!px || !back) continue;
    const QPoint from = desk.stage().mapTo(&desk.window(), QPointF(px->x, px->y).toPoint());
    const QPointF way = QPointF(px->x - back->x, px->y - back->y);
    const QPoint by = (way * (80 / std::hypot(way.x(), way.y()))).toPoint();
    desk.move_to(from);
    QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, {}, from);
    for (int i = 1; i <= 6; ++i) QTest::mouseMove(desk.window().windowHandle(), from + by * i / 6), QTest::qWait(15);
    desk.settle();
    return;
  }
  FAIL("there is no end to drag");
}

}  // namespace

TEST_CASE("pictures of the main views", "[.screenshots]") {
  const Looks looks;
  Desk desk;
  take(desk, "start");

  const PartId channel = desk.part("Channel 3"), post = desk.part("Post 4");
  desk.store().pick({channel});
  desk.key(Qt::Key_T);
  desk.click(desk.at(corner(channel, {0, 0, 1})));
  desk.move_to(desk.at({TackKind::Vertex, post, 5 * 40 + 28, {}}));
  take(desk, "meet");

  desk.click(desk.at({TackKind::Vertex, post, 5 * 40 + 28, {}}));
  desk.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
  desk.store().pick({channel});
  desk.key(Qt::Key_F);
  take(desk, "met-night");
  desk.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
  desk.key(Qt::Key_F, Qt::ShiftModifier);

  // Two places that only look as if they met.
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_Escape);

  desk.store().pick({desk.part("Short channel")});
  desk.stage().turn_to(Side::Front);
  desk.key(Qt::Key_F, Qt::ShiftModifier);
  desk.key(Qt::Key_T);
  desk.key(Qt::Key_X);
  desk.key(Qt::Key_Z);
  desk.window().bench().narrow_to(CatchKind::BoxPoint);
  desk.give("From", "\"Short channel\" box 0,0.5,0");
  desk.click(desk.at(corner(desk.part("Post 1"), {0.5, 0.5, 1})));
  take(desk, "depth");
  desk.window().bench().narrow_to(std::nullopt);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_Escape);
  desk.stage().turn_to(Side::Iso);
  desk.key(Qt::Key_F, Qt::ShiftModifier);

  desk.store().pick({channel});
  desk.key(Qt::Key_F);
  desk.stage().set_camera(zoomed(desk.stage().camera(), 1.7, desk.stage().camera().target));
  desk.key(Qt::Key_O);
  hold(desk, Handle::Kind::Arc, {false, false, true}, {-70, 45});
  take(desk, "rotate");
  let_go(desk);

  desk.store().pick({desk.part("Catch basin")});
  desk.key(Qt::Key_F);
  desk.stage().set_camera(zoomed(desk.stage().camera(), 1.8, desk.stage().camera().target));
  desk.key(Qt::Key_A);
  hold(desk, Handle::Kind::End, {false, false, true}, {0, -50});
  take(desk, "scale");
  let_go(desk);

  desk.store().pick({desk.part("Hub")});
  desk.key(Qt::Key_F, Qt::ShiftModifier);
  desk.key(Qt::Key_M);
  desk.key(Qt::Key_0, Qt::ControlModifier);
  take(desk, "four-views");
  desk.key(Qt::Key_9, Qt::ControlModifier);
  desk.stage().turn_to(Side::Iso);
  desk.key(Qt::Key_F, Qt::ShiftModifier);

  desk.key(Qt::Key_U);
  desk.click(desk.at(corner(desk.part("Base board"), {0, 0, 1})));
  desk.click(desk.at(corner(desk.part("Base board"), {1, 0, 1})));
  take(desk, "measure");

  auto* shelf = desk.window().findChild<ShelfPanel*>();
  shelf->show_folder(QString::fromStdString(source("demo")));
  auto* dock = qobject_cast<QDockWidget*>(shelf->parentWidget());
  dock->show();
  dock->raise();
  QTest::qWait(3000);  // until its pictures are there
  desk.drop(source("demo/sign-plate.obj"));
  QDialog* dialog = nullptr;
  desk.wait([&] { return (dialog = desk.window().findChild<QDialog*>("import")) && dialog->isVisible(); });
  dialog->findChild<ChoiceRow*>("unit")->choose(3);
  take(desk, "import");
  dialog->reject();
}

TEST_CASE("pictures of ties", "[.screenshots]") {
  const Looks looks;
  Desk desk({QString::fromStdString(source("demo/heron-hall.glb"))});
  Move move;
  move.what = {desk.part("Channel 2")};
  move.by = {Amount{0.4}, Amount{0.25}, Amount{}};
  desk.store().perform(move);
  for (auto* dock : desk.window().findChildren<QWidget*>("dock Fit")) dock->raise();
  desk.settle();
  auto* list = desk.window().findChild<QTreeWidget*>("ties");
  const auto rows = list->findItems("Channel 1 to Channel 2", Qt::MatchExactly);
  list->scrollToItem(rows.front());
  desk.settle();
  desk.click(list->viewport()->mapTo(&desk.window(), QPoint(60, list->visualItemRect(rows.front()).center().y())));
  QTest::keyClick(list, Qt::Key_Return);
  take(desk, "fit");
}

TEST_CASE("pictures of colours and looks", "[.screenshots]") {
  const Looks looks;
  Desk desk({QString::fromStdString(source("demo/heron-hall.glb"))});
  for (auto* dock : desk.window().findChildren<QWidget*>("dock Colours")) dock->raise();
  Preferences preferences = desk.store().preferences();
  preferences.nudges = true;
  desk.store().set_preferences(preferences);
  desk.stage().set_style(DrawStyle::Facing);
  SeeThrough clear;
  clear.what = {desk.part("Drum")};
  desk.store().perform(clear);
  desk.store().pick({desk.part("Post 4")});
  desk.settle();
  take(desk, "looks");
}

TEST_CASE("pictures of lining up", "[.screenshots]") {
  const Looks looks;
  Desk desk;
  const auto squares = [&](int box, const Vec3& fraction) {
    const View view = desk.stage().view();
    for (const Handle& h : desk.window().bench().draft().handles(view))
      if (h.kind == Handle::Kind::Pad && h.box == box && h.fraction == fraction) {
        const auto px = view.project(h.at);
        return desk.stage().mapTo(&desk.window(), QPointF(px->x, px->y).toPoint());
      }
    FAIL("no such square");
    return QPoint();
  };
  desk.store().pick({desk.part("Funnel"), desk.part("Catch basin")});
  desk.key(Qt::Key_F);
  desk.store().pick({desk.part("Funnel")});
  desk.key(Qt::Key_L);
  desk.move_to(desk.at(desk.visible_vertex(desk.part("Catch basin"))));
  desk.click(squares(0, {0, 0.5, 0}));
  desk.move_to(squares(1, {0, 0.5, 1}));
  take(desk, "align");
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_F, Qt::ShiftModifier);
  Move move;
  move.what = {desk.part("Post 2")};
  move.by[0] = Amount{60};
  desk.store().perform(move);
  desk.store().pick({desk.part("Post 1"), desk.part("Post 2"), desk.part("Post 3"), desk.part("Post 4")});
  desk.key(Qt::Key_D);
  take(desk, "distribute");
  desk.key(Qt::Key_Escape);
  desk.store().pick({desk.part("Curve left")});
  desk.key(Qt::Key_E);
  desk.type("5");
  desk.key(Qt::Key_Return);
  take(desk, "repeat");
}

TEST_CASE("pictures of shapes and stretching", "[.screenshots]") {
  const Looks looks;
  Desk desk({QString::fromStdString(source("demo/heron-hall.glb"))});
  // A block on its way from corner to corner, at the height of a marble's channel.
  desk.store().pick({desk.part("Landing")});
  desk.key(Qt::Key_F);
  desk.store().pick({});
  desk.key(Qt::Key_S);
  desk.click(desk.at(box_point(desk.part("Landing"), {0, 0, 1})));
  desk.click(desk.at(box_point(desk.part("Landing"), {0.6, 0.5, 1})));
  desk.move_to(desk.at(box_point(desk.part("Landing"), {0.6, 0.5, 1})) - QPoint(0, 90));
  take(desk, "shape");
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_Escape);
  // The hook rail, longer between its hooks.
  desk.store().pick({desk.part("Hook rail")});
  desk.key(Qt::Key_F);
  desk.key(Qt::Key_G);
  hold_end(desk);
  take(desk, "stretch");
  let_go(desk);
}

TEST_CASE("pictures of vertices and faces", "[.screenshots]") {
  const Looks looks;
  Desk desk({QString::fromStdString(source("demo/heron-hall.glb"))});
  // The marble's bowl, a vertex of its rim lifted with what is near.
  const PartId funnel = desk.part("Funnel");
  desk.store().pick({funnel});
  desk.key(Qt::Key_F);
  desk.store().pick({});
  desk.window().bench().draft().pick_elements(PickOf::Vertices);
  desk.settle();
  desk.click(desk.at(desk.visible_vertex(funnel)));
  desk.type("30");
  desk.key(Qt::Key_Return);
  desk.key(Qt::Key_M);
  hold(desk, Handle::Kind::Ruler, {false, false, true}, {0, -60});
  take(desk, "elements");
  let_go(desk);
}

TEST_CASE("pictures of planes and elevations", "[.screenshots]") {
  const Looks looks;
  Desk desk({QString::fromStdString(source("demo/heron-hall.glb"))});
  const PartId ramp = desk.part("Ramp"), deck = desk.part("Ramp deck"), marble = desk.part("Marble 4");
  // A marble on its way along the deck, half lifted off it.
  desk.store().use_plane(deck);
  desk.store().pick({ramp});
  desk.key(Qt::Key_F);
  desk.stage().set_camera(
      zoomed(orbited(desk.stage().camera(), 15, 12, desk.stage().camera().target), 1.25, desk.stage().camera().target));
  desk.store().pick({marble});
  desk.key(Qt::Key_M);
  desk.take_menu("Drag along the plane in use");
  hold(desk, Handle::Kind::Ring, {}, {-70, 24});
  take(desk, "plane");
  let_go(desk);
  desk.take_menu("Drag along the plane in use");
  desk.key(Qt::Key_P);

  desk.store().use_plane(kNoPart);
  // The funnel by its drawing in the strip below.
  desk.stage().turn_to(Side::Iso);
  desk.take_menu("Both, and none again");
  desk.key(Qt::Key_F, Qt::ShiftModifier);
  const PartId funnel = desk.part("Funnel");
  desk.store().pick({funnel});
  desk.settle();
  const auto px = desk.stage().pixel_in(Stage::pane_of(Elevation::Front), desk.point(corner(funnel, {0.5, 0.5, 0.6})));
  const QPoint at = desk.stage().mapTo(&desk.window(), px->toPoint());
  desk.move_to(at);
  QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, {}, at);
  for (int i = 1; i <= 6; ++i)
    QTest::mouseMove(desk.window().windowHandle(), at + QPoint(-9, -5) * i), QTest::qWait(15);
  take(desk, "elevations");
  let_go(desk);
}
