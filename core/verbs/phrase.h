// Writing a verb's sentence: plain text, and blanks that say themselves.
#pragma once

#include "core/verbs/blank_table.h"
#include "core/verbs/words.h"

namespace tack {

template <class V>
class Phrase {
 public:
  /// `left` is what the verb has not reached, as a sentence; empty when it has reached all, or has not been done.
  Phrase(const V& verb, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres, std::string left = {})
      : verb_(verb), past_(tense == Tense::Past), left_(std::move(left)), said_{scene, unit, {}, kNoPart} {
    if constexpr (requires { verb.what; }) about(verb.what);
  }

  /// The parts that the sentence is about, where they are others than `what`.
  void about(const std::vector<PartId>& parts) {
    said_.what = parts;
    said_.own = parts.size() == 1 ? parts.front() : kNoPart;
  }

  Phrase& say(std::string_view text) {
    words_.push_back(plain(text));
    return *this;
  }
  /// One or the other, as it has been done or will be.
  Phrase& say(std::string_view past, std::string_view present) { return say(past_ ? past : present); }

  /// A blank in its own words.
  Phrase& blank(std::string_view key, std::size_t index = 0) {
    const BlankId id = blank_of<V>(key, index);
    const Row<V>* row = row_of<V>(id);
    return add(id, row ? word_of(slot_at(verb_, id), facts_of(*row), said_) : Word{});
  }
  /// A blank in other words; `empty` while it waits.
  Phrase& blank(std::string_view key, std::size_t index, std::string text, bool empty = false) {
    Word word = plain(text);
    word.empty = empty;
    const BlankId id = blank_of<V>(key, index);
    const Slot slot = slot_at(verb_, id);
    word.typed = is_number(slot) || is_words(slot);
    return add(id, std::move(word));
  }
  /// Three values with a dot between them: "1 mm · 2 mm · 3 mm".
  Phrase& three(std::string_view key) {
    blank(key, 0).say(" · ").blank(key, 1).say(" · ");
    return blank(key, 2);
  }

  /// What may be added to what is said, behind the full stop.
  Phrase& offer(std::string_view key, std::size_t index, std::string text) {
    Word gap = plain(offers_++ == 0 ? "  " : " · ");
    gap.offer = true;
    words_.push_back(std::move(gap));
    blank(key, index, std::move(text));
    words_.back().offer = true;
    return *this;
  }

  bool past() const { return past_; }
  /// Whether it has been done (or would be) and has not come as far as was asked.
  bool fell_short() const { return !left_.empty(); }
  const Scene& scene() const { return said_.scene; }
  const LengthUnit& unit() const { return said_.unit; }
  /// The sentence, with what is left behind its full stop and before what may be added.
  Sentence done() {
    if (!left_.empty())
      words_.insert(std::find_if(words_.begin(), words_.end(), [](const Word& w) { return w.offer; }),
                    plain("  " + left_));
    return std::move(words_);
  }

 private:
  static Word plain(std::string_view text) { return {std::string(text), {}, false, false, false, Role::None, {}}; }

  Phrase& add(BlankId id, Word word) {
    const Row<V>* row = row_of<V>(id);
    word.blank = id;
    if (row) {
      word.role = row->role;
      word.name = name_of_blank(verb_, id);
    }
    words_.push_back(std::move(word));
    return *this;
  }

  const V& verb_;
  bool past_;
  std::string left_;
  Said said_;
  int offers_ = 0;
  Sentence words_;
};

/// The sentence of a verb in its scene; in the past, the scene that it was done to. With the scene that it leaves
/// (`after`) what it has not reached is measured there and said.
template <class V>
Sentence sentence_of(const V& verb, const Scene& scene, Tense tense, const LengthUnit& unit = kMillimetres,
                     const Scene* after = nullptr) {
  const Table<V>& t = table<V>();
  Phrase<V> phrase(verb, scene, tense, unit, after && t.left ? t.left(verb, scene, *after, unit) : std::string());
  t.sentence(phrase, verb);
  return phrase.done();
}

}  // namespace tack
