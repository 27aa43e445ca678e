// Placement: the numbers of what is picked, in the axes in use.
#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QWidget>

#include "app/entry_edit.h"
#include "app/store.h"

namespace tack {

class PlacementPanel : public QWidget {
  Q_OBJECT

 public:
  explicit PlacementPanel(Store& store, QWidget* parent = nullptr);

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  enum Row { Position, Rotation, Size, Factor, Pivot, kRows };
  struct Field {
    EntryEdit* edit = nullptr;
    QString shown;  // what the scene says; restored when an entry is left
  };

  void refresh();
  void show_field(Row row, int axis, const std::vector<double>& values, const std::vector<std::string>& texts);
  void commit(Row row, int axis);

  Store& store_;
  QLabel *axes_, *empty_, *skew_;
  QWidget* table_;
  std::array<std::array<Field, 3>, kRows> fields_;
};

}  // namespace tack
