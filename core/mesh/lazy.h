// A value derived from immutable data: made once, by whoever asks first, and visible to everybody after that.
#pragma once

#include <atomic>
#include <functional>
#include <memory>
#include <mutex>

namespace tack {

/// Does the work so that, while parts of it wait for each other, this thread takes up none of anybody else's.
void work_isolated(const std::function<void()>& work);

template <typename T>
class Lazy {
 public:
  /// The value, made by `make()` on the calling thread when nobody has made it yet; concurrent callers wait for it.
  template <typename Make>
  const T& get(Make&& make) const {
    // Isolated: a task of somebody else's loop might come back here and wait for what this thread is making.
    std::call_once(once_, [&] {
      work_isolated([&] { value_ = std::make_unique<const T>(make()); });
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
