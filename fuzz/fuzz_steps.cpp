// Steps files, run against a small scene that has everything: nested, turned, uneven, mirrored and skewed parts, a
// group, instances, kept tacks, a guide, ties. Whatever the steps are, they end in a scene or in a sentence; what was
// done can be written and read again, and every sentence can be shown.
#include <cstdlib>
#include <nlohmann/json.hpp>

#include "core/files/glb.h"
#include "core/files/steps.h"
#include "tests/meshes.h"

namespace {

using tack::Json;

tack::Scene the_scene() {
  tack::Scene scene;
  tack::MeshData data;
  tack::test::add_box(data, {0, 0, 0}, {40, 30, 20});
  const auto box = *tack::make_mesh(std::move(data));
  const auto add = [&](const char* name, tack::PartId parent, const tack::Placement& placement, bool mesh) {
    tack::Part part;
    part.name = name;
    part.parent = parent;
    part.placement = placement;
    if (mesh) part.mesh = box, part.colours.resize(1);
    return scene.add(part);
  };
  add("A", tack::kNoPart, {}, true);
  const auto group = add("G", tack::kNoPart, {{100, 20, 5}, {10, 20, 30}, {2, 1, 0.5}, {}, {}}, false);
  const auto inner = add("B", group, {{5, 0, 0}, {0, 0, 90}, {-1, 1, 1}, {}, {20, 15, 0}}, true);
  add("C", inner, {{0, 0, 30}, {45, 0, 0}, {1, 1, 1}, {0.5, 0, 0}, {}}, true);
  add("D", tack::kNoPart, {{0, 200, 0}, {}, {1, 1, 1}, {}, {}}, true);
  const Json start = Json::parse(R"([
    {"verb": "keep", "at": "\"A\" vertex 6", "name": "top", "copies": "separate"},
    {"verb": "guide", "kind": "line", "at": "\"D\" edge 0-1", "name": "L"},
    {"verb": "meet", "pairs": [{"from": "\"D\" vertex 0", "to": "\"A\" vertex 1"}], "tie": "T"}])");
  tack::Journal journal(scene);
  tack::run_steps(journal, start, {});
  return journal.scene();
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const tack::Scene scene = the_scene();
  const auto list = tack::parse_json_list(std::string_view(reinterpret_cast<const char*>(data), size), 32);
  if (!list || list->size() > 12) return 0;
  // Files are another target's, and a hundred instances in a chain are twelve times as slow as they are telling.
  for (const Json& step : *list)
    if (step.is_object() && (step.value("verb", Json()) == "bring" || step.contains("chain"))) return 0;
  tack::Journal journal(scene);
  const auto outcomes = tack::run_steps(journal, *list, {});
  for (const auto& outcome : outcomes) {
    if (!tack::is_utf8(outcome.words) || !tack::is_utf8(outcome.note)) std::abort();
    if (outcome.problem && !tack::is_utf8(tack::sentence(*outcome.problem))) std::abort();
  }
  for (const tack::PartId id : journal.scene().in_tree_order()) {
    if (!tack::is_finite(tack::world_of(journal.scene(), id))) std::abort();
    if (!tack::beyond_limits(journal.scene().part(id).placement).empty()) std::abort();
  }
  // Done again from what is written of them, the steps leave the same places.
  tack::Journal again(scene);
  tack::run_steps(again, tack::steps_to_json(journal.record()), {});
  const auto ours = journal.scene().in_tree_order(), theirs = again.scene().in_tree_order();
  if (ours.size() != theirs.size()) std::abort();
  for (std::size_t i = 0; i < ours.size(); ++i)
    if (!(journal.scene().part(ours[i]).placement == again.scene().part(theirs[i]).placement)) std::abort();
  return 0;
}
