#include "core/files/import.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <signal.h>
#include <spawn.h>
#include <sys/mman.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>

#include "core/files/helper_link.h"

namespace tack {
namespace {

std::filesystem::path helper_path() {
  if (const char* given = std::getenv("TACKPOINT_HELPER"); given && *given) return given;
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
  enum { Exited, TimedOut, Stopped, Lost } how = Exited;
};

// Waits for the helper, and answers it meanwhile.
Ended wait_for(pid_t child, int link, const std::filesystem::path& folder, double seconds,
               const std::atomic<bool>* stop, const std::function<void(double)>& progress) {
  using Clock = std::chrono::steady_clock;
  const auto end = Clock::now() + std::chrono::duration<double>(seconds);
  Ended ended;
  const Descriptor gone{static_cast<int>(::syscall(SYS_pidfd_open, child, 0))};
  const auto give_up = [&](auto how) {
    ::kill(-child, SIGKILL);
    ::kill(child, SIGKILL);
    ::waitpid(child, &ended.status, 0);
    ended.how = how;
    return ended;
  };
  bool linked = true;
  for (;;) {
    // Without pidfd_open (Linux before 5.3) its end is noticed a few milliseconds late.
    std::array<pollfd, 2> on{pollfd{linked ? link : -1, POLLIN, 0}, pollfd{gone.fd, POLLIN, 0}};
    ::poll(on.data(), on.size(), gone.fd >= 0 ? 50 : 5);
    if (on[0].revents != 0) linked = answer_helper(link, folder, progress) && (on[0].revents & POLLHUP) == 0;
    if (::waitpid(child, &ended.status, WNOHANG) == child) {
      ::kill(-child, SIGKILL);  // whatever it has left behind
      return ended;
    }
    if (stop && stop->load()) return give_up(Ended::Stopped);
    if (Clock::now() > end) return give_up(Ended::TimedOut);
  }
}

// What the helper may use for a file of this size: memory, and bytes of its answer.
struct Bounds {
  std::uint64_t memory, answer;
};
Bounds bounds_for(std::uint64_t file_size, const ImportLimits& limits) {
  constexpr std::uint64_t kGiga = std::uint64_t{1} << 30;
  // Buffers and pictures beside the file are not counted in its size.
  return {std::min(limits.memory, 4 * kGiga + 100 * file_size), std::min(limits.memory, kGiga + 100 * file_size)};
}

Json option_json(const ImportOptions& options) {
  Json j = Json::object();
  if (options.unit) j["unit"] = *options.unit;
  if (options.up) j["up"] = *options.up == UpAxis::Y ? "y" : "z";
  if (options.scene) j["scene"] = *options.scene;
  if (options.steps) j["steps"] = true;
  return j;
}

// A Problem: three texts, each ended by a zero byte.
Problem problem_in(ByteView answer) {
  std::array<std::string, 3> texts;
  std::size_t which = 0;
  for (const std::uint8_t c : answer.first(std::min<std::size_t>(answer.size(), 1 << 16))) {
    if (c == 0)
      ++which;
    else if (which < 3)
      texts[which] += static_cast<char>(c);
    if (which >= 3) break;
  }
  return {texts[0], texts[1], texts[2]};
}

// Has the helper read the file as `asked`, and gives what it leaves, which nobody changes any more.
Result<Blob> answer_of_helper(const std::filesystem::path& path, Json asked, const ImportLimits& limits,
                              const std::atomic<bool>* stop, const std::function<void(double)>& progress) {
  const std::string name = path.filename().string();
  if (path.string().find('\0') != std::string::npos)
    return fail("This is no name of a file: it has a zero byte in it.", name);
  if (const auto ok = check_file(path); !ok) return tl::unexpected(ok.error());
  const Descriptor input{::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK)};
  struct stat about {};
  if (input.fd < 0 || ::fstat(input.fd, &about) != 0)
    return fail(fmt::format("The file cannot be opened: {}.", std::strerror(errno)), name);
  if (!S_ISREG(about.st_mode)) return fail("This is not an ordinary file.", name);
  const Descriptor memory{::memfd_create("tackpoint-import", MFD_CLOEXEC | MFD_ALLOW_SEALING)};
  std::array<int, 2> ends{-1, -1};
  if (memory.fd < 0 || ::socketpair(AF_UNIX, SOCK_SEQPACKET | SOCK_CLOEXEC, 0, ends.data()) != 0)
    return fail("There is no shared memory to import files through.", name);
  const Descriptor ours{ends[0]};
  Descriptor theirs{ends[1]};
  // The three are moved up first, so that none of them lies where another has to go.
  const Descriptor answer_up{::fcntl(memory.fd, F_DUPFD_CLOEXEC, 10)}, input_up{::fcntl(input.fd, F_DUPFD_CLOEXEC, 10)},
      link_up{::fcntl(theirs.fd, F_DUPFD_CLOEXEC, 10)};
  posix_spawn_file_actions_t actions;
  posix_spawn_file_actions_init(&actions);
  for (const int standard : {0, 1, 2})
    posix_spawn_file_actions_addopen(&actions, standard, "/dev/null", standard == 0 ? O_RDONLY : O_WRONLY, 0);
  posix_spawn_file_actions_adddup2(&actions, answer_up.fd, kAnswerFd);
  posix_spawn_file_actions_adddup2(&actions, input_up.fd, kFileFd);
  posix_spawn_file_actions_adddup2(&actions, link_up.fd, kLinkFd);
  posix_spawn_file_actions_addclosefrom_np(&actions, kLinkFd + 1);
  const Bounds bounds = bounds_for(static_cast<std::uint64_t>(about.st_size), limits);
  asked["memory"] = bounds.memory;
  asked["answer"] = bounds.answer;
  asked["seconds"] = static_cast<int>(limits.seconds) + 1;
  std::string helper = helper_path().string(), file = name, text = asked.dump();
  std::array<char*, 4> arguments{helper.data(), file.data(), text.data(), nullptr};
  // It gets nothing of this program's environment, and a group of its own, so that all of it can be ended.
  std::array<char*, 1> no_environment{nullptr};
  pid_t child = 0;
  // The programs ignore the signal of the limit on file sizes; the helper ends by it, which tells what was wrong.
  posix_spawnattr_t attributes;
  posix_spawnattr_init(&attributes);
  sigset_t as_ever;
  sigemptyset(&as_ever);
  sigaddset(&as_ever, SIGXFSZ);
  posix_spawnattr_setsigdefault(&attributes, &as_ever);
  posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGDEF | POSIX_SPAWN_SETPGROUP);
  const int error =
      ::posix_spawn(&child, helper.c_str(), &actions, &attributes, arguments.data(), no_environment.data());
  posix_spawnattr_destroy(&attributes);
  posix_spawn_file_actions_destroy(&actions);
  if (error != 0)
    return fail(fmt::format("The import helper ({}) cannot be started: {}.", helper, std::strerror(error)), name,
                "Install Tack Point again.");
  ::close(std::exchange(theirs.fd, -1));
  const Ended ended = wait_for(child, ours.fd, path.parent_path(), limits.seconds, stop, progress);
  if (ended.how == Ended::Stopped) return fail("Importing was stopped.", name);
  if (ended.how == Ended::TimedOut || (WIFSIGNALED(ended.status) && WTERMSIG(ended.status) == SIGXCPU))
    return fail(fmt::format("Reading the file took longer than {} seconds and was given up.", limits.seconds), name);
  if (WIFSIGNALED(ended.status) && WTERMSIG(ended.status) == SIGXFSZ)
    return fail(
        "What is in the file is larger than one program may hand another: more than its own size allows for, or "
        "than the limit on file sizes (ulimit -f).",
        name);
  if (!WIFEXITED(ended.status) || WEXITSTATUS(ended.status) > 1)
    return fail("The file could not be read: the program that reads it crashed.", name, "It is probably damaged.");

  // From here on nobody changes it any more, whatever the helper has left behind.
  struct stat info {};
  if (::fcntl(memory.fd, F_ADD_SEALS, F_SEAL_SHRINK | F_SEAL_GROW | F_SEAL_WRITE | F_SEAL_SEAL) != 0 ||
      ::fstat(memory.fd, &info) != 0)
    return fail("The import helper gave no proper answer.", name);
  if (info.st_size <= 0) return fail("The import helper gave no answer.", name);
  const auto size = static_cast<std::size_t>(info.st_size);
  void* mapped = ::mmap(nullptr, size, PROT_READ, MAP_PRIVATE, memory.fd, 0);
  if (mapped == MAP_FAILED) return fail("The import helper's answer cannot be read.", name);
  const std::shared_ptr<const void> keep(mapped, [size](const void* at) { ::munmap(const_cast<void*>(at), size); });
  const Blob answer({static_cast<const std::uint8_t*>(mapped), size}, keep);
  if (WEXITSTATUS(ended.status) != 0) return tl::unexpected(problem_in(answer));
  return answer;
}

}  // namespace

bool can_import() { return ::access(helper_path().c_str(), X_OK) == 0; }

Result<Delivery> import_file(const std::filesystem::path& path, const ImportOptions& options,
                             const ImportLimits& limits, const std::atomic<bool>* stop,
                             const std::function<void(double)>& progress) {
  const auto answer = answer_of_helper(path, option_json(options), limits, stop, progress);
  if (!answer) return tl::unexpected(answer.error());
  auto delivery = unpack(*answer, answer->keep());
  if (!delivery) delivery.error().where = path.filename().string();
  return delivery;
}

Result<Outline> outline_of_file(const std::filesystem::path& path, const ImportLimits& limits,
                                const std::atomic<bool>* stop) {
  const auto answer = answer_of_helper(path, {{"outline", true}}, limits, stop, {});
  if (!answer) return tl::unexpected(answer.error());
  auto outline = unpack_outline(*answer);
  if (!outline) outline.error().where = path.filename().string();
  return outline;
}

}  // namespace tack
