#include "cli/answer.h"

namespace tack {

void print_json(const Json& json) {
  const std::string text = json.dump(2, ' ', false, Json::error_handler_t::replace);
  // JSON escapes control characters itself, but neither those of the second half of Latin 1 nor marks that turn the
  // direction of writing; inside its strings an escape means the same.
  std::string safe;
  safe.reserve(text.size());
  for (std::size_t i = 0; i < text.size();) {
    const auto lead = static_cast<unsigned char>(text[i]);
    const std::size_t bytes = lead < 0x80 ? 1 : lead < 0xE0 ? 2 : lead < 0xF0 ? 3 : 4;
    const std::string_view character = std::string_view(text).substr(i, bytes);
    if (bytes == 1 || printable(character) == character) {
      safe += character;
    } else {
      unsigned code = lead & (0xFFu >> (bytes + 1));
      for (std::size_t k = 1; k < character.size(); ++k)
        code = code << 6 | (static_cast<unsigned char>(character[k]) & 0x3Fu);
      safe += fmt::format("\\u{:04x}", code);
    }
    i += bytes;
  }
  fmt::print("{}\n", safe);
}

}  // namespace tack
