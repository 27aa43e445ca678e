#include "core/verbs/measure_verb.h"

#include <fmt/format.h>

#include "core/fit/measure.h"
#include "core/verbs/phrase.h"

namespace tack {
namespace {

constexpr std::string_view kPickHint =
    "Click a part, or draw a rectangle. Shift+P: vertices, edges, faces. Right-drag turns the view, middle-drag pans, "
    "the wheel zooms.";

constexpr Choice kPickOf[] = {{"parts", "parts"}, {"vertices", "vertices"}, {"edges", "edges"}, {"faces", "faces"}};

void sentence(Phrase& s, const Pick& pick) {
  s.say("Picking ").blank("of");
  if (pick.what.empty()) return void(s.say(". Nothing is picked."));
  s.say(fmt::format(". {} picked: ", pick.what.size())).blank("what").say(".");
}

void sentence(Phrase& s, const Measure& measure) {
  const bool both = measure.from && measure.to;
  s.say(both ? "Measured from " : "Measure from ").blank("from").say(" to ").blank("to");
  if (!both) return void(s.say("."));
  const auto a = find_tack(s.scene(), *measure.from), b = find_tack(s.scene(), *measure.to);
  if (!a || !b) return;
  const Measured m = tack::measure(*a, *b);
  const auto shown_length = [&](double v) {
    const Shown shown = show_length(v, s.unit(), 4);
    return (shown.exact ? "" : "≈ ") + shown.text;
  };
  s.say(fmt::format(": {}, along x {}, y {}, z {}", shown_length(m.distance), shown_length(m.delta.x),
                    shown_length(m.delta.y), shown_length(m.delta.z)));
  if (m.angle && means_a_direction(*measure.from) && means_a_direction(*measure.to))
    s.say(fmt::format(", directions {} apart", show_angle(*m.angle, 3).text));
  s.say(".");
}

}  // namespace

std::vector<std::pair<std::string, Meet>> closings(const Measure& measure, const Scene& scene) {
  std::vector<std::pair<std::string, Meet>> ways;
  if (!measure.from || !measure.to) return ways;
  const auto a = find_tack(scene, *measure.from), b = find_tack(scene, *measure.to);
  if (!a || !b || distance(a->point, b->point) <= exact_bound(scene, *measure.from, *measure.to)) return ways;
  for (const auto& [moves, stays] : {std::pair{&*measure.from, &*measure.to}, {&*measure.to, &*measure.from}}) {
    if (!is_on_part(*moves) || (is_on_part(*stays) && is_within(scene, stays->part, moves->part))) continue;
    Meet meet;
    meet.what = {moves->part};
    meet.from = *moves;
    meet.to = *stays;
    meet.facing = Facing::AsIs;
    ways.emplace_back("close it, moving " + path_of(scene, moves->part), meet);
  }
  return ways;
}

// clang-format off
const Table<Pick>& table_of(const Pick*) {
  static const Table<Pick> table{.key = "pick", .does = "Picks parts.", .in_files = false, .on_patches = true,
      .ready = [](const Pick&) { return false; }, .hints = {.nothing = kPickHint, .ready = kPickHint},
      .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Pick::what>},
    {.key = "of", .name = "What is picked", .at = slot<&Pick::of>, .choices = kPickOf},
  }};
  return table;
}
const Table<Measure>& table_of(const Measure*) {
  static const Table<Measure> table{.key = "measure", .does = "Measures between two places.", .in_files = false, .on_patches = true,
      .ready = [](const Measure& m) { return m.from && m.to; },
      .waits = [](const Measure& m) { return !m.from ? BlankId{0, 0} : !m.to ? BlankId{1, 0} : BlankId{}; },
      .hints = {.done = "Click another place to measure again."}, .sentence = sentence, .rows = {
    {.key = "from", .name = "From", .at = slot<&Measure::from>, .ask = "Click the first place.", .waiting = "a place",
     .role = Role::From, .needed = true, .doc = "a place"},
    {.key = "to", .name = "To", .at = slot<&Measure::to>, .ask = "Click the second place.", .waiting = "another place",
     .role = Role::To, .needed = true, .doc = "another place"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
