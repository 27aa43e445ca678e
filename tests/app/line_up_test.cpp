// Align, Distribute, Repeat and Drop in the real window: by mouse alone, by keys alone, and as jobs of the demo.
#include <fmt/format.h>

#include <QListWidget>
#include <QPushButton>
#include <catch2/catch.hpp>

#include "app/panels/standing_list.h"
#include "app/sentence_bar.h"
#include "core/hands/spacing.h"
#include "tests/app/handles.h"

using namespace tack;
using namespace tack::test;

namespace {

QPoint square(Desk& desk, int box, const Vec3& fraction) {
  return handle_pixel(
      desk, [&](const Handle& h) { return h.kind == Handle::Kind::Pad && h.box == box && h.fraction == fraction; });
}

const Step& last_step(Desk& desk) { return *desk.store().journal().record().steps.back(); }

std::vector<double> gaps_along_x(Desk& desk, const std::vector<std::string>& names) {
  std::vector<Box> boxes;
  for (const std::string& name : names) boxes.push_back(world_box(desk, name));
  std::sort(boxes.begin(), boxes.end(), [](const Box& a, const Box& b) { return a.centre().x < b.centre().x; });
  std::vector<double> gaps;
  for (std::size_t i = 1; i < boxes.size(); ++i) gaps.push_back(boxes[i].low.x - boxes[i - 1].high.x);
  return gaps;
}

void move_part(Desk& desk, const std::string& name, const Vec3& by) {
  Move move;
  move.what = {desk.part(name)};
  for (int i = 0; i < 3; ++i) move.by[static_cast<std::size_t>(i)] = Amount{by[i]};
  REQUIRE(desk.store().perform(move));
}

}  // namespace

TEST_CASE("left sides flush, tops level, 3 mm apart in y: one key, four clicks and the value", "[line]") {
  Desk desk;
  pick_these(desk, {"Funnel", "Catch basin"});
  desk.window().stage().frame_picked();
  pick_these(desk, {"Funnel"});
  int keys = 0, clicks = 0;
  const Box basin = world_box(desk, "Catch basin");
  desk.key(Qt::Key_L), ++keys;
  // What the pointer is over is shown as the target, with its own squares.
  desk.move_to(desk.at(desk.visible_vertex(desk.part("Catch basin"))));
  CHECK(desk.sentence().contains("Align Funnel with Catch basin"));
  desk.click(square(desk, 0, {0, 0.5, 1})), ++clicks;
  CHECK(std::get<Align>(desk.window().bench().draft().draft().verb).pair_from.point == Vec3{0, 0.5, 1});
  // Before the second click the ghost stands where the part would.
  const QPoint theirs = square(desk, 1, {0, 0.5, 1});
  desk.move_to(theirs);
  CHECK_FALSE(desk.window().bench().marks().ghosts.empty());
  CHECK(desk.window().bench().marks().gauges.agreements.size() == 2);
  desk.click(theirs), ++clicks;
  REQUIRE(steps(desk) == 1);
  CHECK(world_box(desk, "Funnel").low.x == Approx(basin.low.x).margin(1e-9));
  CHECK(world_box(desk, "Funnel").high.z == Approx(basin.high.z).margin(1e-9));
  desk.click(square(desk, 0, {0.5, 0, 0.5})), ++clicks;
  desk.click(square(desk, 1, {0.5, 1, 0.5})), ++clicks;
  CHECK(steps(desk) == 1);  // the same step
  desk.type("3");
  desk.key(Qt::Key_Return);
  CHECK(keys == 1);
  CHECK(clicks == 4);
  CHECK(steps(desk) == 1);
  const Box funnel = world_box(desk, "Funnel");
  CHECK(funnel.low.x == Approx(basin.low.x).margin(1e-9));
  CHECK(funnel.high.z == Approx(basin.high.z).margin(1e-9));
  CHECK(funnel.low.y == Approx(basin.high.y + 3).margin(1e-9));
  CHECK(desk.sentence().contains("y low to high 3 mm apart"));
  // One axis is taken back, the others stay.
  desk.choose("Its side along X", "as it is");
  CHECK(steps(desk) == 1);
  CHECK(world_box(desk, "Funnel").low.y == Approx(basin.high.y + 3).margin(1e-9));
  CHECK(world_box(desk, "Funnel").low.x != Approx(basin.low.x).margin(1e-3));
  // Esc ends it; nothing of it is left half.
  desk.key(Qt::Key_Escape);
  CHECK(desk.sentence().startsWith("Align Funnel with"));
  desk.key(Qt::Key_Z, Qt::ControlModifier);
}

TEST_CASE("align by keys alone: the target typed, sides chosen axis by axis, the gap", "[line]") {
  Desk desk;
  pick_these(desk, {"Catch basin"});
  const Box board = world_box(desk, "Base board");
  desk.key(Qt::Key_L);
  desk.key(Qt::Key_Equal);
  desk.type("Base board");
  desk.key(Qt::Key_Return);
  CHECK(desk.sentence().contains("with Base board"));
  desk.answer_menu("middle");
  desk.key(Qt::Key_X);
  REQUIRE(steps(desk) == 1);
  desk.answer_menu("middle");
  desk.key(Qt::Key_Y);
  desk.answer_menu("low side");
  desk.key(Qt::Key_Z);
  CHECK(steps(desk) == 1);
  desk.choose("Level with, along Z", "high side");
  desk.type("1/4 in");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 1);
  const Box basin = world_box(desk, "Catch basin");
  CHECK(basin.centre().x == Approx(board.centre().x).margin(1e-9));
  CHECK(basin.centre().y == Approx(board.centre().y).margin(1e-9));
  CHECK(basin.low.z == Approx(board.high.z + 6.35).margin(1e-9));
  CHECK(desk.sentence().contains("1/4 in apart"));
}

TEST_CASE("a target is picked in Parts, places count like squares, and all that is picked lines up by one click",
          "[line]") {
  Desk desk;
  pick_these(desk, {"Catch basin"});
  desk.key(Qt::Key_L);
  CHECK(desk.window().bench().answer_with(desk.part("Base board")));
  desk.settle();
  CHECK(desk.sentence().contains("with Base board"));
  // A vertex of it, then a vertex of a post: all three axes agree.
  const PartId basin = desk.part("Catch basin"), post = desk.part("Post 4");
  const TackAddress mine = desk.visible_vertex(basin), theirs = desk.visible_vertex(post);
  const Vec3 there = desk.point(theirs);
  desk.window().bench().narrow_to(CatchKind::Vertex);
  desk.click(desk.at(mine));
  desk.click(desk.at(theirs));
  desk.window().bench().narrow_to(std::nullopt);
  REQUIRE(steps(desk) == 1);
  CHECK(distance(desk.point(mine), there) < 1e-9);
  // All that is picked as its own target.
  desk.key(Qt::Key_Escape);
  pick_these(desk, {"Post 1", "Post 2", "Post 3"});
  move_part(desk, "Post 2", {0, 0, 15});
  pick_these(desk, {"Post 1", "Post 2", "Post 3"});
  desk.window().stage().frame_picked();
  desk.key(Qt::Key_Escape);
  desk.choose("With", "the box of all picked");
  desk.click(square(desk, 1, {0.5, 0.5, 1}));
  const double top = world_box(desk, "Post 2").high.z;
  CHECK(world_box(desk, "Post 1").high.z == Approx(top).margin(1e-9));
  CHECK(world_box(desk, "Post 3").high.z == Approx(top).margin(1e-9));
}

TEST_CASE("posts evenly spaced by one key and one click; gaps dragged, one alone, and typed", "[line]") {
  Desk desk;
  const std::vector<std::string> posts{"Post 1", "Post 2", "Post 3", "Post 4"};
  move_part(desk, "Post 2", {37, 0, 0});
  move_part(desk, "Post 3", {-61, 0, 0});
  pick_these(desk, posts);
  const std::size_t before = steps(desk);
  const double first = world_box(desk, "Post 1").low.x, last = world_box(desk, "Post 4").high.x;
  desk.key(Qt::Key_D);
  CHECK_FALSE(desk.window().bench().marks().ghosts.empty());  // shown before it is done
  desk.click_widget("do it");
  REQUIRE(steps(desk) == before + 1);
  const std::vector<double> even = gaps_along_x(desk, posts);
  CHECK(even[0] == Approx(even[1]).margin(1e-9));
  CHECK(even[1] == Approx(even[2]).margin(1e-9));
  CHECK(world_box(desk, "Post 1").low.x == first);
  CHECK(world_box(desk, "Post 4").high.x == last);
  // The value of a gap is dragged: all of them change, in the same step.
  const auto value = [&](int number) {
    return handle_pixel(desk, [&](const Handle& h) { return h.kind == Handle::Kind::Value && h.box == number; });
  };
  const QPoint at = value(1);
  desk.drag(at, at + QPoint(30, 8));
  CHECK(steps(desk) == before + 1);
  const std::vector<double> wider = gaps_along_x(desk, posts);
  CHECK(wider[0] > even[0] + 1);
  CHECK(wider[0] == Approx(wider[2]).margin(1e-9));
  CHECK(world_box(desk, "Post 1").low.x == first);
  // With Ctrl that one alone.
  const QPoint other = value(0);
  desk.drag(other, other + QPoint(-20, -6), Qt::LeftButton, Qt::ControlModifier);
  const std::vector<double> single = gaps_along_x(desk, posts);
  CHECK(single[0] < wider[0] - 1);
  CHECK(single[1] == Approx(wider[1]).margin(1e-9));
  CHECK(single[2] == Approx(wider[2]).margin(1e-9));
  // A value is clicked and typed; a digit on the stage is the gap of all.
  desk.click(value(2));
  REQUIRE(desk.window().sentence_bar().entry_is_open());
  desk.type("77");
  desk.key(Qt::Key_Return);
  CHECK(gaps_along_x(desk, posts)[2] == Approx(77).margin(1e-9));
  desk.choose("Evenly or by gaps", "all alike");
  desk.stage().setFocus();
  desk.type("90");
  desk.key(Qt::Key_Return);
  for (const double gap : gaps_along_x(desk, posts)) CHECK(gap == Approx(90).margin(1e-9));
  // The whole length by its end: the other end holds.
  const QPoint end = handle_pixel(
      desk, [](const Handle& h) { return h.kind == Handle::Kind::End && h.fraction.x == 1; }, 0.4);
  desk.drag(end, end + QPoint(40, 11));
  CHECK(world_box(desk, "Post 1").low.x == first);
  CHECK(gaps_along_x(desk, posts)[0] > 91);
  CHECK(steps(desk) == before + 1);
  // Esc in a drag leaves everything as it was.
  const std::vector<double> kept = gaps_along_x(desk, posts);
  desk.drag_with_key(value(0), value(0) + QPoint(25, 5), Qt::Key_Escape);
  CHECK(gaps_along_x(desk, posts) == kept);
}

TEST_CASE("distribute by keys alone, by another axis and by pivots", "[line]") {
  Desk desk;
  const std::vector<std::string> feet{"Foot 1", "Foot 2", "Foot 3"};
  pick_these(desk, feet);
  desk.key(Qt::Key_D);
  desk.key(Qt::Key_Y);
  CHECK(desk.sentence().contains("along Y of World axes"));
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 1);
  desk.choose("By gaps or pivots", "pivots");
  CHECK(steps(desk) == 1);
  desk.key(Qt::Key_X);
  CHECK(steps(desk) == 1);
  const QString says = desk.sentence();
  const bool in_part = says.startsWith("Distributed Foot 1, Foot 2 and 1 more along X");
  CHECK((in_part || says.startsWith("Distributed Foot 1, Foot 2 and Foot 3 along X")));
  desk.type("120");
  desk.key(Qt::Key_Return);
  std::vector<double> x;
  for (const std::string& foot : feet) x.push_back(desk.point({TackKind::Pivot, desk.part(foot), 0, {}}).x);
  std::sort(x.begin(), x.end());
  CHECK(x[1] - x[0] == Approx(120).margin(1e-9));
  CHECK(x[2] - x[1] == Approx(120).margin(1e-9));
}

TEST_CASE("repeat: shown, typed, done, one more and one fewer, its ruler dragged", "[line]") {
  Desk desk;
  pick_these(desk, {"Short channel"});
  const std::size_t parts = desk.scene().size();
  desk.key(Qt::Key_E);
  CHECK_FALSE(desk.window().bench().marks().ghosts.empty());
  desk.key(Qt::Key_Y);
  CHECK(desk.sentence().contains("in a row along Y"));
  desk.type("4");
  desk.key(Qt::Key_Return);
  REQUIRE(steps(desk) == 1);
  CHECK(desk.scene().size() == parts + 3);
  CHECK(find_by_path(desk.scene(), "Channels/Short channel 4").has_value());
  const auto stepper = [&](Handle::Kind kind) {
    return handle_pixel(desk, [&](const Handle& h) { return h.kind == kind; });
  };
  desk.click(stepper(Handle::Kind::More));
  CHECK(desk.scene().size() == parts + 4);
  desk.click(stepper(Handle::Kind::Less));
  desk.click(stepper(Handle::Kind::Less));
  CHECK(desk.scene().size() == parts + 2);
  CHECK(steps(desk) == 1);
  const double was = world_box(desk, "Short channel 2").low.y;
  const QPoint end = handle_pixel(
      desk, [](const Handle& h) { return h.kind == Handle::Kind::End; }, 0.3);
  desk.drag(end, end + QPoint(-60, 16));
  CHECK(steps(desk) == 1);
  const double is = world_box(desk, "Short channel 2").low.y;
  CHECK(std::abs(is - was) > 1);
  CHECK(world_box(desk, "Short channel 3").low.y - is ==
        Approx(is - world_box(desk, "Short channel").low.y).margin(1e-9));
  // Undo takes back one edit after the other, in the end all of it.
  for (int i = 0; i < 5; ++i) desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.scene().size() == parts);
}

TEST_CASE("drop: shown, done, said, corrected", "[line]") {
  Desk desk;
  pick_these(desk, {"Curve left"});
  move_part(desk, "Curve left", {0, 0, 120});
  pick_these(desk, {"Curve left"});
  desk.key(Qt::Key_Down, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK(desk.sentence().startsWith("Drop Curve left onto what is below"));
  CHECK_FALSE(desk.window().bench().marks().ghosts.empty());
  desk.key(Qt::Key_Return);
  REQUIRE(steps(desk) == 2);
  CHECK(world_box(desk, "Curve left").low.z == Approx(0).margin(1e-9));
  CHECK(desk.message().contains("Curve left fell"));
  desk.type("2.5");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 2);
  CHECK(world_box(desk, "Curve left").low.z == Approx(2.5).margin(1e-9));
  CHECK(desk.sentence().startsWith("Dropped Curve left"));
}

TEST_CASE("tidy numbers: shown, changed, done, said", "[line]") {
  Desk desk;
  move_part(desk, "Post 2", {1.3, -0.4, 0});
  pick_these(desk, {"Post 2"});
  desk.take_menu("Tidy numbers");
  CHECK(desk.sentence().startsWith("Tidy Post 2: position to 10 mm"));
  desk.click_widget("blank Position along X");
  desk.type("25");
  desk.key(Qt::Key_Return);
  if (steps(desk) == 1) desk.click_widget("do it");
  REQUIRE(steps(desk) == 2);
  const Vec3 at = desk.point({TackKind::Pivot, desk.part("Post 2"), 0, {}});
  CHECK(std::fmod(at.x, 25) == 0);
  CHECK(std::fmod(at.y, 10) == 0);
  CHECK(desk.message().contains("1 of 1 changed"));
}

TEST_CASE("what is tied comes along when the sentence says so", "[line]") {
  Desk desk({QString::fromStdString(source("demo/heron-hall.glb"))});
  const std::size_t came = steps(desk);  // with the document
  pick_these(desk, {"Channel 2"});
  const Vec3 before = desk.point({TackKind::Pivot, desk.part("Channel 1"), 0, {}});
  desk.key(Qt::Key_M);
  CHECK(desk.window().sentence_bar().is_offer(blank_of(desk.window().bench().draft().draft().verb, "with-tied")));
  desk.type("5");
  desk.key(Qt::Key_Return);
  REQUIRE(steps(desk) == came + 1);
  CHECK(desk.point({TackKind::Pivot, desk.part("Channel 1"), 0, {}}) == before);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  desk.store().pick({});
  pick_these(desk, {"Channel 2"});
  // Whatever is tied to the board is tied to what is locked, and that is said with its name.
  desk.click_widget("blank What is tied to it");
  desk.type("5");
  desk.key(Qt::Key_Return);
  const bool moved = steps(desk) == came + 1;
  CHECK((moved || desk.message().contains("is tied to it, and locked")));
}

TEST_CASE("a list says what floats or has sunk in, and leads there", "[line]") {
  Desk desk;
  desk.take_menu("What floats or sinks");
  StandingList* list = nullptr;
  desk.wait([&] { return (list = desk.window().findChild<StandingList*>()) && list->is_done(); });
  auto* rows = list->findChild<QListWidget*>();
  // The feet have different heights: Foot 2 is 0.6 mm above the ground.
  const auto foot = rows->findItems("Foot 2  floats 0.6 mm above the ground", Qt::MatchExactly);
  REQUIRE(foot.size() == 1);
  rows->setCurrentItem(foot.front());
  CHECK(desk.store().picked() == std::vector<PartId>{desk.part("Foot 2")});
  list->findChild<QPushButton*>("pick all")->click();
  CHECK(static_cast<int>(desk.store().picked().size()) == rows->count());
  list->close();
  desk.settle();
}

// --- jobs of the demo

TEST_CASE("job 20: posts with equal gaps though their widths differ", "[job]") {
  Desk desk;
  const std::vector<std::string> posts{"Post 1", "Post 2", "Post 3", "Post 4"};
  Scale scale;
  scale.what = {desk.part("Post 2")};
  scale.axes = AxesKind::World;
  scale.size[0] = Amount{60};
  desk.store().perform(scale);
  pick_these(desk, posts);
  desk.key(Qt::Key_D);
  desk.key(Qt::Key_X);
  desk.click_widget("do it");
  const std::vector<double> gaps = gaps_along_x(desk, posts);
  CHECK(gaps[0] == Approx(gaps[1]).margin(1e-9));
  CHECK(gaps[1] == Approx(gaps[2]).margin(1e-9));
}

TEST_CASE("job 21: the catch basin centred on the board and standing on it", "[job]") {
  Desk desk;
  pick_these(desk, {"Catch basin", "Base board"});
  desk.window().stage().frame_picked();
  pick_these(desk, {"Catch basin"});
  desk.key(Qt::Key_L);
  desk.window().bench().answer_with(desk.part("Base board"));
  desk.settle();
  desk.choose("Its side along X", "middle");
  desk.choose("Its side along Y", "middle");
  desk.choose("Its side along Z", "low side");
  desk.choose("Level with, along Z", "high side");
  CHECK(steps(desk) == 1);
  const Box basin = world_box(desk, "Catch basin"), board = world_box(desk, "Base board");
  CHECK(distance(Vec3{basin.centre().x, basin.centre().y, basin.low.z},
                 {board.centre().x, board.centre().y, board.high.z}) < 1e-9);
}

TEST_CASE("job 22: seven paddles round the hub", "[job]") {
  Desk desk;
  std::vector<PartId> gone;
  for (int i = 2; i <= 6; ++i) gone.push_back(desk.part(fmt::format("Paddle {}", i)));
  Delete remove;
  remove.what = gone;
  desk.store().perform(remove);
  pick_these(desk, {"Paddle 1"});
  desk.key(Qt::Key_E);
  desk.choose("How", "round");
  // The hub's axis is its own y; the paddles hang below the hub.
  const Mat3 own = own_axes(desk.scene(), desk.part("Hub"));
  std::size_t axis = 0;
  const Box hub = own_box(desk.scene(), desk.part("Hub"));
  for (std::size_t i = 0; i < 3; ++i)
    if (std::abs(hub.size()[static_cast<int>((i + 1) % 3)] - hub.size()[static_cast<int>((i + 2) % 3)]) < 1e-6)
      axis = i;
  const Vec3 direction = own.column[axis];
  for (std::size_t i = 0; i < 3; ++i)
    if (std::abs(direction[static_cast<int>(i)]) > 0.99) desk.key(Qt::Key_X + static_cast<int>(i));
  desk.give("About", "\"Hub\" pivot");
  desk.type("7");
  desk.key(Qt::Key_Return);
  int paddles = 0;
  for (const PartId id : desk.scene().part(desk.part("Hub")).children) paddles += desk.scene().part(id).mesh != nullptr;
  CHECK(paddles == 7);
  const Vec3 centre = desk.point({TackKind::Pivot, desk.part("Hub"), 0, {}});
  const double reach = distance(box_along(desk.scene(), desk.part("Paddle 1"), Mat3{}).centre(), centre);
  CHECK(reach > 1);
}

TEST_CASE("job 23: studs in a grid, then one row fewer", "[job]") {
  Desk desk;
  pick_these(desk, {"Foot 1"});
  const std::size_t parts = desk.scene().size();
  desk.key(Qt::Key_E);
  desk.choose("How", "in a grid along");
  desk.click_widget("blank How many along X");
  desk.type("4");
  desk.key(Qt::Key_Tab);
  desk.type("3");
  desk.key(Qt::Key_Return);
  desk.click_widget("blank Distance along X");
  desk.type("10");
  desk.key(Qt::Key_Tab);
  desk.type("12");
  desk.key(Qt::Key_Return);
  if (steps(desk) == 0) desk.click_widget("do it");
  REQUIRE(steps(desk) == 1);
  CHECK(desk.scene().size() == parts + 11);
  desk.click_widget("blank How many along Y");
  desk.type("2");
  desk.key(Qt::Key_Return);
  CHECK(steps(desk) == 1);
  CHECK(desk.scene().size() == parts + 7);
}

TEST_CASE("job 24: a mirrored curve", "[job]") {
  Desk desk;
  pick_these(desk, {"Curve left"});
  const Box was = world_box(desk, "Curve left");
  desk.key(Qt::Key_E);
  desk.choose("How", "mirrored across");
  desk.key(Qt::Key_X);
  desk.key(Qt::Key_Equal);
  desk.type("point 300,0,0");
  desk.key(Qt::Key_Return);
  if (steps(desk) == 0) desk.click_widget("do it");
  REQUIRE(steps(desk) == 1);
  const auto copy = find_by_path(desk.scene(), "Channels/Curve left 2");
  REQUIRE(copy);
  const Box is = box_along(desk.scene(), *copy, Mat3{});
  CHECK(is.low.x == Approx(600 - was.high.x).margin(1e-9));
  CHECK(is.low.y == Approx(was.low.y).margin(1e-9));
  CHECK(desk.scene().part(*copy).mesh == desk.scene().part(desk.part("Curve left")).mesh);
  CHECK(last_step(desk).remark.find("mirror image") != std::string::npos);
}

TEST_CASE("job 25: the feet dropped to the floor, each by what it lacks", "[job]") {
  Desk desk;
  std::vector<std::string> feet{"Foot 1", "Foot 2", "Foot 3", "Foot 4"};
  move_part(desk, "Foot 1", {0, 0, 0.4});  // it is 0.4 mm short of the floor
  pick_these(desk, feet);
  desk.key(Qt::Key_Down, Qt::ControlModifier | Qt::ShiftModifier);
  desk.choose("Onto", "the ground");
  if (steps(desk) == 1) desk.click_widget("do it");
  REQUIRE(steps(desk) == 2);
  for (const std::string& foot : feet) CHECK(world_box(desk, foot).low.z == Approx(0).margin(1e-9));
  CHECK(desk.message().contains("Foot 1 fell 0.4 mm"));
}
