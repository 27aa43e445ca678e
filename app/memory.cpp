#include "app/memory.h"

#include <malloc.h>
#include <sys/resource.h>
#include <unistd.h>

#include <QThreadPool>
#include <algorithm>
#include <atomic>
#include <filesystem>
#include <fstream>
#include <limits>
#include <string>
#include <vector>

namespace tack {
namespace {

constexpr std::size_t kNoLimit = std::numeric_limits<std::size_t>::max();

std::size_t less(std::size_t from, std::size_t what) { return from > what ? from - what : 0; }

std::size_t address_space_left() {
  rlimit limit{};
  if (getrlimit(RLIMIT_AS, &limit) != 0 || limit.rlim_cur == RLIM_INFINITY) return kNoLimit;
  std::size_t pages = 0;
  std::ifstream("/proc/self/statm") >> pages;
  return less(limit.rlim_cur, pages * static_cast<std::size_t>(sysconf(_SC_PAGESIZE)));
}

// The number behind a word at the beginning of a line; `otherwise` where there is none.
std::size_t number_behind(const std::filesystem::path& file, const std::string& word, std::size_t otherwise) {
  std::ifstream in(file);
  for (std::string first; in >> first;) {
    std::size_t value = 0;
    if (first == word && in >> value) return value;
    in.clear();
    in.ignore(std::numeric_limits<std::streamsize>::max(), '\n');
  }
  return otherwise;
}

// The folders of the control group (version 2) that the process is in and of those round it that have a limit.
std::vector<std::filesystem::path> limited_groups() {
  std::vector<std::filesystem::path> groups;
  std::string line;
  std::ifstream in("/proc/self/cgroup");
  while (std::getline(in, line) && !line.starts_with("0::")) continue;
  if (!line.starts_with("0::")) return groups;
  const std::filesystem::path root = "/sys/fs/cgroup";
  std::filesystem::path group = (root / std::filesystem::path(line.substr(3)).relative_path()).lexically_normal();
  for (;; group = group.parent_path()) {
    std::size_t most = 0;
    if (std::ifstream(group / "memory.max") >> most) groups.push_back(group);  // not where it says "max"
    if (group == root || !group.has_relative_path()) return groups;
  }
}

// What is only kept of files counts as free.
std::size_t groups_left() {
  static const std::vector<std::filesystem::path> groups = limited_groups();
  std::size_t left = kNoLimit;
  for (const auto& group : groups) {
    std::size_t most = 0, now = 0;
    if (!(std::ifstream(group / "memory.max") >> most) || !(std::ifstream(group / "memory.current") >> now)) continue;
    left = std::min(left, less(most, less(now, number_behind(group / "memory.stat", "inactive_file", 0))));
  }
  return left;
}

std::size_t machine_left() {
  const std::size_t kilobytes = number_behind("/proc/meminfo", "MemAvailable:", kNoLimit);
  return kilobytes == kNoLimit ? kNoLimit : kilobytes * 1024;
}

}  // namespace

std::size_t memory_left() { return std::min({address_space_left(), groups_left(), machine_left()}); }

void share_memory_pools() {
  constexpr int kPools = 2, kKept = 4 << 20;
  ::mallopt(M_ARENA_MAX, kPools);
  // Setting the one ends the allocator's own adapting of the other.
  ::mallopt(M_TRIM_THRESHOLD, kKept);
  ::mallopt(M_MMAP_THRESHOLD, kKept);
}

void give_back_memory() {
  constexpr std::size_t kWorth = std::size_t{16} << 20;
  static std::atomic<bool> busy{false};
  if (busy.exchange(true)) return;
  QThreadPool::globalInstance()->start([] {
    if (::mallinfo2().fordblks > kWorth) ::malloc_trim(0);
    busy = false;
  });
}

}  // namespace tack
