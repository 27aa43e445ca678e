// Verbs that act on what is picked by values, handles and one place that stays still: Rotate, Scale, Pivot. What they
// share: the finished step and its correction, dragging, asking for a place or a part.
#pragma once

#include "app/verbs/controller.h"

namespace tack {

class ActController : public Controller {
  Q_OBJECT

 public:
  explicit ActController(Store& store);

  Sentence sentence() const override;
  std::optional<Blank> waiting() const override { return asked_; }
  bool catches() const override { return asked_ && !wants_part(); }
  bool wants_part() const override { return asked_ == Blank::Like; }
  void hover(const std::optional<Caught>& caught) override;
  bool press(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) override;
  void wait_for(Blank blank) override;
  bool step_back() override;
  void end_sentence() override;
  void begin_correction() override { correcting_ = done_.has_value(); }
  void preview(Blank blank, std::optional<double> value) override;
  bool enter(Blank blank, const QString& text, double value) override;
  Marks marks() const override;

  bool begin_drag(const Handle& handle, const View& view, QPointF at) override;
  void drag_to(const View& view, QPointF at, bool steps) override;
  void end_drag(bool leave_copy) override;
  void cancel_drag() override;
  bool dragging() const override { return drag_.has_value(); }
  bool reopen(std::size_t step, const Verb& verb) override;

 protected:
  struct Drag {
    Handle handle;
    QPointF pressed, at;
    View view;
    bool steps = false;
    bool started = false;
  };

  /// The verb with the blanks as they stand, for what is picked.
  virtual Verb pending() const = 0;
  /// `base` with a blank typed in; nullopt for a blank it does not have.
  virtual std::optional<Verb> with_value(const Verb& base, Blank blank, const Amount& amount) const = 0;
  /// The verb that the drag means now; nullopt when it means none.
  virtual std::optional<Verb> dragged(const Drag&) const { return std::nullopt; }
  /// A place was clicked for the blank that waits.
  virtual void take_place(Blank, const TackAddress&) {}
  /// What a drag draws beside the parts: a ruler or an arc.
  virtual void add_gauges(const Drag&, Marks&) const {}
  virtual Verb with_copy(const Verb& verb) const { return verb; }

  /// Puts `verb` in place of the finished step.
  void correct(const Verb& verb);
  /// The entries of the blanks that name axes and places that stay still, and what each of them means. The last two of
  /// the places ask for a click.
  QStringList axes_choices() const;
  std::optional<Axes> axes_choice(int index);
  void use_axes(int index);
  static QStringList about_choices();
  static About about_choice(int index);

  /// Does the verb, as a new step or in place of the finished one when that is being corrected.
  bool act(const Verb& verb, bool by_mouse);
  /// Changes the finished step, or the pending blanks through `change`.
  bool corrects() const { return done_ && (correcting_ || by_mouse_); }
  const Scene& scene_before() const;

  std::optional<Verb> done_;
  std::optional<Drag> drag_;
  std::optional<Caught> hovered_;
  std::optional<Blank> asked_;

 private:
  void show(const Verb& verb, const Scene& before, bool moved);

  std::size_t done_step() const;

  bool by_mouse_ = false, correcting_ = false;
  std::optional<std::size_t> reopened_;  // a step of the record whose sentence is open
  std::shared_ptr<const Scene> shown_;   // while dragging: the scene as it would be
  std::optional<Scene> preview_;         // while typing: where things would end up
};

}  // namespace tack
