// Unit and up axis of a file that cannot say them, with the size that follows.
#pragma once

#include <QDialog>
#include <QLabel>
#include <functional>

#include "app/choice_row.h"
#include "core/files/delivery.h"
#include "core/files/document.h"

namespace tack {

class ImportDialog : public QDialog {
  Q_OBJECT

 public:
  /// `delivery` is the file read with its format's own rules.
  /// `picture` draws a scene in a size; it may give none.
  ImportDialog(const QString& file, const Delivery& delivery, UpAxis guessed_up,
               std::function<QImage(const Scene&, const QSize&)> picture, QWidget* parent);
  ImportOptions options() const;
  /// Whether it is to stand on the floor in the middle of the view, rather than where the file has it.
  bool on_the_floor() const { return where_->chosen() == 1; }

 private:
  void show_size();
  void show_picture();

  std::function<QImage(const Scene&, const QSize&)> draw_;
  Scene scene_;  // of the file, as read with the guess
  Vec3 size_;    // as read with the guess, mm
  UpAxis guessed_;
  ChoiceRow *unit_, *up_, *where_;
  QLabel *result_, *picture_;
};

}  // namespace tack
