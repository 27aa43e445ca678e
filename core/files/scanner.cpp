#include "core/files/scanner.h"

#include <bit>
#include <charconv>
#include <cmath>
#include <cstdlib>
#include <cstring>

namespace tack {

Result<std::string_view> text_of(ByteView bytes) {
  std::string_view text(reinterpret_cast<const char*>(bytes.data()), bytes.size());
  using namespace std::string_view_literals;
  for (const std::string_view mark : {"\xFF\xFE"sv, "\xFE\xFF"sv, "\0\0\xFE\xFF"sv})
    if (text.starts_with(mark)) return fail("The text is written in UTF-32.", {}, "Save it as UTF-8 or ASCII.");
  if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
  return text;
}

std::optional<Bytes> from_utf16(ByteView bytes) {
  if (bytes.size() < 2 || !((bytes[0] == 0xFF && bytes[1] == 0xFE) || (bytes[0] == 0xFE && bytes[1] == 0xFF)))
    return std::nullopt;
  const std::size_t high = bytes[0] == 0xFE ? 0 : 1;
  const auto unit = [&](std::size_t at) -> std::uint32_t {
    return at + 1 < bytes.size() ? bytes[at + high] * 256u + bytes[at + 1 - high] : 0;
  };
  Bytes text;
  text.reserve(bytes.size() / 2);
  for (std::size_t at = 2; at + 1 < bytes.size(); at += 2) {
    std::uint32_t code = unit(at);
    const std::uint32_t low = unit(at + 2);
    if (code >= 0xD800 && code < 0xDC00 && low >= 0xDC00 && low < 0xE000) {
      code = 0x10000 + ((code - 0xD800) << 10) + (low - 0xDC00);
      at += 2;
    }
    const auto put = [&](std::uint32_t byte) { text.push_back(static_cast<std::uint8_t>(byte)); };
    if (code < 0x80) {
      put(code);
    } else if (code < 0x800) {
      put(0xC0 | code >> 6), put(0x80 | (code & 0x3F));
    } else if (code < 0x10000) {
      put(0xE0 | code >> 12), put(0x80 | (code >> 6 & 0x3F)), put(0x80 | (code & 0x3F));
    } else {
      put(0xF0 | code >> 18), put(0x80 | (code >> 12 & 0x3F)), put(0x80 | (code >> 6 & 0x3F)),
          put(0x80 | (code & 0x3F));
    }
  }
  return text;
}

std::string_view trim(std::string_view text) {
  while (!text.empty() && is_space(text.front())) text.remove_prefix(1);
  while (!text.empty() && is_space(text.back())) text.remove_suffix(1);
  return text;
}

std::string_view take_word(std::string_view& line) {
  const char *at = line.data(), *const end = at + line.size();
  while (at != end && is_space(*at)) ++at;
  const char* const begin = at;
  while (at != end && !is_space(*at)) ++at;
  line = {at, static_cast<std::size_t>(end - at)};
  return {begin, static_cast<std::size_t>(at - begin)};
}

namespace {

constexpr double kPowers[] = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,  1e10, 1e11,
                              1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};

// How many of eight characters, the first in the lowest byte, are digits before the first that is none.
int digits_at_front(std::uint64_t eight) {
  // A digit is 0x30 to 0x39: its upper half is 3, and still is when 6 is added.
  const std::uint64_t other =
      ((eight & 0xF0F0F0F0F0F0F0F0) | (((eight + 0x0606060606060606) & 0xF0F0F0F0F0F0F0F0) >> 4)) ^ 0x3333333333333333;
  return std::countr_zero(other) / 8;
}

// The number that the first `count` of eight characters are, up to seven, all of them digits (Lemire 2018): pairs, then
// fours, then eights are put together, all at once.
std::uint64_t digits_of(std::uint64_t eight, int count) {
  std::uint64_t d = (eight << (8 * (7 - count)) << 8) & 0x0F0F0F0F0F0F0F0F;
  d = (d * 10 + (d >> 8)) & 0x00FF00FF00FF00FF;
  d = (d * 100 + (d >> 16)) & 0x0000FFFF0000FFFF;
  return (d * 10000 + (d >> 32)) & 0xFFFFFFFF;
}

std::uint64_t eight_at(const char* at) {
  std::uint64_t eight = 0;
  std::memcpy(&eight, at, 8);
  return eight;
}

// What most numbers of a file are: up to seven digits, a point, up to seven digits, then white space. Null where there
// is no such number, or fewer than 24 characters are left.
const char* plain_number(const char* at, const char* end, double& value) {
  static_assert(std::endian::native == std::endian::little);
  constexpr double kTens[] = {1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7};
  constexpr std::uint64_t kWhole[] = {1, 10, 100, 1000, 10000, 100000, 1000000, 10000000};
  if (end - at < 24) return nullptr;
  const bool negative = *at == '-';
  at += negative;
  const std::uint64_t front = eight_at(at);
  const int whole = digits_at_front(front);
  if (whole == 8) return nullptr;
  std::uint64_t digits = digits_of(front, whole);
  at += whole;
  int part = 0;
  if (*at == '.') {
    ++at;
    const std::uint64_t back = eight_at(at);
    part = digits_at_front(back);
    if (part == 8) return nullptr;
    digits = digits * kWhole[part] + digits_of(back, part);
    at += part;
  }
  if (whole + part == 0 || !is_space(*at)) return nullptr;
  // Both exact, the quotient rounded once. Every other number may be negative: no jump is made for it.
  const double size = static_cast<double>(digits) / kTens[part];
  value = std::bit_cast<double>(std::bit_cast<std::uint64_t>(size) | std::uint64_t{negative} << 63);
  return at;
}

// Other numbers that files are full of: few digits and a small power of ten, both exact as doubles, so that their
// product or quotient is rounded once, to the nearest (Clinger 1990). Null where it is not one of them.
const char* short_number(const char* at, const char* end, double& value) {
  const bool negative = at != end && *at == '-';
  if (negative) ++at;
  std::uint64_t digits = 0;
  int count = 0, power = 0;
  const char* const first = at;
  for (; at != end && *at >= '0' && *at <= '9'; ++at, ++count)
    digits = digits * 10 + static_cast<std::uint64_t>(*at - '0');
  if (at != end && *at == '.') {
    ++at;
    for (; at != end && *at >= '0' && *at <= '9'; ++at, ++count, --power)
      digits = digits * 10 + static_cast<std::uint64_t>(*at - '0');
  }
  if (count == 0 || count > 18 || at - first > 19 || digits > (std::uint64_t{1} << 53)) return nullptr;
  if (at != end && (*at == 'e' || *at == 'E')) {
    const char* exponent = at + 1;
    const bool down = exponent != end && *exponent == '-';
    if (exponent != end && (*exponent == '-' || *exponent == '+')) ++exponent;
    int size = 0;
    const char* const begin = exponent;
    for (; exponent != end && *exponent >= '0' && *exponent <= '9' && size < 1000; ++exponent)
      size = size * 10 + (*exponent - '0');
    if (exponent == begin) return nullptr;
    power += down ? -size : size;
    at = exponent;
  }
  if (power < -22 || power > 22) return nullptr;
  const auto whole = static_cast<double>(digits);
  value = power < 0 ? whole / kPowers[-power] : whole * kPowers[power];
  if (negative) value = -value;
  return at;
}

}  // namespace

bool take_number(std::string_view& line, double& value) {
  const char *at = line.data(), *const end = at + line.size();
  while (at != end && is_space(*at)) ++at;
  if (at != end && *at == '+') ++at;
  if (const char* stop = plain_number(at, end, value)) {
    line = {stop, static_cast<std::size_t>(end - stop)};
    return true;
  }
  if (const char* stop = short_number(at, end, value); stop && (stop == end || is_space(*stop))) {
    line = {stop, static_cast<std::size_t>(end - stop)};
    return true;
  }
  const auto [stop, error] = std::from_chars(at, end, value);
  if (error == std::errc::result_out_of_range) {
    // Too large is refused; what is too small is nothing.
    value = std::strtod(std::string(at, stop).c_str(), nullptr);
    if (!(std::abs(value) < 1)) return false;
  } else if (error != std::errc{} || !std::isfinite(value)) {
    return false;
  }
  if (stop != end && !is_space(*stop)) return false;
  line = {stop, static_cast<std::size_t>(end - stop)};
  return true;
}

std::string_view without_comment(std::string_view line) {
  for (std::size_t at = line.find('#'); at != std::string_view::npos; at = line.find('#', at + 1))
    if (at == 0 || is_space(line[at - 1])) return line.substr(0, at);
  return line;
}

std::string lower(std::string_view text) {
  std::string small(text);
  for (char& c : small)
    if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
  return small;
}

std::optional<std::string_view> Lines::next() {
  if (rest_.empty()) return std::nullopt;
  // Few files end their lines with a CR alone: the LF is looked for first, by the C library's fast search.
  const void* found = std::memchr(rest_.data(), '\n', rest_.size());
  std::size_t end = found ? static_cast<std::size_t>(static_cast<const char*>(found) - rest_.data()) : rest_.size();
  std::size_t length = end;
  if (const void* cr = std::memchr(rest_.data(), '\r', end)) {
    length = static_cast<std::size_t>(static_cast<const char*>(cr) - rest_.data());
    end = length + 1 < rest_.size() && rest_[length + 1] == '\n' ? length + 1 : length;
  }
  const std::string_view line = rest_.substr(0, length);
  rest_.remove_prefix(std::min(end + 1, rest_.size()));
  ++number_;
  return line;
}

std::optional<std::string_view> Lines::next_continued() {
  auto line = next();
  const auto goes_on = [](std::string_view text) {
    while (!text.empty() && is_space(text.back())) text.remove_suffix(1);
    return text.ends_with('\\');
  };
  if (!line || !goes_on(*line)) return line;
  joined_.clear();
  while (line && goes_on(*line)) {
    joined_.append(line->substr(0, line->rfind('\\')));
    joined_ += ' ';
    line = next();
  }
  if (line) joined_.append(*line);
  return joined_;
}

}  // namespace tack
