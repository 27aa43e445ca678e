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
  TurnX,
  TurnY,
  TurnZ,
  SkewX,
  SkewY,
  SkewZ,
  BoxX,  ///< fractions of a box
  BoxY,
  BoxZ,
  Evenly,
  Like,
  LikeAxes,
  OtherWay,
  At,
  Turned,
  Copies,
  Linked,
  Shown,  ///< shown or hidden, locked or not
  Keep,   ///< what a new parent leaves: the place or the numbers
  Parent,
  Baked,
  Fit1,  ///< the places that a box is fitted to
  Fit2,
  Fit3,
  Name,
  Colour,
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
