#include "core/verbs/stretch.h"

#include <fmt/format.h>

#include <set>

#include "core/math/degrees.h"
#include "core/verbs/phrase.h"
#include "core/verbs/readdress.h"
#include "core/verbs/stretch_band.h"
#include "core/verbs/thicken.h"

namespace tack {
namespace {

using Hold = Stretch::Hold;
using Links = MeshLinks;

std::string length_words(double mm, const LengthUnit& unit = kMillimetres) { return show_length(mm, unit, 4).text; }

Result<Scene> one_way(const Stretch& s, const Scene& scene, std::size_t number) {
  const StretchWay& way = s.ways[number];
  const auto band = band_of(s, scene, number);
  if (!band) return tl::unexpected(band.error());
  const auto by = growth_of(s, scene, number, *band);
  if (!by) return tl::unexpected(by.error());
  const double least = band->high - band->low - (band->far - band->near);
  if (const std::vector<PartId> flat = topmost(scene, s.what); is_flat(scene, flat, *band)) {
    if (way.band.empty() && !way.near_plane && !way.far_plane && !fills(way)) {
      const double held = s.hold == Hold::Low ? 0 : s.hold == Hold::Middle ? 0.5 : 1;
      return thickened_part(scene, flat.front(), band->direction, *by, held, s.links);
    }
    return fail(fmt::format("{} is flat along {}: it has no band there.", names_of(scene, flat), "XYZ"[way.along]),
                "band", "Give it a thickness first, by a length alone.");
  }
  if (!(*by > -(band->far - band->near)))
    return fail(
        fmt::format("{} cannot be {} long along {}: the ends that keep their shape are {}.", names_of(scene, s.what),
                    length_words(band->high - band->low + *by), "XYZ"[way.along], length_words(least)),
        "to", fmt::format("Choose more than {}.", length_words(least)));
  const std::vector<PartId> tops = topmost(scene, s.what);
  const auto offset = offset_of(s, scene, number, *band, *by);
  if (!offset) return tl::unexpected(offset.error());
  return stretched_along(scene, tops, *band, *by, *offset, s.links);
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
void given_plane(Stretch& s, std::size_t i) { s.ways[i].band.clear(); }
void given_band(Stretch& s, std::size_t i) {
  if (s.ways[i].band.empty()) return;
  s.ways[i].near_plane.reset();
  s.ways[i].far_plane.reset();
}
void given_along(Stretch& s, std::size_t i) {
  given_plane(s, i);
  s.ways[i].near_plane.reset(), s.ways[i].far_plane.reset();
  s.chosen = true;
}
void along_axis(Stretch& s, std::size_t axis) {
  s.ways.front().along = static_cast<int>(axis);
  given_along(s, 0);
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

// The longest side of what is picked is the one that is made longer most often, until an axis is chosen.
Stretch begun(Stretch s, const Scene& scene) {
  if (s.what.empty() || !scene.contains(s.what.front())) return s;
  if (s.ways.size() == 1 && !s.chosen && !says_length(s.ways.front())) {
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
  if (!way.near_plane && !way.far_plane) return nullptr;
  const auto plane = [](const std::optional<Amount>& amount) { return amount ? amount_to_json(*amount) : Json(); };
  return Json::array({plane(way.near_plane), plane(way.far_plane)});
}
Result<void> band_from_json(StretchWay& way, const Json& json, const Scene& scene) {
  if (json.is_string()) {
    way.band = json.get<std::string>();
    return check_name(way.band, "A band");
  }
  if (!json.is_array() || json.size() != 2)
    return fail("This should be two distances from the low side, or the name of a band that the part keeps.", "band");
  if (json[0].is_null() && json[1].is_null())
    return fail("A band without planes says nothing.", "band", "Leave it out.");
  for (std::size_t i = 0; i < 2; ++i)
    if (json[i].is_null())
      continue;
    else if (auto ok = into(i == 0 ? way.near_plane : way.far_plane,
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

void say_way(Phrase& p, const Stretch& s, std::size_t i) {
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
          : alone ? " (found: its outline is the same there)"
                  : " (found: between the parts at its two ends)");
  }
}

void sentence(Phrase& p, const Stretch& s) {
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
    const auto offset = by ? offset_of(s, before, i, *band, *by) : by;
    const Reach is = reach_of(after, tops, band->direction);
    if (!offset || is.empty()) continue;
    const double wanted = band->high - band->low + *by, off = is.length() - wanted;
    const double begins_off = is.low - (band->low + *offset);
    const double slack = 1e-9 * (std::abs(is.low) + std::abs(is.high) + wanted);
    const auto say = [&](const std::string& sentence) { words += (words.empty() ? "" : " ") + sentence; };
    const auto exactly = [&](double mm) {
      return show_length(std::abs(mm), LengthUnit{unit.name, unit.millimetres}, 9).text;
    };
    if (std::abs(off) > slack)
      say(fmt::format("Along {} it is {} long, {} off.", "XYZ"[way.along], length_words(is.length(), unit),
                      exactly(off)));
    if (std::abs(begins_off) > slack)
      say(fmt::format("Along {} its low side is {} from where it should be.", "XYZ"[way.along], exactly(begins_off)));
  }
  return words;
}

// How many slopes of a part's mesh were cut by the planes between which it has been lengthened; of a mesh that several
// share, once.
std::size_t slopes_cut(const Part& was, const Part& is, std::set<std::uint64_t>& seen) {
  if (!was.mesh || was.shape || was.mesh == is.mesh || !is.source->lengthened) return 0;
  if (!seen.insert(was.mesh->number()).second) return 0;
  std::size_t count = 0;
  for (std::size_t i = was.source->lengthened ? was.source->lengthened->size() : 0; i < is.source->lengthened->size();
       ++i)
    count += crossing_slopes(*was.mesh, carried_along((*is.source->lengthened)[i].band, is.source->baked));
  return count;
}

// Faces that are not square to the direction, and slopes that the planes cut.
std::string remark_of(const Stretch& s, const Scene& before, const Scene& after) {
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
  }
  std::size_t slopes = 0;
  std::vector<PartId> sloping;
  std::set<std::uint64_t> seen;
  std::vector<PartId> pending = topmost(before, s.what);
  while (!pending.empty()) {
    const PartId id = pending.back();
    pending.pop_back();
    for (const PartId child : before.part(id).children) pending.push_back(child);
    const std::size_t here = slopes_cut(before.part(id), after.part(id), seen);
    if (here > 0) slopes += here, sloping.push_back(id);
  }
  if (slopes > 0)
    add(fmt::format("{} sloping {} of {} a plane of the band without a vertex on it, so {} slope has changed.", slopes,
                    slopes == 1 ? "triangle" : "triangles", names_of(before, sloping),
                    slopes == 1 ? "crosses" : "cross", slopes == 1 ? "its" : "their"));
  if (const std::string lost = lost_words(before, after); !lost.empty()) add(lost);
  return words;
}

}  // namespace

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
      .take_back = take_back, .to_axis = along_axis, .leading = "to",
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
     .given = given_along,
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
    {.key = "band", .name = "Band", .at = way_slot<&StretchWay::band>, .count = ways_of, .given = given_band,
     .write = [](const Stretch& s, const Scene&) { return band_to_json(s.ways.front()); },
     .read = [](Stretch& s, const Json& json, const Scene& scene) { return band_from_json(s.ways.front(), json, scene); },
     .value = "two distances from the low side, or the name of a band", .doc = "left out, as is one of the two by `null`: "
            "the band that the part keeps, or where its outline is the same all along; of a group, between the parts at its ends"},
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
