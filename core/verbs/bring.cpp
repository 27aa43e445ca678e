#include "core/verbs/bring.h"

#include <fmt/format.h>

#include <nlohmann/json.hpp>

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
  return result;
}

Sentence sentence(const Bring& bring, const Scene&, Tense tense, const LengthUnit&) {
  const std::size_t count = bring.parts ? bring.parts->size() : 0;
  return {{tense == Tense::Past ? "Brought in " : "Bring in "},
          {fmt::format("{} {} from {}.", count, count == 1 ? "part" : "parts", bring.file)}};
}

Json to_json(const Bring& bring, const Scene&) { return {{"verb", "bring"}, {"file", bring.path}}; }

}  // namespace tack
