// Makes the pictures in docs/screenshots; hidden among the tests because it writes into the repository. Run by
// scripts/screenshots.
#include <QApplication>
#include <QComboBox>
#include <QDialog>
#include <QScreen>
#include <catch2/catch.hpp>

#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

void take(Desk& desk, const char* name) {
  QTest::qWait(600);  // until the picture is refined
  desk.settle();
  QApplication::primaryScreen()->grabWindow(0).save(
      QString::fromStdString(source(std::string("docs/screenshots/") + name + ".png")));
}

TackAddress corner(PartId part, const Vec3& fraction) { return {TackKind::BoxPoint, part, 0, fraction}; }

}  // namespace

TEST_CASE("pictures of the main views", "[.screenshots]") {
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

  desk.store().pick({desk.part("Hub")});
  desk.key(Qt::Key_M);
  desk.type("3/8 in");
  take(desk, "move");
  desk.key(Qt::Key_Escape);

  desk.key(Qt::Key_U);
  desk.click(desk.at(corner(desk.part("Base board"), {0, 0, 1})));
  desk.click(desk.at(corner(desk.part("Base board"), {1, 0, 1})));
  take(desk, "measure");

  desk.drop(source("demo/sign-plate.obj"));
  QDialog* dialog = nullptr;
  desk.wait([&] { return (dialog = desk.window().findChild<QDialog*>("import")) && dialog->isVisible(); });
  dialog->findChildren<QComboBox*>().front()->setCurrentIndex(3);
  take(desk, "import");
  dialog->reject();
}
