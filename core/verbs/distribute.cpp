#include "core/verbs/distribute.h"

#include <fmt/format.h>

#include <numeric>

#include "core/math/degrees.h"
#include "core/math/split.h"
#include "core/verbs/phrase.h"
#include "core/verbs/rigid.h"
#include "core/verbs/round_an_axis.h"
#include "core/verbs/turn.h"

namespace tack {
namespace {

using Way = Distribute::Way;
using By = Distribute::By;
using Spacing = Distribute::Spacing;
using Hold = Distribute::Hold;

constexpr Choice kRowWays[] = {{"along", ""}, {"from", ""}, {"round", ""}};
constexpr Choice kBy[] = {{"gaps", "gaps"}, {"pivots", "pivots"}};
constexpr Choice kSpacings[] = {
    {"evenly", "even"}, {"touching", "touching"}, {"all alike", "given"}, {"each its own", "single"}};
constexpr Choice kHolds[] = {
    {"both ends", "ends"}, {"the first", "first"}, {"the last", "last"}, {"the middle", "middle"}};
constexpr std::size_t kShownGaps = 6;

Result<std::array<Vec3, 2>> ends_of(const Distribute& d, const Scene& scene) {
  const auto from = find_tack(scene, *d.from), to = find_tack(scene, *d.to);
  if (!from || !to) return tl::unexpected(from ? to.error() : from.error());
  if (!(distance(from->point, to->point) > 1e-9 * (1 + length(from->point))))
    return fail("The two places coincide: they give no line.", "along");
  return std::array<Vec3, 2>{from->point, to->point};
}

double sum_of(const std::vector<double>& values) { return std::accumulate(values.begin(), values.end(), 0.0); }

Result<std::vector<double>> gaps_of(const Distribute& d, const Scene& scene, const std::vector<InRow>& row,
                                    double room) {
  const std::size_t count = row.size() - 1;
  const auto length = [&](const Amount& amount) {
    return evaluate(amount, EntryKind::Length, 0, Reading{scene, d.axes, row.front().part});
  };
  switch (d.spacing) {
    case Spacing::Touching: return std::vector<double>(count, 0.0);
    case Spacing::Given: {
      const auto gap = length(d.gap);
      if (!gap) return tl::unexpected(gap.error());
      return std::vector<double>(count, *gap);
    }
    case Spacing::Single: {
      if (d.gaps.size() != count)
        return fail(
            fmt::format("{} parts have {} gaps between them; the list gives {}.", row.size(), count, d.gaps.size()),
            "spacing");
      std::vector<double> gaps;
      for (std::size_t i = 0; i < count; ++i) {
        const double now = row[i + 1].low - row[i].high;
        const auto gap = d.gaps[i] ? length(*d.gaps[i]) : Result<double>(now);
        if (!gap) return tl::unexpected(gap.error());
        gaps.push_back(*gap);
      }
      return gaps;
    }
    default: return std::vector<double>(count, room / static_cast<double>(count));
  }
}

// --- round an axis

struct Ring {
  Vec3 centre, axis;
  std::vector<PartId> order;
  std::vector<double> by;  // degrees that each part goes on
};

Result<Ring> ring_of(const Distribute& d, const Scene& scene) {
  const auto parts = topmost(scene, d.what);
  if (parts.size() < 2) return fail("It takes two parts or more to be spaced.", "what");
  const auto centre = still_point(d.about, scene, parts.front(), parts, d.axes);
  if (!centre) return tl::unexpected(centre.error());
  const auto over = angle_over(d.over, Reading{scene, d.axes, parts.front()});
  if (!over) return tl::unexpected(over.error());
  const Mat3 frame = row_frame(d, scene);
  const auto a = static_cast<std::size_t>(d.axis);
  const Vec3 axis = frame.column[a], x = frame.column[(a + 1) % 3], y = frame.column[(a + 2) % 3];
  struct OnRing {
    PartId part;
    double angle;  // on from the first, the way round, in [0, 360)
  };
  std::vector<OnRing> all;
  std::optional<double> first;
  for (const PartId id : parts) {
    const Vec3 way = pivot_in_world(scene, id) - *centre;
    const double across = dot(way, x), up = dot(way, y);
    if (!(std::hypot(across, up) > 1e-9 * (1 + length(way))))
      return fail(
          fmt::format("The pivot of \"{}\" lies on the axis: it has no direction round it.", scene.part(id).name));
    const double angle = atan2_degrees(up, across);
    if (!first) first = angle;
    double on = (*over > 0 ? 1 : -1) * (angle - *first);
    while (on < 0) on += 360;
    while (on >= 360) on -= 360;
    all.push_back({id, on});
  }
  std::stable_sort(all.begin() + 1, all.end(), [](const OnRing& p, const OnRing& q) { return p.angle < q.angle; });
  Ring ring{*centre, axis, {}, {}};
  const double gaps = gaps_round(*over, static_cast<int>(all.size()));
  const double sign = *over > 0 ? 1 : -1;
  for (std::size_t i = 0; i < all.size(); ++i) {
    ring.order.push_back(all[i].part);
    ring.by.push_back(i == 0 ? 0 : *over * (static_cast<double>(i) / gaps) - sign * all[i].angle);
  }
  return ring;
}

Result<Scene> spaced_round(const Distribute& d, const Scene& scene) {
  const auto ring = ring_of(d, scene);
  if (!ring) return tl::unexpected(ring.error());
  Scene result = scene;
  for (std::size_t i = 1; i < ring->order.size(); ++i) {
    const PartId id = ring->order[i];
    const Mat3 rotation = rotation_about(ring->axis, ring->by[i]);
    if (d.turned) {
      auto part = turned(result, id, {rotation, ring->by[i]});
      if (!part) return tl::unexpected(part.error());
      result.place(id, part->placement, part->quarters);
    }
    const Vec3 target = ring->centre + rotation * (pivot_in_world(scene, id) - ring->centre);
    if (const auto ok = put_pivot(result, id, target); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

Result<Scene> spaced_on_line(const Distribute& d, const Scene& scene) {
  const auto ends = ends_of(d, scene);
  if (!ends) return tl::unexpected(ends.error());
  const auto row = row_of_parts(d, scene);
  if (!row) return tl::unexpected(row.error());
  if (row->size() < 2) return fail("It takes two parts or more to be spaced.", "what");
  Scene result = scene;
  const auto gaps = static_cast<double>(row->size() - 1);
  for (std::size_t i = 0; i < row->size(); ++i) {
    const double share = static_cast<double>(i) / gaps;
    const Vec3 target = i + 1 == row->size() ? (*ends)[1] : (*ends)[0] + ((*ends)[1] - (*ends)[0]) * share;
    if (pivot_in_world(scene, (*row)[i].part) == target) continue;
    if (const auto ok = put_pivot(result, (*row)[i].part, target); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

// --- the table

std::string_view line_only(const Distribute& d) { return d.way == Way::Line ? "" : "it is not from place to place"; }
std::string_view round_only(const Distribute& d) { return d.way == Way::Round ? "" : "it is not round an axis"; }
std::string_view not_on_line(const Distribute& d) { return d.way == Way::Line ? "the two places say it" : ""; }
std::string_view not_round(const Distribute& d) {
  return d.way == Way::Round ? "round an axis they are spaced by angles" : "";
}
std::string_view axis_only(const Distribute& d) {
  return d.way == Way::Axis   ? ""
         : d.way == Way::Line ? "the two places say it"
                              : "round an axis they are spaced by angles";
}
std::string_view even_only(const Distribute& d) {
  return d.way != Way::Axis ? axis_only(d) : d.spacing == Spacing::Even ? "" : "the gaps say how long it is";
}

// A given gap leaves one end free; all that is even may hold both.
void hold_one(Distribute& d) {
  if (d.hold == Hold::Ends) d.hold = Hold::First;
}
void by_gap(Distribute& d, std::size_t) {
  d.spacing = Spacing::Given;
  d.span.reset();
  hold_one(d);
}
void by_single(Distribute& d, std::size_t) {
  d.spacing = Spacing::Single;
  d.span.reset();
  hold_one(d);
}
// Typed in place of what touches: then it is even over that length.
void by_span(Distribute& d, std::size_t) {
  d.spacing = Spacing::Even;
  hold_one(d);
}
void by_spacing(Distribute& d, std::size_t) {
  if (d.spacing != Spacing::Even) d.span.reset(), hold_one(d);
  if (d.spacing == Spacing::Touching) d.by = By::Gaps;
}
void holding(Distribute& d, std::size_t) {
  if (d.hold != Hold::Ends) return;
  d.span.reset();
  d.spacing = Spacing::Even;
}
void by_way(Distribute& d, std::size_t) {
  if (d.way == Way::Axis) return;
  d.spacing = Spacing::Even;
  if (d.way == Way::Line) d.by = By::Pivots;
}
void by_what(Distribute& d, std::size_t) {
  if (d.by == By::Pivots && d.spacing == Spacing::Touching) d.spacing = Spacing::Even;
}

std::optional<double> gap_now(const Distribute& d, const Scene& scene, std::size_t i) {
  const auto plan = plan_of(d, scene);
  return plan && i < plan->gap.size() ? std::optional(plan->gap[i]) : std::nullopt;
}
std::optional<double> span_now(const Distribute& d, const Scene& scene, std::size_t) {
  const auto plan = plan_of(d, scene);
  return plan ? std::optional(plan->span) : std::nullopt;
}

Result<void> along_from_json(Distribute& d, const Json& json, const Scene& scene) {
  constexpr const char* kForms = "Write x, y or z, or two places.";
  if (json.is_string()) {
    const auto axis = axis_named(json);
    if (!axis) return fail("This names no axis.", "along", kForms);
    d.way = Way::Axis;
    d.axis = *axis;
    return {};
  }
  if (!json.is_array() || json.size() != 2) return fail("This names no axis and no two places.", "along", kForms);
  d.way = Way::Line;
  d.by = By::Pivots;
  if (auto ok = into(d.from, place_from_json(json[0], "along", scene)); !ok) return ok;
  return into(d.to, place_from_json(json[1], "along", scene));
}
Json along_to_json(const Distribute& d, const Scene& scene) {
  if (d.way == Way::Axis) return axis_letter(d.axis);
  if (d.way == Way::Line && d.from && d.to)
    return Json::array({address_text(scene, *d.from), address_text(scene, *d.to)});
  return nullptr;
}
Result<void> round_from_json(Distribute& d, const Json& json, const Scene&) {
  const auto axis = axis_named(json);
  if (!axis) return fail("This names no axis.", "round", "Write x, y or z.");
  d.way = Way::Round;
  d.axis = *axis;
  return {};
}

Json spacing_to_json(const Distribute& d, const Scene&) {
  if (d.spacing == Spacing::Given) return amount_to_json(d.gap);
  if (d.spacing == Spacing::Touching) return "touching";
  if (d.spacing == Spacing::Even) return "even";
  Json list = Json::array();
  for (const auto& gap : d.gaps) list.push_back(gap ? amount_to_json(*gap) : Json(nullptr));
  return list;
}
Result<void> spacing_from_json(Distribute& d, const Json& json, const Scene& scene) {
  const Reading reading{scene, d.axes, d.what.empty() ? kNoPart : d.what.front()};
  if (json == "even" || json == "touching") {
    d.spacing = json == "even" ? Spacing::Even : Spacing::Touching;
    if (d.spacing == Spacing::Touching) hold_one(d);
    return {};
  }
  if (json.is_array()) {
    d.gaps.clear();
    for (const Json& gap : json) {
      if (gap.is_null()) {
        d.gaps.emplace_back();
        continue;
      }
      auto amount = amount_from_json(gap, EntryKind::Length, "spacing", reading, 0);
      if (!amount) return tl::unexpected(amount.error());
      d.gaps.emplace_back(*amount);
    }
    by_single(d, 0);
    return {};
  }
  if (auto ok = into(d.gap, amount_from_json(json, EntryKind::Length, "spacing", reading, 0)); !ok) return ok;
  by_gap(d, 0);
  return {};
}

Result<void> check(const Distribute& d) {
  if (d.way == Way::Line && (!d.from || !d.to)) return fail("A line needs two places.", "along", "Click them.");
  if (d.way == Way::Line && d.by == By::Gaps)
    return fail("On a line between places parts are spaced by their pivots.", "by");
  if (d.way != Way::Axis) {
    if (d.spacing == Spacing::Even) return {};
    return fail("Between two places, and round an axis, parts are spaced evenly.", "spacing",
                "Write even, or name an axis along which they stand.");
  }
  if (d.by == By::Pivots && d.spacing == Spacing::Touching)
    return fail("Pivots cannot touch: parts do.", "spacing", "Space them by gaps.");
  if (d.hold == Hold::Ends && d.spacing != Spacing::Even)
    return fail("Both ends cannot hold while the gaps are given.", "hold", "Hold the first, the last or the middle.");
  if (d.hold == Hold::Ends && d.span)
    return fail("Both ends cannot hold while the length is given.", "hold", "Hold the first, the last or the middle.");
  if (d.span && d.spacing != Spacing::Even) return fail("The gaps already say how long it is.", "span");
  return {};
}

void along_axis(Distribute& d, std::size_t axis) {
  if (d.way == Way::Line) d.way = Way::Axis, d.by = By::Gaps;
  d.axis = static_cast<int>(axis);
  d.chosen = true;
}

BlankId leading_gap(const Distribute& d) {
  if (d.way != Way::Axis) return d.way == Way::Round ? blank_of<Distribute>("over") : BlankId{};
  if (d.spacing == Spacing::Touching) return blank_of<Distribute>("span");
  return blank_of<Distribute>(d.spacing == Spacing::Single ? ".gaps" : ".gap");
}

BlankId waits_for(const Distribute& d) {
  if (d.what.empty() || d.way != Way::Line) return {};
  return !d.from ? blank_of<Distribute>(".from") : !d.to ? blank_of<Distribute>(".to") : BlankId{};
}

Distribute next_after(const Distribute& d) {
  Distribute next = d;
  next.what.clear();
  next.from.reset();
  next.to.reset();
  next.span.reset();
  next.gap = {};
  next.gaps.clear();
  next.chosen = false;
  if (next.spacing == Spacing::Single) next.spacing = Spacing::Even;
  if (next.way == Way::Line) next.way = Way::Axis, next.by = By::Gaps;
  if (next.spacing == Spacing::Even) next.hold = Hold::Ends;
  return next;
}

// What is picked tells the axis, until one is chosen: the one along which it reaches furthest.
Distribute begun_with(Distribute d, const Scene& scene) {
  const auto parts = topmost(scene, d.what);
  d.gaps.resize(parts.empty() ? 0 : parts.size() - 1);
  if (d.way != Way::Axis || d.chosen || parts.size() < 2) return d;
  Box box;
  const Mat3 back = transpose(row_frame(d, scene));
  for (const PartId id : parts) box.include(back * pivot_in_world(scene, id));
  const Vec3 size = box.size();
  d.axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
  return d;
}

std::string left_of(const Distribute& d, const Scene& before, const Scene& after, const LengthUnit& unit) {
  if (d.way != Way::Axis) return {};
  const auto nested = [&](PartId id) { return before.contains(id) && before.part(id).parent != kNoPart; };
  if (std::none_of(d.what.begin(), d.what.end(), nested)) return {};
  const auto plan = plan_of(d, before);
  const auto direction = row_direction(d, before);
  if (!plan || !direction) return {};
  double worst = 0;
  PartId furthest = kNoPart;
  for (std::size_t i = 0; i < plan->row.size(); ++i) {
    const PartId id = plan->row[i].part;
    if (!after.contains(id)) continue;
    const double wanted = plan->low[i] - plan->row[i].low;
    const double off = std::abs(dot(*direction, pivot_in_world(after, id) - pivot_in_world(before, id)) - wanted);
    if (off > 1e-9 * (length(pivot_in_world(after, id)) + plan->span + 1) && off > worst) worst = off, furthest = id;
  }
  return furthest == kNoPart ? std::string() : strayed_sentence(name_of(before, furthest), worst, unit);
}

std::string remark_of(const Distribute& d, const Scene& before, const Scene&) {
  if (d.way != Way::Axis || d.by == By::Pivots || d.spacing != Spacing::Even) return {};
  const auto plan = plan_of(d, before);
  if (!plan || plan->gap.empty() || plan->gap.front() >= 0) return {};
  return fmt::format("They do not fit beside each other there: each laps over the next by {}.",
                     show_length(-plan->gap.front(), kMillimetres, 4).text);
}

void sentence(Phrase& s, const Distribute& d) {
  s.say("Distributed ", "Distribute ").blank("what").say(" ").blank(".way").say(" ");
  if (d.way == Way::Line) {
    s.blank(".from").say(" to ").blank(".to").say(", by their pivots, evenly.");
    return;
  }
  s.blank(".axis").say(" of ").blank("axes").say(" axes");
  if (d.way == Way::Round) {
    s.say(" about ").blank("about").say(" over ").blank("over").say(", ").blank("turned").say(".");
    return;
  }
  s.say(", by ").blank("by").say(", ").blank(".spacing");
  const auto plan = plan_of(d, s.scene());
  const auto shown_now = [&](double value) { return show_length(value, s.unit(), 4).text; };
  const std::size_t count = plan ? plan->gap.size() : 0;
  if (d.spacing == Spacing::Single) {
    s.say(": ");
    for (std::size_t i = 0; i < std::min(count, kShownGaps); ++i) {
      s.blank(".gaps", i, d.gaps[i] ? shown(*d.gaps[i], EntryKind::Length, s.unit()) : shown_now(plan->gap[i]));
      if (i + 1 < std::min(count, kShownGaps)) s.say(" · ");
    }
    if (count > kShownGaps) s.say(" …");
  } else if (d.spacing != Spacing::Touching) {
    s.say(": ").blank(".gap", 0,
                      d.spacing == Spacing::Given ? shown(d.gap, EntryKind::Length, s.unit())
                                                  : shown_now(count > 0 ? plan->gap.front() : 0));
    s.say(" each");
  }
  s.say(", ").blank("span", 0, d.span ? shown(*d.span, EntryKind::Length, s.unit()) : shown_now(plan ? plan->span : 0));
  s.say(" from end to end, holding ").blank("hold").say(" still.");
}

Slot gaps_slot(Distribute& d, std::size_t i) { return i < d.gaps.size() ? Slot(&d.gaps[i]) : Slot(); }

}  // namespace

Mat3 row_frame(const Distribute& d, const Scene& scene) {
  const auto parts = topmost(scene, d.what);
  return parts.empty() ? Mat3{} : squared_up(axes_frame(scene, parts.front(), d.axes).linear);
}

Result<RowPlan> plan_of(const Distribute& d, const Scene& scene) {
  auto row = row_of_parts(d, scene);
  if (!row) return tl::unexpected(row.error());
  const std::size_t count = row->size();
  if (count < 2) return fail("It takes two parts or more to be spaced.", "what");
  RowPlan plan;
  const double low = row->front().low, high = row->back().high;
  std::vector<double> sizes;
  for (const InRow& one : *row) sizes.push_back(one.high - one.low);
  const double sizes_together = sum_of(sizes);
  plan.span = high - low;
  if (d.span) {
    const auto span = evaluate(*d.span, EntryKind::Length, plan.span, Reading{scene, d.axes, row->front().part});
    if (!span) return tl::unexpected(span.error());
    plan.span = *span;
  }
  auto gaps = gaps_of(d, scene, *row, plan.span - sizes_together);
  if (!gaps) return tl::unexpected(gaps.error());
  const bool even = d.spacing == Spacing::Even;
  if (!even) plan.span = sizes_together + sum_of(*gaps);
  if (!std::isfinite(plan.span)) return fail("The lengths are not finite.");
  const Hold hold = d.hold == Hold::Ends && d.span ? Hold::First : d.hold;
  const double begin = hold == Hold::Last     ? high - plan.span
                       : hold == Hold::Middle ? low + ((high - low) - plan.span) / 2
                                              : low;
  double before = 0, given = 0;
  for (std::size_t i = 0; i < count; ++i) {
    // Of even gaps the share is taken from the whole room, not added up.
    const double room =
        even ? (plan.span - sizes_together) * (static_cast<double>(i) / static_cast<double>(count - 1)) : given;
    double at = begin + before + room;
    const bool stays = (i == 0 && (hold == Hold::First || hold == Hold::Ends)) ||
                       (i + 1 == count && (hold == Hold::Last || (hold == Hold::Ends && even)));
    if (stays) at = (*row)[i].low;
    plan.low.push_back(at);
    before += sizes[i];
    if (i + 1 < count) given += (*gaps)[i];
  }
  plan.row = std::move(*row);
  plan.gap = std::move(*gaps);
  return plan;
}

Result<Vec3> row_direction(const Distribute& d, const Scene& scene) {
  if (d.way != Way::Line) return row_frame(d, scene).column[static_cast<std::size_t>(d.axis)];
  const auto ends = ends_of(d, scene);
  if (!ends) return tl::unexpected(ends.error());
  return normalized((*ends)[1] - (*ends)[0]);
}

Result<std::vector<InRow>> row_of_parts(const Distribute& d, const Scene& scene) {
  const auto direction = row_direction(d, scene);
  if (!direction) return tl::unexpected(direction.error());
  // Boxes are measured in a frame whose first column is the direction of the row.
  Mat3 frame = row_frame(d, scene);
  auto axis = static_cast<std::size_t>(d.axis);
  if (d.way == Way::Line) {
    axis = 0;
    const Vec3 side = normalized(cross(*direction, least_axis(*direction)));
    frame.column = {*direction, side, cross(*direction, side)};
  }
  const auto a = static_cast<int>(axis);
  struct Ordered {
    InRow in_row;
    double middle, low;
  };
  std::vector<Ordered> all;
  for (const PartId id : in_tree_order(scene, topmost(scene, d.what))) {
    const Box box = box_along(scene, id, frame);
    const double pivot = dot(frame.column[axis], pivot_in_world(scene, id));
    const bool by_pivots = d.by == By::Pivots || scene.part(id).guide != GuideKind::None;
    if (box.empty() && !by_pivots) return fail(fmt::format("\"{}\" is empty: it has no box.", scene.part(id).name));
    const double middle = box.empty() ? pivot : box.centre()[a], low = box.empty() ? pivot : box.low[a];
    all.push_back({by_pivots ? InRow{id, pivot, pivot} : InRow{id, box.low[a], box.high[a]}, middle, low});
  }
  std::stable_sort(all.begin(), all.end(), [](const Ordered& p, const Ordered& q) {
    return p.middle != q.middle ? p.middle < q.middle : p.low < q.low;
  });
  std::vector<InRow> row;
  row.reserve(all.size());
  for (const Ordered& one : all) row.push_back(one.in_row);
  return row;
}

Result<Scene> apply(const Distribute& d, const Scene& scene) {
  const auto parts = movable(scene, d.what);
  if (!parts) return tl::unexpected(parts.error());
  if (d.way == Way::Round) return spaced_round(d, scene);
  if (d.way == Way::Line) return spaced_on_line(d, scene);
  const auto plan = plan_of(d, scene);
  if (!plan) return tl::unexpected(plan.error());
  const Vec3 direction = row_frame(d, scene).column[static_cast<std::size_t>(d.axis)];
  Scene result = scene;
  for (std::size_t i = 0; i < plan->row.size(); ++i) {
    const double by = plan->low[i] - plan->row[i].low;
    if (by == 0) continue;
    const PartId id = plan->row[i].part;
    const Vec3 target = pivot_in_world(scene, id) + direction * by;
    if (const auto ok = put_pivot(result, id, target); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

// clang-format off
const Table<Distribute>& table_of(const Distribute*) {
  static const Table<Distribute> table{.key = "distribute",
      .does = "Spaces parts along an axis, between two places or round an axis: evenly, touching, or by typed gaps.", .on_patches = true,
      .check = check, .ready = [](const Distribute& d) { return d.what.size() > 1 && check(d).has_value(); },
      .waits = waits_for, .next = next_after, .begun = begun_with, .left = left_of, .remark = remark_of,
      .to_axis = along_axis, .at_once = true, .leads = leading_gap,
      .hints = {.nothing = "Pick the parts to space.",
      .ready = "Enter, or Do it, spaces them as shown. Type a gap; X, Y, Z: along that axis.",
      .done = "Done. Type the gap, drag it, or click a blank to correct it.",
      .dragging = "Type the gap, or let go. Ctrl: this gap alone."},
      .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Distribute::what>, .ask = "Click the part to space instead.",
     .needed = true, .always = true, .doc = "the parts that are spaced; two or more"},
    {.key = "axes", .name = "Axes", .at = slot<&Distribute::axes>, .ask = "Click the part whose own axes to use.",
     .barred = not_on_line, .doc = "those of the first part where each has its own; left out: `world`"},
    {.key = "along", .name = "Along an axis or a line", .write = along_to_json, .read = along_from_json,
     .value = "`x`, `y`, `z`, or two places",
     .doc = "the direction of the row; between two places both ends have a pivot on them, and all pivots come onto the line"},
    {.key = "round", .name = "Round an axis",
     .write = [](const Distribute& d, const Scene&) {
           return d.way == Way::Round ? Json(axis_letter(d.axis)) : Json(nullptr);
         },
     .read = round_from_json, .value = "`x`, `y`, `z`", .doc = "round this axis instead; each part keeps its distance from it"},
    {.key = "about", .name = "About", .at = slot<&Distribute::about>, .ask = "Click the point that the axis goes through.",
     .always = true, .barred = round_only, .doc = "the point that the axis goes through; left out: `middle`"},
    over_row<Distribute>(round_only),
    {.key = "turned", .name = "Turning along or not", .at = slot<&Distribute::turned>, .choices = kTurnedAlong, .always = true,
     .barred = round_only, .doc = "parts turn along; else only their pivots move"},
    {.key = "spacing", .name = "Spacing", .write = spacing_to_json, .read = spacing_from_json,
     .value = "`even`, `touching`, a length, or a list of lengths",
     .doc = "`even` shares what room there is; a length is the gap everywhere; a list has one for each gap"},
    {.key = "by", .name = "By gaps or pivots", .at = slot<&Distribute::by>, .choices = kBy, .barred = not_round,
     .given = by_what, .doc = "equal gaps between boxes, or equal distances of pivots"},
    {.key = "span", .name = "Whole length", .at = slot<&Distribute::span>, .barred = even_only, .given = by_span,
     .now = span_now, .doc = "from the first's low side to the last's high side; with `even`"},
    {.key = "hold", .name = "Holding still", .at = slot<&Distribute::hold>, .choices = kHolds, .barred = axis_only,
     .given = holding, .doc = "left out: `ends` where they are even, else `first`"},
    {.key = ".way", .name = "Along a line, from place to place, or round", .at = slot<&Distribute::way>, .choices = kRowWays,
     .given = by_way},
    {.key = ".axis", .name = "Axis", .at = [](Distribute& d, std::size_t) { return axis_number(d.axis); },
     .choices = kAxisLetters, .given = [](Distribute& d, std::size_t) { d.chosen = true; }},
    {.key = ".spacing", .name = "Evenly or by gaps", .at = slot<&Distribute::spacing>, .choices = kSpacings,
     .given = by_spacing},
    {.key = ".gap", .name = "Gap", .at = slot<&Distribute::gap>, .given = by_gap, .now = gap_now},
    {.key = ".gaps", .name = "Gap", .at = gaps_slot, .count = [](const Distribute& d) { return d.gaps.size(); },
     .given = by_single, .now = gap_now},
    {.key = ".from", .name = "From", .at = slot<&Distribute::from>, .ask = "Click the place where the first pivot goes.",
     .waiting = "a place", .barred = line_only},
    {.key = ".to", .name = "To", .at = slot<&Distribute::to>, .ask = "Click the place where the last pivot goes.",
     .waiting = "another place", .barred = line_only},
  }};
  return table;
}
// clang-format on

}  // namespace tack
