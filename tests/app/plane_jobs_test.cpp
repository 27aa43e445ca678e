// The jobs of demo/jobs.md that are done on planes, by guides and in elevations, from start to end.
#include <catch2/catch.hpp>

#include "core/catch/guide_law.h"
#include "core/fit/measure.h"
#include "core/verbs/place.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

QString finished_run() { return QString::fromStdString(source("demo/heron-hall.glb")); }

// A corner of a part's box as a vertex: the one nearest to a point of the box.
TackAddress corner_vertex(Desk& desk, PartId part, const Vec3& fraction) {
  const Mesh& mesh = *desk.scene().part(part).mesh;
  const Vec3 at = mesh.box().at(fraction);
  std::uint32_t best = 0;
  for (std::uint32_t i = 0; i < mesh.positions().size(); ++i)
    if (distance(mesh.positions()[i], at) < distance(mesh.positions()[best], at)) best = i;
  return vertex(part, best);
}

Vec3 on_plane(Desk& desk, PartId plane, const Vec3& world) {
  const Affine frame = plane_frame(desk.scene(), plane);
  return transpose(frame.linear) * (world - frame.translation);
}

double bound_of(Desk& desk, PartId part) {
  return 1e-9 * (desk.scene().part(part).mesh->box().extent() + length(desk.point({TackKind::Pivot, part, 0, {}})) + 1);
}

void only(Desk& desk, const std::vector<PartId>& parts) {
  std::vector<PartId> hide;
  for (const PartId id : desk.scene().roots())
    if (std::none_of(parts.begin(), parts.end(), [&](PartId p) { return is_within(desk.scene(), p, id); }))
      hide.push_back(id);
  REQUIRE(desk.store().perform(Show{hide, false}));
  desk.settle();
}

void blank(Desk& desk, const QString& name, const QString& text) {
  desk.click_widget("blank " + name);
  desk.type(text);
  desk.key(Qt::Key_Return);
}

void frame_on(Desk& desk, PartId part) {
  const std::vector<PartId> was = desk.store().picked();
  desk.store().pick({part});
  desk.stage().frame_picked();
  desk.store().pick(was);
  desk.settle();
}

}  // namespace

TEST_CASE("job 26: the sign plate laid flat, brought onto the ramp, moved, caught on its grid, measured", "[job]") {
  Desk desk({finished_run()});
  const PartId sign = desk.part("Sign plate"), ramp = desk.part("Ramp"), deck = desk.part("Ramp/Ramp deck");
  only(desk, {sign, ramp});
  // Its tie to the board is let go by this, and that is said.
  desk.store().pick({sign});
  desk.stage().turn_to(Side::Front);
  frame_on(desk, sign);
  const TackAddress a = corner_vertex(desk, sign, {0, 0, 1}), b = corner_vertex(desk, sign, {1, 0, 1}),
                    c = corner_vertex(desk, sign, {0, 1, 1});
  desk.take_menu("Lay on the plane in use by three places");
  CHECK(desk.message().contains("goes to the plane's origin"));
  for (const TackAddress& place : {a, b, c}) {
    desk.type("=");
    desk.type(QString::fromStdString(address_text(desk.scene(), place)));
    desk.key(Qt::Key_Return);
  }
  CHECK(desk.sentence().startsWith("Laid Sign plate on World by its vertex on its origin"));
  CHECK(length(desk.point(a)) <= bound_of(desk, sign));
  CHECK(std::hypot(desk.point(b).y, desk.point(b).z) <= bound_of(desk, sign));
  CHECK(std::abs(desk.point(c).z) <= bound_of(desk, sign));
  // Onto the deck, keeping its numbers.
  desk.key(Qt::Key_Escape);
  desk.store().use_plane(deck);
  const PlacedNumbers before = numbers_in(desk.scene(), sign, AxesKind::World);
  desk.stage().setFocus();
  desk.key(Qt::Key_B, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK(desk.sentence().startsWith("Bring Sign plate from World onto Ramp deck, keeping its numbers."));
  desk.key(Qt::Key_Return);
  const PlacedNumbers there = numbers_in(desk.scene(), sign, axes_of_plane(deck));
  CHECK(distance(there.position, before.position) <= bound_of(desk, sign));
  CHECK(distance(there.rotation, before.rotation) <= 1e-9);
  CHECK(length(on_plane(desk, deck, desk.point(a))) <= bound_of(desk, sign));
  // 40 mm along the plane's x, by keys.
  desk.key(Qt::Key_Escape);
  desk.store().set_axes(axes_of_plane(deck));
  desk.stage().setFocus();
  desk.key(Qt::Key_M);
  desk.key(Qt::Key_X);
  desk.type("40");
  desk.key(Qt::Key_Return);
  CHECK(distance(on_plane(desk, deck, desk.point(a)), Vec3{40, 0, 0}) <= bound_of(desk, sign));
  // Its corner from where it is to a node of the deck's grid: 60, 25.
  desk.stage().square_onto_plane();
  frame_on(desk, ramp);
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_P);
  desk.key(Qt::Key_T);
  desk.click(desk.at(a));
  CHECK(desk.sentence().contains("from its vertex"));
  desk.type("=");
  desk.type("\"Ramp/Ramp deck\" plane 60,25");
  desk.key(Qt::Key_Return);
  CHECK(distance(on_plane(desk, deck, desk.point(a)), Vec3{60, 25, 0}) <= bound_of(desk, sign));
  // From the ramp's lower edge to the plate's corner: 25 mm across the edge.
  const Vec3 edge = desk.point({TackKind::Edge, ramp, 3, {60.0 / 230, 0, 0}, 7});
  CHECK(distance(edge, desk.point(a)) == Approx(25).margin(bound_of(desk, sign)));
  desk.key(Qt::Key_U);
  desk.type("=");
  desk.type("\"Ramp\" vertex 3");
  desk.key(Qt::Key_Return);
  desk.type("=");
  desk.type(QString::fromStdString(address_text(desk.scene(), a)));
  desk.key(Qt::Key_Return);
  CHECK(desk.sentence().contains(": 65 mm"));  // 60, 25, 0
}

TEST_CASE("job 27: a marble on the deck by typed numbers, touching it", "[job]") {
  Desk desk({finished_run()});
  const PartId marble = desk.part("Marble 3"), deck = desk.part("Ramp/Ramp deck"), ramp = desk.part("Ramp");
  desk.store().use_plane(deck);
  desk.store().pick({marble});
  desk.store().set_axes(axes_of_plane(deck));
  desk.type_into("position x", "115");
  desk.type_into("position y", "70");
  desk.type_into("position z", "8");
  const auto of = own_box(desk.scene(), marble);
  CHECK(of.size().z == Approx(16).epsilon(0.02));
  CHECK(distance(numbers_in(desk.scene(), marble, axes_of_plane(deck)).position, Vec3{115, 70, 8}) == 0);
  // Its middle stands 8 mm over the ramp's own face.
  const auto face = find_tack(desk.scene(), {TackKind::FaceCentre, ramp, 4, {}});
  REQUIRE(face);
  const Vec3 middle = desk.point({TackKind::Pivot, marble, 0, {}});
  CHECK(dot(*face->direction, middle - face->point) == Approx(8).margin(1e-9));
}

TEST_CASE("job 28: a guide beside the board's edge, and a post's foot brought to it across alone", "[job]") {
  Desk desk({finished_run()});
  const PartId board = desk.part("Base board"), post = desk.part("Posts/Post 1");
  only(desk, {board, post});
  desk.stage().turn_to(Side::Top);
  frame_on(desk, board);
  const Vec3 low = desk.point(box_point(board, {0, 0, 1})), high = desk.point(box_point(board, {1, 0, 1}));
  desk.take_menu("Line beside an edge");
  desk.click(desk.at((low + high) * 0.5 + Vec3{90, 0, 0}));
  desk.click(desk.at((low + high) * 0.5 + Vec3{40, 120, 0}));
  desk.type("185 mm");
  desk.key(Qt::Key_Return);
  blank(desk, "Name", "Post line");
  const PartId line = desk.part("Post line");
  CHECK(plane_frame(desk.scene(), line).translation.y == Approx(low.y + 185).epsilon(1e-12));
  desk.key(Qt::Key_Escape);
  // Along y alone.
  Move move;
  move.what = {post};
  move.from = kept_tack(post, "foot");
  move.to = {TackKind::Guide, line, 0, {}};
  move.along = {false, true, false};
  REQUIRE(desk.store().perform(move));
  CHECK(desk.point(kept_tack(post, "foot")).y == Approx(low.y + 185).epsilon(1e-12));
  // The board goes 15 mm back: the line goes with it, the post's tie to the board says so.
  Lock open;
  open.what = {board};
  open.locked = false;
  REQUIRE(desk.store().perform(open));
  Move back;
  back.what = {board};
  back.by[1] = Amount{15};
  REQUIRE(desk.store().perform(back));
  CHECK(plane_frame(desk.scene(), line).translation.y == Approx(low.y + 200).epsilon(1e-12));
}

TEST_CASE("job 29: the basin's centre on the crossing of two guides", "[job]") {
  Desk desk({finished_run()});
  const PartId board = desk.part("Base board"), basin = desk.part("Catch basin");
  only(desk, {board, basin});
  desk.stage().turn_to(Side::Top);
  frame_on(desk, board);
  const auto corner = [&](double x, double y) { return desk.point(box_point(board, {x, y, 1})); };
  // The two diagonals of the board's top, by clicks.
  for (const auto& [from, to] : {std::pair{corner(0, 0), corner(1, 1)}, {corner(1, 0), corner(0, 1)}}) {
    desk.take_menu("Line from a place to a place");
    desk.click(desk.at(from));
    desk.click(desk.at(to));
    desk.key(Qt::Key_Escape);
  }
  const Vec3 middle = (corner(0, 0) + corner(1, 1)) * 0.5;
  desk.store().pick({basin});
  desk.key(Qt::Key_T);
  desk.type("=");
  desk.type("\"Catch basin\" round 57");
  desk.key(Qt::Key_Return);
  desk.move_to(desk.at(middle));
  REQUIRE(desk.window().bench().marks().to);
  CHECK(desk.window().bench().marks().to->name.startsWith("crossing of guides"));
  desk.click(desk.at(middle));
  CHECK(distance(desk.point({TackKind::RoundCentre, basin, 57, {}}), middle) <= bound_of(desk, basin));
}

TEST_CASE("job 30: the funnel brought level in the front elevation, its depth untouched", "[job]") {
  Desk desk({finished_run()});
  const PartId funnel = desk.part("Funnel"), board = desk.part("Base board");
  only(desk, {funnel, board});
  desk.stage().show_elevation(Elevation::Front, true);
  frame_on(desk, funnel);
  const int pane = Stage::pane_of(Elevation::Front);
  const auto in = [&](const Vec3& world) {
    const auto px = desk.stage().pixel_in(pane, world);
    REQUIRE(px);
    return desk.stage().mapTo(&desk.window(), px->toPoint());
  };
  desk.store().pick({funnel});
  desk.settle();
  const Vec3 was = desk.point({TackKind::Pivot, funnel, 0, {}});
  const double scale =
      desk.stage().pixel_in(pane, was + Vec3{100, 0, 0})->x() / 100.0 - desk.stage().pixel_in(pane, was)->x() / 100.0;
  const Vec3 grabbed = desk.point(box_point(funnel, {0.5, 0.5, 0.5}));
  desk.drag(in(grabbed), in(grabbed) + QPoint(24, -9));
  const Vec3 is = desk.point({TackKind::Pivot, funnel, 0, {}});
  CHECK(is.y == was.y);
  CHECK(is.x > was.x);
  CHECK(is.z > was.z);
  // As many millimetres as the strip had pixels for them.
  INFO(desk.sentence().toStdString());
  CHECK(is.x - was.x == Approx(24 / scale).margin(1.5 / scale));
  CHECK(desk.sentence().startsWith("Moved Funnel"));
  // The step is one like any other: typed again, it is exact.
  desk.stage().setFocus();
  blank(desk, "Along X", "25");
  CHECK(desk.point({TackKind::Pivot, funnel, 0, {}}).x == Approx(was.x + 25).epsilon(1e-13));
}

TEST_CASE("job 31: studs laid out on the deck and dropped onto it", "[job]") {
  Desk desk({finished_run()});
  const PartId deck = desk.part("Ramp/Ramp deck"), marble = desk.part("Marble 2"), ramp = desk.part("Ramp");
  desk.store().use_plane(deck);
  desk.store().pick({marble});
  desk.store().set_axes(axes_of_plane(deck));
  desk.type_into("position x", "50");
  desk.type_into("position y", "40");
  desk.type_into("position z", "60");
  desk.take_menu("Drop onto what is below");
  CHECK(desk.sentence().contains("along the normal of Ramp deck"));
  desk.key(Qt::Key_Return);
  // Straight down onto the slant: x and y of the deck stay, the lowest vertex lies on it.
  const Vec3 at = on_plane(desk, deck, desk.point({TackKind::Pivot, marble, 0, {}}));
  CHECK(at.x == Approx(50).margin(1e-9));
  CHECK(at.y == Approx(40).margin(1e-9));
  double low = 1e9;
  const Affine world = world_of(desk.scene(), marble);
  for (const Vec3& v : desk.scene().part(marble).mesh->positions())
    low = std::min(low, on_plane(desk, deck, world * v).z);
  CHECK(low == Approx(0).margin(1e-7));
  CHECK(desk.message().contains("onto Ramp"));
  (void)ramp;
}
