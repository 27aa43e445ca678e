#include "core/verbs/tied.h"

#include <fmt/format.h>

#include <deque>
#include <map>
#include <set>

#include "core/fit/ties.h"
#include "core/verbs/parts.h"

namespace tack {
namespace {

// Whether the tie keeps its parts together now. Cheap answers first: most ties of a scene touch none of the parts
// asked.
bool keeps(const Tie& tie, const Scene& scene) { return !tie.suspended && holds(state_of(tie, scene)); }

// What goes when a part of a tie does: the topmost part above it that was brought as a whole, else the part itself.
PartId whole_of(const Scene& scene, const std::set<PartId>& wholes, PartId id) {
  PartId whole = id;
  for (const Part* p = scene.find(id); p; id = p->parent, p = scene.find(id))
    if (wholes.contains(id)) whole = id;
  return whole;
}

}  // namespace

Result<std::vector<PartId>> tied_body(const Scene& scene, const std::vector<PartId>& parts) {
  std::set<PartId> wholes(parts.begin(), parts.end());
  for (const Tie& tie : scene.ties())
    if (tie.what.size() == 1) wholes.insert(tie.what.front());
  std::map<PartId, std::vector<std::pair<PartId, const Tie*>>> links;
  for (const Tie& tie : scene.ties())
    for (const TackPair& pair : tie.pairs) {
      if (!scene.contains(pair.from.part) || !scene.contains(pair.to.part)) continue;
      const PartId a = whole_of(scene, wholes, pair.from.part), b = whole_of(scene, wholes, pair.to.part);
      if (a == b) continue;
      links[a].emplace_back(b, &tie);
      links[b].emplace_back(a, &tie);
    }
  std::set<PartId> body;
  std::vector<PartId> order;
  std::deque<PartId> pending;
  for (const PartId id : parts)
    if (scene.contains(id)) pending.push_back(whole_of(scene, wholes, id));
  std::map<const Tie*, bool> measured;
  while (!pending.empty()) {
    const PartId id = pending.front();
    pending.pop_front();
    if (!body.insert(id).second) continue;
    order.push_back(id);
    for (const auto& [other, tie] : links[id]) {
      const auto [at, fresh] = measured.try_emplace(tie);
      if (fresh) at->second = keeps(*tie, scene);
      if (at->second && !body.contains(other)) pending.push_back(other);
    }
  }
  const std::vector<PartId> moving = topmost(scene, order);
  for (const PartId id : moving)
    for (const Part* p = scene.find(id); p; p = scene.find(p->parent))
      if (p->locked)
        return fail(fmt::format("\"{}\" is tied to it, and locked.", p->name), {},
                    "Unlock it, or move without what is tied.");
  return moving;
}

bool is_tied(const Scene& scene, const std::vector<PartId>& parts) {
  if (scene.ties().empty() || parts.empty()) return false;
  const std::vector<bool> moves = marked_within(scene, parts);
  const auto within = [&](PartId id) { return id < moves.size() && moves[id]; };
  for (const Tie& tie : scene.ties())
    for (const TackPair& pair : tie.pairs)
      if (scene.contains(pair.from.part) && scene.contains(pair.to.part) &&
          within(pair.from.part) != within(pair.to.part) && keeps(tie, scene))
        return true;
  return false;
}

}  // namespace tack
