#include "app/main_window.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDockWidget>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>
#include <QPainter>
#include <QPushButton>
#include <QSettings>
#include <QStatusBar>
#include <QVBoxLayout>

#include "app/files/import_dialog.h"
#include "app/files/recent.h"
#include "app/help/help_window.h"
#include "app/help/tour.h"
#include "app/panels/shelf_panel.h"
#include "app/pointer_list.h"
#include "app/text.h"
#include "app/theme.h"
#include "app/verb_row.h"

namespace tack {

constexpr const char* kScenes =
    "Scenes and parts (*.glb *.gltf *.obj *.stl *.ply *.fbx *.dae *.3mf *.x3d);;All files (*)";
namespace {

// Counts on with every panel that comes or goes: an arrangement that does not know one would lose it.
constexpr int kPanels = 1;

QDockWidget* dock_for(QWidget* panel, const QString& name, QMainWindow* window) {
  auto* dock = new QDockWidget(name, window);
  dock->setObjectName("dock " + name);
  dock->setWidget(panel);
  // The panels have their own quiet titles; the dock's frame only shows while docks are being arranged.
  dock->setTitleBarWidget(new QWidget(dock));
  dock->setFeatures(QDockWidget::DockWidgetClosable | QDockWidget::DockWidgetMovable |
                    QDockWidget::DockWidgetFloatable);
  return dock;
}

std::filesystem::path path_of(const QString& file) { return std::filesystem::path(file.toStdString()); }

bool says_its_unit(const QString& file) {
  return file.endsWith(".glb", Qt::CaseInsensitive) || file.endsWith(".gltf", Qt::CaseInsensitive);
}

}  // namespace

MainWindow::MainWindow() {
  setObjectName("main window");
  sentence_ = new SentenceBar;
  bench_ = new Workbench(store_, *sentence_, keys_, this);
  files_ = new FileWorks(store_, this);
  stage_ = new Stage(store_, *bench_);
  verbs_ = new VerbRow(*bench_, keys_, nullptr);
  list_ = new PointerList(this);

  auto* top = new QWidget;
  auto* column = new QVBoxLayout(top);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(verbs_);
  column->addWidget(sentence_);
  // The menu bar carries the document's name at its right end; verbs and sentence stand under it over the whole width.
  auto* bar = new QMenuBar;
  title_ = new QLabel;
  title_->setFont(ui_font(1, QFont::DemiBold));
  title_->setContentsMargins(0, 0, 14, 0);
  auto* menu = new QWidget;
  menu->setObjectName("page");
  auto* menu_column = new QVBoxLayout(menu);
  menu_column->setContentsMargins(0, 0, 0, 0);
  menu_column->setSpacing(0);
  auto* menu_row = new QHBoxLayout;
  menu_row->setContentsMargins(0, 0, 0, 0);
  menu_row->addWidget(bar, 1);
  menu_row->addWidget(title_);
  menu_column->addLayout(menu_row);
  menu_column->addWidget(top);
  setMenuWidget(menu);
  bar->setObjectName("menus");

  auto* centre = new QWidget;
  auto* centre_column = new QVBoxLayout(centre);
  centre_column->setContentsMargins(0, 0, 0, 0);
  centre_column->setSpacing(0);
  offer_ = new QWidget;
  offer_->hide();
  centre_column->addWidget(offer_);
  tour_ = new Tour(store_, *bench_, *stage_, nullptr);
  centre_column->addWidget(tour_);
  centre_column->addWidget(stage_, 1);
  setCentralWidget(centre);
  setCorner(Qt::BottomLeftCorner, Qt::LeftDockWidgetArea);
  setCorner(Qt::BottomRightCorner, Qt::RightDockWidgetArea);
  set_text_percent(store_.preferences().text_percent);
  set_theme(is_night(store_.preferences()));  // before the docks: their borders' width is read once
  make_docks();
  make_status();
  make_menus();

  connect(&store_, &Store::said, this, &MainWindow::show_message);
  connect(&store_, &Store::document_changed, this, &MainWindow::show_title);
  connect(&store_, &Store::started, this, [this] { isolated_.clear(); });
  connect(files_, &FileWorks::opened, this, [this] {
    stage_->frame_all();
    remember_recent(QString::fromStdString(store_.path().string()));
    // Once it has been drawn there is a picture to remember it by.
    auto* once = new QObject(this);
    connect(stage_, &Stage::painted, once, [this, once] {
      if (!stage_->is_shown()) return;
      once->deleteLater();
      QMetaObject::invokeMethod(this, &MainWindow::keep_recent_picture, Qt::QueuedConnection);
    });
  });
  files_->confirm = [this](std::function<void()> then) { with_safe_work(std::move(then)); };
  connect(files_, &FileWorks::busy_changed, this, [this] { stop_->setVisible(files_->busy()); });
  files_->ask_unknown = [this](const std::set<std::string>& names, std::function<void(UnknownNumbers)> then) {
    ask_unknown(names, std::move(then));
  };
  connect(stage_, &Stage::dropped, this,
          [this](const QStringList& files, const std::optional<TackAddress>& on, const Vec3& at, bool from_shelf) {
            if (!from_shelf) return bring_files(files, {at, on, false});
            // What the artist keeps on the shelf has its unit and axes; nobody is asked about them each time.
            for (const QString& file : files) files_->bring(path_of(file), {}, {at, on, true});
          });
  connect(stage_, &Stage::list_asked, this, &MainWindow::open_list);
  connect(bench_, &Workbench::list_asked, this, [this] { open_list(stage_->pointer()); });
  connect(bench_, &Workbench::isolate_asked, this, &MainWindow::isolate);
  connect(bench_, &Workbench::aids_asked, this, [this] {
    stage_->hide_aids(!stage_->hides_aids());
    store_.say(stage_->hides_aids() ? "Grid, marks, guides and labels are hidden: the same key shows them."
                                    : "Grid, marks, guides and labels are shown.");
  });

  QSettings settings;
  apply_theme(is_night(store_.preferences()));
  // On a smaller screen, and on another one than last time, it fits.
  const QRect room = screen()->availableGeometry();
  resize(QSize(1280, 800).boundedTo(room.size()));
  restoreGeometry(settings.value("geometry").toByteArray());
  if (!isMaximized() && !isFullScreen()) {
    resize(size().boundedTo(room.size()));
    move(std::clamp(x(), room.left(), std::max(room.left(), room.right() + 1 - width())),
         std::clamp(y(), room.top(), std::max(room.top(), room.bottom() + 1 - height())));
  }
  restoreState(settings.value("arrangement").toByteArray(), kPanels);
  restore_strips();
  show_title();
  offer_left_behind();
  tour_->open_demo = [this](std::function<void()> then) { with_safe_work([this, then] { open_demo(then); }); };
  connect(tour_, &Tour::panel_wanted, this, [this](const QString& name) {
    if (auto* dock = findChild<QDockWidget*>("dock " + name)) dock->show(), dock->raise();
  });
  if (Tour::is_new() && !offer_->isVisibleTo(this)) tour_->offer();
  stage_->setFocus();
  store_.say(bench_->draft().hint(), Tone::Hint);
}

// The panels go after the store: nothing that it says on its way out may reach them.
MainWindow::~MainWindow() { store_.disconnect(); }

void MainWindow::make_docks() {
  parts_ = new PartsPanel(store_, *bench_);
  steps_ = new StepsPanel(store_, *bench_);
  placement_ = new PlacementPanel(store_, *bench_);
  connect(placement_, &PlacementPanel::fit_asked, this, [this](const Verb& verb) { bench_->begin(verb, "to"); });
  loupe_ = new Loupe(store_, *bench_, *stage_);
  auto* parts = dock_for(parts_, "Parts", this);
  fit_ = new FitPanel(store_, *bench_, *stage_);
  auto* steps = dock_for(steps_, "Steps", this);
  auto* fit = dock_for(fit_, "Fit", this);
  colours_ = new ColoursPanel(store_, *bench_);
  auto* colours = dock_for(colours_, "Colours", this);
  auto* shelf_panel = new ShelfPanel(
      *files_, [this](const Scene& scene, const QSize& size) { return stage_->picture_of(scene, size); });
  connect(shelf_panel, &ShelfPanel::put_asked, this, [this](const QString& file) {
    const Vec3& target = stage_->camera().target;
    files_->bring(path_of(file), {}, {Vec3{target.x, target.y, 0}, std::nullopt, true});
  });
  auto* shelf = dock_for(shelf_panel, "Shelf", this);
  auto* placement = dock_for(placement_, "Placement", this);
  auto* loupe = dock_for(loupe_, "Loupe", this);
  addDockWidget(Qt::LeftDockWidgetArea, parts);
  addDockWidget(Qt::LeftDockWidgetArea, steps);
  setTabPosition(Qt::AllDockWidgetAreas, QTabWidget::North);
  tabifyDockWidget(steps, fit);
  tabifyDockWidget(fit, colours);
  tabifyDockWidget(colours, shelf);
  shelf->hide();
  steps->raise();
  addDockWidget(Qt::RightDockWidgetArea, placement);
  addDockWidget(Qt::RightDockWidgetArea, loupe);
  // Larger text takes wider columns, though not in full: the stage keeps its half.
  const double wider = 1 + 0.6 * std::max(0.0, text_percent() / 100.0 - 1);
  resizeDocks({parts, placement}, {qRound(230 * wider), qRound(262 * wider)}, Qt::Horizontal);
  resizeDocks({parts, steps}, {370, 260}, Qt::Vertical);
  resizeDocks({placement, loupe}, {600, 40}, Qt::Vertical);
}

void MainWindow::apply_theme(bool night) {
  set_theme(night);
  message_->setStyleSheet({});
  const QString strip =
      QStringLiteral(
          "QStatusBar { background: %1; border-top: 1px solid %2; } QStatusBar::item { border: none; }"
          "QToolButton { color: %3; border: none; padding: 4px 10px; } QToolButton:hover { background: %4; }"
          "QToolButton::menu-indicator { width: 7px; subcontrol-position: right center; left: -1px; }")
          .arg(theme().paper.name(), theme().hair.name(), theme().ink.name(), theme().card.name());
  statusBar()->setStyleSheet(strip);
  title_->setStyleSheet("color: " + theme().ink.name());
  emit store_.look_changed();
  update();
}

void MainWindow::say_without_memory() {
  store_.say("There was not enough memory for that. Save, and close what is not needed.", Tone::Wrong);
}

void MainWindow::show_message(const QString& text, Tone tone) {
  // A word tells the tone as well as the colour.
  const QString shown = tone == Tone::Wrong ? QString("Not done: %1").arg(text) : text;
  message_->setText(message_->fontMetrics().elidedText(shown, Qt::ElideRight, std::max(80, message_->width() - 8)));
  message_->setToolTip(text);
  message_->setAccessibleName(shown);
  const QColor& colour = tone == Tone::Wrong ? theme().wrong : tone == Tone::Good ? theme().good : theme().ink;
  // Setting a style costs more than all else here, and the line is told something at every move of the pointer.
  set_style(*message_, "color: " + colour.name());
}

void MainWindow::show_title() {
  title_->setText(store_.title());
  setWindowTitle(store_.title() + " – Tack Point");
}

void MainWindow::offer_left_behind() {
  auto found = Autosave::left_behind();
  if (!found) return;
  const auto left = std::make_shared<std::optional<Autosave>>(std::move(found));
  auto* row = new QHBoxLayout(offer_);
  auto* text = new QLabel("Unsaved work from the last session was recovered.", offer_);
  auto* take = new QPushButton("Restore", offer_);
  auto* drop = new QPushButton("Discard", offer_);
  row->setContentsMargins(14, 6, 14, 6);
  row->addWidget(text);
  row->addStretch(1);
  row->addWidget(take);
  row->addWidget(drop);
  offer_->show();
  connect(take, &QPushButton::clicked, this, [this, left] {
    offer_->hide();
    with_safe_work([this, left] {
      if (*left) files_->take_back(*std::exchange(*left, std::nullopt));
    });
  });
  connect(drop, &QPushButton::clicked, this, [this, left] {
    offer_->hide();
    if (*left) (*left)->remove_file();
    left->reset();
  });
}

void MainWindow::open_files(const QStringList& files) {
  if (files.isEmpty()) return;
  // The others follow the first, which makes the document.
  if (files.size() > 1) {
    auto* once = new QObject(this);
    connect(files_, &FileWorks::opened, once, [this, once, rest = files.mid(1)] {
      once->deleteLater();
      for (const QString& file : rest) files_->bring(path_of(file));
    });
    // Where the first cannot be read the next one is the document: none waits for a file that is opened by hand later.
    connect(files_, &FileWorks::open_failed, once, [this, once, rest = files.mid(1)] {
      once->deleteLater();
      open_files(rest);
    });
  }
  files_->open(path_of(files.front()));
}

void MainWindow::new_scene() {
  with_safe_work([this] {
    Document fresh;
    fresh.settings.unit = store_.preferences().unit.toStdString();
    store_.start(std::move(fresh), {});
    files_->forget_autosave();
  });
}

// The demo comes with the program, as a new document: nobody's copy of it is touched.
void MainWindow::open_demo(std::function<void()> then) {
  QFile file(":/demo/heron-hall-parts.glb");
  if (!file.open(QIODevice::ReadOnly)) return store_.say("The demo is not part of this program.", Tone::Wrong);
  const QByteArray bytes = file.readAll();
  const auto delivery = read_delivery(Bytes(bytes.begin(), bytes.end()), "heron-hall-parts.glb", {});
  auto document = delivery ? document_of(*delivery) : tl::unexpected(delivery.error());
  if (!document) return store_.say(document.error());
  store_.start(std::move(*document), {});
  files_->forget_autosave();
  stage_->frame_all();
  then();
}

void MainWindow::ask_open() {
  with_safe_work([this] {
    const QString file = QFileDialog::getOpenFileName(
        this, "Open", QString::fromStdString(store_.path().parent_path().string()), kScenes);
    if (!file.isEmpty()) files_->open(path_of(file));
  });
}

void MainWindow::open_recent(const QString& path) {
  with_safe_work([this, path] { files_->open(path_of(path)); });
}

void MainWindow::ask_bring() {
  bring_files(QFileDialog::getOpenFileNames(this, "Bring in",
                                            QString::fromStdString(store_.path().parent_path().string()), kScenes));
}

void MainWindow::ask_unknown(const std::set<std::string>& names, std::function<void(UnknownNumbers)> then) {
  QStringList all;
  for (const std::string& name : names) all << label_of(name);
  auto* box = new QMessageBox(QMessageBox::NoIcon, "Bring in",
                              QString("What comes in has %1, which may name its parts by number and is not known here. "
                                      "Behind what is here already those numbers may mean something else.")
                                  .arg(all.join(", ")),
                              QMessageBox::NoButton, this);
  box->setAttribute(Qt::WA_DeleteOnClose);
  box->setTextFormat(Qt::PlainText);
  const auto* drop = box->addButton("Leave it out", QMessageBox::AcceptRole);
  const auto* keep = box->addButton("Keep it", QMessageBox::AcceptRole);
  box->addButton("Cancel", QMessageBox::RejectRole);
  connect(box, &QMessageBox::buttonClicked, this, [this, drop, keep, then](QAbstractButton* button) {
    if (button == drop)
      then(UnknownNumbers::LeaveOut);
    else if (button == keep)
      then(UnknownNumbers::Keep);
    else
      store_.say("The file was left out.");
  });
  box->open();
}

void MainWindow::bring_files(const QStringList& files, const DroppedAt& landing) {
  for (const QString& file : files) {
    const std::filesystem::path path = path_of(file);
    if (says_its_unit(file)) {
      files_->bring(path, {}, landing);
      continue;
    }
    store_.say(QString("Reading %1 …").arg(label_of(path.filename().string())));
    files_->read(path, {}, [this, path, landing](Result<Delivery> delivery) {
      if (!delivery) return store_.say(delivery.error());
      auto* dialog = new ImportDialog(
          label_of(path.filename().string()), *delivery, landing.at.has_value(),
          [this](const Scene& scene, const QSize& size) { return stage_->picture_of(scene, size); }, this);
      dialog->setAttribute(Qt::WA_DeleteOnClose);
      connect(dialog, &QDialog::accepted, this, [this, dialog, path, landing] {
        const Vec3& target = stage_->camera().target;
        DroppedAt where;
        if (dialog->where() == ImportDialog::Where::Dropped) where = landing;
        if (dialog->where() == ImportDialog::Where::OnTheFloor) where.at = Vec3{target.x, target.y, 0};
        files_->bring(path, dialog->options(), where);
      });
      connect(dialog, &QDialog::rejected, this, [this] { store_.say("The file was left out."); });
      dialog->open();
    });
  }
}

void MainWindow::keep_recent_picture() {
  if (!files_->knows(store_.path())) return;
  keep_picture(QString::fromStdString(store_.path().string()), stage_->picture(2 * kRecentPicture));
}

void MainWindow::save() {
  if (store_.path().empty()) return save_as({});
  save_to(store_.path(), false, {});
}

void MainWindow::save_as(std::function<void(bool)> then) {
  QString file = QFileDialog::getSaveFileName(this, "Save as", QString::fromStdString(store_.path().string()),
                                              "Tack Point document (*.glb)");
  if (file.isEmpty()) return then ? then(false) : void();
  // The dialog has asked about the name that was typed, and about no other.
  const bool asked = file.endsWith(".glb", Qt::CaseInsensitive);
  if (!asked) file += ".glb";
  save_to(path_of(file), asked, std::move(then));
}

void MainWindow::save_to(const std::filesystem::path& path, bool asked, std::function<void(bool)> then) {
  if (!asked && files_->changed_outside(path)) {
    QMessageBox box(QMessageBox::NoIcon, "Save",
                    QString(files_->knows(path) ? "%1 was changed by another program since it was opened. Overwrite it?"
                                                : "%1 is there already, and was not made in this window. Overwrite it?")
                        .arg(label_of(path.filename().string())),
                    QMessageBox::NoButton, this);
    box.setObjectName("overwrite");
    const auto* over = box.addButton("Overwrite", QMessageBox::AcceptRole);
    box.addButton("Cancel", QMessageBox::RejectRole);
    box.exec();
    if (box.clickedButton() != over) {
      store_.say("Not saved.");
      return then ? then(false) : void();
    }
  }
  files_->save(path, [this, then = std::move(then)](bool done) {
    if (done) {
      remember_recent(QString::fromStdString(store_.path().string()));
      keep_recent_picture();
    }
    if (then) then(done);
  });
}

void MainWindow::with_safe_work(std::function<void()> then) {
  // What is being saved just now need not be asked about.
  if (files_->saving()) return files_->when_saved([this, then] { with_safe_work(then); });
  if (!store_.changed()) return then();
  QMessageBox box(QMessageBox::NoIcon, "Unsaved work", "Save changes before going on?", QMessageBox::NoButton, this);
  box.setObjectName("unsaved");
  const auto* save_it = box.addButton("Save", QMessageBox::AcceptRole);
  const auto* discard = box.addButton("Discard", QMessageBox::DestructiveRole);
  box.addButton("Cancel", QMessageBox::RejectRole);
  box.exec();
  if (box.clickedButton() == discard) return then();
  if (box.clickedButton() != save_it) return;
  const auto saved = [then](bool done) {
    if (done) then();
  };
  if (store_.path().empty())
    save_as(saved);
  else
    save_to(store_.path(), false, saved);
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (files_->saving()) {
    event->ignore();
    return files_->when_saved([this] { close(); });
  }
  if (store_.changed()) {
    event->ignore();
    with_safe_work([this, position = store_.journal().position()] {
      // What was changed while the file was being written is asked about again.
      if (store_.journal().position() == position) store_.set_saved(store_.path(), position);
      close();
    });
    return;
  }
  QSettings settings;
  settings.setValue("geometry", saveGeometry());
  settings.setValue("arrangement", saveState(kPanels));
  save_strips();
  files_->end();
  event->accept();
  emit closed();
}

void MainWindow::changeEvent(QEvent* event) {
  if (event->type() == QEvent::ActivationChange && !isActiveWindow() && bench_) bench_->let_go();
  QMainWindow::changeEvent(event);
}

void MainWindow::isolate() {
  if (!isolated_.empty()) {
    std::vector<PartId> back;
    for (const PartId id : isolated_)
      if (store_.scene().contains(id)) back.push_back(id);
    isolated_.clear();
    if (!back.empty()) store_.perform(Show{back, true});
    return;
  }
  if (!store_.has_picked()) return;
  const Scene& scene = store_.scene();
  // What is picked, what is below it and what it hangs on stays.
  std::vector<bool> related = marked_within(scene, store_.picked());
  for (const PartId id : store_.picked())
    for (PartId up = id; up != kNoPart; up = scene.part(up).parent) related[up] = true;
  std::vector<PartId> hide;
  for (const PartId id : scene.in_tree_order()) {
    const Part& part = scene.part(id);
    if (part.mesh && !part.hidden && !related[id]) hide.push_back(id);
  }
  if (hide.empty()) return;
  if (store_.perform(Show{hide, false})) isolated_ = hide;
}

std::vector<PartId> MainWindow::having(const std::string& kept) const {
  std::vector<PartId> parts;
  for (const PartId id : store_.picked())
    if (find_kept(store_.scene(), id, kept)) parts.push_back(id);
  return parts;
}

void MainWindow::show_nudges(bool on) {
  Preferences p = store_.preferences();
  p.nudges = on;
  store_.set_preferences(p);
  store_.say(on ? "What is picked has small handles: rulers move it, arcs turn it, dimension lines size it."
                : "No handles while picking.");
}

void MainWindow::focus_area(int by) {
  // The first widget of each area that takes the keyboard.
  const auto first_in = [this](const QString& name) -> QWidget* {
    auto* area = findChild<QWidget*>(name);
    if (!area || !area->isVisible()) return nullptr;
    if (area->focusPolicy() & Qt::TabFocus) return area;
    for (auto* w : area->findChildren<QWidget*>())
      if ((w->focusPolicy() & Qt::TabFocus) && w->isVisible() && w->isEnabled()) return w;
    return nullptr;
  };
  const QStringList names{"stage", "sentence", "parts tree", "placement", "steps", "fit", "status strip"};
  int at = 0;
  for (QWidget* w = focusWidget(); w; w = w->parentWidget())
    if (const auto found = names.indexOf(w->objectName()); found >= 0) {
      at = static_cast<int>(found);
      break;
    }
  for (int i = 1; i <= names.size(); ++i) {
    const auto next = (at + i * by + names.size() * i) % names.size();
    QWidget* w = first_in(names[next]);
    if (!w) continue;
    w->setFocus(Qt::TabFocusReason);
    return;
  }
}

void MainWindow::show_help(bool keys) {
  if (!help_) help_ = new HelpWindow(keys_, this);
  if (keys) return help_->show_keys();
  // The guide of the verb in use; several are about more than one.
  const QString verb = bench_->verb().name.toLower();
  const QString guide = verb == "move" ? QString("placing") : verb == "pick" ? QString("first-steps") : verb;
  help_->show_guide(guide);
}

void MainWindow::show_about() {
  QMessageBox box(
      QMessageBox::NoIcon, "About Tack Point",
      QString("<b>Tack Point %1</b><br>Brings the parts of a scene together exactly, and proves that they meet."
              "<br><br>Apache License 2.0. Fonts: Inter and JetBrains Mono, SIL Open Font License 1.1.")
          .arg(QApplication::applicationVersion()),
      QMessageBox::Close, this);
  box.exec();
}

}  // namespace tack
