// The sentence under the verb row: plain words and live blanks.
#pragma once

#include <QLabel>
#include <QToolButton>
#include <QWidget>

#include "app/entry_edit.h"
#include "core/verbs/sentence.h"

namespace tack {

/// One blank, as a button in the sentence. Keyboard focus reaches it; its accessible name says what it stands for.
class BlankButton : public QToolButton {
  Q_OBJECT

 public:
  explicit BlankButton(QWidget* parent);
  void show_word(const Word& word, bool waiting);
  Blank blank() const { return blank_; }
  QSize sizeHint() const override;

 signals:
  void tabbed(bool back);
  void left();  ///< Esc

 protected:
  bool event(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void paintEvent(QPaintEvent* event) override;

 private:
  Blank blank_ = Blank::None;
  bool waiting_ = false, empty_ = false;
};

class SentenceBar : public QWidget {
  Q_OBJECT

 public:
  explicit SentenceBar(QWidget* parent = nullptr);

  /// Shows a sentence; `waiting` is the blank that waits for a click on the stage. An open entry stays open as long as
  /// its blank is still there.
  void show_sentence(const Sentence& sentence, std::optional<Blank> waiting);
  const Sentence& sentence() const { return sentence_; }

  /// Opens the entry of a value blank, with `text` typed into it or its own text marked.
  void open_entry(Blank blank, const QString& text = {});
  bool entry_is_open() const { return entry_->isVisible(); }
  void close_entry();
  /// Gives a blank the keyboard's focus.
  void focus_blank(Blank blank);
  /// The blank behind or before this one in the sentence; None: the first or last. nullopt at the end.
  /// Whether the blank only offers something that may be added.
  bool is_offer(Blank blank) const;
  std::optional<Blank> blank_beside(Blank blank, bool before) const;
  /// Where a blank stands, for menus.
  QPoint place_below(Blank blank) const;
  EntryEdit* entry() const { return entry_; }

  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;

  /// What an entry in a blank means.
  std::function<EntryContext(Blank)> context;
  /// What is wrong with words in a blank that takes no number.
  std::function<std::optional<EntryError>(Blank, const QString&)> check;

 signals:
  void blank_clicked(tack::Blank blank);
  /// One of the ways out that a finished sentence offers.
  void remedy_clicked(const QString& words);
  /// An entry was committed. `next`: with Tab, the one after it is wanted.
  void entered(tack::Blank blank, const QString& text, double value, bool by_tab);
  /// Tab in a blank that was left as it was: on to the one behind it, or before it.
  void passed(tack::Blank blank, bool back);
  void entry_changed(tack::Blank blank, std::optional<double> value);
  void entry_left();
  void entry_wrong(const QString& why);
  void back_asked();

 protected:
  void resizeEvent(QResizeEvent* event) override;
  void paintEvent(QPaintEvent* event) override;

 private:
  void lay_out();

  Sentence sentence_;
  std::optional<Blank> waiting_;
  int lines_ = 2;
  std::vector<QWidget*> words_;  // in order: labels and blanks
  EntryEdit* entry_;
  Blank entry_blank_ = Blank::None;
  QString entry_start_;  // what stood in the entry when it was opened
  QToolButton* back_;
};

/// What a blank stands for, for accessible names and tooltips.
QString blank_name(Blank blank);
bool is_value(Blank blank);

}  // namespace tack
