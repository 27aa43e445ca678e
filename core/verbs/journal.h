// The journal: the steps of a document, with the scene after each, and the way back and forth through its edits.
#pragma once

#include "core/verbs/verb.h"

namespace tack {

/// One finished action. `after` is the scene it left; `words` its sentence, made when it was done. A step that was left
/// out, or that no longer works because an earlier one changed, leaves the scene as it found it.
struct Step {
  Verb verb;
  Scene after;
  Sentence words;
  std::string remark;              ///< what has to be said beside it; may be empty
  std::vector<PartId> made;        ///< the parts it added, in order
  bool left_out = false;           ///< unticked
  std::optional<Problem> problem;  ///< why it no longer works
  /// Of a step that did nothing: the scene that it was done on when it last worked, in which it can be written. Null
  /// for the others.
  std::shared_ptr<const Scene> worked_on;
};

/// The record at one moment: where it began and what was done. A value; steps are shared between versions.
struct Record {
  Scene start;
  std::vector<std::shared_ptr<const Step>> steps;

  const Scene& scene() const { return steps.empty() ? start : steps.back()->after; }
  /// The scene before the step with this number.
  const Scene& before(std::size_t step) const { return step == 0 ? start : steps[step - 1]->after; }
};

/// The record with its past and future. Every edit of the record (a new step, a changed one, one left out or removed)
/// can be undone and redone, whatever the size of the scene; it takes memory for the steps it changed alone. When an
/// earlier step is changed the later ones are done again on what it left; parts they add keep their ids.
class Journal {
 public:
  Journal() = default;
  explicit Journal(Scene start);

  const Record& record() const { return now_; }
  const Scene& scene() const { return record().scene(); }

  /// Does a verb as a new step. On failure nothing changes. `would_be`, where it is given, is what apply(verb, scene())
  /// gave: it is not worked out a second time, unless it adds parts, whose ids no step may ever have had.
  Result<void> add(const Verb& verb, const Scene* would_be = nullptr);
  /// Replaces the last step by `verb`, done on the scene that the last step was done on. On failure nothing changes.
  Result<void> amend_last(const Verb& verb);

  /// Puts a step behind the others that does nothing: one that is left out or, with its problem, one that cannot be
  /// done.
  void add_idle(const Verb& verb, bool left_out, std::optional<Problem> problem);
  /// Puts `scene` in place of the present one, which is the same put otherwise: read from a file, not done. The way
  /// back leads from here over the steps, one by one.
  void settle(Scene scene);

  /// Replaces any step and does the later ones again. Fails, changing nothing, when the step itself cannot be done;
  /// later ones that no longer work stay in the record with their problem.
  Result<void> amend(std::size_t step, const Verb& verb);
  /// Leaves a step out, or takes it in again; removes it for good. The later ones are done again. Nothing happens for a
  /// number that is not there.
  void leave_out(std::size_t step, bool out) { leave_out(std::vector<std::size_t>{step}, out); }
  void leave_out(const std::vector<std::size_t>& steps, bool out);
  void remove(std::size_t step);
  /// How many steps in the record have a problem.
  std::size_t problems() const;

  bool can_undo() const { return at_ > 0; }
  bool can_redo() const { return at_ + 1 < states_.size(); }
  /// Back and forth by one edit; nothing happens at the ends.
  void undo();
  void redo();

  /// A number that is different for every different state, of this record, of any copy of it and of any other: what
  /// "unsaved changes" compares. Undo and redo come back to the numbers that were; a record without steps that was made
  /// of nothing has 0.
  std::size_t position() const { return states_[at_].serial; }

 private:
  using StepPtr = std::shared_ptr<const Step>;
  // The steps of a state, newest first: states share what they have in common, so that an edit costs what it changed.
  struct Link {
    StepPtr step;
    std::shared_ptr<const Link> before;
    std::size_t count = 0;

    Link(StepPtr s, std::shared_ptr<const Link> b)
        : step(std::move(s)), before(std::move(b)), count(before ? before->count + 1 : 1) {}
    Link(const Link&) = delete;
    Link& operator=(const Link&) = delete;
    ~Link();  // one after another: a long record must not end the stack
  };
  using Chain = std::shared_ptr<const Link>;
  struct State {
    Chain steps;
    std::size_t serial = 0;
  };

  Result<StepPtr> make_step(const Verb& verb, Scene before, const std::vector<PartId>& ids,
                            const Scene* would_be = nullptr);
  // The first `count` steps of the present state.
  Chain first(std::size_t count) const;
  // Puts `steps` behind the chain from the number `from` on, doing each again.
  void replay(Chain& chain, const std::vector<StepPtr>& steps, std::size_t from);
  const Scene& scene_after(const Chain& chain) const { return chain ? chain->step->after : now_.start; }
  void push(Chain steps);
  void show();

  std::vector<State> states_{State{}};
  Record now_;  // the present state
  std::size_t at_ = 0;
  PartId id_floor_ = 1;  // one more than the largest id any state ever had
};

}  // namespace tack
