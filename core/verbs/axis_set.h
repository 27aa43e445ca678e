// Which of the three axes something is about, in words, in letters and as a list to choose from.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>

#include "core/math/matrix.h"
#include "core/problem.h"

namespace tack {

using AxisSet = std::array<bool, 3>;

inline constexpr AxisSet kNoAxes{false, false, false};

/// The sets that can be chosen, all three first.
inline constexpr AxisSet kAxisSets[] = {{true, true, true},   {true, false, false}, {false, true, false},
                                        {false, false, true}, {true, true, false},  {true, false, true},
                                        {false, true, true}};

inline int count_of(const AxisSet& axes) { return int(axes[0]) + int(axes[1]) + int(axes[2]); }
/// The number of the one axis that is in the set; nullopt for none and for several.
std::optional<std::size_t> only_axis(const AxisSet& axes);
/// What choosing one more axis makes of a set: of all three that one alone; else it is put in, or taken out when it is
/// in. The last one taken out leaves all three.
AxisSet toggled(AxisSet axes, std::size_t axis);

/// "x", "x and z", "x, y and z"; "no axis" for none.
std::string axis_words(const AxisSet& axes);
/// The letters of the steps file: "xz".
std::string axis_letters(const AxisSet& axes);
/// The set that letters name, in any order; nullopt for anything but x, y and z, and for none.
std::optional<AxisSet> axes_from_letters(std::string_view letters);

/// How far `v` goes along each of the axes (unit columns): its products with them where they are square to each other,
/// else the lengths along them that add up to it. Axes that lie in a plane count as square.
Vec3 ways_along(const Vec3& v, const Mat3& axes);
/// The part of `v` along those of the axes (unit columns) that are in the set.
Vec3 along_axes(const Vec3& v, const Mat3& axes, const AxisSet& set);

}  // namespace tack
