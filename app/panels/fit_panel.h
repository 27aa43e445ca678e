// The Fit panel: the ties of the scene with their present gap, angle and state, and what can be done about them.
#pragma once

#include <QLabel>
#include <QToolButton>
#include <QTreeWidget>

#include "app/stage/stage.h"

#include <map>

namespace tack {

class FitPanel : public QWidget {
  Q_OBJECT

 public:
  FitPanel(Store& store, Workbench& bench, Stage& stage, QWidget* parent = nullptr);

  /// Chooses the next tie that is apart and looks at it.
  void look_at_next();

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void refresh_detail();
  /// What else can be done with the chosen tie.
  void show_menu(QPoint global);
  std::string chosen() const;
  void look_at(const std::string& tie);
  QString since(const std::string& tie, const TieState& state);

  Store& store_;
  Workbench& bench_;
  Stage& stage_;
  QLabel *count_, *detail_;
  QTreeWidget* list_;
  QToolButton *close_, *share_, *more_;
  QWidget* actions_;
  std::map<std::string, std::optional<std::size_t>> since_;  // by tie: the step after which it did not hold any more
  std::pair<std::size_t, double> since_at_;                  // the record's position and the tolerance then
  bool filling_ = false;
};

}  // namespace tack
