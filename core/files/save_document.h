// Saving a document so that it is certain that it can be opened again.
#pragma once

#include <atomic>

#include "core/files/document.h"
#include "core/files/save.h"

namespace tack {

/// Writes the document beside the file, has the import helper open it as any document is opened, and only then puts it
/// in the old one's place (save_atomically). In this process that takes little memory (document_runs, outline.h). Fails
/// with what is wrong, the old file untouched. Where what was read is not all that the scene has (difference_between)
/// the old file is kept beside, and Saved::note says so. `check` is asked last. The steps of `record` are kept in the
/// document, if they can be; if not, Saved::note says so. With `stop` set to true it ends, and nothing has changed.
Result<Saved> save_document(const std::filesystem::path& path, const Scene& scene, const DocumentSettings& settings,
                            const std::function<Result<void>()>& check = {}, const std::atomic<bool>* stop = nullptr,
                            const Record* record = nullptr);

}  // namespace tack
