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
  /// The verb in use.
  Controller& verb() const { return *verb_; }
  void use(Controller* verb);
  /// Whose sentence is shown: the verb in use, or over it what a menu or panel did, as long as that can be corrected.
  Controller& speaker() const;
  /// What the stage serves: the verb in use, or what stands over it while that waits for a click or shows what would
  /// come of an entry.
  Controller& stage_verb() const;
  /// The marks of stage_verb(); worked out once for each change of it.
  const Marks& marks() const;
  /// The finished step that was made last, in the sentence, whoever made it.
  void tell_last_step();
  /// Asks for the places that a verb of the menus needs, and then does it.
  void begin(const Verb& verb, int places);
  /// A press on the stage that nothing over the verb waits for ends what stands there.
  void end_overlay();
  /// Opens the entry in a blank of the sentence that is shown.
  void open_entry(Blank blank);

  /// How the ties of the scene hold, in their order; of the scene as it would be while something is dragged. Those
  /// whose meshes are still being worked on wait.
  const std::vector<TieState>& tie_states() const;
  /// Ties that had to wait for their meshes can be measured now.
  void measure_waiting();
  /// The tie that the loupe looks at while no verb gives it anything; empty: none.
  const std::string& looked_at_tie() const { return looked_at_; }
  void look_at_tie(const std::string& name);

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

  /// One step back: entry, blank, verb.
  void step_back();

  /// Which kinds of place are caught: those that are switched on, or the one that catching is narrowed to for now.
  CatchKinds kinds() const { return only_ ? CatchKinds::only(*only_) : kinds_; }
  std::optional<CatchKind> only() const { return only_; }
  void switch_kind(CatchKind kind, bool on);
  void narrow_to(std::optional<CatchKind> kind);
  /// Into how many equal parts edges are divided for catching.
  int edge_parts() const { return edge_parts_; }
  void set_edge_parts(int parts);
  /// Whether C is held: the kinds are listed with their digits.
  bool shows_kinds() const { return c_held_; }

 signals:
  void kinds_changed();
  void ties_changed();  ///< there are others, or they hold otherwise
  void verb_changed();
  void marks_changed();
  void next_tack_asked(int by);         ///< B, Shift+B
  void frame_asked(bool all);           ///< F, Shift+F
  void orbit_asked(int right, int up);  ///< arrows, in steps of 15°

 private:
  void refresh();
  void add_looked_at(Marks& marks) const;
  bool reopen_in(Controller* controller, std::size_t step, const Verb& verb);
  void blank_clicked(Blank blank);
  /// On to the blank behind or before this one: its entry when it takes a value, else its button.
  void go_on(Blank blank, bool back);
  void focus_stage();
  void entered(Blank blank, const QString& text, double value, bool by_tab);

  Store& store_;
  SentenceBar& bar_;
  std::vector<Controller*> verbs_;
  PartController* part_ = nullptr;
  Controller* verb_ = nullptr;
  Controller* overlay_ = nullptr;  // stands over the verb in use, as long as it is open
  mutable std::optional<Marks> marks_;
  mutable std::vector<TieState> tie_states_;
  mutable Scene ties_measured_;  // what they were measured in: what did not change since is not measured again
  mutable std::shared_ptr<const Scene> ties_in_;  // the scene of a drag they were measured in; null: the document's
  mutable std::optional<std::size_t> ties_at_;    // the record's position then
  std::string looked_at_;
  Controller* before_ = nullptr;  // while a verb's key is held
  int held_key_ = 0;
  bool used_ = false;
  bool told_ = false;  // something was said that a hint must not wipe away
  QElapsedTimer held_;
  CatchKinds kinds_;
  std::optional<CatchKind> only_;
  int edge_parts_ = 2;
  bool c_held_ = false;
};

}  // namespace tack
