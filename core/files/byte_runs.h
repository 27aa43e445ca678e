// Bytes on their way into a file, which are not held in memory a second time.
#pragma once

#include <functional>

#include "core/files/bytes.h"

namespace tack {

/// A sequence of bytes in runs: those that lie somewhere already are held there, new ones are copied in. A copy of it
/// holds the same bytes; what is added to either later is not in the other.
class ByteRuns {
 public:
  ByteRuns() = default;
  ByteRuns(ByteRuns&&) noexcept = default;
  ByteRuns& operator=(ByteRuns&&) noexcept = default;
  ByteRuns(const ByteRuns& other) : runs_(other.runs_), size_(other.size_) {}  // each begins blocks of its own
  ByteRuns& operator=(const ByteRuns& other) { return *this = ByteRuns(other); }
  explicit ByteRuns(const Blob& bytes) { hold(bytes); }

  std::size_t size() const { return size_; }
  bool empty() const { return size_ == 0; }

  /// Adds a copy of the bytes at the end.
  void copy(ByteView bytes);
  /// Adds bytes without copying them; `bytes.keep()` holds them, and nobody may change them meanwhile. Without a keep
  /// the caller sees to it that they outlive this. Fewer than 512 are copied: a run of its own would cost more.
  void hold(const Blob& bytes);
  void hold(const ByteRuns& others);
  /// Adds zeros up to a multiple of `step`, which is not 0.
  void pad(std::size_t step);

  /// `length` bytes from `at` on; the caller has checked that they are there. They are copied only where they lie in
  /// several runs; what was added in one call lies in one.
  Blob slice(std::size_t at, std::size_t length) const;
  /// Calls `take` with each run in order until it returns false. Returns whether it took them all.
  bool each(const std::function<bool(ByteView)>& take) const;
  /// All of them in one; not copied where they are one run.
  Blob whole() const { return slice(0, size_); }

 private:
  struct Run {
    std::size_t at;  // where it begins among all
    Blob bytes;
  };

  std::vector<Run> runs_;
  std::size_t size_ = 0;
  std::shared_ptr<Bytes> block_;  // what is copied goes here; it never grows beyond its room, so nothing moves
};

/// A copy of all of them.
Bytes bytes_of(const ByteRuns& runs);

}  // namespace tack
