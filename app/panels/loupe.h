// The loupe: two close-ups of the present meeting from two perpendicular directions, and what was measured.
#pragma once

#include <QLabel>
#include <QTimer>
#include <QWidget>

#include "app/stage/stage.h"

namespace tack {

class LoupeView : public QWidget {
 public:
  explicit LoupeView(const QString& name, QWidget* parent);
  void show_meeting(Stage& stage, const Marks::Meeting& meeting, const Vec3& back, const Vec3& up);
  void clear();
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override { return width; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  QImage image_;
  std::optional<QPointF> from_, to_;
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
  void refresh();

  Store& store_;
  Workbench& bench_;
  Stage& stage_;
  QTimer soon_;
  QLabel *state_, *hint_, *delta_, *gap_;
  LoupeView *first_, *second_;
};

}  // namespace tack
