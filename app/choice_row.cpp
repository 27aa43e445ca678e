#include "app/choice_row.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QRadioButton>

namespace tack {

ChoiceRow::ChoiceRow(const QStringList& words, QWidget* parent) : QWidget(parent), group_(this) {
  auto* line = new QHBoxLayout(this);
  line->setContentsMargins(0, 0, 0, 0);
  line->setSpacing(4);
  line->addStretch(1);
  for (const QString& word : words) add(word);
  connect(&group_, &QButtonGroup::idToggled, this, [this](int number, bool on) {
    if (!on) return;
    setFocusProxy(group_.button(number));
    emit changed(number);
  });
}

void ChoiceRow::add(const QString& word) {
  auto* button = new QRadioButton(word, this);
  const int number = static_cast<int>(group_.buttons().size());
  group_.addButton(button, number);
  static_cast<QHBoxLayout*>(layout())->insertWidget(number, button);
  if (number == 0) choose(0), setFocusProxy(button);
}

QString ChoiceRow::chosen_word() const {
  const QAbstractButton* button = group_.checkedButton();
  return button ? button->text() : QString();
}

void ChoiceRow::choose(int number) {
  if (QAbstractButton* button = group_.button(number)) button->setChecked(true);
}

void ChoiceRow::choose(const QString& word) {
  for (QAbstractButton* button : group_.buttons())
    if (button->text() == word) button->setChecked(true);
}

void ChoiceRow::keyPressEvent(QKeyEvent* event) {
  constexpr quint64 kPause = 1000;  // ms
  const QString letter = event->text();
  if (letter.isEmpty() || !letter.front().isLetter() || event->modifiers() & ~Qt::ShiftModifier)
    return QWidget::keyPressEvent(event);
  if (event->timestamp() > typed_at_ + kPause) typed_.clear();
  typed_at_ = event->timestamp();
  typed_ += letter;
  QAbstractButton* best = nullptr;
  for (QAbstractButton* button : group_.buttons()) {
    if (button->text().compare(typed_, Qt::CaseInsensitive) == 0) {
      best = button;
      break;
    }
    if (!best && button->text().startsWith(typed_, Qt::CaseInsensitive)) best = button;
  }
  if (best) best->setChecked(true), best->setFocus();
}

}  // namespace tack
