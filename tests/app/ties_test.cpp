// Kept tacks, ties and Fit in the real window; catching in Move, Rotate, Scale and the loupe.
#include <QDockWidget>
#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <QTreeWidget>
#include <catch2/catch.hpp>

#include "core/files/document.h"
#include "core/files/import.h"
#include "core/fit/measure.h"
#include "core/mesh/features.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

QStringList finished() { return {QString::fromStdString(source("demo/heron-hall.glb"))}; }

QTreeWidget& ties(Desk& desk) { return *static_cast<QTreeWidget*>(desk.window().findChild<QTreeWidget*>("ties")); }

// Brings the Fit panel to the front and chooses a tie by clicking its row.
void choose_tie(Desk& desk, const QString& name) {
  for (auto* dock : desk.window().findChildren<QDockWidget*>("dock Fit")) dock->raise();
  desk.settle();
  const auto rows = ties(desk).findItems(name, Qt::MatchExactly);
  REQUIRE(rows.size() == 1);
  ties(desk).scrollToItem(rows[0]);
  desk.settle();
  const QRect rect = ties(desk).visualItemRect(rows[0]);
  desk.click(ties(desk).viewport()->mapTo(&desk.window(), QPoint(60, rect.center().y())));
}

QString fit_text(Desk& desk, const char* label) { return static_cast<QLabel*>(desk.widget(label))->text(); }

TieState state(Desk& desk, const std::string& name) {
  const Tie* tie = desk.scene().tie(name);
  REQUIRE(tie);
  return state_of(*tie, desk.scene());
}

}  // namespace

TEST_CASE("a tack is kept by clicking a place and typing a name; instances have it, Meet marks and catches it",
          "[kept]") {
  Desk desk;
  const PartId first = desk.part("Channel 1"), second = desk.part("Channel 2");
  desk.key(Qt::Key_K, Qt::ControlModifier);
  CHECK(desk.message().contains("Click the place to keep"));
  const TackAddress corner = box_point(first, {0, 0, 1});
  desk.window().bench().narrow_to(CatchKind::BoxPoint);
  desk.move_to(desk.at(corner));
  CHECK(desk.sentence().startsWith("Keep the box corner on Channel 1"));
  desk.click(desk.at(corner));
  desk.window().bench().narrow_to(std::nullopt);
  REQUIRE(steps(desk) == 1);
  // The name waits to be typed.
  desk.type("rim");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 1);
  CHECK(desk.sentence() == "Kept the box corner on Channel 1 as rim, its instances with it.");
  REQUIRE(find_kept(desk.scene(), second, "rim"));
  CHECK(distance(desk.point(kept_tack(first, "rim")), desk.point(corner)) < 1e-9);
  // On this one alone when that is chosen.
  desk.choose("Instances", "this one only");
  CHECK_FALSE(find_kept(desk.scene(), second, "rim"));
  desk.choose("Instances", "its instances with it");
  CHECK(find_kept(desk.scene(), second, "rim"));
  // Narrowed to kept tacks the joint of the other channel is caught, by its name.
  desk.key(Qt::Key_T);
  QTest::keyPress(&desk.stage(), Qt::Key_C);
  QTest::keyClick(&desk.stage(), Qt::Key_K);
  QTest::keyRelease(&desk.stage(), Qt::Key_C);
  desk.move_to(desk.at(kept_tack(second, "rim")));
  REQUIRE(desk.window().bench().marks().from);
  CHECK(desk.window().bench().marks().from->name.startsWith("kept rim · Channel 2"));
  QTest::keyPress(&desk.stage(), Qt::Key_C);
  QTest::keyClick(&desk.stage(), Qt::Key_0);
  QTest::keyRelease(&desk.stage(), Qt::Key_C);
  desk.key(Qt::Key_Escape);
  // Taken off again by the menu.
  desk.store().pick({first});
  auto* menu = [&] {
    for (QMenu* m : desk.window().findChildren<QMenu*>())
      if (m->title().contains("kept tack")) return m;
    return static_cast<QMenu*>(nullptr);
  }();
  REQUIRE(menu);
  emit menu->aboutToShow();
  REQUIRE(menu->actions().size() == 3);
  CHECK(menu->actions()[2]->text() == "rim");
  menu->actions()[2]->trigger();
  CHECK_FALSE(find_kept(desk.scene(), second, "rim"));
}

TEST_CASE("kept joints meet roll on roll; the meeting is remembered by a click and goes on in a chain", "[kept][tie]") {
  Desk desk;
  const PartId left = desk.part("Curve left"), channel = desk.part("Channel 2");
  desk.key(Qt::Key_T);
  desk.window().bench().narrow_to(CatchKind::Kept);
  desk.click(desk.at(kept_tack(left, "in")));
  desk.click(desk.at(kept_tack(channel, "out")));
  REQUIRE(steps(desk) == 1);
  CHECK(desk.sentence() ==
        "Brought Curve left from its kept in to kept out of Channel 2, facing it, 0 mm apart, rolled 0° from roll on "
        "roll.");
  desk.click_widget("blank Remembered");
  CHECK(desk.sentence().endsWith("remembered as a tie."));
  REQUIRE(desk.scene().ties().size() == 1);
  CHECK(state(desk, "Curve left to Channel 2").kind == TieState::Kind::Exact);
  CHECK(steps(desk) == 1);
  // Three more make the ring: each with its tie.
  desk.click_widget("blank More in a chain");
  desk.type("3");
  desk.key(Qt::Key_Return);
  INFO(desk.sentence().toStdString());
  CHECK(desk.sentence().contains("with 3 more in a chain"));
  REQUIRE(desk.scene().ties().size() == 4);
  for (const Tie& tie : desk.scene().ties()) CHECK(state(desk, tie.name).kind == TieState::Kind::Exact);
  const PartId last = desk.part("Curve left 4");
  CHECK(distance(desk.point(kept_tack(last, "out")), desk.point(kept_tack(left, "in"))) < 1e-9);
  CHECK(desk.scene().part(last).mesh == desk.scene().part(left).mesh);
  // What makes no chain is refused, and nothing changes.
  desk.click_widget("blank More in a chain");
  desk.type("1.5");
  desk.key(Qt::Key_Return);
  CHECK(desk.message().contains("A chain has 0 to 1000 more"));
  CHECK(desk.scene().ties().size() == 4);
  // Fit shows them all holding.
  desk.key(Qt::Key_Escape);
  choose_tie(desk, "Curve left to Channel 2");
  CHECK(fit_text(desk, "fit count") == "4 of 4 ties hold");
  CHECK(static_cast<QLabel*>(desk.widget("loupe state"))->text() == "exact");
}

TEST_CASE("Fit shows what drifted, looks at it and closes it, naming who moves", "[tie]") {
  Desk desk(finished());
  REQUIRE(desk.scene().ties().size() == 25);
  const std::string name = "Channel 1 to Channel 2";
  choose_tie(desk, QString::fromStdString(name));
  CHECK(fit_text(desk, "fit count") == "25 of 25 ties hold");
  CHECK_FALSE(desk.window().findChild<QToolButton*>("Close it")->isVisible());
  // Moved by typing: both its ends let go, and say so.
  const PartId channel = desk.part("Channel 2");
  desk.store().pick({channel});
  desk.key(Qt::Key_M);
  desk.type("0.4");
  desk.key(Qt::Key_Return);
  CHECK(desk.message().contains("ties no longer hold"));
  CHECK(fit_text(desk, "fit count") == "22 of 25 ties hold");
  CHECK(state(desk, name).gap == Approx(0.4).epsilon(1e-9));
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_Escape);
  CHECK(fit_text(desk, "fit detail").contains("moving Channel 2 by 0.4 mm"));
  CHECK(static_cast<QLabel*>(desk.widget("loupe state"))->text() == "apart by 0.4 mm");
  desk.click_widget("Close it");
  CHECK(state(desk, name).kind == TieState::Kind::Exact);
  CHECK(desk.sentence() == "Closed the tie Channel 1 to Channel 2: Channel 2 moved by 0.4 mm.");
  CHECK(fit_text(desk, "fit count") == "25 of 25 ties hold");
  // The other side moves instead when that is chosen in the sentence.
  desk.choose("Which moves", "what it was brought to moves");
  CHECK(desk.sentence().contains("Channel 1 moved by 0.4 mm"));
  CHECK(state(desk, name).kind == TieState::Kind::Exact);
  CHECK(state(desk, "Channel 1 on Post 1").kind == TieState::Kind::Apart);
  // All that are apart at once: what is tied in rings may not close by that, and it says so.
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  desk.key(Qt::Key_Escape);
  desk.take_menu("Close every tie that is apart");
  CHECK(fit_text(desk, "fit count") == "25 of 25 ties hold");
  CHECK(desk.message().contains("all hold"));
  // Suspended, renamed, deleted; a step each, and undone.
  choose_tie(desk, QString::fromStdString(name));
  const auto more = [&](const char* entry) {
    desk.answer_menu(entry);
    desk.click_widget("More");
    desk.settle();
  };
  more("Suspend it");
  CHECK(fit_text(desk, "fit count") == "24 of 24 ties hold");
  more("Watch it again");
  CHECK(fit_text(desk, "fit count") == "25 of 25 ties hold");
  // The new name is typed in the sentence of the step.
  more("Rename it …");
  desk.type("joint 1");
  desk.key(Qt::Key_Return);
  CHECK(desk.scene().tie("joint 1"));
  choose_tie(desk, "joint 1");
  more("Delete it");
  CHECK(desk.scene().ties().size() == 24);
  CHECK(desk.sentence() == "Deleted the tie joint 1.");
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.scene().ties().size() == 25);
}

TEST_CASE("a gap that was measured is closed from either side", "[tie]") {
  Desk desk;
  const PartId channel = desk.part("Channel 2"), first = desk.part("Channel 1");
  desk.key(Qt::Key_U);
  desk.window().bench().narrow_to(CatchKind::Kept);
  desk.give("From", "\"Channel 2\" kept in");
  desk.give("To", "\"Channel 1\" kept out");
  CHECK(desk.sentence().contains("0.4 mm"));
  const auto remedies = desk.window().bench().draft().remedies();
  REQUIRE(remedies.size() == 2);
  CHECK(remedies[1].words == "close it, moving Channels/Channel 1");
  REQUIRE(remedies[0].words == "close it, moving Channels/Channel 2");
  desk.window().bench().draft().remedy(0);
  desk.settle();
  CHECK(distance(desk.point(kept_tack(channel, "in")), desk.point(kept_tack(first, "out"))) < 1e-9);
  CHECK(desk.sentence().startsWith("Brought Channel 2"));
}

TEST_CASE("the run is put together joint by joint, every tie exact", "[job][tie]") {
  Desk desk;
  desk.take_menu("Remember meetings as ties");
  desk.window().bench().narrow_to(CatchKind::Kept);
  const std::pair<const char*, const char*> joints[] = {{"Channel 2", "Channel 1"},
                                                        {"Channel 3", "Channel 2"},
                                                        {"Curve left", "Channel 3"},
                                                        {"Curve right", "Curve left"},
                                                        {"Short channel", "Curve right"}};
  for (const auto& [moves, stays] : joints) {
    desk.store().pick({});
    desk.key(Qt::Key_F, Qt::ShiftModifier);
    desk.key(Qt::Key_T);
    const PartId part = desk.part(moves), other = desk.part(stays);
    // Joints that have met lie upon each other: there the address is typed, as an artist would.
    desk.click_widget("blank From");
    desk.type(QString("= \"%1\" kept in").arg(moves));
    desk.key(Qt::Key_Return);
    desk.click(desk.at(kept_tack(other, "out")));
    INFO(desk.sentence().toStdString());
    CHECK(desk.sentence().contains("roll on roll"));
    CHECK(desk.sentence().endsWith("remembered as a tie."));
    CHECK(distance(desk.point(kept_tack(part, "in")), desk.point(kept_tack(other, "out"))) < 1e-9);
    desk.key(Qt::Key_Escape);
    desk.key(Qt::Key_Escape);
  }
  REQUIRE(desk.scene().ties().size() == 5);
  for (const Tie& tie : desk.scene().ties()) CHECK(state(desk, tie.name).kind == TieState::Kind::Exact);
  // The same places as in the finished scene that ships.
  const auto delivery = import_file(source("demo/heron-hall.glb"), {});
  REQUIRE(delivery);
  const auto finished_scene = document_of(*delivery);
  REQUIRE(finished_scene);
  for (const auto& [moves, stays] : joints) {
    const auto shipped = find_by_path(finished_scene->scene, moves);
    REQUIRE(shipped);
    const Affine a = world_of(desk.scene(), desk.part(moves)), b = world_of(finished_scene->scene, *shipped);
    CHECK(distance(a.translation, b.translation) < 1e-8);
    for (std::size_t i = 0; i < 3; ++i) CHECK(distance(a.linear.column[i], b.linear.column[i]) < 1e-11);
  }
}

TEST_CASE("a post's head is dragged under the run and grown until it reaches it", "[job]") {
  Desk desk;
  const PartId post = desk.part("Post 2"), channel = desk.part("Channel 2");
  const TackAddress head = box_point(post, {0.5, 0.5, 1}), foot = box_point(post, {0.5, 0.5, 0}),
                    seat = box_point(channel, {0, 0.5, 0});
  const double stands = desk.point(foot).z;
  desk.store().pick({post});
  desk.key(Qt::Key_M);
  desk.give("From", "\"Post 2\" box 0.5,0.5,1");
  desk.key(Qt::Key_X);
  desk.key(Qt::Key_Y);
  desk.give("To", "\"Channel 2\" box 0,0.5,0");
  CHECK(desk.sentence().contains("along x and y of World axes only"));
  CHECK(desk.point(foot).z == stands);
  desk.key(Qt::Key_A);
  desk.give("From", "\"Post 2\" box 0.5,0.5,1");
  desk.key(Qt::Key_Z);
  desk.give("To", "\"Channel 2\" box 0,0.5,0");
  INFO(desk.sentence().toStdString());
  CHECK(distance(desk.point(head), desk.point(seat)) < 1e-9);
  CHECK(desk.point(foot).z == Approx(stands).margin(1e-12));
  CHECK(desk.scene().part(post).placement.skew == Vec3{});
}

TEST_CASE("what a ring of ties leaves is shown with everyone's share, and shared by a click", "[tie]") {
  Desk desk(finished());
  // The third post is put 0.3 mm too far along: the ring board, Post 1, channels, Post 3 does not close any more.
  desk.store().perform(Lock{{desk.part("Post 3"), desk.part("Post 1")}, false});
  Move move;
  move.what = {desk.part("Post 3")};
  move.by[0] = Amount{0.3};
  REQUIRE(desk.store().perform(move));
  desk.store().perform(Lock{{desk.part("Post 3"), desk.part("Post 1")}, true});
  const QString name = "Post 3 under the run";
  choose_tie(desk, name);
  const QString detail = fit_text(desk, "fit detail");
  INFO(detail.toStdString());
  CHECK(detail.contains("It closes a ring of"));
  CHECK(detail.contains("0.3 mm remains"));
  CHECK(detail.contains("stays"));
  const auto closing = closing_error(desk.scene(), name.toStdString());
  REQUIRE(closing);
  desk.click_widget("Spread it");
  CHECK(desk.sentence().startsWith("Spread the error at Post 3 under the run"));
  for (const std::string& tie : closing->ties) CHECK(state(desk, tie).gap <= closing->worst * (1 + 1e-9));
}

TEST_CASE("a guide is laid by a click, named, caught, met and picked", "[guide]") {
  Desk desk;
  const PartId board = desk.part("Base board"), basin = desk.part("Catch basin");
  desk.key(Qt::Key_J, Qt::ControlModifier);
  CHECK(desk.message().contains("guide goes through"));
  const TackAddress middle = box_point(board, {0.85, 0.15, 1});
  desk.move_to(desk.at(desk.point(middle)));
  CHECK(desk.sentence().startsWith("Lay a guide line through face of Base board"));
  desk.click(desk.at(desk.point(middle)));
  REQUIRE(steps(desk) == 1);
  const PartId guide = desk.part("Guide");
  CHECK(desk.scene().part(guide).guide == GuideKind::Line);
  desk.click_widget("blank Name");
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.type("Drop line");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 1);
  const PartId line = desk.part("Drop line");
  // The basin's middle is brought onto it, at a place in the air.
  desk.key(Qt::Key_T);
  desk.give("From", "\"Catch basin\" box 0.5,0.5,0");
  QTest::keyPress(&desk.stage(), Qt::Key_C);
  QTest::keyClick(&desk.stage(), Qt::Key_U);
  QTest::keyRelease(&desk.stage(), Qt::Key_C);
  const TackAddress up{TackKind::Guide, line, 0, {90, 0, 0}};
  desk.move_to(desk.at(up));
  REQUIRE(desk.window().bench().marks().to);
  CHECK(desk.window().bench().marks().to->name.startsWith("guide · Drop line"));
  desk.click(desk.at(up));
  const Vec3 foot = desk.point(box_point(basin, {0.5, 0.5, 0})), on = desk.point(up);
  CHECK(std::hypot(foot.x - on.x, foot.y - on.y) < 1e-9);
  // To the pixel that was clicked: as far as one and a half of them are along the line there.
  const auto one = desk.stage().view().project(on), next = desk.stage().view().project(on + Vec3{0, 0, 1});
  CHECK(std::abs(foot.z - on.z) < 1.5 / std::hypot(next->x - one->x, next->y - one->y));
  // A click on it picks it.
  desk.window().bench().narrow_to(std::nullopt);
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_P);
  desk.click(desk.at({TackKind::Guide, line, 0, {260, 0, 0}}));
  CHECK(desk.store().picked() == std::vector<PartId>{line});
}

TEST_CASE("by keys alone: a tack kept, a guide laid, the next tie that is apart looked at and closed", "[kept][tie]") {
  Desk desk(finished());
  const std::size_t came = steps(desk);  // with the document
  const auto typed = [&](const QString& address) {
    desk.type("= " + address);
    desk.key(Qt::Key_Return);
  };
  desk.key(Qt::Key_K, Qt::ControlModifier);
  typed("\"Funnel\" box 0.5,0.5,1");
  REQUIRE(steps(desk) == came + 1);
  desk.type("mouth");
  desk.key(Qt::Key_Return);
  CHECK(find_kept(desk.scene(), desk.part("Funnel"), "mouth"));
  desk.key(Qt::Key_J, Qt::ControlModifier);
  typed("\"Funnel\" kept mouth");
  CHECK(desk.scene().part(desk.part("Guide")).guide == GuideKind::Line);
  CHECK(desk.sentence() == "Laid a guide line through kept mouth of Funnel, named Guide.");
  // Nothing is apart yet; then two ties are, the worse one first.
  desk.key(Qt::Key_T, Qt::ControlModifier);
  CHECK(desk.message().contains("No tie is apart"));
  for (const auto& [part, by] : {std::pair{"Catch basin", 0.2}, {"Sign plate", 3.0}}) {
    Move move;
    move.what = {desk.part(part)};
    move.by[0] = Amount{by};
    REQUIRE(desk.store().perform(move));
  }
  desk.key(Qt::Key_T, Qt::ControlModifier);
  CHECK(desk.window().bench().looked_at_tie() == "sign at the back of the board");
  CHECK(fit_text(desk, "fit detail").contains("moving Sign plate by 3 mm"));
  desk.key(Qt::Key_T, Qt::ControlModifier);
  CHECK(desk.window().bench().looked_at_tie() == "basin under the funnel");
  auto* close = static_cast<QToolButton*>(desk.widget("Close it"));
  close->setFocus();
  desk.key(Qt::Key_Space);
  CHECK(state(desk, "basin under the funnel").kind == TieState::Kind::Exact);
  CHECK(state(desk, "sign at the back of the board").kind == TieState::Kind::Apart);
  // The panel is behind Steps: what it shows is brought up to date when it comes to the front again.
  for (auto* dock : desk.window().findChildren<QDockWidget*>("dock Steps")) dock->raise();
  desk.settle();
  REQUIRE(desk.store().perform(CloseTie{"sign at the back of the board", CloseTie::Moves::Brought}));
  choose_tie(desk, "sign at the back of the board");
  CHECK(fit_text(desk, "fit count") == "25 of 25 ties hold");
}

TEST_CASE("ties of a file are measured once its meshes have been worked on, without being asked", "[tie]") {
  Desk desk(finished());
  // Settled: none of them waits any more.
  for (int i = 0; i < 20; ++i) desk.settle();
  for (const TieState& tie : desk.window().bench().tie_states()) CHECK(tie.kind == TieState::Kind::Exact);
  REQUIRE(desk.window().bench().tie_states().size() == 25);
  // While something is dragged they say how they would hold; let go of with Esc, how they do.
  const PartId basin = desk.part("Catch basin");
  desk.store().pick({basin});
  desk.key(Qt::Key_M);
  const View view = desk.stage().view();
  for (const Handle& h : desk.window().bench().draft().handles(view)) {
    if (h.kind != Handle::Kind::Ruler || !h.axes[0]) continue;
    const auto px = view.project(h.line[h.line.size() / 2]);
    const QPoint at = desk.stage().mapTo(&desk.window(), QPointF(px->x, px->y).toPoint());
    desk.move_to(at);
    QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, {}, at);
    for (int i = 1; i <= 5; ++i)
      QTest::mouseMove(desk.window().windowHandle(), at + QPoint(8, 3) * i), QTest::qWait(10);
    desk.settle();
    const auto& states = desk.window().bench().tie_states();
    const auto apart =
        std::count_if(states.begin(), states.end(), [](const TieState& s) { return s.kind == TieState::Kind::Apart; });
    CHECK(apart == 1);
    desk.key(Qt::Key_Escape);
    QTest::mouseRelease(desk.window().windowHandle(), Qt::LeftButton, {}, at);
    desk.settle();
    for (const TieState& tie : desk.window().bench().tie_states()) CHECK(tie.kind == TieState::Kind::Exact);
    return;
  }
  FAIL("there is no ruler along x");
}
