// The Steps list: what was done, each in its own sentence, newest last. Click to reopen, untick to leave out.
#pragma once

#include <QListWidget>

#include "app/store.h"

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

  Store& store_;
  Workbench& bench_;
  QListWidget* list_;
  bool filling_ = false;
};

}  // namespace tack
