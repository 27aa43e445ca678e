// Importing a file through the helper process, so that a crash, a hang or a bomb in a file costs nothing here.
#pragma once

#include <atomic>

#include "core/files/document.h"

namespace tack {

/// Whether the import helper is there to be started.
bool can_import();

struct ImportLimits {
  std::uint64_t memory = std::uint64_t{12} << 30;  ///< bytes of address space the helper may use
  double seconds = 300;                            ///< wall clock and processor time
};

/// Reads a file in `tackpoint-import-helper` (beside this program, or where $TACKPOINT_HELPER says) and takes its
/// meshes over in shared memory, every number checked again on this side. `stop`, when given, ends it early. When the
/// helper cannot be started the Problem says so: files are never read in this process instead.
Result<Delivery> import_file(const std::filesystem::path& path, const ImportOptions& options,
                             const ImportLimits& limits = {}, const std::atomic<bool>* stop = nullptr);

}  // namespace tack
