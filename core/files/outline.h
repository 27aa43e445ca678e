// What a document holds, mesh by mesh only counted: enough to see that what was written of a scene is the scene.
#pragma once

#include "core/files/bytes.h"
#include "core/scene/scene.h"

namespace tack {

struct Outline {
  struct OfPart {
    std::string name;
    Affine world;
    std::uint64_t children = 0;
    std::uint64_t vertices = 0, triangles = 0;  ///< of its mesh; both 0 without one
    bool see_through = false, has_mesh = false;
  };
  std::vector<OfPart> parts;  ///< in the order of the tree
  std::vector<std::string> colours;
  std::optional<std::string> plane;  ///< the one in use, unless that is World
  std::vector<NamedView> views;
  PlaneGrid grid;
  std::uint64_t ties = 0;
};

Outline outline_of(const Scene& scene);

/// An outline as bytes, for handing it from one process to another.
Bytes pack(const Outline& outline);
/// Reads an outline back; fails on bytes of any other kind. Its numbers are taken as they are, also those that are
/// none: they agree with no scene.
Result<Outline> unpack_outline(ByteView bytes);

/// What of a scene is not in another that was read back from what was written of it, as a sentence; empty when all is:
/// the same parts in the same order with their names, places (within 1e-9 of the part's size and distance), meshes by
/// counts, the colours by name, the plane in use, grid, views, and ties by count.
std::string difference_between(const Scene& scene, const Outline& read);
std::string difference_between(const Scene& scene, const Scene& read);

}  // namespace tack
