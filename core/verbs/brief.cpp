#include "core/verbs/brief.h"

#include "core/verbs/words.h"

namespace tack {
namespace {

constexpr std::size_t kValues = 3;

// The letter of a value that is one of three: "Along X" is X.
std::string letter_of(const std::string& name) {
  const std::size_t n = name.size();
  const bool last_alone = n >= 2 && name[n - 2] == ' ' && name[n - 1] >= 'X' && name[n - 1] <= 'Z';
  return last_alone ? std::string(1, name[n - 1]) : std::string();
}

bool says_something(const Verb& verb, const Word& word) {
  if (takes_words(verb, word.blank)) return true;
  const auto value = number_kind(verb, word.blank) ? value_in(verb, word.blank) : std::nullopt;
  return value && !(is_change(verb, word.blank) && *value == 0);
}

}  // namespace

std::string Brief::line() const {
  std::string text = what;
  if (!to.empty()) text += (text.empty() ? "→ " : " → ") + to;
  if (!value.empty()) text += (text.empty() ? "" : " · ") + value;
  return text;
}

Brief brief_of(const Step& step, const Scene& before) {
  Brief brief;
  const std::vector<PartId> parts = parts_of(step.verb, before);
  // What is made is told by its name and its dimensions.
  if (std::holds_alternative<MakeShape>(step.verb) && step.made.size() == 1 && step.after.contains(step.made.front())) {
    const Part& made = step.after.part(step.made.front());
    brief.what = names_of(step.after, step.made);
    if (made.shape) brief.value = dimensions_words(made.shape->shape, kMillimetres);
    return brief;
  }
  // What is taken is told by what it is called, and by how far it reaches.
  if (const auto* take = std::get_if<Take>(&step.verb); take && !step.made.empty()) {
    brief.what = names_of(step.after, step.made);
    if (is_said(take->reach)) brief.value = show_length(take->reach.value, kMillimetres, 4).text;
    return brief;
  }
  // What lays something is told by that; what takes a plane into use by the plane.
  if (parts.empty() && (std::holds_alternative<LayPlane>(step.verb) || std::holds_alternative<AddGuide>(step.verb)) &&
      !step.made.empty()) {
    brief.what = names_of(step.after, step.made);
    return brief;
  }
  if (const auto* use = std::get_if<UsePlane>(&step.verb)) {
    brief.what = plane_words(before, use->plane) + " in use";
    return brief;
  }
  if (parts.empty()) {
    brief.what = plain_text(step.words);
    if (brief.what.ends_with('.')) brief.what.pop_back();
    return brief;
  }
  brief.what = names_of(before, parts);
  if (const TackAddress* to = place_in(step.verb, blank_of(step.verb, "to")))
    brief.to = is_on_part(*to) ? name_of(before, to->part) : place_words(before, *to);
  else
    for (const Word& word : step.words)
      if (const std::string_view key = key_of_blank(step.verb, word.blank);
          word.blank && !word.empty && !word.typed && (key == "to" || key == "with"))
        brief.to = word.text;
  std::size_t count = 0;
  for (const Word& word : step.words) {
    if (!word.blank || word.offer || word.blank.is_remedy() || !word.typed || !says_something(step.verb, word))
      continue;
    if (count++ == kValues) break;
    const std::string letter = letter_of(word.name);
    brief.value += (brief.value.empty() ? "" : " · ") + (letter.empty() ? "" : letter + " ") + word.text;
  }
  return brief;
}

}  // namespace tack
