// Which vertices, edges and faces are under the pointer, or in a rectangle of the picture.
#pragma once

#include "core/catch/catch_scene.h"
#include "core/mesh/elements.h"

namespace tack {

/// Elements of one part.
struct ElementsOf {
  PartId part = kNoPart;
  Elements elements;

  friend bool operator==(const ElementsOf&, const ElementsOf&) = default;
};

/// The element that a click at (x, y) means: the nearest vertex that is seen within `radius` pixels, the nearest edge
/// of the face under the pointer or of an outline within it, the face under the pointer (with the triangle that makes
/// it four-sided). nullopt for none. Groups, guides and patches have none, and neither has a mesh of which `known` says
/// that it is not to be asked yet for what is next to what.
std::optional<ElementsOf> element_at(const CatchScene& scene, const View& view, double x, double y, ElementKind kind,
                                     const std::function<bool(const MeshPtr&)>& known = {}, double radius = 12);

/// Everything of a kind whose vertices are all inside the rectangle (pixels) and, unless `through`, whose middle is
/// seen. By part. O(vertices in it), and a ray for each element.
std::vector<ElementsOf> elements_in_rectangle(const CatchScene& scene, const View& view, double left, double top,
                                              double right, double bottom, ElementKind kind, bool through);

}  // namespace tack
