// The workbench: which verb is in use, and how keys, clicks and entries reach it.
#pragma once

#include <QElapsedTimer>
#include <QKeyEvent>
#include <QObject>

#include "app/sentence_bar.h"
#include "app/verbs/verbs.h"

namespace tack {

class Stage;

class Workbench : public QObject {
  Q_OBJECT

 public:
  Workbench(Store& store, SentenceBar& bar, QObject* parent);

  const std::vector<Controller*>& verbs() const { return verbs_; }
  Controller& verb() const { return *verb_; }
  void use(Controller* verb);

  /// Opens a step of the record in the sentence of its verb.
  void reopen(std::size_t step);
  /// Does the last step again, on what is picked now.
  void repeat_last();

  /// Keys of the stage and the Parts tree. True when the key was taken.
  bool key_press(const QKeyEvent& event);
  bool key_release(const QKeyEvent& event);
  /// A click, drag or entry happened: a verb key that is held is being used.
  void note_use();
  /// Losing focus is letting go.
  void let_go();

  /// K was pressed and a click on a place is awaited that shall stay still; that click. True when it was wanted.
  bool asks_still() const { return still_asked_; }
  bool take_still(const std::optional<Caught>& caught);

  /// One step back: entry, blank, verb.
  void step_back();

  /// Which kinds are caught; told by a line for the status strip.
  bool catch_vertices = true, catch_box_points = true, catch_pivots = true;

 signals:
  void verb_changed();
  void marks_changed();
  void next_tack_asked(int by);         ///< B, Shift+B
  void frame_asked(bool all);           ///< F, Shift+F
  void orbit_asked(int right, int up);  ///< arrows, in steps of 15°

 private:
  void refresh();
  void blank_clicked(Blank blank);
  void entered(Blank blank, const QString& text, double value, bool by_tab);

  Store& store_;
  SentenceBar& bar_;
  std::vector<Controller*> verbs_;
  Controller* verb_ = nullptr;
  Controller* before_ = nullptr;  // while a verb's key is held
  int held_key_ = 0;
  bool used_ = false;
  bool still_asked_ = false;
  QElapsedTimer held_;
};

}  // namespace tack
