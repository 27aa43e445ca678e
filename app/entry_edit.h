// A field for typed values: every key belongs to it while it is open, and a bad entry is underlined where it is bad.
#pragma once

#include <QLineEdit>
#include <optional>

#include "core/entry/entry.h"

namespace tack {

class EntryEdit : public QLineEdit {
  Q_OBJECT

 public:
  explicit EntryEdit(QWidget* parent = nullptr);

  /// What an entry means here; `it` and the reader are asked for at the moment of reading.
  std::function<EntryContext()> context;

  /// Set when words are wanted, not a number: says what is wrong with them; read() then gives 0.
  std::function<std::optional<EntryError>(const QString&)> check;

  /// The value of what stands in the field, or nullopt after marking and saying what is wrong.
  std::optional<double> read();
  /// Underlines a part of the text and says why; cleared by the next change.
  void mark(const EntryError& error);
  void clear_mark();
  /// Whether the Tab that was accepted went backwards.
  bool goes_back() const { return back_; }
  bool is_marked() const { return marked_; }

 signals:
  void accepted(bool by_tab);  ///< Enter or Tab
  void left_by_escape();
  void nudged(int steps);          ///< arrows up and down, the wheel while it has the focus
  void wrong(const QString& why);  ///< empty when it is right again

 protected:
  bool event(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

 private:
  bool marked_ = false, back_ = false;
};

}  // namespace tack
