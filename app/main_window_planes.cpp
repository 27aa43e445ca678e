// What the window offers of planes, guides and views: the button in the status strip, and entries of the menus;
// declared in main_window.h.
#include <QMenu>
#include <QSettings>
#include <QToolButton>

#include "app/main_window.h"
#include "app/stage/stage.h"
#include "app/text.h"

namespace tack {
namespace {

NamedView view_as(const Camera& camera) {
  return {{}, camera.target, camera.turn, camera.tilt, camera.roll, camera.distance, camera.perspective};
}
Camera camera_as(const NamedView& view) {
  Camera camera;
  camera.target = view.target;
  camera.turn = view.turn;
  camera.tilt = view.tilt;
  camera.roll = view.roll;
  camera.distance = view.distance;
  camera.perspective = view.perspective;
  return camera;
}

constexpr std::pair<const char*, Elevation> kStrips[] = {{"front", Elevation::Front}, {"side", Elevation::Side}};

QString escaped(const std::string& name) { return label_of(name).replace('&', "&&"); }

}  // namespace

void MainWindow::fill_plane_menu(QMenu& menu) {
  menu.clear();
  const Scene& scene = store_.scene();
  const auto offer = [&](const QString& words, PartId plane) {
    QAction* action = menu.addAction(words);
    action->setCheckable(true);
    action->setChecked(scene.plane() == plane);
    connect(action, &QAction::triggered, this, [this, plane] { store_.use_plane(plane); });
  };
  offer("World, the ground\t" + keys_.of("world").toString(QKeySequence::NativeText), kNoPart);
  std::vector<PartId> planes = store_.planes_lately();
  for (const PartId plane : planes_in(scene))
    if (std::find(planes.begin(), planes.end(), plane) == planes.end()) planes.push_back(plane);
  constexpr std::size_t kMost = 12;
  if (planes.size() > kMost) planes.resize(kMost);
  for (const PartId plane : planes) offer(escaped(scene.part(plane).name), plane);
  menu.addSeparator();
  connect(menu.addAction("Pick one …"), &QAction::triggered, this, [this] { bench_->begin(UsePlane{}, "plane"); });
  connect(menu.addAction("Lay a new one"), &QAction::triggered, this, [this] { bench_->use(id_of<LayPlane>); });
  connect(menu.addAction("Its grid …"), &QAction::triggered, this, [this] { offer_grid(); });
}

void MainWindow::make_plane_button(QToolButton* button, QToolButton* back) {
  auto* menu = new QMenu(button);
  menu->setObjectName("plane menu");
  connect(menu, &QMenu::aboutToShow, this, [this, menu] { fill_plane_menu(*menu); });
  fill_plane_menu(*menu);
  button->setMenu(menu);
  connect(back, &QToolButton::clicked, this, [this] { store_.use_plane(kNoPart); });
  const auto show = [this, button, back] {
    button->setText(QString("Plane  %1").arg(escaped(plane_words(store_.scene(), store_.scene().plane()))));
    const QString key = keys_.of("world").toString(QKeySequence::NativeText);
    back->setText(key.isEmpty() ? QString("World") : QString("World  %1").arg(key));
    back->setVisible(store_.scene().plane() != kNoPart);
  };
  connect(&store_, &Store::scene_changed, button, show);
  connect(&keys_, &Keys::changed, button, show);
  show();
}

// Seen wherever a free drag is possible.
void MainWindow::make_drag_switch(QToolButton* button) {
  button->setCheckable(true);
  connect(button, &QToolButton::clicked, this, [this](bool on) { drag_along_plane(on); });
  const auto show = [this, button] {
    const bool along = store_.preferences().along_plane;
    const VerbId row = bench_->draft().row();
    button->setVisible(row == id_of<Move> || (row == id_of<Pick> && store_.preferences().nudges));
    button->setChecked(along);
    button->setText(along ? QString("Drags  along %1").arg(escaped(plane_words(store_.scene(), store_.scene().plane())))
                          : QString("Drags  across the view"));
  };
  connect(bench_, &Workbench::verb_changed, button, show);
  connect(&store_, &Store::look_changed, button, show);
  connect(&store_, &Store::scene_changed, button, show);
  show();
}

void MainWindow::offer_grid() {
  const PlaneGrid now = grid_of(store_.scene(), store_.scene().plane());
  SetGrid grid;
  grid.plane = store_.scene().plane();
  if (now.spacing > 0) grid.spacing = Amount{now.spacing};
  grid.parts = now.parts;
  grid.extent = Amount{now.extent};
  bench_->offer(grid);
}

void MainWindow::drag_along_plane(bool on) {
  Preferences p = store_.preferences();
  p.along_plane = on;
  store_.set_preferences(p);
  store_.say(on ? "What is dragged freely goes along the plane in use; hold E to lift it off."
                : "What is dragged freely goes across the view.");
}

void MainWindow::add_plane_entries(QMenu& part, const AddEntry& add) {
  QMenu* planes = part.addMenu("Planes");
  add(planes, "&Lay a plane", {}, [this](bool) { bench_->use(id_of<LayPlane>); });
  add(planes, "Take the picked one into &use", {}, [this](bool) {
    if (!store_.has_picked()) return;
    if (store_.scene().part(store_.picked().front()).guide != GuideKind::Plane)
      return store_.say("What is picked is not a plane.", Tone::Wrong);
    store_.use_plane(store_.picked().front());
  });
  add(planes, "&Grid of the plane in use …", {}, [this](bool) { offer_grid(); });
  planes->addSeparator();
  add(planes, "&Bring onto the plane in use, keeping its numbers", QKeySequence("Ctrl+Shift+B"), [this](bool) {
    if (!store_.has_picked()) return;
    OntoPlane onto;
    onto.what = store_.picked();
    onto.to = store_.scene().plane();
    // From World, or from the one that was in use before it.
    const std::vector<PartId> lately = store_.planes_lately();
    if (onto.to == kNoPart && !lately.empty()) onto.from = lately.front();
    if (onto.from == onto.to)
      return store_.say("World is the plane in use: choose the one to bring it onto first.", Tone::Wrong);
    bench_->offer(onto);
  });
  add(planes, "Lay on the plane in use by &three places …", {}, [this](bool) {
    if (!store_.has_picked()) return;
    Lay lay;
    lay.what = store_.picked();
    lay.on = store_.scene().plane();
    bench_->begin(lay, ".origin");
  });
}

void MainWindow::add_guide_entries(QMenu& part, const AddEntry& add) {
  QMenu* guides = part.addMenu("La&y a guide");
  const std::tuple<QString, GuideKind, const char*> kinds[] = {
      {"&Point …", GuideKind::Point, ""},
      {"&Line along a place's direction …", GuideKind::Line, "Ctrl+J"},
      {"Pl&ane across a place's direction …", GuideKind::Plane, ""}};
  for (const auto& [name, kind, key] : kinds)
    add(guides, name, QKeySequence(QString(key)),
        [this, kind = kind](bool) { bench_->begin(AddGuide{.kind = kind}, "at"); });
  const std::tuple<QString, AddGuide::Way, const char*, const char*> ways[] = {
      {"Line from a place to a place …", AddGuide::Way::Through, ".from", ""},
      {"Line &beside an edge …", AddGuide::Way::Beside, "beside", "Ctrl+Shift+J"},
      {"Line at an an&gle to an edge …", AddGuide::Way::Angle, "beside", ""}};
  for (const auto& [name, way, blank, key] : ways)
    add(guides, name, QKeySequence(QString(key)),
        [this, way = way, blank = blank](bool) { bench_->begin(AddGuide{.way = way}, blank); });
  guides->addSeparator();
  add(guides, "&Hide all guides, and show them again", QKeySequence("Ctrl+Alt+J"), [this](bool) {
    std::vector<PartId> shown, hidden;
    for (const PartId id : store_.scene().in_tree_order())
      if (store_.scene().part(id).guide != GuideKind::None)
        (store_.scene().part(id).hidden ? hidden : shown).push_back(id);
    if (shown.empty() && hidden.empty()) return store_.say("There is no guide.");
    store_.perform(Show{shown.empty() ? hidden : shown, shown.empty()});
  });
}

void MainWindow::add_view_entries(QMenu& view, const AddEntry& add) {
  add(&view, "Square onto the plane in use", QKeySequence("Ctrl+Shift+W"),
      [this](bool) { stage_->square_onto_plane(); });
  QAction* step = add(&view, "Keep the views in step", {}, [this](bool on) { stage_->keep_in_step(on); });
  step->setCheckable(true);
  connect(&store_, &Store::started, step, [this, step] { step->setChecked(stage_->keeps_in_step()); });
  QMenu* kept = view.addMenu("Kept views");
  connect(kept, &QMenu::aboutToShow, this, [this, kept] {
    kept->clear();
    const std::vector<NamedView>& views = store_.scene().views();
    for (const NamedView& v : views)
      connect(kept->addAction(escaped(v.name)), &QAction::triggered, this,
              [this, v] { stage_->set_camera(camera_as(v)); });
    if (!views.empty()) kept->addSeparator();
    connect(kept->addAction("Keep this view …"), &QAction::triggered, this, [this] { keep_view(); });
    if (views.empty()) return;
    QMenu* forget = kept->addMenu("Forget");
    for (const NamedView& v : views)
      connect(forget->addAction(escaped(v.name)), &QAction::triggered, this,
              [this, name = v.name] { store_.perform(ForgetView{name}); });
  });
  QMenu* strips = view.addMenu("Elevations along the edges");
  const std::pair<QString, Elevation> kinds[] = {{"From the &front, below", Elevation::Front},
                                                 {"From the &side, on the right", Elevation::Side}};
  for (const auto& [text, kind] : kinds) {
    QAction* strip = add(strips, text, {}, [this, kind = kind](bool on) {
      stage_->show_elevation(kind, on);
      store_.say(on ? "Drag a drawing to move its part in two axes, the arc at its corner to turn it."
                    : "The strip is closed.");
    });
    strip->setCheckable(true);
    connect(stage_, &Stage::camera_changed, strip,
            [this, strip, kind = kind] { strip->setChecked(stage_->shows(kind)); });
  }
  add(strips, "&Both, and none again", QKeySequence("Ctrl+Shift+F"), [this](bool) {
    const bool on = !(stage_->shows(Elevation::Front) && stage_->shows(Elevation::Side));
    for (const Elevation kind : {Elevation::Front, Elevation::Side}) stage_->show_elevation(kind, on);
  });
  QAction* along = add(&view, "Drag along the plane in use", {}, [this](bool on) { drag_along_plane(on); });
  along->setCheckable(true);
  const auto show = [this, along] { along->setChecked(store_.preferences().along_plane); };
  connect(&store_, &Store::look_changed, along, show);
  show();
}

// Which elevations are shown, and how wide, is remembered like the panels.
void MainWindow::save_strips() const {
  QSettings settings;
  for (const auto& [name, kind] : kStrips) {
    settings.setValue(QString("elevations/") + name, stage_->shows(kind));
    settings.setValue(QString("elevations/") + name + " width", stage_->strip_width(kind));
  }
}

void MainWindow::restore_strips() {
  const QSettings settings;
  for (const auto& [name, kind] : kStrips) {
    const int wide = settings.value(QString("elevations/") + name + " width").toInt();
    if (wide > 0 && wide < 4000) stage_->set_strip_width(kind, wide);
    stage_->show_elevation(kind, settings.value(QString("elevations/") + name).toBool());
  }
}

// The view is kept at once under a free name, which the sentence then offers to be typed.
void MainWindow::keep_view() {
  const std::vector<NamedView>& views = store_.scene().views();
  const auto taken = [&](const std::string& name) {
    return std::any_of(views.begin(), views.end(), [&](const NamedView& v) { return v.name == name; });
  };
  KeepView keep;
  keep.view = view_as(stage_->camera());
  for (std::size_t number = views.size() + 1; keep.name.empty() || taken(keep.name); ++number)
    keep.name = "View " + std::to_string(number);
  if (!store_.perform(keep)) return;
  bench_->open_entry(blank_of(Verb(keep), "name"));
}

}  // namespace tack
