// The planes, grids, views and following guides of a document, as its layout has them (docs/format.md).
#pragma once

#include <string>
#include <vector>

#include "core/scene/scene.h"
#include "core/verbs/json.h"

namespace tack {

/// Puts "plane", "grid", "views" and "follows" into the layout, each only where there is something to say.
void write_planes(Json& layout, const Scene& scene);
/// Takes them from a layout into the scene; what cannot be read is left out and said.
void read_planes(const Json& layout, Scene& scene, std::vector<std::string>& notes);
/// The members of the layout that these two know.
inline constexpr const char* kPlaneMembers[] = {"plane", "grid", "views", "follows"};

/// A grid as files have it; what is out of range reads as one that follows the zoom.
Json grid_to_json(const PlaneGrid& grid);
PlaneGrid grid_from_json(const Json& json);

}  // namespace tack
