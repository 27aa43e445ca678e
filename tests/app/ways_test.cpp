// Every way of giving a blank its value: by mouse alone, by keys alone, and again in a step that is long done.
#include <QApplication>
#include <QListWidget>
#include <QMenu>
#include <QTimer>
#include <QToolButton>
#include <catch2/catch.hpp>

#include "app/workbench.h"
#include "core/catch/catch_scene.h"
#include "core/math/degrees.h"
#include "core/mesh/features.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

const Placement& placement(Desk& desk, PartId part) { return desk.scene().part(part).placement; }

void open_step(Desk& desk, int number) {
  auto* list = static_cast<QListWidget*>(desk.widget("steps"));
  REQUIRE(list->count() > number);
  list->scrollToItem(list->item(number));
  desk.settle();
  desk.click(
      list->viewport()->mapTo(&desk.window(), list->visualItemRect(list->item(number)).center() + QPoint(20, 0)));
  desk.settle();
}

void retype(Desk& desk, const QString& blank, const QString& text) {
  desk.click_widget("blank " + blank);
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.type(text);
  desk.key(Qt::Key_Return);
  desk.settle();
}

}  // namespace

TEST_CASE("a meeting that is long done is opened again: gap, facing and To are changed, and what followed follows",
          "[ways]") {
  Desk desk;
  const PartId channel = desk.part("Channel 3"), post = desk.part("Post 4");
  desk.store().pick({channel});
  desk.key(Qt::Key_T);
  const TackAddress from = desk.visible_vertex(channel), to = desk.visible_vertex(post);
  desk.click(desk.at(from));
  desk.click(desk.at(to));
  REQUIRE(steps(desk) == 1);
  CHECK(distance(desk.point(from), desk.point(to)) < 1e-9);
  desk.key(Qt::Key_M);
  desk.type("25");
  desk.key(Qt::Key_Return);
  REQUIRE(steps(desk) == 2);
  open_step(desk, 0);
  CHECK(desk.sentence().startsWith("Brought Channel 3 from"));
  retype(desk, "Gap", "8");
  CHECK(steps(desk) == 2);
  // The gap runs along To's direction, and the later move by 25 came after it.
  const Vec3 direction = *find_tack(desk.scene(), to)->direction;
  CHECK(distance(desk.point(from), desk.point(to) + direction * 8 + Vec3{25, 0, 0}) < 1e-9);
  desk.choose("Facing", "facing it");
  CHECK(desk.sentence().contains("facing it"));
  CHECK(distance(desk.point(from), desk.point(to) + direction * 8 + Vec3{25, 0, 0}) < 1e-9);
  CHECK(steps(desk) == 2);
  // Another To, clicked: seen_vertex() looks at the scene as it is now.
  desk.click_widget("blank To");
  const TackAddress other = desk.visible_vertex(desk.part("Catch basin"));
  desk.click(desk.at(other));
  CHECK(steps(desk) == 2);
  const Vec3 there = *find_tack(desk.scene(), other)->direction;
  CHECK(distance(desk.point(from), desk.point(other) + there * 8 + Vec3{25, 0, 0}) < 1e-9);
  // And each of these changes is one edit that undo takes back.
  desk.stage().setFocus();
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(distance(desk.point(from), desk.point(to) + direction * 8 + Vec3{25, 0, 0}) < 1e-9);
}

TEST_CASE("a move that is long done takes other lengths, other axes, and another part", "[ways]") {
  Desk desk;
  const PartId basin = desk.part("Catch basin"), funnel = desk.part("Funnel");
  const Vec3 basin_at = placement(desk, basin).position, funnel_at = placement(desk, funnel).position;
  desk.store().pick({basin});
  desk.key(Qt::Key_M);
  desk.type("7");
  desk.key(Qt::Key_Return);
  desk.key(Qt::Key_O);
  desk.type("90");
  desk.key(Qt::Key_Return);
  open_step(desk, 0);
  retype(desk, "Along Y", "-4");
  CHECK(placement(desk, basin).position == basin_at + Vec3{7, -4, 0});
  desk.click_widget("blank What");
  CHECK(desk.message().contains("Click the part"));
  desk.click(desk.at(desk.point(box_point(funnel, {0.5, 0, 0.9}))));
  CHECK(placement(desk, basin).position == basin_at);
  CHECK(placement(desk, funnel).position == funnel_at + Vec3{7, -4, 0});
  CHECK(placement(desk, basin).rotation.z == 90);
  CHECK(steps(desk) == 2);
}

TEST_CASE("what Placement and the menus did stands in the sentence, and is corrected there", "[ways]") {
  Desk desk;
  const PartId basin = desk.part("Catch basin");
  desk.store().pick({basin});
  desk.key(Qt::Key_M);
  desk.type_into("position x", "120");
  CHECK(desk.sentence().startsWith("Placed Catch basin at position x 120"));
  // The verb in use has kept its handles.
  CHECK(desk.window().bench().verb().name == "Move");
  CHECK(!desk.window().bench().draft().handles(desk.stage().view()).empty());
  retype(desk, "Along X", "it + 1 cm");
  CHECK(desk.point({TackKind::Pivot, basin, 0, {}}).x == 130);
  CHECK(steps(desk) == 1);
  // A press on the stage ends it: the next typed length is Move's own.
  desk.click(desk.at(Vec3{-620, -420, 0}));
  desk.store().pick({basin});
  desk.stage().setFocus();
  desk.type("5");
  desk.key(Qt::Key_Return);
  CHECK(desk.point({TackKind::Pivot, basin, 0, {}}).x == 135);
  CHECK(steps(desk) == 2);

  desk.take_menu("Copy as an instance");
  CHECK(desk.sentence() == "Copied Catch basin as an instance, offset 0 mm · 0 mm · 0 mm.");
  const PartId copy = desk.store().picked().front();
  retype(desk, "Along Z", "300");
  CHECK(distance(placement(desk, copy).position, placement(desk, basin).position + Vec3{0, 0, 300}) < 1e-9);
  desk.choose("Instance or not", "with a mesh of its own");
  CHECK(desk.scene().part(copy).mesh != desk.scene().part(basin).mesh);
  CHECK(steps(desk) == 3);

  desk.store().pick({basin});
  desk.take_menu("Hide");
  CHECK(desk.sentence() == "Hid Catch basin.");
  desk.choose("This or the opposite", "shown");
  CHECK(!desk.scene().part(basin).hidden);

  desk.store().pick({basin, copy});
  desk.take_menu("Group");
  const PartId group = desk.part("Group");
  retype(desk, "Name", "Basins");
  CHECK(desk.scene().part(group).name == "Basins");
  // An empty name is marked, and the old one stays.
  desk.click_widget("blank Name");
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.key(Qt::Key_Delete);
  desk.key(Qt::Key_Return);
  CHECK(desk.message().contains("name is needed"));
  desk.key(Qt::Key_Escape);
  CHECK(desk.scene().part(group).name == "Basins");
}

TEST_CASE("steps of the tree are opened again: names, parents, what is kept, what is baked", "[ways]") {
  Desk desk;
  const PartId basin = desk.part("Catch basin"), scoop = desk.part("Scoop"), carriage = desk.part("Carriage");
  REQUIRE(desk.store().perform(Rename{basin, "Tub"}));
  REQUIRE(desk.store().perform(Reparent{{basin}, carriage}));
  Bake bake;
  bake.what = {scoop};
  bake.rotation = true;
  REQUIRE(desk.store().perform(bake));
  open_step(desk, 0);
  retype(desk, "Name", "Trough");
  CHECK(desk.scene().part(basin).name == "Trough");
  const Vec3 there = desk.point({TackKind::Pivot, basin, 0, {}});
  open_step(desk, 1);
  desk.choose("What is kept", "the numbers");
  CHECK(distance(desk.point({TackKind::Pivot, basin, 0, {}}), there) > 1);
  CHECK(placement(desk, basin) == desk.store().journal().record().start.part(basin).placement);
  desk.choose("Parent", "under a part (click it)");
  CHECK(desk.message().contains("becomes the parent"));
  // By keys: the part's name is typed.
  desk.type("= Funnel");
  desk.key(Qt::Key_Return);
  CHECK(desk.scene().part(basin).parent == desk.part("Funnel"));
  desk.choose("Parent", "at the top of the tree");
  CHECK(desk.scene().part(basin).parent == kNoPart);
  open_step(desk, 2);
  const Placement before = desk.store().journal().record().start.part(scoop).placement;
  desk.choose("What is baked", "scale");
  CHECK(placement(desk, scoop).scale == Vec3{1, 1, 1});
  CHECK(placement(desk, scoop).rotation == before.rotation);
  CHECK(steps(desk) == 3);
  CHECK(desk.store().journal().problems() == 0);
}

TEST_CASE("the box is made to fit an edge, and three places, that are clicked", "[ways]") {
  Desk desk;
  const PartId channel = desk.part("Channel 3");
  desk.store().pick({channel});
  const Vec3 vertex = desk.point({TackKind::Vertex, channel, 2, {}});
  desk.take_from_button("group own size", "Make the box fit three places …");
  CHECK(desk.sentence().startsWith("Make the box of Channel 3 fit to"));
  CHECK(desk.message().startsWith("Click the place where x begins."));
  // Three corners of the base board: its box lies along the world's axes.
  const PartId board = desk.part("Base board");
  const Vec3 a = desk.point(box_point(board, {0, 0, 1})), b = desk.point(box_point(board, {1, 0, 1}));
  desk.click(desk.at(a));
  CHECK(desk.message().startsWith("Click the place x points to."));
  desk.key(Qt::Key_Escape);  // one place back
  CHECK(desk.message().startsWith("Click the place where x begins."));
  desk.click(desk.at(a));
  desk.click(desk.at(b));
  CHECK(desk.message().startsWith("Click a third place, in the plane of x and y."));
  // The third by keys.
  desk.type("0, 900, 0");
  desk.key(Qt::Key_Return);
  REQUIRE(steps(desk) == 1);
  CHECK(desk.sentence().startsWith("Made the box of Channel 3 fit to vertex of Base board"));
  const Vec3 along = normalized(world_of(desk.scene(), channel).linear.column[0]);
  CHECK(distance(along, normalized(b - a)) < 1e-12);
  CHECK(distance(desk.point({TackKind::Vertex, channel, 2, {}}), vertex) < 1e-9);
  // One of the three is clicked anew; then the tightest instead.
  desk.give("Second Fit to", "\"Base board\" box 1,1,1");
  CHECK(steps(desk) == 1);
  const Vec3 c = desk.point(box_point(board, {1, 1, 1}));
  CHECK(distance(normalized(world_of(desk.scene(), channel).linear.column[0]), normalized(c - a)) < 1e-12);
  desk.choose("Fit to", "the tightest that can be found");
  CHECK(desk.sentence().contains("the tightest that can be found"));
  CHECK(steps(desk) == 1);
  // An edge, from the menu, by its address.
  desk.store().pick({channel});
  desk.take_from_button("group own size", "Make the box fit an edge or face …");
  CHECK(desk.sentence() == "Make the box of Channel 3 fit to an edge or face.");
  desk.stage().setFocus();
  desk.type("= \"Base board\" face-centre 0");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 2);
  // Three places in one line give no plane: it says so and nothing changes.
  desk.take_from_button("group own size", "Make the box fit three places …");
  desk.stage().setFocus();
  for (const char* place : {"0, 0, 0", "1, 0, 0", "2, 0, 0"}) {
    desk.type(place);
    desk.key(Qt::Key_Return);
  }
  CHECK(desk.message().contains("one line"));
  CHECK(steps(desk) == 2);
}

TEST_CASE("an empty parent stands where a place is clicked or typed", "[ways]") {
  Desk desk;
  const PartId basin = desk.part("Catch basin"), funnel = desk.part("Funnel"), board = desk.part("Base board");
  const Vec3 at = desk.point(box_point(board, {1, 0, 1}));
  const Vec3 basin_at = desk.point({TackKind::Pivot, basin, 0, {}});
  desk.store().pick({basin, funnel});
  desk.take_menu("Group at a place");
  CHECK(desk.message().contains("the place for the group's pivot"));
  desk.click(desk.at(at));
  REQUIRE(steps(desk) == 1);
  const PartId group = desk.part("Group");
  CHECK(distance(desk.point({TackKind::Pivot, group, 0, {}}), at) < 1e-9);
  CHECK(distance(desk.point({TackKind::Pivot, basin, 0, {}}), basin_at) < 1e-9);
  // Corrected by keys.
  desk.choose("At", "a place (click it)");
  desk.type("10, 20, 1 in");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 1);
  CHECK(desk.point({TackKind::Pivot, group, 0, {}}) == Vec3{10, 20, 25.4});
  CHECK(distance(desk.point({TackKind::Pivot, basin, 0, {}}), basin_at) < 1e-9);
  // Esc leaves without a step.
  desk.store().pick({funnel});
  desk.take_menu("Group at a place");
  desk.stage().setFocus();
  desk.key(Qt::Key_Escape);
  CHECK(desk.sentence().startsWith("Picking"));
  CHECK(steps(desk) == 1);
}

TEST_CASE("the pivot goes to a fraction of the box that is typed, and to a place that is typed", "[ways]") {
  Desk desk;
  const PartId lever = desk.part("Tipping lever");
  desk.store().pick({lever});
  desk.key(Qt::Key_V);
  desk.choose("At", "a point of its box, in fractions");
  CHECK(desk.sentence().contains("0.5 · 0.5 · 0.5 of it"));
  retype(desk, "Fraction of the box along X", "1/4");
  CHECK(steps(desk) == 1);
  const Box box = desk.scene().part(lever).mesh->box();
  CHECK(distance(placement(desk, lever).pivot, box.at({0.25, 0.5, 0.5})) < 1e-9);
  // The box whose points the pads are is drawn.
  CHECK(desk.window().bench().marks().box.size() == 12);
  // By keys: Shift+Tab to the blank, a list opened with Enter, the place typed.
  desk.store().pick({lever});
  desk.key(Qt::Key_Backtab);
  desk.key(Qt::Key_Tab);
  CHECK(desk.window().focusWidget()->objectName() == "blank At");
  desk.answer_menu("a place (click it)");
  QTest::keyClick(desk.window().focusWidget(), Qt::Key_Return);
  desk.settle();
  desk.type("1, 2, 3");
  desk.key(Qt::Key_Return);
  CHECK(distance(desk.point({TackKind::Pivot, lever, 0, {}}), {1, 2, 3}) < 1e-9);
}

TEST_CASE("about a point in space: K, the point typed, then the angle; a bad place is marked", "[ways]") {
  Desk desk;
  const PartId basin = desk.part("Catch basin");
  const Vec3 start = desk.point({TackKind::Pivot, basin, 0, {}});
  desk.store().pick({basin});
  desk.key(Qt::Key_O);
  desk.key(Qt::Key_K);
  CHECK(desk.message().contains("stays still"));
  desk.type("100, 20");
  desk.key(Qt::Key_Return);
  CHECK(desk.message().contains("three lengths with commas"));
  CHECK(desk.window().sentence_bar().entry_is_open());
  desk.type(", 0");
  desk.key(Qt::Key_Return);
  CHECK(desk.sentence().contains("about point 100, 20, 0"));
  desk.type("90");
  desk.key(Qt::Key_Return);
  CHECK(distance(desk.point({TackKind::Pivot, basin, 0, {}}), {100 - (start.y - 20), 20 + (start.x - 100), start.z}) <
        1e-9);
  CHECK(desk.store().picked() == std::vector<PartId>{basin});
  // Turning like a part whose name is typed.
  desk.key(Qt::Key_Escape);
  desk.give("Like", "Channel 3");
  CHECK(desk.sentence().contains("like Channel 3"));
  CHECK(distance(normalized(world_of(desk.scene(), basin).linear.column[0]),
                 normalized(world_of(desk.scene(), desk.part("Channel 3")).linear.column[0])) < 1e-12);
}

TEST_CASE("Tab walks through every blank and back, and a blank that was not changed does nothing", "[ways]") {
  Desk desk;
  desk.store().pick({desk.part("Catch basin")});
  desk.key(Qt::Key_M);
  desk.key(Qt::Key_Tab);
  QStringList visited;
  for (int i = 0; i < 12 && desk.window().focusWidget()->objectName() != "stage"; ++i) {
    auto* focus = desk.window().focusWidget();
    visited << (focus->objectName() == "sentence entry" ? focus->accessibleName() : focus->objectName().mid(6));
    QTest::keyClick(focus, Qt::Key_Tab);
    desk.settle();
  }
  CHECK(visited == QStringList{"Along X", "Along Y", "Along Z", "Axes", "From", "To", "Sliding"});
  CHECK(desk.window().focusWidget()->objectName() == "stage");
  CHECK(steps(desk) == 0);
  // The axes by keys alone, and From and To by keys alone.
  desk.key(Qt::Key_Tab);
  for (int i = 0; i < 3; ++i) QTest::keyClick(desk.window().focusWidget(), Qt::Key_Tab);
  desk.answer_menu("Local");
  QTest::keyClick(desk.window().focusWidget(), Qt::Key_Return);
  desk.settle();
  CHECK(desk.store().axes().kind == AxesKind::Local);
  // Those of another part, which is clicked; what is picked stays picked.
  const PartId channel = desk.part("Channel 3");
  desk.choose("Axes", "of a part (click it)");
  CHECK(desk.message().contains("whose own axes"));
  desk.click(desk.at(desk.point(box_point(channel, {0.5, 0.15, 1}))));
  CHECK(desk.store().axes() == axes_of(channel));
  CHECK(desk.store().picked() == std::vector<PartId>{desk.part("Catch basin")});
  desk.store().set_axes(AxesKind::World);
  desk.give("From", "\"Catch basin\" pivot");
  desk.click_widget("blank To");
  desk.type("1, 2, 3");
  desk.key(Qt::Key_Return);
  CHECK(distance(desk.point({TackKind::Pivot, desk.part("Catch basin"), 0, {}}), {1, 2, 3}) < 1e-9);
}

TEST_CASE("F6 takes the keyboard from area to area", "[ways]") {
  Desk desk;
  desk.store().pick({desk.part("Catch basin")});
  desk.stage().setFocus();
  desk.settle();
  QStringList areas;
  for (int i = 0; i < 6; ++i) {
    desk.key(Qt::Key_F6);
    desk.settle();
    QWidget* w = desk.window().focusWidget();
    while (w && !QStringList{"stage", "sentence", "parts tree", "placement", "steps", "status strip"}.contains(
                    w->objectName()))
      w = w->parentWidget();
    REQUIRE(w);
    areas << w->objectName();
  }
  CHECK(areas == QStringList{"sentence", "parts tree", "placement", "steps", "status strip", "stage"});
  desk.key(Qt::Key_F6, Qt::ShiftModifier);
  CHECK(desk.window().focusWidget()->objectName() == "Axes");
}

TEST_CASE("skew that a new parent or a typed angle makes can be baked, avoided or kept, in the sentence", "[ways]") {
  Desk desk;
  const PartId channel = desk.part("Channel 3"), carriage = desk.part("Carriage");
  REQUIRE(desk.store().perform(Reparent{{channel}, carriage}));
  desk.settle();
  CHECK(desk.message().contains("skewed by it"));
  CHECK(largest_component(placement(desk, channel).skew) > 1e-6);
  desk.click_remedy("keep the numbers instead");
  CHECK(placement(desk, channel).skew == Vec3{});
  CHECK(steps(desk) == 1);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(largest_component(placement(desk, channel).skew) > 1e-6);
  REQUIRE(desk.store().perform(Reparent{{channel}, kNoPart}));
  REQUIRE(desk.store().perform(Reparent{{channel}, carriage}));
  desk.settle();
  const Vec3 vertex = desk.point({TackKind::Vertex, channel, 7, {}});
  desk.click_remedy("bake it into the mesh");
  CHECK(placement(desk, channel).skew == Vec3{});
  CHECK(distance(desk.point({TackKind::Vertex, channel, 7, {}}), vertex) < 1e-9);
  CHECK(steps(desk) == 4);
}

TEST_CASE("an opened rotation takes the line of sight, an edge and another part, and keeps its other blanks",
          "[ways]") {
  Desk desk;
  const PartId hub = desk.part("Hub"), board = desk.part("Base board");
  const Mat3 before = world_of(desk.scene(), hub).linear;
  desk.store().pick({hub});
  desk.key(Qt::Key_O);
  desk.type("30");
  desk.key(Qt::Key_Return);
  open_step(desk, 0);
  const auto step = [&] { return std::get<Rotate>(desk.store().journal().record().steps.front()->verb); };
  const auto turned_about = [&](const Vec3& axis) {
    const Mat3 now = world_of(desk.scene(), hub).linear, wanted = rotation_about(axis, 30) * before;
    double off = 0;
    for (std::size_t i = 0; i < 3; ++i) off = std::max(off, distance(now.column[i], wanted.column[i]));
    return off < 1e-12;
  };
  CHECK(turned_about({0, 0, 1}));
  desk.choose("Round", "the line of sight");
  CHECK(steps(desk) == 1);
  CHECK(step().axes.kind == AxesKind::View);
  CHECK(turned_about(view_frame(desk.stage().view()).column[2]));
  desk.choose("Round", "an edge (click it)");
  const FeatureEdge& edge = desk.scene().part(board).mesh->features().edges.front();
  const TackAddress address{TackKind::Edge, board, edge.a, {0.5, 0, 0}, edge.b};
  desk.type("= " + QString::fromStdString(address_text(desk.scene(), address)));
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 1);
  REQUIRE(step().round.edge == address);
  CHECK(step().angle.value == 30);
  const Vec3 along =
      normalized(desk.point({TackKind::Vertex, board, edge.b, {}}) - desk.point({TackKind::Vertex, board, edge.a, {}}));
  CHECK((turned_about(along) || turned_about(-along)));
  // A step that turns like a part, given another part: which axes, which way and about what stay.
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  Rotate like;
  like.what = {hub};
  like.like = {desk.part("Channel 3"), {true, false, false}, true};
  like.about = bottom();
  const int count = static_cast<int>(steps(desk));
  desk.store().perform(like);
  open_step(desk, count);
  desk.give("Like", "Post 4");
  CHECK(static_cast<int>(steps(desk)) == count + 1);
  like.like.part = desk.part("Post 4");
  CHECK(desk.store().journal().record().steps.back()->verb == Verb(like));
}
