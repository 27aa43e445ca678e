// What may happen while something else is going on: drags that are interrupted, files that are saved, closed, opened
// and autosaved at the wrong moment.
#include <QApplication>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QPushButton>
#include <fstream>

#include "tests/app/desk.h"
#include "tests/app/questions.h"

using namespace tack;
using namespace tack::test;

namespace {

// The middle of a ruler of Move on the stage, in the window.
QPoint ruler(Desk& desk, std::size_t axis) {
  const View view = desk.stage().view();
  for (const Handle& h : desk.window().bench().draft().handles(view)) {
    if (h.kind != Handle::Kind::Ruler || !h.axes[axis]) continue;
    const auto px = view.project(h.line.front() + (h.line.back() - h.line.front()) * 0.7);
    REQUIRE(px);
    return desk.stage().mapTo(&desk.window(), QPointF(px->x, px->y).toPoint());
  }
  FAIL("there is no such ruler");
  return {};
}

struct Held {
  Desk& desk;
  QPoint at;

  explicit Held(Desk& d, QPoint from) : desk(d), at(from) {
    desk.move_to(at);
    QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, {}, at);
    move({20, 12});
    REQUIRE(desk.window().bench().draft().dragging());
  }
  void move(QPoint by) {
    for (int i = 0; i < 3; ++i) QTest::mouseMove(desk.window().windowHandle(), at += by / 3);
    desk.settle();
  }
  void let_go() {
    QTest::mouseRelease(desk.window().windowHandle(), Qt::LeftButton, {}, at);
    desk.settle();
  }
};

void open(Desk& desk, const std::string& file) {
  bool opened = false;
  auto once = std::make_unique<QObject>();
  QObject::connect(&desk.window().files(), &FileWorks::opened, once.get(), [&] { opened = true; });
  desk.window().open_files({QString::fromStdString(file)});
  desk.wait([&] { return opened && !desk.window().files().busy(); });
}

constexpr const char* kTriangle = "v 0 0 0\nv 10 0 0\nv 0 10 0\nf 1 2 3\n";

}  // namespace

TEST_CASE("a drag that is interrupted ends, and the stage shows the scene as it is", "[life]") {
  Desk desk;
  const PartId hub = desk.part("Hub");
  desk.store().pick({hub});
  desk.key(Qt::Key_M);
  const Scene before = desk.scene();
  const auto is_over = [&] {
    CHECK_FALSE(desk.window().bench().draft().dragging());
    CHECK_FALSE(desk.window().bench().marks().shown);
  };
  SECTION("by deleting the part") {
    Held held(desk, ruler(desk, 0));
    desk.key(Qt::Key_Delete);
    held.move({15, 9});
    held.let_go();
    is_over();
    CHECK_FALSE(desk.scene().contains(hub));
    CHECK(steps(desk) == 1);
  }
  SECTION("by picking nothing") {
    Held held(desk, ruler(desk, 0));
    desk.store().pick({});
    held.move({15, 9});
    held.let_go();
    is_over();
    CHECK(steps(desk) == 0);
  }
  SECTION("by another verb, and back") {
    Held held(desk, ruler(desk, 0));
    desk.key(Qt::Key_O);
    held.move({15, 9});
    held.let_go();
    desk.key(Qt::Key_M);
    is_over();
    CHECK(steps(desk) == 0);
    CHECK(desk.scene().part(hub).placement == before.part(hub).placement);
    CHECK_FALSE(desk.sentence().contains("Moved"));
  }
  SECTION("by undo of the step that made the part") {
    desk.key(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
    desk.key(Qt::Key_M);
    REQUIRE(steps(desk) == 1);
    Held held(desk, ruler(desk, 0));
    desk.key(Qt::Key_Z, Qt::ControlModifier);
    held.move({15, 9});
    held.let_go();
    is_over();
    CHECK(steps(desk) == 0);
    CHECK(desk.scene().size() == before.size());
  }
  SECTION("by another document") {
    Held held(desk, ruler(desk, 0));
    desk.store().start({}, {});
    held.move({15, 9});
    held.let_go();
    is_over();
    CHECK(desk.scene().size() == 0);
  }
}

TEST_CASE("only the button that began a drag ends it", "[life]") {
  Desk desk;
  const PartId hub = desk.part("Hub");
  desk.store().pick({hub});
  desk.key(Qt::Key_M);
  Held held(desk, ruler(desk, 0));
  QTest::mousePress(desk.window().windowHandle(), Qt::RightButton, {}, held.at);
  QTest::mouseRelease(desk.window().windowHandle(), Qt::RightButton, {}, held.at);
  desk.settle();
  CHECK(desk.window().bench().draft().dragging());
  CHECK(steps(desk) == 0);
  held.move({15, 9});
  CHECK(desk.window().bench().draft().dragging());
  held.let_go();
  CHECK_FALSE(desk.window().bench().draft().dragging());
  CHECK(steps(desk) == 1);
}

TEST_CASE("somebody else's file is not written over without asking, also when the window closes", "[life]") {
  const Folder folder;
  std::ofstream(folder / "bracket.obj") << kTriangle;
  std::ofstream(folder / "bracket.glb") << "somebody else's work";
  Desk desk(QStringList{});
  open(desk, folder / "bracket.obj");
  desk.store().perform(Rename{desk.scene().roots().front(), "Plate"});
  answer("unsaved", "Save");
  QTimer::singleShot(200, [] { answer("overwrite", "Cancel"); });
  desk.window().close();
  desk.settle();
  CHECK(desk.window().isVisible());
  CHECK(text_in(folder / "bracket.glb") == "somebody else's work");
  CHECK(desk.store().changed());
  // And when it may be, it is written, and the window closes.
  answer("unsaved", "Save");
  QTimer::singleShot(200, [] { answer("overwrite", "Overwrite"); });
  desk.window().close();
  desk.wait([&] { return !desk.window().isVisible(); });
  CHECK(text_in(folder / "bracket.glb").starts_with("glTF"));
}

TEST_CASE("closing and saving under a new name closes; calling the name off does not", "[life]") {
  const Folder folder;
  Desk desk(QStringList{});
  AddGuide guide;
  guide.at = point({1, 2, 3});
  REQUIRE(desk.store().perform(guide));
  REQUIRE(desk.store().changed());
  answer("unsaved", "Save");
  QTimer::singleShot(200, [] { answer_file({}); });
  desk.window().close();
  desk.settle();
  CHECK(desk.window().isVisible());
  answer("unsaved", "Cancel");
  desk.window().close();
  desk.settle();
  CHECK(desk.window().isVisible());
  answer("unsaved", "Save");
  QTimer::singleShot(200, [&] { answer_file(QString::fromStdString(folder / "first.glb")); });
  desk.window().close();
  desk.wait([&] { return !desk.window().isVisible(); });
  CHECK(text_in(folder / "first.glb").starts_with("glTF"));
}

TEST_CASE("an autosave that is still being written when the work is discarded does not stay", "[life]") {
  // However long after the timer the work is discarded, nothing is left.
  for (const int moment : {1490, 1500, 1505, 1510, 1530}) {
    Desk desk;
    const auto folder = Autosave::state_folder();
    const auto files = [&] { return std::distance(std::filesystem::directory_iterator(folder), {}); };
    const auto before = files();
    desk.store().perform(Rename{desk.part("Hub"), "Axle"});
    QTest::qWait(moment);  // the interval after which it is written: about then
    desk.window().files().end();
    QTest::qWait(500);
    CHECK(files() == before);
  }
}

TEST_CASE("of two files that are opened the one asked for last is the document", "[life]") {
  Desk desk(QStringList{});
  bool opened = false;
  int times = 0;
  QObject::connect(&desk.window().files(), &FileWorks::opened, &desk.window(), [&] { opened = true, ++times; });
  // The first is large and takes longer.
  desk.window().files().open(source("demo/heron-hall.glb"));
  desk.window().files().open(source("demo/sign-plate.obj"));
  desk.wait([&] { return opened && !desk.window().files().busy(); });
  desk.settle();
  CHECK(times == 1);
  CHECK(desk.scene().size() == 1);
}

TEST_CASE("work done while a file is read is not thrown away unasked", "[life]") {
  Desk desk;
  desk.window().files().open(source("demo/heron-hall.glb"));
  desk.store().perform(Rename{desk.part("Hub"), "Axle"});
  answer("unsaved", "Cancel");
  desk.wait([&] { return !desk.window().files().busy(); });
  desk.settle();
  CHECK(find_by_path(desk.scene(), "Lift/Axle").has_value() != find_by_path(desk.scene(), "Axle").has_value());
  CHECK(desk.store().changed());
}

TEST_CASE("another document forgets the axes and places of the one before", "[life]") {
  Desk desk;
  const PartId hub = desk.part("Hub");
  desk.store().set_axes(axes_of(hub));
  About about;
  about.kind = About::Kind::Place;
  about.place = {TackKind::Pivot, hub, 0, {}};
  desk.store().set_about(about);
  desk.key(Qt::Key_A);
  open(desk, source("demo/sign-plate.obj"));
  CHECK(desk.store().axes() == Axes{});
  CHECK(desk.store().about() == About{});
  CHECK_FALSE(desk.sentence().contains("gone"));
  CHECK(desk.store().picked().empty());
}

TEST_CASE("while a field is typed into, the window's shortcuts still work", "[life]") {
  const Folder folder;
  std::ofstream(folder / "bracket.obj") << kTriangle;
  Desk desk(QStringList{});
  open(desk, folder / "bracket.obj");
  desk.store().pick({desk.scene().roots().front()});
  desk.type_into("position x", "12");
  desk.click_widget("position y");
  desk.key(Qt::Key_S, Qt::ControlModifier);
  desk.wait([&] { return std::filesystem::exists(folder / "bracket.glb") && !desk.window().files().busy(); });
  CHECK_FALSE(desk.store().changed());
  desk.click_widget("position y");
  desk.key(Qt::Key_F6);
  CHECK(desk.window().focusWidget()->objectName() != "position y");
}

TEST_CASE("the Parts tree keeps its search, and shows a new colour", "[life]") {
  Desk desk;
  auto& tree = desk.window().parts().tree();
  const PartId funnel = desk.part("Funnel");
  const auto dot = [&] {
    return tree.index_of(funnel).data(Qt::DecorationRole).value<QIcon>().pixmap(22, 22).toImage().pixelColor(5, 5);
  };
  const QColor before = dot();
  Paint paint;
  paint.what = {funnel};
  paint.colour = {0.1f, 0.9f, 0.2f, 1};
  REQUIRE(desk.store().perform(paint));
  CHECK(dot() != before);
  tree.filter("post");
  CHECK_FALSE(tree.index_of(funnel).isValid());
  REQUIRE(desk.store().perform(Delete{{desk.part("Catch basin")}}));
  CHECK_FALSE(tree.index_of(funnel).isValid());
  CHECK(tree.index_of(desk.part("Post 1")).isValid());
}

TEST_CASE("Enter on a blank that was not touched leaves its value as it is, to the last bit", "[life]") {
  Desk desk;
  const PartId basin = desk.part("Catch basin");
  desk.store().pick({basin});
  Rotate rotate;
  rotate.what = {basin};
  rotate.angle = Amount{12.345678912345};
  REQUIRE(desk.store().perform(rotate));
  desk.settle();
  desk.click_widget("blank Angle");
  desk.key(Qt::Key_Return);
  CHECK(std::get<Rotate>(desk.store().journal().record().steps[0]->verb).angle.value == 12.345678912345);
  // Placement's rounded numbers, with their sign, are read back as what they stand for.
  auto* z = static_cast<QLineEdit*>(desk.widget("rotation z"));
  REQUIRE(z->text().startsWith(QString::fromUtf8("≈")));
  const Placement placed = desk.scene().part(basin).placement;
  desk.click_widget("rotation z");
  desk.key(Qt::Key_Return);
  CHECK(desk.scene().part(basin).placement == placed);
  desk.click_widget("rotation z");
  desk.key(Qt::Key_End);
  desk.type(" ");
  desk.key(Qt::Key_Return);
  CHECK(distance(desk.scene().part(basin).placement.rotation, placed.rotation) < 0.01);
}
