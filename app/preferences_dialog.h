// Preferences: what holds for all documents.
#pragma once

#include <QCheckBox>
#include <QDialog>
#include <QLabel>
#include <QSpinBox>

#include "app/choice_row.h"
#include "app/entry_edit.h"
#include "app/preferences.h"

namespace tack {

class PreferencesDialog : public QDialog {
  Q_OBJECT

 public:
  PreferencesDialog(const Preferences& preferences, QWidget* parent);
  /// As they are chosen now. Fields that cannot be read keep what they had.
  Preferences preferences() const;

 signals:
  /// Something was chosen: theme and text size are seen at once.
  void changed();

 protected:
  void accept() override;

 private:
  EntryEdit* entry(const QString& name, EntryKind kind, double value);

  Preferences before_;
  ChoiceRow *unit_, *theme_;
  QSpinBox *decimals_, *radius_, *text_;
  EntryEdit *touch_, *steps_[3];
  ChoiceRow* from_[3];
  QCheckBox *on_, *remembers_, *keeps_steps_;
  QLabel* says_;
};

}  // namespace tack
