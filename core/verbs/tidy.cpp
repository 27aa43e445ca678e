#include "core/verbs/tidy.h"

#include <fmt/format.h>

#include "core/verbs/phrase.h"
#include "core/verbs/place.h"
#include "core/verbs/scale.h"
#include "core/verbs/turn.h"

namespace tack {
namespace {

// The nearest multiple, as the decimal it is written as.
double on_multiple(double value, double step) {
  const double multiple = std::nearbyint(value / step) * step;
  return fewest_decimals(multiple, 4e-16 * std::abs(multiple));
}

// The steps of a group; 0 for what is left alone.
Result<Vec3> steps_in(const Amounts& amounts, EntryKind kind, const Scene& scene) {
  Vec3 steps;
  for (std::size_t i = 0; i < 3; ++i) {
    if (!amounts[i]) continue;
    const auto step = evaluate(*amounts[i], kind, 0, Reading{scene});
    if (!step) return tl::unexpected(step.error());
    if (!(*step > 0) || !std::isfinite(*step)) return fail("The multiples are of more than 0.");
    steps[static_cast<int>(i)] = *step;
  }
  return steps;
}

struct TidySteps {
  Vec3 position, rotation, size, factor;
};
Result<TidySteps> steps_of(const Tidy& t, const Scene& scene) {
  TidySteps steps;
  for (const auto& [amounts, kind, into_steps] : {std::tuple{&t.position, EntryKind::Length, &steps.position},
                                                  {&t.rotation, EntryKind::Angle, &steps.rotation},
                                                  {&t.size, EntryKind::Length, &steps.size},
                                                  {&t.factor, EntryKind::Factor, &steps.factor}}) {
    const auto read = steps_in(*amounts, kind, scene);
    if (!read) return tl::unexpected(read.error());
    *into_steps = *read;
  }
  return steps;
}

void on_multiples(const Vec3& now, const Vec3& steps, Amounts& wanted) {
  for (int i = 0; i < 3; ++i) {
    if (!(steps[i] > 0)) continue;
    const double value = on_multiple(now[i], steps[i]);
    if (value != now[i]) wanted[static_cast<std::size_t>(i)] = Amount{value};
  }
}

Result<void> check(const Tidy& t) {
  for (std::size_t i = 0; i < 3; ++i)
    if (t.size[i] && t.factor[i])
      return fail(
          fmt::format("A size is the factor times the mesh: along {} only one of them can be on a multiple.", "xyz"[i]),
          "size", "Leave one of them out.");
  if (any_given(t.position) || any_given(t.rotation) || any_given(t.size) || any_given(t.factor)) return {};
  return fail("Tidy needs multiples for the position, the rotation, the size or the factors.", "position");
}

Tidy next_after(const Tidy& t) {
  Tidy next = t;
  next.what.clear();
  return next;
}

// How many changed, and by how much at most.
std::string remark_of(const Tidy& t, const Scene& before, const Scene& after) {
  std::size_t changed = 0;
  double length = 0, angle = 0, factor = 0, size = 0;
  for (const PartId id : t.what) {
    if (!before.contains(id) || !after.contains(id)) continue;
    const PlacedNumbers was = numbers_in(before, id, t.axes), is = numbers_in(after, id, t.axes);
    const double moved = largest_component(is.position - was.position),
                 turned = largest_component(is.rotation - was.rotation);
    const double grown = largest_component(own_size(after, id) - own_size(before, id));
    const double scaled = any_given(t.factor) ? largest_component(is.scale - was.scale) : 0;
    if (before.part(id).placement != after.part(id).placement) ++changed;
    length = std::max(length, moved);
    angle = std::max(angle, turned);
    factor = std::max(factor, scaled);
    size = std::max(size, any_given(t.size) ? grown : 0);
  }
  if (changed == 0) return "All were on the multiples already.";
  std::string by;
  const auto add = [&](bool any, const std::string& words) {
    if (any) by += (by.empty() ? "" : ", ") + words;
  };
  add(length > 0, "moved by " + show_length(length, kMillimetres, 4).text);
  add(angle > 0, "turned by " + show_angle(angle, 4).text);
  add(size > 0, "sized by " + show_length(size, kMillimetres, 4).text);
  add(factor > 0, "factors by " + show_number(factor, 4).text);
  return fmt::format("{} of {} changed, at most {}.", changed, t.what.size(), by);
}

void group_words(Phrase& s, const char* name, const char* key) { s.say(std::string(name) + " to ").three(key); }

void sentence(Phrase& s, const Tidy& t) {
  s.say("Tidied ", "Tidy ").blank("what").say(": ");
  group_words(s, "position", "position");
  group_words(s, ", rotation", "rotation");
  if (any_given(t.size)) group_words(s, ", own size", "size");
  if (any_given(t.factor)) group_words(s, ", factor", "factor");
  s.say(", in ").blank("axes").say(" axes.");
  if (!any_given(t.size)) s.offer("size", 0, "own size");
  if (!any_given(t.factor)) s.offer("factor", 0, "factor");
}

}  // namespace

Result<Scene> apply(const Tidy& t, const Scene& scene) {
  if (const auto parts = movable(scene, t.what); !parts) return tl::unexpected(parts.error());
  const auto steps = steps_of(t, scene);
  if (!steps) return tl::unexpected(steps.error());
  Scene result = scene;
  for (const PartId id : in_tree_order(scene, t.what)) {
    const PlacedNumbers now = numbers_in(result, id, t.axes);
    Place place;
    place.what = {id};
    place.axes = t.axes;
    on_multiples(now.position, steps->position, place.position);
    on_multiples(now.rotation, steps->rotation, place.rotation);
    on_multiples(now.scale, steps->factor, place.scale);
    if (any_given(place.position) || any_given(place.rotation) || any_given(place.scale)) {
      auto placed = apply(place, result);
      if (!placed) return placed;
      result = std::move(*placed);
    }
    Scale scale;
    scale.what = {id};
    scale.hold = About{};  // its pivot, whose place is tidy already
    on_multiples(own_size(result, id), steps->size, scale.size);
    if (!any_given(scale.size)) continue;
    auto scaled = apply(scale, result);
    if (!scaled) return scaled;
    result = std::move(*scaled);
  }
  return result;
}

// clang-format off
const Table<Tidy>& table_of(const Tidy*) {
  static const Table<Tidy> table{.key = "tidy", .does = "Puts each part's own numbers on the nearest multiples.", .on_patches = true,
      .check = check, .next = next_after, .remark = remark_of, .at_once = true,
      .hints = {.nothing = "Pick the parts to tidy.",
      .ready = "Enter, or Do it, tidies them as shown. Click a value to change the multiples; an empty one stays as it is.",
      .done = "Done. Click a blank to change it."},
      .sentence = sentence, .rows = {
    what_row<Tidy>("Click the part to tidy instead.", "the parts whose numbers are tidied, each by itself"),
    {.key = "axes", .name = "Axes", .at = slot<&Tidy::axes>, .ask = "Click the part whose own axes to use.",
     .doc = "of position, rotation and factors"},
    {.key = "position", .name = "Position along", .at = slot<&Tidy::position>, .three = true,
     .doc = "multiples of so much along x, y and z"},
    {.key = "rotation", .name = "Rotation about", .at = slot<&Tidy::rotation>, .kind = EntryKind::Angle, .three = true,
     .doc = "multiples of the angles"},
    {.key = "size", .name = "Own size along", .at = slot<&Tidy::size>, .three = true,
     .doc = "multiples of the part's own size, which changes about its pivot"},
    {.key = "factor", .name = "Factor along", .at = slot<&Tidy::factor>, .kind = EntryKind::Factor, .three = true,
     .doc = "multiples of the factors"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
