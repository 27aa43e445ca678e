#include "core/verbs/bring.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

#include "core/verbs/about.h"

namespace tack {

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
