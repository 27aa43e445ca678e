// Paths of parts in quotes, as addresses and typed values have them.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace tack {

/// The path in quotes: \" stands for a quote in a name.
std::string in_quotes(std::string_view path);

/// The path whose opening quote is text[at]; `at` then stands behind the closing one. Backslashes that the path itself
/// escapes with stay in it, and do not escape the quote behind them. Nullopt, leaving `at` alone, where no quote closes
/// it.
std::optional<std::string> out_of_quotes(std::string_view text, std::size_t& at);

}  // namespace tack
