// The Heron Hall marble run: the scene that ships, in both of its states.
#pragma once

#include <filesystem>

#include "core/verbs/journal.h"

namespace tack::demo {

/// As delivered: most of it stands, four channels lie about in front of the board, with the ordinary faults (one part
/// turned by 89.7°, gaps of 0.4 mm).
Scene heron_hall_parts();
/// As it should be: what the steps of finish.json in `folder` (this one) make of heron-hall-parts.glb, the sign plate
/// and the side guard beside it. Every channel meets the next, and all ties hold.
Result<Scene> heron_hall(const std::filesystem::path& folder);
/// The same with those steps.
Result<Journal> heron_hall_steps(const std::filesystem::path& folder);

/// The sign plate's mesh in inches, Y up, its axes askew to its geometry by 13° (what sign-plate.obj has).
MeshData sign_plate_inches();
/// The hook rail's mesh in centimetres (what hook-rail.stl has, which cannot say so): a strip 60 long, 1.6 wide and 0.3
/// thick, bent up at each end into a hook of 1.8 outer radius that leaves 54.6 of it straight.
MeshData hook_rail_centimetres();

/// `parts` instances of some shapes on a lattice, about `triangles` triangles in all; for benchmarks.
Scene big_scene(int parts, long long triangles);

}  // namespace tack::demo
