#include "core/scene/axes.h"

#include <fmt/format.h>

#include "core/math/split.h"
#include "core/scene/scene.h"

namespace tack {

std::string_view word_for(AxesKind axes) {
  switch (axes) {
    case AxesKind::Parent: return "Parent";
    case AxesKind::Local: return "Local";
    default: return "World";
  }
}

std::string_view key_for(AxesKind axes) {
  switch (axes) {
    case AxesKind::Parent: return "parent";
    case AxesKind::Local: return "local";
    default: return "world";
  }
}

Result<AxesKind> axes_from_key(std::string_view key) {
  for (const AxesKind axes : {AxesKind::World, AxesKind::Parent, AxesKind::Local})
    if (key == key_for(axes)) return axes;
  return fail(fmt::format("There are no axes named \"{}\".", key), "axes", "Use world, parent or local.");
}

Mat3 axes_frame(const Scene& scene, PartId part, AxesKind axes) {
  switch (axes) {
    case AxesKind::Parent: return parent_world_of(scene, part).linear;
    case AxesKind::Local: return squared_up(world_of(scene, part).linear);
    default: return {};
  }
}

}  // namespace tack
