#include "core/hands/spacing.h"

#include <fmt/format.h>

#include "core/verbs/blank_table.h"

namespace tack {
namespace {

using Spacing = Distribute::Spacing;
using Hold = Distribute::Hold;

constexpr double kHalfValue = 26, kEndReach = 16;  // pixels

// The box of the row as it will stand, along its axes, and where its lines are best seen.
struct Drawn {
  RowPlan plan;
  Pads box;
  DimensionPlaces places;
  std::size_t axis = 0;

  double fraction(double at) const { return (at - plan.low.front()) / plan.span; }
};

// Of the four edges along the row the one lowest on the picture: there the lines stand in front of what is spaced.
void stand_in_front(DimensionPlaces::Place& place, const Pads& box, std::size_t axis, const View& view) {
  const auto height = [&](const Vec3& fraction) {
    const auto px = view.project(box.from_fractions * fraction);
    return px ? px->y : -1e300;
  };
  const int j = static_cast<int>((axis + 1) % 3), k = static_cast<int>((axis + 2) % 3);
  double lowest = -1e300;
  for (int n = 0; n < 4; ++n) {
    Vec3 edge{0.5, 0.5, 0.5};
    edge[j] = n & 1;
    edge[k] = n >> 1;
    if (const double y = height(edge); y > lowest) lowest = y, place.edge = edge;
  }
  // And off it the way that leads further down.
  const auto leads = [&](int off) {
    Vec3 out = place.edge;
    out[off] += out[off] > 0.5 ? 0.2 : -0.2;
    return height(out);
  };
  place.off = static_cast<std::size_t>(leads(k) > leads(j) ? k : j);
}

std::optional<Drawn> drawn(const Distribute& d, const Scene& scene, const View& view) {
  if (d.way != Distribute::Way::Axis) return std::nullopt;
  auto plan = plan_of(d, scene);
  if (!plan || !(std::abs(plan->span) > 0)) return std::nullopt;
  Drawn row;
  row.axis = static_cast<std::size_t>(d.axis);
  const Mat3 frame = row_frame(d, scene);
  Box box = box_along(scene, topmost(scene, d.what), frame);
  if (box.empty()) return std::nullopt;
  box.low[d.axis] = plan->low.front();
  box.high[d.axis] = plan->low.front() + plan->span;
  const Vec3 size = box.high - box.low;
  row.box.from_fractions = {frame * Mat3::diagonal(size), frame * box.low};
  for (int i = 0; i < 3; ++i) row.box.flat[static_cast<std::size_t>(i)] = !(std::abs(size[i]) > 0);
  row.plan = std::move(*plan);
  row.places = dimension_places(row.box, view);
  stand_in_front(row.places.axes[row.axis], row.box, row.axis, view);
  return row;
}

std::optional<DimensionLine> gap_line(const Drawn& row, std::size_t i, const View& view) {
  const InRow& one = row.plan.row[i];
  const double from = row.plan.low[i] + (one.high - one.low);
  return dimension_stretch(row.box, row.places, row.axis, row.fraction(from), row.fraction(row.plan.low[i + 1]), 0,
                           view);
}
std::optional<DimensionLine> whole_line(const Drawn& row, const View& view) {
  return dimension_stretch(row.box, row.places, row.axis, 0, 1, row.plan.gap.size() > kMostGapLines ? 0 : 1, view);
}

Handle value_handle(const DimensionLine& line, const View& view, int number) {
  const Vec3 middle = line.middle();
  const Vec3 side = view.right() * (kHalfValue / std::max(1e-300, view.pixels_per_mm(middle)));
  Handle handle{Handle::Kind::Value, {}, middle, {middle - side, middle + side}, {0.5, 0.5, 0.5}};
  handle.axes[line.axis] = true;
  handle.box = number;
  return handle;
}

}  // namespace

std::vector<DimensionLine> spacing_lines(const Distribute& d, const Scene& scene, const View& view,
                                         const LengthUnit& unit) {
  std::vector<DimensionLine> lines;
  const auto row = drawn(d, scene, view);
  if (!row) return lines;
  for (std::size_t i = 0; i < row->plan.gap.size() && row->plan.gap.size() <= kMostGapLines; ++i)
    if (auto line = gap_line(*row, i, view)) {
      line->text = show_length(row->plan.gap[i], unit, 2).text;
      lines.push_back(std::move(*line));
    }
  if (auto line = whole_line(*row, view)) {
    line->text = show_length(row->plan.span, unit, 2).text;
    lines.push_back(std::move(*line));
  }
  return lines;
}

std::vector<Handle> spacing_handles(const Distribute& d, const Scene& scene, const View& view) {
  std::vector<Handle> handles;
  if (const auto sweep = sweep_of(d, scene)) handles.push_back(sweep_handle(*sweep, view));
  const auto row = drawn(d, scene, view);
  if (!row) return handles;
  for (std::size_t i = 0; i < row->plan.gap.size() && row->plan.gap.size() <= kMostGapLines; ++i)
    if (const auto line = gap_line(*row, i, view)) handles.push_back(value_handle(*line, view, static_cast<int>(i)));
  const auto line = whole_line(*row, view);
  const double whole = line ? distance(line->from, line->to) : 0;
  if (!(whole > 0)) return handles;
  handles.push_back(value_handle(*line, view, -1));
  const Vec3 way = (line->to - line->from) * (1 / whole);
  for (const bool high : {false, true}) {
    const Vec3 end = high ? line->to : line->from;
    const double reach = std::min(whole * 0.3, kEndReach / std::max(1e-300, view.pixels_per_mm(end)));
    Handle handle{Handle::Kind::End, {}, end, {end, end - way * (high ? reach : -reach)}, {0.5, 0.5, 0.5}};
    handle.axes[line->axis] = true;
    handle.fraction[d.axis] = high ? 1 : 0;
    handle.box = -1;
    handles.push_back(handle);
  }
  return handles;
}

std::optional<Sweep> sweep_of(const Distribute& d, const Scene& scene) {
  const auto parts = topmost(scene, d.what);
  if (d.way != Distribute::Way::Round || parts.size() < 2 || d.over.value == 0) return std::nullopt;
  const auto centre = still_point(d.about, scene, parts.front(), parts, d.axes);
  if (!centre) return std::nullopt;
  const Mat3 frame = row_frame(d, scene);
  const Vec3 axis = frame.column[static_cast<std::size_t>(d.axis)];
  // The arc lies where the first one goes round, level with its pivot.
  const Vec3 way = world_of(scene, parts.front()) * scene.part(parts.front()).placement.pivot - *centre;
  const Vec3 arm = way - axis * dot(axis, way);
  if (!(length(arm) > 1e-9 * (1 + length(way)))) return std::nullopt;
  return Sweep{{*centre + (way - arm), frame}, d.axis, arm, static_cast<int>(parts.size()), d.over.value};
}

Gauges spacing_gauges(const Distribute& d, const Scene& scene, const LengthUnit& unit) {
  Gauges gauges;
  if (const auto sweep = sweep_of(d, scene)) {
    gauges.arc = sweep_arc(*sweep, fmt::format("{} over {}", sweep->count, show_angle(d.over.value, 3).text));
    gauges.still = sweep->arcs.centre;
  }
  const auto parts = topmost(scene, d.what);
  if (d.way != Distribute::Way::Line || !d.from || !d.to || parts.size() < 2) return gauges;
  const auto from = find_tack(scene, *d.from), to = find_tack(scene, *d.to);
  if (!from || !to) return gauges;
  const double step = distance(from->point, to->point) / static_cast<double>(parts.size() - 1);
  if (step > 0)
    gauges.rulers.push_back(
        {from->point, to->point, -1, step, fmt::format("{} × {}", parts.size() - 1, show_length(step, unit, 3).text)});
  return gauges;
}

BlankId value_blank_of(const Distribute& d, const Handle& value) {
  if (value.box < 0) return blank_of<Distribute>("span");
  const bool single = d.spacing == Spacing::Single;
  return blank_of<Distribute>(single ? ".gaps" : ".gap", static_cast<std::size_t>(single ? value.box : 0));
}

std::optional<Distribute> spaced_by_hand(const Distribute& draft, const Scene& scene, const Pull& pull, bool alone,
                                         const Increments& increments, bool steps) {
  if (pull.handle.kind == Handle::Kind::Arc) {
    const auto sweep = sweep_of(draft, scene);
    const auto over = sweep ? swept(*sweep, pull, increments, steps) : std::nullopt;
    if (!over) return std::nullopt;
    Distribute round = draft;
    round.over = Amount{*over};
    return round;
  }
  const auto plan = plan_of(draft, scene);
  const Rulers rulers{pull.handle.at, row_frame(draft, scene)};
  const auto shift = shift_of(rulers, pull, pull.handle.axes);
  if (!plan || !shift) return std::nullopt;
  const double by = dot(rulers.frame.column[static_cast<std::size_t>(draft.axis)], *shift);
  Distribute d = draft;
  const auto landed = [&](double now, double change) {
    return Amount{now + (steps ? increments.length.landed(now, change) : change)};
  };
  if (pull.handle.kind == Handle::Kind::End) {
    const bool high = pull.handle.fraction[draft.axis] > 0.5;
    d.spacing = Spacing::Even;
    d.span = landed(plan->span, high ? by : -by);
    // The other end holds, unless the middle was to.
    if (d.hold != Hold::Middle)
      d.hold = high ? Hold::First : Hold::Last;
    else
      d.span = landed(plan->span, 2 * (high ? by : -by));
    return d;
  }
  if (pull.handle.box < 0) return std::nullopt;
  const auto i = static_cast<std::size_t>(pull.handle.box);
  if (i >= plan->gap.size()) return std::nullopt;
  d.span.reset();
  if (d.hold == Hold::Ends) d.hold = Hold::First;
  if (alone) {
    d.gaps.assign(plan->gap.size(), std::nullopt);
    for (std::size_t k = 0; k < plan->gap.size(); ++k) d.gaps[k] = Amount{plan->gap[k]};
    d.gaps[i] = landed(plan->gap[i], d.hold == Hold::Last ? -by : by);
    d.spacing = Spacing::Single;
    return d;
  }
  // The value stands half a gap behind i others, seen from what holds: it moves as often as the gap changes.
  const double count = static_cast<double>(plan->gap.size()), at = static_cast<double>(i) + 0.5;
  const double often = d.hold == Hold::Last ? at - count : d.hold == Hold::Middle ? at - count / 2 : at;
  d.gap = landed(plan->gap[i], by / (std::abs(often) < 0.5 ? 0.5 : often));
  d.spacing = Spacing::Given;
  return d;
}

}  // namespace tack
