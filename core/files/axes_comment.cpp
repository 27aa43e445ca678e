#include "core/files/axes_comment.h"

#include <fmt/format.h>

#include "core/entry/units.h"
#include "core/files/scanner.h"

namespace tack {

constexpr std::string_view kBegin = "Tack Point: ", kMiddle = " up, 1 unit = ";

std::string axes_comment(const FileAxes& axes) {
  return fmt::format("{}{}{}{} mm", kBegin, axes.up == UpAxis::Y ? "Y" : "Z", kMiddle, full_digits(axes.unit));
}

std::optional<FileAxes> axes_in_comment(std::string_view line) {
  if (line.size() < kBegin.size()) return std::nullopt;
  const std::size_t at = line.find(kBegin);
  if (at == std::string_view::npos) return std::nullopt;
  line.remove_prefix(at + kBegin.size());
  if (line.empty() || (line[0] != 'Y' && line[0] != 'Z') || !line.substr(1).starts_with(kMiddle)) return std::nullopt;
  FileAxes axes;
  axes.up = line[0] == 'Y' ? UpAxis::Y : UpAxis::Z;
  line.remove_prefix(1 + kMiddle.size());
  if (!take_number(line, axes.unit) || !(axes.unit > 0)) return std::nullopt;
  return axes;
}

}  // namespace tack
