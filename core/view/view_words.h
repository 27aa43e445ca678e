// Where a view looks from, in words.
#pragma once

#include <string>

#include "core/view/view.h"

namespace tack {

/// "from above", "from the front": square at a side of the world, to 0.01°. Else the sides it sees: "front right,
/// above"; sides under 10° away from being seen end on are left out. A picture that is rolled by more than 0.01° says
/// so: "from above, rolled".
std::string view_words(const Camera& camera);

}  // namespace tack
