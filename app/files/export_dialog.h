// What is exported, and how: the format, the unit, what points up.
#pragma once

#include <QDialog>
#include <QLabel>

#include "app/choice_row.h"
#include "core/files/export.h"

namespace tack {

class ExportDialog : public QDialog {
  Q_OBJECT

 public:
  /// `picked`: whether something is picked, so that it can be exported alone.
  ExportDialog(const LengthUnit& unit, bool picked, QWidget* parent);
  /// ".obj", ".stl", ".ply".
  QString ending() const;
  ExportOptions options() const;
  bool picked_alone() const { return what_->chosen() == 1; }

 private:
  void explain();

  ChoiceRow *what_, *format_, *unit_, *up_;
  QLabel* about_;
};

}  // namespace tack
