// Sentences: what a verb is about to do, or has done, in words with blanks.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace tack {

/// What a blank stands for; None is plain text between blanks.
enum class Blank {
  None,
  What,
  From,
  To,
  From2,  ///< the places of further pairs, each From before its To
  To2,
  From3,
  To3,
  From4,
  To4,
  From5,
  To5,
  From6,
  To6,
  Another,  ///< the pair that may be added
  Sharing,  ///< the first pair exactly, or all sharing the error
  Sized,    ///< whether the size may change
  Matched,  ///< what a roll counts from
  Limits,   ///< along which axes it is moved
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
  Tied,     ///< whether a meeting is remembered
  Chain,    ///< how many more in a chain
  Mover,    ///< which side of a tie moves
  Slide,    ///< what a place slides along
  SlideOn,  ///< whose edge, face or normal that is
  GuideKind,
  Name,
  Colour,
  Remedy
};

/// How many pairs of places a sentence has blanks for; those of a longer meeting are only counted.
inline constexpr std::size_t kMostPairs = 6;
/// The blanks of the pair with this number, from 0.
inline Blank from_blank(std::size_t pair) {
  return pair == 0 ? Blank::From : static_cast<Blank>(static_cast<std::size_t>(Blank::From2) + 2 * (pair - 1));
}
inline Blank to_blank(std::size_t pair) {
  return pair == 0 ? Blank::To : static_cast<Blank>(static_cast<std::size_t>(Blank::To2) + 2 * (pair - 1));
}
/// Which pair a blank is the From or the To of, from 0; nullopt for other blanks.
inline std::optional<std::size_t> pair_of(Blank blank) {
  if (blank == Blank::From || blank == Blank::To) return 0;
  if (blank < Blank::From2 || blank > Blank::To6) return std::nullopt;
  return (static_cast<std::size_t>(blank) - static_cast<std::size_t>(Blank::From2)) / 2 + 1;
}
inline bool is_from(Blank blank) {
  return blank == Blank::From || (blank >= Blank::From2 && blank <= Blank::To6 &&
                                  (static_cast<std::size_t>(blank) - static_cast<std::size_t>(Blank::From2)) % 2 == 0);
}
inline bool is_to(Blank blank) { return pair_of(blank) && !is_from(blank); }

struct Word {
  std::string text;
  Blank blank = Blank::None;
  /// A blank that still waits for its value; `text` then says in short what for.
  bool empty = false;
  /// Something that may be added to what the sentence says; not a part of it yet.
  bool offer = false;

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
