// The list of what floats and what has sunk in.
#pragma once

#include <QDialog>
#include <QLabel>
#include <QListWidget>
#include <atomic>
#include <memory>

#include "app/stage/stage.h"
#include "core/fit/standing.h"

namespace tack {

/// Looks through the scene beside the interface thread, then lists what it has found; choosing a row picks that part
/// and frames it. Closing it stops the search. It tells of the scene as it was when it was opened.
class StandingList : public QDialog {
  Q_OBJECT

 public:
  /// `among`: only these parts; all when it is empty.
  StandingList(Store& store, Stage& stage, std::vector<PartId> among, QWidget* parent);
  ~StandingList() override;
  bool is_done() const { return done_; }

 private:
  void show_found(std::vector<Unsupported> found);

  Store& store_;
  Stage& stage_;
  std::shared_ptr<const Scene> scene_;
  const bool any_;  // whether there is a surface to look at
  std::shared_ptr<std::atomic<bool>> stop_ = std::make_shared<std::atomic<bool>>(false);
  std::vector<Unsupported> found_;
  bool done_ = false;
  QLabel* heading_;
  QListWidget* list_;
};

}  // namespace tack
