// The row of verbs: an icon, the name, its key as a small letter, and a bar under the one in use.
#pragma once

#include <QAbstractButton>
#include <QWidget>

#include "app/workbench.h"

namespace tack {

class VerbButton : public QAbstractButton {
 public:
  VerbButton(const VerbFace& verb, const Keys& keys, QWidget* parent);
  /// In full; without its key; without its icon too: what steps aside first where the row is narrow.
  enum class Shows { All, NoKey, NameAlone };
  int width_for(Shows shows) const;
  void show_as(Shows shows);
  QSize sizeHint() const override { return {width_for(shows_), 40}; }
  const VerbFace& verb() const { return verb_; }

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool event(QEvent* event) override;

 private:
  QString key() const;
  const VerbFace& verb_;
  const Keys& keys_;
  Shows shows_ = Shows::All;
};

class VerbRow : public QWidget {
  Q_OBJECT

 public:
  VerbRow(Workbench& bench, const Keys& keys, QWidget* parent);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  QSize minimumSizeHint() const override;

 private:
  void show_current();
  int width_for(VerbButton::Shows shows) const;

  Workbench& bench_;
  std::vector<VerbButton*> buttons_;
};

}  // namespace tack
