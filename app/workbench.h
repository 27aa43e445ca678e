// The workbench: how keys, clicks and entries reach the draft, and how what it says reaches the window.
#pragma once

#include <QElapsedTimer>
#include <QKeyEvent>
#include <QObject>

#include "app/keys.h"
#include "app/sentence_bar.h"
#include "app/verbs/drafting.h"
#include "core/fit/ties.h"

namespace tack {

class Workbench : public QObject {
  Q_OBJECT

 public:
  Workbench(Store& store, SentenceBar& bar, Keys& keys, QObject* parent);

  Drafting& draft() { return draft_; }
  const Drafting& draft() const { return draft_; }
  /// The verb chosen in the row.
  const VerbFace& verb() const { return *face_of(draft_.row()); }
  void use(VerbId verb);
  /// The marks of the draft, and of the tie that is looked at; worked out once for each change.
  const Marks& marks() const;
  /// The finished step that was made last, in the sentence, whoever made it.
  void tell_last_step();
  /// Asks for the place that a verb of the menus needs in a blank, and then does it.
  void begin(const Verb& verb, std::string_view blank);
  /// Shows a verb of the menus as it stands, to be done or changed.
  void offer(const Verb& verb);
  /// Opens the entry in a blank of the sentence that is shown.
  void open_entry(BlankId blank);

  /// How the ties of the scene hold, in their order; of the scene as it would be while something is dragged. Those
  /// whose meshes are still being worked on wait.
  const std::vector<TieState>& tie_states() const;
  /// Ties that had to wait for their meshes can be measured now.
  void measure_waiting();
  /// The tie that the loupe looks at while no verb gives it anything; empty: none.
  const std::string& looked_at_tie() const { return looked_at_; }
  void look_at_tie(const std::string& name);
  /// Closes the ties that are apart, one step each, in the order in which they were made; says what is left.
  void close_all_ties();

  /// Opens a step of the record in the sentence.
  void reopen(std::size_t step);
  /// Does the last step again, on what is picked now.
  void repeat_last();

  /// Keys of the stage and the Parts tree. True when the key was taken.
  bool key_press(const QKeyEvent& event);
  bool key_release(const QKeyEvent& event);
  /// A click, drag or entry happened: a verb key that is held is being used.
  void note_use();
  /// The stage was pressed: what was being typed is left as it was.
  void leave_entry();
  /// Losing focus is letting go.
  void let_go();

  /// Does what is shown as it stands.
  void do_it();
  /// One step back: entry, blank, verb.
  void step_back();
  /// Shows now what was to be shown at the end of this turn of events.
  void show_now();
  /// Whether something is still to be shown.
  bool is_behind() const { return behind_; }

  /// Which kinds of place are caught: those that are switched on, or the one that catching is narrowed to for now.
  CatchKinds kinds() const { return only_ ? CatchKinds::only(*only_) : kinds_; }
  std::optional<CatchKind> only() const { return only_; }
  void switch_kind(CatchKind kind, bool on);
  void narrow_to(std::optional<CatchKind> kind);
  /// Into how many equal parts edges are divided for catching.
  int edge_parts() const { return edge_parts_; }
  void set_edge_parts(int parts);
  /// A verb's key that is down for longer than this is held, not tapped: the verb is used for the moment. Tests, whose
  /// events come as late as the machine is busy, set it.
  quint64 hold_milliseconds = 300;
  /// Q is held: nothing is caught. E is held: a drag of Scale sizes all three alike.
  bool catches_nothing() const { return q_held_; }
  bool sizes_evenly() const { return e_held_; }
  /// K is held: a drag from the place that it names turns or grows about it.
  bool names_still() const { return k_held_; }
  /// A panel asks for a place that is no blank of the verb: the next click on one is given to `then`. Esc ends it.
  void ask_place(const QString& hint, std::function<void(const Caught&)> then);
  bool asks_place() const { return static_cast<bool>(asked_place_); }
  void give_place(const Caught& caught);
  /// Gives a part to the blank that waits for one, or its pivot to the blank that waits for a place. False when none
  /// waits, or it takes no such thing; then nothing has happened.
  bool answer_with(PartId part);
  /// Opens the entry in the blank of an axis, as X, Y and Z do.
  void type_along(std::size_t axis);
  /// Opens the entry of a size, as a click on its dimension line does while picking.
  void type_size(std::size_t axis);
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
  void isolate_asked();                 ///< I
  void aids_asked();
  void compare_asked(bool on);  ///< the scene before the step in the sentence, or before the last one, and back ///< H
  void list_asked();            ///< /

 private:
  void show_later();
  void add_looked_at(Marks& marks) const;
  void blank_clicked(BlankId blank);
  void choose_colour(BlankId blank);
  void open_list(BlankId blank, const std::vector<Option>& options);
  /// On to the blank behind or before this one: its entry when it takes a value, else its button.
  void go_on(BlankId blank, bool back);
  void focus_stage();
  void entered(BlankId blank, const QString& text, double value, bool by_tab);
  // `key`: what the pressed key means, as the standard key for it.
  bool held_key(int key, const QKeyEvent& event, bool down);
  bool kind_key(int key, const QKeyEvent& event);
  bool typing_key(const QKeyEvent& event);
  bool element_key(const QKeyEvent& event);
  bool view_key(int key, bool shift);
  bool blank_key(int key, bool shift);
  bool verb_key(int key, const QKeyEvent& event);

  Store& store_;
  SentenceBar& bar_;
  Keys& keys_;
  Drafting draft_;
  bool behind_ = false;  // something has changed that is not shown yet
  mutable std::optional<Marks> marks_;
  mutable std::vector<TieState> tie_states_;
  mutable Scene ties_measured_;  // what they were measured in: what did not change since is not measured again
  mutable std::shared_ptr<const Scene> ties_in_;  // the scene of a drag they were measured in; null: the document's
  mutable std::optional<std::size_t> ties_at_;    // the record's position then
  std::string looked_at_;
  std::function<void(const Caught&)> asked_place_;
  std::optional<VerbId> before_;  // while a verb's key is held
  int held_key_ = 0;
  quint64 held_since_ = 0;  // by the events' own times
  bool used_ = false;
  bool entering_ = false;
  BlankId wanted_;     // the blank to be typed into once what is being entered is done
  bool told_ = false;  // something was said that a hint must not wipe away
  CatchKinds kinds_;
  std::optional<CatchKind> only_;
  int edge_parts_ = 2;
  bool c_held_ = false, q_held_ = false, e_held_ = false, k_held_ = false;
};

}  // namespace tack
