// The row of verbs: an icon, the name, its key as a small letter, and a bar under the one in use.
#pragma once

#include <QAbstractButton>
#include <QWidget>

#include "app/workbench.h"

namespace tack {

class VerbButton : public QAbstractButton {
 public:
  VerbButton(const VerbFace& verb, QWidget* parent);
  QSize sizeHint() const override;
  const VerbFace& verb() const { return verb_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool event(QEvent* event) override;

 private:
  const VerbFace& verb_;
};

class VerbRow : public QWidget {
  Q_OBJECT

 public:
  VerbRow(Workbench& bench, QWidget* parent);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void show_current();

  Workbench& bench_;
  std::vector<VerbButton*> buttons_;
};

}  // namespace tack
