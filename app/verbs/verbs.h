// The controllers of the verbs in the verb row.
#pragma once

#include "app/verbs/act_controller.h"
#include "app/verbs/pair_controller.h"
#include "app/verbs/part_controller.h"

namespace tack {

class PickController : public Controller {
  Q_OBJECT

 public:
  explicit PickController(Store& store);
  QString name() const override { return tr("Pick"); }
  QString about() const override { return tr("Pick parts: click, Ctrl-click, or draw a rectangle"); }
  QString icon() const override { return "pick"; }
  Qt::Key key() const override { return Qt::Key_P; }
  Sentence sentence() const override;
  QString hint() const override;
};

class MeetController : public PairController {
  Q_OBJECT

 public:
  explicit MeetController(Store& store);
  QString name() const override { return tr("Meet"); }
  QString about() const override { return tr("Bring a place of one part to a place of another"); }
  QString icon() const override { return "meet"; }
  bool shows_kept() const override { return true; }
  Qt::Key key() const override { return Qt::Key_T; }
  Sentence sentence() const override;
  QString hint() const override;
  std::optional<Blank> leading() const override { return Blank::Gap; }
  Marks marks() const override;
  bool leaves_out(PartId id) const override;
  bool press(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) override;
  void wait_for(Blank blank) override;
  bool step_back() override;
  QStringList choices(Blank blank) const override;
  void choose(Blank blank, int index) override;
  void choose_axis(int axis) override;
  void end_sentence() override;
  std::optional<Blank> still_blank() const override { return Blank::Hold; }

 protected:
  std::optional<Verb> pending() const override;
  std::vector<PartId> moving() const override;
  std::optional<Verb> with_places(const Verb& base, const TackAddress& from, const TackAddress& to) const override;
  std::optional<Verb> with_hovered(const Caught& caught) const override;
  void take_place(Blank blank, const TackAddress& place) override;
  const Scene& tried_in() const override;
  void note_modifiers(Qt::KeyboardModifiers modifiers) override;
  bool finish() override;
  bool keep(const Verb& verb) override;
  bool always_corrects() const override { return true; }
  void took(const Verb& verb) override;

 private:
  /// Goes on with a row: the part leaves a linked copy where it is, and stands on the next place.
  bool next_of_row(const TackAddress& to);
  /// What moves, by the middle of the bottom of its own box instead of From.
  std::optional<TackAddress> base() const;

  const Meet* done_meet() const { return done_ ? std::get_if<Meet>(&*done_) : nullptr; }
  /// The finished step as it stands in the record, or what it would be while a place is hovered over or typed.
  const Scene* scene_after() const;
  /// The meeting with a place in the From or the To of a further pair; nullopt while its other end is missing.
  std::optional<Meet> with_end(Blank blank, const TackAddress& place) const;

  // The blanks of the next meeting.
  Meet next_;
  std::optional<bool> ties_;  // whether it is remembered, when that was said for this one
  bool copies_ = false;       // Ctrl: a copy is left, and the next To goes on with the row
  bool stands_ = false;       // Shift: on its own base, whatever From is
  bool row_ = false;          // To waits again and again
  // The From of a pair that is being added to the finished meeting.
  std::optional<TackAddress> from_of_new_;
};

class MoveController : public PairController {
  Q_OBJECT

 public:
  explicit MoveController(Store& store);
  QString name() const override { return tr("Move"); }
  QString about() const override { return tr("Move by typed lengths, or from a place to a place"); }
  QString icon() const override { return "move"; }
  Qt::Key key() const override { return Qt::Key_M; }
  Sentence sentence() const override;
  QString hint() const override;
  std::optional<Blank> leading() const override;
  QStringList choices(Blank blank) const override;
  void choose(Blank blank, int index) override;
  void choose_axis(int axis) override;
  std::vector<Handle> handles(const View& view) const override;
  QString handle_text(const Handle& handle) const override;

 protected:
  bool waits_by_itself() const override { return false; }
  std::optional<Verb> pending() const override;
  std::vector<PartId> moving() const override;
  std::optional<Verb> with_value(const Verb& base, Blank blank, const Amount& amount) const override;
  std::optional<Verb> with_places(const Verb& base, const TackAddress& from, const TackAddress& to) const override;
  std::optional<Verb> dragged(const Drag& drag) const override;
  void add_gauges(const Drag& drag, Marks& marks) const override;
  void take_place(Blank blank, const TackAddress& place) override;

 private:
  /// The axes that X, Y and Z have chosen; those of the handle when none is.
  std::array<bool, 3> along(const std::array<bool, 3>& of_handle) const;

  std::array<bool, 3> chosen_{};  // by X, Y and Z
  Slide slide_;
};

class RotateController : public PairController {
  Q_OBJECT

 public:
  explicit RotateController(Store& store);
  QString name() const override { return tr("Rotate"); }
  QString about() const override { return tr("Turn parts by an angle about a point, or like another part"); }
  QString icon() const override { return "rotate"; }
  Qt::Key key() const override { return Qt::Key_O; }
  Sentence sentence() const override;
  QString hint() const override;
  std::optional<Blank> leading() const override { return Blank::Angle; }
  std::vector<Handle> handles(const View& view) const override;
  QString handle_text(const Handle& handle) const override;
  bool begin_drag(const Handle& handle, const View& view, QPointF at) override;
  void drag_to(const View& view, QPointF at, bool steps) override;
  QStringList choices(Blank blank) const override;
  void choose(Blank blank, int index) override;
  void choose_axis(int axis) override;
  std::optional<Blank> still_blank() const override { return Blank::About; }

 protected:
  bool waits_by_itself() const override { return false; }
  std::optional<Verb> with_places(const Verb& base, const TackAddress& from, const TackAddress& to) const override;
  Handle grip_handle(const Vec3& at) const override;
  std::optional<Verb> pending() const override;
  std::optional<Verb> dragged(const Drag& drag) const override;
  void add_gauges(const Drag& drag, Marks& marks) const override;
  void take_place(Blank blank, const TackAddress& place) override;
  void take_like(PartId part) override;

 private:
  Rotate blank() const;
  Vec3 drag_axis(const Drag& drag) const;

  int axis_ = 2;
  std::optional<TackAddress> round_edge_;
  double turned_ = 0, last_ = 0;  // degrees turned in the drag so far; the last angle of the pointer
};

class ScaleController : public PairController {
  Q_OBJECT

 public:
  explicit ScaleController(Store& store);
  QString name() const override { return tr("Scale"); }
  QString about() const override { return tr("Give parts a size, with a side that stays still"); }
  QString icon() const override { return "scale"; }
  Qt::Key key() const override { return Qt::Key_A; }
  Sentence sentence() const override;
  QString hint() const override;
  std::optional<Blank> leading() const override;
  std::vector<Handle> handles(const View& view) const override;
  QString handle_text(const Handle& handle) const override;
  Marks marks() const override;
  QStringList choices(Blank blank) const override;
  void choose(Blank blank, int index) override;
  void choose_axis(int axis) override;
  std::optional<Blank> still_blank() const override { return Blank::Hold; }

 protected:
  bool waits_by_itself() const override { return false; }
  std::optional<Verb> with_places(const Verb& base, const TackAddress& from, const TackAddress& to) const override;
  std::optional<Verb> pending() const override;
  std::optional<Verb> dragged(const Drag& drag) const override;
  void add_gauges(const Drag& drag, Marks& marks) const override;
  double value_now(Blank blank) const override;
  void take_place(Blank blank, const TackAddress& place) override;
  void take_like(PartId part) override;
  void set_axes(const Axes& axes) override { axes_ = axes; }

 private:
  Scale blank() const;
  std::optional<Verb> dragged_freely(const Drag& drag) const;

  Axes axes_ = AxesKind::Local;
  About hold_ = bottom();
  bool evenly_ = false;
  std::array<bool, 3> chosen_{};
};

class PivotController : public ActController {
  Q_OBJECT

 public:
  explicit PivotController(Store& store);
  QString name() const override { return tr("Pivot"); }
  QString about() const override { return tr("Put the pivot anywhere; nothing else moves"); }
  QString icon() const override { return "pivot"; }
  Qt::Key key() const override { return Qt::Key_V; }
  QString hint() const override;
  std::optional<Blank> waiting() const override;
  bool catches() const override;
  bool press(const std::optional<Caught>& caught, Qt::KeyboardModifiers modifiers) override;
  std::optional<Blank> leading() const override { return static_cast<Blank>(static_cast<int>(Blank::X) + axis_); }
  std::vector<Handle> handles(const View& view) const override;
  Marks marks() const override;
  QStringList choices(Blank blank) const override;
  void choose(Blank blank, int index) override;
  void choose_axis(int axis) override;
  bool presses_count() const override { return drag_ && drag_->handle.kind == Handle::Kind::Pad; }

 protected:
  std::optional<Verb> pending() const override;
  double value_now(Blank blank) const override;
  std::optional<Verb> dragged(const Drag& drag) const override;
  void add_gauges(const Drag& drag, Marks& marks) const override;
  void take_place(Blank blank, const TackAddress& place) override;
  void take_like(PartId part) override;

 private:
  Pivot blank() const;

  int axis_ = 0;
};

class MeasureController : public PairController {
  Q_OBJECT

 public:
  explicit MeasureController(Store& store);
  QString name() const override { return tr("Measure"); }
  QString about() const override { return tr("Measure between two places"); }
  QString icon() const override { return "measure"; }
  bool shows_kept() const override { return true; }
  Qt::Key key() const override { return Qt::Key_U; }
  Sentence sentence() const override;
  QString hint() const override;

  bool step_back() override;
  void end_sentence() override;
  QStringList remedies() const override;
  void remedy(const QString& words) override;

 protected:
  std::optional<Verb> pending() const override { return std::nullopt; }
  bool finished() const override { return measured_; }
  bool outlasts_changes() const override { return true; }
  std::optional<Verb> with_places(const Verb&, const TackAddress&, const TackAddress&) const override {
    return std::nullopt;
  }
  bool finish() override;

 private:
  struct Closing {
    QString words;
    Meet meet;
  };
  std::vector<Closing> closings() const;

  bool measured_ = false;
};

}  // namespace tack
