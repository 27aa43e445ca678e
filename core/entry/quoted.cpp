#include "core/entry/quoted.h"

namespace tack {

std::string in_quotes(std::string_view path) {
  std::string text = "\"";
  for (const char c : path) {
    if (c == '"') text += '\\';
    text += c;
  }
  return text + "\"";
}

std::optional<std::string> out_of_quotes(std::string_view text, std::size_t& at) {
  std::string path;
  std::size_t i = at + 1;
  for (; i < text.size() && text[i] != '"'; ++i) {
    if (text[i] == '\\' && i + 1 < text.size()) {
      if (text[i + 1] == '\\') path += text[i];
      if (text[i + 1] == '\\' || text[i + 1] == '"') ++i;
    }
    path += text[i];
  }
  if (i >= text.size()) return std::nullopt;
  at = i + 1;
  return path;
}

}  // namespace tack
