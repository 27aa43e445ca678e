// The first five minutes: the tour by real events, offered once and never again unasked.
#include <fmt/format.h>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>

#include "app/help/tour.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

void hover_and_click(Desk& desk, const TackAddress& place) { desk.click(desk.at(place)); }

}  // namespace

TEST_CASE("the tour is offered on the first start, waits for each step to be done, and does not come back", "[first]") {
  Desk desk(QStringList{}, true);
  Tour& tour = desk.window().tour();
  REQUIRE(tour.isVisible());
  CHECK(tour.step() == 0);
  desk.click_widget("tour yes");
  REQUIRE(tour.step() == 1);
  desk.wait([&] { return desk.stage().is_settled() && find_by_path(desk.scene(), "Channel 3").has_value(); });
  // Something else does not count.
  desk.key(Qt::Key_M);
  CHECK(tour.step() == 1);
  const TackAddress in = kept_tack(desk.part("Channel 3"), "in"), out = kept_tack(desk.part("Channel 2"), "out");
  desk.key(Qt::Key_T);
  CHECK(tour.step() == 1);
  desk.move_to(desk.at(in));
  CHECK(tour.step() == 2);
  hover_and_click(desk, in);
  CHECK(tour.step() == 2);
  hover_and_click(desk, out);
  CHECK(tour.step() == 3);
  desk.wait([&] { return desk.window().loupe().words() == "exact"; });
  desk.click_widget("blank Remembered");
  CHECK(desk.scene().ties().size() == 1);
  CHECK(tour.step() == 3);
  auto* ties = static_cast<QTreeWidget*>(desk.widget("ties"));
  desk.click(ties->viewport()->mapTo(&desk.window(), ties->visualItemRect(ties->topLevelItem(0)).center()));
  CHECK(tour.step() == 4);
  auto* list = static_cast<QListWidget*>(desk.widget("steps"));
  desk.click(list->viewport()->mapTo(&desk.window(), list->visualItemRect(list->item(0)).center()));
  desk.settle();
  desk.click_widget("blank Gap");
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.type("2 mm");
  desk.key(Qt::Key_Return);
  CHECK(tour.step() == 5);
  CHECK(desk.widget("tour text")->isVisible());
  desk.click_widget("tour yes");
  CHECK_FALSE(tour.isVisible());
  CHECK_FALSE(Tour::is_new());
}

TEST_CASE("the tour can be left at any moment and begun from Help, on the scene that is open", "[first]") {
  Desk desk;
  Tour& tour = desk.window().tour();
  CHECK_FALSE(tour.isVisible());
  desk.take_menu("Tour");
  CHECK(tour.step() == 1);
  CHECK(desk.stage().pointed_out().size() == 1);
  desk.click_widget("tour no");
  CHECK(tour.step() == 0);
  CHECK(desk.stage().pointed_out().empty());
  // Another document ends it.
  desk.take_menu("Tour");
  CHECK(tour.step() == 1);
  desk.take_menu("New scene");
  CHECK(tour.step() == 0);
  CHECK_FALSE(tour.isVisible());
}

TEST_CASE("from the README to the first exact meeting: one key, three clicks", "[first]") {
  // ./run-demo has opened the marble run; this is what a stranger does then.
  Desk desk;
  int events = 0;
  const TackAddress from = desk.visible_vertex(desk.part("Channel 3")), to = desk.visible_vertex(desk.part("Post 4"));
  desk.click(desk.at(desk.point(box_point(desk.part("Channel 3"), {0.5, 0.15, 1}))));  // pick it
  ++events;
  desk.key(Qt::Key_T);
  ++events;
  desk.click(desk.at(from));
  ++events;
  desk.click(desk.at(to));
  ++events;
  CHECK(events <= 4);
  desk.wait([&] { return desk.window().loupe().words() == "exact"; });
  CHECK(distance(desk.point(from), desk.point(to)) <= 1e-9 * 3000);
  note_number(fmt::format("from the open demo to the first exact meeting: {} events", events));
}
