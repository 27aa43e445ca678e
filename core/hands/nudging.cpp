#include "core/hands/nudging.h"

#include "core/hands/hand.h"
#include "core/math/degrees.h"

namespace tack {
namespace {

constexpr double kNudgeShare = 0.72;  // of a ruler's length
constexpr double kArcWay = 0.62;      // along it, where its arc crosses
constexpr double kArcSwing = 22;      // degrees to either side
constexpr double kArcEdgeOn = 0.139;  // the sine of 8°

}  // namespace

VerbId verb_of_nudge(const Handle& handle) {
  switch (handle.kind) {
    case Handle::Kind::Ruler: return id_of<Move>;
    case Handle::Kind::Arc: return id_of<Rotate>;
    default: return id_of<Scale>;
  }
}

std::vector<Handle> nudge_handles(const Move& move, const Rotate& rotate, const Scale& scale, const Scene& scene,
                                  const View& view) {
  std::vector<Handle> all;
  for (Handle& handle : handles_of(move, scene, view)) {
    if (handle.kind != Handle::Kind::Ruler) continue;
    handle.line = {handle.at, handle.at + (handle.line.back() - handle.at) * kNudgeShare};
    all.push_back(std::move(handle));
  }
  const std::vector<Handle> turns = handles_of(rotate, scene, view);
  if (!turns.empty() && !rotate.what.empty()) {
    const Vec3 centre = turns.front().at;
    const double scale_there = view.pixels_per_mm(centre);
    const Mat3 frame = true_axes(scene, rotate.what.front(), rotate.axes);
    const Vec3 sight = view.perspective ? normalized(view.eye - centre) : view.back();
    for (std::size_t i = 0; i < 3 && scale_there > 0; ++i) {
      const std::size_t round = (i + 2) % 3;
      const Vec3 axis = frame.column[round], along = frame.column[i];
      if (std::abs(dot(axis, sight)) < kArcEdgeOn) continue;
      const double radius = kRulerPixels * kNudgeShare * kArcWay / scale_there;
      const SinCos a = sin_cos_degrees(-kArcSwing);
      const Vec3 start = along * a.cos + cross(axis, along) * a.sin;
      Handle arc{Handle::Kind::Arc, {}, centre, arc_points(centre, axis, start * radius, 2 * kArcSwing), {}};
      arc.axes[round] = true;
      all.push_back(std::move(arc));
    }
  }
  for (Handle& handle : handles_of(scale, scene, view))
    if (handle.kind == Handle::Kind::End || handle.kind == Handle::Kind::Value) all.push_back(std::move(handle));
  return all;
}

}  // namespace tack
