#include "core/verbs/drop.h"

#include <fmt/format.h>

#include "core/verbs/phrase.h"
#include "core/verbs/plane.h"
#include "core/verbs/rigid.h"

namespace tack {
namespace {

using Onto = Drop::Onto;

constexpr Choice kDropAs[] = {{"each", "each"}, {"as one block", "block"}};
constexpr std::size_t kTold = 3;  // falls that are told one by one
constexpr double kStood = 1e-9;   // mm: what went no further stood there already

// A guide plane that was clicked or named like a part is a plane all the same.
bool onto_plane(const Drop& d, const Scene& scene) {
  const Part* target = scene.find(d.target);
  return d.onto == Onto::Plane || (d.onto == Onto::Part && target && target->guide == GuideKind::Plane);
}
// The plane that says what down is, and that is fallen to where nothing is below: the one that was named, else the one
// in use. Onto a part it is straight down.
PartId floor_of(const Drop& d, const Scene& scene) {
  return onto_plane(d, scene) ? d.target : d.onto == Onto::Below ? scene.plane() : kNoPart;
}
Vec3 up_of(const Drop& d, const Scene& scene) { return plane_frame(scene, floor_of(d, scene)).linear.column[2]; }
double height_of_plane(const Drop& d, const Scene& scene) {
  return dot(up_of(d, scene), plane_frame(scene, floor_of(d, scene)).translation);
}

Result<void> check_target(const Drop& d, const Scene& scene, const std::vector<PartId>& parts) {
  if (const PartId floor = floor_of(d, scene);
      d.onto == Onto::Below && floor != kNoPart && moves_with(scene, parts, floor))
    return fail(fmt::format("\"{}\", the plane in use, falls, too.", scene.part(floor).name), "what",
                "Use a plane that stays where it is.");
  if (d.onto == Onto::Below || (d.onto == Onto::Plane && d.target == kNoPart)) return {};
  if (!scene.contains(d.target)) return fail("The part to drop onto has been deleted.", "onto");
  const Part& target = scene.part(d.target);
  if (d.onto == Onto::Plane && target.guide != GuideKind::Plane)
    return fail(fmt::format("\"{}\" is not a plane.", target.name), "onto");
  if (moves_with(scene, parts, d.target))
    return fail(fmt::format("\"{}\" falls, too.", target.name), "onto", "Drop onto a part that stays.");
  return {};
}

// What of a part touches things: its meshes, or what was taken from one.
std::vector<PartId> touching(const Scene& scene, PartId id) {
  const Part* part = scene.find(id);
  return part && part->patch ? std::vector<PartId>{id} : meshes_within(scene, {id});
}

// Without the parts that something which falls was taken of: it goes through those.
std::vector<PartId> without_own(std::vector<PartId> meshes, const Scene& scene, const std::vector<PartId>& parts) {
  for (const PartId id : parts)
    if (const Part* part = scene.find(id); part && part->patch)
      for (const PatchOf& of : part->patch->of) std::erase(meshes, of.part);
  return meshes;
}

// What may stop a fall.
std::vector<PartId> standing_of(const Drop& d, const Scene& scene, const std::vector<PartId>& parts) {
  if (onto_plane(d, scene)) return {};
  if (d.onto == Onto::Part) return without_own(meshes_within(scene, {d.target}), scene, parts);
  const std::vector<bool> falls = marked_within(scene, parts);
  std::vector<PartId> standing = without_own(meshes_within(scene, scene.roots()), scene, parts);
  std::erase_if(standing, [&](PartId id) { return falls[id]; });
  return standing;
}

std::string target_words(const Drop& d, const Scene& scene) {
  if (d.onto == Onto::Below) return "what is below";
  if (d.target == kNoPart) return "the ground";
  return name_of(scene, d.target);
}

std::vector<Option> onto_options(const Drop&, const Scene& scene, std::size_t) {
  std::vector<Option> options{{"what is below"}, {"the ground"}};
  for (const PartId plane : planes_in(scene)) options.push_back({"plane " + printable(scene.part(plane).name)});
  options.push_back({"a part or a plane (click it)", Click::Part});
  return options;
}
void choose_onto(Drop& d, std::size_t, std::size_t option, const ChoiceContext& context) {
  const auto plane = option == 0 ? std::optional(kNoPart) : plane_chosen(option - 1, context);
  if (!plane) return;
  d.onto = option == 0 ? Onto::Below : Onto::Plane;
  d.target = *plane;
}

Json onto_to_json(const Drop& d, const Scene& scene) {
  if (d.onto == Onto::Below) return "below";
  if (d.onto == Onto::Plane) return Json{{"plane", d.target == kNoPart ? "World" : path_of(scene, d.target)}};
  return path_of(scene, d.target);
}
Result<void> onto_from_json(Drop& d, const Json& json, const Scene& scene) {
  if (json == "below") return {};
  if (json.is_object() && json.size() == 1 && json.contains("plane")) {
    d.onto = Onto::Plane;
    if (json["plane"] == "World") return {};
    return into(d.target, part_from_json(json["plane"], "onto", scene));
  }
  d.onto = Onto::Part;
  const auto part = part_from_json(json, "onto", scene);
  if (!part) return fail(part.error().what, "onto", "Write below, a part's path, or {\"plane\": \"World\"}.");
  d.target = *part;
  return {};
}

std::string fell_words(const Fallen& fell, const Scene& scene, const LengthUnit& unit) {
  const std::string name = name_of(scene, fell.part), on = fell.on == kNoPart ? "" : " onto " + name_of(scene, fell.on);
  const std::string way = show_length(std::abs(fell.way), unit, 4).text;
  return fmt::format("{} {} {}{}", name, fell.way > 0 ? "fell" : "rose", way, on);
}

// What happened to each: how far it went is measured from the stored numbers, what it lies on by what touches it now.
std::string remark_of(const Drop& d, const Scene& before, const Scene& after) {
  const Vec3 up = up_of(d, before);
  const std::vector<PartId> parts = topmost(before, d.what);
  std::vector<Fallen> fell;
  FallSearch search(after, up);
  const std::vector<PartId> all = without_own(
      meshes_within(after, d.onto == Onto::Part ? std::vector<PartId>{d.target} : after.roots()), after, parts);
  for (const PartId id : parts) {
    if (!after.contains(id)) continue;
    const auto at = [&](const Scene& scene) { return pivot_in_world(scene, id); };
    Fallen one{id, dot(up, at(before) - at(after)), kNoPart};
    if (!onto_plane(d, before) && parts.size() <= kTold) {
      const std::vector<PartId> mine = touching(after, id);
      std::vector<PartId> others = all;
      std::erase_if(others, [&](PartId other) { return is_within(after, other, id); });
      const double near = d.gap.value + 1e-6 * (1 + std::abs(one.way));
      if (const auto landing = search.landing(mine, others, near)) one.on = landing->on;
    }
    fell.push_back(one);
  }
  if (fell.empty()) return {};
  std::string words;
  const auto add = [&](const std::string& more) { words += (words.empty() ? "" : "; ") + more; };
  std::size_t stood = 0;
  for (const bool rose : {false, true}) {
    std::vector<Fallen> these;
    for (const Fallen& one : fell)
      if (std::abs(one.way) >= kStood && (one.way < 0) == rose) these.push_back(one);
    if (these.size() <= kTold) {
      for (const Fallen& one : these) add(fell_words(one, after, kMillimetres));
      continue;
    }
    const auto [least, most] = std::minmax_element(
        these.begin(), these.end(), [](const Fallen& p, const Fallen& q) { return std::abs(p.way) < std::abs(q.way); });
    add(fmt::format("{} parts {} by {} to {}, {} furthest", these.size(), rose ? "rose" : "fell",
                    show_length(std::abs(least->way), kMillimetres, 4).text,
                    show_length(std::abs(most->way), kMillimetres, 4).text, name_of(after, most->part)));
  }
  for (const Fallen& one : fell) stood += std::abs(one.way) < kStood;
  if (stood == fell.size()) return fell.size() == 1 ? "It stood there already." : "They stood there already.";
  if (stood > 0) add(fmt::format("{} stood there already", stood));
  return words + ".";
}

Drop next_after(const Drop& d) {
  Drop next = d;
  next.what.clear();
  return next;
}

Result<void> check(const Drop& d) {
  if (d.onto == Onto::Part && d.target == kNoPart)
    return fail("There is no part yet to drop onto.", "onto", "Click it.");
  return {};
}

// What a press of a key may take: some hundredths of a second.
bool is_heavy(const Drop& d, const Scene& scene) {
  constexpr std::size_t kMostParts = 20, kMostTriangles = 200'000;
  std::size_t triangles = 0;
  for (const PartId part : topmost(scene, d.what))
    for (const PartId id : touching(scene, part)) {
      const Mesh& mesh = *scene.part(id).mesh;
      if (!mesh.index_if_ready()) return true;
      triangles += mesh.triangles().size();
    }
  return d.what.size() > kMostParts || triangles > kMostTriangles;
}

void sentence(Phrase& s, const Drop& d) {
  s.say("Dropped ", "Drop ").blank("what").say(" onto ").blank("onto", 0, target_words(d, s.scene()));
  if (d.onto == Onto::Below && s.scene().plane() != kNoPart)
    s.say(" along the normal of " + plane_words(s.scene(), s.scene().plane()));
  s.say(", ").blank("gap").say(" above it");
  if (d.what.size() > 1) s.say(", ").blank("as");
  s.say(".");
}

}  // namespace

Result<std::vector<Fallen>> falls_of(const Drop& d, const Scene& scene) {
  const auto parts = movable(scene, d.what);
  if (!parts) return tl::unexpected(parts.error());
  if (const auto ok = check_target(d, scene, *parts); !ok) return tl::unexpected(ok.error());
  FallSearch search(scene, up_of(d, scene));
  std::vector<PartId> standing = standing_of(d, scene, *parts);
  struct Falling {
    std::vector<PartId> parts, meshes;
    double low;
  };
  std::vector<Falling> all;
  for (const PartId id : *parts) {
    Falling one{{id}, touching(scene, id), 0};
    if (one.meshes.empty())
      return fail(fmt::format("\"{}\" has no surface that is shown: it cannot touch anything.", scene.part(id).name));
    if (d.as == Drop::As::Block && !all.empty()) {
      all.front().parts.push_back(id);
      all.front().meshes.insert(all.front().meshes.end(), one.meshes.begin(), one.meshes.end());
    } else {
      all.push_back(std::move(one));
    }
  }
  for (Falling& one : all) one.low = search.lowest(one.meshes);
  std::stable_sort(all.begin(), all.end(), [](const Falling& p, const Falling& q) { return p.low < q.low; });
  std::vector<Fallen> fallen;
  for (const Falling& one : all) {
    const auto landing = search.landing(one.meshes, standing);
    if (!landing && d.onto == Onto::Part && !onto_plane(d, scene))
      return fail(
          fmt::format("\"{}\" is not above \"{}\".", scene.part(one.parts.front()).name, scene.part(d.target).name));
    const auto gap = evaluate(d.gap, EntryKind::Length, 0, Reading{scene, AxesKind::World, one.parts.front()});
    if (!gap) return tl::unexpected(gap.error());
    const double way = (landing ? landing->way : one.low - height_of_plane(d, scene)) - *gap;
    for (const PartId id : one.parts) fallen.push_back({id, way, landing ? landing->on : kNoPart});
    for (const PartId id : one.meshes) search.shift(id, -way);
    // What has fallen is something that the next ones may come to lie on.
    if (d.onto == Onto::Below) standing.insert(standing.end(), one.meshes.begin(), one.meshes.end());
  }
  return fallen;
}

Result<Scene> apply(const Drop& d, const Scene& scene) {
  const auto falls = falls_of(d, scene);
  if (!falls) return tl::unexpected(falls.error());
  const Vec3 up = up_of(d, scene);
  Scene result = scene;
  for (const Fallen& fell : *falls) {
    if (fell.way == 0) continue;
    const Vec3 pivot = pivot_in_world(scene, fell.part);
    if (const auto ok = put_pivot(result, fell.part, pivot - up * fell.way); !ok) return tl::unexpected(ok.error());
  }
  return result;
}

// clang-format off
const Table<Drop>& table_of(const Drop*) {
  static const Table<Drop> table{.key = "drop", .does = "Lets parts down until they touch what is below, a part or a plane.", .on_patches = true,
      .check = check, .next = next_after, .remark = remark_of, .at_once = true, .heavy = is_heavy,
      .leading = "gap",
      .hints = {.nothing = "Pick the parts to drop.",
      .ready = "Enter, or Do it, drops them as shown. Type a gap to leave below.",
      .done = "Done. Type a gap, or click a blank to change it."},
      .sentence = sentence, .rows = {
    what_row<Drop>("Click the part to drop instead.", "the parts that are dropped; only their positions change"),
    {.key = "onto", .name = "Onto", .at = slot<&Drop::target>, .ask = "Click the part or the plane to drop onto.",
     .options = onto_options, .choose = choose_onto,
     .part = [](Drop& d, std::size_t, PartId part) {
           d.onto = Onto::Part;
           d.target = part;
         },
     .write = onto_to_json, .read = onto_from_json, .value = "`below`, a part's path, or `{\"plane\": name}`",
     .doc = "left out: `below`, and where nothing is, the plane in use; one falls along the normal of the plane, "
            "onto a part straight down"},
    {.key = "gap", .name = "Gap", .at = slot<&Drop::gap>, .doc = "what is left below"},
    {.key = "as", .name = "Each or as one block", .at = slot<&Drop::as>, .choices = kDropAs,
     .doc = "`each` falls by itself, the lowest first, or all go down together as one `block`"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
