// Writing a verb's sentence: plain text, and blanks that say themselves.
#pragma once

#include "core/verbs/blank_table.h"
#include "core/verbs/words.h"

namespace tack {

class Phrase {
 public:
  /// `left` is what the verb has not reached, as a sentence; empty when it has reached all, or has not been done.
  Phrase(VerbRef verb, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres, std::string left = {});

  /// The parts that the sentence is about, where they are others than `what`.
  void about(const std::vector<PartId>& parts);

  Phrase& say(std::string_view text);
  /// One or the other, as it has been done or will be.
  Phrase& say(std::string_view past, std::string_view present) { return say(past_ ? past : present); }

  /// A blank in its own words.
  Phrase& blank(std::string_view key, std::size_t index = 0);
  /// A blank in other words; `empty` while it waits.
  Phrase& blank(std::string_view key, std::size_t index, std::string text, bool empty = false);
  /// Three values with a dot between them: "1 mm · 2 mm · 3 mm".
  Phrase& three(std::string_view key);

  /// What may be added to what is said, behind the full stop.
  Phrase& offer(std::string_view key, std::size_t index, std::string text);

  bool past() const { return past_; }
  /// Whether it has been done (or would be) and has not come as far as was asked.
  bool fell_short() const { return !left_.empty(); }
  const Scene& scene() const { return said_.scene; }
  const LengthUnit& unit() const { return said_.unit; }
  /// The sentence, with what is left behind its full stop and before what may be added.
  Sentence done();

 private:
  Phrase& add(BlankId id, Word word);

  VerbRef verb_;
  bool past_;
  std::string left_;
  Said said_;
  int offers_ = 0;
  Sentence words_;
};

/// The sentence of a verb in its scene; in the past, the scene that it was done to. With the scene that it leaves
/// (`after`) what it has not reached is measured there and said.
Sentence sentence_of(VerbRef verb, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres,
                     const Scene* after = nullptr);

}  // namespace tack
