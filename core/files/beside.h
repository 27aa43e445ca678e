// Files beside the one that is read: buffers, pictures, materials.
#pragma once

#include <functional>
#include <string>

#include "core/files/bytes.h"

namespace tack {

struct FileAxes;
struct Glb;
struct ImportOptions;

/// The bytes of the file that `name` (a relative path with '/') stands for beside the file that is read. Fails when it
/// is not there, or not inside that file's folder, links followed.
using FilesBeside = std::function<Result<Bytes>(const std::string& name)>;

/// What a reader may use beside the bytes of its file.
struct Around {
  FilesBeside beside;
  std::shared_ptr<const void> keep;  ///< what holds the bytes of the file; null: they go when it has been read
  /// Makes a glTF of a file in a format that is not read here; may be empty. What it is made of is in metres, Y up.
  std::function<Result<Glb>(ByteView, const std::filesystem::path&, const ImportOptions&,
                            std::vector<std::string>& notes, FileAxes& read_as)>
      other;
  /// Told which bytes of the file have been read and will hardly be read again; may be empty.
  std::function<void(ByteView)> passed;
  /// Told how much of the work is done, 0 to 1, now and then; may be empty.
  std::function<void(double)> progress;

  void done(double share) const {
    if (progress) progress(share);
  }
};

/// Reads from `folder` and what is below it. No link leads out of it: the system is asked to resolve the name beneath
/// the folder (openat2, Linux 5.6); where it cannot do that, no link is followed at all.
FilesBeside files_beside(const std::filesystem::path& folder);
/// An open descriptor of a file beneath `folder`, for reading; the caller closes it. `by_steps`: without openat2, as on
/// an older system.
Result<int> open_beside(const std::filesystem::path& folder, const std::string& name, bool by_steps = false);

}  // namespace tack
