// What helps to work: keys of one's own, the short list at the pointer, labels that keep clear of each other, dimension
// lines, columns, the loupe; in the real window.
#include <QDialog>
#include <QDir>
#include <QLabel>
#include <QListWidget>
#include <QPrinter>
#include <QTreeWidget>

#include "app/help/help_window.h"
#include "app/panels/rows.h"
#include "app/pointer_list.h"
#include "app/stage/overlay.h"
#include "app/theme.h"
#include "core/view/view_words.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

QPoint in_the_window(Desk& desk, QPointF stage_point) {
  return desk.stage().mapTo(&desk.window(), stage_point.toPoint());
}

void pick(Desk& desk, const std::string& part) {
  desk.store().pick({desk.part(part)});
  desk.settle();
  desk.stage().setFocus();
}

// A handle as the stage offers it now, and the pixel where it is taken hold of.
std::pair<Handle, QPoint> taken(Desk& desk, Handle::Kind kind, int axis, double fraction = -1) {
  const View view = desk.stage().view();
  for (const Handle& h : desk.window().bench().draft().handles(view)) {
    if (h.kind != kind || !h.axes[static_cast<std::size_t>(axis)]) continue;
    if (fraction >= 0 && h.fraction[axis] != fraction) continue;
    const Vec3 at = kind == Handle::Kind::End     ? h.line.front() + (h.line.back() - h.line.front()) * 0.4
                    : kind == Handle::Kind::Ruler ? h.line.front() + (h.line.back() - h.line.front()) * 0.7
                                                  : h.line[h.line.size() / 2];
    const auto px = view.project(at);
    REQUIRE(px);
    return {h, in_the_window(desk, {px->x, px->y})};
  }
  FAIL("no such handle");
  return {};
}

void no_label_over_another(Desk& desk) {
  const auto& labels = desk.stage().labels();
  for (int a = 0; a < labels.size(); ++a)
    for (int b = a + 1; b < labels.size(); ++b) {
      INFO(labels[a].text.toStdString() << " | " << labels[b].text.toStdString());
      CHECK_FALSE(labels[a].box.intersects(labels[b].box));
    }
}

bool has_label(Desk& desk, const QString& part_of_text) {
  const auto& labels = desk.stage().labels();
  return std::any_of(labels.begin(), labels.end(),
                     [&](const Labels::Placed& l) { return l.text.contains(part_of_text); });
}

}  // namespace

TEST_CASE("Scale has dimension lines: an end is dragged, its value is clicked and typed", "[aids]") {
  Desk desk;
  pick(desk, "Base board");
  desk.window().stage().frame_picked();
  desk.settle();
  desk.key(Qt::Key_A);
  CHECK(has_label(desk, "X  1200 mm"));
  CHECK(has_label(desk, "Y  600 mm"));
  no_label_over_another(desk);
  // The value at the middle of the line opens its blank.
  const auto [value, at] = taken(desk, Handle::Kind::Value, 0);
  desk.click(at);
  REQUIRE(desk.window().sentence_bar().entry_is_open());
  desk.type("1000");
  desk.key(Qt::Key_Return);
  const PartId board = desk.part("Base board");
  CHECK(own_size(desk.scene(), board).x == 1000);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  // An end: that side moves, the opposite one holds.
  desk.key(Qt::Key_Escape);
  pick(desk, "Base board");
  if (desk.window().bench().draft().row() != id_of<Scale>) desk.key(Qt::Key_A);
  const Vec3 low = desk.point(box_point(board, {0, 0.5, 0.5}));
  const auto [end, from] = taken(desk, Handle::Kind::End, 0, 1);
  desk.drag(from, from + QPoint(-60, 20));
  CHECK(own_size(desk.scene(), board).x != Approx(1200).margin(1));
  CHECK(distance(desk.point(box_point(board, {0, 0.5, 0.5})), low) < 1e-6);
  CHECK(own_size(desk.scene(), board).y == 600);
  CHECK(desk.sentence().startsWith("Made Base board"));
}

TEST_CASE("with E held an end sizes all three alike; what K names holds still in a drag", "[aids]") {
  Desk desk;
  pick(desk, "Drum");
  desk.window().stage().frame_picked();
  desk.settle();
  desk.key(Qt::Key_A);
  const PartId drum = desk.part("Drum");
  const Vec3 before = own_size(desk.scene(), drum);
  auto [end, from] = taken(desk, Handle::Kind::End, 0, 1);
  desk.move_to(from);
  QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, {}, from);
  QTest::keyPress(desk.window().windowHandle(), Qt::Key_E);
  for (int i = 1; i <= 6; ++i) QTest::mouseMove(desk.window().windowHandle(), from + QPoint(8 * i, -2 * i));
  desk.settle();
  // A mouse move is worked out with E down, and again when it goes up; let go of the mouse first.
  QTest::mouseRelease(desk.window().windowHandle(), Qt::LeftButton, {}, from + QPoint(48, -12));
  QTest::keyRelease(desk.window().windowHandle(), Qt::Key_E);
  desk.settle();
  const Vec3 after = own_size(desk.scene(), drum);
  const double factor = after.x / before.x;
  CHECK(factor != Approx(1).margin(1e-3));
  CHECK(after.y / before.y == Approx(factor).epsilon(1e-9));
  CHECK(after.z / before.z == Approx(factor).epsilon(1e-9));
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  // K, and the middle of its box typed: both ends move.
  desk.key(Qt::Key_K);
  desk.type("= \"Drum\" box 0.5,0.5,0.5");
  desk.key(Qt::Key_Return);
  CHECK(desk.window().bench().draft().row() == id_of<Scale>);
  const Vec3 middle = desk.point(box_point(drum, {0.5, 0.5, 0.5}));
  const auto [other, grip] = taken(desk, Handle::Kind::End, 0, 1);
  desk.drag(grip, grip + QPoint(40, -8));
  CHECK(distance(desk.point(box_point(drum, {0.5, 0.5, 0.5})), middle) < 1e-6);
  CHECK(own_size(desk.scene(), drum).x != Approx(before.x).margin(0.1));
}

TEST_CASE("a ruler stops level with a place of another part, and with Q held it does not", "[aids]") {
  Desk desk;
  pick(desk, "Channel 3");
  desk.key(Qt::Key_M);
  const PartId channel = desk.part("Channel 3"), post = desk.part("Post 4");
  const TackAddress there = desk.visible_vertex(post);
  const auto [ruler, from] = taken(desk, Handle::Kind::Ruler, 2);
  const QPoint to = desk.at(there);
  desk.move_to(from);
  QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, {}, from);
  for (int i = 1; i <= 6; ++i) QTest::mouseMove(desk.window().windowHandle(), from + (to - from) * i / 6);
  desk.settle();
  CHECK(desk.sentence().contains("level with"));
  CHECK(has_label(desk, "level with"));
  no_label_over_another(desk);
  QTest::keyPress(desk.window().windowHandle(), Qt::Key_Q);
  desk.settle();
  CHECK_FALSE(desk.sentence().contains("level with"));
  QTest::keyRelease(desk.window().windowHandle(), Qt::Key_Q);
  desk.settle();
  QTest::mouseRelease(desk.window().windowHandle(), Qt::LeftButton, {}, to);
  desk.settle();
  CHECK(desk.point({TackKind::Pivot, channel, 0, {}}).z == Approx(desk.point(there).z).margin(1e-9));
  CHECK(desk.message().contains("level with"));
}

TEST_CASE("the letters of the small axes look along them, and back; views say what they look at", "[aids]") {
  Desk desk;
  const auto letter = [&](int axis) {
    // Found as a person finds it: by trying the corner.
    const View view = desk.stage().view();
    for (int y = desk.stage().height() - 90; y < desk.stage().height(); y += 2)
      for (int x = 4; x < 92; x += 2)
        if (Overlay::axis_letter_at(view, QPointF(x, y)) == axis) return in_the_window(desk, QPointF(x + 3, y + 4));
    FAIL("no letter");
    return QPoint();
  };
  desk.click(letter(2));
  CHECK(view_words(desk.stage().camera()) == "from above");
  desk.click(letter(0));
  CHECK(view_words(desk.stage().camera()) == "from the right");
  desk.click(letter(1));
  CHECK(view_words(desk.stage().camera()) == "from the front");
  CHECK(steps(desk) == 0);
  CHECK(desk.store().picked().empty());
}

TEST_CASE("no label stands over another, in any verb, while places are looked for and after", "[aids]") {
  Desk desk({QString::fromStdString(source("demo/heron-hall.glb"))});
  const TackAddress post = desk.visible_vertex(desk.part("Post 4"));
  for (const Qt::Key verb : {Qt::Key_M, Qt::Key_O, Qt::Key_A, Qt::Key_T, Qt::Key_V, Qt::Key_U}) {
    pick(desk, "Channel 3");
    desk.key(verb);
    no_label_over_another(desk);
    desk.move_to(desk.at(post));
    no_label_over_another(desk);
    desk.window().stage().frame_picked();
    desk.settle();
    no_label_over_another(desk);
    desk.window().stage().frame_all();
    desk.settle();
    desk.key(Qt::Key_Escape);
  }
  // What drifted says so beside all else.
  Move move;
  move.what = {desk.part("Channel 2")};
  move.by[1] = Amount{30};
  desk.store().perform(move);
  desk.settle();
  no_label_over_another(desk);
}

TEST_CASE("the drop line's height goes along with a drag", "[aids]") {
  Desk desk;
  pick(desk, "Post 4");
  desk.key(Qt::Key_M);
  CHECK(has_label(desk, "40 mm"));
  const auto [ruler, from] = taken(desk, Handle::Kind::Ruler, 2);
  desk.move_to(from);
  QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, {}, from);
  QTest::keyPress(desk.window().windowHandle(), Qt::Key_Q);
  for (int i = 1; i <= 6; ++i) QTest::mouseMove(desk.window().windowHandle(), from + QPoint(0, -12 * i));
  desk.settle();
  const double z = desk.window().bench().marks().shown
                       ? (world_of(*desk.window().bench().marks().shown, desk.part("Post 4")).translation.z)
                       : 0;
  REQUIRE(z > 45);
  CHECK(has_label(desk, QString::fromStdString(show_length(z, kMillimetres, 2).text)));
  // Placement goes along, too.
  CHECK(static_cast<QLineEdit*>(desk.widget("position z"))->text().remove(QChar(0x2248)).toDouble() ==
        Approx(z).margin(0.5));
  QTest::keyRelease(desk.window().windowHandle(), Qt::Key_Q);
  desk.key(Qt::Key_Escape);
  QTest::mouseRelease(desk.window().windowHandle(), Qt::LeftButton, {}, from);
  desk.settle();
  CHECK(steps(desk) == 0);
}

TEST_CASE("H hides every aid and back; Ctrl+Backspace puts position, rotation and factors back", "[aids]") {
  Desk desk;
  pick(desk, "Post 4");
  desk.key(Qt::Key_M);
  CHECK_FALSE(desk.stage().labels().isEmpty());
  desk.key(Qt::Key_H);
  CHECK(desk.stage().hides_aids());
  CHECK_FALSE(has_label(desk, "40 mm"));
  desk.key(Qt::Key_H);
  CHECK_FALSE(desk.stage().hides_aids());
  desk.key(Qt::Key_Backspace, Qt::ControlModifier);
  const Placement& p = desk.scene().part(desk.part("Post 4")).placement;
  CHECK(p.position == Vec3{0, 0, 0});
  CHECK(p.rotation == Vec3{0, 0, 0});
  CHECK(p.scale == Vec3{1, 1, 1});
  CHECK(steps(desk) == 1);
}

TEST_CASE("X, Y and Z open the value along their axis", "[aids]") {
  Desk desk;
  pick(desk, "Post 4");
  const Vec3 at = desk.point({TackKind::Pivot, desk.part("Post 4"), 0, {}});
  desk.key(Qt::Key_M);
  desk.key(Qt::Key_Z);
  REQUIRE(desk.window().sentence_bar().entry_is_open());
  desk.type("220");
  desk.key(Qt::Key_Return);
  CHECK(desk.point({TackKind::Pivot, desk.part("Post 4"), 0, {}}) == at + Vec3{0, 0, 220});
  desk.key(Qt::Key_O);
  desk.key(Qt::Key_Y);
  REQUIRE(desk.window().sentence_bar().entry_is_open());
  desk.type("90");
  desk.key(Qt::Key_Return);
  CHECK(desk.scene().part(desk.part("Post 4")).placement.rotation == Vec3{0, 90, 0});
  // Untouched, Enter changes nothing.
  const std::size_t before = steps(desk);
  desk.key(Qt::Key_M);
  desk.key(Qt::Key_X);
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == before);
}

TEST_CASE("the short list opens at the pointer by / and by a right click, and does what is typed", "[aids]") {
  Desk desk;
  const PartId post = desk.part("Post 4");
  const QPoint at = desk.at(desk.visible_vertex(post));
  PointerList& list = desk.window().pointer_list();
  desk.move_to(at);
  desk.key(Qt::Key_Slash);
  REQUIRE(list.isVisible());
  CHECK(list.rows().front() == "Bring this place to another");
  CHECK(list.rows().contains("Pick Post 4"));
  list.findChild<QLineEdit*>()->setFocus();
  QTest::keyClicks(list.findChild<QLineEdit*>(), "four");
  CHECK(list.rows().front() == "View · Four views");
  QTest::keyClick(list.findChild<QLineEdit*>(), Qt::Key_Return);
  desk.settle();
  CHECK_FALSE(list.isVisible());
  CHECK(desk.stage().view_count() == 4);
  desk.take_menu("Single view");
  // By mouse alone; what was used last stands right behind what lies here.
  desk.move_to(at);
  QTest::mouseClick(desk.window().windowHandle(), Qt::RightButton, {}, at);
  desk.settle();
  REQUIRE(list.isVisible());
  CHECK(list.rows().indexOf("View · Four views") < list.rows().indexOf("Move"));
  auto* rows = list.findChild<QListWidget*>();
  const int row = static_cast<int>(list.rows().indexOf("Pick Post 4"));
  REQUIRE(row >= 0);
  QTest::mouseClick(rows->viewport(), Qt::LeftButton, {}, rows->visualItemRect(rows->item(row)).center());
  desk.settle();
  CHECK(desk.store().picked() == std::vector<PartId>{post});
  // A drag with the right button still turns the view, and opens nothing.
  const Camera before = desk.stage().camera();
  desk.drag(at, at + QPoint(60, 10), Qt::RightButton);
  CHECK_FALSE(list.isVisible());
  CHECK(desk.stage().camera().turn != before.turn);
  // Parts by name, and a word for nothing.
  desk.key(Qt::Key_Slash);
  QTest::keyClicks(list.findChild<QLineEdit*>(), "funnel");
  CHECK(list.rows().contains("Part · Funnel"));
  QTest::keyClicks(list.findChild<QLineEdit*>(), "xyzzy");
  CHECK(list.rows() == QStringList{"Nothing is called that."});
  QTest::keyClick(list.findChild<QLineEdit*>(), Qt::Key_Return);
  QTest::keyClick(list.findChild<QLineEdit*>(), Qt::Key_Escape);
  CHECK_FALSE(list.isVisible());
}

TEST_CASE("the short list begins a meeting at the place that lies under the pointer", "[aids]") {
  Desk desk;
  const TackAddress place = desk.visible_vertex(desk.part("Post 4"));
  desk.move_to(desk.at(place));
  desk.key(Qt::Key_Slash);
  PointerList& list = desk.window().pointer_list();
  REQUIRE(list.rows().front() == "Bring this place to another");
  QTest::keyClick(list.findChild<QLineEdit*>(), Qt::Key_Return);
  desk.settle();
  CHECK(desk.window().bench().draft().row() == id_of<Meet>);
  const auto* meet = std::get_if<Meet>(&desk.window().bench().draft().draft().verb);
  REQUIRE(meet);
  REQUIRE(meet->from);
  CHECK(meet->from->part == desk.part("Post 4"));
}

TEST_CASE("what was typed is matched by words and their beginnings", "[aids]") {
  CHECK(answers("Edit · Undo", "undo") > answers("Part · Group", "undo"));
  CHECK(answers("Part · Group", "undo") == 0);
  CHECK(answers("Move", "mo") > answers("Edit · Remove", "mo"));
  CHECK(answers("View · Four views", "vi fo") > 0);
  CHECK(answers("anything", "") == 1);
}

TEST_CASE("keys are listed in Help, searched, changed, a clash is said, and they are kept", "[aids]") {
  Desk desk;
  desk.key(Qt::Key_F1, Qt::ControlModifier);
  auto* help = desk.window().findChild<HelpWindow*>();
  REQUIRE(help);
  REQUIRE(help->isVisible());
  CHECK(desk.window().screen()->availableGeometry().contains(help->geometry()));
  KeysPage& page = help->keys();
  auto* list = page.findChild<QTreeWidget*>("keys");
  const auto find = [&](const QString& begins) -> QTreeWidgetItem* {
    for (int g = 0; g < list->topLevelItemCount(); ++g)
      for (int i = 0; i < list->topLevelItem(g)->childCount(); ++i)
        if (list->topLevelItem(g)->child(i)->text(0).startsWith(begins)) return list->topLevelItem(g)->child(i);
    return nullptr;
  };
  QTest::keyClicks(page.search(), "pivot");
  int shown = 0;
  for (int g = 0; g < list->topLevelItemCount(); ++g)
    for (int i = 0; i < list->topLevelItem(g)->childCount(); ++i) shown += !list->topLevelItem(g)->child(i)->isHidden();
  CHECK(shown >= 1);
  CHECK(shown < 8);
  page.search()->clear();
  // Move to R: free. Then to O, which is Rotate's: said, and taken when pressed again.
  REQUIRE(find("Move by"));
  list->setCurrentItem(find("Move by"));
  QTest::mouseClick(page.findChild<QPushButton*>("Change …"), Qt::LeftButton);
  QTest::keyClick(list, Qt::Key_R);
  CHECK(desk.window().keys().of("verb Move") == QKeySequence(Qt::Key_R));
  list->setCurrentItem(find("Move by"));
  QTest::mouseClick(page.findChild<QPushButton*>("Change …"), Qt::LeftButton);
  QTest::keyClick(list, Qt::Key_O);
  CHECK(page.findChild<QLabel*>("keys says")->text().contains("Rotate"));
  CHECK(desk.window().keys().of("verb Move") == QKeySequence(Qt::Key_R));
  QTest::keyClick(list, Qt::Key_O);
  CHECK(desk.window().keys().of("verb Move") == QKeySequence(Qt::Key_O));
  CHECK(desk.window().keys().of("verb Rotate").isEmpty());
  // A digit begins a typed value, and stays free for it.
  list->setCurrentItem(find("Move by"));
  QTest::mouseClick(page.findChild<QPushButton*>("Change …"), Qt::LeftButton);
  QTest::keyClick(list, Qt::Key_5);
  CHECK(page.findChild<QLabel*>("keys says")->text().contains("typed value"));
  QTest::keyClick(list, Qt::Key_Escape);
  CHECK(desk.window().keys().of("verb Move") == QKeySequence(Qt::Key_O));
  help->close();
  desk.settle();
  // They work, and are there again for the next window.
  desk.stage().setFocus();
  pick(desk, "Post 4");
  desk.key(Qt::Key_O);
  CHECK(desk.window().bench().draft().row() == id_of<Move>);
  desk.key(Qt::Key_M);
  CHECK(desk.window().bench().draft().row() == id_of<Move>);
  const Keys again;
  CHECK(again.of("verb Move") == QKeySequence(Qt::Key_O));
  // Printed: a page or more.
  QPrinter printer;
  printer.setOutputFormat(QPrinter::PdfFormat);
  const Folder folder;
  const QString file = QString::fromStdString(folder.path() + "/keys.pdf");
  printer.setOutputFileName(file);
  page.print_to(printer);
  CHECK(QFileInfo(file).size() > 2000);
  desk.window().keys().reset_all();
  CHECK(desk.window().keys().of("verb Move") == QKeySequence(Qt::Key_M));
}

TEST_CASE("F1 opens the guide of the verb in use, in the program itself, and is searched", "[aids]") {
  Desk desk;
  desk.key(Qt::Key_T);
  desk.key(Qt::Key_F1);
  auto* help = desk.window().findChild<HelpWindow*>();
  REQUIRE(help);
  auto* guide = help->findChild<QTextBrowser*>("guide");
  CHECK(guide->toPlainText().startsWith("Meet"));
  QTest::keyClicks(help->findChild<QLineEdit*>("search help"), "spreadsheet");
  CHECK(guide->toPlainText().startsWith("Placing"));
  CHECK_FALSE(guide->extraSelections().isEmpty());
  help->findChild<QLineEdit*>("search help")->clear();
  // Every guide there is can be opened, and none is empty.
  auto* pages = help->findChild<QListWidget*>("help pages");
  for (int i = 0; i + 1 < pages->count(); ++i) {
    pages->setCurrentRow(i);
    CHECK(guide->toPlainText().size() > 300);
  }
  const auto files = QDir(QString::fromStdString(source("docs/guide"))).entryList({"*.md"}, QDir::Files);
  CHECK(pages->count() == files.size() + 1);  // and the list of keys
  for (const VerbFace& verb : verb_faces()) {
    const QString name = verb.name == "Move"   ? QString("placing")
                         : verb.name == "Pick" ? QString("first-steps")
                                               : verb.name.toLower();
    help->show_guide(name);
    CHECK(pages->currentItem()->data(Qt::UserRole).toString() == name);
  }
  help->close();
}

TEST_CASE("a step is one line; the one that is open shows its whole sentence", "[aids]") {
  Desk desk;
  pick(desk, "Channel 3");
  Move move;
  move.what = {desk.part("Channel 3")};
  move.by[0] = Amount{12};
  desk.store().perform(move);
  desk.settle();
  auto* list = static_cast<QListWidget*>(desk.widget("steps"));
  const auto* rows = static_cast<StepRows*>(list->itemDelegate());
  QStyleOptionViewItem option;
  option.font = list->font();
  option.fontMetrics = QFontMetrics(list->font());
  const QModelIndex first = list->model()->index(0, 0);
  const int open = rows->sizeHint(option, first).height();
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_Escape);
  const int closed = rows->sizeHint(option, first).height();
  CHECK(open > closed + option.fontMetrics.height() / 2);
  CHECK(closed < 2 * option.fontMetrics.height());
  CHECK(list->item(0)->text().contains("Moved Channel 3"));
  // A line that is too long is shortened in its names, never in its value.
  StepRow row;
  row.what = "A very long name of a part that is moved", row.to = "Another very long name of a part",
  row.value = "12.5 mm";
  const QString line = step_line(row, option.fontMetrics, 190);
  CHECK(line.endsWith("12.5 mm"));
  CHECK(line.contains(" → "));
  CHECK(option.fontMetrics.horizontalAdvance(line) <= 192);
}

TEST_CASE("the loupe is alive from the first hover, and folds when there is nothing to show", "[aids]") {
  Desk desk;
  desk.key(Qt::Key_T);
  const TackAddress place = desk.visible_vertex(desk.part("Post 4"));
  desk.move_to(desk.at(place));
  desk.wait([&] { return desk.window().loupe().words().contains("Post 4"); });
  const int tall = desk.window().loupe().height();
  for (LoupeView* view : desk.loupe_views()) CHECK(view->view());
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_Escape);
  desk.move_to(desk.middle_of(desk.widget("Axes")));
  desk.wait([&] { return desk.window().loupe().height() < tall / 2; });
}

TEST_CASE("a sentence that is too long has its rest behind its last word, and Tab goes there", "[aids]") {
  struct LargeText {
    LargeText() { Desk::text_percent = 150; }
    ~LargeText() {
      Desk::text_percent = 100;
      set_text_percent(100);
    }
  } large;
  Desk desk;
  Rename rename{desk.part("Channel 3"),
                "A channel with a name that is far longer than anybody would choose, and then some, until no two lines "
                "hold it any more"};
  desk.store().perform(rename);
  desk.store().pick({rename.part});
  desk.settle();
  desk.stage().setFocus();
  desk.key(Qt::Key_A);
  SentenceBar& bar = desk.window().sentence_bar();
  auto* more = bar.findChild<QToolButton*>("sentence more");
  REQUIRE(more->isVisible());
  const auto inside = [&] {
    for (auto* w : bar.findChildren<QWidget*>(Qt::FindDirectChildrenOnly))
      if (w->isVisible() && w->accessibleName() != "Step back") {
        CHECK(w->geometry().bottom() <= bar.height());
        for (auto* other : bar.findChildren<QWidget*>(Qt::FindDirectChildrenOnly))
          if (other != w && other->isVisible() && other->accessibleName() == "Step back")
            CHECK_FALSE(other->geometry().intersects(w->geometry()));
      }
  };
  inside();
  // The same two lines, whatever is in them.
  const int height = bar.height();
  desk.click(desk.middle_of(more));
  inside();
  CHECK(bar.height() == height);
  CHECK(bar.findChild<QToolButton*>("sentence less")->isVisible());
  desk.click(desk.middle_of(bar.findChild<QToolButton*>("sentence less")));
  // Tab through all: the last blank is reached and seen.
  BlankId blank = bar.blank_beside({}, false), last;
  while (blank) {
    last = blank;
    bar.focus_blank(blank);
    blank = bar.blank_beside(blank, false);
  }
  desk.settle();
  for (auto* button : bar.findChildren<BlankButton*>())
    if (button->blank() == last) CHECK(button->isVisible());
  inside();
}

TEST_CASE("K held and dragged from a place turns about it, or grows about it, in one gesture", "[aids]") {
  Desk desk;
  pick(desk, "Drum");
  const PartId drum = desk.part("Drum");
  const TackAddress place = desk.visible_vertex(desk.part("Base board"));
  const QPoint from = desk.at(place);
  const auto drag_with_k = [&](QPoint by) {
    desk.move_to(from);
    QTest::keyPress(desk.window().windowHandle(), Qt::Key_K);
    desk.settle();
    QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, {}, from);
    desk.settle();
    for (int i = 1; i <= 10; ++i) QTest::mouseMove(desk.window().windowHandle(), from + by * i / 10);
    // A second leg, so that there is an angle.
    for (int i = 1; i <= 10; ++i)
      QTest::mouseMove(desk.window().windowHandle(), from + by + QPoint(-by.y(), by.x()) * i / 20);
    desk.settle();
    QTest::mouseRelease(desk.window().windowHandle(), Qt::LeftButton, {}, from + by + QPoint(-by.y(), by.x()) / 2);
    QTest::keyRelease(desk.window().windowHandle(), Qt::Key_K);
    desk.settle();
  };
  desk.key(Qt::Key_O);
  drag_with_k({60, -40});
  REQUIRE(steps(desk) == 1);
  const auto* rotate = std::get_if<Rotate>(&desk.store().journal().record().steps.back()->verb);
  REQUIRE(rotate);
  CHECK(rotate->about.kind == About::Kind::Place);
  CHECK(rotate->about.place.part == desk.part("Base board"));
  CHECK(std::abs(rotate->angle.value) > 5);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  const Vec3 size = own_size(desk.scene(), drum), corner = desk.point(place);
  desk.key(Qt::Key_A);
  drag_with_k({50, -30});
  REQUIRE(steps(desk) == 1);
  const auto* scale = std::get_if<Scale>(&desk.store().journal().record().steps.back()->verb);
  REQUIRE(scale);
  CHECK(scale->evenly);
  CHECK(scale->hold.place.part == desk.part("Base board"));
  CHECK(own_size(desk.scene(), drum).x > size.x);
  CHECK(desk.point(place) == corner);
}
