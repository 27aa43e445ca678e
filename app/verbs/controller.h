// What every verb's controller gives the window: its sentence, what a click or a typed value means to it, and its
// marks.
#pragma once

#include <QObject>
#include <QStringList>
#include <optional>

#include "app/store.h"
#include "core/catch/catch_scene.h"

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
  /// Parts shown where they would end up.
  std::vector<std::pair<PartId, Affine>> ghosts;
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

  virtual void hover(const std::optional<Caught>&) {}
  /// A click, or the press that begins a drag: true when it was wanted; otherwise it picks.
  virtual bool press(const std::optional<Caught>&, Qt::KeyboardModifiers) { return false; }
  /// The end of a drag that began with a wanted press.
  virtual void release(const std::optional<Caught>&) {}

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
  /// The blank that Tab goes to.
  virtual std::optional<Blank> next_value(Blank) const { return std::nullopt; }
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
