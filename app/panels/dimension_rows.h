// The dimensions of the live shapes that are picked, in Placement: shown while all of them are of one kind.
#pragma once

#include <QWidget>

#include "app/entry_edit.h"
#include "app/workbench.h"

namespace tack {

class DimensionRows : public QWidget {
  Q_OBJECT

 public:
  DimensionRows(Store& store, Workbench& bench, QWidget* parent = nullptr);
  /// Shows the dimensions that the picked parts have in `scene`; hides itself where there are none.
  void refresh(const Scene& scene);

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  struct Field {
    Dimension dimension;
    EntryEdit* edit;
    QString shown;
  };
  void build(ShapeKind kind);
  void commit(std::size_t number);
  void nudge(std::size_t number, int steps);
  std::vector<PartId> shapes() const;
  double value(Dimension dimension) const;

  Store& store_;
  Workbench& bench_;
  std::optional<ShapeKind> kind_;
  std::vector<Field> fields_;
};

}  // namespace tack
