#include "core/verbs/stretch.h"

#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/verbs/phrase.h"
#include "core/verbs/thicken.h"

namespace tack {
namespace {

using Hold = Stretch::Hold;
using Links = MeshLinks;

std::string length_words(double mm, const LengthUnit& unit = kMillimetres) { return show_length(mm, unit, 4).text; }

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
    const Extent e = own_extent(scene, id, direction);
    if (e.empty()) continue;
    const bool at_low = e.low <= low + slack, at_high = e.high >= high - slack;
    if (at_low == at_high) continue;
    if (at_low) near = std::max(near, e.high), any_low = true;
    if (at_high) far = std::min(far, e.low), any_high = true;
  }
  if (!any_low || !any_high || !(far - near > slack)) return std::nullopt;
  return std::pair{near, far};
}

// Whether it is one part without a thickness along the direction.
bool is_flat(const Scene& scene, const std::vector<PartId>& tops, const BandInPlace& band) {
  const Part& only = scene.part(tops.front());
  const bool alone = tops.size() == 1 && only.mesh && only.children.empty() && !only.shape;
  return alone && !only.mesh->triangles().empty() &&
         band.high - band.low <= 1e-9 * (only.mesh->box().extent() + std::abs(band.low));
}

Mat3 frame_for(const Stretch& s, const Scene& scene, PartId first) {
  return squared_up(axes_frame(scene, first, s.axes).linear);
}

Extent extent_of(const Scene& scene, const std::vector<PartId>& tops, const Vec3& direction) {
  Extent extent;
  for (const PartId id : tops) {
    const Extent one = tree_extent(scene, id, direction);
    if (!one.empty()) extent.include(one.low), extent.include(one.high);
  }
  return extent;
}

// Where the two places of a filling are along the direction, the lower one first, with what is left free at each.
Result<std::pair<double, double>> room_of(const StretchWay& way, const Scene& scene, const BandInPlace& band,
                                          const Reading& reading) {
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
  const double room = at[1] - gap[1] - (at[0] + gap[0]);
  if (!(room > 0))
    return fail(fmt::format("Between the two places {} are free along {}, less than nothing is left of it.",
                            length_words(at[1] - at[0]), "XYZ"[way.along]),
                "between", "Choose places further apart, or smaller gaps.");
  return std::pair{at[0] + gap[0], at[1] - gap[1]};
}

bool fills(const StretchWay& way) { return way.start && way.end; }

Result<Scene> one_way(const Stretch& s, const Scene& scene, std::size_t number) {
  const StretchWay& way = s.ways[number];
  const auto band = band_of(s, scene, number);
  if (!band) return tl::unexpected(band.error());
  const auto by = growth_of(s, scene, number, *band);
  if (!by) return tl::unexpected(by.error());
  const double least = band->high - band->low - (band->far - band->near);
  if (const std::vector<PartId> flat = topmost(scene, s.what); is_flat(scene, flat, *band)) {
    if (way.band.empty() && !way.near_plane && !fills(way))
      return thickened_part(scene, flat.front(), band->direction * (s.hold == Hold::High ? -1 : 1), *by, s.links);
    return fail(fmt::format("{} is flat along {}: it has no band there.", names_of(scene, flat), "XYZ"[way.along]),
                "band", "Give it a thickness first, by a length alone.");
  }
  if (!(*by > -(band->far - band->near)))
    return fail(
        fmt::format("{} cannot be {} long along {}: the ends that keep their shape are {}.", names_of(scene, s.what),
                    length_words(band->high - band->low + *by), "XYZ"[way.along], length_words(least)),
        "to", fmt::format("Choose more than {}.", length_words(least)));
  const std::vector<PartId> tops = topmost(scene, s.what);
  double offset = 0;
  if (fills(way)) {
    const auto room = room_of(way, scene, *band, Reading{scene, s.axes, tops.front()});
    if (!room) return tl::unexpected(room.error());
    offset = room->first - band->low;
  } else if (s.hold != Hold::Low) {
    offset = s.hold == Hold::High ? -*by : -*by / 2;
  }
  return stretched_along(scene, tops, *band, *by, offset, s.links);
}

// --- what the table says

constexpr Choice kHolds[] = {{"its low side", "low"}, {"its middle", "middle"}, {"its high side", "high"}};
constexpr Choice kLinks[] = {
    {"still linked to its instances", "linked"}, {"its instances with it", "instances"}, {"this one only", "separate"}};

Slot along_slot(Stretch& s, std::size_t i) { return i < s.ways.size() ? axis_number(s.ways[i].along) : Slot(); }
template <auto kMember>
Slot way_slot(Stretch& s, std::size_t i) {
  return i < s.ways.size() ? Slot(&(s.ways[i].*kMember)) : Slot();
}
template <std::size_t kEnd>
Slot gap_slot(Stretch& s, std::size_t i) {
  return i < s.ways.size() ? Slot(&s.ways[i].gap[kEnd]) : Slot();
}
std::size_t ways_of(const Stretch& s) { return s.ways.size(); }

// Giving one way to say how long sets the others aside.
void given_to(Stretch& s, std::size_t i) { s.ways[i].by.reset(), s.ways[i].start.reset(), s.ways[i].end.reset(); }
void given_by(Stretch& s, std::size_t i) { s.ways[i].to.reset(), s.ways[i].start.reset(), s.ways[i].end.reset(); }
void given_place(Stretch& s, std::size_t i) { s.ways[i].to.reset(), s.ways[i].by.reset(); }
void given_plane(Stretch& s, std::size_t i) {
  // Both planes or none: the other one stands where the band was.
  s.ways[i].band.clear();
}

std::optional<double> length_now(const Stretch& s, const Scene& scene, std::size_t i) {
  const auto band = band_of(s, scene, i);
  return band ? std::optional(band->high - band->low) : std::nullopt;
}

bool says_length(const StretchWay& way) { return way.to || way.by || fills(way); }

Result<void> check(const Stretch& s) {
  for (const StretchWay& way : s.ways) {
    if (way.start.has_value() != way.end.has_value())
      return fail("It fills the room between two places: one is missing.", "between", "Click the other one.");
    const int said = int(way.to.has_value()) + int(way.by.has_value()) + int(fills(way));
    if (said == 0)
      return fail("Stretch needs a length: \"to\", \"by\", or \"between\" two places.", "to", "Type the length.");
    if (said > 1) return fail("Stretch takes one of \"to\", \"by\" and \"between\".", "to", "Leave the others out.");
    if (way.near_plane.has_value() != way.far_plane.has_value())
      return fail("A band has two planes.", "band", "Give both, as distances from the low side.");
    if (!fills(way) && (is_said(way.gap[0]) || is_said(way.gap[1])))
      return fail("A gap is what is left at the places of \"between\".", "gap", "Leave it out.");
  }
  if (s.ways.size() > 1 && s.ways[0].along == s.ways[1].along)
    return fail("Two directions at once are two different axes.", "also");
  return {};
}

BlankId waits_for(const Stretch& s) {
  for (std::size_t i = 0; i < s.ways.size(); ++i) {
    const StretchWay& way = s.ways[i];
    const bool like_first = i > 0 && fills(s.ways.front()) && !says_length(way);
    if (way.start && !way.end) return blank_of<Stretch>(".end", i);
    if ((way.end && !way.start) || (like_first && !way.start)) return blank_of<Stretch>(".start", i);
  }
  return {};
}

Stretch next_after(const Stretch& s) {
  Stretch next;
  next.axes = s.axes;
  next.ways.front().along = s.ways.front().along;
  next.hold = s.hold;
  return next;
}

bool take_back(Stretch& s) {
  for (std::size_t i = s.ways.size(); i-- > 0;)
    for (auto* place : {&s.ways[i].end, &s.ways[i].start})
      if (place->has_value()) return place->reset(), true;
  return false;
}

// The longest side of what is picked is the one that is made longer most often.
Stretch begun(Stretch s, const Scene& scene) {
  if (s.what.empty() || !scene.contains(s.what.front())) return s;
  if (s.ways.size() == 1 && !says_length(s.ways.front())) {
    double longest = 0;
    for (int axis = 0; axis < 3; ++axis) {
      Stretch along = s;
      along.ways.front().along = axis;
      const auto band = band_of(along, scene, 0);
      if (!band || !(band->high - band->low > longest * (1 + 1e-9))) continue;
      longest = band->high - band->low;
      s.ways.front().along = axis;
    }
  }
  return s;
}

// --- steps files

Json between_to_json(const StretchWay& way, const Scene& scene) {
  if (!fills(way)) return nullptr;
  return Json::array({address_text(scene, *way.start), address_text(scene, *way.end)});
}
Result<void> between_from_json(StretchWay& way, const Json& json, const Scene& scene) {
  if (!json.is_array() || json.size() != 2) return fail("This should be two places.", "between");
  if (auto ok = into(way.start, place_from_json(json[0], "between", scene)); !ok) return ok;
  return into(way.end, place_from_json(json[1], "between", scene));
}
Json gap_to_json(const StretchWay& way) {
  if (!fills(way) || (!is_said(way.gap[0]) && !is_said(way.gap[1]))) return nullptr;
  return Json::array({amount_to_json(way.gap[0]), amount_to_json(way.gap[1])});
}
Result<void> gap_from_json(StretchWay& way, const Json& json, const Scene& scene) {
  if (json.is_array() && json.size() != 2) return fail("This should be a gap for each of the two places.", "gap");
  for (std::size_t i = 0; i < 2; ++i)
    if (auto ok = into(way.gap[i],
                       amount_from_json(json.is_array() ? json[i] : json, EntryKind::Length, "gap", Reading(scene), 0));
        !ok)
      return ok;
  return {};
}
Json band_to_json(const StretchWay& way) {
  if (!way.band.empty()) return way.band;
  if (!way.near_plane || !way.far_plane) return nullptr;
  return Json::array({amount_to_json(*way.near_plane), amount_to_json(*way.far_plane)});
}
Result<void> band_from_json(StretchWay& way, const Json& json, const Scene& scene) {
  if (json.is_string()) {
    way.band = json.get<std::string>();
    return check_name(way.band, "A band");
  }
  if (!json.is_array() || json.size() != 2)
    return fail("This should be two distances from the low side, or the name of a band that the part keeps.", "band");
  for (std::size_t i = 0; i < 2; ++i)
    if (auto ok = into(i == 0 ? way.near_plane : way.far_plane,
                       amount_from_json(json[i], EntryKind::Length, "band", Reading(scene), 0));
        !ok)
      return ok;
  return {};
}
Json also_to_json(const Stretch& s, const Scene& scene) {
  if (s.ways.size() < 2) return nullptr;
  const StretchWay& way = s.ways[1];
  Json also{{"along", axis_letter(way.along)}};
  if (way.to) also["to"] = amount_to_json(*way.to);
  if (way.by) also["by"] = amount_to_json(*way.by);
  for (const auto& [key, value] :
       {std::pair{"between", between_to_json(way, scene)}, {"gap", gap_to_json(way)}, {"band", band_to_json(way)}})
    if (!value.is_null()) also[key] = value;
  return also;
}
Result<void> also_from_json(Stretch& s, const Json& json, const Scene& scene) {
  if (!json.is_object()) return fail("This should be an object with \"along\" and a length.", "also");
  if (auto ok = check_keys(json, {"along", "to", "by", "between", "gap", "band"}); !ok) return ok;
  StretchWay way;
  const auto axis = json.contains("along") ? axis_named(json["along"]) : std::nullopt;
  if (!axis) return fail("The second direction is x, y or z.", "also", "Write \"along\": \"z\".");
  way.along = *axis;
  for (const auto& [key, amount] : {std::pair{"to", &way.to}, {"by", &way.by}})
    if (json.contains(key))
      if (auto ok = into(*amount, amount_from_json(json[key], EntryKind::Length, key, Reading(scene), 1)); !ok)
        return ok;
  if (json.contains("between"))
    if (auto ok = between_from_json(way, json["between"], scene); !ok) return ok;
  if (json.contains("gap"))
    if (auto ok = gap_from_json(way, json["gap"], scene); !ok) return ok;
  if (json.contains("band"))
    if (auto ok = band_from_json(way, json["band"], scene); !ok) return ok;
  s.ways.push_back(std::move(way));
  return {};
}

// --- the sentence

void say_way(Phrase<Stretch>& p, const Stretch& s, std::size_t i) {
  const StretchWay& way = s.ways[i];
  const auto band = band_of(s, p.scene(), i);
  const auto by = band ? growth_of(s, p.scene(), i, *band) : Result<double>(fail({}));
  p.say("along ").blank("along", i);
  if (i == 0) p.say(" of ").blank("axes").say(" axes");
  const double now = band ? band->high - band->low : 0;
  // A second direction is usually filled like the first.
  if (way.start || way.end || (i > 0 && fills(s.ways.front()) && !says_length(way))) {
    p.say(", filling from ").blank(".start", i).say(" to ").blank(".end", i).say(", ");
    p.blank(".gap", i).say(" and ").blank(".gap_end", i).say(" clear");
  } else {
    p.say(" to ").blank("to", i,
                        way.to ? shown(*way.to, EntryKind::Length, p.unit())
                        : band ? length_words(now + by.value_or(0), p.unit())
                               : std::string("a length"));
    p.say(", by ").blank("by", i,
                         way.by ? shown(*way.by, EntryKind::Length, p.unit()) : length_words(by.value_or(0), p.unit()));
  }
  if (band && !(band->high > band->low)) return (void)p.say(", which gives it a thickness");
  if (!band && s.what.empty()) return;
  if (!band) {
    p.say(", between ").blank(".near", i, "a place", true).say(" and ").blank(".far", i, "a place", true);
    return;
  }
  p.say(", between ").blank(".near", i, length_words(band->near - band->low, p.unit())).say(" and ");
  p.blank(".far", i, length_words(band->far - band->low, p.unit()));
  // Two directions leave less room for words.
  const bool brief = s.ways.size() > 1;
  if (!brief) p.say(" from its low side");
  if (band->from == BandInPlace::From::Own) p.say(" (").blank("band", i, "its band " + printable(band->name)).say(")");
  if (band->from == BandInPlace::From::Found) {
    const auto tops = topmost(p.scene(), s.what);
    const bool alone = tops.size() == 1 && p.scene().part(tops.front()).children.empty();
    p.say(brief   ? " (found)"
          : alone ? " (found: there its outline is the same)"
                  : " (found: between the parts at its two ends)");
  }
}

void sentence(Phrase<Stretch>& p, const Stretch& s) {
  p.say("Stretched ", "Stretch ").blank("what").say(" ");
  for (std::size_t i = 0; i < s.ways.size(); ++i) {
    if (i > 0) p.say("; ");
    say_way(p, s, i);
  }
  if (!fills(s.ways.front())) p.say(", holding ").blank("hold").say(" still");
  if (s.links != Links::Own || shares_mesh(p.scene(), s.what)) p.say(", ").blank("copies");
  p.say(".");
  if (!s.ways.front().start && !p.past()) p.offer(".start", 0, "let it fill the room between two places");
  if (s.ways.size() == 1) p.offer(".second", 0, "stretch it in a second direction too");
}

// What came of it, measured, where it is not what was asked.
std::string left_of(const Stretch& s, const Scene& before, const Scene& after, const LengthUnit& unit) {
  std::string words;
  const std::vector<PartId> tops = topmost(before, s.what);
  for (std::size_t i = 0; i < s.ways.size(); ++i) {
    const StretchWay& way = s.ways[i];
    const auto band = band_of(s, before, i);
    if (!band) continue;
    const auto by = growth_of(s, before, i, *band);
    const Extent is = extent_of(after, tops, band->direction);
    if (!by || is.empty()) continue;
    const double wanted = band->high - band->low + *by, off = is.high - is.low - wanted;
    if (std::abs(off) > 1e-9 * (std::abs(is.low) + std::abs(is.high) + wanted))
      words += fmt::format("{}Along {} it is {} long, {} off.", words.empty() ? "" : " ", "XYZ"[way.along],
                           length_words(is.high - is.low, unit),
                           length_words(std::abs(off), LengthUnit{unit.name, unit.millimetres}));
  }
  return words;
}

// Faces that are not square to the direction, and slopes that the planes cut.
std::string remark_of(const Stretch& s, const Scene& before, const Scene&) {
  std::string words;
  const auto add = [&](const std::string& more) { words += (words.empty() ? "" : " ") + more; };
  for (std::size_t i = 0; i < s.ways.size(); ++i) {
    const StretchWay& way = s.ways[i];
    const auto band = band_of(s, before, i);
    if (!band) continue;
    for (const auto* place : {&way.start, &way.end}) {
      if (!*place) continue;
      const auto tack = find_tack(before, **place);
      if (!tack || !tack->direction) continue;
      const double sine = length(cross(*tack->direction, band->direction));
      const double lean = atan2_degrees(sine, std::abs(dot(*tack->direction, band->direction)));
      const bool faces = (*place)->kind == TackKind::Face || (*place)->kind == TackKind::FaceCentre;
      if (faces && lean > 1e-6)
        add(fmt::format("The {} leans by {}: the room is measured at the place that was clicked.",
                        tack_words(before, **place), show_number(lean, 4).text + "°"));
    }
    const std::vector<PartId> tops = topmost(before, s.what);
    if (tops.size() != 1 || !before.part(tops.front()).mesh || before.part(tops.front()).shape) continue;
    const Affine world = world_of(before, tops.front());
    const std::size_t slopes =
        crossing_slopes(*before.part(tops.front()).mesh, band_in_mesh(world, band->direction, band->near, band->far));
    if (slopes > 0)
      add(fmt::format("{} sloping {} across a plane of the band without a vertex there: {} slope is another now.",
                      slopes, slopes == 1 ? "triangle lies" : "triangles lie", slopes == 1 ? "its" : "their"));
  }
  return words;
}

}  // namespace

Result<BandInPlace> band_of(const Stretch& s, const Scene& scene, std::size_t number) {
  const StretchWay& way = s.ways[number];
  const std::vector<PartId> tops = topmost(scene, s.what);
  if (tops.empty()) return fail("Nothing is picked to be stretched.", "what", "Pick a part first.");
  BandInPlace band;
  band.direction = frame_for(s, scene, tops.front()).column[static_cast<std::size_t>(way.along)];
  const Extent extent = extent_of(scene, tops, band.direction);
  if (extent.empty()) return fail(fmt::format("{} is empty: it has no length.", names_of(scene, tops)), "what");
  band.low = extent.low;
  band.high = extent.high;
  if (is_flat(scene, tops, band)) {
    // A flat outline: it is given a thickness, from where it is.
    band.near = band.far = band.high = band.low;
    band.from = BandInPlace::From::Found;
    return band;
  }
  if (!(band.high > band.low))
    return fail(fmt::format("{} is flat along {}.", names_of(scene, tops), "XYZ"[way.along]), "along");
  const Reading reading{scene, s.axes, tops.front()};
  if (way.near_plane && way.far_plane) {
    for (const auto& [amount, height] : {std::pair{&*way.near_plane, &band.near}, {&*way.far_plane, &band.far}}) {
      const auto value = evaluate(*amount, EntryKind::Length, 0, reading);
      if (!value) return tl::unexpected(value.error());
      *height = band.low + *value;
    }
    if (band.near > band.far) std::swap(band.near, band.far);
    const double slack = 1e-9 * (band.high - band.low);
    if (!(band.far - band.near > slack)) return fail("The two planes of the band are at the same place.", "band");
    if (band.near < band.low - slack || band.far > band.high + slack)
      return fail(fmt::format("The band goes from {} to {}, but what is stretched is {} long.",
                              length_words(band.near - band.low), length_words(band.far - band.low),
                              length_words(band.high - band.low)),
                  "band");
    return band;
  }
  // One part by itself: a band that it keeps, or one that can be found.
  const Part& only = scene.part(tops.front());
  const bool alone = tops.size() == 1 && only.mesh && only.children.empty();
  if (alone) {
    const Affine world = world_of(scene, tops.front());
    const double per_height = world_per_height(world, band.direction), shift = dot(band.direction, world.translation);
    const auto put = [&](const StretchBand& own, BandInPlace::From from, std::string name) {
      band.near = own.low * per_height + shift;
      band.far = own.high * per_height + shift;
      band.from = from;
      band.name = std::move(name);
      return band;
    };
    if (!way.band.empty() || only.bands) {
      const Vec3 normal = transpose(world.linear) * band.direction;
      std::vector<std::string> names;
      for (const KeptBand& kept : bands_of(scene, tops.front()))
        if (same_way(kept.band.normal, normal) && (way.band.empty() || way.band == kept.name))
          names.push_back(kept.name);
      if (names.size() == 1)
        return put(*own_band(only, world, band.direction, names.front()), BandInPlace::From::Own, names.front());
      if (!way.band.empty())
        return fail(fmt::format("\"{}\" keeps no band \"{}\" along {}.", only.name, way.band, "XYZ"[way.along]),
                    "band");
      if (names.size() > 1)
        return fail(fmt::format("\"{}\" keeps several bands along {}: {}.", only.name, "XYZ"[way.along],
                                fmt::join(names, ", ")),
                    "band", "Name the one that is meant.");
    }
    if (only.shape) {
      band.near = band.low;
      band.far = band.high;
      band.from = BandInPlace::From::Found;
      return band;
    }
    for (int axis = 0; axis < 3; ++axis) {
      Vec3 normal;
      normal[axis] = 1;
      if (!same_way(normal, transpose(world.linear) * band.direction)) continue;
      auto found = evident_band(*only.mesh, axis);
      if (!found) break;
      if ((transpose(world.linear) * band.direction)[axis] < 0)
        *found = {-found->normal, -found->along, -found->high, -found->low};
      return put(*found, BandInPlace::From::Found, {});
    }
    return fail(fmt::format("\"{}\" has no one stretch along {} where its outline stays the same.", only.name,
                            "XYZ"[way.along]),
                "band", "Say between which two places it is lengthened.");
  }
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
    return room ? Result<double>(room->second - room->first - now) : tl::unexpected(room.error());
  }
  return 0.0;
}

Result<Scene> apply(const Stretch& s, const Scene& scene) {
  if (const auto parts = movable(scene, s.what); !parts) return tl::unexpected(parts.error());
  Scene result = scene;
  for (std::size_t i = 0; i < s.ways.size(); ++i) {
    auto next = one_way(s, result, i);
    if (!next) return next;
    result = std::move(*next);
  }
  return result;
}

// clang-format off
const Table<Stretch>& table_of(const Stretch*) {
  static const Table<Stretch> table{.key = "stretch",
      .does = "Makes parts longer between two planes; what lies beyond keeps its shape.", .check = check,
      .waits = waits_for, .next = next_after, .begun = begun, .left = left_of, .remark = remark_of,
      .take_back = take_back, .leading = "to",
      .hints = {.nothing = "Click the part to stretch.",
      .ready = "Type the length, drag its end, or drag the planes of the band. X, Y, Z: along that axis.",
      .done = "Done. Click a blank to change it, or type the next length.",
      .dragging = "Type a length, or let go. Shift: increments."},
      .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Stretch::what>, .ask = "Click the part to stretch instead.",
     .needed = true, .always = true, .doc = "the parts that are made longer, as one"},
    {.key = "axes", .name = "Axes", .at = slot<&Stretch::axes>, .ask = "Click the part whose own axes to use.",
     .always = true, .doc = "left out: the first part's own"},
    {.key = "along", .name = "Along", .at = along_slot, .choices = kAxisLetters, .always = true, .count = ways_of,
     .given = [](Stretch& s, std::size_t i) { s.ways[i].near_plane.reset(), s.ways[i].far_plane.reset(), s.ways[i].band.clear(); },
     .doc = "along which of the axes; left out: x"},
    {.key = "to", .name = "Length", .at = way_slot<&StretchWay::to>, .count = ways_of, .given = given_to,
     .now = length_now, .doc = "how long it becomes, mm; `it` is the length now"},
    {.key = "by", .name = "Longer by", .at = way_slot<&StretchWay::by>, .count = ways_of, .given = given_by,
     .doc = "instead of a length: by how much longer; negative: shorter"},
    {.key = "between", .name = "Room to fill",
     .write = [](const Stretch& s, const Scene& scene) { return between_to_json(s.ways.front(), scene); },
     .read = [](Stretch& s, const Json& json, const Scene& scene) { return between_from_json(s.ways.front(), json, scene); },
     .value = "two places", .doc = "instead of a length: the places between which it fills the room"},
    {.key = ".start", .name = "Filling from", .at = way_slot<&StretchWay::start>, .ask = "Click the place where the room begins.",
     .waiting = "a place", .role = Role::To, .count = ways_of, .given = given_place},
    {.key = ".end", .name = "Filling to", .at = way_slot<&StretchWay::end>, .ask = "Click the place where the room ends.",
     .waiting = "a place", .role = Role::To, .count = ways_of, .given = given_place},
    {.key = "gap", .name = "Gaps",
     .write = [](const Stretch& s, const Scene&) { return gap_to_json(s.ways.front()); },
     .read = [](Stretch& s, const Json& json, const Scene& scene) { return gap_from_json(s.ways.front(), json, scene); },
     .value = "a length, or one for each place", .doc = "how much of the room is left free at its two ends"},
    {.key = ".gap", .name = "Gap at its start", .at = gap_slot<0>, .count = ways_of},
    {.key = ".gap_end", .name = "Gap at its end", .at = gap_slot<1>, .count = ways_of},
    {.key = "band", .name = "Band", .at = way_slot<&StretchWay::band>, .count = ways_of,
     .write = [](const Stretch& s, const Scene&) { return band_to_json(s.ways.front()); },
     .read = [](Stretch& s, const Json& json, const Scene& scene) { return band_from_json(s.ways.front(), json, scene); },
     .value = "two distances from the low side, or the name of a band", .doc = "left out: the band that the part keeps, "
            "or where its outline is the same all along; of a group, between the parts at its ends"},
    {.key = ".near", .name = "Band from", .at = way_slot<&StretchWay::near_plane>, .count = ways_of, .given = given_plane},
    {.key = ".far", .name = "Band to", .at = way_slot<&StretchWay::far_plane>, .count = ways_of, .given = given_plane},
    {.key = "also", .name = "Second direction", .write = also_to_json, .read = also_from_json,
     .value = "`{\"along\": \"z\", \"to\": 300}`", .doc = "a second direction at once, with the same keys"},
    {.key = ".second", .name = "Second direction",
     .options = [](const Stretch&, const Scene&, std::size_t) {
           return std::vector<Option>{{"along X"}, {"along Y"}, {"along Z"}};
         },
     .choose = [](Stretch& s, std::size_t, std::size_t option, const ChoiceContext&) {
           if (static_cast<int>(option) == s.ways.front().along || option > 2) return;
           s.ways.resize(2);
           s.ways[1] = {};
           s.ways[1].along = static_cast<int>(option);
         }},
    {.key = "hold", .name = "Holding still", .at = slot<&Stretch::hold>, .choices = kHolds,
     .barred = [](const Stretch& s) -> std::string_view { return fills(s.ways.front()) ? "it fills the room" : ""; },
     .doc = "which side stays where it is; left out: the low one"},
    {.key = "copies", .name = "Instances", .at = slot<&Stretch::links>, .choices = kLinks,
     .doc = "of a part that shares its mesh: whether it stays linked with a length of its own, the others become as "
            "long, or it gets a mesh of its own; left out: `linked`"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
