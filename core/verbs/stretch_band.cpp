#include "core/verbs/stretch_band.h"

#include <fmt/format.h>

#include "core/math/split.h"
#include "core/verbs/phrase.h"

namespace tack {
namespace {

std::string length_text(double mm) { return show_length(mm, kMillimetres, 4).text; }

// The heights between which the parts at the two ends of a group leave room: from the highest end of what begins at the
// low side to the lowest begin of what ends at the high side, of parts that do not go from end to end.
std::optional<std::pair<double, double>> between_ends(const Scene& scene, const std::vector<PartId>& tops,
                                                      const Vec3& direction, double low, double high) {
  const double slack = 1e-6 * (high - low);
  double near = low, far = high;
  bool any_low = false, any_high = false;
  std::vector<PartId> pending = tops;
  while (!pending.empty()) {
    const PartId id = pending.back();
    pending.pop_back();
    for (const PartId child : scene.part(id).children) pending.push_back(child);
    const Reach reach = own_reach(scene, id, direction);
    if (reach.empty()) continue;
    const bool at_low = reach.low <= low + slack, at_high = reach.high >= high - slack;
    if (at_low == at_high) continue;
    if (at_low) near = std::max(near, reach.high), any_low = true;
    if (at_high) far = std::min(far, reach.low), any_high = true;
  }
  if (!any_low || !any_high || !(far - near > slack)) return std::nullopt;
  return std::pair{near, far};
}

bool is_alone(const Scene& scene, const std::vector<PartId>& tops) {
  return tops.size() == 1 && scene.part(tops.front()).children.empty();
}

// Where the two places of a filling are along the direction, the lower one first, with what is left free at each.
Result<Reach> room_of(const StretchWay& way, const Scene& scene, const BandInPlace& band, const Reading& reading) {
  std::array<double, 2> at{}, gap{};
  for (std::size_t i = 0; i < 2; ++i) {
    const auto tack = find_tack(scene, i == 0 ? *way.start : *way.end);
    if (!tack) return tl::unexpected(tack.error());
    at[i] = dot(band.direction, tack->point);
    const auto value = evaluate(way.gap[i], EntryKind::Length, 0, reading);
    if (!value) return tl::unexpected(value.error());
    gap[i] = *value;
  }
  if (at[0] > at[1]) std::swap(at[0], at[1]), std::swap(gap[0], gap[1]);
  const Reach room{at[0] + gap[0], at[1] - gap[1]};
  if (!(room.length() > 0))
    return fail(fmt::format("The two places are {} apart along {}, which leaves no room between the gaps.",
                            length_text(at[1] - at[0]), "XYZ"[way.along]),
                "between", "Choose places further apart, or smaller gaps.");
  return room;
}

// A band of the mesh of one part, in its place.
BandInPlace put(BandInPlace band, const StretchBand& own, const Affine& world, BandInPlace::From from,
                std::string name) {
  const double per_height = world_per_height(world, band.direction), shift = dot(band.direction, world.translation);
  band.near = own.low * per_height + shift;
  band.far = own.high * per_height + shift;
  band.from = from;
  band.name = std::move(name);
  return band;
}

// The band of that name, or the only one, that a part keeps across the direction; nullopt where it keeps none there and
// none is named.
Result<std::optional<BandInPlace>> kept_band(const StretchWay& way, const Scene& scene, PartId id,
                                             const BandInPlace& band) {
  const Affine world = world_of(scene, id);
  const Part& part = scene.part(id);
  const Vec3 normal = transpose(world.linear) * band.direction;
  std::vector<std::string> names;
  for (const KeptBand& kept : bands_of(scene, id))
    if (same_way(kept.band.normal, normal) && (way.band.empty() || way.band == kept.name)) names.push_back(kept.name);
  if (names.size() == 1)
    return put(band, *own_band(part, world, band.direction, names.front()), world, BandInPlace::From::Own,
               names.front());
  if (!way.band.empty())
    return fail(fmt::format("\"{}\" keeps no band \"{}\" along {}.", part.name, way.band, "XYZ"[way.along]), "band");
  if (names.size() > 1)
    return fail(
        fmt::format("\"{}\" keeps several bands along {}: {}.", part.name, "XYZ"[way.along], fmt::join(names, ", ")),
        "band", "Name the one that is meant.");
  return std::nullopt;
}

// Where one part can be made longer by itself.
Result<BandInPlace> band_of_one(const StretchWay& way, const Scene& scene, PartId id, BandInPlace band) {
  const auto kept = kept_band(way, scene, id, band);
  if (!kept) return tl::unexpected(kept.error());
  if (*kept) return **kept;
  const Part& part = scene.part(id);
  if (part.shape) {
    band.near = band.low;
    band.far = band.high;
    band.from = BandInPlace::From::Found;
    return band;
  }
  const Affine world = world_of(scene, id);
  const Vec3 normal = transpose(world.linear) * band.direction;
  for (int axis = 0; axis < 3; ++axis) {
    Vec3 own;
    own[axis] = 1;
    if (!same_way(own, normal)) continue;
    auto found = evident_band(*part.mesh, axis);
    if (!found) break;
    if (normal[axis] < 0) *found = {-found->normal, -found->along, -found->high, -found->low};
    return put(band, *found, world, BandInPlace::From::Found, {});
  }
  return fail(
      fmt::format("\"{}\" has no one stretch along {} where its outline stays the same.", part.name, "XYZ"[way.along]),
      "band", "Say between which two places it is lengthened.");
}

// Where parts together can be made longer: between those at their two ends. A name is that of the bands by which those
// that lie across a plane are lengthened, so one of them has to keep it.
Result<BandInPlace> band_of_several(const StretchWay& way, const Scene& scene, const std::vector<PartId>& tops,
                                    BandInPlace band) {
  const auto keeps = [&](const auto& self, PartId id) -> bool {
    const auto& children = scene.part(id).children;
    return own_band(scene.part(id), world_of(scene, id), band.direction, way.band) ||
           std::any_of(children.begin(), children.end(), [&](PartId child) { return self(self, child); });
  };
  if (!way.band.empty() && std::none_of(tops.begin(), tops.end(), [&](PartId id) { return keeps(keeps, id); }))
    return fail(
        fmt::format("No part of {} keeps a band \"{}\" along {}.", names_of(scene, tops), way.band, "XYZ"[way.along]),
        "band");
  const auto ends = between_ends(scene, tops, band.direction, band.low, band.high);
  if (!ends)
    return fail(fmt::format("{} has no parts at both ends along {} between which it could grow.", names_of(scene, tops),
                            "XYZ"[way.along]),
                "band", "Say between which two places it is lengthened.");
  band.near = ends->first;
  band.far = ends->second;
  band.from = BandInPlace::From::Found;
  band.name = way.band;
  return band;
}

// The planes that were typed, as distances from the low side; the other one stays where it stands.
Result<BandInPlace> with_typed_planes(const StretchWay& way, BandInPlace band, const Reading& reading) {
  for (const auto& [amount, height] : {std::pair{&way.near_plane, &band.near}, {&way.far_plane, &band.far}}) {
    if (!*amount) continue;
    const auto value = evaluate(**amount, EntryKind::Length, 0, reading);
    if (!value) return tl::unexpected(value.error());
    *height = band.low + *value;
  }
  band.from = BandInPlace::From::Typed;
  band.name.clear();
  if (band.near > band.far) std::swap(band.near, band.far);
  const double slack = 1e-9 * (band.high - band.low);
  if (!(band.far - band.near > slack)) return fail("The two planes of the band are at the same place.", "band");
  if (band.near < band.low - slack || band.far > band.high + slack)
    return fail(
        fmt::format("The band goes from {} to {}, but what is stretched is {} long.", length_text(band.near - band.low),
                    length_text(band.far - band.low), length_text(band.high - band.low)),
        "band");
  return band;
}

}  // namespace

bool is_flat(const Scene& scene, const std::vector<PartId>& tops, const BandInPlace& band) {
  const Part& only = scene.part(tops.front());
  return is_alone(scene, tops) && only.mesh && !only.shape && !only.mesh->triangles().empty() &&
         band.high - band.low <= 1e-9 * (only.mesh->box().extent() + std::abs(band.low));
}

Result<BandInPlace> band_of(const Stretch& s, const Scene& scene, std::size_t number) {
  const StretchWay& way = s.ways[number];
  const std::vector<PartId> tops = topmost(scene, s.what);
  if (tops.empty()) return fail("Nothing is picked to be stretched.", "what", "Pick a part first.");
  BandInPlace band;
  band.direction =
      squared_up(axes_frame(scene, tops.front(), s.axes).linear).column[static_cast<std::size_t>(way.along)];
  const Reach reach = reach_of(scene, tops, band.direction);
  if (reach.empty()) return fail(fmt::format("{} is empty: it has no length.", names_of(scene, tops)), "what");
  band.low = band.near = reach.low;
  band.high = band.far = reach.high;
  if (is_flat(scene, tops, band)) {
    // A flat outline: it is given a thickness, from where it is.
    band.near = band.far = band.high = band.low;
    band.from = BandInPlace::From::Found;
    return band;
  }
  if (!(band.high > band.low))
    return fail(fmt::format("{} is flat along {}.", names_of(scene, tops), "XYZ"[way.along]), "along");
  if (!way.near_plane || !way.far_plane) {
    const bool one = is_alone(scene, tops) && scene.part(tops.front()).mesh;
    auto standing =
        one ? band_of_one(way, scene, tops.front(), band) : band_of_several(way, scene, tops, std::move(band));
    if (!standing || (!way.near_plane && !way.far_plane)) return standing;
    band = std::move(*standing);
  }
  return with_typed_planes(way, std::move(band), Reading{scene, s.axes, tops.front()});
}

Result<double> growth_of(const Stretch& s, const Scene& scene, std::size_t number, const BandInPlace& band) {
  const StretchWay& way = s.ways[number];
  const std::vector<PartId> tops = topmost(scene, s.what);
  const Reading reading{scene, s.axes, tops.empty() ? kNoPart : tops.front()};
  const double now = band.high - band.low;
  if (way.by) return evaluate(*way.by, EntryKind::Length, 0, reading);
  if (way.to) {
    const auto value = evaluate(*way.to, EntryKind::Length, now, reading);
    return value ? Result<double>(*value - now) : value;
  }
  if (fills(way)) {
    const auto room = room_of(way, scene, band, reading);
    return room ? Result<double>(room->length() - now) : tl::unexpected(room.error());
  }
  return 0.0;
}

Result<double> offset_of(const Stretch& s, const Scene& scene, std::size_t number, const BandInPlace& band, double by) {
  const StretchWay& way = s.ways[number];
  if (fills(way)) {
    const auto room = room_of(way, scene, band, Reading{scene, s.axes, topmost(scene, s.what).front()});
    return room ? Result<double>(room->low - band.low) : tl::unexpected(room.error());
  }
  return s.hold == Stretch::Hold::Low ? 0 : s.hold == Stretch::Hold::High ? -by : -by / 2;
}

}  // namespace tack
