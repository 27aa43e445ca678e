#include "core/verbs/pivot.h"

#include <fmt/format.h>

#include "core/math/split.h"
#include "core/verbs/phrase.h"

namespace tack {
namespace {

constexpr const char* kTurnedForms = "Use as-is, world, parent, {\"like\": \"Hub\"} or an address.";

bool is_box(const std::optional<About>& at) {
  return at && (at->kind == About::Kind::OwnBox || at->kind == About::Kind::AllBox);
}
std::string_view fractions_barred(const Pivot& p) { return is_box(p.at) ? "" : "the pivot is at no point of a box"; }
std::string_view copies_barred(const Pivot& p) {
  return p.turned.kind == Turned::Kind::AsItIs ? "no axes are turned" : "";
}

// Where the pivot is now, in the coordinates of the numbers.
std::optional<Vec3> numbers_now(const Pivot& p, const Scene& scene) {
  if (p.what.empty() || !scene.contains(p.what.front())) return std::nullopt;
  const PartId id = p.what.front();
  const auto back = inverse(p.in_mesh ? world_of(scene, id) : axes_frame(scene, id, p.axes));
  if (!back) return std::nullopt;
  return *back * (world_of(scene, id) * scene.part(id).placement.pivot);
}

std::vector<Option> at_options(const Pivot&, const Scene&, std::size_t) {
  std::vector<Option> options = about_options();
  options.front().words = "its centre of mass";  // where its own pivot is already
  options.push_back({"a point of its box, in fractions"});
  options.push_back({"a point of the box of all, in fractions"});
  return options;
}
void choose_at(Pivot& p, std::size_t, std::size_t option, const ChoiceContext&) {
  constexpr std::size_t kClick = 6;
  if (option == 0) p.at = About{About::Kind::Own, {TackKind::Mass, kNoPart, 0, {}}, {}};
  if (option > 0 && option < kClick) p.at = about_option(option);
  if (option <= kClick) return;
  // Its middle, until the fractions are typed: they are blanks of the sentence.
  p.at = option == kClick + 1 ? bottom() : middle_of_all();
  p.at->fraction = {0.5, 0.5, 0.5};
  if (option == kClick + 1) p.axes = AxesKind::Local;
}

std::string turned_words(const Pivot& p, const Scene& scene) {
  switch (p.turned.kind) {
    case Turned::Kind::World: return "like the world";
    case Turned::Kind::Parent: return "like its parent";
    case Turned::Kind::Part: return "like " + name_of(scene, p.turned.part);
    case Turned::Kind::Tack: return p.turned.tack ? "like the " + tack_words(scene, *p.turned.tack) : "like a place";
    default: return "as it is";
  }
}
void choose_turned(Pivot& p, std::size_t, std::size_t option, const ChoiceContext&) {
  if (option < 3) p.turned = {static_cast<Turned::Kind>(option), kNoPart, std::nullopt};
}

Json axes_to_json_of(const Pivot& p, const Scene& scene) {
  if (p.in_mesh) return "mesh";
  return any_given(p.numbers) || is_box(p.at) ? axes_to_json(p.axes, scene) : Json(nullptr);
}
Result<void> axes_from_json_of(Pivot& p, const Json& json, const Scene& scene) {
  p.in_mesh = json == "mesh";
  if (p.in_mesh) return {};
  return into(p.axes, axes_from_json(json, scene));
}

Json at_to_json(const Pivot& p, const Scene& scene) {
  if (p.at) return about_to_json(*p.at, scene);
  return any_given(p.numbers) ? amounts_to_json(p.numbers) : Json(nullptr);
}
Result<void> at_from_json(Pivot& p, const Json& json, const Scene& scene) {
  if (json.is_array())
    return into(p.numbers, amounts_from_json(json, EntryKind::Length, "at",
                                             {scene, p.axes, p.what.empty() ? kNoPart : p.what.front()}, 1));
  return into(p.at, about_from_json(json, "at", scene));
}

Json turned_to_json(const Pivot& p, const Scene& scene) {
  switch (p.turned.kind) {
    case Turned::Kind::World: return "world";
    case Turned::Kind::Parent: return "parent";
    case Turned::Kind::Part: return Json{{"like", path_of(scene, p.turned.part)}};
    case Turned::Kind::Tack: return p.turned.tack ? Json(address_text(scene, *p.turned.tack)) : Json(nullptr);
    default: return nullptr;
  }
}
Result<void> turned_from_json(Pivot& p, const Json& json, const Scene& scene) {
  if (json == "as-is") return {};
  if (json == "world" || json == "parent") {
    p.turned.kind = json == "world" ? Turned::Kind::World : Turned::Kind::Parent;
    return {};
  }
  if (json.is_object() && json.size() == 1 && json.contains("like")) {
    p.turned.kind = Turned::Kind::Part;
    return into(p.turned.part, part_from_json(json["like"], "turned", scene));
  }
  const auto tack = place_from_json(json, "turned", scene);
  if (!tack) return fail(tack.error().what, "turned", kTurnedForms);
  p.turned = {Turned::Kind::Tack, kNoPart, *tack};
  return {};
}

Result<Vec3> target_of(const Pivot& pivot, const Scene& scene, PartId id, const std::vector<PartId>& parts) {
  const Vec3 now = world_of(scene, id) * scene.part(id).placement.pivot;
  if (pivot.at) return still_point(*pivot.at, scene, id, parts, pivot.axes);
  if (!any_given(pivot.numbers)) return now;
  const Affine frame = pivot.in_mesh ? world_of(scene, id) : axes_frame(scene, id, pivot.axes);
  const auto back = inverse(frame);
  if (!back) return fail(fmt::format("\"{}\" belongs to a part that is flattened.", scene.part(id).name));
  Vec3 at = *back * now;
  for (int i = 0; i < 3; ++i) {
    const auto& amount = pivot.numbers[static_cast<std::size_t>(i)];
    if (!amount) continue;
    const auto value = evaluate(*amount, EntryKind::Length, at[i], Reading{scene, pivot.axes, id});
    if (!value) return tl::unexpected(value.error());
    at[i] = *value;
  }
  return frame * at;
}

// Moves the pivot to `target` (world) and nothing else.
Result<void> move_pivot(Scene& scene, PartId id, const Vec3& target) {
  if (!is_finite(target)) return fail("The place for the pivot is not a finite number.");
  const Affine world = world_of(scene, id);
  const auto to_mesh = inverse(world);
  const auto to_parent = inverse(parent_world_of(scene, id));
  if (!to_mesh || !to_parent)
    return fail(fmt::format("\"{}\" is flattened: its pivot has no place of its own.", scene.part(id).name));
  Placement placement = scene.part(id).placement;
  const Affine before = matrix_of(placement);
  placement.pivot = *to_mesh * target;
  // What rounding leaves is measured and put right once.
  placement.pivot += to_mesh->linear * (target - world * placement.pivot);
  placement.position = before * placement.pivot;
  Part part = scene.part(id);
  part.placement = placement;
  if (part.typed)
    part.typed = std::make_shared<const TypedNumbers>(TypedNumbers{{}, part.typed->rotation, part.typed->scale});
  scene.replace(id, std::move(part));
  return {};
}

bool is_ready(const Pivot& p) { return p.at || any_given(p.numbers) || p.turned.kind != Turned::Kind::AsItIs; }

Result<void> check(const Pivot& p) {
  if (!is_ready(p)) return fail("Pivot needs \"at\" or \"turned\".", "at", "Click a place, or type its numbers.");
  if (p.at && any_given(p.numbers)) return fail("The pivot goes to a place, or to numbers: not both.", "at");
  return {};
}

BlankId waits_for(const Pivot& p) { return p.what.empty() || is_ready(p) ? BlankId{} : blank_of<Pivot>("at"); }

void sentence(Phrase& s, const Pivot& p) {
  s.say("Put the pivot of ").blank("what").say(" at ");
  if (p.at) {
    std::string words = about_words(*p.at, s.scene(), p.what);
    if (p.at->kind == About::Kind::OwnBox) words += " of its box";
    s.blank("at", 0, words);
    if (is_box(p.at)) s.say(", that is ").three(".fraction").say(" of it");
  } else {
    if (!s.past() && !any_given(p.numbers)) s.blank("at", 0, "a place", true).say(", that is ");
    const auto now = p.what.size() == 1 ? numbers_now(p, s.scene()) : std::nullopt;
    for (std::size_t i = 0; i < 3; ++i) {
      if (!p.numbers[i] && now)
        s.blank(".number", i, show_length((*now)[static_cast<int>(i)], s.unit(), 4).text);
      else
        s.blank(".number", i);
      s.say(i < 2 ? " · " : " of ");
    }
    if (p.in_mesh)
      s.say("its mesh");
    else
      s.blank("axes").say(" axes");
  }
  s.say(", turned ").blank("turned", 0, turned_words(p, s.scene())).say(".");
}

}  // namespace

Result<Mat3> wanted_axes(const Turned& turned, const Scene& scene, PartId id) {
  switch (turned.kind) {
    case Turned::Kind::World: return Mat3{};
    case Turned::Kind::Parent: return squared_up(parent_world_of(scene, id).linear);
    case Turned::Kind::Part:
      if (!scene.contains(turned.part)) return fail("The part to turn like has been deleted.", "turned");
      return own_axes(scene, turned.part);
    case Turned::Kind::Tack: {
      if (!turned.tack) return fail("There is no place to be turned like.", "turned");
      const auto tack = find_tack(scene, *turned.tack);
      if (!tack) return tl::unexpected(tack.error());
      const std::string words = tack_words(scene, *turned.tack);
      if (!tack->direction && !tack->roll) return fail(fmt::format("The {} has no direction.", words), "turned");
      return frame_of(*tack);
    }
    default: return own_axes(scene, id);
  }
}

Result<Scene> apply(const Pivot& pivot, const Scene& scene) {
  const auto parts = movable(scene, pivot.what);
  if (!parts) return tl::unexpected(parts.error());
  Scene result = scene;
  // A child picked together with its parent has a pivot of its own all the same.
  for (const PartId id : in_tree_order(scene, pivot.what)) {
    const auto target = target_of(pivot, scene, id, pivot.what);
    if (!target) return tl::unexpected(target.error());
    const auto axes = wanted_axes(pivot.turned, scene, id);
    if (!axes) return tl::unexpected(axes.error());
    if (const auto ok = move_pivot(result, id, *target); !ok) return tl::unexpected(ok.error());
    if (pivot.turned.kind == Turned::Kind::AsItIs) continue;
    auto turned = with_own_axes(result, id, *axes, pivot.copies);
    if (!turned) return turned;
    result = std::move(*turned);
  }
  return result;
}

// clang-format off
const Table<Pivot>& table_of(const Pivot*) {
  static const Table<Pivot> table{.key = "pivot",
      .does = "Puts pivots anywhere, and turns parts' own axes; nothing moves.", .on_patches = true, .check = check, .ready = is_ready,
      .waits = waits_for, .leading = ".number", .hints = {.nothing = "Click the part whose pivot to move.",
      .ready = "Click a place, drag the ring over the box, or type X, Y, Z.",
      .done = "Done: nothing but the pivot moved. Click another place, or type its numbers.",
      .dragging = "It snaps to corners, edge middles and the centre of the box. Let go to put it there."},
      .sentence = sentence, .rows = {
    {.key = "what", .name = "What", .at = slot<&Pivot::what>, .ask = "Click the part whose pivot to move instead.",
     .needed = true, .always = true, .doc = "the parts whose pivots move"},
    {.key = "axes", .name = "Axes", .at = slot<&Pivot::axes>, .ask = "Click the part whose own axes to use.",
     .given = [](Pivot& p, std::size_t) { p.in_mesh = false; }, .write = axes_to_json_of, .read = axes_from_json_of,
     .value = "axes, or `mesh`", .doc = "of the numbers and boxes in `at`; `mesh`: the mesh's own coordinates"},
    {.key = "at", .name = "At", .at = slot<&Pivot::at>, .ask = "Click the place for the pivot.", .waiting = "a place",
     .acts = true, .given = [](Pivot& p, std::size_t) { p.numbers = {}; }, .options = at_options, .choose = choose_at,
     .write = at_to_json, .read = at_from_json,
     .value = "a point, as for what is held still, or three lengths, `null` to leave one alone",
     .doc = "where the pivot goes"},
    {.key = ".number", .name = "Along", .at = slot<&Pivot::numbers>, .three = true,
     .given = [](Pivot& p, std::size_t) { p.at.reset(); },
     .now = [](const Pivot& p, const Scene& scene, std::size_t i) -> std::optional<double> {
           const auto now = numbers_now(p, scene);
           return now ? std::optional((*now)[static_cast<int>(i)]) : std::nullopt;
         }},
    {.key = ".fraction", .name = "Fraction of the box along",
     .at = [](Pivot& p, std::size_t i) { return is_box(p.at) ? Slot(&p.at->fraction[static_cast<int>(i)]) : Slot(); },
     .kind = EntryKind::Factor, .three = true, .barred = fractions_barred,
     .now = [](const Pivot& p, const Scene&, std::size_t i) -> std::optional<double> {
           return is_box(p.at) ? std::optional(p.at->fraction[static_cast<int>(i)]) : std::nullopt;
         }},
    {.key = "turned", .name = "Turned", .at = [](Pivot& p, std::size_t) -> Slot { return &p.turned.tack; },
     .ask = "Click the part, edge, face or other place to be turned like.", .acts = true,
     .options = [](const Pivot&, const Scene&, std::size_t) {
           return std::vector<Option>{{"as it is"},
                                      {"like the world"},
                                      {"like its parent"},
                                      {"like a part (click it)", Click::Part},
                                      {"like an edge or face (click it)", Click::Place}};
         },
     .choose = choose_turned,
     .place = [](Pivot& p, std::size_t, const TackAddress& a) {
           p.turned = {Turned::Kind::Tack, kNoPart, a};
         },
     .part = [](Pivot& p, std::size_t, PartId id) {
           p.turned = {Turned::Kind::Part, id, std::nullopt};
         },
     .write = turned_to_json, .read = turned_from_json,
     .value = "`as-is`, `world`, `parent`, `{\"like\": part}`, or a place",
     .doc = "which way its own axes point; nothing moves"},
    {.key = "copies", .name = "Instances", .at = slot<&Pivot::copies>, .choices = kCopiesChoices, .always = true,
     .barred = copies_barred, .doc = "whether instances take part when axes turn"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
