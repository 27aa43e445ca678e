// Numbers on their way to the clipboard and back, so that they go into and out of a spreadsheet.
#pragma once

#include "core/entry/entry.h"

namespace tack {

/// Three numbers as text with tabs between them: mm in `unit`, degrees, factors. Every number has the digits it needs
/// to come back to the last bit; a length that its unit cannot give back so is written in millimetres with "mm".
std::string copied_text(const std::array<double, 3>& values, EntryKind kind, const LengthUnit& unit);

/// Reads three entries with tabs, semicolons or line ends between them; an empty one leaves its component alone. Fails,
/// saying which one is bad, for more or fewer than three.
tl::expected<std::array<std::optional<double>, 3>, std::string> pasted_numbers(std::string_view text,
                                                                               const EntryContext& context);

}  // namespace tack
