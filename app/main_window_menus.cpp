// The status strip and the menus of the window; declared in main_window.h.
#include <QActionGroup>
#include <QDockWidget>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenuBar>
#include <QProxyStyle>
#include <QPushButton>
#include <QSettings>
#include <QStatusBar>
#include <QWidgetAction>

#include "app/files/recent.h"
#include "app/help/tour.h"
#include "app/main_window.h"
#include "app/panels/standing_list.h"
#include "app/text.h"
#include "app/theme.h"

namespace tack {

namespace {

// Menus of files show pictures, not icons.
class PictureMenuStyle : public QProxyStyle {
 public:
  explicit PictureMenuStyle(QObject* parent) { setParent(parent); }
  int pixelMetric(PixelMetric metric, const QStyleOption* option, const QWidget* widget) const override {
    // A row is as high as its picture is wide: ten of them have to fit a small screen.
    constexpr int kPictureWide = 62;
    return metric == PM_SmallIconSize ? kPictureWide : QProxyStyle::pixelMetric(metric, option, widget);
  }
};

}  // namespace

static QString text_of(std::string_view text) { return QString::fromUtf8(text.data(), static_cast<int>(text.size())); }

void MainWindow::make_status() {
  statusBar()->hide();
  auto* strip = new QWidget;
  strip->setObjectName("status strip");
  strip->setAccessibleName("Status");
  auto* row = new QHBoxLayout(strip);
  row->setContentsMargins(6, 0, 12, 0);
  row->setSpacing(2);
  const auto button = [&](const QString& name, const QString& tip) {
    auto* b = new QToolButton(strip);
    b->setObjectName(name);
    b->setToolTip(tip);
    b->setAccessibleName(name);
    b->setPopupMode(QToolButton::InstantPopup);
    b->setAutoRaise(true);
    b->setFocusPolicy(Qt::TabFocus);
    b->setFont(ui_font(0.98));
    row->addWidget(b);
    return b;
  };
  axes_ = button("Axes", "In which axes Move and Placement give their numbers");
  auto* axes_menu = new QMenu(axes_);
  auto* axes_group = new QActionGroup(axes_menu);
  constexpr int kAxes = 6;
  for (int i = 0; i < kAxes; ++i) {
    QAction* action = axes_menu->addAction(QString());
    action->setCheckable(true);
    axes_group->addAction(action);
    connect(action, &QAction::triggered, this, [this, i] {
      if (const auto axes = store_.axes_for(i)) store_.set_axes(*axes);
    });
  }
  connect(axes_menu, &QMenu::aboutToShow, this, [this, axes_menu] {
    const QStringList words = store_.axes_words();
    for (int i = 0; i < kAxes; ++i) {
      axes_menu->actions()[i]->setText(words[i]);
      axes_menu->actions()[i]->setChecked(store_.axes_index() == i);
    }
  });
  axes_->setMenu(axes_menu);
  const auto show_axes = [this] {
    axes_->setText(QString("Axes  %1").arg(QString::fromStdString(axes_words(store_.axes(), store_.scene()))));
  };
  connect(&store_, &Store::axes_changed, this, show_axes);
  show_axes();

  QToolButton* plane = button("Plane", "The plane in use: the floor of grid, drags, heights and drops");
  make_plane_button(plane, button("Back to World", "World as the plane in use"));

  about_ = button("About", "What rotations are about");
  auto* about_menu = new QMenu(about_);
  connect(about_menu->addAction("own pivot"), &QAction::triggered, this, [this] { store_.set_about({}); });
  connect(about_menu->addAction("middle of all picked"), &QAction::triggered, this,
          [this] { store_.set_about(middle_of_all()); });
  connect(about_menu->addAction("bottom of its box"), &QAction::triggered, this,
          [this] { store_.set_about(bottom()); });
  about_->setMenu(about_menu);
  increments_ = button("Increments", "Multiples that drags land on; Shift switches them for the moment");
  increments_->setMenu(make_increments_menu());
  const auto show_settings = [this] {
    about_->setText(
        QString("About  %1").arg(QString::fromStdString(about_words(store_.about(), store_.scene(), store_.picked()))));
    const Increments& inc = store_.increments();
    // Which of them are multiples from zero is said; from here is what one expects.
    const auto said = [](const std::string& step, const Increment& increment) {
      return QString::fromStdString(step) + (increment.from == LandsFrom::Zero ? " from zero" : "");
    };
    increments_->setText(inc.on ? QString("Increments  %1, %2")
                                      .arg(said(show_length(inc.length.step, store_.unit(), 3).text, inc.length),
                                           said(show_angle(inc.angle.step, 3).text, inc.angle))
                                : "Increments  off");
  };
  connect(&store_, &Store::settings_changed, this, show_settings);
  connect(&store_, &Store::picked_changed, this, show_settings);
  connect(&store_, &Store::document_changed, this, show_settings);
  show_settings();

  // Only while picking: any other verb has handles of its own.
  auto* nudges =
      button("Handles", "Small handles while picking: rulers to move, arcs to turn, dimension lines to size");
  nudges->setCheckable(true);
  connect(nudges, &QToolButton::clicked, this, [this](bool on) { show_nudges(on); });
  const auto show_switch = [this, nudges] {
    const bool on = store_.preferences().nudges;
    nudges->setVisible(bench_->draft().row() == id_of<Pick>);
    nudges->setChecked(on);
    nudges->setText(on ? "Handles  on" : "Handles  off");
  };
  connect(bench_, &Workbench::verb_changed, this, show_switch);
  connect(&store_, &Store::look_changed, this, show_switch);
  show_switch();

  make_drag_switch(button("Drags", "Where what is dragged freely goes: across the view, or along the plane in use"));

  kinds_ = button("Catches on", "Which kinds of place are caught");
  auto* kinds_menu = new QMenu(kinds_);
  kinds_->setObjectName("kinds");
  std::vector<QAction*> kind_actions;
  for (std::size_t i = 0; i < kCatchKindCount; ++i) {
    const auto kind = static_cast<CatchKind>(i);
    const QString key = QString("\tC %1").arg(QLatin1Char(kCatchKindKeys[i]));
    QAction* action = kinds_menu->addAction(text_of(kCatchKindWords[i]) + key);
    action->setCheckable(true);
    connect(action, &QAction::triggered, this, [this, kind](bool on) { bench_->switch_kind(kind, on); });
    kind_actions.push_back(action);
  }
  kinds_menu->addSeparator();
  connect(kinds_menu->addAction("all kinds"), &QAction::triggered, this, [this] {
    for (std::size_t i = 0; i < kCatchKindCount; ++i) bench_->switch_kind(static_cast<CatchKind>(i), true);
  });
  QMenu* parts_menu = kinds_menu->addMenu("edges are divided into");
  std::vector<QAction*> part_actions;
  for (const int parts : {2, 3, 4, 5, 6, 8, 10}) {
    QAction* action = parts_menu->addAction(QString("%1 parts").arg(parts));
    action->setCheckable(true);
    action->setData(parts);
    connect(action, &QAction::triggered, this, [this, parts] { bench_->set_edge_parts(parts); });
    part_actions.push_back(action);
  }
  // What is caught stands in the strip in a few words; the menu has all of it.
  const auto show_kinds = [this, kind_actions, part_actions] {
    const CatchKinds now = bench_->kinds();
    QStringList on, off;
    for (std::size_t i = 0; i < kCatchKindCount; ++i) {
      const bool has = now.has(static_cast<CatchKind>(i));
      kind_actions[i]->setChecked(has);
      if (has)
        on << text_of(kCatchKindWords[i]);
      else
        off << text_of(kCatchKindWords[i]);
    }
    for (QAction* action : part_actions) action->setChecked(action->data().toInt() == bench_->edge_parts());
    const QString words = bench_->only()   ? QString("only %1").arg(on.join(", "))
                          : off.isEmpty()  ? QString("everything")
                          : on.isEmpty()   ? "nothing"
                          : on.size() <= 3 ? on.join(", ")
                          : off.size() < 3 ? QString("all but %1").arg(off.join(", "))
                                           : QString("%1 kinds").arg(on.size());
    kinds_->setText(QString("Catches on  %1").arg(words));
    kinds_->setToolTip(
        QString("Which kinds of place are caught: %1\nHold C and press a digit (G: grid, K: kept tacks, U: guides) for "
                "one kind alone, 0 for all")
            .arg(on.join(", ")));
  };
  connect(bench_, &Workbench::kinds_changed, this, show_kinds);
  kinds_->setMenu(kinds_menu);
  show_kinds();

  unit_ = button("Unit", "The unit in which lengths are shown and plain numbers are read");
  auto* unit_menu = new QMenu(unit_);
  for (const LengthUnit& unit : kLengthUnits)
    connect(unit_menu->addAction(text_of(unit.name)), &QAction::triggered, this,
            [this, unit] { store_.set_unit(std::string(unit.name)); });
  unit_->setMenu(unit_menu);
  const auto show_unit = [this] { unit_->setText(text_of(store_.unit().name)); };
  connect(&store_, &Store::document_changed, this, show_unit);
  show_unit();

  message_ = new QLabel(strip);
  message_->setObjectName("message");
  message_->setTextFormat(Qt::PlainText);
  message_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  message_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  message_->setFont(ui_font(0.98));
  row->addWidget(message_, 1);
  stop_ = new QToolButton(strip);
  stop_->setText("Stop");
  stop_->setToolTip("Stop reading");
  stop_->setFont(ui_font(0.98, QFont::DemiBold));
  stop_->hide();
  connect(stop_, &QToolButton::clicked, this, [this] { files_->stop(); });
  row->addWidget(stop_);
  strip->setMinimumHeight(30);
  // A dock without a frame along the bottom edge: a status bar would cut the strip's height and margins its own way.
  statusBar()->setSizeGripEnabled(false);
  statusBar()->setContentsMargins(0, 0, 0, 0);
  statusBar()->addWidget(strip, 1);
  statusBar()->show();
}

QMenu* MainWindow::make_increments_menu() {
  auto* menu = new QMenu(this);
  auto* modes = new QActionGroup(menu);
  for (const bool on : {false, true}) {
    QAction* action = menu->addAction(on ? "on: drags land on multiples" : "off");
    action->setCheckable(true);
    action->setChecked(store_.increments().on == on);
    modes->addAction(action);
    connect(action, &QAction::triggered, this, [this, on] {
      Increments inc = store_.increments();
      inc.on = on;
      store_.set_increments(inc);
    });
  }
  menu->addSeparator();
  const std::tuple<QString, EntryKind, Increment Increments::*> steps[] = {
      {"length", EntryKind::Length, &Increments::length},
      {"angle", EntryKind::Angle, &Increments::angle},
      {"factor", EntryKind::Factor, &Increments::factor}};
  for (const auto& [name, kind, member] : steps) {
    auto* row = new QWidget(menu);
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(22, 2, 14, 2);
    layout->addWidget(new QLabel(name, row));
    auto* edit = new EntryEdit(row);
    edit->setObjectName("increment " + name);
    edit->setAccessibleName(QString("Increment of %1").arg(name));
    edit->setMaximumWidth(110);
    edit->context = [this, kind = kind, member = member] {
      return EntryContext{kind, store_.unit(), (store_.increments().*member).step, reader_of(store_.scene())};
    };
    const auto show = [this, edit, kind = kind, member = member] {
      const double value = (store_.increments().*member).step;
      edit->setText(QString::fromStdString(kind == EntryKind::Length  ? show_length(value, store_.unit(), 4).text
                                           : kind == EntryKind::Angle ? show_angle(value, 4).text
                                                                      : show_number(value, 4).text));
    };
    connect(menu, &QMenu::aboutToShow, edit, show);
    connect(edit, &EntryEdit::accepted, this, [this, edit, member = member, show](bool) {
      const auto value = edit->read();
      if (!value) return;
      if (!(*value > 0)) return store_.say("An increment is more than 0.", Tone::Wrong);
      Increments inc = store_.increments();
      (inc.*member).step = *value;
      store_.set_increments(inc);
      show();
    });
    connect(edit, &EntryEdit::wrong, this, [this](const QString& why) {
      if (!why.isEmpty()) store_.say(why, Tone::Wrong);
    });
    layout->addWidget(edit);
    auto* from = new QPushButton(row);
    from->setObjectName("increment " + name + " from");
    from->setToolTip("From here: the change is a multiple. From zero: what it comes to is one.");
    const auto show_from = [this, from, name = name, member = member] {
      const bool zero = (store_.increments().*member).from == LandsFrom::Zero;
      from->setText(zero ? "from zero" : "from here");
      from->setAccessibleName(QString("Multiples of %1 count %2").arg(name, from->text()));
    };
    show_from();
    connect(&store_, &Store::settings_changed, from, show_from);
    connect(from, &QPushButton::clicked, this, [this, member = member] {
      Increments inc = store_.increments();
      LandsFrom& lands = (inc.*member).from;
      lands = lands == LandsFrom::Zero ? LandsFrom::Here : LandsFrom::Zero;
      store_.set_increments(inc);
    });
    layout->addWidget(from);
    auto* action = new QWidgetAction(menu);
    action->setDefaultWidget(row);
    menu->addAction(action);
  }
  return menu;
}

void MainWindow::make_menus() {
  auto* bar = menuWidget()->findChild<QMenuBar*>("menus");
  // What stands in a menu can be given another key, and is found in the short list.
  const auto add = [this](QMenu* menu, const QString& text, const QKeySequence& key, auto&& action) {
    QAction* a = menu->addAction(text);
    keys_.add(a, menu->title().remove('&'), key);
    connect(a, &QAction::triggered, this, action);
    return a;
  };
  // The same for what has a key of the stage: the key is shown, and works there alone.
  const auto add_of_stage = [this](QMenu* menu, const QString& text, const QString& id, auto&& action) {
    QAction* a = menu->addAction(text);
    const auto show = [this, a, text, id] {
      a->setText(text + "\t" + keys_.of(id).toString(QKeySequence::NativeText));
    };
    connect(&keys_, &Keys::changed, a, show);
    show();
    connect(a, &QAction::triggered, this, action);
    return a;
  };
  QMenu* file = bar->addMenu("&File");
  add(file, "&New scene", QKeySequence::New, [this] { new_scene(); });
  add(file, "&Open …", QKeySequence::Open, [this] { ask_open(); });
  QMenu* recent = file->addMenu("Open &recent");
  connect(recent, &QMenu::aboutToShow, this, [this, recent] {
    recent->clear();
    const QStringList paths = recent_files();
    for (const QString& path : paths) {
      QAction* action = recent->addAction(QIcon(picture_of(path)),
                                          label_of(QFileInfo(path).fileName().toStdString()).replace('&', "&&"));
      action->setToolTip(path);
      connect(action, &QAction::triggered, this, [this, path] { open_recent(path); });
    }
    if (paths.isEmpty()) recent->addAction("Nothing yet")->setEnabled(false);
  });
  recent->setStyle(new PictureMenuStyle(recent));
  recent->setStyleSheet("QMenu::icon { margin-left: 10px; } QMenu::item { padding: 2px 26px 2px 20px; }");
  recent->setToolTipsVisible(true);
  add(file, "&Bring in …", QKeySequence("Ctrl+I"), [this] { ask_bring(); });
  file->addSeparator();
  add(file, "&Save", QKeySequence::Save, [this] { save(); });
  add(file, "Save &as …", QKeySequence("Ctrl+Shift+S"), [this] { save_as({}); });
  add(file, "Re&vert to the saved file", {}, [this] { revert(); });
  add(file, "&Export …", QKeySequence("Ctrl+E"), [this] { ask_export(); });
  file->addSeparator();
  add(file, "&Quit", QKeySequence::Quit, [this] { close(); });

  QMenu* edit = bar->addMenu("&Edit");
  QAction* undo = add(edit, "&Undo", QKeySequence::Undo, [this] { store_.undo(); });
  QAction* redo = add(edit, "&Redo", QKeySequence::Redo, [this] { store_.redo(); });
  connect(&store_, &Store::scene_changed, this, [this, undo, redo] {
    undo->setEnabled(store_.journal().can_undo());
    redo->setEnabled(store_.journal().can_redo());
  });
  undo->setEnabled(false);
  redo->setEnabled(false);
  edit->addSeparator();
  add(edit, "Cu&t", QKeySequence::Cut, [this] { copy_picked(true); });
  add(edit, "&Copy", QKeySequence::Copy, [this] { copy_picked(false); });
  add(edit, "&Paste", QKeySequence::Paste, [this] { paste(); });
  edit->addSeparator();
  add(edit, "R&epeat the last step", QKeySequence("Ctrl+R"), [this] { bench_->repeat_last(); });
  edit->addSeparator();
  add(edit, "Pick &all", QKeySequence::SelectAll, [this] {
    std::vector<PartId> all;
    for (const PartId id : store_.scene().in_tree_order())
      if (!is_hidden(store_.scene(), id) && !store_.scene().part(id).patch) all.push_back(id);
    store_.pick(std::move(all));
  });
  add(edit, "Let &go of what is picked", QKeySequence("Ctrl+Shift+A"), [this] { store_.pick({}); });
  add(edit, "Pick the &others", QKeySequence("Ctrl+Shift+I"), [this] {
    std::vector<PartId> others;
    for (const PartId id : store_.scene().in_tree_order())
      if (!is_hidden(store_.scene(), id) && is_model(store_.scene().part(id)) && !store_.is_picked(id))
        others.push_back(id);
    store_.pick(std::move(others));
  });
  add(edit, "Pick the pare&nts", QKeySequence("Ctrl+Up"), [this] {
    std::vector<PartId> parents;
    for (const PartId id : store_.picked())
      if (const PartId up = store_.scene().part(id).parent;
          up != kNoPart && std::find(parents.begin(), parents.end(), up) == parents.end())
        parents.push_back(up);
    if (parents.empty()) return store_.say("The picked parts have no parent.");
    store_.pick(std::move(parents));
  });
  add(edit, "Pick the ch&ildren", QKeySequence("Ctrl+Down"), [this] {
    std::vector<PartId> children;
    for (const PartId id : store_.picked())
      for (const PartId child : store_.scene().part(id).children) children.push_back(child);
    if (children.empty()) return store_.say("The picked parts have no children.");
    store_.pick(std::move(children));
  });
  add(edit, "Pick what shares the &mesh", QKeySequence("Ctrl+M"), [this] {
    std::vector<PartId> same = store_.picked();
    for (const PartId id : store_.picked())
      for (const PartId other : instances_of(store_.scene(), id))
        if (std::find(same.begin(), same.end(), other) == same.end()) same.push_back(other);
    store_.pick(std::move(same));
  });
  edit->addSeparator();
  add(edit, "&Search in Parts", QKeySequence::Find, [this] { parts_->focus_search(); });
  edit->addSeparator();
  add(edit, "Pre&ferences …", QKeySequence("Ctrl+,"), [this] { show_preferences(); });

  QMenu* view = bar->addMenu("&View");
  const std::tuple<QString, Side, const char*> sides[] = {
      {"&Front", Side::Front, "Ctrl+1"},      {"&Right", Side::Right, "Ctrl+2"}, {"&Top", Side::Top, "Ctrl+3"},
      {"&Back", Side::Back, "Ctrl+4"},        {"&Left", Side::Left, "Ctrl+5"},   {"Botto&m", Side::Bottom, "Ctrl+6"},
      {"From a &corner", Side::Iso, "Ctrl+7"}};
  for (const auto& [name, side, key] : sides)
    add(view, name, QKeySequence(QString(key)), [this, side = side] { stage_->turn_to(side); });
  QAction* parallel = add(view, "&Parallel", QKeySequence("Ctrl+P"), [this](bool on) { stage_->set_perspective(!on); });
  parallel->setCheckable(true);
  connect(stage_, &Stage::camera_changed, this,
          [this, parallel] { parallel->setChecked(!stage_->camera().perspective); });
  QMenu* own = view->addMenu("S&quare onto its own axes");
  const std::pair<QString, Side> own_sides[] = {{"&Front", Side::Front}, {"&Right", Side::Right},
                                                {"&Top", Side::Top},     {"&Back", Side::Back},
                                                {"&Left", Side::Left},   {"Botto&m", Side::Bottom}};
  for (const auto& [name, side] : own_sides)
    connect(own->addAction(name), &QAction::triggered, this, [this, side = side] { stage_->square_onto(side); });
  add(view, "Turn to the nearest a&xis", QKeySequence("Ctrl+8"), [this] { stage_->turn_to_nearest(); });
  const AddEntry entry = [&](QMenu* menu, const QString& text, const QKeySequence& key, std::function<void(bool)> run) {
    return add(menu, text, key, std::move(run));
  };
  auto* counts = new QActionGroup(view);
  const std::tuple<QString, int, const char*> views[] = {
      {"Sin&gle view", 1, "Ctrl+9"}, {"T&wo views", 2, ""}, {"Fo&ur views", 4, "Ctrl+0"}};
  for (const auto& [name, count, key] : views) {
    QAction* action = add(view, name, QKeySequence(QString(key)), [this, count = count] { stage_->show_views(count); });
    action->setCheckable(true);
    action->setChecked(count == 1);
    counts->addAction(action);
  }
  add_view_entries(*view, entry);
  view->addSeparator();
  QAction* nudges = add(view, "Mo&ve, turn and size while picking", {}, [this](bool on) { show_nudges(on); });
  nudges->setCheckable(true);
  const auto show_nudging = [this, nudges] { nudges->setChecked(store_.preferences().nudges); };
  connect(&store_, &Store::look_changed, nudges, show_nudging);
  show_nudging();
  view->addSeparator();
  auto* styles = new QActionGroup(view);
  const std::pair<QString, DrawStyle> kinds[] = {{"&Shaded", DrawStyle::Shaded},
                                                 {"Shaded b&y direction", DrawStyle::Facing},
                                                 {"See-thr&ough", DrawStyle::SeeThrough},
                                                 {"&Edges only", DrawStyle::EdgesOnly}};
  for (const auto& [name, style] : kinds) {
    QAction* action = add(view, name, {}, [this, style = style] { stage_->set_style(style); });
    action->setCheckable(true);
    action->setChecked(style == DrawStyle::Shaded);
    styles->addAction(action);
  }
  view->addSeparator();
  add_of_stage(view, "Frame what is p&icked", "frame", [this] { stage_->frame_picked(); });
  connect(view->addAction("Frame &all"), &QAction::triggered, this, [this] { stage_->frame_all(); });
  add_of_stage(view, "Isolate what is pic&ked, and back", "isolate", [this] { isolate(); });
  add_of_stage(view, "Wit&hout grid, marks, guides and labels, and back", "aids",
               [this] { emit bench_->aids_asked(); });
  view->addSeparator();
  QAction* night = add(view, "&Night theme", QKeySequence("Ctrl+Shift+N"), [this](bool on) {
    Preferences p = store_.preferences();
    p.theme = on ? Preferences::Theme::Night : Preferences::Theme::Day;
    store_.set_preferences(p);
    apply_theme(on);
  });
  night->setCheckable(true);
  const auto show_night = [night] { night->setChecked(theme().night); };
  connect(&store_, &Store::look_changed, night, show_night);
  night->setChecked(is_night(store_.preferences()));
  view->addSeparator();
  add(view, "Keyboar&d to the next area", QKeySequence("F6"), [this] { focus_area(1); });
  add(view, "Keyboard to the area before", QKeySequence("Shift+F6"), [this] { focus_area(-1); });
  QMenu* panels = view->addMenu("Panels");
  for (auto* dock : findChildren<QDockWidget*>()) {
    panels->addAction(dock->toggleViewAction());
    // One that is a tab among others comes to the front.
    connect(dock->toggleViewAction(), &QAction::triggered, dock, [dock](bool on) {
      if (on) dock->raise();
    });
  }

  QMenu* part = bar->addMenu("&Part");
  const auto on_picked = [this](auto make) {
    return [this, make] {
      if (store_.has_picked()) store_.perform(make(store_.picked()));
    };
  };
  add(part, "&Hide", QKeySequence("Ctrl+H"), on_picked([](const auto& p) { return Show{p, false}; }));
  add(part, "&Show", {}, on_picked([](const auto& p) { return Show{p, true}; }));
  add(part, "Show &everything", QKeySequence("Ctrl+Shift+H"), [this] {
    std::vector<PartId> hidden;
    for (const PartId id : store_.scene().in_tree_order())
      if (store_.scene().part(id).hidden) hidden.push_back(id);
    if (hidden.empty())
      store_.say("Nothing is hidden.");
    else
      store_.perform(Show{hidden, true});
  });
  add(part, "&Lock", QKeySequence("Ctrl+L"), on_picked([](const auto& p) { return Lock{p, true}; }));
  add(part, "&Unlock", QKeySequence("Ctrl+Shift+L"), on_picked([](const auto& p) { return Lock{p, false}; }));
  part->addSeparator();
  add(part, "Drop onto what is belo&w", QKeySequence("Ctrl+Shift+Down"), [this] {
    if (!store_.has_picked()) return;
    Drop drop;
    drop.what = store_.picked();
    bench_->offer(drop);
  });
  add(part, "Tidy numbe&rs", {}, [this] {
    if (!store_.has_picked()) return;
    // The multiples are the increments in use, until others are typed.
    Tidy tidy;
    tidy.what = store_.picked();
    tidy.axes = store_.axes();
    tidy.position.fill(Amount{store_.increments().length.step});
    tidy.rotation.fill(Amount{store_.increments().angle.step});
    bench_->offer(tidy);
  });
  part->addSeparator();
  add(part, "&Group", QKeySequence("Ctrl+G"), [this] {
    if (!store_.has_picked()) return;
    if (!store_.perform(Group{store_.picked(), {}, middle_of_all()})) return;
    store_.pick(store_.journal().record().steps.back()->made);
    bench_->tell_last_step();
  });
  add(part, "Group at a pl&ace …", QKeySequence("Ctrl+Alt+G"), [this] {
    if (!store_.has_picked()) return;
    bench_->begin(Group{store_.picked(), {}, middle_of_all()}, "at");
  });
  add(part, "U&ngroup", QKeySequence("Ctrl+Shift+G"), on_picked([](const auto& p) { return Ungroup{p}; }));
  const auto copy = [this](bool instance) {
    if (!store_.has_picked()) return;
    Copy verb;
    verb.what = store_.picked();
    verb.instance = instance;
    if (!store_.perform(verb)) return;
    store_.pick(topmost(store_.scene(), store_.journal().record().steps.back()->made));
    bench_->tell_last_step();
  };
  add(part, "Dupl&icate", QKeySequence("Ctrl+D"), [copy] { copy(false); });
  add(part, "&Copy as an instance", QKeySequence("Ctrl+Shift+D"), [copy] { copy(true); });
  add(part, "&Make separate", {}, on_picked([](const auto& p) { return Separate{p}; }));
  QMenu* colours = part->addMenu("C&olour");
  connect(colours, &QMenu::aboutToShow, this, [this, colours] {
    colours->clear();
    const auto& picked = store_.picked();
    const Part* first = picked.empty() ? nullptr : store_.scene().find(picked.front());
    add_colours(*colours, store_.scene(), first && !first->colours.empty() ? first->colours.front() : Colour{},
                [this](const std::string& name, const Colour& colour) {
                  if (store_.has_picked()) store_.perform(Paint{store_.picked(), colour, name});
                });
    connect(colours->addAction("Put its colour on the list"), &QAction::triggered, this, [this] {
      if (store_.has_picked()) colours_->add(false);
    });
  });
  add(part, "See through what is &picked, and back", QKeySequence("Ctrl+Shift+E"), [this] {
    if (store_.has_picked())
      store_.perform(SeeThrough{store_.picked(), !all_see_through(store_.scene(), store_.picked())});
  });
  part->addSeparator();
  add(part, "&Keep a tack …", QKeySequence("Ctrl+K"), [this] { bench_->begin(Keep{}, "at"); });
  QMenu* forget = part->addMenu("&Take a kept tack off");
  connect(forget, &QMenu::aboutToShow, this, [this, forget] {
    forget->clear();
    std::vector<std::string> names;
    for (const PartId id : store_.picked())
      for (const KeptTack& kept : kept_of(store_.scene(), id))
        if (std::find(names.begin(), names.end(), kept.name) == names.end()) names.push_back(kept.name);
    for (const std::string& name : names)
      connect(forget->addAction(label_of(name).replace('&', "&&")), &QAction::triggered, this, [this, name] {
        store_.perform(Forget{having(name), name, Copies::All});
      });
    if (names.empty()) forget->addAction("None on the picked part")->setEnabled(false);
  });
  add_shape_entries(*part, entry);
  add_guide_entries(*part, entry);
  add_plane_entries(*part, entry);
  part->addSeparator();
  QMenu* back = part->addMenu("&Back to where its parent is");
  add(back, "&Position, rotation and factors", QKeySequence("Ctrl+Backspace"),
      [this] { reset_picked(true, true, true); });
  add(back, "P&osition alone", {}, [this] { reset_picked(true, false, false); });
  add(back, "&Rotation alone", {}, [this] { reset_picked(false, true, false); });
  add(back, "&Factors alone", {}, [this] { reset_picked(false, false, true); });
  part->addSeparator();
  add(part, "&Delete", QKeySequence::Delete, on_picked([](const auto& p) { return Delete{p}; }));

  QMenu* fit = bar->addMenu("F&it");
  QAction* remember = add(fit, "&Remember meetings as ties", {}, [this](bool on) { store_.set_remembers(on); });
  remember->setCheckable(true);
  connect(&store_, &Store::settings_changed, this, [this, remember] { remember->setChecked(store_.remembers()); });
  add(fit, "&Close every tie that is apart", {}, [this] { bench_->close_all_ties(); });
  add(fit, "What &floats or sinks …", {},
      [this] { (new StandingList(store_, *stage_, store_.picked(), this))->show(); });
  add(fit, "&Look at the next tie that is apart", QKeySequence("Ctrl+T"), [this] { fit_->look_at_next(); });

  QMenu* help = bar->addMenu("&Help");
  add(help, "&Guides", QKeySequence::HelpContents, [this] { show_help(false); });
  add(help, "&Tour", {}, [this] { tour_->start(); });
  add(help, "All &keys", QKeySequence("Ctrl+F1"), [this] { show_help(true); });
  add(help, "&About Tack Point", {}, [this] { show_about(); });
}

}  // namespace tack
