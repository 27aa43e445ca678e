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
    case AxesKind::Plane: return "Plane";
    default: return "World";
  }
}

std::string_view key_for(AxesKind axes) {
  switch (axes) {
    case AxesKind::Parent: return "parent";
    case AxesKind::Local: return "local";
    case AxesKind::View: return "view";
    case AxesKind::Part: return "of";
    case AxesKind::Plane: return "plane";
    default: return "world";
  }
}

Result<AxesKind> axes_from_key(std::string_view key) {
  for (const AxesKind axes : {AxesKind::World, AxesKind::Parent, AxesKind::Local})
    if (key == key_for(axes)) return axes;
  return fail(fmt::format("There are no axes named \"{}\".", key), "axes",
              "Use world, parent, local, plane, {\"plane\": \"Ramp\"}, {\"of\": \"Hub\"} or {\"view\": […]}.");
}

std::string axes_words(const Axes& axes, const Scene& scene) {
  if (axes.kind == AxesKind::View && axes.squared_up > 0)
    return fmt::format("View (squared up by {:.1g})", axes.squared_up);
  if (axes.kind == AxesKind::Plane && axes.part == kNoPart) return "World";
  if (axes.kind != AxesKind::Part && axes.kind != AxesKind::Plane) return std::string(word_for(axes.kind));
  const Part* part = scene.find(axes.part);
  if (part && axes.kind == AxesKind::Plane) return "plane " + printable(part->name) + "'s";
  return part ? printable(part->name) + "'s" : std::string("a part's that is gone,");
}

Mat3 true_axes(const Scene& scene, PartId part, const Axes& axes) {
  return squared_up(axes_frame(scene, part, axes).linear);
}

Mat3 unit_axes(const Scene& scene, PartId part, const Axes& axes) {
  const Mat3 frame = axes_frame(scene, part, axes).linear;
  Mat3 unit;
  for (std::size_t i = 0; i < 3; ++i) unit.column[i] = normalized(frame.column[i]);
  return determinant(unit) != 0 ? unit : Mat3{};
}

Mat3 own_axes(const Scene& scene, PartId id) {
  const Part* part = scene.find(id);
  return part ? proper_turn(world_of(scene, id).linear, signs_of(part->placement.scale)) : Mat3{};
}

Affine axes_frame(const Scene& scene, PartId part, const Axes& axes) {
  switch (axes.kind) {
    case AxesKind::Parent: return scene.contains(part) ? parent_world_of(scene, part) : Affine{};
    case AxesKind::Local: return {own_axes(scene, part), {}};
    case AxesKind::View: return {axes.view, {}};
    case AxesKind::Plane: return plane_frame(scene, axes.part);
    case AxesKind::Part: {
      const Part* other = scene.find(axes.part);
      if (!other) return {};
      return {own_axes(scene, axes.part), world_of(scene, axes.part) * other->placement.pivot};
    }
    default: return {};
  }
}

}  // namespace tack
