// Reading the text formats: statements, words and numbers, at the speed at which bytes can be looked at.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/files/beside.h"

namespace tack {

/// The bytes without a byte order mark; fails for UTF-16, which from_utf16() turns into UTF-8 before, and for UTF-32.
Result<std::string_view> text_of(ByteView bytes);
/// UTF-8 of a text that begins with the byte order mark of UTF-16; nullopt for any other.
std::optional<Bytes> from_utf16(ByteView bytes);

inline bool is_space(char c) { return c == ' ' || (c >= '\t' && c <= '\r'); }
std::string_view trim(std::string_view text);
/// Takes the next word (up to white space) off the front of `line`; empty at its end.
std::string_view take_word(std::string_view& line);
/// Takes a finite number off the front of `line`, read to the nearest double; a leading plus is allowed, and what is
/// too small for a double is 0. False, and `line` unchanged, when there is none.
bool take_number(std::string_view& line, double& value);
/// The text up to a `#` that begins a word.
std::string_view without_comment(std::string_view line);
/// In small letters, as far as they are ASCII.
std::string lower(std::string_view text);

/// The lines of a text; ends of lines may be LF, CR LF or CR.
class Lines {
 public:
  explicit Lines(std::string_view text) : text_(text), rest_(text) {}

  /// The next line without its end, or nullopt after the last one.
  std::optional<std::string_view> next();
  /// The same, with lines that end in a backslash (white space behind it or not) joined to the one that follows.
  std::optional<std::string_view> next_continued();
  /// The number of the line last given, from 1.
  std::size_t number() const { return number_; }
  /// What has not been read yet.
  std::string_view rest() const { return rest_; }
  /// How much has been read, 0 to 1.
  double share() const {
    return text_.empty() ? 1 : 1 - static_cast<double>(rest_.size()) / static_cast<double>(text_.size());
  }

 private:
  std::string_view text_, rest_;
  std::string joined_;
  std::size_t number_ = 0;
};

}  // namespace tack
