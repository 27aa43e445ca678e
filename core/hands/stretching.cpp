#include "core/hands/stretching.h"

#include "core/math/split.h"
#include "core/verbs/blank_table.h"
#include "core/verbs/stretch_band.h"

namespace tack {
namespace {

constexpr double kHalfLengthValue = 26, kLengthEndReach = 16;  // pixels
constexpr int kTurns = 9;                                      // of the spring

// What is stretched as a box along the axes of the verb, and where one direction stands in it.
struct DrawnBand {
  Pads box;
  Mat3 frame;
  BandInPlace band;
  int along = 0;
  double by = 0, offset = 0;  // by how much longer the verb makes it, and where its low side is then

  // Heights as they will be.
  double low() const { return band.low + offset; }
  double near() const { return band.near + offset; }
  double far() const { return band.far + by + offset; }
  double high() const { return band.high + by + offset; }
  double fraction(double height) const { return (height - band.low) / (band.high - band.low); }
  Vec3 at(double height, double u, double v) const {
    Vec3 f;
    f[along] = fraction(height);
    f[(along + 1) % 3] = u;
    f[(along + 2) % 3] = v;
    return box.from_fractions * f;
  }
  std::vector<Vec3> outline(double height) const {
    return {at(height, 0, 0), at(height, 1, 0), at(height, 1, 1), at(height, 0, 1), at(height, 0, 0)};
  }
};

std::optional<DrawnBand> drawn_band(const Stretch& s, const Scene& scene, std::size_t way) {
  const std::vector<PartId> tops = topmost(scene, s.what);
  if (tops.empty()) return std::nullopt;
  auto band = band_of(s, scene, way);
  DrawnBand d;
  d.along = s.ways[way].along;
  d.frame = squared_up(axes_frame(scene, tops.front(), s.axes).linear);
  const Box box = box_along(scene, tops, d.frame);
  if (box.empty() || !(box.size()[d.along] > 0)) return std::nullopt;
  if (!band) {
    // Nothing was found: the planes stand at its ends, to be dragged.
    BandInPlace whole;
    whole.direction = d.frame.column[static_cast<std::size_t>(d.along)];
    whole.low = whole.near = box.low[d.along];
    whole.high = whole.far = box.high[d.along];
    band = whole;
  }
  d.band = *band;
  if (const auto by = growth_of(s, scene, way, *band); by && *by > band->near - band->far) d.by = *by;
  d.offset = offset_of(s, scene, way, *band, d.by).value_or(0);
  d.box.from_fractions = {d.frame * Mat3::diagonal(box.size()), d.frame * box.low};
  for (int i = 0; i < 3; ++i) d.box.flat[static_cast<std::size_t>(i)] = !(box.size()[i] > 0);
  return d;
}

std::optional<DimensionLine> length_line(const DrawnBand& d, const View& view) {
  return dimension_stretch(d.box, dimension_places(d.box, view), static_cast<std::size_t>(d.along), d.fraction(d.low()),
                           d.fraction(d.high()), 0, view);
}

Stretch with_plane(Stretch s, const DrawnBand& d, std::size_t way, bool far, double height) {
  const double at = std::clamp(height, d.band.low, d.band.high) - d.band.low;
  StretchWay& w = s.ways[way];
  // The plane that is not dragged stays where it is.
  w.near_plane = Amount{far ? d.band.near - d.band.low : at};
  w.far_plane = Amount{far ? at : d.band.far - d.band.low};
  w.band.clear();
  return s;
}

Stretch with_length(Stretch s, std::size_t way, double length, bool high_end) {
  StretchWay& w = s.ways[way];
  w.to = Amount{length};
  w.by.reset();
  w.start.reset();
  w.end.reset();
  s.hold = high_end ? Stretch::Hold::Low : Stretch::Hold::High;
  return s;
}

std::optional<Stretch> put(const Stretch& draft, const Scene& scene, const Handle& handle, double shift,
                           const Increments* increments) {
  const auto way =
      static_cast<std::size_t>(std::max(0, handle.kind == Handle::Kind::Corner ? handle.box / 2 : handle.box));
  if (way >= draft.ways.size()) return std::nullopt;
  const auto d = drawn_band(draft, scene, way);
  if (!d) return std::nullopt;
  const auto landed = [&](double now, double change) {
    return now + (increments ? increments->length.landed(now, change) : change);
  };
  if (handle.kind == Handle::Kind::Corner) {
    const bool far = handle.box % 2 == 1;
    const double now = (far ? d->band.far : d->band.near) - d->band.low;
    return with_plane(draft, *d, way, far, d->band.low + landed(now, shift));
  }
  if (handle.kind != Handle::Kind::End) return std::nullopt;
  const bool high = handle.fraction[d->along] > 0.5;
  const double now = d->band.high - d->band.low, length = landed(now, high ? shift : -shift);
  if (!(length > 0)) return std::nullopt;
  return with_length(draft, way, length, high);
}

}  // namespace

std::vector<Handle> stretch_handles(const Stretch& s, const Scene& scene, const View& view) {
  std::vector<Handle> handles;
  for (std::size_t way = 0; way < s.ways.size(); ++way) {
    const auto d = drawn_band(s, scene, way);
    if (!d) continue;
    const auto add = [&](Handle::Kind kind, const Vec3& at, std::vector<Vec3> line, int number) {
      Handle handle{kind, {}, at, std::move(line), {0.5, 0.5, 0.5}};
      handle.axes[static_cast<std::size_t>(d->along)] = true;
      handle.box = number;
      handles.push_back(std::move(handle));
    };
    for (const bool far : {false, true}) {
      const double height = far ? d->far() : d->near();
      add(Handle::Kind::Corner, d->at(height, 0.5, 0.5), d->outline(height), static_cast<int>(way) * 2 + (far ? 1 : 0));
    }
    const auto line = length_line(*d, view);
    const double whole = line ? distance(line->from, line->to) : 0;
    if (!(whole > 0)) continue;
    const Vec3 middle = line->middle();
    const Vec3 side = view.right() * (kHalfLengthValue / std::max(1e-300, view.pixels_per_mm(middle)));
    add(Handle::Kind::Value, middle, {middle - side, middle + side}, static_cast<int>(way));
    const Vec3 along = (line->to - line->from) * (1 / whole);
    for (const bool high : {false, true}) {
      const Vec3 end = high ? line->to : line->from;
      const double reach = std::min(whole * 0.3, kLengthEndReach / std::max(1e-300, view.pixels_per_mm(end)));
      add(Handle::Kind::End, end, {end, end - along * (high ? reach : -reach)}, static_cast<int>(way));
      handles.back().fraction[d->along] = high ? 1 : 0;
    }
  }
  return handles;
}

std::optional<Stretch> stretched_by_hand(const Stretch& draft, const Scene& scene, const Pull& pull,
                                         const Increments& increments, bool steps) {
  const std::vector<PartId> tops = topmost(scene, draft.what);
  if (tops.empty()) return std::nullopt;
  const Mat3 frame = squared_up(axes_frame(scene, tops.front(), draft.axes).linear);
  const auto shift = shift_of(Rulers{pull.handle.at, frame}, pull, pull.handle.axes);
  const auto axis = only_axis(pull.handle.axes);
  if (!shift || !axis) return std::nullopt;
  return put(draft, scene, pull.handle, dot(frame.column[*axis], *shift), steps ? &increments : nullptr);
}

std::optional<Stretch> stretched_level(const Stretch& draft, const Scene& scene, const Handle& handle, const Vec3& to) {
  const std::vector<PartId> tops = topmost(scene, draft.what);
  const auto axis = only_axis(handle.axes);
  if (tops.empty() || !axis) return std::nullopt;
  const Mat3 frame = squared_up(axes_frame(scene, tops.front(), draft.axes).linear);
  return put(draft, scene, handle, dot(frame.column[*axis], to - handle.at), nullptr);
}

BlankId stretch_value_blank(const Stretch&, const Handle& value) {
  return blank_of<Stretch>("to", static_cast<std::size_t>(std::max(0, value.box)));
}

std::vector<DimensionLine> stretch_lines(const Stretch& s, const Scene& scene, const View& view,
                                         const LengthUnit& unit) {
  std::vector<DimensionLine> lines;
  for (std::size_t way = 0; way < s.ways.size(); ++way) {
    const auto d = drawn_band(s, scene, way);
    auto line = d ? length_line(*d, view) : std::nullopt;
    if (!line) continue;
    line->text = show_length(d->high() - d->low(), unit, 2).text;
    lines.push_back(std::move(*line));
  }
  return lines;
}

Gauges stretch_gauges(const Stretch& s, const Scene& scene) {
  Gauges gauges;
  for (std::size_t way = 0; way < s.ways.size(); ++way) {
    const auto d = drawn_band(s, scene, way);
    if (!d) continue;
    for (const double height : {d->near(), d->far()}) {
      const std::vector<Vec3> line = d->outline(height);
      for (std::size_t i = 0; i + 1 < line.size(); ++i) gauges.outline.push_back({line[i], line[i + 1]});
    }
    // The spring runs through the middle, from plane to plane.
    const double step = (d->far() - d->near()) / kTurns;
    for (int i = 0; i < kTurns; ++i) {
      const double h = d->near() + step * i, low = i == 0 ? 0.5 : i % 2, high = i + 1 == kTurns ? 0.5 : (i + 1) % 2;
      gauges.outline.push_back({d->at(h, 0.5, 0.2 + 0.6 * low), d->at(h + step, 0.5, 0.2 + 0.6 * high)});
    }
  }
  return gauges;
}

}  // namespace tack
