#include "core/scene/axes.h"

#include <fmt/format.h>

#include "core/math/split.h"
#include "core/scene/scene.h"

namespace tack {

std::string_view word_for(AxesKind axes) {
  switch (axes) {
    case AxesKind::Parent: return "Parent";
    case AxesKind::Local: return "Local";
    case AxesKind::View: return "View";
    case AxesKind::Part: return "Of part";
    default: return "World";
  }
}

std::string_view key_for(AxesKind axes) {
  switch (axes) {
    case AxesKind::Parent: return "parent";
    case AxesKind::Local: return "local";
    case AxesKind::View: return "view";
    case AxesKind::Part: return "of";
    default: return "world";
  }
}

Result<AxesKind> axes_from_key(std::string_view key) {
  for (const AxesKind axes : {AxesKind::World, AxesKind::Parent, AxesKind::Local})
    if (key == key_for(axes)) return axes;
  return fail(fmt::format("There are no axes named \"{}\".", key), "axes",
              "Use world, parent, local, {\"of\": \"Hub\"} or {\"view\": […]}.");
}

std::string axes_words(const Axes& axes, const Scene& scene) {
  if (axes.kind != AxesKind::Part) return std::string(word_for(axes.kind));
  const Part* part = scene.find(axes.part);
  return part ? part->name + "'s" : std::string("a part's that is gone,");
}

Mat3 true_axes(const Scene& scene, PartId part, const Axes& axes) {
  return squared_up(axes_frame(scene, part, axes).linear);
}

Affine axes_frame(const Scene& scene, PartId part, const Axes& axes) {
  switch (axes.kind) {
    case AxesKind::Parent: return parent_world_of(scene, part);
    case AxesKind::Local: return {squared_up(world_of(scene, part).linear), {}};
    case AxesKind::View: return {axes.view, {}};
    case AxesKind::Part: {
      const Part* other = scene.find(axes.part);
      if (!other) return {};
      const Affine world = world_of(scene, axes.part);
      return {squared_up(world.linear), world * other->placement.pivot};
    }
    default: return {};
  }
}

}  // namespace tack
