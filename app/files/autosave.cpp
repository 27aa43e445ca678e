#include "app/files/autosave.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <QUuid>
#include <algorithm>
#include <vector>

namespace tack {
namespace {

std::filesystem::path lock_of(const std::filesystem::path& autosave) {
  return std::filesystem::path(autosave).replace_extension(".lock");
}

// The lock, when nobody holds it; −1 otherwise.
int locked(const std::filesystem::path& autosave) {
  constexpr int kMostTries = 10;
  for (int i = 0; i < kMostTries; ++i) {
    const int fd = ::open(lock_of(autosave).c_str(), O_RDWR | O_CREAT | O_NOFOLLOW | O_CLOEXEC, 0600);
    if (fd < 0) return -1;
    struct stat info {};
    const bool held = ::flock(fd, LOCK_EX | LOCK_NB) == 0;
    // Another window may have taken it for one that means nothing, and removed it, before it was locked.
    if (held && ::fstat(fd, &info) == 0 && info.st_nlink > 0) return fd;
    ::close(fd);
    if (!held) return -1;
  }
  return -1;
}

}  // namespace

std::filesystem::path Autosave::state_folder() {
  const char* state = std::getenv("XDG_STATE_HOME");
  const char* home = std::getenv("HOME");
  const std::filesystem::path base =
      state && *state ? std::filesystem::path(state) : std::filesystem::path(home ? home : "/tmp") / ".local" / "state";
  std::error_code error;
  std::filesystem::create_directories(base / "tackpoint", error);
  return base / "tackpoint";
}

Autosave Autosave::make() {
  const std::string number = QUuid::createUuid().toString(QUuid::Id128).toStdString();
  const auto path = state_folder() / ("autosave-" + number + ".glb");
  return {path, locked(path)};
}

std::optional<Autosave> Autosave::left_behind() {
  std::vector<std::pair<std::filesystem::file_time_type, std::filesystem::path>> found;
  std::error_code error;
  for (const auto& entry : std::filesystem::directory_iterator(state_folder(), error)) {
    const std::string name = entry.path().filename().string();
    if (!name.starts_with("autosave-")) continue;
    if (name.ends_with(".glb")) found.emplace_back(entry.last_write_time(error), entry.path());
    // A window that ended well leaves its lock without a file.
    if (name.ends_with(".lock") &&
        !std::filesystem::exists(entry.path().string().substr(0, entry.path().string().size() - 5) + ".glb"))
      if (const int fd = locked(entry.path()); fd >= 0) {
        std::filesystem::remove(entry.path(), error);
        ::close(fd);
      }
  }
  std::sort(found.begin(), found.end(), std::greater<>());
  for (const auto& [time, path] : found)
    if (const int fd = locked(path); fd >= 0) {
      // Between looking and locking another window may have taken it back.
      if (std::filesystem::exists(path, error)) return Autosave(path, fd);
      ::close(fd);
    }
  return std::nullopt;
}

Autosave::Autosave(Autosave&& other) noexcept
    : path_(std::exchange(other.path_, {})), lock_(std::exchange(other.lock_, -1)) {}

Autosave& Autosave::operator=(Autosave&& other) noexcept {
  if (this == &other) return *this;
  release();
  path_ = std::exchange(other.path_, {});
  lock_ = std::exchange(other.lock_, -1);
  return *this;
}

Autosave::~Autosave() { release(); }

void Autosave::remove_file() const {
  std::error_code error;
  std::filesystem::remove(path_, error);
}

void Autosave::release() {
  if (lock_ < 0) return;
  // The lock goes with its file; left behind, it would only be one more file that means nothing.
  std::error_code error;
  if (!std::filesystem::exists(path_, error)) std::filesystem::remove(lock_of(path_), error);
  ::close(lock_);
  lock_ = -1;
}

}  // namespace tack
