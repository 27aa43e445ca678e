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
  explicit LoupeView(const QString& name, QWidget* parent);
  /// Both places of `meeting`, framed by it, or by `held` when there is one.
  void show_meeting(Stage& stage, const Marks::Meeting& meeting, const std::optional<Marks::Meeting>& held,
                    const Vec3& back, const Vec3& up, bool at_once);
  /// One place, with `span` mm about it.
  void show_place(Stage& stage, const Vec3& place, double span, const Vec3& back, const Vec3& up, bool at_once);
  /// Whether it shows the meshes as they are; not so where they were to be shown at once, and are heavy.
  bool is_exact() const { return shown_.exact; }
  void clear();
  /// What it looks at, in logical pixels; nullopt while it shows nothing.
  const std::optional<View>& view() const { return view_; }

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
  std::optional<View> view_;
  Stage::CloseUp shown_;
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

 private:
  void refresh(bool at_once);
  void wait_for_rest();
  void serve(LoupeView* view);
  void fold(bool away);
  void show_numbers(const Vec3& numbers, double noise);

  Store& store_;
  Workbench& bench_;
  Stage& stage_;
  QTimer soon_, folds_, rests_;
  QLabel *state_, *delta_, *gap_;
  bool folded_ = true;
  LoupeView *first_, *second_;
  // What the close-ups stay with while the pointer is in them: they must not run away from it.
  std::optional<Marks::Meeting> held_;
};

}  // namespace tack
