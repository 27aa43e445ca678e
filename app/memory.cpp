#include "app/memory.h"

#include <malloc.h>
#include <sys/resource.h>
#include <unistd.h>

#include <QThreadPool>
#include <atomic>
#include <fstream>
#include <limits>
#include <string>

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

// The number behind a word at the beginning of a line, or nothing.
std::size_t number_behind(const char* file, const std::string& word, std::size_t otherwise) {
  std::ifstream in(file);
  for (std::string first; in >> first;) {
    std::size_t value = 0;
    if (first == word && in >> value) return value;
    in.ignore(std::numeric_limits<std::streamsize>::max(), '\n');
  }
  return otherwise;
}

// Of the control group (version 2) that the process is in; what is only kept of files counts as free.
std::size_t group_left() {
  static const std::string folder = [] {
    std::string line;
    std::getline(std::ifstream("/proc/self/cgroup"), line);
    return line.starts_with("0::") ? "/sys/fs/cgroup" + line.substr(3) : std::string();
  }();
  std::size_t most = 0, now = 0;
  if (folder.empty() || !(std::ifstream(folder + "/memory.max") >> most)) return kNoLimit;  // also where it says "max"
  if (!(std::ifstream(folder + "/memory.current") >> now)) return kNoLimit;
  return less(most, less(now, number_behind((folder + "/memory.stat").c_str(), "inactive_file", 0)));
}

std::size_t machine_left() {
  const std::size_t kilobytes = number_behind("/proc/meminfo", "MemAvailable:", kNoLimit);
  return kilobytes == kNoLimit ? kNoLimit : kilobytes * 1024;
}

}  // namespace

std::size_t memory_left() { return std::min({address_space_left(), group_left(), machine_left()}); }

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
