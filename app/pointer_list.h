// The short list at the pointer: everything there is to do, found by a few letters; what was used last stands first.
#pragma once

#include <QFrame>
#include <QLineEdit>
#include <QListWidget>
#include <functional>
#include <vector>

class QLabel;

namespace tack {

struct PointerEntry {
  QString words;  ///< "Bring it from here", "Edit · Undo"
  QString key;    ///< its key or what it belongs to, at the right end of the row
  QString id;     ///< by which it is remembered as used; empty: it is not
  std::function<void()> run;
  bool here = false;  ///< it is about what lies under the pointer: before everything else while nothing is typed
};

class PointerList : public QFrame {
  Q_OBJECT

 public:
  explicit PointerList(QWidget* parent);

  /// Opens with its corner at `global`, or wherever near it the whole list is on the screen. `title` says what lies
  /// under the pointer.
  void open(QPoint global, const QString& title, std::vector<PointerEntry> entries);
  /// The rows as they stand now.
  QStringList rows() const;

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void fill();
  void take(int row);

  QLabel* title_;
  QLineEdit* search_;
  QListWidget* list_;
  std::vector<PointerEntry> entries_;
  std::vector<std::size_t> order_;  // of the entries, before anything is typed
};

/// How well an entry's words answer what was typed: 0 not at all; more when its words begin with what was typed, in
/// that order. Letters count, not their case.
int answers(const QString& words, const QString& typed);

}  // namespace tack
