// Sentences: what a verb is about to do, or has done, in words with blanks.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace tack {

/// Names a blank of a verb: a row of its table (core/verbs/blank_row.h), and which of the several values that the row
/// may have – the axis, the pair.
struct BlankId {
  static constexpr std::uint8_t kNone = 255, kRemedy = 254;
  std::uint8_t row = kNone;
  std::uint8_t index = 0;

  /// Plain text between blanks has no blank.
  explicit operator bool() const { return row != kNone; }
  /// One of the ways out that a finished sentence offers; `index` says which.
  bool is_remedy() const { return row == kRemedy; }
  friend bool operator==(const BlankId&, const BlankId&) = default;
};

/// What a place is to its verb: drawn as From, as To, or as neither.
enum class Role : std::uint8_t { None, From, To };

struct Word {
  std::string text;
  BlankId blank;
  /// A blank that still waits for its value; `text` then says in short what for.
  bool empty = false;
  /// Something that may be added to what the sentence says; not a part of it yet.
  bool offer = false;
  bool typed = false;  ///< a number or a name, which is typed
  Role role = Role::None;
  std::string name;  ///< what the blank stands for: "Gap", "Second From", "Along X"

  friend bool operator==(const Word&, const Word&) = default;
};

using Sentence = std::vector<Word>;

/// About to be done, or done.
enum class Tense { Present, Past };

/// What the sentence says, as one line of plain text.
inline std::string plain_text(const Sentence& sentence) {
  std::string text;
  for (const Word& word : sentence)
    if (!word.offer) text += word.text;
  return text;
}

}  // namespace tack
