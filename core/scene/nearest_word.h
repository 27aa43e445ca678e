// Which of several words a misspelt one was meant to be.
#pragma once

#include <string_view>
#include <vector>

namespace tack {

/// The fewest letters to put in, take out or change so that one becomes the other (Levenshtein 1966). O(|a| · |b|).
std::size_t edit_distance(std::string_view a, std::string_view b);

/// The nearest of the words, when no more than a third of `text` (at least two letters) has to change; empty otherwise,
/// and for texts of more than 200 bytes.
std::string_view nearest_word(std::string_view text, const std::vector<std::string_view>& words);

}  // namespace tack
