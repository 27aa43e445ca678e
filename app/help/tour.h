// A short tour in the window itself, on the demo: catch, meet, prove, correct. Each step waits until it has been done.
#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <functional>

#include "app/stage/stage.h"

namespace tack {

class Tour : public QFrame {
  Q_OBJECT

 public:
  Tour(Store& store, Workbench& bench, Stage& stage, QWidget* parent);

  /// Whether the program has never offered it: it does so once, and not again unasked.
  static bool is_new();
  /// Asks whether the artist wants it.
  void offer();
  /// Begins with the first step, on the scene that is open when it is the demo, else on the demo, opened as a new
  /// document by `open`.
  void start();
  void leave();
  /// 1 to 4 while it is under way, 5 at its end; 0 before and after.
  int step() const { return step_; }

  /// Opens the demo once unsaved work is safe, then runs what it is given.
  std::function<void(std::function<void()>)> open_demo;

 signals:
  /// A panel is named in a step: it comes to the front.
  void panel_wanted(const QString& name);

 private:
  void show_step();
  void look();
  bool is_done();
  PartId part(const char* name) const;

  Store& store_;
  Workbench& bench_;
  Stage& stage_;
  QLabel *number_, *text_;
  QPushButton *yes_, *no_;
  int step_ = 0;
  std::optional<Verb> met_;  // the meeting as it was made
  std::size_t met_step_ = 0;
};

}  // namespace tack
