#include "core/files/save_document.h"

#include <fmt/format.h>

#include "core/files/import.h"
#include "core/files/outline.h"

namespace tack {

Result<Saved> save_document(const std::filesystem::path& path, const Scene& scene, const DocumentSettings& settings,
                            const std::function<Result<void>()>& check, const std::atomic<bool>* stop,
                            const Record* record) {
  std::string note;
  const auto bytes = document_runs(scene, settings, record, &note);
  if (!bytes) return tl::unexpected(bytes.error());
  const std::string name = path.filename().string();
  auto saved = save_atomically(path, *bytes, [&](const std::filesystem::path& written) -> Result<std::string> {
    const auto broken = [&](const std::string& why) {
      return fail(fmt::format("What was written cannot be opened again: {}", why), name,
                  "The file is as it was. Save under another name, or leave out what was brought in last.");
    };
    if (!can_import()) return std::string("It was not read in again: the import helper is missing.");
    const auto read = outline_of_file(written, {}, stop);
    if (stop && stop->load()) return fail("Saving was stopped; the file is as it was.", name);
    if (!read) return broken(read.error().what);
    if (check)
      if (auto ok = check(); !ok) return tl::unexpected(ok.error());
    const std::string difference = difference_between(scene, *read);
    return difference.empty() ? std::string() : fmt::format("Read again, {}.", difference);
  });
  if (saved && !note.empty()) saved->note += (saved->note.empty() ? "" : " ") + note;
  return saved;
}

}  // namespace tack
