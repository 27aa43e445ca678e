#include "core/verbs/keep.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/verbs/reshape.h"

namespace tack {
namespace {

// The part itself and, where all linked copies take part, those that share its mesh.
std::vector<PartId> with_linked(const Scene& scene, PartId id, bool linked) {
  std::vector<PartId> parts{id};
  if (!linked) return parts;
  const std::vector<PartId> copies = linked_copies_of(scene, id);
  parts.insert(parts.end(), copies.begin(), copies.end());
  return parts;
}

void set_kept(Scene& scene, PartId id, KeptTacks kept) {
  Part part = scene.part(id);
  part.kept = kept.empty() ? nullptr : std::make_shared<const KeptTacks>(std::move(kept));
  scene.replace(id, std::move(part));
}

std::string name_for(const Keep& keep, const Scene& scene, PartId part) {
  if (!keep.name.empty()) return keep.name;
  return first_free("Tack", [&](const std::string& name) { return find_kept(scene, part, name) != nullptr; });
}

bool shares_mesh(const Scene& scene, PartId id) { return scene.contains(id) && !linked_copies_of(scene, id).empty(); }

void add_linked_words(Sentence& s, const Scene& scene, PartId id, bool linked) {
  if (!shares_mesh(scene, id)) return;
  s.push_back({", "});
  s.push_back({linked ? "linked copies with it" : "this one only", Blank::Copies});
}

}  // namespace

PartId keeper(const Keep& keep) { return keep.part != kNoPart ? keep.part : keep.at ? keep.at->part : kNoPart; }

Result<Scene> apply(const Keep& keep, const Scene& scene) {
  if (!keep.at) return fail("There is no place to keep yet.", {}, "Click the place.");
  const PartId id = keeper(keep);
  if (id == kNoPart) return fail("A point of space is not on a part.", {}, "Pick the part that shall keep it.");
  if (!scene.contains(id)) return fail("The part that shall keep it is no longer there.");
  if (!keep.name.empty()) {
    if (const auto ok = check_name(keep.name, "A kept tack"); !ok) return tl::unexpected(ok.error());
    // Addresses could not be told apart.
    if (keep.name.front() == ' ' || keep.name.back() == ' ')
      return fail("The name of a kept tack does not begin or end with a blank.", "name");
  }
  const auto tack = find_tack(scene, *keep.at);
  if (!tack) return tl::unexpected(tack.error());
  const Affine world = world_of(scene, id);
  const auto back = inverse(world);
  if (!back) return fail(fmt::format("\"{}\" is flattened: nothing can be kept on it.", scene.part(id).name));
  KeptTack kept{name_for(keep, scene, id), *back * tack->point, {}, {}};
  if (tack->direction) kept.direction = normalized(normal_map(back->linear) * *tack->direction);
  if (tack->roll) kept.roll = normalized(back->linear * *tack->roll);
  Scene result = scene;
  for (const PartId each : with_linked(scene, id, keep.linked)) {
    KeptTacks all = kept_of(result, each);
    const auto same = std::find_if(all.begin(), all.end(), [&](const KeptTack& k) { return k.name == kept.name; });
    if (same == all.end())
      all.push_back(kept);
    else
      *same = kept;
    set_kept(result, each, std::move(all));
  }
  return result;
}

Result<Scene> apply(const Forget& forget, const Scene& scene) {
  if (forget.what.empty()) return fail("Nothing is picked.", {}, "Pick a part first.");
  Scene result = scene;
  bool any = false;
  for (const PartId id : forget.what) {
    if (!scene.contains(id)) return fail("A part that this step changes is no longer there.");
    for (const PartId each : with_linked(scene, id, forget.linked)) {
      KeptTacks kept = kept_of(result, each);
      if (std::erase_if(kept, [&](const KeptTack& k) { return k.name == forget.name; }) == 0) continue;
      any = true;
      for (const Tie& tie : scene.ties())
        for (const TackPair& pair : tie.pairs)
          for (const TackAddress* a : {&pair.from, &pair.to})
            if (a->kind == TackKind::Kept && a->part == each && a->name == forget.name)
              return fail(
                  fmt::format("The tie \"{}\" holds on \"{}\" of {}.", tie.name, forget.name, scene.part(each).name),
                  {}, "Delete the tie first.");
      set_kept(result, each, std::move(kept));
    }
  }
  if (!any) return fail(fmt::format("{} has no kept tack \"{}\".", names_of(scene, forget.what), forget.name), "name");
  return result;
}

Sentence sentence(const Keep& keep, const Scene& scene, Tense tense, const LengthUnit&) {
  Sentence s{{tense == Tense::Past ? "Kept the " : "Keep the "}};
  const PartId id = keeper(keep);
  s.push_back(tack_word(scene, keep.at, Blank::At, "place", id));
  if (keep.at && keep.at->part == id) s.back().text = kind_words(*keep.at);
  s.push_back({" on "});
  s.push_back({id == kNoPart ? "a part" : names_of(scene, {id}), Blank::What, id == kNoPart});
  s.push_back({" by the name "});
  s.push_back({id == kNoPart && keep.name.empty() ? "Tack" : name_for(keep, scene, id), Blank::Name});
  add_linked_words(s, scene, id, keep.linked);
  s.push_back({"."});
  return s;
}

Sentence sentence(const Forget& forget, const Scene& scene, Tense tense, const LengthUnit&) {
  Sentence s{{tense == Tense::Past ? "Took the kept tack " : "Take the kept tack "},
             {forget.name},
             {" off "},
             {names_of(scene, forget.what), Blank::What, forget.what.empty()}};
  if (forget.what.size() == 1) add_linked_words(s, scene, forget.what.front(), forget.linked);
  s.push_back({"."});
  return s;
}

namespace {
Json copies_json(bool linked) { return copies_to_json(linked ? Copies::All : Copies::Separate); }

// Unlike in a bake, all linked copies take part when nothing is said: a joint belongs to the mesh.
Result<bool> linked_in(const Json& json) {
  if (!json.contains("copies")) return true;
  const auto copies = copies_in(json);
  if (!copies) return tl::unexpected(copies.error());
  return *copies == Copies::All;
}
}  // namespace

Json to_json(const Keep& keep, const Scene& scene) {
  Json j{{"verb", "keep"}, {"name", name_for(keep, scene, keeper(keep))}, {"copies", copies_json(keep.linked)}};
  if (keep.part != kNoPart) j["what"] = parts_to_json({keep.part}, scene);
  if (keep.at) j["at"] = address_text(scene, *keep.at);
  return j;
}
Json to_json(const Forget& forget, const Scene& scene) {
  return {{"verb", "forget"},
          {"what", parts_to_json(forget.what, scene)},
          {"name", forget.name},
          {"copies", copies_json(forget.linked)}};
}

Result<Keep> keep_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "at", "name", "copies"}); !ok)
    return tl::unexpected(ok.error());
  Keep keep;
  if (json.contains("what")) {
    const auto what = parts_from_json(json["what"], scene);
    if (!what) return tl::unexpected(what.error());
    if (what->size() != 1) return fail("A tack is kept on one part at a time.", "what");
    keep.part = what->front();
  }
  if (!json.contains("at") || !json["at"].is_string()) return fail("Keep needs \"at\": the place to keep.", "at");
  const auto at = parse_address(scene, json["at"].get_ref<const std::string&>());
  if (!at) return fail(at.error().what, "at", at.error().remedy);
  keep.at = *at;
  if (json.contains("name")) {
    if (!json["name"].is_string()) return fail("A name is text.", "name");
    keep.name = json["name"].get<std::string>();
  }
  const auto linked = linked_in(json);
  if (!linked) return tl::unexpected(linked.error());
  keep.linked = *linked;
  return keep;
}

Result<Forget> forget_from_json(const Json& json, const Scene& scene) {
  if (const auto ok = check_keys(json, {"verb", "what", "name", "copies"}); !ok) return tl::unexpected(ok.error());
  Forget forget;
  auto what = what_from_json(json, scene);
  if (!what) return tl::unexpected(what.error());
  forget.what = std::move(*what);
  if (!json.contains("name") || !json["name"].is_string())
    return fail("Forget needs the \"name\" of the kept tack.", "name");
  forget.name = json["name"].get<std::string>();
  const auto linked = linked_in(json);
  if (!linked) return tl::unexpected(linked.error());
  forget.linked = *linked;
  return forget;
}

}  // namespace tack
