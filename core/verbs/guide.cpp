#include "core/verbs/guide.h"

#include "core/math/split.h"
#include "core/verbs/phrase.h"

namespace tack {
namespace {

constexpr Choice kGuideKinds[] = {{"point", "point"}, {"line", "line"}, {"plane", "plane"}};

// The first kind is none, which no list offers.
Slot kind_slot(AddGuide& guide, std::size_t) {
  return EnumSlot{&guide.kind, [](const void* at) { return int(*static_cast<const GuideKind*>(at)) - 1; },
                  [](void* at, int value) { *static_cast<GuideKind*>(at) = static_cast<GuideKind>(value + 1); }};
}

Result<void> check(const AddGuide& guide) {
  if (!guide.at) return fail("There is no place for the guide yet.", {}, "Click the place.");
  if (guide.kind == GuideKind::None) return fail("A guide is a point, a line or a plane.", "kind");
  return guide.name.empty() ? Result<void>() : check_name(guide.name, "A guide");
}

void sentence(Phrase<AddGuide>& s, const AddGuide& guide) {
  s.say("Laid a guide ", "Lay a guide ").blank("kind").say(" through ").blank("at");
  const auto tack = guide.at ? find_tack(s.scene(), *guide.at) : Result<Tack>(fail({}));
  if (tack && !tack->direction && !tack->roll && guide.kind != GuideKind::Point)
    s.say(guide.kind == GuideKind::Line ? " along World Z" : " across World Z")
        .say(", as the place has no direction of its own");
  s.say(", named ");
  s.blank("name", 0, guide.name.empty() ? free_name(s.scene(), kNoPart, "Guide") : guide.name).say(".");
}

}  // namespace

Result<Scene> apply(const AddGuide& guide, const Scene& scene) {
  const auto tack = find_tack(scene, *guide.at);
  if (!tack) return tl::unexpected(tack.error());
  Part part;
  part.guide = guide.kind;
  part.name = free_name(scene, kNoPart, guide.name.empty() ? "Guide" : guide.name);
  const auto placement = with_linear(part.placement, frame_of(*tack));
  if (!placement) return tl::unexpected(placement.error());
  part.placement = *placement;
  part.placement.position = tack->point;
  // What rounding left of a factor of 1 is 1.
  part.placement.scale = {1, 1, 1};
  part.placement.skew = {};
  Scene result = scene;
  result.add(std::move(part));
  return result;
}

// clang-format off
const Table<AddGuide>& table_of(const AddGuide*) {
  static const Table<AddGuide> table{.key = "guide", .does = "Lays a point, line or plane to be caught on.",
      .check = check, .waits = [](const AddGuide& g) { return g.at ? BlankId{} : blank_of<AddGuide>("at"); },
      .sentence = sentence, .rows = {
    {.key = "kind", .name = "Kind of guide", .at = kind_slot, .choices = kGuideKinds, .needed = true, .always = true,
     .doc = "what it is"},
    {.key = "at", .name = "At", .at = slot<&AddGuide::at>,
     .ask = "Click the place the guide goes through: a line along its direction, a plane across it.",
     .waiting = "a place", .needed = true,
     .doc = "the place it goes through: a line along its direction, a plane across it"},
    {.key = "name", .name = "Name", .at = slot<&AddGuide::name>, .doc = "left out: `Guide`, with a number"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
