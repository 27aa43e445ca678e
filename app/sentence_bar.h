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
  BlankId blank() const { return blank_; }
  QSize sizeHint() const override;

 signals:
  void tabbed(bool back);
  void left();  ///< Esc

 protected:
  bool event(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void paintEvent(QPaintEvent* event) override;

 private:
  BlankId blank_;
  Role role_ = Role::None;
  bool waiting_ = false, empty_ = false;
};

class SentenceBar : public QWidget {
  Q_OBJECT

 public:
  explicit SentenceBar(QWidget* parent = nullptr);

  /// Shows a sentence; `waiting` is the blank that waits for a click on the stage. An open entry stays open as long as
  /// its blank is still there.
  void show_sentence(const Sentence& sentence, BlankId waiting);
  const Sentence& sentence() const { return sentence_; }
  /// Shows the button that does what the sentence says as it stands.
  void offer_doing(bool offered);

  /// Opens the entry of a value blank, with `text` typed into it or its own text marked.
  void open_entry(BlankId blank, const QString& text = {});
  bool entry_is_open() const { return entry_->isVisible(); }
  void close_entry();
  bool has(BlankId blank) const;
  /// Gives a blank the keyboard's focus.
  void focus_blank(BlankId blank);
  /// Whether the blank only offers something that may be added.
  bool is_offer(BlankId blank) const;
  /// The blank behind or before this one in the sentence, the first or last for none. None at the end.
  BlankId blank_beside(BlankId blank, bool before) const;
  /// Where a blank stands, for menus.
  QPoint place_below(BlankId blank) const;
  EntryEdit* entry() const { return entry_; }

  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;

  /// What an entry in a blank means.
  std::function<EntryContext(BlankId)> context;
  /// Whether a number is typed into a blank; else words are, and what is wrong with them.
  std::function<bool(BlankId)> takes_number;
  std::function<std::optional<EntryError>(BlankId, const QString&)> check;

 signals:
  void blank_clicked(tack::BlankId blank);
  /// An entry was committed. `next`: with Tab, the one after it is wanted.
  void entered(tack::BlankId blank, const QString& text, double value, bool by_tab);
  /// Tab in a blank that was left as it was: on to the one behind it, or before it.
  void passed(tack::BlankId blank, bool back);
  void entry_changed(tack::BlankId blank, const QString& text, std::optional<double> value);
  void entry_left();
  void entry_wrong(const QString& why);
  void back_asked();
  void doing_asked();

 protected:
  void resizeEvent(QResizeEvent* event) override;
  void paintEvent(QPaintEvent* event) override;

 private:
  void lay_out();
  /// Where each word of a page stands; `first` is the first word of it, `limit` where lines end. Returns the number of
  /// words that two lines hold.
  struct Spot {
    std::size_t word;
    int x, line, width;
  };
  std::size_t place_words(std::size_t first, int limit, int last_limit, std::vector<Spot>& spots) const;
  int width_of(const QWidget* word) const;
  /// The page that a blank stands on comes to the front.
  void turn_to(BlankId blank);

  Sentence sentence_;
  BlankId waiting_;
  std::vector<std::size_t> pages_{0};  // the first word of each page
  std::size_t page_ = 0;
  QToolButton *more_, *less_;
  std::vector<QWidget*> words_;  // in order: labels and blanks
  EntryEdit* entry_;
  BlankId entry_blank_;
  QString entry_start_;  // what stood in the entry when it was opened
  QToolButton *do_, *back_;
};

}  // namespace tack
