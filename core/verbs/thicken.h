// A flat outline given a thickness: what Stretch does across a part that has none.
#pragma once

#include "core/verbs/lengthen.h"

namespace tack {

/// The mesh with a second side, `shift` away (mm of the mesh), and walls along its borders; faces look outwards
/// whichever side they looked to. Vertices keep their numbers on the side that is there, and so do triangles on the
/// side that they look to. Stored normals are left out: they have no meaning at the new edges. Fails for a mesh without
/// triangles.
Result<MeshPtr> thickened(const Mesh& mesh, const Vec3& shift);

/// Gives a part that is flat across `direction` (unit, world) a thickness of `by` mm, of which the share `held` (0 to
/// 1) lies before where it is along the direction, the rest beyond. Fails unless `by` > 0. What else its file had
/// beside its vertices (places in pictures, colours) goes with the old mesh; its colours stay. With MeshLinks::All its
/// instances get it too, else it has a mesh of its own.
Result<Scene> thickened_part(const Scene& scene, PartId part, const Vec3& direction, double by, double held,
                             MeshLinks links);

}  // namespace tack
