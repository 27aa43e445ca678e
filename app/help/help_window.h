// Help inside the program: the guides, one for each verb and subject, searched; and the list of all keys.
#pragma once

#include <QDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QStackedWidget>
#include <QTextBrowser>

#include "app/help/keys_page.h"

namespace tack {

class HelpWindow : public QDialog {
  Q_OBJECT

 public:
  HelpWindow(Keys& keys, QWidget* parent);

  /// The guide of this name ("meet"), or the first where there is none.
  void show_guide(const QString& name);
  void show_keys();
  KeysPage& keys() { return *keys_; }

 private:
  void search(const QString& text);
  void show_page(int row);
  void mark_found();

  QLineEdit* search_;
  QListWidget* pages_;
  QStackedWidget* stack_;
  QTextBrowser* guide_;
  KeysPage* keys_;
};

}  // namespace tack
