// Ties in a document: their JSON, and reading it with every value checked.
#pragma once

#include "core/scene/scene.h"
#include "core/verbs/json.h"

namespace tack {

/// The ties of a scene as `TACKPOINT_layout` has them (docs/format.md); an empty list when there are none.
Json ties_to_json(const Scene& scene);

/// The ties in such a list; parts are looked up in `scene`. What cannot be read, or holds on a part that is not there,
/// is left out, and a sentence about it goes to `notes`.
std::vector<Tie> ties_from_json(const Json& list, const Scene& scene, std::vector<std::string>& notes);

}  // namespace tack
