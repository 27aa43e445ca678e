#include "core/verbs/element_verbs.h"

#include <fmt/format.h>

#include <cmath>

#include "core/verbs/patch.h"
#include "core/verbs/phrase.h"

namespace tack {
namespace {

// Each patch's vertices to where places(mesh, of, world) has them.
template <class Places>
Result<Scene> with_elements(const Scene& scene, const std::vector<PartId>& what, Places&& places) {
  if (what.empty()) return fail("Nothing is picked.", "what", "Take vertices, edges or faces first.");
  Scene result = scene;
  for (const PartId id : what) {
    const Part* patch = scene.find(id);
    if (!patch) return fail("What was taken is no longer there.", "what");
    if (!patch->patch)
      return fail(fmt::format("\"{}\" is a part: this works on vertices, edges and faces.", patch->name), "what",
                  "Take those first.");
    if (patch->locked) return fail(fmt::format("\"{}\" is locked.", patch->name), {}, "Unlock it in Parts.");
    for (const PatchOf& of : patch->patch->of) {
      const MeshPtr mesh = result.part(of.part).mesh;
      const Result<std::vector<Vec3>> to = places(*mesh, of, world_of(scene, of.part));
      if (!to) return tl::unexpected(to.error());
      auto next = moved(*mesh, *of.shares, *to);
      if (!next) return tl::unexpected(next.error());
      if (auto ok = give_edited_mesh(result, of.part, *next, *of.shares, patch->patch->instances); !ok)
        return tl::unexpected(ok.error());
    }
  }
  return result;
}

constexpr Choice kOutward[] = {{"by their planes, so that walls keep their thickness", "faces"},
                               {"each vertex along its own normal", "normals"}};

void sentence(Phrase& s, const Push& push) {
  s.say("Pushed ", "Push ").blank("what").say(" out by ").blank("by").say(", ");
  if (push.way)
    s.blank("along");
  else
    s.blank("along", 0, "faces by their planes, the rest along their normals");
  s.say(".");
}

void sentence(Phrase& s, const Smooth&) {
  s.say("Smoothed ", "Smooth ").blank("what").say(", in ").blank("passes").say(" passes, each by ").blank("strength");
  s.say(" of the way, ").blank("volume").say(".");
}

void sentence(Phrase& s, const SlideEdges&) {
  s.say("Slid ", "Slide ").blank("what").say(" by ").blank("share");
  s.say(" of the edges beside, to the left (negative: to the right).");
}

}  // namespace

Result<Scene> apply(const Push& push, const Scene& scene) {
  const auto by = evaluate(push.by, EntryKind::Length, 0, Reading(scene));
  if (!by) return tl::unexpected(by.error());
  return with_elements(scene, push.what, [&](const Mesh& mesh, const PatchOf& of, const Affine& world) {
    const bool faces = of.elements.kind == ElementKind::Faces;
    return pushed(mesh, of.elements, *of.shares, world, *by,
                  push.way.value_or(faces ? Outward::Faces : Outward::Normals));
  });
}

Result<Smoothing> smoothing_of(const Amount& p, const Amount& s, const Scene& scene) {
  const auto passes = evaluate(p, EntryKind::Factor, 0, Reading(scene));
  if (!passes) return tl::unexpected(passes.error());
  if (!(*passes >= 1 && *passes <= 1000) || *passes != std::floor(*passes))
    return fail("The passes are a whole number from 1 to 1000.", "passes");
  const auto strength = evaluate(s, EntryKind::Factor, 0, Reading(scene));
  if (!strength) return tl::unexpected(strength.error());
  if (!(*strength > 0 && *strength <= 0.65))
    return fail("A pass goes more than 0 and at most 0.65 of the way: more does not settle.", "strength");
  return Smoothing{static_cast<int>(*passes), *strength};
}

Result<Scene> apply(const Smooth& smooth, const Scene& scene) {
  const auto way = smoothing_of(smooth.passes, smooth.strength, scene);
  if (!way) return tl::unexpected(way.error());
  return with_elements(scene, smooth.what, [&](const Mesh& mesh, const PatchOf& of, const Affine&) {
    return Result<std::vector<Vec3>>(smoothed(mesh, *of.shares, way->passes, way->strength, smooth.volume));
  });
}

Result<Scene> apply(const SlideEdges& slide, const Scene& scene) {
  const auto share = evaluate(slide.share, EntryKind::Factor, 0, Reading(scene));
  if (!share) return tl::unexpected(share.error());
  if (!(*share >= -1 && *share <= 1))
    return fail("Edges slide by at most the whole of the edges beside them.", "share");
  return with_elements(scene, slide.what, [&](const Mesh& mesh, const PatchOf& of, const Affine& world) {
    // Left as it is seen from outside.
    return slid(mesh, of.elements, *of.shares, determinant(world.linear) < 0 ? -*share : *share);
  });
}

// clang-format off
const Table<Push>& table_of(const Push*) {
  static const Table<Push> table{.key = "push", .does = "Pushes vertices, edges or faces out of the surface, or in.", .on_patches = true,
      .at_once = true,
      .leading = "by",
      .hints = {.nothing = "Take vertices, edges or faces first.", .ready = "Type how far; negative: inwards.",
      .done = "Done. Click a blank to change it, or type the next distance."},
      .sentence = sentence, .rows = {
    what_row<Push>("Click what was taken.", "what was taken from meshes"),
    {.key = "by", .name = "Out by", .at = slot<&Push::by>, .needed = true, .always = true, .doc = "mm; negative: into the matter"},
    {.key = "along", .name = "Along", .at = slot<&Push::way>, .choices = kOutward,
     .write = [](const Push& p, const Scene&) {
           return p.way ? Json(std::string(kOutward[static_cast<std::size_t>(*p.way)].key)) : Json();
         },
     .doc = "left out: faces by their planes, vertices and edges along their normals"},
  }};
  return table;
}
const Table<Smooth>& table_of(const Smooth*) {
  static const Table<Smooth> table{.key = "smooth", .does = "Smooths vertices, edges or faces.", .on_patches = true,
      .at_once = true, .leading = "passes",
      .hints = {.nothing = "Take vertices, edges or faces first.", .ready = "Enter smooths. Type how many passes.",
      .done = "Done. Click a blank to change it, or type the next number of passes."},
      .sentence = sentence, .rows = {
    what_row<Smooth>("Click what was taken.", "what was taken from meshes"),
    {.key = "passes", .name = "Passes", .at = slot<&Smooth::passes>, .kind = EntryKind::Factor, .doc = "1 to 1000; left out: 10"},
    {.key = "strength", .name = "Strength", .at = slot<&Smooth::strength>, .kind = EntryKind::Factor,
     .doc = "how far towards the mean of its neighbours each pass goes, above 0 to 0.65; left out: 0.5"},
    {.key = "volume", .name = "Volume", .at = slot<&Smooth::volume>, .choices = kSmoothVolume, .always = true,
     .doc = "whether it is kept: fine roughness goes and large shapes stay, else dents fill up; left out: `true`"},
  }};
  return table;
}
const Table<SlideEdges>& table_of(const SlideEdges*) {
  static const Table<SlideEdges> table{.key = "slide", .does = "Slides a run of edges along the edges beside it, on the surface.", .on_patches = true,
      .at_once = true,
      .leading = "share",
      .hints = {.nothing = "Take a run of edges first: double-click one.", .ready = "Type by how much: 0.25 is a quarter, to the left.",
      .done = "Done. Click a blank to change it, or type the next share."},
      .sentence = sentence, .rows = {
    what_row<SlideEdges>("Click what was taken.", "edges that were taken"),
    {.key = "share", .name = "Share", .at = slot<&SlideEdges::share>, .kind = EntryKind::Factor, .needed = true, .always = true,
     .doc = "−1 to 1: the part of the edges beside the run, to its left as seen from outside"},
  }};
  return table;
}
// clang-format on

}  // namespace tack
