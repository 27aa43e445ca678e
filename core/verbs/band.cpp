#include "core/verbs/band.h"

#include <fmt/format.h>

#include "core/verbs/phrase.h"
#include "core/verbs/reshape.h"

namespace tack {
namespace {

Slot along_slot(KeepBand& k, std::size_t) { return axis_number(k.along); }

Json between_to_json(const KeepBand& k, const Scene&) {
  if (!k.near_plane || !k.far_plane) return nullptr;
  return Json::array({amount_to_json(*k.near_plane), amount_to_json(*k.far_plane)});
}
Result<void> between_from_json(KeepBand& k, const Json& json, const Scene& scene) {
  if (!json.is_array() || json.size() != 2) return fail("This should be two distances from the low side.", "between");
  for (std::size_t i = 0; i < 2; ++i)
    if (auto ok = into(i == 0 ? k.near_plane : k.far_plane,
                       amount_from_json(json[i], EntryKind::Length, "between", Reading(scene), 0));
        !ok)
      return ok;
  return {};
}

// Whether the part's axis runs against that of its mesh: the axes of a mirrored part are those that its rotation reads.
bool is_reversed(const Scene& scene, PartId id, int axis) {
  const auto i = static_cast<std::size_t>(axis);
  return dot(axes_frame(scene, id, AxesKind::Local).linear.column[i], world_of(scene, id).linear.column[i]) < 0;
}

// The band in the mesh's coordinates, between two distances in mm of the world from the part's low side.
Result<StretchBand> band_for(const KeepBand& k, const Scene& scene, PartId id) {
  const Part& part = scene.part(id);
  if (!part.mesh) return fail(fmt::format("\"{}\" is a group: it has no outline of its own.", part.name), "what");
  if (part.shape)
    return fail(
        fmt::format("\"{}\" is a {}: its dimensions say how long it is.", part.name, word_of(part.shape->shape.kind)),
        "what");
  if (part.skin) return fail(fmt::format("\"{}\" is bent by its joints.", part.name), "what");
  const double extent = part.mesh->box().size()[k.along];
  if (!(extent > 0)) return fail(fmt::format("\"{}\" is flat along {}.", part.name, "XYZ"[k.along]), "along");
  if (!k.near_plane || !k.far_plane) {
    const auto found = evident_band(*part.mesh, k.along);
    if (!found)
      return fail(fmt::format("\"{}\" has no one stretch along {} where its outline stays the same.", part.name,
                              "XYZ"[k.along]),
                  "between", "Say between which two places it is lengthened.");
    return *found;
  }
  const double factor = length(world_of(scene, id).linear.column[static_cast<std::size_t>(k.along)]);
  if (!(factor > 0)) return fail(fmt::format("\"{}\" is flattened.", part.name), "what");
  std::array<double, 2> at{};
  for (std::size_t i = 0; i < 2; ++i) {
    const auto value =
        evaluate(i == 0 ? *k.near_plane : *k.far_plane, EntryKind::Length, 0, Reading{scene, AxesKind::Local, id});
    if (!value) return tl::unexpected(value.error());
    at[i] = *value / factor;
  }
  if (at[0] > at[1]) std::swap(at[0], at[1]);
  const double slack = 1e-9 * extent;
  if (at[0] < -slack || at[1] > extent + slack || !(at[1] - at[0] > slack))
    return fail(
        fmt::format("The band goes from {} to {} mm, but \"{}\" is {} mm long.", show_number(at[0] * factor, 4).text,
                    show_number(at[1] * factor, 4).text, part.name, show_number(extent * factor, 4).text),
        "between", "Give two distances from its low side.");
  const Box& box = part.mesh->box();
  if (is_reversed(scene, id, k.along))
    return band_across(k.along, box.high[k.along] - at[1], box.high[k.along] - at[0]);
  return band_across(k.along, box.low[k.along] + at[0], box.low[k.along] + at[1]);
}

std::string free_band_name(const KeptBands& bands, const std::string& wanted) {
  return first_free(wanted, [&](const std::string& name) {
    return std::any_of(bands.begin(), bands.end(), [&](const KeptBand& b) { return b.name == name; });
  });
}

void keep(Scene& scene, PartId id, KeptBand band) {
  Part part = scene.part(id);
  auto bands = std::make_shared<KeptBands>(part.bands ? *part.bands : KeptBands{});
  std::erase_if(*bands, [&](const KeptBand& b) { return b.name == band.name; });
  bands->push_back(std::move(band));
  part.bands = std::move(bands);
  scene.replace(id, std::move(part));
}

// The band of one part on an instance of it: where its own lengths have taken it. nullopt where the one is itself a
// copy with a length of its own, so that nothing says where the band was before.
std::optional<StretchBand> band_on(const Part& instance, const Part& one, StretchBand band) {
  if (instance.mesh == one.mesh) return band;
  if (one.stretched || !instance.stretched || instance.stretched->base != one.mesh) return std::nullopt;
  for (const Lengthening& l : instance.stretched->lengths) band = carried_along(band, l);
  return band;
}

void sentence(Phrase& s, const KeepBand& k) {
  s.say("Kept a band on ", "Keep a band on ").blank("what").say(" along ").blank("along");
  const PartId first = k.what.empty() ? kNoPart : k.what.front();
  const Part* part = s.scene().find(first);
  std::array<std::string, 2> at;
  bool found = false;
  if (part && part->mesh) {
    if (const auto band = band_for(k, s.scene(), first)) {
      const double factor = length(world_of(s.scene(), first).linear.column[static_cast<std::size_t>(k.along)]);
      const Box& box = part->mesh->box();
      const bool back = is_reversed(s.scene(), first, k.along);
      const double near = back ? box.high[k.along] - band->high : band->low - box.low[k.along];
      at = {show_length(near * factor, s.unit(), 4).text,
            show_length((near + band->high - band->low) * factor, s.unit(), 4).text};
      found = !k.near_plane;
    }
  }
  s.say(", between ").blank(".near", 0, at[0].empty() ? "a distance" : at[0], at[0].empty());
  s.say(" and ").blank(".far", 0, at[1].empty() ? "a distance" : at[1], at[1].empty()).say(" from its low side");
  if (found) s.say(" (found: its outline is the same there)");
  s.say(", named ").blank("name", 0, k.name.empty() ? free_band_name(bands_of(s.scene(), first), "Band") : k.name);
  s.say(".");
}

void sentence(Phrase& s, const ForgetBand& f) {
  s.say("Forgot the band ", "Forget the band ").blank("name", 0, printable(f.name)).say(" of ").blank("what").say(".");
}

Result<void> check(const KeepBand& k) {
  if (k.near_plane.has_value() != k.far_plane.has_value()) return fail("A band has two planes.", "between");
  return k.name.empty() ? Result<void>() : check_name(k.name, "A band");
}

}  // namespace

Result<Scene> apply(const KeepBand& k, const Scene& scene) {
  if (k.what.empty()) return fail("Nothing is picked to keep a band on.", "what", "Pick a part first.");
  Scene result = scene;
  for (const PartId id : k.what) {
    if (!scene.contains(id)) return fail("A part has been deleted.", "what");
    const auto band = band_for(k, scene, id);
    if (!band) return tl::unexpected(band.error());
    const std::string name = k.name.empty() ? free_band_name(bands_of(result, id), "Band") : k.name;
    keep(result, id, {name, *band});
    for (const PartId other : instances_of(scene, id))
      if (const auto theirs = band_on(scene.part(other), scene.part(id), *band)) keep(result, other, {name, *theirs});
  }
  return result;
}

Result<Scene> apply(const ForgetBand& f, const Scene& scene) {
  Scene result = scene;
  bool any = false;
  for (const PartId id : f.what) {
    if (!scene.contains(id)) return fail("A part has been deleted.", "what");
    Part part = scene.part(id);
    if (!part.bands) continue;
    auto bands = std::make_shared<KeptBands>(*part.bands);
    if (std::erase_if(*bands, [&](const KeptBand& b) { return b.name == f.name; }) == 0) continue;
    any = true;
    part.bands = bands->empty() ? nullptr : std::shared_ptr<const KeptBands>(std::move(bands));
    result.replace(id, std::move(part));
  }
  if (!any) return fail(fmt::format("None of them keeps a band \"{}\".", f.name), "name");
  return result;
}

// clang-format off
const Table<KeepBand>& table_of(const KeepBand*) {
  static const Table<KeepBand> table{.key = "band", .does = "Keeps a band on parts: between which planes they grow.",
      .check = check, .at_once = true,
      .hints = {.nothing = "Pick the part that keeps it.", .ready = "Enter keeps it. Type where it begins and ends.",
      .done = "Kept. Click a blank to change it."},
      .sentence = sentence, .rows = {
    what_row<KeepBand>("Click the part instead.", "the parts that keep it, and their instances"),
    {.key = "along", .name = "Along", .at = along_slot, .choices = kAxisLetters, .always = true,
     .doc = "along which of the part's own axes; left out: x"},
    {.key = "between", .name = "Planes", .write = between_to_json, .read = between_from_json, .value = "two distances",
     .doc = "from its low side, mm; left out: where its outline is the same all along"},
    {.key = ".near", .name = "Band from", .at = slot<&KeepBand::near_plane>},
    {.key = ".far", .name = "Band to", .at = slot<&KeepBand::far_plane>},
    {.key = "name", .name = "Name", .at = slot<&KeepBand::name>, .doc = "left out: `Band`, with a number"},
  }};
  return table;
}
const Table<ForgetBand>& table_of(const ForgetBand*) {
  static const Table<ForgetBand> table{.key = "forget-band", .does = "Takes a band of that name off parts.",
      .sentence = sentence, .rows = {
    what_row<ForgetBand>("Click the part instead.", "the parts that kept it"),
    {.key = "name", .name = "Name", .at = slot<&ForgetBand::name>, .needed = true, .always = true, .doc = "its name"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
