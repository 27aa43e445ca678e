// Files in the real window: dropped to their place, brought from the shelf as instances, read with progress.
#include <QDockWidget>
#include <QDragEnterEvent>
#include <QListWidget>
#include <QMessageBox>
#include <QMimeData>
#include <QSettings>
#include <QUrl>

#include "app/choice_row.h"
#include "app/files/import_dialog.h"
#include "app/panels/shelf_panel.h"
#include "core/files/document.h"
#include "core/files/export.h"
#include "core/files/glb.h"
#include "core/files/save.h"
#include "demo/shapes.h"
#include "tests/app/desk.h"
#include "tests/app/questions.h"

using namespace tack;
using namespace tack::test;

namespace {

// A peg of 5 × 5 × 25 mm whose base is not at its origin; with a kept tack "in" at the middle of a side where asked.
void write_peg(const std::string& path, bool kept) {
  Scene scene;
  Part peg;
  peg.name = "Peg";
  peg.mesh = *make_mesh(demo::box({5, 5, 5}, {10, 10, 30}));
  peg.colours.resize(1);
  if (kept) peg.kept = std::make_shared<const KeptTacks>(KeptTacks{{"in", {10, 10, 20}, Vec3{0, 1, 0}, Vec3{1, 0, 0}}});
  scene.add(std::move(peg));
  REQUIRE(save_atomically(path, *write_document(scene, {})));
}

Box box_of(Desk& desk, PartId id) { return world_box_of(*desk.scene().part(id).mesh, world_of(desk.scene(), id)); }

}  // namespace

TEST_CASE("a file that is dropped on a face stands there by its base, in one step", "[files]") {
  const Folder folder;
  write_peg(folder / "peg.glb", false);
  Desk desk;
  const PartId board = desk.part("Base board");
  const Vec3 top = desk.point(box_point(board, {0.5, 0.5, 1}));
  const QPoint where = desk.at(top);
  const std::size_t before = desk.scene().size();
  desk.drop(folder / "peg.glb", where);
  desk.wait([&] { return desk.scene().size() == before + 1; });
  const PartId peg = desk.part("Peg");
  const Box box = box_of(desk, peg);
  // On the board, whatever the pixel was rounded to, upright and whole.
  CHECK(box.low.z == Approx(top.z).margin(1e-9));
  CHECK(box.size().z == Approx(25));
  CHECK(distance(box.at({0.5, 0.5, 0}), top) < 20);
  CHECK(steps(desk) == 1);
  CHECK(desk.store().picked() == std::vector<PartId>{peg});
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.scene().size() == before);
}

TEST_CASE("a part with a kept tack in is dropped by that, facing what it is dropped on", "[files]") {
  const Folder folder;
  write_peg(folder / "peg.glb", true);
  Desk desk;
  const PartId board = desk.part("Base board");
  const std::size_t before = desk.scene().size();
  desk.drop(folder / "peg.glb", desk.at(desk.point(box_point(board, {0.5, 0.5, 1}))));
  desk.wait([&] { return desk.scene().size() == before + 1; });
  const PartId peg = desk.part("Peg");
  TackAddress in;
  in.kind = TackKind::Kept;
  in.part = peg;
  in.name = "in";
  const auto tack = find_tack(desk.scene(), in);
  REQUIRE(tack);
  CHECK(tack->point.z == Approx(desk.point(box_point(board, {0.5, 0.5, 1})).z).margin(1e-9));
  CHECK(distance(*tack->direction, Vec3{0, 0, -1}) < 1e-9);
  CHECK(box_of(desk, peg).size().z == Approx(5));
}

TEST_CASE("a file dropped into an elevation lands on what is caught there", "[files][elevation]") {
  const Folder folder;
  write_peg(folder / "peg.glb", false);
  Desk desk;
  const PartId board = desk.part("Base board");
  desk.take_menu("Both, and none again");
  const Vec3 corner = desk.point(box_point(board, {0, 0, 1}));
  const auto pixel = desk.stage().pixel_in(Stage::pane_of(Elevation::Front), corner);
  REQUIRE(pixel);
  desk.drop(folder / "peg.glb", desk.stage().mapTo(&desk.window(), pixel->toPoint()));
  desk.wait(
      [&] { return desk.store().picked().size() == 1 && desk.scene().part(desk.store().picked()[0]).name == "Peg"; });
  const Vec3 foot = box_of(desk, desk.part("Peg")).at({0.5, 0.5, 0});
  CHECK(foot.x == Approx(corner.x).margin(1e-9));
  CHECK(foot.z == Approx(corner.z).margin(1e-9));
}

TEST_CASE("what is dragged over the stage is told where it would stand, until it leaves", "[files]") {
  Desk desk;
  const PartId board = desk.part("Base board");
  const QPoint at = desk.stage().mapFrom(&desk.window(), desk.at(desk.point(box_point(board, {0.5, 0.5, 1}))));
  QMimeData file;
  file.setUrls({QUrl::fromLocalFile("/nowhere/peg.glb")});
  QDragEnterEvent enter(at, Qt::CopyAction, &file, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&desk.stage(), &enter);
  QDragMoveEvent over(at, Qt::CopyAction, &file, Qt::LeftButton, Qt::NoModifier);
  QApplication::sendEvent(&desk.stage(), &over);
  CHECK(desk.message().startsWith("Let go: it stands on"));
  CHECK(desk.message().contains("Base board"));
  const QImage offered = desk.window().grab().toImage();
  QDragLeaveEvent leave;
  QApplication::sendEvent(&desk.stage(), &leave);
  CHECK(!desk.message().startsWith("Let go"));
  CHECK(desk.window().grab().toImage() != offered);
}

TEST_CASE("in the open a dropped file stands on the plane in use", "[files]") {
  const Folder folder;
  write_peg(folder / "peg.glb", false);
  Desk desk(QStringList{});
  desk.drop(folder / "peg.glb");
  desk.wait([&] { return desk.scene().size() == 1; });
  CHECK(box_of(desk, desk.part("Peg")).low.z == Approx(0).margin(1e-9));
}

TEST_CASE("the shelf shows a folder, and what is on the stage already comes as an instance", "[files]") {
  const Folder folder;
  write_peg(folder / "peg.glb", false);
  std::filesystem::copy_file(source("demo/sign-plate.obj"), folder / "sign-plate.obj");
  Desk desk;
  auto* dock = desk.window().findChild<QDockWidget*>("dock Shelf");
  REQUIRE(dock);
  CHECK_FALSE(dock->isVisible());  // off at first
  dock->show();
  dock->raise();
  auto* shelf = desk.window().findChild<ShelfPanel*>();
  shelf->show_folder(QString::fromStdString(folder.path()));
  desk.settle();
  auto* list = static_cast<QListWidget*>(desk.widget("shelf list"));
  REQUIRE(list->count() == 2);
  CHECK(list->item(0)->text() == "peg");
  // Its picture is drawn after a while: it is not that of an empty card.
  desk.wait([&] {
    const QImage image = list->item(0)->icon().pixmap(88, 64).toImage();
    QSet<QRgb> colours;
    for (int x = 0; x < image.width(); ++x) colours.insert(image.pixel(x, image.height() / 2));
    return colours.size() > 3;
  });
  const PartId board = desk.part("Base board");
  const std::size_t before = desk.scene().size();
  desk.drop_from_shelf("peg", desk.at(desk.point(box_point(board, {0.4, 0.5, 1}))));
  desk.wait([&] { return desk.scene().size() == before + 1; });
  desk.drop_from_shelf("peg", desk.at(desk.point(box_point(board, {0.6, 0.5, 1}))));
  desk.wait([&] { return desk.scene().size() == before + 2; });
  const PartId first = desk.part("Peg"), second = desk.part("Peg 2");
  CHECK(desk.scene().part(first).mesh == desk.scene().part(second).mesh);
  CHECK(box_of(desk, second).low.z == Approx(box_of(desk, first).low.z).margin(1e-9));
  CHECK(distance(box_of(desk, second).low, box_of(desk, first).low) > 50);
  CHECK(desk.message().contains("instance"));
  // A file without units asks nothing when it comes from the shelf; Enter puts it in the middle.
  list->setCurrentRow(1);
  list->setFocus();
  QTest::keyClick(list, Qt::Key_Return);
  desk.wait([&] { return desk.scene().size() == before + 3; });
  CHECK(desk.window().findChild<ImportDialog*>() == nullptr);
  // A search leaves what it finds.
  static_cast<QLineEdit*>(desk.widget("shelf search"))->setText("sign");
  CHECK(list->item(0)->isHidden());
  CHECK_FALSE(list->item(1)->isHidden());
}

TEST_CASE("a folder of the shelf that is gone, or empty, is said", "[files]") {
  const Folder folder;
  Desk desk;
  desk.window().findChild<QDockWidget*>("dock Shelf")->show();
  auto* shelf = desk.window().findChild<ShelfPanel*>();
  shelf->show_folder(QString::fromStdString(folder / "not there"));
  desk.settle();
  CHECK(static_cast<QLabel*>(desk.widget("shelf empty"))->text().startsWith("The shelf shows a folder"));
  shelf->show_folder(QString::fromStdString(folder.path()));
  desk.settle();
  CHECK(static_cast<QLabel*>(desk.widget("shelf empty"))->text().startsWith("There is no part"));
  // A file that comes into the folder stands on the shelf.
  write_peg(folder / "late.glb", false);
  desk.wait([&] { return desk.window().findChild<QListWidget*>("shelf list")->count() == 1; });
}

TEST_CASE("unit and axis of a file of ours are those it was written with", "[files]") {
  const Folder folder;
  Scene scene;
  Part part;
  part.name = "Bar";
  part.mesh = *make_mesh(demo::box({0, 0, 0}, {100, 20, 10}));
  part.colours.resize(1);
  scene.add(std::move(part));
  ExportOptions inches;
  inches.unit = 25.4;
  inches.up = UpAxis::Y;
  REQUIRE(save_atomically(folder / "bar.obj", *write_obj(scene, inches)));
  Desk desk;
  const std::size_t before = desk.scene().size();
  desk.drop(folder / "bar.obj");
  ImportDialog* dialog = nullptr;
  desk.wait([&] { return (dialog = desk.window().findChild<ImportDialog*>()) && dialog->isVisible(); });
  CHECK(dialog->findChild<ChoiceRow*>("unit")->chosen_word() == "in");
  CHECK(dialog->findChild<ChoiceRow*>("up")->chosen_word() == "Y");
  CHECK(dialog->where() == ImportDialog::Where::Dropped);
  QTest::keyClick(dialog, Qt::Key_Return);
  desk.wait([&] { return desk.scene().size() == before + 1; });
  CHECK(distance(box_of(desk, desk.part("Bar")).size(), Vec3{100, 20, 10}) < 1e-9);
}

TEST_CASE("what is done while something is brought in stays, and what was brought in comes after it", "[files]") {
  Desk desk;
  const std::size_t before = desk.store().journal().record().steps.size();
  // Two files at once, and steps of one's own between all that happens meanwhile.
  FileWorks& files = desk.window().files();
  files.bring(source("demo/hook-rail.stl"));
  files.bring(source("demo/hook-rail.stl"));
  std::size_t own = 0;
  QElapsedTimer timer;
  timer.start();
  while (files.busy() && timer.elapsed() < 60'000) {
    if (own < 12) REQUIRE(desk.store().perform(Rename{desk.scene().roots().front(), "Plate " + std::to_string(++own)}));
    QCoreApplication::processEvents(QEventLoop::AllEvents, 1);
  }
  desk.settle();
  CHECK(own > 1);
  const Record& record = desk.store().journal().record();
  CHECK(record.steps.size() == before + own + 2);
  CHECK(desk.scene().part(desk.scene().roots().front()).name == "Plate " + std::to_string(own));
  CHECK(find_by_path(desk.scene(), "hook-rail"));
  CHECK(find_by_path(desk.scene(), "hook-rail 2"));
  // Each is taken back by itself.
  for (std::size_t i = 0; i < own + 2; ++i) desk.store().undo();
  CHECK_FALSE(find_by_path(desk.scene(), "hook-rail"));
  CHECK(desk.store().journal().record().steps.size() == before);
}

TEST_CASE("a step that was made of a copy of one document's record is not taken over by another document", "[files]") {
  Desk desk(QStringList{});
  Document first;
  first.scene.add(part_of("Peg", cube(4)));
  desk.store().start(first, {});
  Journal aside = desk.store().journal();
  const std::size_t before = aside.position();
  REQUIRE(aside.add(Rename{1, "Pin"}));
  // Another one is opened meanwhile; it has as many steps.
  Document second;
  second.scene.add(part_of("Rail", cube(9)));
  desk.store().start(second, {});
  CHECK_FALSE(desk.store().take_over(aside, before));
  CHECK(desk.scene().part(1).name == "Rail");
  CHECK(desk.store().journal().record().steps.empty());
  // Its own is.
  Journal own = desk.store().journal();
  const std::size_t here = own.position();
  REQUIRE(own.add(Rename{1, "Long rail"}));
  CHECK(desk.store().take_over(own, here));
  CHECK(desk.scene().part(1).name == "Long rail");
  CHECK(desk.store().changed());
  desk.store().undo();
  CHECK_FALSE(desk.store().take_over(own, own.position()));
}

TEST_CASE("an extension that is not known is asked about, and left out on request", "[files]") {
  const Folder folder;
  write_peg(folder / "peg.glb", false);
  auto glb = *read_glb(*read_file(folder / "peg.glb"));
  glb.json["nodes"][1]["extensions"]["ACME_wiring"] = {{"to", {0, 1}}};
  glb.json["extensionsUsed"].push_back("ACME_wiring");
  REQUIRE(save_atomically(folder / "wired.glb", *write_glb(glb.json, glb.binary)));
  Desk desk;
  const std::size_t before = desk.scene().size();
  desk.drop(folder / "wired.glb");
  QMessageBox* box = nullptr;
  desk.wait([&] { return (box = desk.window().findChild<QMessageBox*>()) && box->isVisible(); });
  CHECK(box->text().contains("ACME_wiring"));
  for (QAbstractButton* button : box->buttons())
    if (button->text() == "Leave it out") button->click();
  desk.wait([&] { return desk.scene().size() == before + 1; });
  const auto bytes = write_document(desk.scene(), {});
  CHECK(read_glb(*bytes)->json.dump().find("ACME_wiring") == std::string::npos);
}

TEST_CASE("a document is saved and opened with its steps, and an early one is changed", "[files]") {
  const Folder folder;
  const std::filesystem::path path = folder / "run.glb";
  double far = 0;
  {
    Desk desk;
    for (const auto& [part, by] : {std::pair{"Funnel", "12"}, std::pair{"Catch basin", "30"}}) {
      desk.store().pick({desk.part(part)});
      desk.key(Qt::Key_M);
      desk.type(by);
      desk.key(Qt::Key_Return);
      desk.key(Qt::Key_Escape);
    }
    REQUIRE(steps(desk) == 2);
    far = box_of(desk, desk.part("Funnel")).low.x;
    bool saved = false;
    desk.window().files().save(path, [&](bool ok) { saved = ok; });
    desk.wait([&] { return saved; });
  }
  Desk desk({QString::fromStdString(path.string())});
  desk.wait([&] { return steps(desk) == 2; });
  CHECK_FALSE(desk.store().changed());
  CHECK(box_of(desk, desk.part("Funnel")).low.x == far);
  // The first line of Steps is opened, its blank typed anew: the second step stays done.
  auto* list = static_cast<QListWidget*>(desk.widget("steps"));
  REQUIRE(list->count() == 2);
  const double post = box_of(desk, desk.part("Catch basin")).low.x;
  desk.click(list->viewport()->mapTo(&desk.window(), list->visualItemRect(list->item(0)).center() + QPoint(20, 0)));
  CHECK(desk.sentence().startsWith("Moved Funnel by 12"));
  desk.click_widget("blank Along X");
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.type("20");
  desk.key(Qt::Key_Return);
  CHECK(box_of(desk, desk.part("Funnel")).low.x == Approx(far + 8).margin(1e-9));
  CHECK(box_of(desk, desk.part("Catch basin")).low.x == post);
  CHECK(steps(desk) == 2);
  // Back beyond what was done since it was opened.
  for (int i = 0; i < 3; ++i) desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(steps(desk) == 0);
  CHECK(box_of(desk, desk.part("Funnel")).low.x == Approx(far - 12).margin(1e-9));
}
