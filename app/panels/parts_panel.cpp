#include "app/panels/parts_panel.h"

#include <QAccessible>
#include <QContextMenuEvent>
#include <QDropEvent>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QMenu>
#include <QMimeData>
#include <QScrollBar>
#include <QToolButton>
#include <QVBoxLayout>
#include <map>

#include "app/panels/colours_panel.h"
#include "app/text.h"
#include "app/theme.h"

namespace tack {
namespace {

// A tree of more parts than this is not unfolded when it is opened, nor are groups of more than these.
constexpr std::size_t kMany = 400;
constexpr int kFew = 8;

}  // namespace

PartsTree::PartsTree(Store& store, Workbench& bench, QWidget* parent)
    : QTreeView(parent), store_(store), bench_(bench), model_(new PartsModel(this)) {
  setObjectName("parts tree");
  setAccessibleName("Parts");
  setHeaderHidden(true);
  setModel(model_);
  header()->setStretchLastSection(false);
  header()->setMinimumSectionSize(20);
  header()->setSectionResizeMode(PartsModel::Name, QHeaderView::Stretch);
  for (const int column : {PartsModel::Shown, PartsModel::Locked}) {
    header()->setSectionResizeMode(column, QHeaderView::Fixed);
    header()->resizeSection(column, 22);
  }
  setIndentation(13);
  setUniformRowHeights(true);
  setSelectionMode(QAbstractItemView::ExtendedSelection);
  setEditTriggers(QAbstractItemView::EditKeyPressed);
  setDragEnabled(true);
  setDragDropMode(QAbstractItemView::InternalMove);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setFrameShape(QFrame::NoFrame);
  // Another document begins with nothing that was unfolded in the one before.
  connect(&store_, &Store::started, this, [this] { model_->show({}); });
  connect(&store_, &Store::scene_changed, this, [this] { model_->show(store_.scene()); });
  connect(&store_, &Store::look_changed, viewport(), qOverload<>(&QWidget::update));
  connect(&store_, &Store::picked_changed, this, [this] { show_picked(); });
  connect(model_, &QAbstractItemModel::modelAboutToBeReset, this, &PartsTree::before_reset);
  connect(model_, &QAbstractItemModel::modelReset, this, &PartsTree::after_reset);
  // Once the field is closed: with a search, the new name may take the row away under it.
  const auto rename = [this](PartId part, const QString& name) { store_.perform(Rename{part, name.toStdString()}); };
  connect(model_, &PartsModel::renamed, this, rename, Qt::QueuedConnection);
  connect(this, &QTreeView::doubleClicked, this, [this](const QModelIndex& index) {
    if (index.column() == PartsModel::Name) edit(index);
  });
  connect(this, &QTreeView::clicked, this, [this](const QModelIndex& index) {
    const PartId id = PartsModel::part_of(index);
    const Part* part = store_.scene().find(id);
    if (!part) return;
    if (index.column() == PartsModel::Shown) store_.perform(Show{{id}, part->hidden});
    if (index.column() == PartsModel::Locked) store_.perform(Lock{{id}, !part->locked});
  });
}

// What is unfolded and scrolled to while something is looked for says nothing of what was before.
void PartsTree::before_reset() {
  searched_ = !model_->looked_for().isEmpty();
  if (searched_) return;
  was_empty_ = model_->rowCount() == 0;
  scrolled_ = verticalScrollBar()->value();
  unfolded_.clear();
  const Scene& scene = model_->scene();
  for (const PartId id : scene.in_tree_order())
    if (!scene.part(id).children.empty() && isExpanded(index_of(id))) unfolded_.insert(id);
}

void PartsTree::after_reset() {
  const Scene& scene = model_->scene();
  const bool searches = !model_->looked_for().isEmpty();
  if (searches) {
    expandAll();
  } else {
    for (const PartId id : scene.in_tree_order()) {
      const auto rows = static_cast<int>(scene.part(id).children.size());
      if (rows > 0 && (was_empty_ ? scene.size() <= kMany && rows <= kFew : unfolded_.contains(id)))
        expand(index_of(id));
    }
  }
  show_picked(false);
  executeDelayedItemsLayout();
  verticalScrollBar()->setValue(searches ? 0 : scrolled_);
  // What was picked in a search is seen where it is among the others.
  if (searched_ && !searches) show_picked();
}

void PartsTree::show_picked(bool scrolls) {
  if (busy_) return;
  busy_ = true;
  QItemSelection selection;
  QModelIndex last;
  std::map<PartId, std::vector<int>> rows;  // by parent
  for (const PartId id : store_.picked())
    if (const QModelIndex index = index_of(id); index.isValid()) {
      rows[PartsModel::part_of(index.parent())].push_back(index.row());
      last = index;
    }
  // Rows that follow each other are one range: what is selected is gone through range by range, again and again.
  for (auto& [parent, numbers] : rows) {
    const QModelIndex above = index_of(parent);
    std::sort(numbers.begin(), numbers.end());
    for (std::size_t i = 0, end = 0; i < numbers.size(); i = end) {
      for (end = i + 1; end < numbers.size() && numbers[end] == numbers[end - 1] + 1;) ++end;
      selection.append(QItemSelectionRange(model_->index(numbers[i], PartsModel::Name, above),
                                           model_->index(numbers[end - 1], PartsModel::Locked, above)));
    }
  }
  selectionModel()->select(selection, QItemSelectionModel::ClearAndSelect);
  if (last.isValid()) {
    selectionModel()->setCurrentIndex(last, QItemSelectionModel::NoUpdate);
    if (scrolls) scrollTo(last);
  }
  busy_ = false;
}

// Told that many rows have changed, the view would work out where each of them is drawn.
void PartsTree::dataChanged(const QModelIndex& first, const QModelIndex& last, const QList<int>& roles) {
  constexpr int kManyRows = 64;
  if (last.row() - first.row() < kManyRows || state() == EditingState || QAccessible::isActive())
    return QTreeView::dataChanged(first, last, roles);
  viewport()->update();
}

QItemSelectionModel::SelectionFlags PartsTree::selectionCommand(const QModelIndex& index, const QEvent* event) const {
  const auto flags = QTreeView::selectionCommand(index, event);
  adds_ = flags.testFlag(QItemSelectionModel::Toggle);
  return flags;
}

void PartsTree::selectionChanged(const QItemSelection& selected, const QItemSelection& deselected) {
  QTreeView::selectionChanged(selected, deselected);
  if (busy_) return;
  std::vector<PartId> picked;
  // What the search leaves out stays picked when more is picked.
  if (std::exchange(adds_, false))
    for (const PartId id : store_.picked())
      if (!index_of(id).isValid()) picked.push_back(id);
  for (const QItemSelectionRange& range : selectionModel()->selection())
    for (int row = range.left() == PartsModel::Name ? range.top() : range.bottom() + 1; row <= range.bottom(); ++row)
      picked.push_back(PartsModel::part_of(model_->index(row, PartsModel::Name, range.parent())));
  busy_ = true;
  store_.pick(std::move(picked));
  busy_ = false;
}

void PartsTree::filter(const QString& text) { model_->find(text); }

void PartsTree::pick_found() {
  if (model_->looked_for().isEmpty()) return setFocus();
  const PartId found = model_->first_found();
  if (found == kNoPart) return store_.say(QString("No part is called “%1”.").arg(model_->looked_for()), Tone::Wrong);
  store_.pick({found});
  setFocus();
}

void PartsTree::keyPressEvent(QKeyEvent* event) {
  const bool walks = event->key() >= Qt::Key_Left && event->key() <= Qt::Key_Down;
  if (!walks && event->key() != Qt::Key_F2 && bench_.key_press(*event)) return;
  QTreeView::keyPressEvent(event);
}

void PartsTree::keyReleaseEvent(QKeyEvent* event) {
  if (!bench_.key_release(*event)) QTreeView::keyReleaseEvent(event);
}

// A click answers a blank that waits, as on the stage: a part, or a place with the part's pivot. With Ctrl or Shift it
// picks all the same.
void PartsTree::mousePressEvent(QMouseEvent* event) {
  const QModelIndex at = indexAt(event->position().toPoint());
  answered_ = false;
  const bool plain = event->button() == Qt::LeftButton && event->modifiers() == Qt::NoModifier;
  if (plain && at.isValid() && at.column() == PartsModel::Name && bench_.answer_with(PartsModel::part_of(at))) {
    answered_ = true;
    return event->accept();
  }
  QTreeView::mousePressEvent(event);
}

void PartsTree::mouseReleaseEvent(QMouseEvent* event) {
  if (std::exchange(answered_, false)) return event->accept();
  QTreeView::mouseReleaseEvent(event);
}

// A colour of the list is dropped on a part, as on the stage; anything else that is dragged here is a part.
void PartsTree::dragEnterEvent(QDragEnterEvent* event) {
  if (!dragged_colour(*event->mimeData()).empty()) return event->acceptProposedAction();
  QTreeView::dragEnterEvent(event);
}

void PartsTree::dragMoveEvent(QDragMoveEvent* event) {
  if (dragged_colour(*event->mimeData()).empty()) return QTreeView::dragMoveEvent(event);
  event->setAccepted(indexAt(event->position().toPoint()).isValid());
}

void PartsTree::dropEvent(QDropEvent* event) {
  if (const std::string colour = dragged_colour(*event->mimeData()); !colour.empty()) {
    event->acceptProposedAction();
    if (const PartId part = PartsModel::part_of(indexAt(event->position().toPoint())); part != kNoPart) {
      Paint paint;
      paint.what = {part};
      paint.named = colour;
      store_.perform(paint);
    }
    return;
  }
  // The rows are those of the scene: Qt itself must not move anything.
  QModelIndex target = indexAt(event->position().toPoint());
  if (target.isValid() && dropIndicatorPosition() != OnItem) target = target.parent();
  const bool numbers = event->modifiers() & Qt::ShiftModifier;
  const std::vector<PartId> what = store_.picked();
  event->setDropAction(Qt::IgnoreAction);
  event->accept();
  if (what.empty()) return;
  store_.perform(
      Reparent{what, PartsModel::part_of(target), numbers ? Reparent::Keeps::Numbers : Reparent::Keeps::Place});
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
  connect(menu.addAction("Rename"), &QAction::triggered, this,
          [this] { edit(currentIndex().siblingAtColumn(PartsModel::Name)); });
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
  connect(&store, &Store::started, search_, &QLineEdit::clear);
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
