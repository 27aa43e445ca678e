#include "app/panels/colours_panel.h"

#include <QApplication>
#include <QColorDialog>
#include <QDrag>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QMenu>
#include <QMimeData>
#include <QPainter>
#include <QPushButton>
#include <QTimer>
#include <QVBoxLayout>

#include "app/text.h"
#include "app/theme.h"
#include "core/verbs/blank_codec.h"

namespace tack {
namespace {

constexpr char kColourMime[] = "application/x-tackpoint-colour";

QColor qt_colour(const Colour& c) { return QColor::fromRgbF(c.r, c.g, c.b); }

std::string name_of_item(const QTreeWidgetItem* item) {
  return item ? item->data(0, Qt::UserRole).toString().toStdString() : std::string();
}

// The colour of the first of these parts that has one.
Colour first_colour(const Scene& scene, const std::vector<PartId>& parts) {
  const std::vector<bool> within = marked_within(scene, parts);
  for (const PartId id : scene.in_tree_order())
    if (within[id] && !scene.part(id).colours.empty()) return scene.part(id).colours.front();
  return {};
}

}  // namespace

std::string dragged_colour(const QMimeData& data) { return data.data(kColourMime).toStdString(); }

std::optional<Colour> ask_colour(const Colour& now) {
  const QColor chosen = QColorDialog::getColor(qt_colour(now), QApplication::activeWindow(), "Colour");
  if (!chosen.isValid()) return std::nullopt;
  return Colour{float(chosen.redF()), float(chosen.greenF()), float(chosen.blueF()), 1};
}

void add_colours(QMenu& menu, const Scene& scene, const Colour& now,
                 const std::function<void(const std::string& name, const Colour& colour)>& given) {
  constexpr std::size_t kMost = 40;  // more are given from the list itself
  const auto& colours = scene.colours();
  for (std::size_t i = 0; i < colours.size() && i < kMost; ++i) {
    QAction* action =
        menu.addAction(swatch(qt_colour(colours[i].colour)), label_of(colours[i].name).replace('&', "&&"));
    QObject::connect(action, &QAction::triggered, &menu, [given, name = colours[i].name] { given(name, {}); });
  }
  if (colours.size() > kMost)
    menu.addAction(QString("and %1 more, in Colours").arg(colours.size() - kMost))->setEnabled(false);
  if (!colours.empty()) menu.addSeparator();
  QObject::connect(menu.addAction("Another colour …"), &QAction::triggered, &menu, [given, now] {
    if (const auto colour = ask_colour(now)) given({}, *colour);
  });
}

QMimeData* ColourList::mimeData(const QList<QTreeWidgetItem*>& items) const {
  auto* dragged = new QMimeData;
  if (!items.isEmpty()) dragged->setData(kColourMime, QByteArray::fromStdString(name_of_item(items.front())));
  return dragged;
}

// What is dragged is a chip of the colour with its name, not a picture of the row.
void ColourList::startDrag(Qt::DropActions) {
  QTreeWidgetItem* item = currentItem();
  if (!item || name_of_item(item).empty()) return;
  const QString name = item->text(0);
  const int height = fontMetrics().height() + 10;
  const int width = std::min(fontMetrics().horizontalAdvance(name), 200) + height + 8;
  QPixmap chip(QSize(width, height) * devicePixelRatioF());
  chip.setDevicePixelRatio(devicePixelRatioF());
  chip.fill(Qt::transparent);
  QPainter p(&chip);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(theme().ink);
  p.setBrush(theme().card);
  p.drawRoundedRect(QRectF(0.5, 0.5, width - 1, height - 1), 4, 4);
  p.drawPixmap(6, (height - 11) / 2, item->icon(0).pixmap(QSize(11, 11), devicePixelRatioF()));
  p.setFont(font());
  p.drawText(QRect(height - 4, 0, width - height, height), Qt::AlignVCenter | Qt::AlignLeft,
             fontMetrics().elidedText(name, Qt::ElideMiddle, 200));
  p.end();
  auto* drag = new QDrag(this);
  drag->setMimeData(mimeData({item}));
  drag->setPixmap(chip);
  drag->setHotSpot({6, height / 2});
  drag->exec(Qt::CopyAction);
}

void ColourList::keyPressEvent(QKeyEvent* event) {
  if (state() == EditingState) return QTreeWidget::keyPressEvent(event);
  if (event->key() == Qt::Key_Delete) return emit forget_asked();
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return emit given_asked();
  QTreeWidget::keyPressEvent(event);
}

// Delete means the chosen colour here, and not, as in the menus, the parts that are picked.
bool ColourList::event(QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete) {
    event->accept();
    return true;
  }
  return QTreeWidget::event(event);
}

ColoursPanel::ColoursPanel(Store& store, Workbench& bench, QWidget* parent)
    : QWidget(parent), store_(store), bench_(bench), list_(new ColourList(this)), give_(new QPushButton("Give", this)) {
  list_->setObjectName("colours");
  list_->setAccessibleName("Colours");
  list_->setToolTip("Drag a colour onto a part, or press Enter to give it to what is picked; F2 renames it");
  list_->setHeaderHidden(true);
  list_->setColumnCount(2);
  list_->header()->setStretchLastSection(false);
  list_->header()->setSectionResizeMode(0, QHeaderView::Stretch);
  list_->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
  list_->setRootIsDecorated(false);
  list_->setUniformRowHeights(true);
  list_->setEditTriggers(QAbstractItemView::EditKeyPressed);
  list_->setSelectionMode(QAbstractItemView::SingleSelection);
  list_->setDragEnabled(true);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setFrameShape(QFrame::NoFrame);
  list_->setContextMenuPolicy(Qt::CustomContextMenu);
  list_->setFont(ui_font(0.95));
  auto* fresh = new QPushButton("New …", this);
  fresh->setToolTip("Puts a colour on the list: that of what is picked, or one that you choose");
  give_->setToolTip("Gives the chosen colour to what is picked (Enter in the list)");
  auto* buttons = new QHBoxLayout;
  buttons->setContentsMargins(14, 4, 10, 8);
  buttons->setSpacing(8);
  buttons->addWidget(fresh);
  buttons->addWidget(give_, 1);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 4, 0, 0);
  layout->setSpacing(0);
  auto* inset = new QHBoxLayout;
  inset->setContentsMargins(8, 0, 8, 0);
  inset->addWidget(list_);
  layout->addLayout(inset, 1);
  layout->addLayout(buttons);
  connect(fresh, &QPushButton::clicked, this, [this] { add(false); });
  connect(give_, &QPushButton::clicked, this, &ColoursPanel::give);
  connect(list_, &ColourList::given_asked, this, &ColoursPanel::give);
  connect(list_, &ColourList::forget_asked, this, [this] {
    if (const std::string name = chosen(); !name.empty())
      store_.perform(EditColour{name, EditColour::Do::Forget, {}, {}});
  });
  connect(list_, &QTreeWidget::itemDoubleClicked, this, &ColoursPanel::change);
  connect(list_, &QTreeWidget::itemChanged, this, &ColoursPanel::rename);
  connect(list_, &QWidget::customContextMenuRequested, this, &ColoursPanel::show_menu);
  connect(list_, &QTreeWidget::currentItemChanged, this, [this] { give_->setEnabled(!chosen().empty()); });
  connect(&store_, &Store::scene_changed, this, &ColoursPanel::refresh);
  connect(&store_, &Store::look_changed, this, [this] {
    shown_ = {};
    refresh();
  });
  refresh();
}

std::string ColoursPanel::chosen() const { return name_of_item(list_->currentItem()); }

void ColoursPanel::refresh() {
  const Scene& scene = store_.scene();
  // Most steps move things: neither the list nor who has a colour is another then.
  bool same = &scene.colours() == &shown_.colours() && list_->topLevelItemCount() > 0;
  if (same && !scene.colours().empty()) {
    const auto others = scene.unlike(shown_);
    same = std::none_of(others.begin(), others.end(), [&](PartId id) {
      const Part *now = scene.find(id), *then = shown_.find(id);
      return !now || !then || now->colour_names != then->colour_names;
    });
  }
  shown_ = scene;
  if (same) return;
  const std::string was = chosen();
  std::unordered_map<std::string, int> users;
  for (const PartId id : scene.in_tree_order())
    if (const auto& names = scene.part(id).colour_names)
      for (auto name = names->begin(); name != names->end(); ++name)
        if (std::find(names->begin(), name, *name) == name) ++users[*name];
  filling_ = true;
  list_->clear();
  for (const NamedColour& colour : scene.colours()) {
    auto* item = new QTreeWidgetItem(list_);
    const int count = users[colour.name];
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable | Qt::ItemIsDragEnabled);
    item->setText(0, label_of(colour.name));
    item->setData(0, Qt::UserRole, QString::fromStdString(colour.name));
    item->setIcon(0, swatch(qt_colour(colour.colour)));
    item->setText(1, count == 0 ? QString("no part") : count == 1 ? QString("1 part") : QString("%1 parts").arg(count));
    item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
    item->setForeground(1, theme().soft);
    item->setToolTip(0, QString("%1 · %2").arg(item->text(0), QString::fromStdString(colour_text(colour.colour))));
    if (colour.name == was) list_->setCurrentItem(item);
  }
  if (scene.colours().empty()) {
    auto* item = new QTreeWidgetItem(list_, {"No colour has a name yet."});
    item->setFlags(Qt::ItemIsEnabled);
    item->setForeground(0, theme().soft);
    item->setFirstColumnSpanned(true);
  }
  filling_ = false;
  give_->setEnabled(!chosen().empty());
}

void ColoursPanel::add(bool asks) {
  const Scene& scene = store_.scene();
  std::vector<PartId> what = store_.picked();
  Colour colour = first_colour(scene, what);
  if (asks || what.empty()) {
    const auto asked = ask_colour(colour);
    if (!asked) return;
    colour = *asked;
    what = store_.picked();
  }
  const std::string name =
      first_free("Colour", [&](const std::string& n) { return store_.scene().colour(n) != nullptr; });
  if (!store_.perform(NameColour{name, colour, what})) return;
  // The sentence of the step takes the name: it opens there, ready to be typed.
  bench_.tell_last_step();
  bench_.open_entry(blank_of(Verb(NameColour{}), "name"));
}

void ColoursPanel::give() {
  const std::string name = chosen();
  if (name.empty() || !store_.has_picked()) return;
  Paint paint;
  paint.what = store_.picked();
  paint.named = name;
  store_.perform(paint);
}

void ColoursPanel::change() {
  const std::string name = chosen();
  const NamedColour* now = store_.scene().colour(name);
  if (!now) return;
  if (const auto colour = ask_colour(now->colour))
    store_.perform(EditColour{name, EditColour::Do::Change, *colour, {}});
}

void ColoursPanel::rename(QTreeWidgetItem* item) {
  if (filling_) return;
  const std::string name = name_of_item(item), wanted = item->text(0).trimmed().toStdString();
  if (name.empty() || wanted == label_of(name).toStdString()) return;
  // The list is made anew by the step, so that happens once the field it was typed into is gone; refused, the old name
  // stands there again.
  QTimer::singleShot(0, this, [this, name, wanted] {
    if (store_.perform(EditColour{name, EditColour::Do::Rename, {}, wanted})) return;
    shown_ = {};
    refresh();
  });
}

void ColoursPanel::show_menu(QPoint at) {
  QTreeWidgetItem* item = list_->itemAt(at);
  const std::string name = name_of_item(item);
  QMenu menu;
  menu.setObjectName("colour menu");
  const QAction *give = nullptr, *pick = nullptr, *change = nullptr, *rename = nullptr, *forget = nullptr;
  if (!name.empty()) {
    list_->setCurrentItem(item);
    give = menu.addAction("Give it to what is picked");
    pick = menu.addAction("Pick the parts that have it");
    menu.addSeparator();
    change = menu.addAction("Change it …");
    rename = menu.addAction("Rename it");
    forget = menu.addAction("Take it off the list");
    menu.addSeparator();
  }
  const QAction* keep =
      store_.picked().empty() ? nullptr : menu.addAction("Put the colour of what is picked on the list");
  const QAction* fresh = menu.addAction("New colour …");
  const QAction* did = menu.exec(list_->viewport()->mapToGlobal(at));
  // The scene may be another one by the time the menu is answered.
  if (!did) return;
  if (did == keep) return add(false);
  if (did == fresh) return add(true);
  if (!store_.scene().colour(name) || chosen() != name) return;
  if (did == give) this->give();
  if (did == change) this->change();
  if (did == rename) list_->editItem(list_->currentItem(), 0);
  if (did == forget) store_.perform(EditColour{name, EditColour::Do::Forget, {}, {}});
  if (did == pick) {
    const auto parts = parts_with(store_.scene(), name);
    if (parts.empty()) return store_.say(QString("No part has the colour %1.").arg(label_of(name)));
    store_.pick(parts);
  }
}

}  // namespace tack
