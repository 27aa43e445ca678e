// Vertices, edges and faces in the real window, by mouse, by keys and numbers, and as jobs.
#include <fmt/format.h>

#include <catch2/catch.hpp>

#include "core/mesh/shares.h"
#include "core/verbs/about.h"
#include "core/verbs/patch.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

void make(Desk& desk, const Json& json) {
  const auto verb = verb_from_json(json, desk.scene());
  INFO(json.dump() << (verb ? std::string() : sentence(verb.error())));
  REQUIRE(verb);
  REQUIRE(desk.store().perform(*verb));
  desk.stage().frame_all();
  desk.settle();
  desk.stage().setFocus();
}

// Shift+P as often as it takes.
void pick_of(Desk& desk, PickOf of) {
  desk.stage().setFocus();
  for (int i = 0; i < 5 && desk.window().bench().draft().pick_of() != of; ++i) desk.key(Qt::Key_P, Qt::ShiftModifier);
  REQUIRE(desk.window().bench().draft().pick_of() == of);
}

// A ball of 60 mm, of whose elements some are to be taken.
void make_ball(Desk& desk, int sides, PickOf of) {
  make(desk, {{"verb", "shape"},
              {"kind", "sphere"},
              {"name", "Ball"},
              {"at", "point 0,0,0"},
              {"diameter", 60},
              {"sides", sides}});
  pick_of(desk, of);
}

const Patch& taken_now(Desk& desk) {
  const auto patches = desk.window().bench().draft().picked_patches();
  REQUIRE(patches.size() == 1);
  return *desk.scene().part(patches.front()).patch;
}

std::size_t patches(Desk& desk) {
  const auto& all = desk.scene().patches();
  return static_cast<std::size_t>(
      std::count_if(all.begin(), all.end(), [&](PartId id) { return desk.scene().contains(id); }));
}

QPoint vertex_at(Desk& desk, const std::string& part, std::uint32_t v) {
  return desk.at(TackAddress{TackKind::Vertex, desk.part(part), v, {}});
}

double volume(const Mesh& mesh) {
  double six = 0;
  for (const Triangle& t : mesh.triangles())
    six += dot(mesh.positions()[t[0]], cross(mesh.positions()[t[1]], mesh.positions()[t[2]]));
  return six / 6;
}

// The vertex of a mesh in the middle of the picture that looks at the eye most.
std::uint32_t facing_vertex(Desk& desk, const std::string& part) {
  const Mesh& mesh = *desk.scene().part(desk.part(part)).mesh;
  const Affine world = world_of(desk.scene(), desk.part(part));
  const View view = desk.stage().view();
  std::uint32_t best = 0;
  for (std::uint32_t v = 0; v < mesh.positions().size(); ++v)
    if (distance(view.eye, world * mesh.positions()[v]) < distance(view.eye, world * mesh.positions()[best])) best = v;
  return best;
}

}  // namespace

TEST_CASE("Shift+P goes through parts, vertices, edges and faces; a click takes, Ctrl adds, the open lets go",
          "[elements]") {
  Desk desk(QStringList{});
  make(desk, {{"verb", "shape"}, {"kind", "box"}, {"name", "Crate"}, {"at", "point 0,0,0"}, {"size", {60, 40, 30}}});
  desk.key(Qt::Key_P, Qt::ShiftModifier);
  CHECK(desk.window().bench().draft().pick_of() == PickOf::Vertices);
  CHECK(desk.sentence().startsWith("Picking vertices"));
  const auto crate = desk.part("Crate");
  const TackAddress corner = desk.visible_vertex(crate);
  desk.click(desk.at(corner));
  CHECK(desk.sentence().startsWith("Took 1 vertex of Crate"));
  CHECK(taken_now(desk).of[0].elements.size() == 1);
  const std::size_t count = desk.store().journal().record().steps.size();
  // Another with Ctrl: the same step.
  std::uint32_t other = 0;
  for (std::uint32_t v = 0; v < 8; ++v)
    if (v != corner.index &&
        desk.stage().under(desk.stage().mapFrom(&desk.window(), vertex_at(desk, "Crate", v))).place) {
      desk.click(vertex_at(desk, "Crate", v), Qt::ControlModifier);
      if (taken_now(desk).of[0].elements.size() == 2) {
        other = v;
        break;
      }
    }
  CHECK(taken_now(desk).of[0].elements.size() == 2);
  CHECK(desk.store().journal().record().steps.size() == count);
  desk.click(vertex_at(desk, "Crate", other), Qt::ControlModifier);
  CHECK(taken_now(desk).of[0].elements.size() == 1);
  // More and less; a ring round a corner has the three beside it.
  desk.type("+");
  CHECK(taken_now(desk).of[0].elements.size() == 4);
  desk.type("-");
  CHECK(taken_now(desk).of[0].elements.size() == 1);
  // Moved by a number it is a step of its own; the shape says that it is a mesh now.
  desk.key(Qt::Key_M);
  desk.key(Qt::Key_Z);
  desk.type("7");
  desk.key(Qt::Key_Return);
  CHECK(desk.store().journal().record().steps.size() == count + 1);
  CHECK_FALSE(desk.scene().part(crate).shape);
  CHECK(desk.message().contains("Crate is a mesh now"));
  const Mesh& mesh = *desk.scene().part(crate).mesh;
  const auto before = desk.store().journal().record().before(count).part(crate).mesh;
  std::size_t changed = 0;
  for (std::size_t v = 0; v < mesh.positions().size(); ++v)
    if (mesh.positions()[v] != before->positions()[v]) {
      ++changed;
      CHECK(distance(mesh.positions()[v], before->positions()[v] + Vec3{0, 0, 7}) < 1e-12);
    }
  CHECK(changed >= 1);
  // A click on another takes anew: the first stays, as a layer that can be picked in Parts.
  pick_of(desk, PickOf::Faces);
  desk.click(desk.at(Vec3{0, 0, 30}));
  CHECK(taken_now(desk).of[0].elements.kind == ElementKind::Faces);
  CHECK(patches(desk) == 2);
  // Undone in turn, everything is back; a click into the open lets go.
  for (int i = 0; i < 12 && patches(desk) > 0; ++i) desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.scene().part(crate).shape);
  CHECK(patches(desk) == 0);
}

TEST_CASE("rectangles take what is seen, with Ctrl also what is behind", "[elements]") {
  Desk desk(QStringList{});
  make(desk, {{"verb", "shape"}, {"kind", "box"}, {"name", "Crate"}, {"at", "point 0,0,0"}, {"size", {60, 40, 30}}});
  for (const auto& [of, seen, all] :
       {std::tuple{PickOf::Vertices, 7u, 8u}, {PickOf::Edges, 9u, 12u}, {PickOf::Faces, 6u, 12u}}) {
    pick_of(desk, of);
    const QRect stage(desk.stage().mapTo(&desk.window(), QPoint(0, 0)), desk.stage().size());
    const QPoint low = stage.topLeft() + QPoint(8, 8), high = stage.bottomRight() - QPoint(8, 8);
    desk.drag(low, high);
    CHECK(taken_now(desk).of[0].elements.size() == seen);
    desk.drag(low, high, Qt::LeftButton, Qt::ControlModifier);
    CHECK(taken_now(desk).of[0].elements.size() == all);
  }
}

TEST_CASE("a post tapered at its head, by a double click and two numbers", "[elements][job]") {
  Desk desk(QStringList{});
  make(desk, {{"verb", "shape"}, {"kind", "box"}, {"name", "Post"}, {"at", "point 0,0,0"}, {"size", {40, 40, 120}}});
  pick_of(desk, PickOf::Faces);
  const QPoint top = desk.at(Vec3{0, 0, 120});
  desk.click(top);
  // The second press of a double click, right behind the first.
  QMouseEvent twice(QEvent::MouseButtonDblClick, desk.stage().mapFrom(&desk.window(), top),
                    desk.window().mapToGlobal(top), Qt::LeftButton, Qt::LeftButton, Qt::NoModifier);
  QCoreApplication::sendEvent(&desk.stage(), &twice);
  desk.settle();
  CHECK(taken_now(desk).of[0].elements.size() == 2);
  desk.key(Qt::Key_A);
  desk.key(Qt::Key_X);
  desk.type("20");
  desk.key(Qt::Key_Return);
  desk.key(Qt::Key_Y);
  desk.type("20");
  desk.key(Qt::Key_Return);
  for (const Vec3& p : desk.scene().part(desk.part("Post")).mesh->positions()) {
    const double half = p.z > 60 ? 10 : 20;
    CHECK(std::abs(std::abs(p.x) - half) < 1e-9);
    CHECK(std::abs(std::abs(p.y) - half) < 1e-9);
    CHECK((p.z == 0 || std::abs(p.z - 120) < 1e-9));
  }
}

TEST_CASE("a dent is made with a falloff and smoothed away; what was before is held against it", "[elements][job]") {
  Desk desk(QStringList{});
  make_ball(desk, 64, PickOf::Vertices);
  const std::uint32_t v = facing_vertex(desk, "Ball");
  const double whole = volume(*desk.scene().part(desk.part("Ball")).mesh);
  desk.click(vertex_at(desk, "Ball", v));
  REQUIRE(taken_now(desk).of[0].elements.size() == 1);
  // What is typed right after is the reach.
  desk.type("15");
  desk.key(Qt::Key_Return);
  CHECK(taken_now(desk).reach == 15);
  CHECK(taken_now(desk).of[0].shares->vertices.size() > 20);
  desk.take_menu("Push out");
  desk.type("-5");
  desk.key(Qt::Key_Return);
  const auto dented = desk.scene().part(desk.part("Ball")).mesh;
  const std::uint32_t taken = taken_now(desk).of[0].elements.numbers[0];
  CHECK(volume(*dented) < whole);
  const double deep =
      distance(dented->positions()[taken],
               desk.store().journal().record().before(1).part(desk.part("Ball")).mesh->positions()[taken]);
  CHECK(deep == Approx(5).margin(1e-6));
  desk.take_menu("Smooth");
  desk.choose("Volume", "filling dents and taking bumps off");
  desk.type("200");
  desk.key(Qt::Key_Return);
  const auto smooth = desk.scene().part(desk.part("Ball")).mesh;
  const double left =
      distance(smooth->positions()[taken],
               desk.store().journal().record().before(1).part(desk.part("Ball")).mesh->positions()[taken]);
  // What spans it is nearly the flat disc where the reach ends: 15 mm along the ball are half a radian.
  CHECK(30 - left == Approx(30 * std::cos(0.5)).margin(0.5));
  // J held shows the scene before the step; let go, it is as it is.
  const QImage now = desk.stage().picture(QSize(300, 200));
  QKeyEvent press(QEvent::KeyPress, Qt::Key_J, Qt::NoModifier, "j"),
      lift(QEvent::KeyRelease, Qt::Key_J, Qt::NoModifier, "j");
  desk.stage().setFocus();
  QCoreApplication::sendEvent(&desk.stage(), &press);
  desk.settle();
  CHECK(desk.stage().picture(QSize(300, 200)) != now);
  QCoreApplication::sendEvent(&desk.stage(), &lift);
  desk.settle();
  CHECK(desk.stage().picture(QSize(300, 200)) == now);
  // Losing the window is letting go.
  QCoreApplication::sendEvent(&desk.stage(), &press);
  desk.settle();
  QFocusEvent away(QEvent::FocusOut, Qt::ActiveWindowFocusReason);
  QCoreApplication::sendEvent(&desk.stage(), &away);
  desk.settle();
  CHECK(desk.stage().picture(QSize(300, 200)) == now);
}

TEST_CASE("a row of edges is slid along its neighbours", "[elements][job]") {
  Desk desk(QStringList{});
  make_ball(desk, 32, PickOf::Edges);
  const std::uint32_t v = facing_vertex(desk, "Ball");
  const Mesh& mesh = *desk.scene().part(desk.part("Ball")).mesh;
  // The edge along the parallel there.
  const Neighbours& n = mesh.neighbours();
  std::optional<Vec3> middle;
  for (const std::uint32_t e : n.edges_of(n.topology.welded[v])) {
    const Vec3 a = mesh.positions()[n.topology.edges[e].low], b = mesh.positions()[n.topology.edges[e].high];
    if (!n.divides[e] && std::abs(a.z - b.z) < 1e-9)
      middle = world_of(desk.scene(), desk.part("Ball")) * ((a + b) * 0.5);
  }
  REQUIRE(middle);
  const QPoint at = desk.at(*middle);
  desk.click(at);
  REQUIRE(taken_now(desk).of[0].elements.edges.size() == 1);
  QMouseEvent twice(QEvent::MouseButtonDblClick, desk.stage().mapFrom(&desk.window(), at),
                    desk.window().mapToGlobal(at), Qt::LeftButton, Qt::LeftButton, Qt::NoModifier);
  QCoreApplication::sendEvent(&desk.stage(), &twice);
  desk.settle();
  REQUIRE(taken_now(desk).of[0].elements.edges.size() == 32);
  const auto before = desk.scene().part(desk.part("Ball")).mesh;
  desk.take_menu("Slide edges");
  desk.type("0.5");
  desk.key(Qt::Key_Return);
  const auto after = desk.scene().part(desk.part("Ball")).mesh;
  std::set<long> heights;
  std::size_t moved_by = 0;
  for (std::size_t i = 0; i < before->positions().size(); ++i)
    if (before->positions()[i] != after->positions()[i])
      ++moved_by, heights.insert(std::lround(after->positions()[i].z * 1e6));
  CHECK(moved_by >= 32);
  CHECK(heights.size() == 1);
}

TEST_CASE("a corner is brought to a vertex of another part without moving the rest, and saved", "[elements][job]") {
  Desk desk(QStringList{});
  make(desk, {{"verb", "shape"}, {"kind", "box"}, {"name", "Crate"}, {"at", "point 0,0,0"}, {"size", {60, 40, 30}}});
  make(desk, {{"verb", "shape"}, {"kind", "box"}, {"name", "Block"}, {"at", "point 90,-20,0"}, {"size", {20, 20, 45}}});
  pick_of(desk, PickOf::Vertices);
  const TackAddress corner = desk.visible_vertex(desk.part("Crate"));
  desk.click(desk.at(corner));
  REQUIRE(taken_now(desk).of[0].elements.size() == 1);
  const PartId patch = desk.window().bench().draft().picked_patches().front();
  const auto was = desk.scene().part(desk.part("Crate")).mesh;
  desk.key(Qt::Key_T);
  desk.click(desk.at(TackAddress{TackKind::Vertex, patch, 0, {}}));
  const TackAddress to = desk.visible_vertex(desk.part("Block"));
  desk.click(desk.at(to));
  INFO(desk.sentence().toStdString() << " / " << desk.message().toStdString());
  const auto is = desk.scene().part(desk.part("Crate")).mesh;
  CHECK(
      distance(world_of(desk.scene(), desk.part("Crate")) * is->positions()[taken_now(desk).of[0].elements.numbers[0]],
               desk.point(to)) < 1e-9);
  std::set<std::array<double, 3>> moved_from;
  for (std::size_t v = 0; v < was->positions().size(); ++v)
    if (was->positions()[v] != is->positions()[v])
      moved_from.insert({was->positions()[v].x, was->positions()[v].y, was->positions()[v].z});
  CHECK(moved_from.size() == 1);
  // Written and read it is the same mesh; what was taken is in no file.
  const auto bytes = write_document(desk.scene(), {});
  REQUIRE(bytes);
  const auto delivery = read_delivery(*bytes, "crate.glb", {});
  REQUIRE(delivery);
  const auto document = document_of(*delivery);
  REQUIRE(document);
  CHECK(document->scene.size() == 2);
  const Scene& scene = document->scene;
  const PartId crate = *find_by_path(scene, "Crate");
  for (std::size_t v = 0; v < is->positions().size(); ++v)
    CHECK(scene.part(crate).mesh->positions()[v] == is->positions()[v]);
}

TEST_CASE("a corner of the demo's ramp, as the first steps have it; P alone picks parts", "[elements][job]") {
  Desk desk({QString::fromStdString(source("demo/heron-hall-parts.glb"))});
  const PartId ramp = desk.part("Ramp");
  desk.store().pick({ramp});
  desk.key(Qt::Key_F);
  desk.store().pick({});
  desk.stage().setFocus();
  desk.key(Qt::Key_P);
  CHECK(desk.window().bench().draft().pick_of() == PickOf::Parts);
  pick_of(desk, PickOf::Vertices);
  const TackAddress corner = desk.visible_vertex(ramp);
  const Vec3 was = desk.point(corner);
  desk.click(desk.at(corner));
  desk.key(Qt::Key_M);
  desk.key(Qt::Key_Z);
  desk.type("5");
  desk.key(Qt::Key_Return);
  INFO(desk.message().toStdString());
  CHECK(distance(desk.point(corner), was + Vec3{0, 0, 5}) < 1e-9);
  // What was hovered over is of a mesh that is gone when the steps are taken back: nothing is drawn of it.
  pick_of(desk, PickOf::Faces);
  desk.move_to(desk.at(was));
  for (int i = 0; i < 4; ++i) desk.key(Qt::Key_Z, Qt::ControlModifier);
  desk.settle();
  CHECK(distance(desk.point(corner), was) < 1e-12);
}

TEST_CASE("the reach is dragged as a ring round what was taken", "[elements]") {
  Desk desk(QStringList{});
  make_ball(desk, 24, PickOf::Vertices);
  const std::uint32_t v = facing_vertex(desk, "Ball");
  desk.click(vertex_at(desk, "Ball", v));
  const std::size_t count = desk.store().journal().record().steps.size();
  REQUIRE(taken_now(desk).reach == 0);
  // It stands 22 pixels from what was taken.
  const View view = desk.stage().view();
  const Vec3 middle = desk.point(TackAddress{TackKind::Vertex, desk.part("Ball"), v, {}});
  const double pixels = view.pixels_per_mm(middle);
  const QPoint at = desk.at(middle), ring = at + QPoint(22, 0);
  desk.drag(ring, ring + QPoint(static_cast<int>(20 * pixels), 0));
  CHECK(desk.store().journal().record().steps.size() == count);
  CHECK(taken_now(desk).reach == Approx(20).margin(1.5 / pixels));
  CHECK(taken_now(desk).of[0].shares->vertices.size() > 5);
  CHECK(desk.sentence().contains("goes along by its share"));
  // Where it is now it is taken hold of again; back to the middle, nothing goes along any more.
  const double reach = taken_now(desk).reach;
  const QPoint now = at + QPoint(qRound(reach * pixels), 0);
  desk.drag(now, at + QPoint(2, 0));
  CHECK(taken_now(desk).reach == Approx(0).margin(3 / pixels));
  // Esc in the middle of it: as it was.
  const double before = taken_now(desk).reach;
  desk.drag_with_key(at + QPoint(22, 0), at + QPoint(120, 0), Qt::Key_Escape);
  CHECK(taken_now(desk).reach == before);
  CHECK(desk.store().journal().record().steps.size() == count);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(taken_now(desk).reach == Approx(reach));
  // Typed before it is let go: exactly that, in the same step.
  const QPoint again = at + QPoint(qRound(reach * pixels), 0);
  desk.drag_and_type(again, again + QPoint(48, 0), "35");
  CHECK(taken_now(desk).reach == 35);
  CHECK(desk.store().journal().record().steps.size() == count);
}

TEST_CASE("a heavy mesh is seen while a hump of it is dragged, and does not vanish when it is let go", "[elements]") {
  // The heavier one is drawn coarser while it moves.
  const int sides = GENERATE(260, 760);
  Desk desk(QStringList{});
  make_ball(desk, sides, PickOf::Vertices);
  REQUIRE(desk.scene().part(desk.part("Ball")).mesh->triangles().size() > kSmallMesh);
  const std::uint32_t v = facing_vertex(desk, "Ball");
  const QPoint at = vertex_at(desk, "Ball", v);
  desk.click(at);
  desk.type("12");
  desk.key(Qt::Key_Return);
  desk.key(Qt::Key_M);
  desk.wait([&] { return desk.stage().is_still() && desk.stage().is_settled(); });
  QTest::mouseMove(desk.window().windowHandle(), at);
  desk.settle();
  const QImage before = desk.stage().grabFramebuffer();
  const QRgb ground = before.pixel(5, before.height() - 5);
  const auto unlike = [&](const QImage& now) {
    int count = 0;
    for (int y = 0; y < now.height(); ++y)
      for (int x = 0; x < now.width(); ++x) {
        const QRgb a = now.pixel(x, y), b = before.pixel(x, y);
        count += std::abs(qRed(a) - qRed(b)) + std::abs(qGreen(a) - qGreen(b)) > 40;
      }
    return count;
  };
  CHECK(unlike(before) == 0);
  QTest::mousePress(desk.window().windowHandle(), Qt::LeftButton, {}, at);
  for (int i = 1; i <= 6; ++i) QTest::mouseMove(desk.window().windowHandle(), at + QPoint(40 * i, -10 * i));
  // A hump grows out of it, out over the ground: of thousands of pixels, where a coarser outline is a few hundred.
  desk.wait([&] { return unlike(desk.stage().grabFramebuffer()) > 2000; });
  const int hump = unlike(desk.stage().grabFramebuffer());
  QTest::mouseRelease(desk.window().windowHandle(), Qt::LeftButton, {}, at + QPoint(240, -60));
  // As soon as it is let go, and from then on, there is a ball with its hump: never the bare ground.
  for (int i = 0; i < 8; ++i) {
    const QImage now = desk.stage().grabFramebuffer();
    CHECK(unlike(now) < 4 * hump);
    QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
  }
  desk.settle();
  CHECK(unlike(desk.stage().grabFramebuffer()) > 2000);
  CHECK(ground == desk.stage().grabFramebuffer().pixel(5, before.height() - 5));
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  desk.wait([&] { return desk.stage().is_still(); });
  CHECK(unlike(desk.stage().grabFramebuffer()) < 400);
}

TEST_CASE("a dent is brushed out, stroke by stroke, and a stroke is taken back", "[elements][job]") {
  Desk desk(QStringList{});
  make_ball(desk, 32, PickOf::Vertices);
  const std::uint32_t dent = facing_vertex(desk, "Ball");
  desk.click(vertex_at(desk, "Ball", dent));
  const Vec3 was = desk.point(TackAddress{TackKind::Vertex, desk.part("Ball"), dent, {}});
  desk.key(Qt::Key_M);
  desk.type("-6");
  desk.key(Qt::Key_Return);
  const auto dented = desk.scene().part(desk.part("Ball")).mesh;
  const std::size_t count = desk.store().journal().record().steps.size();
  desk.take_menu("Smooth by brushing");
  CHECK(desk.sentence().startsWith("Brush a part smooth, 20 mm wide"));
  // Its width is typed; dents are to fill up.
  desk.click_widget("blank Width");
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.type("26");
  desk.key(Qt::Key_Return);
  CHECK(desk.sentence().contains("26 mm wide"));
  desk.choose("Volume", "filling dents and taking bumps off");
  const QPoint over = desk.at(was);
  desk.drag(over - QPoint(40, 0), over + QPoint(40, 10));
  INFO(desk.sentence().toStdString() << " / " << desk.message().toStdString());
  REQUIRE(desk.store().journal().record().steps.size() == count + 1);
  CHECK(desk.sentence().startsWith("Brushed Ball smooth, 26 mm wide"));
  const auto once = desk.scene().part(desk.part("Ball")).mesh;
  CHECK(once != dented);
  const Affine world = world_of(desk.scene(), desk.part("Ball"));
  const auto off = [&](const Mesh& mesh) { return distance(world * mesh.positions()[dent], was); };
  CHECK(off(*once) < off(*dented));
  // The next stroke is another step with the same brush; taken back, the brush stays in the hand.
  desk.drag(over - QPoint(30, 20), over + QPoint(30, 0));
  CHECK(desk.store().journal().record().steps.size() == count + 2);
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.scene().part(desk.part("Ball")).mesh == once);
  CHECK(desk.sentence().contains("26 mm wide"));
  // Let go beside the part, begun beside it, or ended by Esc.
  desk.drag_with_key(over - QPoint(30, 0), over + QPoint(30, 0), Qt::Key_Escape);
  CHECK(desk.store().journal().record().steps.size() == count + 1);
  desk.drag(desk.at(Vec3{300, 300, 0}), over);
  CHECK(desk.store().journal().record().steps.size() == count + 1);
  // The step that is done is corrected by its blank.
  desk.drag(over - QPoint(30, 0), over + QPoint(20, 0));
  REQUIRE(desk.store().journal().record().steps.size() == count + 2);
  const auto soft = desk.scene().part(desk.part("Ball")).mesh;
  desk.click_widget("blank Passes");
  desk.key(Qt::Key_A, Qt::ControlModifier);
  desk.type("60");
  desk.key(Qt::Key_Return);
  CHECK(desk.store().journal().record().steps.size() == count + 2);
  CHECK(desk.scene().part(desk.part("Ball")).mesh != soft);
  desk.key(Qt::Key_Escape);
  desk.key(Qt::Key_Escape);
  CHECK(desk.sentence().startsWith("Picking"));
}
