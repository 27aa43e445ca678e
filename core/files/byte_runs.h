// Bytes that are put together for a file without being in memory a second time.
#pragma once

#include <functional>

#include "core/files/bytes.h"

namespace tack {

/// Bytes behind each other, run by run: what lies somewhere already stays there and is held, what is new is copied in.
/// Copies hold the same bytes; what is put behind one of them later is not in the others.
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

  /// Puts a copy of the bytes behind what is there.
  void copy(ByteView bytes);
  /// Puts bytes behind what is there where they lie; nobody may change them as long as `bytes.keep()` holds them. A few
  /// are copied all the same, which takes less than a run does.
  void hold(const Blob& bytes);
  void hold(const ByteRuns& others);
  /// Zeros up to a multiple of `step`.
  void pad(std::size_t step);

  /// `length` bytes from `at` on; the caller has checked that they are there. Copied only where they are in several
  /// runs; what was put in at once is in one.
  Blob slice(std::size_t at, std::size_t length) const;
  /// Gives all runs in order, until `take` says no; whether it took them all.
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
