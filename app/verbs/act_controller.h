// Verbs that make steps. What they share: the finished step and its correction, values and places asked for, dragging,
// what would come of it.
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
  bool wants_part() const override { return asked_ == Blank::Like || asked_ == Blank::What || asked_ == Blank::Axes; }
  void take_part(PartId part) override;
  void hover(const std::optional<Caught>& caught) override;
  bool press(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) override;
  void wait_for(Blank blank) override;
  bool step_back() override;
  void end_sentence() override;
  void begin_correction() override { correcting_ = done_.has_value(); }
  void preview(Blank blank, std::optional<double> value) override;
  bool enter(Blank blank, const QString& text, double value) override;
  EntryContext context(Blank blank) const override;
  std::optional<Blank> typed_blank() const override { return asked_; }
  std::optional<EntryError> check_words(Blank blank, const QString& text) const override;
  Marks marks() const override;
  QStringList remedies() const override;
  void remedy(const QString& words) override;

  bool begin_drag(const Handle& handle, const View& view, QPointF at) override;
  void drag_to(const View& view, QPointF at, bool steps) override;
  void end_drag(bool leave_copy) override;
  void cancel_drag() override;
  bool dragging() const override { return drag_.has_value(); }
  bool is_open() const override { return done_ || asked_; }
  bool acting() const override { return acting_; }
  bool reopen(std::size_t step, const Verb& verb) override;

 protected:
  struct Drag {
    Handle handle;
    QPointF pressed, at;
    View view;
    bool steps = false;
    bool started = false;
    std::optional<Verb> verb;  // what it means now
    // A place on what moves that was taken hold of, and the one it is over now.
    std::optional<TackAddress> grip;
    std::optional<Caught> to;
  };

  /// The verb with the blanks as they stand, for what is picked; nullopt for one that changes nothing.
  virtual std::optional<Verb> pending() const = 0;
  /// Whether a step of the record is this controller's to reopen.
  virtual bool takes(const Verb& verb) const;
  /// `base` with a blank typed in; nullopt for a blank it does not have.
  virtual std::optional<Verb> with_value(const Verb& base, Blank blank, const Amount& amount) const;
  /// What `it` means in a value blank.
  virtual double value_now(Blank blank) const;
  /// A value was typed into a verb that still lacks something: true when it was kept for later.
  virtual bool keep(const Verb&) { return false; }
  /// Whether any typed value corrects the finished step, and none begins a new one.
  virtual bool always_corrects() const { return false; }
  /// The verb that the drag means now; nullopt when it means none.
  virtual std::optional<Verb> dragged(const Drag&) const { return std::nullopt; }
  /// The same when a place was taken hold of and is over another.
  virtual std::optional<Verb> gripped(const Drag& drag) const { return dragged(drag); }
  /// A place was clicked for the blank that waits.
  virtual void take_place(Blank, const TackAddress&) {}
  /// A part was clicked for the blank Like.
  virtual void take_like(PartId) {}
  /// What a drag draws beside the parts: a ruler or an arc.
  virtual void add_gauges(const Drag&, Marks&) const {}
  /// Whether the sentence stays as it is when something else is picked or undone.
  virtual bool outlasts_changes() const { return false; }
  /// The parts that move: shown as ghosts where they were or will be.
  virtual std::vector<PartId> moving() const { return store_.picked(); }
  /// The finished step is now `verb`.
  virtual void took(const Verb&) {}

  /// Puts `verb` in place of the finished step.
  void correct(const Verb& verb);
  /// The entries of the blanks that name axes and places that stay still, and what each of them means. The last two of
  /// the places ask for a click.
  QStringList axes_choices() const;
  void use_axes(int index);
  /// Sets the axes of the next step.
  virtual void set_axes(const Axes& axes) { store_.set_axes(axes); }
  static QStringList about_choices();
  static About about_choice(int index);
  static constexpr int kAboutPlace = 6;  // the entry that asks for a click

  /// Does the verb, as a new step or in place of the finished one when that is being corrected.
  bool act(const Verb& verb, bool by_mouse);
  /// Whether what comes next changes the finished step, instead of making a new one.
  bool corrects() const { return done_ && (correcting_ || by_mouse_ || always_corrects()); }
  const Scene& scene_before() const;

  std::optional<Verb> done_;
  std::optional<Drag> drag_;
  std::optional<Caught> hovered_;
  std::optional<Blank> asked_;
  std::optional<Scene> preview_;  // where things would end up

 private:
  std::size_t done_step() const;
  void take_axes(const Axes& axes);

  bool by_mouse_ = false, correcting_ = false, picking_ = false, acting_ = false;
  std::optional<std::size_t> reopened_;  // a step of the record whose sentence is open
  std::shared_ptr<const Scene> shown_;   // while dragging: the scene as it would be
};

}  // namespace tack
