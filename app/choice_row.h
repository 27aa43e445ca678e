// One of a few words, all of them seen: how dialogs ask for a unit, an axis, a format.
#pragma once

#include <QButtonGroup>
#include <QStringList>
#include <QWidget>

namespace tack {

/// The words stand beside each other; the chosen one is framed in ink. Arrow keys go from one to the next, typed
/// letters to the word that is, or begins with, what was typed within a second. One is always chosen, once there is a
/// word.
class ChoiceRow : public QWidget {
  Q_OBJECT

 public:
  explicit ChoiceRow(const QStringList& words, QWidget* parent = nullptr);
  void add(const QString& word);
  int chosen() const { return group_.checkedId(); }
  QString chosen_word() const;
  /// Does nothing for a number, or a word, that is not there.
  void choose(int number);
  void choose(const QString& word);

 signals:
  void changed(int number);

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  QButtonGroup group_;
  QString typed_;
  quint64 typed_at_ = 0;  // ms, the last letter
};

}  // namespace tack
