#include "core/verbs/brush.h"

#include <fmt/format.h>

#include <cmath>

#include "core/verbs/blank_table.h"
#include "core/verbs/element_verbs.h"
#include "core/verbs/patch.h"
#include "core/verbs/phrase.h"

namespace tack {
namespace {

constexpr std::size_t kMostPlaces = 100'000;

Json stroke_to_json(const Brush& brush, const Scene&) {
  Json list = Json::array();
  for (const StrokePlace& p : brush.stroke.items()) list.push_back(Json::array({p.triangle, p.at.x, p.at.y, p.at.z}));
  return list;
}

Result<void> stroke_from_json(Brush& brush, const Json& json, const Scene&) {
  const auto wrong = [] {
    return fail("This should be a list of places, each a triangle and three numbers in the mesh's coordinates.",
                "stroke");
  };
  if (!json.is_array() || json.empty() || json.size() > kMostPlaces) return wrong();
  std::vector<StrokePlace> places;
  for (const Json& p : json) {
    if (!p.is_array() || p.size() != 4 || !p[0].is_number_unsigned() || p[0].get<std::uint64_t>() > 0xFFFFFFFEu)
      return wrong();
    StrokePlace place{p[0].get<std::uint32_t>(), {}};
    for (std::size_t i = 0; i < 3; ++i) {
      if (!p[i + 1].is_number() || !std::isfinite(p[i + 1].get<double>())) return wrong();
      place.at[static_cast<int>(i)] = p[i + 1].get<double>();
    }
    places.push_back(place);
  }
  brush.stroke.places = std::make_shared<const std::vector<StrokePlace>>(std::move(places));
  return {};
}

void sentence(Phrase& s, const Brush& brush) {
  if (brush.part == kNoPart) {
    s.say("Brushed a part smooth, ", "Brush a part smooth, ");
  } else {
    s.say("Brushed ", "Brush ").blank("what").say(" smooth, ");
  }
  s.blank("width").say(" wide, in ").blank("passes").say(" passes, each by ").blank("strength");
  s.say(" of the way, ").blank("volume").say(", ").blank("copies").say(".");
}

// The brush stays as it is; the next stroke is another one.
Brush next_after(const Brush& brush) {
  Brush next = brush;
  next.part = kNoPart;
  next.stroke = {};
  return next;
}

}  // namespace

Result<Scene> apply(const Brush& brush, const Scene& scene) {
  const Part* part = scene.find(brush.part);
  if (!part) return fail("The part that was brushed is no longer there.", "what");
  if (!is_model(*part)) return fail(fmt::format("\"{}\" has no surface to brush.", part->name), "what");
  const Reading reading(scene);
  const auto width = evaluate(brush.width, EntryKind::Length, 0, reading);
  if (!width) return tl::unexpected(width.error());
  if (!(*width > 0)) return fail("A brush is more than 0 wide.", "width");
  const auto way = smoothing_of(brush.passes, brush.strength, scene);
  if (!way) return tl::unexpected(way.error());
  const Mat3 to_space = world_of(scene, brush.part).linear;
  const double reach = *width / 2;
  const auto stroke = found_on(*part->mesh, brush.stroke.items(), to_space, reach);
  if (stroke.empty()) return fail(fmt::format("The stroke is no longer on \"{}\".", part->name), "stroke");
  const Shares shares = shares_of_stroke(*part->mesh, stroke, to_space, reach);
  if (shares.vertices.empty())
    return fail(fmt::format("The brush went over no vertex of \"{}\".", part->name), "width", "Make it wider.");
  const auto places = smoothed(*part->mesh, shares, way->passes, way->strength, brush.volume);
  auto next = moved(*part->mesh, shares, places);
  if (!next) return tl::unexpected(next.error());
  Scene result = scene;
  if (auto ok = give_edited_mesh(result, brush.part, *next, shares, brush.copies == Copies::All); !ok)
    return tl::unexpected(ok.error());
  return result;
}

// clang-format off
const Table<Brush>& table_of(const Brush*) {
  static const Table<Brush> table{.key = "brush", .does = "Smooths what a stroke of a brush goes over.",
      .ready = [](const Brush& b) { return b.part != kNoPart && !b.stroke.items().empty(); }, .next = next_after,
      .parts = [](const Brush& b, const Scene&) { return b.part == kNoPart ? std::vector<PartId>{} : std::vector{b.part}; },
      .remark = [](const Brush& b, const Scene& before, const Scene& after) { return edited_remark(before, after, {b.part}); },
      .leading = "width",
      .hints = {.nothing = "Drag over a part. Esc: done with brushing.", .ready = "Drag over a part. Esc: done with brushing.",
                .done = "Drag again, or click a blank to change this stroke. Esc: done.",
                .dragging = "Let go: it is smoothed. Esc: not."},
      .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Brush::part>, .ask = "Click the part.", .needed = true,
     .write = [](const Brush& b, const Scene& scene) { return b.part == kNoPart ? Json(nullptr) : parts_to_json({b.part}, scene); },
     .read = [](Brush& b, const Json& json, const Scene& scene) {
           return into(b.part, only_part_from_json(json, "A stroke goes over one part.", scene));
         },
     .value = "list of one part", .doc = "the part that was brushed"},
    {.key = "stroke", .name = "Stroke", .needed = true, .write = stroke_to_json, .read = stroke_from_json,
     .value = "list of places, each a triangle's number and three numbers",
     .doc = "where the middle of the brush went, in the mesh's coordinates; the triangle is looked for where it is another one now"},
    {.key = "width", .name = "Width", .at = slot<&Brush::width>, .always = true, .doc = "mm across the brush: its middle counts whole, its rim not at all"},
    {.key = "passes", .name = "Passes", .at = slot<&Brush::passes>, .kind = EntryKind::Factor, .doc = "1 to 1000; left out: 10"},
    {.key = "strength", .name = "Strength", .at = slot<&Brush::strength>, .kind = EntryKind::Factor,
     .doc = "how far towards the mean of its neighbours each pass goes, above 0 to 0.65; left out: 0.5"},
    {.key = "volume", .name = "Volume", .at = slot<&Brush::volume>, .choices = kSmoothVolume, .always = true,
     .doc = "whether it is kept: fine roughness goes and large shapes stay, else dents fill up; left out: `true`"},
    {.key = "copies", .name = "Instances", .at = slot<&Brush::copies>, .choices = kCopiesChoices, .always = true,
     .doc = "whether the other parts that share the mesh change with it; left out: `instances`"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
