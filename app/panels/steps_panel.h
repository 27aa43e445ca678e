// The Steps list: what was done, each in its own sentence, newest last.
#pragma once

#include <QListWidget>

#include "app/store.h"

namespace tack {

class StepsPanel : public QWidget {
  Q_OBJECT

 public:
  explicit StepsPanel(Store& store, QWidget* parent = nullptr);

 private:
  void refresh();

  Store& store_;
  QListWidget* list_;
};

}  // namespace tack
