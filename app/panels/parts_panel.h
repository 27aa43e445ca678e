// The Parts tree: search, show and hide, lock, rename, reparent by dragging.
#pragma once

#include <QLineEdit>
#include <QTreeWidget>
#include <set>
#include <unordered_map>

#include "app/workbench.h"

namespace tack {

class PartsTree : public QTreeWidget {
  Q_OBJECT

 public:
  PartsTree(Store& store, Workbench& bench, QWidget* parent);
  void filter(const QString& text);
  /// Picks the first part that the search has found.
  void pick_found();
  QTreeWidgetItem* item_of(PartId id) const;

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dragMoveEvent(QDragMoveEvent* event) override;
  void dropEvent(QDropEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;

 private:
  void rebuild();
  void plant();
  void dress(QTreeWidgetItem& item, const Part& part) const;
  void show_picked();

  Store& store_;
  Workbench& bench_;
  std::unordered_map<PartId, QTreeWidgetItem*> items_;
  std::vector<PartId> order_;  // in the tree
  Scene shown_;                // what the tree shows
  QString search_;
  bool busy_ = false, answered_ = false;
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
