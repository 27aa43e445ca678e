#include "core/scene/nearest_word.h"

#include <algorithm>

namespace tack {

std::size_t edit_distance(std::string_view a, std::string_view b) {
  std::vector<std::size_t> row(b.size() + 1);
  for (std::size_t j = 0; j <= b.size(); ++j) row[j] = j;
  for (std::size_t i = 1; i <= a.size(); ++i) {
    std::size_t diagonal = row[0];
    row[0] = i;
    for (std::size_t j = 1; j <= b.size(); ++j) {
      const std::size_t above = row[j];
      row[j] = std::min({above + 1, row[j - 1] + 1, diagonal + (a[i - 1] == b[j - 1] ? 0 : 1)});
      diagonal = above;
    }
  }
  return row[b.size()];
}

std::string_view nearest_word(std::string_view text, const std::vector<std::string_view>& words) {
  constexpr std::size_t kLongest = 200;
  std::string_view nearest;
  std::size_t best = std::max<std::size_t>(3, text.size() / 3 + 1);
  if (text.size() > kLongest) return nearest;
  for (const std::string_view word : words) {
    if (word.size() > kLongest) continue;
    if (const std::size_t d = edit_distance(word, text); d < best) best = d, nearest = word;
  }
  return nearest;
}

}  // namespace tack
