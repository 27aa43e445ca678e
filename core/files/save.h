// Putting bytes into a file so that at every moment either the old or the new content is there, whole.
#pragma once

#include <functional>

#include "core/files/byte_runs.h"

namespace tack {

/// What saving left.
struct Saved {
  /// Where the file that was there is kept, when what was written is not beyond doubt; mostly empty.
  std::filesystem::path backup;
  /// What the artist should know, as a sentence; mostly empty.
  std::string note;
};

/// Looks at what was written before it takes the old file's place: what it complains of keeps the old file, what it
/// doubts (a sentence) is said, and the old file is kept beside. Empty: all is well.
using CheckWritten = std::function<Result<std::string>(const std::filesystem::path&)>;

/// Writes bytes beside the file, under a name that nobody can know before, flushes them to the disk, has them checked
/// and renames them over it. A link is saved through, also one whose target is not there yet. Rights and owner stay as
/// they were, as far as they may be set; a new file's are what the process makes files with. A backup never takes the
/// place of another file: FILE.bak, or FILE.bak2, … Fails with the reason, the old file untouched and nothing left
/// beside it. Where the process is killed before the end, what it was writing is found by its lock and removed when
/// the same file is saved next.
Result<Saved> save_atomically(const std::filesystem::path& path, const ByteRuns& bytes, const CheckWritten& check = {});
Result<Saved> save_atomically(const std::filesystem::path& path, ByteView bytes, const CheckWritten& check = {});

/// Where a path leads when it is a link, or a link to a link, whether the end is there or not. Fails in a circle.
Result<std::filesystem::path> behind_links(const std::filesystem::path& path);

}  // namespace tack
