#include "core/fit/standing.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/printable.h"

namespace tack {

std::vector<Unsupported> unsupported(const Scene& scene, const std::vector<PartId>& among, double touch,
                                     const std::atomic<bool>* stop) {
  const std::vector<PartId> all = meshes_within(scene, scene.roots());
  const std::vector<PartId> asked = among.empty() ? all : meshes_within(scene, among);
  // What lies over each other is found along x: few of many parts do.
  struct Boxed {
    PartId part;
    Box box;
  };
  std::vector<Boxed> boxes;
  double widest = 0;
  for (const PartId id : all) {
    boxes.push_back({id, world_box_of(*scene.part(id).mesh, world_of(scene, id))});
    widest = std::max(widest, boxes.back().box.size().x);
  }
  std::sort(boxes.begin(), boxes.end(), [](const Boxed& p, const Boxed& q) { return p.box.low.x < q.box.low.x; });
  FallSearch search(scene, {0, 0, 1});
  std::vector<Unsupported> found;
  for (const PartId id : asked) {
    if (stop && *stop) break;
    const Box box = world_box_of(*scene.part(id).mesh, world_of(scene, id));
    std::vector<PartId> others;
    const auto begin = std::lower_bound(boxes.begin(), boxes.end(), box.low.x - widest,
                                        [](const Boxed& r, double x) { return r.box.low.x < x; });
    for (auto r = begin; r != boxes.end() && r->box.low.x <= box.high.x; ++r)
      if (r->part != id && r->box.high.x >= box.low.x && r->box.low.y <= box.high.y && r->box.high.y >= box.low.y)
        others.push_back(r->part);
    const auto landing = search.landing({id}, others);
    const Unsupported one{id, landing ? landing->way : search.lowest({id}), landing ? landing->on : kNoPart};
    if (std::abs(one.way) > touch) found.push_back(one);
  }
  std::stable_sort(found.begin(), found.end(),
                   [](const Unsupported& p, const Unsupported& q) { return std::abs(p.way) > std::abs(q.way); });
  return found;
}

std::string unsupported_words(const Scene& scene, const Unsupported& one, const LengthUnit& unit) {
  const Part* on = scene.find(one.on);
  const std::string name = on ? printable(on->name) : "the ground", way = show_length(std::abs(one.way), unit, 3).text;
  return one.way > 0 ? fmt::format("floats {} above {}", way, name) : fmt::format("has sunk {} into {}", way, name);
}

}  // namespace tack
