// The application: what finds no memory while an event is handled is said, and does not end the process.
#pragma once

#include <QApplication>
#include <functional>
#include <memory>

namespace tack {

class Application : public QApplication {
 public:
  Application(int& argc, char** argv);
  bool notify(QObject* receiver, QEvent* event) override;

  /// Called each time there was no memory for what an event asked for. A step is done or not, for scenes are values;
  /// what shows it may be behind until the next change. Qt promises nothing for exceptions that pass through it: this
  /// is better than the end, no more.
  std::function<void()> without_memory;

 private:
  std::unique_ptr<char[]> reserve_;  // let go first, so that it can be said
};

}  // namespace tack
