// Catching and meeting with all kinds of place, by mouse and by keys.
#include "core/fit/measure.h"
#include "core/mesh/features.h"
#include "core/verbs/meet_motion.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

const Mesh& mesh_of(Desk& desk, const std::string& part) { return *desk.scene().part(desk.part(part)).mesh; }

// C held, a digit, C let go.
void narrow(Desk& desk, int digit) {
  QTest::keyPress(&desk.stage(), Qt::Key_C);
  QTest::keyClick(&desk.stage(), static_cast<Qt::Key>(Qt::Key_0 + digit));
  QTest::keyRelease(&desk.stage(), Qt::Key_C);
  desk.settle();
}

QString strip(Desk& desk) { return qobject_cast<QToolButton*>(desk.widget("kinds"))->text(); }

// A place on the outer rim of a round edge that the pointer can be put on.
TackAddress on_rim(const Mesh& mesh, PartId part, std::uint32_t round) {
  for (const FeatureEdge& e : mesh.features().edges)
    if (e.round == round) return {TackKind::Edge, part, e.a, {0.5, 0, 0}, e.b};
  return {};
}

void look_close_at(Desk& desk, const Vec3& target, double distance, double tilt = 35) {
  Camera camera = desk.stage().camera();
  camera.target = target;
  camera.distance = distance;
  camera.tilt = tilt;
  desk.stage().set_camera(camera);
  desk.settle();
}

Vec3 on_screen_gap(Desk& desk, const TackAddress& a, const TackAddress& b) {
  const auto p = desk.stage().view().project(desk.point(a)), q = desk.stage().view().project(desk.point(b));
  return {p->x - q->x, p->y - q->y, p->depth - q->depth};
}

}  // namespace

TEST_CASE("the basin comes under the funnel: centre of round edge to centre of round edge, axis on axis", "[catch]") {
  Desk desk;
  const PartId funnel = desk.part("Funnel"), basin = desk.part("Catch basin");
  const Mesh &f = mesh_of(desk, "Funnel"), &b = mesh_of(desk, "Catch basin");
  // The widest round edges: the rims above.
  const auto widest = [](const Mesh& mesh) {
    std::uint32_t best = 0;
    const auto& rounds = mesh.features().rounds;
    for (std::uint32_t i = 0; i < rounds.size(); ++i)
      if (rounds[i].radius > rounds[best].radius) best = i;
    return best;
  };
  const std::uint32_t rim_b = widest(b), rim_f = widest(f);
  desk.key(Qt::Key_T);
  narrow(desk, 4);
  CHECK(strip(desk).contains("only round edge"));
  look_close_at(desk, desk.point(on_rim(b, basin, rim_b)), 500);
  desk.move_to(desk.at(on_rim(b, basin, rim_b)));
  CHECK(desk.sentence().contains("centre of round edge"));
  desk.click(desk.at(on_rim(b, basin, rim_b)));
  look_close_at(desk, desk.point(on_rim(f, funnel, rim_f)), 500);
  desk.click(desk.at(on_rim(f, funnel, rim_f)));
  INFO(desk.sentence().toStdString());
  REQUIRE(steps(desk) == 1);
  CHECK(desk.sentence().contains("facing it"));
  const Meet& meet = std::get<Meet>(desk.store().journal().record().steps[0]->verb);
  const auto from = find_tack(desk.scene(), *meet.from), to = find_tack(desk.scene(), *meet.to);
  CHECK(distance(from->point, to->point) < exact_bound(desk.scene(), *meet.from, *meet.to));
  CHECK(angle_between(*from->direction, -*to->direction) < 1e-9);
  // A drop of 60 mm, typed right after, along the axis.
  desk.type("60");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 1);
  CHECK(distance(desk.point(*meet.from), to->point + *to->direction * 60) < 1e-9);
  narrow(desk, 0);
  CHECK(strip(desk).contains("all but grid"));
}

TEST_CASE("C lists the kinds with their digits while it is held; the menu of the strip switches them", "[catch]") {
  Desk desk;
  desk.key(Qt::Key_U);
  const PartId board = desk.part("Base board");
  const QPoint middle = desk.at(desk.point(box_point(board, {0.85, 0.15, 1})));
  desk.move_to(middle);
  const auto name = [&] {
    const Marks marks = desk.window().bench().marks();
    return marks.from ? marks.from->name : QString();
  };
  CHECK(name() == "face · Base board");
  QTest::keyPress(&desk.stage(), Qt::Key_C);
  CHECK(desk.stage().short_list().rows.size() == 13);
  CHECK(desk.stage().short_list().chosen == 12);
  QTest::keyClick(&desk.stage(), Qt::Key_6);
  CHECK(desk.stage().short_list().chosen == 5);
  QTest::keyRelease(&desk.stage(), Qt::Key_C);
  CHECK(desk.stage().short_list().rows.isEmpty());
  // The middle of the face that the pointer is on, though it lies far away.
  desk.move_to(middle + QPoint(1, 0));
  CHECK(name() == "face centre · Base board");
  narrow(desk, 0);
  auto* menu = qobject_cast<QToolButton*>(desk.widget("kinds"))->menu();
  for (QAction* action : menu->actions())
    if (action->text().startsWith("face\t")) action->trigger();
  desk.settle();
  CHECK(strip(desk).contains("all but face"));
  narrow(desk, 5);
  CHECK(strip(desk).contains("only face"));
  narrow(desk, 0);
  CHECK(strip(desk).contains("all but face"));
}

TEST_CASE("B goes through every kind of place under the pointer, and the one chosen is taken", "[catch]") {
  Desk desk;
  const PartId board = desk.part("Base board");
  desk.key(Qt::Key_U);
  desk.move_to(desk.at(desk.point(box_point(board, {1, 0, 1}))));
  QStringList seen;
  for (int i = 0; i < 12; ++i) {
    desk.key(Qt::Key_B);
    const Stage::ShortList list = desk.stage().short_list();
    REQUIRE(list.chosen >= 0);
    seen << list.rows[list.chosen];
  }
  INFO(seen.join("; ").toStdString());
  CHECK(seen.filter("vertex · Base board").size() > 0);
  CHECK(seen.filter("box corner · Base board").size() > 0);
  CHECK(seen.filter("edge · Base board").size() > 0);
  const Stage::ShortList list = desk.stage().short_list();
  const int wanted = list.rows.indexOf("box corner · Base board");
  for (int i = 0; desk.stage().short_list().chosen != wanted; ++i) {
    REQUIRE(i < 20);
    desk.key(Qt::Key_B, Qt::ShiftModifier);
  }
  desk.click(desk.at(desk.point(box_point(board, {1, 0, 1}))));
  CHECK(desk.sentence().contains("box corner of Base board"));
}

TEST_CASE("two places that coincide in the front view say how far apart they are in depth, everywhere", "[catch]") {
  Desk desk;
  // The short channel is put so that it only looks right: a corner of it and one of Post 2 share x and z.
  const PartId channel = desk.part("Short channel"), post = desk.part("Post 2");
  const TackAddress from = box_point(channel, {0, 0.5, 0}), aimed = box_point(post, {0.5, 0.5, 1});
  desk.stage().turn_to(Side::Front);
  desk.store().pick({channel});
  desk.key(Qt::Key_T);
  narrow(desk, 8);
  // Limited to what can be seen: x and z. What is left is the depth.
  desk.key(Qt::Key_X);
  desk.key(Qt::Key_Z);
  CHECK(desk.sentence().contains("along x and z of World axes only"));
  desk.give("From", "\"Short channel\" box 0,0.5,0");
  CHECK(desk.sentence().contains("box"));
  desk.move_to(desk.at(aimed));
  // Already while hovering.
  CHECK(desk.sentence().contains("meets in x, z"));
  CHECK(desk.window().bench().marks().distance.contains("apart along y"));
  CHECK(desk.window().bench().marks().tone == Tone::Apart);
  desk.click(desk.at(aimed));
  REQUIRE(steps(desk) == 1);
  // Several points of the post's box coincide on the picture; the nearest one has been taken, and it says which.
  const TackAddress to = *std::get<Meet>(desk.store().journal().record().steps[0]->verb).to;
  const double depth = std::abs(desk.point(from).y - desk.point(to).y);
  REQUIRE(depth > 1);
  const Vec3 gap = on_screen_gap(desk, from, to);
  CHECK(std::hypot(gap.x, gap.y) < 1e-6);
  CHECK(std::abs(gap.z) == Approx(depth).epsilon(1e-9));
  const QString words = QString::fromStdString(show_length(depth, kMillimetres, 3).text) + " apart along y";
  CHECK(desk.sentence().contains(words));
  CHECK(desk.message().contains(words));
  CHECK(desk.window().bench().marks().distance.contains(words));
  CHECK(desk.window().bench().marks().meeting->words.contains(words));
  CHECK(qobject_cast<QLabel*>(desk.widget("loupe state"))->text().contains("apart along y"));
  // Remembered, Fit says it too: it holds along x and z, and what lies along y is not forgotten.
  desk.click_widget("blank Remembered");
  const std::string tie = desk.scene().ties().at(0).name;
  for (auto* dock : desk.window().findChildren<QWidget*>("dock Fit")) dock->raise();
  desk.settle();
  auto* rows = desk.window().findChild<QTreeWidget*>("ties");
  REQUIRE(rows->topLevelItemCount() == 1);
  CHECK(rows->topLevelItem(0)->text(1) == "holds along x and z");
  CHECK(rows->topLevelItem(0)->toolTip(0).contains(words));
  desk.click(rows->viewport()->mapTo(&desk.window(), rows->visualItemRect(rows->topLevelItem(0)).center()));
  CHECK(static_cast<QLabel*>(desk.widget("fit detail"))->text().contains(words));
  desk.stage().setFocus();
  // Y as well: now it meets.
  desk.key(Qt::Key_Y);
  CHECK(steps(desk) == 1);
  CHECK(distance(desk.point(from), desk.point(to)) < 1e-9);
  CHECK(desk.window().bench().marks().meeting->words == "exact");
}

TEST_CASE("a second and a third pair are clicked onto a finished meeting, changed and taken off again", "[catch]") {
  Desk desk;
  const PartId channel = desk.part("Short channel"), board = desk.part("Base board");
  desk.store().pick({channel});
  desk.key(Qt::Key_T);
  desk.key(Qt::Key_F, Qt::ShiftModifier);
  narrow(desk, 8);
  const auto typed = [&](const QString& text) {
    desk.type("= " + text);
    desk.key(Qt::Key_Return);
  };
  desk.click_widget("blank From");
  typed("\"Short channel\" box 0,0,0");
  desk.click_widget("blank To");
  typed("\"Base board\" box 0,0,1");
  REQUIRE(steps(desk) == 1);
  desk.click_widget("blank Second From");
  CHECK(desk.message().contains("Click a place on the part to move"));
  // A From that is not on what moves is not offered.
  desk.move_to(desk.at(desk.point(box_point(board, {1, 0, 1}))));
  CHECK_FALSE(desk.window().bench().marks().from);
  typed("\"Short channel\" box 1,0,0");
  CHECK(desk.message().contains("where it goes"));
  desk.click(desk.at(desk.point(box_point(board, {0, 1, 1}))));
  INFO(desk.sentence().toStdString());
  REQUIRE(steps(desk) == 1);
  CHECK(desk.sentence().contains("the first exactly"));
  // The channel is shorter than the board is wide: in direction exact, and what is left is said.
  CHECK(desk.sentence().contains("Pair 2 is apart by"));
  const Vec3 along = normalized(desk.point(box_point(channel, {1, 0, 0})) - desk.point(box_point(channel, {0, 0, 0})));
  const Vec3 wanted = normalized(desk.point(box_point(board, {0, 1, 1})) - desk.point(box_point(board, {0, 0, 1})));
  CHECK(distance(along, wanted) < 1e-12);
  desk.choose("Size", "sized evenly to fit");
  CHECK(desk.sentence().contains("sized evenly to fit"));
  CHECK(desk.sentence().contains("It is exact."));
  CHECK(distance(desk.point(box_point(channel, {1, 0, 0})), desk.point(box_point(board, {0, 1, 1}))) < 1e-9);
  desk.choose("Size", "at its size");
  desk.choose("Exact or shared", "sharing the error");
  CHECK(desk.sentence().contains("sharing the error"));
  const Vec3 a = desk.point(box_point(board, {0, 0, 1})) - desk.point(box_point(channel, {0, 0, 0}));
  const Vec3 b = desk.point(box_point(board, {0, 1, 1})) - desk.point(box_point(channel, {1, 0, 0}));
  CHECK(length(a + b) < 1e-9);  // half of it at either end
  CHECK(steps(desk) == 1);
  // Esc while a third one is given leaves the two; "without this pair" takes the second off.
  desk.click_widget("blank Third From");
  CHECK(desk.message().contains("Click a place on the part to move"));
  desk.key(Qt::Key_Escape);
  CHECK(desk.sentence().contains("sharing the error"));
  desk.choose("Second To", "without this pair");
  CHECK_FALSE(desk.sentence().contains("sharing the error"));
  CHECK(desk.sentence().contains("0 mm apart"));
  CHECK(steps(desk) == 1);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.sentence().size() > 0);
}

TEST_CASE("Shift-click stands a part on its own base; Ctrl-click begins a row of instances", "[catch]") {
  Desk desk;
  const PartId funnel = desk.part("Funnel"), board = desk.part("Base board");
  desk.store().pick({funnel});
  desk.key(Qt::Key_T);
  CHECK(desk.message().contains("its own base"));
  const auto spot = [&](double x, double y) { return desk.at(desk.point(box_point(board, {x, y, 1}))); };
  desk.click(spot(0.85, 0.08), Qt::ShiftModifier);
  INFO(desk.sentence().toStdString());
  REQUIRE(steps(desk) == 1);
  const double top = desk.point(box_point(board, {0.5, 0.5, 1})).z;
  CHECK(desk.point(box_point(funnel, {0.5, 0.5, 0})).z == Approx(top).margin(1e-9));
  CHECK(desk.sentence().contains("face of Base board"));
  desk.key(Qt::Key_Escape);

  // A row: each click leaves a copy where the funnel was and stands it on the next place.
  desk.store().pick({funnel});
  const std::size_t before = desk.scene().size();
  const Vec3 first = desk.point(box_point(funnel, {0.5, 0.5, 0}));
  desk.key(Qt::Key_T);
  desk.give("From", "\"Funnel\" box 0.5,0.5,0");
  desk.click(spot(0.6, 0.08), Qt::ControlModifier);
  CHECK(desk.message().contains("row"));
  CHECK(desk.sentence().contains("a copy of"));
  desk.click(spot(0.52, 0.05));
  desk.click(spot(0.68, 0.03));
  CHECK(steps(desk) == 4);
  CHECK(desk.scene().size() == before + 3);
  // The first copy stands where the funnel did; all share its mesh; all stand on the board.
  int copies = 0;
  bool at_first = false;
  for (const PartId id : desk.scene().in_tree_order()) {
    const Part& part = desk.scene().part(id);
    if (!part.mesh || part.mesh != desk.scene().part(funnel).mesh) continue;
    ++copies;
    CHECK(desk.point(box_point(id, {0.5, 0.5, 0})).z == Approx(top).margin(1e-9));
    at_first = at_first || distance(desk.point(box_point(id, {0.5, 0.5, 0})), first) < 1e-9;
  }
  CHECK(copies == 4);
  CHECK(at_first);
  desk.key(Qt::Key_Escape);
  CHECK_FALSE(desk.message().contains("row"));
}

TEST_CASE("a place on an edge, its middle, a face and a crossing are caught and measured between", "[catch]") {
  Desk desk;
  const PartId board = desk.part("Base board");
  const Mesh& mesh = mesh_of(desk, "Base board");
  desk.key(Qt::Key_U);
  // The front upper edge of the board.
  const FeatureEdge* front = nullptr;
  for (const FeatureEdge& e : mesh.features().edges) {
    const Vec3 a = mesh.positions()[e.a], b = mesh.positions()[e.b];
    if (std::abs(a.y - mesh.box().low.y) < 1e-9 && std::abs(b.y - mesh.box().low.y) < 1e-9 &&
        std::abs(a.z - mesh.box().high.z) < 1e-9 && std::abs(b.z - mesh.box().high.z) < 1e-9)
      front = &e;
  }
  REQUIRE(front);
  const TackAddress middle{TackKind::Edge, board, front->a, {0.5, 0, 0}, front->b},
      third{TackKind::Edge, board, front->a, {0.3, 0, 0}, front->b};
  desk.move_to(desk.at(middle));
  CHECK(desk.window().bench().marks().from->name == "edge middle · Base board");
  desk.click(desk.at(middle));
  desk.move_to(desk.at(third));
  CHECK(desk.window().bench().marks().to->name == "edge · Base board");
  desk.click(desk.at(third));
  CHECK(desk.sentence().contains("edge middle of Base board"));
  const Marks marks = desk.window().bench().marks();
  REQUIRE(marks.meeting);
  CHECK(distance(marks.meeting->from, marks.meeting->to) == Approx(240).margin(4));  // a fifth of 1200 mm, to a pixel
}
