#include "app/sentence_bar.h"

#include <QKeyEvent>
#include <QPainter>
#include <QStyle>

#include "app/theme.h"

namespace tack {
namespace {

constexpr double kSize = 1.22;
constexpr int kMargin = 18, kLine = 27;

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
  return {metrics.horizontalAdvance(text()) + 8, kLine};
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
  p.drawText(rect().adjusted(4, 0, -4, -1), Qt::AlignVCenter | Qt::AlignLeft, this->text());
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

SentenceBar::SentenceBar(QWidget* parent) : QWidget(parent), entry_(new EntryEdit(this)), back_(new QToolButton(this)) {
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
      emit entry_changed(entry_blank_, value ? std::optional(*value) : std::nullopt);
    }
    lay_out();
  });
}

QSize SentenceBar::sizeHint() const { return {800, std::max(2, lines_) * kLine + 10}; }
QSize SentenceBar::minimumSizeHint() const { return {200, std::max(2, lines_) * kLine + 10}; }

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
  sentence_ = whole;
  const Sentence sentence = in_pieces(whole);
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
}

void SentenceBar::lay_out() {
  QFont small = ui_font(0.96);
  back_->setFont(small);
  const int right = width() - kMargin;
  back_->adjustSize();
  back_->move(right - back_->width(), (height() - back_->height()) / 2);
  constexpr int kHanging = 12;  // a comma after the last word of a line stands in the margin
  const int limit = back_->x() - kHanging;
  // First the lines, then their places: one line stands in the middle, two fill the space.
  struct Spot {
    QWidget* widget;
    int x, line, width;
  };
  std::vector<Spot> places;
  int x = kMargin, line = 0;
  for (QWidget* word : words_) {
    auto* button = qobject_cast<BlankButton*>(word);
    int w = 0;
    if (button) {
      w = button->sizeHint().width();
      if (entry_->isVisible() && button->blank() == entry_blank_)
        w = std::max(w, QFontMetrics(entry_->font()).horizontalAdvance(entry_->text()) + 26), w = std::max(w, 76);
    } else {
      w = QFontMetrics(word->font()).horizontalAdvance(static_cast<QLabel*>(word)->text());
    }
    // A line may break before a blank or a word, not before a comma, a dot or a sign that stands alone.
    const auto* label = qobject_cast<QLabel*>(word);
    const QString text = label ? label->text() : QString();
    const bool breaks = button || std::any_of(text.begin(), text.end(), [](QChar c) { return c.isLetterOrNumber(); });
    if (x + w > limit && x > kMargin && breaks) {
      x = kMargin;
      ++line;
      // The spaces before a word that begins a line stand in the margin.
      if (label) {
        qsizetype spaces = 0;
        while (spaces < text.size() && text[spaces] == ' ') ++spaces;
        x -= QFontMetrics(label->font()).horizontalAdvance(text.left(spaces));
      }
    }
    places.push_back({word, x, line, w});
    x += w;
  }
  const int lines = line + 1, top = std::max(2, (height() - lines * kLine) / 2);
  // Two lines are reserved; a sentence that needs more gets them.
  if (lines != lines_) {
    lines_ = lines;
    setMinimumHeight(minimumSizeHint().height());
    updateGeometry();
  }
  for (const Spot& p : places) {
    const int y = top + p.line * kLine;
    p.widget->setGeometry(p.x, y, std::min(p.width, limit + kHanging - p.x), kLine);
    auto* button = qobject_cast<BlankButton*>(p.widget);
    if (button && entry_->isVisible() && button->blank() == entry_blank_) {
      entry_->setGeometry(p.x, y + 1, p.width, kLine - 2);
      entry_->raise();
    }
  }
  update();
}

void SentenceBar::open_entry(BlankId blank, const QString& text) {
  const auto word = std::find_if(sentence_.begin(), sentence_.end(), [&](const Word& w) { return w.blank == blank; });
  if (word == sentence_.end()) return;
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
    emit entry_changed(blank, std::nullopt);
  if (!text.isEmpty() && number) {
    const auto value = parse_entry(text.toStdString(), entry_->context());
    emit entry_changed(blank, value ? std::optional(*value) : std::nullopt);
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
    if (auto* button = qobject_cast<BlankButton*>(word); button && button->blank() == blank)
      return button->setFocus(Qt::TabFocusReason);
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
