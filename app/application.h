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

  /// Told once when there was no memory for what an event asked for. That is not done; scenes are values, so nothing is
  /// left half done.
  std::function<void()> without_memory;

 private:
  std::unique_ptr<char[]> reserve_;  // let go first, so that it can be said
};

}  // namespace tack
