#include "app/files/clipboard.h"

#include "core/entry/copied.h"
#include "core/verbs/verb.h"

namespace tack {

Result<Copied> copied_parts(const Scene& scene, const std::vector<PartId>& what, const DocumentSettings& settings) {
  const std::vector<PartId> parts = topmost(scene, what);
  if (parts.empty()) return fail("Nothing is picked to be copied.");
  // Everything else goes; what stays keeps its place in the world, whatever it hung under. Locks bind the artist, not
  // the copy.
  Scene copy = scene;
  for (const PartId id : copy.in_tree_order())
    if (copy.part(id).locked) {
      Part part = copy.part(id);
      part.locked = false;
      copy.replace(id, std::move(part));
    }
  auto loose = tack::apply(Verb(Reparent{parts, kNoPart, Reparent::Keeps::Place}), copy);
  if (!loose) return tl::unexpected(loose.error());
  std::vector<PartId> others;
  for (const PartId id : loose->roots())
    if (std::find(parts.begin(), parts.end(), id) == parts.end()) others.push_back(id);
  if (!others.empty()) {
    auto alone = tack::apply(Verb(Delete{others}), *loose);
    if (!alone) return tl::unexpected(alone.error());
    loose = std::move(alone);
  }
  auto bytes = write_document(*loose, settings);
  if (!bytes) return tl::unexpected(bytes.error());
  Copied copied{std::move(*bytes), {}};
  for (const PartId id : parts) {
    const PlacedNumbers n = numbers_in(scene, id, AxesKind::World);
    copied.table += path_of(scene, id);
    for (const auto& [group, kind] :
         {std::pair{n.position, EntryKind::Length}, {n.rotation, EntryKind::Angle}, {n.scale, EntryKind::Factor}})
      copied.table += "\t" + copied_text({group.x, group.y, group.z}, kind, kMillimetres);
    copied.table += "\n";
  }
  return copied;
}

QMimeData* mime_of(const Copied& copied) {
  auto* data = new QMimeData;
  data->setData(kGltfType, QByteArray(reinterpret_cast<const char*>(copied.document.data()),
                                      static_cast<qsizetype>(copied.document.size())));
  data->setText(QString::fromStdString(copied.table));
  return data;
}

QByteArray parts_on(const QMimeData* clipboard) { return clipboard ? clipboard->data(kGltfType) : QByteArray(); }

}  // namespace tack
