#include "core/printable.h"

#include <algorithm>
#include <array>
#include <cstdint>

namespace tack {
namespace {

// One character off the front of `text`: how many bytes, and which; 0 bytes where they are no UTF-8.
struct Character {
  std::size_t bytes = 0;
  std::uint32_t code = 0;
};

Character first_of(std::string_view text) {
  const auto byte = [&](std::size_t i) { return static_cast<std::uint8_t>(text[i]); };
  const std::uint8_t lead = byte(0);
  if (lead < 0x80) return {1, lead};
  const std::size_t bytes = lead >= 0xF0 ? 4 : lead >= 0xE0 ? 3 : 2;
  if (lead < 0xC2 || lead > 0xF4 || text.size() < bytes) return {};
  std::uint32_t code = lead & (0xFFu >> (bytes + 1));
  for (std::size_t i = 1; i < bytes; ++i) {
    if ((byte(i) & 0xC0) != 0x80) return {};
    code = code << 6 | (byte(i) & 0x3Fu);
  }
  constexpr std::array<std::uint32_t, 5> kLeast{0, 0, 0x80, 0x800, 0x10000};
  if (code < kLeast[bytes] || code > 0x10FFFF || (code >= 0xD800 && code <= 0xDFFF)) return {};
  return {bytes, code};
}

bool turns_writing(std::uint32_t code) {
  return code == 0x061C || code == 0x200E || code == 0x200F || (code >= 0x202A && code <= 0x202E) ||
         (code >= 0x2066 && code <= 0x2069) || code == 0x2028 || code == 0x2029 || code == 0xFEFF;
}

void append_hex(std::string& out, std::string_view prefix, std::uint32_t value, int digits) {
  out += prefix;
  for (int i = digits - 1; i >= 0; --i) out += "0123456789ABCDEF"[value >> (4 * i) & 0xF];
}

// The last place at or before `at` where a character begins.
std::size_t whole_before(std::string_view text, std::size_t at) {
  while (at > 0 && at < text.size() && (static_cast<std::uint8_t>(text[at]) & 0xC0) == 0x80) --at;
  return at;
}

std::string escaped(std::string_view text) {
  std::string out;
  out.reserve(text.size());
  while (!text.empty()) {
    const auto [bytes, code] = first_of(text);
    if (bytes == 0) {
      append_hex(out, "\\x", static_cast<std::uint8_t>(text[0]), 2);
      text.remove_prefix(1);
      continue;
    }
    if (code < 0x20 || (code >= 0x7F && code < 0xA0))
      append_hex(out, "\\x", code, 2);
    else if (turns_writing(code))
      append_hex(out, "\\u", code, 4);
    else
      out += text.substr(0, bytes);
    text.remove_prefix(bytes);
  }
  return out;
}

}  // namespace

std::string printable(std::string_view text, std::size_t most) {
  if (text.size() <= most) return escaped(text);
  const std::size_t head = whole_before(text, most * 2 / 3), tail = whole_before(text, text.size() - most / 3);
  return escaped(text.substr(0, head)) + "…" + escaped(text.substr(tail));
}

std::string shortened(std::string_view text, std::size_t most) {
  return std::string(text.size() <= most ? text : text.substr(0, whole_before(text, most)));
}

std::string as_utf8(std::string_view text) {
  std::string out;
  while (!text.empty()) {
    const std::size_t bytes = first_of(text).bytes;
    if (bytes > 0) {
      out += text.substr(0, bytes);
    } else {
      const auto byte = static_cast<std::uint8_t>(text[0]);
      out += static_cast<char>(0xC0 | byte >> 6);
      out += static_cast<char>(0x80 | (byte & 0x3F));
    }
    text.remove_prefix(std::max<std::size_t>(bytes, 1));
  }
  return out;
}

bool is_utf8(std::string_view text) {
  while (!text.empty()) {
    const std::size_t bytes = first_of(text).bytes;
    if (bytes == 0) return false;
    text.remove_prefix(bytes);
  }
  return true;
}

}  // namespace tack
