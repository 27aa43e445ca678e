// Walking through a text file, line by line and word by word, without copying it.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/files/bytes.h"

namespace tack {

/// The lines of a text; ends of lines may be LF, CR LF or CR.
class Lines {
 public:
  explicit Lines(ByteView bytes) : rest_(reinterpret_cast<const char*>(bytes.data()), bytes.size()) {}

  /// The next line without its end, or nullopt after the last one.
  std::optional<std::string_view> next();
  /// The same, with lines that end in a backslash joined to the one that follows.
  std::optional<std::string_view> next_continued();
  /// The number of the line last given, from 1.
  std::size_t number() const { return number_; }
  /// What has not been read yet.
  std::string_view rest() const { return rest_; }

 private:
  std::string_view rest_;
  std::string joined_;
  std::size_t number_ = 0;
};

std::string_view trim(std::string_view text);
/// Takes the next word (up to white space) off the front of `line`; empty at its end.
std::string_view take_word(std::string_view& line);
/// Takes a finite number off the front of `line`, read to the nearest double; false, and `line` unchanged, when there
/// is none.
bool take_number(std::string_view& line, double& value);

}  // namespace tack
