// The loupe: two close-ups of the present meeting from two perpendicular directions, and what was measured.
#pragma once

#include <QLabel>
#include <QMouseEvent>
#include <QTimer>
#include <QWidget>

#include "app/stage/stage.h"

namespace tack {

class LoupeView : public QWidget {
  Q_OBJECT

 public:
  LoupeView(const QString& name, Stage& stage, QWidget* parent);
  /// Both places of `meeting`, framed by it, or by `held` when there is one.
  void show_meeting(const Marks::Meeting& meeting, const std::optional<Marks::Meeting>& held, const Vec3& back,
                    const Vec3& up);
  /// One place, with `span` mm about it.
  void show_place(const Vec3& place, double span, const Vec3& back, const Vec3& up);
  void clear();
  /// What it looks at, in logical pixels; nullopt while it shows nothing.
  const std::optional<View>& view() const { return view_; }
  /// What is drawn of the scene there.
  const CloseUp& close_up() const { return close_up_; }

 signals:
  void pointed(QPointF at);
  void pressed(QPointF at, Qt::KeyboardModifiers modifiers);
  void left();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override { emit pointed(event->position()); }
  void mousePressEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent*) override { emit left(); }

 private:
  // Looks at `span` mm about a place; the view in device pixels.
  View look(const Vec3& centre, double span, const Vec3& back, const Vec3& up);

  Stage& stage_;
  CloseUp& close_up_;
  std::optional<View> view_;
  std::optional<QPointF> from_, to_, caught_;
};

class Loupe : public QWidget {
  Q_OBJECT

 public:
  Loupe(Store& store, Workbench& bench, Stage& stage, QWidget* parent = nullptr);

  /// The state in words ("exact", "apart by 12.4 mm"), empty when there is no meeting.
  QString words() const { return state_->text(); }

 protected:
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent*) override { soon_.start(); }

 private:
  void refresh();
  // The pictures, one in each event.
  void look();
  void look_with(LoupeView* view, const Vec3& back, const Vec3& up);
  void serve(LoupeView* view);
  void fold(bool away);
  void show_numbers(const Vec3& numbers, double noise);

  Store& store_;
  Workbench& bench_;
  Stage& stage_;
  QTimer soon_, looks_, folds_;
  QLabel *state_, *delta_, *gap_;
  bool folded_ = true;
  LoupeView *first_, *second_;
  LoupeView* next_ = first_;  // whose picture comes next
  int to_look_ = 0;           // how many are still to be drawn
  // What the close-ups stay with while the pointer is in them: they must not run away from it.
  std::optional<Marks::Meeting> held_;
};

}  // namespace tack
