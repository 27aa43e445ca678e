#include "core/verbs/axis_set.h"

namespace tack {

std::optional<std::size_t> only_axis(const AxisSet& axes) {
  if (count_of(axes) != 1) return std::nullopt;
  return axes[0] ? 0 : axes[1] ? 1 : 2;
}

AxisSet toggled(AxisSet axes, std::size_t axis) {
  const AxisSet& all = kAxisSets[0];
  if (axes == all) axes = kNoAxes;
  axes[axis] = !axes[axis];
  return axes == kNoAxes ? all : axes;
}

std::string axis_words(const AxisSet& axes) {
  std::string words;
  int left = count_of(axes);
  for (std::size_t i = 0; i < 3; ++i) {
    if (!axes[i]) continue;
    words += "xyz"[i];
    if (--left > 0) words += left == 1 ? " and " : ", ";
  }
  return words.empty() ? "no axis" : words;
}

std::string axis_letters(const AxisSet& axes) {
  std::string letters;
  for (std::size_t i = 0; i < 3; ++i)
    if (axes[i]) letters += "xyz"[i];
  return letters;
}

std::optional<AxisSet> axes_from_letters(std::string_view letters) {
  AxisSet axes = kNoAxes;
  for (const char c : letters) {
    if (c < 'x' || c > 'z') return std::nullopt;
    axes[static_cast<std::size_t>(c - 'x')] = true;
  }
  return letters.empty() ? std::nullopt : std::optional(axes);
}

Vec3 ways_along(const Vec3& v, const Mat3& axes) {
  const auto& [x, y, z] = axes.column;
  const bool square = std::max({std::abs(dot(x, y)), std::abs(dot(y, z)), std::abs(dot(x, z))}) < 1e-12;
  const auto back = square ? std::nullopt : inverse(axes);
  return back ? *back * v : Vec3{dot(x, v), dot(y, v), dot(z, v)};
}

Vec3 along_axes(const Vec3& v, const Mat3& axes, const AxisSet& set) {
  if (count_of(set) == 3) return v;
  const Vec3 ways = ways_along(v, axes);
  Vec3 result;
  for (int i = 0; i < 3; ++i)
    if (set[static_cast<std::size_t>(i)]) result += axes.column[i] * ways[i];
  return result;
}

}  // namespace tack
