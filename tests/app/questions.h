// Answering the questions that the window asks.
#pragma once

#include <catch2/catch.hpp>

#include <QtTest>
#include <QtWidgets>

#include "core/files/bytes.h"

namespace tack::test {

// Presses a button of the question that comes next.
inline void answer(const QString& box, const QString& button, int tries = 4000) {
  QTimer::singleShot(20, [box, button, tries] {
    auto* question = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
    if (!question && tries > 0) return answer(box, button, tries - 1);
    if (!question) {
      FAIL_CHECK("no question came up");
      return;
    }
    CHECK(question->objectName() == box);
    for (QAbstractButton* b : question->buttons())
      if (b->text() == button) return b->click();
    FAIL_CHECK("there is no button " << button.toStdString());
    question->reject();
  });
}

inline void answer_file(const QString& name, int tries = 4000) {
  QTimer::singleShot(20, [name, tries] {
    auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
    if (!dialog && tries > 0) return answer_file(name, tries - 1);
    if (!dialog) {
      FAIL_CHECK("no file dialog came up");
      return;
    }
    if (name.isEmpty()) return dialog->reject();
    dialog->findChild<QLineEdit*>("fileNameEdit")->setText(name);
    QMetaObject::invokeMethod(dialog, "accept");
  });
}

/// What is in a file; empty when it is not there.
inline std::string text_in(const std::string& path) {
  const auto bytes = read_file(path);
  return bytes ? std::string(bytes->begin(), bytes->end()) : std::string();
}

}  // namespace tack::test
