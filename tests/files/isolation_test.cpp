// The import helper is confined, and what it hands over cannot be changed afterwards.
#include <fmt/format.h>
#include <signal.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>
#include <catch2/catch.hpp>

#include <chrono>
#include <fstream>
#include <thread>

#include "core/files/document.h"
#include "core/files/import.h"
#include "tests/support.h"

using namespace tack;
using namespace tack::test;

namespace {

// A PLY that takes a while: half a million vertices in text.
std::string large_file(const Folder& folder) {
  const std::string path = folder / "large.ply";
  std::ofstream out(path);
  constexpr int kCount = 500000;
  out << "ply\nformat ascii 1.0\nelement vertex " << kCount
      << "\nproperty double x\nproperty double y\nproperty double z\nend_header\n";
  for (int i = 0; i < kCount; ++i) out << i * 0.001 << " " << i * 0.0017 << " " << i * 0.0001 << "\n";
  return path;
}

std::string contents_of(const std::string& path) {
  std::ifstream in(path);
  return {std::istreambuf_iterator<char>(in), {}};
}

// The helper that `parent` has started; 0 when there is none.
pid_t helper_of(pid_t parent) {
  for (const auto& entry : std::filesystem::directory_iterator("/proc")) {
    const std::string name = entry.path().filename().string();
    if (name.find_first_not_of("0123456789") != std::string::npos) continue;
    const std::string status = contents_of(entry.path().string() + "/status");
    if (status.find(fmt::format("PPid:\t{}\n", parent)) == std::string::npos) continue;
    if (status.starts_with("Name:\ttackpoint-impor")) return std::stoi(name);
  }
  return 0;
}

template <typename Condition>
bool comes_true(Condition&& condition) {
  const auto end = std::chrono::steady_clock::now() + std::chrono::seconds(30);
  while (std::chrono::steady_clock::now() < end)
    if (condition())
      return true;
    else
      std::this_thread::sleep_for(std::chrono::milliseconds(1));
  return false;
}

// A program in place of the helper, for as long as this lives.
class InPlaceOfHelper {
 public:
  explicit InPlaceOfHelper(const std::string& script) {
    const std::string path = folder_ / "helper";
    std::ofstream(path) << "#!/bin/sh\n" << script;
    ::chmod(path.c_str(), 0755);
    if (const char* was = std::getenv("TACKPOINT_HELPER")) was_ = was;
    ::setenv("TACKPOINT_HELPER", path.c_str(), 1);
  }
  ~InPlaceOfHelper() {
    if (was_.empty())
      ::unsetenv("TACKPOINT_HELPER");
    else
      ::setenv("TACKPOINT_HELPER", was_.c_str(), 1);
  }
  InPlaceOfHelper(const InPlaceOfHelper&) = delete;
  InPlaceOfHelper& operator=(const InPlaceOfHelper&) = delete;

 private:
  Folder folder_;
  std::string was_;
};

}  // namespace

TEST_CASE("the helper has no rights to gain, a filter, and nothing open but what it needs") {
  const Folder folder;
  const std::string file = large_file(folder);
  // Looked at while it works: again and again, until it has closed its doors.
  std::string status, open, environment;
  bool seen = false;
  std::atomic<bool> done{false};
  std::thread watch([&] {
    while (!done && !seen && !kSanitized) {
      const pid_t helper = helper_of(::getpid());
      if (helper == 0) continue;
      status = contents_of(fmt::format("/proc/{}/status", helper));
      if (status.find("Seccomp:\t2") == std::string::npos) continue;
      std::error_code error;
      open.clear();
      for (const auto& entry : std::filesystem::directory_iterator(fmt::format("/proc/{}/fd", helper), error))
        open += entry.path().filename().string() + " ";
      environment = contents_of(fmt::format("/proc/{}/environ", helper));
      seen = true;
    }
  });
  for (int i = 0; i < (kSanitized ? 1 : 20) && !seen; ++i) REQUIRE(import_file(file, {}));
  done = true;
  watch.join();
  if (kSanitized) return;  // its runtime needs what the filter forbids
  REQUIRE(seen);
  CHECK(status.find("NoNewPrivs:\t1") != std::string::npos);
  CHECK(environment.empty());
  // It may not be looked into by others of this user; where it may (as root) there are six at most.
  CHECK(std::count(open.begin(), open.end(), ' ') <= 6);
}

TEST_CASE("the helper ends with the program that started it") {
  const Folder folder;
  const std::string file = large_file(folder);
  for (int i = 0; i < 5; ++i) {
    const pid_t program = ::fork();
    if (program == 0) {
      for (;;) (void)import_file(file, {});
    }
    pid_t helper = 0;
    REQUIRE(comes_true([&] { return (helper = helper_of(program)) != 0; }));
    ::kill(program, SIGKILL);
    int status = 0;
    ::waitpid(program, &status, 0);
    // A number may be taken anew; what matters is that no helper of that number is left to an other parent.
    CHECK(comes_true([&] {
      const std::string about = contents_of(fmt::format("/proc/{}/status", helper));
      return about.empty() || !about.starts_with("Name:\ttackpoint-impor") ||
             about.find("State:\tZ") != std::string::npos;
    }));
  }
}

TEST_CASE("a helper that leaves a writer behind, floods, or answers nonsense ends in a sentence") {
  const Folder folder;
  const std::string file = folder / "a.obj";
  std::ofstream(file) << "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";
  const char* const scripts[] = {
      "echo nonsense >&3\n",
      "printf TACKPACK >&3\n",
      // Goes on writing into what it has handed over.
      "(while :; do printf TACKPACK >&3 || exit; done) &\nprintf 'TACKPACK12345678' >&3\nexit 0\n",
      "kill -SEGV $$\n",
      "printf '?../../etc/passwd' >&5\nexit 7\n",
      "exit 0\n",
  };
  for (const char* script : scripts) {
    INFO(script);
    const InPlaceOfHelper fake(script);
    const auto read = import_file(file, {});
    REQUIRE_FALSE(read);
    CHECK(sentence(read.error()).find("a.obj") != std::string::npos);
  }
  REQUIRE(import_file(file, {}));
}

TEST_CASE("reading is stopped at once, and tells how far it has come") {
  const Folder folder;
  const std::string file = large_file(folder);
  std::atomic<bool> stop{false};
  std::vector<double> shares;
  const auto read = import_file(file, {}, {}, &stop, [&](double share) {
    shares.push_back(share);
    stop = true;
  });
  REQUIRE_FALSE(read);
  CHECK(read.error().what == "Importing was stopped.");
  REQUIRE_FALSE(shares.empty());
  CHECK(helper_of(::getpid()) == 0);
  stop = false;
  shares.clear();
  REQUIRE(import_file(file, {}, {}, &stop, [&](double share) { shares.push_back(share); }));
  CHECK(std::is_sorted(shares.begin(), shares.end()));
}
