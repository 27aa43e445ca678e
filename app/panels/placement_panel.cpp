#include "app/panels/placement_panel.h"

#include <QApplication>
#include <QClipboard>
#include <QFocusEvent>
#include <QRegularExpression>
#include <QVBoxLayout>
#include <QWheelEvent>

#include "app/panels/dimension_rows.h"
#include "app/panels/slide_letter.h"
#include "app/text.h"
#include "app/theme.h"
#include "core/entry/copied.h"

namespace tack {
namespace {

const char* const kRowNames[] = {"Position", "Rotation", "Own size", "Factor", "Pivot", "Skew"};

std::size_t at(int index) { return static_cast<std::size_t>(index); }

}  // namespace

static EntryKind kind_of(int row) {
  return row == 1 ? EntryKind::Angle : row == 3 || row == 5 ? EntryKind::Factor : EntryKind::Length;
}

PlacementPanel::PlacementPanel(Store& store, Workbench& bench, QWidget* parent)
    : QWidget(parent),
      store_(store),
      bench_(bench),
      empty_(new QLabel(this)),
      skew_(new QLabel(this)),
      title_(new QPushButton(this)),
      axes_(new QToolButton(this)),
      table_(new QWidget(this)) {
  setObjectName("placement");
  title_->setFont(ui_font(0.95, QFont::DemiBold));
  title_->setObjectName("placement part");
  title_->setToolTip("Whose numbers these are; go to another part");
  title_->setFlat(true);
  title_->setFocusPolicy(Qt::TabFocus);
  title_->setMenu(tree_menu());
  axes_->setFont(ui_font(0.95, QFont::Medium));
  axes_->setObjectName("placement axes");
  axes_->setToolTip("In which axes these numbers are; copy and paste all of them");
  axes_->setPopupMode(QToolButton::InstantPopup);
  axes_->setAutoRaise(true);
  axes_->setFocusPolicy(Qt::TabFocus);
  axes_->setMenu(panel_menu());
  empty_->setWordWrap(true);
  empty_->setText("Pick a part to see where it stands.");
  skew_->setWordWrap(true);
  // A long name leaves the axes their room.
  title_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  auto* top = new QHBoxLayout;
  top->addWidget(title_, 1);
  top->addWidget(axes_);
  auto* grid = new QGridLayout(table_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(5);
  grid->setVerticalSpacing(2);
  for (int axis = 0; axis < 3; ++axis) grid->setColumnStretch(axis, 1);
  for (int row = 0; row < kRows; ++row) make_row(grid, row);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(14, 4, 14, 4);
  layout->setSpacing(3);
  layout->addLayout(top);
  layout->addWidget(empty_);
  layout->addWidget(table_);
  dimensions_ = new DimensionRows(store_, bench_, this);
  layout->addWidget(dimensions_);
  layout->addWidget(skew_);
  layout->addStretch(1);
  connect(&store_, &Store::scene_changed, this, &PlacementPanel::refresh);
  connect(&store_, &Store::picked_changed, this, &PlacementPanel::refresh);
  connect(&store_, &Store::axes_changed, this, &PlacementPanel::refresh);
  connect(&store_, &Store::look_changed, this, &PlacementPanel::refresh);
  // What is dragged is followed, once a turn of events; a crowd would cost more than the drag itself.
  soon_.setSingleShot(true);
  soon_.setInterval(0);
  connect(&soon_, &QTimer::timeout, this, &PlacementPanel::refresh);
  connect(&bench_, &Workbench::marks_changed, this, [this] {
    constexpr std::size_t kFollowed = 64;
    const bool live = bench_.marks().shown && store_.picked().size() <= kFollowed;
    if (live || was_live_) soon_.start();
    was_live_ = live;
  });
  connect(&store_, &Store::started, this, [this] { of_.reset(); });
  refresh();
}

// A group: its name and menu on one line, its three fields on the next.
void PlacementPanel::make_row(QGridLayout* grid, int row) {
  auto* name = new QToolButton(table_);
  name->setObjectName("group " + QString(kRowNames[row]).toLower());
  name->setText(QString(kRowNames[row]) + QStringLiteral("  ▾"));
  name->setToolTip(QString("%1: reset, copy, paste and more").arg(QString(kRowNames[row])));
  name->setPopupMode(QToolButton::InstantPopup);
  name->setAutoRaise(true);
  name->setFocusPolicy(Qt::TabFocus);
  name->setFont(ui_font(0.92));
  name->setMenu(row_menu(static_cast<Row>(row)));
  grid->addWidget(name, 2 * row, 0, 1, 3, Qt::AlignLeft);
  row_widgets_[at(row)].push_back(name);
  for (int axis = 0; axis < 3; ++axis) {
    auto* edit = new EntryEdit(table_);
    edit->setFont(number_font(0.94));
    edit->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    edit->setMinimumWidth(52);
    edit->setObjectName(QString("%1 %2").arg(QString(kRowNames[row]).toLower(), QString("xyz").mid(axis, 1)));
    edit->setAccessibleName(QString("%1 along %2").arg(QString(kRowNames[row]), QString("XYZ").mid(axis, 1)));
    edit->setPlaceholderText(QString("XYZ").mid(axis, 1));
    edit->context = [this, row, axis] {
      return EntryContext{kind_of(row), store_.unit(), numbers(static_cast<Row>(row))[at(axis)], reader_of(reading())};
    };
    edit->installEventFilter(this);
    connect(edit, &EntryEdit::accepted, this, [this, row, axis](bool by_tab) {
      commit(static_cast<Row>(row), axis);
      if (!by_tab) fields_[at(row)][at(axis)].edit->selectAll();
    });
    connect(edit, &EntryEdit::nudged, this,
            [this, row, axis](int steps) { nudge(static_cast<Row>(row), axis, steps); });
    connect(edit, &EntryEdit::left_by_escape, this, [this, edit] {
      edit->clear_mark();
      edit->setModified(false);  // what was typed is dropped
      refresh();
      if (auto* stage = window()->findChild<QWidget*>("stage")) stage->setFocus();
    });
    connect(edit, &EntryEdit::wrong, this, [this](const QString& why) {
      if (!why.isEmpty()) store_.say(why, Tone::Wrong);
    });
    // The letter of the axis stands at the field's left edge, in its hue; dragged, it slides the number.
    auto* letter = new SlideLetter(QString("XYZ").mid(axis, 1), edit);
    letter->setObjectName(QString("axis %1").arg(axis));
    letter->setFont(ui_font(0.8, QFont::DemiBold));
    letter->move(5, 5);
    connect(letter, &SlideLetter::slid, this,
            [this, row, axis](int steps, bool first) { slide(static_cast<Row>(row), axis, steps, first); });
    grid->addWidget(edit, 2 * row + 1, axis);
    fields_[at(row)][at(axis)].edit = edit;
    row_widgets_[at(row)].push_back(edit);
  }
}

QMenu* PlacementPanel::row_menu(Row row) {
  auto* menu = new QMenu(this);
  connect(menu->addAction("Copy"), &QAction::triggered, this, [this, row] { copy(row); });
  connect(menu->addAction("Paste"), &QAction::triggered, this, [this, row] { paste(row); });
  if (row == Position) menu->addMenu(of_menu());
  if (row != Size) connect(menu->addAction("Reset"), &QAction::triggered, this, [this, row] { reset(row); });
  const auto bake = [this](bool position, bool rotation, bool scale) {
    Bake verb;
    verb.what = store_.picked();
    verb.position = position;
    verb.rotation = rotation;
    verb.scale = scale;
    return verb;
  };
  const auto with_copies = [this, menu](const QString& text, auto make) {
    connect(menu->addAction(text), &QAction::triggered, this, [this, make] { store_.perform(make(Copies::Separate)); });
    connect(menu->addAction(QString("%1, its instances with it").arg(text)), &QAction::triggered, this,
            [this, make] { store_.perform(make(Copies::All)); });
  };
  if (row == Position || row == Rotation || row == Factor || row == Skew) {
    menu->addSeparator();
    with_copies("Bake into the mesh", [bake, row](Copies copies) {
      Bake verb = bake(row == Position, row == Rotation, row == Factor || row == Skew);
      verb.copies = copies;
      return Verb(verb);
    });
  }
  if (row == Size) {
    menu->addSeparator();
    connect(menu->addAction("Make the box fit an edge or face …"), &QAction::triggered, this, [this] { ask_fit(1); });
    connect(menu->addAction("Make the box fit three places …"), &QAction::triggered, this, [this] { ask_fit(3); });
    with_copies("Make the box as tight as it can be", [this](Copies copies) {
      return Verb(FitBox{store_.picked(), {}, copies});
    });
  }
  return menu;
}

// Of which place the position is.
QMenu* PlacementPanel::of_menu() {
  auto* menu = new QMenu("Position of", this);
  connect(menu, &QMenu::aboutToShow, this, [this, menu] {
    menu->clear();
    const auto add = [&](const QString& words, std::optional<About> of) {
      QAction* action = menu->addAction(words);
      action->setCheckable(true);
      action->setChecked(of == of_);
      connect(action, &QAction::triggered, this, [this, of] { set_of(of); });
    };
    const auto own_box = [](const Vec3& fraction) {
      return About{About::Kind::Own, {TackKind::BoxPoint, kNoPart, 0, fraction}, {0.5, 0.5, 0.5}};
    };
    add("its pivot", std::nullopt);
    const std::pair<const char*, Vec3> points[] = {{"the low corner of its box", {0, 0, 0}},
                                                   {"the middle of its bottom", {0.5, 0.5, 0}},
                                                   {"its middle", {0.5, 0.5, 0.5}},
                                                   {"the middle of its top", {0.5, 0.5, 1}},
                                                   {"the high corner of its box", {1, 1, 1}}};
    for (const auto& [words, fraction] : points) add(words, own_box(fraction));
    const PartId first = store_.picked().empty() ? kNoPart : store_.picked().front();
    if (first == kNoPart) return;
    for (const KeptTack& kept : kept_of(store_.scene(), first)) {
      About of{About::Kind::Own, {TackKind::Kept, kNoPart, 0, {}}, {0.5, 0.5, 0.5}};
      of.place.name = kept.name;
      add(QString("its tack “%1”").arg(label_of(kept.name).replace('&', "&&")), of);
    }
    menu->addSeparator();
    connect(menu->addAction("another place of it …"), &QAction::triggered, this, [this, first] {
      bench_.ask_place("Click the place of the part whose position is to be shown and typed.",
                       [this, first](const Caught& caught) {
                         if (caught.address.part != first)
                           return store_.say("That is no place of the picked part.", Tone::Wrong);
                         set_of(about_place(caught.address));
                       });
    });
  });
  return menu;
}

void PlacementPanel::set_of(std::optional<About> of) {
  of_ = std::move(of);
  refresh();
}

// The tree, to go to another part without leaving the numbers.
QMenu* PlacementPanel::tree_menu() {
  auto* menu = new QMenu(this);
  menu->setObjectName("placement tree");
  connect(menu, &QMenu::aboutToShow, this, [this, menu] {
    menu->clear();
    constexpr int kMost = 300;
    int count = 0;
    const Scene& scene = store_.scene();
    for (const PartId id : scene.in_tree_order()) {
      if (++count > kMost) {
        menu->addAction(QString("and %1 more: see Parts").arg(scene.size() - kMost))->setEnabled(false);
        break;
      }
      int depth = 0;
      for (PartId up = scene.part(id).parent; up != kNoPart; up = scene.part(up).parent) ++depth;
      QAction* action = menu->addAction(QString(4 * depth, ' ') + label_of(scene.part(id).name).replace('&', "&&"));
      action->setCheckable(true);
      action->setChecked(store_.is_picked(id));
      connect(action, &QAction::triggered, this, [this, id] { store_.pick({id}); });
    }
    if (count == 0) menu->addAction("There is no part yet")->setEnabled(false);
  });
  return menu;
}

const Scene& PlacementPanel::shown_scene() const {
  const auto& shown = bench_.marks().shown;
  return shown ? *shown : store_.scene();
}

void PlacementPanel::ask_fit(int places) {
  if (!store_.has_picked()) return;
  FitBox fit;
  fit.what = store_.picked();
  fit.to.resize(static_cast<std::size_t>(places));
  emit fit_asked(fit);
}

QMenu* PlacementPanel::panel_menu() {
  auto* menu = new QMenu(this);
  connect(menu, &QMenu::aboutToShow, this, [this, menu] {
    menu->clear();
    const QStringList words = store_.axes_words();
    for (int i = 0; i < words.size(); ++i)
      connect(menu->addAction(QString("in %1 axes").arg(words[i])), &QAction::triggered, this, [this, i] {
        if (const auto axes = store_.axes_for(i)) store_.set_axes(*axes);
      });
    menu->addSeparator();
    connect(menu->addAction("Copy all"), &QAction::triggered, this, &PlacementPanel::copy_all);
    connect(menu->addAction("Paste all"), &QAction::triggered, this, &PlacementPanel::paste_all);
  });
  return menu;
}

bool PlacementPanel::eventFilter(QObject* object, QEvent* event) {
  // A field that is left with something typed takes it; a bad entry stays marked, and the old value in force.
  if (event->type() == QEvent::FocusOut) {
    for (int row = 0; row < kRows; ++row)
      for (int axis = 0; axis < 3; ++axis) {
        const Field& f = fields_[at(row)][at(axis)];
        if (f.edit == object && f.edit->text() != f.shown) commit(static_cast<Row>(row), axis);
      }
  }
  if (event->type() == QEvent::FocusIn && static_cast<QFocusEvent*>(event)->reason() != Qt::MouseFocusReason) {
    auto* edit = static_cast<EntryEdit*>(object);
    QMetaObject::invokeMethod(
        edit, [edit] { edit->selectAll(); }, Qt::QueuedConnection);
  }
  return QWidget::eventFilter(object, event);
}

void PlacementPanel::refresh() {
  const Scene& scene = shown_scene();
  const auto& picked = store_.picked();
  // A place that the parts picked now do not have: the pivot again.
  if (of_ &&
      std::any_of(picked.begin(), picked.end(), [&](PartId id) { return !position_of(scene, id, store_.axes(), of_); }))
    of_.reset();
  const QString name = picked.empty()       ? QString("Placement")
                       : picked.size() == 1 ? label_of(scene.part(picked.front()).name)
                                            : QString("%1 parts").arg(picked.size());
  title_->setText(title_->fontMetrics().elidedText(name, Qt::ElideMiddle, std::max(60, title_->width() - 22)) + " ▾");
  title_->setAccessibleName("Placement of " + name);
  title_->setToolTip(name + ": go to another part");
  const QString of = of_ ? QString::fromStdString(about_words(*of_, scene, picked)) : QString("its pivot");
  auto* position = static_cast<QToolButton*>(row_widgets_[Position].front());
  position->setText(of_ ? QString("Position of %1  ▾").arg(of) : QString("Position  ▾"));
  axes_->setText(QString("in %1 axes ▾").arg(QString::fromStdString(axes_words(store_.axes(), scene))));
  empty_->setVisible(picked.empty());
  table_->setVisible(!picked.empty());
  dimensions_->refresh(scene);
  for (QLabel* letter : table_->findChildren<QLabel*>(QRegularExpression("^axis [012]$")))
    set_style(
        *letter,
        QString("background: transparent; color: %1").arg(theme().axis[letter->objectName().right(1).toInt()].name()));
  const QString quiet =
      QString("QToolButton { color: %1; border: none; padding: 1px 0; } QToolButton::menu-indicator { image: none; }")
          .arg(theme().soft.name());
  for (int row = 0; row < kRows; ++row) set_style(*row_widgets_[at(row)].front(), quiet);
  set_style(*axes_, quiet);
  set_style(*title_, QString("QPushButton { color: %1; border: none; background: transparent; padding: 1px 0; "
                             "text-align: left; } QPushButton::menu-indicator { image: none; }")
                         .arg(theme().ink.name()));
  set_style(*empty_, "color: " + theme().soft.name());
  skew_->hide();
  if (picked.empty()) return;
  const CommonNumbers common = common_numbers(scene, picked, store_.axes(), of_);
  const bool skewed = common.skewed;
  std::array<std::array<std::string, 3>, kRows> typed;
  if (picked.size() == 1) {
    const PlacedNumbers n = numbers_in(scene, picked.front(), store_.axes());
    if (!of_) typed[Position] = n.position_text;
    typed[Rotation] = n.rotation_text;
    typed[Factor] = n.scale_text;
  }
  for (QWidget* w : row_widgets_[Skew]) w->setVisible(skewed);
  const std::array<const CommonNumbers3*, kRows> rows{&common.position, &common.rotation, &common.size,
                                                      &common.scale,    &common.pivot,    &common.skew};
  for (int row = 0; row < kRows; ++row)
    for (int axis = 0; axis < 3; ++axis)
      show_field(static_cast<Row>(row), axis, (*rows[at(row)])[at(axis)], typed[at(row)][at(axis)]);
  skew_->setVisible(skewed);
  set_style(*skew_, "color: " + theme().drifting.name());
  skew_->setText("Skewed in these axes. Reset it, or bake it into the mesh.");
}

void PlacementPanel::show_field(Row row, int axis, const CommonNumber& value, const std::string& typed) {
  Field& field = fields_[at(row)][at(axis)];
  if (field.edit->hasFocus() && field.edit->text() != field.shown && field.edit->isModified()) return;  // being typed
  QString text;
  QString tip;
  if (!value.same) {
    text = "several";
  } else {
    const EntryKind kind = kind_of(row);
    const double unit = kind == EntryKind::Length ? store_.unit().millimetres : 1;
    // As many decimals as the field has room for; what is hidden is said by the sign before it.
    const int room = field.edit->width() - 24;
    const QFontMetrics metrics(field.edit->font());
    for (int decimals = store_.decimals(); decimals >= 0; --decimals) {
      const Shown shown = show_number(value.first / unit, decimals);
      text = (shown.exact ? QString() : QStringLiteral("≈")) + QString::fromStdString(shown.text) +
             (kind == EntryKind::Angle ? "°" : "");
      if (!shown.exact) tip = QString("In full: %1").arg(QString::fromStdString(full_digits(value.first / unit)));
      if (metrics.horizontalAdvance(text) <= room) break;
    }
    if (!typed.empty()) {
      // As it was typed where there is room for it, with what it comes to in the tooltip; else the other way round.
      // A plain number is shown like any other.
      const QString words = QString::fromStdString(typed);
      const bool plain = QRegularExpression("^[-+]?[0-9.]*$").match(words).hasMatch();
      if (!plain)
        tip = metrics.horizontalAdvance(words) <= room ? QString("That is %1").arg(text)
                                                       : QString("Typed as %1").arg(words);
      if (!plain && metrics.horizontalAdvance(words) <= room) text = words;
    }
  }
  field.shown = text;
  field.edit->setToolTip(tip);
  if (field.edit->text() != text) field.edit->setText(text);
  field.edit->setModified(false);
  field.edit->setCursorPosition(0);
}

std::array<double, 3> PlacementPanel::numbers(Row row) const {
  const auto& picked = store_.picked();
  if (picked.empty()) return {};
  const Scene& scene = store_.scene();
  const PartId id = picked.front();
  const PlacedNumbers n = numbers_in(scene, id, store_.axes());
  Vec3 v;
  switch (row) {
    case Position: v = position_of(scene, id, store_.axes(), of_).value_or(n.position); break;
    case Rotation: v = n.rotation; break;
    case Factor: v = n.scale; break;
    case Skew: v = n.skew; break;
    case Size: v = size_of(scene, id, {id}, AxesKind::Local, false); break;
    default: v = scene.part(id).placement.pivot; break;
  }
  return {v.x, v.y, v.z};
}

Verb PlacementPanel::verb_for(Row row, const Amounts& amounts) const {
  if (row == Size) {
    Scale scale;
    scale.what = store_.picked();
    scale.size = amounts;
    return scale;
  }
  if (row == PivotAt) {
    Pivot pivot;
    pivot.what = store_.picked();
    pivot.in_mesh = true;
    pivot.numbers = amounts;
    return pivot;
  }
  Place place;
  place.what = store_.picked();
  place.axes = store_.axes();
  if (row == Position) place.of = of_;
  (row == Position   ? place.position
   : row == Rotation ? place.rotation
   : row == Factor   ? place.scale
                     : place.skew) = amounts;
  return place;
}

bool PlacementPanel::put(Row row, const Amounts& amounts) {
  if (store_.picked().empty()) return false;
  return store_.perform(verb_for(row, amounts));
}

void PlacementPanel::commit(Row row, int axis) {
  const Field& field = fields_[at(row)][at(axis)];
  if (field.edit->text() == field.shown || !field.edit->isModified()) return;
  // The sign for hidden digits may stand in the field, and means nothing.
  QString text = field.edit->text().trimmed();
  if (text.startsWith(QChar(0x2248))) {
    text = text.mid(1).trimmed();
    field.edit->setText(text);
    field.edit->setModified(true);
  }
  const auto value = field.edit->read();
  if (!value) return;
  Amounts amounts;
  amounts[at(axis)] =
      Amount{*value, text.toStdString(), kind_of(row) == EntryKind::Length ? store_.typed_unit() : kMillimetres};
  field.edit->setModified(false);
  if (!put(row, amounts)) field.edit->mark({0, text.toStdString().size(), QString("This was refused.").toStdString()});
}

Amount PlacementPanel::stepped_by(Row row, int steps) const {
  const Increments& inc = store_.increments();
  const EntryKind kind = kind_of(row);
  const double step = kind == EntryKind::Length  ? inc.length.step
                      : kind == EntryKind::Angle ? inc.angle.step
                                                 : inc.factor.step;
  // `it` so that each of several parts goes from where it is.
  return more_by(step * steps, kind);
}

void PlacementPanel::nudge(Row row, int axis, int steps) {
  if (store_.picked().empty()) return;
  Amounts amounts;
  amounts[at(axis)] = stepped_by(row, steps);
  put(row, amounts);
}

void PlacementPanel::slide(Row row, int axis, int steps, bool first) {
  if (store_.picked().empty()) return;
  if (first) slides_.reset();
  Amounts amounts;
  amounts[at(axis)] = stepped_by(row, steps);
  // Only a step of this very drag is changed: what was undone or done meanwhile is left alone.
  const bool again = slides_ && *slides_ == store_.journal().position();
  if (slides_ && !again) return;
  const Verb verb = verb_for(row, amounts);
  if (again ? store_.amend(verb) : store_.perform(verb)) slides_ = store_.journal().position();
}

Reading PlacementPanel::reading() const {
  return {store_.scene(), store_.axes(), store_.picked().empty() ? kNoPart : store_.picked().front()};
}

void PlacementPanel::reset(Row row) {
  const double value = row == Factor ? 1 : 0;
  put(row, {Amount{value}, Amount{value}, Amount{value}});
}

void PlacementPanel::copy(Row row) {
  QApplication::clipboard()->setText(QString::fromStdString(copied_text(numbers(row), kind_of(row), store_.unit())));
  store_.say(QString("Copied %1: three numbers with tabs between them.").arg(QString(kRowNames[row]).toLower()));
}

void PlacementPanel::paste(Row row) {
  const auto values = pasted_numbers(QApplication::clipboard()->text().toStdString(),
                                     {kind_of(row), store_.unit(), std::nullopt, reader_of(reading())});
  if (!values) return store_.say(QString::fromStdString(values.error()), Tone::Wrong);
  Amounts amounts;
  for (std::size_t i = 0; i < 3; ++i)
    if ((*values)[i]) amounts[i] = Amount{*(*values)[i]};
  put(row, amounts);
}

void PlacementPanel::copy_all() {
  QString text;
  for (const Row row : {Position, Rotation, Factor, Skew})
    text += QString(kRowNames[row]) + "\t" +
            QString::fromStdString(copied_text(numbers(row), kind_of(row), store_.unit())) + "\n";
  QApplication::clipboard()->setText(text);
  store_.say("Copied the placement: a line for each group.");
}

void PlacementPanel::paste_all() {
  Place place;
  place.what = store_.picked();
  place.axes = store_.axes();
  bool any = false;
  for (const QString& line : QApplication::clipboard()->text().split('\n', Qt::SkipEmptyParts)) {
    const QString name = line.section('\t', 0, 0);
    for (const auto& [row, group] : {std::pair{Position, &place.position},
                                     {Rotation, &place.rotation},
                                     {Factor, &place.scale},
                                     {Skew, &place.skew}}) {
      if (name != QString(kRowNames[row])) continue;
      const auto values = pasted_numbers(line.section('\t', 1).toStdString(),
                                         {kind_of(row), store_.unit(), std::nullopt, reader_of(reading())});
      if (!values) return store_.say(QString::fromStdString(values.error()), Tone::Wrong);
      for (std::size_t i = 0; i < 3; ++i)
        if ((*values)[i]) (*group)[i] = Amount{*(*values)[i]}, any = true;
    }
  }
  if (!any) return store_.say("The clipboard holds no placement: a line for each group, its name first.", Tone::Wrong);
  if (!store_.picked().empty()) store_.perform(place);
}

}  // namespace tack
