// What a file of ours in a format without units says of itself in a comment, so that it comes back as it stood.
#pragma once

#include <optional>
#include <string>
#include <string_view>

#include "core/files/delivery.h"

namespace tack {

/// "Tack Point: Z up, 1 unit = 25.4 mm"
std::string axes_comment(const FileAxes& axes);
/// The same out of a line, wherever it stands in it; nullopt where it does not.
std::optional<FileAxes> axes_in_comment(std::string_view line);

}  // namespace tack
