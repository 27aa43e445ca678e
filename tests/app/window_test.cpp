#include <QApplication>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMessageBox>
#include <QSettings>
#include <QTimer>
#include <catch2/catch.hpp>
#include <cstdlib>
#include <fstream>

#include "app/theme.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

QString field(Desk& desk, const QString& name) { return static_cast<QLineEdit*>(desk.widget(name))->text(); }

double position_x(Desk& desk, const std::string& part) {
  return desk.scene().part(desk.part(part)).placement.position.x;
}

}  // namespace

TEST_CASE("at 1280 × 800 nothing is cut and the stage has about half of the window", "[window]") {
  Desk desk;
  CHECK(desk.window().size() == QSize(1280, 800));
  CHECK(desk.stage().width() * desk.stage().height() >= 0.48 * 1280 * 800);
  for (const VerbFace& face : verb_faces()) {
    const QString name = "verb " + face.name;
    INFO(name.toStdString());
    CHECK(desk.widget(name)->width() >= desk.widget(name)->sizeHint().width());
  }
  for (const QWidget* w : desk.window().findChildren<QWidget*>()) {
    const bool control = qobject_cast<const QAbstractButton*>(w) || qobject_cast<const QLineEdit*>(w);
    if (!control || !w->isVisible() || w->objectName().startsWith("qt_")) continue;
    INFO(w->objectName().toStdString() << " " << w->metaObject()->className());
    const bool named =
        !w->accessibleName().isEmpty() || !static_cast<const QWidget*>(w)->toolTip().isEmpty() ||
        (qobject_cast<const QAbstractButton*>(w) && !static_cast<const QAbstractButton*>(w)->text().isEmpty());
    CHECK(named);
    // Nothing that has words is too small for them.
    if (const auto* button = qobject_cast<const QToolButton*>(w); button && !button->text().isEmpty())
      CHECK(w->width() >= w->fontMetrics().horizontalAdvance(button->text().section('\t', 0, 0).remove('&')));
  }
}

TEST_CASE("a sentence breaks into lines between words, wherever its names end, and no word of it is cut", "[window]") {
  Desk desk;
  const PartId hub = desk.part("Hub");
  auto& bar = desk.window().sentence_bar();
  for (const int key : {Qt::Key_M, Qt::Key_O, Qt::Key_A, Qt::Key_V}) {
    for (int length = 1; length <= 60; length += 2) {
      desk.store().perform(Rename{hub, std::string(static_cast<std::size_t>(length), 'n')});
      desk.store().pick({hub});
      desk.window().bench().use(id_of<Pick>);
      desk.key(key);
      INFO(desk.sentence().toStdString());
      for (const auto* label : bar.findChildren<QLabel*>()) {
        if (!label->isVisible() || label->text().trimmed().isEmpty()) continue;
        INFO("\"" << label->text().toStdString() << "\"");
        CHECK(label->width() >= label->fontMetrics().horizontalAdvance(label->text().trimmed()));
      }
    }
  }
}

TEST_CASE("verbs are switched by tapping a key, used for a moment by holding it", "[keys]") {
  Desk desk;
  auto& bench = desk.window().bench();
  desk.key(Qt::Key_T);
  CHECK(bench.verb().name == "Meet");
  desk.key(Qt::Key_M);
  CHECK(bench.verb().name == "Move");
  QTest::keyPress(desk.window().windowHandle(), Qt::Key_U);
  CHECK(bench.verb().name == "Measure");
  bench.hold_milliseconds = 300;
  QTest::qWait(350);
  QTest::keyRelease(desk.window().windowHandle(), Qt::Key_U);
  CHECK(bench.verb().name == "Move");
  bench.hold_milliseconds = 60000;
  desk.key(Qt::Key_Escape);
  CHECK(bench.verb().name == "Pick");
  desk.click_widget("verb Meet");
  CHECK(bench.verb().name == "Meet");
}

TEST_CASE("typed lengths move, each a step of its own; a clicked blank corrects the last", "[keys]") {
  Desk desk;
  desk.store().pick({desk.part("Hub")});
  const double x = position_x(desk, "Hub");
  desk.key(Qt::Key_M);
  desk.type("12");
  CHECK(desk.window().bench().marks().ghosts.size() == 7);  // the hub and its six paddles, where they would be
  desk.key(Qt::Key_Return);
  CHECK(position_x(desk, "Hub") == x + 12);
  CHECK(desk.stage().hasFocus());
  desk.type("12");
  desk.key(Qt::Key_Return);
  CHECK(position_x(desk, "Hub") == x + 24);
  CHECK(desk.store().journal().record().steps.size() == 2);
  desk.click_widget("blank Along X");
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.type("it * 2 + 1");
  desk.key(Qt::Key_Return);
  CHECK(position_x(desk, "Hub") == x + 12 + 1);
  CHECK(desk.store().journal().record().steps.size() == 2);
  // Z opens the length along that axis.
  const double z = desk.scene().part(desk.part("Hub")).placement.position.z;
  desk.key(Qt::Key_Z);
  desk.type("-5");
  desk.key(Qt::Key_Return);
  CHECK(desk.scene().part(desk.part("Hub")).placement.position.z == z - 5);
  // Tab goes from one blank to the next.
  desk.key(Qt::Key_X);
  desk.type("1");
  desk.key(Qt::Key_Tab);
  desk.type("2");
  desk.key(Qt::Key_Return);
  CHECK(desk.store().journal().record().steps.size() == 4);
  CHECK(desk.sentence().contains("1 mm · 2 mm"));
}

TEST_CASE("a bad entry is marked where it is bad, and the old value stays", "[keys]") {
  Desk desk;
  desk.store().pick({desk.part("Hub")});
  const double x = position_x(desk, "Hub");
  desk.key(Qt::Key_M);
  desk.type("12,5");
  desk.key(Qt::Key_Return);
  CHECK(desk.window().sentence_bar().entry()->is_marked());
  CHECK(desk.message().contains("point"));
  CHECK(position_x(desk, "Hub") == x);
  // While it is open every key belongs to it: quotes, Shift, verb keys, undo.
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.type("x of \"Lift\" + 0");
  desk.key(Qt::Key_Return);
  CHECK(position_x(desk, "Hub") == Approx(x - 520));
  desk.type_into("position x", "nonsense");
  CHECK(desk.message().startsWith("Not done"));
  CHECK(position_x(desk, "Hub") == Approx(x - 520));
  desk.key(Qt::Key_Escape);
  CHECK(field(desk, "position x") != "nonsense");
}

TEST_CASE("picking by click, Ctrl-click, rectangle and tree", "[pick]") {
  Desk desk;
  const PartId board = desk.part("Base board"), drum = desk.part("Drum");
  desk.click(desk.at(desk.point({TackKind::BoxPoint, board, 0, {0.95, 0.2, 1}})));
  CHECK(desk.store().picked() == std::vector<PartId>{board});
  desk.click(desk.at(Vec3{-190, 95, 220}), Qt::ControlModifier);
  CHECK(desk.store().picked() == std::vector<PartId>{board, drum});
  desk.click(desk.at(Vec3{-190, 95, 220}), Qt::ControlModifier);
  CHECK(desk.store().picked() == std::vector<PartId>{board});
  // A rectangle around the loose short channel picks it alone.
  const PartId loose = desk.part("Short channel");
  QRect around;
  for (int c = 0; c < 8; ++c)
    around |= QRect(desk.at({TackKind::BoxPoint, loose, 0, {double(c & 1), double(c >> 1 & 1), double(c >> 2)}}),
                    QSize(1, 1));
  desk.drag(around.topLeft() - QPoint(6, 6), around.bottomRight() + QPoint(6, 6));
  CHECK(desk.store().picked() == std::vector<PartId>{loose});
  // The tree shows it, and picks too.
  auto& tree = desk.window().parts().tree();
  CHECK(tree.selectionModel()->isSelected(tree.index_of(loose)));
  tree.selectionModel()->select(tree.index_of(drum), QItemSelectionModel::Select | QItemSelectionModel::Rows);
  desk.settle();
  CHECK(desk.store().is_picked(drum));
  desk.key(Qt::Key_Escape);
  CHECK(desk.store().picked().empty());
}

TEST_CASE("the view orbits, pans, zooms, frames and turns to sides", "[view]") {
  Desk desk;
  const QPoint middle = desk.stage().mapTo(&desk.window(), desk.stage().rect().center());
  const Camera start = desk.stage().camera();
  desk.drag(middle, middle + QPoint(80, 30), Qt::RightButton);
  CHECK(desk.stage().camera().turn != start.turn);
  CHECK(desk.stage().camera().tilt > start.tilt);
  const Camera turned = desk.stage().camera();
  desk.drag(middle, middle + QPoint(50, 0), Qt::MiddleButton);
  CHECK(distance(desk.stage().camera().target, turned.target) > 1);
  const Vec3 corner = desk.point({TackKind::BoxPoint, desk.part("Base board"), 0, {1, 0, 1}});
  const QPoint before = desk.at(corner);
  desk.wheel(before, 3);
  CHECK(desk.stage().camera().distance < turned.distance);
  CHECK((desk.at(corner) - before).manhattanLength() <= 2);
  desk.key(Qt::Key_3, Qt::ControlModifier);
  CHECK(desk.stage().camera().tilt == 90);
  CHECK_FALSE(desk.stage().camera().perspective);
  desk.key(Qt::Key_1, Qt::ControlModifier);
  desk.stage().setFocus();
  desk.key(Qt::Key_Left);
  CHECK(desk.stage().camera().turn == -15);
  desk.key(Qt::Key_Up);
  CHECK(desk.stage().camera().tilt == 15);
  desk.store().pick({desk.part("Lift")});
  desk.key(Qt::Key_F);
  CHECK(desk.stage().rect().contains(desk.stage().mapFrom(
      &desk.window(), desk.at(desk.point({TackKind::WorldBoxPoint, desk.part("Lift"), 0, {0.5, 0.5, 1}})))));
  const double near = desk.stage().camera().distance;
  desk.key(Qt::Key_F, Qt::ShiftModifier);
  CHECK(desk.stage().camera().distance > near);
}

TEST_CASE("B goes through the places under the pointer, hidden ones marked", "[catch]") {
  Desk desk;
  desk.key(Qt::Key_U);
  // The far lower corner of the board is hidden by the board itself.
  const PartId board = desk.part("Base board");
  desk.move_to(desk.at({TackKind::BoxPoint, board, 0, {0, 1, 0}}));
  bool behind = false;
  for (int i = 0; i < 14 && !behind; ++i) {
    desk.key(Qt::Key_B);
    const Marks marks = desk.window().bench().marks();
    behind = marks.from && marks.from->name.contains("behind");
  }
  INFO(desk.stage().short_list().rows.join("; ").toStdString());
  CHECK(behind);
  desk.key(Qt::Key_B, Qt::ShiftModifier);
  const Stage::ShortList list = desk.stage().short_list();
  CHECK(list.rows.size() > 1);
  CHECK(list.chosen >= 0);
}

TEST_CASE("facing is chosen from the sentence, for a finished step too", "[menu]") {
  Desk desk;
  desk.key(Qt::Key_T);
  desk.choose("Facing", "facing it");
  CHECK(desk.sentence().contains("facing it"));
  CHECK(desk.sentence().contains("rolled 0°"));
  desk.give("From", "\"Channel 3\" vertex 1");
  desk.give("To", "\"Post 4\" vertex 7");
  REQUIRE(desk.store().journal().record().steps.size() == 1);
  CHECK(desk.sentence().startsWith("Brought Channel 3"));
  CHECK(desk.sentence().contains("facing it"));
  desk.choose("Facing", "as it stands");
  CHECK(desk.store().journal().record().steps.size() == 1);
  CHECK(desk.sentence().contains("as it stands"));
  const Scene& scene = desk.scene();
  const PartId channel = desk.part("Channel 3");
  CHECK(scene.part(channel).placement.rotation ==
        desk.store().journal().record().start.part(channel).placement.rotation);
}

TEST_CASE("opening something damaged, missing or foreign never costs the scene", "[files]") {
  Desk desk;
  const Folder folder;
  std::ofstream(folder / "bad.glb") << "glTF and then nothing";
  const std::size_t before = desk.scene().size();
  desk.window().open_files({QString::fromStdString(folder / "bad.glb")});
  desk.wait([&] { return desk.message().startsWith("Not done"); });
  CHECK(desk.scene().size() == before);
  desk.window().open_files({QString::fromStdString(folder / "none.glb")});
  desk.wait([&] { return desk.message().contains("no such file"); });
  bool ok = true;
  desk.window().files().save("/no/such/folder/x.glb", [&](bool saved) { ok = saved; });
  desk.wait([&] { return !ok; });
  CHECK(desk.message().startsWith("Not done"));
}

TEST_CASE("work is kept beside every step and offered back after a crash", "[files]") {
  const Folder folder;
  Scene lost;
  {
    Desk desk;
    desk.store().pick({desk.part("Hub")});
    desk.key(Qt::Key_M);
    desk.type("77.7");
    desk.key(Qt::Key_Return);
    lost = desk.scene();
    const auto written = [&] {
      for (const auto& entry : std::filesystem::directory_iterator(Autosave::state_folder()))
        if (entry.path().extension() == ".glb") return entry.path();
      return std::filesystem::path();
    };
    desk.wait([&] { return !written().empty(); });
    // A window that is at work holds it: nobody else is offered it, whatever the numbers of processes are.
    CHECK_FALSE(Autosave::left_behind());
    std::filesystem::copy_file(written(), folder / "kept.glb");
  }
  // That of a program that is gone.
  Desk desk(QStringList{});
  CHECK_FALSE(Autosave::left_behind());
  const auto name = Autosave::state_folder() / "autosave-4194999.glb";
  std::filesystem::copy_file(folder / "kept.glb", name);
  {
    const auto offered = Autosave::left_behind();
    REQUIRE(offered);
    CHECK_FALSE(Autosave::left_behind());  // offered by one window only
  }
  desk.window().files().take_back(*Autosave::left_behind());
  desk.wait([&] { return desk.scene().size() == lost.size(); });
  CHECK(desk.scene().part(desk.part("Hub")).placement == lost.part(*find_by_path(lost, "Hub")).placement);
  CHECK(desk.store().changed());
  // Until it is saved it stays in the file it came from, which is this window's from now on.
  CHECK(std::filesystem::exists(name));
  CHECK_FALSE(Autosave::left_behind());
}

TEST_CASE("names, visibility and locks are changed in the tree and can be undone", "[parts]") {
  Desk desk;
  auto& tree = desk.window().parts().tree();
  const PartId funnel = desk.part("Funnel");
  REQUIRE(tree.model()->setData(tree.index_of(funnel), "Hopper"));
  desk.settle();
  CHECK(desk.scene().part(funnel).name == "Hopper");
  desk.store().pick({funnel});
  desk.key(Qt::Key_H, Qt::ControlModifier);
  CHECK(desk.scene().part(funnel).hidden);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK_FALSE(desk.scene().part(funnel).hidden);
  desk.key(Qt::Key_L, Qt::ControlModifier);
  CHECK(desk.scene().part(funnel).locked);
  desk.key(Qt::Key_Delete);
  CHECK(desk.scene().contains(funnel));
  CHECK(desk.message().contains("locked"));
}

TEST_CASE("both themes are drawn, and nothing else changes", "[theme]") {
  Desk desk;
  const auto brightness = [&] { return desk.stage().grabFramebuffer().pixelColor(5, 5).lightness(); };
  desk.wait([&] { return brightness() > 200; });
  desk.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
  desk.wait([&] { return brightness() < 90; });
  CHECK(theme().night);
  desk.key(Qt::Key_N, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK_FALSE(theme().night);
}

TEST_CASE("without OpenGL or a display the program says so and ends with 1", "[start]") {
  const Folder folder;
  const auto run = [&](const std::string& environment) {
    const std::string command =
        "env " + environment + " timeout 20 " TACK_BIN_DIR "/tackpoint > " + (folder / "out") + " 2>&1";
    const int status = std::system(command.c_str());
    const auto out = read_file(folder / "out");
    return std::pair(WEXITSTATUS(status), out ? std::string(out->begin(), out->end()) : std::string());
  };
  const auto [no_gl, gl_words] = run("MESA_GL_VERSION_OVERRIDE=2.1");
  CHECK(no_gl == 1);
  CHECK(gl_words.find("needs OpenGL 3.3") != std::string::npos);
  const auto [no_display, display_words] = run("-u DISPLAY -u WAYLAND_DISPLAY");
  CHECK(no_display == 1);
  CHECK(display_words.find("needs a display") != std::string::npos);
  CHECK(run("DISPLAY=:4711").first == 1);
}

TEST_CASE("of several views only the one that changes is drawn again", "[view]") {
  Desk desk;
  Stage& stage = desk.stage();
  stage.show_views(4);
  const auto rest = [&] { desk.wait([&] { return stage.is_still(); }); };
  rest();
  const QImage before = stage.grabFramebuffer();
  const std::size_t all = stage.drawn_last().parts;
  const auto alike = [&](int pane, const QImage& now) {
    const QRect rect = stage.pane_rect(pane);
    return before.copy(rect) == now.copy(rect);
  };
  stage.setFocus();
  // While it is coarse the others stay as they were finished. It is grabbed before the program comes to finish it.
  QTest::keyClick(desk.window().windowHandle(), Qt::Key_Right);
  const QImage coarse = stage.grabFramebuffer();
  REQUIRE_FALSE(stage.is_still());
  for (const int pane : {0, 1, 2}) CHECK(alike(pane, coarse));
  CHECK_FALSE(alike(3, coarse));
  rest();
  const QImage after = stage.grabFramebuffer();
  CHECK(stage.drawn_last().parts < all / 2);
  for (const int pane : {0, 1, 2}) CHECK(alike(pane, after));
  CHECK_FALSE(alike(3, after));
  // Back where it was, it is the same picture.
  desk.key(Qt::Key_Left);
  rest();
  CHECK(alike(3, stage.grabFramebuffer()));
  // What is picked changes in all of them.
  desk.store().pick({desk.part("Base board")});
  desk.settle();
  rest();
  const QImage picked = stage.grabFramebuffer();
  for (const int pane : {0, 1, 2, 3}) CHECK_FALSE(alike(pane, picked));
  CHECK(stage.drawn_last().parts >= all);
  // A window of another size has nothing to keep.
  desk.window().resize(1180, 760);
  desk.settle();
  rest();
  CHECK(stage.drawn_last().parts >= all);
}

TEST_CASE("what rests is not drawn again", "[idle]") {
  Desk desk;
  desk.wait([&] { return desk.stage().is_finished(); });
  desk.settle();
  int painted = 0, coarse = 0;
  QObject::connect(&desk.stage(), &Stage::painted, [&] {
    ++painted;
    if (!desk.stage().is_finished()) ++coarse;
  });
  QElapsedTimer timer;
  timer.start();
  while (timer.elapsed() < 900) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents, 50);
  CHECK(painted == 0);
  CHECK(desk.stage().is_finished());
  // A change is shown coarsely at once, finished once it rests.
  desk.key(Qt::Key_Right);
  desk.wait([&] { return desk.stage().is_finished(); });
  desk.settle();
  CHECK(coarse >= 1);
  CHECK(painted > coarse);
}
