#include "app/panels/parts_panel.h"

#include <QContextMenuEvent>
#include <QDropEvent>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QMenu>
#include <QMimeData>
#include <QToolButton>
#include <QTreeWidgetItemIterator>
#include <QVBoxLayout>

#include "app/panels/colours_panel.h"
#include "app/text.h"
#include "app/theme.h"

namespace tack {
namespace {

constexpr int kId = Qt::UserRole;

PartId part_in(const QTreeWidgetItem* item) { return item ? item->data(0, kId).toUInt() : kNoPart; }

// Groups have none; what is see-through is half filled.
QIcon swatch_of(const Part& part) {
  if (!part.mesh) {
    QPixmap none(22, 22);
    none.fill(Qt::transparent);
    none.setDevicePixelRatio(2);
    return QIcon(none);
  }
  const Colour c = part.colours.empty() ? Colour{} : part.colours.front();
  return swatch(QColor::fromRgbF(c.r, c.g, c.b), part.see_through);
}

}  // namespace

PartsTree::PartsTree(Store& store, Workbench& bench, QWidget* parent)
    : QTreeWidget(parent), store_(store), bench_(bench) {
  setObjectName("parts tree");
  setAccessibleName("Parts");
  setHeaderHidden(true);
  setColumnCount(3);
  header()->setStretchLastSection(false);
  header()->setMinimumSectionSize(20);
  header()->setSectionResizeMode(0, QHeaderView::Stretch);
  for (const int column : {1, 2}) {
    header()->setSectionResizeMode(column, QHeaderView::Fixed);
    header()->resizeSection(column, 22);
  }
  setIndentation(13);
  setUniformRowHeights(true);
  setSelectionMode(QAbstractItemView::ExtendedSelection);
  setEditTriggers(QAbstractItemView::EditKeyPressed);
  setDragDropMode(QAbstractItemView::InternalMove);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setFrameShape(QFrame::NoFrame);
  connect(&store_, &Store::scene_changed, this, &PartsTree::rebuild);
  connect(&store_, &Store::look_changed, this, [this] {
    busy_ = true;
    for (const auto& [id, item] : items_) dress(*item, shown_.part(id));
    busy_ = false;
  });
  connect(&store_, &Store::picked_changed, this, &PartsTree::show_picked);
  connect(this, &QTreeWidget::itemSelectionChanged, this, [this] {
    if (busy_) return;
    std::vector<PartId> picked;
    for (const QTreeWidgetItem* item : selectedItems()) picked.push_back(part_in(item));
    busy_ = true;
    store_.pick(std::move(picked));
    busy_ = false;
  });
  connect(this, &QTreeWidget::itemDoubleClicked, this, [this](QTreeWidgetItem* item, int column) {
    if (column == 0) editItem(item, 0);
  });
  connect(this, &QTreeWidget::itemClicked, this, [this](QTreeWidgetItem* item, int column) {
    const Part* part = store_.scene().find(part_in(item));
    if (!part) return;
    if (column == 1) store_.perform(Show{{part_in(item)}, part->hidden});
    if (column == 2) store_.perform(Lock{{part_in(item)}, !part->locked});
  });
  connect(this, &QTreeWidget::itemChanged, this, [this](QTreeWidgetItem* item, int column) {
    if (busy_ || column != 0) return;
    const PartId id = part_in(item);
    const Part* part = store_.scene().find(id);
    const std::string name = item->text(0).trimmed().toStdString();
    if (!part || part->name == name) return;
    if (!store_.perform(Rename{id, name})) {
      busy_ = true;
      item->setText(0, label_of(part->name));
      busy_ = false;
    }
  });
}

void PartsTree::dress(QTreeWidgetItem& item, const Part& part) const {
  const QString name = label_of(part.name);
  item.setText(0, name);
  item.setToolTip(0, part.see_through ? name + " · see-through" : name);
  item.setIcon(0, swatch_of(part));
  item.setData(0, Qt::AccessibleDescriptionRole, part.see_through ? "see-through" : "");
  item.setForeground(0, part.hidden ? QBrush(theme().soft) : QBrush());
  // The everyday state needs no mark: only what is hidden or locked shows one; a click in the column changes it.
  item.setIcon(1, part.hidden ? line_icon("hidden", theme().soft, 14) : QIcon());
  item.setIcon(2, part.locked ? line_icon("locked", theme().soft, 14) : QIcon());
  item.setToolTip(1, part.hidden ? "Hidden: click to show" : "Shown: click to hide");
  item.setToolTip(2, part.locked ? "Locked: click to unlock" : "Free: click to lock");
  item.setData(1, Qt::AccessibleTextRole, part.hidden ? "hidden" : "shown");
  item.setData(2, Qt::AccessibleTextRole, part.locked ? "locked" : "free");
}

// Most steps only move things, and parts that no step touched are the same objects as before: only what differs is
// looked at, and the tree is made anew only when a part has come, gone or got another parent.
void PartsTree::rebuild() {
  const Scene& scene = store_.scene();
  std::vector<PartId> order = scene.in_tree_order();
  bool same_tree = order == order_;
  std::vector<PartId> changed;
  for (const PartId id : order) {
    const Part* before = shown_.find(id);
    const Part& part = scene.part(id);
    if (before == &part) continue;
    same_tree = same_tree && before && before->parent == part.parent;
    if (!same_tree) break;
    const bool alike = before->name == part.name && before->hidden == part.hidden && before->locked == part.locked &&
                       before->colours == part.colours && before->see_through == part.see_through &&
                       !before->mesh == !part.mesh;
    if (!alike) changed.push_back(id);
  }
  shown_ = scene;
  const bool was_busy = busy_;
  busy_ = true;
  if (same_tree) {
    for (const PartId id : changed) dress(*items_.at(id), scene.part(id));
    busy_ = was_busy;
    if (!changed.empty() && !search_.isEmpty()) filter(search_);
    return;
  }
  order_ = std::move(order);
  plant();
  busy_ = was_busy;
  if (!search_.isEmpty()) filter(search_);
  show_picked();
}

void PartsTree::plant() {
  constexpr std::size_t kMany = 400;  // more parts than one wants to see unfolded at once
  constexpr int kFew = 8;
  setUpdatesEnabled(false);
  std::set<PartId> open;
  for (const auto& [id, item] : items_)
    if (item->isExpanded()) open.insert(id);
  const bool first = items_.empty();
  clear();
  items_.clear();
  QList<QTreeWidgetItem*> tops;
  for (const PartId id : order_) {
    const Part& part = shown_.part(id);
    auto* item = part.parent == kNoPart ? new QTreeWidgetItem : new QTreeWidgetItem(items_[part.parent]);
    if (part.parent == kNoPart) tops << item;
    item->setData(0, kId, id);
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable | Qt::ItemIsDragEnabled |
                   Qt::ItemIsDropEnabled);
    dress(*item, part);
    items_[id] = item;
  }
  addTopLevelItems(tops);
  for (const auto& [id, item] : items_)
    if (item->childCount() > 0)
      item->setExpanded(first ? order_.size() <= kMany && item->childCount() <= kFew : open.contains(id));
  setUpdatesEnabled(true);
}

void PartsTree::show_picked() {
  if (busy_) return;
  busy_ = true;
  QItemSelection selection;
  QTreeWidgetItem* last = nullptr;
  std::map<QTreeWidgetItem*, std::vector<int>> rows;  // by parent
  for (const PartId id : store_.picked())
    if (QTreeWidgetItem* item = item_of(id)) {
      rows[item->parent()].push_back(indexFromItem(item).row());
      last = item;
    }
  // Rows that follow each other are one range: what is selected is gone through range by range, again and again.
  for (auto& [parent, numbers] : rows) {
    const QModelIndex above = parent ? indexFromItem(parent) : QModelIndex();
    std::sort(numbers.begin(), numbers.end());
    for (std::size_t i = 0, end = 0; i < numbers.size(); i = end) {
      for (end = i + 1; end < numbers.size() && numbers[end] == numbers[end - 1] + 1;) ++end;
      selection.append(QItemSelectionRange(model()->index(numbers[i], 0, above),
                                           model()->index(numbers[end - 1], columnCount() - 1, above)));
    }
  }
  selectionModel()->select(selection, QItemSelectionModel::ClearAndSelect);
  if (last) {
    setCurrentItem(last, 0, QItemSelectionModel::NoUpdate);
    scrollToItem(last);
  }
  busy_ = false;
}

QTreeWidgetItem* PartsTree::item_of(PartId id) const {
  const auto item = items_.find(id);
  return item == items_.end() ? nullptr : item->second;
}

void PartsTree::filter(const QString& text) {
  search_ = text;
  // A part is shown when its name fits, or that of something below it.
  const std::function<bool(QTreeWidgetItem*)> show = [&](QTreeWidgetItem* item) {
    bool any = text.isEmpty() || item->text(0).contains(text, Qt::CaseInsensitive);
    for (int i = 0; i < item->childCount(); ++i) any |= show(item->child(i));
    item->setHidden(!any);
    if (!text.isEmpty() && any && item->childCount() > 0) item->setExpanded(true);
    return any;
  };
  for (int i = 0; i < topLevelItemCount(); ++i) show(topLevelItem(i));
}

void PartsTree::pick_found() {
  if (search_.isEmpty()) return setFocus();
  for (QTreeWidgetItemIterator it(this); *it; ++it) {
    if ((*it)->isHidden() || !(*it)->text(0).contains(search_, Qt::CaseInsensitive)) continue;
    store_.pick({part_in(*it)});
    return setFocus();
  }
  store_.say(QString("No part is called “%1”.").arg(search_), Tone::Wrong);
}

void PartsTree::keyPressEvent(QKeyEvent* event) {
  const bool walks = event->key() >= Qt::Key_Left && event->key() <= Qt::Key_Down;
  if (!walks && event->key() != Qt::Key_F2 && bench_.key_press(*event)) return;
  QTreeWidget::keyPressEvent(event);
}

void PartsTree::keyReleaseEvent(QKeyEvent* event) {
  if (!bench_.key_release(*event)) QTreeWidget::keyReleaseEvent(event);
}

// A click answers a blank that waits, as on the stage: a part, or a place with the part's pivot. With Ctrl or Shift it
// picks all the same.
void PartsTree::mousePressEvent(QMouseEvent* event) {
  const QTreeWidgetItem* item = itemAt(event->position().toPoint());
  answered_ = false;
  const bool plain = event->button() == Qt::LeftButton && event->modifiers() == Qt::NoModifier;
  if (plain && item && columnAt(event->position().toPoint().x()) == 0 && bench_.answer_with(part_in(item))) {
    answered_ = true;
    return event->accept();
  }
  QTreeWidget::mousePressEvent(event);
}

void PartsTree::mouseReleaseEvent(QMouseEvent* event) {
  if (std::exchange(answered_, false)) return event->accept();
  QTreeWidget::mouseReleaseEvent(event);
}

// A colour of the list is dropped on a part, as on the stage; anything else that is dragged here is a part.
void PartsTree::dragEnterEvent(QDragEnterEvent* event) {
  if (!dragged_colour(*event->mimeData()).empty()) return event->acceptProposedAction();
  QTreeWidget::dragEnterEvent(event);
}

void PartsTree::dragMoveEvent(QDragMoveEvent* event) {
  if (dragged_colour(*event->mimeData()).empty()) return QTreeWidget::dragMoveEvent(event);
  event->setAccepted(itemAt(event->position().toPoint()) != nullptr);
}

void PartsTree::dropEvent(QDropEvent* event) {
  if (const std::string colour = dragged_colour(*event->mimeData()); !colour.empty()) {
    event->acceptProposedAction();
    if (const PartId part = part_in(itemAt(event->position().toPoint())); part != kNoPart) {
      Paint paint;
      paint.what = {part};
      paint.named = colour;
      store_.perform(paint);
    }
    return;
  }
  // The tree is rebuilt from the scene: Qt itself must not move anything.
  QTreeWidgetItem* target = itemAt(event->position().toPoint());
  if (target && dropIndicatorPosition() != OnItem) target = target->parent();
  const bool numbers = event->modifiers() & Qt::ShiftModifier;
  const std::vector<PartId> what = store_.picked();
  event->setDropAction(Qt::IgnoreAction);
  event->accept();
  if (what.empty()) return;
  store_.perform(Reparent{what, part_in(target), numbers ? Reparent::Keeps::Numbers : Reparent::Keeps::Place});
}

void PartsTree::contextMenuEvent(QContextMenuEvent* event) {
  if (store_.picked().empty()) return;
  QMenu menu;
  const auto add = [&](const QString& text, const Verb& verb) {
    connect(menu.addAction(text), &QAction::triggered, this, [this, verb] { store_.perform(verb); });
  };
  const auto& picked = store_.picked();
  add("Show", Show{picked, true});
  add("Hide", Show{picked, false});
  add("Lock", Lock{picked, true});
  add("Unlock", Lock{picked, false});
  const bool clear = all_see_through(store_.scene(), picked);
  add(clear ? "Make solid again" : "Make see-through", SeeThrough{picked, !clear});
  QMenu* colours = menu.addMenu("Colour");
  const Part& first = store_.scene().part(picked.front());
  add_colours(*colours, store_.scene(), first.colours.empty() ? Colour{} : first.colours.front(),
              [this, picked](const std::string& name, const Colour& colour) {
                store_.perform(Paint{picked, colour, name});
              });
  menu.addSeparator();
  add("Put at the top of the tree", Reparent{picked, kNoPart, Reparent::Keeps::Place});
  connect(menu.addAction("Rename"), &QAction::triggered, this, [this] { editItem(currentItem(), 0); });
  add("Delete", Delete{picked});
  menu.exec(event->globalPos());
}

PartsPanel::PartsPanel(Store& store, Workbench& bench, QWidget* parent)
    : QWidget(parent), tree_(new PartsTree(store, bench, this)), search_(new QLineEdit(this)) {
  auto* title = new QLabel("Parts", this);
  title->setFont(ui_font(0.95, QFont::DemiBold));
  search_->setObjectName("search parts");
  search_->setPlaceholderText("Search");
  search_->setAccessibleName("Search in Parts");
  search_->setToolTip("Search in Parts (Ctrl+F)");
  search_->setClearButtonEnabled(true);
  search_->setFont(ui_font(0.95));
  connect(search_, &QLineEdit::textChanged, tree_, &PartsTree::filter);
  // Enter picks the first that was found, and the keys go on in the tree.
  connect(search_, &QLineEdit::returnPressed, tree_, &PartsTree::pick_found);
  auto* top = new QHBoxLayout;
  top->setContentsMargins(14, 8, 10, 4);
  top->setSpacing(10);
  top->addWidget(title);
  top->addWidget(search_, 1);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addLayout(top);
  auto* inset = new QHBoxLayout;
  inset->setContentsMargins(8, 0, 0, 0);
  inset->addWidget(tree_);
  layout->addLayout(inset, 1);
}

void PartsPanel::focus_search() {
  search_->setFocus();
  search_->selectAll();
}

}  // namespace tack
