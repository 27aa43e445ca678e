// Placement: the numbers of what is picked, in the axes in use.
#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <QWidget>

#include "app/entry_edit.h"
#include "app/store.h"

namespace tack {

class PlacementPanel : public QWidget {
  Q_OBJECT

 public:
  explicit PlacementPanel(Store& store, QWidget* parent = nullptr);

 signals:
  /// Asks for places to fit the box of the picked parts to.
  void fit_asked(const tack::Verb& verb);

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  enum Row { Position, Rotation, Size, Factor, PivotAt, Skew, kRows };
  struct Field {
    EntryEdit* edit = nullptr;
    QString shown;  // what the scene says; restored when an entry is left
  };

  void make_row(QGridLayout* grid, int row);
  QMenu* row_menu(Row row);
  QMenu* panel_menu();
  void refresh();
  void show_field(Row row, int axis, const std::vector<double>& values, const std::vector<std::string>& texts);
  void commit(Row row, int axis);
  void nudge(Row row, int axis, int steps);

  /// The numbers of a row for the first part that is picked.
  std::array<double, 3> numbers(Row row) const;
  /// The verb that puts amounts into a row, for all that is picked.
  Verb verb_for(Row row, const Amounts& amounts) const;
  bool put(Row row, const Amounts& amounts);
  void ask_fit(int places);
  void reset(Row row);
  /// What entries read of other parts: in the axes in use, as the first part has them.
  Reading reading() const;
  void copy(Row row);
  void paste(Row row);
  void copy_all();
  void paste_all();

  Store& store_;
  QLabel *empty_, *skew_;
  QToolButton* axes_;
  QWidget* table_;
  std::array<std::array<Field, 3>, kRows> fields_;
  std::array<std::vector<QWidget*>, kRows> row_widgets_;
};

}  // namespace tack
