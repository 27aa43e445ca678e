#include "core/files/save.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/random.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>

namespace tack {
namespace {

constexpr std::string_view kBeside = ".tackpoint-part";
constexpr int kMostTries = 100;

std::string random_name() {
  std::uint64_t number = 0;
  // Without a source of randomness the clock has to do: O_EXCL still refuses a name that is taken.
  if (::getrandom(&number, sizeof number, 0) != static_cast<ssize_t>(sizeof number))
    number = static_cast<std::uint64_t>(::clock()) * 6364136223846793005ull + static_cast<std::uint64_t>(::getpid());
  return fmt::format("{:016x}", number);
}

std::filesystem::path folder_of(const std::filesystem::path& file) {
  return file.has_parent_path() ? file.parent_path() : std::filesystem::path(".");
}

// A file that is written beside the one that is meant; it is gone again unless it has taken that one's place.
class Beside {
 public:
  Beside() = default;
  Beside(const Beside&) = delete;
  Beside& operator=(const Beside&) = delete;
  ~Beside() {
    if (!path_.empty()) ::unlink(path_.c_str());
    if (fd_ >= 0) ::close(fd_);
  }

  bool make(const std::filesystem::path& target, mode_t rights) {
    for (int i = 0; i < kMostTries; ++i) {
      // A long name leaves no room for more: then only its beginning is said.
      const std::string begin = target.filename().string().substr(0, 200);
      const auto path = folder_of(target) / fmt::format(".{}.{}{}", begin, random_name(), kBeside);
      fd_ = ::open(path.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, rights);
      if (fd_ < 0 && errno == EEXIST) continue;
      if (fd_ < 0) return false;
      ::flock(fd_, LOCK_EX | LOCK_NB);  // says that somebody is still writing it
      path_ = path;
      return true;
    }
    return false;
  }

  bool write(ByteView bytes) const {
    std::size_t written = 0;
    while (written < bytes.size()) {
      const ssize_t n = ::write(fd_, bytes.data() + written, bytes.size() - written);
      if (n < 0 && errno == EINTR) continue;
      if (n <= 0) {
        if (n == 0) errno = ENOSPC;
        return false;
      }
      written += static_cast<std::size_t>(n);
    }
    return true;
  }

  bool take_place_of(const std::filesystem::path& target) {
    if (::rename(path_.c_str(), target.c_str()) != 0) return false;
    path_.clear();
    return true;
  }

  int descriptor() const { return fd_; }
  const std::filesystem::path& path() const { return path_; }

 private:
  int fd_ = -1;
  std::filesystem::path path_;
};

// Removes what a process that was killed had been writing for the same file: nobody holds its lock any more.
void remove_left(const std::filesystem::path& target) {
  std::error_code error;
  const std::string begin = "." + target.filename().string().substr(0, 200) + ".";
  for (const auto& entry : std::filesystem::directory_iterator(folder_of(target), error)) {
    const std::string name = entry.path().filename().string();
    if (!name.starts_with(begin) || !name.ends_with(kBeside) || name.size() != begin.size() + 16 + kBeside.size())
      continue;
    const int fd = ::open(entry.path().c_str(), O_RDONLY | O_NOFOLLOW | O_CLOEXEC | O_NONBLOCK);
    if (fd < 0) continue;
    if (::flock(fd, LOCK_EX | LOCK_NB) == 0) ::unlink(entry.path().c_str());
    ::close(fd);
  }
}

// Keeps the file under a free name; empty when no name is to be had. A hard link keeps it under both names until the
// rename; where links are not to be had, a copy does.
std::filesystem::path kept_beside(const std::filesystem::path& target) {
  for (int i = 1; i <= kMostTries; ++i) {
    std::filesystem::path backup = target.string() + (i == 1 ? ".bak" : fmt::format(".bak{}", i));
    if (::link(target.c_str(), backup.c_str()) == 0) return backup;
    if (errno == EEXIST) continue;
    std::error_code error;
    if (std::filesystem::copy_file(target, backup, std::filesystem::copy_options::none, error)) return backup;
    if (error != std::errc::file_exists) return {};
  }
  return {};
}

// The new name itself has to reach the disk, or a power cut may bring the old file back. Some file systems cannot flush
// a folder; the file is in place all the same.
void flush_folder(const std::filesystem::path& folder) {
  const int entry = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC);
  if (entry < 0) return;
  ::fsync(entry);
  ::close(entry);
}

}  // namespace

Result<std::filesystem::path> behind_links(const std::filesystem::path& path) {
  constexpr int kMostLinks = 40;  // as many as the system itself follows
  std::filesystem::path target = path;
  std::error_code error;
  for (int i = 0; i < kMostLinks; ++i) {
    const auto next = std::filesystem::read_symlink(target, error);
    if (error) return target;
    target = next.is_absolute() ? next : folder_of(target) / next;
  }
  return fail("This is a link that leads back to itself.", path.filename().string());
}

Result<Saved> save_atomically(const std::filesystem::path& path, ByteView bytes, const CheckWritten& check) {
  return save_atomically(path, ByteRuns(Blob(bytes, nullptr)), check);
}

Result<Saved> save_atomically(const std::filesystem::path& path, const ByteRuns& bytes, const CheckWritten& check) {
  const std::string name = path.filename().string();
  const auto failed = [&](const char* what) {
    return fail(fmt::format("{}: {}.", what, std::strerror(errno)), name, "Nothing was lost; save somewhere else.");
  };
  if (name.empty()) return fail("There is no name to save under.", path.string());
  const auto target = behind_links(path);
  if (!target) return tl::unexpected(target.error());
  struct stat old {};
  const bool replaces = ::stat(target->c_str(), &old) == 0;
  if (replaces && !S_ISREG(old.st_mode)) return fail("This is not an ordinary file, so it is not overwritten.", name);
  if (replaces && ::access(target->c_str(), W_OK) != 0) return failed("The file cannot be written");
  remove_left(*target);
  Beside beside;
  if (!beside.make(*target, replaces ? 0600 : 0666)) return failed("The folder cannot be written to");
  if (replaces) {
    // Who may not give a file away may still give it to one of his groups.
    if (::fchown(beside.descriptor(), old.st_uid, old.st_gid) != 0 &&
        ::fchown(beside.descriptor(), static_cast<uid_t>(-1), old.st_gid) != 0)
      errno = 0;
    if (::fchmod(beside.descriptor(), old.st_mode & 07777) != 0) return failed("The file's rights cannot be kept");
  }
  if (!bytes.each([&](ByteView run) { return beside.write(run); }))
    return failed("The file could not be written to the end");
  if (::fsync(beside.descriptor()) != 0) return failed("The file could not be flushed to the disk");
  Saved saved;
  if (check) {
    auto doubt = check(beside.path());
    if (!doubt) return tl::unexpected(doubt.error());
    saved.note = *std::move(doubt);
  }
  if (!saved.note.empty() && replaces) {
    saved.backup = kept_beside(*target);
    if (!saved.backup.empty())
      saved.note += fmt::format(" The file that was there is kept as {}.", saved.backup.filename().string());
  }
  if (replaces && old.st_nlink > 1)
    saved.note += fmt::format("{}{} has other names (hard links); they keep what was there before.",
                              saved.note.empty() ? "" : " ", name);
  if (!beside.take_place_of(*target)) {
    const auto result = failed("The file could not be put in place");
    if (!saved.backup.empty()) ::unlink(saved.backup.c_str());
    return result;
  }
  flush_folder(folder_of(*target));
  return saved;
}

}  // namespace tack
