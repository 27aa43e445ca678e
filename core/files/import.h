// Importing a file through the helper process, so that a crash, a hang or a bomb in a file costs nothing here.
#pragma once

#include <atomic>

#include "core/files/document.h"
#include "core/files/outline.h"

namespace tack {

/// Whether the import helper is there to be started.
bool can_import();

struct ImportLimits {
  /// The most bytes of address space that the helper may use, and that it may hand over; for small files it is less.
  std::uint64_t memory = std::uint64_t{12} << 30;
  double seconds = 300;  ///< wall clock and processor time
};

/// Reads a file in `tackpoint-import-helper` (beside this program, or where $TACKPOINT_HELPER says), which may open
/// nothing itself and gets files beside it from here (helper_link.h), and takes its meshes over where they lie, in
/// shared memory that is sealed first, every number checked again on this side. `stop`, when given, ends it early;
/// `progress` is told how much is done, 0 to 1, on this thread. When the helper cannot be started the Problem says so:
/// files are never read in this process instead.
Result<Delivery> import_file(const std::filesystem::path& path, const ImportOptions& options,
                             const ImportLimits& limits = {}, const std::atomic<bool>* stop = nullptr,
                             const std::function<void(double)>& progress = {});

/// Has the helper open a file as import_file() and document_of() do together, and returns the outline of the result; no
/// mesh comes into this process. Fails as those two do.
Result<Outline> outline_of_file(const std::filesystem::path& path, const ImportLimits& limits = {},
                                const std::atomic<bool>* stop = nullptr);

}  // namespace tack
