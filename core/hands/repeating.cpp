#include "core/hands/repeating.h"

#include <fmt/format.h>

#include "core/math/degrees.h"
#include "core/math/split.h"

namespace tack {
namespace {

using RepeatWay = Repeat::Way;

constexpr double kEndLength = 16, kStepperSize = 9, kStepperOff = 22;  // pixels

// The middle of what is repeated: where its rulers begin.
std::optional<Vec3> anchor_of(const Repeat& r, const Scene& scene) {
  const auto parts = topmost(scene, r.what);
  if (parts.empty()) return std::nullopt;
  const Box box = box_along(scene, parts, Mat3{});
  return box.empty() ? world_of(scene, parts.front()) * scene.part(parts.front()).placement.pivot : box.centre();
}

struct RepeatRuler {
  Vec3 from, to, step;
  int axis = -1;   // hue
  int number = 0;  // which count it shows
  int count = 2;
};

std::vector<RepeatRuler> rulers_of(const Repeat& r, const Scene& scene) {
  std::vector<RepeatRuler> rulers;
  const auto anchor = anchor_of(r, scene);
  if (!anchor || r.way == RepeatWay::Round || r.way == RepeatWay::Mirror) return rulers;
  const auto steps = steps_of(r, scene);
  if (!steps) return rulers;
  for (int i = 0; i < 3; ++i) {
    const auto k = static_cast<std::size_t>(i);
    const int count = r.way == RepeatWay::Grid ? r.counts[k] : i == 0 ? r.count : 1;
    if (count < 2) continue;
    rulers.push_back({*anchor, *anchor + (*steps)[k] * (count - 1), (*steps)[k],
                      r.way == RepeatWay::Grid  ? i
                      : r.way == RepeatWay::Row ? r.axis
                                                : -1,
                      i, count});
  }
  return rulers;
}

// From the axis to what is repeated, square to it; nullopt where it lies on the axis.
std::optional<Vec3> arm_of(const Repeat& r, const Scene& scene, const RepeatAxis& axis) {
  const auto anchor = anchor_of(r, scene);
  if (!anchor) return std::nullopt;
  const Vec3 way = *anchor - axis.at, arm = way - axis.direction * dot(axis.direction, way);
  return length(arm) > 1e-9 * (1 + length(way)) ? std::optional(arm) : std::nullopt;
}

Handle stepper(const View& view, const Vec3& beside, bool more, int number) {
  const double pixel = 1 / std::max(1e-300, view.pixels_per_mm(beside));
  const Vec3 at = beside + view.right() * ((more ? 1 : -1) * 12 * pixel) + view.up() * (kStepperOff * pixel);
  Handle handle{more ? Handle::Kind::More : Handle::Kind::Less, {}, at, {}, {}};
  const Vec3 side = view.right() * (kStepperSize * pixel);
  handle.line = {at - side, at + side};
  handle.box = number;
  return handle;
}

}  // namespace

std::vector<Handle> repeat_handles(const Repeat& r, const Scene& scene, const View& view) {
  std::vector<Handle> handles;
  if (r.what.empty()) return handles;
  for (const RepeatRuler& ruler : rulers_of(r, scene)) {
    if (!view.project(ruler.to)) continue;
    const double whole = distance(ruler.from, ruler.to);
    const double reach = std::min(whole * 0.3, kEndLength / std::max(1e-300, view.pixels_per_mm(ruler.to)));
    const Vec3 way = (ruler.to - ruler.from) * (1 / whole);
    if (r.way != RepeatWay::UpTo) {
      Handle end{Handle::Kind::End, {}, ruler.to, {ruler.to, ruler.to - way * reach}, {0.5, 0.5, 0.5}};
      if (ruler.axis >= 0) end.axes[static_cast<std::size_t>(ruler.axis)] = true;
      end.box = ruler.number;
      handles.push_back(end);
    }
    for (const bool more : {false, true}) handles.push_back(stepper(view, ruler.to, more, ruler.number));
  }
  if (const auto sweep = sweep_of(r, scene)) {
    const Handle arc = sweep_handle(*sweep, view);
    const Vec3 at = arc.line[arc.line.size() / 2];
    handles.push_back(arc);
    for (const bool more : {false, true}) handles.push_back(stepper(view, at, more, 0));
  }
  return handles;
}

std::optional<Sweep> sweep_of(const Repeat& r, const Scene& scene) {
  if (r.way != RepeatWay::Round || !r.about || r.what.empty()) return std::nullopt;
  const auto axis = axis_of(r, scene);
  const auto arm = axis ? arm_of(r, scene, *axis) : std::nullopt;
  if (!arm || r.over.value == 0) return std::nullopt;
  Mat3 frame = squared_up(axes_frame(scene, topmost(scene, r.what).front(), r.axes).linear);
  frame.column[static_cast<std::size_t>(r.axis)] = axis->direction;
  return Sweep{{*anchor_of(r, scene) - *arm, frame}, r.axis, *arm, r.count, r.over.value};
}

Repeat with_stepper(Repeat r, const Handle& handle) {
  const int by = handle.kind == Handle::Kind::More ? 1 : -1;
  if (r.way == RepeatWay::Grid) {
    int& count = r.counts[static_cast<std::size_t>(std::clamp(handle.box, 0, 2))];
    count = std::clamp(count + by, 1, Repeat::kMost);
    // A grid of one is none.
    if (r.counts == std::array{1, 1, 1}) count = 2;
  } else {
    r.count = std::clamp(r.count + by, 2, Repeat::kMost);
  }
  return r;
}

std::optional<Repeat> repeated_by_hand(const Repeat& draft, const Scene& scene, const Pull& pull,
                                       const Increments& increments, bool steps) {
  if (const auto sweep = sweep_of(draft, scene); sweep && pull.handle.kind == Handle::Kind::Arc) {
    const auto over = swept(*sweep, pull, increments, steps);
    if (!over) return std::nullopt;
    Repeat round = draft;
    round.over = Amount{*over};
    return round;
  }
  if (pull.handle.kind != Handle::Kind::End) return std::nullopt;
  const auto rulers = rulers_of(draft, scene);
  const auto ruler = std::find_if(rulers.begin(), rulers.end(),
                                  [&](const RepeatRuler& r) { return r.number == pull.handle.box && r.axis >= 0; });
  if (ruler == rulers.end()) return std::nullopt;
  const auto parts = topmost(scene, draft.what);
  const Mat3 frame = squared_up(axes_frame(scene, parts.front(), draft.axes).linear);
  const auto shift = shift_of(Rulers{pull.handle.at, frame}, pull, pull.handle.axes);
  if (!shift) return std::nullopt;
  const Vec3& axis = frame.column[static_cast<std::size_t>(ruler->axis)];
  const double change = dot(axis, *shift) / (ruler->count - 1);
  Repeat r = draft;
  Amount& length = r.way == RepeatWay::Row ? r.every : r.steps[static_cast<std::size_t>(ruler->number)];
  const double now = length.value;
  length = Amount{now + (steps ? increments.length.landed(now, change) : change)};
  return r;
}

Gauges repeat_gauges(const Repeat& r, const Scene& scene, const LengthUnit& unit) {
  Gauges gauges;
  for (const RepeatRuler& ruler : rulers_of(r, scene)) {
    const double step = length(ruler.step);
    gauges.rulers.push_back({ruler.from, ruler.to, ruler.axis, step,
                             fmt::format("{} × {}", ruler.count - 1, show_length(step, unit, 3).text)});
  }
  const bool round = r.way == RepeatWay::Round, mirror = r.way == RepeatWay::Mirror;
  const auto axis = (round && r.about) || (mirror && (r.about || r.plane != kNoPart)) ? axis_of(r, scene)
                                                                                      : Result<RepeatAxis>(fail({}));
  if (!axis) return gauges;
  if (round) {
    if (const auto sweep = sweep_of(r, scene))
      gauges.arc = sweep_arc(*sweep, fmt::format("{} over {}", r.count, show_angle(r.over.value, 3).text));
    gauges.still = axis->at;
    return gauges;
  }
  // The plane as a sheet beside what is mirrored, as large as that.
  const auto anchor = anchor_of(r, scene);
  const Box box = box_along(scene, topmost(scene, r.what), Mat3{});
  if (!anchor) return gauges;
  const double half = std::max(10.0, box.extent() * 0.6);
  const Vec3 foot = *anchor - axis->direction * dot(axis->direction, *anchor - axis->at);
  const Vec3 x = normalized(cross(axis->direction, least_axis(axis->direction))), y = cross(axis->direction, x);
  const Vec3 corners[] = {foot + x * half + y * half, foot - x * half + y * half, foot - x * half - y * half,
                          foot + x * half - y * half};
  for (std::size_t i = 0; i < 4; ++i) gauges.outline.push_back({corners[i], corners[(i + 1) % 4]});
  return gauges;
}

}  // namespace tack
