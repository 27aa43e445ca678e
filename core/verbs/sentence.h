// Sentences: what a verb is about to do, or has done, in words with blanks.
#pragma once

#include <string>
#include <vector>

namespace tack {

/// What a blank stands for; None is plain text between blanks.
enum class Blank {
  None,
  What,
  From,
  To,
  Facing,
  Gap,
  Roll,
  X,
  Y,
  Z,
  Axes,
  Angle,
  Round,
  About,
  Hold,
  SizeX,
  SizeY,
  SizeZ,
  FactorX,
  FactorY,
  FactorZ,
  Evenly,
  Like,
  LikeAxes,
  OtherWay,
  At,
  Turned,
  Copies,
  Remedy
};

struct Word {
  std::string text;
  Blank blank = Blank::None;
  /// A blank that still waits for its value; `text` then says in short what for.
  bool empty = false;

  friend bool operator==(const Word&, const Word&) = default;
};

using Sentence = std::vector<Word>;

/// About to be done, or done.
enum class Tense { Present, Past };

/// The sentence as one line of plain text.
inline std::string plain_text(const Sentence& sentence) {
  std::string text;
  for (const Word& word : sentence) text += word.text;
  return text;
}

}  // namespace tack
