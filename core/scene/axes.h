// Reference axes for numbers.
#pragma once

#include <cstdint>
#include <string_view>

#include "core/math/matrix.h"
#include "core/problem.h"

namespace tack {

/// Names a part across all versions of a scene. 0 names none.
using PartId = std::uint32_t;
inline constexpr PartId kNoPart = 0;

/// World and Local are orthonormal and in true millimetres; Parent has the parent's own units and may be skewed.
enum class AxesKind { World, Parent, Local };

/// "World", "Parent", "Local": the words of the interface.
std::string_view word_for(AxesKind axes);
/// The key of the steps file: "world", "parent", "local".
std::string_view key_for(AxesKind axes);
Result<AxesKind> axes_from_key(std::string_view key);

class Scene;

/// The frame of the axes for one part: its columns are the axes in the world. For Local the part's world columns,
/// normalised and squared up from x, then y; for Parent the parent's world columns as they are.
Mat3 axes_frame(const Scene& scene, PartId part, AxesKind axes);

}  // namespace tack
