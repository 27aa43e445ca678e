// Shapes for the generator: closed meshes with known numbers, in mm.
#pragma once

#include "core/math/matrix.h"
#include "core/mesh/mesh.h"

namespace tack::demo {

struct Point2 {
  double x, y;
};

/// A box from `low` to `high`.
MeshData box(const Vec3& low, const Vec3& high);
/// A profile of (radius, z) points from bottom to top turned about Z; radius 0 closes it in a point. The profile's ends
/// are joined to the axis, or to each other for a ring.
MeshData lathe(const std::vector<Point2>& profile, int segments, bool ring = false);
/// A polygon in (y, z), counter-clockwise seen from +x, drawn along x from 0 to `length`.
MeshData extrude(const std::vector<Point2>& polygon, double length);
/// The same polygon swept by 90° about a vertical axis `radius` to the left (+y) of its start; it begins at the origin
/// looking along +x. Mirrored (to the right) when `left` is false.
MeshData quarter_curve(const std::vector<Point2>& polygon, double radius, int steps, bool left);
MeshData sphere(double radius, int segments, int rings);

/// Everything of `b`, moved by `by`, added to `a`.
void add(MeshData& a, const MeshData& b, const Affine& by = {});
/// The mesh with every position mapped.
MeshData moved(MeshData mesh, const Affine& by);

/// Letters of a plate made of bars, `height` mm high, standing out along +z from the plane z = 0, starting at the
/// origin.
MeshData letters(const std::string& text, double height, double depth);

}  // namespace tack::demo
