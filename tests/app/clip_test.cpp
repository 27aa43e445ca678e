// Copy and paste of parts, export, revert, recent files, preferences; Parts that answers blanks, Placement's places and
// letters; in the real window.
#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QMimeData>
#include <QSpinBox>

#include "app/choice_row.h"
#include "app/files/clipboard.h"
#include "app/files/export_dialog.h"
#include "app/files/recent.h"
#include "app/panels/slide_letter.h"
#include "app/preferences_dialog.h"
#include "app/theme.h"
#include "core/files/delivery.h"
#include "core/files/document.h"
#include "tests/app/desk.h"
#include "tests/app/questions.h"

using namespace tack;
using namespace tack::test;

namespace {

void choose_parts(Desk& desk, std::initializer_list<const char*> names) {
  std::vector<PartId> parts;
  for (const char* name : names) parts.push_back(desk.part(name));
  desk.store().pick(parts);
  desk.settle();
  desk.stage().setFocus();
}

Vec3 corner_of(Desk& desk, PartId id) { return desk.point(box_point(id, {1, 0, 1})); }

}  // namespace

TEST_CASE("parts are copied and pasted, with all below them, in the place where they stand", "[clip]") {
  Desk desk;
  // The scoop hangs below an unevenly scaled carriage: its copy stands where it stands, without it.
  choose_parts(desk, {"Scoop", "Post 4"});
  const Vec3 scoop = corner_of(desk, desk.part("Scoop")), post = corner_of(desk, desk.part("Post 4"));
  const std::size_t before = desk.scene().size();
  desk.key(Qt::Key_C, Qt::ControlModifier);
  desk.wait([&] { return desk.message().contains("2 parts are on the clipboard"); });
  const QString text = QApplication::clipboard()->text();
  CHECK(text.count('\n') == 2);
  CHECK(text.contains("Post 4\t"));
  desk.key(Qt::Key_V, Qt::ControlModifier);
  desk.wait([&] { return steps(desk) == 1; });
  CHECK(desk.scene().size() == before + 2);
  const std::vector<PartId> pasted = desk.store().picked();
  REQUIRE(pasted.size() == 2);
  for (const PartId id : pasted) {
    const Vec3 stands = corner_of(desk, id);
    const Vec3 was = desk.scene().part(id).name.starts_with("Scoop") ? scoop : post;
    CHECK(distance(stands, was) < 1e-6);
    CHECK(desk.scene().part(id).parent == kNoPart);
  }
  // In another window, where nothing is yet.
  Desk other(QStringList{});
  other.key(Qt::Key_V, Qt::ControlModifier);
  other.wait([&] { return steps(other) == 1; });
  CHECK(other.scene().roots().size() == 2);
  for (const PartId id : other.scene().roots()) {
    const Vec3 was = other.scene().part(id).name.starts_with("Scoop") ? scoop : post;
    CHECK(distance(other.point(box_point(id, {1, 0, 1})), was) < 1e-6);
  }
}

TEST_CASE("cutting takes the parts away by a step; what holds no parts is said", "[clip]") {
  Desk desk;
  choose_parts(desk, {"Funnel"});
  desk.key(Qt::Key_X, Qt::ControlModifier);
  desk.wait([&] { return steps(desk) == 1; });
  CHECK_FALSE(find_by_path(desk.scene(), "Funnel"));
  desk.key(Qt::Key_V, Qt::ControlModifier);
  desk.wait([&] { return steps(desk) == 2; });
  CHECK(find_by_path(desk.scene(), "Funnel"));
  QApplication::clipboard()->setText("just words");
  desk.key(Qt::Key_V, Qt::ControlModifier);
  CHECK(desk.message().contains("no parts"));
  auto* broken = new QMimeData;
  broken->setData(kGltfType, "glTF but not really");
  QApplication::clipboard()->setMimeData(broken);
  desk.key(Qt::Key_V, Qt::ControlModifier);
  desk.wait([&] { return desk.message().contains("cannot be read") || desk.message().contains("can be read"); });
  CHECK(steps(desk) == 2);
  // In a field the keys are the field's own.
  choose_parts(desk, {"Funnel"});
  desk.click_widget("position x");
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.key(Qt::Key_C, Qt::ControlModifier);
  CHECK_FALSE(QApplication::clipboard()->mimeData()->hasFormat(kGltfType));
}

TEST_CASE("what is picked is exported under a name of its own, in the unit asked for", "[clip]") {
  Desk desk;
  choose_parts(desk, {"Post 4"});
  const Folder folder;
  const QString file = QString::fromStdString(folder.path() + "/post");
  desk.key(Qt::Key_E, Qt::ControlModifier);
  auto* dialog = desk.window().findChild<ExportDialog*>();
  REQUIRE(dialog);
  dialog->findChild<ChoiceRow*>("unit")->choose("cm");
  CHECK(dialog->picked_alone());
  answer_file(file);
  static_cast<QDialog*>(dialog)->accept();
  desk.wait([&] { return QFileInfo::exists(file + ".obj") && desk.message().startsWith("Exported"); });
  ImportOptions options;
  options.unit = 10;
  options.up = UpAxis::Z;
  const auto delivery = read_delivery((file + ".obj").toStdString(), options);
  REQUIRE(delivery);
  const auto back = document_of(*delivery);
  REQUIRE(back);
  int meshes = 0;
  for (const PartId id : back->scene.in_tree_order()) meshes += back->scene.part(id).mesh != nullptr;
  CHECK(meshes == 1);
  const Vec3 size = world_box_of(back->scene).size();
  CHECK(size.x == Approx(34).margin(1e-6));
  CHECK(steps(desk) == 0);
}

TEST_CASE("a document goes back to what was saved; recent files have pictures", "[clip]") {
  const Folder folder;
  const QString file = QString::fromStdString(folder.path() + "/run.glb");
  QFile::copy(QString::fromStdString(source("demo/heron-hall-parts.glb")), file);
  Desk desk({file});
  desk.wait([&] { return recent_files() == QStringList{file}; });
  Move move;
  move.what = {desk.part("Funnel")};
  move.by[0] = Amount{50};
  const Vec3 was = desk.point({TackKind::Pivot, desk.part("Funnel"), 0, {}});
  desk.store().perform(move);
  answer("revert", "Cancel");
  desk.take_menu("Revert");
  CHECK(steps(desk) == 1);
  answer("revert", "Go back");
  desk.take_menu("Revert");
  desk.wait([&] { return steps(desk) == 0; });
  CHECK(desk.point({TackKind::Pivot, desk.part("Funnel"), 0, {}}) == was);
  desk.take_menu("Revert");
  CHECK(desk.message().contains("Nothing has changed"));
  // The picture is of the scene, not an empty card.
  desk.wait([&] {
    const QImage picture = picture_of(file).toImage();
    const QRgb middle = picture.pixel(picture.width() / 2, picture.height() / 2);
    int others = 0;
    for (int x = 4; x < picture.width() - 4; x += 3)
      for (int y = 4; y < picture.height() - 4; y += 3) others += picture.pixel(x, y) != middle;
    return others > 100;
  });
  QFile::remove(file);
  CHECK(recent_files().isEmpty());
}

TEST_CASE("preferences hold at once and for the next window; nonsense is refused", "[clip]") {
  Desk desk;
  const int small = desk.window().sentence_bar().height();
  desk.key(Qt::Key_Comma, Qt::ControlModifier);
  auto* dialog = desk.window().findChild<PreferencesDialog*>();
  REQUIRE(dialog);
  dialog->findChild<ChoiceRow*>("unit")->choose("in");
  dialog->findChild<QSpinBox*>("decimals")->setValue(1);
  dialog->findChild<ChoiceRow*>("theme")->choose(1);
  dialog->findChild<QSpinBox*>("text size")->setValue(150);
  CHECK(theme().night);
  desk.settle();
  CHECK(desk.window().sentence_bar().height() > small);
  auto* touch = dialog->findChild<EntryEdit*>("touch");
  touch->setText("zero");
  static_cast<QDialog*>(dialog)->accept();
  CHECK(dialog->isVisible());
  touch->setText("0");
  static_cast<QDialog*>(dialog)->accept();
  CHECK(dialog->isVisible());
  touch->setText("1/2 mm");
  static_cast<QDialog*>(dialog)->accept();
  desk.settle();
  CHECK(desk.store().preferences().touch == 0.5);
  CHECK(desk.store().unit().decimals == 1);
  CHECK(load_preferences() == desk.store().preferences());
  desk.take_menu("New scene");
  CHECK(desk.store().unit().name == "in");
  // Leaving it takes theme and text size back.
  desk.key(Qt::Key_Comma, Qt::ControlModifier);
  for (auto* again : desk.window().findChildren<PreferencesDialog*>()) {
    if (!again->isVisible()) continue;
    again->findChild<ChoiceRow*>("theme")->choose(0);
    again->findChild<QSpinBox*>("text size")->setValue(100);
    again->reject();
  }
  desk.settle();
  CHECK(theme().night);
  CHECK(text_percent() == 150);
  set_text_percent(100);
  set_theme(false);
}

TEST_CASE("what touches is what the preferences say, everywhere it is said", "[clip]") {
  Desk desk({QString::fromStdString(source("demo/heron-hall.glb"))});
  Move move;
  move.what = {desk.part("Channel 2")};
  move.by[1] = Amount{0.3};
  desk.store().perform(move);
  desk.settle();
  const auto apart = [&] {
    const auto& states = desk.window().bench().tie_states();
    return std::count_if(states.begin(), states.end(),
                         [](const TieState& s) { return s.kind == TieState::Kind::Apart; });
  };
  CHECK(apart() > 0);
  Preferences p = desk.store().preferences();
  p.touch = 0.5;
  desk.store().set_preferences(p);
  desk.settle();
  CHECK(apart() == 0);
}

TEST_CASE("a click in Parts answers a blank that waits, and picks when none does", "[clip]") {
  Desk desk;
  auto& tree = desk.window().parts().tree();
  const auto click_row = [&](const char* name) {
    const QModelIndex row = tree.index_of(desk.part(name));
    tree.scrollTo(row);
    desk.settle();
    desk.click(tree.viewport()->mapTo(&desk.window(), tree.visualRect(row).center()));
  };
  click_row("Funnel");
  CHECK(desk.store().picked() == std::vector<PartId>{desk.part("Funnel")});
  desk.key(Qt::Key_T);
  click_row("Funnel");
  click_row("Base board");
  CHECK(steps(desk) == 1);
  const auto* meet = std::get_if<Meet>(&desk.store().journal().record().steps.back()->verb);
  REQUIRE(meet);
  CHECK(meet->from == TackAddress{TackKind::Pivot, desk.part("Funnel"), 0, {}});
  CHECK(meet->to == TackAddress{TackKind::Pivot, desk.part("Base board"), 0, {}});
  // A part that is asked for.
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_Escape);
  choose_parts(desk, {"Funnel"});
  desk.key(Qt::Key_A);
  desk.click_widget("blank Like");
  click_row("Catch basin");
  CHECK(steps(desk) == 2);
  const auto* scale = std::get_if<Scale>(&desk.store().journal().record().steps.back()->verb);
  REQUIRE(scale);
  CHECK(scale->like == desk.part("Catch basin"));
}

TEST_CASE("Placement reads and sets the position of any place of the part", "[clip]") {
  Desk desk;
  choose_parts(desk, {"Base board"});
  const PartId board = desk.part("Base board");
  const auto submenu = [&](const QString& entry) {
    for (auto* menu : desk.window().findChildren<QMenu*>())
      if (menu->title() == "Position of") {
        emit menu->aboutToShow();
        for (QAction* action : menu->actions())
          if (action->text() == entry) return action->trigger();
      }
    FAIL("no entry " << entry.toStdString());
  };
  submenu("the low corner of its box");
  desk.settle();
  const Vec3 low = desk.point(box_point(board, {0, 0, 0}));
  CHECK(static_cast<QLineEdit*>(desk.widget("position x"))->text().toDouble() == Approx(low.x));
  desk.type_into("position z", "18");
  CHECK(desk.point(box_point(board, {0, 0, 0})).z == Approx(18).margin(1e-9));
  CHECK(desk.point(box_point(board, {0, 0, 0})).x == Approx(low.x).margin(1e-9));
  CHECK(desk.sentence().contains("of Base board at position z 18"));
  desk.type_into("position z", "it + 2");
  CHECK(desk.point(box_point(board, {0, 0, 0})).z == Approx(20).margin(1e-9));
  // Another place, clicked on the stage.
  submenu("another place of it …");
  const TackAddress vertex = desk.visible_vertex(board);
  desk.click(desk.at(vertex));
  CHECK(static_cast<QLineEdit*>(desk.widget("position y"))->text().remove(QChar(0x2248)).toDouble() ==
        Approx(desk.point(vertex).y).margin(1e-3));
  // A part that has no such place shows its pivot again.
  choose_parts(desk, {"Funnel"});
  CHECK(static_cast<QLineEdit*>(desk.widget("position x"))->text().remove(QChar(0x2248)).toDouble() ==
        Approx(desk.point({TackKind::Pivot, desk.part("Funnel"), 0, {}}).x).margin(1e-3));
}

TEST_CASE("a number's letter is dragged to slide it: one step, live", "[clip]") {
  Desk desk;
  choose_parts(desk, {"Funnel"});
  const Vec3 was = desk.point({TackKind::Pivot, desk.part("Funnel"), 0, {}});
  QWidget* field = desk.widget("position x");
  auto* letter = field->findChild<SlideLetter*>();
  REQUIRE(letter);
  const QPoint at = desk.middle_of(letter);
  const double step = desk.store().increments().length.step;
  QTest::mousePress(letter, Qt::LeftButton, {}, letter->rect().center());
  for (int i = 1; i <= 10; ++i) {
    QMouseEvent event(QEvent::MouseMove, letter->rect().center() + QPoint(4 * i, 0),
                      desk.window().mapToGlobal(at + QPoint(4 * i, 0)), Qt::NoButton, Qt::LeftButton, {});
    QApplication::sendEvent(letter, &event);
  }
  QTest::mouseRelease(letter, Qt::LeftButton, {}, letter->rect().center() + QPoint(40, 0));
  desk.settle();
  CHECK(steps(desk) == 1);
  const double by = desk.point({TackKind::Pivot, desk.part("Funnel"), 0, {}}).x - was.x;
  CHECK(by == Approx(step * std::round(by / step)).margin(1e-9));
  CHECK(by >= 8 * step);
  desk.stage().setFocus();
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  for (int i = 0; i < 12; ++i) desk.store().undo();
  CHECK(desk.point({TackKind::Pivot, desk.part("Funnel"), 0, {}}) == was);
}

TEST_CASE("the title of Placement names the part and goes to another one", "[clip]") {
  Desk desk;
  choose_parts(desk, {"Funnel"});
  auto* title = static_cast<QPushButton*>(desk.widget("placement part"));
  CHECK(title->text().startsWith("Funnel"));
  emit title->menu()->aboutToShow();
  bool found = false;
  for (QAction* action : title->menu()->actions())
    if (action->text().trimmed() == "Post 4") action->trigger(), found = true;
  REQUIRE(found);
  CHECK(desk.store().picked() == std::vector<PartId>{desk.part("Post 4")});
  CHECK(title->text().startsWith("Post 4"));
}
