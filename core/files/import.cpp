#include "core/files/import.h"

#include <fmt/format.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>

extern char** environ;

namespace tack {
namespace {

std::filesystem::path helper_path() {
  if (const char* given = std::getenv("TACKPOINT_HELPER")) return given;
  std::error_code error;
  const auto self = std::filesystem::read_symlink("/proc/self/exe", error);
  const auto folder = self.parent_path();
  for (const auto* relative :
       {"tackpoint-import-helper", "../import-helper/tackpoint-import-helper", "../bin/tackpoint-import-helper"})
    if (auto path = folder / relative; std::filesystem::exists(path, error)) return path;
  return folder / "tackpoint-import-helper";
}

// A file descriptor that closes itself.
struct Descriptor {
  int fd = -1;
  ~Descriptor() {
    if (fd >= 0) ::close(fd);
  }
};

struct Ended {
  int status = 0;
  enum { Exited, TimedOut, Stopped } how = Exited;
};

Ended wait_for(pid_t child, double seconds, const std::atomic<bool>* stop) {
  using Clock = std::chrono::steady_clock;
  const auto end = Clock::now() + std::chrono::duration<double>(seconds);
  Ended ended;
  auto pause = std::chrono::microseconds(200);
  while (::waitpid(child, &ended.status, WNOHANG) == 0) {
    const bool stopped = stop && stop->load();
    if (stopped || Clock::now() > end) {
      ::kill(child, SIGKILL);
      ::waitpid(child, &ended.status, 0);
      ended.how = stopped ? Ended::Stopped : Ended::TimedOut;
      return ended;
    }
    ::usleep(static_cast<useconds_t>(pause.count()));
    pause = std::min(pause * 2, std::chrono::microseconds(5000));
  }
  return ended;
}

std::string option_text(const ImportOptions& options) {
  Json j = Json::object();
  if (options.unit) j["unit"] = *options.unit;
  if (options.up) j["up"] = *options.up == UpAxis::Y ? "y" : "z";
  if (options.scene) j["scene"] = *options.scene;
  return j.dump();
}

}  // namespace

bool can_import() { return ::access(helper_path().c_str(), X_OK) == 0; }

Result<Delivery> import_file(const std::filesystem::path& path, const ImportOptions& options,
                             const ImportLimits& limits, const std::atomic<bool>* stop) {
  const std::string name = path.filename().string();
  if (path.string().find('\0') != std::string::npos)
    return fail("This is no name of a file: it has a zero byte in it.", name);
  const Descriptor memory{::memfd_create("tackpoint-import", MFD_CLOEXEC)};
  if (memory.fd < 0) return fail("There is no shared memory to import files through.", name);
  posix_spawn_file_actions_t actions;
  posix_spawn_file_actions_init(&actions);
  constexpr int kChildFd = 3;
  // The copy stays open in the helper. (Onto itself, too: dup2 in a spawn clears close-on-exec then.)
  posix_spawn_file_actions_adddup2(&actions, memory.fd, kChildFd);
  std::string helper = helper_path().string(), file = path.string(), text = option_text(options),
              bytes = fmt::format("{}", limits.memory),
              seconds = fmt::format("{}", static_cast<int>(limits.seconds) + 1);
  std::array<char*, 6> arguments{helper.data(), file.data(), text.data(), bytes.data(), seconds.data(), nullptr};
  pid_t child = 0;
  // The programs ignore the signal of the limit on file sizes; the helper ends by it, which tells what was wrong.
  posix_spawnattr_t attributes;
  posix_spawnattr_init(&attributes);
  sigset_t as_ever;
  sigemptyset(&as_ever);
  sigaddset(&as_ever, SIGXFSZ);
  posix_spawnattr_setsigdefault(&attributes, &as_ever);
  posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGDEF);
  const int error = ::posix_spawn(&child, helper.c_str(), &actions, &attributes, arguments.data(), environ);
  posix_spawnattr_destroy(&attributes);
  posix_spawn_file_actions_destroy(&actions);
  if (error != 0)
    return fail(fmt::format("The import helper ({}) cannot be started: {}.", helper, std::strerror(error)), name,
                "Install Tack Point again.");
  const Ended ended = wait_for(child, limits.seconds, stop);
  if (ended.how == Ended::Stopped) return fail("Importing was stopped.", name);
  if (ended.how == Ended::TimedOut || (WIFSIGNALED(ended.status) && WTERMSIG(ended.status) == SIGXCPU))
    return fail(fmt::format("Reading the file took longer than {} seconds and was given up.", limits.seconds), name);
  if (WIFSIGNALED(ended.status) && WTERMSIG(ended.status) == SIGXFSZ)
    return fail("What is in the file is larger than the limit on file sizes (ulimit -f) lets one program hand another.",
                name, "Raise the limit.");
  if (!WIFEXITED(ended.status) || WEXITSTATUS(ended.status) > 1)
    return fail("The file could not be read: the program that reads it crashed.", name, "It is probably damaged.");

  struct stat info {};
  if (::fstat(memory.fd, &info) != 0 || info.st_size <= 0) return fail("The import helper gave no answer.", name);
  const auto size = static_cast<std::size_t>(info.st_size);
  void* mapped = ::mmap(nullptr, size, PROT_READ, MAP_SHARED, memory.fd, 0);
  if (mapped == MAP_FAILED) return fail("The import helper's answer cannot be read.", name);
  const ByteView answer(static_cast<const std::uint8_t*>(mapped), size);
  Result<Delivery> result = fail("The import helper gave no proper answer.", name);
  if (WEXITSTATUS(ended.status) == 1) {
    // A Problem: three texts, each ended by a zero byte.
    std::array<std::string, 3> texts;
    std::size_t which = 0;
    for (const std::uint8_t c : answer) {
      if (c == 0)
        ++which;
      else if (which < 3)
        texts[which] += static_cast<char>(c);
      if (which >= 3) break;
    }
    result = fail(texts[0], texts[1], texts[2]);
  } else {
    result = unpack(answer);
  }
  ::munmap(mapped, size);
  return result;
}

}  // namespace tack
