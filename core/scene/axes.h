// Reference axes for numbers and handles.
#pragma once

#include <string>
#include <string_view>

#include "core/math/matrix.h"
#include "core/problem.h"
#include "core/scene/tack_address.h"

namespace tack {

/// All are orthonormal and in true millimetres but Parent, which has the parent's own units and may be skewed.
enum class AxesKind { World, Parent, Local, View, Part, Plane };

struct Axes {
  AxesKind kind = AxesKind::World;
  PartId part = kNoPart;  ///< Part: whose local axes; Plane: of which plane, kNoPart for the world's
  Mat3 view;              ///< View: its columns are right, up and towards the viewer, as the view stood then
  double squared_up = 0;  ///< View: by how much directions that were given were not square or not of length 1

  Axes() = default;
  Axes(AxesKind k) : kind(k) {}  // NOLINT(google-explicit-constructor): a kind alone is what most callers have
  friend bool operator==(const Axes&, const Axes&) = default;
};

/// Axes of another part.
inline Axes axes_of(PartId part) {
  Axes axes(AxesKind::Part);
  axes.part = part;
  return axes;
}
/// Axes of a plane; kNoPart: of the world's.
inline Axes axes_of_plane(PartId plane) {
  Axes axes(AxesKind::Plane);
  axes.part = plane;
  return axes;
}
/// Axes of a view; `frame` has right, up and towards the viewer as columns.
inline Axes axes_of_view(const Mat3& frame) {
  Axes axes(AxesKind::View);
  axes.view = frame;
  return axes;
}

/// "World", "Parent", "Local", "View", "Of part", "Plane": the words of the interface.
std::string_view word_for(AxesKind axes);
/// The key of the steps file: "world", "parent", "local"; "view", "of" and "plane" for the others.
std::string_view key_for(AxesKind axes);
/// World, parent and local by their keys; the others need more than a word.
Result<AxesKind> axes_from_key(std::string_view key);

class Scene;

/// "World", "Local", …, "Hub's", "plane Ramp's".
std::string axes_words(const Axes& axes, const Scene& scene);

/// A part's own axes: its world columns with the signs of a mirror taken out, normalised and squared up from x, then y.
/// Right-handed; the axes that its rotation in World axes reads, so those of the world for a part whose rotation reads
/// 0, 0, 0, mirrored or not. Error about 1e-16. Those of the world for a part that is gone.
Mat3 own_axes(const Scene& scene, PartId part);

/// From coordinates in the axes to the world, for one part. Columns of the linear part: for Local and Part own_axes();
/// for Parent the parent's world columns as they are; for View
/// the view's. The origin is the parent's for Parent, the other part's pivot for Part and Plane, the world's otherwise.
/// Axes of a part that is gone are those of the world.
Affine axes_frame(const Scene& scene, PartId part, const Axes& axes);

/// The directions of the axes in the world, each of unit length: square to each other but for those of a skewed parent.
/// Those of the world where a parent is flattened.
Mat3 unit_axes(const Scene& scene, PartId part, const Axes& axes);

/// The same axes as unit directions square to each other (columns, world): what handles are drawn along.
Mat3 true_axes(const Scene& scene, PartId part, const Axes& axes);

}  // namespace tack
