#include "app/files/clipboard.h"

#include "core/entry/copied.h"
#include "core/verbs/verb.h"

namespace tack {

Result<QMimeData*> clipboard_of(const Scene& scene, const std::vector<PartId>& picked,
                                const DocumentSettings& settings) {
  const std::vector<PartId> parts = topmost(scene, picked);
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
  const auto bytes = write_document(*loose, settings);
  if (!bytes) return tl::unexpected(bytes.error());
  auto* data = new QMimeData;
  data->setData(kGltfType,
                QByteArray(reinterpret_cast<const char*>(bytes->data()), static_cast<qsizetype>(bytes->size())));
  // As a table: a line for each part, its path, then position, rotation and factors in the world.
  QString text;
  for (const PartId id : parts) {
    const PlacedNumbers n = numbers_in(scene, id, AxesKind::World);
    text += QString::fromStdString(path_of(scene, id));
    for (const auto& [group, kind] :
         {std::pair{n.position, EntryKind::Length}, {n.rotation, EntryKind::Angle}, {n.scale, EntryKind::Factor}})
      text += "\t" + QString::fromStdString(copied_text({group.x, group.y, group.z}, kind, kMillimetres));
    text += "\n";
  }
  data->setText(text);
  return data;
}

QByteArray parts_on(const QMimeData* clipboard) { return clipboard ? clipboard->data(kGltfType) : QByteArray(); }

}  // namespace tack
