#include "core/verbs/phrase.h"

namespace tack {
namespace {

Word plain(std::string_view text) { return {std::string(text), {}, false, false, false, Role::None, {}}; }

}  // namespace

Phrase::Phrase(VerbRef verb, const Scene& scene, Tense tense, const LengthUnit& unit, std::string left)
    : verb_(verb), past_(tense == Tense::Past), left_(std::move(left)), said_{scene, unit, {}, kNoPart} {
  if (verb.table->what) about(*verb.table->what(verb.verb));
}

void Phrase::about(const std::vector<PartId>& parts) {
  said_.what = parts;
  said_.own = parts.size() == 1 ? parts.front() : kNoPart;
}

Phrase& Phrase::say(std::string_view text) {
  words_.push_back(plain(text));
  return *this;
}

Phrase& Phrase::blank(std::string_view key, std::size_t index) {
  const BlankId id = verb_.table->blank(key, index);
  const AnyRow* row = verb_.table->row(id);
  return add(id, row ? word_of(slot_at(verb_, id), row->facts(), said_) : Word{});
}

Phrase& Phrase::blank(std::string_view key, std::size_t index, std::string text, bool empty) {
  Word word = plain(text);
  word.empty = empty;
  const BlankId id = verb_.table->blank(key, index);
  const Slot slot = slot_at(verb_, id);
  word.typed = is_number(slot) || is_words(slot);
  return add(id, std::move(word));
}

Phrase& Phrase::three(std::string_view key) {
  blank(key, 0).say(" · ").blank(key, 1).say(" · ");
  return blank(key, 2);
}

Phrase& Phrase::offer(std::string_view key, std::size_t index, std::string text) {
  Word gap = plain(offers_++ == 0 ? "  " : " · ");
  gap.offer = true;
  words_.push_back(std::move(gap));
  blank(key, index, std::move(text));
  words_.back().offer = true;
  return *this;
}

Sentence Phrase::done() {
  if (!left_.empty())
    words_.insert(std::find_if(words_.begin(), words_.end(), [](const Word& w) { return w.offer; }),
                  plain("  " + left_));
  return std::move(words_);
}

Phrase& Phrase::add(BlankId id, Word word) {
  word.blank = id;
  if (const AnyRow* row = verb_.table->row(id)) {
    word.role = row->role;
    word.name = name_of_blank(verb_, id);
  }
  words_.push_back(std::move(word));
  return *this;
}

Sentence sentence_of(VerbRef verb, const Scene& scene, Tense tense, const LengthUnit& unit, const Scene* after) {
  const AnyTable& t = *verb.table;
  Phrase phrase(verb, scene, tense, unit,
                after && t.left ? t.left(t.of, verb.verb, scene, *after, unit) : std::string());
  t.sentence(t.of, verb.verb, phrase);
  return phrase.done();
}

}  // namespace tack
