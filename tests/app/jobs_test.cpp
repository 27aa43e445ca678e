// The jobs of demo/jobs.md, from start to end, as a person does them.
#include <QApplication>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <catch2/catch.hpp>

#include "app/choice_row.h"
#include "core/fit/measure.h"
#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

double gap(Desk& desk, const TackAddress& a, const TackAddress& b) { return distance(desk.point(a), desk.point(b)); }

}  // namespace

TEST_CASE("job 1: bring a channel's vertex to a post's collar, prove it, correct it, save it", "[job]") {
  Desk desk;
  const PartId channel = desk.part("Channels/Channel 3"), post = desk.part("Posts/Post 4");
  // Pick on the stage.
  desk.click(desk.at(desk.point({TackKind::BoxPoint, channel, 0, {0.5, 0.15, 1}})));
  REQUIRE(desk.store().picked() == std::vector<PartId>{channel});
  CHECK(desk.sentence().contains("Channel 3"));
  // Meet: From.
  desk.move_to(desk.at(Vec3{-560, -400, 0}));
  desk.key(Qt::Key_T);
  CHECK(desk.sentence() == "Bring Channel 3 from a place on it to a place to go, as it stands, 0 mm apart.");
  CHECK(desk.message().contains("Click a place on the part to move"));
  const TackAddress from = desk.visible_vertex(channel), to = desk.visible_vertex(post);
  desk.click(desk.at(from));
  CHECK(desk.sentence().contains("from its vertex"));
  CHECK(desk.message().contains("Click where it goes"));
  // Hover To: named, and the ghost in place.
  desk.move_to(desk.at(to));
  CHECK(desk.sentence().contains("to vertex of Post 4"));
  const Marks marks = desk.window().bench().marks();
  REQUIRE(marks.to);
  CHECK(marks.to->name == "vertex · Post 4");
  REQUIRE(marks.ghosts.size() == 1);
  CHECK(marks.ghosts[0].first == channel);
  CHECK(distance(marks.ghosts[0].second * desk.scene().part(channel).mesh->positions()[from.index], desk.point(to)) <
        1e-9);
  CHECK(desk.store().journal().record().steps.empty());
  CHECK(desk.store().picked() == std::vector<PartId>{channel});
  // Click To: done.
  desk.click(desk.at(to));
  CHECK(desk.sentence().startsWith("Brought Channel 3 from its vertex to vertex of Post 4"));
  CHECK(gap(desk, from, to) <= exact_bound(desk.scene(), from, to));
  CHECK(static_cast<QLabel*>(desk.widget("loupe state"))->text() == "exact");
  CHECK(static_cast<QListWidget*>(desk.widget("steps"))->count() == 1);
  // The gap blank can still be typed into: the same step changes.
  desk.type("3/8 in");
  desk.key(Qt::Key_Return);
  CHECK(desk.sentence().contains("3/8 in apart"));
  CHECK(gap(desk, from, to) == Approx(9.525).epsilon(1e-12));
  CHECK(desk.store().journal().record().steps.size() == 1);
  CHECK(static_cast<QLabel*>(desk.widget("loupe state"))->text().contains("9.525"));
  // Undo takes back the blank, then the step; redo does both again.
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(gap(desk, from, to) <= exact_bound(desk.scene(), from, to));
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.store().journal().record().steps.empty());
  desk.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  // Measure between the same two says 0.
  desk.key(Qt::Key_U);
  desk.click(desk.at(from));
  desk.click(desk.at(to));
  CHECK(desk.sentence().contains(": 0 mm, along x 0 mm, y 0 mm, z 0 mm"));
  // Another part by numbers.
  desk.key(Qt::Key_P);
  desk.click(desk.at(desk.point({TackKind::BoxPoint, desk.part("Catch basin"), 0, {0.5, 0.5, 0.2}})));
  REQUIRE(desk.store().picked() == std::vector<PartId>{desk.part("Catch basin")});
  desk.type_into("position x", "440");
  desk.type_into("position y", "-2 1/2 in");
  desk.type_into("rotation z", "1/8 turn");
  const Placement& basin = desk.scene().part(desk.part("Catch basin")).placement;
  CHECK(basin.position == Vec3{440, -63.5, 40});
  CHECK(basin.rotation == Vec3{0, 0, 45});
  // Save, and open again: every number the same to the last bit.
  const Folder folder;
  bool saved = false;
  desk.window().files().save(folder / "run.glb", [&](bool ok) { saved = ok; });
  desk.wait([&] { return saved; });
  CHECK_FALSE(desk.store().changed());
  CHECK_FALSE(std::filesystem::exists(folder / "run.glb.bak"));
  const Scene before = desk.scene();
  bool opened = false;
  QObject::connect(&desk.window().files(), &FileWorks::opened, &desk.window(), [&] { opened = true; });
  desk.window().open_files({QString::fromStdString(folder / "run.glb")});
  desk.wait([&] { return opened; });
  for (const PartId id : before.in_tree_order()) {
    const auto same = find_by_path(desk.scene(), path_of(before, id));
    REQUIRE(same);
    CHECK(desk.scene().part(*same).placement == before.part(id).placement);
  }
}

TEST_CASE("job 2: the same in one drag, from tack to tack, without picking", "[job]") {
  Desk desk;
  desk.key(Qt::Key_T);
  const TackAddress from = desk.visible_vertex(desk.part("Short channel")),
                    to = desk.visible_vertex(desk.part("Posts/Post 4"));
  desk.drag(desk.at(from), desk.at(to));
  CHECK(desk.sentence().startsWith("Brought Short channel"));
  CHECK(gap(desk, from, to) <= exact_bound(desk.scene(), from, to));
  CHECK(desk.store().picked().empty());
}

TEST_CASE("job 3: put the scoop where world numbers say, under its unevenly scaled carriage", "[job]") {
  Desk desk;
  const PartId scoop = desk.part("Scoop");
  desk.store().pick({scoop});
  desk.type_into("position z", "300");
  desk.type_into("rotation z", "90");
  CHECK(desk.point({TackKind::Pivot, scoop, 0, {}}).z == Approx(300).epsilon(1e-13));
  CHECK(static_cast<QLineEdit*>(desk.widget("rotation z"))->text() == "90°");
  CHECK(desk.scene().part(scoop).parent == desk.part("Carriage"));
}

TEST_CASE("job 4: bring the sign plate in, in inches, Y up, by dropping it", "[job]") {
  Desk desk;
  const std::size_t before = desk.scene().size();
  desk.drop(source("demo/sign-plate.obj"));
  QDialog* dialog = nullptr;
  desk.wait([&] { return (dialog = desk.window().findChild<QDialog*>("import")) && dialog->isVisible(); });
  auto* unit = dialog->findChild<ChoiceRow*>("unit");
  unit->setFocus();
  QTest::keyClicks(unit, "in");
  desk.settle();
  QTest::keyClick(dialog, Qt::Key_Return);
  desk.wait([&] { return desk.scene().size() == before + 1; });
  const PartId sign = desk.part("Sign plate");
  CHECK(desk.store().picked() == std::vector<PartId>{sign});
  CHECK(world_box_of(*desk.scene().part(sign).mesh, world_of(desk.scene(), sign)).size().x ==
        Approx(314.129).epsilon(1e-5));
  desk.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(desk.scene().size() == before);
}
