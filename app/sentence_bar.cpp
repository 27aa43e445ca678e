#include "app/sentence_bar.h"

#include <QKeyEvent>
#include <QPainter>
#include <QStyle>

#include "app/theme.h"

namespace tack {
namespace {

constexpr double kSize = 1.22;
constexpr int kMargin = 18, kLines = 2;
// A line of the sentence, at the text size in use.
int line_height() { return std::max(27, QFontMetrics(ui_font(kSize)).height() + 9); }
constexpr int kHanging = 12;  // a comma after the last word of a line stands in the margin

}  // namespace

BlankButton::BlankButton(QWidget* parent) : QToolButton(parent) {
  setCursor(Qt::PointingHandCursor);
  setFocusPolicy(Qt::TabFocus);
}

void BlankButton::show_word(const Word& word, bool waiting) {
  blank_ = word.blank;
  role_ = word.role;
  waiting_ = waiting;
  empty_ = word.empty || word.offer;
  setText(QString::fromStdString(word.text));
  const bool typed = word.typed && !word.offer;
  setFont(typed ? number_font(kSize * 0.96) : ui_font(kSize, QFont::Medium));
  const QString name = QString::fromStdString(word.name);
  setObjectName("blank " + name);
  setAccessibleName(name + ": " + text());
  setToolTip(name + (typed ? ": click to type" : ": click to choose"));
  updateGeometry();
  update();
}

bool BlankButton::event(QEvent* event) {
  if (event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Tab || key == Qt::Key_Backtab) {
      emit tabbed(key == Qt::Key_Backtab);
      return true;
    }
  }
  return QToolButton::event(event);
}

void BlankButton::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
    case Qt::Key_Down: click(); return;
    case Qt::Key_Escape: emit left(); return;
    default: QToolButton::keyPressEvent(event);
  }
}

QSize BlankButton::sizeHint() const {
  const QFontMetrics metrics(font());
  return {metrics.horizontalAdvance(text()) + 8, line_height()};
}

void BlankButton::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const bool from = role_ == Role::From, to = role_ == Role::To;
  const QColor role = from ? t.from : to ? t.to : t.ink;
  QColor line = from || to ? role : t.soft, text = empty_ && !waiting_ ? t.soft : role;
  const QRectF box = QRectF(rect()).adjusted(0.5, 2, -0.5, -2);
  if (waiting_) {
    // Filled: this is what the next click is for.
    p.setPen(Qt::NoPen);
    p.setBrush(role);
    p.drawRoundedRect(box, 3, 3);
    text = from ? (t.night ? t.on_to : QColor(Qt::white)) : t.on_to;
    if (!from && !to) text = t.paper;
  } else if (underMouse() || isDown()) {
    QColor wash = role;
    wash.setAlphaF(0.10f);
    p.setPen(Qt::NoPen);
    p.setBrush(wash);
    p.drawRoundedRect(box, 3, 3);
  }
  p.setFont(font());
  p.setPen(text);
  // Only a name that is wider than the window itself is shortened.
  const QString shown = width() < sizeHint().width()
                            ? QFontMetrics(font()).elidedText(this->text(), Qt::ElideMiddle, width() - 8)
                            : this->text();
  p.drawText(rect().adjusted(4, 0, -4, -1), Qt::AlignVCenter | Qt::AlignLeft, shown);
  if (!waiting_) {
    p.setPen(QPen(line, 1.5, empty_ ? Qt::DashLine : Qt::SolidLine));
    p.drawLine(QPointF(2, height() - 3), QPointF(width() - 2, height() - 3));
  }
  if (hasFocus()) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.ink, 1.2));
    p.drawRoundedRect(box, 3, 3);
  }
}

SentenceBar::SentenceBar(QWidget* parent)
    : QWidget(parent),
      more_(new QToolButton(this)),
      less_(new QToolButton(this)),
      entry_(new EntryEdit(this)),
      do_(new QToolButton(this)),
      back_(new QToolButton(this)) {
  const std::tuple<QToolButton*, const char*, const char*> turners[] = {{more_, "more", "The rest of the sentence"},
                                                                        {less_, "…", "The beginning of the sentence"}};
  for (const auto& [button, text, tip] : turners) {
    button->setText(text);
    button->setObjectName(QString("sentence ") + (button == more_ ? "more" : "less"));
    button->setAccessibleName(tip);
    button->setToolTip(tip);
    button->setFocusPolicy(Qt::TabFocus);
    button->setAutoRaise(true);
    button->setCursor(Qt::PointingHandCursor);
    button->hide();
  }
  connect(more_, &QToolButton::clicked, this, [this] {
    page_ = std::min(page_ + 1, pages_.size() - 1);
    lay_out();
  });
  connect(less_, &QToolButton::clicked, this, [this] {
    page_ = 0;
    lay_out();
  });
  setObjectName("sentence");
  setAccessibleName("Sentence");
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  entry_->setObjectName("sentence entry");
  entry_->setProperty("keeps_tab", true);
  entry_->hide();
  entry_->context = [this] { return context ? context(entry_blank_) : EntryContext{}; };
  back_->setText("Esc  back");
  back_->setAccessibleName("Step back");
  back_->setToolTip("Out of the entry, the blank, the verb (Esc)");
  back_->setFocusPolicy(Qt::NoFocus);
  back_->setAutoRaise(true);
  connect(back_, &QToolButton::clicked, this, &SentenceBar::back_asked);
  do_->setText("Do it");
  do_->setObjectName("do it");
  do_->setAccessibleName("Do it");
  do_->setToolTip("Does what the sentence says, as the stage shows it (Enter)");
  do_->setFocusPolicy(Qt::TabFocus);
  do_->hide();
  connect(do_, &QToolButton::clicked, this, &SentenceBar::doing_asked);
  connect(entry_, &EntryEdit::accepted, this, [this](bool by_tab) {
    if (entry_->text() == entry_start_) {
      // Left as it was: nothing is rounded to what happens to be shown.
      const BlankId left = entry_blank_;
      close_entry();
      if (by_tab)
        emit passed(left, entry_->goes_back());
      else
        emit entry_left();
      return;
    }
    const auto value = entry_->read();
    if (!value) return;
    const BlankId blank = entry_blank_;
    const QString text = entry_->text().trimmed();
    close_entry();
    emit entered(blank, text, *value, by_tab);
  });
  connect(entry_, &EntryEdit::left_by_escape, this, [this] {
    close_entry();
    emit entry_left();
  });
  connect(entry_, &EntryEdit::wrong, this, &SentenceBar::entry_wrong);
  connect(entry_, &QLineEdit::textEdited, this, [this](const QString& text) {
    if (!entry_->check) {
      const auto value = parse_entry(text.toStdString(), entry_->context());
      emit entry_changed(entry_blank_, text, value ? std::optional(*value) : std::nullopt);
    }
    lay_out();
  });
}

void SentenceBar::offer_doing(bool offered) {
  if (do_->isVisibleTo(this) == offered) return;
  do_->setVisible(offered);
  lay_out();
}

QSize SentenceBar::sizeHint() const { return {800, kLines * line_height() + 10}; }
QSize SentenceBar::minimumSizeHint() const { return {200, kLines * line_height() + 10}; }

namespace {

// Plain text in pieces of one word each, so that lines can break in it and a comma stays with what it follows.
Sentence in_pieces(const Sentence& sentence) {
  Sentence pieces;
  for (const Word& word : sentence) {
    if (word.blank || word.text.empty()) {
      pieces.push_back(word);
      continue;
    }
    for (std::size_t begin = 0; begin < word.text.size();) {
      std::size_t end = word.text.find(' ', word.text.find_first_not_of(' ', begin));
      end = end == std::string::npos ? word.text.size() : end + 1;
      pieces.push_back(word);
      pieces.back().text = word.text.substr(begin, end - begin);
      begin = end;
    }
  }
  return pieces;
}

}  // namespace

void SentenceBar::show_sentence(const Sentence& whole, BlankId waiting) {
  // Another verb's sentence begins at its beginning; what changes in the one that is read stays where it is read.
  if (sentence_.empty() || whole.empty() || sentence_.front().text != whole.front().text) page_ = 0;
  sentence_ = whole;
  const Sentence sentence = in_pieces(whole);
  BlankId wanted;  // a blank that waits from now on is seen
  if (waiting && waiting != waiting_) wanted = waiting;
  waiting_ = waiting;
  // Widgets are reused where they are of the same kind, so that hovering does not make new ones at every move.
  for (std::size_t i = 0; i < sentence.size(); ++i) {
    const bool blank = bool(sentence[i].blank);
    QWidget* old = i < words_.size() ? words_[i] : nullptr;
    if (old && (qobject_cast<BlankButton*>(old) != nullptr) != blank) {
      old->hide();
      old->deleteLater();
      old = nullptr;
    }
    if (!old) {
      if (blank) {
        auto* button = new BlankButton(this);
        connect(button, &QToolButton::clicked, this, [this, button] { emit blank_clicked(button->blank()); });
        connect(button, &BlankButton::left, this, &SentenceBar::entry_left);
        connect(button, &BlankButton::tabbed, this, [this, button](bool back) { emit passed(button->blank(), back); });
        old = button;
      } else {
        old = new QLabel(this);
      }
      old->show();
      if (i < words_.size())
        words_[i] = old;
      else
        words_.push_back(old);
    }
    if (auto* button = qobject_cast<BlankButton*>(old)) {
      button->show_word(sentence[i], waiting && waiting == sentence[i].blank);
    } else {
      auto* label = static_cast<QLabel*>(old);
      label->setFont(ui_font(kSize));
      label->setText(QString::fromStdString(sentence[i].text));
    }
  }
  for (std::size_t i = sentence.size(); i < words_.size(); ++i) {
    words_[i]->hide();
    words_[i]->deleteLater();
  }
  words_.resize(sentence.size());
  setAccessibleDescription(QString::fromStdString(plain_text(sentence)));
  if (entry_is_open() &&
      std::none_of(sentence.begin(), sentence.end(), [&](const Word& w) { return w.blank == entry_blank_; }))
    close_entry();
  lay_out();
  if (wanted) turn_to(wanted);
}

int SentenceBar::width_of(const QWidget* word) const {
  const auto* button = qobject_cast<const BlankButton*>(word);
  if (!button) {
    const auto* label = static_cast<const QLabel*>(word);
    return QFontMetrics(label->font()).horizontalAdvance(label->text());
  }
  const int width = button->sizeHint().width();
  if (!entry_->isVisible() || button->blank() != entry_blank_) return width;
  return std::max({width, QFontMetrics(entry_->font()).horizontalAdvance(entry_->text()) + 26, 76});
}

std::size_t SentenceBar::place_words(std::size_t first, int limit, int last_limit, std::vector<Spot>& spots) const {
  int x = kMargin + (first > 0 ? less_->width() + 6 : 0), line = 0;
  for (std::size_t i = first; i < words_.size(); ++i) {
    const QWidget* word = words_[i];
    const int width = width_of(word);
    // A line may break before a blank or a word, not before a comma, a dot or a sign that stands alone.
    const auto* label = qobject_cast<const QLabel*>(word);
    const QString text = label ? label->text() : QString();
    const bool breaks = !label || std::any_of(text.begin(), text.end(), [](QChar c) { return c.isLetterOrNumber(); });
    const int end = line == kLines - 1 ? last_limit : limit;
    if (x + width > end + (breaks ? 0 : kHanging) && x > kMargin) {
      if (line == kLines - 1) {
        // A comma does not begin a page: what it follows goes with it.
        while (!breaks && i > first + 1 && qobject_cast<const QLabel*>(words_[i]) &&
               std::none_of(text.begin(), text.end(), [](QChar c) { return c.isLetterOrNumber(); }) &&
               spots.size() > 1) {
          spots.pop_back();
          --i;
          if (!qobject_cast<const QLabel*>(words_[i])) break;
        }
        return i;
      }
      x = kMargin;
      ++line;
      // The spaces before a word that begins a line stand in the margin.
      if (label) {
        qsizetype spaces = 0;
        while (spaces < text.size() && text[spaces] == ' ') ++spaces;
        x -= QFontMetrics(label->font()).horizontalAdvance(text.left(spaces));
      }
    }
    // A name that is wider than the line is shortened, and leaves "more" its room.
    spots.push_back({i, x, line, std::min(width, (line == kLines - 1 ? last_limit : limit) + kHanging - x)});
    x += width;
  }
  return words_.size();
}

// Two lines hold a page. What does not fit stands behind the last word of the page, "more".
void SentenceBar::lay_out() {
  back_->setFont(ui_font(0.96));
  back_->adjustSize();
  back_->move(width() - kMargin - back_->width(), (height() - back_->height()) / 2);
  if (do_->isVisibleTo(this)) {
    if (const QFont font = ui_font(1, QFont::DemiBold); do_->font() != font) do_->setFont(font);
    do_->adjustSize();
    do_->move(back_->x() - do_->width() - 14, (height() - do_->height()) / 2);
  }
  // Setting a style costs more than all else here, and this is done at every move of the pointer.
  const QString style =
      QString("QToolButton { color: %1; border: none; border-bottom: 1px dashed %1; padding: 0 2px; }")
          .arg(theme().soft.name());
  for (QToolButton* button : {more_, less_}) {
    if (const QFont font = ui_font(kSize, QFont::Medium); button->font() != font) button->setFont(font);
    set_style(*button, style);
    button->adjustSize();
  }
  const int right = do_->isVisibleTo(this) ? do_->x() - 8 : back_->x();
  const int limit = right - kHanging, with_more = limit - more_->width() - 10;
  pages_ = {0};
  std::vector<std::vector<Spot>> pages;
  for (std::size_t first = 0;;) {
    std::vector<Spot> spots;
    // The last page needs no "more".
    std::size_t next = place_words(first, limit, limit, spots);
    if (next < words_.size()) {
      spots.clear();
      next = place_words(first, limit, with_more, spots);
    }
    pages.push_back(std::move(spots));
    if (next >= words_.size() || next <= first) break;
    pages_.push_back(first = next);
  }
  page_ = std::min(page_, pages.size() - 1);
  const std::vector<Spot>& spots = pages[page_];
  std::vector<bool> shown(words_.size());
  const int lines = spots.empty() ? 1 : spots.back().line + 1,
            top = std::max(2, (height() - lines * line_height()) / 2);
  for (const Spot& spot : spots) {
    QWidget* word = words_[spot.word];
    const int y = top + spot.line * line_height();
    shown[spot.word] = true;
    word->setGeometry(spot.x, y, spot.width, line_height());
    auto* button = qobject_cast<BlankButton*>(word);
    if (button && entry_->isVisible() && button->blank() == entry_blank_) {
      entry_->setGeometry(spot.x, y + 1, spot.width, line_height() - 2);
      entry_->raise();
    }
  }
  for (std::size_t i = 0; i < words_.size(); ++i) words_[i]->setVisible(shown[i]);
  more_->setVisible(page_ + 1 < pages.size());
  less_->setVisible(page_ > 0);
  const int last = top + (lines - 1) * line_height();
  if (!spots.empty())
    more_->move(spots.back().x + spots.back().width + 8, last + (line_height() - more_->height()) / 2);
  less_->move(kMargin, top + (line_height() - less_->height()) / 2);
  update();
}

bool SentenceBar::has(BlankId blank) const {
  return std::any_of(sentence_.begin(), sentence_.end(), [&](const Word& w) { return w.blank == blank; });
}

void SentenceBar::turn_to(BlankId blank) {
  for (std::size_t i = 0; i < words_.size(); ++i) {
    const auto* button = qobject_cast<BlankButton*>(words_[i]);
    if (!button || button->blank() != blank) continue;
    const std::size_t page =
        static_cast<std::size_t>(std::upper_bound(pages_.begin(), pages_.end(), i) - pages_.begin()) - 1;
    if (page == page_) return;
    page_ = page;
    return lay_out();
  }
}

void SentenceBar::open_entry(BlankId blank, const QString& text) {
  const auto word = std::find_if(sentence_.begin(), sentence_.end(), [&](const Word& w) { return w.blank == blank; });
  if (word == sentence_.end()) return;
  turn_to(blank);
  entry_blank_ = blank;
  entry_->setFont(number_font(kSize * 0.96));
  entry_->clear_mark();
  entry_->check = nullptr;
  const bool number = takes_number && takes_number(blank);
  if (!number)
    entry_->check = [this, blank](const QString& words) {
      return check ? check(blank, words) : std::optional<EntryError>();
    };
  entry_->setAccessibleName(QString::fromStdString(word->name));
  // What is only offered has no value yet.
  entry_start_ = word->offer ? QString() : QString::fromStdString(word->text);
  entry_->setText(!text.isEmpty() ? text : word->offer ? QStringLiteral("1") : entry_start_);
  entry_->show();
  lay_out();
  entry_->setFocus(Qt::OtherFocusReason);
  if (text.isEmpty())
    entry_->selectAll();
  else
    emit entry_changed(blank, {}, std::nullopt);
  if (!text.isEmpty() && number) {
    const auto value = parse_entry(text.toStdString(), entry_->context());
    emit entry_changed(blank, text, value ? std::optional(*value) : std::nullopt);
  }
}

void SentenceBar::close_entry() {
  if (!entry_->isVisible()) return;
  entry_->clear_mark();
  entry_->hide();
  entry_blank_ = BlankId{};
  lay_out();
}

void SentenceBar::focus_blank(BlankId blank) {
  for (QWidget* word : words_)
    if (auto* button = qobject_cast<BlankButton*>(word); button && button->blank() == blank) {
      turn_to(blank);
      return button->setFocus(Qt::TabFocusReason);
    }
}

BlankId SentenceBar::blank_beside(BlankId blank, bool before) const {
  std::vector<BlankId> blanks;
  for (const Word& word : sentence_)
    if (word.blank) blanks.push_back(word.blank);
  if (before) std::reverse(blanks.begin(), blanks.end());
  if (!blank) return blanks.empty() ? BlankId{} : blanks.front();
  auto at = std::find(blanks.begin(), blanks.end(), blank);
  if (at != blanks.end()) ++at;
  return at == blanks.end() ? BlankId{} : *at;
}

bool SentenceBar::is_offer(BlankId blank) const {
  return std::any_of(sentence_.begin(), sentence_.end(), [&](const Word& w) { return w.blank == blank && w.offer; });
}

QPoint SentenceBar::place_below(BlankId blank) const {
  for (QWidget* word : words_)
    if (const auto* button = qobject_cast<BlankButton*>(word); button && button->blank() == blank)
      return button->mapToGlobal(QPoint(0, button->height()));
  return mapToGlobal(QPoint(kMargin, height()));
}

void SentenceBar::resizeEvent(QResizeEvent*) { lay_out(); }

void SentenceBar::paintEvent(QPaintEvent*) {
  const Theme& t = theme();
  QPainter p(this);
  p.fillRect(rect(), t.card);
  p.setPen(t.hair);
  p.drawLine(0, 0, width(), 0);
  p.drawLine(0, height() - 1, width(), height() - 1);
}

}  // namespace tack
