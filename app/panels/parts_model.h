// The rows of the Parts tree, read from the scene: no row holds anything of its own, however many parts there are.
#pragma once

#include <QAbstractItemModel>

#include "core/scene/scene.h"

namespace tack {

class PartsModel : public QAbstractItemModel {
  Q_OBJECT

 public:
  enum Column { Name, Shown, Locked, kColumns };

  using QAbstractItemModel::QAbstractItemModel;

  /// Shows another version of the scene. What only looks otherwise keeps its row; the model is reset where parts came,
  /// went or hang elsewhere. O(parts / 64 + changed) but for a reset, O(parts).
  void show(const Scene& scene);
  /// Only parts whose name has `text` in it, and what they hang below; all of them when it is empty. Resets. O(parts).
  void find(const QString& text);
  const QString& looked_for() const { return search_; }
  /// The first part, in the order of the tree, whose own name has what is looked for; kNoPart when there is none.
  PartId first_found() const;

  /// The row of a part; not valid for one that is gone or was not found.
  QModelIndex index_of(PartId part, Column column = Name) const;
  static PartId part_of(const QModelIndex& index);
  const Scene& scene() const { return scene_; }

  QModelIndex index(int row, int column, const QModelIndex& parent = {}) const override;
  QModelIndex parent(const QModelIndex& index) const override;
  int rowCount(const QModelIndex& parent = {}) const override;
  int columnCount(const QModelIndex& = {}) const override { return kColumns; }
  QVariant data(const QModelIndex& index, int role) const override;
  QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
  bool setData(const QModelIndex& index, const QVariant& value, int role) override;
  Qt::ItemFlags flags(const QModelIndex& index) const override;
  Qt::DropActions supportedDropActions() const override { return Qt::MoveAction; }
  QStringList mimeTypes() const override;
  QMimeData* mimeData(const QModelIndexList& indexes) const override;

 signals:
  /// A name was typed into a row; the scene has it when this model is shown it.
  void renamed(tack::PartId part, const QString& name);

 private:
  const std::vector<PartId>& below(PartId parent) const;
  bool fits(const Part& part) const;
  void number_rows();
  void tell_changed(const std::vector<PartId>& parts);

  Scene scene_;
  QString search_;
  std::vector<int> row_;                    // by part: its row below its parent; −1 for what was not found
  std::vector<std::vector<PartId>> found_;  // by parent, while something is looked for
};

}  // namespace tack
