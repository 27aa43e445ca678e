#include "core/files/beside.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <linux/openat2.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <unistd.h>

#include <utility>

#include "core/printable.h"

namespace tack {
namespace {

// The file beneath `root`, folder by folder. Without links to follow, what the name says is where it leads.
int open_by_steps(int root, const std::filesystem::path& name) {
  const std::filesystem::path plain = name.lexically_normal();
  int folder = ::fcntl(root, F_DUPFD_CLOEXEC, 0), file = -1;
  for (auto step = plain.begin(); step != plain.end() && folder >= 0; ++step) {
    if (*step == "..") {
      errno = EXDEV;
      break;
    }
    const bool last = std::next(step) == plain.end();
    const int next =
        ::openat(folder, step->c_str(), (last ? O_RDONLY | O_NONBLOCK : O_PATH | O_DIRECTORY) | O_NOFOLLOW | O_CLOEXEC);
    // A link to a folder, opened so, is no folder.
    struct stat is {};
    if (next < 0 && ::fstatat(folder, step->c_str(), &is, AT_SYMLINK_NOFOLLOW) == 0 && S_ISLNK(is.st_mode))
      errno = ELOOP;
    else if (next < 0)
      errno = ENOENT;
    if (last) {
      file = next;
      break;
    }
    ::close(std::exchange(folder, next));
  }
  const int error = errno;
  if (folder >= 0) ::close(folder);
  errno = error;
  return file;
}

}  // namespace

Result<int> open_beside(const std::filesystem::path& folder, const std::string& name, bool by_steps) {
  const auto outside = [&] {
    return fail(fmt::format("\"{}\" is outside the file's folder and is not read.", printable(name)));
  };
  if (name.find('\0') != std::string::npos) return fail(fmt::format("\"{}\" is no name of a file.", printable(name)));
  if (name.find("://") != std::string::npos || std::filesystem::path(name).is_absolute()) return outside();
  const std::filesystem::path here = folder.empty() ? std::filesystem::path(".") : folder;
  const int root = ::open(here.c_str(), O_PATH | O_DIRECTORY | O_CLOEXEC);
  if (root < 0) return fail(fmt::format("The folder of \"{}\" cannot be entered.", printable(name)));
  open_how how{};
  how.flags = O_RDONLY | O_CLOEXEC | O_NONBLOCK;
  how.resolve = RESOLVE_BENEATH | RESOLVE_NO_MAGICLINKS;
  int file = static_cast<int>(::syscall(SYS_openat2, root, name.c_str(), &how, sizeof how));
  // Linux before 5.6 has it not, and some containers do not let it through.
  if (by_steps || (file < 0 && (errno == ENOSYS || errno == EPERM))) {
    if (file >= 0) ::close(file);
    file = open_by_steps(root, name);
  }
  const int error = errno;
  ::close(root);
  if (file >= 0) return file;
  if (error == EXDEV || error == ELOOP) return outside();
  return fail(fmt::format("\"{}\" is not there, or cannot be read.", printable(name)));
}

FilesBeside files_beside(const std::filesystem::path& folder) {
  return [folder](const std::string& name) -> Result<Bytes> {
    const auto file = open_beside(folder, name);
    if (!file) return tl::unexpected(file.error());
    return read_descriptor(*file, printable(name));
  };
}

}  // namespace tack
