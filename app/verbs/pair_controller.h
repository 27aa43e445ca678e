// Verbs that take a From and a To: Meet, Move, Measure. What they share: waiting for two places, what To would mean,
// their marks.
#pragma once

#include "app/verbs/act_controller.h"
#include "core/fit/measure.h"

namespace tack {

class PairController : public ActController {
  Q_OBJECT

 public:
  explicit PairController(Store& store);

  std::optional<Blank> waiting() const override;
  Marks marks() const override;
  bool catches() const override;
  bool leaves_out(PartId id) const override;
  void hover(const std::optional<Caught>& caught) override;
  bool press(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) override;
  void release(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) override;
  bool step_back() override;
  void end_sentence() override;
  bool offers_grips() const override;
  bool begin_grip(const Caught& caught, const View& view, QPointF at) override;
  void grip_to(const View& view, QPointF at, const std::optional<Caught>& to, bool steps) override;

 protected:
  /// Whether From waits without being asked for, as the first thing the verb needs.
  virtual bool waits_by_itself() const { return true; }
  /// Whether both places have been used; the next press begins anew.
  virtual bool finished() const { return done_.has_value(); }
  /// `base` from here to there.
  virtual std::optional<Verb> with_places(const Verb& base, const TackAddress& from, const TackAddress& to) const = 0;
  /// The verb with what is hovered over in the blank that waits; nullopt when that would not be whole.
  virtual std::optional<Verb> with_hovered(const Caught& caught) const;
  /// In which scene a hovered place is tried: before the step that it would correct.
  virtual const Scene& tried_in() const { return done_ ? scene_before() : store_.scene(); }
  /// Keys that are down while To is clicked may change what is meant.
  virtual void note_modifiers(Qt::KeyboardModifiers) {}
  std::optional<Verb> gripped(const Drag& drag) const override;
  /// What a place that was taken hold of is dragged like while it is over no other: a handle at that place.
  virtual Handle grip_handle(const Vec3& at) const;
  /// Both places are there: do it. True when it was done.
  virtual bool finish();
  void took(const Verb& verb) override;
  /// The places as the sentence says them: what is hovered over counts for the blank that waits.
  std::optional<TackAddress> shown_from() const;
  std::optional<TackAddress> shown_to() const;

  std::optional<TackAddress> from_, to_;
  bool pressing_ = false;  // the press on From is still down: a drag from tack to tack

 protected:
  bool moves_along(PartId id) const;
  void mark_grip(Marks& marks) const;
  void say_remaining(Marks& marks) const;
  Marks::Meeting meeting_between(const Scene& scene, const TackAddress& from, const TackAddress& to) const;

 private:
  bool take(const Caught& caught);
};

}  // namespace tack
