// The one controller: it holds the verb that is being filled in, or that has just been done, and every click, key,
// entry and drag is an edit of it.
#pragma once

#include <QObject>
#include <QPointF>
#include <QStringList>
#include <map>

#include "app/verbs/marks.h"
#include "app/verbs/verb_faces.h"
#include "core/catch/catch_scene.h"
#include "core/catch/element_pick.h"
#include "core/hands/hand.h"

namespace tack {

/// The verb in hand. Nothing else keeps a piece of a half-filled verb.
struct Draft {
  enum class State {
    Filling,     ///< it has not been done; blanks may be empty
    Done,        ///< it is a step of the record; a typed value begins a new one
    Correcting,  ///< it is a step of the record, and what comes changes that step
    Dragging,    ///< a handle or a place is held; nothing is done yet
    Doing,       ///< its step is being made: what the store says meanwhile is its own doing
  };
  State state = State::Filling;
  Verb verb = Pick{};
  std::size_t step = 0;       ///< Done, Correcting: the number of its step
  bool amends = false;        ///< Dragging: what comes of it changes the step `step`
  BlankId asked = {};         ///< waits for a click because it was asked for
  Click click = Click::None;  ///< on what
};

/// What comes of where the pointer is, of an open entry, or of a drag: found once, read by sentence, marks, stage and
/// loupe.
struct Look {
  std::optional<Caught> caught;
  std::optional<Verb> verb;            ///< the draft with it
  std::shared_ptr<const Scene> after;  ///< the scene as it would be; null when it cannot be done
  bool typed = false;                  ///< it comes from an entry, which shows it itself
  QString stopped;                     ///< of a drag: "level with vertex of Post 4"; empty while it goes on freely
};

/// How often each thing has been worked out: what a benchmark holds against the number of pointer moves.
struct DraftCounts {
  std::size_t scenes = 0, sentences = 0, marks = 0;
};

/// Which parts are caught on.
enum class CatchOn { All, WhatMoves, WhatStays };

/// What the message line says of a finished step: what it has not reached, as its sentence has it behind two blanks,
/// and its remark. Empty when there is nothing to say.
QString news_of(const Step& step);

class Drafting : public QObject {
  Q_OBJECT

 public:
  explicit Drafting(Store& store, QObject* parent = nullptr);

  /// The verb chosen in the row.
  VerbId row() const { return row_; }
  void use(VerbId verb);
  const Draft& draft() const { return draft_; }
  /// Whether what a menu or a panel did stands over the verb of the row.
  bool is_over() const { return id(draft_.verb) != row_; }
  /// Whether a sentence of its own is going on: finished and still to be corrected, or waiting.
  bool is_open() const { return draft_.state != Draft::State::Filling || draft_.asked || is_over(); }

  /// The step of the record that stands in the sentence; nullopt: none.
  std::optional<std::size_t> open_step() const {
    return is_done() && makes_step(draft_.verb) ? std::optional(draft_.step) : std::nullopt;
  }

  Sentence sentence() const;
  QString hint() const;
  const Marks& marks() const;
  const Look& look() const { return look_; }
  const DraftCounts& counts() const { return counts_; }
  bool shows_kept() const;

  /// The blank that waits for a click; none when no click is needed.
  BlankId waiting() const;
  /// The same where its place or part can be typed as well: it was asked for, or no value would be typed instead.
  BlankId typed_blank() const { return draft_.asked || leading() ? draft_.asked : waiting(); }
  bool wants_part() const { return draft_.asked && draft_.click == Click::Part; }
  bool catches() const;
  CatchOn catches_on() const;
  /// Where nothing better is caught: a place of space that the waiting blank takes.
  std::optional<Caught> free_place(const View& view, QPointF at, bool steps) const;
  /// A part that was clicked in Parts while no blank was asked for: the target of a verb that has one. False: it picks.
  bool answer_with(PartId part);
  /// By id whether a part moves; made once for each change of what moves.
  const std::vector<bool>& moving_mask() const;

  // Elements.
  /// What a click on the stage picks while nothing else is in hand.
  PickOf pick_of() const { return row_ == id_of<Pick> ? pick_of_ : PickOf::Parts; }
  void pick_elements(PickOf of);
  enum class Taking {
    Anew,    ///< in place of what was taken, if nothing was done with that yet
    Toggle,  ///< added, or taken out where it is there already
    Add
  };
  /// Takes elements: a step, or the last one with others. Nothing left: the step is taken back.
  void take(const std::vector<ElementsOf>& elements, Taking taking);
  enum class Ring { More, Less, Connected, Others };
  /// Changes what was taken last and has not been used yet. False, and said, when there is nothing such.
  bool change_taken(Ring ring);
  /// Whether a drag on the stage is a stroke of a brush, and how wide that is (mm in the world).
  bool brushes() const { return std::holds_alternative<Brush>(draft_.verb) && !draft_.asked; }
  double brush_width() const;
  /// Takes up the brush, as it was used last.
  void take_brush();
  /// A stroke begins on a part, and goes on over it: where it has left it, nothing happens.
  void begin_stroke(const Struck& struck);
  void stroke_on(const std::optional<Struck>& struck);

  /// The patches that are picked.
  std::vector<PartId> picked_patches() const;

  // The pointer. A press says whether it was wanted; otherwise it picks.
  /// `offers`: a part that stays is offered as the target of a verb that has one.
  void hover(const std::optional<Caught>& caught, bool offers = true);
  bool press(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers);
  /// A point of a box that is clicked rather than dragged. False for a handle, or a verb, that has none such.
  bool hover_point(const Handle& handle);
  bool press_point(const Handle& handle);
  /// Whether the points of two boxes are clicked.
  bool takes_points() const { return either_first(in_hand()); }
  /// The end of a drag that began with a wanted press.
  void release(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers);
  void take_part(PartId part);

  // Handles and gripped places.
  std::vector<Handle> handles(const View& view) const;
  /// Whether what is picked has the small handles that it has while picking.
  bool nudges() const;
  /// Shows a verb of the row as it stands, over picking: what is typed or dragged next is its.
  void offer(VerbId verb) { set({Draft::State::Filling, fresh(verb)}); }
  QString handle_text(const Handle& handle) const;
  /// `as`: of another verb of the row, over the one that is chosen.
  bool begin_drag(const Handle& handle, const View& view, QPointF at, const std::optional<Verb>& as = {});
  /// The same by the drawing of what is picked in an elevation: Move along two axes, by the place that was taken hold
  /// of or, with none, as it stands.
  bool begin_elevated(const std::optional<Caught>& held, const AxisSet& along, const View& view, QPointF at);
  /// A verb of the row as it begins now.
  Verb begins(VerbId verb) const { return fresh(verb); }
  /// K held and dragged from the place it has named: turns or grows about it. False for a verb that does neither.
  bool begin_about(const Vec3& still, const View& view, QPointF at);
  bool offers_grips() const;
  bool begin_grip(const Caught& caught, const View& view, QPointF at);
  /// `steps`: it lands on increments; `evenly`: all three sizes alike.
  /// `alone`: one gap of several, the others stay.
  void drag_to(const View& view, QPointF at, const std::optional<Caught>& over, bool steps, bool evenly = false,
               bool alone = false);
  void end_drag(bool leave_copy);
  void cancel_drag();
  bool dragging() const { return draft_.state == Draft::State::Dragging; }
  bool grips_place() const { return dragging() && grip_.place; }
  /// Whether the handle that is dragged stops level or in line with places of other parts.
  bool handle_catches() const { return dragging() && !grip_.place; }
  /// The dimension lines of what is sized, in a view; in a drag as it would be.
  std::vector<DimensionLine> dimensions(const View& view) const;
  bool presses_count() const;
  /// Whether the value of a dimension line is dragged, too; and the blank it stands for.
  bool drags_values() const { return tack::drags_values(in_hand()); }
  /// Whether the ends of rulers over copies are dragged.
  bool has_rulers_to_drag() const { return std::holds_alternative<Repeat>(in_hand()); }
  BlankId value_blank(const Handle& handle) const { return tack::value_blank(in_hand(), handle); }

  /// Whether the verb in hand can be done as it stands, as the ghosts show it; and does it.
  bool may_do() const;
  bool do_it();

  // Blanks.
  std::vector<Option> options(BlankId blank) const;
  void choose(BlankId blank, std::size_t option);
  void wait_for(BlankId blank, Click click);
  EntryContext context(BlankId blank) const;
  std::optional<EntryError> check_words(BlankId blank, const QString& text) const;
  bool takes_number(BlankId blank) const { return number_kind(draft_.verb, blank).has_value(); }
  bool takes_words(BlankId blank) const { return tack::takes_words(draft_.verb, blank); }
  /// A typed value. False when it was refused (the message has been said).
  bool enter(BlankId blank, const QString& text, double value);
  /// While an entry is open: shows what it would do.
  void preview(BlankId blank, const QString& text, std::optional<double> value);
  /// A value blank was clicked: the entry that opens corrects the finished sentence, if there is one.
  void begin_correction();
  /// A colour for a verb that has one: of its own, or (with a name) one of the list.
  void recolour(const std::string& named, const Colour& colour);
  BlankId leading() const;
  /// Whether a value that is typed now begins a step of the row's verb, although something that is done stands over it.
  /// A verb that takes no value, like Pick, leaves it to what has been done; in a drag it is the drag's.
  bool row_takes_value() const {
    return !dragging() && is_over() && !at_once(draft_.verb) && bool(leading_blank(in_hand()));
  }
  BlankId still() const { return still_blank(in_hand()); }
  /// X, Y, Z: the blank of that axis to type into; none where the key limits a drag or a meeting to the axis instead.
  BlankId choose_axis(std::size_t axis);

  /// Short ways out that a finished sentence offers.
  std::vector<Remedy> remedies() const;
  void remedy(std::size_t number);

  /// One step back; false when there is nothing to step out of.
  bool step_back();
  /// The finished sentence ends: the next value or click begins a new one.
  void end();
  /// Asks for the places that a verb of the menus needs, and then does it.
  void begin(const Verb& verb, BlankId asked);
  /// Opens a step of the record: changing its blanks changes that step. False when it has none.
  bool reopen(std::size_t step);

 signals:
  void changed();
  void row_changed();
  /// A step was done whose name the artist will want to type, in this blank.
  void name_wanted(tack::BlankId blank);

 private:
  /// The blank that a click on this place fills: where From and To come in either order, by what was clicked.
  BlankId waiting_for(const std::optional<Caught>& caught) const;
  /// The scene as a verb would leave it that is offered to be done as it stands; null where it cannot be, or would take
  /// too long to be shown unasked.
  std::shared_ptr<const Scene> previewed() const;
  bool corrects() const { return draft_.state == Draft::State::Correcting; }
  bool is_done() const { return corrects() || draft_.state == Draft::State::Done; }
  Verb fresh(VerbId verb) const;
  const Verb& in_hand() const;
  const Scene& scene_before() const;
  /// The scene that a Look is of.
  const Scene& looked_from() const;
  /// The scene that a finished verb left; the present one for any other.
  const Scene& scene_after() const;
  std::vector<PartId> moving() const;
  void refill();
  void set(Draft draft);
  Amount typed_amount(BlankId blank, const QString& text, double value) const;
  void look_at(std::optional<Verb> verb, std::optional<Caught> caught, bool typed);
  /// The step in which elements were taken last, if it is the last one of the record.
  std::optional<std::size_t> last_take() const;
  std::vector<Taken> standing(std::size_t step) const;
  void set_taken(std::vector<Taken> list, std::optional<std::size_t> step);
  bool act(const Verb& verb, bool by_mouse);
  void edit(Verb verb, BlankId blank, bool by_mouse);
  void give_place(BlankId blank, const Caught& caught, Qt::KeyboardModifiers modifiers);
  void end_stroke();
  void made_shape(bool another);
  void share_settings(const Verb& was, const Verb& is);
  ChoiceContext choice_context() const;
  Marks make_marks() const;
  void mark_places(const Verb& verb, Marks& marks) const;
  void mark_grip(Marks& marks) const;
  void say_remaining(const Verb& verb, const Scene& after, Marks& marks) const;

  Store& store_;
  VerbId row_ = id_of<Pick>;
  Draft draft_;
  Look look_;
  // What was shown last, before it is done: a verb, and the scene that it makes of that at `position` of the record.
  struct WouldBe {
    Verb verb;
    std::shared_ptr<const Scene> after;
    std::size_t position = 0;
  };
  std::optional<WouldBe> would_be_;
  Grip grip_;                                         // while dragging
  std::vector<std::pair<StrokePlace, Vec3>> stroke_;  // while brushing, with the places in the world
  PickOf pick_of_ = PickOf::Parts;
  bool makes_more_ = false;           // Ctrl was held: another shape comes after this one
  std::map<VerbId, Verb> at_hand_;    // what the next verb of each kind begins with
  mutable std::optional<Verb> next_;  // that of the row while something finished stands in the sentence
  mutable std::optional<Marks> marks_;
  mutable std::optional<std::shared_ptr<const Scene>> preview_;
  mutable DraftCounts counts_;
  mutable std::vector<bool> mask_;
  mutable std::pair<std::vector<PartId>, std::size_t> mask_of_;
};

}  // namespace tack
