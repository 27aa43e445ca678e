// A value derived from immutable data: made once, by whoever asks first, and visible to everybody after that.
#pragma once

#include <atomic>
#include <memory>
#include <mutex>

namespace tack {

template <typename T>
class Lazy {
 public:
  /// The value, made by `make()` on the calling thread when nobody has made it yet; concurrent callers wait for it.
  template <typename Make>
  const T& get(Make&& make) const {
    std::call_once(once_, [&] {
      value_ = std::make_unique<const T>(make());
      ready_.store(value_.get(), std::memory_order_release);
    });
    return *value_;
  }

  /// The value if it has been made, else nullptr. Never blocks.
  const T* peek() const { return ready_.load(std::memory_order_acquire); }

 private:
  mutable std::once_flag once_;
  mutable std::unique_ptr<const T> value_;
  mutable std::atomic<const T*> ready_{nullptr};
};

}  // namespace tack
