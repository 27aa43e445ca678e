#include "app/application.h"

#include <new>

namespace tack {

constexpr std::size_t kReserve = std::size_t{8} << 20;

Application::Application(int& argc, char** argv) : QApplication(argc, argv), reserve_(new char[kReserve]) {}

bool Application::notify(QObject* receiver, QEvent* event) {
  try {
    return QApplication::notify(receiver, event);
  } catch (const std::bad_alloc&) {
    reserve_.reset();
    if (without_memory) without_memory();
    reserve_.reset(new (std::nothrow) char[kReserve]);
    return false;
  }
}

}  // namespace tack
