// Text that comes from files, made fit to be shown.
#pragma once

#include <string>
#include <string_view>

namespace tack {

/// `text` as it may be shown on a terminal, in a log or on a label: control characters (line breaks too), bytes that
/// are no UTF-8, and marks that turn the direction of writing are written as \x1B, \xFF, \u202E. All else stays. Longer
/// than `most` bytes, its middle is left out, with "…" in its place; no character is cut in two.
std::string printable(std::string_view text, std::size_t most = 400);

/// The first `most` bytes at most, no character cut in two.
std::string shortened(std::string_view text, std::size_t most);

/// The text as UTF-8: each byte that is none is read as Latin 1.
std::string as_utf8(std::string_view text);

/// Whether the text is valid UTF-8: no overlong forms, no surrogates, nothing beyond U+10FFFF (RFC 3629).
bool is_utf8(std::string_view text);

}  // namespace tack
