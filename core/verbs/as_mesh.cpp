// Making live shapes plain meshes; declared in shape.h.
#include <fmt/format.h>

#include "core/mesh/transform.h"
#include "core/verbs/parts.h"
#include "core/verbs/phrase.h"
#include "core/verbs/shape.h"

namespace tack {
namespace {

void sentence(Phrase& p, const MakeMesh& m) {
  p.say("Made ", "Make ")
      .blank("what")
      .say(m.what.size() == 1 ? " a plain mesh: it has no dimensions any more."
                              : " plain meshes: they have no dimensions any more.");
}

}  // namespace

Result<Scene> apply(const MakeMesh& m, const Scene& scene) {
  if (m.what.empty()) return fail("Nothing is picked.", "what", "Pick a shape first.");
  Scene result = scene;
  OwnMeshes plain;  // instances among them go on sharing one
  for (const PartId id : m.what) {
    if (!scene.contains(id)) return fail("A part has been deleted.", "what");
    Part part = scene.part(id);
    if (!part.shape) return fail(fmt::format("\"{}\" is no live shape.", part.name), "what");
    part.shape = nullptr;
    MeshPtr& mesh = plain[part.mesh.get()];
    if (!mesh) mesh = *make_mesh(data_of(*part.mesh));
    part.mesh = mesh;
    result.replace(id, std::move(part));
  }
  return result;
}

// clang-format off
const Table<MakeMesh>& table_of(const MakeMesh*) {
  static const Table<MakeMesh> table{.key = "as-mesh", .does = "Makes live shapes plain meshes; nothing is seen of it.",
      .sentence = sentence, .rows = {
    what_row<MakeMesh>("Click the shape instead.", "the live shapes that become meshes"),
  }};
  return table;
}
// clang-format on

}  // namespace tack
