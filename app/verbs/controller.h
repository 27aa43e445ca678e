// What every verb's controller gives the window: its sentence, what a click or a typed value means to it, and its
// marks.
#pragma once

#include <QObject>
#include <QPointF>
#include <QStringList>
#include <optional>

#include "app/store.h"
#include "core/catch/catch_scene.h"
#include "core/view/handles.h"

namespace tack {

/// Something on the stage that belongs to the verb. Points are in the world, mm.
struct Marks {
  struct Place {
    Vec3 point;
    QString name;
  };
  std::optional<Place> from, to;  ///< solid pin and open ring; joined by a dashed line with `distance` at its middle
  bool joined = false;
  QString distance;
  Tone tone = Tone::Hint;  ///< of the distance: Apart where the meeting leaves something
  /// The other pairs of a meeting, without words.
  std::vector<std::array<Vec3, 2>> pairs;
  /// Parts shown where they would end up, or during a drag where they were.
  std::vector<std::pair<PartId, Affine>> ghosts;
  /// During a drag: the scene that is drawn in place of the document's.
  std::shared_ptr<const Scene> shown;
  /// A ruler that grows in a drag, with the distance at its tip.
  struct Ruler {
    Vec3 from, to;
    int axis = -1;  ///< whose hue it has; −1: none
    double tick = 0;
    QString text;
  };
  std::vector<Ruler> rulers;
  /// The same bent into an arc: from the start ray to the present one.
  struct Arc {
    Vec3 centre, axis, start;
    double degrees = 0;
    int hue = -1;
    QString text;
  };
  std::optional<Arc> arc;
  /// The edges of the box whose points the pads are.
  std::vector<std::array<Vec3, 2>> box;
  /// A point that stays still, or the pivot while it is being put somewhere.
  std::optional<Place> still;
  /// What the loupe looks at: two places, and the words and tone under it. nullopt: nothing yet.
  struct Meeting {
    Vec3 from, to;
    double span = 10;  ///< mm that the close-ups show at least
    std::optional<double> angle;
    QString words;  ///< "exact", "within 0.01 mm", "apart by …", or what will be
    Tone tone = Tone::Hint;
  };
  std::optional<Meeting> meeting;
};

class Controller : public QObject {
  Q_OBJECT

 public:
  explicit Controller(Store& store) : store_(store) {}

  virtual QString name() const = 0;
  virtual QString about() const = 0;  ///< one line for the tooltip
  virtual QString icon() const = 0;
  virtual Qt::Key key() const = 0;

  virtual Sentence sentence() const = 0;
  /// The place blank that waits for a click.
  virtual std::optional<Blank> waiting() const { return std::nullopt; }
  /// What the message line says now.
  virtual QString hint() const = 0;
  /// Where a digit typed on the stage goes.
  virtual std::optional<Blank> leading() const { return std::nullopt; }
  virtual Marks marks() const { return {}; }

  /// Whether tacks are looked for under the pointer now, and on which parts not.
  virtual bool catches() const { return false; }
  virtual bool leaves_out(PartId) const { return false; }

  /// Whether kept tacks are marked on the stage.
  virtual bool shows_kept() const { return false; }

  /// Whether a click on a part is what the waiting blank wants, and that click.
  virtual bool wants_part() const { return false; }
  virtual void take_part(PartId) {}

  /// What can be taken hold of, and the drag from there. Points of the pointer are logical pixels of the view.
  virtual std::vector<Handle> handles(const View&) const { return {}; }
  virtual bool begin_drag(const Handle&, const View&, QPointF) { return false; }
  virtual void drag_to(const View&, QPointF, bool /*steps*/) {}
  virtual void end_drag(bool /*leave_copy*/) {}
  virtual void cancel_drag() {}
  virtual bool dragging() const { return false; }
  /// A place on what is picked can be taken hold of and dragged, to another place or freely. `catches` is true
  /// meanwhile; until it begins, places on what is picked are caught, then those on what stays.
  virtual bool offers_grips() const { return false; }
  virtual bool begin_grip(const Caught&, const View&, QPointF) { return false; }
  virtual void grip_to(const View&, QPointF, const std::optional<Caught>&, bool /*steps*/) {}
  /// Whether a press on a handle without a drag already means something.
  virtual bool presses_count() const { return false; }
  /// A word written beside a handle: the letter of a ruler, the size at a pad.
  virtual QString handle_text(const Handle&) const { return {}; }

  /// K: the blank of the place that stays still. nullopt when the verb has none.
  virtual std::optional<Blank> still_blank() const { return std::nullopt; }
  /// A place or part blank that was asked for and can be typed as well as clicked.
  virtual std::optional<Blank> typed_blank() const { return std::nullopt; }
  /// What is wrong with words typed into such a blank, or a name; nullopt when nothing is.
  virtual std::optional<EntryError> check_words(Blank, const QString&) const { return std::nullopt; }

  /// Whether a sentence of its own is going on: finished and still to be corrected, or waiting.
  virtual bool is_open() const { return false; }
  /// Whether the step that is being made now is this verb's own doing.
  virtual bool acting() const { return false; }

  /// Opens a finished step of the record in the sentence: changing its blanks changes that step. False when the verb is
  /// another one's.
  virtual bool reopen(std::size_t /*step*/, const Verb&) { return false; }

  /// Short ways out that a finished sentence offers, and what one of them does.
  virtual QStringList remedies() const { return {}; }
  virtual void remedy(const QString&) {}

  virtual void hover(const std::optional<Caught>&) {}
  /// A click, or the press that begins a drag: true when it was wanted; otherwise it picks.
  virtual bool press(const std::optional<Caught>&, Qt::KeyboardModifiers) { return false; }
  /// The end of a drag that began with a wanted press.
  virtual void release(const std::optional<Caught>&, Qt::KeyboardModifiers) {}

  virtual QStringList choices(Blank) const { return {}; }
  virtual void choose(Blank, int) {}
  /// A place blank was clicked: it waits.
  virtual void wait_for(Blank) {}
  virtual EntryContext context(Blank) const { return {}; }
  /// A typed value. False when it was refused (the message has been said).
  virtual bool enter(Blank, const QString&, double) { return false; }
  /// While an entry is open: show what it would do.
  virtual void preview(Blank, std::optional<double>) {}
  /// A value blank was clicked: the entry that opens corrects the finished sentence, if there is one.
  virtual void begin_correction() {}
  virtual void choose_axis(int) {}
  /// One step back; false when there is nothing to step out of.
  virtual bool step_back() { return false; }
  /// The finished sentence ends: the next value or click begins a new one.
  virtual void end_sentence() {}

 signals:
  void changed();

 protected:
  Store& store_;
};

}  // namespace tack
