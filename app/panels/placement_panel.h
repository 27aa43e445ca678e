// Placement: the numbers of what is picked, in the axes in use.
#pragma once

#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>
#include <QWidget>
#include <array>
#include <optional>

#include "app/entry_edit.h"
#include "app/workbench.h"
#include "core/verbs/common_numbers.h"

namespace tack {

class DimensionRows;

class PlacementPanel : public QWidget {
  Q_OBJECT

 public:
  PlacementPanel(Store& store, Workbench& bench, QWidget* parent = nullptr);

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
  // `typed`: as it was typed; empty where that is not known, or there are several parts.
  void show_field(Row row, int axis, const CommonNumber& value, const std::string& typed);
  void commit(Row row, int axis);
  void nudge(Row row, int axis, int steps);
  /// The amount by which a number goes on by so many increments.
  Amount stepped_by(Row row, int steps) const;
  /// A letter that is dragged: one step, made with the first and changed by those that follow.
  void slide(Row row, int axis, int steps, bool first);
  QMenu* of_menu();
  QMenu* tree_menu();
  void set_of(std::optional<About> of);
  /// The scene whose numbers are shown: in a drag the one that it would make.
  const Scene& shown_scene() const;

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
  Workbench& bench_;
  QLabel *empty_, *skew_;
  QPushButton* title_;
  QToolButton* axes_;
  std::optional<About> of_;  // whose position is shown; not given: the pivot's
  QTimer soon_;
  bool was_live_ = false;
  std::optional<std::size_t> slides_;  // the record's position after the last change of a letter's drag
  QWidget* table_;
  DimensionRows* dimensions_;
  std::array<std::array<Field, 3>, kRows> fields_;
  std::array<std::vector<QWidget*>, kRows> row_widgets_;
};

}  // namespace tack
