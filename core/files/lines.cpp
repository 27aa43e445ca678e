#include "core/files/lines.h"

#include <charconv>
#include <cmath>

namespace tack {
namespace {

bool is_space(char c) { return c == ' ' || c == '\t' || c == '\r' || c == '\n' || c == '\f' || c == '\v'; }

}  // namespace

std::optional<std::string_view> Lines::next() {
  if (rest_.empty()) return std::nullopt;
  const std::size_t end = rest_.find_first_of("\r\n");
  const std::string_view line = rest_.substr(0, end);
  if (end == std::string_view::npos) {
    rest_ = {};
  } else {
    const bool pair = rest_[end] == '\r' && end + 1 < rest_.size() && rest_[end + 1] == '\n';
    rest_.remove_prefix(end + (pair ? 2 : 1));
  }
  ++number_;
  return line;
}

std::optional<std::string_view> Lines::next_continued() {
  auto line = next();
  if (!line || !line->ends_with('\\')) return line;
  joined_.clear();
  while (line && line->ends_with('\\')) {
    joined_.append(line->substr(0, line->size() - 1));
    joined_ += ' ';
    line = next();
  }
  if (line) joined_.append(*line);
  return joined_;
}

std::string_view trim(std::string_view text) {
  while (!text.empty() && is_space(text.front())) text.remove_prefix(1);
  while (!text.empty() && is_space(text.back())) text.remove_suffix(1);
  return text;
}

std::string_view take_word(std::string_view& line) {
  while (!line.empty() && is_space(line.front())) line.remove_prefix(1);
  std::size_t end = 0;
  while (end < line.size() && !is_space(line[end])) ++end;
  const std::string_view word = line.substr(0, end);
  line.remove_prefix(end);
  return word;
}

bool take_number(std::string_view& line, double& value) {
  std::string_view rest = line;
  while (!rest.empty() && is_space(rest.front())) rest.remove_prefix(1);
  if (rest.starts_with('+')) rest.remove_prefix(1);
  const auto [end, error] = std::from_chars(rest.data(), rest.data() + rest.size(), value);
  if (error != std::errc{} || !std::isfinite(value)) return false;
  rest.remove_prefix(static_cast<std::size_t>(end - rest.data()));
  if (!rest.empty() && !is_space(rest.front())) return false;
  line = rest;
  return true;
}

}  // namespace tack
