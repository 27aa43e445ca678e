// Named colours, see-through parts, the shading by direction and the handles while picking, in the real window.
#include <QColorDialog>
#include <QDropEvent>
#include <QMenu>
#include <QMimeData>
#include <QToolButton>
#include <catch2/catch.hpp>

#include "app/panels/colours_panel.h"
#include "core/hands/nudging.h"
#include "core/math/degrees.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

// A colour of the list let go over a widget, as a drag from the list does it.
void let_go_over(QWidget& target, QPoint at, const char* colour) {
  QMimeData data;
  data.setData("application/x-tackpoint-colour", colour);
  QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QCoreApplication::sendEvent(&target, &enter);
  REQUIRE(enter.isAccepted());
  QDragMoveEvent move(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QCoreApplication::sendEvent(&target, &move);
  QDropEvent drop(at, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
  QCoreApplication::sendEvent(&target, &drop);
}

std::string colour_of(Desk& desk, const std::string& part) {
  const auto& names = desk.scene().part(desk.part(part)).colour_names;
  return names ? names->front() : std::string();
}

ColourList& colours(Desk& desk) {
  if (auto* dock = desk.window().findChild<QDockWidget*>("dock Colours")) dock->raise();
  desk.settle();
  auto* list = desk.window().findChild<ColourList*>("colours");
  REQUIRE(list);
  return *list;
}

// The next colour that is asked for is answered with this one.
void answer_colour(const QColor& colour) {
  auto* timer = new QTimer(qApp);
  QObject::connect(timer, &QTimer::timeout, [timer, colour] {
    auto* dialog = qobject_cast<QColorDialog*>(QApplication::activeModalWidget());
    if (!dialog) return;
    timer->deleteLater();
    dialog->setCurrentColor(colour);
    dialog->accept();
  });
  timer->start(20);
}

QTreeWidgetItem& item(ColourList& list, const QString& name) {
  const auto found = list.findItems(name, Qt::MatchExactly);
  REQUIRE(found.size() == 1);
  return *found.front();
}

QColor seen_at(Desk& desk, const Vec3& world) {
  desk.wait([&] { return desk.stage().is_settled(); });
  desk.settle();
  const QImage picture = desk.stage().grabFramebuffer();
  const auto px = desk.stage().pixel_of(world);
  REQUIRE(px);
  return picture.pixelColor((*px * picture.devicePixelRatio()).toPoint());
}

// Which of the six colours of directions, or the hatching's, it is nearest to in hue and lightness; −1: the hatching.
int direction_of(const QColor& seen) {
  const DrawTheme draw = day_theme();
  int best = -2;
  double least = 1e9;
  const auto compare = [&](const Colour& c, int number) {
    const double off = std::hypot(seen.redF() - c.r, seen.greenF() - c.g, seen.blueF() - c.b);
    if (off < least) least = off, best = number;
  };
  for (int i = 0; i < 6; ++i) compare(draw.facing[static_cast<std::size_t>(i)], i);
  compare(draw.behind, -1);
  return best;
}

template <class F>
QPoint nudge_pixel(Desk& desk, F&& wanted, double along = 0.8) {
  const View view = desk.stage().view();
  for (const Handle& h : desk.window().bench().draft().handles(view)) {
    if (!wanted(h)) continue;
    const auto px = view.project(h.line.size() < 3 ? h.line.front() + (h.line.back() - h.line.front()) * along
                                                   : h.line[h.line.size() / 2]);
    REQUIRE(px);
    return desk.stage().mapTo(&desk.window(), QPointF(px->x, px->y).toPoint());
  }
  FAIL("no such handle");
  return {};
}

void show_nudges(Desk& desk) {
  auto* button = desk.window().findChild<QToolButton*>("Handles");
  REQUIRE(button);
  REQUIRE(button->isVisible());
  desk.click(desk.middle_of(button));
  desk.settle();
  REQUIRE(button->isChecked());
}

}  // namespace

TEST_CASE("a colour of the list is dragged onto a part, on the stage and in Parts", "[looks]") {
  Desk desk;
  CHECK(colour_of(desk, "Post 4") == "Maple");
  const QPoint on =
      desk.stage().mapFrom(&desk.window(), desk.at({TackKind::BoxPoint, desk.part("Base board"), 0, {0.6, 0.1, 1}}));
  let_go_over(desk.stage(), on, "Steel");
  desk.settle();
  CHECK(colour_of(desk, "Base board") == "Steel");
  CHECK(desk.sentence() == "Coloured Base board Steel.");
  auto& tree = *desk.window().findChild<PartsTree*>("parts tree");
  const QModelIndex post = tree.index_of(desk.part("Post 4"));
  tree.scrollTo(post);
  let_go_over(*tree.viewport(), tree.visualRect(post).center(), "Coral");
  desk.settle();
  CHECK(colour_of(desk, "Post 4") == "Coral");
  CHECK(steps(desk) == 2);
  // Beside everything nothing happens, and a name that is not there is refused in words.
  let_go_over(desk.stage(), {5, 5}, "Coral");
  CHECK(steps(desk) == 2);
  let_go_over(desk.stage(), on, "Oak");
  CHECK(steps(desk) == 2);
  CHECK(desk.message().contains("Oak"));
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(colour_of(desk, "Post 4") == "Maple");
}

TEST_CASE("the list of colours by keys alone: given, changed, renamed, taken off", "[looks]") {
  Desk desk;
  ColourList& list = colours(desk);
  REQUIRE(list.topLevelItemCount() == 6);
  desk.store().pick({desk.part("Post 4"), desk.part("Post 3")});
  list.setFocus();
  list.setCurrentItem(&item(list, "Brass"));
  desk.key(Qt::Key_Return);
  CHECK(colour_of(desk, "Post 4") == "Brass");
  CHECK(colour_of(desk, "Post 3") == "Brass");
  const QString parts = item(list, "Brass").text(1);
  CHECK(parts.endsWith(" parts"));
  // Renamed in place.
  list.setFocus();
  desk.key(Qt::Key_F2);
  desk.type("Bronze");
  desk.key(Qt::Key_Return);
  desk.settle();
  CHECK(desk.scene().colour("Bronze"));
  CHECK(colour_of(desk, "Post 4") == "Bronze");
  CHECK(item(list, "Bronze").text(1) == parts);
  // A name that is taken is refused, and the old one stands there again.
  list.setFocus();
  list.setCurrentItem(&item(list, "Bronze"));
  desk.key(Qt::Key_F2);
  desk.type("Steel");
  desk.key(Qt::Key_Return);
  desk.settle();
  CHECK(desk.message().contains("Another colour is named"));
  CHECK(item(list, "Bronze").text(0) == "Bronze");
  list.setFocus();
  list.setCurrentItem(&item(list, "Bronze"));
  desk.key(Qt::Key_Delete);
  CHECK_FALSE(desk.scene().colour("Bronze"));
  CHECK(colour_of(desk, "Post 4").empty());
  CHECK(list.findItems("Bronze", Qt::MatchExactly).isEmpty());
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.scene().colour("Bronze"));
}

TEST_CASE("changing a colour of the list changes all that has it, and undo brings it back", "[looks]") {
  Desk desk;
  ColourList& list = colours(desk);
  const Colour was = desk.scene().part(desk.part("Post 4")).colours.front();
  answer_colour(QColor("#8c9699"));
  desk.store().pick({});
  list.setCurrentItem(&item(list, "Maple"));
  const QRect row = list.visualItemRect(&item(list, "Maple"));
  const QPoint at = list.viewport()->mapTo(&desk.window(), row.center());
  QTest::mouseDClick(desk.window().windowHandle(), Qt::LeftButton, Qt::NoModifier, at);
  desk.settle();
  REQUIRE(steps(desk) == 1);
  CHECK(desk.sentence().startsWith("Changed the colour Maple to #8C9699, on "));
  for (const PartId id : parts_with(desk.scene(), "Maple"))
    CHECK(desk.scene().part(id).colours.front().b == Approx(0x99 / 255.0));
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.scene().part(desk.part("Post 4")).colours.front() == was);
}

TEST_CASE("a new colour: that of what is picked, under a name that is typed at once", "[looks]") {
  Desk desk;
  ColourList& list = colours(desk);
  desk.store().pick({desk.part("Funnel")});
  const Colour was = desk.scene().part(desk.part("Funnel")).colours.front();
  for (auto* button : desk.window().findChildren<QPushButton*>())
    if (button->text() == "New …") desk.click(desk.middle_of(button));
  desk.settle();
  desk.type("Plaster");
  desk.key(Qt::Key_Return);
  desk.settle();
  CHECK(colour_of(desk, "Funnel") == "Plaster");
  CHECK(desk.scene().colour("Plaster")->colour == was);
  CHECK(steps(desk) == 1);
  CHECK(list.findItems("Plaster", Qt::MatchExactly).size() == 1);
  // Nothing picked: it asks for one.
  desk.store().pick({});
  answer_colour(QColor("#224466"));
  for (auto* button : desk.window().findChildren<QPushButton*>())
    if (button->text() == "New …") desk.click(desk.middle_of(button));
  desk.settle();
  desk.key(Qt::Key_Escape);
  REQUIRE(desk.scene().colour("Colour"));
  CHECK(desk.scene().colour("Colour")->colour.b == Approx(0x66 / 255.0));
  // The step's blank changes it.
  answer_colour(QColor("#ff0000"));
  desk.window().bench().reopen(1);
  desk.settle();
  desk.click(desk.middle_of(desk.widget("blank Colour")));
  desk.settle();
  CHECK(desk.scene().colour("Colour")->colour.r == Approx(1));
  CHECK(steps(desk) == 2);
}

TEST_CASE("what is picked is given a colour from the menu, of the list and another", "[looks]") {
  Desk desk;
  desk.store().pick({desk.part("Post 4")});
  const auto fill = [&] {
    for (QMenu* menu : desk.window().menuWidget()->findChildren<QMenu*>())
      if (menu->title() == "C&olour") emit menu->aboutToShow();
  };
  fill();
  desk.take_menu("Steel");
  CHECK(colour_of(desk, "Post 4") == "Steel");
  answer_colour(QColor("#112233"));
  fill();
  desk.take_menu("Another colour");
  desk.settle();
  CHECK(colour_of(desk, "Post 4").empty());
  CHECK(desk.scene().part(desk.part("Post 4")).colours.front().b == Approx(0x33 / 255.0));
  CHECK(desk.sentence().contains("#112233"));
}

TEST_CASE("what is behind a see-through part is picked and caught, and it is so again after reading", "[looks]") {
  Desk desk;
  desk.take_menu("Front");
  desk.stage().set_perspective(false);
  desk.settle();
  // A sheet in front of everything.
  Copy copy;
  copy.what = {desk.part("Base board")};
  REQUIRE(desk.store().perform(copy));
  const PartId sheet = desk.store().journal().record().steps.back()->made.front();
  Move move;
  move.what = {sheet};
  move.by = {Amount{0}, Amount{-600}, Amount{0}};
  REQUIRE(desk.store().perform(move));
  desk.wait([&] { return desk.stage().is_settled(); });
  const QPoint on = desk.at({TackKind::BoxPoint, desk.part("Base board"), 0, {0.3, 0, 0.5}});
  desk.click(on);
  CHECK(desk.store().picked() == std::vector<PartId>{sheet});
  desk.key(Qt::Key_E, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK(desk.scene().part(sheet).see_through);
  desk.click(on);
  CHECK(desk.store().picked() == std::vector<PartId>{desk.part("Base board")});
  desk.store().pick({sheet});
  desk.key(Qt::Key_E, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK_FALSE(desk.scene().part(sheet).see_through);
}

TEST_CASE("shaded by direction: tops, fronts and undersides have their colours, what is inside out is hatched",
          "[looks]") {
  Desk desk;
  for (const QString& row : {QString("Shaded by direction")}) desk.take_menu(row);
  CHECK(desk.stage().style() == DrawStyle::Facing);
  desk.store().pick({});
  const PartId board = desk.part("Base board");
  const Box box = box_along(desk.scene(), board, Mat3{});
  desk.take_menu("Top");
  desk.stage().frame_all();
  const Vec3 bare{box.low.x + 15, box.low.y + 15, box.high.z};
  CHECK(direction_of(seen_at(desk, bare)) == 4);
  desk.take_menu("Front");
  desk.stage().frame_all();
  CHECK(direction_of(seen_at(desk, {box.low.x + 15, box.low.y, box.centre().z})) == 3);
  desk.take_menu("Left");
  desk.stage().frame_all();
  CHECK(direction_of(seen_at(desk, {box.low.x, box.low.y + 15, box.centre().z})) == 1);
  desk.take_menu("Bottom");
  desk.stage().frame_all();
  CHECK(direction_of(seen_at(desk, {box.centre().x + 31, box.centre().y + 7, box.low.z})) == 5);
  // Mirrored parts are not inside out.
  Scale mirror;
  mirror.what = {board};
  mirror.factor[0] = Amount{-1};
  REQUIRE(desk.store().perform(mirror));
  CHECK(direction_of(seen_at(desk, {box.centre().x + 31, box.centre().y + 7, box.low.z})) == 5);
}

TEST_CASE("handles while picking move, turn and size what is picked, and the verb stays", "[looks]") {
  Desk desk;
  desk.store().pick({desk.part("Post 4")});
  desk.settle();
  desk.stage().setFocus();
  CHECK(desk.window().bench().draft().handles(desk.stage().view()).empty());
  show_nudges(desk);
  desk.stage().frame_picked();
  desk.wheel(desk.stage().mapTo(&desk.window(), desk.stage().rect().center()), -4);
  const auto position = [&] { return desk.scene().part(desk.part("Post 4")).placement.position; };
  const Vec3 was = position();
  // A ruler.
  const auto ruler = [](const Handle& h) { return h.kind == Handle::Kind::Ruler && h.axes[0]; };
  QPoint from = nudge_pixel(desk, ruler);
  const auto end = [&] {
    const View view = desk.stage().view();
    const auto px = view.project(desk.point({TackKind::Pivot, desk.part("Post 4"), 0, {}}) + Vec3{200, 0, 0});
    const auto here = view.project(desk.point({TackKind::Pivot, desk.part("Post 4"), 0, {}}));
    return QPointF(px->x - here->x, px->y - here->y).toPoint();
  };
  desk.drag(from, from + end());
  CHECK(steps(desk) == 1);
  CHECK(position().x > was.x + 20);
  CHECK(position().y == was.y);
  CHECK(position().z == was.z);
  CHECK(desk.window().bench().draft().row() == id_of<Pick>);
  CHECK(desk.sentence().startsWith("Moved Post 4 by"));
  // Typed right after it, the same step is corrected.
  desk.type("35");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 1);
  CHECK(position().x == was.x + 35);
  // An arc.
  desk.stage().setFocus();
  from = nudge_pixel(desk, [](const Handle& h) { return h.kind == Handle::Kind::Arc && h.axes[2]; });
  desk.drag(from, from + QPoint(-30, 22));
  CHECK(steps(desk) == 2);
  CHECK(desk.sentence().startsWith("Rotated Post 4 by"));
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  // The end of a dimension line, and its value.
  const auto size = [&] { return own_size(desk.scene(), desk.part("Post 4")); };
  const Vec3 had = size();
  const auto end_of = [&](bool high) {
    return nudge_pixel(
        desk, [&](const Handle& h) { return h.kind == Handle::Kind::End && h.axes[2] && (h.fraction.z > 0.5) == high; },
        0.1);
  };
  from = end_of(true);
  auto* window = desk.window().windowHandle();
  QTest::keyPress(window, Qt::Key_Q);  // nothing is caught on the way
  desk.drag(from, from + (from - end_of(false)) / 3);
  QTest::keyRelease(window, Qt::Key_Q);
  CHECK(desk.sentence().contains("big"));
  CHECK(size().z > had.z + 1);
  CHECK(size().x == had.x);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(size().z == had.z);
  from = nudge_pixel(
      desk, [](const Handle& h) { return h.kind == Handle::Kind::Value && h.axes[2]; }, 0.5);
  desk.click(from);
  desk.settle();
  desk.type("123");
  desk.key(Qt::Key_Return);
  CHECK(size().z == Approx(123).margin(1e-9));
  // Esc leads back to picking, and a click on a handle picks what is below it.
  desk.key(Qt::Key_Escape);
  CHECK(desk.sentence().startsWith("Picking"));
  // No handle while nothing is picked, none of these for another verb, and the switch is only there while picking.
  desk.key(Qt::Key_M);
  CHECK_FALSE(desk.window().findChild<QToolButton*>("Handles")->isVisible());
  desk.key(Qt::Key_P);
  desk.store().pick({});
  CHECK(desk.window().bench().draft().handles(desk.stage().view()).empty());
  CHECK(load_preferences().nudges);
}

TEST_CASE("a drag of a handle while picking is taken back by Esc, and a press without a drag picks", "[looks]") {
  Desk desk;
  show_nudges(desk);
  desk.store().pick({desk.part("Base board")});
  desk.settle();
  const auto ruler = [](const Handle& h) { return h.kind == Handle::Kind::Ruler && h.axes[0]; };
  const QPoint from = nudge_pixel(desk, ruler);
  const Vec3 was = desk.scene().part(desk.part("Base board")).placement.position;
  desk.drag_with_key(from, from + QPoint(60, 20), Qt::Key_Escape);
  CHECK(steps(desk) == 0);
  CHECK(desk.scene().part(desk.part("Base board")).placement.position == was);
  const auto under = desk.stage().under(desk.stage().mapFrom(&desk.window(), from));
  desk.click(from);
  CHECK(steps(desk) == 0);
  if (under.part != kNoPart) CHECK(desk.store().picked() == std::vector<PartId>{under.part});
}

TEST_CASE("a value typed while a part is dragged in picking is how far it goes", "[looks]") {
  Desk desk;
  show_nudges(desk);
  desk.store().pick({desk.part("Base board")});
  desk.settle();
  const QPoint from = nudge_pixel(desk, [](const Handle& h) { return h.kind == Handle::Kind::Ruler && h.axes[0]; });
  const Vec3 was = desk.scene().part(desk.part("Base board")).placement.position;
  desk.drag_and_type(from, from + QPoint(96, 32), "35");
  CHECK(steps(desk) == 1);
  CHECK(desk.scene().part(desk.part("Base board")).placement.position == was + Vec3{35, 0, 0});
}

TEST_CASE("round an axis the last copy is dragged round, and the angle stands in the sentence", "[looks]") {
  Desk desk;
  desk.store().pick({desk.part("Short channel")});
  desk.take_menu("Top");
  Repeat repeat;
  repeat.what = desk.store().picked();
  repeat.way = Repeat::Way::Round;
  repeat.axis = 2;
  repeat.about = TackAddress{TackKind::Pivot, desk.part("Drum"), 0, {}};
  repeat.count = 4;
  repeat.over = Amount{90};
  desk.window().bench().offer(repeat);
  desk.stage().frame_all();
  desk.settle();
  const View view = desk.stage().view();
  const auto handles = desk.window().bench().draft().handles(view);
  const auto arc =
      std::find_if(handles.begin(), handles.end(), [](const Handle& h) { return h.kind == Handle::Kind::Arc; });
  REQUIRE(arc != handles.end());
  const Vec3 at = arc->line[arc->line.size() / 2];
  const Vec3 to = arc->at + rotation_about({0, 0, 1}, 30) * (at - arc->at);
  desk.drag(desk.at(at), desk.at(to));
  const auto* shown = std::get_if<Repeat>(&desk.window().bench().draft().draft().verb);
  REQUIRE(shown);
  CHECK(shown->over.value == Approx(120).margin(1.5));
  CHECK(desk.sentence().contains("over"));
}
