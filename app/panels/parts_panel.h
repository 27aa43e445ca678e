// The Parts tree: search, show and hide, lock, rename, reparent by dragging.
#pragma once

#include <QLineEdit>
#include <QTreeView>
#include <unordered_set>

#include "app/panels/parts_model.h"
#include "app/workbench.h"

namespace tack {

class PartsTree : public QTreeView {
  Q_OBJECT

 public:
  PartsTree(Store& store, Workbench& bench, QWidget* parent);
  /// Shows only what has `text` in its name, unfolded; empty: everything, unfolded as it was before.
  void filter(const QString& text);
  /// Picks the first part that the search has found.
  void pick_found();
  /// The row of a part; not valid for one that the search leaves out.
  QModelIndex index_of(PartId part) const { return model_->index_of(part); }

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dragMoveEvent(QDragMoveEvent* event) override;
  void dropEvent(QDropEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void selectionChanged(const QItemSelection& selected, const QItemSelection& deselected) override;
  void dataChanged(const QModelIndex& first, const QModelIndex& last, const QList<int>& roles) override;
  QItemSelectionModel::SelectionFlags selectionCommand(const QModelIndex& index, const QEvent* event) const override;

 private:
  void before_reset();
  void after_reset();
  void show_picked(bool scrolls = true);

  Store& store_;
  Workbench& bench_;
  PartsModel* model_;
  std::unordered_set<PartId> unfolded_;       // noted before a reset, and before a search
  int scrolled_ = 0;                          // likewise
  bool was_empty_ = true, searched_ = false;  // before a reset
  bool busy_ = false, answered_ = false;
  mutable bool adds_ = false;  // what is being selected comes to what was
};

class PartsPanel : public QWidget {
  Q_OBJECT

 public:
  PartsPanel(Store& store, Workbench& bench, QWidget* parent = nullptr);
  PartsTree& tree() const { return *tree_; }
  void focus_search();

 private:
  PartsTree* tree_;
  QLineEdit* search_;
};

}  // namespace tack
