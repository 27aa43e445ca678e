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
  /// `delivery` is the file read with its format's own rules, or with what it says of itself. `dropped`: it was let go
  /// on a place. `picture` draws a scene in a size; it may give none.
  ImportDialog(const QString& file, const Delivery& delivery, bool dropped,
               std::function<QImage(const Scene&, const QSize&)> picture, QWidget* parent);
  ImportOptions options() const;
  enum class Where { Dropped, AsInFile, OnTheFloor };
  Where where() const { return places_[where_->chosen()]; }

 private:
  void show_size();
  void show_picture();

  std::function<QImage(const Scene&, const QSize&)> draw_;
  Scene scene_;  // of the file, as read with the guess
  Vec3 size_;    // as read with the guess, in units of the file
  bool draws_ = true;
  FileAxes guessed_;
  std::vector<double> units_;  // what can be chosen, mm
  std::vector<Where> places_;
  ChoiceRow *unit_, *up_, *where_;
  QLabel *result_, *picture_;
};

}  // namespace tack
