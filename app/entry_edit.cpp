#include "app/entry_edit.h"

#include <QInputMethodEvent>
#include <QKeyEvent>
#include <QTextCharFormat>
#include <QWheelEvent>

#include "app/theme.h"

namespace tack {

EntryEdit::EntryEdit(QWidget* parent) : QLineEdit(parent) {
  setFont(number_font());
  connect(this, &QLineEdit::textEdited, this, [this] { clear_mark(); });
}

std::optional<double> EntryEdit::read() {
  const std::string typed = text().toStdString();
  if (check) {
    const auto error = check(text());
    if (!error) return 0.0;
    mark(*error);
    return std::nullopt;
  }
  const auto value = parse_entry(typed, context ? context() : EntryContext{});
  if (!value) {
    mark(value.error());
    return std::nullopt;
  }
  return *value;
}

void EntryEdit::mark(const EntryError& error) {
  marked_ = true;
  const std::string typed = text().toStdString();
  const auto position = [&](std::size_t byte) {
    return static_cast<int>(QString::fromUtf8(typed.data(), static_cast<int>(std::min(byte, typed.size()))).size());
  };
  const int from = position(error.at), to = std::max(from + 1, position(error.at + error.length));
  QTextCharFormat format;
  format.setUnderlineStyle(QTextCharFormat::SpellCheckUnderline);
  format.setUnderlineColor(theme().wrong);
  format.setForeground(theme().wrong);
  // QLineEdit takes text formats only the way an input method gives them.
  const QList<QInputMethodEvent::Attribute> attributes{
      {QInputMethodEvent::TextFormat, from - cursorPosition(), to - from, format}};
  QInputMethodEvent event(QString(), attributes);
  QLineEdit::event(&event);
  const QString why = QString::fromStdString(error.why);
  setToolTip(why);
  setAccessibleDescription(why);
  emit wrong(why);
}

void EntryEdit::clear_mark() {
  if (!marked_) return;
  marked_ = false;
  QInputMethodEvent event(QString(), {});
  QLineEdit::event(&event);
  setToolTip(QString());
  setAccessibleDescription(QString());
  emit wrong(QString());
}

bool EntryEdit::event(QEvent* event) {
  // Keys that type or edit belong to the entry, Ctrl+Z, C, V and X included: the line edit claims those itself. What
  // does neither – Ctrl+S, F6 – still reaches the window.
  if (event->type() == QEvent::ShortcutOverride) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    for (const int own :
         {Qt::Key_Escape, Qt::Key_Return, Qt::Key_Enter, Qt::Key_Tab, Qt::Key_Backtab, Qt::Key_Up, Qt::Key_Down})
      if (key == own) return event->accept(), true;
  }
  if (event->type() == QEvent::KeyPress) {
    const auto* key = static_cast<QKeyEvent*>(event);
    if (key->key() == Qt::Key_Tab || key->key() == Qt::Key_Backtab) {
      back_ = key->key() == Qt::Key_Backtab;
      emit accepted(true);
      return property("keeps_tab").toBool() ? true : QLineEdit::event(event);
    }
  }
  return QLineEdit::event(event);
}

void EntryEdit::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_Return:
    case Qt::Key_Enter: emit accepted(false); return;
    case Qt::Key_Escape: emit left_by_escape(); return;
    case Qt::Key_Up: emit nudged(1); return;
    case Qt::Key_Down: emit nudged(-1); return;
    default: QLineEdit::keyPressEvent(event);
  }
}

void EntryEdit::wheelEvent(QWheelEvent* event) {
  // Only where the artist is: a wheel that passes over a field must not change it.
  const int steps = event->angleDelta().y() / 120;
  if (!hasFocus() || steps == 0) return event->ignore();
  emit nudged(steps);
  event->accept();
}

}  // namespace tack
