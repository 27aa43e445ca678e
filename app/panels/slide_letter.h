// The letter of an axis at a number's edge: dragged, it slides the number.
#pragma once

#include <QLabel>
#include <QMouseEvent>

namespace tack {

class SlideLetter : public QLabel {
  Q_OBJECT

 public:
  SlideLetter(const QString& letter, QWidget* parent) : QLabel(letter, parent) {
    setCursor(Qt::SizeHorCursor);
    setToolTip("Drag to slide the number");
  }

 signals:
  /// So many steps from where the drag began; `first`: nothing has been told of this drag yet.
  void slid(int steps, bool first);

 protected:
  void mousePressEvent(QMouseEvent* event) override {
    if (event->button() != Qt::LeftButton) return event->ignore();
    from_ = event->globalPosition().x();
    told_ = 0;
    moved_ = false;
  }
  void mouseMoveEvent(QMouseEvent* event) override {
    constexpr double kPixels = 4;  // for one step
    if (!(event->buttons() & Qt::LeftButton)) return;
    const int steps = static_cast<int>((event->globalPosition().x() - from_) / kPixels);
    if (steps == told_) return;
    told_ = steps;
    emit slid(steps, !std::exchange(moved_, true));
  }

 private:
  double from_ = 0;
  int told_ = 0;
  bool moved_ = false;
};

}  // namespace tack
