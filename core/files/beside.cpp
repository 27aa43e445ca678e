#include "core/files/beside.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <linux/openat2.h>
#include <sys/syscall.h>
#include <unistd.h>

#include "core/printable.h"

namespace tack {

Result<int> open_beside(const std::filesystem::path& folder, const std::string& name) {
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
  const auto file = static_cast<int>(::syscall(SYS_openat2, root, name.c_str(), &how, sizeof how));
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
