// A piece of a value that most leave as it usually is.
#pragma once

#include <memory>

namespace tack {

/// A T that takes a pointer's room until it is changed, and that copies share from then on.
template <typename T>
class Seldom {
 public:
  /// T{} until it was changed. Valid until the next change() of this value, or its end.
  const T& operator*() const {
    static const T kUsual{};
    return held_ ? *held_ : kUsual;
  }
  const T* operator->() const { return &**this; }

  /// The T to be changed, which nobody shares; valid until this value is copied. Makes a copy at each call.
  T& change() {
    held_ = std::make_shared<T>(**this);
    return *held_;
  }

 private:
  std::shared_ptr<T> held_;
};

}  // namespace tack
