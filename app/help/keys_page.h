// The list of all keys: searched, changed, printed.
#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>

#include "app/keys.h"

class QPrinter;

namespace tack {

class KeysPage : public QWidget {
  Q_OBJECT

 public:
  explicit KeysPage(Keys& keys, QWidget* parent = nullptr);

  /// The list as it stands, in as many pages as it takes.
  void print_to(QPrinter& printer) const;
  QLineEdit* search() const { return search_; }

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void refresh();
  void filter();
  /// The entry of the chosen row; null for none, and for one that is not changed.
  const KeyEntry* chosen() const;
  void begin_change();
  void end_change(const QString& words, bool wrong = false);
  void take(const QKeySequence& key);
  void print();

  Keys& keys_;
  QLineEdit* search_;
  QTreeWidget* list_;
  QLabel* says_;
  QPushButton *change_, *standard_, *all_standard_, *print_;
  bool waits_ = false;        // for the new key
  QKeySequence asked_again_;  // one that clashes, and has been said to
};

}  // namespace tack
