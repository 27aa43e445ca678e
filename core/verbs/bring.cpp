#include "core/verbs/bring.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/verbs/about.h"

namespace tack {
namespace {

// The ties between parts that came in, holding on what those are called here.
void add_ties(const Bring& bring, const std::vector<PartId>& ids, Scene& scene) {
  if (bring.ties.empty()) return;
  const auto here = [&](PartId part) { return part == kNoPart || part > ids.size() ? kNoPart : ids[part - 1]; };
  std::vector<Tie> ties = scene.ties();
  for (Tie tie : bring.ties) {
    for (PartId& part : tie.what) part = here(part);
    for (TackPair& pair : tie.pairs)
      for (TackAddress* a : {&pair.from, &pair.to}) a->part = here(a->part);
    tie.axes.part = here(tie.axes.part);
    const auto known = [&](const std::string& name) {
      return std::any_of(ties.begin(), ties.end(), [&](const Tie& t) { return t.name == name; });
    };
    tie.name = first_free(tie.name, known);
    ties.push_back(std::move(tie));
  }
  scene.set_ties(std::move(ties));
}

}  // namespace

Result<Scene> apply(const Bring& bring, const Scene& scene) {
  if (!bring.parts || bring.parts->empty()) return fail(fmt::format("\"{}\" has no parts in it.", bring.file));
  Scene result = scene;
  std::vector<PartId> ids;
  ids.reserve(bring.parts->size());
  for (Part part : *bring.parts) {
    if (part.parent > ids.size()) return fail(fmt::format("The parts of \"{}\" are out of order.", bring.file));
    part.parent = part.parent == kNoPart ? kNoPart : ids[part.parent - 1];
    if (part.parent == kNoPart) part.name = free_name(result, kNoPart, part.name);
    ids.push_back(result.add(std::move(part)));
  }
  if (bring.carried) result.set_carried(bring.carried);
  add_ties(bring, ids, result);
  if (!bring.at) return result;
  std::vector<PartId> tops;
  for (std::size_t i = 0; i < ids.size(); ++i)
    if ((*bring.parts)[i].parent == kNoPart) tops.push_back(ids[i]);
  const Box box = box_along(result, tops, Mat3{});
  if (box.empty()) return result;
  return moved_rigidly(result, tops, {}, box.at({0.5, 0.5, 0}), *bring.at);
}

Sentence sentence(const Bring& bring, const Scene&, Tense tense, const LengthUnit&) {
  const std::size_t count = bring.parts ? bring.parts->size() : 0;
  return {{tense == Tense::Past ? "Brought in " : "Bring in "},
          {fmt::format("{} {} from {}.", count, count == 1 ? "part" : "parts", bring.file)}};
}

Json to_json(const Bring& bring, const Scene&) {
  Json j{{"verb", "bring"}, {"file", bring.path}};
  if (bring.at) j["at"] = Json::array({bring.at->x, bring.at->y, bring.at->z});
  return j;
}

}  // namespace tack
