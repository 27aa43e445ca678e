// The Parts tree: its rows are those of the scene, whatever is done to it.
#include <QAbstractItemModelTester>
#include <QLineEdit>
#include <QScrollBar>
#include <random>

#include "tests/app/desk.h"

using namespace tack;
using namespace tack::test;

namespace {

// The rows as the view would find them, from the top down.
void walk(const QAbstractItemModel& model, const QModelIndex& above, std::vector<PartId>& rows) {
  for (int row = 0; row < model.rowCount(above); ++row) {
    const QModelIndex index = model.index(row, 0, above);
    rows.push_back(PartsModel::part_of(index));
    CHECK(model.parent(index) == above);
    walk(model, index, rows);
  }
}

std::vector<PartId> rows_of(const QAbstractItemModel& model) {
  std::vector<PartId> rows;
  walk(model, {}, rows);
  return rows;
}

// Groups in groups; names repeat.
Scene nest(std::mt19937& random, int parts) {
  Scene scene;
  for (int i = 0; i < parts; ++i) {
    Part part;
    part.name = std::string(i % 3 == 0 ? "Rail " : "Post ") + std::to_string(i % 40);
    if (i > 0 && random() % 3 > 0) part.parent = static_cast<PartId>(1 + random() % static_cast<unsigned>(i));
    scene.add(std::move(part));
  }
  return scene;
}

QPoint middle_of_row(Desk& desk, PartId part) {
  auto& tree = desk.window().parts().tree();
  tree.scrollTo(tree.index_of(part));
  desk.settle();
  return tree.viewport()->mapTo(&desk.window(), tree.visualRect(tree.index_of(part)).center());
}

}  // namespace

TEST_CASE("the rows of Parts are the parts of the scene, whatever becomes of it", "[parts]") {
  std::mt19937 random(7);
  PartsModel model;
  QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::Fatal);
  Scene scene = nest(random, 120);
  model.show(scene);
  CHECK(rows_of(model) == scene.in_tree_order());
  int resets = 0;
  QObject::connect(&model, &QAbstractItemModel::modelReset, [&] { ++resets; });
  for (int step = 0; step < 300; ++step) {
    const std::vector<PartId> all = scene.in_tree_order();
    const PartId part = all[random() % all.size()], other = all[random() % all.size()];
    Part changed = scene.part(part);
    const int before = resets;
    bool same_rows = true;
    switch (random() % 6) {
      case 0: changed.hidden = !changed.hidden, scene.replace(part, changed); break;
      case 1: changed.name += "x", scene.replace(part, changed); break;
      case 2: scene.place(part, {{1.0 * step, 0, 0}, {}}); break;
      case 3: scene.reparent(part, other), same_rows = false; break;
      case 4:
        if (all.size() > 60) scene.remove(part), same_rows = false;
        break;
      case 5: changed.parent = part, scene.add(changed), same_rows = false; break;
    }
    model.show(scene);
    CHECK(rows_of(model) == scene.in_tree_order());
    if (same_rows) CHECK(resets == before);
    for (const PartId id : {part, other})
      if (scene.contains(id)) CHECK(model.index_of(id).data().toString().toStdString() == scene.part(id).name);
  }
  // What is looked for, and what it hangs below.
  model.find("RAIL 1");
  std::vector<PartId> wanted;
  for (const PartId id : scene.in_tree_order()) {
    bool any = false;
    for (const PartId below : scene.in_tree_order())
      any |= is_within(scene, below, id) && scene.part(below).name.find("Rail 1") != std::string::npos;
    if (any) wanted.push_back(id);
  }
  REQUIRE_FALSE(wanted.empty());
  CHECK(wanted.size() < scene.size());
  CHECK(rows_of(model) == wanted);
  // A new name is found at once.
  Part renamed = scene.part(wanted.back());
  renamed.name = "Gate";
  scene.replace(wanted.back(), renamed);
  model.show(scene);
  CHECK_FALSE(model.index_of(wanted.back()).isValid());
  model.show({});
  CHECK(rows_of(model).empty());
  model.find({});
  CHECK(model.rowCount() == 0);
}

TEST_CASE("Parts stays unfolded and scrolled as it was, through steps and a search", "[parts]") {
  Desk desk;
  std::mt19937 random(3);
  auto& tree = desk.window().parts().tree();
  const PartId post = desk.part("Post 1");
  const QModelIndex group = tree.index_of(desk.scene().part(post).parent);
  const bool nested = group.isValid();
  const PartId above = PartsModel::part_of(group);
  if (nested) tree.collapse(group);
  REQUIRE(desk.store().perform(Delete{{desk.part("Catch basin")}}));
  desk.settle();
  if (nested) CHECK_FALSE(tree.isExpanded(tree.index_of(above)));
  // What is found is unfolded; afterwards it is as it was.
  tree.filter("post 1");
  desk.settle();
  CHECK(tree.index_of(post).isValid());
  if (nested) CHECK(tree.isExpanded(tree.index_of(above)));
  CHECK_FALSE(tree.index_of(desk.part("Funnel")).isValid());
  tree.filter({});
  if (nested) CHECK_FALSE(tree.isExpanded(tree.index_of(above)));
  CHECK(tree.index_of(desk.part("Funnel")).isValid());
  // A step far from what is looked at does not scroll.
  tree.expandAll();
  desk.settle();
  auto* bar = tree.verticalScrollBar();
  REQUIRE(bar->maximum() > 0);
  desk.store().pick({desk.part("Foot 1")});  // far up
  bar->setValue(bar->maximum());
  const int at = bar->value();
  REQUIRE(desk.store().perform(Delete{{desk.part("Funnel")}}));
  CHECK(bar->value() >= at - 1);
  // Nor does a search that was given up; what was picked in it is shown.
  tree.filter("foot");
  CHECK(bar->value() == 0);
  tree.filter("post");
  desk.store().pick({});
  tree.filter({});
  CHECK(bar->value() >= at - 1);
  tree.filter("foot");
  desk.store().pick({desk.part("Foot 2")});
  tree.filter({});
  CHECK(tree.viewport()->rect().contains(tree.visualRect(tree.index_of(desk.part("Foot 2")))));
}

TEST_CASE("in a search of Parts, Ctrl-click adds to what is picked out of sight, and a name can be changed",
          "[parts]") {
  Desk desk;
  auto& tree = desk.window().parts().tree();
  const PartId funnel = desk.part("Funnel"), post = desk.part("Post 1"), other = desk.part("Post 2");
  desk.click(middle_of_row(desk, funnel));
  CHECK(desk.store().picked() == std::vector<PartId>{funnel});
  desk.key(Qt::Key_F, Qt::ControlModifier);
  desk.type("post");
  desk.settle();
  CHECK(desk.store().picked() == std::vector<PartId>{funnel});
  desk.click(middle_of_row(desk, post), Qt::ControlModifier);
  CHECK(desk.store().picked() == std::vector<PartId>{funnel, post});
  desk.click(middle_of_row(desk, other));
  CHECK(desk.store().picked() == std::vector<PartId>{other});
  // Renamed so that the search has it no more: the row goes, nothing else happens.
  desk.key(Qt::Key_F2);
  desk.settle();
  desk.type("Mast");
  desk.key(Qt::Key_Return);
  desk.settle();
  CHECK(desk.scene().part(other).name == "Mast");
  CHECK_FALSE(tree.index_of(other).isValid());
  CHECK(desk.store().picked() == std::vector<PartId>{other});
  // The first that is found.
  desk.key(Qt::Key_F, Qt::ControlModifier);
  desk.type("ma");
  desk.key(Qt::Key_Return);
  CHECK(desk.store().picked() == std::vector<PartId>{other});
}

TEST_CASE("a click in a column of Parts hides and locks, and a drop hangs a part elsewhere", "[parts]") {
  Desk desk;
  auto& tree = desk.window().parts().tree();
  const PartId funnel = desk.part("Funnel"), basin = desk.part("Catch basin");
  const auto click_column = [&](PartsModel::Column column) {
    desk.click(tree.viewport()->mapTo(&desk.window(),
                                      tree.visualRect(tree.index_of(funnel).siblingAtColumn(column)).center()));
  };
  middle_of_row(desk, funnel);
  click_column(PartsModel::Shown);
  CHECK(desk.scene().part(funnel).hidden);
  CHECK(tree.index_of(funnel).siblingAtColumn(PartsModel::Shown).data(Qt::AccessibleTextRole) == "hidden");
  click_column(PartsModel::Shown);
  CHECK_FALSE(desk.scene().part(funnel).hidden);
  click_column(PartsModel::Locked);
  CHECK(desk.scene().part(funnel).locked);
  click_column(PartsModel::Locked);
  // Dropped on a row, as the view hands it on.
  const PartId nested = [&] {
    for (const PartId id : desk.scene().in_tree_order())
      if (desk.scene().part(id).parent != kNoPart) return id;
    return kNoPart;
  }();
  REQUIRE(nested != kNoPart);
  desk.store().pick({nested});
  tree.scrollTo(tree.index_of(basin));
  desk.settle();
  std::unique_ptr<QMimeData> data(tree.model()->mimeData({tree.index_of(nested)}));
  REQUIRE(data);
  const QPoint on = tree.visualRect(tree.index_of(basin)).center();
  // Qt hands on nothing that was not begun by the pointer.
  struct Open : PartsTree {
    using PartsTree::dropEvent;
  };
  QDropEvent drop(on, Qt::MoveAction, data.get(), Qt::LeftButton, Qt::NoModifier);
  (tree.*(&Open::dropEvent))(&drop);
  desk.settle();
  CHECK(desk.scene().part(nested).parent == basin);
  CHECK(tree.index_of(nested).parent() == tree.index_of(basin));
}

TEST_CASE("another document begins without the search, and without what was unfolded in the one before", "[parts]") {
  Desk desk;
  auto& tree = desk.window().parts().tree();
  tree.expandAll();
  desk.key(Qt::Key_F, Qt::ControlModifier);
  desk.type("post");
  desk.settle();
  auto* search = desk.window().findChild<QLineEdit*>("search parts");
  REQUIRE(search->text() == "post");
  // Five hundred parts below one with the same number as a group of the demo: too many to be unfolded.
  Document other;
  for (int i = 0; i < 500; ++i) {
    Part part;
    part.name = "Slat " + std::to_string(i);
    if (i > 0) part.parent = 1;
    other.scene.add(std::move(part));
  }
  desk.store().start(other, {});
  desk.settle();
  CHECK(search->text().isEmpty());
  CHECK(rows_of(*tree.model()) == desk.scene().in_tree_order());
  CHECK_FALSE(tree.isExpanded(tree.index_of(1)));
  CHECK(tree.verticalScrollBar()->value() == 0);
  // A small one is unfolded.
  Document few;
  Part group, slat;
  group.name = "Rack";
  slat.name = "Slat";
  slat.parent = few.scene.add(std::move(group));
  few.scene.add(std::move(slat));
  desk.store().start(few, {});
  CHECK(tree.isExpanded(tree.index_of(1)));
}
