#include "core/files/save_document.h"

#include <fmt/format.h>

#include "core/files/import.h"
#include "core/printable.h"
#include "core/verbs/patch.h"

namespace tack {

std::string difference_between(const Scene& whole, const Scene& read) {
  const Scene scene = without_patches(whole);
  const std::vector<PartId> ours = scene.in_tree_order(), theirs = read.in_tree_order();
  if (ours.size() != theirs.size()) return fmt::format("of {} parts {} came back", ours.size(), theirs.size());
  const std::vector<Affine> worlds = worlds_of(scene), others = worlds_of(read);
  for (std::size_t i = 0; i < ours.size(); ++i) {
    const Part &a = scene.part(ours[i]), &b = read.part(theirs[i]);
    const std::string name = printable(a.name);
    if (a.name != b.name) return fmt::format("\"{}\" came back as \"{}\"", name, printable(b.name));
    if (a.children.size() != b.children.size()) return fmt::format("what is below \"{}\" changed", name);
    const Affine &there = worlds[ours[i]], &here = others[theirs[i]];
    double extent = 1;
    if (a.mesh && !a.mesh->box().empty()) extent += a.mesh->box().extent() + length(a.mesh->box().centre());
    double off = distance(there.translation, here.translation), size = 0;
    for (std::size_t c = 0; c < 3; ++c) {
      off += distance(there.linear.column[c], here.linear.column[c]) * extent;
      size += length(there.linear.column[c]) * extent;
    }
    if (!(off <= 1e-9 * (size + length(there.translation) + 1)))
      return fmt::format("\"{}\" came back in another place", name);
    if (a.see_through != b.see_through) return fmt::format("\"{}\" came back looking otherwise", name);
    if ((a.mesh == nullptr) != (b.mesh == nullptr)) return fmt::format("the mesh of \"{}\" is gone", name);
    if (a.mesh && (a.mesh->positions().size() != b.mesh->positions().size() ||
                   a.mesh->triangles().size() != b.mesh->triangles().size()))
      return fmt::format("the mesh of \"{}\" changed", name);
  }
  const std::vector<NamedColour>&colours = scene.colours(), &back = read.colours();
  if (!std::equal(colours.begin(), colours.end(), back.begin(), back.end(),
                  [](const NamedColour& a, const NamedColour& b) { return a.name == b.name; }))
    return fmt::format("the list of {} colours came back as another of {}", colours.size(), back.size());
  const Part *plane = scene.find(scene.plane()), *plane_back = read.find(read.plane());
  if ((plane == nullptr) != (plane_back == nullptr) || (plane && plane->name != plane_back->name))
    return "another plane is in use";
  if (scene.views() != read.views() || scene.ground_grid() != read.ground_grid())
    return "the views or the grid came back otherwise";
  if (scene.ties().size() != read.ties().size())
    return fmt::format("of {} ties {} came back", scene.ties().size(), read.ties().size());
  return {};
}

Result<Saved> save_document(const std::filesystem::path& path, const Scene& scene, const DocumentSettings& settings,
                            const std::function<Result<void>()>& check, const std::atomic<bool>* stop,
                            const Record* record) {
  std::string note;
  auto bytes = write_document(scene, settings, record, &note);
  if (!bytes) return tl::unexpected(bytes.error());
  const std::string name = path.filename().string();
  auto saved = save_atomically(path, *bytes, [&](const std::filesystem::path& written) -> Result<std::string> {
    // They are in the file now, and what is read of it takes as much. An empty list would keep their room.
    *bytes = Bytes();
    const auto broken = [&](const std::string& why) {
      return fail(fmt::format("What was written cannot be opened again: {}", why), name,
                  "The file is as it was. Save under another name, or leave out what was brought in last.");
    };
    if (!can_import()) return std::string("It was not read in again: the import helper is missing.");
    const auto delivery = import_file(written, {}, {}, stop);
    if (stop && stop->load()) return fail("Saving was stopped; the file is as it was.", name);
    if (!delivery) return broken(delivery.error().what);
    const auto read = document_of(*delivery);
    if (!read) return broken(read.error().what);
    if (check)
      if (auto ok = check(); !ok) return tl::unexpected(ok.error());
    const std::string difference = difference_between(scene, read->scene);
    return difference.empty() ? std::string() : fmt::format("Read again, {}.", difference);
  });
  if (saved && !note.empty()) saved->note += (saved->note.empty() ? "" : " ") + note;
  return saved;
}

}  // namespace tack
