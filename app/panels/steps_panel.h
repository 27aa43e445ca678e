// The Steps list: what was done, each in its own sentence, newest last. Click to reopen, untick to leave out.
#pragma once

#include <QListWidget>

#include "app/store.h"

#include <optional>

#include "app/panels/rows.h"

namespace tack {

class Workbench;

class StepsPanel : public QWidget {
  Q_OBJECT

 public:
  StepsPanel(Store& store, Workbench& bench, QWidget* parent = nullptr);

 private:
  void refresh();
  void show_menu(QPoint at);
  std::size_t step_of(const QListWidgetItem& item) const;
  const Step* step_at(int row) const;
  StepRow row_of(int row) const;
  StepBelow below(int row) const;
  void show_open();

  Store& store_;
  Workbench& bench_;
  QListWidget* list_;
  std::optional<std::size_t> open_;  // the step that stands in the sentence
  bool filling_ = false;
};

}  // namespace tack
